#pragma once
#include "board/family.hpp"

namespace hinge::board {

[[nodiscard]] std::span<const Pin> pinsOfAtmega328p();
[[nodiscard]] std::span<const Pin> pinsOfAtmega2560();
[[nodiscard]] std::span<const Pin> pinsOfAtmega32u4();
[[nodiscard]] std::span<const Pin> pinsOfAttiny85();
[[nodiscard]] std::span<const Pin> pinsOfRp2040();
[[nodiscard]] std::span<const Pin> pinsOfEsp32();
[[nodiscard]] std::span<const Pin> pinsOfHeader();

}  // namespace hinge::board
