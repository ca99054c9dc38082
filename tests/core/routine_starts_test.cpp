#include "core/routine_parts.hpp"

namespace hinge::routine {
namespace {

using namespace parts;

// ---- The ways of starting, waiting and following ------------------------------------------------

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

}  // namespace
}  // namespace hinge::routine
