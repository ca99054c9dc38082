// The link's text, as the runtime reads and answers it on the desk and on every chip (spark_commands.h).
// Expected answers by hand from docs/link-protocol.md.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <rapidcheck.h>
#include "link/protocol.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/alone.hpp"

namespace hinge::link {
namespace {

using namespace routine;

// One pump at a button, a word and a number sent; a lamp that a word alone starts.
Program gadget() {
    Move on{"m", Action::Run, "pump", of<Duration>(0.2)}, lit{"l", Action::Run, "lamp", of<Duration>(0.2)};
    Routine routine{{Cue{"rain", "The rain", "button", "", {}, {on}}, Cue{"light", "The light", "sesam", "", {}, {lit}}}, {}};
    InputNumbers button{"button", "button", false, of<Duration>(0.002)}, word{"sesam", "sesam", false, of<Duration>(0.001)},
        number{"level", "level sent", true, of<Duration>(0.001)};
    word.source = InputSource::Word, word.word = "sesamoil";
    number.source = InputSource::Number;
    std::vector<ChannelNumbers> channels(2);
    channels[0].id = "pump", channels[0].name = "Pump \xC3\xBC", channels[1].id = "lamp", channels[1].name = "Lamp";
    for (auto& channel : channels)
        channel.top = 255, channel.dose_time = channel.longest = of<Duration>(1.0), channel.duty = of<Fraction>(0.5);
    return compile(routine, channels, {button, word, number}).value();
}
simulation::InterpretedBoard board() {
    return {gadget(), {}, "The G\xC3\xA4te", "1a2b3c4d"};
}
std::string answerTo(simulation::InterpretedBoard& one, const std::string& line) {
    one.write(line + "\n");
    return one.read();
}

TEST(Commands, areAnsweredAsTheProtocolSays) {
    auto one = board();
    const std::pair<const char*, const char*> said[] = {
        {"hello", "hello hinge-spark 1 1a2b3c4d The Gate\r\n"},
        {"set pump_duty 700", "ok pump_duty 700\r\n"},
        {"  set   pump_duty  -0 ", "ok pump_duty 0\r\n"},
        {"set pump_duty 1001", "error outside its range\r\n"},
        {"set pump_duty 99999999999", "error outside its range\r\n"},
        {"set nothing 1", "error no such parameter\r\n"},
        {"set pump_dut 1", "error no such parameter\r\n"},
        {"set pump_duty", "error set NAME VALUE [WORD]\r\n"},
        {"set pump_duty 1e3", "error set NAME VALUE [WORD]\r\n"},
        {"set lamp_duty 3", "error set NAME VALUE [WORD]: with the word that starts it\r\n"},
        {"set lamp_duty 3 sesam", "error set NAME VALUE [WORD]: with the word that starts it\r\n"},
        {"set lamp_duty 3 sesamoil", "ok lamp_duty 3\r\n"},
        {"clock 23:59:59", "ok clock\r\n"},
        {"clock 12:00:00 2028-02-29", "ok clock\r\n"},
        {"clock 12:00:00 2027-02-29", "error clock HH:MM:SS [YYYY-MM-DD]\r\n"},
        {"clock 24:00:00", "error clock HH:MM:SS [YYYY-MM-DD]\r\n"},
        {"clock 1:00:00", "error clock HH:MM:SS [YYYY-MM-DD]\r\n"},
        {"clock 12:00:001", "error clock HH:MM:SS [YYYY-MM-DD]\r\n"},
        {"start 0", "ok start\r\n"},
        {"start 1", "error start CUE [WORD]: with the word that starts it\r\n"},
        {"start 1 sesamoil", "ok start\r\n"},
        {"start 2", "error start CUE [WORD]\r\n"},
        {"start -1", "error start CUE [WORD]\r\n"},
        {"start x", "error start CUE [WORD]\r\n"},
        {"say sesamoil", "ok say\r\n"},
        {"say sesamoi", "error say WORD\r\n"},
        {"say", "error say WORD\r\n"},
        {"number 2 1023", "ok number\r\n"},
        {"number 2 1024", "error number INPUT VALUE\r\n"},
        {"number 0 5", "error number INPUT VALUE\r\n"},
        {"number 3 5", "error number INPUT VALUE\r\n"},
        {"drive 0 500", "ok drive\r\n"},
        {"drive 0 500 2000", "ok drive\r\n"},
        {"drive 0 -2", "ok drive\r\n"},
        {"drive 0 -3", "error drive OUTPUT VALUE [MS [WORD]]\r\n"},
        {"drive 0 5 0", "error drive OUTPUT VALUE [MS [WORD]]\r\n"},
        {"drive 1 5 100", "error drive OUTPUT VALUE [MS [WORD]]: with the word that starts it\r\n"},
        {"drive 1 5 100 sesamoil", "ok drive\r\n"},
        {"drive 2 5", "error drive OUTPUT VALUE [MS [WORD]]\r\n"},
        {"stop", "ok stop\r\n"},
        {"stream 1", "ok stream\r\n"},
        {"stream on", "error stream 0|1\r\n"},
        {"tell 1", "ok tell\r\n"},
        {"save", "ok save\r\n: saved\r\n"},
        {"defaults", "ok defaults\r\n"},
        {"", ""},
        {"   ", ""},
        {"fly", "error hello, list, set, clock, start, stop, stream, say, number, drive, state, tell, save, defaults\r\n"},
        {"hell", "error hello, list, set, clock, start, stop, stream, say, number, drive, state, tell, save, defaults\r\n"},
        {"helloo", "error hello, list, set, clock, start, stop, stream, say, number, drive, state, tell, save, defaults\r\n"},
    };
    for (const auto& [line, answer] : said) EXPECT_EQ(answerTo(one, line), answer) << line;
    EXPECT_EQ(answerTo(one, std::string(longest_line, 'x')), "error line too long\r\n");
    EXPECT_EQ(answerTo(one, "hello"), said[0].second) << "and after it all is well";
}

TEST(Commands, listEverythingAndSayWhatRuns) {
    auto one = board();
    const auto program = gadget();
    std::string list;
    for (const auto& p : program.parameters) list += fmt::format("param {} {} {} {} {}\r\n", p.name, p.value, p.least, p.most, p.unit);
    EXPECT_EQ(answerTo(one, "list"), list +
                                         "input 0 button\r\ninput 1 sesam\r\ninput 2 level sent\r\noutput 0 Pump u\r\noutput 1 Lamp\r\n"
                                         "cue 0 The rain\r\ncue 1 The light\r\nend\r\n");
    EXPECT_EQ(answerTo(one, "start 0"), "ok start\r\n");
    one.advance(0.05);
    EXPECT_EQ(one.read(), "") << "not asked for";
    EXPECT_EQ(answerTo(one, "state"), "ok state\r\n");
    one.advance(0.001);
    EXPECT_EQ(one.read(), ": The rain runs\r\n: The light rests\r\n");
    EXPECT_EQ(answerTo(one, "tell 1"), "ok tell\r\n");
    one.advance(0.5);
    EXPECT_EQ(one.read(), ": The rain rests\r\n");
    // A number that is said is what the program then holds; saved, it outlives a power cut.
    (void)answerTo(one, "set pump_duty 123");
    (void)answerTo(one, "save");
    one.cutPower();
    EXPECT_NE(answerTo(one, "list").find("param pump_duty 123 "), std::string::npos);
    (void)answerTo(one, "defaults");
    one.cutPower();
    EXPECT_EQ(answerTo(one, "list").find("param pump_duty 123 "), std::string::npos);
}

// What the desk sends is understood, each kind of it.
TEST(Commands, understandWhatTheDeskSends) {
    auto one = board();
    const Command commands[] = {SayHello{},
                                SetParameter{"lamp_duty", 5, "sesamoil"},
                                SetClock{86399},
                                SetClock{3600, timing::Date{2026, 11, 30}},
                                StartCue{1, "sesamoil"},
                                Stop{},
                                Stream{true},
                                Stream{false},
                                SayWord{"sesamoil"},
                                SendNumber{2, 512},
                                AskState{},
                                TellStates{true},
                                Drive{1, 500, 300, "sesamoil"},
                                Save{},
                                Defaults{}};
    for (const auto& command : commands) {
        const auto answer = answerTo(one, encode(command));
        EXPECT_TRUE(answer.starts_with("ok ") || answer.starts_with("hello ")) << encode(command) << " -> " << answer;
    }
}

TEST(Commands, anyBytesAreAnsweredAndNotTrusted) {
    rc::check("a line, an answer", [](const std::string& bytes) {
        auto one = board();
        one.write(bytes + "\n");
        one.advance(0.01);
        (void)one.read();
        RC_ASSERT(answerTo(one, "hello") == "hello hinge-spark 1 1a2b3c4d The Gate\r\n");
    });
}

}  // namespace
}  // namespace hinge::link
