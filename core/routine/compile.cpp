#include "routine/compile.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "quantity/fnv.hpp"
#include "quantity/latin.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "routine/compile_parts.hpp"
#include "timing/calendar.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::routine {
namespace {

constexpr std::int32_t longest_patience = 30'000;  // ticks that a new level must last: it is counted in two bytes

// Eight hexadecimal digits that tell one text from another .
std::string markOf(const std::string& text) {
    return fmt::format("{:08x}", fnv32(text));
}

// A word that can be typed in one line and told from the others.
bool isWord(const std::string& word) {
    return !word.empty() && word.size() <= 32 && std::all_of(word.begin(), word.end(), [](char c) { return c > ' ' && c < 127; });
}

std::optional<Error> addInputs(Program& program, const std::vector<InputNumbers>& inputs, const std::vector<ChannelNumbers>& channels,
                               const Routine& routine) {
    for (const auto& input : inputs) {
        const std::string field = "inputs/" + input.id;
        if (toTicks(input.debounce) > longest_patience)
            return fail(ErrorCode::OutOfRange, "inputs/" + input.id + "/debounce", displayPlain(input.debounce), "at most 30 s").value();
        const bool is_reading = input.analogue || input.source == InputSource::Number || input.source == InputSource::Tach;
        ProgramInput made{input.id, input.name, input.active_high && !is_reading, std::max<std::int32_t>(1, toTicks(input.debounce)),
                          input.analogue};
        made.upper = readingOf(input.upper);
        made.lower = std::min(readingOf(input.lower), readingOf(input.upper));
        made.below = is_reading && !input.active_high;
        made.source = input.source;
        const std::string id = symbol(input.id);
        switch (input.source) {
            case InputSource::Pin:
            case InputSource::Tach: {
                if (input.belongs_to.empty()) break;
                const auto output = indexOf(channels, input.belongs_to, field + "/belongs_to");
                if (!output) return output.error();
                made.counted = *output;
                const std::int32_t least = input.source == InputSource::Tach ? tach_window : 1;
                if (toTicks(input.run_up) < least)
                    return Error{ErrorCode::OutOfRange, field + "/run_up", displayPlain(input.run_up),
                                 "at least 1 s: a tach's pulses are counted second by second"};
                made.limit_parameter = addParameter(
                    program, {id + "_run_up", "ms",
                              input.name + ": is believed once " + channels[static_cast<std::size_t>(*output)].name + " has been on for",
                              std::min<std::int32_t>(toTicks(input.run_up), longest_patience), least, longest_patience, "Routine"});
                break;
            }
            case InputSource::Word:
                if (!isWord(input.word))
                    return Error{ErrorCode::BadFormat, field + "/word", input.word.substr(0, 40),
                                 "one word of letters, digits and signs, without spaces or line ends, at most 32 of them"};
                for (const auto& other : program.inputs)
                    if (other.source == InputSource::Word && other.word == input.word)
                        return Error{ErrorCode::Conflict, field + "/word", input.word, "a word that no other input has"};
                made.word = input.word;
                break;
            case InputSource::Number:
                made.timeout_parameter = addParameter(program, {id + "_counts_for", "ms", input.name + ": a number sent counts for",
                                                                std::max<std::int32_t>(1, toTicks(input.timeout)), 1, 3600000, "Routine"});
                break;
            case InputSource::Counter: {
                const auto cue = indexOf(routine.cues, input.counts, field + "/counts");
                if (!cue) return cue.error();
                made.counted = *cue;
                made.limit_parameter =
                    addParameter(program, {id + "_limit", "times", input.name + ": true from the count of",
                                           static_cast<std::int32_t>(std::clamp(si(input.limit), 1.0, 30000.0)), 1, 30000, "Routine"});
                break;
            }
            case InputSource::Days: {
                const auto days = timing::parseWeekdays(input.weekdays);
                const auto from = input.from_date.empty() ? Result<int>(101) : timing::parseMonthDay(input.from_date),
                           to = input.to_date.empty() ? Result<int>(1231) : timing::parseMonthDay(input.to_date);
                if (!days) return Error{days.error().code, field + "/weekdays", days.error().value, days.error().accepted};
                if (!from) return Error{from.error().code, field + "/from_date", from.error().value, from.error().accepted};
                if (!to) return Error{to.error().code, field + "/to_date", to.error().value, to.error().accepted};
                made.weekdays = *days;
                made.from_date = *from;
                made.to_date = *to;
                break;
            }
        }
        program.inputs.push_back(std::move(made));
    }
    return std::nullopt;
}

std::optional<Error> addInterlocks(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                   const std::vector<InputNumbers>& inputs) {
    for (const auto& interlock : routine.interlocks) {
        const std::string field = "routine/interlocks/" + interlock.id;
        const auto output = indexOf(channels, interlock.channel, field);
        if (!output) return output.error();
        ProgramInterlock made{interlock.id, channels[static_cast<std::size_t>(*output)].name + " on", *output, -1, {}};
        if (interlock.input.empty() && interlock.terms.empty())
            return Error{ErrorCode::Missing, field + "/input", "", "an input or another channel's state that forbids it"};
        if (!interlock.input.empty()) {
            const auto input = indexOf(inputs, interlock.input, field);
            if (!input) return input.error();
            if (inputs[static_cast<std::size_t>(*input)].source == InputSource::Word)
                return Error{ErrorCode::Conflict, field + "/input", inputs[static_cast<std::size_t>(*input)].name,
                             "something that lasts: a word is gone as soon as it is said"};
            made.input = *input;
            made.text += " with " + inputs[static_cast<std::size_t>(*input)].name;
        }
        for (const auto& term : interlock.terms) {
            const auto other = indexOf(channels, term.channel, field + "/terms/" + term.id);
            if (!other) return other.error();
            const auto& channel = channels[static_cast<std::size_t>(*other)];
            ProgramTerm compiled{*other, static_cast<ProgramTerm::Kind>(term.state), 0};
            if (term.state == TermState::Beyond || term.state == TermState::Short) {
                if (!channel.places)
                    return Error{ErrorCode::Conflict, field + "/terms/" + term.id + "/state", channel.name, "on or off: it has no places"};
                const auto place = placeOf(channel, term.angle, term.place, field + "/terms/" + term.id);
                if (!place) return place.error();
                compiled.place = *place;
            }
            made.text += (made.terms.empty() && interlock.input.empty() ? " with " : " and ") + channel.name + " " + labelOf(term.state) +
                         (compiled.place != 0 ? term.angle   ? " " + display(*term.angle, 3)
                                                : term.place ? " " + displayPlain(*term.place)
                                                             : " its end"
                                              : "");
            made.terms.push_back(compiled);
        }
        program.interlocks.push_back(std::move(made));
    }
    return std::nullopt;
}

}  // namespace

std::string identifier(const std::string& text) {
    constexpr std::size_t longest = 48;
    std::string name;
    for (const char c : inLatin(text)) {
        const auto u = static_cast<unsigned char>(c);
        if (u < 128 && isLetterOrDigit(c)) name += lowered(c);
        else if (!name.empty() && name.back() != '_') name += '_';
    }
    while (!name.empty() && name.back() == '_') name.pop_back();
    if (name.empty()) name = "unnamed";
    if (std::isdigit(static_cast<unsigned char>(name.front()))) name.insert(0, "n");
    return name.size() > longest ? name.substr(0, longest - 9) + "_" + markOf(text) : name;
}

std::string symbol(const std::string& id) {
    const std::string name = identifier(id);
    // What the sketch API's own headers call PIN_A0, PIN_SPI_SS and the like.
    const bool theirs = (name.front() == 'a' && name.size() > 1 && name.find_first_not_of("0123456789", 1) == std::string::npos) ||
                        name.starts_with("spi_") || name.starts_with("wire_") || name.starts_with("serial");
    return name == id && !theirs ? name : name + "_" + markOf(id);
}

namespace {

// Two marks may come out alike by chance, or by ill will: then the sketch would not compile.
std::optional<Error> apart(const Program& program) {
    const auto twice = [](const auto& list, const char* field) -> std::optional<Error> {
        std::set<std::string> seen;
        for (const auto& each : list)
            if (!seen.insert(symbol(each.id)).second)
                return Error{ErrorCode::Conflict, std::string{field} + "/" + each.id, each.id,
                             "another id: in the sketch it comes to the same as one before it"};
        return std::nullopt;
    };
    if (auto error = twice(program.outputs, "channels")) return error;
    return twice(program.inputs, "inputs");
}

}  // namespace

namespace {

// The tables of a chip know each of a kind by one byte, and a cue's steps and the numbers by two.
std::optional<Error> tooMany(const Program& program) {
    constexpr std::size_t most_steps = 32'000;
    const auto over = [](const std::string& field, std::size_t count, std::size_t most, const char* of) -> std::optional<Error> {
        if (count <= most) return std::nullopt;
        return fail(ErrorCode::OutOfRange, field, std::to_string(count), fmt::format("at most {} {} in one gadget", most, of)).value();
    };
    std::size_t times = 0;
    for (const auto& cue : program.cues) times += cue.times_of_day.size();
    for (const auto& [field, count, of] : {std::tuple{"channels", program.outputs.size(), "channels"},
                                           {"inputs", program.inputs.size(), "inputs"},
                                           {"routine/cues", program.cues.size(), "cues"},
                                           {"routine/cues", times, "times of day"},
                                           {"routine/interlocks", program.interlocks.size(), "interlocks"},
                                           {"routine/followers", program.followers.size(), "followers"},
                                           {"loops", program.loops.size(), "loops"}})
        if (auto error = over(field, count, most_of_a_kind, of)) return error;
    for (const auto& cue : program.cues) {
        const std::string where = "routine/cues/" + cue.id;
        if (auto error = over(where, cue.inputs.size() + cue.released.size() + cue.times_of_day.size() + 4, most_of_a_kind, "starts"))
            return error;
        if (auto error = over(where + "/guards", cue.guards.size(), most_of_a_kind, "guards")) return error;
        if (auto error = over(where + "/moves", cue.instructions.size(), most_steps, "steps")) return error;
    }
    for (const auto& interlock : program.interlocks)
        if (auto error = over("routine/interlocks/" + interlock.id, interlock.terms.size(), most_of_a_kind, "terms")) return error;
    return over("routine", program.parameters.size(), most_steps, "numbers");
}

bool goesBackwards(const Move& move) {
    return move.backwards && (move.action == Action::Run || move.action == Action::On);
}

// What is turned round goes the way that its cues say: whatever else switches it on does not say which.
std::optional<Error> judgeTurns(const Routine& routine, const std::vector<ChannelNumbers>& channels) {
    for (const auto& cue : routine.cues)
        for (const auto& move : cue.moves) {
            if (!goesBackwards(move)) continue;
            const std::string field = "routine/cues/" + cue.id + "/moves/" + move.id + "/backwards";
            const auto found =
                std::find_if(channels.begin(), channels.end(), [&](const auto& channel) { return channel.id == move.channel; });
            if (found == channels.end()) continue;  // said elsewhere
            const auto conflict = [&](const std::string& accepted) { return Error{ErrorCode::Conflict, field, found->name, accepted}; };
            if (!found->both_ways || found->places)
                return conflict("what a bridge drives, or a servo or stepper that turns on: nothing else turns it round");
            const auto of_channel = [&](const auto& each) { return each.channel == move.channel; };
            if (std::any_of(routine.followers.begin(), routine.followers.end(), of_channel))
                return conflict("a channel that follows no input: following does not say which way");
            if (std::any_of(routine.loops.begin(), routine.loops.end(), of_channel))
                return conflict("a channel without a loop: its drive goes one way only");
            if (si(found->off_delay) > 0.0) return conflict("no off-delay: it would still be driven when it is turned round");
            if (found->rest == Rest::On) return conflict("a safe state that is off: 'on' does not say which way");
            if (found->remembered) return conflict("one that waits for a start after a power cut: 'as before' does not say which way");
        }
    return std::nullopt;
}

}  // namespace

bool isHeld(const Routine& routine, std::string_view channel) {
    return std::any_of(routine.loops.begin(), routine.loops.end(), [&](const Loop& loop) { return loop.channel == channel; });
}

bool turnsRound(const Routine& routine, std::string_view channel) {
    if (std::any_of(routine.loops.begin(), routine.loops.end(), [&](const Loop& loop) { return loop.both && loop.channel == channel; }))
        return true;
    return std::any_of(routine.cues.begin(), routine.cues.end(), [&](const Cue& cue) {
        return std::any_of(cue.moves.begin(), cue.moves.end(),
                           [&](const Move& move) { return move.channel == channel && goesBackwards(move); });
    });
}

namespace {

/// @param turns  gets per channel the number of its pause; −1: it is not turned round
std::optional<Error> addOutputs(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                std::vector<int>& turns) {
    turns.assign(channels.size(), -1);
    for (const auto& channel : channels) {
        ProgramOutput output;
        output.id = channel.id;
        output.name = channel.name;
        output.top = channel.top;
        output.rest = channel.rest;
        output.remembered = channel.remembered && !channel.places;
        const std::string id = symbol(channel.id);
        if (channel.rest == Rest::Start && !channel.places)
            return Error{ErrorCode::Conflict, "channels/" + channel.id + "/safe", "start", channel.name + " is switched: off or on"};
        if (channel.rest == Rest::On && channel.places)
            return Error{ErrorCode::Conflict, "channels/" + channel.id + "/safe", "on",
                         channel.name + " is sent to places: standing still, or at its start"};
        output.configured = channel.configured;
        if (channel.places) {
            if (channel.rest == Rest::Start)
                output.rest_parameter = addParameter(
                    program, {id + "_back", "ms", channel.name + ": to its start, where it is safe, in",
                              std::clamp<std::int32_t>(toTicks(channel.places->move_time), 1, longest_move), 1, longest_move, "Need"});
            output.kind = channel.places->kind;
            output.start = channel.places->start;
            output.furthest = channel.places->furthest;
            output.hold = channel.places->hold;
            if (channel.places->let_go && !isHeld(routine, channel.id))
                output.let_go_parameter = addParameter(
                    program, {id + "_let_go", "ms", channel.name + ": stands still before it is let go",
                              std::clamp<std::int32_t>(toTicks(*channel.places->let_go), 1, longest_move), 1, longest_move, "Pulse"});
            program.outputs.push_back(std::move(output));
            continue;
        }
        output.duty_parameter =
            addParameter(program, {id + "_duty", "permille",
                                   channel.name + (channel.pulse_still > 0 || channel.step_rate > 0.0 ? ": share of full speed"
                                                   : channel.of_volts                                 ? ": share of full rms volts"
                                                                                                      : ": share of full power"),
                                   static_cast<std::int32_t>(std::lround(si(channel.duty) * 1000.0)), 0, 1000, "Pulse"});
        output.ramp_parameter = addParameter(
            program, {id + "_soft_start", "ms", channel.name + ": time from rest to that power", toTicks(channel.ramp), 0, 5000, "Pulse"});
        output.off_delay_parameter =
            addParameter(program, {id + "_off_delay", "ms", channel.name + ": keeps running after its reason has gone",
                                   toTicks(channel.off_delay), 0, 600000, "Routine"});
        output.step_rate = channel.step_rate;
        output.half_waves = channel.half_waves;
        output.of_volts = channel.of_volts;
        output.two_inputs = channel.two_inputs;
        output.brakes = channel.two_inputs && channel.brakes;
        output.latch = channel.latch;
        output.latch_turn = channel.latch_turn;
        if (channel.pulse_still > 0) {
            output.pulse_still = channel.pulse_still;
            output.still_parameter = addParameter(program, {id + "_still", "half-us", channel.name + ": pulse at which it stands still",
                                                            channel.pulse_still, 2000, 4000, "Pulse"});
        }
        output.turns = turnsRound(routine, channel.id);
        if (output.turns && !isHeld(routine, channel.id))
            turns[program.outputs.size()] =
                addParameter(program, {id + "_turn", "ms", channel.name + ": stands still before it is turned round",
                                       std::max<std::int32_t>(1, toTicks(channel.turn_pause)), 1, 60000, "Pulse"});
        program.outputs.push_back(std::move(output));
    }
    return std::nullopt;
}

// Cues that start one another in a ring must take some time somewhere: else they would go round in every tick.
std::optional<Error> judgeRings(const Program& program) {
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        bool rests = false;
        std::size_t at = c, steps = 0;
        while (program.cues[at].after >= 0 && steps++ <= program.cues.size()) {
            rests =
                rests || std::any_of(program.cues[at].instructions.begin(), program.cues[at].instructions.end(), [](const Instruction& i) {
                    return i.parameter >= 0 && i.operation != Operation::Again && i.operation != Operation::Turn;
                });
            at = static_cast<std::size_t>(program.cues[at].after);
            if (at == c && !rests)
                return Error{ErrorCode::Conflict, "routine/cues/" + program.cues[c].id + "/after", program.cues[c].name,
                             "something that takes time in the ring of cues that start one another"};
            if (at == c) break;
        }
    }
    return std::nullopt;
}

// What every cue that moves it is guarded against, guards its way to safety as well.
void guardWaysToSafety(Program& program) {
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        auto& output = program.outputs[o];
        if (output.rest != Rest::Start) continue;
        bool first = true;
        for (const auto& cue : program.cues) {
            if (std::none_of(cue.instructions.begin(), cue.instructions.end(),
                             [&](const Instruction& i) { return i.output == static_cast<int>(o); }))
                continue;
            std::vector<int> guards;
            for (const auto& guard : cue.guards)
                if (guard.throughout && guard.blocks_when) guards.push_back(guard.input);
            if (first) output.rest_unless = guards;
            else
                std::erase_if(output.rest_unless,
                              [&](int input) { return std::find(guards.begin(), guards.end(), input) == guards.end(); });
            first = false;
        }
    }
}

std::optional<Error> addFollowers(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                  const std::vector<InputNumbers>& inputs) {
    for (const auto& follower : routine.followers) {
        const std::string field = "routine/followers/" + follower.id;
        const auto output = indexOf(channels, follower.channel, field + "/channel");
        if (!output) return output.error();
        const auto input = indexOf(inputs, follower.input, field + "/input");
        if (!input) return input.error();
        const auto& channel = channels[static_cast<std::size_t>(*output)];
        if (channel.places)
            return Error{ErrorCode::Conflict, field, channel.name, "something that is switched: what is sent to places follows by cues"};
        if (follower.proportional && !inputs[static_cast<std::size_t>(*input)].analogue &&
            inputs[static_cast<std::size_t>(*input)].source != InputSource::Number)
            return Error{ErrorCode::Conflict, field, inputs[static_cast<std::size_t>(*input)].name,
                         "a knob, a number over the link or another input that is read as a level"};
        program.followers.push_back({*output, *input, !follower.released, follower.proportional,
                                     static_cast<std::int32_t>(std::lround(si(follower.dead) * 1023.0)),
                                     static_cast<std::int32_t>(std::lround(si(follower.start) * 1000.0))});
        if (follower.unless.empty()) continue;
        const auto guard = indexOf(inputs, follower.unless, field + "/unless");
        if (!guard) return guard.error();
        program.followers.back().guard = *guard;
    }
    return std::nullopt;
}

// A knob may set any number but a counter's or a gain's; which ones there are is known only at the end.
std::optional<Error> setKnobs(Program& program, const std::vector<InputNumbers>& inputs) {
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        if (inputs[i].sets.empty()) continue;
        const auto set = std::find_if(program.parameters.begin(), program.parameters.end(),
                                      [&](const Parameter& each) { return each.name == inputs[i].sets; });
        if (set == program.parameters.end())
            return Error{ErrorCode::Unknown, "inputs/" + inputs[i].id + "/sets", inputs[i].sets, "a number from the top of the sketch"};
        if (!inputs[i].analogue) return Error{ErrorCode::Conflict, "inputs/" + inputs[i].id + "/sets", inputs[i].name, "a knob"};
        program.inputs[i].sets = static_cast<int>(set - program.parameters.begin());
        program.inputs[i].sets_most = std::min<std::int32_t>(
            set->most, std::max<std::int32_t>(set->least + 1, set->value > set->most / 2 ? set->most : 2 * set->value));
    }
    return std::nullopt;
}

}  // namespace

Result<Program> compile(const Routine& routine, const std::vector<ChannelNumbers>& channels, const std::vector<InputNumbers>& inputs) {
    Program program;
    std::vector<int> turns;
    if (auto error = addInputs(program, inputs, channels, routine)) return tl::unexpected(*error);
    if (auto error = judgeTurns(routine, channels)) return tl::unexpected(*error);
    if (auto error = addOutputs(program, routine, channels, turns)) return tl::unexpected(*error);
    if (auto error = addLoops(program, routine, channels, inputs)) return tl::unexpected(*error);
    if (routine.link_silence)
        program.link_parameter = addParameter(program, {"link_silence", "ms", "the link is lost after a silence of",
                                                        std::max<std::int32_t>(1, toTicks(*routine.link_silence)), 1, 3600000, "Routine"});
    if (auto error = addCues(program, routine, channels, inputs, turns)) return tl::unexpected(*error);
    if (auto error = judgeRings(program)) return tl::unexpected(*error);
    guardWaysToSafety(program);
    if (auto error = addInterlocks(program, routine, channels, inputs)) return tl::unexpected(*error);
    if (auto error = addFollowers(program, routine, channels, inputs)) return tl::unexpected(*error);
    if (auto error = setKnobs(program, inputs)) return tl::unexpected(*error);
    if (auto error = apart(program)) return tl::unexpected(*error);
    if (auto error = tooMany(program)) return tl::unexpected(*error);
    return program;
}

}  // namespace hinge::routine

template class std::vector<hinge::routine::Guard>;
template class std::vector<hinge::routine::Move>;
template class std::vector<hinge::routine::Term>;
template class std::vector<hinge::routine::Cue>;
template class std::vector<hinge::routine::Interlock>;
template class std::vector<hinge::routine::Follower>;
template class std::vector<hinge::routine::Loop>;
