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
    /// Opens every board of more lines, those first on which an output lies. To be called before anything is added.
    /// @error Missing  its lines have no pin
    std::optional<Error> openExpanders();
    /// What an input on such a board is: on or off as a level of its pin, a reading as its value.
    [[nodiscard]] static std::string expandedLevel(const SketchModel& model, const OnExpander& at, int line);
    [[nodiscard]] static std::string expandedReading(const SketchModel& model, const OnExpander& at, int line);
    /// Adds a servo behind an expander, and gives what sends its pulse.
    /// @param wanted  half microseconds of it as C++; 0: none
    std::string addExpander(const SketchOutput& out, std::size_t i, const std::string& wanted);
    /// Adds an output of a board of more lines that is on, off or, of `top` steps, in parts; gives what sends its level.
    std::string addExpanded(const SketchOutput& out, std::size_t i, int top);
    [[nodiscard]] bool used() const { return !state_.empty(); }
    [[nodiscard]] const std::string& state() const { return state_; }  ///< before setup()
    [[nodiscard]] const std::string& setup() const { return setup_; }  ///< before its timers run
    [[nodiscard]] const std::string& ready() const { return ready_; }  ///< after power-up: what did not come out well stays at rest
    [[nodiscard]] const std::string& ticks() const { return ticks_; }  ///< once a tick, after the outputs
    [[nodiscard]] const std::string& lost() const { return lost_; }    ///< says that an expander answers no longer, or again
    /// Of what is asked again later: the next of those drivers that kept their settings, by `asked` …
    [[nodiscard]] const std::string& watched() const { return watched_; }
    /// … and what of them may turn while no cue runs.
    [[nodiscard]] const std::string& turning() const { return turning_; }
    [[nodiscard]] const std::string& said() const { return said_; }  ///< cases of a switch: a line for each, what came of it

private:
    [[nodiscard]] std::string open(const board::Pin& pin, bool high) const;
    [[nodiscard]] std::string set(const board::Pin& pin) const;
    [[nodiscard]] std::string isHigh(const board::Pin& pin) const;
    [[nodiscard]] std::string listen(const board::Pin& pin) const;
    std::optional<Error> spiPins(const std::string& name, const SketchOutput& out, const std::string& field);
    std::optional<Error> openExpander(const OnExpander& at, std::size_t e);
    std::optional<Error> openSerial(const OnExpander& at, std::size_t e);
    std::optional<Error> openPulses(const OnExpander& at, std::size_t e);
    std::optional<Error> openLevels(const OnExpander& at, std::size_t e);
    std::optional<Error> twoWires(const OnExpander& at, std::size_t e);
    std::optional<Error> openReadings(const OnExpander& at, std::size_t e);
    void saysOf(const std::string& name, std::size_t e, const std::string& configure);
    /// The number of the board on which an output lies, which waits for its answer.
    std::size_t expanderOf(const SketchOutput& out, std::size_t i);
    std::optional<Error> wirePins(const std::string& name, const SketchOutput& out, const std::string& field);

    const SketchModel& model_;
    bool bus_open_ = false;
    int drivers_ = 0;
    std::string state_, setup_, ready_, ticks_, lost_, watched_, turning_, said_;
};

}  // namespace hinge::firmware
