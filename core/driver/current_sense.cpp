#include "driver/current_sense.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "driver/driver_part.hpp"

namespace hinge::driver {

Result<Worked<CurrentSenseResult>> currentSense(const CurrentSense& in) {
    if (!in.voltage && !in.current) return fail(ErrorCode::Missing, "voltage / current", "", "give exactly one of voltage / current");
    Worked<CurrentSenseResult> out;
    auto& r = out.result;
    const double resistance = si(in.resistance);
    const double current = in.current ? si(*in.current) : si(*in.voltage) / resistance;
    const double voltage = in.voltage ? si(*in.voltage) : current * resistance;
    const double levels = std::pow(2.0, si(in.adc_bits));
    r.voltage = of<Voltage>(voltage);
    r.current = of<Current>(current);
    r.power = of<Power>(voltage * current);
    r.counts = of<Count>(std::clamp(std::floor(voltage / si(in.adc_reference) * levels + 1e-9), 0.0, levels - 1.0));
    if (in.voltage) addStep(out.steps, "I", "current at work", "{V}/{R}", {{"V", voltage}, {"R", resistance}}, r.current, "ohm");
    else addStep(out.steps, "V", "voltage to read", "{I}·{R}", {{"I", current}, {"R", resistance}}, r.voltage, "ohm");
    addStep(out.steps, "P", "heat in the resistor", "{V}·{I}", {{"V", voltage}, {"I", current}}, r.power, "ohm");
    addStep(out.steps, "n", "reading", "⌊{V}/{Vr}·{L}⌋", {{"V", voltage}, {"Vr", in.adc_reference}, {"L", levels}}, r.counts,
            "atmega328p-datasheet");
    const double worst = std::max(voltage, in.worst_voltage ? si(*in.worst_voltage) : 0.0);
    if (in.worst_voltage) {
        r.worst_power = of<Power>(worst * worst / resistance);
        addStep(out.steps, "Pw", "heat in it at the worst", "{V}²/{R}", {{"V", worst}, {"R", resistance}}, *r.worst_power, "ohm");
    }
    if (in.rating) {
        const double most = r.worst_power ? si(*r.worst_power) : si(r.power);
        // Half of the rating in free air for what lasts: common practice, no published source.
        if (most > si(*in.rating) * (1 + 1e-9))
            out.findings.push_back({"resistor-hot", Severity::Stop,
                                    fmt::format("The sense resistor turns {} into heat{} and is made for {}.", display(Kind::Power, most),
                                                r.worst_power ? " in a fault" : "", display(*in.rating))});
        else if (si(r.power) > 0.5 * si(*in.rating) * (1 + 1e-9))
            out.findings.push_back({"resistor-hot", Severity::Warn,
                                    fmt::format("The sense resistor turns {} into heat all the time, more than half of its {}.",
                                                display(r.power), display(*in.rating))});
    }
    if (worst > si(in.adc_reference) * (1 + 1e-12))
        out.findings.push_back({"sense-over-reference", Severity::Stop,
                                fmt::format("The sense resistor can give {}; the input takes {}. Use a smaller one, or clamp it.",
                                            display(Kind::Voltage, worst), display(in.adc_reference))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr currentSenseForm() {
    using I = CurrentSense;
    using R = CurrentSenseResult;
    auto form = std::make_shared<FormOf<I, R>>("current-sense", "drive", "a sense resistor in front of an analogue input",
                                               "ohm; atmega328p-datasheet", &currentSense);
    form->rule("V = I·R; power = V·I; counts = ⌊V/Vref·2^bits⌋; either voltage above the reference breaks")
        .in("resistance", &I::resistance, nullptr, "of the sense resistor")
        .in("voltage", &I::voltage, nullptr, "read in normal running")
        .in("current", &I::current, nullptr, "in normal running")
        .in("worst_voltage", &I::worst_voltage, nullptr, "such as at stall")
        .otherwise("unknown")
        .in("adc_reference", &I::adc_reference, "5", "of the input")
        .in("adc_bits", &I::adc_bits, "10", "of the converter")
        .between(1, 24)
        .in("rating", &I::rating, nullptr, "of the resistor, such as 0.5 W")
        .otherwise("unknown")
        .oneOf({{"voltage"}, {"current"}})
        .out("voltage", &R::voltage, "to read")
        .out("current", &R::current, "at work")
        .out("power", &R::power, "in the resistor, at work")
        .out("worst_power", &R::worst_power, "in it at the worst")
        .out("counts", &R::counts, "reading");
    return form;
}

Result<Worked<StepperCurrentResult>> stepperCurrent(const StepperCurrent& in) {
    Worked<StepperCurrentResult> out;
    auto& r = out.result;
    r.reference_voltage = of<Voltage>(si(in.current) * si(in.reference_gain) * si(in.sense_resistor));
    r.rms_current = of<Current>(si(in.current) / std::sqrt(2.0));
    addStep(out.steps, "Vref", "voltage to set", "{I}·{k}·{Rs}", {{"I", in.current}, {"k", in.reference_gain}, {"Rs", in.sense_resistor}},
            r.reference_voltage, "chopper-reference");
    addStep(out.steps, "Irms", "for the heat", "{I}/√2", {{"I", in.current}}, r.rms_current, "definition");
    if (in.measured_temperature && in.measured_current) {
        const double share = si(in.current) / si(*in.measured_current);
        r.predicted_temperature = of<Temperature>(si(in.ambient) + (si(*in.measured_temperature) - si(in.ambient)) * share * share);
        addStep(out.steps, "T", "temperature at this current", "{Ta} + ({Tm} − {Ta})·({I}/{Im})²",
                {{"Ta", in.ambient}, {"Tm", *in.measured_temperature}, {"I", in.current}, {"Im", *in.measured_current}},
                *r.predicted_temperature, "derived: heat goes with I²");
    }
    return out;
}

std::optional<Worked<StepperCurrentResult>> chopperReference(const DriverPart& carrier, const Current& peak) {
    if (!carrier.sense_resistor || !(si(peak) > 0.0)) return std::nullopt;
    StepperCurrent in;
    in.current = peak;
    in.sense_resistor = *carrier.sense_resistor;
    if (carrier.reference_gain) in.reference_gain = *carrier.reference_gain;
    auto worked = stepperCurrent(in);
    return worked ? std::optional(std::move(*worked)) : std::nullopt;
}

FormPtr stepperCurrentForm() {
    using I = StepperCurrent;
    using R = StepperCurrentResult;
    auto form = std::make_shared<FormOf<I, R>>("stepper-current", "drive", "the reference voltage of a chopper carrier",
                                               "chopper-reference", &stepperCurrent);
    form->rule("reference = I·gain·Rs; rms = I/√2; temperature = ambient + (measured − ambient)·(I/I₀)²")
        .in("current", &I::current, nullptr, "peak")
        .in("sense_resistor", &I::sense_resistor, nullptr, "on the carrier")
        .in("reference_gain", &I::reference_gain, "8", "of the chopper")
        .in("measured_temperature", &I::measured_temperature, nullptr, "of the carrier")
        .otherwise("unknown")
        .in("measured_current", &I::measured_current, nullptr, "peak, at that temperature")
        .otherwise("unknown")
        .in("ambient", &I::ambient, "25degC", "air around it")
        .together({"measured_temperature", "measured_current"})
        .out("reference_voltage", &R::reference_voltage, "to set")
        .out("rms_current", &R::rms_current, "per phase")
        .out("predicted_temperature", &R::predicted_temperature, "at this current", "K");
    return form;
}

Result<Worked<HBridgeLossResult>> hBridgeLoss(const HBridgeLoss& in) {
    if (!in.drop && !in.on_resistance)
        return fail(ErrorCode::Missing, "drop / on_resistance", "", "give exactly one of drop / on_resistance");
    Worked<HBridgeLossResult> out;
    auto& r = out.result;
    const double drop = in.drop ? si(*in.drop) : si(in.current) * si(*in.on_resistance);
    if (in.on_resistance)
        addStep(out.steps, "Vd", "volts the bridge keeps", "{I}·{R}", {{"I", in.current}, {"R", *in.on_resistance}}, of<Voltage>(drop),
                "ohm");
    r.dissipation = of<Power>(si(in.current) * drop * si(in.duty));
    r.load_voltage = of<Voltage>(si(in.supply) - drop);
    addStep(out.steps, "P", "heat in the bridge; freewheeling is not counted", "{I}·{Vd}·{d}",
            {{"I", in.current}, {"Vd", drop}, {"d", in.duty}}, r.dissipation, "ohm");
    addStep(out.steps, "Vl", "left for the load while on", "{V} − {Vd}", {{"V", in.supply}, {"Vd", drop}}, r.load_voltage, "kirchhoff");
    return out;
}

FormPtr hBridgeLossForm() {
    using I = HBridgeLoss;
    using R = HBridgeLossResult;
    auto form =
        std::make_shared<FormOf<I, R>>("h-bridge-loss", "drive", "heat and lost volts of an H-bridge", "ohm; kirchhoff", &hBridgeLoss);
    form->rule("dissipation = I·drop·duty; load_voltage = supply − drop; drop = I·R")
        .in("current", &I::current, nullptr, "of the load")
        .in("drop", &I::drop, nullptr, "whole path, high plus low side")
        .in("on_resistance", &I::on_resistance, nullptr, "whole path, high plus low side")
        .in("supply", &I::supply, nullptr, "of the bridge")
        .in("duty", &I::duty, "1", "share of the time it is on")
        .zeroOk()
        .oneOf({{"drop"}, {"on_resistance"}})
        .out("dissipation", &R::dissipation, "in the bridge")
        .out("load_voltage", &R::load_voltage, "while on");
    return form;
}

}  // namespace hinge::driver
