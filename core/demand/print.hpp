#pragma once
#include <array>
#include "quantity/names.hpp"

namespace hinge::demand {

/// What a printed part is made of.
enum class Print { None, Pla, Petg, Abs, Asa, Nylon };

}  // namespace hinge::demand

template <>
struct hinge::Names<hinge::demand::Print> {
    using P = hinge::demand::Print;
    using N = hinge::Name<P>;
    static constexpr std::array all{N{P::None, "none", "not printed"}, N{P::Pla, "pla", "PLA"}, N{P::Petg, "petg", "PETG"},
                                    N{P::Abs, "abs", "ABS"},           N{P::Asa, "asa", "ASA"}, N{P::Nylon, "nylon", "nylon (PA12)"}};
};
