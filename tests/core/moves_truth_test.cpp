// What cues do to movers: together, evenly, to the millisecond, and from a place that is known.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <cmath>
#include "link/protocol.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/happen.hpp"
#include "simulation/interpreted_board.hpp"

namespace hinge::routine::moves_truth {
namespace {

// Its inputs believed, the first cue started.
void startFirst(const Machine& machine, State& state, Happening& happening) {
    for (int t = 0; t < 5; ++t) machine.tick(state, happening);
    happening.start_cues = {0};
    machine.tick(state, happening);
    happening.start_cues.clear();
}

const auto seconds = [](double s) { return hinge::of<Duration>(s); };
ChannelNumbers switched(const std::string& id, double off_delay = 0.0) {
    return {id, id, std::nullopt, seconds(1.0), hinge::of<Fraction>(1.0), Duration{}, seconds(off_delay), 255};
}
ChannelNumbers mover(const std::string& id, OutputKind kind, std::int32_t start, std::int32_t furthest) {
    auto made = switched(id);
    made.places = ChannelNumbers::Places{kind, start, furthest > start ? 1.0 : -1.0, furthest, false, seconds(1.0), 0};
    return made;
}
Move go(const std::string& id, const std::string& channel, double time, double angle, bool together = false) {
    Move move{id, Action::Go, channel, seconds(time), hinge::of<Angle>(angle)};
    move.together = together;
    return move;
}
InputNumbers contact(const std::string& id) {
    return {id, id, false, seconds(0.001)};
}
// Runs ticks and gives the places of an output after each; the cue is started in the first.
std::vector<std::int32_t> placesOf(const Program& program, std::size_t output, int ticks, const std::vector<std::uint8_t>& pins = {}) {
    State state = powerUp(program);
    const Machine machine{program};
    Happening happening;
    happening.pin_active = pins;
    for (int t = 0; t < 5; ++t) machine.tick(state, happening);
    happening.start_cues = {0};
    std::vector<std::int32_t> places;
    for (int t = 0; t < ticks; ++t) {
        machine.tick(state, happening);
        happening.start_cues.clear();
        places.push_back(state.output(output).level);
    }
    return places;
}

// Four legs in one cue: all set out in the same tick, and what follows waits for the slowest.
TEST(Together, fourMoversOfOneCueMoveAtTheSameTime) {
    Routine routine;
    Cue cue{"step", "step", "", "", {}, {}};
    std::vector<ChannelNumbers> channels;
    for (int leg = 0; leg < 4; ++leg) {
        const std::string id = "leg" + std::to_string(leg);
        channels.push_back(mover(id, OutputKind::Servo, 2000, 4000));
        cue.moves.push_back(go("m" + std::to_string(leg), id, 0.1 * (leg + 1), 1000.0, leg > 0));
    }
    cue.moves.push_back(go("back", "leg0", 0.1, 0.0));
    routine.cues = {cue};
    const auto program = compile(routine, channels, {});
    ASSERT_TRUE(program) << sentence(program.error());
    for (std::size_t leg = 0; leg < 4; ++leg) {
        const auto places = placesOf(*program, leg, 520);
        const auto arrives = static_cast<std::size_t>(100 * (leg + 1));
        EXPECT_GT(places[0], 2000) << "in the first tick";
        EXPECT_LT(places[arrives - 2], 3000);
        EXPECT_EQ(places[arrives - 1], 3000) << "by hand: " << arrives << " ticks";
        if (leg > 0) continue;
        EXPECT_EQ(places[399], 3000) << "it waits for the slowest";
        EXPECT_LT(places[400], 3000) << "and then goes back";
    }
}
// Two pumps for doses of their own: each stops by itself, the cue after both.
TEST(Together, eachRunEndsAfterItsOwnTime) {
    Routine routine;
    Cue cue{"feed", "feed", "", "", {}, {{"a", Action::Run, "a", seconds(0.003)}, {"b", Action::Run, "b", seconds(0.005)}}};
    cue.moves[1].together = true;
    cue.moves.push_back({"c", Action::Run, "c", seconds(0.002)});
    routine.cues = {cue};
    const auto program = compile(routine, {switched("a", 0.001), switched("b"), switched("c")}, {});
    ASSERT_TRUE(program) << sentence(program.error());
    std::array<std::string, 3> seen;
    for (std::size_t o = 0; o < 3; ++o)
        for (const auto level : placesOf(*program, o, 9)) seen[o] += level > 0 ? '1' : '0';
    EXPECT_EQ(seen[0], "111100000") << "by hand: three ticks, and its off-delay of one";
    EXPECT_EQ(seen[1], "111110000");
    EXPECT_EQ(seen[2], "000001100") << "after the longer one";
    // A stop takes both away at once.
    State state = powerUp(*program);
    const Machine machine{*program};
    Happening happening;
    for (int t = 0; t < 3; ++t) machine.tick(state, happening);
    happening.start_cues = {0};
    machine.tick(state, happening);
    happening = {};
    happening.stop = true;
    machine.tick(state, happening);
    EXPECT_FALSE(isOn(*program, state, 0) || isOn(*program, state, 1));
    EXPECT_EQ(state.output(0).run + state.output(1).run, 0);
}
TEST(Together, whatCannotBeIsRefusedWithAReason) {
    const auto compiled = [](std::vector<Move> moves) {
        Routine routine;
        routine.cues = {{"c", "c", "", "", {}, std::move(moves)}};
        return compile(routine, {switched("a"), mover("m", OutputKind::Servo, 2000, 4000)}, {contact("x")});
    };
    Move first{"a", Action::Run, "a", seconds(1.0)};
    first.together = true;
    EXPECT_FALSE(compiled({first})) << "nothing before it";
    Move until{"u", Action::Until, "", seconds(1.0)};
    until.input = "x";
    until.together = true;
    EXPECT_FALSE(compiled({{"a", Action::Run, "a", seconds(1.0)}, until}));
    Move twice{"b", Action::Off, "a"};
    twice.together = true;
    EXPECT_FALSE(compiled({{"a", Action::Run, "a", seconds(1.0)}, twice})) << "one channel, two things at once";
    Move swing{"s", Action::Sweep, "m", seconds(1.0)};
    swing.together = true;
    EXPECT_FALSE(compiled({{"a", Action::Run, "a", seconds(1.0)}, swing}));
}
// Leaping over quiet ticks and counting them come to the same.
TEST(Together, leapsOverQuietTicksChangeNothing) {
    Routine routine;
    Cue cue{"c", "c", "", "", {}, {{"a", Action::Run, "a", seconds(0.7)}, {"b", Action::Run, "b", seconds(1.3)}}};
    cue.moves[1].together = true;
    cue.moves.push_back({"w", Action::Wait, "", seconds(0.4)});
    routine.cues = {cue};
    const auto program = compile(routine, {switched("a", 0.25), switched("b")}, {});
    ASSERT_TRUE(program);
    State counted = powerUp(*program), leapt = counted;
    const Machine machine{*program};
    Happening start;
    for (int t = 0; t < 3; ++t) machine.tick(counted, {}), machine.tick(leapt, {});
    start.start_cues = {0};
    machine.tick(counted, start);
    machine.tick(leapt, start);
    int leaps = 0;
    for (int t = 0; t < 2500;) {
        const auto quiet = std::min(2500 - t, quietTicks(*program, leapt, {}));
        skip(*program, leapt, quiet);
        leaps += quiet > 0 ? 1 : 0;
        for (int k = 0; k < quiet; ++k) machine.tick(counted, {});
        t += quiet;
        ASSERT_TRUE(leapt == counted) << t;
        if (t >= 2500) break;
        machine.tick(leapt, {});
        machine.tick(counted, {});
        ++t;
    }
    EXPECT_GT(leaps, 3);
}

// 0.897 s asked: by hand a swing there of 449 ms and back of 448, again and again, with nothing between.
TEST(Sweeps, takeTheirPeriodToTheMillisecond) {
    for (const int period : {897, 898, 1000, 2501}) {
        Routine routine;
        Cue cue{"swing", "swing", "", "", {}, {{"s", Action::Sweep, "m", seconds(period / 1000.0)}}};
        cue.moves[0].times = hinge::of<Count>(0.0);
        routine.cues = {cue};
        const auto program = compile(routine, {mover("m", OutputKind::Servo, 2000, 4000)}, {});
        ASSERT_TRUE(program) << sentence(program.error());
        const auto places = placesOf(*program, 0, 6 * period);
        std::vector<int> tops;
        for (std::size_t t = 1; t + 1 < places.size(); ++t)
            if (places[t] == 4000 && places[t - 1] < 4000) tops.push_back(static_cast<int>(t));
        ASSERT_GE(tops.size(), 5U) << period;
        for (std::size_t k = 1; k < tops.size(); ++k) EXPECT_EQ(tops[k] - tops[k - 1], period);
    }
}

// Against the formula in floating point: ways, times and profiles at random.
TEST(Profiles, areTheirFormulasToAPartOfAStep) {
    for (const auto profile : {Profile::Straight, Profile::Gentle, Profile::Even})
        for (const std::int32_t way : {1, 64, 777, 12'400, 65'535, 73'790})
            for (const std::int32_t time : {5'000, 30'000, 60'000, 60'001, 80'000, 3'600'000, 86'400'000})
                for (int k = 0; k <= 40; ++k) {
                    if (profile == Profile::Straight && way > largest_place) continue;  // a search for the start never goes straight
                    const auto at = static_cast<std::int32_t>(static_cast<std::int64_t>(time) * k / 40);
                    const double T = time, r = even_ramp, t = at;
                    const auto first = [&](double x) {
                        return profile == Profile::Gentle ? 2.0 * x * x / (T * T)
                               : x < r                    ? x * x / (2.0 * r * (T - r))
                                                          : (x - r / 2.0) / (T - r);
                    };
                    const double share = profile == Profile::Straight ? t / T
                                         : profile == Profile::Gentle ? (t <= T / 2 ? first(t) : 1.0 - first(T - t))
                                         : t <= T - r                 ? first(t)
                                                                      : 1.0 - first(T - t);
                    const double expected = 256.0 * way * share;
                    // A servo's short move goes by whole half microseconds.
                    const double allowed = profile == Profile::Straight && time <= fine_move ? 256.0 : 3.0;
                    if (profile == Profile::Gentle && time > fine_move) continue;  // it does not occur: 32 bits would not hold it
                    EXPECT_NEAR(finePlaceAt(profile, 100, 100 + way, at, time) - 25'600.0, expected, allowed)
                        << way << " in " << time << ", " << at;
                    EXPECT_NEAR(finePlaceAt(profile, 100 + way, 100, at, time), 256.0 * (100 + way) - expected, allowed);
                }
}
// More than a minute: the same way in every second but for the ramps. By hand: 48 000 steps in 77.048 s are 640 a second.
TEST(Profiles, aLongMoveGoesEvenly) {
    EXPECT_EQ(profileOf(OutputKind::Stepper, 77'048, false), Profile::Even);
    EXPECT_NEAR(peakSpeed(Profile::Even, 77'048) * 48'000 * 1000, 640.0, 1e-9);
    for (int t = 3'000; t + 1 < 74'000; ++t) {
        const auto step = finePlaceAt(Profile::Even, 0, 48'000, t + 1, 77'048) - finePlaceAt(Profile::Even, 0, 48'000, t, 77'048);
        ASSERT_NEAR(step, 256.0 * 0.640, 1.01) << t;
    }
}

// Homing with steps lost: the switch is further away than was ever counted.
class Homing : public testing::Test {
protected:
    static Program program(std::int32_t start, std::int32_t furthest) {
        Routine routine;
        Move home{"h", Action::Home, "m", seconds(6.0)};
        home.input = "end";
        routine.cues = {{"home", "home", "", "", {}, {home}}, {"open", "open", "", "", {}, {go("o", "m", 1.0, 500.0)}}};
        routine.interlocks.push_back({"far", "fan", "", {{"t", "m", TermState::Beyond, hinge::of<Angle>(900.0), std::nullopt}}});
        const auto made = compile(routine, {mover("m", OutputKind::Stepper, start, furthest), switched("fan")}, {contact("end")});
        EXPECT_TRUE(made) << (made ? "" : sentence(made.error()));
        return *made;
    }
    // Plays the homing with the body so many steps further from its switch than the whole way; @return the state after it
    static State homed(const Program& program, std::int32_t beyond, int ticks, std::int32_t& moved) {
        State state = powerUp(program);
        const Machine machine{program};
        const int up = program.outputs[0].furthest > program.outputs[0].start ? 1 : -1;
        std::vector<std::uint8_t> pins{0};
        Happening happening;
        happening.pin_active = pins;
        startFirst(machine, state, happening);
        const std::int32_t from = homingFrom(program.outputs[0]);
        for (int t = 1; t < ticks && state.cue(0).place >= 0; ++t) {
            moved = (from - state.output(0).level) * up;
            pins[0] = moved >= 1000 + beyond ? 1 : 0;
            machine.tick(state, happening);
        }
        return state;
    }
};
TEST_F(Homing, findsASwitchThatLostStepsHaveMovedAway) {
    for (const bool backwards : {false, true}) {
        const auto p = backwards ? program(1000, 0) : program(0, 1000);
        std::int32_t moved = 0;
        // By hand: an eighth of the way and 64 steps more than it could be away.
        const auto state = homed(p, 180, 7000, moved);
        EXPECT_EQ(state.output(0).placed, 1);
        EXPECT_EQ(state.cue(0).faulted, 0);
        EXPECT_EQ(state.output(0).level, p.outputs[0].start);
        EXPECT_GE(moved, 1180);
        const auto lost = homed(p, 400, 7000, moved);
        EXPECT_EQ(lost.cue(0).faulted, 1) << "further than that something is wrong, and it gives up";
        EXPECT_EQ(moved, 1000 + 1000 / 8 + 64) << "and no further";
    }
}
// The speed up to the switch is even but for its ramps: what meets it does so at the speed that the time says.
TEST_F(Homing, goesEvenlyToItsSwitch) {
    EXPECT_EQ(profileOf(OutputKind::Stepper, 6000, false, true), Profile::Even);
    EXPECT_EQ(profileOf(OutputKind::Stepper, 4000, false, true), Profile::Gentle) << "too short for two ramps";
}
TEST_F(Homing, afterAFailedOneNothingMovesFromAPlaceThatNobodyKnows) {
    const auto p = program(0, 1000);
    const Machine machine{p};
    const auto opens = [&](State state) {
        const std::vector<std::uint8_t> pins{0};
        Happening happening;
        happening.pin_active = pins;
        happening.start_cues = {1};
        const auto before = state.output(0).level;
        machine.tick(state, happening);
        happening.start_cues.clear();
        for (int t = 0; t < 1500; ++t) machine.tick(state, happening);
        return std::pair{state.output(0).level - before, state.cue(1).faulted};
    };
    State fresh = powerUp(p);
    for (int t = 0; t < 5; ++t) machine.tick(fresh, {});
    EXPECT_EQ(opens(fresh), (std::pair<std::int32_t, std::uint8_t>(0, 1))) << "power-up: it may stand anywhere";
    std::int32_t moved = 0;
    EXPECT_EQ(opens(homed(p, 5000, 7000, moved)).second, 1) << "the switch never came";
    EXPECT_EQ(opens(homed(p, -300, 7000, moved)), (std::pair<std::int32_t, std::uint8_t>(500, 0))) << "found: by hand 500 steps";
    // While it is not known it counts as anywhere: what must not be on with it far out is not.
    State state = powerUp(p);
    for (int t = 0; t < 5; ++t) machine.tick(state, {});
    Happening hand;
    hand.hands.push_back({1, 1000, 100});
    machine.tick(state, hand);
    EXPECT_FALSE(isOn(p, state, 1));
    EXPECT_TRUE(holds(
        p,
        [&] {
            auto on = state;
            on.output(1).level = 255;
            return on;
        }(),
        p.interlocks[0]));
}

// Its way to safety is guarded as its cues are: with the door blocked a lost link moves nothing, and what comes in the way stops it.
TEST(SafeMove, isBoundByWhatGuardsTheCues) {
    Routine routine;
    Cue open{"open", "open", "", "", {{"g", "hand", true}}, {go("o", "gate", 0.2, 1000.0)}};
    Cue shut{"shut", "shut", "", "", {{"g", "hand", true}, {"h", "night", true}}, {go("s", "gate", 0.2, 0.0)}};
    routine.cues = {open, shut};
    auto gate = mover("gate", OutputKind::Servo, 2000, 4000);
    gate.rest = Rest::Start;
    const auto program = compile(routine, {gate}, {contact("hand"), contact("night")});
    ASSERT_TRUE(program) << sentence(program.error());
    EXPECT_EQ(program->outputs[0].rest_unless, std::vector<int>{0}) << "the hand guards both cues, the night one of them";
    const auto stopped = [&](int hand_from, bool night) {
        State state = powerUp(*program);
        const Machine machine{*program};
        std::vector<std::uint8_t> pins{0, 0};
        Happening happening;
        happening.pin_active = pins;
        startFirst(machine, state, happening);
        for (int t = 0; t < 250; ++t) machine.tick(state, happening);
        EXPECT_EQ(state.output(0).level, 3000);
        pins[1] = night ? 1 : 0;
        for (int t = 0; t < 1200; ++t) {
            if (t == hand_from) pins[0] = 1;
            happening.stop = t == 10;
            machine.tick(state, happening);
        }
        return state.output(0).level;
    };
    EXPECT_EQ(stopped(5000, false), 2000) << "nothing in the way: to its start in its second";
    EXPECT_EQ(stopped(5000, true), 2000);
    EXPECT_EQ(stopped(0, false), 3000) << "a hand is there: it stands";
    const auto half_way = stopped(510, false);
    EXPECT_GT(half_way, 2400) << "a hand comes while it moves: it stops there";
    EXPECT_LT(half_way, 2600);
}

// What rolls by its loop is counted on, past what sixteen bits hold.
TEST(Rolling, goesOnPastThirtyTwoThousandSteps) {
    Routine routine;
    Loop loop{"l", "wheel", "tilt"};
    loop.wanted = hinge::of<Count>(512.0);
    loop.proportional = hinge::of<Ratio>(50.0);
    loop.period = seconds(0.005);
    loop.most = hinge::of<Count>(4000.0);
    routine.loops = {loop};
    routine.cues = {{"stand", "stand", "", "", {}, {{"on", Action::On, "wheel"}}}};
    InputNumbers tilt = contact("tilt");
    tilt.analogue = true, tilt.active_high = true;
    const auto program = compile(routine, {mover("wheel", OutputKind::Stepper, 0, 1000)}, {tilt});
    ASSERT_TRUE(program) << sentence(program.error());
    State state = powerUp(*program);
    const Machine machine{*program};
    const std::vector<std::int32_t> values{412};
    const std::vector<std::uint8_t> pins{0};
    Happening happening;
    happening.pin_active = pins;
    happening.values = values;
    for (int t = 0; t < 5; ++t) machine.tick(state, happening);
    happening.start_cues = {0};
    for (int t = 0; t < 60'000; ++t) machine.tick(state, happening), happening.start_cues.clear();
    // By hand: an error of 100 counts at 50 steps a second each, cut to 4000: 240 000 steps in a minute, less the first period.
    EXPECT_NEAR(state.output(0).level - program->outputs[0].start, 240'000, 40);
}

// A lock that the desk opens: the link starts, drives and sets it only with the word.
TEST(Words, guardStartDriveAndSetToo) {
    Routine routine;
    routine.cues = {{"unlock", "unlock", "sesam", "", {}, {{"r", Action::Run, "bolt", seconds(3.0)}}},
                    {"lamp", "lamp", "", "", {}, {{"l", Action::On, "light"}}}};
    InputNumbers word = contact("sesam");
    word.source = InputSource::Word;
    word.word = "kalomi42";
    const auto program = compile(routine, {switched("bolt"), switched("light")}, {word});
    ASSERT_TRUE(program) << sentence(program.error());
    simulation::InterpretedBoard board(*program, {}, "door", "12345678");
    const auto answer = [&](const std::string& line) {
        (void)board.read();
        board.write(line + "\n");
        board.advance(0.05);
        return board.read();
    };
    const auto on = [&](std::size_t o) { return isOn(*program, board.state(), o); };
    for (const auto* line : {"start 0", "start 0 wrong", "drive 0 1000", "drive 0 1000 500", "drive 0 1000 500 kalomi4",
                             "set unlock_r 60000", "set bolt_duty 0", "set bolt_off_delay 600000"}) {
        EXPECT_NE(answer(line).find("error"), std::string::npos) << line;
        EXPECT_FALSE(on(0)) << line;
    }
    EXPECT_NE(answer("set unlock_r 2000 kalomi42").find("ok"), std::string::npos);
    EXPECT_NE(answer("start 0 kalomi42").find("ok"), std::string::npos);
    EXPECT_TRUE(on(0));
    EXPECT_NE(answer("stop").find("ok"), std::string::npos) << "a stop needs no word";
    EXPECT_FALSE(on(0));
    EXPECT_NE(answer("drive 0 1000 500 kalomi42").find("ok"), std::string::npos);
    EXPECT_TRUE(on(0));
    EXPECT_NE(answer("start 1").find("ok"), std::string::npos) << "what no word starts, none guards";
    EXPECT_TRUE(on(1));
    // The desk knows the word and says it.
    EXPECT_EQ(link::encode(simulation::withItsWord(*program, link::StartCue{0})), "start 0 kalomi42");
    EXPECT_EQ(link::encode(simulation::withItsWord(*program, link::Drive{0, 1000, 500})), "drive 0 1000 500 kalomi42");
    EXPECT_EQ(link::encode(simulation::withItsWord(*program, link::SetParameter{"bolt_duty", 900})), "set bolt_duty 900 kalomi42");
    EXPECT_EQ(link::encode(simulation::withItsWord(*program, link::StartCue{1})), "start 1");
}

// What starts after a cue that a word starts is no back door to it, and neither is an interval or a gain.
TEST(Words, guardTheWholeChain) {
    Routine routine;
    routine.cues = {{"asked", "asked", "sesam", "", {}, {{"w", Action::Wait, "", seconds(0.5)}}},
                    {"unlock", "unlock", "", "", {}, {{"r", Action::Run, "bolt", seconds(3.0)}}}};
    routine.cues[0].guards.clear();
    routine.cues[1].after = "asked";
    routine.cues[1].every = seconds(60.0);
    InputNumbers word = contact("sesam");
    word.source = InputSource::Word;
    word.word = "kalomi42";
    const auto program = compile(routine, {switched("bolt")}, {word});
    ASSERT_TRUE(program) << sentence(program.error());
    EXPECT_EQ(wordsOfCue(*program, 1), std::vector<int>{0});
    EXPECT_EQ(wordsOfOutput(*program, 0), std::vector<int>{0});
    for (std::size_t p = 0; p < program->parameters.size(); ++p)
        EXPECT_EQ(wordsOfParameter(*program, p), std::vector<int>{0}) << program->parameters[p].name;
}

}  // namespace
}  // namespace hinge::routine::moves_truth
