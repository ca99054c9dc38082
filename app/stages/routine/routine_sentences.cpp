#include "stages/routine/routine_sentences.hpp"
#include "quantity/text.hpp"
#include "theme/theme.hpp"
#include <QCoreApplication>

namespace hinge::app {
namespace {

QString tr(const char* words) { return QCoreApplication::translate("routine", words); }

QString word(const QString& shown, const std::string& path, const QColor& colour) {
    return QString("<a href=\"fact:%1\" style=\"color:%2; text-decoration: underline;\">%3</a>").arg(text(path), colour.name(), shown.toHtmlEscaped());
}

QString inputName(const Model& model, const std::string& id) {
    const auto* input = project::findInput(model.project, id);
    return input != nullptr ? text(input->name) : text(id);
}

QString moveSentence(const Model& model, const routine::Cue& cue, const routine::Move& move) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/moves/" + move.id + "/";
    const auto* channel = project::findChannel(model.project, move.channel);
    const QString name = (channel != nullptr ? text(channel->name) : text(move.channel)).toHtmlEscaped();
    if (move.action == routine::Action::Wait) return tr("wait %1").arg(word(move.time ? text(displayPlain(*move.time)) : tr("not at all"), base + "time", c.time));
    const auto* planned_channel = plan::findChannel(model.plan, move.channel);
    if (move.action == routine::Action::Go) {
        const bool along = planned_channel != nullptr && planned_channel->context.ask.travel_per_turn.has_value();
        const QString where = along ? (move.place ? text(displayPlain(*move.place)) : tr("its end")) : move.angle ? text(display(*move.angle, 3)) : tr("its end");
        const QString when = move.time ? text(displayPlain(*move.time)) : planned_channel != nullptr && planned_channel->context.ask.time ? tr("%1, as Need says").arg(text(displayPlain(*planned_channel->context.ask.time))) : tr("its time");
        return tr("%1 goes to %2 in %3").arg(name, word(where, base + (along ? "place" : "angle"), c.hinge), word(when, base + "time", c.time));
    }
    if (move.action != routine::Action::Run) return tr("%1 %2").arg(name, tr(labelOf(move.action)));
    const auto* planned = plan::findChannel(model.plan, move.channel);
    const QString time = move.time ? text(displayPlain(*move.time)) : planned != nullptr && planned->dose_time ? tr("its dose, %1").arg(text(display(*planned->dose_time))) : tr("its dose");
    QString sentence = tr("%1 runs for %2").arg(name, word(time, base + "time", c.time));
    if (channel != nullptr) sentence += tr(" and runs on %1 after").arg(word(text(displayPlain(channel->off_delay)), "channels/" + move.channel + "/off_delay", c.time));
    return sentence;
}

}  // namespace

QString routineHtml(const Model& model) {
    const auto& c = colours();
    QString html;
    const auto paragraph = [&](const QString& words_of) { html += QString("<p style=\"line-height: 150%; margin: 0 0 %1px 0;\">%2</p>").arg(px(7)).arg(words_of); };
    for (const auto& cue : model.project.routine.cues) {
        const std::string base = "routine/cues/" + cue.id + "/";
        QString line = tr("When %1 is pressed").arg(word(cue.input.empty() ? tr("nothing") : inputName(model, cue.input), base + "input", c.spark));
        line += tr(", or at %1").arg(word(cue.times.empty() ? tr("no time") : text(cue.times).replace(",", tr(" and ")), base + "times", c.time));
        for (const auto& guard : cue.guards)
            line += tr(", unless %1 (%2)").arg(inputName(model, guard.input).toHtmlEscaped(), word(guard.throughout ? tr("also while it runs") : tr("at the start only"), base + "guards/" + guard.id + "/throughout", c.spark));
        QStringList moves;
        for (const auto& move : cue.moves) moves << moveSentence(model, cue, move);
        paragraph(line + ": " + moves.join(tr(", then ")) + ".");
    }
    for (const auto& interlock : model.project.routine.interlocks) {
        const auto* channel = project::findChannel(model.project, interlock.channel);
        paragraph(tr("Never: %1 on with %2.").arg((channel != nullptr ? text(channel->name) : text(interlock.channel)).toHtmlEscaped(), inputName(model, interlock.input).toHtmlEscaped()));
    }
    paragraph(model.project.routine.cues.empty() ? tr("There is no cue yet. Add a channel, and it gets one.") : tr("At power-up, on a fault, on stop and after a power cut everything is off; the time is lost until it is set over the link."));
    return html;
}

}  // namespace hinge::app
