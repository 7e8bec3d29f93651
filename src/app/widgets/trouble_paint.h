#pragma once
// How trouble along a motion is drawn wherever it is.
#include "core/run/trouble_curve.h"

#include <QColor>
#include <QRectF>

class QPainter;

namespace hobble {

/// A trouble as a height, 0 … 1: within limits it rises evenly, beyond ever more slowly, so that bad and
/// terrible still differ.
double riseOfTrouble(double trouble);

/// Two curves of a measure over its limit, before in outline, after filled: of a proposal, or of the strip.
void paintBeforeAndAfter(QPainter& painter, const QRectF& box, double limit, const TroubleCurve& before,
                         const TroubleCurve& after, const QColor& ink, const QColor& ground);

/// Two curves laid over one another: what both have as the strip's body, what only `now` has tinted as worse,
/// what only `before` has as better, on `ground`; with the line of the limit.
void paintChange(QPainter& painter, const QRectF& box, double limit, const TroubleCurve& before,
                 const TroubleCurve& now, const QColor& ground);

} // namespace hobble
