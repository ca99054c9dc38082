#pragma once
#include "shell/document.hpp"
#include <QWidget>

class QLineEdit;
class QTextBrowser;
class QComboBox;

namespace hinge::app {

/// The journal, the wiring list and what it costs.
class LogPage final : public QWidget {
    Q_OBJECT
public:
    explicit LogPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);

private:
    void add();
    Document* document_;
    QString channel_;
    QTextBrowser* view_ = nullptr;
    QLineEdit* line_ = nullptr;
    QLineEdit* cost_ = nullptr;
    QComboBox* kind_ = nullptr;
};

}  // namespace hinge::app
