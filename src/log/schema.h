#pragma once
// The tables of the production log, as migrations: script n takes a log of version n to version n + 1. They
// are written for SQLite; PostgreSQL gets the same tables under the same names.
#include <QStringList>
#include <QVector>

namespace hobble {

/// Statements of each migration; the newest version is their number.
const QVector<QStringList>& logMigrations();
inline int newestLogVersion() { return static_cast<int>(logMigrations().size()); }

/// The statement in PostgreSQL's words.
QString forPostgres(QString statement);

/// A table that holds what the log knows, with its columns in the order of their making; the first is its
/// number.
struct LogTable {
    QString name;
    QStringList columns;
    int since = 1; // the first version of the log that has it
};
/// In an order in which each refers only to those before it. Without what is worked out from them.
const QVector<LogTable>& logTables();

/// Works out the current state of every defect anew from its history.
const QStringList& rebuildCurrentState();

inline constexpr int kLogApplicationId = 0x48424C47; // "HBLG", SQLite's own mark for whose file this is

} // namespace hobble
