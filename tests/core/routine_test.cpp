#include <fmt/format.h>
#include <rapidcheck.h>
#include <array>
#include <ctime>
#include <map>
#include <random>
#include "core/routine_parts.hpp"
#include "plan/firmware_model.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"
#include "routine/quiet.hpp"
#include "support/demo.hpp"
#include "timing/calendar.hpp"

namespace hinge::routine {
namespace {

using namespace parts;

// One pump, a start button, a float switch; times small so that every state can be counted.
struct Small {
    int run = 6, off_delay = 0;
    bool throughout = true, guarded = true, interlock = true;
};
Program programOf(const Small& s) {
    Routine routine;
    Cue cue{"go", "go", "start", "", {}, {{"m", Action::Run, "pump", of<Duration>(s.run / 1000.0)}}};
    if (s.guarded) cue.guards.push_back({"g", "empty", s.throughout});
    routine.cues.push_back(cue);
    if (s.interlock) routine.interlocks.push_back({"never", "pump", "empty"});
    ChannelNumbers pump{"pump", "Pump", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, of<Duration>(s.off_delay / 1000.0),
                        255};
    auto program =
        compile(routine, {pump}, {{"start", "start", false, of<Duration>(0.002)}, {"empty", "empty", true, of<Duration>(0.002)}});
    EXPECT_TRUE(program) << sentence(program.error());
    return *program;
}

// Plays levels of both pins tick by tick and gives the output's level at each.
std::vector<int> play(const Program& program, const std::string& start, const std::string& empty, bool enforce = true) {
    State state = powerUp(program);
    const Machine machine{program};
    std::vector<int> levels;
    for (std::size_t i = 0; i < start.size(); ++i) {
        const std::vector<std::uint8_t> pins{static_cast<std::uint8_t>(start[i] == '1'), static_cast<std::uint8_t>(empty[i] == '1')};
        Happening happening;
        happening.pin_active = pins;
        machine.tick(state, happening, enforce);
        levels.push_back(state.output(0).level);
    }
    return levels;
}
std::string onOff(const std::vector<int>& levels) {
    std::string text;
    for (const int level : levels) text += level > 0 ? '1' : '0';
    return text;
}

// Edges by hand: debounce 2 ticks, run 6 ticks.
TEST(Interpreter, runsForItsTimeAfterTheDebounce) {
    EXPECT_EQ(onOff(play(programOf({}), "0000111111111111", "0000000000000000")), "0000011111100000");
}
TEST(Interpreter, aButtonHeldWhileThePowerComesBackStartsNothing) {
    EXPECT_EQ(onOff(play(programOf({}), "1111111111", "0000000000")), "0000000000");
    EXPECT_EQ(onOff(play(programOf({}), "1111001111111111", "0000000000000000")), "0000000111111000") << "let go and pressed again it does";
}
TEST(Interpreter, aGuardEndsARunningCueAtOnce) {
    EXPECT_EQ(onOff(play(programOf({}), "0000111111111111", "0000000011111111")), "0000011110000000");
}
TEST(Interpreter, aGuardAtTheStartOnlyLetsItRunOn) {
    EXPECT_EQ(onOff(play(programOf({.throughout = false, .interlock = false}), "0000111111111111", "0000000011111111")),
              "0000011111100000");
}
TEST(Interpreter, theLastStageHoldsEvenWhereTheGuardDoesNot) {
    EXPECT_EQ(onOff(play(programOf({.throughout = false}), "0000111111111111", "0000000011111111")), "0000011110000000");
    EXPECT_EQ(onOff(play(programOf({.throughout = false}), "0000111111111111", "0000000011111111", false)), "0000011111100000")
        << "enforcement off";
}
TEST(Interpreter, anOffDelayRunsOnAfterItsReason) {
    EXPECT_EQ(onOff(play(programOf({.run = 3, .off_delay = 3}), "0000111111111111", "0000000000000000")), "0000011111100000");
}
TEST(Interpreter, aPressDuringTheRunChangesNothing) {
    EXPECT_EQ(onOff(play(programOf({}), "0000110011000000", "0000000000000000")), "0000011111100000");
}

TEST(Interpreter, aTimeOfDayFiresOnTheOneTick) {
    Program program = programOf({.interlock = false});
    program.cues[0].times_of_day = {1000};
    State state = powerUp(program);
    const Machine machine{program};
    const std::vector<std::uint8_t> pins{0, 0};
    Happening happening;
    happening.pin_active = pins;
    int starts = 0;
    setClock(state, 990);
    for (int day = 0; day < 2; ++day) {
        // On to ten ticks before it: a whole day but for the hundred ticks that were run.
        if (day == 1) skip(program, state, ticks_per_day - 100);
        bool was = false;
        for (int t = 0; t < 100; ++t) {
            machine.tick(state, happening);
            if (state.output(0).level > 0 && !was) ++starts;
            was = state.output(0).level > 0;
        }
    }
    EXPECT_EQ(starts, 2) << "once a day";
    // Summer time ends: the clock goes back an hour, and the same hour comes again.
    setClock(state, ticks_per_day - 3'600'000 + state->clock);
    skip(program, state, 3'600'000 - 200);
    bool was = state.output(0).level > 0;
    for (int t = 0; t < 400; ++t) {
        machine.tick(state, happening);
        if (state.output(0).level > 0 && !was) ++starts;
        was = state.output(0).level > 0;
    }
    EXPECT_EQ(starts, 2) << "not again in the hour that comes twice";
    state->clock = ticks_per_day - 5;
    for (int t = 0; t < 1100; ++t) machine.tick(state, happening);
    EXPECT_EQ(state->clock, 1095) << "over midnight";
}

TEST(SoftStart, risesToTheDutyAndNeverPastIt) {
    rc::check("monotone, ends at the duty", [] {
        const int permille = *rc::gen::inRange(0, 1001), top = *rc::gen::inRange(1, 1024), ramp = *rc::gen::inRange(0, 5001);
        std::int32_t last = 0;
        for (int t = 1; t <= ramp + 2; ++t) {
            const auto level = rampLevel(permille, top, t, ramp);
            RC_ASSERT(level >= last);
            last = level;
        }
        RC_ASSERT(last == (permille * top + 500) / 1000);
    });
}

TEST(Compile, namesWhatIsMissing) {
    Routine routine;
    routine.cues.push_back({"go", "go", "ghost", "", {}, {}});
    auto program = compile(routine, {}, {});
    ASSERT_FALSE(program);
    EXPECT_EQ(program.error().field, "routine/cues/go/input");
    routine.cues = {{"go", "go", "", "25:00", {}, {}}};
    ASSERT_FALSE(compile(routine, {}, {}));
    routine.cues = {{"go", "go", "", "", {}, {{"m", Action::Run, "pump", std::nullopt}}}};
    ChannelNumbers pump;
    pump.id = pump.name = "pump";
    const auto unknown = compile(routine, {pump}, {});
    ASSERT_FALSE(unknown);
    EXPECT_EQ(unknown.error().code, ErrorCode::Missing) << "a dose that is not known is missing, not zero";
}

// What a chip's tables can't hold is refused by name, and what they just can is not.
TEST(Compile, refusesMoreOfAKindThanTheTablesHold) {
    const auto with = [](std::size_t inputs, std::size_t times) {
        std::vector<InputNumbers> list;
        for (std::size_t i = 0; i < inputs; ++i) list.push_back({fmt::format("i{}", i), "input", false, of<Duration>(0.02)});
        Routine routine;
        std::string text;
        for (std::size_t t = 0; t < times; ++t) text += fmt::format("{}{:02}:{:02}", t > 0 ? ", " : "", t / 60, t % 60);
        routine.cues.push_back({"c", "c", "", text, {}, {{"m", Action::Wait, "", of<Duration>(0.1)}}});
        return compile(routine, {}, list);
    };
    EXPECT_TRUE(with(most_of_a_kind, 3)) << sentence(with(most_of_a_kind, 3).error());
    const auto inputs = with(most_of_a_kind + 1, 3), times = with(2, most_of_a_kind + 1);
    ASSERT_FALSE(inputs);
    EXPECT_EQ(inputs.error().field, "inputs");
    EXPECT_EQ(inputs.error().code, ErrorCode::OutOfRange);
    ASSERT_FALSE(times);
    EXPECT_EQ(times.error().field, "routine/cues");
}

// Brute force: every state of the program itself, no key of ours, by plain breadth-first search.
struct Brute {
    bool violated = false;
    std::size_t depth = 0;
};
Brute bruteForce(const Program& program) {
    const auto serial = [](const State& s) {
        std::vector<std::int32_t> all;
        for (std::size_t i = 0; i < s.inputs(); ++i) all.push_back(s.input(i).active);
        for (std::size_t c = 0; c < s.cues(); ++c) all.insert(all.end(), {s.cue(c).place, s.cue(c).wait});
        for (std::size_t o = 0; o < s.outputs(); ++o)
            all.insert(all.end(), {s.output(o).asked, s.output(o).off_delay, s.output(o).level > 0 ? 1 : 0});
        return all;
    };
    const Machine machine{program};
    std::map<std::vector<std::int32_t>, std::size_t> depth;
    std::vector<State> queue{powerUp(program)};
    depth[serial(queue.front())] = 0;
    for (std::size_t at = 0; at < queue.size(); ++at) {
        const std::size_t here = depth[serial(queue[at])];
        for (int pins = 0; pins < 4; ++pins)
            for (int start = -1; start < static_cast<int>(program.cues.size()); ++start) {
                State next = queue[at];
                const std::vector<std::uint8_t> levels{static_cast<std::uint8_t>(pins & 1), static_cast<std::uint8_t>(pins >> 1)};
                Happening happening;
                happening.pin_active = levels;
                happening.debounced = true;
                happening.clock_cue = start;
                machine.tick(next, happening, false);
                for (const auto& rule : program.interlocks)
                    if (next.output(static_cast<std::size_t>(rule.output)).level > 0 &&
                        next.input(static_cast<std::size_t>(rule.input)).active != 0)
                        return {true, here + 1};
                for (std::size_t o = 0; o < next.outputs(); ++o) next.output(o).on_for = next.output(0).on_for > 0 ? 1 : 0;
                if (depth.emplace(serial(next), here + 1).second) queue.push_back(next);
            }
    }
    return {};
}

TEST(Proof, agreesWithBruteForceOnSmallRoutines) {
    for (const bool guarded : {true, false})
        for (const bool throughout : {true, false})
            for (const int off_delay : {0, 2}) {
                const auto program = programOf({.run = 5, .off_delay = off_delay, .throughout = throughout, .guarded = guarded});
                const auto brute = bruteForce(program);
                const auto proofs = prove(program);
                ASSERT_EQ(proofs.size(), 1U);
                EXPECT_EQ(proofs[0].status == ProofStatus::Violated, brute.violated) << guarded << throughout << off_delay;
                if (brute.violated)
                    EXPECT_EQ(static_cast<std::size_t>(proofs[0].story.back().tick), brute.depth) << "the story is a shortest one";
            }
}

TEST(Proof, aStoryReplaysToTheViolation) {
    const auto program = programOf({.throughout = false});
    const auto proof = prove(program).front();
    ASSERT_EQ(proof.status, ProofStatus::Violated);
    State state = powerUp(program);
    const Machine machine{program};
    std::vector<std::uint8_t> pins;
    for (std::size_t i = 0; i < state.inputs(); ++i) pins.push_back(state.input(i).active);
    bool violated = false;
    for (int t = 1; t <= proof.story.back().tick; ++t) {
        Happening happening;
        happening.debounced = true;
        for (const auto& step : proof.replay)
            if (step.tick == t) {
                if (step.input >= 0) pins[static_cast<std::size_t>(step.input)] = step.active ? 1 : 0;
                else happening.clock_cue = step.start_cue;
            }
        happening.pin_active = pins;
        machine.tick(state, happening, false);
        violated = state.output(0).level > 0 && state.input(1).active != 0;
    }
    EXPECT_TRUE(violated);
}

// Half an hour of waiting is proved without counting its ticks, and its violation still found.
TEST(Proof, longWaitsNeedFewStates) {
    const auto held = prove(programOf({.run = 1'800'000})).front();
    EXPECT_EQ(held.status, ProofStatus::Proved);
    EXPECT_LT(held.states, 100U);
    const auto open = prove(programOf({.run = 1'800'000, .throughout = false})).front();
    EXPECT_EQ(open.status, ProofStatus::Violated);
    EXPECT_LE(open.story.size(), 6U);
}

// An interlock does not feel cues that touch neither its output nor its input.
TEST(Proof, otherCuesDoNotCount) {
    const auto alone = prove(programOf({})).front();
    auto both = programOf({});
    both.inputs.push_back({"other", "other", false, 2});
    both.outputs.push_back({"lamp", "Lamp", 0, 1, 2, 1});
    both.parameters.push_back({"long_wait", "ms", "", 500, 0, 1000, ""});
    both.cues.push_back(
        {"glow",
         "glow",
         {2},
         {},
         {},
         {{Operation::On, 1, -1}, {Operation::Wait, -1, static_cast<int>(both.parameters.size()) - 1}, {Operation::Off, 1, -1}}});
    const auto with_others = prove(both).front();
    EXPECT_EQ(with_others.status, ProofStatus::Proved);
    EXPECT_EQ(with_others.states, alone.states);
}

TEST(Proof, saysBoundedWhenItRunsOut) {
    const auto proofs = prove(programOf({.run = 500}), 5);
    EXPECT_EQ(proofs.front().status, ProofStatus::Bounded);
}

TEST(Proof, theDemoNeverRunsDry) {
    const auto plan = plan::evaluate(test::demoProject(), test::shippedParts());
    ASSERT_TRUE(plan.program);
    for (const auto& proof : prove(*plan.program)) EXPECT_EQ(proof.status, ProofStatus::Proved) << proof.text;
}

TEST(Identifier, isOneWhateverTheName) {
    rc::check("letters, digits, underscore; never empty", [](const std::string& name) {
        const auto id = identifier(name);
        RC_ASSERT(!id.empty());
        RC_ASSERT(!std::isdigit(static_cast<unsigned char>(id.front())));
        for (const char c : id) RC_ASSERT(std::isalnum(static_cast<unsigned char>(c)) || c == '_');
    });
}
// A name in any script says in the sketch what it is called.
TEST(Identifier, isReadableInAnyScript) {
    for (const auto& [name, id] : std::map<std::string, std::string>{{"Салазки", "salazki"},
                                                                     {"Πόρτα 2", "porta_2"},
                                                                     {"Bühne, groß", "buhne_gross"},
                                                                     {"Łódź", "lodz"},
                                                                     {"ドア", "doa"},
                                                                     {"문", "mun"},
                                                                     {"🌙", "unnamed"}})
        EXPECT_EQ(identifier(name), id);
}

}  // namespace
}  // namespace hinge::routine
