#pragma once
// Rows of the log's tables as they are copied, compared, written to JSON and read from it.
#include "log/production_log.h"
#include "log/schema.h"

#include <QCryptographicHash>
#include <QVariant>

namespace hobble {

/// Every row of a table, by number. `row` returns false to stop.
Result<Done> eachRow(const ProductionLog& log, const LogTable& table,
                     const std::function<bool(const QVariantList&)>& row);

/// Writes rows, some dozens at a time, within a transaction that the caller has begun.
class RowWriter {
public:
    RowWriter(ProductionLog& log, const LogTable& table) : log_(log), table_(table) {}
    Result<Done> add(const QVariantList& row);
    Result<Done> finish();

private:
    Result<Done> flush();
    ProductionLog& log_;
    const LogTable& table_;
    QVariantList waiting_;
    int rows_ = 0;
};

/// After rows were written under their own numbers: works out current states, and lets new numbers follow the
/// old.
Result<Done> settleNumbers(ProductionLog& log);

/// Feeds a row to the checksum, the same whichever database it comes from.
void addToChecksum(QCryptographicHash& hash, const LogTable& table, const QVariantList& row);

/// What kind of value a column of any of the tables holds.
enum class ColumnKind { Whole, Real, Text, Bytes, Curves };
ColumnKind kindOfColumn(const QString& column);

/// Reads all tables at one moment, whatever is written meanwhile.
class ReadingAtOneMoment {
public:
    explicit ReadingAtOneMoment(const ProductionLog& log);
    ~ReadingAtOneMoment();

private:
    QSqlDatabase db_;
    bool open_ = false;
};

} // namespace hobble
