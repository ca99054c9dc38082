// Moves from where a mover stands, in a straight line, and a start that is looked for twice: places and ticks by hand.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <cmath>
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"
#include "routine/quiet.hpp"

namespace hinge::routine {
namespace {

const auto seconds = [](double s) { return hinge::of<Duration>(s); };
ChannelNumbers mover(const std::string& id, OutputKind kind, std::int32_t start, std::int32_t furthest, double per_unit = 1.0) {
    ChannelNumbers made{id, id, std::nullopt, seconds(1.0), hinge::of<Fraction>(1.0), Duration{}, seconds(0.0), 255};
    made.places = ChannelNumbers::Places{kind, start, furthest > start ? per_unit : -per_unit, furthest, false, seconds(1.0), 0};
    return made;
}
InputNumbers contact(const std::string& id) {
    return {id, id, false, seconds(0.001)};
}
Move by(const std::string& id, double time, double angle, bool back = false) {
    Move move{id, Action::Go, "m", seconds(time), hinge::of<Angle>(angle)};
    move.from_here = true;
    move.backwards = back;
    return move;
}
Move again(double times) {
    Move move{"again", Action::Again};
    move.times = hinge::of<Count>(times);
    return move;
}
Result<Program> made(std::vector<Move> moves, const ChannelNumbers& channel) {
    Routine routine;
    routine.cues = {{"c", "c", "", "", {}, std::move(moves)}};
    return compile(routine, {channel}, {contact("end")});
}
struct Ran {
    State state;
    std::vector<std::int32_t> places;
};
Ran ran(const Program& program, int ticks, int starts = 1) {
    Ran all{powerUp(program), {}};
    const Machine machine{program};
    Happening happening;
    const std::vector<std::uint8_t> pins{0};
    happening.pin_active = pins;
    for (int t = 0; t < 5; ++t) machine.tick(all.state, happening);
    for (int k = 0; k < starts; ++k) {
        happening.start_cues = {0};
        for (int t = 0; t < ticks; ++t) {
            machine.tick(all.state, happening);
            happening.start_cues.clear();
            all.places.push_back(all.state.output(0).level);
        }
    }
    return all;
}

// Both directions of counting: a servo's pulse may grow or shrink with its angle.
TEST(FromHere, eachMoveGoesOnFromWhereTheLastOneEnded) {
    for (const bool shrinks : {false, true}) {
        const int start = shrinks ? 1000 : 0, end = shrinks ? 0 : 1000, up = shrinks ? -1 : 1;
        const auto program = made({by("on", 0.1, 120.0), by("back", 0.1, 50.0, true)}, mover("m", OutputKind::Stepper, start, end));
        ASSERT_TRUE(program) << sentence(program.error());
        const auto once = ran(*program, 300);
        EXPECT_EQ(once.places[99], start + up * 120);
        EXPECT_EQ(once.places.back(), start + up * 70);
        EXPECT_EQ(ran(*program, 300, 5).places.back(), start + up * 5 * 70);
    }
}
// Out of its way it does not go, not even a part of it: the cue gives up, and the mover stands where it stood.
TEST(FromHere, whatWouldLeadOutOfItsWayEndsTheCue) {
    const auto program = made({by("on", 0.1, 400.0)}, mover("m", OutputKind::Stepper, 0, 1000));
    ASSERT_TRUE(program);
    const auto twice = ran(*program, 300, 2), thrice = ran(*program, 300, 3);
    EXPECT_EQ(twice.places.back(), 800);
    EXPECT_EQ(twice.state.cue(0).faulted, 0);
    EXPECT_EQ(thrice.places.back(), 800) << "by hand: 1200 is more than 1000";
    EXPECT_EQ(thrice.state.cue(0).faulted, 1);
    const auto back = made({by("back", 0.1, 1.0, true)}, mover("m", OutputKind::Stepper, 0, 1000));
    EXPECT_EQ(ran(*back, 300).state.cue(0).faulted, 1) << "nor back beyond its start";
}
// Rounded down: thirty moves of a thirtieth of 1000 steps are thirty times 33, and all of them fit.
TEST(FromHere, asManyAsFillItsWayFitIntoIt) {
    for (const double whole : {1000.0, 1001.0, 999.0, 12800.0})
        for (const int parts : {3, 7, 30, 60}) {
            auto moves = std::vector{by("on", 0.02, whole / parts), again(parts)};
            const auto program = made(moves, mover("m", OutputKind::Stepper, 0, static_cast<std::int32_t>(whole)));
            ASSERT_TRUE(program) << sentence(program.error());
            const auto all = ran(*program, 25 * parts + 100);
            EXPECT_EQ(all.state.cue(0).faulted, 0) << whole << '/' << parts;
            EXPECT_EQ(all.places.back(), parts * static_cast<int>(std::floor(whole / parts + 1e-6))) << whole << '/' << parts;
        }
}
TEST(FromHere, whatCannotBeIsRefusedWithAReason) {
    const auto refused = [](Move move) {
        const auto program = made({std::move(move)}, mover("m", OutputKind::Stepper, 0, 1000));
        EXPECT_FALSE(program);
        return program ? std::string{} : program.error().field;
    };
    auto nothing = by("x", 0.1, 1.0);
    nothing.angle.reset();
    EXPECT_EQ(refused(nothing), "routine/cues/c/moves/x/angle");
    EXPECT_EQ(refused(by("x", 0.1, 1001.0)), "routine/cues/c/moves/x/angle");
    EXPECT_EQ(refused(by("x", 0.1, 0.4)), "routine/cues/c/moves/x/angle") << "not a step";
    EXPECT_EQ(refused(by("x", 0.0, 10.0)), "routine/cues/c/moves/x/time");
}
// What has to look for its start first is not moved from a place that nobody knows.
TEST(FromHere, isRefusedUntilItsStartIsKnown) {
    Routine routine;
    Move home{"h", Action::Home, "m", seconds(1.0)};
    home.input = "end";
    routine.cues = {{"c", "c", "", "", {}, {by("on", 0.1, 10.0)}}, {"home", "home", "", "", {}, {home}}};
    const auto program = compile(routine, {mover("m", OutputKind::Stepper, 0, 1000)}, {contact("end")});
    ASSERT_TRUE(program);
    const auto all = ran(*program, 300);
    EXPECT_EQ(all.places.back(), 0);
    EXPECT_EQ(all.state.cue(0).faulted, 1);
}

// Where it stands is of no matter to a lamp that is lit between its moves, but that a move may lead out of its way, which ends the cue.
// Proved without looking at every place; and what is not so is told as a story that replays.
TEST(FromHere, aClaimAboutSomethingElseIsProvedWithoutItsPlaces) {
    const auto proved = [](bool guarded) {
        Routine routine;
        Cue cue{"c", "c", "", "", {}, {}};
        if (guarded) cue.guards.push_back({"g", "door", true});
        cue.moves = {by("on", 0.5, 10.0),
                     {"light", Action::On, "lamp"},
                     {"shot", Action::Wait, "", seconds(0.5)},
                     {"dark", Action::Off, "lamp"},
                     again(60)};
        routine.cues = {cue};
        routine.interlocks.push_back({"never", "lamp", "door", {}});
        ChannelNumbers lamp{"lamp", "lamp", std::nullopt, seconds(1.0), hinge::of<Fraction>(1.0), Duration{}, seconds(0.0), 255};
        const auto program = compile(routine, {mover("m", OutputKind::Stepper, 0, 1000), lamp}, {contact("door")});
        EXPECT_TRUE(program) << (program ? "" : sentence(program.error()));
        auto proofs = prove(*program);
        EXPECT_EQ(proofs.size(), 1U);
        if (!guarded) EXPECT_TRUE(replays(*program, proofs.front()));
        return proofs.front();
    };
    const auto holds = proved(true);
    EXPECT_EQ(holds.status, ProofStatus::Proved);
    EXPECT_LT(holds.states, 50'000U) << "of 1000 places, 60 rounds and 500 ticks of each move";
    EXPECT_EQ(proved(false).status, ProofStatus::Violated);
}

// ---- In a straight line

Move to(const std::string& id, const std::string& channel, double time, double angle, bool in_line = false) {
    Move move{id, Action::Go, channel, seconds(time), hinge::of<Angle>(angle)};
    move.together = move.in_line = in_line;
    return move;
}
// At every tick each has covered the same share of its way, to less than a step; and all arrive in the tick of the slowest.
TEST(InLine, allAreAsFarAtEveryTick) {
    for (const double time : {0.4, 3.0, 90.0}) {  // gentle, gentle, even
        Routine routine;
        routine.cues = {
            {"c", "c", "", "", {}, {to("a", "m", 0.1, 3000.0), to("b", "n", time, 1100.0, true), to("d", "s", 0.2, 500.0, true)}}};
        const auto program = compile(
            routine,
            {mover("m", OutputKind::Stepper, 0, 4000), mover("n", OutputKind::Stepper, 2000, 0), mover("s", OutputKind::Servo, 2000, 4000)},
            {contact("end")});
        ASSERT_TRUE(program) << sentence(program.error());
        State state = powerUp(*program);
        const Machine machine{*program};
        Happening happening;
        const std::vector<std::uint8_t> pins{0};
        happening.pin_active = pins;
        for (int t = 0; t < 5; ++t) machine.tick(state, happening);
        happening.start_cues = {0};
        const int ticks = static_cast<int>(time * 1000);
        double worst = 0.0;
        for (int t = 0; t < ticks; ++t) {
            machine.tick(state, happening);
            happening.start_cues.clear();
            const auto way = [&](std::size_t o, int start) {
                return std::abs(state.output(o).level + state.output(o).fraction / 256.0 - start);
            };
            worst = std::max(worst, std::abs(way(1, 2000) - way(0, 0) * 1100.0 / 3000.0));
            worst = std::max(worst, std::abs(way(2, 2000) - way(0, 0) * 500.0 / 3000.0));
            if (t < ticks * 0.97) EXPECT_LT(way(0, 0), 3000.0) << "it takes the time of the slowest";
        }
        EXPECT_LT(worst, 3.0 / 256.0) << time;
        EXPECT_EQ(state.output(0).level, 3000);
        EXPECT_EQ(state.output(1).level, 900);
        EXPECT_EQ(state.output(2).level, 2500);
    }
}
// One number of ticks for all of them: changed live, they still arrive together.
TEST(InLine, theirTimeIsOneNumber) {
    Routine routine;
    routine.cues = {{"c", "c", "", "", {}, {to("a", "m", 0.1, 100.0), to("b", "n", 0.3, 100.0, true)}}};
    const auto program =
        compile(routine, {mover("m", OutputKind::Stepper, 0, 1000), mover("n", OutputKind::Stepper, 0, 1000)}, {contact("end")});
    ASSERT_TRUE(program);
    const auto& list = program->cues.front().instructions;
    ASSERT_EQ(list.size(), 2U);
    EXPECT_EQ(list[0].parameter, list[1].parameter);
    EXPECT_EQ(program->parameters[static_cast<std::size_t>(list[0].parameter)].value, 300);
}
TEST(InLine, isOnlyForMovesToPlacesThatStartTogether) {
    const auto code = [](std::vector<Move> moves) {
        Routine routine;
        routine.cues = {{"c", "c", "", "", {}, std::move(moves)}};
        const auto program =
            compile(routine, {mover("m", OutputKind::Stepper, 0, 1000), mover("n", OutputKind::Stepper, 0, 1000)}, {contact("end")});
        return program ? std::string{} : program.error().field;
    };
    auto alone = to("b", "n", 0.3, 100.0, true);
    alone.together = false;
    EXPECT_EQ(code({to("a", "m", 0.1, 100.0), alone}), "routine/cues/c/moves/b/in_line");
    EXPECT_EQ(code({Move{"w", Action::Wait, "", seconds(1.0)}, to("b", "n", 0.3, 100.0, true)}), "routine/cues/c/moves/b/in_line");
}

// ---- A start that is looked for twice

// A switch at a place of the body that the mover carries; what is counted and where it is are two things. It says so some ticks late.
class Rig {
public:
    Rig(const Program& program, int at, int late) : machine_{program}, state_(powerUp(program)), body_(at), late_(late) {}
    bool stuck = false;
    void run(int ticks) {
        Happening happening;
        pins_ = {static_cast<std::uint8_t>(stuck ? 1 : 0)};
        happening.pin_active = pins_;
        for (int t = 0; t < 50; ++t) machine_.tick(state_, happening);
        happening.start_cues = {0};
        for (int t = 0; t < ticks; ++t) {
            seen_.push_back(stuck || body_ <= 0 ? 1 : 0);
            pins_[0] = seen_.size() > static_cast<std::size_t>(late_) ? seen_[seen_.size() - 1 - static_cast<std::size_t>(late_)] : 0;
            const auto before = state_.output(0).level;
            const bool was = state_.output(0).placed != 0;
            machine_.tick(state_, happening);
            happening.start_cues.clear();
            auto way = state_.output(0).level - before;
            // When its count is set anew the body stays where it is.
            if (std::abs(way) > 60 || (state_.output(0).placed != 0) != was) way = 0;
            body_ += way;
            fastest = std::max(fastest, std::abs(way));
            if (state_.output(0).homed != 0) found.push_back(body_);
        }
    }
    [[nodiscard]] const State& state() const { return state_; }
    int fastest = 0;
    std::vector<int> found;  ///< where the body was when its start was believed found

private:
    Machine machine_;
    State state_;
    int body_;
    int late_;
    std::vector<std::uint8_t> pins_, seen_;
};
Result<Program> twice(double off, bool fleeting = false) {
    Routine routine;
    Move home{"h", Action::Home, "m", seconds(6.0)};
    home.input = "end";
    if (off > 0.0) home.angle = hinge::of<Angle>(off);
    routine.cues = {{"home", "home", "", "", {}, {home}}};
    auto end = contact("end");
    end.debounce = seconds(0.02);
    end.fleeting = fleeting;
    return compile(routine, {mover("m", OutputKind::Stepper, 0, 8000)}, {end});
}
// By hand: a search of 8000·9/8 + 64 steps in 6 s, with ramps of 2.048 s, goes at 9064/3952 = 2.29 steps a tick between them; twenty ticks
// of debounce and ten of the switch carry it 69 steps past it. At an eighth of that speed it is 9.
TEST(HomingTwice, theSecondTimeItIsFoundEightTimesNearer) {
    const auto once = twice(0.0), two = twice(400.0);
    ASSERT_TRUE(once && two);
    Rig fast(*once, 4000, 10), slow(*two, 4000, 10);
    fast.run(8000);
    slow.run(16000);
    ASSERT_EQ(fast.found.size(), 1U);
    ASSERT_EQ(slow.found.size(), 2U);
    EXPECT_EQ(slow.found[0], fast.found[0]) << "the first time is the same";
    EXPECT_NEAR(fast.found[0], -69, 3);
    EXPECT_NEAR(slow.found[1], -9, 2);
    EXPECT_EQ(slow.state().output(0).level, 0);
    EXPECT_EQ(slow.state().output(0).placed, 1);
    EXPECT_EQ(slow.state().cue(0).faulted, 0);
}
// A switch that does not let go was found nowhere: the cue ends as a fault, and its place is not taken for known.
TEST(HomingTwice, aSwitchThatSticksIsAFault) {
    const auto two = twice(400.0);
    ASSERT_TRUE(two);
    Rig rig(*two, 4000, 0);
    rig.stuck = true;
    rig.run(16000);
    EXPECT_EQ(rig.state().cue(0).faulted, 1);
    EXPECT_EQ(rig.state().output(0).placed, 0);
}
TEST(HomingTwice, backsOffByAStepOrMoreAndHalfItsWayAtMost) {
    EXPECT_FALSE(twice(4001.0));
    EXPECT_FALSE(twice(0.3));
    EXPECT_TRUE(twice(4000.0));
}

// A line that is true only while something moves tells nothing where it is true before: stuck high, or its driver without supply.
TEST(StallLine, stuckHighNothingIsFound) {
    for (const bool fleeting : {false, true}) {
        const auto program = twice(0.0, fleeting);
        ASSERT_TRUE(program);
        Rig rig(*program, 4000, 0);
        rig.stuck = true;
        rig.run(8000);
        EXPECT_EQ(rig.state().cue(0).faulted, fleeting ? 1 : 0) << "an end switch may be pressed already";
        EXPECT_EQ(rig.state().output(0).placed, fleeting ? 0 : 1);
        Rig good(*program, 4000, 0);
        good.run(8000);
        EXPECT_EQ(good.state().cue(0).faulted, 0);
        EXPECT_EQ(good.state().output(0).placed, 1);
    }
}

}  // namespace
}  // namespace hinge::routine
