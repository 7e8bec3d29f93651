#pragma once
// Who has how much to do, and who is the one for a defect.
#include "log/production_log.h"

namespace hobble {

struct Load {
    QString person;                  // empty: what nobody has
    bool onRoster = true;            // false: has left, or was never on it
    std::array<int, 5> bySeverity{}; // open ones that wait for the person, by severity 1 … 4
    int waiting = 0;                 // all of these: assigned or being fixed
    int toBeChecked = 0, closed = 0; // done by the person
    int oldestDays = 0;              // of the open ones, since they were logged
    double meanDaysToClose = -1;     // of the closed ones, from logged to the last change; −1: none
};

/// Those with most of severity 4 first, then of 3, …; people with nothing to do follow; what nobody has is
/// last. Who has left is in it only while something of theirs is open.
QVector<Load> workload(const QVector<Defect>& defects, const QVector<Person>& people, const QDateTime& now);

struct Suggestion {
    QString person, why; // "fixed 4 at this limb, has 3 to do"
    double weight = 0;
};

/// People on the roster who have fixed or have something like it, the likeliest first; everybody else after
/// them, with no reason and those with least to do first.
QVector<Suggestion> suggestAssignees(const Defect& defect, const QVector<Defect>& defects,
                                     const QVector<Person>& people);

/// The people of the roster whom a comment speaks of, as “@Ines Marram” or, where that is one person,
/// “@Ines”.
QVector<QString> mentionsIn(const QString& comment, const QVector<Person>& people);

} // namespace hobble
