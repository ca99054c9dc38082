#include "emulator/run_program.hpp"
#include <fcntl.h>
#include <poll.h>
#include <sys/wait.h>
#include <unistd.h>
#include <array>
#include <csignal>

namespace hinge::emulator {

Outcome runProgram(const std::vector<std::string>& command, const std::atomic<bool>* cancel) {
    Outcome outcome;
    std::array<int, 2> pipe{};
    if (::pipe2(pipe.data(), O_CLOEXEC) != 0) return outcome;
    const pid_t child = ::fork();
    if (child == 0) {
        ::dup2(pipe[1], 1);
        ::dup2(pipe[1], 2);
        std::vector<char*> arguments;
        for (const auto& word : command) arguments.push_back(const_cast<char*>(word.c_str()));
        arguments.push_back(nullptr);
        ::execvp(arguments[0], arguments.data());
        ::_exit(127);
    }
    ::close(pipe[1]);
    std::array<char, 4096> buffer{};
    for (;;) {
        if (cancel != nullptr) {
            pollfd ready{pipe[0], POLLIN, 0};
            const int came = ::poll(&ready, 1, 50);
            if (cancel->load() && !outcome.cancelled) {
                outcome.cancelled = true;
                if (child > 0) ::kill(child, SIGTERM);
            }
            if (came == 0) continue;
        }
        const ssize_t n = ::read(pipe[0], buffer.data(), buffer.size());
        if (n <= 0) break;
        outcome.output.append(buffer.data(), static_cast<std::size_t>(n));
    }
    ::close(pipe[0]);
    int status = 0;
    if (child > 0 && ::waitpid(child, &status, 0) == child && WIFEXITED(status)) outcome.status = WEXITSTATUS(status);
    return outcome;
}

}  // namespace hinge::emulator
