#pragma once
#include <optional>
#include "board/family.hpp"

namespace hinge::firmware {

/// What a sketch is written for.
enum class Target {
    Avr,     ///< ATmega328P and ATmega2560: compiled, and run on the emulated board
    Rp2040,  ///< emitted; its syntax is checked against declarations only
    Esp32,   ///< the same
    Linux,   ///< a single-board computer: compiled by g++ against libgpiod 1.6
};
/// nullopt for chips that no sketch is written for.
[[nodiscard]] std::optional<Target> targetOf(const board::Family& family);
/// What was done with a sketch for that target: compiled, run, or only emitted.
[[nodiscard]] const char* standingOf(Target target);

}  // namespace hinge::firmware
