#pragma once
#include "stages/tune/link_session.hpp"
#include <QTimer>
#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hinge::app {

/// Live over the line protocol: numbers with a slider each, contacts to press, and the telemetry
/// drawn as it arrives, with the tank beside it.
class TunePage final : public QWidget {
    Q_OBJECT
public:
    explicit TunePage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    void stopEverything() { session_.send(link::Stop{}); }
    [[nodiscard]] LinkSession& session() { return session_; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void build();
    void addParameter(const link::ParameterLine& parameter);
    void drawTank(QPainter& painter, const QRectF& box, const plant::Observation& seen, std::size_t output);
    [[nodiscard]] int controlsWidth() const;

    Document* document_;
    QString channel_, built_;
    double turning_ = 0.0;   ///< phase of what goes on turning, 0 to 1
    LinkSession session_;
    QTimer repaint_;
    QWidget* controls_ = nullptr;
    QVBoxLayout* layout_ = nullptr;
    QLabel* state_ = nullptr;
    QLineEdit* where_ = nullptr;
    QPushButton* stop_ = nullptr;
};

}  // namespace hinge::app
