#pragma once
#include <array>
#include <cstdint>
#include <deque>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "board/bus_part.hpp"
#include "quantity/result.hpp"

namespace hinge::emulator {

class BusClock;
class PinBus;
class UsbHost;

/// An AVR running a firmware file, with true timers and a paced serial port.
class Chip {
public:
    /// @param file   its ending tells its kind: .hex, or ELF. In this process run only what this program has made: see Guest
    /// @param mcu    "atmega328p"
    /// @param clock  [Hz]
    /// @error NotFound               no such file
    /// @error BadFormat, OutOfRange  it is no firmware, or does not fit the chip
    static Result<std::unique_ptr<Chip>> load(const std::filesystem::path& file, const std::string& mcu, std::uint32_t clock);
    /// The same from a file's bytes.
    static Result<std::unique_ptr<Chip>> loadBytes(std::string_view bytes, const std::string& name, const std::string& mcu,
                                                   std::uint32_t clock);
    ~Chip();
    Chip(const Chip&) = delete;
    Chip& operator=(const Chip&) = delete;

    /// Runs to an absolute cycle; the overshoot is a few cycles and does not add up.
    /// @return false when the firmware has crashed or gone to sleep for good
    bool runTo(std::uint64_t cycle);
    [[nodiscard]] std::uint64_t cycle() const;
    [[nodiscard]] std::uint32_t clock() const { return clock_; }
    PinBus& pins() { return *pins_; }
    /// What a channel of the converter reads, 0 to 1023; channels 0 to 15. The chip samples at the start of a conversion: one that runs
    /// goes on with what was there.
    void setAnalogue(int channel, int reading);
    /// Lets long stretches go by at once in which loop() only asks whether the next tick is due: what would have been done in them is known
    /// from one round, which leaves everything as it was. For own sketches, whose loop asks micros() once and nothing else for the time.
    /// @param elf  its bytes. Nothing is let go by where its names are not all there
    void letIdleGoBy(std::string_view elf);
    /// From now on every cycle is run.
    void runEverything() { idle_.reset(); }
    /// Cycles that were let go by.
    [[nodiscard]] std::uint64_t idled() const { return idled_; }
    /// Whether it has a serial port, of its own or over USB.
    [[nodiscard]] bool hasSerial() const;
    /// Bytes to a serial port of the chip, fed at its own rate. @param port  0: the link's, over USB where it is that
    void send(std::string_view bytes, int port = 0);
    /// Bytes that the chip has sent there since the last call.
    [[nodiscard]] std::string received(int port = 0);
    /// The rate at which such a port runs [baud]; 0: it does not, or there is none.
    [[nodiscard]] double serialRate(int port) const;
    /// Puts a clock on the two-wire bus.
    void attachClock(const board::BusPart& part);
    [[nodiscard]] BusClock* busClock() { return bus_clock_.get(); }
    /// Power goes and comes back: everything starts anew but the EEPROM.
    void cutPower();
    [[nodiscard]] int resets() const { return resets_; }
    /// Cycles spent in interrupts so far, entry included, and in the longest of them.
    [[nodiscard]] std::uint64_t interruptCycles() const { return in_interrupts_; }
    [[nodiscard]] std::uint64_t longestInterrupt() const { return longest_interrupt_; }
    /// Called with the cycle each time the firmware writes to its first general purpose register: own sketches are built to
    /// do so at every loop().
    std::function<void(std::uint64_t)> on_mark;
    /// Times that the interrupt behind millis() was served, and times that it was due since the timer ran as usual.
    [[nodiscard]] std::uint64_t clockTicksServed() const { return clock_ticks_; }
    [[nodiscard]] std::uint64_t clockTicksDue() const;

private:
    Chip() = default;
    /// @param clock_vector  of the interrupt behind millis()
    void watchInterrupts(int clock_vector);
    void fitConverter();
    void watchMark();
    void fitSerial();
    struct Serial;
    void watchSerial(Serial& port);
    void feedSerial(std::uint64_t until);
    void paceSerial();
    [[nodiscard]] bool serialWaits() const;
    [[nodiscard]] Serial* serialOf(int port) const;
    void putAnalogue(std::size_t channel, int reading);
    void putWaiting();
    void putWide();
    void skipIdle(std::uint64_t until);
    [[nodiscard]] std::uint32_t inMemory(std::uint32_t address) const;

    struct Library;
    std::unique_ptr<Library> library_;
    std::unique_ptr<PinBus> pins_;
    std::unique_ptr<BusClock> bus_clock_;
    std::unique_ptr<UsbHost> usb_;  ///< where the serial port is a USB
    std::uint32_t clock_ = 16'000'000;
    bool small_ = false;                             // an ATtiny85, whose registers stand elsewhere
    std::string to_chip_, from_chip_;                ///< over USB
    std::vector<std::unique_ptr<Serial>> serial_{};  ///< the chip's own ports
    std::array<int, 16> waiting_{-1, -1, -1, -1, -1, -1, -1, -1,
                                 -1, -1, -1, -1, -1, -1, -1, -1};  // readings that came while a conversion ran
    std::uint64_t waits_since_ = 0;
    std::array<std::uint16_t, 8> wide_{};  // millivolts at channels 8 to 15
    int resets_ = 0;
    std::uint64_t clock_ticks_ = 0, first_clock_tick_ = 0;
    std::uint64_t entered_ = 0, in_interrupts_ = 0, longest_interrupt_ = 0;
    bool alive_ = true;
    struct Idle {
        std::uint32_t micros = 0;                    ///< byte address of the function
        std::uint32_t last_tick = 0, overflows = 0;  ///< of the sketch's and the sketch API's variables
    };
    std::optional<Idle> idle_;
    std::uint64_t entries_ = 0, idled_ = 0;  ///< into interrupts
    std::uint64_t look_again_ = 0;           ///< not before this cycle: it was busy
    std::vector<std::uint8_t> seen_;         ///< the memory at one call of micros()
};

}  // namespace hinge::emulator
