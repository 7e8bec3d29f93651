// The manual: whole, with every kind, cause and check in it, no link that leads nowhere; and opened where one
// stands.
#include "app/manual.h"
#include "core/intake/check.h"
#include "support/window_test.h"

#include <QDesktopServices>
#include <QDir>
#include <QFile>
#include <QRegularExpression>
#include <QSignalSpy>
#include <QUrl>

using namespace hobble;

class TestManual : public QObject {
    Q_OBJECT

    QDir folder_{manualFolder(QCoreApplication::applicationDirPath())};
    QList<QUrl> opened_;

    QString page(const QString& name) const {
        QFile f(folder_.filePath(name));
        return f.open(QIODevice::ReadOnly) ? QString::fromUtf8(f.readAll()) : QString();
    }
    static QStringList all(const QString& text, const char* pattern) {
        QStringList out;
        for (auto it = QRegularExpression(QLatin1String(pattern)).globalMatch(text); it.hasNext();)
            out << it.next().captured(1);
        return out;
    }

public slots:
    void open(const QUrl& url) { opened_ << url; }

private slots:
    void everythingIsInIt() {
        const QString why = page(QStringLiteral("why.html"));
        QVERIFY(!why.isEmpty());
        const auto has = [&](const QString& words) {
            QVERIFY2(why.contains(QStringLiteral("id=\"%1\"").arg(manualAnchor(words))), qPrintable(words));
        };
        for (const Kind kind : kKinds)
            has(QString::fromUtf8(factsOf(kind).word));
        for (int c = 0; c < kCauseKinds; ++c)
            has(QStringLiteral("cause ") + QString::fromUtf8(factsOf(static_cast<CauseKind>(c)).word));
        for (const Check& check : intakeChecks())
            has(QStringLiteral("check ") + QString::fromUtf8(check.name));
    }

    void noLinkLeadsNowhere() {
        const QStringList pages = folder_.entryList({QStringLiteral("*.html")});
        QVERIFY(pages.size() > 20);
        int links = 0;
        for (const QString& name : pages) {
            const QString text = page(name);
            QVERIFY2(text.contains(QStringLiteral("<h1>")), qPrintable(name));
            for (const QString& link : all(text, "(?:href|src)=\"([^\"]+)\"")) {
                if (link.contains(QStringLiteral("://")) || link.startsWith(QStringLiteral("mailto:")))
                    continue;
                const QString file = link.section(QLatin1Char('#'), 0, 0),
                              anchor = link.section(QLatin1Char('#'), 1);
                const QString words = name + QStringLiteral(": ") + link;
                QVERIFY2(folder_.exists(file.isEmpty() ? name : file), qPrintable(words));
                if (!anchor.isEmpty() && !name.startsWith(QStringLiteral("reference-")))
                    QVERIFY2(
                        page(file.isEmpty() ? name : file).contains(QStringLiteral("id=\"%1\"").arg(anchor)),
                        qPrintable(words));
                ++links;
            }
            QVERIFY2(all(text, "(https?://[^\"]*\\.(?:css|js|png|woff))").isEmpty(),
                     qPrintable(name)); // nothing from elsewhere
        }
        QVERIFY(links > 300);
    }

    void keysItNamesAreThoseOfTheWindow() {
        const test::TestWindow w(QStringLiteral("manual-keys"));
        QStringList keys;
        for (const QAction* a : w.window->actionBook()->actions())
            keys << a->shortcut().toString();
        for (const QString& name : folder_.entryList({QStringLiteral("*.html")}))
            if (!name.startsWith(QStringLiteral("reference-")))
                for (const QString& key : all(page(name), "<kbd>([^<]+)</kbd>"))
                    QVERIFY2(keys.contains(key), qPrintable(name + QStringLiteral(": ") + key));
    }

    void openedWhereOneStands() {
        QDesktopServices::setUrlHandler(QStringLiteral("file"), this, "open");
        test::TestWindow w(QStringLiteral("manual"), true);
        MainWindow* window = w.window.get();
        QTest::keyClick(window, Qt::Key_F1);
        QCOMPARE(opened_.size(), 1);
        QCOMPARE(opened_.last().fileName(), QStringLiteral("intake.html"));
        QVERIFY(w.openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb")));
        window->showPage(window->intake());
        BuildDesk& build = w.session->build();
        QVERIFY(!build.checks().empty());
        build.selectCheck(0);
        QTest::keyClick(window, Qt::Key_F1, Qt::ShiftModifier);
        QCOMPARE(opened_.last().fileName(), QStringLiteral("why.html"));
        QCOMPARE(opened_.last().fragment(),
                 manualAnchor(QStringLiteral("check ") + QString::fromStdString(build.checks()[0].check)));
        window->showPage(window->review());
        QTest::keyClick(window, Qt::Key_Period); // to a fault
        QTest::keyClick(window, Qt::Key_F1, Qt::ShiftModifier);
        const Finding& chosen = w.session->run().run()->findings[std::size_t(w.session->run().finding())];
        QCOMPARE(opened_.last().fragment(), manualAnchor(QString::fromUtf8(factsOf(chosen.kind).word)));
        QTest::keyClick(window, Qt::Key_F1);
        QCOMPARE(opened_.last().fileName(), QStringLiteral("review.html"));
        QDesktopServices::unsetUrlHandler(QStringLiteral("file"));
    }
};

HOBBLE_TEST(TestManual)
#include "test_manual.moc"
