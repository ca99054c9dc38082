#include "stages/pins/label_sheets.hpp"
#include <QFileInfo>
#include <QPainter>
#include <QPdfWriter>
#include <cmath>
#include "drawing/circuit.hpp"
#include "theme/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

constexpr double page_wide = 210.0, page_high = 297.0;

// Words as large as asked, smaller where they would not fit their box; painted at a hundred times their size, which fonts can do.
void write(QPainter& p, const QRectF& box, const QString& words, double height, bool bold) {
    p.save();
    p.translate(box.topLeft());
    QFont font = textFont(Text::Body);
    font.setPixelSize(100);
    font.setBold(bold);
    p.setFont(font);
    const auto room = [&](double size) { return QRectF(0, 0, box.width() * 100.0 / size, box.height() * 100.0 / size); };
    const auto fits = [&](double size) {
        const QRectF asked = p.fontMetrics().boundingRect(room(size).toRect(), Qt::AlignLeft | Qt::TextWordWrap, words);
        return asked.height() <= room(size).height() && asked.width() <= room(size).width();
    };
    double size = height;
    while (size > 1.2 && !fits(size)) size *= 0.92;
    p.scale(size / 100.0, size / 100.0);
    p.drawText(room(size), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, words);
    p.restore();
}

void label(QPainter& p, const QRectF& place, const plan::WireRow& row, bool from) {
    const QRectF inner = place.adjusted(1.2, 0.8, -1.2, -0.8);
    const double head = std::min(6.0, inner.height() * 0.45);
    write(p, QRectF(inner.topLeft(), QSizeF(inner.width(), head)), text(drawing::markOf(row)), head * 0.9, true);
    write(p, QRectF(inner.left(), inner.top() + head, inner.width(), inner.height() - head), text(from ? row.wire.from : row.wire.to),
          std::min(3.0, inner.height() * 0.3), false);
}

}  // namespace

QRectF LabelSheet::place(int n) const {
    const double left = (page_wide - columns * wide - (columns - 1) * apart) / 2.0, top = (page_high - rows * high) / 2.0;
    const int on_page = n % count();
    return {left + (on_page % columns) * (wide + apart), top + (on_page / columns) * high, wide, high};
}

const std::vector<LabelSheet>& labelSheets() {
    static const std::vector<LabelSheet> all{{"189 of 25.4 × 10 mm", 7, 27, 25.4, 10.0, 2.5},
                                             {"65 of 38.1 × 21.2 mm", 5, 13, 38.1, 21.2, 2.5},
                                             {"21 of 63.5 × 38.1 mm", 3, 7, 63.5, 38.1, 2.5}};
    return all;
}

Result<int> printLabels(const std::vector<plan::WireRow>& rows, const LabelSheet& sheet, const QString& path) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setResolution(600);
    QPainter p;
    if (!p.begin(&writer))
        return fail(ErrorCode::NotWritable, path.toStdString(), "it cannot be opened for writing", "choose another folder");
    p.scale(600 / 25.4, 600 / 25.4);
    p.setPen(Qt::black);
    const int labels = 2 * static_cast<int>(rows.size());
    for (int n = 0; n < labels; ++n) {
        if (n > 0 && n % sheet.count() == 0) writer.newPage();
        label(p, sheet.place(n), rows[static_cast<std::size_t>(n / 2)], n % 2 == 0);
    }
    if (!p.end() || QFileInfo(path).size() == 0)
        return fail(ErrorCode::NotWritable, path.toStdString(), "the disk may be full", "free some space");
    return (labels + sheet.count() - 1) / sheet.count();
}

}  // namespace hinge::app
