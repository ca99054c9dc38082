#include "stages/prove/samples_page.hpp"
#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include "pictures/chart.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

// A piece's dot, told apart without colour: filled accept, half-filled suspect, crossed reject.
void drawPiece(QPainter& p, const QPointF& at, double r, Verdict verdict) {
    const QColor colour = verdictColour(verdict);
    p.setPen(QPen(colour, 2));
    p.setBrush(verdict == Verdict::Holds ? QBrush(colour) : QBrush(colours().card));
    p.drawEllipse(at, r, r);
    if (verdict == Verdict::Tight) {
        p.setBrush(colour);
        p.drawPie(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
    }
    if (verdict == Verdict::Breaks) {
        p.drawLine(at + QPointF(-r * 0.7, -r * 0.7), at + QPointF(r * 0.7, r * 0.7));
        p.drawLine(at + QPointF(-r * 0.7, r * 0.7), at + QPointF(r * 0.7, -r * 0.7));
    }
}

}  // namespace

BagPicture::BagPicture(QWidget* parent) : QWidget(parent) {
    setObjectName("bagPicture");
}

void BagPicture::present(const std::optional<proof::Bag>& bag) {
    bag_ = bag;
    update();
}

void BagPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    if (!bag_ || bag_->samples.empty()) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(rect().adjusted(0, px(10), 0, 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                   tr("Look-alikes vary within one bag. Try one piece before you wire ten: add it below, read what the columns ask, and it "
                      "is accepted, suspect or rejected at once."));
        return;
    }
    const auto lanes = bag_->readings.size();
    if (lanes == 0) return;
    const double lane = std::min<double>(px(120), height() / static_cast<double>(lanes)), left = px(4), right = width() - px(30);
    for (std::size_t k = 0; k < lanes; ++k) {
        const auto& reading = bag_->readings[k];
        const auto& e = reading.expected;
        double low = e.least, high = e.most;
        for (const auto& each : reading.readings)
            if (each) low = std::min(low, *each), high = std::max(high, *each);
        const double room = 0.25 * std::max(high - low, 1e-12);
        low -= room, high += room;
        const double y = lane * static_cast<double>(k) + lane * 0.62;
        const auto x = [&](double v) { return left + (v - low) / (high - low) * (right - left); };
        say(p, {left, lane * static_cast<double>(k) + px(15)}, text(e.what), Text::Figure, c.spark);
        say(p, {right, lane * static_cast<double>(k) + px(15)},
            tr("accepted %1 to %2: %3").arg(text(display(e.kind, e.least)), text(display(e.kind, e.most)), text(e.reason)), Text::Small,
            c.soft, Qt::AlignRight);
        p.setPen(Qt::NoPen);
        p.setBrush(c.sparkTint);
        p.drawRect(QRectF(QPointF(x(e.least), y - px(18)), QPointF(x(e.most), y + px(18))));
        p.setPen(QPen(c.ink, 1.5));
        p.drawLine(QPointF(left, y + px(18)), QPointF(right, y + px(18)));
        p.setPen(QPen(c.spark, 1, Qt::DashLine));
        p.drawLine(QPointF(x(e.value), y - px(18)), QPointF(x(e.value), y + px(18)));
        for (const double limit : {e.least, e.value, e.most})
            say(p, {x(limit), y + px(33)}, text(display(e.kind, limit)), Text::Small, c.ink, Qt::AlignHCenter);
        // Mean and standard deviation of the bag, where there is more than one.
        if (std::count_if(reading.readings.begin(), reading.readings.end(), [](const auto& each) { return each.has_value(); }) > 1) {
            p.setPen(QPen(c.ink, 2));
            const double from = x(reading.spread.mean - reading.spread.deviation), to = x(reading.spread.mean + reading.spread.deviation);
            p.drawLine(QPointF(from, y + px(11)), QPointF(to, y + px(11)));
            for (const double end : {from, x(reading.spread.mean), to}) p.drawLine(QPointF(end, y + px(7)), QPointF(end, y + px(15)));
        }
        for (std::size_t i = 0; i < reading.readings.size(); ++i) {
            if (!reading.readings[i]) continue;
            const QPointF at(x(*reading.readings[i]), y - px(6));
            drawPiece(p, at, px(5), bag_->samples[i].verdict);
            say(p, {at.x(), at.y() - px(8)}, QString::number(i + 1), Text::Small, c.ink, Qt::AlignHCenter);
        }
    }
}

SamplesPage::SamplesPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("samples");
    auto* column = new QVBoxLayout(this);
    sentence_ = new QLabel;
    sentence_->setObjectName("samplesSentence");
    how_ = new QLabel;
    said_ = new QLabel;
    said_->setObjectName("samplesSaid");
    for (auto* each : {sentence_, how_, said_}) each->setWordWrap(true);
    picture_ = new BagPicture;
    rows_ = new QWidget;
    grid_ = new QGridLayout(rows_);
    auto* scroll = scrolled(rows_);
    scroll->setObjectName("sampleRows");
    add_ = new QPushButton(tr("Try another piece"));
    add_->setObjectName("addSample");
    connect(add_, &QPushButton::clicked, this, &SamplesPage::addPiece);
    auto* line = new QHBoxLayout;
    line->addWidget(add_);
    line->addWidget(said_, 1);
    column->addWidget(sentence_);
    column->addWidget(how_);
    column->addWidget(picture_, 3);
    column->addWidget(scroll, 2);
    column->addLayout(line);
}

std::string SamplesPage::part() const {
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    return channel != nullptr ? channel->actuator : std::string{};
}

std::optional<proof::Bag> SamplesPage::bag() const {
    for (const auto& each : document_->model().bags)
        if (each.part == part()) return each;
    return std::nullopt;
}

void SamplesPage::present(const QString& channel) {
    channel_ = channel;
    build();
}

void SamplesPage::addPiece() {
    auto changed =
        proof::recordSample(document_->model().project, part(), {}, {}, {}, QDate::currentDate().toString(Qt::ISODate).toStdString());
    if (changed) document_->replace(std::move(*changed));
}

void SamplesPage::change(const std::string& sample, const std::string& field, const QString& typed) {
    auto changed = proof::recordSample(document_->model().project, part(), sample, field, typed.trimmed().toStdString(),
                                       QDate::currentDate().toString(Qt::ISODate).toStdString());
    said_->setText(changed ? QString() : words(changed.error()));
    if (changed) {
        document_->replace(std::move(*changed));
    } else {
        built_.clear();  // the field goes back to what is kept
        build();
    }
}

void SamplesPage::build() {
    const auto& c = colours();
    const auto& m = document_->model();
    const auto* part_of = project::findActuator(m.parts, part());
    const auto found = bag();
    layout()->setContentsMargins(px(24), px(8), px(24), px(10));
    sentence_->setFont(textFont(Text::Title));
    how_->setFont(textFont(Text::Body));
    how_->setStyleSheet(QString("color: %1;").arg(c.soft.name()));
    said_->setFont(textFont(Text::Body));
    said_->setStyleSheet(QString("color: %1;").arg(c.breaks.name()));
    add_->setVisible(part_of != nullptr);
    picture_->present(found);
    say(part_of, found);
    QString key = themeKey() + channel_ + text(part());
    for (const auto& sample : m.project.journal.samples)
        if (sample.part == part()) key += text(sample.id);
    if (found)
        for (const auto& sample : found->samples) {
            key += QString::number(static_cast<int>(sample.verdict));
            for (const auto& reason : sample.reasons) key += text(reason);
        }
    if (key == built_) return;
    built_ = key;
    clear(grid_);
    grid_->setHorizontalSpacing(px(8));
    grid_->setVerticalSpacing(px(4));
    grid_->setContentsMargins(0, 0, 0, 0);
    findChild<QScrollArea*>("sampleRows")->setVisible(found.has_value());
    if (!found || part_of == nullptr) return;
    std::vector<Column> columns{{"name", tr("piece"), tr("what is written on it")}};
    for (const auto& e : proof::expectedOf(*part_of)) columns.push_back({e.field, text(e.what), text(e.how)});
    columns.push_back({"places", tr("where the same move ended"), tr("ten times, such as 41.2 deg, 41.5, 41.3")});
    columns.push_back({"temperature", tr("its case, after"), tr("after five minutes of its work, such as 45 degC")});
    for (std::size_t k = 0; k < columns.size(); ++k) {
        auto* head = label(columns[k].head, Text::Small, c.soft);
        head->setToolTip(columns[k].hint);
        grid_->addWidget(head, 0, static_cast<int>(k) + 1);
        grid_->setColumnStretch(static_cast<int>(k) + 1, columns[k].field == "places" ? 3 : 1);
    }
    int row = 1;
    for (const auto& sample : m.project.journal.samples)
        if (sample.part == part()) addRow(columns, sample, *found, row);
    grid_->setRowStretch(row, 1);
}

// What the bag says on the whole.
void SamplesPage::say(const actuator::Part* part_of, const std::optional<proof::Bag>& found) {
    if (part_of == nullptr) {
        sentence_->setText(channel_.isEmpty() ? tr("Choose a channel at the left: its part is what is tried.")
                                              : tr("No part is chosen for this channel yet. Match comes first."));
        how_->clear();
    } else if (!found) {
        sentence_->setText(tr("No piece of '%1' was tried yet.").arg(text(actuator::head(*part_of).name)));
        how_->setText(tr("Ten of the same move, a current, a range, a temperature: a few minutes each, before anything is soldered."));
    } else {
        sentence_->setText(tr("%1: %2 accepted, %3 suspect, %4 rejected.")
                               .arg(text(found->name))
                               .arg(found->accepted)
                               .arg(found->suspect)
                               .arg(found->rejected));
        how_->setText(found->share ? tr("Nine in ten sure that at most %1 of the bag are bad. Filled: accept; half: suspect; crossed: "
                                        "reject. The bar below is mean and standard deviation.")
                                         .arg(text(display(found->share->at_most, 2)))
                                   : tr("Read at least one figure of a piece."));
    }
}

// One piece: its readings, and under them why it is judged so. Leaves `row` behind it.
void SamplesPage::addRow(const std::vector<Column>& columns, const journal::Sample& sample, const proof::Bag& found, int& row) {
    const auto& c = colours();
    grid_->addWidget(label(QString::number(row), Text::Figure, c.ink), row, 0);
    for (std::size_t k = 0; k < columns.size(); ++k) {
        const std::string field = columns[k].field;
        auto* edit = new QLineEdit;
        edit->setObjectName(QString("sample_%1_%2").arg(text(sample.id), text(field)));
        edit->setFont(textFont(Text::Body));
        const auto shown = [](const auto& value) { return value ? text(displayPlain(*value)) : QString(); };
        edit->setText(field == "name"         ? text(sample.name)
                      : field == "places"     ? text(sample.places)
                      : field == "current"    ? shown(sample.current)
                      : field == "speed"      ? shown(sample.speed)
                      : field == "range"      ? shown(sample.range)
                      : field == "resistance" ? shown(sample.resistance)
                                              : shown(sample.temperature));
        edit->setCursorPosition(0);
        edit->setPlaceholderText(columns[k].hint);
        edit->setAccessibleName(columns[k].hint);
        edit->setToolTip(columns[k].hint);
        connect(edit, &QLineEdit::editingFinished, this, [this, edit, id = sample.id, field] {
            if (edit->isModified()) {
                edit->setModified(false);
                change(id, field, edit->text());
            }
        });
        grid_->addWidget(edit, row, static_cast<int>(k) + 1);
    }
    const auto judged =
        std::find_if(found.samples.begin(), found.samples.end(), [&](const proof::JudgedSample& each) { return each.id == sample.id; });
    if (judged != found.samples.end()) {
        QStringList why;
        for (const auto& reason : judged->reasons) why << text(reason);
        auto* verdict = label(tr(proof::sampleWord(judged->verdict)), Text::Figure, verdictColour(judged->verdict));
        verdict->setObjectName("verdict_" + text(sample.id));
        verdict->setToolTip(why.join("\n"));
        grid_->addWidget(verdict, row, static_cast<int>(columns.size()) + 1);
        if (!why.isEmpty()) {
            ++row;
            grid_->addWidget(label(why.join("; "), Text::Small, verdictColour(judged->verdict)), row, 1, 1,
                             static_cast<int>(columns.size()) + 1);
        }
    }
    ++row;
}

}  // namespace hinge::app
