#pragma once
// What would keep a rail's volts up: each cure is tried on the study of the supply.
#include <array>
#include "board/family.hpp"
#include "plan/supply.hpp"

namespace hinge::plan {

/// Sizes as they are stocked. @source common practice, no published source
inline constexpr double stocked_amps[] = {0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0};
inline constexpr double stocked_bulks[] = {100e-6, 220e-6, 470e-6, 1000e-6, 2200e-6, 4700e-6, 10000e-6, 22000e-6, 47000e-6};  ///< F
inline constexpr double stocked_ratings[] = {6.3, 10, 16, 25, 35, 50, 63, 100};                                               ///< V

/// What was asked, and what was found to cure it.
struct SagCures {
    std::shared_ptr<const StudiedSupply> studied;  ///< as the gadget is fed
    std::string rail;
    double floor = 0.0;  ///< V that the rail must keep
    std::vector<power::Source> sources;
    std::vector<power::Rail> rails;
    std::vector<std::array<std::string, 3>> channels;  ///< railsOf()
    std::vector<Remedy> remedies;                      ///< at most four
};
/// Of each channel that draws from a rail: its id, name and rail.
[[nodiscard]] std::vector<std::array<std::string, 3>> railsOf(const project::Project& project);
/// The rail set to what the board takes as usual; nullopt where nothing sets it.
[[nodiscard]] std::optional<Remedy> higher(const power::Rail& rail, const board::Family& family);
/// @param asked   without remedies
/// @param before  what was found earlier: where the same was asked, that is given again
[[nodiscard]] std::shared_ptr<const SagCures> sagCures(SagCures asked, const project::Project& project, const project::Parts& parts,
                                                       const Plan& plan, const SupplyOption& option,
                                                       const std::vector<std::shared_ptr<const SagCures>>& before);

}  // namespace hinge::plan
