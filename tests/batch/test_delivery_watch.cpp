// The nightly: a line for each delivery, none of a file half written, nothing twice whatever restarts there
// are, and what crashes or hangs is one line too. The program that tests is a stand-in here; once it is the
// real one.
#include "batch/delivery_watch.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestDeliveryWatch : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> folder_;
    QStringList lines_;
    std::atomic<bool> stop_{false};

    QString at(const QString& name) const { return folder_->filePath(name); }
    void deliver(const QString& name, const QByteArray& bytes) const {
        QDir().mkpath(at(QStringLiteral("in")));
        QFile f(at(QStringLiteral("in/")) + name);
        if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size())
            qFatal("cannot write");
    }
    QString standIn() const {
        const QString path = at(QStringLiteral("stand-in"));
        QFile::remove(path);
        QFile::copy(QStringLiteral(HOBBLE_BATCH_STAND_IN), path);
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        return path;
    }
    int started() const {
        QFile f(at(QStringLiteral("started")));
        return f.open(QIODevice::ReadOnly) ? static_cast<int>(f.readAll().count('\n')) : 0;
    }
    WatchOptions options(bool once = true) {
        WatchOptions o;
        o.batch.program = standIn();
        o.batch.folder = at(QStringLiteral("out"));
        o.batch.failAt = 3;
        o.batch.secondsEach = 2;
        o.watched = at(QStringLiteral("in"));
        o.settlingMs = 100;
        o.once = once;
        o.cancel = &stop_;
        o.tell = [this](const QString& line) { lines_ << line; };
        return o;
    }

private slots:
    void init() {
        folder_ = std::make_unique<QTemporaryDir>();
        lines_.clear();
        stop_ = false;
    }

    void aLineForEach() {
        deliver(QStringLiteral("a.glb"), "fine 2\n");
        deliver(QStringLiteral("b.glb"), "fine 4\n");
        deliver(QStringLiteral("c.glb"), "crash 0\n");
        deliver(QStringLiteral("d.glb"), "hang 0\n");
        deliver(QStringLiteral("e.glb"), "fine 0\n");
        deliver(QStringLiteral("notes.txt"), "no character");
        const auto tested = watchDeliveries(options());
        QVERIFY2(tested, tested ? "" : tested.error().c_str());
        QCOMPARE(tested->size(), std::size_t(5));
        lines_.sort();
        QCOMPARE(lines_.size(), 5);
        QCOMPARE(lines_[0], QStringLiteral("a.glb: one fault, of severity 2; passes"));
        QCOMPARE(lines_[1], QStringLiteral("b.glb: one fault, of severity 4; does not pass"));
        QVERIFY(lines_[2].startsWith(QStringLiteral("c.glb: not tested, ")));
        QVERIFY(lines_[3].startsWith(QStringLiteral("d.glb: not tested, ")));
        QCOMPARE(lines_[4], QStringLiteral("e.glb: no fault; passes"));
        QFile page(at(QStringLiteral("out/index.html")));
        QVERIFY(page.open(QIODevice::ReadOnly));
        const QByteArray html = page.readAll();
        for (const char* file : {"a.glb", "b.glb", "c.glb", "d.glb", "e.glb"})
            QVERIFY2(html.contains(file), file);
    }

    // Restarted, nothing is told twice; what came meanwhile is, and what is another now.
    void nothingTwiceOverRestarts() {
        deliver(QStringLiteral("a.glb"), "fine 2\n");
        deliver(QStringLiteral("b.glb"), "fine 1\n");
        QVERIFY(watchDeliveries(options()));
        QCOMPARE(lines_.size(), 2);
        QCOMPARE(started(), 2);
        QVERIFY(watchDeliveries(options()));
        QCOMPARE(lines_.size(), 2);
        QCOMPARE(started(), 2);
        deliver(QStringLiteral("b.glb"), "fine 3\nanother build");
        deliver(QStringLiteral("c.glb"), "fine 0\n");
        QVERIFY(watchDeliveries(options()));
        QCOMPARE(lines_.size(), 4);
        QVERIFY(lines_.contains(QStringLiteral("b.glb: one fault, of severity 3; does not pass")));
        QCOMPARE(started(), 4);
        // what was told is lost: told again, and not tested again, for results are known by content
        QVERIFY(QFile::remove(at(QStringLiteral("out/told.json"))));
        QVERIFY(watchDeliveries(options()));
        QCOMPARE(lines_.size(), 7);
        QCOMPARE(started(), 4);
    }

    // A file that grows is left until it is whole.
    void neverHalfWritten() {
        deliver(QStringLiteral("slow.glb"), "crash");
        WatchOptions o = options(false);
        o.settlingMs = 600;
        int grown = 0;
        QTimer writer;
        connect(&writer, &QTimer::timeout, this, [&] {
            if (++grown < 8) { // a part at a time, each sooner than the file could be taken for whole
                deliver(QStringLiteral("slow.glb"), QByteArray("crash") + QByteArray(grown, ' '));
                return;
            }
            if (grown == 8)
                deliver(QStringLiteral("slow.glb"), "fine 1\nwhole");
            if (!lines_.isEmpty())
                stop_ = true;
        });
        writer.start(150);
        QVERIFY(watchDeliveries(o));
        QCOMPARE(lines_, QStringList{QStringLiteral("slow.glb: one fault, of severity 1; passes")});
        QCOMPARE(started(), 1);
    }

    void aMessageForEach() {
        deliver(QStringLiteral("a.glb"), "fine 4\n");
        WatchOptions o = options();
        o.outbox = at(QStringLiteral("outbox"));
        o.from = QStringLiteral("hobble@saltmarsh.example");
        o.to = QStringLiteral("leads@saltmarsh.example");
        QDir().mkpath(o.outbox);
        QVERIFY(watchDeliveries(o));
        const QStringList messages = QDir(o.outbox).entryList(QDir::Files);
        QCOMPARE(messages.size(), 1);
        QFile message(QDir(o.outbox).filePath(messages[0]));
        QVERIFY(message.open(QIODevice::ReadOnly));
        const QByteArray bytes = message.readAll();
        QVERIFY(bytes.contains("leads@saltmarsh.example") && bytes.contains("report.html"));
    }

    // Stopped in the middle of a test: it is tested at the next start.
    void aStopLosesNothing() {
        deliver(QStringLiteral("a.glb"), "hang 0\n");
        WatchOptions o = options(false);
        o.batch.secondsEach = 600;
        QTimer looks;
        connect(&looks, &QTimer::timeout, this, [&] { stop_ = started() > 0; });
        looks.start(20);
        QVERIFY(watchDeliveries(o));
        looks.stop();
        QVERIFY(lines_.isEmpty());
        stop_ = false;
        deliver(QStringLiteral("a.glb"), "fine 0\n");
        QVERIFY(watchDeliveries(options()));
        QCOMPARE(lines_, QStringList{QStringLiteral("a.glb: no fault; passes")});
    }

    void badFolders() {
        WatchOptions o = options();
        const auto none = watchDeliveries(o); // "in" was never made
        QVERIFY(!none && QString::fromStdString(none.error()).contains(QStringLiteral("no such folder")));
        deliver(QStringLiteral("a.glb"), "fine 0\n");
        o.batch.folder = QStringLiteral("/proc/nowhere");
        QVERIFY(!watchDeliveries(o));
    }

    // The folder goes away and comes back, as a server's does.
    void aFolderThatGoesAway() {
        deliver(QStringLiteral("a.glb"), "fine 0\n");
        WatchOptions o = options(false);
        QTimer looks;
        bool back = false;
        connect(&looks, &QTimer::timeout, this, [&] {
            if (lines_.size() == 1)
                QDir(o.watched).removeRecursively();
            if (lines_.size() == 2 && !back) {
                back = true;
                deliver(QStringLiteral("b.glb"), "fine 1\n");
            }
            stop_ = lines_.size() == 4;
        });
        looks.start(30);
        QVERIFY(watchDeliveries(o));
        QVERIFY(lines_[1].endsWith(QStringLiteral("is gone; waiting for it")));
        QVERIFY(lines_[2].endsWith(QStringLiteral("is there again")));
        QCOMPARE(lines_[3], QStringLiteral("b.glb: one fault, of severity 1; passes"));
    }

    // The command itself, killed and started again.
    void theRealOneKilled() {
        QDir().mkpath(at(QStringLiteral("in")));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/lighthouse-newt.glb"),
                            at(QStringLiteral("in/newt.glb"))));
        QProcess cli;
        const QStringList words{QStringLiteral("watch"),     at(QStringLiteral("in")),
                                QStringLiteral("--out"),     at(QStringLiteral("out")),
                                QStringLiteral("--singles"), QStringLiteral("--settle"),
                                QStringLiteral("200")};
        QByteArray said;
        connect(&cli, &QProcess::readyReadStandardOutput, this, [&] { said += cli.readAllStandardOutput(); });
        cli.start(QStringLiteral(HOBBLE_CLI), words);
        QVERIFY(QTest::qWaitFor([&] { return said.contains("newt.glb: "); }, 120000));
        cli.kill();
        QVERIFY(cli.waitForFinished());
        QVERIFY2(said.contains("faults, worst") || said.contains("one fault"), said.constData());
        said.clear();
        QVERIFY(QFile::copy(at(QStringLiteral("in/newt.glb")), at(QStringLiteral("in/second.glb"))));
        cli.start(QStringLiteral(HOBBLE_CLI), words);
        QVERIFY(QTest::qWaitFor([&] { return said.contains("second.glb: "); }, 120000));
        QVERIFY(!said.contains("newt.glb: "));
        cli.terminate();
        QVERIFY(cli.waitForFinished());
        QCOMPARE(cli.exitCode(), 0);
    }
};

HOBBLE_TEST(TestDeliveryWatch)
#include "test_delivery_watch.moc"
