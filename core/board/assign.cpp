#include "board/assign.hpp"
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>
#include "board/pwm_pool.hpp"

namespace hinge::board {
namespace {

bool same(double a, double b, double tolerance) {
    return std::abs(a / b - 1.0) <= tolerance;
}

/// One search: who sits where, and what each timer runs at.
class Search {
public:
    Search(const Family& family, const PinRules& rules, const std::vector<const PinWish*>& wishes)
        : family_{family}, rules_{rules}, wishes_{wishes}, taken_(family.pins.size(), false), now_(wishes.size(), -1) {
        options_.resize(wishes.size());
        for (std::size_t w = 0; w < wishes.size(); ++w) {
            for (std::size_t p = 0; p < family.pins.size(); ++p)
                if (const auto cost = pinCost(family, rules, *wishes[w], family.pins[p]))
                    options_[w].push_back({*cost, static_cast<int>(p)});
            std::stable_sort(options_[w].begin(), options_[w].end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        }
        order_.resize(wishes.size());
        for (std::size_t i = 0; i < order_.size(); ++i) order_[i] = i;
        std::stable_sort(order_.begin(), order_.end(),
                         [&](std::size_t a, std::size_t b) { return options_[a].size() < options_[b].size(); });
        // The least that the wishes from a place of the order on can cost.
        least_.assign(order_.size() + 1, 0.0);
        for (std::size_t i = order_.size(); i-- > 0;)
            least_[i] = least_[i + 1] + (options_[order_[i]].empty() ? 0.0 : options_[order_[i]].front().first);
    }

    /// @param first_only  any assignment will do
    bool solve(bool first_only) {
        first_only_ = first_only;
        descend(0, 0.0);
        return best_cost_ < std::numeric_limits<double>::infinity();
    }
    [[nodiscard]] const std::vector<int>& best() const { return best_; }

private:
    void descend(std::size_t depth, double cost) {
        if (cost + least_[depth] >= best_cost_ - 1e-12 || ++nodes_ > most_nodes ||
            (first_only_ && best_cost_ < std::numeric_limits<double>::infinity()))
            return;
        if (depth == order_.size()) {
            best_cost_ = cost;
            best_ = now_;
            return;
        }
        const std::size_t w = order_[depth];
        const auto& wish = *wishes_[w];
        for (const auto& [price, p] : options_[w]) {
            const auto place = static_cast<std::size_t>(p);
            if (taken_[place]) continue;
            const auto& pin = family_.pins[place];
            const int timer = wish.pwm ? timerFor(pin, *wish.pwm) : -1;
            if (wish.pwm && timer < 0) continue;
            const int output = wish.pwm && pin.pwm_timer != pooled_timer ? pin.pwm_timer * 8 + (pin.pwm_output - 'A') : -1;
            if (output >= 0 && !outputs_.insert(output).second) continue;
            taken_[place] = true;
            now_[w] = p;
            if (timer >= 0) {
                auto& entry = timers_[timer];
                if (entry.second++ == 0) entry.first = *wish.pwm;
            }
            descend(depth + 1, cost + price);
            if (timer >= 0)
                if (--timers_[timer].second == 0) timers_.erase(timer);
            if (output >= 0) outputs_.erase(output);
            now_[w] = -1;
            taken_[place] = false;
        }
    }

    // The timer that would serve: the pin's own if nothing runs on it at another frequency, or one of
    // the pool; -1 when there is none.
    [[nodiscard]] int timerFor(const Pin& pin, double frequency) const {
        const auto fits = [&](int timer) {
            const auto running = timers_.find(timer);
            return running == timers_.end() || (same(frequency, running->second.first, rules_.tolerance) &&
                                                (timer < pooled_timer || running->second.second < outputs_of_a_pooled_timer));
        };
        if (pin.pwm_timer != pooled_timer) return fits(pin.pwm_timer) ? pin.pwm_timer : -1;
        for (int i = 0; i < family_.pool; ++i)
            if (fits(pooled_timer + i)) return pooled_timer + i;
        return -1;
    }

    static constexpr long most_nodes = 300'000;
    const Family& family_;
    const PinRules& rules_;
    std::vector<const PinWish*> wishes_;
    std::vector<std::vector<std::pair<double, int>>> options_;
    std::vector<std::size_t> order_;
    std::vector<double> least_;
    std::vector<bool> taken_;
    std::vector<int> now_, best_;
    std::map<int, std::pair<double, int>> timers_;  ///< frequency and how many sit on it
    std::set<int> outputs_;                         ///< timer outputs in use
    double best_cost_ = std::numeric_limits<double>::infinity();
    long nodes_ = 0;
    bool first_only_ = false;
};

std::string reason(const Family& family, const PinWish& wish, const Pin& pin) {
    if (!wish.fixed.empty()) return "pinned by hand";
    if (wish.pwm) return "PWM of " + timerName(family, pin.pwm_timer);
    if (wish.analog) return "analogue input";
    if (wish.interrupt) return "external interrupt";
    return pin.shares.empty() ? "free for anything" : "the last that is left; it is also " + std::string{pin.shares};
}

}  // namespace

std::optional<double> pinCost(const Family& family, const PinRules& rules, const PinWish& wish, const Pin& pin) {
    if (!wish.fixed.empty()) {
        if (wish.fixed != pin.name) return std::nullopt;
    } else if (pin.console) {
        return std::nullopt;  // for uploading and tuning
    }
    if (wish.output && pin.input_only) return std::nullopt;
    if (wish.interrupt && !pin.interrupt) return std::nullopt;
    if (wish.analog && !pin.analog) return std::nullopt;
    double cost = 0.0;
    if (wish.pwm) {
        if (pin.pwm_timer < 0 || pin.pwm_timer == untimed(family) || (rules.beat && pin.pwm_timer == family.beat_timer))
            return std::nullopt;
        if (pin.pwm_timer == family.clock_timer) {
            if (!same(*clockTimerFrequency(family), *wish.pwm, rules.tolerance)) return std::nullopt;
        } else {
            const auto worked = pwmOf(family, pin, of<Frequency>(*wish.pwm));
            if (!worked || !same(si(worked->result.actual_frequency), *wish.pwm, rules.tolerance)) return std::nullopt;
            if (pin.pwm_output == 'A' && !worked->findings.empty()) return std::nullopt;  // the frequency takes output A for its TOP
            cost += 0.5;  // what the clock's timer can do it should, so that the others stay free
        }
    } else {
        if (pin.pwm_timer >= 0 && pin.pwm_timer != pooled_timer && family.clock_timer >= 0) cost += 2.0;
        if (pin.interrupt && !wish.interrupt && family.clock_timer >= 0) cost += 1.0;
        if (pin.analog && !wish.analog) cost += 1.0;
        if (!wish.output && pin.input_only) cost -= 0.5;
    }
    if (pin.strap) cost += 8.0;
    if (!wish.preferred.empty() && wish.preferred != pin.name) cost += 20.0;  // a wire stays where it is, if it can
    if (!pin.shares.empty()) cost += 4.0;
    return cost;
}

std::variant<std::vector<PinChoice>, PinClash> assignPins(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    std::vector<const PinWish*> all;
    for (const auto& wish : wishes) all.push_back(&wish);
    Search search(family, rules, all);
    if (search.solve(false)) {
        std::vector<PinChoice> choices;
        for (std::size_t w = 0; w < wishes.size(); ++w) {
            const auto& pin = family.pins[static_cast<std::size_t>(search.best()[w])];
            choices.push_back({wishes[w].id, std::string{pin.name}, reason(family, wishes[w], pin)});
        }
        return choices;
    }
    // Leave out what does not matter: what stays clashes, and no part of it does.
    for (std::size_t i = 0; i < all.size();) {
        auto fewer = all;
        fewer.erase(fewer.begin() + static_cast<std::ptrdiff_t>(i));
        if (Search(family, rules, fewer).solve(true)) ++i;
        else all = std::move(fewer);
    }
    PinClash clash;
    std::string names;
    for (const auto* wish : all) {
        clash.ids.push_back(wish->id);
        names += (names.empty() ? "" : all.back() == wish ? " and " : ", ") + wish->name;
    }
    clash.why = all.size() == 1 ? names + " finds no pin of this board that can do it" : names + " cannot all have a pin of this board";
    return clash;
}

}  // namespace hinge::board
