#include "log/defect_state.h"

#include <QCoreApplication>

#include <algorithm>

namespace hobble {

QString nameOf(DefectState state) {
    switch (state) {
    case DefectState::Logged:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "logged"));
    case DefectState::Assigned:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "assigned"));
    case DefectState::BeingFixed:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "being fixed"));
    case DefectState::ToBeChecked:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "to be checked"));
    case DefectState::Closed:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "closed"));
    case DefectState::Intended:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "intended"));
    case DefectState::NotItsFault:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "not the character's fault"));
    case DefectState::Accepted:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "accepted for this show"));
    case DefectState::Duplicate:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "duplicate"));
    case DefectState::Withdrawn:
        return QStringLiteral(QT_TRANSLATE_NOOP("core", "withdrawn"));
    }
    return {};
}

std::optional<DefectState> stateCalled(const QString& name) {
    for (DefectState s : kDefectStates)
        if (nameOf(s).compare(name, Qt::CaseInsensitive) == 0)
            return s;
    return std::nullopt;
}

bool isOpen(DefectState s) { return s <= DefectState::ToBeChecked; }

bool isWayOut(DefectState s) { return s >= DefectState::Intended && s <= DefectState::Duplicate; }

bool mayMove(DefectState from, DefectState to) {
    using S = DefectState;
    if (from == to || from == S::Withdrawn || to == S::Withdrawn)
        return false; // only taking back goes there and returns
    if (!isOpen(from))
        return to == S::Logged || to == S::Assigned || (from == S::Closed && to == S::BeingFixed);
    if (isWayOut(to))
        return true;
    switch (to) {
    case S::Logged: // given back to nobody
        return from == S::Assigned;
    case S::Assigned:
        return from == S::Logged || from == S::BeingFixed;
    case S::BeingFixed:
        return true;
    case S::ToBeChecked:
        return from == S::Assigned || from == S::BeingFixed;
    case S::Closed: // only what somebody has looked at
        return from == S::ToBeChecked;
    default:
        return false;
    }
}

bool needsReason(DefectState from, DefectState to) {
    return isWayOut(to) || !isOpen(from) ||
           (from == DefectState::ToBeChecked && to == DefectState::BeingFixed);
}

QVector<DefectState> movesFrom(DefectState from) {
    QVector<DefectState> out;
    std::copy_if(kDefectStates.begin(), kDefectStates.end(), std::back_inserter(out),
                 [&](DefectState to) { return mayMove(from, to); });
    return out;
}

QVector<DefectState> wayTo(DefectState from, DefectState to) {
    if (from == to)
        return {};
    if (mayMove(from, to))
        return {to};
    // the shortest over open states alone: nothing is settled on the way
    QVector<QVector<DefectState>> ways{{from}};
    for (int i = 0; i < ways.size() && ways.size() < 100; ++i)
        for (DefectState next : kDefectStates) {
            const QVector<DefectState> way = ways[i];
            if (!mayMove(way.back(), next) || way.contains(next))
                continue;
            if (next == to)
                return way.mid(1) << to;
            if (isOpen(next) && next > way.back())
                ways << (QVector<DefectState>(way) << next);
        }
    return {};
}

} // namespace hobble
