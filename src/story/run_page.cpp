#include "story/run_page.h"

#include "core/exposure/fault_use.h"
#include "core/pose/coverage.h"
#include "core/run/trouble_curve.h"
#include "core/words/cause_words.h"
#include "core/words/exposure_words.h"
#include "core/words/finding_words.h"
#include "core/words/say.h"
#include "log/finding_defect.h"
#include "story/page_style.h"

#include <QCoreApplication>

#include <algorithm>
#include <atomic>
#include <mutex>
#include <thread>

namespace hobble {

namespace {

QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }
QString e(const QString& words) { return words.toHtmlEscaped(); }
QString e(const std::string& words) { return QString::fromStdString(words).toHtmlEscaped(); }

// A measure along its motion: here, on the other side, and the limits that lie in sight.
QString curve(const Subject& s, const RunResult& run, const Finding& f) {
    const auto lineOf = [&](int motion, int joint) {
        if (motion < 0 || joint < 0)
            return MeasureLine{};
        return measureLine(
            run.motions[static_cast<std::size_t>(motion)], joint,
            [&](const ZoneMeasures& z) { return valueOf(f.kind, z); }, [](double, int) { return 0.0; });
    };
    const MeasureLine here = lineOf(f.motion, f.joint);
    if (here.at.size() < 3)
        return {};
    const MeasureLine other =
        lineOf(otherSideOf(run.plan, f.motion), s.roles[static_cast<std::size_t>(f.joint)].mirror);
    const LimitSteps& limits = run.limits.of(f.kind, f.role);
    const auto turn = [](const MeasureLine& line) { // without the neutral it ends in
        return line.at.size() > 1 && line.at.back() < line.at[line.at.size() - 2] ? line.at.size() - 1
                                                                                  : line.at.size();
    };
    double x1 = 1e-6, low = std::min(unchangedOf(f.kind), f.peakValue),
           high = std::max(unchangedOf(f.kind), f.peakValue);
    for (const MeasureLine* line : {&here, &other})
        for (std::size_t i = 0; i < turn(*line); ++i) {
            x1 = std::max(x1, line->at[i]);
            low = std::min(low, line->value[i]);
            high = std::max(high, line->value[i]);
        }
    low = std::min(low, limits[0]);
    high = std::max(high, limits[0]);
    const double room = std::max(high - low, 1e-6) * 0.06;
    low -= room;
    high += room;
    constexpr double width = 520, height = 150, left = 60, right = 90, top = 8, bottom = 22;
    const auto px = [&](double x) { return left + (width - left - right) * x / x1; };
    const auto py = [&](double y) { return top + (height - top - bottom) * (high - y) / (high - low); };
    const DefectFacts facts = factsOf(s, run.plan, f);
    QString out =
        QStringLiteral("<svg width=\"%1\" height=\"%2\" viewBox=\"0 0 %1 %2\" font-size=\"11\" role=\"img\" "
                       "aria-label=\"%3\">")
            .arg(width)
            .arg(height)
            .arg(e(
                tr("%1 along the motion").arg(QString::fromStdString(translated(factsOf(f.kind).measure)))));
    double told = INFINITY; // the height of the last limit with words: those too near to it go without
    for (std::size_t k = 0; k < limits.size(); ++k) {
        if (limits[k] <= low || limits[k] >= high)
            continue;
        out += QStringLiteral("<line x1=\"%1\" x2=\"%2\" y1=\"%3\" y2=\"%3\" stroke=\"#8f4205\" "
                              "stroke-dasharray=\"3 3\"/>")
                   .arg(left)
                   .arg(width - right)
                   .arg(py(limits[k]), 0, 'f', 1);
        constexpr double apart = 12;
        if (std::abs(py(limits[k]) - told) < apart)
            continue;
        told = py(limits[k]);
        out += QStringLiteral("<text x=\"%1\" y=\"%2\" text-anchor=\"end\" fill=\"#8f4205\">%3: %4</text>")
                   .arg(left - 4)
                   .arg(told + 4, 0, 'f', 1)
                   .arg(k + 1)
                   .arg(e(numberWords(facts, limits[k])));
    }
    const auto draw = [&](const MeasureLine& line, const char* colour, double thick, const QString& word,
                          double lift) {
        if (turn(line) < 2)
            return;
        QString points;
        for (std::size_t i = 0; i < turn(line); ++i)
            points +=
                QStringLiteral("%1,%2 ").arg(px(line.at[i]), 0, 'f', 1).arg(py(line.value[i]), 0, 'f', 1);
        out += QStringLiteral("<polyline fill=\"none\" stroke=\"%1\" stroke-width=\"%2\" points=\"%3\"/>"
                              "<text x=\"%4\" y=\"%5\" fill=\"%1\">%6</text>")
                   .arg(QLatin1String(colour))
                   .arg(thick)
                   .arg(points.trimmed())
                   .arg(width - right + 5)
                   .arg(std::clamp(py(line.value[turn(line) - 1]) + 4 + lift, top + 8, height - bottom), 0,
                        'f', 1)
                   .arg(e(word));
    };
    const bool sides = turn(other) > 1;
    const double apart = sides ? py(here.value[turn(here) - 1]) - py(other.value[turn(other) - 1]) : 0;
    const double lift = sides && std::abs(apart) < 12 ? 6 : 0;
    draw(other, "#68737a", 1.2, tr("other side"), apart > 0 ? -lift : lift);
    draw(here, "#0f6b5c", 2.2, sides ? tr("this side") : QString(), apart > 0 ? lift : -lift);
    out += QStringLiteral(
               "<line x1=\"%1\" x2=\"%1\" y1=\"%2\" y2=\"%3\" stroke=\"#68737a\" stroke-dasharray=\"1 3\"/>"
               "<text x=\"%1\" y=\"%4\" text-anchor=\"middle\" fill=\"#56626a\">%5</text>")
               .arg(px(f.peak), 0, 'f', 1)
               .arg(top)
               .arg(height - bottom)
               .arg(height - 7)
               .arg(e(wordsFor(run.plan.motions[static_cast<std::size_t>(f.motion)], f.peak)));
    return out + QStringLiteral("</svg>");
}

QString pictureTag(const DefectPicture& p) {
    return figureTag(p.image, p.measured ? tr("%1, its measure").arg(p.view) : p.view);
}

QString chip(int severity) { return QStringLiteral("<b class=\"s s%1\">%1</b>").arg(severity); }

// How often the show's animation goes past where a fault begins; of another sign, it is said of which motion.
QString useWords(const RunResult& run, const Fault& fault, const Exposure& exposure) {
    const FaultUse use = faultUse(exposure, run, fault);
    const Finding& f = run.findings[static_cast<std::size_t>(use.finding)];
    const Motion& motion = run.plan.motions[static_cast<std::size_t>(f.motion)];
    QString out = tr("In the show: %1").arg(QString::fromStdString(wordsFor(exposure, use.past)));
    if (use.finding != fault.signs.front() && use.past.frames > 0)
        out += tr(" (%1 from %2)")
                   .arg(QString::fromStdString(wordsFor(motion)),
                        QString::fromStdString(wordsFor(motion, f.onset)));
    return out + QLatin1Char('.');
}

QString section(const Subject& s, const RunResult& run, std::size_t number, const DefectPictures& pictures,
                const Exposure* exposure) {
    const Fault& fault = run.faults[number];
    const Finding& lead = run.findings[static_cast<std::size_t>(fault.signs.front())];
    const Character& c = *s.character;
    const DefectFacts facts = factsOf(s, run.plan, lead);
    QString out = QStringLiteral("<section id=\"fault-%1\"><h2>%2 %1. %3</h2>")
                      .arg(number + 1)
                      .arg(chip(fault.severity), e(sentence(s, run.plan, run.findings, fault)));
    QStringList told{
        tr("joint %1").arg(QString::fromStdString(c.skeleton.name[static_cast<std::size_t>(fault.joint)])),
        tr("%1 %2 against a limit of %3")
            .arg(QString::fromStdString(translated(factsOf(lead.kind).measure)),
                 numberWords(facts, lead.peakValue), numberWords(facts, lead.limit))};
    if (!facts.part.isEmpty())
        told << tr("part %1").arg(facts.part);
    out += QStringLiteral("<p class=\"q\">%1</p>").arg(e(told.join(QStringLiteral(" · "))));
    if (const Cause* cause = fault.headline()) {
        QString word = QString::fromStdString(translated(factsOf(cause->kind).word));
        word[0] = word[0].toUpper();
        out += QStringLiteral("<p>%1: %2</p>").arg(e(word), e(sentenceOf(c, *cause)));
    }
    if (exposure)
        out += QStringLiteral("<p>%1</p>").arg(e(useWords(run, fault, *exposure)));
    if (!pictures.pictures.isEmpty()) {
        out += QStringLiteral("<div class=\"p\">");
        for (const DefectPicture& p : pictures.pictures)
            out += pictureTag(p);
        out += QStringLiteral("</div>");
    }
    if (!pictures.scale.isEmpty())
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(e(pictures.scale));
    out += curve(s, run, lead);
    if (fault.signs.size() > 1) {
        out += QStringLiteral("<details><summary>%1</summary><ul>")
                   .arg(e(fault.signs.size() == 2 ? tr("one more sign")
                                                  : tr("%1 more signs").arg(fault.signs.size() - 1)));
        for (std::size_t i = 1; i < fault.signs.size(); ++i) {
            const Finding& f = run.findings[static_cast<std::size_t>(fault.signs[i])];
            out += QStringLiteral("<li>%1 %2</li>").arg(chip(f.severity), e(sentence(s, run.plan, f)));
        }
        out += QStringLiteral("</ul></details>");
    }
    return out + QStringLiteral("</section>");
}

// The silhouette of trouble along a motion, filled where a limit is passed.
QString strip(const Subject& s, const RunResult& run, std::size_t m) {
    constexpr double width = 320, height = 26, scale = height / 3; // three times the limit fills the strip
    const TroubleCurve c = troubleCurve(s.roles, run.motions[m], run.limits);
    const double limit = run.plan.motions[m].limit();
    QString line, fill;
    for (std::size_t i = 0; i < c.trouble.size(); ++i) {
        const double x = limit > 0 ? width * c.at[i] / limit : 0;
        line += QStringLiteral("%1,%2 ")
                    .arg(x, 0, 'f', 1)
                    .arg(height - scale * std::min(c.trouble[i], 3.0), 0, 'f', 1);
        fill += QStringLiteral("%1,%2 ")
                    .arg(x, 0, 'f', 1)
                    .arg(height - scale * std::clamp(c.trouble[i], 1.0, 3.0), 0, 'f', 1);
    }
    return QStringLiteral(
               "<svg width=\"320\" height=\"26\"><polygon fill=\"#dbe4df\" points=\"0,26 %1 320,26\"/>"
               "<polygon fill=\"#5f2a6e\" points=\"0,%3 %2 320,%3\"/><line x1=\"0\" x2=\"320\" y1=\"%3\" "
               "y2=\"%3\" stroke=\"#b9a98f\" stroke-dasharray=\"2 3\"/></svg>")
        .arg(line, fill)
        .arg(height - scale, 0, 'f', 1);
}

QString coverage(const Subject& s, const Plan& plan) {
    const Coverage c = coverageOf(*s.character, s.roles, plan);
    QString out = QStringLiteral("<p>%1.</p>").arg(e(wordsFor(c)));
    if (c.untested.empty())
        return out;
    out += QStringLiteral("<ul>");
    for (const UntestedJoint& u : c.untested)
        out += QStringLiteral("<li>%1</li>")
                   .arg(e(tr("%1 (%2 % of the skin): %3")
                              .arg(QString::fromStdString(
                                  s.character->skeleton.name[static_cast<std::size_t>(u.joint)]))
                              .arg(100 * u.share, 0, 'f', 1)
                              .arg(QString::fromStdString(wordsFor(u.why)))));
    return out + QStringLiteral("</ul>");
}

} // namespace

QByteArray runPage(const Subject& s, const RunResult& run, const RunPageWish& wish) {
    const Character& c = *s.character;
    // Pictures first: they take the time, and each stands by itself.
    const std::size_t pictured =
        std::min(run.faults.size(), static_cast<std::size_t>(std::max(wish.mostPictured, 0)));
    std::vector<DefectPictures> pictures(run.faults.size());
    std::atomic<bool> stop = false;
    int done = 0;
    std::mutex telling;
    const auto shared = std::shared_ptr<const Subject>(&s, [](const Subject*) {}); // it outlives the page
    const Build build{0, QString::fromStdString(c.name), QString::fromStdString(c.hash),
                      QString::fromStdString(c.source), 0};
    const auto picture = [&](std::size_t k) {
        BuildShelf shelf;
        shelf.put(build.hash, shared);
        Defect d;
        d.facts = factsOf(s, run.plan, run.findings, run.faults[k]);
        d.build = build;
        PictureWish each;
        each.width = wish.width;
        each.height = wish.height;
        each.limits = run.limits;
        each.cancel = &stop;
        pictures[k] = picturesOf(d, {build}, shelf, each);
        if (wish.progress) {
            const std::lock_guard lock(telling);
            if (!stop && !wish.progress(++done, static_cast<int>(pictured)))
                stop = true;
        }
    };
    std::atomic<std::size_t> next = 0;
    std::vector<std::thread> workers(std::max(1u, std::thread::hardware_concurrency()));
    for (std::thread& worker : workers)
        worker = std::thread([&] {
            for (std::size_t k = next++; k < pictured && !stop; k = next++)
                picture(k);
        });
    for (std::thread& worker : workers)
        worker.join();
    std::array<int, 5> bySeverity{};
    for (const Fault& f : run.faults)
        ++bySeverity[static_cast<std::size_t>(std::clamp(f.severity, 0, 4))];
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2</style></head><body>"
            "<h1>%1: %3</h1>")
            .arg(e(c.name), QLatin1String(kPageStyle), e(run.plan.name));
    out += QStringLiteral("<p>%1</p>")
               .arg(e(tr("%1 motions, %2 poses, %3 skinning. %4 faults: %5 blocking, %6 serious, %7 notable, "
                         "%8 minor.")
                          .arg(run.plan.motions.size())
                          .arg(run.plan.stepCount())
                          .arg(QLatin1String(nameOf(run.method)))
                          .arg(run.faults.size())
                          .arg(bySeverity[4])
                          .arg(bySeverity[3])
                          .arg(bySeverity[2])
                          .arg(bySeverity[1])));
    if (run.cancelled)
        out +=
            QStringLiteral("<p>%1</p>").arg(e(tr("The run was stopped: motions after that are not in it.")));
    out += coverage(s, run.plan) + QStringLiteral("<nav>");
    for (std::size_t k = 0; k < run.faults.size(); ++k)
        out += QStringLiteral("<a href=\"#fault-%1\">%2 %1. %3</a>")
                   .arg(k + 1)
                   .arg(chip(run.faults[k].severity), e(sentence(s, run.plan, run.findings, run.faults[k])));
    out += QStringLiteral("</nav>");
    for (std::size_t k = 0; k < run.faults.size(); ++k)
        out += section(s, run, k, pictures[k], wish.exposure);
    out += QStringLiteral("<section><h2>%1</h2><p class=\"q\">%2</p><table>")
               .arg(e(tr("Motions")),
                    e(tr("Each strip runs from neutral to the motion's limit; it is dark where a "
                         "measure passes its limit (dotted).")));
    for (std::size_t m = 0; m < run.motions.size(); ++m) {
        const Motion& motion = run.plan.motions[m];
        if (run.motions[m].steps.empty())
            continue;
        out += QStringLiteral("<tr><td>%1</td><td>%2</td><td>%3</td><td>%4</td></tr>")
                   .arg(e(motion.name),
                        motion.side == Side::Middle ? QString() : QLatin1String(nameOf(motion.side)),
                        strip(s, run, m), e(wordsFor(motion, motion.limit())));
    }
    return (out + QStringLiteral("</table></section></body></html>\n")).toUtf8();
}

} // namespace hobble
