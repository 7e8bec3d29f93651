#include "story/curve_svg.h"
#include "story/packet.h"

#include "core/words/say.h"
#include "log/date_words.h"
#include "log/defect_list.h"
#include "log/defect_use.h"
#include "log/file_name.h"
#include "log/finding_defect.h"
#include "log/log_words.h"
#include "log/proposal.h"

#include <QBuffer>
#include <QCoreApplication>

#include <algorithm>

namespace hobble {

namespace {

QString e(const QString& words) { return words.toHtmlEscaped(); }

QString dayOf(const QDateTime& at) { return dateWords(at, DateAs::MomentOfYear); }

QString imageTag(const DefectPicture& p, bool byIntake) {
    QByteArray png;
    QBuffer buffer(&png);
    p.image.save(&buffer, "PNG");
    const QString what = !p.pose.isEmpty()        ? tr("build %1, %2, in %3").arg(p.build).arg(p.view, p.pose)
                         : p.measured && byIntake ? tr("build %1, %2, marked").arg(p.build).arg(p.view)
                         : p.measured             ? tr("build %1, %2, its measure").arg(p.build).arg(p.view)
                                                  : tr("build %1, %2").arg(p.build).arg(p.view);
    return QStringLiteral(
               "<figure><img alt=\"%1\" width=\"%2\" height=\"%3\" src=\"data:image/png;base64,%4\">"
               "<figcaption>%1</figcaption></figure>")
        .arg(e(what))
        .arg(p.image.width())
        .arg(p.image.height())
        .arg(QString::fromLatin1(png.toBase64()));
}

QString section(const DefectStory& s) {
    const Defect& d = s.defect;
    const DefectFacts& f = d.facts;
    QString out = QStringLiteral("<section id=\"defect-%1\"><h2><b class=\"s s%2\">%2</b> %1. %3</h2>")
                      .arg(d.id)
                      .arg(d.severity)
                      .arg(e(f.what));
    QStringList facts{tr("%1, build %2").arg(d.build.character).arg(d.build.number),
                      f.motionName.isEmpty() ? tr("found by Intake, in neutral") : whenWords(f)};
    if (!f.joint.isEmpty())
        facts << tr("joint %1").arg(f.joint);
    if (!f.part.isEmpty())
        facts << tr("part %1").arg(f.part);
    if (!f.motionName.isEmpty() && !f.kind.isEmpty())
        facts << tr("%1 %2 against a limit of %3")
                     .arg(QString::fromStdString(translated(f.kind.toUtf8().constData())),
                          numberWords(f, f.value), numberWords(f, f.limit));
    facts << QString::fromStdString(translated(nameOf(d.state).toUtf8().constData()))
          << (d.assignee.isEmpty() ? tr("nobody has it") : tr("for %1").arg(d.assignee));
    if (d.use)
        facts << tr("in the show %1").arg(useWords(*d.use));
    if (!d.due.isEmpty())
        facts << tr("due in %1").arg(d.due);
    out += QStringLiteral("<p class=\"q\">%1.</p>").arg(e(facts.join(QStringLiteral(" · "))));
    if (!f.cause.isEmpty())
        out += QStringLiteral("<p>%1</p>").arg(e(f.cause));
    int build = -1;
    for (const DefectPicture& p : s.pictures.pictures) {
        if (p.build != build) {
            if (build >= 0)
                out += QStringLiteral("</div>");
            out += QStringLiteral("<div class=\"p\">");
            build = p.build;
        }
        out += imageTag(p, foundByIntake(f));
    }
    if (build >= 0)
        out += QStringLiteral("</div>");
    else if (!f.picture.isEmpty())
        out += QStringLiteral("<div class=\"p\"><figure><img alt=\"%1\" src=\"data:image/png;base64,%2\">"
                              "<figcaption>%1</figcaption></figure></div>")
                   .arg(e(tr("when it was logged")), QString::fromLatin1(f.picture.toBase64()));
    if (!s.pictures.scale.isEmpty())
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(e(s.pictures.scale));
    for (const QString& why : s.pictures.missing)
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(e(why));
    if (const QByteArray svg = curveSvg(f, s.numbers, 560, 190); !svg.isEmpty()) {
        out += QStringLiteral(
                   "<div class=\"c\">%1<table><tr><th>%2</th><th class=\"n\">%3</th><th class=\"n\">%4</th>"
                   "<th>%5</th></tr>")
                   .arg(QString::fromUtf8(svg), e(tr("Build")), e(tr("here")), e(tr("worst")),
                        e(tr("severity")));
        for (const BuildNumber& n : s.numbers)
            out += QStringLiteral(
                       "<tr><td>%1</td><td class=\"n\">%2</td><td class=\"n\">%3</td><td>%4</td></tr>")
                       .arg(n.build.number)
                       .arg(numberWords(f, n.here), numberWords(f, n.worst),
                            n.severity ? QString::number(n.severity) : e(tr("within limits")));
        out += QStringLiteral("</table></div>");
    }
    QString files;
    const auto& made = s.pictures.pictures;
    if (f.motionName.size() || std::any_of(made.begin(), made.end(), [](const DefectPicture& p) {
            return !p.pose.isEmpty(); // and so is its clip
        })) {
        const QString stem =
            QStringLiteral("clips/%1-build-%2").arg(safeFileName(d.build.character)).arg(d.build.number);
        files = QStringLiteral("<a href=\"%1.glb\">%2</a> · <a href=\"%1.bvh\">%3</a> · ")
                    .arg(e(stem), e(tr("test motion, glTF")), e(tr("test motion, BVH")));
    }
    out += QStringLiteral("<p class=\"f\">%1<a href=\"marks/defect-%2.json\">%3</a></p>")
               .arg(files)
               .arg(d.id)
               .arg(e(tr("marked vertices")));
    out += QStringLiteral("<ul>");
    for (const DefectEvent& ev : s.history) {
        if (ev.field == QLatin1String("same fault") || ev.field == QLatin1String("not the same fault") ||
            (ev.field == QLatin1String("assignee") && ev.value.isEmpty() && ev.at == s.history.front().at))
            continue;
        const QString said = ev.field == QLatin1String("comment") ? tr("“%1”").arg(ev.value)
                             : ev.value.isEmpty()                 ? tr("%1: nobody").arg(ev.field)
                                                  : tr("%1: %2").arg(ev.field, valueWords(ev));
        out += QStringLiteral("<li%1><small>%2 %3</small> %4%5</li>")
                   .arg(ev.field == QLatin1String("comment") ? QStringLiteral(" class=\"said\"") : QString(),
                        e(dayOf(ev.at)), e(ev.author), e(said),
                        ev.reason.isEmpty() ? QString() : e(tr(" (%1)").arg(ev.reason)));
    }
    return out + QStringLiteral("</ul></section>");
}

} // namespace

QByteArray packetPage(const QString& title, const QVector<DefectStory>& stories, const QStringList& notes) {
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>"
            "body{font:16px/1.5 'Atkinson Hyperlegible Next','Atkinson "
            "Hyperlegible',sans-serif;background:#f7f2e8;"
            "color:#1d2a33;margin:0 auto;max-width:74em;padding:2em 1.5em}h1{font-size:1.7em;margin:0}"
            "h2{font-size:1.15em;margin:0 0 .2em}nav{margin:1em 0 2em}nav a{display:block}a{color:#0f6b5c}"
            "section{border-top:1px solid #d9cfbc;padding:1.4em "
            "0}.q,small,figcaption{color:#56626a}.q{margin:.2em 0}"
            ".p{display:flex;flex-wrap:wrap;gap:8px;margin:.8em 0}figure{margin:0;flex:0 1 calc(25% - "
            "6px);min-width:200px}figure img{display:block;width:100%;height:auto}"
            "figcaption{font-size:.85em}.c{display:flex;flex-wrap:wrap;gap:24px;align-items:center}"
            "td,th{padding:.1em 1.2em .1em "
            "0;text-align:left}.n{text-align:right}ul{padding:0;list-style:none;margin:.6em 0}"
            "li.said{font-size:1.05em}b.s{display:inline-block;min-width:1.3em;text-align:center;border:2px "
            "solid transparent}"
            "b.s1{border-left-color:#1d2a33}b.s2{border-left-color:#1d2a33;border-bottom-color:#1d2a33}"
            "b.s3{border-color:#1d2a33;border-top-color:transparent}b.s4{border-color:#9c2f22;color:#9c2f22}"
            "@media print{section{break-inside:avoid}nav{display:none}}</style></head><body><h1>%1</h1>")
            .arg(e(title));
    out +=
        QStringLiteral("<p class=\"q\">%1</p>")
            .arg(e(
                tr("%1, as of %2. Also in this folder: defects.csv, defects.json, the test motions in clips, "
                   "the marked vertices in marks.")
                    .arg(stories.size() == 1 ? tr("One defect")
                                             : tr("%n defects", nullptr, int(stories.size())),
                         dayOf(QDateTime::currentDateTime()))));
    for (const QString& note : notes)
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(e(note));
    out += QStringLiteral("<nav>");
    for (const DefectStory& s : stories)
        out +=
            QStringLiteral("<a href=\"#defect-%1\">%1. %2</a>").arg(s.defect.id).arg(e(s.defect.facts.what));
    out += QStringLiteral("</nav>");
    for (const DefectStory& s : stories)
        out += section(s);
    return (out + QStringLiteral("</body></html>\n")).toUtf8();
}

} // namespace hobble
