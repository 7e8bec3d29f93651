#pragma once
// What every statement of the log needs.
#include <QDateTime>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>
#include <QVariant>

namespace hobble {

inline QString nowText() { return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs); }
inline QDateTime timeOf(const QVariant& v) { return QDateTime::fromString(v.toString(), Qt::ISODateWithMs); }
/// A text that is null in Qt is an empty one in the log.
inline QString text(QString s) {
    s.remove(QChar::Null); // no database keeps it
    return s.isNull() ? QStringLiteral("") : s;
}

// Prepares, binds in order and executes; the query is left on its result.
inline bool run(QSqlQuery& q, const QString& sql, const QVariantList& values = {}) {
    q.setForwardOnly(true);
    if (!q.prepare(sql))
        return false;
    for (const QVariant& v : values)
        q.addBindValue(v);
    return q.exec();
}

// The number of the row that was just written, by "… RETURNING id".
inline qint64 returnedId(QSqlQuery& q) {
    const qint64 id = q.next() ? q.value(0).toLongLong() : 0;
    q.finish();
    return id;
}

// Rolls back unless committed: no early return leaves a transaction open.
class Transaction {
public:
    Transaction(const QSqlDatabase& db, bool notify) : db_(db), notify_(notify), open_(true) {}
    Transaction(Transaction&& other) noexcept : db_(other.db_), notify_(other.notify_), open_(other.open_) {
        other.open_ = false;
    }
    Transaction& operator=(Transaction&&) = delete;
    ~Transaction() {
        if (open_)
            QSqlQuery(db_).exec(QStringLiteral("ROLLBACK"));
    }
    bool commit() {
        QSqlQuery q(db_);
        if (notify_ && !q.exec(QStringLiteral("NOTIFY hobble_log")))
            return refused(q);
        if (!q.exec(QStringLiteral("COMMIT")))
            return refused(q);
        open_ = false;
        return true;
    }
    /// Why it was not taken.
    QString why() const { return why_; }

private:
    bool refused(const QSqlQuery& q) {
        why_ = QStringLiteral("the change was not taken: %1").arg(q.lastError().text());
        return false;
    }
    QSqlDatabase db_;
    QString why_;
    bool notify_, open_;
};

} // namespace hobble
