#pragma once
// A judged pairing in words: findings, workings, and what goes with it.
#include "match/judge.hpp"

namespace hinge::match {

/// Something small that has to be fitted with the choice, and where, named by net.
struct Protection {
    std::string what;   ///< "flyback diode"
    std::string value;  ///< "1 A, 40 V or more"
    std::string where;  ///< "stripe to the + of 12 V rail, other end to the drain"
    std::string why;
};

/// One part on one driver and one rail, with its reasons.
struct Pairing {
    std::string actuator, driver, rail;  ///< ids
    std::string actuator_name, driver_name, rail_name;
    Numbers numbers;
    std::optional<VolumeFlow> flow;  ///< at the duty set
    std::optional<Length> head;
    std::optional<Duration> run_time;  ///< of one dose; by cup and clock where measured
    bool run_time_measured = false;
    std::optional<Ratio> speed;  ///< of a pump or fan: share of full
    std::optional<Voltage> motor_voltage;
    std::optional<Current> running;  ///< from the supply
    std::optional<Current> motor;    ///< in the winding
    std::optional<Current> stalled;
    std::optional<Current> starting;  ///< largest while starting
    std::optional<Power> heat;        ///< in the driver
    std::optional<Temperature> junction;
    std::optional<Resistance> base_resistor;
    std::optional<Resistance> led_resistor;
    std::optional<Current> pin_peak;
    std::optional<Ratio> price;
    Verdict verdict = Verdict::Unknown;
    std::vector<Finding> findings;
    std::vector<ShownWorking> workings;
    std::string reason;  ///< why it does not win, or what decided
};
/// @param workings  also the steps behind every figure; without, only words and figures
[[nodiscard]] Pairing explain(const Context& context, const actuator::Part& part, const driver::DriverPart& driver, const RailOption& rail,
                              bool workings = true);
/// The sentence of one touched rule.
[[nodiscard]] std::string sentenceOf(const Hit& hit, const actuator::Part& part, const driver::DriverPart& driver);
/// What must be fitted with this pairing. @source common practice, no published source, except where `why` names one
[[nodiscard]] std::vector<Protection> protection(const Context& context, const actuator::Part& part, const driver::DriverPart& driver,
                                                 const RailOption& rail);
/// A part's own figures by name, as its data sheet lists them: for comparing and for swapping.
struct PartFigure {
    std::string name;
    std::string value;
};
[[nodiscard]] std::vector<PartFigure> figuresOf(const actuator::Part& part);
[[nodiscard]] std::vector<PartFigure> figuresOf(const driver::DriverPart& driver);

}  // namespace hinge::match
