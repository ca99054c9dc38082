#pragma once
// What an end of the wiring list is: a pin, a supply, ground, or a terminal of something that stands beside the board.
#include <map>
#include <string>
#include <vector>
#include "plan/plan.hpp"
#include "plan/wiring.hpp"

namespace hinge::drawing {

enum class EndKind {
    Terminal,  ///< of a box
    Pin,       ///< of the board, or a line of a board of more lines
    Rail,      ///< a rail or a source, by its name
    Logic,     ///< the board's own volts
    Ground,
    Mains,      ///< live
    Return,     ///< neutral and earth
    Converter,  ///< of a rail: its input or output
    Nothing,    ///< left open on purpose
};
struct End {
    EndKind kind = EndKind::Terminal;
    std::string box;       ///< key of its box; empty for what is no terminal
    std::string name;      ///< "gate", "D9", "12 V rail", as it stands beside its wire
    std::string beside{};  ///< of a pin: the board of more lines whose line it is; empty: the board's own
};
/// What stands beside the board.
struct Box {
    std::string key;
    std::string title;    ///< "MOSFET"; empty: as its circuit
    std::string owner;    ///< id of its channel or input
    bool drives = false;  ///< stands between the board and what moves
    kinds::Symbol symbol = kinds::Symbol::Board;
};

/// Reads the ends of a whole wiring list.
class Ends {
public:
    Ends(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::vector<plan::WireRow>& rows);
    /// @param row  of the list: an input's wires are known by their place
    [[nodiscard]] End read(const std::string& end, std::size_t row) const;
    [[nodiscard]] const Box& box(const std::string& key) const { return boxes_.at(key); }
    /// Rows that lead from the sources to rails, standing loads and board.
    [[nodiscard]] std::size_t supplyRows() const { return supply_rows_; }

private:
    [[nodiscard]] std::optional<End> port(const std::string& end) const;
    [[nodiscard]] std::optional<End> ofChannel(const std::string& end) const;
    const project::Project& project_;
    const project::Parts& parts_;
    const plan::Plan& plan_;
    std::size_t supply_rows_ = 0;
    std::map<std::size_t, const project::Input*> inputs_;  ///< row and whose it is
    mutable std::map<std::string, Box> boxes_;
};

}  // namespace hinge::drawing
