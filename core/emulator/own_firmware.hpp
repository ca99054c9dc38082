#pragma once
#include "emulator/emulated_board.hpp"
#include "plan/plan.hpp"
#include "routine/program.hpp"
#include <atomic>
#include <functional>
#include <filesystem>

namespace hinge::emulator {

/// What a maker's own firmware did on the emulated board, tied to the gadget's pins and plants.
struct OwnRun {
    bool built = false;              ///< false: `log` says why; the rest is empty
    std::string log;
    int flash = 0, ram = 0;          ///< bytes; 0: not known (a .hex)
    std::vector<plant::Edge> edges;  ///< as the pins stood
    double length = 0.0;             ///< s
    bool loop_known = false;         ///< only of what was compiled here
    std::uint64_t loops = 0;
    double longest_loop = 0.0;       ///< s between two calls of loop()
    double longest_at = 0.0;         ///< s after power-up
    double mean_loop = 0.0;          ///< s
    double interrupt_share = 0.0, longest_interrupt = 0.0;   ///< of the processor; s
    int resets = 0;
    std::uint64_t ticks_due = 0, ticks_served = 0;   ///< of the timer behind millis(), where it runs as usual
    std::vector<int> on_at_start;    ///< outputs that were high within the first tenth of a second
    std::vector<int> never_output;   ///< outputs whose pin never became one
};

/// Builds and runs somebody's own sketch: a .ino or .cpp for the sketch API, compiled against the Debian core where that
/// suffices, or a .hex or .elf as it is.
/// @param play    lets the inputs happen: called once, with the board at power-up; it advances the board
/// @error NotFound   no such file, or no compiler
/// @error BadFormat  another kind of file, or one that does not fit the chip
[[nodiscard]] Result<OwnRun> runOwn(const std::filesystem::path& firmware, const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::filesystem::path& cache,
                                    const std::function<void(EmulatedBoard&)>& play);

}  // namespace hinge::emulator
