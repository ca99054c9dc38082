#include "board/assign.hpp"
#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <map>
#include <set>
#include <tuple>
#include "board/pwm_pool.hpp"
#include "quantity/text.hpp"

namespace hinge::board {
namespace {

bool same(double a, double b, double tolerance) {
    return std::abs(a / b - 1.0) <= tolerance;
}

// What a frequency would be on a pin's timer, asked once for each of them: most pins share a timer with others.
class PwmAnswers {
public:
    explicit PwmAnswers(const Family& family) : family_{family} {}
    /// Whether it is made within a tolerance; output A may be taken by the frequency itself.
    bool makes(const Pin& pin, double frequency, double tolerance, bool paired) {
        const auto [found, fresh] = answers_.try_emplace({pin.pwm_timer, frequency, paired});
        if (fresh)
            if (const auto worked =
                    pwmOf(family_, pin, of<Frequency>(frequency), paired ? std::optional{timing::PwmMode::PhaseCorrect} : std::nullopt))
                found->second = {si(worked->result.actual_frequency), !worked->findings.empty()};
        const auto& answer = found->second;
        return answer.actual > 0.0 && same(answer.actual, frequency, tolerance) && !(pin.pwm_output == 'A' && answer.takes_a);
    }

private:
    struct Answer {
        double actual = 0.0;
        bool takes_a = false;
    };
    const Family& family_;
    std::map<std::tuple<int, double, bool>, Answer> answers_;
};

std::optional<double> costOf(const Family& family, const PinRules& rules, const PinWish& wish, const Pin& pin, PwmAnswers& pwm) {
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
        if (pin.pwm_timer < 0 || pin.pwm_timer == family.untimed_timer || (rules.beat && pin.pwm_timer == family.beat_timer) ||
            (rules.phase && pin.pwm_timer == family.phase_timer))
            return std::nullopt;
        if (!wish.pair.empty() && pairsOf(family, pin).empty()) return std::nullopt;
        if (pin.pwm_timer == family.clock_timer) {
            if (!same(*clockTimerFrequency(family), *wish.pwm, rules.tolerance)) return std::nullopt;
        } else {
            if (!pwm.makes(pin, *wish.pwm, rules.tolerance, !wish.pair.empty())) return std::nullopt;
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

/// A wish and the pins that can do it, cheapest first.
struct Asked {
    const PinWish* wish = nullptr;
    std::vector<std::pair<double, int>> options;
};
std::vector<Asked> askedOf(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    PwmAnswers pwm(family);
    std::vector<Asked> all;
    for (const auto& wish : wishes) {
        Asked asked{&wish, {}};
        for (std::size_t p = 0; p < family.pins.size(); ++p)
            if (const auto cost = costOf(family, rules, wish, family.pins[p], pwm)) asked.options.push_back({*cost, static_cast<int>(p)});
        std::stable_sort(asked.options.begin(), asked.options.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        all.push_back(std::move(asked));
    }
    return all;
}

std::vector<const Asked*> pointersTo(const std::vector<Asked>& asked) {
    std::vector<const Asked*> all;
    for (const auto& each : asked) all.push_back(&each);
    return all;
}

/// One search: who sits where, and what each timer runs at.
class Search {
public:
    Search(const Family& family, const PinRules& rules, std::vector<const Asked*> asked)
        : family_{family}, rules_{rules}, asked_{std::move(asked)}, taken_(family.pins.size(), false), now_(asked_.size(), -1) {
        order_.resize(asked_.size());
        for (std::size_t i = 0; i < order_.size(); ++i) order_[i] = i;
        std::stable_sort(order_.begin(), order_.end(),
                         [&](std::size_t a, std::size_t b) { return asked_[a]->options.size() < asked_[b]->options.size(); });
        // The nearest before it that asks the very same: of such two the first takes the better pin.
        twin_.assign(order_.size(), -1);
        for (std::size_t i = 0; i < order_.size(); ++i)
            for (std::size_t k = i; k-- > 0 && twin_[i] < 0;) {
                const auto &a = *asked_[order_[i]], &b = *asked_[order_[k]];
                if (a.wish->pwm == b.wish->pwm && a.wish->pair.empty() && b.wish->pair.empty() && a.options == b.options)
                    twin_[i] = static_cast<int>(k);
            }
        rank_.assign(order_.size(), 0);
        for (std::size_t i = 0; i < order_.size(); ++i)
            if (asked_[order_[i]]->wish->pwm) pulses_ = i + 1;
    }

    /// @param first_only  any assignment will do
    bool solve(bool first_only) {
        const Relaxed all = relaxed(0);
        const double least = all.sum;
        if (!(least < impossible)) return false;
        first_only_ = first_only;
        // The dearest that is allowed rises from what the pins alone would cost until the timers agree.
        for (double limit = first_only ? impossible : least; nodes_ <= most_nodes;) {
            next_limit_ = impossible;
            if (descend(0, 0.0, limit, all, least)) return true;
            if (first_only || !(next_limit_ < impossible)) return false;
            limit = next_limit_;
        }
        nodes_ = 0;
        return descend(0, 0.0, impossible, all, least);  // too many ways to be sure of the best: any
    }
    [[nodiscard]] const std::vector<int>& best() const { return now_; }

private:
    // Whether a pin is free for a wish while the timers run as they do.
    [[nodiscard]] bool usable(const PinWish& wish, int p) const {
        if (taken_[static_cast<std::size_t>(p)]) return false;
        const auto& pin = family_.pins[static_cast<std::size_t>(p)];
        return !wish.pwm || (timerFor(pin, *wish.pwm) >= 0 && !outputs_.contains(outputOf(pin)) && isHis(wish, pin));
    }
    // A timer that a pair has begun is the pair's, and the second of a pair goes where the first is.
    [[nodiscard]] bool isHis(const PinWish& wish, const Pin& pin) const {
        const auto holds = holders_.find(pin.pwm_timer);
        if (holds != holders_.end() && holds->second.front() != wish.pair) return false;
        return wish.pair.empty() || std::none_of(holders_.begin(), holders_.end(), [&](const auto& holder) {
                   return holder.first != pin.pwm_timer && holder.second.front() == wish.pair;
               });
    }
    [[nodiscard]] static int outputOf(const Pin& pin) {
        return pin.pwm_timer == pooled_timer ? -1 : pin.pwm_timer * 8 + (pin.pwm_output - 'A');
    }

    // Whether each timer can be given one frequency so that all that still ask for pulses find an output: counted, not placed.
    [[nodiscard]] bool timersSuffice(std::size_t depth) const {
        std::vector<double> rates;
        std::vector<int> asked;
        std::map<int, std::vector<unsigned>> outputs;  // per timer and rate: which of its outputs could serve, a bit each
        for (std::size_t i = depth; i < order_.size(); ++i) {
            const auto& each = *asked_[order_[i]];
            if (!each.wish->pwm) continue;
            const auto found =
                std::find_if(rates.begin(), rates.end(), [&](double rate) { return same(*each.wish->pwm, rate, rules_.tolerance); });
            const auto rate = static_cast<std::size_t>(found - rates.begin());
            if (found == rates.end()) rates.push_back(*each.wish->pwm), asked.push_back(0);
            ++asked[rate];
            for (const auto& [cost, p] : each.options) {
                const auto& pin = family_.pins[static_cast<std::size_t>(p)];
                if (pin.pwm_timer == pooled_timer) return true;  // the pool serves any rate: left to the search
                if (!usable(*each.wish, p)) continue;
                auto& of_timer = outputs[pin.pwm_timer];
                if (of_timer.size() <= rate) of_timer.resize(rate + 1);
                of_timer[rate] |= 1U << (pin.pwm_output - 'A');
            }
        }
        if (rates.size() < 2) return true;  // the pins themselves are counted elsewhere
        std::vector<std::vector<int>> room;
        for (const auto& [timer, bits] : outputs) {
            room.emplace_back(rates.size(), 0);
            for (std::size_t r = 0; r < bits.size(); ++r) room.back()[r] = std::popcount(bits[r]);
        }
        int looks = 0;
        const auto give = [&](auto&& self, std::size_t timer) -> bool {
            if (std::all_of(asked.begin(), asked.end(), [](int left) { return left <= 0; }) || ++looks > 3000) return true;
            if (timer == room.size()) return false;
            for (std::size_t r = 0; r < rates.size(); ++r) {
                if (room[timer][r] == 0 || asked[r] <= 0) continue;
                asked[r] -= room[timer][r];
                const bool served = self(self, timer + 1);
                asked[r] += room[timer][r];
                if (served) return true;
            }
            return self(self, timer + 1);
        };
        return give(give, 0);
    }

    /// The wishes from a place of the order on, each on a pin of its own and beside the timers as they run, but not beside each other's.
    struct Relaxed {
        double sum = impossible;  ///< the least that they can cost
        std::size_t first = 0;    ///< that place
        std::vector<double> of_row, of_column;
        std::vector<std::size_t> row_at;  ///< by column, from 1: who sits there
        [[nodiscard]] bool places(std::size_t depth, int p) const { return row_at[static_cast<std::size_t>(p) + 1] == depth - first + 1; }
        /// How much at least it costs beyond `sum` that the wish at a place takes a pin of this price.
        [[nodiscard]] double above(std::size_t depth, double price, int p) const {
            return price - of_row[depth - first + 1] - of_column[static_cast<std::size_t>(p) + 1];
        }
    };
    // Shortest augmenting paths (Kuhn 1955, Munkres 1957).
    Relaxed relaxed(std::size_t depth) const {
        Relaxed found;
        found.first = depth;
        const std::size_t rows = order_.size() - depth, columns = family_.pins.size();
        if (rows == 0) found.sum = 0.0;
        if (rows == 0 || !timersSuffice(depth)) return found;
        std::vector<double> price(rows * columns, impossible);
        for (std::size_t r = 0; r < rows; ++r) {
            const auto& asked = *asked_[order_[depth + r]];
            for (const auto& [cost, p] : asked.options)
                if (usable(*asked.wish, p)) price[r * columns + static_cast<std::size_t>(p)] = cost;
        }
        auto &of_row = found.of_row, &of_column = found.of_column;
        auto& row_at = found.row_at;
        of_row.assign(rows + 1, 0.0), of_column.assign(columns + 1, 0.0), row_at.assign(columns + 1, 0);
        std::vector<double> reach(columns + 1);
        std::vector<std::size_t> from(columns + 1, 0);
        std::vector<char> seen(columns + 1);
        for (std::size_t r = 1; r <= rows; ++r) {
            row_at[0] = r;
            std::size_t at = 0;
            std::fill(reach.begin(), reach.end(), std::numeric_limits<double>::infinity());
            std::fill(seen.begin(), seen.end(), 0);
            do {
                seen[at] = 1;
                const std::size_t row = row_at[at];
                const double* const prices = &price[(row - 1) * columns] - 1;
                const double base = of_row[row];
                double nearest = std::numeric_limits<double>::infinity();
                std::size_t next = 0;
                for (std::size_t c = 1; c <= columns; ++c) {
                    if (seen[c]) continue;
                    const double step = prices[c] - base - of_column[c];
                    if (step < reach[c]) reach[c] = step, from[c] = at;
                    if (reach[c] < nearest) nearest = reach[c], next = c;
                }
                if (next == 0 || nearest > impossible / 2.0) return found;
                for (std::size_t c = 0; c <= columns; ++c) {
                    if (seen[c]) of_row[row_at[c]] += nearest, of_column[c] -= nearest;
                    else reach[c] -= nearest;
                }
                at = next;
            } while (row_at[at] != 0);
            for (; at != 0; at = from[at]) row_at[at] = row_at[from[at]];
        }
        double sum = 0.0;
        for (std::size_t c = 1; c <= columns; ++c)
            if (row_at[c] != 0) sum += price[(row_at[c] - 1) * columns + c - 1];
        if (sum < impossible) found.sum = sum;
        return found;
    }

    // The first way, cheapest pins first, that costs no more than the limit; it stands in now_.
    // Where any will do, only those that ask for pulses are placed.
    /// @param rest  relaxed from here on, or from an earlier place whose wishes since then sit as it would have them
    /// @param sum   the least that the wishes from here on can cost
    bool descend(std::size_t depth, double cost, double limit, const Relaxed& rest, double sum) {
        if (depth == order_.size()) return true;
        if (++nodes_ > most_nodes) return false;
        const double least = cost + sum;
        if (!(sum < impossible)) return false;
        if (least > limit + slack) {
            next_limit_ = std::min(next_limit_, least);
            return false;
        }
        // Where no pulses are asked for any more, nothing but the pins themselves can be in the way, and they suffice.
        if (first_only_ && depth >= pulses_) return true;
        const std::size_t w = order_[depth];
        const auto& asked = *asked_[w];
        const std::size_t first = twin_[depth] < 0 ? 0 : rank_[static_cast<std::size_t>(twin_[depth])] + 1;
        for (std::size_t o = first; o < asked.options.size(); ++o) {
            const auto& [price, p] = asked.options[o];
            if (!usable(*asked.wish, p)) continue;
            if (const double at_least = least + rest.above(depth, price, p); at_least > limit + slack) {
                next_limit_ = std::min(next_limit_, at_least);
                continue;
            }
            const auto& pin = family_.pins[static_cast<std::size_t>(p)];
            const int timer = asked.wish->pwm ? timerFor(pin, *asked.wish->pwm) : -1, output = asked.wish->pwm ? outputOf(pin) : -1;
            taken_[static_cast<std::size_t>(p)] = true;
            now_[w] = p;
            rank_[depth] = o;
            if (output >= 0) outputs_.insert(output);
            if (timer >= 0) {
                auto& entry = timers_[timer];
                if (entry.second++ == 0) entry.first = *asked.wish->pwm;
                holders_[timer].push_back(asked.wish->pair);
            }
            // A pin without pulses that sits where it would changes nothing for the others.
            const bool as_foreseen = timer < 0 && rest.places(depth, p) && (depth + 1 >= pulses_ || timersSuffice(depth + 1));
            if (as_foreseen) {
                if (descend(depth + 1, cost + price, limit, rest, sum - price)) return true;
            } else {
                const Relaxed next = relaxed(depth + 1);
                if (descend(depth + 1, cost + price, limit, next, next.sum)) return true;
            }
            if (timer >= 0) {
                if (--timers_[timer].second == 0) timers_.erase(timer);
                if (holders_[timer].pop_back(); holders_[timer].empty()) holders_.erase(timer);
            }
            if (output >= 0) outputs_.erase(output);
            now_[w] = -1;
            taken_[static_cast<std::size_t>(p)] = false;
            if (nodes_ > most_nodes) return false;
        }
        return false;
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

    static constexpr long most_nodes = 20'000;
    static constexpr double impossible = 1e6;  ///< no pin costs so much
    static constexpr double slack = 1e-9;
    const Family& family_;
    const PinRules& rules_;
    std::vector<const Asked*> asked_;
    std::vector<std::size_t> order_;  ///< the most constrained wish first
    std::vector<int> twin_;           ///< by place in the order
    std::vector<std::size_t> rank_;   ///< by place in the order: which of its options it sits on
    std::vector<bool> taken_;
    std::vector<int> now_;
    std::map<int, std::pair<double, int>> timers_;     ///< frequency and how many sit on it
    std::map<int, std::vector<std::string>> holders_;  ///< the pairs of those that sit on it
    std::set<int> outputs_;                            ///< timer outputs in use
    double next_limit_ = impossible;
    long nodes_ = 0;
    std::size_t pulses_ = 0;  ///< behind the last place in the order that asks for pulses
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
    PwmAnswers pwm(family);
    return costOf(family, rules, wish, pin, pwm);
}

bool fitsOn(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    const auto asked = askedOf(family, rules, wishes);
    return Search(family, rules, pointersTo(asked)).solve(true);
}

std::variant<std::vector<PinChoice>, PinClash> assignPins(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes) {
    const auto asked = askedOf(family, rules, wishes);
    auto all = pointersTo(asked);
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
    for (const auto* each : all) clash.ids.push_back(each->wish->id);
    return clash;
}

std::string clashText(const PinClash& clash, const std::vector<PinWish>& wishes) {
    std::vector<std::string> names;
    for (const auto& wish : wishes)
        if (std::find(clash.ids.begin(), clash.ids.end(), wish.id) != clash.ids.end()) names.push_back(wish.name);
    if (names.size() == 1) return names.front() + " finds no pin of this board that can do it";
    const auto last = names.back();
    names.pop_back();
    return joined(names, ", ") + " and " + last + " cannot all have a pin of this board";
}

}  // namespace hinge::board
