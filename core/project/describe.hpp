#pragma once
// One description of every field of a project: its name in the file, its words on the screen, its
// range and how to measure it. The file, the schema, the facts on the screen and the edits by path
// are all visitors of it.
#include "project/project.hpp"
#include <limits>

namespace hinge::project {

struct Meta {
    const char* label = "";
    const char* hint = "";       ///< how to measure or decide it
    Stage stage = Stage::Need;
    double least = 0.0;
    bool least_itself = false;
    double most = std::numeric_limits<double>::infinity();
};
inline constexpr double any_below = -std::numeric_limits<double>::infinity();

template <class V>
void describe(V& v, Brief& b) {
    v("name", b.name, Meta{.label = "Name"});
    v("purpose", b.purpose, Meta{.label = "What it is for"});
    v("place", b.place, Meta{.label = "Where it stands"});
    v("nearby", b.nearby, Meta{.label = "Who is near it"});
    v("ambient", b.ambient, Meta{.label = "Air around it", .hint = "room thermometer; in a box, inside it", .least = 233.15, .least_itself = true, .most = 353.15});
    v("build_style", b.build_style, Meta{.label = "Build style"});
    v("hour_value", b.hour_value, Meta{.label = "Worth of an hour", .stage = Stage::Log, .least_itself = true});
    v("currency", b.currency, Meta{.label = "Currency", .stage = Stage::Log});
}
template <class V>
void describe(V& v, power::Source& s) {
    v("id", s.id, Meta{});
    v("name", s.name, Meta{.label = "Source", .stage = Stage::Feed});
    v("kind", s.kind, Meta{.label = "Kind of source", .stage = Stage::Feed});
    v("voltage", s.voltage, Meta{.label = "Gives", .hint = "printed on it; check with a meter", .stage = Stage::Feed, .most = 60.0});
    v("current", s.current, Meta{.label = "Up to", .hint = "printed on it", .stage = Stage::Feed, .most = 100.0});
}
template <class V>
void describe(V& v, power::Rail& r) {
    v("id", r.id, Meta{});
    v("name", r.name, Meta{});
    v("from", r.from, Meta{});
    v("conversion", r.conversion, Meta{.label = "Fed by", .stage = Stage::Feed});
    v("voltage", r.voltage, Meta{.label = "Volts out", .stage = Stage::Feed, .most = 60.0});
    v("wire_area", r.wire_area, Meta{.label = "Wire", .hint = "printed on the sleeve, as mm²", .stage = Stage::Feed, .most = 1e-4});
    v("wire_length", r.wire_length, Meta{.label = "Length, one way", .hint = "tape measure", .stage = Stage::Feed, .least_itself = true, .most = 100.0});
    v("fuse", r.fuse, Meta{.label = "Fuse", .hint = "empty: none fitted", .stage = Stage::Feed, .most = 100.0});
    v("bulk", r.bulk, Meta{.label = "Bulk capacitor", .hint = "empty: none fitted", .stage = Stage::Feed, .most = 10.0});
    v("bulk_esr", r.bulk_esr, Meta{.label = "Its ESR", .stage = Stage::Feed, .least_itself = true, .most = 100.0});
    v("dropout", r.dropout, Meta{.label = "Regulator's drop-out", .stage = Stage::Feed, .most = 10.0});
    v("theta_ja", r.theta_ja, Meta{.label = "Its heat path", .hint = "data sheet, junction to air", .stage = Stage::Feed, .most = 1000.0});
    v("efficiency", r.efficiency, Meta{.label = "Converter's efficiency", .stage = Stage::Feed, .most = 1.0});
}
template <class V>
void describe(V& v, Board& b) {
    v("form", b.form, Meta{.label = "Board", .stage = Stage::Pins});
    v("rail", b.rail, Meta{.label = "Fed from", .stage = Stage::Feed});
}
template <class V>
void describe(V& v, PumpDemand& d) {
    v("volume", d.volume, Meta{.label = "Water per dose", .hint = "kitchen scale: 1 g is 1 mL", .most = 1.0});
    v("run_time_limit", d.run_time_limit, Meta{.label = "In at most", .hint = "how long a dose may take", .most = 86400.0});
    v("doses_per_day", d.doses_per_day, Meta{.label = "Doses a day", .most = 10000.0});
    v("lift", d.lift, Meta{.label = "Lift", .hint = "ruler, water's surface to outlet", .least = -10.0, .least_itself = true, .most = 50.0});
    v("tube_length", d.tube_length, Meta{.label = "Tube length", .hint = "tape measure", .least_itself = true, .most = 100.0});
    v("tube_diameter", d.tube_diameter, Meta{.label = "Tube bore", .hint = "inside; a drill bit's shank is a gauge", .most = 0.2});
    v("fittings_k", d.fittings_k, Meta{.label = "Fittings, sum of K", .hint = "elbow about 1, nozzle 2 to 5", .least_itself = true, .most = 1000.0});
}
template <class V>
void describe(V& v, Drive& d) {
    v("part", d.part, Meta{.label = "Switch", .stage = Stage::Match});
    v("gate_resistor", d.gate_resistor, Meta{.label = "Gate or base resistor", .stage = Stage::Match, .most = 1e6});
    v("pulldown", d.pulldown, Meta{.label = "Pull-down", .stage = Stage::Match, .most = 1e7});
    v("pulldown_side", d.pulldown_side, Meta{.label = "Pull-down from", .stage = Stage::Match});
    v("flyback_diode", d.flyback_diode, Meta{.label = "Flyback diode fitted", .stage = Stage::Feed});
}
template <class V>
void describe(V& v, Signal& s) {
    v("frequency", s.frequency, Meta{.label = "PWM frequency", .stage = Stage::Pulse, .most = 1e6});
    v("duty", s.duty, Meta{.label = "Runs at", .hint = "share of full power", .stage = Stage::Pulse, .most = 1.0});
    v("soft_start", s.soft_start, Meta{.label = "Soft start over", .stage = Stage::Pulse, .least_itself = true, .most = 5.0});
}
template <class V>
void describe(V& v, Calibration& c) {
    v("cup_volume", c.cup_volume, Meta{.label = "Cup caught", .hint = "cup under the outlet, on a kitchen scale", .most = 1.0});
    v("cup_time", c.cup_time, Meta{.label = "Filled in", .hint = "phone's stopwatch", .most = 86400.0});
}
template <class V>
void describe(V& v, Channel& c) {
    v("id", c.id, Meta{});
    v("name", c.name, Meta{.label = "Name"});
    v("kind", c.kind, Meta{});
    v("demand", c.demand, Meta{});
    v("actuator", c.actuator, Meta{.label = "Pump", .stage = Stage::Match});
    v("drive", c.drive, Meta{});
    v("rail", c.rail, Meta{.label = "Fed from", .stage = Stage::Feed});
    v("pin", c.pin, Meta{.label = "Pin", .stage = Stage::Pins});
    v("signal", c.signal, Meta{});
    v("off_delay", c.off_delay, Meta{.label = "Runs on for", .hint = "after its reason has gone; counts in the dose", .stage = Stage::Routine, .least_itself = true, .most = 600.0});
    v("safe", c.safe, Meta{});
    v("calibration", c.calibration, Meta{});
}
template <class V>
void describe(V& v, Input& i) {
    v("id", i.id, Meta{});
    v("name", i.name, Meta{.label = "Input", .stage = Stage::Pins});
    v("kind", i.kind, Meta{});
    v("pin", i.pin, Meta{.label = "Pin", .stage = Stage::Pins});
    v("active_high", i.active_high, Meta{.label = "True when its contact is open", .stage = Stage::Pins});
    v("debounce", i.debounce, Meta{.label = "Debounce", .stage = Stage::Routine, .most = 1.0});
}
template <class V>
void describe(V& v, routine::Guard& g) {
    v("id", g.id, Meta{});
    v("input", g.input, Meta{});
    v("throughout", g.throughout, Meta{.label = "Also while it runs", .stage = Stage::Routine});
}
template <class V>
void describe(V& v, routine::Move& m) {
    v("id", m.id, Meta{});
    v("action", m.action, Meta{.stage = Stage::Routine});
    v("channel", m.channel, Meta{.stage = Stage::Routine});
    v("time", m.time, Meta{.label = "For", .hint = "empty: the dose's run time", .stage = Stage::Routine, .most = 86400.0});
}
template <class V>
void describe(V& v, routine::Cue& c) {
    v("id", c.id, Meta{});
    v("name", c.name, Meta{.label = "Cue", .stage = Stage::Routine});
    v("input", c.input, Meta{.label = "Started by", .stage = Stage::Routine});
    v("times", c.times, Meta{.label = "At these times", .hint = "such as 14:30, 19:00; empty: none", .stage = Stage::Routine});
    v("guards", c.guards, Meta{});
    v("moves", c.moves, Meta{});
}
template <class V>
void describe(V& v, routine::Interlock& i) {
    v("id", i.id, Meta{});
    v("channel", i.channel, Meta{});
    v("input", i.input, Meta{});
}
template <class V>
void describe(V& v, routine::Routine& r) {
    v("cues", r.cues, Meta{});
    v("interlocks", r.interlocks, Meta{});
}
template <class V>
void describe(V& v, journal::Check& c) {
    v("id", c.id, Meta{});
    v("reading", c.reading, Meta{});
    v("date", c.date, Meta{});
    v("skipped", c.skipped, Meta{});
}
template <class V>
void describe(V& v, journal::Entry& e) {
    v("id", e.id, Meta{});
    v("date", e.date, Meta{});
    v("kind", e.kind, Meta{});
    v("channel", e.channel, Meta{});
    v("text", e.text, Meta{});
    v("settings", e.settings, Meta{});
    v("lesson", e.lesson, Meta{});
    v("cost", e.cost, Meta{.least = any_below});
}
template <class V>
void describe(V& v, journal::Journal& j) {
    v("hours", j.hours, Meta{.label = "Hours spent", .stage = Stage::Log, .least_itself = true});
    v("minutes_saved_per_use", j.minutes_saved_per_use, Meta{.label = "Saves at each use", .stage = Stage::Log, .least_itself = true});
    v("uses_per_week", j.uses_per_week, Meta{.label = "Uses a week", .stage = Stage::Log, .least_itself = true});
    v("entries", j.entries, Meta{});
}
template <class V>
void describe(V& v, Project& p) {
    v("brief", p.brief, Meta{});
    v("sources", p.sources, Meta{});
    v("rails", p.rails, Meta{});
    v("board", p.board, Meta{});
    v("channels", p.channels, Meta{});
    v("inputs", p.inputs, Meta{});
    v("routine", p.routine, Meta{});
    v("proof", p.proof, Meta{});
    v("journal", p.journal, Meta{});
}

}  // namespace hinge::project
