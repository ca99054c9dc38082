#pragma once
// A board form is one file of parts/boards: its figures, its pins, how it is written to. Names in it end in their unit; what is left out
// is not there. Another board is another file and a line in BoardForm.
#include <deque>
#include <nlohmann/json_fwd.hpp>
#include <vector>
#include "board/family.hpp"

namespace hinge::board {

/// The forms that were read, and the pins that they point to.
struct Forms {
    std::vector<Family> list;
    std::deque<std::vector<Pin>> pins;
};
/// Reads one into the list; one whose pins are another's ("pins_as") comes after it.
/// @param document  outlives the list: names and words point into it
/// @error BadFormat  a figure is missing, of another kind, not known, or not above zero where it has to be; the board and the figure are
///                   named
[[nodiscard]] Result<void> addForm(Forms& forms, const nlohmann::json& document);

}  // namespace hinge::board
