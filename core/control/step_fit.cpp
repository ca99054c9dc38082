#include "control/step_fit.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "quantity/csv.hpp"

namespace hinge::control {
namespace {

// The best gain for a T and L, and the squared error that is left.
struct Trial {
    double gain = 0.0;
    double error = INFINITY;
};

struct Problem {
    std::vector<StepRow> after;  // from the step on, time counted from it
    double start = 0.0;
    double step = 1.0;

    [[nodiscard]] Trial at(double T, double L) const {
        double xx = 0.0, xy = 0.0, yy = 0.0;
        for (const auto& row : after) {
            const double x = row.time > L ? -std::expm1(-(row.time - L) / T) : 0.0, y = row.output - start;
            xx += x * x;
            xy += x * y;
            yy += y * y;
        }
        if (xx <= 0.0) return {};
        return {xy / xx / step, std::max(0.0, yy - xy * xy / xx)};
    }
};

}  // namespace

Result<std::vector<StepRow>> parseStepRows(const std::string& csv) {
    const auto lines = csvRows(csv, "file");
    if (!lines) return tl::unexpected(lines.error());
    if (!lines->empty() && lines->front() != CsvRow{"time", "input", "output"})
        return fail(ErrorCode::BadFormat, "file", lines->front().front().substr(0, 40), "a first line 'time,input,output'");
    std::vector<StepRow> rows;
    for (std::size_t i = 1; i < lines->size(); ++i) {
        const auto bad = [&](const char* wanted) { return fail(ErrorCode::BadFormat, "file", fmt::format("line {}", i + 1), wanted); };
        std::vector<double> values;
        for (const auto& cell : (*lines)[i])
            if (const auto value = parseNumber(cell)) values.push_back(*value);
        if (values.size() != 3 || (*lines)[i].size() != 3) return bad("three numbers: time, input, output");
        if (!rows.empty() && values[0] <= rows.back().time) return bad("a time that rises");
        rows.push_back({values[0], values[1], values[2]});
    }
    return rows;
}

Result<Worked<StepFitResult>> fitStep(const std::vector<StepRow>& rows) {
    std::size_t at = 0;
    for (std::size_t i = 1; i < rows.size() && at == 0; ++i)
        if (rows[i].input != rows[i - 1].input) at = i;
    if (at == 0) return fail(ErrorCode::OutOfRange, "file", "no step", "one step of the input, with rows before it");
    if (rows.size() - at < 10)
        return fail(ErrorCode::OutOfRange, "file", std::to_string(rows.size() - at) + " rows", "at least 10 rows after the step");
    Problem problem;
    problem.step = rows[at].input - rows[at - 1].input;
    for (std::size_t i = 0; i < at; ++i) problem.start += rows[i].output / static_cast<double>(at);
    for (std::size_t i = at; i < rows.size(); ++i) problem.after.push_back({rows[i].time - rows[at].time, rows[i].input, rows[i].output});
    // A grid finds the valley, shrinking boxes its floor: smooth in T, and in L but for single rows.
    const double span = problem.after.back().time;
    double best_T = span / 3.0, best_L = 0.0, width_T = 3.0, width_L = span / 2.0;
    Trial best = problem.at(best_T, best_L);
    for (int round = 0; round < 60; ++round) {
        const double centre_T = best_T, centre_L = best_L;
        const int n = round == 0 ? 24 : 6;
        for (int i = -n; i <= n; ++i)
            for (int j = -n; j <= n; ++j) {
                const double T = centre_T * std::exp(width_T * i / n), L = std::clamp(centre_L + width_L * j / n, 0.0, span * 0.95);
                const auto trial = problem.at(T, L);
                if (trial.error < best.error) best = trial, best_T = T, best_L = L;
            }
        width_T *= 0.6;
        width_L *= 0.6;
    }
    double mean = 0.0, total = 0.0;
    for (const auto& row : problem.after) mean += row.output / static_cast<double>(problem.after.size());
    for (const auto& row : problem.after) total += (row.output - mean) * (row.output - mean);
    Worked<StepFitResult> out;
    auto& r = out.result;
    r.gain = of<Ratio>(best.gain);
    r.time_constant = of<Duration>(best_T);
    r.dead_time = of<Duration>(best_L);
    r.fit = of<Ratio>(total > 0.0 ? 1.0 - best.error / total : best.error == 0.0 ? 1.0 : 0.0);
    const std::string source = "derived: least squares of y = y0 + K·Δu·(1 − e^(−(t − L)/T))";
    addStep(out.steps, "y0", "level before the step, mean", "mean of the rows before", {}, of<Ratio>(problem.start), "definition");
    addStep(out.steps, "K", "gain", "least squares", {}, r.gain, source);
    addStep(out.steps, "T", "time constant", "least squares", {}, r.time_constant, source);
    addStep(out.steps, "L", "dead time", "least squares", {}, r.dead_time, source);
    addStep(out.steps, "R²", "share of the movement it explains", "1 − Σ(y − ŷ)²/Σ(y − ȳ)²", {}, r.fit, "definition");
    return out;
}

Result<Worked<StepFitResult>> stepFit(const StepFit& in) {
    if (in.read == nullptr) return fail(ErrorCode::NotReadable, "file", in.file, "a reader of files");
    const auto text = in.read(in.file);
    if (!text) return tl::unexpected(Error{text.error().code, "file", in.file, text.error().accepted});
    const auto rows = parseStepRows(*text);
    if (!rows) return tl::unexpected(rows.error());
    return fitStep(*rows);
}

FormPtr stepFitForm(FileReader read) {
    auto form = std::make_shared<FormOf<StepFit, StepFitResult>>("step-fit", "tune", "gain, time constant and dead time of a recorded step",
                                                                 "derived: least squares of a first order with dead time", &stepFit);
    form->rule("y = y0 + K·Δu·(1 − e^(−(t − t0 − L)/T)), least squares; fit = R²")
        .in("file", &StepFit::file, nullptr, "CSV with the header time,input,output, SI, one step of the input")
        .out("gain", &StepFitResult::gain, "output over input")
        .out("time_constant", &StepFitResult::time_constant, "of the first order")
        .out("dead_time", &StepFitResult::dead_time, "before it moves")
        .out("fit", &StepFitResult::fit, "R²")
        .prepare([read](StepFit& given) { given.read = read; });
    return form;
}

}  // namespace hinge::control
