#include "log/date_words.h"

#include <QCoreApplication>

#include <array>

namespace hobble {

namespace {

QLocale& namesOf() {
    static QLocale language(QLocale::English);
    return language;
}

// A translation may put its own order, "d. MMM", in their place.
struct Pattern {
    const char *dayFirst, *monthFirst;
    bool withTime;
};
constexpr std::array<Pattern, 9> kPatterns{{
    {QT_TRANSLATE_NOOP("dates", "d MMM"), QT_TRANSLATE_NOOP("dates", "MMM d"), false},
    {QT_TRANSLATE_NOOP("dates", "d MMM yyyy"), QT_TRANSLATE_NOOP("dates", "MMM d, yyyy"), false},
    {QT_TRANSLATE_NOOP("dates", "d MMMM"), QT_TRANSLATE_NOOP("dates", "MMMM d"), false},
    {QT_TRANSLATE_NOOP("dates", "d MMMM yyyy"), QT_TRANSLATE_NOOP("dates", "MMMM d, yyyy"), false},
    {QT_TRANSLATE_NOOP("dates", "d MMM"), QT_TRANSLATE_NOOP("dates", "MMM d"), true},
    {QT_TRANSLATE_NOOP("dates", "d MMM yyyy"), QT_TRANSLATE_NOOP("dates", "MMM d, yyyy"), true},
    {QT_TRANSLATE_NOOP("dates", "d MMMM yyyy"), QT_TRANSLATE_NOOP("dates", "MMMM d, yyyy"), true},
    {QT_TRANSLATE_NOOP("dates", "dddd"), QT_TRANSLATE_NOOP("dates", "dddd"), true},
    {"", "", true},
}};

} // namespace

QString dateWords(const QDateTime& at, DateAs as, const QLocale& names, const QLocale& order) {
    const QDateTime local = at.toLocalTime();
    const Pattern& pattern = kPatterns[static_cast<std::size_t>(as)];
    const bool monthFirst = order.dateFormat(QLocale::ShortFormat).startsWith(QLatin1Char('M'));
    const QString own =
        QCoreApplication::translate("dates", monthFirst ? pattern.monthFirst : pattern.dayFirst);
    QStringList said;
    if (*pattern.dayFirst)
        said << names.toString(local.date(), own);
    if (pattern.withTime) {
        const bool halfDays =
            order.timeFormat(QLocale::ShortFormat).contains(QLatin1String("ap"), Qt::CaseInsensitive);
        const QString seconds = as == DateAs::Time ? QStringLiteral(":ss") : QString();
        said << (halfDays
                     ? names.toString(local.time(), QStringLiteral("h:mm") + seconds + QStringLiteral(" AP"))
                     : names.toString(local.time(), QStringLiteral("HH:mm") + seconds));
    }
    return said.join(QLatin1Char(' '));
}

QString dateWords(const QDateTime& at, DateAs as) { return dateWords(at, as, namesOf(), QLocale::system()); }

QString dateWords(const QDate& day, DateAs as) { return dateWords(day.startOfDay(), as); }

void sayDatesIn(const QLocale& language) { namesOf() = language; }

} // namespace hobble
