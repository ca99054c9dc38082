#include "stages/prove/prove_page.hpp"
#include "quantity/text.hpp"
#include "theme/theme.hpp"
#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hinge::app {

ProvePage::ProvePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("prove");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* body = new QWidget;
    layout_ = new QVBoxLayout(body);
    scroll->setWidget(body);
    outer->addWidget(scroll);
}

void ProvePage::take(const std::string& id, const QString& reading, const QString& skipped) {
    problem_.clear();
    for (const auto& step : document_->model().steps) {
        if (step.id != id) continue;
        if (!reading.isEmpty())
            if (const auto verdict = proof::judge(step, reading.toStdString()); !verdict) {
                problem_ = words(verdict.error());
                problemAt_ = text(id);
                shown_.clear();
                present({});
                return;
            }
        document_->replace(proof::record(document_->model().project, step, reading.toStdString(), skipped.toStdString(), QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString()));
        return;
    }
}

void ProvePage::present(const QString& channel) {
    const auto& c = colours();
    const auto& steps = document_->model().steps;
    QString key = channel + problem_ + (isDark() ? "d" : "l") + QString::number(scale());
    for (const auto& step : steps) key += text(step.id + step.reading + step.skipped) + (step.least ? QString::number(*step.least) : "");
    if (key == shown_) return;
    shown_ = key;
    while (auto* item = layout_->takeAt(0)) {
        if (item->widget() != nullptr) item->widget()->deleteLater();
        delete item;
    }
    layout_->setContentsMargins(px(8), px(4), px(14), px(12));
    layout_->setSpacing(px(6));
    int n = 0;
    bool next_found = false;
    for (const auto& step : steps) {
        ++n;
        const bool done = step.verdict == Verdict::Holds || !step.skipped.empty();
        const bool next = !done && !next_found && step.verdict != Verdict::Breaks;
        next_found = next_found || next || step.verdict == Verdict::Breaks;
        auto* frame = new QWidget;
        frame->setObjectName("step_" + text(step.id));
        const QColor bar = step.verdict == Verdict::Breaks ? c.breaks : done ? c.hinge : next ? c.ink : c.line;
        frame->setStyleSheet(QString("QWidget#%1 { border-left: %2px solid %3; background: %4; }").arg(frame->objectName().replace(".", "\\."), QString::number(px(4)), bar.name(), c.card.name()));
        auto* row = new QHBoxLayout(frame);
        row->setContentsMargins(px(12), px(6), px(6), px(6));
        auto* left = new QVBoxLayout;
        left->setSpacing(px(1));
        const auto add = [&](const QString& words_text, Text size, const QColor& colour) {
            auto* label = new QLabel(words_text);
            label->setFont(textFont(size));
            label->setWordWrap(true);
            label->setStyleSheet(QString("color: %1; background: %2").arg(colour.name(), c.card.name()));
            left->addWidget(label);
        };
        add(QString("%1 · %2").arg(n).arg(text(step.title)), next ? Text::Sentence : Text::Figure, c.ink);
        if (!done) add(text(step.what), Text::Body, c.ink);
        if (!done) add(tr("Have ready: %1. With: %2.").arg(text(step.ready), text(step.instrument)), Text::Small, c.soft);
        if (!done && !step.caution.empty()) add(text(step.caution), Text::Small, c.breaks);
        row->addLayout(left, 1);
        auto* right = new QVBoxLayout;
        right->setSpacing(px(2));
        auto* expected = new QLabel(step.least && step.most ? tr("%1 to %2").arg(text(display(step.kind, *step.least)), text(display(step.kind, *step.most))) : tr("the plan does not know yet"));
        expected->setFont(textFont(Text::Figure));
        expected->setAlignment(Qt::AlignRight);
        expected->setStyleSheet(QString("color: %1; background: %2").arg(c.spark.name(), c.card.name()));
        expected->setToolTip(text(step.reason));
        right->addWidget(expected);
        auto* field = new QLineEdit(text(step.skipped.empty() ? step.reading : "skip: " + step.skipped));
        field->setObjectName("reading_" + text(step.id));
        field->setPlaceholderText(tr("what you read"));
        field->setAlignment(Qt::AlignRight);
        field->setFixedWidth(px(170));
        field->setToolTip(tr("The reading with its unit, or 'skip:' and the reason."));
        connect(field, &QLineEdit::editingFinished, this, [this, id = step.id, field] {
            if (!field->isModified()) return;
            field->setModified(false);
            const QString typed = field->text().trimmed();
            if (typed.startsWith("skip:")) {
                if (typed.mid(5).trimmed().isEmpty()) {
                    problem_ = tr("A step is skipped only with a reason: 'skip: no scale at hand'.");
                    problemAt_ = text(id);
                    shown_.clear();
                    present({});
                } else {
                    take(id, {}, typed.mid(5).trimmed());
                }
            } else {
                take(id, typed, {});
            }
        });
        right->addWidget(field);
        auto* verdict = new QLabel(text(step.id) == problemAt_ && !problem_.isEmpty() ? problem_ : !step.skipped.empty() ? tr("skipped") : step.reading.empty() ? QString() : verdictWord(step.verdict));
        verdict->setObjectName("verdict_" + text(step.id));
        verdict->setFont(textFont(Text::Small));
        verdict->setWordWrap(true);
        verdict->setAlignment(Qt::AlignRight);
        verdict->setStyleSheet(QString("color: %1; background: %2").arg((step.verdict == Verdict::Breaks || !problem_.isEmpty() ? c.breaks : c.soft).name(), c.card.name()));
        right->addWidget(verdict);
        row->addLayout(right);
        layout_->addWidget(frame);
    }
    if (steps.empty()) layout_->addWidget(new QLabel(tr("The steps follow from the channels; there are none yet.")));
    layout_->addStretch();
}

}  // namespace hinge::app
