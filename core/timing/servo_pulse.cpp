#include "timing/servo_pulse.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "quantity/constants.hpp"

namespace hinge::timing {

Result<Worked<ServoPulseResult>> servoPulse(const ServoPulse& in) {
    const double low = si(in.pulse_min), high = si(in.pulse_max), range = si(in.angle_range);
    if (low >= high)
        return fail(ErrorCode::OutOfRange, "pulse_min", displayPlain(in.pulse_min), "below pulse_max, " + displayPlain(in.pulse_max));
    if (!in.angle && !in.pulse) return fail(ErrorCode::Missing, "angle / pulse", "", "give exactly one of angle / pulse");
    Worked<ServoPulseResult> out;
    auto& r = out.result;
    const double pulse = in.pulse ? si(*in.pulse) : low + (high - low) * si(*in.angle) / range;
    const double angle = in.angle ? si(*in.angle) : range * (pulse - low) / (high - low);
    r.pulse = of<Duration>(pulse);
    r.angle = of<Angle>(angle);
    r.ticks = of<Count>(std::round(pulse / si(in.tick)));
    r.angle_per_tick = of<Angle>(range * si(in.tick) / (high - low));
    if (in.angle)
        addStep(out.steps, "t", "pulse for this angle", "{t0} + ({t1} − {t0})·{φ}/{Φ}",
                {{"t0", low}, {"t1", high}, {"φ", angle}, {"Φ", range}}, r.pulse, "servo-linear");
    else
        addStep(out.steps, "φ", "angle for this pulse", "{Φ}·({t} − {t0})/({t1} − {t0})",
                {{"Φ", range}, {"t", pulse}, {"t0", low}, {"t1", high}}, r.angle, "servo-linear");
    addStep(out.steps, "n", "ticks, to the nearest", "{t}/{τ}", {{"t", pulse}, {"τ", in.tick}}, r.ticks, "definition");
    addStep(out.steps, "δ", "angle of one tick", "{Φ}·{τ}/({t1} − {t0})", {{"Φ", range}, {"τ", in.tick}, {"t1", high}, {"t0", low}},
            r.angle_per_tick, "definition");
    const double slack = 1e-9 * (high - low);
    if (pulse < low - slack || pulse > high + slack)
        out.findings.push_back({"servo-range", Severity::Stop,
                                fmt::format("{} is outside {} to {}: the servo would press against its stop.", display(r.pulse),
                                            display(in.pulse_min), display(in.pulse_max))});
    if (high > si(in.frame))
        out.findings.push_back(
            {"servo-range", Severity::Stop,
             fmt::format("The longest pulse, {}, does not fit into a frame of {}.", display(in.pulse_max), display(in.frame))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr servoPulseForm() {
    using I = ServoPulse;
    using R = ServoPulseResult;
    auto form = std::make_shared<FormOf<I, R>>("servo-pulse", "pulse", "pulse width and angle of a servo", "servo-linear", &servoPulse);
    form->rule("pulse = min + (max − min)·angle/range; ticks = pulse/tick, nearest; outside the ends it breaks")
        .in("pulse_min", &I::pulse_min, nullptr, "at one end")
        .in("pulse_max", &I::pulse_max, nullptr, "at the other")
        .in("angle_range", &I::angle_range, nullptr, "between them")
        .in("angle", &I::angle, nullptr, "from the pulse_min end")
        .signedOk()
        .in("pulse", &I::pulse, nullptr, "width")
        .in("tick", &I::tick, "0.5e-6", "of the timer")
        .in("frame", &I::frame, "20e-3", "pulse to pulse")
        .oneOf({{"angle"}, {"pulse"}})
        .out("pulse", &R::pulse, "width")
        .out("angle", &R::angle, "from the pulse_min end")
        .out("ticks", &R::ticks, "nearest")
        .out("angle_per_tick", &R::angle_per_tick, "resolution");
    return form;
}

Result<std::vector<ServoMove>> parseServoMoves(std::string_view text) {
    std::vector<ServoMove> moves;
    const auto bad = [&](std::string why) { return fail(ErrorCode::BadFormat, "moves", std::string{text}, std::move(why)); };
    std::string_view rest = text;
    while (true) {
        const auto comma = rest.find(',');
        const auto item = rest.substr(0, comma);
        const auto colon = item.find(':'), at = item.find('@');
        if (colon == std::string_view::npos || at == std::string_view::npos || at < colon)
            return bad("moves as channel:angle@time, separated by commas, such as 0:40deg@0.12");
        const auto channel = parseQuantity(Kind::Count, item.substr(0, colon));
        const auto angle = parseQuantity(Kind::Angle, item.substr(colon + 1, at - colon - 1));
        const auto time = parseQuantity(Kind::Duration, item.substr(at + 1));
        if (!channel || *channel < 0.0) return bad("a channel number before the colon");
        if (!angle || *angle <= 0.0) return bad("an angle above 0, such as 40deg");
        if (!time || *time <= 0.0) return bad("a time for 60° above 0, such as 0.12");
        for (const auto& move : moves)
            if (move.channel == static_cast<int>(*channel))
                return fail(ErrorCode::Conflict, "moves", std::string{text}, fmt::format("channel {} once", move.channel));
        moves.push_back({static_cast<int>(*channel), *angle, *time});
        if (comma == std::string_view::npos) return moves;
        rest = rest.substr(comma + 1);
    }
}

Result<Worked<ServoTogetherResult>> servoTogether(const ServoTogether& in) {
    const auto moves = parseServoMoves(in.moves);
    if (!moves) return tl::unexpected(moves.error());
    Worked<ServoTogetherResult> out;
    double time = 0.0;
    for (const auto& move : *moves) time = std::max(time, move.angle / (constants::pi / 3.0) * move.time_per_60deg);
    out.result.time = of<Duration>(time);
    addStep(out.steps, "t", "time of the slowest", "largest of angle/60°·time", {}, out.result.time,
            "derived: all take the time of the slowest");
    for (const auto& move : *moves) {
        out.result.speed.push_back(of<RotationSpeed>(move.angle / time));
        addStep(out.steps, fmt::format("ω{}", move.channel), fmt::format("speed of channel {}", move.channel), "{φ}/{t}",
                {{"φ", move.angle}, {"t", time}}, out.result.speed.back(), "derived: all take the time of the slowest");
    }
    return out;
}

FormPtr servoTogetherForm() {
    auto form = std::make_shared<FormOf<ServoTogether, ServoTogetherResult>>(
        "servo-together", "pulse", "several servos that arrive together", "derived: all take the time of the slowest", &servoTogether);
    form->rule("time = largest of angle/60°·time; speed = angle/time for each")
        .in("moves", &ServoTogether::moves, nullptr, "channel:angle@time-per-60°, such as 0:40deg@0.12,1:90deg@0.17")
        .out("time", &ServoTogetherResult::time, "of the slowest")
        .out("speed", &ServoTogetherResult::speed, "in input order", "rad/s");
    return form;
}

}  // namespace hinge::timing
