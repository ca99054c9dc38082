#pragma once
#include <string>
#include "firmware/sketch.hpp"

namespace hinge::firmware {

/// What a sketch has for drivers whose settings are registers: their pins, what is written into each, and what came of it.
class RegisterText {
public:
    explicit RegisterText(const SketchModel& model) : model_{model} {}
    /// Adds the driver of an output.
    /// @param i  its place among the outputs
    /// @error Missing  one of its lines has no pin
    std::optional<Error> add(const SketchOutput& out, std::size_t i, const routine::ProgramOutput& output);
    /// Adds an output of a servo expander, and gives what sends its pulse.
    /// @param wanted  half microseconds of it as C++; 0: none
    Result<std::string> addExpander(const SketchOutput& out, std::size_t i, const std::string& wanted);
    [[nodiscard]] bool used() const { return !state_.empty(); }
    [[nodiscard]] const std::string& state() const { return state_; }  ///< before setup()
    [[nodiscard]] const std::string& setup() const { return setup_; }  ///< before its timers run
    [[nodiscard]] const std::string& ready() const { return ready_; }  ///< after power-up: what did not come out well stays at rest
    [[nodiscard]] const std::string& ticks() const { return ticks_; }  ///< once a tick, after the outputs
    [[nodiscard]] const std::string& lost() const { return lost_; }    ///< says that an expander answers no longer, or again
    [[nodiscard]] const std::string& said() const { return said_; }    ///< cases of a switch: a line for each, what came of it

private:
    [[nodiscard]] std::string open(const board::Pin& pin, bool high) const;
    [[nodiscard]] std::string set(const board::Pin& pin) const;
    [[nodiscard]] std::string isHigh(const board::Pin& pin) const;
    [[nodiscard]] std::string listen(const board::Pin& pin) const;
    std::optional<Error> spiPins(const std::string& name, const SketchOutput& out, const std::string& field);
    std::optional<Error> openExpander(const SketchOutput& out, std::size_t e);
    std::optional<Error> wirePins(const std::string& name, const SketchOutput& out, const std::string& field);

    const SketchModel& model_;
    bool bus_open_ = false;
    int drivers_ = 0;
    std::vector<std::string> expanders_;  ///< ids of their parts, in the order of their numbers
    std::string state_, setup_, ready_, ticks_, lost_, said_;
};

}  // namespace hinge::firmware
