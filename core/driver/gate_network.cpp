#include "driver/gate_network.hpp"
#include <fmt/format.h>

namespace hinge::driver {

Result<Worked<GateNetworkResult>> gateNetwork(const GateNetwork& in) {
    Worked<GateNetworkResult> out;
    auto& r = out.result;
    const double v = si(in.drive_voltage), rg = si(in.gate_resistor), rp = si(in.pulldown);
    r.peak_pin_current = of<Current>(v / rg);
    r.smallest_gate_resistor = of<Resistance>(v / si(in.pin_current_max));
    const bool divides = in.pulldown_side == PulldownSide::Gate;
    r.gate_voltage = of<Voltage>(divides ? v * rp / (rp + rg) : v);
    addStep(out.steps, "Ip", "first rush from the pin into the gate", "{V}/{Rg}", {{"V", v}, {"Rg", rg}}, r.peak_pin_current, "ohm");
    addStep(out.steps, "Vg", "voltage that reaches the gate", divides ? "{V}·{Rp}/({Rp} + {Rg})" : "{V}",
            {{"V", v}, {"Rp", rp}, {"Rg", rg}}, r.gate_voltage, "ohm");
    addStep(out.steps, "Rmin", "smallest resistor for this pin", "{V}/{Imax}", {{"V", v}, {"Imax", in.pin_current_max}},
            r.smallest_gate_resistor, "ohm");
    if (si(r.peak_pin_current) > si(in.pin_current_max) * (1 + 1e-12))
        out.findings.push_back({"pin-overcurrent", Severity::Stop,
                                fmt::format("Charging the gate takes {} from a pin that gives {}: use {} or more.",
                                            display(r.peak_pin_current), display(in.pin_current_max), display(r.smallest_gate_resistor))});
    if (si(r.gate_voltage) < 0.9 * v)
        out.findings.push_back({"gate-divided", Severity::Warn,
                                fmt::format("The pull-down sits on the gate's side and divides the drive to {}. Put it from pin to ground.",
                                            display(r.gate_voltage))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr gateNetworkForm() {
    using I = GateNetwork;
    using R = GateNetworkResult;
    auto form = std::make_shared<FormOf<I, R>>("gate-network", "drive", "gate resistor and pull-down on a pin", "ohm", &gateNetwork);
    form->rule("peak = V/Rg; on the gate side Vg = V·Rp/(Rp + Rg)")
        .in("drive_voltage", &I::drive_voltage, nullptr, "of the pin")
        .in("gate_resistor", &I::gate_resistor, nullptr, "between pin and gate")
        .in("pulldown", &I::pulldown, nullptr, "to ground")
        .in("pulldown_side", &I::pulldown_side, nullptr, "which side of the gate resistor the pull-down is on")
        .in("pin_current_max", &I::pin_current_max, "20mA", "that the pin gives")
        .out("peak_pin_current", &R::peak_pin_current, "while charging the gate")
        .out("gate_voltage", &R::gate_voltage, "once charged")
        .out("smallest_gate_resistor", &R::smallest_gate_resistor, "that the pin bears");
    return form;
}

}  // namespace hinge::driver
