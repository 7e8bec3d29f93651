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
                        " UNIQUE (character, version))")},
        // States with reasons, the build a change was made from, where people are written to, and the current
        // state of each defect in a table of its own, for lists of tens of thousands.
        QStringList{
            QStringLiteral("ALTER TABLE event ADD COLUMN reason TEXT NOT NULL DEFAULT ''"),
            QStringLiteral("ALTER TABLE event ADD COLUMN build_id INTEGER REFERENCES build(id)"),
            QStringLiteral("ALTER TABLE person ADD COLUMN mail TEXT NOT NULL DEFAULT ''"),
            QStringLiteral("ALTER TABLE defect ADD COLUMN at_words TEXT NOT NULL DEFAULT ''"),
            QStringLiteral("ALTER TABLE defect ADD COLUMN unit TEXT NOT NULL DEFAULT ''"),
            QStringLiteral("UPDATE defect SET at_words = COALESCE(json_extract(pose, '$.at'), '')"),
            QStringLiteral("UPDATE event SET field = 'state', value = CASE value WHEN 'open' THEN 'logged'"
                           " WHEN 'in work' THEN 'being fixed' WHEN 'fixed' THEN 'to be checked'"
                           " WHEN 'accepted' THEN 'accepted for this show' WHEN 'dismissed' THEN 'intended'"
                           " ELSE value END WHERE field = 'status'"),
            QStringLiteral("DROP VIEW defect_state"),
            QStringLiteral("CREATE TABLE defect_now (defect_id INTEGER PRIMARY KEY REFERENCES defect(id),"
                           " version INTEGER NOT NULL, state TEXT NOT NULL, severity INTEGER NOT NULL,"
                           " assignee TEXT NOT NULL, due TEXT NOT NULL, duplicate_of INTEGER NOT NULL,"
                           " logged_at TEXT NOT NULL, changed_at TEXT NOT NULL)"),
            QStringLiteral("CREATE INDEX defect_now_by_version ON defect_now (version)"),
            QStringLiteral("CREATE INDEX defect_of_build ON defect (build_id)"),
            QStringLiteral("CREATE INDEX event_by_value ON event (field, value)")} +
            rebuildCurrentState() +
            QStringList{
                // before, whoever had a defect was known, and its state said nothing of it
                QStringLiteral("INSERT INTO event (defect_id, at, author, field, value, based_on, reason)"
                               " SELECT defect_id, changed_at, '', 'state', 'assigned', version,"
                               " 'the log was brought up to date' FROM defect_now"
                               " WHERE state = 'logged' AND assignee <> ''")} +
            rebuildCurrentState(),
        // Filters for everybody: the newest row of a name counts, and an empty one drops it.
        {QStringLiteral("CREATE TABLE team_filter (id INTEGER PRIMARY KEY AUTOINCREMENT, at TEXT NOT NULL,"
                        " author TEXT NOT NULL, name TEXT NOT NULL, filter TEXT NOT NULL)"),
         QStringLiteral("CREATE INDEX team_filter_by_name ON team_filter (name, id)")}};
    return scripts;
}

const QStringList& rebuildCurrentState() {
    // in passes over all events, not defect by defect: a server that knows no figures of a table yet would go
    // through all of it for each
    static const QStringList statements{
        QStringLiteral("DELETE FROM defect_now"),
        QStringLiteral(
            "INSERT INTO defect_now SELECT h.defect_id, h.version, COALESCE(s.state, 'logged'),"
            " CAST(COALESCE(s.severity, '1') AS INTEGER), COALESCE(s.assignee, ''), COALESCE(s.due, ''),"
            " CAST(COALESCE(s.duplicate, '0') AS INTEGER), h.logged_at, newest.at"
            " FROM (SELECT defect_id, MAX(id) AS version, MIN(at) AS logged_at FROM event GROUP BY "
            "defect_id) h"
            " JOIN event newest ON newest.id = h.version"
            " LEFT JOIN (SELECT e.defect_id, MAX(CASE WHEN e.field = 'state' THEN e.value END) AS state,"
            "  MAX(CASE WHEN e.field = 'severity' THEN e.value END) AS severity,"
            "  MAX(CASE WHEN e.field = 'assignee' THEN e.value END) AS assignee,"
            "  MAX(CASE WHEN e.field = 'due' THEN e.value END) AS due,"
            "  MAX(CASE WHEN e.field = 'duplicate of' THEN e.value END) AS duplicate"
            "  FROM (SELECT MAX(id) AS id FROM event GROUP BY defect_id, field) last"
            "  JOIN event e ON e.id = last.id GROUP BY e.defect_id) s ON s.defect_id = h.defect_id")};
    return statements;
}

QString forPostgres(QString s) {
    static const QString key = QStringLiteral("BIGINT GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY");
    if (s.startsWith(QLatin1String("CREATE TABLE")) || s.startsWith(QLatin1String("ALTER TABLE"))) {
        s.replace(QLatin1String("INTEGER PRIMARY KEY AUTOINCREMENT"), key);
        s.replace(QLatin1String("INTEGER PRIMARY KEY"), key);
        s.replace(QLatin1String(" INTEGER"), QLatin1String(" BIGINT"));
        s.replace(QLatin1String(" BLOB"), QLatin1String(" BYTEA"));
        s.replace(QLatin1String(" REAL"),
                  QLatin1String(" DOUBLE PRECISION")); // theirs is of single precision
    }
    s.replace(QLatin1String("json_extract(pose, '$.at')"), QLatin1String("(pose::json->>'at')"));
    return s;
}

const QVector<LogTable>& logTables() {
    static const auto table = [](const char* name, const char* columns, int since = 1) {
        return LogTable{QLatin1String(name), QString(QLatin1String(columns)).split(QLatin1Char(' ')), since};
    };
    static const QVector<LogTable> tables{
        table("person", "id name active mail"),
        table("build", "id character hash path number seen_at"),
        table("run", "id build_id plan method at poses findings curves"),
        table("defect",
              "id build_id joint side role part kind motion motion_name limb onset degrees value limit_value"
              " what cause pose camera marks picture at_words unit"),
        table("event", "id defect_id at author field value based_on reason build_id"),
        table("inspection", "id build_id at score failing findings", 3),
        table("build_event", "id build_id at author field value", 3),
        table("plan", "id character version at author note settled plan", 4),
        table("team_filter", "id at author name filter", 6)};
    return tables;
}

} // namespace hobble
