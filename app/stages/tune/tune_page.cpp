#include "stages/tune/tune_page.hpp"
#include "stages/need/mechanism.hpp"
#include "pictures/chart.hpp"
#include "shell/labels.hpp"
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QTime>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hinge::app {
namespace {

constexpr double shown_seconds = 10.0;

// At most two points a pixel column: the extremes of what fell into it.
template <class Value>
QPolygonF pixelLine(const Axes& axes, const std::vector<LinkSession::Sample>& samples, Value value) {
    QPolygonF points;
    double low = 0.0, high = 0.0;
    int column = -1;
    const auto put = [&] { points << QPointF(column, axes.y(low)) << QPointF(column, axes.y(high)); };
    for (auto it = std::lower_bound(samples.begin(), samples.end(), axes.x0, [](const LinkSession::Sample& s, double t) { return s.time < t; }); it != samples.end(); ++it) {
        const double v = value(*it);
        const int here = static_cast<int>(axes.x(it->time));
        if (here != column) {
            if (column >= 0) put();
            column = here;
            low = high = v;
        }
        low = std::min(low, v);
        high = std::max(high, v);
    }
    if (column >= 0) put();
    return points;
}

}  // namespace

TunePage::TunePage(Document* document, QWidget* parent) : QWidget(parent), document_(document), session_(document) {
    setObjectName("tune");
    controls_ = new QWidget;
    layout_ = new QVBoxLayout(controls_);
    auto* scroll = scrolled(controls_);
    scroll->setObjectName("tuneControls");
    scroll->setParent(this);
    stop_ = new QPushButton(tr("Everything safe: space bar"), this);
    stop_->setObjectName("stopAll");
    stop_->setProperty("danger", true);
    stop_->setFocusPolicy(Qt::NoFocus);
    connect(stop_, &QPushButton::clicked, this, &TunePage::stopEverything);
    connect(&session_, &LinkSession::reshaped, this, [this] {
        built_.clear();
        build();
    });
    connect(&session_, &LinkSession::confirmed, this, [this](const QString& name, int value) {
        if (auto* field = controls_->findChild<QLineEdit*>("param_" + name)) field->setText(QString::number(value));
        if (auto* slider = controls_->findChild<QSlider*>("slider_" + name); slider != nullptr && !slider->isSliderDown()) {
            const QSignalBlocker quiet(slider);
            slider->setValue(value);
        }
    });
    repaint_.setInterval(40);
    connect(&repaint_, &QTimer::timeout, this, [this] {
        if (!isVisible()) return;
        if (state_ != nullptr) state_->setText(session_.status());
        update();
    });
    repaint_.start();
    build();
}

void TunePage::present(const QString& channel) {
    channel_ = channel;
    build();
}

int TunePage::controlsWidth() const { return px(248); }

void TunePage::addParameter(const link::ParameterLine& p) {
    const auto& c = colours();
    const QString id = text(p.name);
    auto* head = new QWidget;
    auto* line = new QHBoxLayout(head);
    line->setContentsMargins(0, px(3), 0, 0);
    auto* name = label(QString(id).replace('_', ' ') + (p.unit == "permille" ? tr(", ‰") : ", " + text(p.unit)), Text::Body, c.ink);
    auto* field = new QLineEdit(QString::number(p.value));
    field->setObjectName("param_" + id);
    field->setFont(textFont(Text::Body));
    field->setAlignment(Qt::AlignRight);
    field->setFixedWidth(px(76));
    field->setToolTip(tr("%1 to %2, sent when you press Enter").arg(p.least).arg(p.most));
    connect(field, &QLineEdit::editingFinished, this, [this, id, field] {
        if (!field->isModified()) return;
        field->setModified(false);
        session_.change(id, field->text());
    });
    line->addWidget(name, 1);
    line->addWidget(field);
    layout_->addWidget(head);
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setObjectName("slider_" + id);
    slider->setRange(p.least, p.most);
    slider->setValue(p.value);
    slider->setPageStep(std::max(1, (p.most - p.least) / 20));
    connect(slider, &QSlider::valueChanged, this, [this, id](int value) { session_.change(id, QString::number(value)); });
    layout_->addWidget(slider);
}

void TunePage::build() {
    QString key = themeKey() + session_.portName() + (session_.isOpen() ? "o" : "c") + QString::number(session_.parameters().size());
    if (key == built_) return;
    built_ = key;
    const auto& c = colours();
    clear(layout_);
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(4));
    const auto button = [&](const QString& words_of, const QString& name, auto slot) {
        auto* made = new QPushButton(words_of);
        made->setObjectName(name);
        made->setFont(textFont(Text::Body));
        connect(made, &QPushButton::clicked, this, slot);
        layout_->addWidget(made);
        return made;
    };
    layout_->addWidget(label(tr("Running on"), Text::Small, c.soft));
    state_ = label(session_.status(), Text::Body, c.ink);
    state_->setObjectName("tuneState");
    layout_->addWidget(state_);
    auto* start = button(session_.board() != nullptr ? tr("Start the stand-in again") : tr("Start the stand-in"), "startStandIn", [this] { session_.startStandIn(); });
    start->setToolTip(tr("The emitted sketch on an emulated board, with your pump and tank."));
    start->setProperty("main", session_.board() == nullptr);
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    where_ = new QLineEdit(session_.isOpen() ? session_.portName() : "/dev/ttyACM0");
    where_->setObjectName("portName");
    auto* open = new QPushButton(session_.isOpen() ? tr("Again") : tr("Connect"));
    open->setObjectName("connectPort");
    open->setToolTip(tr("Any serial port at %1 baud").arg(link::baud));
    connect(open, &QPushButton::clicked, this, [this] { session_.connectTo(where_->text()); });
    row->addWidget(where_, 1);
    row->addWidget(open);
    layout_->addWidget(line);
    if (!session_.parameters().empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Numbers, live"), Text::Small, c.soft));
    }
    for (const auto& p : session_.parameters()) addParameter(p);
    if (session_.board() != nullptr && !session_.inputs().empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Its contacts"), Text::Small, c.soft));
        for (std::size_t i = 0; i < session_.inputs().size(); ++i) {
            auto* press = button(session_.inputs()[i], QString("input_%1").arg(i), [] {});
            press->setCheckable(true);
            connect(press, &QPushButton::toggled, this, [this, i](bool on) {
                if (session_.board() != nullptr) session_.board()->setInput(static_cast<int>(i), on);
            });
        }
    }
    if (session_.isOpen()) {
        layout_->addSpacing(px(6));
        for (std::size_t i = 0; i < session_.cues().size(); ++i)
            button(tr("Start '%1'").arg(session_.cues()[i]), QString("cue_%1").arg(i), [this, i] { session_.send(link::StartCue{static_cast<int>(i)}); });
        button(tr("Set its clock to now"), "setClock", [this] { session_.send(link::SetClock{QTime::currentTime().msecsSinceStartOfDay() / 1000, timing::Date{QDate::currentDate().year(), QDate::currentDate().month(), QDate::currentDate().day()}}); });
        button(tr("Keep this run in the log"), "keepRun", [this] { session_.keepRun(channel_); });
    }
    layout_->addStretch();
    stop_->setFont(textFont(Text::Body));
}

void TunePage::resizeEvent(QResizeEvent*) {
    // The stop stays in sight whatever the list above it does.
    if (auto* scroll = findChild<QScrollArea*>("tuneControls")) scroll->setGeometry(0, 0, controlsWidth(), height() - px(48));
    stop_->setGeometry(px(14), height() - px(40), controlsWidth() - px(26), px(32));
}

// The tank, falling as it pours, and the water in the cup.
void TunePage::drawTank(QPainter& p, const QRectF& box, const plant::Observation& seen, std::size_t output) {
    const auto& c = colours();
    const double full = seen.tank + seen.poured;
    const double share = full > 0.0 ? seen.tank / full : 0.0;
    const QRectF tank(box.left(), box.top() + px(26), box.width(), box.height() * 0.34);
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    const double surface = tank.bottom() - tank.height() * 0.88 * share;
    p.drawRect(QRectF(QPointF(tank.left(), surface), tank.bottomRight()));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{tank.topLeft(), tank.bottomLeft(), tank.bottomRight(), tank.topRight()});
    say(p, {box.left(), box.top() + px(18)}, tr("tank %1").arg(text(display(Kind::Volume, seen.tank))), Text::Small, c.hinge);
    const bool runs = output < seen.duty.size() && seen.duty[output] > 0.0;
    const double x = tank.center().x();
    const QRectF cup(x - px(24), box.bottom() - px(74), px(48), px(50));
    if (runs) {
        p.setPen(QPen(c.hinge, 3));
        p.drawLine(QPointF(x, tank.bottom() + px(4)), QPointF(x, cup.bottom() - px(4)));
    }
    // The cup holds a fifth of a litre; it is emptied each time it is full.
    const double in_cup = std::fmod(seen.poured, 2e-4) / 2e-4;
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    p.drawRect(QRectF(QPointF(cup.left(), cup.bottom() - cup.height() * in_cup), cup.bottomRight()));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{cup.topLeft(), cup.bottomLeft(), cup.bottomRight(), cup.topRight()});
    say(p, {x, cup.bottom() + px(20)}, tr("poured %1").arg(text(display(Kind::Volume, seen.poured))), Text::Figure, c.hinge, Qt::AlignHCenter);
}

void TunePage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const double left = controlsWidth();
    p.fillRect(QRectF(left, 0, width() - left, height()), c.card);
    p.setPen(c.line);
    p.drawLine(QPointF(left, 0), QPointF(left, height()));
    const bool has_board = session_.board() != nullptr;
    const double side = has_board ? px(150) : 0;
    const QRectF whole(left + px(58), px(34), width() - left - px(82) - side, height() - px(78));
    const auto& samples = session_.telemetry();
    const double end = samples.empty() ? shown_seconds : std::max(shown_seconds, samples.back().time);
    const double gap = px(62);
    const Axes upper{QRectF(whole.left(), whole.top(), whole.width(), (whole.height() - gap) * 0.45), end - shown_seconds, end, 0.0, 1.08};
    const int output = session_.outputOf(channel_);
    const auto* decided = project::findChannel(document_->model().project, channel_.toStdString());
    const auto* planned = plan::findChannel(document_->model().plan, channel_.toStdString());
    const QString name = decided != nullptr ? text(decided->name) : tr("the channel");
    const bool placed = planned != nullptr && plan::isPlaced(*planned);
    upper.draw(p, Kind::Duration, Kind::Fraction, tr("board's time"), (placed ? tr("place of %1 in its move") : tr("power to %1")).arg(name));
    const auto at = static_cast<std::size_t>(std::clamp(output, 0, 15));
    double most = 0.1;
    for (auto it = samples.rbegin(); it != samples.rend() && it->time >= end - shown_seconds; ++it) most = std::max(most, it->current * 1.2);
    const Axes lower{QRectF(whole.left(), upper.box.bottom() + gap, whole.width(), whole.bottom() - upper.box.bottom() - gap), end - shown_seconds, end, 0.0, most};
    lower.draw(p, Kind::Duration, Kind::Current, tr("board's time"), has_board ? tr("current of the movers, by the plant's model") : tr("current: this board does not measure it"));
    p.save();
    p.setClipRect(whole.adjusted(-2, -px(10), 2, px(4)));
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(c.time, 2));
    if (output >= 0) p.drawPolyline(pixelLine(upper, samples, [at](const LinkSession::Sample& s) { return static_cast<double>(s.shares[at]); }));
    if (has_board) {
        p.setPen(QPen(c.spark, 2));
        p.drawPolyline(pixelLine(lower, samples, [](const LinkSession::Sample& s) { return s.current; }));
    }
    p.restore();
    if (samples.empty()) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(upper.box, Qt::AlignCenter | Qt::TextWordWrap, tr("Nothing has come over the link yet. Start the stand-in, or connect a board that runs the sketch."));
    } else {
        const auto now = samples.back();
        say(p, {upper.box.right(), upper.box.top() - px(6)}, tr("now %1").arg(text(display(Kind::Fraction, static_cast<double>(now.shares[at])))), Text::Figure, c.time, Qt::AlignRight);
        if (has_board) say(p, {lower.box.right(), lower.box.top() - px(6)}, tr("now %1").arg(text(display(Kind::Current, now.current))), Text::Figure, c.spark, Qt::AlignRight);
    }
    if (!samples.empty() && output < 0) say(p, {upper.box.center().x(), upper.box.center().y()}, tr("No cue drives %1 yet: see Routine.").arg(name), Text::Body, c.soft, Qt::AlignHCenter, true);
    if (!has_board || decided == nullptr || planned == nullptr) return;
    if (std::holds_alternative<project::PumpDemand>(decided->demand)) return drawTank(p, QRectF(width() - side + px(6), px(20), side - px(30), height() - px(50)), session_.board()->observe(), at);
    // The gadget itself, moving as the board says.
    const double share = samples.empty() || output < 0 ? 0.0 : static_cast<double>(samples.back().shares[at]);
    if (!placed && share > 0.0) turning_ = std::fmod(turning_ + 0.012 * share, 1.0);
    drawMechanism(p, QRectF(width() - side - px(26), px(60), side + px(10), px(300)), *decided, planned->context.ask, placed ? phaseAt(share) : turning_);
}

}  // namespace hinge::app
