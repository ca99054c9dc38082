#include "proof/bring_up.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/apart.hpp"
#include "plan/input_wiring.hpp"
#include "proof/bring_up_steps.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

// A pin, or a line of a board of more lines.
std::string placed(const std::string& expander, Count board, const std::string& pin) {
    return expander.empty() ? pin : fmt::format("{} of {} {:g}", pin, expander, si(board));
}

// What a step's reading depends on, in words that a person can read: not the numbers, which follow from it.
std::string basisOf(const project::Project& project, const Step& step) {
    const auto railWords = [&](const std::string& id) {
        const auto* rail = project::findRail(project, id);
        return rail == nullptr ? id
                               : fmt::format("{} from {} {} {}", rail->id, rail->from, nameOf(rail->conversion),
                                             rail->voltage ? exactNumber(si(*rail->voltage)) : "");
    };
    if (step.id.rfind("rail.", 0) == 0) return railWords(step.id.substr(5));
    const auto* channel = project::findChannel(project, step.channel);
    if (channel == nullptr && (step.id == "together" || step.id == "lowest" || step.id == "soak")) {
        std::string all;
        for (const auto& each : project.channels) all += each.actuator + " " + each.drive.part + " " + each.rail + "; ";
        return all;
    }
    if (step.id == "inputs") {
        std::string all;
        for (const auto& each : project.inputs)
            if (project::hasPin(each.kind)) all += each.id + " " + placed(each.expander, each.expander_board, each.pin) + "; ";
        return all;
    }
    if (step.id.rfind("input.", 0) == 0)
        if (const auto* input = project::findInput(project, step.id.substr(6)))
            return fmt::format("{} {} {} {} {}", placed(input->expander, input->expander_board, input->pin),
                               nameOf(project::wiredAs(*input)), railWords(input->rail), input->r_top ? exactNumber(si(*input->r_top)) : "",
                               input->r_bottom ? exactNumber(si(*input->r_bottom)) : "");
    if (channel == nullptr) return fmt::format("{} on {}", nameOf(project.board.form), railWords(project.board.rail));
    // A winding is the part's own; all else goes through its driver, its rail and its pins.
    if (step.id == channel->id + ".winding") return channel->actuator;
    std::string own = fmt::format("{}, {}, {}, {} {} {}", channel->actuator, channel->drive.part, railWords(channel->rail),
                                  placed(channel->drive.expander, channel->drive.expander_board, channel->pin), channel->direction_pin,
                                  channel->enable_pin);
    if (!channel->low_pin.empty() || !channel->back_low_pin.empty()) own += fmt::format(" {} {}", channel->low_pin, channel->back_low_pin);
    // What stands round the gate decides its volts and the switch's warmth, and nothing else.
    const auto& drive = channel->drive;
    if (step.id == channel->id + ".gate_off" || step.id == channel->id + ".gate_on" || step.id == channel->id + ".heat")
        own += fmt::format(", gate {} {} {}{}", exactNumber(si(drive.gate_resistor)), exactNumber(si(drive.pulldown)),
                           nameOf(drive.pulldown_side), drive.flyback_diode ? ", diode" : "");
    return own;
}

// What the project has recorded of them.
void takeReadings(const project::Project& project, std::vector<Step>& steps) {
    for (auto& step : steps) {
        step.basis = basisOf(project, step);
        for (const auto& check : project.proof) {
            if (check.id != step.id) continue;
            step.photo = check.photo;
            // Kept to be looked at, but it counts no more: exactly the steps that the change touches are open again.
            if (!check.basis.empty() && check.basis != step.basis) {
                step.reopened = true;
                continue;
            }
            step.reading = check.reading;
            step.date = check.date;
            step.skipped = check.skipped;
            if (!check.reading.empty()) step.verdict = judge(step, check.reading).value_or(Verdict::Unknown);
        }
    }
}

}  // namespace

std::vector<Step> bringUp(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    if (plan.apart) {
        auto steps = bringUp(plan.apart->project(), parts, plan.apart->plan);
        for (auto& step : steps) step.channel = plan::channelOf(plan, step.channel);
        return steps;
    }
    auto steps = holdPoints(project, parts, plan);
    takeReadings(project, steps);
    return steps;
}

Result<Verdict> judge(const Step& step, std::string_view reading) {
    const auto value = parseQuantity(step.kind, reading);
    if (!value) {
        Error error = value.error();
        error.field = step.title;
        return tl::unexpected(error);
    }
    if (!step.least || !step.most) return Verdict::Unknown;
    return *value < *step.least || *value > *step.most ? Verdict::Breaks : Verdict::Holds;
}

std::optional<double> readingOf(const Step& step) {
    if (step.reading.empty()) return std::nullopt;
    const auto value = parseQuantity(step.kind, step.reading);
    return value ? std::optional<double>{*value} : std::nullopt;
}

std::string rangeText(const Step& step) {
    if (!step.least || !step.most) return step.expected ? display(step.kind, *step.expected) : "not known yet";
    if (*step.least == *step.most) return "exactly " + display(step.kind, *step.least);
    return display(step.kind, *step.least) + " to " + display(step.kind, *step.most);
}

Scale scaleOf(const Step& step, std::optional<double> reading) {
    // A range of one value still needs a scale round it.
    const double span = std::max({1e-12, *step.most - *step.least, step.most == step.least ? 0.5 * std::abs(*step.most) : 0.0});
    Scale scale{*step.least - span, *step.most + span};
    // Most quantities have a natural zero: show it when it is near.
    if (*step.least >= 0.0 && scale.low < 0.0 && step.kind != Kind::Temperature) scale.low = 0.0;
    if (reading) {
        scale.low = std::min(scale.low, *reading - 0.2 * span);
        scale.high = std::max(scale.high, *reading + 0.2 * span);
    }
    return scale;
}

plan::Plan withProof(plan::Plan plan, const std::vector<Step>& steps) {
    for (auto& channel : plan.channels) {
        auto& cell = channel.cells[static_cast<std::size_t>(project::Stage::Prove)];
        int total = 0, done = 0;
        Verdict verdict = Verdict::Holds;
        for (const auto& step : steps) {
            if (!step.channel.empty() && step.channel != channel.id) continue;
            ++total;
            if (step.verdict == Verdict::Holds || !step.skipped.empty()) ++done;
            if (step.verdict == Verdict::Breaks) verdict = Verdict::Breaks;
        }
        cell.family = plan::Family::Spark;
        cell.figure = fmt::format("{} of {}", done, total);
        cell.small = "checked";
        const Verdict before = cell.verdict;
        cell.verdict = verdict == Verdict::Breaks ? Verdict::Breaks : done == total && total > 0 ? Verdict::Holds : Verdict::Unknown;
        cell.to_do = cell.verdict == Verdict::Unknown;
        if (before == Verdict::Unknown && !cell.to_do) --plan.headline.to_do;
    }
    for (const auto& step : steps) {
        if (step.verdict != Verdict::Breaks) continue;
        plan.findings.insert(plan.findings.begin(), plan::PlanFinding{"reading-off",
                                                                      Severity::Stop,
                                                                      project::Stage::Prove,
                                                                      step.channel,
                                                                      fmt::format("{}: read {}, expected {}. Do not go on; find out why.",
                                                                                  step.title, step.reading, rangeText(step)),
                                                                      {}});
        ++plan.headline.breaks;
        plan.verdict = Verdict::Breaks;
    }
    return plan;
}

project::Project record(project::Project project, const Step& step, const std::string& reading, const std::string& skipped,
                        const std::string& date) {
    std::erase_if(project.proof, [&](const journal::Check& check) { return check.id == step.id; });
    if (!reading.empty() || !skipped.empty()) {
        project.proof.push_back({step.id, reading, date, skipped, step.basis, step.photo});
        auto entry = project::newEntry(project, "check", journal::EntryKind::Measurement, step.channel, date);
        entry.text = skipped.empty() ? step.title + ": " + reading : step.title + ": skipped, " + skipped;
        entry.photo = step.photo;
        project.journal.entries.push_back(std::move(entry));
    }
    return project;
}

project::Project attachPhoto(project::Project project, const Step& step, const std::string& photo, const std::string& date) {
    auto check = std::find_if(project.proof.begin(), project.proof.end(), [&](const journal::Check& each) { return each.id == step.id; });
    if (check == project.proof.end()) {
        if (photo.empty()) return project;
        project.proof.push_back({step.id, {}, date, {}, step.basis, photo});
        return project;
    }
    check->photo = photo;
    if (photo.empty() && check->reading.empty() && check->skipped.empty()) project.proof.erase(check);
    return project;
}

}  // namespace hinge::proof
