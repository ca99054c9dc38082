#pragma once
// The wires that follow from the plan, what is recorded of each, and what a rebuild changed.
#include "plan/plan.hpp"

namespace hinge::plan {

using kinds::Wire;
[[nodiscard]] std::vector<Wire> wiring(const project::Project& project, const project::Parts& parts, const Plan& plan);
/// Its first part: from the sources to the rails, to what always stands on them, and to the board.
[[nodiscard]] std::vector<Wire> supplyWires(const project::Project& project);
/// Its second part: from rails and board on, without what feeds them.
/// The end from which a channel's wire starts: "board D9", or "I²C PWM expander X3".
[[nodiscard]] std::string pinEnd(const project::Channel& channel, const ChannelPlan& planned);
[[nodiscard]] std::vector<Wire> gadgetWires(const project::Project& project, const project::Parts& parts, const Plan& plan);

/// A wire with all that is known of it.
struct WireRow {
    std::string label;  ///< "W07", by its place in the list
    Wire wire;
    std::string colour;  ///< recorded, or proposed
    bool colour_recorded = false;
    std::optional<Area> area;      ///< recorded, or its rail's
    std::optional<Length> length;  ///< recorded, or its rail's
    std::string connector;         ///< recorded
    int ends = 2;                  ///< places where it is joined
};
/// Proposed colours: plus of a rail red, ground black, the logic supply orange, signals in turn (common practice, no published source).
[[nodiscard]] std::vector<WireRow> wireRows(const project::Project& project, const std::vector<Wire>& wires);
/// What a plain word for a sleeve's colour looks like, 0xRRGGBB; nullopt for another word.
[[nodiscard]] std::optional<std::uint32_t> sleeveColour(std::string_view word);
/// Its code: "YE"; empty for another word. @source colour-codes
[[nodiscard]] std::string_view sleeveCode(std::string_view word);
/// The record of a wire in a project, changed; made where there is none.
/// @param field  "colour", "area", "length" or "connector"; an empty text forgets it
/// @error NotANumber, WrongUnit, OutOfRange  the text is no area or length; Unknown  no such field
[[nodiscard]] Result<project::Project> recordWire(project::Project project, const Wire& wire, std::string_view field,
                                                  const std::string& text);

/// The wiring as it is, kept before a rebuild.
[[nodiscard]] project::Project keepSnapshot(project::Project project, const std::vector<Wire>& wires, const std::string& name,
                                            const std::string& date);
enum class WireFate { Same, Added, Removed, Moved };
struct WireChange {
    WireFate fate = WireFate::Same;
    Wire before, now;  ///< Added: only now; Removed: only before
};
/// What is no longer as it was. A wire is known by where it ends; one whose start changed has moved.
/// Only what differs is listed.
[[nodiscard]] std::vector<WireChange> wiringDifference(const std::vector<journal::WireNote>& before, const std::vector<Wire>& now);

/// What a way of building asks, for this gadget's wires.
struct BuildEffort {
    project::BuildStyle style{};
    int wires = 0;
    int soldered = 0, plugged = 0, screwed = 0;  ///< joints of each sort
    Duration time{};
    Ratio cost{};        ///< in the project's currency
    std::string repair;  ///< how a wire is changed
};
/// Per joint: soldered 2 min, plugged 0.5 min, screwed 1 min; boards and strips at usual prices
/// (common practice, no published source).
[[nodiscard]] std::vector<BuildEffort> buildStyles(const std::vector<Wire>& wires);

/// As CSV, with a heading and units.
[[nodiscard]] std::string wiringCsv(const std::vector<WireRow>& rows);

}  // namespace hinge::plan

template <>
struct hinge::Names<hinge::plan::WireFate> {
    using F = hinge::plan::WireFate;
    static constexpr std::array all{hinge::Name<F>{F::Same, "same", "as it was"}, hinge::Name<F>{F::Added, "added", "new"},
                                    hinge::Name<F>{F::Removed, "removed", "gone"}, hinge::Name<F>{F::Moved, "moved", "moved"}};
};
