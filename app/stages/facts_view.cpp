#include "stages/facts_view.hpp"

namespace hinge::app {
namespace {

using project::Stage;

// "rails/movers/fuse" is of list "rails", entry "movers", leaf "fuse".
struct Place {
    std::string list, entry, leaf;
};
Place placeOf(const std::string& path) {
    const auto first = path.find('/');
    const auto second = first == std::string::npos ? first : path.find('/', first + 1);
    if (second == std::string::npos) return {path.substr(0, first), "", first == std::string::npos ? "" : path.substr(first + 1)};
    return {path.substr(0, first), path.substr(first + 1, second - first - 1), path.substr(second + 1)};
}

bool railFactApplies(const power::Rail& rail, const std::string& leaf) {
    const bool linear = rail.conversion == power::Conversion::Linear, buck = rail.conversion == power::Conversion::Buck;
    if (leaf == "dropout" || leaf == "theta_ja") return linear;
    if (leaf == "efficiency") return buck;
    if (leaf == "voltage") return linear || buck;
    if (leaf == "bulk_esr") return rail.bulk.has_value();
    return true;
}

// A MOSFET has a gate network; the other switches bring their own.
bool driveFactApplies(const driver::SwitchPart* part, const std::string& leaf) {
    const bool gate = leaf == "drive/gate_resistor" || leaf == "drive/pulldown" || leaf == "drive/pulldown_side";
    return !gate || part == nullptr || part->switch_class == driver::SwitchClass::Mosfet;
}

void addChoices(const Model& model, project::Fact& fact) {
    const auto leaf = fact.path.substr(fact.path.rfind('/') + 1);
    auto& choices = fact.choices;
    if (leaf == "actuator")
        for (const auto& pump : model.parts.pumps) choices.emplace_back(pump.id, pump.name);
    if (leaf == "part")
        for (const auto& part : model.parts.switches) choices.emplace_back(part.id, part.name);
    if (leaf == "rail")
        for (const auto& rail : model.project.rails) choices.emplace_back(rail.id, rail.name);
    if (leaf == "pin")
        for (const auto& pin : board::family(model.project.board.form).pins) {
            std::string words{pin.name};
            if (pin.pwm_timer >= 0) words += " · PWM, timer " + std::to_string(pin.pwm_timer);
            if (!pin.shares.empty()) words += " · " + std::string{pin.shares};
            choices.emplace_back(std::string{pin.name}, words);
        }
    if (leaf == "input") {
        choices.emplace_back("", "nothing");
        for (const auto& input : model.project.inputs) choices.emplace_back(input.id, input.name);
    }
}

QString headingOf(const Model& model, const Place& place) {
    const auto& p = model.project;
    if (place.list == "rails")
        if (const auto* rail = project::findRail(p, place.entry)) return text(rail->name);
    if (place.list == "inputs")
        if (const auto* input = project::findInput(p, place.entry)) return text(input->name);
    if (place.list == "sources")
        if (const auto* source = project::findSource(p, place.entry)) return text(source->name);
    if (place.list == "routine" && place.entry == "cues")
        for (const auto& cue : p.routine.cues)
            if (place.leaf.starts_with(cue.id + "/")) return text(cue.name);
    return {};
}

}  // namespace

std::vector<FactGroup> factsOf(const Model& model, Stage stage, const QString& channel) {
    const std::string id = channel.toStdString();
    const auto* decided = project::findChannel(model.project, id);
    const auto* part = decided != nullptr ? project::findSwitch(model.parts, decided->drive.part) : nullptr;
    std::vector<FactGroup> groups;
    for (auto& fact : project::facts(model.project)) {
        const Place place = placeOf(fact.path);
        const bool of_channel = place.list == "channels";
        if (of_channel && (decided == nullptr || place.entry != id)) continue;
        if (decided != nullptr && place.list == "brief" && stage == Stage::Need) continue;
        // The cup is Need's quick measurement and Tune's calibration.
        const bool cup = of_channel && place.leaf.starts_with("calibration/") && stage == Stage::Tune;
        if (fact.stage != stage && !cup) continue;
        if (place.list == "rails") {
            const auto* rail = project::findRail(model.project, place.entry);
            if (rail == nullptr || !railFactApplies(*rail, place.leaf)) continue;
        }
        if (of_channel && !driveFactApplies(part, place.leaf)) continue;
        if (fact.type == project::FactType::Text) addChoices(model, fact);
        const QString heading = of_channel && stage == Stage::Need && place.leaf.starts_with("calibration/") ? QObject::tr("Or measured, by cup and clock") : headingOf(model, place);
        if (groups.empty() || groups.back().heading != heading) groups.push_back({heading, {}});
        groups.back().facts.push_back(std::move(fact));
    }
    return groups;
}

}  // namespace hinge::app
