#include "firmware/tables_text.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/sketch.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::firmware {
namespace {

using routine::InputSource;
using routine::Operation;
using routine::Program;

template <class T>
const T& at(const std::vector<T>& list, int index) {
    return list[static_cast<std::size_t>(index)];
}

// One row in the words of the tables, from the row itself: what the desk runs is what is printed.
class Printer {
public:
    explicit Printer(const Program& program) : program_{program}, machine_{program}, tables_{machine_.tables()} {}

    [[nodiscard]] std::string all() const {
        std::string text = "namespace spark {  // in the words of src/spark_words.h\n\nconst Input inputTable[] PROGMEM = {\n";
        for (std::size_t i = 0; i < tables_.inputs.size(); ++i)
            text += fmt::format("  {},  // {}\n", input(tables_.inputs[i]), comment(program_.inputs[i].name));
        text += last + "\n";
        for (std::size_t o = 0; o < tables_.outputs.size(); ++o) {
            const auto& row = tables_.outputs[o];
            if (row.unlesses == 0) continue;
            std::string list;
            for (int k = 0; k < row.unlesses; ++k) list += (k > 0 ? ", " : "") + in(row.unless[k]);
            text += fmt::format("// What keeps {} from its way to safety.\nconst uint8_t {}[] PROGMEM = {{ {} }};\n",
                                comment(program_.outputs[o].name), unlessList(o), list);
        }
        text += "const Output outputTable[] PROGMEM = {\n";
        for (std::size_t o = 0; o < tables_.outputs.size(); ++o)
            text += fmt::format("  {},  // {}\n", output(o), comment(program_.outputs[o].name));
        text += last + "\n";
        for (std::size_t c = 0; c < tables_.cues.size(); ++c) text += lists(c);
        text += "const Cue cueTable[] PROGMEM = {\n";
        for (std::size_t c = 0; c < tables_.cues.size(); ++c) text += "  " + cue(c) + ",\n";
        text += last + "\n";
        for (std::size_t r = 0; r < tables_.interlocks.size(); ++r) {
            const auto& row = tables_.interlocks[r];
            text += fmt::format("// Never: {}\n", comment(program_.interlocks[r].text));
            if (row.term_count == 0) continue;
            text += fmt::format("const Term never{}[] PROGMEM = {{ ", r);
            for (int k = 0; k < row.term_count; ++k) text += (k > 0 ? ", " : "") + term(row.terms[k]);
            text += " };\n";
        }
        text += "const Interlock interlockTable[] PROGMEM = {\n";
        for (std::size_t r = 0; r < tables_.interlocks.size(); ++r) {
            const auto& row = tables_.interlocks[r];
            text += fmt::format("  never({}, {}{}),\n", out(row.output), row.input == spark::nobody ? nobody : in(row.input),
                                row.term_count > 0 ? fmt::format(", never{}", r) : "");
        }
        text += last + "const Follower followerTable[] PROGMEM = {\n";
        for (const auto& row : tables_.followers) text += "  " + follower(row) + ",\n";
        text += last + "const Holder holderTable[] PROGMEM = {\n";
        for (const auto& row : tables_.holders) {
            const std::string numbers = joined(row.numbers, ", ", [&](const auto number) { return name(number); });
            text += fmt::format("  {{{}, {}, {}, {{ {} }}}},  // {} holds {}\n", out(row.output), in(row.input), row.most, numbers,
                                comment(at(program_.outputs, row.output).name), comment(at(program_.inputs, row.input).name));
        }
        return text + last + "\n}  // namespace spark\n";
    }

private:
    static constexpr const char* nobody = "nobody";
    inline static const std::string last = "  {}};\n";

    [[nodiscard]] std::string name(int number) const { return number < 0 ? "no_number" : numberName(program_, number); }
    [[nodiscard]] std::string in(int input) const { return inputName(program_, input); }
    [[nodiscard]] std::string out(int output) const { return outputName(program_, output); }
    [[nodiscard]] std::string unlessList(std::size_t o) const { return fmt::format("unless{}", o); }

    [[nodiscard]] std::string input(const spark::Input& row) const {
        std::string text;
        const std::string levels = fmt::format("{}, {}", row.upper, row.lower);
        switch (row.source) {
            case InputSource::Pin:
                text = (row.is & spark::Input::analogue) != 0 ? fmt::format("level({}, {})", row.patience, levels)
                                                              : fmt::format("contact({})", row.patience);
                if (row.counted != spark::nobody) text = fmt::format("belongsTo({}, {}, {})", out(row.counted), name(row.number), text);
                break;
            case InputSource::Word: text = "spokenWord()"; break;
            case InputSource::Number: text = fmt::format("number({}, {})", name(row.number), levels); break;
            case InputSource::Counter: text = fmt::format("counter({}, {})", cueName(program_, row.counted), name(row.number)); break;
            case InputSource::Days: text = fmt::format("days({}, {}, {})", row.weekdays, row.from, row.to); break;
            case InputSource::Tach:
                text = fmt::format("tach({})", levels);
                if (row.counted != spark::nobody) text = fmt::format("belongsTo({}, {}, {})", out(row.counted), name(row.number), text);
                break;
        }
        for (const auto& [is, word] : {std::pair{spark::Input::below, "below"},
                                       {spark::Input::held, "held"},
                                       {spark::Input::looped, "looped"},
                                       {spark::Input::cautious, "cautious"}})
            if ((row.is & is) != 0) text = fmt::format("{}({})", word, text);
        if (row.sets != spark::no_number) text = fmt::format("sets({}, {}, {}, {})", name(row.sets), row.least, row.most, text);
        return text;
    }
    [[nodiscard]] std::string output(std::size_t o) const {
        const auto& row = tables_.outputs[o];
        std::string text;
        switch (row.kind) {
            case routine::OutputKind::Switched:
                text = fmt::format("switched({}, {}, {}, {})", name(row.duty), name(row.ramp), name(row.off_delay), row.top);
                break;
            case routine::OutputKind::Servo: text = fmt::format("servo({}, {})", row.start, row.furthest); break;
            case routine::OutputKind::Stepper: text = fmt::format("stepper({}, {})", row.start, row.furthest); break;
        }
        for (const auto& [is, word] : {std::pair{spark::Output::homed, "homed"},
                                       {spark::Output::rolls, "rolls"},
                                       {spark::Output::remembered, "remembered"},
                                       {spark::Output::turns, "turns"},
                                       {spark::Output::brakes, "brakes"}})
            if ((row.is & is) != 0) text = fmt::format("{}({})", word, text);
        if (row.kind != routine::OutputKind::Switched && row.ramp != spark::no_number)
            text = fmt::format("letGoAfter({}, {})", name(row.ramp), text);
        if (row.rest == routine::Rest::On) text = fmt::format("restsOn({})", text);
        if (row.rest == routine::Rest::Start)
            text = fmt::format("restsAtStart({}, {}{})", name(row.rest_number), row.unlesses > 0 ? unlessList(o) + ", " : "", text);
        return "" + text;
    }
    [[nodiscard]] std::string start(const spark::Start& row) const {
        using spark::By;
        switch (row.by) {
            case By::Press: return fmt::format("pressed({})", in(row.of));
            case By::Release: return fmt::format("released({})", in(row.of));
            case By::Held: return fmt::format("heldFor({}, {})", in(row.of), name(row.number));
            case By::Every: return fmt::format("every({})", name(row.number));
            case By::Time: {
                const auto seconds = row.time / routine::ticks_per_second;
                return fmt::format("at({}, {}, {}, {}, {})", row.of, seconds / 3600, seconds / 60 % 60, seconds % 60, row.late);
            }
            case By::Power: return "withPower()";
            case By::After: return fmt::format("after({})", cueName(program_, row.of));
        }
        return {};
    }
    [[nodiscard]] std::string guard(const spark::Guard& row) const {
        const char* word = row.throughout != 0 ? (row.blocks_when != 0 ? "unless" : "onlyWhile")
                                               : (row.blocks_when != 0 ? "notStartedBy" : "startedOnlyBy");
        return fmt::format("{}({})", word, in(row.input));
    }
    [[nodiscard]] std::string step(const spark::Step& row) const {
        using spark::Step;
        std::string text;
        const std::string share = row.with == spark::no_number ? "" : ", " + name(row.with);
        switch (row.does) {
            case Operation::On:
                text = fmt::format("{}({}{})", (row.is & Step::back) != 0 ? "onBackwards" : "on", out(row.output), share);
                break;
            case Operation::Turn:
                text = fmt::format("{}({}, {})", (row.is & Step::back) != 0 ? "turnBackwards" : "turn", out(row.output), name(row.number));
                break;
            case Operation::Off: text = fmt::format("{}({})", (row.is & Step::brakes) != 0 ? "brake" : "off", out(row.output)); break;
            case Operation::Wait: text = fmt::format("wait({})", name(row.number)); break;
            case Operation::Go:
                text = fmt::format("{}({}, {}, {})",
                                   (row.is & Step::by) != 0       ? ((row.is & Step::back) != 0 ? "goBackBy" : "goBy")
                                   : (row.is & Step::gentle) != 0 ? "goGently"
                                                                  : "go",
                                   out(row.output), name(row.with), name(row.number));
                if ((row.is & Step::by) != 0 && (row.is & Step::gentle) != 0) text = fmt::format("gently({})", text);
                break;
            case Operation::Toggle: text = fmt::format("toggle({})", out(row.output)); break;
            case Operation::Until:
                if (row.output != spark::nobody) {
                    text = fmt::format("letsGo({}, {}, {})", out(row.output), in(row.input), name(row.number));
                    break;
                }
                text = fmt::format("{}({}, {})", (row.is & Step::wanted) != 0 ? "until" : "untilNot", in(row.input), name(row.number));
                break;
            case Operation::Home:
                text = row.with == spark::no_number
                           ? fmt::format("home({}, {}, {})", out(row.output), in(row.input), name(row.number))
                           : fmt::format("homeFrom({}, {}, {}, {})", out(row.output), in(row.input), name(row.with), name(row.number));
                if ((row.is & Step::anew) != 0) text = fmt::format("anew({})", text);
                break;
            case Operation::Again: text = fmt::format("again({}, {})", row.with, name(row.number)); break;
            case Operation::Fade: text = fmt::format("fade({}, {}, {})", out(row.output), name(row.with), name(row.number)); break;
            case Operation::Flicker: text = fmt::format("flicker({}, {})", out(row.output), name(row.number)); break;
            case Operation::Clear: text = fmt::format("clear({})", in(row.input)); break;
            case Operation::Run: text = fmt::format("run({}, {}{})", out(row.output), name(row.number), share); break;
        }
        return (row.is & Step::joined) != 0 ? fmt::format("together({})", text) : text;
    }
    // What its ticks are, in the words of their own line at the top.
    [[nodiscard]] std::string meaning(const spark::Step& row) const {
        if (row.number == spark::no_number) return {};
        const auto& text = at(program_.parameters, row.number).meaning;
        return text.empty() ? std::string{} : "  // " + comment(text);
    }
    [[nodiscard]] std::string symbol(std::size_t c) const { return routine::symbol(program_.cues[c].id); }
    [[nodiscard]] std::string lists(std::size_t c) const {
        const auto& row = tables_.cues[c];
        std::string text = fmt::format("// {}\n", comment(sentenceOf(program_, program_.cues[c])));
        if (row.start_count > 0) {
            text += fmt::format("constexpr Start starts_{}[] PROGMEM = {{ ", symbol(c));
            for (int k = 0; k < row.start_count; ++k) text += (k > 0 ? ", " : "") + start(row.starts[k]);
            text += " };\n";
        }
        if (row.guard_count > 0) {
            text += fmt::format("const Guard guards_{}[] PROGMEM = {{ ", symbol(c));
            for (int k = 0; k < row.guard_count; ++k) text += (k > 0 ? ", " : "") + guard(row.guards[k]);
            text += " };\n";
        }
        if (row.step_count > 0) {
            text += fmt::format("const Step steps_{}[] PROGMEM = {{\n", symbol(c));
            for (int k = 0; k < row.step_count; ++k) text += "  " + step(row.steps[k]) + "," + meaning(row.steps[k]) + "\n";
            text += "};\n";
        }
        return text + "\n";
    }
    [[nodiscard]] std::string cue(std::size_t c) const {
        const auto& row = tables_.cues[c];
        const auto list = [&](int count, const char* what) {
            return count > 0 ? fmt::format("{}_{}", what, symbol(c)) : std::string{"none()"};
        };
        std::string text =
            fmt::format("cue({}, {}, {})", list(row.start_count, "starts"), list(row.guard_count, "guards"), list(row.step_count, "steps"));
        if (row.counts != 0) text = "counted(" + text + ")";
        return text;
    }
    [[nodiscard]] std::string term(const spark::Term& row) const {
        using So = spark::Term::So;
        switch (row.so) {
            case So::On: return fmt::format("isOn({})", out(row.output));
            case So::Off: return fmt::format("isOff({})", out(row.output));
            case So::Beyond: return fmt::format("isBeyond({}, {})", out(row.output), row.place);
            case So::Short: return fmt::format("isShort({}, {})", out(row.output), row.place);
        }
        return {};
    }
    [[nodiscard]] std::string follower(const spark::Follower& row) const {
        const std::string unless = row.guard == spark::nobody ? nobody : in(row.guard);
        if (row.proportional != 0)
            return fmt::format("inProportion({}, {}, {}, {}, {})", out(row.output), in(row.input), row.dead, row.start, unless);
        return fmt::format("follows({}, {}, {}, {})", out(row.output), in(row.input), row.wanted, unless);
    }

    const Program& program_;
    routine::Machine machine_;
    const routine::Tables& tables_;
};

}  // namespace

std::string capitals(std::string text) {
    for (char& c : text) c = raised(c);
    return text;
}
std::string numberName(const Program& program, int parameter) {
    return "P_" + capitals(at(program.parameters, parameter).name);
}
std::string inputName(const Program& program, int input) {
    return "IN_" + capitals(routine::symbol(at(program.inputs, input).id));
}
std::string outputName(const Program& program, int output) {
    return "OUT_" + capitals(routine::symbol(at(program.outputs, output).id));
}
std::string cueName(const Program& program, int cue) {
    return "CUE_" + capitals(routine::symbol(at(program.cues, cue).id));
}

bool brakesAny(const Program& program) {
    if (std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& output) { return output.brakes; })) return true;
    return std::any_of(program.cues.begin(), program.cues.end(), [](const routine::ProgramCue& cue) {
        return std::any_of(cue.instructions.begin(), cue.instructions.end(), [](const auto& each) { return each.brakes; });
    });
}

std::string switchesText(const Program& program, bool linked, bool saves, bool expands, bool radio) {
    const auto reads = [&](auto... sources) {
        return std::any_of(program.inputs.begin(), program.inputs.end(),
                           [&](const routine::ProgramInput& input) { return ((input.source == sources) || ...); });
    };
    const auto does = [&](auto... operations) {
        return std::any_of(program.cues.begin(), program.cues.end(), [&](const routine::ProgramCue& cue) {
            return std::any_of(cue.instructions.begin(), cue.instructions.end(),
                               [&](const routine::Instruction& each) { return ((each.operation == operations) || ...); });
        });
    };
    const auto starts = [&](auto has) { return std::any_of(program.cues.begin(), program.cues.end(), has); };
    const bool analogue = std::any_of(program.inputs.begin(), program.inputs.end(), [](const auto&input) { return input.analogue; }),
               moves = std::any_of(program.outputs.begin(), program.outputs.end(),
                                   [](const auto&output) { return output.kind != routine::OutputKind::Switched; });
    std::string text;
    const auto put = [&](const char* name, bool has, const char* what) {
        text += fmt::format("#define SPARK_{:<9} {}  // {}\n", name, has ? 1 : 0, what);
    };
    put("MOVES", moves, "servos or steppers");
    put("LIGHTS", does(Operation::Fade, Operation::Flicker), "fades and flicker");
    put("RUNS", does(Operation::Run), "runs that a cue does not wait for, or side by side");
    put("TURNS", std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& each) { return each.turns; }),
        "outputs that can be turned round");
    put("LETS_GO", std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& each) { return each.let_go_parameter >= 0; }),
        "movers that are let go at rest");
    put("BRAKES", brakesAny(program), "outputs that can brake");
    put("MAINS", std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& each) { return each.half_waves > 0.0; }),
        "outputs that are fired into half-waves of the mains");
    put("CONFIGURES", std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& each) { return each.configured; }),
        "outputs whose driver is told its settings at the start");
    put("RADIO", radio, "a radio on a line of its own");
    put("EXPANDS", expands, "outputs behind an expander");
    put("FOLLOWERS", !program.followers.empty(), "outputs that follow an input");
    put("LOOPS", !program.loops.empty(), "outputs that hold a reading");
    put("BOTH", std::any_of(program.loops.begin(), program.loops.end(), [](const auto& loop) { return loop.turn >= 0; }),
        "loops that drive both ways");
    put("ROLLS",
        std::any_of(program.loops.begin(), program.loops.end(),
                    [&](const auto& loop) { return at(program.outputs, loop.output).kind == routine::OutputKind::Stepper; }),
        "steppers that go at the rate of a loop");
    put("HOMES", does(Operation::Home), "movers whose start must be looked for");
    put("READINGS", analogue || reads(InputSource::Number, InputSource::Tach), "inputs that are more than yes or no");
    put("COUNTS", reads(InputSource::Counter, InputSource::Tach), "counters and tachs");
    put("STALLS", std::any_of(program.inputs.begin(), program.inputs.end(), [](const auto& input) { return routine::belongs(input); }),
        "tachs and currents that say how what they belong to goes");
    put("BY",
        std::any_of(program.cues.begin(), program.cues.end(),
                    [](const auto& cue) {
                        return std::any_of(cue.instructions.begin(), cue.instructions.end(), [](const auto& each) { return each.by; });
                    }),
        "moves by so much from where a mover stands");
    put("SAID", reads(InputSource::Word, InputSource::Number), "words and numbers that come over the link");
    put("TIMES", starts([](const auto& cue) { return !cue.times_of_day.empty(); }), "times of day");
    put("DAYS", reads(InputSource::Days), "days of the week and of the year");
    put("HELD", starts([](const auto& cue) { return cue.held_input >= 0; }), "cues that a held input starts");
    put("EVERY", starts([](const auto& cue) { return cue.every_parameter >= 0; }), "cues that start every so often");
    put("WATCHES", does(Operation::Until, Operation::Home), "cues that wait for an input");
    put("AGAIN", does(Operation::Again), "cues that do a part of theirs again");
    put("TOGGLES", does(Operation::Toggle), "cues that turn over what is on or off");
    put("REMEMBERS", std::any_of(program.outputs.begin(), program.outputs.end(), [](const auto& each) { return each.remembered; }),
        "outputs that come back after a power cut as they were");
    put("TERMS", std::any_of(program.interlocks.begin(), program.interlocks.end(), [](const auto& each) { return !each.terms.empty(); }),
        "interlocks that ask how other outputs stand");
    put("SILENCE", program.link_parameter >= 0, "a link that must not fall silent");
    put("LINK", linked, "commands, answers and telemetry");
    put("HAND", linked, "the desk's hand on an output");
    put("SAVES", saves, "numbers that outlive a power cut");
    return text;
}

std::string tablesText(const Program& program) {
    return Printer{program}.all();
}

std::string sentenceOf(const Program& program, const routine::ProgramCue& cue) {
    std::string starts, guards;
    const auto add = [](std::string& to, const std::string& more, const char* between) { to += (to.empty() ? "" : between) + more; };
    for (const int input : cue.inputs) add(starts, "when " + at(program.inputs, input).name + " becomes true", ", or ");
    for (const int input : cue.released) add(starts, "when " + at(program.inputs, input).name + " is true no longer", ", or ");
    if (cue.held_input >= 0) add(starts, "when " + at(program.inputs, cue.held_input).name + " has been true for its time", ", or ");
    for (const auto time : cue.times_of_day) add(starts, "at " + timing::timeOfDayText(time / routine::ticks_per_second), ", or ");
    if (cue.every_parameter >= 0) add(starts, "each time its interval is over", ", or ");
    if (cue.at_power_up) add(starts, "when the power comes", ", or ");
    if (cue.after >= 0) add(starts, "after " + at(program.cues, cue.after).name, ", or ");
    for (const auto& guard : cue.guards)
        add(guards,
            fmt::format("{} {}{}", guard.blocks_when ? "not while" : "only while", at(program.inputs, guard.input).name,
                        guard.throughout ? "" : " (asked at its start)"),
            ", ");
    return fmt::format("{}: {}{}", cue.name, starts.empty() ? "over the link" : starts, guards.empty() ? "" : "; " + guards);
}

}  // namespace hinge::firmware
