#include "plan/supply_rules.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/feed.hpp"
#include "plan/gadget_day.hpp"
#include "plan/sag_cures.hpp"
#include "plan/standing.hpp"
#include "plan/supply.hpp"
#include "power/battery_discharge.hpp"
#include "power/rectifier.hpp"
#include "power/regulators.hpp"
#include "power/wire.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

/// Looks at one project's supply and says what it finds.
class SupplyJudge {
public:
    SupplyJudge(const project::Project& project, const project::Parts& parts, Plan& plan, const Plan* before, bool cures)
        : project_{project}, parts_{parts}, plan_{plan}, before_{before}, cures_{cures}, family_{board::family(project.board.form)} {}

    // The other sources and charge states are judged by evaluate(), each as if it were the one that is drawn.
    void run() {
        const auto options = supplyOptions(project_);
        if (!options.empty()) {
            const auto fed = under(project_, options.front());
            plan_.studied = studiedSupply(fed, parts_, plan_, options.front(), before_ != nullptr ? before_->studied : nullptr);
            const auto study = plan_.studied ? std::optional(plan_.studied->study) : std::nullopt;
            keep(study);
            if (study) lows(fed, *study, options.front()), regulators(fed, *study);
            else lowAsSet(fed);
            for (const auto& source : fed.sources) budget(fed, study ? &*study : nullptr, source.id);
        }
        for (const auto& source : project_.sources) sourceItself(source);
        for (const auto& rail : project_.rails) capacitor(rail);
        for (const auto& source : project_.sources)
            if (source.kind == power::SourceKind::Battery || source.kind == power::SourceKind::PowerBank) cells(source);
    }

private:
    void add(const char* id, Severity severity, const std::string& text, std::vector<Remedy> remedies = {}) {
        const auto same =
            std::any_of(plan_.findings.begin(), plan_.findings.end(), [&](const PlanFinding& f) { return f.id == id && f.text == text; });
        if (!same) plan_.findings.push_back({id, severity, Stage::Feed, "", text, std::move(remedies)});
    }
    void keep(const std::optional<SupplyStudy>& study) {
        auto& headline = plan_.headline;
        const auto tell = [&] {
            // The source that is nearest to its end stands first in the headline, all the others after it.
            const auto share = [](const Headline::Source& s) { return s.worst && s.promised ? si(*s.worst) / si(*s.promised) : -1.0; };
            for (const auto& source : plan_.sources) {
                const auto* given = project::findSource(project_, source.id);
                if (given == nullptr || !given->instead_of.empty()) continue;
                headline.sources.push_back({source.name, study ? source.most : source.starting, power::promisedCurrent(*given)});
            }
            std::stable_sort(headline.sources.begin(), headline.sources.end(),
                             [&](const auto& a, const auto& b) { return share(a) > share(b); });
            if (headline.sources.empty()) return;
            headline.worst_current = headline.sources.front().worst;
            headline.source_current = headline.sources.front().promised;
        };
        if (!study) return tell();
        const auto fill = [&](RailPlan& plan, const RailStudy& rail) {
            plan.most = of<Current>(rail.most);
            plan.least = of<Voltage>(rail.lowest);
            plan.least_at = of<Duration>(rail.at);
            plan.culprits = rail.culprits;
        };
        for (const auto& rail : study->rails) {
            for (auto& plan : plan_.rails)
                if (plan.id == rail.id) fill(plan, rail);
            for (auto& plan : plan_.sources)
                if (plan.id == rail.id) fill(plan, rail);
            if (rail.id == project_.board.rail) headline.lowest_logic = of<Voltage>(rail.lowest);
        }
        headline.worst_by_routine = true;
        tell();
        if (!study->complete)
            add("coincidence-bounded", Severity::Note,
                "There are too many ways in which the cues may overlap to look at all: the worst coincidence given is an upper bound.");
    }

    // What the source gives against what is drawn at worst.
    void budget(const project::Project& fed, const SupplyStudy* study, const std::string& id) {
        const auto* source = project::findSource(fed, id);
        if (source == nullptr || !source->current) return;
        double need = 0.0;
        std::string who = "All starting together draw";
        if (study != nullptr) {
            const auto rail = std::find_if(study->rails.begin(), study->rails.end(), [&](const RailStudy& r) { return r.id == id; });
            if (rail == study->rails.end()) return;
            need = rail->most;
            who = rail->culprits.empty() ? "At worst it draws" : rail->culprits + ": together";
        } else {
            const auto known = std::find_if(plan_.sources.begin(), plan_.sources.end(), [&](const RailPlan& r) { return r.id == id; });
            if (known == plan_.sources.end() || !known->starting) return;
            need = si(*known->starting);
        }
        const double gives = si(*source->current);
        const bool usb = source->kind == power::SourceKind::UsbPort;
        std::vector<Remedy> remedies;
        if (usb) {
            for (const auto& port : Names<power::UsbPromise>::all)
                if (si(power::promise(port.value)) * 0.8 >= need) {
                    remedies.push_back({fmt::format("Use a port of {}", port.label),
                                        {{"sources/" + source->id + "/usb", std::string{port.id}}},
                                        "another port or charger"});
                    break;
                }
        } else {
            for (const double size : stocked_amps)
                if (size * 0.8 >= need) {
                    remedies.push_back({fmt::format("Use a {} one", displayPlain(Kind::Current, size)),
                                        {{"sources/" + source->id + "/current", exactText(Kind::Current, size)}},
                                        "a bigger " + std::string{labelOf(source->kind)}});
                    break;
                }
        }
        const std::string amps = display(Kind::Current, need), of_source = display(*source->current);
        if (need > gives)
            add(usb ? "usb-budget" : "source-over", Severity::Stop,
                fmt::format("{} {}; the {} {} {}.", who, amps, source->name, usb ? "promises" : "gives", of_source), std::move(remedies));
        else if (need > 0.8 * gives)
            add(usb ? "usb-budget" : "source-over", Severity::Warn,
                fmt::format("{} {} of the {} that the {} {}.", who, amps, of_source, source->name, usb ? "promises" : "gives"),
                std::move(remedies));
    }

    // What would keep a rail above a limit; looked for once, while the same is asked of the same supply.
    std::vector<Remedy> sagRemedies(const SupplyOption& option, const RailStudy& low, double floor) {
        if (!cures_) return {};
        plan_.cures.push_back(sagCures({plan_.studied, low.id, floor, project_.sources, project_.rails, railsOf(project_)}, project_,
                                       parts_, plan_, option,
                                       before_ != nullptr ? before_->cures : std::vector<std::shared_ptr<const SagCures>>{}));
        return plan_.cures.back()->remedies;
    }

    void lows(const project::Project& fed, const SupplyStudy& study, const SupplyOption& option) {
        for (const auto& low : study.rails) {
            const auto* rail = project::findRail(fed, low.id);
            if (rail == nullptr) continue;
            const auto set = railVoltage(fed, rail->id);
            const std::string when = low.low_culprits.empty() ? "" : " when it comes together: " + low.low_culprits;
            const std::string lasts = low.below > 0.0 ? " for " + display(Kind::Duration, low.below, 2) : "";
            if (rail->id == fed.board.rail) {
                const double floor = family_.guaranteed_floor, reset = family_.brown_out;
                if (low.lowest < reset)
                    add("brown-out", Severity::Stop,
                        fmt::format("{} falls to {}{}; the board resets below {}{}.", rail->name, display(Kind::Voltage, low.lowest), lasts,
                                    display(Kind::Voltage, reset), when),
                        sagRemedies(option, low, floor));
                else if (low.lowest < floor)
                    add("out-of-guaranteed-range", Severity::Stop,
                        fmt::format("{} falls to {}{}; at {:.0f} MHz the board is only guaranteed down to {:.2f} V, though "
                                    "it resets only below {}{}.",
                                    rail->name, display(Kind::Voltage, low.lowest), lasts, family_.clock / 1e6, floor,
                                    display(Kind::Voltage, reset), when),
                        sagRemedies(option, low, floor));
                else if (low.lowest < floor * 1.05)
                    add("rail-sag", Severity::Warn,
                        fmt::format("{} falls to {}, near the {:.2f} V that the board needs{}.", rail->name,
                                    display(Kind::Voltage, low.lowest), floor, when),
                        sagRemedies(option, low, floor * 1.05));
            } else if (set && low.lowest < 0.9 * si(*set)) {
                // Common practice: movers stand a tenth less; what they lose beyond it they lose in strength.
                const bool gone = low.lowest < 0.6 * si(*set);
                add("rail-sag", gone ? Severity::Stop : Severity::Warn,
                    fmt::format("{} falls from {} to {}{}.", rail->name, display(*set), display(Kind::Voltage, low.lowest), when),
                    sagRemedies(option, low, 0.9 * si(*set)));
            }
        }
    }

    // Where what is drawn is not known: what the board's rail is set to.
    void lowAsSet(const project::Project& fed) {
        const auto* rail = project::findRail(fed, fed.board.rail);
        const auto volts = rail != nullptr ? railVoltage(fed, rail->id) : std::nullopt;
        if (!volts || si(*volts) >= family_.guaranteed_floor) return;
        const bool resets = si(*volts) < family_.brown_out;
        std::vector<Remedy> remedies;
        if (auto remedy = higher(*rail, family_)) remedies.push_back(std::move(*remedy));
        add(resets ? "brown-out" : "out-of-guaranteed-range", Severity::Stop,
            resets ? fmt::format("{} gives {}; the board resets below {}.", rail->name, display(*volts),
                                 display(Kind::Voltage, family_.brown_out))
                   : fmt::format("{} gives {}; at {:.0f} MHz the board is only guaranteed down to {:.2f} V.", rail->name, display(*volts),
                                 family_.clock / 1e6, family_.guaranteed_floor),
            std::move(remedies));
    }
    // The board's rail at its usual volts, where a converter makes them.
    // Converters whose input falls too low when it comes together; without load they are judged where their working stands.
    void regulators(const project::Project& fed, const SupplyStudy& study) {
        for (const auto& rail : fed.rails) {
            if (rail.conversion != power::Conversion::Linear && rail.conversion != power::Conversion::Buck) continue;
            const auto open = railVoltage(fed, rail.from);
            for (const auto& feed : study.rails) {
                if (feed.id != rail.from || !rail.voltage || !open) continue;
                const double needs = si(*rail.voltage) + si(rail.dropout);
                if (feed.lowest < needs && si(*open) >= needs)
                    add("regulator-dropout", Severity::Stop,
                        fmt::format("The feed of {} falls to {}{}; it needs {} to hold {}.", rail.name, display(Kind::Voltage, feed.lowest),
                                    feed.low_culprits.empty() ? "" : " when it comes together: " + feed.low_culprits,
                                    display(Kind::Voltage, needs), display(*rail.voltage)));
            }
        }
    }

    void capacitor(const power::Rail& rail) {
        if (!rail.bulk) return;
        double highest = 0.0;
        for (const auto& option : supplyOptions(project_))
            if (const auto volts = railVoltage(under(project_, option), rail.id)) highest = std::max(highest, si(*volts));
        if (highest <= 0.0) return;
        rated("rails/" + rail.id + "/bulk_rating", rail.name + "'s bulk capacitor", rail.bulk_rating, highest);
    }
    void rated(const std::string& path, const std::string& what, const std::optional<Voltage>& rating, double volts) {
        for (const double r : stocked_ratings) {
            if (r < 1.2 * volts) continue;
            const std::vector<Remedy> remedy{{fmt::format("Use one of {:g} V", r), {{path, exactText(Kind::Voltage, r)}}, "a few cents"}};
            if (!rating)
                plan_.missing.push_back(
                    {path, what + ": volts it stands", fmt::format("printed on it; {:g} V or more", r), Stage::Feed, ""});
            else if (si(*rating) < volts)
                add("capacitor-voltage", Severity::Stop,
                    fmt::format("{} stands {} and gets {}: it bursts.", what, display(*rating), display(Kind::Voltage, volts)), remedy);
            else if (si(*rating) < 1.2 * volts * (1 - 1e-9))
                add("capacitor-voltage", Severity::Warn,
                    fmt::format("{} stands {} and gets {}; a fifth more is usual.", what, display(*rating), display(Kind::Voltage, volts)),
                    remedy);
            return;
        }
    }

    void sourceItself(const power::Source& source) {
        const std::string path = "sources/" + source.id + "/";
        if (source.kind == power::SourceKind::Transformer) {
            add("mains-present", Severity::Note,
                "A transformer has mains on one side: isolation, an enclosure, a fuse on the primary, no live work. Follow your local "
                "code; have a licensed electrician do or check the mains side.");
            if (!source.ac_voltage)
                return plan_.missing.push_back(
                    {path + "ac_voltage", source.name + ": volts of the transformer", "printed on it, AC", Stage::Feed, ""});
            if (!source.smoothing)
                return plan_.missing.push_back(
                    {path + "smoothing", source.name + ": smoothing capacitor", "1000 µF for each amp and more", Stage::Feed, ""});
            power::Rectifier in;
            in.ac_voltage = *source.ac_voltage;
            in.frequency = source.ac_frequency;
            in.capacitance = *source.smoothing;
            in.current = of<Current>(1e-6);
            // Without load its volts are higher: that is what the capacitor must stand.
            auto idle = in;
            idle.no_load_factor = source.no_load_factor;
            if (const auto worked = power::rectifier(idle))
                rated(path + "smoothing_rating", source.name + "'s smoothing capacitor", source.smoothing_rating,
                      si(worked->result.peak_voltage));
            for (const auto& rail : plan_.sources)
                if (rail.id == source.id && rail.running) in.current = *rail.running;
            const auto worked = power::rectifier(in);
            if (!worked) return;
            plan_.workings.push_back({"rectified and smoothed, while it runs", Stage::Feed, "", worked->steps, worked->verdict});
            // The valley of the ripple is what a regulator behind it has to live on.
            const double valley = si(worked->result.valley);
            for (const auto& rail : project_.rails)
                if (rail.from == source.id && rail.voltage && rail.conversion != power::Conversion::Direct &&
                    rail.conversion != power::Conversion::Boost && valley < si(*rail.voltage) + si(rail.dropout))
                    add("regulator-dropout", Severity::Stop,
                        fmt::format("Between two half waves {} falls to {}; {} needs {}.", source.name, display(Kind::Voltage, valley),
                                    rail.name, display(Kind::Voltage, si(*rail.voltage) + si(rail.dropout))),
                        moreSmoothing(in, si(*rail.voltage) + si(rail.dropout), path));
        }
        if (source.kind == power::SourceKind::Battery) {
            if (!source.capacity)
                plan_.missing.push_back(
                    {path + "capacity", source.name + ": capacity of a cell", "printed on it, in mAh", Stage::Feed, ""});
            if (!source.cell_resistance)
                plan_.missing.push_back({path + "cell_resistance", source.name + ": resistance of a cell",
                                         "volts lost by amps drawn; an AA has about 0.1 Ω", Stage::Feed, ""});
            const bool lithium = source.chemistry == power::Chemistry::LiIon || source.chemistry == power::Chemistry::LiFePo4;
            if (lithium)
                add("lithium-present", Severity::Note,
                    "Lithium cells: a protection board, a fuse, the right charger, and never charging without someone near.");
            if (lithium && !source.protection_board)
                add("cells-unprotected", Severity::Stop,
                    fmt::format("{} has no protection board: {} lithium cells without one burn when shorted, and die when emptied.",
                                source.name, si(source.series) > 1.0 ? "series" : "bare"),
                    {{"Fit a protection board", {{path + "protection_board", "yes"}}, "a small board, for this number of cells"}});
        }
    }

    // The first of the usual sizes whose valley is high enough.
    static std::vector<Remedy> moreSmoothing(power::Rectifier in, double needs, const std::string& path) {
        for (const double size : stocked_bulks) {
            if (size <= si(in.capacitance) * 1.01) continue;
            in.capacitance = of<Capacitance>(size);
            const auto worked = power::rectifier(in);
            if (!worked || si(worked->result.valley) < needs) continue;
            return {{fmt::format("Smooth it with {}", displayPlain(Kind::Capacitance, size)),
                     {{path + "smoothing", exactText(Kind::Capacitance, size)}},
                     "a bigger capacitor; stays charged"}};
        }
        return {};
    }

    // A power bank that takes a resting gadget for none.
    void keepAwake(const power::Source& source, double idle) {
        if (source.kind != power::SourceKind::PowerBank || !source.least_load || idle >= si(*source.least_load)) return;
        std::vector<Remedy> remedies;
        const auto volts = power::openVoltage(source);
        for (const auto& rail : project_.rails)
            if (rail.from == source.id && rail.conversion == power::Conversion::Direct && volts && remedies.empty()) {
                const double more = 1.1 * (si(*source.least_load) - idle);
                remedies.push_back({fmt::format("Let a resistor of {} draw {} all the time",
                                                displayPlain(Kind::Resistance, si(*volts) / more), displayPlain(Kind::Current, more)),
                                    {{"rails/" + rail.id + "/idle", exactText(Kind::Current, si(rail.idle) + more)}},
                                    fmt::format("{} of heat in it, day and night", display(Kind::Power, si(*volts) * more))});
            }
        add("idle-drain", Severity::Stop,
            fmt::format("At rest the gadget draws {}; the power bank switches itself off below {}.", display(Kind::Current, idle),
                        display(*source.least_load)),
            std::move(remedies));
    }

    // How long cells last under the gadget's own days.
    void cells(const power::Source& source) {
        const std::string path = "sources/" + source.id + "/";
        SupplyOption option{source.id, power::ChargeLevel::Nominal, ""};
        const auto fed = under(project_, option);
        const auto tree = supplyTree(fed, parts_, plan_);
        if (!tree || !plan_.program) return;
        const int root = tree->indexOf(source.id);
        double idle = 0.0;
        for (const auto& load : tree->standing)
            idle += tree->taken[static_cast<std::size_t>(root)][static_cast<std::size_t>(load.section)] * load.steady;
        for (const auto& load : tree->outputs)
            if (load.section >= 0 && load.idles)
                idle += tree->taken[static_cast<std::size_t>(root)][static_cast<std::size_t>(load.section)] * load.rest;
        keepAwake(source, idle);
        if (!source.capacity || source.kind != power::SourceKind::Battery) return;
        const auto day = dayOf(project_, plan_, *tree, static_cast<std::size_t>(root));
        std::string profile;
        double peak = idle, busy = 0.0;
        for (const auto& row : day) busy += row.seconds;
        // What runs at the same time is laid end to end, squeezed into the day with its charge kept.
        const double squeeze = std::max(1.0, busy / 86400.0);
        for (const auto& row : day) {
            profile += fmt::format("{:.9g}A@{:.9g}s,", idle + row.more * squeeze, row.seconds / squeeze);
            peak = std::max(peak, idle + row.more);
        }
        if (busy < 86400.0 - 1e-6) profile += fmt::format("{:.9g}A@{:.9g}s,", idle, 86400.0 - busy);
        profile.pop_back();
        power::BatteryDischarge in;
        in.chemistry = source.chemistry;
        in.series = source.series;
        in.parallel = source.parallel;
        in.capacity = of<Charge>(si(*source.capacity) * si(source.usable_fraction));
        in.cell_resistance = source.cell_resistance.value_or(Resistance{});
        in.profile = profile;
        // The volts below which the converter of the board's rail, or the board itself, gives up.
        if (const auto* logic = project::findRail(fed, fed.board.rail); logic != nullptr) {
            double needs = family_.guaranteed_floor;
            if (logic->conversion == power::Conversion::Linear || logic->conversion == power::Conversion::Buck)
                needs = si(logic->voltage.value_or(Voltage{})) + si(logic->dropout);
            if (logic->conversion != power::Conversion::Boost) in.cutoff = of<Voltage>(needs);
        }
        const auto worked = power::batteryDischarge(in);
        if (!worked) return;
        plan_.workings.push_back({"the cells, day by day", Stage::Feed, "", worked->steps, worked->verdict});
        BatteryPlan battery;
        battery.source = source.id;
        battery.runtime = worked->result.runtime;
        battery.left = worked->result.left;
        battery.idle = of<Current>(idle);
        battery.average = worked->result.average;
        battery.by_sag = worked->result.by_sag;
        battery.idle_share = of<Fraction>(idle * 86400.0 / (si(worked->result.average) * 86400.0));
        plan_.battery = battery;
        if (!plan_.headline.battery_life) plan_.headline.battery_life = worked->result.runtime;
        if (battery.by_sag && si(battery.left) > 0.2)
            add("battery-empty-voltage", Severity::Warn,
                fmt::format("{} gives out with {:.0f} % still in it: its volts are too low for the board's rail then. One more cell in "
                            "series, or a converter that steps up.",
                            source.name, si(battery.left) * 100.0),
                moreCells(in, source, path));
        const double rate = peak / (si(source.parallel) * si(*source.capacity) / 3600.0);
        if (rate > 2.0)
            add("battery-peak", Severity::Warn,
                fmt::format("The peak of {} is {:.1f} times the cells' capacity in an hour; beyond twice they heat up and sag.",
                            display(Kind::Current, peak), rate));
        if (si(battery.idle_share) > 0.5) idleDrain(fed, *tree, static_cast<std::size_t>(root), source, idle, si(battery.idle_share));
    }

    // The fewest cells in series that give out empty rather than low.
    static std::vector<Remedy> moreCells(power::BatteryDischarge in, const power::Source& source, const std::string& path) {
        for (double more = 1.0; more <= 6.0; more += 1.0) {
            in.series = of<Count>(si(source.series) + more);
            const auto worked = power::batteryDischarge(in);
            if (!worked || (worked->result.by_sag && si(worked->result.left) > 0.2)) continue;
            const std::string cells = fmt::format("{:g}", si(in.series));
            return {{fmt::format("Use {} in series", cells),
                     {{path + "series", cells}},
                     more > 1.0 ? fmt::format("{:g} more cells", more) : "one more cell"}};
        }
        return {};
    }

    // Most of the charge goes while nothing moves: by whom, and what would help with that one.
    void idleDrain(const project::Project& fed, const SupplyTree& tree, std::size_t root, const power::Source& source, double idle,
                   double share) {
        double movers = 0.0;
        std::string who;
        for (const auto& load : tree.outputs) {
            if (load.section < 0 || load.rest <= 0.0) continue;
            movers += tree.taken[root][static_cast<std::size_t>(load.section)] * load.rest;
            who += (who.empty() ? "" : ", ") + load.name;
        }
        std::vector<Remedy> remedies;
        const auto* logic = project::findRail(fed, fed.board.rail);
        const auto volts = power::openVoltage(source);
        if (logic != nullptr && logic->conversion == power::Conversion::Linear && logic->voltage && volts) {
            // What flows through a regulator flows from the cells; a converter takes the power instead.
            const double by_buck = si(*logic->voltage) / (si(*volts) * si(logic->efficiency));
            const double its =
                tree.taken[root][static_cast<std::size_t>(std::max(0, tree.indexOf(logic->id)))] * standingCurrent(fed, *logic);
            if (by_buck < 0.8)
                remedies.push_back({fmt::format("It helps: a buck converter for {}, {} at rest", logic->name,
                                                display(Kind::Current, idle - its * (1.0 - by_buck))),
                                    {{"rails/" + logic->id + "/conversion", "buck"}},
                                    "a module, about the price of a coffee",
                                    true});
        }
        add("idle-drain", Severity::Warn,
            fmt::format("{:.0f} % of the charge goes while nothing moves: {} at rest, day and night, {}.", share * 100.0,
                        display(Kind::Current, idle),
                        movers > 0.5 * idle ? "most of it into " + who + ". Movers that sleep make it last longer"
                                            : "most of it into the board. A switch, or a board that sleeps, makes it last longer"),
            std::move(remedies));
    }

    const project::Project& project_;
    const project::Parts& parts_;
    Plan& plan_;
    const Plan* before_;
    bool cures_;
    const board::Family& family_;
};

}  // namespace

void evaluateSupply(const project::Project& project, const project::Parts& parts, Plan& plan, const Plan* before, bool cures) {
    SupplyJudge(project, parts, plan, before, cures).run();
}

}  // namespace hinge::plan
