#include "plan/supply.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/apart.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "plant/pump_plant.hpp"
#include "power/rectifier.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

using routine::ticks_per_second;

// An output's current at an age of its phase [s].
struct Draw {
    double steady = 0.0, extra = 0.0;
};
Draw drawOf(const OutputLoad& load, Phase phase, double age, double share = 1.0) {
    if (load.pulse > 0.0) return {age < load.pulse - 1e-9 && phase != Phase::Jammed ? load.running : 0.0, 0.0};
    switch (phase) {
        case Phase::Off: return {load.idles ? load.rest : 0.0, 0.0};
        case Phase::Holding: return {load.rest, 0.0};
        case Phase::On:
            // At rest the pulses see the winding alone: the mean of what they draw goes by the square.
            if (age < load.ramp - 1e-9) return {share * share * load.starting, 0.0};
            return {std::pow(share, load.by_share) * load.running,
                    std::max(0.0, share * share * load.starting - std::pow(share, load.by_share) * load.running) *
                        std::exp(-(age - load.ramp) / load.decay)};
        case Phase::Moving: return {load.running, (load.starting - load.running) * std::exp(-age / load.decay)};
        case Phase::Jammed: return {share * share * load.stalled, 0.0};
    }
    return {};
}

// Which of two cues' wishes an output follows.
Phase stronger(Phase a, Phase b) {
    const auto rank = [](Phase p) { return p == Phase::Off ? 0 : p == Phase::Holding ? 1 : p == Phase::Jammed ? 3 : 2; };
    return rank(a) >= rank(b) ? a : b;
}

// Clock hours of two cues that never meet; cues with an input may be started at any time.
bool neverTogether(const routine::Program& program, const CueProfile& a, const CueProfile& b) {
    if (a.cue < 0 || b.cue < 0) return false;  // a reading comes when it likes
    const auto &first = program.cues[static_cast<std::size_t>(a.cue)], &second = program.cues[static_cast<std::size_t>(b.cue)];
    if (!first.inputs.empty() || !second.inputs.empty() || first.times_of_day.empty() || second.times_of_day.empty()) return false;
    const auto day = static_cast<double>(routine::ticks_per_day) / ticks_per_second;
    const double long_a = a.changes.back().time, long_b = b.changes.back().time;
    for (const auto at : first.times_of_day)
        for (const auto bt : second.times_of_day) {
            const double ahead = std::fmod(static_cast<double>(bt - at) / ticks_per_second + day, day);
            if (ahead <= long_a || day - ahead <= long_b) return false;
        }
    return true;
}

}  // namespace

std::optional<SupplyTree> drawnTree(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    const auto options = supplyOptions(project);
    return options.empty() ? std::nullopt : supplyTree(under(project, options.front()), parts, plan);
}

Coincidence worstCoincidence(const routine::Program& program, const std::vector<CueProfile>& profiles, const SupplyTree& tree,
                             int section) {
    const auto outputs = tree.outputs.size();
    const auto& taken = tree.taken[static_cast<std::size_t>(section)];
    // What each output adds to this section at each change of each cue; what it takes at rest counts once, below.
    const auto atRest = [&](std::size_t o) {
        return tree.outputs[o].idles && tree.outputs[o].section >= 0
                   ? taken[static_cast<std::size_t>(tree.outputs[o].section)] * tree.outputs[o].rest
                   : 0.0;
    };
    struct Choice {
        int change;
        std::vector<double> amps;
        double alone;
    };
    struct Cue {
        int profile;
        std::vector<Choice> choices;  // best first
    };
    std::vector<Cue> cues;
    for (std::size_t p = 0; p < profiles.size(); ++p) {
        Cue cue{static_cast<int>(p), {}};
        std::vector<double> since(outputs, 0.0);
        const auto& changes = profiles[p].changes;
        for (std::size_t k = 0; k < changes.size(); ++k) {
            Choice choice{static_cast<int>(k), std::vector<double>(outputs, 0.0), 0.0};
            for (std::size_t o = 0; o < outputs; ++o) {
                const auto& load = tree.outputs[o];
                if (k == 0 || changes[k].phases[o] != changes[k - 1].phases[o]) since[o] = changes[k].time;
                const auto phase = changes[k].phases[o];
                const bool pulsed = load.pulse > 0.0 && k > 0;  // switched off it is pulsed too
                if ((phase == Phase::Off && !pulsed) || phase == Phase::Holding) continue;
                const auto draw = drawOf(load, phase, changes[k].time - since[o]);
                if (load.section >= 0)
                    choice.amps[o] += taken[static_cast<std::size_t>(load.section)] * (draw.steady + draw.extra) - atRest(o);
                if (load.coil_section >= 0) choice.amps[o] += taken[static_cast<std::size_t>(load.coil_section)] * load.coil;
                choice.alone += std::max(0.0, choice.amps[o]);
            }
            if (choice.alone > 0.0 && k >= profiles[p].first && k <= profiles[p].last) cue.choices.push_back(std::move(choice));
        }
        std::stable_sort(cue.choices.begin(), cue.choices.end(), [](const Choice& a, const Choice& b) { return a.alone > b.alone; });
        if (!cue.choices.empty()) cues.push_back(std::move(cue));
    }
    std::stable_sort(cues.begin(), cues.end(),
                     [](const Cue& a, const Cue& b) { return a.choices.front().alone > b.choices.front().alone; });
    std::vector<double> rest_of(cues.size() + 1, 0.0);
    for (std::size_t i = cues.size(); i-- > 0;) rest_of[i] = rest_of[i + 1] + cues[i].choices.front().alone;

    Coincidence best;
    int looks = 0;
    std::vector<std::pair<int, int>> chosen;
    const auto search = [&](auto&& self, std::size_t i, const std::vector<double>& so_far, double sum) -> void {
        if (sum > best.amps + 1e-12) best.amps = sum, best.at = chosen;
        if (i == cues.size() || sum + rest_of[i] <= best.amps + 1e-12) return;
        if (++looks > 100'000) {
            best.complete = false;
            return;
        }
        const bool free = std::none_of(chosen.begin(), chosen.end(), [&](const auto& c) {
            return neverTogether(program, profiles[static_cast<std::size_t>(c.first)], profiles[static_cast<std::size_t>(cues[i].profile)]);
        });
        if (free)
            for (const auto& choice : cues[i].choices) {
                if (sum + choice.alone + rest_of[i + 1] <= best.amps + 1e-12) break;
                auto joined = so_far;
                double total = 0.0;
                for (std::size_t o = 0; o < outputs; ++o) joined[o] = std::max(joined[o], choice.amps[o]), total += joined[o];
                chosen.emplace_back(cues[i].profile, choice.change);
                self(self, i + 1, joined, total);
                chosen.pop_back();
            }
        self(self, i + 1, so_far, sum);
    };
    search(search, 0, std::vector<double>(outputs, 0.0), 0.0);
    if (!best.complete) best.amps = rest_of[0];
    for (std::size_t o = 0; o < outputs; ++o) best.amps += atRest(o);
    for (const auto& load : tree.standing) best.amps += taken[static_cast<std::size_t>(load.section)] * load.steady;
    return best;
}

std::vector<DriveChange> coinciding(const std::vector<CueProfile>& profiles, const Coincidence& worst) {
    std::vector<double> times;
    for (const auto& [p, k] : worst.at) {
        const auto& changes = profiles[static_cast<std::size_t>(p)].changes;
        for (const auto& change : changes) times.push_back(change.time - changes[static_cast<std::size_t>(k)].time);
    }
    std::sort(times.begin(), times.end());
    times.erase(std::unique(times.begin(), times.end(), [](double a, double b) { return b - a < 1e-6; }), times.end());
    std::vector<DriveChange> joined;
    for (const double time : times) {
        DriveChange now{time, {}};
        for (const auto& [p, k] : worst.at) {
            const auto& changes = profiles[static_cast<std::size_t>(p)].changes;
            const double zero = changes[static_cast<std::size_t>(k)].time;
            const DriveChange* current = nullptr;
            for (const auto& change : changes)
                if (change.time - zero <= time + 1e-6) current = &change;
            if (now.phases.empty()) now.phases.assign(changes.front().phases.size(), Phase::Off);
            if (current != nullptr)
                for (std::size_t o = 0; o < now.phases.size(); ++o) now.phases[o] = stronger(now.phases[o], current->phases[o]);
        }
        joined.push_back(std::move(now));
    }
    return joined;
}

bool playSupply(const SupplyTree& tree, const std::vector<DriveChange>& changes, double from, double to, std::vector<plant::Lowest>& lowest,
                const std::function<void(double, const plant::SupplyNetwork::Instant&, std::span<const double>)>& sample, double growth) {
    const auto outputs = tree.outputs.size();
    std::vector<Phase> phases(outputs, Phase::Off);
    std::vector<double> since(outputs, from - 1e6), shares(outputs, 1.0), amps(outputs, 0.0);
    double supply = 1.0;
    const plant::SupplyNetwork* network = &*tree.network;
    std::optional<plant::SupplyNetwork> weaker;  // the same with sources that give less
    const auto drawn = [&](std::size_t o, double time) { return drawOf(tree.outputs[o], phases[o], time - since[o], shares[o]); };
    const auto loadsAt = [&](double time) {
        std::vector<plant::LoadShape> loads = tree.standing;
        for (std::size_t o = 0; o < outputs; ++o) {
            const auto& load = tree.outputs[o];
            const auto draw = drawn(o, time);
            if (load.section >= 0 && (draw.steady != 0.0 || draw.extra != 0.0))
                loads.push_back({load.section, draw.steady, std::abs(draw.extra) > 1e-6 ? draw.extra : 0.0, load.decay, true});
            if (load.coil_section >= 0 && phases[o] == Phase::On) loads.push_back({load.coil_section, load.coil, 0.0, 1.0, true});
        }
        return loads;
    };
    std::size_t next = 0;
    const auto take = [&](const DriveChange& change) {
        for (std::size_t o = 0; o < outputs && o < change.phases.size(); ++o) {
            if (change.phases[o] != phases[o]) phases[o] = change.phases[o], since[o] = change.time;
            shares[o] = o < change.shares.size() ? static_cast<double>(change.shares[o]) : 1.0;
        }
        if (change.supply == supply) return;
        supply = change.supply;
        auto sections = tree.network->sections();
        for (auto& section : sections)
            if (section.feed < 0) section.set *= supply;
        if (auto made = plant::SupplyNetwork::make(std::move(sections))) weaker = std::move(*made), network = &*weaker;
    };
    while (next < changes.size() && changes[next].time <= from) take(changes[next++]);
    auto state = network->settled(loadsAt(from));
    lowest.assign(network->sections().size(), {});
    double now = from;
    while (now < to) {
        double until = next < changes.size() ? std::min(to, changes[next].time) : to;
        for (std::size_t o = 0; o < outputs; ++o)  // the end of a soft start
            if (phases[o] == Phase::On && since[o] + tree.outputs[o].ramp > now + 1e-9)
                until = std::min(until, since[o] + tree.outputs[o].ramp);
        for (std::size_t o = 0; o < outputs; ++o)  // the end of a pulse
            if (const double pulse = tree.outputs[o].pulse; pulse > 0.0 && since[o] + pulse > now + 1e-9)
                until = std::min(until, since[o] + pulse);
        std::vector<plant::Lowest> here = lowest;
        for (auto& low : here) low.time -= now;
        const auto loads = loadsAt(now);
        const double start = now;
        const auto watch = [&](double t, const plant::SupplyNetwork::Instant& instant) {
            for (std::size_t o = 0; o < outputs; ++o) {
                const auto draw = drawn(o, start + t);
                const auto& load = tree.outputs[o];
                amps[o] = load.section >= 0 ? tree.taken[0][static_cast<std::size_t>(load.section)] * (draw.steady + draw.extra) : 0.0;
                if (load.coil_section >= 0 && phases[o] == Phase::On)
                    amps[o] += tree.taken[0][static_cast<std::size_t>(load.coil_section)] * load.coil;
            }
            sample(start + t, instant, amps);
        };
        if (!network->advance(state, loads, until - now, &here,
                              sample ? std::function<void(double, const plant::SupplyNetwork::Instant&)>(watch)
                                     : std::function<void(double, const plant::SupplyNetwork::Instant&)>{},
                              growth))
            return false;
        for (std::size_t i = 0; i < here.size(); ++i) lowest[i] = {here[i].volts, here[i].time + now};
        now = until;
        while (next < changes.size() && changes[next].time <= now + 1e-9) take(changes[next++]);
    }
    return true;
}

namespace {

// Who draws most from a section at the coincidence, and how.
std::string culpritsOf(const SupplyTree& tree, std::size_t section, const std::vector<DriveChange>& changes) {
    std::vector<std::pair<double, std::string>> who;
    const DriveChange *at_zero = nullptr, *before_zero = nullptr;
    for (const auto& change : changes) {
        if (change.time <= 1e-6) at_zero = &change;
        if (change.time < -1e-6) before_zero = &change;
    }
    for (std::size_t o = 0; at_zero != nullptr && o < tree.outputs.size(); ++o) {
        const auto phase = at_zero->phases[o];
        const auto& load = tree.outputs[o];
        if ((phase != Phase::On && phase != Phase::Moving && load.pulse == 0.0) || load.section < 0) continue;
        if (load.pulse > 0.0 && before_zero != nullptr && before_zero->phases[o] == phase) continue;
        const double amps = tree.taken[section][static_cast<std::size_t>(load.section)];
        if (amps <= 0.0) continue;
        const bool starts = before_zero == nullptr || before_zero->phases[o] != phase;
        who.emplace_back(amps * (starts ? load.starting : load.running),
                         load.name + (load.pulse > 0.0                                ? " pulsed"
                                      : load.placed                                   ? " moving"
                                      : starts && load.starting > 1.05 * load.running ? " starting"
                                                                                      : " on"));
    }
    std::stable_sort(who.begin(), who.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::string words;
    for (std::size_t i = 0; i < who.size(); ++i) {
        if (i == 3 && who.size() > 4) return words + fmt::format(" and {} more", who.size() - 3);
        words += (words.empty() ? "" : ", ") + who[i].second;
    }
    return words;
}

// Whether two trees are of the same sections and loads.
bool alike(const SupplyTree& a, const SupplyTree& b) {
    return a.ids == b.ids && a.names == b.names && a.network->sections() == b.network->sections() && a.outputs == b.outputs &&
           a.standing == b.standing && a.taken == b.taken;
}

std::optional<SupplyStudy> studied(const StudiedSupply& made, const routine::Program& program) {
    const auto& profiles = made.profiles->profiles;
    const auto* tree = &made.tree;
    const double floor = made.floor;
    const int logic = made.logic;
    SupplyStudy study;
    study.option = made.option;
    struct Played {
        std::vector<std::pair<int, int>> at;
        std::vector<plant::Lowest> lowest;
        double below = 0.0;  ///< s of the board's rail
    };
    std::vector<Played> played;
    for (std::size_t s = 0; s < tree->ids.size(); ++s) {
        RailStudy rail;
        rail.id = tree->ids[s];
        rail.worst = worstCoincidence(program, profiles, *tree, static_cast<int>(s));
        rail.most = rail.worst.amps;
        rail.culprits = culpritsOf(*tree, s, coinciding(profiles, rail.worst));
        if (static_cast<int>(s) == logic) rail.floor = floor;
        study.complete = study.complete && rail.worst.complete;
        study.rails.push_back(std::move(rail));
        if (std::any_of(played.begin(), played.end(), [&](const Played& p) { return p.at == study.rails[s].worst.at; })) continue;
        Played play{study.rails[s].worst.at, {}, 0.0};
        double before = 0.0;
        bool was_below = false;
        if (!playSupply(*tree, coinciding(profiles, study.rails[s].worst), -0.5, 1.5, play.lowest,
                        [&](double t, const plant::SupplyNetwork::Instant& now, std::span<const double>) {
                            const bool below = logic >= 0 && now.volts[static_cast<std::size_t>(logic)] < floor;
                            if (below && was_below) play.below += t - before;
                            before = t, was_below = below;
                        }))
            return std::nullopt;
        played.push_back(std::move(play));
    }
    // A rail is lowest when it, or what feeds it, is asked for most: at whichever coincidence that is.
    for (std::size_t s = 0; s < study.rails.size(); ++s) {
        auto& rail = study.rails[s];
        const Played* lowest = nullptr;
        for (const auto& play : played)
            if (lowest == nullptr || play.lowest[s].volts < lowest->lowest[s].volts - 1e-9 ||
                (play.at == rail.worst.at && play.lowest[s].volts < lowest->lowest[s].volts + 1e-9))
                lowest = &play;
        if (lowest == nullptr) continue;
        rail.lowest = lowest->lowest[s].volts;
        rail.at = lowest->lowest[s].time;
        rail.below = static_cast<int>(s) == logic ? lowest->below : 0.0;
        rail.low_culprits = rail.culprits;
        for (const auto& other : study.rails)  // who pulls it down: those who draw from what it hangs on
            if (other.worst.at == lowest->at && !(lowest->at == rail.worst.at)) {
                rail.low_culprits = other.culprits;
                break;
            }
    }
    return study;
}

}  // namespace

std::shared_ptr<const StudiedSupply> studiedSupply(const project::Project& fed, const project::Parts& parts, const Plan& plan,
                                                   const SupplyOption& option, const std::shared_ptr<const StudiedSupply>& before) {
    if (!plan.program || !plan.profiles) return nullptr;
    auto tree = supplyTree(fed, parts, plan);
    if (!tree || tree->outputs.size() != plan.program->outputs.size()) return nullptr;
    const double floor = board::family(fed.board.form).guaranteed_floor;
    const int logic = tree->indexOf(fed.board.rail);
    // The same profiles are those of the same program.
    if (before && before->profiles == plan.profiles && before->option == option && before->floor == floor && before->logic == logic &&
        alike(before->tree, *tree))
        return before;
    StudiedSupply made{std::move(*tree), plan.profiles, option, floor, logic, {}};
    auto study = studied(made, *plan.program);
    if (!study) return nullptr;
    made.study = std::move(*study);
    return std::make_shared<const StudiedSupply>(std::move(made));
}

std::optional<SupplyStudy> studySupply(const project::Project& fed, const project::Parts& parts, const Plan& plan,
                                       const SupplyOption& option) {
    if (plan.apart) return studySupply(plan::coloursApart(fed, parts)->project, parts, plan.apart->plan, option);
    const auto made = studiedSupply(fed, parts, plan, option);
    return made ? std::optional(made->study) : std::nullopt;
}

}  // namespace hinge::plan
