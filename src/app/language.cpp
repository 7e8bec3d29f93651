#include "app/language.h"

#include "core/words/say.h"

#include <QCoreApplication>
#include <QDir>
#include <QLibraryInfo>
#include <QTranslator>

namespace hobble {

bool installLanguage(QCoreApplication& app, const QLocale& locale, const QString& folder) {
    setTranslator(
        [](const char* pattern) { return QCoreApplication::translate("core", pattern).toStdString(); });
    const auto install = [&](const QString& name, const QString& from) {
        auto* language = new QTranslator(&app);
        if (language->load(locale, name, QStringLiteral("_"), from) && app.installTranslator(language))
            return true;
        delete language;
        return false;
    };
    install(QStringLiteral("qtbase"), QLibraryInfo::path(QLibraryInfo::TranslationsPath));
    if (!folder.isEmpty())
        return install(QStringLiteral("hobble"), folder);
    const QDir program(QCoreApplication::applicationDirPath());
    for (const char* place : {"../share/hobble/translations", "translations"})
        if (install(QStringLiteral("hobble"), program.filePath(QLatin1String(place))))
            return true;
    return false;
}

} // namespace hobble
