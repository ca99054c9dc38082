#pragma once
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

/// The parts of the sketch that make servo pulses and steps, gathered output by output.
class Motion {
public:
    /// @param timer  of an AVR, that beats
    Motion(Target target, int timer) : target_{target}, timer_{timer} {}
    std::string state, beat, load, setup;  ///< beat, load: the steppers' part, each beat and each millisecond
    std::string pulses;                    ///< the servos' part; it stands first, being the one that must be on time

    [[nodiscard]] bool used() const { return !state.empty(); }
    /// True when something has to be done at every beat.
    [[nodiscard]] bool beats() const { return !beat.empty() || !pulses.empty(); }
    /// Adds an output; gives the body of its setOutput(). @param channel  of the chip's PWM, where that makes a servo's pulses
    std::string add(const routine::ProgramOutput& output, const SketchOutput& out, std::size_t i, int channel);
    /// The steps of a stepper, as they are due. @param due  C++ that declares `int due`, in 256ths  @param awake  whether it is enabled
    std::string addStepper(const SketchOutput& out, std::size_t i, const std::string& due, const std::string& awake);
    /// The steps of one that goes on.
    std::string addRate(const routine::ProgramOutput& output, const SketchOutput& out, std::size_t i, const std::string& ramp);
    /// The pulses of a servo. @param wanted  its length in half microseconds, as C++; 0: none
    std::string addServo(const std::string& name, const SketchOutput& out, std::size_t i, int channel, const std::string& wanted);
    /// The heading of the beat's interrupt, and the whole of it.
    [[nodiscard]] std::string heading() const;
    [[nodiscard]] std::string interrupt() const;
    [[nodiscard]] std::string ending() const;
    /// Starts the beat, at setup.
    [[nodiscard]] std::string timer() const;
    /// Puts the beat's milliseconds three quarters behind the ticks: a tick may be that late and its steps still come evenly.
    [[nodiscard]] std::string start() const;

    /// Beats a millisecond: at most a step in each.
    [[nodiscard]] int slots() const { return target_ == Target::Avr ? 16 : 20; }

private:
    [[nodiscard]] std::string raise(const board::Pin& pin) const;
    [[nodiscard]] std::string lower(const board::Pin& pin) const;
    [[nodiscard]] std::string numbered(std::string text) const;  ///< its names with the timer's number in place of '#'
    Target target_;
    int timer_;
    int servos_ = 0;
    std::string ends_;
};

}  // namespace hinge::firmware
