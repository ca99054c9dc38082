#pragma once
#include "pictures/scene_chart.hpp"

namespace hinge::app {

/// The tree as it feeds, each branch as wide as its current, and beside it the scene, played.
class FeedPicture final : public SceneChart {
    Q_OBJECT
public:
    using SceneChart::SceneChart;

protected:
    void draw(QPainter& painter, const QRectF& box) override;

private:
    void tree(QPainter& painter, const QRectF& box);
};

}  // namespace hinge::app
