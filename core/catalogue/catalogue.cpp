#include "catalogue/catalogue.hpp"
#include "quantity/text.hpp"
#include <algorithm>
#include <csv.h>
#include <fstream>
#include <functional>
#include <set>
#include <sstream>

namespace hinge::catalogue {
namespace {

using Rows = std::vector<std::vector<std::string>>;

Result<Rows> parseCsv(const std::string& text, const std::string& file) {
    struct Sink {
        Rows rows;
        std::vector<std::string> row;
    } sink;
    csv_parser parser{};
    if (csv_init(&parser, CSV_STRICT | CSV_APPEND_NULL) != 0) return fail(ErrorCode::BadFormat, file, "", "CSV");
    const auto on_field = [](void* data, std::size_t length, void* target) { static_cast<Sink*>(target)->row.emplace_back(static_cast<const char*>(data), length); };
    const auto on_row = [](int, void* target) {
        auto* s = static_cast<Sink*>(target);
        s->rows.push_back(std::move(s->row));
        s->row.clear();
    };
    const std::size_t read = csv_parse(&parser, text.data(), text.size(), on_field, on_row, &sink);
    const bool whole = read == text.size() && csv_fini(&parser, on_field, on_row, &sink) == 0;
    csv_free(&parser);
    if (!whole) return fail(ErrorCode::BadFormat, file, "row " + std::to_string(sink.rows.size() + 1), "CSV: a quotation mark stands where none may, or one is missing");
    if (sink.rows.empty()) return fail(ErrorCode::BadFormat, file, "", "a header row and one row a part");
    return std::move(sink.rows);
}

template <class T> struct Unwrap { using type = T; static constexpr bool optional = false; };
template <class T> struct Unwrap<std::optional<T>> { using type = T; static constexpr bool optional = true; };

/// The columns of one kind of part.
template <class Part>
class Columns {
public:
    template <class M>
    Columns& column(const char* name, M Part::*member, bool required = false) {
        columns_.push_back({name, required, [member](Part& part, const std::string& cell, const std::string& unit) { return set(part.*member, cell, unit); }});
        return *this;
    }

    Result<std::vector<Part>> read(const std::string& csv, const std::string& file, std::vector<Problem>& problems) const {
        auto rows = parseCsv(csv, file);
        if (!rows) return tl::unexpected(rows.error());
        std::vector<int> place;       // per column of the file: which of ours, -1 for none
        std::vector<std::string> units;
        for (const auto& title : rows->front()) {
            const auto bracket = title.find('[');
            std::string name = title.substr(0, bracket);
            while (!name.empty() && name.back() == ' ') name.pop_back();
            const auto close = title.find(']');
            units.push_back(bracket == std::string::npos || close == std::string::npos ? "" : title.substr(bracket + 1, close - bracket - 1));
            int index = -1;
            for (std::size_t i = 0; i < columns_.size(); ++i)
                if (columns_[i].name == name) index = static_cast<int>(i);
            place.push_back(index);
        }
        for (std::size_t i = 0; i < columns_.size(); ++i)
            if (columns_[i].required && std::find(place.begin(), place.end(), static_cast<int>(i)) == place.end())
                return fail(ErrorCode::BadFormat, file, rows->front().empty() ? "" : rows->front().front(), "a header with the column " + columns_[i].name);
        std::vector<Part> parts;
        std::set<std::string> ids;
        for (std::size_t r = 1; r < rows->size(); ++r) {
            const auto& row = (*rows)[r];
            if (row.size() == 1 && row.front().empty()) continue;
            Part part;
            std::vector<Problem> wrong;
            const int number = static_cast<int>(r) + 1;
            if (row.size() != place.size()) wrong.push_back({file, number, "", std::to_string(row.size()) + " cells", "the header has " + std::to_string(place.size())});
            for (std::size_t c = 0; wrong.empty() && c < row.size(); ++c) {
                if (place[c] < 0) continue;
                const auto& column = columns_[static_cast<std::size_t>(place[c])];
                if (row[c].empty()) {
                    if (column.required) wrong.push_back({file, number, column.name, "", "every part needs it"});
                    continue;
                }
                if (auto error = column.set(part, row[c], units[c])) wrong.push_back({file, number, column.name, row[c].substr(0, 60), error->accepted});
            }
            if (wrong.empty() && !ids.insert(part.id).second) wrong.push_back({file, number, "id", part.id, "each id once; the first row of that name was kept"});
            if (wrong.empty()) parts.push_back(std::move(part));
            problems.insert(problems.end(), wrong.begin(), wrong.end());
        }
        return parts;
    }

private:
    struct Column {
        std::string name;
        bool required;
        std::function<std::optional<Error>(Part&, const std::string&, const std::string&)> set;
    };

    template <class M>
    static std::optional<Error> set(M& member, const std::string& cell, const std::string& unit) {
        using P = typename Unwrap<M>::type;
        if constexpr (Measurable<P>) {
            auto value = parseQuantity(kindOf<P>, cell, unit);
            if (!value) return value.error();
            if (*value < 0.0 && kindOf<P> != Kind::Temperature) return Error{ErrorCode::OutOfRange, "", cell, "not negative"};
            member = of<P>(*value);
        } else if constexpr (Named<P>) {
            const auto value = named<P>(cell);
            if (!value) {
                std::string choices;
                for (const auto& entry : Names<P>::all) choices += (choices.empty() ? "" : ", ") + std::string{entry.id};
                return Error{ErrorCode::Unknown, "", cell, "one of " + choices};
            }
            member = *value;
        } else if constexpr (std::is_same_v<P, bool>) {
            if (cell != "yes" && cell != "no") return Error{ErrorCode::BadFormat, "", cell, "yes or no"};
            member = cell == "yes";
        } else if constexpr (std::is_same_v<P, HeadCurve>) {
            // The header's unit is "L/min:m"; a cell lists points "0:3 0.5:2 1:0" in it.
            const auto colon = unit.find(':');
            std::string text;
            std::istringstream words(cell);
            std::string point;
            while (words >> point) {
                const auto split = point.find(':');
                if (split == std::string::npos) return Error{ErrorCode::BadFormat, "", cell, "points flow:head, separated by blanks"};
                text += (text.empty() ? "" : ",") + point.substr(0, split) + " " + unit.substr(0, colon) + ":" + point.substr(split + 1) + " " + (colon == std::string::npos ? "" : unit.substr(colon + 1));
            }
            auto curve = parseCurve(text, Kind::VolumeFlow, Kind::Length);
            if (!curve) return curve.error();
            member.points = std::move(curve->points);
        } else {
            if (cell.size() > 200) return Error{ErrorCode::OutOfRange, "", cell.substr(0, 20), "at most 200 characters"};
            member = cell;
        }
        return std::nullopt;
    }

    std::vector<Column> columns_;
};

const Columns<actuator::Pump>& pumpColumns() {
    using P = actuator::Pump;
    static const Columns<P> columns = Columns<P>{}
        .column("id", &P::id, true).column("name", &P::name, true).column("class", &P::pump_class, true)
        .column("nominal_voltage", &P::nominal_voltage, true).column("curve", &P::curve, true)
        .column("running_current", &P::running_current).column("stall_current", &P::stall_current)
        .column("inductance", &P::inductance).column("spin_up_time", &P::spin_up_time)
        .column("mass", &P::mass).column("noise", &P::noise).column("price", &P::price).column("tested", &P::tested);
    return columns;
}

const Columns<driver::SwitchPart>& switchColumns() {
    using S = driver::SwitchPart;
    static const Columns<S> columns = Columns<S>{}
        .column("id", &S::id, true).column("name", &S::name, true).column("class", &S::switch_class, true)
        .column("voltage_max", &S::voltage_max).column("current_max", &S::current_max)
        .column("threshold_max", &S::threshold_max).column("on_resistance", &S::on_resistance)
        .column("on_resistance_gate_voltage", &S::on_resistance_gate_voltage).column("gate_charge", &S::gate_charge)
        .column("gain_min", &S::gain_min).column("base_voltage", &S::base_voltage).column("saturation_voltage", &S::saturation_voltage)
        .column("coil_voltage", &S::coil_voltage).column("coil_resistance", &S::coil_resistance).column("contact_current", &S::contact_current)
        .column("theta_ja", &S::theta_ja).column("price", &S::price).column("tested", &S::tested);
    return columns;
}

}  // namespace

Result<Loaded> readPumps(const std::string& csv, const std::string& file) {
    Loaded loaded;
    auto parts = pumpColumns().read(csv, file, loaded.problems);
    if (!parts) return tl::unexpected(parts.error());
    loaded.parts.pumps = std::move(*parts);
    return loaded;
}

Result<Loaded> readSwitches(const std::string& csv, const std::string& file) {
    Loaded loaded;
    auto parts = switchColumns().read(csv, file, loaded.problems);
    if (!parts) return tl::unexpected(parts.error());
    loaded.parts.switches = std::move(*parts);
    return loaded;
}

Result<Loaded> load(const std::filesystem::path& folder) {
    Loaded all;
    bool any = false;
    const auto take = [&](const char* name, auto reader) -> std::optional<Error> {
        std::ifstream file(folder / name, std::ios::binary);
        if (!file) return std::nullopt;
        any = true;
        std::ostringstream text;
        text << file.rdbuf();
        auto loaded = reader(text.str(), (folder / name).string());
        if (!loaded) return loaded.error();
        for (auto& pump : loaded->parts.pumps) all.parts.pumps.push_back(std::move(pump));
        for (auto& part : loaded->parts.switches) all.parts.switches.push_back(std::move(part));
        all.problems.insert(all.problems.end(), loaded->problems.begin(), loaded->problems.end());
        return std::nullopt;
    };
    if (auto error = take("pumps.csv", readPumps)) return tl::unexpected(*error);
    if (auto error = take("switches.csv", readSwitches)) return tl::unexpected(*error);
    if (!any) return fail(ErrorCode::NotFound, folder.string(), "", "a folder with pumps.csv and switches.csv");
    return all;
}

}  // namespace hinge::catalogue
