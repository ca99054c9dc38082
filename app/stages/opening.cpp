#include "stages/opening.hpp"
#include "quantity/text.hpp"
#include <QCoreApplication>

namespace hinge::app {
namespace {

using project::Stage;

const plan::PlanFinding* worstOf(const Model& model, Stage stage, const QString& channel) {
    for (const auto& finding : model.plan.findings)
        if (finding.stage == stage && finding.severity != Severity::Note && (finding.channel.empty() || channel.isEmpty() || text(finding.channel) == channel)) return &finding;
    return nullptr;
}

QString tr(const char* words) { return QCoreApplication::translate("opening", words); }

}  // namespace

Opening openingOf(const Model& model, Stage stage, const QString& id) {
    const auto* channel = project::findChannel(model.project, id.toStdString());
    const auto* planned = plan::findChannel(model.plan, id.toStdString());
    const QString hints[] = {
        tr("The tank, the lift and the tube, and the head they ask at each flow."),
        tr("The pump's curve against what lift and tube ask. Drag the ring: the lift follows."),
        tr("Left, the tree as it feeds. Right, one scene: every instant computed from the models."),
        tr("Both pin rows of the board. A dot has PWM; its number is the timer."),
        tr("The first pulses as they will stand at the pin, from the real register values."),
        tr("Click any underlined word to change it. Below, the current that the scene draws."),
        tr("Every number is named at the top, with its unit and where it comes from."),
        tr("Connect, change a number, watch the answer."),
        tr("One step at a time, power off first. Type what you read, with its unit."),
        tr("Changes, readings, runs and lessons, newest first."),
    };
    Opening opening;
    opening.hint = hints[static_cast<int>(stage)];
    if (channel == nullptr || planned == nullptr) {
        if (stage == Stage::Need) {
            opening.sentence = model.plan.missing.empty() ? tr("Nothing is left to measure.") : tr("%1 things are not known yet.").arg(model.plan.missing.size());
            opening.hint = tr("What is still unknown and how to find out, and what to be careful of.");
            return opening;
        }
    }
    if (const auto* finding = worstOf(model, stage, id)) {
        opening.sentence = text(finding->text);
        return opening;
    }
    const auto& pump = planned != nullptr ? planned->pump : plan::PumpPlan{};
    const auto& chosen = pump.chosen;
    switch (stage) {
        case Stage::Need:
            opening.sentence = pump.ask.flow && pump.ask.head ? tr("%1 asks for %2 against %3 of head.").arg(text(channel->name), text(display(*pump.ask.flow)), text(display(*pump.ask.head)))
                                                               : tr("Fill in what is not known on the left, and the demand follows.");
            break;
        case Stage::Match:
            if (chosen && chosen->flow && pump.ask.flow) opening.sentence = tr("This pump gives %1; %2 is asked for.").arg(text(display(*chosen->flow)), text(display(*pump.ask.flow)));
            else if (chosen) opening.sentence = tr("This pair cannot be judged yet: a figure is missing.");
            else opening.sentence = tr("Choose a pump and a switch; the best stand first.");
            break;
        case Stage::Feed:
            if (model.plan.headline.worst_current && model.plan.headline.source_current)
                opening.sentence = tr("Everything starting at once draws %1 of the %2 that the supply gives.").arg(text(display(*model.plan.headline.worst_current)), text(display(*model.plan.headline.source_current)));
            else opening.sentence = tr("The supply's volts and amps, and a chosen pump, are needed first.");
            break;
        case Stage::Pins:
            opening.sentence = channel != nullptr && !channel->pin.empty() ? tr("%1 sits on %2, and that pin can do it.").arg(text(channel->name), text(channel->pin)) : tr("Give every channel and input a pin.");
            break;
        case Stage::Pulse:
            opening.sentence = pump.pwm ? tr("%1 in %2 steps; half of full power is reached after %3.").arg(text(display(pump.pwm->actual_frequency, 4)), QString::number(si(pump.pwm->steps)), text(display(Kind::Duration, si(channel->signal.soft_start) / 2)))
                                        : tr("Switched on and off only: no PWM is asked for, or no pin is chosen.");
            break;
        case Stage::Routine: {
            if (model.project.routine.cues.empty()) opening.sentence = tr("No cue yet: nothing will ever move.");
            else if (!model.plan.program) opening.sentence = tr("The routine waits: %1.").arg(model.plan.program_error ? words(*model.plan.program_error) : QString());
            else if (!model.plan.proofs) opening.sentence = tr("The interlocks are being proved.");
            else opening.sentence = model.plan.proofs->empty() ? tr("The routine runs; no interlock is asked for.") : tr("The routine runs, and what must never happen cannot happen.");
            break;
        }
        case Stage::Code:
            if (!model.sketch) opening.sentence = tr("The sketch waits for a complete routine and a pin for everything.");
            else if (model.evidence.build && model.evidence.build->ok) opening.sentence = tr("The sketch compiles and takes %1 of the chip's flash.").arg(QString::number(100.0 * model.evidence.build->flash / board::family(model.project.board.form).flash, 'f', 0) + " %");
            else if (model.evidence.build) opening.sentence = tr("The sketch does not compile.");
            else opening.sentence = model.evidence.compiler_missing ? tr("The sketch is emitted; no compiler is installed here.") : tr("The sketch is emitted and being compiled.");
            break;
        case Stage::Tune:
            opening.sentence = pump.dose_time ? (pump.measured_flow ? tr("A dose of %1 takes %2, by your cup and clock.") : tr("A dose of %1 should take %2; no cup has said so yet.")).arg(channel->demand.volume ? text(displayPlain(*channel->demand.volume)) : "?", text(display(*pump.dose_time)))
                                              : tr("The dose waits for Need and Match.");
            break;
        case Stage::Prove: {
            int done = 0;
            for (const auto& step : model.steps) done += step.verdict == Verdict::Holds || !step.skipped.empty() ? 1 : 0;
            opening.sentence = done == static_cast<int>(model.steps.size()) ? tr("Every step is done and holds.") : tr("%1 of %2 steps are done.").arg(done).arg(model.steps.size());
            break;
        }
        case Stage::Log: {
            double cost = 0.0;
            bool open_price = false;
            for (const auto& line : model.partLines) {
                if (line.price) cost += line.count * si(*line.price);
                else open_price = true;
            }
            for (const auto& entry : model.project.journal.entries)
                if (entry.cost) cost += si(*entry.cost);
            opening.sentence = tr("%1 entries; parts with a known price cost %2 %3.").arg(QString::number(model.project.journal.entries.size()), text(model.project.brief.currency), QString::number(cost, 'f', 2)) + (open_price ? " " + tr("Some prices are not known.") : "");
            break;
        }
    }
    return opening;
}

}  // namespace hinge::app
