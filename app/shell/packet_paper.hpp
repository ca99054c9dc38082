#pragma once
#include <QImage>
#include <QString>
#include <QTextDocument>
#include <memory>
#include "report/packet.hpp"

class QPainter;

namespace hinge::app {

/// The packet laid out on A4 paper, with a running foot and page numbers: for the printer, and to look at.
class PacketPaper {
public:
    explicit PacketPaper(const report::Packet& packet);
    [[nodiscard]] int pages() const { return pages_; }
    /// What is printed on, without the margins, in dots.
    [[nodiscard]] QSizeF size() const { return size_; }
    /// Draws one page from the painter's origin, one dot a unit.
    void draw(QPainter& painter, int page) const;

private:
    QString name_;
    QSizeF size_, body_;
    QImage device_;  ///< whose resolution the layout is made for
    std::unique_ptr<QTextDocument> page_;
    int pages_ = 0;
};

/// As PDF.
/// @error NotWritable
[[nodiscard]] Result<void> printPacket(const report::Packet& packet, const QString& path);

}  // namespace hinge::app
