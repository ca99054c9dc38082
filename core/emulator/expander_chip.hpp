#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <vector>
#include "driver/register_map.hpp"
#include "emulator/line_level.hpp"

namespace hinge::emulator {

/// A board of more lines, as its data table says and nothing else.
class ExpanderChip {
public:
    /// @param clock  the chip's cycles a second, in which all times are given
    /// @param board  which of several alike: its address counts up
    ExpanderChip(const driver::RegisterMap& map, double clock, int board = 1);
    [[nodiscard]] driver::RegisterBus bus() const { return map_->bus; }
    /// The power is gone and back: no pulses, and asleep.
    void restart();

    /// Two wires, each as it stands now. @return whether it pulls the data line down
    bool heard(bool clock, bool data);
    /// The serial line from a cycle on.
    void heard(std::uint64_t cycle, bool high);
    /// Bytes that are whole by now.
    void listen(std::uint64_t now);

    [[nodiscard]] int outputs() const { return static_cast<int>(map_->figure("outputs")); }
    /// Cycles from a pulse to the next; 0 while it sleeps.
    [[nodiscard]] double period() const;
    /// Cycles of an output's pulse; 0: none; as long as its period: on for good.
    [[nodiscard]] double width(int output) const;
    /// Whether its lines are on or off, and no pulses.
    [[nodiscard]] bool hasLevels() const { return driver::gives(*map_) == driver::ExpanderGives::Levels; }
    /// Whether a line of such drives high; one that is an input drives nothing.
    [[nodiscard]] bool level(int output) const;

    /// A line of such from outside, as long as it is an input; nothing: it is open, and its pull-up decides.
    void setLine(int line, std::optional<bool> high);
    /// What lies at an input of a converter [V].
    void setVolts(int line, double volts);

    // What may be wrong with it.
    void unplug(bool gone) { silent_ = gone; }
    /// @param address  at which it answers from now on
    void moveTo(int address) { address_ = address; }
    void forget(bool always) { forgets_ = always; }

private:
    [[nodiscard]] std::uint32_t field(std::string_view name) const;
    [[nodiscard]] bool bit(const char* registers, int line) const;
    [[nodiscard]] bool converts() const { return driver::gives(*map_) == driver::ExpanderGives::Readings; }
    /// The byte that is read next, at the register that was named.
    [[nodiscard]] std::uint8_t shown() const;
    void byte(std::uint8_t value);
    void convert();

    const driver::RegisterMap* map_;
    double clock_;
    int address_ = 0;
    bool silent_ = false, forgets_ = false;
    std::array<std::uint8_t, 256> registers_{};
    std::array<std::optional<bool>, 16> lines_{};  ///< from outside
    std::array<double, 4> volts_{};
    std::array<std::uint16_t, 4> words_{};  ///< of a converter, whose registers have sixteen bits
    int half_ = 0;                          ///< of such a register: which of its two bytes comes next
    // Two wires.
    bool clock_line_ = true, data_line_ = true, pulls_ = false;
    enum class Doing { Nothing, Address, Register, Write, Read } doing_ = Doing::Nothing;
    int bits_ = 0, read_ = 0;  ///< read_: bytes that were begun, the address among them
    std::uint8_t shifted_ = 0, pointer_ = 0;
    // The serial line.
    std::vector<LineLevel> levels_;
    std::vector<std::uint8_t> command_;
    bool begun_ = false;
    std::vector<double> targets_;  ///< counts
};

}  // namespace hinge::emulator
