#pragma once
// The emitted sketch on boards that are no AVR: compiled, run on an emulated RP2040 or on the desk's own stand-in for a board, its pins
// listened to.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <set>
#include <sstream>
#include "board/family.hpp"
#include "emulator/chip.hpp"
#include "emulator/pin_bus.hpp"
#include "emulator/run_program.hpp"
#include "firmware/sketch.hpp"
#include "support/folder.hpp"
#include "support/program.hpp"

namespace hinge::test {

/// What comes from outside, in time.
class Outside {
public:
    void pin(double at, int number, bool high) { add(at, fmt::format("pin {} {}", number, high ? 1 : 0)); }
    /// A chip with registers of 32 bits on a bus with a clock, whose one known register is that.
    void chip(int select, int clock, int out, int in, int address, std::uint32_t value) {
        add(0.0, fmt::format("chip {} {} {} {} {} {}", select, clock, out, in, address, value));
    }
    /// @param reading  0 to 1023
    void reading(double at, int number, int reading) { add(at, fmt::format("adc {} {}", number, 4 * reading)); }
    /// Said over the link, at its pace.
    void say(double at, const std::string& line) {
        said_.push_back(line);
        speak(at, "say ", line);
    }
    /// Said by radio, on a serial port of the chip's own.
    void air(double at, const std::string& line) { speak(at, "air ", line); }
    [[nodiscard]] std::string text() const {
        std::string text;
        for (const auto& [us, line] : lines_) text += fmt::format("{} {}\n", us, line);
        return text;
    }

    /// What was said, in its order.
    [[nodiscard]] const std::vector<std::string>& said() const { return said_; }

private:
    void speak(double at, const std::string& where, const std::string& line) {
        std::string hex;
        for (const char c : line) {
            hex += fmt::format("{:02x}", static_cast<unsigned char>(c));
            if (hex.size() == 16) add(at, where + hex), hex.clear(), at += 1e-3;
        }
        if (!hex.empty()) add(at, where + hex);
    }
    std::vector<std::string> said_;
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
    std::string sent, aired;                ///< over the link; by radio, on a port of the chip's own
    std::vector<double> watchdog;           ///< when it bit
    std::string trouble;                    ///< what the emulator or the compiler complained of
    int bytes = 0;                          ///< of the program, where it is one for a chip
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
        else if (what == "aired" && words >> first) heard.aired += static_cast<char>(first);
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
/// @param latch  "top": slices that count up and down take their levels over there
inline Heard onRp2040At(const firmware::Sketch& sketch, const Outside& outside, double seconds, const std::string& latch) {
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
        run(fmt::format("cd {} && arm-none-eabi-objcopy -O binary program.elf program.bin && LATCH={} node run.mjs program.bin "
                        "{:.0f} < script 2>&1",
                        in, latch, seconds * 1e6));
    auto heard = heardFrom(ran.out);
    if (ran.status != 0) heard.trouble += ran.out.substr(0, 3000);
    heard.bytes = static_cast<int>(std::filesystem::file_size(folder.path() / "program.bin"));
    return heard;
}
inline Heard onRp2040(const firmware::Sketch& sketch, const Outside& outside, double seconds) {
    return onRp2040At(sketch, outside, seconds, "");
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

/// A sketch that marks its start (see marked()) on the emulated AVR. Times count from that mark: what comes before is the chip's own start.
inline Heard onAvr(const std::filesystem::path& elf, const board::Family& family, const Outside& outside, double seconds) {
    Heard heard;
    auto chip = emulator::Chip::load(elf, nameOf(family.mcu), static_cast<std::uint32_t>(family.clock));
    if (!chip) return {.trouble = sentence(chip.error())};
    auto& pins = (*chip)->pins();
    std::uint64_t mark = 0;
    (*chip)->on_mark = [&](std::uint64_t cycle) { mark = mark == 0 ? cycle : mark; };
    std::vector<std::tuple<std::uint64_t, int, bool>> edges;
    pins.on_edge = [&](char port, int bit, bool level, std::uint64_t cycle) {
        for (const auto& pin : family.pins)
            if (pin.port == port && pin.bit == bit && pins.isOutput(port, bit)) edges.emplace_back(cycle, pin.number, level);
    };
    const auto pinOf = [&](int number) -> const board::Pin& {
        return *std::find_if(family.pins.begin(), family.pins.end(), [&](const board::Pin& pin) { return pin.number == number; });
    };
    const auto go = [&](double until) {
        const auto end = mark + static_cast<std::uint64_t>(until * family.clock);
        while ((*chip)->cycle() < end) {
            const int resets = (*chip)->resets();
            (*chip)->runTo(std::min(end, (*chip)->cycle() + static_cast<std::uint64_t>(family.clock / 1000)));
            if ((*chip)->resets() > resets) heard.watchdog.push_back(static_cast<double>((*chip)->cycle() - mark) / family.clock);
        }
    };
    std::istringstream script(outside.text());
    std::vector<std::string> lines;
    for (std::string line; std::getline(script, line);) lines.push_back(line);
    std::size_t next = 0;
    const auto play = [&](double until) {
        for (; next < lines.size(); ++next) {
            std::istringstream words(lines[next]);
            double us = 0.0;
            std::string what, value;
            int where = 0, level = 0;
            words >> us >> what;
            if (us > until * 1e6) return;
            if (mark != 0) go(us / 1e6);
            if (what == "pin" && words >> where >> level) pins.drive(pinOf(where).port, pinOf(where).bit, level != 0);
            if (what == "adc" && words >> where >> level) (*chip)->setAnalogue(pinOf(where).analog_channel, level / 4);
            if (what == "say" && words >> value)
                for (std::size_t k = 0; k + 1 < value.size(); k += 2)
                    (*chip)->send(std::string(1, static_cast<char>(std::stoi(value.substr(k, 2), nullptr, 16))));
        }
    };
    play(0.0);
    std::set<int> seen;
    while (mark == 0 && (*chip)->cycle() < static_cast<std::uint64_t>(family.clock) / 10) {
        (*chip)->runTo((*chip)->cycle() + 20);
        for (const auto& pin : family.pins)
            if (pins.isOutput(pin.port, pin.bit) && seen.insert(pin.number).second)
                edges.emplace_back((*chip)->cycle(), pin.number, pins.level(pin.port, pin.bit));
    }
    if (mark == 0) return {.trouble = "it never came to its start"};
    play(seconds);
    go(seconds);
    std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return std::get<0>(a) < std::get<0>(b); });
    for (const auto& [cycle, pin, level] : edges) {
        auto& list = heard.pins[pin];
        if (list.empty() || list.back().level != static_cast<int>(level))
            list.push_back({(static_cast<double>(cycle) - static_cast<double>(mark)) / family.clock, level ? 1 : 0});
    }
    heard.sent = (*chip)->received();
    return heard;
}
/// The sketch with a mark where its ticks begin to count.
inline firmware::Sketch marked(firmware::Sketch sketch) {
    const std::string mine = "  // >>> yours: start\n";
    sketch.text.insert(sketch.text.find(mine) + mine.size(), "  GPIOR0 = 1;\n");
    return sketch;
}

}  // namespace hinge::test
