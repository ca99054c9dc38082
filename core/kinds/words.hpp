#pragma once
// What is said of a pairing: findings, workings, what goes with it, wires, and what the sketch cannot do.
#include "kinds/pairing.hpp"
#include "project/facts.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {

/// Something small that has to be fitted with the choice, and where, named by net.
struct Protection {
    std::string what;   ///< "flyback diode"
    std::string value;  ///< "1 A, 40 V or more"
    std::string where;  ///< "stripe to the + of 12 V rail, other end to the drain"
    std::string why;
};

/// One part on one driver and one rail, with its reasons.
struct Pairing {
    std::string actuator, driver, rail;  ///< ids
    std::string actuator_name, driver_name, rail_name;
    Numbers numbers;
    std::optional<VolumeFlow> flow;  ///< at the duty set
    std::optional<Length> head;
    std::optional<Duration> run_time;  ///< of one dose; by cup and clock where measured
    bool run_time_measured = false;
    std::optional<Ratio> speed;  ///< of a pump or fan: share of full
    std::optional<Voltage> motor_voltage;
    std::optional<Current> running;  ///< from the supply
    std::optional<Current> motor;    ///< in the winding
    std::optional<Current> stalled;
    std::optional<Current> starting;  ///< largest while starting
    std::optional<Power> heat;        ///< in the driver
    std::optional<Temperature> junction;
    std::optional<Resistance> base_resistor;
    std::optional<Resistance> led_resistor;
    std::optional<Current> pin_peak;
    std::optional<Ratio> price;
    Verdict verdict = Verdict::Unknown;
    std::vector<Finding> findings;
    std::vector<ShownWorking> workings;
    std::string reason;  ///< why it does not win, or what decided
};
/// A part's own figures by name, as its data sheet lists them: for comparing and for swapping.
struct PartFigure {
    std::string name;
    std::string value;
};
/// Figures as they are gathered.
struct Figures {
    std::vector<PartFigure> out;
    template <class Q>
    void operator()(const char* name, const std::optional<Q>& value) {
        if (value) (*this)(name, *value);
        else out.push_back({name, "not known"});
    }
    template <Measurable Q>
    void operator()(const char* name, const Q& value) {
        out.push_back({name, displayPlain(value)});
    }
};

/// How a channel's main pin is driven.
/// ServoPulse says a place, SpeedPulse a speed, by the same pulses; Steps go to places, StepRate goes on;
/// LatchPulses: one each way when it is switched on and off; PartWaves: on from some way into each half-wave of the mains.
enum class SignalKind { Unknown, Switched, Pwm, FanPwm, ServoPulse, Steps, WholeCycles, SpeedPulse, StepRate, LatchPulses, PartWaves };
/// Pulses of a servo, every 20 ms.
[[nodiscard]] constexpr bool isServoPulse(SignalKind signal) {
    return signal == SignalKind::ServoPulse || signal == SignalKind::SpeedPulse;
}
/// Step and direction.
[[nodiscard]] constexpr bool isSteps(SignalKind signal) {
    return signal == SignalKind::Steps || signal == SignalKind::StepRate;
}

/// An edit of the project that cures a finding.
struct Remedy {
    std::string label;
    std::vector<project::FactEdit> edits;
    std::string cost;    ///< what it costs, in words; may be empty
    bool eases = false;  ///< it makes better what it cannot cure, and says so
};
/// Why the sketch cannot command a channel as it is planned, and what would do instead.
struct NotDriven {
    std::string why;
    std::vector<Remedy> remedies;
};

/// What stands for a part in a drawing of the wiring: the standard's generic symbols. @source graphical-symbols
enum class Symbol {
    Board,  ///< a box with its terminals' names
    Mosfet,
    Transistor,  ///< bipolar, NPN
    Motor,
    Fan,   ///< a motor with its wheel
    Pump,  ///< the same, for water
    Lamp,
    Led,
    Heater,
    Coil,
    Contact,
    Resistors,  ///< two in series, tapped
    Thermistor,
    Potentiometer,
};

/// One wire of the gadget.
struct Wire {
    std::string from;
    std::string to;
    std::string note;
    bool mains = false;                 ///< it carries mains volts: its colour and its making are the local code's
    std::optional<Resistance> through;  ///< a resistor that lies in it; its note says so
    bool diode = false;                 ///< a diode lies in it, its stripe at `to`
    std::optional<Current> fuse;        ///< a fuse lies in it; its note says so
};
/// A wire with a resistor in it: "through 330 Ω". @param after  what its note says behind that
[[nodiscard]] Wire through(std::string from, std::string to, Resistance ohms, const std::string& after = "");

/// One check of a driver with nothing on it, before its load is plugged in.
struct LoneCheck {
    std::string id;     ///< behind the channel's, "bridge"
    std::string title;  ///< behind the channel's name, "bridge, nothing on it"
    std::string what, ready, instrument;
    Kind kind = Kind::Voltage;
    double expected = 0.0, least = 0.0, most = 0.0;
    std::string reason, abort, caution;
    std::optional<double> never_over;  ///< what the part bears …
    std::string bears;                 ///< … and what that is
};

/// A reading that means something for a part, and where it should fall.
struct Expected {
    std::string field;  ///< of journal::Sample: "current"
    std::string what;   ///< "current, running free"
    std::string how;    ///< to measure it
    Kind kind = Kind::Current;
    double value = 0.0;              ///< SI, of the data sheet
    double least = 0.0, most = 0.0;  ///< accepted; twice as far off is rejected, in between is suspect
    std::string reason;
};
/// @param below, above  shares of the value that are accepted
[[nodiscard]] Expected expect(std::string field, std::string what, std::string how, Kind kind, double value, double below, double above,
                              std::string reason);
/// Its winding, cold [Ω].
[[nodiscard]] Expected windingReading(double ohms, double below, double above);

}  // namespace hinge::kinds
