#include "stages/log/packet_page.hpp"
#include <QDate>
#include <QHBoxLayout>
#include <QImage>
#include <QLabel>
#include <QPaintEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include "shell/labels.hpp"
#include "shell/packet_paper.hpp"
#include "store/document.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

PacketSheets::PacketSheets(QWidget* parent) : QWidget(parent) {
    setObjectName("packetSheets");
}
PacketSheets::~PacketSheets() = default;

int PacketSheets::pages() const {
    return paper_ ? paper_->pages() : 0;
}

// Two beside each other; a margin of paper is left white around what is printed.
QRectF PacketSheets::sheet(int page, double width) const {
    const double gap = px(12), wide = (width - 3 * gap) / 2.0, high = wide * 297.0 / 210.0;
    return {gap + (page % 2) * (wide + gap), gap + (page / 2) * (high + gap), wide, high};
}

int PacketSheets::heightForWidth(int width) const {
    return pages() == 0 ? px(40) : static_cast<int>(sheet(pages() - 1, width).bottom()) + px(12);
}

void PacketSheets::present(std::unique_ptr<PacketPaper> paper) {
    paper_ = std::move(paper);
    setMinimumHeight(heightForWidth(width()));
    update();
}

void PacketSheets::resizeEvent(QResizeEvent*) {
    setMinimumHeight(heightForWidth(width()));
}

void PacketSheets::paintEvent(QPaintEvent* event) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(event->rect(), colours().line);
    for (int n = 0; n < pages(); ++n) {
        const QRectF box = sheet(n, width());
        if (!box.intersects(event->rect())) continue;
        p.fillRect(box, Qt::white);  // paper stays white in the dark theme too
        // Twice as fine, then made smaller: small print and drawings keep their lines.
        const double factor = 2.0 * box.width() * (210.0 - 28.0) / 210.0 / paper_->size().width();
        QImage sheet_image((paper_->size() * factor).toSize(), QImage::Format_RGB32);
        sheet_image.fill(Qt::white);
        QPainter fine(&sheet_image);
        fine.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        fine.scale(factor, factor);
        paper_->draw(fine, n);
        fine.end();
        p.drawImage(QRectF(box.topLeft() + QPointF(14.0, 14.0) / 210.0 * box.width(), paper_->size() * factor / 2.0), sheet_image);
    }
}

PacketPage::PacketPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("packetPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(8), 0, 0);
    auto* row = new QHBoxLayout;
    sentence_ = new QLabel;
    sentence_->setObjectName("packetSentence");
    sentence_->setWordWrap(true);
    auto* save = new QPushButton(tr("Hand it on…"));
    save->setObjectName("savePacket");
    save->setProperty("main", true);
    save->setToolTip(tr("As PDF, as one HTML page, or everything open in one zip"));
    connect(save, &QPushButton::clicked, this, &PacketPage::saveAsked);
    row->addWidget(sentence_, 1);
    row->addWidget(save);
    sheets_ = new PacketSheets;
    auto* scroll = scrolled(sheets_);
    scroll->setObjectName("packetScroll");
    column->addLayout(row);
    column->addWidget(scroll, 1);
}

void PacketPage::present() {
    const auto& m = document_->model();
    if (any_ && shown_ == m.project) return sheets_->update();
    any_ = true;
    shown_ = m.project;
    auto packet = report::packetOf(m.project, m.parts, m.evidence, QDate::currentDate().toString(Qt::ISODate).toStdString());
    int missing = 0;
    for (const auto& name : report::photosOf(m.project))
        if (auto bytes = store::readPhoto(document_->folder().toStdString(), name)) packet.photos[name] = std::move(*bytes);
        else ++missing;
    sheets_->present(std::make_unique<PacketPaper>(packet));
    sentence_->setFont(textFont(Text::Body));
    QString sentence = tr("%1 pages: what it is, wiring to print, parts, settings, sketch, assembly, first power-up, use, cautions, and "
                          "the working of every number.")
                           .arg(sheets_->pages());
    if (missing > 0) sentence += " " + tr("%1 photos are not in the project's photos folder any more, and are left out.").arg(missing);
    sentence_->setText(sentence);
}

}  // namespace hinge::app
