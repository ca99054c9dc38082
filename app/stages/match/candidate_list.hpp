#pragma once
#include <QTimer>
#include "pictures/spots.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// The ranked parts, best first, each on its best driver, with verdict and why; below them the drivers
/// of the part chosen. A click tries a pair, a click on the ring beside it compares it.
class CandidateList final : public SpotWidget {
    Q_OBJECT
public:
    explicit CandidateList(QWidget* parent = nullptr);
    void present(const Model& model, const QString& channel);
    [[nodiscard]] std::vector<Spot> spots() const override;
    [[nodiscard]] int count() const { return static_cast<int>(rows_.size()); }
    /// The middle of a row, for pressing it, and its compare ring.
    [[nodiscard]] QPoint rowCentre(int row) const;
    [[nodiscard]] QPoint ringOf(int row) const;
    [[nodiscard]] QString actuatorOf(int row) const { return rows_[static_cast<std::size_t>(row)].actuator; }
    [[nodiscard]] QString driverOf(int row) const { return rows_[static_cast<std::size_t>(row)].part; }
    /// The pairs marked for comparing, at most two beside the chosen one.
    [[nodiscard]] std::vector<std::pair<std::string, std::string>> compared() const;
Q_SIGNALS:
    void chosen(const QString& actuator, const QString& part, const QString& rail);
    void comparedChanged();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void bringIntoView(const QRect& place) override;

private:
    void compare(int row);
    struct Row {
        QString actuator, part, rail, title, with, reason;
        Verdict verdict;
        bool now, driver, first;  ///< first: a heading stands above it
        QString change;           ///< what would let it win; worked out when there is time
        bool worked = false;
    };
    [[nodiscard]] int rowHeight() const;
    [[nodiscard]] int rowTop(int row) const;
    [[nodiscard]] int rowAt(int y) const;
    void workOutNext();
    std::vector<Row> rows_;
    std::vector<std::pair<QString, QString>> compared_;
    QString channel_;
    match::Context context_;
    const Model* model_ = nullptr;
    QTimer idle_;
    int under_ = -1;
};

}  // namespace hinge::app
