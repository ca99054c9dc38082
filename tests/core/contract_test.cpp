// The workings of all stages that the first channel does not need, against handbook formulas worked
// by hand, published tables and facts of the trade. The source stands in each row.
#include "control/step_fit.hpp"
#include "core/working_cases.hpp"

namespace hinge {
namespace {

using test::Case;
constexpr double pi = 3.14159265358979323846, g = 9.80665;

const Case cases[] = {
    // Need
    {"LeverGravity", "lever-load", "mass=90g;arm=110mm;move_angle=75deg;move_time=0.9", "gravity_torque", 0.09 * g * 0.11, 1e-12,
     Verdict::Holds, "hand-worked: m·g·r at level"},
    {"LeverAccel", "lever-load", "mass=90g;arm=110mm;move_angle=75deg;move_time=0.9", "accel_torque",
     0.09 * 0.0121 * 4 * (75 * pi / 180) / 0.81, 1e-12, Verdict::Holds, "hand-worked: J·4φ/t²"},
    {"LeverUp", "lever-load", "mass=1;arm=1;angle=60deg;move_angle=1rad;move_time=1e6", "gravity_torque", g / 2, 1e-12, Verdict::Holds,
     "cos 60° is a half"},
    {"LeverInertiaOnly", "lever-load", "mass=0;arm=1;inertia=2;move_angle=1rad;move_time=2", "peak_torque", 2.0, 1e-12, Verdict::Holds,
     "hand-worked: 2·4·1/4, no weight"},
    {"LeverPeakSpeed", "lever-load", "mass=1;arm=0.1;move_angle=90deg;move_time=1", "peak_speed", pi, 1e-12, Verdict::Holds,
     "a triangle's top is twice its mean"},
    {"LinearSlope", "linear-load", "mass=2;incline=30deg", "force", 2 * g * 0.5, 1e-12, Verdict::Holds, "textbook: m·g·sin 30°"},
    {"LinearFriction", "linear-load", "mass=1;friction_coefficient=0.3;acceleration=2;extra_force=-1;speed=0.5", "power",
     (0.3 * g + 2 - 1) * 0.5, 1e-12, Verdict::Holds, "hand-worked"},
    {"ScrewTorque", "screw-drive", "force=100;lead=2mm;efficiency=0.4", "torque", 100 * 0.002 / (2 * pi * 0.4), 1e-12, Verdict::Holds,
     "Shigley, power screws, by efficiency"},
    {"ScrewLocks", "screw-drive", "force=1;lead=2mm;mean_diameter=7mm", "self_locking", 1, 0, Verdict::Holds,
     "2/(π·7) = 0.091 is below 0.15"},
    {"ScrewRuns", "screw-drive", "force=1;lead=8mm;mean_diameter=7mm", "self_locking", 0, 0, Verdict::Holds,
     "8/(π·7) = 0.364 is above 0.15"},
    {"ScrewSpeed", "screw-drive", "force=1;lead=8mm;speed=80mm/s", "rotation_speed", 20 * pi, 1e-12, Verdict::Holds, "ten turns a second"},
    {"BeltTorque", "belt-drive", "force=10;pulley_teeth=20;belt_pitch=2mm", "torque", 10 * 0.04 / (2 * pi), 1e-12, Verdict::Holds,
     "work of one turn"},
    {"BeltTravel", "belt-drive", "force=1;pulley_teeth=20;belt_pitch=2mm", "travel_per_turn", 0.04, 1e-12, Verdict::Holds,
     "20 teeth of 2 mm"},
    {"WheelTorque", "wheel-drive", "mass=1;wheel_diameter=80mm;slope=30deg;rolling_coefficient=0.02", "torque_per_wheel",
     g*(0.5 + 0.02 * std::cos(pi / 6)) * 0.02, 1e-12, Verdict::Holds, "hand-worked: F·D/2 on two wheels"},
    {"WheelLargerGoesFarther", "wheel-step", "wheel_diameter=104mm", "distance_per_step", 1.3 * pi * 0.08 / 3200, 1e-12, Verdict::Holds,
     "common practice, no published source: a wheel 30 % larger goes 30 % farther"},
    {"Steer", "steer-in-place", "wheel_load=20;contact_width=30mm;kingpin_offset=10mm", "torque", 0.8 * 20 * std::sqrt(0.0009 / 8 + 0.0001),
     1e-12, Verdict::Holds, "Gillespie's formula by hand"},
    {"CrankSteps", "crank-turns", "turns=12.5;turn_time=25;microsteps=8", "steps", 20000, 0, Verdict::Holds, "hand-worked: 12.5·200·8"},
    {"CrankSpeed", "crank-turns", "turns=12.5;turn_time=25", "rotation_speed", pi, 1e-12, Verdict::Holds, "half a turn a second"},
    {"AirForHeat", "airflow-need", "heat=100;temperature_rise=10", "flow", 100 / (1.204 * 1006 * 10), 1e-12, Verdict::Holds,
     "P/(ρ·c·ΔT) by hand"},
    {"AirForRoom", "airflow-need", "volume=30;changes_per_hour=6", "flow", 0.05, 1e-12, Verdict::Holds, "180 m³/h"},
    {"AirForHood", "airflow-need", "area=0.2;face_velocity=0.5", "flow", 0.1, 1e-12, Verdict::Holds, "A·v"},
    {"HeatWater", "heat-need", "mass=1;temperature_rise=80;warm_up_time=334.88", "power", 1000, 1e-12, Verdict::Holds,
     "1 L of water by 80 K in 335 s takes a kilowatt"},
    {"HeatHolding", "heat-need", "mass=1;temperature_rise=20degC;warm_up_time=3600;loss_conductance=0.5", "holding_power", 10, 1e-12,
     Verdict::Holds, "0.5 W/K over 20 K"},
    {"SecondsPendulum", "swing", "length=0.9936", "period", 2.0, 2e-4, Verdict::Holds, "the seconds pendulum is 994 mm long (textbook)"},
    {"SwingWide", "swing", "length=1;amplitude=60deg", "period", 2 * pi* std::sqrt(1 / g) * (1 + pi * pi / 9 / 16), 1e-12, Verdict::Tight,
     "first term of the series"},
    // Match
    {"StepperStanding", "stepper-torque",
     "holding_torque=0.4;rated_current=1.2;phase_resistance=2;phase_inductance=3mH;supply_voltage=12;drive_current=1.2;speed=0", "torque",
     0.4 / std::sqrt(2.0), 1e-12, Verdict::Holds, "at rest: Kt times the drive current"},
    {"StepperVoltage", "stepper-torque",
     "holding_torque=0.4;rated_current=1;phase_resistance=10;phase_inductance=1uH;supply_voltage=5;drive_current=1;speed=0", "current", 0.5,
     1e-9, Verdict::Holds, "Ohm: 5 V/10 Ω"},
    {"StepperTooFast", "stepper-torque",
     "holding_torque=0.4;rated_current=1;phase_resistance=2;phase_inductance=3mH;supply_voltage=12;drive_current=1;speed=100;load_torque=0."
     "1",
     "torque", 0, 0, Verdict::Breaks, "Kt·ω = 28 V is above the supply"},
    {"StepperOverHalf", "stepper-torque",
     "holding_torque=0.4;rated_current=1;phase_resistance=1;phase_inductance=1uH;supply_voltage=24;drive_current=1.4;speed=0;load_torque=0."
     "25",
     "load_fraction", 0.25 / (0.4 / std::sqrt(2.0) * 1.4), 1e-12, Verdict::Tight, "0.63 of the torque"},
    {"ServoBetween", "rc-servo",
     "torque_low=0.196;voltage_low=4.8;torque_high=0.274;voltage_high=6;time_per_60deg=0.11;supply=5;load_torque=0.108;move_angle=75deg",
     "stall_torque", 0.196 + 0.2 / 1.2 * 0.078, 1e-12, Verdict::Tight, "linear between the two figures, by hand"},
    {"ServoTime", "rc-servo",
     "torque_low=0.2;voltage_low=4.8;torque_high=0.2;voltage_high=6;time_per_60deg=0.12;supply=5;load_torque=0.1;move_angle=60deg",
     "move_time", 0.24, 1e-12, Verdict::Holds, "half of stall: half the speed"},
    {"ServoOver", "rc-servo",
     "torque_low=0.2;voltage_low=4.8;torque_high=0.3;voltage_high=6;time_per_60deg=0.12;supply=7.4;load_torque=0;move_angle=60deg",
     "stall_torque", 0.3, 1e-12, Verdict::Breaks, "contract: above voltage_high"},
    {"ServoTooWeak", "rc-servo",
     "torque_low=0.2;voltage_low=4.8;torque_high=0.3;voltage_high=6;time_per_60deg=0.12;supply=4.8;load_torque=0.17;move_angle=60deg",
     "load_fraction", 0.85, 1e-12, Verdict::Breaks, "above 0.8"},
    // 80 − 800·Q = 40000·Q² ⇒ Q = (−800 + √(640000 + 1.28e7))/80000
    {"FanPoint", "fan-point", "curve=0:80,0.1:0;system_k=40000", "flow", (-800 + std::sqrt(640000 + 1.28e7)) / 80000, 1e-12, Verdict::Holds,
     "quadratic formula by hand"},
    {"FanAffinity", "fan-point", "curve=0:80,0.1:0;system_k=0;speed_fraction=0.5", "flow", 0.05, 1e-12, Verdict::Holds,
     "affinity: half the speed, half the free flow"},
    {"FanAffinityPercent", "fan-point", "curve=0:80,0.1:0;system_k=0;speed_fraction=82%", "flow", 0.082, 1e-12, Verdict::Holds,
     "affinity: the free flow goes with the speed"},
    {"FanAffinityAbove", "fan-point", "curve=0:80,0.1:0;system_k=0;speed_fraction=150 %", "flow", 0.15, 1e-12, Verdict::Holds,
     "affinity: the free flow goes with the speed"},
    // 2700 of 3000 rpm: σ = 0.1; x² + 2.25·x − 2.5 = 0 at half of the volts. 60 Hz and 1650 of 1800 rpm: a field of four poles.
    {"MainsFanHalfVolts", "mains-fan", "volts=0.5;rated_speed=2700rpm", "speed_fraction", (-2.25 + std::sqrt(5.0625 + 10.0)) / 2, 1e-12,
     Verdict::Holds, "quadratic formula by hand"},
    {"MainsFanWhole", "mains-fan", "rated_speed=1650rpm;mains_frequency=60", "speed_fraction", 1.0, 1e-12, Verdict::Holds,
     "at all of its volts it has its rated speed"},
    {"MainsFanPoles", "mains-fan", "rated_speed=1650rpm;mains_frequency=60", "slip", 150.0 / 1800.0, 1e-12, Verdict::Holds,
     "four poles at 60 Hz: 1800 rpm"},
    // Drive
    {"SenseAtWork", "current-sense", "resistance=30;voltage=2.2", "current", 0.0733333333333333, 1e-9, Verdict::Holds,
     "common practice, no published source: 2.2 V across 30 Ω is 73 mA"},
    {"SenseOver", "current-sense", "resistance=1;current=0.5;worst_voltage=6", "voltage", 0.5, 1e-12, Verdict::Breaks,
     "6 V into a 5 V input"},
    {"ChopperReference", "stepper-current", "current=1;sense_resistor=0.1", "reference_voltage", 0.8, 1e-12, Verdict::Holds,
     "data sheet practice: I·8·Rs"},
    {"ChopperHalfCurrent", "stepper-current", "current=0.5;sense_resistor=0.1;measured_temperature=65degC;measured_current=1",
     "predicted_temperature", 308.15, 1e-12, Verdict::Holds, "half the current, a quarter of the 40 K"},
    {"BridgeDrop", "h-bridge-loss", "current=0.8;drop=2;supply=9", "load_voltage", 7, 1e-12, Verdict::Holds, "9 V less 2 V"},
    {"BridgeLoss", "h-bridge-loss", "current=2;on_resistance=0.3;supply=12;duty=0.5", "dissipation", 0.6, 1e-12, Verdict::Holds, "I²·R·d"},
    {"ZeroCrossPeak", "zero-cross", "mains_voltage=240;mains_frequency=50;series_resistance=94k", "led_peak_current", 3.6e-3, 5e-3,
     Verdict::Holds, "common practice, no published source: 3.6 mA peak, to its last digit"},
    {"ZeroCrossHeat", "zero-cross", "mains_voltage=240;mains_frequency=50;series_resistance=94k", "resistor_power", 0.31, 1.5e-2,
     Verdict::Holds, "common practice, no published source: 0.31 W each, to its last digit"},
    {"ZeroCrossEarly", "zero-cross", "mains_voltage=240;mains_frequency=50;series_resistance=94k", "early", 0.91e-3, 1e-2, Verdict::Holds,
     "hand-worked: 1.2 V + 1 mA·94 kΩ = 95.2 V of 339.4 V peak is 16.29°, of 360° in 20 ms"},
    {"WholeCyclesThird", "whole-cycles", "power_fraction=0.3;mains_frequency=50;cycles=50", "on_cycles", 15, 0, Verdict::Holds,
     "hand-worked: 15 of 50"},
    {"WholeCyclesWindow", "whole-cycles", "power_fraction=0.3;mains_frequency=60;cycles=30", "window", 0.5, 1e-12, Verdict::Holds,
     "hand-worked: 30 cycles of 1/60 s"},
    {"DischargeConstant", "battery-discharge", "chemistry=li-ion;series=3;capacity=2.5;profile=0.5A@3600s", "runtime", 18000, 1e-9,
     Verdict::Holds, "closed form: 2.5 A·h at 0.5 A is 5 h"},
    {"DischargeSag", "battery-discharge", "chemistry=li-ion;series=1;capacity=2;cell_resistance=0.1;profile=1A@10s;cutoff=3.4V", "runtime",
     7200 * (1 - 0.5 * (3.5 - 3.0) / 0.6), 1e-9, Verdict::Tight,
     "closed form: 3.4 V + 1 A·0.1 Ω = 3.5 V, reached on the straight from 3.6 V at half to 3.0 V at nothing left"},
    {"DischargeMean", "battery-discharge", "chemistry=nimh;series=4;capacity=2;profile=0.05A@3500s,0.8A@100s", "average",
     (0.05 * 3500 + 0.8 * 100) / 3600, 1e-12, Verdict::Holds, "hand-worked: 255 C in an hour"},
    {"DischargeProfile", "battery-discharge", "chemistry=nimh;series=4;capacity=2;profile=0.05A@3500s,0.8A@100s", "runtime",
     28 * 3600.0 + 60.0 / 0.05, 1e-9, Verdict::Holds, "hand-worked: 7200 C are 28 hours of 255 C and 60 C at 0.05 A"},
    {"ThermalLong", "thermal-duty", "power=2W;theta=30 K/W;time_constant=120s;on_time=1e6;ambient=25degC", "peak", 25 + 273.15 + 60, 1e-12,
     Verdict::Holds, "closed form: settled at P·θ"},
    {"ThermalShort", "thermal-duty", "power=2W;theta=30 K/W;time_constant=120s;on_time=120s;off_time=120s;ambient=25degC", "peak",
     298.15 + 60 / (1 + 0.36787944117144233), 1e-12, Verdict::Holds, "closed form: (1 − e⁻¹)/(1 − e⁻²) = 1/(1 + e⁻¹)"},
    {"ThermalBox", "thermal-duty",
     "power=2W;theta=30 K/W;time_constant=120s;on_time=60s;off_time=60s;ambient=25degC;box=0.5 W/K;box_power=3W", "air", 298.15 + 8, 1e-12,
     Verdict::Holds, "hand-worked: 1 W on average and 3 W over 0.5 W/K"},
    {"ThermalLimit", "thermal-duty", "power=2W;theta=30 K/W;time_constant=120s;on_time=60s;off_time=600s;ambient=25degC;limit=55degC",
     "longest_on", 120 * 0.6931471805599453, 1e-12, Verdict::Tight,
     "closed form: half of the rise after ln 2 time constants; its peak is 23.6 K up, 6.4 K under the limit"},
    {"ThermalMeasured", "thermal-measured", "power=2W;ambient=25degC;time=120s;temperature=55degC;settled=85degC", "time_constant",
     120 / 0.6931471805599453, 1e-12, Verdict::Holds, "closed form: half way after ln 2 time constants"},
    {"BurdenSeries", "meter-burden", "supply=6V;load=10;series=2", "current_with", 0.5, 1e-12, Verdict::Tight,
     "hand-worked: 6 V over 12 Ω instead of 10 Ω"},
    {"BurdenParallel", "meter-burden", "supply=10V;source_resistance=1k;load=1k;parallel=1M", "voltage_with",
     10 * (1e9 / 1.001e6) / (1e3 + 1e9 / 1.001e6), 1e-12, Verdict::Holds, "hand-worked: 999 Ω against 1 kΩ"},
    {"ZeroCrossPulses", "zero-cross", "mains_voltage=120;mains_frequency=60;series_resistance=47k", "pulses_per_second", 120, 1e-12,
     Verdict::Holds, "common practice, no published source: 120 at 60 Hz"},
    {"PhaseHalf", "phase-angle", "mains_frequency=50;power_fraction=50%", "delay", 5e-3, 1e-9, Verdict::Holds,
     "common practice, no published source: 5 ms at 50 Hz"},
    {"PhaseQuarter", "phase-angle", "mains_frequency=50;power_fraction=0.25", "delay", 6.32e-3, 1e-3, Verdict::Holds,
     "common practice, no published source: 6.32 ms, to its last digit"},
    {"PhaseThreeQuarters", "phase-angle", "mains_frequency=50;power_fraction=0.75", "delay", 3.68e-3, 1.5e-3, Verdict::Holds,
     "common practice, no published source: 3.68 ms, to its last digit"},
    {"PhaseRms", "phase-angle", "mains_frequency=50;delay=5ms", "rms_fraction", std::sqrt(0.5), 1e-12, Verdict::Holds,
     "half the power is 71 % of the volts"},
    {"LedResistor", "led-resistor", "supply=5;led_drop=2;current=10mA", "standard", 330, 1e-12, Verdict::Holds,
     "300 Ω, next E12 330 Ω (IEC 60063)"},
    {"LedPower", "led-resistor", "supply=5;led_drop=2;current=10mA", "power", 9.0 / 330, 1e-12, Verdict::Holds, "V²/R"},
    // Feed
    {"BatteryVolts", "battery-runtime", "chemistry=li-ion;series=3;capacity=2;average_current=1", "voltage_full", 12.6, 1e-12,
     Verdict::Holds, "common practice, no published source: three in series are 12.6 V full"},
    {"BatteryEmpty", "battery-runtime", "chemistry=li-ion;series=3;capacity=2;average_current=1", "voltage_empty", 9.0, 1e-12,
     Verdict::Holds, "common practice, no published source: 9 V empty"},
    {"BatteryRuntime", "battery-runtime", "chemistry=nimh;series=4;parallel=2;capacity=2;average_current=0.5", "runtime",
     2 * 2 * 0.8 / 0.5 * 3600, 1e-12, Verdict::Holds, "4 A·h, four fifths, at half an ampere"},
    {"BatteryDays", "battery-runtime", "chemistry=alkaline;series=4;capacity=2;average_current=0.2;daily_on_time=2h",
     "days_between_charges", 4, 1e-12, Verdict::Holds, "8 h at 2 h a day"},
    {"BatterySag", "battery-runtime",
     "chemistry=li-ion;series=2;parallel=2;capacity=2;average_current=1;peak_current=4;cell_resistance=50m", "sag", 0, 0, Verdict::Holds,
     ""},
    {"BatterySagOhm", "battery-runtime",
     "chemistry=li-ion;series=2;parallel=2;capacity=2;average_current=1;peak_current=4;cell_resistance=0.05", "sag", 0.2, 1e-12,
     Verdict::Holds, "Ohm: 4 A through 50 mΩ"},
    {"BatteryRate", "battery-runtime", "chemistry=li-ion;series=1;capacity=2;average_current=1;peak_current=4", "discharge_rate", 2, 1e-12,
     Verdict::Holds, "4 A from 2 A·h"},
    {"RectifierPeak", "rectifier", "ac_voltage=15;frequency=50;diodes_in_path=0.0;current=1;capacitance=1000uF", "peak_voltage", 0, 0,
     Verdict::Holds, ""},
    {"RectifierFifteen", "rectifier", "ac_voltage=15;frequency=50;current=0.5;capacitance=2200uF", "smallest_capacitor_rating", 25, 1e-12,
     Verdict::Holds, "19.8 V with a fifth of room is 23.8 V"},
    {"RectifierUnloaded", "rectifier", "ac_voltage=15;frequency=50;no_load_factor=1.1;current=0.5;capacitance=2200uF",
     "smallest_capacitor_rating", 35, 1e-12, Verdict::Holds,
     "common practice, no published source: choose 35 V for a fifteen-volt transformer"},
    {"RectifierRipple", "rectifier", "ac_voltage=12;frequency=50;current=1;capacitance=4700uF", "ripple", 1 / (100 * 4.7e-3), 1e-12,
     Verdict::Holds, "I/(2·f·C)"},
    {"ReverseDiode", "reverse-protection", "current=2;on_resistance=0.05;supply=12", "diode_loss", 1, 1e-12, Verdict::Holds,
     "half a volt at 2 A"},
    {"ReverseMosfet", "reverse-protection", "current=2;on_resistance=0.05;supply=12", "mosfet_voltage_left", 11.9, 1e-12, Verdict::Holds,
     "Ohm"},
    {"DividerTwoCells", "voltage-divider", "v_max=8.4;adc_reference=5;r_top=10k;r_bottom=10k", "pin_voltage", 4.2, 1e-12, Verdict::Holds,
     "half"},
    {"DividerTheOtherSupply", "voltage-divider", "v_max=12;adc_reference=5;r_top=10k;r_bottom=10k", "pin_voltage", 6, 1e-12,
     Verdict::Breaks, "common practice, no published source: a divider for two cells sits at 6 V when 12 V go in"},
    {"DividerImpedance", "voltage-divider", "v_max=5;adc_reference=5;r_top=30k;r_bottom=10k", "source_impedance", 7500, 1e-12,
     Verdict::Holds, "in parallel"},
    // Pulse
    {"DeadTimeCounts", "dead-time", "clock=16MHz;prescaler=1;top=400;dead_time=510ns", "ticks", 9, 0, Verdict::Holds,
     "by hand: 8.16 counts of 62.5 ns, and never less than what is wanted"},
    {"DeadTimeMost", "dead-time", "clock=16MHz;prescaler=8;top=255;dead_time=500ns", "most", 253.0 / 255.0, 1e-12, Verdict::Holds,
     "by hand: one count of half a microsecond on each side"},
    {"FanDutyHalf", "fan-duty", "demand=0.5", "duty", 0.625, 1e-12, Verdict::Holds, "0.25 + half of the rest"},
    {"FanDutyOff", "fan-duty", "demand=0", "compare", 0, 0, Verdict::Holds, "off is off"},
    {"FanCompare", "fan-duty", "demand=1", "compare", 320, 0, Verdict::Holds, "full"},
    {"TachRpm", "tach", "pulses=40;window=1", "rpm", 1200, 1e-12, Verdict::Holds, "20 turns a second"},
    {"ServoCentre", "servo-pulse", "pulse_min=750us;pulse_max=2250us;angle_range=180deg;angle=90deg", "pulse", 1.5e-3, 1e-12,
     Verdict::Holds, "common practice, no published source: centre 1500 µs"},
    {"ServoTick", "servo-pulse", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;pulse=1.25ms", "angle", pi / 8, 1e-12, Verdict::Holds,
     "a quarter of 90°"},
    {"ServoOutside", "servo-pulse", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;angle=120deg", "pulse", 1e-3 + 4e-3 / 3, 1e-12,
     Verdict::Breaks, "the result is given, and breaks"},
    {"ServoFrame", "servo-pulse", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;angle=0;frame=1.5ms", "ticks", 2000, 0, Verdict::Breaks,
     "2 ms do not fit into 1.5 ms"},
    {"ServosTogether", "servo-together", "moves=0:40deg@0.12,1:90deg@0.17", "time", 90.0 / 60 * 0.17, 1e-12, Verdict::Holds,
     "the slowest by hand"},
    {"StepRate", "step-timing", "travel_per_turn=40mm;distance=0.58;duration=4", "step_rate", 11600, 1e-12, Verdict::Holds,
     "0.58 m at 80 000 steps/m in 4 s"},
    {"StepAngle", "step-timing", "travel_per_turn=1turn;distance=90deg;duration=1", "steps", 800, 0, Verdict::Holds, "a quarter of 3200"},
    {"StepTooFast", "step-timing", "travel_per_turn=40mm;distance=0.58;duration=4;largest_rate=9100Hz", "steps", 46400, 0, Verdict::Breaks,
     "11600 over 9100"},
    {"StepPulseTooShort", "step-timing", "travel_per_turn=1mm;distance=1;duration=10;pulse_width=2us", "step_rate", 320000, 1e-12,
     Verdict::Breaks, "3.1 µs leave no room for twice 2 µs"},
    {"ProfileTrapezoid", "step-profile", "steps=1000;rate=500;acceleration=1000", "duration", 2.5, 1e-12, Verdict::Holds,
     "n/v + v/a by hand"},
    {"ProfileTriangle", "step-profile", "steps=100;rate=1000;acceleration=1000", "peak_rate", std::sqrt(1e5), 1e-12, Verdict::Holds,
     "√(n·a)"},
    {"ProfileCruise", "step-profile", "steps=1000;rate=500;acceleration=1000steps/s2", "cruise_steps", 750, 1e-12, Verdict::Holds,
     "1000 less twice 125"},
    {"RampFirst", "step-intervals", "acceleration=200;steps=100;clock=1MHz", "first_interval", 100000, 1e-12, Verdict::Holds,
     "√(2/a) = 0.1 s, by hand"},
    {"RampRate", "step-intervals", "acceleration=1000;steps=500;clock=2MHz", "last_rate", 1000, 1e-12, Verdict::Holds,
     "√(2·500·1000), kinematics"},
    {"SCurveLong", "s-curve", "steps=10000;rate=2000;acceleration=4000;jerk=16000", "duration",
     10000.0 / 2000 + 2000.0 / 4000 + 4000.0 / 16000, 1e-9, Verdict::Holds, "closed form: n/v + v/a + a/j"},
    {"SCurveShort", "s-curve", "steps=250;rate=1e6;acceleration=1e6;jerk=16000", "duration", 4 * std::cbrt(250 / (2.0 * 16000)), 1e-9,
     Verdict::Holds, "closed form: four stretches of jerk alone, n = 2·j·t³"},
    {"SCurveSlower", "s-curve", "steps=10000;rate=2000;acceleration=4000;jerk=16000", "longer_by", 0.25, 1e-9, Verdict::Holds,
     "a/j longer than the trapezoid"},
    {"RampFast", "step-intervals", "acceleration=1e9;steps=1000;clock=2MHz", "last_interval", 1, 1.0, Verdict::Breaks, "under two ticks"},
    {"MicroSixteen", "microstep-torque", "holding_torque=0.4;microsteps=16", "step_torque", 0.4 * 0.0980171403, 1e-8, Verdict::Holds,
     "sin 5.625°, tables: 9.8 % of the holding torque"},
    {"MicroFull", "microstep-torque", "holding_torque=0.4;microsteps=1", "step_torque", 0.4, 1e-12, Verdict::Holds, "sin 90°"},
    {"MicroLag", "microstep-torque", "holding_torque=0.4;load_torque=0.2;microsteps=16", "lag", 0.0104719755, 1e-8, Verdict::Holds,
     "asin ½ = 30° electrical, 0.6° at 50 poles"},
    {"MicroLost", "microstep-torque", "holding_torque=0.4;load_torque=0.2;microsteps=16", "lost", 5, 1e-12, Verdict::Holds,
     "30°/5.625° = 5.33"},
    {"MicroSlips", "microstep-torque", "holding_torque=0.4;load_torque=0.5", "step_torque", 0.4 * 0.0980171403, 1e-8, Verdict::Breaks,
     "load above holding"},
    {"Resonates", "step-resonance", "holding_torque=0.4;inertia=5.4e-6", "natural_frequency", 306.29, 1e-4, Verdict::Holds,
     "√(50·0.4/5.4e-6)/2π by hand: 1924.5/6.2832"},
    {"ResonanceHit", "step-resonance", "holding_torque=0.4;inertia=5.4e-6;step_rate=300", "full_step_rate", 300, 1e-12, Verdict::Tight,
     "within a third of 306"},
    {"ResonanceMicro", "step-resonance", "holding_torque=0.4;inertia=5.4e-6;step_rate=4800;microsteps=16", "full_step_rate", 300, 1e-12,
     Verdict::Holds, "the same, in sixteenths"},
    {"HomeOverrun", "homing", "speed=50mm/s;backoff_speed=2mm/s;step_length=0.05mm", "overrun", 1.05e-3, 1e-12, Verdict::Holds,
     "50 mm/s in 21 ms"},
    {"HomeAgain", "homing", "speed=50mm/s;backoff_speed=2mm/s;step_length=0.05mm", "repeatability", 52e-6, 1e-9, Verdict::Holds,
     "2 µm and a step"},
    {"CreepHalfDay", "creep", "length=1m;duration=12h;pictures=720;exposure=2s;distance_per_step=12.5um", "step_interval", 0.54, 1e-12,
     Verdict::Holds, "80 000 steps in 43 200 s"},
    {"CreepBlur", "creep", "length=1m;duration=12h;pictures=720;exposure=2s;distance_per_step=12.5um", "blur", 2.0 / 43200, 1e-12,
     Verdict::Holds, "two seconds at 1 m in 43 200 s"},
    {"CreepTooLong", "creep", "length=1m;duration=1h;pictures=3600;exposure=2s;distance_per_step=12.5um", "picture_interval", 1.0, 1e-12,
     Verdict::Breaks, "2 s in every 1 s"},
    {"CreepRollover", "creep", "length=1m;duration=50days;distance_per_step=12.5um", "speed", 1.0 / 4320000, 1e-9, Verdict::Tight,
     "2^32 ms are 49.7 days"},
    {"HornTooth", "horn-mount", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;rest_angle=30deg;swing=20deg", "teeth_over", 2, 1e-12,
     Verdict::Holds, "14.4° a tooth: 28.8° is the nearest"},
    {"HornTrim", "horn-mount", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;rest_angle=30deg;swing=20deg", "trim", 1.2 / 90.0 * 1e-3,
     1e-9, Verdict::Holds, "1.2° left over at 11.1 µs a degree"},
    {"HornLeft", "horn-mount", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;rest_angle=30deg;swing=20deg", "left",
     23.8 / 180.0 * 3.14159265358979, 1e-9, Verdict::Holds, "45 − 1.2 − 20"},
    {"HornPast", "horn-mount", "pulse_min=1ms;pulse_max=2ms;angle_range=90deg;rest_angle=0deg;swing=50deg", "middle", 1.5e-3, 1e-12,
     Verdict::Breaks, "50° of 45°"},
    {"LoadHand", "interrupt-load", "interrupts=16kHz@110,976.5625Hz@80;clock=16MHz", "load", (16000.0 * 110 + 976.5625 * 80) / 16e6, 1e-12,
     Verdict::Holds, "by hand: 11.5 %"},
    {"LoadHalf", "interrupt-load", "interrupts=100kHz@100;clock=16MHz", "load", 0.625, 1e-12, Verdict::Tight, "10 million of 16"},
    {"LoadFull", "interrupt-load", "interrupts=160kHz@100;clock=16MHz", "load", 1.0, 1e-12, Verdict::Breaks, "all of them"},
    {"ProfileFirst", "step-profile", "steps=10;rate=100;acceleration=200", "first_interval", 0.1, 1e-12, Verdict::Holds, "√(2/a)"},
    {"ThirdOfTheTrack", "partial-run", "full_length=0.9;section=0.3;section_time=2h", "full_time", 6 * 3600, 1e-12, Verdict::Holds,
     "common practice, no published source: a third in T is 3·T for all"},
    // ATmega328P data sheet, examples of UBRR at 16 MHz (from memory): 9600 is 103, +0.2 %; 115200 at double speed 16, +2.1 %
    {"Uart9600", "uart-baud", "clock=16MHz;baud=9600;double_speed=false", "divisor", 103, 0, Verdict::Holds,
     "ATmega328P data sheet, baud table"},
    {"Uart57600", "uart-baud", "clock=16MHz;baud=57600", "divisor", 34, 0, Verdict::Holds,
     "ATmega328P data sheet, baud table: U2X 34, −0.8 %"},
    {"Uart115200", "uart-baud", "clock=16MHz;baud=115200", "error", 0.021, 2e-2, Verdict::Breaks,
     "ATmega328P data sheet, baud table: 2.1 %, to its last digit"},
    {"Uart250k", "uart-baud", "clock=16MHz;baud=250000", "error", 0, 0, Verdict::Holds, "ATmega328P data sheet: exact"},
    {"Uart250kNormal", "uart-baud", "clock=16MHz;baud=250000", "divisor", 3, 0, Verdict::Holds, "a tie goes to normal speed: 3"},
    // Tune: K = 2, T = 10 s, L = 1 s by hand in each rule
    {"ZieglerNicholsPid", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=ziegler-nichols", "kp", 6, 1e-12, Verdict::Holds,
     "Ziegler, Nichols 1942: 1.2·T/(K·L)"},
    {"ZieglerNicholsPi", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=ziegler-nichols;controller=pi", "ti", 1 / 0.3, 1e-12,
     Verdict::Holds, "Ziegler, Nichols 1942: L/0.3"},
    {"CohenCoonPid", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=cohen-coon", "ti", 32.6 / 13.8, 1e-12, Verdict::Holds,
     "Cohen, Coon 1953"},
    {"CohenCoonKp", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=cohen-coon", "kp", 5 * (4.0 / 3 + 0.025), 1e-12, Verdict::Holds,
     "Cohen, Coon 1953"},
    {"Simc", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=simc;controller=pi", "ti", 8, 1e-12, Verdict::Holds,
     "Skogestad 2003: 4·(τc + L)"},
    {"SimcKp", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=simc;controller=pi", "kp", 2.5, 1e-12, Verdict::Holds,
     "Skogestad 2003: T/(K·(τc + L))"},
    {"SimcNoDeadTime", "pid-rule", "gain=2;time_constant=10;dead_time=0;rule=simc;controller=pi;closed_loop_time=2", "kp", 2.5, 1e-12,
     Verdict::Holds, "Skogestad 2003 without dead time"},
    {"LambdaPid", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=lambda", "kp", 1.5, 1e-12, Verdict::Holds,
     "Rivera, Morari, Skogestad 1986: 10.5/(2·3.5)"},
    {"LambdaTd", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=lambda", "td", 10.0 / 21, 1e-12, Verdict::Holds,
     "Rivera, Morari, Skogestad 1986: T·L/(2T + L)"},
    {"AmigoPid", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=amigo", "ti", 4.2, 1e-12, Verdict::Holds, "Åström, Hägglund 2004"},
    {"AmigoPi", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=amigo;controller=pi", "ti", 0.35 + 1300.0 / 227, 1e-12,
     Verdict::Holds, "Åström, Hägglund 2004"},
    {"AmigoPiKp", "pid-rule", "gain=2;time_constant=10;dead_time=1;rule=amigo;controller=pi", "kp", 0.075 + (0.35 - 10.0 / 121) * 5, 1e-12,
     Verdict::Holds, "Åström, Hägglund 2004"},
    {"NegativeGain", "pid-rule", "gain=-2;time_constant=10;dead_time=1;rule=simc;controller=pi", "kp", -2.5, 1e-12, Verdict::Holds,
     "a loop that works the other way round"},
    {"RelayKu", "relay-tune", "output_amplitude=1;response_amplitude=0.5;period=2;rule=tyreus-luyben", "ultimate_gain", 8 / pi, 1e-12,
     Verdict::Holds, "Åström, Hägglund 1984: 4d/(πa)"},
    {"RelayTl", "relay-tune", "output_amplitude=1;response_amplitude=0.5;period=2;rule=tyreus-luyben", "ti", 4.4, 1e-12, Verdict::Holds,
     "Tyreus, Luyben 1992: 2.2·P"},
    {"RelayNo", "relay-tune", "output_amplitude=1;response_amplitude=0.5;period=3;rule=no-overshoot", "td", 1, 1e-12, Verdict::Holds,
     "common practice, no published source: P/3"},
    {"Balance", "balance-loop", "height=0.0980665", "fall_time_constant", 0.1, 1e-12, Verdict::Holds, "√(h/g)"},
    {"BalancePeriod", "balance-loop", "height=0.0980665", "longest_period", 5e-3, 1e-12, Verdict::Holds,
     "common practice, no published source: some 4 to 5 ms"},
    {"LoopPeriod", "loop-period", "crossover=10rad/s", "longest_period", 0.015, 1e-12, Verdict::Holds, "Åström, Wittenmark: 0.15/ωc"},
};

class Contract : public testing::TestWithParam<Case> {};
TEST_P(Contract, agreesWithItsOracle) {
    test::expectCase(GetParam());
}
INSTANTIATE_TEST_SUITE_P(Stages, Contract, testing::ValuesIn(cases), [](const auto& row) { return std::string{row.param.name}; });

const test::Refusal refusals[] = {
    {"lever-load", "mass=0;arm=1;move_angle=1rad;move_time=1", "mass"},
    {"lever-load", "mass=1;arm=1;angle=91deg;move_angle=1rad;move_time=1", "angle"},
    {"linear-load", "mass=1;incline=2rad", "incline"},
    {"airflow-need", "heat=100", "temperature_rise"},
    {"airflow-need", "heat=100;temperature_rise=10;area=1;face_velocity=1",
     "heat+temperature_rise / volume+changes_per_hour / area+face_velocity"},
    {"swing", "length=1;amplitude=91deg", "amplitude"},
    {"belt-drive", "force=1;pulley_teeth=20.5;belt_pitch=2mm", "pulley_teeth"},
    {"rc-servo", "torque_low=1;voltage_low=6;torque_high=1;voltage_high=6;time_per_60deg=1;supply=6;load_torque=0;move_angle=1",
     "voltage_high"},
    {"fan-point", "curve=0:80,0.1:90;system_k=1", "curve"},
    {"mains-fan", "rated_speed=3100rpm", "rated_speed"},
    {"mains-fan", "rated_speed=1400rpm;volts=1.5", "volts"},
    {"current-sense", "resistance=1", "voltage / current"},
    {"stepper-current", "current=1;sense_resistor=0.1;measured_temperature=60degC", "measured_current"},
    {"h-bridge-loss", "current=1;drop=1;on_resistance=1;supply=9", "drop / on_resistance"},
    {"phase-angle", "mains_frequency=50;delay=11ms", "delay"},
    {"phase-angle", "mains_frequency=50;power_fraction=1.1", "power_fraction"},
    {"led-resistor", "supply=2;led_drop=2;current=10mA", "supply"},
    {"battery-runtime", "chemistry=plutonium;series=1;capacity=1;average_current=1", "chemistry"},
    {"battery-runtime", "chemistry=li-ion;series=1.5;capacity=1;average_current=1", "series"},
    {"rectifier", "ac_voltage=0.5;frequency=50;current=1;capacitance=1mF", "ac_voltage"},
    {"servo-pulse", "pulse_min=2ms;pulse_max=1ms;angle_range=90deg;angle=0", "pulse_min"},
    {"servo-together", "moves=0:40deg@0.12,0:90deg@0.17", "moves"},
    {"servo-together", "moves=0:40deg@0.12,", "moves"},
    {"step-timing", "travel_per_turn=40mm;distance=90deg;duration=1", "distance"},
    {"step-timing", "travel_per_turn=40kg;distance=1;duration=1", "travel_per_turn"},
    {"step-profile", "steps=10;rate=100;acceleration=1m/s2", "acceleration"},
    {"step-intervals", "acceleration=200;steps=200000", "steps"},
    {"horn-mount", "pulse_min=2ms;pulse_max=1ms;angle_range=90deg;rest_angle=0deg;swing=0deg", "pulse_min"},
    {"interrupt-load", "interrupts=16kHz", "interrupts"},
    {"interrupt-load", "interrupts=16kHz@0", "interrupts"},
    {"interrupt-load", "interrupts=16rpm@10", "interrupts"},
    {"microstep-torque", "holding_torque=1J", "holding_torque"},
    {"uart-baud", "clock=16MHz;baud=9600;double_speed=maybe", "double_speed"},
    {"pid-rule", "gain=0;time_constant=1;dead_time=1;rule=simc;controller=pi", "gain"},
    {"pid-rule", "gain=1;time_constant=1;dead_time=1;rule=simc", "controller"},
    {"pid-rule", "gain=1;time_constant=1;dead_time=1;rule=amigo;controller=p", "controller"},
    {"pid-rule", "gain=1;time_constant=1;dead_time=0;rule=ziegler-nichols", "dead_time"},
    {"relay-tune", "output_amplitude=1;response_amplitude=1;period=1;rule=no-overshoot;controller=pi", "controller"},
    {"loop-period", "time_constant=1;crossover=1", "time_constant / crossover"},
};
TEST(ContractRefusals, nameTheInput) {
    for (const auto& r : refusals) test::expectRefusal(r);
}

TEST(Contract, servosTogetherGiveASpeedEach) {
    const auto answer = plan::findWorking("servo-together")->answer({{"moves", "1:60deg@0.1, 0:30deg@0.1"}});
    ASSERT_TRUE(answer);
    const auto& speed = std::get<std::vector<double>>(answer->results[1].value);
    ASSERT_EQ(speed.size(), 2U);
    EXPECT_NEAR(speed[0], 2 * speed[1], 1e-12) << "both end together";
}

// A first order with dead time, made exactly: its own figures come back.
TEST(StepFit, findsTheFiguresOfAnExactRecord) {
    std::vector<control::StepRow> rows;
    for (int i = 0; i < 200; ++i) {
        const double t = i * 0.02, since = t - 0.4 - 0.1;
        rows.push_back({t, t >= 0.4 - 1e-9 ? 0.5 : 0.0, 3.0 + (since > 0 ? 0.5 * 7.0 * (1 - std::exp(-since / 0.6)) : 0.0)});
    }
    const auto worked = control::fitStep(rows);
    ASSERT_TRUE(worked);
    EXPECT_NEAR(si(worked->result.gain), 7.0, 1e-4);
    EXPECT_NEAR(si(worked->result.time_constant), 0.6, 1e-4);
    EXPECT_NEAR(si(worked->result.dead_time), 0.1, 1e-4);
    EXPECT_GT(si(worked->result.fit), 0.999999);
}
TEST(StepFit, refusesARecordWithoutAStep) {
    std::vector<control::StepRow> rows;
    for (int i = 0; i < 30; ++i) rows.push_back({i * 0.1, 1.0, 2.0});
    EXPECT_EQ(control::fitStep(rows).error().field, "file");
    rows.resize(5);
    rows.back().input = 2.0;
    EXPECT_EQ(control::fitStep(rows).error().field, "file") << "fewer than 10 rows after it";
    for (const char* bad : {"", "t,u,y\n", "time,input,output\n1,2\n", "time,input,output\n1,2,x\n", "time,input,output\n1,2,3\n1,2,3\n"}) {
        const auto parsed = control::parseStepRows(bad);
        if (parsed) EXPECT_TRUE(parsed->empty()) << bad;
        else EXPECT_EQ(parsed.error().field, "file");
    }
}

// D. Austin, "Generate stepper-motor speed profiles in real time" (2005), table of the series
// expansion's accuracy (from memory): c(n)/c(n − 1), exact and by the recurrence, to four digits.
TEST(StepRamp, followsThePublishedTable) {
    const auto form = plan::findWorking("step-intervals");
    const auto answer = form->answer(test::split("acceleration=1000;steps=64;clock=1GHz"));
    ASSERT_TRUE(answer);
    std::vector<double> intervals, ratios;
    for (const auto& r : answer->results) {
        if (r.name == "intervals") intervals = std::get<std::vector<double>>(r.value);
        if (r.name == "recurrence_ratio") ratios = std::get<std::vector<double>>(r.value);
    }
    ASSERT_EQ(intervals.size(), 64U);
    ASSERT_EQ(ratios.size(), 63U);
    const struct {
        int n;
        double exact, recurrence;
    } table[]{{1, 0.4142, 0.6000}, {2, 0.7673, 0.7778}, {3, 0.8430, 0.8462}, {4, 0.8810, 0.8824},
              {5, 0.9041, 0.9048}, {6, 0.9196, 0.9200}, {10, 0.9511, 0.9512}};
    for (const auto& row : table) {
        EXPECT_NEAR(intervals[static_cast<std::size_t>(row.n)] / intervals[static_cast<std::size_t>(row.n) - 1], row.exact, 5e-5) << row.n;
        EXPECT_NEAR(ratios[static_cast<std::size_t>(row.n) - 1], row.recurrence, 5e-5) << row.n;
    }
}
// The same paper: with 0.676 in the first interval the recurrence's time comes out right again.
TEST(StepRamp, carriedRoundingDoesNotGather) {
    const auto answer = plan::findWorking("step-intervals")->answer(test::split("acceleration=1378;steps=6200;clock=16kHz"));
    ASSERT_TRUE(answer);
    EXPECT_LT(std::abs(*test::result(*answer, "accumulated_error")), 0.5 / 16e3 * 1.001) << "half a tick, however long the ramp";
    EXPECT_GT(std::abs(*test::result(*answer, "rounded_error")), 5.0 / 16e3) << "each by itself gathers";
    const double whole = std::sqrt(2.0 * 6200 / 1378.0);
    EXPECT_LT(std::abs(*test::result(*answer, "recurrence_error")) / whole, 0.01);
}

}  // namespace
}  // namespace hinge
