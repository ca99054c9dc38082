#include "proof/inspection.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "project/facts.hpp"
#include "proof/cell_mark.hpp"
#include "quantity/constants.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"
#include "quantity/units.hpp"

namespace hinge::proof {
namespace {

std::optional<double> readingOf(const journal::Sample& sample, const std::string& field) {
    const auto out = [](const auto& value) { return value ? std::optional(si(*value)) : std::nullopt; };
    if (field == "current") return out(sample.current);
    if (field == "speed") return out(sample.speed);
    if (field == "range") return out(sample.range);
    if (field == "resistance") return out(sample.resistance);
    return std::nullopt;
}

void hold(JudgedSample& judged, Verdict verdict, std::string reason = {}) {
    // Nothing read yet gives way to anything that was.
    judged.verdict = judged.verdict == Verdict::Unknown ? verdict : worse(judged.verdict, verdict);
    if (!reason.empty()) judged.reasons.push_back(std::move(reason));
}

void judgeReading(JudgedSample& judged, const Expected& e, double reading) {
    if (reading >= e.least && reading <= e.most) return hold(judged, Verdict::Holds);
    const double far_low = e.value - 2.0 * (e.value - e.least), far_high = e.value + 2.0 * (e.most - e.value);
    const bool far = reading < far_low || reading > far_high;
    hold(judged, far ? Verdict::Breaks : Verdict::Tight,
         fmt::format("{}: {}, expected {} to {}", e.what, display(e.kind, reading), display(e.kind, e.least), display(e.kind, e.most)));
}

void judgeMoves(JudgedSample& judged, const journal::Sample& sample) {
    if (!sample.places.empty()) {
        const auto places = parsePlaces(sample.places);
        if (!places || places->values.size() < 3) {
            judged.reasons.push_back(places ? "three moves or more, ten are better" : sentence(places.error()));
        } else {
            const auto [low, high] = std::minmax_element(places->values.begin(), places->values.end());
            judged.repeat = *high - *low;
            judged.repeat_kind = places->kind;
            // Common practice, no published source: a servo that is worth building in finds a place again within a degree.
            const double good = places->kind == Kind::Angle ? constants::degree : 0.2e-3;
            const Verdict verdict = *judged.repeat <= good         ? Verdict::Holds
                                    : *judged.repeat <= 2.0 * good ? Verdict::Tight
                                                                   : Verdict::Breaks;
            hold(judged, verdict,
                 verdict == Verdict::Holds ? ""
                                           : fmt::format("the same move ends up to {} apart, {} is good",
                                                         display(places->kind, *judged.repeat), display(places->kind, good)));
        }
    }
    if (sample.temperature) {
        const double celsius = si(*sample.temperature) - 273.15;
        const Verdict verdict = celsius <= 60.0 ? Verdict::Holds : celsius <= 80.0 ? Verdict::Tight : Verdict::Breaks;
        hold(judged, verdict,
             verdict == Verdict::Holds ? "" : fmt::format("{:.0f} °C on its case; above 60 °C a finger cannot stay", celsius));
    }
}

}  // namespace

const char* sampleWord(Verdict verdict) {
    switch (verdict) {
        case Verdict::Holds: return "accept";
        case Verdict::Tight: return "suspect";
        case Verdict::Breaks: return "reject";
        case Verdict::Unknown: break;
    }
    return "nothing read yet";
}

std::vector<Expected> expectedOf(const actuator::Part& part) {
    return kinds::actuatorKind(part).sample(part);
}

Result<Places> parsePlaces(std::string_view text) {
    std::vector<std::string> entries;
    std::string entry;
    const auto close = [&] {
        const auto from = entry.find_first_not_of(" \t\n");
        if (from != std::string::npos) entries.push_back(entry.substr(from, entry.find_last_not_of(" \t\n") - from + 1));
        entry.clear();
    };
    for (const char c : text) {
        if (c == ',' || c == ';') close();
        else entry += c;
    }
    close();
    // A bare number takes the unit that came before; those at the head of the list take the first that comes.
    std::string unit;
    const auto give = [&unit](std::string& each) {
        const auto letter = each.find_first_not_of("+-0123456789.eE ");
        if (letter != std::string::npos) unit = each.substr(letter);
        else if (!unit.empty()) each += " " + unit;
    };
    std::for_each(entries.begin(), entries.end(), give);
    unit.clear();
    std::for_each(entries.rbegin(), entries.rend(), give);
    Places out;
    for (const auto& each : entries) {
        auto value = parseQuantity(Kind::Angle, each);
        const bool angle = value.has_value() && each.find_first_not_of("+-0123456789.eE ") != std::string::npos;
        if (!angle) value = parseQuantity(Kind::Length, each);
        if (!value) return fail(value.error().code, "places", each, "angles or lengths such as 41.2 deg, 41.5 deg");
        if (!angle && each.find_first_not_of("+-0123456789.eE ") == std::string::npos)
            return fail(ErrorCode::WrongUnit, "places", each, "with a unit, such as 41.2 deg or 12.1 mm");
        const Kind kind = angle ? Kind::Angle : Kind::Length;
        if (!out.values.empty() && kind != out.kind) return fail(ErrorCode::WrongUnit, "places", each, "all of one kind");
        out.kind = kind;
        out.values.push_back(*value);
    }
    return out;
}

std::vector<Bag> inspect(const project::Project& project, const project::Parts& parts) {
    std::vector<Bag> bags;
    for (const auto& sample : project.journal.samples) {
        auto bag = std::find_if(bags.begin(), bags.end(), [&](const Bag& each) { return each.part == sample.part; });
        const auto* part = project::findActuator(parts, sample.part);
        if (bag == bags.end()) {
            Bag made;
            made.part = sample.part;
            made.name = part != nullptr ? actuator::head(*part).name : sample.part;
            if (part != nullptr)
                for (auto& expected : expectedOf(*part)) made.readings.push_back({std::move(expected), {}, {}});
            bags.push_back(std::move(made));
            bag = bags.end() - 1;
        }
        JudgedSample judged{sample.id, sample.name, sample.date, Verdict::Unknown, {}, {}, Kind::Angle};
        for (auto& reading : bag->readings) {
            reading.readings.push_back(readingOf(sample, reading.expected.field));
            if (reading.readings.back()) judgeReading(judged, reading.expected, *reading.readings.back());
        }
        judgeMoves(judged, sample);
        bag->samples.push_back(std::move(judged));
    }
    for (auto& bag : bags) {
        for (auto& reading : bag.readings) {
            std::vector<double> values;
            std::vector<std::size_t> whose;
            for (std::size_t i = 0; i < reading.readings.size(); ++i)
                if (reading.readings[i]) values.push_back(*reading.readings[i]), whose.push_back(i);
            reading.spread = journal::bagSpread(values);
            for (const std::size_t at : reading.spread.strange) {
                auto& judged = bag.samples[whose[at]];
                hold(judged, Verdict::Tight,
                     fmt::format("{} is unlike the rest of the bag, {} in the middle", reading.expected.what,
                                 display(reading.expected.kind, reading.spread.median)));
            }
        }
        for (const auto& sample : bag.samples) {
            bag.accepted += sample.verdict == Verdict::Holds ? 1 : 0;
            bag.suspect += sample.verdict == Verdict::Tight ? 1 : 0;
            bag.rejected += sample.verdict == Verdict::Breaks ? 1 : 0;
        }
        const int tried = bag.accepted + bag.suspect + bag.rejected;
        if (tried > 0)
            if (const auto share = journal::bagShare({of<Count>(tried), of<Count>(bag.rejected)})) bag.share = share->result;
    }
    return bags;
}

Result<project::Project> recordSample(project::Project project, const std::string& part, const std::string& id, const std::string& field,
                                      const std::string& text, const std::string& date) {
    auto& list = project.journal.samples;
    auto sample = std::find_if(list.begin(), list.end(), [&](const journal::Sample& each) { return each.id == id; });
    if (sample == list.end()) {
        std::vector<std::string> taken;
        for (const auto& each : list) taken.push_back(each.id);
        journal::Sample made;
        made.id = id.empty() ? project::freshId("sample", taken) : id;
        made.part = part;
        int alike = 1;
        for (const auto& each : list) alike += each.part == part ? 1 : 0;
        made.name = "piece " + std::to_string(alike);
        list.push_back(std::move(made));
        sample = list.end() - 1;
    }
    sample->date = date;
    if (field.empty()) return project;
    if (field == "places" && !text.empty())
        if (const auto places = parsePlaces(text); !places) return tl::unexpected(places.error());
    const std::string path = "journal/samples/" + sample->id + "/" + field;
    return project::with(project, project::FactEdit{path, text});
}

plan::Plan withInspection(plan::Plan plan, const project::Project& project, const std::vector<Bag>& bags) {
    for (const auto& bag : bags) {
        std::string channel;
        for (const auto& each : project.channels)
            if (each.actuator == bag.part && channel.empty()) channel = each.id;
        if (channel.empty()) continue;
        if (bag.accepted > 0)
            std::erase_if(plan.findings, [&](const plan::PlanFinding& finding) {
                const auto* of_channel = project::findChannel(project, finding.channel);
                const bool cured = finding.id == "sample-first" && of_channel != nullptr && of_channel->actuator == bag.part;
                if (cured && finding.severity == Severity::Warn) --plan.headline.tight;
                return cured;
            });
        if (bag.rejected > 0) {
            plan.findings.push_back({"sample-rejected",
                                     Severity::Warn,
                                     project::Stage::Prove,
                                     channel,
                                     fmt::format("{} of {} tried pieces of '{}' are rejected: up to {} of the bag may be like them. Build "
                                                 "in only what was tried and accepted.",
                                                 bag.rejected, bag.accepted + bag.suspect + bag.rejected, bag.name,
                                                 display(Kind::Fraction, bag.share ? si(bag.share->at_most) : 1.0, 2)),
                                     {}});
            ++plan.headline.tight;
            markProved(plan, channel, Verdict::Tight);
        }
    }
    return plan;
}

}  // namespace hinge::proof
