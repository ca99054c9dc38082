#pragma once
#include <fmt/format.h>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/kind.hpp"
#include "quantity/result.hpp"

namespace hinge {
inline namespace quantity {

/// A list as one text: what `word` makes of each, or each as it is.
template <class Range, class Word>
[[nodiscard]] std::string joined(const Range& range, std::string_view between, Word word) {
    std::vector<std::string> words;
    for (const auto& each : range) words.emplace_back(word(each));
    return fmt::format("{}", fmt::join(words, between));
}
template <class Range>
[[nodiscard]] std::string joined(const Range& range, std::string_view between) {
    return fmt::format("{}", fmt::join(range, between));
}

/// A decimal number with an optional exponent and nothing else: no comma, hex, '_', nan or inf.
/// @error NotANumber  otherwise, or beyond the range of a double
[[nodiscard]] Result<double> parseNumber(std::string_view text);

/// A number with an optional unit, to SI.
///
/// @param kind       decides which units fit
/// @param text       "1.4 kgf", "25kHz", "2.2k"; a bare prefix (p n u k M G) scales `bare_unit`
/// @param bare_unit  what a number without a unit is in; empty is SI
/// @error NotANumber, WrongUnit; OutOfRange for a temperature under 200 K, a fractional count
[[nodiscard]] Result<double> parseQuantity(Kind kind, std::string_view text, std::string_view bare_unit = {});

/// Typed form of parseQuantity.
template <Measurable Q>
[[nodiscard]] Result<Q> parse(std::string_view text) {
    return parseQuantity(kindOf<Q>, text).map([](double value) { return of<Q>(value); });
}

/// The shortest text that reads back as the same double; a decimal point, never a locale's comma.
[[nodiscard]] std::string exactNumber(double value);
/// "0.45 m": exact, in SI (temperatures in degC, where the sum is exact to 1e-9 K).
[[nodiscard]] std::string exactText(Kind kind, double value_si);
/// For reading: a unit that suits the size, with `digits` significant digits ("418 mA", "1.10 L/min").
[[nodiscard]] std::string display(Kind kind, double value_si, int digits = 3);
/// As display, without trailing zeros: what a person typed ("450 mm", not "450.000 mm").
[[nodiscard]] std::string displayPlain(Kind kind, double value_si);
/// A number with `digits` significant digits, no unit, no exponent between 1e-4 and 1e7.
[[nodiscard]] std::string significant(double value, int digits = 3);

template <Measurable Q>
[[nodiscard]] std::string display(const Q& quantity, int digits = 3) {
    return display(kindOf<Q>, si(quantity), digits);
}
template <Measurable Q>
[[nodiscard]] std::string displayPlain(const Q& quantity) {
    return displayPlain(kindOf<Q>, si(quantity));
}

/// The unit in which `display` would show this value, and its factor to SI: for axes and columns.
struct DisplayUnit {
    std::string name;
    double factor = 1.0;
    double offset = 0.0;
};
[[nodiscard]] DisplayUnit displayUnit(Kind kind, double value_si);

}  // namespace quantity
}  // namespace hinge
