#pragma once
// Need and Match of one channel, the first stage of the plan: what it reads, and what it gives for it.
#include "plan/plan.hpp"

namespace hinge::plan {

/// All that the stage reads of a gadget, besides the catalogue in which a cure is looked for.
struct ChannelReads {
    project::Channel channel;
    std::vector<match::RailOption> rails;  ///< its own first
    std::optional<actuator::Part> part;    ///< as the catalogue has it
    std::optional<driver::DriverPart> driver;
    Voltage logic{};  ///< of a pin that is high
    Current pin_current{};
    std::optional<Voltage> logic_supply;
    Temperature ambient;
    int alike = 0;        ///< channels with that part
    bool shares = false;  ///< the routine gives it parts of its full power
    bool held = false;    ///< a loop holds it
    bool ends = false;    ///< an end switch or a sensor ends whatever its cues do with it
    friend bool operator==(const ChannelReads&, const ChannelReads&) = default;
};
[[nodiscard]] ChannelReads readsOf(const project::Project& project, const project::Parts& parts, const project::Channel& channel);

/// The stage as it was run once.
struct ChannelStage {
    ChannelReads reads;
    std::shared_ptr<const project::Parts> searched;  ///< the catalogue, where a cure was looked for in it; nullptr: it was not read
    ChannelPlan plan;
    std::vector<PlanFinding> findings;
    std::vector<ShownWorking> workings;
    std::vector<Missing> missing;
};
/// @param before  the stage of an earlier plan: given again where it read the very same; nullptr: none
/// @param cures   whether remedies are looked for: nobody reads those of a plan that is only tried
[[nodiscard]] std::shared_ptr<const ChannelStage> channelStage(ChannelReads reads, const project::Parts& parts,
                                                               const std::shared_ptr<const ChannelStage>& before, bool cures = true);

}  // namespace hinge::plan
