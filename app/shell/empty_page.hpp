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
    /// @param first  nothing is planned yet: whole small gadgets to begin with are offered too
    void present(bool first);
    void ask();
Q_SIGNALS:
    void wanted(project::ChannelKind kind, const QString& name);
    /// One of project::starters().
    void begun(const QString& starter);

private:
    void makeStarters();
    QLabel *question_ = nullptr, *note_ = nullptr, *or_ = nullptr;
    QWidget* whole_ = nullptr;
    QLineEdit* name_ = nullptr;
};

}  // namespace hinge::app
