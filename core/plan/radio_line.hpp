#pragma once
// A radio's serial line beside the link: where it lies, how fast it may be, and what anybody near can do by it.
#include "board/assign.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

/// Whether a radio has a line of its own, beside the link at the upload pins.
[[nodiscard]] bool hasOwnRadio(const project::Board& board);
/// The chip's own serial port on which that line lies; 0: on none, and the sketch takes its bits by their edges.
[[nodiscard]] int radioPort(const project::Board& board);
/// A line of such a port on whose two pins nothing else sits; empty: none is free. @param in  the one on which it hears
[[nodiscard]] std::string radioPortPin(const project::Project& project, const board::Family& family, bool in);

/// What one of its two lines asks of the pins: those of a free port first. @param wish  its id is the line's path
void wishRadioLine(const project::Project& project, const board::Family& family, board::PinWish& wish);
/// What anybody near can do over the air.
void judgeRadio(const project::Project& project, Plan& plan);
/// Who can give it a line, and how fast.
void judgeRadioLine(const project::Project& project, Plan& plan);

}  // namespace hinge::plan
