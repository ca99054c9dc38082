#include "driver/mosfet_switch.hpp"
#include <fmt/format.h>

namespace hinge::driver {

Result<Worked<MosfetSwitchResult>> mosfetSwitch(const MosfetSwitch& in) {
    Worked<MosfetSwitchResult> out;
    auto& r = out.result;
    const double current = si(in.current);
    const double plateau = si(in.plateau.value_or(in.threshold_max));
    const double conduction = current * current * si(in.on_resistance) * si(in.hot_factor) * si(in.duty);
    r.conduction_loss = of<Power>(conduction);
    addStep(out.steps, "Pc", "loss while on", "{I}²·{R}·{h}·{d}",
            {{"I", current}, {"R", in.on_resistance}, {"h", in.hot_factor}, {"d", in.duty}}, r.conduction_loss, "mosfet-loss");
    double switching = 0.0;
    const bool can_switch = si(in.drive_voltage) > plateau;
    if (can_switch) {
        const double time = si(in.gate_charge) * si(in.gate_resistor) / (si(in.drive_voltage) - plateau);
        switching = si(in.supply) * current * time * si(in.frequency);
        r.switching_time = of<Duration>(time);
        r.switching_loss = of<Power>(switching);
        addStep(out.steps, "ts", "switching time, on the safe side", "{Qg}·{Rg}/({Vd} − {Vp})",
                {{"Qg", in.gate_charge}, {"Rg", in.gate_resistor}, {"Vd", in.drive_voltage}, {"Vp", plateau}}, *r.switching_time,
                "mosfet-loss");
        addStep(out.steps, "Ps", "loss in switching", "{V}·{I}·{ts}·{f}",
                {{"V", in.supply}, {"I", current}, {"ts", time}, {"f", in.frequency}}, *r.switching_loss, "mosfet-loss");
    } else if (si(in.frequency) > 0.0) {
        out.verdict = Verdict::Unknown;
    }
    r.dissipation = of<Power>(conduction + switching);
    r.junction_temperature = of<Temperature>(si(in.ambient) + si(r.dissipation) * si(in.theta_ja));
    addStep(out.steps, "P", "heat in the switch", "{Pc} + {Ps}", {{"Pc", conduction}, {"Ps", switching}}, r.dissipation, "mosfet-loss");
    addStep(out.steps, "Tj", "temperature of its junction", "{Ta} + {P}·{θ}",
            {{"Ta", in.ambient}, {"P", r.dissipation}, {"θ", in.theta_ja}}, r.junction_temperature, "thermal-ohm");
    if (si(in.drive_voltage) < si(in.on_resistance_gate_voltage))
        out.findings.push_back({"gate-not-enhanced", Severity::Stop,
                                fmt::format("The gate gets {}; this MOSFET is only guaranteed fully on at {}. It will be half on, and hot.",
                                            display(in.drive_voltage), display(in.on_resistance_gate_voltage))});
    const double headroom = si(in.junction_max) - si(r.junction_temperature);
    if (headroom < 0.0)
        out.findings.push_back(
            {"driver-hot", Severity::Stop,
             fmt::format("The junction would reach {}; its limit is {}.", display(r.junction_temperature), display(in.junction_max))});
    else if (headroom < 25.0)
        out.findings.push_back({"driver-hot", Severity::Warn,
                                fmt::format("The junction reaches {}, within 25 K of its limit of {}.", display(r.junction_temperature),
                                            display(in.junction_max))});
    out.verdict = worse(out.verdict, verdictOf(out.findings));
    return out;
}

FormPtr mosfetSwitchForm() {
    using I = MosfetSwitch;
    using R = MosfetSwitchResult;
    auto form = std::make_shared<FormOf<I, R>>(
        "mosfet-switch", "drive", "heat of a MOSFET switch, and whether its gate is driven far enough", "mosfet-loss", &mosfetSwitch);
    form->rule("conduction = I²·R·hot·duty; switching_time = Qg·Rg/(Vd − Vp); switching = V·I·t·f; Tj = Ta + P·θ")
        .in("drive_voltage", &I::drive_voltage, nullptr, "at the gate")
        .in("threshold_max", &I::threshold_max, nullptr, "largest threshold of the data sheet")
        .in("on_resistance", &I::on_resistance, nullptr, "at 25 °C")
        .in("on_resistance_gate_voltage", &I::on_resistance_gate_voltage, nullptr, "lowest gate voltage at which it is guaranteed")
        .in("current", &I::current, nullptr, "switched")
        .in("supply", &I::supply, nullptr, "across load and switch")
        .in("duty", &I::duty, "1", "share of the time it is on")
        .zeroOk()
        .in("frequency", &I::frequency, "0", "of the PWM")
        .in("gate_charge", &I::gate_charge, "0", "whole gate charge")
        .in("gate_resistor", &I::gate_resistor, "100", "between pin and gate")
        .in("plateau", &I::plateau, nullptr, "gate plateau voltage")
        .otherwise("threshold_max")
        .in("hot_factor", &I::hot_factor, "1.5", "on-resistance hot over cold")
        .between(1.0, std::numeric_limits<double>::infinity())
        .in("theta_ja", &I::theta_ja, "62", "junction to air")
        .in("ambient", &I::ambient, "25degC", "air around it")
        .in("junction_max", &I::junction_max, "150degC", "limit of the junction")
        .out("conduction_loss", &R::conduction_loss, "while on")
        .out("switching_time", &R::switching_time, "on the safe side", "s")
        .out("switching_loss", &R::switching_loss, "in switching", "W")
        .out("dissipation", &R::dissipation, "in all")
        .out("junction_temperature", &R::junction_temperature, "in steady state")
        .resolve([](I& in) {
            if (!in.plateau) in.plateau = in.threshold_max;
        });
    return form;
}

}  // namespace hinge::driver
