#include "plan/gadget_day.hpp"
#include <algorithm>
#include "plan/apart.hpp"

namespace hinge::plan {
namespace {

constexpr double day = 86400.0;

// A day as it is added up.
struct Day {
    const SupplyTree& tree;
    std::size_t root;
    std::vector<Stretch> rows;
    std::vector<double> seconds;  ///< of each output, by the routine
    std::vector<double> pulses;   ///< of what latches
    Day(const SupplyTree& of, std::size_t at) : tree(of), root(at), seconds(of.outputs.size(), 0.0), pulses(of.outputs.size(), 0.0) {}
    /// Amps from the root that an output adds while it works.
    [[nodiscard]] double more(std::size_t o) const {
        const auto& load = tree.outputs[o];
        if (load.pulse > 0.0) return 0.0;  // counted pulse by pulse
        double amps = 0.0;
        if (load.section >= 0)
            amps += tree.taken[root][static_cast<std::size_t>(load.section)] * (load.running - (load.idles ? load.rest : 0.0));
        if (load.coil_section >= 0) amps += tree.taken[root][static_cast<std::size_t>(load.coil_section)] * load.coil;
        return std::max(0.0, amps);
    }
    void allDay(std::size_t o) { rows.push_back({more(o), day}), seconds[o] = day; }
    /// One pass through a cue, `times` a day.
    void addCourse(const std::vector<DriveChange>& changes, double times) {
        for (std::size_t k = 1; k < changes.size(); ++k)
            for (std::size_t o = 0; o < tree.outputs.size(); ++o)
                if (tree.outputs[o].pulse > 0.0 && changes[k].phases[o] != changes[k - 1].phases[o]) pulses[o] += times;
        for (std::size_t k = 0; k + 1 < changes.size(); ++k) {
            const double time = (changes[k + 1].time - changes[k].time) * times;
            double amps = 0.0;
            for (std::size_t o = 0; o < tree.outputs.size(); ++o) {
                if (changes[k].phases[o] != Phase::On && changes[k].phases[o] != Phase::Moving) continue;
                amps += more(o), seconds[o] += time;
            }
            if (time > 0.0 && amps > 0.0) rows.push_back({amps, time});
        }
    }
};
bool isEndless(const routine::Program& program, int cue) {
    const auto& instructions = program.cues[static_cast<std::size_t>(cue)].instructions;
    return std::any_of(instructions.begin(), instructions.end(), [&](const routine::Instruction& i) {
        return i.operation == routine::Operation::Again &&
               (i.parameter < 0 || program.parameters[static_cast<std::size_t>(i.parameter)].value == 0);
    });
}

class GadgetDay {
public:
    GadgetDay(const project::Project& project, const Plan& plan) : project_(project), plan_(plan) {}
    // A day of the gadget: its cues; one without an end, a follower and a loop all day long, unless Work says how much of it. Amps from
    // the root.
    std::vector<Stretch> of(const SupplyTree& tree, std::size_t root) const {
        const auto runs = runsADay();
        Day sum(tree, root);
        for (const auto& profile : plan_.profiles->profiles)
            if (!profile.tail) addProfile(profile, profile.cue >= 0 ? runs[static_cast<std::size_t>(profile.cue)] : 0.0, sum);
        addPulses(sum);
        // What Work says beyond it.
        for (std::size_t o = 0; o < tree.outputs.size(); ++o)
            if (const auto share = worksBy(tree.outputs[o].channel); share && *share * day > sum.seconds[o])
                sum.rows.push_back({sum.more(o), *share * day - sum.seconds[o]});
        std::erase_if(sum.rows, [](const Stretch& row) { return row.more <= 0.0 || row.seconds <= 0.0; });
        return std::move(sum.rows);
    }

private:
    // How often a day each cue runs: by the clock, its intervals, the power-up, the log's uses, and after those that start it.
    std::vector<double> runsADay() const {
        const auto& program = *plan_.program;
        std::vector<double> runs(program.cues.size(), 0.0);
        for (std::size_t c = 0; c < runs.size(); ++c) {
            const auto& cue = program.cues[c];
            runs[c] = static_cast<double>(cue.times_of_day.size()) + (cue.at_power_up ? 1.0 : 0.0);
            if (!cue.inputs.empty() || !cue.released.empty() || cue.held_input >= 0) runs[c] += si(project_.journal.uses_per_week) / 7.0;
            if (cue.every_parameter >= 0)
                runs[c] +=
                    day * routine::ticks_per_second / std::max(1, program.parameters[static_cast<std::size_t>(cue.every_parameter)].value);
        }
        for (std::size_t round = 0; round < runs.size(); ++round)  // what starts after another, down the chain
            for (std::size_t c = 0; c < runs.size(); ++c)
                if (program.cues[c].after >= 0) runs[c] = std::max(runs[c], runs[static_cast<std::size_t>(program.cues[c].after)]);
        return runs;
    }
    void addProfile(const CueProfile& profile, double times, Day& sum) const {
        const auto& changes = profile.changes;
        if (profile.cue < 0) {  // all day
            for (std::size_t o = 0; o < sum.tree.outputs.size(); ++o)
                if (changes[0].phases[o] != Phase::Off && !worksBy(sum.tree.outputs[o].channel)) sum.allDay(o);
            return;
        }
        const bool endless = isEndless(*plan_.program, profile.cue);
        const double length = changes.back().time;
        // One that goes round without ever letting go of what it does.
        if (endless && times > 0.0 && length <= 0.0) {
            for (std::size_t o = 0; o < sum.tree.outputs.size(); ++o)
                if (changes.back().phases[o] == Phase::On || changes.back().phases[o] == Phase::Moving) sum.allDay(o);
            return;
        }
        if (endless && times > 0.0 && length > 0.0) times = day / length;
        if (times <= 0.0) return;
        sum.addCourse(changes, std::min(times, endless || length <= 0.0 ? times : day / std::max(1e-3, length)));
        // What runs on when nothing changes any more.
        for (std::size_t o = 0; o < sum.tree.outputs.size() && !endless; ++o)
            if (changes.back().phases[o] == Phase::On && sum.seconds[o] < day) {
                const double left = std::max(0.0, day - sum.seconds[o]);
                sum.rows.push_back({sum.more(o), left}), sum.seconds[o] += left;
            }
    }
    void addPulses(Day& sum) const {
        for (std::size_t o = 0; o < sum.tree.outputs.size(); ++o) {
            const auto& load = sum.tree.outputs[o];
            if (load.pulse <= 0.0 || load.section < 0) continue;
            const auto* channel = project::findChannel(project_, load.channel);
            if (channel != nullptr && channel->work.every && si(*channel->work.every) > 0.0)
                sum.pulses[o] = std::max(sum.pulses[o], 2.0 * day / si(*channel->work.every));  // one each way at each use
            sum.rows.push_back(
                {sum.tree.taken[sum.root][static_cast<std::size_t>(load.section)] * load.running, sum.pulses[o] * load.pulse});
        }
    }
    // The share of all time that a channel is said to work.
    std::optional<double> worksBy(const std::string& id) const {
        const auto* channel = project::findChannel(project_, id);
        if (channel == nullptr || !channel->work.every || si(*channel->work.every) <= 0.0) return std::nullopt;
        const auto* planned = findChannel(plan_, id);
        const auto on = channel->work.on_for ? channel->work.on_for : planned != nullptr ? planned->dose_time : std::nullopt;
        if (!on) return std::nullopt;
        return std::min(1.0, si(*on) / si(*channel->work.every));
    }

    const project::Project& project_;
    const Plan& plan_;
};

}  // namespace

std::vector<Stretch> dayOf(const project::Project& project, const Plan& plan, const SupplyTree& tree, std::size_t root) {
    if (plan.apart) return dayOf(plan.apart->project(), plan.apart->plan, tree, root);
    return GadgetDay(project, plan).of(tree, root);
}

}  // namespace hinge::plan
