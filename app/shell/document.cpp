#include "shell/document.hpp"
#include "plan/machines.hpp"
#include "quantity/text.hpp"
#include "routine/prove.hpp"
#include "store/trials.hpp"
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <algorithm>

namespace hinge::app {

QString words(const Error& error) { return text(sentence(error)); }

Document::Document(const QString& partsFolder, QObject* parent) : QObject(parent), partsFolder_(partsFolder) {
    loadParts();
    store_.project = project::newProject();
    saved_ = store_.project;
    autosave_.setSingleShot(true);
    autosave_.setInterval(2000);
    connect(&autosave_, &QTimer::timeout, this, [this] {
        if (autosaves_ && !folder_.isEmpty() && dirty())
            if (const auto written = store::autosave(store_, folder_.toStdString()); !written) Q_EMIT said(tr("Autosave failed: %1").arg(words(written.error())));
    });
    poll_.setInterval(30);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (work_.valid() && work_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
    reevaluate();
}

// The shipped parts, and the maker's own over them.
void Document::loadParts() {
    catalogue::Loaded all;
    if (auto loaded = catalogue::load(partsFolder_.toStdString())) all = std::move(*loaded);
    own_ = {};
    if (!ownParts_.isEmpty())
        if (auto mine = catalogue::load(ownParts_.toStdString())) own_ = std::move(*mine);
    catalogue::merge(all, own_);
    model_.parts = std::move(all.parts);
}

void Document::setOwnParts(const QString& folder) {
    ownParts_ = folder;
    loadParts();
    reevaluate();
}

QString Document::writeOwn(const std::string& kind) {
    if (ownParts_.isEmpty()) return tr("There is no folder for parts of your own.");
    std::vector<std::string> ids;
    for (const auto& part : own_.parts.actuators) ids.push_back(actuator::head(part).id);
    for (const auto& driver : own_.parts.drivers) ids.push_back(driver.id);
    const auto csv = catalogue::write(kind, own_.parts, ids);
    if (!csv) return words(csv.error());
    if (!QDir().mkpath(ownParts_)) return tr("%1 cannot be made; choose a folder you may write to.").arg(ownParts_);
    const std::string path = (ownParts_ + "/" + text(kind) + ".csv").toStdString();
    if (const auto written = store::writeWhole(path, *csv); !written) return words(written.error());
    return {};
}

QString Document::addParts(const std::string& kind, catalogue::Loaded loaded) {
    const auto before = own_;
    loaded.problems.clear();
    catalogue::merge(own_, std::move(loaded));
    if (const QString why = writeOwn(kind); !why.isEmpty()) {
        own_ = before;
        return why;
    }
    loadParts();
    reevaluate();
    return {};
}

QString Document::markPart(const std::string& id, const std::string& field, const std::string& value) {
    const std::string kind = catalogue::kindOfPart(model_.parts, id);
    if (kind.empty()) return tr("'%1' is not in the catalogue.").arg(text(id));
    catalogue::Loaded one;
    const auto put = [&](actuator::PartHead& head) {
        if (field == "drawer") head.drawer = value == "yes";
        else head.standing = named<actuator::Standing>(value).value_or(head.standing);
    };
    if (const auto* part = project::findActuator(model_.parts, id)) one.parts.actuators.push_back(*part), put(actuator::head(one.parts.actuators.back()));
    else one.parts.drivers.push_back(*project::findDriver(model_.parts, id)), put(one.parts.drivers.back());
    return addParts(kind, std::move(one));
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
    openHistory();
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
    if (!folder_.isEmpty() && folder_ != target)
        if (const auto taken = store::takeAlong(folder_.toStdString(), target.toStdString()); !taken) Q_EMIT said(tr("The project is saved, but not all of its trials and photos came along: %1").arg(words(taken.error())));
    folder_ = target;
    saved_ = store_.project;
    if (autosaves_)
        if (const auto kept = history_.keepIn(folder_.toStdString()); !kept) Q_EMIT said(tr("The project is saved; its history is not: %1").arg(words(kept.error())));
    Q_EMIT changed();
    return {};
}

void Document::newGadget() {
    store_ = {};
    store_.project = project::newProject();
    saved_ = store_.project;
    folder_.clear();
    history_ = {};
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
    noteState(tr("taken back"));
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

void Document::learnFrom(const QStringList& folders) {
    lessons_.clear();
    for (const auto& folder : folders)
        if (const auto other = store::load(folder.toStdString()))
            for (auto& lesson : proof::lessonsOf(other->project)) lessons_.push_back(std::move(lesson));
    reevaluate();
}

// In a folder that may be written to it goes to the disk at once; a demo that lies where the program does is only remembered.
void Document::openHistory() { history_ = autosaves_ && QFileInfo(folder_).isWritable() ? store::History::open(folder_.toStdString()) : store::History{}; }

void Document::noteState(const QString& words_of) {
    const auto noted = history_.note(store_.project, QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss").toStdString(), words_of.toStdString());
    if (!noted) Q_EMIT said(tr("The history is not kept: %1").arg(words(noted.error())));
}

QString Document::goBack(std::size_t entry) {
    auto earlier = history_.at(entry);
    if (!earlier) return words(earlier.error());
    const QString when = text(history_.entry(entry).date).replace('T', ' ');
    if (*earlier == store_.project) return tr("That is how it is now.");
    undo_.push_back(std::move(store_.project));
    redo_.clear();
    store_.project = std::move(*earlier);
    autosave_.start();
    noteState(tr("back to %1").arg(when));
    reevaluate();
    return {};
}

void Document::reevaluate() {
    noteState();
    auto& m = model_;
    m.project = store_.project;
    auto plain = plan::evaluate(m.project, m.parts);
    m.sketch.reset();
    if (auto sketch = plan::sketchOf(m.project, plain)) m.sketch = std::move(*sketch);
    const std::string fingerprint = m.sketch ? m.sketch->text : "";
    if (fingerprint != workedOn_ || !plain.program) m.evidence = {};
    m.plan = plan::evaluate(m.project, m.parts, m.evidence);
    m.steps = proof::bringUp(m.project, m.parts, m.plan);
    m.plan = proof::withLessons(proof::withProof(std::move(m.plan), m.steps), m.project, lessons_);
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
        // Every cue once, a second apart.
        m.script.clear();
        for (const auto& cue : m.plan.program->cues) {
            simulation::Event start;
            start.time = 0.5 + static_cast<double>(m.script.size());
            start.cue = cue.id;
            m.script.push_back(start);
        }
        asProved_ = false;
    }
    simulation::Options options;
    options.length = simulation::sceneLength(*m.plan.program, m.script);
    options.sample_every = options.length / 1500.0;
    options.events = m.script;
    options.as_proved = asProved_;
    options.machines = plan::heldMachines(m.project, m.parts, m.plan);
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
        if (compile && !cancel->load() && board::family(form).sketch) {
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
