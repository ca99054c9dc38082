#pragma once
// What hangs on an input's pin: its wires, its parts, and the volts that it brings to the pin.
#include "plan/wiring.hpp"

namespace hinge::plan {

/// The values that the list proposes where the maker has said none.
struct InputCircuit {
    project::Wired wired = project::Wired::Contact;
    Resistance top{}, bottom{};   ///< of a divider; `bottom` beside a thermistor, or the burden
    std::optional<Voltage> fed;   ///< volts of what feeds it, or of what it reads; absent: not known
    std::optional<Voltage> most;  ///< highest volts at the pin; absent: not known
};
[[nodiscard]] InputCircuit circuitOf(const project::Project& project, const project::Input& input);

/// Whether a field of an input ("r_top") has a meaning for its kind and for what it is wired to.
[[nodiscard]] bool inputHas(const project::Input& input, std::string_view field);

/// The end that the board's own volts come from: "board 5 V".
[[nodiscard]] std::string logicSupply(const project::Project& project);
/// Whether its pin has no pull-up of its own where it wants one: a resistor of 10 kΩ beside it does that.
/// Whether a driver tells where the mains' crossings are: by an output of its own.
[[nodiscard]] bool tellsCrossings(const project::Project& project, const project::Parts& parts);
/// A coupler at the mains' zero crossings, for what is fired into half-waves and does not tell them itself.
[[nodiscard]] std::vector<Wire> crossingWires(const project::Project& project);
/// A radio's on a line of its own.
[[nodiscard]] std::vector<Wire> radioWires(const project::Project& project);
/// Whether its input bears less than a pin that is high.
[[nodiscard]] bool radioDivider(const project::Project& project);
[[nodiscard]] bool pulledUpOutside(const project::Project& project, const project::Input& input);

/// The board of more lines on which an input lies; nullopt: on the board itself.
[[nodiscard]] std::optional<ExpanderPlan> expanderOf(const project::Input& input);
/// The end at which an input comes in: "board A0", or "I²C I/O expander X3".
[[nodiscard]] std::string pinEnd(const project::Input& input);
/// Every wire of an input that has a pin.
[[nodiscard]] std::vector<Wire> inputWires(const project::Project& project, const project::Input& input);
/// The resistors between its own ends, as wires of their own: a divider's two, a potentiometer's halves with its wiper in the middle, a
/// thermistor at 25 °C, a pull-up outside.
[[nodiscard]] std::vector<Wire> insideInput(const project::Project& project, const project::Input& input);
/// What has to be bought for it, one line each.
[[nodiscard]] std::vector<std::string> inputParts(const project::Project& project, const project::Input& input);

}  // namespace hinge::plan
