#pragma once
#include <cstdint>
#include <map>
#include <optional>
#include <string_view>
#include <vector>
#include "driver/register_map.hpp"
#include "emulator/line_level.hpp"

namespace hinge::emulator {

/// A driver whose settings are registers, as its data table says and nothing else: what it is sent, what it answers. Registers are zero
/// when its power comes, but for those that the table knows to be read only.
class RegisterChip {
public:
    /// @param clock  the chip's cycles a second, in which the times of the one wire are given
    RegisterChip(const driver::RegisterMap& map, double clock);
    [[nodiscard]] driver::RegisterBus bus() const { return map_->bus; }
    /// The power is gone and back.
    void restart();

    // A bus with a clock: data are taken as the clock rises, and change as it falls.
    void select(bool now);
    /// @param data  the level of the line to it
    void clocked(bool high, bool data);
    [[nodiscard]] bool answers() const { return selected_ && !silent_; }
    [[nodiscard]] bool out() const { return out_; }

    // One wire: the board's level from a cycle on; and, once a datagram is whole, the levels of the answer and when they come.
    void heard(std::uint64_t cycle, bool high) { levels_.push_back({cycle, high}); }
    [[nodiscard]] std::vector<LineLevel> answer(std::uint64_t now);

    /// What a field of its registers holds; 0 where it has none of that name.
    [[nodiscard]] std::uint32_t field(std::string_view name) const;
    /// Whether current flows: its off time is not zero.
    [[nodiscard]] bool awake() const { return field("off_time") != 0; }
    /// Micro-steps that a pulse is one of to a full step.
    [[nodiscard]] double microsteps() const;

    // What may be wrong with it.
    void unplug(bool gone) { silent_ = gone; }
    void becomeAnother() { another_ = true; }
    void forget(bool always) { forgets_ = always; }
    /// Its data line is held high, or low, by something else.
    void hold(std::optional<bool> level) { held_ = level; }
    [[nodiscard]] std::optional<bool> held() const { return held_; }

private:
    void write(int address, std::uint32_t value);
    [[nodiscard]] std::uint32_t read(int address) const;
    [[nodiscard]] std::vector<LineLevel> datagram(const std::vector<std::uint8_t>& bytes, double bit, double end);

    const driver::RegisterMap* map_;
    double clock_;
    std::map<int, std::uint32_t> registers_;
    bool selected_ = false, out_ = false, silent_ = false, another_ = false, forgets_ = false;
    std::optional<bool> held_;
    std::uint64_t shifted_ = 0, answer_ = 0;
    std::uint32_t next_answer_ = 0;
    int bits_ = 0;
    std::vector<LineLevel> levels_;
};

}  // namespace hinge::emulator
