#pragma once
// What a step response says, in numbers and in words.
#include <optional>
#include <string>
#include "control/closed_loop.hpp"

namespace hinge::control {

/// What the maker asked for.
struct Target {
    double settle_within = 1.0;  ///< s
    double band = 0.05;          ///< share of the step, both ways; also what it may overshoot by
    friend bool operator==(const Target&, const Target&) = default;
};

/// Figures of one response to a step. Shares are of the step.
struct Response {
    double start = 0.0, target = 0.0;  ///< counts
    std::optional<double> rise;        ///< s from 10 to 90 %
    double overshoot = 0.0;            ///< share beyond the target, the sensor's noise taken off
    double peak_at = 0.0;              ///< s after the step
    std::optional<double> settled;     ///< s after the step from which it stays within the band; absent: never
    double lean = 0.0;                 ///< share by which its mean stays off at the end: below zero, short of it
    int rings = 0;                     ///< swings out of the band after it was first reached
    double noise = 0.0;                ///< share rms at the end
    double effort = 0.0;               ///< mean of |drive| at the end
    double hum = 0.0;                  ///< mean |change of drive| from period to period at the end
    double most = 0.0;                 ///< largest |drive|
    bool limited = false;              ///< the drive stood at its limit for a quarter of the time or more after it was near
    bool runs_away = false;            ///< swings that grow, or the wrong way
    bool moved = false;                ///< it left its start by more than a tenth of the step
};
/// @param rows  with one step of `wanted`
/// @return nullopt without a step, or with fewer than ten rows after it
/// @source definition: rise 10 to 90 %, overshoot and settling by the usual meaning of a step response
[[nodiscard]] std::optional<Response> readResponse(const std::vector<LoopRow>& rows, const Target& target, double least = 0.0,
                                                   double most = 1.0);

/// Counts off from which nothing of ours comes back: it falls. Common practice, no published source.
inline constexpr double fallen = 400.0;
/// The same of what is held upright: how far it leaned, and whether it stands. It is looked at from the moment on from which it stood
/// for a quarter of a second, within half of `fallen`; one that falls after that fell, though somebody sets it up again, and no figure
/// is taken from after the fall.
struct Standing {
    double furthest = 0.0;  ///< counts off, largest after its first second
    double wanders = 0.0;   ///< counts rms at the end
    double hum = 0.0;       ///< mean |change of drive|
    bool stands = false;
};
/// @param rows  of a run or of a recorded trial
[[nodiscard]] Standing readStanding(const std::vector<LoopRow>& rows);
/// The same of the model, which knows whether its body lies.
[[nodiscard]] Standing readStanding(const LoopRun& run);

/// True when it settles in time and within the band.
[[nodiscard]] bool meets(const Response& response, const Target& target);

/// Plain words: what is the matter ("It overshoots by a third and rings 4 times."), and what to try ("Less P, or more D.").
struct Words {
    std::string matter, advice;
};
[[nodiscard]] Words sayResponse(const Response& response, const ParallelGains& gains, const Target& target);

/// The maker's order: all zero; raise P until it quivers; D to calm it; I to take out the lean.
enum class GuideStep { RaiseP, BackOff, AddD, AddI, Done };
struct Guidance {
    GuideStep step = GuideStep::RaiseP;
    ParallelGains next;  ///< to try now
    std::string words;
};
/// What to try after this response. @param step  where the maker is in the order
[[nodiscard]] Guidance guide(GuideStep step, const ParallelGains& gains, const std::optional<Response>& response, const Target& target,
                             double first_p, double period);

}  // namespace hinge::control
