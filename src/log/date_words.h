#pragma once
// Dates and times as they are said on screen and on paper: the names of months and days in the language of
// the sentences around them, their order and the hours as the system's settings have them. Files hold ISO
// 8601 instead.
#include <QDateTime>
#include <QLocale>
#include <QString>

namespace hobble {

enum class DateAs {
    Day,          // 30 Nov
    DayOfYear,    // 30 Nov 2026
    LongDay,      // 30 November
    LongOfYear,   // 30 November 2026
    Moment,       // 30 Nov 21:04
    MomentOfYear, // 30 Nov 2026 21:04
    LongMoment,   // 30 November 2026 21:04
    Weekday,      // Monday 21:04
    Time,         // 21:04:09
};

/// In local time.
QString dateWords(const QDateTime& at, DateAs as);
QString dateWords(const QDate& day, DateAs as);

/// Whose names of months and days are said from here on; English until then.
void sayDatesIn(const QLocale& language);

/// The same for given settings, so that it can be tested without changing the system's.
QString dateWords(const QDateTime& at, DateAs as, const QLocale& names, const QLocale& order);

} // namespace hobble
