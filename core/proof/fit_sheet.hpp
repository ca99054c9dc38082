#pragma once
// The sheet of lengths and checks that goes with the wiring: horns, shafts, screws, belts, printed arms, openings, the case.
#include "plan/plan.hpp"

namespace hinge::proof {

/// One line of the sheet.
struct FitLine {
    std::string channel;  ///< id; empty: the case
    std::string what;     ///< "horn at the middle pulse"
    std::string figure;   ///< what it is, or should be
    std::string check;    ///< how to look that it is so
    std::string why;      ///< of its verdict; empty when it holds
    Verdict verdict = Verdict::Unknown;
};
struct FitSheet {
    std::vector<FitLine> lines;
    std::vector<plan::ShownWorking> workings;
    std::optional<Temperature> inside;  ///< of the case, with what warms it
    Power heat{};                       ///< given off inside by board, regulators and drivers
};
/// Everything that the facts of the fit and the plan allow to say; a fact that is missing says so in its line.
[[nodiscard]] FitSheet fitSheet(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);
/// True for a fact of project::Fit that means something for a channel.
[[nodiscard]] bool fitApplies(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                              const std::string& channel, std::string_view fact);
/// The torque that a part gives at the load when it is held fast; nullopt where it turns nothing, or is not known.
/// @source definition
[[nodiscard]] std::optional<Torque> stallTorqueAtLoad(const project::Channel& channel, const project::Parts& parts);

/// The plan with a finding for each line that breaks or is tight.
[[nodiscard]] plan::Plan withFit(plan::Plan plan, const FitSheet& sheet);

}  // namespace hinge::proof
