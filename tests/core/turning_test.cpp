// What cues turn round: the way changes only at rest, and nothing that does not say which way may switch it on.
#include <gtest/gtest.h>
#include <random>
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"

namespace hinge::routine {
namespace {

constexpr int pause = 30;  // ticks

ChannelNumbers bridge() {
    ChannelNumbers numbers{"door", "Door", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), of<Duration>(0.005), Duration{}, 255};
    numbers.both_ways = true;
    numbers.turn_pause = of<Duration>(pause / 1000.0);
    return numbers;
}
Move moved(Action action, double time, bool backwards, const char* id) {
    Move move{id, action, action == Action::Wait ? "" : "door"};
    if (time > 0.0) move.time = of<Duration>(time);
    move.backwards = backwards;
    return move;
}
const std::vector<std::uint8_t> open_pins{0, 0};
const std::vector<InputNumbers> inputs{{"start", "Start", false, of<Duration>(0.002)}, {"other", "Other", false, of<Duration>(0.002)}};

Result<Program> compiled(const Routine& routine, const ChannelNumbers& door = bridge()) {
    return compile(routine, {door}, inputs);
}
Routine toAndFro() {
    Routine routine;
    routine.cues.push_back({"both", "both", "start", "", {}, {moved(Action::Run, 0.1, false, "a"), moved(Action::Run, 0.1, true, "b")}});
    return routine;
}

TEST(Turning, standsStillForItsPauseBeforeItGoesTheOtherWay) {
    const auto program = compiled(toAndFro());
    ASSERT_TRUE(program) << sentence(program.error());
    const Machine machine{*program};
    auto state = powerUp(*program);
    Happening nothing;
    nothing.pin_active = open_pins;
    for (int t = 0; t < 10; ++t) machine.tick(state, nothing);
    auto start = nothing;
    start.start_cues = {0};
    machine.tick(state, start);
    EXPECT_GT(state.output(0).level, 0) << "it is set forwards, and so starts at once";
    int forwards = 0, still = 0, backwards = 0;
    for (int t = 0; t < 400; ++t) {
        if (state.output(0).level > 0) ++(state.output(0).back ? backwards : forwards);
        else if (forwards > 0 && backwards == 0) ++still;
        machine.tick(state, nothing);
    }
    EXPECT_EQ(forwards, 100);
    EXPECT_EQ(still, pause);
    EXPECT_EQ(backwards, 100);
    // Once more: it stands the other way round, and is turned first.
    machine.tick(state, start);
    EXPECT_EQ(state.output(0).level, 0);
    for (int t = 0; t < pause; ++t) machine.tick(state, nothing);
    EXPECT_GT(state.output(0).level, 0);
    EXPECT_FALSE(state.output(0).back);
}

// Several cues that know nothing of one another, started and stopped at random.
TEST(Turning, neverHappensWhileItIsDriven) {
    int turns = 0, given_up = 0;
    for (unsigned seed = 0; seed < 60; ++seed) {
        std::mt19937 dice(seed);
        Routine routine;
        const int cues = 1 + static_cast<int>(dice() % 3);
        for (int c = 0; c < cues; ++c) {
            Cue cue{"c" + std::to_string(c), "c", "", "", {}, {}};
            for (int m = 0, moves = 1 + static_cast<int>(dice() % 4); m < moves; ++m) {
                const std::string id = "m" + std::to_string(m);
                const bool backwards = dice() % 2 == 0;
                switch (dice() % 4) {
                    case 0: cue.moves.push_back(moved(Action::On, 0.0, backwards, id.c_str())); break;
                    case 1: cue.moves.push_back(moved(Action::Off, 0.0, false, id.c_str())); break;
                    case 2: cue.moves.push_back(moved(Action::Wait, 0.001 * (1 + dice() % 60), false, id.c_str())); break;
                    default: cue.moves.push_back(moved(Action::Run, 0.001 * (1 + dice() % 60), backwards, id.c_str()));
                }
            }
            cue.input = c == 0 ? "start" : "other";
            routine.cues.push_back(cue);
        }
        const auto program = compiled(routine);
        ASSERT_TRUE(program) << sentence(program.error());
        const Machine machine{*program};
        auto state = powerUp(*program);
        int still = pause, faults = 0;  // it has stood still before the power came
        for (int t = 0; t < 5000; ++t) {
            Happening now;
            now.pin_active = open_pins;
            if (dice() % 40 == 0) now.start_cues.push_back(static_cast<int>(dice() % static_cast<unsigned>(cues)));
            now.stop = dice() % 300 == 0;
            const bool was_back = state.output(0).back != 0, was_on = state.output(0).level != 0;
            machine.tick(state, now);
            still = was_on ? 0 : still + 1;
            for (int c = 0; c < cues; ++c) faults += state.cue(static_cast<std::size_t>(c)).faulted;
            if ((state.output(0).back != 0) == was_back) continue;
            ++turns;
            ASSERT_FALSE(was_on) << "seed " << seed << ", tick " << t;
            if (cues == 1) ASSERT_GE(still, pause) << "seed " << seed << ", tick " << t << ": nobody else drives it";
        }
        given_up += faults > 0 ? 1 : 0;
    }
    EXPECT_GT(turns, 500);
    EXPECT_GT(given_up, 5) << "some cues ask for the other way while another one drives it, and give up";
}

TEST(Turning, isRefusedWhereSomethingElseDoesNotSayWhichWay) {
    const auto refused = [](const Routine& routine, const ChannelNumbers& door, const char* part) {
        const auto program = compiled(routine, door);
        ASSERT_FALSE(program) << part;
        EXPECT_EQ(program.error().code, ErrorCode::Conflict);
        EXPECT_NE(sentence(program.error()).find(part), std::string::npos) << sentence(program.error());
    };
    auto one_way = bridge();
    one_way.both_ways = false;
    refused(toAndFro(), one_way, "a bridge");
    auto follows = toAndFro();
    follows.followers.push_back({"f", "door", "other"});
    refused(follows, bridge(), "follows no input");
    auto lags = bridge();
    lags.off_delay = of<Duration>(0.1);
    refused(toAndFro(), lags, "no off-delay");
    auto safe_on = bridge();
    safe_on.rest = Rest::On;
    refused(toAndFro(), safe_on, "a safe state that is off");
    auto remembers = bridge();
    remembers.remembered = true;
    refused(toAndFro(), remembers, "power cut");
    for (const auto action : {Action::Toggle, Action::Fade, Action::Flicker}) {
        auto other = toAndFro();
        other.cues.front().moves.push_back(moved(action, 0.1, false, "x"));
        other.cues.front().moves.back().level = of<Fraction>(0.5);
        refused(other, bridge(), "which cues turn round");
    }
    auto grouped = toAndFro();
    grouped.cues.front().moves.insert(grouped.cues.front().moves.begin(), moved(Action::Wait, 0.1, false, "w"));
    grouped.cues.front().moves[1].together = true;
    refused(grouped, bridge(), "stands still");
}

// The proof knows the pause: a door that is only ever driven while nobody stands in it is proved, also while it turns; and which way it
// stands matters for what a cue does next.
TEST(Turning, isProvedLikeEverythingElse) {
    auto routine = toAndFro();
    routine.cues.front().guards.push_back({"g", "other", true});
    routine.interlocks.push_back({"never", "door", "other"});
    const auto program = compiled(routine);
    ASSERT_TRUE(program);
    const auto statusOf = [](const Program& of) {
        for (const auto& proof : prove(of))
            if (proof.claim == Claim::Never) return std::optional(proof.status);
        return std::optional<ProofStatus>{};
    };
    EXPECT_EQ(statusOf(*program), ProofStatus::Proved);
    auto open = routine;
    open.cues.front().guards.front().throughout = false;
    EXPECT_EQ(statusOf(*compiled(open)), ProofStatus::Violated);
}

}  // namespace
}  // namespace hinge::routine
