// A batch of which some crash, hang, want too much memory or are not there: every other row is right, nothing
// is told as clean that was not tested, and what is known is not tested again. The program that tests is a
// stand-in here, which does what a character's file tells it to.
#include "batch/batch_outputs.h"
#include "batch/batch_run.h"
#include "io/csv.h"
#include "support/suite.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <QXmlStreamReader>

using namespace hobble;
using nlohmann::json;

class TestBatch : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    QString write(const QString& name, const QByteArray& bytes, bool runs = false) {
        const QString path = folder_.filePath(name);
        QDir(folder_.path()).mkpath(QFileInfo(path).path());
        QFile f(path);
        if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size())
            qFatal("cannot write");
        f.close();
        if (runs)
            f.setPermissions(f.permissions() | QFile::ExeOwner);
        return path;
    }

    // As hobble-cli takes its words; writes a line for every start.
    QString program() {
        QFile script(QStringLiteral(HOBBLE_BATCH_STAND_IN));
        if (!script.open(QIODevice::ReadOnly))
            qFatal("the stand-in is missing");
        return write(QStringLiteral("stand-in"), script.readAll(), true);
    }

    QStringList started() {
        QFile f(folder_.filePath(QStringLiteral("started")));
        return f.open(QIODevice::ReadOnly)
                   ? QString::fromUtf8(f.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts)
                   : QStringList();
    }

    BatchOptions options(const QString& out) {
        BatchOptions o;
        o.program = program();
        o.folder = folder_.filePath(out);
        o.jobs = 3;
        o.failAt = 3;
        return o;
    }

    std::vector<BatchCharacter> characters(const QStringList& files) {
        std::vector<BatchCharacter> out;
        for (const QString& f : files) {
            out.emplace_back();
            out.back().file = f.toStdString();
        }
        return out;
    }

private slots:
    void init() { QFile::remove(folder_.filePath(QStringLiteral("started"))); }

    void everyOtherRowIsRight() {
        QStringList files;
        for (int i = 0; i < 40; ++i) // every one another content
            files << write(QStringLiteral("cast/%1.glb").arg(i, 2, 10, QLatin1Char('0')),
                           QByteArray(i % 8 == 0   ? "crash"
                                      : i % 8 == 1 ? "memory"
                                      : i % 8 == 2 ? "refuse"
                                      : i % 8 == 3 ? "half"
                                      : i == 4     ? "hang"
                                      : i == 12    ? "nothing"
                                                   : "fine") +
                               " " + QByteArray::number(i % 5) + "\n" + QByteArray::number(i));
        files << folder_.filePath(QStringLiteral("cast/missing.glb"));
        BatchOptions o = options(QStringLiteral("mixed"));
        o.secondsEach = 2;
        int told = 0;
        o.progress = [&](const BatchProgress& p) {
            QCOMPARE(p.done, ++told);
            QVERIFY(p.row != nullptr);
        };
        const auto rows = runBatch(characters(files), o);
        QVERIFY2(rows, rows ? "" : rows.error().c_str());
        QCOMPARE(rows->size(), std::size_t(files.size()));
        QCOMPARE(told, static_cast<int>(files.size()));
        using State = BatchRow::State;
        for (int i = 0; i < 40; ++i) {
            const BatchRow& row = (*rows)[static_cast<std::size_t>(i)];
            const State expected = i % 8 == 0   ? State::Crashed
                                   : i % 8 == 1 ? State::OutOfMemory
                                   : i % 8 == 2 ? State::Unreadable
                                   : i % 8 == 3 ? State::Crashed
                                   : i == 4     ? State::TooLong
                                   : i == 12    ? State::Crashed
                                                : State::Tested;
            QVERIFY2(row.state == expected,
                     qPrintable(QStringLiteral("%1: %2").arg(i).arg(QLatin1String(nameOf(row.state)))));
            QCOMPARE(row.why.empty(), expected == State::Tested);
            if (expected == State::Tested) {
                QCOMPARE(row.worst(), i % 5);
                QVERIFY(QFile::exists(QDir(o.folder).filePath(QString::fromStdString(row.report))));
            }
        }
        QVERIFY((*rows)[2].why.find("no skin") != std::string::npos);
        QCOMPARE(rows->back().why, std::string("no such file"));

        // the outputs agree with the rows, and are read by others
        const json j = json::parse(batchToJson(*rows, 3));
        QCOMPARE(j["characters"].size(), rows->size());
        QVERIFY(j["characters"][0]["state"] != "tested"); // what could not be tested stands first
        const auto table = csvRows(batchToCsv(*rows));
        QVERIFY(table);
        QCOMPARE(table->size(), rows->size() + 1);
        QXmlStreamReader xml(batchToJunit(*rows, 3));
        int errors = 0, failures = 0, cases = 0, saidErrors = 0, saidFailures = 0, saidCases = 0;
        while (!xml.atEnd())
            if (xml.readNext() == QXmlStreamReader::StartElement) {
                errors += xml.name() == QLatin1String("error");
                failures += xml.name() == QLatin1String("failure");
                cases += xml.name() == QLatin1String("testcase");
                if (xml.name() == QLatin1String("testsuite")) {
                    saidErrors += xml.attributes().value(QLatin1String("errors")).toInt();
                    saidFailures += xml.attributes().value(QLatin1String("failures")).toInt();
                    saidCases += xml.attributes().value(QLatin1String("tests")).toInt();
                }
            }
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        int untested = 0, fails = 0;
        for (const BatchRow& row : *rows) {
            untested += row.state != State::Tested;
            fails += row.state == State::Tested && row.failsAt(3);
        }
        QCOMPARE(errors, untested);
        QCOMPARE(failures, fails);
        QCOMPARE(saidErrors, errors);
        QCOMPARE(saidFailures, failures);
        QCOMPARE(saidCases, cases);
        const QString page = batchPage(*rows, 3);
        QVERIFY(page.contains(QLatin1String("Knee &lt;stretches&gt; &amp; tears")));
        QCOMPARE(page.count(QLatin1String("Not tested:")), untested);
    }

    void whatIsKnownIsNotTestedAgain() {
        const QStringList files{
            write(QStringLiteral("again/a.glb"), "fine 2"), write(QStringLiteral("again/b.glb"), "fine 4"),
            write(QStringLiteral("again/twin.glb"), "fine 4"), // another name, the same content
            write(QStringLiteral("again/c.glb"), "crash 0")};
        const BatchOptions o = options(QStringLiteral("again-out"));
        const auto first = runBatch(characters(files), o);
        QVERIFY(first);
        QCOMPARE(started().size(), 3);
        QVERIFY((*first)[2].known && (*first)[2].worst() == 4);
        QCOMPARE((*first)[2].character.file, files[2].toStdString());
        const auto second = runBatch(characters(files), o);
        QVERIFY(second);
        QCOMPARE(started().size(), 4); // only what had crashed
        QVERIFY((*second)[0].known && (*second)[0].worst() == 2);
        QCOMPARE((*second)[3].state, BatchRow::State::Crashed);
        write(QStringLiteral("again/a.glb"), "fine 3"); // a new build of it
        const auto third = runBatch(characters(files), o);
        QVERIFY(third);
        QCOMPARE((*third)[0].worst(), 3);
        QVERIFY(!(*third)[0].known && (*third)[1].known);
        BatchOptions otherwise = o; // asked otherwise, it is another question
        otherwise.singles = true;
        QVERIFY(!(*runBatch(characters({files[0]}), otherwise))[0].known);
        // a result that was torn is no result
        write(QStringLiteral("again-out/results/%1.json").arg(QString::fromStdString((*third)[1].key)),
              "{\"file\":");
        QVERIFY(!(*runBatch(characters({files[1]}), o))[0].known);
    }

    void defectsOfTheLogAreChecked() {
        BatchOptions o = options(QStringLiteral("checked"));
        o.check = true;
        o.log = "team.sqlite";
        const auto rows = runBatch(characters({write(QStringLiteral("checked/a.glb"), "fine 0")}), o);
        QVERIFY(rows);
        QCOMPARE(started(), (QStringList{QStringLiteral("run a.glb"), QStringLiteral("check a.glb")}));
        QCOMPARE((*rows)[0].checked, 2);
        QCOMPARE((*rows)[0].notCured, 1);
        QVERIFY((*rows)[0].failsAt(2) && !(*rows)[0].failsAt(3));
    }

    void stoppedAndGoneOnWith() {
        QStringList files;
        for (int i = 0; i < 8; ++i)
            files << write(QStringLiteral("stop/%1.glb").arg(i), QByteArray(i == 1 ? "hang " : "fine ") +
                                                                     QByteArray::number(i % 4) + "\n" +
                                                                     QByteArray::number(i));
        BatchOptions o = options(QStringLiteral("stopped"));
        o.jobs = 1;
        std::atomic<bool> stop{false};
        o.cancel = &stop;
        o.progress = [&](const BatchProgress&) { stop = true; }; // as soon as the first is done
        const auto rows = runBatch(characters(files), o);
        QVERIFY(rows);
        QCOMPARE((*rows)[0].state, BatchRow::State::Tested);
        for (std::size_t i = 1; i < rows->size(); ++i)
            QCOMPARE((*rows)[i].state, BatchRow::State::Stopped); // and not clean
        QVERIFY(batchSentence(*rows, 3).contains(QLatin1String("7 could not be tested")));
        write(QStringLiteral("stop/1.glb"), "fine 1");
        o.cancel = nullptr;
        o.progress = {};
        const auto on = runBatch(characters(files), o);
        QVERIFY(on && (*on)[0].known);
        for (const BatchRow& row : *on)
            QCOMPARE(row.state, BatchRow::State::Tested);
    }

    void lists() {
        write(QStringLiteral("show/a.glb"), "x");
        write(QStringLiteral("show/below/b.fbx"), "x");
        write(QStringLiteral("show/notes.txt"), "x");
        QVERIFY(QFile::link(folder_.filePath(QStringLiteral("show")),
                            folder_.filePath(QStringLiteral("show/below/round"))));
        const auto folder = batchOf({folder_.filePath(QStringLiteral("show")).toStdString()});
        QVERIFY(folder);
        QCOMPARE(folder->size(), std::size_t(2));
        const QString csv =
            write(QStringLiteral("list.csv"), "File,name,fail-at,plan\r\nshow/a.glb,\"Hero, old\",2,\r\n"
                                              "show/a.glb,\"Hero, old\",2,\r\nshow/gone.glb,,,p.json\r\n");
        const auto listed = batchOf({csv.toStdString()});
        QVERIFY2(listed, listed ? "" : listed.error().c_str());
        QCOMPARE(listed->size(), std::size_t(2));
        QCOMPARE((*listed)[0].name, std::string("Hero, old"));
        QCOMPARE((*listed)[0].failAt, 2);
        QCOMPARE((*listed)[1].plan, folder_.filePath(QStringLiteral("p.json")).toStdString());
        const QString asJson = write(
            QStringLiteral("list.json"),
            "{\"format\": \"hobble-batch\", \"characters\": [{\"file\": \"show/a.glb\", \"fail-at\": 1}]}");
        QCOMPARE((*batchOf({asJson.toStdString()}))[0].failAt, 1);
        for (const auto& [name, text, word] :
             {std::tuple("x1.csv", "file,colour\na.glb,red\n", "colour"),
              std::tuple("x2.csv", "file,fail-at\na.glb,9\n", "fail-at"),
              std::tuple("x3.csv", "name\nhero\n", "no file"), std::tuple("x4.csv", "", "empty"),
              std::tuple("x5.csv", "file\n\"a.glb\n", "quotes"), std::tuple("x6.json", "[1]", "no list"),
              std::tuple("x7.json", "{\"format\": \"hobble-batch\", \"characters\": [{\"file\": []}]}",
                         "neither")}) {
            const auto failed = batchOf({write(QLatin1String(name), text).toStdString()});
            QVERIFY2(!failed && failed.error().find(word) != std::string::npos, name);
        }
        QVERIFY(!batchOf(
            {write(QStringLiteral("empty/notes.txt"), "x").section(QLatin1Char('/'), 0, -2).toStdString()}));
    }

    void nowhereToWrite() {
        BatchOptions o = options(QStringLiteral("x"));
        o.folder = QStringLiteral("/proc/nowhere");
        const auto failed = runBatch(characters({write(QStringLiteral("w/a.glb"), "fine 0")}), o);
        QVERIFY(!failed);
        QVERIFY(started().isEmpty());
    }
};

HOBBLE_TEST(TestBatch)
#include "test_batch.moc"
