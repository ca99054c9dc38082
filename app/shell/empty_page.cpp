#include "shell/empty_page.hpp"
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include "project/starters.hpp"
#include "theme/text.hpp"
#include "theme/theme.hpp"

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
    row->addStretch();
    row->addWidget(name_);
    row->addStretch();
    // One button a kind, two rows, each with what it is for.
    struct Offer {
        project::ChannelKind kind;
        const char* object;
        const char* title;
        const char* example;
    };
    static constexpr Offer offers[] = {
        {project::ChannelKind::Turn, "addTurn", QT_TR_NOOP("It turns"), QT_TR_NOOP("arm, lid, disc, valve, crank")},
        {project::ChannelKind::Move, "addMove", QT_TR_NOOP("It moves along"), QT_TR_NOOP("belt, screw, rack, rope, wheels")},
        {project::ChannelKind::Press, "addPress", QT_TR_NOOP("It presses"), QT_TR_NOOP("push, pull, latch")},
        {project::ChannelKind::Pump, "addPump", QT_TR_NOOP("It pumps"), QT_TR_NOOP("water through a tube")},
        {project::ChannelKind::Blow, "addBlow", QT_TR_NOOP("It blows"), QT_TR_NOOP("box, room, hood, filter")},
        {project::ChannelKind::Switch, "addSwitch", QT_TR_NOOP("It is switched"), QT_TR_NOOP("lamps, a load, a valve")},
        {project::ChannelKind::Heat, "addHeat", QT_TR_NOOP("It warms or cools"), QT_TR_NOOP("heater, cold plate")},
    };
    auto* grid = new QGridLayout;
    grid->setSpacing(px(10));
    int place = 0;
    for (const auto& offer : offers) {
        auto* button = new QPushButton(tr(offer.title) + "\n" + tr(offer.example));
        button->setObjectName(offer.object);
        button->setMinimumSize(px(200), px(56));
        connect(button, &QPushButton::clicked, this, [this, offer] {
            const QString name = name_->text().trimmed().isEmpty() ? tr("Channel") : name_->text().trimmed();
            name_->clear();
            Q_EMIT wanted(offer.kind, name);
        });
        grid->addWidget(button, place / 4, place % 4);
        ++place;
    }
    auto* kinds = new QHBoxLayout;
    kinds->addStretch();
    kinds->addLayout(grid);
    kinds->addStretch();
    note_ =
        new QLabel(tr("Name it, then say what it does. Board and supply come under Pins and Feed; who is near it and where it stands come "
                      "under Need, with no channel chosen."));
    note_->setObjectName("emptyNote");
    note_->setAlignment(Qt::AlignHCenter);
    note_->setWordWrap(true);
    column->addStretch(2);
    column->addWidget(question_);
    column->addSpacing(14);
    column->addLayout(row);
    column->addSpacing(10);
    column->addLayout(kinds);
    column->addSpacing(10);
    column->addWidget(note_);
    makeStarters();
    column->addSpacing(18);
    column->addWidget(or_);
    column->addSpacing(8);
    column->addWidget(whole_);
    column->addStretch(3);
}

// Whole small gadgets that run as they are.
void EmptyPage::makeStarters() {
    whole_ = new QWidget;
    auto* starters = new QHBoxLayout(whole_);
    starters->setContentsMargins(0, 0, 0, 0);
    starters->setSpacing(px(10));
    starters->addStretch();
    for (const auto& starter : project::starters()) {
        auto* button = new QPushButton(tr(starter.title) + "\n" + tr(starter.what));
        button->setObjectName("begin_" + text(starter.id));
        button->setMinimumHeight(px(56));
        button->setToolTip(tr("A whole small gadget that runs as it is: look at it, start it in Tune, and change its figures to yours"));
        connect(button, &QPushButton::clicked, this, [this, id = starter.id] { Q_EMIT begun(id); });
        starters->addWidget(button);
    }
    starters->addStretch();
    or_ = new QLabel(tr("or begin with one that runs already, and make it yours"));
    or_->setAlignment(Qt::AlignHCenter);
}

void EmptyPage::applyTheme() {
    QFont large = textFont(Text::Title);
    large.setPixelSize(px(30));
    question_->setFont(large);
    note_->setFont(textFont(Text::Body));
    note_->setStyleSheet(QString("color: %1").arg(colours().soft.name()));
    or_->setFont(textFont(Text::Body));
    or_->setStyleSheet(note_->styleSheet());
    name_->setMinimumWidth(px(260));
}

void EmptyPage::present(bool first) {
    or_->setVisible(first);
    whole_->setVisible(first);
}

void EmptyPage::ask() {
    name_->setFocus();
}

}  // namespace hinge::app
