#pragma once
#include "emulator/build.hpp"
#include "emulator/emulated_board.hpp"
#include "plan/firmware_model.hpp"

namespace hinge::emulator {

/// Emits, compiles and starts a project's sketch on the emulated board with its plants.
/// @param idle  as sketchOf: what is run is what is emitted
/// @error Missing   the plan is not complete enough
/// @error NotFound  compiler missing, or the sketch does not compile
/// @error Cancelled as asked
[[nodiscard]] Result<std::unique_ptr<EmulatedBoard>> startGadget(const project::Project& project, const project::Parts& parts,
                                                                 const plan::Plan& plan, const std::filesystem::path& cache,
                                                                 const std::atomic<bool>* cancel = nullptr,
                                                                 const std::vector<plan::IdleLine>& idle = {});
/// When the drivers with an enable line were enabled: `output` of the program, level 1 while it is; that line is low then.
[[nodiscard]] std::vector<plant::Edge> enablesOf(const EmulatedBoard& board, const routine::Program& program);
/// Which pin carries which channel and input. @error Missing  one has no pin
[[nodiscard]] Result<Wiring> wiringOf(const project::Project& project, const plan::Plan& plan);

}  // namespace hinge::emulator
