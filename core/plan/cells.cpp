#include "plan/cells.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "board/family.hpp"
#include "kinds/demand_kind.hpp"
#include "kinds/expander.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

/// What a cell is filled from.
struct Look {
    const project::Project& project;
    const Evidence& evidence;
    const Plan& plan;
    const project::Channel& channel;
    const ChannelPlan& planned;
    [[nodiscard]] bool concerns(std::string_view channel_of_finding) const {
        return channel_of_finding.empty() || channel_of_finding == channel.id;
    }
    /// The verdict that a stage's findings give, for this channel or for the whole gadget.
    [[nodiscard]] Verdict judged(Stage stage, Verdict from) const {
        Verdict verdict = from;
        for (const auto& finding : plan.findings)
            if (finding.stage == stage && concerns(finding.channel))
                verdict = worse(verdict, finding.severity == Severity::Stop   ? Verdict::Breaks
                                         : finding.severity == Severity::Warn ? Verdict::Tight
                                                                              : Verdict::Holds);
        return verdict;
    }
};

Verdict holdsIf(bool holds) {
    return holds ? Verdict::Holds : Verdict::Unknown;
}

std::string bytes(int n) {
    return n >= 1000 ? fmt::format("{:.1f} kB", n / 1000.0) : fmt::format("{} B", n);
}

// Whether a figure of a source is still to be looked up.
bool missesASource(const project::Project& project, const Plan& plan) {
    return std::any_of(plan.missing.begin(), plan.missing.end(), [&](const Missing& m) {
        return m.path.starts_with("sources/") &&
               std::any_of(project.sources.begin(), project.sources.end(), [&](const power::Source& source) {
                   return source.instead_of.empty() && m.path.starts_with("sources/" + source.id + "/");
               });
    });
}

// The telling figure of a demand.
Cell needCell(const Look& at) {
    Cell c{.family = Family::Hinge};
    const auto& asked = at.planned.context->ask;
    const auto telling = kinds::demandKind(at.channel.demand).need(at.channel.demand, asked);
    c.figure = telling.figure, c.small = telling.small;
    c.verdict = at.judged(Stage::Need, holdsIf(match::decisive(asked) && asked.missing.empty()));
    const auto& chosen = at.planned.chosen;
    if (chosen && chosen->run_time)
        if (const auto* pump = std::get_if<project::PumpDemand>(&at.channel.demand); pump != nullptr && pump->run_time_limit)
            c.share = si(*chosen->run_time) / si(*pump->run_time_limit);
    return c;
}

// What the chosen part does of it, and the share.
Cell matchCell(const Look& at) {
    Cell c{.family = Family::Hinge};
    const auto& chosen = at.planned.chosen;
    if (chosen) {
        const auto telling = kinds::demandKind(at.channel.demand).match(at.channel.demand, at.planned.context->ask, *chosen);
        c.figure = telling.figure, c.small = telling.small;
        if (telling.shares && std::isfinite(chosen->numbers.share)) c.share = chosen->numbers.share;
    }
    c.verdict = at.judged(Stage::Match, chosen ? chosen->verdict : Verdict::Unknown);
    return c;
}

Cell feedCell(const Look& at) {
    Cell c{.family = Family::Spark};
    const auto& chosen = at.planned.chosen;
    const bool steps = kinds::isSteps(at.planned.signal), draws = chosen && chosen->running;
    if (draws) {
        c.figure = display(*chosen->running, 2) + (chosen->numbers.rest > 0.0 && steps ? " moving" : " run");
        if (steps) c.small = display(Kind::Current, chosen->numbers.rest, 2) + " at rest";
        else if (chosen->starting) c.small = display(*chosen->starting, 2) + " at start";
    }
    const auto& headline = at.plan.headline;
    if (headline.worst_current && headline.source_current) c.share = si(*headline.worst_current) / si(*headline.source_current);
    // Cells promise no amps: their volts under load are judged instead.
    const bool fed = c.share || (headline.worst_by_routine && !headline.source_current && !missesASource(at.project, at.plan));
    c.verdict = at.judged(Stage::Feed, holdsIf(fed && draws));
    return c;
}

Cell pinsCell(const Look& at) {
    Cell c{.family = Family::Spark};
    const auto& family = board::family(at.project.board.form);
    const auto& chosen = at.planned.chosen;
    c.figure = at.channel.pin;
    for (const auto* more : {&at.channel.low_pin, &at.channel.direction_pin, &at.channel.back_low_pin, &at.channel.enable_pin})
        if (!more->empty()) c.figure += " " + *more;
    const auto pin = board::pinNamed(family, at.channel.pin);
    if (at.planned.expander) c.small = "of the " + kinds::expanderName(*at.planned.expander->map, at.planned.expander->board);
    else if (pin && pin->pwm_timer >= 0 && at.planned.pwm)
        c.small = board::timerName(family, pin->pwm_timer) +
                  (pin->pwm_timer == board::pooled_timer ? "" : fmt::format(", output {}", pin->pwm_output));
    else if (pin)
        c.small = kinds::isSteps(at.planned.signal)              ? "step"
                  : kinds::isServoPulse(at.planned.signal)       ? "servo pulse"
                  : at.planned.latch                             ? "pulses"
                  : at.planned.signal == SignalKind::WholeCycles ? "whole cycles"
                  : at.planned.signal == SignalKind::PartWaves   ? "gate, part of each half-wave"
                                                                 : "on and off";
    if (chosen && chosen->pin_peak) c.share = si(*chosen->pin_peak) / family.pin_current;
    c.verdict = at.judged(Stage::Pins, holdsIf(pin.has_value()));
    return c;
}

Cell pulseCell(const Look& at) {
    Cell c{.family = Family::Time};
    const auto& planned = at.planned;
    const auto& chosen = planned.chosen;
    if (planned.pwm) {
        const bool soft = planned.signal == SignalKind::Pwm && si(at.channel.signal.soft_start) > 0.0;
        c.figure = display(planned.pwm->actual_frequency);
        c.small = soft ? "soft start " + displayPlain(at.channel.signal.soft_start) : fmt::format("{:.0f} steps", si(planned.pwm->steps));
        if (chosen && chosen->starting && chosen->stalled && si(*chosen->stalled) > 0.0 && planned.signal == SignalKind::Pwm)
            c.share = si(*chosen->starting) / si(*chosen->stalled);
    } else if (planned.motion.pulse_from && planned.motion.pulse_to) {
        c.figure = fmt::format("{} to {}", significant(si(*planned.motion.pulse_from) * 1e3, 3), display(*planned.motion.pulse_to, 3));
        c.small = "every 20 ms";
    } else if (planned.motion.pulse_still) {
        c.figure = display(*planned.motion.pulse_still, 3) + " ± " + display(*planned.motion.pulse_span, 3);
        c.small = "every 20 ms";
    } else if (planned.signal == SignalKind::StepRate && planned.motion.step_rate) {
        c.figure = display(*planned.motion.step_rate, 3);
        c.small = "soft start " + displayPlain(at.channel.signal.soft_start);
    } else if (planned.motion.step_rate) {
        c.figure = display(*planned.motion.peak_rate, 2) + " peak";
        c.small = fmt::format("{:.0f} steps a move", si(*planned.motion.steps));
    } else if (planned.signal == SignalKind::WholeCycles && planned.mains && !planned.mains->pattern.empty()) {
        const auto& pattern = planned.mains->pattern;
        c.figure = fmt::format("{} of {}", std::count(pattern.begin(), pattern.end(), '1'), pattern.size());
        c.small = "whole cycles";
    } else if (planned.signal == SignalKind::PartWaves && planned.mains && planned.mains->delay) {
        c.figure = display(*planned.mains->delay, 3) + " late";
        c.small = "into each half-wave";
    } else if (planned.latch) {
        if (si(*planned.latch) > 0.0) c.figure = display(*planned.latch, 2) + " each way";
        c.small = c.figure.empty() ? "pulse not known" : "nothing between";
    } else if (planned.signal == SignalKind::Switched && !at.channel.pin.empty()) {
        c.figure = "on, off";
    }
    c.verdict = at.judged(Stage::Pulse, holdsIf(!c.figure.empty()));
    return c;
}

// In how many ways cues are started that move a channel.
int triggers(const routine::Routine& routine, std::string_view channel) {
    int count = 0;
    for (const auto& cue : routine.cues)
        if (std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& m) { return m.channel == channel; }))
            count += (cue.input.empty() ? 0 : 1) + (cue.times.empty() ? 0 : 1) + (cue.every ? 1 : 0) + (cue.at_power_up ? 1 : 0) +
                     (cue.after.empty() ? 0 : 1);
    return count;
}

Cell routineCell(const Look& at) {
    Cell c{.family = Family::Time};
    const auto& wished = at.project.routine;
    const int cues = triggers(wished, at.channel.id);
    std::string follows;
    for (const auto& follower : wished.followers)
        if (follower.channel == at.channel.id)
            if (const auto* input = project::findInput(at.project, follower.input))
                follows = (follower.released ? "while not " : follower.proportional ? "follows " : "while ") + input->name;
    for (const auto& loop : wished.loops)
        if (loop.channel == at.channel.id)
            if (const auto* input = project::findInput(at.project, loop.input)) c.small = "holds " + input->name;
    if (cues > 0) c.figure = fmt::format("{} trigger{}", cues, cues == 1 ? "" : "s");
    else if (!follows.empty()) c.figure = follows;
    else c.small = isDriven(at.planned) ? "no cue yet" : "waits for Pulse";
    Verdict verdict = holdsIf((cues > 0 || !follows.empty()) && at.plan.program);
    for (const auto& interlock : wished.interlocks) {
        if (interlock.channel != at.channel.id) continue;
        const auto* input = project::findInput(at.project, interlock.input);
        const auto* other = interlock.terms.empty() ? nullptr : project::findChannel(at.project, interlock.terms.front().channel);
        c.small = input == nullptr && other != nullptr
                      ? fmt::format("never with {} {}", other->name, labelOf(interlock.terms.front().state))
                      : "never with " + (input != nullptr ? input->name : interlock.input);
        const bool proved = at.plan.proofs && std::any_of(at.plan.proofs->begin(), at.plan.proofs->end(), [&](const auto& proof) {
                                return proof.id == interlock.id && proof.status == routine::ProofStatus::Proved;
                            });
        if (proved) continue;
        c.to_do = !at.plan.proofs && verdict != Verdict::Unknown;
        verdict = worse(verdict, Verdict::Unknown);
        if (c.to_do) break;
    }
    c.verdict = at.judged(Stage::Routine, verdict);
    c.to_do = c.to_do && c.verdict == Verdict::Unknown;
    return c;
}

Cell codeCell(const Look& at) {
    Cell c{.family = Family::Time};
    const auto& family = board::family(at.project.board.form);
    const auto& build = at.evidence.build;
    if (build && build->ok) {
        c.figure = bytes(build->flash);
        c.small = fmt::format("of {}, {} B of RAM", bytes(family.flash), build->ram);
        c.share = static_cast<double>(build->flash) / family.flash;
        c.verdict = at.judged(Stage::Code, *c.share > 1.0 ? Verdict::Breaks : Verdict::Holds);
        return c;
    }
    if (build) {
        c.figure = "fails";
        c.small = "does not compile";
        c.verdict = Verdict::Breaks;
        return c;
    }
    c.verdict = at.judged(Stage::Code, Verdict::Unknown);
    const bool refused = !at.planned.not_driven.empty() && c.verdict == Verdict::Breaks;
    c.figure = refused ? "not driven" : at.plan.program ? "emitted" : "";
    c.to_do = at.plan.program && c.verdict == Verdict::Unknown;
    c.small = refused                        ? ""
              : at.evidence.compiler_missing ? "no compiler here"
              : !at.plan.program             ? ""
              : family.emulated              ? "not compiled yet"
                                             : "not compiled on this desk";
    return c;
}

Cell tuneCell(const Look& at) {
    Cell c{.family = Family::Time};
    const auto& planned = at.planned;
    if (const auto* pump = std::get_if<project::PumpDemand>(&at.channel.demand)) {
        if (planned.dose_time) c.figure = display(*planned.dose_time, 2) + " dose";
        if (pump->volume) c.small = displayPlain(*pump->volume) + (planned.measured_flow ? ", measured" : ", computed");
        c.verdict = at.judged(Stage::Tune, holdsIf(planned.measured_flow && planned.dose_time));
        c.to_do = planned.dose_time && c.verdict == Verdict::Unknown;
        if (planned.dose_time && pump->run_time_limit) c.share = si(*planned.dose_time) / si(*pump->run_time_limit);
        return c;
    }
    if (planned.signal == SignalKind::Switched) {
        c.figure = "nothing to tune";
        c.verdict = at.judged(Stage::Tune, Verdict::Holds);
        return c;
    }
    for (const auto& loop : at.project.routine.loops)
        if (loop.channel == at.channel.id && c.figure.empty())
            c.figure = fmt::format("P {} · I {}", significant(si(loop.proportional), 2), significant(si(loop.integral), 2));
    // A run that was kept is what settles it.
    const journal::Entry* run = nullptr;
    for (const auto& entry : at.project.journal.entries)
        if (entry.kind == journal::EntryKind::Run && entry.channel == at.channel.id) run = &entry;
    c.small = planned.signal == SignalKind::Unknown ? "" : run != nullptr ? "run " + run->date.substr(0, 10) : "not run yet";
    c.verdict = at.judged(Stage::Tune, holdsIf(run != nullptr));
    c.to_do = planned.signal != SignalKind::Unknown && c.verdict == Verdict::Unknown;
    return c;
}

Cell logCell(const Look& at) {
    Cell c{.verdict = Verdict::Holds, .family = Family::Spark};
    const auto& entries = at.project.journal.entries;
    const auto notes = std::count_if(entries.begin(), entries.end(), [&](const auto& entry) { return entry.channel == at.channel.id; });
    if (at.planned.chosen && at.planned.chosen->price)
        c.figure = fmt::format("{} {:.2f}", at.project.brief.currency, si(*at.planned.chosen->price));
    c.small = notes == 1 ? "1 entry" : fmt::format("{} entries", notes);
    return c;
}

// What decided a verdict, in one sentence.
std::string whyOf(const Look& at, Stage stage, const Cell& cell) {
    for (const auto& finding : at.plan.findings)
        if (finding.stage == stage && finding.severity != Severity::Note && at.concerns(finding.channel)) return finding.text;
    if (cell.verdict != Verdict::Unknown) return "Nothing breaks or is tight here.";
    if (cell.to_do) switch (stage) {
            case Stage::Routine: return "Still to do: what must never be is not proved yet.";
            case Stage::Code: return "Still to do: the sketch is not compiled yet.";
            case Stage::Tune:
                return project::channelKind(at.channel) == project::ChannelKind::Pump
                           ? "Still to do: a cup and a clock say what it really pours."
                           : "Still to do: run it once, and keep the run.";
            default: return "Still to do: its steps on the bench.";
        }
    for (const auto& missing : at.plan.missing)
        if (missing.stage == stage && at.concerns(missing.channel))
            return "Still missing: " + missing.label + (missing.how.empty() ? "." : " (" + missing.how + ").");
    return "A figure or a check is still missing.";
}

struct Filled {
    Stage stage;
    Cell (*fill)(const Look&);
};
constexpr Filled filled[] = {{Stage::Need, needCell}, {Stage::Match, matchCell}, {Stage::Feed, feedCell},
                             {Stage::Pins, pinsCell}, {Stage::Pulse, pulseCell}, {Stage::Routine, routineCell},
                             {Stage::Code, codeCell}, {Stage::Tune, tuneCell},   {Stage::Log, logCell}};

}  // namespace

const char* wordOf(const Cell& cell) {
    switch (cell.verdict) {
        case Verdict::Holds: return "holds";
        case Verdict::Tight: return "tight";
        case Verdict::Breaks: return "breaks";
        case Verdict::Unknown: break;
    }
    return cell.to_do ? "to do" : "not known";
}

void fillCells(const project::Project& project, const Evidence& evidence, Plan& plan) {
    for (std::size_t i = 0; i < project.channels.size(); ++i) {
        const Look at{project, evidence, plan, project.channels[i], plan.channels[i]};
        std::array<Cell, project::stageCount> cells;
        for (const auto& [stage, fill] : filled) cells[static_cast<std::size_t>(stage)] = fill(at);
        cells[static_cast<std::size_t>(Stage::Prove)].to_do = true;  // until the list says what is done
        for (int s = 0; s < project::stageCount; ++s) {
            auto& cell = cells[static_cast<std::size_t>(s)];
            cell.why = whyOf(at, static_cast<Stage>(s), cell);
        }
        plan.channels[i].cells = std::move(cells);
    }
}

}  // namespace hinge::plan
