#include "shell/scrolled_rows.hpp"
#include <QWheelEvent>

namespace hinge::app {

void ScrolledRows::setOffset(int pixels) {
    if (offset_ == pixels) return;
    offset_ = pixels;
    update();
}

void ScrolledRows::wheelEvent(QWheelEvent* event) {
    Q_EMIT wheeled(-event->angleDelta().y() / 2);
}

void ScrolledRows::bringIntoView(const QRect& place) {
    if (place.top() < 0) Q_EMIT wheeled(place.top());
    else if (place.bottom() > height()) Q_EMIT wheeled(place.bottom() - height());
}

}  // namespace hinge::app
