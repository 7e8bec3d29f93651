#pragma once
// The tables of the production log, as migrations: script n takes a log of version n to version n + 1.
#include <QStringList>
#include <QVector>

namespace hobble {

/// Statements of each migration; the newest version is their number.
const QVector<QStringList>& logMigrations();

inline constexpr int kLogApplicationId = 0x48424C47; // "HBLG", SQLite's own mark for whose file this is

} // namespace hobble
