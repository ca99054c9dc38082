#pragma once
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

// Lines of a sketch for chips whose pulses their own PWM units make. `index` is the output's place.
[[nodiscard]] std::string includesFor(Target target, bool watchdog);
[[nodiscard]] std::string servoSetup(Target target, const board::Pin& pin, int index);
[[nodiscard]] std::string servoBody(Target target, const board::Pin& pin, int index);
[[nodiscard]] std::string pwmSetup(Target target, const SketchOutput& out, int index);
/// Body of setOutput(): `top` is the level of full on.
[[nodiscard]] std::string pwmBody(Target target, const SketchOutput& out, int index, int top);
/// The line that reads one analogue pin, 0 to 1023.
[[nodiscard]] std::string analogueRead(Target target, const board::Pin& pin, const std::string& into);
/// Headers that lie beside the sketch: the little of the sketch API that Linux lacks.
[[nodiscard]] std::vector<SketchFile> headersFor(Target target);

}  // namespace hinge::firmware
