#pragma once
// A gadget with something wrong in it, for practising and for testing the fault-finder: what would be measured, heard and seen.
#include <string>
#include <vector>
#include "plan/plan.hpp"

namespace hinge::simulation {

/// One thing that is wrong with a channel. The ids are those of parts/fault_causes.csv.
struct Fault {
    std::string id;
    std::string channel;
    friend bool operator==(const Fault&, const Fault&) = default;
};

/// One channel's chain from supply to shaft as a circuit of numbers, with the fault in it: a source behind its wires, a switch with its
/// gate, a winding, a load. Cues and inputs are those of the interpreted routine, run with the fault's input stuck or silent.
/// @source ohm, dc-motor-linear
class FaultyGadget {
public:
    /// @error Unknown  no such channel, or a fault that it cannot have
    static Result<FaultyGadget> make(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                     const Fault& fault);
    /// What is seen first, by the ids of the symptoms.
    [[nodiscard]] std::string symptom() const;
    /// What a test would show, by the ids of its outcomes; empty where the test makes no sense here.
    [[nodiscard]] std::string answer(const std::string& test) const;
    /// Every fault that a project's channels can have.
    [[nodiscard]] static std::vector<Fault> possible(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);

private:
    // The chain. Plain SI.
    struct Chain {
        double supply = 12.0, source = 0.05;  // V, Ω to the rail
        bool supply_on = true, fuse = true, board_fed = true;
        double logic = 5.0, floor = 3.8, dropout = 1.2;
        bool logic_from_supply = true;  // the board hangs on the same source …
        bool same_rail = false;         // … or on the very same rail
        bool pin_wire = true, pin_right = true, ground = true, awake = true, plan_same = true;
        double gate_share = 1.0, enough = 0.75, threshold = 0.45;  // of the pin's volts
        bool driver_open = false, driver_short = false, diode_reversed = false, load_wire = true;
        double on_resistance = 0.05;
        double winding = 12.0, planned_winding = 12.0;  // Ω; huge: open
        double running = 0.3, planned = 0.3;            // A while it runs as planned
        bool turns = true;                              // it is a motor of some kind
        bool stepper = false, jammed = false, slips = false, coils = true, reversed = false, weak_current = false;
        bool looped = false, tach = true, tach_wild = false;
        double rise = 20.0, trip = 1e9;  // K/W of the driver, and the heat [K] at which it switches itself off
        double fuse_holds = 1e9;         // A for minutes; above it a resettable fuse opens
        bool pwm = true;                 // its pin can give a share
        double coupled_noise = 0.0;      // V on its signal wire for each ampere of the others
        double pull_out = 1e9;           // steps are lost above this share of the planned speed
        double slip = 0.0;               // of its way, lost at each start
        bool scrapes = false;
        double whine = 0.0;                                                                      // Hz; 0: none
        bool pull_ups = true, bus_right = true, bus_fed = true;                                  // the two-wire bus
        bool on_bus = false;                                                                     // its own driver hangs on it
        bool select = true, serial_right = true, flagged = false;                                // the driver's own bus
        bool way_line = true, other_half = true, two_inputs = false;                             // of a bridge that is turned round
        bool crossings = true, mains_right = true, crossings_steady = true, both_halves = true;  // what is fired into half-waves
    };
    // What comes of it, told to run or not.
    struct State {
        bool alive = false, cue = false;
        double rail = 0.0, logic = 0.0, pin = 0.0, gate = 0.0, current = 0.0, across = 0.0, speed = 0.0,
               heat = 0.0;  // speed: share of planned
        bool resets = false, sound = false;
        bool trips = false, opens = false;  // it stops after a while: the driver too hot, the fuse open
    };
    [[nodiscard]] State solve(bool told, bool alone = false, double slowness = 1.0) const;
    [[nodiscard]] static bool apply(Chain& chain, const std::string& fault);
    void runRoutine(const project::Project& project, const plan::Plan& plan, const Fault& fault);

    Chain chain_;
    double others_ = 0.0;  ///< A of the other channels while all run
    bool cue_runs_ = true, input_shows_ = true, forbidden_ = false, untouched_ = false,
         noisy_ = false;  ///< untouched: it comes on by itself
};

}  // namespace hinge::simulation
