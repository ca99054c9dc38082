#pragma once
#include <atomic>
#include <string>
#include <string_view>
#include <vector>

namespace hinge::emulator {

struct Outcome {
    int status = -1;     ///< of its exit; -1: not started, or ended by a signal
    std::string output;  ///< both its streams, at most 4 MB of them
    bool cancelled = false;
    bool overdue = false;  ///< ended by us, its time was over
};
/// What a program may take.
struct Limits {
    double seconds = 120.0;                  ///< by the clock on the wall; then it is ended, with all that it started
    unsigned long long memory = 2ull << 30;  ///< bytes of addresses
    unsigned long long file = 64ull << 20;   ///< bytes of the largest file that it writes
};
/// Runs a program without a shell, in a group of its own.
/// @param cancel  set: it is ended at once
[[nodiscard]] Outcome runProgram(const std::vector<std::string>& command, const std::atomic<bool>* cancel = nullptr,
                                 const Limits& limits = {});

/// Starts a program with pipes of ours at its streams; between the start and the program no code of ours runs, so that threads and their
/// locks don't matter. @return its process, or 0
struct Streams {
    int in = -1, out = -1, error = -1;  ///< -1: /dev/null
};
[[nodiscard]] int startProgram(const std::vector<std::string>& command, const Streams& streams);
/// Ends a program that was started, with all that it started, and takes its exit status up: that of waitpid().
int endProgram(int process);

}  // namespace hinge::emulator
