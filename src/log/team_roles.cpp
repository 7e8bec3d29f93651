#include "log/team_roles.h"

#include "core/words/say.h"
#include "log/log_address.h"
#include "log/schema.h"

#include <QSqlError>
#include <QSqlQuery>

namespace hobble {

namespace {

// Those in which a defect is no longer somebody's to fix.
QString waysOut() {
    QStringList out;
    for (DefectState s : kDefectStates)
        if (!isOpen(s))
            out << QLatin1Char('\'') + nameOf(s).replace(QLatin1Char('\''), QLatin1String("''")) +
                       QLatin1Char('\'');
    return out.join(QLatin1String(", "));
}

QStringList roles() {
    QStringList out;
    for (const char* role : {"hobble_reader", "hobble_rigger", "hobble_lead"})
        out << QStringLiteral(
                   "DO $$ BEGIN CREATE ROLE %1 NOLOGIN; EXCEPTION WHEN duplicate_object THEN NULL; END $$")
                   .arg(QLatin1String(role));
    return out;
}

QStringList grants() {
    QStringList out;
    QStringList tables{QStringLiteral("hobble_log"), QStringLiteral("defect_now")};
    for (const LogTable& t : logTables())
        tables << t.name;
    const QString all = tables.join(QLatin1String(", "));
    out << QStringLiteral(
               "DO $$ BEGIN EXECUTE format('GRANT USAGE ON SCHEMA %I TO hobble_reader, hobble_rigger, "
               "hobble_lead', current_schema()); END $$")
        << QStringLiteral("GRANT SELECT ON %1 TO hobble_reader, hobble_rigger, hobble_lead").arg(all)
        << QStringLiteral("GRANT INSERT, UPDATE, DELETE ON %1 TO hobble_lead").arg(all)
        << QStringLiteral("GRANT INSERT ON build, run, defect, event, inspection, build_event, defect_now, "
                          "team_filter TO hobble_rigger")
        << QStringLiteral("GRANT UPDATE ON defect_now TO hobble_rigger")
        << QStringLiteral("GRANT UPDATE (path, hash, seen_at) ON build TO hobble_rigger")
        << QStringLiteral(
               "CREATE OR REPLACE FUNCTION hobble_rigger_may() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN"
               " IF NOT pg_has_role(current_user, 'hobble_rigger', 'USAGE')"
               " OR pg_has_role(current_user, 'hobble_lead', 'USAGE') THEN RETURN NEW; END IF;"
               // each row is looked at in a statement of its own: they have other columns
               " IF TG_TABLE_NAME = 'event' THEN IF NEW.field = 'duplicate of' OR (NEW.field = 'state' AND "
               "NEW.value IN (%1))"
               " THEN RAISE EXCEPTION 'a rigger cannot close a defect or take it out of the way, a lead "
               "can'; END IF; END IF;"
               " IF TG_TABLE_NAME = 'defect_now' THEN IF TG_OP = 'INSERT' THEN RETURN NEW; END IF;"
               " IF NEW.state IS DISTINCT FROM OLD.state AND NEW.state IN (%1)"
               " THEN RAISE EXCEPTION 'a rigger cannot close a defect or take it out of the way, a lead "
               "can'; END IF; END IF;"
               " IF TG_TABLE_NAME = 'build_event' THEN IF NEW.field LIKE 'sign-off%' OR NEW.field = "
               "'reference'"
               " THEN RAISE EXCEPTION 'a rigger cannot sign off a build or make it the reference, a lead "
               "can'; END IF; END IF;"
               " RETURN NEW; END $$")
               .replace(QLatin1String("%1"), waysOut());
    for (const char* table : {"event", "defect_now", "build_event"})
        out << QStringLiteral("DROP TRIGGER IF EXISTS hobble_rigger_may ON %1").arg(QLatin1String(table))
            << QStringLiteral("CREATE TRIGGER hobble_rigger_may BEFORE INSERT OR UPDATE ON %1 FOR EACH ROW"
                              " EXECUTE FUNCTION hobble_rigger_may()")
                   .arg(QLatin1String(table));
    return out;
}

} // namespace

Result<Done> makeTeamRoles(ProductionLog& log) {
    const auto address = LogAddress::parse(log.place());
    if (!address || !address->postgres)
        return Error{
            say("Roles are for a log on a server: who may do what with a file is up to the file system.")};
    const QString doing = QStringLiteral("make roles");
    return log.inTransaction(doing, [&]() -> Result<Done> {
        QSqlQuery q(log.database());
        for (const QString& s : roles() + grants())
            if (!q.exec(s))
                return log.failure(doing, q.lastError().text());
        return Done{};
    });
}

bool grantWhatIsNew(QSqlQuery& q) {
    // of this log, not of another one on the same server
    if (!q.exec(QStringLiteral("SELECT 1 FROM pg_roles WHERE rolname = 'hobble_reader'"
                               " AND has_table_privilege(oid, 'hobble_log', 'SELECT')")))
        return false;
    const bool made = q.next();
    q.finish();
    const QStringList all = made ? grants() : QStringList();
    return std::all_of(all.begin(), all.end(), [&](const QString& s) { return q.exec(s); });
}

} // namespace hobble
