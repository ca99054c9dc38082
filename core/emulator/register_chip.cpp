#include "emulator/register_chip.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::emulator {
namespace {

constexpr int frame_bits = 40;  // of a bus with a clock: eight of the address, and 32
constexpr std::uint8_t write_bit = 0x80;

// CRC-8, x⁸ + x² + x + 1: long division of the bits as they come on the wire, each byte's lowest first, and eight zeros behind them.
std::uint8_t remainderOf(const std::uint8_t* bytes, std::size_t count) {
    unsigned rest = 0;
    const auto shift = [&](unsigned bit) {
        rest = rest << 1 | bit;
        if ((rest & 0x100U) != 0) rest ^= 0x107U;
    };
    for (std::size_t k = 0; k < count; ++k)
        for (int bit = 0; bit < 8; ++bit) shift(bytes[k] >> bit & 1U);
    for (int bit = 0; bit < 8; ++bit) shift(0);
    return static_cast<std::uint8_t>(rest);
}

}  // namespace

RegisterChip::RegisterChip(const driver::RegisterMap& map, double clock) : map_{&map}, clock_{clock} {
    restart();
}

void RegisterChip::restart() {
    registers_.clear();
    for (const auto& field : map_->fields)
        if (!field.written && field.value) registers_[field.address] |= *field.value << field.low;
    shifted_ = answer_ = 0;
    next_answer_ = 0;
    bits_ = 0;
    selected_ = false;
    levels_.clear();
}

void RegisterChip::write(int address, std::uint32_t value) {
    const bool known =
        std::any_of(map_->fields.begin(), map_->fields.end(), [&](const auto& f) { return f.address == address && f.written; });
    if (!known || forgets_) return;
    registers_[address] = value;
    if (const auto* counter = map_->field("writes_accepted")) {
        auto& count = registers_[counter->address];
        count = (count + 1) & counter->most();
    }
}

// What is only written cannot be read.
std::uint32_t RegisterChip::read(int address) const {
    const bool readable =
        std::any_of(map_->fields.begin(), map_->fields.end(), [&](const auto& f) { return f.address == address && f.read; });
    const auto found = registers_.find(address);
    std::uint32_t value = readable && found != registers_.end() ? found->second : 0;
    if (const auto* version = map_->field("version"); another_ && version != nullptr && version->address == address)
        value ^= 1U << version->low;
    return value;
}

std::uint32_t RegisterChip::field(std::string_view name) const {
    const auto* field = map_->field(name);
    const auto found = field != nullptr ? registers_.find(field->address) : registers_.end();
    return found != registers_.end() ? found->second >> field->low & field->most() : 0;
}

double RegisterChip::microsteps() const {
    return 256.0 / std::exp2(field("microsteps"));
}

// ---- A bus with a clock

void RegisterChip::select(bool now) {
    if (now && !selected_) {
        shifted_ = 0;
        bits_ = 0;
        answer_ = next_answer_;  // the eight bits before it say how it stands: nothing is wrong
    }
    if (!now && selected_ && bits_ == frame_bits) {
        const int address = static_cast<int>(shifted_ >> 32 & 0x7F);
        const auto value = static_cast<std::uint32_t>(shifted_);
        const bool writes = (shifted_ >> 32 & write_bit) != 0;
        if (writes) write(address, value);
        next_answer_ = writes ? (forgets_ ? 0 : value) : read(address);
    }
    selected_ = now;
}

void RegisterChip::clocked(bool high, bool data) {
    if (!selected_) return;
    if (high) {
        shifted_ = shifted_ << 1 | (data ? 1 : 0);
        ++bits_;
    } else {
        out_ = bits_ < frame_bits && (answer_ >> (frame_bits - 1 - bits_) & 1) != 0;
    }
}

// ---- One wire

std::vector<LineLevel> RegisterChip::answer(std::uint64_t now) {
    if (levels_.empty()) return {};
    // How long a bit is, its first byte says: 0x05 falls at its start, and again two and four bits later.
    std::vector<std::uint64_t> falls;
    for (std::size_t k = 0; k < levels_.size() && falls.size() < 3; ++k)
        if (!levels_[k].high) falls.push_back(levels_[k].cycle);
    if (falls.size() < 3) {
        if (static_cast<double>(now - levels_.back().cycle) > 0.1 * clock_) levels_.clear();
        return {};
    }
    const double bit = static_cast<double>(falls[2] - falls[0]) / 4.0;
    if (static_cast<double>(now - levels_.back().cycle) < 12.0 * bit) return {};  // more may come
    std::vector<std::uint8_t> bytes;
    double end = static_cast<double>(falls[0]);
    const double last = static_cast<double>(levels_.back().cycle);
    for (double start = end; start <= last;) {
        bytes.push_back(byteFrom(levels_, start, bit));
        end = start + 10.0 * bit;
        const auto next = std::find_if(levels_.begin(), levels_.end(), [&](const LineLevel& level) {
            return !level.high && static_cast<double>(level.cycle) > start + 9.2 * bit;
        });
        if (next == levels_.end()) break;
        start = static_cast<double>(next->cycle);
    }
    levels_.clear();
    // Eight bytes write, four ask; what is neither is none.
    std::vector<LineLevel> answers;
    for (std::size_t at_byte = 0; at_byte + 3 < bytes.size();) {
        const std::size_t length = (bytes[at_byte + 2] & write_bit) != 0 ? 8 : 4;
        if (at_byte + length > bytes.size()) break;
        answers =
            datagram({bytes.begin() + static_cast<std::ptrdiff_t>(at_byte), bytes.begin() + static_cast<std::ptrdiff_t>(at_byte + length)},
                     bit, std::max(end + 8.0 * bit, static_cast<double>(now)));
        at_byte += length;
    }
    return answers;
}

std::vector<LineLevel> RegisterChip::datagram(const std::vector<std::uint8_t>& bytes, double bit, double end) {
    constexpr std::uint8_t sync = 0x05, node = 0, master = 0xFF;
    if (silent_ || bytes[0] != sync || bytes[1] != node) return {};
    if (remainderOf(bytes.data(), bytes.size() - 1) != bytes.back()) return {};
    const int address = bytes[2] & 0x7F;
    if ((bytes[2] & write_bit) != 0) {
        write(address, static_cast<std::uint32_t>(bytes[3]) << 24 | static_cast<std::uint32_t>(bytes[4]) << 16 |
                           static_cast<std::uint32_t>(bytes[5]) << 8 | bytes[6]);
        return {};
    }
    const auto value = read(address);
    std::vector<std::uint8_t> said{sync, master, bytes[2]};
    for (int shift = 24; shift >= 0; shift -= 8) said.push_back(static_cast<std::uint8_t>(value >> shift));
    said.push_back(remainderOf(said.data(), said.size()));
    std::vector<LineLevel> levels;
    const auto put = [&](bool high) {
        levels.push_back({static_cast<std::uint64_t>(end), high});
        end += bit;
    };
    for (const auto byte : said) {
        put(false);
        for (int k = 0; k < 8; ++k) put((byte >> k & 1) != 0);
        put(true);
    }
    return levels;
}

}  // namespace hinge::emulator
