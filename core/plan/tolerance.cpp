#include "plan/tolerance.hpp"
#include <algorithm>
#include <cmath>
#include <future>
#include <random>
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// What one fact at the two ends of its ± does to the figures: factors on a channel's share and current, volts on
// the rail, all against the plan as it stands.
struct Effect {
    ToleranceFact fact;
    int output = -1;                             ///< of the tree; −1: of the supply
    double share_low = 1.0, share_high = 1.0;    ///< factor on the share of what the part can
    double amps_low = 1.0, amps_high = 1.0;      ///< factor on its running current
    double drop_low = 1.0, drop_high = 1.0;      ///< capacitors: factor on the fall of the board's rail
    double volts_low = 0.0, volts_high = 0.0;    ///< the source's volts: added to its lowest
    double source_low = 0.0, source_high = 0.0;  ///< added to the worst current
};
// What a channel's current does to the supply, at factors on it from the least to the largest that can be drawn.
struct Curve {
    int channel = 0;
    std::vector<double> factor, source, drop;
    [[nodiscard]] double read(const std::vector<double>& values, double x) const {
        const auto above = std::upper_bound(factor.begin(), factor.end(), x);
        if (above == factor.begin()) return values.front();
        if (above == factor.end()) return values.back();
        const auto i = static_cast<std::size_t>(above - factor.begin());
        return values[i - 1] + (values[i] - values[i - 1]) * (x - factor[i - 1]) / (factor[i] - factor[i - 1]);
    }
};
constexpr int curve_points = 9;
double at(double low, double middle, double high, double x) {
    return x < 0.0 ? middle + (middle - low) * x : middle + (high - middle) * x;
}

struct Figures {
    double worst = 0.0, lowest = 0.0;
};
std::optional<Figures> figures(const project::Project& project, const project::Parts& parts, const Plan& plan, const SupplyOption& option) {
    const auto fed = under(project, option);
    const auto study = studySupply(fed, parts, plan, option);
    if (!study) return std::nullopt;
    Figures f;
    for (const auto& rail : study->rails) {
        if (rail.id == option.source) f.worst = rail.most;
        if (rail.id == project.board.rail) f.lowest = rail.lowest;
    }
    return f;
}

// What is drawn from: each fact's effect, and what the supply makes of the currents.
struct Spread {
    std::vector<Effect> effects;
    std::vector<Curve> curves;
    std::vector<double> shares;  ///< per channel, of what its part can; nan: not known
    Figures base;
    double set = 0.0, fall = 0.0;  ///< V: the board's rail, and how far it falls
    double gives = 0.0, floor = 0.0;
};

// Asks the plan what each fact does at the two ends of its ±.
class Spreading {
public:
    Spreading(const project::Project& project, const project::Parts& parts, const Plan& plan, SupplyOption option, Figures base)
        : project_(project), parts_(parts), plan_(plan), option_(std::move(option)) {
        out_.base = base;
        out_.shares.assign(project.channels.size(), 0.0);
        const auto logic_volts = railVoltage(under(project, option_), project.board.rail);
        out_.set = logic_volts ? si(*logic_volts) : base.lowest, out_.fall = out_.set - base.lowest;
        out_.floor = board::family(project.board.form).guaranteed_floor;
    }
    Spread spread(const power::Source& source) && {
        for (std::size_t c = 0; c < project_.channels.size(); ++c) addChannel(c);
        addSupply(source);
        out_.gives = source.current ? si(*source.current) : std::numeric_limits<double>::infinity();
        return std::move(out_);
    }

private:
    [[nodiscard]] Figures withCurrent(const std::string& channel, double factor) const;
    void addChannel(std::size_t c);
    void addCurve(std::size_t c);
    void addSupply(const power::Source& source);
    void addOfSupply(const std::string& path, const std::string& label, double share, bool capacitor,
                     const std::function<void(project::Project&, double)>& change);

    const project::Project& project_;
    const project::Parts& parts_;
    const Plan& plan_;
    SupplyOption option_;
    Spread out_;
};

// What a channel's running current does to the supply, by asking for `factor` of it.
Figures Spreading::withCurrent(const std::string& channel, double factor) const {
    Plan changed = plan_;
    for (auto& planned : changed.channels)
        if (planned.id == channel && planned.chosen && planned.chosen->running && planned.chosen->starting) {
            planned.chosen.change([&](match::Pairing& chosen) {
                chosen.running = of<Current>(si(*chosen.running) * factor);
                chosen.starting = of<Current>(si(*chosen.starting) * factor);
            });
        }
    return figures(project_, parts_, changed, option_).value_or(out_.base);
}

void Spreading::addChannel(std::size_t c) {
    const auto& channel = project_.channels[c];
    const auto& planned = *findChannel(plan_, channel.id);
    if (!planned.chosen) return;
    const double own = out_.shares[c] = planned.chosen->numbers.share;
    const auto* part = match::partOf(planned.context, parts_, channel.actuator);
    const auto* driver = project::findDriver(parts_, channel.drive.part);
    if (part == nullptr || driver == nullptr || std::isnan(own)) return;
    for (const auto& spread : channel.spreads) {
        if (si(spread.of_value) <= 0.0) continue;
        Effect effect;
        effect.output = static_cast<int>(c);
        effect.fact = {"channels/" + channel.id + "/demand/" + spread.id, channel.name, si(spread.of_value), 0.0};
        if (const auto fact = project::fact(project_, effect.fact.path)) effect.fact.label = channel.name + ": " + fact->label;
        for (const int side : {-1, 1}) {
            const auto demand = project::scaled(channel.demand, spread.id, 1.0 + side * si(spread.of_value));
            if (!demand) continue;
            match::Context context = planned.context;
            context.demand = *demand;
            context.ask = match::ask(*demand);
            const auto judged = match::judge(context, *part, *driver, context.rails.front());
            const double share = judged.share / own, amps = planned.chosen->running && si(*planned.chosen->running) > 0.0
                                                                ? judged.running / si(*planned.chosen->running)
                                                                : 1.0;
            if (std::isfinite(share) && share > 0.0) (side < 0 ? effect.share_low : effect.share_high) = share;
            if (std::isfinite(amps) && amps > 0.0) (side < 0 ? effect.amps_low : effect.amps_high) = amps;
        }
        out_.effects.push_back(std::move(effect));
    }
    addCurve(c);
}

void Spreading::addCurve(std::size_t c) {
    double least = 1.0, most = 1.0;
    for (const auto& effect : out_.effects) {
        if (effect.output != static_cast<int>(c)) continue;
        const double low = at(effect.amps_low, 1.0, effect.amps_high, -1.5), high = at(effect.amps_low, 1.0, effect.amps_high, 1.5);
        least *= std::clamp(std::min(low, high), 0.01, 1.0);
        most *= std::max({1.0, low, high});
    }
    if (most - least < 1e-6) return;
    Curve curve;
    curve.channel = static_cast<int>(c);
    for (int k = 0; k < curve_points; ++k) {
        const double factor = least + (most - least) * k / (curve_points - 1);
        const auto f = withCurrent(project_.channels[c].id, factor);
        curve.factor.push_back(factor);
        curve.source.push_back(f.worst - out_.base.worst);
        curve.drop.push_back(out_.set - f.lowest);
    }
    out_.curves.push_back(std::move(curve));
}

void Spreading::addOfSupply(const std::string& path, const std::string& label, double share, bool capacitor,
                            const std::function<void(project::Project&, double)>& change) {
    Effect effect;
    effect.fact = {path, label, share, 0.0};
    for (const int side : {-1, 1}) {
        auto other = project_;
        change(other, 1.0 + side * share);
        const auto f = figures(other, parts_, plan_, option_).value_or(out_.base);
        (side < 0 ? effect.source_low : effect.source_high) = f.worst - out_.base.worst;
        // A capacitor divides the fall; where there is hardly one, what it changes is added.
        if (capacitor && out_.fall > 0.01 * out_.set) (side < 0 ? effect.drop_low : effect.drop_high) = (out_.set - f.lowest) / out_.fall;
        else (side < 0 ? effect.volts_low : effect.volts_high) = f.lowest - out_.base.lowest;
    }
    out_.effects.push_back(std::move(effect));
}

void Spreading::addSupply(const power::Source& source) {
    if (source.voltage)
        addOfSupply("sources/" + source.id + "/voltage", source.name + ": volts", 0.05, false, [&](project::Project& p, double factor) {
            for (auto& s : p.sources)
                if (s.id == source.id) s.voltage = of<Voltage>(si(*s.voltage) * factor);
        });
    for (const auto& rail : project_.rails)
        if (rail.bulk)
            addOfSupply("rails/" + rail.id + "/bulk", rail.name + ": capacitor", 0.2, true, [&](project::Project& p, double factor) {
                for (auto& r : p.rails)
                    if (r.id == rail.id) r.bulk = of<Capacitance>(si(*r.bulk) * factor);
            });
}

struct Tally {
    int overload = 0, over = 0, low = 0;
    std::vector<double> with;  ///< per fact: with the margin that is nearest to its limit
    double margin = 0.0, margin_square = 0.0;
};

// One plan with every fact drawn: `x` are halves of a ±.
void tallyOne(const Spread& s, const std::vector<double>& x, Tally& tally) {
    std::vector<double> share = s.shares, amps(s.shares.size(), 1.0);
    double worst = s.base.worst, added = 0.0, drop = s.fall, divided = 1.0;
    for (std::size_t e = 0; e < s.effects.size(); ++e) {
        const auto& effect = s.effects[e];
        if (effect.output >= 0) {
            share[static_cast<std::size_t>(effect.output)] *= at(effect.share_low, 1.0, effect.share_high, x[e]);
            amps[static_cast<std::size_t>(effect.output)] *= at(effect.amps_low, 1.0, effect.amps_high, x[e]);
            continue;
        }
        worst += at(effect.source_low, 0.0, effect.source_high, x[e]);
        added += at(effect.volts_low, 0.0, effect.volts_high, x[e]);
        divided *= std::max(0.0, at(effect.drop_low, 1.0, effect.drop_high, x[e]));
    }
    for (const auto& curve : s.curves) {
        const double factor = amps[static_cast<std::size_t>(curve.channel)];
        worst += curve.read(curve.source, factor);
        drop += curve.read(curve.drop, factor) - s.fall;
    }
    const double lowest = s.set - std::max(0.0, drop) * divided + added;
    double margin = worst / s.gives;  // 1 is at the limit
    bool overload = false;
    for (const double one : share) {
        if (std::isnan(one)) continue;
        overload = overload || one > 1.0;
        margin = std::max(margin, one);
    }
    if (lowest > 0.0) margin = std::max(margin, s.floor / lowest);
    tally.overload += overload ? 1 : 0;
    tally.over += worst > s.gives ? 1 : 0;
    tally.low += lowest < s.floor ? 1 : 0;
    tally.margin += margin;
    tally.margin_square += margin * margin;
    for (std::size_t e = 0; e < s.effects.size(); ++e) tally.with[e] += margin * x[e];
}

Tally tallyOf(const Spread& spread, int count, std::uint64_t seed) {
    Tally tally;
    tally.with.assign(spread.effects.size(), 0.0);
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal(0.0, 0.5);  // ± is two standard deviations
    std::vector<double> x(spread.effects.size());
    for (int k = 0; k < count; ++k) {
        for (auto& value : x) do
                value = normal(random);
            while (std::abs(value) > 1.5);
        tallyOne(spread, x, tally);
    }
    return tally;
}

// Each block of plans has a seed of its own, so that the number of threads changes nothing.
Tally tallyAll(const Spread& spread, int plans, std::uint64_t seed, int threads) {
    threads = std::clamp(threads, 1, 16);
    constexpr int block = 500;
    const int blocks = (plans + block - 1) / block;
    std::vector<Tally> tallies(static_cast<std::size_t>(blocks));
    std::vector<std::future<void>> running;
    for (int t = 0; t < threads; ++t)
        running.push_back(std::async(threads == 1 ? std::launch::deferred : std::launch::async, [&, t] {
            for (int b = t; b < blocks; b += threads)
                tallies[static_cast<std::size_t>(b)] =
                    tallyOf(spread, std::min(block, plans - b * block), seed * 1'000'003ULL + static_cast<std::uint64_t>(b));
        }));
    for (auto& one : running) one.get();
    Tally sum;
    sum.with.assign(spread.effects.size(), 0.0);
    for (const auto& tally : tallies) {
        sum.overload += tally.overload, sum.over += tally.over, sum.low += tally.low;
        sum.margin += tally.margin, sum.margin_square += tally.margin_square;
        for (std::size_t e = 0; e < spread.effects.size(); ++e) sum.with[e] += tally.with[e];
    }
    return sum;
}

}  // namespace

std::optional<Tolerance> tolerance(const project::Project& project, const project::Parts& parts, const Plan& plan, int plans,
                                   std::uint64_t seed, int threads) {
    const auto options = supplyOptions(project);
    if (options.empty() || !plan.program || plans < 1) return std::nullopt;
    const auto option = options.front();
    const auto base = figures(project, parts, plan, option);
    const auto* source = project::findSource(project, option.source);
    if (!base || source == nullptr) return std::nullopt;
    const auto spread = Spreading(project, parts, plan, option, *base).spread(*source);
    const Tally sum = tallyAll(spread, plans, seed, threads);
    Tolerance out;
    out.plans = plans;
    out.overload = static_cast<double>(sum.overload) / plans;
    out.supply_over = static_cast<double>(sum.over) / plans;
    out.too_low = static_cast<double>(sum.low) / plans;
    // A fact's weight: its correlation with the margin, squared (facts are drawn independently), as a share of all.
    const double variance = sum.margin_square / plans - (sum.margin / plans) * (sum.margin / plans);
    double explained = 0.0;
    for (std::size_t e = 0; e < spread.effects.size(); ++e) {
        auto fact = spread.effects[e].fact;
        const double covariance = sum.with[e] / plans;
        fact.weight = variance > 1e-18 ? covariance * covariance : 0.0;
        explained += fact.weight;
        out.facts.push_back(std::move(fact));
    }
    for (auto& fact : out.facts) fact.weight = explained > 0.0 ? fact.weight / explained : 0.0;
    std::stable_sort(out.facts.begin(), out.facts.end(),
                     [](const ToleranceFact& a, const ToleranceFact& b) { return a.weight > b.weight; });
    if (!out.facts.empty() && out.facts.front().weight > 0.2)
        out.sentence = "Measure this more closely: " + out.facts.front().label + ". It decides.";
    return out;
}

}  // namespace hinge::plan
