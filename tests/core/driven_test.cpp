// Chosen means driven: what the sketch does with a channel, and what the wiring list says, are one thing.
#include "plan/driven.hpp"
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>
#include <cstdio>
#include <map>
#include <set>
#include "driver/bridge_states.hpp"
#include "plan/firmware_model.hpp"
#include "plan/input_wiring.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "support/alone.hpp"
#include "support/matrix.hpp"
#include "support/wires.hpp"

namespace hinge {
namespace {

using project::ChannelKind;
using test::alone;
using test::has;
using Edits = std::vector<project::FactEdit>;

const plan::PlanFinding* stopOf(const plan::Plan& plan) {
    return test::finding(plan, "not-driven");
}

struct Undriven {
    const char* name;
    ChannelKind kind;
    const char *actuator, *driver;
    Edits edits;
    const char* why;  // a part of the reason
};
void PrintTo(const Undriven& c, std::ostream* out) {
    *out << c.name;
}
const Edits turn{{"channels/it/demand/mass", "60 g"},           {"channels/it/demand/arm", "80 mm"},
                 {"channels/it/demand/angle", "90 deg"},        {"channels/it/demand/time", "2 s"},
                 {"channels/it/calibration/pulse_min", "1 ms"}, {"channels/it/calibration/pulse_max", "2 ms"}};
Edits withMore(Edits edits, const Edits& more) {
    edits.insert(edits.end(), more.begin(), more.end());
    return edits;
}
class NotDriven : public testing::TestWithParam<Undriven> {};
TEST_P(NotDriven, isAStopAtCodeAndTheSketchIsRefused) {
    const auto& c = GetParam();
    const auto project = alone(c.kind, c.actuator, c.driver, c.edits);
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto* stop = stopOf(plan);
    ASSERT_NE(stop, nullptr);
    EXPECT_EQ(stop->severity, Severity::Stop);
    EXPECT_EQ(stop->stage, project::Stage::Code);
    EXPECT_NE(stop->text.find(c.why), std::string::npos) << stop->text;
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_FALSE(sketch);
    EXPECT_EQ(sketch.error().code, ErrorCode::NotDriven) << sentence(sketch.error());
    for (const auto& remedy : stop->remedies) {
        const auto after = plan::evaluate(test::edited(project, remedy.edits), parts);
        EXPECT_EQ(stopOf(after), nullptr) << remedy.label << " does not cure it";
    }
    if (!board::family(project.board.form).real_time) return;
    // Left out on purpose, its lines stand where they do nothing, and the rest is emitted.
    const auto idle = plan::idleLines(project.channels.front(), plan.channels.front());
    auto rest = project::addRunningChannel(project, ChannelKind::Pump, "other");
    rest.channels.back().actuator = "centrifugal_12v_small";
    rest.channels.back().drive.part = "mosfet_logic_30v";
    rest.channels.back().rail = "movers";
    rest.channels.back().pin = "D5";
    rest = test::edited(rest, {{"channels/other/demand/volume", "50 mL"},
                               {"channels/other/demand/lift", "0.3 m"},
                               {"channels/other/demand/tube_length", "1 m"},
                               {"channels/other/demand/tube_diameter", "6 mm"}});
    rest.channels.back().signal.soft_start = of<Duration>(0.0);
    rest.channels.back().signal.duty = of<Fraction>(1.0);
    rest.routine.cues.back().moves.back().time = of<Duration>(2.0);
    EXPECT_FALSE(plan::sketchOf(rest, plan::evaluate(rest, parts)));
    rest = project::removeChannel(rest, "it");
    const auto left = plan::sketchOf(rest, plan::evaluate(rest, parts), idle);
    ASSERT_TRUE(left) << sentence(left.error());
    if (plan.channels.front().signal != plan::SignalKind::Unknown)
        EXPECT_NE(left->text.find("digitalWrite(9, LOW);"), std::string::npos) << "D9 does not float";
}
INSTANTIATE_TEST_SUITE_P(
    Table, NotDriven,
    testing::Values(
        Undriven{"aPlaceOfAServoThatTurnsOn", ChannelKind::Turn, "servo_micro_turning", "straight_from_pin", turn, "only a speed"},
        Undriven{"aDimmedLampOnAZeroCrossingRelay",
                 ChannelKind::Switch,
                 "own_load",
                 "ssr_zero_2a",
                 {{"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}, {"channels/it/demand/dimmed", "yes"}},
                 "want a phase control board"},
        Undriven{"microStepsThatNoRegisterHolds", ChannelKind::Turn, "stepper_42mm_short", "chopper_serial_quiet",
                 withMore(turn, {{"channels/it/signal/microsteps", "10"}}), "micro-steps of 10"},
        Undriven{"aStallLevelThatNoRegisterHolds", ChannelKind::Turn, "stepper_42mm_short", "chopper_serial_strong",
                 withMore(turn, {{"channels/it/signal/stall_level", "64"}}), "-64 to 63"},
        Undriven{"AMisfit", ChannelKind::Turn, "stepper_42mm_short", "mosfet_logic_30v", turn, "cannot drive"},
        Undriven{"SharesOfARelay",
                 ChannelKind::Switch,
                 "led_string_12v_6w",
                 "relay_board_5v",
                 {{"channels/it/demand/power", "6 W"}, {"routine/cues/run_it/moves/runs/level", "50 %"}},
                 "only on or off"},
        Undriven{"PwmOnALinuxHeader",
                 ChannelKind::Blow,
                 "fan_40_12v",
                 "mosfet_logic_30v",
                 {{"board/form", "sbc-header"}, {"channels/it/pin", "GPIO17"}, {"channels/it/signal/duty", "60 %"}},
                 "no PWM"}),
    [](const testing::TestParamInfo<Undriven>& info) { return std::string{info.param.name}; });

// Where no timer is written for it, phase control only switches.
TEST(NotDriven, phaseControlOnOtherBoards) {
    const auto parts = test::shippedParts();
    for (const auto& [form, pin, why] : {std::tuple{"sbc-header", "GPIO17", "not yet written for"}, {"attiny85-8mhz", "PB1", "has not"}}) {
        const auto project = alone(ChannelKind::Switch, "own_load", "phase_4a",
                                   {{"board/form", form},
                                    {"channels/it/pin", pin},
                                    {"channels/it/demand/feeding", "mains"},
                                    {"channels/it/demand/power", "60 W"},
                                    {"channels/it/demand/dimmed", "yes"}});
        const auto plan = plan::evaluate(project, parts);
        ASSERT_NE(stopOf(plan), nullptr) << form;
        EXPECT_NE(stopOf(plan)->text.find(why), std::string::npos) << stopOf(plan)->text;
        EXPECT_EQ(stopOf(plan::evaluate(test::edited(project, {{"channels/it/demand/dimmed", "no"}}), parts)), nullptr) << form;
    }
}

// One line tells the crossings of one mains: a second one of another frequency has none.
TEST(NotDriven, twoMainsOnOneLine) {
    const auto parts = test::shippedParts();
    const std::vector<project::FactEdit> mains{
        {"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}, {"channels/it/demand/dimmed", "yes"}};
    auto project = alone(ChannelKind::Switch, "own_load", "phase_4a", mains);
    auto second = project.channels.front();
    second.id = "second", second.name = "Second", second.pin = "D5";
    project.channels.push_back(second);
    EXPECT_EQ(stopOf(plan::evaluate(project, parts)), nullptr);
    // One that is only switched is not fired at any.
    EXPECT_EQ(
        stopOf(plan::evaluate(
            test::edited(project, {{"channels/second/demand/mains_frequency", "60 Hz"}, {"channels/second/demand/dimmed", "no"}}), parts)),
        nullptr);
    project = test::edited(project, {{"channels/second/demand/mains_frequency", "60 Hz"}});
    const auto plan = plan::evaluate(project, parts);
    ASSERT_NE(stopOf(plan), nullptr);
    EXPECT_NE(stopOf(plan)->text.find("one line tells"), std::string::npos);
    EXPECT_EQ(stopOf(plan::evaluate(test::edited(project, stopOf(plan)->remedies.front().edits), parts)), nullptr);
}

// While nothing is chosen, what is missing is not broken; beside a channel that is settled it would be left out in silence.
TEST(NotDriven, aChannelWithoutAPart) {
    const auto parts = test::shippedParts();
    auto project = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v");
    project = project::addRunningChannel(project, ChannelKind::Pump, "other");
    project.channels.back().pin = "D5";
    const auto plan = plan::evaluate(project, parts);
    ASSERT_NE(stopOf(plan), nullptr);
    EXPECT_EQ(stopOf(plan)->channel, "other");
    EXPECT_NE(stopOf(plan)->text.find("no part is chosen"), std::string::npos);
    EXPECT_EQ(plan::sketchOf(project, plan).error().code, ErrorCode::NotDriven);
    project.channels.front().actuator.clear();
    EXPECT_EQ(stopOf(plan::evaluate(project, parts)), nullptr);
    EXPECT_EQ(plan::sketchOf(project, plan::evaluate(project, parts)).error().code, ErrorCode::NotDriven);
}

TEST(NotDriven, aProportionalFollowerAndALoopOnOneChannel) {
    auto project = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v");
    project = project::addInput(project, project::InputKind::Knob, "knob");
    project = project::addInput(project, project::InputKind::Level, "warmth");
    project.inputs[1].pin = "A0";
    project.inputs[2].pin = "A1";
    project = project::addFollower(project, "it", "knob");
    project.routine.followers.back().proportional = true;
    project = project::addLoop(project, "it", "warmth");
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_NE(stopOf(plan), nullptr);
    EXPECT_NE(stopOf(plan)->text.find("never be heard"), std::string::npos);
    project.routine.followers.back().proportional = false;
    EXPECT_EQ(stopOf(plan::evaluate(project, test::shippedParts())), nullptr) << "one that only says on or off goes with a loop";
}

// Every class of part on every class of driver on every board with a sketch, asked for as its kind is: driven, or refused with a reason.
TEST(NotDriven, thereIsNoThird) {
    const auto parts = test::shippedParts();
    int driven = 0, refused = 0, waiting = 0;
    for (const auto& [what, driver, project] : test::matrix(parts, test::everyBoard())) {
        const auto plan = plan::evaluate(project, parts);
        const auto& it = plan.channels.front();
        const auto sketch = plan::sketchOf(project, plan);
        if (stopOf(plan) != nullptr) {
            ++refused;
            EXPECT_FALSE(sketch) << what;
            EXPECT_FALSE(plan::isDriven(it)) << what;
        } else if (plan::isDriven(it)) {
            // Driven: its pin is the sketch's own, or the sketch is refused by name for another reason.
            if (sketch) {
                ++driven;
                EXPECT_NE(sketch->text.find("PIN_IT = "), std::string::npos) << what;
            } else {
                EXPECT_FALSE(sketch.error().accepted.empty()) << what;
            }
        } else {
            ++waiting;
            EXPECT_FALSE(plan.missing.empty()) << what << ": it waits for nothing";
        }
    }
    EXPECT_GT(driven, 40);
    EXPECT_GT(refused, 200);
    RecordProperty("driven", driven);
    RecordProperty("refused", refused);
    RecordProperty("waiting", waiting);
    std::printf("%d driven, %d refused, %d wait for a figure\n", driven, refused, waiting);
}

// Each class of driver with each kind of signal on each board, asked for each verb: in the sketch with its cue, or refused with a reason.
TEST(NotDriven, ofEveryVerbThereIsNoThird) {
    const auto parts = test::shippedParts();
    const auto verbs = test::verbs();
    std::set<std::string> seen;
    int driven = 0, refused = 0, waiting = 0;
    for (const auto& [what, driver, project] : test::matrix(parts, test::everyBoard())) {
        const auto first = plan::evaluate(project, parts);
        const auto& it = first.channels.front();
        if (!seen.insert(fmt::format("{} {} {} {} {}", static_cast<int>(project.board.form), static_cast<int>(driver),
                                     static_cast<int>(it.signal), it.inverted, project.channels.front().demand.index()))
                 .second)
            continue;
        // What the class itself cannot do, no verb changes: two of them stand for all.
        const std::size_t asked_for = stopOf(first) != nullptr ? 1 : verbs.size();
        for (std::size_t v = 0; v < asked_for; ++v) {
            auto asked = project;
            asked.routine.cues.clear();
            asked = test::withVerb(std::move(asked), verbs[v], v);
            const auto plan = plan::evaluate(asked, parts);
            const auto sketch = plan::sketchOf(asked, plan);
            const std::string name = what + ", " + verbs[v].name;
            if (sketch) {
                ++driven;
                EXPECT_TRUE(plan::isDriven(plan.channels.front())) << name;
                ASSERT_TRUE(plan.program) << name;
                ASSERT_EQ(plan.program->cues.size(), 1U) << name << ": its cue is in the sketch";
                EXPECT_NE(sketch->text.find(verbs[v].name), std::string::npos) << name << ": and named there";
            } else if (stopOf(plan) != nullptr || plan.program_error) {
                ++refused;
                const bool said = std::any_of(plan.findings.begin(), plan.findings.end(), [](const auto& finding) {
                    return finding.severity == Severity::Stop &&
                           (finding.stage == project::Stage::Code || finding.stage == project::Stage::Routine);
                });
                EXPECT_TRUE(said) << name << ": refused, and the plan says nothing";
            } else {
                ++waiting;
                EXPECT_FALSE(sketch.error().accepted.empty()) << name;
            }
        }
    }
    EXPECT_GT(driven, 200);
    EXPECT_GT(refused, 200);
    std::printf("verbs: %d driven, %d refused, %d refused by the sketch alone\n", driven, refused, waiting);
}

// Whatever Match calls 'holds' is driven on at least one board: by the cue that its kind begins with, or by the first verb that suits how
// it is fed and asked. Where a board does not, the plan says why: for lack of its own beat, or for an operating system.
TEST(Driven, everyPairingThatHoldsIsDrivenSomewhere) {
    const auto parts = test::shippedParts();
    const auto verbs = test::verbs();
    std::map<std::string, std::set<std::string>> driven;  // by pairing and what is asked: boards
    std::map<std::string, int> reasons;
    for (const auto& [what, driver, project] : test::matrix(parts, test::everyBoard())) {
        const auto plan = plan::evaluate(project, parts);
        const auto& it = plan.channels.front();
        if (!it.chosen || it.chosen->verdict != Verdict::Holds) continue;
        auto& boards = driven[fmt::format("{}, signal {}", what.substr(0, what.rfind(" on ")), static_cast<int>(it.signal))];
        bool done = plan::sketchOf(project, plan).has_value();
        std::string why = it.not_driven;
        for (std::size_t v = 0; v < verbs.size() && !done && why.empty(); ++v) {
            auto asked = project;
            asked.routine.cues.clear();
            asked = test::withVerb(std::move(asked), verbs[v], v);
            done = plan::sketchOf(asked, plan::evaluate(asked, parts)).has_value();
        }
        if (why.empty() && test::finding(plan, "pins-short") != nullptr) continue;  // this board has not the pins
        if (done) boards.insert(nameOf(project.board.form));
        else ++reasons[why];
    }
    EXPECT_GT(driven.size(), 20U);
    for (const auto& [pairing, boards] : driven) EXPECT_GE(boards.size(), 1U) << pairing << " holds, and no board drives it";
    for (const auto& [reason, count] : reasons) {
        std::printf("%4d  %s\n", count, reason.c_str());
        EXPECT_TRUE(reason.find("beat on a timer at 16 MHz") != std::string::npos || reason.find("operating system") != std::string::npos ||
                    reason.find("not yet written for") != std::string::npos ||
                    reason.find("a dead time between two of them") != std::string::npos)
            << reason;
    }
    std::printf("%zu pairings that hold\n", driven.size());
}

// A cue drives backwards what Need never asked to go both ways: the line that says which way is asked of the board all the same.
TEST(Driven, whatACueTurnsRoundIsOfferedItsDirectionPin) {
    const auto parts = test::shippedParts();
    for (const bool backwards : {false, true}) {
        auto project = alone(ChannelKind::Blow, "fan_40_12v", "bridge_3a");
        ASSERT_FALSE(project.routine.cues.empty());
        project.routine.cues.front().moves.front().backwards = backwards;
        const auto plan = plan::evaluate(project, parts);
        const auto* open = test::finding(plan, "pins-open");
        ASSERT_EQ(open != nullptr, backwards);
        if (!backwards) continue;
        ASSERT_EQ(open->remedies.size(), 1U);
        EXPECT_EQ(open->remedies.front().edits.front().path, "channels/it/direction_pin");
        const auto given = test::edited(project, open->remedies.front().edits);
        const auto sketch = plan::sketchOf(given, plan::evaluate(given, parts));
        ASSERT_TRUE(sketch) << sentence(sketch.error());
        EXPECT_NE(sketch->text.find("onBackwards(OUT_IT)"), std::string::npos);
    }
}

TEST(NotDriven, oneDeadChannelDoesNotTakeTheOtherCuesWithIt) {
    auto project = test::exampleProject("paper-moon-stage");
    const auto parts = test::shippedParts();
    const auto whole = plan::evaluate(project, parts);
    ASSERT_TRUE(whole.program);
    // The storm's own cue gets a step of a servo behind a switch.
    for (auto& channel : project.channels)
        if (channel.id == "moon") channel.drive.part = "mosfet_logic_30v";
    for (auto& cue : project.routine.cues) {
        if (cue.moves.empty() || cue.moves.front().channel == "moon") continue;
        routine::Move move;
        move.id = "nods";
        move.channel = "moon";
        move.action = routine::Action::Go;
        cue.moves.push_back(move);
    }
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    EXPECT_EQ(plan.program->outputs.size(), whole.program->outputs.size() - 1);
    for (const auto& cue : whole.program->cues) {
        const auto same = std::find_if(plan.program->cues.begin(), plan.program->cues.end(), [&](const auto& c) { return c.id == cue.id; });
        const bool moons = cue.id == "moonrise";
        ASSERT_EQ(same != plan.program->cues.end(), true) << cue.id;
        if (!moons) EXPECT_EQ(same->instructions.size(), cue.instructions.size()) << cue.id;
    }
}

// Polarity is part of the drive. Source: the fan's PWM wire is pulled up in the fan and pulled down from outside, "4-Wire Pulse
// Width Modulation (PWM) Controlled Fans" specification, revision 1.3 of 2005, section 2.1.4 (from memory).
TEST(Polarity, ofAFourWireFanIsTheSameInPlanWiringPartsAndSketch) {
    const auto parts = test::shippedParts();
    for (const char* form : {"atmega328p-16mhz", "rp2040", "esp32"}) {
        auto project = alone(ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin", {{"board/form", form}});
        if (std::string_view{form} != "atmega328p-16mhz") {
            project.channels.front().pin = "GP16";
            if (std::string_view{form} == "esp32") project.channels.front().pin = "IO16";
            const bool here = board::pinNamed(board::family(project.board.form), project.channels.front().pin).has_value();
            ASSERT_TRUE(here) << form;
            project.inputs.front().pin = std::string_view{form} == "esp32" ? "IO4" : "GP2";
        }
        const auto plan = plan::evaluate(project, parts);
        ASSERT_TRUE(plan.channels.front().inverted) << form;
        const auto wires = plan::wiring(project, parts, plan);
        EXPECT_TRUE(has(wires, "it transistor collector", "it PWM wire")) << form;
        EXPECT_TRUE(has(wires, "it transistor emitter", "ground")) << form;
        const std::string supply = std::string_view{form} == "atmega328p-16mhz" ? "board 5 V" : "board 3.3 V";
        EXPECT_TRUE(has(wires, supply, "it transistor base")) << form << ": at reset the pin floats, and the fan must be at its slowest";
        const auto idle = plan::idleLines(project.channels.front(), plan.channels.front());
        ASSERT_EQ(idle.size(), 1U);
        EXPECT_TRUE(idle.front().high) << "high holds the wire down";
        const auto sketch = plan::sketchOf(project, plan);
        ASSERT_TRUE(sketch) << form << ": " << sentence(sketch.error());
        const char* opened = std::string_view{form} == "rp2040" ? "gpio_init(PIN_IT); gpio_put(PIN_IT, 1); gpio_set_dir(PIN_IT, true);"
                                                                : "digitalWrite(PIN_IT, HIGH); pinMode(PIN_IT, OUTPUT);";
        EXPECT_NE(sketch->text.find(opened), std::string::npos) << form;
        const auto* note = test::finding(plan, "fan-zero-runs");
        ASSERT_NE(note, nullptr) << "0 % does not stop every such fan";
        ASSERT_EQ(note->remedies.size(), 1U);
        const auto switched = test::edited(project, note->remedies.front().edits);
        const auto after = plan::evaluate(switched, parts);
        EXPECT_EQ(test::finding(after, "fan-zero-runs"), nullptr);
        EXPECT_EQ(stopOf(after), nullptr);
        EXPECT_EQ(after.channels.front().signal, plan::SignalKind::Switched) << "its supply is never chopped";
        EXPECT_FALSE(after.channels.front().inverted);
    }
}
TEST(Boards, withARegulatorOfTheirOwnTakeFiveVolts) {
    const auto parts = test::shippedParts();
    for (const char* form : {"rp2040", "esp32", "sbc-header", "atmega328p-16mhz"}) {
        const auto five = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", {{"board/form", form}});
        EXPECT_EQ(test::finding(plan::evaluate(five, parts), "rail-over"), nullptr) << form;
        EXPECT_EQ(test::finding(plan::evaluate(five, parts), "logic-follows"), nullptr) << form;
        const auto six = test::edited(five, {{"rails/logic/voltage", "6 V"}});
        const auto too_much = plan::evaluate(six, parts);
        const auto* over = test::finding(too_much, "rail-over");
        ASSERT_NE(over, nullptr) << form;
        ASSERT_FALSE(over->remedies.empty()) << form;
        EXPECT_EQ(test::finding(plan::evaluate(test::edited(six, over->remedies.front().edits), parts), "rail-over"), nullptr) << form;
    }
    const auto mini = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", {{"board/form", "atmega328p-8mhz"}});
    const auto plan = plan::evaluate(mini, parts);
    EXPECT_EQ(test::finding(plan, "rail-over"), nullptr);
    EXPECT_NE(test::finding(plan, "logic-follows"), nullptr) << "its pins then give 5 V, not 3.3 V";
}
TEST(Boards, allHaveASketch) {
    const auto parts = test::shippedParts();
    for (const auto& form : Names<board::BoardForm>::all) {
        auto project = test::moved(alone(ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v",
                                         {{"channels/it/demand/power", "6 W"}, {"channels/it/signal/soft_start", "0 s"}}),
                                   form.id);
        const auto plan = plan::evaluate(project, parts);
        const auto sketch = plan::sketchOf(project, plan);
        ASSERT_TRUE(sketch) << form.id << ": " << sentence(sketch.error());
        EXPECT_NE(sketch->text.find("// It was emitted for"), std::string::npos) << "its head says what was done with its kind";
        EXPECT_EQ(plan.channels.front().cells[static_cast<std::size_t>(project::Stage::Code)].verdict == Verdict::Breaks, false) << form.id;
    }
}

// 16 MHz over 65 536 counts: full is told apart from off, which a level of 16 bits would wrap round to.
TEST(Boards, aPwmOfAllSixteenBitsIsFullyOn) {
    const auto project = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v",
                               {{"channels/it/signal/frequency", "244.140625 Hz"}, {"channels/it/signal/soft_start", "0.1 s"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.channels.front().pwm);
    ASSERT_EQ(si(plan.channels.front().pwm->steps), 65'536.0);
    ASSERT_TRUE(plan.program);
    EXPECT_EQ(plan.program->outputs.front().top, 65'535);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    EXPECT_NE(sketch->text.find("level >= 65535"), std::string::npos);
}
TEST(Boards, sayWhatTheirSketchLeavesOut) {
    const auto parts = test::shippedParts();
    auto project = alone(ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", {{"board/watchdog", "yes"}, {"board/clock", "clock_bcd"}});
    const auto on = [&](const char* form) { return test::edited(project, {{"board/form", form}}); };
    for (const char* form : {"atmega328p-16mhz", "rp2040", "esp32"})
        EXPECT_EQ(test::finding(plan::evaluate(on(form), parts), "no-watchdog"), nullptr);
    EXPECT_EQ(test::finding(plan::evaluate(on("atmega328p-16mhz"), parts), "pin-cannot"), nullptr);
    for (const auto& [form, id] : {std::pair{"sbc-header", "no-watchdog"}, {"rp2040", "pin-cannot"}, {"esp32", "pin-cannot"}}) {
        const auto plan = plan::evaluate(on(form), parts);
        const auto* found = test::finding(plan, id);
        ASSERT_NE(found, nullptr) << form;
        ASSERT_FALSE(found->remedies.empty());
        EXPECT_EQ(test::finding(plan::evaluate(test::edited(on(form), found->remedies.front().edits), parts), id), nullptr) << form;
    }
}

// No hold point accepts a reading past what a part bears, over all examples: the limits are the catalogue's own.
TEST(HoldPoints, neverAcceptWhatBurns) {
    const auto parts = test::shippedParts();
    int held = 0;
    for (const char* name :
         {"paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle", "snail-hour"}) {
        const auto project = test::exampleProject(name);
        for (const auto& step : proof::bringUp(project, parts, plan::evaluate(project, parts))) {
            if (!step.most) continue;
            if (step.kind == Kind::Temperature) EXPECT_LE(*step.most, 423.15) << step.id;
            const auto* channel = project::findChannel(project, step.channel);
            const auto* driver = channel != nullptr ? project::findDriver(parts, channel->drive.part) : nullptr;
            const bool steps = driver != nullptr && kinds::driverKind(*driver).signal == kinds::SignalKind::Steps;
            if (step.kind == Kind::Current && driver != nullptr && driver->current_max && !steps) {
                ++held;
                EXPECT_LE(*step.most, si(*driver->current_max)) << step.id;
            }
            if (step.id.rfind("rail.", 0) != 0) continue;
            for (const auto& each : project.channels)
                if (const auto* part = project::findActuator(parts, each.actuator); part != nullptr && each.rail == step.id.substr(5))
                    if (const auto* servo = std::get_if<actuator::Servo>(part)) {
                        ++held;
                        EXPECT_LE(*step.most, si(servo->voltage_high)) << step.id;
                    }
        }
    }
    EXPECT_GT(held, 5);
}

}  // namespace
}  // namespace hinge
