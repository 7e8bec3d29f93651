#pragma once
// A defect's measure against the angle, one line per build, as SVG 1.1: the same drawing on the page, in
// packets and in print.
#include "story/defect_numbers.h"

#include <QByteArray>

namespace hobble {

struct CurveInk {
    QString paper = QStringLiteral("none"), ink = QStringLiteral("#1d2a33"),
            quiet = QStringLiteral("#68737a"), hairline = QStringLiteral("#d9cfbc"),
            line = QStringLiteral("#0f6b5c"), limit = QStringLiteral("#8f4205");
};

/// Empty where there is nothing to draw.
QByteArray curveSvg(const DefectFacts& facts, const std::vector<BuildNumber>& builds, int width, int height,
                    const CurveInk& ink = {});

} // namespace hobble
