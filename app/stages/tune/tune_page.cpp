#include "stages/tune/tune_page.hpp"
#include "control/step_fit.hpp"
#include "control/tuning_rules.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "shell/wrap_row.hpp"
#include "stages/need/mechanism.hpp"
#include "stages/tune/gain_track.hpp"
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSerialPortInfo>
#include <QSlider>
#include <QStackedWidget>
#include <QTime>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hinge::app {
namespace {

constexpr std::size_t trials_shown = 5;
constexpr std::size_t trials_drawn = 3;   ///< earlier ones in the picture

QString number(double value) { return text(significant(value, 3)); }

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
    tabRow_ = new QWidget(this);
    auto* row = new QHBoxLayout(tabRow_);
    row->setContentsMargins(px(10), px(2), px(10), px(2));
    const std::pair<const char*, QString> views[] = {{"tuneResponse", tr("Response")}, {"tuneStrip", tr("Strip chart")}, {"tuneCalibrate", tr("Calibrate")}, {"tunePractice", tr("Practice")}};
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
    stack_ = new QStackedWidget(this);
    response_ = new ResponsePicture(document_);
    strip_ = new StripChart;
    calibration_ = new CalibrationPage(document_, &session_);
    for (QWidget* page : {static_cast<QWidget*>(response_), static_cast<QWidget*>(strip_), static_cast<QWidget*>(calibration_)}) stack_->addWidget(page);
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
        if (auto* button = qobject_cast<QPushButton*>(watched); button != nullptr && isAncestorOf(button) && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
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

int TunePage::controlsWidth() const { return px(248); }
int TunePage::rightWidth() const { return view_ == View::Calibrate ? 0 : width() < px(980) ? px(190) : px(250); }

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
        case View::Response: return case_ ? (case_->setup.rolls ? tr("Dashed: upright. Tinted: ten counts to both sides. Dotted: the model. Half way it is shoved.") : tr("Dashed: what you asked for. Tinted: your target band. Grey: earlier trials. Press and drag to measure.")) : tr("No loop holds this channel: Routine can add one.");
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
    rightLayout_->addWidget(label(practising() ? tr("What this response says") : now_.isEmpty() ? tr("What the model says") : tr("What this response says"), Text::Small, c.soft));
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

void TunePage::setGain(char which, double value) { takeGain(which, value); }

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
        const QString id = text(routine::identifier(each.id));
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
    said_ = why.isEmpty() ? tr("The gains are in the project: the sketch that is made from now on has them.") : tr("The gains are not kept: %1").arg(why);
    Q_EMIT document_->said(said_);
}

void TunePage::goBackToBest() {
    if (!case_ || !draft_) return;
    const int best = bestTrial(*case_, trials_);
    if (best < 0) return;
    const auto& trial = trials_[static_cast<std::size_t>(best)];
    const std::string id = routine::identifier(draft_->id) + "_";
    for (const auto& setting : trial.settings) {
        const auto is = [&](const char* name) { return setting.name == id + name; };
        if (is("proportional")) takeGain('P', setting.value / 256.0);
        else if (is("integral")) takeGain('I', setting.value / 256.0);
        else if (is("derivative")) takeGain('D', setting.value / 256.0);
        else if (session_.connected() && session_.value(text(setting.name)) && *session_.value(text(setting.name)) != setting.value) session_.change(text(setting.name), QString::number(setting.value));
    }
    now_ = text(trial.id);
    said_ = tr("Back to %1.").arg(text(trial.id).replace('-', ' '));
    Q_EMIT document_->said(said_);
    refresh();
}

void TunePage::search(control::Cost cost) {
    if (searching_.valid()) return;
    control::SearchAsk ask;
    if (practising()) {
        const auto& exercise = control::exercises()[static_cast<std::size_t>(exercise_)];
        ask = {exercise.setup, exercise.target, cost};
        ask.setup.pid.gains = tried_;
        ask.variation = 0;
    } else if (case_ && draft_) {
        ask = {case_->setup, case_->target, cost};
        ask.setup.pid = plan::pidOf(*draft_, case_->setup.rolls);
    } else {
        return;
    }
    cancel_ = false;
    ask.cancel = &cancel_;
    searching_ = std::async(std::launch::async, [ask] { return control::searchGains(ask); });
    poll_.start();
    built_.clear();
    build();
}

void TunePage::settle() {
    if (searching_.valid()) searching_.wait(), collect();
    if (refresh_.isActive()) refresh_.stop(), refresh();
}

void TunePage::collect() {
    poll_.stop();
    const auto found = searching_.get();
    if (!found) {
        said_ = found.error().code == ErrorCode::Cancelled ? tr("The search was stopped; the gains are as they were.") : tr("The search found nothing: %1").arg(words(found.error()));
        Q_EMIT document_->said(said_);
    } else {
        if (practising()) {
            const auto g = found->pid.gains;
            takeGain('P', g.proportional), takeGain('I', g.integral), takeGain('D', g.derivative);
            hints_ = 8;   // found for you: it does not count
        } else if (draft_ && case_) {
            auto moved = *draft_;
            plan::takeGains(moved, found->pid.gains, case_->setup.rolls);
            takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', si(moved.derivative));
        }
        said_ = tr("%1 runs of the model: its cost fell from %2 to %3, also for two machines that are a little off. Try the gains on the board.").arg(found->trials).arg(found->before >= 1e5 ? tr("hopeless") : number(found->before), number(found->cost));
        Q_EMIT document_->said(said_);
    }
    built_.clear();
    build();
    refresh();
}

// One step in the maker's order, from what the model or the last trial showed.
void TunePage::lead() {
    if (!case_ || !draft_) return;
    auto setup = case_->setup;
    setup.pid = plan::pidOf(*draft_, setup.rolls);
    std::optional<control::Response> seen;
    for (const auto& trial : trials_)
        if (text(trial.id) == now_) seen = control::readResponse(rowsOf(trial), case_->target, setup.pid.least, setup.pid.most);
    if (!seen) seen = control::readResponse(control::runLoop(setup).rows, case_->target, setup.pid.least, setup.pid.most);
    if (setup.pid.gains == control::ParallelGains{}) guide_ = control::GuideStep::RaiseP, seen.reset();
    const double first = 0.1 * setup.pid.most / std::max(1.0, std::abs(setup.wanted - setup.before));
    const auto next = control::guide(guide_, setup.pid.gains, seen, case_->target, first, setup.pid.period);
    guide_ = next.step;
    auto moved = *draft_;
    plan::takeGains(moved, next.next, setup.rolls);
    takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', si(moved.derivative));
    said_ = text(next.words);
    Q_EMIT document_->said(said_);
    built_.clear();
    build();
}

// The relay experiment on the model, and the rule that it leads to.
void TunePage::runRelay() {
    if (!case_ || !draft_ || case_->setup.rolls) return;
    auto setup = case_->setup;
    setup.before = setup.wanted;
    setup.length = 20.0 * std::max(case_->target.settle_within, 10.0 * setup.pid.period);
    const double middle = (setup.pid.least + setup.pid.most) / 2.0, swing = (setup.pid.most - setup.pid.least) / 2.0;
    const auto reading = control::readRelay(control::runRelay(setup, middle, swing, 0.5).rows);
    if (!reading) {
        said_ = tr("The relay did not make it swing four times: its wanted reading cannot be reached, or its period is too long.");
    } else {
        control::RelayTune in;
        in.output_amplitude = of<Ratio>(swing), in.response_amplitude = of<Ratio>(std::max(0.5, reading->amplitude)), in.period = of<Duration>(reading->period);
        in.controller = control::Controller::Pi, in.rule = control::RelayRule::TyreusLuyben;
        if (const auto tuned = control::relayTune(in)) {
            auto moved = *draft_;
            plan::takeGains(moved, {si(tuned->result.kp), si(tuned->result.ki), 0.0}, false);
            takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', 0.0);
            said_ = tr("Relay: swings of %1 counts every %2; its ultimate gain is %3. PI by Tyreus and Luyben.").arg(number(reading->amplitude), text(display(Kind::Duration, reading->period, 2)), number(si(tuned->result.ultimate_gain)));
        }
    }
    Q_EMIT document_->said(said_);
    built_.clear();
    build();
}

// First order with dead time through an open step, and the rule that it leads to: on the board when there is one, on the model otherwise.
void TunePage::fitStep() {
    if (!case_ || !draft_ || case_->setup.rolls) return;
    const double share = 0.5 * case_->setup.pid.most;
    if (session_.connected() && !session_.foreign()) {
        session_.startStep(text(draft_->id), 6.0 * case_->target.settle_within, static_cast<int>(std::lround(share * 1000.0)));
        return;
    }
    auto setup = case_->setup;
    setup.length = setup.step_at + 6.0 * case_->target.settle_within;
    bool on = false;
    journal::Trial trial;
    const auto run = control::runLoop(setup, [&](double wanted, double, double) {
        on = on || wanted != setup.before;
        return on ? share : 0.0;
    });
    for (const auto& row : run.rows) trial.rows.push_back({row.time, row.drive, row.reading, row.drive, row.value});
    fitOpen(trial);
}

void TunePage::fitOpen(const journal::Trial& trial) {
    if (!case_ || !draft_) return;
    std::vector<control::StepRow> rows;
    for (const auto& row : trial.rows) rows.push_back({row.time, row.wanted, row.reading});
    const auto fit = control::fitStep(rows);
    if (!fit) {
        said_ = words(fit.error());
    } else {
        control::PidRule in;
        in.gain = fit->result.gain, in.time_constant = fit->result.time_constant;
        in.dead_time = of<Duration>(std::max(si(fit->result.dead_time), case_->setup.pid.period / 2.0));
        in.controller = control::Controller::Pi, in.rule = control::StepRule::Simc;
        const auto tuned = si(in.gain) != 0.0 ? std::optional(control::pidRule(in)) : std::nullopt;
        if (tuned && *tuned) {
            auto moved = *draft_;
            plan::takeGains(moved, {si((*tuned)->result.kp), si((*tuned)->result.ki), 0.0}, false);
            takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', 0.0);
            said_ = tr("Step: K %1 counts, T %2, L %3 (half a period at least); fit %4. PI by Skogestad's rule.").arg(number(si(fit->result.gain)), text(display(fit->result.time_constant, 2)), text(display(in.dead_time, 2)), number(si(fit->result.fit)));
        } else {
            said_ = tr("It did not move: nothing can be fitted. Is its sensor wired, and does it have power?");
        }
    }
    Q_EMIT document_->said(said_);
    built_.clear();
    build();
}

// ---- Controls ---------------------------------------------------------------------------------

void TunePage::addGain(char which, const QString& words_of, double value, double most, const QString& unit) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* name = label(words_of, Text::Body, colours().ink);
    name->setFixedWidth(px(16));
    auto* track = new GainTrack;
    track->setObjectName(QString("track_%1").arg(QChar(which)));
    track->setAccessibleName(words_of);
    track->setMost(most);
    track->setGrain(practising() ? 0.0 : 1.0 / 256.0);
    track->setValue(value);
    connect(track, &GainTrack::moved, this, [this, which](double moved) { takeGain(which, moved); });
    auto* field = new QLineEdit(number(value));
    field->setObjectName(QString("gain_%1").arg(QChar(which)));
    field->setFont(textFont(Text::Body));
    field->setAlignment(Qt::AlignRight);
    field->setFixedWidth(px(70));
    field->setToolTip(unit);
    connect(field, &QLineEdit::editingFinished, this, [this, which, field] {
        if (!field->isModified()) return;
        field->setModified(false);
        if (const auto typed = parseNumber(field->text().trimmed().toStdString())) takeGain(which, *typed);
        else Q_EMIT document_->said(tr("A gain is a plain number: “%1” is none.").arg(field->text())), takeGain(which, which == 'P' ? tracks_[0].second->value() : which == 'I' ? tracks_[1].second->value() : tracks_[2].second->value());
    });
    row->addWidget(name);
    row->addWidget(track, 1);
    row->addWidget(field);
    layout_->addWidget(line);
    tracks_.emplace_back(which, track);
    fields_.emplace_back(which, field);
}

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
    QString key = themeKey() + session_.portName() + (session_.isOpen() ? "o" : "c") + QString::number(session_.parameters().size()) + channel_ + QString::number(static_cast<int>(view_)) + (session_.recording() ? "r" : "") + (searching_.valid() ? "s" : "");
    if (key == built_) return;
    built_ = key;
    const auto& c = colours();
    clear(layout_);
    tracks_.clear();
    fields_.clear();
    state_ = nullptr;
    where_ = nullptr;
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(4));
    if (practising()) return buildPractice();
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
    start->setToolTip(tr("The emitted sketch on an emulated board, with your gadget's machines on its bench."));
    start->setProperty("main", session_.board() == nullptr);
    auto* off = new QCheckBox(tr("a little off its figures, as a real one"));
    off->setObjectName("standInOff");
    off->setFont(textFont(Text::Small));
    off->setChecked(session_.variation() != 0);
    off->setToolTip(tr("Friction, inertia, resistance and more are each up to 15 % from the plan, from the next start on"));
    connect(off, &QCheckBox::toggled, this, [this](bool on) { session_.setVariation(on ? 1 + static_cast<std::uint64_t>(QTime::currentTime().msecsSinceStartOfDay()) : 0); });
    layout_->addWidget(off);
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    where_ = new QComboBox;
    where_->setEditable(true);
    where_->setObjectName("portName");
    where_->setFont(textFont(Text::Body));
    for (const auto& port : QSerialPortInfo::availablePorts())
        if (port.hasVendorIdentifier()) where_->addItem(port.systemLocation());
    if (where_->findText("/dev/ttyACM0") < 0) where_->addItem("/dev/ttyACM0");
    where_->setEditText(session_.isOpen() ? session_.portName() : where_->itemText(0));
    auto* open = new QPushButton(session_.isOpen() ? tr("Again") : tr("Connect"));
    open->setObjectName("connectPort");
    open->setFont(textFont(Text::Body));
    open->setToolTip(tr("Any serial port at %1 baud; boards that are plugged in stand in the list").arg(link::baud));
    connect(open, &QPushButton::clicked, this, [this] { session_.connectTo(where_->currentText()); });
    row->addWidget(where_, 1);
    row->addWidget(open);
    layout_->addWidget(line);
    const auto* held = loop();
    if (held != nullptr && draft_ && case_) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(session_.connected() ? tr("Gains, live") : tr("Gains, on the model"), Text::Small, c.soft));
        const QString unit = case_->setup.rolls ? tr("steps a second for each count") : tr("permille for each count");
        const double span = case_->setup.rolls ? 60.0 : std::max(4.0, std::abs(case_->setup.wanted - case_->setup.before));
        const double usual = case_->setup.pid.most / case_->per_output / span;
        const double most = std::min(100.0, std::max({usual * 6.0, si(draft_->proportional) * 2.0, 1.0}));
        addGain('P', tr("P"), si(draft_->proportional), most, unit);
        addGain('I', tr("I"), si(draft_->integral), std::min(100.0, std::max(most * 0.5, si(draft_->integral) * 2.0)), unit + tr(", in each period"));
        addGain('D', tr("D"), si(draft_->derivative), std::min(100.0, std::max(most, si(draft_->derivative) * 2.0)), unit + tr(" it changes in a period"));
        layout_->addWidget(label(tr("The tinted part of each track is what still holds at a loop of %1.").arg(text(displayPlain(held->period))), Text::Small, c.soft));
        auto* ask = button(session_.recording() ? tr("It runs: stop here") : tr("Ask it for a step"), "askStep", [this] {
            if (session_.recording()) {
                session_.letGoAll();
                session_.stopTrial();
            } else if (const auto* mine = loop(); mine != nullptr && case_) {
                session_.startStep(text(mine->id), case_->setup.rolls ? case_->setup.length : std::clamp(4.0 * case_->target.settle_within, 2.0, 3600.0));
            }
        });
        ask->setProperty("main", session_.connected());
        ask->setEnabled(session_.connected() && !session_.foreign());
        ask->setToolTip(session_.connected() ? tr("Let go, at rest, then held at what is wanted; kept as a trial") : tr("It needs the board, or its stand-in"));
        if (session_.drives(session_.outputOf(channel_)) && !session_.recording()) button(tr("Let it go"), "letGo", [this] {
            session_.letGoAll();
            built_.clear();
            build();
        });
        auto* ways = new QWidget;
        auto* wrap = new WrapRow(ways);
        wrap->setContentsMargins(0, 0, 0, 0);
        wrap->setSpacing(px(4));
        const auto small = [&](const QString& words_of, const QString& name, const QString& why, auto slot) {
            auto* made = new QPushButton(words_of);
            made->setObjectName(name);
            made->setFont(textFont(Text::Body));
            made->setToolTip(why);
            connect(made, &QPushButton::clicked, this, slot);
            wrap->addWidget(made);
            return made;
        };
        if (!case_->setup.rolls) small(tr("Lead me"), "leadMe", tr("One step in the maker's order: P until it quivers, D to calm it, I to take out the lean"), [this] { lead(); });
        auto* find = small(searching_.valid() ? tr("Stop the search") : tr("Find gains"), "findGains", tr("Tries gains on the model, within its limits, also on machines that are a little off"), [this] {
            if (searching_.valid()) {
                cancel_ = true;
                return;
            }
            QMenu menu(this);
            const std::pair<control::Cost, QString> costs[] = {{control::Cost::Calm, tr("calm: no overshoot")}, {control::Cost::Quick, tr("quick: there soonest")}, {control::Cost::Quiet, tr("quiet: the drive hardly hums")}, {control::Cost::Cool, tr("cool: little power")}};
            for (const auto& [cost, words_of] : costs) menu.addAction(words_of, this, [this, which = cost] { search(which); });
            menu.exec(QCursor::pos());
        });
        find->setProperty("main", !session_.connected());
        if (!case_->setup.rolls) {
            small(tr("By a step"), "byStep", tr("Fits gain, time constant and dead time to an open step, of the board when one is connected, else of the model; then a published rule"), [this] { fitStep(); });
            small(tr("By a relay"), "byRelay", tr("Lets the model swing under a relay, then a published rule"), [this] { runRelay(); });
        }
        small(tr("Keep these gains"), "keepGains", tr("Into the project; one undo takes them back"), [this] { keepGains(); });
        if (case_->setup.rolls && session_.board() != nullptr) small(tr("Shove it"), "shove", tr("The stand-in's body gets a push forwards"), [this] { session_.board()->disturb(session_.outputOf(channel_), 0.06); });
        layout_->addWidget(ways);
        if (!said_.isEmpty()) layout_->addWidget(label(said_, Text::Small, c.time));
        const auto lines = trialLines(*case_, trials_);
        if (!lines.empty()) {
            layout_->addSpacing(px(6));
            layout_->addWidget(label(tr("Trials"), Text::Small, c.soft));
        }
        for (std::size_t i = 0; i < lines.size() && i < trials_shown; ++i) {
            const auto& each = lines[i];
            auto* frame = barred(each.id == now_ ? c.hinge : each.best ? c.ink : c.line);
            auto* inside = static_cast<QVBoxLayout*>(frame->layout());
            inside->setContentsMargins(px(8), 0, 0, 0);
            inside->setSpacing(0);
            auto* name = new QPushButton(each.name + (each.id == now_ ? tr(" · shown") : QString()) + (each.best ? tr(" · best") : QString()));
            name->setObjectName("show_" + each.id);
            name->setFlat(true);
            name->setFont(textFont(Text::Figure));
            name->setStyleSheet(QString("QPushButton { border: none; background: transparent; text-align: left; padding: 0; color: %1; }").arg(c.ink.name()));
            connect(name, &QPushButton::clicked, this, [this, id = each.id] {
                now_ = id;
                built_.clear();
                build();
                refresh();
            });
            name->setContextMenuPolicy(Qt::CustomContextMenu);
            connect(name, &QPushButton::customContextMenuRequested, this, [this, name, id = each.id](const QPoint& at) {
                QMenu menu(this);
                menu.addAction(tr("A word about it…"), this, [this, id] {
                    bool ok = false;
                    const QString word = QInputDialog::getText(this, tr("A word about it"), tr("What was different this time?"), QLineEdit::Normal, {}, &ok);
                    if (!ok) return;
                    if (const auto kept = store::commentTrial(session_.trialFolder(), id.toStdString(), word.toStdString()); !kept) Q_EMIT document_->said(words(kept.error()));
                    readTrials();
                    built_.clear();
                    build();
                });
                menu.addAction(tr("What differs from the one shown"), this, [this, id] {
                    const journal::Trial *a = nullptr, *b = nullptr;
                    for (const auto& trial : trials_) {
                        if (text(trial.id) == now_) a = &trial;
                        if (text(trial.id) == id) b = &trial;
                    }
                    if (a == nullptr || b == nullptr) return;
                    QStringList list;
                    for (const auto& change : journal::settingsChanged(*a, *b)) list << text(change);
                    said_ = list.isEmpty() ? tr("Its settings are the same.") : list.join("; ");
                    Q_EMIT document_->said(said_);
                });
                menu.addAction(tr("Save it as CSV…"), this, [this, id] {
                    const QString file = QFileDialog::getSaveFileName(this, tr("Save the trial"), id + ".csv", tr("CSV (*.csv)"));
                    if (!file.isEmpty()) QFile::copy(text(session_.trialFolder()) + "/trials/" + id + ".csv", file);
                });
                menu.addAction(tr("Throw it away"), this, [this, id] {
                    static_cast<void>(store::removeTrial(session_.trialFolder(), id.toStdString()));
                    if (now_ == id) now_.clear();
                    readTrials();
                    built_.clear();
                    build();
                    refresh();
                });
                menu.exec(name->mapToGlobal(at));
            });
            inside->addWidget(name);
            inside->addWidget(label(each.note, Text::Small, c.soft));
            layout_->addWidget(frame);
        }
        const int best = bestTrial(*case_, trials_);
        if (best >= 0) button(tr("Go back to %1 (B)").arg(text(trials_[static_cast<std::size_t>(best)].id).replace('-', ' ')), "goBack", [this] { goBackToBest(); });
    } else if (held != nullptr) {
        const auto& model = document_->model();
        if (const auto made = plan::loopCase(model.project, model.parts, model.plan, held->id); !made) layout_->addWidget(label(tr("Its loop has no model yet: %1").arg(words(made.error())), Text::Body, c.tight));
    }
    if (session_.board() != nullptr && !session_.inputs().empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Its contacts"), Text::Small, c.soft));
        const auto& program = document_->model().plan.program;
        for (std::size_t i = 0; i < session_.inputs().size(); ++i) {
            if (program && i < program->inputs.size() && (routine::isMeasured(program->inputs[i]) || program->inputs[i].source != routine::InputSource::Pin)) continue;
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
    if (!session_.parameters().empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Numbers, live"), Text::Small, c.soft));
    }
    // This channel's own first.
    const std::string own = routine::identifier(channel_.toStdString()) + "_", looped = held != nullptr ? routine::identifier(held->id) + "_" : own;
    for (const bool mine : {true, false})
        for (const auto& p : session_.parameters())
            if ((p.name.rfind(own, 0) == 0 || p.name.rfind(looped, 0) == 0) == mine) addParameter(p);
    layout_->addStretch();
    stop_->setFont(textFont(Text::Body));
    layout_->activate();   // at once: the scroll area must not squeeze it meanwhile
    if (!tracks_.empty()) refresh_.start();
}

void TunePage::chooseExercise(int index) {
    const auto& list = control::exercises();
    if (index < 0 || index >= static_cast<int>(list.size())) return;
    exercise_ = index;
    hints_ = 0;
    tried_ = list[static_cast<std::size_t>(index)].setup.pid.gains;
    built_.clear();
    build();
    refresh();
}

void TunePage::buildPractice() {
    const auto& c = colours();
    const auto& list = control::exercises();
    layout_->addWidget(label(tr("Machines to practise on, all made up"), Text::Small, c.soft));
    auto* choice = new QComboBox;
    choice->setObjectName("exercise");
    choice->setFont(textFont(Text::Body));
    for (const auto& each : list) choice->addItem(text(each.title));
    choice->setCurrentIndex(exercise_);
    connect(choice, &QComboBox::activated, this, &TunePage::chooseExercise);
    layout_->addWidget(choice);
    const auto& exercise = list[static_cast<std::size_t>(exercise_)];
    if (tried_ == control::ParallelGains{} && hints_ == 0) tried_ = exercise.setup.pid.gains;
    layout_->addSpacing(px(4));
    layout_->addWidget(label(tr("Gains: they act at once"), Text::Small, c.soft));
    const double span = exercise.setup.rolls ? 60.0 : std::max(1.0, std::abs(exercise.setup.wanted - exercise.setup.before)), usual = exercise.setup.pid.most / span;
    const double quick = std::max(exercise.target.settle_within, 4.0 * exercise.setup.pid.period);
    addGain('P', tr("P"), tried_.proportional, 12.0 * usual, tr("drive for each count"));
    addGain('I', tr("I"), tried_.integral, exercise.setup.rolls ? 60.0 * usual : 30.0 * usual / quick, tr("drive for each count and second"));
    addGain('D', tr("D"), tried_.derivative, 1.5 * usual * quick, tr("drive for each count a second"));
    layout_->addWidget(label(tr("The tinted part of each track still holds at a loop of %1.").arg(text(displayPlain(Kind::Duration, exercise.setup.pid.period))), Text::Small, c.soft));
    auto* hint = new QPushButton(hints_ < static_cast<int>(exercise.hints.size()) ? tr("A hint (5 points)") : tr("That was the last hint"));
    hint->setObjectName("hint");
    hint->setFont(textFont(Text::Body));
    hint->setEnabled(hints_ < static_cast<int>(exercise.hints.size()));
    connect(hint, &QPushButton::clicked, this, [this] {
        ++hints_;
        built_.clear();
        build();
        refresh();
    });
    for (int h = 0; h < hints_ && h < static_cast<int>(exercise.hints.size()); ++h) {
        auto* frame = barred(c.time);
        static_cast<QVBoxLayout*>(frame->layout())->addWidget(label(text(exercise.hints[static_cast<std::size_t>(h)]), Text::Body, c.ink));
        layout_->addWidget(frame);
    }
    layout_->addWidget(hint);
    layout_->addStretch();
    refresh_.start();
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
        lanes.push_back({static_cast<std::size_t>(output), placed ? tr("place of %1 in its move").arg(name) : tr("power to %1").arg(name), 100.0, 0.0, "%", placed ? c.hinge : c.time});
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
            else if (scale.kind == Kind::Angle) lane.factor = scale.per_count * 180.0 / constants::pi, lane.zero = scale.zero * 180.0 / constants::pi, lane.unit = "°";
            else lane.factor = 1.0, lane.zero = 0.0;
            lanes.push_back(lane);
        }
        ++at;
    }
    if (session_.board() != nullptr && session_.telemetry().signals() > 0) lanes.push_back({session_.currentSignal(), tr("current of the movers, by the plants' model"), 1000.0, 0.0, "mA", c.spark});
    strip_->setWaiting(output < 0 && session_.connected() ? tr("No cue drives %1 yet: see Routine.").arg(name) : tr("Nothing has come over the link yet. Start the stand-in, or connect a board that runs the sketch."));
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

// The tank, falling as it pours, and the water in the cup.
void TunePage::drawTank(QPainter& p, const QRectF& box, const plant::Observation& seen) {
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
    const auto output = static_cast<std::size_t>(std::max(0, session_.outputOf(channel_)));
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
    const int side = rightWidth();
    if (side == 0) return;
    const QRectF column(width() - side + px(12), px(46), side - px(24), height() - px(60));
    if (practising()) {
        // The score, large; it is the one thing this view is about.
        const auto& exercise = control::exercises()[static_cast<std::size_t>(exercise_)];
        p.setFont(textFont(Text::Title));
        const QRectF box(column.left(), column.bottom() - px(120), column.width(), px(110));
        p.setPen(Qt::NoPen);
        p.setBrush(c.line);
        p.drawRect(QRectF(box.left(), box.bottom() - px(10), box.width(), px(6)));
        p.setBrush(score_.met ? c.hinge : c.soft);
        p.drawRect(QRectF(box.left(), box.bottom() - px(10), box.width() * score_.points / 100.0, px(6)));
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(box.left() + box.width() * 0.6, box.bottom() - px(15)), QPointF(box.left() + box.width() * 0.6, box.bottom()));
        say(p, {box.left(), box.bottom() - px(22)}, tr("%1 of 100 points").arg(score_.points), Text::Title, score_.met ? c.hinge : c.soft);
        if (score_.met) {
            p.setFont(textFont(Text::Body));
            p.setPen(c.ink);
            p.drawText(QRectF(box.left(), box.top() - px(60), box.width(), px(120)), Qt::AlignTop | Qt::TextWordWrap, text(exercise.why));
        }
        return;
    }
    const auto* decided = project::findChannel(document_->model().project, channel_.toStdString());
    const auto* planned = plan::findChannel(document_->model().plan, channel_.toStdString());
    if (decided == nullptr || planned == nullptr) return;
    if (view_ == View::Strip && session_.board() == nullptr) return;
    const auto seen = session_.board() != nullptr ? session_.board()->observe() : plant::Observation{};
    if (session_.board() != nullptr && std::holds_alternative<project::PumpDemand>(decided->demand)) return drawTank(p, QRectF(column.left() + column.width() * 0.2, column.top(), column.width() * 0.6, column.height()), seen);
    // The gadget itself, moving as the board says.
    const QRectF box = view_ == View::Response ? QRectF(column.left() + px(10), column.bottom() - px(200), column.width() - px(20), px(180)) : QRectF(column.left() + px(10), column.top() + px(20), column.width() - px(20), px(180));
    const int output = session_.outputOf(channel_);
    const auto machine = session_.machineOf(output);
    const auto& telemetry = session_.telemetry();
    const bool placed = plan::isPlaced(*planned);
    double share = telemetry.empty() || output < 0 ? 0.0 : static_cast<double>(telemetry.value(static_cast<std::size_t>(output), telemetry.size() - 1));
    QString under;
    if (case_ && case_->setup.rolls) {
        // A figure on its wheel, leaning as it does.
        const double lean = machine ? machine->value : std::get<plant::Balancer>(case_->setup.machine.machine).lean();
        const QPointF axle(box.center().x() + (machine ? std::fmod(machine->angle * 300.0, box.width() * 0.3) : 0.0), box.bottom() - px(34));
        const double wheel = px(20), body = px(92);
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(box.left(), axle.y() + wheel), QPointF(box.right(), axle.y() + wheel));
        const QPointF top = axle + QPointF(std::sin(lean) * body, -std::cos(lean) * body);
        p.setPen(QPen(c.hinge, 5, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(axle, top);
        p.setBrush(c.card);
        p.setPen(QPen(c.ink, 2));
        p.drawEllipse(top, px(9), px(9));
        p.drawEllipse(axle, wheel, wheel);
        const double turned = machine ? machine->angle / 0.04 : 0.0;
        p.drawLine(axle, axle + QPointF(std::sin(turned) * wheel, -std::cos(turned) * wheel));
        under = machine ? (machine->troubled ? tr("it lies") : tr("leans %1°").arg(std::abs(lean) < 8.7e-4 ? 0.0 : lean * 180.0 / constants::pi, 0, 'f', 1)) : tr("not running");
        say(p, {box.center().x(), box.bottom() + px(8)}, under, Text::Figure, machine && machine->troubled ? c.breaks : c.hinge, Qt::AlignHCenter);
        return;
    }
    if (machine && !placed) turning_ = std::fmod(machine->angle / (2.0 * constants::pi), 1.0);
    else if (!placed && share > 0.0) turning_ = std::fmod(turning_ + 0.005 * share, 1.0);
    drawMechanism(p, box, *decided, planned->context.ask, placed ? phaseAt(share) : turning_);
    if (machine && case_ && case_->scale.kind == Kind::RotationSpeed) say(p, {box.center().x(), box.bottom() + px(14)}, tr("%1 rpm").arg(machine->value * 60.0 / (2.0 * constants::pi), 0, 'f', 1), Text::Figure, c.hinge, Qt::AlignHCenter);
}

}  // namespace hinge::app
