#include "power/thermal.hpp"
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::power {
namespace {

constexpr const char* heating = "derived: first-order heating, periodic solution";

}  // namespace

Result<Worked<ThermalDutyResult>> thermalDuty(const ThermalDuty& in) {
    Worked<ThermalDutyResult> out;
    auto& r = out.result;
    const double p = si(in.power), theta = si(in.theta), tau = si(in.time_constant), on = si(in.on_time), off = si(in.off_time),
                 duty = on / (on + off);
    double air = si(in.ambient);
    if (in.box) {
        air += (p * duty + si(in.box_power)) / si(*in.box);
        addStep(out.steps, "Ta", "air in the box", "{T} + ({P}·{d} + {Q})/{G}",
                {{"T", in.ambient}, {"P", in.power}, {"d", duty}, {"Q", in.box_power}, {"G", *in.box}}, of<Temperature>(air),
                "heat-in-air");
    }
    const double rise = p * theta * -std::expm1(-on / tau) / -std::expm1(-(on + off) / tau);
    r.air = of<Temperature>(air);
    r.peak = of<Temperature>(air + rise);
    r.mean = of<Temperature>(air + p * theta * duty);
    r.steady = of<Temperature>(air + p * theta);
    addStep(out.steps, "Ts", "if it stayed on", "{T} + {P}·{θ}", {{"T", r.air}, {"P", in.power}, {"θ", in.theta}}, r.steady, heating);
    addStep(out.steps, "Tp", "at the end of each time on", "{T} + {P}·{θ}·(1 − e^(−{on}/{τ}))/(1 − e^(−({on} + {off})/{τ}))",
            {{"T", r.air}, {"P", in.power}, {"θ", in.theta}, {"on", in.on_time}, {"off", in.off_time}, {"τ", in.time_constant}}, r.peak,
            heating);
    addStep(out.steps, "Tm", "on average", "{T} + {P}·{θ}·{d}", {{"T", r.air}, {"P", in.power}, {"θ", in.theta}, {"d", duty}}, r.mean,
            heating);
    if (in.limit) {
        if (si(*in.limit) <= air)
            return fail(ErrorCode::OutOfRange, "limit", displayPlain(*in.limit), "above the air around it, " + displayPlain(r.air));
        const double share = (si(*in.limit) - air) / (p * theta);
        if (share < 1.0) {
            r.longest_on = of<Duration>(-tau * std::log1p(-share));
            addStep(out.steps, "tl", "from cold to its limit", "−{τ}·ln(1 − ({L} − {T})/({P}·{θ}))",
                    {{"τ", in.time_constant}, {"L", *in.limit}, {"T", r.air}, {"P", in.power}, {"θ", in.theta}}, *r.longest_on, heating);
        }
        if (si(r.peak) > si(*in.limit))
            out.findings.push_back(
                {"hot-part", Severity::Stop, "It gets hotter than it may: shorter times on, longer pauses, a heat sink, or less current."});
        else if (si(r.peak) > si(*in.limit) - 15.0)
            out.findings.push_back(
                {"hot-part", Severity::Warn, "It comes within 15 K of its limit; a closed box or a warm day takes that."});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr thermalDutyForm() {
    using I = ThermalDuty;
    using R = ThermalDutyResult;
    auto form =
        std::make_shared<FormOf<I, R>>("thermal-duty", "feed", "heat over time on and off, with one time constant", heating, &thermalDuty);
    form->rule("peak = air + P·θ·(1 − e^(−on/τ))/(1 − e^(−(on+off)/τ)); air in a box = ambient + mean heat/conductance")
        .in("power", &I::power, nullptr, "while on")
        .in("theta", &I::theta, nullptr, "to the air around it")
        .in("time_constant", &I::time_constant, nullptr, "63 % of the rise")
        .in("on_time", &I::on_time, nullptr, "each time")
        .in("off_time", &I::off_time, "0", "between")
        .in("ambient", &I::ambient, "25 degC", "of the room")
        .in("box", &I::box, nullptr, "conductance of a closed box")
        .otherwise("open air")
        .in("box_power", &I::box_power, "0", "of all else in the box")
        .in("limit", &I::limit, nullptr, "it may reach")
        .otherwise("not judged")
        .out("peak", &R::peak, "at the end of each time on")
        .out("mean", &R::mean, "on average")
        .out("steady", &R::steady, "if it stayed on")
        .out("air", &R::air, "around it")
        .out("longest_on", &R::longest_on, "from cold to its limit");
    return form;
}

Result<Worked<ThermalMeasuredResult>> thermalMeasured(const ThermalMeasured& in) {
    const double full = si(in.settled) - si(in.ambient), part = si(in.temperature) - si(in.ambient);
    if (full <= 0.0)
        return fail(ErrorCode::OutOfRange, "settled", displayPlain(in.settled), "above the air around it, " + displayPlain(in.ambient));
    if (part <= 0.0 || part >= full)
        return fail(ErrorCode::OutOfRange, "temperature", displayPlain(in.temperature),
                    "between " + displayPlain(in.ambient) + " and " + displayPlain(in.settled));
    Worked<ThermalMeasuredResult> out;
    out.result.theta = of<ThermalResistance>(full / si(in.power));
    out.result.time_constant = of<Duration>(-si(in.time) / std::log1p(-part / full));
    addStep(out.steps, "θ", "heat path", "({Te} − {T})/{P}", {{"Te", in.settled}, {"T", in.ambient}, {"P", in.power}}, out.result.theta,
            "derived: first-order heating from cold");
    addStep(out.steps, "τ", "time constant", "−{t}/ln(1 − ({Tt} − {T})/({Te} − {T}))",
            {{"t", in.time}, {"Tt", in.temperature}, {"T", in.ambient}, {"Te", in.settled}}, out.result.time_constant,
            "derived: first-order heating from cold");
    return out;
}

FormPtr thermalMeasuredForm() {
    using I = ThermalMeasured;
    using R = ThermalMeasuredResult;
    auto form = std::make_shared<FormOf<I, R>>("thermal-measured", "feed", "heat path and time constant from one warm-up",
                                               "derived: first-order heating from cold", &thermalMeasured);
    form->rule("θ = (settled − ambient)/P; τ = −t/ln(1 − (reading − ambient)/(settled − ambient))")
        .in("power", &I::power, nullptr, "while on")
        .in("ambient", &I::ambient, "25 degC", "of the air")
        .in("time", &I::time, nullptr, "from cold to the reading")
        .in("temperature", &I::temperature, nullptr, "then")
        .in("settled", &I::settled, nullptr, "in the end")
        .out("theta", &R::theta, "heat path")
        .out("time_constant", &R::time_constant, "63 % of the rise");
    return form;
}

Result<Worked<MeterBurdenResult>> meterBurden(const MeterBurden& in) {
    if (!in.series && !in.parallel) return fail(ErrorCode::Missing, "series / parallel", "", "give exactly one of series / parallel");
    Worked<MeterBurdenResult> out;
    auto& r = out.result;
    const double v = si(in.supply), rs = si(in.source_resistance), rl = si(in.load);
    const double before = v / (rs + rl);
    r.current_before = of<Current>(before);
    r.voltage_before = of<Voltage>(before * rl);
    addStep(out.steps, "I₀", "without the meter", "{V}/({Rs} + {R})", {{"V", in.supply}, {"Rs", in.source_resistance}, {"R", in.load}},
            r.current_before, "ohm");
    double with = 0.0;
    if (in.series) {
        with = v / (rs + si(*in.series) + rl);
        addStep(out.steps, "I", "with it in the way", "{V}/({Rs} + {Rm} + {R})",
                {{"V", in.supply}, {"Rs", in.source_resistance}, {"Rm", *in.series}, {"R", in.load}}, of<Current>(with), "ohm");
    } else {
        const double rm = si(*in.parallel), both = rl * rm / (rl + rm);
        const double volts = v * both / (rs + both);
        with = volts / rl;
        r.bypass = of<Current>(volts / rm);
        addStep(out.steps, "I", "with it across", "{V}·(R∥Rm)/({Rs} + R∥Rm)/{R}",
                {{"V", in.supply}, {"Rs", in.source_resistance}, {"R", in.load}}, of<Current>(with), "ohm");
        addStep(out.steps, "Im", "that goes past the load", "U/{Rm}", {{"Rm", *in.parallel}}, r.bypass, "ohm");
    }
    r.current_with = of<Current>(with);
    r.voltage_with = of<Voltage>(with * rl);
    r.error = of<Fraction>(with / before - 1.0);
    addStep(out.steps, "e", "it changes what it measures by", "{I}/{I₀} − 1", {{"I", r.current_with}, {"I₀", r.current_before}}, r.error,
            "definition");
    if (std::abs(si(r.error)) > 0.05)
        out.findings.push_back({"meter-burden", Severity::Warn,
                                "The meter changes what it measures by more than a twentieth: a smaller shunt, shorter leads, or a meter "
                                "of higher resistance."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr meterBurdenForm() {
    using I = MeterBurden;
    using R = MeterBurdenResult;
    auto form = std::make_shared<FormOf<I, R>>("meter-burden", "feed", "what a meter or an indicator does to what it measures", "ohm",
                                               &meterBurden);
    form->rule("series: I = V/(Rs + Rm + R); parallel: U = V·(R∥Rm)/(Rs + R∥Rm)")
        .in("supply", &I::supply, nullptr, "without load")
        .in("source_resistance", &I::source_resistance, "0", "of what feeds")
        .in("load", &I::load, nullptr, "what is measured")
        .in("series", &I::series, nullptr, "an ammeter's shunt and leads, or a sense resistor")
        .in("parallel", &I::parallel, nullptr, "a voltmeter, or an LED with its resistor across a switch")
        .oneOf({{"series"}, {"parallel"}})
        .out("voltage_before", &R::voltage_before, "at the load, without it")
        .out("voltage_with", &R::voltage_with, "with it")
        .out("current_before", &R::current_before, "without it")
        .out("current_with", &R::current_with, "with it")
        .out("bypass", &R::bypass, "past the load")
        .out("error", &R::error, "of the load's current");
    return form;
}

}  // namespace hinge::power
