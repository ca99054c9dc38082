#pragma once
// A loop's responses turned into curves and words; no widget here.
#include <QPointF>
#include <QString>
#include <vector>
#include "journal/trial.hpp"
#include "plan/machines.hpp"

namespace hinge::app {

struct ResponseCurve {
    enum class Role { Now, Earlier, Model };
    QString name, note;  ///< "trial 3", "rang four times"
    Role role = Role::Now;
    std::vector<QPointF> reading;  ///< s after the step, value in `unit`
    std::vector<QPointF> drive;    ///< s after the step, share of the most
};
struct ResponseFact {
    QString meaning, figure, small;
    enum class Family { Hinge, Time } family = Family::Hinge;
};
struct ResponseView {
    std::vector<ResponseCurve> curves;  ///< earlier ones first
    QString unit;                       ///< of the readings' axis
    QString driveTitle;
    double from = -0.2, to = 4.0;       ///< s after the step
    double before = 0.0, wanted = 1.0;  ///< in `unit`
    double band = 0.0;                  ///< in `unit`, both ways
    std::optional<double> settled;      ///< s
    std::optional<QPointF> peak;        ///< where it is farthest beyond, s and value
    QString peakWords;
    bool rolls = false;
    QString sentence;  ///< "The turntable settles in 0.82 s and overshoots by 5 %."
    QString matter, advice;
    std::vector<ResponseFact> facts;
};

/// One trial as a list shows it.
struct TrialLine {
    QString id, name, note;
    bool best = false;
};

/// @param pid     the gains of the model's own curve
/// @param trials  of this loop, in the order of their numbers
/// @param now     id of the one that is told about; empty: the model is
ResponseView responseView(const QString& name, const plan::LoopCase& loop, const control::PidFigures& pid,
                          const std::vector<journal::Trial>& trials, const QString& now);
/// The trials of a loop, newest first, with what each came to.
std::vector<TrialLine> trialLines(const plan::LoopCase& loop, const std::vector<journal::Trial>& trials);
/// The best: settled soonest of those that meet the target, then the nearest to it; -1 for none.
int bestTrial(const plan::LoopCase& loop, const std::vector<journal::Trial>& trials);
/// Its rows as the controller's readers take them.
std::vector<control::LoopRow> rowsOf(const journal::Trial& trial);

}  // namespace hinge::app
