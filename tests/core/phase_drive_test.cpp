// Firing into half-waves of the mains: the header that the chip runs, on a mains made here.
#include <gtest/gtest.h>
#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <random>
#include "firmware/runtime/spark_drive_phase.h"

namespace hinge {
namespace {

constexpr double counts_a_second = 2e6;  // 16 MHz/8

// Share of full power in a resistance from a part of a half-wave on: the mean square of a sine, summed up.
double powerFrom(double part) {
    constexpr int slices = 20000;
    double sum = 0.0;
    for (int k = 0; k < slices; ++k) {
        const double at = part + (1.0 - part) * (k + 0.5) / slices;
        sum += std::pow(std::sin(std::numbers::pi * at), 2.0);
    }
    return 2.0 * sum * (1.0 - part) / slices;
}

TEST(FiringDelay, givesTheShareThatIsAsked) {
    EXPECT_EQ(spark::firingDelay(0), spark::never_fired);
    EXPECT_EQ(spark::firingDelay(-3), spark::never_fired);
    EXPECT_EQ(spark::firingDelay(1000), spark::earliest_fired);
    EXPECT_GT(powerFrom(spark::earliest_fired / 65536.0), 0.9999);
    for (int share = 50; share <= 950; ++share)
        ASSERT_NEAR(powerFrom(spark::firingDelay(share) / 65536.0), share / 1000.0, 0.003 * share / 1000.0) << share;
    for (int share = 1; share <= 1000; ++share) ASSERT_LE(spark::firingDelay(share), spark::firingDelay(share - 1));
}

// The mains, its line, and two gates, from event to event.
struct Bench {
    double mains = 50.0;    // Hz
    double early = 0.9e-3;  // s, both ends of a pulse
    double jitter = 0.0;    // s
    bool inverted = false;  // between the pulses, not in them: the same changes
    int bounces = 0;        // at each end, 25 µs apart
    std::function<bool(long)> comes = [](long) { return true; };
    spark::PhaseDrive<2> drive{};
    std::uint16_t asked[2] = {spark::never_fired, spark::never_fired};
    bool hangs = false;  // nobody asks any more
    struct Fired {
        double at;  // of its half-wave, 0 to 1
        long half;
    };
    std::vector<Fired> fired[2];
    bool on[2] = {};
    double last_quenched = 0.0;
    double now = 0.0;
    std::mt19937 dice{1};

    explicit Bench(double set) { drive.powerUp(static_cast<std::uint16_t>(std::lround(counts_a_second / 2.0 / set)), 0); }
    [[nodiscard]] static std::uint16_t counts(double time) {
        return static_cast<std::uint16_t>(static_cast<std::uint64_t>(std::llround(time * counts_a_second)));
    }
    void fire(std::uint8_t gate) {
        const double halves = now * 2.0 * mains;
        fired[gate].push_back({halves - std::floor(halves), static_cast<long>(halves)});
        on[gate] = true;
    }
    void quench(std::uint8_t gate) {
        on[gate] = false;
        last_quenched = now;
    }
    void runTo(double end) {
        std::vector<double> changes;
        std::uniform_real_distribution<double> off(-jitter, jitter);
        for (long k = static_cast<long>(std::floor(now * 2.0 * mains)) + 1;; ++k) {
            const double crossing = static_cast<double>(k) / (2.0 * mains);
            if (crossing + early >= end) break;
            if (!comes(k)) continue;
            for (const double edge : {-early, early})
                for (int b = 0; b <= 2 * bounces; ++b) changes.push_back(crossing + edge + off(dice) + b * 25e-6);
        }
        std::sort(changes.begin(), changes.end());
        auto change = changes.begin();
        double due = 1e9;
        const auto timeOf = [&](std::uint16_t at) { return now + static_cast<std::int16_t>(at - counts(now)) / counts_a_second; };
        if (drive.mains.in_step) due = timeOf(drive.runs ? drive.step(counts(now), *this) : drive.mains.next());
        while (change != changes.end() || due < end) {
            for (std::uint8_t g = 0; g < 2 && !hangs; ++g) drive.ask(g, asked[g], *this);
            if (change != changes.end() && *change <= due) {
                now = *change++;
                if (drive.mains.change(counts(now))) due = timeOf(drive.mains.next());
                continue;
            }
            if (due >= end) break;
            now = due;
            const auto next = drive.step(counts(now), *this);
            due = drive.mains.in_step ? std::max(now + 0.5e-6, timeOf(next)) : 1e9;
        }
        now = end;
    }
};

double meanPower(const std::vector<Bench::Fired>& fired, long from) {
    double sum = 0.0;
    int count = 0;
    for (const auto& each : fired)
        if (each.half >= from) sum += powerFrom(each.at), ++count;
    return count > 0 ? sum / count : 0.0;
}

TEST(PhaseDrive, powerIsWithinTwoPercentOfTheWish) {
    for (const double set : {50.0, 60.0})
        for (const double real : {0.99, 1.0, 1.01})
            for (const int share : {50, 120, 333, 500, 780, 950}) {
                Bench bench(set);
                bench.mains = set * real, bench.jitter = 20e-6;
                bench.asked[0] = spark::firingDelay(share);
                bench.asked[1] = spark::firingDelay(500);
                bench.runTo(3.0);
                const long from = static_cast<long>(2.0 * bench.mains * 1.5);
                EXPECT_NEAR(meanPower(bench.fired[0], from), share / 1000.0, 0.02 * share / 1000.0)
                    << set << " Hz, " << real << ", " << share;
                EXPECT_NEAR(meanPower(bench.fired[1], from), 0.5, 0.01);
                // Each half-wave once, both ways alike: no direct current.
                for (std::size_t k = 1; k < bench.fired[0].size(); ++k)
                    EXPECT_EQ(bench.fired[0][k].half, bench.fired[0][k - 1].half + 1) << share;
                EXPECT_EQ(bench.drive.mains.lost, 0);
            }
}

TEST(PhaseDrive, whatTheThresholdIsDoesNotMatter) {
    for (const double early : {0.3e-3, 0.9e-3, 1.8e-3}) {
        Bench bench(50.0);
        bench.early = early;
        bench.asked[0] = spark::firingDelay(500);
        bench.runTo(1.0);
        EXPECT_NEAR(meanPower(bench.fired[0], 50), 0.5, 0.005) << early;
    }
}

TEST(PhaseDrive, aLineThatBouncesStaysInStep) {
    Bench bench(50.0);
    bench.bounces = 3, bench.jitter = 5e-6;
    bench.asked[0] = spark::firingDelay(300);
    bench.runTo(2.0);
    EXPECT_TRUE(bench.drive.mains.in_step);
    EXPECT_EQ(bench.drive.mains.lost, 0);
    EXPECT_NEAR(meanPower(bench.fired[0], 100), 0.3, 0.02);  // its pulses' middles are late by half of the bouncing
}

TEST(PhaseDrive, nothingIsFiredAtAnotherMainsThanThatWhichIsSet) {
    for (const auto& [set, real] : {std::pair{50.0, 60.0}, {60.0, 50.0}, {50.0, 45.0}, {50.0, 100.0}, {50.0, 25.0}}) {
        Bench bench(set);
        bench.mains = real;
        bench.asked[0] = spark::earliest_fired;
        bench.runTo(2.0);
        EXPECT_TRUE(bench.fired[0].empty()) << set << " set, " << real;
        EXPECT_FALSE(bench.drive.mains.in_step);
    }
}

// Crossings that fail to come are made good for less than four half-waves, and counted; after that nothing is fired until it is in step
// again.
TEST(PhaseDrive, lostCrossingsAreCountedAndThenNothingIsFired) {
    Bench bench(50.0);
    bench.asked[0] = spark::firingDelay(500);
    bench.comes = [](long k) { return k < 100 ? true : k < 300 ? k % 10 != 0 : k < 400 ? false : true; };
    bench.runTo(2.95);
    EXPECT_EQ(bench.drive.mains.lost, 20);
    EXPECT_TRUE(bench.drive.mains.in_step);
    bench.runTo(3.95);
    EXPECT_FALSE(bench.drive.mains.in_step);
    EXPECT_FALSE(bench.on[0]);
    EXPECT_LT(bench.last_quenched, 3.0 + 0.05) << "the first that fails to come is at 3 s";
    for (const auto& each : bench.fired[0]) EXPECT_FALSE(each.half >= 304 && each.half < 408) << each.half;
    bench.runTo(5.0);
    EXPECT_TRUE(bench.drive.mains.in_step);
    EXPECT_GT(bench.fired[0].back().half, 450);
    EXPECT_NEAR(meanPower(bench.fired[0], 450), 0.5, 0.005);
}

// What is let go is let go at once: not at the next crossing, and not fired once more in a half-wave that has begun.
TEST(PhaseDrive, whatIsLetGoIsNotFiredAnyMore) {
    for (const double into : {0.002, 0.006, 0.0085}) {  // before its firing, after it, after its quenching
        Bench bench(50.0);
        bench.asked[0] = spark::firingDelay(500);
        bench.runTo(1.0 + into);
        const auto fired = bench.fired[0].size();
        bench.asked[0] = spark::never_fired;
        bench.drive.ask(0, spark::never_fired, bench);
        EXPECT_FALSE(bench.on[0]) << into;
        bench.runTo(1.5);
        EXPECT_EQ(bench.fired[0].size(), fired) << into;
    }
}

// A sketch that hangs asks no more: a quarter of a second later nothing is fired, and it begins again when it is asked.
TEST(PhaseDrive, aSketchThatHangsKeepsNothingOn) {
    Bench bench(50.0);
    bench.asked[0] = spark::earliest_fired;
    bench.runTo(1.0);
    bench.hangs = true;
    bench.runTo(3.0);
    ASSERT_FALSE(bench.fired[0].empty());
    EXPECT_LE(bench.fired[0].back().half, 100 + spark::half_waves_alone);
    EXPECT_FALSE(bench.on[0]);
    bench.hangs = false;
    bench.runTo(4.0);
    EXPECT_GE(bench.fired[0].back().half, 398);
}

// Rubbish on the line: whatever comes, no gate is on outside of what may be fired, and none for longer than a half-wave.
TEST(PhaseDrive, rubbishOnTheLineFiresNothingForLong) {
    std::mt19937 dice(7);
    spark::PhaseDrive<1> drive{};
    drive.powerUp(20000, 0);
    struct Pins {
        bool on = false;
        void fire(std::uint8_t) { on = true; }
        void quench(std::uint8_t) { on = false; }
    } pins;
    std::uint32_t on_for = 0, longest = 0;
    std::uint16_t due = 0;
    bool was = false;
    for (std::uint32_t t = 0; t < 40'000'000; t += 8) {
        const auto now = static_cast<std::uint16_t>(t);
        if (dice() % 700 == 0) (void)drive.mains.change(now);
        drive.ask(0, spark::earliest_fired, pins);
        if (drive.mains.in_step && !was) due = drive.mains.next();
        was = drive.mains.in_step;
        if (drive.mains.in_step && static_cast<std::int16_t>(now - due) >= 0) due = drive.step(now, pins);
        on_for = pins.on ? on_for + 8 : 0;
        longest = std::max(longest, on_for);
    }
    EXPECT_LE(longest, 20000U);
}

}  // namespace
}  // namespace hinge
