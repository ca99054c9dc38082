// The supply network against closed forms, and its bad input.
#include <gtest/gtest.h>
#include <cmath>
#include "plant/motor_start.hpp"
#include "plant/supply_network.hpp"

namespace hinge::plant {
namespace {

SupplyNetwork network(std::vector<SupplySection> sections) {
    auto made = SupplyNetwork::make(std::move(sections));
    EXPECT_TRUE(made);
    return *made;
}

// A stiff source behind 0.5 Ω, 1000 µF with 0.1 Ω beside the load, and a step of 1 A.
TEST(SupplyNetwork, followsAStepThroughResistanceAndCapacitor) {
    const auto net = network({{.set = 5.0, .resistance = 0.5, .bulk = 1e-3, .esr = 0.1}});
    auto state = net.settled({});
    const std::vector<LoadShape> load{{0, 1.0, 0.0, 1.0}};
    // By hand: at once the divider 0.5 ∥ 0.1 Ω takes it, in the end 0.5 Ω; time constant C·(R + ESR).
    EXPECT_NEAR(net.at(state, load).volts[0], 5.0 - 0.5 * 0.1 / 0.6, 1e-9);
    const double tau = 1e-3 * 0.6;
    for (const double t : {1e-4, 6e-4, 2e-3}) {
        const double at_once = 5.0 - 0.5 * 0.1 / 0.6, settled = 4.5;
        EXPECT_NEAR(net.at(state, load, t).volts[0], settled + (at_once - settled) * std::exp(-t / tau), 1e-6) << "closed form at " << t;
    }
}

// A converter at its limit: the capacitor gives the rest, ΔV = I·ESR + I·t/C (as the working bulk-capacitor has it).
TEST(SupplyNetwork, dischargesTheCapacitorByWhatTheConverterCannotGive) {
    const auto net = network({{.set = 12.0},
                              {.feed = 0,
                               .regulated = true,
                               .set = 5.0,
                               .limit = 1.0,
                               .taken = 5.0 / (12.0 * 0.9),
                               .dropout = 1.0,
                               .resistance = 1e-3,
                               .bulk = 2200e-6,
                               .esr = 0.05}});
    auto state = net.settled({});
    const std::vector<LoadShape> load{{1, 1.6, 0.0, 1.0}};
    std::vector<Lowest> lowest;
    ASSERT_TRUE(net.advance(state, load, 0.010, &lowest));
    EXPECT_NEAR(lowest[1].volts, 5.0 - 0.6 * 0.05 - 0.6 * 0.010 / 2200e-6, 2e-3) << "1 mΩ of wire, 1 mV";
    EXPECT_EQ(state.modes[1], FeedMode::Limited);
    // Without the load it comes back at the limit and is held again: C·ΔV/I.
    std::vector<Lowest> after;
    ASSERT_TRUE(net.advance(state, {}, 0.020, &after));
    EXPECT_EQ(state.modes[1], FeedMode::Held);
    EXPECT_NEAR(state.caps[1], 5.0, 1e-6);
}

TEST(SupplyNetwork, theFeedGivesAConvertersShare) {
    const auto net = network(
        {{.set = 12.0, .resistance = 0.1}, {.feed = 0, .regulated = true, .set = 5.0, .taken = 5.0 / (12.0 * 0.88), .dropout = 1.0}});
    const std::vector<LoadShape> load{{1, 2.0, 0.0, 1.0}};
    const auto now = net.at(net.settled(load), load);
    EXPECT_NEAR(now.amps[0], 2.0 * 5.0 / (12.0 * 0.88), 1e-8) << "P = V·I/η at the nominal input";
    EXPECT_NEAR(now.volts[0], 12.0 - 0.1 * now.amps[0], 1e-9);
}

TEST(SupplyNetwork, aConverterInDropOutFollowsItsFeed) {
    const auto net =
        network({{.set = 5.5, .resistance = 0.5}, {.feed = 0, .regulated = true, .set = 5.0, .dropout = 1.1, .resistance = 0.1}});
    const std::vector<LoadShape> load{{1, 0.3, 0.0, 1.0}};
    EXPECT_NEAR(net.at(net.settled(load), load).volts[1], 5.5 - 0.15 - 1.1 - 0.03, 1e-6) << "by hand: source, drop-out and wire in a row";
}

TEST(SupplyNetwork, aDiodeHoldsTheRailUpWhenTheFeedSags) {
    // The 12 V feed sags under a load of its own; behind the diode the capacitor keeps what it had.
    const auto net =
        network({{.set = 12.0, .resistance = 1.0}, {.feed = 0, .resistance = 0.01, .drop = 0.5, .bulk = 1000e-6, .esr = 0.01}});
    auto state = net.settled({});
    EXPECT_NEAR(state.caps[1], 11.5, 1e-6);
    const std::vector<LoadShape> load{{0, 4.0, 0.0, 1.0}, {1, 0.1, 0.0, 1.0}};
    std::vector<Lowest> lowest;
    ASSERT_TRUE(net.advance(state, load, 0.005, &lowest));
    EXPECT_EQ(state.modes[1], FeedMode::Blocked);
    EXPECT_NEAR(lowest[1].volts, 11.5 - 0.1 * 0.01 - 0.1 * 0.005 / 1000e-6, 1e-4) << "by hand: I·ESR + I·t/C alone";
}

TEST(SupplyNetwork, twoEqualStagesInARowAreStillSolved) {
    const auto net = network({{.set = 10.0, .resistance = 1.0, .bulk = 1e-3, .esr = 0.01},
                              {.feed = 0, .regulated = true, .set = 5.0, .resistance = 1.0, .bulk = 1e-3, .esr = 0.01}});
    auto state = net.settled({});
    const std::vector<LoadShape> load{{1, 0.5, 0.3, 0.01}};
    ASSERT_TRUE(net.advance(state, load, 1.0));
    EXPECT_NEAR(state.caps[1], 4.5, 1e-4) << "settled: 1 Ω at 0.5 A";
}

TEST(SupplyNetwork, aRailThatNothingCanHoldCollapsesToZeroAndSaysSo) {
    const auto net = network({{.set = 5.0, .limit = 1.0}});
    const std::vector<LoadShape> load{{0, 3.0, 0.0, 1.0}};
    auto state = net.settled({});
    std::vector<Lowest> lowest;
    ASSERT_TRUE(net.advance(state, load, 0.1, &lowest));
    EXPECT_EQ(lowest[0].volts, 0.0);
    ASSERT_TRUE(net.advance(state, {}, 0.1, nullptr));
    EXPECT_NEAR(net.at(state, {}).volts[0], 5.0, 1e-6) << "and it comes back";
}

TEST(SupplyNetwork, refusesWhatHasNoMeaning) {
    EXPECT_FALSE(SupplyNetwork::make({{.feed = 0, .set = 5.0}})) << "feeds itself";
    EXPECT_FALSE(SupplyNetwork::make({{.set = 5.0, .resistance = -1.0}}));
    EXPECT_FALSE(SupplyNetwork::make({{.set = 5.0, .limit = 0.0}}));
    EXPECT_FALSE(SupplyNetwork::make({{.set = std::nan("")}}));
    EXPECT_TRUE(SupplyNetwork::make({{.set = 5.0, .resistance = 0.0, .bulk = 1e-3, .esr = 0.0}})) << "zero is taken as 1 mΩ";
}

// Without inductance to speak of and with a stiff supply: ω = ω∞·(1 − e^(−t/τ)), τ = J·R/k².
TEST(MotorStart, runsUpWithTheMechanicalTimeConstant) {
    MotorStart in{.supply = 12.0, .resistance = 0.0, .winding = 2.0, .inductance = 1e-6, .constant = 0.02, .inertia = 2e-5, .length = 0.5};
    const auto out = motorStart(in);
    ASSERT_TRUE(out);
    const double tau = 2e-5 * 2.0 / (0.02 * 0.02);
    for (const std::size_t k : {100U, 200U, 600U}) {
        const auto& sample = out->samples[k];
        EXPECT_NEAR(sample.speed, 12.0 / 0.02 * (1.0 - std::exp(-sample.time / tau)), 0.01) << "L/R is a 200 000th of it";
    }
    EXPECT_NEAR(out->run_up, tau * std::log(20.0), 1e-3) << "95 % after ln 20 time constants, to a sample";
}

TEST(MotorStart, standsStillBelowItsLoad) {
    MotorStart in{.supply = 1.0,
                  .resistance = 0.0,
                  .winding = 2.0,
                  .inductance = 1e-3,
                  .constant = 0.02,
                  .inertia = 2e-5,
                  .load_torque = 0.02,
                  .length = 0.5};
    const auto out = motorStart(in);
    ASSERT_TRUE(out);
    EXPECT_EQ(out->end.speed, 0.0);
    EXPECT_NEAR(out->end.motor_current, 0.5, 1e-6);
    EXPECT_LT(out->run_up, 0.0);
    in.inertia = 0.0;
    EXPECT_FALSE(motorStart(in));
}

}  // namespace
}  // namespace hinge::plant
