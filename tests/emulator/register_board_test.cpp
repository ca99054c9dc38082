// Drivers whose settings are registers on the emulated board, which serves them from their data tables.
#include "emulator/driven_board.hpp"
#include "support/registers.hpp"

namespace hinge {
namespace {

using emulator::EmulatedBoard;

class RegisterBoard : public driven::DrivenBoard, public testing::WithParamInterface<const char*> {
protected:
    /// Pressed at the start, and looked at for so long.
    static void press(EmulatedBoard& board, double seconds) {
        board.setInput(0, true);
        board.advance(0.3);
        board.setInput(0, false);
        board.advance(seconds - 0.3);
    }
    static std::string said(EmulatedBoard& board) {
        std::string text;
        for (int k = 0; k < 20; ++k) board.advance(0.05), text += board.read();
        return text;
    }
};

// Told at the start, it goes where the interpreter goes: 90° of 200 steps in sixteenths are 800 steps, there and back.
TEST_P(RegisterBoard, aDriverIsToldItsSettingsAndMoves) {
    const auto project = test::onRegisters(GetParam());
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_EQ(plan.channels.front().not_driven, "");
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    auto& board = *both->board;
    board.advance(1.0);
    const auto* chip = board.registersOf(0);
    ASSERT_NE(chip, nullptr);
    EXPECT_TRUE(chip->awake());
    EXPECT_EQ(chip->microsteps(), si(project.channels.front().signal.microsteps));
    // The motor's peak, by the formula of its data sheet: 325 mV or 180 mV at 110 + 20 mΩ, in thirty-seconds.
    const double whole = (chip->field("fine_current") != 0 ? 0.180 : 0.325) / 0.13, peak = (chip->field("run_current") + 1) * whole / 32.0,
                 wanted = plan.channels.front().chosen->numbers.drive_current;
    EXPECT_LE(peak, wanted + 1e-9);
    EXPECT_GT(peak, wanted - whole / 32.0);
    EXPECT_NE(said(board).find("its driver is set"), std::string::npos);
    press(board, 6.0);
    long steps = 0;
    for (const auto& edge : board.edges()) steps += edge.output == 0 && edge.level == 1 ? 1 : 0;
    EXPECT_EQ(steps, 2 * std::lround(si(*plan.channels.front().motion.steps)));
    // Power goes and comes back: its registers are empty, and it is told again.
    board.cutPower();
    EXPECT_FALSE(chip->awake());
    board.advance(1.0);
    EXPECT_TRUE(chip->awake());
}

// Silent, another, forgetful, or its data line tied high or low: a word over the link, the driver asleep, no step, and the rest of the
// gadget lives.
TEST_P(RegisterBoard, whatAnswersOtherwiseIsSaidAndMovesNothing) {
    const auto project = test::onRegisters(GetParam());
    const auto plan = plan::evaluate(project, parts_);
    const bool clocked = std::string_view{GetParam()} == "chopper_serial_strong";
    struct Fault {
        const char* word;
        void (*spoil)(emulator::RegisterChip&);
    };
    std::vector<Fault> faults{{"does not answer", [](emulator::RegisterChip& c) { c.unplug(true); }},
                              {"is another one", [](emulator::RegisterChip& c) { c.becomeAnother(); }},
                              {"does not keep its settings", [](emulator::RegisterChip& c) { c.forget(true); }}};
    if (clocked) {
        faults.push_back({"does not answer", [](emulator::RegisterChip& c) { c.hold(false); }});
        faults.push_back({"does not answer", [](emulator::RegisterChip& c) { c.hold(true); }});
    }
    for (const auto& fault : faults) {
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        fault.spoil(*board->registersOf(0));
        board->advance(1.6);
        const auto text = said(*board);
        EXPECT_NE(text.find(fault.word), std::string::npos) << text;
        press(*board, 2.0);
        board->write("drive 0 100\n");
        board->advance(1.0);
        for (const auto& edge : board->edges()) EXPECT_NE(edge.output, 0) << fault.word << ": no step";
        for (const auto& edge : board->lineEdges())
            if (board->lines()[edge.line].name == "it_enable" && edge.time > 0.01) EXPECT_TRUE(edge.level) << "it stays asleep";
        EXPECT_FALSE(board->registersOf(0)->awake());
        EXPECT_GT(board->observe().time, 4.0);
        board->write("hello\n");
        EXPECT_NE(said(*board).find("hello hinge-spark"), std::string::npos) << "the board lives";
    }
}

// Its own supply fails for a moment while the board's stays: it is noticed at rest within two seconds, said, and nothing moves it from
// then on, though it answers again. While it runs a cue it is not asked, so that nothing holds up the tick.
TEST_P(RegisterBoard, onesWhoseSupplyFailsAloneIsNoticed) {
    const auto project = test::onRegisters(GetParam());
    const auto plan = plan::evaluate(project, parts_);
    for (const bool comes_back : {true, false}) {
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        board->advance(1.0);
        (void)said(*board);
        press(*board, 6.0);
        const auto steps = [&] {
            return std::count_if(board->edges().begin(), board->edges().end(), [](const auto& edge) { return edge.output == 0; });
        };
        const auto before = steps();
        EXPECT_EQ(before, 4 * std::lround(si(*plan.channels.front().motion.steps))) << "edges of as many steps there and back";
        board->advance(5.0);
        EXPECT_EQ(said(*board).find("moves it"), std::string::npos) << "asked and asked again, all is well";
        if (comes_back) board->registersOf(0)->restart();
        else board->registersOf(0)->unplug(true);
        std::string text;
        for (int k = 0; k < 3; ++k) text += said(*board);
        EXPECT_NE(text.find(comes_back ? "does not keep its settings, nothing moves it" : "does not answer, nothing moves it"),
                  std::string::npos)
            << text;
        press(*board, 3.0);
        EXPECT_EQ(steps(), before) << "no step after that";
        board->cutPower();
        board->registersOf(0)->unplug(false);
        board->advance(2.0);
        EXPECT_TRUE(board->registersOf(0)->awake()) << "the board started anew tells it its settings again";
    }
}

// The same on the other boards of that family that beat: told, and moved by as many steps there and back.
using Registers = driven::DrivenBoard;
TEST_F(Registers, aDriverIsToldItsSettingsOnOtherBoardsToo) {
    int played = 0;
    for (const auto& [what, driver, project] : test::matrix(parts_, {"atmega2560-16mhz", "atmega32u4-16mhz"})) {
        const auto plan = plan::evaluate(project, parts_);
        const auto& it = plan.channels.front();
        if (!it.registers || !plan::isPlaced(it) || !plan::sketchOf(project, plan)) continue;
        SCOPED_TRACE(what);
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        board->advance(0.7);
        EXPECT_TRUE(board->registersOf(0)->awake());
        board->setInput(0, true);
        board->advance(5.0);
        long steps = 0;
        for (const auto& edge : board->edges()) steps += edge.output == 0 && edge.level == 1 ? 1 : 0;
        EXPECT_EQ(steps, 2 * std::lround(si(*it.motion.steps)));
        ++played;
    }
    EXPECT_EQ(played, 4) << "two boards, two kinds of bus";
}

// Of two on one bus the one that answers moves.
using driven::DrivenBoard;
TEST_F(DrivenBoard, ofTwoDriversOnABusTheSilentOneStands) {
    auto project = project::duplicateChannel(test::onRegisters("chopper_serial_strong"), "it");
    auto& second = project.channels.back();
    second.pin = "D5", second.direction_pin = "D6", second.enable_pin = "A1", second.select_pin = "A0";
    auto cue = project.routine.cues.front();
    cue.id = cue.name = "other";
    for (auto& move : cue.moves)
        if (!move.channel.empty()) move.channel = second.id;
    project.routine.cues.push_back(cue);
    const auto plan = plan::evaluate(project, parts_);
    for (const std::size_t silent : {0U, 1U}) {
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        board->registersOf(silent)->unplug(true);
        board->advance(1.6);
        board->setInput(0, true);
        board->advance(3.0);
        std::array<int, 2> steps{};
        for (const auto& edge : board->edges())
            if (edge.output >= 0 && edge.level == 1) ++steps[static_cast<std::size_t>(edge.output)];
        EXPECT_EQ(steps[silent], 0);
        EXPECT_GT(steps[1 - silent], 100);
    }
}
INSTANTIATE_TEST_SUITE_P(Drivers, RegisterBoard, testing::Values("chopper_serial_quiet", "chopper_serial_strong"));

}  // namespace
}  // namespace hinge
