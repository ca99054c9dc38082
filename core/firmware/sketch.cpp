#include "firmware/sketch.hpp"
#include "firmware/sketch_template.hpp"
#include "link/protocol.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "timing/time_of_day.hpp"
#include <fmt/format.h>
#include <kainjow/mustache.hpp>
#include <set>

namespace hinge::firmware {
namespace {

namespace mustache = kainjow::mustache;

std::string upper(std::string text) {
    for (char& c : text) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return text;
}

std::string clockSelect(int timer, double prescaler) {
    static const std::vector<int> usual{1, 8, 64, 256, 1024}, asynchronous{1, 8, 32, 64, 128, 256, 1024};
    const auto& list = timer == 2 ? asynchronous : usual;
    int bits = 0;
    for (std::size_t i = 0; i < list.size(); ++i)
        if (list[i] == static_cast<int>(prescaler)) bits = static_cast<int>(i) + 1;
    std::string text;
    for (int b = 0; b < 3; ++b)
        if ((bits >> b & 1) != 0) text += fmt::format("{}_BV(CS{}{})", text.empty() ? "" : " | ", timer, b);
    return text;
}

// Register lines that give a timer its waveform; timer 0 is left as the sketch API sets it.
std::string timerSetup(const timing::PwmTimerResult& pwm) {
    const int t = static_cast<int>(si(pwm.timer));
    const bool fast = pwm.mode == timing::PwmMode::Fast;
    const std::string select = clockSelect(t, si(pwm.prescaler));
    if (t == 1)
        return fmt::format("  TCCR1A = _BV(WGM11);\n  TCCR1B = _BV(WGM13){} | {};\n  ICR1 = {:.0f};", fast ? " | _BV(WGM12)" : "", select, si(pwm.top));
    if (t == 2) {
        const bool own = si(pwm.top) != 255.0;
        return fmt::format("  TCCR2A = _BV(WGM20){};\n  TCCR2B = {}{};{}", fast ? " | _BV(WGM21)" : "", own ? "_BV(WGM22) | " : "", select, own ? fmt::format("\n  OCR2A = {:.0f};", si(pwm.top)) : "");
    }
    return "  // timer 0: 64 x 256 ticks a period, as the sketch API sets it";
}

mustache::data item(std::initializer_list<std::pair<const char*, std::string>> fields) {
    mustache::data data{mustache::data::type::object};
    for (const auto& [name, value] : fields) data.set(name, value);
    return data;
}

// One cue as a switch over its places, the same steps as the interpreter's.
std::string cueBody(const routine::Program& program, const routine::ProgramCue& cue, std::size_t index) {
    std::string text;
    for (std::size_t i = 0; i < cue.instructions.size(); ++i) {
        const auto& instruction = cue.instructions[i];
        switch (instruction.operation) {
            case routine::Operation::On: {
                const auto& output = program.outputs[static_cast<std::size_t>(instruction.output)];
                text += fmt::format("      case {}: asked[{}] = true; break;  // {} on\n", i, "OUT_" + upper(routine::identifier(output.id)), comment(output.name));
                break;
            }
            case routine::Operation::Off: {
                const auto& output = program.outputs[static_cast<std::size_t>(instruction.output)];
                text += fmt::format("      case {}: release({}); break;  // {} off, after its off-delay\n", i, "OUT_" + upper(routine::identifier(output.id)), comment(output.name));
                break;
            }
            case routine::Operation::Wait:
                text += fmt::format("      case {}: cueWait[{}] = parameter[{}]; if (cueWait[{}] > 0) return; break;\n", i, index, "P_" + upper(program.parameters[static_cast<std::size_t>(instruction.parameter)].name), index);
                break;
        }
    }
    return text;
}

}  // namespace

std::string cString(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\') out += '\\', out += c;
        else if (c == '?') out += "\\?";  // no trigraphs
        else if (u >= 32 && u < 127) out += c;
        else if (u >= 0xC0 || u < 32) out += '_';  // one mark a character; continuation bytes vanish
    }
    return out;
}

std::string comment(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (u >= 32 && u < 127 && c != '\\') out += c;
        else if (u >= 0xC0 || u < 32 || c == '\\') out += '_';
    }
    return out;
}

Result<Sketch> emit(const SketchModel& model) {
    const auto& program = model.program;
    if (model.outputs.size() != program.outputs.size() || model.inputs.size() != program.inputs.size())
        return fail(ErrorCode::Missing, "pins", "", "a pin for every channel and input");
    mustache::data data{mustache::data::type::object};
    data.set("gadget_comment", comment(model.gadget));
    data.set("gadget_string", cString(model.gadget).substr(0, 40));
    data.set("plan", model.plan);
    data.set("board", comment(std::string{model.family.name}));
    data.set("baud", std::to_string(link::baud));
    data.set("version", std::to_string(link::version));
    data.set("parameter_count", std::to_string(program.parameters.size()));
    data.set("input_count", std::to_string(program.inputs.size()));
    data.set("output_count", std::to_string(program.outputs.size()));
    data.set("cue_count", std::to_string(program.cues.size()));
    data.set("has_inputs", !program.inputs.empty());
    data.set("payload", std::to_string(12 + 2 * program.outputs.size()));

    mustache::data parameters{mustache::data::type::list};
    for (std::size_t i = 0; i < program.parameters.size(); ++i) {
        const auto& p = program.parameters[i];
        parameters.push_back(item({{"upper", upper(p.name)}, {"name", p.name}, {"unit", p.unit}, {"value", std::to_string(p.value)}, {"least", std::to_string(p.least)}, {"most", std::to_string(p.most)},
                                   {"meaning", comment(p.meaning)}, {"source", comment(p.source)}, {"index", std::to_string(i)}}));
    }
    data.set("parameters", parameters);

    mustache::data inputs{mustache::data::type::list};
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        const auto& input = program.inputs[i];
        bool cautious = false;
        for (const auto& cue : program.cues)
            for (const auto& guard : cue.guards) cautious = cautious || guard.input == static_cast<int>(i);
        for (const auto& interlock : program.interlocks) cautious = cautious || interlock.input == static_cast<int>(i);
        inputs.push_back(item({{"upper", upper(routine::identifier(input.id))}, {"comment", comment(input.name)}, {"string", cString(input.name).substr(0, 40)}, {"pin", std::string{model.inputs[i].name}},
                               {"number", std::to_string(model.inputs[i].number)}, {"active", input.active_high ? "HIGH" : "LOW"}, {"debounce", std::to_string(input.debounce)}, {"index", std::to_string(i)},
                               {"first", cautious ? "true" : "false"}}));
    }
    data.set("inputs", inputs);

    mustache::data outputs{mustache::data::type::list};
    std::set<int> timers;
    std::string setup;
    for (std::size_t i = 0; i < program.outputs.size(); ++i) {
        const auto& output = program.outputs[i];
        const auto& out = model.outputs[i];
        std::string body;
        if (out.pwm) {
            const int timer = out.pin.pwm_timer;
            if (timers.insert(timer).second) setup += timerSetup(*out.pwm) + "\n";
            const std::string com = fmt::format("COM{}{}1", timer, out.pin.pwm_output);
            const std::string ocr = fmt::format("OCR{}{}", timer, out.pin.pwm_output);
            const std::string value = out.pwm->mode == timing::PwmMode::Fast ? "level - 1" : "level";
            body = fmt::format("  if (level == 0) {{ TCCR{0}A &= ~_BV({1}); digitalWrite({2}, LOW); }}\n  else if (level >= {3}) {{ TCCR{0}A &= ~_BV({1}); digitalWrite({2}, HIGH); }}\n  else {{ {4} = {5}; TCCR{0}A |= _BV({1}); }}",
                               timer, com, "PIN_" + upper(routine::identifier(output.id)), output.top, ocr, value);
        } else {
            body = fmt::format("  digitalWrite({}, level > 0 ? HIGH : LOW);", "PIN_" + upper(routine::identifier(output.id)));
        }
        std::string interlocks;
        for (const auto& interlock : program.interlocks)
            if (static_cast<std::size_t>(interlock.output) == i)
                interlocks += fmt::format("  if (active[IN_{}]) {{ on = false; asked[{}] = false; offDelay[{}] = 0; }}  // never: {}\n", upper(routine::identifier(program.inputs[static_cast<std::size_t>(interlock.input)].id)), i, i, comment(interlock.text));
        outputs.push_back(item({{"upper", upper(routine::identifier(output.id))}, {"comment", comment(output.name)}, {"string", cString(output.name).substr(0, 40)}, {"pin", std::string{out.pin.name}},
                                {"number", std::to_string(out.pin.number)}, {"index", std::to_string(i)}, {"top", std::to_string(output.top)}, {"body", body}, {"interlocks", interlocks},
                                {"duty", "P_" + upper(program.parameters[static_cast<std::size_t>(output.duty_parameter)].name)}, {"ramp", "P_" + upper(program.parameters[static_cast<std::size_t>(output.ramp_parameter)].name)},
                                {"delay", "P_" + upper(program.parameters[static_cast<std::size_t>(output.off_delay_parameter)].name)},
                                {"pwm", out.pwm ? fmt::format("timer {}, prescaler {:.0f}, TOP {:.0f}: {}", out.pin.pwm_timer, si(out.pwm->prescaler), si(out.pwm->top), comment(display(out.pwm->actual_frequency, 5))) : "on and off"}}));
    }
    data.set("outputs", outputs);
    mustache::data held_pins{mustache::data::type::list};
    for (const auto& pin : model.held)
        held_pins.push_back(item({{"number", std::to_string(pin.pin.number)}, {"level", pin.high ? "HIGH" : "LOW"}, {"pin", std::string{pin.pin.name}}, {"comment", comment(pin.why)}}));
    data.set("held", held_pins);
    data.set("timer_setup", setup);

    mustache::data cues{mustache::data::type::list};
    for (std::size_t i = 0; i < program.cues.size(); ++i) {
        const auto& cue = program.cues[i];
        std::string running, starting, triggers, lets_go;
        for (const auto& guard : cue.guards) {
            const std::string term = "active[IN_" + upper(routine::identifier(program.inputs[static_cast<std::size_t>(guard.input)].id)) + "]";
            if (guard.throughout) running += (running.empty() ? "" : " || ") + term;
            starting += (starting.empty() ? "" : " || ") + term;
        }
        for (const int input : cue.inputs) triggers += (triggers.empty() ? "" : " || ") + fmt::format("edge[IN_{}]", upper(routine::identifier(program.inputs[static_cast<std::size_t>(input)].id)));
        for (const auto time : cue.times_of_day) triggers += (triggers.empty() ? "" : " || ") + fmt::format("clockIs({}UL /* {} */)", time, timing::timeOfDayText(time / routine::ticks_per_second));
        std::set<int> held;
        for (const auto& instruction : cue.instructions)
            if (instruction.operation == routine::Operation::On && held.insert(instruction.output).second) lets_go += fmt::format("    asked[{0}] = false; offDelay[{0}] = 0;\n", instruction.output);
        cues.push_back(item({{"index", std::to_string(i)}, {"comment", comment(cue.name)}, {"string", cString(cue.name).substr(0, 40)}, {"function", "cue" + std::to_string(i)}, {"running", running.empty() ? "false" : running},
                             {"starting", starting.empty() ? "false" : starting}, {"triggers", triggers.empty() ? "false" : triggers}, {"lets_go", lets_go}, {"body", cueBody(program, cue, i)}}));
    }
    data.set("cues", cues);

    mustache::mustache page{std::string{sketch_template}};
    page.set_custom_escape([](const std::string& text) { return text; });
    Sketch sketch;
    sketch.name = routine::identifier(model.gadget);
    sketch.text = page.render(data);
    return sketch;
}

}  // namespace hinge::firmware
