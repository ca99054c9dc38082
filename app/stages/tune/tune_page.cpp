#include "stages/tune/tune_page.hpp"
#include "emulator/gadget.hpp"
#include "pictures/picture.hpp"
#include "quantity/text.hpp"
#include "simulation/interpreted_board.hpp"
#include "theme/theme.hpp"
#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hinge::app {

TunePage::TunePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("tune");
    auto* scroll = new QScrollArea(this);
    scroll->setObjectName("tuneControls");
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    controls_ = new QWidget;
    layout_ = new QVBoxLayout(controls_);
    scroll->setWidget(controls_);
    connect(&port_, &QSerialPort::readyRead, this, &TunePage::readPort);
    connect(&port_, &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError error) {
        if (error == QSerialPort::ResourceError || error == QSerialPort::PermissionError) lost(tr("The port has gone. What was drawn stays; connect again when it is back."));
    });
    repaint_.setInterval(40);
    connect(&repaint_, &QTimer::timeout, this, [this] {
        if (state_ != nullptr) state_->setText(status());
        update();
    });
    repaint_.start();
    buildControls();
}

TunePage::~TunePage() {
    port_.disconnect(this);
    if (port_.isOpen()) port_.close();
}

void TunePage::present(const QString& channel) { channel_ = channel; }

QString TunePage::status() const {
    if (!note_.isEmpty() && !port_.isOpen()) return note_;
    if (!port_.isOpen()) return tr("Not connected.");
    if (!hello_) return tr("%1 is open; nothing has answered yet.").arg(port_.portName());
    QString running = board_ != nullptr ? board_->what() : tr("a board on %1").arg(port_.portName());
    running += tr("\n%1 samples, %2 lost").arg(telemetry_.size()).arg(decoder_.lost());
    if (!last_.clock_set) running += tr("\nThe time is lost until you set it.");
    else running += tr("\nIts clock: %1").arg(QTime::fromMSecsSinceStartOfDay(static_cast<int>(last_.clock_ms)).toString("HH:mm:ss"));
    if (!note_.isEmpty()) running += "\n" + note_;
    return running;
}

std::optional<int> TunePage::value(const QString& parameter) const {
    for (const auto& p : parameters_)
        if (text(p.name) == parameter) return p.value;
    return std::nullopt;
}

void TunePage::startStandIn() {
    if (port_.isOpen()) port_.close();
    hello_ = false;
    board_.reset();
    const auto& model = document_->model();
    if (!model.plan.program) {
        note_ = tr("The stand-in waits for a complete routine: %1").arg(model.plan.program_error ? words(*model.plan.program_error) : QString());
        return;
    }
    std::unique_ptr<plant::StandIn> stand_in;
    if (auto board = emulator::startGadget(model.project, model.parts, model.plan, emulator::usualCache())) {
        (*board)->keepEdges(4096);
        stand_in = std::move(*board);
    } else {
        auto plants = plan::plantsOf(model.project, model.parts, model.plan);
        if (!plants) {
            note_ = words(plants.error());
            return;
        }
        stand_in = std::make_unique<simulation::InterpretedBoard>(*model.plan.program, std::move(*plants), model.project.brief.name, "interpreted");
    }
    board_ = std::make_unique<LiveBoard>(std::move(stand_in));
    if (board_->port().isEmpty()) {
        note_ = tr("No pseudo-terminal could be had on this machine.");
        return;
    }
    board_->start();
    connectTo(board_->port());
}

void TunePage::connectTo(const QString& name) {
    note_.clear();
    if (port_.isOpen()) port_.close();
    hello_ = false;
    decoder_ = {};
    parameters_.clear();
    inputs_.clear();
    telemetry_.clear();
    port_.setPortName(name);
    port_.setBaudRate(link::baud);
    if (!port_.open(QIODevice::ReadWrite)) {
        note_ = tr("%1 cannot be opened: %2. Check the cable and that you may use it.").arg(name, port_.errorString());
        buildControls();
        return;
    }
    if (where_ != nullptr) where_->setText(name);
    send(link::SayHello{});
    send(link::AskList{});
    // A board that resets when its port opens needs a moment; ask again until it answers.
    for (const int after : {1500, 3000}) QTimer::singleShot(after, this, [this] {
        if (port_.isOpen() && !hello_) send(link::SayHello{}), send(link::AskList{});
    });
}

void TunePage::send(const link::Command& command) {
    if (port_.isOpen()) port_.write(QByteArray::fromStdString(link::encode(command) + "\n"));
}

void TunePage::stopEverything() { send(link::Stop{}); }

void TunePage::lost(const QString& why) {
    if (!port_.isOpen()) return;
    note_ = why;
    hello_ = false;
    port_.close();
    buildControls();
}

void TunePage::readPort() {
    const QByteArray bytes = port_.readAll();
    const int top = document_->model().plan.program && !document_->model().plan.program->outputs.empty() ? document_->model().plan.program->outputs.front().top : 256;
    for (auto& message : decoder_.feed({bytes.constData(), static_cast<std::size_t>(bytes.size())})) {
        if (const auto* t = std::get_if<link::Telemetry>(&message)) {
            last_ = *t;
            const double share = t->levels.empty() ? 0.0 : static_cast<double>(t->levels.front()) / top;
            telemetry_.push_back({t->time_ms / 1000.0, share, board_ != nullptr ? board_->observe().supply_current : 0.0, t->cues != 0});
            if (telemetry_.size() > 2'000'000) telemetry_.erase(telemetry_.begin(), telemetry_.begin() + 1'000'000);
        } else if (const auto* hello = std::get_if<link::Hello>(&message)) {
            hello_ = true;
            gadget_ = text(hello->gadget);
            const auto& sketch = document_->model().sketch;
            if (sketch && hello->plan != "interpreted" && sketch->text.find("from plan " + hello->plan + ",") == std::string::npos)
                note_ = tr("The board runs another plan (%1). Upload this one before you trust the numbers.").arg(text(hello->plan));
            send(link::Stream{true});
        } else if (const auto* p = std::get_if<link::ParameterLine>(&message)) {
            bool known = false;
            for (auto& mine : parameters_)
                if (mine.name == p->name) mine = *p, known = true;
            if (!known) parameters_.push_back(*p);
        } else if (const auto* name = std::get_if<link::NameLine>(&message)) {
            if (name->what == "input") inputs_.push_back(text(name->name));
        } else if (std::holds_alternative<link::End>(message)) {
            buildControls();
        } else if (const auto* done = std::get_if<link::Done>(&message)) {
            const QStringList parts = text(done->text).split(' ');
            for (auto& mine : parameters_)
                if (parts.size() == 2 && parts[0] == text(mine.name)) {
                    mine.value = parts[1].toInt();
                    if (auto* field = controls_->findChild<QLineEdit*>("param_" + parts[0])) field->setText(QString::number(mine.value));
                }
        } else if (const auto* refused = std::get_if<link::Refused>(&message)) {
            note_ = tr("The board refuses: %1.").arg(text(refused->text));
        }
    }
}

void TunePage::buildControls() {
    const auto& c = colours();
    while (auto* item = layout_->takeAt(0)) {
        if (item->widget() != nullptr) item->widget()->deleteLater();
        delete item;
    }
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(6));
    const auto label = [&](const QString& words_text, Text size, const QColor& colour) {
        auto* made = new QLabel(words_text);
        made->setFont(textFont(size));
        made->setWordWrap(true);
        made->setStyleSheet(QString("color: %1").arg(colour.name()));
        layout_->addWidget(made);
        return made;
    };
    label(tr("Running on"), Text::Small, c.soft);
    state_ = label(status(), Text::Body, c.ink);
    state_->setObjectName("tuneState");
    auto* start = new QPushButton(board_ != nullptr ? tr("Start the stand-in again") : tr("Start the stand-in"));
    start->setObjectName("startStandIn");
    start->setToolTip(tr("The emitted sketch on an emulated board, with your pump and tank."));
    connect(start, &QPushButton::clicked, this, &TunePage::startStandIn);
    layout_->addWidget(start);
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    where_ = new QLineEdit(port_.isOpen() ? port_.portName() : "/dev/ttyACM0");
    where_->setObjectName("portName");
    auto* open = new QPushButton(tr("Connect"));
    open->setObjectName("connectPort");
    connect(open, &QPushButton::clicked, this, [this] { connectTo(where_->text()); });
    row->addWidget(where_, 1);
    row->addWidget(open);
    layout_->addWidget(line);
    if (!parameters_.empty()) label(tr("Numbers, live"), Text::Small, c.soft);
    for (const auto& p : parameters_) {
        auto* holder = new QWidget;
        auto* inner = new QHBoxLayout(holder);
        inner->setContentsMargins(0, 0, 0, 0);
        auto* name = new QLabel(text(p.name).replace('_', ' ') + (p.unit == "permille" ? " ‰" : ", " + text(p.unit)));
        name->setFont(textFont(Text::Body));
        auto* field = new QLineEdit(QString::number(p.value));
        field->setObjectName("param_" + text(p.name));
        field->setAlignment(Qt::AlignRight);
        field->setFixedWidth(px(80));
        field->setToolTip(tr("%1 to %2").arg(p.least).arg(p.most));
        connect(field, &QLineEdit::editingFinished, this, [this, p, field] {
            if (!field->isModified()) return;
            field->setModified(false);
            bool whole = false;
            const int value = field->text().toInt(&whole);
            if (!whole || value < p.least || value > p.most) {
                note_ = tr("%1 takes whole numbers from %2 to %3.").arg(text(p.name)).arg(p.least).arg(p.most);
                field->setText(QString::number(this->value(text(p.name)).value_or(p.value)));
                return;
            }
            note_.clear();
            send(link::SetParameter{p.name, value});
        });
        inner->addWidget(name, 1);
        inner->addWidget(field);
        layout_->addWidget(holder);
    }
    if (board_ != nullptr && !inputs_.empty()) {
        label(tr("Its contacts"), Text::Small, c.soft);
        for (std::size_t i = 0; i < inputs_.size(); ++i) {
            auto* press = new QPushButton(inputs_[i]);
            press->setObjectName(QString("input_%1").arg(i));
            press->setCheckable(true);
            connect(press, &QPushButton::toggled, this, [this, i](bool on) {
                if (board_ != nullptr) board_->setInput(static_cast<int>(i), on);
            });
            layout_->addWidget(press);
        }
    }
    if (port_.isOpen()) {
        auto* cue = new QPushButton(tr("Start the cue over the link"));
        cue->setObjectName("startCue");
        connect(cue, &QPushButton::clicked, this, [this] { send(link::StartCue{0}); });
        layout_->addWidget(cue);
        auto* clock = new QPushButton(tr("Set its clock to now"));
        clock->setObjectName("setClock");
        connect(clock, &QPushButton::clicked, this, [this] { send(link::SetClock{QTime::currentTime().msecsSinceStartOfDay() / 1000}); });
        layout_->addWidget(clock);
        auto* keep = new QPushButton(tr("Keep this run in the log"));
        keep->setObjectName("keepRun");
        connect(keep, &QPushButton::clicked, this, &TunePage::keepRun);
        layout_->addWidget(keep);
    }
    auto* stop = new QPushButton(tr("Everything safe: space bar"));
    stop->setObjectName("stopAll");
    stop->setProperty("danger", true);
    stop->setFocusPolicy(Qt::NoFocus);
    connect(stop, &QPushButton::clicked, this, &TunePage::stopEverything);
    layout_->addWidget(stop);
    layout_->addStretch();
}

void TunePage::keepRun() {
    auto project = document_->model().project;
    std::vector<std::string> taken;
    for (const auto& entry : project.journal.entries) taken.push_back(entry.id);
    journal::Entry entry;
    entry.id = project::freshId("run", taken);
    entry.date = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString();
    entry.kind = journal::EntryKind::Run;
    entry.channel = channel_.toStdString();
    double on = 0.0, from = -1.0, peak = 0.0;
    for (const auto& sample : telemetry_) {
        peak = std::max(peak, sample.current);
        if (sample.share > 0.0 && from < 0.0) from = sample.time;
        if (sample.share <= 0.0 && from >= 0.0) on += sample.time - from, from = -1.0;
    }
    entry.text = "Run on " + (board_ != nullptr ? board_->what() : tr("the board")).toStdString() + ": on for " + display(Kind::Duration, on) + (board_ != nullptr ? ", poured " + display(Kind::Volume, board_->observe().poured) + ", peak " + display(Kind::Current, peak) : "");
    for (const auto& p : parameters_) entry.settings += (entry.settings.empty() ? "" : ", ") + p.name + " " + std::to_string(p.value) + " " + p.unit;
    project.journal.entries.push_back(std::move(entry));
    document_->replace(std::move(project));
    note_ = tr("Kept in the log.");
}

QRectF TunePage::chartBox() const {
    const double left = px(248);
    return QRectF(left + px(66), px(40), width() - left - px(90), height() - px(90));
}

void TunePage::resizeEvent(QResizeEvent*) {
    if (auto* scroll = findChild<QScrollArea*>("tuneControls")) scroll->setGeometry(0, 0, px(248), height());
}

void TunePage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(QRect(px(248), 0, width(), height()), c.card);
    const QRectF whole = chartBox();
    const double end = telemetry_.empty() ? 10.0 : std::max(10.0, telemetry_.back().time);
    const double begin = end - 10.0;
    const double gap = px(64);
    Axes upper{QRectF(whole.left(), whole.top(), whole.width(), (whole.height() - gap) * 0.5), begin, end, 0.0, 1.08};
    upper.draw(p, Kind::Duration, Kind::Fraction, tr("board's time"), tr("power to the pump"));
    const bool has_current = board_ != nullptr;
    double most = 0.1;
    for (const auto& s : telemetry_)
        if (s.time >= begin) most = std::max(most, s.current * 1.2);
    Axes lower{QRectF(whole.left(), upper.box.bottom() + gap, whole.width(), (whole.height() - gap) * 0.5), begin, end, 0.0, most};
    lower.draw(p, Kind::Duration, Kind::Current, tr("board's time"), has_current ? tr("current of the movers, by the plant") : tr("current: not measured by this board"));
    // At most two points a pixel column: the extremes.
    const auto line = [&](const Axes& axes, auto value, const QColor& colour) {
        QPolygonF points;
        double low = 0.0, high = 0.0;
        int column = -1;
        for (auto it = std::lower_bound(telemetry_.begin(), telemetry_.end(), begin, [](const Sample& s, double t) { return s.time < t; }); it != telemetry_.end(); ++it) {
            const double v = value(*it);
            const int here = static_cast<int>(axes.x(it->time));
            if (here != column) {
                if (column >= 0) points << QPointF(column, axes.y(low)) << QPointF(column, axes.y(high));
                column = here;
                low = high = v;
            }
            low = std::min(low, v);
            high = std::max(high, v);
        }
        if (column >= 0) points << QPointF(column, axes.y(low)) << QPointF(column, axes.y(high));
        p.setPen(QPen(colour, 2));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(points);
    };
    p.save();
    p.setClipRect(whole.adjusted(-2, -px(10), 2, px(4)));
    line(upper, [](const Sample& s) { return s.share; }, c.time);
    if (has_current) line(lower, [](const Sample& s) { return s.current; }, c.spark);
    p.restore();
    if (telemetry_.empty()) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(upper.box, Qt::AlignCenter, tr("Nothing has come over the link yet."));
    }
    if (board_ != nullptr) {
        // The tank beside the chart's foot, falling as it pours.
        const auto seen = board_->observe();
        p.setFont(textFont(Text::Figure));
        p.setPen(c.hinge);
        p.drawText(QRectF(whole.right() - px(260), px(8), px(260), px(22)), Qt::AlignRight, tr("poured %1, tank %2").arg(text(quantity::display(Kind::Volume, seen.poured)), text(quantity::display(Kind::Volume, seen.tank))));
    }
}

}  // namespace hinge::app
