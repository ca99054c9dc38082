#include "stages/routine/routine_page.hpp"
#include <QCursor>
#include <QFileDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>
#include "plan/shown_current.hpp"
#include "project/facts.hpp"
#include "project/routine_edits.hpp"
#include "shell/labels.hpp"
#include "shell/wrap_row.hpp"
#include "stages/routine/colour_choice.hpp"
#include "stages/routine/routine_sentences.hpp"
#include "store/document.hpp"

namespace hinge::app {

RoutinePage::RoutinePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("routine");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    sentences_ = new QTextBrowser;
    sentences_->setObjectName("routineText");
    sentences_->setOpenLinks(false);
    sentences_->setFrameShape(QFrame::NoFrame);
    connect(sentences_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) {
        if (url.scheme() == "menu") offer(url.path(), QCursor::pos());
        else if (url.path().endsWith("/colour")) askColour(url.path().toStdString());
        else Q_EMIT wordClicked(url.path());
    });
    auto* row = new QWidget;
    inputs_ = new WrapRow(row);
    chart_ = new SceneChart(document);
    chart_->setObjectName("scene");
    column->addWidget(chart_, 11);
    column->addWidget(row);
    column->addWidget(sentences_, 8);
}

void RoutinePage::present(const QString& channel) {
    auto font = textFont(Text::Body);
    font.setPixelSize(px(14));
    sentences_->setFont(font);
    sentences_->setStyleSheet(QString("background-color: %1; padding: 0 %2px;").arg(colours().card.name()).arg(px(10)));
    sentences_->setHtml(routineHtml(document_->model()));
    buildInputs();
    chart_->present(channel);
}

void RoutinePage::askColour(const std::string& path) {
    const auto fact = project::fact(document_->model().project, path);
    if (!fact) return;
    if (const auto colour = chooseColour(this, fact->exact)) document_->apply(std::vector<project::FactEdit>{{path, *colour}});
}

void RoutinePage::buildInputs() {
    const auto& model = document_->model();
    const bool violated = model.plan.proofs && std::any_of(model.plan.proofs->begin(), model.plan.proofs->end(),
                                                           [](const auto& proof) { return !proof.replay.empty(); });
    QString key = themeKey() + (violated ? "v" : "");
    for (const auto& input : model.project.inputs) key += text(input.id + input.name);
    if (key == builtInputs_) return;
    builtInputs_ = key;
    clear(inputs_);
    inputs_->setContentsMargins(px(14), px(4), px(14), px(4));
    inputs_->setSpacing(px(8));
    const auto add = [&](const QString& words_of, const QString& name, const QString& why, auto slot) {
        auto* button = smallButton(words_of, name, why);
        connect(button, &QPushButton::clicked, this, slot);
        inputs_->addWidget(button);
    };
    for (const auto& input : model.project.inputs)
        if (input.kind != project::InputKind::Counter && input.kind != project::InputKind::Days)
            add(text(input.name), "press_" + text(input.id),
                input.kind == project::InputKind::Button ? tr("Presses it there, for a fifth of a second.")
                                                         : tr("Becomes true there; a second press ends it."),
                [this, id = input.id] { press(id); });
    add(tr("stop"), "press_stop", tr("Everything to its safe state."), [this] {
        auto script = document_->model().script;
        simulation::Event event;
        event.time = chart_->playHead();
        event.stop = true;
        script.push_back(event);
        document_->play(std::move(script));
    });
    add(tr("power cut"), "press_power", tr("Power goes and comes back: the routine starts from its power-up state."), [this] {
        simulation::Event event;
        event.power_cut = true;
        happen(event);
    });
    add(tr("trouble…"), "press_trouble",
        tr("What happens in life, at the play-head: a jam, a flat cell, a contact that sticks or bounces, a lost clock or link."), [this] {
            QMenu menu(this);
            menu.setObjectName("troubleMenu");
            offerTrouble(menu);
            menu.exec(QCursor::pos());
        });
    add(tr("a list…"), "press_list", tr("Plays a recorded list: a CSV file of time, what and value, such as 0.5,start,1."), [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("A recorded list"), {}, tr("Lists (*.csv *.txt)"));
        if (!file.isEmpty()) playList(file);
    });
    if (violated)
        add(tr("its story"), "play_story", tr("Plays the sequence that breaks the interlock, enforcement off."), [this] { playStory(); });
    add(tr("play"), "play_scene", tr("The play-head runs in its own time; once more stops it. Space does the same."),
        [this] { chart_->play(chart_->playing() ? 0.0 : 1.0); });
    add(tr("play fast"), "play_fast", tr("All of it in six seconds."),
        [this] { chart_->play(chart_->playing() ? 0.0 : std::max(1.0, chart_->length() / 6.0)); });
    add(tr("next"), "play_next", tr("To the next thing that happens. The arrow keys go both ways."), [this] { chart_->step(true); });
    add(tr("clear"), "press_clear", tr("Back to one press of the first cue."), [this] { document_->play({}); });
}

void RoutinePage::press(const std::string& id) {
    auto script = document_->model().script;
    const auto* input = project::findInput(document_->model().project, id);
    if (input == nullptr) return;
    const double at = chart_->playHead();
    bool active = false;
    for (const auto& event : script)
        if (event.input == id && event.time <= at) active = event.active;
    simulation::Event event;
    event.time = at;
    event.input = id;
    event.active = !active;
    script.push_back(event);
    if (input->kind == project::InputKind::Button && !active) {
        event.time = at + 0.2;
        event.active = false;
        script.push_back(event);
    }
    document_->play(std::move(script));
}

void RoutinePage::happen(simulation::Event event) {
    auto script = document_->model().script;
    event.time += chart_->playHead();
    script.push_back(std::move(event));
    std::stable_sort(script.begin(), script.end(), [](const auto& a, const auto& b) { return a.time < b.time; });
    document_->play(std::move(script));
}

void RoutinePage::offerTrouble(QMenu& menu) {
    const auto& project = document_->model().project;
    const auto trouble = [this](QMenu* into, const QString& words_of, const simulation::Event& event) {
        connect(into->addAction(words_of), &QAction::triggered, this, [this, event] { happen(event); });
    };
    simulation::Event event;
    event.supply = 0.75;
    trouble(&menu, tr("a flat cell: the source gives three quarters of its volts"), event);
    event.supply = 1.0;
    trouble(&menu, tr("the source is full again"), event);
    event = {};
    event.clock = 14 * 3600 + 29 * 60 + 55;
    trouble(&menu, tr("the clock is set, to 14:29:55"), event);
    event = {};
    event.clock_lost = true;
    trouble(&menu, tr("the clock has lost the time"), event);
    event = {};
    event.link = true;
    trouble(&menu, tr("the link speaks, and falls silent"), event);
    auto* jams = menu.addMenu(tr("Jams, or is free again"));
    for (const auto& channel : project.channels) {
        event = {};
        event.jam = channel.id;
        trouble(jams, text(channel.name), event);
    }
    auto* sticks = menu.addMenu(tr("Sticks"));
    auto* bounces = menu.addMenu(tr("Bounces"));
    for (const auto& input : project.inputs) {
        if (!project::hasPin(input.kind)) continue;
        for (const bool active : {true, false}) {
            event = {};
            event.input = input.id;
            event.active = active;
            trouble(sticks, active ? tr("%1, true").arg(text(input.name)) : tr("%1, not true").arg(text(input.name)), event);
        }
        connect(bounces->addAction(text(input.name)), &QAction::triggered, this, [this, id = input.id] {
            // Nine changes three milliseconds apart, then true for half a second.
            for (int i = 0; i < 10; ++i) {
                simulation::Event bounce;
                bounce.time = i < 9 ? 0.003 * i : 0.5;
                bounce.input = id;
                bounce.active = i < 9 && i % 2 == 0;
                happen(bounce);
            }
        });
    }
}

void RoutinePage::playList(const QString& file) {
    const auto read = files::readWhole(file.toStdString());
    const auto events = read ? simulation::parseEvents(*read) : Result<std::vector<simulation::Event>>(tl::unexpected(read.error()));
    if (!events) return Q_EMIT said(words(events.error()));
    document_->play(*events);
}

// The counter-example as events: what the proof changed at each tick.
void RoutinePage::playStory() {
    const auto& model = document_->model();
    if (!model.plan.proofs || !model.plan.program) return;
    for (const auto& proof : *model.plan.proofs) {
        if (proof.replay.empty()) continue;
        document_->play(simulation::storyEvents(*model.plan.program, proof), true);
        return;
    }
}

void RoutinePage::offer(const QString& what, const QPoint& where) {
    const auto slash = what.indexOf('/');
    const QString kind = what.left(slash), id = what.mid(slash + 1);
    if (kind == "drop") return document_->replace(project::removeRule(document_->model().project, id.toStdString()));
    QMenu menu(this);
    menu.setObjectName("routineMenu");
    if (kind == "cue") offerCue(menu, id.toStdString());
    else if (kind == "never") offerTerms(menu, id.toStdString());
    else offerNew(menu, id);
    menu.exec(where);
}

namespace {

// Whether it goes to places, or will as far as is known.
bool sentToPlaces(const plan::ChannelPlan* planned) {
    if (planned == nullptr) return false;
    return planned->signal == plan::SignalKind::Unknown ? planned->context->ask.positional : plan::isPlaced(*planned);
}

}  // namespace

void RoutinePage::offerCue(QMenu& menu, const std::string& id) {
    const auto& model = document_->model();
    const routine::Cue* cue = nullptr;
    for (const auto& each : model.project.routine.cues)
        if (each.id == id) cue = &each;
    if (cue == nullptr) return;
    const std::string base = "routine/cues/" + id + "/";
    offerStarts(menu, *cue);
    offerMoves(menu, *cue);
    offerGuards(menu, *cue);
    menu.addSeparator();
    change(&menu, tr("Take the whole cue out"), [id](project::Project p) { return project::removeCue(std::move(p), id); });
}

void RoutinePage::edit(QMenu* into, const QString& words_of, std::vector<project::FactEdit> edits, bool now) {
    auto* action = into->addAction(words_of);
    action->setCheckable(true);
    action->setChecked(now);
    connect(action, &QAction::triggered, this, [this, edits] { document_->apply(edits); });
}

void RoutinePage::change(QMenu* into, const QString& words_of, const std::function<project::Project(project::Project)>& make) {
    connect(into->addAction(words_of), &QAction::triggered, this, [this, make] { document_->replace(make(document_->model().project)); });
}

void RoutinePage::offerStarts(QMenu& menu, const routine::Cue& cue) {
    const auto& model = document_->model();
    const std::string id = cue.id, base = "routine/cues/" + id + "/";
    auto* starts = menu.addMenu(tr("It starts"));
    for (const auto& input : model.project.inputs) {
        const bool mine = cue.input == input.id;
        edit(starts, tr("when %1 is pressed or becomes true").arg(text(input.name)),
             {{base + "input", input.id}, {base + "held", ""}, {base + "on_release", "no"}}, mine && !cue.on_release && !cue.held);
        edit(starts, tr("when %1 is let go or is no longer true").arg(text(input.name)),
             {{base + "input", input.id}, {base + "held", ""}, {base + "on_release", "yes"}}, mine && cue.on_release);
        edit(starts, tr("when %1 was held").arg(text(input.name)),
             {{base + "input", input.id}, {base + "on_release", "no"}, {base + "held", "2 s"}}, mine && cue.held.has_value());
    }
    starts->addSeparator();
    edit(starts, tr("at times of day"), {{base + "times", cue.times.empty() ? "06:40" : ""}}, !cue.times.empty());
    if (!cue.times.empty())
        edit(starts, tr("a missed time is made up for, by ten minutes at most"), {{base + "late", si(cue.late) > 0.0 ? "0 s" : "10 min"}},
             si(cue.late) > 0.0);
    edit(starts, tr("every so often"), {{base + "every", cue.every ? "" : "20 min"}}, cue.every.has_value());
    edit(starts, tr("when the power comes"), {{base + "at_power_up", cue.at_power_up ? "no" : "yes"}}, cue.at_power_up);
    for (const auto& other : model.project.routine.cues)
        if (other.id != id)
            edit(starts, tr("after '%1'").arg(text(other.name)), {{base + "after", cue.after == other.id ? "" : other.id}},
                 cue.after == other.id);
    if (!cue.input.empty()) edit(starts, tr("by no input"), {{base + "input", ""}, {base + "held", ""}, {base + "on_release", "no"}});
}

void RoutinePage::offerMoves(QMenu& menu, const routine::Cue& cue) {
    const auto& model = document_->model();
    const std::string id = cue.id;
    using routine::Action;
    auto* add = menu.addMenu(tr("Then"));
    for (const auto& channel : model.project.channels) offerVerbs(*add, id, channel);
    change(add, tr("wait"), [id](project::Project p) { return project::addMove(std::move(p), id, Action::Wait, ""); });
    for (const auto& input : model.project.inputs)
        change(add, tr("wait until %1").arg(text(input.name)),
               [id, input_id = input.id](project::Project p) { return project::addMove(std::move(p), id, Action::Until, "", input_id); });
    for (const auto& input : model.project.inputs)
        if (input.kind == project::InputKind::Counter)
            change(add, tr("%1 counts from nothing").arg(text(input.name)), [id, input_id = input.id](project::Project p) {
                return project::addMove(std::move(p), id, Action::Clear, "", input_id);
            });
    if (!cue.moves.empty())
        change(add, tr("all that again"), [id](project::Project p) { return project::addMove(std::move(p), id, Action::Again, ""); });
}

// What a channel can be asked for.
void RoutinePage::offerVerbs(QMenu& add, const std::string& id, const project::Channel& channel) {
    using routine::Action;
    const auto& model = document_->model();
    const auto* planned = plan::findChannel(model.plan, channel.id);
    auto* of_channel = add.addMenu(text(channel.name));
    const bool placed = sentToPlaces(planned);
    const auto verb = [&](const QString& words_of, Action action) {
        change(of_channel, words_of, [id, action, channel_id = channel.id](project::Project p) {
            return project::addMove(std::move(p), id, action, channel_id);
        });
    };
    if (placed) {
        verb(tr("goes to a place"), Action::Go);
        change(of_channel, tr("goes on from where it stands"),
               [id, channel_id = channel.id](project::Project p) { return project::addMoveFromHere(std::move(p), id, channel_id); });
        verb(tr("swings"), Action::Sweep);
        if (routine::isHeld(model.project.routine, channel.id)) {
            verb(tr("goes on"), Action::On);
            verb(tr("goes off"), Action::Off);
        }
        if (planned->signal == plan::SignalKind::Steps)
            for (const auto& input : model.project.inputs)
                change(of_channel, tr("goes back until %1").arg(text(input.name)),
                       [id, channel_id = channel.id, input_id = input.id](project::Project p) {
                           return project::addMove(std::move(p), id, Action::Home, channel_id, input_id);
                       });
    } else {
        verb(tr("runs for a time"), Action::Run);
        verb(tr("goes on"), Action::On);
        if (planned != nullptr && planned->both_ways) {
            const auto backwards = [&](const QString& words_of, Action action) {
                change(of_channel, words_of, [id, action, channel_id = channel.id](project::Project p) {
                    auto made = project::addMove(std::move(p), id, action, channel_id);
                    for (auto& each : made.routine.cues)
                        if (each.id == id) each.moves.back().backwards = true;
                    return made;
                });
            };
            backwards(tr("runs backwards for a time"), Action::Run);
            backwards(tr("goes on backwards"), Action::On);
        }
        verb(planned != nullptr && planned->two_inputs ? tr("goes off, and coasts") : tr("goes off"), Action::Off);
        if (planned != nullptr && planned->two_inputs) verb(tr("goes off, and brakes"), Action::Brake);
        verb(tr("changes over"), Action::Toggle);
        verb(tr("fades to a share"), Action::Fade);
        verb(tr("flickers"), Action::Flicker);
    }
}

void RoutinePage::offerGuards(QMenu& menu, const routine::Cue& cue) {
    const auto& model = document_->model();
    const std::string id = cue.id;
    auto* unless = menu.addMenu(tr("Unless"));
    for (const auto& input : model.project.inputs)
        change(unless, text(input.name),
               [id, input_id = input.id](project::Project p) { return project::addGuard(std::move(p), id, input_id); });
    for (const auto& guard : cue.guards)
        change(unless, tr("no more 'unless %1'").arg(text(guard.input)),
               [id, guard_id = guard.id](project::Project p) { return project::removeGuard(std::move(p), id, guard_id); });
    const auto nameOfMove = [&](const routine::Move& move) {
        const auto* channel = project::findChannel(model.project, move.channel);
        return (channel != nullptr ? text(channel->name) + " " : QString()) + tr(labelOf(move.action));
    };
    if (!cue.moves.empty()) {
        auto* earlier = menu.addMenu(tr("One place earlier"));
        auto* out = menu.addMenu(tr("Take out"));
        for (const auto& move : cue.moves) {
            change(earlier, nameOfMove(move),
                   [id, move_id = move.id](project::Project p) { return project::shiftMove(std::move(p), id, move_id, -1); });
            change(out, nameOfMove(move),
                   [id, move_id = move.id](project::Project p) { return project::removeMove(std::move(p), id, move_id); });
        }
    }
}

// What else must be so for an interlock to speak.
void RoutinePage::offerTerms(QMenu& menu, const std::string& id) {
    const auto& model = document_->model();
    const auto change = [this](QMenu* into, const QString& words_of, auto make) {
        connect(into->addAction(words_of), &QAction::triggered, this,
                [this, make] { document_->replace(make(document_->model().project)); });
    };
    for (const auto& rule : model.project.routine.interlocks) {
        if (rule.id != id) continue;
        for (const auto& channel : model.project.channels) {
            if (channel.id == rule.channel) continue;
            auto* of_channel = menu.addMenu(tr("and %1").arg(text(channel.name)));
            const auto* planned = plan::findChannel(model.plan, channel.id);
            const bool placed = planned != nullptr && planned->context->ask.positional;
            using routine::TermState;
            for (const auto state : {TermState::On, TermState::Off, TermState::Beyond, TermState::Short}) {
                if (!placed && (state == TermState::Beyond || state == TermState::Short)) continue;
                change(of_channel,
                       placed && state == TermState::On    ? tr("moving")
                       : placed && state == TermState::Off ? tr("standing still")
                                                           : tr(labelOf(state)),
                       [id, channel_id = channel.id, state](project::Project p) {
                           return project::addTerm(std::move(p), id, channel_id, state);
                       });
            }
        }
        for (const auto& term : rule.terms)
            change(&menu, tr("no more '%1'").arg(text(term.channel)),
                   [id, term_id = term.id](project::Project p) { return project::removeTerm(std::move(p), id, term_id); });
    }
}

void RoutinePage::offerNew(QMenu& menu, const QString& what) {
    const auto& model = document_->model();
    const auto change = [this](QMenu* into, const QString& words_of, auto make) {
        connect(into->addAction(words_of), &QAction::triggered, this,
                [this, make] { document_->replace(make(document_->model().project)); });
    };
    if (what == "cue")
        change(&menu, tr("A cue that nothing starts yet"), [](project::Project p) {
            const std::string name = "cue " + std::to_string(p.routine.cues.size() + 1);
            return project::addCue(std::move(p), name);
        });
    if (what == "input")
        for (const auto& name : Names<project::InputKind>::all)
            change(&menu, tr(name.label), [kind = name.value, label = std::string(name.label)](project::Project p) {
                return project::addInput(std::move(p), kind, label.substr(0, label.find_first_of(",:")));
            });
    if (what == "input" && !model.project.inputs.empty()) {
        auto* out = menu.addMenu(tr("Take out"));
        for (const auto& input : model.project.inputs)
            change(out, text(input.name), [id = input.id](project::Project p) { return project::removeInput(std::move(p), id); });
    }
    if (what == "loop")
        for (const auto& channel : model.project.channels) {
            QMenu* of_channel = nullptr;
            for (const auto& input : model.project.inputs) {
                if (!project::isAnalogue(input.kind) && input.kind != project::InputKind::Tach && input.kind != project::InputKind::Number)
                    continue;
                if (of_channel == nullptr) of_channel = menu.addMenu(text(channel.name));
                change(of_channel, tr("holds %1").arg(text(input.name)),
                       [channel_id = channel.id, input_id = input.id](project::Project p) {
                           return project::addLoop(std::move(p), channel_id, input_id);
                       });
            }
        }
    if (what == "loop" && menu.isEmpty())
        menu.addAction(tr("A tach, a level or a number is needed first: add it as an input."))->setEnabled(false);
    if (what == "never")
        for (const auto& channel : model.project.channels) {
            auto* of_channel = menu.addMenu(tr("%1 together with").arg(text(channel.name)));
            for (const auto& other : model.project.channels)
                if (other.id != channel.id)
                    change(of_channel, text(other.name), [channel_id = channel.id, other_id = other.id](project::Project p) {
                        p = project::addInterlock(std::move(p), channel_id, "");
                        const auto rule = p.routine.interlocks.back().id;
                        return project::addTerm(std::move(p), rule, other_id, routine::TermState::On);
                    });
        }
    if (what == "follower" || what == "never") {
        for (const auto& channel : model.project.channels) {
            const auto* planned = plan::findChannel(model.plan, channel.id);
            if (what == "follower" && planned != nullptr && planned->context->ask.positional) continue;
            auto* of_channel = menu.addMenu(text(channel.name));
            for (const auto& input : model.project.inputs)
                change(of_channel, what == "never" ? tr("never on with %1").arg(text(input.name)) : tr("follows %1").arg(text(input.name)),
                       [never = what == "never", channel_id = channel.id, input_id = input.id](project::Project p) {
                           return never ? project::addInterlock(std::move(p), channel_id, input_id)
                                        : project::addFollower(std::move(p), channel_id, input_id);
                       });
        }
    }
    if (what == "pattern")
        for (const auto& pattern : project::patterns()) {
            auto* of_pattern = menu.addMenu(tr(pattern.name));
            of_pattern->setToolTip(tr(pattern.what));
            for (const auto& channel : model.project.channels) {
                const auto* planned = plan::findChannel(model.plan, channel.id);
                const bool placed = sentToPlaces(planned);
                if (placed != pattern.moves || (pattern.shows && !plan::shownScale(model.project, model.parts, channel.id)) ||
                    (pattern.bridge && (planned == nullptr || !planned->both_ways)) ||
                    (pattern.stepper && (planned == nullptr || planned->signal != plan::SignalKind::Steps)))
                    continue;
                connect(of_pattern->addAction(text(channel.name)), &QAction::triggered, this,
                        [this, pattern_id = std::string(pattern.id), channel_id = channel.id] {
                            if (auto made = project::insertPattern(document_->model().project, pattern_id, channel_id))
                                document_->replace(std::move(*made));
                        });
            }
            of_pattern->menuAction()->setVisible(!of_pattern->isEmpty());
        }
}

}  // namespace hinge::app
