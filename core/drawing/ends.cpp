#include "drawing/ends.hpp"
#include <algorithm>
#include "kinds/expander.hpp"
#include "plan/feed.hpp"
#include "plan/input_wiring.hpp"
#include "plan/standing.hpp"

namespace hinge::drawing {
namespace {

using kinds::Symbol;
using project::Wired;

// What follows a name and a blank; nullopt where the end does not begin with them.
std::optional<std::string> behind(const std::string& end, const std::string& name) {
    if (name.empty() || end.size() <= name.size() || end.compare(0, name.size(), name) != 0 || end[name.size()] != ' ') return std::nullopt;
    return end.substr(name.size() + 1);
}

// Of the things whose name an end begins with, the one with the longest.
template <class Things>
const typename Things::value_type* longestOf(const Things& things, const std::string& end) {
    const typename Things::value_type* found = nullptr;
    for (const auto& each : things)
        if (behind(end, each.name) && (found == nullptr || each.name.size() > found->name.size())) found = &each;
    return found;
}

Symbol symbolOf(Wired wired) {
    switch (wired) {
        case Wired::Usual:
        case Wired::Contact: return Symbol::Contact;
        case Wired::Potentiometer: return Symbol::Potentiometer;
        case Wired::Divider: return Symbol::Resistors;
        case Wired::Thermistor: return Symbol::Thermistor;
        default: return Symbol::Board;
    }
}

// A terminal's name as it stands beside its wire: what comes behind a comma is for the list.
std::string shortened(std::string name) {
    for (const char* lead : {", ", " "})
        if (name.rfind(lead, 0) == 0) name.erase(0, std::string_view{lead}.size());
    const auto comma = name.find(", ");
    return name.size() > 24 && comma != std::string::npos ? name.substr(0, comma) : name;
}

}  // namespace

Ends::Ends(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::vector<plan::WireRow>& rows)
    : project_(project), parts_(parts), plan_(plan) {
    const auto supply = plan::supplyWires(project);
    const auto same = [](const plan::Wire& a, const plan::Wire& b) { return a.from == b.from && a.to == b.to; };
    while (supply_rows_ < rows.size() && supply_rows_ < supply.size() && same(rows[supply_rows_].wire, supply[supply_rows_]))
        ++supply_rows_;
    std::size_t from = supply_rows_;
    // Inputs come last, one after the other.
    for (const auto& input : project.inputs) {
        if (!project::hasPin(input.kind)) continue;
        const auto wires = plan::inputWires(project, input);
        const auto at = std::search(rows.begin() + static_cast<std::ptrdiff_t>(from), rows.end(), wires.begin(), wires.end(),
                                    [&](const plan::WireRow& row, const plan::Wire& wire) { return same(row.wire, wire); });
        if (at == rows.end()) continue;
        for (std::size_t k = 0; k < wires.size(); ++k) inputs_[static_cast<std::size_t>(at - rows.begin()) + k] = &input;
    }
}

std::optional<End> Ends::port(const std::string& end) const {
    if (end == "ground" || end == "board GND" || end == "every source's minus") return End{EndKind::Ground, {}, end};
    if (end == "nothing") return End{EndKind::Nothing, {}, "left open"};
    if (end == "mains live, after fuse and switch") return End{EndKind::Mains, {}, end};
    if (end == "mains neutral" || end == "mains protective earth") return End{EndKind::Return, {}, end};
    if (end == plan::logicSupply(project_) || end == "board 5 V" || end == "board 3.3 V" || end == "logic supply and ground")
        return End{EndKind::Logic, {}, end};
    for (const auto& rail : project_.rails)
        if (end == rail.name || end == rail.name + " +") return End{EndKind::Rail, {}, rail.name};
    for (const auto& rail : project_.rails)
        for (const char* side : {"input", "output"})
            if (end == rail.name + "'s converter, " + side) return End{EndKind::Converter, {}, side};
    for (const auto& source : project_.sources)
        if (end == source.name + " +") return End{EndKind::Rail, {}, end};
    const auto& family = board::family(project_.board.form);
    if (const auto pin = behind(end, "board"); pin && board::pinNamed(family, *pin)) return End{EndKind::Pin, {}, *pin};
    if (end == "board, " + std::string{family.supply_pin}) return End{EndKind::Pin, {}, std::string{family.supply_pin}};
    if (end.rfind("board, ", 0) == 0) return End{EndKind::Pin, {}, end.substr(7)};
    return std::nullopt;
}

std::optional<End> Ends::ofChannel(const std::string& end) const {
    const auto* channel = longestOf(project_.channels, end);
    if (channel == nullptr) return std::nullopt;
    const auto rest = *behind(end, channel->name);
    if (const auto* driver = project::findDriver(parts_, channel->drive.part))
        for (const auto noun : kinds::driverKind(*driver).ends) {
            if (rest.rfind(noun, 0) != 0) continue;
            const auto& kind = kinds::driverKind(*driver);
            const std::string key = channel->id + "/driver", title{kind.ends.front()};
            boxes_.try_emplace(key, Box{key, title, channel->id, true, kind.symbol});
            // What a box has besides its main part keeps its noun: "zero-cross output", "relay contact".
            const auto behind_noun = rest.substr(noun.size());
            const bool named = noun != kind.ends.front() && behind_noun.empty();
            return End{EndKind::Terminal, key, named ? std::string{noun} : shortened(behind_noun)};
        }
    const std::string key = channel->id + "/load";
    auto symbol = Symbol::Board;
    if (const auto* planned = plan::findChannel(plan_, channel->id))
        if (const auto* part = match::partOf(planned->context, parts_, channel->actuator)) symbol = kinds::symbolOf(*part);
    boxes_.try_emplace(key, Box{key, channel->name, channel->id, false, symbol});
    return End{EndKind::Terminal, key, shortened(rest)};
}

End Ends::read(const std::string& end, std::size_t row) const {
    if (auto found = port(end)) return *found;
    if (const auto input = inputs_.find(row); input != inputs_.end())
        if (const auto rest = behind(end, input->second->name)) {
            const std::string key = input->second->id + "/input";
            boxes_.try_emplace(key, Box{key, input->second->name, input->second->id, false, symbolOf(project::wiredAs(*input->second))});
            // "contact, other side": what it is the symbol says.
            const auto comma = rest->find(", ");
            return {EndKind::Terminal, key, shortened(comma == std::string::npos ? *rest : rest->substr(comma + 2))};
        }
    if (auto found = ofChannel(end)) return *found;
    if (const std::string_view board = "board "; end.starts_with(board))
        return {EndKind::Pin, {}, end.size() > board.size() ? end.substr(board.size()) : "no pin yet"};
    for (const auto& shared : kinds::expanderBoxes())
        if (const auto rest = behind(end, shared)) {
            // Its lines are pins for what hangs there; what it is wired to by itself is a circuit of its own.
            if (kinds::ownOutput(*rest) >= 0 || *rest == "output" || *rest == "line") {
                const std::string name = shared.substr(shared.find(' ') + 1);
                return {EndKind::Pin, {}, name + " " + *rest, name};
            }
            boxes_.try_emplace(shared, Box{shared, shared, "", true, Symbol::Board});
            return {EndKind::Terminal, shared, shortened(*rest)};
        }
    if (const std::string coupler = "mains crossings, coupler"; end.rfind(coupler, 0) == 0) {
        boxes_.try_emplace(coupler, Box{coupler, "mains crossings", "", false, Symbol::Board});
        const auto rest = end.substr(coupler.size());
        return {EndKind::Terminal, coupler, rest.empty() ? "coupler" : shortened(rest)};
    }
    for (const std::string name : {"Clock", "Radio"})
        if (const auto rest = behind(end, name + "'s")) {
            const std::string key = name == "Clock" ? "clock" : "radio";
            boxes_.try_emplace(key, Box{key, name, "", false, Symbol::Board});
            return {EndKind::Terminal, key, *rest};
        }
    // A load that always stands on its rail: its own plus and minus.
    for (const char* pole : {" +", " −"})
        if (const std::string_view ends{pole}; end.size() > ends.size() && end.ends_with(ends)) {
            const auto name = end.substr(0, end.size() - ends.size());
            boxes_.try_emplace("standing/" + name, Box{"standing/" + name, name, "", false, Symbol::Board});
            return {EndKind::Terminal, "standing/" + name, std::string{ends.substr(1)}};
        }
    boxes_.try_emplace("other/" + end, Box{"other/" + end, end, "", false, Symbol::Board});
    return {EndKind::Terminal, "other/" + end, ""};
}

}  // namespace hinge::drawing
