// The sources and rails of a project as a tree of sections, and which of several sources feeds it.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/apart.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "plan/standing.hpp"
#include "plan/supply.hpp"
#include "plant/pump_plant.hpp"
#include "power/rectifier.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

double limitOf(const std::optional<Current>& current) {
    return current && si(*current) > 0.0 ? si(*current) : std::numeric_limits<double>::infinity();
}

// The sections of a project's sources and rails, feeds first.
struct TreeMaker {
    const project::Project& project;
    const Plan& plan;
    SupplyTree tree;
    std::vector<plant::SupplySection> sections;

    bool addSources() {
        for (const auto& source : project.sources) {
            const auto volts = power::openVoltage(source);
            if (!volts) return false;
            plant::SupplySection s;
            s.set = si(*volts);
            s.resistance = si(power::insideResistance(source));
            s.limit = limitOf(power::promisedCurrent(source));
            if (source.kind == power::SourceKind::Transformer && source.smoothing) smoothed(source, s);
            // A battery gives what its resistance lets it: what is printed is no limiter.
            if (source.kind == power::SourceKind::Battery) s.limit = std::numeric_limits<double>::infinity();
            push(source.id, source.name, s);
        }
        return true;
    }
    // A rectifier with its capacitor, seen at the valleys of its ripple: a resistance that keeps as much as the ripple at the running
    // current. What it gives in a half wave then comes with a time constant of about that half wave, as it does.
    void smoothed(const power::Source& source, plant::SupplySection& s) const {
        power::Rectifier in;
        in.ac_voltage = *source.ac_voltage;
        in.frequency = source.ac_frequency;
        double farads = si(*source.smoothing);
        for (const auto& rail : project.rails)  // what hangs on it without a converter or a diode smooths too
            if (rail.from == source.id && rail.conversion == power::Conversion::Direct && rail.protection != power::Protection::Diode)
                farads += si(rail.bulk.value_or(Capacitance{}));
        in.capacitance = of<Capacitance>(farads);
        in.current = of<Current>(0.1);
        for (const auto& known : plan.sources)
            if (known.id == source.id && known.running && si(*known.running) > 0.0) in.current = *known.running;
        s.bulk = si(*source.smoothing);
        s.esr = 0.05;
        if (const auto worked = power::rectifier(in))
            s.resistance += (si(worked->result.peak_voltage) - si(worked->result.valley)) / si(in.current);
    }
    void push(const std::string& id, const std::string& name, const plant::SupplySection& s) {
        tree.ids.push_back(id);
        tree.names.push_back(name);
        sections.push_back(s);
    }
    void addRails() {
        for (bool found = true; found;) {
            found = false;
            for (const auto& rail : project.rails) {
                if (tree.indexOf(rail.id) >= 0) continue;
                const int feed = tree.indexOf(rail.from);
                if (feed < 0 || (rail.conversion != power::Conversion::Direct && !rail.voltage)) continue;
                plant::SupplySection s;
                s.feed = feed;
                s.resistance = si(railWire(rail)) + si(rail.contacts) +
                               (rail.protection == power::Protection::Mosfet ? si(rail.protection_resistance) : 0.0);
                s.drop = rail.protection == power::Protection::Diode ? si(rail.protection_drop) : 0.0;
                if (rail.bulk) s.bulk = si(*rail.bulk), s.esr = si(rail.bulk_esr);
                if (rail.conversion != power::Conversion::Direct) {
                    s.regulated = true;
                    s.set = si(*rail.voltage);
                    s.limit = limitOf(rail.limit);
                    s.dropout = rail.conversion == power::Conversion::Boost ? -1e3 : si(rail.dropout);
                    const auto input = railVoltage(project, rail.from);
                    if (rail.conversion != power::Conversion::Linear && input && si(*input) > 0.0)
                        s.taken = s.set / (si(*input) * si(rail.efficiency));
                }
                push(rail.id, rail.name, s);
                if (si(rail.idle) > 0.0) tree.standing.push_back({static_cast<int>(sections.size()) - 1, si(rail.idle), 0.0, 1.0, true});
                found = true;
            }
        }
    }
    void addTaken() {
        const auto n = sections.size();
        tree.taken.assign(n, std::vector<double>(n, 0.0));
        for (std::size_t i = 0; i < n; ++i) {
            double share = 1.0;
            for (int at = static_cast<int>(i); at >= 0; at = sections[static_cast<std::size_t>(at)].feed) {
                tree.taken[static_cast<std::size_t>(at)][i] = share;
                share *= sections[static_cast<std::size_t>(at)].regulated ? sections[static_cast<std::size_t>(at)].taken : 1.0;
            }
        }
    }
};

// How what is drawn falls with the share of the duty: by the machine that stands in for it, at half of it against all.
double exponentOf(const project::Parts& parts, const Plan& plan, const project::Channel& channel) {
    const auto figures = plantOf(parts, plan, channel, false);
    if (!figures) return 1.0;
    const auto settled = [&](double share) {
        plant::PumpPlant machine{*figures};
        for (int i = 0; i < 3; ++i) machine.step(100.0 * figures->spin_up, share * si(channel.signal.duty));
        machine.step(1e-3, share * si(channel.signal.duty));
        return machine.supplyCurrent();
    };
    const double half = settled(0.5), whole = settled(1.0);
    return half > 0.0 && whole > half ? std::clamp(std::log2(whole / half), 0.5, 3.0) : 1.0;
}

}  // namespace

int SupplyTree::indexOf(std::string_view id) const {
    for (std::size_t i = 0; i < ids.size(); ++i)
        if (ids[i] == id) return static_cast<int>(i);
    return -1;
}

std::vector<SupplyOption> supplyOptions(const project::Project& project) {
    std::vector<SupplyOption> options;
    const auto add = [&](const power::Source& source, bool others) {
        const std::string on = others ? "on the " + source.name : std::string{};
        const auto say = [&](power::ChargeLevel charge, const std::string& how) {
            options.push_back({source.id, charge, on.empty() ? how : how.empty() ? on : on + ", " + how});
        };
        say(power::ChargeLevel::Nominal, "");
        if (source.kind == power::SourceKind::Battery)
            say(power::ChargeLevel::Full, "with full cells"), say(power::ChargeLevel::Empty, "with nearly empty cells");
        if (source.kind == power::SourceKind::Transformer) say(power::ChargeLevel::Full, "without load");
    };
    const bool others =
        std::any_of(project.sources.begin(), project.sources.end(), [](const power::Source& s) { return !s.instead_of.empty(); });
    for (const auto& source : project.sources)
        if (source.instead_of.empty()) add(source, others);
    for (const auto& source : project.sources)
        if (!source.instead_of.empty()) add(source, others);
    return options;
}

project::Project under(const project::Project& project, const SupplyOption& option) {
    project::Project fed = project;
    const auto* chosen = project::findSource(project, option.source);
    std::vector<power::Source> sources;
    for (const auto& source : project.sources) {
        if (!source.instead_of.empty() && source.id != option.source) continue;
        if (chosen != nullptr && source.id == chosen->instead_of) continue;
        auto plain = source;
        if (source.id == option.source) {
            plain.voltage = power::openVoltage(source, option.charge);
            plain.resistance = power::insideResistance(source);
            plain.current = power::promisedCurrent(source);
            if (source.kind == power::SourceKind::Battery) plain.kind = power::SourceKind::BenchSupply, plain.current = std::nullopt;
            if (source.kind == power::SourceKind::Transformer && option.charge == power::ChargeLevel::Full)
                plain.kind = power::SourceKind::BenchSupply;
        }
        plain.instead_of.clear();
        sources.push_back(std::move(plain));
    }
    fed.sources = std::move(sources);
    if (chosen != nullptr && !chosen->instead_of.empty())
        for (auto& rail : fed.rails)
            if (rail.from == chosen->instead_of) rail.from = chosen->id;
    return fed;
}

std::optional<SupplyTree> supplyTree(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return supplyTree(plan::coloursApart(project, parts)->project, parts, plan.apart->plan);
    TreeMaker maker{project, plan, {}, {}};
    if (project.sources.empty() || !maker.addSources()) return std::nullopt;
    maker.addRails();
    auto& tree = maker.tree;
    const int logic = tree.indexOf(project.board.rail);
    for (const auto& rail : project.rails) {
        if (standsUnknown(rail)) return std::nullopt;
        const double amps = standingCurrent(project, rail);
        if (const int section = tree.indexOf(rail.id); section >= 0 && amps > 0.0) tree.standing.push_back({section, amps, 0.0, 1.0, true});
    }
    const auto driven = drivenChannels(project, plan);
    const auto logic_volts = railVoltage(project, project.board.rail);
    for (const auto* channel : driven) {
        const auto& planned = *findChannel(plan, channel->id);
        if (!planned.chosen || !planned.chosen->running || !planned.chosen->starting) return std::nullopt;
        const auto& chosen = *planned.chosen;
        OutputLoad load;
        load.channel = channel->id;
        load.name = channel->name;
        load.placed = isPlaced(planned);
        // What goes on is put to sleep while it is off, where its driver has a line for that.
        if (planned.latch) load.pulse = si(*planned.latch);
        load.idles = isPulsed(planned) && (planned.signal != SignalKind::StepRate || channel->enable_pin.empty());
        if (!onMains(*channel)) {
            load.section = tree.indexOf(channel->rail);
            load.running = si(*chosen.running);
            load.starting = std::max(load.running, si(*chosen.starting));
            load.stalled = std::max(load.starting, chosen.stalled ? si(*chosen.stalled) : 0.0);
            load.rest = chosen.numbers.rest;
            if (load.section < 0) return std::nullopt;
        }
        const auto* part = match::partOf(planned.context, parts, channel->actuator);
        if (part != nullptr) load.decay = kinds::actuatorKind(*part).run_up(*part);
        if (asksForShares(project.routine, channel->id) && !load.placed) load.by_share = exponentOf(parts, plan, *channel);
        if (planned.signal == SignalKind::Pwm || isPulsed(planned)) load.ramp = si(channel->signal.soft_start);
        if (!chosen.junction && chosen.heat && logic_volts && si(*logic_volts) > 0.0)
            load.coil_section = logic, load.coil = si(*chosen.heat) / si(*logic_volts);
        tree.outputs.push_back(std::move(load));
    }
    // What is not driven: refused or left out on purpose it stands powered all the same; what only waits for its part, its figures or
    // its calibration will move one day, nobody knows with how much.
    for (const auto& channel : project.channels) {
        if (onMains(channel) || std::find(driven.begin(), driven.end(), &channel) != driven.end()) continue;
        const auto& planned = *findChannel(plan, channel.id);
        const int section = tree.indexOf(channel.rail);
        if (planned.not_driven.empty() || !planned.chosen || section < 0) return std::nullopt;
        if (planned.chosen->numbers.rest > 0.0) tree.standing.push_back({section, planned.chosen->numbers.rest, 0.0, 1.0, true});
    }
    maker.addTaken();
    auto network = plant::SupplyNetwork::make(std::move(maker.sections));
    if (!network) return std::nullopt;
    tree.network = std::move(*network);
    return std::move(maker.tree);
}

}  // namespace hinge::plan
