#include "project/describe_parts.hpp"

namespace hinge::project {

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
      Meta{.label = "To the angle",
           .hint = "from the start of its move; of a search: backs off so far and comes again slowly",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 6300.0});
    v("input", m.input, Meta{.label = "Input waited for", .stage = Stage::Routine});
    v("released", m.released, Meta{.label = "Until it is no longer true", .stage = Stage::Routine});
    v("times", m.times,
      Meta{.label = "Times in all", .hint = "0: for ever", .stage = Stage::Routine, .least_itself = true, .most = 30000.0});
    v("place", m.place,
      Meta{.label = "To the place",
           .hint = "from the start of its way; of a search: backs off so far and comes again slowly",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1000.0});
    v("level", m.level,
      Meta{.label = "At",
           .hint = "of full power; empty: the channel's own duty",
           .stage = Stage::Routine,
           .least_itself = true,
           .most = 1.0});
    v("colour", m.colour,
      Meta{.label = "In the colour", .hint = "#ff8000, as a screen shows it; empty: white, all three alike", .stage = Stage::Routine});
    v("together", m.together,
      Meta{.label = "With the one before",
           .hint = "starts together with it; what comes next waits for the longest",
           .stage = Stage::Routine});
    v("from_here", m.from_here,
      Meta{.label = "From where it stands",
           .hint = "so far on, or back; where that leads out of its way the cue gives up",
           .stage = Stage::Routine});
    v("in_line", m.in_line,
      Meta{.label = "In a straight line with it", .hint = "all arrive together, in the longest of their times", .stage = Stage::Routine});
    v("backwards", m.backwards,
      Meta{.label = "Backwards",
           .hint = "what turns: the other way round, after a pause; from where it stands: back towards its start",
           .stage = Stage::Routine});
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

namespace {

// What only has a meaning for what balances.
void describeLean(Visitor& v, routine::Loop& l) {
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

}  // namespace

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
    v("both", l.both,
      Meta{.label = "Drives it both ways",
           .hint = "what a bridge turns round: towards what is wanted, from either side",
           .stage = Stage::Routine});
    describeLean(v, l);
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

}  // namespace hinge::project
