#include "story/show_page.h"

#include "log/date_words.h"
#include "story/page_style.h"

#include <QBuffer>
#include <QCoreApplication>
#include <QImage>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

QString words(const char* text) { return QCoreApplication::translate("hobble", text); }

constexpr const char* kStyle =
    "body{max-width:100em}.wall{display:grid;grid-template-columns:repeat(auto-fill,minmax(17em,1fr));gap:"
    "16px;"
    "margin:1.2em 0}.card{background:#fffaf1;border:1px solid #d9cfbc;border-radius:3px;padding:12px;"
    "break-inside:avoid}.card h2{font-size:1.12em;margin:.4em 0 0}.card p{margin:.25em "
    "0}.shot{display:block;width:100%;"
    "aspect-ratio:4/3;object-fit:cover;background:#929691;border-radius:2px}.none{aspect-ratio:6/"
    "1;display:flex;align-items:center;"
    "justify-content:center;color:#f4eddf}.n b.s{margin-right:.15em}.n "
    "span{margin-right:.9em;white-space:nowrap}"
    ".ok{color:#0f6b5c}.no{color:#9c2f22}input{font:inherit;padding:.4em "
    ".7em;width:min(24em,100%);border:1px solid "
    "#d9cfbc;border-radius:3px;background:#fffaf1;box-sizing:border-box}svg{display:block;width:100%;height:"
    "38px}"
    "@media print{input{display:none}body{background:#fff}.wall{grid-template-columns:repeat(3,1fr)}}";

// Hides what does not have all the words; without it, all is shown.
constexpr const char* kFilter =
    "const find=document.getElementById('find');find.hidden=false;find.oninput=()=>{const "
    "words=find.value.toLowerCase()"
    ".split(/\\s+/);for(const c of document.querySelectorAll('.card'))c.hidden=!words.every(w=>c.textContent"
    ".toLowerCase().includes(w))};";

QString dayOf(const QDateTime& at) { return dateWords(at, DateAs::DayOfYear); }

QString shot(const CharacterState& c) {
    const QImage image = QImage::fromData(c.picture);
    if (image.isNull())
        return QStringLiteral("<div class=\"shot none\">%1</div>")
            .arg(escaped(c.worst ? words("no picture was kept") : words("nothing is open")));
    QByteArray jpeg;
    QBuffer out(&jpeg);
    image.scaled(400, 300, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation)
        .convertToFormat(QImage::Format_RGB32)
        .save(&out, "JPEG", 82);
    return QStringLiteral("<img class=\"shot\" alt=\"%1\" src=\"data:image/jpeg;base64,%2\">")
        .arg(escaped(c.worstWhat), QString::fromLatin1(jpeg.toBase64()));
}

// What was open at the end of each week, as standing bars; the last is this week's.
QString weeks(const CharacterState& c) {
    const int most = c.openByWeek.isEmpty() ? 0 : *std::max_element(c.openByWeek.begin(), c.openByWeek.end());
    if (most == 0)
        return {};
    const double step = 300.0 / static_cast<double>(c.openByWeek.size());
    QString bars;
    for (qsizetype w = 0; w < c.openByWeek.size(); ++w) {
        const double high = 30.0 * c.openByWeek[w] / most;
        bars += QStringLiteral("<rect x=\"%1\" y=\"%2\" width=\"%3\" height=\"%4\"/>")
                    .arg(static_cast<double>(w) * step + 1, 0, 'f', 1)
                    .arg(34 - high, 0, 'f', 1)
                    .arg(step - 2, 0, 'f', 1)
                    .arg(std::max(high, 0.6), 0, 'f', 1);
    }
    return QStringLiteral(
               "<svg viewBox=\"0 0 300 38\" preserveAspectRatio=\"none\" role=\"img\" aria-label=\"%1\">"
               "<g fill=\"#a9bdb6\">%2</g></svg><p class=\"q\"><small>%1</small></p>")
        .arg(escaped(words("open over %1 weeks: %2 at most, %3 now")
                         .arg(c.openByWeek.size())
                         .arg(most)
                         .arg(c.openByWeek.back())),
             bars);
}

QString card(const CharacterState& c) {
    QString name = c.character;
    name.replace(QLatin1Char('-'), QLatin1Char(' '));
    QString out = QStringLiteral("<article class=\"card\">%1<h2>%2</h2><p class=\"q\">%3</p>")
                      .arg(shot(c), escaped(name),
                           escaped(words("build %1, %2").arg(c.build.number).arg(dayOf(c.seenAt))));
    out +=
        c.signedOff
            ? QStringLiteral("<p class=\"ok\">%1</p>")
                  .arg(escaped(words("signed off %1 by %2, %3")
                                   .arg(c.signedOff->state.use, c.signedOff->author, dayOf(c.signedOff->at))))
            : QStringLiteral("<p class=\"no\">%1</p>")
                  .arg(escaped(c.signedBefore ? words("not signed off; build %1 was").arg(c.signedBefore)
                                              : words("not signed off")));
    out += QStringLiteral("<p class=\"n\">");
    if (c.openAll() == 0)
        out += escaped(words("no defect is open"));
    for (std::size_t s = 4; s >= 1; --s)
        if (c.open[s])
            out += QStringLiteral("<span><b class=\"s s%1\">%1</b> %2</span>").arg(s).arg(c.open[s]);
    if (c.toBeChecked)
        out += QStringLiteral("<span>%1</span>").arg(escaped(words("%1 to be checked").arg(c.toBeChecked)));
    out += QStringLiteral("</p>");
    if (c.worst)
        out += QStringLiteral("<p>%1. %2</p>").arg(c.worst).arg(escaped(c.worstWhat));
    QStringList tested;
    if (c.run) {
        int faults = 0;
        for (int n : c.run->faults)
            faults += n;
        tested << (faults == 1 ? words("one fault in the last run")
                               : words("%1 faults in the last run").arg(faults))
               << words("%1 % of the skin moved").arg(std::floor(1000 * c.run->coverage) / 10);
    } else {
        tested << words("this build was not run");
    }
    if (c.score >= 0)
        tested << words("Intake %1 of 100").arg(c.score);
    out += QStringLiteral("<p class=\"q\">%1</p>").arg(escaped(tested.join(QStringLiteral(" · "))));
    return out + weeks(c) + QStringLiteral("</article>");
}

} // namespace

QByteArray showPage(const ShowState& show, const QString& title, const QDateTime& now) {
    QString out =
        QStringLiteral(
            "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
            "content=\"width=device-width\"><title>%1</title><style>%2%3</style></head><body>"
            "<h1>%1</h1><p class=\"q\">%4.</p>"
            "<input id=\"find\" type=\"search\" placeholder=\"%5\" aria-label=\"%5\" hidden>"
            "<main class=\"wall\">")
            .arg(escaped(title), QLatin1String(kPageStyle), QLatin1String(kStyle),
                 escaped(QStringLiteral("%1; %2").arg(showSentence(show), dayOf(now))),
                 escaped(words("Find: words of a name, a defect, a state")));
    for (const CharacterState& c : show.characters)
        out += card(c);
    if (show.characters.isEmpty())
        out += QStringLiteral("<p>%1</p>").arg(escaped(words("No character has come into this log yet.")));
    return (out + QStringLiteral("</main><script>%1</script></body></html>\n").arg(QLatin1String(kFilter)))
        .toUtf8();
}

} // namespace hobble
