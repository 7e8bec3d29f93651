// The session without a window: opening, posing, the job queue, the log and undo.
#include "app/session/session.h"
#include "support/suite.h"

#include <QApplication>
#include <QFile>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestSession : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    const QString demo_ = QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb");

    static bool finished(Session& s) {
        return QTest::qWaitFor([&] { return s.run().run() && !s.jobs().busy(); }, 60000);
    }

private slots:
    void initTestCase() { QSettings().clear(); }

    void aFailedOpenKeepsWhatWasOpen() {
        Session s;
        s.build().open(demo_);
        QVERIFY(finished(s));
        const auto before = s.build().subject();
        QSignalSpy failed(&s.build(), &Desk::failed);
        s.build().open(folder_.filePath(QStringLiteral("missing.glb")));
        QTRY_COMPARE(failed.size(), 1);
        QVERIFY(failed[0][0].toString().contains(QStringLiteral("missing.glb")));
        QCOMPARE(s.build().subject(), before);
        QVERIFY(s.run().run() != nullptr);
    }

    void titlesAreReadable() {
        const QString copy = folder_.filePath(QStringLiteral("harbour_seal-clerk.glb"));
        QVERIFY(QFile::copy(demo_, copy));
        Session s;
        s.build().open(copy);
        QVERIFY(finished(s));
        QCOMPARE(s.build().title(), QStringLiteral("Harbour seal clerk"));
    }

    // Whatever is asked for meanwhile, the last pose asked for is the one that comes.
    void scrubbingEndsOnTheNewestPose() {
        Session s;
        s.build().open(demo_);
        QVERIFY(finished(s));
        for (int d = 0; d <= 100; ++d)
            s.run().setPose(12, d * 0.5);
        // asking for a pose must not compute it
        QVERIFY(!s.run().view().frame() || s.run().view().frame()->motion != 12 ||
                s.run().view().frame()->at != s.run().poseAt());
        QTRY_VERIFY(s.run().view().frame() && s.run().view().frame()->motion == 12 &&
                    s.run().view().frame()->at == s.run().poseAt());
        // and it is the pose it says it is
        PoseRequest r;
        r.subject = s.build().subject();
        r.pose =
            poseAt(s.build().subject()->character->skeleton, s.plan().plan().motions[12], s.run().poseAt());
        const PosedFrame expected = computeFrame(r);
        QVERIFY(expected.position == s.run().view().frame()->position);
        for (const Vec3& n : expected.normal)
            QVERIFY(std::abs(n.norm() - 1) < 1e-4f);
    }

    void anglesStayWithinTheMotion() {
        Session s;
        s.build().open(demo_);
        QVERIFY(finished(s));
        s.run().setPose(3, 1000);
        QCOMPARE(s.run().poseAt(), s.plan().plan().motions[3].limit());
        s.run().setPose(3, -20);
        QCOMPARE(s.run().poseAt(), 0.0);
        s.run().setPose(9999, 10);
        QCOMPARE(s.run().motion(), 3);
    }

    void undoAndRedoOfTheLog() {
        Session s;
        s.log().open(folder_.filePath(QStringLiteral("undo.sqlite")));
        s.build().open(demo_);
        QVERIFY(finished(s));
        s.log().addPerson(QStringLiteral("Ines Marram"));
        s.run().logDefect(0, "{}", {});
        QCOMPARE(s.log().defects().size(), 1);
        const qint64 id = s.log().defects()[0].id;
        s.log().change({id}, QStringLiteral("assignee"), QStringLiteral("Ines Marram"));
        s.log().change({id}, QStringLiteral("severity"), QStringLiteral("1"));
        s.log().change({id}, QStringLiteral("severity"), QStringLiteral("1")); // no change, no event
        s.log().comment({id}, QStringLiteral("   "));                          // nothing said
        QCOMPARE(s.undoStack().count(), 4);
        s.undoStack().undo();
        s.undoStack().undo();
        QCOMPARE(s.log().defects()[0].assignee, QString());
        s.undoStack().undo();
        QCOMPARE(s.log().defects()[0].state, DefectState::Withdrawn);
        s.undoStack().undo();
        QVERIFY(!s.log().people()[0].active);
        for (int i = 0; i < 4; ++i)
            s.undoStack().redo();
        QVERIFY(s.log().people()[0].active);
        QCOMPARE(s.log().defects()[0].state, DefectState::Assigned); // with the person
        QCOMPARE(s.log().defects()[0].assignee, QStringLiteral("Ines Marram"));
        QCOMPARE(s.log().defects()[0].severity, 1);
    }

    void rosterChangesAndTheirUndo() {
        Session s;
        s.log().open(folder_.filePath(QStringLiteral("roster.sqlite")));
        s.log().addPerson(QStringLiteral("Wim"));
        const qint64 wim = s.log().people()[0].id;
        s.log().renamePerson(wim, QStringLiteral("Wim Knot"));
        s.log().removePerson(wim);
        QVERIFY(!s.log().people()[0].active);
        s.log().addPerson(QStringLiteral("Wim Knot")); // the same person again, not a second one
        QCOMPARE(s.log().people().size(), 1);
        QVERIFY(s.log().people()[0].active);
        for (int i = 0; i < 3; ++i)
            s.undoStack().undo();
        QCOMPARE(s.log().people()[0].name, QStringLiteral("Wim"));
        QSignalSpy failed(&s.log(), &Desk::failed);
        s.log().addPerson(QStringLiteral("Wim"));
        QCOMPARE(failed.size(), 1);
    }

    void twoLeadsAtOnce() {
        const QString path = folder_.filePath(QStringLiteral("shared.sqlite"));
        Session petra, hauke;
        petra.log().open(path);
        petra.build().open(demo_);
        QVERIFY(finished(petra));
        petra.run().logDefect(0, "{}", {});
        hauke.log().open(path);
        const qint64 id = petra.log().defects()[0].id;
        petra.log().setAuthor(QStringLiteral("Petra"));
        petra.log().change({id}, QStringLiteral("state"), QStringLiteral("being fixed"));
        QSignalSpy failed(&hauke.log(), &Desk::failed);
        hauke.log().change({id}, QStringLiteral("state"), QStringLiteral("intended"),
                           QStringLiteral("so drawn"));
        QCOMPARE(failed.size(), 1);
        QVERIFY(failed[0][0].toString().contains(QStringLiteral("changed defect 1 meanwhile")));
        QCOMPARE(hauke.log().defects()[0].state, DefectState::BeingFixed); // shown as it now is
        QCOMPARE(hauke.undoStack().count(), 0);
    }

    void badLogsAreTold() {
        const QString path = folder_.filePath(QStringLiteral("diary.txt"));
        QFile f(path);
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("not a log at all, but longer than a header");
        f.close();
        Session s;
        QSignalSpy failed(&s.log(), &Desk::failed);
        s.log().open(path);
        QCOMPARE(failed.size(), 1);
        QVERIFY(!s.log().there());
        s.build().open(demo_);
        QVERIFY(finished(s));
        s.run().logDefect(0, "{}", {});
        QVERIFY(failed.back()[0].toString().contains(QStringLiteral("no log open")));
    }

    void jobsRunInTurnAndCanBeStopped() {
        JobQueue jobs;
        QStringList order;
        QSignalSpy idle(&jobs, &JobQueue::idle);
        std::atomic<bool> sawCancel{false};
        jobs.start(QStringLiteral("one"),
                   [&](JobControl&) { return [&] { order << QStringLiteral("one"); }; });
        jobs.start(QStringLiteral("two"), [&](JobControl& c) {
            while (!c.cancelled)
                QTest::qSleep(1);
            sawCancel = true;
            return [&] { order << QStringLiteral("two"); };
        });
        jobs.start(QStringLiteral("three"),
                   [&](JobControl&) { return [&] { order << QStringLiteral("three"); }; });
        QTRY_COMPARE(jobs.title(), QStringLiteral("two"));
        jobs.cancel();
        QTRY_COMPARE(idle.size(), 1);
        QVERIFY(sawCancel);
        QCOMPARE(order, QStringList({QStringLiteral("one"), QStringLiteral("two")}));
    }
};

HOBBLE_TEST(TestSession)
#include "test_session.moc"
