#include "plan/radio_line.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "firmware/target.hpp"
#include "plan/pin_plan.hpp"
#include "routine/compile.hpp"

namespace hinge::plan {
namespace {

void say(Plan& plan, const char* id, Severity severity, std::string text) {
    plan.findings.push_back({id, severity, Stage::Routine, "", std::move(text), {}});
}

}  // namespace

bool hasOwnRadio(const project::Board& board) {
    return board.radio && board.radio_apart;
}

int radioPort(const project::Board& board) {
    return board::serialPortAt(board::family(board.form), board.radio_in_pin, board.radio_out_pin);
}

std::string radioPortPin(const project::Project& project, const board::Family& family, bool in) {
    std::set<std::string> taken{project.board.crossing_pin};
    for (const auto& channel : project.channels)
        for (const auto* pin :
             {&channel.pin, &channel.direction_pin, &channel.low_pin, &channel.back_low_pin, &channel.enable_pin, &channel.select_pin})
            taken.insert(*pin);
    for (const auto& input : project.inputs) taken.insert(input.pin);
    int lowest = 0;
    std::string pin;
    for (const auto& hears : family.pins)
        for (const auto& says : family.pins) {
            if (!hears.serial_in || says.serial_in || says.serial_port != hears.serial_port) continue;
            if (taken.contains(std::string{hears.name}) || taken.contains(std::string{says.name})) continue;
            if (lowest == 0 || hears.serial_port < lowest) lowest = hears.serial_port, pin = in ? hears.name : says.name;
        }
    return pin;
}

void wishRadioLine(const project::Project& project, const board::Family& family, board::PinWish& wish) {
    const bool in = wish.id.ends_with("radio_in_pin");
    if (wish.fixed.empty()) wish.preferred = radioPortPin(project, family, in);
    wish.interrupt = in && family.emulated && radioPort(project.board) == 0;
}

void judgeRadio(const project::Project& project, Plan& plan) {
    if (!project.board.radio || !plan.program) return;
    // What the link wants a word for is the program's own answer.
    const auto& program = *plan.program;
    std::vector<std::string> heard_list, open_list;
    for (std::size_t c = 0; c < program.cues.size(); ++c)
        (routine::wordsOfCue(program, c).empty() ? open_list : heard_list).push_back("'" + program.cues[c].name + "'");
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (open_list.empty() && routine::wordsOfOutput(program, o).empty()) open_list.push_back(program.outputs[o].name);
    const auto some = [](const std::vector<std::string>& list) {
        std::string text;
        for (std::size_t i = 0; i < std::min<std::size_t>(2, list.size()); ++i) text += (i > 0 ? ", " : "") + list[i];
        return list.size() > 2 ? fmt::format("{} and {} more", text, list.size() - 2) : text;
    };
    // On a line of its own it may do what it was granted.
    const auto& board = project.board;
    const bool apart = hasOwnRadio(board);
    std::vector<std::string> may;
    if (!apart || board.radio_starts) may.push_back("start " + (open_list.empty() ? std::string{"it"} : some(open_list)));
    if (!apart || board.radio_drives) may.emplace_back("drive what they move");
    if (!apart || board.radio_sets) may.emplace_back("set their numbers");
    if (may.empty()) open_list.clear();
    const std::string heard = some(heard_list);
    if (!heard.empty())
        say(plan, "word-overheard", Severity::Warn,
            fmt::format("It is spoken to by radio: whoever listens hears the word that starts {} and can say it again. It keeps out those "
                        "who guess. What it opens should ask for a press or a key besides.",
                        heard));
    if (!open_list.empty())
        say(plan, "link-open", Severity::Warn,
            fmt::format("It is spoken to by radio: anybody near can {}. Start them by a word, and the link wants it for all of that.",
                        may.size() == 3   ? fmt::format("{}, {} and {}", may[0], may[1], may[2])
                        : may.size() == 2 ? may[0] + " and " + may[1]
                                          : may[0]));
}

void judgeRadioLine(const project::Project& project, Plan& plan) {
    if (!hasOwnRadio(project.board)) return;
    const auto& family = board::family(project.board.form);
    if (!family.link || family.target == firmware::Target::Linux) {
        plan.findings.push_back({"radio-not-heard",
                                 Severity::Stop,
                                 Stage::Code,
                                 "",
                                 fmt::format("The sketch has no second line for a radio on {}: {}.", family.name,
                                             family.link ? "an operating system hears its bits too late" : "its link does not fit either"),
                                 {{family.link ? "Let the link itself go by it" : "No radio",
                                   {{family.link ? "board/radio_apart" : "board/radio", "no"}},
                                   family.link ? "it takes the place of the cable" : "it is not spoken to"}}});
        return;
    }
    if (const double volts = si(project.board.radio_supply); volts > family.logic + 0.3)
        plan.findings.push_back(
            {"level-mismatch",
             Severity::Stop,
             Stage::Pins,
             "",
             fmt::format("The radio's TX brings {} to {}, which bears {}.", display(project.board.radio_supply),
                         project.board.radio_in_pin.empty() ? "its pin" : project.board.radio_in_pin, display(Kind::Voltage, family.logic)),
             {{"Take a module of 3.3 V", {{"board/radio_supply", "3.3 V"}}, "another module"}}});
    const double rate = si(project.board.radio_rate);
    if (const int port = radioPort(project.board); port > 0) {
        // Two ends that miss by four hundredths from each other still read the last of ten bits; the module has its own two.
        // @source atmega2560-datasheet, table 22-3
        const auto miss = board::serialMiss(family, rate);
        if (miss && std::abs(*miss) <= 0.025 && rate <= 250e3) return;
        plan.findings.push_back({"radio-rate",
                                 Severity::Stop,
                                 Stage::Pins,
                                 "",
                                 miss && rate <= 250e3
                                     ? fmt::format("The chip's serial port {} misses {:.0f} baud by {:.1f} %; a line bears some 2.5 %.",
                                                   port, rate, 100.0 * std::abs(*miss))
                                     : fmt::format("The chip's serial port {} does not speak at {:.0f} baud.", port, rate),
                                 {{"Set the module to 9600 baud", {{"board/radio_rate", "9600"}}, "a command to the module"}}});
        return;
    }
    // By the beat of servos and steps each edge may be taken some ten microseconds late; a bit of 9600 baud has 104.
    const double most = beats(plan) ? 9600.0 : 19200.0;
    if (rate <= most) return;
    std::vector<Remedy> remedies{{"Set the module to 9600 baud", {{"board/radio_rate", "9600"}}, "a command to the module"}};
    if (const auto in = radioPortPin(project, family, true), out = radioPortPin(project, family, false); !in.empty())
        remedies.push_back({fmt::format("Take the chip's own serial port, {} and {}", in, out),
                            {{"board/radio_in_pin", in}, {"board/radio_out_pin", out}},
                            "two wires move"});
    plan.findings.push_back({"radio-rate", Severity::Stop, Stage::Pins, "",
                             fmt::format("The radio speaks at {:.0f} baud, and the sketch takes its bits by their edges: {:.0f} at most{}.",
                                         rate, most, beats(plan) ? " while servos or steps beat beside it" : ""),
                             std::move(remedies)});
}

}  // namespace hinge::plan
