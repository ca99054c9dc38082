#pragma once
#include <QWidget>

class QLabel;
class QPushButton;

namespace hinge::app {

/// Walks the demo in five steps, once; it never returns unless asked.
class Guide final : public QWidget {
    Q_OBJECT
public:
    explicit Guide(QWidget* parent = nullptr);
    void start();
    void leave();
    [[nodiscard]] int step() const { return step_; }
    void applyTheme();
    static constexpr int steps = 5;
Q_SIGNALS:
    /// Where the step looks: a stage, or -1 for the crossbar.
    void look(int stage);
    void left();

private:
    void show(int step);
    int step_ = -1;
    QLabel* words_ = nullptr;
    QPushButton* next_ = nullptr;
};

}  // namespace hinge::app
