#include "actuator/coil_drive.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "quantity/constants.hpp"

namespace hinge::actuator {

Result<Worked<CoilDriveResult>> coilDrive(const CoilDrive& in) {
    Worked<CoilDriveResult> out;
    auto& r = out.result;
    const double hot = si(in.coil_resistance) * (1.0 + constants::copper_coefficient * (si(in.coil_temperature) - constants::room_kelvin));
    const double current = std::max(0.0, si(in.supply) - si(in.driver_drop)) / hot;
    const double operate = si(in.operate_fraction) * si(in.coil_voltage) / si(in.coil_resistance);
    r.hot_resistance = of<Resistance>(hot);
    r.current = of<Current>(current);
    r.power = of<Power>(current * current * hot);
    r.operate_margin = of<Ratio>(current / operate);
    r.hold_power = of<Power>(si(in.hold_fraction) * si(in.hold_fraction) * si(r.power));
    addStep(out.steps, "Rh", "resistance of the warm coil", "{R}·(1 + {α}·({T} − 293.15))",
            {{"R", in.coil_resistance}, {"α", constants::copper_coefficient}, {"T", in.coil_temperature}}, r.hot_resistance, "iec-60028");
    addStep(out.steps, "I", "coil current", "({V} − {Vd})/{Rh}", {{"V", in.supply}, {"Vd", in.driver_drop}, {"Rh", hot}}, r.current, "ohm");
    addStep(out.steps, "P", "power in the coil", "{I}²·{Rh}", {{"I", current}, {"Rh", hot}}, r.power, "ohm");
    addStep(out.steps, "m", "current over what it needs to pull in", "{I}/({k}·{Vc}/{R})",
            {{"I", current}, {"k", in.operate_fraction}, {"Vc", in.coil_voltage}, {"R", in.coil_resistance}}, r.operate_margin,
            "operate fraction: common practice, no published source");
    addStep(out.steps, "Ph", "power while holding", "{h}²·{P}", {{"h", in.hold_fraction}, {"P", r.power}}, r.hold_power, "ohm");
    const double margin = si(r.operate_margin);
    if (margin < 1.0)
        out.findings.push_back({"coil-wont-pull", Severity::Stop,
                                fmt::format("The coil gets {} of the current it needs to pull in.", display(Kind::Fraction, margin))});
    else if (margin < 1.1)
        out.findings.push_back(
            {"coil-wont-pull", Severity::Warn,
             fmt::format("The coil has only {} more current than it needs to pull in.", display(Kind::Fraction, margin - 1.0, 2))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr coilDriveForm() {
    using I = CoilDrive;
    using R = CoilDriveResult;
    auto form =
        std::make_shared<FormOf<I, R>>("coil-drive", "match", "a relay's or valve's coil on a supply, warm", "ohm; iec-60028", &coilDrive);
    form->rule("R_hot = R·(1 + α·(T − 20 °C)); current = (supply − drop)/R_hot; operate_margin = current/(operate_fraction·coil_voltage/R)")
        .in("coil_voltage", &I::coil_voltage, nullptr, "nominal voltage of the coil")
        .in("coil_resistance", &I::coil_resistance, nullptr, "at 20 °C")
        .in("supply", &I::supply, nullptr, "feeding the coil")
        .in("driver_drop", &I::driver_drop, "0", "lost in the driver")
        .in("coil_temperature", &I::coil_temperature, "20degC", "of the coil")
        .in("operate_fraction", &I::operate_fraction, "0.75", "share of the nominal voltage at which it pulls in")
        .in("hold_fraction", &I::hold_fraction, "1", "share of the voltage while holding")
        .out("current", &R::current, "through the coil")
        .out("power", &R::power, "in the coil")
        .out("operate_margin", &R::operate_margin, "current over the operate current")
        .out("hold_power", &R::hold_power, "while holding")
        .out("hot_resistance", &R::hot_resistance, "of the warm coil");
    return form;
}

}  // namespace hinge::actuator
