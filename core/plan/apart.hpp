#pragma once
// The plan of a gadget with lamps of three colours: made of its outputs, and told of its channels.
#include "plan/colours.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

/// The gadget as its outputs are: every room that drives, wires, feeds or proves an output is asked of this one.
struct Apart {
    ColoursApart colours;
    Plan plan;
    [[nodiscard]] const project::Project& project() const { return colours.project; }
};

/// What is planned of its outputs, told of the channels as the maker knows them; `outputs` stays in it, as `apart`.
[[nodiscard]] Plan toldOfChannels(const project::Project& project, const project::Parts& parts, ColoursApart colours, Plan outputs);

/// The channel of an output: another one only where a channel has several.
[[nodiscard]] std::string channelOf(const Plan& plan, std::string_view output);

}  // namespace hinge::plan
