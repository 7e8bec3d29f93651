#include "story/check_page.h"

#include "log/finding_defect.h"
#include "story/defect_pictures.h"
#include "story/page_style.h"

#include <QCoreApplication>

#include <algorithm>

namespace hobble {

namespace {

QString tr(const char* words) { return QCoreApplication::translate("hobble", words); }

QString capital(QString sentence) {
    if (!sentence.isEmpty())
        sentence[0] = sentence[0].toUpper();
    return sentence;
}

// Then and now, as it looks and measured. What there is to see lies in the pose alone, so one view will do.
QString pair(const Defect& defect, const Build& now, BuildShelf& shelf, const CheckPageWish& wish) {
    PictureWish pictured;
    pictured.width = wish.width;
    pictured.height = wish.height;
    pictured.views = 1;
    pictured.limits = wish.limits;
    const DefectPictures made = picturesOf(
        defect, defect.build.hash == now.hash ? QVector<Build>{now} : QVector<Build>{defect.build, now},
        shelf, pictured);
    QString out = QStringLiteral("<div class=\"p\">");
    for (const bool measured : {false, true})
        for (const DefectPicture& p : made.pictures)
            if (p.measured == measured) {
                const QString when = p.build == now.number ? tr("now, build %1").arg(p.build)
                                                           : tr("then, build %1").arg(p.build);
                out += figureTag(
                    p.image,
                    !p.pose.isEmpty() ? tr("%1, in %2").arg(when, p.pose)
                    : measured
                        ? (foundByIntake(defect.facts) ? tr("%1, marked") : tr("%1, its measure")).arg(when)
                        : tr("%1, %2").arg(when, p.view));
            }
    out += QStringLiteral("</div>");
    for (const QString& line : made.missing)
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(escaped(tr("No picture of then: %1").arg(line)));
    if (!made.scale.isEmpty())
        out += QStringLiteral("<p class=\"q\">%1</p>").arg(escaped(made.scale));
    return out;
}

} // namespace

QByteArray checkPage(const DefectChecks& checks, const Build& now, std::shared_ptr<const Subject> subject,
                     BuildShelf& shelf, const CheckPageWish& wish) {
    const QString title =
        tr("%1, build %2: the open defects checked again").arg(now.character).arg(now.number);
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2</style></head><body><h1>%1</h1><p>%3</"
            "p>")
            .arg(escaped(title), QLatin1String(kPageStyle), escaped(checks.sentence()));
    shelf.put(now.hash, std::move(subject));
    const auto pictured = static_cast<int>(std::min<qsizetype>(checks.checks.size(), wish.mostPictured));
    for (int i = 0; i < checks.checks.size(); ++i) {
        const DefectCheck& c = checks.checks[i];
        out += QStringLiteral("<section><h2><b class=\"s s%1\">%1</b> %2</h2><p>%3</p>")
                   .arg(c.defect.severity)
                   .arg(escaped(QStringLiteral("%1. %2").arg(c.defect.id).arg(c.defect.facts.what)),
                        escaped(capital(c.sentence) + QLatin1Char('.')));
        if (i < pictured && (!wish.progress || wish.progress(i, pictured)))
            out += pair(c.defect, now, shelf, wish);
        out += QStringLiteral("</section>");
    }
    if (pictured < checks.checks.size())
        out +=
            QStringLiteral("<p class=\"q\">%1</p>")
                .arg(escaped(tr("Pictures are of the first %1; the rest is told in words.").arg(pictured)));
    return (out + QStringLiteral("</body></html>\n")).toUtf8();
}

} // namespace hobble
