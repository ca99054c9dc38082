// Cues and their moves as instructions.
#include <algorithm>
#include <cmath>
#include "routine/cue_maker.hpp"

namespace hinge::routine {

std::int32_t toTicks(const Duration& time) {
    return static_cast<std::int32_t>(std::lround(std::clamp(si(time), 0.0, 86'400.0) * 1000.0));
}

int addParameter(Program& program, Parameter parameter) {
    const auto taken = [&](const std::string& name) {
        return std::any_of(program.parameters.begin(), program.parameters.end(), [&](const Parameter& each) { return each.name == name; });
    };
    // "a" with "b_c" and "a_b" with "c" come to the same.
    const std::string base = parameter.name;
    for (int n = 2; taken(parameter.name); ++n) parameter.name = base + "_" + std::to_string(n);
    program.parameters.push_back(std::move(parameter));
    return static_cast<int>(program.parameters.size()) - 1;
}

std::string shownPlace(const ChannelNumbers::Places& places, double from_start) {
    return display(places.along ? Kind::Length : Kind::Angle, from_start);
}

Result<std::int32_t> placeOf(const ChannelNumbers& channel, const std::optional<Angle>& angle, const std::optional<Length>& along,
                             const std::string& field) {
    const auto& places = *channel.places;
    const auto wanted = places.along ? (along ? std::optional(si(*along)) : std::nullopt)
                        : angle      ? std::optional(si(*angle))
                                     : std::nullopt;
    const double place = wanted ? places.start + std::round(places.per_unit * *wanted) : places.furthest;
    const auto lower = std::min(places.start, places.furthest), upper = std::max(places.start, places.furthest);
    if (place < lower - 0.5 || place > upper + 0.5)
        return fail(ErrorCode::OutOfRange, field + (places.along ? "/place" : "/angle"), shownPlace(places, wanted.value_or(0.0)),
                    fmt::format("{} to {}, the move of {} as Need says", shownPlace(places, 0.0),
                                shownPlace(places, (places.furthest - places.start) / places.per_unit), channel.name));
    return static_cast<std::int32_t>(place);
}

std::optional<Error> addCues(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                             const std::vector<InputNumbers>& inputs, const std::vector<int>& turns) {
    std::vector<int> doses(channels.size(), -1);
    for (const auto& cue : routine.cues)
        if (auto refused = CueMaker(program, channels, inputs, turns, doses, cue).make(routine)) return refused;
    return std::nullopt;
}

}  // namespace hinge::routine
