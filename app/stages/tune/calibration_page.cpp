#include "stages/tune/calibration_page.hpp"
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include "pictures/chart.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "shell/typed.hpp"

namespace hinge::app {
namespace {

constexpr int shares = 20;           ///< steps of a sweep, each way
constexpr double rest_before = 1.2;  ///< s a share is held before it is read
constexpr double read_for = 0.6;     ///< s over which it is read

}  // namespace

CalibrationPage::CalibrationPage(Document* document, LinkSession* session, QWidget* parent)
    : QWidget(parent), document_(document), session_(session) {
    setObjectName("calibration");
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(px(18), px(10), px(18), px(10));
    layout_->setSpacing(px(6));
    turn_.setInterval(50);
    connect(&turn_, &QTimer::timeout, this, &CalibrationPage::turn);
}

void CalibrationPage::present(const QString& channel) {
    const auto& model = document_->model();
    const QString key = themeKey() + channel + (session_->connected() ? "c" : "o") + (session_->foreign() ? "f" : "");
    if (channel != channel_) run_ = -1, sweepAt_ = -1, found_.clear(), sweep_.clear();
    channel_ = channel;
    runs_ = plan::calibrationsFor(model.project, model.parts, model.plan, channel.toStdString());
    if (key == key_ && run_ >= 0) return;
    key_ = key;
    build();
}

const plan::CalibrationStep* CalibrationPage::step() const {
    if (run_ < 0 || static_cast<std::size_t>(run_) >= runs_.size() || step_ >= runs_[static_cast<std::size_t>(run_)].steps.size())
        return nullptr;
    return &runs_[static_cast<std::size_t>(run_)].steps[step_];
}

void CalibrationPage::begin(const QString& run) {
    for (std::size_t r = 0; r < runs_.size(); ++r)
        if (text(runs_[r].id) == run) run_ = static_cast<int>(r);
    step_ = 0;
    rate_ = 0;
    lastGood_ = 0.0;
    found_.clear();
    sweep_.clear();
    build();
}

void CalibrationPage::keep(const QString& path, const QString& value) {
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    if (channel == nullptr || path.isEmpty()) return;
    found_.push_back({path.toStdString(), value.toStdString()});
}

void CalibrationPage::next() {
    ++step_;
    const int output = session_->outputOf(channel_);
    if (step() == nullptr) return finish();
    if (run_ >= 0 && runs_[static_cast<std::size_t>(run_)].id == "servo-ends" && step()->does == plan::Does::Tell && found_.size() == 2) {
        const auto half = [this](std::size_t k) { return parseQuantity(Kind::Duration, found_[k].value).value_or(1.5e-3) * 2e6; };
        session_->drive(output, static_cast<int>(std::lround((half(0) + half(1)) / 2.0)), 800);
    }
    build();
}

void CalibrationPage::finish() {
    session_->letGoAll();
    const QString title = run_ >= 0 ? text(runs_[static_cast<std::size_t>(run_)].title) : QString();
    run_ = -1;
    if (!found_.empty()) {
        const QString why = document_->apply(found_);
        Q_EMIT said(why.isEmpty() ? tr("%1: kept in the project; the plan follows.").arg(title) : tr("%1 is not kept: %2").arg(title, why));
    }
    found_.clear();
    build();
}

void CalibrationPage::startSweep() {
    const int output = session_->outputOf(channel_);
    if (!session_->connected() || session_->foreign() || output < 0) return;
    sweep_.clear();
    sweepAt_ = 0;
    sweepFrom_ = session_->last().time_ms * 1e-3;
    session_->drive(output, 0);
    turn_.start();
    build();
}

// The sweep goes by the board's own time: each share is held, then read.
void CalibrationPage::turn() {
    if (sweepAt_ < 0) return turn_.stop();
    const auto* now = step();
    const int output = session_->outputOf(channel_);
    if (!session_->connected() || now == nullptr) {
        sweepAt_ = -1;
        turn_.stop();
        Q_EMIT said(tr("The sweep has ended early: the board has gone. Start it again when it is back."));
        return build();
    }
    const double time = session_->last().time_ms * 1e-3;
    if (time - sweepFrom_ < rest_before + read_for) return update();
    const auto signal = session_->signalOf(now->input);
    const auto& telemetry = session_->telemetry();
    double mean = 0.0;
    if (signal && !telemetry.empty()) {
        const std::size_t from = telemetry.from(time - read_for);
        for (std::size_t i = from; i < telemetry.size(); ++i)
            mean += static_cast<double>(telemetry.value(*signal, i)) / static_cast<double>(telemetry.size() - from);
    }
    const bool rising = sweepAt_ <= shares;
    sweep_.push_back({static_cast<double>(rising ? sweepAt_ : 2 * shares - sweepAt_) / shares, mean, rising});
    ++sweepAt_;
    if (sweepAt_ > 2 * shares) {
        sweepAt_ = -1;
        turn_.stop();
        session_->letGo(output);
        const auto result = plan::readSweep(sweep_);
        const QString path = "channels/" + channel_ + "/calibration/";
        keep(path + "speed_curve", text(plan::sweepText(sweep_)));
        if (result.start) keep(path + "start_duty", text(exactNumber(*result.start)));
        if (result.keep && *result.keep > 0.0) keep(path + "keep_duty", text(exactNumber(*result.keep)));
        return build();
    }
    sweepFrom_ = time;
    const int share = sweepAt_ <= shares ? sweepAt_ : 2 * shares - sweepAt_;
    session_->drive(output, share * 1000 / shares);
    update();
}

QPushButton* CalibrationPage::button(const QString& words_of, const QString& name, bool main, const std::function<void()>& pressed) {
    auto* made = new QPushButton(words_of);
    made->setObjectName(name);
    made->setFont(textFont(Text::Body));
    made->setProperty("main", main);
    connect(made, &QPushButton::clicked, this, pressed);
    return made;
}

void CalibrationPage::row(std::initializer_list<QWidget*> widgets) {
    auto* line = new QHBoxLayout;
    for (auto* widget : widgets) line->addWidget(widget);
    line->addStretch(1);
    layout_->addLayout(line);
}

// The runs that there are for this channel.
void CalibrationPage::buildChoice() {
    const auto& c = colours();
    layout_->addWidget(label(tr("What no data sheet says of this one"), Text::Sentence, c.ink));
    if (runs_.empty())
        layout_->addWidget(
            label(tr("Nothing is to be measured here: choose a part in Match first, or another channel."), Text::Body, c.soft));
    for (const auto& run : runs_) {
        auto* frame = barred(c.hinge, true);
        auto* inside = static_cast<QVBoxLayout*>(frame->layout());
        inside->addWidget(label(text(run.title), Text::Figure, c.ink));
        inside->addWidget(label(text(run.why), Text::Small, c.soft));
        auto* go = button(tr("Begin"), "calibrate_" + text(run.id), false, [this, id = text(run.id)] { begin(id); });
        auto* line = new QHBoxLayout;
        line->addWidget(go);
        line->addStretch(1);
        inside->addLayout(line);
        layout_->addWidget(frame);
    }
    layout_->addStretch(1);
    update();
}

void CalibrationPage::build() {
    clear(layout_);
    if (run_ < 0) return buildChoice();
    const auto& c = colours();
    const auto& run = runs_[static_cast<std::size_t>(run_)];
    const auto* now = step();
    layout_->addWidget(label(tr("%1 · step %2 of %3").arg(text(run.title)).arg(step_ + 1).arg(run.steps.size()), Text::Small, c.soft));
    layout_->addWidget(label(text(now->words), Text::Title, c.ink));
    layout_->addWidget(label(tr("Caution: %1").arg(text(run.caution)), Text::Body, c.breaks));
    const int output = session_->outputOf(channel_);
    const bool live = session_->connected() && !session_->foreign() && output >= 0;
    const bool needs = now->does == plan::Does::Nudge || now->does == plan::Does::Sweep || now->does == plan::Does::ThereAndBack ||
                       now->does == plan::Does::RunFor || now->does == plan::Does::TakeReading;
    auto* stop = button(tr("Leave this run"), "calibrationLeave", false, [this] {
        session_->letGoAll();
        sweepAt_ = -1;
        run_ = -1;
        found_.clear();
        build();
    });
    if (needs && !live) {
        layout_->addWidget(label(tr("This step needs the board, or its stand-in: start it at the left."), Text::Body, c.tight));
        row({stop});
        layout_->addStretch(1);
        return;
    }
    const Now at{*now, output, stop};
    switch (now->does) {
        case plan::Does::Tell: row({button(tr("Done, go on"), "calibrationNext", true, [this] { next(); }), stop}); break;
        case plan::Does::Nudge: stepNudge(at); break;
        case plan::Does::Sweep: stepSweep(at); break;
        case plan::Does::ThereAndBack: stepThereAndBack(at); break;
        case plan::Does::RunFor: stepRunFor(at); break;
        case plan::Does::TakeReading: stepTakeReading(at); break;
        case plan::Does::Type: stepType(at); break;
    }
    layout_->addStretch(1);
    update();
}

void CalibrationPage::stepNudge(const Now& at) {
    const auto& c = colours();
    const int output = at.output;
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setObjectName("calibrationNudge");
    slider->setRange(static_cast<int>(at.now.from), static_cast<int>(at.now.to));
    slider->setPageStep(std::max(1, slider->maximum() / 40));
    const bool pulse = at.now.kind == Kind::Duration;
    slider->setValue(pulse ? 3000 : slider->maximum());
    auto* shown = label("", Text::Title, c.hinge);
    shown->setObjectName("calibrationValue");
    const auto say = [shown, factor = at.now.per_unit, kind = at.now.kind](int value) {
        shown->setText(text(display(kind, value * factor, 4)));
    };
    say(slider->value());
    connect(slider, &QSlider::valueChanged, this, [this, output, pulse, say](int value) {
        session_->drive(output, value, pulse ? 60 : 1000);
        say(value);
    });
    session_->drive(output, slider->value(), pulse ? 600 : 1000);
    layout_->addWidget(shown);
    layout_->addWidget(slider);
    row({button(tr("It is here"), "calibrationTake", true,
                [this, slider, path = text(at.now.path), factor = at.now.per_unit, kind = at.now.kind] {
                    keep(path, kind == Kind::Fraction ? text(exactNumber(slider->value() * factor))
                                                      : text(exactNumber(slider->value() * factor)) + " s");
                    next();
                }),
         at.leave});
}

void CalibrationPage::stepSweep(const Now& at) {
    const auto& c = colours();
    const bool done = sweepAt_ < 0 && !sweep_.empty();
    if (done) {
        const auto result = plan::readSweep(sweep_);
        layout_->addWidget(label(result.start ? tr("It starts from %1 and stops again below %2; its curve bends by %3 of full.")
                                                    .arg(text(display(Kind::Fraction, *result.start, 2)),
                                                         text(display(Kind::Fraction, result.keep.value_or(0.0), 2)),
                                                         text(display(Kind::Fraction, result.bend, 2)))
                                              : tr("It never turned: is its tach wired, and does it have power?"),
                                 Text::Figure, c.hinge));
    }
    auto* again = button(sweepAt_ >= 0 ? tr("Sweeping…")
                         : done        ? tr("Sweep again")
                                       : tr("Sweep"),
                         "sweepStart", !done, [this] { startSweep(); });
    again->setEnabled(sweepAt_ < 0);
    auto* keeps = button(tr("Keep it"), "calibrationNext", done, [this] { next(); });
    keeps->setVisible(done);
    row({again, keeps, at.leave});
}

void CalibrationPage::stepThereAndBack(const Now& at) {
    const auto& c = colours();
    const int output = at.output;
    const auto* planned = plan::findChannel(document_->model().plan, channel_.toStdString());
    const double steps = planned != nullptr && planned->motion.steps ? si(*planned->motion.steps) : 1000.0;
    const double usual = planned != nullptr && planned->motion.peak_rate ? si(*planned->motion.peak_rate) : 1000.0;
    const double rate = usual * std::pow(1.25, rate_ - 2);
    layout_->addWidget(label(tr("At %1 at its fastest; the plan asks for %2.")
                                 .arg(text(display(Kind::Frequency, rate, 3)), text(display(Kind::Frequency, usual, 3))),
                             Text::Figure, c.time));
    const int ms = std::max(20, static_cast<int>(std::lround(2.0 * steps / rate * 1000.0)));
    const auto* program = document_->model().plan.program ? &*document_->model().plan.program : nullptr;
    const int start = program != nullptr ? program->outputs[static_cast<std::size_t>(output)].start : 0;
    const auto seen = session_->machineOf(output);
    if (seen)
        layout_->addWidget(label(
            seen->lost != 0.0 ? tr("The stand-in's rotor is %1 micro-steps away from where it is thought to be.").arg(seen->lost, 0, 'f', 0)
                              : tr("The stand-in's rotor is where it is thought to be."),
            Text::Body, seen->lost != 0.0 ? c.breaks : c.hinge));
    row({button(tr("Out"), "rateOut", true,
                [this, output, start, steps, ms] { session_->drive(output, start + static_cast<int>(steps), ms); }),
         button(tr("Back"), "rateBack", true,
                [this, output, start, ms] {
                    session_->drive(output, start, ms);
                    QTimer::singleShot(ms + 400, this, [this] {
                        if (run_ >= 0) build();
                    });
                }),
         button(tr("On its mark: faster"), "rateGood", false,
                [this, rate] {
                    lastGood_ = rate;
                    ++rate_;
                    build();
                }),
         button(tr("Off its mark"), "rateLost", false,
                [this, path = text(at.now.path)] {
                    if (lastGood_ > 0.0) keep(path, text(exactNumber(lastGood_)) + " Hz");
                    else Q_EMIT said(tr("It lost steps at the slowest rate: more current, a lighter load, or more time for the move."));
                    next();
                }),
         at.leave});
}

void CalibrationPage::stepRunFor(const Now& at) {
    const int output = at.output;
    row({button(tr("Run it for %1 s").arg(at.now.from, 0, 'g', 3), "calibrationRun", true,
                [this, output, time = at.now.from, path = text(at.now.path)] {
                    session_->drive(output, 1000);
                    QTimer::singleShot(static_cast<int>(time * 1000.0), this, [this, output, time, path] {
                        session_->letGo(output);
                        if (run_ < 0) return;
                        if (!path.isEmpty()) keep(path, text(exactNumber(time)) + " s");
                        next();
                    });
                }),
         at.leave});
}

void CalibrationPage::stepTakeReading(const Now& at) {
    const auto& c = colours();
    const auto signal = session_->signalOf(at.now.input);
    const auto& telemetry = session_->telemetry();
    const double reading = signal && !telemetry.empty() ? static_cast<double>(telemetry.value(*signal, telemetry.size() - 1)) : -1.0;
    layout_->addWidget(label(reading >= 0.0 ? tr("It reads %1 now.").arg(reading, 0, 'f', 0) : tr("Nothing has come over the link yet."),
                             Text::Title, c.hinge));
    row({button(tr("Take it"), "calibrationTake", true,
                [this, signal, path = text(at.now.path)] {
                    const auto& now_telemetry = session_->telemetry();
                    if (!signal || now_telemetry.empty()) return;
                    // The mean of the last half second: a reading flickers.
                    const std::size_t from = now_telemetry.from(now_telemetry.time(now_telemetry.size() - 1) - 0.5);
                    double mean = 0.0;
                    for (std::size_t i = from; i < now_telemetry.size(); ++i)
                        mean += static_cast<double>(now_telemetry.value(*signal, i)) / static_cast<double>(now_telemetry.size() - from);
                    keep(path, QString::number(std::lround(mean)));
                    next();
                }),
         button(tr("Look again"), "calibrationLook", false, [this] { build(); }), at.leave});
}

void CalibrationPage::stepType(const Now& at) {
    const auto& c = colours();
    auto* field = new QLineEdit;
    field->setObjectName("calibrationTyped");
    field->setAccessibleName(tr("What you read"));
    field->setFont(textFont(Text::Title));
    field->setMaximumWidth(px(220));
    layout_->addWidget(field);
    auto* problem = label("", Text::Body, c.breaks);
    problem->setObjectName("calibrationProblem");
    layout_->addWidget(problem);
    const auto take = [this, field, problem, path = text(at.now.path), kind = at.now.kind] {
        const auto value = parseQuantity(kind, typedNumber(field->text()));
        if (!value) return problem->setText(words(value.error()));
        keep(path, text(exactText(kind, *value)));
        next();
    };
    connect(field, &QLineEdit::returnPressed, this, take);
    row({button(tr("Keep it"), "calibrationNext", true, take), at.leave});
    field->setFocus();
}

void CalibrationPage::paintEvent(QPaintEvent*) {
    const bool sweeps = run_ >= 0 && step() != nullptr && step()->does == plan::Does::Sweep;
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    auto points = sweep_;
    if (points.empty() && channel != nullptr && (sweeps || run_ < 0)) points = plan::sweepPoints(channel->calibration.speed_curve);
    if (points.empty() && !sweeps) return;
    if (run_ < 0 && points.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const double top = std::max(height() * 0.44, static_cast<double>(height() - px(330)));
    double most = 1.0;
    for (const auto& point : points) most = std::max(most, point.reading);
    const Axes axes{QRectF(px(60), top, width() - px(90), height() - top - px(46)), 0.0, 1.0, 0.0, most * 1.1};
    axes.draw(p, Kind::Fraction, Kind::Count, tr("share of full power"), tr("its tach: counts in a period"));
    const auto result = plan::readSweep(points);
    if (result.start) {
        p.setPen(Qt::NoPen);
        p.setBrush(c.sparkTint);
        p.drawRect(QRectF(axes.at(0.0, axes.y1), axes.at(*result.start, 0.0)));
        say(p, {axes.x(*result.start / 2.0), axes.box.top() + px(20)}, tr("dead"), Text::Small, c.spark, Qt::AlignHCenter);
        p.setPen(QPen(c.ink, 1.4));
        p.drawLine(axes.at(*result.start, 0.0), axes.at(*result.start, axes.y1));
        say(p, {axes.x(*result.start) + px(6), axes.box.top() + px(20)},
            tr("starts at %1").arg(text(display(Kind::Fraction, *result.start, 2))), Text::Small, c.ink, Qt::AlignLeft, true);
    }
    for (const bool rising : {true, false}) {
        QPolygonF line;
        for (const auto& point : points)
            if (point.rising == rising) line << axes.at(point.share, point.reading);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(c.hinge, rising ? 2.2 : 1.4, rising ? Qt::SolidLine : Qt::DashLine));
        p.drawPolyline(line);
        p.setBrush(rising ? c.hinge : c.card);
        for (const auto& point : line) p.drawEllipse(point, px(2.5), px(2.5));
        // Each named where the two part: right of the way up, left of the way down.
        for (const auto& point : points)
            if (point.rising == rising &&
                (rising ? result.start && point.share == *result.start : result.keep && point.share == *result.keep))
                say(p, axes.at(point.share, point.reading) + QPointF(rising ? px(10) : -px(10), rising ? px(20) : -px(4)),
                    rising ? tr("going up") : tr("going down"), Text::Small, c.hinge, rising ? Qt::AlignLeft : Qt::AlignRight, true);
    }
    if (sweepAt_ >= 0)
        say(p, {axes.box.right(), axes.box.top() - px(6)}, tr("%1 of %2 shares read").arg(sweep_.size()).arg(2 * shares + 1), Text::Figure,
            c.time, Qt::AlignRight);
}

}  // namespace hinge::app
