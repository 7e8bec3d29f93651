#pragma once
// Characters that were opened, as one remembers them: a picture, and how they stood when they were last run.
// Kept beside the settings, one small picture and one small file each; a cache, which may be deleted.
#include <QDateTime>
#include <QImage>
#include <QStringList>
#include <QVector>

namespace hobble {

class Session;
struct Character;

struct RecentCharacter {
    QString path, name;
    QImage picture;  // may be null
    int build = 0;   // number in the log; 0: in none
    int faults = -1; // −1: not run yet
    int blocking = 0;
    QDateTime at;         // when it was last opened or run
    bool changed = false; // the file, since then
};

class RecentShelf {
public:
    /// Of these files, those that are there, in their order.
    static QVector<RecentCharacter> of(const QStringList& paths);

    /// Keeps a picture of what is opened, and how it stands after each run, for as long as the session lives.
    static void follow(Session& session);

    static constexpr int kWidth = 184, kHeight = 138; // of a picture, pixels
};

} // namespace hobble
