// Where one was is there again at the next start: however the window ended, whoever else has one open, and
// without taking the place out of a hand that is quicker.
#include "app/kept_session.h"
#include "support/window_test.h"

#include <QComboBox>
#include <QJsonDocument>
#include <QProcess>
#include <QSplitter>

using namespace hobble;
using namespace hobble::test;

class TestKeptSession : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    QString sessions() const { return folder_.filePath(QStringLiteral("sessions")); }
    static QString demo() { return QFileInfo(QStringLiteral(HOBBLE_DEMO_DIR)).canonicalFilePath(); }
    static QString badger() { return demo() + QStringLiteral("/builds/1/badger-postmaster.glb"); }

    static QJsonObject readObject(const QString& path) {
        QFile f(path);
        return f.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(f.readAll()).object() : QJsonObject();
    }
    // What a window that runs as a program of its own has written of itself, once `holds`.
    static QJsonObject writtenIn(const QString& folder,
                                 const std::function<bool(const QJsonObject&)>& holds) {
        QJsonObject found;
        (void)QTest::qWaitFor(
            [&] {
                for (const QFileInfo& f :
                     QDir(folder).entryInfoList({QStringLiteral("*-*.json")}, QDir::Files))
                    if (const QJsonObject o = readObject(f.filePath()); holds(o)) {
                        found = o;
                        return true;
                    }
                return false;
            },
            300000);
        return found;
    }
    std::unique_ptr<QProcess> program(const QStringList& arguments) const {
        auto p = std::make_unique<QProcess>();
        QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
        e.insert(QStringLiteral("XDG_DATA_HOME"), folder_.filePath(QStringLiteral("data")));
        e.insert(QStringLiteral("XDG_CONFIG_HOME"), folder_.filePath(QStringLiteral("config")));
        e.insert(QStringLiteral("XDG_CACHE_HOME"), folder_.filePath(QStringLiteral("cache")));
        p->setProcessEnvironment(e);
        p->setProcessChannelMode(QProcess::ForwardedChannels);
        p->start(QStringLiteral(HOBBLE_PROGRAM), arguments);
        return p;
    }

private slots:
    void closedAndOpened() {
        double angle = 0;
        int width = 0;
        Camera camera;
        const QString log = folder_.filePath(QStringLiteral("log.sqlite"));
        {
            TestWindow w(QStringLiteral("keptfirst"), true);
            KeptSession kept(w.window.get(), w.session.get(), sessions());
            QVERIFY(!kept.killed());
            w.session->log().open(log);
            QVERIFY(w.openAndRun(badger()));
            comeToRest();
            ReviewPage* review = w.window->review();
            w.window->showPage(review);
            // a motion by its strip, another colour, a limb folded, a wider left column, seen from elsewhere
            const int bend = w.motion("left-elbow-flex");
            review->strips()->reveal(bend);
            QTest::mouseClick(review->strips()->viewport(), Qt::LeftButton, {},
                              review->strips()->pointOf(bend, 70));
            QVERIFY(w.arrived());
            auto* colours = w.find<QComboBox>(QStringLiteral("colourBy"));
            colours->setCurrentIndex(2);
            emit colours->activated(2);
            review->strips()->setFolded(QStringLiteral("Hands"), true);
            auto* columns = review->findChild<QSplitter*>();
            columns->setSizes({520, 500, 260});
            comeToRest();
            width = columns->sizes().front();
            if (Viewport* v = review->viewport()) {
                const QPoint middle = v->rect().center();
                QTest::mousePress(v, Qt::RightButton, {}, middle);
                QTest::mouseMove(v, middle + QPoint(60, 20));
                QTest::mouseRelease(v, Qt::RightButton, {}, middle + QPoint(60, 20));
                v->settle();
                camera = v->camera();
            }
            angle = w.session->run().poseAt();
            QVERIFY(angle > 60 && angle < 80);
            // on the Log page only what is to be checked, and there it is left
            QTest::keyClick(w.window.get(), Qt::Key_6, Qt::ControlModifier);
            auto* states = w.find<QComboBox>(QStringLiteral("filterState"));
            states->setCurrentIndex(1);
            emit states->activated(1);
            comeToRest();
            QTest::keyClick(w.window.get(), Qt::Key_3, Qt::ControlModifier);
        }
        const QStringList left = QDir(sessions()).entryList(QDir::Files);
        QCOMPARE(left, QStringList{QStringLiteral("last.json")}); // and no lock

        TestWindow w(QStringLiteral("keptsecond"), true);
        KeptSession kept(w.window.get(), w.session.get(), sessions());
        QVERIFY(!kept.killed());
        ReviewPage* review = w.window->review();
        QCOMPARE(w.find<QComboBox>(QStringLiteral("colourBy"))->currentIndex(), 2);
        QCOMPARE(w.find<QComboBox>(QStringLiteral("filterState"))->currentIndex(), 1);
        QVERIFY(review->strips()->isFolded(QStringLiteral("Hands")));
        w.session->log().open(log);
        QVERIFY(w.openAndRun(badger()));
        comeToRest();
        QVERIFY(w.window->shownPage() == review);
        QCOMPARE(QString::fromStdString(w.session->run().motionShown()->id),
                 QStringLiteral("left-elbow-flex"));
        QCOMPARE(w.session->run().poseAt(), angle);
        QCOMPARE(review->findChild<QSplitter*>()->sizes().front(), width);
        if (Viewport* v = review->viewport()) {
            v->settle();
            QVERIFY(std::abs(v->camera().yaw - camera.yaw) < 1e-6);
            QVERIFY(std::abs(v->camera().distance - camera.distance) < 1e-6);
            QVERIFY((v->camera().target - camera.target).norm() < 1e-6);
        }
    }

    // A strip pressed while the run is under way stays pressed.
    void aHandIsQuicker() {
        TestWindow w(QStringLiteral("kepthand"), true);
        KeptSession kept(w.window.get(), w.session.get(), sessions());
        w.session->log().open(folder_.filePath(QStringLiteral("log.sqlite")));
        w.session->build().open(badger());
        QVERIFY(QTest::qWaitFor([&] { return w.session->run().motion() >= 0; }, 180000));
        // what comes from the display is told from what a program made
        QTest::mouseClick(w.window->windowHandle(), Qt::LeftButton, {}, QPoint(4, 4));
        w.session->run().setPose(w.motion("left-knee-flex"), 40);
        QVERIFY(w.finished());
        comeToRest();
        QCOMPARE(QString::fromStdString(w.session->run().motionShown()->id),
                 QStringLiteral("left-knee-flex"));
        QCOMPARE(w.session->run().poseAt(), 40.0);
    }

    // The program itself, killed and started again, with another window open beside it all the while.
    void killedAndStarted() {
        const QString written = folder_.filePath(QStringLiteral("data/Hobble/Hobble/sessions"));
        const QString log = folder_.filePath(QStringLiteral("team.sqlite"));
        auto other = program({QStringLiteral("--log"), log});
        QVERIFY(other->waitForStarted());
        const QString pid = QString::number(other->processId());
        auto one = program({badger(), QStringLiteral("--log"), log});
        const auto isOpen = [](const QJsonObject& o) {
            return o.value(QStringLiteral("character")).toString() == badger() &&
                   o.value(QStringLiteral("places"))
                           .toObject()
                           .value(badger())
                           .toObject()
                           .value(QStringLiteral("page")) == QStringLiteral("review");
        };
        QVERIFY(!writtenIn(written, isOpen).isEmpty());
        one->kill();
        QVERIFY(one->waitForFinished());

        auto again = program({});
        const QJsonObject found = writtenIn(written, [&](const QJsonObject& o) {
            return isOpen(o) &&
                   QDir(written)
                           .entryList({QString::number(again->processId()) + QStringLiteral("-*.json")})
                           .size() == 1;
        });
        QCOMPARE(found.value(QStringLiteral("log")).toString(), log);
        // the other one's was not taken from it
        QCOMPARE(QDir(written).entryList({pid + QStringLiteral("-*.json")}).size(), 1);
        for (QProcess* p : {again.get(), other.get()}) {
            p->kill();
            p->waitForFinished();
        }

        // and in a window whose words are read
        TestWindow w(QStringLiteral("keptkilled"), true);
        KeptSession kept(w.window.get(), w.session.get(), written);
        QVERIFY(kept.killed());
        QVERIFY(!kept.killed()->character.isEmpty());
        w.session->log().open(kept.killed()->log);
        w.session->build().open(kept.killed()->character);
        auto* message = w.find<QLabel>(QStringLiteral("message"));
        QVERIFY(QTest::qWaitFor([&] { return message->text().contains(QLatin1String("had not ended")); },
                                180000));
        QVERIFY(w.finished());
    }

    // Files that were cut short, or are of something else, keep nobody from starting.
    void whatCannotBeRead() {
        QDir().mkpath(sessions());
        const auto put = [&](const char* name, const QByteArray& bytes) {
            QFile f(QDir(sessions()).filePath(QLatin1String(name)));
            QVERIFY(f.open(QIODevice::WriteOnly) && f.write(bytes) == bytes.size());
        };
        put("last.json",
            "{\"layout\": {\"review\": {\"sizes\": [[1, 2]], \"states\": {\"colourBy\": 9999}, \"folded\": "
            "7}, "
            "\"log\": {\"filter\": {\"states\": [\"nonsense\"], \"grouping\": 77}, \"sizes\": [[-5, 0]]}}, "
            "\"places\": [], \"window\": \"not a geometry\"}");
        put("77-1.json", "{\"character\": \"/nowh");
        put("78-1.json", "");
        {
            TestWindow w(QStringLiteral("keptbroken"), true);
            KeptSession kept(w.window.get(), w.session.get(), sessions());
            QVERIFY(!kept.killed());
            QVERIFY(w.find<QComboBox>(QStringLiteral("colourBy"))->currentIndex() >= 0);
            for (int size : w.window->review()->findChild<QSplitter*>()->sizes())
                QVERIFY(size >= 0);
            w.session->log().open(folder_.filePath(QStringLiteral("log.sqlite")));
            QVERIFY(w.openAndRun(badger()));
        }
        QCOMPARE(QDir(sessions()).entryList(QDir::Files), QStringList{QStringLiteral("last.json")});
    }
};

HOBBLE_TEST(TestKeptSession)
#include "test_kept_session.moc"
