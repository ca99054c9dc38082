#include "stages/match/match_page.hpp"
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <cmath>
#include "plan/difference.hpp"
#include "shell/labels.hpp"
#include "theme/marks.hpp"

namespace hinge::app {

std::vector<TableRow> swapRows(const Model& model, const project::Project& tried) {
    std::vector<TableRow> rows;
    for (const auto& change : plan::difference(model.project, tried, model.parts))
        rows.push_back({text(change.what),
                        {change.before.empty() ? QStringLiteral("–") : text(change.before),
                         change.after.empty() ? QStringLiteral("–") : text(change.after)},
                        {Verdict::Holds, change.verdict_after}});
    return rows;
}

std::vector<TableRow> comparisonRows(const Model& model, const QString& channel,
                                     const std::vector<std::pair<std::string, std::string>>& others) {
    const auto* planned = plan::findChannel(model.plan, channel.toStdString());
    const auto* decided = project::findChannel(model.project, channel.toStdString());
    if (planned == nullptr || decided == nullptr) return {};
    std::vector<std::pair<std::string, std::string>> pairs;
    if (!decided->actuator.empty()) pairs.emplace_back(decided->actuator, decided->drive.part);
    for (const auto& other : others)
        if (other.first != decided->actuator || other.second != decided->drive.part) pairs.push_back(other);
    std::vector<TableRow> rows{{QObject::tr("compared"), {}, {}},
                               {QObject::tr("verdict"), {}, {}},
                               {QObject::tr("asked of what it has"), {}, {}},
                               {QObject::tr("move or dose takes"), {}, {}},
                               {QObject::tr("current running"), {}, {}},
                               {QObject::tr("current starting"), {}, {}},
                               {QObject::tr("heat in the driver"), {}, {}},
                               {QObject::tr("noise"), {}, {}},
                               {QObject::tr("mass"), {}, {}},
                               {QObject::tr("price, with driver"), {}, {}}};
    const auto& rail = planned->context->rails.front();
    for (const auto& [part_id, driver_id] : pairs) {
        const auto* part = match::partOf(planned->context, model.parts, part_id);
        const auto* driver = project::findDriver(model.parts, driver_id);
        if (part == nullptr || driver == nullptr) continue;
        const auto p = match::explain(planned->context, *part, *driver, rail, false);
        const auto& n = p.numbers;
        const auto put = [&](std::size_t row, const QString& words, Verdict verdict = Verdict::Holds) {
            rows[row].cells << words, rows[row].verdicts.push_back(verdict);
        };
        const auto figure = [](Kind kind, double value) {
            return std::isfinite(value) ? text(display(kind, value)) : QObject::tr("not known");
        };
        put(0, text(p.actuator_name) + "\n" + text(p.driver_name));
        put(1, verdictWord(p.verdict), p.verdict);
        put(2, std::isfinite(n.share) ? text(display(Kind::Fraction, n.share, 2)) : QObject::tr("not known"),
            verdictOfShare(std::isfinite(n.share) ? std::optional(n.share) : std::nullopt));
        put(3, figure(Kind::Duration, std::isfinite(n.run_time) ? n.run_time : n.move_time));
        put(4, figure(Kind::Current, n.running));
        put(5, figure(Kind::Current, n.starting));
        put(6, figure(Kind::Power, n.heat));
        put(7, std::isfinite(n.noise) ? text(significant(n.noise, 2)) + " dB(A)" : QObject::tr("not known"));
        put(8, figure(Kind::Mass, n.mass));
        put(9, std::isfinite(n.price) ? text(model.project.brief.currency) + " " + QString::number(n.price, 'f', 2)
                                      : QObject::tr("not known"));
    }
    return rows;
}

std::vector<TableRow> protectionRows(const Model& model, const QString& channel) {
    std::vector<TableRow> rows;
    if (const auto* planned = plan::findChannel(model.plan, channel.toStdString()))
        for (const auto& extra : planned->protection) rows.push_back({text(extra.what), {text(extra.value), text(extra.where)}, {}});
    return rows;
}

MatchPage::MatchPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("matchPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    pictures_ = new QStackedWidget;
    pump_ = new HeadFlowPicture(document_, true);
    ability_ = new AbilityPicture(document_);
    pictures_->addWidget(pump_);
    pictures_->addWidget(ability_);
    lower_ = new QFrame;
    lower_->setObjectName("matchLower");
    auto* inner = new QVBoxLayout(lower_);
    inner->setSpacing(px(4));
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName("matchLowerTitle");
    title_->setWordWrap(true);
    keep_ = new QPushButton(tr("Keep it"));
    keep_->setObjectName("keepSwap");
    keep_->setProperty("main", true);
    drop_ = new QPushButton(tr("Drop it"));
    drop_->setObjectName("dropSwap");
    connect(keep_, &QPushButton::clicked, this, &MatchPage::keep);
    connect(drop_, &QPushButton::clicked, this, &MatchPage::drop);
    head->addWidget(title_, 1);
    head->addWidget(keep_);
    head->addWidget(drop_);
    inner->addLayout(head);
    auto* body = new QWidget;
    body->setObjectName("matchRows");
    rows_ = new QVBoxLayout(body);
    rows_->setContentsMargins(0, 0, 0, 0);
    inner->addWidget(scrolled(body), 1);
    column->addWidget(pictures_, 1);
    column->addWidget(lower_, 0);
}

void MatchPage::applyTheme() {
    lower_->setStyleSheet(QString("QFrame#matchLower { border: 0; border-top: 1px solid %1; } QWidget#matchRows { background-color: %2; }")
                              .arg(colours().line.name(), colours().card.name()));
    title_->setFont(textFont(Text::Figure));
}

void MatchPage::present(const QString& channel) {
    if (channel != channel_) {
        others_.clear();
        trial_.reset();
    }
    channel_ = channel;
    // A change made elsewhere ends a trial: what it compared with is gone.
    if (trial_ && !(trial_->before == document_->model().project)) trial_.reset();
    const auto* decided = project::findChannel(document_->model().project, channel.toStdString());
    const bool pump = decided != nullptr && std::holds_alternative<project::PumpDemand>(decided->demand);
    pictures_->setCurrentWidget(pump ? static_cast<QWidget*>(pump_) : ability_);
    auto drawn = others_;
    if (trial_) drawn.emplace_back(trial_->edits[0].value, trial_->edits[1].value);
    ability_->compare(std::move(drawn));
    (pump ? static_cast<Picture*>(pump_) : ability_)->present(channel);
    applyTheme();
    below();
}

void MatchPage::tryPair(const QString& actuator, const QString& driver, const QString& rail) {
    const auto& model = document_->model();
    const auto* decided = project::findChannel(model.project, channel_.toStdString());
    if (decided == nullptr) return;
    const std::string base = "channels/" + channel_.toStdString() + "/";
    std::vector<project::FactEdit> edits{{base + "actuator", actuator.toStdString()}, {base + "drive/part", driver.toStdString()}};
    if (!rail.isEmpty() && rail.toStdString() != decided->rail) edits.push_back({base + "rail", rail.toStdString()});
    // A part measured by cup and clock is that part; another one starts without.
    if (decided->calibration.cup_time && decided->actuator != actuator.toStdString())
        edits.push_back({base + "calibration/cup_volume", ""}), edits.push_back({base + "calibration/cup_time", ""});
    if (decided->actuator.empty() || decided->drive.part.empty()) {
        document_->apply(edits);  // nothing is swapped out: there is nothing to weigh
        return;
    }
    if (decided->actuator == actuator.toStdString() && decided->drive.part == driver.toStdString()) {
        drop();
        return;
    }
    const auto* part = match::partOf(plan::findChannel(model.plan, channel_.toStdString())->context, model.parts, actuator.toStdString());
    const auto* with = project::findDriver(model.parts, driver.toStdString());
    trial_ = Trial{
        std::move(edits), model.project,
        tr("%1, by %2").arg(part != nullptr ? text(actuator::head(*part).name) : actuator, with != nullptr ? text(with->name) : driver)};
    present(channel_);
}

void MatchPage::compare(std::vector<std::pair<std::string, std::string>> others) {
    others_ = std::move(others);
    present(channel_);
}

void MatchPage::keep() {
    if (!trial_) return;
    const auto edits = trial_->edits;
    trial_.reset();
    document_->apply(edits);
}

void MatchPage::drop() {
    trial_.reset();
    present(channel_);
}

// The table under the picture: a swap on trial, else the comparison, else what goes with the choice.
void MatchPage::below() {
    clear(rows_);
    const auto& c = colours();
    const auto& model = document_->model();
    std::vector<TableRow> rows;
    keep_->setVisible(trial_.has_value());
    drop_->setVisible(trial_.has_value());
    if (trial_) {
        const auto tried = project::with(model.project, trial_->edits);
        if (tried) rows = swapRows(model, *tried);
        title_->setText(tr("On trial: %1. This is all that changes, here and downstream.").arg(trial_->name));
    } else if (!others_.empty()) {
        rows = comparisonRows(model, channel_, others_);
        title_->setText(tr("Side by side"));
    } else {
        rows = protectionRows(model, channel_);
        title_->setText(tr("Goes with the choice"));
    }
    lower_->setVisible(!rows.empty());
    lower_->setFixedHeight(std::min(height() * 45 / 100, px(46) + static_cast<int>(rows.size()) * px(trial_ || others_.empty() ? 21 : 23)));
    auto* holder = new QWidget;
    auto* grid = new QGridLayout(holder);
    grid->setContentsMargins(px(4), 0, px(8), px(4));
    grid->setHorizontalSpacing(px(14));
    grid->setVerticalSpacing(px(2));
    int line = 0;
    for (const auto& row : rows) {
        auto* name = label(row.name, Text::Small, c.soft);
        name->setWordWrap(false);
        grid->addWidget(name, line, 0, Qt::AlignTop);
        for (qsizetype i = 0; i < row.cells.size(); ++i) {
            const auto at = static_cast<std::size_t>(i);
            const Verdict verdict = at < row.verdicts.size() ? row.verdicts[at] : Verdict::Holds;
            auto* cell = label(row.cells[i], Text::Small,
                               verdict == Verdict::Breaks  ? c.breaks
                               : verdict == Verdict::Tight ? c.tight
                                                           : c.ink);
            grid->addWidget(cell, line, static_cast<int>(i) + 1, Qt::AlignTop);
            grid->setColumnStretch(static_cast<int>(i) + 1, 1);
        }
        ++line;
    }
    grid->setRowStretch(line, 1);
    rows_->addWidget(holder);
}

}  // namespace hinge::app
