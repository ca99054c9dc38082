#pragma once
#include <QWidget>
#include "shell/document.hpp"

namespace hinge::app {

/// Where the instrument of a hold point goes: supply, rail, driver and part in a row over their common ground, and the meter with its two
/// leads (or the one wire that is opened for it).
class ProbePicture final : public QWidget {
    Q_OBJECT
public:
    explicit ProbePicture(Document* document, QWidget* parent = nullptr);
    /// A null step shows nothing.
    void present(const proof::Step* step);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Row;
    void drawSupply(QPainter& painter, const Row& row, const project::Channel* channel) const;
    void drawChannel(QPainter& painter, const Row& row, const project::Channel& channel) const;
    void drawInstrument(QPainter& painter, const Row& row, bool channel) const;
    void drawVoltmeter(QPainter& painter, const Row& row, bool channel) const;
    void drawMeter(QPainter& painter, const QPointF& centre, const QString& letter, const std::vector<QPointF>& leads) const;
    Document* document_;
    std::optional<proof::Step> step_;
};

}  // namespace hinge::app
