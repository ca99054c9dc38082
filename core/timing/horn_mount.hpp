#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// Where a servo's horn ends up on its spline, and what travel is left.
struct HornMount {
    Count teeth = of<Count>(25.0);  ///< of the spline
    Duration pulse_min{};
    Duration pulse_max{};
    Angle angle_range{};
    Angle rest_angle{};  ///< of the horn, wanted at the middle pulse; from where a tooth sits when the horn is put on straight
    Angle swing{};       ///< of the move, to both sides of the rest
};
struct HornMountResult {
    Duration middle{};   ///< pulse to command before the horn is pressed on
    Angle tooth{};       ///< from tooth to tooth
    Count teeth_over{};  ///< teeth to turn the horn by
    Angle residual{};    ///< left over, under half a tooth; trimmed by the pulse
    Duration trim{};     ///< to add to every pulse
    Angle left{};        ///< travel to spare on the tighter side
};
/// @error OutOfRange  pulse_min is not below pulse_max
/// @source servo-linear
[[nodiscard]] Result<Worked<HornMountResult>> hornMount(const HornMount& in);
[[nodiscard]] FormPtr hornMountForm();

/// How much of the processor the interrupts take.
struct InterruptLoad {
    std::string interrupts;  ///< "16kHz@110,976Hz@80": rate@cycles
    Frequency clock = of<Frequency>(16e6);
};
struct InterruptLoadResult {
    Fraction load{};     ///< of all cycles
    Duration longest{};  ///< the longest one, entry and return included as given
    Fraction left{};
};
/// To a half holds, to 0.8 tight (common practice, no published source).
/// @error BadFormat  naming `interrupts`
/// @source definition
[[nodiscard]] Result<Worked<InterruptLoadResult>> interruptLoad(const InterruptLoad& in);
[[nodiscard]] FormPtr interruptLoadForm();

}  // namespace hinge::timing
