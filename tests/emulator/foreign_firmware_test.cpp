// Firmware that is not ours: cut, mutated, for another machine, endless, malicious. The program lives; each is refused or judged in a
// sentence.
#include <sys/stat.h>
#include <algorithm>
#include <fstream>
#include <map>
#include <random>
#include "emulator/build.hpp"
#include "emulator/guest.hpp"
#include "emulator/image.hpp"
#include "emulator/own_firmware.hpp"
#include "emulator/run_program.hpp"
#include "files/folder.hpp"
#include "firmware/habits.hpp"
#include "plan/firmware_model.hpp"
#include "proof/own_sketch.hpp"
#include "simulation/happen.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

class Foreign : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
        ASSERT_FALSE(emulator::guestProgram().empty());
        const auto sketch = plan::sketchOf(project_, plan_);
        const auto built = emulator::build(*sketch, board::family(project_.board.form), emulator::usualCache());
        ASSERT_TRUE(built && built->ok);
        elf_ = *files::readWhole(built->elf);
        const auto hex = folder_.path() / "own.hex";
        ASSERT_EQ(emulator::runProgram({"avr-objcopy", "-O", "ihex", "-R", ".eeprom", built->elf.string(), hex.string()}).status, 0);
        hex_ = *files::readWhole(hex);
    }
    // Runs a file's bytes for so long; whatever comes of it is a value, and a refusal is a sentence.
    Result<emulator::OwnRun> run(const std::string& name, const std::string& bytes, double length = 0.02) {
        const auto file = folder_.path() / name;
        std::ofstream(file, std::ios::binary | std::ios::trunc) << bytes;
        auto ran = emulator::runOwn(file, project_, parts_, plan_, emulator::usualCache(),
                                    [&](plant::Played& board) { EXPECT_FALSE(simulation::playOn(board, *plan_.program, {}, length)); });
        if (!ran) {
            const auto said = sentence(ran.error());
            EXPECT_GT(said.size(), 20U) << said;
            EXPECT_EQ(said.find('\n'), std::string::npos) << said;
        }
        return ran;
    }
    Result<emulator::OwnRun> sketch(const std::string& text, double length = 0.2) { return run("theirs.ino", text, length); }
    test::TemporaryFolder folder_;
    project::Project project_ = test::demoProject();
    project::Parts parts_ = test::shippedParts();
    plan::Plan plan_ = plan::evaluate(project_, parts_);
    std::string elf_, hex_;
};

TEST_F(Foreign, aFirmwareForAnotherMachineIsRefused) {
    const auto ran = run("true.elf", *files::readWhole("/bin/true"));
    ASSERT_FALSE(ran);
    EXPECT_NE(sentence(ran.error()).find("AVR"), std::string::npos) << sentence(ran.error());
}

TEST_F(Foreign, aCutElfIsRefusedAtEveryLength) {
    for (std::size_t cut = 0; cut < elf_.size(); cut += 97) {
        const auto image = emulator::readElf(std::string_view{elf_}.substr(0, cut), "cut.elf", 32768, 1024);
        ASSERT_FALSE(image) << cut << ": judged, not refused";
    }
    EXPECT_TRUE(emulator::readElf(elf_, "whole.elf", 32768, 1024));
    EXPECT_EQ(emulator::readElf(elf_, "whole.elf", 1024, 1024).error().code, ErrorCode::OutOfRange) << "a smaller chip";
}

TEST_F(Foreign, hexIsHeldAgainstItsChecksumsAndTheFlash) {
    const auto read = [](const std::string& text) { return emulator::readHex(text, "a.hex", 32768); };
    // By hand: count 04, address 0010, kind 00, DE AD BE EF; the sum of all bytes is 0 in eight bits.
    const std::string record = ":04001000DEADBEEFB4\n", end = ":00000001FF\n";
    const auto whole = read(record + end);
    ASSERT_TRUE(whole) << sentence(whole.error());
    EXPECT_EQ(whole->base, 16U);
    EXPECT_EQ(whole->flash, (std::vector<std::uint8_t>{0xde, 0xad, 0xbe, 0xef}));
    EXPECT_NE(sentence(read(":04001000DEADBEEFB5\n" + end).error()).find("checksum"), std::string::npos);
    EXPECT_NE(sentence(read(record).error()).find("cut short"), std::string::npos);
    EXPECT_NE(sentence(read(record + record + end).error()).find("already"), std::string::npos);
    EXPECT_FALSE(read(record + end + record)) << "behind its end";
    EXPECT_FALSE(read(":04001000DEADBEB4\n" + end)) << "length";
    EXPECT_FALSE(read(":0G001000DEADBEEFB4\n" + end));
    EXPECT_FALSE(read("")) << "nothing";
    EXPECT_FALSE(read(end)) << "no program";
    // 0x8000 is the first byte beyond 32 kB; and by a segment of record 02 and 04.
    EXPECT_EQ(read(":0180000055"
                   "2A\n" +
                   end)
                  .error()
                  .code,
              ErrorCode::OutOfRange);
    EXPECT_EQ(read(":020000020800F4\n:0100000055"
                   "AA\n" +
                   end)
                  .error()
                  .code,
              ErrorCode::OutOfRange);
    EXPECT_EQ(read(":020000040001F9\n:0100000055"
                   "AA\n" +
                   end)
                  .error()
                  .code,
              ErrorCode::OutOfRange);
}

// Two and a half thousand each, by dice: cut, bytes flipped, pieces swapped, numbers of the head changed.
TEST_F(Foreign, fiveThousandMutatedFilesAreRefusedOrJudged) {
    std::mt19937 dice(5);
    const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(dice() % n); };
    const auto mutated = [&](std::string bytes, std::size_t head) {
        for (std::size_t turn = 0, turns = 1 + pick(6); turn < turns && !bytes.empty(); ++turn) switch (pick(6)) {
                case 0: bytes.resize(pick(bytes.size())); break;
                case 1: bytes[pick(bytes.size())] = static_cast<char>(dice()); break;
                case 2: bytes[pick(std::min(head, bytes.size()))] = static_cast<char>(dice()); break;
                case 3: bytes[pick(bytes.size())] ^= static_cast<char>(1 << pick(8)); break;
                case 4: std::swap(bytes[pick(bytes.size())], bytes[pick(bytes.size())]); break;
                default: bytes.insert(pick(bytes.size()), bytes.substr(pick(bytes.size()), pick(64)));
            }
        return bytes;
    };
    std::map<std::string, int> ends;
    for (int k = 0; k < 2450; ++k) {
        const auto elf = run("m.elf", mutated(elf_, 400));
        ++ends[elf ? "judged" : elf.error().code == ErrorCode::Failed ? "broke off" : "refused"];
        const auto hex = run("m.hex", mutated(hex_, 60));
        ++ends[hex ? "judged" : hex.error().code == ErrorCode::Failed ? "broke off" : "refused"];
    }
    const auto source = *files::readWhole(HINGE_SOURCE_DIR "/tests/sketches/blocking.ino");
    for (int k = 0; k < 100; ++k) {
        const auto text = mutated(source, source.size());
        (void)firmware::habitsOf(text);
        if (k % 5 != 0) continue;  // a compile each
        const auto ran = run("m.ino", text);
        ++ends[!ran ? "refused" : !ran->built ? "not compiled" : "judged"];
    }
    EXPECT_GT(ends["refused"], 1000);
    EXPECT_GT(ends["judged"], 20) << "some go through";
    for (const auto& [end, count] : ends) RecordProperty(end, count);
}

// ---- Whole programs that mean ill, or know no better ------------------------------------------------------------------------------------

TEST_F(Foreign, oneThatWritesEveryRegisterHarmsNobody) {
    // Every I/O register of the data space, 0x20 to 0xFF, with every value, in every order of a small shuffle.
    const auto ran = sketch(R"(
void setup() {
  for (unsigned round = 0; round < 6; ++round)
    for (unsigned a = 0x20; a < 0x100; ++a)
      for (unsigned v = 0; v < 256; v += 17)
        *(volatile unsigned char*)(0x20 + (a * 37 + round * 11) % 0xE0) = v + round;
}
void loop() { for (unsigned a = 0x20; a < 0x100; ++a) *(volatile unsigned char*)a = millis() + a; }
)");
    if (ran) SUCCEED();
    else EXPECT_EQ(ran.error().code, ErrorCode::Failed) << sentence(ran.error());
}
TEST_F(Foreign, oneThatWritesEverywhereHarmsNobody) {
    const auto ran = sketch("void setup() {} void loop() { for (unsigned a = 0; a < 0xFFFF; ++a) *(volatile unsigned char*)a = a; }");
    if (!ran) EXPECT_EQ(ran.error().code, ErrorCode::Failed) << sentence(ran.error());
}
TEST_F(Foreign, oneThatCallsItselfForEverHarmsNobody) {
    const auto ran = sketch(
        "volatile int n; __attribute__((noinline)) void deep(int k) { volatile char room[64]; room[0] = k; deep(k + 1); n += "
        "room[0]; } void setup() { deep(0); } void loop() {}");
    if (!ran) EXPECT_EQ(ran.error().code, ErrorCode::Failed) << sentence(ran.error());
}
TEST_F(Foreign, oneThatLoopsForEverIsSeenSo) {
    const auto ran = sketch("void setup() {} void loop() { for (;;) {} }");
    ASSERT_TRUE(ran) << sentence(ran.error());
    EXPECT_EQ(ran->seen.loops, 1U);
}
TEST_F(Foreign, oneThatSleepsWithInterruptsOffEnds) {
    const auto ran = sketch("#include <avr/sleep.h>\nvoid setup() { cli(); sleep_enable(); sleep_cpu(); } void loop() {}");
    EXPECT_TRUE(ran) << sentence(ran.error());
}
TEST_F(Foreign, oneThatPrintsForEverIsHeardOut) {
    const auto ran = sketch("void setup() { Serial.begin(2000000); } void loop() { Serial.println(\"all work and no play\"); }", 1.0);
    EXPECT_TRUE(ran) << sentence(ran.error());
}
TEST_F(Foreign, oneThatSwitchesAsFastAsItCanIsWatchedAsFarAsItGoes) {
    // The pump's pin, D5: two edges in four cycles and a jump. 4 million edges are kept, about two seconds.
    const auto ran = sketch("void setup() { DDRD = 255; cli(); for (;;) { PORTD = 32; PORTD = 0; } } void loop() {}", 6.0);
    ASSERT_TRUE(ran) << sentence(ran.error());
    EXPECT_TRUE(ran->seen.cut);
    EXPECT_LT(ran->seen.length, 6.0);
    EXPECT_GT(ran->seen.edges.size(), 1'000'000U);
    const auto facts = proof::ownFacts(ran->seen, project_, plan_, {});
    ASSERT_FALSE(facts.empty());
    EXPECT_EQ(facts.front().what, "watched") << "that it was not watched to the end is said, and first";
}
// A stranger's source is compiled with limits: what it includes without end is given up.
TEST_F(Foreign, aSourceThatTheCompilerNeverEndsWithIsGivenUp) {
    const auto begun = std::chrono::steady_clock::now();
    emulator::Limits limits;
    limits.seconds = 1.0;
    const auto outcome = emulator::runProgram({"sleep", "600"}, nullptr, limits);
    EXPECT_TRUE(outcome.overdue);
    EXPECT_EQ(outcome.status, -1);
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(30));
    std::ofstream(folder_.path() / "self.ino") << "#include \"" << (folder_.path() / "self.ino").string() << "\"\n";
    const auto ran = emulator::runOwn(folder_.path() / "self.ino", project_, parts_, plan_, emulator::usualCache(), [](plant::Played&) {});
    ASSERT_TRUE(ran);
    EXPECT_FALSE(ran->built);
}
TEST_F(Foreign, aCompilerCanBeStopped) {
    const std::atomic<bool> stop{true};
    auto sketch = *plan::sketchOf(project_, plan_);
    sketch.text += "// " + folder_.path().string() + "\n";  // what was compiled before is not compiled again
    const auto built = emulator::build(sketch, board::family(project_.board.form), emulator::usualCache(), &stop);
    ASSERT_FALSE(built);
    EXPECT_EQ(built.error().code, ErrorCode::Cancelled);
}
TEST_F(Foreign, everyKindOfFileInItsPlaceIsAnswered) {
    const auto at = folder_.path() / "x.hex";
    const auto play = [](plant::Played&) {};
    const auto answer = [&] { return emulator::runOwn(at, project_, parts_, plan_, emulator::usualCache(), play); };
    ASSERT_EQ(::mkfifo(at.c_str(), 0600), 0);
    EXPECT_EQ(answer().error().code, ErrorCode::NotPlain) << "a pipe is not waited for";
    std::filesystem::remove(at);
    std::filesystem::create_directory(at);
    EXPECT_FALSE(answer());
    std::filesystem::remove(at);
    std::ofstream(at) << ":";
    std::filesystem::resize_file(at, std::uintmax_t{2} << 30);
    EXPECT_EQ(answer().error().code, ErrorCode::OutOfRange);
}

}  // namespace
}  // namespace hinge
