#pragma once
#include <QWidget>
#include "project/project.hpp"

class QLabel;
class QLineEdit;

namespace hinge::app {

/// The question with which a gadget starts and grows: what moves or switches?
class EmptyPage final : public QWidget {
    Q_OBJECT
public:
    explicit EmptyPage(QWidget* parent = nullptr);
    void applyTheme();
    void ask();
Q_SIGNALS:
    void wanted(project::ChannelKind kind, const QString& name);

private:
    QLabel *question_ = nullptr, *note_ = nullptr;
    QLineEdit* name_ = nullptr;
};

}  // namespace hinge::app
