#pragma once
#include <array>
#include "power/battery.hpp"
#include "quantity/names.hpp"
#include "working/worked.hpp"

namespace hinge::power {

enum class SourceKind { WallAdapter, BenchSupply, UsbPort, Battery, PowerBank, Transformer };
enum class Conversion { Direct, Linear, Buck, Boost };
/// What a USB port promises. @source usb-2
enum class UsbPromise { Unconfigured, Usb2, Usb3, Charger, TypeC };
enum class Protection { None, Diode, Mosfet };

/// What feeds the gadget.
struct Source {
    std::string id;
    std::string name;
    SourceKind kind = SourceKind::WallAdapter;
    std::optional<Voltage> voltage;
    std::optional<Current> current;        ///< that it promises
    bool ground_joined = true;             ///< its minus meets the board's ground
    std::string instead_of;                ///< id of the source whose place it takes: one or the other, never both
    std::optional<Resistance> resistance;  ///< inside it and in its own cable
    UsbPromise usb = UsbPromise::Usb2;
    // battery and power bank
    Chemistry chemistry = Chemistry::LiIon;
    Count series = of<Count>(1.0);
    Count parallel = of<Count>(1.0);
    std::optional<Charge> capacity;  ///< of one cell
    std::optional<Resistance> cell_resistance;
    Fraction usable_fraction = of<Fraction>(0.8);
    bool protection_board = false;
    std::optional<Current> least_load;  ///< a power bank switches itself off below it
    // transformer with bridge rectifier and smoothing
    std::optional<Voltage> ac_voltage;  ///< rms
    Frequency ac_frequency = of<Frequency>(50.0);
    Ratio no_load_factor = of<Ratio>(1.1);
    std::optional<Capacitance> smoothing;
    std::optional<Voltage> smoothing_rating;
    friend bool operator==(const Source&, const Source&) = default;
};

/// A rail, fed by the source or by another rail.
struct Rail {
    std::string id;
    std::string name;
    std::string from;  ///< id of a source or rail
    Conversion conversion = Conversion::Direct;
    std::optional<Voltage> voltage;  ///< of a converter's output; Direct takes its feed's
    std::optional<Current> limit;    ///< a converter gives at most; absent: not known
    Area wire_area = of<Area>(0.5e-6);
    Length wire_length = of<Length>(1.0);  ///< one way
    Resistance contacts{};                 ///< connectors, switch and fuse in its way
    std::optional<Current> fuse;           ///< rated current; absent: none fitted
    std::optional<Capacitance> bulk;       ///< absent: none fitted
    Resistance bulk_esr = of<Resistance>(0.1);
    std::optional<Voltage> bulk_rating;
    Protection protection = Protection::None;                  ///< against reversed polarity
    Voltage protection_drop = of<Voltage>(0.5);                ///< of the diode
    Resistance protection_resistance = of<Resistance>(0.05);   ///< of the MOSFET
    Current idle{};                                            ///< monitor, latch and converter take it all the time
    Voltage dropout = of<Voltage>(1.1);                        ///< a converter's least input above its output; boost: not used
    ThermalResistance theta_ja = of<ThermalResistance>(65.0);  ///< linear
    Fraction efficiency = of<Fraction>(0.88);                  ///< buck and boost
    std::string also;                                          ///< what else hangs on it all the time: "display, radio"
    std::optional<Current> also_draws;                         ///< all of that together; absent: not known, or nothing
    friend bool operator==(const Rail&, const Rail&) = default;
};

enum class ChargeLevel { Full, Nominal, Empty };
/// Volts without load: cells by their chemistry and charge, a rectified transformer's peak (full: without
/// load; empty: with the valley of its ripple not counted), else what is printed; USB gives 5 V.
/// nullopt: not known. @source common practice, no published source
[[nodiscard]] std::optional<Voltage> openVoltage(const Source& source, ChargeLevel charge = ChargeLevel::Nominal);
/// Amps that it gives; nullopt: not known.
[[nodiscard]] std::optional<Current> promisedCurrent(const Source& source);
/// Ohms inside it: cells in series and parallel, or as measured; 0 when nothing is known.
[[nodiscard]] Resistance insideResistance(const Source& source);

/// Whether a field has a meaning for the kind chosen: a wall adapter has no cells.
[[nodiscard]] bool applies(const Source& source, std::string_view field);
[[nodiscard]] bool applies(const Rail& rail, std::string_view field);
/// Amps that a USB port promises. @source usb-2
[[nodiscard]] Current promise(UsbPromise usb);

}  // namespace hinge::power

template <>
struct hinge::Names<hinge::power::SourceKind> {
    using S = hinge::power::SourceKind;
    static constexpr std::array all{hinge::Name<S>{S::WallAdapter, "wall-adapter", "wall adapter"},
                                    hinge::Name<S>{S::BenchSupply, "bench-supply", "bench supply"},
                                    hinge::Name<S>{S::UsbPort, "usb-port", "USB port"},
                                    hinge::Name<S>{S::Battery, "battery", "battery"},
                                    hinge::Name<S>{S::PowerBank, "power-bank", "USB power bank"},
                                    hinge::Name<S>{S::Transformer, "transformer", "transformer, rectified"}};
};
template <>
struct hinge::Names<hinge::power::UsbPromise> {
    using U = hinge::power::UsbPromise;
    static constexpr std::array all{hinge::Name<U>{U::Unconfigured, "unconfigured", "not configured, 100 mA"},
                                    hinge::Name<U>{U::Usb2, "usb2", "USB 2.0, 500 mA"}, hinge::Name<U>{U::Usb3, "usb3", "USB 3, 900 mA"},
                                    hinge::Name<U>{U::Charger, "charger", "charger port, 1.5 A"},
                                    hinge::Name<U>{U::TypeC, "type-c", "type C, 3 A"}};
};
template <>
struct hinge::Names<hinge::power::Protection> {
    using P = hinge::power::Protection;
    static constexpr std::array all{hinge::Name<P>{P::None, "none", "none"}, hinge::Name<P>{P::Diode, "diode", "series diode"},
                                    hinge::Name<P>{P::Mosfet, "mosfet", "P-channel MOSFET"}};
};
template <>
struct hinge::Names<hinge::power::Conversion> {
    using C = hinge::power::Conversion;
    static constexpr std::array all{
        hinge::Name<C>{C::Direct, "direct", "straight through"}, hinge::Name<C>{C::Linear, "linear", "linear regulator"},
        hinge::Name<C>{C::Buck, "buck", "buck converter"}, hinge::Name<C>{C::Boost, "boost", "boost converter"}};
};
