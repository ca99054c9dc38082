// The runtime's headers, each by itself, against formulas in real numbers, the C++ library's calendar, published check values and tables by
// hand. What goes to the chips is compiled here as it stands.
#include <gtest/gtest.h>
#include <chrono>
#include <cmath>
#include <fstream>
#include <random>
#include <sstream>
#include "firmware/runtime/spark_clock.h"
#include "firmware/runtime/spark_link.h"
#include "firmware/runtime/spark_loop.h"
#include "firmware/runtime/spark_motion.h"
#include "firmware/runtime/spark_store.h"
#include "firmware/runtime/spark_values.h"
#include "firmware/runtime_files.hpp"
#include "plan/firmware_model.hpp"
#include "support/demo.hpp"
#include "support/program.hpp"

namespace spark {
namespace {

// Kinematics in real numbers: constant speed; constant acceleration to the middle and back; constant speed between two ramps.
double wayAt(Profile profile, double t, double T) {
    const double r = even_ramp;
    if (profile == Profile::Straight) return t / T;
    if (profile == Profile::Gentle) return t <= T / 2 ? 2 * (t / T) * (t / T) : 1 - 2 * (1 - t / T) * (1 - t / T);
    if (t < r) return t * t / (2 * r * (T - r));
    if (t > T - r) return 1 - (T - t) * (T - t) / (2 * r * (T - r));
    return (t - r / 2) / (T - r);
}
TEST(SparkMotion, placesAreThoseOfTheFormulas) {
    std::mt19937 dice(7);
    const auto between = [&](double a, double b) { return a + (b - a) * static_cast<double>(dice()) / 4294967295.0; };
    double worst = 0.0;
    for (int k = 0; k < 200'000; ++k) {
        const auto profile = static_cast<Profile>(dice() % 3);
        // The longest moves are as likely as short ones.
        const double longest = profile == Profile::Gentle ? fine_move : longest_move;
        const auto T =
            static_cast<std::int32_t>(std::exp(between(profile == Profile::Even ? std::log(2.0 * even_ramp) : 0.0, std::log(longest))));
        const auto from = static_cast<std::int32_t>(between(0, largest_place)), to = static_cast<std::int32_t>(between(0, largest_place));
        const auto t = static_cast<std::int32_t>(between(0, T));
        const double is = finePlaceAt(profile, from, to, t, T, speedOf(profile, from, to, T)) / 256.0,
                     should = from + (to - from) * wayAt(profile, t, T);
        // As the header says: whole places of a short straight move, two fine parts of all others.
        const double allowed = profile == Profile::Straight && T <= fine_move ? 1.0 : 2.01 / 256.0;
        ASSERT_NEAR(is, should, allowed) << static_cast<int>(profile) << ": " << from << " to " << to << ", " << t << " of " << T;
        if (allowed < 0.01) worst = std::max(worst, std::abs(is - should));
    }
    RecordProperty("worst_256ths", static_cast<int>(worst * 256));
}
TEST(SparkMotion, beginsAndEndsWhereItShouldAndNeverTurnsBack) {
    for (const auto profile : {Profile::Straight, Profile::Gentle, Profile::Even})
        for (const auto& [from, to] : {std::pair{0, 12400}, {12400, 0}, {2000, 4000}, {5, 5}, {0, largest_place}})
            for (const std::int32_t T : {4097, 20'000, 60'000}) {
                const auto speed = speedOf(profile, from, to, T);
                std::int32_t before = from * fine_parts;
                ASSERT_EQ(finePlaceAt(profile, from, to, 0, T, speed), before);
                for (std::int32_t t = 1; t <= T; ++t) {
                    const auto now = finePlaceAt(profile, from, to, t, T, speed);
                    ASSERT_TRUE(to >= from ? now >= before : now <= before) << static_cast<int>(profile) << ", " << t << " of " << T;
                    before = now;
                }
                EXPECT_EQ(before, to * fine_parts);
            }
}
TEST(SparkMotion, howAMoveGoes) {
    EXPECT_EQ(profileOf(true, 5, false), Profile::Straight);
    EXPECT_EQ(profileOf(true, 90'000'000, false), Profile::Straight);
    EXPECT_EQ(profileOf(false, 60'000, false), Profile::Gentle);
    EXPECT_EQ(profileOf(false, 60'001, false), Profile::Even);
    EXPECT_EQ(profileOf(false, 4096, true), Profile::Gentle) << "no room for two ramps";
    EXPECT_EQ(profileOf(false, 4097, true), Profile::Even);
    EXPECT_EQ(speedOf(Profile::Straight, 0, 60'000, 60'000), 0u) << "not needed";
    EXPECT_EQ(speedOf(Profile::Gentle, 0, 60'000, 60'000), (std::uint64_t{1} << 40) / 60'000) << "2·256·2^31 of its way over T²";
    // By hand: 800 steps, an eighth of them and 64 more.
    EXPECT_EQ(homingFrom(0, 800), 964);
    EXPECT_EQ(homingFrom(800, 0), -164);
}
TEST(SparkMotion, rollsAtItsRateAndStopsAtTheEndOfCounting) {
    for (const std::int32_t rate : {1, -1, 7, 400, -4000, 16'000}) {
        std::int32_t place = 0;
        std::uint8_t fraction = 0;
        for (int t = 0; t < 100'000; ++t) roll(rate, place, fraction);
        // Rounded to whole fine parts a tick: half of one is 1.95 steps a second.
        EXPECT_NEAR((place + fraction / 256.0) / 100.0, rate, 1.96) << rate;
    }
    std::int32_t place = farthest_roll - 2;
    std::uint8_t fraction = 0;
    for (int t = 0; t < 10; ++t) roll(16'000, place, fraction);
    EXPECT_EQ(place, farthest_roll);
    place = -farthest_roll + 2, fraction = 0;
    for (int t = 0; t < 10; ++t) roll(-16'000, place, fraction);
    EXPECT_EQ(place, -farthest_roll);
}

TEST(SparkValues, levelsKnobsFollowersFadesAndRampsByHand) {
    EXPECT_TRUE(levelOf(600, 600, 400, false, false));
    EXPECT_FALSE(levelOf(400, 600, 400, false, true));
    EXPECT_TRUE(levelOf(401, 600, 400, false, true));
    EXPECT_FALSE(levelOf(599, 600, 400, false, false));
    EXPECT_TRUE(levelOf(400, 600, 400, true, false));
    EXPECT_FALSE(levelOf(600, 600, 400, true, true));
    EXPECT_TRUE(levelOf(599, 600, 400, true, true));
    EXPECT_EQ(knobValue(100, 1100, 0), 100);
    EXPECT_EQ(knobValue(100, 1100, 1023), 1100);
    EXPECT_EQ(knobValue(0, 86'400'000, 1023), 86'400'000) << "no overflow at a day";
    EXPECT_NEAR(knobValue(0, 86'400'000, 512), 86'400'000.0 * 512 / 1023, 1.0);
    EXPECT_EQ(followedShare(100, 100, 300), 0);
    EXPECT_EQ(followedShare(101, 100, 300), 300) << "700/923 of a permille is cut off";
    EXPECT_EQ(followedShare(1023, 100, 300), 1000);
    EXPECT_EQ(fadedShare(200, 800, 0, 1000), 200);
    EXPECT_EQ(fadedShare(200, 800, 500, 1000), 500);
    EXPECT_EQ(fadedShare(800, 200, 999, 1000), 201);
    EXPECT_EQ(fadedShare(800, 200, 1000, 1000), 200);
    EXPECT_NEAR(fadedShare(0, 1000, 43'200'000, 86'400'000), 500, 1) << "a fade of a day";
    EXPECT_EQ(rampLevel(500, 255, 1, 0), 128) << "127.5, rounded";
    EXPECT_EQ(rampLevel(1000, 255, 1, 1000), 1) << "never nothing while it is on";
    EXPECT_EQ(rampLevel(1000, 255, 500, 1000), 127);
    EXPECT_EQ(rampLevel(1000, 255, 1000, 1000), 255);
    EXPECT_EQ(rampLevel(0, 255, 5, 1000), 0);
}
// A shift register of 16 bits with these taps goes through every number but 0 (a maximal sequence; Golomb, Shift Register Sequences).
TEST(SparkValues, theFlamesNoiseComesRoundAfterAllNumbersButNone) {
    std::uint16_t noise = first_noise;
    long round = 0;
    do {
        noise = nextNoise(noise);
        ASSERT_NE(noise, 0);
        ASSERT_GE(flameShare(noise), 300);
        ASSERT_LT(flameShare(noise), 1000);
        ++round;
    } while (noise != first_noise && round < 100'000);
    EXPECT_EQ(round, 65'535);
}

// Every day of the hundred years against the C++ library's calendar.
TEST(SparkClock, daysAreThoseOfTheCalendar) {
    using namespace std::chrono;
    Date date{2000, 1, 1};
    int number = 0;
    for (sys_days day = 2000y / January / 1; day < sys_days{2100y / January / 1}; day += days{1}, ++number) {
        const year_month_day should{day};
        ASSERT_EQ(date.year, static_cast<int>(should.year()));
        ASSERT_EQ(date.month, static_cast<int>(static_cast<unsigned>(should.month())));
        ASSERT_EQ(date.day, static_cast<int>(static_cast<unsigned>(should.day())));
        ASSERT_EQ(weekdayOf(date), weekday{day}.iso_encoding() - 1);
        ASSERT_EQ(dayNumber(date), number);
        ASSERT_EQ(daysIn(date.year, date.month),
                  static_cast<int>(static_cast<unsigned>(year_month_day_last{should.year() / should.month() / last}.day())));
        date = dayAfter(date);
    }
    EXPECT_EQ(number, 36'525);
}
TEST(SparkClock, seasonsAndTimesByHand) {
    EXPECT_TRUE(inSeason(401, 1031, 4, 1));
    EXPECT_TRUE(inSeason(401, 1031, 10, 31));
    EXPECT_FALSE(inSeason(401, 1031, 11, 1));
    EXPECT_TRUE(inSeason(1101, 228, 1, 15)) << "over the new year";
    EXPECT_FALSE(inSeason(1101, 228, 3, 1));
    EXPECT_EQ(passedSince(5000, -1), 1) << "it was not set before";
    EXPECT_EQ(passedSince(5001, 5000), 1);
    EXPECT_EQ(passedSince(0, ticks_per_day - 1), 1) << "midnight";
    EXPECT_EQ(passedSince(6800, 5000), 1800) << "put on by 1.8 s";
    EXPECT_EQ(passedSince(4000, 5000), 1) << "put back";
    EXPECT_EQ(passedSince(5000 + largest_correction + 1, 5000), 1) << "set anew";
    const std::int32_t half_past_two = 52'200'000;
    EXPECT_TRUE(comesNow(half_past_two, half_past_two, 1, false, 0));
    EXPECT_FALSE(comesNow(half_past_two + 1, half_past_two, 1, false, 0));
    EXPECT_TRUE(comesNow(half_past_two + 1799, half_past_two, 1800, false, 0)) << "jumped over by a correction";
    EXPECT_TRUE(comesNow(half_past_two + 60'000, half_past_two, 1, true, 60'000)) << "just set past it, and it may be late";
    EXPECT_FALSE(comesNow(half_past_two + 60'001, half_past_two, 1, true, 60'000));
    EXPECT_TRUE(comesNow(5, ticks_per_day - 5, 20, false, 0)) << "over midnight";
}

// CRC-8 with polynomial 0x07 of "123456789" is 0xF4: its check value in the usual lists (SMBus' PEC), from memory.
TEST(SparkLink, theCheckIsTheUsualOne) {
    std::uint8_t crc = 0;
    for (const char c : std::string{"123456789"}) crc = crc8(crc, static_cast<std::uint8_t>(c));
    EXPECT_EQ(crc, 0xF4);
}
// By hand, docs/link-protocol.md: start, length, sequence, time, flags, clock, inputs, cues, two values, check.
TEST(SparkLink, aFrameByHand) {
    struct {
        std::vector<int> bytes;
        void write(std::uint8_t byte) { bytes.push_back(byte); }
    } out;
    Frame frame(out, 2, 7, 0x01020304, 5, 0x00abcdef, 3, 1);
    frame.value(-5);
    frame.value(70'000);
    frame.end();
    std::vector<int> expected{0xA5, 16, 7, 4, 3, 2, 1, 5, 0xef, 0xcd, 0xab, 0, 3, 1, 0, 0, 0xff, 0xff};
    std::uint8_t crc = 0;
    for (std::size_t i = 1; i < expected.size(); ++i) crc = crc8(crc, static_cast<std::uint8_t>(expected[i]));
    expected.push_back(crc);
    EXPECT_EQ(out.bytes, expected);
}

// A loop against the same sums in real numbers: gains in 256ths, the change smoothed, the sum held within what the output can do.
TEST(SparkLoop, drivesAsTheSumsSay) {
    std::mt19937 dice(3);
    const auto upTo = [&](int most) { return static_cast<std::int32_t>(dice() % static_cast<unsigned>(most + 1)); };
    for (int round = 0; round < 500; ++round) {
        const bool rolls = round % 3 == 0;
        std::int32_t n[LoopNumber::count] = {200 + upTo(600), upTo(2000),   upTo(200), upTo(2000),
                                             1 + upTo(20),    1 + upTo(15), upTo(100), upTo(5)};
        if (rolls) n[LoopNumber::lean_rate] = upTo(4000), n[LoopNumber::lean_way] = upTo(4000);
        else n[LoopNumber::least] = upTo(300);
        const std::int32_t most = rolls ? 4000 : 1000, lowest = rolls ? -most : std::min(n[LoopNumber::least], most);
        Loop loop = {0, 0, -1, 0};
        double sum = 0.0, damped = 0.0, before = -1.0;
        std::int32_t share = 0;
        for (int k = 0; k < 50; ++k) {
            const std::int32_t reading = upTo(1023), away = rolls ? upTo(200'000) - 100'000 : 0;
            const double lean =
                rolls ? std::clamp(std::floor(share * n[LoopNumber::lean_rate] / 65536.0) +
                                       std::floor(std::clamp(away, -65'535, 65'535) * 1.0 * n[LoopNumber::lean_way] / 65536.0),
                                   -128.0, 128.0)
                      : 0.0;
            const double aim = n[LoopNumber::wanted] + lean;
            double error = aim - reading;
            if (std::abs(error) <= n[LoopNumber::band]) error = 0.0;
            damped += std::floor(((before < 0.0 ? 0.0 : reading - before) * 64.0 - damped) * n[LoopNumber::smoothing] / 16.0);
            before = reading;
            sum = std::clamp(sum + n[LoopNumber::integral] * error, rolls ? 256.0 * lowest : 0.0, 256.0 * most);
            const double drive = std::clamp(std::floor((n[LoopNumber::proportional] * error + sum + n[LoopNumber::forward] * aim -
                                                        std::floor(n[LoopNumber::derivative] * damped / 64.0)) /
                                                       256.0),
                                            1.0 * lowest, 1.0 * most);
            share = loopDrive(loop, n, rolls, false, most, reading, share, away);
            ASSERT_EQ(share, drive) << "round " << round << ", period " << k;
        }
    }
}
TEST(SparkLoop, countsItsPeriodAndForgets) {
    std::int32_t n[LoopNumber::count] = {};
    n[LoopNumber::period] = 3;
    Loop loop = {5, 6, 7, 0};
    std::string ends;
    for (int t = 0; t < 7; ++t) ends += periodEnds(loop, n[LoopNumber::period]) ? '1' : '0';
    EXPECT_EQ(ends, "0010010");
    forget(loop);
    EXPECT_EQ(loop.sum, 0);
    EXPECT_EQ(loop.damped, 0);
    EXPECT_EQ(loop.last, -1);
    n[LoopNumber::period] = 0;
    loop.phase = 0;
    EXPECT_TRUE(periodEnds(loop, n[LoopNumber::period])) << "no period is a tick";
}

// A memory whose power goes after some writes.
struct Eeprom {
    std::vector<std::uint8_t> bytes = std::vector<std::uint8_t>(64, 0xff);
    int writes_left = 1 << 30, written = 0;
    std::uint8_t read(std::uint16_t at) { return bytes.at(at); }
    void update(std::uint16_t at, std::uint8_t byte) {
        if (bytes.at(at) == byte) return;
        if (writes_left-- <= 0) return;
        bytes[at] = byte, ++written;
    }
};
const std::uint8_t mark[mark_bytes] = {0x12, 0x34, 0x56, 0x78, 3}, other_mark[mark_bytes] = {0x12, 0x34, 0x56, 0x79, 3};
void write(Eeprom& memory, std::uint16_t at, const std::uint8_t* of, const std::vector<std::uint8_t>& own) {
    RecordWriter writer = {0, 0};
    int calls = 1;
    while (!writer.step(memory, at, of, static_cast<std::uint16_t>(own.size()), [&](std::uint16_t k) { return own[k]; })) ++calls;
    EXPECT_EQ(calls, static_cast<int>(recordRoom(static_cast<std::uint16_t>(own.size())))) << "one byte a call";
}
TEST(SparkStore, aRecordIsThereWholeOrNotAtAll) {
    const std::vector<std::uint8_t> own{1, 2, 3, 250, 0, 7, 8, 9}, next{1, 2, 4, 250, 0, 7, 8, 10};
    Eeprom memory;
    EXPECT_FALSE(recordHolds(memory, 4, mark, 8)) << "never written";
    write(memory, 4, mark, own);
    EXPECT_TRUE(recordHolds(memory, 4, mark, 8));
    EXPECT_FALSE(recordHolds(memory, 4, other_mark, 8)) << "another plan's";
    EXPECT_EQ(memory.bytes[3], 0xff) << "nothing before it";
    EXPECT_EQ(memory.bytes[4 + recordRoom(8)], 0xff) << "nothing behind it";
    // Written again: what is the same is left alone. Two bytes and the check are not.
    const int before = memory.written;
    write(memory, 4, mark, next);
    EXPECT_EQ(memory.written - before, 3);
    // The power goes in between: neither the old nor the new stands there, and nothing is taken for it. By hand: after one or two of the
    // three writes the check fits neither.
    for (const int writes : {1, 2}) {
        Eeprom torn;
        write(torn, 4, mark, own);
        torn.writes_left = writes;
        write(torn, 4, mark, next);
        EXPECT_FALSE(recordHolds(torn, 4, mark, 8)) << writes << " of three";
    }
}
// Each flipped bit is seen: the polynomial has at least two terms. Random rubbish behind the right mark passes in one of 256 cases.
TEST(SparkStore, rubbishIsNoRecord) {
    const std::vector<std::uint8_t> own{0, 0, 0, 0, 0, 0, 0, 0};
    Eeprom memory;
    write(memory, 0, mark, own);
    for (int bit = 0; bit < 8 * recordRoom(8); ++bit) {
        auto flipped = memory;
        flipped.bytes[static_cast<std::size_t>(bit / 8)] ^= static_cast<std::uint8_t>(1 << bit % 8);
        EXPECT_FALSE(recordHolds(flipped, 0, mark, 8)) << bit;
    }
    std::mt19937 dice(11);
    int passed = 0;
    for (int k = 0; k < 25'600; ++k) {
        Eeprom rubbish;
        for (auto& byte : rubbish.bytes) byte = static_cast<std::uint8_t>(dice());
        std::copy(mark, mark + mark_bytes, rubbish.bytes.begin());
        passed += recordHolds(rubbish, 0, mark, 8) ? 1 : 0;
    }
    EXPECT_NEAR(passed, 100, 40) << "25600 times a 256th; four deviations are 40";
}

}  // namespace
}  // namespace spark

namespace hinge {
namespace {

// What is emitted is what stands in the tree, the same for every gadget, and each header is C++11 by itself on each compiler.
TEST(Runtime, isEmittedByteForByteAndCompilesByItself) {
    const std::string tree = HINGE_SOURCE_DIR "/core/firmware/runtime/";
    const auto parts = test::shippedParts();
    for (const auto& project : {test::demoProject(), test::exampleProject("paper-moon-stage"), test::exampleProject("tightrope-rider")}) {
        const auto sketch = plan::sketchOf(project, plan::evaluate(project, parts));
        ASSERT_TRUE(sketch);
        int found = 0;
        for (const auto& file : sketch->beside) {
            if (!file.name.starts_with("src/")) continue;
            std::ifstream in(tree + file.name.substr(4), std::ios::binary);
            std::ostringstream text;
            text << in.rdbuf();
            EXPECT_EQ(file.text, text.str()) << file.name;
            if (file.name == "src/spark.h" || file.name == "src/spark_gadget.h")
                EXPECT_NE(sketch->text.find("#include \"" + file.name + "\""), std::string::npos) << file.name;
            else
                EXPECT_NE(firmware::runtimeFiles().front().text.find("#include \"" + file.name.substr(4) + "\""), std::string::npos)
                    << file.name;
            ++found;
        }
        EXPECT_EQ(found, static_cast<int>(firmware::runtimeFiles().size()));
        const auto one = firmware::singleFile(*sketch);
        EXPECT_EQ(one.text.find("#include \"src/"), std::string::npos);
        // All that a file says after what it includes.
        for (const auto& file : sketch->beside) {
            const auto include = file.text.rfind("#include");
            const auto own = include == std::string::npos ? file.text : file.text.substr(file.text.find('\n', include) + 1);
            if (file.name != "src/spark.h") EXPECT_GT(own.size(), 300U) << file.name;
            EXPECT_NE(one.text.find(own), std::string::npos) << file.name;
            // Once.
            if (file.name != "src/spark.h") EXPECT_EQ(one.text.find(own, one.text.find(own) + 1), std::string::npos) << file.name;
        }
        EXPECT_EQ(one.text.find("#include \"spark_"), std::string::npos);
        EXPECT_TRUE(one.beside.empty());
    }
    for (const auto& file : firmware::runtimeFiles()) {
        if (file.name == "src/spark_gadget.h") continue;  // it stands after a sketch's tables: compiled with every sketch
        for (const std::string compiler :
             {"g++ -std=c++11 -pedantic", "clang++ -std=c++11 -pedantic", "g++ -std=c++20", "avr-g++ -mmcu=atmega328p -std=gnu++11"}) {
            if (test::run(compiler.substr(0, compiler.find(' ')) + " --version > /dev/null 2>&1").status != 0) continue;
            const auto done = test::run("echo '#include \"" + tree + file.name.substr(4) + "\"' | " + compiler +
                                        " -Wall -Wextra -Werror -fno-exceptions -fno-rtti -x c++ -fsyntax-only - 2>&1");
            EXPECT_EQ(done.status, 0) << compiler << ": " << done.out;
        }
    }
}

}  // namespace
}  // namespace hinge
