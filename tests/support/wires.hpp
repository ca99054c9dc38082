#pragma once
#include "plan/wiring.hpp"

namespace hinge::test {

/// Whether a list has a wire between two ends.
inline bool has(const std::vector<plan::Wire>& wires, const std::string& from, const std::string& to) {
    return std::any_of(wires.begin(), wires.end(), [&](const plan::Wire& wire) { return wire.from == from && wire.to == to; });
}

}  // namespace hinge::test
