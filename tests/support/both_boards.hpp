#pragma once
#include <memory>
#include "emulator/gadget.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/demo.hpp"

namespace hinge::test {

/// A gadget on both stand-ins: the interpreter, and the emulated board where there is a compiler.
struct Both {
    project::Project project;
    std::unique_ptr<simulation::InterpretedBoard> interpreter;
    std::unique_ptr<emulator::EmulatedBoard> board;
    std::vector<plant::StandIn*> all;
    plan::Plan plan;
    [[nodiscard]] int input(project::InputKind kind) const {
        for (std::size_t i = 0; i < project.inputs.size(); ++i)
            if (project.inputs[i].kind == kind) return static_cast<int>(i);
        return -1;
    }
};
inline Both bothOf(project::Project project) {
    Both both;
    both.project = std::move(project);
    const auto parts = shippedParts();
    both.plan = plan::evaluate(both.project, parts);
    EXPECT_TRUE(both.plan.program) << sentence(both.plan.program_error.value_or(Error{}));
    if (!both.plan.program) return both;
    const auto plants = plan::plantsOf(both.project, parts, both.plan);
    EXPECT_TRUE(plants) << sentence(plants.error());
    if (!plants) return both;
    both.interpreter = std::make_unique<simulation::InterpretedBoard>(*both.plan.program, *plants, "demo", "test");
    both.all.push_back(both.interpreter.get());
    if (!emulator::compilerFound()) return both;
    auto board = emulator::startGadget(both.project, parts, both.plan, emulator::usualCache());
    EXPECT_TRUE(board) << sentence(board.error());
    if (board) both.board = std::move(*board), both.all.push_back(both.board.get());
    return both;
}

}  // namespace hinge::test
