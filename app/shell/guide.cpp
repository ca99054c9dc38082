#include "shell/guide.hpp"
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include "project/project.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

Guide::Guide(QWidget* parent) : QWidget(parent) {
    setObjectName("guide");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setObjectName("guideWords");
    next_ = new QPushButton;
    next_->setObjectName("guideNext");
    next_->setProperty("main", true);
    auto* close = new QPushButton(tr("Leave the guide"));
    close->setObjectName("guideLeave");
    connect(next_, &QPushButton::clicked, this, [this] { show(step_ + 1); });
    connect(close, &QPushButton::clicked, this, &Guide::leave);
    row->addWidget(words_, 1);
    row->addWidget(next_);
    row->addWidget(close);
    hide();
}

void Guide::applyTheme() {
    words_->setFont(textFont(Text::Body));
    layout()->setContentsMargins(px(18), px(7), px(18), px(7));
    setStyleSheet(QString("QWidget#guide { background-color: %1; } QWidget#guide QLabel { background-color: transparent; }")
                      .arg(colours().timeTint.name()));
}

void Guide::start() {
    QWidget::show();
    show(0);
}

void Guide::leave() {
    step_ = -1;
    hide();
    Q_EMIT left();
}

void Guide::show(int step) {
    using S = project::Stage;
    struct Stop {
        int stage;
        QString words;
    };
    const Stop stops[steps] = {
        {-1, tr("1 of 5 · The crossbar: one row for each thing that moves, one column for each stage of the work. One look tells what "
                "holds, what is tight, what breaks and what is not known yet.")},
        {static_cast<int>(S::Match), tr("2 of 5 · Match: the pump's curve against what lift and tube ask. Drag the ring, or press another "
                                        "candidate on the left, and watch every number follow. Ctrl+Z takes it back.")},
        {static_cast<int>(S::Routine), tr("3 of 5 · Routine: what happens when, as sentences. Click an underlined word to change it; on "
                                          "the right stands the proof that the pump never runs dry.")},
        {static_cast<int>(S::Tune), tr("4 of 5 · Tune: start the stand-in. It runs the very sketch you would upload, on an emulated board; "
                                       "press 'start' and change a number while it runs.")},
        {static_cast<int>(S::Prove), tr("5 of 5 · Prove: the first power-up, one step at a time, with the reading to expect. What you "
                                        "measure goes into the log. That is the round; Esc leads back to the crossbar.")},
    };
    if (step >= steps) return leave();
    step_ = step;
    words_->setText(stops[step].words);
    next_->setText(step + 1 < steps ? tr("Next") : tr("Done"));
    Q_EMIT look(stops[step].stage);
}

}  // namespace hinge::app
