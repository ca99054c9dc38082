#pragma once
#include <QFrame>
#include "shell/document.hpp"

class QLabel;
class QPushButton;

namespace hinge::app {

/// Says what stands between this window and the project's file (another window, another program), and what can be done about it. Stays
/// until it is decided; nothing waits for it.
class OutsideNotice final : public QFrame {
    Q_OBJECT
public:
    explicit OutsideNotice(Document* document, QWidget* parent = nullptr);
    void present();
    void applyTheme();
Q_SIGNALS:
    void said(const QString& message);
    void saveElsewhereAsked();

private:
    void compare();
    Document* document_;
    QLabel *words_ = nullptr, *changes_ = nullptr;
    QPushButton *compare_ = nullptr, *take_ = nullptr, *keep_ = nullptr, *over_ = nullptr, *again_ = nullptr, *elsewhere_ = nullptr;
};

}  // namespace hinge::app
