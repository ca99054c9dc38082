#include "project/demand.hpp"
#include <initializer_list>
#include <string_view>

namespace hinge::project {
namespace {

bool among(std::string_view field, std::initializer_list<std::string_view> names) {
    for (const auto name : names)
        if (name == field) return true;
    return false;
}

bool fieldOf(const PumpDemand&, std::string_view) {
    return true;
}
bool fieldOf(const TurnDemand& d, std::string_view f) {
    if (among(f, {"mass"})) return d.way == TurnWay::Lever || d.way == TurnWay::Hinge || d.way == TurnWay::Disc;
    if (among(f, {"arm", "worst_angle"})) return d.way == TurnWay::Lever || d.way == TurnWay::Hinge;
    if (f == "diameter") return d.way == TurnWay::Disc;
    if (among(f, {"pull", "pull_arm"})) return d.way != TurnWay::Steer;
    if (f == "friction") return d.way != TurnWay::Steer;
    if (among(f, {"wheel_load", "contact_width", "kingpin_offset", "grip"})) return d.way == TurnWay::Steer;
    if (f == "turns") return d.way == TurnWay::Crank || d.way == TurnWay::Valve;
    if (f == "angle") return d.way != TurnWay::Crank && d.way != TurnWay::Valve;
    if (f == "speed") return d.way == TurnWay::Disc;
    return true;
}
bool fieldOf(const MoveDemand& d, std::string_view f) {
    if (among(f, {"pulley_teeth", "belt_pitch"})) return d.way == MoveWay::Belt || d.way == MoveWay::Rack;
    if (f == "diameter") return d.way == MoveWay::Rope || d.way == MoveWay::Wheels;
    if (among(f, {"lead", "screw_diameter", "efficiency"})) return d.way == MoveWay::Screw;
    if (among(f, {"rolling_coefficient", "driven_wheels"})) return d.way == MoveWay::Wheels;
    if (f == "friction_coefficient") return d.way != MoveWay::Wheels;
    return true;
}
bool fieldOf(const PressDemand& d, std::string_view f) {
    return f != "horn" || d.way == PressWay::Horn;
}
bool fieldOf(const BlowDemand& d, std::string_view f) {
    if (among(f, {"heat", "temperature_rise"})) return d.way == BlowWay::Box;
    if (among(f, {"volume", "changes_per_hour"})) return d.way == BlowWay::Room;
    if (among(f, {"area", "face_velocity"})) return d.way == BlowWay::Hood || d.way == BlowWay::Filter;
    if (f.starts_with("mains")) return d.feeding == Feeding::Mains;
    return true;
}
bool fieldOf(const SwitchDemand& d, std::string_view f) {
    return !f.starts_with("mains") || d.feeding == Feeding::Mains;
}
bool fieldOf(const HeatDemand& d, std::string_view f) {
    if (f.starts_with("mains")) return d.feeding == Feeding::Mains;
    if (f.starts_with("hot_")) return d.way != HeatWay::Warm;
    return f != "cutout" || d.way != HeatWay::Cool;
}

}  // namespace

Demand freshDemand(ChannelKind kind) {
    switch (kind) {
        case ChannelKind::Pump: return PumpDemand{};
        case ChannelKind::Turn: return TurnDemand{};
        case ChannelKind::Move: return MoveDemand{};
        case ChannelKind::Press: return PressDemand{};
        case ChannelKind::Blow: return BlowDemand{};
        case ChannelKind::Switch: return SwitchDemand{};
        case ChannelKind::Heat: return HeatDemand{};
    }
    return PumpDemand{};
}

bool applies(const Demand& demand, std::string_view field) {
    return std::visit([&](const auto& d) { return fieldOf(d, field); }, demand);
}

}  // namespace hinge::project
