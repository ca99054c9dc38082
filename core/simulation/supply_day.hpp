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
        double drawn = 0.0;         ///< A that all loads take, as counted from the first source
    };
    std::vector<Point> points;             ///< dense after each change, sparse in between
    std::vector<plant::Lowest> lowest;     ///< per section, times from the start
    double drawn = 0.0, drawn_time = 0.0;  ///< A that the loads take from the first source at most, as the plan's worst is counted
    double peak = 0.0, peak_time = 0.0;    ///< A out of the first source: less, where capacitors lend, or more, where it fills them
    double charge = 0.0;                   ///< C out of it
    double length = 0.0;
    bool collapsed = false;  ///< a source that is asked for more than it gives, again and again, without coming to rest
    /// A that all loads take at a time.
    [[nodiscard]] double drawnAt(double time) const;
};

/// Plays the program under a script, from change to change: between two of them only counters go on, and the
/// rails follow in closed form. Of a long day only every change and the dips are kept, not each sample.
/// @param keep_points  how many at most; when more came, every other one is dropped
/// @error Unknown    an event names an input or cue that is not there
[[nodiscard]] Result<SupplyDay> supplyDay(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<Event>& events,
                                          double length, std::size_t keep_points = 20'000);
/// The rails under what was simulated.
[[nodiscard]] SupplyDay supplyOf(const Traces& traces, const plan::SupplyTree& tree, std::size_t keep_points = 20'000);

/// A made-up stretch around the worst coincidence of a section, as a day of its own; its time 0 is half a second
/// before the coincidence.
[[nodiscard]] Result<SupplyDay> worstInstant(const routine::Program& program, const plan::SupplyTree& tree, int section);

}  // namespace hinge::simulation
