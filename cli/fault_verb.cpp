#include "cli/fault_verb.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include "cli/chip_verbs.hpp"
#include "cli/exit_status.hpp"
#include "cli/json.hpp"
#include "proof/fault_finder.hpp"
#include "quantity/text.hpp"

namespace hinge::cli {

int findFault(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& channel,
              const std::vector<std::string>& answers, bool json) {
    if (project::findChannel(project, channel) == nullptr) {
        const std::string known = joined(project.channels, ", ", [&](const auto& each) { return each.id; });
        return report({ErrorCode::Unknown, "CHANNEL", channel, "one of " + known});
    }
    const proof::FaultFinder finder(project, parts, plan, channel);
    std::vector<proof::Seen> seen;
    for (const auto& answer : answers) {
        const auto equals = answer.find('=');
        const auto* test = finder.findTest(answer.substr(0, equals));
        if (equals == std::string::npos || test == nullptr) {
            std::string known = "symptom";
            for (const auto& each : finder.tests()) known += ", " + each.id;
            return report({ErrorCode::Unknown, "--seen", answer, "TEST=OUTCOME with one of " + known});
        }
        const std::string known = joined(test->outcomes, ", ", [&](const auto& outcome) { return outcome.id; });
        if (std::none_of(test->outcomes.begin(), test->outcomes.end(),
                         [&](const proof::FaultTest::Outcome& each) { return each.id == answer.substr(equals + 1); }))
            return report({ErrorCode::Unknown, "--seen", answer, test->id + " is one of " + known});
        if (std::any_of(seen.begin(), seen.end(), [&](const proof::Seen& each) { return each.test == test->id; }))
            return report({ErrorCode::Conflict, "--seen", answer, "each test once"});
        seen.push_back({test->id, answer.substr(equals + 1)});
    }
    const auto ranked = finder.ranked(seen);
    const auto next = finder.settled(seen) ? std::vector<proof::NextTest>{} : finder.next(seen);
    if (json) {
        Json answer{{"channel", channel}, {"causes", Json::array()}, {"next", Json::array()}};
        for (const auto& each : ranked)
            answer["causes"].push_back({{"id", each.cause.id},
                                        {"probability", each.probability},
                                        {"text", each.cause.words},
                                        {"cure", each.cause.cure},
                                        {"because", each.because}});
        for (const auto& each : next) {
            Json test{{"id", each.test.id},           {"text", each.test.words}, {"instrument", each.test.instrument},
                      {"caution", each.test.caution}, {"bits", each.bits},       {"minutes", each.test.effort},
                      {"outcomes", Json::object()}};
            for (const auto& outcome : each.test.outcomes) test["outcomes"][outcome.id] = outcome.words;
            answer["next"].push_back(test);
        }
        std::cout << answer.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
        return Done;
    }
    for (std::size_t k = 0; k < std::min<std::size_t>(5, ranked.size()); ++k)
        std::cout << fmt::format("{:>3.0f} %  {}  {}\n", ranked[k].probability * 100.0, ranked[k].cause.words,
                                 k == 0 && next.empty() ? ranked[k].cause.cure : "");
    if (!next.empty()) {
        const auto& test = next.front().test;
        std::cout << fmt::format("next: {} ({}){}\n", test.words, test.instrument, test.caution.empty() ? "" : " Caution: " + test.caution);
        for (const auto& outcome : test.outcomes) std::cout << fmt::format("  --seen {}={}  {}\n", test.id, outcome.id, outcome.words);
    } else if (seen.empty()) {
        std::cout << "say what is wrong: --seen symptom=…\n";
    }
    return Done;
}

}  // namespace hinge::cli
