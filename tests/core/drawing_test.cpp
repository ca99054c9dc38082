// The wiring drawn, against the wiring list it is drawn from: every wire once, from the end that the list names to the other, none across
// another, and nothing on top of what else is said.
#include <cmath>
#include <set>
#include "drawing/circuit.hpp"
#include "drawing/ends.hpp"
#include "drawing/svg.hpp"
#include "plan/pin_plan.hpp"
#include "support/alone.hpp"
#include "support/expanders.hpp"
#include "support/matrix.hpp"
#include "support/radio.hpp"
#include "support/random_edits.hpp"
#include "support/switch_ends.hpp"

namespace hinge {
namespace {

using drawing::Drawing;
using drawing::Point;
using drawing::Stroke;
using project::ChannelKind;

struct Drawn {
    std::vector<plan::WireRow> rows;
    std::vector<Drawing> drawings;
};

class WiringDrawn : public ::testing::Test {
protected:
    Drawn drawn(const project::Project& project) {
        const auto plan = plan::evaluate(project, parts_);
        Drawn out;
        out.rows = plan::wireRows(project, plan::wiring(project, parts_, plan));
        out.drawings = drawing::circuits(project, parts_, plan, out.rows);
        // Each name in the list is one that the drawing knows: what it calls an end, and what the kinds call it, stay together.
        const drawing::Ends ends(project, parts_, plan, out.rows);
        for (std::size_t row = 0; row < out.rows.size(); ++row)
            for (const auto& end : {out.rows[row].wire.from, out.rows[row].wire.to})
                EXPECT_FALSE(ends.read(end, row).box.starts_with("other/")) << end;
        return out;
    }
    void holds(const project::Project& project);
    project::Parts parts_ = test::shippedParts();
};

bool near(Point a, Point b, double within = 0.05) {
    return std::hypot(a.x - b.x, a.y - b.y) <= within;
}

// Where a wire's own lines end: what lies in it, a resistor or a diode, is a gap between two of them.
std::set<std::pair<long, long>> endsOf(const Drawing& drawing, int wire) {
    std::set<std::pair<long, long>> ends;
    for (const auto& line : drawing.lines)
        if (line.stroke == Stroke::Wire && line.wire == wire)
            for (const auto& end : {line.points.front(), line.points.back()})
                ends.insert({std::lround(end.x * 10), std::lround(end.y * 10)});
    return ends;
}

double orient(Point a, Point b, Point c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}
// Two stretches that go through each other, or lie on each other for some length.
bool cross(Point a, Point b, Point c, Point d) {
    const double o1 = orient(a, b, c), o2 = orient(a, b, d), o3 = orient(c, d, a), o4 = orient(c, d, b);
    if (o1 * o2 < -1e-6 && o3 * o4 < -1e-6) return true;
    if (std::abs(o1) > 1e-6 || std::abs(o2) > 1e-6) return false;
    const bool level = std::abs(a.y - b.y) < 1e-9;
    const auto span = [level](Point p, Point q) {
        const double from = level ? p.x : p.y, to = level ? q.x : q.y;
        return std::pair{std::min(from, to), std::max(from, to)};
    };
    const auto one = span(a, b), other = span(c, d);
    return std::min(one.second, other.second) - std::max(one.first, other.first) > 0.5;
}

void crossNowhere(const Drawing& drawing) {
    struct Stretch {
        Point a, b;
        int wire;
    };
    std::vector<Stretch> all;
    for (const auto& line : drawing.lines)
        if (line.stroke == Stroke::Wire)
            for (std::size_t k = 1; k < line.points.size(); ++k) all.push_back({line.points[k - 1], line.points[k], line.wire});
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t j = i + 1; j < all.size(); ++j)
            if (all[i].wire != all[j].wire)
                EXPECT_FALSE(cross(all[i].a, all[i].b, all[j].a, all[j].b))
                    << drawing.title << ": wires " << all[i].wire + 1 << " and " << all[j].wire + 1 << " at " << all[i].a.x << ", "
                    << all[i].a.y;
}

struct Rect {
    double left, top, right, bottom;
};
Rect rectOf(const drawing::Words& words) {
    const double wide = drawing::widthOf(words.text, words.size) * 0.9;
    const double left = words.toward == drawing::Toward::Right  ? words.at.x
                        : words.toward == drawing::Toward::Left ? words.at.x - wide
                                                                : words.at.x - wide / 2;
    return {left, words.at.y - words.size * 0.7, left + wide, words.at.y};
}
void sayNothingOnTopOfAnother(const Drawing& drawing) {
    for (std::size_t i = 0; i < drawing.words.size(); ++i)
        for (std::size_t j = i + 1; j < drawing.words.size(); ++j) {
            const auto a = rectOf(drawing.words[i]), b = rectOf(drawing.words[j]);
            const bool apart = a.right <= b.left + 1 || b.right <= a.left + 1 || a.bottom <= b.top + 1 || b.bottom <= a.top + 1;
            EXPECT_TRUE(apart) << drawing.title << ": '" << drawing.words[i].text << "' on '" << drawing.words[j].text << "'";
        }
}

// Which words stand beside a place: within the reach of a terminal's name, a flag or a supply's name.
bool said(const Drawing& drawing, Point at, const std::string& words) {
    for (const auto& each : drawing.words) {
        const auto r = rectOf(each);
        const double dx = std::max({r.left - at.x, 0.0, at.x - r.right}), dy = std::max({r.top - at.y, 0.0, at.y - r.bottom});
        if (!each.text.empty() && words.find(each.text) != std::string::npos && std::hypot(dx, dy) < 30.0) return true;
    }
    return false;
}
bool isGround(const std::string& end) {
    return end == "ground" || end == "board GND" || end == "every source's minus";
}

// Whether a wire ends on another's line that the list leads to the same end: a junction.
bool joins(const Drawing& drawing, const std::vector<plan::WireRow>& rows, int wire, Point at, const std::string& name) {
    const bool dot = std::any_of(drawing.discs.begin(), drawing.discs.end(),
                                 [&](const drawing::Disc& disc) { return disc.stroke == Stroke::Filled && near(disc.at, at); });
    return dot && std::any_of(drawing.lines.begin(), drawing.lines.end(), [&](const drawing::Line& line) {
               if (line.stroke != Stroke::Wire || line.wire == wire) return false;
               const auto& other = rows[static_cast<std::size_t>(line.wire)].wire;
               const auto a = line.points.front(), b = line.points.back();
               const bool on = std::abs(orient(a, b, at)) < 1e-6 && at.x >= std::min(a.x, b.x) - 0.1 && at.x <= std::max(a.x, b.x) + 0.1 &&
                               at.y >= std::min(a.y, b.y) - 0.1 && at.y <= std::max(a.y, b.y) + 0.1;
               return on && (other.from == name || other.to == name);
           });
}

void WiringDrawn::holds(const project::Project& project) {
    const auto it = drawn(project);
    std::vector<int> times(it.rows.size(), 0);
    for (const auto& drawing : it.drawings) {
        SCOPED_TRACE(project.brief.name + ", " + drawing.title);
        for (const auto& run : drawing.runs) {
            ASSERT_GE(run.wire, 0);
            ASSERT_LT(static_cast<std::size_t>(run.wire), it.rows.size());
            const auto& row = it.rows[static_cast<std::size_t>(run.wire)];
            ++times[static_cast<std::size_t>(run.wire)];
            EXPECT_EQ(run.from, row.wire.from);
            EXPECT_EQ(run.to, row.wire.to);
            const auto ends = endsOf(drawing, run.wire);
            for (const auto& [at, name] : {std::pair{run.a, run.from}, {run.b, run.to}}) {
                EXPECT_TRUE(ends.count({std::lround(at.x * 10), std::lround(at.y * 10)}) == 1)
                    << row.label << " does not end where it should";
                if (isGround(name) || name == "board " || row.wire.from == "nothing" || row.wire.to == "nothing" ||
                    name.find("'s converter, ") != std::string::npos || name.find("solid-state relay") != std::string::npos)
                    continue;  // a symbol, an open end, or a box that says it
                EXPECT_TRUE(said(drawing, at, name) || joins(drawing, it.rows, run.wire, at, name))
                    << row.label << ": nothing at its end says " << name;
            }
            const bool labelled = std::any_of(drawing.words.begin(), drawing.words.end(), [&](const drawing::Words& words) {
                return words.wire == run.wire && words.text == drawing::markOf(row);
            });
            EXPECT_TRUE(labelled) << row.label;
        }
        crossNowhere(drawing);
        sayNothingOnTopOfAnother(drawing);
        for (const auto& line : drawing.lines)
            for (const auto& point : line.points) {
                EXPECT_GE(point.x, -1.0);
                EXPECT_GE(point.y, -1.0);
                EXPECT_LE(point.x, drawing.width + 1.0);
                EXPECT_LE(point.y, drawing.height + 1.0);
            }
    }
    for (std::size_t k = 0; k < times.size(); ++k)
        EXPECT_EQ(times[k], 1) << project.brief.name << ": " << it.rows[k].label << ", " << it.rows[k].wire.from << " to "
                               << it.rows[k].wire.to;
}

TEST_F(WiringDrawn, hasEveryWireOfEveryExampleOnce) {
    for (const char* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "snail-hour", "cloud-chamber-door", "greenhouse-kettle"})
        holds(test::exampleProject(name));
    holds(test::demoProject());
}

TEST_F(WiringDrawn, hasEveryWireOfEveryClassOfDriverAndPart) {
    int met = 0;
    for (const auto& each : test::matrix(parts_, {"atmega328p-16mhz", "rp2040"})) {
        SCOPED_TRACE(each.what);
        holds(each.project);
        if (HasFailure()) return;
        ++met;
    }
    EXPECT_GT(met, 50);
}

TEST_F(WiringDrawn, hasEveryWireOfEveryInput) {
    using project::InputKind;
    using project::Wired;
    for (const auto kind : {InputKind::Button, InputKind::Knob, InputKind::Level, InputKind::Tach})
        for (const auto& wired : Names<Wired>::all)
            for (const char* volts : {"", "12 V"}) {
                SCOPED_TRACE(std::string{wired.label} + volts);
                std::vector<project::FactEdit> edits{{"inputs/x/wired", wired.id}};
                if (*volts != '\0') edits.push_back({"inputs/x/output_volts", volts});
                holds(test::withInput(kind, edits));
            }
}

// Names that read like something else, or like each other's beginning.
TEST_F(WiringDrawn, isNotMistakenByNames) {
    for (const char* name : {"board", "ground", "board D5", "12 V rail", "x", "it", "mains neutral", "Clock's", "nothing", "relay board"}) {
        SCOPED_TRACE(name);
        auto project = test::withInput(project::InputKind::Button, {});
        project.channels.front().name = name;
        holds(project);
        project.channels.front().name = "Fan";
        project.inputs.front().name = name;
        holds(project);
        project.inputs.front().name = "Fan";
        holds(project);
    }
    auto two = test::withInput(project::InputKind::Button, {});
    two = project::addRunningChannel(two, ChannelKind::Pump, "it 2");
    two.channels.back().drive.part = "mosfet_logic_30v";
    two.channels.back().pin = "D6";
    two.channels.back().rail = "movers";
    holds(two);
}

TEST_F(WiringDrawn, hasWhatIsSharedAndWhatStandsBeside) {
    for (const char* expander : {"servo_expander_i2c", "servo_expander_serial"}) {
        auto three = test::onExpander(expander);
        for (const char* output : {"X1", "X2"}) {
            three.channels.push_back(three.channels.front());
            three.channels.back().id = three.channels.back().name = std::string{"arm "} + output;
            three.channels.back().pin = output;
        }
        holds(three);
        // The expander's own wires once, and a circuit for each servo, from its output.
        const auto it = drawn(three);
        for (const char* title :
             {"it", "arm X1", "arm X2", std::string_view{expander}.ends_with("serial") ? "serial servo expander" : "I²C PWM expander"})
            EXPECT_EQ(std::count_if(it.drawings.begin(), it.drawings.end(), [&](const Drawing& d) { return d.title == title; }), 1)
                << title;
    }
    auto lamps = test::lampsOnExpanders();
    lamps.channels.back().id = lamps.channels.back().name = "second";
    holds(lamps);
    // A pin that is no output of its expander is an output that is still to come.
    holds(test::alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v",
                      {{"channels/it/drive/flyback_diode", "yes"},
                       {"channels/it/drive/expander", "servo_expander_two_wire"},
                       {"channels/it/pin", "D5"}}));
    holds(test::withRadio());
    for (const char* ends : {"bridge_switches_8a", "half_bridge_switches_12a"}) holds(test::onSwitches(ends));
    holds(test::edited(test::exampleProject("paper-moon-stage"), {{"rails/movers/also", "radio, display"}, {"board/clock", "clock_bcd"}}));
    holds(test::alone(ChannelKind::Pump, "centrifugal_12v_small", "high_side_30v_4a", {{"channels/it/drive/flyback_diode", "yes"}}));
    holds(test::alone(ChannelKind::Switch, "", "ssr_random_2a",
                      {{"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}}));
    holds(test::withStallAlarm(test::alone(ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin")));
}

TEST_F(WiringDrawn, hasEveryWireOfAnyGadget) {
    std::mt19937 dice(20261201);
    for (int k = 0; k < 16; ++k)
        for (const char* name : {"paper-moon-stage", "snail-hour", "greenhouse-kettle"}) {
            SCOPED_TRACE(k);
            holds(test::editedByDice(test::exampleProject(name), parts_, dice, 25));
            if (HasFailure()) return;
        }
}

// By hand: what a low-side MOSFET with its pull-down at the pin is, read from the picture alone.
TEST_F(WiringDrawn, showsAMosfetAsItIsWired) {
    const auto it = drawn(test::alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v",
                                      {{"channels/it/drive/flyback_diode", "yes"},
                                       {"channels/it/drive/pulldown_side", "pin"},
                                       {"channels/it/drive/gate_resistor", "330 ohm"},
                                       {"channels/it/drive/pulldown", "10 kohm"}}));
    const auto circuit = std::find_if(it.drawings.begin(), it.drawings.end(), [](const Drawing& d) { return d.title == "it"; });
    ASSERT_NE(circuit, it.drawings.end());
    const auto word = [&](const std::string& text) {
        for (const auto& words : circuit->words)
            if (words.text == text) return words.at;
        ADD_FAILURE() << text;
        return Point{};
    };
    const auto pin = word("D9"), gate = word("gate"), drain = word("drain"), minus = word("−"), plus = word("+"), ohms = word("330 Ω"),
               pull = word("10 kΩ");
    EXPECT_LT(pin.x, pull.x);
    EXPECT_LT(pull.x, ohms.x) << "the pull-down is on the pin's side of the gate's resistor";
    EXPECT_LT(ohms.x, gate.x);
    EXPECT_LT(gate.x, drain.x);
    EXPECT_LT(drain.y, gate.y);
    EXPECT_LT(drain.x, minus.x);
    EXPECT_LT(plus.y, minus.y);
    EXPECT_GT(pull.y, pin.y) << "down to ground";
    // The diode's stripe is at the rail's side: its arrow points up.
    for (const auto& line : circuit->lines)
        if (line.stroke == Stroke::Filled && line.wire >= 0 && line.points.size() == 3) {
            EXPECT_TRUE(it.rows[static_cast<std::size_t>(line.wire)].wire.diode);
            EXPECT_LT(line.points[2].y, line.points[0].y);
        }
    // At the gate it is the other way round.
    const auto other = drawn(test::alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v",
                                         {{"channels/it/drive/pulldown_side", "gate"},
                                          {"channels/it/drive/gate_resistor", "330 ohm"},
                                          {"channels/it/drive/pulldown", "10 kohm"}}));
    for (const auto& drawing : other.drawings)
        if (drawing.title == "it") {
            Point series, down;
            for (const auto& words : drawing.words) {
                if (words.text == "330 Ω") series = words.at;
                if (words.text == "10 kΩ") down = words.at;
            }
            EXPECT_GT(series.x, 0.0);
            EXPECT_LT(series.x, down.x);
        }
}

// IEC 60757, from memory.
TEST(Sleeves, haveTheStandardsCodes) {
    for (const auto& [word, code] : {std::pair{"black", "BK"},
                                     {"brown", "BN"},
                                     {"red", "RD"},
                                     {"orange", "OG"},
                                     {"yellow", "YE"},
                                     {"green", "GN"},
                                     {"blue", "BU"},
                                     {"violet", "VT"},
                                     {"grey", "GY"},
                                     {"white", "WH"},
                                     {"pink", "PK"},
                                     {"turquoise", "TQ"}})
        EXPECT_EQ(plan::sleeveCode(word), code);
    EXPECT_EQ(plan::sleeveCode(" Red "), "RD");
    EXPECT_EQ(plan::sleeveCode("as your local code says"), "");
    EXPECT_FALSE(plan::sleeveColour("striped"));
}

// A winding behind a switch at its plus goes on through its load's own ends: a diode from ground to the rail would never conduct.
TEST_F(WiringDrawn, putsAHighSidesDiodeAcrossItsLoad) {
    const auto it =
        drawn(test::alone(ChannelKind::Pump, "centrifugal_12v_small", "high_side_30v_4a", {{"channels/it/drive/flyback_diode", "yes"}}));
    const auto diode = std::find_if(it.rows.begin(), it.rows.end(), [](const plan::WireRow& row) { return row.wire.diode; });
    ASSERT_NE(diode, it.rows.end());
    EXPECT_EQ(diode->wire.from, "it −");
    EXPECT_EQ(diode->wire.to, "it +");
}

}  // namespace
}  // namespace hinge
