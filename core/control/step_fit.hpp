#pragma once
#include "working/form.hpp"

namespace hinge::control {

/// One row of a recorded step response, SI.
struct StepRow {
    double time = 0.0;
    double input = 0.0;
    double output = 0.0;
};
struct StepFitResult {
    Ratio gain{};
    Duration time_constant{};
    Duration dead_time{};
    Ratio fit{};  ///< R², 1 is perfect
};
/// First order with dead time, by least squares; the start level is the mean before the step.
/// @error OutOfRange  no step of the input, or fewer than 10 rows after it; naming `file`
/// @source derived: y = y0 + K·Δu·(1 − e^(−(t − t0 − L)/T)); K linear, T and L by search
[[nodiscard]] Result<Worked<StepFitResult>> fitStep(const std::vector<StepRow>& rows);

/// Reads a CSV with the header time,input,output.
/// @error BadFormat  naming `file` and the line
[[nodiscard]] Result<std::vector<StepRow>> parseStepRows(const std::string& csv);

/// The working as text in, text out; whoever shows it brings the reader of files, since this room
/// touches none.
using FileReader = Result<std::string> (*)(const std::string& path);
struct StepFit {
    std::string file;
    FileReader read = nullptr;
};
/// The rows of `file`, fitted as above.
/// @error what `read`, parseStepRows and fitStep refuse, naming `file`
/// @source derived: see fitStep
[[nodiscard]] Result<Worked<StepFitResult>> stepFit(const StepFit& in);
[[nodiscard]] FormPtr stepFitForm(FileReader read);

}  // namespace hinge::control
