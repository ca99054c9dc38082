#pragma once
#include "working/form.hpp"

namespace hinge::driver {

/// What a driver's current output tells an analogue input of the current in its supply line, as a mean over many periods of its PWM, and
/// where the level at which the input says so stands between running and held fast.
struct ShownCurrent {
    Resistance scale{};              ///< V for each A
    Current running{};               ///< mean, in the supply line
    std::optional<Current> stalled;  ///< held fast, at all of its volts
    Fraction duty = of<Fraction>(1.0);
    Voltage reference = of<Voltage>(5.0);
    Fraction level = of<Fraction>(0.55);  ///< of the reference, at which the input becomes true
    bool below = false;                   ///< it is true below its level: what runs dry, or is torn off, draws less
};
/// How well a level says what it is to say.
enum class ShownLevel {
    Well,
    Late,    ///< within a quarter of what it draws running, or held fast
    Always,  ///< as it runs, too
    Never    ///< not even held fast
};
struct ShownCurrentResult {
    ShownLevel level = ShownLevel::Well;
    Current limit{};                 ///< that stands at the level
    std::optional<Current> stalled;  ///< mean in the supply line, held fast at its share
    Count reads{};                   ///< while it runs
    std::optional<Count> reads_stalled;
};
/// Held fast, a share d of the volts drives a share d of the stall current, and the supply gives that for a share d of the time.
/// Verdict: breaks where it is told always or never, tight where late.
/// @source ohm, atmega328p-datasheet
[[nodiscard]] Result<Worked<ShownCurrentResult>> shownCurrent(const ShownCurrent& in);

}  // namespace hinge::driver
