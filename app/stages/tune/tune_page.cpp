#include "stages/tune/tune_page.hpp"
#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QStackedWidget>
#include <QTime>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "stages/need/mechanism.hpp"
#include "stages/tune/gain_track.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

constexpr std::size_t trials_drawn = 3;  ///< earlier ones in the picture

}  // namespace

TunePage::TunePage(Document* document, QWidget* parent) : QWidget(parent), document_(document), session_(document) {
    setObjectName("tune");
    controls_ = new QWidget;
    layout_ = new QVBoxLayout(controls_);
    scroll_ = scrolled(controls_);
    scroll_->setObjectName("tuneControls");
    scroll_->setParent(this);
    stop_ = new QPushButton(tr("Everything safe: space bar"), this);
    stop_->setObjectName("stopAll");
    stop_->setProperty("danger", true);
    stop_->setFocusPolicy(Qt::NoFocus);
    connect(stop_, &QPushButton::clicked, this, &TunePage::stopEverything);
    makeTabs();
    stack_ = new QStackedWidget(this);
    response_ = new ResponsePicture(document_);
    strip_ = new StripChart;
    calibration_ = new CalibrationPage(document_, &session_);
    for (QWidget* page : {static_cast<QWidget*>(response_), static_cast<QWidget*>(strip_), static_cast<QWidget*>(calibration_)})
        stack_->addWidget(page);
    connect(calibration_, &CalibrationPage::said, this, [this](const QString& words) {
        said_ = words;
        Q_EMIT document_->said(words);
    });
    right_ = new QWidget(this);
    rightLayout_ = new QVBoxLayout(right_);
    connect(&session_, &LinkSession::reshaped, this, [this] {
        built_.clear();
        build();
        calibration_->present(channel_);
        showLanes();
    });
    connect(&session_, &LinkSession::trialEnded, this, [this](const QString& id) {
        if (session_.trial().kind == "open") return fitOpen(session_.trial());
        readTrials();
        now_ = id;
        built_.clear();
        build();
        refresh();
    });
    connect(&session_, &LinkSession::confirmed, this, [this](const QString& name, int value) {
        if (auto* field = controls_->findChild<QLineEdit*>("param_" + name)) field->setText(QString::number(value));
        if (auto* slider = controls_->findChild<QSlider*>("slider_" + name); slider != nullptr && !slider->isSliderDown()) {
            const QSignalBlocker quiet(slider);
            slider->setValue(value);
        }
    });
    repaint_.setInterval(16);
    connect(&repaint_, &QTimer::timeout, this, [this] {
        if (!isVisible()) return;
        if (state_ != nullptr && state_->text() != session_.status()) state_->setText(session_.status());
        if (aired_ != nullptr && session_.board() != nullptr)
            if (const auto answer = text(session_.board()->radioAnswer()).simplified(); aired_->text() != answer) aired_->setText(answer);
        if (view_ == View::Strip && session_.connected()) strip_->update();
        if (session_.connected()) update(QRect(width() - rightWidth(), 0, rightWidth(), height()));
    });
    repaint_.start();
    poll_.setInterval(50);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (searching_.valid() && searching_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
    refresh_.setSingleShot(true);
    refresh_.setInterval(30);
    connect(&refresh_, &QTimer::timeout, this, &TunePage::refresh);
    qApp->installEventFilter(this);
    showView(View::Strip);
}

void TunePage::makeTabs() {
    tabRow_ = new QWidget(this);
    auto* row = new QHBoxLayout(tabRow_);
    row->setContentsMargins(px(10), px(2), px(10), px(2));
    const std::pair<const char*, QString> views[] = {{"tuneResponse", tr("Response")},
                                                     {"tuneStrip", tr("Strip chart")},
                                                     {"tuneCalibrate", tr("Calibrate")},
                                                     {"tunePractice", tr("Practice")}};
    for (std::size_t i = 0; i < std::size(views); ++i) {
        auto* tab = new QPushButton(views[i].second);
        tab->setObjectName(views[i].first);
        tab->setCheckable(true);
        connect(tab, &QPushButton::clicked, this, [this, i] {
            chosen_ = true;
            showView(static_cast<View>(i));
        });
        row->addWidget(tab);
        tabs_.push_back(tab);
    }
    row->addStretch(1);
}

TunePage::~TunePage() {
    cancel_ = true;
    if (searching_.valid()) searching_.wait();
}

// Space stops everything, whatever has the focus, but where words are typed; Enter presses what has it.
bool TunePage::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && isVisible() && watched == QApplication::focusWidget()) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Space && key->modifiers() == Qt::NoModifier && qobject_cast<QLineEdit*>(watched) == nullptr) {
            stopEverything();
            return true;
        }
        if (auto* button = qobject_cast<QPushButton*>(watched);
            button != nullptr && isAncestorOf(button) && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
            button->click();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void TunePage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_B && event->modifiers() == Qt::NoModifier) return goBackToBest();
    QWidget::keyPressEvent(event);
}

const routine::Loop* TunePage::loop() const {
    for (const auto& each : document_->model().project.routine.loops)
        if (text(each.channel) == channel_) return &each;
    return nullptr;
}

void TunePage::present(const QString& channel) {
    const bool other = channel != channel_;
    channel_ = channel;
    if (other) chosen_ = chosen_ && view_ == View::Practice;
    const auto& model = document_->model();
    const auto* held = loop();
    case_.reset();
    if (held != nullptr) {
        if (auto made = plan::loopCase(model.project, model.parts, model.plan, held->id)) case_ = std::move(*made);
        if (other || !draft_ || draft_->id != held->id) guide_ = control::GuideStep::RaiseP, now_.clear();
        // Gains that were moved and not kept stay on their tracks until the project's own change.
        if (other || !draft_ || draft_->id != held->id || !session_.connected()) draft_ = *held;
    } else {
        draft_.reset();
    }
    readTrials();
    if (!chosen_) showView(case_ ? View::Response : View::Strip);
    built_.clear();
    build();
    calibration_->present(channel_);
    showLanes();
    refresh();
}

void TunePage::showView(View view) {
    view_ = view;
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(static_cast<int>(i) == static_cast<int>(view));
    stack_->setCurrentIndex(view == View::Strip ? 1 : view == View::Calibrate ? 2 : 0);
    built_.clear();
    build();
    refresh();
    resizeEvent(nullptr);
}

int TunePage::controlsWidth() const {
    return px(248);
}
int TunePage::rightWidth() const {
    return view_ == View::Calibrate ? 0 : width() < px(980) ? px(190) : px(250);
}

QString TunePage::sentence() const {
    if (view_ == View::Practice) {
        const auto& list = control::exercises();
        return exercise_ < static_cast<int>(list.size()) ? text(list[static_cast<std::size_t>(exercise_)].task) : QString();
    }
    if (view_ == View::Calibrate) {
        const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
        return channel != nullptr ? tr("%1: measure what no data sheet says, and the plan follows.").arg(text(channel->name)) : QString();
    }
    return view_ == View::Response && case_ ? response_->view().sentence : QString();
}

QString TunePage::hint() const {
    switch (view_) {
        case View::Response:
            return case_ ? (case_->setup.rolls
                                ? tr("Dashed: upright. Tinted: ten counts to both sides. Dotted: the model. Half way it is shoved.")
                                : tr("Dashed: what you asked for. Tinted: your target band. Grey: earlier trials. Press and drag to "
                                     "measure."))
                         : tr("No loop holds this channel: Routine can add one.");
        case View::Strip: return tr("Connect, change a number, watch the answer.");
        case View::Calibrate: return tr("Short runs, one at a time; what they find can be undone.");
        case View::Practice: return tr("Move a gain: the machine answers at once. The target is the tinted band.");
    }
    return {};
}

void TunePage::readTrials() {
    trials_.clear();
    const auto* held = loop();
    if (held == nullptr) return;
    for (auto& trial : store::readTrials(session_.trialFolder()).list)
        if (trial.loop == held->id && trial.kind == "step") trials_.push_back(std::move(trial));
}

control::ParallelGains TunePage::gains() const {
    if (practising()) return tried_;
    return draft_ && case_ ? plan::pidOf(*draft_, case_->setup.rolls).gains : control::ParallelGains{};
}

// ---- What the gains do ------------------------------------------------------------------------

void TunePage::refresh() {
    plan::LoopCase shown;
    QString name;
    control::PidFigures pid;
    if (practising()) {
        const auto& list = control::exercises();
        if (exercise_ >= static_cast<int>(list.size())) return;
        const auto& exercise = list[static_cast<std::size_t>(exercise_)];
        shown.setup = exercise.setup;
        shown.target = exercise.target;
        pid = exercise.setup.pid;
        pid.gains = tried_;
        auto setup = exercise.setup;
        setup.pid = pid;
        score_ = control::scoreOf(exercise, control::runLoop(setup), tried_, hints_);
        name = text(exercise.title);
    } else if (case_ && draft_) {
        shown = *case_;
        pid = plan::pidOf(*draft_, case_->setup.rolls);
        const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
        name = case_->setup.rolls ? text(document_->model().project.brief.name) : channel != nullptr ? text(channel->name) : QString();
    } else {
        response_->display({});
        buildRight();
        Q_EMIT told();
        return;
    }
    // The run that is told about, and a few others behind it: the best, then the newest.
    std::vector<journal::Trial> drawn;
    if (!practising()) {
        const int best = bestTrial(shown, trials_);
        for (int i = static_cast<int>(trials_.size()) - 1; i >= 0; --i) {
            const auto& trial = trials_[static_cast<std::size_t>(i)];
            if (text(trial.id) == now_ || i == best || drawn.size() < trials_drawn) drawn.push_back(trial);
        }
        std::reverse(drawn.begin(), drawn.end());
    }
    shown.setup.pid = pid;
    auto view = responseView(name, shown, pid, drawn, practising() ? QString() : now_);
    if (practising()) view.matter = text(score_.words.matter), view.advice = text(score_.words.advice);
    response_->display(std::move(view));
    const auto straight = plan::straightenedFor(shown);
    for (const auto& [which, track] : tracks_) {
        if (!straight) continue;
        // Where it holds, the other gains standing: looked for along the whole track.
        double from = 1.0, to = 0.0;
        for (int k = 0; k <= 48; ++k) {
            const double at = track->valueAt(k / 48.0);
            auto other = pid;
            if (practising()) {
                (which == 'P' ? other.gains.proportional : which == 'I' ? other.gains.integral : other.gains.derivative) = at;
            } else {
                auto moved = *draft_;
                (which == 'P' ? moved.proportional : which == 'I' ? moved.integral : moved.derivative) = of<Ratio>(at);
                other.gains = plan::pidOf(moved, shown.setup.rolls).gains;
            }
            const bool holds = control::isStable(*straight, other);
            if (holds && from > to) from = at, to = at;
            else if (holds) to = at;
            else if (from <= to) break;
        }
        track->setHolds(from, to);
    }
    buildRight();
    Q_EMIT told();
}

void TunePage::buildRight() {
    clear(rightLayout_);
    right_->setVisible(rightWidth() > 0 && (view_ == View::Response || view_ == View::Practice));
    if (!right_->isVisibleTo(this)) return;
    const auto& c = colours();
    rightLayout_->setContentsMargins(px(12), px(10), px(12), px(6));
    rightLayout_->setSpacing(px(6));
    const auto& v = response_->view();
    if (v.curves.empty()) {
        rightLayout_->addStretch(1);
        return;
    }
    rightLayout_->addWidget(label(practising()     ? tr("What this response says")
                                  : now_.isEmpty() ? tr("What the model says")
                                                   : tr("What this response says"),
                                  Text::Small, c.soft));
    auto* matter = label(v.matter, Text::Figure, c.ink);
    matter->setObjectName("responseMatter");
    rightLayout_->addWidget(matter);
    auto* advice = label(v.advice, Text::Body, c.ink);
    advice->setObjectName("responseAdvice");
    rightLayout_->addWidget(advice);
    for (const auto& fact : v.facts) {
        auto* frame = barred(fact.family == ResponseFact::Family::Time ? c.time : c.hinge);
        auto* inside = static_cast<QVBoxLayout*>(frame->layout());
        inside->setContentsMargins(px(8), px(1), 0, px(1));
        inside->setSpacing(0);
        inside->addWidget(label(fact.meaning, Text::Small, c.soft));
        inside->addWidget(label(fact.figure, Text::Body, c.ink));
        if (!fact.small.isEmpty()) inside->addWidget(label(fact.small, Text::Small, c.soft));
        rightLayout_->addWidget(frame);
    }
    rightLayout_->addStretch(1);
}

void TunePage::setGain(char which, double value) {
    takeGain(which, value);
}

void TunePage::takeGain(char which, double value) {
    if (!std::isfinite(value)) return;
    if (practising()) {
        (which == 'P' ? tried_.proportional : which == 'I' ? tried_.integral : tried_.derivative) = value;
    } else if (draft_) {
        const double kept = std::round(std::clamp(value, -100.0, 100.0) * 256.0) / 256.0;
        (which == 'P' ? draft_->proportional : which == 'I' ? draft_->integral : draft_->derivative) = of<Ratio>(kept);
        value = kept;
        now_.clear();
        sendGains();
    }
    for (const auto& [letter, field] : fields_)
        if (letter == which) field->setText(number(value)), field->setModified(false);
    for (const auto& [letter, track] : tracks_)
        if (letter == which) track->setValue(value);
    refresh_.start();
}

// To the board, for every loop that reads the same input: two wheels of one body have the same gains.
void TunePage::sendGains() {
    if (!session_.connected() || !draft_) return;
    for (const auto& each : document_->model().project.routine.loops) {
        if (each.input != draft_->input) continue;
        const QString id = text(routine::symbol(each.id));
        const auto send = [&](const char* name, double gain) {
            const int wanted = static_cast<int>(std::lround(std::clamp(gain, -100.0, 100.0) * 256.0));
            if (session_.value(id + name) && session_.value(id + name) != wanted) session_.change(id + name, QString::number(wanted));
        };
        send("_proportional", si(draft_->proportional));
        send("_integral", si(draft_->integral));
        send("_derivative", si(draft_->derivative));
    }
}

void TunePage::keepGains() {
    if (!draft_) return;
    std::vector<project::FactEdit> edits;
    for (const auto& each : document_->model().project.routine.loops) {
        if (each.input != draft_->input) continue;
        const std::string path = "routine/loops/" + each.id + "/";
        edits.push_back({path + "proportional", exactNumber(si(draft_->proportional))});
        edits.push_back({path + "integral", exactNumber(si(draft_->integral))});
        edits.push_back({path + "derivative", exactNumber(si(draft_->derivative))});
    }
    const QString why = document_->apply(edits);
    said_ = why.isEmpty() ? tr("The gains are in the project: the sketch that is made from now on has them.")
                          : tr("The gains are not kept: %1").arg(why);
    Q_EMIT document_->said(said_);
}

void TunePage::goBackToBest() {
    if (!case_ || !draft_) return;
    const int best = bestTrial(*case_, trials_);
    if (best < 0) return;
    const auto& trial = trials_[static_cast<std::size_t>(best)];
    const std::string id = routine::symbol(draft_->id) + "_";
    for (const auto& setting : trial.settings) {
        const auto is = [&](const char* name) { return setting.name == id + name; };
        if (is("proportional")) takeGain('P', setting.value / 256.0);
        else if (is("integral")) takeGain('I', setting.value / 256.0);
        else if (is("derivative")) takeGain('D', setting.value / 256.0);
        else if (session_.connected() && session_.value(text(setting.name)) && *session_.value(text(setting.name)) != setting.value)
            session_.change(text(setting.name), QString::number(setting.value));
    }
    now_ = text(trial.id);
    said_ = tr("Back to %1.").arg(text(trial.id).replace('-', ' '));
    Q_EMIT document_->said(said_);
    refresh();
}

// ---- Pictures ---------------------------------------------------------------------------------

// What the strip chart shows of this channel: its drive, what its loop reads, and the movers' current.
void TunePage::showLanes() {
    const auto& c = colours();
    const auto& model = document_->model();
    std::vector<StripLane> lanes;
    const int output = session_.outputOf(channel_);
    const auto* decided = project::findChannel(model.project, channel_.toStdString());
    const auto* planned = plan::findChannel(model.plan, channel_.toStdString());
    const QString name = decided != nullptr ? text(decided->name) : tr("the channel");
    const auto* held = loop();
    if (output >= 0) {
        const bool placed = planned != nullptr && plan::isPlaced(*planned);
        lanes.push_back({static_cast<std::size_t>(output), placed ? tr("place of %1 in its move").arg(name) : tr("power to %1").arg(name),
                         100.0, 0.0, "%", placed ? c.hinge : c.time});
    }
    std::size_t at = model.plan.program ? model.plan.program->outputs.size() : 0;
    for (std::size_t i = 0; model.plan.program && i < model.plan.program->inputs.size(); ++i) {
        const auto& read = model.plan.program->inputs[i];
        if (!routine::isMeasured(read)) continue;
        const auto* input = project::findInput(model.project, read.id);
        const bool mine = held != nullptr && held->input == read.id;
        if (input != nullptr && (mine || held == nullptr) && lanes.size() < 3) {
            const auto scale = plan::scaleOf(model.project, model.parts, *input, held != nullptr ? si(held->period) : 0.0);
            StripLane lane{at, text(input->name), scale.per_count, scale.zero, tr("counts"), c.hinge, true};
            if (scale.kind == Kind::RotationSpeed) lane.factor = scale.per_count * 60.0 / (2.0 * constants::pi), lane.unit = "rpm";
            else if (scale.kind == Kind::Temperature) lane.zero = scale.zero - 273.15, lane.unit = "°C", lane.fromZero = false;
            else if (scale.kind == Kind::Angle)
                lane.factor = scale.per_count * 180.0 / constants::pi, lane.zero = scale.zero * 180.0 / constants::pi, lane.unit = "°";
            else lane.factor = 1.0, lane.zero = 0.0;
            lanes.push_back(lane);
        }
        ++at;
    }
    if (session_.board() != nullptr && session_.telemetry().signals() > 0)
        lanes.push_back({session_.currentSignal(), tr("current of the movers, by the plants' model"), 1000.0, 0.0, "mA", c.spark});
    strip_->setWaiting(output < 0 && session_.connected()
                           ? tr("No cue drives %1 yet: see Routine.").arg(name)
                           : tr("Nothing has come over the link yet. Start the stand-in, or connect a board that runs the sketch."));
    strip_->show(&session_.telemetry(), std::move(lanes));
}

void TunePage::resizeEvent(QResizeEvent*) {
    // The stop stays in sight whatever the list above it does.
    scroll_->setGeometry(0, 0, controlsWidth(), height() - px(48));
    stop_->setGeometry(px(14), height() - px(40), controlsWidth() - px(26), px(32));
    const int left = controlsWidth() + 1, wide = width() - left, bar = px(38);
    const int side = view_ == View::Calibrate || (view_ == View::Strip && session_.board() == nullptr) ? 0 : rightWidth();
    tabRow_->setGeometry(left, 0, wide, bar);
    stack_->setGeometry(left, bar, wide - side, height() - bar);
    // Under the words there is room for the gadget itself.
    right_->setGeometry(width() - side, bar, side, std::max(px(150), height() - bar - px(view_ == View::Practice ? 140 : 225)));
}

}  // namespace hinge::app
