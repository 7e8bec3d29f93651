#include "story/folder_watch.h"

#include "io/character_read.h"

#include <QDir>

namespace hobble {

QFileInfoList FolderWatch::charactersIn(const QString& folder) {
    QStringList patterns;
    for (const CharacterFormat& f : characterFormats())
        for (const std::string& s : f.suffixes)
            patterns << QStringLiteral("*.") + QString::fromStdString(s);
    return QDir(folder).entryInfoList(patterns, QDir::Files, QDir::Time | QDir::Reversed);
}

FolderWatch::FolderWatch(QObject* parent) : QObject(parent) {
    timer_.setInterval(300);
    connect(&timer_, &QTimer::timeout, this, &FolderWatch::look);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &FolderWatch::look);
}

bool FolderWatch::setFolder(const QString& folder, bool lying) {
    if (!watcher_.directories().isEmpty())
        watcher_.removePaths(watcher_.directories());
    seen_.clear();
    folder_.clear();
    timer_.stop();
    if (folder.isEmpty())
        return true;
    if (!QFileInfo(folder).isDir())
        return false;
    folder_ = QDir(folder).absolutePath();
    if (!lying)
        for (const QFileInfo& f : charactersIn(folder_))
            seen_[f.absoluteFilePath()] = {f.size(), f.lastModified(), 0, true};
    watcher_.addPath(folder_);
    // network folders tell of nothing by themselves, and a file that grows is no change of its folder
    timer_.start();
    return true;
}

void FolderWatch::look() {
    if (folder_.isEmpty())
        return;
    if (!QFileInfo(folder_).isDir()) {
        const QString gone = folder_;
        setFolder({});
        emit lost(gone);
        return;
    }
    const qint64 now = clock_ ? clock_() : QDateTime::currentMSecsSinceEpoch();
    QStringList ready;
    for (const QFileInfo& f : charactersIn(folder_)) {
        Seen& seen = seen_[f.absoluteFilePath()];
        if (seen.size != f.size() || seen.changed != f.lastModified()) {
            seen = {f.size(), f.lastModified(), now, false};
        } else if (!seen.told && f.size() > 0 && now - seen.since >= settling_) {
            seen.told = true;
            ready << f.absoluteFilePath();
        }
    }
    for (const QString& path : ready)
        emit arrived(path);
}

} // namespace hobble
