#include "emulator/build.hpp"
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>
#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <mutex>
#include <sstream>
#include <vector>
#include "emulator/run_program.hpp"
#include "files/folder.hpp"

namespace hinge::emulator {
namespace {

namespace fs = std::filesystem;
const fs::path core_folder = "/usr/share/arduino/hardware/arduino/avr/cores/arduino";
const fs::path library_folder = "/usr/share/arduino/hardware/arduino/avr/libraries";
const fs::path variant_folder = "/usr/share/arduino/hardware/arduino/avr/variants";

// The core has no variant for the ATtiny85: there the sketch brings what it needs of the API.
bool bringsItsOwn(const board::Family& family) {
    return family.core_variant.empty();
}

std::vector<std::string> flagsFor(const board::Family& family) {
    std::vector<std::string> flags{"-mmcu=" + std::string{nameOf(family.mcu)}, fmt::format("-DF_CPU={:.0f}L", family.clock),
                                   "-DARDUINO=10819", "-DARDUINO_ARCH_AVR", "-DDECIMAL_DIG=__DECIMAL_DIG__", "-Os", "-ffunction-sections",
                                   "-fdata-sections",
                                   // As the core's own platform.txt has it: what is measured here is what the maker's editor makes.
                                   "-flto", "-fno-fat-lto-objects"};
    if (bringsItsOwn(family)) return flags;
    flags.insert(flags.end(), {"-I" + core_folder.string(), "-I" + (variant_folder / family.core_variant).string()});
    // A number that is free for trials (pid.codes); a board's own core has the board's.
    if (family.mcu == timing::Mcu::Atmega32u4) flags.insert(flags.end(), {"-DUSB_VID=0x1209", "-DUSB_PID=0x0001"});
    return flags;
}
// The core's own libraries that a sketch includes, by the name of their header, and what they include themselves.
std::vector<fs::path> librariesOf(const std::string& text) {
    std::vector<fs::path> found;
    std::error_code error;
    for (const auto* name : {"EEPROM", "SPI", "Wire", "SoftwareSerial"}) {
        const fs::path source = library_folder / name / "src";
        for (const auto* quote : {"<", "\""}) {
            const std::string header = std::string{quote} + name + ".h";
            if (text.find(header) != std::string::npos && fs::exists(source, error)) {
                found.push_back(source);
                break;
            }
        }
    }
    return found;
}
std::vector<fs::path> sourcesIn(const fs::path& folder) {
    std::vector<fs::path> files;
    std::error_code error;
    for (const auto& entry : fs::recursive_directory_iterator(folder, error))
        if (const auto extension = entry.path().extension(); extension == ".cpp" || extension == ".c") files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    return files;
}
const std::vector<std::string> cpp_flags{"-std=gnu++11", "-fno-exceptions", "-fno-threadsafe-statics"};

std::string number(const fs::path& folder, const board::Family& family) {
    return (folder / fmt::format("core-{}-{:.0f}-10819-lto", nameOf(family.mcu), family.clock)).string();
}

Result<fs::path> coreArchive(const board::Family& family, const fs::path& cache, const std::atomic<bool>* cancel) {
    const fs::path folder = number(cache, family);
    const fs::path archive = folder / "core.a";
    std::error_code error;
    if (fs::exists(archive, error)) return archive;
    fs::create_directories(folder, error);
    if (error) return fail(ErrorCode::NotWritable, folder.string(), error.message(), "a cache folder that may be written");
    // Two programs may build at once: the second waits for the first.
    const int lock = ::open((folder / "lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0644);
    if (lock < 0) return fail(ErrorCode::NotWritable, folder.string(), "", "a cache folder that may be written");
    // A stop asked for meanwhile is heard too.
    while (::flock(lock, LOCK_EX | LOCK_NB) != 0 && (cancel == nullptr || !cancel->load())) ::usleep(20'000);
    std::vector<std::string> pack{"avr-gcc-ar", "rcs", archive.string() + ".part"};
    std::string failed;
    if (!fs::exists(archive, error)) {
        for (const auto& entry : fs::directory_iterator(core_folder)) {
            const auto extension = entry.path().extension().string();
            const bool cpp = extension == ".cpp", c = extension == ".c", assembler = extension == ".S";
            if (!cpp && !c && !assembler) continue;
            const std::string object =
                (folder / (entry.path().filename().string() + ".o")).string();  // whole name: .c and .S of one stem exist
            std::vector<std::string> command{cpp ? "avr-g++" : "avr-gcc"};
            for (const auto& flag : flagsFor(family)) command.push_back(flag);
            if (cpp) command.insert(command.end(), cpp_flags.begin(), cpp_flags.end());
            if (c) command.push_back("-std=gnu11");
            if (assembler) command.insert(command.end(), {"-x", "assembler-with-cpp", "-fno-lto"});
            command.insert(command.end(), {"-w", "-c", entry.path().string(), "-o", object});
            const auto outcome = runProgram(command, cancel);
            if (outcome.cancelled) break;
            if (outcome.status != 0) failed = outcome.output;
            pack.push_back(object);
        }
        if (failed.empty() && (cancel == nullptr || !cancel->load()) && runProgram(pack).status == 0)
            fs::rename(archive.string() + ".part", archive, error);
    }
    ::flock(lock, LOCK_UN);
    ::close(lock);
    if (cancel != nullptr && cancel->load()) return fail(ErrorCode::Cancelled, "compiler", "", "");
    if (!fs::exists(archive, error))
        return fail(ErrorCode::NotFound, "arduino-core-avr", failed.substr(0, 200), "the AVR core as Debian packages it");
    return archive;
}

}  // namespace

bool compilerFound() {
    std::error_code error;
    return fs::exists("/usr/bin/avr-g++", error) && fs::exists(core_folder / "Arduino.h", error);
}

fs::path usualCache() {
    if (const char* cache = std::getenv("XDG_CACHE_HOME"); cache != nullptr && *cache != '\0') return fs::path{cache} / "hinge-spark";
    if (const char* home = std::getenv("HOME"); home != nullptr && *home != '\0') return fs::path{home} / ".cache" / "hinge-spark";
    return fs::temp_directory_path() / "hinge-spark";
}

Result<Built> build(const firmware::Sketch& sketch, const board::Family& family, const fs::path& cache, const std::atomic<bool>* cancel) {
    if (!family.emulated)
        return fail(ErrorCode::NotFound, "board/form", std::string{family.name}, "an AVR board: only for those a compiler is at hand");
    if (!compilerFound()) return fail(ErrorCode::NotFound, "avr-gcc", "", "install the packages gcc-avr, avr-libc and arduino-core-avr");
    const auto archive = bringsItsOwn(family) ? Result<fs::path>{} : coreArchive(family, cache, cancel);
    if (!archive) return tl::unexpected(archive.error());
    std::uint64_t hash = 1469598103934665603ull;
    std::string whole = sketch.text + std::string{family.name};
    for (const auto& file : sketch.beside) whole += file.text;
    for (const char c : whole) hash = (hash ^ static_cast<std::uint8_t>(c)) * 1099511628211ull;
    const fs::path folder = cache / fmt::format("sketch-{:016x}-{}", hash, ::getpid());
    std::error_code error;
    fs::create_directories(folder, error);
    if (error) return fail(ErrorCode::NotWritable, folder.string(), error.message(), "a cache folder that may be written");
    const fs::path source = folder / (sketch.name + ".ino");
    const auto into = files::Folder::open(folder);
    if (!into) return tl::unexpected(into.error());
    if (const auto written = into->write(source.filename().string(), sketch.text); !written) return tl::unexpected(written.error());
    for (const auto& file : sketch.beside)
        if (const auto written = into->write(file.name, file.text); !written) return tl::unexpected(written.error());
    Built built;
    built.elf = folder / (sketch.name + ".elf");
    const std::string object = (folder / "sketch.o").string();
    std::vector<std::string> compile{"avr-g++"};
    for (const auto& flag : flagsFor(family)) compile.push_back(flag);
    compile.insert(compile.end(), cpp_flags.begin(), cpp_flags.end());
    std::vector<std::string> includes;
    const auto libraries = librariesOf(sketch.text);
    for (const auto& library : libraries)
        for (const auto& path : {library, library / "utility"}) includes.push_back("-I" + path.string());
    compile.insert(compile.end(), includes.begin(), includes.end());
    if (bringsItsOwn(family)) compile.push_back("-I" + folder.string());
    compile.insert(compile.end(), {"-Wall", "-x", "c++", "-c", source.string(), "-o", object});
    auto outcome = runProgram(compile, cancel);
    built.log = outcome.output;
    std::vector<std::string> objects{object};
    for (const auto& library : libraries)
        for (const auto& file : sourcesIn(library)) {
            if (outcome.status != 0 || outcome.cancelled) break;
            const bool cpp = file.extension() == ".cpp";
            std::vector<std::string> one{cpp ? "avr-g++" : "avr-gcc"};
            for (const auto& flag : flagsFor(family)) one.push_back(flag);
            if (cpp) one.insert(one.end(), cpp_flags.begin(), cpp_flags.end());
            else one.push_back("-std=gnu11");
            one.insert(one.end(), includes.begin(), includes.end());
            objects.push_back((folder / (library.parent_path().filename().string() + "-" + file.filename().string() + ".o")).string());
            one.insert(one.end(), {"-w", "-c", file.string(), "-o", objects.back()});
            outcome = runProgram(one, cancel);
            built.log += outcome.output;
        }
    if (outcome.status == 0) {
        std::vector<std::string> link{"avr-gcc",          "-mmcu=" + std::string{nameOf(family.mcu)}, "-Os", "-flto", "-fuse-linker-plugin",
                                      "-Wl,--gc-sections"};
        link.insert(link.end(), objects.begin(), objects.end());
        if (!archive->empty()) link.push_back(archive->string());
        link.insert(link.end(), {"-lm", "-o", built.elf.string()});
        outcome = runProgram(link, cancel);
        built.log += outcome.output;
    }
    if (outcome.cancelled) return fail(ErrorCode::Cancelled, "compiler", "", "");
    if (outcome.overdue) built.log += "\nthe compiler was ended: it took longer than two minutes";
    built.ok = outcome.status == 0;
    if (built.ok) {
        const auto size = runProgram({"avr-size", built.elf.string()});
        std::istringstream lines(size.output);
        std::string header;
        std::getline(lines, header);
        int text = 0, data = 0, bss = 0;
        lines >> text >> data >> bss;
        built.flash = text + data;
        built.ram = data + bss;
    }
    return built;
}

}  // namespace hinge::emulator
