#pragma once
// Where a production log is: one SQLite file, or a PostgreSQL database for a team. An address never carries a
// password: libpq finds those in its own password file, service file or environment
// (PostgreSQL documentation, "The Password File", "The Connection Service File").
#include "core/result.h"

#include <QString>

namespace hobble {

struct LogAddress {
    bool postgres = false;
    QString path; // of the file
    // of the database; what is empty is left to libpq
    QString host, database, user, options;
    int port = 0;

    /// A path, or postgresql://[user@][host][:port]/[database][?service=…&sslmode=…].
    static Result<LogAddress> parse(const QString& text);
    QString words() const; // as parse() takes it
};

} // namespace hobble
