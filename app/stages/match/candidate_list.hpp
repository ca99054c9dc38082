#pragma once
#include "shell/document.hpp"
#include <QWidget>

namespace hinge::app {

/// The ranked pairs of pump and switch, best first, each with its verdict and why.
class CandidateList final : public QWidget {
    Q_OBJECT
public:
    explicit CandidateList(QWidget* parent = nullptr);
    void present(const Model& model, const QString& channel);
    [[nodiscard]] int count() const { return static_cast<int>(rows_.size()); }
    /// The middle of a row, for pressing it.
    [[nodiscard]] QPoint rowCentre(int row) const;
Q_SIGNALS:
    void chosen(const QString& actuator, const QString& part);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    struct Row { QString actuator, part, title, with, reason; Verdict verdict; bool now; };
    [[nodiscard]] int rowHeight() const;
    [[nodiscard]] int rowAt(int y) const;
    std::vector<Row> rows_;
    int under_ = -1;
};

}  // namespace hinge::app
