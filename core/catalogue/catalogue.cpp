#include "catalogue/catalogue.hpp"
#include <csv.h>
#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <set>
#include <sstream>
#include <unordered_map>
#include "files/folder.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"

namespace hinge::catalogue {
namespace {

using Rows = std::vector<std::vector<std::string>>;

// RFC 4180: quoted where it must be.
std::string quoted(const std::string& cell) {
    if (cell.find_first_of(",\"\n\r") == std::string::npos) return cell;
    std::string text = "\"";
    for (const char c : cell) text += c == '"' ? "\"\"" : std::string(1, c);
    return text + "\"";
}

Result<Rows> parseCsv(const std::string& text, const std::string& file) {
    struct Sink {
        Rows rows;
        std::vector<std::string> row;
    } sink;
    csv_parser parser{};
    if (csv_init(&parser, CSV_STRICT | CSV_APPEND_NULL) != 0) return fail(ErrorCode::BadFormat, file, "", "CSV");
    const auto on_field = [](void* data, std::size_t length, void* target) {
        static_cast<Sink*>(target)->row.emplace_back(static_cast<const char*>(data), length);
    };
    const auto on_row = [](int, void* target) {
        auto* s = static_cast<Sink*>(target);
        s->rows.push_back(std::move(s->row));
        s->row.clear();
    };
    const std::size_t read = csv_parse(&parser, text.data(), text.size(), on_field, on_row, &sink);
    const bool whole = read == text.size() && csv_fini(&parser, on_field, on_row, &sink) == 0;
    csv_free(&parser);
    if (!whole)
        return fail(ErrorCode::BadFormat, file, "row " + std::to_string(sink.rows.size() + 1),
                    "CSV: a quotation mark stands where none may, or one is missing");
    if (sink.rows.empty()) return fail(ErrorCode::BadFormat, file, "", "a header row and one row a part");
    return std::move(sink.rows);
}

// Figures that cannot be, one kind of part at a time: the column, and why.
using Impossible = std::optional<std::pair<std::string, std::string>>;
Impossible impossible(const actuator::Motor& m) {
    if (si(m.gear_ratio) <= 0.0) return std::pair{"gear_ratio", "above 0"};
    if (si(m.gear_efficiency) <= 0.0) return std::pair{"gear_efficiency", "above 0"};
    if (m.stall_current && m.no_load_current && si(*m.stall_current) <= si(*m.no_load_current))
        return std::pair{"stall_current", "above no_load_current"};
    return std::nullopt;
}
Impossible impossible(const actuator::Stepper& s) {
    if (s.rated_current && si(*s.rated_current) <= 0.0) return std::pair{"rated_current", "above 0"};
    if (si(s.steps_per_turn) < 4.0) return std::pair{"steps_per_turn", "4 or more"};
    if (si(s.gear_ratio) <= 0.0) return std::pair{"gear_ratio", "above 0"};
    if (si(s.gear_efficiency) <= 0.0) return std::pair{"gear_efficiency", "above 0"};
    return std::nullopt;
}
Impossible impossible(const actuator::Servo& s) {
    if (si(s.voltage_high) <= si(s.voltage_low)) return std::pair{"voltage_high", "above voltage_low"};
    if (s.torque_low && s.torque_high && si(*s.torque_high) < si(*s.torque_low)) return std::pair{"torque_high", "not below torque_low"};
    return std::nullopt;
}
Impossible impossible(const actuator::Fan&) {
    return std::nullopt;
}
Impossible impossible(const actuator::Pump& p) {
    if (p.stall_current && p.running_current && si(*p.stall_current) <= si(*p.running_current))
        return std::pair{"stall_current", "above running_current"};
    return std::nullopt;
}
Impossible impossible(const actuator::Coil& c) {
    if (si(c.operate_fraction) <= 0.0) return std::pair{"operate_fraction", "above 0"};
    return std::nullopt;
}
Impossible impossible(const actuator::Heater& h) {
    if (h.cold_factor && si(*h.cold_factor) < 1.0) return std::pair{"cold_factor", "1 or more"};
    return std::nullopt;
}
Impossible impossible(const actuator::Lamp& l) {
    if (l.mains && l.lamp_class == actuator::LampClass::Led) return std::pair{"mains", "no, for a bare LED"};
    return std::nullopt;
}
Impossible impossible(const driver::DriverPart& d) {
    if (d.gain_min && si(*d.gain_min) <= 0.0) return std::pair{"gain_min", "above 0"};
    if (d.voltage_max && d.voltage_min && si(*d.voltage_max) <= si(*d.voltage_min)) return std::pair{"voltage_max", "above voltage_min"};
    return std::nullopt;
}
// Kinds whose zero means nothing: a part of 0 V or 0 Ω is a slip of the pen.
constexpr bool zeroMeans(Kind kind) {
    return kind == Kind::Current || kind == Kind::Ratio || kind == Kind::Fraction || kind == Kind::Charge || kind == Kind::Inductance;
}

/// One column: its title and which member of the part its cells are.
struct Column {
    std::string name;
    bool required = false;
    Member member;
    std::size_t offset = 0;
};

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
            std::string text;
            for (const auto& point : static_cast<const Curve*>(at)->points)
                text += (text.empty() ? "" : " ") + exactNumber(point.x) + ":" + exactNumber(point.y);
            return text;
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

/// The columns of one kind of part.
template <class Part>
class Columns {
public:
    /// `Base` is the part itself or what it inherits.
    template <class M, class Base>
    Columns& column(const char* name, M Base::*member, bool required = false) {
        columns_.push_back({name, required, memberOf<M>(), offsetIn<Part>(member)});
        return *this;
    }

    Result<std::vector<Part>> read(const std::string& csv, const std::string& file, std::vector<Problem>& problems) const {
        auto rows = parseCsv(csv, file);
        if (!rows) return tl::unexpected(rows.error());
        std::vector<int> place;  // per column of the file: which of ours, -1 for none
        std::vector<std::string> units;
        for (const auto& title : rows->front()) {
            const auto bracket = title.find('[');
            std::string name = title.substr(0, bracket);
            while (!name.empty() && name.back() == ' ') name.pop_back();
            const auto close = title.find(']');
            units.push_back(bracket == std::string::npos || close == std::string::npos ? ""
                                                                                       : title.substr(bracket + 1, close - bracket - 1));
            int index = -1;
            for (std::size_t i = 0; i < columns_.size(); ++i)
                if (columns_[i].name == name) index = static_cast<int>(i);
            place.push_back(index);
        }
        for (std::size_t i = 0; i < columns_.size(); ++i)
            if (columns_[i].required && std::find(place.begin(), place.end(), static_cast<int>(i)) == place.end())
                return fail(ErrorCode::BadFormat, file, rows->front().empty() ? "" : rows->front().front(),
                            "a header with the column " + columns_[i].name);
        std::vector<Part> parts;
        std::set<std::string> ids;
        for (std::size_t r = 1; r < rows->size(); ++r) {
            const auto& row = (*rows)[r];
            if (row.size() == 1 && row.front().empty()) continue;
            Part part;
            std::vector<Problem> wrong;
            const int number = static_cast<int>(r) + 1;
            if (row.size() != place.size())
                wrong.push_back(
                    {file, number, "", std::to_string(row.size()) + " cells", "the header has " + std::to_string(place.size())});
            for (std::size_t c = 0; wrong.empty() && c < row.size(); ++c) {
                if (place[c] < 0) continue;
                const auto& column = columns_[static_cast<std::size_t>(place[c])];
                if (row[c].empty()) {
                    if (column.required) wrong.push_back({file, number, column.name, "", "every part needs it"});
                    continue;
                }
                if (auto error = set(column, &part, row[c], units[c]))
                    wrong.push_back({file, number, column.name, row[c].substr(0, 60), error->accepted});
            }
            if (wrong.empty())
                if (const auto why = impossible(part)) wrong.push_back({file, number, why->first, "", why->second});
            if (wrong.empty() && !ids.insert(part.id).second)
                wrong.push_back({file, number, "id", part.id, "each id once; the first row of that name was kept"});
            if (wrong.empty()) parts.push_back(std::move(part));
            problems.insert(problems.end(), wrong.begin(), wrong.end());
        }
        return parts;
    }

    /// A header with SI units and one row a part; reads back as the same parts.
    [[nodiscard]] std::string write(const std::vector<const Part*>& parts) const {
        std::string text;
        for (std::size_t i = 0; i < columns_.size(); ++i)
            text += (i > 0 ? "," : "") + columns_[i].name + (unitOf(columns_[i]).empty() ? "" : " [" + unitOf(columns_[i]) + "]");
        text += '\n';
        for (const auto* part : parts) {
            for (std::size_t i = 0; i < columns_.size(); ++i) text += (i > 0 ? "," : "") + quoted(shown(columns_[i], part));
            text += '\n';
        }
        return text;
    }
    [[nodiscard]] std::vector<std::string> names() const {
        std::vector<std::string> list;
        for (const auto& column : columns_) list.push_back(column.name);
        return list;
    }

private:
    std::vector<Column> columns_;
};

// What every part has, then what its kind has.
template <class P>
Columns<P> headed() {
    Columns<P> columns;
    columns.column("id", &P::id, true)
        .column("name", &P::name, true)
        .column("mass", &P::mass)
        .column("noise", &P::noise)
        .column("price", &P::price)
        .column("standing", &P::standing)
        .column("drawer", &P::drawer);
    return columns;
}

template <class P>
const Columns<P>& columnsOf();
#define HINGE_COLUMNS(type, ...)                                               \
    template <>                                                                \
    const Columns<type>& columnsOf<type>() {                                   \
        using P = type;                                                        \
        static const Columns<P> columns = Columns<P>{headed<P>()} __VA_ARGS__; \
        return columns;                                                        \
    }
HINGE_COLUMNS(actuator::Motor, .column("nominal_voltage", &P::nominal_voltage, true)
                                   .column("no_load_speed", &P::no_load_speed)
                                   .column("no_load_current", &P::no_load_current)
                                   .column("stall_current", &P::stall_current)
                                   .column("stall_torque", &P::stall_torque)
                                   .column("gear_ratio", &P::gear_ratio)
                                   .column("gear_efficiency", &P::gear_efficiency)
                                   .column("inductance", &P::inductance)
                                   .column("tach", &P::tach)
                                   .column("worm", &P::worm))
HINGE_COLUMNS(actuator::Stepper, .column("holding_torque", &P::holding_torque)
                                     .column("rated_current", &P::rated_current)
                                     .column("phase_resistance", &P::phase_resistance)
                                     .column("phase_inductance", &P::phase_inductance)
                                     .column("steps_per_turn", &P::steps_per_turn)
                                     .column("gear_ratio", &P::gear_ratio)
                                     .column("gear_efficiency", &P::gear_efficiency)
                                     .column("detent_torque", &P::detent_torque))
HINGE_COLUMNS(actuator::Servo, .column("class", &P::servo_class, true)
                                   .column("voltage_low", &P::voltage_low, true)
                                   .column("voltage_high", &P::voltage_high, true)
                                   .column("torque_low", &P::torque_low)
                                   .column("torque_high", &P::torque_high)
                                   .column("time_low", &P::time_low)
                                   .column("time_high", &P::time_high)
                                   .column("range", &P::range)
                                   .column("idle_current", &P::idle_current)
                                   .column("stall_current", &P::stall_current))
HINGE_COLUMNS(actuator::Fan, .column("wires", &P::wires, true)
                                 .column("nominal_voltage", &P::nominal_voltage, true)
                                 .column("curve", &P::curve, true)
                                 .column("current", &P::current)
                                 .column("starting_current", &P::starting_current)
                                 .column("start_duty", &P::start_duty))
HINGE_COLUMNS(actuator::Pump, .column("class", &P::pump_class, true)
                                  .column("nominal_voltage", &P::nominal_voltage, true)
                                  .column("curve", &P::curve, true)
                                  .column("running_current", &P::running_current)
                                  .column("stall_current", &P::stall_current)
                                  .column("inductance", &P::inductance)
                                  .column("spin_up_time", &P::spin_up_time))
HINGE_COLUMNS(actuator::Coil, .column("class", &P::coil_class, true)
                                  .column("coil_voltage", &P::coil_voltage, true)
                                  .column("coil_resistance", &P::coil_resistance)
                                  .column("inductance", &P::inductance)
                                  .column("force", &P::force)
                                  .column("stroke", &P::stroke)
                                  .column("duty_max", &P::duty_max)
                                  .column("pulse_time", &P::pulse_time)
                                  .column("operate_fraction", &P::operate_fraction))
HINGE_COLUMNS(actuator::Heater, .column("class", &P::heater_class, true)
                                    .column("mains", &P::mains)
                                    .column("nominal_voltage", &P::nominal_voltage, true)
                                    .column("power", &P::power)
                                    .column("heat_pumped", &P::heat_pumped)
                                    .column("largest_difference", &P::largest_difference)
                                    .column("cold_factor", &P::cold_factor))
HINGE_COLUMNS(actuator::Lamp, .column("class", &P::lamp_class, true)
                                  .column("mains", &P::mains)
                                  .column("nominal_voltage", &P::nominal_voltage, true)
                                  .column("power", &P::power)
                                  .column("current", &P::current))
HINGE_COLUMNS(driver::DriverPart, .column("class", &P::driver_class, true)
                                      .column("voltage_min", &P::voltage_min)
                                      .column("voltage_max", &P::voltage_max)
                                      .column("current_max", &P::current_max)
                                      .column("logic_min", &P::logic_min)
                                      .column("threshold_max", &P::threshold_max)
                                      .column("on_resistance", &P::on_resistance)
                                      .column("on_resistance_gate_voltage", &P::on_resistance_gate_voltage)
                                      .column("gate_charge", &P::gate_charge)
                                      .column("gain_min", &P::gain_min)
                                      .column("base_voltage", &P::base_voltage)
                                      .column("saturation_voltage", &P::saturation_voltage)
                                      .column("coil_voltage", &P::coil_voltage)
                                      .column("coil_resistance", &P::coil_resistance)
                                      .column("contact_current", &P::contact_current)
                                      .column("leakage", &P::leakage)
                                      .column("current_min", &P::current_min)
                                      .column("mains", &P::mains)
                                      .column("sense_resistor", &P::sense_resistor)
                                      .column("reference_gain", &P::reference_gain)
                                      .column("microsteps_max", &P::microsteps_max)
                                      .column("current_sense", &P::current_sense)
                                      .column("theta_ja", &P::theta_ja))
#undef HINGE_COLUMNS

template <class P>
Result<Loaded> readAs(const std::string& csv, const std::string& file) {
    Loaded loaded;
    auto parts = columnsOf<P>().read(csv, file, loaded.problems);
    if (!parts) return tl::unexpected(parts.error());
    for (auto& part : *parts) {
        if constexpr (std::is_same_v<P, driver::DriverPart>) loaded.parts.drivers.push_back(std::move(part));
        else loaded.parts.actuators.emplace_back(std::move(part));
    }
    return loaded;
}

template <class P>
std::string writeAs(const project::Parts& parts, const std::set<std::string>& ids) {
    std::vector<const P*> chosen;
    if constexpr (std::is_same_v<P, driver::DriverPart>) {
        for (const auto& part : parts.drivers)
            if (ids.contains(part.id)) chosen.push_back(&part);
    } else {
        for (const auto& part : parts.actuators)
            if (const auto* of_kind = std::get_if<P>(&part); of_kind != nullptr && ids.contains(of_kind->id)) chosen.push_back(of_kind);
    }
    return columnsOf<P>().write(chosen);
}

struct Reader {
    const char* name;
    const char* label;
    Result<Loaded> (*read)(const std::string&, const std::string&);
    std::vector<std::string> (*columns)();
    std::string (*write)(const project::Parts&, const std::set<std::string>&);
};
template <class P>
std::vector<std::string> columnNames() {
    return columnsOf<P>().names();
}
constexpr std::array kinds_{
    Reader{"motors", "motors and gearmotors", &readAs<actuator::Motor>, &columnNames<actuator::Motor>, &writeAs<actuator::Motor>},
    Reader{"steppers", "steppers", &readAs<actuator::Stepper>, &columnNames<actuator::Stepper>, &writeAs<actuator::Stepper>},
    Reader{"servos", "hobby servos", &readAs<actuator::Servo>, &columnNames<actuator::Servo>, &writeAs<actuator::Servo>},
    Reader{"fans", "fans", &readAs<actuator::Fan>, &columnNames<actuator::Fan>, &writeAs<actuator::Fan>},
    Reader{"pumps", "pumps", &readAs<actuator::Pump>, &columnNames<actuator::Pump>, &writeAs<actuator::Pump>},
    Reader{"coils", "solenoids and valves", &readAs<actuator::Coil>, &columnNames<actuator::Coil>, &writeAs<actuator::Coil>},
    Reader{"heaters", "heaters and thermo-electric plates", &readAs<actuator::Heater>, &columnNames<actuator::Heater>,
           &writeAs<actuator::Heater>},
    Reader{"lamps", "lamps and LED strings", &readAs<actuator::Lamp>, &columnNames<actuator::Lamp>, &writeAs<actuator::Lamp>},
    Reader{"drivers", "drivers, relays and switches", &readAs<driver::DriverPart>, &columnNames<driver::DriverPart>,
           &writeAs<driver::DriverPart>}};

}  // namespace

const std::vector<PartKind>& kinds() {
    static const std::vector<PartKind> list = [] {
        std::vector<PartKind> made;
        for (const auto& kind : kinds_) made.push_back({kind.name, kind.label, kind.columns()});
        return made;
    }();
    return list;
}

Result<Loaded> read(const std::string& kind, const std::string& csv, const std::string& file) {
    for (const auto& each : kinds_)
        if (each.name == kind) return each.read(csv, file);
    std::string names;
    for (const auto& each : kinds_) names += (names.empty() ? "" : ", ") + std::string{each.name};
    return fail(ErrorCode::Unknown, "kind", kind, "one of " + names);
}

std::string kindOfPart(const project::Parts& parts, const std::string& id) {
    static constexpr std::array by_index{"motors", "steppers", "servos", "fans", "pumps", "coils", "heaters", "lamps"};
    static_assert(by_index.size() == std::variant_size_v<actuator::Part>);
    if (const auto* part = project::findActuator(parts, id)) return by_index[part->index()];
    return project::findDriver(parts, id) != nullptr ? "drivers" : "";
}

Result<std::string> write(const std::string& kind, const project::Parts& parts, const std::vector<std::string>& ids) {
    for (const auto& each : kinds_)
        if (each.name == kind) return each.write(parts, {ids.begin(), ids.end()});
    return fail(ErrorCode::Unknown, "kind", kind, "a kind of part");
}

Result<Loaded> fromLine(const std::string& kind, const std::string& line) {
    const auto known = std::find_if(kinds_.begin(), kinds_.end(), [&](const Reader& each) { return each.name == kind; });
    if (known == kinds_.end()) return fail(ErrorCode::Unknown, "kind", kind, "a kind of part");
    const auto columns = known->columns();
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
            if (std::find(columns.begin(), columns.end(), key) == columns.end())
                problems.push_back({"", 0, key, value, "not a figure of this kind; it was left out"});
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
    std::string header, row;
    for (const auto& [key, value] : cells) {
        header += (header.empty() ? "" : ",") + key;
        row += (row.empty() ? "" : ",") + quoted(value);
    }
    auto loaded = known->read(header + "\n" + row + "\n", "pasted");
    if (!loaded) return loaded;
    loaded->problems.insert(loaded->problems.end(), problems.begin(), problems.end());
    return loaded;
}

std::string problemTable(const std::vector<Problem>& problems) {
    std::string table = "file,row,column,value,why\n";
    for (const auto& p : problems)
        table += quoted(p.file) + "," + std::to_string(p.row) + "," + quoted(p.column) + "," + quoted(p.value) + "," + quoted(p.why) + "\n";
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
    for (const auto& kind : kinds_) {
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
