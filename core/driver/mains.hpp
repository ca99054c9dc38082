#pragma once
#include "quantity/series.hpp"
#include "working/form.hpp"

namespace hinge::driver {

/// Sensing the mains' zero crossing through resistors and an opto-coupler.
struct ZeroCross {
    Voltage mains_voltage{};  ///< rms
    Frequency mains_frequency{};
    Resistance series_resistance{};  ///< in all
    Count resistor_count = of<Count>(2.0);
    Voltage led_drop = of<Voltage>(1.2);
    Current threshold_current = of<Current>(1e-3);  ///< in the LED, at which the coupler switches
};
struct ZeroCrossResult {
    Frequency pulses_per_second{};
    Duration half_period{};
    Current led_peak_current{};
    Power resistor_power{};         ///< each
    std::optional<Duration> early;  ///< its edge comes that long before the crossing; null when it never switches
};
/// Always with the note `mains-present`. @source ohm
[[nodiscard]] Result<Worked<ZeroCrossResult>> zeroCross(const ZeroCross& in);
[[nodiscard]] FormPtr zeroCrossForm();

/// Firing delay of phase control into a resistive load.
struct PhaseAngle {
    Frequency mains_frequency{};
    std::optional<Fraction> power_fraction;  ///< one of these
    std::optional<Duration> delay;           ///< after the crossing, to half a period
};
struct PhaseAngleResult {
    Fraction power_fraction{};
    Duration delay{};
    Angle firing_angle{};
    Fraction rms_fraction{};
};
/// power = 1 − α/π + sin 2α/2π, α = 2πf·delay; solved by bisection on [0, π] to 1e-12.
/// Always with the note `mains-present`.
/// @error OutOfRange  a delay beyond half a period
/// @source derived: mean square of a sine from α to π
[[nodiscard]] Result<Worked<PhaseAngleResult>> phaseAngle(const PhaseAngle& in);
[[nodiscard]] FormPtr phaseAngleForm();

/// The fewest whole cycles that take whole ticks of the sketch, 1 ms: one at 50 Hz, three at 60 Hz. The sketch gives and withholds the
/// mains in blocks of so many.
[[nodiscard]] int cyclesTogether(Frequency mains);
/// Power in whole cycles, for a relay that switches at the crossing: no dimming, but no noise either.
struct WholeCycles {
    Fraction power_fraction{};
    Frequency mains_frequency{};
    Count cycles = of<Count>(50.0);  ///< of the pattern, at most 1000
};
struct WholeCyclesResult {
    Count on_cycles{};
    Fraction actual{};    ///< on_cycles/cycles
    Duration window{};    ///< of the pattern
    std::string pattern;  ///< "10010", spread as evenly as it goes
};
/// On cycles are the nearest whole number; cycle k is on where floor((k + 1)·n/N) exceeds floor(k·n/N).
/// @error OutOfRange  more than 1000 cycles
/// @source derived: even spreading by whole-number steps
[[nodiscard]] Result<Worked<WholeCyclesResult>> wholeCycles(const WholeCycles& in);
[[nodiscard]] FormPtr wholeCyclesForm();

/// A resistor in front of an LED.
struct LedResistor {
    Voltage supply{};
    Voltage led_drop{};
    Current current{};
    Series series = Series::E12;
    std::optional<Resistance> fitted;  ///< that is there; absent: the one proposed
    std::optional<Power> rating;       ///< of the resistor
};
struct LedResistorResult {
    Resistance resistance{};
    Resistance standard{};   ///< next higher
    Power power{};           ///< in the standard one, or the fitted one
    Current real_current{};  ///< through the LED with it
};
/// @error OutOfRange  the supply is not above the LED's drop
/// @source ohm, iec-60063
[[nodiscard]] Result<Worked<LedResistorResult>> ledResistor(const LedResistor& in);
[[nodiscard]] FormPtr ledResistorForm();

}  // namespace hinge::driver
