#include "driver/shown_current.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::driver {

Result<Worked<ShownCurrentResult>> shownCurrent(const ShownCurrent& in) {
    if (!(si(in.scale) > 0.0)) return fail(ErrorCode::OutOfRange, "scale", displayPlain(in.scale), "above 0");
    Worked<ShownCurrentResult> out;
    auto& r = out.result;
    const double scale = si(in.scale), reference = si(in.reference), running = si(in.running);
    const auto counts = [&](double amps) {
        return of<Count>(std::clamp(std::floor(amps * scale / reference * 1024.0 + 1e-9), 0.0, 1023.0));
    };
    r.reads = counts(running);
    addStep(out.steps, "nr", "reading while it runs", "⌊{I}·{k}/{Vr}·1024⌋", {{"I", in.running}, {"k", in.scale}, {"Vr", in.reference}},
            r.reads, "atmega328p-datasheet");
    if (in.stalled) {
        r.stalled = of<Current>(si(*in.stalled) * si(in.duty) * si(in.duty));
        addStep(out.steps, "If", "held fast, in the supply line", "{Is}·{d}²", {{"Is", *in.stalled}, {"d", in.duty}}, *r.stalled, "ohm");
        r.reads_stalled = counts(si(*r.stalled));
        addStep(out.steps, "nf", "reading held fast", "⌊{If}·{k}/{Vr}·1024⌋", {{"If", *r.stalled}, {"k", in.scale}, {"Vr", in.reference}},
                *r.reads_stalled, "atmega328p-datasheet");
    }
    r.limit = of<Current>(si(in.level) * reference / scale);
    addStep(out.steps, "Il", "current at the input's level", "{l}·{Vr}/{k}", {{"l", in.level}, {"Vr", in.reference}, {"k", in.scale}},
            r.limit, "ohm");
    // A quarter on either side: common practice, no published source.
    const double limit = si(r.limit), most = r.stalled ? std::min(si(*r.stalled), reference / scale) : limit * 2.0;
    using L = ShownLevel;
    if (in.below) r.level = limit >= running ? L::Always : limit > 0.8 * running ? L::Late : L::Well;
    else
        r.level = most <= limit                                   ? L::Never
                  : limit <= running                              ? L::Always
                  : limit < 1.25 * running || most < 1.25 * limit ? L::Late
                                                                  : L::Well;
    out.verdict = r.level == L::Well ? Verdict::Holds : r.level == L::Late ? Verdict::Tight : Verdict::Breaks;
    return out;
}

}  // namespace hinge::driver
