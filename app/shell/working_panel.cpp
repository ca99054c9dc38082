#include "shell/working_panel.hpp"
#include <QFrame>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
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

WorkingPanel::WorkingPanel(QWidget* parent) : QWidget(parent) {
    setObjectName("working");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* body = new QWidget;
    layout_ = new QVBoxLayout(body);
    outer->addWidget(scrolled(body));
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
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(8));
    for (const auto& group : groups) {
        layout_->addWidget(label(group.heading, Text::Small, c.soft));
        for (const auto& block : group.blocks) {
            auto* frame = barred(colourOf(block.tone));
            auto* inner = static_cast<QVBoxLayout*>(frame->layout());
            inner->addWidget(
                label(block.meaning, block.lines.isEmpty() ? Text::Body : Text::Small, block.lines.isEmpty() ? c.ink : c.soft));
            for (const auto& words_of : block.lines) {
                auto* line = label(words_of, Text::Body, c.ink);
                line->setTextInteractionFlags(Qt::TextSelectableByMouse);
                inner->addWidget(line);
            }
            if (!block.source.isEmpty()) inner->addWidget(label(block.source, Text::Small, c.soft));
            layout_->addWidget(frame);
        }
    }
    if (groups.empty()) layout_->addWidget(label(tr("No sums behind this stage."), Text::Small, c.soft));
    layout_->addStretch();
}

}  // namespace hinge::app
