#include "plan/supply_rules.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/feed.hpp"
#include "plan/supply.hpp"
#include "power/battery_discharge.hpp"
#include "power/rectifier.hpp"
#include "power/regulators.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

constexpr double adapter_sizes[] = {0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0};
constexpr double wire_sizes[] = {0.14e-6, 0.25e-6, 0.34e-6, 0.5e-6, 0.75e-6, 1.0e-6, 1.5e-6, 2.5e-6, 4e-6, 6e-6};
constexpr double bulk_sizes[] = {100e-6, 220e-6, 470e-6, 1000e-6, 2200e-6, 4700e-6, 10000e-6, 22000e-6, 47000e-6};
constexpr double ratings[] = {6.3, 10, 16, 25, 35, 50, 63, 100};

/// Looks at one project's supply and says what it finds.
class SupplyJudge {
public:
    SupplyJudge(const project::Project& project, const project::Parts& parts, Plan& plan)
        : project_{project}, parts_{parts}, plan_{plan}, family_{board::family(project.board.form)} {}

    void run() {
        const auto options = supplyOptions(project_);
        for (std::size_t i = 0; i < options.size(); ++i) {
            const auto fed = under(project_, options[i]);
            const auto study = studySupply(fed, parts_, plan_, options[i]);
            if (i == 0) keep(study);
            else if (study) regulators(fed, *study, options[i]);
            if (study) lows(fed, *study, options[i]);
            budget(fed, study ? &*study : nullptr, options[i]);
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
    static std::string lead(const SupplyOption& option) {
        if (option.words.empty()) return "";
        std::string words = option.words + ": ";
        words[0] = raised(words[0]);
        return words;
    }

    void keep(const std::optional<SupplyStudy>& study) {
        const auto* root = project_.sources.empty() ? nullptr : &project_.sources.front();
        if (root == nullptr) return;
        plan_.headline.source_current = power::promisedCurrent(*root);
        if (!study) {
            for (const auto& source : plan_.sources)
                if (source.id == root->id) plan_.headline.worst_current = source.starting;
            return;
        }
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
            if (rail.id == root->id) plan_.headline.worst_current = of<Current>(rail.most), plan_.headline.worst_by_routine = true;
            if (rail.id == project_.board.rail) plan_.headline.lowest_logic = of<Voltage>(rail.lowest);
        }
        if (!study->complete)
            add("coincidence-bounded", Severity::Note,
                "There are too many ways in which the cues may overlap to look at all: the worst coincidence given is an upper bound.");
    }

    // What the source gives against what is drawn at worst.
    void budget(const project::Project& fed, const SupplyStudy* study, const SupplyOption& option) {
        const auto* source = project::findSource(fed, option.source);
        if (source == nullptr || !source->current || option.charge != power::ChargeLevel::Nominal) return;
        double need = 0.0;
        std::string who = "All starting together draw";
        if (study != nullptr) {
            const auto rail =
                std::find_if(study->rails.begin(), study->rails.end(), [&](const RailStudy& r) { return r.id == option.source; });
            if (rail == study->rails.end()) return;
            need = rail->most;
            who = rail->culprits.empty() ? "At worst it draws" : rail->culprits + ": together";
        } else {
            const auto known =
                std::find_if(plan_.sources.begin(), plan_.sources.end(), [&](const RailPlan& r) { return r.id == option.source; });
            if (known == plan_.sources.end() || !known->starting) return;
            need = si(*known->starting);
        }
        const double gives = si(*source->current);
        const bool usb = source->kind == power::SourceKind::UsbPort;
        std::vector<Remedy> remedies;
        if (!usb)
            for (const double size : adapter_sizes)
                if (size * 0.8 >= need) {
                    remedies.push_back({fmt::format("Use a {} one", displayPlain(Kind::Current, size)),
                                        {{"sources/" + source->id + "/current", exactText(Kind::Current, size)}},
                                        "a bigger " + std::string{labelOf(source->kind)}});
                    break;
                }
        const std::string amps = display(Kind::Current, need), of_source = display(*source->current);
        if (need > gives)
            add(usb ? "usb-budget" : "source-over", Severity::Stop,
                lead(option) + fmt::format("{} {}; the {} {} {}.", who, amps, source->name, usb ? "promises" : "gives", of_source),
                std::move(remedies));
        else if (need > 0.8 * gives)
            add(usb ? "usb-budget" : "source-over", Severity::Warn,
                lead(option) +
                    fmt::format("{} {} of the {} that the {} {}.", who, amps, of_source, source->name, usb ? "promises" : "gives"),
                std::move(remedies));
    }

    // Whether the same study with some edits keeps a rail above a limit.
    bool cures(const SupplyOption& option, const std::string& rail_id, double floor, const std::vector<project::FactEdit>& edits) const {
        const auto changed = project::with(project_, edits);
        if (!changed) return false;
        const auto study = studySupply(under(*changed, option), parts_, plan_, option);
        if (!study) return false;
        for (const auto& rail : study->rails)
            if (rail.id == rail_id) return rail.lowest >= floor;
        return false;
    }

    std::vector<Remedy> sagRemedies(const SupplyOption& option, const RailStudy& low, double floor) const {
        std::vector<Remedy> remedies;
        const auto* rail = project::findRail(project_, low.id);
        if (rail == nullptr) return remedies;
        const std::string path = "rails/" + rail->id + "/";
        const auto offer = [&](const std::string& label, std::vector<project::FactEdit> edits, const std::string& cost) {
            if (!cures(option, low.id, floor, edits)) return false;
            remedies.push_back({label, std::move(edits), cost});
            return true;
        };
        const auto volts = railVoltage(project_, rail->id);
        for (const double size : bulk_sizes) {
            if (rail->bulk && size <= si(*rail->bulk) * 1.01) continue;
            double rating = 0.0;
            for (const double r : ratings)
                if (rating == 0.0 && volts && r >= 1.2 * si(*volts)) rating = r;
            if (rating == 0.0) break;
            if (offer(fmt::format("Use {} of {:g} V", displayPlain(Kind::Capacitance, size), rating),
                      {{path + "bulk", exactText(Kind::Capacitance, size)}, {path + "bulk_rating", exactText(Kind::Voltage, rating)}},
                      "a capacitor; stays charged when the power is off"))
                break;
        }
        for (const double size : wire_sizes)
            if (size > si(rail->wire_area) * 1.01 && offer(fmt::format("Use {} wire", displayPlain(Kind::Area, size)),
                                                           {{path + "wire_area", exactText(Kind::Area, size)}}, "a thicker wire"))
                break;
        if (rail->limit)
            for (const double size : adapter_sizes)
                if (size > si(*rail->limit) && offer(fmt::format("Use a {} converter", displayPlain(Kind::Current, size)),
                                                     {{path + "limit", exactText(Kind::Current, size)}}, "a bigger module"))
                    break;
        // Its own rail: where another one has the same volts.
        for (const auto& channel : project_.channels) {
            if (channel.rail != low.id || onMains(channel)) continue;
            for (const auto& other : project_.rails) {
                if (other.id == low.id || other.id == project_.board.rail) continue;
                const auto its = railVoltage(project_, other.id);
                if (its && volts && std::abs(si(*its) - si(*volts)) < 0.25 * si(*volts) &&
                    offer(fmt::format("Feed {} from {}", channel.name, other.name), {{"channels/" + channel.id + "/rail", other.id}},
                          "one wire moves"))
                    break;
            }
        }
        if (remedies.size() > 4) remedies.resize(4);
        return remedies;
    }

    void lows(const project::Project& fed, const SupplyStudy& study, const SupplyOption& option) {
        for (const auto& low : study.rails) {
            const auto* rail = project::findRail(fed, low.id);
            if (rail == nullptr) continue;
            const auto set = railVoltage(fed, rail->id);
            const std::string when = low.culprits.empty() ? "" : " when it comes together: " + low.culprits;
            const std::string lasts = low.below > 0.0 ? " for " + display(Kind::Duration, low.below, 2) : "";
            if (rail->id == fed.board.rail) {
                const double floor = family_.guaranteed_floor, reset = family_.brown_out;
                if (low.lowest < reset)
                    add("brown-out", Severity::Stop,
                        lead(option) + fmt::format("{} falls to {}{}; the board resets below {}{}.", rail->name,
                                                   display(Kind::Voltage, low.lowest), lasts, display(Kind::Voltage, reset), when),
                        sagRemedies(option, low, floor));
                else if (low.lowest < floor)
                    add("out-of-guaranteed-range", Severity::Stop,
                        lead(option) + fmt::format("{} falls to {}{}; at {:.0f} MHz the board is only guaranteed down to {:.2f} V, though "
                                                   "it resets only below {}{}.",
                                                   rail->name, display(Kind::Voltage, low.lowest), lasts, family_.clock / 1e6, floor,
                                                   display(Kind::Voltage, reset), when),
                        sagRemedies(option, low, floor));
                else if (low.lowest < floor * 1.05)
                    add("rail-sag", Severity::Warn,
                        lead(option) + fmt::format("{} falls to {}, near the {:.2f} V that the board needs{}.", rail->name,
                                                   display(Kind::Voltage, low.lowest), floor, when),
                        sagRemedies(option, low, floor * 1.05));
            } else if (set && low.lowest < 0.9 * si(*set)) {
                // Common practice: movers stand a tenth less; what they lose beyond it they lose in strength.
                const bool gone = low.lowest < 0.6 * si(*set);
                add("rail-sag", gone ? Severity::Stop : Severity::Warn,
                    lead(option) +
                        fmt::format("{} falls from {} to {}{}.", rail->name, display(*set), display(Kind::Voltage, low.lowest), when),
                    sagRemedies(option, low, 0.9 * si(*set)));
            }
        }
    }

    // Converters whose input falls too low under an option: the drawn one is judged where its working stands.
    void regulators(const project::Project& fed, const SupplyStudy& study, const SupplyOption& option) {
        for (const auto& rail : fed.rails) {
            if (rail.conversion != power::Conversion::Linear && rail.conversion != power::Conversion::Buck) continue;
            for (const auto& feed : study.rails) {
                if (feed.id != rail.from || !rail.voltage) continue;
                const double needs = si(*rail.voltage) + si(rail.dropout);
                if (feed.lowest < needs)
                    add("regulator-dropout", Severity::Stop,
                        lead(option) + fmt::format("the feed of {} falls to {}; it needs {} to hold {}.", rail.name,
                                                   display(Kind::Voltage, feed.lowest), display(Kind::Voltage, needs),
                                                   display(*rail.voltage)));
            }
        }
        const auto logic = railVoltage(fed, fed.board.rail);
        if (logic && si(*logic) > family_.supply_most + 1e-9)
            add("rail-over", Severity::Stop,
                lead(option) +
                    fmt::format("the board gets {}; it takes {}.", display(*logic), display(Kind::Voltage, family_.supply_most, 2)));
        for (const auto& channel : fed.channels) {
            const auto volts = railVoltage(fed, channel.rail);
            if (!volts || onMains(channel)) continue;
            const auto* planned = findChannel(plan_, channel.id);
            const auto* part = planned != nullptr ? match::partOf(planned->context, parts_, channel.actuator) : nullptr;
            const auto* servo = part != nullptr ? std::get_if<actuator::Servo>(part) : nullptr;
            if (servo == nullptr) continue;
            if (si(*volts) < si(servo->voltage_low) * (1 - 1e-9))
                add("supply-low", Severity::Stop,
                    lead(option) + fmt::format("{} gets {}; its servo is only quoted from {}.", channel.name, display(*volts),
                                               display(servo->voltage_low)));
            if (si(*volts) > si(servo->voltage_high) * (1 + 1e-9))
                add("supply-over", Severity::Stop,
                    lead(option) +
                        fmt::format("{} gets {}; its servo takes {}.", channel.name, display(*volts), display(servo->voltage_high)));
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
        for (const double r : ratings) {
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
            in.no_load_factor = source.no_load_factor;
            in.capacitance = *source.smoothing;
            for (const auto& rail : plan_.sources)
                if (rail.id == source.id && rail.running) in.current = *rail.running;
            if (si(in.current) <= 0.0) return;
            const auto worked = power::rectifier(in);
            if (!worked) return;
            plan_.workings.push_back({"rectified and smoothed", Stage::Feed, "", worked->steps, worked->verdict});
            rated(path + "smoothing_rating", source.name + "'s smoothing capacitor", source.smoothing_rating,
                  si(worked->result.peak_voltage));
            // The valley of the ripple is what a regulator behind it has to live on.
            const double valley = si(power::openVoltage(source).value_or(Voltage{})) - si(worked->result.ripple);
            for (const auto& rail : project_.rails)
                if (rail.from == source.id && rail.voltage && rail.conversion != power::Conversion::Direct &&
                    rail.conversion != power::Conversion::Boost && valley < si(*rail.voltage) + si(rail.dropout))
                    add("regulator-dropout", Severity::Stop,
                        fmt::format("Between two half waves {} falls to {}; {} needs {}.", source.name, display(Kind::Voltage, valley),
                                    rail.name, display(Kind::Voltage, si(*rail.voltage) + si(rail.dropout))),
                        {{"Double the smoothing",
                          {{path + "smoothing", exactText(Kind::Capacitance, 2.0 * si(*source.smoothing))}},
                          "a bigger capacitor; stays charged"}});
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
            if (load.section >= 0 && load.placed)
                idle += tree->taken[static_cast<std::size_t>(root)][static_cast<std::size_t>(load.section)] * load.rest;
        if (source.kind == power::SourceKind::PowerBank && source.least_load && idle < si(*source.least_load))
            add("idle-drain", Severity::Stop,
                fmt::format("At rest the gadget draws {}; the power bank switches itself off below {}.", display(Kind::Current, idle),
                            display(*source.least_load)));
        if (!source.capacity || source.kind != power::SourceKind::Battery) return;
        // A day: each cue as often as the clock starts it; those of buttons as often as the log's uses.
        const double uses = si(project_.journal.uses_per_week) / 7.0;
        double busy = 0.0;
        std::string profile;
        double peak = idle;
        for (const auto& cue : cueProfiles(*plan_.program)) {
            if (cue.tail) continue;
            const auto& decided = plan_.program->cues[static_cast<std::size_t>(cue.cue)];
            const double times = static_cast<double>(decided.times_of_day.size()) + (decided.inputs.empty() ? 0.0 : uses);
            if (times <= 0.0) continue;
            for (std::size_t k = 0; k + 1 < cue.changes.size(); ++k) {
                double amps = idle;
                for (std::size_t o = 0; o < tree->outputs.size(); ++o) {
                    const auto& load = tree->outputs[o];
                    const auto phase = cue.changes[k].phases[o];
                    if (phase != Phase::On && phase != Phase::Moving) continue;
                    if (load.section >= 0)
                        amps += tree->taken[static_cast<std::size_t>(root)][static_cast<std::size_t>(load.section)] *
                                (load.running - (load.placed ? load.rest : 0.0));
                    if (load.coil_section >= 0)
                        amps += tree->taken[static_cast<std::size_t>(root)][static_cast<std::size_t>(load.coil_section)] * load.coil;
                }
                const double time = (cue.changes[k + 1].time - cue.changes[k].time) * times;
                if (time <= 0.0) continue;
                profile += fmt::format("{:.9g}A@{:.9g}s,", amps, time);
                busy += time;
                peak = std::max(peak, amps);
            }
        }
        if (busy >= 86400.0) return;
        profile += fmt::format("{:.9g}A@{:.9g}s", idle, 86400.0 - busy);
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
                {{fmt::format("Use {:g} in series", si(source.series) + 1.0),
                  {{path + "series", fmt::format("{:g}", si(source.series) + 1.0)}},
                  "one more cell"}});
        const double rate = peak / (si(source.parallel) * si(*source.capacity) / 3600.0);
        if (rate > 2.0)
            add("battery-peak", Severity::Warn,
                fmt::format("The peak of {} is {:.1f} times the cells' capacity in an hour; beyond twice they heat up and sag.",
                            display(Kind::Current, peak), rate));
        if (si(battery.idle_share) > 0.5)
            add("idle-drain", Severity::Warn,
                fmt::format("{:.0f} % of the charge goes while nothing moves: {} at rest, day and night. A switch, or movers that sleep, "
                            "make it last longer.",
                            si(battery.idle_share) * 100.0, display(Kind::Current, idle)));
    }

    const project::Project& project_;
    const project::Parts& parts_;
    Plan& plan_;
    const board::Family& family_;
};

}  // namespace

void evaluateSupply(const project::Project& project, const project::Parts& parts, Plan& plan) {
    SupplyJudge(project, parts, plan).run();
}

}  // namespace hinge::plan
