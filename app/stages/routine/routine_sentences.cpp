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

// A press here offers what can be added or taken out.
QString menu(const QString& shown, const std::string& what) {
    return QString("<a href=\"menu:%1\" style=\"color:%2; text-decoration: none;\">%3</a>").arg(text(what), colours().soft.name(), shown.toHtmlEscaped());
}

// What starts a cue, each way a phrase of its own.
QString startSentence(const Model& model, const routine::Cue& cue) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/";
    QStringList ways;
    if (!cue.input.empty()) {
        const auto* input = project::findInput(model.project, cue.input);
        const bool button = input != nullptr && input->kind == project::InputKind::Button;
        const QString name = word(inputName(model, cue.input), base + "input", c.spark);
        if (cue.held) ways << (button ? tr("%1 was held for %2") : tr("%1 was true for %2")).arg(name, word(text(displayPlain(*cue.held)), base + "held", c.time));
        else if (cue.on_release) ways << (button ? tr("%1 is %2") : tr("%1 is %2 true")).arg(name, word(button ? tr("let go") : tr("no longer"), base + "on_release", c.spark));
        else ways << (button ? tr("%1 is pressed") : tr("%1 becomes true")).arg(name);
    }
    if (!cue.after.empty()) {
        QString name = text(cue.after);
        for (const auto& other : model.project.routine.cues)
            if (other.id == cue.after) name = text(other.name);
        ways << tr("'%1' has ended").arg(word(name, base + "after", c.spark));
    }
    if (cue.at_power_up) ways << word(tr("the power comes"), base + "at_power_up", c.time);
    QString line = ways.isEmpty() ? QString() : tr("When %1").arg(ways.join(tr(", or ")));
    const auto also = [&](const QString& words_of) { line += line.isEmpty() ? words_of.left(1).toUpper() + words_of.mid(1) : tr(", or %1").arg(words_of); };
    if (!cue.times.empty()) also(tr("at %1").arg(word(text(cue.times).replace(",", tr(" and ")), base + "times", c.time)));
    if (cue.every) also(tr("every %1").arg(word(text(displayPlain(*cue.every)), base + "every", c.time)));
    return line.isEmpty() ? tr("By nothing yet") : line;
}

QString moveSentence(const Model& model, const routine::Cue& cue, const routine::Move& move) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/moves/" + move.id + "/";
    const auto* channel = project::findChannel(model.project, move.channel);
    const QString name = (channel != nullptr ? text(channel->name) : text(move.channel)).toHtmlEscaped();
    if (move.action == routine::Action::Wait) return tr("wait %1").arg(word(move.time ? text(displayPlain(*move.time)) : tr("not at all"), base + "time", c.time));
    if (move.action == routine::Action::Until)
        return tr("wait until %1 is %2, at most %3").arg(word(inputName(model, move.input), base + "input", c.spark), word(move.released ? tr("no longer true") : tr("true"), base + "released", c.spark), word(move.time ? text(displayPlain(*move.time)) : tr("?"), base + "time", c.time));
    if (move.action == routine::Action::Again) {
        const auto times = si(move.times);
        return tr("all that %1").arg(word(times == 0.0 ? tr("again and again") : tr("%1 times").arg(times), base + "times", c.time));
    }
    if (move.action == routine::Action::Home) return tr("%1 goes back until %2 is true, at most %3").arg(name, word(inputName(model, move.input), base + "input", c.spark), word(move.time ? text(displayPlain(*move.time)) : tr("?"), base + "time", c.time));
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
    if (channel != nullptr && si(channel->off_delay) > 0.0) sentence += tr(" and runs on %1 after").arg(word(text(displayPlain(channel->off_delay)), "channels/" + move.channel + "/off_delay", c.time));
    return sentence;
}

}  // namespace

QString routineHtml(const Model& model) {
    const auto& c = colours();
    QString html;
    const auto paragraph = [&](const QString& words_of) { html += QString("<p style=\"line-height: 150%; margin: 0 0 %1px 0;\">%2</p>").arg(px(7)).arg(words_of); };
    for (const auto& cue : model.project.routine.cues) {
        const std::string base = "routine/cues/" + cue.id + "/";
        QString line = startSentence(model, cue);
        for (const auto& guard : cue.guards)
            line += tr(", unless %1 (%2)").arg(inputName(model, guard.input).toHtmlEscaped(), word(guard.throughout ? tr("also while it runs") : tr("at the start only"), base + "guards/" + guard.id + "/throughout", c.spark));
        QStringList moves;
        for (const auto& move : cue.moves) moves << moveSentence(model, cue, move);
        paragraph(line + ": " + (moves.isEmpty() ? tr("nothing happens yet") : moves.join(tr(", then "))) + ". " + menu(tr("[change]"), "cue/" + cue.id));
    }
    for (const auto& follower : model.project.routine.followers) {
        const auto* channel = project::findChannel(model.project, follower.channel);
        const std::string base = "routine/followers/" + follower.id + "/";
        const QString name = (channel != nullptr ? text(channel->name) : text(follower.channel)).toHtmlEscaped(), input = word(inputName(model, follower.input), base + "input", c.spark);
        QString line = follower.proportional ? tr("%1 follows %2: off below %3, from there on from %4 up to full.").arg(name, input, word(text(display(follower.dead, 2)), base + "dead", c.spark), word(text(display(follower.start, 2)), base + "start", c.spark))
                                             : tr("%1 is on while %2 is %3").arg(name, input, word(follower.released ? tr("not true") : tr("true"), base + "released", c.spark));
        if (!follower.proportional) line += tr(", unless %1").arg(word(follower.unless.empty() ? tr("nothing") : inputName(model, follower.unless), base + "unless", c.spark));
        if (!follower.proportional && channel != nullptr) line += si(channel->off_delay) == 0.0 ? QString(".") : tr(", and %1 after.").arg(word(text(displayPlain(channel->off_delay)), "channels/" + follower.channel + "/off_delay", c.time));
        paragraph(line + " " + menu(tr("[take out]"), "drop/" + follower.id));
    }
    for (const auto& interlock : model.project.routine.interlocks) {
        const auto* channel = project::findChannel(model.project, interlock.channel);
        paragraph(tr("Never: %1 on with %2.").arg((channel != nullptr ? text(channel->name) : text(interlock.channel)).toHtmlEscaped(), inputName(model, interlock.input).toHtmlEscaped()) + " " + menu(tr("[take out]"), "drop/" + interlock.id));
    }
    paragraph(tr("Add:") + " " + QStringList{menu(tr("[a cue]"), "new/cue"), menu(tr("[something that follows]"), "new/follower"), menu(tr("[what must never be]"), "new/never"), menu(tr("[an input]"), "new/input"), menu(tr("[a ready pattern]"), "new/pattern")}.join(" "));
    paragraph(model.project.routine.cues.empty() ? tr("There is no cue yet. Add a channel, and it gets one.") : tr("At power-up, on a fault, on stop and after a power cut everything is off; the time is lost until it is set over the link."));
    return html;
}

}  // namespace hinge::app
