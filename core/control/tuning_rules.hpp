#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::control {

enum class Controller { P, Pi, Pid };
enum class StepRule { ZieglerNichols, CohenCoon, Simc, Lambda, Amigo };
enum class RelayRule { ZieglerNichols, TyreusLuyben, NoOvershoot };

/// Gains in the ideal form u = kp·(e + 1/ti·∫e + td·de/dt).
struct Gains {
    Ratio kp{};
    std::optional<Duration> ti;  ///< null: no integral part
    Duration td{};
    Ratio ki{};  ///< kp/ti
    Ratio kd{};  ///< kp·td
};

/// Gains from a step response with gain K, time constant T and dead time L.
struct PidRule {
    Ratio gain{};
    Duration time_constant{};
    Duration dead_time{};
    StepRule rule = StepRule::Simc;
    Controller controller = Controller::Pid;
    std::optional<Duration> closed_loop_time;  ///< L for simc, 3·L for lambda
};
/// @error OutOfRange  a controller that the rule does not give; a dead time of 0 where it divides
/// @source ziegler-nichols-1942, cohen-coon-1953, skogestad-2003, lambda-tuning, amigo-2004
[[nodiscard]] Result<Worked<Gains>> pidRule(const PidRule& in);
[[nodiscard]] FormPtr pidRuleForm();

/// Gains from a relay experiment.
struct RelayTune {
    Ratio output_amplitude{};    ///< d: the relay swings ± this
    Ratio response_amplitude{};  ///< a: half of peak to peak
    Duration period{};
    RelayRule rule = RelayRule::ZieglerNichols;
    Controller controller = Controller::Pid;
};
struct RelayTuneResult {
    Ratio ultimate_gain{};  ///< 4d/(πa)
    Gains gains;
    Ratio kp{};
    std::optional<Duration> ti;
    Duration td{};
    Ratio ki{};
    Ratio kd{};
};
/// @error OutOfRange  a controller that the rule does not give
/// @source astrom-hagglund-1984, ziegler-nichols-1942, tyreus-luyben-1992
[[nodiscard]] Result<Worked<RelayTuneResult>> relayTune(const RelayTune& in);
[[nodiscard]] FormPtr relayTuneForm();

/// How fast a body that stands on an axle falls, and how fast its loop has to be.
struct BalanceLoop {
    Length height{};  ///< axle to centre of mass
    std::optional<Length> wheel_diameter;
    std::optional<Length> distance_per_step;
};
struct BalanceLoopResult {
    Duration fall_time_constant{};  ///< √(h/g), wheels held in speed; free wheels fall faster
    Duration longest_period{};      ///< a twentieth of it
    std::optional<Angle> lean_per_step;
};
/// @source inverted-pendulum
[[nodiscard]] Result<Worked<BalanceLoopResult>> balanceLoop(const BalanceLoop& in);
[[nodiscard]] FormPtr balanceLoopForm();

/// The longest sampling period of a loop.
struct LoopPeriod {
    std::optional<Duration> time_constant;  ///< of the closed loop, one of these
    std::optional<RotationSpeed> crossover;
};
struct LoopPeriodResult {
    Duration longest_period{};
};
/// 0.15·T or 0.15/ωc: the tight end of ωc·h = 0.15…0.5. @source astrom-wittenmark
[[nodiscard]] Result<Worked<LoopPeriodResult>> loopPeriod(const LoopPeriod& in);
[[nodiscard]] FormPtr loopPeriodForm();

}  // namespace hinge::control

template <>
struct hinge::Names<hinge::control::Controller> {
    using C = hinge::control::Controller;
    static constexpr std::array all{hinge::Name<C>{C::P, "p", "P"}, hinge::Name<C>{C::Pi, "pi", "PI"},
                                    hinge::Name<C>{C::Pid, "pid", "PID"}};
};
template <>
struct hinge::Names<hinge::control::StepRule> {
    using R = hinge::control::StepRule;
    static constexpr std::array all{hinge::Name<R>{R::ZieglerNichols, "ziegler-nichols", "Ziegler and Nichols"},
                                    hinge::Name<R>{R::CohenCoon, "cohen-coon", "Cohen and Coon"}, hinge::Name<R>{R::Simc, "simc", "SIMC"},
                                    hinge::Name<R>{R::Lambda, "lambda", "lambda"}, hinge::Name<R>{R::Amigo, "amigo", "AMIGO"}};
};
template <>
struct hinge::Names<hinge::control::RelayRule> {
    using R = hinge::control::RelayRule;
    static constexpr std::array all{hinge::Name<R>{R::ZieglerNichols, "ziegler-nichols", "Ziegler and Nichols"},
                                    hinge::Name<R>{R::TyreusLuyben, "tyreus-luyben", "Tyreus and Luyben"},
                                    hinge::Name<R>{R::NoOvershoot, "no-overshoot", "no overshoot"}};
};
