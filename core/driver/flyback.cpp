#include "driver/flyback.hpp"
#include <cmath>

namespace hinge::driver {

Result<Worked<FlybackResult>> flyback(const Flyback& in) {
    Worked<FlybackResult> out;
    auto& r = out.result;
    const double current = si(in.current), l = si(in.inductance), resistance = si(in.resistance), clamp = si(in.clamp_voltage);
    const double x = current * resistance / clamp;
    // log1p keeps the limit R → 0 exact.
    r.decay_time = of<Duration>(resistance > 0.0 ? l / resistance * std::log1p(x) : l * current / clamp);
    r.switch_voltage = of<Voltage>(si(in.supply) + clamp);
    r.energy = of<Energy>(0.5 * l * current * current);
    addStep(out.steps, "t", "until the current has died away", resistance > 0.0 ? "{L}/{R}·ln(1 + {I}·{R}/{Vc})" : "{L}·{I}/{Vc}",
            {{"L", l}, {"R", resistance}, {"I", current}, {"Vc", clamp}}, r.decay_time, "derived: L·di/dt + R·i + Vc = 0");
    addStep(out.steps, "Vs", "voltage across the open switch", "{V} + {Vc}", {{"V", in.supply}, {"Vc", clamp}}, r.switch_voltage,
            "kirchhoff");
    addStep(out.steps, "E", "energy in the winding", "½·{L}·{I}²", {{"L", l}, {"I", current}}, r.energy, "inductor-energy");
    return out;
}

FormPtr flybackForm() {
    using I = Flyback;
    using R = FlybackResult;
    auto form = std::make_shared<FormOf<I, R>>("flyback", "drive", "an inductive load switched off into a diode",
                                               "derived: L·di/dt + R·i + Vc = 0", &flyback);
    form->rule("decay = L/R·ln(1 + I·R/Vc), L·I/Vc without R; energy = ½·L·I²")
        .in("current", &I::current, nullptr, "at switch-off")
        .in("inductance", &I::inductance, nullptr, "of the load")
        .in("resistance", &I::resistance, nullptr, "of the load")
        .zeroOk()
        .in("supply", &I::supply, nullptr, "of the load")
        .in("clamp_voltage", &I::clamp_voltage, "0.7", "of the diode or clamp")
        .out("decay_time", &R::decay_time, "until the current is zero")
        .out("switch_voltage", &R::switch_voltage, "across the open switch")
        .out("energy", &R::energy, "in the winding");
    return form;
}

}  // namespace hinge::driver
