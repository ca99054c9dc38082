#pragma once
#include <QPainter>
#include "plan/plan.hpp"

namespace hinge::app {

/// Draws what moves, from its numbers, at a place of its stroke.
/// @param phase  0 … 1, once there and back
void drawMechanism(QPainter& painter, const QRectF& box, const project::Channel& channel, const match::Ask& ask, double phase);

/// The phase at which a mechanism stands at a share of its way.
[[nodiscard]] double phaseAt(double share);

}  // namespace hinge::app
