#pragma once
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>
#include "plant/bench.hpp"
#include "plant/pump_plant.hpp"

namespace hinge::plant {

/// A change of one output pin or input pin.
struct Edge {
    double time = 0.0;  ///< s since power-up
    int output = -1;    ///< index, or -1
    int input = -1;
    int level = 0;  ///< pin level, 0 or 1
    friend bool operator==(const Edge&, const Edge&) = default;
};

/// What can be seen of a running gadget.
struct Observation {
    double time = 0.0;            ///< s since power-up
    std::vector<double> duty;     ///< share of the last millisecond each output was on
    double supply_current = 0.0;  ///< A of all movers
    double poured = 0.0;          ///< m³ by the first pump
    double tank = 0.0;            ///< m³ left
    std::vector<Seen> machines;   ///< what stands on its bench
};

/// What the movers draw and pour, and what stands on the bench.
void observe(const std::vector<PumpPlant>& plants, const Bench& bench, Observation& seen);

/// What a script of events needs of a gadget.
class Played {
public:
    virtual ~Played() = default;
    /// Runs on by that time [s].
    virtual void advance(double seconds) = 0;
    /// Whether it has a link at all.
    [[nodiscard]] virtual bool hears() const { return true; }
    /// Bytes from the desk to the board.
    virtual void write(std::string_view bytes) = 0;
    /// Sets an input's contact: true when its statement is true ("pressed", "tank empty").
    virtual void setInput(int index, bool active) = 0;
    /// Sets what an analogue input reads, 0 to 1023.
    virtual void setReading(int index, int reading) = 0;
    /// Sets how fast pulses come at a tach [Hz].
    virtual void setRate(int index, double rate) = 0;
    /// Power goes and comes back at once.
    virtual void cutPower() = 0;
};

/// A gadget that answers on a link like the real one: the emulated board with the emitted sketch,
/// or the interpreter of the routine.
class StandIn : public Played {
public:
    [[nodiscard]] virtual std::string what() const = 0;
    /// Bytes from the board to the desk, since the last call.
    [[nodiscard]] virtual std::string read() = 0;
    /// Whether a radio on a line of its own stands beside it.
    [[nodiscard]] virtual bool hearsRadio() const { return false; }
    /// Bytes that the radio hands to the board …
    virtual void sayByRadio(std::string_view /*bytes*/) {}
    /// … and that it gets from it, since the last call.
    [[nodiscard]] virtual std::string radioAnswers() { return {}; }
    [[nodiscard]] virtual Observation observe() const = 0;
    /// Machines beside it from now on: they move as its outputs say, and its inputs read them.
    virtual void fit(Bench bench) = 0;
    /// A shove, a brake: see Bench::disturb.
    virtual void disturb(int output, double how_much) = 0;
    /// Every edge so far, in order.
    [[nodiscard]] virtual const std::vector<Edge>& edges() const = 0;
};

}  // namespace hinge::plant
