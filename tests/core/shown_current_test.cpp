// The current that a bridge shows: what an input reads of it, when it is believed, and what it puts off.
#include "driver/shown_current.hpp"
#include <gtest/gtest.h>
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "plan/shown_current.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/simulate.hpp"
#include "support/strained.hpp"

namespace hinge {
namespace {

// By hand, with a bridge that gives 0.5 V for each ampere to a converter of 5 V and 1024 levels (ADC = Vin·1024/Vref, data sheet of the
// ATmega328P): 0.3 A are 0.15 V and 30 counts. Held fast at half of its volts a motor of 2.4 A takes 1.2 A, the supply gives them half of
// the time: 0.6 A, 61 counts. A level of a twentieth of 5 V is 0.5 A.
TEST(ShownCurrent, isItsVoltsForEachAmpere) {
    driver::ShownCurrent in;
    in.scale = of<Resistance>(0.5), in.running = of<Current>(0.3), in.stalled = of<Current>(2.4), in.duty = of<Fraction>(0.5);
    in.level = of<Fraction>(0.05);
    const auto worked = driver::shownCurrent(in);
    ASSERT_TRUE(worked);
    EXPECT_EQ(si(worked->result.reads), 30.0);
    EXPECT_NEAR(si(*worked->result.stalled), 0.6, 1e-12);
    EXPECT_EQ(si(*worked->result.reads_stalled), 61.0);
    EXPECT_NEAR(si(worked->result.limit), 0.5, 1e-12);
    EXPECT_EQ(worked->verdict, Verdict::Tight) << "0.6 A are less than a quarter above 0.5 A";
    in.duty = of<Fraction>(1.0);
    EXPECT_EQ(driver::shownCurrent(in)->verdict, Verdict::Holds) << "2.4 A held fast";
    in.level = of<Fraction>(0.25);
    EXPECT_EQ(driver::shownCurrent(in)->verdict, Verdict::Breaks) << "2.5 A are never drawn";
    in.level = of<Fraction>(0.02);
    EXPECT_EQ(driver::shownCurrent(in)->verdict, Verdict::Breaks) << "0.2 A are drawn all the time";
    in.below = true;
    EXPECT_EQ(driver::shownCurrent(in)->verdict, Verdict::Holds) << "less than 0.2 A is what has lost its load";
    in.scale = of<Resistance>(0.0);
    EXPECT_FALSE(driver::shownCurrent(in));
}
// A converter's own reference is the most that it reads: 2 A are 10 V at 5 V for each.
TEST(ShownCurrent, aboveTheReferenceNothingIsTold) {
    driver::ShownCurrent in;
    in.scale = of<Resistance>(5.0), in.running = of<Current>(0.1), in.stalled = of<Current>(2.0), in.level = of<Fraction>(1.0);
    EXPECT_EQ(driver::shownCurrent(in)->verdict, Verdict::Breaks);
    EXPECT_EQ(si(*driver::shownCurrent(in)->result.reads_stalled), 1023.0);
}

TEST(ShownCurrent, itsWireGoesThroughAResistorToThePin) {
    const auto project = test::strained();
    const auto plan = plan::evaluate(project, test::shippedParts());
    const auto wires = plan::wiring(project, test::shippedParts(), plan);
    const auto found = std::find_if(wires.begin(), wires.end(), [](const auto& wire) { return wire.from == "it bridge current output"; });
    ASSERT_NE(found, wires.end());
    EXPECT_EQ(found->to, "board A0");
    ASSERT_TRUE(found->through);
    EXPECT_EQ(si(*found->through), 1000.0);
    EXPECT_EQ(std::count_if(wires.begin(), wires.end(), [](const auto& wire) { return wire.to.find("transformer") != std::string::npos; }),
              0)
        << "no current transformer beside it";
}

// As it comes, the pattern's level lies above what a bridge of half a volt for each ampere ever shows of such a motor: the plan says so,
// and sets it between the two.
TEST(ShownCurrent, itsLevelIsOfferedBetweenRunningAndHeldFast) {
    const auto parts = test::shippedParts();
    const auto project = test::strained();
    const auto plan = plan::evaluate(project, parts);
    const auto* never = test::finding(plan, "current-never-told");
    ASSERT_NE(never, nullptr);
    ASSERT_FALSE(never->remedies.empty());
    const auto cured = project::with(project, never->remedies.front().edits);
    ASSERT_TRUE(cured);
    const auto better = plan::evaluate(*cured, parts);
    EXPECT_EQ(test::finding(better, "current-never-told"), nullptr);
    EXPECT_EQ(test::finding(better, "current-always-told"), nullptr);
    EXPECT_EQ(test::finding(better, "current-told-late"), nullptr);
    const auto scale = plan::scaleOf(*cured, parts, *project::findInput(*cured, "strains"), 0.0);
    EXPECT_EQ(scale.kind, Kind::Current);
    EXPECT_NEAR(scale.per_count, 5.0 / 1023.0 / 0.5, 1e-9);
}

// The routine with its readings given by hand, tick by tick.
class Motor {
public:
    explicit Motor(const project::Project& project) : plan_(plan::evaluate(project, test::shippedParts())) {
        EXPECT_TRUE(plan_.program) << sentence(plan_.program_error.value_or(Error{}));
        machine_.emplace(*plan_.program);
        state_ = routine::powerUp(*plan_.program);
        pins_.assign(plan_.program->inputs.size(), 0);
        values_.assign(pins_.size(), 0);
        for (std::size_t i = 0; i < pins_.size(); ++i)
            if (plan_.program->inputs[i].id == "strains") level_ = i;
    }
    int counts = 0;  ///< while it is on
    void press(bool so) { pins_[level_ == 0 ? 1 : 0] = so ? 1 : 0; }
    /// @return ticks from its start to the first in which it is off again; −1: it stays on
    int run(int ticks) {
        int off = -1;
        for (int t = 0; t < ticks; ++t) {
            values_[level_] = on() ? counts : 0;
            routine::Happening happening;
            happening.pin_active = pins_;
            happening.values = values_;
            const bool ran = on();
            machine_->tick(state_, happening);
            if (on()) since_ = ran ? since_ + 1 : 1;
            if (ran && !on()) off = since_;
        }
        return off;
    }
    [[nodiscard]] bool on() const { return state_.output(0).on != 0; }
    [[nodiscard]] bool strains() const { return state_.input(level_).active != 0; }

private:
    plan::Plan plan_;
    std::optional<routine::Machine> machine_;
    routine::State state_;
    std::vector<std::uint8_t> pins_;
    std::vector<std::int32_t> values_;
    std::size_t level_ = 0;
    int since_ = 0;
};
project::Project at100() {
    return test::strained("bridge_3a", {{"inputs/strains/upper", "10 %"}, {"inputs/strains/lower", "8 %"}});
}

// By hand: half a second in which it may draw what it likes, and a tenth that its level must last. Off, it draws nothing; it is held to
// have strained until nobody wants it any more, and half a second longer.
TEST(ShownCurrent, isBelievedAfterItsStartAndKeepsItOff) {
    Motor motor(at100());
    motor.counts = 40;
    motor.run(100);
    motor.press(true);
    EXPECT_EQ(motor.run(2000), -1) << "below its level";
    EXPECT_TRUE(motor.on());
    motor.press(false);
    motor.counts = 200;
    motor.run(99);
    EXPECT_TRUE(motor.on()) << "a tenth of a second has not gone by";
    motor.run(3);
    EXPECT_FALSE(motor.on());
    motor.run(5000);
    EXPECT_FALSE(motor.on()) << "its minute is not over; that it draws nothing now does not start it again";
}
TEST(ShownCurrent, aStartMayDrawWhatItLikes) {
    Motor motor(at100());
    motor.counts = 300;
    motor.run(100);
    motor.press(true);
    const int off = motor.run(800);
    EXPECT_NEAR(off, 500 + 100, 3) << "half a second, then a tenth";
    EXPECT_TRUE(motor.strains());
    motor.press(false);
    motor.run(600);
    EXPECT_FALSE(motor.strains()) << "nobody wants it, for longer than half a second";
    motor.counts = 40;
    motor.press(true);
    motor.run(300);
    EXPECT_TRUE(motor.on()) << "and it starts again when it is asked to";
}

// What lets long stretches of nothing go by in one goes by it too.
TEST(ShownCurrent, quietStretchesEndWhereItIsBelieved) {
    const auto plan = plan::evaluate(at100(), test::shippedParts());
    ASSERT_TRUE(plan.program);
    const auto& program = *plan.program;
    routine::Machine one(program), two(program);
    auto slow = routine::powerUp(program), fast = slow;
    std::vector<std::uint8_t> pins(program.inputs.size(), 0);
    std::vector<std::int32_t> values(pins.size(), 0);
    std::size_t level = 0;
    while (program.inputs[level].id != "strains") ++level;
    const std::size_t button = level == 0 ? 1 : 0;
    int leapt = 0;
    for (int now = 0, next = 0; now < 4000; ++now) {
        pins[button] = now >= 50 && now < 3000 ? 1 : 0;
        values[level] = slow.output(0).on != 0 ? 200 : 0;
        routine::Happening happening;
        happening.pin_active = pins, happening.values = values;
        if (now >= next) {
            const int quiet = std::min<int>(routine::quietTicks(program, fast, pins, true, values), 4000 - now - 1);
            const bool steady = now < 49 - quiet || (now > 50 && now + quiet < 3000) || now > 3000;
            if (quiet > 0 && steady) routine::skip(program, fast, quiet), leapt += quiet, next = now + quiet;
            else two.tick(fast, happening), next = now + 1;
        }
        one.tick(slow, happening);
        if (next == now + 1) ASSERT_TRUE(slow == fast) << "tick " << now;
    }
    EXPECT_GT(leapt, 1000);
}

// In the scene a jam shows: the machine's current is what its bridge tells.
TEST(ShownCurrent, aJamInTheScenePutsItOff) {
    const auto parts = test::shippedParts();
    const auto broken = test::strained();
    const auto project = *project::with(broken, test::finding(plan::evaluate(broken, parts), "current-never-told")->remedies.front().edits);
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program);
    const auto machines = plan::heldMachines(project, parts, plan);
    ASSERT_EQ(machines.size(), 1U);
    for (const bool jams : {false, true}) {
        simulation::Options options;
        options.length = 4.0;
        options.machines = machines;
        const auto button =
            project.inputs.front().kind == project::InputKind::Button ? project.inputs.front().id : project.inputs.back().id;
        auto events = simulation::parseEvents("0.5,start,1\n0.7,start,0\n" + std::string(jams ? "2,jam,it\n" : ""));
        ASSERT_TRUE(events) << sentence(events.error());
        for (auto& event : *events)
            if (event.input == "start") event.input = button;
        options.events = *events;
        const auto traces = simulation::simulate(*plan.program, {}, options);
        ASSERT_TRUE(traces) << sentence(traces.error());
        ASSERT_FALSE(traces->switchings.empty()) << "it is started";
        double off = 0.0;
        for (const auto& change : traces->switchings)
            if (!change.on) off = change.time;
        if (jams) EXPECT_NEAR(off, 2.0 + 0.1, 0.02) << "a tenth of a second held fast";
        else EXPECT_EQ(off, 0.0) << "it runs on";
    }
}

TEST(ShownCurrent, itsStepIsOnTheList) {
    const auto parts = test::shippedParts();
    const auto project = at100();
    const auto steps = proof::bringUp(project, parts, plan::evaluate(project, parts));
    const auto found = std::find_if(steps.begin(), steps.end(), [](const auto& step) { return step.id == "it.watched"; });
    ASSERT_NE(found, steps.end());
    EXPECT_FALSE(found->caution.empty());
}

}  // namespace
}  // namespace hinge
