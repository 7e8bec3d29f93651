#pragma once
// Databases of a server that runs for one test only; pg_virtualenv starts it and tells where it is.
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>

namespace hobble::test {

/// Says something to the server as its keeper, in the database given.
inline QVariant askServer(const QString& database, const QString& sql) {
    QVariant out;
    {
        QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QPSQL"), QStringLiteral("keeper"));
        db.setDatabaseName(database);
        if (!db.open())
            qFatal("no server: %s", qPrintable(db.lastError().text()));
        QSqlQuery q(db);
        if (!q.exec(sql))
            qFatal("%s: %s", qPrintable(sql), qPrintable(q.lastError().text()));
        if (q.next())
            out = q.value(0);
    }
    QSqlDatabase::removeDatabase(QStringLiteral("keeper"));
    return out;
}

inline QString addressOf(const QString& database, int port = 0) {
    return QStringLiteral("postgresql://%1@%2:%3/%4")
        .arg(qEnvironmentVariable("PGUSER"),
             port ? QStringLiteral("127.0.0.1") : qEnvironmentVariable("PGHOST"))
        .arg(port ? port : qEnvironmentVariableIntValue("PGPORT"))
        .arg(database);
}

/// The address of a new, empty database.
inline QString freshDatabase() {
    static int made = 0;
    const QString name = QStringLiteral("hobble_%1").arg(++made);
    askServer(QStringLiteral("postgres"), QStringLiteral("CREATE DATABASE %1").arg(name));
    return addressOf(name);
}

} // namespace hobble::test
