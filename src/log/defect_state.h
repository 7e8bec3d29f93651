#pragma once
// What a defect can be, and how it gets from one to the other: logged, assigned, being fixed, to be checked,
// closed, and four ways out of that line, each with a reason.
#include <QString>
#include <QVector>

#include <array>
#include <optional>

namespace hobble {

enum class DefectState {
    Logged,
    Assigned,
    BeingFixed,
    ToBeChecked,
    Closed,
    Intended,    // it is meant to look like that
    NotItsFault, // of the clip, the plan or another character
    Accepted,    // known, and good enough for this show
    Duplicate,   // of another defect
    Withdrawn    // logged by mistake and taken back; shown nowhere
};
inline constexpr std::array kDefectStates{
    DefectState::Logged,    DefectState::Assigned, DefectState::BeingFixed,  DefectState::ToBeChecked,
    DefectState::Closed,    DefectState::Intended, DefectState::NotItsFault, DefectState::Accepted,
    DefectState::Duplicate, DefectState::Withdrawn};

QString nameOf(DefectState state); // as the log keeps it and people read it: "being fixed"
std::optional<DefectState> stateCalled(const QString& name);

bool isOpen(DefectState state);   // somebody has still something to do
bool isWayOut(DefectState state); // it was found to be nothing to fix
bool mayMove(DefectState from, DefectState to);
/// Ways out, going back a step, and taking up again what was closed.
bool needsReason(DefectState from, DefectState to);
QVector<DefectState> movesFrom(DefectState from); // in the order of kDefectStates
/// The states on the way from one to the other, `to` last: what was checked is closed wherever it stood.
/// Empty where there is no way.
QVector<DefectState> wayTo(DefectState from, DefectState to);

} // namespace hobble
