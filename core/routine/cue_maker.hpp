#pragma once
// Makes the instructions of one cue; compile_moves.cpp has what is sent to places.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "quantity/text.hpp"
#include "routine/compile_parts.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::routine {

using Refused = std::optional<Error>;

/// Makes one cue. What is refused comes back as the error.
class CueMaker {
public:
    CueMaker(Program& program, const std::vector<ChannelNumbers>& channels, const std::vector<InputNumbers>& inputs,
             const std::vector<int>& turns, std::vector<int>& doses, const Cue& cue)
        : program_{program}, channels_{channels}, inputs_{inputs}, turns_{turns}, doses_{doses}, cue_{cue} {}

    Refused make(const Routine& routine) {
        made_.id = cue_.id;
        made_.name = cue_.name;
        made_.late = std::min(once_apart, toTicks(cue_.late));
        if (auto refused = starts(routine)) return refused;
        if (auto refused = guards()) return refused;
        for (std::size_t m = 0; m < cue_.moves.size(); ++m)
            if (auto refused = move(m)) return refused;
        program_.cues.push_back(std::move(made_));
        return std::nullopt;
    }

private:
    [[nodiscard]] std::string where() const { return "routine/cues/" + cue_.id; }
    [[nodiscard]] const InputNumbers& inputAt(int i) const { return inputs_[static_cast<std::size_t>(i)]; }
    [[nodiscard]] bool looped(int channel) const {
        return std::any_of(program_.loops.begin(), program_.loops.end(), [&](const ProgramLoop& loop) { return loop.output == channel; });
    }
    void add(Instruction instruction) { made_.instructions.push_back(instruction); }
    int number(Parameter parameter) { return addParameter(program_, std::move(parameter)); }

    Refused starts(const Routine& routine) {
        if (!cue_.input.empty()) {
            const auto input = indexOf(inputs_, cue_.input, where() + "/input");
            if (!input) return input.error();
            if (cue_.held) {
                if (cue_.on_release) return Error{ErrorCode::Conflict, where() + "/held", "", "either held for a time, or let go"};
                made_.held_input = *input;
                made_.held_parameter =
                    number({symbol(cue_.id) + "_held", "ms", cue_.name + ": after " + inputAt(*input).name + " has been true for",
                            std::max<std::int32_t>(1, toTicks(*cue_.held)), 1, 3600000, "Routine"});
            } else if (cue_.on_release) {
                made_.released.push_back(*input);
            } else {
                made_.inputs.push_back(*input);
            }
        }
        if (cue_.every) {
            if (toTicks(*cue_.every) < 10)
                return Error{ErrorCode::OutOfRange, where() + "/every", displayPlain(*cue_.every), "10 ms or more"};
            made_.every_parameter =
                number({symbol(cue_.id) + "_every", "ms", cue_.name + ": starts every", toTicks(*cue_.every), 10, 86400000, "Routine"});
        }
        made_.at_power_up = cue_.at_power_up;
        if (!cue_.after.empty()) {
            const auto other = indexOf(routine.cues, cue_.after, where() + "/after");
            if (!other) return other.error();
            if (cue_.after == cue_.id)
                return Error{ErrorCode::Conflict, where() + "/after", cue_.after, "another cue; to go round, end it with 'all that again'"};
            made_.after = *other;
        }
        if (!cue_.times.empty()) {
            auto times = timing::parseTimesOfDay(cue_.times);
            if (!times) {
                times.error().field = where() + "/times";
                return times.error();
            }
            for (const int seconds : *times) made_.times_of_day.push_back(seconds * ticks_per_second);
        }
        return std::nullopt;
    }

    Refused guards() {
        for (const auto& guard : cue_.guards) {
            const std::string field = where() + "/guards/" + guard.id;
            const auto input = indexOf(inputs_, guard.input, field);
            if (!input) return input.error();
            if (inputAt(*input).source == InputSource::Word)
                return Error{ErrorCode::Conflict, field, inputAt(*input).name,
                             "something that lasts: a word is gone as soon as it is said"};
            made_.guards.push_back({*input, guard.throughout, !guard.only});
        }
        return std::nullopt;
    }

    /// A move in hand.
    struct At {
        const Move& move;
        std::string field;     ///< "routine/cues/storm/moves/rain_falls"
        std::string id;        ///< of its numbers
        bool grouped = false;  ///< it starts together with another one
        std::size_t place;     ///< in its cue
    };

    // Whether it may start together with the one before it, or the next with it.
    Refused join(const At& at, bool first) {
        const auto& move = at.move;
        if (!move.colour.empty())
            return Error{ErrorCode::BadFormat, at.field + "/colour", move.colour,
                         "of a lamp of three colours two hexadecimal digits for each, as #ff8000; of anything else none"};
        // Joined to the one before: that has just been made.
        if (move.together && first) return Error{ErrorCode::Conflict, at.field + "/together", "yes", "a move before it, to start with"};
        if (move.together && !made_.instructions.empty()) made_.instructions.back().joined = true;
        if (!move.together) at_once_.clear();
        if (at.grouped &&
            (move.action == Action::Until || move.action == Action::Home || move.action == Action::Again || move.action == Action::Sweep))
            return Error{ErrorCode::Conflict, at.field + "/together", nameOf(move.action),
                         "one that ends by itself after its time; this one has a cue of its own, started by the same thing"};
        if (at.grouped && !move.channel.empty() && !at_once_.insert(move.channel).second)
            return Error{ErrorCode::Conflict, at.field + "/together", move.channel,
                         "another channel: this one does something else already"};
        if (move.in_line &&
            (!move.together || move.action != Action::Go || (at.place > 0 && cue_.moves[at.place - 1].action != Action::Go)))
            return Error{ErrorCode::Conflict, at.field + "/in_line", "yes",
                         "a move to a place that starts together with another such move, the one before it"};
        return std::nullopt;
    }

    Refused move(std::size_t m) {
        const auto& wished = cue_.moves[m];
        const bool follows = m + 1 < cue_.moves.size() && cue_.moves[m + 1].together;
        const At at{wished, where() + "/moves/" + wished.id, symbol(cue_.id + "_" + wished.id), wished.together || follows, m};
        if (auto refused = join(at, m == 0)) return refused;
        if (wished.action == Action::Again || wished.action == Action::Sweep) {
            if (goes_round_)
                return Error{ErrorCode::Conflict, at.field, nameOf(wished.action),
                             "one round in a cue: put the other into a cue of its own that starts after this one"};
            goes_round_ = true;
        }
        switch (wished.action) {
            case Action::Wait: return wait(at);
            case Action::Clear: return clear(at);
            case Action::Again: return again(at);
            case Action::Until: return until(at);
            default: break;
        }
        if (wished.action == Action::Home)
            if (auto refused = watched(at)) return refused;
        const auto channel = indexOf(channels_, wished.channel, at.field);
        if (!channel) return channel.error();
        if (wished.action == Action::Home) return home(at, *channel);
        if (auto refused = suits(at, *channel)) return refused;
        switch (wished.action) {
            case Action::Go: return go(at, *channel);
            case Action::Sweep: return sweep(at, *channel);
            case Action::Fade: return fade(at, *channel);
            case Action::Flicker:
                add({Operation::Flicker, *channel,
                     number({at.id, "ms", cue_.name + ": " + channels_[static_cast<std::size_t>(*channel)].name + " flickers for",
                             std::max<std::int32_t>(1, toTicks(wished.time.value_or(of<Duration>(5.0)))), 1, 86400000, "Routine"})});
                return std::nullopt;
            case Action::Toggle: add({Operation::Toggle, *channel, -1}); return std::nullopt;
            case Action::Off: add({Operation::Off, *channel, -1}); return std::nullopt;
            case Action::Brake: add({.operation = Operation::Off, .output = *channel, .brakes = true}); return std::nullopt;
            default: return onOrRun(at, *channel);
        }
    }

    Refused wait(const At& at) {
        add({Operation::Wait, -1,
             number({at.id, "ms", cue_.name + ": wait", toTicks(at.move.time.value_or(Duration{})), 0, 86400000, "Routine"})});
        return std::nullopt;
    }

    Refused clear(const At& at) {
        const auto input = indexOf(inputs_, at.move.input, at.field + "/input");
        if (!input) return input.error();
        if (inputAt(*input).source != InputSource::Counter)
            return Error{ErrorCode::Conflict, at.field + "/input", inputAt(*input).name, "a counter"};
        add({Operation::Clear, -1, -1, -1, *input});
        return std::nullopt;
    }

    Refused again(const At& at) {
        const bool rests = std::any_of(made_.instructions.begin(), made_.instructions.end(), [](const Instruction& i) {
            return i.operation == Operation::Wait || i.operation == Operation::Go || i.operation == Operation::Until ||
                   i.operation == Operation::Home || i.operation == Operation::Fade || i.operation == Operation::Flicker ||
                   i.operation == Operation::Run;
        });
        if (!rests)
            return Error{ErrorCode::Conflict, at.field, "again", "something that takes time before it goes round: a wait, a run or a move"};
        add({Operation::Again, -1,
             number({at.id, "times", cue_.name + ": goes round, 0 for ever",
                     static_cast<std::int32_t>(std::clamp(si(at.move.times), 0.0, 30000.0)), 0, 30000, "Routine"})});
        return std::nullopt;
    }

    // Until and Home: the input that is waited for, and for how long.
    Refused watched(const At& at) const {
        const auto input = indexOf(inputs_, at.move.input, at.field + "/input");
        if (!input) return input.error();
        if (!at.move.time || toTicks(*at.move.time) < 1)
            return Error{ErrorCode::Missing, at.field + "/time", "",
                         "how long it may take: what does not come must not hold everything up for ever"};
        return std::nullopt;
    }

    Refused until(const At& at) {
        if (auto refused = watched(at)) return refused;
        const int input = *indexOf(inputs_, at.move.input, at.field + "/input");
        const int within = number(
            {at.id, "ms", cue_.name + ": waits for " + inputAt(input).name + " at most", toTicks(*at.move.time), 1, 86400000, "Routine"});
        add({Operation::Until, -1, within, -1, input, !at.move.released});
        return std::nullopt;
    }

    // Whether the channel knows the verb.
    [[nodiscard]] Refused suits(const At& at, int channel) const {
        const auto& mover = channels_[static_cast<std::size_t>(channel)];
        const auto action = at.move.action;
        const auto conflict = [&](const std::string& accepted) { return Error{ErrorCode::Conflict, at.field, nameOf(action), accepted}; };
        const bool one_way = action == Action::Toggle || action == Action::Fade || action == Action::Flicker;
        if (one_way && turns_[static_cast<std::size_t>(channel)] >= 0)
            return Error{ErrorCode::Conflict, at.field + "/action", nameOf(action),
                         "'run', 'on' or 'off' for " + mover.name + ", which cues turn round: this one does not say which way"};
        if (action == Action::Toggle && mover.places) return conflict(mover.name + " is sent to places: use 'go'");
        if (action == Action::Brake && (mover.places || !mover.two_inputs))
            return conflict("'off' for " + mover.name + ": only a bridge with an input for each end of its motor is told to brake");
        const bool placed = action == Action::Go || action == Action::Sweep;
        const bool by_loop = looped(channel), graded_verb = action == Action::Fade || action == Action::Flicker || at.move.level;
        if (by_loop && (placed || (mover.places && graded_verb)))
            return conflict(mover.name + " is moved by its loop: use 'run', 'on' or 'off'");
        if (placed != mover.places.has_value() && !(mover.places && by_loop))
            return conflict(mover.places ? mover.name + " is sent to places: use 'go'"
                                         : mover.name + " is switched: use 'run', 'on' or 'off'");
        const bool graded =
            action == Action::Flicker || (at.move.level && si(*at.move.level) > 0.0 && si(*at.move.level) < 1.0) || action == Action::Fade;
        if (graded && action != Action::Go && mover.top <= 1)
            return Error{ErrorCode::Conflict, at.field + "/level", nameOf(action),
                         "what has a transistor behind it: " + mover.name + " is only switched on and off, and contacts would wear out"};
        return std::nullopt;
    }

    Refused home(const At& at, int channel);
    Refused twice(const At& at, int channel, int input, std::int32_t ticks);
    Refused go(const At& at, int channel);
    Refused goBy(const At& at, int channel);
    Refused sweep(const At& at, int channel);
    Result<int> moveTime(const At& at, const ChannelNumbers& mover);
    static const char* unitOf(const ChannelNumbers::Places& places) { return places.kind == OutputKind::Servo ? "half-us" : "steps"; }
    // Whether it, or one that starts with it, goes in a straight line with the others.
    [[nodiscard]] bool inLine(const At& at) const {
        return cue_.moves[at.place].in_line || (at.place + 1 < cue_.moves.size() && cue_.moves[at.place + 1].in_line);
    }

    Refused fade(const At& at, int channel) {
        const auto& mover = channels_[static_cast<std::size_t>(channel)];
        if (!at.move.level) return Error{ErrorCode::Missing, at.field + "/level", "", "how much of full power it fades to"};
        const int time = number({at.id, "ms", cue_.name + ": " + mover.name + " fades for",
                                 std::max<std::int32_t>(1, toTicks(at.move.time.value_or(of<Duration>(1.0)))), 1, longest_move, "Routine"});
        const int to = number({at.id + "_to", "permille", cue_.name + ": " + mover.name + " fades to",
                               static_cast<std::int32_t>(std::lround(si(*at.move.level) * 1000.0)), 0, 1000, "Routine"});
        add({Operation::Fade, channel, time, to});
        return std::nullopt;
    }

    // The number of a run's ticks: its own, or that of the channel's dose, which all its runs share.
    Result<int> runTime(const At& at, int channel) {
        const auto& mover = channels_[static_cast<std::size_t>(channel)];
        if (at.move.time)
            return number({at.id, "ms", cue_.name + ": " + mover.name + " runs", toTicks(*at.move.time), 0, 86400000, "Routine"});
        if (!mover.dose_time)
            return fail(ErrorCode::Missing, at.field, "",
                        "the run time of " + mover.name + " is not known yet: settle its Need and Match, or give the move a time");
        auto& shared = doses_[static_cast<std::size_t>(channel)];
        const Duration run = of<Duration>(std::max(0.0, si(*mover.dose_time) - si(mover.off_delay)));
        if (shared < 0)
            shared = number({symbol(mover.id) + "_run", "ms", mover.name + ": on for one dose", toTicks(run), 0,
                             std::max(toTicks(run), toTicks(mover.longest)), "dose"});
        return shared;
    }

    Refused onOrRun(const At& at, int channel) {
        const auto& mover = channels_[static_cast<std::size_t>(channel)];
        const auto& move = at.move;
        const int turning = turns_[static_cast<std::size_t>(channel)];
        if (turning >= 0 && at.grouped)
            return Error{ErrorCode::Conflict, at.field + "/together", mover.name,
                         "a move by itself, or a cue of its own: before it is turned round it stands still"};
        int share = -1;
        if (move.level)
            share = number({at.id + "_at", "permille", cue_.name + ": " + mover.name + " at",
                            static_cast<std::int32_t>(std::lround(si(*move.level) * 1000.0)), 0, 1000, "Routine"});
        const bool backwards = turning >= 0 && move.backwards;
        if (turning >= 0) add({.operation = Operation::Turn, .output = channel, .parameter = turning, .backwards = backwards});
        if (move.action == Action::On || !at.grouped)
            add({.operation = Operation::On, .output = channel, .target = share, .backwards = backwards});
        if (move.action == Action::On) return std::nullopt;
        const auto ticks = runTime(at, channel);
        if (!ticks) return ticks.error();
        if (at.grouped) {
            add({Operation::Run, channel, *ticks, share});
            return std::nullopt;
        }
        add({Operation::Wait, -1, *ticks});
        add({Operation::Off, channel, -1});
        return std::nullopt;
    }

    Program& program_;
    const std::vector<ChannelNumbers>& channels_;
    const std::vector<InputNumbers>& inputs_;
    const std::vector<int>& turns_;
    std::vector<int>& doses_;  ///< per channel: the number of its dose's ticks; −1: none yet
    const Cue& cue_;
    ProgramCue made_;
    bool goes_round_ = false;
    int line_time_ = -1;             ///< the number of ticks of those that go in a straight line
    std::set<std::string> at_once_;  ///< channels of the moves that start together
};

}  // namespace hinge::routine
