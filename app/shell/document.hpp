#pragma once
#include <QImage>
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
#include "simulation/supply_day.hpp"
#include "store/keeper.hpp"
#include "theme/text.hpp"

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
    std::vector<simulation::Event> script;              ///< what happens in the scene
    std::optional<simulation::Traces> scene;            ///< the routine played once with that script
    std::optional<simulation::SupplyDay> scene_supply;  ///< what it draws and what the rails do; absent: not known yet
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
    /// What stands between this window and the project's file.
    enum class Outside {
        None,
        Held,       ///< another window has the project; here it is only looked at
        TakenOver,  ///< another window took it; nothing is written from here any more
        Changed,    ///< another program changed the file
        Gone,       ///< the file is not there any more
    };
    [[nodiscard]] Outside outside() const { return outside_; }
    /// Whether what is done here goes to the disk.
    [[nodiscard]] bool writes() const { return keeper_.writes(); }
    /// Who has it, or where it was: for the sentence.
    [[nodiscard]] QString outsideWords() const;
    /// What the file holds otherwise than this window, after Outside::Changed; or why it cannot be read.
    [[nodiscard]] Result<std::vector<store::Change>> outsideChanges() const;
    /// Looks at the folder now; the window does so every second.
    void lookOutside();
    /// Takes the project in hand; where nothing is unsaved here, what its file holds is shown. Empty, or why not.
    QString takeOver();
    /// Shows what the file holds, as one undoable step; or keeps what is here: the next save writes over it, once it stands in the history.
    QString takeOutside();
    QString keepMine();
    void discardAutosave() { keeper_.discardAutosave(); }
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
    [[nodiscard]] const store::History& history() const { return keeper_.history(); }
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
    /// A photo of the project, at most 640 pixels long; null where it is none, or none that can be read.
    [[nodiscard]] QImage photo(const std::string& name) const;
    void setCompiling(bool on) { compile_ = on; }
    /// Off for pictures: what they change must not lie beside the project afterwards.
    void setAutosaving(bool on);

Q_SIGNALS:
    void changed();
    void said(const QString& message);

private:
    void reevaluate();
    void noteState(const QString& words = {});
    void setOutside(Outside outside);
    void loadParts();
    QString writeOwn(const std::string& kind);
    void playScene();
    void startWork();
    void collect();

    Model model_;
    bool asProved_ = false;
    bool ownScript_ = false;  ///< the script was pressed by hand
    store::Document store_;
    store::Keeper keeper_;
    Outside outside_ = Outside::None;
    std::vector<proof::Lesson> lessons_;
    project::Project saved_;
    QString folder_, partsFolder_, ownParts_;
    catalogue::Loaded own_;
    std::vector<project::Project> undo_, redo_;
    QTimer autosave_, poll_, look_;
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

}  // namespace hinge::app
