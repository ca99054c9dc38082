#include "journal/bag.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <boost/math/special_functions/beta.hpp>
#include <cmath>
#include <numeric>

namespace hinge::journal {
namespace {

double medianOf(std::vector<double> values) {
    if (values.empty()) return 0.0;
    std::sort(values.begin(), values.end());
    const std::size_t n = values.size();
    return n % 2 == 1 ? values[n / 2] : 0.5 * (values[n / 2 - 1] + values[n / 2]);
}

}  // namespace

Result<Worked<BagShareResult>> bagShare(const BagShare& in) {
    const double n = si(in.tried), k = si(in.rejected), c = si(in.confidence);
    if (n != std::floor(n) || n < 1.0 || n > 1e5)
        return fail(ErrorCode::OutOfRange, "tried", exactNumber(n), "a whole number from 1 to 100000");
    if (k != std::floor(k) || k > n) return fail(ErrorCode::OutOfRange, "rejected", exactNumber(k), "a whole number, at most those tried");
    if (c >= 1.0) return fail(ErrorCode::OutOfRange, "confidence", exactNumber(c), "below 1: certainty takes the whole bag");
    Worked<BagShareResult> out;
    auto& r = out.result;
    r.found = of<Fraction>(k / n);
    // Σ C(n,i)·pⁱ·(1−p)ⁿ⁻ⁱ, i ≤ k, is 1 − I(k + 1, n − k; p), the regularised incomplete beta function.
    r.at_most = of<Fraction>(k == n ? 1.0 : boost::math::ibeta_inv(k + 1.0, n - k, c));
    addStep(out.steps, "f", "rejected of those tried", "{k}/{n}", {{"k", in.rejected}, {"n", in.tried}}, r.found, "definition");
    addStep(out.steps, "p", "share of the bag that is at most bad, so sure", "Σ C({n},i)·pⁱ·(1−p)^({n}−i), i ≤ {k}, = 1 − {c}",
            {{"n", in.tried}, {"k", in.rejected}, {"c", in.confidence}}, r.at_most, "clopper-pearson-1934");
    return out;
}

FormPtr bagShareForm() {
    using I = BagShare;
    using R = BagShareResult;
    auto form = std::make_shared<FormOf<I, R>>("bag-share", "prove", "how many of a bag may be bad, after a few were tried",
                                               "clopper-pearson-1934", &bagShare);
    form->rule("at most p of the bag, with Σ C(n,i)·p^i·(1−p)^(n−i), i ≤ rejected, = 1 − confidence")
        .in("tried", &I::tried, nullptr, "pieces")
        .in("rejected", &I::rejected, nullptr, "of them")
        .zeroOk()
        .in("confidence", &I::confidence, "0.9", "how sure")
        .out("found", &R::found, "of those tried")
        .out("at_most", &R::at_most, "of the bag");
    return form;
}

BagSpread bagSpread(std::span<const double> readings) {
    BagSpread out;
    const std::size_t n = readings.size();
    if (n == 0) return out;
    out.mean = std::accumulate(readings.begin(), readings.end(), 0.0) / static_cast<double>(n);
    double squares = 0.0;
    for (const double each : readings) squares += (each - out.mean) * (each - out.mean);
    out.deviation = n > 1 ? std::sqrt(squares / static_cast<double>(n - 1)) : 0.0;
    out.median = medianOf({readings.begin(), readings.end()});
    std::vector<double> away;
    for (const double each : readings) away.push_back(std::abs(each - out.median));
    out.away = medianOf(away);
    if (n < 5) return out;
    for (std::size_t i = 0; i < n; ++i) {
        const double distance = std::abs(readings[i] - out.median);
        if (out.away > 0.0 ? 0.6745 * distance / out.away > 3.5 : distance > 0.1 * std::abs(out.median)) out.strange.push_back(i);
    }
    return out;
}

}  // namespace hinge::journal
