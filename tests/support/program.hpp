#pragma once
#include <sys/wait.h>
#include <cstdio>
#include <string>

namespace hinge::test {

struct Outcome {
    int status = -1;
    std::string out;
};
/// Runs a shell command and catches what it prints.
inline Outcome run(const std::string& command) {
    Outcome outcome;
    FILE* pipe = ::popen(command.c_str(), "r");
    if (pipe == nullptr) return outcome;
    char buffer[4096];
    for (std::size_t n = 0; (n = std::fread(buffer, 1, sizeof buffer, pipe)) > 0;) outcome.out.append(buffer, n);
    const int status = ::pclose(pipe);
    outcome.status = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    return outcome;
}

}  // namespace hinge::test
