#include "pictures/picture.hpp"
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QMouseEvent>
#include <QSvgGenerator>

namespace hinge::app {

Picture::Picture(Document* document, QWidget* parent) : SpotWidget(parent), document_(document) {
    setObjectName("picture");
    setMouseTracking(true);
    setMinimumSize(280, 180);
    setAttribute(Qt::WA_OpaquePaintEvent);
}

void Picture::present(const QString& channel) {
    channel_ = channel;
    update();
}

void Picture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), colours().card);
    render(p, QRectF(rect()));
    paintSpotInHand(p);
}

void Picture::render(QPainter& p, const QRectF& box) {
    p.setRenderHint(QPainter::Antialiasing);
    draw(p, box);
}

void Picture::waits(QPainter& p, const QRectF& box, const QString& words) {
    p.setFont(textFont(Text::Body));
    p.setPen(colours().soft);
    p.drawText(box.adjusted(px(40), 0, -px(40), 0), Qt::AlignCenter | Qt::TextWordWrap, words);
}

void Picture::mouseMoveEvent(QMouseEvent* event) {
    pointer_ = event->position();
    update();
}

void Picture::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

void Picture::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    auto* copy = menu.addAction(tr("Copy this picture"));
    auto* save = menu.addAction(tr("Save as SVG or PNG…"));
    const auto* chosen = menu.exec(event->globalPos());
    if (chosen == copy) {
        QApplication::clipboard()->setPixmap(grab());
    } else if (chosen == save) {
        const QString file = QFileDialog::getSaveFileName(this, tr("Save the picture"), "picture.svg", tr("Pictures (*.svg *.png)"));
        if (file.endsWith(".png")) {
            grab().save(file);
        } else if (!file.isEmpty()) {
            QSvgGenerator svg;
            svg.setFileName(file);
            svg.setSize(size());
            svg.setViewBox(rect());
            QPainter painter(&svg);
            render(painter, QRectF(rect()));
        }
    }
}

}  // namespace hinge::app
