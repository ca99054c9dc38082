#pragma once
#include "board/bus_part.hpp"
#include "emulator/simavr.hpp"
#include "timing/calendar.hpp"

namespace hinge::emulator {

/// A clock on the emulated chip's two-wire bus, served from its data table. It goes on through power cuts.
class BusClock {
public:
    /// @param clock  the chip's cycles a second: its own second is as long
    BusClock(avr_t* avr, const board::BusPart& part, std::uint32_t clock);
    BusClock(const BusClock&) = delete;
    BusClock& operator=(const BusClock&) = delete;
    void set(int seconds_after_midnight, timing::Date date);
    /// Not there, or its wire is loose: it does not answer.
    void unplug(bool gone) { gone_ = gone; }
    /// Its battery was empty: it says that it has stood still.
    void emptyBattery() { halted_ = true; }
    [[nodiscard]] int seconds() const;
    [[nodiscard]] timing::Date date() const;
    [[nodiscard]] bool halted() const { return halted_; }

private:
    void hear(std::uint32_t message);
    [[nodiscard]] std::uint8_t read(int reg) const;
    void write(int reg, std::uint8_t value);
    void restart(int seconds, timing::Date date);

    avr_t* avr_;
    avr_irq_t* to_chip_;
    board::BusPart part_;
    std::uint32_t clock_;
    std::uint64_t since_ = 0;  // cycle at which it showed the following
    int seconds_ = 0;
    timing::Date date_;
    bool halted_ = true, gone_ = false, selected_ = false, pointed_ = false;
    int reg_ = 0;
};

}  // namespace hinge::emulator
