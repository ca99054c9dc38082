#pragma once
// The machines of a gadget beside its board: what the outputs move, and what the inputs read of it.
#include <cstdint>
#include <deque>
#include <random>
#include <span>
#include <variant>
#include <vector>
#include "plant/balancer.hpp"
#include "plant/mover.hpp"
#include "plant/rotor.hpp"
#include "plant/vessel.hpp"

namespace hinge::plant {

using Machine = std::variant<Rotor, FanPlant, TankPlant, BoxPlant, ServoPlant, StepAxis, Balancer>;

/// How a sensor turns what it sees into a reading or into pulses.
struct Sense {
    int input = -1;         ///< of the program; −1: none, it is only looked at
    bool tach = false;      ///< pulses, not a level
    bool by_angle = false;  ///< of what turns: its angle behind the play, not its speed
    double per_unit = 1.0;  ///< pulses for each rad, or counts for each unit (rad/s, rad, m, K)
    double zero = 0.0;      ///< counts at 0
    double noise = 0.0;     ///< counts rms
    double delay = 0.0;     ///< s
    friend bool operator==(const Sense&, const Sense&) = default;
};
/// One machine, who drives it, and who looks at it.
struct Coupling {
    std::vector<int> outputs;  ///< of the program; several: the mean of them
    Machine machine = Rotor{RotorFigures{}};
    Sense sense;
    Sense current{};  ///< of its driver's current output: counts for each A in the supply line
};

/// What can be seen of a machine.
struct Seen {
    int output = -1;        ///< the first that drives it
    double value = 0.0;     ///< rad/s, rad, m or K: what its sensor is for
    double angle = 0.0;     ///< rad or m, for the picture
    double current = 0.0;   ///< A
    double reading = 0.0;   ///< counts, or Hz of a tach
    double lost = 0.0;      ///< micro-steps
    bool troubled = false;  ///< strains, lies, or has spilled
};
[[nodiscard]] Seen look(const Machine& machine);
/// Whether it knows the current that it draws.
[[nodiscard]] bool showsCurrent(const Machine& machine);

/// A machine that is a little off its figures, as a real one is: each by up to 15 %, the same for the same seed.
[[nodiscard]] Coupling varied(Coupling coupling, std::uint64_t seed);

class Bench {
public:
    Bench() = default;
    /// @param seed  of the sensors' noise
    explicit Bench(std::vector<Coupling> couplings, std::uint64_t seed = 1);
    struct Reading {
        int input = -1;
        bool tach = false;
        double value = 0.0;  ///< counts, 0 to 1023, whole; or Hz
    };
    /// @param shares  per output: of full power, below 0 the other way round: only what turns does that
    /// @param places  per output: half µs of pulse or steps
    /// @param loose  per output: its bridge lets the motor run out by itself; absent: none does
    /// @return what the inputs read after it; the same room each time
    const std::vector<Reading>& step(double dt, std::span<const double> shares, std::span<const double> places,
                                     std::span<const std::uint8_t> loose = {});
    [[nodiscard]] std::vector<Seen> seen() const;
    [[nodiscard]] bool empty() const noexcept { return couplings_.empty(); }
    /// A shove or a brake from outside, for the machine of an output: what balances is pushed [m/s], or set up again when it lies, or by 0;
    /// what turns is held fast (1) or let go (0).
    void disturb(int output, double how_much);

private:
    std::vector<Coupling> couplings_;
    std::vector<std::deque<double>> late_;  ///< per coupling: what its sensor has yet to tell
    std::vector<double> told_;
    std::vector<Reading> readings_;
    std::mt19937_64 chance_{1};
    std::normal_distribution<double> noise_{0.0, 1.0};
};

}  // namespace hinge::plant
