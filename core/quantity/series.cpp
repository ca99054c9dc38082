#include "quantity/series.hpp"
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace hinge {
inline namespace quantity {
namespace {

constexpr std::array e24{1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                         3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};

std::vector<double> everyNth(std::size_t step) {
    std::vector<double> values;
    for (std::size_t i = 0; i < e24.size(); i += step) values.push_back(e24[i]);
    return values;
}

// E48 to E192 are the geometric series rounded to three digits; the standard prints 9.20 in E192
// where rounding alone would give 9.19.
std::vector<double> geometric(int count) {
    std::vector<double> values;
    for (int i = 0; i < count; ++i) {
        double value = std::round(std::pow(10.0, 2.0 + static_cast<double>(i) / count)) / 100.0;
        if (count == 192 && i == 185) value = 9.20;
        values.push_back(value);
    }
    return values;
}

}  // namespace

std::span<const double> mantissas(Series series) {
    static const std::array lists{everyNth(8), everyNth(4), everyNth(2), everyNth(1), geometric(48), geometric(96), geometric(192)};
    return lists.at(static_cast<std::size_t>(series));
}

double preferred(double value, Series series, Round round) {
    const auto list = mantissas(series);
    const int decade = static_cast<int>(std::floor(std::log10(value)));
    // Candidates over three decades; multiply or divide by whole powers of ten, which are exact.
    std::vector<double> candidates;
    for (int d = decade - 1; d <= decade + 1; ++d)
        for (const double m : list) {
            // Hundredfold mantissas are whole numbers: one rounding only, so that 4.7e3 is 4700.
            const double whole = std::round(m * 100.0);
            const int exponent = d - 2;
            candidates.push_back(exponent >= 0 ? whole * std::pow(10.0, exponent) : whole / std::pow(10.0, -exponent));
        }
    constexpr double slack = 1e-9;
    const auto not_below = std::find_if(candidates.begin(), candidates.end(), [&](double c) { return c >= value * (1 - slack); });
    const double up = not_below == candidates.end() ? candidates.back() : *not_below;
    double down = candidates.front();
    for (const double c : candidates)
        if (c <= value * (1 + slack)) down = c;
    if (round == Round::Up) return up;
    if (round == Round::Down) return down;
    return (up - value) < (value - down) * (1 - 1e-12) ? up : down;
}

std::optional<double> nextInList(double value, std::span<const double> list) {
    for (const double entry : list)
        if (entry >= value * (1 - 1e-9)) return entry;
    return std::nullopt;
}

}  // namespace quantity
}  // namespace hinge
