#pragma once
// Where a function changes its sign: one place for every 'the value at which these two are equal'.
#include <functional>

namespace hinge {

/// The x between `low` and `high` at which `f` changes its sign, to the last bits of a double (Alefeld, Potra and Shi 1995,
/// algorithm 748, by Boost.Math).
/// @param f     continuous on [low, high]; any unit
/// @return      an end at which f is 0; where both ends have one sign, the end that is nearer to 0; where f is not a number, `low`
[[nodiscard]] double crossing(const std::function<double(double)>& f, double low, double high);

}  // namespace hinge
