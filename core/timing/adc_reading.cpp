#include "timing/adc_reading.hpp"
#include <fmt/format.h>
#include <cmath>

namespace hinge::timing {

Result<Worked<AdcReadingResult>> adcReading(const AdcReading& in) {
    Worked<AdcReadingResult> out;
    auto& r = out.result;
    const double levels = std::pow(2.0, si(in.bits));
    const double reference = si(in.reference);
    r.step = of<Voltage>(reference / levels);
    if (in.voltage) {
        r.voltage = *in.voltage;
        // Contract: floor adds 1e-9 first, so that an exact step does not fall one short.
        const double counts = std::floor(si(*in.voltage) / reference * levels + 1e-9);
        r.counts = of<Count>(std::clamp(counts, 0.0, levels - 1.0));
        addStep(out.steps, "n", "reading", "⌊{V}/{Vr}·{L}⌋", {{"V", *in.voltage}, {"Vr", reference}, {"L", levels}}, r.counts,
                "atmega328p-datasheet");
        if (si(*in.voltage) > reference)
            out.findings.push_back({"adc-over", Severity::Stop,
                                    fmt::format("{} is above the reference of {}: the reading sticks at {:.0f}, and the pin may be hurt.",
                                                display(*in.voltage), display(in.reference), levels - 1.0)});
    } else if (in.counts) {
        if (si(*in.counts) > levels - 1.0)
            return fail(ErrorCode::OutOfRange, "counts", exactNumber(si(*in.counts)), fmt::format("at most {:.0f}", levels - 1.0));
        r.counts = *in.counts;
        r.voltage = of<Voltage>(si(*in.counts) * reference / levels);
        addStep(out.steps, "V", "voltage at the pin", "{n}·{Vr}/{L}", {{"n", *in.counts}, {"Vr", reference}, {"L", levels}}, r.voltage,
                "atmega328p-datasheet");
    } else {
        return fail(ErrorCode::Missing, "voltage / counts", "", "give exactly one of voltage / counts");
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr adcReadingForm() {
    using I = AdcReading;
    using R = AdcReadingResult;
    auto form =
        std::make_shared<FormOf<I, R>>("adc-reading", "pulse", "an analogue reading, either way", "atmega328p-datasheet", &adcReading);
    form->rule("counts = ⌊V/Vref·2^bits⌋, clamped; V = counts·Vref/2^bits")
        .in("reference", &I::reference, nullptr, "full scale")
        .in("bits", &I::bits, nullptr, "of the converter")
        .between(1, 24)
        .in("voltage", &I::voltage, nullptr, "at the pin")
        .zeroOk()
        .in("counts", &I::counts, nullptr, "read")
        .zeroOk()
        .oneOf({{"voltage"}, {"counts"}})
        .out("voltage", &R::voltage, "at the pin")
        .out("counts", &R::counts, "read")
        .out("step", &R::step, "of one count");
    return form;
}

}  // namespace hinge::timing
