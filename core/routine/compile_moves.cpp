// What a cue sends to places, as instructions.
#include "routine/cue_maker.hpp"

namespace hinge::routine {

Refused CueMaker::home(const At& at, int channel) {
    const int input = *indexOf(inputs_, at.move.input, at.field + "/input");
    const auto& mover = channels_[static_cast<std::size_t>(channel)];
    if (!mover.places || mover.places->kind != OutputKind::Stepper)
        return Error{ErrorCode::Conflict, at.field, mover.name, "a stepper: only what counts its steps has to look for its start"};
    const std::int32_t ticks = toTicks(*at.move.time);
    if (ticks > longest_move) return Error{ErrorCode::OutOfRange, at.field + "/time", "", "at most a day"};
    const int within =
        number({at.id, "ms", cue_.name + ": " + mover.name + " looks for its start at most", ticks, 1, longest_move, "Routine"});
    const bool anew = inputAt(input).fleeting;
    add({.operation = Operation::Home, .output = channel, .parameter = within, .input = input, .anew = anew});
    return twice(at, channel, input, ticks);
}

// Found at speed, the start is late by what the mover goes on in its debounce: it backs off, and comes again at an eighth of the speed.
// The switch must let go meanwhile: one that is stuck would be found anywhere.
Refused CueMaker::twice(const At& at, int channel, int input, std::int32_t ticks) {
    const auto& mover = channels_[static_cast<std::size_t>(channel)];
    const auto& places = *mover.places;
    const auto off = places.along    ? (at.move.place ? std::optional(si(*at.move.place)) : std::nullopt)
                     : at.move.angle ? std::optional(si(*at.move.angle))
                                     : std::nullopt;
    if (!off || *off == 0.0) return std::nullopt;
    const double whole = std::abs(places.furthest - places.start), way = std::round(std::abs(places.per_unit * *off));
    if (way < 1.0 || way > whole / 2.0)
        return Error{ErrorCode::OutOfRange, at.field + (places.along ? "/place" : "/angle"), shownPlace(places, *off),
                     fmt::format("a step or more, and up to {}, half of the move of {}",
                                 shownPlace(places, whole / 2.0 / std::abs(places.per_unit)), mover.name)};
    const std::string its = cue_.name + ": " + mover.name;
    // The highest speed of the first search in steps a tick; of the second an eighth of it.
    const double fast = std::abs(spark::homingFrom(places.start, places.furthest) - places.start) *
                        peakSpeed(profileOf(places.kind, ticks, false, true), ticks),
                 even = even_ramp + 16.0 * way / fast, slowly = even > 2 * even_ramp ? even : 32.0 * way / fast;
    const auto in = [](double exact) { return static_cast<std::int32_t>(std::clamp<double>(std::ceil(exact), 1.0, longest_move)); };
    const std::int32_t steps = static_cast<std::int32_t>(way), away = places.furthest >= places.start ? steps : -steps;
    const int back_time = number({at.id + "_off", "ms", its + " backs off for", in(2.0 * way / fast), 1, longest_move, "Routine"}),
              back = number({at.id + "_off_to", "steps", its + " backs off to", places.start + away,
                             std::min(places.start, places.furthest), std::max(places.start, places.furthest), "Routine"}),
              rest =
                  number({at.id + "_let_go", "ms", cue_.name + ": " + inputAt(input).name + " lets go within", 500, 1, 60000, "Routine"}),
              second = number({at.id + "_slow", "ms", its + " comes again slowly for at most", in(slowly), 1, longest_move, "Routine"}),
              from = number({at.id + "_slow_from", "steps", its + " comes again from", 2 * steps, 1, largest_place, "Routine"});
    add({.operation = Operation::Go, .output = channel, .parameter = back_time, .target = back, .gentle = true});
    add({.operation = Operation::Until, .output = channel, .parameter = rest, .input = input, .wanted = false});
    add({.operation = Operation::Home, .output = channel, .parameter = second, .target = from, .input = input});
    return std::nullopt;
}

Refused CueMaker::go(const At& at, int channel) {
    const auto& mover = channels_[static_cast<std::size_t>(channel)];
    const auto& places = *mover.places;
    if (at.move.from_here) return goBy(at, channel);
    const auto place = placeOf(mover, at.move.angle, at.move.place, at.field);
    if (!place) return place.error();
    const auto lower = std::min(places.start, places.furthest), upper = std::max(places.start, places.furthest);
    const auto time = moveTime(at, mover);
    if (!time) return time.error();
    const int target = number({at.id + "_to", unitOf(places), cue_.name + ": " + mover.name + " goes to", *place, lower, upper, "Pulse"});
    add({.operation = Operation::Go, .output = channel, .parameter = *time, .target = target, .gentle = inLine(at)});
    return std::nullopt;
}

// The number of a move's ticks. Those that go in one straight line share that of the longest: with the same ticks and the same ramps
// each has at any time covered the same share of its way.
Result<int> CueMaker::moveTime(const At& at, const ChannelNumbers& mover) {
    const auto ticksOf = [&](const Move& move, const ChannelNumbers& of_it) {
        return toTicks(move.time.value_or(of_it.places ? of_it.places->move_time : Duration{}));
    };
    std::int32_t ticks = ticksOf(at.move, mover);
    if (ticks < 1 || ticks > longest_move) return fail(ErrorCode::OutOfRange, at.field + "/time", "", "more than 0 and at most a day");
    if (!inLine(at)) return number({at.id, "ms", cue_.name + ": " + mover.name + " moves for", ticks, 1, longest_move, "Routine"});
    if (at.move.in_line) return line_time_;
    for (std::size_t m = at.place + 1; m < cue_.moves.size() && cue_.moves[m].in_line; ++m)
        for (const auto& channel : channels_)
            if (channel.id == cue_.moves[m].channel) ticks = std::max(ticks, ticksOf(cue_.moves[m], channel));
    return line_time_ = number({at.id, "ms", cue_.name + ": " + mover.name + " and those in line with it move for",
                                std::min(ticks, longest_move), 1, longest_move, "Routine"});
}

// So far from where it stands. Whole steps, rounded down: as many such moves as fill its way still fit into it.
Refused CueMaker::goBy(const At& at, int channel) {
    const auto& mover = channels_[static_cast<std::size_t>(channel)];
    const auto& places = *mover.places;
    const char* field = places.along ? "/place" : "/angle";
    const auto by = places.along    ? (at.move.place ? std::optional(si(*at.move.place)) : std::nullopt)
                    : at.move.angle ? std::optional(si(*at.move.angle))
                                    : std::nullopt;
    if (!by) return Error{ErrorCode::Missing, at.field + field, "", "how far it goes from where it stands"};
    const double whole = std::abs(places.furthest - places.start), way = std::floor(std::abs(places.per_unit * *by) + 1e-6);
    if (way < 1.0 || way > whole + 0.5)
        return Error{
            ErrorCode::OutOfRange, at.field + field, shownPlace(places, *by),
            fmt::format("{} or more, and up to {}, the move of {} as Need says", shownPlace(places, 1.0 / std::abs(places.per_unit)),
                        shownPlace(places, whole / std::abs(places.per_unit)), mover.name)};
    const auto time = moveTime(at, mover);
    if (!time) return time.error();
    const int steps = number({at.id + "_by", unitOf(places), cue_.name + ": " + mover.name + " goes on by", static_cast<std::int32_t>(way),
                              1, static_cast<std::int32_t>(whole), "Pulse"});
    add({.operation = Operation::Go,
         .output = channel,
         .parameter = *time,
         .target = steps,
         .gentle = inLine(at),
         .backwards = at.move.backwards,
         .by = true});
    return std::nullopt;
}

Refused CueMaker::sweep(const At& at, int channel) {
    const auto& mover = channels_[static_cast<std::size_t>(channel)];
    const auto& places = *mover.places;
    const auto& move = at.move;
    // A period of an odd number of ticks has a longer and a shorter half.
    const std::int32_t period = toTicks(move.time.value_or(of<Duration>(si(places.move_time) * 2.0))), half = (period + 1) / 2;
    if (period < 2) return Error{ErrorCode::OutOfRange, at.field + "/time", "", "a period of more than nothing"};
    const double whole = std::abs(places.furthest - places.start);
    const auto swing = places.along ? (move.place ? std::optional(si(*move.place)) : std::nullopt)
                       : move.angle ? std::optional(si(*move.angle))
                                    : std::nullopt;
    const double reach = swing ? std::abs(places.per_unit * *swing) : whole;
    if (reach > whole + 0.5 || reach < 1.0)
        return Error{ErrorCode::OutOfRange, at.field + (places.along ? "/place" : "/angle"),
                     shownPlace(places, reach / std::abs(places.per_unit)),
                     fmt::format("from end to end, up to {}, the move of {} as Need says",
                                 shownPlace(places, whole / std::abs(places.per_unit)), mover.name)};
    const double middle = (places.start + places.furthest) / 2.0;
    const auto lower = std::min(places.start, places.furthest), upper = std::max(places.start, places.furthest);
    const char* unit = places.kind == OutputKind::Servo ? "half-us" : "steps";
    const std::string its = cue_.name + ": " + mover.name;
    const int time = number({at.id + "_half", "ms", its + ", half a swing", half, 1, longest_move, "Routine"});
    const int back = period % 2 == 0
                         ? time
                         : number({at.id + "_half_back", "ms", its + ", half a swing back", period - half, 1, longest_move, "Routine"});
    const int far =
        number({at.id + "_far", unit, its + " swings to", static_cast<std::int32_t>(middle + reach / 2.0), lower, upper, "Pulse"});
    const int near =
        number({at.id + "_near", unit, its + " swings back to", static_cast<std::int32_t>(middle - reach / 2.0), lower, upper, "Pulse"});
    const int times = number({at.id, "times", cue_.name + ": swings, 0 for ever",
                              static_cast<std::int32_t>(std::clamp(si(move.times), 0.0, 30000.0)), 0, 30000, "Routine"});
    const int first = static_cast<int>(made_.instructions.size());
    add({Operation::Go, channel, time, far, -1, true, true});
    add({Operation::Go, channel, back, near, -1, true, true});
    add({Operation::Again, -1, times, -1, -1, true, false, first});
    return std::nullopt;
}

}  // namespace hinge::routine
