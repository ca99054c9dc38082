#pragma once
// A loop and its machine together, tick by tick, as the chip would run them.
#include <functional>
#include <optional>
#include <vector>
#include "control/pid.hpp"
#include "plant/bench.hpp"

namespace hinge::control {

/// The experiment: what turns, who holds it, and what is asked of it.
struct LoopSetup {
    plant::Coupling machine;  ///< its sense says what the loop reads
    PidFigures pid;
    bool rolls = false;       ///< the drive is a rate of steps that moves the machine's place
    double turn_pause = 0.0;  ///< s that its drive is nothing before it changes its way, where it has two; it does so at a period's end
    double before = 0.0;      ///< counts wanted at first …
    double wanted = 0.0;      ///< … and from `step_at` on
    double step_at = 0.2;     ///< s
    double length = 3.0;      ///< s
    double ramp = 0.0;        ///< s from the step on in which the drive is let through more and more: a soft start
    double push_at = -1.0;    ///< s: a shove, where the machine knows one
    double push = 0.0;
    std::uint64_t seed = 1;  ///< of the sensor's noise
    double tick = 1e-3;      ///< s of a step; longer for what is slow and stepped exactly
};
/// One row for each period of the loop.
struct LoopRow {
    double time = 0.0;     ///< s
    double wanted = 0.0;   ///< counts
    double reading = 0.0;  ///< counts
    double drive = 0.0;    ///< share, or steps a second
    double value = 0.0;    ///< what the machine really did, SI
};
struct LoopRun {
    std::vector<LoopRow> rows;
    bool troubled = false;  ///< it fell, spilled, or was held fast
    double energy = 0.0;    ///< ∫ drive² dt: what heats
    double travel = 0.0;    ///< Σ |change of drive|: what is heard
};

[[nodiscard]] LoopRun runLoop(const LoopSetup& setup);
/// The same with any law in the loop's place. @param law  drive from what is wanted, the reading, and the way in steps
[[nodiscard]] LoopRun runLoop(const LoopSetup& setup, const std::function<double(double, double, double)>& law);

/// Relay experiment: the drive swings to both sides of `middle` by `swing`, whenever the reading crosses what is wanted.
/// @param slack  counts of hysteresis
[[nodiscard]] LoopRun runRelay(LoopSetup setup, double middle, double swing, double slack);
struct RelayReading {
    double amplitude = 0.0;  ///< counts, half of peak to peak, mean of the last half of the swings
    double period = 0.0;     ///< s
    int swings = 0;
};
/// What a relay experiment shows; nullopt with fewer than four full swings.
[[nodiscard]] std::optional<RelayReading> readRelay(const std::vector<LoopRow>& rows);

}  // namespace hinge::control
