#pragma once
// A firmware file's bytes, read as a stranger's: whole, for the right chip, within its memories, or refused.
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::emulator {

/// What a programmer would write into the chip.
struct Image {
    std::uint32_t base = 0;  ///< byte address of flash[0]
    std::vector<std::uint8_t> flash, eeprom;
};
/// Largest firmware file that is read, in bytes: a 256 kB flash with all its names fits many times.
inline constexpr std::uintmax_t largest_image = 16u << 20;

/// Reads Intel HEX: records 00, 01, 02 and 04; start addresses (03, 05) mean nothing to an AVR.
/// @param flash_size  bytes of the chip's flash
/// @error BadFormat   a checksum, a length or a kind that is wrong, naming the line; or the file ends before its last record
/// @error OutOfRange  beyond the flash, or written twice
/// @source intel-hex
[[nodiscard]] Result<Image> readHex(std::string_view text, const std::string& name, std::uint32_t flash_size);
/// Reads ELF for the AVR: its load segments by their physical addresses; those from 0x810000 on are the EEPROM's.
/// @error BadFormat   another kind of file, another machine, or cut short
/// @error OutOfRange  beyond the flash
/// @source elf-format
[[nodiscard]] Result<Image> readElf(std::string_view bytes, const std::string& name, std::uint32_t flash_size, std::uint32_t eeprom_size);

/// Where a name of the program stands: of a function its byte address, of a variable that in the data space. nullopt: there is no such
/// name, or it is no ELF.
/// @source elf-format
[[nodiscard]] std::optional<std::uint32_t> symbolIn(std::string_view elf, std::string_view symbol);

}  // namespace hinge::emulator
