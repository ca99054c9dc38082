#pragma once
// A part where it stands on the bench: the machine that stands in for it.
#include "kinds/words.hpp"
#include "plant/bench.hpp"
#include "plant/pump_plant.hpp"

namespace hinge::kinds {

/// A channel's part, what drives it, and what holds it.
struct Mounting {
    const project::Channel& channel;
    const actuator::Part& part;
    const driver::DriverPart* driver = nullptr;  ///< nullptr: not chosen
    const Context& context;
    const Pairing* chosen = nullptr;        ///< nullptr: not judged
    std::optional<Duration> pulse_from;     ///< of a servo, at the start of its move
    std::optional<double> pulse_per_angle;  ///< s of pulse per radian of the load
    const routine::Loop* loop = nullptr;    ///< that holds it; nullptr: none
    const project::Input* input = nullptr;  ///< that the loop reads
    Temperature ambient{};
    std::vector<std::string>& assumed;  ///< what no fact and no data sheet says is added to it
    void assume(const std::string& what) const { assumed.push_back(channel.name + ": " + what); }
};
/// The machine, and how a sensor sees it; who reads it is the loop's affair.
struct Mounted {
    plant::Machine machine = plant::Rotor{plant::RotorFigures{}};
    plant::Sense sense;
};
/// A part as a load over time.
struct Loading {
    const project::Channel& channel;
    const actuator::Part& part;
    const Context& context;
    double supply = unknown;       ///< V
    std::optional<double> period;  ///< s of its PWM; absent: not chopped
    std::optional<double> real;    ///< measured flow over the modelled one; absent: not measured
    bool pours = false;            ///< what comes out is wanted too
};
/// Inertia that the demand itself has, at the shaft of what is driven [kg·m²]; nullopt where no fact says it.
[[nodiscard]] std::optional<double> inertiaOf(const project::Channel& channel, const Ask& ask);
/// Torque that its bearings and slides take there [N·m].
[[nodiscard]] double frictionOf(const project::Channel& channel, const Ask& ask);

}  // namespace hinge::kinds
