#include "plan/colours.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include "kinds/actuator_kind.hpp"

namespace hinge::plan {
namespace {

using project::Channel;
using project::Parts;
using project::Project;

// From the number of a colour, 0 to 1, to its light, and back. @source iec-61966-2-1
double lightOf(double number) {
    return number <= 0.04045 ? number / 12.92 : std::pow((number + 0.055) / 1.055, 2.4);
}
double numberOf(double light) {
    return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1.0 / 2.4) - 0.055;
}
int digitOf(char c) {
    return c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : c >= 'A' && c <= 'F' ? c - 'A' + 10 : -1;
}

constexpr std::array colours{Colour::Red, Colour::Green, Colour::Blue};

std::string pinOf(const Channel& channel, Colour colour) {
    return colour == Colour::Red ? channel.pin : colour == Colour::Green ? channel.green_pin : channel.blue_pin;
}

}  // namespace

Result<ColourShares> sharesOf(std::string_view colour) {
    std::array<double, 3> shares{};
    bool right = colour.size() == 7 && colour.front() == '#';
    for (std::size_t k = 0; k < shares.size() && right; ++k) {
        const int high = digitOf(colour[1 + 2 * k]), low = digitOf(colour[2 + 2 * k]);
        right = high >= 0 && low >= 0;
        shares[k] = lightOf((16 * high + low) / 255.0);
    }
    if (!right)
        return fail(ErrorCode::BadFormat, "colour", std::string{colour}, "two hexadecimal digits each for red, green and blue: #ff8000");
    return ColourShares{shares[0], shares[1], shares[2]};
}

std::string colourOf(const ColourShares& shares) {
    const auto number = [](double light) { return static_cast<int>(std::lround(255.0 * numberOf(std::clamp(light, 0.0, 1.0)))); };
    return fmt::format("#{:02x}{:02x}{:02x}", number(shares.red), number(shares.green), number(shares.blue));
}

bool hasColours(const Parts& parts, const Channel& channel) {
    const auto* part = project::findActuator(parts, channel.actuator);
    const auto of = part != nullptr ? kinds::actuatorKind(*part).three_colours : nullptr;
    return channel.colour == Colour::None && of != nullptr && of(*part);
}

const ColoursApart::Leg* ColoursApart::leg(std::string_view id) const {
    const auto found = std::find_if(legs.begin(), legs.end(), [&](const Leg& each) { return each.id == id; });
    return found == legs.end() ? nullptr : &*found;
}

std::string ColoursApart::pathOf(std::string_view path) const {
    constexpr std::string_view room = "channels/";
    if (path.starts_with("routine/")) {
        std::string told;
        for (std::size_t from = 0; from <= path.size();) {
            const auto end = std::min(path.find('/', from), path.size());
            const std::string part{path.substr(from, end - from)};
            const auto of = made.find(part);
            told += (from > 0 ? "/" : "") + (of != made.end() ? of->second : part);
            from = end + 1;
        }
        return told;
    }
    if (!path.starts_with(room)) return std::string{path};
    const auto end = path.find('/', room.size());
    const auto* found = leg(path.substr(room.size(), end == path.npos ? path.npos : end - room.size()));
    if (found == nullptr) return std::string{path};
    std::string rest{end == path.npos ? std::string_view{} : path.substr(end)};
    if (rest == "/pin" && found->colour != Colour::Red) rest = fmt::format("/{}_pin", nameOf(found->colour));
    return std::string{room} + found->channel + rest;
}

namespace {

// Splits what is said of one channel into what is said of its three.
class Splitter {
public:
    Splitter(const Project& project, const Parts& parts) : project_{project}, parts_{parts} { out_.project = project; }

    std::optional<ColoursApart> split() {
        auto& channels = out_.project.channels;
        channels.clear();
        for (const auto& channel : project_.channels) {
            if (!hasColours(parts_, channel)) {
                channels.push_back(channel);
                continue;
            }
            for (const auto colour : colours) channels.push_back(legOf(channel, colour));
        }
        if (out_.legs.empty()) return std::nullopt;
        auto& routine = out_.project.routine;
        for (auto& cue : routine.cues) cue.moves = movesOf(cue);
        routine.interlocks = byEachWay(ofEach(routine.interlocks));
        routine.followers = ofEach(routine.followers);
        routine.loops = ofEach(routine.loops);
        out_.made = std::move(made_);
        return std::move(out_);
    }

private:
    Channel legOf(const Channel& channel, Colour colour) {
        Channel leg = channel;
        leg.colour = colour;
        leg.id = colour == Colour::Red ? channel.id : freeId(fmt::format("{}_{}", channel.id, nameOf(colour)));
        leg.name = fmt::format("{} {}", channel.name, nameOf(colour));
        leg.pin = pinOf(channel, colour);
        leg.green_pin.clear(), leg.blue_pin.clear();
        if (auto* wish = std::get_if<project::SwitchDemand>(&leg.demand); wish != nullptr && wish->power)
            wish->power = of<Power>(si(*wish->power) / 3.0);
        out_.legs.push_back({leg.id, channel.id, colour});
        return leg;
    }
    std::string freeId(std::string id) const {
        const auto taken = [&] {
            return std::any_of(project_.channels.begin(), project_.channels.end(), [&](const Channel& each) { return each.id == id; });
        };
        while (taken()) id += '_';
        return id;
    }
    [[nodiscard]] std::vector<ColoursApart::Leg> legsOf(const std::string& channel) const {
        std::vector<ColoursApart::Leg> list;
        for (const auto& leg : out_.legs)
            if (leg.channel == channel) list.push_back(leg);
        return list;
    }

    std::string madeOf(const std::string& id, Colour colour) const {
        auto made = fmt::format("{}_{}", id, nameOf(colour));
        made_[made] = id;
        return made;
    }

    // Each of its colours at once, by the share that the move's colour gives it. A verb that has no share leaves dark what is dark.
    std::vector<routine::Move> movesOf(const routine::Cue& cue) const {
        std::vector<routine::Move> moves;
        for (const auto& move : cue.moves) {
            const auto legs = legsOf(move.channel);
            if (legs.empty()) {
                moves.push_back(move);
                continue;
            }
            const auto shares = sharesOf(move.colour);  // what is none stays for compile() to refuse
            bool first = true;
            for (const auto& leg : legs) {
                auto made = move;
                if (leg.colour != Colour::Red) made.id = madeOf(move.id, leg.colour);
                made.channel = leg.id;
                if (!first) made.together = true;
                first = false;
                if (shares) made.colour.clear(), shade(made, shares->of(leg.colour));
                moves.push_back(std::move(made));
            }
        }
        return moves;
    }
    void shade(routine::Move& move, double share) const {
        using routine::Action;
        const auto* channel = project::findChannel(project_, out_.leg(move.channel)->channel);
        const bool shared = move.action == Action::On || move.action == Action::Run || move.action == Action::Fade;
        if (!shared || channel == nullptr) return;
        move.level = of<Fraction>(si(move.level.value_or(channel->signal.duty)) * share);
    }
    template <class T>
    std::vector<T> ofEach(const std::vector<T>& list) const {
        std::vector<T> all;
        for (const auto& each : list) {
            const auto legs = legsOf(each.channel);
            if (legs.empty()) all.push_back(each);
            for (const auto& leg : legs) {
                auto made = each;
                if (leg.colour != Colour::Red) made.id = madeOf(each.id, leg.colour);
                made.channel = leg.id;
                all.push_back(std::move(made));
            }
        }
        return all;
    }
    // It is off when all its colours are, each a term; it is on while any of them is, each a list of terms of its own.
    [[nodiscard]] std::vector<std::vector<routine::Term>> waysOf(const std::vector<routine::Term>& terms) const {
        std::vector<std::vector<routine::Term>> ways{{}};
        for (const auto& term : terms) {
            const auto each = ofEach(std::vector{term});
            const bool any = term.state == routine::TermState::On;
            std::vector<std::vector<routine::Term>> longer;
            for (const auto& way : ways)
                for (std::size_t k = 0; k < (any ? each.size() : 1); ++k) {
                    longer.push_back(way);
                    if (any) longer.back().push_back(each[k]);
                    else longer.back().insert(longer.back().end(), each.begin(), each.end());
                }
            ways = std::move(longer);
        }
        return ways;
    }
    [[nodiscard]] std::vector<routine::Interlock> byEachWay(const std::vector<routine::Interlock>& list) const {
        std::vector<routine::Interlock> all;
        for (const auto& each : list) {
            const auto ways = waysOf(each.terms);
            for (std::size_t k = 0; k < ways.size(); ++k) {
                all.push_back(each);
                all.back().terms = ways[k];
                if (k > 0) all.back().id += fmt::format("_or_{}", k), made_[all.back().id] = each.id;
            }
        }
        return all;
    }

    const Project& project_;
    const Parts& parts_;
    ColoursApart out_;
    mutable std::map<std::string, std::string> made_;
};

}  // namespace

std::optional<ColoursApart> coloursApart(const Project& project, const Parts& parts) {
    if (std::none_of(project.channels.begin(), project.channels.end(), [&](const Channel& each) { return hasColours(parts, each); }))
        return std::nullopt;
    return Splitter{project, parts}.split();
}

}  // namespace hinge::plan
