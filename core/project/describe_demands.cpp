#include "project/describe_parts.hpp"

namespace hinge::project {

void describe(Visitor& v, PumpDemand& d) {
    v("volume", d.volume, Meta{.label = "Water per dose", .hint = "kitchen scale: 1 g is 1 mL", .most = 1.0});
    v("run_time_limit", d.run_time_limit, Meta{.label = "Time for a dose, at most", .hint = "how long a dose may take", .most = 86400.0});
    v("doses_per_day", d.doses_per_day, Meta{.label = "Doses a day", .most = 10000.0});
    v("lift", d.lift,
      Meta{.label = "Lift", .hint = "ruler, water's surface to outlet", .least = -10.0, .least_itself = true, .most = 50.0});
    v("tube_length", d.tube_length, Meta{.label = "Tube length", .hint = "tape measure", .least_itself = true, .most = 100.0});
    v("tube_diameter", d.tube_diameter, Meta{.label = "Tube bore", .hint = "inside; a drill bit's shank is a gauge", .most = 0.2});
    v("fittings_k", d.fittings_k,
      Meta{.label = "Fittings, sum of K", .hint = "elbow about 1, nozzle 2 to 5", .least_itself = true, .most = 1000.0});
    v("outlet_pressure", d.outlet_pressure,
      Meta{.label = "Nozzle or drippers need", .hint = "0 where the water just runs out", .least_itself = true, .most = 2e6});
}

void describe(Visitor& v, TurnDemand& d) {
    v("way", d.way, Meta{.label = "What turns"});
    v("mass", d.mass, Meta{.label = "Its mass", .hint = "kitchen scale", .most = 1000.0});
    v("arm", d.arm, Meta{.label = "Axle to centre of mass", .hint = "balance it on a pencil, then a ruler", .most = 10.0});
    v("worst_angle", d.worst_angle,
      Meta{.label = "Angle of the steepest pull",
           .hint = "from level, where its weight pulls most",
           .least = -1.5707963267948966,
           .least_itself = true,
           .most = 1.5707963267948966});
    v("diameter", d.diameter, Meta{.label = "Disc's diameter", .hint = "ruler", .most = 10.0});
    v("pull", d.pull, Meta{.label = "Or pull that just moves it", .hint = "luggage scale, square to its arm", .most = 1e5});
    v("pull_arm", d.pull_arm, Meta{.label = "Axle to the hook", .hint = "ruler", .most = 10.0});
    v("friction", d.friction,
      Meta{.label = "Hinge friction", .hint = "hang paper clips on it until it starts to fall", .least_itself = true, .most = 1e4});
    v("wheel_load", d.wheel_load, Meta{.label = "Weight on the wheel", .hint = "bathroom scale under it; 1 kg is 9.81 N", .most = 1e5});
    v("contact_width", d.contact_width, Meta{.label = "Width of its print", .hint = "paper under the tyre, chalk round it", .most = 1.0});
    v("kingpin_offset", d.kingpin_offset, Meta{.label = "Kingpin to print's middle", .least_itself = true, .most = 1.0});
    v("grip", d.grip, Meta{.label = "Grip of tyre on floor", .hint = "rubber on wood about 0.8", .most = 2.0});
    v("turns", d.turns, Meta{.label = "Turns, counted by hand", .hint = "from end to end", .most = 1e5});
    v("angle", d.angle, Meta{.label = "Angle of the move", .hint = "protractor, or a folded paper", .most = 6300.0});
    v("time", d.time, Meta{.label = "Time for the move", .hint = "phone's stopwatch on your own hand doing it", .most = 1e6});
    v("speed", d.speed, Meta{.label = "Or speed, where it goes on", .hint = "count turns for a minute: 10 rpm", .most = 3000.0});
    v("margin", d.margin,
      Meta{.label = "Margin wanted", .hint = "2: never more than half of what it can", .least = 1.0, .least_itself = true, .most = 20.0});
    v("both_ways", d.both_ways, Meta{.label = "Turns both ways"});
    v("holds", d.holds, Meta{.label = "Stays put with the power off"});
}

void describe(Visitor& v, MoveDemand& d) {
    v("way", d.way, Meta{.label = "What carries it"});
    v("mass", d.mass, Meta{.label = "What moves weighs", .hint = "kitchen scale", .most = 1e4});
    v("incline", d.incline,
      Meta{.label = "Slope, uphill",
           .hint = "phone's level; 90 deg is straight up",
           .least = -1.5707963267948966,
           .least_itself = true,
           .most = 1.5707963267948966});
    v("friction_coefficient", d.friction_coefficient,
      Meta{.label = "Friction coefficient",
           .hint = "tilt the track until it slides: the slope, rise over run",
           .least_itself = true,
           .most = 5.0});
    v("pull", d.pull, Meta{.label = "Or pull that just moves it", .hint = "luggage scale along the track", .most = 1e5});
    v("travel", d.travel, Meta{.label = "Length of the way", .hint = "tape measure", .most = 1000.0});
    v("time", d.time, Meta{.label = "Time for the way", .hint = "phone's stopwatch", .most = 1e6});
    v("pulley_teeth", d.pulley_teeth, Meta{.label = "Teeth of the pulley", .hint = "count them", .most = 500.0});
    v("belt_pitch", d.belt_pitch, Meta{.label = "Tooth to tooth", .hint = "ruler over ten teeth, by ten", .most = 0.1});
    v("diameter", d.diameter, Meta{.label = "Diameter of drum or wheel", .hint = "ruler; with the rope on it", .most = 5.0});
    v("lead", d.lead, Meta{.label = "Travel per turn", .hint = "turn the screw ten times, ruler, by ten", .most = 1.0});
    v("screw_diameter", d.screw_diameter, Meta{.label = "Screw's mean diameter", .hint = "outside less half a thread", .most = 1.0});
    v("efficiency", d.efficiency, Meta{.label = "Screw's efficiency", .hint = "plain thread 0.3, ball screw 0.9", .most = 1.0});
    v("rolling_coefficient", d.rolling_coefficient,
      Meta{.label = "Rolling coefficient", .hint = "hard floor 0.02, carpet 0.05", .least_itself = true, .most = 2.0});
    v("driven_wheels", d.driven_wheels, Meta{.label = "Driven wheels", .most = 100.0});
    v("margin", d.margin,
      Meta{.label = "Margin wanted", .hint = "2: never more than half of what it can", .least = 1.0, .least_itself = true, .most = 20.0});
    v("both_ways", d.both_ways, Meta{.label = "Goes both ways"});
    v("holds", d.holds, Meta{.label = "Stays put with the power off"});
}

void describe(Visitor& v, PressDemand& d) {
    v("way", d.way, Meta{.label = "What is pressed"});
    v("force", d.force,
      Meta{.label = "Force that it gives way at", .hint = "press it with the kitchen scale between; 100 g is 0.98 N", .most = 1e5});
    v("stroke", d.stroke, Meta{.label = "Stroke", .hint = "ruler, rest to end", .most = 1.0});
    v("horn", d.horn, Meta{.label = "Horn, axle to hole", .hint = "ruler", .most = 1.0});
    v("time", d.time, Meta{.label = "Time for the stroke", .most = 1e5});
    v("margin", d.margin,
      Meta{.label = "Margin wanted", .hint = "2: never more than half of what it can", .least = 1.0, .least_itself = true, .most = 20.0});
    v("holds", d.holds, Meta{.label = "Stays put with the power off"});
}

void describe(Visitor& v, BlowDemand& d) {
    v("way", d.way, Meta{.label = "What the air is for"});
    v("heat", d.heat, Meta{.label = "Heat in the box", .hint = "volts times amps of what is in it", .most = 1e5});
    v("temperature_rise", d.temperature_rise, Meta{.label = "May get warmer by", .most = 200.0});
    v("volume", d.volume, Meta{.label = "Volume of the room", .hint = "length, width and height, multiplied", .most = 1e5});
    v("changes_per_hour", d.changes_per_hour, Meta{.label = "Changes an hour", .hint = "a kitchen wants 10 to 15", .most = 1000.0});
    v("area", d.area, Meta{.label = "Area of the opening", .hint = "width times height", .most = 100.0});
    v("face_velocity", d.face_velocity,
      Meta{.label = "Air's speed there", .hint = "0.5 m/s just draws smoke; a strip of tissue leans", .most = 50.0});
    v("pressure", d.pressure,
      Meta{.label = "Pressure it takes at that flow",
           .hint = "tube with water, one end in the duct: 1 mm is 9.8 Pa; open air 0",
           .least_itself = true,
           .most = 1e4});
    v("noise_limit", d.noise_limit,
      Meta{.label = "Noise in dB(A), at most", .hint = "a quiet room is 30; empty: it does not matter", .most = 140.0});
    v("feeding", d.feeding, Meta{.label = "Fed from"});
    v("mains_voltage", d.mains_voltage, Meta{.label = "Mains voltage", .hint = "rms", .most = 500.0});
    v("mains_frequency", d.mains_frequency, Meta{.label = "Mains frequency", .least = 40.0, .least_itself = true, .most = 70.0});
}

void describe(Visitor& v, SwitchDemand& d) {
    v("load", d.load, Meta{.label = "Kind of load"});
    v("feeding", d.feeding, Meta{.label = "Fed from"});
    v("power", d.power, Meta{.label = "Power it takes", .hint = "printed on it; or volts times amps by a meter", .most = 1e5});
    v("mains_voltage", d.mains_voltage, Meta{.label = "Mains voltage", .hint = "rms", .most = 500.0});
    v("mains_frequency", d.mains_frequency, Meta{.label = "Mains frequency", .least = 40.0, .least_itself = true, .most = 70.0});
    v("dimmed", d.dimmed, Meta{.label = "Dimmed, not only switched"});
    v("switchings_per_day", d.switchings_per_day, Meta{.label = "Times switched on a day", .most = 1e6});
}

void describe(Visitor& v, HeatDemand& d) {
    v("way", d.way, Meta{.label = "Warm or cool"});
    v("feeding", d.feeding, Meta{.label = "Fed from"});
    v("mass", d.mass, Meta{.label = "What is in it weighs", .hint = "kitchen scale", .most = 1e4});
    v("specific_heat", d.specific_heat,
      Meta{.label = "Its specific heat", .hint = "water 4186, dough about 2700, air 1006 J/(kg K)", .most = 2e4});
    v("temperature_rise", d.temperature_rise, Meta{.label = "Warmer or cooler by", .hint = "from the air around it", .most = 500.0});
    v("warm_up_time", d.warm_up_time, Meta{.label = "Time to get there", .most = 1e6});
    v("loss_conductance", d.loss_conductance,
      Meta{.label = "Heat it loses, for each degree",
           .hint = "a 7 W lamp in it; watts by the rise it settles at",
           .least_itself = true,
           .most = 1e4});
    v("mains_voltage", d.mains_voltage, Meta{.label = "Mains voltage", .hint = "rms", .most = 500.0});
    v("mains_frequency", d.mains_frequency, Meta{.label = "Mains frequency", .least = 40.0, .least_itself = true, .most = 70.0});
    v("hot_sink", d.hot_sink, Meta{.label = "Heat-sink on its hot side", .hint = "its K/W to the air, with its fan", .most = 100.0});
    v("hot_side_most", d.hot_side_most, Meta{.label = "Its hot side at most", .hint = "data sheet; 80 °C is usual"});
    v("cutout", d.cutout, Meta{.label = "Thermal cut-out fitted", .hint = "one that needs no board and no sketch"});
}

void describe(Visitor& v, Demand& d) {
    std::visit([&](auto& of_kind) { describe(v, of_kind); }, d);
}

}  // namespace hinge::project
