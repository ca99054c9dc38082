#include "actuator/mains_fan.hpp"
#include <cmath>
#include "quantity/constants.hpp"

namespace hinge::actuator {

double mainsFanShare(double volts, double slip) noexcept {
    if (volts <= 0.0) return 0.0;
    // v²·(1 − (1 − σ)·x)/σ = x²
    const double v = volts * volts / slip, b = v * (1.0 - slip);
    return (std::sqrt(b * b + 4.0 * v) - b) / 2.0;
}

Result<Worked<MainsFanResult>> mainsFan(const MainsFan& in) {
    const double v = si(in.volts), rated = si(in.rated_speed), f = si(in.mains_frequency);
    if (!(v >= 0.0 && v <= 1.2)) return fail(ErrorCode::OutOfRange, "volts", exactText(Kind::Fraction, v), "from 0 to 120 %");
    double synchronous = 0.0;
    int poles = 0;
    for (int p = 2; p <= 12; p += 2)
        if (const double n = 2.0 * constants::pi * f * 2.0 / p; n > rated) synchronous = n, poles = p;
    if (!(rated > 0.0) || poles == 0)
        return fail(ErrorCode::OutOfRange, "rated_speed", display(Kind::RotationSpeed, rated),
                    "above nothing and below the mains' own: one that is faster has electronics of its own");
    Worked<MainsFanResult> out;
    auto& r = out.result;
    r.synchronous_speed = of<RotationSpeed>(synchronous);
    r.slip = of<Fraction>(1.0 - rated / synchronous);
    r.speed_fraction = of<Fraction>(mainsFanShare(v, si(r.slip)));
    r.speed = of<RotationSpeed>(rated * si(r.speed_fraction));
    addStep(out.steps, "ns", "speed of its field", "2·π·{f}·2/{p}", {{"f", in.mains_frequency}, {"p", of<Count>(poles)}},
            r.synchronous_speed, "induction-slip");
    addStep(out.steps, "σ", "slip at all of its volts", "1 − {n}/{ns}", {{"n", in.rated_speed}, {"ns", r.synchronous_speed}}, r.slip,
            "induction-slip");
    addStep(out.steps, "x", "share of its speed, where torque and blades meet", "{v}²·(1 − (1 − {σ})·x)/{σ} = x²",
            {{"v", in.volts}, {"σ", r.slip}}, r.speed_fraction, "induction-slip");
    addStep(out.steps, "n", "its speed", "{x}·{nr}", {{"x", r.speed_fraction}, {"nr", in.rated_speed}}, r.speed, "definition");
    return out;
}

FormPtr mainsFanForm() {
    using I = MainsFan;
    using R = MainsFanResult;
    auto form =
        std::make_shared<FormOf<I, R>>("mains-fan", "match", "speed of a mains fan at part of its volts", "induction-slip", &mainsFan);
    form->rule("volts²·slip/σ = (n/rated_speed)², with the slip of the least poles that are faster")
        .in("volts", &I::volts, "1", "rms, as a share of the mains'")
        .zeroOk()
        .upTo(1.2)
        .in("rated_speed", &I::rated_speed, nullptr, "at all of its volts, from its plate")
        .in("mains_frequency", &I::mains_frequency, "50 Hz", "50 or 60 Hz")
        .out("synchronous_speed", &R::synchronous_speed, "of its field")
        .out("slip", &R::slip, "at all of its volts")
        .out("speed_fraction", &R::speed_fraction, "of its full speed")
        .out("speed", &R::speed, "at these volts");
    return form;
}

}  // namespace hinge::actuator
