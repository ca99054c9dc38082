#include "kinds/pairing.hpp"
#include <algorithm>
#include "kinds/demand_kind.hpp"

namespace hinge::kinds {

bool onMains(const project::Demand& demand) {
    return demandKind(demand).mains(demand).has_value();
}

bool isDimmed(const project::Demand& demand) {
    const auto* load = std::get_if<project::SwitchDemand>(&demand);
    return load != nullptr && load->dimmed;
}

double supplyOf(const Context& c, const RailOption& rail) {
    if (const auto mains = demandKind(c.demand).mains(c.demand)) return si(mains->volts);
    return rail.volts ? si(*rail.volts) : unknown;
}

bool turnsShaft(const Context& c) {
    return demandKind(c.demand).shaft(c.demand);
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
