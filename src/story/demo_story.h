#pragma once
// The demo: a character in several builds and the production log of its story, set up so that it can be
// worked in. What comes with the program stays as it is; the log is a copy in a folder of one's own.
#include "core/result.h"

#include <QString>

namespace hobble {

/// Where the demo's data are: beside the program as it is installed (../share/hobble/demo), or in the tree it
/// was built in. Empty where there are none.
QString demoFolder(const QString& programFolder);

struct DemoStory {
    QString character; // to be opened
    QString log;
};

/// Copies the log to `into`, unless one is there already, which is somebody's work; its builds are found
/// where the data are.
Result<DemoStory> setUpDemo(const QString& data, const QString& into);

} // namespace hobble
