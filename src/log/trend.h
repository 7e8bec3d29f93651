#pragma once
// How it goes over builds and weeks, from the events of the log alone: what was open, found, cured, came
// back, and how long a cure took. Of characters, joints, kinds and causes; never of persons.
#include "log/production_log.h"

#include <QDate>

#include <array>

namespace hobble {

/// What a "verdict" event's value ends with where the other side still shows the defect: "cured on one side".
inline constexpr QLatin1String kOnOneSide(" on one side");

struct TrendQuery {
    enum Over { Weeks, Builds } over = Weeks; // builds: by the build that an event was said of
    QString character, joint, kind;           // empty: all
    QString cause; // its word alone, "stray influence", with which what is kept of it begins
};

/// One week, or one build. What is open is so at its end.
struct TrendPoint {
    QString label;                                   // "10 Nov", "build 3"
    QDate from;                                      // of a week its Monday
    int build = 0;                                   // of builds the number
    std::array<int, 5> open{};                       // by severity, 1 … 4
    QVector<qint64> found, cured, cameBack, settled; // defects; settled: found to be nothing to fix
    QVector<qint64> oneSided; // a check told them cured or better here, and not on the other side
    double daysToCure = -1;   // of those cured here, the middle; −1: none

    int openAll() const { return open[1] + open[2] + open[3] + open[4]; }
};

struct Trend {
    QVector<TrendPoint> points; // in their order, without gaps between weeks
    /// Those that were open at the end of a point; of that severity, where it is not 0.
    QVector<qint64> openAt(qsizetype point, int severity = 0) const;

    struct Span { // a defect was open with a severity from one point to before another
        qint64 defect = 0;
        qsizetype from = 0, to = -1; // to −1: still
        int severity = 0;
    };
    QVector<Span> spans;
};

/// Withdrawn defects and duplicates count nowhere.
Result<Trend> trendOf(const ProductionLog& log, const TrendQuery& query);

/// One row a point: "when,open 1,open 2,open 3,open 4,found,cured,came back,one side only,settled,days to
/// cure".
QByteArray trendToCsv(const Trend& trend);

} // namespace hobble
