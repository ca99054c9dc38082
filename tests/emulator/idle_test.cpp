// Idle stretches that are let go by leave everything as if each cycle had been run: to the cycle.
#include "emulator/driven_board.hpp"
#include "support/both_ways.hpp"

namespace hinge {
namespace {

class Idle : public driven::DrivenBoard {};

// The stage's storm, and a motor that a loop drives both ways: every edge of every output and line, every byte of the link, twice.
TEST_F(Idle, leavesEveryEdgeWhereItWas) {
    // A fan's 25 kHz, a stepper's steps and servos' pulses have an event every 40 to 200 µs: there nothing is worth looking for.
    const std::vector<std::pair<project::Project, bool>> all{{test::demoProject(), true},
                                                             {test::angleBothWays("bridge_3a"), true},
                                                             {test::exampleProject("snail-hour"), false},
                                                             {test::exampleProject("cloud-chamber-door"), false},
                                                             {test::exampleProject("proofing-box"), false}};
    for (const auto& [project, quiet] : all) {
        SCOPED_TRACE(project.brief.name + project.channels.front().id);
        const auto plan = plan::evaluate(project, parts_);
        std::vector<std::vector<plant::Edge>> edges;
        std::vector<std::string> said;
        std::vector<std::uint64_t> cycles, interrupts, idled;
        for (const bool everything : {true, false}) {
            auto board = driven::boardOf(project, plan, parts_);
            ASSERT_TRUE(board);
            if (everything) board->chip().runEverything();
            std::string bytes;
            board->write("stream 1\ntell 1\n");
            for (int k = 0; k < 40; ++k) {
                if (k == 6) board->setInput(0, true);
                if (k == 8) board->setInput(0, false), board->setReading(1, 700);
                if (k == 12) board->write("list\n");
                if (k == 30) board->write("stop\n");
                board->advance(0.1);
                bytes += board->read();
            }
            edges.push_back(board->edges());
            said.push_back(bytes);
            cycles.push_back(board->chip().cycle());
            interrupts.push_back(board->chip().interruptCycles());
            idled.push_back(board->chip().idled());
        }
        EXPECT_EQ(idled[0], 0U);
        if (quiet) EXPECT_GT(idled[1], cycles[1] / 2);
        std::printf("%.0f %% of %.0f million cycles were idle\n", 100.0 * static_cast<double>(idled[1]) / static_cast<double>(cycles[1]),
                    static_cast<double>(cycles[1]) * 1e-6);
        EXPECT_NEAR(static_cast<double>(cycles[0]), static_cast<double>(cycles[1]), 40.0);
        EXPECT_EQ(interrupts[0], interrupts[1]);
        ASSERT_EQ(edges[0].size(), edges[1].size());
        for (std::size_t e = 0; e < edges[0].size(); ++e) {
            ASSERT_EQ(edges[0][e].output, edges[1][e].output) << e;
            ASSERT_NEAR(edges[0][e].time, edges[1][e].time, 0.5 / 16e6) << "edge " << e << " to the cycle";
        }
        EXPECT_TRUE(said[0] == said[1]) << "every byte, in its order";
    }
}

}  // namespace
}  // namespace hinge
