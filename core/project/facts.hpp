#pragma once
#include <optional>
#include <string>
#include <vector>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::project {

enum class FactType { Quantity, Choice, Text, Flag };

/// One decision or measurement, ready to be shown and edited.
struct Fact {
    std::string path;  ///< "channels/rain/demand/lift"
    std::string label;
    std::string hint;
    Stage stage = Stage::Need;
    FactType type = FactType::Text;
    Kind kind = Kind::Ratio;
    std::string text;   ///< for reading: "450 mm"; empty when not known
    std::string exact;  ///< reads back as the same value
    bool known = true;
    std::optional<double> spread;                              ///< share of the value that it is known to, both ways; in `text` too
    std::vector<std::pair<std::string, std::string>> choices;  ///< id, words
    std::string range;                                         ///< in words
};

/// An edit as data: the fact's path and its new text; an empty text forgets an optional fact.
/// A figure of a demand may carry how well it is known: "90 ± 3 g", "0.45 m ± 5 %"; without ± it
/// keeps the share it had, ± 0 takes it away.
struct FactEdit {
    std::string path;
    std::string value;
    friend bool operator==(const FactEdit&, const FactEdit&) = default;
};

/// Every fact that has a label, in file order.
[[nodiscard]] std::vector<Fact> facts(const Project& project);
[[nodiscard]] std::optional<Fact> fact(const Project& project, std::string_view path);
/// The project with one fact changed.
/// @error Unknown      no such path
/// @error NotANumber, WrongUnit, OutOfRange  the text does not fit; the old value stays
[[nodiscard]] Result<Project> with(const Project& project, const FactEdit& edit);
/// The demand with one figure multiplied; nullopt when it has no such figure, or it is not known.
[[nodiscard]] std::optional<Demand> scaled(const Demand& demand, std::string_view field, double factor);
/// Several edits, all or none.
[[nodiscard]] Result<Project> with(const Project& project, const std::vector<FactEdit>& edits);

}  // namespace hinge::project
