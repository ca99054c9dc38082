// A radio on a line of its own, on emulated chips: edges at a pin are what it says, edges at another what it is answered.
#include "emulator/driven_board.hpp"
#include "support/expanders.hpp"
#include "support/radio.hpp"

namespace hinge {
namespace {

class RadioBoard : public driven::DrivenBoard {
protected:
    void start(const project::Project& project) {
        project_ = project;
        plan_ = plan::evaluate(project, parts_);
        for (const auto& finding : plan_.findings) ASSERT_NE(finding.severity, Severity::Stop) << finding.text;
        board_ = driven::boardOf(project, plan_, parts_);
        ASSERT_TRUE(board_);
        board_->driveLater(in(), 0.0, true);
        board_->advance(1.0);
        (void)board_->read();
    }
    [[nodiscard]] board::Pin in() const { return *board::pinNamed(board::family(project_.board.form), project_.board.radio_in_pin); }
    /// What the radio is answered to a text.
    std::string answer(const std::string& text, double seconds = 0.3, double off = 1.0) {
        const double baud = si(project_.board.radio_rate);
        for (const auto& [at, high] : test::edgesOf(text, 1e-3, baud * off)) board_->driveLater(in(), at, high);
        const auto before = board_->lineEdges().size();
        board_->advance(seconds + 12.0 * static_cast<double>(text.size()) / baud);
        std::vector<emulator::EmulatedBoard::LineEdge> edges;
        for (std::size_t k = before; k < board_->lineEdges().size(); ++k)
            if (board_->lines()[board_->lineEdges()[k].line].name == "radio_out") edges.push_back(board_->lineEdges()[k]);
        return test::textIn(edges, baud);
    }
    [[nodiscard]] bool runs() const { return board_->observe().duty[0] > 0.5; }

    project::Project project_;
    plan::Plan plan_;
    std::unique_ptr<emulator::EmulatedBoard> board_;
};

TEST_F(RadioBoard, isHeardAndAnswered) {
    start(test::withRadio());
    const auto hello = answer("hello\n");
    EXPECT_EQ(hello.substr(0, 17), "hello hinge-spark");
    EXPECT_TRUE(hello.ends_with("The Paper Moon Stage\r\n")) << hello;
    EXPECT_EQ(answer("start 0\n"), "ok start\r\n");
    EXPECT_TRUE(runs());
    EXPECT_EQ(answer("stop\n"), "ok stop\r\n");
    EXPECT_FALSE(runs());
    for (const char* text :
         {"list\n", "stream 1\n", "tell 1\n", "state\n", "save\n", "defaults\n", "drive 0 1\n", "set it_runs 100\n", "clock 12:00:00\n"})
        EXPECT_EQ(answer(text), "error not by radio\r\n") << text;
    EXPECT_FALSE(runs());
    const auto all = answer("nonsense\n", 0.5);
    EXPECT_TRUE(all.starts_with("error hello, list") && all.ends_with("defaults\r\n")) << all;
    // The link at the upload pins stays as it is, and each is answered where it asked.
    (void)board_->read();
    board_->write("hello\n");
    EXPECT_EQ(answer("stop\n"), "ok stop\r\n");
    const auto text = board_->read();
    EXPECT_NE(text.find("hello hinge-spark"), std::string::npos);
    EXPECT_EQ(text.find("ok stop"), std::string::npos) << text;
}
TEST_F(RadioBoard, mayDoWhatItIsGranted) {
    start(test::withRadio({{"board/radio_starts", "no"}, {"board/radio_drives", "yes"}, {"board/radio_sets", "yes"}}));
    EXPECT_EQ(answer("start 0\n"), "error not by radio\r\n");
    EXPECT_FALSE(runs());
    EXPECT_EQ(answer("drive 0 1000\n"), "ok drive\r\n");
    EXPECT_TRUE(runs());
    EXPECT_EQ(answer("stop\n"), "ok stop\r\n");
    EXPECT_EQ(answer("clock 12:00:00\n"), "ok clock\r\n");
}
// Slow and fast lines, clocks that are two hundredths off, and other chips.
TEST_F(RadioBoard, atOtherRatesAndOnOtherChips) {
    for (const char* baud : {"1200", "9600", "19200"}) {
        start(test::withRadio({{"board/radio_rate", baud}}));
        for (const double off : {0.98, 1.02}) EXPECT_EQ(answer("start 0\n", 0.6, off), "ok start\r\n") << baud << ' ' << off;
    }
    for (const auto& [form, in, out] :
         {std::tuple{"atmega328p-8mhz", "D3", "D4"}, {"atmega2560-16mhz", "D3", "D4"}, {"atmega32u4-16mhz", "D7", "D4"}}) {
        start(test::withRadio({{"board/form", form}, {"board/radio_in_pin", in}, {"board/radio_out_pin", out}}));
        EXPECT_EQ(answer("start 0\n"), "ok start\r\n") << form;
        EXPECT_TRUE(runs()) << form;
    }
}
// On a port of the chip's own: at rates that no edges bear.
TEST_F(RadioBoard, byPortsOfTheChips) {
    for (const auto& [form, in, out, baud] : {std::tuple{"atmega2560-16mhz", "D19", "D18", "115200"},
                                              {"atmega2560-16mhz", "D17", "D16", "57600"},
                                              {"atmega2560-16mhz", "D15", "D14", "250000"},
                                              {"atmega2560-16mhz", "D19", "D18", "1200"},
                                              {"atmega32u4-16mhz", "D0", "D1", "38400"},
                                              {"atmega32u4-16mhz", "D0", "D1", "115200"}}) {
        start(
            test::withRadio({{"board/form", form}, {"board/radio_in_pin", in}, {"board/radio_out_pin", out}, {"board/radio_rate", baud}}));
        const auto answered = [&](const std::string& text) {
            board_->sayByRadio(text);
            board_->advance(1.5);
            return board_->radioAnswers();
        };
        EXPECT_NEAR(board_->chip().serialRate(in[1] == '1' ? (in[2] == '9'   ? 1
                                                              : in[2] == '7' ? 2
                                                                             : 3)
                                                           : 1) /
                        std::stod(baud),
                    1.0, 0.025)
            << form << ' ' << baud;
        EXPECT_TRUE(answered("hello\n").ends_with("The Paper Moon Stage\r\n")) << form << ' ' << baud;
        EXPECT_EQ(answered("start 0\n"), "ok start\r\n") << form << ' ' << baud;
        EXPECT_EQ(answered("list\nset it_runs 100\n"), "error not by radio\r\nerror not by radio\r\n") << form << ' ' << baud;
        board_->sayByRadio("start 0\n");
        board_->advance(0.3);
        EXPECT_TRUE(runs()) << form << ' ' << baud;
        EXPECT_EQ(answered("stop\n"), "ok start\r\nok stop\r\n") << form << ' ' << baud;
        EXPECT_FALSE(runs()) << form << ' ' << baud;
    }
}
// The bench's own end of the line says and hears what the edges of these tests do.
TEST_F(RadioBoard, itsFarEndByEdges) {
    start(test::withRadio());
    board_->sayByRadio("start 0\nlist\n");
    board_->advance(0.4);
    EXPECT_EQ(board_->radioAnswers(), "ok start\r\nerror not by radio\r\n");
    EXPECT_TRUE(runs());
    EXPECT_EQ(answer("stop\n"), "ok stop\r\n");
    EXPECT_EQ(board_->radioAnswers(), "ok stop\r\n");
}
// Rubbish at the line for a second: nothing starts, nothing hangs, and afterwards it is heard.
TEST_F(RadioBoard, rubbishStartsNothing) {
    start(test::withRadio());
    std::mt19937 dice(11);
    bool level = true;
    double at = 0.0;
    for (; at < 1.0; at += 5e-5 + 1e-6 * (dice() % 400)) board_->driveLater(in(), at, level = !level);
    board_->driveLater(in(), at, true);
    const auto edges = board_->edges().size();
    board_->advance(1.2);
    EXPECT_EQ(board_->edges().size(), edges);
    (void)answer("\n");
    EXPECT_EQ(answer("start 0\n"), "ok start\r\n");
}
// Beside a servo whose pulses beat: both are heard, and what is answered does not shift a pulse.
TEST_F(RadioBoard, besideAServo) {
    auto project = test::withRadio();
    const auto arm = test::onExpander("straight_from_pin", {{"channels/it/pin", "D9"}});  // behind none
    project.channels = arm.channels;
    project.routine = arm.routine;
    start(project);
    EXPECT_EQ(answer("start 0\n"), "ok start\r\n");
    board_->advance(3.0);
    const auto from = board_->edges().size();
    for (int k = 0; k < 10; ++k) EXPECT_EQ(answer("hello\n").substr(0, 17), "hello hinge-spark");
    double rose = -1.0, least = 1.0, most = 0.0;
    for (std::size_t k = from; k < board_->edges().size(); ++k) {
        const auto& edge = board_->edges()[k];
        if (edge.output != 0) continue;
        if (edge.level == 1) rose = edge.time;
        else if (rose >= 0.0) least = std::min(least, edge.time - rose), most = std::max(most, edge.time - rose);
    }
    EXPECT_GT(least, 0.9e-3);
    EXPECT_LT(most - least, 20e-6) << "its pulses while the radio speaks";
}

// Two links, one silence: what a cue holds on while somebody speaks goes off when nobody does, whatever lies in the air.
TEST_F(RadioBoard, noiseIsNobodyWhoSpeaks) {
    auto project = test::withRadio();
    project.routine.link_silence = of<Duration>(1.0);
    project.routine.cues.front().moves.front().time = of<Duration>(60.0);
    start(project);
    EXPECT_EQ(answer("start 0\n"), "ok start\r\n");
    for (int k = 0; k < 4; ++k) {
        board_->advance(0.5);
        (void)answer("hello\n", 0.1);
        EXPECT_TRUE(runs()) << "somebody speaks";
    }
    for (int k = 0; k < 8; ++k) (void)answer("x7\x01~ q\n u", 0.2);
    EXPECT_FALSE(runs());
}

}  // namespace
}  // namespace hinge
