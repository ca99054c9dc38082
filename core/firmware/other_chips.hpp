#pragma once
#include "board/pwm_pool.hpp"
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

/// The channel that an output's PWM takes, a servo's too, where a pool gives them out; 0 on other chips.
/// @error OutOfRange  there is none left
[[nodiscard]] Result<int> pwmChannel(Target target, board::PwmPool& pool, const SketchOutput& out, const std::string& field);
// Lines of a sketch for chips whose pulses their own PWM units make. `wanted`: its pulse in half microseconds, as C++.
[[nodiscard]] std::string includesFor(Target target, bool watchdog);
/// What starts the chip's watchdog and what feeds it; empty: it has none that the sketch could use.
struct Watchdog {
    std::string start, feed;
};
[[nodiscard]] Watchdog watchdogFor(Target target);
/// Expressions: why it started, in words; bytes of the stack that were never used. Empty: nobody knows.
struct Health {
    std::string started_by, never_used;
};
[[nodiscard]] Health healthFor(Target target);
[[nodiscard]] std::string servoSetup(Target target, const board::Pin& pin, int channel);
[[nodiscard]] std::string servoBody(Target target, const board::Pin& pin, int channel, const std::string& wanted);
/// Of a Linux header, which hands the pin to its PWM from the first moment on.
[[nodiscard]] std::string pwmOpen(const SketchOutput& out, bool rests_high);
[[nodiscard]] std::string pwmSetup(Target target, const SketchOutput& out, int channel);
/// Body of setOutput(): `top` is the level of full on.
[[nodiscard]] std::string pwmBody(Target target, const SketchOutput& out, int channel, int top);
/// The line that reads one analogue pin, 0 to 1023.
[[nodiscard]] std::string analogueRead(Target target, const board::Pin& pin, const std::string& into);
/// Headers that lie beside the sketch: the little of the sketch API that Linux and the ATtiny85 lack.
[[nodiscard]] std::vector<SketchFile> headersFor(Target target, const board::Family& family);

}  // namespace hinge::firmware
