#pragma once
// Lengths and strengths that are decided with a caliper in the hand: belts, screws, printed arms.
#include "demand/print.hpp"
#include "working/form.hpp"

namespace hinge::demand {

/// A toothed belt that runs open round two pulleys.
struct BeltLength {
    Count driving_teeth{};
    Count driven_teeth{};
    Length tooth_pitch{};
    Length centres{};  ///< axle to axle
};
struct BeltLengthResult {
    Length length{};        ///< along the pitch line
    Count belt_teeth{};     ///< the nearest whole number …
    Length belt_centres{};  ///< … and the distance at which it is tight
    Angle wrap{};           ///< round the smaller pulley
    Ratio teeth_in_mesh{};  ///< of the smaller pulley
};
/// L = 2·C·cos α + r·(π − 2α) + R·(π + 2α), sin α = (R − r)/C.
/// @error OutOfRange  the pulleys would touch
/// @source belt-geometry
[[nodiscard]] Result<Worked<BeltLengthResult>> beltLength(const BeltLength& in);
[[nodiscard]] FormPtr beltLengthForm();

/// What a thread is cut in.
enum class Thread { Metal, Plastic };
/// Which way a pull goes through a print.
enum class Layers { Along, Across };

/// A screw through what it holds and into a nut, a thread or a plastic boss.
struct ScrewLength {
    Length clamped{};  ///< all that lies under its head
    Length diameter{};
    Thread thread = Thread::Metal;  ///< in plastic it takes twice the depth
    std::optional<Length> length;   ///< of the one at hand
};
struct ScrewLengthResult {
    Length engagement_needed{};
    Length needed{};
    std::optional<Length> standard;    ///< next length of ISO 888
    std::optional<Length> engagement;  ///< of the one at hand
};
/// @source iso-888
[[nodiscard]] Result<Worked<ScrewLengthResult>> screwLength(const ScrewLength& in);
[[nodiscard]] FormPtr screwLengthForm();

/// An arm that is printed and takes a torque at its root.
struct PrintedArm {
    Torque torque{};                   ///< at its root: the stall torque of what drives it
    Length arm{};                      ///< root to the load
    Length width{};                    ///< across the pull
    Length height{};                   ///< along the pull
    Length wall = of<Length>(0.0012);  ///< printed solid, all round
    Fraction infill = of<Fraction>(0.2);
    Print material = Print::Pla;
    Temperature air = Temperature::celsius(25.0);  ///< round it: a box's, or the sun's
    Layers layers = Layers::Along;                 ///< across: the pull opens them
    Ratio safety = of<Ratio>(3.0);
};
struct PrintedArmResult {
    Pressure stress{};  ///< at the root
    Pressure allowed{};
    Ratio used{};           ///< stress over allowed
    Length sag{};           ///< at the load
    Temperature softens{};  ///< its material
};
/// Bending of a box with a solid wall and a core that counts by its filling.
/// @error OutOfRange  no such material, or a wall thicker than half the arm
/// @source beam-bending
[[nodiscard]] Result<Worked<PrintedArmResult>> printedArm(const PrintedArm& in);
[[nodiscard]] FormPtr printedArmForm();

/// What printed materials bear. Common practice, no published source: makers' sheets differ by a third either way.
struct PrintFigures {
    double strength;   ///< Pa, along the layers
    double stiffness;  ///< Pa
    double softens;    ///< °C
    bool sun;          ///< stands the sun for years
};
[[nodiscard]] std::optional<PrintFigures> figuresOf(Print material);

}  // namespace hinge::demand

template <>
struct hinge::Names<hinge::demand::Thread> {
    using T = hinge::demand::Thread;
    static constexpr std::array all{hinge::Name<T>{T::Metal, "metal", "metal or a nut"}, hinge::Name<T>{T::Plastic, "plastic", "plastic"}};
};
template <>
struct hinge::Names<hinge::demand::Layers> {
    using L = hinge::demand::Layers;
    static constexpr std::array all{hinge::Name<L>{L::Along, "along", "along the layers"},
                                    hinge::Name<L>{L::Across, "across", "across the layers"}};
};
