#include "plan/shown_current.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::plan {

std::optional<Resistance> shownScale(const project::Project& project, const project::Parts& parts, std::string_view channel) {
    const auto* whose = project::findChannel(project, channel);
    const auto* driver = whose != nullptr ? project::findDriver(parts, whose->drive.part) : nullptr;
    return driver != nullptr ? driver->current_output : std::nullopt;
}

namespace {

// The one at which it becomes true.
Fraction levelOf(const project::Input& input) {
    return project::activeHigh(input) ? input.upper : input.lower;
}

}  // namespace

std::optional<Current> shownLimit(const project::Project& project, const project::Parts& parts, const project::Input& input) {
    const auto scale = shownScale(project, parts, input.belongs_to);
    if (!scale) return std::nullopt;
    driver::ShownCurrent in;
    in.scale = *scale;
    in.reference = of<Voltage>(board::family(project.board.form).logic);
    in.level = levelOf(input);
    const auto worked = driver::shownCurrent(in);
    return worked ? std::optional(worked->result.limit) : std::nullopt;
}

namespace {

struct CurrentJudge {
    const project::Project& project;
    const project::Parts& parts;
    Plan& plan;

    void say(const char* id, Severity severity, Stage stage, const std::string& channel, std::string text,
             std::vector<Remedy> remedies = {}) {
        plan.findings.push_back({id, severity, stage, channel, std::move(text), std::move(remedies)});
    }

    // The level in the middle, by ratio, of what it reads running and held fast.
    [[nodiscard]] std::vector<Remedy> between(const project::Input& input, const driver::ShownCurrent& in,
                                              const driver::ShownCurrentResult& worked) const {
        const double running = si(in.running) * si(in.scale) / si(in.reference);
        const double most = worked.stalled ? std::min(1.0, si(*worked.stalled) * si(in.scale) / si(in.reference)) : 0.0;
        const double level = in.below ? 0.6 * running : std::sqrt(std::max(1e-6, running) * most);
        if (!in.below && (most < 1.3 * running || level > 0.98)) return {};
        const std::string path = "inputs/" + input.id + "/";
        const double other = in.below ? std::min(1.0, 1.15 * level) : 0.85 * level;
        return {{fmt::format("Let it speak at {}", display(Kind::Current, level * si(in.reference) / si(in.scale), 3)),
                 {{path + (in.below ? "lower" : "upper"), exactNumber(level)}, {path + (in.below ? "upper" : "lower"), exactNumber(other)}},
                 "costs nothing"}};
    }

    void level(const project::Input& input, const project::Channel& channel, const ChannelPlan& planned, const Resistance& scale) {
        if (!planned.chosen || !planned.chosen->running) return;
        driver::ShownCurrent in;
        in.scale = scale;
        in.running = *planned.chosen->running;
        in.stalled = channel.calibration.stall_current ? channel.calibration.stall_current : planned.chosen->stalled;
        in.duty = channel.signal.duty;
        in.reference = of<Voltage>(board::family(project.board.form).logic);
        in.below = !project::activeHigh(input);
        in.level = levelOf(input);
        const auto worked = driver::shownCurrent(in);
        if (!worked) return;
        const auto& r = worked->result;
        plan.workings.push_back({"the current that its driver shows", Stage::Routine, channel.id, worked->steps, worked->verdict});
        const char* from = in.below ? "below" : "from";
        switch (r.level) {
            case driver::ShownLevel::Well: return;
            case driver::ShownLevel::Never:
                return say("current-never-told", Severity::Stop, Stage::Routine, channel.id,
                           fmt::format("'{}' speaks from {}; held fast, {} draws {} from its supply. It would never be told.", input.name,
                                       display(r.limit), channel.name, display(*r.stalled)),
                           between(input, in, r));
            case driver::ShownLevel::Always:
                return say("current-always-told", Severity::Stop, Stage::Routine, channel.id,
                           fmt::format("'{}' speaks {} {}; running as it should, {} draws {}. It would be told all the time.", input.name,
                                       from, display(r.limit), channel.name, display(in.running)),
                           between(input, in, r));
            case driver::ShownLevel::Late:
                return say(
                    "current-told-late", Severity::Warn, Stage::Routine, channel.id,
                    fmt::format(
                        "'{}' speaks {} {}; {} draws {} running{}. A stiff day or a low supply crosses a gap of less than a quarter.",
                        input.name, from, display(r.limit), channel.name, display(in.running),
                        r.stalled && !in.below ? " and " + display(*r.stalled) + " held fast" : ""),
                    between(input, in, r));
        }
    }
};

}  // namespace

void judgeCurrents(const project::Project& project, const project::Parts& parts, Plan& plan) {
    CurrentJudge judge{project, parts, plan};
    for (const auto& input : project.inputs) {
        if (project::wiredAs(input) != project::Wired::CurrentOutput || !project::hasPin(input.kind)) continue;
        const auto* channel = project::findChannel(project, input.belongs_to);
        const auto* planned = channel != nullptr ? findChannel(plan, channel->id) : nullptr;
        if (planned == nullptr) {
            judge.say(
                "current-of-nothing", Severity::Stop, Stage::Pins, "",
                fmt::format("{} is wired to a driver's current output, and no channel is said whose. Say which, or wire it otherwise.",
                            input.name));
            continue;
        }
        if (channel->drive.part.empty()) continue;  // that none is chosen is said in Match
        const auto scale = shownScale(project, parts, channel->id);
        if (!scale) {
            judge.say("current-not-shown", Severity::Stop, Stage::Pins, channel->id,
                      fmt::format("{} reads {}'s current, and its driver has no output that shows it. Take a bridge that has one.",
                                  input.name, channel->name));
            continue;
        }
        judge.level(input, *channel, *planned, *scale);
    }
}

}  // namespace hinge::plan
