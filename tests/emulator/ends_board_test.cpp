// A bridge of separate switches on the emulated board: the pauses at its pins, its motor beside the interpreter's, and its four switches in
// ngspice behind those pins.
#include <cmath>
#include "emulator/driven_board.hpp"
#include "support/oracles.hpp"
#include "support/switch_ends.hpp"

namespace hinge::ends_board {
namespace {

using routine::Action;
using test::moved;

class EndsBoard : public driven::CuedBoard {
protected:
    using Edges = test::SwitchEdges;
    static Edges edgesOf(const emulator::EmulatedBoard& board, const std::string& name) {
        Edges edges;
        for (const auto& edge : board.lineEdges())
            if (board.lines()[edge.line].name == name) edges.emplace_back(edge.time, edge.level);
        std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        return edges;
    }
    /// A line as a source for ngspice, 1 and 0, from 0.1 s on.
    static std::string source(const Edges& edges) {
        std::string text = "0 0";
        bool level = false;
        for (const auto& [time, now] : edges) {
            if (time < 0.1) continue;
            if (now != level) text += fmt::format("\n+ {:.9f} {} {:.9f} {}", time - 0.1, level ? 1 : 0, time - 0.1 + 1e-8, now ? 1 : 0);
            level = now;
        }
        return text;
    }
};

// By hand: 500 ns are 8 counts of timer 1 at 16 MHz, and one of timer 2 behind its divider by 8.
TEST_F(EndsBoard, aPauseLiesBetweenTheTwoOfAnEndInAllThatItDoes) {
    const auto board =
        played(test::onSwitches("bridge_switches_8a", test::allThatABridgeDoes(), {{"channels/it/signal/turn_pause", "20 ms"}}), 0.6);
    ASSERT_TRUE(board);
    for (const char* end : {"1", "2"}) {
        const auto upper = edgesOf(*board, std::string{"it_high"} + end), lower = edgesOf(*board, std::string{"it_low"} + end);
        EXPECT_GT(upper.size(), 250U) << "some 3.9 pulses a millisecond for 40 ms";
        const double pause = test::leastDeadTime(upper, lower);
        EXPECT_GE(pause, 500e-9 - 1e-12) << "end " << end;
        EXPECT_LT(pause, 700e-9) << "end " << end;
    }
    EXPECT_EQ(board->shortings(), 0);
}

// With a soft start, full power, random levels over the link's hand or a loop the same: here a soft start up to full power and down at
// once.
TEST_F(EndsBoard, neitherASoftStartNorFullPowerClosesBoth) {
    for (const char* driver : {"bridge_switches_8a", "half_bridge_switches_12a"}) {
        const auto board = played(test::onSwitches(driver,
                                                   {moved("f", Action::On), moved("w1", Action::Wait, 0.3), moved("b", Action::Off),
                                                    moved("w2", Action::Wait, 0.02), moved("f2", Action::On),
                                                    moved("w3", Action::Wait, 0.1), moved("b2", Action::Brake)},
                                                   {{"channels/it/signal/soft_start", "0.2 s"}}),
                                  0.9);
        ASSERT_TRUE(board) << driver;
        EXPECT_EQ(board->shortings(), 0) << driver;
        const auto upper = edgesOf(*board, "it_high1"), lower = edgesOf(*board, "it_low1");
        EXPECT_GE(test::leastDeadTime(upper, lower), 500e-9 - 1e-12) << driver;
        // By hand: full power is all but two pauses of 8 in 2040 counts.
        double on = 0.0, from = -1.0;
        for (const auto& [time, level] : upper) {
            if (time < 0.35 || time > 0.4) continue;
            if (level) from = time;
            else if (from >= 0.0) on += time - from;
        }
        EXPECT_NEAR(on / 0.05, 2024.0 / 2040.0, 0.01) << driver;
    }
}

// The interpreter knows nothing of pauses.
TEST_F(EndsBoard, itsMachineCoastsAndBrakesOnBoth) {
    expectItsMachine(test::onSwitches("bridge_switches_8a", eachInTurn()), 15.0);
}

// Four switches with their diodes behind the pins, each of which opens 0.4 µs after it is told and closes after 0.13 µs (RC of 250 ns: it
// closes at 0.4 and opens at 0.2 of its gate's volts, by hand 0.51 and 1.61 RC), a source of 50 mΩ, and the motor of the other bridge.
std::map<std::string, double> inNgspice(const std::string& high1, const std::string& low1, const std::string& high2,
                                        const std::string& low2) {
    std::string deck = fmt::format(
        "a bridge of four switches\nVs source 0 12\nRs source plus 0.05\nVi1 h1 0 PWL({})\nVi2 l1 0 PWL({})\nVi3 h2 0 PWL({})\nVi4 l2 0 "
        "PWL({})\n",
        high1, low1, high2, low2);
    for (const char* name : {"h1", "l1", "h2", "l2"}) deck += fmt::format("Rg_{0} {0} g_{0} 250\nCg_{0} g_{0} 0 1n\n", name);
    deck +=
        "S1 plus o1 g_h1 0 s\nS2 o1 0 g_l1 0 s\nS3 plus o2 g_h2 0 s\nS4 o2 0 g_l2 0 s\n.model s sw vt=0.3 vh=0.1 ron=0.02 roff=1meg\n"
        "D1 o1 plus d\nD2 o2 plus d\nD3 0 o1 d\nD4 0 o2 d\n.model d d is=1e-9 rs=0.02\n"
        "Rm o1 m1 4\nLm m1 m2 2m\nVm m2 m3 0\nBe m3 o2 V=0.02*v(w)\nBw 0 w I=0.02*i(Vm)\nCw w 0 2e-5\nRw w 0 1e9\n"
        ".options method=gear\n.tran 2u 0.3 0 20u\n"
        ".meas tran most_a MAX par('-i(Vs)') from=0.001 to=0.3\n"
        ".meas tran running FIND v(w) AT=0.059\n.meas tran brake_a MIN i(Vm) from=0.0605 to=0.066\n"
        ".meas tran mean_v AVG par('v(o1)-v(o2)') from=0.03 to=0.058\n.meas tran again FIND v(w) AT=0.1395\n"
        ".meas tran coasted FIND v(w) AT=0.178\n.meas tran coast_a AVG i(Vm) from=0.15 to=0.178\n"
        ".meas tran back_v AVG par('v(o1)-v(o2)') from=0.2 to=0.21\n.end\n";
    return test::ngspice(deck);
}

TEST_F(EndsBoard, inNgspiceNothingShootsThroughAndBrakeAndCoastAreRight) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto board =
        played(test::onSwitches("bridge_switches_8a", test::allThatABridgeDoes(), {{"channels/it/signal/turn_pause", "20 ms"}}), 0.45);
    ASSERT_TRUE(board);
    const auto high1 = edgesOf(*board, "it_high1"), low1 = edgesOf(*board, "it_low1"), high2 = edgesOf(*board, "it_high2"),
               low2 = edgesOf(*board, "it_low2");
    const auto found = inNgspice(source(high1), source(low1), source(high2), source(low2));
    ASSERT_TRUE(found.contains("most_a") && found.contains("coasted") && found.contains("back_v"));
    EXPECT_LT(found.at("most_a"), 12.0 / 4.0 + 0.5) << "no more than the motor's stall current leaves the source";
    EXPECT_NEAR(found.at("mean_v"), 6.0 * 2024.0 / 2040.0, 0.12) << "half of full power";
    EXPECT_NEAR(found.at("brake_a"), -0.02 * found.at("running") / 4.04, 0.12 * 0.02 * found.at("running") / 4.04)
        << "its own speed drives the current that stops it";
    EXPECT_NEAR(found.at("coasted"), found.at("again"), 0.03 * found.at("again")) << "nothing holds it";
    EXPECT_NEAR(found.at("coast_a"), 0.0, 2e-3);
    EXPECT_NEAR(found.at("back_v"), -6.0 * 253.0 / 255.0, 0.15) << "the other way round alike";
    // The same without the pause, the lower switch closed while the upper one is told to be open: what it keeps away, and that it would be
    // seen.
    Edges bare;
    for (const auto& [time, level] : high1) bare.emplace_back(time, !level);
    const auto shorted = inNgspice(source(high1), source(bare), source(high2), source(low2));
    ASSERT_TRUE(shorted.contains("most_a"));
    EXPECT_GT(shorted.at("most_a"), 50.0) << "12 V across two switches and the source's 50 mΩ";
}

}  // namespace
}  // namespace hinge::ends_board
