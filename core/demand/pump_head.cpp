#include "demand/pump_head.hpp"
#include <cmath>
#include "quantity/constants.hpp"

namespace hinge::demand {
namespace {

double colebrook(double reynolds, double relative_roughness) {
    // x = 1/√f; Newton on g(x) = x + 2·log10(ε/3.7 + 2.51·x/Re), which is smooth and rising.
    double x = 8.0;
    for (int i = 0; i < 100; ++i) {
        const double inner = relative_roughness / 3.7 + 2.51 * x / reynolds;
        const double g = x + 2.0 * std::log10(inner);
        const double slope = 1.0 + 2.0 / std::log(10.0) * (2.51 / reynolds) / inner;
        const double next = x - g / slope;
        if (std::abs(next - x) <= 1e-14 * std::abs(next)) {
            x = next;
            break;
        }
        x = next;
    }
    return 1.0 / (x * x);
}

}  // namespace

double frictionFactor(double reynolds, double relative_roughness) {
    if (reynolds <= 2300.0) return 64.0 / reynolds;
    if (reynolds >= 4000.0) return colebrook(reynolds, relative_roughness);
    const double low = 64.0 / 2300.0;
    const double high = colebrook(4000.0, relative_roughness);
    return low + (high - low) * (reynolds - 2300.0) / (4000.0 - 2300.0);
}

Result<PumpHeadResult> pumpHeadFigures(const PumpHead& in) {
    const double d = si(in.tube_diameter);
    const double relative = si(in.roughness) / d;
    if (relative > 0.05) return fail(ErrorCode::OutOfRange, "roughness", displayPlain(in.roughness), "at most 0.05 of the tube's diameter");
    PumpHeadResult r;
    const double v = si(in.flow) / (constants::pi * d * d / 4.0);
    const double reynolds = constants::water_density * v * d / constants::water_viscosity;
    const double f = frictionFactor(reynolds, relative);
    const double velocity_head = v * v / (2.0 * constants::gravity);
    r.velocity = of<Speed>(v);
    r.reynolds = of<Ratio>(reynolds);
    r.friction_factor = of<Ratio>(f);
    r.friction_head = of<Length>((f * si(in.tube_length) / d + si(in.fittings_k)) * velocity_head);
    const double weight = constants::water_density * constants::gravity;
    r.total_head = of<Length>(si(in.static_head) + si(r.friction_head) + si(in.outlet_pressure) / weight);
    r.hydraulic_power = of<Power>(weight * si(in.flow) * si(r.total_head));
    return r;
}

Result<Worked<PumpHeadResult>> pumpHead(const PumpHead& in) {
    const auto figures = pumpHeadFigures(in);
    if (!figures) return tl::unexpected(figures.error());
    Worked<PumpHeadResult> out;
    out.result = *figures;
    const auto& r = out.result;
    const double d = si(in.tube_diameter), relative = si(in.roughness) / d;
    const double v = si(r.velocity), reynolds = si(r.reynolds), f = si(r.friction_factor);
    addStep(out.steps, "v", "speed of the water in the tube", "{Q}/(π·{D}²/4)", {{"Q", in.flow}, {"D", in.tube_diameter}}, r.velocity,
            "continuity");
    addStep(out.steps, "Re", "Reynolds number", "{ρ}·{v}·{D}/{µ}",
            {{"ρ", constants::water_density}, {"v", v}, {"D", d}, {"µ", constants::water_viscosity}}, r.reynolds, "reynolds");
    addStep(out.steps, "f", "friction factor", reynolds <= 2300 ? "64/{Re}" : "1/√f = −2·log10({e}/3.7 + 2.51/({Re}·√f))",
            {{"Re", reynolds}, {"e", relative}}, r.friction_factor, reynolds <= 2300 ? "hagen-poiseuille" : "colebrook-1939");
    addStep(out.steps, "hf", "head lost to friction", "({f}·{L}/{D} + {K})·{v}²/(2·{g})",
            {{"f", f}, {"L", in.tube_length}, {"D", d}, {"K", in.fittings_k}, {"v", v}, {"g", constants::gravity}}, r.friction_head,
            "darcy-weisbach");
    addStep(out.steps, "H", "head asked for", "{hs} + {hf} + {p}/({ρ}·{g})",
            {{"hs", in.static_head},
             {"hf", r.friction_head},
             {"p", in.outlet_pressure},
             {"ρ", constants::water_density},
             {"g", constants::gravity}},
            r.total_head, "bernoulli");
    addStep(out.steps, "P", "power into the water", "{ρ}·{g}·{Q}·{H}",
            {{"ρ", constants::water_density}, {"g", constants::gravity}, {"Q", in.flow}, {"H", r.total_head}}, r.hydraulic_power,
            "derived: P = ρgQH");
    return out;
}

FormPtr pumpHeadForm() {
    auto form = std::make_shared<FormOf<PumpHead, PumpHeadResult>>("pump-head", "need", "head that a lift and a tube ask of a pump",
                                                                   "darcy-weisbach; colebrook-1939", &pumpHead);
    form->rule(
            "friction_head = (f·L/D + K)·v²/2g; f = 64/Re to Re 2300, 1/√f = −2·log10(ε/3.7D + 2.51/(Re·√f)) from 4000, linear between; "
            "total_head = static + friction + p/(ρg)")
        .in("static_head", &PumpHead::static_head, nullptr, "outlet above the water's surface")
        .signedOk()
        .in("flow", &PumpHead::flow, nullptr, "flow wanted")
        .in("tube_length", &PumpHead::tube_length, nullptr, "length of tube")
        .zeroOk()
        .in("tube_diameter", &PumpHead::tube_diameter, nullptr, "inside diameter of the tube")
        .in("roughness", &PumpHead::roughness, "1.5e-6", "roughness of the tube's wall")
        .zeroOk()
        .in("fittings_k", &PumpHead::fittings_k, "0", "sum of the fittings' loss coefficients")
        .in("outlet_pressure", &PumpHead::outlet_pressure, "0", "pressure at the outlet")
        .signedOk()
        .out("velocity", &PumpHeadResult::velocity, "speed in the tube")
        .out("reynolds", &PumpHeadResult::reynolds, "Reynolds number")
        .out("friction_factor", &PumpHeadResult::friction_factor, "Darcy friction factor")
        .out("friction_head", &PumpHeadResult::friction_head, "head lost to friction")
        .out("total_head", &PumpHeadResult::total_head, "static + friction + outlet")
        .out("hydraulic_power", &PumpHeadResult::hydraulic_power, "power into the water");
    return form;
}

}  // namespace hinge::demand
