#pragma once
// The supply over time: what the routine draws, when, and what is left of every rail's volts.
#include "plan/cue_profiles.hpp"
#include "plan/plan.hpp"
#include "plant/supply_network.hpp"

namespace hinge::plan {

/// One way to feed the gadget, and how full its cells are.
struct SupplyOption {
    std::string source;  ///< id of the source that feeds
    power::ChargeLevel charge = power::ChargeLevel::Nominal;
    std::string words;  ///< "on the battery, nearly empty"
    friend bool operator==(const SupplyOption&, const SupplyOption&) = default;
};
/// Every source that can feed the gadget's rails; cells and transformers also full and empty. The first
/// is the one that is drawn, at its nominal volts.
[[nodiscard]] std::vector<SupplyOption> supplyOptions(const project::Project& project);
/// The project as it is fed under an option: the source stands in the place of the one it replaces, with
/// its volts, ohms and amps as plain figures.
[[nodiscard]] project::Project under(const project::Project& project, const SupplyOption& option);

/// What one output takes.
struct OutputLoad {
    std::string channel, name;
    int section = -1;       ///< of the tree; −1: on the mains
    double rest = 0.0;      ///< A while it stands powered
    double running = 0.0;   ///< A
    double starting = 0.0;  ///< A at first
    double stalled = 0.0;   ///< A held fast
    double decay = 1e-3;    ///< s in which that falls to the running current
    double ramp = 0.0;      ///< s of its soft start, at the starting current throughout
    double by_share = 1.0;  ///< exponent of the share of its duty by which what it draws falls, as its machine has it
    bool placed = false;    ///< servo or stepper: it moves and then stands
    double pulse = 0.0;     ///< s after each change in which alone it draws: of a coil that latches; 0: it is none
    bool idles = false;     ///< its electronics or its winding draw their rest while it is off
    int coil_section = -1;  ///< a relay's coil, while it is on
    double coil = 0.0;      ///< A
    friend bool operator==(const OutputLoad&, const OutputLoad&) = default;
};
/// The sources and rails as a network, feeds first. A rail that feeds itself or hangs on nothing is left out.
struct SupplyTree {
    std::vector<std::string> ids, names;
    std::optional<plant::SupplyNetwork> network;
    std::vector<OutputLoad> outputs;         ///< as the program's outputs
    std::vector<plant::LoadShape> standing;  ///< board, monitors, what is never switched
    std::vector<std::vector<double>> taken;  ///< [section][section]: A into the first for each A into the second
    [[nodiscard]] int indexOf(std::string_view id) const;
};
/// nullopt: a figure of a channel or of a source is not known yet, or a mover waits for its calibration.
[[nodiscard]] std::optional<SupplyTree> supplyTree(const project::Project& project, const project::Parts& parts, const Plan& plan);

/// The same, fed by its sources as they are drawn: the first of supplyOptions().
[[nodiscard]] std::optional<SupplyTree> drawnTree(const project::Project& project, const project::Parts& parts, const Plan& plan);

/// Cues at the instants in their course that together draw most.
struct Coincidence {
    std::vector<std::pair<int, int>> at;  ///< profile, change in it
    double amps = 0.0;                    ///< into the section that was looked at
    bool complete = true;                 ///< false: the search was cut short; `amps` is then an upper bound
};
/// The largest sum of currents into one section over all ways in which cues may overlap: those started by
/// inputs at any distance in time, those of the clock only where their hours meet. Each output counts once.
[[nodiscard]] Coincidence worstCoincidence(const routine::Program& program, const std::vector<CueProfile>& profiles, const SupplyTree& tree,
                                           int section);
/// Those cues' outputs over time, the coincidence at time 0.
[[nodiscard]] std::vector<DriveChange> coinciding(const std::vector<CueProfile>& profiles, const Coincidence& worst);

/// Plays drive changes on the tree from `from` to `to` [s], the state before settled.
/// @param sample  called at every instant looked at, with what each output takes from the first source [A]
/// @return false when the network does not come to an end
bool playSupply(const SupplyTree& tree, const std::vector<DriveChange>& changes, double from, double to, std::vector<plant::Lowest>& lowest,
                const std::function<void(double, const plant::SupplyNetwork::Instant&, std::span<const double>)>& sample = {},
                double growth = 1.6);

/// One rail or source under the worst that its loads can do.
struct RailStudy {
    std::string id;
    double most = 0.0;         ///< A into it at the worst coincidence
    double lowest = 0.0;       ///< V
    double at = 0.0;           ///< s from the coincidence
    double below = 0.0;        ///< s under `floor`
    double floor = 0.0;        ///< V that the time below is counted for; 0: none
    std::string culprits;      ///< "Moon arm starting, Curtain moving": at `most`
    std::string low_culprits;  ///< at `lowest`
    Coincidence worst;
};
struct SupplyStudy {
    SupplyOption option;
    std::vector<RailStudy> rails;  ///< as the tree's sections
    bool complete = true;
};
/// A study with all that it was made from.
struct StudiedSupply {
    SupplyTree tree;
    std::shared_ptr<const CueProfiles> profiles;
    SupplyOption option;
    double floor = 0.0;  ///< V that the board's rail must keep
    int logic = -1;      ///< that rail in the tree
    SupplyStudy study;
};
/// nullptr: something is not known yet. @param before  is given again where it was made from the very same; nullptr: none
[[nodiscard]] std::shared_ptr<const StudiedSupply> studiedSupply(const project::Project& fed, const project::Parts& parts, const Plan& plan,
                                                                 const SupplyOption& option,
                                                                 const std::shared_ptr<const StudiedSupply>& before = nullptr);
/// nullopt: something is not known yet.
[[nodiscard]] std::optional<SupplyStudy> studySupply(const project::Project& fed, const project::Parts& parts, const Plan& plan,
                                                     const SupplyOption& option);

}  // namespace hinge::plan
