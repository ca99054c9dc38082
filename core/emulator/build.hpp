#pragma once
#include <atomic>
#include <filesystem>
#include <string>
#include "board/family.hpp"
#include "firmware/sketch.hpp"

namespace hinge::emulator {

/// What a compile gave.
struct Built {
    bool ok = false;
    std::filesystem::path elf;
    int flash = 0;    ///< bytes, from avr-size: text + data
    int ram = 0;      ///< bytes: data + bss, before the stack
    std::string log;  ///< the compiler's words
};

/// Whether avr-gcc and the AVR core of the sketch API are installed.
[[nodiscard]] bool compilerFound();

/// Compiles a sketch with avr-gcc against the Debian AVR core; the core is built once into the cache.
/// What was compiled from the very same texts before, by this compiler, is not compiled again; the newest some hundred are kept. What is
/// made of a file outside its folder too (an include by its whole path) is compiled each time.
/// @param cache   a folder that may be written
/// @param cancel  set: the compiler is ended
/// @error NotFound     compiler or core is missing; names the packages
/// @error NotWritable  the cache cannot be written
/// @error Cancelled    as asked
/// A sketch that does not compile is no error: Built::ok is false and the log says why.
[[nodiscard]] Result<Built> build(const firmware::Sketch& sketch, const board::Family& family, const std::filesystem::path& cache,
                                  const std::atomic<bool>* cancel = nullptr);

/// The usual cache folder of this user.
[[nodiscard]] std::filesystem::path usualCache();

}  // namespace hinge::emulator
