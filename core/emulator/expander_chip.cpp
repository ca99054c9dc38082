#include "emulator/expander_chip.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::emulator {

ExpanderChip::ExpanderChip(const driver::RegisterMap& map, double clock, int board)
    : map_{&map}, clock_{clock}, address_{static_cast<int>(map.figure("address")) + board - 1} {
    restart();
}

void ExpanderChip::restart() {
    registers_.fill(0);
    if (const auto* asleep = map_->field("asleep"))
        registers_[static_cast<std::size_t>(asleep->address)] = static_cast<std::uint8_t>(1U << asleep->low);
    // All its lines begin as inputs.
    if (hasLevels())
        for (std::size_t k = 0; k < 2; ++k) registers_[static_cast<std::size_t>(map_->figure("direction")) + k] = 0xFF;
    words_.fill(0);
    doing_ = Doing::Nothing;
    pulls_ = false;
    levels_.clear();
    command_.clear();
    begun_ = false;
    targets_.assign(static_cast<std::size_t>(std::max(0, outputs())), 0.0);
}

std::uint32_t ExpanderChip::field(std::string_view name) const {
    const auto* field = map_->field(name);
    return field != nullptr ? registers_[static_cast<std::size_t>(field->address)] >> field->low & field->most() : 0;
}

bool ExpanderChip::level(int output) const {
    if (output < 0 || output >= outputs()) return false;
    return !bit("direction", output) && bit("latch", output);
}

bool ExpanderChip::bit(const char* registers, int line) const {
    return (registers_[static_cast<std::size_t>(map_->figure(registers)) + static_cast<std::size_t>(line / 8)] >> line % 8 & 1) != 0;
}

void ExpanderChip::setLine(int line, std::optional<bool> high) {
    if (line >= 0 && line < 16) lines_[static_cast<std::size_t>(line)] = high;
}

void ExpanderChip::setVolts(int line, double volts) {
    if (line >= 0 && line < 4) volts_[static_cast<std::size_t>(line)] = volts;
}

std::uint8_t ExpanderChip::shown() const {
    if (converts()) return static_cast<std::uint8_t>(words_[pointer_ & 3] >> (half_ == 0 ? 8 : 0));
    const int port = pointer_ - static_cast<int>(map_->figure("port"));
    if (!hasLevels() || port < 0 || port > 1) return registers_[pointer_];
    std::uint8_t byte = 0;
    for (int k = 0; k < 8; ++k) {
        const int line = 8 * port + k;
        const bool high =
            bit("direction", line) ? lines_[static_cast<std::size_t>(line)].value_or(bit("pull_up", line)) : bit("latch", line);
        byte = static_cast<std::uint8_t>(byte | (high ? 1 << k : 0));
    }
    return byte;
}

// A conversion that is begun is done at once, and is there to be read: what reads too early is not found out here.
void ExpanderChip::convert() {
    const auto field = [&](const char* name) {
        const auto* at = map_->field(name);
        return words_[1] >> at->low & at->most();
    };
    if (field("begin") == 0) return;
    const double scale = field("gain") == 0 ? map_->figure("full_scale") : map_->figure("full_scale_fine"),
                 counts = volts_[field("channel")] / scale * map_->figure("counts_full_scale");
    words_[0] = static_cast<std::uint16_t>(static_cast<std::int16_t>(std::clamp(std::floor(counts), -32768.0, 32767.0)));
}

double ExpanderChip::period() const {
    if (hasLevels()) return 0.0;
    if (bus() == driver::RegisterBus::Serial) return clock_ / map_->figure("frames_a_second");
    if (field("asleep") != 0) return 0.0;
    return map_->figure("counts") * (field("prescale") + 1.0) / map_->figure("oscillator") * clock_;
}

double ExpanderChip::width(int output) const {
    if (output < 0 || output >= outputs()) return 0.0;
    if (bus() == driver::RegisterBus::Serial) return targets_[static_cast<std::size_t>(output)] / map_->figure("counts_a_second") * clock_;
    const auto at = static_cast<std::size_t>(map_->figure("first_output") + 4 * output);
    const int on = registers_[at] | (registers_[at + 1] & 0x0F) << 8, off = registers_[at + 2] | (registers_[at + 3] & 0x0F) << 8;
    // A bit above the counts: off for good, which counts for more, or on for good.
    if ((registers_[at + 3] & 0x10) != 0) return 0.0;
    if ((registers_[at + 1] & 0x10) != 0) return period();
    return period() * std::max(0, off - on) / map_->figure("counts");
}

// A start is data falling, a stop data rising, while the clock is high; bits are taken as it rises, and change while it is low.
bool ExpanderChip::heard(bool clock, bool data) {
    const bool rose = clock && !clock_line_, fell = !clock && clock_line_;
    const bool start = clock && clock_line_ && data_line_ && !data, stop = clock && clock_line_ && !data_line_ && data && !pulls_;
    clock_line_ = clock;
    data_line_ = data;
    if (start) {
        doing_ = Doing::Address;
        bits_ = 0;
        pulls_ = false;
    } else if (stop) {
        doing_ = Doing::Nothing;
    } else if (doing_ == Doing::Nothing) {
        return false;
    } else if (rose) {
        if (bits_ < 8 && doing_ != Doing::Read) shifted_ = static_cast<std::uint8_t>(shifted_ << 1 | (data ? 1 : 0));
        if (bits_ == 8 && doing_ == Doing::Read && data) doing_ = Doing::Nothing;  // not acknowledged: that was the last
        ++bits_;
    } else if (fell) {
        if (bits_ == 9) {
            bits_ = 0;
            // What was acknowledged goes on with the next.
            if (doing_ == Doing::Read && ++read_ > 1) {
                if (converts()) half_ ^= 1;
                else ++pointer_;
            }
        }
        if (bits_ == 8 && doing_ != Doing::Read) {
            byte(shifted_);
            pulls_ = doing_ != Doing::Nothing;  // acknowledged
        } else if (doing_ == Doing::Read && bits_ < 8) {
            pulls_ = (shown() >> (7 - bits_) & 1) == 0;
        } else {
            pulls_ = false;
        }
    }
    return pulls_ && !silent_;
}

void ExpanderChip::byte(std::uint8_t value) {
    switch (doing_) {
        case Doing::Address:
            if (silent_ || value >> 1 != address_) doing_ = Doing::Nothing;
            else doing_ = (value & 1) != 0 ? Doing::Read : Doing::Register;
            read_ = half_ = 0;
            break;
        case Doing::Register:
            pointer_ = value;
            half_ = 0;
            doing_ = Doing::Write;
            break;
        case Doing::Write:
            if (converts()) {
                auto& word = words_[pointer_ & 3];
                if (!forgets_) word = static_cast<std::uint16_t>(half_ == 0 ? (word & 0xFF) | value << 8 : (word & 0xFF00) | value);
                if (half_ == 1 && pointer_ == 1) convert();
                half_ ^= 1;
                break;
            }
            // Its rate is taken only while it sleeps.
            if (const auto* rate = map_->field("prescale");
                !forgets_ && (rate == nullptr || pointer_ != rate->address || field("asleep") != 0))
                registers_[pointer_] = value;
            if (hasLevels() || field("count_up_addresses") != 0) ++pointer_;
            break;
        default: break;
    }
}

void ExpanderChip::heard(std::uint64_t cycle, bool high) {
    levels_.push_back({cycle, high});
}

void ExpanderChip::listen(std::uint64_t now) {
    const double bit = clock_ / map_->figure("baud");
    for (;;) {
        const auto start = std::find_if(levels_.begin(), levels_.end(), [](const LineLevel& level) { return !level.high; });
        if (start == levels_.end() || static_cast<double>(now) < static_cast<double>(start->cycle) + 9.7 * bit) return;
        const double from = static_cast<double>(start->cycle);
        const unsigned value = byteFrom(levels_, from, bit);
        const bool ends = levelAt(levels_, from + 9.5 * bit);
        levels_.erase(levels_.begin(), std::find_if(levels_.begin(), levels_.end(), [&](const LineLevel& level) {
                          return static_cast<double>(level.cycle) > from + 9.2 * bit;
                      }));
        if (!ends || silent_) continue;
        if (value == static_cast<unsigned>(map_->figure("hello"))) begun_ = true, command_.clear();
        else if (begun_) command_.push_back(static_cast<std::uint8_t>(value));
        if (command_.size() == 1 && command_[0] != static_cast<std::uint8_t>(map_->figure("set_target"))) command_.clear();
        if (command_.size() < 4) continue;
        if (command_[1] < targets_.size() && !forgets_) targets_[command_[1]] = command_[2] | command_[3] << 7;
        command_.clear();
    }
}

}  // namespace hinge::emulator
