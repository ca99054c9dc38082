#pragma once
#include "working/form.hpp"

namespace hinge::power {

/// Something that heats while it is on and cools while it is off: a regulator, a driver, a motor.
struct ThermalDuty {
    Power power{};              ///< while on
    ThermalResistance theta{};  ///< to the air around it
    Duration time_constant{};
    Duration on_time{};
    Duration off_time{};
    Temperature ambient = Temperature::celsius(25.0);
    std::optional<ThermalConductance> box;  ///< of a closed box to the room; absent: open air
    Power box_power{};                      ///< of all else in the box, on average
    std::optional<Temperature> limit;
};
struct ThermalDutyResult {
    Temperature peak{};  ///< at the end of each time on, once it repeats
    Temperature mean{};
    Temperature steady{};                ///< if it stayed on
    Temperature air{};                   ///< around it
    std::optional<Duration> longest_on;  ///< from cold to the limit; null: for ever
};
/// One time constant: rise at the end of on = P·θ·(1 − e^(−on/τ))/(1 − e^(−(on+off)/τ)); a box adds its mean
/// heat over its conductance to the air inside.
/// @source derived: first-order heating, periodic solution
[[nodiscard]] Result<Worked<ThermalDutyResult>> thermalDuty(const ThermalDuty& in);
[[nodiscard]] FormPtr thermalDutyForm();

/// Heat path and time constant from one measurement: after `time` on at `power` from cold it reads `temperature`,
/// and settles at `settled`.
struct ThermalMeasured {
    Power power{};
    Temperature ambient = Temperature::celsius(25.0);
    Duration time{};
    Temperature temperature{};  ///< after that time
    Temperature settled{};      ///< in the end
};
struct ThermalMeasuredResult {
    ThermalResistance theta{};
    Duration time_constant{};
};
/// @error OutOfRange  temperatures that do not rise from the air to the reading to the settled one
/// @source derived: first-order heating from cold
[[nodiscard]] Result<Worked<ThermalMeasuredResult>> thermalMeasured(const ThermalMeasured& in);
[[nodiscard]] FormPtr thermalMeasuredForm();

/// What a meter does to what it measures.
struct MeterBurden {
    Voltage supply{};
    Resistance source_resistance{};      ///< of what feeds
    Resistance load{};                   ///< what is measured
    std::optional<Resistance> series;    ///< an ammeter's shunt and leads, or an LED string's, in the way
    std::optional<Resistance> parallel;  ///< a voltmeter's, or an LED with its resistor, across the load
};
struct MeterBurdenResult {
    Voltage voltage_before{};  ///< at the load, without the meter
    Voltage voltage_with{};
    Current current_before{};
    Current current_with{};
    Current bypass{};  ///< through a parallel meter
    Fraction error{};  ///< of the load's current, below 0: less
};
/// @source ohm
[[nodiscard]] Result<Worked<MeterBurdenResult>> meterBurden(const MeterBurden& in);
[[nodiscard]] FormPtr meterBurdenForm();

}  // namespace hinge::power
