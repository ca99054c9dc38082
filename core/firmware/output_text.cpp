#include "firmware/output_text.hpp"
#include <fmt/format.h>
#include <set>
#include "firmware/other_chips.hpp"
#include "firmware/pin_text.hpp"
#include "firmware/row.hpp"
#include "firmware/tables_text.hpp"
#include "link/protocol.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"

namespace hinge::firmware {
namespace {

// Prints one output after another.
class OutputPrinter {
public:
    OutputPrinter(const SketchModel& model, Target target)
        : model_(model),
          target_(target),
          pool_(model.family.pool),
          text_{.motion = Motion(target, model.family.beat_timer), .mains = MainsText(model), .registers = RegisterText(model)} {}
    std::optional<Error> begin() { return text_.registers.openExpanders(); }
    std::optional<Error> add(std::size_t i);
    OutputText done() && {
        text_.setup += text_.motion.timer();
        if (text_.mains.used()) text_.setup += text_.mains.setup();
        return std::move(text_);
    }

private:
    // One output as it is looked at: its row, its pin, what it is.
    struct One {
        std::size_t i;
        const routine::ProgramOutput& output;
        const SketchOutput& out;
        std::string field, pin_name, on, off;
        bool moves, turns_on, goes_on;
    };
    [[nodiscard]] One look(std::size_t i) const;
    Result<std::string> body(const One& one, int channel);
    std::string rateBody(const One& one);
    [[nodiscard]] std::string turningPulse(const One& one) const;
    Result<std::string> pwmBody(const SketchOutput& out, std::int32_t top, int channel, const std::string& on, const std::string& off);
    Result<std::string> twoInputsBody(const One& one, int channel);
    Result<std::string> endsBody(const One& one);
    Result<std::string> latchBody(const One& one);
    [[nodiscard]] std::string opened(const One& one) const;
    [[nodiscard]] std::string timing(const One& one) const;

    const SketchModel& model_;
    Target target_;
    std::set<int> timers_;
    board::PwmPool pool_;
    OutputText text_;
};

OutputPrinter::One OutputPrinter::look(std::size_t i) const {
    const auto& output = model_.program.outputs[i];
    const auto& out = model_.outputs[i];
    const std::string pin_name = "PIN_" + capitals(routine::symbol(output.id));
    return {i,
            output,
            out,
            "channels/" + output.id,
            pin_name,
            setPin(out.pin, target_, pin_name, !out.inverted),
            setPin(out.pin, target_, pin_name, out.inverted),
            output.kind != routine::OutputKind::Switched,
            output.pulse_still > 0,
            output.step_rate > 0.0};
}

std::string OutputPrinter::rateBody(const One& one) {
    // What is put to rest stops at once, as the proof has it; only what ends in good order runs down.
    const auto& ramp = model_.program.parameters[static_cast<std::size_t>(one.output.ramp_parameter)];
    return text_.motion.addRate(one.output, one.out, one.i,
                                fmt::format("gadget.output({}).resting ? 0 : parameter[P_{}]", one.i, capitals(ramp.name)));
}

std::string OutputPrinter::turningPulse(const One& one) const {
    const auto number = "P_" + capitals(model_.program.parameters[static_cast<std::size_t>(one.output.still_parameter)].name);
    return one.output.turns ? fmt::format("gadget.output({0}).back ? parameter[{1}] - level : parameter[{1}] + level", one.i, number)
                            : fmt::format("parameter[{}] + level", number);
}

Result<std::string> OutputPrinter::pwmBody(const SketchOutput& out, std::int32_t top, int channel, const std::string& on,
                                           const std::string& off) {
    if (target_ != Target::Avr) {
        text_.setup += pwmSetup(target_, out, channel);
        return firmware::pwmBody(target_, out, channel, top);
    }
    const int timer = out.pin.pwm_timer;
    if (timers_.insert(timer).second) text_.setup += timerRegisters(*out.pwm) + "\n";
    const std::string com = fmt::format("COM{}{}1", timer, out.pin.pwm_output);
    // Inverted: the output is low from the bottom to the compare value, both bits set.
    const std::string bits =
        out.inverted ? fmt::format("(_BV({}) | _BV(COM{}{}0))", com, timer, out.pin.pwm_output) : fmt::format("_BV({})", com);
    const std::string ocr = fmt::format("OCR{}{}", timer, out.pin.pwm_output);
    const std::string value = out.pwm->mode == timing::PwmMode::Fast ? "level - 1" : "level";
    return fmt::format(
        "  if (level == 0) {{ TCCR{0}A &= ~{1}; {5} }}\n  else if (level >= {2}) {{ TCCR{0}A &= "
        "~{1}; {6} }}\n  else {{ {3} = {4}; TCCR{0}A |= {1}; }}",
        timer, bits, top, ocr, value, off, on);
}

// The second input of a bridge that has two, as an output by itself.
SketchOutput secondOf(const SketchOutput& out) {
    SketchOutput second = out;
    second.pin = *out.direction;
    second.pwm = out.second_pwm;
    return second;
}

// Each input gets the share of the time for which it is high.
Result<std::string> OutputPrinter::twoInputsBody(const One& one, int channel) {
    if (!one.out.direction)
        return fail(ErrorCode::Missing, one.field + "/direction_pin", one.output.name, "a pin for its bridge's second input");
    const SketchOutput second = secondOf(one.out);
    const std::string name = std::to_string(second.pin.number);
    const auto inputBody = [&](const SketchOutput& out, std::int32_t top, int its_channel, const std::string& pin) -> Result<std::string> {
        const auto on = setPin(out.pin, target_, pin, true), off = setPin(out.pin, target_, pin, false);
        if (out.pwm) return pwmBody(out, top, its_channel, on, off);
        return fmt::format("  if (level > 0) {{ {} }}\n  else {{ {} }}", on, off);
    };
    auto first_body = inputBody(one.out, one.output.top, channel, one.pin_name);
    if (!first_body) return first_body;
    const std::int32_t top = second.pwm ? static_cast<std::int32_t>(std::min(si(second.pwm->steps), 65'535.0)) : 1;
    Result<int> second_channel = second.pwm ? pwmChannel(target_, pool_, second, one.field) : Result<int>{0};
    if (!second_channel) return tl::unexpected(second_channel.error());
    auto second_body = inputBody(second, top, *second_channel, name);
    if (!second_body) return second_body;
    const std::string state = fmt::format("gadget.output({}).", one.i),
                      scaled = top == one.output.top ? "inputs.second" : fmt::format("inputs.second * {}UL / {}", top, one.output.top);
    return fmt::format(
        "  const spark::BridgeInputs inputs = spark::bridgeInputs(level, {}, {}, {});\n"
        "  const auto first = [](unsigned int level) {{\n{}\n  }};\n  const auto second = [](unsigned int level) {{\n{}\n  }};\n"
        "  if (inputs.second_before) second({});\n  first(inputs.first);\n  if (!inputs.second_before) second({});",
        one.output.top, one.output.turns ? state + "back" : "false", brakesAny(model_.program) ? state + "braked" : "false", *first_body,
        *second_body, scaled, scaled);
}

namespace {

std::string compareOf(const board::Pin& pin) {
    return fmt::format("OCR{}{}", pin.pwm_timer, pin.pwm_output);
}

// A timer of an end with an input for each switch, both open from the first count on; the lower one's output is turned round.
std::string endSetup(const board::Pin& upper, const board::Pin& lower, const timing::PwmTimerResult& pwm) {
    const int timer = upper.pwm_timer;
    const auto bit = [&](const board::Pin& pin, int which) { return fmt::format("_BV(COM{}{}{})", timer, pin.pwm_output, which); };
    return fmt::format(
        "  TCCR{0}A = TCCR{0}B = 0;  // so that what is written next counts at once\n  {1} = 0;\n  {2} = {3:.0f};\n{4}\n  TCCR{0}A |= {5} "
        "| {6} | {7};\n",
        timer, compareOf(upper), compareOf(lower), si(pwm.top), timerRegisters(pwm), bit(upper, 1), bit(lower, 1), bit(lower, 0));
}

// The same of a slice that counts up and down: it runs, with both open, before its pins are handed to it.
std::string sliceSetup(const board::Pin& upper, const board::Pin& lower, const timing::PwmTimerResult& pwm, const std::string& wait) {
    const int slice = upper.pwm_timer;
    const bool lower_is_b = lower.pwm_output == 'B';
    return fmt::format(
        "  pwm_set_clkdiv({0}, {1:.4f}f);\n  pwm_set_phase_correct({0}, true);\n  pwm_set_wrap({0}, {2:.0f});\n"
        "  pwm_set_output_polarity({0}, {3}, {4});\n  pwm_set_both_levels({0}, {5}, {6});\n  pwm_set_enabled({0}, true);\n  {7}\n  {7}\n"
        "  gpio_set_function({8}, GPIO_FUNC_PWM);\n  gpio_set_function({9}, GPIO_FUNC_PWM);\n",
        slice, si(pwm.prescaler), si(pwm.top), !lower_is_b, lower_is_b, lower_is_b ? 0.0 : si(pwm.top) + 1.0,
        lower_is_b ? si(pwm.top) + 1.0 : 0.0, wait, upper.number, lower.number);
}

}  // namespace

// Upper and lower switch by one timer, with the dead time between them.
Result<std::string> OutputPrinter::endsBody(const One& one) {
    const auto& out = one.out;
    const bool slices = target_ == Target::Rp2040;
    if ((target_ != Target::Avr && !slices) || !out.pwm || !out.low)
        return fail(ErrorCode::Missing, one.field + "/low_pin", one.output.name,
                    "a timer that counts up and down, for the dead time between two switches");
    const bool whole = out.direction.has_value();
    if (whole && (!out.back_low || !out.second_pwm))
        return fail(ErrorCode::Missing, one.field + "/back_low_pin", one.output.name, "a pin for the other end's lower switch");
    const std::string state = fmt::format("gadget.output({}).", one.i), back = one.output.turns ? state + "back" : "";
    std::string body = fmt::format("  const bool down = level > 0{};\n", brakesAny(model_.program) ? " || " + state + "braked" : "");
    const auto end = [&](const char* name, const board::Pin& upper, const board::Pin& lower, const timing::PwmTimerResult& pwm, int pause,
                         const std::string& level) {
        if (slices) {
            // One more than its top: there neither is ever on.
            const double never = si(pwm.top) + 1.0;
            const std::string wait = fmt::format("delayMicroseconds({:.0f});", std::ceil(1e6 / si(pwm.actual_frequency)) + 1.0);
            text_.setup += sliceSetup(upper, lower, pwm, wait);
            body += fmt::format(
                "  static spark::EndCounts {0} = {{0, {1:.0f}}};\n  spark::setEndAtOnce({0}, spark::endCounts({2}, {1:.0f}, {3}, down), "
                "{1:.0f}, [](spark::EndCounts to) {{ pwm_set_both_levels({4}, {5}); }}, [] {{ {6} }});\n",
                name, never, level, pause, upper.pwm_timer, lower.pwm_output == 'B' ? "to.upper, to.lower" : "to.lower, to.upper", wait);
            return;
        }
        text_.setup += endSetup(upper, lower, pwm);
        body += fmt::format(
            "  static spark::EndCounts {0} = {{0, {1:.0f}}};\n  spark::setEnd({0}, spark::endCounts({2}, {1:.0f}, {3}, down), "
            "[](uint16_t counts) {{ {4} = counts; }}, [](uint16_t counts) {{ {5} = counts; }});\n",
            name, si(pwm.top), level, pause, compareOf(upper), compareOf(lower));
    };
    end("first", out.pin, *out.low, *out.pwm, out.dead_ticks, back.empty() ? "level" : back + " ? 0 : level");
    if (whole) {
        // The other end's timer may count to another top.
        const int tops[] = {one.output.top, static_cast<int>(si(out.second_pwm->top)) - 2 * out.second_dead_ticks};
        const std::string level = tops[0] == tops[1] ? "level" : fmt::format("level * {}UL / {}", tops[1], tops[0]);
        end("second", *out.direction, *out.back_low, *out.second_pwm, out.second_dead_ticks,
            back.empty() ? "0" : back + " ? " + level + " : 0");
    }
    body.pop_back();
    return body;
}

Result<std::string> OutputPrinter::latchBody(const One& one) {
    if (!one.out.direction)
        return fail(ErrorCode::Missing, one.field + "/direction_pin", one.output.name, "a pin that says which way it goes");
    const std::string way = std::to_string(one.out.direction->number);
    if (one.output.two_inputs)
        return fmt::format(
            "  static spark::LatchPulse latch;\n  int8_t way = latch.next(level > 0, {0}, {1});  // ticks of a pulse; before the first\n"
            "  if (way <= 0) {{ {2} }}\n  if (way >= 0) {{ {3} }}\n  if (way < 0) {{ {4} }}\n  if (way > 0) {{ {5} }}",
            one.output.latch, one.output.latch_turn, one.off, setPin(*one.out.direction, target_, way, false),
            setPin(*one.out.direction, target_, way, true), one.on);
    text_.setup += fmt::format("  {}\n", openPin(target_, way, false));
    return fmt::format(
        "  static spark::LatchPulse latch;\n  int8_t way = latch.next(level > 0, {0}, {1});  // ticks of a pulse; before the "
        "first\n"
        "  if (way == 0) {{ {2} return; }}\n  if (way < 0) {{ {3} }}\n  else {{ {4} }}\n  {5}",
        one.output.latch, one.output.latch_turn, one.off, setPin(*one.out.direction, target_, way, true),
        setPin(*one.out.direction, target_, way, false), one.on);
}

Result<std::string> OutputPrinter::body(const One& one, int channel) {
    const auto& out = one.out;
    if (out.expander && one.turns_on) return text_.registers.addExpander(out, one.i, turningPulse(one));
    if (out.expander && one.moves)
        return text_.registers.addExpander(out, one.i, fmt::format("gadget.output({}).awake ? level : 0", one.i));
    if (out.expander) return text_.registers.addExpanded(out, one.i, one.output.top);
    if (one.moves) return text_.motion.add(one.output, out, one.i, channel);
    if (one.goes_on) return rateBody(one);
    if (one.turns_on) return text_.motion.addServo(one.output.name, out, one.i, channel, turningPulse(one));
    if (one.output.latch > 0) return latchBody(one);
    if (MainsText::isFired(one.output)) return text_.mains.add(out, one.field, one.output);
    if (out.low) return endsBody(one);
    if (one.output.two_inputs) return twoInputsBody(one, channel);
    std::string body;
    if (out.pwm) {
        auto made = pwmBody(out, one.output.top, channel, one.on, one.off);
        if (!made) return made;
        body = std::move(*made);
    } else if (out.block > 0) {
        body = fmt::format("  static spark::WholeCycles cycles;\n  if (cycles.lets(level, {})) {{ {} }}\n  else {{ {} }}", out.block,
                           one.on, one.off);
    } else {
        body = fmt::format("  if (level > 0) {{ {} }}\n  else {{ {} }}", one.on, one.off);
    }
    if (!one.output.turns) return body;
    if (!out.direction) return fail(ErrorCode::Missing, one.field + "/direction_pin", one.output.name, "a pin that says which way it goes");
    const std::string way = std::to_string(out.direction->number);
    text_.setup += fmt::format("  {}\n", openPin(target_, way, false));
    // The way is set while the pin is at rest: the tick has seen to that.
    return fmt::format("  if (gadget.output({}).back) {{ {} }}\n  else {{ {} }}\n", one.i, setPin(*out.direction, target_, way, true),
                       setPin(*out.direction, target_, way, false)) +
           body;
}

// In its safe state from the first moment on.
std::string OutputPrinter::opened(const One& one) const {
    if (one.out.expander) return "// " + std::string{one.out.pin.name} + " of its expander is off until it is asked";
    // Without crossings nothing is fired, whatever its safe state is.
    const bool on = one.output.rest == routine::Rest::On && !MainsText::isFired(one.output), high = on != one.out.inverted;
    std::string text = one.out.pwm && target_ == Target::Linux ? pwmOpen(one.out, high) : openPin(target_, one.pin_name, high);
    if (one.out.low) {
        for (const auto* pin : {&one.out.low, &one.out.direction, &one.out.back_low})
            if (*pin) text += "\n  " + openPin(target_, std::to_string((*pin)->number), false);
        return text;
    }
    if (!one.output.two_inputs || !one.out.direction) return text;
    const SketchOutput second = secondOf(one.out);
    return text + "\n  " +
           (second.pwm && target_ == Target::Linux ? pwmOpen(second, false) : openPin(target_, std::to_string(second.pin.number), false));
}

// How its pin is timed, for the comment beside it.
std::string OutputPrinter::timing(const One& one) const {
    const auto& out = one.out;
    if (out.expander && (one.turns_on || one.moves))
        return fmt::format("a pulse every 20 ms from the {}, whose output this is", out.expander->name);
    if (out.expander)
        return out.pwm ? fmt::format("an output of the {}: {}", out.expander->name, comment(display(out.pwm->actual_frequency, 5)))
                       : fmt::format("a line of the {}, on and off", out.expander->name);
    if (one.goes_on || one.output.kind == routine::OutputKind::Stepper)
        return fmt::format("steps, up to {} a millisecond", text_.motion.slots());
    if (one.turns_on || one.output.kind == routine::OutputKind::Servo) return "servo pulse every 20 ms";
    if (out.pwm && target_ == Target::Linux)
        return fmt::format("PWM channel {}: {}, edges by the oscillator, a new share some ms late at worst", out.pin.pwm_timer,
                           comment(display(out.pwm->actual_frequency, 5)));
    if (out.low)
        return fmt::format("timer {}, prescaler {:.0f}, up and down to {:.0f}: {}, {} between its two switches", out.pin.pwm_timer,
                           si(out.pwm->prescaler), si(out.pwm->top), comment(display(out.pwm->actual_frequency, 5)),
                           comment(display(Kind::Duration, out.dead_ticks * si(out.pwm->prescaler) / model_.family.clock)));
    if (out.pwm)
        return fmt::format("timer {}, prescaler {:.0f}, TOP {:.0f}: {}", out.pin.pwm_timer, si(out.pwm->prescaler), si(out.pwm->top),
                           comment(display(out.pwm->actual_frequency, 5)));
    if (MainsText::isFired(one.output))
        return "fired into each half-wave of the mains, timed by " +
               (model_.family.phase_alarm ? std::string{"an alarm"} : fmt::format("timer {}", model_.family.phase_timer));
    if (one.output.latch > 0) return fmt::format("a pulse of {} ms each way", one.output.latch);
    if (out.block > 0) return fmt::format("whole cycles of the mains, {} ms at a time", out.block);
    return "on and off";
}

std::optional<Error> OutputPrinter::add(std::size_t i) {
    const One one = look(i);
    const auto& [index, output, out, field, pin_name, on, off, moves, turns_on, goes_on] = one;
    if ((moves || turns_on || goes_on) && !out.expander && target_ == Target::Linux)
        return fail(ErrorCode::Missing, field, output.name,
                    "a board that can time pulses: under an operating system servos twitch and steps are lost")
            .value();
    Result<int> channel = 0;
    if (!out.expander && (out.pwm || turns_on || output.kind == routine::OutputKind::Servo))
        channel = pwmChannel(target_, pool_, out, field);
    if (!channel) return channel.error();
    const auto printed = body(one, *channel);
    if (!printed) return printed.error();
    if (output.remembered && target_ != Target::Avr)
        return fail(ErrorCode::Missing, field + "/remembers", output.name, "an AVR board: only its EEPROM is written by the sketch")
            .value();
    text_.remembers = text_.remembers || output.remembered;
    if (auto error = text_.registers.add(out, i, output)) return error;
    if (output.kind == routine::OutputKind::Stepper && routine::isHomed(model_.program, i))
        text_.places += fmt::format(
            "  if (output == {1}) {{\n    noInterrupts();\n    given{0} = gadget.output({1}).level * {2};\n    next{0} = rate{0} "
            "= 0;\n    interrupts();\n  }}\n",
            i, outputName(model_.program, static_cast<int>(i)), routine::fine_parts);
    auto made = item({{"upper", capitals(routine::symbol(output.id))},
                      {"comment", comment(output.name) + (out.inverted ? ", low is on" : "")},
                      {"string", cString(link::spoken(output.name))},
                      {"pin", std::string{out.pin.name}},
                      {"number", std::to_string(out.pin.number)},
                      {"index", std::to_string(i)},
                      {"body", *printed},
                      {"open", opened(one)},
                      {"pwm", timing(one)}});
    made.set("switched", !moves);
    made.set("placed", moves);
    text_.list.push_back(made);
    return std::nullopt;
}

}  // namespace

Result<OutputText> outputText(const SketchModel& model, Target target) {
    OutputPrinter printer(model, target);
    if (auto error = printer.begin()) return tl::unexpected(std::move(*error));
    for (std::size_t i = 0; i < model.program.outputs.size(); ++i)
        if (auto error = printer.add(i)) return tl::unexpected(std::move(*error));
    return std::move(printer).done();
}

}  // namespace hinge::firmware
