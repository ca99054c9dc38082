#include "cli/tune_verb.hpp"
#include <fmt/format.h>
#include <iostream>
#include "cli/chip_verbs.hpp"
#include "cli/exit_status.hpp"
#include "cli/json.hpp"
#include "cli/opened.hpp"
#include "control/margins.hpp"
#include "control/search.hpp"
#include "plan/machines.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "store/document.hpp"

namespace hinge::cli {
namespace {

Json gainsJson(const routine::Loop& loop) {
    return {{"proportional", si(loop.proportional)},
            {"integral", si(loop.integral)},
            {"derivative", si(loop.derivative)},
            {"period_s", si(loop.period)}};
}

}  // namespace

int tune(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& id,
         const std::string& search, const std::string& csv, bool json) {
    if (project.routine.loops.empty()) return report({ErrorCode::Missing, "loop", id, "a project with a loop in its routine"});
    routine::Loop loop = project.routine.loops.front();
    for (const auto& each : project.routine.loops)
        if (each.id == id) loop = each;
    if (!id.empty() && loop.id != id) return report({ErrorCode::Unknown, "loop", id, "such as " + loop.id});
    auto made = plan::loopCase(project, parts, plan, loop.id);
    if (!made) return report(made.error());
    Json found = nullptr;
    if (!search.empty()) {
        const auto cost = named<control::Cost>(search);
        if (!cost) return report({ErrorCode::Unknown, "--search", search, "calm, quick, quiet or cool"});
        control::SearchAsk ask{made->setup, made->target, *cost};
        const auto result = control::searchGains(ask);
        if (!result) return report(result.error());
        plan::takeGains(loop, result->pid.gains, made->setup.rolls);
        made->setup.pid = plan::pidOf(loop, made->setup.rolls);  // as the sketch keeps them
        found = {{"cost", search}, {"before", result->before}, {"after", result->cost}, {"runs", result->trials}};
    }
    const auto run = control::runLoop(made->setup);
    const auto response = control::readResponse(run.rows, made->target, made->setup.pid.least, made->setup.pid.most);
    const auto standing = control::readStanding(run);
    const auto straight = plan::straightenedFor(*made);
    const auto margins = straight ? std::optional(control::margins(*straight, made->setup.pid)) : std::nullopt;
    const auto longest = straight ? control::longestStablePeriod(*straight, made->setup.pid) : std::nullopt;
    const auto words = response ? control::sayResponse(*response, made->setup.pid.gains, made->target)
                                : control::Words{standing.stands ? "It stands." : "It falls.", ""};
    if (!csv.empty()) {
        std::string text = "time,wanted,reading,drive,value\n";
        for (const auto& row : run.rows)
            text += fmt::format("{},{},{},{},{}\n", exactNumber(row.time), exactNumber(row.wanted), exactNumber(row.reading),
                                exactNumber(row.drive / made->per_output), exactNumber(row.value));
        if (const auto written = files::writeWhole(csv, text); !written) return report(written.error());
    }
    const auto degrees = [](const std::optional<double>& angle) {
        return angle ? std::optional(*angle * 180.0 / constants::pi) : std::nullopt;
    };
    if (json) {
        Json answer{{"loop", loop.id}, {"gains", gainsJson(loop)}, {"output_unit", made->output_unit},
                    {"search", found}, {"words", words.matter},    {"advice", words.advice}};
        if (response)
            answer["response"] = {
                {"rise_s", orNull(response->rise)}, {"overshoot", response->overshoot}, {"settled_s", orNull(response->settled)},
                {"rings", response->rings},         {"lean", response->lean},           {"noise", response->noise},
                {"effort", response->effort},       {"runs_away", response->runs_away}};
        else
            answer["standing"] = {
                {"stands", standing.stands}, {"furthest_counts", standing.furthest}, {"wanders_counts", standing.wanders}};
        if (margins)
            answer["margins"] = {{"stable", margins->stable},
                                 {"phase_deg", orNull(degrees(margins->phase))},
                                 {"gain", orNull(margins->gain)},
                                 {"least_gain", orNull(margins->least_gain)},
                                 {"crossover_rad_s", orNull(margins->crossover)},
                                 {"longest_period_s", orNull(longest)}};
        answer["assumed"] = plan::machinesOf(project, parts, plan).assumed;
        std::cout << answer.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
        return Done;
    }
    std::cout << fmt::format("{}: P {}, I {}, D {} for each count, every {}\n", loop.id, significant(si(loop.proportional)),
                             significant(si(loop.integral)), significant(si(loop.derivative)), displayPlain(loop.period));
    std::cout << words.matter << ' ' << words.advice << '\n';
    if (margins && margins->phase)
        std::cout << fmt::format(
            "phase margin {:.0f} deg at {} rad/s; {}{}; {}\n", *degrees(margins->phase), significant(*margins->crossover),
            margins->gain ? fmt::format("all gains may grow {} times", significant(*margins->gain, 2)) : "all gains may grow",
            margins->least_gain ? fmt::format(", or shrink to {:.0f} %", 100.0 * *margins->least_gain) : "",
            longest ? fmt::format("still stable at a period of {}", display(Kind::Duration, *longest, 2)) : "not stable");
    for (const auto& assumed : plan::machinesOf(project, parts, plan).assumed) std::cout << "assumed: " << assumed << '\n';
    return Done;
}

}  // namespace hinge::cli
