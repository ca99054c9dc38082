#include "match/judge.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::match {
namespace {

using driver::DriverPart;
using project::SwitchDemand;

constexpr double usual_theta = 62.0;  // K/W, small package in still air

template <class Q>
double or_unknown(const std::optional<Q>& value) {
    return value ? si(*value) : unknown;
}
double wireOf(const Context& c, const RailOption& rail) {
    return onMains(c.demand) ? 0.0 : si(rail.wire);
}

// What any driver is judged by: its volts, its current, its input's level, its junction; between them what its own class is judged by.
void judgeDriver(const Context& c, const actuator::Part& part, const DriverPart& d, double rail, Numbers& n) {
    const auto& kind = driverKind(d);
    if (d.voltage_min && rail < si(*d.voltage_min) / slack) n.hit(Rule::SupplyTooLow, Severity::Stop, rail, si(*d.voltage_min));
    if (d.voltage_max && rail > si(*d.voltage_max) * slack) n.hit(Rule::SwitchVoltage, Severity::Stop, rail, si(*d.voltage_max));
    else if (d.voltage_max && kind.bears == Bears::HalfMore && rail * 1.5 > si(*d.voltage_max) * slack)
        n.hit(Rule::SwitchVoltage, Severity::Warn, rail, si(*d.voltage_max));
    if (d.logic_min && si(c.logic) < si(*d.logic_min) / slack) n.hit(Rule::LevelMismatch, Severity::Stop, si(c.logic), si(*d.logic_min));
    if (!known(n.winding)) return;
    if (d.current_max && !kind.limits) {
        if (n.winding > si(*d.current_max) * slack) n.hit(Rule::DriverOvercurrent, Severity::Stop, n.winding, si(*d.current_max));
        else if (known(n.stalled) && n.stalled > si(*d.current_max) * slack)
            n.hit(Rule::StallOverDriver, Severity::Warn, n.stalled, si(*d.current_max));
    }
    if (kind.judge && !kind.judge(Driven{c, part, d, rail, kinds::heatingShare(c, part)}, n)) return;
    if (!kind.warms || !known(n.heat)) return;
    const double bare = d.theta_ja ? si(*d.theta_ja) : usual_theta,
                 theta = c.heat_sink ? std::min(bare, si(*c.heat_sink) + into_sink) : bare;
    n.junction = si(c.ambient) + n.heat * theta;
    if (n.junction > 423.15 * slack) n.hit(Rule::DriverHot, Severity::Stop, n.junction, 423.15);
    else if (n.junction > 398.15) n.hit(Rule::DriverHot, Severity::Warn, n.junction, 423.15);
}

}  // namespace

Glance glance(const Context& c, const actuator::Part& part, const RailOption& rail) {
    Glance g;
    const auto& kind = actuatorKind(part);
    const auto method = methodFor(c, part);
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
    Running at{c, nullptr, most, g.wire, n};
    kind.judge(at, part);
    for (int i = 0; i < n.hit_count; ++i) g.broken = g.broken || n.hits[static_cast<std::size_t>(i)].severity == Severity::Stop;
    // A driver's drop only lowers what flows, and never below what a motor's load asks.
    // An LED's resistor is chosen for what is left, the next of a series: more may flow with a drop than without.
    const bool settled = kind.settles && !isLed(part);
    g.least_current = settled && known(n.winding) ? n.winding : 0.0;
    return g;
}

Numbers judge(const Context& c, const actuator::Part& part, const DriverPart& d, const RailOption& rail) {
    Numbers n;
    const auto& head = actuator::head(part);
    n.price = (head.drawer ? 0.0 : or_unknown(head.price)) + (d.drawer ? 0.0 : or_unknown(d.price));
    n.noise = or_unknown(head.noise);
    n.mass = or_unknown(head.mass);
    const auto method = methodFor(c, part);
    const auto& with = driverKind(d);
    const auto& kind = actuatorKind(part);
    if (!method || (with.drives & only(*method)) == 0) {
        n.hit(Rule::Misfit, Severity::Stop);
        return n;
    }
    const bool from_pin = *method == Method::Light && with.from_pin;
    // What a pin gives comes out of the board.
    if (from_pin && !rail.feeds_board) n.hit(Rule::PinFeeds, Severity::Stop);
    const double volts = from_pin ? si(c.logic) : supplyOf(c, rail);
    if (!known(volts)) {
        n.incomplete = true;
        return n;
    }
    Running at{c, &d, volts, from_pin ? 0.0 : wireOf(c, rail), n};
    kind.judge(at, part);
    if (*method == Method::Alternating) {
        n.hit(Rule::MainsPart, Severity::Note, volts);
        if (!d.mains) n.hit(Rule::NotForMains, Severity::Stop, volts);
        const auto* s = std::get_if<SwitchDemand>(&c.demand);
        if (s != nullptr && s->dimmed && with.waves == Waves::WholeCycles) n.hit(Rule::SsrNoDim, Severity::Stop);
        if (s != nullptr && s->dimmed && firesParts(with.waves) && contactLoad(c, part) == driver::ContactLoad::Capacitive)
            n.hit(Rule::DimmedLamp, Severity::Warn);
    }
    judgeDriver(c, part, d, volts, n);
    if (rail.feeds_board && kind.moves && known(n.starting) && n.starting > 0.1) n.hit(Rule::LogicRail, Severity::Warn, n.starting);
    if (head.standing == actuator::Standing::Suspect || d.standing == actuator::Standing::Suspect) n.hit(Rule::Suspect, Severity::Warn);
    if (n.incomplete) n.hit(Rule::FigureMissing, Severity::Note);
    return n;
}

const char* idOf(Rule rule, const actuator::Part& part) {
    switch (rule) {
        case Rule::TooWeak: return "too-weak";
        case Rule::OverHalf: return actuatorKind(part).over_half;
        case Rule::TooSlow: return "too-slow";
        case Rule::BarelyFast: return "barely-fast";
        case Rule::SupplyOver: return "supply-over";
        case Rule::SupplyLow: return "supply-low";
        case Rule::SupplyTooLow: return "supply-too-low";
        case Rule::ServoRange: return "servo-range";
        case Rule::StrokeOver: return "stroke-over";
        case Rule::NoPosition: return "no-position";
        case Rule::NoHold: return "no-hold";
        case Rule::HeldWeakly: return "held-weakly";
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
        case Rule::CommonPole: return "common-pole";
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
        case Rule::HotSide: return "hot-side";
        case Rule::HotSideUnknown: return "hot-side-unknown";
        case Rule::Misfit: return "misfit";
        case Rule::FigureMissing: return "figure-missing";
    }
    return "";
}

}  // namespace hinge::match
