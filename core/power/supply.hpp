#pragma once
#include "quantity/names.hpp"
#include "working/worked.hpp"
#include <array>

namespace hinge::power {

enum class SourceKind { WallAdapter, BenchSupply, UsbPort };
enum class Conversion { Direct, Linear, Buck };

/// What feeds the gadget.
struct Source {
    std::string id;
    std::string name;
    SourceKind kind = SourceKind::WallAdapter;
    std::optional<Voltage> voltage;
    std::optional<Current> current;   ///< that it promises
    bool ground_joined = true;        ///< its minus meets the board's ground
    friend bool operator==(const Source&, const Source&) = default;
};

/// A rail, fed by the source or by another rail.
struct Rail {
    std::string id;
    std::string name;
    std::string from;                          ///< id of a source or rail
    Conversion conversion = Conversion::Direct;
    std::optional<Voltage> voltage;            ///< of a converter's output; Direct takes its feed's
    Area wire_area = of<Area>(0.5e-6);
    Length wire_length = of<Length>(1.0);      ///< one way
    std::optional<Current> fuse;               ///< rated current; absent: none fitted
    std::optional<Capacitance> bulk;           ///< absent: none fitted
    Resistance bulk_esr = of<Resistance>(0.1);
    Voltage dropout = of<Voltage>(1.1);        ///< linear
    ThermalResistance theta_ja = of<ThermalResistance>(65.0);  ///< linear
    Fraction efficiency = of<Fraction>(0.88);  ///< buck
    friend bool operator==(const Rail&, const Rail&) = default;
};

}  // namespace hinge::power

template <>
struct hinge::Names<hinge::power::SourceKind> {
    using S = hinge::power::SourceKind;
    static constexpr std::array all{hinge::Name<S>{S::WallAdapter, "wall-adapter", "wall adapter"}, hinge::Name<S>{S::BenchSupply, "bench-supply", "bench supply"},
                                    hinge::Name<S>{S::UsbPort, "usb-port", "USB port"}};
};
template <>
struct hinge::Names<hinge::power::Conversion> {
    using C = hinge::power::Conversion;
    static constexpr std::array all{hinge::Name<C>{C::Direct, "direct", "straight through"}, hinge::Name<C>{C::Linear, "linear", "linear regulator"}, hinge::Name<C>{C::Buck, "buck", "buck converter"}};
};
