#pragma once
#include "shell/document.hpp"
#include "shell/scrolled_rows.hpp"

namespace hinge::app {

/// The channels down the left, each with its glyph, name and worst verdict.
class ChannelEdge final : public ScrolledRows {
    Q_OBJECT
public:
    explicit ChannelEdge(QWidget* parent = nullptr);
    void present(const Model& model, const QString& chosen, bool narrow);
    [[nodiscard]] static int rowHeight(int height, int count);
    [[nodiscard]] std::vector<Spot> spots() const override;
Q_SIGNALS:
    void chosen(const QString& channel);
    void menuAsked(const QString& channel, const QPoint& where);
    void addAsked();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Row {
        QString id, name, small, glyph;
        Verdict verdict;
    };
    [[nodiscard]] int rowAt(int y) const;
    std::vector<Row> rows_;
    QString chosen_;
    bool narrow_ = false;
};

}  // namespace hinge::app
