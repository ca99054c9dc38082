#include "timing/dead_time.hpp"
#include "quantity/text.hpp"

namespace hinge::timing {

Result<Worked<DeadTimeResult>> deadTime(const DeadTime& in) {
    Worked<DeadTimeResult> out;
    auto& r = out.result;
    const double tick = si(in.prescaler) / si(in.clock);
    r.ticks = of<Count>(std::max(1.0, std::ceil(si(in.dead_time) / tick - 1e-6)));
    r.actual = of<Duration>(si(r.ticks) * tick);
    r.most = of<Fraction>(1.0 - 2.0 * si(r.ticks) / si(in.top));
    if (si(r.most) < 0.5)
        return fail(ErrorCode::OutOfRange, "dead_time", displayPlain(in.dead_time),
                    "at most a quarter of half a period, " + display(Kind::Duration, 0.25 * si(in.top) * tick) +
                        ": a lower frequency gives it more");
    addStep(out.steps, "n", "dead time, counts", "⌈{t}·{clk}/{N}⌉", {{"t", in.dead_time}, {"clk", in.clock}, {"N", in.prescaler}}, r.ticks,
            "atmega328p-datasheet");
    addStep(out.steps, "t", "dead time as it is", "{n}·{N}/{clk}", {{"n", r.ticks}, {"N", in.prescaler}, {"clk", in.clock}}, r.actual,
            "definition");
    addStep(out.steps, "d", "greatest share", "1 − 2·{n}/{TOP}", {{"n", r.ticks}, {"TOP", in.top}}, r.most, "definition");
    return out;
}

FormPtr deadTimeForm() {
    using I = DeadTime;
    using R = DeadTimeResult;
    auto form = std::make_shared<FormOf<I, R>>("dead-time", "pulse", "dead time between the two switches of a bridge's end",
                                               "atmega328p-datasheet", &deadTime);
    form->rule("ticks = ⌈dead_time·clk/N⌉; most = 1 − 2·ticks/TOP of a timer that runs up and down")
        .in("clock", &I::clock, "16 MHz", "of the timer")
        .in("prescaler", &I::prescaler, "1", "clock divider")
        .in("top", &I::top, nullptr, "at which it turns round")
        .in("dead_time", &I::dead_time, nullptr, "least that the switches want")
        .out("ticks", &R::ticks, "between the two compare values")
        .out("actual", &R::actual, "that comes out")
        .out("most", &R::most, "share of full power");
    return form;
}

}  // namespace hinge::timing
