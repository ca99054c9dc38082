#include "plan/difference.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <set>
#include <sstream>
#include "plan/wiring.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

std::string shownCell(const Cell& cell) {
    std::string text = cell.figure;
    if (!cell.small.empty()) text += (text.empty() ? "" : ", ") + cell.small;
    return text.empty() ? "not known" : text;
}

template <class Quantity>
std::string shown(const std::optional<Quantity>& value) {
    return value ? display(*value) : "not known";
}

double cost(const std::vector<PartLine>& lines) {
    double sum = 0.0;
    for (const auto& line : lines)
        if (line.price) sum += line.count * si(*line.price);
    return sum;
}

std::multiset<std::string> linesOf(const std::string& text) {
    std::multiset<std::string> lines;
    std::istringstream in(text);
    std::string line;
    while (std::getline(in, line))
        if (!line.empty() && line.find("Made by") == std::string::npos) lines.insert(line);
    return lines;
}

void partFigures(const project::Channel& channel, const std::vector<match::PartFigure>& before, const std::vector<match::PartFigure>& after,
                 std::vector<Change>& list) {
    for (const auto& figure : after) {
        const auto was = std::find_if(before.begin(), before.end(), [&](const auto& f) { return f.name == figure.name; });
        const std::string old = was == before.end() ? "" : was->value;
        if (old != figure.value) list.push_back({Stage::Match, channel.id, figure.name, old, figure.value});
    }
    for (const auto& figure : before)
        if (std::none_of(after.begin(), after.end(), [&](const auto& f) { return f.name == figure.name; }))
            list.push_back({Stage::Match, channel.id, figure.name, figure.value, ""});
}

}  // namespace

std::vector<Change> difference(const project::Project& before, const project::Project& after, const project::Parts& parts) {
    const Plan old_plan = evaluate(before, parts);
    return difference(before, old_plan, after, evaluate(after, parts, {}, &old_plan), parts);
}

std::vector<Change> difference(const project::Project& before, const Plan& old_plan, const project::Project& after, const Plan& new_plan,
                               const project::Parts& parts) {
    std::vector<Change> list;
    const auto add = [&](Stage stage, const std::string& channel, const std::string& what, const std::string& was, const std::string& is,
                         Verdict verdict = Verdict::Holds) {
        if (was != is) list.push_back({stage, channel, what, was, is, verdict});
    };
    add(Stage::Feed, "", "from the supply, all starting", shown(old_plan.headline.worst_current), shown(new_plan.headline.worst_current));
    add(Stage::Feed, "", "lowest on the board's rail", shown(old_plan.headline.lowest_logic), shown(new_plan.headline.lowest_logic));
    const auto old_lines = partsList(before, parts, old_plan), new_lines = partsList(after, parts, new_plan);
    add(Stage::Log, "", "parts with a known price", fmt::format("{} {:.2f}", before.brief.currency, cost(old_lines)),
        fmt::format("{} {:.2f}", after.brief.currency, cost(new_lines)));
    for (const auto& channel : new_plan.channels) {
        const auto* was = findChannel(old_plan, channel.id);
        if (was == nullptr) continue;
        for (int s = 0; s < project::stageCount; ++s) {
            const auto stage = static_cast<Stage>(s);
            if (stage == Stage::Prove || stage == Stage::Log) continue;
            const auto& a = was->cells[static_cast<std::size_t>(s)];
            const auto& b = channel.cells[static_cast<std::size_t>(s)];
            if (shownCell(a) != shownCell(b) || a.verdict != b.verdict)
                list.push_back({stage, channel.id, channel.name + ", " + labelOf(stage),
                                shownCell(a) + (a.verdict != b.verdict
                                                    ? fmt::format(" ({})", a.verdict == Verdict::Unknown ? "not known" : word(a.verdict))
                                                    : ""),
                                shownCell(b) + (a.verdict != b.verdict
                                                    ? fmt::format(" ({})", b.verdict == Verdict::Unknown ? "not known" : word(b.verdict))
                                                    : ""),
                                b.verdict});
        }
    }
    const auto has = [](const Plan& plan, const PlanFinding& finding) {
        return std::any_of(plan.findings.begin(), plan.findings.end(),
                           [&](const PlanFinding& f) { return f.id == finding.id && f.channel == finding.channel; });
    };
    for (const auto& finding : new_plan.findings)
        if (!has(old_plan, finding))
            add(finding.stage, finding.channel, "comes: " + finding.id, "", finding.text,
                finding.severity == Severity::Stop   ? Verdict::Breaks
                : finding.severity == Severity::Warn ? Verdict::Tight
                                                     : Verdict::Holds);
    for (const auto& finding : old_plan.findings)
        if (!has(new_plan, finding)) add(finding.stage, finding.channel, "goes: " + finding.id, finding.text, "");
    for (const auto& channel : after.channels) {
        const auto* was = project::findChannel(before, channel.id);
        if (was == nullptr) continue;
        const auto* old_part = project::findActuator(parts, was->actuator);
        const auto* new_part = project::findActuator(parts, channel.actuator);
        if (was->actuator != channel.actuator && old_part != nullptr && new_part != nullptr)
            partFigures(channel, match::figuresOf(*old_part), match::figuresOf(*new_part), list);
        const auto* old_driver = project::findDriver(parts, was->drive.part);
        const auto* new_driver = project::findDriver(parts, channel.drive.part);
        if (was->drive.part != channel.drive.part && old_driver != nullptr && new_driver != nullptr)
            partFigures(channel, match::figuresOf(*old_driver), match::figuresOf(*new_driver), list);
    }
    // Wires that go and come.
    const auto wireText = [](const Wire& wire) { return wire.from + " to " + wire.to + (wire.note.empty() ? "" : ", " + wire.note); };
    std::multiset<std::string> old_wires, new_wires;
    for (const auto& wire : wiring(before, parts, old_plan)) old_wires.insert(wireText(wire));
    for (const auto& wire : wiring(after, parts, new_plan)) new_wires.insert(wireText(wire));
    std::vector<std::string> gone, come;
    std::set_difference(old_wires.begin(), old_wires.end(), new_wires.begin(), new_wires.end(), std::back_inserter(gone));
    std::set_difference(new_wires.begin(), new_wires.end(), old_wires.begin(), old_wires.end(), std::back_inserter(come));
    for (const auto& wire : gone) add(Stage::Pins, "", "wire goes", wire, "");
    for (const auto& wire : come) add(Stage::Pins, "", "wire comes", "", wire);
    const auto old_sketch = sketchOf(before, old_plan), new_sketch = sketchOf(after, new_plan);
    if (old_sketch && new_sketch) {
        const auto a = linesOf(old_sketch->text), b = linesOf(new_sketch->text);
        std::vector<std::string> changed;
        std::set_difference(b.begin(), b.end(), a.begin(), a.end(), std::back_inserter(changed));
        if (!changed.empty()) add(Stage::Code, "", "lines of the sketch that change", "", fmt::format("{}", changed.size()));
        for (const auto& line : changed)
            if (line.starts_with("const long START_"))
                add(Stage::Code, "", "number in the sketch", "", line.substr(11, line.find(';') - 11));
    }
    return list;
}

}  // namespace hinge::plan
