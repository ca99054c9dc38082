#pragma once
#include <atomic>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>
#include "board/family.hpp"
#include "firmware/sketch.hpp"

namespace hinge::emulator {

[[nodiscard]] bool programmerFound();

struct UploadOrder {
    std::filesystem::path elf;  ///< as built
    board::BoardForm form{};
    std::string port;        ///< "/dev/ttyACM0"
    bool movers = false;     ///< something is coupled that moves
    bool made_safe = false;  ///< the maker said: horn off, load supply off
};
struct Uploaded {
    bool ok = false;
    std::string signature;  ///< as the chip said it: "1e950f"
    std::string log;
};
/// Reads the chip's signature, compares it, then writes and reads back. Never by itself: the maker has asked for it.
/// @param cancel  set: the programmer is ended at once
/// @error Missing      movers are coupled and nobody has made them safe; or no such port
/// @error NotFound     no programmer for this board, or it is not installed
/// @error Conflict     the chip on the port is another one; nothing was written
/// @error Cancelled    nothing, or not all, was written: upload again before use
[[nodiscard]] Result<Uploaded> upload(const UploadOrder& order, const std::atomic<bool>* cancel = nullptr);

}  // namespace hinge::emulator
