#include "stages/routine/routine_page.hpp"
#include "shell/labels.hpp"
#include "stages/routine/routine_sentences.hpp"
#include <QLabel>
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
    connect(sentences_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) { Q_EMIT wordClicked(url.path()); });
    auto* row = new QWidget;
    inputs_ = new QHBoxLayout(row);
    chart_ = new SceneChart(document);
    chart_->setObjectName("scene");
    column->addWidget(sentences_, 2);
    column->addWidget(row);
    column->addWidget(chart_, 4);
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

}  // namespace hinge::app
