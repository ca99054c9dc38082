#pragma once
// A lamp of three colours is one channel and three outputs. What drives, wires, feeds and times an output knows nothing of colours: for it
// such a channel is three, one a colour, each with its own pin and its own share of the light.
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::plan {

using project::Colour;

/// The light of each colour, as a share of all that it can give.
struct ColourShares {
    double red = 1.0, green = 1.0, blue = 1.0;
    [[nodiscard]] double of(Colour colour) const {
        return colour == Colour::Red ? red : colour == Colour::Green ? green : colour == Colour::Blue ? blue : 1.0;
    }
};

/// "#ff8000" as a screen shows it: two hexadecimal digits a colour, whose light is not proportional to its number.
/// @error BadFormat  anything else
/// @source iec-61966-2-1
[[nodiscard]] Result<ColourShares> sharesOf(std::string_view colour);
/// The same the other way round, to the nearest number.
[[nodiscard]] std::string colourOf(const ColourShares& shares);

/// Whether its part shines in three colours.
[[nodiscard]] bool hasColours(const project::Parts& parts, const project::Channel& channel);

/// A project in which every channel of three colours is three channels, and what the routine says of it is said of each.
struct ColoursApart {
    project::Project project;
    struct Leg {
        std::string id;       ///< "glow_green"; its red keeps the channel's
        std::string channel;  ///< "glow"
        Colour colour = Colour::None;
        friend bool operator==(const Leg&, const Leg&) = default;
    };
    std::vector<Leg> legs;
    std::map<std::string, std::string> made;  ///< ids of moves and rules that were made: of which each is one
    [[nodiscard]] const Leg* leg(std::string_view id) const;
    /// A path of that project in the maker's: "channels/glow_green/pin" is "channels/glow/green_pin".
    [[nodiscard]] std::string pathOf(std::string_view path) const;
};
/// nullopt: no channel has colours, and the project is what it is.
[[nodiscard]] std::optional<ColoursApart> coloursApart(const project::Project& project, const project::Parts& parts);

}  // namespace hinge::plan
