#pragma once
// Everything that the program knows about a kind of demand, in facets. One file a kind in demands/.
#include <functional>
#include "kinds/facet.hpp"
#include "kinds/words.hpp"

namespace hinge::kinds {

/// The mains that a load hangs on.
struct Mains {
    Voltage volts{};  ///< rms
    Frequency frequency{};
};
/// A cell of the crossbar in its own words.
struct Telling {
    std::string figure, small;
    bool shares = true;  ///< what of the part is used means something here
};
/// A fact that, moved, may let a part win that breaks now.
struct Way {
    const char* field = "";       ///< of the demand
    std::vector<double> factors;  ///< nearest first
    std::function<std::string(double factor)> say;
};

struct DemandKind {
    project::ChannelKind of{};
    std::vector<std::string_view> measured;                                    ///< of the calibration, that it waits for: "cup_volume"
    Facet<void(Ask&, const project::Demand&)> ask;                             ///< what the load asks of whatever drives it
    Facet<Kind(const project::Demand&)> decides;                               ///< kind of the figure that decides
    Facet<bool(const project::Demand&)> shaft;                                 ///< it wants a shaft that turns
    Facet<std::optional<Mains>(const project::Demand&)> mains;                 ///< nullopt: it hangs on a rail
    Facet<Telling(const project::Demand&, const Ask&)> need;                   ///< the telling figure
    Facet<Telling(const project::Demand&, const Ask&, const Pairing&)> match;  ///< what the chosen part does of it
    Facet<std::vector<Way>(const project::Demand&)> ways;                      ///< what would let a part win
    /// Each facet with its name.
    template <class Visitor>
    void eachFacet(Visitor&& visit) const {
        visit("ask", ask);
        visit("decides", decides);
        visit("shaft", shaft);
        visit("mains", mains);
        visit("need", need);
        visit("match", match);
        visit("ways", ways);
    }
};
[[nodiscard]] const DemandKind& demandKind(const project::Demand& demand);
/// Every kind, in the order of project::Demand.
[[nodiscard]] const std::vector<const DemandKind*>& demandKinds();

}  // namespace hinge::kinds
