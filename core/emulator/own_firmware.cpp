#include "emulator/own_firmware.hpp"
#include <fmt/format.h>
#include <fstream>
#include <regex>
#include <sstream>
#include "emulator/build.hpp"
#include "emulator/gadget.hpp"
#include "emulator/pin_bus.hpp"
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

}  // namespace

Result<OwnRun> runOwn(const fs::path& firmware, const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                      const fs::path& cache, const std::function<void(EmulatedBoard&)>& play) {
    const auto extension = firmware.extension().string();
    const bool source = extension == ".ino" || extension == ".cpp";
    if (!source && extension != ".hex" && extension != ".elf")
        return fail(ErrorCode::BadFormat, firmware.filename().string(), extension,
                    "a sketch (.ino, .cpp) or what is made of one (.hex, .elf)");
    std::error_code error;
    if (!fs::is_regular_file(firmware, error)) return fail(ErrorCode::NotFound, firmware.string(), "", "a file that is there");
    const auto& family = board::family(project.board.form);
    if (!family.sketch)
        return fail(ErrorCode::Missing, "board/form", std::string{family.name},
                    "a board with an ATmega328P or ATmega2560: only those are emulated");
    OwnRun out;
    fs::path image = firmware;
    if (source) {
        if (fs::file_size(firmware, error) > largest_source)
            return fail(ErrorCode::OutOfRange, firmware.filename().string(), "", "a source of at most 2 MB");
        std::ifstream in(firmware, std::ios::binary);
        std::ostringstream text;
        text << in.rdbuf();
        const auto built = build({"own", marked(text.str(), extension == ".ino")}, family, cache);
        if (!built) return tl::unexpected(built.error());
        out.log = built->log;
        if (!built->ok) return out;
        out.flash = built->flash;
        out.ram = built->ram;
        image = built->elf;
    }
    out.built = true;
    auto wiring = wiringOf(project, plan);
    if (!wiring) return tl::unexpected(wiring.error());
    const auto pins = wiring->outputs;
    auto plants = plan::plantsOf(project, parts, plan);
    if (!plants) return tl::unexpected(plants.error());
    auto board = EmulatedBoard::start(image, family, std::move(*wiring), std::move(*plants));
    if (!board) return tl::unexpected(board.error());
    auto& chip = (*board)->chip();
    std::uint64_t last = 0, longest = 0, longest_at = 0, first = 0;
    chip.on_mark = [&](std::uint64_t cycle) {
        if (out.seen.loops++ == 0) first = cycle;
        else if (cycle - last > longest) longest = cycle - last, longest_at = last;
        last = cycle;
    };
    play(**board);
    // A loop that never came back counts up to the end.
    if (out.seen.loops > 0 && chip.cycle() - last > longest) longest = chip.cycle() - last, longest_at = last;
    const double clock = chip.clock();
    out.seen.edges = (*board)->edges();
    out.seen.length = static_cast<double>(chip.cycle()) / clock;
    out.seen.loop_known = source;
    out.seen.longest_loop = static_cast<double>(longest) / clock;
    out.seen.longest_at = static_cast<double>(longest_at) / clock;
    out.seen.mean_loop = out.seen.loops > 1 ? static_cast<double>(last - first) / clock / static_cast<double>(out.seen.loops - 1) : 0.0;
    out.seen.interrupt_share = static_cast<double>(chip.interruptCycles()) / static_cast<double>(chip.cycle());
    out.seen.longest_interrupt = static_cast<double>(chip.longestInterrupt()) / clock;
    out.seen.resets = chip.resets();
    out.seen.ticks_due = chip.clockTicksDue();
    out.seen.ticks_served = chip.clockTicksServed();
    for (std::size_t o = 0; o < pins.size(); ++o) {
        for (const auto& edge : out.seen.edges)
            if (edge.output == static_cast<int>(o) && edge.level == 1 && edge.time < 0.1) {
                out.seen.on_at_start.push_back(static_cast<int>(o));
                break;
            }
        if (!chip.pins().isOutput(pins[o].port, pins[o].bit)) out.seen.never_output.push_back(static_cast<int>(o));
    }
    return out;
}

}  // namespace hinge::emulator
