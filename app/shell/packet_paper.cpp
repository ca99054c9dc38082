#include "shell/packet_paper.hpp"
#include "theme/theme.hpp"
#include <QAbstractTextDocumentLayout>
#include <QCoreApplication>
#include <QFileInfo>
#include <QPageLayout>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>
#include <QTextDocument>
#include <QUrl>
#include <cmath>

namespace hinge::app {
namespace {

constexpr int dots = 150;   // an inch: tables keep their lines sharp, pictures are drawn at twice that

// The page's drawings, one after the other, as images of the paper's width.
QString drawnAsImages(QString html, QTextDocument& page, double width) {
    for (int n = 0;; ++n) {
        const auto from = html.indexOf("<svg");
        if (from < 0) return html;
        const auto to = html.indexOf("</svg>", from) + 6;
        QSvgRenderer renderer(html.mid(from, to - from).toUtf8());
        const QSize size = renderer.defaultSize();
        const double height = width * size.height() / std::max(1, size.width());
        QImage picture(static_cast<int>(2.0 * width), static_cast<int>(2.0 * height), QImage::Format_RGB32);
        picture.fill(Qt::white);
        QPainter painter(&picture);
        renderer.render(&painter);
        painter.end();
        const QString name = QString("drawing%1").arg(n);
        page.addResource(QTextDocument::ImageResource, QUrl(name), picture);
        html.replace(from, to - from, QString("<p><img src=\"%1\" width=\"%2\" height=\"%3\"></p>").arg(name).arg(static_cast<int>(width)).arg(static_cast<int>(height)));
    }
}

}  // namespace

Result<void> printPacket(const report::Packet& packet, const QString& path) {
    QPdfWriter writer(path);
    writer.setResolution(dots);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(14, 14, 14, 14), QPageLayout::Millimeter);
    writer.setTitle(QString::fromStdString(packet.project.brief.name));
    writer.setCreator("Hinge Spark");
    const QRectF paper = writer.pageLayout().paintRectPixels(dots);
    const double foot = 0.3 * dots;
    const QSizeF body(paper.width(), paper.height() - foot);
    QTextDocument page;
    page.documentLayout()->setPaintDevice(&writer);
    QFont font = textFont(Text::Body);
    font.setPointSizeF(8.0);
    page.setDefaultFont(font);
    page.setDocumentMargin(0);
    page.setPageSize(body);
    // The screen's widths mean nothing on paper; what it cannot do without is set here.
    page.setDefaultStyleSheet("td, th { padding: 2px 8px 2px 0; } th { color: #5c646b; font-weight: normal; text-align: left; } h1 { font-size: 20pt; } h2 { font-size: 13pt; } h3 { font-size: 10pt; } "
                              "pre { font-family: 'B612 Mono'; font-size: 6.5pt; white-space: pre-wrap; } .caution { color: #8c1918; }");
    QString html = QString::fromStdString(report::packetHtml(packet));
    const auto style = html.indexOf("<style>"), style_end = html.indexOf("</style>");
    if (style >= 0) html.remove(style, style_end + 8 - style);
    page.setHtml(drawnAsImages(html, page, body.width() - 2.0));
    QPainter painter;
    if (!painter.begin(&writer)) return fail(ErrorCode::NotWritable, path.toStdString(), "it cannot be opened for writing", "choose another folder");
    const int pages = page.pageCount();
    for (int n = 0; n < pages; ++n) {
        if (n > 0 && !writer.newPage()) return fail(ErrorCode::NotWritable, path.toStdString(), "the disk may be full", "free some space");
        painter.save();
        painter.translate(0.0, -n * body.height());
        painter.setClipRect(QRectF(0.0, n * body.height(), body.width(), body.height()));
        QAbstractTextDocumentLayout::PaintContext context;
        context.clip = QRectF(0.0, n * body.height(), body.width(), body.height());
        context.palette.setColor(QPalette::Text, QColor("#20262b"));
        page.documentLayout()->draw(&painter, context);
        painter.restore();
        painter.setFont(font);
        painter.setPen(QColor("#5c646b"));
        painter.drawText(QRectF(0.0, body.height(), body.width(), foot), Qt::AlignRight | Qt::AlignBottom, QCoreApplication::translate("packet", "%1 · page %2 of %3").arg(QString::fromStdString(packet.project.brief.name)).arg(n + 1).arg(pages));
    }
    if (!painter.end() || QFileInfo(path).size() == 0) return fail(ErrorCode::NotWritable, path.toStdString(), "the disk may be full", "free some space");
    return {};
}

}  // namespace hinge::app
