#include "plan/wiring.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "kinds/expander.hpp"
#include "plan/apart.hpp"
#include "plan/feed.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "plan/standing.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

bool has(const std::string& text, std::string_view part) {
    return text.find(part) != std::string::npos;
}

// The rail that a wire carries, for its gauge; nullptr for signals.
const power::Rail* railOf(const project::Project& project, const Wire& wire) {
    for (const auto& rail : project.rails)
        if (wire.from == rail.name || wire.to == rail.name || wire.to == rail.name + "'s converter, input") return &rail;
    return nullptr;
}

std::string proposedColour(const project::Project& project, const Wire& wire, int& signals) {
    static const std::array<const char*, 6> turn{"yellow", "green", "blue", "white", "violet", "grey"};
    // A live wire in a colour that means earth kills: nothing is proposed for any conductor of the mains.
    if (wire.mains) return "as your local code says";
    if (has(wire.to, "ground") || has(wire.from, "ground") || has(wire.to, "GND") || has(wire.from, "minus")) return "black";
    if (wire.from == "board 5 V" || wire.from == "board 3.3 V") return "orange";
    if (const auto* rail = railOf(project, wire)) return rail->id == project.board.rail ? "orange" : "red";
    if (has(wire.from, " +")) return "red";
    return turn[static_cast<std::size_t>(signals++) % turn.size()];
}

const journal::WireNote* noteOf(const project::Project& project, const Wire& wire) {
    for (const auto& note : project.wires)
        if (note.from == wire.from && note.to == wire.to) return &note;
    // As lists of before named the wire to a converter: by the rail that it makes.
    constexpr std::string_view input = "'s converter, input";
    if (wire.to.ends_with(input))
        for (const auto& note : project.wires)
            if (note.from == wire.from && note.to == wire.to.substr(0, wire.to.size() - input.size())) return &note;
    return nullptr;
}

}  // namespace

std::vector<Wire> supplyWires(const project::Project& project) {
    std::vector<Wire> wires;
    for (const auto& rail : project.rails) {
        const auto* source = project::findSource(project, rail.from);
        const auto* feed = project::findRail(project, rail.from);
        const std::string from = source != nullptr ? source->name : feed != nullptr ? feed->name : "?";
        // What converts stands between: its own ends, by the rail that it makes.
        const bool converts = rail.conversion != power::Conversion::Direct;
        const std::string converter = rail.name + "'s converter, ";
        Wire feed_wire{from + " +", converts ? converter + "input" : rail.name,
                       fmt::format("{}, {}{}", displayPlain(rail.wire_area), displayPlain(rail.wire_length),
                                   rail.fuse ? ", through a fuse of " + display(*rail.fuse) : "")};
        feed_wire.fuse = rail.fuse;
        wires.push_back(std::move(feed_wire));
        if (converts)
            wires.push_back({converter + "output", rail.name,
                             fmt::format("{} to {}; input and output capacitor as its data sheet asks", labelOf(rail.conversion),
                                         rail.voltage ? display(*rail.voltage) : "?")});
    }
    for (const auto& rail : project.rails)
        for (const auto& name : standingNames(rail)) {
            wires.push_back({rail.name, name + " +", ""});
            wires.push_back({name + " −", "ground", ""});
        }
    if (const auto* rail = project::findRail(project, project.board.rail))
        wires.push_back({rail->name, "board, " + std::string{board::family(project.board.form).supply_pin},
                         "not the raw input: that has a regulator of its own"});
    wires.push_back({"every source's minus", "board GND", "one common ground, star-wired at the supply"});
    return wires;
}

std::vector<Wire> wiring(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    auto wires = supplyWires(project);
    for (auto& wire : gadgetWires(project, parts, plan)) wires.push_back(std::move(wire));
    return wires;
}

namespace {

// The ends of a driver's register lines that have a pin, and which.
std::vector<std::pair<std::string, std::string>> registerLines(const project::Project& project, const project::Channel& channel,
                                                               const ChannelPlan& planned) {
    std::vector<std::pair<std::string, std::string>> lines;
    const auto line = [&](const char* end, const std::string& pin) {
        if (!pin.empty()) lines.emplace_back(end, "board " + pin);
    };
    const auto& board = project.board;
    if (!planned.registers) return lines;
    if (planned.registers->map->bus == driver::RegisterBus::SingleWire) {
        line(driver::serial_end, channel.select_pin);
        return lines;
    }
    const std::string* const pins[] = {&channel.select_pin, &board.register_clock_pin, &board.register_out_pin, &board.register_in_pin};
    for (std::size_t k = 0; k < driver::register_ends.size(); ++k) line(driver::register_ends[k], *pins[k]);
    return lines;
}

// What a board of more lines is wired to by itself.
std::vector<Wire> expanderOwn(const project::Project& project, const project::Parts& parts, const Plan& plan, const ExpanderPlan& at) {
    kinds::ExpanderWiring in{*at.map, at.board, {}, logicSupply(project), {}};
    const auto line = [&](const char* end, const std::string& pin) {
        if (!pin.empty()) in.lines.emplace_back(end, "board " + pin);
    };
    if (at.map->bus == driver::RegisterBus::Serial) line(driver::serial_in, project.board.expander_serial_pin);
    else line(driver::two_wire_ends[0], project.board.expander_clock_pin), line(driver::two_wire_ends[1], project.board.expander_data_pin);
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        const auto* driver = project::findDriver(parts, channel.drive.part);
        if (!in.rail.empty() || !planned.expander || !planned.expander->sharesBoard(at) || driver == nullptr) continue;
        if (!kinds::driverKind(*driver).own_outputs) continue;
        const auto* rail = project::findRail(project, channel.rail);
        in.rail = rail != nullptr ? rail->name : "?";
    }
    return kinds::expanderWires(in);
}

}  // namespace

std::string pinEnd(const project::Channel& channel, const ChannelPlan& planned) {
    if (!planned.expander) return "board " + channel.pin;
    return kinds::expanderBox(*planned.expander->map, planned.expander->board) + " " +
           (planned.expander->output < 0 ? "output" : channel.pin);
}

std::vector<Wire> gadgetWires(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return gadgetWires(plan.apart->project(), parts, plan.apart->plan);
    std::vector<Wire> wires;
    bool told = false;                // where the crossings are
    std::set<std::string> expanders;  // that are in the list
    const auto own = [&](const ExpanderPlan& at) {
        if (!expanders.insert(kinds::expanderBox(*at.map, at.board)).second) return;
        for (auto& wire : expanderOwn(project, parts, plan, at)) wires.push_back(std::move(wire));
    };
    for (const auto& channel : project.channels) {
        const auto* driver = project::findDriver(parts, channel.drive.part);
        const auto* rail = project::findRail(project, channel.rail);
        const std::string rail_name = rail != nullptr ? rail->name : "?";
        const auto& planned = *findChannel(plan, channel.id);
        if (driver == nullptr) continue;
        const auto* part = match::partOf(planned.context, parts, channel.actuator);
        // In front of a bare LED lies its resistor.
        const auto resistor = planned.chosen ? planned.chosen->led_resistor : std::nullopt;
        if (planned.expander) own(*planned.expander);
        const kinds::Wiring into{channel,
                                 part,
                                 *driver,
                                 planned.chosen.get(),
                                 planned.inverted,
                                 onMains(channel),
                                 pinEnd(channel, planned),
                                 channel.name + " ",
                                 rail_name,
                                 logicSupply(project),
                                 registerLines(project, channel, planned),
                                 project.board.crossing_pin,
                                 told,
                                 resistor,
                                 wires};
        kinds::driverKind(*driver).wires(into);
        told = told || kinds::driverKind(*driver).waves == kinds::Waves::Parts;
        if (channel.drive.flyback_diode &&
            std::any_of(planned.protection.begin(), planned.protection.end(), [](const auto& p) { return p.what == "flyback diode"; }))
            wires.push_back(kinds::driverKind(*driver).switches_plus
                                ? Wire{channel.name + " −", channel.name + " +", "flyback diode, stripe to +", false, {}, true}
                                : Wire{channel.name + " −", rail_name, "flyback diode, stripe to " + rail_name, false, {}, true});
    }
    if (fires(plan) && !tellsCrossings(project, parts))
        for (auto& wire : crossingWires(project)) wires.push_back(std::move(wire));
    if (hasOwnRadio(project.board))
        for (auto& wire : radioWires(project)) wires.push_back(std::move(wire));
    if (project.board.clock != project::BusClock::None) {
        for (const auto& [name, pin] : board::family(project.board.form).bus)
            wires.push_back({"board " + std::string{pin}, "Clock's " + std::string{name} + " line", "its module brings the pull-ups"});
        wires.push_back({"logic supply and ground", "Clock's supply", ""});
    }
    for (const auto& input : project.inputs)
        if (const auto at = expanderOf(input)) own(*at);
    for (const auto& input : project.inputs)
        if (project::hasPin(input.kind))
            for (auto& wire : inputWires(project, input)) wires.push_back(std::move(wire));
    return wires;
}

std::vector<WireRow> wireRows(const project::Project& project, const std::vector<Wire>& wires) {
    std::vector<WireRow> rows;
    int signals = 0;
    for (const auto& wire : wires) {
        WireRow row;
        row.label = fmt::format("W{:02}", rows.size() + 1);
        row.wire = wire;
        row.colour = proposedColour(project, wire, signals);
        if (const auto* rail = railOf(project, wire)) row.area = rail->wire_area;
        if (const auto* note = noteOf(project, wire)) {
            if (!note->colour.empty()) row.colour = note->colour, row.colour_recorded = true;
            if (note->area) row.area = note->area;
            row.length = note->length;
            row.connector = note->connector;
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

namespace {
struct Sleeve {
    std::string_view word, code;
    std::uint32_t colour;
};
constexpr Sleeve sleeves[]{{"black", "BK", 0x1c1c1c},  {"brown", "BN", 0x7a4a24}, {"red", "RD", 0xc62828},  {"orange", "OG", 0xef7d16},
                           {"yellow", "YE", 0xe8c51a}, {"green", "GN", 0x2e8b3d}, {"blue", "BU", 0x2a5db0}, {"violet", "VT", 0x7b4fa6},
                           {"grey", "GY", 0x8a8f94},   {"white", "WH", 0xf4f4f4}, {"pink", "PK", 0xe48fb0}, {"turquoise", "TQ", 0x2aa8a0}};
const Sleeve* sleeveOf(std::string_view word) {
    while (!word.empty() && word.front() == ' ') word.remove_prefix(1);
    while (!word.empty() && word.back() == ' ') word.remove_suffix(1);
    for (const auto& each : sleeves)
        if (std::equal(word.begin(), word.end(), each.word.begin(), each.word.end(),
                       [](char a, char b) { return (a >= 'A' && a <= 'Z' ? a - 'A' + 'a' : a) == b; }))
            return &each;
    return nullptr;
}
}  // namespace

std::optional<std::uint32_t> sleeveColour(std::string_view word) {
    const auto* found = sleeveOf(word);
    return found != nullptr ? std::optional{found->colour} : std::nullopt;
}
std::string_view sleeveCode(std::string_view word) {
    const auto* found = sleeveOf(word);
    return found != nullptr ? found->code : std::string_view{};
}

Result<project::Project> recordWire(project::Project project, const Wire& wire, std::string_view field, const std::string& text) {
    auto found = std::find_if(project.wires.begin(), project.wires.end(),
                              [&](const auto& note) { return note.from == wire.from && note.to == wire.to; });
    if (found == project.wires.end()) {
        std::vector<std::string> taken;
        for (const auto& note : project.wires) taken.push_back(note.id);
        journal::WireNote note;
        note.id = project::freshId("wire", taken);
        note.from = wire.from;
        note.to = wire.to;
        project.wires.push_back(note);
        found = project.wires.end() - 1;
    }
    if (field == "colour") found->colour = text;
    else if (field == "connector") found->connector = text;
    else if (field == "area" && text.empty()) found->area.reset();
    else if (field == "length" && text.empty()) found->length.reset();
    else if (field == "area") {
        const auto area = parse<Area>(text);
        if (!area) return tl::unexpected(area.error());
        if (!(si(*area) > 0.0 && si(*area) <= 1e-4)) return fail(ErrorCode::OutOfRange, "area", text, "above 0, to 100 mm²");
        found->area = *area;
    } else if (field == "length") {
        const auto length = parse<Length>(text);
        if (!length) return tl::unexpected(length.error());
        if (!(si(*length) > 0.0 && si(*length) <= 100.0)) return fail(ErrorCode::OutOfRange, "length", text, "above 0, to 100 m");
        found->length = *length;
    } else return fail(ErrorCode::Unknown, "field", std::string{field}, "colour, area, length or connector");
    if (found->colour.empty() && found->connector.empty() && !found->area && !found->length) project.wires.erase(found);
    return project;
}

project::Project keepSnapshot(project::Project project, const std::vector<Wire>& wires, const std::string& name, const std::string& date) {
    std::vector<std::string> taken;
    for (const auto& snapshot : project.journal.snapshots) taken.push_back(snapshot.id);
    journal::WiringSnapshot snapshot;
    snapshot.id = project::freshId("wiring", taken);
    snapshot.date = date;
    snapshot.name = name;
    snapshot.board = labelOf(project.board.form);
    for (const auto& row : wireRows(project, wires)) {
        journal::WireNote note;
        note.id = fmt::format("w{}", snapshot.wires.size() + 1);
        note.from = row.wire.from;
        note.to = row.wire.to;
        if (row.colour_recorded) note.colour = row.colour;
        note.area = row.area;
        note.length = row.length;
        note.connector = row.connector;
        snapshot.wires.push_back(std::move(note));
    }
    project.journal.snapshots.push_back(std::move(snapshot));
    return project;
}

std::vector<WireChange> wiringDifference(const std::vector<journal::WireNote>& before, const std::vector<Wire>& now) {
    std::vector<WireChange> changes;
    std::vector<bool> met(now.size(), false);
    std::vector<const journal::WireNote*> rest;
    // The same from and to first, then the same end with another start.
    for (const auto& old : before) {
        std::size_t n = 0;
        while (n < now.size() && (met[n] || now[n].from != old.from || now[n].to != old.to)) ++n;
        if (n < now.size()) met[n] = true;
        else rest.push_back(&old);
    }
    for (const auto* old : rest) {
        std::size_t n = 0;
        while (n < now.size() && (met[n] || now[n].to != old->to)) ++n;
        const Wire was{old->from, old->to, ""};
        if (n < now.size()) {
            met[n] = true;
            changes.push_back({WireFate::Moved, was, now[n]});
        } else {
            changes.push_back({WireFate::Removed, was, {}});
        }
    }
    for (std::size_t n = 0; n < now.size(); ++n)
        if (!met[n]) changes.push_back({WireFate::Added, {}, now[n]});
    return changes;
}

std::vector<BuildEffort> buildStyles(const std::vector<Wire>& wires) {
    // Of each wire's two ends: how many are soldered, plugged or screwed; what board, strip or shield costs.
    struct Way {
        project::BuildStyle style;
        double soldered, plugged, screwed, fixed_minutes, cost;
        const char* repair;
    };
    using project::BuildStyle;
    static const std::array<Way, 5> ways{
        Way{BuildStyle::Breadboard, 0.0, 2.0, 0.0, 10.0, 6.0, "pull it and plug it; a knock can do the same"},
        Way{BuildStyle::Modules, 0.0, 2.0, 0.0, 20.0, 12.0, "swap a whole module in a minute"},
        Way{BuildStyle::Perfboard, 2.0, 0.0, 0.0, 60.0, 4.0, "iron and wick, a quarter of an hour each"},
        Way{BuildStyle::OwnBoard, 0.7, 0.6, 0.7, 300.0, 25.0, "cut a track, or wait for a new board"},
        Way{BuildStyle::ScrewShield, 0.0, 0.6, 1.4, 20.0, 18.0, "a screwdriver; tighten them again after a month"}};
    std::vector<BuildEffort> list;
    const double count = static_cast<double>(wires.size());
    for (const auto& way : ways) {
        BuildEffort effort;
        effort.style = way.style;
        effort.wires = static_cast<int>(wires.size());
        effort.soldered = static_cast<int>(std::lround(way.soldered * count));
        effort.plugged = static_cast<int>(std::lround(way.plugged * count));
        effort.screwed = static_cast<int>(std::lround(way.screwed * count));
        effort.time = of<Duration>(60.0 * (way.fixed_minutes + 2.0 * effort.soldered + 0.5 * effort.plugged + 1.0 * effort.screwed));
        effort.cost = of<Ratio>(way.cost);
        effort.repair = way.repair;
        list.push_back(std::move(effort));
    }
    return list;
}

std::string wiringCsv(const std::vector<WireRow>& rows) {
    std::string text = "label,from,to,note,colour,recorded,area [mm2],length [m],connector\n";
    for (const auto& row : rows)
        text +=
            fmt::format("{},{},{},{},{},{},{},{},{}\n", row.label, csvText(row.wire.from), csvText(row.wire.to), csvText(row.wire.note),
                        csvText(row.colour), row.colour_recorded ? "yes" : "no", row.area ? fmt::format("{:.3g}", si(*row.area) * 1e6) : "",
                        row.length ? fmt::format("{:.3g}", si(*row.length)) : "", csvText(row.connector));
    return text;
}

}  // namespace hinge::plan
