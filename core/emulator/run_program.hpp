#pragma once
#include <atomic>
#include <string>
#include <vector>

namespace hinge::emulator {

struct Outcome {
    int status = -1;     ///< of its exit; -1: not started, or ended by a signal
    std::string output;  ///< both its streams
    bool cancelled = false;
};
/// Runs a program without a shell. @param cancel  set: it is ended at once
[[nodiscard]] Outcome runProgram(const std::vector<std::string>& command, const std::atomic<bool>* cancel = nullptr);

}  // namespace hinge::emulator
