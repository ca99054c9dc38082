#pragma once
// Everything that the program knows about a kind of actuator, in facets. One file a kind in actuators/; nothing outside this room asks
// which kind it is.
#include "kinds/columns.hpp"
#include "kinds/driver_kind.hpp"
#include "kinds/mounting.hpp"

namespace hinge::kinds {

/// A part while it runs at the terminals' volts: `rail` less wire and driver.
struct Running {
    const Context& c;
    const driver::DriverPart* driver;  ///< nullptr at a glance: no drop, no limit
    double rail, wire;                 ///< V, and ohms there and back
    Numbers& n;

    [[nodiscard]] double drop(double current) const;  ///< V that the driver keeps
    [[nodiscard]] double path(double current) const;  ///< the driver's ohms at a current
    /// What flows through a winding [Ω] that stands still: the driver's fixed drop, and its ohms.
    [[nodiscard]] double held(double resistance) const;
    /// Whether nothing stands between it and the pin.
    [[nodiscard]] bool onPin() const;
    /// Whether its driver can start it softly.
    [[nodiscard]] bool ramps() const;
    void missing() const { n.incomplete = true; }
    /// Strength asked with the margin, against what the part gives: to 1/margin holds, to 1.6/margin (0.8 at the usual margin of 2)
    /// is tight.
    void strength(double load, double able) const;
    void speed(double asked, double able) const;
    void supply(double nominal, double over) const;
};
/// Gears between part and load, and what they leave. Common practice, no published source: a stage of gears or a belt keeps a tenth.
[[nodiscard]] inline double gearing(const Context& c) {
    return c.gear_ratio != 1.0 ? 0.9 : 1.0;
}

/// The steps of a motor: of the bare one, and its gearbox.
struct Stepping {
    Count steps_per_turn{};  ///< full steps of the bare motor
    Ratio gear{};
    std::optional<Torque> holding;  ///< of the bare motor
};

/// How its power is set where the driver leaves it open.
enum class Varies {
    ByWish,  ///< chopped where parts of it are asked for
    Always,  ///< chopped always: it starts softly
    Never,   ///< on or off
};

/// Run-up of what has no mass to speak of to speed up: 5 ms (common practice, no published source).
[[nodiscard]] inline double runsAtOnce(const actuator::Part& /*part*/) {
    return 5e-3;
}

struct ActuatorKind {
    const char* file = "";                  ///< of the catalogue, "motors"
    const char* label = "";                 ///< "motors and gearmotors"
    Symbol symbol = Symbol::Motor;          ///< that stands for it in a drawing
    Kind strength = Kind::Torque;           ///< what it is strong in: torque, force, power, flow
    const char* over_half = "over-margin";  ///< id of the rule where less than the margin is left
    bool inductive = true;                  ///< it kicks when it is let go
    bool moves = true;                      ///< something moves: it may stall, and pull a rail down
    bool by_share = false;                  ///< its speed is told as a share of full speed
    bool lifts = false;                     ///< its height is water [m], not pressure [Pa]
    bool shines = false;                    ///< seen, never heard
    bool settles = false;                   ///< a driver's drop only lowers its current, and never below what its load asks
    double smoothest = 1.0;                 ///< on the driver that makes it run most evenly, as Numbers::smooth; 1: none makes it smoother
    Varies varies = Varies::ByWish;
    /// How long each of its pulses must be: nullopt where this part does not latch, nought where its data sheet does not say. nullptr:
    /// nothing of the kind latches.
    std::optional<Duration> (*latch)(const actuator::Part&) = nullptr;
    bool (*three_colours)(const actuator::Part&) =
        nullptr;                                          ///< whether it shines in three, each by itself; nullptr: nothing of the kind does
    SignalKind (*line)(const actuator::Part&) = nullptr;  ///< what a signal line of its own takes; nullptr: it only has its power
    std::vector<Protection> on_a_pin;                     ///< between a pin and that line
    std::vector<std::string_view> faults;                 ///< what it is, for causes of faults: "wound", "mover"
    [[nodiscard]] bool is(std::string_view trait) const { return std::find(faults.begin(), faults.end(), trait) != faults.end(); }
    // Its figures.
    Facet<const char*(const actuator::Part&)> name;  ///< what a person calls it: "gearmotor", "4-wire fan"
    Facet<std::vector<Column>()> columns;
    Facet<actuator::Part()> blank;  ///< one without figures
    Facet<Impossible(const actuator::Part&)> impossible;
    // Whether, and how well.
    Facet<std::optional<Method>(const Context&, const actuator::Part&)> method;  ///< nullopt: not this kind of job
    Facet<driver::ContactLoad(const Context&, const actuator::Part&)> contact;   ///< as a contact sees it
    Facet<void(Running&, const actuator::Part&)> judge;
    Facet<std::vector<StrokePoint>(const Context&, const actuator::Part&, const Numbers&)>
        shaft;                                                                   ///< x torque, y speed, at the load's shaft
    Facet<std::vector<StrokePoint>(const actuator::Part&, const Numbers&)> air;  ///< x flow, y pressure
    Facet<HeadCurve(const actuator::Part&, double speed)> lifting;               ///< head over flow at a share of its speed
    // In words.
    Facet<void(const Showing&, const actuator::Part&)> show;
    Facet<std::string(const actuator::Part&)> missing;  ///< which figure, and how to measure it
    Facet<void(Figures&, const actuator::Part&)> figures;
    // How it is commanded, and what goes with it.
    Facet<bool(const actuator::Part&)> own_electronics;  ///< chopping its supply only disturbs it
    Facet<std::optional<NotDriven>(const Commanded&)> refuses;
    Facet<void(const Fitting&)> needs;  ///< beside it, whatever drives it
    // How it is proved.
    Facet<std::optional<double>(const actuator::Part&)> winding;  ///< Ω; 0 where not known
    Facet<double(const actuator::Part&)> rated_peak;              ///< A, of a phase; NaN where not known
    Facet<std::vector<Expected>(const actuator::Part&)> sample;   ///< what to read of a piece, alone on the bench
    // The machine that stands in for it.
    Facet<std::optional<Mounted>(const Mounting&)> machine;  ///< nullopt: a figure is missing
    Facet<plant::PumpFigures(const Loading&)> load;          ///< what it draws, and pours, over time; none: as its three currents say
    Facet<double(const actuator::Part&)> range;              ///< rad from end to end, of what is sent to places; NaN where not known
    Facet<std::optional<Stepping>(const actuator::Part&)> stepping;    ///< of what is moved in steps
    Facet<double(const actuator::Part&)> rated_power;                  ///< W at its own volts; NaN where not known
    Facet<double(const actuator::Part&)> run_up;                       ///< s from start to running, as its data sheet or the usual says
    Facet<std::optional<double>(const actuator::Part&)> stall_torque;  ///< N·m at its own output
    Facet<double(const actuator::Part&)> tach;                         ///< pulses a turn of its output; NaN: none
    Facet<double(const actuator::Part&)> free_current;                 ///< A with nothing on its shaft; NaN where not known
    Facet<double(const actuator::Part&)> bears_volts;                  ///< V that it must never get more than
    std::vector<std::string_view> calibrations;                        ///< guided runs that it can be taken through, by their ids
    /// Each facet with its name.
    template <class Visitor>
    void eachFacet(Visitor&& visit) const {
        visit("name", name);
        visit("columns", columns);
        visit("blank", blank);
        visit("impossible", impossible);
        visit("method", method);
        visit("contact", contact);
        visit("judge", judge);
        visit("shaft", shaft);
        visit("air", air);
        visit("lifting", lifting);
        visit("show", show);
        visit("missing", missing);
        visit("figures", figures);
        visit("own_electronics", own_electronics);
        visit("refuses", refuses);
        visit("needs", needs);
        visit("winding", winding);
        visit("rated_peak", rated_peak);
        visit("sample", sample);
        visit("machine", machine);
        visit("load", load);
        visit("range", range);
        visit("stepping", stepping);
        visit("rated_power", rated_power);
        visit("run_up", run_up);
        visit("stall_torque", stall_torque);
        visit("tach", tach);
        visit("free_current", free_current);
        visit("bears_volts", bears_volts);
    }
    [[nodiscard]] bool canRun(std::string_view calibration) const {
        return std::find(calibrations.begin(), calibrations.end(), calibration) != calibrations.end();
    }
};

/// A kind without a shaft that turns, and so without all that a shaft has.
[[nodiscard]] ActuatorKind still(ActuatorKind kind);
/// A kind that moves neither water nor air, and draws what its three currents say.
[[nodiscard]] ActuatorKind dry(ActuatorKind kind);

[[nodiscard]] const ActuatorKind& actuatorKind(const actuator::Part& part);
/// Every kind, in the order of the catalogue.
[[nodiscard]] const std::vector<const ActuatorKind*>& actuatorKinds();
/// What a person calls it: "gearmotor", "4-wire fan".
[[nodiscard]] inline const char* nameOf(const actuator::Part& part) {
    return actuatorKind(part).name(part);
}
/// What stands for it in a drawing.
[[nodiscard]] Symbol symbolOf(const actuator::Part& part);
/// The load's kind as its contact sees it. @source common practice, no published source
[[nodiscard]] driver::ContactLoad contactLoad(const Context& context, const actuator::Part& part);
/// Ohms of its winding [Ω]; 0 where the figure is not known, nullopt where there is none to measure.
[[nodiscard]] std::optional<double> windingOf(const actuator::Part& part);
/// A bare LED, which wants a resistor and its right way round.
[[nodiscard]] bool isLed(const actuator::Part& part);
/// The channel's own load, as a part: what Need says of something that is only switched.
[[nodiscard]] actuator::Part ownLoad(const project::SwitchDemand& demand, const std::optional<Voltage>& rail);
/// Whether it is latched: then it stays as it is without current.
[[nodiscard]] bool latches(const actuator::Part& part);
/// Share of the time that heats its driver: of its work, and of what latches its two pulses, at each use or once a second.
[[nodiscard]] double heatingShare(const Context& context, const actuator::Part& part);
/// How its pin is driven: as its driver, its own line, or the wish says.
/// @param graded   the routine asks for parts of its power
/// @param goes_on  a speed is asked for that is kept
[[nodiscard]] SignalKind signalOf(const project::Channel& channel, const actuator::Part& part, const driver::DriverPart& driver,
                                  bool graded, bool goes_on);

/// A kind of driver (its class the next after the last) and one of actuator that are there for as long as this is: how new ones are
/// tried. One at a time, while nothing else works.
class Trial {
public:
    Trial(const DriverKind& driver, const ActuatorKind& actuator);
    ~Trial();
    Trial(const Trial&) = delete;
    Trial& operator=(const Trial&) = delete;
};

}  // namespace hinge::kinds
