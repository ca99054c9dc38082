#include "kinds/actuator_kind.hpp"
#include <algorithm>
#include <cmath>
#include <limits>

namespace hinge::kinds {

double Running::drop(double current) const {
    return driver != nullptr && driverKind(*driver).drop ? driverKind(*driver).drop(*driver, current) : 0.0;
}
double Running::path(double current) const {
    return current > 0.0 ? drop(current) / current : 0.0;
}
double Running::held(double resistance) const {
    const double fixed = drop(0.0), ohms = drop(1.0) - fixed;
    return std::max(0.0, rail - fixed) / (resistance + wire + ohms);
}
bool Running::onPin() const {
    return driver != nullptr && driverKind(*driver).from_pin;
}
bool Running::ramps() const {
    return driver != nullptr && !driverKind(*driver).contact;
}

void Running::strength(double load, double able) const {
    n.ability = able;
    const double fraction = able > 0.0 ? load / able : std::numeric_limits<double>::infinity();
    n.share = fraction * c.ask.margin;
    if (fraction > std::min(0.8, 1.6 / c.ask.margin) * slack || fraction >= 1.0) n.hit(Rule::TooWeak, Severity::Stop, load, able);
    else if (n.share > slack) n.hit(Rule::OverHalf, Severity::Warn, fraction, 1.0 / c.ask.margin);
}
void Running::speed(double asked, double able) const {
    n.speed = able;
    if (able < asked / slack) n.hit(Rule::TooSlow, Severity::Stop, able, asked);
    else if (able < 1.1 * asked) n.hit(Rule::BarelyFast, Severity::Warn, able, asked);
}
void Running::supply(double nominal, double over) const {
    if (rail > over * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, nominal);
    else if (rail < 0.75 * nominal) n.hit(Rule::SupplyLow, Severity::Warn, rail, nominal);
}

ActuatorKind still(ActuatorKind kind) {
    constexpr NotForThis none{"nothing of it turns"};
    kind.shaft = none;
    kind.stall_torque = none;
    kind.tach = none;
    kind.free_current = none;
    kind.range = none;
    kind.stepping = none;
    return kind;
}
ActuatorKind dry(ActuatorKind kind) {
    kind.air = NotForThis{"it moves no air"};
    kind.lifting = NotForThis{"it lifts no water"};
    kind.load = NotForThis{"starting, running and jammed: its three currents say it"};
    return kind;
}

driver::ContactLoad contactLoad(const Context& context, const actuator::Part& part) {
    return actuatorKind(part).contact(context, part);
}

std::optional<double> windingOf(const actuator::Part& part) {
    return actuatorKind(part).winding(part);
}

bool isLed(const actuator::Part& part) {
    const auto* lamp = std::get_if<actuator::Lamp>(&part);
    return lamp != nullptr && lamp->lamp_class == actuator::LampClass::Led;
}

Symbol symbolOf(const actuator::Part& part) {
    return isLed(part) ? Symbol::Led : actuatorKind(part).symbol;
}

actuator::Part ownLoad(const project::SwitchDemand& d, const std::optional<Voltage>& rail) {
    actuator::Lamp lamp;
    lamp.id = own_load_id;
    lamp.name = "your own load";
    lamp.mains = d.feeding == project::Feeding::Mains;
    lamp.nominal_voltage = lamp.mains ? d.mains_voltage : rail.value_or(of<Voltage>(12.0));
    lamp.power = d.power;
    lamp.price = of<Ratio>(0.0);
    lamp.standing = actuator::Standing::Tested;
    return lamp;
}

bool latches(const actuator::Part& part) {
    const auto& kind = actuatorKind(part);
    return kind.latch != nullptr && kind.latch(part).has_value();
}

double heatingShare(const Context& c, const actuator::Part& part) {
    if (!latches(part)) return heatingShare(c.work);
    const double apart = std::max(1.0, c.work.every ? si(*c.work.every) : 0.0);
    return std::min(1.0, 2.0 * si(*actuatorKind(part).latch(part)) / apart);
}

SignalKind signalOf(const project::Channel& channel, const actuator::Part& part, const driver::DriverPart& driver, bool graded,
                    bool goes_on) {
    const auto& with = driverKind(driver);
    const auto& what = actuatorKind(part);
    const bool in_parts = graded || si(channel.signal.duty) < 1.0;
    // A lamp would flicker; what is warm or cold for minutes does not mind.
    if (in_parts && with.waves == Waves::WholeCycles && onMains(channel.demand) &&
        std::holds_alternative<project::HeatDemand>(channel.demand))
        return SignalKind::WholeCycles;
    if ((in_parts || isDimmed(channel.demand)) && firesParts(with.waves) && onMains(channel.demand)) return SignalKind::PartWaves;
    if (latches(part) && canDrive(driver, Method::BothWays)) return SignalKind::LatchPulses;
    if (with.signal == SignalKind::Steps && what.stepping && goes_on) return SignalKind::StepRate;
    if (with.signal && !(isServoPulse(*with.signal) && what.line != nullptr && isServoPulse(what.line(part)))) return *with.signal;
    if ((with.from_pin || with.signal) && what.line != nullptr) return what.line(part);
    if (with.chops_supply && what.own_electronics(part)) return SignalKind::Switched;
    if (what.varies == Varies::Never) return SignalKind::Switched;
    const bool chopped = what.varies == Varies::Always || in_parts || si(channel.signal.soft_start) > 0.0;
    return chopped ? SignalKind::Pwm : SignalKind::Switched;
}

}  // namespace hinge::kinds
