#include "shell/document.hpp"
#include "quantity/text.hpp"
#include "routine/prove.hpp"
#include <QDir>
#include <QFileInfo>
#include <algorithm>

namespace hinge::app {

QString words(const Error& error) { return text(sentence(error)); }

Document::Document(const QString& partsFolder, QObject* parent) : QObject(parent), partsFolder_(partsFolder) {
    if (auto loaded = catalogue::load(partsFolder.toStdString())) model_.parts = std::move(loaded->parts);
    store_.project = project::newProject();
    saved_ = store_.project;
    autosave_.setSingleShot(true);
    autosave_.setInterval(2000);
    connect(&autosave_, &QTimer::timeout, this, [this] {
        if (!folder_.isEmpty() && dirty())
            if (const auto written = store::autosave(store_, folder_.toStdString()); !written) Q_EMIT said(tr("Autosave failed: %1").arg(words(written.error())));
    });
    poll_.setInterval(30);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (work_.valid() && work_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
    reevaluate();
}

Document::~Document() {
    cancel_ = true;
    if (work_.valid()) work_.wait();
}

QString Document::open(const QString& folder) {
    auto loaded = store::load(folder.toStdString());
    if (!loaded) return words(loaded.error());
    store_ = std::move(*loaded);
    saved_ = store_.project;
    const QFileInfo info(folder);
    folder_ = info.isFile() ? info.absolutePath() : info.absoluteFilePath();
    undo_.clear();
    redo_.clear();
    ownScript_ = false;
    reevaluate();
    return {};
}

QString Document::save(const QString& folder) {
    const QString target = folder.isEmpty() ? folder_ : folder;
    if (target.isEmpty()) return tr("Choose a folder to save into.");
    if (const auto written = store::save(store_, target.toStdString()); !written) return words(written.error());
    folder_ = target;
    saved_ = store_.project;
    Q_EMIT changed();
    return {};
}

void Document::newGadget() {
    store_ = {};
    store_.project = project::newProject();
    saved_ = store_.project;
    folder_.clear();
    undo_.clear();
    redo_.clear();
    ownScript_ = false;
    reevaluate();
}

bool Document::hasRecovery(const QString& folder) const { return store::recoverable(folder.toStdString()).has_value(); }

void Document::recover(const QString& folder) {
    if (auto document = store::recoverable(folder.toStdString())) {
        undo_.push_back(store_.project);
        store_ = std::move(*document);
        reevaluate();
    }
}

QString Document::apply(const std::vector<project::FactEdit>& edits) {
    auto changed = project::with(store_.project, edits);
    if (!changed) return words(changed.error());
    replace(std::move(*changed));
    return {};
}

void Document::replace(project::Project project) {
    if (project == store_.project) return;
    undo_.push_back(std::move(store_.project));
    if (undo_.size() > 500) undo_.erase(undo_.begin());
    redo_.clear();
    store_.project = std::move(project);
    autosave_.start();
    reevaluate();
}

void Document::undo() {
    if (undo_.empty()) return;
    redo_.push_back(std::move(store_.project));
    store_.project = std::move(undo_.back());
    undo_.pop_back();
    autosave_.start();
    reevaluate();
}

void Document::redo() {
    if (redo_.empty()) return;
    undo_.push_back(std::move(store_.project));
    store_.project = std::move(redo_.back());
    redo_.pop_back();
    autosave_.start();
    reevaluate();
}

void Document::reevaluate() {
    auto& m = model_;
    m.project = store_.project;
    auto plain = plan::evaluate(m.project, m.parts);
    m.sketch.reset();
    if (auto sketch = plan::sketchOf(m.project, plain)) m.sketch = std::move(*sketch);
    const std::string fingerprint = m.sketch ? m.sketch->text : "";
    if (fingerprint != workedOn_ || !plain.program) m.evidence = {};
    m.plan = plan::evaluate(m.project, m.parts, m.evidence);
    m.steps = proof::bringUp(m.project, m.parts, m.plan);
    m.plan = proof::withProof(std::move(m.plan), m.steps);
    m.wires = plan::wiring(m.project, m.parts, m.plan);
    m.partLines = plan::partsList(m.project, m.parts, m.plan);
    playScene();
    startWork();
    Q_EMIT changed();
}

void Document::play(std::vector<simulation::Event> script, bool asProved) {
    ownScript_ = !script.empty();
    asProved_ = asProved;
    std::stable_sort(script.begin(), script.end(), [](const auto& a, const auto& b) { return a.time < b.time; });
    model_.script = std::move(script);
    playScene();
    Q_EMIT changed();
}

void Document::playScene() {
    auto& m = model_;
    m.scene.reset();
    if (!m.plan.program || m.plan.program->cues.empty()) return;
    const auto plants = plan::plantsOf(m.project, m.parts, m.plan);
    if (!plants) return;
    if (!ownScript_) {
        simulation::Event start;
        start.time = 0.5;
        start.cue = m.plan.program->cues.front().id;
        m.script = {start};
        asProved_ = false;
    }
    simulation::Options options;
    options.length = simulation::sceneLength(*m.plan.program, m.script);
    options.sample_every = options.length / 1500.0;
    options.events = m.script;
    options.as_proved = asProved_;
    for (const auto& rail : m.plan.rails)
        if (rail.id == m.project.board.rail && rail.rest) options.rest_current = si(*rail.rest);
    auto traces = simulation::simulate(*m.plan.program, *plants, options);
    if (!traces && ownScript_) {  // a pressed input is no longer there
        ownScript_ = false;
        return playScene();
    }
    if (traces) m.scene = std::move(*traces);
}

void Document::startWork() {
    if (!model_.plan.program || !model_.sketch || model_.sketch->text == workedOn_) return;
    if (work_.valid()) {
        cancel_ = true;  // collect() starts the newest when this one has ended
        poll_.start();
        return;
    }
    cancel_ = false;
    poll_.start();
    work_ = std::async(std::launch::async, [program = *model_.plan.program, sketch = *model_.sketch, form = model_.project.board.form, cancel = &cancel_, compile = compile_] {
        Work done;
        done.sketch = sketch.text;
        done.proofs = routine::prove(program, 2'000'000, cancel);
        if (compile && !cancel->load()) {
            const auto built = emulator::build(sketch, board::family(form), emulator::usualCache());
            if (built) done.build = plan::Evidence::Build{built->ok, built->flash, built->ram, built->log};
            else done.compilerMissing = true;
        }
        return done;
    });
}

void Document::collect() {
    auto done = work_.get();
    poll_.stop();
    if (!model_.sketch || model_.sketch->text != done.sketch || cancel_) {
        startWork();
        return;
    }
    workedOn_ = done.sketch;
    model_.evidence.proofs = std::move(done.proofs);
    model_.evidence.build = std::move(done.build);
    model_.evidence.compiler_missing = done.compilerMissing;
    reevaluate();
}

void Document::settle() {
    for (int i = 0; i < 20 && work_.valid(); ++i) {
        work_.wait();
        collect();
    }
}

}  // namespace hinge::app
