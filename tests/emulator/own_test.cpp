// A maker's own sketch on the emulated board, and a sketch onto a stand-in programmer.
#include <algorithm>
#include <fstream>
#include <sstream>
#include "emulator/build.hpp"
#include "emulator/own_firmware.hpp"
#include "emulator/run_program.hpp"
#include "emulator/upload.hpp"
#include "firmware/habits.hpp"
#include "plan/firmware_model.hpp"
#include "project/routine_edits.hpp"
#include "proof/own_sketch.hpp"
#include "simulation/happen.hpp"
#include "support/demo.hpp"
#include "support/folder.hpp"
#include "support/programmer.hpp"

namespace hinge {
namespace {

const std::string sketches = HINGE_SOURCE_DIR "/tests/sketches/";
std::string whole(const std::string& file) {
    std::ifstream in(file);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}
std::vector<std::pair<std::string, int>> placesOf(const std::vector<firmware::Habit>& habits) {
    std::vector<std::pair<std::string, int>> places;
    for (const auto& habit : habits) places.emplace_back(habit.id, habit.line);
    std::sort(places.begin(), places.end());
    return places;
}

// The lines by hand, read off the two files.
TEST(Habits, areFoundWhereTheyStand) {
    using P = std::vector<std::pair<std::string, int>>;
    EXPECT_EQ(placesOf(firmware::habitsOf(whole(sketches + "blocking.ino"))),
              (P{{"blocks", 16}, {"blocks", 18}, {"count-disagrees", 5}, {"level-not-edge", 14}}));
    EXPECT_EQ(placesOf(firmware::habitsOf(whole(sketches + "careless.ino"))), (P{{"blocks", 36},
                                                                                 {"count-disagrees", 27},
                                                                                 {"known-password", 3},
                                                                                 {"narrow-time", 25},
                                                                                 {"no-volatile", 5},
                                                                                 {"rolls-over", 26},
                                                                                 {"sets-clock", 20},
                                                                                 {"slow-interrupt", 13}}));
}
TEST(Habits, ourOwnSketchHasNone) {
    const auto project = test::demoProject();
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch);
    for (const auto& habit : firmware::habitsOf(sketch->text)) ADD_FAILURE() << habit.id << " in line " << habit.line << ": " << habit.text;
}
TEST(Habits, noTextHangsTheReader) {
    std::string odd;
    for (int i = 0; i < 20'000; ++i) odd += static_cast<char>(i * 37 % 256);
    (void)firmware::habitsOf(odd);
    (void)firmware::habitsOf(std::string(100'000, '{'));
    (void)firmware::habitsOf("int a[" + std::string(50'000, '1') + "] = {1};");
    SUCCEED();
}

class Own : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    }
    Result<emulator::OwnRun> run(const std::string& file, const std::vector<simulation::Event>& script, double length) {
        return emulator::runOwn(file, project_, parts_, plan_, emulator::usualCache(),
                                [&](plant::Played& board) { EXPECT_FALSE(simulation::playOn(board, *plan_.program, script, length)); });
    }
    std::vector<proof::OwnFact> facts(const emulator::OwnRun& r, const std::vector<simulation::Event>& script) {
        return proof::ownFacts(r.seen, project_, plan_, simulation::startsOf(*plan_.program, script, r.seen.length));
    }
    static const proof::OwnFact* find(const std::vector<proof::OwnFact>& list, const std::string& what) {
        const auto found =
            std::find_if(list.begin(), list.end(), [&](const auto& fact) { return fact.what.find(what) != std::string::npos; });
        return found != list.end() ? &*found : nullptr;
    }
    static simulation::Event press(double time, const char* input, bool active) {
        simulation::Event event;
        event.time = time;
        event.input = input;
        event.active = active;
        return event;
    }
    project::Project project_ = test::demoProject();
    project::Parts parts_ = test::shippedParts();
    plan::Plan plan_ = plan::evaluate(project_, parts_);
};

TEST_F(Own, aLoopThatWaitsIsMeasured) {
    // Pressed once, for a tenth of a second; the plan's pump runs once. By hand: on for 2.99 s, then 0.1 s of waiting.
    const std::vector<simulation::Event> script{press(0.5, "start", true), press(0.6, "start", false)};
    const auto ran = run(sketches + "blocking.ino", script, 5.0);
    ASSERT_TRUE(ran) << sentence(ran.error());
    ASSERT_TRUE(ran->built) << ran->log;
    EXPECT_TRUE(ran->seen.loop_known);
    EXPECT_NEAR(ran->seen.longest_loop, 3.09, 0.005);
    EXPECT_NEAR(ran->seen.longest_at, 0.5, 0.002);
    EXPECT_GT(ran->flash, 500);
    EXPECT_EQ(ran->seen.ticks_due, ran->seen.ticks_served) << "nothing holds its clock up";
    const auto list = facts(*ran, script);
    ASSERT_NE(find(list, "longest time between two loops"), nullptr);
    EXPECT_EQ(find(list, "longest time between two loops")->verdict, Verdict::Breaks);
    EXPECT_EQ(find(list, "goes on")->verdict, Verdict::Holds) << "once, as planned";
}
// Held for four seconds it goes on twice, where the plan starts it once.
TEST_F(Own, whatFiresTwiceIsSaid) {
    const std::vector<simulation::Event> held{press(0.5, "start", true), press(4.5, "start", false)};
    const auto ran = run(sketches + "blocking.ino", held, 9.0);
    ASSERT_TRUE(ran);
    const auto list = facts(*ran, held);
    EXPECT_EQ(find(list, "goes on")->is, "2 times");
    EXPECT_EQ(find(list, "goes on")->should, "1 times");
    EXPECT_EQ(find(list, "goes on")->verdict, Verdict::Breaks);
}
TEST_F(Own, lostInterruptsAndAPinThatIsOnAtTheStart) {
    const auto ran = run(sketches + "careless.ino", {}, 2.0);
    ASSERT_TRUE(ran) << sentence(ran.error());
    ASSERT_TRUE(ran->built) << ran->log;
    EXPECT_EQ(ran->seen.on_at_start, std::vector<int>{0});
    EXPECT_GT(ran->seen.ticks_due, ran->seen.ticks_served + 100) << "interrupts are off for most of the time";
    const auto list = facts(*ran, {});
    EXPECT_EQ(find(list, "interrupts of its clock lost")->verdict, Verdict::Breaks);
    EXPECT_EQ(find(list, "at the start")->verdict, Verdict::Breaks);
}
TEST_F(Own, ourOwnSketchHoldsAsSourceElfAndHex) {
    const auto sketch = plan::sketchOf(project_, plan_);
    ASSERT_TRUE(sketch);
    test::TemporaryFolder folder;
    std::ofstream(folder.path() / "rain.ino") << sketch->text;
    std::filesystem::create_directories(folder.path() / "src");
    for (const auto& beside : sketch->beside) std::ofstream(folder.path() / beside.name) << beside.text;
    const std::vector<simulation::Event> script{press(0.5, "start", true), press(0.7, "start", false)};
    const auto source = run((folder.path() / "rain.ino").string(), script, 5.0);
    ASSERT_TRUE(source && source->built) << (source ? source->log : sentence(source.error()));
    EXPECT_LT(source->seen.longest_loop, 0.002) << "it never waits";
    for (const auto& fact : facts(*source, script))
        EXPECT_NE(fact.verdict, Verdict::Breaks) << fact.what << ": " << fact.is << ", " << fact.text;
    const auto built = emulator::build(*sketch, board::family(project_.board.form), emulator::usualCache());
    ASSERT_TRUE(built && built->ok);
    const auto hex = folder.path() / "rain.hex";
    ASSERT_EQ(emulator::runProgram({"avr-objcopy", "-O", "ihex", "-R", ".eeprom", built->elf.string(), hex.string()}).status, 0);
    const auto from_elf = run(built->elf.string(), script, 5.0), from_hex = run(hex.string(), script, 5.0);
    ASSERT_TRUE(from_elf) << sentence(from_elf.error());
    ASSERT_TRUE(from_hex) << sentence(from_hex.error());
    EXPECT_EQ(from_elf->seen.edges, from_hex->seen.edges) << "the same program either way";
    EXPECT_FALSE(from_hex->seen.loop_known);
}
// The program's own sketches, examined like a stranger's: servos, steppers there and back without a rest, a search for the start.
TEST_F(Own, ourOwnSketchesAreAccusedOfNothing) {
    for (const std::string name : {"paper-moon-stage", "home", "creep"}) {
        project_ = test::exampleProject("paper-moon-stage");
        if (name != "paper-moon-stage") {
            project_.routine = {};
            project_ = *project::insertPattern(project_, name, "curtain");
            project_ = project::addCue(project_, "there and back");
            const auto id = project_.routine.cues.back().id;
            project_ = project::addMove(project_, id, routine::Action::Go, "curtain");
            project_ = project::addMove(project_, id, routine::Action::Go, "curtain");
            project_.routine.cues.back().moves.back().place = of<Length>(0.0);
            for (auto& cue : project_.routine.cues)
                for (auto& move : cue.moves)
                    if (move.time && si(*move.time) > 100.0) move.time = of<Duration>(70.0);
            for (auto& input : project_.inputs)
                if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D12";
        }
        plan_ = plan::evaluate(project_, parts_);
        ASSERT_TRUE(plan_.program) << name << ": " << sentence(plan_.program_error.value_or(Error{}));
        const auto sketch = plan::sketchOf(project_, plan_);
        ASSERT_TRUE(sketch) << sentence(sketch.error());
        for (const auto& habit : firmware::habitsOf(sketch->text)) ADD_FAILURE() << name << ": " << habit.id << ", " << habit.text;
        test::TemporaryFolder folder;
        const auto file = (folder.path() / "own.ino").string();
        std::ofstream(file) << firmware::singleFile(*sketch).text;
        std::vector<simulation::Event> script;
        double length = 12.0;
        if (name == "home") {
            for (const auto& input : project_.inputs)
                if (input.kind == project::InputKind::EndSwitch) script.push_back(press(3.0, input.id.c_str(), true));
            length = 30.0;
        }
        if (name == "creep") length = 75.0;
        double at = name == "home" ? 4.0 : 0.5;
        for (const auto& cue : plan_.program->cues) {
            if (cue.at_power_up) continue;
            simulation::Event start;
            start.time = at;
            start.cue = cue.id;
            script.push_back(start);
            at += name == "creep" ? 100.0 : 1.0;
        }
        const auto ran = run(file, script, length);
        ASSERT_TRUE(ran && ran->built) << (ran ? ran->log : sentence(ran.error()));
        for (const auto& fact : facts(*ran, script))
            EXPECT_NE(fact.verdict, Verdict::Breaks)
                << name << ": " << fact.what << " is " << fact.is << ", should be " << fact.should << ". " << fact.text;
    }
}
// The core's own libraries are compiled with a sketch that includes them.
TEST_F(Own, sketchesWithTheCoresOwnLibrariesAreBuilt) {
    test::TemporaryFolder folder;
    std::ofstream(folder.path() / "libraries.ino") << R"(#include <Arduino.h>
#include <EEPROM.h>
#include <SPI.h>
#include <Wire.h>
#include <SoftwareSerial.h>
SoftwareSerial radio(10, 11);
void setup() { Wire.begin(); SPI.begin(); radio.begin(9600); EEPROM.update(0, 7); pinMode(9, OUTPUT); digitalWrite(9, EEPROM.read(0) == 7); }
void loop() {}
)";
    const auto ran = run((folder.path() / "libraries.ino").string(), {}, 0.5);
    ASSERT_TRUE(ran) << sentence(ran.error());
    EXPECT_TRUE(ran->built) << ran->log;
}

TEST_F(Own, whatIsNoFirmwareIsRefused) {
    test::TemporaryFolder folder;
    EXPECT_EQ(run((folder.path() / "not-there.ino").string(), {}, 1.0).error().code, ErrorCode::NotFound);
    std::ofstream(folder.path() / "page.pdf") << "%PDF";
    EXPECT_EQ(run((folder.path() / "page.pdf").string(), {}, 1.0).error().code, ErrorCode::BadFormat);
    std::ofstream(folder.path() / "empty.hex") << "";
    EXPECT_FALSE(run((folder.path() / "empty.hex").string(), {}, 1.0));
    std::ofstream(folder.path() / "broken.ino") << "void setup() { nonsense }";
    const auto broken = run((folder.path() / "broken.ino").string(), {}, 1.0);
    ASSERT_TRUE(broken);
    EXPECT_FALSE(broken->built);
    EXPECT_NE(broken->log.find("nonsense"), std::string::npos) << "the compiler's own words";
}

// ---- Upload -------------------------------------------------------------------------------------

class Upload : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound() || !emulator::programmerFound()) GTEST_SKIP() << "avr-gcc or avrdude is not installed";
        const auto sketch = plan::sketchOf(project_, plan::evaluate(project_, test::shippedParts()));
        const auto built = emulator::build(*sketch, board::family(project_.board.form), emulator::usualCache());
        ASSERT_TRUE(built && built->ok);
        elf_ = built->elf;
    }
    project::Project project_ = test::demoProject();
    std::filesystem::path elf_;
};
TEST_F(Upload, theProgramArrivesByteForByte) {
    test::Programmer board({0x1e, 0x95, 0x0f});
    const auto done = emulator::upload({elf_, project_.board.form, board.port(), false, false});
    ASSERT_TRUE(done) << sentence(done.error());
    EXPECT_TRUE(done->ok) << done->log;
    EXPECT_EQ(done->signature, "1e950f");
    // What the stand-in holds is what objcopy makes of the sketch.
    test::TemporaryFolder folder;
    const auto binary = folder.path() / "sketch.bin";
    ASSERT_EQ(emulator::runProgram({"avr-objcopy", "-O", "binary", "-R", ".eeprom", elf_.string(), binary.string()}).status, 0);
    const std::string bytes = whole(binary.string());
    ASSERT_GE(board.flash().size(), bytes.size());
    EXPECT_TRUE(std::equal(bytes.begin(), bytes.end(), board.flash().begin(),
                           [](char a, std::uint8_t b) { return static_cast<std::uint8_t>(a) == b; }));
}
TEST_F(Upload, anotherChipIsLeftAlone) {
    test::Programmer board({0x1e, 0x98, 0x01});
    const auto done = emulator::upload({elf_, project_.board.form, board.port(), false, false});
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error().code, ErrorCode::Conflict);
    EXPECT_TRUE(board.flash().empty()) << "nothing was written";
}
TEST_F(Upload, noPortNoAnswerNoSafety) {
    EXPECT_EQ(emulator::upload({elf_, project_.board.form, "/dev/not-there", false, false}).error().code, ErrorCode::Missing);
    test::Programmer board({0x1e, 0x95, 0x0f});
    EXPECT_EQ(emulator::upload({elf_, project_.board.form, board.port(), true, false}).error().field, "made_safe") << "a mover is coupled";
    EXPECT_TRUE(board.flash().empty());
    EXPECT_EQ(emulator::upload({elf_, board::BoardForm::Rp2040, board.port(), false, false}).error().code, ErrorCode::Failed);
    EXPECT_EQ(board::family(board::BoardForm::Rp2040).by_hand.size(), 3U);
    std::atomic<bool> cancel{true};
    EXPECT_EQ(emulator::upload({elf_, project_.board.form, board.port(), false, false}, &cancel).error().code, ErrorCode::Cancelled);
}

}  // namespace
}  // namespace hinge
