#include "story/recipe_page.h"

#include "core/judge/measure_unit.h"
#include "core/words/finding_words.h"
#include "core/words/measure_words.h"
#include "core/words/say.h"
#include "log/finding_defect.h"
#include "story/defect_pictures.h"
#include "story/page_style.h"

#include <QCoreApplication>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }

QString inUnit(Kind kind, const Subject& s, int joint, double value) {
    return QString::fromStdString(wordsFor(unitOf(kind, s, joint), value));
}

// Both lines over their limit, and the limit.
QString curve(const MendEffect& effect) {
    if (effect.before.at.size() < 3)
        return {};
    constexpr double width = 520, height = 130, left = 8, right = 70, top = 8, bottom = 20;
    double far = 1e-6, most = 1.5;
    for (const MeasureLine* line : {&effect.before, &effect.after})
        for (std::size_t i = 0; i < line->at.size(); ++i) {
            far = std::max(far, line->at[i]);
            most = std::max(most, line->trouble[i]);
        }
    const auto y = [&](double trouble) { return height - bottom - (height - top - bottom) * trouble / most; };
    QString out = QStringLiteral("<svg width=\"%1\" height=\"%2\" viewBox=\"0 0 %1 %2\" font-size=\"11\" "
                                 "role=\"img\" aria-label=\"%3\">")
                      .arg(width)
                      .arg(height)
                      .arg(escaped(tr("the measure over its limit along the motion, before and after")));
    out += QStringLiteral("<line x1=\"%1\" x2=\"%2\" y1=\"%3\" y2=\"%3\" stroke=\"#8f4205\" "
                          "stroke-dasharray=\"3 3\"/><text x=\"%4\" y=\"%5\" fill=\"#8f4205\">%6</text>")
               .arg(left)
               .arg(width - right)
               .arg(y(1), 0, 'f', 1)
               .arg(width - right + 4)
               .arg(y(1) + 4, 0, 'f', 1)
               .arg(escaped(tr("limit")));
    const auto draw = [&](const MeasureLine& line, const char* look, const QString& word) {
        QString points;
        double last = 0, end = -1;
        for (std::size_t i = 0; i < line.at.size() && line.at[i] > end; ++i) { // without the way back
            end = line.at[i];
            last = y(line.trouble[i]);
            points += QStringLiteral("%1,%2 ")
                          .arg(left + (width - left - right) * line.at[i] / far, 0, 'f', 1)
                          .arg(last, 0, 'f', 1);
        }
        out += QStringLiteral("<polyline fill=\"none\" %1 points=\"%2\"/><text x=\"%3\" y=\"%4\">%5</text>")
                   .arg(QLatin1String(look), points.trimmed())
                   .arg(width - right + 4)
                   .arg(std::clamp(last + 4, top + 8, height - 4), 0, 'f', 1)
                   .arg(escaped(word));
    };
    draw(effect.before, "stroke=\"#68737a\" stroke-width=\"1.4\" stroke-dasharray=\"6 3\"", tr("before"));
    draw(effect.after, "stroke=\"#0f6b5c\" stroke-width=\"2.2\"", tr("after"));
    return out + QStringLiteral("</svg>");
}

QString pictures(const RecipeStory& story) {
    const RunResult& run = *story.before.run;
    const auto shown = std::find_if(run.findings.begin(), run.findings.end(), [&](const Finding& f) {
        return f.joint == story.effect.joint && f.kind == story.effect.kind &&
               f.motion == story.effect.motion;
    });
    if (story.effect.joint < 0 || shown == run.findings.end())
        return {};
    const Subject& s = *story.before.subject;
    BuildShelf shelf;
    QVector<Build> builds;
    for (const ComparedSide* side : {&story.before, &story.after}) {
        const Character& c = *side->subject->character;
        builds.push_back({0, QString::fromStdString(s.character->name), QString::fromStdString(c.hash),
                          QString::fromStdString(c.source), static_cast<int>(builds.size())});
        shelf.put(builds.back().hash, side->subject);
    }
    if (builds[0].hash == builds[1].hash)
        builds.removeLast();
    Defect d;
    d.facts = factsOf(s, run.plan, *shown);
    d.build = builds[0];
    PictureWish wish;
    wish.width = story.width;
    wish.height = story.height;
    wish.limits = story.limits;
    const DefectPictures made = picturesOf(d, builds, shelf, wish);
    QString out = QStringLiteral("<div class=\"p\">");
    for (const DefectPicture& p : made.pictures) {
        const QString when = p.build == 0 ? tr("before") : tr("after");
        out += figureTag(p.image, p.measured ? tr("%1, %2, its measure").arg(when, p.view)
                                             : tr("%1, %2").arg(when, p.view));
    }
    out += QStringLiteral("</div>");
    if (!made.scale.isEmpty())
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(escaped(made.scale));
    return out;
}

QString steps(const RecipeStory& story) {
    const Subject& s = *story.before.subject;
    QString out = QStringLiteral("<section><h2>%1</h2><ol>").arg(escaped(tr("Steps")));
    for (std::size_t i = 0; i < story.trial.steps.size(); ++i) {
        const Step& step = story.trial.steps[i];
        out += QStringLiteral("<li>%1").arg(escaped(sentence(step)));
        QStringList more;
        const StepEffect* e = i < story.effects.size() ? &story.effects[i] : nullptr;
        if (!step.on)
            more << tr("switched off");
        else if (e && !e->applies)
            more << tr("does nothing: %1").arg(QString::fromStdString(e->why));
        else if (e && !e->skeleton)
            more << tr("%1 vertices change, by up to %2 %")
                        .arg(e->changed.size())
                        .arg(std::lround(100 * e->most));
        if (step.on && i < story.shares.size())
            more << tr("takes %1 % of the trouble away").arg(std::lround(100 * story.shares[i]));
        if (step.strength < 1)
            more << tr("at %1 % of its strength").arg(std::lround(100 * step.strength));
        if (!more.isEmpty())
            out += QStringLiteral("<br><span class=\"q\">%1</span>")
                       .arg(escaped(more.join(QStringLiteral(" · "))));
        if (e && !e->changed.empty()) {
            // per part, in the file's own order, so that it can be chosen in any program
            std::map<int, QStringList> byPart;
            for (std::uint32_t v : e->changed)
                for (std::uint32_t k = s.surface.members.first[v]; k < s.surface.members.first[v + 1]; ++k) {
                    const std::uint32_t file = s.surface.members.item[k];
                    const int part = s.character->partOfVertex(file);
                    byPart[part] << QString::number(
                        file -
                        (part < 0 ? 0 : s.character->parts[static_cast<std::size_t>(part)].firstVertex));
                }
            out += QStringLiteral("<details><summary>%1</summary>").arg(escaped(tr("which vertices")));
            for (const auto& [part, vertices] : byPart)
                out += QStringLiteral("<p class=\"q\">%1: %2</p>")
                           .arg(escaped(part < 0 ? std::string()
                                                 : s.character->parts[static_cast<std::size_t>(part)].name),
                                vertices.join(QStringLiteral(", ")));
            out += QStringLiteral("</details>");
        }
        out += QStringLiteral("</li>");
    }
    return out + QStringLiteral("</ol></section>");
}

QString elsewhere(const RecipeStory& story) {
    const MendEffect& e = story.effect;
    QString out = QStringLiteral("<section><h2>%1</h2>").arg(escaped(tr("Elsewhere")));
    if (e.elsewhere.empty())
        return out + QStringLiteral("<p>%1</p></section>").arg(escaped(tr("Nothing else changes.")));
    out += QStringLiteral("<p>%1</p><table>")
               .arg(escaped(e.harms() ? tr("Something passes a limit that did not before, or by more.")
                                      : tr("Nothing passes a limit that did not before.")));
    constexpr std::size_t most = 24;
    const RunResult& run = *story.after.run;
    for (std::size_t i = 0; i < std::min(most, e.elsewhere.size()); ++i) {
        const MeasureChange& m = e.elsewhere[i];
        const Subject& s = *story.after.subject;
        out += QStringLiteral("<tr><td>%1</td><td>%2</td><td>%3</td><td>%4 → %5</td></tr>")
                   .arg(escaped(wordsFor(run.plan.motions[static_cast<std::size_t>(m.motion[1])])),
                        escaped(jointWords(s, m.joint[1])),
                        escaped(QString::fromStdString(translated(factsOf(m.kind).word))),
                        escaped(inUnit(m.kind, s, m.joint[1], m.peak[0])),
                        escaped(inUnit(m.kind, s, m.joint[1], m.peak[1])));
    }
    out += QStringLiteral("</table>");
    if (e.elsewhere.size() > most)
        out += QStringLiteral("<p class=\"q\">%1</p>")
                   .arg(escaped(tr("…and %1 more that changed less.").arg(e.elsewhere.size() - most)));
    return out + QStringLiteral("</section>");
}

} // namespace

QByteArray recipePage(const RecipeStory& story) {
    const QString title = tr("Recipe: %1").arg(story.title);
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2</style></head><body><h1>%1</h1>")
            .arg(escaped(title), QLatin1String(kPageStyle));
    for (const QString& line : {story.build, story.notes})
        if (!line.isEmpty())
            out += QStringLiteral("<p class=\"q\">%1</p>").arg(escaped(line));
    QString words = QString::fromStdString(sentence(story.effect, *story.before.subject));
    if (!words.isEmpty())
        words[0] = words[0].toUpper();
    out += QStringLiteral("<p>%1.</p>").arg(escaped(words));
    if (!story.trial.locked.empty()) {
        QStringList locked;
        for (const std::string& name : story.trial.locked)
            locked << QString::fromStdString(name);
        out +=
            QStringLiteral("<p class=\"q\">%1</p>")
                .arg(escaped(tr("Held as they are everywhere: %1").arg(locked.join(QStringLiteral(", ")))));
    }
    out += pictures(story) + curve(story.effect) + steps(story) + elsewhere(story);
    return (out + QStringLiteral("</body></html>\n")).toUtf8();
}

} // namespace hobble
