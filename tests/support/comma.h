#pragma once
// Settings under which numbers have a comma, as most of Europe's have, made for a test: a build machine has
// none.
#include <QProcess>
#include <QTemporaryDir>

namespace hobble::test {

/// Where such a locale lies (LOCPATH), under the name de_DE.UTF-8; empty when it could not be made.
inline QString commaLocale(const QTemporaryDir& in) {
    QProcess make;
    make.start(QStringLiteral("localedef"),
               {QStringLiteral("-i"), QStringLiteral("de_DE"), QStringLiteral("-f"), QStringLiteral("UTF-8"),
                in.filePath(QStringLiteral("de_DE.UTF-8"))});
    return make.waitForFinished(60000) && make.exitCode() == 0 ? in.path() : QString();
}

} // namespace hobble::test
