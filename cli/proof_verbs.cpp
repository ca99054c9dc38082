#include "cli/proof_verbs.hpp"
#include <fmt/format.h>
#include <cmath>
#include <iostream>
#include "cli/chip_verbs.hpp"
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "plan/machines.hpp"
#include "quantity/text.hpp"
#include "simulation/scene.hpp"
#include "store/bundle.hpp"

namespace hinge::cli {
namespace {

namespace fs = std::filesystem;

std::string dateText(const timing::Date& date) {
    return fmt::format("{:04}-{:02}-{:02}", date.year, date.month, date.day);
}
std::string nameOfChannel(const project::Project& project, const std::string& id) {
    const auto* channel = project::findChannel(project, id);
    return channel != nullptr ? channel->name : "all";
}

// The scene that the window plays where nobody pressed anything.
std::string sceneOf(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    if (!plan.program || plan.program->cues.empty()) return {};
    const auto plants = plan::plantsOf(project, parts, plan);
    if (!plants) return {};
    simulation::Options options;
    options.events = simulation::everyCueOnce(*plan.program);
    options.length = simulation::sceneLength(*plan.program, options.events);
    options.sample_every = options.length / 1500.0;
    options.machines = plan::heldMachines(project, parts, plan);
    const auto traces = simulation::simulate(*plan.program, *plants, options);
    if (!traces) return {};
    std::optional<simulation::SupplyDay> supply;
    if (const auto tree = plan::drawnTree(project, parts, plan)) supply = simulation::supplyOf(*traces, *tree);
    return simulation::sceneVcd(*traces, supply ? &*supply : nullptr, *plan.program);
}

}  // namespace

int packet(const store::Document& document, const project::Parts& parts, const plan::Evidence& evidence, const plan::Plan& plan,
           const std::string& project_path, const std::string& day, const std::string& out) {
    if (!day.empty())
        if (const auto parsed = timing::parseDate(day); !parsed) return report(parsed.error());
    // Without a day the same project gives the same page.
    auto made = hinge::report::packetOf(document.project, parts, evidence, day);
    const fs::path folder = fs::is_directory(project_path) ? fs::path{project_path} : fs::path{project_path}.parent_path();
    for (const auto& name : hinge::report::photosOf(document.project))
        if (auto bytes = store::readPhoto(folder, name)) made.photos[name] = std::move(*bytes);
        else std::cerr << fmt::format("photo {} is not in {}: the packet says so in its place\n", name, (folder / "photos").string());
    Result<void> written;
    if (fs::path{out}.extension() == ".html") {
        written = files::writeWhole(out, hinge::report::packetHtml(made));
    } else {
        std::vector<store::BundleFile> files;
        for (auto& file : hinge::report::packetFiles(made, store::toText(document), sceneOf(document.project, parts, plan)))
            files.push_back({std::move(file.path), std::move(file.bytes)});
        written = fs::path{out}.extension() == ".zip" ? store::writeZip(files, out) : store::writeFolder(files, out);
    }
    if (!written) return report(written.error());
    std::cout << out << '\n';
    return Done;
}

int bringUp(const proof::Proved& proved, bool json) {
    if (json) {
        Json steps = Json::array();
        for (const auto& step : proved.steps)
            steps.push_back({{"id", step.id},
                             {"channel", step.channel},
                             {"phase", step.phase},
                             {"title", step.title},
                             {"do", step.what},
                             {"ready", step.ready},
                             {"instrument", step.instrument},
                             {"caution", step.caution},
                             {"abort", step.abort},
                             {"expected", orNull(step.expected)},
                             {"least", orNull(step.least)},
                             {"most", orNull(step.most)},
                             {"unit", siUnit(step.kind)},
                             {"reason", step.reason},
                             {"over_link", step.over_link != proof::OverLink::None},
                             {"reading", step.reading},
                             {"skipped", step.skipped},
                             {"verdict", word(step.verdict)}});
        print({{"steps", steps}});
        return Done;
    }
    std::string phase;
    for (const auto& step : proved.steps) {
        if (step.phase != phase) std::cout << step.phase << '\n';
        phase = step.phase;
        std::cout << fmt::format("  {:<46} {}{}\n", step.title, proof::rangeText(step),
                                 step.reading.empty() ? "" : fmt::format(", read {}: {}", step.reading, word(step.verdict)));
    }
    return Done;
}

int inspectBags(const proof::Proved& proved, bool json, bool strict) {
    bool rejected = false;
    Json bags = Json::array();
    for (const auto& bag : proved.bags) {
        rejected = rejected || bag.rejected > 0;
        Json samples = Json::array(), readings = Json::array();
        for (const auto& sample : bag.samples)
            samples.push_back({{"id", sample.id},
                               {"name", sample.name},
                               {"verdict", proof::sampleWord(sample.verdict)},
                               {"reasons", sample.reasons},
                               {"repeat", orNull(sample.repeat)}});
        for (const auto& reading : bag.readings)
            readings.push_back({{"what", reading.expected.what},
                                {"unit", siUnit(reading.expected.kind)},
                                {"least", reading.expected.least},
                                {"most", reading.expected.most},
                                {"mean", reading.spread.mean},
                                {"deviation", reading.spread.deviation},
                                {"median", reading.spread.median}});
        bags.push_back({{"part", bag.part},
                        {"name", bag.name},
                        {"samples", samples},
                        {"readings", readings},
                        {"accepted", bag.accepted},
                        {"suspect", bag.suspect},
                        {"rejected", bag.rejected},
                        {"bad_at_most", bag.share ? Json(si(bag.share->at_most)) : Json(nullptr)}});
    }
    if (json) {
        print({{"bags", bags}});
    } else {
        if (proved.bags.empty()) std::cout << "No piece was tried yet. Prove, Pieces tried: read one before you wire ten.\n";
        for (const auto& bag : proved.bags) {
            std::cout << fmt::format(
                "{}: {} accepted, {} suspect, {} rejected{}\n", bag.name, bag.accepted, bag.suspect, bag.rejected,
                bag.share ? fmt::format("; nine in ten sure that at most {} are bad", display(bag.share->at_most, 2)) : "");
            for (const auto& sample : bag.samples) {
                std::cout << fmt::format("  {:<20} {}\n", sample.name, proof::sampleWord(sample.verdict));
                for (const auto& reason : sample.reasons) std::cout << "    " << reason << '\n';
            }
        }
    }
    return strict && rejected ? DoneAndBreaks : Done;
}

int showFit(const project::Project& project, const proof::Proved& proved, bool json, bool strict) {
    bool breaks = false;
    Json lines = Json::array();
    for (const auto& line : proved.fit.lines) {
        breaks = breaks || line.verdict == Verdict::Breaks;
        lines.push_back({{"channel", line.channel},
                         {"what", line.what},
                         {"figure", line.figure},
                         {"look", line.check},
                         {"verdict", word(line.verdict)},
                         {"why", line.why}});
        if (!json)
            std::cout << fmt::format("{:<10} {}, {}: {}{}\n",
                                     line.verdict == Verdict::Unknown ? "not known" : std::string{word(line.verdict)},
                                     line.channel.empty() ? "the case" : nameOfChannel(project, line.channel), line.what,
                                     line.figure.empty() ? line.check : line.figure, line.why.empty() ? "" : ". " + line.why);
    }
    if (json)
        print({{"lines", lines},
               {"inside_K", proved.fit.inside ? Json(si(*proved.fit.inside)) : Json(nullptr)},
               {"heat_W", si(proved.fit.heat)}});
    return strict && breaks ? DoneAndBreaks : Done;
}

int showAccount(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const proof::Proved& proved,
                const std::string& instead, bool json) {
    if (!instead.empty()) {
        std::vector<std::string> known;
        for (const auto& line : proved.account.lines)
            if (!line.id.empty()) known.push_back(line.id);
        if (std::find(known.begin(), known.end(), instead) == known.end())
            return report({ErrorCode::Unknown, "--instead", instead, "one of " + joined(known, ", ")});
        const auto substitute = proof::substituteFor(project, parts, plan, instead);
        if (json) {
            print(substitute ? Json{{"part", substitute->id},
                                    {"name", substitute->name},
                                    {"verdict", word(substitute->verdict)},
                                    {"verify", substitute->verify},
                                    {"by_hand", substitute->by_hand}}
                             : Json{{"part", nullptr}});
        } else if (!substitute) {
            std::cout << "Nothing in the catalogue does the same work.\n";
        } else {
            std::cout << fmt::format("{} ({}), {}. Before it is used, look at:\n", substitute->name, substitute->id,
                                     word(substitute->verdict));
            for (const auto* list : {&substitute->verify, &substitute->by_hand})
                for (const auto& each : *list) std::cout << "  " << each << '\n';
        }
        return Done;
    }
    const auto& a = proved.account;
    Json lines = Json::array();
    for (const auto& line : a.lines) {
        lines.push_back({{"part", line.id},
                         {"name", line.name},
                         {"needed", line.needed},
                         {"spares", line.spares},
                         {"in_hand", line.in_hand ? Json(*line.in_hand) : Json(nullptr)},
                         {"missing", line.missing},
                         {"price", line.price ? Json(si(*line.price)) : Json(nullptr)},
                         {"lead_time_s", line.lead_time ? Json(si(*line.lead_time)) : Json(nullptr)},
                         {"verdict", word(line.verdict)}});
        if (!json)
            std::cout << fmt::format("{:>3} × {}{}{}\n", line.needed, line.name,
                                     line.in_hand ? fmt::format(", {} in hand", *line.in_hand) : "",
                                     line.price ? fmt::format(", {:.2f} each", si(*line.price)) : ", no price");
    }
    if (json)
        print({{"lines", lines},
               {"parts", a.parts},
               {"to_buy", a.to_buy},
               {"journal", a.journal},
               {"shipping", a.shipping},
               {"unpriced", a.unpriced},
               {"spent", a.spent()},
               {"longest_wait_s", a.longest ? Json(si(*a.longest)) : Json(nullptr)}});
    else
        std::cout << fmt::format("parts {:.2f}, written down {:.2f}, posting {:.2f}; {} kinds without a price; still to buy {:.2f}\n",
                                 a.parts, a.journal, a.shipping, a.unpriced, a.to_buy);
    return Done;
}

int showCare(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& day, bool json) {
    const auto today = timing::parseDate(day);
    if (!today) return report(today.error());
    auto list = proof::careDue(project.journal.care, *today);
    for (auto& due : proof::careProposed(project, parts, plan)) list.push_back(std::move(due));
    Json all = Json::array();
    for (const auto& due : list) {
        all.push_back({{"channel", due.care.channel},
                       {"what", due.care.what},
                       {"every_s", si(due.care.every)},
                       {"done", due.care.done},
                       {"next", due.next ? Json(dateText(*due.next)) : Json(nullptr)},
                       {"days", due.days ? Json(*due.days) : Json(nullptr)},
                       {"proposed", due.proposed},
                       {"reason", due.reason},
                       {"verdict", word(due.verdict)}});
        if (json) continue;
        const std::string when = due.proposed    ? fmt::format("proposed, every {}", display(due.care.every, 2))
                                 : !due.days     ? "never done"
                                 : *due.days < 0 ? fmt::format("overdue by {} days", -*due.days)
                                                 : fmt::format("in {} days", *due.days);
        std::cout << fmt::format("{:<28} {}: {}\n", when, nameOfChannel(project, due.care.channel), due.care.what);
    }
    if (json) print({{"care", all}});
    return Done;
}

int emitTest(const project::Project& project, const project::Parts& parts, const std::string& channel, const std::string& out) {
    if (project::findChannel(project, channel) == nullptr) {
        return report(
            {ErrorCode::Unknown, "CHANNEL", channel, "one of " + joined(project.channels, ", ", [](const auto& each) { return each.id; })});
    }
    const auto test = proof::testSketch(project, parts, channel);
    if (!test) return report(test.error());
    std::vector<store::BundleFile> files{{test->sketch.name + "/" + test->sketch.name + ".ino", test->sketch.text}};
    for (const auto& beside : test->sketch.beside) files.push_back({test->sketch.name + "/" + beside.name, beside.text});
    if (const auto written = store::writeFolder(files, out); !written) return report(written.error());
    std::cout << (fs::path{out} / files.front().path).string() << '\n';
    for (const auto& word_of : test->words) std::cout << fmt::format("  say {:<8} {}\n", word_of.word, word_of.does);
    return Done;
}

}  // namespace hinge::cli
