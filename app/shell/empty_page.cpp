#include "shell/empty_page.hpp"
#include "theme/theme.hpp"
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace hinge::app {

EmptyPage::EmptyPage(QWidget* parent) : QWidget(parent) {
    setObjectName("emptyPage");
    auto* column = new QVBoxLayout(this);
    question_ = new QLabel(tr("What moves or switches?"));
    question_->setObjectName("question");
    question_->setAlignment(Qt::AlignHCenter);
    auto* row = new QHBoxLayout;
    name_ = new QLineEdit;
    name_->setObjectName("newChannelName");
    name_->setPlaceholderText(tr("its name, such as Rain"));
    name_->setMaximumWidth(320);
    auto* pump = new QPushButton(tr("A pump"));
    pump->setObjectName("addPump");
    pump->setProperty("main", true);
    const auto add = [this] {
        const QString name = name_->text().trimmed().isEmpty() ? tr("Pump") : name_->text().trimmed();
        name_->clear();
        Q_EMIT wanted(name);
    };
    connect(pump, &QPushButton::clicked, this, add);
    connect(name_, &QLineEdit::returnPressed, this, add);
    row->addStretch();
    row->addWidget(name_);
    row->addWidget(pump);
    row->addStretch();
    note_ = new QLabel(tr("Name it and say what it is. Board and supply come under Pins and Feed; who is near it and where it stands come under Need, with no channel chosen."));
    note_->setObjectName("emptyNote");
    note_->setAlignment(Qt::AlignHCenter);
    note_->setWordWrap(true);
    column->addStretch(2);
    column->addWidget(question_);
    column->addSpacing(14);
    column->addLayout(row);
    column->addSpacing(10);
    column->addWidget(note_);
    column->addStretch(3);
}

void EmptyPage::applyTheme() {
    QFont large = textFont(Text::Title);
    large.setPixelSize(px(30));
    question_->setFont(large);
    note_->setFont(textFont(Text::Body));
    note_->setStyleSheet(QString("color: %1").arg(colours().soft.name()));
    name_->setMinimumWidth(px(260));
}

void EmptyPage::ask() { name_->setFocus(); }

}  // namespace hinge::app
