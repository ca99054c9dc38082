#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QVBoxLayout;

namespace hinge::app {

/// The brief's middle: what is still unknown and how to find out, and what to be careful of.
class BriefPage final : public QWidget {
    Q_OBJECT
public:
    explicit BriefPage(Document* document, QWidget* parent = nullptr);
    void present();
Q_SIGNALS:
    void goTo(const QString& channel, int stage);

private:
    Document* document_;
    QVBoxLayout* layout_ = nullptr;
    QString shown_;
};

}  // namespace hinge::app
