#include "firmware/sketch.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <kainjow/mustache.hpp>
#include <set>
#include "firmware/motion_text.hpp"
#include "firmware/other_chips.hpp"
#include "firmware/output_text.hpp"
#include "firmware/pin_text.hpp"
#include "firmware/row.hpp"
#include "firmware/runtime_files.hpp"
#include "firmware/sketch_template.hpp"
#include "firmware/tables_text.hpp"
#include "link/protocol.hpp"
#include "quantity/latin.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::firmware {
namespace {

namespace mustache = kainjow::mustache;

std::string clockSelect(int timer, double prescaler) {
    static const std::vector<int> usual{1, 8, 64, 256, 1024}, asynchronous{1, 8, 32, 64, 128, 256, 1024};
    const auto& list = timer == 2 ? asynchronous : usual;
    int bits = 0;
    for (std::size_t i = 0; i < list.size(); ++i)
        if (list[i] == static_cast<int>(prescaler)) bits = static_cast<int>(i) + 1;
    std::vector<std::string> set;
    for (int b = 0; b < 3; ++b)
        if ((bits >> b & 1) != 0) set.push_back(fmt::format("_BV(CS{}{})", timer, b));
    return joined(set, " | ");
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

// A channel and an input may have one name: the input's pin then says what it is.
std::string pinOfInput(const routine::Program& program, std::size_t index) {
    const std::string id = capitals(routine::symbol(program.inputs[index].id));
    for (const auto& output : program.outputs)
        if (capitals(routine::symbol(output.id)) == id) return "PIN_IN_" + id;
    return "PIN_" + id;
}
bool uses(const routine::Program& program, routine::InputSource source) {
    return std::any_of(program.inputs.begin(), program.inputs.end(),
                       [&](const routine::ProgramInput& input) { return input.source == source; });
}

// The words that are said, and what the link does only with one of them.
std::string wordsText(const routine::Program& program) {
    std::string texts, rows;
    for (const auto& input : program.inputs)
        if (input.source == routine::InputSource::Word) texts += fmt::format("\"{}\\0\" ", cString(input.word));
    const auto permits = routine::permitsOf(program);
    for (const auto& permit : permits) {
        const char* const kinds[] = {"start", "drive", "set"};
        rows += fmt::format("{{ spark::Permit::{}, {}, {} }}, ", kinds[permit.what], permit.word, permit.which);
    }
    return fmt::format(
        "const char wordTexts[] PROGMEM = {}\"\";\n// What a word starts, the link starts, drives and sets only with that word.\n"
        "const spark::Permit permitTable[] PROGMEM = {{ {}{{}} }};\nenum {{ PERMITS = {} }};\n",
        texts, rows, permits.size());
}

// Windows, where a folder may be copied to, keeps these names for devices.
std::string folderName(const std::string& gadget) {
    static const std::set<std::string> devices{"aux", "con", "nul", "prn"};
    const std::string name = routine::identifier(gadget);
    const bool port = name.size() == 4 && (name.starts_with("com") || name.starts_with("lpt")) && name[3] >= '0' && name[3] <= '9';
    return port || devices.contains(name) ? "the_" + name : name;
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
    for (const char c : inLatin(text)) {
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

// What is printed of the inputs besides their rows: how their pins are read.
struct InputText {
    mustache::data list{mustache::data::type::list};
    std::string pin_reads, analogue_list, channel_list, analogue_reads, tach_interrupts, tach_reads, tach_setup;
};
Result<InputText> inputText(const SketchModel& model, Target target) {
    using routine::InputSource;
    const auto& program = model.program;
    InputText text;
    const auto list = [](std::string& to, const std::string& item_text) { to += (to.empty() ? "" : ", ") + item_text; };
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        const auto& input = program.inputs[i];
        const std::string field = "inputs/" + input.id + "/pin", in = inputName(program, static_cast<int>(i));
        const bool pinned = input.source == InputSource::Pin || input.source == InputSource::Tach;
        if (pinned && !model.inputs[i]) return fail(ErrorCode::Missing, field, "", "a pin of this board");
        const board::Pin pin = model.inputs[i].value_or(board::Pin{});
        const auto expander = i < model.input_expanders.size() ? model.input_expanders[i] : std::nullopt;
        if (expander && input.source == InputSource::Pin) {
            if (input.analogue)
                text.analogue_reads +=
                    fmt::format("  gadget.input({}).value = {};\n", in, RegisterText::expandedReading(model, *expander, pin.number));
            else
                text.pin_reads += fmt::format("    case {}: return {} == {};\n", in,
                                              RegisterText::expandedLevel(model, *expander, pin.number), input.active_high ? 1 : 0);
        }
        if (input.analogue && input.source == InputSource::Pin && !expander) {
            if (target == Target::Linux)
                return fail(ErrorCode::Missing, field, input.name, "a board with a converter: this header reads only yes and no");
            if (pin.analog_channel < 0 && target == Target::Avr)
                return fail(ErrorCode::Missing, field, std::string{pin.name}, "an analogue pin, A0 or further");
            if (target != Target::Avr) text.analogue_reads += analogueRead(target, pin, in);
            else list(text.analogue_list, in), list(text.channel_list, std::to_string(pin.analog_channel));
        }
        if (input.source == InputSource::Pin && !input.analogue && !expander)
            text.pin_reads += fmt::format("    case {}: return {};\n", in, readPin(pin, target, pinOfInput(program, i), input.active_high));
        if (input.source == InputSource::Tach) {
            if (target == Target::Linux)
                return fail(ErrorCode::Missing, field, input.name,
                            "a board that can count pulses: under an operating system some are lost");
            if (!pin.interrupt)
                return fail(ErrorCode::Missing, field, std::string{pin.name},
                            "a pin with an interrupt of its own: D2 or D3 on the smaller boards");
            text.tach_interrupts += fmt::format(
                "// Pulses of {0}, counted as they come and taken once a tick.\nvolatile int came{1} = 0;\nvoid pulse{1}() {{ ++came{1}; "
                "}}\n\n",
                comment(input.name), i);
            text.tach_reads += fmt::format(
                "  if (input == {0}) {{\n    noInterrupts();\n    now = came{1};\n    came{1} = 0;\n    interrupts();\n  }}\n", in, i);
            text.tach_setup += fmt::format("  attachInterrupt(digitalPinToInterrupt({}), pulse{}, {});\n", pinOfInput(program, i), i,
                                           input.active_high ? "RISING" : "FALLING");
        }
        auto made = item({{"upper", capitals(routine::symbol(input.id))},
                          {"comment", comment(input.name)},
                          {"string", cString(link::spoken(input.name))},
                          {"pin_name", pinOfInput(program, i)},
                          {"pin", std::string{pin.name}},
                          {"number", std::to_string(pin.number)},
                          {"active", input.active_high ? "HIGH" : "LOW"},
                          {"pull", i < model.pulled_up.size() && model.pulled_up[i] ? "INPUT_PULLUP" : "INPUT"}});
        made.set("pinned", pinned && !expander);
        text.list.push_back(made);
    }
    return text;
}

// A clock on the two-wire bus.
std::optional<Error> putClock(mustache::data& data, const SketchModel& model, Target target, bool days) {
    data.set("bus_clock", model.clock.has_value());
    if (!model.clock) return std::nullopt;
    if (target != Target::Avr)
        return fail(ErrorCode::Missing, "board/clock", model.clock->name, "an AVR board: only its two-wire bus is written for").value();
    data.set("bus_name", comment(model.clock->name));
    data.set("bus_address", fmt::format("0x{:02x}", model.clock->address));
    data.set("bus_count", days ? "7" : "3");
    data.set("bus_rate", fmt::format("{:.0f}", (model.family.clock / 100e3 - 16.0) / 2.0));
    for (const auto* field : {"seconds", "minutes", "hours", "day", "month", "year", "weekday"}) {
        if (model.clock->registerOf(field) < 0 || model.clock->registerOf(field) > 6)
            return fail(ErrorCode::Missing, "parts/bus.csv", field, "a clock with this field in its first seven registers").value();
        data.set(std::string{"bus_"} + field, std::to_string(model.clock->registerOf(field)));
    }
    return std::nullopt;
}

void putNumbers(mustache::data& data, const routine::Program& program) {
    mustache::data parameters{mustache::data::type::list};
    std::vector<std::string> units;
    for (std::size_t i = 0; i < program.parameters.size(); ++i) {
        const auto& p = program.parameters[i];
        auto unit = std::find(units.begin(), units.end(), p.unit);
        if (unit == units.end()) unit = units.insert(units.end(), p.unit);
        parameters.push_back(item({{"upper", capitals(p.name)},
                                   {"name", p.name},
                                   {"unit", p.unit},
                                   {"unit_index", std::to_string(unit - units.begin())},
                                   {"value", std::to_string(p.value)},
                                   {"least", std::to_string(p.least)},
                                   {"most", std::to_string(p.most)},
                                   {"meaning", comment(p.meaning)},
                                   {"source", comment(p.source)},
                                   {"index", std::to_string(i)}}));
    }
    mustache::data unit_list{mustache::data::type::list};
    for (const auto& unit : units) unit_list.push_back(item({{"unit", unit}}));
    data.set("units", unit_list);
    data.set("parameters", parameters);
}

// What stands at the top of the file, and what the chip and its link are.
void putHead(mustache::data& data, const SketchModel& model, bool remembers) {
    const auto& program = model.program;
    const Target target = model.family.target;
    data.set("gadget_comment", comment(model.gadget));
    data.set("gadget_string", cString(link::spoken(model.gadget)));
    data.set("plan", model.plan);
    data.set("board", comment(std::string{model.family.name}));
    data.set("baud", std::to_string(link::baud));
    data.set("version", std::to_string(link::version));
    data.set("standing", std::string{standingOf(target)});
    data.set("includes", includesFor(target, model.watchdog));
    const bool linked = model.family.link;
    data.set("link", linked);
    data.set("eeprom", target == Target::Avr && (linked || remembers));
    const auto watchdog = watchdogFor(target);
    data.set("watchdog", model.watchdog && !watchdog.start.empty());
    data.set("watchdog_start", watchdog.start);
    data.set("watchdog_feed", watchdog.feed);
    const auto health = healthFor(target);
    data.set("health", linked && !health.started_by.empty());
    data.set("started_by", health.started_by);
    if (health.never_used.empty()) data.set("never_used", false);
    else data.set("never_used", health.never_used);
    data.set("avr", target == Target::Avr);
    std::string mark;
    for (std::size_t b = 0; b < 4; ++b) mark += fmt::format("0x{}, ", model.plan.size() >= 8 ? model.plan.substr(2 * b, 2) : "00");
    data.set("mark", mark + fmt::format("{}", program.parameters.size() & 0xff));
}

void putTables(mustache::data& data, const routine::Program& program) {
    std::size_t times = 0;
    mustache::data cues{mustache::data::type::list};
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        times += program.cues[c].times_of_day.size();
        cues.push_back(item({{"cue", cueName(program, static_cast<int>(c))}, {"string", cString(link::spoken(program.cues[c].name))}}));
    }
    data.set("cues", cues);
    data.set("follower_count", std::to_string(program.followers.size()));
    data.set("interlock_count", std::to_string(program.interlocks.size()));
    data.set("loop_count", std::to_string(program.loops.size()));
    data.set("time_count", std::to_string(times));
    data.set("silence", std::to_string(program.link_parameter));
    data.set("tables", tablesText(program));
}

// What comes over the link, and what goes.
void putLink(mustache::data& data, const routine::Program& program, bool days) {
    using routine::InputSource;
    const bool said = uses(program, InputSource::Word) || uses(program, InputSource::Number);
    data.set("days", days);
    data.set("line_room", std::to_string(routine::lineRoom(program)));
    data.set("words", said ? wordsText(program) : std::string{});
    const auto in_frame = routine::frameValues(program, link::most_values);
    data.set("value_count", std::to_string(in_frame));
    data.set("frame_bytes", std::to_string(spark::frame_head + 2 * in_frame + 3));
}

// How the board reads and drives its pins.
void putPins(mustache::data& data, const SketchModel& model, const InputText& in, const OutputText& out) {
    const Target target = model.family.target;
    data.set("inputs", in.list);
    data.set("pin_reads", in.pin_reads);
    data.set("analogue", !in.analogue_list.empty());
    data.set("analogue_list", in.analogue_list);
    data.set("channel_list", in.channel_list);
    // Compared with the supply, which stands elsewhere in the smallest one's register; the larger ones have more than eight channels.
    const auto mcu = model.family.mcu;
    data.set("mux", std::string{mcu == timing::Mcu::Atmega2560 || mcu == timing::Mcu::Atmega32u4
                                    ? "  ADCSRB = (ADCSRB & ~_BV(MUX5)) | (analogueChannels[converting] > 7 ? _BV(MUX5) : 0);\n"
                                    : ""} +
                        (mcu == timing::Mcu::Attiny85 ? "  ADMUX = analogueChannels[converting];\n"
                                                      : "  ADMUX = _BV(REFS0) | (analogueChannels[converting] & 7);\n"));
    data.set("analogue_reads", in.analogue_reads);
    data.set("tach_interrupts", in.tach_interrupts);
    data.set("tach_reads", in.tach_reads);
    data.set("tach_setup", in.tach_setup);
    data.set("outputs", out.list);
    data.set("places", out.places);
    data.set("kept", out.remembers);
    data.set("mains", out.mains.used());
    if (out.mains.used())
        data.set("mains_state", out.mains.state()), data.set("mains_set", out.mains.wanted()), data.set("mains_counts", out.mains.counts());
    data.set("registers", out.registers.used());
    data.set("registers_state", out.registers.state());
    data.set("registers_setup", out.registers.setup());
    data.set("registers_ready", out.registers.ready());
    data.set("registers_said", out.registers.said());
    data.set("registers_lost", out.registers.lost());
    data.set("watched", !out.registers.watched().empty());
    data.set("registers_watched", out.registers.watched()), data.set("registers_turning", out.registers.turning());
    data.set("expander_ticks", out.registers.ticks());
    const auto& motion = out.motion;
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
    data.set("timer_setup", out.setup);
    mustache::data held_pins{mustache::data::type::list};
    for (const auto& pin : model.held)
        held_pins.push_back(item({{"open", openPin(target, std::to_string(pin.pin.number), pin.high)},
                                  {"pin", std::string{pin.pin.name}},
                                  {"comment", comment(pin.why)}}));
    data.set("held", held_pins);
}

constexpr std::size_t longest_refusal = 128;  // "error hello, list, set …"

// A radio on a line of its own.
std::optional<Error> putRadio(mustache::data& data, const SketchModel& model, Target target) {
    data.set("radio", model.radio.has_value());
    if (!model.radio) return std::nullopt;
    const auto& radio = *model.radio;
    if (!model.family.link || target == Target::Linux)
        return fail(ErrorCode::NotDriven, "board/radio_apart", std::string{model.family.name},
                    "a board with a link, and no operating system")
            .value();
    const double bit = 1e6 / radio.rate;  // us
    std::vector<std::string> granted;
    if (radio.starts) granted.emplace_back("starts cues");
    if (radio.drives) granted.emplace_back("drives outputs by hand");
    if (radio.sets) granted.emplace_back("sets numbers and the clock");
    const auto set = [&](bool high) { return setPin(radio.out, target, "PIN_RADIO_OUT", high); };
    data.set("radio_in_name", std::string{radio.in.name}), data.set("radio_out_name", std::string{radio.out.name});
    data.set("radio_in", std::to_string(radio.in.number)), data.set("radio_out", std::to_string(radio.out.number));
    data.set("radio_rate", std::to_string(radio.rate));
    if (const int port = board::serialPortAt(model.family, radio.in.name, radio.out.name); port > 0)
        data.set("radio_port", "Serial" + std::to_string(port));
    else data.set("radio_port", false);
    // The longest of its answers: what it is called, or all the commands' words.
    const auto hello = fmt::format("hello hinge-spark {} {} {}\r\n", link::version, "00000000", cString(link::spoken(model.gadget)));
    data.set("radio_room", std::to_string(std::clamp<std::size_t>(hello.size() + 1, longest_refusal, 250)));
    data.set("radio_bit", fmt::format("{:.0f}", bit)), data.set("radio_bit_256", fmt::format("{:.0f}", 256.0 * bit));
    data.set("radio_grants", std::to_string((radio.starts ? 1 : 0) | (radio.drives ? 2 : 0) | (radio.sets ? 4 : 0)));
    data.set("radio_granted", granted.empty() ? std::string{"it says words and numbers, and stops"} : "it " + joined(granted, ", "));
    data.set("radio_drive", fmt::format("if (high) {{ {} }} else {{ {} }}", set(true), set(false)));
    data.set("radio_high", readPin(radio.in, target, "PIN_RADIO_IN", true));
    data.set("radio_open", openPin(target, "PIN_RADIO_OUT", true));
    return std::nullopt;
}

}  // namespace

Result<Sketch> emit(const SketchModel& model) {
    using routine::InputSource;
    const auto& program = model.program;
    const Target target = model.family.target;
    if (const auto not_heard = unheard(model.family, program); !not_heard.empty())
        return fail(ErrorCode::NotDriven, not_heard.front().id, not_heard.front().name, "what comes by a pin: " + not_heard.front().why);
    if (model.outputs.size() != program.outputs.size() || model.inputs.size() != program.inputs.size())
        return fail(ErrorCode::Missing, "pins", "", "a pin for every channel and input");
    const auto in = inputText(model, target);
    if (!in) return tl::unexpected(in.error());
    const auto out = outputText(model, target);
    if (!out) return tl::unexpected(out.error());
    mustache::data data{mustache::data::type::object};
    const bool days = uses(program, InputSource::Days);
    if (const auto error = putClock(data, model, target, days)) return tl::unexpected(*error);
    putNumbers(data, program);
    putHead(data, model, out->remembers);
    putTables(data, program);
    putLink(data, program, days);
    putPins(data, model, *in, *out);
    if (const auto error = putRadio(data, model, target)) return tl::unexpected(*error);
    mustache::mustache page{std::string{sketch_template}};
    page.set_custom_escape([](const std::string& text) { return text; });
    Sketch sketch;
    sketch.name = folderName(model.gadget);
    sketch.text = page.render(data);
    sketch.beside = headersFor(target, model.family);
    sketch.beside.push_back({"gadget.h", "// " + comment(model.gadget) +
                                             ": what it has; the rest of the runtime is left out. Comes before it.\n" +
                                             switchesText(program, model.family.link, model.family.link && target == Target::Avr,
                                                          std::any_of(model.outputs.begin(), model.outputs.end(),
                                                                      [](const SketchOutput& each) { return each.expander.has_value(); }) ||
                                                              std::any_of(model.input_expanders.begin(), model.input_expanders.end(),
                                                                          [](const auto& each) { return each.has_value(); }),
                                                          model.radio.has_value())});
    for (const auto& header : runtimeFiles()) sketch.beside.push_back(header);
    return sketch;
}

}  // namespace hinge::firmware
