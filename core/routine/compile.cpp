#include "routine/compile.hpp"
#include "quantity/text.hpp"
#include "timing/time_of_day.hpp"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hinge::routine {
namespace {

std::int32_t toTicks(const Duration& time) { return static_cast<std::int32_t>(std::lround(std::clamp(si(time), 0.0, 2.0e6) * 1000.0)); }

template <class List>
Result<int> indexOf(const List& list, const std::string& id, const std::string& field) {
    for (std::size_t i = 0; i < list.size(); ++i)
        if (list[i].id == id) return static_cast<int>(i);
    std::string names;
    for (const auto& entry : list) names += (names.empty() ? "" : ", ") + entry.id;
    return fail(ErrorCode::Unknown, field, id, names.empty() ? "there is none yet" : "one of " + names);
}

int addParameter(Program& program, Parameter parameter) {
    program.parameters.push_back(std::move(parameter));
    return static_cast<int>(program.parameters.size()) - 1;
}

}  // namespace

std::string identifier(const std::string& text) {
    std::string name;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (u < 128 && std::isalnum(u)) name += static_cast<char>(std::tolower(u));
        else if (!name.empty() && name.back() != '_') name += '_';
    }
    while (!name.empty() && name.back() == '_') name.pop_back();
    if (name.empty()) name = "unnamed";
    if (std::isdigit(static_cast<unsigned char>(name.front()))) name.insert(0, "n");
    return name;
}

Result<Program> compile(const Routine& routine, const std::vector<ChannelNumbers>& channels, const std::vector<InputNumbers>& inputs) {
    Program program;
    for (const auto& input : inputs) {
        program.inputs.push_back({input.id, input.name, input.active_high, std::max<std::int32_t>(1, toTicks(input.debounce)), input.analogue});
        const auto reading = [](const Fraction& share) { return std::clamp<std::int32_t>(static_cast<std::int32_t>(std::lround(si(share) * 1024.0)), 0, 1023); };
        program.inputs.back().upper = reading(input.upper);
        program.inputs.back().lower = std::min(reading(input.lower), reading(input.upper));
    }
    std::vector<int> run_parameter(channels.size(), -1);
    for (const auto& channel : channels) {
        ProgramOutput output;
        output.id = channel.id;
        output.name = channel.name;
        output.top = channel.top;
        const std::string id = identifier(channel.id);
        if (channel.places) {
            output.kind = channel.places->kind;
            output.start = channel.places->start;
            output.furthest = channel.places->furthest;
            output.hold = channel.places->hold;
            program.outputs.push_back(std::move(output));
            continue;
        }
        output.duty_parameter = addParameter(program, {id + "_duty", "permille", channel.name + ": share of full power", static_cast<std::int32_t>(std::lround(si(channel.duty) * 1000.0)), 0, 1000, "Pulse"});
        output.ramp_parameter = addParameter(program, {id + "_soft_start", "ms", channel.name + ": time from rest to that power", toTicks(channel.ramp), 0, 5000, "Pulse"});
        output.off_delay_parameter = addParameter(program, {id + "_off_delay", "ms", channel.name + ": keeps running after its reason has gone", toTicks(channel.off_delay), 0, 600000, "Routine"});
        program.outputs.push_back(std::move(output));
    }
    for (const auto& cue : routine.cues) {
        ProgramCue compiled;
        compiled.id = cue.id;
        compiled.name = cue.name;
        const std::string where = "routine/cues/" + cue.id;
        if (!cue.input.empty()) {
            const auto input = indexOf(inputs, cue.input, where + "/input");
            if (!input) return tl::unexpected(input.error());
            if (cue.held) {
                if (cue.on_release) return fail(ErrorCode::Conflict, where + "/held", "", "either held for a time, or let go");
                compiled.held_input = *input;
                compiled.held_parameter = addParameter(program, {identifier(cue.id) + "_held", "ms", cue.name + ": after " + inputs[static_cast<std::size_t>(*input)].name + " has been true for", std::max<std::int32_t>(1, toTicks(*cue.held)), 1, 3600000, "Routine"});
            } else if (cue.on_release) {
                compiled.released.push_back(*input);
            } else {
                compiled.inputs.push_back(*input);
            }
        }
        if (cue.every) {
            if (toTicks(*cue.every) < 10) return fail(ErrorCode::OutOfRange, where + "/every", displayPlain(*cue.every), "10 ms or more");
            compiled.every_parameter = addParameter(program, {identifier(cue.id) + "_every", "ms", cue.name + ": starts every", toTicks(*cue.every), 10, 86400000, "Routine"});
        }
        compiled.at_power_up = cue.at_power_up;
        if (!cue.after.empty()) {
            const auto other = indexOf(routine.cues, cue.after, where + "/after");
            if (!other) return tl::unexpected(other.error());
            if (cue.after == cue.id) return fail(ErrorCode::Conflict, where + "/after", cue.after, "another cue; to go round, end it with 'all that again'");
            compiled.after = *other;
        }
        if (!cue.times.empty()) {
            auto times = timing::parseTimesOfDay(cue.times);
            if (!times) {
                times.error().field = where + "/times";
                return tl::unexpected(times.error());
            }
            for (const int seconds : *times) compiled.times_of_day.push_back(seconds * ticks_per_second);
        }
        for (const auto& guard : cue.guards) {
            const auto input = indexOf(inputs, guard.input, where + "/guards/" + guard.id);
            if (!input) return tl::unexpected(input.error());
            compiled.guards.push_back({*input, guard.throughout});
        }
        for (const auto& move : cue.moves) {
            const std::string field = where + "/moves/" + move.id;
            if (move.action == Action::Wait) {
                const int parameter = addParameter(program, {identifier(cue.id + "_" + move.id), "ms", cue.name + ": wait", toTicks(move.time.value_or(Duration{})), 0, 86400000, "Routine"});
                compiled.instructions.push_back({Operation::Wait, -1, parameter});
                continue;
            }
            if (move.action == Action::Again) {
                const bool rests = std::any_of(compiled.instructions.begin(), compiled.instructions.end(), [](const Instruction& i) { return i.operation == Operation::Wait || i.operation == Operation::Go || i.operation == Operation::Until || i.operation == Operation::Home; });
                if (!rests) return fail(ErrorCode::Conflict, field, "again", "something that takes time before it goes round: a wait, a run or a move");
                const int times = addParameter(program, {identifier(cue.id + "_" + move.id), "times", cue.name + ": goes round, 0 for ever", static_cast<std::int32_t>(std::clamp(si(move.times), 0.0, 30000.0)), 0, 30000, "Routine"});
                compiled.instructions.push_back({Operation::Again, -1, times});
                continue;
            }
            int watched = -1;
            if (move.action == Action::Until || move.action == Action::Home) {
                const auto input = indexOf(inputs, move.input, field + "/input");
                if (!input) return tl::unexpected(input.error());
                watched = *input;
                if (!move.time || toTicks(*move.time) < 1) return fail(ErrorCode::Missing, field + "/time", "", "how long it may take: what does not come must not hold everything up for ever");
            }
            if (move.action == Action::Until) {
                const int within = addParameter(program, {identifier(cue.id + "_" + move.id), "ms", cue.name + ": waits for " + inputs[static_cast<std::size_t>(watched)].name + " at most", toTicks(*move.time), 1, 86400000, "Routine"});
                compiled.instructions.push_back({Operation::Until, -1, within, -1, watched, !move.released});
                continue;
            }
            const auto channel = indexOf(channels, move.channel, field);
            if (!channel) return tl::unexpected(channel.error());
            if (move.action == Action::Home) {
                const auto& mover = channels[static_cast<std::size_t>(*channel)];
                if (!mover.places || mover.places->kind != OutputKind::Stepper) return fail(ErrorCode::Conflict, field, mover.name, "a stepper: only what counts its steps has to look for its start");
                const std::int32_t ticks = toTicks(*move.time);
                if (ticks > longest_move) return fail(ErrorCode::OutOfRange, field + "/time", "", "at most 60 s");
                const int within = addParameter(program, {identifier(cue.id + "_" + move.id), "ms", cue.name + ": " + mover.name + " looks for its start at most", ticks, 1, longest_move, "Routine"});
                compiled.instructions.push_back({Operation::Home, *channel, within, -1, watched});
                continue;
            }
            const auto& mover = channels[static_cast<std::size_t>(*channel)];
            if (move.action == Action::Toggle && mover.places) return fail(ErrorCode::Conflict, field, nameOf(move.action), mover.name + " is sent to places: use 'go'");
            if ((move.action == Action::Go) != mover.places.has_value())
                return fail(ErrorCode::Conflict, field, nameOf(move.action), mover.places ? mover.name + " is sent to places: use 'go'" : mover.name + " is switched: use 'run', 'on' or 'off'");
            if (move.action == Action::Go) {
                const auto& places = *mover.places;
                const auto wanted = places.along ? (move.place ? std::optional(si(*move.place)) : std::nullopt) : move.angle ? std::optional(si(*move.angle)) : std::nullopt;
                // Without a place it goes to the end of its move.
                const double place = wanted ? places.start + std::round(places.per_unit * *wanted) : places.furthest;
                const auto lower = std::min(places.start, places.furthest), upper = std::max(places.start, places.furthest);
                if (place < lower - 0.5 || place > upper + 0.5) return fail(ErrorCode::OutOfRange, field + (places.along ? "/place" : "/angle"), "", "within the move of " + mover.name + ", as Need says");
                const std::int32_t ticks = toTicks(move.time.value_or(places.move_time));
                if (ticks < 1 || ticks > longest_move) return fail(ErrorCode::OutOfRange, field + "/time", "", "more than 0 and at most 60 s");
                const std::string id = identifier(cue.id + "_" + move.id);
                const int time = addParameter(program, {id, "ms", cue.name + ": " + mover.name + " moves for", ticks, 1, longest_move, "Routine"});
                const int target = addParameter(program, {id + "_to", places.kind == OutputKind::Servo ? "half-us" : "steps", cue.name + ": " + mover.name + " goes to", static_cast<std::int32_t>(place), lower, upper, "Pulse"});
                compiled.instructions.push_back({Operation::Go, *channel, time, target});
                continue;
            }
            if (move.action == Action::Toggle) {
                compiled.instructions.push_back({Operation::Toggle, *channel, -1});
                continue;
            }
            if (move.action == Action::Off) {
                compiled.instructions.push_back({Operation::Off, *channel, -1});
                continue;
            }
            compiled.instructions.push_back({Operation::On, *channel, -1});
            if (move.action == Action::On) continue;
            const auto& numbers = channels[static_cast<std::size_t>(*channel)];
            int parameter = -1;
            if (move.time) {
                parameter = addParameter(program, {identifier(cue.id + "_" + move.id), "ms", cue.name + ": " + numbers.name + " runs", toTicks(*move.time), 0, 86400000, "Routine"});
            } else {
                if (!numbers.dose_time) return fail(ErrorCode::Missing, field, "", "the run time of " + numbers.name + " is not known yet: settle its Need and Match, or give the move a time");
                auto& shared = run_parameter[static_cast<std::size_t>(*channel)];
                const Duration run = of<Duration>(std::max(0.0, si(*numbers.dose_time) - si(numbers.off_delay)));
                if (shared < 0) shared = addParameter(program, {identifier(numbers.id) + "_run", "ms", numbers.name + ": on for one dose", toTicks(run), 0, std::max(toTicks(run), toTicks(numbers.longest)), "dose"});
                parameter = shared;
            }
            compiled.instructions.push_back({Operation::Wait, -1, parameter});
            compiled.instructions.push_back({Operation::Off, *channel, -1});
        }
        program.cues.push_back(std::move(compiled));
    }
    for (const auto& interlock : routine.interlocks) {
        const std::string field = "routine/interlocks/" + interlock.id;
        const auto output = indexOf(channels, interlock.channel, field);
        if (!output) return tl::unexpected(output.error());
        const auto input = indexOf(inputs, interlock.input, field);
        if (!input) return tl::unexpected(input.error());
        program.interlocks.push_back({interlock.id, channels[static_cast<std::size_t>(*output)].name + " on with " + inputs[static_cast<std::size_t>(*input)].name, *output, *input});
    }
    for (const auto& follower : routine.followers) {
        const std::string field = "routine/followers/" + follower.id;
        const auto output = indexOf(channels, follower.channel, field + "/channel");
        if (!output) return tl::unexpected(output.error());
        const auto input = indexOf(inputs, follower.input, field + "/input");
        if (!input) return tl::unexpected(input.error());
        const auto& channel = channels[static_cast<std::size_t>(*output)];
        if (channel.places) return fail(ErrorCode::Conflict, field, channel.name, "something that is switched: what is sent to places follows by cues");
        if (follower.proportional && !inputs[static_cast<std::size_t>(*input)].analogue) return fail(ErrorCode::Conflict, field, inputs[static_cast<std::size_t>(*input)].name, "a knob or another input that is read as a level");
        program.followers.push_back({*output, *input, !follower.released, follower.proportional, static_cast<std::int32_t>(std::lround(si(follower.dead) * 1023.0)), static_cast<std::int32_t>(std::lround(si(follower.start) * 1000.0))});
        if (follower.unless.empty()) continue;
        const auto guard = indexOf(inputs, follower.unless, field + "/unless");
        if (!guard) return tl::unexpected(guard.error());
        program.followers.back().guard = *guard;
    }
    return program;
}

}  // namespace hinge::routine
