#include "log/schema.h"

namespace hobble {

const QVector<QStringList>& logMigrations() {
    static const QVector<QStringList> scripts{
        {QStringLiteral("CREATE TABLE person (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE,"
                        " active INTEGER NOT NULL DEFAULT 1)"),
         QStringLiteral(
             "CREATE TABLE build (id INTEGER PRIMARY KEY, character TEXT NOT NULL, hash TEXT NOT NULL UNIQUE,"
             " path TEXT NOT NULL, number INTEGER NOT NULL, seen_at TEXT NOT NULL)"),
         QStringLiteral(
             "CREATE TABLE run (id INTEGER PRIMARY KEY, build_id INTEGER NOT NULL REFERENCES build(id),"
             " plan TEXT NOT NULL, method TEXT NOT NULL, at TEXT NOT NULL, poses INTEGER NOT NULL,"
             " findings TEXT NOT NULL)"),
         // What was seen when the defect was logged never changes; everything that does is an event.
         QStringLiteral(
             "CREATE TABLE defect (id INTEGER PRIMARY KEY, build_id INTEGER NOT NULL REFERENCES build(id),"
             " joint TEXT NOT NULL, side TEXT NOT NULL, role TEXT NOT NULL, part TEXT NOT NULL,"
             " kind TEXT NOT NULL, motion TEXT NOT NULL, motion_name TEXT NOT NULL, limb TEXT NOT NULL,"
             " onset REAL NOT NULL, degrees REAL NOT NULL, value REAL NOT NULL, limit_value REAL NOT NULL,"
             " what TEXT NOT NULL, cause TEXT NOT NULL, pose TEXT NOT NULL, camera TEXT NOT NULL,"
             " marks TEXT NOT NULL, picture BLOB)"),
         QStringLiteral(
             "CREATE TABLE event (id INTEGER PRIMARY KEY AUTOINCREMENT,"
             " defect_id INTEGER NOT NULL REFERENCES defect(id), at TEXT NOT NULL, author TEXT NOT NULL,"
             " field TEXT NOT NULL, value TEXT NOT NULL, based_on INTEGER NOT NULL)"),
         QStringLiteral("CREATE INDEX event_of_defect ON event (defect_id, field, id)"),
         QStringLiteral("CREATE VIEW defect_state AS SELECT d.id AS defect_id,"
                        " (SELECT MAX(id) FROM event e WHERE e.defect_id = d.id) AS version,"
                        " (SELECT value FROM event e WHERE e.defect_id = d.id AND field = 'status'"
                        "  ORDER BY id DESC LIMIT 1) AS status,"
                        " (SELECT value FROM event e WHERE e.defect_id = d.id AND field = 'severity'"
                        "  ORDER BY id DESC LIMIT 1) AS severity,"
                        " (SELECT value FROM event e WHERE e.defect_id = d.id AND field = 'assignee'"
                        "  ORDER BY id DESC LIMIT 1) AS assignee,"
                        " (SELECT value FROM event e WHERE e.defect_id = d.id AND field = 'due'"
                        "  ORDER BY id DESC LIMIT 1) AS due,"
                        " (SELECT MIN(at) FROM event e WHERE e.defect_id = d.id) AS logged_at,"
                        " (SELECT MAX(at) FROM event e WHERE e.defect_id = d.id) AS changed_at"
                        " FROM defect d")},
        // Every scalar of a run, compressed, so that a later build can be laid over it.
        {QStringLiteral("ALTER TABLE run ADD COLUMN curves BLOB"),
         QStringLiteral("CREATE INDEX run_of_build ON run (build_id, id)"),
         QStringLiteral("CREATE INDEX event_by_field ON event (field, defect_id, id)")},
        // How fit each build was, what was noted of it, and where its file went.
        {QStringLiteral("CREATE TABLE inspection (id INTEGER PRIMARY KEY AUTOINCREMENT,"
                        " build_id INTEGER NOT NULL REFERENCES build(id), at TEXT NOT NULL,"
                        " score INTEGER NOT NULL, failing INTEGER NOT NULL, findings TEXT NOT NULL)"),
         QStringLiteral("CREATE INDEX inspection_of_build ON inspection (build_id, id)"),
         QStringLiteral("CREATE TABLE build_event (id INTEGER PRIMARY KEY AUTOINCREMENT,"
                        " build_id INTEGER NOT NULL REFERENCES build(id), at TEXT NOT NULL,"
                        " author TEXT NOT NULL, field TEXT NOT NULL, value TEXT NOT NULL)"),
         QStringLiteral("CREATE INDEX build_event_of_build ON build_event (build_id, field, id)")},
        // The plans of a character, version by version. The newest is written on until it has been run.
        {QStringLiteral("CREATE TABLE plan (id INTEGER PRIMARY KEY AUTOINCREMENT, character TEXT NOT NULL,"
                        " version INTEGER NOT NULL, at TEXT NOT NULL, author TEXT NOT NULL,"
                        " note TEXT NOT NULL, settled INTEGER NOT NULL DEFAULT 0, plan TEXT NOT NULL,"
                        " UNIQUE (character, version))")}};
    return scripts;
}

} // namespace hobble
