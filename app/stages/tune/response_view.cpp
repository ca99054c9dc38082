#include "stages/tune/response_view.hpp"
#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include "control/margins.hpp"
#include "control/tuning_rules.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

QString seconds(double s) {
    return text(display(Kind::Duration, s, 2));
}
QString percent(double share) {
    return QString::number(share * 100.0, 'f', share < 0.095 && share > 0.0 ? 1 : 0) + " %";
}

// Two digits; what is a thousandth or less of the step is nothing.
QString tidy(double value, double step = 1.0) {
    return std::abs(value) < 1e-3 * std::abs(step) ? QString("0") : text(significant(value, 2));
}

// The reading's axis, in the unit a person reads.
struct Axis {
    plan::ReadingScale scale;
    DisplayUnit unit;
    explicit Axis(const plan::LoopCase& loop) : scale{loop.scale} {
        const double largest = scale.valueOf(std::max(std::abs(loop.setup.wanted), std::abs(loop.setup.before)));
        if (scale.kind == Kind::RotationSpeed) unit = {"rpm", 2.0 * constants::pi / 60.0, 0.0};
        else if (scale.kind == Kind::Temperature) unit = {"°C", 1.0, 273.15};
        else if (scale.kind == Kind::Count) unit = {"counts", 1.0, 0.0};
        else if (scale.kind == Kind::Angle) unit = {"°", constants::pi / 180.0, 0.0};
        else unit = displayUnit(scale.kind, largest);
    }
    [[nodiscard]] double operator()(double reading) const { return (scale.valueOf(reading) - unit.offset) / unit.factor; }
    [[nodiscard]] QString say(double reading) const { return text(significant((*this)(reading), 3)) + " " + text(unit.name); }
};

ResponseCurve curveOf(const std::vector<control::LoopRow>& rows, const Axis& axis, double step, double most) {
    ResponseCurve curve;
    for (const auto& row : rows) {
        curve.reading.emplace_back(row.time - step, axis(row.reading));
        curve.drive.emplace_back(row.time - step, row.drive / most);
    }
    return curve;
}

double stepOf(const std::vector<control::LoopRow>& rows) {
    for (std::size_t i = 1; i < rows.size(); ++i)
        if (rows[i].wanted != rows[i - 1].wanted) return rows[i].time;
    return rows.empty() ? 0.0 : rows.front().time;
}

QString noteOf(const plan::LoopCase& loop, const std::vector<control::LoopRow>& rows) {
    if (loop.setup.rolls) {
        const auto standing = control::readStanding(rows);
        return !standing.stands ? tr("fell") : tr("leaned by %1 counts at most").arg(standing.furthest, 0, 'f', 0);
    }
    const auto r = control::readResponse(rows, loop.target, loop.setup.pid.least, loop.setup.pid.most);
    if (!r) return tr("no step in it");
    if (r->runs_away) return tr("ran away");
    if (!r->moved) return tr("hardly moved");
    if (r->rings >= 3) return tr("rang %1 times").arg(r->rings);
    if (!r->settled)
        return std::abs(r->lean) > loop.target.band
                   ? tr("stays %1 %2").arg(percent(std::abs(r->lean)), r->lean < 0.0 ? tr("short") : tr("too far"))
                   : tr("never settles");
    return tr("settles %1, over %2").arg(seconds(*r->settled), percent(r->overshoot));
}

QString gainsMay(const control::Margins& margins) {
    const QString grow = margins.gain ? tr("all gains may grow %1 times").arg(text(significant(*margins.gain, 2))) : QString();
    if (!margins.least_gain) return grow;
    const QString shrink = tr("shrink to %1").arg(percent(*margins.least_gain));
    return grow.isEmpty() ? tr("all gains may %1").arg(shrink) : grow + tr(", or %1").arg(shrink);
}

}  // namespace

std::vector<control::LoopRow> rowsOf(const journal::Trial& trial) {
    std::vector<control::LoopRow> rows;
    rows.reserve(trial.rows.size());
    for (const auto& row : trial.rows) rows.push_back({row.time, row.wanted, row.reading, row.drive, row.value});
    return rows;
}

int bestTrial(const plan::LoopCase& loop, const std::vector<journal::Trial>& trials) {
    int best = -1;
    double least = 1e9;
    for (std::size_t i = 0; i < trials.size(); ++i) {
        const auto rows = rowsOf(trials[i]);
        double cost = 1e9;
        if (loop.setup.rolls) {
            if (const auto standing = control::readStanding(rows); standing.stands) cost = standing.wanders + standing.furthest / 10.0;
        } else if (const auto r = control::readResponse(rows, loop.target, loop.setup.pid.least, loop.setup.pid.most);
                   r && r->moved && !r->runs_away) {
            cost = (control::meets(*r, loop.target) ? 0.0 : 100.0) + (r->settled ? *r->settled / loop.target.settle_within : 20.0) +
                   r->overshoot / loop.target.band * 0.2 + r->hum;
        }
        if (cost < least) least = cost, best = static_cast<int>(i);
    }
    return best;
}

std::vector<TrialLine> trialLines(const plan::LoopCase& loop, const std::vector<journal::Trial>& trials) {
    std::vector<TrialLine> lines;
    const int best = bestTrial(loop, trials);
    for (int i = static_cast<int>(trials.size()) - 1; i >= 0; --i) {
        const auto& trial = trials[static_cast<std::size_t>(i)];
        QString name = text(trial.id).replace('-', ' ');
        lines.push_back({text(trial.id), name,
                         noteOf(loop, rowsOf(trial)) + (trial.comment.empty() ? QString() : ": " + text(trial.comment)), i == best});
    }
    return lines;
}

namespace {

// What of a run is told in words: whose it is, its rows, by what it was made.
struct ToldRun {
    const plan::LoopCase& loop;
    const control::PidFigures& pid;
    const Axis& axis;
    QString who;
    const std::vector<control::LoopRow>& rows;
};

void tellStanding(const ToldRun& run, const control::Standing& standing, ResponseView& view) {
    const auto& setup = run.loop.setup;
    view.sentence = standing.stands
                        ? tr("%1 stands, and leans by %2 at most.")
                              .arg(run.who, tidy(std::abs(run.axis(setup.wanted + standing.furthest) - run.axis(setup.wanted))) +
                                                (run.axis.unit.name == "°" ? "°" : " " + text(run.axis.unit.name)))
                        : tr("%1 falls.").arg(run.who);
    view.matter = standing.stands ? tr("It stands.") : tr("It falls.");
    view.advice = !standing.stands
                      ? (run.pid.gains.proportional == 0.0
                             ? tr("P first: the wheels have to run under it.")
                             : tr("More P and more I: the wheels have to catch up with the fall. If it shakes before it falls, less."))
                  : standing.hum > 0.1 * setup.pid.most ? tr("It trembles: less D, or less P.")
                                                        : tr("Shove it: it should come back within a second.");
    if (standing.stands)
        view.facts.push_back({tr("wanders, at rest"), tr("%1 counts").arg(standing.wanders, 0, 'f', 1),
                              tr("%1 in all, when shoved").arg(standing.furthest, 0, 'f', 0)});
}

QString settlingOf(const QString& who, const control::Response& r) {
    if (r.runs_away) return tr("%1 runs away.").arg(who);
    if (!r.moved) return tr("%1 hardly moves.").arg(who);
    if (!r.settled) return r.rings >= 3 ? tr("%1 rings and does not settle.").arg(who) : tr("%1 does not settle.").arg(who);
    if (r.overshoot > 0.004) return tr("%1 settles in %2 and overshoots by %3.").arg(who, seconds(*r.settled), percent(r.overshoot));
    return tr("%1 settles in %2 without overshoot.").arg(who, seconds(*r.settled));
}

void tellResponse(const ToldRun& run, const control::Response& r, ResponseView& view) {
    const auto& axis = run.axis;
    const auto words = control::sayResponse(r, run.pid.gains, run.loop.target);
    view.matter = text(words.matter);
    view.advice = text(words.advice);
    view.sentence = settlingOf(run.who, r);
    view.settled = r.settled;
    if (r.overshoot > 0.5 * run.loop.target.band && !r.runs_away) {
        view.peak = QPointF(r.peak_at, axis(r.start + (r.target - r.start) * (1.0 + r.overshoot)));
        view.peakWords = tr("over by %1").arg(percent(r.overshoot));
    }
    view.facts.push_back({tr("steady state"),
                          tr("e = %1").arg(tidy(-r.lean * (axis(r.target) - axis(r.start)), axis(r.target) - axis(r.start)) + " " +
                                           (axis.scale.kind == Kind::Temperature ? QString("K") : text(axis.unit.name))),
                          tr("power to hold it: %1").arg(percent(r.effort))});
    if (r.noise > 0.0)
        view.facts.push_back({tr("noise at the end"), percent(r.noise) + tr(" of the step, rms"),
                              tr("the drive changes by %1 a period").arg(percent(r.hum))});
}

// By the model as a straight line about where it is held.
void tellMargins(const plan::LoopCase& loop, const control::PidFigures& pid, ResponseView& view) {
    const auto straight = plan::straightenedFor(loop);
    if (!straight) return;
    const auto margins = control::margins(*straight, pid);
    if (margins.phase && margins.crossover)
        view.facts.push_back({tr("phase margin at this period"),
                              margins.stable ? tr("%1°, at %2 rad/s")
                                                   .arg(*margins.phase * 180.0 / constants::pi, 0, 'f', 0)
                                                   .arg(text(significant(*margins.crossover, 2)))
                                             : tr("none: it rings for ever"),
                              gainsMay(margins), ResponseFact::Family::Time});
    if (!margins.crossover) return;
    const auto longest = control::loopPeriod({std::nullopt, of<RotationSpeed>(*margins.crossover)});
    const auto limit = control::longestStablePeriod(*straight, pid);
    if (longest)
        view.facts.push_back(
            {tr("loop period: 0.15/ωc"),
             tr("%1; you run %2").arg(text(display(longest->result.longest_period, 2)), text(displayPlain(Kind::Duration, pid.period))),
             limit ? tr("rings for ever from %1").arg(text(display(Kind::Duration, *limit, 2))) : QString(), ResponseFact::Family::Time});
}

}  // namespace

ResponseView responseView(const QString& name, const plan::LoopCase& loop, const control::PidFigures& pid,
                          const std::vector<journal::Trial>& trials, const QString& now) {
    ResponseView view;
    const Axis axis(loop);
    auto setup = loop.setup;
    setup.pid = pid;
    const auto run = control::runLoop(setup);
    view.rolls = setup.rolls;
    view.unit = text(axis.unit.name);
    view.driveTitle = setup.rolls ? tr("rate of the wheels, of %1 steps a second").arg(setup.pid.most, 0, 'f', 0) : tr("power to it");
    view.before = axis(setup.before);
    view.wanted = axis(setup.wanted);
    view.band =
        std::abs(axis(setup.wanted + loop.target.band * (setup.rolls ? 200.0 : std::abs(setup.wanted - setup.before))) - view.wanted);
    view.from = setup.rolls ? 0.0 : -setup.step_at;
    view.to = setup.rolls ? setup.length : setup.length - setup.step_at;
    const auto curveOfTrial = [&](const journal::Trial& trial) {
        const auto rows = rowsOf(trial);
        auto curve = curveOf(rows, axis, setup.rolls ? 0.0 : stepOf(rows), setup.pid.most);
        curve.name = text(trial.id).replace('-', ' ');
        curve.note = noteOf(loop, rows);
        return curve;
    };
    const journal::Trial* told = nullptr;
    for (const auto& trial : trials) {
        if (text(trial.id) == now) {
            told = &trial;
            continue;
        }
        view.curves.push_back(curveOfTrial(trial));
        view.curves.back().role = ResponseCurve::Role::Earlier;
    }
    auto model = curveOf(run.rows, axis, setup.rolls ? 0.0 : setup.step_at, setup.pid.most);
    model.name = tr("model");
    model.role = told == nullptr ? ResponseCurve::Role::Now : ResponseCurve::Role::Model;
    if (told == nullptr) model.note = noteOf(loop, run.rows);
    view.curves.push_back(std::move(model));
    if (told != nullptr) view.curves.push_back(curveOfTrial(*told));
    const auto rows = told != nullptr ? rowsOf(*told) : run.rows;
    const ToldRun what{loop, pid, axis, told != nullptr ? name : tr("%1, by its model,").arg(name), rows};
    if (setup.rolls) tellStanding(what, told != nullptr ? control::readStanding(rows) : control::readStanding(run), view);
    else if (const auto r = control::readResponse(rows, loop.target, pid.least, pid.most)) tellResponse(what, *r, view);
    tellMargins(loop, pid, view);
    return view;
}

}  // namespace hinge::app
