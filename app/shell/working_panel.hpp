#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QVBoxLayout;

namespace hinge::app {

/// The working behind the figures: formula, numbers put in, value, source.
class WorkingPanel final : public QWidget {
    Q_OBJECT
public:
    explicit WorkingPanel(QWidget* parent = nullptr);
    void present(const Model& model, project::Stage stage, const QString& channel);

private:
    QVBoxLayout* layout_ = nullptr;
    QString shown_;
};

}  // namespace hinge::app
