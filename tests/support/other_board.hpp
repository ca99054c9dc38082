#pragma once
// The emitted sketch on boards that are no AVR: compiled, run on an emulated RP2040 or on the desk's own stand-in for a board, its pins
// listened to.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <sstream>
#include "emulator/run_program.hpp"
#include "firmware/sketch.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge::test {

/// What comes from outside, in time.
class Outside {
public:
    void pin(double at, int number, bool high) { add(at, fmt::format("pin {} {}", number, high ? 1 : 0)); }
    /// @param reading  0 to 1023
    void reading(double at, int number, int reading) { add(at, fmt::format("adc {} {}", number, 4 * reading)); }
    /// Said over the link, at its pace.
    void say(double at, const std::string& line) {
        std::string hex;
        for (const char c : line) {
            hex += fmt::format("{:02x}", static_cast<unsigned char>(c));
            if (hex.size() == 16) add(at, "say " + hex), hex.clear(), at += 1e-3;
        }
        if (!hex.empty()) add(at, "say " + hex);
    }
    [[nodiscard]] std::string text() const {
        std::string text;
        for (const auto& [us, line] : lines_) text += fmt::format("{} {}\n", us, line);
        return text;
    }

private:
    void add(double at, const std::string& what) { lines_.emplace(std::llround(at * 1e6), what); }
    std::multimap<long long, std::string> lines_;
};

/// What was heard of a sketch.
struct Heard {
    struct Edge {
        double time = 0.0;
        int level = 0;
    };
    std::map<int, std::vector<Edge>> pins;  ///< by number
    std::string sent;
    std::vector<double> watchdog;  ///< when it bit
    std::string trouble;           ///< what the emulator or the compiler complained of
    int bytes = 0;                 ///< of the program, where it is one for a chip
};
inline Heard heardFrom(const std::string& text) {
    Heard heard;
    std::istringstream lines(text);
    for (std::string line; std::getline(lines, line);) {
        std::istringstream words(line);
        std::string what;
        double ns = 0.0;
        int first = 0, second = 0;
        words >> what >> ns;
        if (what == "pin" && words >> first >> second) heard.pins[first].push_back({ns / 1e9, second});
        else if (what == "sent" && words >> first) heard.sent += static_cast<char>(first);
        else if (what == "watchdog") heard.watchdog.push_back(ns / 1e9);
        else heard.trouble += line + "\n";
    }
    return heard;
}
/// Puts a sketch and what lies beside it into a folder.
inline std::filesystem::path laidOut(const firmware::Sketch& sketch, const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder / "src");
    const auto file = folder / (sketch.name + ".ino");
    std::ofstream(file) << sketch.text;
    for (const auto& beside : sketch.beside) std::ofstream(folder / beside.name) << beside.text;
    return file;
}

inline bool hasRp2040() {
    return std::filesystem::exists("/usr/bin/arm-none-eabi-g++") &&
           std::filesystem::exists(HINGE_SOURCE_DIR "/build/npm/node_modules/rp2040js");
}
/// Compiled without a warning and run on rp2040js.
inline Heard onRp2040(const firmware::Sketch& sketch, const Outside& outside, double seconds) {
    TemporaryFolder folder;
    const std::string in = folder.path().string(), layer = HINGE_SOURCE_DIR "/tests/rp2040/";
    const auto file = laidOut(sketch, folder.path());
    const auto compiled = emulator::runProgram({"arm-none-eabi-g++",
                                                "-mcpu=cortex-m0plus",
                                                "-mthumb",
                                                "-Os",
                                                "-std=gnu++17",
                                                "-ffreestanding",
                                                "-fno-exceptions",
                                                "-fno-rtti",
                                                "-fno-threadsafe-statics",
                                                "-nostdlib",
                                                "-nostartfiles",
                                                "-Wall",
                                                "-Wextra",
                                                "-Werror",
                                                "-I" + layer,
                                                "-I" + in,
                                                "-T" + layer + "flash.ld",
                                                "-x",
                                                "c++",
                                                file.string(),
                                                layer + "start.cpp",
                                                "-lgcc",
                                                "-o",
                                                in + "/program.elf"});
    if (compiled.status != 0) return {.trouble = compiled.output.substr(0, 3000)};
    std::filesystem::copy_file(layer + "run.mjs", folder.path() / "run.mjs");
    std::filesystem::create_directory_symlink(HINGE_SOURCE_DIR "/build/npm/node_modules", folder.path() / "node_modules");
    std::ofstream(folder.path() / "script") << outside.text();
    const auto ran =
        run(fmt::format("cd {} && arm-none-eabi-objcopy -O binary program.elf program.bin && node run.mjs program.bin {:.0f} < "
                        "script 2>&1",
                        in, seconds * 1e6));
    auto heard = heardFrom(ran.out);
    if (ran.status != 0) heard.trouble += ran.out.substr(0, 3000);
    heard.bytes = static_cast<int>(std::filesystem::file_size(folder.path() / "program.bin"));
    return heard;
}

/// Compiled by g++ against the desk's own stand-in for that board's API, and run in its time.
/// @param which  "esp32" or "linux"
inline Heard onDesk(const std::string& which, const firmware::Sketch& sketch, const Outside& outside, double seconds) {
    TemporaryFolder folder;
    const std::string in = folder.path().string(), desk = HINGE_SOURCE_DIR "/tests/desk_board/";
    const auto file = laidOut(sketch, folder.path());
    const auto object = [&](const std::string& source, const std::string& to, const std::vector<std::string>& more) {
        std::vector<std::string> command{"g++", "-std=gnu++17", "-O0", "-Wall", "-Wextra", "-I" + desk + which, "-I" + in,
                                         "-x",  "c++",          "-c",  source,  "-o",      in + "/" + to};
        command.insert(command.end(), more.begin(), more.end());
        return emulator::runProgram(command);
    };
    std::string trouble = object(file.string(), "sketch.o", {"-Dmain=gadget_main", "-Werror"}).output;
    // The board's own part, once for all.
    static const TemporaryFolder once;
    const std::string board = once.path().string() + "/" + which + ".o", rest = once.path().string() + "/desk.o";
    for (const auto& [source, to] :
         {std::pair{desk + "desk.cpp", rest}, {desk + which + (which == "linux" ? "/system.cpp" : "/main.cpp"), board}})
        if (!std::filesystem::exists(to)) trouble += emulator::runProgram({"g++", "-std=gnu++17", "-O1", "-c", source, "-o", to}).output;
    if (trouble.empty()) trouble = emulator::runProgram({"g++", in + "/sketch.o", rest, board, "-o", in + "/gadget"}).output;
    if (!trouble.empty()) return {.trouble = trouble.substr(0, 3000)};
    std::ofstream(folder.path() / "script") << outside.text();
    const auto ran = run(fmt::format("cd {} && ./gadget {:.0f} heard < script 2>&1", in, seconds * 1e6));
    std::ifstream said(folder.path() / "heard");
    auto heard = heardFrom({std::istreambuf_iterator<char>(said), {}});
    if (ran.status != 0) heard.trouble += ran.out.substr(0, 3000);
    else heard.sent += ran.out;
    return heard;
}

}  // namespace hinge::test
