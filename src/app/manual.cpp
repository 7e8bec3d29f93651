#include "app/manual.h"

#include <QCoreApplication>
#include <QDesktopServices>
#include <QDir>
#include <QRegularExpression>
#include <QUrl>

namespace hobble {

QString manualFolder(const QString& programFolder) {
    for (const char* place : {"../share/doc/hobble/manual", "../manual"}) {
        const QDir folder(QDir(programFolder).filePath(QLatin1String(place)));
        if (folder.exists(QStringLiteral("index.html")))
            return folder.canonicalPath();
    }
    return {};
}

QString manualAnchor(const QString& words) {
    static const QRegularExpression other(QStringLiteral("[^a-z0-9]+"));
    QString out = words.toLower().replace(other, QStringLiteral("-"));
    while (out.startsWith(QLatin1Char('-')))
        out.remove(0, 1);
    while (out.endsWith(QLatin1Char('-')))
        out.chop(1);
    return out;
}

bool openManual(const QString& page, const QString& anchor) {
    const QString folder = manualFolder(QCoreApplication::applicationDirPath());
    if (folder.isEmpty())
        return false;
    QUrl url = QUrl::fromLocalFile(QDir(folder).filePath(page + QStringLiteral(".html")));
    if (!anchor.isEmpty())
        url.setFragment(anchor);
    return QDesktopServices::openUrl(url);
}

} // namespace hobble
