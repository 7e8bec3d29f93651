#include "story/zip_folder.h"
#include "log/log_words.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>

#include <zip.h>

namespace hobble {

Result<Done> zipFolder(const QString& folder, const QString& path) {
    const QString part = path + QStringLiteral(".part");
    QFile::remove(part);
    const auto fail = [&](const QString& why) {
        QFile::remove(part);
        return Error{tr("Cannot write %1: %2.").arg(path, why).toStdString()};
    };
    int code = 0;
    zip_t* zip = zip_open(QFile::encodeName(part).constData(), ZIP_CREATE | ZIP_TRUNCATE, &code);
    if (!zip)
        return fail(QStringLiteral("the folder is missing, protected or full"));
    const QDir root(folder);
    QDirIterator files(folder, QDir::Files, QDirIterator::Subdirectories);
    while (files.hasNext()) {
        const QString file = files.next();
        const QByteArray name = (root.dirName() + QLatin1Char('/') + root.relativeFilePath(file)).toUtf8();
        zip_source_t* source = zip_source_file(zip, QFile::encodeName(file).constData(), 0, -1);
        if (!source || zip_file_add(zip, name.constData(), source, ZIP_FL_ENC_UTF_8) < 0) {
            const QString why = QString::fromUtf8(zip_strerror(zip));
            if (source)
                zip_source_free(source);
            zip_discard(zip);
            return fail(why);
        }
    }
    if (zip_close(zip) < 0) {
        const QString why = QString::fromUtf8(zip_strerror(zip));
        zip_discard(zip);
        return fail(why);
    }
    QFile::remove(path);
    return QFile::rename(part, path) ? Result<Done>(Done{}) : fail(QStringLiteral("it is protected"));
}

} // namespace hobble
