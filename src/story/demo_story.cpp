#include "story/demo_story.h"

#include "log/log_words.h"
#include "log/production_log.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>

namespace hobble {

namespace {

const QString kLog = QStringLiteral("demo-log.sqlite"),
              kCharacter = QStringLiteral("builds/3/badger-postmaster.glb"),
              kWritten = QStringLiteral("demo/data/"); // before the paths in the log that ships

} // namespace

QString demoFolder(const QString& programFolder) {
    for (const char* place : {"../share/hobble/demo", "../../../demo/data"}) {
        const QDir folder(QDir(programFolder).filePath(QLatin1String(place)));
        if (folder.exists(kLog) && folder.exists(kCharacter))
            return folder.canonicalPath();
    }
    return {};
}

Result<DemoStory> setUpDemo(const QString& data, const QString& into) {
    const QString path = QDir(into).filePath(QStringLiteral("production-log.sqlite"));
    const auto fail = [&] {
        return Error{tr("The demo cannot be set up in %1: the folder is protected or full, or parts "
                        "of the demo are missing from %2.")
                         .arg(into, data)
                         .toStdString()};
    };
    if (!QFile::exists(path)) {
        // beside its place first, so that what is there is whole
        const QString part = path + QStringLiteral(".part");
        QFile::remove(part);
        if (!QDir().mkpath(into) || !QFile::copy(QDir(data).filePath(kLog), part) ||
            !QFile::setPermissions(part, QFile::ReadOwner | QFile::WriteOwner) || !QFile::rename(part, path))
            return fail();
    }
    const auto log = ProductionLog::open(path);
    if (!log)
        return Error{log.error()};
    const auto builds = (*log)->builds({});
    if (!builds)
        return Error{builds.error()};
    for (const BuildState& b : *builds) {
        const QString here = QDir(data).filePath(
            b.build.path.startsWith(kWritten) ? b.build.path.mid(kWritten.size()) : b.build.path);
        if (here == b.build.path || !QFileInfo::exists(here))
            continue;
        if (const auto entered = (*log)->build(b.build.character, b.build.hash, here); !entered)
            return Error{entered.error()};
    }
    return DemoStory{QDir(data).filePath(kCharacter), path};
}

} // namespace hobble
