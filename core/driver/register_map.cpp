#include "driver/register_map.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include "driver/register_table.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"

namespace hinge::driver {
namespace {

// Decimal, or hexadecimal with 0x; nullopt for anything else, or more than 32 bits.
std::optional<std::uint32_t> whole(std::string_view text) {
    const bool hex = text.starts_with("0x");
    if (hex) text.remove_prefix(2);
    std::uint32_t value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value, hex ? 16 : 10);
    return !text.empty() && read.ec == std::errc{} && read.ptr == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

// What is no register: how the chip is reached, and its scales. False: no such figure, or none of that value.
bool figure(RegisterMap& map, const std::string& name, const std::string& text) {
    if (name == "bus") {
        const auto bus = named<RegisterBus>(text);
        if (bus) map.bus = *bus;
        return bus.has_value();
    }
    static const std::vector<std::string_view> known{"sense_full_scale",
                                                     "sense_full_scale_fine",
                                                     "sense_extra",
                                                     "address",
                                                     "outputs",
                                                     "oscillator",
                                                     "counts",
                                                     "first_output",
                                                     "baud",
                                                     "hello",
                                                     "set_target",
                                                     "counts_a_second",
                                                     "frames_a_second",
                                                     "addresses",
                                                     "pin_current",
                                                     "port",
                                                     "latch",
                                                     "pull_up",
                                                     "direction",
                                                     "full_scale",
                                                     "full_scale_fine",
                                                     "counts_full_scale",
                                                     "conversions_a_second"};
    double value = 0.0;
    if (const auto number = whole(text)) {
        value = *number;
    } else {
        const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
        if (read.ec != std::errc{} || read.ptr != text.data() + text.size() || !std::isfinite(value) || value < 0.0) return false;
    }
    if (std::find(known.begin(), known.end(), name) == known.end()) return false;
    map.figures.emplace_back(name, value);
    return true;
}

std::optional<RegisterMap::Field> fieldOf(const CsvRow& row) {
    RegisterMap::Field field;
    const auto address = whole(row[2]), low = whole(row[4]);
    std::string bits_text = row[5];
    if (bits_text.ends_with('s')) field.is_signed = true, bits_text.pop_back();
    const auto bits = whole(bits_text);
    const std::string& access = row[3];
    if (!address || *address > 0xFF || !low || !bits || *bits == 0 || *low + *bits > 32 ||
        (access != "r" && access != "w" && access != "rw"))
        return std::nullopt;
    field.reg = row[1];
    field.address = static_cast<int>(*address);
    field.read = access != "w";
    field.written = access != "r";
    field.low = static_cast<int>(*low);
    field.bits = static_cast<int>(*bits);
    field.name = row[6];
    if (!row[7].empty()) {
        field.value = whole(row[7]);
        if (!field.value || *field.value > field.most()) return std::nullopt;
    }
    return field;
}

}  // namespace

double RegisterMap::figure(std::string_view name) const {
    const auto found = std::find_if(figures.begin(), figures.end(), [&](const auto& each) { return each.first == name; });
    return found != figures.end() ? found->second : 0.0;
}

const RegisterMap::Field* RegisterMap::field(std::string_view name) const {
    const auto found = std::find_if(fields.begin(), fields.end(), [&](const Field& each) { return each.name == name; });
    return found != fields.end() ? &*found : nullptr;
}

ExpanderGives gives(const RegisterMap& map) {
    if (map.figure("outputs") < 1.0) return ExpanderGives::Nothing;
    return map.figure("counts") > 0.0 || map.figure("counts_a_second") > 0.0 ? ExpanderGives::Pulses
           : map.figure("latch") > 0.0                                       ? ExpanderGives::Levels
           : map.figure("full_scale") > 0.0                                  ? ExpanderGives::Readings
                                                                             : ExpanderGives::Nothing;
}

Result<std::vector<RegisterMap>> parseRegisterMaps(std::string_view csv) {
    const auto rows = csvRows(csv, "registers.csv");
    if (!rows) return tl::unexpected(rows.error());
    std::vector<RegisterMap> maps;
    for (std::size_t r = 1; r < rows->size(); ++r) {
        const auto& row = (*rows)[r];
        const auto bad = [&](const char* why) {
            return fail(ErrorCode::BadFormat, fmt::format("registers.csv, row {}", r + 1), row.empty() ? "" : row.front(), why);
        };
        if (row.size() != 8) return bad("map,register,address,access,low_bit,bits,field,value");
        if (maps.empty() || maps.back().id != row[0]) maps.emplace_back().id = row[0];
        if (row[3] == "figure") {
            if (!figure(maps.back(), row[6], row[7])) return bad("a figure that is known, with its value");
            continue;
        }
        auto field = fieldOf(row);
        if (!field) return bad("an address up to 0xFF, r, w or rw, bits that lie in 32, and a value that fits them");
        maps.back().fields.push_back(std::move(*field));
    }
    return maps;
}

const std::vector<RegisterMap>& registerMaps() {
    static const std::vector<RegisterMap> list = parseRegisterMaps(register_table).value_or(std::vector<RegisterMap>{});
    return list;
}

const RegisterMap* findRegisterMap(std::string_view id) {
    const auto found = std::find_if(registerMaps().begin(), registerMaps().end(), [&](const RegisterMap& map) { return map.id == id; });
    return found != registerMaps().end() ? &*found : nullptr;
}

namespace {

// What the plan says of a field; nullopt: nothing.
std::optional<std::int64_t> planned(const std::string& field, const ChopperSettings& in, int run, int held, bool fine, int halvings) {
    if (field == "run_current") return run;
    if (field == "hold_current") return held;
    if (field == "fine_current") return fine ? 1 : 0;
    if (field == "microsteps") return halvings;
    if (field == "stall_level") return in.stall_level ? std::lround(si(*in.stall_level)) : 0;
    if (field == "slowest_for_stall") return in.stall_level ? -1 : 0;  // every bit: at any speed
    return std::nullopt;
}

// Puts a field into its register, a new one behind the others or the one that is there.
void put(std::vector<RegisterWrite>& writes, const RegisterMap::Field& field, std::int64_t value) {
    auto at = std::find_if(writes.begin(), writes.end(), [&](const RegisterWrite& each) { return each.address == field.address; });
    if (at == writes.end()) at = writes.insert(writes.end(), {field.address, 0, field.read, ""});
    at->value |= (static_cast<std::uint32_t>(value) & field.most()) << field.low;
    const bool all = value == -1 && !field.is_signed;
    at->meaning += fmt::format("{}{} {}", at->meaning.empty() ? "" : ", ", field.name, all ? std::int64_t{field.most()} : value);
}

}  // namespace

Result<Worked<ChopperRegisters>> chopperRegisters(const RegisterMap& map, const ChopperSettings& in) {
    constexpr int steps = 32;  // of the whole current
    Worked<ChopperRegisters> out;
    auto& r = out.result;
    const double extra = map.figure("sense_extra"), fine_scale = map.figure("sense_full_scale_fine");
    const auto ohms = of<Resistance>(si(in.sense_resistor) + extra);
    const auto wholeOf = [&](double volts) { return volts / si(ohms); };
    const bool fine = fine_scale > 0.0 && si(in.peak) <= wholeOf(fine_scale);
    const auto scale = of<Voltage>(fine ? fine_scale : map.figure("sense_full_scale"));
    const double most = wholeOf(si(scale));
    const int run = static_cast<int>(std::floor(si(in.peak) / most * steps + 1e-9));
    if (!(si(in.peak) > 0.0) || run < 1 || run > steps)
        return fail(ErrorCode::OutOfRange, "peak", display(in.peak),
                    fmt::format("a current from {} to {}: what its sense resistor shows", display(Kind::Current, most / steps, 3),
                                display(Kind::Current, most, 3)));
    const int held = std::max(1, static_cast<int>(std::floor(run * si(in.held) + 1e-9)));
    const auto micro = std::lround(si(in.microsteps));
    if (micro < 1 || micro > 256 || (micro & (micro - 1)) != 0 || static_cast<double>(micro) != si(in.microsteps))
        return fail(ErrorCode::OutOfRange, "microsteps", displayPlain(in.microsteps), "1, 2, 4 … 256: its register counts halvings");
    const int halvings = 8 - static_cast<int>(std::lround(std::log2(static_cast<double>(micro))));
    const auto* stall = map.field("stall_level");
    if (in.stall_level) {
        if (stall == nullptr) return fail(ErrorCode::OutOfRange, "stall_level", displayPlain(*in.stall_level), "a chip that looks for one");
        const double low = stall->is_signed ? -std::exp2(stall->bits - 1) : 0.0,
                     high = std::exp2(stall->bits - (stall->is_signed ? 1 : 0)) - 1.0;
        if (!(si(*in.stall_level) >= low && si(*in.stall_level) <= high))
            return fail(ErrorCode::OutOfRange, "stall_level", displayPlain(*in.stall_level), fmt::format("{:.0f} to {:.0f}", low, high));
    }
    r.peak = of<Current>(most * run / steps);
    r.held = of<Current>(most * held / steps);
    addStep(out.steps, "Ifs", fine ? "its whole current, fine" : "its whole current", "{V}/({Rs} + {Ri})",
            {{"V", scale}, {"Rs", in.sense_resistor}, {"Ri", of<Resistance>(extra)}}, of<Current>(most), "chopper-registers");
    addStep(out.steps, "n", "thirty-seconds of it, not above what is wanted", "⌊32·{I}/{Ifs}⌋",
            {{"I", in.peak}, {"Ifs", of<Current>(most)}}, of<Count>(run), "chopper-registers");
    addStep(out.steps, "Ip", "peak, as it is set", "{Ifs}·{n}/32", {{"Ifs", of<Current>(most)}, {"n", of<Count>(run)}}, r.peak,
            "chopper-registers");
    for (const auto& field : map.fields) {
        if (!field.written) continue;
        const auto value =
            field.value ? std::optional<std::int64_t>(*field.value) : planned(field.name, in, run - 1, held - 1, fine, halvings);
        if (!value)
            return fail(ErrorCode::BadFormat, "registers.csv", map.id + ": " + field.name, "a value, or a field that the plan knows");
        put(r.writes, field, *value);
    }
    return out;
}

}  // namespace hinge::driver
