#include "app/session/recent_shelf.h"

#include "app/session/session.h"
#include "picture/picture.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSaveFile>
#include <QStandardPaths>
#include <QThreadPool>

namespace hobble {

namespace {

QString placeOf(const QString& path) {
    const QByteArray name =
        QCryptographicHash::hash(path.toUtf8(), QCryptographicHash::Sha1).toHex().left(20);
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/recent/") +
           QString::fromLatin1(name);
}

void keepStanding(const QString& path, const QJsonObject& standing) {
    const QString place = placeOf(path);
    QDir().mkpath(QFileInfo(place).absolutePath());
    QSaveFile file(place + QStringLiteral(".json"));
    if (file.open(QIODevice::WriteOnly) && file.write(QJsonDocument(standing).toJson()) >= 0)
        file.commit(); // a full disk only means a card that says less
}

QJsonObject standingOf(const QString& path) {
    QFile file(placeOf(path) + QStringLiteral(".json"));
    return file.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(file.readAll()).object() : QJsonObject();
}

qint64 changedAt(const QString& path) { return QFileInfo(path).lastModified().toMSecsSinceEpoch(); }

// From the front and a little from the side, on the thread of a pool: nobody waits for it.
void keepPicture(const QString& path, std::shared_ptr<const Character> character) {
    QThreadPool::globalInstance()->start([path, character = std::move(character)] {
        const std::vector<Vec3> neutral(character->neutral.begin(), character->neutral.end());
        if (neutral.empty())
            return;
        const QImage image = picture(*character, neutral, viewOf(*character, neutral),
                                     2 * RecentShelf::kWidth, 2 * RecentShelf::kHeight);
        const QString place = placeOf(path);
        QDir().mkpath(QFileInfo(place).absolutePath());
        image.save(place + QStringLiteral(".png"));
    });
}

} // namespace

QVector<RecentCharacter> RecentShelf::of(const QStringList& paths) {
    QVector<RecentCharacter> out;
    for (const QString& path : paths) {
        if (!QFileInfo::exists(path))
            continue;
        const QJsonObject standing = standingOf(path);
        RecentCharacter r;
        r.path = path;
        r.name = standing.value(QStringLiteral("name")).toString(QFileInfo(path).completeBaseName());
        r.picture = QImage(placeOf(path) + QStringLiteral(".png"));
        r.build = standing.value(QStringLiteral("build")).toInt();
        r.faults = standing.value(QStringLiteral("faults")).toInt(-1);
        r.blocking = standing.value(QStringLiteral("blocking")).toInt();
        r.at = QDateTime::fromString(standing.value(QStringLiteral("at")).toString(), Qt::ISODate);
        r.changed =
            standing.contains(QStringLiteral("changed")) &&
            static_cast<qint64>(standing.value(QStringLiteral("changed")).toDouble()) != changedAt(path);
        out << r;
    }
    return out;
}

void RecentShelf::follow(Session& session) {
    BuildDesk* build = &session.build();
    RunDesk* run = &session.run();
    const auto standing = [build] {
        const QString path = QFileInfo(QString::fromStdString(build->build()->source)).absoluteFilePath();
        return std::pair(
            path, QJsonObject{{QStringLiteral("name"), build->title()},
                              {QStringLiteral("build"), build->number()},
                              {QStringLiteral("changed"), static_cast<double>(changedAt(path))},
                              {QStringLiteral("at"), QDateTime::currentDateTime().toString(Qt::ISODate)}});
    };
    QObject::connect(build, &BuildDesk::characterSettled, build, [build, standing](BuildDesk::Change change) {
        if (change != BuildDesk::Change::Opened || !build->build())
            return;
        auto [path, words] = standing();
        const QJsonObject before = standingOf(path);
        if (before.value(QStringLiteral("changed")) == words.value(QStringLiteral("changed")))
            for (const char* known : {"faults", "blocking"}) // as it was: what was found still holds
                if (before.contains(QLatin1String(known)))
                    words[QLatin1String(known)] = before.value(QLatin1String(known));
        keepStanding(path, words);
        keepPicture(path, build->build());
    });
    QObject::connect(run, &RunDesk::runChanged, run, [build, run, standing] {
        if (!run->run() || run->run()->cancelled || !build->build() || !build->wearsNothing())
            return;
        auto [path, words] = standing();
        int blocking = 0;
        for (const Fault& f : run->run()->faults)
            blocking += f.severity == 4;
        words[QStringLiteral("faults")] = static_cast<int>(run->run()->faults.size());
        words[QStringLiteral("blocking")] = blocking;
        keepStanding(path, words);
    });
}

} // namespace hobble
