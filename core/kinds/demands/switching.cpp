// A load that is only switched.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "kinds/demands/asking.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::switching {
namespace {

using namespace project;
using namespace asking;

const SwitchDemand& get(const Demand& demand) {
    return std::get<SwitchDemand>(demand);
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    if (need(ask, d.power, "power")) ask.power = d.power;
}
Telling need(const Demand& demand, const Ask& ask) {
    Telling telling;
    if (ask.power) telling.figure = display(*ask.power, 2);
    telling.small = std::string{labelOf(get(demand).load)} + " load";
    return telling;
}
Telling match(const Demand& /*demand*/, const Ask& /*ask*/, const Pairing& pairing) {
    Telling telling;
    if (pairing.motor) telling.figure = display(*pairing.motor, 2);
    telling.small = pairing.driver_name.substr(0, pairing.driver_name.find(" ·"));
    telling.shares = false;
    return telling;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Switch,
    .ask = &asks,
    .decides = always<Kind::Power>,
    .shaft = NotForThis{"nothing of it turns a shaft"},
    .mains = &mainsOf<SwitchDemand>,
    .need = &need,
    .match = &match,
    .ways = NotForThis{"a load is what it is"},
};
}  // namespace demands::switching
}  // namespace hinge::kinds
