// A disk that fills up while the log is written: a file system of a few megabytes, again and again. What was
// confirmed is there; what was not left nothing; once there is room again, writing goes on.
#include "log/defect_json.h"
#include "log/log_copy.h"
#include "log/production_log.h"
#include "support/suite.h"

#include <QFile>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <sys/resource.h>

using namespace hobble;

class TestFullDisk : public QObject {
    Q_OBJECT

    static std::unique_ptr<ProductionLog> open(const QString& path) {
        auto log = ProductionLog::open(path, 500);
        if (!log)
            qFatal("%s", log.error().c_str());
        return std::move(*log);
    }

    // No file may grow beyond that from here on, as on a disk that is full.
    static void leaveRoom(qint64 bytes) {
        rlimit limit{};
        getrlimit(RLIMIT_FSIZE, &limit);
        limit.rlim_cur = bytes < 0 ? limit.rlim_max : static_cast<rlim_t>(bytes);
        setrlimit(RLIMIT_FSIZE, &limit);
    }

    static DefectFacts facts(qint64 build) {
        DefectFacts f;
        f.buildId = build;
        f.what = QStringLiteral("Left elbow pinches");
        f.pose = f.camera = f.marks = "{}";
        f.picture = QByteArray(30000, 'p');
        return f;
    }

private slots:
    void initTestCase() { std::signal(SIGXFSZ, SIG_IGN); } // the write fails instead
    void cleanup() { leaveRoom(-1); }

    // What stands in a statement says nothing of the disk.
    void saidOnlyWhereItIs() {
        QTemporaryDir folder;
        const auto log = open(folder.filePath(QStringLiteral("log.sqlite")));
        const auto said = [&](const char* why) {
            return log->failure(QStringLiteral("write run"), QString::fromUtf8(why)).message;
        };
        QVERIFY(said("database or disk is full Unable to fetch row").find("the disk is full") !=
                std::string::npos);
        QVERIFY(said("ERROR:  could not extend file: No space left on device\n").find("the disk is full") !=
                std::string::npos);
        QVERIFY(said("ERROR:  invalid input syntax for type bigint\nLINE 1: EXECUTE q ('full plan', 'No "
                     "space left')")
                    .find("the disk is full") == std::string::npos);
    }

    void writersInALoop() {
        for (qint64 room = 200000; room < 1200000; room += 90000) {
            QTemporaryDir folder;
            const QString path = folder.filePath(QStringLiteral("log.sqlite"));
            QVector<qint64> confirmed;
            std::string error;
            {
                auto log = open(path);
                const qint64 build =
                    log->build(QStringLiteral("b"), QStringLiteral("h"), QStringLiteral("/p"))->id;
                leaveRoom(room);
                for (int i = 0; i < 100 && error.empty(); ++i) {
                    const auto id = log->addDefect(facts(build), 2, QStringLiteral("Petra"));
                    if (id)
                        confirmed << *id;
                    else
                        error = id.error();
                }
                QVERIFY2(error.find("disk") != std::string::npos, error.c_str());
                QVERIFY(!log->change(confirmed.isEmpty() ? 1 : confirmed.back(), QStringLiteral("comment"),
                                     QString(200000, QLatin1Char('x')), 0, QStringLiteral("Petra")));
                QVERIFY(!log->lost());
                leaveRoom(-1);
                // room again: the same log goes on
                const auto id = log->addDefect(facts(build), 2, QStringLiteral("Petra"));
                QVERIFY2(id, id.error().c_str());
                confirmed << *id;
            }
            auto log = open(path);
            const auto there = log->defects();
            QCOMPARE(there->size(), confirmed.size());
            for (int i = 0; i < confirmed.size(); ++i)
                QCOMPARE((*there)[i].id, confirmed[i]);
            const auto check = checkLog(*log);
            QVERIFY2(check && check->problems.isEmpty(),
                     check ? qPrintable(check->problems.join(QLatin1Char(' '))) : "");
        }
    }

    // Copies of all of it fail as a whole, and leave no half of one.
    void copiesThatDoNotFit() {
        QTemporaryDir folder;
        auto log = open(folder.filePath(QStringLiteral("log.sqlite")));
        const qint64 build = log->build(QStringLiteral("b"), QStringLiteral("h"), QStringLiteral("/p"))->id;
        for (int i = 0; i < 40; ++i)
            QVERIFY(log->addDefect(facts(build), 2, QStringLiteral("Petra")));
        auto to = open(folder.filePath(QStringLiteral("to.sqlite")));
        leaveRoom(400000);
        const QString backup = folder.filePath(QStringLiteral("backup.sqlite"));
        QVERIFY(!log->backUp(backup));
        QVERIFY(!QFile::exists(backup) && !QFile::exists(backup + QStringLiteral(".part")));
        const QString json = folder.filePath(QStringLiteral("log.json"));
        QVERIFY(!writeLogJson(*log, json));
        QVERIFY(!QFile::exists(json));
        const auto copied = copyLog(*log, *to);
        QVERIFY2(!copied && copied.error().find("disk") != std::string::npos, copied.error().c_str());
        leaveRoom(-1);
        QVERIFY(to->isEmpty());
        QVERIFY(copyLog(*log, *to));
        QVERIFY(log->backUp(backup));
        QCOMPARE(*checksumOf(*open(backup)), *checksumOf(*log));
    }

    // Bringing an older log up to date needs room for its backup: without it, nothing is touched.
    void noRoomToBringUpToDate() {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("log.sqlite"));
        {
            auto log = open(path);
            const qint64 build =
                log->build(QStringLiteral("b"), QStringLiteral("h"), QStringLiteral("/p"))->id;
            for (int i = 0; i < 20; ++i)
                QVERIFY(log->addDefect(facts(build), 2, QStringLiteral("Petra")));
            QSqlQuery q(log->database());
            QVERIFY(q.exec(QStringLiteral("PRAGMA wal_checkpoint(TRUNCATE)")));
            QVERIFY(q.exec(QStringLiteral("PRAGMA user_version = 4"))); // as far as opening it can see
            QVERIFY(q.exec(QStringLiteral("PRAGMA wal_checkpoint(TRUNCATE)")));
        }
        leaveRoom(100000);
        const auto log = ProductionLog::open(path, 100);
        leaveRoom(-1);
        QVERIFY2(!log && log.error().find("backup before updating") != std::string::npos,
                 log.error().c_str());
        QVERIFY(!QFile::exists(path + QStringLiteral(".before-v6")));
        QVERIFY(!QFile::exists(path + QStringLiteral(".before-v6.part")));
    }
};

HOBBLE_TEST(TestFullDisk)
#include "test_full_disk.moc"
