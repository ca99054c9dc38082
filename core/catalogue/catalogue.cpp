#include "catalogue/catalogue.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <set>
#include <sstream>
#include <unordered_map>
#include "files/folder.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/csv.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"

namespace hinge::catalogue {
namespace {

// Kinds whose zero means nothing: a part of 0 V or 0 Ω is a slip of the pen.
constexpr bool zeroMeans(Kind kind) {
    return kind == Kind::Current || kind == Kind::Ratio || kind == Kind::Fraction || kind == Kind::Charge || kind == Kind::Inductance;
}

using kinds::Column;
using Columns = std::vector<Column>;

std::string unitOf(const Column& column) {
    const Kind kind = column.member.kind;
    if (column.member.holds == Member::Holds::Quantity) return std::string{siUnit(kind)};
    if (column.member.holds == Member::Holds::Curve) return kind == Kind::Length ? "m3/s:m" : "m3/s:Pa";
    return {};
}

std::string shown(const Column& column, const void* part) {
    const auto& member = column.member;
    const void* const at = static_cast<const char*>(part) + column.offset;
    double value = 0.0;
    switch (member.holds) {
        case Member::Holds::Quantity: return member.take(at, value) ? exactNumber(value) : std::string{};
        case Member::Holds::Name: return std::string{member.take_name(at)};
        case Member::Holds::Truth: return !member.take(at, value) ? "" : value != 0.0 ? "yes" : "no";
        case Member::Holds::Curve: {
            return joined(static_cast<const Curve*>(at)->points, " ",
                          [&](const auto& point) { return exactNumber(point.x) + ":" + exactNumber(point.y); });
        }
        default: return member.take_text(at).value_or("");
    }
}

std::optional<Error> set(const Column& column, void* part, const std::string& cell, const std::string& unit) {
    const auto& member = column.member;
    void* const at = static_cast<char*>(part) + column.offset;
    switch (member.holds) {
        case Member::Holds::Quantity: {
            const auto value = parseQuantity(member.kind, cell, unit);
            if (!value) return value.error();
            if (*value < 0.0) return Error{ErrorCode::OutOfRange, "", cell, "not negative"};
            if (*value == 0.0 && !zeroMeans(member.kind))
                return Error{ErrorCode::OutOfRange, "", cell, "above 0; leave the cell empty where it is not known"};
            if (member.kind == Kind::Fraction && *value > 1.0) return Error{ErrorCode::OutOfRange, "", cell, "at most 1"};
            member.put(at, *value);
            return std::nullopt;
        }
        case Member::Holds::Name:
            if (!member.put_name(at, cell)) return Error{ErrorCode::Unknown, "", cell, "one of " + listed(member.choices())};
            return std::nullopt;
        case Member::Holds::Truth:
            if (cell != "yes" && cell != "no") return Error{ErrorCode::BadFormat, "", cell, "yes or no"};
            member.put(at, cell == "yes" ? 1.0 : 0.0);
            return std::nullopt;
        case Member::Holds::Curve: {
            // The header's unit is "L/min:m"; a cell lists points "0:3 0.5:2 1:0" in it.
            const auto colon = unit.find(':');
            std::string text;
            std::istringstream words(cell);
            std::string point;
            while (words >> point) {
                const auto split = point.find(':');
                if (split == std::string::npos) return Error{ErrorCode::BadFormat, "", cell, "points flow:head, separated by blanks"};
                text += (text.empty() ? "" : ",") + point.substr(0, split) + " " + unit.substr(0, colon) + ":" + point.substr(split + 1) +
                        " " + (colon == std::string::npos ? "" : unit.substr(colon + 1));
            }
            auto curve = parseCurve(text, Kind::VolumeFlow, member.kind);
            if (!curve) return curve.error();
            static_cast<Curve*>(at)->points = std::move(curve->points);
            return std::nullopt;
        }
        default:
            if (cell.size() > 200) return Error{ErrorCode::OutOfRange, "", cell.substr(0, 20), "at most 200 characters"};
            member.put_text(at, cell);
            return std::nullopt;
    }
}

// A part's own struct, where its columns' members lie.
const void* bodyOf(const actuator::Part& part) {
    return std::visit([](const auto& any) -> const void* { return &any; }, part);
}
const void* bodyOf(const driver::DriverPart& part) {
    return &part;
}
const std::string& idOf(const actuator::Part& part) {
    return actuator::head(part).id;
}
const std::string& idOf(const driver::DriverPart& part) {
    return part.id;
}

// A title "stall_current [A]" as its name and its unit.
std::pair<std::string, std::string> titleOf(const std::string& title) {
    const auto bracket = title.find('['), close = title.find(']');
    std::string name = title.substr(0, bracket);
    while (!name.empty() && name.back() == ' ') name.pop_back();
    if (bracket == std::string::npos || close == std::string::npos) return {name, ""};
    return {name, title.substr(bracket + 1, close - bracket - 1)};
}

/// @param blank       makes a part without figures
/// @param impossible  what cannot be of a part that was read
template <class Part, class Blank, class Bad>
Result<std::vector<Part>> readRows(const Columns& columns, const Blank& blank, const Bad& impossible, const std::string& csv,
                                   const std::string& file, std::vector<Problem>& problems) {
    auto rows = csvRows(csv, file);
    if (!rows) return tl::unexpected(rows.error());
    if (rows->empty()) return fail(ErrorCode::BadFormat, file, "", "a header row and one row a part");
    std::vector<int> place;  // per column of the file: which of ours, -1 for none
    std::vector<std::string> units;
    for (const auto& title : rows->front()) {
        const auto read = titleOf(title);
        units.push_back(read.second);
        const auto found = std::find_if(columns.begin(), columns.end(), [&](const Column& column) { return column.name == read.first; });
        place.push_back(found == columns.end() ? -1 : static_cast<int>(found - columns.begin()));
    }
    for (std::size_t i = 0; i < columns.size(); ++i)
        if (columns[i].required && std::find(place.begin(), place.end(), static_cast<int>(i)) == place.end())
            return fail(ErrorCode::BadFormat, file, rows->front().empty() ? "" : rows->front().front(),
                        "a header with the column " + columns[i].name);
    std::vector<Part> parts;
    std::set<std::string> ids;
    for (std::size_t r = 1; r < rows->size(); ++r) {
        const auto& row = (*rows)[r];
        if (row.size() == 1 && row.front().empty()) continue;
        Part part = blank();
        std::vector<Problem> wrong;
        const int number = static_cast<int>(r) + 1;
        if (row.size() != place.size())
            wrong.push_back({file, number, "", std::to_string(row.size()) + " cells", "the header has " + std::to_string(place.size())});
        for (std::size_t c = 0; wrong.empty() && c < row.size(); ++c) {
            if (place[c] < 0) continue;
            const auto& column = columns[static_cast<std::size_t>(place[c])];
            if (row[c].empty()) {
                if (column.required) wrong.push_back({file, number, column.name, "", "every part needs it"});
                continue;
            }
            if (auto error = set(column, const_cast<void*>(bodyOf(part)), row[c], units[c]))
                wrong.push_back({file, number, column.name, row[c].substr(0, 60), error->accepted});
        }
        if (wrong.empty())
            if (const auto why = impossible(part)) wrong.push_back({file, number, why->first, "", why->second});
        if (wrong.empty() && !ids.insert(idOf(part)).second)
            wrong.push_back({file, number, "id", idOf(part), "each id once; the first row of that name was kept"});
        if (wrong.empty()) parts.push_back(std::move(part));
        problems.insert(problems.end(), wrong.begin(), wrong.end());
    }
    return parts;
}

/// A header with SI units and one row a part; reads back as the same parts.
template <class Part>
std::string written(const Columns& columns, const std::vector<const Part*>& parts) {
    std::string text =
        joined(columns, ",", [&](const auto& column) { return column.name + (unitOf(column).empty() ? "" : " [" + unitOf(column) + "]"); });
    text += '\n';
    for (const auto* part : parts) {
        for (std::size_t i = 0; i < columns.size(); ++i) text += (i > 0 ? "," : "") + csvCell(shown(columns[i], bodyOf(*part)));
        text += '\n';
    }
    return text;
}

/// One kind of part's file: an actuator's, or the drivers'.
struct File {
    const char* name;
    const char* label;
    const kinds::ActuatorKind* actuator;  ///< nullptr: drivers
    Columns columns;

    [[nodiscard]] Result<Loaded> read(const std::string& csv, const std::string& file) const {
        Loaded loaded;
        if (actuator == nullptr) {
            auto parts = readRows<driver::DriverPart>(
                columns, [] { return driver::DriverPart{}; }, [](const driver::DriverPart& part) { return kinds::impossible(part); }, csv,
                file, loaded.problems);
            if (!parts) return tl::unexpected(parts.error());
            loaded.parts.drivers = std::move(*parts);
        } else {
            auto parts = readRows<actuator::Part>(
                columns, [this] { return actuator->blank(); }, [this](const actuator::Part& part) { return actuator->impossible(part); },
                csv, file, loaded.problems);
            if (!parts) return tl::unexpected(parts.error());
            loaded.parts.actuators = std::move(*parts);
        }
        return loaded;
    }
    [[nodiscard]] std::string write(const project::Parts& parts, const std::set<std::string>& ids) const {
        if (actuator == nullptr) {
            std::vector<const driver::DriverPart*> chosen;
            for (const auto& part : parts.drivers)
                if (ids.contains(part.id)) chosen.push_back(&part);
            return written(columns, chosen);
        }
        std::vector<const actuator::Part*> chosen;
        for (const auto& part : parts.actuators)
            if (&kinds::actuatorKind(part) == actuator && ids.contains(idOf(part))) chosen.push_back(&part);
        return written(columns, chosen);
    }
};
// Made anew each time: a kind on trial has its file too.
std::vector<File> allFiles() {
    std::vector<File> made;
    for (const auto* kind : kinds::actuatorKinds()) made.push_back({kind->file, kind->label, kind, kind->columns()});
    made.push_back({"drivers", "drivers, relays and switches", nullptr, kinds::driverColumns()});
    return made;
}
std::optional<File> fileNamed(const std::string& kind) {
    for (auto& each : allFiles())
        if (each.name == kind) return std::move(each);
    return std::nullopt;
}

}  // namespace

const std::vector<PartKind>& kinds() {
    static const std::vector<PartKind> list = [] {
        std::vector<PartKind> made;
        for (const auto& file : allFiles()) {
            made.push_back({file.name, file.label, {}});
            for (const auto& column : file.columns) made.back().columns.push_back(column.name);
        }
        return made;
    }();
    return list;
}

Result<Loaded> read(const std::string& kind, const std::string& csv, const std::string& file) {
    if (const auto known = fileNamed(kind)) return known->read(csv, file);
    std::vector<std::string_view> names;
    for (const auto& each : allFiles()) names.emplace_back(each.name);
    return fail(ErrorCode::Unknown, "kind", kind, fmt::format("one of {}", fmt::join(names, ", ")));
}

std::string kindOfPart(const project::Parts& parts, const std::string& id) {
    if (const auto* part = project::findActuator(parts, id)) return kinds::actuatorKind(*part).file;
    return project::findDriver(parts, id) != nullptr ? "drivers" : "";
}

Result<std::string> write(const std::string& kind, const project::Parts& parts, const std::vector<std::string>& ids) {
    if (const auto known = fileNamed(kind)) return known->write(parts, {ids.begin(), ids.end()});
    return fail(ErrorCode::Unknown, "kind", kind, "a kind of part");
}

Result<Loaded> fromLine(const std::string& kind, const std::string& line) {
    const auto known = fileNamed(kind);
    if (!known) return fail(ErrorCode::Unknown, "kind", kind, "a kind of part");
    const auto isColumn = [&](const std::string& key) {
        return std::any_of(known->columns.begin(), known->columns.end(), [&](const Column& column) { return column.name == key; });
    };
    // "Stall current" and "stall-current" are the column stall_current.
    const auto plain = [](std::string_view text) {
        std::string key;
        for (const char c : text) key += c == ' ' || c == '-' ? '_' : lowered(c);
        while (!key.empty() && key.back() == '_') key.pop_back();
        while (!key.empty() && key.front() == '_') key.erase(0, 1);
        return key;
    };
    std::map<std::string, std::string> cells;
    std::vector<Problem> problems;
    std::string piece;
    const auto take = [&] {
        const auto split = piece.find_first_of(":=");
        const std::string key = plain(std::string_view{piece}.substr(0, split));
        std::string value = split == std::string::npos ? "" : piece.substr(split + 1);
        while (!value.empty() && (value.front() == ' ' || value.front() == '\t')) value.erase(0, 1);
        while (!value.empty() && (value.back() == ' ' || value.back() == '\t' || value.back() == '\r')) value.pop_back();
        if (!key.empty()) {
            if (!isColumn(key)) problems.push_back({"", 0, key, value, "not a figure of this kind; it was left out"});
            else if (!value.empty()) cells[key] = value;
        }
        piece.clear();
    };
    for (const char c : line) {
        if (c == ';' || c == '\n') take();
        else piece += c;
    }
    take();
    if (!cells.contains("name"))
        return fail(ErrorCode::Missing, "name", "", "name: what you call it; then figures such as nominal voltage: 12 V");
    if (!cells.contains("id")) {
        std::string id;
        for (const char c : plain(cells["name"]))
            if (isLetterOrDigit(c) || (c == '_' && !id.empty() && id.back() != '_')) id += c;
        cells["id"] = id.empty() ? "part" : id;
    }
    const std::string header = joined(cells, ",", [](const auto&cell) { return cell.first; }),
                      row = joined(cells, ",", [](const auto&cell) { return csvCell(cell.second); });
    auto loaded = known->read(header + "\n" + row + "\n", "pasted");
    if (!loaded) return loaded;
    loaded->problems.insert(loaded->problems.end(), problems.begin(), problems.end());
    return loaded;
}

std::string problemTable(const std::vector<Problem>& problems) {
    std::string table = "file,row,column,value,why\n";
    for (const auto& p : problems)
        table +=
            csvCell(p.file) + "," + std::to_string(p.row) + "," + csvCell(p.column) + "," + csvCell(p.value) + "," + csvCell(p.why) + "\n";
    return table;
}

void merge(Loaded& into, Loaded more) {
    // A later part of the same id takes the place of the earlier one.
    const auto lay = [](auto& list, auto& added, auto id) {
        std::unordered_map<std::string, std::size_t> places;
        for (std::size_t i = 0; i < list.size(); ++i) places.emplace(id(list[i]), i);
        for (auto& part : added) {
            const auto place = places.find(id(part));
            if (place != places.end()) {
                list[place->second] = std::move(part);
            } else {
                places.emplace(id(part), list.size());
                list.push_back(std::move(part));
            }
        }
    };
    lay(into.parts.actuators, more.parts.actuators, [](const actuator::Part& part) { return actuator::head(part).id; });
    lay(into.parts.drivers, more.parts.drivers, [](const driver::DriverPart& part) { return part.id; });
    into.problems.insert(into.problems.end(), more.problems.begin(), more.problems.end());
}

Result<Loaded> load(const std::filesystem::path& folder) {
    Loaded all;
    bool any = false;
    std::set<std::string> ids;
    for (const auto& kind : allFiles()) {
        const auto path = folder / (std::string{kind.name} + ".csv");
        const auto text = files::readWhole(path);
        if (!text && text.error().code == ErrorCode::NotFound) continue;
        if (!text) return tl::unexpected(text.error());
        any = true;
        auto loaded = kind.read(*text, path.string());
        if (!loaded) return tl::unexpected(loaded.error());
        // An id names one part, whatever its kind.
        const auto taken = [&](const std::string& id) {
            if (ids.insert(id).second) return false;
            loaded->problems.push_back({path.string(), 0, "id", id, "another kind of part has this id; this one was left out"});
            return true;
        };
        std::erase_if(loaded->parts.actuators, [&](const actuator::Part& part) { return taken(actuator::head(part).id); });
        std::erase_if(loaded->parts.drivers, [&](const driver::DriverPart& part) { return taken(part.id); });
        merge(all, std::move(*loaded));
    }
    if (!any)
        return fail(ErrorCode::NotFound, folder.string(), "",
                    "a folder with one CSV file for each kind of part, such as motors.csv and drivers.csv");
    return all;
}

}  // namespace hinge::catalogue
