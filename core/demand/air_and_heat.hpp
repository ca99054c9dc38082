#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// Air that is asked for, in one of three ways.
struct AirflowNeed {
    std::optional<Power> heat;                              ///< to carry away …
    std::optional<TemperatureDifference> temperature_rise;  ///< … warming by this
    std::optional<Volume> volume;                           ///< a room …
    std::optional<Ratio> changes_per_hour;                  ///< … changed so often [1/h]
    std::optional<Area> area;                               ///< an opening …
    std::optional<Speed> face_velocity;                     ///< … drawn at this speed
};
struct AirflowNeedResult {
    VolumeFlow flow{};
};
/// P/(ρ·c·ΔT), V·n/3600 or A·v. @source heat-in-air
[[nodiscard]] Result<Worked<AirflowNeedResult>> airflowNeed(const AirflowNeed& in);
[[nodiscard]] FormPtr airflowNeedForm();

/// Heat to warm something up in a time and hold it there.
struct HeatNeed {
    Mass mass{};
    SpecificHeat specific_heat = of<SpecificHeat>(4186.0);
    TemperatureDifference temperature_rise{};
    Duration warm_up_time{};
    ThermalConductance loss_conductance{};
    std::optional<TemperatureDifference> ambient_difference;  ///< absent: the rise
};
struct HeatNeedResult {
    Power power{};
    Power holding_power{};
};
/// P = m·c·ΔT/t + loss·difference. @source calorimetry
[[nodiscard]] Result<Worked<HeatNeedResult>> heatNeed(const HeatNeed& in);
[[nodiscard]] FormPtr heatNeedForm();

}  // namespace hinge::demand
