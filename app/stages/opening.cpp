#include "stages/opening.hpp"
#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include "kinds/expander.hpp"
#include "match/rank.hpp"
#include "quantity/text.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

using project::Stage;

const plan::PlanFinding* worstOf(const Model& model, Stage stage, const QString& channel) {
    for (const auto& finding : model.plan.findings)
        if (finding.stage == stage && finding.severity != Severity::Note &&
            (finding.channel.empty() || channel.isEmpty() || text(finding.channel) == channel))
            return &finding;
    return nullptr;
}

QString needHint(const project::Channel* channel) {
    if (channel == nullptr) return {};
    switch (project::channelKind(*channel)) {
        case project::ChannelKind::Pump: return tr("The tank, the lift and the tube, and the head they ask at each flow.");
        case project::ChannelKind::Turn:
        case project::ChannelKind::Press:
            return tr("What turns, and the torque it asks along the way. A figure may carry its spread: 90 ± 3 g.");
        case project::ChannelKind::Move:
            return tr("What moves along, and the force it asks. A figure may carry its spread: 0.42 ± 0.02 kg.");
        case project::ChannelKind::Blow: return tr("The air that is to move, and what its way takes.");
        case project::ChannelKind::Switch: return tr("What is switched, and what rushes in when it is.");
        case project::ChannelKind::Heat: return tr("How it warms with the power asked, and what it takes to hold it there.");
    }
    return {};
}

}  // namespace

QString whyNoSketch(const Model& model) {
    for (const auto& finding : model.plan.findings)
        if (finding.id == "not-driven" || finding.id == "not-read") return text(finding.text);
    return tr("The sketch waits for a complete routine and a pin for everything.");
}

namespace {

// What a stage's sentence is made from.
struct Here {
    const Model& model;
    const project::Channel* channel;  ///< nullptr: the whole gadget
    const plan::ChannelPlan& here;
};

QString ofNeed(const Here& at) {
    const auto* channel = at.channel;
    const auto& ask = at.here.context->ask;
    if (!ask.missing.empty() || !match::decisive(ask)) return tr("Fill in what is not known on the left, and the demand follows.");
    if (ask.flow && ask.head)
        return tr("%1 asks for %2 against %3 of head.").arg(text(channel->name), text(display(*ask.flow)), text(display(*ask.head)));
    if (ask.flow && ask.pressure)
        return tr("%1 asks for %2 against %3.").arg(text(channel->name), text(display(*ask.flow)), text(display(*ask.pressure)));
    if (ask.torque && ask.speed)
        return tr("%1 asks for %2 at the shaft, at up to %3.")
            .arg(text(channel->name), text(display(*ask.torque)), text(display(*ask.speed)));
    if (ask.force) return tr("%1 asks for %2.").arg(text(channel->name), text(display(*ask.force)));
    return tr("%1 asks for %2.").arg(text(channel->name), text(display(*ask.power)));
}
QString ofMatch(const Here& at) {
    const auto* channel = at.channel;
    const auto& chosen = at.here.chosen;
    const auto& ask = at.here.context->ask;
    if (chosen && chosen->verdict == Verdict::Unknown) return tr("This pair cannot be judged yet: a figure is missing.");
    if (chosen && chosen->flow && ask.flow)
        return tr("This one gives %1; %2 is asked for.").arg(text(display(*chosen->flow)), text(display(*ask.flow)));
    if (chosen && project::channelKind(*channel) == project::ChannelKind::Switch && chosen->motor)
        return tr("%1 takes %2; this driver carries it.").arg(text(channel->name), text(display(*chosen->motor)));
    if (chosen && std::isfinite(chosen->numbers.share))
        return tr("%1 asks for %2 of what this one may be used for.")
            .arg(text(channel->name), text(display(Kind::Fraction, chosen->numbers.share, 2)));
    if (chosen) return tr("This pair carries it.");
    return tr("Choose a part and its driver; the best stand first.");
}
QString ofFeed(const Here& at) {
    const auto& model = at.model;
    if (model.plan.headline.worst_by_routine && model.plan.headline.worst_current && !model.plan.sources.empty() &&
        !model.plan.sources.front().culprits.empty()) {
        const auto& source = model.plan.sources.front();
        return model.plan.headline.source_current
                   ? tr("At worst %1 of the %2 are drawn: %3.")
                         .arg(text(display(*model.plan.headline.worst_current)), text(display(*model.plan.headline.source_current)),
                              text(source.culprits))
                   : tr("At worst %1 are drawn: %2.").arg(text(display(*model.plan.headline.worst_current)), text(source.culprits));
    }
    if (model.plan.headline.worst_current && model.plan.headline.source_current)
        return tr("Everything starting at once draws %1 of the %2 that the supply gives.")
            .arg(text(display(*model.plan.headline.worst_current)), text(display(*model.plan.headline.source_current)));
    return tr("The supply's volts and amps, and a part for every channel, are needed first.");
}
QString ofPins(const Here& at, int tab) {
    const auto& wires = at.model.wires;
    if (tab == 1) {
        const auto rows = plan::wireRows(at.model.project, wires);
        const auto recorded = std::count_if(rows.begin(), rows.end(), [](const plan::WireRow& row) { return row.colour_recorded; });
        return recorded == 0 ? tr("%1 wires; which colours they have in truth is not written down yet.").arg(wires.size())
                             : tr("%1 wires; the colour of %2 of them is written down.").arg(wires.size()).arg(recorded);
    }
    if (tab == 2) return tr("Which boards would do, and which wires would move.");
    if (tab == 3) return tr("%1 wires, joined in one of these ways.").arg(wires.size());
    const auto* channel = at.channel;
    if (channel != nullptr && !channel->pin.empty() && at.here.expander)
        return tr("%1 lies on %2 of the %3.")
            .arg(text(channel->name), text(channel->pin), text(kinds::expanderName(*at.here.expander->map, at.here.expander->board)));
    return channel != nullptr && !channel->pin.empty()
               ? tr("%1 sits on %2, and that pin can do it.").arg(text(channel->name), text(channel->pin))
               : tr("Give every channel and input a pin.");
}
QString ofPulse(const Here& at) {
    const auto* channel = at.channel;
    const auto& here = at.here;
    if (here.signal == plan::SignalKind::StepRate && here.motion.step_rate)
        return tr("It goes on at %1 steps a second, from rest to that in %2, and back in as long.")
            .arg(QString::number(si(*here.motion.step_rate), 'g', 4), text(display(channel->signal.soft_start)));
    if (here.signal == plan::SignalKind::Steps && here.motion.peak_rate)
        return tr("A move is %1 steps, at up to %2.").arg(QString::number(si(*here.motion.steps)), text(display(*here.motion.peak_rate)));
    if (here.signal == plan::SignalKind::ServoPulse && here.motion.pulse_from)
        return tr("From %1 to %2 of pulse, every 20 ms.").arg(text(display(*here.motion.pulse_from)), text(display(*here.motion.pulse_to)));
    if (here.signal == plan::SignalKind::ServoPulse)
        return tr("Find the servo's ends first: horn off, from 1.5 ms, until it strains, and back a little.");
    if (here.motion.pulse_still)
        return tr("It stands still at %1 of pulse, every 20 ms; %2 more are full speed, %2 less the other way.")
            .arg(text(display(*here.motion.pulse_still)), text(display(*here.motion.pulse_span)));
    if (here.signal == plan::SignalKind::FanPwm && here.pwm)
        return tr("%1 to the fan's own PWM wire, in %2 steps.")
            .arg(text(display(here.pwm->actual_frequency, 4)), QString::number(si(here.pwm->steps)));
    if (here.latch)
        return tr("A pulse of %1 one way switches it on, one the other way off; between them it takes nothing.")
            .arg(text(display(*here.latch, 2)));
    if (here.mains && !here.mains->pattern.empty())
        return here.mains->to_hold
                   ? tr("Whole cycles of the mains: %1 of them hold the temperature.").arg(text(display(here.mains->share, 2)))
                   : tr("Whole cycles of the mains, %1 of them.").arg(text(display(here.mains->share, 2)));
    if (here.mains && here.mains->delay)
        return tr("Fired %1 after each crossing, the mains gives %2 of its power.")
            .arg(text(display(*here.mains->delay)), text(display(here.mains->share, 2)));
    if (here.pwm)
        return tr("%1 in %2 steps; half of full power is reached after %3.")
            .arg(text(display(here.pwm->actual_frequency, 4)), QString::number(si(here.pwm->steps)),
                 text(display(Kind::Duration, si(channel->signal.soft_start) / 2)));
    if (here.signal == plan::SignalKind::Switched && !channel->pin.empty())
        return tr("%1 is high for on and low for off: nothing is chopped.").arg(text(channel->pin));
    return tr("No pin is chosen yet: nothing can be said of its pulses.");
}
QString ofRoutine(const Here& at) {
    const auto& model = at.model;
    if (model.project.routine.cues.empty()) return tr("No cue yet: nothing will ever move.");
    if (!model.plan.program)
        return tr("The routine waits: %1.").arg(model.plan.program_error ? words(*model.plan.program_error) : QString());
    if (!model.plan.proofs) return tr("The interlocks are being proved.");
    if (std::any_of(model.plan.proofs->begin(), model.plan.proofs->end(), [](const auto& proof) {
            return proof.claim == routine::Claim::Never && proof.status == routine::ProofStatus::Bounded;
        }))
        return tr("The routine runs; it is too large to be proved to its end.");
    if (std::any_of(model.plan.proofs->begin(), model.plan.proofs->end(), [](const auto& proof) {
            return proof.claim == routine::Claim::Ends && proof.status == routine::ProofStatus::Violated;
        }))
        return tr("The routine runs, but something in it can stay on until stop.");
    return model.plan.proofs->empty() ? tr("The routine runs; no interlock is asked for.")
                                      : tr("The routine runs, and what must never happen cannot happen.");
}
QString ofCode(const Here& at) {
    const auto& model = at.model;
    if (!model.sketch) return whyNoSketch(model);
    if (!board::family(model.project.board.form).emulated)
        return tr("The sketch is emitted for the %1. It is not compiled here; its head says how such sketches were tested.")
            .arg(text(std::string{board::family(model.project.board.form).name}));
    if (model.evidence.build && model.evidence.build->ok)
        return tr("The sketch compiles and takes %1 of the chip's flash.")
            .arg(QString::number(100.0 * model.evidence.build->flash / board::family(model.project.board.form).flash, 'f', 0) + " %");
    if (model.evidence.build) return tr("The sketch does not compile.");
    return model.evidence.compiler_missing ? tr("The sketch is emitted; no compiler is installed here.")
                                           : tr("The sketch is emitted and being compiled.");
}
QString ofTune(const Here& at) {
    const auto& model = at.model;
    const auto* channel = at.channel;
    const auto& here = at.here;
    if (!board::family(model.project.board.form).link) {
        return tr("The sketch on this chip has no link: here only its stand-in is tuned, and the numbers go into the next sketch.");
    }
    const auto* pump = channel != nullptr ? std::get_if<project::PumpDemand>(&channel->demand) : nullptr;
    if (pump != nullptr)
        return here.dose_time ? (here.measured_flow ? tr("A dose of %1 takes %2, by your cup and clock.")
                                                    : tr("A dose of %1 should take %2; no cup has said so yet."))
                                    .arg(pump->volume ? text(displayPlain(*pump->volume)) : "?", text(display(*here.dose_time)))
                              : tr("The dose waits for Need and Match.");
    return tr("Change a number while it runs, and watch.");
}
QString ofSamples(const Model& model) {
    int accepted = 0, doubtful = 0, rejected = 0;
    for (const auto& bag : model.bags) accepted += bag.accepted, doubtful += bag.suspect, rejected += bag.rejected;
    if (model.bags.empty()) return tr("No piece was tried yet: look-alikes differ, so one of each kind is tried before it is built in.");
    return tr("%1 pieces are accepted, %2 are in doubt, %3 are rejected.").arg(accepted).arg(doubtful).arg(rejected);
}
QString ofFit(const Model& model) {
    int open = 0, tight = 0, breaks = 0;
    for (const auto& line : model.fit.lines) {
        open += line.verdict == Verdict::Unknown ? 1 : 0;
        tight += line.verdict == Verdict::Tight ? 1 : 0;
        breaks += line.verdict == Verdict::Breaks ? 1 : 0;
    }
    if (breaks + tight + open == 0) return tr("All %1 lengths and fits hold.").arg(model.fit.lines.size());
    QStringList counts;
    if (breaks > 0) counts << tr("%1 do not fit").arg(breaks);
    if (tight > 0) counts << tr("%1 are tight").arg(tight);
    if (open > 0) counts << tr("%1 wait for a length").arg(open);
    return tr("Of %1 lengths and fits, %2.").arg(model.fit.lines.size()).arg(counts.join(", "));
}
QString ofProve(const Here& at, int tab) {
    const auto& model = at.model;
    if (tab == 1) return ofSamples(model);
    if (tab == 2) return ofFit(model);
    if (tab == 3) return tr("Something is wrong? Say what you see; each answer leaves fewer causes.");
    int done = 0;
    const proof::Step *next = nullptr, *off = nullptr;
    for (const auto& step : model.steps) {
        const bool is_done = step.verdict == Verdict::Holds || !step.skipped.empty();
        done += is_done ? 1 : 0;
        if (!is_done && next == nullptr) next = &step;
        if (step.verdict == Verdict::Breaks && off == nullptr) off = &step;
    }
    return off != nullptr
               ? tr("%1: %2 is outside its range. Nothing after it until it is found out why.").arg(text(off->title), text(off->reading))
           : next == nullptr ? tr("Every step is done and holds.")
                             : tr("%1 of %2 steps are done. Next: %3.").arg(done).arg(model.steps.size()).arg(text(next->title));
}
QString ofLog(const Here& at, int tab) {
    const auto& model = at.model;
    const auto& entries = model.project.journal.entries;
    switch (tab) {
        case 0:
            return entries.empty() ? tr("Nothing is written down yet.")
                                   : tr("%1 entries, the newest of %2.")
                                         .arg(entries.size())
                                         .arg(text(std::max_element(entries.begin(), entries.end(), [](const auto& a, const auto& b) {
                                                       return a.date < b.date;
                                                   })->date.substr(0, 10)));
        case 1: return tr("What was changed, and when: an earlier state can be looked at, and taken back.");
        case 2: return tr("What a real board told while it ran.");
        case 3: return tr("The wiring as it was built: colours, labels, and what differs from the plan.");
        case 5: return tr("What wears and what wants care, and when it is due.");
        case 6: return tr("All that a stranger needs to build it, on paper or as files.");
        default: break;
    }
    const auto& account = model.account;
    return tr("What it took so far costs %1 %2.").arg(text(model.project.brief.currency), QString::number(account.spent(), 'f', 2)) +
           (account.unpriced > 0 ? " " + tr("%1 kinds of things have no price yet.").arg(account.unpriced) : "");
}

}  // namespace

Opening openingOf(const Model& model, Stage stage, const QString& id, int tab) {
    const auto* channel = project::findChannel(model.project, id.toStdString());
    const auto* planned = plan::findChannel(model.plan, id.toStdString());
    const QString hints[] = {
        needHint(channel),
        channel != nullptr && std::holds_alternative<project::PumpDemand>(channel->demand)
            ? tr("The pump's curve against what lift and tube ask. Drag the ring: the lift follows.")
            : tr("What is asked, against what the part can do. A click on the left tries another; a ring compares it."),
        tr("Press on a box of the tree to change it. Over time every instant comes from the models: the wheel zooms, a double click shows "
           "all."),
        tab == 0   ? tr("Both pin rows of the board. A dot has PWM; its number is the timer.")
        : tab == 1 ? tr("Point at a wire, in the drawing or in the list: it is lit up in both, and at its pin.")
                   : QString(),
        planned != nullptr && planned->signal == plan::SignalKind::Switched
            ? tr("Its edges through the scene, and one switching from close by.")
        : planned != nullptr && planned->signal == plan::SignalKind::WholeCycles
            ? tr("The mains as the load gets it, and what stands at the pin for that.")
        : planned != nullptr && planned->mains ? tr("The mains, and the part of it that is asked for.")
        : planned != nullptr && planned->inverted
            ? tr("The first pulses on the fan's wire, from the real register values; the pin is their opposite.")
            : tr("The first pulses as they will stand at the pin, from the real register values."),
        tr("Click any underlined word to change it. Below, the current that the scene draws."),
        tr("Every number is named at the top, with its unit and where it comes from."),
        tr("Connect, change a number, watch the answer."),
        tab == 0 ? tr("One step at a time, power off first. Type what you read, with its unit.") : QString(),
        tab == 0 ? tr("Changes, readings, runs and lessons, newest first.") : QString(),
    };
    Opening opening;
    opening.hint = hints[static_cast<int>(stage)];
    if (channel == nullptr || planned == nullptr) {
        if (stage == Stage::Need) {
            opening.sentence = model.plan.missing.empty() ? tr("Nothing is left to measure.")
                                                          : tr("%1 things are not known yet.").arg(model.plan.missing.size());
            opening.hint = tr("What is still unknown and how to find out, and what to be careful of.");
            return opening;
        }
    }
    // What is wrong stands below; these two have tabs, and each says its own.
    const bool tabbed = stage == Stage::Prove || stage == Stage::Log || (stage == Stage::Pins && tab != 0);
    if (const auto* finding = worstOf(model, stage, id); finding != nullptr && !tabbed) {
        opening.sentence = text(finding->text);
        return opening;
    }
    const plan::ChannelPlan none;
    const auto& here = planned != nullptr ? *planned : none;
    const Here at{model, channel, here};
    switch (stage) {
        case Stage::Need: opening.sentence = ofNeed(at); break;
        case Stage::Match: opening.sentence = ofMatch(at); break;
        case Stage::Feed: opening.sentence = ofFeed(at); break;
        case Stage::Pins: opening.sentence = ofPins(at, tab); break;
        case Stage::Pulse: opening.sentence = ofPulse(at); break;
        case Stage::Routine: opening.sentence = ofRoutine(at); break;
        case Stage::Code: opening.sentence = ofCode(at); break;
        case Stage::Tune: opening.sentence = ofTune(at); break;
        case Stage::Prove: opening.sentence = ofProve(at, tab); break;
        case Stage::Log: opening.sentence = ofLog(at, tab); break;
    }
    return opening;
}

}  // namespace hinge::app
