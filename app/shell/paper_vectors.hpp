#pragma once
#include <QTextObjectInterface>
#include <functional>
#include <map>

namespace hinge::app {

/// Draws a text document's images that are drawings as such: on paper they stay lines and letters at any size. All others are drawn as
/// the document does.
class PaperVectors final : public QObject, public QTextObjectInterface {
    Q_OBJECT
    Q_INTERFACES(QTextObjectInterface)
public:
    /// @param scaled  dots of the paper for each of a px in which an image's size is told
    PaperVectors(QTextDocument* page, double scaled);
    /// An image of the page by its name, and how it is drawn into its place.
    void add(const QString& name, std::function<void(QPainter&, const QRectF&)> draw) { drawn_[name] = std::move(draw); }

    QSizeF intrinsicSize(QTextDocument* page, int position, const QTextFormat& format) override;
    void drawObject(QPainter* painter, const QRectF& place, QTextDocument* page, int position, const QTextFormat& format) override;

private:
    std::map<QString, std::function<void(QPainter&, const QRectF&)>> drawn_;
    QTextObjectInterface* usual_ = nullptr;
    double scaled_ = 1.0;
};

}  // namespace hinge::app
