#pragma once
#include "plan/supply.hpp"
#include "simulation/simulate.hpp"

namespace hinge::simulation {

/// What the rails do over a stretch of the routine.
struct SupplyDay {
    std::vector<std::string> ids, names;  ///< of the tree's sections: sources, then rails
    std::vector<plan::OutputLoad> outputs;
    std::vector<plan::DriveChange> changes;
    struct Point {
        double time = 0.0;          ///< s
        std::vector<double> volts;  ///< per section
        std::vector<double> amps;   ///< per output, as drawn from the first source
        double source = 0.0;        ///< A from the first source
        double standing = 0.0;      ///< A of that: board, monitors
    };
    std::vector<Point> points;           ///< dense after each change, sparse in between
    std::vector<plant::Lowest> lowest;   ///< per section, times from the start
    double peak = 0.0, peak_time = 0.0;  ///< A from the first source
    double charge = 0.0;                 ///< C from it
    double length = 0.0;
};

/// Plays the program under a script, from change to change: between two of them only counters go on, and the
/// rails follow in closed form. Of a long day only every change and the dips are kept, not each sample.
/// @param keep_points  how many at most; when more came, every other one is dropped
/// @error Unknown    an event names an input or cue that is not there
/// @error OutOfRange a network that does not come to an end
[[nodiscard]] Result<SupplyDay> supplyDay(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<Event>& events,
                                          double length, std::size_t keep_points = 20'000);

/// A made-up stretch around the worst coincidence of a section, as a day of its own; its time 0 is half a second
/// before the coincidence.
[[nodiscard]] Result<SupplyDay> worstInstant(const routine::Program& program, const plan::SupplyTree& tree, int section);

}  // namespace hinge::simulation
