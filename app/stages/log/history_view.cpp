#include "stages/log/history_view.hpp"
#include <QCoreApplication>
#include <QStringList>
#include <algorithm>
#include "project/facts.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

// "gate_resistor" as a person reads it.
QString plain(QString word) {
    return word.replace('_', ' ');
}

ChangeLine lineOf(const store::Change& change, const project::Project& now) {
    QStringList way = text(change.path).split('/');
    ChangeLine line;
    line.before = text(change.before);
    line.after = text(change.after);
    const auto nameIn = [&](const QString& list, const QString& id) -> QString {
        if (list == "channels")
            if (const auto* channel = project::findChannel(now, id.toStdString())) return text(channel->name);
        if (list == "inputs")
            if (const auto* input = project::findInput(now, id.toStdString())) return text(input->name);
        if (list == "rails")
            if (const auto* rail = project::findRail(now, id.toStdString())) return text(rail->name);
        if (list == "cues")
            for (const auto& cue : now.routine.cues)
                if (text(cue.id) == id) return text(cue.name);
        return plain(id);
    };
    if (way.size() > 1 && way[0] == "routine") way.removeFirst();
    if (way.size() >= 2) {
        line.whose = nameIn(way[0], way[1]);
        way.removeFirst(), way.removeFirst();
    } else {
        line.whose = plain(way[0]);
        way.removeFirst();
    }
    for (auto& step : way) step = plain(step);
    line.fact = way.isEmpty() ? (change.before.empty()  ? tr("new")
                                 : change.after.empty() ? tr("taken out")
                                                        : tr("changed"))
                              : way.join(" · ");
    return line;
}

}  // namespace

std::vector<ChangeLine> changeLines(const std::vector<store::Change>& changes, const project::Project& now) {
    std::vector<ChangeLine> lines;
    for (const auto& change : changes) lines.push_back(lineOf(change, now));
    return lines;
}

std::vector<HistoryLine> historyLines(const store::History& history, const project::Project& now, std::size_t most) {
    std::vector<HistoryLine> lines;
    for (std::size_t k = history.size(); k-- > 0 && lines.size() < most;) {
        const auto& entry = history.entry(k);
        HistoryLine line{k, text(entry.date).replace('T', ' '), text(entry.words), static_cast<int>(entry.changes.size())};
        if (k == 0 && entry.changes.empty()) line.what = tr("as it was first opened");
        else if (!entry.changes.empty()) {
            const auto first = lineOf(entry.changes.front(), now);
            QString change = first.before.isEmpty()  ? QString("%1 · %2: %3").arg(first.whose, first.fact, first.after)
                             : first.after.isEmpty() ? QString("%1 · %2: %3").arg(first.whose, first.fact, first.before)
                                                     : QString("%1 · %2: %3 → %4").arg(first.whose, first.fact, first.before, first.after);
            if (entry.changes.size() > 1) change += tr(" and %1 more").arg(entry.changes.size() - 1);
            line.what = line.what.isEmpty() ? change : line.what + ": " + change;
        }
        lines.push_back(line);
    }
    return lines;
}

}  // namespace hinge::app
