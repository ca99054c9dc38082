#include "stages/need/brief_page.hpp"
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include "shell/labels.hpp"
#include "stages/need/brief_view.hpp"

namespace hinge::app {

BriefPage::BriefPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("brief");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* body = new QWidget;
    layout_ = new QVBoxLayout(body);
    body->setObjectName("briefBody");
    outer->addWidget(scrolled(body));
}

void BriefPage::present() {
    const auto& c = colours();
    const auto view = briefView(document_->model());
    const QString key = view.key + themeKey();
    if (key == shown_) return;
    shown_ = key;
    setStyleSheet(QString("QWidget#briefBody { background-color: %1; }").arg(c.card.name()));
    clear(layout_);
    layout_->setContentsMargins(px(14), px(10), px(18), px(14));
    layout_->setSpacing(px(7));
    const auto block = [&](const BriefLine& line, const QColor& bar, bool opens) {
        auto* frame = barred(bar);
        auto* inner = static_cast<QVBoxLayout*>(frame->layout());
        if (opens) {
            auto* button = new QPushButton(line.title);
            button->setProperty("bare", true);
            button->setFont(textFont(Text::Figure));
            button->setCursor(Qt::PointingHandCursor);
            connect(button, &QPushButton::clicked, this, [this, line] { Q_EMIT goTo(line.channel, line.stage); });
            inner->addWidget(button);
        } else {
            inner->addWidget(label(line.title, Text::Figure, c.ink));
        }
        inner->addWidget(label(line.words, Text::Body, c.soft));
        layout_->addWidget(frame);
    };
    layout_->addWidget(label(tr("Still unknown, and how to find out"), Text::Small, c.soft));
    if (view.unknown.empty()) layout_->addWidget(label(tr("Nothing: every figure that the plan needs is there."), Text::Body, c.ink));
    for (const auto& line : view.unknown) block(line, c.soft, true);
    layout_->addSpacing(px(8));
    layout_->addWidget(label(tr("Be careful of"), Text::Small, c.soft));
    if (view.hazards.empty()) layout_->addWidget(label(tr("Nothing yet. The hazards follow from what you choose."), Text::Body, c.ink));
    for (const auto& line : view.hazards) block(line, c.spark, false);
    layout_->addStretch();
}

}  // namespace hinge::app
