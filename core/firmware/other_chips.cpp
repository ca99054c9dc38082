#include "firmware/other_chips.hpp"
#include <fmt/format.h>
#include <cmath>
#include "firmware/linux_api.hpp"

namespace hinge::firmware {

std::optional<Target> targetOf(const board::Family& family) {
    if (family.sketch) return Target::Avr;
    switch (family.form) {
        case board::BoardForm::Rp2040: return Target::Rp2040;
        case board::BoardForm::Esp32: return Target::Esp32;
        case board::BoardForm::Header: return Target::Linux;
        default: return std::nullopt;
    }
}

const char* standingOf(Target target) {
    switch (target) {
        case Target::Avr: return "emitted for AVR; it compiles with avr-gcc, and runs on the emulated board.";
        case Target::Rp2040:
            return "emitted for the RP2040, its syntax checked against declarations only:\n// it was neither compiled with the board's "
                   "core nor run.";
        case Target::Esp32:
            return "emitted for the ESP32 (core 2.x), its syntax checked against declarations only:\n// it was neither compiled with the "
                   "board's core nor run.";
        case Target::Linux:
            return "emitted for Linux, and compiles; it was not run on a board. Build:\n// g++ -std=c++17 -O2 -x c++ THIS.ino -I. -o "
                   "gadget -lgpiod (libgpiod 1.6)";
    }
    return "";
}

std::string includesFor(Target target, bool watchdog) {
    if (target == Target::Rp2040)
        return std::string{"#include <hardware/gpio.h>\n#include <hardware/pwm.h>\n#include <pico/time.h>\n"} +
               (watchdog ? "#include <hardware/watchdog.h>\n" : "");
    return {};
}

std::string servoSetup(Target target, const board::Pin& pin, int index) {
    if (target == Target::Rp2040)
        return fmt::format(
            "  gpio_set_function({0}, GPIO_FUNC_PWM);\n  pwm_set_clkdiv(pwm_gpio_to_slice_num({0}), 62.5f);  // 125 MHz down to half "
            "microseconds\n  pwm_set_wrap(pwm_gpio_to_slice_num({0}), 39999);\n  pwm_set_gpio_level({0}, 0);\n  "
            "pwm_set_enabled(pwm_gpio_to_slice_num({0}), true);\n",
            pin.number);
    return fmt::format("  ledcSetup({0}, 50, 16);\n  ledcAttachPin({1}, {0});\n", index, pin.number);
}

std::string servoBody(Target target, const board::Pin& pin, int index) {
    if (target == Target::Rp2040) return fmt::format("  pwm_set_gpio_level({}, gadget.output({}).awake ? level : 0);", pin.number, index);
    return fmt::format("  ledcWrite({0}, gadget.output({0}).awake ? level * 65536UL / 40000 : 0);", index);
}

std::string pwmSetup(Target target, const SketchOutput& out, int index) {
    if (target == Target::Rp2040)
        return fmt::format(
            "  gpio_set_function({0}, GPIO_FUNC_PWM);\n  pwm_set_clkdiv(pwm_gpio_to_slice_num({0}), {1:.4f}f);\n  "
            "pwm_set_phase_correct(pwm_gpio_to_slice_num({0}), {2});\n  pwm_set_wrap(pwm_gpio_to_slice_num({0}), {3:.0f});\n  "
            "{4}pwm_set_gpio_level({0}, 0);\n  pwm_set_enabled(pwm_gpio_to_slice_num({0}), true);\n",
            out.pin.number, si(out.pwm->prescaler), out.pwm->mode == timing::PwmMode::PhaseCorrect ? "true" : "false", si(out.pwm->top),
            out.inverted ? fmt::format("gpio_set_outover({}, GPIO_OVERRIDE_INVERT);\n  ", out.pin.number) : "");
    const int bits = static_cast<int>(std::lround(std::log2(si(out.pwm->steps))));
    return fmt::format("  ledcSetup({0}, {1:.0f}, {2});\n{4}  ledcAttachPin({3}, {0});\n", index, si(out.pwm->actual_frequency), bits,
                       out.pin.number, out.inverted ? fmt::format("  ledcWrite({}, {});\n", index, 1L << bits) : "");
}

std::string pwmBody(Target target, const SketchOutput& out, int index, int top) {
    if (target == Target::Rp2040) return fmt::format("  pwm_set_gpio_level({}, level >= {} ? {} : level);", out.pin.number, top, top);
    const int bits = static_cast<int>(std::lround(std::log2(si(out.pwm->steps))));
    return out.inverted ? fmt::format("  ledcWrite({0}, {1} - level * {1}UL / {2});", index, 1L << bits, top)
                        : fmt::format("  ledcWrite({}, level * {}UL / {});", index, 1L << bits, top);
}

std::string analogueRead(Target target, const board::Pin& pin, const std::string& into) {
    if (target == Target::Esp32)
        return fmt::format("  gadget.input({}).value = analogRead({}) / 4;  // twelve bits to ten\n", into, pin.number);
    return fmt::format("  gadget.input({}).value = analogRead({});  // ten bits, as the core sets it\n", into, pin.number);
}

std::vector<SketchFile> headersFor(Target target) {
    if (target != Target::Linux) return {};
    return {{"Arduino.h", std::string{linux_api}}};
}

}  // namespace hinge::firmware
