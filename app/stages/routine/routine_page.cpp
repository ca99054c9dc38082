#include "stages/routine/routine_page.hpp"
#include "shell/labels.hpp"
#include "stages/routine/routine_sentences.hpp"
#include "project/routine_edits.hpp"
#include <QCursor>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>

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
        else Q_EMIT wordClicked(url.path());
    });
    auto* row = new QWidget;
    inputs_ = new QHBoxLayout(row);
    chart_ = new SceneChart(document);
    chart_->setObjectName("scene");
    column->addWidget(sentences_, 5);
    column->addWidget(row);
    column->addWidget(chart_, 9);
}

void RoutinePage::present(const QString& channel) {
    auto font = textFont(Text::Body);
    font.setPixelSize(px(15));
    sentences_->setFont(font);
    sentences_->setStyleSheet(QString("background-color: %1; padding: 0 %2px;").arg(colours().card.name()).arg(px(10)));
    sentences_->setHtml(routineHtml(document_->model()));
    buildInputs();
    chart_->present(channel);
}

void RoutinePage::buildInputs() {
    const auto& model = document_->model();
    const bool violated = model.plan.proofs && std::any_of(model.plan.proofs->begin(), model.plan.proofs->end(), [](const auto& proof) { return !proof.replay.empty(); });
    QString key = themeKey() + (violated ? "v" : "");
    for (const auto& input : model.project.inputs) key += text(input.id + input.name);
    if (key == builtInputs_) return;
    builtInputs_ = key;
    clear(inputs_);
    inputs_->setContentsMargins(px(14), px(4), px(14), px(4));
    inputs_->setSpacing(px(8));
    auto* lead = label(tr("At the play-head"), Text::Small, colours().soft);
    lead->setWordWrap(false);
    inputs_->addWidget(lead);
    const auto add = [&](const QString& words_of, const QString& name, const QString& why, auto slot) {
        auto* button = new QPushButton(words_of);
        button->setObjectName(name);
        button->setFont(textFont(Text::Body));
        button->setToolTip(why);
        connect(button, &QPushButton::clicked, this, slot);
        inputs_->addWidget(button);
    };
    for (const auto& input : model.project.inputs)
        add(text(input.name), "press_" + text(input.id), input.kind == project::InputKind::Button ? tr("Presses it there, for a fifth of a second.") : tr("Becomes true there; a second press ends it."), [this, id = input.id] { press(id); });
    add(tr("stop"), "press_stop", tr("Everything to its safe state."), [this] {
        auto script = document_->model().script;
        simulation::Event event;
        event.time = chart_->playHead();
        event.stop = true;
        script.push_back(event);
        document_->play(std::move(script));
    });
    add(tr("power cut"), "press_power", tr("Power goes and comes back: the routine starts from its power-up state."), [this] {
        auto script = document_->model().script;
        simulation::Event event;
        event.time = chart_->playHead();
        event.power_cut = true;
        script.push_back(event);
        document_->play(std::move(script));
    });
    if (violated) add(tr("its story"), "play_story", tr("Plays the sequence that breaks the interlock, enforcement off."), [this] { playStory(); });
    inputs_->addStretch();
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
    else offerNew(menu, id);
    menu.exec(where);
}

void RoutinePage::offerCue(QMenu& menu, const std::string& id) {
    const auto& model = document_->model();
    const routine::Cue* cue = nullptr;
    for (const auto& each : model.project.routine.cues)
        if (each.id == id) cue = &each;
    if (cue == nullptr) return;
    const std::string base = "routine/cues/" + id + "/";
    const auto edit = [this](QMenu* into, const QString& words_of, std::vector<project::FactEdit> edits, bool now = false) {
        auto* action = into->addAction(words_of);
        action->setCheckable(true);
        action->setChecked(now);
        connect(action, &QAction::triggered, this, [this, edits] { document_->apply(edits); });
    };
    const auto change = [this](QMenu* into, const QString& words_of, auto make) {
        connect(into->addAction(words_of), &QAction::triggered, this, [this, make] { document_->replace(make(document_->model().project)); });
    };
    auto* starts = menu.addMenu(tr("It starts"));
    for (const auto& input : model.project.inputs) {
        const bool mine = cue->input == input.id;
        edit(starts, tr("when %1 is pressed or becomes true").arg(text(input.name)), {{base + "input", input.id}, {base + "held", ""}, {base + "on_release", "no"}}, mine && !cue->on_release && !cue->held);
        edit(starts, tr("when %1 is let go or is no longer true").arg(text(input.name)), {{base + "input", input.id}, {base + "held", ""}, {base + "on_release", "yes"}}, mine && cue->on_release);
        edit(starts, tr("when %1 was held").arg(text(input.name)), {{base + "input", input.id}, {base + "on_release", "no"}, {base + "held", "2 s"}}, mine && cue->held.has_value());
    }
    starts->addSeparator();
    edit(starts, tr("at times of day"), {{base + "times", cue->times.empty() ? "06:40" : ""}}, !cue->times.empty());
    edit(starts, tr("every so often"), {{base + "every", cue->every ? "" : "20 min"}}, cue->every.has_value());
    edit(starts, tr("when the power comes"), {{base + "at_power_up", cue->at_power_up ? "no" : "yes"}}, cue->at_power_up);
    for (const auto& other : model.project.routine.cues)
        if (other.id != id) edit(starts, tr("after '%1'").arg(text(other.name)), {{base + "after", cue->after == other.id ? "" : other.id}}, cue->after == other.id);
    if (!cue->input.empty()) edit(starts, tr("by no input"), {{base + "input", ""}, {base + "held", ""}, {base + "on_release", "no"}});

    using routine::Action;
    auto* add = menu.addMenu(tr("Then"));
    for (const auto& channel : model.project.channels) {
        const auto* planned = plan::findChannel(model.plan, channel.id);
        auto* of_channel = add->addMenu(text(channel.name));
        const bool placed = planned != nullptr && planned->context.ask.positional;
        const auto verb = [&](const QString& words_of, Action action) { change(of_channel, words_of, [id, action, channel_id = channel.id](project::Project p) { return project::addMove(std::move(p), id, action, channel_id); }); };
        if (placed) {
            verb(tr("goes to a place"), Action::Go);
            if (planned->signal == plan::SignalKind::Steps)
                for (const auto& input : model.project.inputs)
                    change(of_channel, tr("goes back until %1").arg(text(input.name)), [id, channel_id = channel.id, input_id = input.id](project::Project p) { return project::addMove(std::move(p), id, Action::Home, channel_id, input_id); });
        } else {
            verb(tr("runs for a time"), Action::Run);
            verb(tr("goes on"), Action::On);
            verb(tr("goes off"), Action::Off);
            verb(tr("changes over"), Action::Toggle);
        }
    }
    change(add, tr("wait"), [id](project::Project p) { return project::addMove(std::move(p), id, Action::Wait, ""); });
    for (const auto& input : model.project.inputs)
        change(add, tr("wait until %1").arg(text(input.name)), [id, input_id = input.id](project::Project p) { return project::addMove(std::move(p), id, Action::Until, "", input_id); });
    if (!cue->moves.empty()) change(add, tr("all that again"), [id](project::Project p) { return project::addMove(std::move(p), id, Action::Again, ""); });
    auto* unless = menu.addMenu(tr("Unless"));
    for (const auto& input : model.project.inputs)
        change(unless, text(input.name), [id, input_id = input.id](project::Project p) { return project::addGuard(std::move(p), id, input_id); });
    for (const auto& guard : cue->guards)
        change(unless, tr("no more 'unless %1'").arg(text(guard.input)), [id, guard_id = guard.id](project::Project p) { return project::removeGuard(std::move(p), id, guard_id); });
    const auto nameOfMove = [&](const routine::Move& move) {
        const auto* channel = project::findChannel(model.project, move.channel);
        return (channel != nullptr ? text(channel->name) + " " : QString()) + tr(labelOf(move.action));
    };
    if (!cue->moves.empty()) {
        auto* earlier = menu.addMenu(tr("One place earlier"));
        auto* out = menu.addMenu(tr("Take out"));
        for (const auto& move : cue->moves) {
            change(earlier, nameOfMove(move), [id, move_id = move.id](project::Project p) { return project::shiftMove(std::move(p), id, move_id, -1); });
            change(out, nameOfMove(move), [id, move_id = move.id](project::Project p) { return project::removeMove(std::move(p), id, move_id); });
        }
    }
    menu.addSeparator();
    change(&menu, tr("Take the whole cue out"), [id](project::Project p) { return project::removeCue(std::move(p), id); });
}

void RoutinePage::offerNew(QMenu& menu, const QString& what) {
    const auto& model = document_->model();
    const auto change = [this](QMenu* into, const QString& words_of, auto make) {
        connect(into->addAction(words_of), &QAction::triggered, this, [this, make] { document_->replace(make(document_->model().project)); });
    };
    if (what == "cue") change(&menu, tr("A cue that nothing starts yet"), [](project::Project p) {
        const std::string name = "cue " + std::to_string(p.routine.cues.size() + 1);
        return project::addCue(std::move(p), name);
    });
    if (what == "input")
        for (const auto& name : Names<project::InputKind>::all) change(&menu, tr(name.label), [kind = name.value, label = std::string(name.label)](project::Project p) { return project::addInput(std::move(p), kind, label.substr(0, label.find_first_of(",:"))); });
    if (what == "follower" || what == "never") {
        for (const auto& channel : model.project.channels) {
            const auto* planned = plan::findChannel(model.plan, channel.id);
            if (what == "follower" && planned != nullptr && planned->context.ask.positional) continue;
            auto* of_channel = menu.addMenu(text(channel.name));
            for (const auto& input : model.project.inputs)
                change(of_channel, what == "never" ? tr("never on with %1").arg(text(input.name)) : tr("follows %1").arg(text(input.name)), [never = what == "never", channel_id = channel.id, input_id = input.id](project::Project p) {
                    return never ? project::addInterlock(std::move(p), channel_id, input_id) : project::addFollower(std::move(p), channel_id, input_id);
                });
        }
    }
    if (what == "pattern")
        for (const auto& pattern : project::patterns()) {
            auto* of_pattern = menu.addMenu(tr(pattern.name));
            of_pattern->setToolTip(tr(pattern.what));
            for (const auto& channel : model.project.channels) {
                const auto* planned = plan::findChannel(model.plan, channel.id);
                const bool placed = planned != nullptr && planned->context.ask.positional;
                if (placed != pattern.moves || (pattern.stepper && (planned == nullptr || planned->signal != plan::SignalKind::Steps))) continue;
                connect(of_pattern->addAction(text(channel.name)), &QAction::triggered, this, [this, pattern_id = std::string(pattern.id), channel_id = channel.id] {
                    if (auto made = project::insertPattern(document_->model().project, pattern_id, channel_id)) document_->replace(std::move(*made));
                });
            }
            of_pattern->menuAction()->setVisible(!of_pattern->isEmpty());
        }
}

}  // namespace hinge::app
