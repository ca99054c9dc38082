// The emitted sketch: it compiles whatever the names are, answers the link, keeps its parameters
// in range, and stops.
#include <fstream>
#include <sstream>
#include <thread>
#include "emulator/build.hpp"
#include "emulator/chip.hpp"
#include "emulator/gadget.hpp"
#include "link/protocol.hpp"
#include "support/demo.hpp"
#include "support/folder.hpp"

namespace hinge {
namespace {

// The chip samples 1.5 converter clocks after a conversion starts (ATmega328P data sheet, 24.4): a level that changes while it runs is read
// by the next one. The mark is the moment right after the start.
TEST(Converter, samplesAtTheStartOfAConversion) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    firmware::Sketch sketch;
    sketch.name = "converter";
    sketch.text = R"(#include <Arduino.h>
void setup() { Serial.begin(250000); ADMUX = _BV(REFS0); ADCSRA = _BV(ADEN) | 7; }
void loop() {
  ADCSRA |= _BV(ADSC);
  GPIOR0 = 1;
  while (ADCSRA & _BV(ADSC)) {}
  Serial.println(ADC);
}
)";
    const auto& family = board::family(board::BoardForm::Uno16);
    const auto built = emulator::build(sketch, family, emulator::usualCache());
    ASSERT_TRUE(built && built->ok) << (built ? built->log : sentence(built.error()));
    auto chip = emulator::Chip::load(built->elf, "atmega328p", 16'000'000);
    ASSERT_TRUE(chip);
    (*chip)->setAnalogue(0, 100);
    int conversions = 0;
    (*chip)->on_mark = [&](std::uint64_t) { (*chip)->setAnalogue(0, 100 + 50 * ++conversions); };
    (*chip)->runTo(16'000'000 / 100);
    std::istringstream said((*chip)->received());
    std::vector<int> readings;
    for (int value = 0; said >> value;) readings.push_back(value);
    ASSERT_GE(readings.size(), 5U);
    for (std::size_t k = 0; k < 5; ++k) EXPECT_EQ(readings[k], 100 + 50 * static_cast<int>(k)) << "conversion " << k;
}

// What was compiled before is found again: by its texts, not by their hash, and not where it was made of a file that may have changed.
TEST(KeptSketches, areThoseOfTheSameTexts) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    namespace fs = std::filesystem;
    const test::TemporaryFolder cache;
    const auto sketchOf = [](int number, const std::string& more = "") {
        firmware::Sketch sketch;
        sketch.name = "kept";
        sketch.text = "#include <Arduino.h>\n#include \"src/beside.h\"\n" + more + "void setup() { GPIOR0 = BESIDE + " +
                      std::to_string(number) + "; }\nvoid loop() {}\n";
        sketch.beside = {{"src/beside.h", "#define BESIDE 1\n"}};
        return sketch;
    };
    const auto& family = board::family(board::BoardForm::Uno16);
    const auto built = [&](const firmware::Sketch& sketch) {
        const auto done = emulator::build(sketch, family, cache.path());
        EXPECT_TRUE(done && done->ok) << (done ? done->log : sentence(done.error()));
        return done ? *done : emulator::Built{};
    };
    std::vector<emulator::Built> at_once(4);
    std::vector<std::thread> threads;
    for (auto& one : at_once) threads.emplace_back([&] { one = built(sketchOf(1)); });
    for (auto& thread : threads) thread.join();
    const auto first = at_once.front();
    for (const auto& one : at_once) EXPECT_EQ(one.elf, first.elf) << "four at once are one";
    const auto made = fs::last_write_time(first.elf);
    const auto again = built(sketchOf(1));
    EXPECT_EQ(again.elf, first.elf);
    EXPECT_EQ(fs::last_write_time(again.elf), made) << "not compiled anew";
    EXPECT_EQ(again.flash, first.flash);
    EXPECT_GT(again.flash, 100);
    EXPECT_EQ(again.log, first.log);
    EXPECT_NE(built(sketchOf(2)).elf, first.elf);
    auto other = sketchOf(1);
    other.beside.front().text = "#define BESIDE 7\n";
    EXPECT_NE(built(other).elf, first.elf);
    // In its place stands one of another text, as one with the same hash would.
    for (const char* file : {"kept.ino", "src/beside.h"}) {
        const auto kept = built(sketchOf(1));
        std::ofstream{kept.elf.parent_path() / file, std::ios::app} << "// another\n";
        EXPECT_NE(built(sketchOf(1)).elf, kept.elf) << file;
        fs::remove_all(kept.elf.parent_path());
    }
    // One that others may write to is not believed, nor a link.
    {
        const auto kept = built(sketchOf(1)).elf.parent_path();
        fs::permissions(kept, fs::perms::others_write, fs::perm_options::add);
        EXPECT_NE(built(sketchOf(1)).elf.parent_path(), kept);
        fs::permissions(kept, fs::perms::others_write, fs::perm_options::remove);
        EXPECT_EQ(built(sketchOf(1)).elf.parent_path(), kept);
        fs::rename(kept, cache.path() / "aside");
        fs::create_directory_symlink(cache.path() / "aside", kept);
        EXPECT_NE(built(sketchOf(1)).elf.parent_path(), kept);
        fs::remove(kept);
        for (const auto& entry : fs::directory_iterator{cache.path()}) {
            if (!entry.path().filename().string().starts_with("core-")) continue;
            fs::permissions(entry.path(), fs::perms::others_write, fs::perm_options::add);
            const auto refused = emulator::build(sketchOf(3), family, cache.path());
            ASSERT_FALSE(refused);
            EXPECT_EQ(refused.error().code, ErrorCode::NotWritable);
            fs::permissions(entry.path(), fs::perms::others_write, fs::perm_options::remove);
        }
    }
    // Made of a file elsewhere, which changes.
    const auto elsewhere = cache.path() / "elsewhere.h";
    const auto outside = sketchOf(1, "#include \"" + elsewhere.string() + "\"\n");
    std::ofstream{elsewhere} << "const uint8_t a[2] PROGMEM = {1, 2};\n";
    const auto small = built(outside);
    std::ofstream{elsewhere}
        << "const uint8_t a[900] PROGMEM = {1, 2}; struct A { A() { for (auto i : a) GPIOR1 = pgm_read_byte(&i); } } b;\n";
    EXPECT_GT(built(outside).flash, small.flash);
    // Six hundred that nobody has used since yesterday: some go each time, and what is in use stays.
    for (int k = 0; k < 600; ++k) {
        const auto old = cache.path() / ("sketch-old-" + std::to_string(k));
        fs::create_directory(old);
        fs::last_write_time(old, fs::file_time_type::clock::now() - std::chrono::hours{24});
    }
    for (int k = 10; k < 14; ++k) EXPECT_TRUE(fs::exists(built(sketchOf(k)).elf));
    const auto left = std::count_if(fs::directory_iterator{cache.path()}, fs::directory_iterator{},
                                    [](const auto& entry) { return entry.path().filename().string().starts_with("sketch-"); });
    EXPECT_LE(left, 500);
    EXPECT_GT(left, 450);
    EXPECT_EQ(built(sketchOf(2)).ok, true);
}

class Sketch : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
        parts_ = test::shippedParts();
    }
    std::unique_ptr<emulator::EmulatedBoard> start(const project::Project& project) {
        auto board = emulator::startGadget(project, parts_, plan::evaluate(project, parts_), emulator::usualCache());
        EXPECT_TRUE(board) << sentence(board.error());
        if (!board) return nullptr;
        (*board)->advance(0.2);  // until it listens
        return std::move(*board);
    }
    // Talks and collects every message until `seconds` have passed.
    static std::vector<link::Message> talk(emulator::EmulatedBoard& board, const std::string& lines, double seconds) {
        board.write(lines);
        board.advance(seconds);
        link::Decoder decoder;
        return decoder.feed(board.read());
    }
    template <class T>
    static std::vector<T> only(const std::vector<link::Message>& messages) {
        std::vector<T> list;
        for (const auto& message : messages)
            if (const auto* found = std::get_if<T>(&message)) list.push_back(*found);
        return list;
    }
    project::Parts parts_;
};

TEST_F(Sketch, fitsTheChipWithRoomToSpare) {
    const auto project = test::demoProject();
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, parts_));
    ASSERT_TRUE(sketch);
    const auto built = emulator::build(*sketch, board::family(project.board.form), emulator::usualCache());
    ASSERT_TRUE(built && built->ok) << built->log;
    EXPECT_LT(built->flash, 32256 / 2);
    EXPECT_LT(built->ram, 2048 / 2);
    EXPECT_TRUE(built->log.empty()) << "no warnings: " << built->log;
}

TEST_F(Sketch, compilesWithHostileNames) {
    auto project = test::demoProject();
    project.brief.name = "Moon \"\\\n*/ // \xF0\x9F\x8C\x99 %s ?\?/";
    project.channels.front().name = "Rain\"); while(1); //\n\xC3\xA9";
    project.inputs.front().name = "sta\\rt\"";
    project.routine.cues.front().name = "st\"orm\\";
    const auto board = start(project);
    ASSERT_TRUE(board);
    const auto hello = only<link::Hello>(talk(*board, "hello\n", 0.3));
    ASSERT_EQ(hello.size(), 1U);
    EXPECT_EQ(hello.front().version, link::version);
}

TEST_F(Sketch, compilesForTheEightMegahertzBoard) {
    const auto project = test::edited(test::demoProject(), {{"board/form", "atmega328p-8mhz"},
                                                            {"channels/rain/pin", "D9"},
                                                            {"channels/rain/signal/frequency", "1 kHz"},
                                                            {"rails/logic/voltage", "3.3 V"}});
    ASSERT_TRUE(start(project));
}

TEST_F(Sketch, listsItsParametersAndChangesThem) {
    const auto board = start(test::demoProject());
    ASSERT_TRUE(board);
    const auto list = talk(*board, "list\n", 0.5);
    const auto parameters = only<link::ParameterLine>(list);
    ASSERT_EQ(parameters.size(), 4U);
    EXPECT_EQ(parameters.back().name, "rain_run");
    EXPECT_EQ(only<link::End>(list).size(), 1U);
    const auto answers = talk(*board, "set rain_run 1000\nset rain_run 999999999\nset nothing 1\nset rain_run abc\nnonsense\n", 0.5);
    ASSERT_EQ(only<link::Done>(answers).size(), 1U);
    EXPECT_EQ(only<link::Done>(answers).front().text, "rain_run 1000");
    EXPECT_EQ(only<link::Refused>(answers).size(), 4U);
}

TEST_F(Sketch, streamsTwoHundredSamplesASecondWithoutLoss) {
    const auto board = start(test::demoProject());
    ASSERT_TRUE(board);
    board->write("stream 1\n");
    board->advance(2.0);
    link::Decoder decoder;
    std::size_t samples = 0;
    for (const auto& message : decoder.feed(board->read())) samples += std::holds_alternative<link::Telemetry>(message) ? 1 : 0;
    EXPECT_NEAR(static_cast<double>(samples), 400.0, 6.0);
    EXPECT_EQ(decoder.lost(), 0U);
}

TEST_F(Sketch, stopTurnsEverythingOffAtOnce) {
    const auto board = start(test::demoProject());
    ASSERT_TRUE(board);
    board->write("start 0\n");
    board->advance(1.0);
    EXPECT_GT(board->observe().duty.front(), 0.9);
    board->write("stop\n");
    board->advance(0.05);
    EXPECT_EQ(board->observe().duty.front(), 0.0);
    board->advance(3.0);
    EXPECT_EQ(board->observe().duty.front(), 0.0) << "a stopped cue does not go on";
}

TEST_F(Sketch, rubbishAtFullRateNeitherHangsNorMoves) {
    const auto board = start(test::demoProject());
    ASSERT_TRUE(board);
    std::string rubbish;
    for (int i = 0; i < 6000; ++i) rubbish += static_cast<char>(i * 131 % 251);
    board->write(rubbish + "\n");
    board->advance(1.0);
    EXPECT_EQ(board->chip().resets(), 0);
    EXPECT_TRUE(board->edges().empty());
    static_cast<void>(board->read());
    EXPECT_EQ(only<link::Hello>(talk(*board, "\nhello\n", 0.3)).size(), 1U);
}

TEST_F(Sketch, thePlantPoursWhatTheModelsSay) {
    const auto project = test::demoProject();
    const auto board = start(project);
    ASSERT_TRUE(board);
    board->setInput(0, true);
    board->advance(6.0);
    // The dose less what the ramp and the spin-up cost: at most 100 ms and 60 ms of the flow.
    const double asked = si(*std::get<project::PumpDemand>(project.channels.front().demand).volume);
    EXPECT_LT(board->observe().poured, asked * 1.01);
    EXPECT_GT(board->observe().poured, asked * 0.93);
}

}  // namespace
}  // namespace hinge
