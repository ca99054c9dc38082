#include "stages/routine/routine_sentences.hpp"
#include <QCoreApplication>
#include "plan/behaviour.hpp"
#include "plan/colours.hpp"
#include "plan/shown_current.hpp"
#include "quantity/text.hpp"
#include "theme/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

QString word(const QString& shown, const std::string& path, const QColor& colour) {
    return QString("<a href=\"fact:%1\" style=\"color:%2; text-decoration: underline;\">%3</a>")
        .arg(text(path), colour.name(), shown.toHtmlEscaped());
}

QString inputName(const Model& model, const std::string& id) {
    const auto* input = project::findInput(model.project, id);
    return input != nullptr ? text(input->name) : text(id);
}

// A press here offers what can be added or taken out.
QString menu(const QString& shown, const std::string& what) {
    return QString("<a href=\"menu:%1\" style=\"color:%2; text-decoration: none;\">%3</a>")
        .arg(text(what), colours().soft.name(), shown.toHtmlEscaped());
}

// What starts a cue, each way a phrase of its own.
QString startSentence(const Model& model, const routine::Cue& cue) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/";
    QStringList ways;
    if (!cue.input.empty()) {
        const auto* input = project::findInput(model.project, cue.input);
        const bool button = input != nullptr && input->kind == project::InputKind::Button;
        const bool said = input != nullptr && input->kind == project::InputKind::Word;
        const QString name = word(inputName(model, cue.input), base + "input", c.spark);
        if (cue.held)
            ways << (button ? tr("%1 was held for %2") : tr("%1 was true for %2"))
                        .arg(name, word(text(displayPlain(*cue.held)), base + "held", c.time));
        else if (cue.on_release)
            ways << (button ? tr("%1 is %2") : tr("%1 is %2 true"))
                        .arg(name, word(button ? tr("let go") : tr("no longer"), base + "on_release", c.spark));
        else if (said) ways << tr("the word of %1 is said").arg(name);
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
    const auto also = [&](const QString& words_of) {
        line += line.isEmpty() ? words_of.left(1).toUpper() + words_of.mid(1) : tr(", or %1").arg(words_of);
    };
    if (!cue.times.empty())
        also(tr("at %1").arg(word(text(cue.times).replace(",", tr(" and ")), base + "times", c.time)) +
             (si(cue.late) > 0.0
                  ? tr(" (made up for when missed by up to %1)").arg(word(text(displayPlain(cue.late)), base + "late", c.time))
                  : QString()));
    if (cue.every) also(tr("every %1").arg(word(text(displayPlain(*cue.every)), base + "every", c.time)));
    return line.isEmpty() ? tr("By nothing yet") : line;
}

// To a place, on from where it stands, or back to its start.
QString goSentence(const Model& model, const routine::Move& move, const QString& name, const std::string& base, bool along) {
    const auto& c = colours();
    const auto* planned_channel = plan::findChannel(model.plan, move.channel);
    if (move.action == routine::Action::Home) {
        const QString once = tr("%1 goes back until %2 is true, at most %3")
                                 .arg(name, word(inputName(model, move.input), base + "input", c.spark),
                                      word(move.time ? text(displayPlain(*move.time)) : tr("?"), base + "time", c.time));
        if (along ? !move.place : !move.angle) return once;
        return tr("%1, backs off by %2 and comes again slowly")
            .arg(once, word(along ? text(displayPlain(*move.place)) : text(display(*move.angle, 3)), base + (along ? "place" : "angle"),
                            c.hinge));
    }
    const QString where = along        ? (move.place ? text(displayPlain(*move.place)) : tr("its end"))
                          : move.angle ? text(display(*move.angle, 3))
                                       : tr("its end");
    const QString when = move.time ? text(displayPlain(*move.time))
                         : planned_channel != nullptr && planned_channel->context->ask.time
                             ? tr("%1, as Need says").arg(text(displayPlain(*planned_channel->context->ask.time)))
                             : tr("its time");
    const QString far = word(move.from_here && (along ? !move.place : !move.angle) ? tr("?") : where, base + (along ? "place" : "angle"),
                             c.hinge),
                  in = word(when, base + "time", c.time),
                  line = move.in_line ? tr(", %1").arg(word(tr("in a straight line with it"), base + "in_line", c.hinge)) : QString();
    if (move.from_here)
        return tr("%1 goes %2 by %3 in %4").arg(name, word(move.backwards ? tr("back") : tr("on"), base + "backwards", c.hinge), far, in) +
               line;
    return tr("%1 goes to %2 in %3").arg(name, far, in) + line;
}

// Of a lamp of three colours: in which it shines, and a patch of it.
QString colourWords(const Model& model, const routine::Move& move, const project::Channel* channel, const std::string& base) {
    using routine::Action;
    const bool shines = move.action == Action::Run || move.action == Action::On || move.action == Action::Fade;
    if (move.colour.empty() && (!shines || channel == nullptr || !plan::hasColours(model.parts, *channel))) return {};
    const auto shares = plan::sharesOf(move.colour);
    const QString patch = move.colour.empty() || !shares
                              ? QString()
                              : QString(" <span style=\"color:%1\">\u25a0</span>").arg(text(move.colour).toHtmlEscaped());
    return tr(", in %1").arg(word(move.colour.empty() ? tr("white") : text(move.colour), base + "colour", colours().spark)) + patch;
}

QString moveSentence(const Model& model, const routine::Cue& cue, const routine::Move& move) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/moves/" + move.id + "/";
    const auto* channel = project::findChannel(model.project, move.channel);
    const QString name = (channel != nullptr ? text(channel->name) : text(move.channel)).toHtmlEscaped();
    if (move.action == routine::Action::Wait)
        return tr("wait %1").arg(word(move.time ? text(displayPlain(*move.time)) : tr("not at all"), base + "time", c.time));
    if (move.action == routine::Action::Until)
        return tr("wait until %1 is %2, at most %3")
            .arg(word(inputName(model, move.input), base + "input", c.spark),
                 word(move.released ? tr("no longer true") : tr("true"), base + "released", c.spark),
                 word(move.time ? text(displayPlain(*move.time)) : tr("?"), base + "time", c.time));
    if (move.action == routine::Action::Again) {
        const auto times = si(move.times);
        return tr("all that %1").arg(word(times == 0.0 ? tr("again and again") : tr("%1 times").arg(times), base + "times", c.time));
    }
    if (move.action == routine::Action::Clear)
        return tr("%1 counts from nothing").arg(word(inputName(model, move.input), base + "input", c.spark));
    const QString in_colour = colourWords(model, move, channel, base);
    if (move.action == routine::Action::Fade)
        return tr("%1 fades to %2 in %3")
                   .arg(name, word(move.level ? text(display(*move.level, 2)) : tr("?"), base + "level", c.spark),
                        word(move.time ? text(displayPlain(*move.time)) : tr("1 s"), base + "time", c.time)) +
               in_colour;
    if (move.action == routine::Action::Flicker)
        return tr("%1 flickers for %2").arg(name, word(move.time ? text(displayPlain(*move.time)) : tr("5 s"), base + "time", c.time));
    const auto* planned_channel = plan::findChannel(model.plan, move.channel);
    const bool along = planned_channel != nullptr && planned_channel->context->ask.travel_per_turn.has_value();
    if (move.action == routine::Action::Home || move.action == routine::Action::Go) return goSentence(model, move, name, base, along);
    if (move.action == routine::Action::Sweep) {
        const QString reach = along        ? (move.place ? text(displayPlain(*move.place)) : tr("its whole way"))
                              : move.angle ? text(display(*move.angle, 3))
                                           : tr("its whole way");
        const auto times = si(move.times);
        return tr("%1 swings through %2, %3 to and fro, %4")
            .arg(name, word(reach, base + (along ? "place" : "angle"), c.hinge),
                 word(move.time ? text(displayPlain(*move.time)) : tr("twice its time"), base + "time", c.time),
                 word(times == 0.0 ? tr("again and again") : tr("%1 times").arg(times), base + "times", c.time));
    }
    const QString at = move.level ? tr(" at %1").arg(word(text(display(*move.level, 2)), base + "level", c.spark)) : QString();
    // Which way it goes can be clicked wherever there are two; a loop knows one.
    const bool held = routine::isHeld(model.project.routine, move.channel);
    const bool two_ways = planned_channel != nullptr && planned_channel->both_ways && !held &&
                          (move.action == routine::Action::Run || move.action == routine::Action::On);
    const QString way = !two_ways && !move.backwards
                            ? QString()
                            : " " + word(move.backwards ? tr("backwards") : tr("forwards"), base + "backwards", c.hinge);
    if (move.action != routine::Action::Run) return tr("%1 %2").arg(name, tr(labelOf(move.action))) + way + at + in_colour;
    const auto* planned = plan::findChannel(model.plan, move.channel);
    const QString time = move.time                                  ? text(displayPlain(*move.time))
                         : planned != nullptr && planned->dose_time ? tr("its dose, %1").arg(text(display(*planned->dose_time)))
                                                                    : tr("its dose");
    QString sentence = tr("%1 runs%2 for %3").arg(name, way, word(time, base + "time", c.time)) + at + in_colour;
    if (channel != nullptr && si(channel->off_delay) > 0.0)
        sentence += tr(" and runs on %1 after")
                        .arg(word(text(displayPlain(channel->off_delay)), "channels/" + move.channel + "/off_delay", c.time));
    return sentence;
}

// The five states that each output must have decided, a row each.
QString statesHtml(const Model& model) {
    const auto& c = colours();
    const QString cell = QString("<td style=\"padding: 1px %3px 1px 0; color:%1;\">%2</td>");
    const int gap = px(10);
    QString html = QString("<table style=\"margin-top: %1px; font-size: %2px;\"><tr>").arg(px(6)).arg(px(12));
    for (const auto& head : {QString(), tr("power-up, reset"), tr("stop, fault"), tr("link lost"), tr("no power"), tr("power back")})
        html += cell.arg(c.soft.name(), head).arg(gap);
    html += "</tr>";
    for (const auto& row : plan::fiveStates(model.project, model.plan)) {
        html += "<tr>" + cell.arg(c.ink.name(), text(row.name).toHtmlEscaped()).arg(gap);
        html += cell.arg(c.ink.name(), word(text(row.power_up), "channels/" + row.channel + "/safe", c.spark)).arg(gap);
        html += cell.arg(c.ink.name(), text(row.on_stop)).arg(gap);
        html += cell.arg(c.ink.name(), word(text(row.link_lost), "routine/link_silence", c.time)).arg(gap);
        html += cell.arg(c.ink.name(), text(row.without_power)).arg(gap);
        html += cell.arg(c.ink.name(), row.may_remember ? word(text(row.power_back), "channels/" + row.channel + "/remembers", c.spark)
                                                        : text(row.power_back))
                    .arg(gap) +
                "</tr>";
    }
    return html + "</table>";
}

QString cueSentence(const Model& model, const routine::Cue& cue) {
    const auto& c = colours();
    const std::string base = "routine/cues/" + cue.id + "/";
    QString line = startSentence(model, cue);
    for (const auto& guard : cue.guards)
        line += tr(", %1 %2 (%3)")
                    .arg(word(guard.only ? tr("only while") : tr("unless"), base + "guards/" + guard.id + "/only", c.spark),
                         inputName(model, guard.input).toHtmlEscaped(),
                         word(guard.throughout ? tr("also while it runs") : tr("at the start only"),
                              base + "guards/" + guard.id + "/throughout", c.spark));
    QString moves;
    for (std::size_t m = 0; m < cue.moves.size(); ++m) {
        const auto& move = cue.moves[m];
        if (m > 0) {
            const auto together = base + "moves/" + move.id + "/together";
            moves += move.together ? tr(", %1 ").arg(word(tr("and at the same time"), together, c.spark))
                                   : tr(", %1 ").arg(word(tr("then"), together, c.spark));
        }
        moves += moveSentence(model, cue, move);
    }
    return line + ": " + (moves.isEmpty() ? tr("nothing happens yet") : moves) + ". " + menu(tr("[change]"), "cue/" + cue.id);
}
QString followerSentence(const Model& model, const routine::Follower& follower) {
    const auto& c = colours();
    const auto* channel = project::findChannel(model.project, follower.channel);
    const std::string base = "routine/followers/" + follower.id + "/";
    const QString name = (channel != nullptr ? text(channel->name) : text(follower.channel)).toHtmlEscaped(),
                  input = word(inputName(model, follower.input), base + "input", c.spark);
    QString line = follower.proportional
                       ? tr("%1 follows %2: off below %3, from there on from %4 up to full.")
                             .arg(name, input, word(text(display(follower.dead, 2)), base + "dead", c.spark),
                                  word(text(display(follower.start, 2)), base + "start", c.spark))
                       : tr("%1 is on while %2 is %3")
                             .arg(name, input, word(follower.released ? tr("not true") : tr("true"), base + "released", c.spark));
    line.chop(follower.proportional ? 1 : 0);
    line +=
        tr(", unless %1").arg(word(follower.unless.empty() ? tr("nothing") : inputName(model, follower.unless), base + "unless", c.spark));
    if (follower.proportional || channel == nullptr) line += ".";
    else
        line += si(channel->off_delay) == 0.0
                    ? QString(".")
                    : tr(", and %1 after.")
                          .arg(word(text(displayPlain(channel->off_delay)), "channels/" + follower.channel + "/off_delay", c.time));
    return line + " " + menu(tr("[take out]"), "drop/" + follower.id);
}
QString neverSentence(const Model& model, const routine::Interlock& interlock) {
    const auto& c = colours();
    const auto* channel = project::findChannel(model.project, interlock.channel);
    const std::string base = "routine/interlocks/" + interlock.id + "/";
    QStringList with;
    if (!interlock.input.empty()) with << inputName(model, interlock.input).toHtmlEscaped();
    for (const auto& term : interlock.terms) {
        const auto* other = project::findChannel(model.project, term.channel);
        const bool placed = term.state == routine::TermState::Beyond || term.state == routine::TermState::Short;
        const auto* planned = plan::findChannel(model.plan, term.channel);
        const bool along = planned != nullptr && planned->context->ask.travel_per_turn.has_value();
        QString state = word(tr(labelOf(term.state)), base + "terms/" + term.id + "/state", c.spark);
        if (placed)
            state += " " + word(along        ? (term.place ? text(displayPlain(*term.place)) : tr("its end"))
                                : term.angle ? text(display(*term.angle, 3))
                                             : tr("its end"),
                                base + "terms/" + term.id + (along ? "/place" : "/angle"), c.hinge);
        with << tr("%1 %2").arg((other != nullptr ? text(other->name) : text(term.channel)).toHtmlEscaped(), state);
    }
    return tr("Never: %1 on with %2.")
               .arg((channel != nullptr ? text(channel->name) : text(interlock.channel)).toHtmlEscaped(), with.join(tr(" and "))) +
           " " + menu(tr("[change]"), "never/" + interlock.id) + " " + menu(tr("[take out]"), "drop/" + interlock.id);
}
QString loopSentence(const Model& model, const routine::Loop& loop) {
    const auto& c = colours();
    const auto* channel = project::findChannel(model.project, loop.channel);
    const std::string base = "routine/loops/" + loop.id + "/";
    const auto* planned = plan::findChannel(model.plan, loop.channel);
    const bool turns = planned != nullptr && planned->both_ways && !plan::isPlaced(*planned);
    const QString ways =
        turns ? tr(" It drives it %1.").arg(word(loop.both ? tr("both ways") : tr("one way"), base + "both", c.spark)) : QString();
    return tr("While %1 is on, it holds %2 at %3, with %4 a count, %5 summed and %6 of the change, every %7.")
               .arg((channel != nullptr ? text(channel->name) : text(loop.channel)).toHtmlEscaped(),
                    word(inputName(model, loop.input), base + "input", c.spark),
                    word(QString::number(si(loop.wanted)), base + "wanted", c.spark),
                    word(QString::number(si(loop.proportional)), base + "proportional", c.spark),
                    word(QString::number(si(loop.integral)), base + "integral", c.spark),
                    word(QString::number(si(loop.derivative)), base + "derivative", c.spark),
                    word(text(displayPlain(loop.period)), base + "period", c.time)) +
           ways + " " + menu(tr("[take out]"), "drop/" + loop.id);
}
QString inputSentence(const Model& model, const project::Input& input) {
    const auto& c = colours();
    const std::string base = "inputs/" + input.id + "/";
    const QString name = text(input.name).toHtmlEscaped();
    using K = project::InputKind;
    if (input.kind == K::Word)
        return tr("%1 is the word %2, said over the link.").arg(name, word(text(input.word), base + "word", c.spark));
    if (input.kind == K::Number)
        return tr("%1 comes over the link, 0 to 1023, and counts for %2.")
            .arg(name, word(text(displayPlain(input.timeout)), base + "timeout", c.time));
    if (input.kind == K::Counter) {
        QString counted = text(input.counts);
        for (const auto& cue : model.project.routine.cues)
            if (cue.id == input.counts) counted = text(cue.name);
        return tr("%1 is true once '%2' has ended %3 times.")
            .arg(name, word(counted, base + "counts", c.spark), word(QString::number(si(input.limit)), base + "limit", c.time));
    }
    const bool in_a_loop = std::any_of(model.project.routine.loops.begin(), model.project.routine.loops.end(),
                                       [&](const routine::Loop& loop) { return loop.input == input.id; });
    if (input.kind == K::Tach && !input.belongs_to.empty() && !in_a_loop) {
        const auto* whose = project::findChannel(model.project, input.belongs_to);
        const bool slow = !project::activeHigh(input);
        return tr("%1 is true while %2 is on and its tach gives %3, believed once it has been on for %4.")
            .arg(name, word(whose != nullptr ? text(whose->name) : text(input.belongs_to), base + "belongs_to", c.spark),
                 word((slow ? tr("%1 pulses a second or fewer") : tr("%1 pulses a second or more"))
                          .arg(routine::readingOf(slow ? input.lower : input.upper)),
                      base + (slow ? "lower" : "upper"), c.spark),
                 word(text(displayPlain(input.run_up)), base + "run_up", c.time));
    }
    if (project::canBelong(input) && !input.belongs_to.empty() && !in_a_loop) {
        const auto* whose = project::findChannel(model.project, input.belongs_to);
        const bool low = !project::activeHigh(input);
        const auto amps = plan::shownLimit(model.project, model.parts, input);
        const QString limit =
            amps ? text(display(*amps, 3)) : tr("%1 of the board's volts").arg(text(display(low ? input.lower : input.upper)));
        return tr("%1 is true while %2 is on and draws %3, believed once it has been on for %4.")
            .arg(name, word(whose != nullptr ? text(whose->name) : text(input.belongs_to), base + "belongs_to", c.spark),
                 word((low ? tr("%1 or less") : tr("%1 or more")).arg(limit), base + (low ? "lower" : "upper"), c.spark),
                 word(text(displayPlain(input.run_up)), base + "run_up", c.time));
    }
    if (input.kind == K::Days)
        return tr("%1 is true on %2, from %3 to %4.")
            .arg(name, word(input.weekdays.empty() ? tr("all days") : text(input.weekdays), base + "weekdays", c.time),
                 word(input.from_date.empty() ? tr("the first of January") : text(input.from_date), base + "from_date", c.time),
                 word(input.to_date.empty() ? tr("the last of December") : text(input.to_date), base + "to_date", c.time));
    if (input.kind == K::Knob && !input.sets.empty())
        return tr("%1 sets %2, from nothing to twice its plan.").arg(name, word(text(input.sets), base + "sets", c.spark));
    return {};
}

}  // namespace

QString routineHtml(const Model& model) {
    QString html;
    const auto paragraph = [&](const QString& words_of) {
        if (words_of.isEmpty()) return;
        html += QString("<p style=\"line-height: 140%; margin: 0 0 %1px 0;\">%2</p>").arg(px(4)).arg(words_of);
    };
    for (const auto& cue : model.project.routine.cues) paragraph(cueSentence(model, cue));
    for (const auto& follower : model.project.routine.followers) paragraph(followerSentence(model, follower));
    for (const auto& interlock : model.project.routine.interlocks) paragraph(neverSentence(model, interlock));
    for (const auto& loop : model.project.routine.loops) paragraph(loopSentence(model, loop));
    for (const auto& input : model.project.inputs) paragraph(inputSentence(model, input));
    paragraph(tr("Add:") + " " +
              QStringList{menu(tr("[a cue]"), "new/cue"), menu(tr("[something that follows]"), "new/follower"),
                          menu(tr("[what must never be]"), "new/never"), menu(tr("[what holds a reading]"), "new/loop"),
                          menu(tr("[an input]"), "new/input"), menu(tr("[a ready pattern]"), "new/pattern")}
                  .join(" "));
    if (model.project.routine.cues.empty()) paragraph(tr("There is no cue yet. Add a channel, and it gets one."));
    else html += statesHtml(model);
    return html;
}

}  // namespace hinge::app
