#include "demand/mechanical_fit.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include "quantity/constants.hpp"
#include "quantity/roots.hpp"

namespace hinge::demand {
namespace {

// Pitch-line length of an open belt round radii r and R [m] at the distance c [m].
double openBelt(double r, double R, double c) {
    const double lean = std::asin(std::abs(R - r) / c);
    const double small = std::min(r, R), large = std::max(r, R);
    return 2.0 * c * std::cos(lean) + small * (constants::pi - 2.0 * lean) + large * (constants::pi + 2.0 * lean);
}

// Nominal lengths of screws [mm], ISO 888.
constexpr std::array screw_lengths{2.0,  2.5,  3.0,  4.0,  5.0,  6.0,  8.0,  10.0, 12.0,  16.0,  20.0,  25.0,  30.0,  35.0, 40.0,
                                   45.0, 50.0, 55.0, 60.0, 65.0, 70.0, 80.0, 90.0, 100.0, 110.0, 120.0, 130.0, 140.0, 150.0};

}  // namespace

std::optional<PrintFigures> figuresOf(Print material) {
    switch (material) {
        case Print::Pla: return PrintFigures{50e6, 3.2e9, 55.0, false};
        case Print::Petg: return PrintFigures{45e6, 2.0e9, 70.0, false};
        case Print::Abs: return PrintFigures{35e6, 2.0e9, 90.0, false};
        case Print::Asa: return PrintFigures{38e6, 2.0e9, 90.0, true};
        case Print::Nylon: return PrintFigures{40e6, 1.4e9, 80.0, false};
        case Print::None: break;
    }
    return std::nullopt;
}

Result<Worked<BeltLengthResult>> beltLength(const BeltLength& in) {
    Worked<BeltLengthResult> out;
    auto& r = out.result;
    const double pitch = si(in.tooth_pitch), c = si(in.centres);
    const double a = si(in.driving_teeth) * pitch / (2.0 * constants::pi), b = si(in.driven_teeth) * pitch / (2.0 * constants::pi);
    if (c <= a + b)
        return fail(ErrorCode::OutOfRange, "centres", exactNumber(c), fmt::format("more than {:.4g} m, where the pulleys touch", a + b));
    const double length = openBelt(a, b, c);
    r.length = of<Length>(length);
    r.belt_teeth = of<Count>(std::round(length / pitch));
    // The distance at which a belt of whole teeth is tight: the length grows with it all the way.
    r.belt_centres = of<Length>(crossing([&](double d) { return openBelt(a, b, d) - si(r.belt_teeth) * pitch; }, a + b, c + 2.0 * pitch));
    const double lean = std::asin(std::abs(b - a) / c);
    r.wrap = of<Angle>(constants::pi - 2.0 * lean);
    const double small = std::min(si(in.driving_teeth), si(in.driven_teeth));
    r.teeth_in_mesh = of<Ratio>(small * si(r.wrap) / (2.0 * constants::pi));
    addStep(out.steps, "r", "pitch radius of the driving pulley", "{z}·{p}/(2π)", {{"z", in.driving_teeth}, {"p", in.tooth_pitch}},
            of<Length>(a), "belt-geometry");
    addStep(out.steps, "R", "pitch radius of the driven pulley", "{Z}·{p}/(2π)", {{"Z", in.driven_teeth}, {"p", in.tooth_pitch}},
            of<Length>(b), "belt-geometry");
    addStep(out.steps, "α", "lean of the free runs", "asin(|{R} − {r}|/{C})", {{"R", b}, {"r", a}, {"C", in.centres}}, of<Angle>(lean),
            "belt-geometry");
    addStep(out.steps, "L", "belt along its pitch line", "2·{C}·cos {α} + r·(π − 2·{α}) + R·(π + 2·{α})", {{"C", in.centres}, {"α", lean}},
            r.length, "belt-geometry");
    addStep(out.steps, "n", "teeth, the nearest whole number", "{L}/{p}", {{"L", r.length}, {"p", in.tooth_pitch}}, r.belt_teeth,
            "definition");
    addStep(out.steps, "C′", "distance at which that belt is tight, by halving", "L(C′) = {n}·{p}",
            {{"n", r.belt_teeth}, {"p", in.tooth_pitch}}, r.belt_centres, "belt-geometry");
    addStep(out.steps, "m", "teeth in mesh on the smaller pulley", "{z}·(π − 2·{α})/(2π)", {{"z", small}, {"α", lean}}, r.teeth_in_mesh,
            "belt-geometry");
    if (si(r.teeth_in_mesh) < 6.0)
        out.findings.push_back({"few-teeth-in-mesh", Severity::Warn,
                                fmt::format("Only {:.1f} teeth of the smaller pulley are in the belt; below six it jumps under load. A "
                                            "larger pulley, or more way between them.",
                                            si(r.teeth_in_mesh))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr beltLengthForm() {
    using I = BeltLength;
    using R = BeltLengthResult;
    auto form = std::make_shared<FormOf<I, R>>("belt-length", "prove",
                                               "length of a toothed belt round two pulleys, and the distance for a whole number of teeth",
                                               "belt-geometry", &beltLength);
    form->rule("L = 2·C·cos α + r·(π − 2α) + R·(π + 2α), sin α = |R − r|/C, r = z·p/2π; below 6 teeth in mesh tight")
        .in("driving_teeth", &I::driving_teeth, nullptr, "of the driving pulley")
        .between(6.0, 400.0)
        .in("driven_teeth", &I::driven_teeth, nullptr, "of the driven pulley")
        .between(6.0, 400.0)
        .in("tooth_pitch", &I::tooth_pitch, nullptr, "tooth to tooth")
        .in("centres", &I::centres, nullptr, "axle to axle")
        .out("length", &R::length, "along the pitch line")
        .out("belt_teeth", &R::belt_teeth, "nearest whole number")
        .out("belt_centres", &R::belt_centres, "axle to axle with that belt")
        .out("wrap", &R::wrap, "round the smaller pulley")
        .out("teeth_in_mesh", &R::teeth_in_mesh, "of the smaller pulley");
    return form;
}

Result<Worked<ScrewLengthResult>> screwLength(const ScrewLength& in) {
    Worked<ScrewLengthResult> out;
    auto& r = out.result;
    const double times = in.thread == Thread::Plastic ? 2.0 : 1.0;
    r.engagement_needed = of<Length>(times * si(in.diameter));
    r.needed = in.clamped + r.engagement_needed;
    addStep(out.steps, "e", in.thread == Thread::Plastic ? "depth in plastic" : "depth in steel or a nut", "{k}·{d}",
            {{"k", times}, {"d", in.diameter}}, r.engagement_needed, "depth of thread: common practice, no published source");
    addStep(out.steps, "l", "shortest screw", "{t} + {e}", {{"t", in.clamped}, {"e", r.engagement_needed}}, r.needed, "definition");
    for (const double each : screw_lengths)
        if (each * 1e-3 >= si(r.needed) * (1.0 - 1e-9)) {
            r.standard = of<Length>(each * 1e-3);
            addStep(out.steps, "ls", "next length that is sold", "≥ {l}", {{"l", r.needed}}, *r.standard, "iso-888");
            break;
        }
    if (in.length) {
        r.engagement = *in.length - in.clamped;
        addStep(out.steps, "eh", "depth of the one at hand", "{h} − {t}", {{"h", *in.length}, {"t", in.clamped}}, *r.engagement,
                "definition");
        if (si(*r.engagement) <= 0.0)
            out.findings.push_back({"screw-short", Severity::Stop,
                                    fmt::format("The screw is {} long and holds {}: it reaches nothing. Take {}.", display(*in.length),
                                                display(in.clamped), r.standard ? display(*r.standard) : display(r.needed))});
        else if (si(*r.engagement) < si(r.engagement_needed) * (1.0 - 1e-9))
            out.findings.push_back({"screw-short", Severity::Warn,
                                    fmt::format("The screw goes {} deep; it should go {}. Take {}.", display(*r.engagement),
                                                display(r.engagement_needed), r.standard ? display(*r.standard) : display(r.needed))});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr screwLengthForm() {
    using I = ScrewLength;
    using R = ScrewLengthResult;
    auto form = std::make_shared<FormOf<I, R>>("screw-length", "prove", "how long a screw must be", "iso-888", &screwLength);
    form->rule("needed = clamped + diameter (in plastic twice the diameter), next length of ISO 888")
        .in("clamped", &I::clamped, nullptr, "all that lies under its head")
        .in("diameter", &I::diameter, nullptr, "M3 is 3 mm")
        .in("thread", &I::thread, "metal", "what it is cut in")
        .in("length", &I::length, nullptr, "of the one at hand")
        .otherwise("none yet")
        .out("engagement_needed", &R::engagement_needed, "depth of thread")
        .out("needed", &R::needed, "shortest")
        .out("standard", &R::standard, "next of ISO 888")
        .out("engagement", &R::engagement, "of the one at hand");
    return form;
}

Result<Worked<PrintedArmResult>> printedArm(const PrintedArm& in) {
    const auto figures = figuresOf(in.material);
    if (!figures) return fail(ErrorCode::OutOfRange, "material", std::string{nameOf(in.material)}, "a printed material");
    const double b = si(in.width), h = si(in.height), t = si(in.wall), f = si(in.infill);
    if (2.0 * t > std::min(b, h))
        return fail(ErrorCode::OutOfRange, "wall", exactNumber(t), fmt::format("at most half of the arm, {:.4g} m", 0.5 * std::min(b, h)));
    Worked<PrintedArmResult> out;
    auto& r = out.result;
    const double whole = b * h * h * h / 12.0, core = (b - 2.0 * t) * std::pow(h - 2.0 * t, 3) / 12.0;
    const double second = whole - (1.0 - f) * core;
    const double moment = si(in.torque);
    r.stress = of<Pressure>(moment * 0.5 * h / second);
    r.allowed = of<Pressure>(figures->strength * (in.layers == Layers::Across ? 0.5 : 1.0) / si(in.safety));
    r.used = of<Ratio>(si(r.stress) / si(r.allowed));
    r.sag = of<Length>(moment / si(in.arm) * std::pow(si(in.arm), 3) / (3.0 * figures->stiffness * second));
    r.softens = Temperature::celsius(figures->softens);
    // mm⁴: the step's own unit.
    out.steps.push_back({"I", "second moment of its section: the wall whole, the core by its filling",
                         "b·h³/12 − (1 − f)·(b − 2t)·(h − 2t)³/12", fmt::format("{:.4g}·{:.4g}³/12 − (1 − {:.4g})·…", b * 1e3, h * 1e3, f),
                         second * 1e12, "mm⁴", Kind::Ratio, "beam-bending"});
    addStep(out.steps, "σ", "bending stress at the root", "{T}·{h}/(2·I)", {{"T", in.torque}, {"h", in.height}}, r.stress, "beam-bending");
    addStep(out.steps, "σa", in.layers == Layers::Across ? "what it bears, its layers pulled apart: half" : "what it bears", "{σm}·{k}/{s}",
            {{"σm", figures->strength}, {"k", in.layers == Layers::Across ? 0.5 : 1.0}, {"s", in.safety}}, r.allowed,
            "strength of prints: common practice, no published source");
    addStep(out.steps, "y", "gives way at the load", "{F}·{l}³/(3·E·I)", {{"F", moment / si(in.arm)}, {"l", in.arm}}, r.sag,
            "beam-bending");
    if (si(r.used) > 1.0)
        out.findings.push_back({"arm-breaks", Severity::Stop,
                                fmt::format("{} at its root, {} of what it bears: it breaks before its driver stalls. Make it higher along "
                                            "the pull; twice as high bears four times as much.",
                                            display(r.stress), display(Kind::Ratio, si(r.used)))});
    else if (si(r.used) > 0.8)
        out.findings.push_back(
            {"arm-breaks", Severity::Warn,
             fmt::format("{} at its root is {} of what it bears.", display(r.stress), display(Kind::Ratio, si(r.used)))});
    const double air = si(in.air) - 273.15;
    if (air > figures->softens - 5.0)
        out.findings.push_back(
            {"print-softens", Severity::Stop,
             fmt::format("{:.0f} °C round it, and {} goes soft at about {:.0f} °C. Take one that stands more heat, or bring cool air in.",
                         air, labelOf(in.material), figures->softens)});
    else if (air > figures->softens - 15.0)
        out.findings.push_back({"print-softens", Severity::Warn,
                                fmt::format("{:.0f} °C round it; {} goes soft at about {:.0f} °C and creeps before.", air,
                                            labelOf(in.material), figures->softens)});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr printedArmForm() {
    using I = PrintedArm;
    using R = PrintedArmResult;
    auto form = std::make_shared<FormOf<I, R>>(
        "printed-arm", "prove", "whether a printed arm bears the torque at its root, and the heat round it", "beam-bending", &printedArm);
    form->rule(
            "I = b·h³/12 − (1 − infill)·(b − 2t)·(h − 2t)³/12; stress = T·h/(2·I), allowed = strength/safety, across the layers half of it")
        .in("torque", &I::torque, nullptr, "at its root: the stall torque")
        .in("arm", &I::arm, nullptr, "root to the load")
        .in("width", &I::width, nullptr, "across the pull")
        .in("height", &I::height, nullptr, "along the pull")
        .in("wall", &I::wall, "1.2 mm", "printed solid, all round")
        .in("infill", &I::infill, "20 %", "of the core")
        .zeroOk()
        .in("material", &I::material, "pla", "what it is printed in")
        .in("air", &I::air, "25 degC", "round it")
        .in("layers", &I::layers, "along", "the pull goes along them, or opens them")
        .in("safety", &I::safety, "3", "strength over allowed")
        .between(1.0, 100.0)
        .out("stress", &R::stress, "at the root")
        .out("allowed", &R::allowed, "with the safety asked for")
        .out("used", &R::used, "stress over allowed")
        .out("sag", &R::sag, "at the load")
        .out("softens", &R::softens, "its material");
    return form;
}

}  // namespace hinge::demand
