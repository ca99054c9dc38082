#include "emulator/upload.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "emulator/run_program.hpp"
#include "quantity/letters.hpp"

namespace hinge::emulator {
namespace {

namespace fs = std::filesystem;

std::string signatureIn(const std::string& log) {
    const auto at = log.find("signature = 0x");
    if (at == std::string::npos) return {};
    std::string found;
    for (std::size_t i = at + 14; i < log.size() && std::isxdigit(static_cast<unsigned char>(log[i])) && found.size() < 6; ++i)
        found += lowered(log[i]);
    return found;
}

}  // namespace

bool programmerFound() {
    std::error_code error;
    return fs::exists("/usr/bin/avrdude", error);
}

Result<Uploaded> upload(const UploadOrder& order, const std::atomic<bool>* cancel) {
    const auto& board = board::family(order.form);
    const auto& programmer = board.programmer;
    if (!programmer)
        return fail(ErrorCode::Failed, "board/form", std::string{board.name} + " is not written from here",
                    fmt::format("by hand: {}", board.by_hand.front()));
    if (!programmerFound()) return fail(ErrorCode::NotFound, "avrdude", "", "install the package avrdude");
    if (order.movers && !order.made_safe)
        return fail(ErrorCode::Missing, "made_safe", "", "horns off, load supply off: outputs may jump while a program is written");
    std::error_code error;
    if (order.port.empty() || !fs::exists(order.port, error))
        return fail(ErrorCode::Missing, "port", order.port, "a port that is there: is the cable in, and does it carry data?");
    if (!fs::is_regular_file(order.elf, error)) return fail(ErrorCode::NotFound, order.elf.string(), "", "a sketch that was compiled");
    const fs::path hex = fs::path{order.elf}.replace_extension(".hex");
    if (!fs::exists("/usr/bin/avr-objcopy", error)) return fail(ErrorCode::NotFound, "avr-objcopy", "", "install the package binutils-avr");
    if (const auto made = runProgram({"avr-objcopy", "-O", "ihex", "-R", ".eeprom", order.elf.string(), hex.string()}); made.status != 0)
        return fail(ErrorCode::Failed, order.elf.string(), "no .hex comes of it: " + made.output.substr(0, 200),
                    "a sketch that was compiled");
    const std::vector<std::string> talk{"avrdude",  "-p", std::string{programmer->chip},    "-c", std::string{programmer->protocol}, "-P",
                                        order.port, "-b", std::to_string(programmer->baud), "-D"};
    // First only a look: which chip is there.
    auto look = talk;
    look.emplace_back("-n");
    const auto seen = runProgram(look, cancel);
    Uploaded done;
    done.log = seen.output;
    done.signature = signatureIn(seen.output);
    if (seen.cancelled) return fail(ErrorCode::Cancelled, "upload", "", "");
    const std::string wanted = std::string{board.signature};
    if (!done.signature.empty() && done.signature != wanted)
        return fail(ErrorCode::Conflict, "port", done.signature,
                    fmt::format("the signature {} of {}: another board is on this port, and nothing was written", wanted,
                                board::family(order.form).name));
    if (done.signature.empty()) return done;  // nobody answers: the log says why
    auto write = talk;
    write.insert(write.end(), {"-U", "flash:w:" + hex.string() + ":i"});
    const auto written = runProgram(write, cancel, {600.0});
    done.log += written.output;
    if (written.cancelled) return fail(ErrorCode::Cancelled, "upload", "", "upload again before use: the program may be only half there");
    done.ok = written.status == 0;
    return done;
}

}  // namespace hinge::emulator
