#include "power/rectifier.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include "quantity/roots.hpp"
#include "quantity/series.hpp"

namespace hinge::power {

Voltage rectifiedPeak(Voltage ac, Ratio no_load_factor, Count diodes, Voltage drop) {
    return of<Voltage>(std::sqrt(2.0) * si(ac) * si(no_load_factor) - si(diodes) * si(drop));
}

namespace {

// The capacitor parts from the sine where that falls faster than the load empties it, and meets the next half wave.
double valleyOf(const Rectifier& in, double peak) {
    const double omega = 2.0 * std::numbers::pi * si(in.frequency), fall = si(in.current) / si(in.capacitance);
    const double keeps = si(in.diodes_in_path) * si(in.diode_drop), top = peak + keeps;
    if (fall >= omega * top) return 0.0;  // it smooths nothing
    const double parts = std::asin(fall / (omega * top)) / omega;
    const double from = top * std::cos(omega * parts) - keeps;
    // The next half wave rises between a quarter and a half of the period.
    const double meets = crossing([&](double t) { return from - fall * (t - parts) + top * std::cos(omega * t) + keeps; },
                                  std::numbers::pi / 2.0 / omega, std::numbers::pi / omega);
    return std::max(0.0, from - fall * (meets - parts));
}

}  // namespace

Result<Worked<RectifierResult>> rectifier(const Rectifier& in) {
    static constexpr std::array ratings{6.3, 10.0, 16.0, 25.0, 35.0, 50.0, 63.0, 100.0};
    const double peak = si(rectifiedPeak(in.ac_voltage, in.no_load_factor, in.diodes_in_path, in.diode_drop));
    if (peak <= 0.0) return fail(ErrorCode::OutOfRange, "ac_voltage", displayPlain(in.ac_voltage), "a peak above what the diodes keep");
    Worked<RectifierResult> out;
    auto& r = out.result;
    r.peak_voltage = of<Voltage>(peak);
    r.ripple = of<Voltage>(si(in.current) / (2.0 * si(in.frequency) * si(in.capacitance)));
    addStep(out.steps, "Vp", "peak after the diodes", "√2·{V}·{k} − {n}·{Vd}",
            {{"V", in.ac_voltage}, {"k", in.no_load_factor}, {"n", in.diodes_in_path}, {"Vd", in.diode_drop}}, r.peak_voltage,
            "rectifier-ripple");
    addStep(out.steps, "ΔV", "ripple", "{I}/(2·{f}·{C})", {{"I", in.current}, {"f", in.frequency}, {"C", in.capacitance}}, r.ripple,
            "rectifier-ripple");
    r.valley = of<Voltage>(valleyOf(in, peak));
    addStep(out.steps, "Vv", "left before the next half wave", "where {Vp} − {I}·t/{C} meets it",
            {{"Vp", peak}, {"I", in.current}, {"C", in.capacitance}}, r.valley, "derived: a line against a sine");
    if (const auto rating = nextInList(1.2 * peak, ratings)) {
        r.smallest_capacitor_rating = of<Voltage>(*rating);
        addStep(out.steps, "Vc", "rating for the capacitor", "1.2·{Vp} rounded up", {{"Vp", peak}}, *r.smallest_capacitor_rating,
                "a fifth of room: common practice, no published source");
    } else {
        out.findings.push_back(
            {"capacitor-voltage", Severity::Stop, fmt::format("No usual capacitor is rated for 1.2 times {}.", display(r.peak_voltage))});
    }
    out.findings.push_back(
        {"capacitor-stored", Severity::Note,
         "A smoothing capacitor stays charged when the power is off: mind its polarity, let it empty before you touch it, wear glasses."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr rectifierForm() {
    using I = Rectifier;
    using R = RectifierResult;
    auto form = std::make_shared<FormOf<I, R>>("rectifier", "feed", "a transformer's voltage, rectified and smoothed", "rectifier-ripple",
                                               &rectifier);
    form->rule("peak = √2·V·factor − n·drop; ripple = I/(2·f·C); rating = next of 6.3 … 100 V at least 1.2·peak")
        .in("ac_voltage", &I::ac_voltage, nullptr, "rms of the transformer")
        .in("frequency", &I::frequency, nullptr, "of the mains")
        .in("diode_drop", &I::diode_drop, "0.7", "of one diode")
        .in("diodes_in_path", &I::diodes_in_path, "2", "that the current passes")
        .in("no_load_factor", &I::no_load_factor, "1", "of an unloaded transformer")
        .between(1.0, std::numeric_limits<double>::infinity())
        .in("current", &I::current, nullptr, "drawn")
        .in("capacitance", &I::capacitance, nullptr, "of the smoothing capacitor")
        .out("peak_voltage", &R::peak_voltage, "after the diodes")
        .out("ripple", &R::ripple, "peak to valley, at most")
        .out("valley", &R::valley, "left before the next half wave")
        .out("smallest_capacitor_rating", &R::smallest_capacitor_rating, "to choose", "V");
    return form;
}

Result<Worked<ReverseProtectionResult>> reverseProtection(const ReverseProtection& in) {
    Worked<ReverseProtectionResult> out;
    auto& r = out.result;
    const double i = si(in.current), v = si(in.supply), d = si(in.diode_drop), on = si(in.on_resistance);
    r.diode_loss = of<Power>(i * d);
    r.mosfet_loss = of<Power>(i * i * on);
    r.diode_voltage_left = of<Voltage>(v - d);
    r.mosfet_voltage_left = of<Voltage>(v - i * on);
    addStep(out.steps, "Pd", "heat in a diode", "{I}·{Vd}", {{"I", i}, {"Vd", d}}, r.diode_loss, "ohm");
    addStep(out.steps, "Pm", "heat in a MOSFET", "{I}²·{R}", {{"I", i}, {"R", on}}, r.mosfet_loss, "ohm");
    addStep(out.steps, "Ud", "left after a diode", "{V} − {Vd}", {{"V", v}, {"Vd", d}}, r.diode_voltage_left, "kirchhoff");
    addStep(out.steps, "Um", "left after a MOSFET", "{V} − {I}·{R}", {{"V", v}, {"I", i}, {"R", on}}, r.mosfet_voltage_left, "kirchhoff");
    return out;
}

FormPtr reverseProtectionForm() {
    using I = ReverseProtection;
    using R = ReverseProtectionResult;
    auto form = std::make_shared<FormOf<I, R>>("reverse-protection", "feed", "series diode against P-channel MOSFET", "ohm; kirchhoff",
                                               &reverseProtection);
    form->rule("diode_loss = I·drop; mosfet_loss = I²·R; what is left of the supply")
        .in("current", &I::current, nullptr, "drawn")
        .in("diode_drop", &I::diode_drop, "0.5", "of the diode")
        .in("on_resistance", &I::on_resistance, nullptr, "of the MOSFET")
        .in("supply", &I::supply, nullptr, "protected")
        .out("diode_loss", &R::diode_loss, "in the diode")
        .out("mosfet_loss", &R::mosfet_loss, "in the MOSFET")
        .out("diode_voltage_left", &R::diode_voltage_left, "after the diode")
        .out("mosfet_voltage_left", &R::mosfet_voltage_left, "after the MOSFET");
    return form;
}

Result<Worked<VoltageDividerResult>> voltageDivider(const VoltageDivider& in) {
    Worked<VoltageDividerResult> out;
    auto& r = out.result;
    const double top = si(in.r_top), bottom = si(in.r_bottom), levels = std::pow(2.0, si(in.adc_bits));
    r.ratio = of<Ratio>(bottom / (top + bottom));
    r.pin_voltage = of<Voltage>(si(in.v_max) * si(r.ratio));
    r.counts = of<Count>(std::clamp(std::floor(si(r.pin_voltage) / si(in.adc_reference) * levels + 1e-9), 0.0, levels - 1.0));
    r.source_impedance = of<Resistance>(top * bottom / (top + bottom));
    r.standing_current = of<Current>(si(in.v_max) / (top + bottom));
    addStep(out.steps, "k", "ratio", "{Rb}/({Rt} + {Rb})", {{"Rb", bottom}, {"Rt", top}}, r.ratio, "ohm");
    addStep(out.steps, "Vp", "at the pin", "{V}·{k}", {{"V", in.v_max}, {"k", r.ratio}}, r.pin_voltage, "ohm");
    addStep(out.steps, "n", "reading", "⌊{Vp}/{Vr}·{L}⌋", {{"Vp", r.pin_voltage}, {"Vr", in.adc_reference}, {"L", levels}}, r.counts,
            "atmega328p-datasheet");
    addStep(out.steps, "Rs", "resistance the pin sees", "{Rt}·{Rb}/({Rt} + {Rb})", {{"Rt", top}, {"Rb", bottom}}, r.source_impedance,
            "ohm");
    addStep(out.steps, "I", "current that always flows", "{V}/({Rt} + {Rb})", {{"V", in.v_max}, {"Rt", top}, {"Rb", bottom}},
            r.standing_current, "ohm");
    if (si(r.pin_voltage) > si(in.adc_reference) * (1 + 1e-12))
        out.findings.push_back({"adc-over", Severity::Stop,
                                fmt::format("The pin gets {}; its reference is {}.", display(r.pin_voltage), display(in.adc_reference))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr voltageDividerForm() {
    using I = VoltageDivider;
    using R = VoltageDividerResult;
    auto form = std::make_shared<FormOf<I, R>>("voltage-divider", "feed", "a divider in front of an analogue input",
                                               "ohm; atmega328p-datasheet", &voltageDivider);
    form->rule("ratio = Rb/(Rt + Rb); pin = v_max·ratio; counts = ⌊pin/Vref·2^bits⌋; above the reference it breaks")
        .in("v_max", &I::v_max, nullptr, "largest voltage to read")
        .in("adc_reference", &I::adc_reference, nullptr, "of the input")
        .in("r_top", &I::r_top, nullptr, "to the voltage")
        .in("r_bottom", &I::r_bottom, nullptr, "to ground")
        .in("adc_bits", &I::adc_bits, "10", "of the converter")
        .between(1, 24)
        .out("ratio", &R::ratio, "pin over voltage")
        .out("pin_voltage", &R::pin_voltage, "at v_max")
        .out("counts", &R::counts, "reading at v_max")
        .out("source_impedance", &R::source_impedance, "that the pin sees")
        .out("standing_current", &R::standing_current, "through the divider");
    return form;
}

}  // namespace hinge::power
