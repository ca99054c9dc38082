#include "match/pump_match.hpp"
#include "actuator/coil_drive.hpp"
#include "actuator/pump_point.hpp"
#include "demand/dose.hpp"
#include "demand/pump_head.hpp"
#include "driver/bjt_switch.hpp"
#include "driver/contact_rating.hpp"
#include "driver/mosfet_switch.hpp"
#include "quantity/text.hpp"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hinge::match {
namespace {

using project::Stage;

template <class R>
void absorb(Pairing& pairing, std::string title, Stage stage, const Worked<R>& worked) {
    pairing.workings.push_back({std::move(title), stage, "", worked.steps, worked.verdict});
    pairing.findings.insert(pairing.findings.end(), worked.findings.begin(), worked.findings.end());
    pairing.verdict = worse(pairing.verdict, worked.verdict);
}

std::optional<demand::PumpHead> headInputs(const project::PumpDemand& d, double flow) {
    if (!d.lift || !d.tube_length || !d.tube_diameter) return std::nullopt;
    demand::PumpHead in;
    in.static_head = *d.lift;
    in.flow = of<VolumeFlow>(flow);
    in.tube_length = *d.tube_length;
    in.tube_diameter = *d.tube_diameter;
    in.fittings_k = d.fittings_k;
    return in;
}

double headOnCurve(const HeadCurve& curve, double flow) {
    const auto& p = curve.points;
    if (flow <= p.front().x) return p.front().y;
    for (std::size_t i = 1; i < p.size(); ++i)
        if (flow <= p[i].x) return p[i - 1].y + (p[i].y - p[i - 1].y) * (flow - p[i - 1].x) / (p[i].x - p[i - 1].x);
    return p.back().y;
}

// Volts that the switch keeps while it carries a current.
double switchDrop(const driver::SwitchPart& part, double current) {
    switch (part.switch_class) {
        case driver::SwitchClass::Mosfet: return part.on_resistance ? current * si(*part.on_resistance) * 1.5 : 0.0;
        case driver::SwitchClass::Darlington: return part.saturation_voltage ? si(*part.saturation_voltage) : 1.0;
        case driver::SwitchClass::RelayBoard: return 0.0;
    }
    return 0.0;
}

void judgeSwitch(const PumpContext& context, const driver::SwitchPart& part, Pairing& pairing) {
    if (!pairing.running || !pairing.motor) return;
    const double running = si(*pairing.motor);
    if (part.current_max) {
        if (running > si(*part.current_max))
            pairing.findings.push_back({"driver-overcurrent", Severity::Stop, fmt::format("The pump draws {}; this switch carries {}.", display(*pairing.motor), display(*part.current_max))});
        else if (pairing.stalled && si(*pairing.stalled) > si(*part.current_max))
            pairing.findings.push_back({"stall-over-driver", Severity::Warn, fmt::format("If the pump jams it draws {}; this switch carries {}. The fuse must blow first.", display(*pairing.stalled), display(*part.current_max))});
    }
    if (part.voltage_max && context.supply && si(*context.supply) * 1.5 > si(*part.voltage_max))
        pairing.findings.push_back({"switch-voltage", si(*context.supply) > si(*part.voltage_max) ? Severity::Stop : Severity::Warn,
                                    fmt::format("{} on a switch made for {}: half as much again is usual.", display(*context.supply), display(*part.voltage_max))});
    switch (part.switch_class) {
        case driver::SwitchClass::Mosfet: {
            pairing.pin_peak = of<Current>(si(context.logic) / si(context.gate_resistor));
            if (!part.threshold_max || !part.on_resistance || !part.on_resistance_gate_voltage) {
                pairing.verdict = worse(pairing.verdict, Verdict::Unknown);
                return;
            }
            driver::MosfetSwitch in;
            const double divider = context.pulldown_side == driver::PulldownSide::Gate ? si(context.pulldown) / (si(context.pulldown) + si(context.gate_resistor)) : 1.0;
            in.drive_voltage = of<Voltage>(si(context.logic) * divider);
            in.threshold_max = *part.threshold_max;
            in.on_resistance = *part.on_resistance;
            in.on_resistance_gate_voltage = *part.on_resistance_gate_voltage;
            in.current = of<Current>(running);
            in.supply = context.supply.value_or(of<Voltage>(0.0));
            in.duty = context.signal.duty;
            // Full duty never switches; below it the PWM does.
            in.frequency = si(context.signal.duty) < 1.0 ? context.signal.frequency : of<Frequency>(0.0);
            in.gate_charge = part.gate_charge.value_or(Charge{});
            in.gate_resistor = context.gate_resistor;
            if (part.theta_ja) in.theta_ja = *part.theta_ja;
            in.ambient = context.ambient;
            if (const auto worked = driver::mosfetSwitch(in)) {
                pairing.heat = worked->result.dissipation;
                pairing.junction = worked->result.junction_temperature;
                absorb(pairing, "heat of the MOSFET", Stage::Match, *worked);
            }
            return;
        }
        case driver::SwitchClass::Darlington: {
            if (!part.gain_min) {
                pairing.verdict = worse(pairing.verdict, Verdict::Unknown);
                return;
            }
            driver::BjtSwitch in;
            in.current = of<Current>(running);
            in.gain_min = *part.gain_min;
            in.drive_voltage = context.logic;
            in.base_voltage = part.base_voltage.value_or(of<Voltage>(1.4));
            in.saturation_voltage = part.saturation_voltage.value_or(of<Voltage>(1.0));
            in.supply = context.supply.value_or(of<Voltage>(0.0));
            in.pin_current_max = context.pin_current;
            if (const auto worked = driver::bjtSwitch(in)) {
                pairing.heat = of<Power>(si(worked->result.dissipation) * si(context.signal.duty));
                pairing.base_resistor = worked->result.base_resistor;
                pairing.pin_peak = worked->result.pin_current;
                pairing.junction = of<Temperature>(si(context.ambient) + si(*pairing.heat) * si(part.theta_ja.value_or(of<ThermalResistance>(62.0))));
                absorb(pairing, "base resistor and heat", Stage::Match, *worked);
                if (si(*pairing.junction) > 423.15)
                    pairing.findings.push_back({"driver-hot", Severity::Stop, fmt::format("The Darlington turns {} into heat and would reach {}.", display(*pairing.heat), display(*pairing.junction))});
                else if (si(*pairing.junction) > 398.15)
                    pairing.findings.push_back({"driver-hot", Severity::Warn, fmt::format("The Darlington reaches {}, near its limit of 150 °C.", display(*pairing.junction))});
            }
            return;
        }
        case driver::SwitchClass::RelayBoard: {
            driver::ContactRating in;
            in.load = driver::ContactLoad::Motor;
            in.current = of<Current>(running);
            in.contact_current = part.contact_current.value_or(of<Current>(1.0));
            if (const auto worked = driver::contactRating(in)) absorb(pairing, "contact at switch-on", Stage::Match, *worked);
            if (part.coil_voltage && part.coil_resistance && context.logic_supply) {
                actuator::CoilDrive coil;
                coil.coil_voltage = *part.coil_voltage;
                coil.coil_resistance = *part.coil_resistance;
                coil.supply = *context.logic_supply;
                if (const auto worked = actuator::coilDrive(coil)) {
                    pairing.heat = worked->result.power;
                    absorb(pairing, "the relay's coil", Stage::Match, *worked);
                }
            }
            if (si(context.signal.duty) < 1.0 || si(context.signal.soft_start) > 0.0)
                pairing.findings.push_back({"relay-no-pwm", Severity::Stop, "A relay cannot follow PWM: no soft start and no part power. Its contacts would burn within hours."});
            return;
        }
    }
}

}  // namespace

std::optional<double> systemHead(const project::PumpDemand& d, double flow) {
    if (flow <= 0.0) return d.lift ? std::optional<double>{si(*d.lift)} : std::nullopt;
    const auto in = headInputs(d, flow);
    if (!in) return std::nullopt;
    const auto worked = demand::pumpHead(*in);
    if (!worked) return std::nullopt;
    return si(worked->result.total_head);
}

HeadCurve curveAt(const actuator::Pump& pump, double n) {
    HeadCurve curve = pump.curve;
    const bool affinity = pump.pump_class == actuator::PumpClass::Centrifugal;
    for (auto& point : curve.points) {
        point.x *= n;
        if (affinity) point.y *= n * n;
    }
    return curve;
}

std::optional<double> crossing(const project::PumpDemand& d, const HeadCurve& curve) {
    const auto gap = [&](double q) -> std::optional<double> {
        const auto head = systemHead(d, q);
        if (!head) return std::nullopt;
        return headOnCurve(curve, q) - *head;
    };
    const auto at_rest = gap(0.0);
    const auto at_end = gap(curve.points.back().x);
    if (!at_rest || !at_end) return std::nullopt;
    if (*at_rest <= 0.0) return 0.0;
    if (*at_end > 0.0) return std::nullopt;
    double low = 0.0, high = curve.points.back().x;  // the gap only falls with flow: bisection cannot miss
    for (int i = 0; i < 60; ++i) {
        const double middle = 0.5 * (low + high);
        (*gap(middle) > 0.0 ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

std::optional<double> liftAt(const project::PumpDemand& d, const HeadCurve& curve, double flow) {
    if (flow <= 0.0 || flow > curve.points.back().x || !d.lift) return std::nullopt;
    const auto asked = systemHead(d, flow);
    if (!asked) return std::nullopt;
    return std::max(0.0, headOnCurve(curve, flow) - (*asked - si(*d.lift)));
}

PumpAsk ask(const project::PumpDemand& d) {
    PumpAsk result;
    if (!d.volume) result.missing.push_back("volume");
    if (!d.run_time_limit) result.missing.push_back("run_time_limit");
    if (!d.lift) result.missing.push_back("lift");
    if (!d.tube_length) result.missing.push_back("tube_length");
    if (!d.tube_diameter) result.missing.push_back("tube_diameter");
    if (!d.volume || !d.run_time_limit) return result;
    const double flow = si(*d.volume) / si(*d.run_time_limit);
    result.flow = of<VolumeFlow>(flow);
    Steps steps;
    addStep(steps, "Q", "flow asked for", "{V}/{t}", {{"V", *d.volume}, {"t", *d.run_time_limit}}, *result.flow, "derived: Q = V/t");
    result.workings.push_back({"flow asked for", Stage::Need, "", steps, Verdict::Holds});
    if (const auto in = headInputs(d, flow)) {
        const auto worked = demand::pumpHead(*in);
        if (worked) {
            result.head = worked->result.total_head;
            result.workings.push_back({"head at that flow", Stage::Need, "", worked->steps, worked->verdict});
        } else {
            result.findings.push_back({"demand-refused", Severity::Stop, sentence(worked.error())});
        }
    }
    return result;
}

ChartWindow chartWindow(const project::PumpDemand& d, const PumpAsk& asked, const HeadCurve& own) {
    const double lift = d.lift ? std::max(0.0, si(*d.lift)) : 0.0;
    ChartWindow window{asked.flow ? si(*asked.flow) * 1.8 : 2e-5, std::max(0.2, lift * 1.8)};
    if (!own.points.empty()) {
        window.flow = std::max(window.flow, own.points.back().x * 1.08);
        window.head = std::max(window.head, std::min(own.points.front().y * 1.15, lift * 6.0 + 2.0));
    }
    if (const auto end = systemHead(d, window.flow)) window.head = std::max(window.head, std::min(*end * 1.05, window.head * 2.0));
    return window;
}

Pairing judge(const PumpContext& context, const actuator::Pump& pump, const driver::SwitchPart& part) {
    Pairing pairing;
    pairing.pump = pump.id;
    pairing.part = part.id;
    pairing.pump_name = pump.name;
    pairing.part_name = part.name;
    pairing.verdict = Verdict::Holds;
    if (pump.price && part.price) pairing.price = of<Ratio>(si(*pump.price) + si(*part.price));
    if (!context.supply) {
        pairing.verdict = Verdict::Unknown;
        pairing.reason = "the supply's voltage is not known";
        return pairing;
    }
    const double rail = si(*context.supply);
    if (rail > 1.1 * si(pump.nominal_voltage))
        pairing.findings.push_back({"supply-over", Severity::Stop, fmt::format("{} on a {} pump: it would run hot and fast, and not for long.", display(*context.supply), display(pump.nominal_voltage))});
    else if (rail < 0.75 * si(pump.nominal_voltage))
        pairing.findings.push_back({"supply-low", Severity::Warn, fmt::format("{} on a {} pump: it runs slowly.", display(*context.supply), display(pump.nominal_voltage))});
    if (!pump.running_current || !pump.stall_current) {
        pairing.verdict = Verdict::Unknown;
        pairing.findings.push_back({"figure-missing", Severity::Note, fmt::format("{} is not on the data sheet. Hold the rotor for one second on a current-limited supply and read the amps.", !pump.running_current ? "The running current" : "The stall current")});
    } else {
        // Wire and switch take volts in proportion to the current they carry: settle both together.
        double volts = rail;
        Worked<actuator::PumpSpeedResult> speed;
        for (int i = 0; i < 40; ++i) {
            const auto worked = actuator::pumpSpeed({of<Voltage>(volts), context.signal.duty, pump.nominal_voltage, *pump.running_current, *pump.stall_current, pump.inductance, context.signal.frequency});
            if (!worked) break;
            speed = *worked;
            const double current = si(speed.result.motor_current);
            const double next = std::max(0.01, rail - current * si(context.wire) - switchDrop(part, current));
            if (std::abs(next - volts) < 1e-12) break;
            volts = next;
        }
        absorb(pairing, "speed and current of the pump", Stage::Match, speed);
        pairing.speed = speed.result.speed_fraction;
        pairing.motor_voltage = of<Voltage>(volts);
        pairing.motor = speed.result.motor_current;
        pairing.running = speed.result.supply_current;
        pairing.stalled = of<Current>(rail / (si(speed.result.resistance) + si(context.wire) + (part.on_resistance ? si(*part.on_resistance) * 1.5 : 0.0)));
        actuator::SoftStart start;
        start.supply = *context.supply;
        start.running_current = *pairing.running;
        start.stall_current = of<Current>(std::max(si(*pairing.stalled) * si(context.signal.duty), si(*pairing.running)));
        start.spin_up_time = pump.spin_up_time;
        start.ramp = part.switch_class == driver::SwitchClass::RelayBoard ? Duration{} : context.signal.soft_start;
        if (const auto worked = actuator::softStart(start)) {
            pairing.starting = worked->result.peak_current;
            absorb(pairing, "current while starting", Stage::Pulse, *worked);
        }
        const HeadCurve curve = curveAt(pump, si(*pairing.speed));
        const auto flow = crossing(context.demand, curve);
        if (flow && *flow > 0.0) {
            pairing.flow = of<VolumeFlow>(*flow);
            pairing.head = of<Length>(headOnCurve(curve, *flow));
            actuator::PumpPoint point;
            point.curve = curve;
            point.static_head = *context.demand.lift;
            point.system_k = of<HeadPerFlowSquared>(std::max(0.0, (*systemHead(context.demand, *flow) - si(*context.demand.lift)) / (*flow * *flow)));
            if (const auto worked = actuator::pumpPoint(point)) absorb(pairing, "where pump and tube meet", Stage::Match, *worked);
        } else if (flow) {
            pairing.flow = of<VolumeFlow>(0.0);
            pairing.findings.push_back({"pump-cannot-lift", Severity::Stop, fmt::format("It lifts {} at most; the outlet is {} up. Nothing comes out.", display(Kind::Length, curve.points.front().y), display(*context.demand.lift))});
        } else {
            pairing.verdict = worse(pairing.verdict, Verdict::Unknown);
        }
        if (pairing.flow && si(*pairing.flow) > 0.0 && context.demand.volume) {
            demand::Dose dose;
            dose.volume = *context.demand.volume;
            dose.flow = *pairing.flow;
            if (context.calibration.cup_volume && context.calibration.cup_time) {
                dose.flow = of<VolumeFlow>(si(*context.calibration.cup_volume) / si(*context.calibration.cup_time));
                pairing.run_time_measured = true;
            }
            dose.doses_per_day = context.demand.doses_per_day;
            dose.run_time_limit = context.demand.run_time_limit;
            if (const auto worked = demand::dose(dose)) {
                pairing.run_time = worked->result.run_time;
                absorb(pairing, pairing.run_time_measured ? "run time, by cup and clock" : "run time of a dose", Stage::Need, *worked);
                if (context.demand.run_time_limit && si(*pairing.run_time) > 0.9 * si(*context.demand.run_time_limit) && si(*pairing.run_time) <= si(*context.demand.run_time_limit))
                    pairing.findings.push_back({"dose-near-limit", Severity::Warn, fmt::format("A dose takes {} of the {} you allow.", display(*pairing.run_time), display(*context.demand.run_time_limit))});
            }
        }
        judgeSwitch(context, part, pairing);
    }
    pairing.verdict = worse(pairing.verdict, verdictOf(pairing.findings));
    return pairing;
}

std::vector<Pairing> rank(const PumpContext& context, const project::Parts& parts) {
    std::vector<Pairing> list;
    list.reserve(parts.pumps.size() * parts.switches.size());
    for (const auto& pump : parts.pumps) {
        // A cup-and-clock figure belongs to the pump that was measured, not to a candidate.
        PumpContext fresh = context;
        fresh.calibration = {};
        for (const auto& part : parts.switches) list.push_back(judge(fresh, pump, part));
    }
    const auto order = [](const Pairing& p) {
        const auto rank_of = [](Verdict v) { return v == Verdict::Holds ? 0 : v == Verdict::Tight ? 1 : v == Verdict::Unknown ? 2 : 3; };
        const double none = 1e9;
        return std::tuple{rank_of(p.verdict), p.price ? si(*p.price) : none, p.run_time ? si(*p.run_time) : none, p.heat ? si(*p.heat) : none, p.pump, p.part};
    };
    std::sort(list.begin(), list.end(), [&](const Pairing& a, const Pairing& b) { return order(a) < order(b); });
    for (auto& pairing : list) {
        const auto& best = list.front();
        const auto first_of = [&](Severity severity) -> const Finding* {
            for (const auto& finding : pairing.findings)
                if (finding.severity == severity) return &finding;
            return nullptr;
        };
        if (!pairing.reason.empty()) continue;
        if (const auto* stop = first_of(Severity::Stop)) pairing.reason = stop->text;
        else if (const auto* warn = first_of(Severity::Warn)) pairing.reason = warn->text;
        else if (pairing.verdict == Verdict::Unknown) pairing.reason = first_of(Severity::Note) != nullptr ? first_of(Severity::Note)->text : "A figure is missing.";
        else if (&pairing == &best) pairing.reason = "Does the job for the least money.";
        else if (pairing.price && best.price && si(*pairing.price) > si(*best.price) + 0.005) pairing.reason = fmt::format("Does it too, for {:.2f} more.", si(*pairing.price) - si(*best.price));
        else if (pairing.run_time && best.run_time) pairing.reason = fmt::format("Does it too, {} slower.", display(Kind::Duration, si(*pairing.run_time) - si(*best.run_time)));
        else pairing.reason = "Does it too.";
    }
    return list;
}

}  // namespace hinge::match
