#include "match/judge.hpp"
#include <algorithm>
#include <cmath>
#include "actuator/curve_crossing.hpp"
#include "match/system_curve.hpp"
#include "quantity/constants.hpp"
#include "quantity/series.hpp"

namespace hinge::match {
namespace {

using namespace project;
using constants::pi;
using driver::DriverClass;
using driver::DriverPart;

template <class Q>
double or_unknown(const std::optional<Q>& value) {
    return value ? si(*value) : unknown;
}
constexpr double hot = 1.5;           // on-resistance hot over cold, as the mosfet-switch working's default
constexpr double usual_theta = 62.0;  // K/W, small package in still air
constexpr double slack = 1 + 1e-9;

// Volts that a driver keeps while it carries a current.
double dropOf(const DriverPart& part, double current) {
    switch (part.driver_class) {
        case DriverClass::Mosfet:
        case DriverClass::HighSide: return part.on_resistance ? current * si(*part.on_resistance) * hot : 0.0;
        case DriverClass::Npn: return part.saturation_voltage ? si(*part.saturation_voltage) : 0.3;
        case DriverClass::Darlington: return part.saturation_voltage ? si(*part.saturation_voltage) : 1.0;
        case DriverClass::HBridge:
        case DriverClass::HalfBridge:
            if (part.saturation_voltage) return si(*part.saturation_voltage);
            return part.on_resistance ? current * si(*part.on_resistance) * hot : 0.0;
        case DriverClass::SsrZeroCrossing:
        case DriverClass::SsrRandom:
        case DriverClass::PhaseControl: return part.saturation_voltage ? si(*part.saturation_voltage) : 1.2;
        default: return 0.0;
    }
}

bool pulsed(const Context& c) {
    return si(c.signal.duty) < 1.0 || si(c.signal.soft_start) > 0.0;
}

// Torque asked with the margin, against what the part gives: to 1/margin holds, to 1.6/margin (0.8 at
// the usual margin of 2) is tight.
void judgeTorque(const Context& c, double load, double able, Numbers& n) {
    n.ability = able;
    const double fraction = able > 0.0 ? load / able : std::numeric_limits<double>::infinity();
    n.share = fraction * c.ask.margin;
    if (fraction > std::min(0.8, 1.6 / c.ask.margin) * slack || fraction >= 1.0) n.hit(Rule::TooWeak, Severity::Stop, load, able);
    else if (n.share > slack) n.hit(Rule::OverHalf, Severity::Warn, fraction, 1.0 / c.ask.margin);
}
void judgeSpeed(double asked, double able, Numbers& n) {
    n.speed = able;
    if (able < asked / slack) n.hit(Rule::TooSlow, Severity::Stop, able, asked);
    else if (able < 1.1 * asked) n.hit(Rule::BarelyFast, Severity::Warn, able, asked);
}
void judgeSupply(double volts, double nominal, double over, Numbers& n) {
    if (volts > over * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, volts, nominal);
    else if (volts < 0.75 * nominal) n.hit(Rule::SupplyLow, Severity::Warn, volts, nominal);
}

/// Fills what one kind of part does at the terminals' volts: `rail` less wire and driver.
struct Runner {
    const Context& c;
    const DriverPart* driver;  // nullptr at a glance: no drop, no limit
    double rail, wire;
    Numbers& n;

    [[nodiscard]] double drop(double current) const { return driver != nullptr ? dropOf(*driver, current) : 0.0; }
    [[nodiscard]] double path(double current) const {  // driver's ohms at a current
        return driver != nullptr && current > 0.0 ? dropOf(*driver, current) / current : 0.0;
    }
    // What flows through a winding that stands still: the driver's fixed drop, and its ohms.
    [[nodiscard]] double held(double resistance) const {
        const double fixed = drop(0.0), ohms = drop(1.0) - fixed;
        return std::max(0.0, rail - fixed) / (resistance + wire + ohms);
    }

    void missing() { n.incomplete = true; }

    void operator()(const actuator::Motor& m) {
        if (!m.no_load_speed || !m.no_load_current || !m.stall_current || !m.stall_torque || si(*m.stall_current) <= si(*m.no_load_current))
            return missing();
        const double resistance = si(m.nominal_voltage) / si(*m.stall_current), rest = si(*m.no_load_current);
        const double kt = si(*m.stall_torque) / (si(*m.stall_current) - rest),
                     ke = (si(m.nominal_voltage) - rest * resistance) / si(*m.no_load_speed);
        const double ratio = si(m.gear_ratio) * c.gear_ratio, efficiency = si(m.gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0);
        const double stall_now = held(resistance);
        n.stalled = stall_now;
        n.starting =
            si(c.signal.soft_start) > 0.0 && driver != nullptr && !driver::isContact(driver->driver_class) ? 0.6 * stall_now : stall_now;
        judgeSupply(rail, si(m.nominal_voltage), 1.25, n);
        n.smooth = ratio > 20.0 ? 0.4 : 0.8;
        if (!c.ask.torque || !c.ask.speed) return missing();
        // A load beyond the stall torque holds the rotor: what flows then is the stall current.
        const double load = si(*c.ask.torque), current = std::min(stall_now, rest + load / (ratio * efficiency) / kt);
        const double volts =
            si(c.signal.duty) * std::max(0.0, current < stall_now ? rail - current * wire - drop(current) : stall_now * resistance);
        n.volts = volts;
        n.winding = current;
        n.running = current * si(c.signal.duty);
        n.part_heat = current * current * resistance;
        judgeTorque(c, load, kt * std::max(0.0, volts / resistance - rest) * ratio * efficiency, n);
        judgeSpeed(si(*c.ask.speed), std::max(0.0, (volts - current * resistance) / ke / ratio), n);
        if (c.ask.time) n.move_time = n.speed > 0.0 ? si(*c.ask.time) * si(*c.ask.speed) / n.speed : unknown;
        if (c.ask.positional && !m.tach) n.hit(Rule::NoPosition, Severity::Warn);
        if (c.ask.holds && !m.worm && !c.ask.self_locking) n.hit(Rule::NoHold, Severity::Stop);
    }

    void operator()(const actuator::Stepper& s) {
        if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance) return missing();
        const double rated_peak = std::sqrt(2.0) * si(*s.rated_current);
        double peak = rated_peak;
        if (driver != nullptr && driver->current_max) peak = std::min(peak, si(*driver->current_max));
        const double r = si(*s.phase_resistance);
        const double ratio = si(s.gear_ratio) * c.gear_ratio, efficiency = si(s.gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0);
        // The current is set to what the load needs with its margin and a fifth more, never under two
        // fifths of the rated one: more would only heat motor and carrier (common practice, no published source).
        if (c.ask.torque)
            peak = std::min(peak, std::max(0.4 * rated_peak, 1.2 * c.ask.margin * si(*c.ask.torque) / (ratio * efficiency) /
                                                                 (si(*s.holding_torque) / rated_peak)));
        n.drive_current = peak;
        const double volts = driver != nullptr ? rail - wire * peak * 0.5 : rail;
        n.volts = volts;
        n.smooth = driver != nullptr && driver->driver_class == DriverClass::SerialChopper ? 0.05 : 0.15;
        // Copper of both phases: I²R of the peak, standing or turning.
        n.part_heat = peak * peak * r;
        n.rest = peak * peak * r / std::max(0.1, volts);
        n.stalled = n.rest;
        n.winding = peak;
        if (!c.ask.torque || !c.ask.speed) return missing();
        const double load = si(*c.ask.torque) / (ratio * efficiency), speed = si(*c.ask.speed) * ratio;
        const double kt = si(*s.holding_torque) / rated_peak, e = kt * speed,
                     x = speed * si(s.steps_per_turn) / 4.0 * si(*s.phase_inductance);
        double torque = 0.0;
        if (e < volts) {
            const double z = r * r + x * x, limited = (-r * e + std::sqrt(std::max(0.0, r * r * e * e - z * (e * e - volts * volts)))) / z;
            torque = kt * std::min(peak, limited);
        }
        judgeTorque(c, load, torque, n);
        n.ability *= ratio * efficiency;
        n.running = n.rest + load * speed / std::max(0.1, volts);
        n.starting = n.running;
        n.speed = si(*c.ask.speed);
        if (c.ask.time) n.move_time = si(*c.ask.time);
        if (c.ask.holds && !c.ask.self_locking && !(s.detent_torque && si(*s.detent_torque) * ratio >= si(*c.ask.torque)))
            n.hit(Rule::NoHold, Severity::Stop);
    }

    void operator()(const actuator::Servo& s) {
        n.volts = rail;
        n.smooth = 0.5;
        if (rail < si(s.voltage_low) / slack) {
            n.hit(Rule::SupplyTooLow, Severity::Stop, rail, si(s.voltage_low));
            return missing();
        }
        if (rail > si(s.voltage_high) * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(s.voltage_high));
        if (!s.torque_low || !s.torque_high || !s.time_low || !s.time_high || si(s.voltage_high) <= si(s.voltage_low)) return missing();
        const double along = std::clamp((rail - si(s.voltage_low)) / (si(s.voltage_high) - si(s.voltage_low)), 0.0, 1.0);
        const double stall = si(*s.torque_low) + along * (si(*s.torque_high) - si(*s.torque_low)),
                     time60 = si(*s.time_low) + along * (si(*s.time_high) - si(*s.time_low));
        const double ratio = c.gear_ratio, efficiency = c.gear_ratio != 1.0 ? 0.9 : 1.0;
        if (s.stall_current) {
            n.stalled = si(*s.stall_current) * rail / si(s.voltage_high);
            n.starting = n.stalled;
        } else {
            missing();
        }
        n.rest = s.idle_current ? si(*s.idle_current) : 0.0;
        if (!c.ask.torque || !c.ask.speed) return missing();
        const double load = si(*c.ask.torque), able = stall * ratio * efficiency;
        judgeTorque(c, load, able, n);
        const double fraction = std::min(1.0, load / able);
        n.running = n.rest + fraction * (known(n.stalled) ? n.stalled - n.rest : 0.0);
        n.winding = n.running;
        n.part_heat = rail * n.running * 0.7;
        const double full = pi / 3.0 / time60 / ratio;  // rad/s without load
        if (s.servo_class == actuator::ServoClass::Continuous) {
            judgeSpeed(si(*c.ask.speed), full * (1.0 - fraction), n);
            if (c.ask.positional) n.hit(Rule::NoPosition, Severity::Warn);
            if (c.ask.time) n.move_time = n.speed > 0.0 ? si(*c.ask.time) * si(*c.ask.speed) / n.speed : unknown;
        } else if (!c.ask.positional || !c.ask.angle) {
            n.hit(Rule::ServoRange, Severity::Stop, unknown, s.range ? si(*s.range) : unknown);
        } else {
            // A servo runs at its own speed: the whole move against the time asked.
            n.speed = full * (1.0 - fraction);
            n.move_time = n.speed > 0.0 ? si(*c.ask.angle) / n.speed : unknown;
            if (c.ask.time && n.speed > 0.0) {
                if (n.move_time > si(*c.ask.time) * slack)
                    n.hit(Rule::TooSlow, Severity::Stop, n.speed, si(*c.ask.angle) / si(*c.ask.time));
                else if (n.move_time * 1.1 > si(*c.ask.time))
                    n.hit(Rule::BarelyFast, Severity::Warn, n.speed, si(*c.ask.angle) / si(*c.ask.time));
            }
            if (!s.range) missing();
            else if (si(*c.ask.angle) * ratio > si(*s.range) * slack)
                n.hit(Rule::ServoRange, Severity::Stop, si(*c.ask.angle) * ratio, si(*s.range));
        }
        if (c.ask.holds && !c.ask.self_locking) n.hit(Rule::NoHold, Severity::Stop);
    }

    void operator()(const actuator::Fan& f) {
        judgeSupply(rail, si(f.nominal_voltage), 1.15, n);
        if (!f.current) return missing();
        const double current = si(*f.current);
        const double volts = std::max(0.0, rail - current * wire - drop(current));
        const bool by_supply = f.wires != actuator::FanWires::Four;
        const double at = std::clamp(volts / si(f.nominal_voltage), 0.0, 1.5) * (by_supply ? si(c.signal.duty) : 1.0);
        n.volts = volts;
        n.speed = at;
        n.winding = current;
        n.running = current * at * at;
        n.starting = f.starting_current ? si(*f.starting_current) : 2.0 * current;
        n.stalled = n.starting;
        n.smooth = 0.3;
        n.part_heat = volts * n.running;
        if (!c.ask.flow || !c.ask.pressure || f.curve.points.size() < 2) return missing();
        const double asked = si(*c.ask.flow), k = si(*c.ask.pressure) / (asked * asked);
        const auto met = at > 0.0 ? actuator::curveMeets(f.curve, at, 0.0, k) : std::nullopt;
        if (!met) return missing();
        n.flow = met->flow;
        n.height = met->start_height + met->slope * (met->flow - met->start_flow);
        n.ability = n.flow;
        n.share = asked / n.flow;
        if (n.flow < asked / slack) n.hit(Rule::TooLittleAir, Severity::Stop, n.flow, asked);
        else if (n.flow < 1.1 * asked) n.hit(Rule::TooLittleAir, Severity::Warn, n.flow, asked);
        const auto& blow = std::get<BlowDemand>(c.demand);
        if (blow.noise_limit) {
            if (!f.noise) missing();
            else if (si(*f.noise) > si(*blow.noise_limit) * slack)
                n.hit(Rule::NoiseOver, Severity::Warn, si(*f.noise), si(*blow.noise_limit));
        }
    }

    void operator()(const actuator::Pump& p) {
        if (rail > 1.1 * si(p.nominal_voltage) * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(p.nominal_voltage));
        if (!p.running_current || !p.stall_current || si(*p.stall_current) <= si(*p.running_current)) return missing();
        const auto& d = std::get<PumpDemand>(c.demand);
        // Wire and driver take volts in proportion to the current they carry: settle both together.
        actuator::PumpSpeed in{of<Voltage>(rail), c.signal.duty, p.nominal_voltage, *p.running_current,
                               *p.stall_current,  p.inductance,  c.signal.frequency};
        actuator::PumpSpeedNumbers speed{};
        double volts = rail;
        for (int i = 0; i < 40; ++i) {
            in.supply = of<Voltage>(volts);
            speed = actuator::pumpSpeedNumbers(in);
            const double next = std::max(0.01, rail - speed.motor * wire - drop(speed.motor));
            if (std::abs(next - volts) < 1e-12) break;
            volts = next;
        }
        n.volts = volts;
        if (volts < 0.75 * si(p.nominal_voltage)) n.hit(Rule::SupplyLow, Severity::Warn, volts, si(p.nominal_voltage));
        n.speed = speed.fraction;
        n.winding = speed.motor;
        n.running = speed.supply;
        n.smooth = p.pump_class == actuator::PumpClass::Centrifugal ? 0.2 : 0.7;
        n.part_heat = speed.motor * speed.motor * speed.resistance;
        n.stalled = held(speed.resistance);
        const double ramp = driver != nullptr && driver::isContact(driver->driver_class) ? 0.0 : si(c.signal.soft_start);
        const double most = std::max(n.stalled * si(c.signal.duty), n.running);
        const double tau = p.spin_up_time ? si(*p.spin_up_time) : unknown;
        n.starting = known(tau) && ramp > 0.0 ? n.running + (most - n.running) * tau / ramp * -std::expm1(-ramp / tau) : most;
        const HeadCurve curve = curveAt(p, n.speed);
        const auto flow = crossing(d, curve);
        if (!flow) return missing();
        if (*flow <= 0.0) {
            n.flow = 0.0;
            n.hit(Rule::PumpCannotLift, Severity::Stop, curve.points.front().y, d.lift ? si(*d.lift) : 0.0);
            return;
        }
        n.flow = *flow;
        n.height = headOnCurve(curve, *flow);
        n.ability = n.flow;
        if (c.ask.flow) n.share = si(*c.ask.flow) / n.flow;
        if (!d.volume) return;
        n.measured = c.calibration.cup_volume && c.calibration.cup_time && p.id == c.measured_part;
        n.run_time = si(*d.volume) / (n.measured ? si(*c.calibration.cup_volume) / si(*c.calibration.cup_time) : n.flow);
        if (!d.run_time_limit) return;
        if (n.run_time > si(*d.run_time_limit) * slack) n.hit(Rule::DoseOverTime, Severity::Stop, n.run_time, si(*d.run_time_limit));
        else if (n.run_time > 0.9 * si(*d.run_time_limit)) n.hit(Rule::DoseNearLimit, Severity::Warn, n.run_time, si(*d.run_time_limit));
    }

    void operator()(const actuator::Coil& k) {
        if (!k.coil_resistance) return missing();
        const double resistance = si(*k.coil_resistance), current = std::max(0.0, rail) / (resistance + wire + path(rail / resistance));
        n.volts = current * resistance;
        n.winding = current;
        n.running = current;
        n.starting = current;
        n.stalled = current;
        n.part_heat = current * current * resistance;
        n.smooth = 1.0;
        const bool latching = k.coil_class == actuator::CoilClass::LatchingSolenoid || k.coil_class == actuator::CoilClass::LatchingValve;
        // Warm copper: 60 K above the room for a coil that stays on.
        const double warm = latching ? 1.0 : 1.0 + constants::copper_coefficient * 60.0,
                     operate = si(k.operate_fraction) * si(k.coil_voltage) / resistance;
        const double margin = current / warm / operate;
        if (margin < 1.0 / slack) n.hit(Rule::CoilWontPull, Severity::Stop, n.volts / warm, si(k.operate_fraction) * si(k.coil_voltage));
        else if (margin < 1.1) n.hit(Rule::CoilWontPull, Severity::Warn, n.volts / warm, si(k.operate_fraction) * si(k.coil_voltage));
        if (rail > 1.15 * si(k.coil_voltage)) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(k.coil_voltage));
        if (k.duty_max && c.work.on_for && c.work.every && si(*c.work.on_for) > si(*k.duty_max) * si(*c.work.every) * slack)
            n.hit(Rule::CoilDuty, Severity::Stop, si(*c.work.on_for) / si(*c.work.every), si(*k.duty_max));
        if (c.ask.holds && !latching) n.hit(Rule::NoHold, Severity::Stop);
        if (!c.ask.force) return;
        if (!k.force || !k.stroke) return missing();
        // Pull goes with the square of the current.
        const double able = si(*k.force) * (n.volts / warm / si(k.coil_voltage)) * (n.volts / warm / si(k.coil_voltage));
        judgeTorque(c, si(*c.ask.force), able, n);
        if (c.ask.stroke && si(*c.ask.stroke) > si(*k.stroke) * slack)
            n.hit(Rule::ServoRange, Severity::Stop, si(*c.ask.stroke), si(*k.stroke));
    }

    void operator()(const actuator::Heater& h) {
        if (!h.power) return missing();
        const double nominal = si(h.nominal_voltage), resistance = nominal * nominal / si(*h.power),
                     current = rail / (resistance + wire + path(rail / resistance));
        n.volts = current * resistance;
        n.winding = current;
        n.running = current;
        n.part_heat = current * current * resistance;
        n.smooth = 0.0;
        n.starting = current * (h.cold_factor ? si(*h.cold_factor) : 1.0);
        n.stalled = n.starting;
        if (rail > 1.1 * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, nominal);
        if (!c.ask.power) return missing();
        double able = n.part_heat * si(c.signal.duty);
        if (h.heater_class == actuator::HeaterClass::ThermoElectric) {
            if (!h.heat_pumped || !h.largest_difference || !c.ask.difference) return missing();
            able = std::max(0.0, si(*h.heat_pumped) * (1.0 - si(*c.ask.difference) / si(*h.largest_difference))) *
                   std::min(1.0, n.volts / nominal);
        }
        n.ability = able;
        n.share = able > 0.0 ? si(*c.ask.power) / able : std::numeric_limits<double>::infinity();
        if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), able);
        else if (n.share > 0.9) n.hit(Rule::OverHalf, Severity::Warn, n.share, 0.9);
    }

    // A bare LED: a resistor sets its current. On a pin, the pin bears less than many LEDs do.
    void shine(const actuator::Lamp& l) {
        if (!l.current) return missing();
        const bool on_pin = driver != nullptr && driver->driver_class == DriverClass::Pin;
        const double most = on_pin ? std::min(si(*l.current), si(c.pin_current)) : si(*l.current), drop_of_led = si(l.nominal_voltage),
                     over = rail - drop(most) - drop_of_led;
        n.volts = drop_of_led;
        n.smooth = 0.0;
        n.ability = drop_of_led * most;
        if (c.ask.power) {
            n.share = si(*c.ask.power) / n.ability;
            if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), n.ability);
        }
        if (over <= 0.0) {
            n.hit(Rule::SupplyTooLow, Severity::Stop, rail - drop(most), drop_of_led);
            return;
        }
        n.led_resistor = c.led_resistor ? si(*c.led_resistor) : preferred(over / most, Series::E12, Round::Up);
        const double current = over / (n.led_resistor + wire);
        n.winding = current;
        n.running = current;
        n.starting = current;
        n.stalled = current;
        n.part_heat = drop_of_led * current;
        if (on_pin) n.pin_peak = current;
        if (current > si(*l.current) * slack) n.hit(Rule::LedOvercurrent, Severity::Stop, current, si(*l.current));
        if (on_pin && current > si(c.pin_current) * slack) n.hit(Rule::PinOvercurrent, Severity::Stop, current, si(c.pin_current));
        // The LED's own volts differ by some tenths from piece to piece. Common practice, no published source.
        if (over < 0.5) n.hit(Rule::LedBarely, Severity::Warn, over, 0.5);
    }

    void operator()(const actuator::Lamp& l) {
        if (l.lamp_class == actuator::LampClass::Led) return shine(l);
        if (!l.power) return missing();
        const double nominal = si(l.nominal_voltage), current = si(*l.power) / nominal;
        n.volts = rail - current * wire - drop(current);
        n.winding = current;
        n.running = current;
        n.starting = current * driver::usualInrush(contactLoad(c, l));
        n.stalled = current;
        n.part_heat = si(*l.power);
        n.ability = si(*l.power);
        n.smooth = 0.0;
        if (rail > 1.1 * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, nominal);
        else if (n.volts < 0.85 * nominal) n.hit(Rule::SupplyLow, Severity::Warn, n.volts, nominal);  // what its switch keeps is lost to it
        if (!c.ask.power) return missing();
        n.share = si(*c.ask.power) / si(*l.power);
        if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), si(*l.power));
    }
};

// Heat, gate, base, contact: whatever the driver's class is judged by.
void judgeDriver(const Context& c, const actuator::Part& part, const DriverPart& d, double rail, Numbers& n) {
    const bool alternating = n.volts > 0.0 && driver::isAlternating(d.driver_class);
    if (d.voltage_min && rail < si(*d.voltage_min) / slack) n.hit(Rule::SupplyTooLow, Severity::Stop, rail, si(*d.voltage_min));
    if (d.voltage_max && !alternating && !driver::isContact(d.driver_class) && rail * 1.5 > si(*d.voltage_max) * slack &&
        d.driver_class != DriverClass::Pin && d.driver_class != DriverClass::ServoExpander && !driver::isChopper(d.driver_class))
        n.hit(Rule::SwitchVoltage, rail > si(*d.voltage_max) * slack ? Severity::Stop : Severity::Warn, rail, si(*d.voltage_max));
    else if (d.voltage_max && rail > si(*d.voltage_max) * slack) n.hit(Rule::SwitchVoltage, Severity::Stop, rail, si(*d.voltage_max));
    if (d.logic_min && si(c.logic) < si(*d.logic_min) / slack) n.hit(Rule::LevelMismatch, Severity::Stop, si(c.logic), si(*d.logic_min));
    if (!known(n.winding)) return;
    const double running = n.winding, share = heatingShare(c.work), bare = d.theta_ja ? si(*d.theta_ja) : usual_theta,
                 theta = c.heat_sink ? std::min(bare, si(*c.heat_sink) + into_sink) : bare;
    if (d.current_max && !driver::isChopper(d.driver_class)) {
        if (running > si(*d.current_max) * slack) n.hit(Rule::DriverOvercurrent, Severity::Stop, running, si(*d.current_max));
        else if (known(n.stalled) && n.stalled > si(*d.current_max) * slack)
            n.hit(Rule::StallOverDriver, Severity::Warn, n.stalled, si(*d.current_max));
    }
    bool warms = true;
    switch (d.driver_class) {
        case DriverClass::Mosfet:
        case DriverClass::HighSide: {
            if (!d.threshold_max || !d.on_resistance || !d.on_resistance_gate_voltage) {
                n.incomplete = true;
                return;
            }
            const double divider =
                c.pulldown_side == driver::PulldownSide::Gate ? si(c.pulldown) / (si(c.pulldown) + si(c.gate_resistor)) : 1.0;
            // A high-side module turns its gate by the rail itself, through its own small transistor.
            const double gate = d.driver_class == DriverClass::HighSide ? rail : si(c.logic) * divider;
            const double plateau = si(*d.threshold_max);
            if (d.driver_class == DriverClass::Mosfet) n.pin_peak = si(c.logic) / si(c.gate_resistor);
            double heat = running * running * si(*d.on_resistance) * hot * si(c.signal.duty);
            if (si(c.signal.duty) < 1.0 && d.gate_charge) {
                if (gate > plateau)
                    heat += rail * running * si(*d.gate_charge) * si(c.gate_resistor) / (gate - plateau) * si(c.signal.frequency);
                else n.incomplete = true;
            }
            n.heat = heat * share;
            if (gate < si(*d.on_resistance_gate_voltage) / slack)
                n.hit(Rule::GateNotEnhanced, Severity::Stop, gate, si(*d.on_resistance_gate_voltage));
            break;
        }
        case DriverClass::Npn:
        case DriverClass::Darlington: {
            if (!d.gain_min) {
                n.incomplete = true;
                return;
            }
            const double base_voltage = d.base_voltage ? si(*d.base_voltage) : d.driver_class == DriverClass::Npn ? 0.8 : 1.4;
            const double over = si(c.logic) - base_voltage;
            if (over <= 0.0) {
                n.hit(Rule::LevelMismatch, Severity::Stop, si(c.logic), base_voltage);
                return;
            }
            n.base_resistor =
                c.base_resistor ? si(*c.base_resistor) : preferred(over * si(*d.gain_min) / (2.0 * running), Series::E24, Round::Down);
            n.pin_peak = over / n.base_resistor;
            // With the least gain of the data sheet it must still be fully on; twice as much base current is the usual reserve.
            if (const double carries = n.pin_peak * si(*d.gain_min); carries < 2.0 * running / slack)
                n.hit(Rule::BaseStarved, carries < running / slack ? Severity::Stop : Severity::Warn, carries, running);
            if (n.pin_peak > si(c.pin_current) * slack) n.hit(Rule::PinOvercurrent, Severity::Stop, n.pin_peak, si(c.pin_current));
            n.heat = (dropOf(d, running) * running + base_voltage * n.pin_peak) * si(c.signal.duty) * share;
            break;
        }
        case DriverClass::HBridge:
        case DriverClass::HalfBridge:
            if (!d.saturation_voltage && !d.on_resistance) {
                n.incomplete = true;
                return;
            }
            n.heat = running * dropOf(d, running) * si(c.signal.duty) * share;
            break;
        case DriverClass::Chopper:
        case DriverClass::SerialChopper:
            if (!d.on_resistance || !d.current_max) {
                n.incomplete = true;
                return;
            }
            n.heat = n.drive_current * n.drive_current * si(*d.on_resistance) * hot * share;
            break;
        case DriverClass::SsrZeroCrossing:
        case DriverClass::SsrRandom:
        case DriverClass::PhaseControl:
            n.heat = running * dropOf(d, running) * share;
            if (d.current_min && running < si(*d.current_min)) n.hit(Rule::SsrLeakage, Severity::Warn, running, si(*d.current_min));
            break;
        case DriverClass::RelayBoard:
        case DriverClass::Contactor: {
            warms = false;
            if (!d.contact_current) {
                n.incomplete = true;
                return;
            }
            const auto load = contactLoad(c, part);
            const double usable = si(*d.contact_current) * (load == driver::ContactLoad::Inductive ? 0.4 : 1.0),
                         inrush = running * driver::usualInrush(load);
            if (inrush > usable * slack) n.hit(Rule::ContactInrush, Severity::Stop, inrush, usable);
            else if (inrush > 0.8 * usable * slack) n.hit(Rule::ContactInrush, Severity::Warn, inrush, usable);
            if (d.coil_voltage && d.coil_resistance) {
                const double supply = c.logic_supply ? si(*c.logic_supply) : unknown;
                if (!known(supply)) {
                    n.incomplete = true;
                } else {
                    const double margin = supply / (0.75 * si(*d.coil_voltage));
                    n.heat = supply * supply / si(*d.coil_resistance);
                    if (margin < 1.0 / slack) n.hit(Rule::CoilWontPull, Severity::Stop, supply, 0.75 * si(*d.coil_voltage));
                    else if (margin < 1.1) n.hit(Rule::CoilWontPull, Severity::Warn, supply, 0.75 * si(*d.coil_voltage));
                }
            }
            const bool thermal = std::holds_alternative<HeatDemand>(c.demand);
            const auto* switched = std::get_if<SwitchDemand>(&c.demand);
            const bool wants = switched != nullptr ? switched->dimmed : !thermal && pulsed(c);
            if (wants) n.hit(Rule::RelayNoPwm, Severity::Stop);
            break;
        }
        case DriverClass::Pin:
        case DriverClass::ServoExpander: warms = false; break;
    }
    if (warms && known(n.heat)) {
        n.junction = si(c.ambient) + n.heat * theta;
        if (n.junction > 423.15 * slack) n.hit(Rule::DriverHot, Severity::Stop, n.junction, 423.15);
        else if (n.junction > 398.15) n.hit(Rule::DriverHot, Severity::Warn, n.junction, 423.15);
    }
}

bool onMains(const Demand& demand) {
    if (const auto* s = std::get_if<SwitchDemand>(&demand)) return s->feeding == Feeding::Mains;
    if (const auto* h = std::get_if<HeatDemand>(&demand)) return h->feeding == Feeding::Mains;
    return false;
}
double mainsVolts(const Demand& demand) {
    if (const auto* s = std::get_if<SwitchDemand>(&demand)) return si(s->mains_voltage);
    if (const auto* h = std::get_if<HeatDemand>(&demand)) return si(h->mains_voltage);
    return unknown;
}

// Which kinds of part can do which kind of job, and what they ask of the driver.
std::optional<Method> methodOf(const Context& c, const actuator::Part& part) {
    const auto kind = kindOfDemand(c.demand);
    const bool shaft = kind == ChannelKind::Turn || kind == ChannelKind::Move ||
                       (kind == ChannelKind::Press && std::get<PressDemand>(c.demand).way == PressWay::Horn);
    const bool mains = onMains(c.demand);
    struct Of {
        const Context& c;
        ChannelKind kind;
        bool shaft, mains;
        std::optional<Method> operator()(const actuator::Motor&) const {
            return shaft ? std::optional(c.ask.both_ways ? Method::BothWays : Method::OneWay) : std::nullopt;
        }
        std::optional<Method> operator()(const actuator::Stepper&) const { return shaft ? std::optional(Method::Steps) : std::nullopt; }
        std::optional<Method> operator()(const actuator::Servo&) const { return shaft ? std::optional(Method::ServoPulse) : std::nullopt; }
        std::optional<Method> operator()(const actuator::Fan& f) const {
            if (kind != ChannelKind::Blow) return std::nullopt;
            return f.wires == actuator::FanWires::Four ? Method::FanPulse : Method::OneWay;
        }
        std::optional<Method> operator()(const actuator::Pump&) const {
            return kind == ChannelKind::Pump ? std::optional(Method::OneWay) : std::nullopt;
        }
        std::optional<Method> operator()(const actuator::Coil& k) const {
            const bool solenoid = k.coil_class == actuator::CoilClass::Solenoid || k.coil_class == actuator::CoilClass::LatchingSolenoid;
            const bool latching =
                k.coil_class == actuator::CoilClass::LatchingSolenoid || k.coil_class == actuator::CoilClass::LatchingValve;
            const bool plunger = kind == ChannelKind::Press && std::get<PressDemand>(c.demand).way == PressWay::Plunger;
            const bool valve =
                kind == ChannelKind::Switch && std::get<SwitchDemand>(c.demand).load == driver::ContactLoad::Inductive && !mains;
            if (solenoid ? !plunger : !valve) return std::nullopt;
            return latching ? Method::BothWays : Method::OneWay;
        }
        std::optional<Method> operator()(const actuator::Heater& h) const {
            if (kind != ChannelKind::Heat || h.mains != mains) return std::nullopt;
            const bool cools = std::get<HeatDemand>(c.demand).way == HeatWay::Cool;
            if (cools != (h.heater_class == actuator::HeaterClass::ThermoElectric)) return std::nullopt;
            return mains ? Method::Alternating : Method::OneWay;
        }
        std::optional<Method> operator()(const actuator::Lamp& l) const {
            if (kind != ChannelKind::Switch || l.mains != mains) return std::nullopt;
            if (l.id != own_load_id) {
                const auto load = std::get<SwitchDemand>(c.demand).load;
                if (load != (l.lamp_class == actuator::LampClass::Filament  ? driver::ContactLoad::Lamp
                             : l.lamp_class == actuator::LampClass::LedLamp ? driver::ContactLoad::Capacitive
                                                                            : driver::ContactLoad::Resistive))
                    return std::nullopt;
            }
            return mains ? Method::Alternating : l.lamp_class == actuator::LampClass::Led ? Method::Light : Method::OneWay;
        }
    };
    return std::visit(Of{c, kind, shaft, mains}, part);
}

double wireOf(const Context& c, const RailOption& rail) {
    return onMains(c.demand) ? 0.0 : si(rail.wire);
}

}  // namespace

bool isLed(const actuator::Part& part) {
    const auto* lamp = std::get_if<actuator::Lamp>(&part);
    return lamp != nullptr && lamp->lamp_class == actuator::LampClass::Led;
}

double supplyOf(const Context& c, const RailOption& rail) {
    return onMains(c.demand) ? mainsVolts(c.demand) : or_unknown(rail.volts);
}

std::optional<Method> methodFor(const Context& c, const actuator::Part& part) {
    return methodOf(c, part);
}

bool canDrive(DriverClass d, Method method) {
    switch (method) {
        case Method::OneWay:
            return d == DriverClass::Mosfet || d == DriverClass::Npn || d == DriverClass::Darlington || d == DriverClass::HighSide ||
                   d == DriverClass::HBridge || d == DriverClass::HalfBridge || d == DriverClass::RelayBoard;
        case Method::Light: return d == DriverClass::Pin || canDrive(d, Method::OneWay);
        case Method::BothWays: return d == DriverClass::HBridge;
        case Method::Steps: return driver::isChopper(d);
        case Method::ServoPulse: return d == DriverClass::Pin || d == DriverClass::ServoExpander;
        case Method::FanPulse: return d == DriverClass::Pin || d == DriverClass::HighSide;  // its PWM wire, or its whole supply
        case Method::Alternating: return driver::isContact(d) || driver::isAlternating(d);
    }
    return false;
}

driver::ContactLoad contactLoad(const Context& c, const actuator::Part& part) {
    struct Of {
        const Context& c;
        driver::ContactLoad operator()(const actuator::Coil&) const { return driver::ContactLoad::Inductive; }
        driver::ContactLoad operator()(const actuator::Heater&) const { return driver::ContactLoad::Resistive; }
        driver::ContactLoad operator()(const actuator::Lamp& l) const {
            if (l.id == own_load_id)
                if (const auto* s = std::get_if<SwitchDemand>(&c.demand)) return s->load;
            return l.lamp_class == actuator::LampClass::Filament  ? driver::ContactLoad::Lamp
                   : l.lamp_class == actuator::LampClass::LedLamp ? driver::ContactLoad::Capacitive
                                                                  : driver::ContactLoad::Resistive;
        }
        driver::ContactLoad operator()(const actuator::Stepper&) const { return driver::ContactLoad::Motor; }
        driver::ContactLoad operator()(const actuator::Servo&) const { return driver::ContactLoad::Motor; }
        driver::ContactLoad operator()(const actuator::Motor&) const { return driver::ContactLoad::Motor; }
        driver::ContactLoad operator()(const actuator::Fan&) const { return driver::ContactLoad::Motor; }
        driver::ContactLoad operator()(const actuator::Pump&) const { return driver::ContactLoad::Motor; }
    };
    return std::visit(Of{c}, part);
}

double heatingShare(const Work& work) {
    if (!work.on_for || !work.every || si(*work.every) > 60.0) return 1.0;
    return std::min(1.0, si(*work.on_for) / si(*work.every));
}

actuator::Part ownLoad(const SwitchDemand& d, const std::optional<Voltage>& rail) {
    actuator::Lamp lamp;
    lamp.id = own_load_id;
    lamp.name = "your own load";
    lamp.mains = d.feeding == Feeding::Mains;
    lamp.nominal_voltage = lamp.mains ? d.mains_voltage : rail.value_or(of<Voltage>(12.0));
    lamp.power = d.power;
    lamp.price = of<Ratio>(0.0);
    lamp.standing = actuator::Standing::Tested;
    return lamp;
}

Verdict Numbers::verdict() const {
    Verdict result = incomplete ? Verdict::Unknown : Verdict::Holds;
    for (int i = 0; i < hit_count; ++i) {
        const auto severity = hits[static_cast<std::size_t>(i)].severity;
        result = worse(result, severity == Severity::Stop ? Verdict::Breaks : severity == Severity::Warn ? Verdict::Tight : Verdict::Holds);
    }
    return result;
}

Glance glance(const Context& c, const actuator::Part& part, const RailOption& rail) {
    Glance g;
    const auto method = methodOf(c, part);
    if (!method) return g;
    g.suits = true;
    g.method = *method;
    g.rail = supplyOf(c, rail);
    g.wire = wireOf(c, rail);
    if (!known(g.rail)) return g;
    Numbers& n = g.numbers;
    const auto& head = actuator::head(part);
    n.price = head.drawer ? 0.0 : or_unknown(head.price);
    n.noise = or_unknown(head.noise);
    n.mass = or_unknown(head.mass);
    // Straight from a pin, an LED has the board's volts.
    const double most = isLed(part) && rail.feeds_board ? std::max(g.rail, si(c.logic)) : g.rail;
    std::visit(Runner{c, nullptr, most, g.wire, n}, part);
    for (int i = 0; i < n.hit_count; ++i) g.broken = g.broken || n.hits[static_cast<std::size_t>(i)].severity == Severity::Stop;
    // A driver's drop only lowers what flows, and never below what a motor's load asks.
    // An LED's resistor is chosen for what is left, the next of a series: more may flow with a drop than without.
    const bool settled = std::holds_alternative<actuator::Motor>(part) || (std::holds_alternative<actuator::Lamp>(part) && !isLed(part)) ||
                         std::holds_alternative<actuator::Fan>(part);
    g.least_current = settled && known(n.winding) ? n.winding : 0.0;
    return g;
}

Numbers judge(const Context& c, const actuator::Part& part, const DriverPart& d, const RailOption& rail) {
    Numbers n;
    const auto& head = actuator::head(part);
    n.price = (head.drawer ? 0.0 : or_unknown(head.price)) + (d.drawer ? 0.0 : or_unknown(d.price));
    n.noise = or_unknown(head.noise);
    n.mass = or_unknown(head.mass);
    const auto method = methodOf(c, part);
    if (!method || !canDrive(d.driver_class, *method)) {
        n.hit(Rule::Misfit, Severity::Stop);
        return n;
    }
    const bool from_pin = *method == Method::Light && d.driver_class == DriverClass::Pin;
    // What a pin gives comes out of the board.
    if (from_pin && !rail.feeds_board) n.hit(Rule::PinFeeds, Severity::Stop);
    const double volts = from_pin ? si(c.logic) : supplyOf(c, rail);
    if (!known(volts)) {
        n.incomplete = true;
        return n;
    }
    std::visit(Runner{c, &d, volts, from_pin ? 0.0 : wireOf(c, rail), n}, part);
    if (*method == Method::Alternating) {
        n.hit(Rule::MainsPart, Severity::Note, volts);
        if (!d.mains) n.hit(Rule::NotForMains, Severity::Stop, volts);
        const auto* s = std::get_if<SwitchDemand>(&c.demand);
        if (s != nullptr && s->dimmed && d.driver_class == DriverClass::SsrZeroCrossing) n.hit(Rule::SsrNoDim, Severity::Stop);
        if (s != nullptr && s->dimmed && d.driver_class == DriverClass::PhaseControl &&
            contactLoad(c, part) == driver::ContactLoad::Capacitive)
            n.hit(Rule::DimmedLamp, Severity::Warn);
    }
    judgeDriver(c, part, d, volts, n);
    const bool moves = !std::holds_alternative<actuator::Lamp>(part) && !std::holds_alternative<actuator::Heater>(part);
    if (rail.feeds_board && moves && known(n.starting) && n.starting > 0.1) n.hit(Rule::LogicRail, Severity::Warn, n.starting);
    if (head.standing == actuator::Standing::Suspect || d.standing == actuator::Standing::Suspect) n.hit(Rule::Suspect, Severity::Warn);
    if (n.incomplete) n.hit(Rule::FigureMissing, Severity::Note);
    return n;
}

const char* idOf(Rule rule, const actuator::Part& part) {
    switch (rule) {
        case Rule::TooWeak: return "too-weak";
        case Rule::OverHalf:
            return std::holds_alternative<actuator::Servo>(part)     ? "servo-over-half"
                   : std::holds_alternative<actuator::Stepper>(part) ? "stepper-over-half"
                                                                     : "over-margin";
        case Rule::TooSlow: return "too-slow";
        case Rule::BarelyFast: return "barely-fast";
        case Rule::SupplyOver: return "supply-over";
        case Rule::SupplyLow: return "supply-low";
        case Rule::SupplyTooLow: return "supply-too-low";
        case Rule::ServoRange: return std::holds_alternative<actuator::Coil>(part) ? "stroke-over" : "servo-range";
        case Rule::NoPosition: return "no-position";
        case Rule::NoHold: return "no-hold";
        case Rule::DriverOvercurrent: return "driver-overcurrent";
        case Rule::StallOverDriver: return "stall-over-driver";
        case Rule::SwitchVoltage: return "switch-voltage";
        case Rule::GateNotEnhanced: return "gate-not-enhanced";
        case Rule::LevelMismatch: return "level-mismatch";
        case Rule::DriverHot: return "driver-hot";
        case Rule::RelayNoPwm: return "relay-no-pwm";
        case Rule::ContactInrush: return "contact-inrush";
        case Rule::CoilWontPull: return "coil-wont-pull";
        case Rule::PinOvercurrent: return "pin-overcurrent";
        case Rule::BaseStarved: return "base-starved";
        case Rule::LedOvercurrent: return "led-overcurrent";
        case Rule::LedBarely: return "led-barely";
        case Rule::PinFeeds: return "pin-feeds";
        case Rule::PumpCannotLift: return "pump-cannot-lift";
        case Rule::DoseOverTime: return "dose-over-time";
        case Rule::DoseNearLimit: return "dose-near-limit";
        case Rule::NoiseOver: return "noise-over";
        case Rule::TooLittleAir: return "too-little-air";
        case Rule::CoilDuty: return "coil-duty";
        case Rule::NotForMains: return "not-for-mains";
        case Rule::MainsPart: return "mains-present";
        case Rule::SsrLeakage: return "ssr-leakage";
        case Rule::SsrNoDim: return "ssr-no-dim";
        case Rule::DimmedLamp: return "dimmed-lamp";
        case Rule::Suspect: return "sample-suspect";
        case Rule::LogicRail: return "mover-on-logic-rail";
        case Rule::Misfit: return "misfit";
        case Rule::FigureMissing: return "figure-missing";
    }
    return "";
}

}  // namespace hinge::match
