// Water that is lifted.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "kinds/demands/asking.hpp"
#include "kinds/system_curve.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::pump {
namespace {

using namespace project;
using namespace asking;

const PumpDemand& get(const Demand& demand) {
    return std::get<PumpDemand>(demand);
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    const bool dose = all({need(ask, d.volume, "volume"), need(ask, d.run_time_limit, "run_time_limit")});
    const bool way = all({need(ask, d.lift, "lift"), need(ask, d.tube_length, "tube_length"), need(ask, d.tube_diameter, "tube_diameter")});
    if (!dose) return;
    const double flow = si(*d.volume) / si(*d.run_time_limit);
    ask.flow = of<VolumeFlow>(flow);
    Steps steps;
    addStep(steps, "Q", "flow asked for", "{V}/{t}", {{"V", *d.volume}, {"t", *d.run_time_limit}}, *ask.flow, "derived: Q = V/t");
    show(ask, "flow asked for", steps);
    if (!way) return;
    const auto worked = demand::pumpHead(*headInputs(d, flow));
    if (worked) {
        ask.head = worked->result.total_head;
        show(ask, "head at that flow", *worked);
    } else {
        ask.findings.push_back({"demand-refused", Severity::Stop, sentence(worked.error())});
    }
}
Telling need(const Demand& demand, const Ask& ask) {
    Telling telling;
    if (ask.flow) telling.figure = display(*ask.flow, 2) + about(ask);
    if (const auto& lift = get(demand).lift) telling.small = displayPlain(*lift) + " lift";
    return telling;
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.run_time_limit)
        list.push_back({"run_time_limit", {1.1, 1.25, 1.5, 2.0, 3.0, 5.0}, [most = si(*d.run_time_limit)](double f) {
                            return fmt::format("with {} for a dose", display(Kind::Duration, most * f));
                        }});
    if (d.lift)
        list.push_back({"lift", {0.9, 0.8, 0.7, 0.5, 0.3}, [lift = si(*d.lift)](double f) {
                            return fmt::format("with a lift of {}", display(Kind::Length, lift * f));
                        }});
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Pump,
    .measured = {"cup_volume", "cup_time"},
    .ask = &asks,
    .decides = always<Kind::Length>,
    .shaft = NotForThis{"nothing of it turns a shaft"},
    .mains = NotForThis{"what moves hangs on a rail"},
    .need = &need,
    .match = &stream,
    .ways = &ways,
};
}  // namespace demands::pump
}  // namespace hinge::kinds
