#include "shell/working_panel.hpp"
#include <QFrame>
#include <QLabel>
#include <QScrollArea>
#include <QTimer>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>
#include "pictures/formula_picture.hpp"
#include "shell/labels.hpp"
#include "stages/working_view.hpp"

namespace hinge::app {
namespace {

QColor colourOf(Tone tone) {
    const auto& c = colours();
    switch (tone) {
        case Tone::Hinge: return c.hinge;
        case Tone::Spark: return c.spark;
        case Tone::Time: return c.time;
        case Tone::Breaks: return c.breaks;
        case Tone::Plain: return c.line;
    }
    return c.line;
}

}  // namespace

// A press on a symbol leads to the step that it comes from: the nearest one before.
void WorkingPanel::addFormula(const QString& line, QFrame* of, QVBoxLayout* into) {
    auto* formula = new FormulaLine(line, colours().ink);
    into->addWidget(formula);
    connect(formula, &FormulaLine::symbolPressed, this, [this, of, formula, before = steps_.size()](const QString& symbol) {
        for (std::size_t k = std::min(before, steps_.size()); k-- > 0;) {
            const auto& [made, frame] = steps_[k];
            if (made != symbol || frame == of) continue;
            scroll_->ensureWidgetVisible(frame, 0, px(20));
            flash(frame);
            return;
        }
        QToolTip::showText(QCursor::pos(), tr("%1 is put in here: its figure stands in the line below.").arg(symbol), formula);
    });
}

void WorkingPanel::flash(QFrame* frame) {
    const QString was = frame->styleSheet();
    frame->setStyleSheet(was + QString("QFrame { background: %1; }").arg(colours().timeTint.name()));
    QTimer::singleShot(1200, frame, [frame, was] { frame->setStyleSheet(was); });
}

WorkingPanel::WorkingPanel(QWidget* parent) : QWidget(parent) {
    setObjectName("working");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* body = new QWidget;
    layout_ = new QVBoxLayout(body);
    scroll_ = scrolled(body);
    outer->addWidget(scroll_);
}

void WorkingPanel::present(const Model& model, project::Stage stage, const QString& channel) {
    const auto& c = colours();
    const auto groups = workingOf(model, stage, channel);
    QString key = themeKey();
    for (const auto& group : groups) {
        key += group.heading;
        for (const auto& block : group.blocks) key += block.meaning + block.lines.join("|") + block.source;
    }
    if (key == shown_) return;
    shown_ = key;
    clear(layout_);
    steps_.clear();
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(8));
    for (const auto& group : groups) {
        layout_->addWidget(label(group.heading, Text::Small, c.soft));
        for (const auto& block : group.blocks) {
            auto* frame = barred(colourOf(block.tone));
            auto* inner = static_cast<QVBoxLayout*>(frame->layout());
            inner->addWidget(
                label(block.meaning, block.lines.isEmpty() ? Text::Body : Text::Small, block.lines.isEmpty() ? c.ink : c.soft));
            qsizetype at = 0;
            for (const auto& words_of : block.lines) {
                if (at++ < block.formulas) {
                    addFormula(words_of, frame, inner);
                    continue;
                }
                auto* line = label(words_of, Text::Body, c.ink);
                line->setTextInteractionFlags(Qt::TextSelectableByMouse);
                inner->addWidget(line);
            }
            if (!block.source.isEmpty()) inner->addWidget(label(block.source, Text::Small, c.soft));
            layout_->addWidget(frame);
            if (!block.symbol.isEmpty()) steps_.emplace_back(block.symbol, frame);
        }
    }
    if (groups.empty()) layout_->addWidget(label(tr("No sums behind this stage."), Text::Small, c.soft));
    layout_->addStretch();
}

}  // namespace hinge::app
