#pragma once
// What the maker says a load asks, one struct for each kind of channel. Everything here is decided
// or measured; match::ask turns it into torque, force, flow or power.
#include <array>
#include <optional>
#include <variant>
#include "driver/contact_rating.hpp"
#include "quantity/dimensions.hpp"
#include "quantity/names.hpp"

namespace hinge::project {

enum class TurnWay { Lever, Hinge, Disc, Valve, Crank, Steer };
/// Something that turns about an axle.
struct TurnDemand {
    TurnWay way = TurnWay::Lever;
    std::optional<Mass> mass;
    std::optional<Length> arm;       ///< pivot to centre of mass
    Angle worst_angle{};             ///< from horizontal, where the weight pulls most
    std::optional<Length> diameter;  ///< of a disc
    std::optional<Force> pull;       ///< luggage scale, square to its arm, when it just moves
    std::optional<Length> pull_arm;
    std::optional<Torque> friction;
    std::optional<Force> wheel_load;  ///< on a wheel that is steered while it stands
    std::optional<Length> contact_width;
    Length kingpin_offset{};
    Ratio grip = of<Ratio>(0.8);         ///< tyre on floor
    std::optional<Ratio> turns;          ///< of a crank or valve, counted by hand
    std::optional<Angle> angle;          ///< of one move
    std::optional<Duration> time;        ///< for that move
    std::optional<RotationSpeed> speed;  ///< of something that goes on turning
    Ratio margin = of<Ratio>(2.0);
    bool both_ways = true;
    bool holds = false;  ///< must stay where it is with the power off
    friend bool operator==(const TurnDemand&, const TurnDemand&) = default;
};

enum class MoveWay { Belt, Screw, Rack, Rope, Wheels };
/// Something that goes along a straight line.
struct MoveDemand {
    MoveWay way = MoveWay::Belt;
    std::optional<Mass> mass;
    Angle incline{};
    std::optional<Ratio> friction_coefficient;
    std::optional<Force> pull;  ///< luggage scale along the way, when it just moves
    std::optional<Length> travel;
    std::optional<Duration> time;       ///< for that travel
    std::optional<Count> pulley_teeth;  ///< belt and rack
    std::optional<Length> belt_pitch;
    std::optional<Length> diameter;           ///< drum of a rope, or wheel
    std::optional<Length> lead;               ///< screw: travel per turn
    std::optional<Length> screw_diameter;     ///< mean
    Fraction efficiency = of<Fraction>(0.3);  ///< of a screw
    Ratio rolling_coefficient = of<Ratio>(0.02);
    Count driven_wheels = of<Count>(2.0);
    Ratio margin = of<Ratio>(2.0);
    bool both_ways = true;
    bool holds = false;
    friend bool operator==(const MoveDemand&, const MoveDemand&) = default;
};

enum class PressWay { Horn, Plunger };
/// Something that is pressed, latched, pushed or pulled.
struct PressDemand {
    PressWay way = PressWay::Horn;
    std::optional<Force> force;  ///< kitchen scale, over the whole stroke
    std::optional<Length> stroke;
    std::optional<Length> horn;    ///< radius of the horn or crank
    std::optional<Duration> time;  ///< for the stroke
    Ratio margin = of<Ratio>(2.0);
    bool holds = false;
    friend bool operator==(const PressDemand&, const PressDemand&) = default;
};

/// What a pump is asked for.
struct PumpDemand {
    std::optional<Volume> volume;            ///< of one dose
    std::optional<Duration> run_time_limit;  ///< of one dose
    Ratio doses_per_day = of<Ratio>(1.0);
    std::optional<Length> lift;
    std::optional<Length> tube_length;
    std::optional<Length> tube_diameter;
    Ratio fittings_k = of<Ratio>(0.0);
    Pressure outlet_pressure{};  ///< a nozzle's, or that drippers need
    friend bool operator==(const PumpDemand&, const PumpDemand&) = default;
};

enum class Feeding { Rail, Mains };
enum class BlowWay { Box, Room, Hood, Filter };
/// Air that is moved.
struct BlowDemand {
    BlowWay way = BlowWay::Box;
    std::optional<Power> heat;                              ///< box: watts inside it
    std::optional<TemperatureDifference> temperature_rise;  ///< box: that it may warm by
    std::optional<Volume> volume;                           ///< room
    std::optional<Ratio> changes_per_hour;
    std::optional<Area> area;  ///< hood or filter
    std::optional<Speed> face_velocity;
    std::optional<Pressure> pressure;  ///< that the way of the air takes at that flow
    std::optional<Ratio> noise_limit;  ///< dB(A) at 1 m
    Feeding feeding = Feeding::Rail;
    Voltage mains_voltage = of<Voltage>(230.0);
    Frequency mains_frequency = of<Frequency>(50.0);
    friend bool operator==(const BlowDemand&, const BlowDemand&) = default;
};

/// Something that is switched.
struct SwitchDemand {
    driver::ContactLoad load = driver::ContactLoad::Resistive;
    Feeding feeding = Feeding::Rail;
    std::optional<Power> power;  ///< that it takes
    Voltage mains_voltage = of<Voltage>(230.0);
    Frequency mains_frequency = of<Frequency>(50.0);
    bool dimmed = false;
    Ratio switchings_per_day = of<Ratio>(2.0);
    friend bool operator==(const SwitchDemand&, const SwitchDemand&) = default;
};

enum class HeatWay { Warm, Cool, Both };
/// Something that is kept warmer or cooler than the air.
struct HeatDemand {
    HeatWay way = HeatWay::Warm;
    Feeding feeding = Feeding::Rail;
    std::optional<Mass> mass;
    SpecificHeat specific_heat = of<SpecificHeat>(4186.0);
    std::optional<TemperatureDifference> temperature_rise;  ///< or fall
    std::optional<Duration> warm_up_time;                   ///< or cooling time
    std::optional<ThermalConductance> loss_conductance;
    Voltage mains_voltage = of<Voltage>(230.0);
    Frequency mains_frequency = of<Frequency>(50.0);
    bool cutout = false;                                     ///< an independent thermal cut-out is fitted
    std::optional<ThermalResistance> hot_sink;               ///< of a plate's hot side, to the air; absent: not known
    Temperature hot_side_most = Temperature::celsius(80.0);  ///< @source common practice, no published source: its solder and its seals
    friend bool operator==(const HeatDemand&, const HeatDemand&) = default;
};

/// The kind of a channel is the kind of its demand.
using Demand = std::variant<PumpDemand, TurnDemand, MoveDemand, PressDemand, BlowDemand, SwitchDemand, HeatDemand>;
enum class ChannelKind { Pump, Turn, Move, Press, Blow, Switch, Heat };
[[nodiscard]] inline ChannelKind kindOfDemand(const Demand& demand) {
    return static_cast<ChannelKind>(demand.index());
}
/// An empty demand of a kind.
[[nodiscard]] Demand freshDemand(ChannelKind kind);
/// Whether a field of a demand has a meaning for the way chosen: a screw has no pulley.
[[nodiscard]] bool applies(const Demand& demand, std::string_view field);

}  // namespace hinge::project

#include "project/names_begin.hpp"
HINGE_NAMES(TurnWay, N{T::Lever, "lever", "a lever or arm"}, N{T::Hinge, "hinge", "a lid or door on a hinge"},
            N{T::Disc, "disc", "a disc or drum"}, N{T::Valve, "valve", "a valve or tap"}, N{T::Crank, "crank", "a hand crank"},
            N{T::Steer, "steer", "a wheel, steered standing"});
HINGE_NAMES(MoveWay, N{T::Belt, "belt", "toothed belt"}, N{T::Screw, "screw", "screw"}, N{T::Rack, "rack", "rack and pinion"},
            N{T::Rope, "rope", "rope on a drum"}, N{T::Wheels, "wheels", "on wheels"});
HINGE_NAMES(PressWay, N{T::Horn, "horn", "by a horn or crank"}, N{T::Plunger, "plunger", "straight, by a plunger"});
HINGE_NAMES(BlowWay, N{T::Box, "box", "cool a box"}, N{T::Room, "room", "change a room's air"}, N{T::Hood, "hood", "draw at a hood"},
            N{T::Filter, "filter", "through a filter"});
HINGE_NAMES(Feeding, N{T::Rail, "rail", "one of the rails"}, N{T::Mains, "mains", "the mains"});
HINGE_NAMES(HeatWay, N{T::Warm, "warm", "warm it"}, N{T::Cool, "cool", "cool it"}, N{T::Both, "both", "warm or cool it, as it needs"});
HINGE_NAMES(ChannelKind, N{T::Pump, "pump", "pump"}, N{T::Turn, "turn", "turns"}, N{T::Move, "move", "moves along"},
            N{T::Press, "press", "presses"}, N{T::Blow, "blow", "blows"}, N{T::Switch, "switch", "switched"},
            N{T::Heat, "heat", "warms or cools"});
#undef HINGE_NAMES
