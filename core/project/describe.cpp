#include "project/describe_parts.hpp"

namespace hinge::project {

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
    v("also", r.also, Meta{.label = "What else hangs on it", .hint = "display, radio, sensors: with commas between", .stage = Stage::Feed});
    v("also_draws", r.also_draws,
      Meta{.label = "That draws, together",
           .hint = "all the time, at its most: data sheets, or a meter in its plus",
           .stage = Stage::Feed,
           .least_itself = true,
           .most = 100.0});
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
    v("radio", b.radio, Meta{.label = "Spoken to by radio", .hint = "a serial radio module, or the board's own", .stage = Stage::Pins});
    v("radio_apart", b.radio_apart,
      Meta{.label = "Radio on a line of its own", .hint = "two pins for it; the upload pins and the link stay free", .stage = Stage::Pins});
    v("radio_in_pin", b.radio_in_pin,
      Meta{.label = "Radio: comes in at", .hint = "from its TX; a pin with an interrupt", .stage = Stage::Pins});
    v("radio_out_pin", b.radio_out_pin, Meta{.label = "Radio: goes out at", .hint = "to its RX", .stage = Stage::Pins});
    v("radio_rate", b.radio_rate,
      Meta{.label = "Radio: baud",
           .hint = "as the module is set",
           .stage = Stage::Pins,
           .least = 300.0,
           .least_itself = true,
           .most = 250e3});
    v("radio_supply", b.radio_supply,
      Meta{.label = "Radio: its supply", .hint = "3.3 V, as most are", .stage = Stage::Pins, .least = 1.0, .most = 6.0});
    v("radio_starts", b.radio_starts, Meta{.label = "Radio may start cues", .stage = Stage::Pins});
    v("radio_drives", b.radio_drives, Meta{.label = "Radio may drive by hand", .stage = Stage::Pins});
    v("radio_sets", b.radio_sets, Meta{.label = "Radio may set numbers and the clock", .stage = Stage::Pins});
    v("crossing_pin", b.crossing_pin,
      Meta{.label = "Mains crossings come in at",
           .hint = "the phase control board's zero-cross output, or a coupler's",
           .stage = Stage::Pins});
    v("register_clock_pin", b.register_clock_pin,
      Meta{.label = "Registers: clock", .hint = "SCK, for all drivers whose settings are registers on such a bus", .stage = Stage::Pins});
    v("register_out_pin", b.register_out_pin, Meta{.label = "Registers: data out", .hint = "to their SDI", .stage = Stage::Pins});
    v("register_in_pin", b.register_in_pin, Meta{.label = "Registers: data in", .hint = "from their SDO", .stage = Stage::Pins});
    v("expander_clock_pin", b.expander_clock_pin,
      Meta{.label = "Expanders: clock", .hint = "SCL, of those on two wires", .stage = Stage::Pins});
    v("expander_data_pin", b.expander_data_pin, Meta{.label = "Expanders: data", .hint = "SDA", .stage = Stage::Pins});
    v("expander_serial_pin", b.expander_serial_pin,
      Meta{.label = "Expanders: serial", .hint = "to the RX of one on a serial line", .stage = Stage::Pins});
    v("ground_strip", b.ground_strip, Meta{.label = "Ground strip fitted", .hint = "a row that all grounds meet on", .stage = Stage::Pins});
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

namespace {
// Where a pin lies that is not the board's own.
void liesOn(Visitor& v, std::string& expander, Count& board) {
    v("expander", expander,
      Meta{.label = "Its pin lies on", .hint = "a board of more lines; empty: the board itself", .stage = Stage::Pins});
    v("expander_board", board,
      Meta{.label = "Of several such boards, number",
           .hint = "1: no address bridge closed; 2: the next address, and so on",
           .stage = Stage::Pins,
           .least = 1.0,
           .least_itself = true,
           .most = 8.0});
}
}  // namespace

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
    liesOn(v, d.expander, d.expander_board);
    v("flyback_diode", d.flyback_diode, Meta{.label = "Flyback diode fitted", .stage = Stage::Feed});
}

void describe(Visitor& v, Signal& s) {
    v("frequency", s.frequency, Meta{.label = "PWM frequency", .stage = Stage::Pulse, .most = 1e6});
    v("duty", s.duty, Meta{.label = "Runs at", .hint = "share of full power", .stage = Stage::Pulse, .most = 1.0});
    v("let_go_after", s.let_go_after,
      Meta{.label = "Let go after",
           .hint = "standing still: its driver sleeps, a servo gets no pulses; empty: never",
           .stage = Stage::Pulse,
           .most = 86400.0});
    v("at_rest", s.at_rest,
      Meta{.label = "Off, its motor",
           .hint = "braked it stands sooner, also on stop and where a guard ends its cue",
           .stage = Stage::Pulse});
    v("share_of", s.share_of,
      Meta{.label = "A share is of its", .hint = "in a resistance the power goes with the square of the rms volts", .stage = Stage::Pulse});
    v("microsteps", s.microsteps,
      Meta{.label = "Micro-steps",
           .hint = "1, 2, 4, 8, 16 …; smoother, with less torque each",
           .stage = Stage::Pulse,
           .least = 1.0,
           .least_itself = true,
           .most = 256.0});
    v("hold_share", s.hold_share,
      Meta{.label = "At rest held with",
           .hint = "share of its running current: motor and driver heat with its square, and hold in proportion",
           .stage = Stage::Pulse,
           .least = 0.05,
           .least_itself = true,
           .most = 1.0});
    v("stall_level", s.stall_level,
      Meta{.label = "Sees a stall at",
           .hint = "as its driver's register takes it: try it by hand, a finger on the shaft; empty: never",
           .stage = Stage::Pulse,
           .least = -64.0,
           .least_itself = true,
           .most = 255.0});
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
    v("direction_pin", c.direction_pin, Meta{.label = "Direction, second input or HIGH 2", .stage = Stage::Pins});
    v("low_pin", c.low_pin,
      Meta{.label = "LOW 1, a lower switch", .hint = "the other output of the timer behind Pin", .stage = Stage::Pins});
    v("back_low_pin", c.back_low_pin,
      Meta{.label = "LOW 2, a lower switch", .hint = "the other output of the timer behind HIGH 2", .stage = Stage::Pins});
    v("green_pin", c.green_pin, Meta{.label = "Pin of its green", .hint = "Pin is its red's", .stage = Stage::Pins});
    v("blue_pin", c.blue_pin, Meta{.label = "Pin of its blue", .stage = Stage::Pins});
    v("enable_pin", c.enable_pin, Meta{.label = "Enable pin", .stage = Stage::Pins});
    v("select_pin", c.select_pin,
      Meta{.label = "Select, or serial line", .hint = "of a driver whose settings are registers", .stage = Stage::Pins});
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
    liesOn(v, i.expander, i.expander_board);
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
    v("belongs_to", i.belongs_to,
      Meta{.label = "Tells the speed or current of", .hint = "a channel; true then only while that is on", .stage = Stage::Pins});
    v("run_up", i.run_up,
      Meta{.label = "Believed once it has been on for",
           .hint = "longer than it takes to start",
           .stage = Stage::Routine,
           .least = 0.05,
           .least_itself = true,
           .most = 30.0});
    v("sets", i.sets, Meta{.label = "Sets the number", .hint = "a name from the top of the sketch; empty: none", .stage = Stage::Routine});
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
