#pragma once
#include <string>
#include <vector>

namespace hinge::firmware {

/// Something in a sketch's source that often goes wrong.
struct Habit {
    std::string id;    ///< "blocks", "no-volatile", …
    int line = 0;      ///< 1 is the first
    std::string text;  ///< what stands there, shortened
    std::string why;   ///< what it does to the gadget, and what to write instead
    friend bool operator==(const Habit&, const Habit&) = default;
};
/// Reads the source of somebody's own sketch for habits that make gadgets fail: waits that block, a level taken for an edge, a
/// variable shared with an interrupt without volatile, a clock that is set at every start, a count that disagrees with its
/// array, a password that everybody knows, times that fail when the counter rolls over. It reads lines and names, not the
/// language: what it finds is a place to look at, and what it does not find may still be there.
/// (Common practice, no published source.)
[[nodiscard]] std::vector<Habit> habitsOf(const std::string& source);

}  // namespace hinge::firmware
