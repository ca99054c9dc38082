#include "quantity/text.hpp"
#include <fmt/format.h>
#include <charconv>
#include <cmath>
#include <vector>
#include "quantity/units.hpp"

namespace hinge {
inline namespace quantity {
namespace {

bool isDigit(char c) {
    return c >= '0' && c <= '9';
}

std::string_view trim(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return text;
}

// Length of the leading decimal number, 0 if there is none.
std::size_t numberLength(std::string_view text) {
    std::size_t at = 0;
    if (at < text.size() && (text[at] == '-' || text[at] == '+')) ++at;
    const std::size_t digits_from = at;
    while (at < text.size() && isDigit(text[at])) ++at;
    std::size_t digits = at - digits_from;
    if (at < text.size() && text[at] == '.') {
        ++at;
        const std::size_t fraction_from = at;
        while (at < text.size() && isDigit(text[at])) ++at;
        digits += at - fraction_from;
    }
    if (digits == 0) return 0;
    if (at < text.size() && (text[at] == 'e' || text[at] == 'E')) {
        std::size_t end = at + 1;
        if (end < text.size() && (text[end] == '-' || text[end] == '+')) ++end;
        const std::size_t exponent_from = end;
        while (end < text.size() && isDigit(text[end])) ++end;
        if (end > exponent_from) at = end;
    }
    return at;
}

Result<double> notANumber(std::string_view text) {
    return fail(ErrorCode::NotANumber, "", std::string{text}, "a finite decimal number, such as 0.45 or 1.2e-3");
}

double prefixFactor(std::string_view unit) {
    if (unit == "p") return 1e-12;
    if (unit == "n") return 1e-9;
    if (unit == "u" || unit == "\u00b5" || unit == "\u03bc") return 1e-6;
    if (unit == "k") return 1e3;
    if (unit == "M") return 1e6;
    if (unit == "G") return 1e9;
    return 0.0;
}

struct Shown {
    const char* name;
    double factor;
    double from;  // used from this SI magnitude on
};

const std::vector<Shown>& shownUnits(Kind kind) {
    static const auto scaled = [](const char* milli, const char* one, const char* kilo = nullptr) {
        std::vector<Shown> units{{milli, 1e-3, 0.0}, {one, 1.0, 1.0}};
        if (kilo != nullptr) units.push_back({kilo, 1e3, 1e3});
        return units;
    };
    static const std::vector<Shown> plain{{"", 1.0, 0.0}};
    static const std::vector<Shown> fraction{{"%", 0.01, 0.0}};
    static const std::vector<Shown> length{{"µm", 1e-6, 0.0}, {"mm", 1e-3, 1e-3}, {"m", 1.0, 1.0}};
    static const std::vector<Shown> area{{"mm²", 1e-6, 0.0}, {"cm²", 1e-4, 1e-3}, {"m²", 1.0, 0.1}};
    static const std::vector<Shown> volume{{"mL", 1e-6, 0.0}, {"L", 1e-3, 1e-3}, {"m³", 1.0, 1.0}};
    static const std::vector<Shown> mass{{"g", 1e-3, 0.0}, {"kg", 1.0, 1.0}};
    static const std::vector<Shown> duration{{"µs", 1e-6, 0.0},    {"ms", 1e-3, 1e-3},    {"s", 1.0, 1.0},
                                             {"min", 60.0, 120.0}, {"h", 3600.0, 7200.0}, {"d", 86400.0, 172800.0}};
    static const std::vector<Shown> angle{{"°", 0.017453292519943295, 0.0}};
    static const std::vector<Shown> rotation{{"rpm", 0.10471975511965977, 0.0}};
    static const std::vector<Shown> frequency{{"mHz", 1e-3, 0.0}, {"Hz", 1.0, 1.0}, {"kHz", 1e3, 1e3}, {"MHz", 1e6, 1e6}};
    static const std::vector<Shown> speed{{"mm/s", 1e-3, 0.0}, {"m/s", 1.0, 1.0}};
    static const std::vector<Shown> force = scaled("mN", "N", "kN");
    static const std::vector<Shown> torque{{"mN·m", 1e-3, 0.0}, {"N·m", 1.0, 0.1}};
    static const std::vector<Shown> pressure{{"Pa", 1.0, 0.0}, {"kPa", 1e3, 1e3}, {"bar", 1e5, 1e5}};
    static const std::vector<Shown> energy{{"µJ", 1e-6, 0.0}, {"mJ", 1e-3, 1e-3}, {"J", 1.0, 1.0}, {"kJ", 1e3, 1e3}};
    static const std::vector<Shown> power = scaled("mW", "W", "kW");
    static const std::vector<Shown> voltage = scaled("mV", "V", "kV");
    static const std::vector<Shown> current{{"µA", 1e-6, 0.0}, {"mA", 1e-3, 1e-3}, {"A", 1.0, 1.0}};
    static const std::vector<Shown> resistance{{"mΩ", 1e-3, 0.0}, {"Ω", 1.0, 1.0}, {"kΩ", 1e3, 1e3}, {"MΩ", 1e6, 1e6}};
    static const std::vector<Shown> capacitance{{"pF", 1e-12, 0.0}, {"nF", 1e-9, 1e-9}, {"µF", 1e-6, 1e-6}};
    static const std::vector<Shown> inductance{{"µH", 1e-6, 0.0}, {"mH", 1e-3, 1e-3}, {"H", 1.0, 1.0}};
    static const std::vector<Shown> charge{{"nC", 1e-9, 0.0}, {"mA·h", 3.6, 3.6}, {"A·h", 3600.0, 3600.0}};
    static const std::vector<Shown> flow{{"mL/min", 1e-6 / 60, 0.0}, {"L/min", 1e-3 / 60, 1e-4 / 60}, {"m³/h", 1.0 / 3600, 2.0 / 3600}};
    static const std::vector<Shown> difference{{"K", 1.0, 0.0}};
    switch (kind) {
        case Kind::Fraction: return fraction;
        case Kind::Length: return length;
        case Kind::Area: return area;
        case Kind::Volume: return volume;
        case Kind::Mass: return mass;
        case Kind::Duration: return duration;
        case Kind::Angle: return angle;
        case Kind::RotationSpeed: return rotation;
        case Kind::Frequency: return frequency;
        case Kind::Speed: return speed;
        case Kind::Force: return force;
        case Kind::Torque: return torque;
        case Kind::Pressure: return pressure;
        case Kind::Energy: return energy;
        case Kind::Power: return power;
        case Kind::Voltage: return voltage;
        case Kind::Current: return current;
        case Kind::Resistance: return resistance;
        case Kind::Capacitance: return capacitance;
        case Kind::Inductance: return inductance;
        case Kind::Charge: return charge;
        case Kind::VolumeFlow: return flow;
        case Kind::TemperatureDifference: return difference;
        default: return plain;
    }
}

std::string withUnit(Kind kind, double si_value, const std::string& number_text) {
    const auto unit = displayUnit(kind, si_value);
    if (unit.name.empty()) return number_text;
    return unit.name == "°" ? number_text + "°" : number_text + " " + unit.name;
}

}  // namespace

Result<double> parseNumber(std::string_view text) {
    const std::string_view number = trim(text);
    if (number.empty() || numberLength(number) != number.size()) return notANumber(text);
    std::string_view digits = number.front() == '+' ? number.substr(1) : number;
    double value = 0.0;
    const auto read = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (read.ec != std::errc{} || !std::isfinite(value)) return notANumber(text);
    return value;
}

Result<double> parseQuantity(Kind kind, std::string_view text, std::string_view bare_unit) {
    const std::string_view whole = trim(text);
    const std::size_t length = numberLength(whole);
    if (length == 0) return notANumber(text);
    auto number = parseNumber(whole.substr(0, length));
    if (!number) return notANumber(text);
    const std::string_view unit = trim(whole.substr(length));
    const UnitScale bare = bare_unit.empty() ? UnitScale{} : unitScale(kind, bare_unit).value_or(UnitScale{});
    UnitScale scale = bare;
    if (!unit.empty()) {
        const auto named = unitScale(kind, unit);
        if (named) {
            scale = *named;
        } else if (const double prefix = prefixFactor(unit); prefix != 0.0 && kind != Kind::Temperature) {
            scale = UnitScale{bare.factor * prefix, 0.0};
        } else {
            std::string hint = fmt::format("{} takes {}", kindName(kind), unitExamples(kind));
            if (kind == Kind::Force && unitScale(Kind::Mass, unit)) hint += fmt::format("; did you mean {}{}?", unit, "f");
            if (siUnit(kind).empty() && kind != Kind::Fraction) hint = fmt::format("{} has no unit", kindName(kind));
            return fail(ErrorCode::WrongUnit, "", std::string{text}, hint);
        }
    }
    const double value = *number * scale.factor + scale.offset;
    if (!std::isfinite(value)) return notANumber(text);
    if (kind == Kind::Temperature && value < 200.0)
        return fail(ErrorCode::OutOfRange, "", std::string{text}, "a bare number is kelvin: write 25degC");
    if (kind == Kind::Count && value != std::floor(value)) return fail(ErrorCode::OutOfRange, "", std::string{text}, "a whole number");
    return value;
}

std::string exactNumber(double value) {
    char buffer[40];
    const auto written = std::to_chars(buffer, buffer + sizeof buffer, value);
    return std::string(buffer, written.ptr);
}

std::string exactText(Kind kind, double si_value) {
    if (kind == Kind::Temperature) {
        // Shortest degC text that comes back as the same kelvin.
        for (int digits = 3; digits <= 15; ++digits) {
            const std::string text = fmt::format("{:.{}g}", si_value - 273.15, digits);
            if (std::abs(parseNumber(text).value_or(0.0) + 273.15 - si_value) < 1e-12 * si_value) return text + " degC";
        }
        return exactNumber(si_value) + " K";
    }
    const std::string number = exactNumber(si_value);
    const auto unit = siUnit(kind);
    return unit.empty() ? number : number + " " + std::string{unit};
}

DisplayUnit displayUnit(Kind kind, double si_value) {
    if (kind == Kind::Temperature) return {"°C", 1.0, 273.15};
    const auto& units = shownUnits(kind);
    const double size = std::abs(si_value);
    // Zero has no size of its own: show it in the plain unit.
    const Shown* best = &units.front();
    for (const auto& unit : units)
        if (size >= unit.from * 0.99951 || (size == 0.0 && unit.factor == 1.0)) best = &unit;
    if (size == 0.0 && kind == Kind::Duration) best = &units[2];
    if (best->name[0] == '\0') return {std::string{siUnit(kind)}, 1.0, 0.0};
    return {best->name, best->factor, 0.0};
}

std::string significant(double value, int digits) {
    if (value == 0.0) return "0";
    const double size = std::abs(value);
    if (size < 1e-4 || size >= 1e7) return fmt::format("{:.{}g}", value, digits);
    const int whole = static_cast<int>(std::floor(std::log10(size) + 1e-12)) + 1;
    std::string text = fmt::format("{:.{}f}", value, std::max(0, digits - whole));
    return text;
}

std::string display(Kind kind, double si_value, int digits) {
    if (!std::isfinite(si_value)) return "not known";
    const auto unit = displayUnit(kind, si_value);
    const double shown = (si_value - unit.offset) / unit.factor;
    if (kind == Kind::Temperature) return fmt::format("{:.0f} °C", shown);
    if (kind == Kind::Count) return fmt::format("{:.0f}", shown);
    return withUnit(kind, si_value, significant(shown, digits));
}

std::string displayPlain(Kind kind, double si_value) {
    const auto unit = displayUnit(kind, si_value);
    const double shown = (si_value - unit.offset) / unit.factor;
    if (kind == Kind::Temperature) return fmt::format("{:.6g} °C", shown);
    return withUnit(kind, si_value, fmt::format("{:.6g}", shown));
}

}  // namespace quantity
}  // namespace hinge
