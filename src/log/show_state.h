#pragma once
// How a whole show stands: every character with its newest build, what is open, whether the animators may
// have it, and how it went over the last weeks. From the log alone; never of persons.
#include "log/production_log.h"
#include "log/sign_off.h"

#include <QDate>

namespace hobble {

/// What a run found, as the log keeps it beside the run itself.
struct RunFigures {
    QDateTime at;
    double coverage = -1;        // share of the skin that the plan moves
    std::array<int, 5> faults{}; // by severity, 1 … 4
};

struct CharacterState {
    QString character;
    Build build; // the newest
    QDateTime seenAt;
    int score = -1;                   // of Intake, for that build; −1: not inspected
    std::optional<RunFigures> run;    // of that build; nothing: it was not run, or by an older Hobble
    std::optional<SignOff> signedOff; // of that build, and stands
    int signedBefore = 0;      // number of the newest build that is signed, where that is not this; 0: none
    std::array<int, 5> open{}; // defects by severity, 1 … 4
    int toBeChecked = 0;       // of these
    qint64 worst = 0;          // the open defect to see first; 0: none
    QString worstWhat;
    QByteArray picture;      // PNG, of that defect, as it was logged; may be empty
    QVector<int> openByWeek; // at the end of each of the last weeks, this one last
    QDateTime changedAt;     // of its defects, newest

    int openAll() const { return open[1] + open[2] + open[3] + open[4]; }
};

struct ShowState {
    QVector<CharacterState>
        characters; // those with most of severity 4 open first, then of 3, …; then by name
    QDate week;     // Monday of this one
};

/// `weeks`: how many are told. With `pictures` the worst defect's is read for each.
Result<ShowState> showState(const ProductionLog& log, const QDateTime& now, int weeks = 12,
                            bool pictures = true);

/// docs/schema/show.schema.json
std::string showToJson(const ShowState& show);

/// "12 characters, 5 signed off; 41 defects open, 6 of them blocking"
QString showSentence(const ShowState& show);

} // namespace hobble
