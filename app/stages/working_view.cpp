#include "stages/working_view.hpp"
#include <QCoreApplication>
#include "firmware/sketch.hpp"
#include "firmware/target.hpp"
#include "quantity/text.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

using project::Stage;

Tone toneOf(Kind kind) {
    switch (kind) {
        case Kind::Voltage:
        case Kind::Current:
        case Kind::Resistance:
        case Kind::Power:
        case Kind::Charge:
        case Kind::Capacitance:
        case Kind::Temperature:
        case Kind::Energy: return Tone::Spark;
        case Kind::Duration:
        case Kind::Frequency:
        case Kind::Count: return Tone::Time;
        default: return Tone::Hinge;
    }
}

WorkingGroup proofOf(const Model& model) {
    WorkingGroup group{tr("Proof, over every reachable state"), {}};
    if (!model.plan.proofs) {
        group.blocks.push_back({Tone::Plain, model.plan.program ? tr("Being worked out…") : tr("Waits for a complete routine."), {}, {}});
        return group;
    }
    for (const auto& proof : *model.plan.proofs) {
        if (proof.status == routine::ProofStatus::Violated) {
            QStringList lines;
            int n = 0;
            for (const auto& event : proof.story)
                lines << QString("%1 · %2 s: %3").arg(++n).arg(event.tick / 1000.0, 0, 'f', 3).arg(text(event.event));
            group.blocks.push_back({proof.claim == routine::Claim::Ends ? Tone::Time : Tone::Breaks, text(proof.text), lines,
                                    tr("the shortest story; the last-stage enforcement is off")});
        } else {
            const QString said =
                proof.status == routine::ProofStatus::Proved
                    ? tr("never")
                    : tr("not within %1 states, %2 events deep; beyond that nothing is claimed").arg(proof.states).arg(proof.depth);
            group.blocks.push_back({Tone::Hinge,
                                    text(proof.text),
                                    {said},
                                    proof.claim == routine::Claim::Ends
                                        ? tr("%1 states explored").arg(proof.states)
                                        : tr("%1 states explored, enforcement off; it is also held at the output, last step before the pin")
                                              .arg(proof.states)});
        }
    }
    if (model.plan.proofs->empty()) group.blocks.push_back({Tone::Plain, tr("No interlock is asked for."), {}, {}});
    if (model.plan.program) {
        const auto bounds = routine::boundsOf(*model.plan.program);
        const auto time = [](std::int32_t ticks) { return text(display(Kind::Duration, ticks / 1000.0)); };
        if (bounds.longest_wait > 0)
            group.blocks.push_back({Tone::Time,
                                    tr("longest wait"),
                                    {time(bounds.longest_wait)},
                                    tr("every wait has an end: what does not come ends its cue as a fault")});
        if (bounds.longest_homing > 0)
            group.blocks.push_back(
                {Tone::Time, tr("longest search for a start"), {time(bounds.longest_homing)}, tr("then it gives up, and says so")});
        group.blocks.push_back(
            {Tone::Time, tr("from stop to safe"), {time(bounds.safe_within)}, tr("from every state: a stop is heard in every tick")});
    }
    bool timed = false;
    for (const auto& cue : model.project.routine.cues) timed = timed || !cue.times.empty();
    if (timed)
        group.blocks.push_back({Tone::Time,
                                tr("at its times of day"),
                                {tr("fires once")},
                                tr("on the one tick at which the clock reaches it, and not again within two hours: a clock put back for "
                                   "winter starts nothing twice")});
    return group;
}

WorkingGroup compileOf(const Model& model) {
    WorkingGroup group{tr("Compiled"), {}};
    const auto& build = model.evidence.build;
    if (build && build->ok) {
        const auto& family = board::family(model.project.board.form);
        group.blocks.push_back(
            {Tone::Time, tr("program in flash"), {tr("%1 of %2 bytes").arg(build->flash).arg(family.flash)}, "avr-size"});
        group.blocks.push_back(
            {Tone::Time, tr("variables in RAM, before the stack"), {tr("%1 of %2 bytes").arg(build->ram).arg(family.ram)}, "avr-size"});
    } else if (build) {
        group.blocks.push_back({Tone::Breaks, tr("does not compile"), {text(build->log.substr(0, 400))}, "avr-gcc"});
    } else if (!board::family(model.project.board.form).emulated) {
        const auto target = board::family(model.project.board.form).target;
        group.blocks.push_back({Tone::Plain, tr("It was %1").arg(tr(firmware::standingOf(target)).replace("\n// ", " ")), {}, {}});
    } else if (model.evidence.compiler_missing) {
        group.blocks.push_back({Tone::Plain,
                                tr("avr-gcc is not installed: the routine's interpreter stands in. Install gcc-avr, avr-libc and "
                                   "arduino-core-avr to compile."),
                                {},
                                {}});
    } else {
        group.blocks.push_back({Tone::Plain, model.sketch ? tr("Being compiled…") : tr("There is no sketch yet."), {}, {}});
    }
    return group;
}

}  // namespace

std::vector<WorkingGroup> workingOf(const Model& model, Stage stage, const QString& channel) {
    std::vector<WorkingGroup> groups;
    if (stage == Stage::Routine) groups.push_back(proofOf(model));
    if (stage == Stage::Code) groups.push_back(compileOf(model));
    for (const auto& working : plan::allWorkings(model.plan)) {
        if (working.stage != stage || (!working.channel.empty() && text(working.channel) != channel)) continue;
        WorkingGroup group{tr("Working: %1").arg(text(working.title)), {}};
        for (const auto& step : working.steps) {
            WorkingBlock block{toneOf(step.kind), text(step.meaning), {text(step.symbol) + " = " + text(step.formula)}, text(step.source)};
            if (step.substituted != step.formula) block.lines << "= " + text(step.substituted);
            block.formulas = block.lines.size();
            if (step.value) block.lines << "= " + text(display(step.kind, *step.value));
            block.symbol = text(step.symbol);
            group.blocks.push_back(std::move(block));
        }
        groups.push_back(std::move(group));
    }
    if (stage == Stage::Pulse)
        if (const auto* planned = plan::findChannel(model.plan, channel.toStdString());
            planned != nullptr && planned->pwm && board::family(model.project.board.form).emulated)
            groups.push_back(
                {tr("Registers"),
                 {{Tone::Time, tr("that give this timer its waveform"),
                   text(firmware::timerRegisters(*planned->pwm)).split('\n', Qt::SkipEmptyParts), tr("as the sketch sets them")}}});
    return groups;
}

}  // namespace hinge::app
