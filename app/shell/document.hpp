#pragma once
#include <QObject>
#include <QString>
#include <QTimer>
#include <atomic>
#include <future>
#include <optional>
#include "catalogue/catalogue.hpp"
#include "emulator/build.hpp"
#include "plan/firmware_model.hpp"
#include "plan/wiring.hpp"
#include "proof/lessons.hpp"
#include "proof/proved.hpp"
#include "simulation/simulate.hpp"
#include "store/document.hpp"
#include "store/history.hpp"

namespace hinge::app {

/// Everything that the views show, as one value.
struct Model {
    project::Project project;
    project::Parts parts;
    plan::Plan plan;
    std::vector<proof::Step> steps;
    std::vector<proof::Bag> bags;
    proof::FitSheet fit;
    proof::Account account;
    std::vector<simulation::Event> script;    ///< what happens in the scene
    std::optional<simulation::Traces> scene;  ///< the routine played once with that script
    std::optional<firmware::Sketch> sketch;
    plan::Evidence evidence;
    std::vector<plan::Wire> wires;
};

/// The open project: edits, undo, plan, saving. Long work runs beside the interface.
class Document final : public QObject {
    Q_OBJECT
public:
    explicit Document(const QString& partsFolder, QObject* parent = nullptr);
    ~Document() override;

    [[nodiscard]] const Model& model() const { return model_; }
    [[nodiscard]] QString folder() const { return folder_; }
    [[nodiscard]] bool dirty() const { return !(store_.project == saved_); }
    [[nodiscard]] bool canUndo() const { return !undo_.empty(); }
    [[nodiscard]] bool canRedo() const { return !redo_.empty(); }

    /// Opens a folder; on failure the old project stays and the reason comes back.
    [[nodiscard]] QString open(const QString& folder);
    /// Empty on success, otherwise the reason; the old file is whole either way.
    [[nodiscard]] QString save(const QString& folder = {});
    void newGadget();
    [[nodiscard]] bool hasRecovery(const QString& folder) const;
    void recover(const QString& folder);

    /// Applies edits as one undoable step. Empty on success, otherwise why it is refused.
    QString apply(const std::vector<project::FactEdit>& edits);
    QString apply(const project::FactEdit& edit) { return apply(std::vector{edit}); }
    /// Replaces the project as one undoable step.
    void replace(project::Project project);
    void undo();
    void redo();
    /// Every state so far, this one last; kept in the project's folder, or in memory until it has one.
    [[nodiscard]] const store::History& history() const { return history_; }
    /// Goes back to an earlier state, as one undoable step; the newer ones stay in the history.
    QString goBack(std::size_t entry);
    /// Plays another script; empty: one start of the first cue. Not part of the project.
    void play(std::vector<simulation::Event> script, bool asProved = false);
    /// Parts of the maker's own, kept in a folder beside the shipped ones; a part of the same id takes the
    /// shipped one's place. Empty on success, otherwise why not.
    QString addParts(const std::string& kind, catalogue::Loaded loaded);
    /// Marks a part: "standing" untested, tested or suspect; "drawer" yes or no.
    QString markPart(const std::string& id, const std::string& field, const std::string& value);
    /// Where the maker's own parts are kept; set before parts are added.
    void setOwnParts(const QString& folder);
    /// The project as it was last saved or opened.
    [[nodiscard]] const project::Project& saved() const { return saved_; }
    /// Waits for proof and compile to come in (for pictures and tests).
    void settle();
    /// Folders of other gadgets: what was learnt there comes up here.
    void learnFrom(const QStringList& folders);
    /// Takes a picture into the project's photos folder: turned upright, at most 2000 pixels long, as JPEG. Its file name, or why not.
    [[nodiscard]] std::pair<QString, QString> takePhoto(const QString& file);
    /// Where a photo of the project lies.
    [[nodiscard]] QString photoPath(const std::string& name) const { return folder_ + "/photos/" + QString::fromStdString(name); }
    void setCompiling(bool on) { compile_ = on; }
    /// Off for pictures: what they change must not lie beside the project afterwards.
    void setAutosaving(bool on);

Q_SIGNALS:
    void changed();
    void said(const QString& message);

private:
    void reevaluate();
    void noteState(const QString& words = {});
    void openHistory();
    void loadParts();
    QString writeOwn(const std::string& kind);
    void playScene();
    void startWork();
    void collect();

    Model model_;
    bool asProved_ = false;
    bool ownScript_ = false;  ///< the script was pressed by hand
    store::Document store_;
    store::History history_;
    std::vector<proof::Lesson> lessons_;
    project::Project saved_;
    QString folder_, partsFolder_, ownParts_;
    catalogue::Loaded own_;
    std::vector<project::Project> undo_, redo_;
    QTimer autosave_, poll_;
    struct Work {
        std::vector<routine::InterlockProof> proofs;
        std::optional<plan::Evidence::Build> build;
        bool compilerMissing = false;
        std::string sketch;
    };
    std::future<Work> work_;
    std::atomic<bool> cancel_{false};
    std::string workedOn_;  ///< fingerprint of what the evidence belongs to
    bool compile_ = true;
    bool autosaves_ = true;
};

/// Now, as the journal writes it: "2026-11-24T14:30".
[[nodiscard]] std::string nowText();
/// A sentence for the screen.
[[nodiscard]] QString words(const Error& error);
[[nodiscard]] inline QString text(const std::string& s) {
    return QString::fromStdString(s);
}

}  // namespace hinge::app
