#pragma once
// What turns: a brushed motor with its load, and a fan that keeps its own speed.

namespace hinge::plant {

/// A brushed motor seen at the shaft of what it drives. Plain SI.
struct RotorFigures {
    double supply = 12.0;      ///< V across the winding at a share of 1
    double resistance = 10.0;  ///< Ω: winding, driver, wire
    double back = 1.0;         ///< V·s/rad of back-EMF
    double torque = 1.0;       ///< N·m/A
    double inertia = 1e-3;     ///< kg·m²
    double friction = 0.0;     ///< N·m against the motion
    double stiction = 0.0;     ///< N·m that hold it at rest; at least friction is taken
    double play = 0.0;         ///< rad between the gear and what it drives
    bool brakes = true;        ///< a bridge that shorts the winding between its pulses; false: a diode, it only coasts
};
/// Straight lines between stand, drive and coast, so each stretch is an exponential or a parabola: exact at
/// whatever step. The winding's own time is left out: it is short beside the load's.
/// @source derived: Jω' = k(dV − k'ω)/R − T·sgn ω, friction holds it at rest below stiction
class Rotor {
public:
    explicit Rotor(RotorFigures figures) : figures_{figures} {}
    /// @param share  of full power, −1 to 1; its sign turns it the other way
    /// @param loose  its bridge is let go, and no current flows but what the speed itself drives through the diodes: none, below the supply
    void step(double dt, double share, bool loose = false);
    [[nodiscard]] double speed() const noexcept { return speed_; }      ///< rad/s
    [[nodiscard]] double angle() const noexcept { return angle_; }      ///< rad of the gear
    [[nodiscard]] double driven() const noexcept { return driven_; }    ///< rad of what it drives, behind the play
    [[nodiscard]] double current() const noexcept { return current_; }  ///< A in the winding, mean over the last step
    [[nodiscard]] double supplyCurrent() const noexcept { return supply_current_; }
    /// rad/s that a share leads to.
    [[nodiscard]] double settledSpeed(double share) const;
    /// s to 63 % of a step of share.
    [[nodiscard]] double timeConstant() const { return figures_.inertia * figures_.resistance / (figures_.torque * figures_.back); }
    void jam(bool fast) { jammed_ = fast; }
    [[nodiscard]] bool jammed() const noexcept { return jammed_; }
    [[nodiscard]] const RotorFigures& figures() const noexcept { return figures_; }

private:
    void stretch(double dt, double share, bool brakes);
    RotorFigures figures_;
    double speed_ = 0.0, angle_ = 0.0, driven_ = 0.0, current_ = 0.0, supply_current_ = 0.0;
    bool jammed_ = false;
};

/// A fan that keeps its own speed by its control wire, or by the share of its supply.
struct FanFigures {
    double full_speed = 300.0;  ///< rad/s at a share of 1
    double start_share = 0.2;   ///< below it, it does not start …
    double keep_share = 0.15;   ///< … and below this it stops again
    double spin_up = 0.6;       ///< s to 63 %
    double current = 0.1;       ///< A at full speed
    double volts = 1.0;         ///< of an induction motor: rms of the mains over its own …
    double slip = 0.0;  ///< of an induction motor at all of its volts: its share is of the power that a resistance got; 0: it is none
};
/// @source derived: n' = (n∞ − n)/τ with n∞ in proportion to the share while it turns, or as actuator::mainsFanShare says of rms volts;
/// current with the cube of the speed; held fast, what it draws at that share: its electronics limit it (common practice, no published
/// source)
class FanPlant {
public:
    explicit FanPlant(FanFigures figures) : figures_{figures} {}
    void step(double dt, double share);
    /// Share of its full speed to which a share leads, once it turns.
    [[nodiscard]] double reached(double share) const noexcept;
    [[nodiscard]] double speed() const noexcept { return speed_; }  ///< rad/s
    [[nodiscard]] double angle() const noexcept { return angle_; }
    [[nodiscard]] double current() const noexcept;
    [[nodiscard]] bool turns() const noexcept { return turns_; }
    /// Held fast, or let go.
    void jam(bool jammed) { jammed_ = jammed; }
    [[nodiscard]] const FanFigures& figures() const noexcept { return figures_; }

private:
    /// What makes it turn: rms volts of an induction motor, the share of any other.
    [[nodiscard]] double drive(double share) const noexcept;
    FanFigures figures_;
    double speed_ = 0.0, angle_ = 0.0, held_share_ = 0.0;
    bool turns_ = false, jammed_ = false;
};

}  // namespace hinge::plant
