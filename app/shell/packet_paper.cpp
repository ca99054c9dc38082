#include "shell/packet_paper.hpp"
#include <QAbstractTextDocumentLayout>
#include <QCoreApplication>
#include <QFileInfo>
#include <QGuiApplication>
#include <QPageLayout>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QRegularExpression>
#include <QScreen>
#include <QSvgRenderer>
#include <QTextBlock>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextLayout>
#include <QUrl>
#include <cmath>
#include <optional>
#include "pictures/formula_picture.hpp"
#include "shell/paper_vectors.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

const QMarginsF margins(14, 14, 14, 14);  // mm
constexpr int dots = 150;                 // an inch: tables keep their lines sharp

// The first block that should begin a new page and does not: one whose line lies across the edge (the layout works in portions and loses
// the edge between two of them now and then), or a heading that stands alone at a page's foot.
std::optional<QTextBlock> torn(const QTextDocument& page, double height) {
    const auto* layout = page.documentLayout();
    const auto sheet = [height](double y) { return static_cast<int>(y / height); };
    for (auto block = page.begin(); block.isValid(); block = block.next()) {
        if (block.blockFormat().pageBreakPolicy() & QTextFormat::PageBreak_AlwaysBefore) continue;
        const double top = layout->blockBoundingRect(block).top();
        for (int i = 0; i < block.layout()->lineCount(); ++i) {
            const auto line = block.layout()->lineAt(i);
            // Less than a page: a drawing may be as high as one.
            if (line.height() < height && sheet(top + line.y()) != sheet(top + line.y() + line.height() - 0.5)) return block;
        }
        const auto next = block.next();
        if (block.blockFormat().headingLevel() > 0 && next.isValid() && sheet(layout->blockBoundingRect(next).top() + 1.0) > sheet(top))
            return block;
    }
    return std::nullopt;
}

QFont paperFont() {
    QFont font = textFont(Text::Body);
    font.setPointSizeF(8.0);
    return font;
}

// How much finer the page is than the screen.
double overTheScreen() {
    const auto* screen = QGuiApplication::primaryScreen();
    return dots / (QCoreApplication::testAttribute(Qt::AA_Use96Dpi) || screen == nullptr ? 96.0 : screen->logicalDotsPerInchY());
}

// The page's drawings, one after the other, of the paper's width at most. A text document scales an image's size by its device's
// resolution over the screen's, so it is given by that much smaller.
QString withDrawings(QString html, PaperVectors& vectors, double width) {
    const double scaled = overTheScreen();
    for (int n = 0;; ++n) {
        const auto from = html.indexOf("<svg");
        if (from < 0) return html;
        const auto to = html.indexOf("</svg>", from) + 6;
        const auto renderer = std::make_shared<QSvgRenderer>(html.mid(from, to - from).toUtf8());
        const QSize size = renderer->defaultSize();
        const QString name = QString("drawing%1").arg(n);
        vectors.add(name, [renderer](QPainter& painter, const QRectF& place) { renderer->render(&painter, place); });
        html.replace(from, to - from,
                     QString("<p><img src=\"%1\" width=\"%2\" height=\"%3\"></p>")
                         .arg(name)
                         .arg(static_cast<int>(width / scaled))
                         .arg(static_cast<int>(width / scaled * size.height() / std::max(1, size.width()))));
    }
}

// The page's formulas the same way, each from its own line; measured on the screen, as the document takes an image's size.
QString withFormulas(const QString& html, PaperVectors& vectors, const QFont& font, double width) {
    const double scaled = overTheScreen();
    static const QRegularExpression formula("<math[^>]*aria-label=\"([^\"]*)\".*?</math>", QRegularExpression::DotMatchesEverythingOption);
    QString made;
    qsizetype from = 0;
    int n = 0;
    for (auto at = formula.globalMatch(html); at.hasNext();) {
        const auto match = at.next();
        made += html.mid(from, match.capturedStart() - from);
        from = match.capturedEnd();
        QTextDocument plain;
        plain.setHtml(match.captured(1));
        const auto lines = inLines(parseFormula(plain.toPlainText().toStdString()), font, 0.68 * width / scaled);
        for (std::size_t k = 0; k < lines.size(); ++k) {
            const auto room = roomOf(lines[k], font);
            const QSizeF size(room.width + 2.0, room.up + room.down + 2.0);
            const QString name = QString("formula%1").arg(n++);
            vectors.add(name, [line = lines[k], font, up = room.up, size](QPainter& painter, const QRectF& place) {
                painter.save();
                painter.translate(place.topLeft());
                painter.scale(place.width() / size.width(), place.height() / size.height());
                painter.setPen(Qt::black);
                drawFormula(painter, line, font, {1.0, up + 1.0});
                painter.restore();
            });
            made += QString("%1<img src=\"%2\" width=\"%3\" height=\"%4\">")
                        .arg(k > 0 ? "<br>" : "", name)
                        .arg(size.width())
                        .arg(size.height());
        }
    }
    return made + html.mid(from);
}

}  // namespace

PacketPaper::PacketPaper(const report::Packet& packet)
    : name_(QString::fromStdString(packet.project.brief.name)),
      device_(1, 1, QImage::Format_RGB32),
      page_(std::make_unique<QTextDocument>()) {
    device_.setDotsPerMeterX(qRound(dots / 0.0254));
    device_.setDotsPerMeterY(qRound(dots / 0.0254));
    const QPageLayout layout(QPageSize(QPageSize::A4), QPageLayout::Portrait, margins, QPageLayout::Millimeter);
    size_ = QSizeF(layout.paintRectPixels(dots).size());
    body_ = QSizeF(size_.width(), size_.height() - 0.3 * dots);
    page_->documentLayout()->setPaintDevice(&device_);
    page_->setDefaultFont(paperFont());
    page_->setDocumentMargin(0);
    page_->setPageSize(body_);
    // The screen's widths mean nothing on paper; what it cannot do without is set here.
    page_->setDefaultStyleSheet(
        "td, th { padding: 2px 8px 2px 0; } th { color: #5c646b; font-weight: normal; text-align: left; } h1 { font-size: 20pt; } h2 { "
        "font-size: 13pt; } h3 { font-size: 10pt; } "
        "pre { font-family: 'B612 Mono'; font-size: 6.5pt; white-space: pre-wrap; } .caution { color: #8c1918; }");
    QString html = QString::fromStdString(report::packetHtml(packet));
    const auto style = html.indexOf("<style>"), style_end = html.indexOf("</style>");
    if (style >= 0) html.remove(style, style_end + 8 - style);
    html.replace(QRegularExpression("<t([hd]) style=\"width:(\\d+)%\">"), "<t\\1 width=\"\\2%\">");
    auto* vectors = new PaperVectors(page_.get(), overTheScreen());
    const double width = body_.width() - 2.0;
    page_->setHtml(withFormulas(withDrawings(html, *vectors, width), *vectors, paperFont(), width));
    // Each mends one page; the next search begins anew, because all that follows has moved.
    for (int k = 0; k < 100; ++k) {
        const auto block = torn(*page_, body_.height());
        if (!block) break;
        QTextBlockFormat before;
        before.setPageBreakPolicy(QTextFormat::PageBreak_AlwaysBefore);
        QTextCursor(*block).mergeBlockFormat(before);
        // Laid out anew as a whole: after a change in the middle the layout keeps the places of what follows.
        page_->setPageSize(body_ + QSizeF(0.0, 100.0));
        page_->setPageSize(body_);
    }
    pages_ = page_->pageCount();
}

void PacketPaper::draw(QPainter& painter, int page) const {
    const QRectF window(0.0, page * body_.height(), body_.width(), body_.height() - 1.0);  // the next line begins on the last dot
    painter.save();
    painter.translate(0.0, -window.top());
    painter.setClipRect(window, Qt::IntersectClip);
    QAbstractTextDocumentLayout::PaintContext context;
    context.clip = window;
    context.palette.setColor(QPalette::Text, QColor("#20262b"));
    page_->documentLayout()->draw(&painter, context);
    painter.restore();
    QFont foot = paperFont();
    foot.setPixelSize(qRound(8.0 / 72.0 * dots));
    painter.setFont(foot);
    painter.setPen(QColor("#5c646b"));
    painter.drawText(QRectF(0.0, body_.height(), body_.width(), size_.height() - body_.height()), Qt::AlignRight | Qt::AlignBottom,
                     QCoreApplication::translate("packet", "%1 · page %2 of %3").arg(name_).arg(page + 1).arg(pages_));
}

Result<void> printPacket(const report::Packet& packet, const QString& path) {
    QPdfWriter writer(path);
    writer.setResolution(dots);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(margins, QPageLayout::Millimeter);
    writer.setTitle(QString::fromStdString(packet.project.brief.name));
    writer.setCreator("Hinge Spark");
    const PacketPaper paper(packet);
    QPainter painter;
    if (!painter.begin(&writer))
        return fail(ErrorCode::NotWritable, path.toStdString(), "it cannot be opened for writing", "choose another folder");
    for (int n = 0; n < paper.pages(); ++n) {
        if (n > 0 && !writer.newPage()) return fail(ErrorCode::NotWritable, path.toStdString(), "the disk may be full", "free some space");
        paper.draw(painter, n);
    }
    if (!painter.end() || QFileInfo(path).size() == 0)
        return fail(ErrorCode::NotWritable, path.toStdString(), "the disk may be full", "free some space");
    return {};
}

}  // namespace hinge::app
