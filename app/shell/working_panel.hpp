#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QFrame;
class QScrollArea;
class QVBoxLayout;

namespace hinge::app {

/// The working behind the figures: formula, numbers put in, value, source.
class WorkingPanel final : public QWidget {
    Q_OBJECT
public:
    explicit WorkingPanel(QWidget* parent = nullptr);
    void present(const Model& model, project::Stage stage, const QString& channel);

private:
    void addFormula(const QString& line, QFrame* of, QVBoxLayout* into);
    static void flash(QFrame* frame);
    QVBoxLayout* layout_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    std::vector<std::pair<QString, QFrame*>> steps_;  ///< what each comes to, in their order
    QString shown_;
};

}  // namespace hinge::app
