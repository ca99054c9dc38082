#pragma once
#include <string>
#include "firmware/sketch.hpp"

namespace hinge::firmware {

/// What a sketch has to fire into half-waves of the mains: a timer that runs round, an interrupt for the crossings, one for what is due.
class MainsText {
public:
    explicit MainsText(const SketchModel& model) : model_{model} {}
    [[nodiscard]] static bool isFired(const routine::ProgramOutput& output) { return output.half_waves > 0.0; }
    /// Adds the gate of an output, and gives what sets its share.
    /// @error Missing  the board has no timer for it, or nobody says where the crossings come in
    Result<std::string> add(const SketchOutput& out, const std::string& field, const routine::ProgramOutput& output);
    [[nodiscard]] bool used() const { return gates_ > 0; }
    [[nodiscard]] std::string state() const;
    [[nodiscard]] std::string setup() const;
    /// How many it counts in a second.
    [[nodiscard]] std::string counts() const;
    /// Whole Hz of the mains that is set.
    [[nodiscard]] std::string wanted() const;

private:
    [[nodiscard]] std::string numbered(std::string text) const;
    const SketchModel& model_;
    int gates_ = 0;
    double half_waves_ = 0.0;
    std::string fires_, quenches_;
};

}  // namespace hinge::firmware
