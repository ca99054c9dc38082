// Phase control: the emitted sketch on the emulated chip, and a mains that it has never seen.
#include <numbers>
#include "emulator/driven_board.hpp"
#include "proof/capture_check.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using namespace driven;

class MainsBoard : public DrivenBoard {
protected:
    [[nodiscard]] static project::Project lamp(int hertz, const std::string& share, const char* form = "atmega328p-16mhz") {
        return test::edited(test::running(test::alone(ChannelKind::Switch, "filament_230v_40w", "phase_4a",
                                                      {{"channels/it/demand/feeding", "mains"},
                                                       {"channels/it/demand/load", "lamp"},
                                                       {"channels/it/demand/power", "40 W"},
                                                       {"channels/it/demand/dimmed", "yes"},
                                                       {"channels/it/signal/soft_start", "0 s"},
                                                       {"board/crossing_pin", "D2"},
                                                       {"inputs/start/pin", "D7"}}),
                                          3600.0),
                            {{"board/form", form},
                             {"channels/it/demand/mains_frequency", fmt::format("{} Hz", hertz)},
                             {"channels/it/signal/duty", share}});
    }
    std::unique_ptr<emulator::EmulatedBoard> started(const project::Project& project, const emulator::Mains& mains) {
        const auto plan = plan::evaluate(project, parts_);
        EXPECT_EQ(plan.channels.front().not_driven, "");
        EXPECT_EQ(plan.channels.front().signal, plan::SignalKind::PartWaves);
        auto board = boardOf(project, plan, parts_);
        if (!board) return nullptr;
        board->setMains(mains);
        board->advance(0.8);
        for (const auto& edge : board->edges()) EXPECT_NE(edge.output, 0) << "nothing before it is asked";
        board->setInput(0, true);
        board->advance(0.2);
        board->setInput(0, false);
        return board;
    }
    static double mean(emulator::EmulatedBoard& board, double seconds) {
        double sum = 0.0;
        const int slices = static_cast<int>(seconds * 1000.0);
        for (int k = 0; k < slices; ++k) board.advance(0.001), sum += board.observe().duty.front() / slices;
        return sum;
    }
};

TEST_F(MainsBoard, powerIsWithinTwoPercentOfTheWish) {
    for (const int hertz : {50, 60})
        for (const int percent : {5, 20, 50, 80, 95}) {
            SCOPED_TRACE(fmt::format("{} % at {} Hz", percent, hertz));
            const auto board = started(lamp(hertz, fmt::format("{} %", percent)), {true, static_cast<double>(hertz), 0.9e-3, 20e-6, 0});
            ASSERT_TRUE(board);
            const double power = mean(*board, 2.0);
            EXPECT_NEAR(power, percent / 100.0, 0.02 * percent / 100.0);
        }
}

// A fan with an induction motor: fired for a share of the volts, it turns as fast on the board as on the desk, which by hand is where the
// square of its volts times its slip is what its blades take: x² + v²·(1 − σ)/σ·x = v²/σ.
TEST_F(MainsBoard, aFanIsSlowedByItsVolts) {
    const auto project = test::edited(
        test::running(test::alone(ChannelKind::Blow, "fan_120_230v", "phase_4a",
                                  {{"channels/it/demand/feeding", "mains"}, {"board/crossing_pin", "D2"}, {"inputs/start/pin", "D7"}}),
                      3600.0),
        {{"channels/it/signal/duty", "40 %"}, {"channels/it/signal/share_of", "volts"}, {"channels/it/signal/soft_start", "0 s"}});
    const auto plan = plan::evaluate(project, parts_);
    const auto board = started(project, {true, 50.0, 0.9e-3, 20e-6, 0});
    ASSERT_TRUE(board);
    plant::FanFigures figures;
    figures.full_speed = 277.5, figures.slip = 1.0 - 2650.0 / 3000.0, figures.start_share = 0.05, figures.keep_share = 0.02;
    const auto plants = plan::plantsOf(project, parts_, plan);
    ASSERT_TRUE(plants);
    simulation::InterpretedBoard desk(*plan.program, *plants, "it", "test");
    desk.advance(0.2);
    desk.setInput(0, true);
    const double v = 0.4, slip = figures.slip, b = v * v * (1.0 - slip) / slip, x = (-b + std::sqrt(b * b + 4.0 * v * v / slip)) / 2.0;
    for (plant::StandIn* one : {static_cast<plant::StandIn*>(board.get()), static_cast<plant::StandIn*>(&desk)}) {
        one->fit(plant::Bench({{{0}, plant::FanPlant{figures}, {}}}));
        one->advance(6.0);
        EXPECT_NEAR(one->observe().machines.front().value, 277.5 * x, 0.02 * 277.5 * x);
    }
}

// A share of the rms volts: its square is the power, on the desk and at the pins.
TEST_F(MainsBoard, aShareMayBeOfTheVolts) {
    const auto project = test::edited(lamp(50, "60 %"), {{"channels/it/signal/share_of", "volts"}});
    const auto plan = plan::evaluate(project, parts_);
    EXPECT_NEAR(si(plan.channels.front().mains->share), 0.36, 1e-12);
    const auto board = started(project, {true, 50.0, 0.9e-3, 20e-6, 0});
    ASSERT_TRUE(board);
    EXPECT_NEAR(mean(*board, 2.0), 0.36, 0.02 * 0.36);
    const auto plants = plan::plantsOf(project, parts_, plan);
    ASSERT_TRUE(plants);
    simulation::InterpretedBoard desk(*plan.program, *plants, "it", "test");
    desk.advance(0.2);
    desk.setInput(0, true);
    desk.advance(0.5);
    EXPECT_NEAR(desk.observe().duty.front(), 0.36, 1e-12);
}

// A capture of it holds; one in which every other half-wave fails to come does not, nor one that is held across the crossings.
TEST_F(MainsBoard, aCaptureOfItIsJudged) {
    const auto project = lamp(50, "50 %");
    const auto plan = plan::evaluate(project, parts_);
    const auto board = started(project, {true, 50.0, 0.9e-3, 20e-6, 0});
    ASSERT_TRUE(board);
    board->advance(2.0);
    const auto judged = [&](const std::vector<plant::Edge>& edges) {
        std::map<std::string, Verdict> verdicts;
        for (const auto& check : proof::checkCapture(proof::captureOf(edges, project, plan, 3.0, 2'000'000), project, plan))
            verdicts[check.what] = check.verdict;
        return verdicts;
    };
    for (const auto& [what, verdict] : judged(board->edges())) EXPECT_EQ(verdict, Verdict::Holds) << what;
    EXPECT_EQ(judged(board->edges()).count("gate pulses a second"), 1U);
    std::vector<plant::Edge> halved, held;
    int rises = 0;
    for (auto edge : board->edges()) {
        rises += edge.output == 0 && edge.level == 1 ? 1 : 0;
        if (edge.output != 0 || rises % 2 == 0) halved.push_back(edge);
        if (edge.output == 0 && edge.level == 0) edge.time += 6.2e-3;
        if (edge.output != 0 || rises % 2 == 0) held.push_back(edge);
    }
    EXPECT_EQ(judged(halved).at("gate pulses a second"), Verdict::Breaks);
    EXPECT_EQ(judged(held).at("longest gate"), Verdict::Breaks);
}

// Even what is on in its safe state waits for the crossings: a gate that is held without them would let everything through.
TEST_F(MainsBoard, whatIsSafeWhileItIsOnWaitsForTheCrossings) {
    const auto project = test::edited(lamp(50, "40 %"), {{"channels/it/safe", "on"}});
    const auto plan = plan::evaluate(project, parts_);
    auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->setMains({false, 50.0, 0.9e-3, 20e-6, 0});
    board->advance(1.0);
    for (const auto& edge : board->edges()) EXPECT_FALSE(edge.output == 0 && edge.level == 1) << edge.time;
    board->setMains({true, 50.0, 0.9e-3, 20e-6, 0});
    board->advance(0.5);
    EXPECT_GT(mean(*board, 0.5), 0.39);
}

// A relay that fires at once, and a coupler that tells the crossings.
TEST_F(MainsBoard, aRandomFireRelayIsFiredAlike) {
    const auto board =
        started(test::edited(lamp(60, "25 %"), {{"channels/it/drive/part", "ssr_random_2a"}}), {true, 60.0, 0.5e-3, 20e-6, 0});
    ASSERT_TRUE(board);
    EXPECT_NEAR(mean(*board, 2.0), 0.25, 0.02 * 0.25);
}

// On each chip that has the timer, at its clock.
TEST_F(MainsBoard, everyChipOfThatMakeFiresIt) {
    for (const char* form : {"atmega328p-8mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        SCOPED_TRACE(form);
        auto project = lamp(50, "30 %", form);
        if (form == std::string{"atmega32u4-16mhz"})
            project = test::edited(project, {{"board/crossing_pin", "D7"}, {"inputs/start/pin", "D8"}});
        const auto board = started(project, {true, 50.3, 0.9e-3, 20e-6, 0});
        ASSERT_TRUE(board);
        EXPECT_NEAR(mean(*board, 2.0), 0.30, 0.006);
    }
}

// A servo's pulses and the link beside it, on a mains that wanders and a line that bounces.
TEST_F(MainsBoard, whatElseTheChipDoesDoesNotMoveIt) {
    auto project = lamp(50, "50 %");
    const auto stage = test::exampleProject("paper-moon-stage");
    project.channels.push_back(*project::findChannel(stage, "moon"));
    project.channels.back().pin = "D5";
    routine::Cue nods;
    nods.id = "nods", nods.name = "Nods", nods.at_power_up = true;
    for (const double degrees : {50.0, 0.0}) {
        routine::Move go{degrees > 0.0 ? "there" : "back", routine::Action::Go, "moon", of<Duration>(0.4)};
        go.angle = of<Angle>(degrees * std::numbers::pi / 180.0);
        nods.moves.push_back(go);
    }
    nods.moves.push_back({"again", routine::Action::Again, ""});
    nods.moves.back().times = of<Count>(100.0);
    project.routine.cues.push_back(nods);
    const auto board = started(project, {true, 49.7, 0.9e-3, 20e-6, 2});
    ASSERT_TRUE(board);
    EXPECT_NEAR(mean(*board, 3.0), 0.50, 0.01);
    EXPECT_GT(board->edges().size(), 500U);
}

// The example: two loads on one mains, one held by a loop, the other fading; never with too little water.
TEST_F(MainsBoard, theGreenhouseKettleComesUpAtDawn) {
    auto project = test::edited(test::exampleProject("greenhouse-kettle"), {{"routine/cues/dawn_comes/moves/brightens/time", "4 s"}});
    const auto plan = plan::evaluate(project, parts_);
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->setMains({true, 50.1, 0.9e-3, 20e-6, 0});
    board->setReading(2, 465);
    board->advance(1.0);
    board->setInput(0, true);
    board->advance(0.2);
    board->setInput(0, false);
    const auto means = [&](double seconds) {
        std::vector<double> sum(3, 0.0);
        for (int k = 0; k < 1000 * seconds; ++k) {
            board->advance(0.001);
            for (std::size_t o = 0; o < 3; ++o) sum[o] += board->observe().duty[o] / (1000 * seconds);
        }
        return sum;
    };
    EXPECT_NEAR(means(1.0)[1], 0.8 * (0.7 / 4.0), 0.03) << "half a second and a fifth into its fade, give or take the debounce";
    board->advance(4.0);
    const auto settled = means(1.0);
    EXPECT_NEAR(settled[1], 0.8, 0.01);
    // 12 permille for each of the 40 counts that are missing, and what has gathered meanwhile: 0.02 for each count and second, to a count.
    EXPECT_NEAR(settled[0], 0.480 + 0.8e-3 * 5.0, 0.02);
    board->setInput(1, true);
    board->advance(0.2);
    const auto dry = means(0.5);
    EXPECT_EQ(dry[0], 0.0);
    EXPECT_NEAR(dry[1], 0.8, 0.01);
}

TEST_F(MainsBoard, saysWhatTheMainsIsAndFiresNothingAtAnother) {
    auto board = started(lamp(50, "40 %"), {true, 60.0, 0.7e-3, 20e-6, 0});
    ASSERT_TRUE(board);
    EXPECT_EQ(mean(*board, 1.0), 0.0);
    EXPECT_NE(board->read().find(": mains 60 Hz, 50 is set: nothing is fired"), std::string::npos);
    board->setMains({true, 50.0, 0.7e-3, 20e-6, 0});
    board->advance(0.5);
    EXPECT_NEAR(mean(*board, 1.0), 0.40, 0.01);
    EXPECT_NE(board->read().find(": mains 50.0 Hz, lost crossings 0"), std::string::npos);
    // The crossings stop: nothing is on after a few half-waves, and it says so. They come back, and so does the load, which is still asked
    // for.
    board->setMains({false, 50.0, 0.7e-3, 20e-6, 0});
    const double stopped = board->observe().time;
    board->advance(1.0);
    ASSERT_FALSE(board->edges().empty());
    EXPECT_EQ(board->edges().back().level, 0);
    EXPECT_LT(board->edges().back().time, stopped + 0.06);
    EXPECT_NE(board->read().find(": no mains crossings: nothing is fired"), std::string::npos);
    board->setMains({true, 50.0, 0.7e-3, 20e-6, 0});
    board->advance(0.5);
    EXPECT_NEAR(mean(*board, 1.0), 0.40, 0.01);
    board->write("state\n");
    board->advance(0.5);
    EXPECT_NE(board->read().find("Hz, lost crossings 4"), std::string::npos);
}

// The gate's pin as the sketch moves it, in front of a triac in ngspice: on while its gate is, or while more flows than what holds it
// (50 mA, common practice, no published source). A resistance gets the power that was asked for; a coil, whose current comes late, is fired
// both ways alike, also where its current of the half-wave before has not ended yet.
TEST_F(MainsBoard, inNgspiceALoadGetsWhatIsAskedAndNoDirectCurrent) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    for (const int hertz : {50, 60})
        for (const int percent : {5, 35, 95}) {
            SCOPED_TRACE(fmt::format("{} % at {} Hz", percent, hertz));
            const auto board = started(lamp(hertz, fmt::format("{} %", percent)), {true, static_cast<double>(hertz), 0.9e-3, 20e-6, 0});
            ASSERT_TRUE(board);
            board->advance(1.6);
            std::string gate = "0 0";
            for (const auto& edge : board->edges())
                if (edge.output == 0 && edge.time > 2.001 && edge.time < 2.4)
                    gate += fmt::format(" {:.7f} {} {:.7f} {}", edge.time - 2.0, edge.level == 1 ? 0 : 5, edge.time - 2.0 + 1e-6,
                                        edge.level == 1 ? 5 : 0);
            const auto deck = [&](const char* load) {
                return fmt::format(
                    "phase control\nV1 live 0 SIN(0 325.27 {} 0 0)\nVg gate 0 PWL({})\nVs live a 0\n"
                    "Bc c 0 V=(v(gate) > 2.5 || abs(i(Vs)) > 0.05) ? 1 : 0\nRc c ctl 1k\nCc ctl 0 2n\n"
                    "S1 a load ctl 0 sw\n.model sw SW(VT=0.5 VH=0.1 RON=0.05 ROFF=1meg)\n{}"
                    ".tran 5u 0.31 0 5u\n.meas tran p AVG par('v(load)*i(Vs)') FROM=0.1 TO=0.3\n"
                    ".meas tran dc AVG i(Vs) FROM=0.1 TO=0.3\n.meas tran rms RMS i(Vs) FROM=0.1 TO=0.3\n.end\n",
                    hertz, gate, load);
            };
            const auto resistance = test::ngspice(deck("R1 load 0 132.25\n"));  // 400 W at 230 V
            ASSERT_TRUE(resistance.contains("p"));
            EXPECT_NEAR(resistance.at("p"), 400.0 * percent / 100.0, 0.02 * 400.0 * percent / 100.0);
            EXPECT_LT(std::abs(resistance.at("dc")), 0.01 * resistance.at("rms"));
            const auto coil = test::ngspice(deck("R1 load m 60\nL1 m 0 0.3\n"));  // 57 degrees late at 50 Hz
            ASSERT_TRUE(coil.contains("rms"));
            EXPECT_LT(std::abs(coil.at("dc")), 0.01 * coil.at("rms"));
            // By Ohm's law over R and ωL, where it is fired before its current has ended: as without a triac.
            if (percent == 95) EXPECT_NEAR(coil.at("rms"), 230.0 / std::hypot(60.0, 2.0 * std::numbers::pi * hertz * 0.3), 0.02 * 2.1);
        }
}

}  // namespace
}  // namespace hinge
