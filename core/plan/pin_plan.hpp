#pragma once
// Where every line of the gadget goes: solved, offered as an edit, and compared over the boards.
#include "board/assign.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

/// A line that a channel has besides its main one.
struct PinLine {
    const char* name;   ///< "direction"
    const char* field;  ///< "direction_pin"
    std::string pin;    ///< empty: none yet
    bool output = true;
    bool pwm = false;         ///< it gets pulses of the frequency that its channel's own pin gets
    std::string_view pair{};  ///< of an end with an input for each switch: the fact of its upper one's pin, "direction_pin"; else empty
};
[[nodiscard]] std::vector<PinLine> linesOf(const ChannelPlan& plan, const project::Channel& channel, const routine::Routine& routine);
/// Lines of the board's own that its channels share: of drivers whose settings are registers on a bus with a clock. `field` is of the
/// board.
[[nodiscard]] std::vector<PinLine> sharedLines(const Plan& plan, const project::Project& project);
/// The pin on which a Linux header has its own two-wire bus; empty: this line may be on any. @param field  "expander_clock_pin"
[[nodiscard]] std::string headerBusPin(const board::Family& family, std::string_view field);
/// A line of a board of more lines that something sits on.
struct ExpanderLine {
    int output = 0;
    std::string path, name;  ///< "channels/rain/pin", "Rain"
};
/// What sits on such a board, in the order of the project.
[[nodiscard]] std::vector<ExpanderLine> linesOn(const project::Project& project, const Plan& plan, const ExpanderPlan& board);
/// True when servos or steppers need the board's beat timer.
[[nodiscard]] bool beats(const Plan& plan);
/// Whether a timer times the firing into half-waves of the mains.
[[nodiscard]] bool fires(const Plan& plan);
/// The PWM frequency that a channel asks of its pin [Hz]; nullopt when it asks none.
[[nodiscard]] std::optional<double> pwmAsked(const ChannelPlan& plan, const project::Channel& channel);

/// What every line asks of its pin on that board; those that have one are pinned there.
[[nodiscard]] std::vector<board::PinWish> pinWishes(const project::Project& project, const Plan& plan, const board::Family& family);
/// What a board has for lines that have no pin: by their ids, without words.
struct PinSolution {
    long open = 0, strange = 0;  ///< lines without a pin; lines on one that this board does not have
    std::optional<board::PinClash> clash;
    std::vector<board::PinChoice> choices;  ///< of all lines; beside a clash: once `moved` goes elsewhere
    std::optional<std::size_t> moved;       ///< the one pinned line (as the wishes) that stands in the way of the others
    std::vector<board::BoardForm> boards;   ///< that would take them all, at most two
    std::string expander;                   ///< that would take some of them; empty: none
    std::size_t expander_takes = 0;
};
/// What offerPins() was asked, and what was found.
struct PinOffer {
    board::BoardForm form{};
    board::PinRules rules;
    std::vector<board::PinWish> wishes;      ///< without their names
    std::vector<SignalKind> signals;         ///< as plan.channels: other boards and expanders serve a line by its signal …
    std::vector<project::InputKind> inputs;  ///< … and an input by its kind
    PinSolution solution;
};
/// Solves the lines that have no pin yet, or one that this board does not have: a finding offers the pins
/// as a remedy, or names the wishes that clash and the boards that would do.
/// @param before  a plan made earlier: where the same was asked of the same board, what was found is taken; nullptr: none
void offerPins(const project::Project& project, Plan& plan, const Plan* before = nullptr);

/// Free pins to which the line on a pin could move, the best first; empty when nothing sits there.
[[nodiscard]] std::vector<std::string> otherPins(const project::Project& project, const Plan& plan, std::string_view pin);

/// One wire that goes to another pin.
struct PinMove {
    std::string path;      ///< "channels/rain/pin"
    std::string name;      ///< "Rain (PWM)"
    std::string from, to;  ///< printed names; `from` empty: it had none
    friend bool operator==(const PinMove&, const PinMove&) = default;
};
/// What the gadget would need on a board.
struct BoardChoice {
    board::BoardForm form{};
    bool fits = false;
    std::string why;  ///< what clashes, or what speaks against it; empty: nothing
    std::vector<PinMove> moves;
    int spare = 0;  ///< pins that stay free, the console's left out
};
/// Pins keep their printed name where the board has it and it can do what is asked.
[[nodiscard]] BoardChoice onBoard(const project::Project& project, const Plan& plan, board::BoardForm form);
/// The edits that change to that board with all its pins.
[[nodiscard]] std::vector<project::FactEdit> editsFor(const BoardChoice& choice);

/// What a board of more lines on a bus would take over.
struct ExpanderChoice {
    const driver::RegisterMap* map = nullptr;
    std::string name, note;                ///< "16 outputs of a PWM expander"
    bool fits = false;                     ///< what stays fits on the board, with the bus
    std::vector<std::string> takes;        ///< names of the lines, "Moon arm"
    std::vector<std::string> bus;          ///< pins of the bus: "A4", "A5"
    int spare = 0;                         ///< pins that stay free
    std::vector<project::FactEdit> edits;  ///< that put the lines there; the part that drives servos is still to be named
};
/// Every kind of board of more lines that could take at least one line of this gadget, as the sketch drives it.
[[nodiscard]] std::vector<ExpanderChoice> withExpanders(const project::Project& project, const Plan& plan);
/// The edits that fit such a board, as the catalogue has it. Empty: it has none.
[[nodiscard]] std::vector<project::FactEdit> editsFor(const ExpanderChoice& choice, const project::Parts& parts);

}  // namespace hinge::plan
