#include <rapidcheck.h>
#include <algorithm>
#include <deque>
#include <limits>
#include <map>
#include <nlohmann/json.hpp>
#include <regex>
#include <set>
#include "board/assign.hpp"
#include "board/form_file.hpp"
#include "board/pwm_pool.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "support/alone.hpp"
#include "support/folder.hpp"

namespace hinge::board {
namespace {

// Each rule of the pins: one project trips it, one just does not, and the remedy cures it.
class PinRulesOfThePlan : public testing::Test {
protected:
    project::Project stage_ = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    project::Parts parts_ = test::shippedParts();
    project::Channel& channel(const char* id) {
        for (auto& c : stage_.channels)
            if (c.id == id) return c;
        throw std::runtime_error(id);
    }
    void expectTripped(const char* id, bool remedied = true) {
        const auto plan = plan::evaluate(stage_, parts_);
        const auto* found = test::finding(plan, id);
        ASSERT_NE(found, nullptr) << id;
        if (!remedied) return;
        ASSERT_FALSE(found->remedies.empty()) << id << ": " << found->text;
        const auto cured = project::with(stage_, found->remedies.front().edits);
        ASSERT_TRUE(cured);
        const auto after = plan::evaluate(*cured, parts_);
        const auto* again = test::finding(after, id);
        EXPECT_TRUE(again == nullptr || again->channel != found->channel) << (again != nullptr ? again->text : "");
    }
    void expectQuiet(const char* id) { EXPECT_EQ(test::finding(plan::evaluate(stage_, parts_), id), nullptr) << id; }
};
TEST_F(PinRulesOfThePlan, serialShared) {
    expectQuiet("serial-shared");
    channel("lamps").pin = "D1";
    expectTripped("serial-shared");
}
TEST_F(PinRulesOfThePlan, pinTaken) {
    expectQuiet("pin-taken");
    channel("lamps").pin = channel("rain").pin;
    expectTripped("pin-taken");
}
TEST_F(PinRulesOfThePlan, pinCannot) {
    expectQuiet("pin-cannot");
    channel("turntable").pin = "A3";
    expectTripped("pin-cannot");
}
TEST_F(PinRulesOfThePlan, timerClashWithTheBeat) {
    channel("turntable").pin = "D11";
    expectTripped("timer-clash");
}
TEST_F(PinRulesOfThePlan, timerClashOfTwoFrequencies) {
    // The fan's 25 kHz and the turntable's 976 Hz on one timer.
    channel("turntable").pin = "D10";
    expectTripped("timer-clash");
}
// On an RP2040 a servo's pulses are made by the pin's slice, at 50 Hz: nothing else may run on that slice. (Found by running the sketch:
// the servo got the fan's 25 kHz.)
TEST_F(PinRulesOfThePlan, aServoTakesItsSlice) {
    stage_ = test::moved(stage_, "rp2040");
    expectQuiet("timer-clash");
    channel("moon").pin = "GP16";
    channel("mist").pin = "GP17";  // both of slice 0
    expectTripped("timer-clash");
    channel("mist").pin = "GP0";  // the same output of the same slice, at another pin
    expectTripped("pin-cannot");
}
// Of an ESP32's eight timers each serves two outputs of one frequency: by hand, three of one and one of another take three.

TEST(PwmPool, isJudgedInThePlan) {
    auto project = test::bareStage();
    project.board.form = BoardForm::Esp32;
    std::size_t pin = 0;
    const auto& pins = family(BoardForm::Esp32).pins;
    for (int k = 0; k < 9; ++k) {
        project = project::addChannel(project, project::ChannelKind::Blow, "fan " + std::to_string(k));
        auto& channel = project.channels.back();
        channel.actuator = "fan_40_12v";
        channel.drive.part = "mosfet_logic_30v";
        channel.rail = "movers";
        channel.signal.frequency = of<Frequency>(1000.0 + 100.0 * k);
        channel.signal.soft_start = of<Duration>(0.1);
        while (pins[pin].input_only || pins[pin].strap || pins[pin].console) ++pin;
        channel.pin = pins[pin++].name;
    }
    const auto plan = plan::evaluate(project, test::shippedParts());
    const auto* stop = test::finding(plan, "timer-clash");
    ASSERT_NE(stop, nullptr);
    EXPECT_EQ(stop->channel, project.channels.back().id);
    project.channels.back().signal.frequency = of<Frequency>(1000.0);
    EXPECT_EQ(test::finding(plan::evaluate(project, test::shippedParts()), "timer-clash"), nullptr);
}
TEST_F(PinRulesOfThePlan, groundsShort) {
    expectQuiet("grounds-short");
    stage_.board.ground_strip = false;
    expectTripped("grounds-short");
    stage_.channels.resize(1);
    stage_.inputs.resize(1);
    stage_.routine = {};
    expectQuiet("grounds-short");  // one driver, one contact and the supply: three, as the board has
}
TEST_F(PinRulesOfThePlan, strapPinAndInputOnly) {
    stage_.board.form = BoardForm::Esp32;
    const auto choice = plan::onBoard(stage_, plan::evaluate(stage_, parts_), BoardForm::Esp32);
    ASSERT_TRUE(choice.fits) << choice.why;
    stage_ = *project::with(stage_, plan::editsFor(choice));
    expectQuiet("strap-pin");
    channel("lamps").pin = "IO12";
    expectTripped("strap-pin");
    channel("lamps").pin = "IO35";
    expectTripped("pin-cannot");
}
TEST_F(PinRulesOfThePlan, sameOutputTwice) {
    stage_ = *project::with(stage_, plan::editsFor(plan::onBoard(stage_, plan::evaluate(stage_, parts_), BoardForm::Rp2040)));
    channel("rain").pin = "GP2";
    channel("turntable").pin = "GP18";  // slice 1, output A, both
    expectTripped("pin-cannot");
}
TEST_F(PinRulesOfThePlan, notRealTime) {
    expectQuiet("not-real-time");
    channel("rain").signal.soft_start = {};  // on and off: the header has two PWM channels only
    const auto choice = plan::onBoard(stage_, plan::evaluate(stage_, parts_), BoardForm::Header);
    ASSERT_TRUE(choice.fits) << choice.why;
    stage_ = *project::with(stage_, plan::editsFor(choice));
    expectTripped("not-real-time", false);
}

TEST_F(PinRulesOfThePlan, noCommonGround) {
    expectQuiet("no-common-ground");
    auto second = stage_.sources.front();
    second.id = "second";
    second.name = "second adapter";
    second.ground_joined = false;
    stage_.sources.push_back(second);
    for (auto& rail : stage_.rails)
        if (rail.id == channel("rain").rail) rail.from = "second";
    expectTripped("no-common-ground");
}
TEST_F(PinRulesOfThePlan, otherPinsCanDoIt) {
    const auto plan = plan::evaluate(stage_, parts_);
    EXPECT_TRUE(plan::otherPins(stage_, plan, "D13").empty()) << "nothing sits there";
    for (const auto& name : plan::otherPins(stage_, plan, channel("lamps").pin)) {
        auto moved = stage_;
        for (auto& c : moved.channels)
            if (c.id == "lamps") c.pin = name;
        for (const auto& finding : plan::evaluate(moved, parts_).findings)
            EXPECT_FALSE(finding.stage == project::Stage::Pins && finding.severity == Severity::Stop) << name << ": " << finding.text;
    }
    EXPECT_TRUE(plan::otherPins(stage_, plan, channel("mist").pin).empty())
        << "D10's output B is the only other one of timer 1, and it is not free";
}

// ---- the wiring record -----------------------------------------------------------------------
class Wires : public PinRulesOfThePlan {
protected:
    std::vector<plan::Wire> now() { return plan::wiring(stage_, parts_, plan::evaluate(stage_, parts_)); }
};
TEST_F(Wires, everyPinOfThePlanHasItsWire) {
    const auto plan = plan::evaluate(stage_, parts_);
    const auto wires = plan::wiring(stage_, parts_, plan);
    for (const auto& use : plan.pins)
        EXPECT_TRUE(std::any_of(wires.begin(), wires.end(),
                                [&](const plan::Wire& wire) { return wire.from == "board " + use.pin || wire.to == "board " + use.pin; }))
            << use.pin << ' ' << use.role;
}
TEST_F(Wires, whatIsRecordedStaysWithTheWire) {
    const auto wires = now();
    const auto rows = plan::wireRows(stage_, wires);
    ASSERT_EQ(rows.size(), wires.size());
    EXPECT_FALSE(rows[7].colour_recorded);
    auto recorded = plan::recordWire(stage_, wires[7], "colour", "pink");
    ASSERT_TRUE(recorded);
    recorded = plan::recordWire(*recorded, wires[7], "length", "22 cm");
    ASSERT_TRUE(recorded);
    const auto after = plan::wireRows(*recorded, wires);
    EXPECT_EQ(after[7].colour, "pink");
    EXPECT_TRUE(after[7].colour_recorded);
    EXPECT_NEAR(si(*after[7].length), 0.22, 1e-12);
    EXPECT_FALSE(plan::recordWire(stage_, wires[7], "length", "three feet and a bit"));
    EXPECT_FALSE(plan::recordWire(stage_, wires[7], "area", "-1 mm2"));
    EXPECT_FALSE(plan::recordWire(stage_, wires[7], "smell", "rubber"));
    // Forgetting everything leaves no trace.
    recorded = plan::recordWire(*plan::recordWire(*recorded, wires[7], "colour", ""), wires[7], "length", "");
    ASSERT_TRUE(recorded);
    EXPECT_EQ(*recorded, stage_);
    // Saved and read again.
    test::TemporaryFolder folder;
    auto kept = plan::keepSnapshot(*plan::recordWire(stage_, wires[7], "colour", "pink"), wires, "before", "2026-11-25T10:00");
    store::Document document;
    document.project = kept;
    ASSERT_TRUE(store::save(document, folder.path()));
    EXPECT_EQ(store::load(folder.path())->project, kept);
}
TEST_F(Wires, aSnapshotShowsWhatMoved) {
    const auto kept = plan::keepSnapshot(stage_, now(), "before", "2026-11-25T10:00");
    const auto& before = kept.journal.snapshots.front().wires;
    EXPECT_TRUE(plan::wiringDifference(before, now()).empty());
    const std::string was = channel("lamps").pin;
    channel("lamps").pin = "A0";
    const auto changes = plan::wiringDifference(before, now());
    ASSERT_EQ(changes.size(), 1U);
    EXPECT_EQ(changes[0].fate, plan::WireFate::Moved);
    EXPECT_EQ(changes[0].before.from, "board " + was);
    EXPECT_EQ(changes[0].now.from, "board A0");
    stage_ = project::removeChannel(stage_, "lamps");
    for (const auto& change : plan::wiringDifference(before, now()))
        EXPECT_EQ(change.fate, plan::WireFate::Removed) << change.now.from << change.before.to;
}
TEST_F(Wires, buildStylesCountTheirJoints) {
    const auto wires = now();
    for (const auto& effort : plan::buildStyles(wires)) {
        EXPECT_EQ(effort.wires, static_cast<int>(wires.size()));
        EXPECT_NEAR(effort.soldered + effort.plugged + effort.screwed, 2.0 * effort.wires, 2.0) << "two ends each";
        EXPECT_GT(si(effort.time), 0.0);
    }
}

}  // namespace
}  // namespace hinge::board
