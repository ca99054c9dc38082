#include "board/family.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "quantity/text.hpp"
#include "working/worked.hpp"

namespace hinge::board {
std::optional<Pin> pinNamed(const Family& of_family, std::string_view name) {
    const auto found = std::find_if(of_family.pins.begin(), of_family.pins.end(), [&](const Pin& pin) { return pin.name == name; });
    if (found == of_family.pins.end()) return std::nullopt;
    return *found;
}

int serialPortAt(const Family& family, std::string_view in, std::string_view out) {
    const auto hears = pinNamed(family, in), says = pinNamed(family, out);
    if (!hears || !says || !hears->serial_in || says->serial_in || hears->serial_port != says->serial_port) return 0;
    return hears->serial_port;
}

std::optional<double> serialMiss(const Family& family, double baud) {
    if (baud <= 0.0) return std::nullopt;
    if (family.target != Target::Avr) return 0.0;
    // At double speed: the clock by eight and by a whole number up to 4096. The sketch API rounds as here, and takes single speed for
    // 57 600 baud at 16 MHz, as old boot loaders did.
    const double by = family.clock == 16e6 && baud == 57600.0 ? 16.0 : 8.0;
    const double divider = std::floor((2.0 * family.clock / by / baud - 1.0) / 2.0) + 1.0;
    if (divider < 1.0 || divider > 4096.0) return std::nullopt;
    return family.clock / (by * divider) / baud - 1.0;
}

std::string_view timerServes(const Family& family, int timer) {
    return timer >= 0 && timer == family.clock_timer ? "the sketch's clock: micros(), millis()" : "";
}

std::optional<double> clockTimerFrequency(const Family& family) {
    if (family.clock_timer < 0) return std::nullopt;
    return family.clock / (64.0 * 256.0);
}

std::vector<Pin> pairsOf(const Family& family, const Pin& pin) {
    std::vector<Pin> others;
    if ((family.target != Target::Avr && family.target != Target::Rp2040) || pin.pwm_timer < 0 || pin.pwm_timer == family.clock_timer ||
        pin.pwm_timer == family.untimed_timer)
        return others;
    for (const auto& other : family.pins)
        if (other.pwm_timer == pin.pwm_timer && other.pwm_output != pin.pwm_output) others.push_back(other);
    return others;
}

Result<Worked<timing::PwmTimerResult>> pwmOf(const Family& family, const Pin& pin, Frequency frequency,
                                             std::optional<timing::PwmMode> mode) {
    if (pin.pwm_timer < 0) return fail(ErrorCode::OutOfRange, "pin", std::string{pin.name}, "a pin with PWM");
    if (family.pwm_counts_oscillator) {
        const double counts = std::round(family.clock / si(frequency));
        if (!(counts >= 16.0 && counts <= 4294967295.0))
            return fail(ErrorCode::OutOfRange, "frequency", displayPlain(frequency), "5 mHz to 1.2 MHz on this header");
        Worked<timing::PwmTimerResult> out;
        auto& r = out.result;
        r.timer = of<Count>(pin.pwm_timer);
        r.prescaler = of<Ratio>(1.0);
        r.top = of<Count>(counts - 1.0);
        r.actual_frequency = of<Frequency>(family.clock / counts);
        r.frequency_error = of<Fraction>(family.clock / counts / si(frequency) - 1.0);
        r.resolution_bits = of<Ratio>(std::log2(counts));
        r.steps = of<Count>(counts);
        addStep(out.steps, "f", "real frequency", "{osc}/{n}", {{"osc", family.clock}, {"n", counts}}, r.actual_frequency, "sbc-header");
        return out;
    }
    timing::PwmTimer in;
    in.mcu = family.mcu;
    in.clock = of<Frequency>(family.clock);
    in.frequency = frequency;
    in.mode = mode;
    if (pin.pwm_timer != pooled_timer) in.timer = of<Count>(pin.pwm_timer);
    if (pin.pwm_timer == family.clock_timer) in.mode = timing::PwmMode::Fast;
    return timing::pwmTimer(in);
}

std::string timerName(const Family& family, int timer) {
    if (timer == pooled_timer) return "any of its timers";
    return fmt::format("{} {}", family.timer_word, timer);
}

}  // namespace hinge::board
