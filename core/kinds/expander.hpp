#pragma once
// Boards of more lines: how each is called in lists and over the link, and what it is wired to by itself.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds {

/// Boards of one kind that a list can name apart.
inline constexpr int most_alike = 8;
/// What a person calls it: "PWM expander", "I/O expander 2". @param board  1: the first, or the only one
[[nodiscard]] std::string expanderName(const driver::RegisterMap& map, int board);
/// What its ends in the wiring list begin with: "I²C PWM expander"
[[nodiscard]] std::string expanderBox(const driver::RegisterMap& map, int board);
/// All that ends can begin with, none before a longer one that begins like it.
[[nodiscard]] const std::vector<std::string>& expanderBoxes();
/// Where it answers on two wires. @param board  each has its own address, counted up from the table's
[[nodiscard]] int expanderAddress(const driver::RegisterMap& map, int board);
/// Whether a channel's driver, or an input, can hang on its lines; a serial one moves its own servos only.
[[nodiscard]] bool takesOthers(const driver::RegisterMap& map);
/// Such a board as the catalogue has it; nullptr: it has none.
[[nodiscard]] const driver::DriverPart* boardWith(const std::vector<driver::DriverPart>& drivers, const driver::RegisterMap& map);
/// What it is wired to before any channel hangs on it.
struct ExpanderWiring {
    const driver::RegisterMap& map;
    int board = 1;
    std::vector<std::pair<std::string, std::string>> lines;  ///< ends at its bus, and "board D13" of each; none: to come
    std::string logic;                                       ///< "board 5 V"
    std::string rail;                                        ///< name of the one that feeds its servos; empty: it has none
};
[[nodiscard]] std::vector<Wire> expanderWires(const ExpanderWiring& in);

}  // namespace hinge::kinds
