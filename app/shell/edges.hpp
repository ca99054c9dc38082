#pragma once
#include "shell/document.hpp"
#include <QWidget>

namespace hinge::app {

/// The dark strip across the top: name, worst current, lowest logic volts, findings.
class HeadlineStrip final : public QWidget {
    Q_OBJECT
public:
    explicit HeadlineStrip(QWidget* parent = nullptr);
    void present(const Model& model, bool dirty);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QString name_, small_;
    struct Gauge { QString label, figure; std::optional<double> share; };
    std::vector<Gauge> gauges_;
    QString findings_;
};

/// The ten stages along the top.
class StageBar final : public QWidget {
    Q_OBJECT
public:
    explicit StageBar(QWidget* parent = nullptr);
    void present(int chosen, int edge);
signals:
    void chosen(int stage);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QRectF cell(int stage) const;
    int chosen_ = -1;
    int edge_ = 176;
};

/// The channels down the left, each with its glyph, name and worst verdict.
class ChannelEdge final : public QWidget {
    Q_OBJECT
public:
    explicit ChannelEdge(QWidget* parent = nullptr);
    void present(const Model& model, const QString& chosen, bool narrow);
    [[nodiscard]] static int rowHeight(int height, int count);
signals:
    void chosen(const QString& channel);
    void menuAsked(const QString& channel, const QPoint& where);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    struct Row { QString id, name, small; Verdict verdict; };
    [[nodiscard]] int rowAt(int y) const;
    std::vector<Row> rows_;
    QString chosen_;
    bool narrow_ = false;
};

/// The whole grid: one cell a channel and stage.
class Crossbar final : public QWidget {
    Q_OBJECT
public:
    explicit Crossbar(QWidget* parent = nullptr);
    void present(const Model& model);
    /// The figure of a cell, for tests and copying.
    [[nodiscard]] QString figure(int row, int stage) const;
signals:
    void chosen(const QString& channel, int stage);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    std::vector<plan::ChannelPlan> channels_;
};

/// What is wrong here, each with its remedies.
class FindingsStrip final : public QWidget {
    Q_OBJECT
public:
    explicit FindingsStrip(QWidget* parent = nullptr);
    /// Shows those of a stage and channel, or all when stage is negative.
    void present(const Model& model, int stage, const QString& channel);
signals:
    void remedyPressed(const std::vector<hinge::project::FactEdit>& edits);
    void goTo(const QString& channel, int stage);

private:
    QWidget* body_ = nullptr;
    QString shown_;
};

}  // namespace hinge::app
