#pragma once
// Everything that the program knows about a class of driver, in facets. One file a class in drivers/; nothing outside this room asks
// which class it is.
#include <algorithm>
#include <functional>
#include <string_view>
#include <vector>
#include "driver/bridge_states.hpp"
#include "driver/register_map.hpp"
#include "kinds/facet.hpp"
#include "kinds/words.hpp"

namespace hinge::kinds {

/// A pairing as a driver's own rules look at it.
struct Driven {
    const Context& c;
    const actuator::Part& part;
    const driver::DriverPart& driver;
    double rail = unknown;  ///< V that feed it
    double share = 1.0;     ///< of the time that heats
};
/// A judged pairing whose workings are shown.
struct Showing {
    const Context& c;
    const driver::DriverPart& driver;
    double rail = unknown;
    Pairing& out;
    template <class R>
    void add(std::string title, project::Stage stage, const Result<Worked<R>>& worked) const {
        if (worked) out.workings.push_back({std::move(title), stage, "", worked->steps, worked->verdict});
    }
};
/// A judged pairing and what goes with it.
struct Fitting {
    const Context& c;
    const actuator::Part& part;
    const driver::DriverPart& driver;
    const RailOption& rail;
    const Numbers& n;
    std::vector<Protection>& list;
    bool inductive = false;  ///< what it switches kicks when it is let go
    /// The way on for the winding's current. @param end  where its other end goes
    void diode(const std::string& end) const;
};
/// A channel whose pin and signal are chosen.
struct Commanded {
    const project::Channel& channel;
    const actuator::Part& part;
    const driver::DriverPart& driver;
    const Context& context;
    std::optional<Method> method;
    bool dimmed = false;  ///< part of its power is asked for
};
/// A channel's wires as they are listed.
struct Wiring {
    const project::Channel& channel;
    const actuator::Part* part = nullptr;  ///< nullptr: not chosen
    const driver::DriverPart& driver;
    const Pairing* chosen = nullptr;
    bool inverted = false;
    bool mains = false;
    std::string pin, it, rail, logic;                            ///< "board D9" or "I/O expander X3", "Rain ", its rail's name, "board 5 V"
    std::vector<std::pair<std::string, std::string>> registers;  ///< ends at its register lines, and "board D13" of each; none: to come
    std::string crossing;                                        ///< the pin at which the mains' crossings come in; empty: none yet
    bool crossing_wired = false;                                 ///< another tells them already: one line is enough
    std::optional<Resistance> resistor;                          ///< in front of a bare LED
    std::vector<Wire>& wires;
    void wire(std::string from, std::string to, std::string note = "") const;
    /// With a resistor in it where there is one.
    void wire(std::string from, std::string to, std::optional<Resistance> lies, const std::string& after = "") const;
    void pullDown(std::string from, Resistance ohms) const;
    /// Live through the switch, neutral and earth straight to the load.
    void onTheMains(const std::string& into, const std::string& out) const;
};
/// A channel's driver as it is written into an ngspice deck, between the ends of its wires.
struct Decked {
    const driver::DriverPart& driver;
    std::string it, tag;  ///< "Rain "; a plain word behind each element's letter
    double logic = 5.0;   ///< V of a pin that is high
    std::function<std::string(const std::string& end)> node;
    std::function<bool(const std::string& end)> has;
    std::vector<std::string>& lines;
    [[nodiscard]] std::string at(const char* end) const { return node(it + end); }
    /// A switch that follows a node's volts: closed above half the board's. @param ohms  while it is closed
    void follows(const std::string& name, const std::string& a, const std::string& b, const std::string& control, double ohms) const;
};
/// A driver with nothing on it yet.
struct Alone {
    const project::Channel& channel;
    const actuator::Part* part = nullptr;  ///< nullptr: not chosen
    const driver::DriverPart& driver;
    std::optional<double> volts;  ///< of its rail
    double logic = 5.0;           ///< V of a pin that is high
    SignalKind signal = SignalKind::Unknown;
    double share = 1.0;  ///< of the time for which its switch is closed
    bool mains = false;
    const Numbers* numbers = nullptr;  ///< nullptr: not judged
};

/// The end of a bridge's wire that shows its current: volts for each ampere, see driver::DriverPart::current_output.
inline constexpr const char* current_output = "bridge current output";

/// What its data sheet's volts mean.
enum class Bears {
    HalfMore,  ///< half as much again is usual, for what rings on its rail
    AsRated,   ///< made for that rail, or never on it
};
/// What it lets through of the mains, by itself.
enum class Waves { None, Any, WholeCycles, Parts };
/// Whether it can be fired into half-waves; one that lets through any needs to be told the crossings by a coupler beside it.
[[nodiscard]] constexpr bool firesParts(Waves waves) {
    return waves == Waves::Parts || waves == Waves::Any;
}

struct DriverKind {
    driver::DriverClass of{};
    const char* label = "";  ///< what a person calls it
    Methods drives = 0;      ///< ways of driving it can do
    bool contact = false;
    bool alternating = false;    ///< made to switch the mains
    bool limits = false;         ///< sets its load's current itself: nothing to bear
    bool trimmer = false;        ///< its current is set by a voltage at a trimmer
    bool from_pin = false;       ///< nothing at all stands between pin and part
    bool warms = true;           ///< its junction is judged
    bool brakes = false;         ///< it shorts its motor in the pauses
    bool own_outputs = false;    ///< many channels hang on it, each on an output of its own: X0, X1 …
    bool two_ends = false;       ///< it has a half for each end of its motor, and its part says how it is told which way
    bool switches_plus = false;  ///< between the supply and the load's plus: its load's other end stays at ground
    bool chops_supply = false;   ///< between the supply and the part: electronics of its own do not like PWM there
    Bears bears = Bears::HalfMore;
    Waves waves = Waves::None;
    double usual_base = unknown, usual_saturation = unknown;  ///< V of a bipolar transistor whose data sheet is silent
    double roughness = 0.15;                                  ///< of steps, 0 smooth … 1 rough
    const char* in_the_list = "";                             ///< its name in the wiring list, where its file leaves that open
    std::vector<std::string_view> ends;    ///< what its own ends in the wiring list begin with, behind the channel's name
    Symbol symbol = Symbol::Board;         ///< that stands for it in a drawing
    const char* on_pin = "base";           ///< what takes the pin's current
    std::optional<SignalKind> signal;      ///< the only one it takes; absent: as the part and the wish are
    std::vector<std::string_view> faults;  ///< what it is, for causes of faults: "switch", "sleeper"
    [[nodiscard]] bool is(std::string_view trait) const { return std::find(faults.begin(), faults.end(), trait) != faults.end(); }
    std::vector<std::string_view> facts;  ///< of a channel's drive that have a meaning for it: "gate_resistor"
    /// Whether a fact of the channel's drive has a meaning for it. @param fact  "gate_resistor"
    [[nodiscard]] bool has(std::string_view fact) const;
    // What it keeps, and what it is judged by.
    Facet<double(const driver::DriverPart&, double amps)> drop;  ///< V while it carries a current
    Facet<bool(const Driven&, Numbers&)> judge;                  ///< gate, base, contact, heat; false where its junction cannot be judged
    Facet<void(const Driven&, const Showing&)> show;             ///< its workings
    Facet<void(const Fitting&)> protection;                      ///< what goes with it
    // How it is commanded and wired.
    Facet<std::optional<NotDriven>(const Commanded&)> refuses;  ///< what the sketch cannot do with it
    Facet<void(const Wiring&)> wires;
    Facet<driver::BridgeTable(const driver::DriverPart&, bool direction)> states;  ///< what its input lines do
    Facet<void(const Decked&)> deck;                                               ///< its model for ngspice
    // How it is proved.
    Facet<std::vector<LoneCheck>(const Alone&)> alone;        ///< nothing plugged into it yet
    Facet<std::vector<LoneCheck>(const Alone&)> at_the_gate;  ///< its load unplugged, the sketch running
    /// Each facet with its name.
    template <class Visitor>
    void eachFacet(Visitor&& visit) const {
        visit("drop", drop);
        visit("judge", judge);
        visit("show", show);
        visit("protection", protection);
        visit("refuses", refuses);
        visit("wires", wires);
        visit("states", states);
        visit("deck", deck);
        visit("alone", alone);
        visit("at_the_gate", at_the_gate);
    }
};

[[nodiscard]] const DriverKind& driverKind(driver::DriverClass driver_class);
[[nodiscard]] inline const DriverKind& driverKind(const driver::DriverPart& driver) {
    return driverKind(driver.driver_class);
}
/// Every class, in the order of their names.
[[nodiscard]] const std::vector<const DriverKind*>& driverKinds();
/// The table of its registers; nullptr where it has none, or none that is known.
[[nodiscard]] inline const driver::RegisterMap* registersOf(const driver::DriverPart& driver) {
    return driver::findRegisterMap(driver.registers);
}
/// The output of such a driver that a name means; -1: it means none. @param name  "X3"
[[nodiscard]] int ownOutput(std::string_view name);
/// An input for each end of its motor: it is told to drive either way, to brake and to coast.
[[nodiscard]] inline bool hasTwoInputs(const driver::DriverPart& driver) {
    return driverKind(driver).two_ends && driver.inputs == driver::BridgeInputs::TwoInputs;
}
/// Ends of a bridge of whose two switches each has an input of its own: 0, 1 or 2.
[[nodiscard]] inline int switchedEnds(const driver::DriverPart& driver) {
    if (driver.inputs != driver::BridgeInputs::EachSwitch) return 0;
    return driverKind(driver).two_ends ? 2 : driver.driver_class == driver::DriverClass::HalfBridge ? 1 : 0;
}
[[nodiscard]] inline bool canDrive(const driver::DriverPart& driver, Method method) {
    return (driverKind(driver).drives & only(method)) != 0;
}
/// The current that it bears for long [A]; NaN where it is not known. A contact's is met by the inrush, all others' by what runs.
[[nodiscard]] double bornBy(const driver::DriverPart& driver, const Context& context);

}  // namespace hinge::kinds
