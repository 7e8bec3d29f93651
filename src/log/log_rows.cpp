#include "log/log_rows.h"

#include "core/words/say.h"
#include "log/log_words.h"
#include "log/query.h"

#include <QSqlError>

namespace hobble {

ColumnKind kindOfColumn(const QString& column) {
    static const QStringList whole{
        QStringLiteral("id"),      QStringLiteral("active"),  QStringLiteral("number"),
        QStringLiteral("poses"),   QStringLiteral("score"),   QStringLiteral("failing"),
        QStringLiteral("version"), QStringLiteral("settled"), QStringLiteral("based_on")};
    static const QStringList real{QStringLiteral("onset"), QStringLiteral("degrees"),
                                  QStringLiteral("limit_value")};
    if (whole.contains(column) || column.endsWith(QLatin1String("_id")))
        return ColumnKind::Whole;
    if (real.contains(column))
        return ColumnKind::Real;
    return column == QLatin1String("picture")  ? ColumnKind::Bytes
           : column == QLatin1String("curves") ? ColumnKind::Curves
                                               : ColumnKind::Text;
}

// "value" is a number of a defect and a text of an event.
static ColumnKind kindOf(const LogTable& table, const QString& column) {
    return column == QLatin1String("value") && table.name == QLatin1String("defect") ? ColumnKind::Real
                                                                                     : kindOfColumn(column);
}

Result<Done> eachRow(const ProductionLog& log, const LogTable& table,
                     const std::function<bool(const QVariantList&)>& row) {
    QSqlQuery q(log.database());
    if (!run(q, QStringLiteral("SELECT %1 FROM %2 ORDER BY id")
                    .arg(table.columns.join(QStringLiteral(", ")), table.name)))
        return log.failure(tr("read all"), q.lastError().text());
    QVariantList values;
    while (q.next()) {
        values.clear();
        for (int c = 0; c < table.columns.size(); ++c)
            values << q.value(c);
        if (!row(values))
            return Error{say("Stopped; nothing was written.")};
    }
    if (q.lastError().isValid())
        return log.failure(tr("read all"), q.lastError().text());
    return Done{};
}

Result<Done> RowWriter::add(const QVariantList& row) {
    for (int c = 0; c < table_.columns.size(); ++c) {
        const QVariant& v = row[c];
        const ColumnKind kind = kindOf(table_, table_.columns[c]);
        if (v.isNull() &&
            (kind == ColumnKind::Whole || kind == ColumnKind::Bytes || kind == ColumnKind::Curves))
            waiting_ << QVariant(
                QMetaType(kind == ColumnKind::Whole ? QMetaType::LongLong : QMetaType::QByteArray));
        else
            waiting_ << (kind == ColumnKind::Text ? QVariant(text(v.toString())) : v);
    }
    return ++rows_ == 64 ? flush() : Result<Done>(Done{});
}

Result<Done> RowWriter::finish() { return rows_ ? flush() : Result<Done>(Done{}); }

Result<Done> RowWriter::flush() {
    const QString one = QLatin1Char('(') +
                        QStringList(table_.columns.size(), QStringLiteral("?")).join(QLatin1Char(',')) +
                        QLatin1Char(')');
    QSqlQuery q(log_.database());
    const bool written = run(q,
                             QStringLiteral("INSERT INTO %1 (%2) VALUES %3")
                                 .arg(table_.name, table_.columns.join(QStringLiteral(", ")),
                                      QStringList(rows_, one).join(QLatin1Char(','))),
                             waiting_);
    waiting_.clear();
    rows_ = 0;
    return written ? Result<Done>(Done{})
                   : log_.failure(tr("write %1").arg(table_.name), q.lastError().text());
}

Result<Done> settleNumbers(ProductionLog& log) {
    QSqlQuery q(log.database());
    QStringList statements = rebuildCurrentState();
    if (log.address().postgres) {
        for (const LogTable& t : logTables())
            statements << QStringLiteral("SELECT setval(pg_get_serial_sequence('%1', 'id'),"
                                         " (SELECT COALESCE(MAX(id), 0) + 1 FROM %1), false)")
                              .arg(t.name)
                       << QStringLiteral("ANALYZE %1").arg(t.name); // or it would plan for empty tables
        statements << QStringLiteral("ANALYZE defect_now");
    }
    for (const QString& s : statements)
        if (!q.exec(s))
            return log.failure(tr("work out what is current"), q.lastError().text());
    return Done{};
}

void addToChecksum(QCryptographicHash& hash, const LogTable& table, const QVariantList& row) {
    for (int c = 0; c < table.columns.size(); ++c) {
        const QVariant& v = row[c];
        QByteArray bytes;
        switch (kindOf(table, table.columns[c])) {
        case ColumnKind::Whole:
            bytes = v.isNull() ? QByteArray("-") : QByteArray::number(v.toLongLong());
            break;
        case ColumnKind::Real:
            bytes = QByteArray::number(v.toDouble(), 'g', 17);
            break;
        case ColumnKind::Text:
            bytes = v.toString().toUtf8();
            break;
        case ColumnKind::Bytes:
            bytes = v.toByteArray();
            break;
        case ColumnKind::Curves: // by what they say, for compressing is not the same everywhere
            bytes = v.isNull() ? QByteArray() : qUncompress(v.toByteArray());
            break;
        }
        hash.addData(QByteArray::number(bytes.size()) + ':');
        hash.addData(bytes);
    }
    hash.addData("\n");
}

ReadingAtOneMoment::ReadingAtOneMoment(const ProductionLog& log) : db_(log.database()) {
    open_ = QSqlQuery(db_).exec(log.address().postgres
                                    ? QStringLiteral("BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY")
                                    : QStringLiteral("BEGIN"));
}

ReadingAtOneMoment::~ReadingAtOneMoment() {
    if (open_)
        QSqlQuery(db_).exec(QStringLiteral("ROLLBACK"));
}

} // namespace hobble
