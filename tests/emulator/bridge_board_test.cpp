// A bridge with two inputs on the emulated board: its pins in front of four switches in ngspice, and its machine beside the interpreter's.
#include <cmath>
#include "emulator/driven_board.hpp"
#include "support/oracles.hpp"
#include "support/two_inputs.hpp"

namespace hinge {
namespace {

using routine::Action;
using test::moved;

class BridgeBoard : public driven::CuedBoard {
protected:
    static project::Project motor(const std::vector<routine::Move>& moves) {
        return test::crank(moves, {{"channels/it/signal/frequency", "2 kHz"}, {"channels/it/signal/soft_start", "0 s"}});
    }
    /// A line of the board as a source for ngspice, 5 V and 0.
    static std::string source(const emulator::EmulatedBoard& board, const std::string& name) {
        // A timer's edges come a moment after those that the program writes.
        std::vector<std::pair<double, bool>> edges;
        for (const auto& edge : board.lineEdges())
            if (board.lines()[edge.line].name == name && edge.time > 0.01) edges.emplace_back(edge.time, edge.level);
        std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        std::string text = "0 0";
        bool level = false;
        for (const auto& [time, now] : edges) {
            if (now != level) text += fmt::format(" {:.8f} {} {:.8f} {}", time, level ? 5 : 0, time + 5e-8, now ? 5 : 0);
            level = now;
        }
        return text;
    }
};

// Four switches with their diodes by the table of such a part (from memory of data sheets: an input that is high closes the upper switch of
// its end where it is alone, and the lower switch of the other end), and a motor of 4 Ω and 2 mH that turns 2e-5 kg·m² without friction at
// 0.02 V·s: by hand its speed falls to the e-th part in J·R/k² = 0.2 s while it is shorted, and not at all while it coasts.
TEST_F(BridgeBoard, inNgspiceItDrivesBothWaysBrakesAndCoasts) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto board =
        played(motor({moved("f", Action::On, 0.0, false, 0.5), moved("w1", Action::Wait, 0.4), moved("b1", Action::Brake),
                      moved("w2", Action::Wait, 0.2), moved("f2", Action::On, 0.0, false, 0.5), moved("w3", Action::Wait, 0.4),
                      moved("o", Action::Off), moved("w4", Action::Wait, 0.2), moved("r", Action::On, 0.0, true, 0.5),
                      moved("w5", Action::Wait, 0.4), moved("b2", Action::Brake), moved("w6", Action::Wait, 0.1)}),
               2.6);
    ASSERT_TRUE(board);
    // From 0.12 s on 0.4 s of drive, 0.2 of brake, 0.4 of drive, off, 0.2 of wait and the pause of half a second, 0.4 of drive, brake.
    const std::string deck = fmt::format(
        "a bridge with two inputs\nVs plus 0 12\nVi1 in1 0 PWL({})\nVi2 in2 0 PWL({})\n"
        "Bu1 u1 0 V=(v(in1)>2.5 && v(in2)<2.5) ? 1 : 0\nBu2 u2 0 V=(v(in2)>2.5 && v(in1)<2.5) ? 1 : 0\n"
        "Bl1 l1 0 V=v(in2)>2.5 ? 1 : 0\nBl2 l2 0 V=v(in1)>2.5 ? 1 : 0\n"
        "S1 plus o1 u1 0 s\nS2 plus o2 u2 0 s\nS3 o1 0 l1 0 s\nS4 o2 0 l2 0 s\n.model s sw vt=0.5 vh=0.1 ron=0.05 roff=1meg\n"
        "D1 o1 plus d\nD2 o2 plus d\nD3 0 o1 d\nD4 0 o2 d\n.model d d is=1e-9 rs=0.02\n"
        "Rm o1 m1 4\nLm m1 m2 2m\nVm m2 m3 0\nBe m3 o2 V=0.02*v(w)\nBw 0 w I=0.02*i(Vm)\nCw w 0 2e-5\nRw w 0 1e9\n"
        ".tran 60u 2.6 0 60u\n"
        ".meas tran running FIND v(w) AT=0.51\n.meas tran braked FIND v(w) AT=0.71\n.meas tran brake_a MIN i(Vm) from=0.52 to=0.56\n"
        ".meas tran mean_v AVG par('v(o1)-v(o2)') from=0.4 to=0.5\n.meas tran again FIND v(w) AT=1.11\n.meas tran coasted FIND v(w) "
        "AT=1.6\n"
        ".meas tran coast_a AVG i(Vm) from=1.15 to=1.6\n.meas tran least_before MIN i(Vm) from=1.13 to=1.6\n"
        ".meas tran backwards FIND v(w) AT=2.2\n.meas tran back_v AVG par('v(o1)-v(o2)') from=2.1 to=2.2\n.end\n",
        source(*board, "it_in1"), source(*board, "it_in2"));
    const auto found = test::ngspice(deck);
    ASSERT_TRUE(found.contains("running") && found.contains("coasted") && found.contains("backwards"));
    EXPECT_NEAR(found.at("mean_v"), 6.0, 0.12) << "half of the supply: in the pauses it is shorted";
    const double full = 6.0 / 0.02;
    EXPECT_NEAR(found.at("running"), full * (1.0 - std::exp(-0.39 / 0.2)), 0.05 * full);
    const double tau = 2e-5 * 4.1 / 4e-4;  // with two switches of 50 mΩ
    EXPECT_NEAR(found.at("braked"), found.at("running") * std::exp(-0.19 / tau), 0.06 * full);
    EXPECT_NEAR(found.at("brake_a"), -0.02 * found.at("running") / 4.1, 0.1 * 0.02 * found.at("running") / 4.1)
        << "its own speed drives the current that stops it";
    EXPECT_NEAR(found.at("coasted"), found.at("again"), 0.03 * found.at("again")) << "nothing holds it";
    EXPECT_NEAR(found.at("coast_a"), 0.0, 1e-3);
    EXPECT_GT(found.at("least_before"), -5e-3) << "and no current brakes it";
    EXPECT_NEAR(found.at("back_v"), -6.0, 0.12) << "the other way round alike";
    EXPECT_LT(found.at("backwards"), 0.0);
}

TEST_F(BridgeBoard, itsMachineCoastsAndBrakesOnBoth) {
    expectItsMachine(motor(eachInTurn()), 12.0);
}

// No instant at either pin at which the bridge stands the other way than the one that it is set.
TEST_F(BridgeBoard, neverTheOtherWayForAnInstant) {
    const auto board = played(motor({moved("f", Action::Run, 0.2, false, 0.3), moved("b", Action::Brake), moved("w", Action::Wait, 0.1),
                                     moved("r", Action::Run, 0.2, true, 0.7), moved("f2", Action::Run, 0.2)}),
                              2.2);
    ASSERT_TRUE(board);
    bool in1 = false, in2 = false;
    int turns = 0, before = 0;
    auto edges = board->lineEdges();
    std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return a.time < b.time; });
    for (const auto& edge : edges) {
        const auto& name = board->lines()[edge.line].name;
        if (name == "it_in1") in1 = edge.level;
        else if (name == "it_in2") in2 = edge.level;
        else continue;
        const int way = in1 == in2 ? 0 : in1 ? 1 : -1;
        if (way == 0) continue;
        if (way != before && before != 0) ++turns;
        before = way;
    }
    EXPECT_EQ(turns, 2) << "forwards, backwards, forwards";
}

}  // namespace
}  // namespace hinge
