// One tick (firmware/runtime/spark_tick.h) on a gadget of tables written by hand in the sketch's own words, with no routine, no compiler
// and no program behind it: levels tick by tick, worked out by hand. And the words against the rows that a program is laid out as.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <array>
#include <cstring>
#include <random>
#include "firmware/runtime/spark_tick.h"
#include "firmware/runtime/spark_words.h"
#include "firmware/tables_text.hpp"
#include "plan/plan.hpp"
#include "routine/machine.hpp"
#include "support/demo.hpp"
#include "support/generated_routine.hpp"

namespace spark {
namespace {

enum { P_DUTY, P_RAMP, P_OFF_DELAY, P_RUN, P_TO, P_TICKS, P_LIMIT, NUMBERS };
enum { IN_START, IN_EMPTY, INPUTS };
enum { OUT_PUMP, OUT_GATE, OUTPUTS };
enum { CUE_RAIN, CUE_GATE, CUES };

const Input inputs[] = {contact(2), cautious(contact(2))};
const Output outputs[] = {switched(P_DUTY, P_RAMP, P_OFF_DELAY, 255), stepper(0, 1000)};
const Start by_press[] = {pressed(IN_START)};
const Start by_end[] = {after(CUE_RAIN)};
const Guard not_empty[] = {unless(IN_EMPTY)};
const Step rain[] = {on(OUT_PUMP), wait(P_RUN), off(OUT_PUMP)};
const Step gate[] = {go(OUT_GATE, P_TO, P_TICKS), until(IN_EMPTY, P_LIMIT)};
const Cue cues[] = {cue(by_press, not_empty, rain), cue(by_end, none(), gate)};
const Interlock never_dry[] = {never(OUT_PUMP, IN_EMPTY)};

struct Bench {
    WholeState all{};
    std::array<InputState, INPUTS> in{};
    std::array<OutputState, OUTPUTS> out{};
    std::array<CueState, CUES> cue_state{};
    HolderState none_held{};
    std::uint32_t no_time = 0;
    std::array<std::int32_t, NUMBERS> numbers{1000, 0, 0, 4, 100, 4, 3};
    std::array<std::uint8_t, INPUTS> pins{};
    bool last_stage = true;

    Bench() {
        powerUp(all);
        for (int i = 0; i < INPUTS; ++i) powerUp(in[i], (spark::inputs[i].is & Input::cautious) != 0);
        for (int o = 0; o < OUTPUTS; ++o) powerUp(out[o], spark::outputs[o].kind, spark::outputs[o].start, false);
        for (auto& each : cue_state) powerUp(each);
    }
    static std::uint8_t inputs() { return INPUTS; }
    static std::uint8_t outputs() { return OUTPUTS; }
    static std::uint8_t cues() { return CUES; }
    static std::uint8_t followers() { return 0; }
    static std::uint8_t interlocks() { return 1; }
    static std::uint8_t holders() { return 0; }
    static const Input* inputRow(std::uint8_t i) { return spark::inputs + i; }
    static const Output* outputRow(std::uint8_t o) { return spark::outputs + o; }
    static const Cue* cueRow(std::uint8_t c) { return spark::cues + c; }
    static const Follower* followerRow(std::uint8_t) { return nullptr; }
    static const Interlock* interlockRow(std::uint8_t r) { return never_dry + r; }
    static const Holder* holderRow(std::uint8_t) { return nullptr; }
    InputState& input(std::uint8_t i) { return in[i]; }
    OutputState& output(std::uint8_t o) { return out[o]; }
    CueState& cue(std::uint8_t c) { return cue_state[c]; }
    HolderState& holder(std::uint8_t) { return none_held; }
    std::uint32_t& hush(std::uint8_t) { return no_time; }
    std::int32_t& number(std::int16_t n) { return numbers[static_cast<std::size_t>(n)]; }
    WholeState& whole() { return all; }
    std::uint8_t pin(std::uint8_t i) const { return pins[i]; }
    static std::int16_t reading(std::uint8_t) { return 0; }
    static std::int16_t pulses(std::uint8_t) { return 0; }
    static std::int16_t leastSilence() { return no_number; }
    static bool counts() { return true; }
    [[nodiscard]] bool enforces() const { return last_stage; }
    static void moved(std::uint8_t) {}

    std::string pump(const std::string& start, const std::string& empty) {
        std::string seen;
        for (std::size_t t = 0; t < start.size(); ++t) {
            pins = {static_cast<std::uint8_t>(start[t] - '0'), static_cast<std::uint8_t>(empty[t] - '0')};
            tick(*this);
            seen += out[OUT_PUMP].level > 0 ? '1' : '0';
        }
        return seen;
    }
};

// By hand: two ticks of patience, the second of which is the press; on for four, and off in the tick after the fourth.
TEST(SparkTick, aPressRunsItForItsTime) {
    EXPECT_EQ(Bench().pump("000111111111", "000000000000"), "000011110000");
}
TEST(SparkTick, whatWasHeldAsThePowerCameStartsNothing) {
    EXPECT_EQ(Bench().pump("111111111111", "000000000000"), "000000000000");
}
TEST(SparkTick, aGuardKeepsItFromStartingAndEndsIt) {
    EXPECT_EQ(Bench().pump("000111111111", "111111111111"), "000000000000");
    EXPECT_EQ(Bench().pump("000111111111", "000001111111"), "000011000000") << "empty is believed in its second tick";
}
TEST(SparkTick, theOffDelayRunsOnAndTheLastStageEndsEvenThat) {
    Bench bench;
    bench.numbers[P_OFF_DELAY] = 3;
    EXPECT_EQ(bench.pump("0001111111111111", "0000000000000000"), "0000111111100000");
    Bench other;
    other.numbers[P_OFF_DELAY] = 3;
    EXPECT_EQ(other.pump("0001111111111111", "0000000011111111"), "0000111110000000") << "it ran on, and gives way";
}
TEST(SparkTick, aCueThatComesAfterStartsInTheTickAfterItsEnd) {
    Bench bench;
    (void)bench.pump("000111111", "000000000");
    EXPECT_EQ(bench.cue_state[CUE_RAIN].ended, 1) << "in the ninth tick";
    EXPECT_EQ(bench.cue_state[CUE_GATE].place, -1);
    (void)bench.pump("1", "0");
    EXPECT_EQ(bench.cue_state[CUE_GATE].place, 0);
    EXPECT_EQ(bench.cue_state[CUE_RAIN].ended, 0);
    // 2·100·(t/4)² up to the middle, and the same from the end: 12.5, 50, 87.5, 100.
    EXPECT_EQ(bench.out[OUT_GATE].level * 256 + bench.out[OUT_GATE].fraction, 12 * 256 + 128);
    for (const int place : {50 * 256, 87 * 256 + 128, 100 * 256}) {
        (void)bench.pump("1", "0");
        EXPECT_EQ(bench.out[OUT_GATE].level * 256 + bench.out[OUT_GATE].fraction, place);
    }
    // Then it waits for what does not come: three ticks, and it gives up.
    (void)bench.pump("1", "0");
    EXPECT_EQ(bench.cue_state[CUE_GATE].place, 1);
    (void)bench.pump("111", "000");
    EXPECT_EQ(bench.cue_state[CUE_GATE].place, -1);
    EXPECT_EQ(bench.cue_state[CUE_GATE].faulted, 1);
}
TEST(SparkTick, stopEndsAllAtOnceAndWhatIsAtRestIsIdle) {
    Bench bench;
    (void)bench.pump("00011", "00000");
    ASSERT_GT(bench.out[OUT_PUMP].level, 0);
    EXPECT_EQ(bench.out[OUT_PUMP].idle, 1) << "on, and without a soft start: nothing of it changes";
    bench.all.stop_asked = 1;
    (void)bench.pump("1", "0");
    EXPECT_EQ(bench.out[OUT_PUMP].level, 0);
    EXPECT_EQ(bench.out[OUT_PUMP].idle, 1);
    EXPECT_EQ(bench.all.stopped, 1);
}
// What is idle is not looked at. If it were always looked at, everything would be just the same: under random inputs, starts, stops, the
// desk's hand and numbers that change.
TEST(SparkTick, idleChangesNothing) {
    std::mt19937 dice(5);
    Bench plain, looked_at;
    int on = 0, moved = 0;
    for (int t = 0; t < 60'000; ++t) {
        if (dice() % 7 == 0) plain.pins[dice() % 2] ^= 1;
        looked_at.pins = plain.pins;
        const auto stop = static_cast<std::uint8_t>(dice() % 90 == 0), start = static_cast<std::uint8_t>(dice() % 40 == 0),
                   hand = static_cast<std::uint8_t>(dice() % 150 == 0), which = static_cast<std::uint8_t>(dice() % 2);
        const auto value = static_cast<std::int32_t>(dice() % 1200) - 2;
        const auto changed = dice() % 80 == 0 ? static_cast<std::int32_t>(dice() % 12) : -1;
        for (auto* bench : {&plain, &looked_at}) {
            bench->numbers[P_OFF_DELAY] = 5;
            if (t == 0) bench->numbers[P_RAMP] = 3;
            if (changed >= 0) {
                bench->numbers[changed < 6 ? P_RAMP : P_DUTY] = changed < 6 ? changed : changed * 80;
                numbersChanged(*bench);
            }
            bench->all.stop_asked = stop;
            if (start != 0) ask(*bench, which);
            if (hand != 0) {
                bench->out[which].hand_asked = 1;
                bench->out[which].hand_value = value;
                bench->out[which].hand_time = 20;
            }
        }
        for (auto& output : looked_at.out) output.idle = 0;
        tick(plain);
        tick(looked_at);
        for (int o = 0; o < OUTPUTS; ++o) {
            ASSERT_EQ(plain.out[o].level, looked_at.out[o].level) << t;
            ASSERT_EQ(plain.out[o].on, looked_at.out[o].on) << t;
            ASSERT_EQ(plain.out[o].share, looked_at.out[o].share) << t;
            ASSERT_EQ(plain.out[o].on_for, looked_at.out[o].on_for) << t;
            ASSERT_EQ(plain.out[o].off_delay, looked_at.out[o].off_delay) << t;
        }
        on += plain.out[OUT_PUMP].level > 0;
        moved += plain.out[OUT_GATE].elapsed < plain.out[OUT_GATE].duration;
    }
    EXPECT_GT(on, 2000) << "it all happened";
    EXPECT_GT(moved, 1000);
}

}  // namespace
}  // namespace spark

namespace hinge {
namespace {

bool same(const spark::Step& a, const spark::Step& b) {
    return a.does == b.does && a.output == b.output && a.input == b.input && a.is == b.is && a.number == b.number && a.with == b.with;
}

// Every instruction that a program may hold, beside the word that the sketch has for it.
TEST(Words, sayWhatAProgramIsLaidOutAs) {
    using routine::Operation;
    routine::Program program;
    for (int p = 0; p < 4; ++p) program.parameters.push_back({fmt::format("p{}", p), "ms", "", 10, 0, 1000, ""});
    program.inputs.resize(2);
    program.outputs.resize(2);
    routine::ProgramCue cue;
    std::vector<spark::Step> words;
    const auto put = [&](routine::Instruction instruction, const spark::Step& word) {
        cue.instructions.push_back(instruction);
        words.push_back(word);
    };
    // operation, output, parameter, target, input, wanted, gentle, back, joined, backwards
    put({Operation::On, 1}, spark::on(1));
    put({Operation::On, 1, -1, 2}, spark::on(1, 2));
    put({Operation::Off, 0}, spark::off(0));
    put({Operation::Wait, -1, 3}, spark::wait(3));
    put({Operation::Go, 1, 2, 3}, spark::go(1, 3, 2));
    put({Operation::Go, 1, 2, 3, -1, true, true}, spark::goGently(1, 3, 2));
    put({.operation = Operation::Go, .output = 1, .parameter = 2, .target = 3, .by = true}, spark::goBy(1, 3, 2));
    put({.operation = Operation::Go, .output = 1, .parameter = 2, .target = 3, .backwards = true, .by = true}, spark::goBackBy(1, 3, 2));
    put({.operation = Operation::Go, .output = 1, .parameter = 2, .target = 3, .gentle = true, .by = true},
        spark::gently(spark::goBy(1, 3, 2)));
    put({.operation = Operation::Until, .output = 1, .parameter = 2, .input = 0, .wanted = false}, spark::letsGo(1, 0, 2));
    put({.operation = Operation::Home, .output = 1, .parameter = 2, .target = 3, .input = 0}, spark::homeFrom(1, 0, 3, 2));
    put({.operation = Operation::Home, .output = 1, .parameter = 2, .input = 0, .anew = true}, spark::anew(spark::home(1, 0, 2)));
    put({Operation::Toggle, 1}, spark::toggle(1));
    put({Operation::Until, -1, 2, -1, 1}, spark::until(1, 2));
    put({Operation::Until, -1, 2, -1, 1, false}, spark::untilNot(1, 2));
    put({Operation::Home, 1, 2, -1, 0}, spark::home(1, 0, 2));
    put({Operation::Again, -1, 2, -1, -1, true, false, 5}, spark::again(5, 2));
    put({Operation::Fade, 0, 2, 3}, spark::fade(0, 3, 2));
    put({Operation::Flicker, 0, 2}, spark::flicker(0, 2));
    put({Operation::Clear, -1, -1, -1, 1}, spark::clear(1));
    put({Operation::Run, 0, 2}, spark::run(0, 2));
    put({Operation::Run, 0, 2, 3, -1, true, false, 0, true}, spark::together(spark::run(0, 2, 3)));
    put({Operation::On, 1, -1, -1, -1, true, false, 0, false, true}, spark::onBackwards(1));
    put({Operation::On, 1, -1, 2, -1, true, false, 0, false, true}, spark::onBackwards(1, 2));
    put({Operation::Turn, 1, 2}, spark::turn(1, 2));
    put({Operation::Turn, 1, 2, -1, -1, true, false, 0, false, true}, spark::turnBackwards(1, 2));
    program.cues.push_back(cue);
    const routine::Tables tables{program};
    ASSERT_EQ(tables.steps.size(), words.size());
    for (std::size_t k = 0; k < words.size(); ++k) {
        // Only waits for an input have a level that they want.
        auto row = tables.steps[k];
        if (row.does != Operation::Until && row.does != Operation::Home) row.is = static_cast<std::uint8_t>(row.is & ~spark::Step::wanted);
        EXPECT_TRUE(same(row, words[k])) << k;
    }
}

}  // namespace
}  // namespace hinge
