#include "shell/paper_vectors.hpp"
#include <QAbstractTextDocumentLayout>
#include <QTextDocument>

namespace hinge::app {

PaperVectors::PaperVectors(QTextDocument* page, double scaled) : QObject(page), scaled_{scaled} {
    auto* layout = page->documentLayout();
    usual_ = layout->handlerForObject(QTextFormat::ImageObject);
    layout->registerHandler(QTextFormat::ImageObject, this);
}

QSizeF PaperVectors::intrinsicSize(QTextDocument* page, int position, const QTextFormat& format) {
    const auto image = format.toImageFormat();
    if (!drawn_.contains(image.name())) return usual_->intrinsicSize(page, position, format);
    return QSizeF(image.width(), image.height()) * scaled_;
}

void PaperVectors::drawObject(QPainter* painter, const QRectF& place, QTextDocument* page, int position, const QTextFormat& format) {
    const auto found = drawn_.find(format.toImageFormat().name());
    if (found == drawn_.end()) return usual_->drawObject(painter, place, page, position, format);
    found->second(*painter, place);
}

}  // namespace hinge::app
