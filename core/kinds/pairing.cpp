#include "kinds/pairing.hpp"
#include <algorithm>

namespace hinge::kinds {

using project::Feeding;
using project::HeatDemand;
using project::SwitchDemand;

bool onMains(const project::Demand& demand) {
    if (const auto* s = std::get_if<SwitchDemand>(&demand)) return s->feeding == Feeding::Mains;
    if (const auto* h = std::get_if<HeatDemand>(&demand)) return h->feeding == Feeding::Mains;
    return false;
}

double supplyOf(const Context& c, const RailOption& rail) {
    if (!onMains(c.demand)) return rail.volts ? si(*rail.volts) : unknown;
    if (const auto* s = std::get_if<SwitchDemand>(&c.demand)) return si(s->mains_voltage);
    return si(std::get<HeatDemand>(c.demand).mains_voltage);
}

bool turnsShaft(const Context& c) {
    const auto* press = std::get_if<project::PressDemand>(&c.demand);
    return std::holds_alternative<project::TurnDemand>(c.demand) || std::holds_alternative<project::MoveDemand>(c.demand) ||
           (press != nullptr && press->way == project::PressWay::Horn);
}

double heatingShare(const project::Work& work) {
    if (!work.on_for || !work.every || si(*work.every) > 60.0) return 1.0;
    return std::min(1.0, si(*work.on_for) / si(*work.every));
}

Verdict Numbers::verdict() const {
    Verdict result = incomplete ? Verdict::Unknown : Verdict::Holds;
    for (int i = 0; i < hit_count; ++i) {
        const auto severity = hits[static_cast<std::size_t>(i)].severity;
        result = worse(result, severity == Severity::Stop ? Verdict::Breaks : severity == Severity::Warn ? Verdict::Tight : Verdict::Holds);
    }
    return result;
}

}  // namespace hinge::kinds
