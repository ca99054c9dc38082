#pragma once
#include <functional>
#include <memory>
#include <vector>
#include "emulator/simavr.hpp"
#include "emulator/timer_model.hpp"

namespace hinge::emulator {

/// The pins of the emulated chip as a meter would see them: port bit, timer override, pull-up and
/// what drives them from outside. Owns the timer models.
class PinBus {
public:
    explicit PinBus(avr_t* avr);
    ~PinBus();
    PinBus(const PinBus&) = delete;
    PinBus& operator=(const PinBus&) = delete;

    /// Called at each change of a pin's level: port letter, bit, level, cycle.
    std::function<void(char, int, bool, std::uint64_t)> on_edge;
    /// Called after each reset of the chip, when the peripherals are back at their start.
    std::function<void()> after_reset;

    [[nodiscard]] bool level(char port, int bit) const;
    /// True while the firmware drives the pin itself.
    [[nodiscard]] bool isOutput(char port, int bit) const;
    /// Drives an input pin from outside.
    void drive(char port, int bit, bool level);
    /// A timer's output takes a pin over, or lets go of it.
    void setOverride(avr_io_addr_t port_register, int bit, bool enabled, bool level, std::uint64_t when);

private:
    struct Port {
        avr_ioport_t* port = nullptr;
        PinBus* bus = nullptr;
        std::uint8_t level = 0, override_mask = 0, override_level = 0, driven = 0, driven_level = 0;
        avr_io_write_t write[3]{};
        void* write_parameter[3]{};
    };
    struct ResetHook {
        avr_io_t io{};
        PinBus* bus = nullptr;
    };

    void update(Port& port, std::uint64_t when);
    void stopPolling();
    void onReset();
    [[nodiscard]] Port* find(char name) const;
    static void onPortWrite(avr_t* avr, avr_io_addr_t address, std::uint8_t value, void* parameter);
    static std::uint8_t onPinRead(avr_t* avr, avr_io_addr_t address, void* parameter);

    avr_t* avr_;
    ResetHook hook_;
    avr_cycle_count_t cycle_limit_;
    std::vector<std::unique_ptr<Port>> ports_;
    std::vector<std::unique_ptr<TimerModel>> timers_;
};

}  // namespace hinge::emulator
