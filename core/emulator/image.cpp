#include "emulator/image.hpp"
#include <elf.h>
#include <fmt/format.h>
#include <algorithm>
#include <cstring>
#include <optional>

namespace hinge::emulator {
namespace {

std::optional<int> hexByte(std::string_view text, std::size_t at) {
    const auto digit = [](char c) {
        return c >= '0' && c <= '9' ? c - '0' : c >= 'A' && c <= 'F' ? c - 'A' + 10 : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1;
    };
    if (at + 1 >= text.size()) return std::nullopt;
    const int high = digit(text[at]), low = digit(text[at + 1]);
    if (high < 0 || low < 0) return std::nullopt;
    return high * 16 + low;
}

tl::unexpected<Error> noHex(const std::string& name, int line, const std::string& what) {
    return fail(ErrorCode::BadFormat, name, fmt::format("line {}", line), what + ": the file is damaged, write it anew with your tools");
}
tl::unexpected<Error> beyond(const std::string& name, std::uint64_t end, std::uint32_t room, const char* memory) {
    return fail(ErrorCode::OutOfRange, name, fmt::format("{} bytes", end),
                fmt::format("at most the {} bytes of this chip's {}", room, memory));
}

// The flash as pieces put it in, 0xFF where none does.
class Flash {
public:
    explicit Flash(std::uint32_t size) : bytes_(size, 0xff), taken_(size, false) {}
    // False where a byte is put in twice.
    bool put(std::uint64_t at, const std::uint8_t* data, std::size_t count) {
        for (std::size_t i = 0; i < count; ++i) {
            if (taken_[at + i]) return false;
            taken_[at + i] = true;
            bytes_[at + i] = data[i];
        }
        least_ = std::min<std::uint64_t>(least_, at);
        end_ = std::max<std::uint64_t>(end_, at + count);
        return true;
    }
    [[nodiscard]] bool empty() const { return end_ == 0; }
    [[nodiscard]] Image image() const {
        Image image;
        image.base = static_cast<std::uint32_t>(least_);
        image.flash.assign(bytes_.begin() + static_cast<std::ptrdiff_t>(least_), bytes_.begin() + static_cast<std::ptrdiff_t>(end_));
        return image;
    }

private:
    std::vector<std::uint8_t> bytes_;
    std::vector<bool> taken_;
    std::uint64_t least_ = ~0ull, end_ = 0;
};

}  // namespace

Result<Image> readHex(std::string_view text, const std::string& name, std::uint32_t flash_size) {
    Flash flash(flash_size);
    std::uint64_t upper = 0;
    bool ended = false;
    int line = 0;
    while (!text.empty()) {
        const auto end = text.find('\n');
        auto record = text.substr(0, end);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        ++line;
        while (!record.empty() && (record.back() == '\r' || record.back() == ' ')) record.remove_suffix(1);
        if (record.empty()) continue;
        if (ended) return noHex(name, line, "something stands behind its end");
        if (record.front() != ':') return noHex(name, line, "a record begins with ':'");
        std::vector<std::uint8_t> bytes;
        for (std::size_t at = 1; at < record.size(); at += 2) {
            const auto byte = hexByte(record, at);
            if (!byte) return noHex(name, line, "a byte is two hexadecimal digits");
            bytes.push_back(static_cast<std::uint8_t>(*byte));
        }
        if (bytes.size() < 5 || bytes.size() != bytes[0] + 5u) return noHex(name, line, "its length is not what it says");
        unsigned sum = 0;
        for (const auto byte : bytes) sum += byte;
        if ((sum & 0xff) != 0) return noHex(name, line, "its checksum is wrong");
        const std::uint64_t address = bytes[1] * 256u + bytes[2];
        const std::size_t count = bytes[0];
        switch (bytes[3]) {
            case 0:
                if (upper + address + count > flash_size) return beyond(name, upper + address + count, flash_size, "flash");
                if (!flash.put(upper + address, bytes.data() + 4, count))
                    return noHex(name, line, "it writes to a place that was written already");
                break;
            case 1: ended = true; break;
            case 2:
            case 4:
                if (count != 2) return noHex(name, line, "its length is not what it says");
                upper = static_cast<std::uint64_t>(bytes[4] * 256u + bytes[5]) << (bytes[3] == 2 ? 4 : 16);
                break;
            case 3:
            case 5: break;
            default: return noHex(name, line, fmt::format("a record of kind {:02X} is not known", bytes[3]));
        }
    }
    if (!ended) return fail(ErrorCode::BadFormat, name, "its last record", "an Intel HEX file with its end: this one is cut short");
    if (flash.empty()) return fail(ErrorCode::BadFormat, name, "no bytes", "an Intel HEX file with a program in it");
    return flash.image();
}

Result<Image> readElf(std::string_view bytes, const std::string& name, std::uint32_t flash_size, std::uint32_t eeprom_size) {
    const auto refuse = [&](const char* what, const char* wanted) { return fail(ErrorCode::BadFormat, name, what, wanted); };
    Elf32_Ehdr head{};
    if (bytes.size() < sizeof head || std::memcmp(bytes.data(), ELFMAG, SELFMAG) != 0)
        return refuse("its first bytes", "a compiled firmware (ELF)");
    std::memcpy(&head, bytes.data(), sizeof head);
    if (head.e_ident[EI_CLASS] != ELFCLASS32 || head.e_ident[EI_DATA] != ELFDATA2LSB || head.e_machine != EM_AVR)
        return refuse("another machine", "a firmware compiled for an AVR");
    if (head.e_type != ET_EXEC) return refuse("not linked", "a whole firmware, not an object file");
    const auto within = [&](std::uint64_t at, std::uint64_t count) { return at <= bytes.size() && count <= bytes.size() - at; };
    if (head.e_phentsize != sizeof(Elf32_Phdr) || !within(head.e_phoff, std::uint64_t{head.e_phnum} * sizeof(Elf32_Phdr)) ||
        (head.e_shnum > 0 && !within(head.e_shoff, std::uint64_t{head.e_shnum} * head.e_shentsize)))
        return refuse("cut short", "the whole file: compile it anew");
    Flash flash(flash_size);
    std::vector<std::uint8_t> eeprom;
    for (int i = 0; i < head.e_phnum; ++i) {
        Elf32_Phdr segment{};
        std::memcpy(&segment, bytes.data() + head.e_phoff + static_cast<std::size_t>(i) * sizeof segment, sizeof segment);
        if (segment.p_type != PT_LOAD || segment.p_filesz == 0) continue;
        if (!within(segment.p_offset, segment.p_filesz)) return refuse("cut short", "the whole file: compile it anew");
        const auto* data = reinterpret_cast<const std::uint8_t*>(bytes.data()) + segment.p_offset;
        // The linker's spaces: flash from 0, RAM from 0x800000, EEPROM from 0x810000, fuses and signatures above.
        constexpr std::uint32_t ram = 0x800000, eeprom_at = 0x810000, fuses = 0x820000;
        const std::uint64_t end = std::uint64_t{segment.p_paddr} + segment.p_filesz;
        if (segment.p_paddr < ram) {
            if (end > flash_size) return beyond(name, end, flash_size, "flash");
            if (!flash.put(segment.p_paddr, data, segment.p_filesz))
                return refuse("two parts at one place", "a firmware whose parts lie apart");
        } else if (segment.p_paddr >= eeprom_at && segment.p_paddr < fuses) {
            if (end - eeprom_at > eeprom_size) return beyond(name, end - eeprom_at, eeprom_size, "EEPROM");
            eeprom.resize(std::max<std::size_t>(eeprom.size(), end - eeprom_at), 0xff);
            std::copy(data, data + segment.p_filesz, eeprom.begin() + (segment.p_paddr - eeprom_at));
        }
    }
    if (flash.empty()) return refuse("no program in it", "a firmware with a program in it");
    auto image = flash.image();
    image.eeprom = std::move(eeprom);
    return image;
}

std::optional<std::uint32_t> symbolIn(std::string_view elf, std::string_view symbol) {
    const auto read = [&](std::uint64_t at, auto& into) {
        if (at > elf.size() || sizeof into > elf.size() - at) return false;
        std::memcpy(&into, elf.data() + at, sizeof into);
        return true;
    };
    Elf32_Ehdr head{};
    if (!read(0, head) || std::memcmp(elf.data(), ELFMAG, SELFMAG) != 0) return std::nullopt;
    for (int s = 0; s < head.e_shnum; ++s) {
        Elf32_Shdr table{}, strings{};
        if (!read(head.e_shoff + std::uint64_t{head.e_shentsize} * static_cast<unsigned>(s), table) || table.sh_type != SHT_SYMTAB)
            continue;
        if (!read(head.e_shoff + std::uint64_t{head.e_shentsize} * table.sh_link, strings)) return std::nullopt;
        for (std::uint64_t at = table.sh_offset; at + sizeof(Elf32_Sym) <= std::uint64_t{table.sh_offset} + table.sh_size;
             at += sizeof(Elf32_Sym)) {
            Elf32_Sym entry{};
            if (!read(at, entry)) return std::nullopt;
            const std::uint64_t name = std::uint64_t{strings.sh_offset} + entry.st_name;
            if (name + symbol.size() >= elf.size() || elf.substr(name, symbol.size()) != symbol || elf[name + symbol.size()] != '\0')
                continue;
            return entry.st_value & 0x7fffffu;  // the data space begins at 0x800000
        }
    }
    return std::nullopt;
}

}  // namespace hinge::emulator
