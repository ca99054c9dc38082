#pragma once
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

/// Gives out the PWM channels of an ESP32: two that follow one another share a timer, and so a frequency and its bits.
class LedcChannels {
public:
    /// nullopt when all sixteen are given, or the rest runs at others.
    [[nodiscard]] std::optional<int> take(double frequency, int bits);

private:
    struct Timer {
        double frequency = 0.0;
        int bits = 0, channels = 0;
    };
    std::vector<Timer> timers_;
};
/// The channel that an output takes: of a servo, or of its PWM. 0 on other chips. @error OutOfRange  there is none left
[[nodiscard]] Result<int> pwmChannel(Target target, LedcChannels& channels, const SketchOutput& out, const std::string& field);

// Lines of a sketch for chips whose pulses their own PWM units make. `index` is the output's place.
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
[[nodiscard]] std::string servoBody(Target target, const board::Pin& pin, int channel, int index);
[[nodiscard]] std::string pwmSetup(Target target, const SketchOutput& out, int channel);
/// Body of setOutput(): `top` is the level of full on.
[[nodiscard]] std::string pwmBody(Target target, const SketchOutput& out, int channel, int top);
/// The line that reads one analogue pin, 0 to 1023.
[[nodiscard]] std::string analogueRead(Target target, const board::Pin& pin, const std::string& into);
/// Headers that lie beside the sketch: the little of the sketch API that Linux and the ATtiny85 lack.
[[nodiscard]] std::vector<SketchFile> headersFor(Target target, const board::Family& family);

}  // namespace hinge::firmware
