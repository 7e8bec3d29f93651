#pragma once
// What every statement of the log needs.
#include <QDateTime>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QString>
#include <QVariant>

namespace hobble {

inline QString nowText() { return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs); }
inline QDateTime timeOf(const QVariant& v) { return QDateTime::fromString(v.toString(), Qt::ISODateWithMs); }

// Prepares, binds in order and executes; the query is left on its result.
inline bool run(QSqlQuery& q, const QString& sql, const QVariantList& values = {}) {
    if (!q.prepare(sql))
        return false;
    for (const QVariant& v : values)
        q.addBindValue(v);
    return q.exec();
}

// Rolls back unless committed: no early return leaves a transaction open.
class Transaction {
public:
    explicit Transaction(const QSqlDatabase& db) : db_(db) {}
    ~Transaction() {
        if (!committed_)
            QSqlQuery(db_).exec(QStringLiteral("ROLLBACK"));
    }
    bool commit() { return committed_ = QSqlQuery(db_).exec(QStringLiteral("COMMIT")); }

private:
    QSqlDatabase db_;
    bool committed_ = false;
};

} // namespace hobble
