#pragma once
// A tree of supplies, wires and capacitors under switched loads, solved exactly between events.
#include <functional>
#include <limits>
#include <map>
#include <memory>
#include <span>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::plant {

/// One rail with what feeds it. Plain SI.
struct SupplySection {
    int feed = -1;                                           ///< index of an earlier section; -1: a source of its own
    bool regulated = false;                                  ///< a converter stands between the feed and this rail
    double set = 0.0;                                        ///< V that the source or converter holds; not used for a plain wire
    double limit = std::numeric_limits<double>::infinity();  ///< A that it gives at most; then it holds that current
    double taken = 1.0;                                      ///< converter: A from its feed for each A that it gives
    double dropout = 0.0;      ///< converter: V its feed must stand above its output; far below zero for one that steps up
    double resistance = 1e-3;  ///< Ω from there to the rail: wire there and back, contacts, cells; at least 1 mΩ is taken
    double drop = 0.0;         ///< V of a diode in series; above 0, no current flows back
    double bulk = 0.0;         ///< F at the rail; 0: none
    double esr = 1e-3;         ///< Ω of it; at least 1 mΩ is taken
    friend bool operator==(const SupplySection&, const SupplySection&) = default;
};

/// How a section is fed at the moment: by a held voltage, at its limit, straight from its feed, or not at all.
enum class FeedMode : std::uint8_t { Held, Limited, Through, Blocked };

/// A current that a load takes from an instant on: steady + extra·e^(−t/decay).
struct LoadShape {
    int section = 0;
    double steady = 0.0;    ///< A
    double extra = 0.0;     ///< A more at first
    double decay = 0.1;     ///< s
    bool by_volts = false;  ///< while a source is at its limit it takes less, as its volts are fewer; else that current, come what may
    friend bool operator==(const LoadShape&, const LoadShape&) = default;
};

/// What is carried from one instant to the next.
struct SupplyState {
    std::vector<double> caps;  ///< V in each section's capacitor; unused where there is none
    std::vector<FeedMode> modes;
    bool soft = false;  ///< loads by volts stand as resistances: from a limit on, until nothing is at its limit any more
};

/// The lowest voltage that a section came to.
struct Lowest {
    double volts = std::numeric_limits<double>::infinity();
    double time = 0.0;  ///< s from the start of the stretch
};

/// Linear within a mode, so that capacitors follow sums of exponentials; the instants at which a limit
/// is met or left are found by halving, to 1 ns or a 1e-9th of the stretch.
/// A voltage below zero is given as zero: the rail has collapsed.
/// While some section is at its limit, loads `by_volts` are resistances: each takes its current at the volts that its section
/// would have were there no limit, and in proportion below; extras are held until they have lost a twentieth of
/// all that is drawn.
/// @source derived: Kirchhoff's current law at every rail; modal solution of x' = Ax + b + Σ c·e^(−t/τ)
class SupplyNetwork {
public:
    /// @error OutOfRange  a feed that does not come earlier in the list, a figure that is no number, or below zero
    static Result<SupplyNetwork> make(std::vector<SupplySection> sections);
    /// All capacitors charged, no load that changes.
    [[nodiscard]] SupplyState settled(std::span<const LoadShape> loads) const;
    struct Instant {
        std::vector<double> volts;  ///< per section
        std::vector<double> amps;   ///< per section, into it
    };
    [[nodiscard]] Instant at(const SupplyState& state, std::span<const LoadShape> loads, double time = 0.0) const;
    /// Moves on by `time` [s] under these loads.
    /// @param lowest  per section, kept when lower than before; its times count from the start of this stretch
    /// @param sample  called with time and instant at growing distances: dense after the start, sparse later
    /// @param growth  of that distance from look to look
    /// @return false when it keeps changing modes without coming to an end
    bool advance(SupplyState& state, std::span<const LoadShape> loads, double time, std::vector<Lowest>* lowest = nullptr,
                 const std::function<void(double, const Instant&)>& sample = {}, double growth = 1.6) const;
    [[nodiscard]] const std::vector<SupplySection>& sections() const { return sections_; }

private:
    struct Modal;
    struct Stretch;
    [[nodiscard]] Stretch stretch(const SupplyState& state, std::span<const LoadShape> loads) const;
    [[nodiscard]] Instant look(const Stretch& stretch, const SupplyState& state, double time) const;
    explicit SupplyNetwork(std::vector<SupplySection> sections);
    struct Fed;
    [[nodiscard]] Fed fed(const std::vector<FeedMode>& modes) const;
    /// @param soft  siemens of loads per section; empty: none
    [[nodiscard]] std::shared_ptr<const Modal> modal(const std::vector<FeedMode>& modes, const std::vector<double>& soft = {}) const;
    /// Siemens of the loads by volts, from the volts that their sections would have without limits.
    [[nodiscard]] std::vector<double> softLoads(std::span<const LoadShape> loads) const;
    bool settle(SupplyState& state, std::span<const LoadShape> loads) const;
    /// What one stretch was looked at: when [s], and the volts per section.
    struct Looks {
        std::vector<double> times;
        std::vector<std::vector<double>> volts;
    };
    void moveTo(SupplyState& state, std::vector<LoadShape>& loads, double time) const;
    void findDips(const Stretch& here, const SupplyState& state, const Looks& looks, double done, std::vector<Lowest>* lowest) const;
    [[nodiscard]] double changeBetween(const Stretch& here, const SupplyState& state, double good, double bad) const;
    /// The first section whose mode does not fit, and the mode that would; −1 when all fit.
    int misfit(const std::vector<FeedMode>& modes, const Instant& now, FeedMode& better) const;

    std::vector<SupplySection> sections_;
    std::vector<int> caps_;  ///< sections with a capacitor
    mutable std::map<std::vector<FeedMode>, std::shared_ptr<const Modal>> known_;
    struct Soft {
        std::vector<FeedMode> modes;
        std::vector<double> soft;
        std::shared_ptr<const Modal> modal;
    };
    mutable Soft last_;  ///< asked for several times in a row
};

}  // namespace hinge::plant
