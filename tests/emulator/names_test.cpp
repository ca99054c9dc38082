// Names in the sketch: at every length, with endings that mean something to a compiler. They stay within strings and comments, which is
// parsed, not searched for; and every target compiles them without a warning.
#include <fstream>
#include "capture/capture.hpp"
#include "emulator/build.hpp"
#include "emulator/run_program.hpp"
#include "firmware/target.hpp"
#include "link/protocol.hpp"
#include "plan/firmware_model.hpp"
#include "project/routine_edits.hpp"
#include "routine/compile.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

const std::vector<std::string> endings{"\"", "\\", "*/", "\?\?/", "\xF0\x9F\x8C\x99", "\n", "//", "/*", "'", "\x7f", "%s", "{{plan}}",
                                       // full width: in Latin letters they are what they look like
                                       "＼", "＊／", "？？／", "＂", "\u2028"};

// A text of so many characters that ends so; its beginning is told apart from everything else in a sketch.
std::string wordOf(std::size_t length, const std::string& ending) {
    std::string text = std::string{"zqx"}.substr(0, std::min<std::size_t>(3, length));
    while (text.size() < length) text += "q";
    if (ending.size() >= length) return length == 0 ? "" : ending.substr(0, std::max<std::size_t>(length, 1));
    return text.substr(0, length - ending.size()) + ending;
}

// What is left of C++ without its comments and literals, by its own rules: phases 2 and 3 of [lex.phases], no raw strings.
std::string uncommented(const std::string& source) {
    std::string text, out;
    for (std::size_t i = 0; i < source.size(); ++i) {
        if (source[i] == '\\' && i + 1 < source.size() && source[i + 1] == '\n') ++i;
        else text += source[i];
    }
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto next = i + 1 < text.size() ? text[i + 1] : '\0';
        if (text[i] == '/' && next == '/') {
            while (i < text.size() && text[i] != '\n') ++i;
            out += '\n';
        } else if (text[i] == '/' && next == '*') {
            i = text.find("*/", i + 2);
            if (i == std::string::npos) return out + " UNENDED COMMENT";
            ++i;
        } else if (text[i] == '"' || text[i] == '\'') {
            const char quote = text[i];
            for (++i; i < text.size() && text[i] != quote; ++i) {
                if (text[i] == '\n') return out + " UNENDED STRING";
                if (text[i] == '\\') ++i;
            }
            out += "\"\"";
        } else {
            out += text[i];
        }
    }
    return out;
}

project::Project stageOn(const char* form) {
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const std::string board = form;
    if (board == "atmega328p-16mhz") return project;
    if (board == "sbc-header" || board == "attiny85-8mhz") {  // what an operating system can time, and five pins: lamps on a relay
        for (const auto* id : {"rain", "curtain", "moon", "mist", "turntable"}) project = project::removeChannel(project, id);
        std::erase_if(project.routine.cues, [](const routine::Cue& cue) { return cue.moves.empty(); });
        std::erase_if(project.inputs, [](const project::Input& input) { return input.kind == project::InputKind::Tach; });
    }
    const auto parts = test::shippedParts();
    project = test::edited(project, {{"board/form", form}});
    for (auto& channel : project.channels) channel.pin = channel.direction_pin = channel.enable_pin = "";
    for (auto& input : project.inputs) input.pin = "";
    const auto plan = plan::evaluate(project, parts);
    if (const auto* open = test::finding(plan, "pins-open"); open != nullptr && !open->remedies.empty())
        project = project::with(project, open->remedies.front().edits).value_or(project);
    return project;
}

// Every text that a maker types, each with another ending.
void name(project::Project& project, std::size_t length) {
    std::size_t at = length;
    const auto next = [&] { return wordOf(length, endings[at++ % endings.size()]); };
    project.brief.name = next();
    project.brief.purpose = next();
    for (auto& channel : project.channels) channel.name = next();
    for (auto& input : project.inputs) input.name = next();
    for (auto& cue : project.routine.cues) cue.name = next();
    for (auto& rail : project.rails) rail.name = next();
    for (auto& source : project.sources) source.name = next();
}

struct Board {
    const char* form;
    std::vector<std::string> command;
};
class Names : public testing::TestWithParam<Board> {};
const std::string layer = "-I" HINGE_SOURCE_DIR "/tests/rp2040", standIn = "-I" HINGE_SOURCE_DIR "/tests/desk_board/esp32";
INSTANTIATE_TEST_SUITE_P(
    Targets, Names,
    testing::Values(
        Board{"atmega328p-16mhz",
              {"avr-g++", "-mmcu=atmega328p", "-DF_CPU=16000000L", "-DARDUINO=10819", "-DARDUINO_ARCH_AVR", "-DDECIMAL_DIG=__DECIMAL_DIG__",
               "-std=gnu++11", "-fno-exceptions", "-I/usr/share/arduino/hardware/arduino/avr/cores/arduino",
               "-I/usr/share/arduino/hardware/arduino/avr/variants/standard"}},
        Board{"atmega2560-16mhz",
              {"avr-g++", "-mmcu=atmega2560", "-DF_CPU=16000000L", "-DARDUINO=10819", "-DARDUINO_ARCH_AVR", "-DDECIMAL_DIG=__DECIMAL_DIG__",
               "-std=gnu++11", "-fno-exceptions", "-I/usr/share/arduino/hardware/arduino/avr/cores/arduino",
               "-I/usr/share/arduino/hardware/arduino/avr/variants/mega"}},
        Board{"atmega32u4-16mhz",
              {"avr-g++", "-mmcu=atmega32u4", "-DF_CPU=16000000L", "-DARDUINO=10819", "-DARDUINO_ARCH_AVR", "-DDECIMAL_DIG=__DECIMAL_DIG__",
               "-DUSB_VID=0x1209", "-DUSB_PID=0x0001", "-std=gnu++11", "-fno-exceptions",
               "-I/usr/share/arduino/hardware/arduino/avr/cores/arduino", "-I/usr/share/arduino/hardware/arduino/avr/variants/leonardo"}},
        Board{"attiny85-8mhz", {"avr-g++", "-mmcu=attiny85", "-DF_CPU=8000000L", "-std=gnu++11", "-fno-exceptions"}},
        Board{"rp2040",
              {"arm-none-eabi-g++", "-mcpu=cortex-m0plus", "-mthumb", "-ffreestanding", "-std=gnu++17", "-fno-exceptions", "-fno-rtti",
               layer}},
        Board{"esp32", {"g++", "-std=c++17", standIn}}, Board{"sbc-header", {"g++", "-std=c++17"}}),
    [](const auto& row) {
        std::string word;
        for (const char c : std::string{row.param.form})
            if (std::isalnum(static_cast<unsigned char>(c)) != 0) word += c;
        return word;
    });

// @param compiled  each so many'th length is compiled too
void stayWithin(const Board& board, std::size_t compiled) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    if (board.command.front().starts_with("arm") && !std::filesystem::exists("/usr/bin/arm-none-eabi-g++"))
        GTEST_SKIP() << "gcc-arm-none-eabi is not installed";
    const auto parts = test::shippedParts();
    const auto plain = stageOn(board.form);
    for (std::size_t length = 0; length <= 60; ++length) {
        SCOPED_TRACE(length);
        auto project = plain;
        name(project, length);
        const auto sketch = plan::sketchOf(project, plan::evaluate(project, parts));
        ASSERT_TRUE(sketch) << sentence(sketch.error());
        const auto left = uncommented(sketch->text);
        EXPECT_EQ(left.find("zqx"), std::string::npos) << left.substr(left.find("zqx"), 80);
        EXPECT_EQ(left.find("UNENDED"), std::string::npos);
        // The name of the file is a plain word.
        EXPECT_EQ(sketch->name.find_first_not_of("abcdefghijklmnopqrstuvwxyz0123456789_"), std::string::npos) << sketch->name;
        if (length % compiled != 0) continue;
        test::TemporaryFolder folder;
        const auto file = folder.path() / (sketch->name + ".ino");
        std::ofstream(file) << sketch->text;
        std::filesystem::create_directories(folder.path() / "src");
        for (const auto& beside : sketch->beside) std::ofstream(folder.path() / beside.name) << beside.text;
        auto command = board.command;
        command.insert(command.end(), {"-fsyntax-only", "-Wall", "-Wextra", "-Wno-unused-parameter", "-Wtrigraphs", "-Wcomment", "-x",
                                       "c++", file.string(), "-I" + folder.path().string()});
        const auto outcome = emulator::runProgram(command);
        ASSERT_EQ(outcome.status, 0) << outcome.output.substr(0, 1500);
        // Warnings of the sketch itself; the core's own headers have theirs.
        for (std::size_t from = 0; (from = outcome.output.find("warning:", from)) != std::string::npos; ++from) {
            const auto line = outcome.output.substr(outcome.output.rfind('\n', from) + 1, 200);
            if (line.find(".ino") != std::string::npos) ADD_FAILURE() << line;
        }
    }
}

// The words are written by the same code for every board: each length is compiled for one, and each for all others too in ./check --long.
TEST_P(Names, stayWithinStringsAndCommentsAtEveryLength) {
    stayWithin(GetParam(), std::string_view{GetParam().form} == "atmega328p-16mhz" ? 1 : 5);
}
TEST_P(Names, DISABLED_compileAtEveryLength) {
    stayWithin(GetParam(), 1);
}

TEST(NamesOfIds, thatDifferByCaseOrSignsStayApart) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto rename = [&](const std::string& from, const std::string& to) {
        for (auto& channel : project.channels)
            if (channel.id == from) channel.id = to;
        for (auto& cue : project.routine.cues)
            for (auto& move : cue.moves)
                if (move.channel == from) move.channel = to;
        for (auto& loop : project.routine.loops)
            if (loop.channel == from) loop.channel = to;
        for (auto& interlock : project.routine.interlocks) {
            if (interlock.channel == from) interlock.channel = to;
            for (auto& term : interlock.terms)
                if (term.channel == from) term.channel = to;
        }
        for (auto& follower : project.routine.followers)
            if (follower.channel == from) follower.channel = to;
    };
    // One is called like an input, one like a pin of the sketch API's own headers, the others like each other.
    rename("rain", project.inputs.front().id);
    rename("moon", "gate-a");
    rename("mist", "gate_a");
    rename("lamps", "Gate A");
    rename("curtain", "a0");
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    const auto built = emulator::build(*sketch, board::family(project.board.form), emulator::usualCache());
    ASSERT_TRUE(built) << sentence(built.error());
    EXPECT_TRUE(built->ok) << built->log.substr(0, 2000);
    EXPECT_EQ(routine::symbol("gate_a"), "gate_a") << "ids as they are made here stay as they are";
    EXPECT_NE(routine::symbol("gate-a"), routine::symbol("Gate A"));
    EXPECT_NE(routine::symbol("a0"), "a0");
}

TEST(NamesOnTheLine, areSaidAlikeBySketchAndDesk) {
    // By hand: one mark for a character that is no printable ASCII, no blanks at the ends, forty at most.
    EXPECT_EQ(link::spoken("Rain"), "Rain");
    EXPECT_EQ(link::spoken("T\xC3\xBCr \"links\""), "Tur \"links\"");
    EXPECT_EQ(link::spoken("Mond \xF0\x9F\x8C\x99"), "Mond _");
    EXPECT_EQ(link::spoken("  two\nlines "), "two_lines");
    EXPECT_EQ(link::spoken(""), "_");
    EXPECT_EQ(link::spoken(std::string(60, 'x')), std::string(40, 'x'));
    EXPECT_EQ(link::spoken(std::string(39, 'x') + "\"\""), std::string(39, 'x') + "\"") << "cut before it is escaped";
    for (const std::string gadget : {"T\xC3\xBCr \"links\"", "Mond \xF0\x9F\x8C\x99", "a\\b", "50 % \?\?/"}) {
        const auto line = "hello hinge-spark 1 0123abcd " + link::spoken(gadget) + "\n";
        link::Decoder decoder;
        const auto messages = decoder.feed(line);
        ASSERT_EQ(messages.size(), 1U);
        const auto* hello = std::get_if<link::Hello>(&messages.front());
        ASSERT_NE(hello, nullptr);
        EXPECT_EQ(hello->gadget, link::spoken(gadget)) << "what the sketch says is what the desk expects";
    }
}

// The folder and its page, in letters that every system takes; Windows keeps the names of devices.
TEST(SketchFolder, hasAUsableName) {
    const auto parts = test::shippedParts();
    auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    for (const auto& [name, folder] : std::map<std::string, std::string>{
             {"Лунная сцена", "lunnaya_stsena"}, {"con", "the_con"}, {"LPT1", "the_lpt1"}, {"Console", "console"}, {"../../etc", "etc"}}) {
        project.brief.name = name;
        const auto sketch = plan::sketchOf(project, plan::evaluate(project, parts));
        ASSERT_TRUE(sketch);
        EXPECT_EQ(sketch->name, folder);
    }
}

}  // namespace
}  // namespace hinge
