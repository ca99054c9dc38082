#pragma once
// What the parts of the compiler share. Not for use outside.
#include <fmt/format.h>
#include "quantity/text.hpp"
#include "routine/compile.hpp"

namespace hinge::routine {

/// At most a day.
[[nodiscard]] std::int32_t toTicks(const Duration& time);
/// @error Unknown  none of the list has that id
template <class List>
Result<int> indexOf(const List& list, const std::string& id, const std::string& field) {
    for (std::size_t i = 0; i < list.size(); ++i)
        if (list[i].id == id) return static_cast<int>(i);
    const std::string names = joined(list, ", ", [&](const auto& entry) { return entry.id; });
    return fail(ErrorCode::Unknown, field, id, names.empty() ? "there is none yet" : "one of " + names);
}
/// Adds a number of the sketch; where its name is taken, under another one. @return its index
int addParameter(Program& program, Parameter parameter);
/// A way of a move [rad or m] in words.
[[nodiscard]] std::string shownPlace(const ChannelNumbers::Places& places, double from_start);
/// A place of a move in the sketch's units. Without one it is the end of the move.
/// @error OutOfRange  beyond the move
[[nodiscard]] Result<std::int32_t> placeOf(const ChannelNumbers& channel, const std::optional<Angle>& angle,
                                           const std::optional<Length>& along, const std::string& field);
/// Adds the loops, once inputs and outputs are there.
[[nodiscard]] std::optional<Error> addLoops(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                            const std::vector<InputNumbers>& inputs);
/// Adds the cues, once inputs, outputs and loops are there. @param turns  per channel: the number of its pause; −1: it is not turned round
[[nodiscard]] std::optional<Error> addCues(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                           const std::vector<InputNumbers>& inputs, const std::vector<int>& turns);

}  // namespace hinge::routine
