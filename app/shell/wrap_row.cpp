#include "shell/wrap_row.hpp"
#include <algorithm>

namespace hinge::app {

WrapRow::~WrapRow() {
    while (auto* item = takeAt(0)) delete item;
}

QLayoutItem* WrapRow::takeAt(int index) {
    auto* item = itemAt(index);
    if (item != nullptr) items_.erase(items_.begin() + index);
    return item;
}

QSize WrapRow::minimumSize() const {
    QSize size;
    for (const auto* item : items_) size = size.expandedTo(item->minimumSize());
    const auto m = contentsMargins();
    return size + QSize(m.left() + m.right(), m.top() + m.bottom());
}

void WrapRow::setGeometry(const QRect& box) {
    QLayout::setGeometry(box);
    place(box, true);
}

int WrapRow::place(const QRect& box, bool move) const {
    const auto m = contentsMargins();
    const QRect inner = box.adjusted(m.left(), m.top(), -m.right(), -m.bottom());
    int x = inner.x(), y = inner.y(), row = 0;
    for (auto* item : items_) {
        const QSize wants = item->sizeHint();
        if (x > inner.x() && x + wants.width() > inner.x() + inner.width()) {
            x = inner.x();
            y += row + spacing();
            row = 0;
        }
        if (move) item->setGeometry({QPoint(x, y), wants});
        x += wants.width() + spacing();
        row = std::max(row, wants.height());
    }
    return y + row - box.y() + m.bottom();
}

}  // namespace hinge::app
