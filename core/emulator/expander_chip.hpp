#pragma once
#include <array>
#include <cstdint>
#include <vector>
#include "driver/register_map.hpp"
#include "emulator/line_level.hpp"

namespace hinge::emulator {

/// A board that makes the pulses of many servos, as its data table says and nothing else.
class ExpanderChip {
public:
    /// @param clock  the chip's cycles a second, in which all times are given
    ExpanderChip(const driver::RegisterMap& map, double clock);
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
    /// Cycles of an output's pulse; 0: none.
    [[nodiscard]] double width(int output) const;

    // What may be wrong with it.
    void unplug(bool gone) { silent_ = gone; }
    void moveTo(int address) { address_ = address; }
    void forget(bool always) { forgets_ = always; }

private:
    [[nodiscard]] std::uint32_t field(std::string_view name) const;
    void byte(std::uint8_t value);

    const driver::RegisterMap* map_;
    double clock_;
    int address_ = 0;
    bool silent_ = false, forgets_ = false;
    std::array<std::uint8_t, 256> registers_{};
    // Two wires.
    bool clock_line_ = true, data_line_ = true, pulls_ = false;
    enum class Doing { Nothing, Address, Register, Write, Read } doing_ = Doing::Nothing;
    int bits_ = 0;
    std::uint8_t shifted_ = 0, pointer_ = 0;
    // The serial line.
    std::vector<LineLevel> levels_;
    std::vector<std::uint8_t> command_;
    bool begun_ = false;
    std::vector<double> targets_;  ///< counts
};

}  // namespace hinge::emulator
