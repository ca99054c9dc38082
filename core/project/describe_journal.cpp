#include "project/describe_parts.hpp"

namespace hinge::project {

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

}  // namespace hinge::project
