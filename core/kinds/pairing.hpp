#pragma once
// One part on one driver and one rail in plain numbers: what surrounds it, what it does and draws, which rules it touches.
#include <array>
#include <cmath>
#include <limits>
#include "kinds/ask.hpp"

namespace hinge::kinds {

inline constexpr double unknown = std::numeric_limits<double>::quiet_NaN();
/// Figures that nobody knows are not a number.
[[nodiscard]] inline bool known(double value) {
    return !std::isnan(value);
}

struct RailOption {
    std::string id;
    std::string name;
    std::optional<Voltage> volts;
    Resistance wire{};  ///< there and back
    bool feeds_board = false;
    friend bool operator==(const RailOption&, const RailOption&) = default;
};

/// What surrounds a pairing: the demand and the electrical facts, resolved.
struct Context {
    project::Demand demand;
    std::vector<project::Spread> spreads;  ///< how well its facts are known
    Ask ask;                               ///< what follows from both
    project::Calibration calibration;
    std::string measured_part;  ///< the part on which cup and clock were used: they say nothing of any other
    project::Signal signal;
    project::Work work;
    project::Weights weights;
    Resistance gate_resistor = of<Resistance>(220.0);
    std::optional<Resistance> base_resistor;     ///< as fitted
    std::optional<Resistance> led_resistor;      ///< as fitted
    std::optional<ThermalResistance> heat_sink;  ///< on the driver
    Resistance pulldown = of<Resistance>(10e3);
    driver::PulldownSide pulldown_side = driver::PulldownSide::Pin;
    double gear_ratio = 1.0;           ///< between part and load, above 1 slows
    std::vector<RailOption> rails;     ///< the channel's own first
    Voltage logic = of<Voltage>(5.0);  ///< of a pin that is high
    Current pin_current = of<Current>(0.020);
    std::optional<Voltage> logic_supply;  ///< for a relay's coil
    Temperature ambient = Temperature::celsius(25.0);
    project::Colour colour = project::Colour::None;  ///< which of a lamp's three it is
    bool ends = false;                               ///< end switches or sensors end whatever the routine does with it
    std::optional<actuator::Part> own;               ///< what the maker already has and only wants switched
};

/// What the driver has to be able to do.
enum class Method { OneWay, BothWays, Steps, ServoPulse, FanPulse, Alternating, Light };
inline constexpr std::size_t methodCount = static_cast<std::size_t>(Method::Light) + 1;
/// A set of them, a bit each.
using Methods = unsigned;
[[nodiscard]] constexpr Methods only(Method method) {
    return 1U << static_cast<unsigned>(method);
}

/// The rules of Match and Drive that a pairing can touch.
enum class Rule {
    TooWeak,
    OverHalf,
    TooSlow,
    BarelyFast,
    SupplyOver,
    SupplyLow,
    ServoRange,
    StrokeOver,
    NoPosition,
    NoHold,
    HeldWeakly,
    DriverOvercurrent,
    StallOverDriver,
    SwitchVoltage,
    GateNotEnhanced,
    LevelMismatch,
    DriverHot,
    RelayNoPwm,
    ContactInrush,
    CoilWontPull,
    PinOvercurrent,
    BaseStarved,
    LedOvercurrent,
    LedBarely,
    CommonPole,
    PinFeeds,
    PumpCannotLift,
    DoseOverTime,
    DoseNearLimit,
    NoiseOver,
    TooLittleAir,
    CoilDuty,
    NotForMains,
    MainsPart,
    SsrLeakage,
    SsrNoDim,
    DimmedLamp,
    SupplyTooLow,
    Suspect,
    LogicRail,
    HotSide,
    HotSideUnknown,
    Misfit,
    FigureMissing,
};

struct Hit {
    Rule rule{};
    Severity severity = Severity::Stop;
    double value = 0.0;  ///< SI, as the rule's sentence needs it
    double limit = 0.0;
};

/// A judged pairing in SI; NaN is not known or does not apply.
struct Numbers {
    double volts = unknown;    ///< at the part's terminals while it runs
    double share = unknown;    ///< demand with its margin over ability; 1 is the limit
    double ability = unknown;  ///< torque, force, flow or power that it has, without margin
    double speed = unknown;    ///< at the load's shaft [rad/s]; of a pump: share of full
    double move_time = unknown;
    double flow = unknown, height = unknown;  ///< of a pump [m] or fan [Pa]
    double run_time = unknown;                ///< of one dose
    double running = unknown;                 ///< from the rail
    double winding = unknown;                 ///< in the part
    double rest = 0.0;                        ///< from the rail while it holds still but is powered
    double starting = unknown, stalled = unknown;
    double heat = unknown;          ///< in the driver
    double junction = unknown;      ///< K
    double part_heat = unknown;     ///< in the part itself
    double led_resistor = unknown;  ///< in front of a bare LED
    double base_resistor = unknown, pin_peak = unknown;
    double drive_current = unknown;  ///< peak, of a stepper
    double price = unknown, noise = unknown, mass = unknown;
    double smooth = 0.5;    ///< 0 smooth when slow … 1 rough
    bool measured = false;  ///< run time by cup and clock
    std::array<Hit, 10> hits{};
    int hit_count = 0;
    bool incomplete = false;  ///< a figure that the verdict needs is not known
    void hit(Rule rule, Severity severity, double value = 0.0, double limit = 0.0) {
        if (hit_count < static_cast<int>(hits.size())) hits[static_cast<std::size_t>(hit_count++)] = {rule, severity, value, limit};
    }
    [[nodiscard]] Verdict verdict() const;
};

/// Volts that feed the load: the rail's, or the mains' [V rms]; NaN is not known.
[[nodiscard]] double supplyOf(const Context& context, const RailOption& rail);
/// Whether its load hangs on the mains.
[[nodiscard]] bool onMains(const project::Demand& demand);
/// Whether it is to be dimmed, not only switched.
[[nodiscard]] bool isDimmed(const project::Demand& demand);
/// Whether it wants a shaft that turns: turning, going along, pressing by a horn.
[[nodiscard]] bool turnsShaft(const Context& context);
/// Share of the time that heats: on-time over interval where uses follow within a minute, else 1.
/// @source common practice, no published source: a small part's thermal time constant is minutes
[[nodiscard]] double heatingShare(const project::Work& work);
/// K/W from a driver's junction through its case and the grease into a heat-sink. Common practice, no published source.
inline constexpr double into_sink = 2.0;
/// What rounding may take from a limit.
inline constexpr double slack = 1 + 1e-9;
/// The maker's own load, as a part: what Need says of something that is only switched.
inline constexpr const char* own_load_id = "own_load";

}  // namespace hinge::kinds
