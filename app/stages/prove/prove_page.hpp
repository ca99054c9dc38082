#pragma once
#include "shell/document.hpp"
#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QVBoxLayout;

namespace hinge::app {

class FaultPage;
class ReadingScale;

/// The first power-up: hold points down the left, the one in hand in large type, and a scale that
/// shows where the reading should fall and where it fell.
class ProvePage final : public QWidget {
    Q_OBJECT
public:
    explicit ProvePage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Takes a step in hand.
    void choose(const QString& step);
    /// Bring-up, or the fault-finder.
    void showFaults(bool on);
    [[nodiscard]] FaultPage* faults() const { return faults_; }

private:
    void build();
    void showStep();
    void take(const QString& typed);
    [[nodiscard]] const proof::Step* inHand() const;

    Document* document_;
    QString channel_, step_, built_;
    QVBoxLayout* list_ = nullptr;
    QLabel *title_ = nullptr, *what_ = nullptr, *ready_ = nullptr, *caution_ = nullptr, *said_ = nullptr;
    QLineEdit* field_ = nullptr;
    ReadingScale* scale_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    FaultPage* faults_ = nullptr;
    QPushButton *bringUp_ = nullptr, *find_ = nullptr;
};

}  // namespace hinge::app
