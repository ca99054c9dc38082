#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QLabel;
class QVBoxLayout;

namespace hinge::app {

class FactsPanel;

/// The mechanics of a channel, drawn to their own measures: horn and swing, belt and pulleys, printed arm; and the case that all sit in.
class FitPicture final : public QWidget {
    Q_OBJECT
public:
    explicit FitPicture(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void drawHorn(QPainter& p, const QRectF& box, const project::Channel& channel, const plan::ChannelPlan& planned) const;
    void drawBelt(QPainter& p, const QRectF& box, const project::Channel& channel) const;
    void drawArm(QPainter& p, const QRectF& box, const project::Channel& channel) const;
    void drawCase(QPainter& p, const QRectF& box) const;

    Document* document_;
    QString channel_;
};

/// Lengths and fits: what to measure, what it comes to, and how to look that it is so.
class FitPage final : public QWidget {
    Q_OBJECT
public:
    explicit FitPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);

private:
    void build();

    Document* document_;
    QString channel_, built_;
    FactsPanel* facts_ = nullptr;
    FitPicture* picture_ = nullptr;
    QLabel* sentence_ = nullptr;
    QVBoxLayout* lines_ = nullptr;
};

}  // namespace hinge::app
