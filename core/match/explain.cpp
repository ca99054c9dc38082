#include "match/explain.hpp"
#include <fmt/format.h>
#include <cmath>
#include "actuator/coil_drive.hpp"
#include "actuator/dc_motor.hpp"
#include "actuator/fan_point.hpp"
#include "actuator/pump_point.hpp"
#include "actuator/rc_servo.hpp"
#include "actuator/stepper_torque.hpp"
#include "demand/dose.hpp"
#include "driver/bjt_switch.hpp"
#include "driver/contact_rating.hpp"
#include "driver/current_sense.hpp"
#include "driver/mains.hpp"
#include "driver/mosfet_switch.hpp"
#include "match/system_curve.hpp"
#include "quantity/constants.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"

namespace hinge::match {
namespace {

using namespace project;
using driver::DriverClass;
using driver::DriverPart;

template <class Q>
std::optional<Q> maybe(double value) {
    return known(value) ? std::optional<Q>{of<Q>(value)} : std::nullopt;
}

std::string missingFigure(const actuator::Part& part) {
    struct Of {
        std::string operator()(const actuator::Motor& m) const {
            if (!m.stall_current)
                return "The stall current is not known. Hold the shaft for one second on a current-limited supply and read the amps.";
            if (!m.stall_torque)
                return "The stall torque is not known. Hang a luggage scale on an arm on its shaft and read it as it stops.";
            if (!m.no_load_speed || !m.no_load_current)
                return "The figures without load are not known. Let it run free: count its turns, read the amps.";
            return "A figure of the demand or of the driver is missing.";
        }
        std::string operator()(const actuator::Stepper& s) const {
            return !s.phase_inductance ? "The winding's inductance is not on the data sheet: what it can do at speed is not known."
                                       : "A figure of this stepper, of the demand or of the driver is missing.";
        }
        std::string operator()(const actuator::Servo& s) const {
            return !s.stall_current
                       ? "The stall current is not known. Hold the horn for one second on a current-limited supply and read the amps."
                       : "A figure of this servo or of the demand is missing.";
        }
        std::string operator()(const actuator::Fan& f) const {
            return !f.current ? "The fan's current is not known: read it with a meter in its plus wire."
                              : "Its curve ends before it meets what the air's way takes, or a figure is missing.";
        }
        std::string operator()(const actuator::Pump& p) const {
            if (!p.running_current) return "The running current is not on the data sheet. Read it with a meter in its plus wire.";
            if (!p.stall_current)
                return "The stall current is not on the data sheet. Hold the rotor for one second on a current-limited supply and read the "
                       "amps.";
            return "Its curve ends before it meets what lift and tube ask, or a figure is missing.";
        }
        std::string operator()(const actuator::Coil& c) const {
            return !c.coil_resistance ? "The coil's resistance is not known: measure it with the power off."
                                      : "Its force at that stroke is not known: press it against a kitchen scale.";
        }
        std::string operator()(const actuator::Heater&) const { return "Its power is not known: volts times amps, by a meter."; }
        std::string operator()(const actuator::Lamp& l) const {
            if (l.lamp_class == actuator::LampClass::Led)
                return "Its current is not known: 5 mA hurt no LED, its data sheet says the most.";
            return "Its power is not known: volts times amps, by a meter.";
        }
    };
    return std::visit(Of{}, part);
}

// Inputs of the workings that a part's class is checked by; the same formulas as judge().
template <class R>
void add(Pairing& pairing, std::string title, Stage stage, const Result<Worked<R>>& worked) {
    if (worked) pairing.workings.push_back({std::move(title), stage, "", worked->steps, worked->verdict});
}

struct Show {
    const Context& c;
    const DriverPart& driver;
    double rail;
    Pairing& out;

    void operator()(const actuator::Motor& m) const {
        if (!m.no_load_speed || !m.no_load_current || !m.stall_current || !m.stall_torque || !c.ask.torque || !known(out.numbers.volts) ||
            out.numbers.volts <= 0.0)
            return;
        actuator::DcMotor in;
        in.voltage = of<Voltage>(out.numbers.volts);
        in.nominal_voltage = m.nominal_voltage;
        in.no_load_speed = *m.no_load_speed;
        in.no_load_current = *m.no_load_current;
        in.stall_current = *m.stall_current;
        in.stall_torque = *m.stall_torque;
        in.load_torque = *c.ask.torque;
        in.gear_ratio = of<Ratio>(si(m.gear_ratio) * c.gear_ratio);
        in.gear_efficiency = of<Fraction>(si(m.gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0));
        add(out, "speed and current of the motor", Stage::Match, actuator::dcMotor(in));
    }
    void operator()(const actuator::Stepper& s) const {
        if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance || !c.ask.torque || !c.ask.speed ||
            out.numbers.volts <= 0.0)
            return;
        const double ratio = si(s.gear_ratio) * c.gear_ratio, efficiency = si(s.gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0);
        actuator::StepperTorque in;
        in.holding_torque = *s.holding_torque;
        in.rated_current = *s.rated_current;
        in.phase_resistance = *s.phase_resistance;
        in.phase_inductance = *s.phase_inductance;
        in.steps_per_turn = s.steps_per_turn;
        in.supply_voltage = of<Voltage>(out.numbers.volts);
        in.drive_current = of<Current>(out.numbers.drive_current);
        in.speed = of<RotationSpeed>(si(*c.ask.speed) * ratio);
        in.load_torque = of<Torque>(si(*c.ask.torque) / (ratio * efficiency));
        add(out, "torque at that speed", Stage::Match, actuator::stepperTorque(in));
        if (auto reference = driver::chopperReference(driver, in.drive_current))
            add(out, "reference of the chopper", Stage::Match, Result<Worked<driver::StepperCurrentResult>>{std::move(*reference)});
    }
    void operator()(const actuator::Servo& s) const {
        if (!s.torque_low || !s.torque_high || !s.time_low || !s.time_high || !c.ask.torque) return;
        const double along = std::clamp((rail - si(s.voltage_low)) / (si(s.voltage_high) - si(s.voltage_low)), 0.0, 1.0);
        actuator::RcServo in;
        in.torque_low = *s.torque_low;
        in.voltage_low = s.voltage_low;
        in.torque_high = *s.torque_high;
        in.voltage_high = s.voltage_high;
        in.time_per_60deg = of<Duration>(si(*s.time_low) + along * (si(*s.time_high) - si(*s.time_low)));
        in.supply = of<Voltage>(rail);
        in.load_torque = of<Torque>(si(*c.ask.torque) / (c.gear_ratio * (c.gear_ratio != 1.0 ? 0.9 : 1.0)));
        in.move_angle = of<Angle>(c.ask.angle ? si(*c.ask.angle) * c.gear_ratio : 0.0);
        add(out, "share of the servo's stall torque", Stage::Match, actuator::rcServo(in));
    }
    void operator()(const actuator::Fan& f) const {
        if (!c.ask.flow || !c.ask.pressure || !known(out.numbers.speed)) return;
        actuator::FanPoint in;
        in.curve = f.curve;
        in.speed_fraction = of<Fraction>(out.numbers.speed);
        in.system_k = of<PressurePerFlowSquared>(si(*c.ask.pressure) / (si(*c.ask.flow) * si(*c.ask.flow)));
        add(out, "where fan and duct meet", Stage::Match, actuator::fanPoint(in));
    }
    void operator()(const actuator::Pump& p) const {
        if (!p.running_current || !p.stall_current || !known(out.numbers.volts)) return;
        add(out, "speed and current of the pump", Stage::Match,
            actuator::pumpSpeed({of<Voltage>(out.numbers.volts), c.signal.duty, p.nominal_voltage, *p.running_current, *p.stall_current,
                                 p.inductance, c.signal.frequency}));
        actuator::SoftStart start;
        start.supply = of<Voltage>(rail);
        start.running_current = of<Current>(out.numbers.running);
        start.stall_current = of<Current>(std::max(out.numbers.stalled * si(c.signal.duty), out.numbers.running));
        start.spin_up_time = p.spin_up_time;
        start.ramp = driver::isContact(driver.driver_class) ? Duration{} : c.signal.soft_start;
        add(out, "current while starting", Stage::Pulse, actuator::softStart(start));
        const auto& d = std::get<PumpDemand>(c.demand);
        if (!known(out.numbers.flow) || out.numbers.flow <= 0.0) return;
        actuator::PumpPoint point;
        point.curve = curveAt(p, out.numbers.speed);
        const double rest = systemHead(d, 0.0).value_or(0.0);
        point.static_head = of<Length>(rest);
        point.system_k = of<HeadPerFlowSquared>(
            std::max(0.0, (systemHead(d, out.numbers.flow).value_or(rest) - rest) / (out.numbers.flow * out.numbers.flow)));
        add(out, "where pump and tube meet", Stage::Match, actuator::pumpPoint(point));
        if (!d.volume) return;
        demand::Dose dose;
        dose.volume = *d.volume;
        dose.flow = of<VolumeFlow>(si(*d.volume) / out.numbers.run_time);
        dose.doses_per_day = d.doses_per_day;
        dose.run_time_limit = d.run_time_limit;
        add(out, out.numbers.measured ? "run time, by cup and clock" : "run time of a dose", Stage::Need, demand::dose(dose));
    }
    void operator()(const actuator::Coil& k) const {
        if (!k.coil_resistance) return;
        actuator::CoilDrive in;
        in.coil_voltage = k.coil_voltage;
        in.coil_resistance = *k.coil_resistance;
        in.supply = of<Voltage>(rail);
        in.operate_fraction = k.operate_fraction;
        in.driver_drop = of<Voltage>(std::max(0.0, rail - out.numbers.volts));
        const bool latching = k.coil_class == actuator::CoilClass::LatchingSolenoid || k.coil_class == actuator::CoilClass::LatchingValve;
        in.coil_temperature = Temperature::celsius(latching ? 20.0 : 80.0);
        add(out, "pull of the coil, warm", Stage::Match, actuator::coilDrive(in));
    }
    void operator()(const actuator::Heater& h) const {
        if (!h.power || !known(out.numbers.volts)) return;
        const double nominal = si(h.nominal_voltage), resistance = nominal * nominal / si(*h.power);
        Steps steps;
        addStep(steps, "R", "resistance, warm", "{Vn}²/{Pn}", {{"Vn", nominal}, {"Pn", *h.power}}, of<Resistance>(resistance), "ohm");
        addStep(steps, "I", "current on this supply", "{V}/{R}", {{"V", out.numbers.volts}, {"R", resistance}},
                of<Current>(out.numbers.winding), "ohm");
        addStep(steps, "P", "power taken", "{I}²·{R}", {{"I", out.numbers.winding}, {"R", resistance}}, of<Power>(out.numbers.part_heat),
                "ohm");
        if (h.heater_class == actuator::HeaterClass::ThermoElectric && h.heat_pumped && h.largest_difference && c.ask.difference)
            addStep(steps, "Q", "heat pumped at that difference, straight line between the data sheet's ends", "{Qm}·(1 − {d}/{dm})·V/Vn",
                    {{"Qm", *h.heat_pumped}, {"d", *c.ask.difference}, {"dm", *h.largest_difference}}, of<Power>(out.numbers.ability),
                    "thermo-electric-line");
        out.workings.push_back({"heat that it gives", Stage::Match, "", steps, Verdict::Holds});
    }
    void operator()(const actuator::Lamp& l) const {
        if (l.lamp_class == actuator::LampClass::Led && l.current && known(out.numbers.led_resistor)) {
            const bool on_pin = driver.driver_class == DriverClass::Pin;
            driver::LedResistor in;
            in.supply = on_pin ? c.logic : of<Voltage>(out.numbers.winding * out.numbers.led_resistor + si(l.nominal_voltage));
            in.led_drop = l.nominal_voltage;
            in.current = on_pin ? std::min(*l.current, c.pin_current) : *l.current;
            in.fitted = c.led_resistor;
            add(out, "the LED's resistor", Stage::Match, driver::ledResistor(in));
        }
        if (!l.power) return;
        Steps steps;
        addStep(steps, "I", "current it takes", "{P}/{V}", {{"P", *l.power}, {"V", l.nominal_voltage}}, of<Current>(out.numbers.winding),
                "ohm");
        out.workings.push_back({"current of the load", Stage::Match, "", steps, Verdict::Holds});
    }
};

void showDriver(const Context& c, const actuator::Part& part, const DriverPart& d, double rail, Pairing& out) {
    const auto& n = out.numbers;
    if (!known(n.winding)) return;
    switch (d.driver_class) {
        case DriverClass::Mosfet:
        case DriverClass::HighSide: {
            if (!d.threshold_max || !d.on_resistance || !d.on_resistance_gate_voltage) return;
            driver::MosfetSwitch in;
            const double divider =
                c.pulldown_side == driver::PulldownSide::Gate ? si(c.pulldown) / (si(c.pulldown) + si(c.gate_resistor)) : 1.0;
            in.drive_voltage = of<Voltage>(d.driver_class == DriverClass::HighSide ? rail : si(c.logic) * divider);
            in.threshold_max = *d.threshold_max;
            in.on_resistance = *d.on_resistance;
            in.on_resistance_gate_voltage = *d.on_resistance_gate_voltage;
            in.current = of<Current>(n.winding);
            in.supply = of<Voltage>(rail);
            in.duty = c.signal.duty;
            // Full duty never switches; below it the PWM does.
            in.frequency = si(c.signal.duty) < 1.0 ? c.signal.frequency : of<Frequency>(0.0);
            in.gate_charge = d.gate_charge.value_or(Charge{});
            in.gate_resistor = c.gate_resistor;
            if (d.theta_ja) in.theta_ja = *d.theta_ja;
            if (c.heat_sink) in.theta_ja = of<ThermalResistance>(std::min(si(in.theta_ja), si(*c.heat_sink) + into_sink));
            in.ambient = c.ambient;
            add(out, "heat of the MOSFET", Stage::Match, driver::mosfetSwitch(in));
            return;
        }
        case DriverClass::Npn:
        case DriverClass::Darlington: {
            if (!d.gain_min) return;
            driver::BjtSwitch in;
            in.current = of<Current>(n.winding);
            in.gain_min = *d.gain_min;
            in.drive_voltage = c.logic;
            in.base_voltage = d.base_voltage.value_or(of<Voltage>(d.driver_class == DriverClass::Npn ? 0.8 : 1.4));
            in.saturation_voltage = d.saturation_voltage.value_or(of<Voltage>(d.driver_class == DriverClass::Npn ? 0.3 : 1.0));
            in.supply = of<Voltage>(rail);
            in.pin_current_max = c.pin_current;
            add(out, "base resistor and heat", Stage::Match, driver::bjtSwitch(in));
            return;
        }
        case DriverClass::HBridge:
        case DriverClass::HalfBridge: {
            if (!d.saturation_voltage && !d.on_resistance) return;
            driver::HBridgeLoss in;
            in.current = of<Current>(n.winding);
            if (d.saturation_voltage) in.drop = d.saturation_voltage;
            else in.on_resistance = of<Resistance>(si(*d.on_resistance) * 1.5);
            in.supply = of<Voltage>(rail);
            in.duty = c.signal.duty;
            add(out, "heat of the bridge", Stage::Match, driver::hBridgeLoss(in));
            return;
        }
        case DriverClass::RelayBoard:
        case DriverClass::Contactor: {
            driver::ContactRating in;
            in.load = contactLoad(c, part);
            in.current = of<Current>(n.winding);
            if (d.contact_current) in.contact_current = *d.contact_current;
            if (d.contact_current) add(out, "contact at switch-on", Stage::Match, driver::contactRating(in));
            if (d.coil_voltage && d.coil_resistance && c.logic_supply) {
                actuator::CoilDrive coil;
                coil.coil_voltage = *d.coil_voltage;
                coil.coil_resistance = *d.coil_resistance;
                coil.supply = *c.logic_supply;
                add(out, "the relay's coil", Stage::Match, actuator::coilDrive(coil));
            }
            return;
        }
        default: return;
    }
}

}  // namespace

std::string sentenceOf(const Hit& h, const actuator::Part& part, const DriverPart& d) {
    const auto amps = [](double v) { return display(Kind::Current, v); };
    const auto volts = [](double v) { return display(Kind::Voltage, v); };
    const Kind strength = std::holds_alternative<actuator::Coil>(part)                                                     ? Kind::Force
                          : std::holds_alternative<actuator::Heater>(part) || std::holds_alternative<actuator::Lamp>(part) ? Kind::Power
                                                                                                                           : Kind::Torque;
    const std::string it = std::string{"this "} + actuator::className(part);
    switch (h.rule) {
        case Rule::TooWeak:
            return fmt::format("The load asks {}; {} has {} here.", display(strength, h.value), it, display(strength, h.limit));
        case Rule::OverHalf:
            return fmt::format("The load asks {} of what {} has; {} is the limit for the margin you want.",
                               display(Kind::Fraction, h.value, 2), it, display(Kind::Fraction, h.limit, 2));
        case Rule::TooSlow:
            return fmt::format("It reaches {} under this load; {} is asked for.", display(Kind::RotationSpeed, h.value),
                               display(Kind::RotationSpeed, h.limit));
        case Rule::BarelyFast:
            return fmt::format("It reaches {} under this load; {} is asked for: little is left.", display(Kind::RotationSpeed, h.value),
                               display(Kind::RotationSpeed, h.limit));
        case Rule::SupplyOver:
            return fmt::format("{} on a part made for {}: it would run hot, and not for long.", volts(h.value), volts(h.limit));
        case Rule::SupplyLow:
            return fmt::format("{} on a part made for {}: it does less than its data sheet says.", volts(h.value), volts(h.limit));
        case Rule::SupplyTooLow: return fmt::format("{} is below the {} at which it starts to work.", volts(h.value), volts(h.limit));
        case Rule::ServoRange:
            if (std::holds_alternative<actuator::Coil>(part))
                return fmt::format("The stroke is {}; this one reaches {}.", display(Kind::Length, h.value),
                                   display(Kind::Length, h.limit));
            if (!known(h.value)) return "It turns to a place and stays; this load goes on turning.";
            return fmt::format("The move is {} at its shaft; it reaches {}.", display(Kind::Angle, h.value), display(Kind::Angle, h.limit));
        case Rule::NoPosition: return "It does not know where it stands: a stop, an end switch or a sensor has to say so.";
        case Rule::NoHold: return "With the power off it lets go; this load must stay put.";
        case Rule::DriverOvercurrent: return fmt::format("It draws {}; this driver carries {}.", amps(h.value), amps(h.limit));
        case Rule::StallOverDriver:
            return fmt::format("If it jams it draws {}; this driver carries {}. The fuse must blow first.", amps(h.value), amps(h.limit));
        case Rule::SwitchVoltage:
            return fmt::format("{} on a driver made for {}{}.", volts(h.value), volts(h.limit),
                               h.value > h.limit ? "" : ": half as much again is usual");
        case Rule::GateNotEnhanced:
            return fmt::format("The gate gets {}; this MOSFET is only guaranteed fully on at {}. It will be half on, and hot.",
                               volts(h.value), volts(h.limit));
        case Rule::LevelMismatch: return fmt::format("A pin gives {}; this driver's input wants {}.", volts(h.value), volts(h.limit));
        case Rule::DriverHot:
            return h.value > h.limit ? fmt::format("The driver would reach {}; its limit is {}.", display(Kind::Temperature, h.value),
                                                   display(Kind::Temperature, h.limit))
                                     : fmt::format("The driver reaches {}, near its limit of {}.", display(Kind::Temperature, h.value),
                                                   display(Kind::Temperature, h.limit));
        case Rule::RelayNoPwm: return "A relay cannot follow PWM: no soft start and no part power. Its contacts would burn within hours.";
        case Rule::ContactInrush:
            return fmt::format("At switch-on {} rush through a contact that is good for {}.", amps(h.value), amps(h.limit));
        case Rule::CoilWontPull: return fmt::format("Its coil gets {}; it needs {} to pull for sure.", volts(h.value), volts(h.limit));
        case Rule::PinOvercurrent:
            return fmt::format("The {} takes {} from a pin that gives {}.", d.driver_class == DriverClass::Pin ? "LED" : "base",
                               amps(h.value), amps(h.limit));
        case Rule::LedOvercurrent:
            return fmt::format("With this resistor {} flow; the LED bears {}. It is bright for a while, and then dead.", amps(h.value),
                               amps(h.limit));
        case Rule::LedBarely:
            return fmt::format("Only {} are left for its resistor: from one LED to the next the current differs by more than it should.",
                               volts(h.value));
        case Rule::PinFeeds: return "Straight from a pin it draws from the board, and another rail is named for it.";
        case Rule::BaseStarved:
            return h.value < h.limit ? fmt::format(
                                           "With this base resistor the transistor carries {} for sure; {} flow. It stays half open "
                                           "and burns.",
                                           amps(h.value), amps(h.limit))
                                     : fmt::format(
                                           "With this base resistor the transistor carries {} for sure; {} flow. That leaves less "
                                           "than the usual half in hand.",
                                           amps(h.value), amps(h.limit));
        case Rule::PumpCannotLift:
            return fmt::format("It lifts {} at most; the outlet is {} up. Nothing comes out.", display(Kind::Length, h.value),
                               display(Kind::Length, h.limit));
        case Rule::DoseOverTime:
            return fmt::format("A dose takes {}; you allow {}.", display(Kind::Duration, h.value), display(Kind::Duration, h.limit));
        case Rule::DoseNearLimit:
            return fmt::format("A dose takes {} of the {} you allow.", display(Kind::Duration, h.value), display(Kind::Duration, h.limit));
        case Rule::NoiseOver:
            return fmt::format("It makes {} dB(A) at 1 m; you allow {}.", significant(h.value, 2), significant(h.limit, 2));
        case Rule::TooLittleAir:
            return fmt::format("It moves {} here; {} is asked for{}.", display(Kind::VolumeFlow, h.value),
                               display(Kind::VolumeFlow, h.limit), h.severity == Severity::Warn ? ": little is left" : "");
        case Rule::CoilDuty:
            return fmt::format("It would be on for {} of the time; its coil stands {}.", display(Kind::Fraction, h.value, 2),
                               display(Kind::Fraction, h.limit, 2));
        case Rule::NotForMains: return fmt::format("{} is mains; this driver is not isolated for it.", volts(h.value));
        case Rule::MainsPart:
            return fmt::format(
                "{} of mains is switched here: isolation, an enclosure, a fuse, no work while it is live. Follow your local code; have a "
                "licensed electrician do or check the mains side.",
                volts(h.value));
        case Rule::SsrLeakage:
            return fmt::format("The load takes {}; below {} this relay may not latch, and its leakage may keep the load faintly on.",
                               amps(h.value), amps(h.limit));
        case Rule::SsrNoDim: return "A zero-crossing relay passes whole half-waves only: it cannot dim.";
        case Rule::DimmedLamp: return "A lamp with electronics in it flickers or dies behind phase control unless it is made to be dimmed.";
        case Rule::Suspect:
            return fmt::format("You marked a sample of '{}' as suspect.",
                               actuator::head(part).standing == actuator::Standing::Suspect ? actuator::head(part).name : d.name);
        case Rule::LogicRail:
            return fmt::format("It starts with {} on the board's own rail: expect random resets. Give movers a rail of their own.",
                               amps(h.value));
        case Rule::Misfit: return fmt::format("A {} does not drive a {} here.", labelOf(d.driver_class), actuator::className(part));
        case Rule::FigureMissing: return missingFigure(part);
    }
    return "";
}

Pairing explain(const Context& c, const actuator::Part& part, const DriverPart& d, const RailOption& rail, bool workings) {
    Pairing out;
    const auto& head = actuator::head(part);
    out.actuator = head.id;
    out.driver = d.id;
    out.rail = rail.id;
    out.actuator_name = head.name;
    out.driver_name = d.name;
    out.rail_name = rail.name;
    out.numbers = judge(c, part, d, rail);
    const auto& n = out.numbers;
    const bool pump = std::holds_alternative<actuator::Pump>(part), fan = std::holds_alternative<actuator::Fan>(part);
    out.flow = maybe<VolumeFlow>(n.flow);
    if (pump) out.head = maybe<Length>(n.height);
    out.run_time = maybe<Duration>(n.run_time);
    out.run_time_measured = n.measured;
    if (pump || fan) out.speed = maybe<Ratio>(n.speed);
    out.motor_voltage = maybe<Voltage>(n.volts);
    out.running = maybe<Current>(n.running);
    out.motor = maybe<Current>(n.winding);
    out.stalled = maybe<Current>(n.stalled);
    out.starting = maybe<Current>(n.starting);
    out.heat = maybe<Power>(n.heat);
    out.junction = maybe<Temperature>(n.junction);
    out.base_resistor = maybe<Resistance>(n.base_resistor);
    out.led_resistor = maybe<Resistance>(n.led_resistor);
    out.pin_peak = maybe<Current>(n.pin_peak);
    out.price = maybe<Ratio>(n.price);
    out.verdict = n.verdict();
    for (int i = 0; i < n.hit_count; ++i) {
        const auto& hit = n.hits[static_cast<std::size_t>(i)];
        out.findings.push_back({idOf(hit.rule, part), hit.severity, sentenceOf(hit, part, d)});
    }
    if (workings) {
        const double volts = supplyOf(c, rail);
        if (known(volts)) {
            std::visit(Show{c, d, volts, out}, part);
            showDriver(c, part, d, volts, out);
        }
    }
    return out;
}

std::vector<Protection> protection(const Context& c, const actuator::Part& part, const DriverPart& d, const RailOption& rail) {
    std::vector<Protection> list;
    const Numbers n = judge(c, part, d, rail);
    const bool inductive = !std::holds_alternative<actuator::Heater>(part) && !std::holds_alternative<actuator::Lamp>(part) &&
                           !std::holds_alternative<actuator::Servo>(part);
    const std::string plus = "the + of " + rail.name;
    const auto diode = [&](const std::string& end) {
        const double amps = known(n.winding) ? n.winding : 1.0;
        list.push_back({"flyback diode",
                        fmt::format("{} or more, {} or more", display(Kind::Current, amps <= 1.0 ? 1.0 : std::ceil(amps)),
                                    display(Kind::Voltage, rail.volts ? 2.0 * si(*rail.volts) : 40.0)),
                        fmt::format("stripe to {}, other end to {}", plus, end),
                        "the winding's current needs a way on when the switch opens"});
    };
    switch (d.driver_class) {
        case DriverClass::Mosfet:
            list.push_back({"gate resistor", displayPlain(c.gate_resistor), "between pin and gate",
                            "keeps the gate's charging current within the pin's"});
            list.push_back({"pull-down", displayPlain(c.pulldown),
                            c.pulldown_side == driver::PulldownSide::Pin ? "from the pin's side of the gate resistor to ground"
                                                                         : "from the gate to ground",
                            "holds it off while the board starts"});
            if (inductive) diode("the drain");
            break;
        case DriverClass::Npn:
        case DriverClass::Darlington:
            if (known(n.base_resistor))
                list.push_back({"base resistor", displayPlain(Kind::Resistance, n.base_resistor), "between pin and base",
                                c.base_resistor ? "as it is fitted" : "next lower of E24 for twice the base current needed (IEC 60063)"});
            if (inductive) diode("the collector");
            break;
        case DriverClass::HighSide:
            if (inductive)
                list.push_back({"flyback diode", "as the motor's current", "stripe to the switched output, other end to ground",
                                "the winding's current needs a way on when the switch opens"});
            break;
        case DriverClass::HBridge:
        case DriverClass::HalfBridge:
            list.push_back({"bulk capacitor", "100 µF or more, 1.5 times the rail's volts", "across " + rail.name + " at the bridge",
                            "a braking motor pushes current back"});
            if (d.current_sense)
                list.push_back({"resistor before the ADC", "1 kΩ, with two diodes to the board's rails",
                                "between the bridge's current output and the pin", "at a stall it may go above the board's volts"});
            break;
        case DriverClass::Chopper:
        case DriverClass::SerialChopper:
            list.push_back({"bulk capacitor", "100 µF, 2 times the rail's volts", "across " + rail.name + ", within 5 cm of the carrier",
                            "plugging in rings far above the rail"});
            if (const auto worked = driver::chopperReference(d, of<Current>(n.drive_current)))
                list.push_back({"reference voltage", display(worked->result.reference_voltage), "at the carrier's trimmer, to ground",
                                fmt::format("limits the peak to {}", display(Kind::Current, n.drive_current))});
            list.push_back({"sleep and reset straps", "tied together or to the board's volts", "at the carrier", "it is asleep otherwise"});
            list.push_back({"enable pull-up", "10 kΩ", "between ENABLE and the board's volts",
                            "the motor is loose while the board starts: many carriers are on where that pin floats"});
            break;
        case DriverClass::RelayBoard:
        case DriverClass::Contactor:
            if (inductive && rail.volts && !known(n.volts)) break;
            if (inductive) diode("the contact's load side");
            break;
        case DriverClass::SsrZeroCrossing:
        case DriverClass::SsrRandom:
        case DriverClass::PhaseControl:
            list.push_back(
                {"snubber", "100 Ω in series with 100 nF, X2 class", "across the switch", "an inductive load's kick may fire it"});
            list.push_back({"fuse", "as the load's current, fast", "in the live wire", "the switch must not be the fuse"});
            break;
        case DriverClass::Pin:
            if (std::holds_alternative<actuator::Fan>(part))
                list.push_back({"open collector", "small NPN, 1 kΩ to its base from the pin, 10 kΩ from its base to the board's supply",
                                "its collector to the fan's PWM wire, its emitter to ground",
                                "the fan pulls that wire up itself; with the pin floating, at reset, it stays at its slowest"});
            if (std::holds_alternative<actuator::Servo>(part))
                list.push_back(
                    {"series resistor", "330 Ω", "between pin and signal wire", "a servo without its supply would be fed through the pin"});
            break;
        case DriverClass::ServoExpander: break;
    }
    if (known(n.led_resistor)) {
        // Half of its rating in free air: common practice, no published source.
        const double heat = n.winding * n.winding * n.led_resistor;
        double watts = 0.25;
        for (const double next : {0.5, 1.0, 2.0, 5.0, 10.0})
            if (2.0 * heat > watts) watts = next;
        // Beyond the usual ones: what it would have to be made for.
        if (2.0 * heat > watts) watts = std::ceil(2.0 * heat);
        list.push_back({"LED resistor",
                        fmt::format("{}, {} or more", displayPlain(Kind::Resistance, n.led_resistor), displayPlain(Kind::Power, watts)),
                        d.driver_class == DriverClass::Pin ? "between pin and the LED's longer leg" : "in the LED's plus",
                        fmt::format("it sets the current: {}", display(Kind::Current, n.winding))});
    }
    if (std::holds_alternative<actuator::Servo>(part))
        list.push_back(
            {"bulk capacitor", "470 µF, 10 V", "across " + rail.name + " at the servo", "each start draws near its stall current"});
    if (c.heat_sink)
        list.push_back({"heat-sink", display(*c.heat_sink) + ", as it is fitted", "on the driver",
                        known(n.junction) ? fmt::format("with it the driver reaches {}", display(Kind::Temperature, n.junction)) : ""});
    else if (known(n.junction) && n.junction > 358.15)
        list.push_back({"heat-sink", "20 K/W or better", "on the driver",
                        fmt::format("without one it reaches {}", display(Kind::Temperature, n.junction))});
    if (const auto* heat = std::get_if<HeatDemand>(&c.demand); heat != nullptr && heat->way == HeatWay::Warm)
        list.push_back({"thermal cut-out", "opens below what the box may reach", "in the heater's own wire, in series",
                        "it must work without the board and the sketch"});
    return list;
}

namespace {

struct Lines {
    std::vector<PartFigure> out;
    template <class Q>
    void operator()(const char* name, const std::optional<Q>& value) {
        if (value) (*this)(name, *value);
        else out.push_back({name, "not known"});
    }
    template <Measurable Q>
    void operator()(const char* name, const Q& value) {
        out.push_back({name, displayPlain(value)});
    }
};

void common(Lines& lines, const actuator::PartHead& head) {
    lines("mass", head.mass);
    if (head.noise) lines.out.push_back({"noise", significant(si(*head.noise), 2) + " dB(A)"});
    if (head.price) lines.out.push_back({"price", fmt::format("{:.2f}", si(*head.price))});
}

}  // namespace

std::vector<PartFigure> figuresOf(const actuator::Part& part) {
    Lines l;
    l.out.push_back({"kind", actuator::className(part)});
    std::visit(
        [&](const auto& p) {
            using P = std::decay_t<decltype(p)>;
            if constexpr (std::is_same_v<P, actuator::Motor>) {
                l("made for", p.nominal_voltage),
                    l("speed without load",
                      p.no_load_speed ? std::optional(of<RotationSpeed>(si(*p.no_load_speed) / si(p.gear_ratio))) : std::nullopt),
                    l("stall torque", p.stall_torque
                                          ? std::optional(of<Torque>(si(*p.stall_torque) * si(p.gear_ratio) * si(p.gear_efficiency)))
                                          : std::nullopt);
                l("stall current", p.stall_current), l("gear ratio", p.gear_ratio), l("tach pulses a turn", p.tach);
            } else if constexpr (std::is_same_v<P, actuator::Stepper>) {
                l("holding torque", p.holding_torque), l("rated current", p.rated_current), l("steps a turn", p.steps_per_turn),
                    l("gear ratio", p.gear_ratio), l("phase resistance", p.phase_resistance), l("phase inductance", p.phase_inductance);
            } else if constexpr (std::is_same_v<P, actuator::Servo>) {
                l("from", p.voltage_low), l("to", p.voltage_high), l("torque at the most", p.torque_high), l("60° in", p.time_high),
                    l("range", p.range), l("stall current", p.stall_current);
            } else if constexpr (std::is_same_v<P, actuator::Fan>) {
                l("made for", p.nominal_voltage), l("current", p.current), l("start current", p.starting_current),
                    l("start duty", p.start_duty);
                if (!p.curve.points.empty())
                    l("flow in the open", of<VolumeFlow>(p.curve.points.back().x)),
                        l("pressure when shut", of<Pressure>(p.curve.points.front().y));
            } else if constexpr (std::is_same_v<P, actuator::Pump>) {
                l("made for", p.nominal_voltage), l("running current", p.running_current), l("stall current", p.stall_current),
                    l("spin-up time", p.spin_up_time);
                if (!p.curve.points.empty())
                    l("lifts", of<Length>(p.curve.points.front().y)), l("flow without lift", of<VolumeFlow>(p.curve.points.back().x));
            } else if constexpr (std::is_same_v<P, actuator::Coil>) {
                l("coil", p.coil_voltage), l("coil resistance", p.coil_resistance), l("force", p.force), l("stroke", p.stroke),
                    l("may be on for", p.duty_max), l("pulse", p.pulse_time);
            } else if constexpr (std::is_same_v<P, actuator::Heater>) {
                l("made for", p.nominal_voltage), l("power", p.power);
                if (p.heater_class == actuator::HeaterClass::ThermoElectric)
                    l("heat pumped", p.heat_pumped), l("largest difference", p.largest_difference);
            } else if (p.lamp_class == actuator::LampClass::Led) {
                l("keeps while lit", p.nominal_voltage), l("current at most", p.current);
            } else {
                l("made for", p.nominal_voltage), l("power", p.power);
            }
            common(l, p);
        },
        part);
    return l.out;
}

std::vector<PartFigure> figuresOf(const DriverPart& d) {
    Lines l;
    l.out.push_back({"kind", labelOf(d.driver_class)});
    if (d.voltage_max) l("volts at most", d.voltage_max);
    if (d.current_max) l("carries", d.current_max);
    if (d.on_resistance) l("on-resistance", d.on_resistance);
    if (d.on_resistance_gate_voltage) l("gate wants", d.on_resistance_gate_voltage);
    if (d.saturation_voltage) l("keeps for itself", d.saturation_voltage);
    if (d.contact_current) l("contact", d.contact_current);
    if (d.coil_voltage) l("coil", d.coil_voltage);
    if (d.logic_min) l("input wants", d.logic_min);
    if (d.sense_resistor) l("sense resistor", d.sense_resistor);
    if (d.microsteps_max) l("micro-steps at most", d.microsteps_max);
    common(l, d);
    return l.out;
}

}  // namespace hinge::match
