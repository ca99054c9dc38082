#include "plan/routine_rules.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <map>
#include "firmware/target.hpp"
#include "plan/feed.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "project/routine_edits.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

void say(Plan& plan, const char* id, Severity severity, const std::string& channel, std::string text, std::vector<Remedy> remedies = {}) {
    add(plan, id, severity, Stage::Routine, channel, std::move(text), std::move(remedies));
}

// "14:30,19:00" as a person says it.
std::string timesInWords(const std::string& times) {
    std::string words;
    for (const char c : times) {
        if (c == ',') words += " and ";
        else if (c != ' ') words += c;
    }
    return words;
}

// Whether a reading or a switch keeps a channel off.
bool isWatched(const project::Project& project, const project::Channel& channel) {
    return std::any_of(project.routine.interlocks.begin(), project.routine.interlocks.end(), [&](const routine::Interlock& each) {
        const auto* input = project::findInput(project, each.input);
        return each.channel == channel.id && input != nullptr &&
               (project::isReading(input->kind) || input->kind == project::InputKind::Sensor);
    });
}

// What can hurt, said where it is chosen.
void addHazards(const project::Project& project, const project::Channel& channel, const ChannelPlan& planned, Plan& plan) {
    const auto say = [&](const char* id, Severity severity, std::string text, std::vector<Remedy> remedies = {}) {
        add(plan, id, severity, Stage::Need, channel.id, std::move(text), std::move(remedies));
    };
    switch (project::channelKind(channel)) {
        case project::ChannelKind::Turn:
        case project::ChannelKind::Move:
        case project::ChannelKind::Press:
            say("pinch-point", Severity::Note,
                channel.name +
                    " can pinch: fingers, hair and cables out of its way, a guard where visitors reach it, and a switch at hand that cuts "
                    "its supply.");
            break;
        case project::ChannelKind::Blow:
            say("pinch-point", Severity::Note,
                channel.name +
                    " has blades: a grille on both sides, hands off until it stands still. A small fan does not replace ventilation or "
                    "rated extraction.");
            break;
        case project::ChannelKind::Switch: break;
        case project::ChannelKind::Heat: {
            const auto& heat = std::get<project::HeatDemand>(channel.demand);
            say("hot-part", Severity::Note, channel.name + " gets hot, and stays so after it is off: keep paper, cloth and fingers away.");
            if (heat.way != project::HeatWay::Cool && !heat.cutout)
                say("heater-cutout", heat.feeding == project::Feeding::Mains ? Severity::Stop : Severity::Warn,
                    channel.name + " has no thermal cut-out of its own: a stuck sketch or a welded contact would heat it without end.",
                    {{"Fit a thermal cut-out",
                      {{"channels/" + channel.id + "/demand/cutout", "yes"}},
                      "a few coins, in series with the heater"}});
            if (heat.way != project::HeatWay::Warm && !isWatched(project, channel))
                say("hot-side-unwatched", Severity::Warn,
                    fmt::format("Nothing watches the hot side of {}: when the fan on its heat-sink stops, the plate cooks itself within "
                                "minutes. Put a thermometer or a thermal switch there, and let {} be off while it is above {}.",
                                channel.name, channel.name, display(heat.hot_side_most)));
            break;
        }
        case project::ChannelKind::Pump:
            say("water-near", Severity::Note,
                "Water near electricity: board and supply above the tank, a drip loop in every wire, a plug you can pull with dry hands. "
                "Follow your local code.");
            break;
    }
    // IEC 60364-4-41, 415.1 (from memory): 30 mA is what protects a person.
    if (onMains(channel) && (project.brief.place == project::Place::Wet || project.brief.place == project::Place::Outdoors))
        say("mains-wet", Severity::Note,
            fmt::format("{} is on the mains {}: a residual-current device of 30 mA before it, an enclosure that splashes do not enter, "
                        "nothing on the mains within reach of wet hands, and low volts wherever they do. Follow your local code; have a "
                        "licensed electrician do or check it.",
                        channel.name, project.brief.place == project::Place::Wet ? "near water" : "outdoors"));
    if (planned.context->own && onMains(channel) && !planned.chosen)
        say("mains-present", Severity::Note,
            channel.name +
                " hangs on the mains: isolation, an enclosure, a fuse, no work while it is live. Follow your local code; have a licensed "
                "electrician do or check the mains side.");
}

// What is asked to go both ways and is driven one way.
void judgeWays(const project::Project& project, Plan& plan) {
    for (const auto& channel : project.channels) {
        const auto* planned = findChannel(plan, channel.id);
        const bool moved = std::any_of(project.routine.cues.begin(), project.routine.cues.end(), [&](const routine::Cue& cue) {
            return std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == channel.id; });
        });
        if (!moved || planned == nullptr || !planned->both_ways || !planned->context->ask.both_ways || isPlaced(*planned) ||
            routine::turnsRound(project.routine, channel.id))
            continue;
        if (project::channelKind(channel) == project::ChannelKind::Heat) {
            const auto loop = std::find_if(project.routine.loops.begin(), project.routine.loops.end(),
                                           [&](const routine::Loop& each) { return each.channel == channel.id; });
            std::vector<Remedy> remedies{{"It only warms", {{"channels/" + channel.id + "/demand/way", "warm"}}, "no plate that cools"}};
            if (loop != project.routine.loops.end())
                remedies.insert(remedies.begin(),
                                {"Let its loop drive it both ways", {{"routine/loops/" + loop->id + "/both", "yes"}}, "costs nothing"});
            say(plan, "never-backwards", Severity::Note, channel.id,
                fmt::format(
                    "{} is to warm and to cool, and no loop drives it both ways: it only ever warms. A loop on its thermometer that "
                    "drives both ways does both.",
                    channel.name),
                std::move(remedies));
            continue;
        }
        say(plan, "never-backwards", Severity::Note, channel.id,
            fmt::format("Need asks {} to go both ways, and no cue drives it backwards: it only ever goes forwards.", channel.name),
            {{"One way is enough", {{"channels/" + channel.id + "/demand/both_ways", "no"}}, "costs nothing"}});
    }
}

// What a guard lets go where its bridge could brake it.
void judgeCoasting(const project::Project& project, Plan& plan) {
    for (const auto& channel : project.channels) {
        const auto* planned = findChannel(plan, channel.id);
        if (planned == nullptr || !planned->chosen || planned->latch) continue;
        const bool brakes = channel.signal.at_rest == project::AtRest::Brake;
        if (brakes && !planned->two_inputs)
            say(plan, "coasts-on", Severity::Note, channel.id,
                fmt::format("{} is to be braked while it is off, and nothing tells its driver to: that takes a bridge with an input for "
                            "each end of the motor.",
                            channel.name),
                {{"It may coast", {{"channels/" + channel.id + "/signal/at_rest", "coast"}}, "its friction stops it"}});
        if (brakes || !planned->two_inputs) continue;
        for (const auto& cue : project.routine.cues) {
            const bool moves =
                std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == channel.id; });
            const auto guard =
                std::find_if(cue.guards.begin(), cue.guards.end(), [](const routine::Guard& each) { return each.throughout; });
            const auto* input = guard != cue.guards.end() ? project::findInput(project, guard->input) : nullptr;
            if (!moves || input == nullptr) continue;
            say(plan, "coasts-on", Severity::Note, channel.id,
                fmt::format("'{}' lets {} go, and it coasts until its friction stops it. Its bridge can brake it.", input->name,
                            channel.name),
                {{"Brake it while it is off", {{"channels/" + channel.id + "/signal/at_rest", "brake"}}, "costs nothing"}});
            break;
        }
    }
}

// Words that somebody would guess.
void judgeWords(const project::Project& project, Plan& plan) {
    for (const auto& input : project.inputs) {
        if (input.kind != project::InputKind::Word || input.word.empty()) continue;
        const std::string plain = routine::identifier(input.word);
        // From memory: among the first that people try; the list is not a published one.
        static constexpr std::array tried{"open",   "close",      "start",  "stop",     "hello",     "test",
                                          "secret", "password",   "admin",  "default",  "letmein",   "unlock",
                                          "sesame", "opensesame", "qwerty", "12345678", "n12345678", "light"};
        bool known = std::find(tried.begin(), tried.end(), plain) != tried.end() || plain == routine::identifier(input.name) ||
                     plain == routine::identifier(project.brief.name);
        for (const auto& channel : project.channels) known = known || plain == routine::identifier(channel.name);
        if (input.word.size() >= 8 && !known) continue;
        const auto fresh = project::addInput(project, project::InputKind::Word, input.name + " " + input.word).inputs.back().word;
        say(plan, "command-guessable", Severity::Warn, "",
            fmt::format("The word of '{}' is one that a passer-by would {}. Take one of eight letters or more that stands on nothing near.",
                        input.name, known ? "try first" : "find by trying: it is short"),
            {{"Take another word", {{"inputs/" + input.id + "/word", fresh}}, "tell those who use it"}});
    }
}

// A way through for people: by what the gadget is said to be, not by what a channel is called.
void judgeWayOut(const project::Project& project, Plan& plan) {
    std::string said;
    for (const char c : project.brief.name + " " + project.brief.purpose) said += isLetterOrDigit(c) ? lowered(c) : ' ';
    for (const auto* word : {" lock", " door", " latch", " hatch", " gate"})
        if ((" " + said).find(word) != std::string::npos) {
            say(plan, "only-way-out", Severity::Note, "",
                fmt::format(
                    "{} must never be the only way out, and is no security device. Decide whether it is open or shut without power, "
                    "and leave a way to open it by hand from inside.",
                    project.brief.name));
            break;
        }
}

// Safe states that are none, and several cues on one output.
void judgeOutputs(const project::Project& project, Plan& plan) {
    for (const auto& channel : project.channels) {
        const bool heats = project::channelKind(channel) == project::ChannelKind::Heat;
        if (channel.safe == project::SafeState::On && (heats || project::channelKind(channel) == project::ChannelKind::Pump))
            say(plan, "no-safe-state", Severity::Stop, channel.id,
                fmt::format("{} is on where it should be safe: at power-up, on stop, on a fault. {}", channel.name,
                            heats ? "A heater that nobody minds burns." : "A pump that nobody minds floods, or runs dry."),
                {{"Off instead", {{"channels/" + channel.id + "/safe", "off"}}, "costs nothing"}});
        if (channel.remembers)
            say(plan, "restart-unattended", Severity::Note, channel.id,
                fmt::format("{} comes on by itself with the power when it was on before. Whoever is near must know; fit a switch that cuts "
                            "its supply.",
                            channel.name));
        // Two cues on one output are no fault, but their rule has to be known.
        std::vector<std::string> movers;
        for (const auto& cue : project.routine.cues)
            if (std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) { return move.channel == channel.id; }))
                movers.push_back(cue.name);
        if (movers.size() > 1)
            say(plan, "overlapping-cues", Severity::Note, channel.id,
                fmt::format(
                    "{} cues move {}: '{}' and '{}'{}. Where they overlap the last command counts, and a cue that is cut short lets go of "
                    "it. {}",
                    movers.size(), channel.name, movers[0], movers[1], movers.size() > 2 ? " among them" : "",
                    routine::turnsRound(project.routine, channel.id)
                        ? "One that wants the other way stops it, lets it stand still, and then turns it round."
                        : "For several sources that share it, let it follow their inputs instead: then it runs until the last has gone."));
    }
}

// What goes round for ever, or comes twice.
void judgeRounds(const project::Project& project, Plan& plan) {
    for (const auto& cue : project.routine.cues) {
        if (si(cue.late) > 0.0)
            say(plan, "fires-twice", Severity::Note, "",
                fmt::format("'{}' makes up for a missed time. A board that starts anew just after it has run, and is told the time at "
                            "once, does not know that: it runs again.",
                            cue.name));
        const auto round = std::find_if(cue.moves.begin(), cue.moves.end(), [](const routine::Move& move) {
            return (move.action == routine::Action::Again || move.action == routine::Action::Sweep) && si(move.times) == 0.0;
        });
        if (round != cue.moves.end() &&
            std::none_of(cue.guards.begin(), cue.guards.end(), [](const routine::Guard& guard) { return guard.throughout; }))
            say(plan, "endless-wait", Severity::Note, round->channel,
                fmt::format("'{}' goes round for ever: only stop, or the power, ends it. An 'unless' that counts also while it runs would.",
                            cue.name));
    }
    // A ring of cues, each started by the end of another, never comes to rest.
    for (const auto& cue : project.routine.cues) {
        const routine::Cue* at = &cue;
        std::size_t steps = 0;
        while (at != nullptr && !at->after.empty() && steps++ < project.routine.cues.size()) {
            const auto next = std::find_if(project.routine.cues.begin(), project.routine.cues.end(),
                                           [&](const routine::Cue& other) { return other.id == at->after; });
            at = next != project.routine.cues.end() ? &*next : nullptr;
            if (at != &cue) continue;
            if (cue.id <= cue.after)
                say(plan, "endless-wait", Severity::Note, "",
                    fmt::format(
                        "'{}' and what starts after it go round for ever once begun: only stop, an 'unless' or the power ends them.",
                        cue.name));
            break;
        }
    }
}

// A clock with a battery, where its two pins are free.
std::vector<Remedy> clockOffered(const project::Project& project) {
    const auto bus = board::family(project.board.form).bus;
    if (bus.empty()) return {};
    for (const auto& [name, pin] : bus) {
        const auto takes = [pin = pin](const std::string& used) { return used == pin; };
        for (const auto& channel : project.channels)
            if (takes(channel.pin) || takes(channel.direction_pin) || takes(channel.enable_pin) || takes(channel.low_pin) ||
                takes(channel.back_low_pin))
                return {};
        for (const auto& input : project.inputs)
            if (takes(input.pin)) return {};
        if (takes(project.board.crossing_pin)) return {};
    }
    return {{"Fit a clock with a battery", {{"board/clock", "clock_bcd"}}, "a small module on the two-wire bus: two pins"}};
}

// What starts by itself, and what needs the time.
void judgeStarts(const project::Project& project, Plan& plan) {
    const auto clock = clockOffered(project);
    for (const auto& cue : project.routine.cues) {
        if (cue.every || cue.at_power_up)
            add(plan, "restart-unattended", Severity::Note, Stage::Routine, "",
                fmt::format("'{}' starts by itself{}. Whoever is near must know; fit a switch that cuts the movers' supply.", cue.name,
                            cue.at_power_up ? ", as soon as the power comes back" : ""));
        if (cue.times.empty()) continue;
        if (project.board.clock != project::BusClock::None)
            add(plan, "clock-battery", Severity::Note, Stage::Routine, "",
                fmt::format("'{}' starts at {}. Its clock keeps the time by a battery. When that is empty, or the clock does not answer, "
                            "it waits until the time is set over the link; change the battery every few years.",
                            cue.name, timesInWords(cue.times)));
        else
            add(plan, "clock-lost", Severity::Note, Stage::Routine, "",
                fmt::format(
                    "'{}' starts at {}. After a power cut the board has lost the time: it waits until the time is set over the link, and "
                    "{}.",
                    cue.name, timesInWords(cue.times),
                    si(cue.late) > 0.0 ? "makes up for what it missed by " + displayPlain(cue.late) + " at most" : "does not catch up"),
                clock);
        add(plan, "restart-unattended", Severity::Note, Stage::Routine, "",
            fmt::format("'{}' starts by itself. Whoever is near must know; fit a switch that cuts the movers' supply.", cue.name));
    }
}

// Where things stand at power-up, what can hurt, what runs dry.
void judgeMovers(const project::Project& project, Plan& plan) {
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        const routine::Cue* finds = nullptr;  // the cue that looks for its start; one of the power-up before all others
        for (const auto& cue : project.routine.cues)
            if ((finds == nullptr || (cue.at_power_up && !finds->at_power_up)) &&
                std::any_of(cue.moves.begin(), cue.moves.end(),
                            [&](const routine::Move& move) { return move.action == routine::Action::Home && move.channel == channel.id; }))
                finds = &cue;
        if (planned.signal == SignalKind::Steps && isDriven(planned) && finds != nullptr && !finds->at_power_up)
            add(plan, "no-homing", Severity::Note, Stage::Routine, channel.id,
                fmt::format("At power-up nobody knows where {} stands: until '{}' has found its start, every cue that moves it gives up.",
                            channel.name, finds->name),
                {{"Let it look when the power comes", {{"routine/cues/" + finds->id + "/at_power_up", "yes"}}, "it moves by itself then"}});
        if (planned.signal == SignalKind::Steps && isDriven(planned) && finds == nullptr)
            add(plan, "no-homing", Severity::Note, Stage::Routine, channel.id,
                fmt::format("At power-up {} counts from wherever it stands. Stand it at its start before you plug in, or after a power cut "
                            "its places are wrong.",
                            channel.name));
        if (planned.signal == SignalKind::ServoPulse && isDriven(planned))
            add(plan, "first-move-jumps", Severity::Note, Stage::Routine, channel.id,
                fmt::format("The first move of {} after power-up starts with a jump to where the move begins, at the servo's own speed.",
                            channel.name));
        const bool held = routine::isHeld(project.routine, channel.id);
        if (channel.signal.let_go_after && isDriven(planned) && isPlaced(planned) && (held || !planned.context->ask.self_locking))
            add(plan, "let-go", Severity::Note, Stage::Routine, channel.id,
                held ? fmt::format("{} is not let go after {}: a loop holds it.", channel.name, displayPlain(*channel.signal.let_go_after))
                     : fmt::format("After {} at rest nothing holds {} but its own friction: what its load pulls then moves it, and its "
                                   "next move starts from where it was told to be.",
                                   displayPlain(*channel.signal.let_go_after), channel.name),
                {{"Hold it for ever", {{"channels/" + channel.id + "/signal/let_go_after", ""}}, "its driver and motor stay warm"}});
        if (planned.latch)
            add(plan, "latch-stays", Severity::Note, Stage::Routine, channel.id,
                fmt::format("Without power {} stays as it was: what it has let through it goes on letting through. When the power comes "
                            "back, and on stop, it is pulsed to where it is safe.",
                            channel.name));
        addHazards(project, channel, *findChannel(plan, channel.id), plan);
        if (project::channelKind(channel) != project::ChannelKind::Pump) continue;
        const bool stops_dry = std::any_of(project.routine.interlocks.begin(), project.routine.interlocks.end(),
                                           [&](const routine::Interlock& i) { return i.channel == channel.id; });
        if (!stops_dry && !project.inputs.empty())
            add(plan, "dry-run", Severity::Note, Stage::Routine, channel.id,
                fmt::format("Nothing stops {} when its tank is empty. A float switch and an interlock would.", channel.name));
    }
}

}  // namespace

void add(Plan& plan, std::string id, Severity severity, Stage stage, const std::string& channel, std::string text,
         std::vector<Remedy> remedies) {
    plan.findings.push_back({std::move(id), severity, stage, channel, std::move(text), std::move(remedies)});
}

void judgeRoutine(const project::Project& project, Plan& plan) {
    judgeWays(project, plan);
    judgeCoasting(project, plan);
    judgeWords(project, plan);
    judgeRadio(project, plan);
    judgeRadioLine(project, plan);
    judgeWayOut(project, plan);
    judgeOutputs(project, plan);
    judgeRounds(project, plan);
    for (const auto& input : project.inputs)
        if (input.kind == project::InputKind::Days)
            say(plan, "clock-lost", Severity::Note, "",
                fmt::format("'{}' needs the date with the time: until both are set it is not true, and what runs only while it is waits.",
                            input.name));
}

void judgeAsked(const project::Project& project, Plan& plan) {
    for (const auto& cue : project.routine.cues) {
        std::map<std::string, double> stands;  // where each mover stands as the cue goes on, from its start
        for (const auto& move : cue.moves) {
            const auto* channel = project::findChannel(project, move.channel);
            const auto* planned = channel != nullptr ? findChannel(plan, channel->id) : nullptr;
            if (planned == nullptr || !planned->chosen) continue;
            const auto& chosen = *planned->chosen;
            const std::string path = "routine/cues/" + cue.id + "/moves/" + move.id + "/time";
            if (const auto* pump = std::get_if<project::PumpDemand>(&channel->demand);
                pump != nullptr && move.action == routine::Action::Run && move.time && pump->volume && planned->dose_time) {
                const double share = si(*move.time) / si(*planned->dose_time);
                if (share < 0.9 || share > 1.1)
                    add(plan, "dose-off", Severity::Warn, Stage::Routine, channel->id,
                        fmt::format("'{}' runs {} for {}: that pours {}; Need asks for {} a dose, which takes {}.", cue.name, channel->name,
                                    display(*move.time), display(Kind::Volume, share * si(*pump->volume)), display(*pump->volume),
                                    display(*planned->dose_time)),
                        {{"Let it run for its dose", {{path, ""}}, ""}});
                continue;
            }
            const bool goes = move.action == routine::Action::Go, sweeps = move.action == routine::Action::Sweep;
            const auto& ask = planned->context->ask;
            if (planned->signal != SignalKind::ServoPulse || !(goes || sweeps) || !ask.angle || std::isnan(chosen.numbers.move_time))
                continue;
            const double whole = si(*ask.angle), to = move.angle ? si(*move.angle) : whole;
            const bool by = goes && move.from_here;
            const double way = sweeps || by ? to : std::abs(to - stands[channel->id]);
            if (by) stands[channel->id] += move.backwards ? -to : to;
            else stands[channel->id] = sweeps ? whole / 2.0 : to;
            if (!move.time || way <= 0.0) continue;
            const double needs = chosen.numbers.move_time * way / whole, given = sweeps ? si(*move.time) / 2.0 : si(*move.time);
            if (given >= needs * (1 - 1e-6)) continue;
            add(plan, "asked-too-fast", Severity::Warn, Stage::Routine, channel->id,
                fmt::format("'{}' gives {} {} for {}; under its load it needs {}, and arrives late.", cue.name, channel->name,
                            display(Kind::Duration, given), display(Kind::Angle, way), display(Kind::Duration, needs)),
                {{"Give it that time", {{path, exactText(Kind::Duration, (sweeps ? 2.0 : 1.0) * needs * 1.01)}}, ""}});
        }
    }
}

void judgeTheRest(const project::Project& project, Plan& plan) {
    for (const auto& follower : project.routine.followers)
        if (const auto* channel = project::findChannel(project, follower.channel))
            add(plan, "restart-unattended", Severity::Note, Stage::Routine, follower.channel,
                fmt::format("{} follows an input by itself, also when the power comes back. Whoever is near must know; fit a switch that "
                            "cuts the movers' supply.",
                            channel->name));
    judgeStarts(project, plan);
    judgeMovers(project, plan);
}

}  // namespace hinge::plan
