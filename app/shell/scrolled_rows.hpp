#pragma once
#include "pictures/spots.hpp"

namespace hinge::app {

/// Rows that scroll together with those of another widget when there are too many to fit.
class ScrolledRows : public SpotWidget {
    Q_OBJECT
public:
    using SpotWidget::SpotWidget;
    void setOffset(int pixels);
Q_SIGNALS:
    void wheeled(int pixels);

protected:
    void wheelEvent(QWheelEvent* event) override;
    void bringIntoView(const QRect& place) override;
    int offset_ = 0;
};

}  // namespace hinge::app
