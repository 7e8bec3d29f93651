// The first minute: what one sees without a character, the demo a press away, one's own file to its first
// explained finding, and what was opened before.
#include "support/window_test.h"

#include "app/review/findings_panel.h"
#include "app/session/recent_shelf.h"
#include "app/start/start_sheet.h"
#include "story/demo_story.h"

#include <QElapsedTimer>
#include <QFileDialog>
#include <QTimer>

using namespace hobble;
using namespace hobble::test;

class TestStartSheet : public QObject {
    Q_OBJECT

    static QString demo() { return QFileInfo(QStringLiteral(HOBBLE_DEMO_DIR)).canonicalFilePath(); }
    static StartSheet* sheet(const TestWindow& w) { return w.find<StartSheet>(QStringLiteral("start")); }

private slots:
    // From the start to an explained finding on one's own file: presses are counted, and seconds told.
    void ofOnesOwnFile() {
        TestWindow w(QStringLiteral("startown"));
        const QString own = w.folder.filePath(QStringLiteral("my-badger.glb"));
        QVERIFY(QFile::copy(demo() + QStringLiteral("/builds/1/badger-postmaster.glb"), own));
        QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
        w.session->log().open(w.folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(sheet(w)->isVisible());
        QVERIFY(w.window->findChildren<QFrame*>(QRegularExpression(QStringLiteral("^recent-")))
                    .isEmpty()); // nothing yet
        QElapsedTimer clock;
        clock.start();
        int presses = 0;
        bool typed = false;
        QTimer look; // the dialog holds the loop, as it does for a person
        connect(&look, &QTimer::timeout, this, [&] {
            auto* dialog = w.window->findChild<QFileDialog*>();
            if (!dialog || typed)
                return;
            typed = true;
            auto* name = dialog->findChild<QLineEdit*>();
            name->setText(own);
            QTest::keyClick(name, Qt::Key_Return);
            ++presses;
        });
        look.start(20);
        QTest::mouseClick(w.find<QPushButton>(QStringLiteral("intakeOpen")), Qt::LeftButton);
        ++presses;
        QVERIFY(w.finished());
        comeToRest();
        if (w.window->shownPage() != w.window->review()) { // something spoils the test: Intake stays in front
            QTest::keyClick(w.window.get(), Qt::Key_3, Qt::ControlModifier);
            ++presses;
        }
        QVERIFY(w.window->shownPage() == w.window->review());
        QTest::keyClick(w.window->review()->firstFocus(), Qt::Key_Period); // the first fault
        ++presses;
        QVERIFY(w.arrived());
        const Fault* fault = w.session->run().faultOf(w.session->run().finding());
        QVERIFY(fault && fault->headline());
        const QString told =
            TestWindow::wordsOf(w.window->review()->findChild<FindingsPanel*>()).join(QLatin1Char('\n'));
        QString cause = QString::fromUtf8(factsOf(fault->headline()->kind).word);
        cause[0] = cause[0].toUpper();
        QVERIFY2(told.contains(cause), qPrintable(told));
        QVERIFY2(presses <= 4, qPrintable(QString::number(presses)));
        qInfo("from the start to the first explained finding: %d presses, %.1f s", presses,
              double(clock.elapsed()) / 1000);
        QVERIFY(QTest::qWaitFor([] { return QThreadPool::globalInstance()->waitForDone(0); }, 60000));

        // it is remembered as it stands
        const auto recent = RecentShelf::of(w.session->build().recent());
        QCOMPARE(recent.size(), 1);
        QCOMPARE(recent[0].faults, int(w.session->run().run()->faults.size()));
        QCOMPARE(recent[0].build, 1);
        QVERIFY(!recent[0].picture.isNull() && !recent[0].changed);
        // the picture is of something: not one colour
        const QRgb corner = recent[0].picture.pixel(0, 0);
        bool drawn = false;
        for (int y = 0; y < recent[0].picture.height() && !drawn; y += 3)
            for (int x = 0; x < recent[0].picture.width() && !drawn; x += 3)
                drawn = recent[0].picture.pixel(x, y) != corner;
        QVERIFY(drawn);
        QFile grown(own);
        QVERIFY(grown.open(QIODevice::Append) && grown.write(" ") == 1);
        grown.close();
        QVERIFY(
            grown.open(QIODevice::ReadWrite) &&
            grown.setFileTime(QDateTime::currentDateTime().addSecs(60), QFileDevice::FileModificationTime));
        grown.close();
        QVERIFY(RecentShelf::of(w.session->build().recent())[0].changed);
        QVERIFY(QFile::remove(own));
        QVERIFY(RecentShelf::of(w.session->build().recent()).isEmpty());
    }

    void theDemoIsOnePressAway() {
        TestWindow w(QStringLiteral("startdemo"), true);
        const QString home = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
        QDir(home + QStringLiteral("/demo")).removeRecursively();
        QTest::mouseClick(w.find<QPushButton>(QStringLiteral("openDemo")), Qt::LeftButton);
        QVERIFY(w.finished());
        QVERIFY(w.session->log().place().startsWith(home));
        QVERIFY(w.session->log().openDefects() > 5);
        QCOMPARE(w.session->build().number(), 3);
        for (const BuildState& b : w.session->build().builds()) // each is found where it is
            QVERIFY2(QFileInfo::exists(b.build.path) && QFileInfo(b.build.path).isAbsolute(),
                     qPrintable(b.build.path));
    }

    // What is there already is somebody's work.
    void theDemosLogIsKept() {
        const QTemporaryDir folder;
        const auto first = setUpDemo(demo(), folder.path());
        QVERIFY2(first, first ? "" : first.error().c_str());
        {
            const auto log = ProductionLog::open(first->log);
            QVERIFY(log && (*log)->addPerson(QStringLiteral("Somebody New")));
        }
        const auto again = setUpDemo(demo(), folder.path());
        QVERIFY(again);
        const auto log = ProductionLog::open(again->log);
        const auto people = (*log)->people();
        QVERIFY(people);
        QStringList names;
        for (const Person& p : *people)
            names << p.name;
        QVERIFY(names.contains(QStringLiteral("Somebody New")));
        QVERIFY(!setUpDemo(demo(), QStringLiteral("/proc/nowhere")));
        QVERIFY(!setUpDemo(folder.path() + QStringLiteral("/not there"),
                           folder.filePath(QStringLiteral("else"))));
    }

    void theLogAndTheWatchedFolderAreTold() {
        TestWindow w(QStringLiteral("startlog"));
        const QString log = w.folder.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(demo() + QStringLiteral("/demo-log.sqlite"), log));
        QVERIFY(QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner));
        w.session->log().open(log);
        auto* words = w.find<QLabel>(QStringLiteral("startLog"));
        QVERIFY(QTest::qWaitFor([&] { return words->text().contains(QStringLiteral("defects are open")); },
                                60000));
        QVERIFY2(words->text().startsWith(QString::number(w.session->log().openDefects())),
                 qPrintable(words->text()));
        QCOMPARE(w.find<QLabel>(QStringLiteral("startLogPlace"))->text(), log);
        QVERIFY(!w.find<QPushButton>(QStringLiteral("startUnwatch"))->isVisible());
        QVERIFY(w.session->build().watchFolder(w.folder.path()));
        comeToRest();
        QVERIFY(w.find<QLabel>(QStringLiteral("startWatched"))->text().contains(w.folder.path()));
        QTest::mouseClick(w.find<QPushButton>(QStringLiteral("startUnwatch")), Qt::LeftButton);
        comeToRest();
        QVERIFY(w.session->build().watchedFolder().isEmpty());
    }

    // By keys alone: to a card, and in.
    void aCardIsOpenedByKeys() {
        TestWindow w(QStringLiteral("startkeys"));
        const QString path = demo() + QStringLiteral("/lighthouse-newt.glb");
        QSettings().setValue(QStringLiteral("recent"), QStringList{path});
        sheet(w)->refresh();
        comeToRest();
        auto* card = w.find<QFrame>(QStringLiteral("recent-lighthouse-newt.glb"));
        QVERIFY(card->accessibleName().contains(QStringLiteral("not run yet")));
        QWidget* at = w.find<QPushButton>(QStringLiteral("intakeOpen"));
        at->setFocus();
        for (int i = 0; i < 12 && QApplication::focusWidget() != card; ++i)
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QVERIFY(QApplication::focusWidget() == card);
        QTest::keyClick(card, Qt::Key_Return);
        QVERIFY(QTest::qWaitFor([&] { return w.session->build().subject() != nullptr; }, 60000));
        QCOMPARE(w.session->build().build()->source, path.toStdString());
    }
};

HOBBLE_TEST(TestStartSheet)
#include "test_start_sheet.moc"
