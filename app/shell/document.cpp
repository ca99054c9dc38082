#include "shell/document.hpp"
#include <QBuffer>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QRegularExpression>
#include <algorithm>
#include "plan/machines.hpp"
#include "quantity/text.hpp"
#include "routine/prove.hpp"
#include "shell/typed.hpp"
#include "simulation/scene.hpp"
#include "store/trials.hpp"

namespace hinge::app {

std::string nowText() {
    return QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString();
}

QString words(const Error& error) {
    return text(sentence(error));
}

Document::Document(const QString& partsFolder, QObject* parent) : QObject(parent), partsFolder_(partsFolder) {
    loadParts();
    store_.project = project::newProject();
    saved_ = store_.project;
    autosave_.setSingleShot(true);
    autosave_.setInterval(2000);
    connect(&autosave_, &QTimer::timeout, this, [this] {
        if (autosaves_ && !folder_.isEmpty() && dirty())
            if (const auto written = keeper_.autosave(store_); !written) Q_EMIT said(tr("Autosave failed: %1").arg(words(written.error())));
    });
    poll_.setInterval(30);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (work_.valid() && work_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
    look_.setInterval(1000);
    connect(&look_, &QTimer::timeout, this, &Document::lookOutside);
    look_.start();
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
    if (const auto written = files::writeWhole(path, *csv); !written) return words(written.error());
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
    if (const auto* part = project::findActuator(model_.parts, id))
        one.parts.actuators.push_back(*part), put(actuator::head(one.parts.actuators.back()));
    else one.parts.drivers.push_back(*project::findDriver(model_.parts, id)), put(one.parts.drivers.back());
    return addParts(kind, std::move(one));
}

Document::~Document() {
    cancel_ = true;
    if (work_.valid()) work_.wait();
}

namespace {

std::string secondsNow() {
    return QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss").toStdString();
}

}  // namespace

QString Document::open(const QString& folder) {
    const QFileInfo info(folder);
    const QString path = info.isFile() ? info.absolutePath() : info.absoluteFilePath();
    // The folder that is open is given back first: it may be the same one.
    if (path == folder_) keeper_ = {};
    // In a folder that may be written to it goes to the disk at once; a demo that lies where the program does is only remembered.
    auto opened = store::Keeper::open(folder.toStdString(), secondsNow(), autosaves_ && QFileInfo(path).isWritable());
    if (!opened) {
        if (path == folder_)
            if (auto again = store::Keeper::open(folder_.toStdString(), secondsNow())) keeper_ = std::move(again->keeper);
        return words(opened.error());
    }
    keeper_ = std::move(opened->keeper);
    store_ = std::move(opened->document);
    saved_ = store_.project;
    folder_ = path;
    undo_.clear();
    redo_.clear();
    ownScript_ = false;
    outside_ = keeper_.reason() && keeper_.reason()->code == ErrorCode::Conflict ? Outside::Held : Outside::None;
    reevaluate();
    if (opened->history_trouble) Q_EMIT said(tr("The history is not kept: %1").arg(words(*opened->history_trouble)));
    return {};
}

QString Document::save(const QString& folder) {
    const QString target = folder.isEmpty() ? folder_ : folder;
    if (target.isEmpty()) return tr("Choose a folder to save into.");
    const bool elsewhere = target != folder_ || !keeper_.folder();
    const auto written = elsewhere ? keeper_.saveIn(target.toStdString(), store_, secondsNow()) : keeper_.save(store_, secondsNow());
    if (!written && written.error().code == ErrorCode::Conflict && !elsewhere) {
        lookOutside();
        if (outside_ == Outside::Changed) return tr("another program has changed its file meanwhile; compare the two above first");
        return tr("another window has this gadget in hand (%1)").arg(outsideWords());
    }
    if (!written && keeper_.folder() && elsewhere && QString::fromStdString(keeper_.folder()->path().string()) == target)
        Q_EMIT said(tr("The project is saved; its history is not: %1").arg(words(written.error())));
    else if (!written) return words(written.error());
    if (!folder_.isEmpty() && folder_ != target)
        if (const auto taken = store::takeAlong(folder_.toStdString(), target.toStdString()); !taken)
            Q_EMIT said(tr("The project is saved, but not all of its trials and photos came along: %1").arg(words(taken.error())));
    folder_ = target;
    saved_ = store_.project;
    outside_ = Outside::None;
    Q_EMIT changed();
    return {};
}

void Document::newGadget() {
    store_ = {};
    store_.project = project::newProject();
    saved_ = store_.project;
    folder_.clear();
    keeper_ = {};
    outside_ = Outside::None;
    undo_.clear();
    redo_.clear();
    ownScript_ = false;
    reevaluate();
}

// An autosave beside a project that another window has in hand is that window's.
bool Document::hasRecovery(const QString& folder) const {
    return outside_ != Outside::Held && store::recoverable(folder.toStdString()).has_value();
}

void Document::recover(const QString& folder) {
    if (auto document = store::recoverable(folder.toStdString())) {
        undo_.push_back(store_.project);
        store_ = std::move(*document);
        reevaluate();
    }
}

void Document::setOutside(Outside outside) {
    if (outside == outside_) return;
    outside_ = outside;
    Q_EMIT changed();
}

QString Document::outsideWords() const {
    if (outside_ == Outside::Held || outside_ == Outside::TakenOver)
        return keeper_.reason() ? text(keeper_.reason()->value).replace(QRegularExpression("(\\d)T(\\d)"), "\\1 \\2") : QString();
    return folder_ + "/project.json";
}

void Document::lookOutside() {
    using News = store::Keeper::News;
    switch (keeper_.look()) {
        case News::Nothing: break;
        case News::TakenOver: setOutside(Outside::TakenOver); break;
        case News::Gone: setOutside(Outside::Gone); break;
        case News::Changed:
            // One who only looks on sees what the other one does.
            if (outside_ == Outside::Held && !dirty()) {
                if (auto there = keeper_.outside()) {
                    keeper_.acceptOutside();
                    store_ = std::move(*there);
                    saved_ = store_.project;
                    reevaluate();
                }
            } else if (outside_ != Outside::Held && outside_ != Outside::TakenOver) {
                outside_ = Outside::Changed;
                Q_EMIT changed();
            }
            break;
    }
}

Result<std::vector<store::Change>> Document::outsideChanges() const {
    const auto there = keeper_.outside();
    if (!there) return tl::unexpected(there.error());
    return store::changesBetween(store_.project, there->project);
}

QString Document::takeOver() {
    const bool unsaved = dirty();
    auto there = keeper_.takeOver(secondsNow());
    if (!keeper_.writes()) return words(there.error());
    outside_ = Outside::None;
    if (there && !(there->project == store_.project)) {
        undo_.push_back(store_.project);
        redo_.clear();
        // What is unsaved here stays in view; the file's state is one step back.
        if (unsaved) undo_.back() = there->project;
        else store_ = std::move(*there), saved_ = store_.project;
        if (unsaved) saved_ = undo_.back();
    }
    reevaluate();
    return {};
}

QString Document::takeOutside() {
    auto there = keeper_.outside();
    if (!there) return words(there.error());
    keeper_.acceptOutside();
    outside_ = Outside::None;
    undo_.push_back(std::move(store_.project));
    redo_.clear();
    store_ = std::move(*there);
    saved_ = store_.project;
    noteState(tr("as another program had written it"));
    reevaluate();
    return {};
}

QString Document::keepMine() {
    const auto written = keeper_.save(store_, secondsNow(), store::Keeper::Over::Overwrite);
    if (!written) return words(written.error());
    saved_ = store_.project;
    outside_ = Outside::None;
    noteState(tr("kept against what another program had written"));
    Q_EMIT changed();
    return {};
}

QString Document::apply(const std::vector<project::FactEdit>& edits) {
    auto typed = edits;
    for (auto& edit : typed)
        if (const auto known = project::fact(store_.project, edit.path); known && known->type == project::FactType::Quantity)
            edit.value = typedNumber(text(edit.value));
    auto changed = project::with(store_.project, typed);
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

void Document::setAutosaving(bool on) {
    if (autosaves_ == on) return;
    autosaves_ = on;
    // What was opened before it was set has its file in hand already.
    if (!folder_.isEmpty())
        if (auto opened = (keeper_ = {}, store::Keeper::open(folder_.toStdString(), secondsNow(), on))) keeper_ = std::move(opened->keeper);
    noteState();
}

void Document::noteState(const QString& words_of) {
    const auto noted = keeper_.note(store_.project, secondsNow(), words_of.toStdString());
    if (noted) return;
    if (noted.error().code == ErrorCode::Conflict) setOutside(Outside::TakenOver);
    else Q_EMIT said(tr("The history is not kept: %1").arg(words(noted.error())));
}

QString Document::goBack(std::size_t entry) {
    auto earlier = history().at(entry);
    if (!earlier) return words(earlier.error());
    const QString when = text(history().entry(entry).date).replace('T', ' ');
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
    auto plain = plan::evaluate(m.project, m.parts, {}, &m.plan);
    m.sketch.reset();
    if (auto sketch = plan::sketchOf(m.project, plain)) m.sketch = std::move(*sketch);
    const std::string fingerprint = m.sketch ? m.sketch->text : "";
    if (fingerprint != workedOn_ || !plain.program) m.evidence = {};
    const bool found_out = m.evidence.proofs || m.evidence.build || m.evidence.compiler_missing;
    auto judged = found_out ? plan::evaluate(m.project, m.parts, m.evidence, &plain) : std::move(plain);
    plan::dropUnsound(m.project, m.parts, judged);
    auto proved = proof::proved(m.project, m.parts, std::move(judged));
    m.plan = proof::withLessons(std::move(proved.plan), m.project, lessons_);
    m.steps = std::move(proved.steps);
    m.bags = std::move(proved.bags);
    m.fit = std::move(proved.fit);
    m.account = std::move(proved.account);
    m.wires = plan::wiring(m.project, m.parts, m.plan);
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
    m.scene_supply.reset();
    if (!m.plan.program || m.plan.program->cues.empty()) return;
    const auto plants = plan::plantsOf(m.project, m.parts, m.plan);
    if (!plants) return;
    if (!ownScript_) {
        m.script = simulation::everyCueOnce(*m.plan.program);
        asProved_ = false;
    }
    simulation::Options options;
    options.length = simulation::sceneLength(*m.plan.program, m.script);
    options.sample_every = options.length / 1500.0;
    options.events = m.script;
    options.as_proved = asProved_;
    options.machines = plan::heldMachines(m.project, m.parts, m.plan);
    auto traces = simulation::simulate(*m.plan.program, *plants, options);
    if (!traces && ownScript_) {  // a pressed input is no longer there
        ownScript_ = false;
        return playScene();
    }
    if (!traces) return;
    if (const auto tree = plan::drawnTree(m.project, m.parts, m.plan)) m.scene_supply = simulation::supplyOf(*traces, *tree);
    m.scene = std::move(*traces);
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
    work_ = std::async(std::launch::async, [program = *model_.plan.program, sketch = *model_.sketch, form = model_.project.board.form,
                                            cancel = &cancel_, compile = compile_] {
        Work done;
        done.sketch = sketch.text;
        done.proofs = routine::prove(program, 2'000'000, cancel);
        if (compile && !cancel->load() && board::family(form).emulated) {
            const auto built = emulator::build(sketch, board::family(form), emulator::usualCache(), cancel);
            if (built) done.build = plan::Evidence::Build{built->ok, built->flash, built->ram, built->log};
            else done.compilerMissing = built.error().code != ErrorCode::Cancelled;
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
