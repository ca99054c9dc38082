#pragma once
#include <string>
#include <vector>
#include "board/family.hpp"
#include "routine/program.hpp"

namespace hinge::firmware {

/// What a sketch is written for.
enum class Target {
    Avr,     ///< ATmega328P, ATmega2560, ATmega32U4, ATtiny85: compiled, and run on the emulated board
    Rp2040,  ///< compiled by arm-none-eabi-gcc over a layer of our own, and run on rp2040js in the tests
    Esp32,   ///< compiled against declarations of its core's calls; what it does is run on the desk's stand-in for them
    Linux,   ///< a single-board computer: compiled by g++ against libgpiod 1.6, and run on the desk's stand-in for it
};
/// Every board has one.
[[nodiscard]] Target targetOf(const board::Family& family);
/// What was done with a sketch for that target: compiled, run, or only emitted.
[[nodiscard]] const char* standingOf(Target target);

/// What reaches a gadget only over the link, on a board whose sketch has none.
struct Unheard {
    std::string id, name, why;  ///< id: of the input or cue; empty: of the link itself
};
[[nodiscard]] std::vector<Unheard> unheard(const board::Family& family, const routine::Program& program);

}  // namespace hinge::firmware
