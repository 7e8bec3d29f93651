#include "log/workload.h"
#include "log/log_words.h"

#include <QCoreApplication>
#include <QHash>
#include <QSet>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {} // namespace

QVector<Load> workload(const QVector<Defect>& defects, const QVector<Person>& people, const QDateTime& now) {
    QHash<QString, Load> by;
    QHash<QString, double> daysToClose;
    for (const Person& p : people)
        if (p.active)
            by[p.name].person = p.name;
    for (const Defect& d : defects) {
        if (d.state == DefectState::Withdrawn || isWayOut(d.state))
            continue;
        Load& l = by[d.assignee];
        if (l.person != d.assignee || d.assignee.isEmpty()) {
            l.person = d.assignee;
            l.onRoster = d.assignee.isEmpty();
        }
        if (!isOpen(d.state)) {
            ++l.closed;
            daysToClose[d.assignee] += static_cast<double>(d.loggedAt.secsTo(d.changedAt)) / 86400;
            continue;
        }
        l.oldestDays = std::max(l.oldestDays, static_cast<int>(d.loggedAt.daysTo(now)));
        if (d.state == DefectState::ToBeChecked) {
            ++l.toBeChecked;
            continue;
        }
        ++l.waiting;
        ++l.bySeverity[static_cast<std::size_t>(std::clamp(d.severity, 1, 4))];
    }
    for (const Person& p : people)
        if (by.contains(p.name))
            by[p.name].onRoster = p.active;
    QVector<Load> out;
    for (Load& l : by) {
        if (l.closed)
            l.meanDaysToClose = daysToClose[l.person] / l.closed;
        if (l.onRoster ? l.person.size() || l.waiting || l.toBeChecked : l.waiting || l.toBeChecked)
            out << l;
    }
    std::sort(out.begin(), out.end(), [](const Load& a, const Load& b) {
        if (a.person.isEmpty() != b.person.isEmpty())
            return b.person.isEmpty();
        for (std::size_t s = 4; s >= 1; --s)
            if (a.bySeverity[s] != b.bySeverity[s])
                return a.bySeverity[s] > b.bySeverity[s];
        return a.toBeChecked != b.toBeChecked ? a.toBeChecked > b.toBeChecked : a.person < b.person;
    });
    return out;
}

QVector<Suggestion> suggestAssignees(const Defect& of, const QVector<Defect>& defects,
                                     const QVector<Person>& people) {
    struct Record {
        int spot = 0, limb = 0, kind = 0, character = 0, waiting = 0;
    };
    QHash<QString, Record> by;
    for (const Defect& d : defects) {
        if (d.id == of.id || d.assignee.isEmpty() || d.state == DefectState::Withdrawn || isWayOut(d.state))
            continue;
        Record& r = by[d.assignee];
        r.waiting += d.state == DefectState::Assigned || d.state == DefectState::BeingFixed;
        const bool sameCharacter = d.build.character == of.build.character;
        if (sameCharacter && d.facts.role == of.facts.role && !of.facts.role.isEmpty())
            ++r.spot; // either side
        else if (d.facts.limb == of.facts.limb)
            ++r.limb;
        else if (d.facts.kind == of.facts.kind)
            ++r.kind;
        else
            r.character += sameCharacter;
    }
    QVector<Suggestion> out;
    for (const Person& p : people) {
        if (!p.active)
            continue;
        const Record r = by.value(p.name);
        Suggestion s;
        s.person = p.name;
        // A second and third time say less than the first; a full table says no.
        const auto share = [](int n) { return std::log2(1 + n); };
        s.weight = 4 * share(r.spot) + 2 * share(r.limb) + share(r.kind) + 0.5 * share(r.character);
        if (s.weight > 0)
            s.weight /= 1 + 0.1 * r.waiting;
        const QString busy = r.waiting ? tr("has %1 to do").arg(r.waiting) : tr("has nothing to do");
        const QString knows = r.spot        ? tr("had %1 at this joint, ").arg(r.spot)
                              : r.limb      ? tr("had %1 at this limb, ").arg(r.limb)
                              : r.kind      ? tr("had %1 of this kind, ").arg(r.kind)
                              : r.character ? tr("had %1 on this character, ").arg(r.character)
                                            : QString();
        s.why = knows + busy;
        out << s;
    }
    std::stable_sort(out.begin(), out.end(), [&](const Suggestion& a, const Suggestion& b) {
        return a.weight != b.weight ? a.weight > b.weight
                                    : by.value(a.person).waiting < by.value(b.person).waiting;
    });
    return out;
}

QVector<QString> mentionsIn(const QString& comment, const QVector<Person>& people) {
    QVector<QString> out;
    QHash<QString, int> called; // how many have a first name
    for (const Person& p : people)
        ++called[p.name.section(QLatin1Char(' '), 0, 0).toLower()];
    for (qsizetype at = comment.indexOf(QLatin1Char('@')); at >= 0;
         at = comment.indexOf(QLatin1Char('@'), at + 1)) {
        const auto rest = QStringView(comment).mid(at + 1);
        const Person* best = nullptr;
        qsizetype length = 0;
        for (const Person& p : people)
            for (const QString& name : {p.name, p.name.section(QLatin1Char(' '), 0, 0)}) {
                const bool whole = name == p.name;
                if (name.isEmpty() || name.size() <= length || !rest.startsWith(name, Qt::CaseInsensitive) ||
                    (rest.size() > name.size() && rest[name.size()].isLetterOrNumber()) ||
                    (!whole && called[name.toLower()] > 1))
                    continue;
                best = &p;
                length = name.size();
            }
        if (best && !out.contains(best->name))
            out << best->name;
    }
    return out;
}

} // namespace hobble
