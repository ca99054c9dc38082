#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSerialPortInfo>
#include <QSlider>
#include <QTime>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "shell/typed.hpp"
#include "shell/wrap_row.hpp"
#include "stages/tune/gain_track.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/text.hpp"

// What stands at the left: what it runs on, gains, trials, contacts, cues, every number; or the exercise in hand.
namespace hinge::app {
namespace {

constexpr std::size_t trials_shown = 5;
}  // namespace

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
    field->setAccessibleName(words_of);
    field->setFont(textFont(Text::Body));
    field->setAlignment(Qt::AlignRight);
    field->setFixedWidth(px(70));
    field->setToolTip(unit);
    connect(field, &QLineEdit::editingFinished, this, [this, which, field] {
        if (!field->isModified()) return;
        field->setModified(false);
        if (const auto typed = parseNumber(typedNumber(field->text().trimmed()))) takeGain(which, *typed);
        else
            Q_EMIT document_->said(tr("A gain is a plain number: “%1” is none.").arg(field->text())),
                takeGain(which, which == 'P'   ? tracks_[0].second->value()
                                : which == 'I' ? tracks_[1].second->value()
                                               : tracks_[2].second->value());
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
    field->setAccessibleName(name->text());
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
    slider->setAccessibleName(name->text());
    slider->setObjectName("slider_" + id);
    slider->setRange(p.least, p.most);
    slider->setValue(p.value);
    slider->setPageStep(std::max(1, (p.most - p.least) / 20));
    connect(slider, &QSlider::valueChanged, this, [this, id](int value) { session_.change(id, QString::number(value)); });
    layout_->addWidget(slider);
}

void TunePage::build() {
    QString key = themeKey() + session_.portName() + (session_.isOpen() ? "o" : "c") + (session_.compiling() ? "b" : "") +
                  QString::number(session_.parameters().size()) + channel_ + QString::number(static_cast<int>(view_)) +
                  (session_.recording() ? "r" : "") + (searching_.valid() ? "s" : "");
    if (key == built_) return;
    built_ = key;
    const auto& c = colours();
    clear(layout_);
    tracks_.clear();
    fields_.clear();
    state_ = nullptr;
    aired_ = nullptr;
    where_ = nullptr;
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(4));
    if (practising()) return buildPractice();
    buildWhere();
    const auto* held = loop();
    if (held != nullptr && draft_ && case_) {
        buildGains(*held);
        buildTrials();
    } else if (held != nullptr) {
        const auto& model = document_->model();
        if (const auto made = plan::loopCase(model.project, model.parts, model.plan, held->id); !made)
            layout_->addWidget(label(tr("Its loop has no model yet: %1").arg(words(made.error())), Text::Body, c.tight));
    }
    buildContacts();
    buildRadio();
    buildNumbers();
    layout_->addStretch();
    stop_->setFont(textFont(Text::Body));
    layout_->activate();  // at once: the scroll area must not squeeze it meanwhile
    if (!tracks_.empty()) refresh_.start();
}

QPushButton* TunePage::button(const QString& words_of, const QString& name, const std::function<void()>& pressed) {
    auto* made = new QPushButton(words_of);
    made->setObjectName(name);
    made->setFont(textFont(Text::Body));
    connect(made, &QPushButton::clicked, this, pressed);
    layout_->addWidget(made);
    return made;
}

// What it runs on: the stand-in, or a board on a port.
void TunePage::buildWhere() {
    const auto& c = colours();
    layout_->addWidget(label(tr("Running on"), Text::Small, c.soft));
    state_ = label(session_.status(), Text::Body, c.ink);
    state_->setObjectName("tuneState");
    layout_->addWidget(state_);
    if (session_.compiling())
        button(tr("Stop compiling"), "stopCompiling", [this] {
            session_.stopCompiling();
        })->setToolTip(tr("Nothing is started then; what was made so far is thrown away"));
    auto* start = button(session_.board() != nullptr ? tr("Start the stand-in again") : tr("Start the stand-in"), "startStandIn",
                         [this] { session_.startStandIn(); });
    start->setToolTip(tr("The emitted sketch on an emulated board, with your gadget's machines on its bench."));
    start->setProperty("main", session_.board() == nullptr);
    auto* off = new QCheckBox(tr("a little off its figures, as a real one"));
    off->setObjectName("standInOff");
    off->setFont(textFont(Text::Small));
    off->setChecked(session_.variation() != 0);
    off->setToolTip(tr("Friction, inertia, resistance and more are each up to 15 % from the plan, from the next start on"));
    connect(off, &QCheckBox::toggled, this, [this](bool on) {
        session_.setVariation(on ? 1 + static_cast<std::uint64_t>(QTime::currentTime().msecsSinceStartOfDay()) : 0);
    });
    layout_->addWidget(off);
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    where_ = new QComboBox;
    where_->setEditable(true);
    where_->setAccessibleName(tr("Where the board is"));
    where_->lineEdit()->setAccessibleName(where_->accessibleName());
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
}

// The tracks of its gains, a step to ask for, and ways to find better ones.
void TunePage::buildGains(const routine::Loop& held) {
    const auto& c = colours();
    layout_->addSpacing(px(6));
    layout_->addWidget(label(session_.connected() ? tr("Gains, live") : tr("Gains, on the model"), Text::Small, c.soft));
    const QString unit = case_->setup.rolls ? tr("steps a second for each count") : tr("permille for each count");
    const double span = case_->setup.rolls ? 60.0 : std::max(4.0, std::abs(case_->setup.wanted - case_->setup.before));
    const double usual = case_->setup.pid.most / case_->per_output / span;
    const double most = std::min(100.0, std::max({usual * 6.0, si(draft_->proportional) * 2.0, 1.0}));
    addGain('P', tr("P"), si(draft_->proportional), most, unit);
    addGain('I', tr("I"), si(draft_->integral), std::min(100.0, std::max(most * 0.5, si(draft_->integral) * 2.0)),
            unit + tr(", in each period"));
    addGain('D', tr("D"), si(draft_->derivative), std::min(100.0, std::max(most, si(draft_->derivative) * 2.0)),
            unit + tr(" it changes in a period"));
    layout_->addWidget(label(tr("The tinted part of each track is what still holds at a loop of %1.").arg(text(displayPlain(held.period))),
                             Text::Small, c.soft));
    auto* ask = button(session_.recording() ? tr("It runs: stop here") : tr("Ask it for a step"), "askStep", [this] {
        if (session_.recording()) {
            session_.letGoAll();
            session_.stopTrial();
        } else if (const auto* mine = loop(); mine != nullptr && case_) {
            session_.startStep(text(mine->id),
                               case_->setup.rolls ? case_->setup.length : std::clamp(4.0 * case_->target.settle_within, 2.0, 3600.0));
        }
    });
    ask->setProperty("main", session_.connected());
    ask->setEnabled(session_.connected() && !session_.foreign());
    ask->setToolTip(session_.connected() ? tr("Let go, at rest, then held at what is wanted; kept as a trial")
                                         : tr("It needs the board, or its stand-in"));
    if (session_.drives(session_.outputOf(channel_)) && !session_.recording())
        button(tr("Let it go"), "letGo", [this] {
            session_.letGoAll();
            built_.clear();
            build();
        });
    buildWays();
}

void TunePage::buildWays() {
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
    if (!case_->setup.rolls)
        small(tr("Lead me"), "leadMe", tr("One step in the maker's order: P until it quivers, D to calm it, I to take out the lean"),
              [this] { lead(); });
    auto* find = small(searching_.valid() ? tr("Stop the search") : tr("Find gains"), "findGains",
                       tr("Tries gains on the model, within its limits, also on machines that are a little off"), [this] {
                           if (searching_.valid()) {
                               cancel_ = true;
                               return;
                           }
                           QMenu menu(this);
                           const std::pair<control::Cost, QString> costs[] = {{control::Cost::Calm, tr("calm: no overshoot")},
                                                                              {control::Cost::Quick, tr("quick: there soonest")},
                                                                              {control::Cost::Quiet, tr("quiet: the drive hardly hums")},
                                                                              {control::Cost::Cool, tr("cool: little power")}};
                           for (const auto& [cost, words_of] : costs)
                               menu.addAction(words_of, this, [this, which = cost] { search(which); });
                           menu.exec(QCursor::pos());
                       });
    find->setProperty("main", !session_.connected());
    if (!case_->setup.rolls) {
        small(tr("By a step"), "byStep",
              tr("Fits gain, time constant and dead time to an open step, of the board when one is connected, else of the model; then "
                 "a published rule"),
              [this] { fitStep(); });
        small(tr("By a relay"), "byRelay", tr("Lets the model swing under a relay, then a published rule"), [this] { runRelay(); });
    }
    small(tr("Keep these gains"), "keepGains", tr("Into the project; one undo takes them back"), [this] { keepGains(); });
    if (case_->setup.rolls && session_.board() != nullptr)
        small(tr("Shove it"), "shove", tr("The stand-in's body gets a push forwards"),
              [this] { session_.board()->disturb(session_.outputOf(channel_), 0.06); });
    layout_->addWidget(ways);
}

// The last trials, the best of them, and the way back to it.
void TunePage::buildTrials() {
    const auto& c = colours();
    if (!said_.isEmpty()) layout_->addWidget(label(said_, Text::Small, c.time));
    const auto lines = trialLines(*case_, trials_);
    if (!lines.empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Trials"), Text::Small, c.soft));
    }
    for (std::size_t i = 0; i < lines.size() && i < trials_shown; ++i) addTrial(lines[i]);
    const int best = bestTrial(*case_, trials_);
    if (best >= 0)
        button(tr("Go back to %1 (B)").arg(text(trials_[static_cast<std::size_t>(best)].id).replace('-', ' ')), "goBack",
               [this] { goBackToBest(); });
}

void TunePage::addTrial(const TrialLine& each) {
    const auto& c = colours();
    auto* frame = barred(each.id == now_ ? c.hinge : each.best ? c.ink : c.line);
    auto* inside = static_cast<QVBoxLayout*>(frame->layout());
    inside->setContentsMargins(px(8), 0, 0, 0);
    inside->setSpacing(0);
    auto* name = new QPushButton(each.name + (each.id == now_ ? tr(" · shown") : QString()) + (each.best ? tr(" · best") : QString()));
    name->setObjectName("show_" + each.id);
    name->setFlat(true);
    name->setFont(textFont(Text::Figure));
    name->setStyleSheet(
        QString("QPushButton { border: none; background: transparent; text-align: left; padding: 0; color: %1; }").arg(c.ink.name()));
    connect(name, &QPushButton::clicked, this, [this, id = each.id] {
        now_ = id;
        built_.clear();
        build();
        refresh();
    });
    name->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(name, &QPushButton::customContextMenuRequested, this,
            [this, name, id = each.id](const QPoint& at) { trialMenu(id, name->mapToGlobal(at)); });
    inside->addWidget(name);
    inside->addWidget(label(each.note, Text::Small, c.soft));
    layout_->addWidget(frame);
}

void TunePage::trialMenu(const QString& id, const QPoint& at) {
    QMenu menu(this);
    menu.addAction(tr("A word about it…"), this, [this, id] {
        bool ok = false;
        const QString word =
            QInputDialog::getText(this, tr("A word about it"), tr("What was different this time?"), QLineEdit::Normal, {}, &ok);
        if (!ok) return;
        if (const auto kept = store::commentTrial(session_.trialFolder(), id.toStdString(), word.toStdString()); !kept)
            Q_EMIT document_->said(words(kept.error()));
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
    menu.exec(at);
}

void TunePage::buildContacts() {
    const auto& c = colours();
    if (session_.board() == nullptr || session_.inputs().empty()) return;
    layout_->addSpacing(px(6));
    layout_->addWidget(label(tr("Its contacts"), Text::Small, c.soft));
    const auto& program = document_->model().plan.program;
    for (std::size_t i = 0; i < session_.inputs().size(); ++i) {
        if (program && i < program->inputs.size() &&
            (routine::isMeasured(program->inputs[i]) || program->inputs[i].source != routine::InputSource::Pin))
            continue;
        auto* press = button(session_.inputs()[i], QString("input_%1").arg(i), [] {});
        press->setCheckable(true);
        connect(press, &QPushButton::toggled, this, [this, i](bool on) {
            if (session_.board() != nullptr) session_.board()->setInput(static_cast<int>(i), on);
        });
    }
}

// What its radio hands to the stand-in, and gets from it.
void TunePage::buildRadio() {
    const auto& c = colours();
    if (session_.board() == nullptr || !plan::hasOwnRadio(document_->model().project.board)) return;
    layout_->addSpacing(px(6));
    layout_->addWidget(label(tr("By radio"), Text::Small, c.soft));
    if (!session_.board()->hearsRadio()) {
        layout_->addWidget(label(tr("The routine's interpreter has no radio: only the emulated board has one."), Text::Small, c.soft));
        return;
    }
    auto* line = new QLineEdit;
    line->setObjectName("radioLine");
    line->setAccessibleName(tr("A line that its radio hears"));
    line->setPlaceholderText(tr("a line, as 'hello' or 'stop'"));
    line->setToolTip(tr("What somebody sends by radio: the emulated board gets it on the radio's own line, with what the radio may do"));
    line->setFont(textFont(Text::Body));
    line->setMaxLength(120);
    connect(line, &QLineEdit::returnPressed, this, [this, line] {
        if (session_.board() != nullptr && !line->text().isEmpty()) session_.board()->sayByRadio(line->text().toStdString());
    });
    layout_->addWidget(line);
    aired_ = label({}, Text::Figure, c.ink);
    aired_->setObjectName("radioAnswer");
    layout_->addWidget(aired_);
}

// Its cues, its clock, and every number, this channel's own first.
void TunePage::buildNumbers() {
    const auto& c = colours();
    const auto* held = loop();
    if (session_.isOpen()) {
        layout_->addSpacing(px(6));
        for (std::size_t i = 0; i < session_.cues().size(); ++i)
            button(tr("Start '%1'").arg(session_.cues()[i]), QString("cue_%1").arg(i),
                   [this, i] { session_.send(link::StartCue{static_cast<int>(i)}); });
        button(tr("Set its clock to now"), "setClock", [this] {
            session_.send(
                link::SetClock{QTime::currentTime().msecsSinceStartOfDay() / 1000,
                               timing::Date{QDate::currentDate().year(), QDate::currentDate().month(), QDate::currentDate().day()}});
        });
        button(tr("Keep this run in the log"), "keepRun", [this] { session_.keepRun(channel_); });
    }
    if (!session_.parameters().empty()) {
        layout_->addSpacing(px(6));
        layout_->addWidget(label(tr("Numbers, live"), Text::Small, c.soft));
    }
    const std::string own = routine::symbol(channel_.toStdString()) + "_", looped = held != nullptr ? routine::symbol(held->id) + "_" : own;
    for (const bool mine : {true, false})
        for (const auto& p : session_.parameters())
            if ((p.name.rfind(own, 0) == 0 || p.name.rfind(looped, 0) == 0) == mine) addParameter(p);
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
    const double span = exercise.setup.rolls ? 60.0 : std::max(1.0, std::abs(exercise.setup.wanted - exercise.setup.before)),
                 usual = exercise.setup.pid.most / span;
    const double quick = std::max(exercise.target.settle_within, 4.0 * exercise.setup.pid.period);
    addGain('P', tr("P"), tried_.proportional, 12.0 * usual, tr("drive for each count"));
    addGain('I', tr("I"), tried_.integral, exercise.setup.rolls ? 60.0 * usual : 30.0 * usual / quick,
            tr("drive for each count and second"));
    addGain('D', tr("D"), tried_.derivative, 1.5 * usual * quick, tr("drive for each count a second"));
    layout_->addWidget(label(
        tr("The tinted part of each track still holds at a loop of %1.").arg(text(displayPlain(Kind::Duration, exercise.setup.pid.period))),
        Text::Small, c.soft));
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

}  // namespace hinge::app
