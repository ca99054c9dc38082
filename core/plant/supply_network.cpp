#include "plant/supply_network.hpp"
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <functional>
#include "plant/linear.hpp"

namespace hinge::plant {
namespace {

constexpr double smallest_resistance = 1e-3;
constexpr int most_changes = 4000;

bool atLimit(const SupplyState& state) {
    return std::find(state.modes.begin(), state.modes.end(), FeedMode::Limited) != state.modes.end();
}

// (e^(at) − e^(bt))/(a − b), also where the two are equal.
double between(double a, double b, double t) {
    if (a > b) std::swap(a, b);  // the same either way round; so nothing overflows
    const double x = (a - b) * t;
    return std::exp(b * t) * t * (std::abs(x) < 1e-12 ? 1.0 : std::expm1(x) / x);
}

}  // namespace

// The solution's shape in one set of modes: v = fromCaps·vc + fromLoads·I + held, and the caps' modes.
struct SupplyNetwork::Modal {
    Eigen::MatrixXd fromCaps, fromLoads;
    Eigen::VectorXd held;
    Eigen::VectorXd rate;  ///< eigenvalues, 1/s
    Eigen::MatrixXd vectors, inverse;
    Eigen::MatrixXd loadDrive;  ///< modal forcing per A of load
    Eigen::VectorXd heldDrive;
};

SupplyNetwork::SupplyNetwork(std::vector<SupplySection> sections) : sections_{std::move(sections)} {
    for (auto& s : sections_) {
        s.resistance = std::max(s.resistance, smallest_resistance);
        s.esr = std::max(s.esr, smallest_resistance);
    }
    for (std::size_t i = 0; i < sections_.size(); ++i)
        if (sections_[i].bulk > 0.0) caps_.push_back(static_cast<int>(i));
}

Result<SupplyNetwork> SupplyNetwork::make(std::vector<SupplySection> sections) {
    for (std::size_t i = 0; i < sections.size(); ++i) {
        const auto& s = sections[i];
        if (s.feed >= static_cast<int>(i)) return fail(ErrorCode::OutOfRange, "feed", std::to_string(s.feed), "an earlier section, or -1");
        for (const double value : {s.set, s.taken, s.resistance, s.drop, s.bulk, s.esr})
            if (!std::isfinite(value) || value < 0.0 || !std::isfinite(s.dropout))
                return fail(ErrorCode::OutOfRange, "section " + std::to_string(i), std::to_string(value), "a number, not below zero");
        if (std::isnan(s.limit) || s.limit <= 0.0) return fail(ErrorCode::OutOfRange, "limit", std::to_string(s.limit), "above zero");
    }
    return SupplyNetwork{std::move(sections)};
}

// What the feeds give each section: row·v + constant, less what those below it take from it.
struct SupplyNetwork::Fed {
    Eigen::MatrixXd row;
    Eigen::VectorXd constant;
};

SupplyNetwork::Fed SupplyNetwork::fed(const std::vector<FeedMode>& modes) const {
    const auto n = static_cast<Eigen::Index>(sections_.size());
    Eigen::MatrixXd into = Eigen::MatrixXd::Zero(n, n);
    Eigen::VectorXd constant = Eigen::VectorXd::Zero(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& s = sections_[static_cast<std::size_t>(i)];
        const double g = 1.0 / s.resistance;
        switch (modes[static_cast<std::size_t>(i)]) {
            case FeedMode::Held: into(i, i) = -g, constant(i) = (s.set - s.drop) * g; break;
            case FeedMode::Limited: constant(i) = s.limit; break;
            case FeedMode::Through: into(i, i) = -g, into(i, s.feed) = g, constant(i) = -(s.regulated ? s.dropout : s.drop) * g; break;
            case FeedMode::Blocked: break;
        }
    }
    Fed out{into, constant};
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& s = sections_[static_cast<std::size_t>(i)];
        if (s.feed < 0) continue;
        const double taken = s.regulated && modes[static_cast<std::size_t>(i)] != FeedMode::Through ? s.taken : 1.0;
        out.row.row(s.feed) -= taken * into.row(i);
        out.constant(s.feed) -= taken * constant(i);
    }
    return out;
}

std::vector<double> SupplyNetwork::softLoads(std::span<const LoadShape> loads) const {
    std::vector<double> amps(sections_.size(), 0.0);
    bool any = false;
    for (const auto& load : loads)
        if (load.by_volts) amps[static_cast<std::size_t>(load.section)] += load.steady + load.extra, any = true;
    if (!any) return {};
    // Without limits, every converter in regulation, and with the capacitors as they would settle.
    std::vector<FeedMode> free;
    for (const auto& s : sections_) free.push_back(s.feed >= 0 && !s.regulated ? FeedMode::Through : FeedMode::Held);
    auto network = fed(free);
    network.row.diagonal().array() -= 1e-12;
    Eigen::VectorXd current = Eigen::VectorXd::Zero(network.constant.size());
    for (const auto& load : loads) current(load.section) += load.steady + load.extra;
    const Eigen::VectorXd volts = (-network.row).partialPivLu().solve(network.constant - current);
    std::vector<double> top(sections_.size(), 0.0);
    for (std::size_t i = 0; i < sections_.size(); ++i) {
        const auto& s = sections_[i];
        const double feed = s.feed >= 0 ? top[static_cast<std::size_t>(s.feed)] : 0.0;
        top[i] = std::max(1e-3, s.feed < 0 ? s.set - s.drop : s.regulated ? s.set : feed - s.drop);
        // What sags to less than a fifth by its resistances alone is judged as if it stood there.
        amps[i] = std::max(0.0, amps[i]) / std::clamp(volts(static_cast<Eigen::Index>(i)), 0.2 * top[i], top[i]);
    }
    return amps;
}

std::shared_ptr<const SupplyNetwork::Modal> SupplyNetwork::modal(const std::vector<FeedMode>& modes,
                                                                 const std::vector<double>& soft) const {
    if (soft.empty())
        if (const auto found = known_.find(modes); found != known_.end()) return found->second;
    if (!soft.empty() && last_.modal && last_.modes == modes && last_.soft == soft) return last_.modal;
    const auto n = static_cast<Eigen::Index>(sections_.size()), m = static_cast<Eigen::Index>(caps_.size());
    const auto feeds = fed(modes);
    Eigen::MatrixXd g = feeds.row;
    const Eigen::VectorXd& k = feeds.constant;
    auto made = std::make_shared<Modal>();
    Eigen::MatrixXd capDrive = Eigen::MatrixXd::Zero(n, m);
    for (Eigen::Index c = 0; c < m; ++c) {
        const int i = caps_[static_cast<std::size_t>(c)];
        const double conductance = 1.0 / sections_[static_cast<std::size_t>(i)].esr;
        g(i, i) -= conductance;
        capDrive(i, c) = conductance;
    }
    for (std::size_t i = 0; i < soft.size(); ++i) g(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(i)) -= soft[i];
    // A rail that nothing holds up has only its loads: a leak of 1 pS keeps the sum solvable, far below zero.
    g.diagonal().array() -= 1e-12;
    const Eigen::MatrixXd inverse = (-g).partialPivLu().inverse();  // −g·v = capDrive·vc + k − I
    made->fromCaps = inverse * capDrive;
    made->fromLoads = -inverse;
    made->held = inverse * k;
    if (m > 0) {
        // A pair of equal time constants in a row has no full set of modes; a 1e-5th apart it has.
        for (double apart = 0.0;; apart = apart == 0.0 ? 1e-5 : apart * 10.0) {
            Eigen::MatrixXd a(m, m);
            Eigen::MatrixXd loads(m, n);
            Eigen::VectorXd held(m);
            for (Eigen::Index c = 0; c < m; ++c) {
                const int i = caps_[static_cast<std::size_t>(c)];
                const auto& s = sections_[static_cast<std::size_t>(i)];
                const double rate = 1.0 / (s.esr * s.bulk * (1.0 + apart * static_cast<double>(c)));
                a.row(c) = rate * made->fromCaps.row(i);
                a(c, c) -= rate;
                loads.row(c) = rate * made->fromLoads.row(i);
                held(c) = rate * made->held(i);
            }
            auto modes_of_a = realModes(a);
            made->rate = std::move(modes_of_a.values);
            made->vectors = std::move(modes_of_a.vectors);
            const Eigen::FullPivLU<Eigen::MatrixXd> lu(made->vectors);
            if (lu.rcond() < 1e-9 && apart < 1e-2) continue;
            made->inverse = lu.inverse();
            made->loadDrive = made->inverse * loads;
            made->heldDrive = made->inverse * held;
            break;
        }
    }
    if (soft.empty()) known_.emplace(modes, made);
    else last_ = {modes, soft, made};
    return made;
}

// What does not change while the modes and loads stay: worked out once, looked at often.
struct SupplyNetwork::Stretch {
    std::shared_ptr<const Modal> shape;
    std::vector<LoadShape> hard;    ///< the loads that take their current come what may
    Eigen::VectorXd start, steady;  ///< the capacitors' modes: at first, and what drives them
    Eigen::VectorXd base;           ///< volts by the steady loads
    Eigen::MatrixXd toNodes;        ///< from the modes to volts
    [[nodiscard]] Eigen::VectorXd modes(double time) const {
        Eigen::VectorXd z = start;
        if (time <= 0.0) return z;
        for (Eigen::Index c = 0; c < z.size(); ++c) {
            z(c) = std::exp(shape->rate(c) * time) * start(c) + steady(c) * between(shape->rate(c), 0.0, time);
            for (const auto& load : hard)
                if (load.extra != 0.0)
                    z(c) += shape->loadDrive(c, load.section) * load.extra * between(-1.0 / load.decay, shape->rate(c), time);
        }
        return z;
    }
};

SupplyNetwork::Stretch SupplyNetwork::stretch(const SupplyState& state, std::span<const LoadShape> loads) const {
    const auto n = static_cast<Eigen::Index>(sections_.size()), m = static_cast<Eigen::Index>(caps_.size());
    Stretch s;
    const auto soft = state.soft || atLimit(state) ? softLoads(loads) : std::vector<double>{};
    s.shape = modal(state.modes, soft);
    for (const auto& load : loads)
        if (soft.empty() || !load.by_volts) s.hard.push_back(load);
    Eigen::VectorXd caps(m), current = Eigen::VectorXd::Zero(n);
    for (Eigen::Index c = 0; c < m; ++c) caps(c) = state.caps[static_cast<std::size_t>(caps_[static_cast<std::size_t>(c)])];
    for (const auto& load : s.hard) current(load.section) += load.steady;
    s.base = s.shape->fromLoads * current + s.shape->held;
    if (m > 0) {
        s.start = s.shape->inverse * caps;
        s.steady = s.shape->heldDrive + s.shape->loadDrive * current;
        s.toNodes = s.shape->fromCaps * s.shape->vectors;
    }
    return s;
}

SupplyNetwork::Instant SupplyNetwork::look(const Stretch& stretch, const SupplyState& state, double time) const {
    Eigen::VectorXd v = stretch.base;
    if (stretch.start.size() > 0) v += stretch.toNodes * stretch.modes(time);
    for (const auto& load : stretch.hard)
        if (load.extra != 0.0) v += stretch.shape->fromLoads.col(load.section) * (load.extra * std::exp(-time / load.decay));
    Instant now;
    now.volts.assign(v.data(), v.data() + v.size());
    now.amps.resize(sections_.size());
    for (std::size_t i = 0; i < sections_.size(); ++i) {
        const auto& s = sections_[i];
        switch (state.modes[i]) {
            case FeedMode::Held: now.amps[i] = (s.set - s.drop - now.volts[i]) / s.resistance; break;
            case FeedMode::Limited: now.amps[i] = s.limit; break;
            case FeedMode::Through:
                now.amps[i] =
                    (now.volts[static_cast<std::size_t>(s.feed)] - (s.regulated ? s.dropout : s.drop) - now.volts[i]) / s.resistance;
                break;
            case FeedMode::Blocked: now.amps[i] = 0.0; break;
        }
    }
    return now;
}

SupplyNetwork::Instant SupplyNetwork::at(const SupplyState& state, std::span<const LoadShape> loads, double time) const {
    return look(stretch(state, loads), state, time);
}

int SupplyNetwork::misfit(const std::vector<FeedMode>& modes, const Instant& now, FeedMode& better) const {
    constexpr double volts = 1e-9, amps = 1e-7;
    for (std::size_t i = 0; i < sections_.size(); ++i) {
        const auto& s = sections_[i];
        const bool wire = s.feed >= 0 && !s.regulated;
        const double feed = s.feed >= 0 ? now.volts[static_cast<std::size_t>(s.feed)] : 0.0;
        const bool short_of = s.regulated && feed - s.dropout < s.set - volts;
        const double drive = wire ? feed - s.drop : s.regulated ? std::min(s.set, feed - s.dropout) : s.set - s.drop;
        const auto open = wire || short_of ? FeedMode::Through : FeedMode::Held;
        const auto say = [&](FeedMode mode) { return better = mode, static_cast<int>(i); };
        switch (modes[i]) {
            case FeedMode::Held:
            case FeedMode::Through:
                if (now.amps[i] < -amps && !(wire && s.drop == 0.0)) return say(FeedMode::Blocked);
                if (now.amps[i] > s.limit + amps) return say(FeedMode::Limited);
                if (s.regulated && modes[i] == FeedMode::Held && short_of) return say(FeedMode::Through);
                if (s.regulated && modes[i] == FeedMode::Through && feed - s.dropout > s.set + volts) return say(FeedMode::Held);
                break;
            case FeedMode::Limited:
                if (now.volts[i] + s.limit * s.resistance > drive + volts) return say(open);
                break;
            case FeedMode::Blocked:
                if (drive > now.volts[i] + volts) return say(open);
                break;
        }
    }
    return -1;
}

bool SupplyNetwork::settle(SupplyState& state, std::span<const LoadShape> loads) const {
    for (int i = 0; i < 64; ++i) {
        FeedMode better{};
        const int wrong = misfit(state.modes, at(state, loads), better);
        if (wrong < 0) return true;
        state.modes[static_cast<std::size_t>(wrong)] = better;
        state.soft = state.soft || atLimit(state);
    }
    return false;
}

SupplyState SupplyNetwork::settled(std::span<const LoadShape> loads) const {
    SupplyState state;
    state.caps.assign(sections_.size(), 0.0);
    for (const auto& s : sections_) state.modes.push_back(s.feed >= 0 && !s.regulated ? FeedMode::Through : FeedMode::Held);
    // The volts without a load to begin with, then an hour for whatever is slow.
    for (std::size_t i = 0; i < sections_.size(); ++i) {
        const auto& s = sections_[i];
        const double feed = s.feed >= 0 ? state.caps[static_cast<std::size_t>(s.feed)] : 0.0;
        state.caps[i] = std::max(0.0, s.feed < 0 ? s.set - s.drop : s.regulated ? std::min(s.set, feed - s.dropout) : feed - s.drop);
    }
    std::vector<LoadShape> steady(loads.begin(), loads.end());
    for (auto& load : steady) load.extra = 0.0;
    advance(state, steady, 3600.0);
    return state;
}

void SupplyNetwork::moveTo(SupplyState& state, std::vector<LoadShape>& loads, double time) const {
    if (time <= 0.0) return;
    const auto here = stretch(state, loads);
    if (!caps_.empty()) {
        const Eigen::VectorXd volts = here.shape->vectors * here.modes(time);
        for (std::size_t c = 0; c < caps_.size(); ++c)
            state.caps[static_cast<std::size_t>(caps_[c])] = std::max(0.0, volts(static_cast<Eigen::Index>(c)));
    }
    for (auto& load : loads)
        if (load.extra != 0.0) load.extra *= std::exp(-time / load.decay);
}

namespace {

void keepLowest(std::vector<Lowest>* lowest, double time, const SupplyNetwork::Instant& now) {
    if (lowest == nullptr) return;
    for (std::size_t i = 0; i < lowest->size(); ++i)
        if (const double volts = now.volts[i] > 1e-6 ? now.volts[i] : 0.0; volts < (*lowest)[i].volts) (*lowest)[i] = {volts, time};
}

// Resistances stand for fading extras only until those have lost a twentieth of all that is drawn: after so many seconds; 0: at no time.
double extrasHoldFor(std::span<const LoadShape> loads, bool any_soft) {
    double all = 0.0, fades = 0.0;
    for (const auto& load : loads)
        if (load.by_volts && any_soft) all += std::abs(load.steady + load.extra), fades += std::abs(load.extra) / load.decay;
    return fades > 0.0 ? 0.05 * all / fades : std::numeric_limits<double>::infinity();
}

}  // namespace

// A dip between two looks, where the middle one was the lowest so far.
void SupplyNetwork::findDips(const Stretch& here, const SupplyState& state, const Looks& looks, double done,
                             std::vector<Lowest>* lowest) const {
    const auto& [times, seen] = looks;
    for (std::size_t i = 0; lowest != nullptr && i < sections_.size(); ++i) {
        const auto least =
            std::min_element(seen.begin(), seen.end(), [&](const auto& a, const auto& b) { return a[i] < b[i]; }) - seen.begin();
        if (least == 0 || least + 1 >= static_cast<std::ptrdiff_t>(seen.size()) ||
            seen[static_cast<std::size_t>(least)][i] > (*lowest)[i].volts + 1e-12)
            continue;
        double a = times[static_cast<std::size_t>(least) - 1], b = times[static_cast<std::size_t>(least) + 1];
        for (int k = 0; k < 60 && b - a > 1e-9; ++k) {
            const double u = a + 0.382 * (b - a), w = a + 0.618 * (b - a);
            const bool left_lower = look(here, state, u).volts[i] < look(here, state, w).volts[i];
            (left_lower ? b : a) = left_lower ? w : u;
        }
        keepLowest(lowest, done + 0.5 * (a + b), look(here, state, 0.5 * (a + b)));
    }
}

// When a mode no longer fits, between a look at which all did and one at which one doesn't.
double SupplyNetwork::changeBetween(const Stretch& here, const SupplyState& state, double good, double bad) const {
    FeedMode better{};
    while (bad - good > 1e-9 && bad - good > 1e-9 * bad) {
        const double middle = 0.5 * (good + bad);
        (misfit(state.modes, look(here, state, middle), better) >= 0 ? bad : good) = middle;
    }
    return bad;
}

bool SupplyNetwork::advance(SupplyState& state, std::span<const LoadShape> given, double time, std::vector<Lowest>* lowest,
                            const std::function<void(double, const Instant&)>& sample, double growth) const {
    std::vector<LoadShape> loads(given.begin(), given.end());
    if (lowest != nullptr) lowest->resize(sections_.size());
    double done = 0.0;
    for (int changes = 0; changes < most_changes; ++changes) {
        if (!settle(state, loads)) return false;
        const auto here = stretch(state, loads);
        const double extras_hold = extrasHoldFor(loads, here.hard.size() < loads.size()), left = std::min(time - done, extras_hold);
        const bool whole = time - done <= extras_hold;
        auto now = look(here, state, 0.0);
        keepLowest(lowest, done, now);
        if (sample) sample(done, now);
        if (left <= 0.0) return true;
        // Looked at more and more widely; a mode that no longer fits is traced back to its instant.
        Looks looks{{0.0}, {now.volts}};
        bool changed = false;
        for (double t = std::min(left, 2e-6);; t = std::min(left, t * growth)) {
            now = look(here, state, t);
            FeedMode better{};
            if (misfit(state.modes, now, better) >= 0) {
                const double at = changeBetween(here, state, looks.times.back(), t);
                now = look(here, state, at);
                const int wrong = misfit(state.modes, now, better);
                keepLowest(lowest, done + at, now);
                moveTo(state, loads, at);
                state.soft = state.soft || atLimit(state);
                if (wrong >= 0) state.modes[static_cast<std::size_t>(wrong)] = better;
                done += at;
                changed = true;
                break;
            }
            keepLowest(lowest, done + t, now);
            if (sample) sample(done + t, now);
            looks.times.push_back(t);
            looks.volts.push_back(now.volts);
            if (t >= left) break;
        }
        if (changed) continue;  // the looks themselves must do, the instant of the change among them
        findDips(here, state, looks, done, lowest);
        moveTo(state, loads, left);
        // Only after a stretch without a change: at the very edge of a limit the loads must not jump.
        state.soft = atLimit(state);
        if (whole) return true;
        done += left;
        --changes;  // no mode has changed
    }
    return false;
}

}  // namespace hinge::plant
