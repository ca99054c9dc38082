#include "power/regulators.hpp"
#include <fmt/format.h>

namespace hinge::power {

Result<Worked<LinearRegulatorResult>> linearRegulator(const LinearRegulator& in) {
    Worked<LinearRegulatorResult> out;
    auto& r = out.result;
    const double drop = si(in.v_in) - si(in.v_out);
    addStep(out.steps, "ΔV", "left for the regulator, which needs its drop-out", "{Vi} − {Vo}", {{"Vi", in.v_in}, {"Vo", in.v_out}},
            of<Voltage>(drop), "kirchhoff");
    if (drop < si(in.dropout) - 1e-12) {
        out.findings.push_back({"regulator-dropout", Severity::Stop,
                                fmt::format("{} in leaves {} for the regulator; it needs {} above its output.", display(in.v_in),
                                            display(Kind::Voltage, drop), display(in.dropout))});
        out.verdict = Verdict::Breaks;
        return out;
    }
    const double idle = si(in.v_in) * si(in.quiescent_current);
    const double heat = drop * si(in.current) + idle;
    r.dissipation = of<Power>(heat);
    r.junction_temperature = of<Temperature>(si(in.ambient) + heat * si(in.theta_ja));
    addStep(out.steps, "P", "heat in the regulator", "({Vi} − {Vo})·{I} + {Vi}·{Iq}",
            {{"Vi", in.v_in}, {"Vo", in.v_out}, {"I", in.current}, {"Iq", in.quiescent_current}}, *r.dissipation, "linear-regulator-heat");
    addStep(out.steps, "Tj", "temperature of its junction", "{Ta} + {P}·{θ}", {{"Ta", in.ambient}, {"P", heat}, {"θ", in.theta_ja}},
            *r.junction_temperature, "thermal-ohm");
    if (drop > 0.0) {
        const double largest = std::max(0.0, ((si(in.junction_max) - si(in.ambient)) / si(in.theta_ja) - idle) / drop);
        r.largest_current = of<Current>(largest);
        addStep(out.steps, "Imax", "largest current by heat", "(({Tm} − {Ta})/{θ} − {Pq})/({Vi} − {Vo})",
                {{"Tm", in.junction_max}, {"Ta", in.ambient}, {"θ", in.theta_ja}, {"Pq", idle}, {"Vi", in.v_in}, {"Vo", in.v_out}},
                *r.largest_current, "thermal-ohm");
    }
    if (si(*r.junction_temperature) > si(in.junction_max))
        out.findings.push_back({"regulator-hot", Severity::Stop,
                                fmt::format("The regulator turns {} into heat and would reach {}; its limit is {}.",
                                            display(*r.dissipation), display(*r.junction_temperature), display(in.junction_max))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr linearRegulatorForm() {
    using I = LinearRegulator;
    using R = LinearRegulatorResult;
    auto form = std::make_shared<FormOf<I, R>>("linear-regulator", "feed", "heat and drop-out of a linear regulator",
                                               "linear-regulator-heat", &linearRegulator);
    form->rule("P = (Vin − Vout)·I + Vin·Iq; Tj = Ta + P·θ; largest = ((Tmax − Ta)/θ − Vin·Iq)/(Vin − Vout)")
        .in("v_in", &I::v_in, nullptr, "voltage in")
        .in("v_out", &I::v_out, nullptr, "voltage out")
        .in("current", &I::current, nullptr, "out")
        .in("dropout", &I::dropout, "1.1", "least difference it needs")
        .in("quiescent_current", &I::quiescent_current, "0", "of its own")
        .in("theta_ja", &I::theta_ja, "65", "junction to air")
        .in("ambient", &I::ambient, "25degC", "air around it")
        .in("junction_max", &I::junction_max, "125degC", "limit of the junction")
        .out("dissipation", &R::dissipation, "heat", "W")
        .out("junction_temperature", &R::junction_temperature, "in steady state", "K")
        .out("largest_current", &R::largest_current, "by heat", "A");
    return form;
}

Result<Worked<BuckConverterResult>> buckConverter(const BuckConverter& in) {
    Worked<BuckConverterResult> out;
    auto& r = out.result;
    if (si(in.v_in) <= si(in.v_out)) {
        out.findings.push_back(
            {"regulator-dropout", Severity::Stop,
             fmt::format("A buck converter only steps down: {} in cannot give {}.", display(in.v_in), display(in.v_out))});
        out.verdict = Verdict::Breaks;
        return out;
    }
    const double power_out = si(in.v_out) * si(in.current);
    r.input_current = of<Current>(power_out / (si(in.v_in) * si(in.efficiency)));
    r.loss = of<Power>(power_out / si(in.efficiency) - power_out);
    addStep(out.steps, "Ii", "current in", "{Vo}·{I}/({Vi}·{η})",
            {{"Vo", in.v_out}, {"I", in.current}, {"Vi", in.v_in}, {"η", in.efficiency}}, *r.input_current, "derived: energy balance");
    addStep(out.steps, "P", "lost as heat", "{Vo}·{I}/{η} − {Vo}·{I}", {{"Vo", in.v_out}, {"I", in.current}, {"η", in.efficiency}}, *r.loss,
            "derived: energy balance");
    return out;
}

FormPtr buckConverterForm() {
    using I = BuckConverter;
    using R = BuckConverterResult;
    auto form = std::make_shared<FormOf<I, R>>("buck-converter", "feed", "what a step-down converter draws and loses",
                                               "derived: energy balance", &buckConverter);
    form->rule("input_current = Vout·I/(Vin·η); loss = Vout·I·(1/η − 1)")
        .in("v_in", &I::v_in, nullptr, "voltage in")
        .in("v_out", &I::v_out, nullptr, "voltage out")
        .in("current", &I::current, nullptr, "out")
        .in("efficiency", &I::efficiency, "0.88", "power out over power in")
        .out("input_current", &R::input_current, "drawn", "A")
        .out("loss", &R::loss, "as heat", "W");
    return form;
}

}  // namespace hinge::power
