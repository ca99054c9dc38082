#pragma once
// What is sent to places: a hobby servo with its end stops, and a stepper axis that can lose steps.
#include <vector>

namespace hinge::plant {

struct ServoFigures {
    double zero_place = 2000.0;                                             ///< half µs of pulse at angle 0
    double per_place = 3.1416 / 2000.0;                                     ///< rad for each half µs
    double most_speed = 6.0;                                                ///< rad/s under its load
    double quickness = 0.02;                                                ///< s: how fast it closes in once it is near
    double low_stop = -0.2, high_stop = 3.3;                                ///< rad: where it strains
    double dead = 0.01;                                                     ///< rad that it does not mind
    double rest_current = 0.01, move_current = 0.15, strain_current = 0.7;  ///< A
};
/// At full speed until it is near, then an exponential: exact at whatever step.
/// @source servo-linear
class ServoPlant {
public:
    explicit ServoPlant(ServoFigures figures) : figures_{figures} {}
    /// @param place  half µs of its pulse; 0: no pulse, it hangs loose
    void step(double dt, double place);
    [[nodiscard]] double angle() const noexcept { return angle_; }
    [[nodiscard]] double current() const noexcept { return current_; }
    [[nodiscard]] bool strains() const noexcept { return strains_; }
    [[nodiscard]] const ServoFigures& figures() const noexcept { return figures_; }

private:
    ServoFigures figures_;
    double angle_ = 0.0, current_ = 0.0;
    bool strains_ = false;
};

struct StepAxisFigures {
    double places_per_turn = 3200.0;     ///< micro-steps
    double teeth = 50.0;                 ///< a quarter of the full steps of a turn
    double inertia = 1e-5;               ///< kg·m² at the motor
    double damping = 1e-4;               ///< N·m·s/rad
    double load = 0.0;                   ///< N·m against the motion
    double speed_spacing = 5.0;          ///< rad/s between the entries of `torque`
    std::vector<double> torque = {0.3};  ///< N·m peak at speeds 0, spacing, 2·spacing, …: falls where the supply limits it
};
/// The rotor hangs on the field like a mass on a spring that slips when it is pulled too far: it loses four full
/// steps at a time. Runge and Kutta, 50 µs.
/// @source derived: Jθ'' = T(ω)·sin(p(θc − θ)) − Dθ' − T·sgn θ'; the torque curve by stepper-voltage-limit
class StepAxis {
public:
    explicit StepAxis(StepAxisFigures figures) : figures_{std::move(figures)} {}
    /// @param place  where the steps have come to at the end of the step, in micro-steps; straight on from the last
    void step(double dt, double place);
    [[nodiscard]] double angle() const noexcept { return angle_; }  ///< rad of the rotor
    [[nodiscard]] double speed() const noexcept { return speed_; }  ///< rad/s
    /// Micro-steps by which the rotor is elsewhere than it is thought to be: whole multiples of four full steps.
    [[nodiscard]] double lost() const noexcept;
    [[nodiscard]] const StepAxisFigures& figures() const noexcept { return figures_; }
    /// The first place is where the rotor is taken to stand.
    void standAt(double place);

private:
    [[nodiscard]] double torqueAt(double speed) const;
    StepAxisFigures figures_;
    double angle_ = 0.0, speed_ = 0.0, commanded_ = 0.0;  ///< rad
    bool placed_ = false;
};

}  // namespace hinge::plant
