#pragma once
#include "shell/document.hpp"
#include <QWidget>

class QPlainTextEdit;

namespace hinge::app {

/// The emitted sketch, to read, copy and save.
class CodePage final : public QWidget {
    Q_OBJECT
public:
    explicit CodePage(Document* document, QWidget* parent = nullptr);
    void present();
Q_SIGNALS:
    void said(const QString& message);

private:
    void save();
    Document* document_;
    QPlainTextEdit* view_ = nullptr;
    QString themed_;
};

}  // namespace hinge::app
