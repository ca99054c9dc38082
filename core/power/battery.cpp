#include "power/battery.hpp"

namespace hinge::power {

CellVolts cellVolts(Chemistry chemistry) {
    switch (chemistry) {
        case Chemistry::LiIon: return {4.2, 3.6, 3.0};
        case Chemistry::LiFePo4: return {3.6, 3.2, 2.5};
        case Chemistry::NiMh: return {1.4, 1.2, 1.0};
        case Chemistry::Alkaline: return {1.6, 1.2, 0.9};
        case Chemistry::LeadAcid: return {2.12, 2.0, 1.75};
    }
    return {};
}

Result<Worked<BatteryRuntimeResult>> batteryRuntime(const BatteryRuntime& in) {
    Worked<BatteryRuntimeResult> out;
    auto& r = out.result;
    const auto cell = cellVolts(in.chemistry);
    const double series = si(in.series), parallel = si(in.parallel), average = si(in.average_current),
                 peak = si(in.peak_current.value_or(in.average_current));
    const std::string practice = "common practice, no published source";
    r.voltage_full = of<Voltage>(cell.full * series);
    r.voltage_nominal = of<Voltage>(cell.nominal * series);
    r.voltage_empty = of<Voltage>(cell.empty * series);
    r.runtime = of<Duration>(si(in.capacity) * parallel * si(in.usable_fraction) / average);
    r.sag = of<Voltage>(peak * si(in.cell_resistance) * series / parallel);
    r.discharge_rate = of<Ratio>(peak / (parallel * si(in.capacity) / 3600.0));
    addStep(out.steps, "Vf", "full", "{n}·{v}", {{"n", series}, {"v", cell.full}}, r.voltage_full, practice);
    addStep(out.steps, "Ve", "empty", "{n}·{v}", {{"n", series}, {"v", cell.empty}}, r.voltage_empty, practice);
    addStep(out.steps, "t", "runtime", "{C}·{p}·{u}/{I}", {{"C", in.capacity}, {"p", parallel}, {"u", in.usable_fraction}, {"I", average}},
            r.runtime, "definition");
    addStep(out.steps, "ΔV", "sag at the peak", "{Ip}·{R}·{n}/{p}",
            {{"Ip", peak}, {"R", in.cell_resistance}, {"n", series}, {"p", parallel}}, r.sag, "ohm");
    addStep(out.steps, "c", "discharge rate in 1/h", "{Ip}/({p}·{C})", {{"Ip", peak}, {"p", parallel}, {"C", si(in.capacity) / 3600.0}},
            r.discharge_rate, "definition");
    if (in.daily_on_time) {
        r.days_between_charges = of<Duration>(si(r.runtime) / si(*in.daily_on_time) * 86400.0);
        addStep(out.steps, "d", "days between charges", "{t}/{td}", {{"t", r.runtime}, {"td", *in.daily_on_time}}, *r.days_between_charges,
                "definition");
    }
    if (in.chemistry == Chemistry::LiIon || in.chemistry == Chemistry::LiFePo4)
        out.findings.push_back({"lithium-present", Severity::Note,
                                "Lithium cells: a protection board, a fuse, the right charger, and never charging without someone near."});
    return out;
}

FormPtr batteryRuntimeForm() {
    using I = BatteryRuntime;
    using R = BatteryRuntimeResult;
    auto form = std::make_shared<FormOf<I, R>>("battery-runtime", "feed", "how long cells last, and how far they sag",
                                               "common practice, no published source", &batteryRuntime);
    form->rule(
            "runtime = capacity·parallel·usable/average; sag = peak·R·series/parallel; rate = peak/(parallel·capacity); days = "
            "runtime/daily_on_time")
        .in("chemistry", &I::chemistry, nullptr, "of the cells")
        .in("series", &I::series, nullptr, "cells in series")
        .in("parallel", &I::parallel, "1", "strings in parallel")
        .in("capacity", &I::capacity, nullptr, "of one cell")
        .bare("Ah")
        .in("average_current", &I::average_current, nullptr, "drawn")
        .in("peak_current", &I::peak_current, nullptr, "drawn")
        .otherwise("average_current")
        .in("cell_resistance", &I::cell_resistance, "0", "of one cell")
        .in("usable_fraction", &I::usable_fraction, "0.8", "of the capacity")
        .in("daily_on_time", &I::daily_on_time, nullptr, "in a day")
        .otherwise("unknown")
        .out("voltage_full", &R::voltage_full, "charged")
        .out("voltage_nominal", &R::voltage_nominal, "usual")
        .out("voltage_empty", &R::voltage_empty, "discharged")
        .out("runtime", &R::runtime, "to the usable share")
        .out("sag", &R::sag, "at the peak")
        .out("discharge_rate", &R::discharge_rate, "peak over capacity", "1/h")
        .out("days_between_charges", &R::days_between_charges, "at that daily time", "d")
        .resolve([](I& given) {
            if (!given.peak_current) given.peak_current = given.average_current;
        });
    return form;
}

}  // namespace hinge::power
