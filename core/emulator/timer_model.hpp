#pragma once
#include <array>
#include <cstdint>
#include "emulator/simavr.hpp"

namespace hinge::emulator {

class PinBus;

/// A timer/counter with all its waveform modes, in place of the library's own, which lacks most of
/// them. Takes over the timer's registers; output pins change through the PinBus.
/// Not modelled: external clock, asynchronous operation, forced compare, power reduction.
/// @source atmega328p-datasheet, chapters 15 to 18
class TimerModel {
public:
    TimerModel(avr_t* avr, avr_timer_t* timer, PinBus* bus);
    TimerModel(const TimerModel&) = delete;
    TimerModel& operator=(const TimerModel&) = delete;
    void reset();

private:
    enum class Wave { Normal, Ctc, Fast, PhaseCorrect, PhaseFrequencyCorrect };
    enum class TopFrom { Fixed, CompareA, Capture };
    static constexpr int compares = 3;

    [[nodiscard]] bool dual() const { return wave_ >= Wave::PhaseCorrect; }
    [[nodiscard]] bool pwm() const { return wave_ >= Wave::Fast; }
    [[nodiscard]] bool has(int i) const { return timer_->comp[i].r_ocr != 0; }
    [[nodiscard]] std::uint32_t reg(avr_io_addr_t low, avr_io_addr_t high) const;
    [[nodiscard]] std::int64_t top() const;
    [[nodiscard]] std::int64_t period(std::int64_t at) const;
    [[nodiscard]] std::uint32_t selectedPrescaler() const;
    [[nodiscard]] std::uint32_t count() const;
    [[nodiscard]] std::int64_t nextTick() const;
    void decodeMode();
    void setCount(std::uint32_t count);
    void advance(std::uint64_t now);
    void fire(std::int64_t tick, std::uint64_t when);
    void fireSingle(std::int64_t tick, std::uint64_t when);
    void fireDual(std::int64_t tick, std::uint64_t when);
    void match(int i);
    void act(int i, bool bottom, bool down, std::uint64_t when);
    void load() { compare_ = buffered_; }
    void connectOutputs(std::uint64_t when);
    void schedule();
    void mirror();

    static avr_cycle_count_t onEvent(avr_t* avr, avr_cycle_count_t when, void* self);
    static std::uint8_t onRead(avr_t* avr, avr_io_addr_t address, void* self);
    static void onWrite(avr_t* avr, avr_io_addr_t address, std::uint8_t value, void* self);

    avr_t* avr_;
    avr_timer_t* timer_;
    PinBus* bus_;
    Wave wave_ = Wave::Normal;
    TopFrom top_from_ = TopFrom::Fixed;
    std::int64_t fixed_top_ = 0xff;
    std::int64_t widest_;
    std::uint32_t prescaler_ = 0;  // 0: stopped
    std::uint64_t origin_ = 0;     // cycle of tick 0 of this period
    std::int64_t done_ = 0;        // last tick worked off
    std::uint32_t held_ = 0;       // count while stopped
    std::array<std::uint32_t, compares> compare_{}, buffered_{};
    std::array<bool, compares> latch_{}, enabled_{}, was_enabled_{};
    std::array<int, compares> mode_{};  // compare output mode bits
};

}  // namespace hinge::emulator
