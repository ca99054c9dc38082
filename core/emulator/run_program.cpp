#include "emulator/run_program.hpp"
#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>
#include <array>
#include <chrono>
#include <cmath>
#include <csignal>

extern char** environ;

namespace hinge::emulator {
namespace {

constexpr std::size_t most_output = 4u << 20;

// The limits are set by the system's own small program before it becomes the one that was asked for.
std::vector<std::string> limited(const std::vector<std::string>& command, const Limits& limits) {
    std::vector<std::string> whole{"prlimit",
                                   fmt::format("--as={}", limits.memory),
                                   fmt::format("--fsize={}", limits.file),
                                   fmt::format("--cpu={:.0f}", std::ceil(limits.seconds)),
                                   "--core=0",
                                   "--"};
    whole.insert(whole.end(), command.begin(), command.end());
    return whole;
}

}  // namespace

int startProgram(const std::vector<std::string>& command, const Streams& streams) {
    std::vector<char*> arguments;
    for (const auto& word : command) arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawnattr_t attributes;
    if (::posix_spawn_file_actions_init(&actions) != 0) return 0;
    if (::posix_spawnattr_init(&attributes) != 0) {
        ::posix_spawn_file_actions_destroy(&actions);
        return 0;
    }
    const int given[3] = {streams.in, streams.out, streams.error};
    for (int stream = 0; stream < 3; ++stream) {
        if (given[stream] >= 0) ::posix_spawn_file_actions_adddup2(&actions, given[stream], stream);
        else ::posix_spawn_file_actions_addopen(&actions, stream, "/dev/null", stream == 0 ? O_RDONLY : O_WRONLY, 0);
    }
    sigset_t none, usual;
    ::sigemptyset(&none);
    ::sigemptyset(&usual);
    ::sigaddset(&usual, SIGPIPE);
    ::posix_spawnattr_setsigmask(&attributes, &none);
    ::posix_spawnattr_setsigdefault(&attributes, &usual);
    ::posix_spawnattr_setpgroup(&attributes, 0);
    ::posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP | POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
    pid_t process = 0;
    const int failed = ::posix_spawnp(&process, arguments[0], &actions, &attributes, arguments.data(), environ);
    ::posix_spawnattr_destroy(&attributes);
    ::posix_spawn_file_actions_destroy(&actions);
    return failed == 0 ? process : 0;
}

int endProgram(int process) {
    ::kill(-process, SIGKILL);
    int status = 0;
    while (::waitpid(process, &status, 0) < 0 && errno == EINTR) {
    }
    return status;
}

Outcome runProgram(const std::vector<std::string>& command, const std::atomic<bool>* cancel, const Limits& limits) {
    using Clock = std::chrono::steady_clock;
    Outcome outcome;
    std::array<int, 2> pipe{};
    if (::pipe2(pipe.data(), O_CLOEXEC) != 0) return outcome;
    const int process = startProgram(limited(command, limits), {-1, pipe[1], pipe[1]});
    ::close(pipe[1]);
    const auto end = Clock::now() + std::chrono::duration<double>(limits.seconds);
    std::array<char, 4096> buffer{};
    bool running = process != 0;
    while (running) {
        outcome.cancelled = cancel != nullptr && cancel->load();
        outcome.overdue = Clock::now() >= end;
        if (outcome.cancelled || outcome.overdue) break;
        pollfd ready{pipe[0], POLLIN, 0};
        if (::poll(&ready, 1, 50) == 0) continue;
        const ssize_t n = ::read(pipe[0], buffer.data(), buffer.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) break;
        outcome.output.append(buffer.data(),
                              std::min(static_cast<std::size_t>(n), most_output - std::min(most_output, outcome.output.size())));
    }
    ::close(pipe[0]);
    if (process == 0) return outcome;
    int status = 0;
    if (outcome.cancelled || outcome.overdue) {
        status = endProgram(process);
    } else {
        // Its streams are closed; what still runs has the rest of its time.
        while (::waitpid(process, &status, WNOHANG) == 0) {
            outcome.overdue = Clock::now() >= end;
            outcome.cancelled = cancel != nullptr && cancel->load();
            if (outcome.overdue || outcome.cancelled) {
                status = endProgram(process);
                break;
            }
            ::usleep(1000);
        }
    }
    if (!outcome.overdue && !outcome.cancelled && WIFEXITED(status)) outcome.status = WEXITSTATUS(status);
    return outcome;
}

}  // namespace hinge::emulator
