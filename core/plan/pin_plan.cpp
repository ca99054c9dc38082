#include "plan/pin_plan.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "board/pwm_pool.hpp"
#include "driver/expander_rate.hpp"
#include "firmware/target.hpp"
#include "kinds/expander.hpp"
#include "plan/apart.hpp"
#include "plan/expander_pins.hpp"
#include "plan/input_wiring.hpp"
#include "plan/radio_line.hpp"
#include "quantity/names.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// Hz, the middle of the 21 to 28 kHz that 4-wire fans take (common practice, no published source)
constexpr double fan_pwm_frequency = 25e3;

board::PinRules rulesOf(const Plan& plan) {
    board::PinRules rules;
    rules.beat = beats(plan);
    rules.phase = fires(plan);
    return rules;
}

// "Rain on D5, Start on D2"; the remedy gets the edits.
std::string placesOf(const std::vector<board::PinWish>& wishes, const std::vector<board::PinChoice>& choices, Remedy& remedy) {
    std::string where;
    for (const auto& choice : choices) {
        const auto wish = std::find_if(wishes.begin(), wishes.end(), [&](const board::PinWish& w) { return w.id == choice.id; });
        if (wish->fixed == choice.pin) continue;
        remedy.edits.push_back({choice.id, choice.pin});
        where += (where.empty() ? "" : ", ") + wish->name + (wish->fixed.empty() ? " on " : " from " + wish->fixed + " to ") + choice.pin;
    }
    return where;
}

// Other boards that would take it all, in the order of the list, at most two.
std::vector<board::BoardForm> othersThatWould(const project::Project& project, const Plan& plan) {
    std::vector<board::BoardForm> others;
    for (const auto& form : Names<board::BoardForm>::all) {
        if (form.value == project.board.form || others.size() == 2) continue;
        const auto& family = board::family(form.value);
        auto wishes = pinWishes(project, plan, family);
        for (auto& wish : wishes) wish.fixed.clear();
        if (board::fitsOn(family, rulesOf(plan), wishes)) others.push_back(form.value);
    }
    return others;
}

}  // namespace

std::vector<PinLine> linesOf(const ChannelPlan& plan, const project::Channel& channel, const routine::Routine& routine) {
    std::vector<PinLine> lines;
    if (plan.switched_ends > 0) {
        lines.push_back({plan.switched_ends > 1 ? "LOW 1" : "LOW", "low_pin", channel.low_pin, true, true, "pin"});
        if (plan.switched_ends > 1) {
            lines.push_back({"HIGH 2", "direction_pin", channel.direction_pin, true, true, "direction_pin"});
            lines.push_back({"LOW 2", "back_low_pin", channel.back_low_pin, true, true, "direction_pin"});
        }
    } else if (plan.two_inputs)
        lines.push_back({"second input", "direction_pin", channel.direction_pin, true, pwmAsked(plan, channel).has_value()});
    else if (kinds::isSteps(plan.signal) || plan.latch ||
             (plan.signal == SignalKind::Pwm && (plan.context->ask.both_ways || !channel.direction_pin.empty())) ||
             (plan.both_ways && !isPulsed(plan) && routine::turnsRound(routine, channel.id)))
        lines.push_back({"direction", "direction_pin", channel.direction_pin});
    if (kinds::isSteps(plan.signal)) lines.push_back({"enable", "enable_pin", channel.enable_pin});
    if (plan.registers)
        lines.push_back(
            {plan.registers->map->bus == driver::RegisterBus::Spi ? "select" : "serial line", "select_pin", channel.select_pin});
    return lines;
}

std::vector<PinLine> sharedLines(const Plan& plan, const project::Project& project) {
    using driver::RegisterBus;
    const auto& board = project.board;
    const auto speaks = [&](RegisterBus bus) {
        if (bus == RegisterBus::TwoWire &&
            std::any_of(project.inputs.begin(), project.inputs.end(), [](const auto& input) { return expanderOf(input).has_value(); }))
            return true;
        return std::any_of(plan.channels.begin(), plan.channels.end(), [bus](const ChannelPlan& channel) {
            return (channel.registers && channel.registers->map->bus == bus) || (channel.expander && channel.expander->map->bus == bus);
        });
    };
    std::vector<PinLine> lines;
    if (speaks(RegisterBus::Spi))
        lines = {{"Registers: clock", "register_clock_pin", board.register_clock_pin},
                 {"Registers: data out", "register_out_pin", board.register_out_pin},
                 {"Registers: data in", "register_in_pin", board.register_in_pin, false}};
    if (speaks(RegisterBus::TwoWire)) {
        lines.push_back({"Expanders: clock", "expander_clock_pin", board.expander_clock_pin});
        lines.push_back({"Expanders: data", "expander_data_pin", board.expander_data_pin});
    }
    if (speaks(RegisterBus::Serial)) lines.push_back({"Expanders: serial", "expander_serial_pin", board.expander_serial_pin});
    if (hasOwnRadio(board)) {
        lines.push_back({"Radio: in", "radio_in_pin", board.radio_in_pin, false});
        lines.push_back({"Radio: out", "radio_out_pin", board.radio_out_pin});
    }
    return lines;
}

namespace {
// The pin that is printed for a line of the expanders' bus; empty: none, or that line may be on any.
std::string printedBusPin(const board::Family& family, std::string_view field) {
    if (field != "expander_clock_pin" && field != "expander_data_pin") return {};
    const std::string_view printed = field == "expander_clock_pin" ? "I²C clock" : "I²C data";
    for (const auto& pin : family.pins)
        if (pin.shares.find(printed) != std::string_view::npos) return std::string{pin.name};
    return {};
}
}  // namespace

std::string headerBusPin(const board::Family& family, std::string_view field) {
    return family.target == firmware::Target::Linux ? printedBusPin(family, field) : std::string{};
}

std::vector<ExpanderLine> linesOn(const project::Project& project, const Plan& plan, const ExpanderPlan& board) {
    if (plan.apart) return linesOn(plan.apart->project(), plan.apart->plan, board);
    std::vector<ExpanderLine> lines;
    for (const auto& channel : plan.channels)
        if (channel.expander && channel.expander->sharesBoard(board) && channel.expander->output >= 0)
            lines.push_back({channel.expander->output, "channels/" + channel.id + "/pin", channel.name});
    for (const auto& input : project.inputs)
        if (const auto at = expanderOf(input); at && at->sharesBoard(board) && at->output >= 0)
            lines.push_back({at->output, "inputs/" + input.id + "/pin", input.name});
    return lines;
}

bool beats(const Plan& plan) {
    return std::any_of(plan.channels.begin(), plan.channels.end(), isBeaten);
}

bool fires(const Plan& plan) {
    return std::any_of(plan.channels.begin(), plan.channels.end(),
                       [](const ChannelPlan& channel) { return channel.signal == SignalKind::PartWaves; });
}

std::optional<double> pwmAsked(const ChannelPlan& plan, const project::Channel& channel) {
    if (plan.signal == SignalKind::FanPwm) return fan_pwm_frequency;
    if (plan.signal == SignalKind::Pwm) return si(channel.signal.frequency);
    return std::nullopt;
}

std::vector<board::PinWish> pinWishes(const project::Project& project, const Plan& plan, const board::Family& family) {
    std::vector<board::PinWish> wishes;
    const auto wish = [&](std::string id, std::string name, const std::string& pin, bool output) -> board::PinWish& {
        wishes.emplace_back();
        wishes.back().id = std::move(id);
        wishes.back().name = std::move(name);
        wishes.back().fixed = pin;
        wishes.back().output = output;
        return wishes.back();
    };
    for (const auto& channel : project.channels) {
        const auto* planned = findChannel(plan, channel.id);
        if (planned == nullptr || planned->signal == SignalKind::Unknown) continue;
        if (planned->expander) continue;  // on an output of its own
        const bool servo = kinds::isServoPulse(planned->signal);
        const auto pwm = servo ? family.servo_pwm : pwmAsked(*planned, channel);
        wish("channels/" + channel.id + "/pin",
             channel.name + (planned->signal == SignalKind::FanPwm ? " (PWM of a 4-wire fan)"
                             : pwm && !servo                       ? " (PWM)"
                                                                   : ""),
             channel.pin, true)
            .pwm = pwm;
        if (planned->switched_ends > 0) wishes.back().pair = channel.id + "/pin";
        for (const auto& line : linesOf(*planned, channel, project.routine)) {
            auto& made = wish("channels/" + channel.id + "/" + line.field, channel.name + " (" + line.name + ")", line.pin, line.output);
            made.pwm = line.pwm ? pwm : std::nullopt;
            if (!line.pair.empty()) made.pair = channel.id + "/" + std::string{line.pair};
        }
    }
    if (project.board.clock != project::BusClock::None)
        for (const auto& [name, pin] : family.bus)
            wish("board/clock/" + std::string{name}, "Clock (" + std::string{name} + ")", std::string{pin}, false);
    for (const auto& line : sharedLines(plan, project)) {
        auto& made = wish("board/" + std::string{line.field}, line.name, line.pin, line.output);
        if (line.pin.empty()) made.preferred = headerBusPin(family, line.field);
        if (std::string_view{line.field}.starts_with("radio")) wishRadioLine(project, family, made);
    }
    if (fires(plan)) wish("board/crossing_pin", "Mains crossings", project.board.crossing_pin, false).interrupt = family.emulated;
    for (const auto& input : project.inputs) {
        if (!project::hasPin(input.kind)) continue;
        if (expanderOf(input)) continue;  // on a line of its own
        wish("inputs/" + input.id + "/pin", input.name, input.pin, false);
        wishes.back().analog = project::isAnalogue(input.kind);
        wishes.back().interrupt = input.kind == project::InputKind::Tach && family.emulated;
    }
    return wishes;
}

namespace {

// Where lines without a pin could go, or what is in the way.
PinSolution solvePins(const project::Project& project, const Plan& plan, const std::vector<board::PinWish>& wishes) {
    const auto& family = board::family(project.board.form);
    const auto rules = rulesOf(plan);
    PinSolution found;
    auto to_solve = wishes;
    for (auto& wish : to_solve) {
        if (wish.fixed.empty()) ++found.open;
        else if (!board::pinNamed(family, wish.fixed)) ++found.strange, wish.fixed.clear();
    }
    if (found.open + found.strange == 0) return found;
    auto solved = board::assignPins(family, rules, to_solve);
    if (found.strange > 0 && std::holds_alternative<board::PinClash>(solved)) {
        // On a new board nothing has to stay where it is.
        for (auto& wish : to_solve) wish.fixed.clear();
        solved = board::assignPins(family, rules, to_solve);
    }
    if (auto* choices = std::get_if<std::vector<board::PinChoice>>(&solved)) {
        found.choices = std::move(*choices);
        return found;
    }
    found.clash = std::move(std::get<board::PinClash>(solved));
    // One line that sits where another has to: where it can go.
    for (std::size_t w = 0; w < wishes.size() && found.strange == 0; ++w) {
        if (wishes[w].fixed.empty() || wishes[w].id.starts_with("board/")) continue;
        auto tried = to_solve;
        tried[w].preferred = std::exchange(tried[w].fixed, "");
        if (!board::fitsOn(family, rules, tried)) continue;
        auto moved = board::assignPins(family, rules, tried);
        auto* choices = std::get_if<std::vector<board::PinChoice>>(&moved);
        if (choices == nullptr) continue;
        found.choices = std::move(*choices);
        found.moved = w;
        return found;
    }
    found.boards = othersThatWould(project, plan);
    for (const auto& choice : withExpanders(project, plan))
        if (found.expander.empty() && choice.fits) found.expander = choice.name, found.expander_takes = choice.takes.size();
    return found;
}

// The clash in words, and what would end it.
PlanFinding clashFinding(const PinSolution& found, const std::vector<board::PinWish>& wishes) {
    const std::string why = board::clashText(*found.clash, wishes);
    PlanFinding finding{"pins-short", Severity::Stop, Stage::Pins, "", "", {}};
    if (found.moved) {
        const auto& line = wishes[*found.moved];
        std::string to, taken;
        for (const auto& choice : found.choices) {
            if (choice.id == line.id) to = choice.pin;
            for (const auto& wish : wishes)
                if (wish.id == choice.id && wish.fixed.empty() && choice.pin == line.fixed) taken = wish.name;
        }
        Remedy remedy{fmt::format("Move {} to {}", line.name, to), {}, "one wire moves"};
        (void)placesOf(wishes, found.choices, remedy);
        finding.text = fmt::format("{}. When {} moves from {} to {}, {} is free{}, and all of it fits.", why, line.name, line.fixed, to,
                                   line.fixed, taken.empty() ? "" : " for " + taken);
        finding.remedies.push_back(std::move(remedy));
        return finding;
    }
    const std::string others = joined(found.boards, " or the ", [](board::BoardForm form) { return labelOf(form); });
    finding.text = why + ". Free a pin by hand, ask less of one, or " +
                   (others.empty() ? "share the work between two boards." : "take the " + others + ".") +
                   (found.expander.empty() ? "" : fmt::format(" A {} would take {} of the lines.", found.expander, found.expander_takes));
    return finding;
}

// Says what lines without a pin could have, or why they cannot all have one.
void sayPins(const PinSolution& found, const std::vector<board::PinWish>& wishes, Plan& plan) {
    if (found.open + found.strange == 0) return;
    if (found.clash) {
        plan.findings.push_back(clashFinding(found, wishes));
        return;
    }
    Remedy remedy{found.strange > 0 ? "Plan the pins for this board"
                  : found.open == 1 ? "Give it a pin"
                                    : "Give them pins",
                  {},
                  found.strange > 0 ? "wires move" : "wires to run"};
    const std::string where = placesOf(wishes, found.choices, remedy);
    if (found.strange > 0)
        plan.findings.push_back({"board-changed",
                                 Severity::Stop,
                                 Stage::Pins,
                                 "",
                                 fmt::format("{} {} on pins that this board does not have. They fit: {}.", found.strange,
                                             found.strange == 1 ? "line sits" : "lines sit", where),
                                 {std::move(remedy)}});
    else
        plan.findings.push_back(
            {"pins-open",
             Severity::Note,
             Stage::Pins,
             "",
             fmt::format("{} {} no pin yet. They fit: {}.", found.open, found.open == 1 ? "line has" : "lines have", where),
             {std::move(remedy)}});
}

}  // namespace

void offerPins(const project::Project& project, Plan& plan, const Plan* before) {
    auto offer = std::make_shared<PinOffer>();
    offer->form = project.board.form;
    offer->rules = rulesOf(plan);
    const auto wishes = pinWishes(project, plan, board::family(project.board.form));
    offer->wishes = wishes;
    for (auto& wish : offer->wishes) wish.name.clear();
    for (const auto& channel : plan.channels) offer->signals.push_back(channel.signal);
    for (const auto& input : project.inputs) offer->inputs.push_back(input.kind);
    const auto* known = before != nullptr ? before->pin_offer.get() : nullptr;
    if (known != nullptr && known->form == offer->form && known->rules == offer->rules && known->wishes == offer->wishes &&
        known->signals == offer->signals && known->inputs == offer->inputs) {
        plan.pin_offer = before->pin_offer;
    } else {
        offer->solution = solvePins(project, plan, wishes);
        plan.pin_offer = std::move(offer);
    }
    sayPins(plan.pin_offer->solution, wishes, plan);
}

std::vector<std::string> otherPins(const project::Project& project, const Plan& plan, std::string_view pin) {
    if (plan.apart) return otherPins(plan.apart->project(), plan.apart->plan, pin);
    const auto& family = board::family(project.board.form);
    auto wishes = pinWishes(project, plan, family);
    const auto it = std::find_if(wishes.begin(), wishes.end(), [&](const board::PinWish& wish) { return wish.fixed == pin; });
    if (it == wishes.end()) return {};
    std::vector<std::pair<double, std::string>> found;
    for (const auto& other : family.pins) {
        if (std::any_of(wishes.begin(), wishes.end(), [&](const board::PinWish& wish) { return wish.fixed == other.name; })) continue;
        // The whole plan with this line there and the others where they are.
        auto tried = wishes;
        tried[static_cast<std::size_t>(it - wishes.begin())].fixed = std::string{other.name};
        if (!board::fitsOn(family, rulesOf(plan), tried)) continue;
        auto wish = *it;
        wish.fixed.clear();
        if (const auto cost = board::pinCost(family, rulesOf(plan), wish, other)) found.emplace_back(*cost, other.name);
    }
    std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<std::string> names;
    for (auto& [cost, name] : found) names.push_back(std::move(name));
    return names;
}

BoardChoice onBoard(const project::Project& project, const Plan& plan, board::BoardForm form) {
    if (plan.apart) {
        auto choice = onBoard(plan.apart->project(), plan.apart->plan, form);
        for (auto& move : choice.moves) move.path = plan.apart->colours.pathOf(move.path);
        return choice;
    }
    BoardChoice choice;
    choice.form = form;
    const auto& family = board::family(form);
    const auto wishes = pinWishes(project, plan, family);
    auto free = wishes;
    for (auto& wish : free) wish.preferred = std::exchange(wish.fixed, "");
    const auto solved = board::assignPins(family, rulesOf(plan), free);
    if (const auto* clash = std::get_if<board::PinClash>(&solved)) {
        choice.why = board::clashText(*clash, free);
        return choice;
    }
    choice.fits = true;
    if (!family.real_time && beats(plan)) choice.why = "its operating system may hold up pulses and steps";
    for (const auto& found : std::get<std::vector<board::PinChoice>>(solved)) {
        const auto wish = std::find_if(wishes.begin(), wishes.end(), [&](const board::PinWish& w) { return w.id == found.id; });
        if (wish->fixed != found.pin) choice.moves.push_back({found.id, wish->name, wish->fixed, found.pin});
    }
    const auto usable = std::count_if(family.pins.begin(), family.pins.end(), [](const board::Pin& pin) { return !pin.console; });
    choice.spare = static_cast<int>(usable) - static_cast<int>(wishes.size());
    return choice;
}

namespace {

// What of it a maker should know before it is bought. (Usual of each class, from memory.)
const char* noteOf(const driver::RegisterMap& map) {
    if (driver::gives(map) == driver::ExpanderGives::Levels) return "on, off and contacts; too slow for steps, pulses and a tach";
    if (driver::gives(map) == driver::ExpanderGives::Readings) return "a reading of each every few milliseconds, in turn";
    return map.bus == driver::RegisterBus::Serial ? "times the pulses by itself, in steps of a quarter microsecond"
                                                  : "one frequency for all its outputs; 50 Hz makes servo pulses in steps of 4.9 µs";
}

// Whether such a board can serve a channel, as the sketch drives it. @param rate  Hz of its pulses, once one has asked
bool serves(const driver::RegisterMap& map, const project::Project& project, const ChannelPlan& planned, std::optional<double>& rate) {
    const auto* channel = project::findChannel(project, planned.id);
    if (channel == nullptr || planned.expander || !linesOf(planned, *channel, project.routine).empty()) return false;
    const bool servo = kinds::isServoPulse(planned.signal);
    if (map.bus == driver::RegisterBus::Serial) return servo && board::family(project.board.form).real_time;
    if (planned.signal == SignalKind::Switched) return true;
    if (driver::gives(map) == driver::ExpanderGives::Levels || !(servo || planned.signal == SignalKind::Pwm)) return false;
    const double asked = servo ? board::servo_rate : si(channel->signal.frequency);
    if (!driver::expanderRate(map, of<Frequency>(asked))) return false;
    if (!rate) rate = asked;
    return driver::isNearRate(asked, *rate);
}

// What it would take, each with its edits. Servos first: their 50 Hz is given, and whatever else asks for pulses shares it.
void takeLines(const project::Project& project, const Plan& plan, ExpanderChoice& choice, std::vector<std::string>& paths) {
    std::vector<const ChannelPlan*> channels;
    for (const auto& channel : plan.channels) channels.push_back(&channel);
    std::stable_partition(channels.begin(), channels.end(), [](const auto* channel) { return kinds::isServoPulse(channel->signal); });
    std::optional<double> rate;  // that those have who are there already
    if (const auto asked = rateAskedOf(project, plan, {choice.map})) rate = asked->rate;
    int next = 0;
    const auto lines = linesOn(project, plan, {choice.map});
    const auto take = [&](const std::string& path, const char* by, const std::string& value, const std::string& name) {
        while (std::any_of(lines.begin(), lines.end(), [&](const ExpanderLine& line) { return line.output == next; })) ++next;
        if (next >= static_cast<int>(choice.map->figure("outputs"))) return;
        choice.takes.push_back(name);
        choice.edits.push_back({path + by, value});
        choice.edits.push_back({path + "pin", fmt::format("X{}", next++)});
        paths.push_back(path + "pin");
    };
    const auto what = driver::gives(*choice.map);
    if (what != driver::ExpanderGives::Readings)
        for (const auto* channel : channels)
            if (serves(*choice.map, project, *channel, rate)) {
                const bool servo = kinds::isServoPulse(channel->signal);
                take("channels/" + channel->id + "/", servo ? "drive/part" : "drive/expander", servo ? "" : choice.map->id, channel->name);
            }
    for (const auto& input : project.inputs) {
        if (project::hasPin(input.kind) && !expanderOf(input) && readsIt(*choice.map, input))
            take("inputs/" + input.id + "/", "expander", choice.map->id, input.name);
    }
}

}  // namespace

std::vector<ExpanderChoice> withExpanders(const project::Project& project, const Plan& plan) {
    if (plan.apart) {
        auto choices = withExpanders(plan.apart->project(), plan.apart->plan);
        for (auto& choice : choices)
            for (auto& edit : choice.edits) edit.path = plan.apart->colours.pathOf(edit.path);
        return choices;
    }
    std::vector<ExpanderChoice> choices;
    const auto& family = board::family(project.board.form);
    const auto all = pinWishes(project, plan, family);
    for (const auto& map : driver::registerMaps()) {
        if (driver::gives(map) == driver::ExpanderGives::Nothing) continue;
        ExpanderChoice choice;
        choice.map = &map;
        choice.name = fmt::format("{} with {:.0f} outputs", kinds::expanderName(map, 1), map.figure("outputs"));
        choice.note = noteOf(map);
        std::vector<std::string> gone;
        takeLines(project, plan, choice, gone);
        if (choice.takes.empty()) continue;
        std::vector<board::PinWish> rest;
        for (const auto& wish : all)
            if (std::find(gone.begin(), gone.end(), wish.id) == gone.end()) rest.push_back(wish);
        // Its bus goes to any pins; on two wires rather to those that are printed so.
        const auto bus = [&](const char* field, const std::string& has) {
            const std::string id = "board/" + std::string{field};
            if (std::any_of(rest.begin(), rest.end(), [&](const board::PinWish& wish) { return wish.id == id; })) return;
            board::PinWish line;
            line.id = id;
            line.name = "its bus";
            line.fixed = has.empty() ? headerBusPin(family, field) : has;
            if (line.fixed.empty()) line.preferred = printedBusPin(family, field);
            rest.push_back(line);
        };
        if (map.bus == driver::RegisterBus::Serial) bus("expander_serial_pin", project.board.expander_serial_pin);
        else bus("expander_clock_pin", project.board.expander_clock_pin), bus("expander_data_pin", project.board.expander_data_pin);
        // What sits on a header's own bus moves.
        const bool two_wires = map.bus == driver::RegisterBus::TwoWire;
        for (auto& wish : rest) {
            const bool of_bus = wish.id.starts_with("board/expander_");
            const auto sits = [&](const char* field) { return two_wires && !of_bus && wish.fixed == headerBusPin(family, field); };
            if (!wish.fixed.empty() && (sits("expander_clock_pin") || sits("expander_data_pin")))
                wish.preferred = std::exchange(wish.fixed, "");
            if (!board::pinNamed(family, wish.fixed)) wish.fixed.clear();
        }
        const auto solved = board::assignPins(family, rulesOf(plan), rest);
        if (const auto* found = std::get_if<std::vector<board::PinChoice>>(&solved)) {
            choice.fits = true;
            for (const auto& each : *found) {
                const bool of_bus = each.id.starts_with("board/expander_");
                if (of_bus) choice.bus.push_back(each.pin);
                const auto wish = std::find_if(rest.begin(), rest.end(), [&](const board::PinWish& w) { return w.id == each.id; });
                if (of_bus || wish->fixed != each.pin) choice.edits.push_back({each.id, each.pin});
            }
        }
        const auto usable = std::count_if(family.pins.begin(), family.pins.end(), [](const board::Pin& pin) { return !pin.console; });
        choice.spare = static_cast<int>(usable) - static_cast<int>(rest.size());
        choices.push_back(std::move(choice));
    }
    return choices;
}

std::vector<project::FactEdit> editsFor(const ExpanderChoice& choice, const project::Parts& parts) {
    const auto* part = kinds::boardWith(parts.drivers, *choice.map);
    if (part == nullptr || !choice.fits) return {};
    auto edits = choice.edits;
    for (auto& edit : edits)
        if (edit.path.ends_with("drive/part")) edit.value = part->id;
    return edits;
}

std::vector<project::FactEdit> editsFor(const BoardChoice& choice) {
    std::vector<project::FactEdit> edits{{"board/form", nameOf(choice.form)}};
    for (const auto& move : choice.moves) edits.push_back({move.path, move.to});
    return edits;
}

}  // namespace hinge::plan
