#include "shell/outside_notice.hpp"
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include "shell/labels.hpp"
#include "stages/log/history_view.hpp"

namespace hinge::app {
namespace {

constexpr std::size_t most_lines = 12;

QString sentenceOf(const Document& document) {
    using Outside = Document::Outside;
    switch (document.outside()) {
        case Outside::None: break;
        case Outside::Held:
            return OutsideNotice::tr(
                       "Another window has this gadget in hand: %1. Look and try as you like; nothing is written from here until "
                       "you take it over.")
                .arg(document.outsideWords());
        case Outside::TakenOver:
            return OutsideNotice::tr(
                       "Another window has taken this gadget over: %1. Nothing is written from here any more; what is unsaved "
                       "here is still in this window.")
                .arg(document.outsideWords());
        case Outside::Changed: {
            const auto changes = document.outsideChanges();
            if (!changes)
                return OutsideNotice::tr(
                           "Another program has changed the file, and it cannot be read now: %1. Keep what is here, or mend the file.")
                    .arg(words(changes.error()));
            return changes->size() == 1
                       ? OutsideNotice::tr("Another program has changed the file: one thing differs from what you see here.")
                       : OutsideNotice::tr("Another program has changed the file: %1 things differ from what you see here.")
                             .arg(changes->size());
        }
        case Outside::Gone:
            return OutsideNotice::tr(
                       "%1 is not there any more: the folder was moved, or the file deleted. Save it there again, or elsewhere.")
                .arg(document.outsideWords());
    }
    return {};
}

}  // namespace

OutsideNotice::OutsideNotice(Document* document, QWidget* parent) : QFrame(parent), document_(document) {
    setObjectName("outside");
    setFrameShape(QFrame::NoFrame);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 6, 18, 6);
    column->setSpacing(4);
    words_ = new QLabel;
    words_->setObjectName("outsideWords");
    words_->setWordWrap(true);
    changes_ = new QLabel;
    changes_->setObjectName("outsideChanges");
    changes_->setWordWrap(true);
    changes_->setTextFormat(Qt::PlainText);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    const auto button = [&](const QString& text_of, const char* name, const QString& why, auto slot) {
        auto* made = new QPushButton(text_of);
        made->setObjectName(name);
        made->setToolTip(why);
        connect(made, &QPushButton::clicked, this, slot);
        row->addWidget(made);
        return made;
    };
    const auto tell = [this](const QString& why) {
        if (!why.isEmpty()) Q_EMIT said(why);
        present();
    };
    compare_ = button(tr("What differs"), "outsideCompare", tr("Before is what you see here, after is what the file holds"),
                      [this] { compare(); });
    take_ = button(tr("Show the file's"), "outsideTake", tr("What is here stays in the history; undo brings it back"),
                   [this, tell] { tell(document_->takeOutside()); });
    keep_ =
        button(tr("Keep this one"), "outsideKeep", tr("Written over the file; what the other program wrote is kept in the history first"),
               [this, tell] { tell(document_->keepMine()); });
    over_ = button(tr("Take over"), "outsideTakeOver", tr("The other window is told, and writes nothing any more"),
                   [this, tell] { tell(document_->takeOver()); });
    again_ = button(tr("Save it there again"), "outsideAgain", tr("Makes the file anew from what you see"),
                    [this, tell] { tell(document_->save()); });
    elsewhere_ =
        button(tr("Save as…"), "outsideElsewhere", tr("A gadget of its own, in another folder"), [this] { Q_EMIT saveElsewhereAsked(); });
    row->addStretch(1);
    column->addWidget(words_);
    column->addLayout(row);
    column->addWidget(changes_);
    applyTheme();
    hide();
}

void OutsideNotice::applyTheme() {
    const auto& c = colours();
    setStyleSheet(
        QString("QFrame#outside { background-color: %1; } QFrame#outside QLabel { color: %2; }").arg(c.sparkTint.name(), c.ink.name()));
    for (auto* each : {words_, changes_}) each->setFont(textFont(Text::Body));
    for (auto* each : {compare_, take_, keep_, over_, again_, elsewhere_}) each->setFont(textFont(Text::Body));
}

void OutsideNotice::present() {
    using Outside = Document::Outside;
    const auto state = document_->outside();
    setVisible(state != Outside::None);
    words_->setText(sentenceOf(*document_));
    const bool readable = state == Outside::Changed && document_->outsideChanges().has_value();
    compare_->setVisible(readable);
    take_->setVisible(readable);
    keep_->setVisible(state == Outside::Changed);
    over_->setVisible(state == Outside::Held || state == Outside::TakenOver);
    over_->setText(state == Outside::TakenOver ? tr("Take it back") : tr("Take over"));
    again_->setVisible(state == Outside::Gone);
    elsewhere_->setVisible(state == Outside::TakenOver || state == Outside::Gone || state == Outside::Held);
    if (!readable) changes_->hide();
}

void OutsideNotice::compare() {
    const auto changes = document_->outsideChanges();
    if (!changes) return present();
    QStringList lines;
    for (const auto& line : changeLines(*changes, document_->model().project)) {
        if (lines.size() == static_cast<qsizetype>(most_lines)) {
            lines << tr("and %1 more").arg(changes->size() - most_lines);
            break;
        }
        lines << tr("%1: here “%2”, in the file “%3”")
                     .arg(line.whose.isEmpty()         ? line.fact
                          : line.fact == tr("changed") ? line.whose
                                                       : line.whose + " · " + line.fact,
                          line.before.isEmpty() ? tr("nothing") : line.before, line.after.isEmpty() ? tr("nothing") : line.after);
    }
    changes_->setText(lines.isEmpty() ? tr("Only its layout is another one.") : lines.join("\n"));
    changes_->setVisible(!changes_->isVisible());
}

}  // namespace hinge::app
