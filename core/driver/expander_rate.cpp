#include "driver/expander_rate.hpp"
#include <algorithm>
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::driver {

Result<Worked<ExpanderRate>> expanderRate(const RegisterMap& map, Frequency wanted) {
    Worked<ExpanderRate> out;
    auto& r = out.result;
    if (map.bus == RegisterBus::Serial) {
        const double frames = map.figure("frames_a_second"), a_second = map.figure("counts_a_second");
        r = {0, of<Frequency>(frames), of<Duration>(1.0 / a_second), of<Count>(a_second / frames)};
    } else {
        const double oscillator = map.figure("oscillator"), counts = map.figure("counts");
        r.prescale = static_cast<int>(std::clamp(std::lround(oscillator / (counts * si(wanted))) - 1L, 3L, 255L));
        r.actual = of<Frequency>(oscillator / (counts * (r.prescale + 1.0)));
        r.count = of<Duration>(1.0 / (counts * si(r.actual)));
        r.counts = of<Count>(counts);
        addStep(out.steps, "N", "its prescaler", "⌊{fo}/({C}·{f}) + 1/2⌋ − 1",
                {{"fo", of<Frequency>(oscillator)}, {"C", r.counts}, {"f", wanted}}, of<Count>(r.prescale), "expander-registers");
        addStep(out.steps, "fa", "rate of all its outputs", "{fo}/({C}·({N} + 1))",
                {{"fo", of<Frequency>(oscillator)}, {"C", r.counts}, {"N", of<Count>(r.prescale)}}, r.actual, "expander-registers");
        addStep(out.steps, "tc", "smallest step of a pulse", "1/({C}·{fa})", {{"C", r.counts}, {"fa", r.actual}}, r.count,
                "expander-registers");
    }
    if (!isNearRate(si(wanted), si(r.actual)))
        return fail(ErrorCode::OutOfRange, "frequency", display(wanted),
                    map.bus == RegisterBus::Serial
                        ? "its own, " + display(r.actual)
                        : display(of<Frequency>(map.figure("oscillator") / (map.figure("counts") * 256.0))) + " to " +
                              display(of<Frequency>(map.figure("oscillator") / (map.figure("counts") * 4.0))));
    return out;
}

}  // namespace hinge::driver
