#include "driver/mains.hpp"
#include <fmt/format.h>
#include "quantity/constants.hpp"
#include "quantity/roots.hpp"

namespace hinge::driver {
namespace {

using constants::pi;

Finding mainsPresent() {
    return {"mains-present", Severity::Note,
            "Mains voltage: isolation, an enclosure, a fuse, no live work. Follow your local code; have a licensed electrician do or check "
            "the mains side."};
}

double powerAt(double angle) {
    return 1.0 - angle / pi + std::sin(2.0 * angle) / (2.0 * pi);
}

}  // namespace

Result<Worked<ZeroCrossResult>> zeroCross(const ZeroCross& in) {
    Worked<ZeroCrossResult> out;
    auto& r = out.result;
    const double v = si(in.mains_voltage), f = si(in.mains_frequency), resistance = si(in.series_resistance);
    if (std::sqrt(2.0) * v <= si(in.led_drop))
        return fail(ErrorCode::OutOfRange, "mains_voltage", displayPlain(in.mains_voltage), "a peak above the LED's drop");
    r.pulses_per_second = of<Frequency>(2.0 * f);
    r.half_period = of<Duration>(0.5 / f);
    r.led_peak_current = of<Current>((std::sqrt(2.0) * v - si(in.led_drop)) / resistance);
    r.resistor_power = of<Power>(v * v / resistance / si(in.resistor_count));
    addStep(out.steps, "n", "crossings in a second", "2·{f}", {{"f", f}}, r.pulses_per_second, "definition");
    addStep(out.steps, "T/2", "half a period", "1/(2·{f})", {{"f", f}}, r.half_period, "definition");
    addStep(out.steps, "Ip", "peak in the LED", "(√2·{V} − {Vd})/{R}", {{"V", v}, {"Vd", in.led_drop}, {"R", resistance}},
            r.led_peak_current, "ohm");
    addStep(out.steps, "P", "heat in each resistor", "{V}²/{R}/{n}", {{"V", v}, {"R", resistance}, {"n", in.resistor_count}},
            r.resistor_power, "ohm");
    const double threshold = si(in.led_drop) + si(in.threshold_current) * resistance, peak = std::sqrt(2.0) * v;
    if (threshold < peak) {
        r.early = of<Duration>(std::asin(threshold / peak) / (2.0 * pi * f));
        addStep(out.steps, "te", "its edge comes before the crossing by", "asin(({d} + {i}·{R})/(√2·{V}))/2π{f}",
                {{"d", in.led_drop},
                 {"i", in.threshold_current},
                 {"R", in.series_resistance},
                 {"V", in.mains_voltage},
                 {"f", in.mains_frequency}},
                *r.early, "ohm");
    }
    out.findings.push_back(mainsPresent());
    return out;
}

FormPtr zeroCrossForm() {
    using I = ZeroCross;
    using R = ZeroCrossResult;
    auto form =
        std::make_shared<FormOf<I, R>>("zero-cross", "drive", "sensing the mains' zero crossing through resistors", "ohm", &zeroCross);
    form->rule("pulses = 2·f; led_peak = (√2·V − drop)/R; resistor_power = V²/R/count")
        .in("mains_voltage", &I::mains_voltage, nullptr, "rms")
        .in("mains_frequency", &I::mains_frequency, nullptr, "of the mains")
        .in("series_resistance", &I::series_resistance, nullptr, "in all")
        .in("resistor_count", &I::resistor_count, "2", "that share it")
        .in("led_drop", &I::led_drop, "1.2", "of the opto-coupler")
        .in("threshold_current", &I::threshold_current, "1mA", "in the LED, at which the coupler switches")
        .out("pulses_per_second", &R::pulses_per_second, "crossings")
        .out("half_period", &R::half_period, "between them")
        .out("led_peak_current", &R::led_peak_current, "in the opto-coupler")
        .out("resistor_power", &R::resistor_power, "in each resistor")
        .out("early", &R::early, "its edge, before the crossing");
    return form;
}

int cyclesTogether(Frequency mains) {
    for (int cycles = 1; cycles < 12; ++cycles)
        if (const double ticks = 1000.0 * cycles / si(mains); std::abs(ticks - std::round(ticks)) < 1e-6) return cycles;
    return 1;
}

Result<Worked<WholeCyclesResult>> wholeCycles(const WholeCycles& in) {
    const auto all = static_cast<int>(si(in.cycles));
    if (all > 1000) return fail(ErrorCode::OutOfRange, "cycles", exactNumber(si(in.cycles)), "1 to 1000");
    Worked<WholeCyclesResult> out;
    auto& r = out.result;
    const auto on = static_cast<int>(std::lround(si(in.power_fraction) * all));
    r.on_cycles = of<Count>(on);
    r.actual = of<Fraction>(static_cast<double>(on) / all);
    r.window = of<Duration>(all / si(in.mains_frequency));
    for (int k = 0; k < all; ++k) r.pattern += (k + 1) * on / all > k * on / all ? '1' : '0';
    addStep(out.steps, "n", "cycles on, of the pattern", "round({p}·{N})", {{"p", in.power_fraction}, {"N", in.cycles}}, r.on_cycles,
            "definition");
    addStep(out.steps, "p", "power that comes out", "{n}/{N}", {{"n", r.on_cycles}, {"N", in.cycles}}, r.actual, "definition");
    addStep(out.steps, "T", "the pattern lasts", "{N}/{f}", {{"N", in.cycles}, {"f", in.mains_frequency}}, r.window, "definition");
    out.findings.push_back(mainsPresent());
    return out;
}

FormPtr wholeCyclesForm() {
    using I = WholeCycles;
    using R = WholeCyclesResult;
    auto form = std::make_shared<FormOf<I, R>>("whole-cycles", "pulse", "power by whole mains cycles, for zero-crossing relays",
                                               "definition", &wholeCycles);
    form->rule("on_cycles = round(power_fraction·cycles), spread evenly")
        .in("power_fraction", &I::power_fraction, nullptr, "of full power")
        .zeroOk()
        .in("mains_frequency", &I::mains_frequency, nullptr, "50 or 60 Hz")
        .in("cycles", &I::cycles, "50", "of the pattern")
        .out("on_cycles", &R::on_cycles, "of them")
        .out("actual", &R::actual, "share of full power")
        .out("window", &R::window, "of the pattern")
        .out("pattern", &R::pattern, "cycle by cycle");
    return form;
}

Result<Worked<PhaseAngleResult>> phaseAngle(const PhaseAngle& in) {
    if (!in.power_fraction && !in.delay)
        return fail(ErrorCode::Missing, "power_fraction / delay", "", "give exactly one of power_fraction / delay");
    Worked<PhaseAngleResult> out;
    auto& r = out.result;
    const double f = si(in.mains_frequency);
    double angle = 0.0;
    if (in.delay) {
        if (si(*in.delay) > 0.5 / f * (1 + 1e-12))
            return fail(ErrorCode::OutOfRange, "delay", displayPlain(*in.delay),
                        "at most half a period, " + display(Kind::Duration, 0.5 / f));
        angle = std::min(pi, 2.0 * pi * f * si(*in.delay));
        r.power_fraction = of<Fraction>(std::max(0.0, powerAt(angle)));
    } else {
        // The power only falls with the angle.
        const double wanted = si(*in.power_fraction);
        angle = wanted >= 1.0 ? 0.0 : wanted <= 0.0 ? pi : crossing([&](double a) { return powerAt(a) - wanted; }, 0.0, pi);
        r.power_fraction = *in.power_fraction;
    }
    r.firing_angle = of<Angle>(angle);
    r.delay = of<Duration>(angle / (2.0 * pi * f));
    r.rms_fraction = of<Fraction>(std::sqrt(si(r.power_fraction)));
    addStep(out.steps, "α", "firing angle", in.delay ? "2·π·{f}·{t}" : "1 − α/π + sin 2α/(2·π) = {p}, for α",
            {{"f", f}, {"t", r.delay}, {"p", r.power_fraction}}, r.firing_angle, "derived: mean square of a sine from α to π");
    addStep(out.steps, "t", "delay after the crossing", "{α}/(2·π·{f})", {{"α", angle}, {"f", f}}, r.delay, "definition");
    addStep(out.steps, "p", "share of full power, resistive load", "1 − {α}/π + sin(2·{α})/(2·π)", {{"α", angle}}, r.power_fraction,
            "derived: mean square of a sine from α to π");
    addStep(out.steps, "u", "share of the rms volts", "√{p}", {{"p", r.power_fraction}}, r.rms_fraction, "definition");
    out.findings.push_back(mainsPresent());
    return out;
}

FormPtr phaseAngleForm() {
    using I = PhaseAngle;
    using R = PhaseAngleResult;
    auto form = std::make_shared<FormOf<I, R>>("phase-angle", "drive", "firing delay and power of phase control",
                                               "derived: mean square of a sine from α to π", &phaseAngle);
    form->rule("power = 1 − α/π + sin 2α/(2π); delay = α/(2πf); rms = √power")
        .in("mains_frequency", &I::mains_frequency, nullptr, "of the mains")
        .in("power_fraction", &I::power_fraction, nullptr, "of full power, resistive load")
        .zeroOk()
        .in("delay", &I::delay, nullptr, "after the crossing")
        .zeroOk()
        .oneOf({{"power_fraction"}, {"delay"}})
        .out("power_fraction", &R::power_fraction, "of full power")
        .out("delay", &R::delay, "after the crossing")
        .out("firing_angle", &R::firing_angle, "of a half wave of π")
        .out("rms_fraction", &R::rms_fraction, "of the rms volts");
    return form;
}

Result<Worked<LedResistorResult>> ledResistor(const LedResistor& in) {
    const double over = si(in.supply) - si(in.led_drop);
    if (over <= 0.0) return fail(ErrorCode::OutOfRange, "supply", displayPlain(in.supply), "above led_drop, " + displayPlain(in.led_drop));
    Worked<LedResistorResult> out;
    auto& r = out.result;
    r.resistance = of<Resistance>(over / si(in.current));
    r.standard = of<Resistance>(preferred(si(r.resistance), in.series, Round::Up));
    const double there = in.fitted ? si(*in.fitted) : si(r.standard);
    r.power = of<Power>(over * over / there);
    r.real_current = of<Current>(over / there);
    addStep(out.steps, "R", "resistor", "({V} − {Vd})/{I}", {{"V", in.supply}, {"Vd", in.led_drop}, {"I", in.current}}, r.resistance,
            "ohm");
    addStep(out.steps, "Rs", "next higher of the series", "{R} rounded up", {{"R", r.resistance}}, r.standard, "iec-60063");
    addStep(out.steps, "Il", "current with it", "({V} − {Vd})/{Rs}", {{"V", in.supply}, {"Vd", in.led_drop}, {"Rs", of<Resistance>(there)}},
            r.real_current, "ohm");
    addStep(out.steps, "P", "heat in it", "({V} − {Vd})²/{Rs}", {{"V", in.supply}, {"Vd", in.led_drop}, {"Rs", of<Resistance>(there)}},
            r.power, "ohm");
    if (si(r.real_current) > si(in.current) * (1 + 1e-9))
        out.findings.push_back(
            {"led-overcurrent", Severity::Stop,
             fmt::format("With {} the LED takes {}; {} were asked. Take {} or more.", displayPlain(Kind::Resistance, there),
                         display(r.real_current), display(in.current), displayPlain(r.standard))});
    // Half of the rating in free air: common practice, no published source.
    if (in.rating && si(r.power) > si(*in.rating) * (1 + 1e-9))
        out.findings.push_back({"resistor-hot", Severity::Stop,
                                fmt::format("The resistor turns {} into heat and is made for {}.", display(r.power), display(*in.rating))});
    else if (in.rating && si(r.power) > 0.5 * si(*in.rating) * (1 + 1e-9))
        out.findings.push_back({"resistor-hot", Severity::Warn,
                                fmt::format("The resistor turns {} into heat, more than half of its {}: it gets too hot to touch.",
                                            display(r.power), display(*in.rating))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr ledResistorForm() {
    using I = LedResistor;
    using R = LedResistorResult;
    auto form = std::make_shared<FormOf<I, R>>("led-resistor", "drive", "the resistor in front of an LED", "ohm; iec-60063", &ledResistor);
    form->rule("R = (supply − drop)/current, next higher; power = (supply − drop)²/standard")
        .in("supply", &I::supply, nullptr, "across LED and resistor")
        .in("led_drop", &I::led_drop, nullptr, "of the LED")
        .in("current", &I::current, nullptr, "through the LED")
        .in("series", &I::series, "E12", "of preferred values")
        .in("fitted", &I::fitted, nullptr, "resistor that is there")
        .otherwise("the one proposed")
        .in("rating", &I::rating, nullptr, "of the resistor, such as 0.25 W")
        .otherwise("unknown")
        .out("resistance", &R::resistance, "exact")
        .out("standard", &R::standard, "next higher preferred value")
        .out("power", &R::power, "in the one that is there")
        .out("real_current", &R::real_current, "through the LED with it");
    return form;
}

}  // namespace hinge::driver
