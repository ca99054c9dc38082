#include "demand/air_and_heat.hpp"
#include "quantity/constants.hpp"

namespace hinge::demand {

Result<Worked<AirflowNeedResult>> airflowNeed(const AirflowNeed& in) {
    Worked<AirflowNeedResult> out;
    auto& flow = out.result.flow;
    if (in.heat && in.temperature_rise) {
        flow = of<VolumeFlow>(si(*in.heat) / (constants::air_density * constants::air_heat * si(*in.temperature_rise)));
        addStep(out.steps, "Q", "air that carries the heat", "{P}/({ρ}·{c}·{ΔT})",
                {{"P", *in.heat}, {"ρ", constants::air_density}, {"c", constants::air_heat}, {"ΔT", *in.temperature_rise}}, flow,
                "heat-in-air");
    } else if (in.volume && in.changes_per_hour) {
        flow = of<VolumeFlow>(si(*in.volume) * si(*in.changes_per_hour) / 3600.0);
        addStep(out.steps, "Q", "air that changes the room", "{V}·{n}/3600", {{"V", *in.volume}, {"n", *in.changes_per_hour}}, flow,
                "definition");
    } else if (in.area && in.face_velocity) {
        flow = of<VolumeFlow>(si(*in.area) * si(*in.face_velocity));
        addStep(out.steps, "Q", "air through the opening", "{A}·{v}", {{"A", *in.area}, {"v", *in.face_velocity}}, flow, "continuity");
    } else {
        return fail(ErrorCode::Missing, "heat+temperature_rise / volume+changes_per_hour / area+face_velocity", "",
                    "give exactly one of these pairs");
    }
    return out;
}

FormPtr airflowNeedForm() {
    using I = AirflowNeed;
    auto form = std::make_shared<FormOf<I, AirflowNeedResult>>("airflow-need", "need", "air to cool a box, change a room or draw a hood",
                                                               "heat-in-air", &airflowNeed);
    form->rule("heat: P/(ρ·c·ΔT); room: V·n/3600; opening: A·v")
        .in("heat", &I::heat, nullptr, "to carry away")
        .in("temperature_rise", &I::temperature_rise, nullptr, "of the air on its way")
        .in("volume", &I::volume, nullptr, "of the room")
        .in("changes_per_hour", &I::changes_per_hour, nullptr, "of its air")
        .in("area", &I::area, nullptr, "of the opening")
        .in("face_velocity", &I::face_velocity, nullptr, "through it")
        .oneOf({{"heat", "temperature_rise"}, {"volume", "changes_per_hour"}, {"area", "face_velocity"}})
        .out("flow", &AirflowNeedResult::flow, "of air");
    return form;
}

Result<Worked<HeatNeedResult>> heatNeed(const HeatNeed& in) {
    Worked<HeatNeedResult> out;
    auto& r = out.result;
    const double difference = si(in.ambient_difference.value_or(in.temperature_rise));
    r.holding_power = of<Power>(si(in.loss_conductance) * difference);
    r.power = of<Power>(si(in.mass) * si(in.specific_heat) * si(in.temperature_rise) / si(in.warm_up_time) + si(r.holding_power));
    addStep(out.steps, "Ph", "to hold it there", "{G}·{Δ}", {{"G", in.loss_conductance}, {"Δ", difference}}, r.holding_power,
            "calorimetry");
    addStep(out.steps, "P", "to warm it up in that time", "{m}·{c}·{ΔT}/{t} + {Ph}",
            {{"m", in.mass}, {"c", in.specific_heat}, {"ΔT", in.temperature_rise}, {"t", in.warm_up_time}, {"Ph", r.holding_power}},
            r.power, "calorimetry");
    return out;
}

FormPtr heatNeedForm() {
    using I = HeatNeed;
    using R = HeatNeedResult;
    auto form =
        std::make_shared<FormOf<I, R>>("heat-need", "need", "power to warm something up and hold it warm", "calorimetry", &heatNeed);
    form->rule("power = m·c·ΔT/t + loss·difference; holding = loss·difference")
        .in("mass", &I::mass, nullptr, "to warm")
        .in("specific_heat", &I::specific_heat, "4186", "of it; water's unless said")
        .in("temperature_rise", &I::temperature_rise, nullptr, "wanted")
        .in("warm_up_time", &I::warm_up_time, nullptr, "allowed")
        .in("loss_conductance", &I::loss_conductance, "0", "heat lost per degree")
        .in("ambient_difference", &I::ambient_difference, nullptr, "to the air around it")
        .otherwise("temperature_rise")
        .out("power", &R::power, "while warming up")
        .out("holding_power", &R::holding_power, "to hold it")
        .resolve([](I& given) {
            if (!given.ambient_difference) given.ambient_difference = given.temperature_rise;
        });
    return form;
}

}  // namespace hinge::demand
