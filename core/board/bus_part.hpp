#pragma once
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::board {

/// A part on the two-wire bus, by its data table: where it answers and what its registers hold.
struct BusPart {
    struct Field {
        int reg = 0;
        std::string name;    ///< "seconds", "halted", …
        std::string coding;  ///< "bcd", "bit7"
    };
    std::string id, name, kind;
    int address = 0;  ///< seven bits
    std::vector<Field> fields;
    /// The register of a field; −1 where it has none.
    [[nodiscard]] int registerOf(std::string_view field) const;
};
/// Reads a table: part,name,kind,address,register,field,coding.
/// @error BadFormat  naming the line
[[nodiscard]] Result<std::vector<BusPart>> parseBusParts(std::string_view csv);
/// The shipped table, parts/bus.csv.
[[nodiscard]] const std::vector<BusPart>& busParts();
[[nodiscard]] const BusPart* findBusPart(std::string_view id);

}  // namespace hinge::board
