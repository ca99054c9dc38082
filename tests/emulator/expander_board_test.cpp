// Servos behind an expander on the emulated board, which serves it from its data table.
#include "emulator/driven_board.hpp"
#include "support/expanders.hpp"

namespace hinge {
namespace {

/// Widths of an output's pulses [s], each with when it began.
std::vector<std::pair<double, double>> widths(const emulator::EmulatedBoard& board, int output) {
    std::vector<std::pair<double, double>> list;
    double rose = -1.0;
    for (const auto& edge : board.edges()) {
        if (edge.output != output) continue;
        if (edge.level == 1) rose = edge.time;
        else if (rose >= 0.0) list.emplace_back(rose, edge.time - rose), rose = -1.0;
    }
    return list;
}

class ExpanderBoard : public driven::DrivenBoard, public testing::WithParamInterface<const char*> {
protected:
    [[nodiscard]] bool serial() const { return std::string_view{GetParam()} == "servo_expander_serial"; }
};

// Three arms that go at once: each pulse is where the interpreter has its arm when it begins, but for a count (4.9 µs on two wires), the
// turns of three outputs, and what the arm goes meanwhile; and they end where the plan says, within a count.
TEST_P(ExpanderBoard, itsServosGoWhereTheInterpreterGoes) {
    auto project = test::onExpander(GetParam());
    for (const char* pin : {"X3", "X5"}) {
        project = project::duplicateChannel(project, "it");
        auto& copy = project.channels[1];  // right behind the first
        copy.pin = pin;
        copy.calibration = project.channels.front().calibration;
    }
    auto& cue = project.routine.cues.front();
    cue.moves.clear();
    for (const auto& channel : project.channels) {
        routine::Move go{"go_" + channel.id, routine::Action::Go, channel.id};
        go.time = of<Duration>(1.0);
        go.together = channel.id != project.channels.front().id;
        cue.moves.push_back(go);
    }
    const auto plan = plan::evaluate(project, parts_);
    for (const auto& channel : plan.channels) ASSERT_EQ(channel.not_driven, "") << channel.name;
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    std::vector<std::vector<double>> places(3);  // [output][ms], µs
    for (auto* one : both->boards) {
        one->advance(1.0);
        if (one == both->board.get()) EXPECT_TRUE(one->edges().empty()) << "no pulse before one is asked for";
        one->setInput(0, true);
        for (int k = 0; k < 2500; ++k) {
            one->advance(1e-3);
            if (one == both->interpreter.get())
                for (std::size_t o = 0; o < 3; ++o) places[o].push_back(both->interpreter->state().output(o).level / 2.0);
        }
    }
    const double count = serial() ? 0.25 : 4.88, fastest = 1.5 * 500.0 / 1000.0;  // µs; µs a ms, with a servo's profile
    const double turn = serial() ? 12.0 : 3.0;                                    // ms until all three have had theirs
    for (int o = 0; o < 3; ++o) {
        const auto seen = widths(*both->board, o);
        ASSERT_GT(seen.size(), 100U);
        for (std::size_t k = 1; k < seen.size(); ++k) EXPECT_NEAR(seen[k].first - seen[k - 1].first, 0.020, serial() ? 1e-6 : 2e-5);
        for (const auto& [at, width] : seen) {
            const double ms = (at - 1.0) * 1e3;
            if (ms < 60.0 || ms > 2400.0) continue;
            const auto& wanted = places[static_cast<std::size_t>(o)];
            EXPECT_NEAR(width * 1e6, wanted[static_cast<std::size_t>(ms)], count + fastest * (turn + 3.0))
                << "output " << o << " at " << ms << " ms";
        }
        EXPECT_NEAR(seen.back().second, si(*plan.channels[static_cast<std::size_t>(o)].motion.pulse_to), 1.01e-6 * count + 0.3e-6);
    }
}

// On two wires it is asked: absent, at another address or forgetful is said over the link, and no cue moves it. A serial line cannot tell.
TEST_P(ExpanderBoard, whatDoesNotAnswerIsSaid) {
    const auto project = test::onExpander(GetParam());
    const auto plan = plan::evaluate(project, parts_);
    struct Fault {
        const char* word;
        void (*spoil)(emulator::ExpanderChip&);
    };
    for (const auto& fault : {Fault{"PWM expander: its driver is set", [](emulator::ExpanderChip&) {}},
                              Fault{"does not answer", [](emulator::ExpanderChip& c) { c.unplug(true); }},
                              Fault{"does not answer", [](emulator::ExpanderChip& c) { c.moveTo(0x41); }},
                              Fault{"does not keep its settings", [](emulator::ExpanderChip& c) { c.forget(true); }}}) {
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        fault.spoil(board->expander(0));
        std::string text;
        for (int k = 0; k < 40; ++k) board->advance(0.05), text += board->read();
        EXPECT_EQ(text.find(fault.word) != std::string::npos, !serial()) << fault.word << ": " << text;
        board->setInput(0, true);
        board->advance(1.0);
        const bool well = std::string_view{fault.word}.find("is set") != std::string_view::npos;
        if (well || !serial()) EXPECT_EQ(widths(*board, 0).empty(), !well) << fault.word;
        board->write("hello\n");
        board->advance(0.3);
        EXPECT_NE(board->read().find("hello hinge-spark"), std::string::npos) << "the board lives";
    }
}
// One that falls silent while it runs is said, and so is that it is back; it is told what it missed.
using driven::DrivenBoard;
TEST_F(DrivenBoard, anExpanderThatFallsSilentIsSaid) {
    const auto project = test::onExpander("servo_expander_i2c");
    const auto plan = plan::evaluate(project, parts_);
    const auto board = driven::boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->advance(1.6);
    (void)board->read();
    board->expander(0).unplug(true);
    board->setInput(0, true);
    board->advance(0.5);
    EXPECT_NE(board->read().find("PWM expander: it no longer answers"), std::string::npos);
    board->setInput(0, false);
    board->advance(3.0);
    const double before = board->expander(0).width(0);
    board->expander(0).unplug(false);
    board->advance(0.2);
    EXPECT_NE(board->read().find("PWM expander: it answers again"), std::string::npos);
    EXPECT_EQ(before, 0.0);
    EXPECT_GT(board->expander(0).width(0), 0.0);
}

// A lamp that fades in behind the PWM expander, one that is switched behind the I/O expander, and a button there: at each millisecond the
// lamp has the share that the interpreter gives it, within a count of 4096 and the five milliseconds that a turn may take.
TEST_F(DrivenBoard, lampsAndButtonsBehindExpanders) {
    auto project = test::lampsOnExpanders();
    auto& moves = project.routine.cues.front().moves;
    moves.clear();
    routine::Move fade{"fade", routine::Action::Fade, "it"};
    fade.level = of<Fraction>(1.0);
    fade.time = of<Duration>(1.0);
    moves.push_back(fade);
    moves.push_back({"on", routine::Action::On, "other"});
    const auto plan = plan::evaluate(project, parts_);
    for (const auto& channel : plan.channels) ASSERT_EQ(channel.not_driven, "") << channel.name;
    ASSERT_NEAR(si(plan.channels[0].pwm->actual_frequency), 1017.25, 0.01) << "25 MHz in 4096 counts by six";
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    std::string said;
    std::vector<double> shares[2][2];  // [board][output], a millisecond each
    int b = 0;
    for (auto* one : both->boards) {
        one->advance(1.0);
        if (one == both->board.get()) said = both->board->read();
        EXPECT_TRUE(std::none_of(one->edges().begin(), one->edges().end(), [](const auto& edge) { return edge.output >= 0; }));
        one->setInput(0, true);
        for (int k = 0; k < 2000; ++k) {
            one->advance(1e-3);
            const auto seen = one->observe();
            for (int o = 0; o < 2; ++o) shares[b][o].push_back(seen.duty[static_cast<std::size_t>(o)]);
        }
        ++b;
    }
    EXPECT_NE(said.find("PWM expander: its driver is set"), std::string::npos) << said;
    EXPECT_NE(said.find("I/O expander: its driver is set"), std::string::npos) << said;
    // Pulse by pulse: what its board was told some milliseconds before.
    const double period = 1.0 / si(plan.channels[0].pwm->actual_frequency);
    int pulses = 0;
    for (const auto& [at, width] : widths(*both->board, 0)) {
        const auto ms = static_cast<std::size_t>(1e3 * (at - 1.0));
        if (ms < 40 || ms > 1000) continue;
        EXPECT_NEAR(width / period, shares[0][0][ms], 0.010) << "at " << ms << " ms of a second's fade";
        ++pulses;
    }
    EXPECT_GT(pulses, 900);
    EXPECT_EQ(shares[1][0].back(), 1.0) << "wholly on, not 4095 of 4096";
    const auto on = [&](int which) {
        return std::find_if(shares[which][1].begin(), shares[which][1].end(), [](double share) { return share > 0.5; }) -
               shares[which][1].begin();
    };
    EXPECT_NEAR(static_cast<double>(on(1)), static_cast<double>(on(0)), 6.0) << "four to look at the button, one to tell the line";
}

// The lamp's board falls silent: that is said, and what was missed is told when it is back. The button's falls silent: that is said, and
// its contact reads as if its wires were cut, so that a button that is held seems let go.
TEST_F(DrivenBoard, expandersThatFallSilentReadAsCutWires) {
    auto project = test::lampsOnExpanders();
    project.routine.cues.front().moves = {{"on", routine::Action::On, "it"}};
    const auto plan = plan::evaluate(project, parts_);
    const auto board = driven::boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    const auto lit = [&] { return board->observe().duty[0] > 0.5; };
    const auto pressed = [&] {
        link::Decoder decoder;
        bool is = false;
        for (const auto& message : decoder.feed(board->read()))
            if (const auto* frame = std::get_if<link::Telemetry>(&message)) is = (frame->inputs & 1) != 0;
        return is;
    };
    board->advance(1.5);
    (void)board->read();
    auto &lamps = board->expander(0), &button = board->expander(1);
    lamps.unplug(true);
    board->setInput(0, true);
    board->advance(0.5);
    EXPECT_NE(board->read().find("PWM expander: it no longer answers"), std::string::npos);
    EXPECT_FALSE(lit());
    lamps.unplug(false);
    board->advance(0.5);
    EXPECT_NE(board->read().find("PWM expander: it answers again"), std::string::npos);
    EXPECT_TRUE(lit());
    button.unplug(true);
    board->advance(0.5);
    EXPECT_NE(board->read().find("I/O expander: it no longer answers"), std::string::npos);
    board->write("stream 1\n");
    board->advance(0.2);
    EXPECT_FALSE(pressed()) << "it is held, and nobody can know";
    EXPECT_TRUE(lit());
    button.unplug(false);
    board->advance(0.5);
    EXPECT_TRUE(pressed());
}

// Two boards of one kind, each at its address and with a rate of its own.
TEST_F(DrivenBoard, twoExpandersOfOneKind) {
    auto project = test::lampsOnExpanders();
    project = test::edited(project, {{"channels/other/drive/expander", "servo_expander_two_wire"},
                                     {"channels/other/drive/expander_board", "2"},
                                     {"channels/other/drive/part", "mosfet_logic_30v"},
                                     {"channels/other/actuator", "led_string_12v_6w"},
                                     {"channels/other/rail", "movers"},
                                     {"channels/other/signal/frequency", "200 Hz"},
                                     {"channels/other/signal/duty", "40 %"},
                                     {"channels/other/pin", "X2"}});
    project.routine.cues.front().moves = {{"one", routine::Action::On, "it"}, {"two", routine::Action::On, "other"}};
    const auto plan = plan::evaluate(project, parts_);
    for (const auto& channel : plan.channels) ASSERT_EQ(channel.not_driven, "") << channel.name;
    const auto board = driven::boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->advance(1.0);
    board->setInput(0, true);
    board->advance(1.5);
    std::vector<double> rises;
    double high = 0.0, last = 0.0;  // from the first rise to the last
    for (const auto& edge : board->edges()) {
        if (edge.output != 1 || edge.time < 1.5) continue;
        if (edge.level == 1) rises.push_back(edge.time), high += last;
        else if (!rises.empty()) last = edge.time - rises.back();
    }
    ASSERT_GT(rises.size(), 100U);
    const double span = rises.back() - rises.front(), period = span / static_cast<double>(rises.size() - 1);
    // By hand: a prescaler of 30 gives 25 MHz/(4096 * 31) = 196.9 Hz.
    EXPECT_NEAR(1.0 / period, 196.89, 0.01);
    EXPECT_NEAR(high / span, 0.4, 0.0005);
}

// A potentiometer at the converter: its reading is what the board's own converter would have read.
TEST_F(DrivenBoard, aReadingAtTheConverter) {
    auto project = test::running(test::withInput(project::InputKind::Level, {}));
    project = test::edited(project, {{"inputs/x/expander", "adc_expander_two_wire"},
                                     {"inputs/x/pin", "X2"},
                                     {"board/expander_clock_pin", "A3"},
                                     {"board/expander_data_pin", "A2"}});
    project = project::addInterlock(project, "it", "x");
    const auto plan = plan::evaluate(project, parts_);
    const auto board = driven::boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->advance(1.2);
    board->write("stream 1\n");
    link::Decoder decoder;
    for (const int counts : {0, 1, 100, 512, 700, 1023}) {
        board->setReading(1, counts);
        board->advance(0.6);
        std::optional<link::Telemetry> last;
        for (const auto& message : decoder.feed(board->read()))
            if (const auto* frame = std::get_if<link::Telemetry>(&message)) last = *frame;
        ASSERT_TRUE(last);
        EXPECT_NEAR(last->levels.back(), counts, 1.0) << "a count of ten bits, for the two that are cut off";
    }
    board->expander(0).unplug(true);
    board->advance(0.3);
    EXPECT_NE(board->read().find("ADC: it no longer answers"), std::string::npos);
}
INSTANTIATE_TEST_SUITE_P(Expanders, ExpanderBoard, testing::Values("servo_expander_i2c", "servo_expander_serial"));

}  // namespace
}  // namespace hinge
