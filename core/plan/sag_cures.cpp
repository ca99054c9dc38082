#include "plan/sag_cures.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <functional>
#include "plan/feed.hpp"
#include "power/wire.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

/// Whether the same study with some edits keeps the rail up.
using Trial = std::function<bool(const std::vector<project::FactEdit>&)>;

std::vector<Remedy> sought(const project::Project& project, const SagCures& asked, const Trial& cures) {
    std::vector<Remedy> remedies;
    const auto* rail = project::findRail(project, asked.rail);
    if (rail == nullptr) return remedies;
    const std::string path = "rails/" + rail->id + "/";
    const auto offer = [&](const std::string& label, std::vector<project::FactEdit> edits, const std::string& cost) {
        if (!cures(edits)) return false;
        remedies.push_back({label, std::move(edits), cost});
        return true;
    };
    const auto volts = railVoltage(project, rail->id);
    if (rail->id == project.board.rail && volts && si(*volts) < asked.floor)
        if (const auto remedy = higher(*rail, board::family(project.board.form))) offer(remedy->label, remedy->edits, remedy->cost);
    const auto bulk = [&](double size, double rating) {
        return std::vector<project::FactEdit>{{path + "bulk", exactText(Kind::Capacitance, size)},
                                              {path + "bulk_rating", exactText(Kind::Voltage, rating)}};
    };
    double rating = 0.0;
    for (const double r : stocked_ratings)
        if (rating == 0.0 && volts && r >= 1.2 * si(*volts)) rating = r;
    // Where the largest of a list does not cure it, no other one is tried.
    if (rating > 0.0 && cures(bulk(std::end(stocked_bulks)[-1], rating)))
        for (const double size : stocked_bulks)
            if ((!rail->bulk || size > si(*rail->bulk) * 1.01) &&
                offer(fmt::format("Use {} of {:g} V", displayPlain(Kind::Capacitance, size), rating), bulk(size, rating),
                      "a capacitor; stays charged when the power is off"))
                break;
    const double thickest = power::wireSizes().back();
    if (cures({{path + "wire_area", exactText(Kind::Area, thickest)}}))
        for (const double size : power::wireSizes())
            if (size > si(rail->wire_area) * 1.01 && offer(fmt::format("Use {} wire", displayPlain(Kind::Area, size)),
                                                           {{path + "wire_area", exactText(Kind::Area, size)}}, "a thicker wire"))
                break;
    if (rail->limit)
        for (const double size : stocked_amps)
            if (size > si(*rail->limit) && offer(fmt::format("Use a {} converter", displayPlain(Kind::Current, size)),
                                                 {{path + "limit", exactText(Kind::Current, size)}}, "a bigger module"))
                break;
    // Its own rail: where another one has the same volts.
    for (const auto& channel : project.channels) {
        if (channel.rail != asked.rail || onMains(channel)) continue;
        for (const auto& other : project.rails) {
            if (other.id == asked.rail || other.id == project.board.rail) continue;
            const auto its = railVoltage(project, other.id);
            if (its && volts && std::abs(si(*its) - si(*volts)) < 0.25 * si(*volts) &&
                offer(fmt::format("Feed {} from {}", channel.name, other.name), {{"channels/" + channel.id + "/rail", other.id}},
                      "one wire moves"))
                break;
        }
    }
    if (remedies.size() > 4) remedies.resize(4);
    return remedies;
}

}  // namespace

std::vector<std::array<std::string, 3>> railsOf(const project::Project& project) {
    std::vector<std::array<std::string, 3>> rails;
    for (const auto& channel : project.channels)
        if (!onMains(channel)) rails.push_back({channel.id, channel.name, channel.rail});
    return rails;
}

std::optional<Remedy> higher(const power::Rail& rail, const board::Family& family) {
    if (rail.conversion == power::Conversion::Direct) return std::nullopt;
    const double usual = board::supplyUsual(family);
    return Remedy{fmt::format("Set it to {:.1f} V", usual), {{"rails/" + rail.id + "/voltage", exactText(Kind::Voltage, usual)}}, ""};
}

std::shared_ptr<const SagCures> sagCures(SagCures asked, const project::Project& project, const project::Parts& parts, const Plan& plan,
                                         const SupplyOption& option, const std::vector<std::shared_ptr<const SagCures>>& before) {
    for (const auto& known : before)
        if (known->studied == asked.studied && known->rail == asked.rail && known->floor == asked.floor &&
            known->sources == asked.sources && known->rails == asked.rails && known->channels == asked.channels)
            return known;
    asked.remedies = sought(project, asked, [&](const std::vector<project::FactEdit>& edits) {
        const auto changed = project::with(project, edits);
        const auto study = changed ? studySupply(under(*changed, option), parts, plan, option) : std::nullopt;
        if (!study) return false;
        const auto rail = std::find_if(study->rails.begin(), study->rails.end(), [&](const RailStudy& r) { return r.id == asked.rail; });
        return rail != study->rails.end() && rail->lowest >= asked.floor;
    });
    return std::make_shared<const SagCures>(std::move(asked));
}

}  // namespace hinge::plan
