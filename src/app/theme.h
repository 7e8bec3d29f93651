#pragma once
// How Hobble looks: colours, type, ramps. Custom-drawn widgets take everything from here.
#include "picture/measure_scale.h"

#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

#include <vector>

class QWidget;

namespace hobble {

struct Theme {
    QColor paper, panel, ink, muted, hairline, accent, accentSoft, blocking;
    QColor useStroke; // how much of the show is at each place of a strip
    QColor stripBody, stripMild, stripGrave, limitLine;
    QColor better, worse; // than what it is compared with
    QColor viewport, viewportInk;
    bool night = false;
    double textScale = 1; // 1 … 2

    static const Theme& current();
    /// Palette, style sheet and type of the whole application; widgets that are there already follow.
    static void apply(bool night, double textScale = 1);
};

/// The even figures of the shipped typeface; `scale` relative to the normal size.
QFont typeface(double scale = 1, bool bold = false);

/// Type and widths that follow the text size, now and when it changes.
void setType(QWidget* widget, double scale, bool bold = false);
void setTextWidth(QWidget* widget, int pixels); // fixed, at the normal size
void setTextSize(QWidget* widget, int width, int height);
void setTextLeast(QWidget* widget, int width, int most); // a least width that grows, but not beyond `most`

/// So many pixels at the normal text size.
int px(double pixels);

} // namespace hobble
