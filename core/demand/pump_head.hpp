#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// The head that a lift and a tube ask of a pump at a given flow of water at 20 °C.
struct PumpHead {
    Length static_head{};  ///< outlet above the water's surface; may be negative
    VolumeFlow flow{};
    Length tube_length{};                          ///< 0 allowed
    Length tube_diameter{};                        ///< inside
    Length roughness = of<Length>(1.5e-6);         ///< of the tube's wall; drawn plastic
    Ratio fittings_k = of<Ratio>(0.0);             ///< sum of loss coefficients
    Pressure outlet_pressure = of<Pressure>(0.0);  ///< a nozzle's; may be negative
};
struct PumpHeadResult {
    Speed velocity{};
    Ratio reynolds{};
    Ratio friction_factor{};  ///< Darcy
    Length friction_head{};
    Length total_head{};
    Power hydraulic_power{};
};
/// Darcy-Weisbach with 64/Re to Re 2300, Colebrook-White from 4000, linear in Re between.
/// @error OutOfRange  roughness above 0.05 of the diameter
/// @source darcy-weisbach, colebrook-1939
[[nodiscard]] Result<Worked<PumpHeadResult>> pumpHead(const PumpHead& in);
/// The same without the steps in words: for searches that ask hundreds of times.
/// @error OutOfRange  roughness above 0.05 of the diameter
/// @source darcy-weisbach, colebrook-1939
[[nodiscard]] Result<PumpHeadResult> pumpHeadFigures(const PumpHead& in);
/// Darcy friction factor of a full round tube.
/// @param reynolds           greater than 0
/// @param relative_roughness roughness/diameter, 0 to 0.05
/// @source colebrook-1939
[[nodiscard]] double frictionFactor(double reynolds, double relative_roughness);
[[nodiscard]] FormPtr pumpHeadForm();

}  // namespace hinge::demand
