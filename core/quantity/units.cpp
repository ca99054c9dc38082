#include "quantity/units.hpp"
#include <locale.h>
#include <udunits2.h>
#include <array>
#include <map>
#include <mutex>
#include <stdexcept>

namespace hinge {
inline namespace quantity {
namespace {

struct KindRow {
    Kind kind;
    const char* name;
    const char* si;     // shown, and read back
    const char* units;  // accepted names, blank-separated; name=expression where UDUNITS says it otherwise
    const char* examples;
};

// Which unit names measure which kind. A dimension alone does not decide: J is no torque, Hz no
// rotation speed, % no angle. Common practice, no published source; the factors are UDUNITS'.
constexpr std::array rows{
    KindRow{Kind::Fraction, "a fraction", "", "%=0.01", "0.25 or 25 %"},
    KindRow{Kind::Ratio, "a plain number", "", "steps=1 x=1", "a plain number"},
    KindRow{Kind::Count, "a whole number", "", "steps=1 counts=1 teeth=1", "a whole number"},
    KindRow{Kind::Length, "a length", "m", "m mm cm dm km um nm in ft yd mil=25.4e-6.m", "mm, cm, m, in"},
    KindRow{Kind::Area, "an area", "m²", "m2 mm2 cm2 dm2 in2 ft2", "mm², cm², m²"},
    KindRow{Kind::Volume, "a volume", "m³",
            "m3 dm3 cm3 mm3 l=liter L=liter ml=1e-3.liter mL=1e-3.liter cl=1e-2.liter cL=1e-2.liter dl=1e-1.liter dL=1e-1.liter "
            "ul=1e-6.liter uL=1e-6.liter ft3 in3",
            "mL, L, m³"},
    KindRow{Kind::Mass, "a mass", "kg", "kg g mg t=1000.kg lb oz=0.0625.lb", "g, kg, lb"},
    KindRow{Kind::Duration, "a time", "s", "s ms us ns min h d=day day days=day week weeks=week", "ms, s, min, h"},
    KindRow{Kind::Angle, "an angle", "rad",
            "rad mrad deg=degree degree degrees=degree turn=6.283185307179586476925.rad turns=6.283185307179586476925.rad",
            "deg, rad, turn"},
    KindRow{Kind::RotationSpeed, "a rotation speed", "rad/s",
            "rad/s deg/s=degree/s rpm=0.1047197551196597746154.rad/s turn/s=6.283185307179586476925.rad/s", "rpm, rad/s, deg/s"},
    KindRow{Kind::Frequency, "a frequency", "Hz", "Hz mHz kHz MHz GHz 1/s=Hz 1/min=Hz/60 1/h=Hz/3600 steps/s=Hz", "Hz, kHz, MHz"},
    KindRow{Kind::Speed, "a speed", "m/s", "m/s mm/s cm/s km/h m/min mm/min um/s in/s ft/s", "mm/s, m/s"},
    KindRow{Kind::Acceleration, "an acceleration", "m/s²", "m/s2 mm/s2 cm/s2", "m/s², mm/s²"},
    KindRow{Kind::Force, "a force", "N", "N mN kN kgf gf=1e-3.kgf lbf ozf=0.0625.lbf", "N, kgf, gf, lbf"},
    KindRow{Kind::Torque, "a torque", "N·m",
            "N.m mN.m uN.m N.cm N.mm Nm=N.m mNm=mN.m uNm=uN.m Ncm=N.cm Nmm=N.mm kgf.cm kgf.m gf.cm=1e-3.kgf.cm kgcm=kgf.cm kg.cm=kgf.cm "
            "ozf.in=0.0625.lbf.in lbf.in lbf.ft",
            "N·m, mN·m, kgf·cm"},
    KindRow{Kind::Inertia, "a moment of inertia", "kg·m²", "kg.m2 g.m2 kg.cm2 g.cm2 g.mm2", "kg·m², g·cm²"},
    KindRow{Kind::Pressure, "a pressure", "Pa",
            "Pa kPa MPa hPa bar mbar psi mmH2O=9.80665.Pa cmH2O=98.0665.Pa inH2O=249.08891.Pa mH2O=9806.65.Pa mmHg", "Pa, kPa, bar, mmH2O"},
    KindRow{Kind::Energy, "an energy", "J", "J mJ uJ kJ Wh=3600.J kWh=3.6e6.J W.h=3600.J", "J, mJ, Wh"},
    KindRow{Kind::Power, "a power", "W", "W mW uW kW", "mW, W"},
    KindRow{Kind::Voltage, "a voltage", "V", "V mV uV kV", "mV, V"},
    KindRow{Kind::Current, "a current", "A", "A mA uA nA", "mA, A"},
    KindRow{Kind::Resistance, "a resistance", "Ω", "ohm mohm uohm kohm Mohm", "Ω, kΩ, mΩ"},
    KindRow{Kind::Capacitance, "a capacitance", "F", "F mF uF nF pF", "µF, nF"},
    KindRow{Kind::Inductance, "an inductance", "H", "H mH uH nH", "mH, µH"},
    KindRow{Kind::Charge, "a charge", "C", "C mC uC nC pC Ah=3600.C mAh=3.6.C A.h=3600.C mA.h=3.6.C", "A·h, mA·h, nC"},
    KindRow{Kind::Temperature, "a temperature", "K", "K degC degF celsius=degC", "degC, K"},
    KindRow{Kind::TemperatureDifference, "a temperature difference", "K", "K degC=K degF=K/1.8", "K, degC"},
    KindRow{Kind::VolumeFlow, "a flow", "m³/s",
            "m3/s m3/h m3/min L/s=liter/s L/min=liter/min L/h=liter/h l/s=liter/s l/min=liter/min l/h=liter/h mL/s=1e-3.liter/s "
            "mL/min=1e-3.liter/min ml/s=1e-3.liter/s ml/min=1e-3.liter/min mL/h=1e-3.liter/h ml/h=1e-3.liter/h cm3/s cfm=ft3/min ft3/min",
            "L/min, mL/s, m³/h, cfm"},
    KindRow{Kind::ThermalResistance, "a thermal resistance", "K/W", "K/W degC/W=K/W", "K/W, degC/W"},
    KindRow{Kind::ThermalConductance, "a heat loss per degree", "W/K", "W/K mW/K W/degC=W/K mW/degC=mW/K", "W/K"},
    KindRow{Kind::SpecificHeat, "a specific heat", "J/(kg·K)", "J/(kg.K) J/kg/K kJ/(kg.K) kJ/kg/K J/(g.K) J/g/K J/(kg.degC)=J/(kg.K)",
            "J/(kg·K)"},
    KindRow{Kind::TorquePerCurrent, "a torque per ampere", "N·m/A", "N.m/A mN.m/A", "N·m/A"},
    KindRow{Kind::HeadPerFlowSquared, "a head per flow squared", "m/(m³/s)²", "m/(m3/s)2 s2/m5=m/(m3/s)2", "m/(m³/s)²"},
    KindRow{Kind::PressurePerFlowSquared, "a pressure per flow squared", "Pa/(m³/s)²", "Pa/(m3/s)2 Pa.s2/m6=Pa/(m3/s)2", "Pa/(m³/s)²"},
    KindRow{Kind::StepAcceleration, "steps a second squared", "1/s²", "1/s2 steps/s2=1/s2", "steps/s²"},
};
static_assert(rows.size() == kindCount);

const KindRow& row(Kind kind) {
    return rows.at(static_cast<std::size_t>(kind));
}

bool replaceAll(std::string& text, std::string_view from, std::string_view to) {
    bool any = false;
    for (auto at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size())) {
        text.replace(at, from.size(), to);
        any = true;
    }
    return any;
}

// One spelling for look-up: µ and μ as u, Ω as ohm, ² as 2, products as '.', no blanks at the ends.
std::string canonical(std::string_view unit) {
    std::string text{unit};
    while (!text.empty() && text.back() == ' ') text.pop_back();
    while (!text.empty() && text.front() == ' ') text.erase(text.begin());
    constexpr std::array<std::pair<std::string_view, std::string_view>, 12> spellings{{{"\u00b5", "u"},
                                                                                       {"\u03bc", "u"},
                                                                                       {"\u03a9", "ohm"},
                                                                                       {"\u2126", "ohm"},
                                                                                       {"\u00b0C", "degC"},
                                                                                       {"\u00b0F", "degF"},
                                                                                       {"\u00b0", "deg"},
                                                                                       {"\u00b2", "2"},
                                                                                       {"\u00b3", "3"},
                                                                                       {"\u00b7", "."},
                                                                                       {"\u22c5", "."},
                                                                                       {"^", ""}}};
    for (const auto& [from, to] : spellings) replaceAll(text, from, to);
    for (auto& c : text)
        if (c == '*' || c == ' ') c = '.';
    if (replaceAll(text, "deg.", "deg")) {
    }  // "deg C" as well as "degC"
    return text;
}

// m/(m3/s)2 and its like: UDUNITS reads exponents on parentheses as a raise; spelt out it is safe.
std::string forUdunits(const std::string& expression) {
    if (expression == "m/(m3/s)2") return "m-5.s2";
    if (expression == "Pa/(m3/s)2") return "Pa.s2.m-6";
    return expression;
}

struct Table {
    std::array<std::map<std::string, UnitScale, std::less<>>, kindCount> scales;
    std::array<std::vector<std::string>, kindCount> names;
};

// The numbers of UDUNITS' files have a decimal point, whatever the desktop writes: while they are read, this thread reads numbers so.
class PlainNumbers {
public:
    PlainNumbers() : plain_{::newlocale(LC_NUMERIC_MASK, "C", nullptr)}, before_{::uselocale(plain_)} {}
    ~PlainNumbers() {
        ::uselocale(before_);
        ::freelocale(plain_);
    }
    PlainNumbers(const PlainNumbers&) = delete;
    PlainNumbers& operator=(const PlainNumbers&) = delete;

private:
    locale_t plain_, before_;
};

// UDUNITS is not thread-safe: everything is read from it once, under the static's lock.
Table readTable() {
    const PlainNumbers plain;
    ut_set_error_message_handler(ut_ignore);
    ut_system* system = ut_read_xml(nullptr);
    if (system == nullptr) throw std::runtime_error("the UDUNITS-2 database is missing (package libudunits2-0)");
    Table table;
    for (const auto& kindRow : rows) {
        const auto index = static_cast<std::size_t>(kindRow.kind);
        std::string_view siName = kindRow.si;
        const std::string siText = siName.empty() ? "1" : forUdunits(canonical(siName));
        ut_unit* base = ut_parse(system, siText.c_str(), UT_UTF8);
        std::string_view rest = kindRow.units;
        while (!rest.empty()) {
            const auto blank = rest.find(' ');
            const std::string_view item = rest.substr(0, blank);
            rest = blank == std::string_view::npos ? std::string_view{} : rest.substr(blank + 1);
            const auto equals = item.find('=');
            const std::string name{item.substr(0, equals)};
            const std::string expression = forUdunits(std::string{equals == std::string_view::npos ? item : item.substr(equals + 1)});
            ut_unit* unit = ut_parse(system, expression.c_str(), UT_UTF8);
            cv_converter* converter = unit != nullptr && base != nullptr ? ut_get_converter(unit, base) : nullptr;
            if (converter == nullptr) throw std::runtime_error("UDUNITS-2 cannot read the unit " + name);
            const double offset = cv_convert_double(converter, 0.0);
            // The slope over a large step: no digits are lost to the offset of a temperature.
            const double factor = offset == 0.0 ? cv_convert_double(converter, 1.0) : (cv_convert_double(converter, 1e6) - offset) / 1e6;
            table.scales.at(index).emplace(name, UnitScale{factor, offset});
            table.names.at(index).push_back(name);
            cv_free(converter);
            ut_free(unit);
        }
        ut_free(base);
    }
    ut_free_system(system);
    return table;
}

const Table& table() {
    static const Table once = readTable();
    return once;
}

}  // namespace

std::string_view kindName(Kind kind) {
    return row(kind).name;
}
std::string_view siUnit(Kind kind) {
    return row(kind).si;
}
const std::vector<std::string>& unitsOf(Kind kind) {
    return table().names.at(static_cast<std::size_t>(kind));
}

std::optional<UnitScale> unitScale(Kind kind, std::string_view unit) {
    const auto& scales = table().scales.at(static_cast<std::size_t>(kind));
    const auto found = scales.find(canonical(unit));
    if (found == scales.end()) return std::nullopt;
    return found->second;
}

std::string unitExamples(Kind kind) {
    return row(kind).examples;
}

std::string sentence(const Error& error) {
    std::string text = error.field.empty() ? "" : error.field + ": ";
    switch (error.code) {
        case ErrorCode::Missing: text += "missing"; break;
        case ErrorCode::Conflict:
            text += error.value.empty() ? "more than one is given" : "'" + error.value + "' does not go with the rest";
            break;
        case ErrorCode::Unknown: text += "'" + error.value + "' is not known"; break;
        case ErrorCode::NotFound: text += "not found" + (error.value.empty() ? "" : " ('" + error.value + "')"); break;
        case ErrorCode::NotPlain: text = error.field + " is " + error.value; break;
        case ErrorCode::NotReadable: text += "could not be read" + (error.value.empty() ? "" : " (" + error.value + ")"); break;
        case ErrorCode::NotWritable: text += "could not be written" + (error.value.empty() ? "" : " (" + error.value + ")"); break;
        case ErrorCode::NewerFormat: text += "format " + error.value + " is newer than this program"; break;
        case ErrorCode::NotDriven: text += "the sketch does not drive it: " + error.value; break;
        case ErrorCode::Failed: text += error.value; break;
        case ErrorCode::Cancelled: text += "cancelled"; break;
        default: text += error.value.empty() ? "what is given is not accepted" : "'" + error.value + "' is not accepted"; break;
    }
    if (!error.accepted.empty()) text += "; " + error.accepted;
    return text;
}

}  // namespace quantity
}  // namespace hinge
