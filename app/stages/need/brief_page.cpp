#include "stages/need/brief_page.hpp"
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include "shell/labels.hpp"
#include "shell/typed.hpp"
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
        if (line.path.isEmpty()) {
            inner->addWidget(label(line.words, Text::Body, c.soft));
            layout_->addWidget(frame);
            return;
        }
        // To be typed on the spot, as soon as it is measured.
        auto* row = new QHBoxLayout;
        auto* how = label(line.words, Text::Body, c.soft);
        how->setWordWrap(true);
        row->addWidget(how, 1);
        auto* field = new QLineEdit;
        field->setObjectName("brief:" + line.path);
        field->setAccessibleName(line.title);
        field->setPlaceholderText(tr("not known"));
        field->setFixedWidth(px(120));
        field->setAlignment(Qt::AlignRight);
        row->addWidget(field);
        inner->addLayout(row);
        auto* problem = label(QString(), Text::Small, c.breaks);
        problem->hide();
        inner->addWidget(problem);
        connect(field, &QLineEdit::editingFinished, this, [this, field, problem, path = line.path.toStdString()] {
            if (field->text().trimmed().isEmpty()) return;
            const QString why = document_->apply(project::FactEdit{path, typedNumber(field->text())});
            if (why.isEmpty()) return;
            problem->setText(why.section(": ", 1).isEmpty() ? why : why.section(": ", 1));
            problem->show();
        });
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
