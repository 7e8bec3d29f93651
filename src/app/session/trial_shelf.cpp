#include "app/session/trial_shelf.h"

#include "app/session/desk.h"
#include "io/file_write.h"
#include "io/trial_json.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>

namespace hobble {

QString trialFolder(const Subject& build) {
    return settingsFile(QStringLiteral("trials/") + QString::fromStdString(build.character->hash).left(24));
}

QVector<KeptTrial> keptTrials(const Subject& build, QStringList* bad) {
    QVector<KeptTrial> out;
    const QDir folder(trialFolder(build));
    for (const QFileInfo& file : folder.entryInfoList({QStringLiteral("*.json")}, QDir::Files, QDir::Time)) {
        auto trial = readTrial(file.filePath().toStdString(), build.surface);
        if (trial && trial->build == build.character->hash)
            out.push_back({file.filePath(), std::move(*trial)});
        else if (bad)
            *bad << file.filePath();
    }
    return out;
}

QString freshTrialPath(const Subject& build) {
    const QDir folder(trialFolder(build));
    const QString day = QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd"));
    for (int n = 1;; ++n)
        if (const QString path = folder.filePath(QStringLiteral("%1-%2.json").arg(day).arg(n));
            !QFileInfo::exists(path))
            return path;
}

void takeFromShelf(const QString& path) {
    QFile file(path);
    if (file.open(QIODevice::ReadWrite | QIODevice::ExistingOnly))
        file.setFileTime(QDateTime::currentDateTime(), QFileDevice::FileModificationTime);
}

Result<Done> keepTrial(const QString& path, const Trial& trial, const Subject& build) {
    QDir().mkpath(QFileInfo(path).absolutePath());
    return writeFile(path.toStdString(), trialToJson(trial, build.surface));
}

QString nameOf(const Trial& trial) {
    if (!trial.name.empty())
        return QString::fromStdString(trial.name);
    const auto tr = [](const char* words) { return QCoreApplication::translate("TrialShelf", words); };
    if (trial.aim.joint.empty())
        return tr(QT_TRANSLATE_NOOP("TrialShelf", "the whole character"));
    return QStringLiteral("%1, %2").arg(QString::fromStdString(trial.aim.joint),
                                        trial.aim.kind.empty()
                                            ? tr(QT_TRANSLATE_NOOP("TrialShelf", "any measure"))
                                            : QString::fromStdString(trial.aim.kind));
}

} // namespace hobble
