// Air that is moved.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "demand/air_and_heat.hpp"
#include "kinds/demands/asking.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::blow {
namespace {

using namespace project;
using namespace asking;

const BlowDemand& get(const Demand& demand) {
    return std::get<BlowDemand>(demand);
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    demand::AirflowNeed in;
    bool known = false;
    switch (d.way) {
        case BlowWay::Box:
            known = all({need(ask, d.heat, "heat"), need(ask, d.temperature_rise, "temperature_rise")});
            in.heat = d.heat;
            in.temperature_rise = d.temperature_rise;
            break;
        case BlowWay::Room:
            known = all({need(ask, d.volume, "volume"), need(ask, d.changes_per_hour, "changes_per_hour")});
            in.volume = d.volume;
            in.changes_per_hour = d.changes_per_hour;
            break;
        case BlowWay::Hood:
        case BlowWay::Filter:
            known = all({need(ask, d.area, "area"), need(ask, d.face_velocity, "face_velocity")});
            in.area = d.area;
            in.face_velocity = d.face_velocity;
            break;
    }
    need(ask, d.pressure, "pressure");
    if (!known) return;
    const auto worked = demand::airflowNeed(in);
    if (!worked) return;
    show(ask, "air asked for", *worked);
    ask.flow = worked->result.flow;
    ask.pressure = d.pressure;
}
Telling need(const Demand& /*demand*/, const Ask& ask) {
    Telling telling;
    if (ask.flow) telling.figure = display(*ask.flow, 2) + about(ask);
    if (ask.pressure) telling.small = "against " + display(*ask.pressure, 2);
    return telling;
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.pressure)
        list.push_back({"pressure", {0.7, 0.5, 0.3, 0.1}, [pressure = si(*d.pressure)](double f) {
                            return fmt::format("where the air's way takes {}", display(Kind::Pressure, pressure * f));
                        }});
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Blow,
    .ask = &asks,
    .decides = always<Kind::VolumeFlow>,
    .shaft = NotForThis{"nothing of it turns a shaft"},
    .mains = &mainsOf<BlowDemand>,
    .need = &need,
    .match = &stream,
    .ways = &ways,
};
}  // namespace demands::blow
}  // namespace hinge::kinds
