#pragma once
// A capture laid against the plan: what the pins did, beside what they should do.
#include <string>
#include <vector>
#include "capture/capture.hpp"
#include "plan/plan.hpp"
#include "plant/stand_in.hpp"

namespace hinge::proof {

/// One figure of one channel.
struct CaptureCheck {
    std::string signal;   ///< as the capture names it
    std::string channel;  ///< id
    std::string what;     ///< "PWM frequency", "steps of a move"
    Kind kind = Kind::Frequency;
    double measured = 0.0;           ///< SI
    double planned = 0.0;            ///< SI
    double least = 0.0, most = 0.0;  ///< SI, what holds
    Verdict verdict = Verdict::Unknown;
    std::string text;  ///< what is wrong and what to do; empty when it holds
};

/// Lines are known by a channel's id, name or pin, whatever the case. PWM: frequency to 1 % (3 % is
/// tight: ceramic resonators and RC clocks), share of high time to 2 % of full. Servo: frame to 1 %, pulses inside the ends of
/// the move ± 10 µs. A gate on the mains: once each half-wave to 1 %, let go before
/// the next crossing. Steps: every move with all its steps and no faster than planned by a tenth.
/// Pulses left out break. (Limits: common practice, no published source.)
[[nodiscard]] std::vector<CaptureCheck> checkCapture(const capture::Capture& capture, const project::Project& project,
                                                     const plan::Plan& plan);
/// The edges of a stand-in as a capture: outputs by their ids, inputs as their pins stand.
[[nodiscard]] capture::Capture captureOf(std::vector<plant::Edge> edges, const project::Project& project, const plan::Plan& plan,
                                         double length, std::size_t keep_edges);
/// The channel that a line of that name belongs to; nullptr for none.
[[nodiscard]] const project::Channel* channelOfSignal(const project::Project& project, const std::string& signal);

}  // namespace hinge::proof
