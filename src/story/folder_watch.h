#pragma once
// Watches a folder for deliveries: character files that come in or are replaced. A file is told of once it
// has settled: its size and time have not changed for a while, so that nothing half written is read.
#include <QDateTime>
#include <QFileInfo>
#include <QFileSystemWatcher>
#include <QHash>
#include <QTimer>

#include <functional>

namespace hobble {

class FolderWatch : public QObject {
    Q_OBJECT
public:
    explicit FolderWatch(QObject* parent = nullptr);
    static QFileInfoList charactersIn(const QString& folder); // by their suffixes, the oldest first

    /// What lies there already is told of only when `lying` asks for it. Empty: nothing is watched. False
    /// where there is no such folder.
    bool setFolder(const QString& folder, bool lying = false);
    QString folder() const { return folder_; }
    void setSettling(int milliseconds) { settling_ = milliseconds; }
    /// Milliseconds, in place of the system's clock.
    void setClock(std::function<qint64()> clock) { clock_ = std::move(clock); }
    void look(); // as it does by itself, three times a second

signals:
    void arrived(const QString& path);
    void lost(const QString& folder); // the folder is gone

private:
    std::function<qint64()> clock_;
    struct Seen {
        qint64 size = -1;
        QDateTime changed;
        qint64 since = 0; // when it was first seen like this, milliseconds
        bool told = false;
    };
    QFileSystemWatcher watcher_;
    QTimer timer_;
    QString folder_;
    QHash<QString, Seen> seen_;
    int settling_ = 1200;
};

} // namespace hobble
