#include "stages/facts_view.hpp"
#include <algorithm>
#include "kinds/expander.hpp"
#include "plan/colours.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"

namespace hinge::app {
namespace {

using project::Stage;

// "rails/movers/fuse" is of list "rails", entry "movers", leaf "fuse".
struct Place {
    std::string list, entry, leaf;
};
Place placeOf(const std::string& path) {
    const auto first = path.find('/');
    const auto second = first == std::string::npos ? first : path.find('/', first + 1);
    if (second == std::string::npos) return {path.substr(0, first), "", first == std::string::npos ? "" : path.substr(first + 1)};
    return {path.substr(0, first), path.substr(first + 1, second - first - 1), path.substr(second + 1)};
}

// What of a channel has a meaning for its demand, its part and its driver.
bool channelFactApplies(const Model& model, const project::Channel& channel, const std::string& leaf) {
    using plan::SignalKind;
    const auto* planned = plan::findChannel(model.plan, channel.id);
    const auto* driver = project::findDriver(model.parts, channel.drive.part);
    const auto signal = planned != nullptr ? planned->signal : SignalKind::Unknown;
    const auto kind = project::channelKind(channel);
    const bool shaft = planned != nullptr && planned->context->ask.torque.has_value();
    if (leaf.starts_with("demand/")) return project::applies(channel.demand, leaf.substr(7));
    if (leaf.starts_with("calibration/cup")) return kind == project::ChannelKind::Pump;
    if (leaf == "calibration/pulse_stop") return signal == SignalKind::SpeedPulse;
    if (leaf.starts_with("calibration/pulse")) return signal == SignalKind::ServoPulse;
    if (leaf.starts_with("work/")) return kind != project::ChannelKind::Pump && kind != project::ChannelKind::Switch;
    if (leaf == "drive/gate_resistor" || leaf == "drive/pulldown" || leaf == "drive/pulldown_side")
        return driver == nullptr ? kind == project::ChannelKind::Pump : kinds::driverKind(*driver).has(leaf.substr(6));
    if (leaf == "drive/heat_sink")
        return channel.drive.heat_sink.has_value() || (planned != nullptr && planned->chosen && planned->chosen->numbers.heat > 0.5);
    if (leaf == "drive/base_resistor") return driver != nullptr && kinds::driverKind(*driver).has("base_resistor");
    if (leaf == "drive/led_resistor") return planned != nullptr && planned->chosen && planned->chosen->led_resistor.has_value();
    if (leaf == "drive/expander") return !channel.drive.expander.empty() || (driver != nullptr && !kinds::driverKind(*driver).own_outputs);
    if (leaf == "drive/expander_board")
        return si(channel.drive.expander_board) != 1.0 ||
               (planned != nullptr && planned->expander && planned->expander->map->figure("addresses") > 1.0);
    if (leaf == "drive/gear_ratio") return shaft;
    if (leaf == "drive/flyback_diode")
        return planned != nullptr && std::any_of(planned->protection.begin(), planned->protection.end(),
                                                 [](const match::Protection& p) { return p.what == "flyback diode"; });
    if (leaf == "signal/let_go_after")
        return planned != nullptr && plan::isPlaced(*planned) && !routine::isHeld(model.project.routine, channel.id);
    if (leaf == "signal/at_rest") return planned != nullptr && planned->two_inputs && !planned->latch;
    if (leaf == "signal/share_of") return signal == SignalKind::PartWaves;
    if (leaf == "signal/turn_pause") return routine::turnsRound(model.project.routine, channel.id);
    if (leaf == "signal/microsteps") return kinds::isSteps(signal);
    if (leaf == "signal/frequency" || leaf == "signal/soft_start" || leaf == "signal/duty")
        return signal == SignalKind::Pwm || signal == SignalKind::Unknown ||
               (leaf != "signal/frequency" &&
                (signal == SignalKind::SpeedPulse || signal == SignalKind::StepRate || signal == SignalKind::PartWaves)) ||
               (leaf == "signal/duty" && (signal == SignalKind::FanPwm || (planned != nullptr && planned->mains.has_value()))) ||
               (leaf == "signal/soft_start" && signal == SignalKind::Switched && kind == project::ChannelKind::Pump);
    if (leaf == "signal/hold_share") return planned != nullptr && planned->registers && plan::isPlaced(*planned);
    if (leaf == "signal/stall_level")
        return planned != nullptr && planned->registers && planned->registers->map->field("stall_level") != nullptr;
    if (leaf == "green_pin" || leaf == "blue_pin") return plan::hasColours(model.parts, channel);
    if (leaf == "direction_pin" || leaf == "enable_pin" || leaf == "select_pin" || leaf == "low_pin" || leaf == "back_low_pin") {
        const auto lines = planned != nullptr ? plan::linesOf(*planned, channel, model.project.routine) : std::vector<plan::PinLine>{};
        return std::any_of(lines.begin(), lines.end(), [&](const plan::PinLine& line) { return line.field == leaf; });
    }
    return true;
}

// Of a move: where it goes, only when it goes; and an angle or a way, not both.
bool moveFactApplies(const Model& model, const std::string& path) {
    for (const auto& cue : model.project.routine.cues)
        for (std::size_t m = 0; m < cue.moves.size(); ++m) {
            const auto& move = cue.moves[m];
            const std::string base = "routine/cues/" + cue.id + "/moves/" + move.id + "/";
            if (!path.starts_with(base)) continue;
            const auto leaf = path.substr(base.size());
            using routine::Action;
            if (leaf == "input") return move.action == Action::Until || move.action == Action::Home;
            if (leaf == "released") return move.action == Action::Until;
            if (leaf == "together") return m > 0;
            if (leaf == "in_line")
                return move.in_line || (m > 0 && move.together && move.action == Action::Go && cue.moves[m - 1].action == Action::Go);
            if (leaf == "from_here") return move.action == Action::Go;
            if (leaf == "times") return move.action == Action::Again;
            if (leaf == "time")
                return move.action != Action::On && move.action != Action::Off && move.action != Action::Toggle &&
                       move.action != Action::Again && move.action != Action::Clear && move.action != Action::Brake;
            if (leaf == "backwards") {
                const auto* planned = plan::findChannel(model.plan, move.channel);
                return move.backwards || (move.action == Action::Go && move.from_here) ||
                       (planned != nullptr && planned->both_ways && (move.action == Action::Run || move.action == Action::On));
            }
            if (leaf == "colour") {
                const auto* of = project::findChannel(model.project, move.channel);
                return !move.colour.empty() || (of != nullptr && plan::hasColours(model.parts, *of) &&
                                                (move.action == Action::Run || move.action == Action::On || move.action == Action::Fade));
            }
            if (leaf == "level") return move.action == Action::Run || move.action == Action::On || move.action == Action::Fade;
            if (leaf != "angle" && leaf != "place") return true;
            const auto* planned = plan::findChannel(model.plan, move.channel);
            const bool along = planned != nullptr && planned->context->ask.travel_per_turn.has_value();
            return (move.action == Action::Go || move.action == Action::Sweep || move.action == Action::Home) && (leaf == "place") == along;
        }
    return true;
}

void addChoices(const Model& model, project::Fact& fact, const project::Channel* channel) {
    const auto leaf = fact.path.substr(fact.path.rfind('/') + 1);
    auto& choices = fact.choices;
    const auto* planned = channel != nullptr ? plan::findChannel(model.plan, channel->id) : nullptr;
    if (leaf == "actuator" && planned != nullptr) {
        // Only what can do this kind of job, by name.
        const match::Context& context = planned->context;
        if (context.own) choices.emplace_back(match::own_load_id, "your own load");
        for (const auto& part : model.parts.actuators)
            if (match::glance(context, part, context.rails.front()).suits)
                choices.emplace_back(actuator::head(part).id, actuator::head(part).name);
    }
    if (leaf == "part" && planned != nullptr) {
        const auto* part = match::partOf(planned->context, model.parts, channel->actuator);
        const auto method =
            part != nullptr ? std::optional(match::glance(planned->context, *part, planned->context->rails.front()).method) : std::nullopt;
        for (const auto& driver : model.parts.drivers)
            if (!method || kinds::canDrive(driver, *method) || driver.id == channel->drive.part)
                choices.emplace_back(driver.id, driver.name);
    }
    if (leaf == "expander") {
        const auto* input = channel == nullptr ? project::findInput(model.project, placeOf(fact.path).entry) : nullptr;
        const bool reads = input != nullptr && project::isAnalogue(input->kind);
        choices.emplace_back("", "the board itself");
        for (const auto& map : driver::registerMaps())
            if (kinds::takesOthers(map) && (reads == (driver::gives(map) == driver::ExpanderGives::Readings)))
                choices.emplace_back(map.id, kinds::expanderName(map, 1) + ", I²C");
    }
    if (leaf == "rail") {
        if (fact.path.starts_with("inputs/")) choices.emplace_back("", "the board's logic supply");
        for (const auto& rail : model.project.rails) choices.emplace_back(rail.id, rail.name);
    }
    const auto* input = fact.path.starts_with("inputs/") ? project::findInput(model.project, placeOf(fact.path).entry) : nullptr;
    const auto lies = planned != nullptr ? planned->expander : input != nullptr ? plan::expanderOf(*input) : std::nullopt;
    if (leaf == "pin" && lies) {
        for (int output = 0; output < static_cast<int>(lies->map->figure("outputs")); ++output) {
            const auto name = fmt::format("X{}", output);
            std::string words = fmt::format("{} of the {}", name, kinds::expanderName(*lies->map, lies->board));
            for (const auto& other : plan::linesOn(model.project, model.plan, *lies))
                if (other.output == output && other.path != fact.path) words += " · " + other.name;
            choices.emplace_back(name, words);
        }
    } else if (leaf == "pin" || leaf.ends_with("_pin"))
        for (const auto& pin : board::family(model.project.board.form).pins) {
            std::string words{pin.name};
            if (pin.pwm_timer >= 0) words += " · PWM, " + board::timerName(board::family(model.project.board.form), pin.pwm_timer);
            if (!pin.shares.empty()) words += " · " + std::string{pin.shares};
            choices.emplace_back(std::string{pin.name}, words);
        }
    if (leaf == "instead_of") {
        choices.emplace_back("", "no other");
        for (const auto& source : model.project.sources)
            if (!fact.path.starts_with("sources/" + source.id + "/")) choices.emplace_back(source.id, source.name);
    }
    if (leaf == "after") {
        choices.emplace_back("", "no other");
        for (const auto& cue : model.project.routine.cues)
            if (!fact.path.starts_with("routine/cues/" + cue.id + "/")) choices.emplace_back(cue.id, cue.name);
    }
    if (leaf == "counts")
        for (const auto& cue : model.project.routine.cues) choices.emplace_back(cue.id, cue.name);
    if (leaf == "belongs_to") {
        choices.emplace_back("", "nothing that the board drives");
        for (const auto& each : model.project.channels) choices.emplace_back(each.id, each.name);
    }
    if (leaf == "sets") {
        choices.emplace_back("", "nothing");
        if (model.plan.program)
            for (const auto& parameter : model.plan.program->parameters)
                choices.emplace_back(parameter.name, parameter.name + " · " + parameter.meaning);
    }
    if (leaf == "channel" && fact.path.starts_with("routine/followers/"))
        for (const auto& each : model.project.channels) choices.emplace_back(each.id, each.name);
    if (leaf == "input" || leaf == "unless") {
        choices.emplace_back("", "nothing");
        for (const auto& input : model.project.inputs) choices.emplace_back(input.id, input.name);
    }
}

QString headingOf(const Model& model, const Place& place) {
    const auto& p = model.project;
    if (place.list == "rails")
        if (const auto* rail = project::findRail(p, place.entry)) return text(rail->name);
    if (place.list == "inputs")
        if (const auto* input = project::findInput(p, place.entry)) return text(input->name);
    if (place.list == "sources")
        if (const auto* source = project::findSource(p, place.entry)) return text(source->name);
    if (place.list == "routine" && place.entry == "cues")
        for (const auto& cue : p.routine.cues)
            if (place.leaf.starts_with(cue.id + "/")) return text(cue.name);
    return {};
}

}  // namespace

std::vector<FactGroup> factsOf(const Model& model, Stage stage, const QString& channel) {
    const std::string id = channel.toStdString();
    const auto* decided = project::findChannel(model.project, id);
    std::vector<FactGroup> groups;
    for (auto& fact : project::facts(model.project)) {
        const Place place = placeOf(fact.path);
        const bool of_channel = place.list == "channels";
        if (of_channel && (decided == nullptr || place.entry != id)) continue;
        if (decided != nullptr && place.list == "brief" && stage == Stage::Need) continue;
        // The cup is Need's quick measurement and Tune's calibration.
        const bool cup = of_channel && place.leaf.starts_with("calibration/") && stage == Stage::Tune;
        if (fact.stage != stage && !cup) continue;
        if (place.list == "routine" && !moveFactApplies(model, fact.path)) continue;
        // Ways of starting that a cue does not use are offered behind its sentence.
        const auto end = fact.path.substr(fact.path.rfind('/') + 1);
        if (place.list == "routine" &&
            ((end == "held" || end == "every" || end == "after") ? !fact.known
                                                                 : (end == "on_release" || end == "at_power_up") && fact.text == "no"))
            continue;
        if (place.list == "inputs")
            if (const auto* input = project::findInput(model.project, place.entry); input != nullptr && !plan::inputHas(*input, place.leaf))
                continue;
        if (place.list == "inputs" && place.leaf == "active_high")
            if (const auto* input = project::findInput(model.project, place.entry); input != nullptr)
                fact.choices.front().second = project::isReading(input->kind) ? "as usual: yes" : "as usual: no";
        if (end == "late" && fact.text == "0 s") continue;
        if (fact.path == "board/radio_apart" && !model.project.board.radio) continue;
        if (fact.path.starts_with("board/radio_") && fact.path != "board/radio_apart" && !plan::hasOwnRadio(model.project.board)) continue;
        if (fact.path == "board/crossing_pin" && !fact.known && !plan::fires(model.plan)) continue;
        if ((fact.path.starts_with("board/register_") || fact.path.starts_with("board/expander_")) && !fact.known) {
            const auto lines = plan::sharedLines(model.plan, model.project);
            if (std::none_of(lines.begin(), lines.end(), [&](const auto& line) { return fact.path == "board/" + std::string{line.field}; }))
                continue;
        }
        if (place.list == "rails") {
            const auto* rail = project::findRail(model.project, place.entry);
            if (rail == nullptr || !power::applies(*rail, place.leaf)) continue;
        }
        if (place.list == "sources") {
            const auto* source = project::findSource(model.project, place.entry);
            if (source == nullptr || !power::applies(*source, place.leaf)) continue;
            if (place.leaf == "instead_of" && model.project.sources.size() < 2) continue;
        }
        if (of_channel && !channelFactApplies(model, *decided, place.leaf)) continue;
        if (of_channel && place.leaf.starts_with("fit/") &&
            !proof::fitApplies(model.project, model.parts, model.plan, id, place.leaf.substr(4)))
            continue;
        if (fact.type == project::FactType::Text) addChoices(model, fact, decided);
        const QString heading = !of_channel ? headingOf(model, place)
                                : stage == Stage::Need && place.leaf.starts_with("calibration/")
                                    ? QObject::tr("Or measured, by cup and clock")
                                : place.leaf.starts_with("work/")    ? QObject::tr("How often")
                                : place.leaf.starts_with("weights/") ? QObject::tr("What counts in the ranking")
                                                                     : QString();
        if (groups.empty() || groups.back().heading != heading) groups.push_back({heading, {}});
        groups.back().facts.push_back(std::move(fact));
    }
    return groups;
}

}  // namespace hinge::app
