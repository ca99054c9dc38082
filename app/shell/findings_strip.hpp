#pragma once
#include <QSet>
#include <QWidget>
#include "plan/gathered.hpp"
#include "shell/document.hpp"

class QHBoxLayout;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace hinge::app {

/// What is wrong here, each with its remedies.
class FindingsStrip final : public QWidget {
    Q_OBJECT
public:
    explicit FindingsStrip(QWidget* parent = nullptr);
    /// Shows those of a stage and channel, or all when stage is negative.
    /// @param told  the page beside it tells the hazards already
    void present(const Model& model, int stage, const QString& channel, bool told = false);
    /// Folds to one line, or back.
    void fold(bool folded);
Q_SIGNALS:
    void remedyPressed(const std::vector<hinge::project::FactEdit>& edits);
    void goTo(const QString& channel, int stage);
    /// What is gathered or folded is to be shown otherwise: present it again.
    void foldAsked();

private:
    static QString keyOf(const plan::Gathered& group);
    void addGroup(const Model& model, const plan::Gathered& group);
    void addNotes(const Model& model, const std::vector<plan::Gathered>& groups);
    QHBoxLayout* addMore(const QString& words, const QString& press, const QString& key);
    void addFinding(const Model& model, const plan::PlanFinding& finding);
    QPushButton* place(const Model& model, const plan::PlanFinding& finding);
    QPushButton* button(const plan::Remedy& remedy, const plan::PlanFinding& finding, bool first);

    QVBoxLayout* layout_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    bool folded_ = false;
    int full_ = 34;
    int remedies_ = 0;  ///< buttons so far, for their names
    bool notesShown_ = false;
    QSet<QString> opened_;  ///< groups of which each is shown by itself
    QString shown_;
};

}  // namespace hinge::app
