#pragma once
#include "pictures/spots.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// The ten stages along the top.
class StageBar final : public SpotWidget {
    Q_OBJECT
public:
    explicit StageBar(QWidget* parent = nullptr);
    void present(int chosen, int edge);
    /// Whether a stage concerns the whole gadget: the word 'all' stands under its name.
    [[nodiscard]] static bool concernsAll(int stage);
    [[nodiscard]] std::vector<Spot> spots() const override;
Q_SIGNALS:
    void chosen(int stage);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] QRectF cell(int stage) const;
    int chosen_ = -1;
    int edge_ = 176;
};

}  // namespace hinge::app
