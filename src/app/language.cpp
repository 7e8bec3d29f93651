#include "app/language.h"

#include "core/words/say.h"
#include "io/import_process.h"
#include "log/date_words.h"

#include <QCoreApplication>
#include <QDir>
#include <QLibraryInfo>
#include <QTranslator>
#include <clocale>

namespace hobble {

bool installLanguage(QCoreApplication& app, const QLocale& locale, const QString& folder) {
    setTranslator([](const char* pattern, int n) {
        return QCoreApplication::translate("core", pattern, nullptr, n).toStdString();
    });
    // Files and what is typed on the command line have points whatever the system's settings: a window sets
    // what printf and strtod go by, and this takes it back (Qt's own advice, QCoreApplication, "Locale
    // Settings").
    std::setlocale(LC_NUMERIC, "C");
    sayNumbersAsTheSystemDoes();
    const auto install = [&](const QString& name, const QString& from) -> const QTranslator* {
        auto* language = new QTranslator(&app);
        if (language->load(locale, name, QStringLiteral("_"), from) && app.installTranslator(language))
            return language;
        delete language;
        return nullptr;
    };
    install(QStringLiteral("qtbase"), QLibraryInfo::path(QLibraryInfo::TranslationsPath));
    const auto installOurs = [&](const QString& from) {
        const QTranslator* taken = install(QStringLiteral("hobble"), from);
        if (!taken)
            return false;
        sayDatesIn(locale);
        qputenv(kSentencesOf, taken->filePath().toUtf8());
        return true;
    };
    if (!folder.isEmpty())
        return installOurs(folder);
    const QDir program(QCoreApplication::applicationDirPath());
    for (const char* place : {"../share/hobble/translations", "translations"})
        if (installOurs(program.filePath(QLatin1String(place))))
            return true;
    return false;
}

} // namespace hobble
