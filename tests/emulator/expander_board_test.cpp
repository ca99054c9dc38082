// Servos behind an expander on the emulated board, which serves it from its data table.
#include "emulator/driven_board.hpp"
#include "support/expanders.hpp"

namespace hinge {
namespace {

class ExpanderBoard : public driven::DrivenBoard, public testing::WithParamInterface<const char*> {
protected:
    [[nodiscard]] bool serial() const { return std::string_view{GetParam()} == "servo_expander_serial"; }
    /// Widths of an output's pulses [s], each with when it began.
    static std::vector<std::pair<double, double>> widths(const emulator::EmulatedBoard& board, int output) {
        std::vector<std::pair<double, double>> list;
        double rose = -1.0;
        for (const auto& edge : board.edges()) {
            if (edge.output != output) continue;
            if (edge.level == 1) rose = edge.time;
            else if (rose >= 0.0) list.emplace_back(rose, edge.time - rose), rose = -1.0;
        }
        return list;
    }
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
    for (const auto& fault : {Fault{"servo expander: its driver is set", [](emulator::ExpanderChip&) {}},
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
    EXPECT_NE(board->read().find("servo expander: it no longer answers"), std::string::npos);
    board->setInput(0, false);
    board->advance(3.0);
    const double before = board->expander(0).width(0);
    board->expander(0).unplug(false);
    board->advance(0.2);
    EXPECT_NE(board->read().find("servo expander: it answers again"), std::string::npos);
    EXPECT_EQ(before, 0.0);
    EXPECT_GT(board->expander(0).width(0), 0.0);
}
INSTANTIATE_TEST_SUITE_P(Expanders, ExpanderBoard, testing::Values("servo_expander_i2c", "servo_expander_serial"));

}  // namespace
}  // namespace hinge
