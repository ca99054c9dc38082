#pragma once
// Pairs pumps with switches and says why one wins.
#include "project/project.hpp"
#include "working/worked.hpp"
#include <string>
#include <vector>

namespace hinge::match {

/// A working with a heading, as the screens and the report show it.
struct ShownWorking {
    std::string title;
    project::Stage stage = project::Stage::Need;
    std::string channel;
    Steps steps;
    Verdict verdict = Verdict::Holds;
};

/// What surrounds a pairing: the demand and the electrical facts, resolved.
struct PumpContext {
    project::PumpDemand demand;
    project::Calibration calibration;
    project::Signal signal;
    Resistance gate_resistor{};
    Resistance pulldown{};
    driver::PulldownSide pulldown_side = driver::PulldownSide::Pin;
    std::optional<Voltage> supply;       ///< of the rail
    Resistance wire{};                   ///< there and back
    Voltage logic{};                     ///< of a pin that is high
    Current pin_current{};               ///< that a pin gives
    std::optional<Voltage> logic_supply; ///< for a relay board's coil
    Temperature ambient{};
};

/// The flow and head that the demand asks for.
struct PumpAsk {
    std::optional<VolumeFlow> flow;   ///< volume within the time allowed
    std::optional<Length> head;       ///< at that flow
    std::vector<std::string> missing; ///< paths below demand/ that are not known
    std::vector<ShownWorking> workings;
    std::vector<Finding> findings;
};
[[nodiscard]] PumpAsk ask(const project::PumpDemand& demand);
/// Head that lift and tube ask at a flow [m³/s] → [m]; nullopt when a figure is missing.
[[nodiscard]] std::optional<double> systemHead(const project::PumpDemand& demand, double flow);
/// The pump's own curve at a share of its speed: affinity for centrifugal pumps, flow only for the others.
[[nodiscard]] HeadCurve curveAt(const actuator::Pump& pump, double speed_fraction);
/// Where that curve meets lift and tube [m³/s]; nullopt when it does not within the curve.
[[nodiscard]] std::optional<double> crossing(const project::PumpDemand& demand, const HeadCurve& curve);

/// The lift [m] at which pump and tube would meet at that flow [m³/s]; nullopt off the curve.
[[nodiscard]] std::optional<double> liftAt(const project::PumpDemand& demand, const HeadCurve& curve, double flow);

/// How much flow [m³/s] and head [m] a chart of these curves should show.
struct ChartWindow {
    double flow = 0.0;
    double head = 0.0;
};
/// @param own  the chosen pump's curve; empty without one
[[nodiscard]] ChartWindow chartWindow(const project::PumpDemand& demand, const PumpAsk& ask, const HeadCurve& own);

/// One pump on one switch.
struct Pairing {
    std::string pump;
    std::string part;
    std::string pump_name;
    std::string part_name;
    std::optional<VolumeFlow> flow;       ///< at the duty set
    std::optional<Length> head;
    std::optional<Duration> run_time;     ///< of one dose; by cup and clock where measured
    bool run_time_measured = false;
    std::optional<Ratio> speed;
    std::optional<Voltage> motor_voltage;
    std::optional<Current> running;       ///< from the supply
    std::optional<Current> motor;         ///< in the winding
    std::optional<Current> stalled;
    std::optional<Current> starting;      ///< largest while starting
    std::optional<Power> heat;            ///< in the switch
    std::optional<Temperature> junction;
    std::optional<Resistance> base_resistor;
    std::optional<Current> pin_peak;
    std::optional<Ratio> price;
    Verdict verdict = Verdict::Unknown;
    std::vector<Finding> findings;
    std::vector<ShownWorking> workings;
    std::string reason;                   ///< why it does not win, or what decided
};
[[nodiscard]] Pairing judge(const PumpContext& context, const actuator::Pump& pump, const driver::SwitchPart& part);
/// Every pump on every switch, best first: by verdict, then price, then run time, then heat, then id.
[[nodiscard]] std::vector<Pairing> rank(const PumpContext& context, const project::Parts& parts);

}  // namespace hinge::match
