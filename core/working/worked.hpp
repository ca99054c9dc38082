#pragma once
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/kind.hpp"
#include "quantity/result.hpp"

namespace hinge {
inline namespace working {

/// The four words of judgement.
enum class Verdict { Holds, Tight, Breaks, Unknown };
/// "holds", "tight", "breaks", "unknown": the words of the JSON.
[[nodiscard]] std::string_view word(Verdict verdict);
/// The worse of two: breaks, then unknown, then tight, then holds.
[[nodiscard]] Verdict worse(Verdict a, Verdict b);

/// stop makes the verdict breaks, warn at least tight, note has no effect.
enum class Severity { Stop, Warn, Note };
[[nodiscard]] std::string_view word(Severity severity);

/// What is wrong or worth knowing: a stable id and one sentence with the number in it.
struct Finding {
    std::string id;
    Severity severity = Severity::Note;
    std::string text;
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// One step of a calculation, as a person would write it down.
struct Step {
    std::string symbol;
    std::string meaning;
    std::string formula;
    std::string substituted;
    std::optional<double> value;  ///< SI, or in `unit` where the result's name says a unit
    std::string unit;
    Kind kind = Kind::Ratio;
    std::string source;
};
using Steps = std::vector<Step>;

/// A result with its judgement and the steps that lead to it.
template <class R>
struct Worked {
    R result{};
    Verdict verdict = Verdict::Holds;
    std::vector<Finding> findings;
    Steps steps;
};

/// The verdict that findings alone give: stop breaks, warn is tight, otherwise holds.
[[nodiscard]] Verdict verdictOf(const std::vector<Finding>& findings);

/// A symbol in a formula with the number that stands for it.
struct Term {
    Term(std::string_view name, double number) : symbol{name}, value{number} {}
    template <Measurable Q>
    Term(std::string_view name, const Q& quantity) : symbol{name}, value{quantity.value()} {}
    std::string_view symbol;
    double value;
};

/// Writes a step. `formula` holds each symbol in braces, "{F}·{r}": the step shows it with the
/// symbols and, below, with the numbers put in (SI, four significant digits).
[[nodiscard]] Step makeStep(std::string symbol, std::string meaning, std::string_view formula, std::initializer_list<Term> terms,
                            std::optional<double> value, Kind kind, std::string source);

template <Measurable Q>
void addStep(Steps& steps, std::string symbol, std::string meaning, std::string_view formula, std::initializer_list<Term> terms,
             const Q& value, std::string source) {
    steps.push_back(makeStep(std::move(symbol), std::move(meaning), formula, terms, value.value(), kindOf<Q>, std::move(source)));
}

}  // namespace working
}  // namespace hinge

// Compiled once, in worked.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::Step>;
extern template class std::vector<hinge::Finding>;
