#include "proof/account.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "plan/difference.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

const journal::Stock* stockOf(const project::Project& project, const std::string& id) {
    for (const auto& each : project.journal.stock)
        if (!id.empty() && each.id == id) return &each;
    return nullptr;
}

// Looked at by hand on every part that stands in for another.
void addHandChecks(std::vector<std::string>& list, bool actuator) {
    list.push_back("pin order and colours: look-alikes swap them. Meter first, then wire");
    list.push_back(actuator ? "shaft, screw holes and height against the fit sheet"
                            : "enable, sleep and fault pins: which level wakes it, and what it does when nothing is wired there");
    list.push_back("one sample through its hold points before the others are bought");
}

}  // namespace

std::string partName(const project::Parts& parts, const std::string& id) {
    if (const auto* part = project::findActuator(parts, id)) return actuator::head(*part).name;
    if (const auto* driver = project::findDriver(parts, id)) return driver->name;
    return id;
}

project::Project noteFailure(project::Project project, journal::Entry failure) {
    for (auto& stock : project.journal.stock)
        if (!failure.part.empty() && stock.id == failure.part && si(stock.in_hand) > 0.0)
            stock.in_hand = of<Count>(si(stock.in_hand) - 1.0);
    project.journal.entries.push_back(std::move(failure));
    return project;
}

Account account(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    Account out;
    for (const auto& part : plan::partsList(project, parts, plan)) {
        auto line = std::find_if(out.lines.begin(), out.lines.end(),
                                 [&](const AccountLine& each) { return each.id == part.id && each.name == part.name; });
        if (line == out.lines.end()) {
            AccountLine made;
            made.id = part.id;
            made.name = part.name;
            made.price = part.price;
            out.lines.push_back(std::move(made));
            line = out.lines.end() - 1;
        }
        line->needed += part.count;
    }
    for (auto& line : out.lines) {
        if (const auto* stock = stockOf(project, line.id)) {
            line.spares = static_cast<int>(std::lround(si(stock->spares)));
            line.in_hand = static_cast<int>(std::lround(si(stock->in_hand)));
            line.lead_time = stock->lead_time;
            line.substitute = stock->substitute;
        }
        line.missing = std::max(0, line.needed + line.spares - line.in_hand.value_or(0));
        line.verdict = !line.in_hand                 ? Verdict::Unknown
                       : *line.in_hand < line.needed ? Verdict::Breaks
                       : line.missing > 0            ? Verdict::Tight
                                                     : Verdict::Holds;
        if (line.price) out.parts += line.needed * si(*line.price), out.to_buy += line.missing * si(*line.price);
        else ++out.unpriced;
        if (line.missing > 0 && line.lead_time)
            out.longest = of<Duration>(std::max(out.longest ? si(*out.longest) : 0.0, si(*line.lead_time)));
    }
    for (const auto& entry : project.journal.entries)
        if (entry.cost) out.journal += si(*entry.cost);
    out.shipping = si(project.journal.shipping);
    return out;
}

std::optional<Substitute> substituteFor(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                        const std::string& part, const plan::Plan* plain) {
    const bool actuator = project::findActuator(parts, part) != nullptr;
    const auto channel = std::find_if(project.channels.begin(), project.channels.end(), [&](const project::Channel& each) {
        return actuator ? each.actuator == part : each.drive.part == part;
    });
    if (channel == project.channels.end()) return std::nullopt;
    const auto* planned = plan::findChannel(plan, channel->id);
    if (planned == nullptr) return std::nullopt;
    const std::string path = "channels/" + channel->id + "/";
    std::vector<project::FactEdit> edits;
    Substitute out;
    const auto* stock = stockOf(project, part);
    const auto fits = [](const match::Pairing& p) { return p.verdict == Verdict::Holds || p.verdict == Verdict::Tight; };
    if (stock != nullptr && !stock->substitute.empty()) {
        out.id = stock->substitute;
        edits.push_back({path + (actuator ? "actuator" : "drive/part"), out.id});
    } else if (actuator) {
        for (const auto& pairing : match::candidates(planned->context, parts, 20)) {
            if (!fits(pairing) || pairing.actuator == part || pairing.actuator == match::own_load_id) continue;
            out.id = pairing.actuator;
            edits = {{path + "actuator", pairing.actuator}, {path + "drive/part", pairing.driver}};
            if (pairing.rail != channel->rail && !pairing.rail.empty()) edits.push_back({path + "rail", pairing.rail});
            if (pairing.driver != channel->drive.part) out.verify.push_back("it wants another driver: " + pairing.driver_name);
            break;
        }
    } else if (const auto* driven = match::partOf(planned->context, parts, channel->actuator)) {
        for (const auto& pairing : match::driversFor(planned->context, parts, *driven)) {
            if (!fits(pairing) || pairing.driver == part) continue;
            out.id = pairing.driver;
            edits = {{path + "drive/part", pairing.driver}};
            break;
        }
    }
    if (out.id.empty()) return std::nullopt;
    out.name = partName(parts, out.id);
    const auto swapped = project::with(project, edits);
    if (!swapped) return std::nullopt;
    std::optional<plan::Plan> made;
    if (plain == nullptr) plain = &made.emplace(plan::evaluate(project, parts));
    const auto after = plan::evaluate(*swapped, parts, {}, plain);
    for (const auto& change : plan::difference(project, *plain, *swapped, after, parts)) {
        if (change.channel != channel->id && !change.channel.empty()) continue;
        if (out.verify.size() >= 8) break;
        out.verify.push_back(fmt::format("{}: {} → {}", change.what, change.before.empty() ? "none" : change.before,
                                         change.after.empty() ? "none" : change.after));
    }
    if (const auto* with = plan::findChannel(after, channel->id); with != nullptr && with->chosen) out.verdict = with->chosen->verdict;
    addHandChecks(out.by_hand, actuator);
    return out;
}

Result<project::Project> recordStock(project::Project project, const std::string& part, const std::string& field, const std::string& text) {
    auto& list = project.journal.stock;
    if (std::none_of(list.begin(), list.end(), [&](const journal::Stock& each) { return each.id == part; })) {
        journal::Stock made;
        made.id = part;
        list.push_back(std::move(made));
    }
    return project::with(project, project::FactEdit{"journal/stock/" + part + "/" + field, text});
}

plan::Plan withAccount(plan::Plan plan, const Account& account) {
    for (const auto& line : account.lines) {
        if (line.verdict != Verdict::Breaks) continue;
        plan.findings.push_back(
            {"parts-short",
             Severity::Warn,
             project::Stage::Log,
             "",
             fmt::format("{} of '{}' are needed and {} counted. Buy {}{}, or let another part stand in.", line.needed, line.name,
                         *line.in_hand, line.missing, line.lead_time ? fmt::format(" ({} to wait)", display(*line.lead_time)) : ""),
             {}});
        ++plan.headline.tight;
    }
    return plan;
}

std::string accountCsv(const Account& account) {
    std::string csv = "part,needed,spares,in hand,missing,price each,lead time [d]\n";
    for (const auto& line : account.lines)
        csv += csvText(line.name) + fmt::format(",{},{},{},{},{},{}\n", line.needed, line.spares,
                                                line.in_hand ? std::to_string(*line.in_hand) : "", line.missing,
                                                line.price ? fmt::format("{:.2f}", si(*line.price)) : "",
                                                line.lead_time ? fmt::format("{:.1f}", si(*line.lead_time) / 86'400.0) : "");
    return csv;
}

}  // namespace hinge::proof
