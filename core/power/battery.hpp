#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::power {

enum class Chemistry { LiIon, LiFePo4, NiMh, Alkaline, LeadAcid };

/// Volts of one cell, full, nominal and empty. @source common practice, no published source
struct CellVolts {
    double full = 0.0, nominal = 0.0, empty = 0.0;
};
[[nodiscard]] CellVolts cellVolts(Chemistry chemistry);

/// Cells in series and parallel under a load.
struct BatteryRuntime {
    Chemistry chemistry = Chemistry::LiIon;
    Count series = of<Count>(1.0);
    Count parallel = of<Count>(1.0);
    Charge capacity{};  ///< of one cell
    Current average_current{};
    std::optional<Current> peak_current;  ///< absent: the average
    Resistance cell_resistance{};
    Fraction usable_fraction = of<Fraction>(0.8);
    std::optional<Duration> daily_on_time;
};
struct BatteryRuntimeResult {
    Voltage voltage_full{};
    Voltage voltage_nominal{};
    Voltage voltage_empty{};
    Duration runtime{};
    Voltage sag{};
    Ratio discharge_rate{};  ///< 1/h
    std::optional<Duration> days_between_charges;
};
/// runtime = capacity·parallel·usable/average; sag = peak·R·series/parallel.
/// @source common practice, no published source
[[nodiscard]] Result<Worked<BatteryRuntimeResult>> batteryRuntime(const BatteryRuntime& in);
[[nodiscard]] FormPtr batteryRuntimeForm();

}  // namespace hinge::power

template <>
struct hinge::Names<hinge::power::Chemistry> {
    using C = hinge::power::Chemistry;
    static constexpr std::array all{hinge::Name<C>{C::LiIon, "li-ion", "Li-ion"}, hinge::Name<C>{C::LiFePo4, "lifepo4", "LiFePO₄"},
                                    hinge::Name<C>{C::NiMh, "nimh", "NiMH"}, hinge::Name<C>{C::Alkaline, "alkaline", "alkaline"},
                                    hinge::Name<C>{C::LeadAcid, "lead-acid", "lead-acid"}};
};
