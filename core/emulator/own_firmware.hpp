#pragma once
#include <atomic>
#include <filesystem>
#include <functional>
#include "emulator/emulated_board.hpp"
#include "plan/plan.hpp"
#include "plant/firmware_seen.hpp"
#include "routine/program.hpp"

namespace hinge::emulator {

/// What a maker's own firmware did on the emulated board, tied to the gadget's pins and plants.
struct OwnRun {
    bool built = false;  ///< false: `log` says why; the rest is empty
    std::string log;
    int flash = 0, ram = 0;  ///< bytes; 0: not known (a .hex)
    plant::FirmwareSeen seen;
};

/// Builds and runs somebody's own sketch: a .ino or .cpp for the sketch API, compiled against the Debian core where that
/// suffices, or a .hex or .elf as it is.
/// It runs shut in: see Guest.
/// @param play    lets the inputs happen: called once, with the board at power-up; it advances the board
/// @param cancel  set: the compiler is ended
/// @error NotFound   no such file, or no compiler
/// @error BadFormat, OutOfRange  another kind of file, or one that does not fit the chip
/// @error Failed     it brought the emulator down
[[nodiscard]] Result<OwnRun> runOwn(const std::filesystem::path& firmware, const project::Project& project, const project::Parts& parts,
                                    const plan::Plan& plan, const std::filesystem::path& cache,
                                    const std::function<void(plant::Played&)>& play, const std::atomic<bool>* cancel = nullptr);

}  // namespace hinge::emulator
