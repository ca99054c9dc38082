#include "firmware/other_chips.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "firmware/linux_api.hpp"
#include "firmware/tiny_api.hpp"

namespace hinge::firmware {

const char* standingOf(Target target) {
    switch (target) {
        case Target::Avr: return "emitted for AVR; it compiles with avr-gcc, and runs on the emulated board.";
        case Target::Rp2040:
            return "emitted for the RP2040; it compiles with arm-none-eabi-gcc, and runs on an emulated chip,\n// over a small layer of "
                   "this program's own: it was not compiled with a board's core, and not run on a board.";
        case Target::Esp32:
            return "emitted for the ESP32 (core 2.x); it compiles against declarations of its calls, and what it does was run on the "
                   "desk,\n"
                   "// on a stand-in for them: it was neither compiled with the board's core nor run on a chip.";
        case Target::Linux:
            return "emitted for Linux; it compiles against libgpiod, and what it does was run on the desk, on a stand-in for that: it was "
                   "not\n"
                   "// run on a board. Build: g++ -std=c++17 -O2 -x c++ THIS.ino -I. -o gadget -lgpiod (libgpiod 1.6)";
    }
    return "";
}

std::string includesFor(Target target, bool watchdog) {
    switch (target) {
        case Target::Avr: return std::string{"#include <avr/eeprom.h>\n"} + (watchdog ? "#include <avr/wdt.h>\n" : "");
        case Target::Rp2040:
            return "#include <hardware/gpio.h>\n#include <hardware/pwm.h>\n#include <hardware/watchdog.h>\n#include <pico/time.h>\n";
        case Target::Esp32: return std::string{"#include <esp_system.h>\n"} + (watchdog ? "#include <esp_task_wdt.h>\n" : "");
        case Target::Linux: break;
    }
    return {};
}

Watchdog watchdogFor(Target target) {
    switch (target) {
        case Target::Avr: return {"wdt_enable(WDTO_250MS);", "wdt_reset();"};
        case Target::Rp2040: return {"watchdog_enable(250, true);", "watchdog_update();"};
        // It counts whole seconds.
        case Target::Esp32: return {"esp_task_wdt_init(1, true); esp_task_wdt_add(nullptr);", "esp_task_wdt_reset();"};
        case Target::Linux: break;
    }
    return {};
}

Health healthFor(Target target) {
    switch (target) {
        case Target::Avr:
            return {R"(startedBy & _BV(WDRF)    ? PSTR("its watchdog")
                 : startedBy & _BV(BORF)  ? PSTR("a low supply")
                 : startedBy & _BV(EXTRF) ? PSTR("the reset pin")
                 : startedBy & _BV(PORF)  ? PSTR("power")
                                          : PSTR("what was not kept"))",
                    "memoryNeverUsed()"};
        case Target::Rp2040: return {R"(watchdog_caused_reboot() ? PSTR("its watchdog") : PSTR("power or the reset pin"))", ""};
        case Target::Esp32:
            return {R"(esp_reset_reason() == ESP_RST_TASK_WDT || esp_reset_reason() == ESP_RST_INT_WDT ? PSTR("its watchdog")
                 : esp_reset_reason() == ESP_RST_BROWNOUT ? PSTR("a low supply")
                 : esp_reset_reason() == ESP_RST_POWERON  ? PSTR("power")
                                                          : PSTR("the reset pin, or itself"))",
                    "uxTaskGetStackHighWaterMark(nullptr)"};
        case Target::Linux: break;
    }
    return {};
}

namespace {

int ledcBits(const timing::PwmTimerResult& pwm) {
    return static_cast<int>(std::lround(std::log2(si(pwm.steps))));
}

}  // namespace

Result<int> pwmChannel(Target target, board::PwmPool& pool, const SketchOutput& out, const std::string& field) {
    if (target != Target::Esp32) return 0;
    const auto channel =
        out.pwm ? pool.take(si(out.pwm->actual_frequency), ledcBits(*out.pwm)) : pool.take(board::servo_rate, board::servo_bits);
    if (!channel) return fail(ErrorCode::OutOfRange, field, "", "PWM of eight timers, two outputs of one frequency to each");
    return *channel;
}

std::vector<Unheard> unheard(const board::Family& family, const routine::Program& program) {
    using routine::InputSource;
    std::vector<Unheard> list;
    if (family.link) return list;
    for (const auto& input : program.inputs) {
        if (input.source == InputSource::Word || input.source == InputSource::Number)
            list.push_back({input.id, input.name, "it comes over the link, and there is none on this chip"});
        if (input.source == InputSource::Days)
            list.push_back({input.id, input.name, "nothing sets a date on this chip, which has neither link nor bus"});
    }
    for (const auto& cue : program.cues)
        if (!cue.times_of_day.empty())
            list.push_back(
                {cue.id, "the time of day that starts " + cue.name, "nothing sets a clock on this chip, which has neither link nor bus"});
    if (program.link_parameter >= 0) list.push_back({"", "the link's silence", "there is no link on this chip"});
    return list;
}

std::string servoSetup(Target target, const board::Pin& pin, int channel) {
    if (target == Target::Rp2040)
        return fmt::format(
            "  pwm_set_clkdiv(pwm_gpio_to_slice_num({0}), 62.5f);  // 125 MHz down to half microseconds\n  "
            "pwm_set_wrap(pwm_gpio_to_slice_num({0}), 39999);\n  pwm_set_gpio_level({0}, 0);\n  "
            "pwm_set_enabled(pwm_gpio_to_slice_num({0}), true);\n  gpio_set_function({0}, GPIO_FUNC_PWM);\n",
            pin.number);
    return fmt::format("  ledcSetup({0}, {2:.0f}, {3});\n  ledcAttachPin({1}, {0});\n", channel, pin.number, board::servo_rate,
                       board::servo_bits);
}

std::string servoBody(Target target, const board::Pin& pin, int channel, const std::string& wanted) {
    if (target == Target::Rp2040) return fmt::format("  pwm_set_gpio_level({}, {});", pin.number, wanted);
    return fmt::format("  ledcWrite({}, ({}) * {}UL / 40000);", channel, wanted, 1L << board::servo_bits);
}

namespace {

// Of the header's own PWM.
long long periodOf(const SketchOutput& out) {
    return std::llround(1e9 / si(out.pwm->actual_frequency));
}

}  // namespace

std::string pwmOpen(const SketchOutput& out, bool rests_high) {
    return fmt::format("pwmBegin({}, {}LL, {}LL);", out.pin.pwm_timer, periodOf(out), rests_high ? periodOf(out) : 0);
}

std::string pwmSetup(Target target, const SketchOutput& out, int channel) {
    if (target == Target::Linux) return "";  // it runs since it was opened
    // The slice runs from the start; its pin is handed to it only while there are pulses.
    if (target == Target::Rp2040)
        return fmt::format(
            "  pwm_set_clkdiv(pwm_gpio_to_slice_num({0}), {1:.4f}f);\n  pwm_set_phase_correct(pwm_gpio_to_slice_num({0}), {2});\n  "
            "pwm_set_wrap(pwm_gpio_to_slice_num({0}), {3:.0f});\n  pwm_set_gpio_level({0}, {4:.0f});\n  "
            "pwm_set_enabled(pwm_gpio_to_slice_num({0}), true);\n",
            out.pin.number, si(out.pwm->prescaler), out.pwm->mode == timing::PwmMode::PhaseCorrect ? "true" : "false", si(out.pwm->top),
            out.inverted ? std::min(si(out.pwm->steps), 65'535.0) : 0.0);
    // Whole hertz, rounded down: the chip's divider then comes out as planned, whether its driver rounds it or cuts it off.
    return fmt::format("  ledcSetup({0}, {1:.0f}, {2});\n{4}  ledcAttachPin({3}, {0});\n", channel,
                       std::floor(si(out.pwm->actual_frequency) + 1e-6), ledcBits(*out.pwm), out.pin.number,
                       out.inverted ? fmt::format("  ledcWrite({}, {});\n", channel, 1L << ledcBits(*out.pwm)) : "");
}

std::string pwmBody(Target target, const SketchOutput& out, int channel, int top) {
    if (target == Target::Linux)
        return fmt::format("  pwmShare({0}, {1} * {2}LL / {3});", out.pin.pwm_timer,
                           out.inverted ? fmt::format("({} - level)", top) : std::string{"level"}, periodOf(out), top);
    if (target == Target::Rp2040)
        return fmt::format(
            "  pwm_set_gpio_level({0}, {1});\n  if (level == 0 || level >= {2}) {{ gpio_put({0}, {3}); gpio_set_function({0}, "
            "GPIO_FUNC_SIO); }}\n  else gpio_set_function({0}, GPIO_FUNC_PWM);",
            out.pin.number, out.inverted ? fmt::format("level >= {0} ? 0 : {0} - level", top) : "level", top,
            out.inverted ? "level == 0" : "level > 0");
    const long full = 1L << ledcBits(*out.pwm);
    return out.inverted ? fmt::format("  ledcWrite({0}, {1} - level * {1}UL / {2});", channel, full, top)
                        : fmt::format("  ledcWrite({}, level * {}UL / {});", channel, full, top);
}

std::string analogueRead(Target target, const board::Pin& pin, const std::string& into) {
    if (target == Target::Esp32)
        return fmt::format("  gadget.input({}).value = analogRead({}) / 4;  // twelve bits to ten\n", into, pin.number);
    return fmt::format("  gadget.input({}).value = analogRead({});  // ten bits, as the core sets it\n", into, pin.number);
}

std::vector<SketchFile> headersFor(Target target, const board::Family& family) {
    if (target == Target::Linux) return {{"Arduino.h", std::string{linux_api}}};
    if (family.emulated && family.core_variant.empty()) return {{"Arduino.h", std::string{tiny_api}}};
    return {};
}

}  // namespace hinge::firmware
