#include "driver/bjt_switch.hpp"
#include <fmt/format.h>

namespace hinge::driver {

Result<Worked<BjtSwitchResult>> bjtSwitch(const BjtSwitch& in) {
    if (si(in.drive_voltage) <= si(in.base_voltage))
        return fail(ErrorCode::OutOfRange, "drive_voltage", displayPlain(in.drive_voltage),
                    "above base_voltage, " + displayPlain(in.base_voltage));
    Worked<BjtSwitchResult> out;
    auto& r = out.result;
    const double over_base = si(in.drive_voltage) - si(in.base_voltage);
    const double base = si(in.current) / si(in.gain_min) * si(in.overdrive);
    const double exact = over_base / base;
    const double standard = in.fitted ? si(*in.fitted) : preferred(exact, in.series, Round::Down);
    const double real = over_base / standard;
    r.base_current = of<Current>(base);
    r.base_resistor_exact = of<Resistance>(exact);
    r.base_resistor = of<Resistance>(standard);
    r.pin_current = of<Current>(real);
    r.dissipation = of<Power>(si(in.saturation_voltage) * si(in.current) + si(in.base_voltage) * real);
    r.load_voltage = of<Voltage>(si(in.supply) - si(in.saturation_voltage));
    addStep(out.steps, "Ib", "base current wanted", "{I}/{β}·{k}", {{"I", in.current}, {"β", in.gain_min}, {"k", in.overdrive}},
            r.base_current, "bjt-saturation");
    addStep(out.steps, "Rb", "base resistor", "({Vd} − {Vbe})/{Ib}", {{"Vd", in.drive_voltage}, {"Vbe", in.base_voltage}, {"Ib", base}},
            r.base_resistor_exact, "ohm");
    if (in.fitted) addStep(out.steps, "Rs", "as fitted", "{R}", {{"R", *in.fitted}}, r.base_resistor, "definition");
    else addStep(out.steps, "Rs", "next lower of the series", "{Rb} rounded down", {{"Rb", exact}}, r.base_resistor, "iec-60063");
    addStep(out.steps, "Ip", "what the pin then gives", "({Vd} − {Vbe})/{Rs}",
            {{"Vd", in.drive_voltage}, {"Vbe", in.base_voltage}, {"Rs", standard}}, r.pin_current, "ohm");
    addStep(out.steps, "P", "heat in the transistor", "{Vs}·{I} + {Vbe}·{Ip}",
            {{"Vs", in.saturation_voltage}, {"I", in.current}, {"Vbe", in.base_voltage}, {"Ip", real}}, r.dissipation, "bjt-saturation");
    addStep(out.steps, "Vl", "left for the load", "{V} − {Vs}", {{"V", in.supply}, {"Vs", in.saturation_voltage}}, r.load_voltage,
            "bjt-saturation");
    if (real > si(in.pin_current_max) * (1 + 1e-12))
        out.findings.push_back(
            {"pin-overcurrent", Severity::Stop,
             fmt::format("The base takes {} from a pin that gives {}.", display(r.pin_current), display(in.pin_current_max))});
    const double carries = real * si(in.gain_min);
    if (carries < si(in.current) * (1 - 1e-12))
        out.findings.push_back(
            {"base-starved", Severity::Stop,
             fmt::format("With {} the base gets {}: that carries {} for sure, and {} flow. It stays half open and burns.",
                         display(r.base_resistor), display(r.pin_current), display(Kind::Current, carries), display(in.current))});
    else if (carries < si(in.current) * si(in.overdrive) * (1 - 1e-12))
        out.findings.push_back({"base-starved", Severity::Warn,
                                fmt::format("With {} the base gets {}; {} were asked for a saturated switch.", display(r.base_resistor),
                                            display(r.pin_current), display(r.base_current))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr bjtSwitchForm() {
    using I = BjtSwitch;
    using R = BjtSwitchResult;
    auto form = std::make_shared<FormOf<I, R>>("bjt-switch", "drive", "a saturated transistor switch and its base resistor",
                                               "bjt-saturation; iec-60063", &bjtSwitch);
    form->rule("Ib = I/gain·overdrive; Rb = (Vd − Vbe)/Ib, next lower; P = Vsat·I + Vbe·(Vd − Vbe)/Rb")
        .in("current", &I::current, nullptr, "switched")
        .in("gain_min", &I::gain_min, nullptr, "smallest current gain of the data sheet")
        .in("overdrive", &I::overdrive, "2", "base current over the least")
        .between(1.0, std::numeric_limits<double>::infinity())
        .in("drive_voltage", &I::drive_voltage, nullptr, "of the pin")
        .in("base_voltage", &I::base_voltage, "0.8", "base to emitter, on")
        .in("saturation_voltage", &I::saturation_voltage, "0.3", "collector to emitter, on")
        .in("supply", &I::supply, nullptr, "across load and switch")
        .in("pin_current_max", &I::pin_current_max, "20mA", "that the pin gives")
        .in("series", &I::series, "E24", "of preferred values")
        .in("fitted", &I::fitted, nullptr, "base resistor that is there")
        .otherwise("the one proposed")
        .out("base_current", &R::base_current, "required")
        .out("base_resistor_exact", &R::base_resistor_exact, "exact")
        .out("base_resistor", &R::base_resistor, "next lower preferred value")
        .out("pin_current", &R::pin_current, "with that resistor")
        .out("dissipation", &R::dissipation, "in the transistor")
        .out("load_voltage", &R::load_voltage, "left for the load");
    return form;
}

}  // namespace hinge::driver
