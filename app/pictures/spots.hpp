#pragma once
#include <QString>
#include <QWidget>
#include <functional>
#include <vector>

class QPainter;

namespace hinge::app {

/// A painted thing that can be pointed at: what a screen reader says of it, and what Enter does with it.
struct Spot {
    QRect place;
    QString name;    ///< "Rain, Match"
    QString value;   ///< "239 mA, holds"
    QString action;  ///< "open"; empty: it is only read
    std::function<void()> act;
    bool chosen = false;
};

/// A widget that paints what others would have buttons for. Each of its spots is an accessible child with name, value and action; Tab
/// comes to the widget, arrows go from spot to spot, Enter or Space acts.
class SpotWidget : public QWidget {
    Q_OBJECT
public:
    explicit SpotWidget(QWidget* parent = nullptr);
    [[nodiscard]] virtual std::vector<Spot> spots() const { return {}; }
    /// The one that the keyboard is at; -1: none.
    [[nodiscard]] int spotInHand() const { return at_; }
    void takeInHand(int spot);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    /// A spot that was taken in hand, for what scrolls.
    virtual void bringIntoView(const QRect& /*place*/) {}
    /// Frames the spot in hand while the widget has the keyboard.
    void paintSpotInHand(QPainter& painter) const;

private:
    int at_ = -1;
    bool by_keys_ = false;  ///< only who works with the keyboard sees where it is
};

/// Lets assistive programs see spots; once, at the start.
void installSpots();

}  // namespace hinge::app
