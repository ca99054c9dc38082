#pragma once
// A wiring list taken apart into circuits: which boxes belong together, and at which side of its box each wire goes.
#include <set>
#include "drawing/ends.hpp"

namespace hinge::drawing {

/// What hangs on a run and ends at a supply above it or at ground below it.
struct Branch {
    std::size_t row = 0;  ///< of the list
    End other;
    bool leaves = true;    ///< its first end in the list is the one on the run
    bool at_port = false;  ///< between the pin and what lies in the run; else between that and the box
    [[nodiscard]] bool up() const { return other.kind != EndKind::Ground && other.kind != EndKind::Return; }
};
/// A run to the left or to the right of a box, at a height of its own.
struct Track {
    std::size_t row = 0;
    std::string terminal, raw;                   ///< its name at the box, and as the list has it
    End port;                                    ///< where it goes, where that is no box
    std::string far_box, far_raw, far_terminal;  ///< the terminal that it goes to, where it is one
    std::vector<Branch> branches;
    bool strap = false;  ///< joined to the track below it, at the same box
};
/// A run straight up to a supply, or straight down to ground.
struct Riser {
    std::size_t row = 0;
    std::string terminal, raw;
    End port;
};
struct Placed {
    Box box;
    std::vector<Track> outer;  ///< to pins and supplies, away from the other boxes
    std::vector<Track> inner;  ///< of the first box: to the boxes behind it
    std::vector<Riser> top, bottom;
    [[nodiscard]] std::set<std::string> terminals() const;
};
struct Circuit {
    Placed first;
    std::vector<Placed> behind;
    std::vector<std::size_t> loose;  ///< rows between two ports that hang on no run
};

/// All that stands beside the board, circuit by circuit, in the order of the list. The rows of the supply are left out.
[[nodiscard]] std::vector<Circuit> arranged(const Ends& ends, const std::vector<plan::WireRow>& rows);

}  // namespace hinge::drawing
