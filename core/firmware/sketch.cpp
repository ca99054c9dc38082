#include "firmware/sketch.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <kainjow/mustache.hpp>
#include <set>
#include <sstream>
#include "firmware/motion_text.hpp"
#include "firmware/other_chips.hpp"
#include "firmware/runtime_files.hpp"
#include "firmware/sketch_template.hpp"
#include "link/protocol.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::firmware {
namespace {

namespace mustache = kainjow::mustache;

std::string upper(std::string text) {
    for (char& c : text) c = raised(c);
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

}  // namespace

std::string timerRegisters(const timing::PwmTimerResult& pwm) {
    const int t = static_cast<int>(si(pwm.timer));
    const bool fast = pwm.mode == timing::PwmMode::Fast;
    const std::string select = clockSelect(t, si(pwm.prescaler));
    if (t == 1 || t >= 3)  // 16 bits, TOP in the capture register
        return fmt::format("  TCCR{0}A = _BV(WGM{0}1);\n  TCCR{0}B = _BV(WGM{0}3){1} | {2};\n  ICR{0} = {3:.0f};", t,
                           fast ? fmt::format(" | _BV(WGM{}2)", t) : "", select, si(pwm.top));
    if (t == 2) {
        const bool own = si(pwm.top) != 255.0;
        return fmt::format("  TCCR2A = _BV(WGM20){};\n  TCCR2B = {}{};{}", fast ? " | _BV(WGM21)" : "", own ? "_BV(WGM22) | " : "", select,
                           own ? fmt::format("\n  OCR2A = {:.0f};", si(pwm.top)) : "");
    }
    return "  // timer 0: 64 x 256 ticks a period, as the sketch API sets it";
}

namespace {

mustache::data item(std::initializer_list<std::pair<const char*, std::string>> fields) {
    mustache::data data{mustache::data::type::object};
    for (const auto& [name, value] : fields) data.set(name, value);
    return data;
}

std::string parameterOf(const routine::Program& program, int index) {
    return "P_" + upper(program.parameters[static_cast<std::size_t>(index)].name);
}
// A channel and an input may have one name: the input's pin then says what it is.
std::string pinOfInput(const routine::Program& program, std::size_t index) {
    const std::string id = upper(routine::symbol(program.inputs[index].id));
    for (const auto& output : program.outputs)
        if (upper(routine::symbol(output.id)) == id) return "PIN_IN_" + id;
    return "PIN_" + id;
}
std::string inputOf(const routine::Program& program, int index) {
    return "IN_" + upper(routine::symbol(program.inputs[static_cast<std::size_t>(index)].id));
}

// What a program asks of its sketch: only that is printed.
struct Has {
    bool motion = false, fades = false, flickers = false, glides = false, shares = false;
    bool owners = false;  // two cues command one output
    bool runs = false, joins = false, homes = false;
};
Has askedOf(const routine::Program& program) {
    Has has;
    for (const auto& output : program.outputs) (output.kind != routine::OutputKind::Switched ? has.motion : has.shares) = true;
    for (const auto& cue : program.cues)
        for (const auto& instruction : cue.instructions) {
            has.fades = has.fades || instruction.operation == routine::Operation::Fade;
            has.flickers = has.flickers || instruction.operation == routine::Operation::Flicker;
            has.runs = has.runs || instruction.operation == routine::Operation::Run;
            has.homes = has.homes || instruction.operation == routine::Operation::Home;
            has.joins = has.joins || instruction.joined;
            has.shares =
                has.shares || ((instruction.operation == routine::Operation::On || instruction.operation == routine::Operation::Run) &&
                               instruction.target >= 0);
        }
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        has.owners = has.owners || std::count_if(program.cues.begin(), program.cues.end(), [&](const routine::ProgramCue& cue) {
                                       return std::any_of(cue.instructions.begin(), cue.instructions.end(),
                                                          [&](const auto& each) { return each.output == static_cast<int>(o); });
                                   }) > 1;
    has.glides = has.motion || has.fades;
    has.shares = has.shares || has.fades || has.flickers || !program.loops.empty();
    return has;
}
bool uses(const routine::Program& program, routine::InputSource source) {
    return std::any_of(program.inputs.begin(), program.inputs.end(),
                       [&](const routine::ProgramInput& input) { return input.source == source; });
}

// One cue as a switch over its places, the same steps as the interpreter's; `waits` are the places at which it
// waits for something else than time.
struct CueText {
    std::string body, waits;
    bool goes_round = false;
};
CueText cueBody(const routine::Program& program, const routine::ProgramCue& cue, std::size_t index, const Has& has) {
    CueText text;
    for (std::size_t i = 0; i < cue.instructions.size(); ++i) {
        const auto& instruction = cue.instructions[i];
        const auto* output = instruction.output >= 0 ? &program.outputs[static_cast<std::size_t>(instruction.output)] : nullptr;
        const std::string out = output != nullptr ? "OUT_" + upper(routine::symbol(output->id)) : "",
                          name = output != nullptr ? comment(output->name) : "";
        const std::string number = instruction.parameter >= 0 ? "parameter[" + parameterOf(program, instruction.parameter) + "]" : "";
        const std::string input = instruction.input >= 0 ? inputOf(program, instruction.input) : "";
        // A place that is come back to while it waits has its own text, without this.
        const std::string waiting = fmt::format("      case {}: ", i);
        const std::string here = waiting + (has.owners && output != nullptr ? fmt::format("owner[{}] = {}; ", out, index) : "");
        const std::string no_run = has.runs && output != nullptr ? fmt::format(" run[{}] = 0;", out) : "";
        // What it does, for how long the cue then waits, and what is said of it.
        const bool last_of_some = !instruction.joined && i > 0 && cue.instructions[i - 1].joined;
        const auto put = [&](const std::string& does, const std::string& ticks, bool may_be_nothing, const std::string& said) {
            std::string tail;
            if (!ticks.empty())
                tail = instruction.joined || last_of_some ? fmt::format(" lasts({}, {});", index, ticks)
                                                          : fmt::format(" cueWait[{}] = {};", index, ticks);
            if (instruction.joined || (ticks.empty() && !last_of_some)) tail += " break;";
            else if (ticks.empty() || may_be_nothing) tail += fmt::format(" if (cueWait[{}] > 0) return; break;", index);
            else tail += " return;";
            text.body += here + does + tail + (said.empty() ? "" : "  // " + said) + "\n";
        };
        switch (instruction.operation) {
            case routine::Operation::On:
            case routine::Operation::Run: {
                std::string also;
                if (has.flickers) also += fmt::format(" flicker[{}] = 0;", out);
                if (has.glides) also += fmt::format(" elapsed[{0}] = duration[{0}] = 0;", out);
                if (has.motion) also += fmt::format(" awake[{}] = true;", out);
                if (has.shares)
                    also += fmt::format(" share[{}] = {};", out,
                                        instruction.target >= 0 ? "parameter[" + parameterOf(program, instruction.target) + "]" : "-1");
                if (instruction.operation == routine::Operation::On) {
                    put(fmt::format("asked[{}] = true;{}{}", out, also, no_run), "", false, name + " on");
                } else {
                    also += fmt::format(" run[{0}] = ({1} < 0 ? 0 : {1}) + 1;", out, number);
                    put(fmt::format("asked[{}] = true;{}", out, also), number, true, name + " runs");
                }
                break;
            }
            case routine::Operation::Fade:
                put(fmt::format("{}startFade({}, parameter[{}], parameter[{}], {});{}",
                                has.flickers ? fmt::format("flicker[{}] = 0; ", out) : "", out,
                                parameterOf(program, output->duty_parameter), parameterOf(program, instruction.target), number, no_run),
                    fmt::format("duration[{}]", out), false, name + " fades");
                break;
            case routine::Operation::Flicker:
                put(fmt::format("asked[{0}] = true; share[{0}] = -1;{2}{3} flicker[{0}] = {1} < 1 ? 1 : {1};", out, number,
                                has.glides ? fmt::format(" elapsed[{0}] = duration[{0}] = 0;", out) : "", no_run),
                    fmt::format("flicker[{}]", out), false, name + " flickers");
                break;
            case routine::Operation::Clear: put(fmt::format("counted[{}] = 0;", input), "", false, "it counts from nothing"); break;
            case routine::Operation::Off: put(fmt::format("release({});", out), "", false, name + " off, after its off-delay"); break;
            case routine::Operation::Toggle:
                put(fmt::format("if (asked[{0}]) release({0}); else {{ asked[{0}] = true;{1} }}{2}", out,
                                has.shares ? fmt::format(" share[{}] = -1;", out) : "", no_run),
                    "", false, name + " changes over");
                break;
            case routine::Operation::Go: {
                const bool straight = output->kind == routine::OutputKind::Servo && !instruction.gentle;
                const bool looked_for = routine::isHomed(program, static_cast<std::size_t>(instruction.output));
                put((looked_for ? fmt::format("if (!placed[{}]) {{ letGo{}(); faulted[{}] = true; return; }} ", out, index, index) : "") +
                        fmt::format("startMove({}, parameter[{}], {}, {});", out, parameterOf(program, instruction.target), number,
                                    straight ? 0 : 1),
                    fmt::format("duration[{}]", out), false, name + " goes");
                break;
            }
            case routine::Operation::Wait: put("", number, true, ""); break;
            case routine::Operation::Until:
                text.body +=
                    here +
                    fmt::format("if (active[{}] == {}) break; cueWait[{}] = {} < 1 ? 1 : {}; return;  // wait for it, but not for ever\n",
                                input, instruction.wanted ? "true" : "false", index, number, number);
                text.waits +=
                    waiting + fmt::format(
                                  "if (active[{0}] == {1}) {{ cueWait[{2}] = 0; break; }} if (--cueWait[{2}] == 0) {{ letGo{2}(); "
                                  "faulted[{2}] = true; }} return;\n",
                                  input, instruction.wanted ? "true" : "false", index);
                break;
            case routine::Operation::Home:
                text.body += here + fmt::format(
                                        "awake[{0}] = true; if (active[{1}]) {{ elapsed[{0}] = duration[{0}] = 0; setPlace{2}({3}); "
                                        "placed[{0}] = true; break; }}\n        placed[{0}] = false; setPlace{2}({4}); startMove({0}, {3}, "
                                        "{5}, 2); cueWait[{6}] = duration[{0}] + 1; return;  // {7} looks for its start, further than it "
                                        "could be away\n",
                                        out, input, instruction.output, output->start, routine::homingFrom(*output), number, index, name);
                text.waits +=
                    waiting + fmt::format(
                                  "if (active[{0}]) {{ cueWait[{1}] = 0; elapsed[{2}] = duration[{2}] = 0; setPlace{3}({4}); placed[{2}] = "
                                  "true; break; }} if (--cueWait[{1}] == 0) {{ letGo{1}(); faulted[{1}] = true; }} return;\n",
                                  input, index, out, instruction.output, output->start);
                break;
            case routine::Operation::Again:
                text.body +=
                    here + fmt::format(
                               "++rounds[{0}]; if ({1} != 0 && rounds[{0}] >= {1}) {{ rounds[{0}] = 0; break; }} if ({1} == 0) "
                               "rounds[{0}] = 0; place[{0}] = {2}; if (wentRound) return; wentRound = true; continue;  // all that "
                               "again, not twice in one tick\n",
                               index, number, instruction.back);
                text.goes_round = true;
                break;
        }
    }
    return text;
}

// The longest line that the link may say, and its end.
std::size_t lineRoom(const routine::Program& program) {
    std::size_t name = 0, word = 0;
    for (const auto& p : program.parameters) name = std::max(name, p.name.size());
    for (const auto& input : program.inputs) word = std::max(word, input.word.size());
    const std::size_t with_word = word > 0 ? word + 1 : 0;
    return std::max({std::string_view{"clock 12:34:56 2026-11-29"}.size(), 4 + word, 4 + name + 1 + 11 + with_word,
                     std::string_view{"drive 12 -1234567890 600000"}.size() + with_word}) +
           2;
}

// What a word starts, the link starts, drives and sets only with that word.
std::string wordGuards(const routine::Program& program) {
    std::string text = "// What a word starts, the link starts, drives and sets only with that word.\n";
    const auto guard = [&](const char* name, std::size_t count, const auto& wordsOf) {
        std::string cases;
        for (std::size_t i = 0; i < count; ++i) {
            std::string any;
            for (const int input : wordsOf(program, i))
                any += (any.empty() ? "" : " || ") +
                       fmt::format("isWord(word, \"{}\")", cString(program.inputs[static_cast<std::size_t>(input)].word));
            if (!any.empty()) cases += fmt::format("    case {}: return word && ({});\n", i, any);
        }
        text += fmt::format("bool {}(int which, const char* word) {{\n  switch (which) {{\n{}  }}\n  return true;\n}}\n", name, cases);
    };
    guard("mayStart", program.cues.size(), routine::wordsOfCue);
    guard("mayDrive", program.outputs.size(), routine::wordsOfOutput);
    guard("maySet", program.parameters.size(), routine::wordsOfParameter);
    return text + "\n";
}

}  // namespace

std::string cString(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\') out += '\\', out += c;
        else if (c == '?') out += "\\?";  // no trigraphs
        else if (u >= 32 && u < 127) out += c;
        else if (u >= 0xC0 || u < 32 || u == 127) out += '_';  // one mark a character; continuation bytes vanish
    }
    return out;
}

std::string comment(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        // No escaped end of line, not even as a trigraph; no end of a comment of the other kind.
        const bool plain = u >= 32 && u < 127 && c != '\\' && !(c == '?' && out.ends_with('?')) && !(c == '/' && out.ends_with('*')) &&
                           !(c == '*' && out.ends_with('/'));
        if (plain) out += c;
        else if (u < 0x80 || u >= 0xC0) out += '_';
    }
    return out;
}

namespace {

constexpr std::string_view opening = "// >>> yours: ", closing = "// <<<";
std::string trimmed(const std::string& line) {
    const auto from = line.find_first_not_of(" \t"), to = line.find_last_not_of(" \t\r");
    return from == std::string::npos ? std::string{} : line.substr(from, to - from + 1);
}

}  // namespace

std::string planMark(const Sketch& sketch) {
    constexpr std::string_view lead = "// Made by Hinge Spark from plan ";
    const auto at = sketch.text.find(lead);
    return at == std::string::npos ? std::string{} : sketch.text.substr(at + lead.size(), 8);
}

std::string withHandWritten(const std::string& fresh, const std::string& older) {
    std::vector<std::pair<std::string, std::string>> sections;
    std::istringstream old_lines(older);
    bool inside = false;
    for (std::string line; std::getline(old_lines, line);) {
        const auto text = trimmed(line);
        if (text.starts_with(opening)) sections.emplace_back(text.substr(opening.size()), ""), inside = true;
        else if (text == closing) inside = false;
        else if (inside) sections.back().second += line + "\n";
    }
    std::string out, lost;
    const auto take = [&](const std::string& name) -> std::string {
        for (auto section = sections.begin(); section != sections.end(); ++section) {
            if (section->first != name) continue;
            auto text = std::move(section->second);
            sections.erase(section);
            return text;
        }
        return {};
    };
    std::istringstream lines(fresh);
    std::size_t top = std::string::npos;
    for (std::string line; std::getline(lines, line);) {
        out += line + "\n";
        const auto text = trimmed(line);
        if (!text.starts_with(opening)) continue;
        out += take(text.substr(opening.size()));
        if (top == std::string::npos) top = out.size();
        while (std::getline(lines, line) && trimmed(line) != closing) {
        }
        out += line + "\n";
    }
    for (const auto& [name, text] : sections) {
        if (text.empty()) continue;
        lost += "// from '" + name + "', a place that there is no more:\n";
        std::istringstream left(text);
        for (std::string line; std::getline(left, line);) lost += "// " + line + "\n";
    }
    if (top != std::string::npos) out.insert(top, lost);
    return out;
}

Result<Sketch> emit(const SketchModel& model) {
    const auto& program = model.program;
    const auto fits = targetOf(model.family);
    if (!fits)
        return fail(ErrorCode::Missing, "board/form", std::string{model.family.name},
                    "a board that a sketch is written for: ATmega328P, ATmega2560, RP2040, ESP32, or a single-board computer");
    const Target target = *fits;
    if (model.outputs.size() != program.outputs.size() || model.inputs.size() != program.inputs.size())
        return fail(ErrorCode::Missing, "pins", "", "a pin for every channel and input");
    mustache::data data{mustache::data::type::object};
    data.set("gadget_comment", comment(model.gadget));
    data.set("gadget_string", cString(link::spoken(model.gadget)));
    data.set("plan", model.plan);
    data.set("board", comment(std::string{model.family.name}));
    data.set("baud", std::to_string(link::baud));
    data.set("version", std::to_string(link::version));
    data.set("parameter_count", std::to_string(program.parameters.size()));
    data.set("input_count", std::to_string(program.inputs.size()));
    data.set("output_count", std::to_string(program.outputs.size()));
    data.set("cue_count", std::to_string(program.cues.size()));
    data.set("has_inputs", !program.inputs.empty());
    const auto measured_inputs = static_cast<std::size_t>(std::count_if(program.inputs.begin(), program.inputs.end(), routine::isMeasured));
    const auto in_frame = std::min(link::most_values, program.outputs.size() + measured_inputs);
    data.set("value_count", std::to_string(in_frame));
    data.set("level_count", std::to_string(std::min(link::most_values, program.outputs.size())));
    data.set("frame_bytes", std::to_string(spark::frame_head + 2 * in_frame + 3));
    data.set("runtime_includes", runtimeIncludes());

    mustache::data parameters{mustache::data::type::list};
    for (std::size_t i = 0; i < program.parameters.size(); ++i) {
        const auto& p = program.parameters[i];
        parameters.push_back(item({{"upper", upper(p.name)},
                                   {"name", p.name},
                                   {"unit", p.unit},
                                   {"value", std::to_string(p.value)},
                                   {"least", std::to_string(p.least)},
                                   {"most", std::to_string(p.most)},
                                   {"meaning", comment(p.meaning)},
                                   {"source", comment(p.source)},
                                   {"index", std::to_string(i)}}));
    }
    data.set("parameters", parameters);
    std::size_t longest_name = 1, longest_string = 1;
    for (const auto& p : program.parameters) longest_name = std::max(longest_name, p.name.size());
    for (const auto& input : program.inputs) longest_string = std::max(longest_string, cString(link::spoken(input.name)).size());
    for (const auto& output : program.outputs) longest_string = std::max(longest_string, cString(link::spoken(output.name)).size());
    for (const auto& cue : program.cues) longest_string = std::max(longest_string, cString(link::spoken(cue.name)).size());
    data.set("name_room", std::to_string(longest_name + 1));
    data.set("string_room", std::to_string(longest_string + 1));

    mustache::data inputs{mustache::data::type::list};
    bool counts_held = false;
    std::string analogue_list, channel_list, all_heard, word_commands, is_number, tach_interrupts, tach_setup, analogue_reads;
    const Has has = askedOf(program);
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        const auto& input = program.inputs[i];
        using routine::InputSource;
        const bool cautious = routine::isCautious(program, i);
        const bool pinned = input.source == InputSource::Pin || input.source == InputSource::Tach;
        if (pinned && !model.inputs[i]) return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", "", "a pin of this board");
        const board::Pin pin = model.inputs[i].value_or(board::Pin{});
        const std::string in = inputOf(program, static_cast<int>(i));
        if (input.source != InputSource::Number) all_heard += fmt::format(" && heard[{}]", in);
        bool held = false;
        for (const auto& cue : program.cues) held = held || cue.held_input == static_cast<int>(i);
        counts_held = counts_held || held;
        if (input.analogue && input.source == InputSource::Pin) {
            const auto& name = pin.name;
            const int channel = name.size() > 1 && name.front() == 'A' ? std::atoi(std::string{name.substr(1)}.c_str()) : -1;
            if (target == Target::Linux)
                return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", input.name,
                            "a board with a converter: this header reads only yes and no");
            if (target != Target::Avr) analogue_reads += analogueRead(target, pin, in);
            if (channel < 0 && target == Target::Avr)
                return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", std::string{name}, "an analogue pin, A0 or further");
            if (target == Target::Avr) analogue_list += (analogue_list.empty() ? "" : ", ") + std::to_string(i);
            if (target == Target::Avr) channel_list += (channel_list.empty() ? "" : ", ") + std::to_string(channel);
        }
        auto made = item({{"upper", upper(routine::symbol(input.id))},
                          {"comment", comment(input.name)},
                          {"string", cString(link::spoken(input.name))},
                          {"pin_name", pinOfInput(program, i)},
                          {"pin", std::string{pin.name}},
                          {"number", std::to_string(pin.number)},
                          {"active", input.active_high ? "HIGH" : "LOW"},
                          {"debounce", std::to_string(input.debounce)},
                          {"index", std::to_string(i)},
                          {"first", cautious ? "true" : "false"},
                          {"level_reads", fmt::format("spark::levelOf(reading[{0}], {1}, {2}, {3}, candidate[{0}])", i, input.upper,
                                                      input.lower, input.below ? "true" : "false")},
                          {"level_side", input.below ? "lower level down" : "upper level on"},
                          {"pull", i < model.pulled_up.size() && model.pulled_up[i] ? "INPUT_PULLUP" : "INPUT"}});
        const std::string beyond = fmt::format("{}({}, {}, {})", input.below ? "below" : "between", in, input.upper, input.lower);
        std::string direct;
        switch (input.source) {
            case InputSource::Pin: break;
            case InputSource::Word:
                direct = fmt::format("  heard[{0}] = true;\n  believe({0}, said[{0}]);\n  said[{0}] = false;\n", in);
                word_commands += fmt::format(
                    "  }} else if (isWord(word, \"say\") && first && isWord(first, \"{}\")) {{\n    said[{}] = true;\n    "
                    "Serial.println(F(\"ok say\"));\n",
                    cString(input.word), in);
                break;
            case InputSource::Number:
                direct = fmt::format("  readNumber({}, {}, parameter[{}], {});\n", in, beyond,
                                     parameterOf(program, input.timeout_parameter), cautious ? "true" : "false");
                is_number += (is_number.empty() ? "" : " || ") + fmt::format("input == {}", in);
                break;
            case InputSource::Counter:
                direct = fmt::format("  believe({0}, counted[{0}] >= parameter[{1}]);\n", in, parameterOf(program, input.limit_parameter));
                break;
            case InputSource::Days:
                direct = fmt::format(
                    "  believe({}, clockSet && dateSet && ({} >> weekday & 1) && spark::inSeason({}, {}, date.month, date.day));\n", in,
                    input.weekdays, input.from_date, input.to_date);
                break;
            case InputSource::Tach:
                if (target == Target::Linux)
                    return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", input.name,
                                "a board that can count pulses: under an operating system some are lost");
                if (!pin.interrupt)
                    return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", std::string{pin.name},
                                "a pin with an interrupt of its own: D2 or D3 on the smaller boards");
                direct = fmt::format(
                    "  noInterrupts();\n  pulses[{0}] += came{1};\n  came{1} = 0;\n  interrupts();\n{3}  believe({0}, {2});\n", in, i,
                    beyond,
                    routine::isLooped(program, i)
                        ? ""
                        : fmt::format("  if (++steady[{0}] >= {1}) {{ steady[{0}] = 0; reading[{0}] = pulses[{0}] > 1023 ? 1023 : "
                                      "pulses[{0}]; pulses[{0}] = 0; }}  // no loop reads it: by the second\n",
                                      in, routine::tach_window));
                tach_interrupts += fmt::format(
                    "// Pulses of {0}, counted as they come and taken once a tick.\nvolatile int came{1} = 0;\nvoid pulse{1}() {{ "
                    "++came{1}; }}\n\n",
                    comment(input.name), i);
                tach_setup += fmt::format("  attachInterrupt(digitalPinToInterrupt({}), pulse{}, {});\n", pinOfInput(program, i), i,
                                          input.active_high ? "RISING" : "FALLING");
                break;
        }
        made.set("direct_read", direct);
        std::string sets;
        if (input.sets >= 0) {
            const auto& number = program.parameters[static_cast<std::size_t>(input.sets)];
            sets = fmt::format("  if (heard[{0}]) parameter[{1}] = spark::knobValue({2}L, {3}L, reading[{0}]);  // the knob sets it\n", in,
                               parameterOf(program, input.sets), number.least, input.sets_most);
        }
        made.set("sets", sets);
        made.set("pinned", pinned);
        made.set("digital", !input.analogue && input.source == InputSource::Pin);
        made.set("level", input.analogue && input.source == InputSource::Pin);
        made.set("held", held);
        inputs.push_back(made);
    }
    data.set("inputs", inputs);
    data.set("counts_held", counts_held);
    data.set("analogue", !analogue_list.empty());
    data.set("analogue_list", analogue_list);
    data.set("channel_list", channel_list);
    data.set("mux", std::string{model.family.mcu == timing::Mcu::Atmega2560
                                    ? "  ADCSRB = (ADCSRB & ~_BV(MUX5)) | (analogueChannels[converting] > 7 ? _BV(MUX5) : 0);\n"
                                    : ""} +
                        "  ADMUX = _BV(REFS0) | (analogueChannels[converting] & 7);\n");
    using routine::InputSource;
    const bool words = uses(program, InputSource::Word), numbers = uses(program, InputSource::Number),
               counters = uses(program, InputSource::Counter), days = uses(program, InputSource::Days),
               tachs = uses(program, InputSource::Tach);
    data.set("words", words);
    data.set("numbers", numbers);
    data.set("counters", counters);
    data.set("days", days);
    data.set("tachs", tachs);
    data.set("direct", words || numbers || counters || days || tachs);
    data.set("analogue_reads", analogue_reads);
    data.set("below", std::any_of(program.inputs.begin(), program.inputs.end(), [](const auto& input) { return input.below; }));
    data.set("readings", !analogue_list.empty() || !analogue_reads.empty() || numbers || tachs);
    data.set("all_heard", all_heard);
    data.set("word_commands", word_commands);
    data.set("is_number", is_number);
    data.set("tach_interrupts", tach_interrupts);
    data.set("tach_setup", tach_setup);
    data.set("silence", program.link_parameter >= 0);
    data.set("shares", has.shares);
    data.set("owners", has.owners);
    data.set("runs", has.runs);
    data.set("joins", has.joins);
    data.set("homes", has.homes);
    data.set("level_type", std::string{has.motion ? "long" : "unsigned int"});
    data.set("line_room", std::to_string(lineRoom(program)));
    data.set("word_guards", words ? wordGuards(program) : std::string{});
    std::string homed_ones;
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (routine::isHomed(program, o)) homed_ones += (homed_ones.empty() ? "i != " : " && i != ") + std::to_string(o);
    data.set("homed_ones", homed_ones);
    data.set("fades", has.fades);
    data.set("flickers", has.flickers);
    data.set("glides", has.glides);
    data.set("loops_used", !program.loops.empty());
    data.set("loop_count", std::to_string(program.loops.size()));
    std::size_t times = 0;
    for (const auto& cue : program.cues) times += cue.times_of_day.size();
    data.set("times", times > 0);
    data.set("time_count", std::to_string(times));
    data.set("eeprom", target == Target::Avr);
    data.set("watchdog", model.watchdog && target == Target::Avr);
    data.set("other_watchdog", model.watchdog && target == Target::Rp2040);
    data.set("includes", includesFor(target, model.watchdog));
    data.set("bus_clock", model.clock.has_value());
    if (model.clock) {
        if (target != Target::Avr)
            return fail(ErrorCode::Missing, "board/clock", model.clock->name, "an AVR board: only its two-wire bus is written for");
        data.set("bus_name", comment(model.clock->name));
        data.set("bus_address", fmt::format("0x{:02x}", model.clock->address));
        data.set("bus_count", days ? "7" : "3");
        data.set("bus_rate", fmt::format("{:.0f}", (model.family.clock / 100e3 - 16.0) / 2.0));
        for (const auto* field : {"seconds", "minutes", "hours", "day", "month", "year", "weekday"}) {
            if (model.clock->registerOf(field) < 0 || model.clock->registerOf(field) > 6)
                return fail(ErrorCode::Missing, "parts/bus.csv", field, "a clock with this field in its first seven registers");
            data.set(std::string{"bus_"} + field, std::to_string(model.clock->registerOf(field)));
        }
    }
    data.set("standing", std::string{standingOf(target)});
    std::string mark;
    for (std::size_t b = 0; b < 4; ++b) mark += fmt::format("0x{}, ", model.plan.size() >= 8 ? model.plan.substr(2 * b, 2) : "00");
    data.set("mark", mark + fmt::format("{}", program.parameters.size() & 0xff));
    data.set("every", std::any_of(program.cues.begin(), program.cues.end(),
                                  [](const routine::ProgramCue& cue) { return cue.every_parameter >= 0; }));
    data.set("follows", !program.followers.empty());
    std::string followers;
    for (std::size_t o = 0; o < program.outputs.size() && !program.followers.empty(); ++o) {
        if (program.outputs[o].kind != routine::OutputKind::Switched) continue;
        followers += fmt::format("  now = false;  // {}\n  most = -1;\n", comment(program.outputs[o].name));
        for (const auto& follower : program.followers) {
            if (static_cast<std::size_t>(follower.output) != o) continue;
            const std::string in = inputOf(program, follower.input),
                              unless = follower.guard >= 0 ? fmt::format(" && !active[{}]", inputOf(program, follower.guard)) : "";
            if (follower.proportional)
                followers += fmt::format(
                    "  share = heard[{0}]{3} ? spark::followedShare(reading[{0}], {1}, {2}) : 0;\n  if (share > 0) now = true;\n  if "
                    "(share > 0 && "
                    "share > most) most = share;\n",
                    in, follower.dead, follower.start, unless);
            else
                followers +=
                    fmt::format("  if (heard[{0}] && active[{0}] == {1}{2}) now = true;\n", in, follower.wanted ? "true" : "false", unless);
        }
        followers += fmt::format(
            "  if (stopped) now = false;\n  if (now) resting[{0}] = false;\n  if (followed[{0}] && !now && !asked[{0}] && !stopped) "
            "offDelay[{0}] = parameter[{1}];\n  "
            "followed[{0}] = now;\n  followedDuty[{0}] = most;\n",
            o, parameterOf(program, program.outputs[o].off_delay_parameter));
    }
    data.set("followers", followers);

    mustache::data outputs{mustache::data::type::list};
    std::set<int> timers;
    std::string setup;
    Motion motion(target);
    std::string rests, sleeps, kept;
    std::vector<std::string> made_forbids;
    int kept_count = 0;
    for (std::size_t i = 0; i < program.outputs.size(); ++i) {
        const auto& output = program.outputs[i];
        const auto& out = model.outputs[i];
        std::string body;
        const std::string pin_name = "PIN_" + upper(routine::symbol(output.id));
        const char *on = out.inverted ? "LOW" : "HIGH", *off = out.inverted ? "HIGH" : "LOW";
        const bool placed = output.kind != routine::OutputKind::Switched;
        if (placed && target == Target::Linux)
            return fail(ErrorCode::Missing, "channels/" + output.id, output.name,
                        "a board that can time pulses: under an operating system servos twitch and steps are lost");
        if (placed) {
            body = motion.add(output, out, i);
        } else if (out.pwm && target == Target::Linux) {
            return fail(ErrorCode::Missing, "channels/" + output.id + "/signal/duty", output.name,
                        "what is only switched on and off: an operating system cannot time pulses");
        } else if (out.pwm && target != Target::Avr) {
            setup += pwmSetup(target, out, static_cast<int>(i));
            body = pwmBody(target, out, static_cast<int>(i), output.top);
        } else if (out.pwm) {
            const int timer = out.pin.pwm_timer;
            if (timers.insert(timer).second) setup += timerRegisters(*out.pwm) + "\n";
            const std::string com = fmt::format("COM{}{}1", timer, out.pin.pwm_output);
            // Inverted: the output is low from the bottom to the compare value, both bits set.
            const std::string bits =
                out.inverted ? fmt::format("(_BV({}) | _BV(COM{}{}0))", com, timer, out.pin.pwm_output) : fmt::format("_BV({})", com);
            const std::string ocr = fmt::format("OCR{}{}", timer, out.pin.pwm_output);
            const std::string value = out.pwm->mode == timing::PwmMode::Fast ? "level - 1" : "level";
            body = fmt::format(
                "  if (level == 0) {{ TCCR{0}A &= ~{1}; digitalWrite({2}, {6}); }}\n  else if (level >= {3}) {{ TCCR{0}A &= "
                "~{1}; digitalWrite({2}, {7}); }}\n  else {{ {4} = {5}; TCCR{0}A |= {1}; }}",
                timer, bits, pin_name, output.top, ocr, value, off, on);
        } else {
            body = fmt::format("  digitalWrite({}, level > 0 ? {} : {});", pin_name, on, off);
        }
        bool fades_here = false, flickers_here = false, runs_here = false;
        for (const auto& cue : program.cues)
            for (const auto& instruction : cue.instructions) {
                fades_here = fades_here || (instruction.operation == routine::Operation::Fade && instruction.output == static_cast<int>(i));
                runs_here = runs_here || (instruction.operation == routine::Operation::Run && instruction.output == static_cast<int>(i));
                flickers_here =
                    flickers_here || (instruction.operation == routine::Operation::Flicker && instruction.output == static_cast<int>(i));
            }
        const bool rolls = placed && std::any_of(program.loops.begin(), program.loops.end(),
                                                 [&](const routine::ProgramLoop& loop) { return loop.output == static_cast<int>(i); });
        std::string forbids;
        for (const int input : output.rest_unless) forbids += (forbids.empty() ? "active[" : " || active[") + inputOf(program, input) + "]";
        made_forbids.push_back(forbids);
        if (output.rest == routine::Rest::Start)
            rests += fmt::format(
                "  if (output == {0} && awake[{0}]{4}) {{ startMove({0}, {1}L, parameter[{2}], 1); }}  // {3} goes to its start\n", i,
                output.start, parameterOf(program, output.rest_parameter), comment(output.name),
                (routine::isHomed(program, i) ? fmt::format(" && placed[{}]", i) : "") +
                    (forbids.empty() ? "" : fmt::format(" && !({})", forbids)));
        if (has.motion && output.rest != routine::Rest::Start) sleeps += fmt::format("    awake[{}] = false;\n", i);
        if (output.remembered && target != Target::Avr)
            return fail(ErrorCode::Missing, "channels/" + output.id + "/remembers", output.name,
                        "an AVR board: only its EEPROM is written by the sketch");
        if (output.remembered) {
            kept += (kept.empty() ? "" : ", ") + std::to_string(i);
            ++kept_count;
        }
        const auto parameter = [&](int index) { return "P_" + upper(program.parameters[static_cast<std::size_t>(index)].name); };
        auto made =
            item({{"upper", upper(routine::symbol(output.id))},
                  {"comment", comment(output.name)},
                  {"string", cString(link::spoken(output.name))},
                  {"pin", std::string{out.pin.name}},
                  {"number", std::to_string(out.pin.number)},
                  {"index", std::to_string(i)},
                  {"top", std::to_string(output.top)},
                  {"body", body},
                  {"rest_level", output.rest == routine::Rest::On ? on : off},
                  {"duty", placed ? "0" : parameter(output.duty_parameter)},
                  {"ramp", placed ? "0" : parameter(output.ramp_parameter)},
                  {"delay", placed ? "255" : parameter(output.off_delay_parameter)},
                  {"pwm", output.kind == routine::OutputKind::Stepper ? "steps, up to 16 a millisecond"
                          : output.kind == routine::OutputKind::Servo ? "servo pulse every 20 ms"
                          : out.pwm ? fmt::format("timer {}, prescaler {:.0f}, TOP {:.0f}: {}", out.pin.pwm_timer, si(out.pwm->prescaler),
                                                  si(out.pwm->top), comment(display(out.pwm->actual_frequency, 5)))
                                    : "on and off"}});
        if (out.inverted) made.set("comment", comment(output.name) + ", low is on");
        made.set("switched", !placed);
        made.set("forbids", made_forbids.back());
        made.set("forbidden", placed && !made_forbids.back().empty());
        made.set("placed", placed);
        made.set("fades_here", fades_here);
        made.set("flickers_here", flickers_here);
        made.set("runs_here", runs_here);
        made.set("rests_on", output.rest == routine::Rest::On);
        made.set("rolls", rolls);
        made.set("kind", output.kind == routine::OutputKind::Switched ? "0"
                         : output.kind == routine::OutputKind::Servo  ? "1"
                         : rolls                                      ? "3"
                                                                      : "2");
        outputs.push_back(made);
    }
    std::string interlocks;
    for (const auto& interlock : program.interlocks) {
        std::string condition = fmt::format("on[{}]", interlock.output);
        if (interlock.input >= 0) condition += " && active[" + inputOf(program, interlock.input) + "]";
        for (const auto& term : interlock.terms) {
            const auto& of = program.outputs[static_cast<std::size_t>(term.output)];
            const bool up = of.furthest >= of.start;
            using K = routine::ProgramTerm::Kind;
            condition += term.kind == K::On    ? fmt::format(" && on[{}]", term.output)
                         : term.kind == K::Off ? fmt::format(" && !on[{}]", term.output)
                         : routine::isHomed(program, static_cast<std::size_t>(term.output))
                             ? fmt::format(" && (level[{0}] {1} {2} || !placed[{0}])", term.output,
                                           (term.kind == K::Beyond) == up ? ">" : "<", term.place)
                             : fmt::format(" && level[{}] {} {}", term.output, (term.kind == K::Beyond) == up ? ">" : "<", term.place);
        }
        const bool stays = program.outputs[static_cast<std::size_t>(interlock.output)].rest == routine::Rest::On;
        interlocks += fmt::format("  if ({}) {{ rest({}); on[{}] = {}; }}  // never: {}\n", condition, interlock.output, interlock.output,
                                  stays ? "true" : "false", comment(interlock.text));
    }
    data.set("interlocks", interlocks);
    std::string loops, measured;
    bool rolling = false;
    for (std::size_t i = 0, values = program.outputs.size(); i < program.inputs.size(); ++i)
        if (routine::isMeasured(program.inputs[i]) && values++ < link::most_values)
            measured += fmt::format("  frame.value(reading[{}]);\n", inputOf(program, static_cast<int>(i)));
    data.set("measured", measured);
    data.set("hand_off", std::to_string(routine::hand_off));
    data.set("hand_own", std::to_string(routine::hand_own));
    data.set("hand_ticks", std::to_string(routine::hand_ticks));
    data.set("servo_least", std::to_string(routine::servo_least));
    data.set("servo_most", std::to_string(routine::servo_most));
    std::set<int> leaning;  // inputs that something balances by
    std::string means;
    for (std::size_t l = 0; l < program.loops.size(); ++l) {
        const auto& loop = program.loops[l];
        const auto& output = program.outputs[static_cast<std::size_t>(loop.output)];
        const bool steps = output.kind == routine::OutputKind::Stepper;
        rolling = rolling || steps;
        if (steps && leaning.insert(loop.input).second) {
            // Wheels of one body lean back against its rolling, not each against its own.
            std::string share, away;
            int count = 0;
            for (const auto& other : program.loops) {
                const auto& of = program.outputs[static_cast<std::size_t>(other.output)];
                if (other.input != loop.input || of.kind != routine::OutputKind::Stepper) continue;
                share += fmt::format("{}share[{}]", count == 0 ? "" : " + ", other.output);
                away += fmt::format("{}level[{}]", count == 0 ? "" : " + ", other.output);
                away += of.start == 0 ? "" : fmt::format(" - {}L", of.start);
                ++count;
            }
            means += fmt::format(
                "  long rolls{0} = ((long){1}) / {3}, away{0} = ({2}) / {3};  // what balances by {4}: its mean rate, and its mean way\n",
                loop.input, share, away, count, comment(program.inputs[static_cast<std::size_t>(loop.input)].name));
        }
        loops += fmt::format("  control({}, {}, {}[{}], {}, {}, {}, {}, {}, {}, {});  // {} holds {}\n", l, loop.output,
                             steps ? "asked" : "on", loop.output, inputOf(program, loop.input),
                             program.inputs[static_cast<std::size_t>(loop.input)].source == routine::InputSource::Tach ? "true" : "false",
                             parameterOf(program, loop.wanted), steps ? "true" : "false", loop.most,
                             steps ? fmt::format("rolls{}", loop.input) : "0", steps ? fmt::format("away{}", loop.input) : "0",
                             comment(output.name), comment(program.inputs[static_cast<std::size_t>(loop.input)].name));
    }
    loops = means + loops;
    data.set("loops", loops);
    data.set("rolling", rolling);
    data.set("rests", rests);
    data.set("sleeps", sleeps);
    data.set("kept", kept_count > 0);
    data.set("kept_list", kept);
    data.set("kept_count", std::to_string(kept_count));
    data.set("kept_bytes", std::to_string((kept_count + 7) / 8));
    data.set("motion", motion.used());
    data.set("motion_state", (motion.state.find("high") != std::string::npos ? "volatile uint8_t ending = 0;\n" : "") +
                                 (motion.beat.empty() ? "" : std::string{"volatile uint8_t slot = 0;  // beats of this millisecond\n"}) +
                                 motion.state);
    data.set("beats", motion.beats());
    data.set("motion_isr", motion.heading());
    data.set("motion_beat", motion.interrupt());
    data.set("motion_start", motion.start());
    data.set("motion_end", motion.ending());
    data.set("motion_setup", motion.setup);
    std::string places;
    for (std::size_t i = 0; i < program.outputs.size(); ++i) {
        const bool homes = std::any_of(program.cues.begin(), program.cues.end(), [&](const routine::ProgramCue& cue) {
            return std::any_of(cue.instructions.begin(), cue.instructions.end(), [&](const routine::Instruction& each) {
                return each.operation == routine::Operation::Home && each.output == static_cast<int>(i);
            });
        });
        if (homes)
            places += fmt::format(
                "void setPlace{0}(long at) {{  // {1} is here, whatever was counted\n  level[{0}] = at;\n  fraction[{0}] = 0;\n  "
                "noInterrupts();\n  given{0} = at * {2};\n  next{0} = rate{0} = 0;\n  interrupts();\n}}\n\n",
                i, comment(program.outputs[i].name), routine::fine_parts);
    }
    data.set("places", places);
    setup += motion.timer();
    data.set("outputs", outputs);
    mustache::data held_pins{mustache::data::type::list};
    for (const auto& pin : model.held)
        held_pins.push_back(item({{"number", std::to_string(pin.pin.number)},
                                  {"level", pin.high ? "HIGH" : "LOW"},
                                  {"pin", std::string{pin.pin.name}},
                                  {"comment", comment(pin.why)}}));
    data.set("held", held_pins);
    data.set("timer_setup", setup);

    mustache::data cues{mustache::data::type::list};
    int next_time = 0;
    for (std::size_t i = 0; i < program.cues.size(); ++i) {
        const auto& cue = program.cues[i];
        std::string running, starting, triggers, lets_go, interval;
        for (const auto& guard : cue.guards) {
            const std::string term = std::string{guard.blocks_when ? "" : "!"} + "active[IN_" +
                                     upper(routine::symbol(program.inputs[static_cast<std::size_t>(guard.input)].id)) + "]";
            if (guard.throughout) running += (running.empty() ? "" : " || ") + term;
            starting += (starting.empty() ? "" : " || ") + term;
        }
        for (const int input : cue.inputs)
            triggers += (triggers.empty() ? "" : " || ") +
                        fmt::format("edge[IN_{}]", upper(routine::symbol(program.inputs[static_cast<std::size_t>(input)].id)));
        const auto alsoBy = [&](const std::string& term) { triggers += (triggers.empty() ? "" : " || ") + term; };
        for (const int input : cue.released) alsoBy("letGo[" + inputOf(program, input) + "]");
        if (cue.held_input >= 0)
            alsoBy(fmt::format("activeFor[{0}] == (parameter[{1}] < 1 ? 1 : parameter[{1}])", inputOf(program, cue.held_input),
                               parameterOf(program, cue.held_parameter)));
        if (cue.every_parameter >= 0) {
            interval = fmt::format("  bool due = ++since[{0}] >= (parameter[{1}] < 1 ? 1 : parameter[{1}]);\n  if (due) since[{0}] = 0;\n",
                                   i, parameterOf(program, cue.every_parameter));
            alsoBy("due");
        }
        if (!cue.times_of_day.empty()) {
            interval += "  bool itsTime = false;\n";
            for (const auto time : cue.times_of_day)
                interval += fmt::format("  if (comes({}, {}UL, {}UL)) itsTime = true;  // {}\n", next_time++, time, cue.late,
                                        timing::timeOfDayText(time / routine::ticks_per_second));
            alsoBy("itsTime");
        }
        if (cue.at_power_up) alsoBy("wakes");
        if (cue.after >= 0) alsoBy(fmt::format("ended[{}]", cue.after));
        std::set<int> held;
        std::string takes_up, counts;
        for (const auto& instruction : cue.instructions) {
            using O = routine::Operation;
            const auto does = instruction.operation;
            if (instruction.output >= 0 && takes_up.find(fmt::format("[{}]", instruction.output)) == std::string::npos)
                takes_up += fmt::format(" resting[{}] = false;", instruction.output) +
                            (has.owners ? fmt::format(" if (owner[{0}] == {1}) owner[{0}] = -1;", instruction.output, i) : "");
            if ((does == O::On || does == O::Toggle || does == O::Fade || does == O::Flicker || does == O::Go || does == O::Home ||
                 does == O::Run) &&
                held.insert(instruction.output).second)
                lets_go += has.owners ? fmt::format("  if (owner[{0}] < 0 || owner[{0}] == {1} || place[owner[{0}]] < 0) rest({0});\n",
                                                    instruction.output, i)
                                      : fmt::format("  rest({});\n", instruction.output);
        }
        for (std::size_t input = 0; input < program.inputs.size(); ++input)
            if (program.inputs[input].counted == static_cast<int>(i))
                counts += fmt::format("if (counted[{0}] < 30000) ++counted[{0}]; ", inputOf(program, static_cast<int>(input)));
        const auto text = cueBody(program, cue, i, has);
        auto made_cue = item({{"index", std::to_string(i)},
                              {"comment", comment(cue.name)},
                              {"string", cString(link::spoken(cue.name))},
                              {"function", "cue" + std::to_string(i)},
                              {"running", running.empty() ? "false" : running},
                              {"starting", starting.empty() ? "false" : starting},
                              {"triggers", triggers.empty() ? "false" : triggers},
                              {"lets_go", lets_go},
                              {"body", text.body},
                              {"waits", text.waits},
                              {"interval", interval},
                              {"takes_up", takes_up},
                              {"counts", counts}});
        made_cue.set("goes_round", text.goes_round);
        cues.push_back(made_cue);
    }
    data.set("cues", cues);

    mustache::mustache page{std::string{sketch_template}};
    page.set_custom_escape([](const std::string& text) { return text; });
    Sketch sketch;
    sketch.name = routine::identifier(model.gadget);
    sketch.text = page.render(data);
    sketch.beside = headersFor(target);
    for (const auto& header : runtimeFiles()) sketch.beside.push_back(header);
    return sketch;
}

}  // namespace hinge::firmware
