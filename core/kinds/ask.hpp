#pragma once
// What a load asks of whatever drives it: the demand's facts turned into torque, force, flow or power.
#include <optional>
#include <string>
#include <vector>
#include "kinds/shown_working.hpp"

namespace hinge::kinds {

/// One place of the stroke: x an angle [rad] or a way [m], y a torque [N·m] or a force [N].
struct StrokePoint {
    double x = 0.0;
    double y = 0.0;
};

/// The demand in numbers. What does not apply, or is not known, is absent.
struct Ask {
    // Turning, moving along, pressing by a horn: at the shaft, without margin.
    std::optional<Torque> torque;        ///< the largest over the stroke
    std::optional<RotationSpeed> speed;  ///< the largest over the stroke
    std::optional<Angle> angle;          ///< of one move, at the shaft
    std::optional<Duration> time;        ///< for it
    std::optional<Length> travel_per_turn;
    // Along a line.
    std::optional<Force> force;
    std::optional<Length> stroke;
    // Water and air.
    std::optional<VolumeFlow> flow;
    std::optional<Length> head;
    std::optional<Pressure> pressure;
    // Loads and heat.
    std::optional<Power> power;
    std::optional<TemperatureDifference> difference;
    double margin = 2.0;  ///< ability wanted over the demand
    bool both_ways = false;
    bool holds = false;                    ///< must stay put with the power off
    bool positional = false;               ///< a place is asked for, not only a motion
    bool goes_on = false;                  ///< a speed is asked for, with no end …
    std::optional<Duration> run_up;        ///< … and from rest to it in this
    bool self_locking = false;             ///< the screw holds by itself
    std::optional<double> spread;          ///< share of the decisive figure, both ways, from the facts' ±
    std::vector<StrokePoint> over_stroke;  ///< torque or force along the way
    Kind x_kind = Kind::Angle, y_kind = Kind::Torque;
    std::vector<std::string> missing;  ///< fields of the demand that are not known
    std::vector<ShownWorking> workings;
    std::vector<Finding> findings;
};
/// @param spreads  how well each fact is known: carried one by one, joined as the root of squares
[[nodiscard]] Ask ask(const project::Demand& demand, const std::vector<project::Spread>& spreads = {});
/// The figure that decides: torque, force, flow or power [SI]; nullopt when it is not known.
[[nodiscard]] std::optional<double> decisive(const Ask& ask);
/// Its kind.
[[nodiscard]] Kind decisiveKind(const project::Demand& demand);

}  // namespace hinge::kinds
