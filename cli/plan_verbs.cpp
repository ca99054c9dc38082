// What a plan says: `plan`, `match`, `parts`, `simulate`, `prove-interlocks`.
#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include "catalogue/catalogue.hpp"
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "cli/verbs.hpp"
#include "plan/cells.hpp"
#include "plan/machines.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "routine/prove.hpp"
#include "simulation/happen.hpp"
#include "simulation/supply_day.hpp"

namespace hinge::cli {

int showPlan(const std::string& project, const std::string& catalogue, bool json, bool strict) {
    const auto opened = open(project, catalogue, true);
    if (!opened) return report(opened.error());
    const auto& plan = opened->plan;
    if (json) {
        print(toJson(plan));
    } else {
        std::cout << plan.headline.name << ": " << word(plan.verdict) << '\n';
        for (const auto& source : plan.headline.sources)
            std::cout << fmt::format(
                "{}: {} {}{}\n", source.name, plan.headline.worst_by_routine ? "worst current" : "all starting together",
                source.worst ? display(*source.worst) : "not known", source.promised ? " of " + display(*source.promised) : "");
        if (plan.battery)
            std::cout << fmt::format("cells: {} at {} on average, {} at rest\n", display(plan.battery->runtime),
                                     display(plan.battery->average), display(plan.battery->idle));
        for (const auto& channel : plan.channels) {
            std::cout << '\n' << channel.name << '\n';
            for (std::size_t i = 0; i < channel.cells.size(); ++i) {
                const auto& cell = channel.cells[i];
                std::cout << fmt::format("  {:<8} {:<10} {}{}{}\n", labelOf(static_cast<project::Stage>(i)), plan::wordOf(cell),
                                         cell.figure, cell.figure.empty() || cell.small.empty() ? "" : ", ", cell.small);
            }
        }
        std::cout << '\n';
        for (const auto& finding : plan::together(plan.findings, plan.channels))
            std::cout << fmt::format("{:<5} {:<22} {}\n", word(finding.severity), finding.id, finding.text);
        for (const auto& missing : plan.missing) std::cout << fmt::format("not known: {} ({})\n", missing.label, missing.how);
    }
    return strict && plan.verdict == Verdict::Breaks ? DoneAndBreaks : Done;
}

int showMatch(const std::string& project, const std::string& channel, const std::string& catalogue, const std::string& swap, bool json) {
    const auto opened = open(project, catalogue, false);
    if (!opened) return report(opened.error());
    const auto* found = plan::findChannel(opened->plan, channel);
    if (found == nullptr) {
        const std::string ids = joined(opened->plan.channels, ", ", [&](const auto& entry) { return entry.id; });
        return report({ErrorCode::Unknown, "CHANNEL", channel, ids.empty() ? "this gadget has no channels yet" : "one of " + ids});
    }
    const auto* decided = project::findChannel(opened->document.project, channel);
    if (!swap.empty()) {
        // PART or PART,DRIVER: what the swap changes everywhere; nothing is written.
        const auto comma = swap.find(',');
        const std::string part = swap.substr(0, comma), driver = comma == std::string::npos ? decided->drive.part : swap.substr(comma + 1);
        if (match::partOf(found->context, opened->parts, part) == nullptr)
            return report({ErrorCode::Unknown, "--swap", part, "the id of a part of the catalogue; 'match --json' lists them"});
        if (project::findDriver(opened->parts, driver) == nullptr)
            return report({ErrorCode::Unknown, "--swap", driver, "PART,DRIVER with the id of a driver of the catalogue"});
        const std::string base = "channels/" + channel + "/";
        const auto after = project::with(opened->document.project,
                                         std::vector<project::FactEdit>{{base + "actuator", part}, {base + "drive/part", driver}});
        if (!after) return report(after.error());
        const auto changes = plan::difference(opened->document.project, *after, opened->parts);
        if (json) {
            print(toJson(changes));
        } else {
            for (const auto& c : changes)
                std::cout << fmt::format("{:<8} {}: {} -> {}\n", labelOf(c.stage), c.what, c.before.empty() ? "none" : c.before,
                                         c.after.empty() ? "none" : c.after);
        }
        return Done;
    }
    const auto ranked = match::candidates(found->context, opened->parts);
    const auto* part = match::partOf(found->context, opened->parts, decided->actuator);
    const auto drivers = part != nullptr ? match::driversFor(found->context, opened->parts, *part) : std::vector<match::Pairing>{};
    if (json) {
        print(toJson(ranked, drivers, channel));
    } else {
        for (const auto& p : ranked) {
            std::cout << fmt::format("{:<8} {} + {}{}\n         {}\n", p.verdict == Verdict::Unknown ? "?" : word(p.verdict),
                                     p.actuator_name, p.driver_name, p.rail_name.empty() ? "" : " on " + p.rail_name, p.reason);
            if (p.verdict != Verdict::Breaks) continue;
            const auto* loser = match::partOf(found->context, opened->parts, p.actuator);
            const auto change = loser != nullptr ? match::changeToWin(found->context, opened->parts, *loser) : std::string{};
            if (!change.empty()) std::cout << "         would do it " << change << '\n';
        }
        if (!drivers.empty()) std::cout << "\ndrivers for the part chosen\n";
        for (const auto& p : drivers)
            std::cout << fmt::format("{:<8} {}\n         {}\n", p.verdict == Verdict::Unknown ? "?" : word(p.verdict), p.driver_name,
                                     p.reason);
        for (const auto& extra : found->protection)
            std::cout << fmt::format("goes with it: {}, {}: {} ({})\n", extra.what, extra.value, extra.where, extra.why);
    }
    return Done;
}

// What of a folder of parts was read, and what was not, row by row.
int checkParts(const std::string& folder, const std::string& csv, bool json) {
    const auto loaded = catalogue::load(partsFolder(folder));
    if (!loaded) return report(loaded.error());
    Json list = Json::array();
    for (const auto& p : loaded->problems)
        list.push_back({{"file", p.file}, {"row", p.row}, {"column", p.column}, {"value", p.value}, {"why", p.why}});
    if (!csv.empty())
        if (const auto written = files::writeWhole(csv, catalogue::problemTable(loaded->problems)); !written)
            return report(written.error());
    if (json) {
        print({{"actuators", loaded->parts.actuators.size()}, {"drivers", loaded->parts.drivers.size()}, {"problems", list}});
    } else {
        std::cout << fmt::format("{} parts that move, {} drivers, {} rows left out\n", loaded->parts.actuators.size(),
                                 loaded->parts.drivers.size(), loaded->problems.size());
        for (const auto& p : loaded->problems)
            std::cout << fmt::format("{}, row {}{}: '{}': {}\n", p.file, p.row, p.column.empty() ? "" : ", " + p.column, p.value, p.why);
    }
    return Done;
}

int simulate(const std::string& project, const std::string& catalogue, const std::string& length, const std::string& events,
             const std::string& csv, bool json) {
    const auto opened = open(project, catalogue, false);
    if (!opened) return report(opened.error());
    const auto plan = complete(*opened);
    if (!plan) return report(plan.error());
    simulation::Options options;
    const auto time = parseQuantity(Kind::Duration, length);
    if (!time || *time <= 0.0 || *time > 400.0 * 86400.0)
        return report({ErrorCode::OutOfRange, "--for", length, "a time such as 30s or 24h, up to 400 days"});
    options.length = *time;
    auto script = scriptOf(events);
    if (!script) return report(script.error());
    options.events = std::move(*script);
    options.machines = plan::heldMachines(opened->document.project, opened->parts, *plan);
    const auto plants = plan::plantsOf(opened->document.project, opened->parts, *plan);
    if (!plants) return report(plants.error());
    const auto traces = simulation::simulate(*plan->program, *plants, options);
    if (!traces) return report(traces.error());
    // What is drawn and what the rails do over the same stretch, from change to change.
    std::optional<simulation::SupplyDay> rails;
    if (const auto tree = plan::drawnTree(opened->document.project, opened->parts, *plan))
        rails = simulation::supplyOf(*traces, *tree, 2000);
    if (!csv.empty()) {
        std::string text = "time,current,poured";
        for (const auto& output : plan->program->outputs) text += "," + output.id;
        text += '\n';
        for (const auto& s : traces->samples) {
            text += exactNumber(s.time) + "," + (rails ? exactNumber(rails->drawnAt(s.time)) : "") + "," + exactNumber(s.poured);
            for (const double duty : s.duty) text += "," + exactNumber(duty);
            text += '\n';
        }
        if (const auto written = files::writeWhole(csv, text); !written) return report(written.error());
    }
    if (json) {
        print(toJson(*traces, rails ? &*rails : nullptr, *plan->program));
    } else if (csv.empty()) {
        if (rails)
            std::cout << fmt::format("{} played, {} drawn at most, at {}\n", display(Kind::Duration, traces->length),
                                     display(Kind::Current, rails->drawn), display(Kind::Duration, rails->drawn_time));
        else
            std::cout << fmt::format("{} played; what is drawn is not known: a part, its figures or a calibration is missing\n",
                                     display(Kind::Duration, traces->length));
        if (rails && rails->collapsed) std::cout << "a source at its limit does not come to rest: its rails are given as collapsed\n";
        for (std::size_t i = 0; rails && i < rails->ids.size(); ++i)
            std::cout << fmt::format("{}: lowest {} at {}\n", rails->names[i], display(Kind::Voltage, rails->lowest[i].volts, 4),
                                     display(Kind::Duration, rails->lowest[i].time));
        for (const auto& s : traces->switchings)
            std::cout << fmt::format("{:>10.3f} s  {} {}\n", s.time, plan->program->outputs[static_cast<std::size_t>(s.output)].name,
                                     !s.on    ? "off"
                                     : s.back ? "on, backwards"
                                              : "on");
    }
    return Done;
}

int proveInterlocks(const std::string& project, const std::string& catalogue, bool json) {
    const auto opened = open(project, catalogue, true);
    if (!opened) return report(opened.error());
    const auto plan = complete(*opened);
    if (!plan) return report(plan.error());
    const auto& proofs = *opened->evidence.proofs;
    if (json) print(toJson(proofs));
    bool violated = false;
    for (const auto& proof : proofs) {
        const bool never = proof.claim == routine::Claim::Never;
        violated = violated || (never && proof.status == routine::ProofStatus::Violated);
        if (json) continue;
        std::cout << fmt::format("never {}: {}, {} states, {} events deep\n", proof.text,
                                 proof.status == routine::ProofStatus::Proved     ? "proved"
                                 : proof.status == routine::ProofStatus::Violated ? "violated"
                                                                                  : "bounded",
                                 proof.states, proof.depth);
        for (const auto& event : proof.story) std::cout << fmt::format("  {:.3f} s  {}\n", event.tick / 1000.0, event.event);
    }
    return violated ? DoneAndBreaks : Done;
}

}  // namespace hinge::cli
