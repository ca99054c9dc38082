#include "stages/log/parts_account.hpp"
#include <QCoreApplication>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include "journal/worth_it.hpp"
#include "pictures/chart.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

QString money(const Model& m, double amount) {
    return text(m.project.brief.currency) + " " + QString::number(amount, 'f', 2);
}

QString worthOf(const Model& m) {
    journal::WorthIt worth;
    worth.parts_cost = of<Ratio>(m.account.spent());
    worth.hours = m.project.journal.hours;
    worth.hour_value = m.project.brief.hour_value;
    worth.minutes_saved_per_use = m.project.journal.minutes_saved_per_use;
    worth.uses_per_week = m.project.journal.uses_per_week;
    const auto worked = journal::worthIt(worth);
    if (!worked) return words(worked.error());
    const QString cost = money(m, si(worked->result.total_cost));
    if (si(m.project.journal.hours) <= 0.0)
        return QCoreApplication::translate("PartsAccount",
                                           "Was it worth it? Write down at the left how long it took; until then only the money is known.");
    if (!worked->result.payback_weeks)
        return QCoreApplication::translate(
                   "PartsAccount",
                   "Was it worth it? It costs %1 with your hours, and no time saved stands against that: it is made for its own sake.")
            .arg(cost);
    return QCoreApplication::translate("PartsAccount",
                                       "Was it worth it? It costs %1 with your hours and has paid for itself after %2 weeks.")
        .arg(cost, QString::number(si(*worked->result.payback_weeks) / 604'800.0, 'f', 0));
}

}  // namespace

AccountPicture::AccountPicture(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("accountPicture");
}

// One bar for all that it costs: a piece for each priced line, as wide as its share.
void AccountPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const auto& m = document_->model();
    p.fillRect(rect(), c.card);
    struct Piece {
        QString name;
        double cost = 0.0;
        QColor fill;
    };
    std::vector<Piece> pieces;
    for (const auto& line : m.account.lines)
        if (line.price && si(*line.price) > 0.0) pieces.push_back({text(line.name), si(*line.price) * line.needed, c.sparkTint});
    std::stable_sort(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) { return a.cost > b.cost; });
    if (m.account.journal > 0.0) pieces.push_back({tr("written down"), m.account.journal, c.timeTint});
    if (m.account.shipping > 0.0) pieces.push_back({tr("posting"), m.account.shipping, c.timeTint});
    const double hours = si(m.project.journal.hours) / 3600.0 * si(m.project.brief.hour_value);
    if (hours > 0.0) pieces.push_back({tr("your hours"), hours, c.hingeTint});
    double total = 0.0;
    for (const auto& piece : pieces) total += piece.cost;
    if (total <= 0.0) return say(p, QPointF(0, px(24)), tr("No part has a price yet: write it on the part's page."), Text::Body, c.soft);
    double x = 0.0;
    const QFontMetrics metrics(textFont(Text::Small));
    for (const auto& piece : pieces) {
        const double wide = piece.cost / total * (width() - 1);
        const QRectF box(x, px(4), wide, px(34));
        p.setPen(QPen(c.card, 2));
        p.setBrush(piece.fill);
        p.drawRect(box);
        if (wide > px(46)) {
            say(p, {box.left() + px(6), box.center().y() + px(5)}, QString::number(piece.cost, 'f', 2), Text::Figure, c.ink);
            say(p, QPointF(box.left() + px(6), px(54)), metrics.elidedText(piece.name, Qt::ElideRight, static_cast<int>(wide) - px(8)),
                Text::Small, c.soft);
        }
        x += wide;
    }
}

PartsAccount::PartsAccount(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("partsAccount");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(8), 0, px(8));
    column->setSpacing(px(6));
    for (auto** each : {&sentence_, &worth_, &said_}) *each = new QLabel, (*each)->setWordWrap(true);
    sentence_->setObjectName("accountSentence");
    worth_->setObjectName("worthIt");
    said_->setObjectName("accountSaid");
    picture_ = new AccountPicture(document_);
    rows_ = new QWidget;
    grid_ = new QGridLayout(rows_);
    auto* scroll = scrolled(rows_);
    scroll->setObjectName("accountRows");
    column->addWidget(sentence_);
    column->addWidget(picture_);
    column->addWidget(worth_);
    column->addWidget(said_);
    column->addWidget(scroll, 1);
}

void PartsAccount::present() {
    const auto& c = colours();
    const auto& m = document_->model();
    const auto& account = m.account;
    picture_->setFixedHeight(px(62));
    sentence_->setFont(textFont(Text::Figure));
    worth_->setFont(textFont(Text::Body));
    said_->setFont(textFont(Text::Body));
    said_->setStyleSheet(QString("color: %1;").arg(c.breaks.name()));
    said_->setVisible(!said_->text().isEmpty());
    QString sentence = tr("What it takes costs %1").arg(money(m, account.spent()));
    if (account.unpriced > 0) sentence += tr(", and %1 kinds of things have no price").arg(account.unpriced);
    if (account.to_buy > 0.0) sentence += tr("; %1 of it is still to be bought").arg(money(m, account.to_buy));
    if (account.longest) sentence += tr("; the slowest of that takes %1").arg(text(display(*account.longest)));
    sentence_->setText(sentence + ".");
    worth_->setText(worthOf(m));
    picture_->update();
    build();
}

void PartsAccount::askInstead(const std::string& part) {
    asked_ = asked_ == part ? std::string{} : part;
    built_.clear();
    present();
}

void PartsAccount::change(const std::string& part, const std::string& field, const QString& typed) {
    auto changed = proof::recordStock(document_->model().project, part, field, typed.trimmed().toStdString());
    said_->setText(changed ? QString() : words(changed.error()));
    if (changed) return document_->replace(std::move(*changed));
    built_.clear();  // the field goes back to what is kept
    present();
}

// What the table is built from: as long as it is the same nothing is built anew.
QString PartsAccount::key() const {
    QString key = themeKey() + text(asked_);
    for (const auto& line : document_->model().account.lines)
        key += text(line.id + line.name + line.substitute) +
               QString("|%1|%2|%3|%4|%5|")
                   .arg(line.needed)
                   .arg(line.spares)
                   .arg(line.in_hand.value_or(-1))
                   .arg(line.missing)
                   .arg(line.lead_time ? si(*line.lead_time) : 0.0) +
               (line.price ? QString::number(si(*line.price)) : "");
    return key;
}

void PartsAccount::addStock(const proof::AccountLine& line, int row) {
    const auto& c = colours();
    const auto field = [&](int place, const char* name, const QString& value, const QString& hint, int wide) {
        auto* edit = new QLineEdit(value);
        edit->setObjectName(QString("stock_%1_%2").arg(text(line.id), name));
        edit->setFont(textFont(Text::Body));
        edit->setFixedWidth(px(wide));
        edit->setPlaceholderText(hint);
        edit->setAccessibleName(text(line.name) + ", " + tr(name).replace('_', ' '));
        connect(edit, &QLineEdit::editingFinished, this, [this, edit, id = line.id, name] {
            if (!edit->isModified()) return;
            edit->setModified(false);
            change(id, name, edit->text());
        });
        grid_->addWidget(edit, row, place);
    };
    field(3, "in_hand", line.in_hand ? QString::number(*line.in_hand) : QString(), tr("?"), 46);
    field(4, "spares", line.spares > 0 ? QString::number(line.spares) : QString(), "0", 46);
    field(5, "lead_time", line.lead_time ? text(displayPlain(*line.lead_time)) : QString(), tr("3 weeks"), 76);
    const QColor state = line.verdict == Verdict::Breaks ? c.breaks : line.verdict == Verdict::Tight ? c.tight : c.ink;
    grid_->addWidget(label(line.in_hand ? (line.missing > 0 ? QString::number(line.missing) : tr("enough")) : tr("count it"), Text::Body,
                           line.in_hand ? state : c.soft),
                     row, 6);
    auto* ask = new QPushButton(asked_ == line.id ? tr("Close") : tr("What instead?"));
    ask->setObjectName("instead_" + text(line.id));
    ask->setFont(textFont(Text::Small));
    connect(ask, &QPushButton::clicked, this, [this, id = line.id] { askInstead(id); });
    grid_->addWidget(ask, row, 7);
}

void PartsAccount::addInstead(const proof::AccountLine& line, int row) {
    const auto& c = colours();
    const auto& m = document_->model();
    auto* frame = barred(c.spark, true);
    auto* inner = static_cast<QVBoxLayout*>(frame->layout());
    grid_->addWidget(frame, row, 1, 1, 7);
    const auto found = proof::substituteFor(m.project, m.parts, m.plan, line.id);
    if (!found) {
        inner->addWidget(label(tr("Nothing among the parts does the same work here. Add one in Parts, or order a spare of this one now."),
                               Text::Body, c.ink));
        return;
    }
    inner->addWidget(
        label(tr("%1, with which the channel %2. Before it goes in:")
                  .arg(text(found->name), found->verdict == Verdict::Unknown ? tr("is not known") : verdictWord(found->verdict)),
              Text::Figure, c.ink));
    for (const auto* list : {&found->verify, &found->by_hand})
        for (const auto& each : *list) inner->addWidget(label("• " + text(each), Text::Body, c.ink));
    if (line.substitute == found->id) return;
    auto* decide = new QPushButton(tr("Note it as the one to take"));
    decide->setObjectName("decideInstead");
    connect(decide, &QPushButton::clicked, this, [this, id = line.id, other = found->id] { change(id, "substitute", text(other)); });
    inner->addWidget(decide, 0, Qt::AlignLeft);
}

void PartsAccount::build() {
    const auto& c = colours();
    const auto& m = document_->model();
    const QString now = key();
    if (now == built_) return;
    built_ = now;
    clear(grid_);
    grid_->setContentsMargins(0, 0, px(8), 0);
    grid_->setHorizontalSpacing(px(10));
    grid_->setVerticalSpacing(px(3));
    int row = 0, at = 0;
    for (const auto& head : {tr("needed"), tr("part"), tr("each"), tr("counted"), tr("spares"), tr("lead time"), tr("to buy"), QString()})
        grid_->addWidget(label(head, Text::Small, c.soft), row, at++);
    grid_->setColumnStretch(1, 1);
    for (const auto& line : m.account.lines) {
        ++row;
        grid_->addWidget(label(tr("%1 ×").arg(line.needed), Text::Figure, c.ink), row, 0);
        grid_->addWidget(label(text(line.name), Text::Body, c.ink), row, 1);
        grid_->addWidget(
            label(line.price ? QString::number(si(*line.price), 'f', 2) : tr("not known"), Text::Body, line.price ? c.ink : c.soft), row,
            2);
        if (line.id.empty()) continue;  // wires and other things without figures are not counted
        addStock(line, row);
        if (asked_ == line.id) {
            addInstead(line, ++row);
        } else if (!line.substitute.empty()) {
            ++row;
            grid_->addWidget(label(tr("instead: %1").arg(text(proof::partName(m.parts, line.substitute))), Text::Small, c.soft), row, 1);
        }
    }
    grid_->setRowStretch(row + 1, 1);
}

}  // namespace hinge::app
