#pragma once
// How Hobble looks: colours, type, ramps. Custom-drawn widgets take everything from here.
#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

#include <vector>

namespace hobble {

struct Theme {
    QColor paper, panel, ink, muted, hairline, accent, accentSoft, blocking;
    QColor stripBody, stripMild, stripGrave, limitLine;
    QColor viewport, viewportInk;
    bool night = false;

    static const Theme& current();
    static void apply(bool night); // palette, style sheet and type of the whole application
};

/// The even figures of the shipped typeface; `points` relative to the normal size.
QFont typeface(double scale = 1, bool bold = false);

/// Squash to stretch: purple – pale – orange, its stops at the default limits.
QColor strainColour(double stretch, double squash);
/// 0 … 1, pale to teal.
QColor weightColour(double weight);
/// How many joints hold a vertex: pale to teal up to four, orange beyond what an engine keeps.
QColor influenceColour(std::size_t count);

struct RampStop {
    double value;
    QColor colour;
};
const std::vector<RampStop>& strainStops();
const std::vector<RampStop>& weightStops();
const std::vector<RampStop>& influenceStops();

} // namespace hobble
