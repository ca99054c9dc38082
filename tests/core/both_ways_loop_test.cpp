// A loop that drives both ways: what it does at each end, that it stands still before it turns round, and the plate and the motor that it
// drives.
#include <gtest/gtest.h>
#include "firmware/runtime/spark_loop.h"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "plan/wiring.hpp"
#include "plant/vessel.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "support/both_ways.hpp"

namespace hinge {
namespace {

// By hand: 2 permille for each count (512 of 256), nothing summed: 50 counts short are 100 permille, 50 over are −100, held to the most.
TEST(BothWaysLoop, isTheSameLawOnEitherSide) {
    spark::Loop loop{};
    spark::forget(loop);
    std::int32_t n[spark::LoopNumber::count] = {500, 512, 0, 0, 10, 16, 0, 3, 0, 0};
    EXPECT_EQ(spark::loopDrive(loop, n, false, true, 1000, 450, 0, 0), 100);
    EXPECT_EQ(spark::loopDrive(loop, n, false, true, 1000, 550, 0, 0), -100);
    EXPECT_EQ(spark::loopDrive(loop, n, false, true, 80, 550, 0, 0), -80);
    EXPECT_EQ(spark::loopDrive(loop, n, false, true, 1000, 503, 0, 0), 0) << "within its band";
    EXPECT_EQ(spark::loopDrive(loop, n, false, false, 1000, 550, 0, 0), 0) << "one way: off, as before";
    n[spark::LoopNumber::integral] = 256;
    spark::forget(loop);
    for (int k = 0; k < 100; ++k) (void)spark::loopDrive(loop, n, false, true, 1000, 1023, 0, 0);
    EXPECT_EQ(loop.sum, -256'000) << "its sum stays within what the output can do, on this side too";
}

// By hand, of a plate that pumps 40 W at no difference and none at 67 K, takes 60 W, in a box of 1 W/K (straight line between the data
// sheet's ends): its own way of letting heat through is 40/67 = 0.597 W/K. Warming it comes to (40 + 60)/1.597 = 62.6 K above the air,
// cooling to 40/1.597 = 25.0 K below.
TEST(BothWaysLoop, aPlateWarmsByMoreThanItCools) {
    plant::BoxFigures f;
    f.capacity = 100.0, f.conductance = 1.0, f.ambient = 293.15, f.power = 100.0, f.backwards = 40.0, f.largest_difference = 67.0,
    f.sensor_lag = 1.0;
    plant::BoxPlant warm(f), cool(f);
    for (int k = 0; k < 2000; ++k) warm.step(1.0, 1.0), cool.step(1.0, -1.0);
    EXPECT_NEAR(warm.temperature() - 293.15, 100.0 / (1.0 + 40.0 / 67.0), 0.01);
    EXPECT_NEAR(cool.temperature() - 293.15, -40.0 / (1.0 + 40.0 / 67.0), 0.01);
    EXPECT_NEAR(warm.power(), 1.0 * (warm.temperature() - 293.15), 0.01) << "at rest, what comes in is what the box loses";
    EXPECT_NEAR(cool.power(), 1.0 * (cool.temperature() - 293.15), 0.01);
}

TEST(BothWaysLoop, itsPlateHangsOnABridgeWithADirection) {
    const auto parts = test::shippedParts();
    const auto project = test::plateBothWays(300.0);
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    EXPECT_EQ(plan.channels.front().not_driven, "");
    EXPECT_EQ(test::finding(plan, "never-backwards"), nullptr);
    const auto wires = plan::wiring(project, parts, plan);
    EXPECT_TRUE(
        std::any_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.from == "board D4" && wire.to == "it bridge DIR"; }));
    // Without that it only warms, and the plan says so and offers it.
    const auto one_way = test::edited(project, {{"routine/loops/hold/both", "no"}});
    const auto plan_one_way = plan::evaluate(one_way, parts);
    const auto* told = test::finding(plan_one_way, "never-backwards");
    ASSERT_NE(told, nullptr);
    ASSERT_FALSE(told->remedies.empty());
    const auto cured = project::with(one_way, told->remedies.front().edits);
    ASSERT_TRUE(cured);
    EXPECT_TRUE(*cured == project);
    // A MOSFET cannot turn it round: that is said in Match, and no sketch is made that would only warm.
    const auto switched = test::edited(project, {{"channels/it/drive/part", "mosfet_logic_30v"}});
    EXPECT_NE(plan::evaluate(switched, parts).channels.front().cells[static_cast<int>(project::Stage::Match)].verdict, Verdict::Holds);
}

class Held {
public:
    explicit Held(const project::Project& project) : plan_(plan::evaluate(project, test::shippedParts())) {
        EXPECT_TRUE(plan_.program) << sentence(plan_.program_error.value_or(Error{}));
        machine_.emplace(*plan_.program);
        state_ = routine::powerUp(*plan_.program);
        pins_.assign(plan_.program->inputs.size(), 0);
        values_.assign(pins_.size(), 500);
        for (std::size_t i = 0; i < pins_.size(); ++i)
            if (plan_.program->inputs[i].analogue) level_ = i;
    }
    void tick(int reading, bool pressed) {
        values_[level_] = reading;
        pins_[level_ == 0 ? 1 : 0] = pressed ? 1 : 0;
        routine::Happening happening;
        happening.pin_active = pins_, happening.values = values_;
        machine_->tick(state_, happening);
    }
    [[nodiscard]] double drive() const { return routine::signedDriveOf(*plan_.program, state_, 0); }
    plan::Plan plan_;
    routine::State state_;

private:
    std::optional<routine::Machine> machine_;
    std::vector<std::uint8_t> pins_;
    std::vector<std::int32_t> values_;
    std::size_t level_ = 0;
};

// By hand: once a second, 6 permille a count; 2 s of standing still between the ways.
TEST(BothWaysLoop, standsStillBeforeItTurnsRound) {
    Held held(test::plateBothWays(300.0, {{"routine/loops/hold/integral", "0"}}));
    for (int t = 0; t < 200; ++t) held.tick(250, t >= 50 && t < 150);
    int t = 0;
    for (; t < 3000; ++t) held.tick(250, false);
    EXPECT_NEAR(held.drive(), 0.300, 0.002) << "50 counts short";
    int off = -1, back = -1;
    for (int k = 0; k < 8000 && back < 0; ++k) {
        held.tick(350, false);
        if (off < 0 && held.drive() == 0.0) off = k;
        if (held.drive() < 0.0) back = k;
        EXPECT_LE(held.drive(), 0.3005) << "tick " << k;
    }
    ASSERT_GE(off, 0);
    ASSERT_GE(back, 0);
    EXPECT_LE(off, 1000) << "at the end of the period in which the reading crossed";
    EXPECT_GE(back - off, 2000);
    EXPECT_LE(back - off, 3001) << "the pause, and what is left of the period";
    EXPECT_NEAR(held.drive(), -0.300, 0.002);
}

// Ways that nothing turns round are refused where they are chosen.
TEST(BothWaysLoop, isRefusedWhereNothingTurnsRound) {
    const auto parts = test::shippedParts();
    const auto refused = [&](const std::vector<project::FactEdit>& edits) {
        const auto plan = plan::evaluate(test::plateBothWays(300.0, edits), parts);
        return plan.program_error ? plan.program_error->field : std::string{};
    };
    EXPECT_EQ(refused({}), "");
    EXPECT_EQ(refused({{"channels/it/off_delay", "2 s"}}), "routine/loops/hold/both");
    EXPECT_EQ(refused({{"channels/it/safe", "on"}}), "routine/loops/hold/both");
}

// The plate on its bench, played by the interpreter: from the air's temperature 5 K down, and 5 K up.
TEST(BothWaysLoop, thePlateComesToWhatIsWantedFromEitherSide) {
    const auto parts = test::shippedParts();
    for (const double wanted : {300.0, 500.0}) {
        const auto project = test::plateBothWays(wanted);
        const auto plan = plan::evaluate(project, parts);
        ASSERT_TRUE(plan.program);
        const auto machines = plan::heldMachines(project, parts, plan);
        ASSERT_EQ(machines.size(), 1U);
        plant::Bench bench(machines);
        Held held(project);
        double reading = 400.0, least = 1.0, most = -1.0;
        for (int t = 0; t < 240'000; ++t) {
            held.tick(static_cast<int>(reading), t >= 50 && t < 150);
            const std::array<double, 1> shares{held.drive()}, places{0.0};
            reading = bench.step(0.001, shares, places).front().value;
            least = std::min(least, held.drive()), most = std::max(most, held.drive());
        }
        EXPECT_NEAR(reading, wanted, 6.0) << "within a third of a kelvin";
        if (wanted < 400.0) EXPECT_LT(least, -0.1) << "it cools";
        else EXPECT_GT(most, 0.1) << "it warms";
    }
}

// Tune's model of the loop stands still for its pause as the sketch does: the same drive at the end of each period, on the same bench.
TEST(BothWaysLoop, theModelIsWhatTheSketchDoes) {
    const auto parts = test::shippedParts();
    const auto project =
        test::angleBothWays("bridge_3a", {{"channels/it/signal/turn_pause", "40 ms"}, {"routine/loops/hold/integral", "0.5"}});
    const auto plan = plan::evaluate(project, parts);
    auto made = plan::loopCase(project, parts, plan, "hold");
    ASSERT_TRUE(made);
    made->setup.machine.sense.noise = 0.0;
    made->setup.before = made->setup.wanted, made->setup.step_at = 0.0, made->setup.length = 1.5;
    const auto model = control::runLoop(made->setup);
    Held held(project);
    for (int t = 0; t < 60; ++t) held.tick(100, false);
    plant::Bench bench({made->setup.machine});
    double reading = 100.0;
    std::vector<double> drives;
    int turned = 0;
    for (int t = 0; t < 1800; ++t) {
        held.tick(static_cast<int>(reading), t < 100);
        if (!drives.empty() || held.state_.output(0).on != 0) drives.push_back(held.drive());
        const std::array<double, 1> shares{held.drive()}, places{0.0};
        reading = bench.step(0.001, shares, places).front().value;
    }
    // The model's drive of each row against the sketch's in that period: both overshoot, stand still and come back.
    double apart = 0.0, back = 0.0;
    int compared = 0;
    for (const auto& row : model.rows) {
        const auto at = static_cast<std::size_t>(std::lround(row.time * 1000.0));
        if (at >= drives.size()) break;
        apart += std::abs(row.drive - drives[at]), ++compared;
        back = std::min(back, row.drive);
        turned += row.drive < 0.0 && drives[at] < 0.0 ? 1 : 0;
    }
    EXPECT_LT(back, -0.05) << "it goes beyond, and is driven back";
    EXPECT_GT(turned, 2);
    EXPECT_LT(apart / compared, 0.03) << "of full power, over " << compared << " periods";
}

// What leaps over quiet stretches leaves the same state.
TEST(BothWaysLoop, quietStretchesLeaveTheSameState) {
    Held slow(test::plateBothWays(300.0)), fast(test::plateBothWays(300.0));
    const auto& program = *slow.plan_.program;
    std::vector<std::uint8_t> pins(program.inputs.size(), 0);
    int leapt = 0;
    for (int now = 0; now < 20'000;) {
        const bool pressed = now >= 50 && now < 150;
        const int reading = now < 8000 ? 250 : 350;
        std::vector<std::int32_t> values(program.inputs.size(), reading);
        const int next_change = now < 50 ? 50 : now < 150 ? 150 : now < 8000 ? 8000 : 20'000;
        const std::size_t level = program.inputs[0].analogue ? 0 : 1;
        pins[1 - level] = pressed ? 1 : 0;
        const int quiet = std::min<int>(routine::quietTicks(program, fast.state_, pins, true, values), next_change - now - 1);
        if (quiet > 0) {
            routine::skip(program, fast.state_, quiet);
            for (int k = 0; k < quiet; ++k) slow.tick(reading, pressed);
            now += quiet, leapt += quiet;
        } else {
            fast.tick(reading, pressed), slow.tick(reading, pressed), ++now;
        }
        ASSERT_TRUE(slow.state_ == fast.state_) << "tick " << now;
    }
    EXPECT_GT(leapt, 10'000);
}

}  // namespace
}  // namespace hinge
