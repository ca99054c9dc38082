#pragma once
#include <cstdint>
#include <string>
#include "emulator/simavr.hpp"

namespace hinge::emulator {

/// The other end of an ATmega32U4's USB: as much of a host as the core's serial port needs to be spoken to. It resets the device, chooses
/// its configuration and raises its line state; it asks for no descriptors.
/// @source Universal Serial Bus Specification 2.0, chapter 9; class definitions for communication devices 1.1 (from memory)
class UsbHost {
public:
    explicit UsbHost(avr_t* avr) : avr_{avr} {}
    /// Whether that chip has a USB at all.
    [[nodiscard]] static bool fits(avr_t* avr);
    /// Does what is due: once in a slice of time. @param outgoing  bytes for the chip; what it has taken is taken out
    void turn(std::string& outgoing, std::string& received);
    /// The chip has been reset: everything begins again.
    void reset() {
        stage_ = Stage::Away;
        next_frame_ = 0;
    }

private:
    enum class Stage { Away, Reset, Configuring, Raising, Open };
    [[nodiscard]] bool attached() const;
    [[nodiscard]] bool setUp(std::uint8_t type, std::uint8_t request, std::uint8_t value);

    void frame();

    avr_t* avr_;
    Stage stage_ = Stage::Away;
    bool asked_ = false;  // a request has been sent, its end is awaited
    std::uint64_t since_ = 0, next_frame_ = 0;
};

}  // namespace hinge::emulator
