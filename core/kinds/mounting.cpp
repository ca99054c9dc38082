#include "kinds/mounting.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {

std::optional<double> inertiaOf(const project::Channel& channel, const Ask& ask) {
    if (const auto* turns = std::get_if<project::TurnDemand>(&channel.demand)) {
        if (turns->way == project::TurnWay::Disc && turns->mass && turns->diameter)
            return si(*turns->mass) * si(*turns->diameter) * si(*turns->diameter) / 8.0;
        if (turns->mass && turns->arm) return si(*turns->mass) * si(*turns->arm) * si(*turns->arm);
    }
    if (const auto* moves = std::get_if<project::MoveDemand>(&channel.demand); moves != nullptr && moves->mass && ask.travel_per_turn) {
        const double radius = si(*ask.travel_per_turn) / (2.0 * constants::pi);
        return si(*moves->mass) * radius * radius;
    }
    return std::nullopt;
}

double frictionOf(const project::Channel& channel, const Ask& ask) {
    if (const auto* turns = std::get_if<project::TurnDemand>(&channel.demand)) return turns->friction ? si(*turns->friction) : 0.0;
    return ask.torque ? si(*ask.torque) : 0.0;
}

}  // namespace hinge::kinds
