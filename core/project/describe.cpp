#include "project/describe.hpp"

namespace hinge::project {

void describe(Visitor& v, Brief& whole);
void describe(Visitor& v, power::Source& whole);
void describe(Visitor& v, power::Rail& whole);
void describe(Visitor& v, Board& whole);
void describe(Visitor& v, PumpDemand& whole);
void describe(Visitor& v, TurnDemand& whole);
void describe(Visitor& v, MoveDemand& whole);
void describe(Visitor& v, PressDemand& whole);
void describe(Visitor& v, BlowDemand& whole);
void describe(Visitor& v, SwitchDemand& whole);
void describe(Visitor& v, HeatDemand& whole);
void describe(Visitor& v, Spread& whole);
void describe(Visitor& v, Work& whole);
void describe(Visitor& v, Weights& whole);
void describe(Visitor& v, Drive& whole);
void describe(Visitor& v, Signal& whole);
void describe(Visitor& v, Calibration& whole);
void describe(Visitor& v, Fit& whole);
void describe(Visitor& v, Channel& whole);
void describe(Visitor& v, Input& whole);
void describe(Visitor& v, routine::Guard& whole);
void describe(Visitor& v, routine::Move& whole);
void describe(Visitor& v, routine::Cue& whole);
void describe(Visitor& v, routine::Term& whole);
void describe(Visitor& v, routine::Interlock& whole);
void describe(Visitor& v, routine::Loop& whole);
void describe(Visitor& v, routine::Follower& whole);
void describe(Visitor& v, routine::Routine& whole);
void describe(Visitor& v, journal::Check& whole);
void describe(Visitor& v, journal::Entry& whole);
void describe(Visitor& v, journal::WireNote& whole);
void describe(Visitor& v, journal::WiringSnapshot& whole);
void describe(Visitor& v, journal::Sample& whole);
void describe(Visitor& v, journal::Stock& whole);
void describe(Visitor& v, journal::Care& whole);
void describe(Visitor& v, journal::Journal& whole);

namespace {

template <class T>
struct ListOf {
    static constexpr bool is = false;
    using Entry = T;
};
template <class T>
struct ListOf<std::vector<T>> {
    static constexpr bool is = true;
    using Entry = T;
};

template <class T>
constexpr Branch branchOf() {
    using Entry = typename ListOf<T>::Entry;
    Branch branch;
    branch.list = ListOf<T>::is;
    branch.demand = std::is_same_v<T, Demand>;
    branch.walk = [](Visitor& visitor, void* group) { describe(visitor, *static_cast<Entry*>(group)); };
    branch.walk_fresh = [](Visitor& visitor) {
        Entry fresh{};
        describe(visitor, fresh);
    };
    if constexpr (ListOf<T>::is) {
        // A journal grows for years, three lines a day are 11 000 in ten; everything else a person places by hand.
        branch.most = std::is_same_v<Entry, journal::Entry> ? 200000 : 10000;
        branch.size = [](const void* list) { return static_cast<const T*>(list)->size(); };
        branch.entry = [](void* list, std::size_t index) -> void* { return &(*static_cast<T*>(list))[index]; };
        branch.add = [](void* list) -> void* { return &static_cast<T*>(list)->emplace_back(); };
        branch.clear = [](void* list) { static_cast<T*>(list)->clear(); };
        branch.id = [](const void* entry) -> const std::string& { return static_cast<const Entry*>(entry)->id; };
    }
    return branch;
}
template <class T>
constexpr Branch branch_of = branchOf<T>();

template <class T>
constexpr bool isLeaf() {
    using P = typename WithoutOptional<T>::type;
    return Measurable<P> || Named<P> || std::is_same_v<P, std::string> || std::is_same_v<P, bool>;
}

}  // namespace

template <class T>
void Visitor::operator()(const char* name, T& member, const Meta& meta) {
    Field field;
    field.at = &member;
    if constexpr (isLeaf<T>()) field.member = memberOf<T>();
    else field.branch = &branch_of<T>;
    visit(name, field, meta);
}

void describe(Visitor& v, Brief& b) {
    v("name", b.name, Meta{.label = "Name"});
    v("purpose", b.purpose, Meta{.label = "What it is for"});
    v("place", b.place, Meta{.label = "Where it stands"});
    v("nearby", b.nearby, Meta{.label = "Who is near it"});
    v("ambient", b.ambient,
      Meta{.label = "Air around it",
           .hint = "room thermometer; in a box, inside it",
           .least = 233.15,
           .least_itself = true,
           .most = 353.15});
    v("build_style", b.build_style, Meta{.label = "Build style"});
    v("hour_value", b.hour_value, Meta{.label = "Worth of an hour", .stage = Stage::Log, .least_itself = true});
    v("currency", b.currency, Meta{.label = "Currency", .stage = Stage::Log});
    v("box_width", b.box_width, Meta{.label = "Case, wide", .hint = "outside; empty: there is none", .stage = Stage::Prove, .most = 3.0});
    v("box_height", b.box_height, Meta{.label = "Case, high", .stage = Stage::Prove, .most = 3.0});
    v("box_depth", b.box_depth, Meta{.label = "Case, deep", .stage = Stage::Prove, .most = 3.0});
}

void describe(Visitor& v, power::Source& s) {
    v("id", s.id, Meta{});
    v("name", s.name, Meta{.label = "Source", .stage = Stage::Feed});
    v("kind", s.kind, Meta{.label = "Kind of source", .stage = Stage::Feed});
    v("voltage", s.voltage, Meta{.label = "Gives", .hint = "printed on it; check with a meter", .stage = Stage::Feed, .most = 60.0});
    v("ground_joined", s.ground_joined,
      Meta{.label = "Minus joined to the board's",
           .hint = "one common ground; a meter between the two reads under 1 Ω",
           .stage = Stage::Feed});
    v("current", s.current, Meta{.label = "Up to", .hint = "printed on it", .stage = Stage::Feed, .most = 100.0});
    v("instead_of", s.instead_of, Meta{.label = "Instead of", .hint = "one or the other, never both", .stage = Stage::Feed});
    v("resistance", s.resistance,
      Meta{.label = "Resistance inside",
           .hint = "volts lost by amps drawn; a USB cable has about 0.3 Ω",
           .stage = Stage::Feed,
           .least_itself = true,
           .most = 1000.0});
    v("usb", s.usb, Meta{.label = "Kind of port", .stage = Stage::Feed});
    v("chemistry", s.chemistry, Meta{.label = "Cells", .stage = Stage::Feed});
    v("series", s.series, Meta{.label = "In series", .stage = Stage::Feed, .least = 1.0, .least_itself = true, .most = 100.0});
    v("parallel", s.parallel, Meta{.label = "In parallel", .stage = Stage::Feed, .least = 1.0, .least_itself = true, .most = 100.0});
    v("capacity", s.capacity, Meta{.label = "Capacity of one", .hint = "printed on it, in mAh", .stage = Stage::Feed, .most = 4e6});
    v("cell_resistance", s.cell_resistance,
      Meta{.label = "Resistance of one",
           .hint = "volts lost by amps drawn, on one cell",
           .stage = Stage::Feed,
           .least_itself = true,
           .most = 100.0});
    v("usable_fraction", s.usable_fraction, Meta{.label = "Of that, usable", .stage = Stage::Feed, .most = 1.0});
    v("protection_board", s.protection_board,
      Meta{.label = "Protection board fitted", .hint = "cuts off each cell when it is empty, full or shorted", .stage = Stage::Feed});
    v("least_load", s.least_load,
      Meta{.label = "Switches off below", .hint = "watch it with the gadget at rest for five minutes", .stage = Stage::Feed, .most = 10.0});
    v("ac_voltage", s.ac_voltage, Meta{.label = "Transformer gives", .hint = "printed on it, AC", .stage = Stage::Feed, .most = 50.0});
    v("ac_frequency", s.ac_frequency,
      Meta{.label = "Mains frequency", .stage = Stage::Feed, .least = 40.0, .least_itself = true, .most = 70.0});
    v("no_load_factor", s.no_load_factor,
      Meta{.label = "Without load, times",
           .hint = "small ones give a fifth more",
           .stage = Stage::Feed,
           .least = 1.0,
           .least_itself = true,
           .most = 2.0});
    v("smoothing", s.smoothing, Meta{.label = "Smoothing capacitor", .stage = Stage::Feed, .most = 10.0});
    v("smoothing_rating", s.smoothing_rating,
      Meta{.label = "It stands", .hint = "volts printed on it", .stage = Stage::Feed, .most = 1000.0});
}

void describe(Visitor& v, power::Rail& r) {
    v("id", r.id, Meta{});
    v("name", r.name, Meta{});
    v("from", r.from, Meta{});
    v("conversion", r.conversion, Meta{.label = "Fed by", .stage = Stage::Feed});
    v("voltage", r.voltage, Meta{.label = "Volts out", .stage = Stage::Feed, .most = 60.0});
    v("limit", r.limit, Meta{.label = "Gives at most", .hint = "amps, printed on the module", .stage = Stage::Feed, .most = 100.0});
    v("wire_area", r.wire_area, Meta{.label = "Wire", .hint = "printed on the sleeve, as mm²", .stage = Stage::Feed, .most = 1e-4});
    v("wire_length", r.wire_length,
      Meta{.label = "Length, one way", .hint = "tape measure", .stage = Stage::Feed, .least_itself = true, .most = 100.0});
    v("contacts", r.contacts,
      Meta{.label = "Contacts in its way",
           .hint = "connectors, switch, fuse; about 20 mΩ each",
           .stage = Stage::Feed,
           .least_itself = true,
           .most = 100.0});
    v("fuse", r.fuse, Meta{.label = "Fuse", .hint = "empty: none fitted", .stage = Stage::Feed, .most = 100.0});
    v("bulk", r.bulk, Meta{.label = "Bulk capacitor", .hint = "empty: none fitted", .stage = Stage::Feed, .most = 10.0});
    v("bulk_esr", r.bulk_esr, Meta{.label = "Its ESR", .stage = Stage::Feed, .least_itself = true, .most = 100.0});
    v("bulk_rating", r.bulk_rating, Meta{.label = "It stands", .hint = "volts printed on it", .stage = Stage::Feed, .most = 1000.0});
    v("protection", r.protection, Meta{.label = "Reversed supply", .stage = Stage::Feed});
    v("protection_drop", r.protection_drop, Meta{.label = "Diode's drop", .stage = Stage::Feed, .most = 3.0});
    v("protection_resistance", r.protection_resistance, Meta{.label = "MOSFET's resistance", .stage = Stage::Feed, .most = 10.0});
    v("idle", r.idle,
      Meta{.label = "Taken all the time",
           .hint = "by monitor, latch and converter",
           .stage = Stage::Feed,
           .least_itself = true,
           .most = 10.0});
    v("dropout", r.dropout, Meta{.label = "Regulator's drop-out", .stage = Stage::Feed, .most = 10.0});
    v("theta_ja", r.theta_ja, Meta{.label = "Its heat path", .hint = "data sheet, junction to air", .stage = Stage::Feed, .most = 1000.0});
    v("efficiency", r.efficiency, Meta{.label = "Converter's efficiency", .stage = Stage::Feed, .most = 1.0});
}

void describe(Visitor& v, Board& b) {
    v("form", b.form, Meta{.label = "Board", .stage = Stage::Pins});
    v("rail", b.rail, Meta{.label = "Fed from", .stage = Stage::Feed});
    v("clock", b.clock, Meta{.label = "Clock", .hint = "one with a battery keeps the time through a power cut", .stage = Stage::Pins});
    v("watchdog", b.watchdog,
      Meta{.label = "Watchdog",
           .hint = "starts anew when it hangs: after a quarter of a second, on an ESP32 after a whole one",
           .stage = Stage::Pins});
    v("radio", b.radio, Meta{.label = "The link goes by radio", .hint = "a serial radio module, or the board's own", .stage = Stage::Pins});
    v("ground_strip", b.ground_strip, Meta{.label = "Ground strip fitted", .hint = "a row that all grounds meet on", .stage = Stage::Pins});
}

void describe(Visitor& v, PumpDemand& d) {
    v("volume", d.volume, Meta{.label = "Water per dose", .hint = "kitchen scale: 1 g is 1 mL", .most = 1.0});
    v("run_time_limit", d.run_time_limit, Meta{.label = "In at most", .hint = "how long a dose may take", .most = 86400.0});
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
      Meta{.label = "Steepest pull at",
           .hint = "from level, where its weight pulls most",
           .least = -1.5707963267948966,
           .least_itself = true,
           .most = 1.5707963267948966});
    v("diameter", d.diameter, Meta{.label = "Disc's diameter", .hint = "ruler", .most = 10.0});
    v("pull", d.pull, Meta{.label = "Or pulled: it moves at", .hint = "luggage scale, square to its arm", .most = 1e5});
    v("pull_arm", d.pull_arm, Meta{.label = "Axle to the hook", .hint = "ruler", .most = 10.0});
    v("friction", d.friction,
      Meta{.label = "Hinge friction", .hint = "hang paper clips on it until it starts to fall", .least_itself = true, .most = 1e4});
    v("wheel_load", d.wheel_load, Meta{.label = "Weight on the wheel", .hint = "bathroom scale under it; 1 kg is 9.81 N", .most = 1e5});
    v("contact_width", d.contact_width, Meta{.label = "Width of its print", .hint = "paper under the tyre, chalk round it", .most = 1.0});
    v("kingpin_offset", d.kingpin_offset, Meta{.label = "Kingpin to print's middle", .least_itself = true, .most = 1.0});
    v("grip", d.grip, Meta{.label = "Grip of tyre on floor", .hint = "rubber on wood about 0.8", .most = 2.0});
    v("turns", d.turns, Meta{.label = "Turns, counted by hand", .hint = "from end to end", .most = 1e5});
    v("angle", d.angle, Meta{.label = "Moves through", .hint = "protractor, or a folded paper", .most = 6300.0});
    v("time", d.time, Meta{.label = "In", .hint = "phone's stopwatch on your own hand doing it", .most = 1e6});
    v("speed", d.speed, Meta{.label = "Or goes on at", .hint = "count turns for a minute: 10 rpm", .most = 3000.0});
    v("margin", d.margin,
      Meta{.label = "Margin wanted", .hint = "2: never more than half of what it can", .least = 1.0, .least_itself = true, .most = 20.0});
    v("both_ways", d.both_ways, Meta{.label = "Turns both ways"});
    v("holds", d.holds, Meta{.label = "Stays put with the power off"});
}

void describe(Visitor& v, MoveDemand& d) {
    v("way", d.way, Meta{.label = "Carried by"});
    v("mass", d.mass, Meta{.label = "What moves weighs", .hint = "kitchen scale", .most = 1e4});
    v("incline", d.incline,
      Meta{.label = "Uphill at",
           .hint = "phone's level; 90 deg is straight up",
           .least = -1.5707963267948966,
           .least_itself = true,
           .most = 1.5707963267948966});
    v("friction_coefficient", d.friction_coefficient,
      Meta{.label = "Friction coefficient",
           .hint = "tilt the track until it slides: the slope, rise over run",
           .least_itself = true,
           .most = 5.0});
    v("pull", d.pull, Meta{.label = "Or pulled: it moves at", .hint = "luggage scale along the track", .most = 1e5});
    v("travel", d.travel, Meta{.label = "Travels", .hint = "tape measure", .most = 1000.0});
    v("time", d.time, Meta{.label = "In", .hint = "phone's stopwatch", .most = 1e6});
    v("pulley_teeth", d.pulley_teeth, Meta{.label = "Teeth of the pulley", .hint = "count them", .most = 500.0});
    v("belt_pitch", d.belt_pitch, Meta{.label = "Tooth to tooth", .hint = "ruler over ten teeth, by ten", .most = 0.1});
    v("diameter", d.diameter, Meta{.label = "Drum or wheel", .hint = "ruler; with the rope on it", .most = 5.0});
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
    v("way", d.way, Meta{.label = "Pressed"});
    v("force", d.force, Meta{.label = "It gives way at", .hint = "press it with the kitchen scale between; 100 g is 0.98 N", .most = 1e5});
    v("stroke", d.stroke, Meta{.label = "Stroke", .hint = "ruler, rest to end", .most = 1.0});
    v("horn", d.horn, Meta{.label = "Horn, axle to hole", .hint = "ruler", .most = 1.0});
    v("time", d.time, Meta{.label = "In", .most = 1e5});
    v("margin", d.margin,
      Meta{.label = "Margin wanted", .hint = "2: never more than half of what it can", .least = 1.0, .least_itself = true, .most = 20.0});
    v("holds", d.holds, Meta{.label = "Stays put with the power off"});
}

void describe(Visitor& v, BlowDemand& d) {
    v("way", d.way, Meta{.label = "The air is to"});
    v("heat", d.heat, Meta{.label = "Heat in the box", .hint = "volts times amps of what is in it", .most = 1e5});
    v("temperature_rise", d.temperature_rise, Meta{.label = "May warm by", .most = 200.0});
    v("volume", d.volume, Meta{.label = "Room", .hint = "length, width and height, multiplied", .most = 1e5});
    v("changes_per_hour", d.changes_per_hour, Meta{.label = "Changes an hour", .hint = "a kitchen wants 10 to 15", .most = 1000.0});
    v("area", d.area, Meta{.label = "Opening", .hint = "width times height", .most = 100.0});
    v("face_velocity", d.face_velocity,
      Meta{.label = "Air's speed there", .hint = "0.5 m/s just draws smoke; a strip of tissue leans", .most = 50.0});
    v("pressure", d.pressure,
      Meta{.label = "It takes, at that flow",
           .hint = "tube with water, one end in the duct: 1 mm is 9.8 Pa; open air 0",
           .least_itself = true,
           .most = 1e4});
    v("noise_limit", d.noise_limit, Meta{.label = "At most dB(A)", .hint = "a quiet room is 30; empty: it does not matter", .most = 140.0});
}

void describe(Visitor& v, SwitchDemand& d) {
    v("load", d.load, Meta{.label = "It is a load that is"});
    v("feeding", d.feeding, Meta{.label = "Fed from"});
    v("power", d.power, Meta{.label = "It takes", .hint = "printed on it; or volts times amps by a meter", .most = 1e5});
    v("mains_voltage", d.mains_voltage, Meta{.label = "Mains", .hint = "rms", .most = 500.0});
    v("mains_frequency", d.mains_frequency, Meta{.label = "Mains frequency", .least = 40.0, .least_itself = true, .most = 70.0});
    v("dimmed", d.dimmed, Meta{.label = "Dimmed, not only switched"});
    v("switchings_per_day", d.switchings_per_day, Meta{.label = "Switched on a day", .most = 1e6});
}

void describe(Visitor& v, HeatDemand& d) {
    v("way", d.way, Meta{.label = "To"});
    v("feeding", d.feeding, Meta{.label = "Fed from"});
    v("mass", d.mass, Meta{.label = "What is in it weighs", .hint = "kitchen scale", .most = 1e4});
    v("specific_heat", d.specific_heat,
      Meta{.label = "Its specific heat", .hint = "water 4186, dough about 2700, air 1006 J/(kg K)", .most = 2e4});
    v("temperature_rise", d.temperature_rise, Meta{.label = "By", .hint = "from the air around it", .most = 500.0});
    v("warm_up_time", d.warm_up_time, Meta{.label = "Within", .most = 1e6});
    v("loss_conductance", d.loss_conductance,
      Meta{
          .label = "It loses, per degree", .hint = "a 7 W lamp in it; watts by the rise it settles at", .least_itself = true, .most = 1e4});
    v("mains_voltage", d.mains_voltage, Meta{.label = "Mains", .hint = "rms", .most = 500.0});
    v("mains_frequency", d.mains_frequency, Meta{.label = "Mains frequency", .least = 40.0, .least_itself = true, .most = 70.0});
    v("cutout", d.cutout, Meta{.label = "Thermal cut-out fitted", .hint = "one that needs no board and no sketch"});
}

void describe(Visitor& v, Demand& d) {
    std::visit([&](auto& of_kind) { describe(v, of_kind); }, d);
}

void describe(Visitor& v, Spread& s) {
    v("id", s.id, Meta{});
    v("of_value", s.of_value, Meta{.least_itself = true, .most = 1.0});
}

void describe(Visitor& v, Work& w) {
    v("on_for", w.on_for, Meta{.label = "On at each use for", .hint = "empty: as long as the move takes", .most = 1e7});
    v("every", w.every, Meta{.label = "Used every", .hint = "empty: seldom, it cools between", .most = 1e8});
}

void describe(Visitor& v, Weights& w) {
    v("price", w.price, Meta{.label = "Price", .stage = Stage::Match});
    v("quiet", w.quiet, Meta{.label = "Quiet", .stage = Stage::Match});
    v("light", w.light, Meta{.label = "Light", .stage = Stage::Match});
    v("cool", w.cool, Meta{.label = "Cool driver", .stage = Stage::Match});
    v("smooth", w.smooth, Meta{.label = "Smooth when slow", .stage = Stage::Match});
    v("reserve", w.reserve, Meta{.label = "Strength in reserve", .stage = Stage::Match});
}

void describe(Visitor& v, Drive& d) {
    v("part", d.part, Meta{.label = "Driver", .stage = Stage::Match});
    v("gear_ratio", d.gear_ratio,
      Meta{.label = "Gears or pulleys, 1 to",
           .hint = "teeth on the load by teeth on the part",
           .stage = Stage::Match,
           .least = 0.05,
           .least_itself = true,
           .most = 1000.0});
    v("gate_resistor", d.gate_resistor, Meta{.label = "Gate resistor", .stage = Stage::Match, .most = 1e6});
    v("heat_sink", d.heat_sink,
      Meta{.label = "Heat-sink on the driver", .hint = "its K/W to the air; empty: none", .stage = Stage::Match, .most = 100.0});
    v("base_resistor", d.base_resistor,
      Meta{.label = "Base resistor", .hint = "as fitted; empty: the one proposed", .stage = Stage::Match, .most = 1e6});
    v("led_resistor", d.led_resistor,
      Meta{.label = "LED resistor", .hint = "as fitted; empty: the one proposed", .stage = Stage::Match, .most = 1e6});
    v("pulldown", d.pulldown, Meta{.label = "Pull-down", .stage = Stage::Match, .most = 1e7});
    v("pulldown_side", d.pulldown_side, Meta{.label = "Pull-down from", .stage = Stage::Match});
    v("flyback_diode", d.flyback_diode, Meta{.label = "Flyback diode fitted", .stage = Stage::Feed});
}

void describe(Visitor& v, Signal& s) {
    v("frequency", s.frequency, Meta{.label = "PWM frequency", .stage = Stage::Pulse, .most = 1e6});
    v("duty", s.duty, Meta{.label = "Runs at", .hint = "share of full power", .stage = Stage::Pulse, .most = 1.0});
    v("microsteps", s.microsteps,
      Meta{.label = "Micro-steps",
           .hint = "1, 2, 4, 8, 16 …; smoother, with less torque each",
           .stage = Stage::Pulse,
           .least = 1.0,
           .least_itself = true,
           .most = 256.0});
    v("soft_start", s.soft_start, Meta{.label = "Soft start over", .stage = Stage::Pulse, .least_itself = true, .most = 5.0});
    v("turn_pause", s.turn_pause,
      Meta{.label = "Stands still before it turns round",
           .hint = "longer than it runs on when it is let go: against its own speed it draws twice its stall current",
           .stage = Stage::Pulse,
           .least = 1e-3,
           .least_itself = true,
           .most = 60.0});
}

void describe(Visitor& v, Calibration& c) {
    v("cup_volume", c.cup_volume, Meta{.label = "Cup caught", .hint = "cup under the outlet, on a kitchen scale", .most = 1.0});
    v("cup_time", c.cup_time, Meta{.label = "Filled in", .hint = "phone's stopwatch", .most = 86400.0});
    v("pulse_min", c.pulse_min,
      Meta{.label = "Pulse at one end",
           .hint = "horn off; go down from 1.5 ms until it strains, then back a little",
           .stage = Stage::Pulse,
           .most = 0.01});
    v("pulse_max", c.pulse_max, Meta{.label = "Pulse at the other", .hint = "the same, going up", .stage = Stage::Pulse, .most = 0.01});
    v("pulse_stop", c.pulse_stop,
      Meta{.label = "Pulse at which it stands still",
           .hint = "of a servo that turns on: nudge it from 1.5 ms until it creeps neither way; absent: 1.5 ms",
           .stage = Stage::Pulse,
           .least = 1e-3,
           .most = 2e-3});
    v("start_duty", c.start_duty,
      Meta{.label = "Starts from", .hint = "Tune, sweep: the share at which it begins to turn", .stage = Stage::Tune, .most = 1.0});
    v("keep_duty", c.keep_duty, Meta{.label = "Stops again below", .hint = "Tune, sweep: going down", .stage = Stage::Tune, .most = 1.0});
    v("speed_curve", c.speed_curve, Meta{.label = "Readings of the sweep", .hint = "share:reading, …", .stage = Stage::Tune});
    v("highest_rate", c.highest_rate,
      Meta{.label = "Steps a second without a loss", .hint = "Tune, there and back against a mark", .stage = Stage::Tune, .most = 1e5});
    v("stall_current", c.stall_current,
      Meta{.label = "Current held fast",
           .hint = "hold it fast for one second, no longer; meter in the supply's wire",
           .stage = Stage::Tune,
           .most = 100.0});
    v("chopper_current", c.chopper_current,
      Meta{.label = "Chopper, peak current", .hint = "when its temperature was taken", .stage = Stage::Tune, .most = 20.0});
    v("chopper_temperature", c.chopper_temperature,
      Meta{.label = "Chopper then at",
           .hint = "after three minutes, thermometer on its chip",
           .stage = Stage::Tune,
           .least = 200.0,
           .most = 600.0});
    v("jams_below", c.jams_below,
      Meta{.label = "Jams below", .hint = "share of full speed under which portions stuck", .stage = Stage::Tune, .most = 1.0});
}

void describe(Visitor& v, Fit& f) {
    const auto length = [](const char* label, const char* hint, double most = 2.0) {
        return Meta{.label = label, .hint = hint, .stage = Stage::Prove, .most = most};
    };
    v("horn_rest", f.horn_rest,
      Meta{.label = "Horn at the middle pulse",
           .hint = "send 1.5 ms with the horn off, then fit it; from the start of its move",
           .stage = Stage::Prove,
           .least = -6.3,
           .least_itself = true,
           .most = 6.3});
    v("clearance", f.clearance,
      Meta{.label = "Air at full lock",
           .hint = "feeler gauge, or sheets of paper: 0.1 mm each",
           .stage = Stage::Prove,
           .least_itself = true,
           .most = 1.0});
    v("shaft", f.shaft, length("Shaft stands out", "caliper, from the face to the end", 0.3));
    v("hub", f.hub, length("Depth of its hub", "how far the hub takes the shaft in", 0.3));
    v("clamped", f.clamped, length("The screw holds", "all that lies under its head, together", 0.2));
    v("screw_diameter", f.screw_diameter, length("Screw, across", "M3 is 3 mm", 0.02));
    v("screw", f.screw, length("Screw, long", "from under its head", 0.3));
    v("screw_in_plastic", f.screw_in_plastic, Meta{.label = "It goes into plastic", .stage = Stage::Prove});
    v("centres", f.centres, length("Between the pulleys", "axle to axle", 5.0));
    v("driving_teeth", f.driving_teeth,
      Meta{.label = "Teeth, driving", .stage = Stage::Prove, .least = 6.0, .least_itself = true, .most = 400.0});
    v("driven_teeth", f.driven_teeth,
      Meta{.label = "Teeth, driven", .stage = Stage::Prove, .least = 6.0, .least_itself = true, .most = 400.0});
    v("tooth_pitch", f.tooth_pitch, length("Tooth to tooth", "over ten teeth, by ten", 0.05));
    v("print", f.print, Meta{.label = "Printed in", .stage = Stage::Prove});
    v("infill", f.infill, Meta{.label = "Filled to", .stage = Stage::Prove, .least_itself = true, .most = 1.0});
    v("wall", f.wall, length("Solid wall", "lines at the outside, by their width", 0.02));
    v("arm", f.arm, length("Axle to the load", "along the arm"));
    v("arm_width", f.arm_width, length("Arm, across the pull", "caliper, at its root", 0.2));
    v("arm_height", f.arm_height, length("Arm, along the pull", "caliper, at its root", 0.2));
    v("cable", f.cable, length("Its cable, across", "caliper", 0.1));
    v("opening", f.opening, length("Opening for it", "drill, or gland", 0.1));
}

void describe(Visitor& v, Channel& c) {
    v("id", c.id, Meta{});
    v("name", c.name, Meta{.label = "Name"});
    // The kind is that of the demand; another kind starts with an empty one.
    ChannelKind kind = channelKind(c);
    v("kind", kind, Meta{});
    if (kind != channelKind(c)) c.demand = freshDemand(kind);
    v("demand", c.demand, Meta{});
    v("spreads", c.spreads, Meta{});
    v("work", c.work, Meta{});
    v("actuator", c.actuator, Meta{.label = "Part", .stage = Stage::Match});
    v("drive", c.drive, Meta{});
    v("rail", c.rail, Meta{.label = "Fed from", .stage = Stage::Feed});
    v("pin", c.pin, Meta{.label = "Pin", .stage = Stage::Pins});
    v("direction_pin", c.direction_pin, Meta{.label = "Direction pin", .stage = Stage::Pins});
    v("enable_pin", c.enable_pin, Meta{.label = "Enable pin", .stage = Stage::Pins});
    v("tach_pin", c.tach_pin, Meta{.label = "Tach pin", .stage = Stage::Pins});
    v("signal", c.signal, Meta{});
    v("off_delay", c.off_delay,
      Meta{.label = "Runs on for",
           .hint = "after its reason has gone; counts in the dose",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 600.0});
    v("safe", c.safe,
      Meta{.label = "Safe state",
           .hint = "at power-up, on stop, on a lost link, where an interlock makes it give way",
           .stage = Stage::Routine});
    v("remembers", c.remembers,
      Meta{.label = "After a power cut as before", .hint = "only what is switched; it comes on unasked", .stage = Stage::Routine});
    v("calibration", c.calibration, Meta{});
    v("fit", c.fit, Meta{});
    v("weights", c.weights, Meta{});
}

void describe(Visitor& v, Input& i) {
    v("id", i.id, Meta{});
    v("name", i.name, Meta{.label = "Input", .stage = Stage::Pins});
    v("kind", i.kind, Meta{.label = "Kind of input", .stage = Stage::Pins});
    v("pin", i.pin, Meta{.label = "Pin", .stage = Stage::Pins});
    v("active_high", i.active_high,
      Meta{.label = "True while high",
           .hint = "as usual: a contact to ground is true while low (closed), a reading while high",
           .stage = Stage::Pins});
    v("wired", i.wired, Meta{.label = "Its wires go to", .hint = "look at its print or its data sheet", .stage = Stage::Pins});
    v("rail", i.rail, Meta{.label = "Fed from, or reads", .hint = "a rail; empty: the board's logic supply", .stage = Stage::Pins});
    v("output_volts", i.output_volts,
      Meta{.label = "Puts out at most", .hint = "voltmeter on its output while it is true", .stage = Stage::Pins, .most = 60.0});
    v("r_top", i.r_top, Meta{.label = "Upper resistor", .hint = "printed on it, or an ohmmeter", .stage = Stage::Pins, .most = 1e8});
    v("r_bottom", i.r_bottom,
      Meta{.label = "Resistor to ground", .hint = "printed on it, or an ohmmeter", .stage = Stage::Pins, .most = 1e8});
    v("debounce", i.debounce, Meta{.label = "Debounce", .stage = Stage::Routine, .most = 1.0});
    v("upper", i.upper,
      Meta{.label = "High from",
           .hint = "share of the reference; watch its reading on the link",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1.0});
    v("lower", i.lower,
      Meta{.label = "Low again from",
           .hint = "a little lower, so that it does not flutter",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1.0});
    v("word", i.word, Meta{.label = "Word", .hint = "eight letters or more that nobody would try", .stage = Stage::Routine});
    v("timeout", i.timeout,
      Meta{.label = "Counts for", .hint = "then it is as if no number had come", .stage = Stage::Routine, .most = 3600.0});
    v("counts", i.counts, Meta{.label = "Counts the cue", .stage = Stage::Routine});
    v("limit", i.limit,
      Meta{.label = "True from the count of", .stage = Stage::Routine, .least = 1.0, .least_itself = true, .most = 30000.0});
    v("weekdays", i.weekdays, Meta{.label = "Days", .hint = "such as mon,tue; empty: all", .stage = Stage::Routine});
    v("from_date", i.from_date, Meta{.label = "From", .hint = "such as 04-01; empty: the whole year", .stage = Stage::Routine});
    v("to_date", i.to_date, Meta{.label = "To", .hint = "such as 10-31", .stage = Stage::Routine});
    v("measures", i.measures, Meta{.label = "Its reading stands for", .stage = Stage::Tune});
    v("reading_a", i.reading_a,
      Meta{.label = "One reading", .hint = "0 to 1023, as the link shows it", .stage = Stage::Tune, .least_itself = true, .most = 1023.0});
    v("value_a", i.value_a,
      Meta{.label = "There it was", .hint = "in K, rad, m or A", .stage = Stage::Tune, .least = -1e6, .least_itself = true, .most = 1e6});
    v("reading_b", i.reading_b,
      Meta{.label = "Another reading", .hint = "far from the first", .stage = Stage::Tune, .least_itself = true, .most = 1023.0});
    v("value_b", i.value_b,
      Meta{.label = "There it was", .hint = "in K, rad, m or A", .stage = Stage::Tune, .least = -1e6, .least_itself = true, .most = 1e6});
    v("per_turn", i.per_turn,
      Meta{.label = "Pulses a turn", .hint = "turn it ten times by hand and count", .stage = Stage::Tune, .most = 1e6});
    v("sets", i.sets, Meta{.label = "Sets the number", .hint = "a name from the top of the sketch; empty: none", .stage = Stage::Routine});
}

void describe(Visitor& v, routine::Guard& g) {
    v("id", g.id, Meta{});
    v("input", g.input, Meta{});
    v("throughout", g.throughout, Meta{.label = "Also while it runs", .stage = Stage::Routine});
    v("only", g.only, Meta{.label = "Only while it is true", .stage = Stage::Routine});
}

void describe(Visitor& v, routine::Move& m) {
    v("id", m.id, Meta{});
    v("action", m.action, Meta{.stage = Stage::Routine});
    v("channel", m.channel, Meta{.stage = Stage::Routine});
    v("time", m.time, Meta{.label = "For", .hint = "empty: the dose's run time, or the move's", .stage = Stage::Routine, .most = 86400.0});
    v("angle", m.angle,
      Meta{.label = "To the angle", .hint = "from the start of its move", .stage = Stage::Routine, .least_itself = true, .most = 6300.0});
    v("input", m.input, Meta{.label = "Input waited for", .stage = Stage::Routine});
    v("released", m.released, Meta{.label = "Until it is no longer true", .stage = Stage::Routine});
    v("times", m.times,
      Meta{.label = "Times in all", .hint = "0: for ever", .stage = Stage::Routine, .least_itself = true, .most = 30000.0});
    v("place", m.place,
      Meta{.label = "To the place", .hint = "from the start of its way", .stage = Stage::Routine, .least_itself = true, .most = 1000.0});
    v("level", m.level,
      Meta{.label = "At",
           .hint = "of full power; empty: the channel's own duty",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1.0});
    v("together", m.together,
      Meta{.label = "With the one before",
           .hint = "starts together with it; what comes next waits for the longest",
           .stage = Stage::Routine});
    v("backwards", m.backwards,
      Meta{.label = "Backwards", .hint = "the other way round, after a pause in which it stands still", .stage = Stage::Routine});
}

void describe(Visitor& v, routine::Cue& c) {
    v("id", c.id, Meta{});
    v("name", c.name, Meta{.label = "Cue", .stage = Stage::Routine});
    v("input", c.input, Meta{.label = "Started by", .stage = Stage::Routine});
    v("on_release", c.on_release, Meta{.label = "When it is let go", .stage = Stage::Routine});
    v("held", c.held, Meta{.label = "Only after it was held for", .hint = "empty: at once", .stage = Stage::Routine, .most = 3600.0});
    v("every", c.every, Meta{.label = "Every", .hint = "empty: not by itself", .stage = Stage::Routine, .most = 86400.0});
    v("at_power_up", c.at_power_up, Meta{.label = "At power-up", .stage = Stage::Routine});
    v("after", c.after, Meta{.label = "After the cue", .stage = Stage::Routine});
    v("times", c.times, Meta{.label = "At these times", .hint = "such as 14:30, 19:00; empty: none", .stage = Stage::Routine});
    v("late", c.late,
      Meta{.label = "Made up for when missed by up to",
           .hint = "nothing: a missed time stays missed",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 7200.0});
    v("guards", c.guards, Meta{});
    v("moves", c.moves, Meta{});
}

void describe(Visitor& v, routine::Term& t) {
    v("id", t.id, Meta{});
    v("channel", t.channel, Meta{.stage = Stage::Routine});
    v("state", t.state, Meta{.label = "While it is", .stage = Stage::Routine});
    v("angle", t.angle,
      Meta{.label = "The angle", .hint = "from the start of its move", .stage = Stage::Routine, .least_itself = true, .most = 6300.0});
    v("place", t.place,
      Meta{.label = "The place", .hint = "from the start of its way", .stage = Stage::Routine, .least_itself = true, .most = 1000.0});
}

void describe(Visitor& v, routine::Interlock& i) {
    v("id", i.id, Meta{});
    v("channel", i.channel, Meta{});
    v("input", i.input, Meta{});
    v("terms", i.terms, Meta{});
}

void describe(Visitor& v, routine::Loop& l) {
    v("id", l.id, Meta{});
    v("channel", l.channel, Meta{.stage = Stage::Routine});
    v("input", l.input, Meta{.label = "Holds the reading of", .stage = Stage::Routine});
    v("wanted", l.wanted,
      Meta{.label = "At",
           .hint = "0 to 1023 of a level; of a tach, pulses in one period",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1023.0});
    v("proportional", l.proportional,
      Meta{.label = "Proportional",
           .hint = "permille, or steps a second, for each count",
           .stage = Stage::Routine,
           .least = -100.0,
           .least_itself = true,
           .most = 100.0});
    v("integral", l.integral,
      Meta{.label = "Integral",
           .hint = "the same, added each period",
           .stage = Stage::Routine,
           .least = -100.0,
           .least_itself = true,
           .most = 100.0});
    v("derivative", l.derivative,
      Meta{.label = "Derivative",
           .hint = "for each count it changes in a period",
           .stage = Stage::Routine,
           .least = -100.0,
           .least_itself = true,
           .most = 100.0});
    v("period", l.period, Meta{.label = "Period", .stage = Stage::Routine, .least = 0.001, .least_itself = true, .most = 1.0});
    v("most", l.most,
      Meta{.label = "At most",
           .hint = "permille, or steps a second",
           .stage = Stage::Routine,
           .least = 1.0,
           .least_itself = true,
           .most = 8000.0});
    v("smoothing", l.smoothing,
      Meta{.label = "Of a new change counts",
           .hint = "all of it: quick and noisy; a quarter: calm and late",
           .stage = Stage::Tune,
           .least = 0.0625,
           .least_itself = true,
           .most = 1.0});
    v("forward", l.forward,
      Meta{.label = "Ahead, for each count wanted",
           .hint = "permille that are given before any error shows",
           .stage = Stage::Tune,
           .least = -100.0,
           .least_itself = true,
           .most = 100.0});
    v("band", l.band, Meta{.label = "Lets be an error of", .hint = "counts", .stage = Stage::Tune, .least_itself = true, .most = 200.0});
    v("least", l.least,
      Meta{.label = "Never less than",
           .hint = "permille; below its start duty a motor only hums",
           .stage = Stage::Tune,
           .least_itself = true,
           .most = 1000.0});
    v("lean_rate", l.lean_rate,
      Meta{.label = "Leans, for each step a second",
           .hint = "counts; what balances leans back against its rolling",
           .stage = Stage::Tune,
           .least = -1.0,
           .least_itself = true,
           .most = 0.9});
    v("height", l.height,
      Meta{.label = "Axle to the middle of its weight",
           .hint = "lay it across a ruler's edge until it balances",
           .stage = Stage::Tune,
           .most = 3.0});
    v("lean_way", l.lean_way,
      Meta{.label = "Leans, for each step away",
           .hint = "counts; brings it home",
           .stage = Stage::Tune,
           .least = -0.49,
           .least_itself = true,
           .most = 0.49});
}

void describe(Visitor& v, routine::Follower& f) {
    v("id", f.id, Meta{});
    v("channel", f.channel, Meta{.label = "What follows", .stage = Stage::Routine});
    v("input", f.input, Meta{.label = "Follows", .stage = Stage::Routine});
    v("unless", f.unless, Meta{.label = "Unless", .stage = Stage::Routine});
    v("released", f.released, Meta{.label = "While it is not true", .stage = Stage::Routine});
    v("proportional", f.proportional, Meta{.label = "As much as the reading", .stage = Stage::Routine});
    v("dead", f.dead,
      Meta{.label = "Off below", .hint = "share of the knob's way", .stage = Stage::Routine, .least_itself = true, .most = 0.9});
    v("start", f.start,
      Meta{.label = "Starts at", .hint = "least share at which it turns", .stage = Stage::Routine, .least_itself = true, .most = 1.0});
}

void describe(Visitor& v, routine::Routine& r) {
    v("cues", r.cues, Meta{});
    v("interlocks", r.interlocks, Meta{});
    v("followers", r.followers, Meta{});
    v("loops", r.loops, Meta{});
    v("link_silence", r.link_silence,
      Meta{.label = "Link lost after silence of", .hint = "empty: it may go; what runs goes on", .stage = Stage::Routine, .most = 3600.0});
}

void describe(Visitor& v, journal::Check& c) {
    v("id", c.id, Meta{});
    v("reading", c.reading, Meta{});
    v("date", c.date, Meta{});
    v("skipped", c.skipped, Meta{});
    v("basis", c.basis, Meta{});
    v("photo", c.photo, Meta{});
}

void describe(Visitor& v, journal::Entry& e) {
    v("id", e.id, Meta{});
    v("date", e.date, Meta{});
    v("kind", e.kind, Meta{});
    v("channel", e.channel, Meta{});
    v("text", e.text, Meta{});
    v("settings", e.settings, Meta{});
    v("lesson", e.lesson, Meta{});
    v("stage", e.stage, Meta{});
    v("part", e.part, Meta{});
    v("photo", e.photo, Meta{});
    v("cost", e.cost, Meta{.least = any_below});
}

void describe(Visitor& v, journal::WireNote& w) {
    v("id", w.id, Meta{});
    v("from", w.from, Meta{});
    v("to", w.to, Meta{});
    v("colour", w.colour, Meta{});
    v("area", w.area, Meta{.most = 1e-4});
    v("length", w.length, Meta{.most = 100.0});
    v("connector", w.connector, Meta{});
}

void describe(Visitor& v, journal::WiringSnapshot& s) {
    v("id", s.id, Meta{});
    v("date", s.date, Meta{});
    v("name", s.name, Meta{});
    v("board", s.board, Meta{});
    v("wires", s.wires, Meta{});
}

void describe(Visitor& v, journal::Sample& s) {
    v("id", s.id, Meta{});
    v("part", s.part, Meta{});
    v("name", s.name, Meta{});
    v("date", s.date, Meta{});
    v("places", s.places, Meta{});
    v("current", s.current, Meta{.least_itself = true, .most = 1000.0});
    v("speed", s.speed, Meta{.least_itself = true, .most = 1e5});
    v("range", s.range, Meta{.least_itself = true, .most = 1000.0});
    v("resistance", s.resistance, Meta{.least_itself = true, .most = 1e9});
    v("temperature", s.temperature, Meta{.least = 200.0, .most = 600.0});
}

void describe(Visitor& v, journal::Stock& s) {
    v("id", s.id, Meta{});
    v("in_hand", s.in_hand, Meta{.least_itself = true, .most = 10000.0});
    v("spares", s.spares, Meta{.least_itself = true, .most = 10000.0});
    v("lead_time", s.lead_time, Meta{.least_itself = true, .most = 4e7});
    v("substitute", s.substitute, Meta{});
}

void describe(Visitor& v, journal::Care& c) {
    v("id", c.id, Meta{});
    v("channel", c.channel, Meta{});
    v("what", c.what, Meta{});
    v("every", c.every, Meta{.least = 3600.0, .least_itself = true, .most = 1e9});
    v("done", c.done, Meta{});
}

void describe(Visitor& v, journal::Journal& j) {
    v("hours", j.hours, Meta{.label = "Hours spent", .stage = Stage::Log, .least_itself = true});
    v("shipping", j.shipping, Meta{.label = "Paid for posting", .stage = Stage::Log, .least_itself = true, .most = 1e6});
    v("minutes_saved_per_use", j.minutes_saved_per_use, Meta{.label = "Saves at each use", .stage = Stage::Log, .least_itself = true});
    v("uses_per_week", j.uses_per_week, Meta{.label = "Uses a week", .stage = Stage::Log, .least_itself = true});
    v("entries", j.entries, Meta{});
    v("snapshots", j.snapshots, Meta{});
    v("samples", j.samples, Meta{});
    v("stock", j.stock, Meta{});
    v("care", j.care, Meta{});
}

void describe(Visitor& v, Project& p) {
    v("brief", p.brief, Meta{});
    v("sources", p.sources, Meta{});
    v("rails", p.rails, Meta{});
    v("board", p.board, Meta{});
    v("channels", p.channels, Meta{});
    v("inputs", p.inputs, Meta{});
    v("routine", p.routine, Meta{});
    v("wires", p.wires, Meta{});
    v("proof", p.proof, Meta{});
    v("journal", p.journal, Meta{});
}

}  // namespace hinge::project
