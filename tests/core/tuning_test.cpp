// Controllers, responses, guidance, search and practice.
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <array>
#include <cmath>
#include <numbers>
#include "control/margins.hpp"
#include "control/practice.hpp"
#include "control/search.hpp"

namespace hinge::control {
namespace {

// A discrete PID by hand: P 0.5, I 0.4 a second, D 0.02 s, period 0.1 s, drive 0 to 1, and a smoothing of one half.
// Rows: reading; error; sum = sum + 0.04·e, within 0 to 1; damped = half of the way to the change; drive.
TEST(Pid, followsTheHandTable) {
    PidFigures figures;
    figures.gains = {0.5, 0.4, 0.02};
    figures.period = 0.1;
    figures.smoothing = 0.5;
    Pid pid{figures};
    struct Row {
        double wanted, reading, sum, drive;
    };
    constexpr std::array rows{
        Row{1.0, 0.0, 0.04, 0.54},    // first: no change yet; 0.5 + 0.04
        Row{1.0, 0.4, 0.064, 0.324},  // damped 0.2: 0.3 + 0.064 − 0.2·0.2
        Row{1.0, 1.2, 0.056, 0.0},    // damped 0.5: −0.1 + 0.056 − 0.1 = −0.144, held at 0

    };
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(pid.step(rows[k].wanted, rows[k].reading), rows[k].drive, 1e-12) << k;
        EXPECT_NEAR(pid.sum(), rows[k].sum, 1e-12) << k;
    }
    // Fourth: no error; the change is −0.2, damped 0.5 + 0.5·(−0.2 − 0.5) = 0.15; drive 0.056 − 0.2·0.15 = 0.026.
    EXPECT_NEAR(pid.step(1.0, 1.0), 0.026, 1e-12);
}

TEST(Pid, doesNotWindUp) {
    PidFigures figures;
    figures.gains = {0.1, 1.0, 0.0};
    figures.period = 0.1;
    Pid pid{figures};
    for (int i = 0; i < 1000; ++i) (void)pid.step(100.0, 0.0);  // held fast for 100 s
    EXPECT_LE(pid.sum(), 1.0);
    // Let go beyond the target: the drive comes down at once by the error's worth, not after a hundred seconds.
    EXPECT_LT(pid.step(100.0, 110.0), 1e-12);
}

TEST(Pid, leavesADeadBandAlone) {
    PidFigures figures;
    figures.gains = {1.0, 1.0, 0.0};
    figures.band = 2.0;
    Pid pid{figures};
    EXPECT_EQ(pid.step(10.0, 8.0), 0.0);
    EXPECT_GT(pid.step(10.0, 7.9), 0.0);
}

TEST(Pid, turnsTheUsualFormsIntoEachOther) {
    const auto gains = parallel({2.0, 4.0, 0.5});
    EXPECT_EQ(gains.integral, 0.5);    // kp/ti
    EXPECT_EQ(gains.derivative, 1.0);  // kp·td
    EXPECT_EQ(ideal(gains).integral_time, 4.0);
    EXPECT_EQ(parallel({2.0, 0.0, 0.0}).integral, 0.0) << "no integral part";
}

TEST(OnOff, staysBetweenItsBounds) {
    OnOff relay{540.0, 560.0, 1.0};
    EXPECT_EQ(relay.step(550.0), 0.0) << "off at first";
    EXPECT_EQ(relay.step(540.0), 1.0);
    EXPECT_EQ(relay.step(550.0), 1.0);
    EXPECT_EQ(relay.step(560.0), 0.0);
    EXPECT_EQ(relay.step(541.0), 0.0);
}

std::vector<LoopRow> curve(double damping, double pace, double length, double h = 0.001) {
    // A second order's step response in closed form, 0 to 1000 counts at 0.1 s.
    std::vector<LoopRow> rows;
    for (double t = 0.0; t < length; t += h) {
        const double s = t - 0.1;
        double y = 0.0;
        if (s > 0.0 && damping < 1.0) {
            const double wd = pace * std::sqrt(1.0 - damping * damping);
            y = 1.0 - std::exp(-damping * pace * s) * (std::cos(wd * s) + damping / std::sqrt(1.0 - damping * damping) * std::sin(wd * s));
        } else if (s > 0.0) {
            y = 1.0 - std::exp(-pace * s);
        }
        rows.push_back({t, s >= 0.0 ? 1000.0 : 0.0, 1000.0 * y, 0.5, 0.0});
    }
    return rows;
}

// Overshoot e^(−πζ/√(1−ζ²)) at π/ωd; from memory, any textbook of control.
TEST(Response, readsASecondOrderAsItsFormulasSay) {
    for (const double damping : {0.2, 0.4, 0.6}) {
        const auto r = readResponse(curve(damping, 10.0, 6.0), {1.0, 0.05});
        ASSERT_TRUE(r);
        const double root = std::sqrt(1.0 - damping * damping);
        EXPECT_NEAR(r->overshoot, std::exp(-std::numbers::pi * damping / root), 1e-3);
        EXPECT_NEAR(r->peak_at, std::numbers::pi / (10.0 * root), 2e-3);
        EXPECT_NEAR(r->lean, 0.0, 1e-3);
        EXPECT_FALSE(r->runs_away);
    }
}

TEST(Response, readsAFirstOrderAsItsFormulasSay) {
    const auto r = readResponse(curve(1.0, 4.0, 5.0), {1.0, 0.05});
    ASSERT_TRUE(r && r->rise && r->settled);
    EXPECT_NEAR(*r->rise, std::log(9.0) / 4.0, 2e-3);
    EXPECT_NEAR(*r->settled, std::log(20.0) / 4.0, 2e-3);
    EXPECT_EQ(r->overshoot, 0.0);
    EXPECT_EQ(r->rings, 0);
}

TEST(Response, countsItsSwingsOutOfTheBand) {
    // ζ = 0.2: swings of 52.7, 27.7, 14.6, 7.7, 4.06 %: four of them leave 5 %.
    const auto r = readResponse(curve(0.2, 10.0, 6.0), {1.0, 0.05});
    EXPECT_EQ(r->rings, 4);
    const auto words = sayResponse(*r, {1.0, 0.0, 0.0}, {1.0, 0.05});
    EXPECT_NE(words.matter.find("overshoots by half"), std::string::npos) << words.matter;
    EXPECT_NE(words.matter.find("rings 4 times"), std::string::npos) << words.matter;
    EXPECT_NE(words.advice.find("Less P, or more D"), std::string::npos) << words.advice;
}

TEST(Response, refusesWhatHasNoStep) {
    EXPECT_FALSE(readResponse({}, {}));
    auto rows = curve(0.4, 10.0, 1.0);
    for (auto& row : rows) row.wanted = 7.0;
    EXPECT_FALSE(readResponse(rows, {}));
    rows = curve(0.4, 10.0, 0.105);
    EXPECT_FALSE(readResponse(rows, {})) << "fewer than ten rows after it";
}

TEST(Response, saysWhenItRunsAway) {
    std::vector<LoopRow> rows;
    for (int i = 0; i < 200; ++i)
        rows.push_back({i * 0.01, i >= 10 ? 100.0 : 0.0, i < 10 ? 0.0 : 100.0 * (1.0 + 0.1 * std::exp(0.02 * i) * std::sin(0.3 * i)),
                        i % 2 == 0 ? 1.0 : 0.0, 0.0});
    const auto r = readResponse(rows, {1.0, 0.05});
    ASSERT_TRUE(r);
    EXPECT_TRUE(r->runs_away);
    EXPECT_FALSE(meets(*r, {10.0, 10.0}));
}

RC_GTEST_PROP(Response, neverSettlesBeforeItRises, ()) {
    const double damping = *rc::gen::inRange(10, 95) / 100.0, pace = *rc::gen::inRange(2, 40);
    const auto r = readResponse(curve(damping, pace, 0.1 + 60.0 / (pace * damping)), {1.0, 0.05});
    RC_ASSERT(r && r->settled && r->rise);
    RC_ASSERT(*r->settled > *r->rise * 0.5);
    RC_ASSERT(r->overshoot >= 0.0);
}

LoopSetup turntable() {
    for (const auto& exercise : exercises())
        if (exercise.id == "turntable") return exercise.setup;
    return {};
}

TEST(Margins, holdWhereTheTimeResponseHolds) {
    // Every eighth of the way to where it rings for ever and beyond: growing swings in time, and a pole outside, together.
    auto setup = turntable();
    setup.machine.sense.tach = false;  // whole readings, not counts, so that small swings show
    setup.machine.sense.per_unit = 100.0;
    setup.pid.least = -1e9, setup.pid.most = 1e9;
    auto figures = std::get<plant::Rotor>(setup.machine.machine).figures();
    figures.friction = figures.stiction = 0.0;
    setup.machine.machine = plant::Rotor{figures};
    setup.wanted = 500.0;
    const auto plant = straightened(setup.machine, 0.0);
    ASSERT_TRUE(plant);
    int stable = 0, not_stable = 0;
    for (double p = 0.0002; p < 0.02; p *= 1.3) {
        setup.pid.gains = {p, p * 3.0, 0.0};
        const bool says = margins(*plant, setup.pid).stable;
        const auto run = runLoop(setup);
        double middle = 0.0, late = 0.0;
        for (const auto& row : run.rows)
            if (row.time > 1.0) (row.time < 2.0 ? middle : late) = std::max(row.time < 2.0 ? middle : late, std::abs(row.reading - 500.0));
        if (std::abs(margins(*plant, setup.pid).slowest - 1.0) < 0.05) continue;  // too near to tell in four seconds
        // Dying away to a count or two, or swinging as far as the reading goes.
        EXPECT_EQ(says, late < std::max(3.0, 0.8 * middle)) << p;
        ++(says ? stable : not_stable);
    }
    EXPECT_GT(stable, 2);
    EXPECT_GT(not_stable, 2);
}

TEST(Margins, growWorseWithALongerPeriod) {
    const auto setup = turntable();
    auto pid = setup.pid;
    pid.gains = {0.01, 0.13, 0.0};
    const auto plant = straightened(setup.machine, 0.0);
    const auto longest = longestStablePeriod(*plant, pid);
    ASSERT_TRUE(longest);
    EXPECT_GT(*longest, pid.period);
    for (const double factor : {0.97, 1.04}) {
        auto other = pid;
        other.period = *longest * factor;
        const double share = pid.period / other.period;  // a longer count gives more for the same speed
        other.gains = {pid.gains.proportional * share, pid.gains.integral * share, 0.0};
        EXPECT_EQ(margins(*plant, other).stable, factor < 1.0);
    }
}

// A trial in which the body fell and was set up again by hand is no trial that stood, and no figure comes from after the fall.
TEST(Standing, aBodyThatFellAndWasSetUpAgainDidNotStand) {
    const auto trial = [](double falls, double set_up, double length) {
        std::vector<LoopRow> rows;
        for (double t = 0.0; t < length; t += 0.01) {
            const bool lies = t < 0.3 || (t >= falls && t < set_up);
            rows.push_back({t, 512.0, 512.0 + (lies ? 480.0 : 6.0 * std::sin(20.0 * t)), 0.0, 0.0});
        }
        return rows;
    };
    const auto stood = readStanding(trial(1e9, 0.0, 6.0));
    EXPECT_TRUE(stood.stands) << "it lay until it was set up: that is no fall";
    EXPECT_NEAR(stood.furthest, 6.0, 0.01);
    EXPECT_NEAR(stood.wanders, 6.0 / std::sqrt(2.0), 0.3);
    for (const double falls : {0.8, 3.0, 5.0}) {
        const auto fell = readStanding(trial(falls, falls + 0.4, 6.0));
        EXPECT_FALSE(fell.stands) << falls;
        EXPECT_LT(fell.furthest, 7.0) << "what it did before";
    }
    EXPECT_FALSE(readStanding(trial(0.0, 1e9, 6.0)).stands) << "it never stood";
    EXPECT_FALSE(readStanding(std::vector<LoopRow>{}).stands);
}

TEST(Guide, leadsFromNothingToTheTargetInTheMakersOrder) {
    auto setup = turntable();
    const Target target{1.0, 0.06};
    GuideStep step = GuideStep::RaiseP;
    ParallelGains gains{};
    std::optional<Response> response;
    std::vector<GuideStep> order;
    for (int i = 0; i < 40 && step != GuideStep::Done; ++i) {
        const auto next = guide(step, gains, response, target, 0.004, setup.pid.period);
        EXPECT_FALSE(next.words.empty());
        step = next.step;
        gains = next.next;
        if (order.empty() || order.back() != step) order.push_back(step);
        setup.pid.gains = gains;
        response = readResponse(runLoop(setup).rows, target);
    }
    EXPECT_EQ(step, GuideStep::Done);
    ASSERT_FALSE(order.empty());
    EXPECT_EQ(order.front(), GuideStep::RaiseP);
    EXPECT_TRUE(response && meets(*response, target));
}

TEST(Search, findsGainsForEachCost) {
    SearchAsk ask;
    ask.setup = turntable();
    ask.setup.pid.gains = {0.002, 0.0, 0.0};
    ask.target = {1.0, 0.06};
    std::array<double, 4> settled{}, hum{};
    for (const auto cost : {Cost::Calm, Cost::Quick, Cost::Quiet, Cost::Cool}) {
        ask.cost = cost;
        const auto found = searchGains(ask);
        ASSERT_TRUE(found) << nameOf(cost);
        EXPECT_LT(found->cost, found->before) << nameOf(cost);
        ASSERT_TRUE(found->response) << nameOf(cost);
        EXPECT_FALSE(found->response->runs_away);
        settled[static_cast<std::size_t>(cost)] = found->response->settled.value_or(99.0);
        hum[static_cast<std::size_t>(cost)] = found->response->hum;
        // Gains found by search hold on the machine straightened, with room to spare.
        const auto held = margins(*straightened(ask.setup.machine, 0.0), found->pid);
        EXPECT_TRUE(held.stable) << nameOf(cost);
    }
    EXPECT_LE(settled[static_cast<std::size_t>(Cost::Quick)], settled[static_cast<std::size_t>(Cost::Calm)] + 1e-9);
    EXPECT_LE(hum[static_cast<std::size_t>(Cost::Quiet)], hum[static_cast<std::size_t>(Cost::Quick)] + 1e-9);
}

// A warm box loses heat all the time: P alone stays short of what is wanted. Even the quietest gains take that out.
TEST(Search, doesNotEndWithPAloneWhereThatStaysShort) {
    SearchAsk ask;
    ask.setup = LoopSetup{};
    ask.target = {20.0, 0.25};  // so wide that P alone would do
    plant::BoxFigures box;
    box.capacity = 50.0, box.conductance = 2.0, box.power = 60.0, box.ambient = 290.0, box.sensor_lag = 0.5;
    ask.setup.machine = plant::Coupling{};
    ask.setup.machine.machine = plant::BoxPlant{box};
    ask.setup.machine.sense.per_unit = 10.0;
    ask.setup.machine.sense.zero = -2900.0;
    ask.setup.pid.period = 0.2;
    ask.setup.pid.gains = {0.02, 0.0, 0.0};
    ask.setup.before = 0.0, ask.setup.wanted = 150.0;
    ask.setup.step_at = 1.0, ask.setup.length = 120.0;
    ask.setup.ramp = 0.0;
    for (const auto cost : {Cost::Calm, Cost::Quick, Cost::Quiet, Cost::Cool}) {
        ask.cost = cost;
        const auto found = searchGains(ask);
        ASSERT_TRUE(found) << nameOf(cost) << sentence(found.error());
        EXPECT_GT(found->pid.gains.integral, 0.0) << nameOf(cost);
        ASSERT_TRUE(found->response);
        EXPECT_LT(std::abs(found->response->lean), 0.25 * ask.target.band) << nameOf(cost);
    }
}

TEST(Search, refusesWhatCannotBeSearched) {
    SearchAsk ask;
    ask.setup = turntable();
    ask.setup.wanted = ask.setup.before;
    EXPECT_EQ(searchGains(ask).error().field, "wanted");
    ask.setup = turntable();
    ask.setup.machine.sense.per_unit = 0.0;  // a sensor that says nothing
    EXPECT_EQ(searchGains(ask).error().field, "gains");
    const std::atomic<bool> cancel{true};
    ask.setup = turntable();
    ask.cancel = &cancel;
    EXPECT_EQ(searchGains(ask).error().code, ErrorCode::Cancelled);
}

class Practice : public testing::TestWithParam<std::size_t> {};
// Each can be solved, is not solved as it begins, and tells more with each hint.
TEST_P(Practice, canBeSolvedAndIsNotSolvedAtFirst) {
    ASSERT_LT(GetParam(), exercises().size());
    const auto& exercise = exercises()[GetParam()];
    EXPECT_FALSE(exercise.title.empty() || exercise.task.empty() || exercise.why.empty());
    EXPECT_GE(exercise.hints.size(), 2U);
    const auto first = scoreOf(exercise, runLoop(exercise.setup), exercise.setup.pid.gains, 0);
    EXPECT_FALSE(first.met) << exercise.id;
    EXPECT_LT(first.points, 60) << exercise.id;
    SearchAsk ask;
    ask.setup = exercise.setup;
    ask.target = exercise.target;
    ask.variation = 0;
    const auto found = searchGains(ask);
    ASSERT_TRUE(found) << exercise.id;
    auto setup = exercise.setup;
    setup.pid = found->pid;
    const auto best = scoreOf(exercise, runLoop(setup), found->pid.gains, 0);
    EXPECT_TRUE(best.met) << exercise.id << ": " << best.words.matter << ' ' << found->pid.gains.proportional << ' '
                          << found->pid.gains.integral << ' ' << found->pid.gains.derivative;
    EXPECT_GE(best.points, 60) << exercise.id;
    EXPECT_EQ(scoreOf(exercise, runLoop(setup), found->pid.gains, 2).points, best.points - 10) << "hints cost";
}
// The last hint names gains: they must do.
TEST_P(Practice, isSolvedByItsLastHint) {
    const auto& exercise = exercises()[GetParam()];
    const auto& hint = exercise.hints.back();
    const auto after = [&hint](const char* name) {
        const auto at = hint.find(name);
        return at == std::string::npos ? 0.0 : std::stod(hint.substr(at + std::string{name}.size()));
    };
    auto setup = exercise.setup;
    setup.pid.gains = {after("P "), after("I "), after("D ")};
    const auto score = scoreOf(exercise, runLoop(setup), setup.pid.gains, 0);
    EXPECT_TRUE(score.met) << exercise.id << ": " << score.words.matter << ' ' << score.words.advice;
}
INSTANTIATE_TEST_SUITE_P(All, Practice, testing::Range<std::size_t>(0, 7), [](const auto& row) {
    std::string name;
    for (const char c : row.param < exercises().size() ? exercises()[row.param].id : "none")
        if (c != '-') name += c;
    return name;
});

// The story of the gains from another machine is true: they stand on wheels half as wide again, and not on these.
TEST(Practice, gainsFromAnotherMachineStoodThere) {
    const auto found = std::find_if(exercises().begin(), exercises().end(), [](const Exercise& each) { return each.id == "other-wheels"; });
    ASSERT_NE(found, exercises().end());
    auto setup = found->setup;
    EXPECT_FALSE(readStanding(runLoop(setup)).stands);
    auto figures = std::get<plant::Balancer>(setup.machine.machine).figures();
    figures.distance_per_step *= 1.5;
    setup.machine.machine = plant::Balancer{figures};
    EXPECT_TRUE(readStanding(runLoop(setup)).stands);
}

TEST(Practice, refusesWhatItCannotRead) {
    EXPECT_EQ(parseExercises("[a]\nmachine = rotor\nwheels = 3\n").error().value, "wheels");
    EXPECT_EQ(parseExercises("[a]\nmachine = kite\n").error().value, "kite");
    EXPECT_EQ(parseExercises("p = 3\n").error().field, "line 1");
    EXPECT_EQ(parseExercises("[a]\nmachine = rotor\np = three\n").error().field, "line 3");
    EXPECT_EQ(exercises().size(), 7U);
}

TEST(Plants, aServoStrainsAtItsEndAndNotBefore) {
    plant::ServoFigures figures;
    figures.zero_place = 2000.0, figures.per_place = 1e-3, figures.most_speed = 5.0, figures.quickness = 0.02, figures.low_stop = -0.2,
    figures.high_stop = 1.0, figures.dead = 0.005;
    plant::ServoPlant servo{figures};
    servo.step(0.1, 2500.0);  // to 0.5 rad: near from 0.1 on, 0.08 s at 5 rad/s, then 0.02 s of the exponential
    EXPECT_NEAR(servo.angle(), 0.5 - 0.1 * std::exp(-1.0), 1e-12);
    EXPECT_FALSE(servo.strains());
    for (int i = 0; i < 1000; ++i) servo.step(1e-3, 3200.0);
    EXPECT_TRUE(servo.strains());
    EXPECT_LE(servo.angle(), 1.0);
    EXPECT_EQ(servo.current(), figures.strain_current);
    servo.step(1e-3, 0.0);
    EXPECT_EQ(servo.current(), 0.0) << "without a pulse it hangs loose";
}

TEST(Plants, aRotorSticksUntilItIsPushedHardEnough) {
    plant::RotorFigures figures;
    figures.supply = 10.0, figures.resistance = 5.0, figures.back = 1.0, figures.torque = 1.0, figures.inertia = 0.01,
    figures.friction = 0.1, figures.stiction = 0.2;
    plant::Rotor rotor{figures};
    rotor.step(1.0, 0.099);  // 0.198 N·m
    EXPECT_EQ(rotor.speed(), 0.0);
    rotor.step(5.0, 0.11);  // 0.22 N·m: it lets go, and then only friction holds
    EXPECT_NEAR(rotor.speed(), (0.22 - 0.1) * 5.0, 1e-9);
    EXPECT_NEAR(rotor.settledSpeed(0.11), 0.6, 1e-12);
    rotor.jam(true);
    rotor.step(0.1, 1.0);
    EXPECT_EQ(rotor.speed(), 0.0);
    EXPECT_NEAR(rotor.current(), 2.0, 1e-12) << "held fast it draws V/R";
}

TEST(Plants, playHidesTheFirstOfATurnBack) {
    plant::RotorFigures figures;
    figures.play = 0.1, figures.friction = figures.stiction = 0.0;
    plant::Rotor rotor{figures};
    for (int i = 0; i < 500; ++i) rotor.step(1e-3, 0.5);
    EXPECT_NEAR(rotor.angle() - rotor.driven(), 0.05, 1e-9);
    const double before = rotor.driven();
    while (rotor.speed() > 0.0) rotor.step(1e-3, -0.5);
    const double turned = rotor.driven();
    while (rotor.angle() > turned - 0.04) rotor.step(1e-4, -0.5);
    EXPECT_GE(rotor.driven(), before);
    EXPECT_NEAR(rotor.driven(), turned, 1e-2) << "the gear comes back through its play first";
}

TEST(Plants, aFanStartsAtOneShareAndStopsAtALower) {
    plant::FanPlant fan{plant::FanFigures{300.0, 0.25, 0.18, 0.5, 0.1}};
    fan.step(2.0, 0.24);
    EXPECT_EQ(fan.speed(), 0.0);
    fan.step(20.0, 0.25);
    EXPECT_NEAR(fan.speed(), 75.0, 1e-6);
    fan.step(20.0, 0.19);
    EXPECT_NEAR(fan.speed(), 57.0, 1e-6) << "still turning";
    fan.step(20.0, 0.17);
    EXPECT_NEAR(fan.speed(), 0.0, 1e-6);
}

TEST(Plants, varyTheSameWayForTheSameSeed) {
    plant::Coupling one;
    const auto a = plant::varied(one, 3), b = plant::varied(one, 3), c = plant::varied(one, 4);
    const auto figures = [](const plant::Coupling& coupling) { return std::get<plant::Rotor>(coupling.machine).figures(); };
    EXPECT_EQ(figures(a).inertia, figures(b).inertia);
    EXPECT_NE(figures(a).inertia, figures(c).inertia);
    for (const auto& each : {a, c}) EXPECT_NEAR(figures(each).inertia / figures(one).inertia, 1.0, 0.15 + 1e-12);
}

TEST(Relay, needsEnoughSwings) {
    EXPECT_FALSE(readRelay({}));
    std::vector<LoopRow> rows;
    for (int i = 0; i < 100; ++i) rows.push_back({i * 0.1, 0.0, std::sin(i * 0.1), i % 63 < 31 ? 1.0 : 0.0, 0.0});
    EXPECT_FALSE(readRelay(rows)) << "two swings are none";
}

}  // namespace
}  // namespace hinge::control
