// Something that is warmed or cooled.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "demand/air_and_heat.hpp"
#include "kinds/demands/asking.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::heat {
namespace {

using namespace project;
using namespace asking;

const HeatDemand& get(const Demand& demand) {
    return std::get<HeatDemand>(demand);
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    if (!(all({need(ask, d.mass, "mass"), need(ask, d.temperature_rise, "temperature_rise"), need(ask, d.warm_up_time, "warm_up_time"),
               need(ask, d.loss_conductance, "loss_conductance")})))
        return;
    demand::HeatNeed in;
    in.mass = *d.mass;
    in.specific_heat = d.specific_heat;
    in.temperature_rise = *d.temperature_rise;
    in.warm_up_time = *d.warm_up_time;
    in.loss_conductance = *d.loss_conductance;
    const auto worked = demand::heatNeed(in);
    if (!worked) return;
    show(ask,
         d.way == HeatWay::Warm   ? "heat to warm and to hold"
         : d.way == HeatWay::Cool ? "heat to take away"
                                  : "heat to bring in or to take away",
         *worked);
    ask.both_ways = d.way == HeatWay::Both;
    ask.power = worked->result.power;
    ask.difference = *d.temperature_rise;
}
Telling need(const Demand& /*demand*/, const Ask& ask) {
    Telling telling;
    if (ask.power) telling.figure = display(*ask.power, 2) + about(ask);
    if (ask.difference) telling.small = "by " + displayPlain(*ask.difference);
    return telling;
}
Telling match(const Demand& /*demand*/, const Ask& ask, const Pairing& pairing) {
    return share(Kind::Power, ask.power ? si(*ask.power) : 0.0, ask, pairing.numbers);
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.warm_up_time)
        list.push_back({"warm_up_time", {1.25, 1.5, 2.0, 3.0, 5.0}, [time = si(*d.warm_up_time)](double f) {
                            return fmt::format("with {} to get there", display(Kind::Duration, time * f));
                        }});
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Heat,
    .ask = &asks,
    .decides = always<Kind::Power>,
    .shaft = NotForThis{"nothing of it turns a shaft"},
    .mains = &mainsOf<HeatDemand>,
    .need = &need,
    .match = &match,
    .ways = &ways,
};
}  // namespace demands::heat
}  // namespace hinge::kinds
