#pragma once
// A small brushed pump, its tube and its tank, stepped exactly between changes of duty.
#include <vector>

namespace hinge::plant {

/// Figures of the plant, plain SI.
struct PumpFigures {
    double supply = 12.0;         ///< V across wire, switch and motor
    double resistance = 10.0;     ///< Ω in all: winding, wire, switch
    double running = 0.4;         ///< A at full speed
    double nominal_back = 8.0;    ///< V of back-EMF at full speed
    double spin_up = 0.08;        ///< s to 63 % of the speed
    double inductance = 0.0;      ///< H of the winding; 0: not known, the current never dies away
    double period = 1e-3;         ///< s of the PWM
    double tank = 2e-3;           ///< m³ in the tank
    double empty_below = 0.2e-3;  ///< m³ at which the float switch opens
    double speed_step = 0.05;     ///< spacing of `flow`
    std::vector<double> flow;     ///< m³/s at speeds 0, speed_step, 2·speed_step, …
};

/// @source derived: n' = (n∞ − n)/τ; mean current of the pulses by actuator::pwmMeans; I∞ = Irun·n²
class PumpPlant {
public:
    explicit PumpPlant(PumpFigures figures);
    /// Moves on by `dt` [s] with the switch on for a share `duty` of it.
    void step(double dt, double duty);
    [[nodiscard]] double speed() const noexcept { return speed_; }           ///< share of full
    [[nodiscard]] double motorCurrent() const noexcept { return current_; }  ///< A, mean over the last step
    [[nodiscard]] double supplyCurrent() const noexcept { return supply_current_; }
    [[nodiscard]] double poured() const noexcept { return poured_; }  ///< m³
    [[nodiscard]] double tank() const noexcept { return figures_.tank - poured_; }
    [[nodiscard]] bool floatOpen() const noexcept { return tank() < figures_.empty_below; }
    [[nodiscard]] double flow() const noexcept;  ///< m³/s now
    /// Speed that a duty leads to.
    [[nodiscard]] double settledSpeed(double duty) const;
    /// False for other loads that are stepped the same way: they move no water.
    [[nodiscard]] bool pours() const noexcept { return figures_.flow.size() >= 2; }
    /// Held fast: it draws its stall current and does not turn.
    void jam(bool fast) { jammed_ = fast, steady_ = false; }
    [[nodiscard]] bool jammed() const noexcept { return jammed_; }
    void refill(double volume) { figures_.tank += volume; }

private:
    PumpFigures figures_;
    double speed_ = 0.0;
    double current_ = 0.0;
    double duty_ = 0.0;
    double supply_current_ = 0.0;
    double settled_duty_ = -1.0, settled_ = 0.0;  ///< last answer of settledSpeed()
    double decay_dt_ = -1.0, decay_ = 0.0;        ///< and of the exponential
    double poured_ = 0.0;
    bool jammed_ = false;
    bool steady_ = false;  ///< it runs at its settled speed, or stands: its currents are known
};

/// The first of them that moves water; nullptr when none does.
[[nodiscard]] inline const PumpPlant* pouring(const std::vector<PumpPlant>& plants) {
    for (const auto& plant : plants)
        if (plant.pours()) return &plant;
    return nullptr;
}

}  // namespace hinge::plant
