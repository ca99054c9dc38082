#pragma once
#include <QWidget>
#include "shell/document.hpp"

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
    void present(const Model& model, int stage, const QString& channel);
    /// Folds to one line, or back.
    void fold(bool folded);
Q_SIGNALS:
    void remedyPressed(const std::vector<hinge::project::FactEdit>& edits);
    void goTo(const QString& channel, int stage);

private:
    void addFinding(const Model& model, const plan::PlanFinding& finding);
    QPushButton* place(const Model& model, const plan::PlanFinding& finding);
    QPushButton* button(const plan::Remedy& remedy, const plan::PlanFinding& finding, bool first);

    QVBoxLayout* layout_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    bool folded_ = false;
    int full_ = 34;
    int remedies_ = 0;  ///< buttons so far, for their names
    QString shown_;
};

}  // namespace hinge::app
