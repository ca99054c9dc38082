#include "power/box_heat.hpp"
#include <fmt/format.h>
#include <cmath>
#include "quantity/roots.hpp"

namespace hinge::power {
namespace {

constexpr double stefan_boltzmann = 5.670374419e-8;  // W/(m²·K⁴), CODATA 2018

// Watts that leave by natural convection at a difference of dt [K]: four upright sides and the lid.
double convected(double dt, const BoxTemperature& in) {
    const double w = si(in.width), h = si(in.height), d = si(in.depth);
    const double side = 1.42 * std::pow(dt / h, 0.25) * dt * 2.0 * (w + d) * h;
    // The lid's length is the mean of its two sides.
    const double lid = 1.32 * std::pow(dt / (0.5 * (w + d)), 0.25) * dt * w * d;
    return side + lid;
}

// The difference at which `heat` leaves: it grows with it all the way.
template <class F>
double differenceFor(double heat, F leaves) {
    double high = 1.0;
    while (leaves(high) < heat && high < 1e5) high *= 2.0;
    return crossing([&](double dt) { return leaves(dt) - heat; }, 0.0, high);
}

}  // namespace

Result<Worked<BoxTemperatureResult>> boxTemperature(const BoxTemperature& in) {
    Worked<BoxTemperatureResult> out;
    auto& r = out.result;
    const double w = si(in.width), h = si(in.height), d = si(in.depth), air = si(in.ambient), e = si(in.emissivity);
    const double area = 2.0 * (w + d) * h + w * d;
    r.area = of<Area>(area);
    if (si(in.heat) > 3000.0 * area)
        return fail(ErrorCode::OutOfRange, "heat", exactNumber(si(in.heat)),
                    fmt::format("at most {:.4g} W from such a case", 3000.0 * area));
    const double outside = differenceFor(si(in.heat), [&](double dt) {
        return convected(dt, in) + e * stefan_boltzmann * (std::pow(air + dt, 4) - std::pow(air, 4)) * area;
    });
    const double inner = differenceFor(si(in.heat), [&](double dt) { return convected(dt, in); });
    r.wall = of<Temperature>(air + outside);
    r.inside = of<Temperature>(air + outside + inner);
    addStep(out.steps, "A", "faces that give heat off", "2·({w} + {d})·{h} + {w}·{d}", {{"w", in.width}, {"d", in.depth}, {"h", in.height}},
            r.area, "definition");
    addStep(out.steps, "Tw", "its wall, where as much leaves by still air and radiation as comes",
            "{P} = h·A·ΔT + ε·σ·A·(Tw⁴ − {Ta}⁴); h = 1.42·(ΔT/height)^¼ upright, 1.32·(ΔT/width)^¼ on top",
            {{"P", in.heat}, {"Ta", in.ambient}}, r.wall, "holman-convection");
    addStep(out.steps, "Ti", "the air inside, warmer than the wall by the still air on it", "{Tw} + ΔT, {P} = h·A·ΔT",
            {{"Tw", r.wall}, {"P", in.heat}}, r.inside, "holman-convection");
    return out;
}

FormPtr boxTemperatureForm() {
    using I = BoxTemperature;
    using R = BoxTemperatureResult;
    auto form = std::make_shared<FormOf<I, R>>("box-temperature", "prove", "how warm the air in a closed case gets", "holman-convection",
                                               &boxTemperature);
    form->rule(
            "heat = h·A·ΔT + ε·σ·A·(Tw⁴ − Ta⁴), h = 1.42·(ΔT/L)^¼ upright and 1.32·(ΔT/L)^¼ on top; inside the same without radiation; the "
            "floor counts for nothing")
        .in("heat", &I::heat, nullptr, "given off inside")
        .zeroOk()
        .in("width", &I::width, nullptr, "outside")
        .in("height", &I::height, nullptr, "outside")
        .in("depth", &I::depth, nullptr, "outside")
        .in("ambient", &I::ambient, "25 degC", "air round it")
        .in("emissivity", &I::emissivity, "0.9", "paint, plastic, wood; bare metal 0.1")
        .out("area", &R::area, "four sides and the lid")
        .out("wall", &R::wall, "of the case")
        .out("inside", &R::inside, "its air");
    return form;
}

}  // namespace hinge::power
