#pragma once
// A body that stands on two wheels which roll as they are told.

namespace hinge::plant {

struct BalancerFigures {
    double height = 0.1;              ///< m from the axle to the centre of mass
    double distance_per_step = 1e-4;  ///< m the wheels roll for each step
    double start_lean = 0.02;         ///< rad forwards as it is let go
    double falls_at = 0.7;            ///< rad: there it lies
};
/// The wheels' way is given; the body swings on the axle: h·φ'' = g·sin φ − x''·cos φ. Steps come as jumps of x, so
/// its momentum is carried, not its speed: ψ = h·φ' + x'·cos φ. Runge and Kutta.
/// @source inverted-pendulum
class Balancer {
public:
    explicit Balancer(BalancerFigures figures) : figures_{figures}, lean_{figures.start_lean} {}
    /// @param place  steps the wheels have come to at the end of the step, the mean of both
    void step(double dt, double place);
    [[nodiscard]] double lean() const noexcept { return lean_; }      ///< rad forwards
    [[nodiscard]] double rolled() const noexcept { return rolled_; }  ///< m
    [[nodiscard]] bool lies() const noexcept { return lies_; }
    /// A shove: metres a second at its centre of mass.
    void push(double speed) { momentum_ += speed; }
    /// Set up again by hand.
    void setUp();
    [[nodiscard]] const BalancerFigures& figures() const noexcept { return figures_; }

private:
    BalancerFigures figures_;
    double lean_, momentum_ = 0.0, rolled_ = 0.0, place_ = 0.0;
    bool placed_ = false, lies_ = false;
};

}  // namespace hinge::plant
