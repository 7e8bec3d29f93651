#include "story/compare_page.h"

#include "core/judge/measure_unit.h"
#include "core/words/finding_words.h"
#include "core/words/measure_words.h"

#include <QCoreApplication>
#include <QString>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }
QString esc(const std::string& text) { return QString::fromStdString(text).toHtmlEscaped(); }

const char* const kCompareStyle =
    "body{font:16px/1.5 'Atkinson Hyperlegible Next','Atkinson Hyperlegible',sans-serif;background:#f7f2e8;"
    "color:#1d2a33;margin:0 auto;max-width:70em;padding:2em 1.5em}h1{font-size:1.7em;margin:0}"
    "h2{font-size:1.15em;margin:1.6em 0 .3em}p{margin:.2em 0}.q{color:#56626a}"
    "table{border-collapse:collapse}td,th{padding:.2em 1.2em .2em 0;text-align:left;vertical-align:middle;"
    "border-bottom:1px solid #d9cfbc}td.n{text-align:right;font-variant-numeric:tabular-nums}"
    ".b{color:#0f6b5c}.w{color:#9c3d12}svg{display:block}@media print{tr{break-inside:avoid}}";

// The trouble of both sides along the motion; what is over the other's is tinted.
QString strip(const TroubleCurve& before, const TroubleCurve& now, double limit) {
    constexpr double width = 320, height = 40;
    if (now.at.empty() || before.at.empty() || limit <= 0)
        return {};
    const auto up = [](double trouble) {
        return trouble <= 1 ? 0.36 * trouble : 1 - 0.64 / std::pow(trouble, 0.5);
    };
    const auto x = [&](double at) { return width * std::min(at, limit) / limit; };
    const auto y = [&](double trouble) { return height * (1 - up(trouble)); };
    QString better, worse, both, lineNow;
    constexpr int steps = 80;
    const auto points = [&](const auto& of) {
        QString out = QStringLiteral("0,%1 ").arg(height);
        for (int i = 0; i <= steps; ++i) {
            const double at = limit * i / steps;
            out += QStringLiteral("%1,%2 ").arg(x(at), 0, 'f', 1).arg(y(of(at)), 0, 'f', 1);
        }
        return out + QStringLiteral("%1,%2").arg(width).arg(height);
    };
    const auto was = [&](double at) { return troubleAt(before, at); };
    const auto is = [&](double at) { return troubleAt(now, at); };
    better = points(was);
    worse = points(is);
    both = points([&](double at) { return std::min(was(at), is(at)); });
    QString out = QStringLiteral("<svg width=\"%1\" height=\"%2\" viewBox=\"0 0 %1 %2\" role=\"img\">")
                      .arg(width)
                      .arg(height);
    for (const auto& [shape, colour] :
         {std::pair(better, "#5fa79b"), std::pair(worse, "#cf7a45"), std::pair(both, "#dfe0d4")})
        out += QStringLiteral("<polygon points=\"%1\" fill=\"%2\"/>").arg(shape, QLatin1String(colour));
    out += QStringLiteral("<polyline points=\"%1\" fill=\"none\" stroke=\"#1d2a33\" stroke-width=\"1.4\"/>")
               .arg(worse.section(QLatin1Char(' '), 1, -2));
    out += QStringLiteral("<line x1=\"0\" x2=\"%1\" y1=\"%2\" y2=\"%2\" stroke=\"#8f4205\" "
                          "stroke-dasharray=\"2 3\"/></svg>")
               .arg(width)
               .arg(y(1), 0, 'f', 1);
    return out;
}

} // namespace

QByteArray comparePage(const Comparison& c) {
    const Differences& d = c.differences;
    const auto sideName = [&](std::size_t s) {
        const Character& k = *c.sides[s].subject->character;
        return c.mirrored() ? words(s ? "right" : "left")
                            : QString::fromStdString(k.source.empty() ? k.name : k.source).toHtmlEscaped();
    };
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2</style></head><body><h1>%3</h1>")
            .arg(words("Compared"), QLatin1String(kCompareStyle), esc(sentence(c)));
    out += QStringLiteral("<p class=\"q\">%1</p>").arg(words("%1 against %2").arg(sideName(1), sideName(0)));
    for (const std::string& note : notesOn(c))
        out += QStringLiteral("<p class=\"w\">%1</p>").arg(esc(note));
    out += QStringLiteral("<p>%1</p>").arg(esc(skinSentence(c)));

    std::vector<const MotionChange*> motions;
    for (const MotionChange& m : d.motions)
        if (m.verdict != Change::Same)
            motions.push_back(&m);
    std::stable_sort(motions.begin(), motions.end(),
                     [](const MotionChange* a, const MotionChange* b) { return a->change > b->change; });
    if (!motions.empty())
        out += QStringLiteral("<h2>%1</h2><table>").arg(words("Motions that changed, the worse first"));
    for (const MotionChange* m : motions) {
        const auto curve = [&](std::size_t s) {
            const ComparedSide& side = c.sides[s];
            return troubleCurve(side.subject->roles,
                                side.run->motions[static_cast<std::size_t>(m->motion[s])], side.run->limits);
        };
        const Motion& motion = c.sides[1].run->plan.motions[static_cast<std::size_t>(m->motion[1])];
        out += QStringLiteral("<tr><td>%1</td><td class=\"%2\">%3</td><td>%4</td></tr>")
                   .arg(esc(wordsFor(motion)), QLatin1String(m->verdict == Change::Better ? "b" : "w"),
                        words(m->verdict == Change::Better ? "better" : "worse"),
                        strip(curve(0), curve(1), motion.limit()));
    }
    if (!motions.empty())
        out += QStringLiteral("</table>");

    bool any = false;
    for (const JointChange& j : d.joints) {
        if (j.verdict == Change::Same)
            continue;
        if (!std::exchange(any, true))
            out += QStringLiteral("<h2>%1</h2><table><tr><th>%2</th><th>%3</th><th>%4</th><th>%5</th><th>%6</"
                                  "th><th>%7</th></tr>")
                       .arg(words("Joints that changed"), words("joint"), words("measure"), words("before"),
                            words("now"), words("limit"), words("in"));
        for (std::size_t i : j.measures) {
            const MeasureChange& m = d.measures[i];
            const Subject& s = *c.sides[1].subject;
            const MeasureUnit unit = unitOf(m.kind, s, m.joint[1]);
            const auto number = [&](double v) { return QString::fromStdString(wordsFor(unit, v)); };
            const Role role = s.roles[static_cast<std::size_t>(m.joint[1])].role;
            out +=
                QStringLiteral(
                    "<tr><td>%1</td><td class=\"%2\">%3</td><td class=\"n\">%4</td><td class=\"n\">%5</td>"
                    "<td class=\"n\">%6</td><td>%7</td></tr>")
                    .arg(esc(jointWords(s, m.joint[1])),
                         QLatin1String(m.verdict == Change::Better ? "b" : "w"),
                         QLatin1String(nameOf(m.kind)), number(m.peak[0]), number(m.peak[1]),
                         number(c.sides[1].run->limits.of(m.kind, role)[0]),
                         esc(wordsFor(c.sides[1].run->plan.motions[static_cast<std::size_t>(m.motion[1])])));
        }
    }
    if (any)
        out += QStringLiteral("</table>");
    return (out + QStringLiteral("</body></html>\n")).toUtf8();
}

} // namespace hobble
