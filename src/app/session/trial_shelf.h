#pragma once
// Where trials are kept: a file each, by the build they were made on, written as they are made.
#include "core/mend/trial.h"
#include "core/result.h"

#include <QString>
#include <QVector>

namespace hobble {

struct KeptTrial {
    QString path;
    Trial trial;
};

/// Those of a build, the newest first. What cannot be read is named in `bad` and stays where it is.
QVector<KeptTrial> keptTrials(const Subject& build, QStringList* bad = nullptr);
/// A path of its own for a new one.
QString freshTrialPath(const Subject& build);
Result<Done> keepTrial(const QString& path, const Trial& trial, const Subject& build);
/// Makes it the newest: the one that is gone on with at the next start.
void takeFromShelf(const QString& path);
QString trialFolder(const Subject& build);
/// What it is called: by whoever made it, else by what it is for.
QString nameOf(const Trial& trial);

} // namespace hobble
