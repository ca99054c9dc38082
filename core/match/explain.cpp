#include "match/explain.hpp"
#include <fmt/format.h>
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::match {
namespace {

using driver::DriverPart;

template <class Q>
std::optional<Q> maybe(double value) {
    return known(value) ? std::optional<Q>{of<Q>(value)} : std::nullopt;
}

}  // namespace

// One table: a sentence a rule.
std::string sentenceOf(const Hit& h, const actuator::Part& part, const DriverPart& d) {
    const auto amps = [](double v) { return display(Kind::Current, v); };
    const auto volts = [](double v) { return display(Kind::Voltage, v); };
    const Kind strength = actuatorKind(part).strength;
    const std::string it = std::string{"this "} + nameOf(part);
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
            if (!known(h.value)) return "It turns to a place and stays; this load goes on turning.";
            return fmt::format("The move is {} at its shaft; it reaches {}.", display(Kind::Angle, h.value), display(Kind::Angle, h.limit));
        case Rule::StrokeOver:
            return fmt::format("The stroke is {}; this one reaches {}.", display(Kind::Length, h.value), display(Kind::Length, h.limit));
        case Rule::NoPosition:
            if (h.severity == Severity::Note)
                return "It does not know where it stands; what its cues wait for says so. Where that fails, a time ends them.";
            return "It does not know where it stands: a stop, an end switch or a sensor has to say so.";
        case Rule::HeldWeakly:
            return "At rest it is held with a part of its current, and that is weaker than its load: it may slip while it stands.";
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
            return fmt::format("The {} takes {} from a pin that gives {}.", driverKind(d).on_pin, amps(h.value), amps(h.limit));
        case Rule::LedOvercurrent:
            return fmt::format("With this resistor {} flow; the LED bears {}. It is bright for a while, and then dead.", amps(h.value),
                               amps(h.limit));
        case Rule::LedBarely:
            return fmt::format("Only {} are left for its resistor: from one LED to the next the current differs by more than it should.",
                               volts(h.value));
        case Rule::CommonPole:
            return h.value > 0.0
                       ? "Its three colours have their plus in common, and this driver switches the plus: all three would come on "
                         "together. One that switches the minus drives each by itself."
                       : "Its three colours have their minus in common, and this driver switches the minus: all three would come on "
                         "together. A pin, or a driver that switches the plus, drives each by itself.";
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
        case Rule::HotSide:
            return fmt::format("With all of its power its hot side comes to {}; {} is the most that you allow.",
                               display(Kind::Temperature, h.value, 3), display(Kind::Temperature, h.limit, 3));
        case Rule::HotSideUnknown:
            return "What the heat-sink on its hot side does is not known: here that side is as cool as the air, which it never is. Measure "
                   "it: the degrees above the air, by the watts that the plate takes and pumps.";
        case Rule::Misfit: return fmt::format("A {} does not drive a {} here.", driverKind(d).label, nameOf(part));
        case Rule::FigureMissing: return actuatorKind(part).missing(part);
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
    const auto& kind = actuatorKind(part);
    out.flow = maybe<VolumeFlow>(n.flow);
    if (kind.lifts) out.head = maybe<Length>(n.height);
    out.run_time = maybe<Duration>(n.run_time);
    out.run_time_measured = n.measured;
    if (kind.by_share) out.speed = maybe<Ratio>(n.speed);
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
            const Showing show{c, d, volts, out};
            kind.show(show, part);
            if (known(n.winding)) driverKind(d).show(Driven{c, part, d, volts, kinds::heatingShare(c, part)}, show);
        }
    }
    return out;
}

std::vector<Protection> protection(const Context& c, const actuator::Part& part, const DriverPart& d, const RailOption& rail) {
    std::vector<Protection> list;
    const Numbers n = judge(c, part, d, rail);
    const auto& kind = actuatorKind(part);
    const Fitting fitting{c, part, d, rail, n, list, kind.inductive};
    driverKind(d).protection(fitting);
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
                        driverKind(d).from_pin ? "between pin and the LED's longer leg" : "in the LED's plus",
                        fmt::format("it sets the current: {}", display(Kind::Current, n.winding))});
    }
    kind.needs(fitting);
    if (c.heat_sink)
        list.push_back({"heat-sink", display(*c.heat_sink) + ", as it is fitted", "on the driver",
                        known(n.junction) ? fmt::format("with it the driver reaches {}", display(Kind::Temperature, n.junction)) : ""});
    else if (known(n.junction) && n.junction > 358.15)
        list.push_back({"heat-sink", "20 K/W or better", "on the driver",
                        fmt::format("without one it reaches {}", display(Kind::Temperature, n.junction))});
    if (const auto* heat = std::get_if<project::HeatDemand>(&c.demand); heat != nullptr && heat->way != project::HeatWay::Cool)
        list.push_back({"thermal cut-out", "opens below what the box may reach", "in the heater's own wire, in series",
                        "it must work without the board and the sketch"});
    return list;
}

namespace {

void common(Figures& lines, const actuator::PartHead& head) {
    lines("mass", head.mass);
    if (head.noise) lines.out.push_back({"noise", significant(si(*head.noise), 2) + " dB(A)"});
    if (head.price) lines.out.push_back({"price", fmt::format("{:.2f}", si(*head.price))});
}

}  // namespace

std::vector<PartFigure> figuresOf(const actuator::Part& part) {
    Figures say;
    say.out.push_back({"kind", nameOf(part)});
    actuatorKind(part).figures(say, part);
    common(say, actuator::head(part));
    return say.out;
}

std::vector<PartFigure> figuresOf(const DriverPart& d) {
    Figures l;
    l.out.push_back({"kind", driverKind(d).label});
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
