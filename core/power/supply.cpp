#include "power/supply.hpp"
#include <algorithm>
#include "power/rectifier.hpp"

namespace hinge::power {
namespace {

bool among(std::string_view field, std::initializer_list<std::string_view> list) {
    return std::find(list.begin(), list.end(), field) != list.end();
}

}  // namespace

bool applies(const Source& source, std::string_view field) {
    const bool cells = source.kind == SourceKind::Battery, bank = source.kind == SourceKind::PowerBank,
               ac = source.kind == SourceKind::Transformer;
    if (among(field, {"chemistry", "series", "parallel", "cell_resistance", "protection_board"})) return cells;
    if (among(field, {"capacity", "usable_fraction"})) return cells || bank;
    if (field == "least_load") return bank;
    if (field == "usb") return source.kind == SourceKind::UsbPort;
    if (field.starts_with("ac_") || field.starts_with("smoothing") || field == "no_load_factor") return ac;
    if (field == "voltage") return !cells && !ac;
    if (field == "current") return source.kind != SourceKind::UsbPort && !cells;
    if (field == "resistance") return !cells;
    return true;
}

bool applies(const Rail& rail, std::string_view field) {
    const bool converter = rail.conversion != Conversion::Direct;
    if (among(field, {"voltage", "limit"})) return converter;
    if (field == "efficiency") return rail.conversion == Conversion::Buck || rail.conversion == Conversion::Boost;
    if (field == "dropout") return rail.conversion == Conversion::Linear || rail.conversion == Conversion::Buck;
    if (field == "theta_ja") return rail.conversion == Conversion::Linear;
    if (field == "bulk_esr" || field == "bulk_rating") return rail.bulk.has_value();
    if (field == "protection_drop") return rail.protection == Protection::Diode;
    if (field == "protection_resistance") return rail.protection == Protection::Mosfet;
    return true;
}

std::optional<Voltage> openVoltage(const Source& source, ChargeLevel charge) {
    switch (source.kind) {
        case SourceKind::Battery: {
            const auto cell = cellVolts(source.chemistry);
            return of<Voltage>(si(source.series) * (charge == ChargeLevel::Full    ? cell.full
                                                    : charge == ChargeLevel::Empty ? cell.empty
                                                                                   : cell.nominal));
        }
        case SourceKind::Transformer: {
            if (!source.ac_voltage) return std::nullopt;
            const auto peak = rectifiedPeak(*source.ac_voltage, charge == ChargeLevel::Full ? source.no_load_factor : of<Ratio>(1.0));
            return si(peak) > 0.0 ? std::optional(peak) : std::nullopt;
        }
        case SourceKind::UsbPort:
        case SourceKind::PowerBank: return source.voltage ? source.voltage : std::optional(of<Voltage>(5.0));
        default: return source.voltage;
    }
}

std::optional<Current> promisedCurrent(const Source& source) {
    if (source.kind == SourceKind::Battery) return std::nullopt;  // its cells' resistance is what limits it
    return source.kind == SourceKind::UsbPort ? std::optional(promise(source.usb)) : source.current;
}

Resistance insideResistance(const Source& source) {
    if (source.kind == SourceKind::Battery)
        return source.cell_resistance ? of<Resistance>(si(*source.cell_resistance) * si(source.series) / si(source.parallel))
                                      : Resistance{};
    return source.resistance.value_or(Resistance{});
}

Current promise(UsbPromise usb) {
    switch (usb) {
        case UsbPromise::Unconfigured: return of<Current>(0.1);
        case UsbPromise::Usb2: return of<Current>(0.5);
        case UsbPromise::Usb3: return of<Current>(0.9);
        case UsbPromise::Charger: return of<Current>(1.5);
        case UsbPromise::TypeC: return of<Current>(3.0);
    }
    return of<Current>(0.1);
}

}  // namespace hinge::power
