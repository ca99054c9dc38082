#include "plan/behaviour.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <map>
#include "firmware/runtime/spark_drive_rate.h"
#include "plan/apart.hpp"
#include "plan/feed.hpp"
#include "plan/routine_rules.hpp"
#include "project/routine_edits.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// How far and how fast a servo or stepper is sent, in the sketch's own units.
routine::ChannelNumbers::Places placesOf(const ChannelPlan& planned) {
    routine::ChannelNumbers::Places places;
    const auto& ask = planned.context->ask;
    const auto& motion = planned.motion;
    const auto& n = planned.chosen->numbers;
    places.move_time = ask.time.value_or(of<Duration>(1.0));
    if (planned.signal == SignalKind::ServoPulse) {
        places.kind = routine::OutputKind::Servo;
        places.per_unit = *motion.pulse_per_angle * 2e6;
        places.start = static_cast<std::int32_t>(std::lround(si(*motion.pulse_from) * 2e6));
        places.furthest = static_cast<std::int32_t>(std::lround(si(*motion.pulse_to) * 2e6));
    } else {
        places.kind = routine::OutputKind::Stepper;
        places.along = ask.travel_per_turn.has_value();
        const double whole = places.along ? si(*ask.stroke) : si(*ask.angle);
        places.per_unit = whole > 0.0 ? si(*motion.steps) / whole : 0.0;
        places.furthest = static_cast<std::int32_t>(std::min<double>(routine::largest_place, si(*motion.steps)));
    }
    // The stand-in's winding takes its drive squared: the share that leaves the holding current.
    if (!std::isnan(n.running) && n.running > 0.0)
        places.hold = static_cast<std::int32_t>(std::lround(1000.0 * std::sqrt(std::clamp(n.rest / n.running, 0.0, 1.0))));
    return places;
}

routine::InputSource sourceOf(project::InputKind kind) {
    using K = project::InputKind;
    using S = routine::InputSource;
    return kind == K::Word      ? S::Word
           : kind == K::Number  ? S::Number
           : kind == K::Counter ? S::Counter
           : kind == K::Days    ? S::Days
           : kind == K::Tach    ? S::Tach
                                : S::Pin;
}

// The other verb for every move of the channel that one move of it cannot be asked for.
Remedy otherVerb(const project::Project& project, const std::string& field, bool goes) {
    Remedy remedy{goes ? "Let it run for a time" : "Send it to a place", {}, "costs nothing"};
    std::string channel;
    const auto each = [&](const auto& visit) {
        for (const auto& cue : project.routine.cues)
            for (const auto& move : cue.moves) visit("routine/cues/" + cue.id + "/moves/" + move.id, move);
    };
    each([&](const std::string& path, const routine::Move& move) {
        if (path == field) channel = move.channel;
    });
    each([&](const std::string& path, const routine::Move& move) {
        const bool refused = goes ? move.channel == channel && move.action == routine::Action::Go : path == field;
        if (!refused) return;
        remedy.edits.push_back({path + "/action", goes ? "run" : "go"});
        if (goes) remedy.edits.push_back({path + "/time", "10 s"});
    });
    return remedy;
}

}  // namespace

namespace {

std::vector<routine::ChannelNumbers> channelNumbers(const project::Project& project, const Plan& plan) {
    std::vector<routine::ChannelNumbers> channels;
    std::int32_t turn = 0;  // ticks
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        if (!isDriven(planned)) continue;
        routine::ChannelNumbers numbers;
        numbers.id = channel.id;
        numbers.name = channel.name;
        numbers.dose_time = planned.dose_time;
        numbers.longest = of<Duration>(planned.dose_time ? si(*planned.dose_time) * 4.0 : 60.0);
        numbers.duty = channel.signal.duty;
        numbers.ramp = planned.pwm || planned.signal == SignalKind::PartWaves || (isPulsed(planned) && !isPlaced(planned))
                           ? channel.signal.soft_start
                           : Duration{};
        numbers.off_delay = channel.off_delay;
        // Of 65 536 steps the last is not told apart: levels and compare registers have 16 bits.
        numbers.top = planned.pwm ? static_cast<std::int32_t>(std::min(si(planned.pwm->steps), 65'535.0))
                      : planned.signal == SignalKind::WholeCycles || planned.signal == SignalKind::PartWaves ? 1000
                                                                                                             : 1;
        // Of an end with an input for each switch the pauses are no part of it.
        if (planned.dead_time) numbers.top -= 2 * static_cast<std::int32_t>(std::lround(si(planned.dead_time->ticks)));
        // One after another: a coil that latches waits for those before it.
        if (planned.latch) {
            numbers.latch = std::max(1, static_cast<int>(std::lround(1000.0 * si(*planned.latch))));
            numbers.latch_turn = turn;
            turn += numbers.latch + 20;
        }
        if (planned.signal == SignalKind::PartWaves && planned.mains) {
            numbers.half_waves = si(planned.mains->frequency);
            numbers.of_volts = channel.signal.share_of == project::ShareOf::Volts;
        }
        if (planned.signal == SignalKind::StepRate) numbers.top = spark::rate_top, numbers.step_rate = si(*planned.motion.step_rate);
        // In half microseconds of pulse.
        if (planned.motion.pulse_span) {
            numbers.top = static_cast<std::int32_t>(std::lround(si(*planned.motion.pulse_span) * 2e6));
            numbers.pulse_still = static_cast<std::int32_t>(std::lround(si(*planned.motion.pulse_still) * 2e6));
        }
        if (isPlaced(planned)) {
            numbers.places = placesOf(planned);
            numbers.places->let_go = channel.signal.let_go_after;
        }
        numbers.rest = channel.safe == project::SafeState::On      ? routine::Rest::On
                       : channel.safe == project::SafeState::Start ? routine::Rest::Start
                                                                   : routine::Rest::Off;
        numbers.remembered = channel.remembers;
        numbers.both_ways = planned.both_ways;
        numbers.two_inputs = planned.two_inputs;
        numbers.configured =
            planned.registers.has_value() || (planned.expander && planned.expander->map->bus == driver::RegisterBus::TwoWire);
        numbers.brakes = planned.two_inputs && !planned.latch && channel.signal.at_rest == project::AtRest::Brake;
        numbers.turn_pause = channel.signal.turn_pause;
        channels.push_back(numbers);
    }
    return channels;
}

std::vector<routine::InputNumbers> inputNumbers(const project::Project& project, const Plan& plan) {
    std::vector<routine::InputNumbers> inputs;
    // Of what is not driven it says what it sees: that stands still.
    const auto belongsTo = [&](const project::Input& input) -> std::string {
        const auto* planned = findChannel(plan, input.belongs_to);
        return !project::canBelong(input) || (planned != nullptr && !isDriven(*planned)) ? "" : input.belongs_to;
    };
    for (const auto& input : project.inputs)
        inputs.push_back({input.id, input.name, project::activeHigh(input), input.debounce, project::isAnalogue(input.kind), input.upper,
                          input.lower, sourceOf(input.kind), input.word, input.timeout, input.counts, input.limit, input.weekdays,
                          input.from_date, input.to_date, input.sets, belongsTo(input), input.run_up,
                          input.wired == project::Wired::DriverLine});
    return inputs;
}

// What cannot be driven yet stands still; the rest of its cues runs.
routine::Routine drivenRoutine(const project::Project& project, const Plan& plan) {
    routine::Routine ready = project.routine;
    const auto waits = [&](const std::string& id) {
        const auto* planned = findChannel(plan, id);
        return planned != nullptr && !isDriven(*planned);
    };
    std::erase_if(ready.cues, [&](routine::Cue& cue) {
        return std::erase_if(cue.moves, [&](const routine::Move& move) { return waits(move.channel); }) > 0 && cue.moves.empty();
    });
    std::erase_if(ready.interlocks, [&](const routine::Interlock& interlock) {
        return waits(interlock.channel) ||
               std::any_of(interlock.terms.begin(), interlock.terms.end(), [&](const routine::Term& term) { return waits(term.channel); });
    });
    std::erase_if(ready.loops, [&](const routine::Loop& loop) { return waits(loop.channel); });
    std::erase_if(ready.followers, [&](const routine::Follower& follower) { return waits(follower.channel); });
    // A cue that is left out cannot end, and so starts nothing.
    for (auto& cue : ready.cues)
        if (!cue.after.empty() &&
            std::none_of(ready.cues.begin(), ready.cues.end(), [&](const routine::Cue& other) { return other.id == cue.after; }) &&
            std::any_of(project.routine.cues.begin(), project.routine.cues.end(),
                        [&](const routine::Cue& other) { return other.id == cue.after; }))
            cue.after.clear();
    return ready;
}

void judgeProofs(const project::Project& project, Plan& plan) {
    for (const auto& proof : *plan.proofs) {
        if (proof.status != routine::ProofStatus::Violated) continue;
        std::vector<Remedy> remedies;
        if (proof.claim == routine::Claim::Ends) {
            const auto* stays = project::findChannel(project, proof.id);
            add(plan, "endless-wait", Severity::Warn, Stage::Routine, proof.id,
                fmt::format("{} can be on with nothing left that turns it off but stop and the power: its story is {} steps long. Let "
                            "the cue end it, or another input.",
                            stays != nullptr ? stays->name : proof.id, proof.story.size()));
            continue;
        }
        const auto rule = std::find_if(project.routine.interlocks.begin(), project.routine.interlocks.end(),
                                       [&](const routine::Interlock& i) { return i.id == proof.id; });
        std::string channel;
        if (rule != project.routine.interlocks.end()) {
            channel = rule->channel;
            Remedy hold{"Also while it runs", {}, "costs nothing"};
            for (const auto& cue : project.routine.cues)
                for (const auto& guard : cue.guards)
                    if (!rule->input.empty() && guard.input == rule->input && !guard.throughout)
                        hold.edits.push_back({"routine/cues/" + cue.id + "/guards/" + guard.id + "/throughout", "yes"});
            if (!hold.edits.empty()) remedies.push_back(hold);
        }
        add(plan, "interlock-violable", Severity::Stop, Stage::Routine, channel,
            fmt::format("Never '{}': yet it can happen, in {} steps.", proof.text, proof.story.size()), remedies);
    }
}

}  // namespace

void evaluateBehaviour(const project::Project& project, const Evidence& evidence, Plan& plan) {
    auto program = routine::compile(drivenRoutine(project, plan), channelNumbers(project, plan), inputNumbers(project, plan));
    if (program) {
        plan.program = std::move(*program);
        plan.program->clock_kept = project.board.clock != project::BusClock::None;
    } else {
        plan.program_error = program.error();
        if (program.error().code != ErrorCode::Missing) {
            // A mover that is switched, or a load that is sent to a place: the other verb cures it.
            std::vector<Remedy> remedies;
            if (program.error().code == ErrorCode::Conflict && program.error().field.find("/moves/") != std::string::npos) {
                const bool goes = program.error().value == nameOf(routine::Action::Go);
                remedies.push_back(otherVerb(project, program.error().field, goes));
            }
            add(plan, "routine-broken", Severity::Stop, Stage::Routine, "",
                "The routine cannot be compiled: " + sentence(program.error()) + ".", std::move(remedies));
        }
    }
    if (evidence.proofs && plan.program) {
        plan.proofs = evidence.proofs;
        judgeProofs(project, plan);
    }
    judgeRoutine(project, plan);
    judgeAsked(project, plan);
    judgeTheRest(project, plan);
}

bool moves(const project::Project& project) {
    return std::any_of(project.channels.begin(), project.channels.end(), [](const project::Channel& channel) {
        const auto kind = project::channelKind(channel);
        return kind == project::ChannelKind::Turn || kind == project::ChannelKind::Move || kind == project::ChannelKind::Press;
    });
}

std::vector<FiveStates> fiveStates(const project::Project& project, const Plan& plan) {
    if (plan.apart) return fiveStates(plan.apart->project(), plan.apart->plan);
    std::vector<FiveStates> rows;
    for (const auto& channel : project.channels) {
        const auto* planned = findChannel(plan, channel.id);
        if (planned == nullptr || !isDriven(*planned)) continue;
        const bool placed = isPlaced(*planned);
        FiveStates row;
        row.channel = channel.id;
        row.name = channel.name;
        const bool on = channel.safe == project::SafeState::On, back = channel.safe == project::SafeState::Start;
        const char* off = planned->two_inputs && channel.signal.at_rest == project::AtRest::Brake ? "off, braked" : "off";
        row.power_up = on ? "on" : placed ? "loose" : off;
        row.on_stop = on ? "on" : back ? "to its start" : placed ? "stands" : off;
        row.link_lost = project.routine.link_silence ? row.on_stop + ", after " + displayPlain(*project.routine.link_silence) : "goes on";
        // What follows a number that the link sends is off once that has fallen silent.
        for (const auto& follower : project.routine.followers)
            for (const auto& input : project.inputs)
                if (!project.routine.link_silence && follower.channel == channel.id && follower.input == input.id &&
                    input.kind == project::InputKind::Number)
                    row.link_lost = "off, after " + displayPlain(input.timeout);
        row.without_power = placed ? "loose" : planned->latch ? "stays as it was" : "off";
        row.may_remember = !placed;
        bool by_itself = false, follows = false;
        for (const auto& cue : project.routine.cues)
            if (cue.at_power_up)
                by_itself = by_itself || std::any_of(cue.moves.begin(), cue.moves.end(),
                                                     [&](const routine::Move& move) { return move.channel == channel.id; });
        for (const auto& follower : project.routine.followers) follows = follows || follower.channel == channel.id;
        row.power_back = channel.remembers ? "as before"
                         : by_itself       ? "starts by itself"
                         : follows         ? "follows at once"
                                           : "waits for a start";
        rows.push_back(std::move(row));
    }
    return rows;
}

}  // namespace hinge::plan
