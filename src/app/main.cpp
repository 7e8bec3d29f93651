// hobble [FILE] [--log LOG]
#include "app/kept_session.h"
#include "app/language.h"
#include "app/main_window.h"
#include "app/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QIcon>
#include <QLocale>
#include <QSettings>
#include <QStandardPaths>

int main(int argc, char** argv) {
    hobble::Viewport::requestOpenGl();
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Hobble"));
    QApplication::setOrganizationName(QStringLiteral("Hobble"));
    QApplication::setDesktopFileName(QStringLiteral("hobble"));
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/hobble.svg")));
    QApplication::setApplicationVersion(QStringLiteral(HOBBLE_VERSION));

    hobble::installLanguage(app, QLocale());

    QCommandLineParser options;
    options.setApplicationDescription(QStringLiteral("Range-of-motion tests of skinned characters"));
    options.addHelpOption();
    options.addVersionOption();
    options.addPositionalArgument(
        QStringLiteral("FILE"),
        QStringLiteral("a character to open: glTF, FBX, COLLADA, X, B3D, MD5 or SMD"));
    const QCommandLineOption logOption(QStringLiteral("log"), QStringLiteral("the production log to use"),
                                       QStringLiteral("LOG"));
    options.addOption(logOption);
    const QCommandLineOption demoOption(QStringLiteral("demo"),
                                        QStringLiteral("open the demo, with a log of its own"));
    options.addOption(demoOption);
    options.process(app);

    hobble::Theme::apply(QSettings().value(QStringLiteral("night")).toBool(),
                         QSettings().value(QStringLiteral("textScale"), 1.0).toDouble());
    hobble::Session session;
    hobble::MainWindow window(&session);
    hobble::KeptSession kept(&window, &session, hobble::KeptSession::usualFolder());
    window.show();
    const QString home = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    const bool asked =
        options.isSet(logOption) || options.isSet(demoOption) || !options.positionalArguments().isEmpty();
    const auto killed = asked ? std::nullopt : kept.killed();
    session.log().open(options.isSet(logOption) ? options.value(logOption)
                       : killed && !killed->log.isEmpty()
                           ? killed->log
                           : QDir(home).filePath(QStringLiteral("production-log.sqlite")));
    if (options.isSet(demoOption)) {
        window.openDemo();
    } else if (!options.positionalArguments().isEmpty()) {
        session.build().open(options.positionalArguments().front());
    } else if (killed && !killed->character.isEmpty()) {
        session.build().open(killed->character);
    }
    return QApplication::exec();
}
