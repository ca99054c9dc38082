// Sketches for Linux, compiled against the library that a board has; what is not written for it is refused.
#include <fstream>
#include "emulator/run_program.hpp"
#include "firmware/difference.hpp"
#include "firmware/target.hpp"
#include "plan/firmware_model.hpp"
#include "project/routine_edits.hpp"
#include "support/alone.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge {
namespace {

emulator::Outcome compiled(const firmware::Sketch& sketch, const std::vector<std::string>& how) {
    test::TemporaryFolder folder;
    const auto file = folder.path() / (sketch.name + ".ino");
    std::ofstream(file) << sketch.text;
    std::filesystem::create_directories(folder.path() / "src");
    for (const auto& beside : sketch.beside) std::ofstream(folder.path() / beside.name) << beside.text;
    std::vector<std::string> command{"g++", "-Wall", "-Wextra",     "-Wno-unused-parameter",
                                     "-x",  "c++",   file.string(), "-I" + folder.path().string()};
    command.insert(command.end(), how.begin(), how.end());
    return emulator::runProgram(command);
}
TEST(Targets, linuxCompilesAgainstItsLibrary) {
    // What an operating system can do: lamps on a relay, by hours and a button.
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    for (const auto* id : {"rain", "curtain", "moon", "mist", "turntable"}) project = project::removeChannel(project, id);
    std::erase_if(project.routine.cues, [](const routine::Cue& cue) { return cue.moves.empty(); });
    EXPECT_EQ(plan::sketchOf(test::moved(project, "sbc-header"), plan::evaluate(test::moved(project, "sbc-header"), test::shippedParts()))
                  .error()
                  .code,
              ErrorCode::Missing)
        << "pulses of a tach would be lost";
    std::erase_if(project.inputs, [](const project::Input& input) { return input.kind == project::InputKind::Tach; });
    project = test::moved(project, "sbc-header");
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    ASSERT_EQ(std::count_if(sketch->beside.begin(), sketch->beside.end(), [](const auto& file) { return file.name == "Arduino.h"; }), 1)
        << "the little of the sketch API that it needs";
    if (!std::filesystem::exists("/usr/include/gpiod.h")) GTEST_SKIP() << "libgpiod-dev is not installed";
    const auto outcome = compiled(*sketch, {"-std=c++17", "-O1", "-o", "/dev/null", "-lgpiod"});
    EXPECT_EQ(outcome.status, 0) << outcome.output.substr(0, 2000);
}
// The kernel's files in a folder of their own: period and share by hand, 19.2 MHz by 19 661 counts are 1 024 010 ns; and however the
// program ends (here it finds no GPIO chip, or no line), its channel is at rest.
TEST(Targets, linuxPwmWritesTheKernelsFiles) {
    if (!std::filesystem::exists("/usr/include/gpiod.h")) GTEST_SKIP() << "libgpiod-dev is not installed";
    auto project = test::alone(project::ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", {{"channels/it/signal/duty", "60 %"}});
    project = test::edited(project, {{"board/form", "sbc-header"}, {"channels/it/pin", "GPIO13"}, {"channels/it/safe", "on"}});
    project.inputs.front().pin = "GPIO4";
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    test::TemporaryFolder folder;
    const auto chip = folder.path() / "pwmchip0", channel = chip / "pwm1";
    std::filesystem::create_directories(channel);
    for (const auto& file : {chip / "export", channel / "period", channel / "duty_cycle", channel / "enable"}) std::ofstream(file) << "";
    const auto program = (folder.path() / "gadget").string();
    const auto built = compiled(*sketch, {"-std=c++17", "-O1", "-DSPARK_PWM=\"" + chip.string() + "\"", "-o", program, "-lgpiod"});
    ASSERT_EQ(built.status, 0) << built.output.substr(0, 2000);
    (void)test::run(program + " < /dev/null 2> /dev/null");
    const auto said = [](const std::filesystem::path& file) { return files::readWhole(file).value_or("?"); };
    EXPECT_EQ(said(chip / "export"), "1");
    EXPECT_EQ(said(channel / "period"), "1024010");
    EXPECT_EQ(said(channel / "enable"), "1");
    EXPECT_EQ(said(channel / "duty_cycle"), "1024010") << "safe while on: its rest is all of it";
}
TEST(Targets, linuxRefusesWhatItCannotTime) {
    auto project = test::edited(store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project, {{"board/form", "sbc-header"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_FALSE(sketch);
    EXPECT_EQ(sketch.error().code, ErrorCode::NotDriven) << "PWM, steps and servo pulses, under an operating system";
    for (const auto* id : {"rain", "curtain", "moon", "mist", "turntable"})
        EXPECT_FALSE(plan::findChannel(plan, id)->not_driven.empty())
            << id << " is said in the plan, not only when the sketch is asked for";
    EXPECT_NE(test::finding(plan, "not-read"), nullptr) << "pulses of a tach would be lost";
}

// ---- What a hand wrote, and what has changed ------------------------------------------------------

TEST(HandWritten, survivesANewSketch) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    auto mine = plan::sketchOf(project, plan::evaluate(project, parts))->text;
    const auto put = [&](const std::string& name, const std::string& lines) {
        mine.insert(mine.find('\n', mine.find("// >>> yours: " + name)) + 1, lines);
    };
    put("top", "int laps = 0;  // mine\n");
    put("every tick", "  if (ticks % 1000 == 0) ++laps;\n");
    const auto changed = test::edited(project, {{"routine/cues/storm/guards/dry/throughout", "no"}});
    const auto fresh = plan::sketchOf(changed, plan::evaluate(changed, parts))->text;
    const auto kept = firmware::withHandWritten(fresh, mine);
    EXPECT_NE(kept.find("int laps = 0;  // mine\n"), std::string::npos);
    EXPECT_NE(kept.find("  if (ticks % 1000 == 0) ++laps;\n"), std::string::npos);
    EXPECT_EQ(firmware::withHandWritten(fresh, kept), kept) << "again and again";
    EXPECT_EQ(firmware::withHandWritten(fresh, "no sketch at all"), fresh);
    // A place that is no more: nothing is lost.
    const auto moved_on = firmware::withHandWritten(fresh, "// >>> yours: elsewhere\nint old = 1;\n// <<<\n");
    EXPECT_NE(moved_on.find("// int old = 1;"), std::string::npos);
}
TEST(Difference, isToldFileByFile) {
    const firmware::Sketch before{"it", "a\nb\n", {{"gadget.h", "1\n"}, {"src/x.h", "x\n"}, {"old.h", "o\n"}}},
        after{"it", "a\nc\n", {{"gadget.h", "2\n3\n"}, {"src/x.h", "x\n"}, {"new.h", "n\n"}}};
    const auto files = firmware::differences(before, after);
    ASSERT_EQ(files.size(), 4U) << "x.h is the same";
    EXPECT_EQ(files[0].name, "it.ino");
    EXPECT_EQ(files[1].name, "gadget.h");
    EXPECT_EQ(files[1].count(firmware::LineFate::Gone), 1);
    EXPECT_EQ(files[1].count(firmware::LineFate::New), 2);
    EXPECT_EQ(files[2].name, "new.h");
    EXPECT_EQ(files[3].name, "old.h");
    EXPECT_EQ(files[3].count(firmware::LineFate::Gone), 1);
    EXPECT_TRUE(firmware::differences(after, after).empty());
}
TEST(Difference, byHand) {
    using firmware::LineFate;
    const auto changes = firmware::difference("a\nb\nc\nd\n", "a\nx\nc\nd\ne\n");
    const std::vector<firmware::LineChange> expected{{LineFate::Same, "a"}, {LineFate::Gone, "b"}, {LineFate::New, "x"},
                                                     {LineFate::Same, "c"}, {LineFate::Same, "d"}, {LineFate::New, "e"}};
    EXPECT_EQ(changes, expected);
    EXPECT_TRUE(firmware::difference("", "").empty());
    std::string before, after;
    for (int i = 0; i < 9; ++i) before += std::to_string(i) + "\n", after += std::to_string(i == 5 ? 50 : i) + "\n";
    const auto few = firmware::shortened(firmware::difference(before, after), 1);
    const std::vector<firmware::LineChange> around{{LineFate::Same, "…"}, {LineFate::Same, "4"}, {LineFate::Gone, "5"},
                                                   {LineFate::New, "50"}, {LineFate::Same, "6"}, {LineFate::Same, "…"}};
    EXPECT_EQ(few, around);
}
TEST(Difference, aChangedTimeIsOneLineOfTheSketch) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto later = test::edited(project, {{"channels/rain/off_delay", "0.4 s"}});
    const auto changes = firmware::difference(plan::sketchOf(project, plan::evaluate(project, parts))->text,
                                              plan::sketchOf(later, plan::evaluate(later, parts))->text);
    int gone = 0, fresh = 0;
    for (const auto& change : changes) gone += change.fate == firmware::LineFate::Gone, fresh += change.fate == firmware::LineFate::New;
    // The off-delay itself, and the run that it takes from: each stands at the top and, with its limits, in the list.
    EXPECT_LE(gone, 4);
    EXPECT_EQ(gone, fresh);
    EXPECT_GE(gone, 2);
}

}  // namespace
}  // namespace hinge
