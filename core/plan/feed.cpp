#include "plan/feed.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include "driver/flyback.hpp"
#include "plan/standing.hpp"
#include "power/fuse.hpp"
#include "power/regulators.hpp"
#include "power/wire.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

struct Load {
    double rest = 0.0, running = 0.0, starting = 0.0, stalled = 0.0;
    Load& operator+=(const Load& other) {
        rest += other.rest;
        running += other.running;
        starting += other.starting;
        stalled += other.stalled;
        return *this;
    }
};

template <class R>
void show(Plan& plan, std::string title, const Worked<R>& worked, const std::string& channel = "") {
    plan.workings.push_back({std::move(title), Stage::Feed, channel, worked.steps, worked.verdict});
}

void add(Plan& plan, const Finding& finding, std::vector<Remedy> remedies, const std::string& channel = "") {
    plan.findings.push_back({finding.id, finding.severity, Stage::Feed, channel, finding.text, std::move(remedies)});
}

bool needsFlyback(const ChannelPlan& channel) {
    return std::any_of(channel.protection.begin(), channel.protection.end(),
                       [](const match::Protection& p) { return p.what == "flyback diode"; });
}

std::string fuseText(double amps) {
    return exactText(Kind::Current, amps);
}

}  // namespace

bool onMains(const project::Channel& channel) {
    return kinds::onMains(channel.demand);
}

bool feedsItself(const project::Project& project, std::string_view rail) {
    std::string at{rail};
    for (std::size_t i = 0; i <= project.rails.size(); ++i) {
        const auto* here = project::findRail(project, at);
        if (here == nullptr) return false;
        at = here->from;
    }
    return true;
}

std::optional<Voltage> railVoltage(const project::Project& project, std::string_view id) {
    if (feedsItself(project, id)) return std::nullopt;
    const auto* rail = project::findRail(project, id);
    if (rail == nullptr) {
        const auto* source = project::findSource(project, id);
        return source != nullptr ? power::openVoltage(*source) : std::nullopt;
    }
    if (rail->conversion == power::Conversion::Direct) return railVoltage(project, rail->from);
    return rail->voltage;
}

Resistance railWire(const power::Rail& rail) {
    return power::wireResistance(rail.wire_area, rail.wire_length);
}

namespace {

// The most that what feeds a rail can give into a fault: a converter's limit, an adapter's amps, cells without bound.
double feedGives(const project::Project& project, const power::Rail& rail) {
    if (rail.conversion != power::Conversion::Direct) return rail.limit ? si(*rail.limit) : std::numeric_limits<double>::infinity();
    if (const auto* above = project::findRail(project, rail.from)) return feedGives(project, *above);
    const auto* source = project::findSource(project, rail.from);
    const auto promised = source != nullptr ? power::promisedCurrent(*source) : std::nullopt;
    return promised ? si(*promised) : std::numeric_limits<double>::infinity();
}

// The source at the root of a rail; nullptr for none.
const power::Source* rootOf(const project::Project& project, const std::string& id) {
    if (feedsItself(project, id)) return nullptr;
    const auto* rail = project::findRail(project, id);
    return rail == nullptr ? project::findSource(project, id) : rootOf(project, rail->from);
}

// A driver without isolation sees its pin's volts only against the board's ground.
void commonGround(const project::Project& project, Plan& plan) {
    const auto* board = rootOf(project, project.board.rail);
    for (const auto& source : project.sources) {
        if (source.ground_joined || &source == board) continue;
        std::vector<std::string> who;
        for (const auto& channel : project.channels)
            if (!onMains(channel) && rootOf(project, channel.rail) == &source) who.push_back(channel.name);
        if (who.empty()) continue;
        add(plan,
            {"no-common-ground", Severity::Stop,
             fmt::format("{} shares no ground with the board: its drivers ({}) cannot tell high from low, and current finds a way through "
                         "signal wires. Join its minus to the board's ground at the supply.",
                         source.name, joined(who, ", "))},
            {{"Join the grounds", {{"sources/" + source.id + "/ground_joined", "yes"}}, "one wire"}});
    }
}

// A rail at other volts: what stands straight at its feed needs a converter between.
Remedy throughConverter(const power::Rail& rail, double volts, const std::string& path) {
    Remedy remedy{fmt::format("Set it to {:.1f} V", volts), {{path + "voltage", exactText(Kind::Voltage, volts)}}, ""};
    if (rail.conversion == power::Conversion::Direct) {
        remedy.label = fmt::format("Put a buck converter of {:.1f} V before it", volts);
        remedy.edits.insert(remedy.edits.begin(), {path + "conversion", "buck"});
        remedy.cost = "a module, about the price of a coffee";
    }
    return remedy;
}

// What a jam or a short does to a rail that has none. @param gives  of its feed, A
std::string withoutFuse(const power::Rail& rail, const Load& load, std::optional<Current> bears, double gives) {
    const std::string wire = bears ? fmt::format("the wire, good for {},", display(*bears)) : std::string{"the wire"};
    if (load.stalled > 1.2 * load.running)
        return fmt::format("{} has no fuse. If something jams, {} flow until {} burns.", rail.name, display(Kind::Current, load.stalled),
                           bears && load.stalled > si(*bears) ? wire + " or a winding" : "a winding or its driver");
    return fmt::format(
        "{} has no fuse. A short takes {} until {} burns.", rail.name,
        std::isfinite(gives) ? "the " + display(Kind::Current, gives) + " that its feed gives" : "all that its feed can give", wire);
}

// The fuse against what runs, what jams and what the wire bears; the wire against what runs.
void judgeFuse(const project::Project& project, const power::Rail& rail, bool moves, const Load& load, bool known, Plan& plan) {
    const bool carries = std::any_of(project.channels.begin(), project.channels.end(),
                                     [&](const project::Channel& c) { return c.rail == rail.id && !onMains(c); });
    const std::string path = "rails/" + rail.id + "/";
    const auto bears = power::ampacity(rail.wire_area);
    const auto thicker = [&](double amps) {
        std::vector<Remedy> remedies;
        for (const double size : power::wireSizes())
            if (const auto its = power::ampacity(of<Area>(size)); its && si(*its) >= amps && size > si(rail.wire_area)) {
                remedies.push_back({fmt::format("Use {} wire", displayPlain(Kind::Area, size)),
                                    {{path + "wire_area", exactText(Kind::Area, size)}},
                                    "a thicker wire"});
                break;
            }
        return remedies;
    };
    if (known && bears && load.running > si(*bears) * (1 + 1e-9))
        add(plan,
            {"wire-hot", Severity::Stop,
             fmt::format("{} runs at {}; its wire of {} carries {} for good (PVC, 40 °C).", rail.name, display(Kind::Current, load.running),
                         displayPlain(rail.wire_area), display(*bears))},
            thicker(load.running));
    if (!known || !carries || !moves || load.running <= 0.0) return;
    power::Fuse in;
    in.running_current = of<Current>(load.running);
    if (const auto worked = power::fuse(in)) show(plan, "fuse of " + rail.name, *worked);
    const auto fits = power::fuseFor(in.running_current);
    std::vector<Remedy> fit;
    if (fits)
        fit.push_back({fmt::format("Fit {} {}", display(*fits), power::fuseLimits(*fits).blade ? "blade" : "slow"),
                       {{path + "fuse", fuseText(si(*fits))}},
                       "a fuse and its holder"});
    if (!rail.fuse)
        return add(plan, {"fuse-missing", Severity::Warn, withoutFuse(rail, load, bears, feedGives(project, rail))}, std::move(fit));
    const auto limits = power::fuseLimits(*rail.fuse);
    if (si(*rail.fuse) < load.running / si(in.derating) * (1 - 1e-9))
        add(plan,
            {"fuse-small", Severity::Warn,
             fmt::format("The fuse of {} is {}; running draws {}, more than three quarters of it, and ages it.", rail.name,
                         display(*rail.fuse), display(Kind::Current, load.running))},
            fit);
    // It must blow before what hangs behind it burns: its promise, not its rating.
    const double gives = feedGives(project, rail);
    if (load.stalled <= si(limits.blows)) {
        // A smaller one is better where a jam may blow it, and this one surely holds.
        const bool helps = fits && load.stalled <= si(limits.carries) && load.stalled > si(power::fuseLimits(*fits).carries);
        add(plan,
            {helps ? "fuse-large" : "fuse-unsure", helps ? Severity::Warn : Severity::Note,
             fmt::format("The fuse of {} is {}: it carries {} for an hour and is only sure to blow above {}. A jam draws {} and {} go on: "
                         "the part, its driver or a time limit in the routine must bear it.",
                         rail.name, display(*rail.fuse), display(limits.carries), display(limits.blows),
                         display(Kind::Current, load.stalled), load.stalled <= si(limits.carries) ? "will" : "may")},
            helps ? fit : std::vector<Remedy>{});
    } else if (gives <= si(limits.blows))
        add(plan,
            {"fuse-idle", Severity::Note,
             fmt::format("The fuse of {} is only sure to blow above {}; what feeds it gives {} at most and folds back first.", rail.name,
                         display(limits.blows), display(Kind::Current, gives))},
            {});
    if (bears && si(limits.blows) > 1.45 * si(*bears) * (1 + 1e-9)) {
        auto remedies = thicker(si(limits.blows) / 1.45);
        add(plan,
            {"wire-unprotected", Severity::Warn,
             fmt::format("The wire of {} carries {} for good; its fuse of {} may let {} through for minutes, more than 1.45 times that.",
                         rail.name, display(*bears), display(*rail.fuse), display(limits.blows))},
            std::move(remedies));
    }
}

}  // namespace

namespace {

// What hangs on each rail and source.
struct Loads {
    std::map<std::string, Load> own;    // by rail, before converters below it are added
    std::map<std::string, Load> total;  // what it draws from what feeds it
    std::set<std::string> unknown;      // rails and sources on which something hangs whose currents nobody knows yet
};

Loads loadsOf(const project::Project& project, const Plan& plan) {
    Loads loads;
    auto& [own, total, unknown] = loads;
    const auto unknownFrom = [&, &unknown = unknown](std::string at) {
        for (std::size_t i = 0; i <= project.rails.size(); ++i) {
            unknown.insert(at);
            const auto* rail = project::findRail(project, at);
            if (rail == nullptr) break;
            at = rail->from;
        }
    };
    for (const auto& rail : project.rails) {
        const double amps = standingCurrent(project, rail);
        own[rail.id] += {amps, amps, amps, amps};
        if (standsUnknown(rail)) unknownFrom(rail.id);
    }
    for (const auto& channel : project.channels) {
        const auto* channel_plan = findChannel(plan, channel.id);
        const auto& chosen = channel_plan->chosen;
        if (!chosen || !chosen->running || !chosen->starting || !chosen->stalled) {
            if (onMains(channel)) continue;
            unknownFrom(channel.rail);
            if (channel.rail.empty())  // it may come to hang on any
                for (const auto& source : project.sources) unknown.insert(source.id);
            continue;
        }
        if (!onMains(channel))
            // What latches takes nothing but in its pulses.
            own[channel.rail] +=
                {chosen->numbers.rest, channel_plan->latch ? 0.0 : si(*chosen->running),
                 std::max(si(*chosen->starting), si(*chosen->running)), std::max(si(*chosen->stalled), si(*chosen->running))};
        // A relay's coil loads the logic rail while it is on.
        if (!chosen->junction && chosen->heat) {
            if (const auto logic = railVoltage(project, project.board.rail); logic && si(*logic) > 0.0) {
                const double coil = si(*chosen->heat) / si(*logic);
                own[project.board.rail] += {0.0, coil, coil, coil};
            }
        }
    }
    const auto gather = [&, &own = own, &total = total](auto&& self, const std::string& id) -> Load {
        Load load = own[id];
        for (const auto& rail : project.rails) {
            if (rail.from != id || feedsItself(project, rail.id)) continue;
            Load below = self(self, rail.id);
            if (rail.conversion == power::Conversion::Buck || rail.conversion == power::Conversion::Boost) {
                const auto v_in = railVoltage(project, rail.from);
                const auto v_out = rail.voltage;
                const double ratio =
                    v_in && v_out && si(*v_in) > 0.0 && (rail.conversion == power::Conversion::Boost || si(*v_in) > si(*v_out))
                        ? si(*v_out) / (si(*v_in) * si(rail.efficiency))
                        : 1.0;
                below = {below.rest * ratio, below.running * ratio, below.starting * ratio, below.stalled * ratio};
            }
            load += below;
        }
        total[id] = load;
        return load;
    };
    for (const auto& source : project.sources) gather(gather, source.id);
    return loads;
}

void judgeWire(const power::Rail& rail, const Load& load, RailPlan& out, Plan& plan) {
    const std::string path = "rails/" + rail.id + "/";
    if (std::max(load.running, load.starting) > 0.0 && si(rail.wire_length) > 0.0) {
        power::WireDrop in;
        in.area = rail.wire_area;
        in.length = rail.wire_length;
        in.current = of<Current>(std::max(load.running, load.starting));
        in.supply = *out.voltage;
        if (const auto worked = power::wireDrop(in)) {
            show(plan, "wire to " + rail.name, *worked);
            out.lowest = of<Voltage>(si(*out.voltage) - si(worked->result.drop));
            out.verdict = worse(out.verdict, worked->verdict);
            for (const auto& finding : worked->findings) {
                const double enough = si(rail.wire_area) * si(worked->result.drop) / (0.03 * si(*out.voltage));
                std::vector<Remedy> remedies;
                for (const double size : power::wireSizes())
                    if (size >= enough) {
                        remedies.push_back({fmt::format("Use {} wire", displayPlain(Kind::Area, size)),
                                            {{path + "wire_area", exactText(Kind::Area, size)}},
                                            "a thicker wire"});
                        break;
                    }
                add(plan, finding, remedies);
            }
        }
    } else {
        out.lowest = out.voltage;
    }
}

void judgeConverter(const project::Project& project, const power::Rail& rail, const Load& load, RailPlan& out, Plan& plan) {
    const std::string path = "rails/" + rail.id + "/";
    const auto feed_voltage = railVoltage(project, rail.from);
    if (rail.conversion == power::Conversion::Linear && feed_voltage) {
        power::LinearRegulator in;
        in.v_in = *feed_voltage;
        in.v_out = *out.voltage;
        in.current = of<Current>(std::max(load.running, load.rest));
        in.dropout = rail.dropout;
        in.theta_ja = rail.theta_ja;
        in.ambient = project.brief.ambient;
        if (si(in.current) > 0.0)
            if (const auto worked = power::linearRegulator(in)) {
                show(plan, rail.name + ": regulator", *worked);
                out.verdict = worse(out.verdict, worked->verdict);
                for (const auto& finding : worked->findings) {
                    std::vector<Remedy> remedies;
                    if (finding.id == "regulator-hot")
                        remedies.push_back(
                            {"Use a buck converter", {{path + "conversion", "buck"}}, "a module, about the price of a coffee"});
                    add(plan, finding, remedies);
                }
            }
    }
    if (rail.conversion == power::Conversion::Buck && feed_voltage && load.running > 0.0) {
        power::BuckConverter in{*feed_voltage, *out.voltage, of<Current>(load.running), rail.efficiency};
        if (const auto worked = power::buckConverter(in)) {
            show(plan, rail.name + ": converter", *worked);
            out.verdict = worse(out.verdict, worked->verdict);
            for (const auto& finding : worked->findings) add(plan, finding, {});
        }
    }
}

// What the board itself may be fed with.
void judgeBoardRail(const project::Project& project, const power::Rail& rail, const RailPlan& out, Plan& plan) {
    const auto& family = board::family(project.board.form);
    const std::string path = "rails/" + rail.id + "/";
    plan.headline.lowest_logic = out.lowest;
    plan.headline.logic_floor = of<Voltage>(family.guaranteed_floor);
    if (out.voltage && si(*out.voltage) > family.supply_most + 1e-9)
        add(plan,
            {"rail-over", Severity::Stop,
             fmt::format("{} gives {}; the board takes {} at its {}.", rail.name, display(*out.voltage),
                         display(Kind::Voltage, family.supply_most, 2), family.supply_pin)},
            {throughConverter(rail, board::supplyUsual(family), path)});
    else if (out.voltage && si(*out.voltage) > board::supplyAsRated(family) + 1e-9)
        add(plan,
            {"logic-follows", Severity::Note,
             fmt::format("{} gives {}: {} takes it, and its pins then give as much, not {}. What hangs on them must bear that.", rail.name,
                         display(*out.voltage), family.name, display(Kind::Voltage, family.logic))},
            {});
}

RailPlan judgedRail(const project::Project& project, const power::Rail& rail, Loads& loads, Plan& plan) {
    RailPlan out;
    out.id = rail.id;
    out.name = rail.name;
    out.wire = railWire(rail);
    if (feedsItself(project, rail.id)) {
        out.verdict = Verdict::Breaks;
        add(plan,
            {"rail-loop", Severity::Stop,
             fmt::format("{} feeds itself: follow 'from' and you come back to it. Feed it from a source.", rail.name)},
            {});
        return out;
    }
    out.voltage = railVoltage(project, rail.id);
    const bool fed = project::findRail(project, rail.from) != nullptr || project::findSource(project, rail.from) != nullptr;
    if (!fed) add(plan, {"rail-unfed", Severity::Stop, fmt::format("Nothing feeds {}.", rail.name)}, {});
    const Load load = loads.total[rail.id];
    if (loads.unknown.count(rail.id) == 0) {
        out.rest = of<Current>(load.rest);
        out.running = of<Current>(load.running);
        out.starting = of<Current>(load.starting);
        out.stalled = of<Current>(load.stalled);
    }
    if (!out.voltage) return out;
    out.verdict = Verdict::Holds;
    judgeWire(rail, load, out, plan);
    judgeConverter(project, rail, load, out, plan);
    judgeFuse(project, rail, loads.own[rail.id].starting > 0.0, load, loads.unknown.count(rail.id) == 0, plan);
    if (rail.bulk && si(*rail.bulk) >= 1e-3)
        add(plan,
            {"capacitor-stored", Severity::Note,
             fmt::format("{} in {} stays charged when the power is off. Mind its polarity, let it empty before you touch it, wear glasses.",
                         display(*rail.bulk), rail.name)},
            {});
    if (rail.id == project.board.rail) judgeBoardRail(project, rail, out, plan);
    return out;
}

void judgeFlyback(const project::Project& project, Plan& plan) {
    for (const auto& channel : project.channels) {
        const auto* channel_plan = findChannel(plan, channel.id);
        const auto& chosen = channel_plan->chosen;
        if (!chosen || !chosen->motor) continue;
        if (!channel.drive.flyback_diode && needsFlyback(*channel_plan))
            add(plan,
                {"no-flyback-path", Severity::Stop,
                 fmt::format(
                     "{} has no flyback diode: at switch-off its winding drives the switch far above {}.", channel.name,
                     channel_plan->context->rails.front().volts ? display(*channel_plan->context->rails.front().volts) : "the rail")},
                {{"Fit a diode", {{"channels/" + channel.id + "/drive/flyback_diode", "yes"}}, "a few cents; stripe to the plus side"}},
                channel.id);
    }
}

}  // namespace

void evaluateFeed(const project::Project& project, Plan& plan) {
    auto loads = loadsOf(project, plan);
    commonGround(project, plan);
    for (const auto& rail : project.rails) plan.rails.push_back(judgedRail(project, rail, loads, plan));
    for (const auto& source : project.sources) {
        RailPlan out;
        out.id = source.id;
        out.name = source.name;
        out.voltage = power::openVoltage(source);
        const Load load = loads.total[source.id];
        if (loads.unknown.count(source.id) == 0)
            out.rest = of<Current>(load.rest), out.running = of<Current>(load.running), out.starting = of<Current>(load.starting),
            out.stalled = of<Current>(load.stalled);
        plan.sources.push_back(std::move(out));
    }
    judgeFlyback(project, plan);
}

}  // namespace hinge::plan
