#pragma once
// What a lead sees and no rule found: which kind of fault it is, how bad, and in their own words.
#include "core/judge/limits.h"

#include <QDialog>

namespace hobble {

class LogByEyeDialog : public QDialog {
    Q_OBJECT
public:
    /// `likely`: the kind whose measure is worst on what is marked.
    LogByEyeDialog(const QString& where, std::optional<Kind> likely, QWidget* parent);

signals:
    void chosen(hobble::Kind kind, int severity, const QString& note);
};

} // namespace hobble
