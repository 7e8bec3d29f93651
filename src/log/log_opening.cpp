// Opening a log of either kind, and telling what is wrong with one that does not open.
#include "log/log_copy.h"
#include "log/log_password.h"
#include "log/log_words.h"
#include "log/production_log.h"
#include "log/query.h"
#include "log/schema.h"
#include "log/team_roles.h"

#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QSqlDriver>
#include <QSqlError>
#include <QSqlQuery>
#include <QThread>
#include <QUuid>
#include <QVariant>

#include <libpq-fe.h>

namespace hobble {

namespace {

Error cannotOpen(const QString& place, const QString& why) {
    return {tr("Cannot open the log %1: %2").arg(place, why).toStdString()};
}

Error fromANewerHobble(const QString& place, int version) {
    return cannotOpen(place,
                      QStringLiteral("it was written by a newer Hobble (version %1, this one knows %2). "
                                     "Nothing was changed; update Hobble.")
                          .arg(version)
                          .arg(newestLogVersion()));
}

// SQLite's and the server's words for it.
bool isHeldByAnother(const QString& why) {
    return why.contains(QLatin1String("locked")) || why.contains(QLatin1String("busy")) ||
           why.contains(QLatin1String("lock timeout"));
}

// The server's first line, without what a person cannot use.
QString serversWords(QString why) {
    why = why.section(QLatin1Char('\n'), 0, 0)
              .remove(QStringLiteral("FATAL:"))
              .remove(QStringLiteral("ERROR:"));
    why.remove(QStringLiteral("QPSQL: Unable to connect"));
    return why.simplified();
}

} // namespace

Error ProductionLog::failure(const QString& doing, const QString& said) const {
    // A server repeats the statement below what it says, with whatever words are in it.
    const QString why = said.section(QLatin1Char('\n'), 0, 0);
    QString reason = said;
    if (readOnly_ || why.contains(QLatin1String("readonly")) || why.contains(QLatin1String("read-only")))
        reason = tr("the log is read-only");
    else if (isHeldByAnother(why))
        reason = tr("another program is writing to it; try again in a moment");
    else if (why.contains(QLatin1String("malformed")) || why.contains(QLatin1String("not a database")))
        reason = tr("the file is damaged; restore it from a backup, nothing was written");
    else if (why.contains(QLatin1String("disk is full")) || why.contains(QLatin1String("No space left")))
        reason = tr("the disk is full");
    else if (why.contains(QLatin1String("disk I/O error")))
        reason = tr("the disk does not take it; it may be full or gone. Nothing was written");
    else if (address_.postgres && lost())
        reason = tr("the server does not answer");
    else if (address_.postgres)
        reason = serversWords(said);
    return {tr("Cannot %1 in the log %2: %3.").arg(doing, place(), reason).toStdString()};
}

Result<std::unique_ptr<ProductionLog>> ProductionLog::open(const QString& place, int patienceMs) {
    auto address = LogAddress::parse(place);
    if (!address)
        return Error{address.error()};
    std::unique_ptr<ProductionLog> log(new ProductionLog);
    log->address_ = *address;
    log->connection_ = QUuid::createUuid().toString();
    const auto opened = address->postgres ? log->openServer(patienceMs) : log->openFile(patienceMs);
    if (!opened)
        return Error{opened.error()};
    return log;
}

ProductionLog::~ProductionLog() {
    if (connection_.isEmpty())
        return;
    {
        QSqlDatabase db = QSqlDatabase::database(connection_, false);
        db.close();
    }
    QSqlDatabase::removeDatabase(connection_);
    if (!shadow_.isEmpty())
        QFile::remove(shadow_);
}

Result<Done> ProductionLog::openFile(int patienceMs) {
    const QString path = address_.path;
    const QFileInfo file(path);
    if (file.isDir())
        return cannotOpen(path, QStringLiteral("it is a folder."));
    if (!file.exists() && !QDir().mkpath(file.absolutePath()))
        return cannotOpen(path, QStringLiteral("its folder cannot be made."));
    if (file.exists() && file.size() > 0) {
        QFile head(path);
        if (!head.open(QIODevice::ReadOnly))
            return cannotOpen(path, QStringLiteral("it may not be read."));
        if (head.read(16) != QByteArray("SQLite format 3\0", 16))
            return cannotOpen(
                path, QStringLiteral("it is not a Hobble log, or it is damaged. Nothing was changed."));
        // Permission bits are asked, not the system's leave: a protected log stays untouched even for root.
        const auto bits = QFile::permissions(path);
        readOnly_ = !(bits & (QFile::WriteOwner | QFile::WriteGroup | QFile::WriteOther));
    }
    const auto connect = [&](const QString& name, bool protect) {
        QSqlDatabase db = QSqlDatabase::database(connection_, false);
        if (!db.isValid())
            db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection_);
        db.close();
        db.setDatabaseName(name);
        db.setConnectOptions(QStringLiteral("QSQLITE_BUSY_TIMEOUT=%1%2")
                                 .arg(patienceMs)
                                 .arg(protect ? QStringLiteral(";QSQLITE_OPEN_READONLY") : QString()));
        return db.open();
    };
    if (!connect(path, readOnly_))
        return failure(tr("work"), database().lastError().text());
    if (auto ready = prepareFile(patienceMs); !ready)
        return ready;
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("PRAGMA user_version")) || !q.next())
        return failure(tr("work"), q.lastError().text());
    if (!readOnly_ || q.value(0).toInt() == newestLogVersion())
        return Done{};
    // A log of an older Hobble that may not be written is shown from a copy brought up to date.
    const int version = q.value(0).toInt();
    const QString copy = QDir::temp().filePath(
        QStringLiteral("hobble-%1.sqlite").arg(QUuid::createUuid().toString(QUuid::Id128)));
    if (!run(q, QStringLiteral("VACUUM INTO ?"), {copy}))
        return failure(tr("make a copy to bring up to date"), q.lastError().text());
    q = QSqlQuery();
    shadow_ = copy;
    QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner);
    if (!connect(copy, false))
        return failure(tr("work"), database().lastError().text());
    return migrate(database(), version);
}

// Looks at what is there before anything is written.
Result<Done> ProductionLog::prepareFile(int patienceMs) {
    QSqlDatabase db = database();
    QSqlQuery q(db);
    auto fail = [&] { return failure(tr("work"), q.lastError().text()); };
    if (!run(q, QStringLiteral("BEGIN"))) // all of one moment: another may be making it
        return fail();
    Transaction looking(db, false);
    if (!run(q, QStringLiteral("PRAGMA application_id")) || !q.next())
        return fail();
    const int application = q.value(0).toInt();
    if (!run(q, QStringLiteral("PRAGMA user_version")) || !q.next())
        return fail();
    const int version = q.value(0).toInt();
    if (!run(q, QStringLiteral("SELECT COUNT(*) FROM sqlite_master")) || !q.next())
        return fail();
    const bool fresh = q.value(0).toInt() == 0 && version == 0;
    q.finish();
    if (!looking.commit())
        return failure(tr("work"), looking.why());
    if (!fresh && application != kLogApplicationId)
        return cannotOpen(place(),
                          QStringLiteral("it is a database of another program. Nothing was changed."));
    if (version > newestLogVersion())
        return fromANewerHobble(place(), version);
    if (!fresh) {
        if (!run(q, QStringLiteral("PRAGMA integrity_check")) || !q.next())
            return fail();
        if (q.value(0).toString() != QLatin1String("ok"))
            return cannotOpen(place(),
                              QStringLiteral("the file is damaged (%1). Nothing was changed; restore "
                                             "it from a backup.")
                                  .arg(q.value(0).toString().section(QLatin1Char('\n'), 0, 0)));
    }
    q.finish();
    if (readOnly_)
        return Done{};
    // The first change to WAL wants the file to itself and is refused at once where another has it open.
    QElapsedTimer waited;
    waited.start();
    while (!run(q, QStringLiteral("PRAGMA journal_mode = WAL")))
        if (waited.elapsed() >= patienceMs || !isHeldByAnother(q.lastError().text()))
            return fail();
        else
            QThread::msleep(10);
    q.finish();
    if (!run(q, QStringLiteral("PRAGMA foreign_keys = ON")) ||
        !run(q, QStringLiteral("PRAGMA synchronous = FULL")))
        return fail();
    q.finish();
    if (version == newestLogVersion())
        return Done{};
    if (!fresh) {
        const QString backup = QStringLiteral("%1.before-v%2").arg(place()).arg(newestLogVersion());
        if (!QFile::exists(backup)) { // made beside its place, so that a full disk leaves no half of one
            const QString part =
                QStringLiteral("%1.%2.part").arg(backup, QUuid::createUuid().toString(QUuid::Id128));
            if (!run(q, QStringLiteral("VACUUM INTO ?"), {part})) {
                const QString why = q.lastError().text();
                QFile::remove(part);
                return failure(tr("make a backup before updating"), why);
            }
            QFile::rename(part, backup);
        }
    }
    if (!run(q, QStringLiteral("BEGIN IMMEDIATE")))
        return fail();
    Transaction transaction(db, false);
    // Another process may have got here first while we waited for the lock.
    if (!run(q, QStringLiteral("PRAGMA user_version")) || !q.next())
        return fail();
    const int from = q.value(0).toInt();
    q.finish();
    if (auto done = migrate(db, from); !done)
        return done;
    if (!transaction.commit())
        return failure(tr("bring it up to date"), transaction.why());
    return Done{};
}

Result<Done> ProductionLog::migrate(QSqlDatabase db, int from) {
    QSqlQuery q(db);
    QStringList last;
    if (address_.postgres)
        last << QStringLiteral("UPDATE hobble_log SET version = %1").arg(newestLogVersion());
    else
        last << QStringLiteral("PRAGMA user_version = %1").arg(newestLogVersion())
             << QStringLiteral("PRAGMA application_id = %1").arg(kLogApplicationId);
    for (int v = from; v <= newestLogVersion(); ++v)
        for (const QString& statement : v < newestLogVersion() ? logMigrations()[v] : last)
            if (!q.exec(address_.postgres ? forPostgres(statement) : statement))
                return failure(tr("bring it up to date"), q.lastError().text());
    return Done{};
}

Result<Done> ProductionLog::openServer(int patienceMs) {
    if (!QSqlDatabase::isDriverAvailable(QStringLiteral("QPSQL")))
        return cannotOpen(place(), tr("Qt's driver for PostgreSQL is not installed (libqt6sql6-psql)."));
    QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QPSQL"), connection_);
    db.setHostName(address_.host);
    db.setDatabaseName(address_.database);
    db.setUserName(address_.user);
    if (const QString password = passwordFor(address_); !password.isEmpty())
        db.setPassword(password);
    if (address_.port)
        db.setPort(address_.port);
    // A server that has gone is noticed within seconds, not after the system's quarter of an hour.
    QString options =
        QStringLiteral("connect_timeout=3;tcp_user_timeout=4000;keepalives_idle=5;keepalives_interval=2;"
                       "keepalives_count=2;client_encoding=UTF8;application_name=Hobble");
    if (!address_.options.isEmpty())
        options += QLatin1Char(';') + address_.options;
    db.setConnectOptions(options);
    if (!db.open())
        return cannotOpen(place(), serversWords(db.lastError().databaseText().isEmpty()
                                                    ? db.lastError().text()
                                                    : db.lastError().databaseText()) +
                                       QLatin1Char('.'));
    QSqlQuery q(db);
    if (!q.exec(QStringLiteral("SET lock_timeout = %1").arg(patienceMs)) ||
        !q.exec(QStringLiteral("SET statement_timeout = 60000")))
        return failure(tr("work"), q.lastError().text());
    q.exec(QStringLiteral("SET synchronous_commit = on"));
    if (run(q, QStringLiteral("SELECT current_setting('default_transaction_read_only')")) && q.next())
        readOnly_ = q.value(0).toString() == QLatin1String("on");
    q.finish();
    if (auto ready = prepareServer(); !ready)
        return ready;
    if (!readOnly_ && run(q, QStringLiteral("SELECT has_table_privilege('event', 'INSERT')")) && q.next())
        readOnly_ = !q.value(0).toBool();
    q.finish();
    QObject::connect(db.driver(), &QSqlDriver::notification, db.driver(),
                     [this](const QString&, QSqlDriver::NotificationSource source, const QVariant&) {
                         notified_ = notified_ || source != QSqlDriver::SelfSource;
                     });
    db.driver()->subscribeToNotification(QStringLiteral("hobble_log"));
    return Done{};
}

Result<Done> ProductionLog::prepareServer() {
    QSqlDatabase db = database();
    QSqlQuery q(db);
    auto fail = [&] { return failure(tr("work"), q.lastError().text()); };
    const auto version = [&]() -> int { // −1: none of ours
        // of the catalogue itself: to_regclass() would go on saying no after a wait for who makes it
        if (!run(q, QStringLiteral("SELECT 1 FROM pg_tables WHERE tablename = 'hobble_log'"
                                   " AND schemaname = ANY (current_schemas(false))")) ||
            !q.next())
            return -1;
        q.finish();
        const bool there = run(q, QStringLiteral("SELECT version FROM hobble_log")) && q.next();
        const int v = there ? q.value(0).toInt() : -1;
        q.finish();
        return v;
    };
    int from = version();
    q.finish();
    if (from > newestLogVersion())
        return fromANewerHobble(place(), from);
    if (from == newestLogVersion())
        return Done{};
    if (readOnly_)
        return cannotOpen(place(),
                          QStringLiteral("it is of an older Hobble and may not be brought up to date."));
    auto transaction = begin();
    if (!transaction)
        return Error{transaction.error()};
    from = version(); // another may have got here first while we waited
    q.finish();
    if (from == newestLogVersion())
        return Done{};
    if (from < 0) {
        if (!run(q, QStringLiteral("SELECT COUNT(*) FROM information_schema.tables"
                                   " WHERE table_schema = current_schema()")) ||
            !q.next())
            return fail();
        if (q.value(0).toInt() > 0)
            return cannotOpen(place(),
                              QStringLiteral("the database holds tables of another program. Nothing was "
                                             "changed; give the log a database or a schema of its own."));
        q.finish();
        if (!q.exec(QStringLiteral("CREATE TABLE hobble_log (version INTEGER NOT NULL)")) ||
            !q.exec(QStringLiteral("INSERT INTO hobble_log VALUES (0)")))
            return fail();
        from = 0;
    } else { // a copy of every table, as it was
        const QString beside = QStringLiteral("hobble_before_v%1").arg(newestLogVersion());
        if (!q.exec(QStringLiteral("CREATE SCHEMA %1").arg(beside)))
            return failure(tr("make a backup before updating"), q.lastError().text());
        for (const LogTable& t : logTables())
            if (t.since <= from &&
                !q.exec(QStringLiteral("CREATE TABLE %1.%2 AS TABLE %2").arg(beside, t.name)))
                return failure(tr("make a backup before updating"), q.lastError().text());
    }
    if (auto done = migrate(db, from); !done)
        return done;
    if (!grantWhatIsNew(q))
        return failure(tr("bring it up to date"), q.lastError().text());
    if (!transaction->commit())
        return fail();
    return Done{};
}

Result<Transaction> ProductionLog::begin() {
    if (readOnly_)
        return failure(tr("write"), {});
    QSqlDatabase db = database();
    QSqlQuery q(db);
    if (!q.exec(address_.postgres ? QStringLiteral("BEGIN") : QStringLiteral("BEGIN IMMEDIATE")))
        return failure(tr("write"), q.lastError().text());
    Transaction transaction(db, address_.postgres);
    // One writer at a time, as a file has it: so numbers of events become visible in their order.
    if (address_.postgres &&
        !q.exec(QStringLiteral("SELECT pg_advisory_xact_lock(%1)").arg(kLogApplicationId)))
        return failure(tr("write"), q.lastError().text());
    return transaction;
}

Result<Done> ProductionLog::inTransaction(const QString& doing, const std::function<Result<Done>()>& work) {
    auto transaction = begin();
    if (!transaction)
        return Error{transaction.error()};
    if (auto done = work(); !done)
        return done;
    if (!transaction->commit())
        return failure(doing, transaction->why());
    return Done{};
}

bool ProductionLog::isEmpty() const {
    for (const LogTable& t : logTables()) {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("SELECT 1 FROM %1 LIMIT 1").arg(t.name)) || q.next())
            return false;
    }
    return true;
}

bool ProductionLog::lost() const {
    if (!address_.postgres)
        return shadow_.isEmpty() && !QFile::exists(address_.path);
    if (!database().isOpen())
        return true;
    QSqlQuery q(database());
    return !q.exec(QStringLiteral("SELECT 1")) &&
           !q.lastError().text().contains(QLatin1String("current transaction is aborted"));
}

namespace {

PGconn* connectionOf(const QSqlDatabase& db) {
    const QVariant handle = db.driver()->handle();
    // by the typedef's name, or by that of the struct behind it
    if (!handle.isValid() ||
        (qstrcmp(handle.typeName(), "PGconn*") != 0 && qstrcmp(handle.typeName(), "pg_conn*") != 0))
        return nullptr;
    return *static_cast<PGconn* const*>(handle.constData());
}

} // namespace

int ProductionLog::socket() const {
    PGconn* connection = address_.postgres ? connectionOf(database()) : nullptr;
    return connection ? PQsocket(connection) : -1;
}

ProductionLog::Wire ProductionLog::wire() const {
    PGconn* connection = address_.postgres ? connectionOf(database()) : nullptr;
    if (!connection)
        return {};
    const char* host = PQhost(connection);
    const QString at = QString::fromUtf8(host ? host : "");
    static const QStringList here{QStringLiteral("localhost"), QStringLiteral("127.0.0.1"),
                                  QStringLiteral("::1")};
    Wire out;
    out.leavesTheMachine = !at.isEmpty() && !at.startsWith(QLatin1Char('/')) && !here.contains(at);
    if (PQsslInUse(connection))
        out.encryption = QString::fromUtf8(PQsslAttribute(connection, "protocol"));
    return out;
}

bool ProductionLog::changedByOthers() {
    if (address_.postgres)
        return std::exchange(notified_, false);
    QSqlQuery q(database());
    if (!run(q, QStringLiteral("PRAGMA data_version")) || !q.next())
        return false;
    const qint64 before = std::exchange(dataVersion_, q.value(0).toLongLong());
    return before >= 0 && before != dataVersion_;
}

Result<Done> ProductionLog::backUp(const QString& path) const {
    if (QFile::exists(path))
        return failure(tr("make a backup"), tr("%1 is there already").arg(path));
    const QString part = path + QStringLiteral(".part"); // a full disk leaves no half of a backup
    QFile::remove(part);
    Result<Done> made = Done{};
    if (address_.postgres) {
        auto copy = ProductionLog::open(part);
        made = copy ? copyLog(*this, **copy) : Result<Done>(Error{copy.error()});
        if (made) { // one file, no journal beside it
            QSqlQuery q((*copy)->database());
            q.exec(QStringLiteral("PRAGMA journal_mode = DELETE"));
        }
    } else {
        QSqlQuery q(database());
        if (!run(q, QStringLiteral("VACUUM INTO ?"), {part}))
            made = failure(tr("make a backup"), q.lastError().text());
    }
    if (made && !QFile::rename(part, path))
        made = failure(tr("make a backup"), tr("%1 cannot be written").arg(path));
    for (const char* rest : {"", "-wal", "-shm"})
        QFile::remove(part + QLatin1String(rest));
    return made;
}

} // namespace hobble
