#include "emulator/own_firmware.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <regex>
#include <sstream>
#include "emulator/build.hpp"
#include "emulator/gadget.hpp"
#include "emulator/guest.hpp"
#include "emulator/image.hpp"
#include "files/folder.hpp"
#include "plan/firmware_model.hpp"

namespace hinge::emulator {
namespace {

namespace fs = std::filesystem;
constexpr std::uintmax_t largest_source = 2'000'000;

// Functions may be used before they stand: their headings go to the top, as makers' tools do it.
std::string headingsOf(const std::string& source) {
    static const std::regex heading(
        R"(^((?:unsigned\s+|static\s+)?(?:void|int|long|bool|boolean|byte|float|char|word|uint8_t|uint16_t|uint32_t|int16_t|int32_t|String)\s+(?:long\s+)?)(\w+)\s*(\([^(){};]{0,200}\))\s*\{?\s*$)");
    std::string out;
    std::istringstream lines(source);
    for (std::string line; std::getline(lines, line);) {
        if (!line.empty() && line.back() == '\r') line.pop_back();
        std::smatch match;
        if (line.size() > 300 || !std::regex_match(line, match, heading) || match[2] == "setup" || match[2] == "loop" ||
            match[3].str().find('=') != std::string::npos)
            continue;
        out += match[1].str() + match[2].str() + match[3].str() + ";\n";
    }
    return out;
}

// The source with a mark at every loop(), to be told how long each takes.
std::string marked(const std::string& source, bool sketch) {
    return "#include <Arduino.h>\n#define setup hinge_own_setup\n#define loop hinge_own_loop\nvoid setup();\nvoid loop();\n" +
           (sketch ? headingsOf(source) : "") + "#line 1\n" + source +
           "\n#undef setup\n#undef loop\nvoid setup() { hinge_own_setup(); }\nvoid loop() { GPIOR0 = 1; hinge_own_loop(); }\n";
}

// The files that a sketch includes from its own folder or one below it, and what they include there; one that is not to be had is left to
// the compiler, which says so.
std::vector<firmware::SketchFile> includedBy(const std::string& source, const fs::path& folder) {
    static const std::regex include(R"re(^\s*#\s*include\s*"([A-Za-z0-9_][A-Za-z0-9_./-]{0,200})"\s*(//.*)?\r?$)re");
    constexpr std::size_t most_files = 100;
    std::vector<firmware::SketchFile> found;
    const auto own = files::Folder::open(folder.empty() ? fs::path{"."} : folder);
    if (!own) return found;
    const auto take = [&](const std::string& text, const std::string& from) {
        std::istringstream lines(text);
        for (std::string line; std::getline(lines, line) && found.size() < most_files;) {
            std::smatch match;
            if (line.size() > 300 || !std::regex_match(line, match, include)) continue;
            const std::string name = from + match[1].str();
            if (name.find("..") != std::string::npos ||
                std::any_of(found.begin(), found.end(), [&](const auto& each) { return each.name == name; }))
                continue;
            if (auto read = own->read(name, largest_source)) found.push_back({name, std::move(*read)});
        }
    };
    take(source, "");
    for (std::size_t k = 0; k < found.size(); ++k) {
        const auto slash = found[k].name.rfind('/');
        const std::string text = found[k].text;
        take(text, slash == std::string::npos ? "" : found[k].name.substr(0, slash + 1));
    }
    return found;
}

}  // namespace

Result<OwnRun> runOwn(const fs::path& firmware, const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                      const fs::path& cache, const std::function<void(plant::Played&)>& play, const std::atomic<bool>* cancel) {
    const auto extension = firmware.extension().string();
    const bool source = extension == ".ino" || extension == ".cpp";
    if (!source && extension != ".hex" && extension != ".elf")
        return fail(ErrorCode::BadFormat, firmware.filename().string(), extension,
                    "a sketch (.ino, .cpp) or what is made of one (.hex, .elf)");
    const auto& family = board::family(project.board.form);
    if (!family.emulated)
        return fail(ErrorCode::Missing, "board/form", std::string{family.name}, "a board with an AVR: only those are emulated");
    auto bytes = files::readWhole(firmware, source ? largest_source : largest_image);
    if (!bytes) return tl::unexpected(bytes.error());
    OwnRun out;
    if (source) {
        const auto built =
            build({"own", marked(*bytes, extension == ".ino"), includedBy(*bytes, firmware.parent_path())}, family, cache, cancel);
        if (!built) return tl::unexpected(built.error());
        out.log = built->log;
        if (!built->ok) return out;
        out.flash = built->flash;
        out.ram = built->ram;
        bytes = files::readWhole(built->elf, largest_image);
        if (!bytes) return tl::unexpected(bytes.error());
    }
    out.built = true;
    auto wiring = wiringOf(project, plan);
    if (!wiring) return tl::unexpected(wiring.error());
    auto plants = plan::plantsOf(project, parts, plan);
    if (!plants) return tl::unexpected(plants.error());
    const std::string name = firmware.filename().string() + (source ? ".elf" : "");
    auto guest = Guest::start({name, std::move(*bytes), project.board.form, std::move(*wiring), std::move(*plants), source});
    if (!guest) return tl::unexpected(guest.error());
    play(**guest);
    auto seen = (*guest)->finish();
    if (!seen) return tl::unexpected(seen.error());
    out.seen = std::move(*seen);
    return out;
}

}  // namespace hinge::emulator
