#pragma once
// The rate of a board of more lines that gives pulses: one for all its outputs.
#include "driver/register_map.hpp"

namespace hinge::driver {

struct ExpanderRate {
    int prescale = 0;    ///< as its register takes it; 0: it has none
    Frequency actual{};  ///< from a pulse to the next
    Duration count{};    ///< the smallest step of a pulse
    Count counts{};      ///< of a period
    friend bool operator==(const ExpanderRate&, const ExpanderRate&) = default;
};
/// Whether pulses asked at one rate may come at another: it is no more than a twentieth off.
[[nodiscard]] inline bool isNearRate(double asked, double actual) {
    return asked / actual <= 1.05 && asked / actual >= 0.95;
}
/// With an oscillator and a prescaler of eight bits: f = oscillator/(counts·(prescale + 1)), prescale from 3; on a serial line as it is.
/// @error OutOfRange  it comes no nearer than a twentieth
/// @source expander-registers
[[nodiscard]] Result<Worked<ExpanderRate>> expanderRate(const RegisterMap& map, Frequency wanted);

}  // namespace hinge::driver
