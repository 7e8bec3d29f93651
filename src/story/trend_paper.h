#pragma once
// How it goes, on one page of paper: the sentence, what is open over weeks or builds by severity, and the
// newest points in numbers. Of characters, joints and kinds; never of persons.
#include "log/trend.h"

namespace hobble {

struct TrendPaper {
    QString title;   // "Open defects of badger-postmaster"
    QString summary; // "18 defects are open, 12 the week before."
    TrendQuery query;
    Trend trend;
};

/// A4, across (ISO 32000). What does not fit stays with the newest. Needs a QGuiApplication, for the type.
Result<Done> writeTrendPdf(const TrendPaper& paper, const QString& path);

} // namespace hobble
