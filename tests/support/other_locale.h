#pragma once
// Settings under which numbers have a comma, as most of Europe's have, made for a test: a build machine has
// none.
#include <QProcess>
#include <QTemporaryDir>

namespace hobble::test {

/// Where a locale lies (LOCPATH), under its name with .UTF-8; empty when it could not be made.
inline QString madeLocale(const QTemporaryDir& in, const QString& name) {
    QProcess make;
    make.start(QStringLiteral("localedef"),
               {QStringLiteral("-i"), name, QStringLiteral("-f"), QStringLiteral("UTF-8"),
                in.filePath(name + QStringLiteral(".UTF-8"))});
    return make.waitForFinished(60000) && make.exitCode() == 0 ? in.path() : QString();
}

inline QString commaLocale(const QTemporaryDir& in) { return madeLocale(in, QStringLiteral("de_DE")); }

} // namespace hobble::test
