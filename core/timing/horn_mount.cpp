#include "timing/horn_mount.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::timing {

Result<Worked<HornMountResult>> hornMount(const HornMount& in) {
    if (si(in.pulse_min) >= si(in.pulse_max))
        return fail(ErrorCode::OutOfRange, "pulse_min", displayPlain(in.pulse_min), "below pulse_max");
    Worked<HornMountResult> out;
    auto& r = out.result;
    const double tooth = 2.0 * constants::pi / si(in.teeth), per_angle = (si(in.pulse_max) - si(in.pulse_min)) / si(in.angle_range);
    r.middle = of<Duration>((si(in.pulse_min) + si(in.pulse_max)) / 2.0);
    r.tooth = of<Angle>(tooth);
    r.teeth_over = of<Count>(std::round(si(in.rest_angle) / tooth));
    r.residual = of<Angle>(si(in.rest_angle) - si(r.teeth_over) * tooth);
    r.trim = of<Duration>(si(r.residual) * per_angle);
    r.left = of<Angle>(si(in.angle_range) / 2.0 - std::abs(si(r.residual)) - si(in.swing));
    addStep(out.steps, "m", "middle: command it, then press the horn on", "({a} + {b})/2", {{"a", in.pulse_min}, {"b", in.pulse_max}},
            r.middle, "servo-linear");
    addStep(out.steps, "z", "tooth to tooth", "360°/{n}", {{"n", in.teeth}}, r.tooth, "definition");
    addStep(out.steps, "e", "left over from the nearest tooth", "{w} − {k}·{z}",
            {{"w", in.rest_angle}, {"k", r.teeth_over}, {"z", r.tooth}}, r.residual, "definition");
    addStep(out.steps, "t", "trim", "{e}·({b} − {a})/{R}",
            {{"e", r.residual}, {"b", in.pulse_max}, {"a", in.pulse_min}, {"R", in.angle_range}}, r.trim, "servo-linear");
    addStep(out.steps, "l", "travel left on the tighter side", "{R}/2 − |{e}| − {s}",
            {{"R", in.angle_range}, {"e", r.residual}, {"s", in.swing}}, r.left, "definition");
    if (si(r.left) < 0.0)
        out.findings.push_back({"servo-range", Severity::Stop,
                                "The move goes past the servo's end on one side: a smaller move, or a rest nearer to its middle."});
    else if (si(r.left) < 0.087)
        out.findings.push_back(
            {"servo-range", Severity::Warn, "Under 5° is left on one side: any play in the linkage takes it to the end."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr hornMountForm() {
    using I = HornMount;
    using R = HornMountResult;
    auto form = std::make_shared<FormOf<I, R>>("horn-mount", "pulse", "which tooth a servo's horn goes on, and its trim", "servo-linear",
                                               &hornMount);
    form->rule("nearest tooth to rest_angle; trim = residual·(pulse_max − pulse_min)/angle_range; left = range/2 − |residual| − swing")
        .in("teeth", &I::teeth, "25", "of the spline")
        .in("pulse_min", &I::pulse_min, nullptr, "at one end")
        .in("pulse_max", &I::pulse_max, nullptr, "at the other")
        .in("angle_range", &I::angle_range, nullptr, "between them")
        .in("rest_angle", &I::rest_angle, nullptr, "of the horn at the middle pulse")
        .between(-constants::pi, constants::pi)
        .in("swing", &I::swing, nullptr, "of the move, to both sides")
        .zeroOk()
        .out("middle", &R::middle, "pulse before the horn goes on")
        .out("tooth", &R::tooth, "from tooth to tooth")
        .out("teeth_over", &R::teeth_over, "teeth to turn the horn by")
        .out("residual", &R::residual, "left over")
        .out("trim", &R::trim, "to add to every pulse")
        .out("left", &R::left, "travel to spare");
    return form;
}

Result<Worked<InterruptLoadResult>> interruptLoad(const InterruptLoad& in) {
    Worked<InterruptLoadResult> out;
    double cycles = 0.0, longest = 0.0;
    std::string_view rest = in.interrupts;
    const auto bad = [&](std::string_view part) {
        return fail(ErrorCode::BadFormat, "interrupts", std::string{part}, "rate@cycles, parted by commas, such as 16kHz@110,976Hz@80");
    };
    while (true) {
        auto item = rest.substr(0, rest.find(','));
        while (!item.empty() && item.front() == ' ') item.remove_prefix(1);
        while (!item.empty() && item.back() == ' ') item.remove_suffix(1);
        const auto at = item.find('@');
        if (at == std::string_view::npos) return bad(item);
        const auto rate = parseQuantity(Kind::Frequency, item.substr(0, at));
        const auto count = parseQuantity(Kind::Ratio, item.substr(at + 1));
        if (!rate || !count || !(*rate > 0.0) || !(*count >= 1.0)) return bad(item);
        cycles += *rate * *count;
        longest = std::max(longest, *count);
        if (rest.find(',') == std::string_view::npos) break;
        rest.remove_prefix(rest.find(',') + 1);
    }
    auto& r = out.result;
    const double load = cycles / si(in.clock);
    r.load = of<Fraction>(load);
    r.left = of<Fraction>(1.0 - load);
    r.longest = of<Duration>(longest / si(in.clock));
    addStep(out.steps, "u", "share of the processor", "Σ(rate·cycles)/{clk} = {c}/{clk}", {{"c", cycles}, {"clk", in.clock}}, r.load,
            "definition");
    addStep(out.steps, "t", "nothing else runs for", "{n}/{clk}", {{"n", longest}, {"clk", in.clock}}, r.longest, "definition");
    if (load > 0.8)
        out.findings.push_back(
            {"interrupts-too-many", Severity::Stop, "The interrupts take over 80 % of the processor: the sketch's own loop starves."});
    else if (load > 0.5)
        out.findings.push_back(
            {"interrupts-too-many", Severity::Warn, "The interrupts take over half of the processor: leave the rest room."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr interruptLoadForm() {
    using I = InterruptLoad;
    using R = InterruptLoadResult;
    auto form = std::make_shared<FormOf<I, R>>("interrupt-load", "pulse", "how much of the processor the interrupts take", "definition",
                                               &interruptLoad);
    form->rule("load = Σ(rate·cycles)/clock; to 0.5 holds, to 0.8 tight")
        .in("interrupts", &I::interrupts, nullptr, "rate@cycles, entry and return included")
        .in("clock", &I::clock, "16MHz", "of the processor")
        .out("load", &R::load, "of all cycles")
        .out("longest", &R::longest, "of one interrupt")
        .out("left", &R::left, "for everything else");
    return form;
}

}  // namespace hinge::timing
