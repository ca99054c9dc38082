#pragma once
// What fills or warms: a tank under a pump, and a box under a heater or a thermo-electric plate.

namespace hinge::plant {

struct TankFigures {
    double area = 0.01;       ///< m² of its surface
    double top = 0.2;         ///< m: what comes above spills
    double full_flow = 2e-5;  ///< m³/s of the pump at a share of 1
    double outlet = 0.0;      ///< m^2.5/s: it runs out with this times the root of the level
    double level = 0.0;       ///< m at the start
};
/// Torricelli's outflow; stepped by the fourth-order rule of Runge and Kutta.
/// @source bernoulli
class TankPlant {
public:
    explicit TankPlant(TankFigures figures) : figures_{figures}, level_{figures.level} {}
    void step(double dt, double share);
    [[nodiscard]] double level() const noexcept { return level_; }      ///< m
    [[nodiscard]] double spilled() const noexcept { return spilled_; }  ///< m³
    [[nodiscard]] const TankFigures& figures() const noexcept { return figures_; }

private:
    TankFigures figures_;
    double level_ = 0.0, spilled_ = 0.0;
};

struct BoxFigures {
    double capacity = 1000.0;         ///< J/K of what is in it
    double conductance = 1.0;         ///< W/K to the air around
    double power = 40.0;              ///< W that a share of 1 brings in; below zero it takes out
    double ambient = 293.15;          ///< K
    double largest_difference = 0.0;  ///< K at which a thermo-electric plate moves no more heat; 0: a heater
    double sensor_lag = 5.0;          ///< s to 63 % of the thermometer
    double backwards = 0.0;           ///< W that a share of −1 takes out, of a plate that is turned round; 0: it is not
};
/// Two first orders in a row, exact at whatever step.
/// @source calorimetry-first-order, thermo-electric-line
class BoxPlant {
public:
    explicit BoxPlant(BoxFigures figures) : figures_{figures}, inside_{figures.ambient}, shown_{figures.ambient} {}
    void step(double dt, double share);
    [[nodiscard]] double temperature() const noexcept { return inside_; }  ///< K
    [[nodiscard]] double shown() const noexcept { return shown_; }         ///< K, by the thermometer
    [[nodiscard]] double power() const noexcept { return power_; }         ///< W of the last step
    [[nodiscard]] const BoxFigures& figures() const noexcept { return figures_; }

private:
    BoxFigures figures_;
    double inside_, shown_, power_ = 0.0;
};

}  // namespace hinge::plant
