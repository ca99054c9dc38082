#include <fmt/format.h>
#include <rapidcheck.h>
#include <array>
#include <ctime>
#include <map>
#include <random>
#include "plan/firmware_model.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"
#include "routine/quiet.hpp"
#include "support/demo.hpp"
#include "timing/calendar.hpp"

namespace hinge::routine {
namespace {

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

// ---- The ways of starting, waiting and following ------------------------------------------------

ChannelNumbers switched(const std::string& id, double off_delay = 0.0) {
    return {id, id, std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, of<Duration>(off_delay), 255};
}
InputNumbers input(const std::string& id) {
    return {id, id, false, of<Duration>(0.001)};
}

// Levels of one input, a character a tick of 1 ms, debounce one tick; the output's on and off.
std::string follow(const Routine& routine, const std::string& pins, double off_delay = 0.0) {
    const auto program = compile(routine, {switched("pump", off_delay)}, {input("button"), input("other")});
    EXPECT_TRUE(program) << sentence(program.error());
    State state = powerUp(*program);
    const Machine machine{*program};
    std::string text;
    for (const char pin : pins) {
        const std::vector<std::uint8_t> now{static_cast<std::uint8_t>(pin == '1'), static_cast<std::uint8_t>(pin == 'x')};
        Happening happening;
        happening.pin_active = now;
        machine.tick(state, happening);
        text += state.output(0).level > 0 ? '1' : '0';
    }
    return text;
}
Cue cueOf(std::vector<Move> moves) {
    Cue cue{"go", "go", "button", "", {}, std::move(moves)};
    return cue;
}
Move run(double seconds) {
    return {"run", Action::Run, "pump", of<Duration>(seconds)};
}

// Edges by hand throughout: an edge is believed in the tick in which it is read, and acts in it.
TEST(Starts, whenLetGo) {
    auto cue = cueOf({run(0.003)});
    cue.on_release = true;
    EXPECT_EQ(follow({{cue}, {}}, "0001110000000"), "0000001110000");
}
TEST(Starts, onlyAfterBeingHeld) {
    auto cue = cueOf({run(0.002)});
    cue.held = of<Duration>(0.004);
    EXPECT_EQ(follow({{cue}, {}}, "00111001111111100"), "00000000001100000")
        << "three ticks are too few; on the fourth it starts, and only once";
}
TEST(Starts, everyInterval) {
    auto cue = cueOf({run(0.002)});
    cue.input.clear();
    cue.every = of<Duration>(0.010);
    // Ticks 10, 20 and 30: nine zeros, two ticks on, eight zeros, and so on.
    EXPECT_EQ(follow({{cue}, {}}, std::string(32, '0')),
              std::string(9, '0') + "11" + std::string(8, '0') + "11" + std::string(8, '0') + "11" + "0");
}
TEST(Starts, atPowerUpOnceEveryInputIsKnown) {
    auto cue = cueOf({run(0.003)});
    cue.input.clear();
    cue.at_power_up = true;
    EXPECT_EQ(follow({{cue}, {}}, "0000000"), "1110000");
}
TEST(Starts, afterAnotherHasEnded) {
    auto first = cueOf({run(0.002)});
    Cue second{"then", "then", "", "", {}, {{"wait", Action::Wait, "", of<Duration>(0.002)}, run(0.002)}};
    second.after = "go";
    EXPECT_EQ(follow({{first, second}, {}}, "0100000000000"), "0110001100000")
        << "the end is seen in the tick after; then two ticks of waiting";
}
TEST(Waits, untilAnInputButNotForEver) {
    Move until{"u", Action::Until, "", of<Duration>(0.005)};
    until.input = "other";
    const auto routine = Routine{{cueOf({{"on", Action::On, "pump"}, until, {"off", Action::Off, "pump"}})}, {}};
    EXPECT_EQ(follow(routine, "0100x00000000"), "0111000000000");
    EXPECT_EQ(follow(routine, "0100000000000"), "0111110000000") << "five ticks, then it ends as a fault and lets go";
    until.time.reset();
    EXPECT_FALSE(compile({{cueOf({until})}, {}}, {switched("pump")}, {input("button"), input("other")}))
        << "a wait without a limit is refused";
}
TEST(Moves, changeOver) {
    EXPECT_EQ(follow({{cueOf({{"t", Action::Toggle, "pump"}})}, {}}, "0110011000110"), "0111100000111");
    EXPECT_EQ(follow({{cueOf({{"t", Action::Toggle, "pump"}})}, {}}, "0110011000110", 0.002), "0111111000111")
        << "off after its off-delay of two ticks";
}
TEST(Moves, goRound) {
    Move again{"a", Action::Again, ""};
    again.times = of<Count>(3.0);
    EXPECT_EQ(follow({{cueOf({run(0.002), {"w", Action::Wait, "", of<Duration>(0.001)}, again})}, {}}, "01000000000000000"),
              "01101101100000000")
        << "two ticks on, one off, with no tick between the rounds";
    EXPECT_FALSE(compile({{cueOf({{"on", Action::On, "pump"}, again})}, {}}, {switched("pump")}, {input("button"), input("other")}))
        << "without a wait it would go round at once";
}
TEST(Followers, areOnWhileTheirInputIs) {
    Routine routine;
    routine.followers.push_back({"f", "pump", "button"});
    EXPECT_EQ(follow(routine, "0011100000"), "0011100000");
    EXPECT_EQ(follow(routine, "0011100000", 0.002), "0011111000");
    routine.followers.front().released = true;
    EXPECT_EQ(follow(routine, "0011100000"), "1100011111");
    routine.followers.front().unless = "other";
    EXPECT_EQ(follow(routine, "00111000xx"), "1100011100");
}
TEST(Followers, restAfterAStopUntilACueStarts) {
    Routine routine;
    routine.followers.push_back({"f", "pump", "button"});
    routine.cues.push_back({"go", "go", "other", "", {}, {{"w", Action::Wait, "", of<Duration>(0.001)}}});
    const auto program = compile(routine, {switched("pump")}, {input("button"), input("other")});
    ASSERT_TRUE(program);
    State state = powerUp(*program);
    const Machine machine{*program};
    std::string text;
    for (int t = 0; t < 10; ++t) {
        const std::vector<std::uint8_t> pins{1, static_cast<std::uint8_t>(t == 7)};
        Happening happening;
        happening.pin_active = pins;
        happening.stop = t == 3;
        machine.tick(state, happening);
        text += state.output(0).level > 0 ? '1' : '0';
    }
    EXPECT_EQ(text, "1110000111");
}
// A pump that follows a level with its bounds at 0.6 and 0.4: on or off, reading by reading.
std::string followed(bool below, const std::vector<std::int32_t>& readings) {
    Routine routine;
    routine.followers.push_back({"f", "pump", "level"});
    auto level = input("level");
    level.analogue = true, level.upper = of<Fraction>(0.6), level.lower = of<Fraction>(0.4), level.active_high = !below;
    const auto program = compile(routine, {switched("pump")}, {level});
    EXPECT_TRUE(program);
    State state = powerUp(*program);
    const Machine machine{*program};
    std::string text;
    for (const auto reading : readings) {
        Happening happening;
        happening.values = {&reading, 1};
        machine.tick(state, happening);
        text += state.output(0).level > 0 ? '1' : '0';
    }
    return text;
}
TEST(Knob, levelsHaveTwoBounds) {
    EXPECT_EQ(followed(false, {0, 500, 614, 500, 411, 409, 500}), "0011100")
        << "0.6 of 1024 is 614, 0.4 is 410 rounded; between them it stays";
}
// The other way round: true from 0.4 down, no longer from 0.6 on. By hand.
TEST(Knob, aLevelCanBeTrueWhenItIsLow) {
    EXPECT_EQ(followed(true, {500, 411, 410, 500, 613, 614, 500, 0}), "00111001");
}
// A number over the link: silent, it counts as true only where that forbids something, whichever way round it is.
TEST(Number, canBeTrueWhenItIsLow) {
    Routine routine;
    routine.followers.push_back({"f", "pump", "sent"});
    auto sent = input("sent");
    sent.source = InputSource::Number, sent.active_high = false, sent.upper = of<Fraction>(0.6), sent.lower = of<Fraction>(0.4);
    sent.timeout = of<Duration>(0.003);
    const auto program = compile(routine, {switched("pump")}, {sent});
    ASSERT_TRUE(program);
    State state = powerUp(*program);
    const Machine machine{*program};
    std::string text;
    for (const int reading : {-1, 300, -1, -1, -1, 700, -1}) {
        Happening happening;
        if (reading >= 0) happening.numbers.push_back({0, reading});
        machine.tick(state, happening);
        text += state.output(0).level > 0 ? '1' : '0';
    }
    EXPECT_EQ(text, "0111000") << "it counts for three ticks, the one in which it comes among them";
}

TEST(ProofOfFollowers, needsTheGuardThatTheSensorAsksFor) {
    Routine routine;
    routine.followers.push_back({"f", "pump", "button", true});
    routine.interlocks.push_back({"never", "pump", "other"});
    const auto statusOf = [&] { return prove(*compile(routine, {switched("pump")}, {input("button"), input("other")})).front(); };
    const auto open = statusOf();
    EXPECT_EQ(open.status, ProofStatus::Violated);
    EXPECT_FALSE(open.story.empty());
    routine.followers.front().unless = "other";
    EXPECT_EQ(statusOf().status, ProofStatus::Proved);
}
// The proof against every sequence of both inputs of eight ticks, for routines of the new kinds.
TEST(ProofOfNewMoves, agreesWithEverySequence) {
    Move until{"u", Action::Until, "", of<Duration>(0.003)};
    until.input = "other";
    Move again{"a", Action::Again, ""};
    again.times = of<Count>(2.0);
    std::vector<std::vector<Move>> kinds{{{"t", Action::Toggle, "pump"}},
                                         {{"on", Action::On, "pump"}, until, {"off", Action::Off, "pump"}},
                                         {run(0.002), {"w", Action::Wait, "", of<Duration>(0.001)}, again},
                                         {until, run(0.002)}};
    for (std::size_t k = 0; k < kinds.size(); ++k)
        for (const bool guarded : {false, true}) {
            Routine routine;
            routine.cues.push_back(cueOf(kinds[k]));
            if (guarded) routine.cues.front().guards.push_back({"g", "other", true});
            routine.interlocks.push_back({"never", "pump", "other"});
            const auto program = compile(routine, {switched("pump")}, {input("button"), input("other")});
            ASSERT_TRUE(program);
            bool reached = false;
            for (std::uint32_t sequence = 0; sequence < 1u << 16 && !reached; ++sequence) {
                State state = powerUp(*program);
                const Machine machine{*program};
                for (int t = 0; t < 8 && !reached; ++t) {
                    const std::vector<std::uint8_t> pins{static_cast<std::uint8_t>(sequence >> (2 * t) & 1u),
                                                         static_cast<std::uint8_t>(sequence >> (2 * t + 1) & 1u)};
                    Happening happening;
                    happening.pin_active = pins;
                    happening.debounced = true;
                    machine.tick(state, happening, false);
                    reached = isOn(*program, state, 0) && state.input(1).active != 0;
                }
            }
            EXPECT_EQ(prove(*program).front().status == ProofStatus::Violated, reached) << "routine " << k << (guarded ? ", guarded" : "");
        }
}

// Leaping over quiet ticks with every way of starting and waiting in one program.
TEST(Leaps, areTheSameAsTicksForAllThatIsNew) {
    Move until{"u", Action::Until, "", of<Duration>(0.4)};
    until.input = "other";
    Move again{"a", Action::Again, ""};
    again.times = of<Count>(3.0);
    auto held = cueOf({run(0.3), {"w", Action::Wait, "", of<Duration>(0.2)}, again});
    held.held = of<Duration>(0.25);
    Cue every{"every", "every", "", "", {}, {until, {"t", Action::Toggle, "pump"}}};
    every.every = of<Duration>(0.9);
    Cue after{"after", "after", "", "", {}, {run(0.1)}};
    after.after = "every";
    Cue first{"first", "first", "", "", {}, {run(0.2)}};
    first.at_power_up = true;
    Routine routine{{held, every, after, first}, {}};
    auto knob = input("knob");
    knob.analogue = true, knob.active_high = true;
    knob.debounce = of<Duration>(0.02);
    routine.followers.push_back({"f", "fan", "knob", false, true, of<Fraction>(0.1), of<Fraction>(0.25)});
    routine.followers.push_back({"g", "fan", "other"});
    auto fan = switched("fan", 0.3);
    fan.ramp = of<Duration>(0.15);
    const auto program = compile(routine, {switched("pump", 0.05), fan}, {input("button"), input("other"), knob});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(3);
    State slow = powerUp(*program), fast = slow;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(3, 0);
    std::vector<std::int32_t> values(3, 0);
    for (int round = 0; round < 400; ++round) {
        if (random() % 2 == 0) pins[random() % 2] ^= 1;
        if (random() % 3 == 0) values[2] = static_cast<std::int32_t>(random() % 1024);
        Happening happening;
        happening.pin_active = pins;
        happening.values = values;
        happening.stop = random() % 25 == 0;
        machine.tick(slow, happening);
        machine.tick(fast, happening);
        happening.stop = false;
        std::int32_t left = static_cast<std::int32_t>(random() % 700);
        for (int i = 0; i < left; ++i) machine.tick(slow, happening);
        while (left > 0) {
            const auto leap = std::min(left, quietTicks(*program, fast, pins, true, values));
            skip(*program, fast, leap);
            left -= leap;
            if (left > 0) machine.tick(fast, happening), --left;
        }
        ASSERT_TRUE(slow == fast) << "round " << round;
    }
}

// Where nothing waits for anything, nothing is looked at for a day: whoever leaps asks no oftener.
TEST(Looks, areNotAskedForWhereNothingWaits) {
    const auto program = compile(Routine{{cueOf({run(0.2)})}, {}}, {switched("pump", 0.05)}, {input("button"), input("other")});
    ASSERT_TRUE(program) << sentence(program.error());
    State state = powerUp(*program);
    const Machine machine{*program};
    const std::vector<std::uint8_t> pins(2, 0);
    Happening happening;
    happening.pin_active = pins;
    happening.start_cues = {0};
    for (int t = 0; t < 1000; ++t) {
        machine.tick(state, happening);
        happening.start_cues.clear();
    }
    EXPECT_EQ(quietTicks(*program, state, pins), ticks_per_day);
}

// A start that waits for its time is looked at when that may have come, and a guard when what is believed has changed. Looked at in every
// tick, everything would be just the same: under random inputs, clocks put on and back, numbers changed, stops and starts over the link.
TEST(Looks, onlyWhenSomethingMayComeAreTheSameAsAlways) {
    auto held = cueOf({run(0.2)});
    held.held = of<Duration>(0.15);
    Cue every{"every", "every", "", "", {{"o", "other", true, true}}, {run(0.05)}};
    every.every = of<Duration>(0.7);
    Cue often{"often", "often", "", "", {}, {{"t", Action::Toggle, "fan"}, {"w", Action::Wait, "", of<Duration>(0.003)}}};
    often.every = of<Duration>(0.11);
    Cue timed{"timed", "timed", "", "00:00:02,00:00:03,12:00,23:59:59", {{"o", "other", false, true}}, {run(0.3)}};
    timed.late = of<Duration>(1.5);
    const auto program = compile(Routine{{held, every, often, timed}, {}}, {switched("pump", 0.05), switched("fan", 0.3)},
                                 {input("button"), input("other")});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(17);
    State seldom = powerUp(*program), always = seldom;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(2, 0);
    int ran[4] = {};
    const std::int32_t times[] = {1'500, 2'500, 43'199'000, 86'398'000, 0};
    for (int t = 0; t < 200'000; ++t) {
        if (random() % 200 == 0) pins[random() % 2] ^= 1;
        Happening happening;
        happening.pin_active = pins;
        happening.stop = random() % 3000 == 0;
        if (random() % 2000 == 0) happening.start_cues = {static_cast<int>(random() % 4)};
        const auto clock = random() % 1500 == 0 ? times[random() % 5] + static_cast<std::int32_t>(random() % 1000) : -1;
        const auto number = random() % 400 == 0 ? static_cast<std::size_t>(random() % program->parameters.size()) : ~std::size_t{0};
        const auto value = static_cast<std::int32_t>(random() % 400);
        for (auto* state : {&seldom, &always}) {
            if (clock >= 0) setClock(*state, clock);
            if (number != ~std::size_t{0}) setNumber(*state, number, value);
        }
        always->look = always->changed = 1;
        for (std::size_t o = 0; o < always.outputs(); ++o) always.output(o).idle = 0;
        machine.tick(seldom, happening);
        machine.tick(always, happening);
        for (std::size_t c = 0; c < 4; ++c) ran[c] += seldom.cue(c).place >= 0;
        // When it will be looked at next may differ, and nothing else.
        State same = always;
        same->look_at = seldom->look_at;
        for (std::size_t k = 0; k < same.sizes().times; ++k)
            if (static_cast<std::int32_t>(same.hush(k) - same->ticks) <= 0) same.hush(k) = seldom.hush(k);
        ASSERT_TRUE(same == seldom) << t;
    }
    for (const int ticks : ran) EXPECT_GT(ticks, 0);
}

// The same with fades, flicker, numbers, counters, days, a lost link, safe states and terms of interlocks, clocks set at odd times.
TEST(Leaps, areTheSameAsTicksForFadesNumbersDaysAndLinks) {
    const auto source = [](InputNumbers made, InputSource from) {
        made.source = from;
        return made;
    };
    auto number = source(input("number"), InputSource::Number), counter = source(input("counter"), InputSource::Counter),
         days = source(input("days"), InputSource::Days);
    number.timeout = of<Duration>(0.6), number.active_high = true;
    counter.counts = "glow";
    counter.limit = of<Count>(3.0);
    days.weekdays = "mon,wed,fri";
    Move fade{"f", Action::Fade, "lamp", of<Duration>(0.35)}, out{"o", Action::Fade, "lamp", of<Duration>(0.2)},
        flicker{"x", Action::Flicker, "lamp", of<Duration>(0.17)}, clear{"c", Action::Clear, ""}, half{"h", Action::On, "pump"};
    fade.level = of<Fraction>(0.7);
    out.level = of<Fraction>(0.0);
    half.level = of<Fraction>(0.5);
    clear.input = "counter";
    Cue glow{"glow", "glow", "button", "", {}, {fade, flicker, out}},
        third{"third", "third", "counter", "", {}, {clear, half, {"w", Action::Wait, "", of<Duration>(0.3)}, {"e", Action::Off, "pump"}}},
        timed{"timed", "timed", "", "00:00:30,12:00", {{"d", "days", true, true}}, {run(0.4)}};
    timed.late = of<Duration>(20.0);
    Routine routine{{glow, third, timed}, {{"both", "pump", "", {{"t", "lamp", TermState::On, std::nullopt, std::nullopt}}}}};
    routine.followers.push_back({"n", "fan", "number", false, true, of<Fraction>(0.1), of<Fraction>(0.25)});
    routine.link_silence = of<Duration>(1.5);
    auto fan = switched("fan", 0.3);
    fan.rest = Rest::On;
    const auto program = compile(routine, {switched("pump"), switched("lamp"), fan}, {input("button"), number, counter, days});
    ASSERT_TRUE(program) << sentence(program.error());
    std::mt19937 random(11);
    State slow = powerUp(*program), fast = slow;
    const Machine machine{*program};
    std::vector<std::uint8_t> pins(4, 0);
    int glowed = 0, pumped = 0;
    for (int round = 0; round < 600; ++round) {
        if (random() % 2 == 0) pins[0] ^= 1;
        Happening happening;
        happening.pin_active = pins;
        if (random() % 6 == 0) happening.numbers.push_back({1, static_cast<std::int32_t>(random() % 1024)});
        happening.link = random() % 5 == 0;
        const auto clock = random() % 8 == 0 ? static_cast<std::int32_t>(random() % 2 == 0 ? 29'000 + random() % 40'000
                                                                                           : ticks_per_day - 1000 + random() % 1000)
                                             : -1;
        for (auto* state : {&slow, &fast}) {
            if (clock >= 0) setClock(*state, clock), setDate(*state, 2026, 3, 1 + static_cast<int>(round % 28));
            machine.tick(*state, happening);
        }
        happening.numbers.clear();
        happening.link = false;
        std::int32_t left = static_cast<std::int32_t>(random() % 900);
        for (int i = 0; i < left; ++i)
            machine.tick(slow, happening), glowed += slow.output(1).level > 0, pumped += slow.output(0).level > 0;
        while (left > 0) {
            const auto leap = std::min(left, quietTicks(*program, fast, pins));
            skip(*program, fast, leap);
            left -= leap;
            if (left > 0) machine.tick(fast, happening), --left;
        }
        ASSERT_TRUE(slow == fast) << "round " << round;
    }
    EXPECT_GT(glowed, 1000) << "it all happened";
    EXPECT_GT(pumped, 1000);
}

// ---- Bad input ----------------------------------------------------------------------------------

Result<Program> made(const Routine& routine, std::vector<InputNumbers> inputs = {input("button"), input("other")}) {
    return compile(routine, {switched("pump")}, inputs);
}

TEST(BadInput, wordsThatCannotBeSaidAreRefused) {
    for (const std::string word :
         {"", "two words", "line\nend", "tab\there", "caf\xc3\xa9", "a-word-that-is-much-longer-than-thirty-two-signs"}) {
        InputNumbers said{"w", "w", false, of<Duration>(0.001)};
        said.source = InputSource::Word;
        said.word = word;
        const auto refused = made({{cueOf({run(0.001)})}, {}}, {input("button"), said});
        ASSERT_FALSE(refused) << word;
        EXPECT_EQ(refused.error().field, "inputs/w/word");
    }
}
TEST(BadInput, daysAndHoursThatAreNoneAreRefused) {
    for (const auto& [weekdays, from, to] : std::vector<std::array<std::string, 3>>{
             {"monday", "", ""}, {"mon,mon", "", ""}, {"mon,", "", ""}, {"", "13-01", ""}, {"", "02-30", ""}, {"", "", "4-1"}}) {
        InputNumbers days{"d", "d", false, of<Duration>(0.001)};
        days.source = InputSource::Days;
        days.weekdays = weekdays;
        days.from_date = from;
        days.to_date = to;
        EXPECT_FALSE(made({{cueOf({run(0.001)})}, {}}, {input("button"), days})) << weekdays << from << to;
    }
    auto cue = cueOf({run(0.001)});
    cue.times = "25:00";
    EXPECT_FALSE(made({{cue}, {}}));
}
TEST(BadInput, ringsWithoutTimeAreRefusedAndOthersRun) {
    Cue a{"a", "a", "", "", {}, {{"t", Action::Toggle, "pump"}}}, b{"b", "b", "", "", {}, {{"t", Action::Toggle, "pump"}}};
    a.after = "b";
    b.after = "a";
    const auto ring = made({{a, b}, {}});
    ASSERT_FALSE(ring);
    EXPECT_EQ(ring.error().code, ErrorCode::Conflict);
    b.moves.push_back({"w", Action::Wait, "", of<Duration>(0.01)});
    EXPECT_TRUE(made({{a, b}, {}}));
    a.after = "a";
    EXPECT_FALSE(made({{a}, {}})) << "after itself";
}
TEST(BadInput, movesThatMakeNoSenseAreRefused) {
    const auto refuses = [](std::vector<Move> moves) { return !made({{cueOf(std::move(moves))}, {}}); };
    EXPECT_TRUE(refuses({{"g", Action::Go, "pump", of<Duration>(1.0)}}));
    EXPECT_TRUE(refuses({{"f", Action::Fade, "pump", of<Duration>(1.0)}})) << "a fade to nowhere";
    EXPECT_TRUE(refuses({{"c", Action::Clear, ""}}));
    EXPECT_TRUE(refuses({{"s", Action::Sweep, "pump", of<Duration>(1.0)}}));
    Move again{"a", Action::Again, ""}, once_more{"b", Action::Again, ""};
    EXPECT_TRUE(refuses({{"w", Action::Wait, "", of<Duration>(0.01)}, again, once_more})) << "two rounds in one cue";
    EXPECT_FALSE(refuses({{"r", Action::Run, "pump", of<Duration>(0.0)}}))
        << "a run of no length switches on and off in one tick: nothing is seen of it";
}
TEST(BadInput, asManyCuesAsTheTablesHoldCompileAndRunThousandsAreRefused) {
    const auto many = [](std::size_t cues) {
        Routine routine;
        for (std::size_t k = 0; k < cues; ++k) {
            auto cue = cueOf({run(0.001 * static_cast<double>(1 + k % 50))});
            cue.id = "c" + std::to_string(k);
            routine.cues.push_back(cue);
        }
        return made(routine);
    };
    const auto refused = many(5000);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().field, "routine/cues");
    const auto program = many(most_of_a_kind);
    ASSERT_TRUE(program);
    State state = powerUp(*program);
    const Machine machine{*program};
    const std::vector<std::uint8_t> pins{0, 0};
    Happening happening;
    happening.pin_active = pins;
    for (int t = 0; t < 20; ++t) machine.tick(state, happening);
    EXPECT_EQ(state.output(0).level, 0);
}
// Any calendar day against the one that the C library knows.
TEST(Calendar, agreesWithTheCLibrary) {
    timing::Date date{2000, 1, 1};
    for (std::time_t noon = 946'728'000; noon < 4'102'444'800; noon += 86'400) {
        std::tm utc{};
        gmtime_r(&noon, &utc);
        ASSERT_EQ(date.year, utc.tm_year + 1900);
        ASSERT_EQ(date.month, utc.tm_mon + 1);
        ASSERT_EQ(date.day, utc.tm_mday);
        ASSERT_EQ(timing::weekdayOf(date), (utc.tm_wday + 6) % 7);
        date = timing::dayAfter(date);
    }
}

}  // namespace
}  // namespace hinge::routine
