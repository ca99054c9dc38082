#include "emulator/build.hpp"
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <algorithm>
#include <array>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <optional>
#include <sstream>
#include <vector>
#include "emulator/run_program.hpp"
#include "files/folder.hpp"
#include "quantity/fnv.hpp"

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

// What compiles it, as part of a name. A compiler or core of another day makes other programs and reads none of an older one's.
std::string compiledBy(const board::Family& family) {
    std::string by;
    for (const auto& flag : flagsFor(family)) by += flag + '\n';
    for (const auto& flag : cpp_flags) by += flag + '\n';
    for (const auto& file : {fs::path{"/usr/bin/avr-g++"}, core_folder / "Arduino.h"}) {
        std::error_code error;
        const auto time = fs::last_write_time(fs::canonical(file, error), error);
        if (!error) by += fmt::format("{}\n", time.time_since_epoch().count());
    }
    return fmt::format("{}-{:016x}", nameOf(family.mcu), fnv64(by));
}
std::string number(const fs::path& folder, const board::Family& family) {
    return (folder / ("core-" + compiledBy(family))).string();
}

// Without a home the cache lies where all may write: what another has put there, or could change, is not run.
bool isOurs(const fs::path& folder) {
    struct stat seen {};
    return ::lstat(folder.c_str(), &seen) == 0 && S_ISDIR(seen.st_mode) && seen.st_uid == ::geteuid() && (seen.st_mode & S_IWOTH) == 0;
}
void makeOurs(const fs::path& folder, std::error_code& error) {
    std::error_code ignored;
    if (fs::create_directories(folder, error)) fs::permissions(folder, fs::perms::others_write, fs::perm_options::remove, ignored);
}

Result<fs::path> coreArchive(const board::Family& family, const fs::path& cache, const std::atomic<bool>* cancel) {
    const fs::path folder = number(cache, family);
    const fs::path archive = folder / "core.a";
    std::error_code error;
    makeOurs(folder, error);
    if (error) return fail(ErrorCode::NotWritable, folder.string(), error.message(), "a cache folder that may be written");
    if (!isOurs(folder)) return fail(ErrorCode::NotWritable, folder.string(), "others may write to it", "a cache folder of your own");
    if (fs::exists(archive, error)) return archive;
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
        return fail(ErrorCode::Failed, "arduino-core-avr", "does not compile: " + failed.substr(0, 200),
                    "the AVR core as Debian packages it");
    return archive;
}

// ---- what was compiled before ----
constexpr std::size_t kept_most = 500, let_go_at_once = 50;  // about 300 kB each

fs::path keptIn(const firmware::Sketch& sketch, const board::Family& family, const fs::path& cache) {
    std::string whole = sketch.name + '\n' + sketch.text;
    for (const auto& file : sketch.beside) whole += '\n' + file.name + '\n' + file.text;
    return cache / fmt::format("sketch-{}-{:016x}", compiledBy(family), fnv64(whole));
}
void measure(Built& built) {
    const auto size = runProgram({"avr-size", built.elf.string()});
    std::istringstream lines(size.output);
    std::string header;
    std::getline(lines, header);
    int text = 0, data = 0, bss = 0;
    lines >> text >> data >> bss;
    built.flash = text + data;
    built.ram = data + bss;
}
// Compiled by this user from these very texts: a hash alone could be another's.
std::optional<Built> keptOf(const firmware::Sketch& sketch, const fs::path& folder) {
    std::error_code error;
    if (!isOurs(folder)) return {};
    const auto same = [&](const std::string& name, const std::string& text) {
        const auto kept = files::readWhole(folder / name);
        return kept && *kept == text;
    };
    if (!same(sketch.name + ".ino", sketch.text)) return {};
    for (const auto& file : sketch.beside)
        if (!same(file.name, file.text)) return {};
    const auto log = files::readWhole(folder / "log");
    Built built;
    built.ok = true;
    built.elf = folder / (sketch.name + ".elf");
    if (!log || !fs::exists(built.elf, error)) return {};
    built.log = *log;
    measure(built);
    if (built.flash == 0) return {};
    fs::last_write_time(folder, fs::file_time_type::clock::now(), error);
    return built;
}
// Whether it was made of nothing but what lies in its folder and what Debian installs: another file may change unseen.
bool madeOfItsOwn(const fs::path& folder) {
    const auto made_of = files::readWhole(folder / "sketch.d");
    if (!made_of) return false;
    std::istringstream words(made_of->substr(std::min(made_of->size(), made_of->find(':') + 1)));
    for (std::string word; words >> word;)
        if (word != "\\" && (word.find("..") != std::string::npos || !(word.starts_with(folder.string()) || word.starts_with("/usr/"))))
            return false;
    return true;
}
// The newest stay; of the others those that nobody has used for an hour go, some at a time.
void letGo(const fs::path& cache) {
    std::vector<std::pair<fs::file_time_type, fs::path>> found;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(cache, error))
        if (entry.path().filename().string().starts_with("sketch-")) {
            std::error_code gone;
            if (const auto time = fs::last_write_time(entry.path(), gone); !gone) found.emplace_back(time, entry.path());
        }
    if (found.size() <= kept_most) return;
    std::sort(found.begin(), found.end());
    found.resize(std::min(found.size() - kept_most, let_go_at_once));
    for (const auto& [time, folder] : found)
        if (fs::file_time_type::clock::now() - time > std::chrono::hours{1}) fs::remove_all(folder, error);
}
// Into its own place, where the next who asks finds it; whoever was first stays.
Built kept(Built built, const firmware::Sketch& sketch, const fs::path& folder, const fs::path& place, const fs::path& cache) {
    std::error_code error;
    if (!files::writeWhole(folder / "log", built.log) || !madeOfItsOwn(folder)) return built;
    fs::rename(folder, place, error);
    if (!error) built.elf = place / built.elf.filename();
    else if (auto first = keptOf(sketch, place)) {
        fs::remove_all(folder, error);
        built = *std::move(first);
    }
    letGo(cache);
    return built;
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
    if (!family.emulated) return fail(ErrorCode::Failed, "board/form", std::string{family.name} + " has no compiler here", "an AVR board");
    if (!compilerFound()) return fail(ErrorCode::NotFound, "avr-gcc", "", "install the packages gcc-avr, avr-libc and arduino-core-avr");
    const auto archive = bringsItsOwn(family) ? Result<fs::path>{} : coreArchive(family, cache, cancel);
    if (!archive) return tl::unexpected(archive.error());
    const fs::path place = keptIn(sketch, family, cache);
    if (auto before = keptOf(sketch, place)) return *std::move(before);
    static std::atomic<int> builds{0};  // two threads of one program may build the same
    const fs::path folder = place.string() + fmt::format(".{}.{}", ::getpid(), builds++);
    std::error_code error;
    makeOurs(folder, error);
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
    compile.insert(compile.end(),
                   {"-Wall", "-MD", "-MF", (folder / "sketch.d").string(), "-x", "c++", "-c", source.string(), "-o", object});
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
    if (outcome.cancelled) {
        fs::remove_all(folder, error);
        return fail(ErrorCode::Cancelled, "compiler", "", "");
    }
    if (outcome.overdue) built.log += "\nthe compiler was ended: it took longer than two minutes";
    built.ok = outcome.status == 0;
    if (!built.ok) return built;
    measure(built);
    return kept(std::move(built), sketch, folder, place, cache);
}

}  // namespace hinge::emulator
