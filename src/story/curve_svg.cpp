#include "story/curve_svg.h"

#include <algorithm>

namespace hobble {

QByteArray curveSvg(const DefectFacts& facts, const std::vector<BuildNumber>& builds, int width, int height,
                    const CurveInk& ink) {
    if (builds.empty() || width < 80 || height < 60)
        return {};
    double x1 = std::max(facts.degrees, 1e-6), low = std::min(facts.limit, facts.value),
           high = std::max(facts.limit, facts.value);
    for (const BuildNumber& b : builds)
        for (const auto& [x, y] : b.curve) {
            x1 = std::max(x1, x);
            low = std::min(low, y);
            high = std::max(high, y);
        }
    const double room = std::max(high - low, 1e-6) * 0.08;
    low -= room;
    high += room;
    constexpr double left = 46, right = 58, top = 10, bottom = 22;
    const auto px = [&](double x) { return left + (width - left - right) * x / x1; };
    const auto py = [&](double y) { return top + (height - top - bottom) * (high - y) / (high - low); };
    QString out =
        QStringLiteral(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%1\" height=\"%2\" viewBox=\"0 0 %1 %2\""
            " font-family=\"Atkinson Hyperlegible Next, sans-serif\" font-size=\"11\">"
            "<rect width=\"%1\" height=\"%2\" fill=\"%3\"/>")
            .arg(width)
            .arg(height)
            .arg(ink.paper);
    const auto line = [&](double xa, double ya, double xb, double yb, const QString& colour,
                          const char* dash) {
        out += QStringLiteral(
                   "<line x1=\"%1\" y1=\"%2\" x2=\"%3\" y2=\"%4\" stroke=\"%5\" stroke-width=\"1\"%6/>")
                   .arg(xa, 0, 'f', 1)
                   .arg(ya, 0, 'f', 1)
                   .arg(xb, 0, 'f', 1)
                   .arg(yb, 0, 'f', 1)
                   .arg(colour, QLatin1String(dash));
    };
    const auto text = [&](double x, double y, const QString& words, const QString& colour,
                          const char* anchor) {
        out += QStringLiteral("<text x=\"%1\" y=\"%2\" fill=\"%3\" text-anchor=\"%4\">%5</text>")
                   .arg(x, 0, 'f', 1)
                   .arg(y, 0, 'f', 1)
                   .arg(colour, QLatin1String(anchor), words.toHtmlEscaped());
    };
    line(left, height - bottom, width - right, height - bottom, ink.hairline, "");
    line(left, top, left, height - bottom, ink.hairline, "");
    line(left, py(facts.limit), width - right, py(facts.limit), ink.limit, " stroke-dasharray=\"3 3\"");
    text(left - 4, py(facts.limit) + 4, numberWords(facts, facts.limit), ink.limit, "end");
    line(px(facts.degrees), top, px(facts.degrees), height - bottom, ink.quiet, " stroke-dasharray=\"1 3\"");
    text(px(facts.degrees), height - 7,
         facts.at.isEmpty() ? QStringLiteral("%1°").arg(facts.degrees, 0, 'f', 0) : facts.at, ink.quiet,
         facts.degrees > 0.8 * x1 ? "end" : "middle");
    text(left, height - 7, QStringLiteral("0"), ink.quiet, "start");
    std::vector<double> taken; // heights of the words at the right, kept apart
    for (std::size_t i = 0; i < builds.size(); ++i) {
        const BuildNumber& b = builds[i];
        const bool newest = i + 1 == builds.size(), own = b.build.id == facts.buildId;
        QString points;
        for (const auto& [x, y] : b.curve)
            points += QStringLiteral("%1,%2 ").arg(px(x), 0, 'f', 1).arg(py(y), 0, 'f', 1);
        const QString colour = newest ? ink.line : ink.quiet;
        out += QStringLiteral("<polyline points=\"%1\" fill=\"none\" stroke=\"%2\" stroke-width=\"%3\"%4/>")
                   .arg(points.trimmed(), colour)
                   .arg(newest ? 2.2 : 1.2)
                   .arg(newest || own ? QString() : QStringLiteral(" stroke-opacity=\"0.8\""));
        if (b.curve.size() < 4) // too few to be a line
            for (const auto& [x, v] : b.curve)
                out += QStringLiteral("<circle cx=\"%1\" cy=\"%2\" r=\"3\" fill=\"%3\"/>")
                           .arg(px(x), 0, 'f', 1)
                           .arg(py(v), 0, 'f', 1)
                           .arg(colour);
        double y = py(b.curve.back().second) + 4;
        for (bool moved = true; moved;) {
            moved = false;
            for (double t : taken)
                if (std::abs(t - y) < 11.5) { // less than it is moved by, or it would go on for ever
                    y = t + 12;
                    moved = true;
                }
        }
        taken.push_back(y);
        text(width - right + 5, std::min(y, height - bottom - 2.0),
             QStringLiteral("build %1").arg(b.build.number), colour, "start");
    }
    return (out + QStringLiteral("</svg>")).toUtf8();
}

} // namespace hobble
