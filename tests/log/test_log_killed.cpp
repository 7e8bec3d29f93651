// A writer is killed at any moment, again and again: the log opens, is whole, and has everything the writer
// had said was written.
#include "log/production_log.h"
#include "support/suite.h"

#include <QProcess>
#include <QSet>
#include <QTemporaryDir>
#include <QTest>
#include <random>

using namespace hobble;

class TestLogKilled : public QObject {
    Q_OBJECT
private slots:
    void killedInALoop() {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("log.sqlite"));
        std::mt19937 random(11);
        QSet<qint64> promised; // numbers the writer had said were written
        for (int round = 0; round < 25; ++round) {
            QProcess writer;
            writer.start(QStringLiteral(HOBBLE_LOG_WRITER), {path});
            QVERIFY(writer.waitForStarted());
            writer.waitForReadyRead(5000);
            QTest::qSleep(int(random() % 60));
            writer.kill();
            QVERIFY(writer.waitForFinished());
            QVERIFY2(writer.exitStatus() == QProcess::CrashExit, writer.readAllStandardError().constData());
            QByteArray said = writer.readAllStandardOutput();
            said.truncate(said.lastIndexOf('\n') + 1);
            for (const QByteArray& line : said.split('\n'))
                if (!line.isEmpty())
                    promised.insert(line.toLongLong());

            auto log = ProductionLog::open(path, 2000); // checks the file's integrity
            QVERIFY2(log, log.error().c_str());
            const auto defects = (*log)->defects();
            QVERIFY(defects);

            qsizetype kept = 0;
            for (const Defect& d : *defects) { // no half of a defect
                QVERIFY(d.state == DefectState::Logged || d.state == DefectState::Assigned);
                QCOMPARE(d.severity, 2);
                if (promised.contains(d.id)) {
                    ++kept;
                    QCOMPARE(d.assignee, QStringLiteral("Ines"));
                    QCOMPARE(d.state, DefectState::Assigned);
                }
            }
            QCOMPARE(kept, promised.size());
        }
        QVERIFY(promised.size() > 25);
    }
};

HOBBLE_TEST(TestLogKilled)
#include "test_log_killed.moc"
