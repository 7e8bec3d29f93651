// A batch on a cluster: the results of one machine to the byte, whoever is killed on the way; a scheduler
// that is not there, refuses or never starts. The cluster is a real one of two nodes on this machine.
#include "batch/batch_outputs.h"
#include "batch/schedule.h"
#include "io/file_read.h"
#include "io/gltf_write.h"
#include "log/production_log.h"
#include "support/postgres.h"
#include "support/suite.h"
#include "support/tube.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QProcess>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

#include <unistd.h>

using namespace hobble;

class TestSchedule : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    QString slurm_; // folder of the cluster; empty where there is none, and whyNot_ says why
    QString whyNot_;
    std::vector<BatchCharacter> cast_; // small, each another content; the last cannot be read

    QString path(const QString& name) const { return folder_.filePath(name); }

    static int run(const QString& program, const QStringList& arguments, QString* said = nullptr) {
        QProcess p;
        p.setProcessChannelMode(QProcess::MergedChannels);
        p.start(program, arguments);
        if (!p.waitForStarted() || !p.waitForFinished(600000))
            return -1;
        if (said)
            *said = QString::fromUtf8(p.readAll());
        return p.exitCode();
    }
    static QString sayOf(const QString& program, const QStringList& arguments) {
        QString said;
        run(program, arguments, &said);
        return said;
    }

    BatchOptions options(const QString& out) const {
        BatchOptions o;
        o.program = QStringLiteral(HOBBLE_CLI);
        o.folder = path(out);
        o.jobs = 2;
        o.threads = 1;
        return o;
    }
    ScheduleOptions onCluster(const QString& out, int tasks = 0) const {
        ScheduleOptions o;
        o.batch = options(out);
        o.tasks = tasks;
        return o;
    }

    // File name to content.
    static QMap<QString, QByteArray> contents(const QString& folder) {
        QMap<QString, QByteArray> out;
        for (const QString& name : QDir(folder).entryList(QDir::Files)) {
            QFile f(QDir(folder).filePath(name));
            if (f.open(QIODevice::ReadOnly))
                out.insert(name, f.readAll());
        }
        return out;
    }

    // What is in one folder or the other only, or another thing in each; and why the other went without.
    QByteArray notAlike(const QString& one, const QString& other) const {
        const auto a = contents(path(one)), b = contents(path(other));
        QByteArray differ;
        for (const QString& name : a.keys() + b.keys())
            if (a.value(name) != b.value(name))
                differ += name.toUtf8() + ": " + a.value(name) + " | " + b.value(name) + '\n';
        if (differ.isEmpty())
            return {};
        const auto untested =
            contents(path(other.section(QLatin1Char('/'), 0, 0) + QStringLiteral("/untested")));
        return untested.values().join('\n') + differ;
    }

    int testedBy(const QString& out) const {
        return static_cast<int>(QDir(path(out + QStringLiteral("/results"))).entryList(QDir::Files).size());
    }

    static qint64 runsIn(const QString& place) {
        const auto log = ProductionLog::open(place);
        if (!log)
            return -1;
        QSqlQuery q((*log)->database());
        return q.exec(QStringLiteral("SELECT COUNT(*) FROM run")) && q.next() ? q.value(0).toLongLong() : -1;
    }

private slots:
    void initTestCase() {
        QVERIFY(QDir().mkpath(path(QStringLiteral("cast"))));
        for (int i = 0; i < 8; ++i) {
            test::TubeSpec spec;
            spec.radius = 0.1 + 0.002 * i;
            spec.sides = 24;
            spec.rings = 48;
            Character c = test::tube(spec);
            c.name = "tube";
            cast_.emplace_back();
            cast_.back().file = path(QStringLiteral("cast/tube%1.glb").arg(i)).toStdString();
            QVERIFY(writeGlb(c, cast_.back().file));
        }
        QFile broken(path(QStringLiteral("cast/broken.glb")));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("glTF, or not") > 0);
        cast_.emplace_back();
        cast_.back().file = broken.fileName().toStdString();

        if (::geteuid() != 0)
            whyNot_ = QStringLiteral("a cluster of one's own needs root, for munge has a user of its own");
        else if (const QString at = path(QStringLiteral("slurm"));
                 run(QStringLiteral(HOBBLE_SIMULATE_CLUSTER), {at}, &whyNot_) == 0)
            slurm_ = at;
        qputenv("SLURM_CONF", path(QStringLiteral("slurm/slurm.conf")).toUtf8());
    }
    void cleanupTestCase() {
        if (!slurm_.isEmpty())
            run(QStringLiteral(HOBBLE_SIMULATE_CLUSTER), {slurm_, QStringLiteral("stop")});
    }

    void sharesAreAll() {
        for (int tasks : {1, 2, 4, 9}) {
            std::vector<std::string> files;
            for (int t = 1; t <= tasks; ++t)
                for (const BatchCharacter& c : taskOf(cast_, t, tasks))
                    files.push_back(c.file);
            QCOMPARE(files.size(), cast_.size());
            std::sort(files.begin(), files.end());
            QVERIFY(std::adjacent_find(files.begin(), files.end()) == files.end());
        }
        BatchOptions o = options(QStringLiteral("x"));
        const TaskCost one = costOfTask({cast_[0]}, o), three = costOfTask(taskOf(cast_, 1, 3), o);
        QVERIFY(one.seconds > 0 && three.seconds > 2 * one.seconds - 180 && one.megabytes >= 1024);
        o.secondsEach = 5;
        o.megabytesEach = 100;
        QCOMPARE(costOfTask({cast_[0]}, o).seconds, 65);
        QCOMPARE(costOfTask({cast_[0]}, o).megabytes, 612);
    }

    // As on one machine, by plain commands, in whatever order; then nothing is left.
    void asAListOfCommands() {
        QByteArray odd;
        auto byWay = cast_; // called otherwise, as a person might
        for (BatchCharacter& c : byWay)
            c.file = path(QStringLiteral("cast/../cast/")).toStdString() +
                     QFileInfo(QString::fromStdString(c.file)).fileName().toStdString();
        const auto alone = runBatch(byWay, options(QStringLiteral("alone")));
        QVERIFY(alone);
        ScheduleOptions o = onCluster(QStringLiteral("script"), 4);
        o.scheduler = Scheduler::Script;
        o.batch.log = path(QStringLiteral("script.sqlite")).toStdString();
        const auto planned = schedule(cast_, o);
        QVERIFY2(planned, planned ? "" : planned.error().c_str());
        QCOMPARE(planned->tasks, 4);
        QCOMPARE(planned->known, 0);
        QFile commands(planned->folder + QStringLiteral("/commands.txt"));
        QVERIFY(commands.open(QIODevice::ReadOnly));
        QStringList lines =
            QString::fromUtf8(commands.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 4);
        std::reverse(lines.begin(), lines.end());
        lines.removeAt(1); // one never runs
        for (const QString& line : lines)
            QCOMPARE(run(QStringLiteral("sh"), {QStringLiteral("-c"), line}), 0);
        QString said;
        QCOMPARE(run(QStringLiteral("sh"), {planned->merge}, &said), 3);
        auto rows = keptRows(cast_, o.batch);
        int untold = 0;
        for (const BatchRow& row : rows)
            untold += row.why.find("nobody told") != std::string::npos;
        QVERIFY(untold >= 2); // and not clean
        const auto again = schedule(cast_, o);
        QVERIFY(again);
        QCOMPARE(again->known, static_cast<int>(cast_.size()) - untold - 1);
        for (int t = 1; t <= again->tasks; ++t)
            QCOMPARE(run(QStringLiteral("sh"), {again->task, QString::number(t)}), 0);
        QCOMPARE(run(QStringLiteral("sh"), {again->merge}), 3); // of the broken one
        QCOMPARE(run(QStringLiteral("sh"), {again->merge}), 3); // twice
        for (const char* kind : {"/results", "/reports"}) {
            odd = notAlike(QStringLiteral("alone") + QLatin1String(kind),
                           QStringLiteral("script") + QLatin1String(kind));
            QVERIFY2(odd.isEmpty(), odd);
        }
        QCOMPARE(testedBy(QStringLiteral("script")), 8);
        QCOMPARE(runsIn(path(QStringLiteral("script.sqlite"))), 8); // each once
        rows = keptRows(cast_, o.batch);
        QCOMPARE(rows.back().state, BatchRow::State::Unreadable);
        ScheduleOptions anew = o; // nothing of before passes for what is asked for anew and never runs
        anew.batch.folder = path(QStringLiteral("anew"));
        QCOMPARE(run(QStringLiteral("cp"),
                     {QStringLiteral("-r"), path(QStringLiteral("script")), path(QStringLiteral("anew"))}),
                 0);
        QCOMPARE(testedBy(QStringLiteral("anew")), 8);
        anew.batch.afresh = true;
        QVERIFY(schedule(cast_, anew));
        for (const BatchRow& row : keptRows(cast_, anew.batch))
            QVERIFY(row.state != BatchRow::State::Tested && !row.why.empty());
        QVERIFY(QFile::exists(path(QStringLiteral("script/junit.xml"))));
    }

    void noSchedulerAndOneThatRefuses() {
        const QByteArray found = qgetenv("PATH");
        qputenv("PATH", path(QStringLiteral("programs")).toUtf8());
        auto failed = schedule(cast_, onCluster(QStringLiteral("none")));
        QVERIFY(!failed && failed.error().find("no sbatch") != std::string::npos &&
                failed.error().find("--scheduler script") != std::string::npos);
        QVERIFY(QDir().mkpath(path(QStringLiteral("programs"))));
        QFile refuses(path(QStringLiteral("programs/sbatch")));
        QVERIFY(refuses.open(QIODevice::WriteOnly));
        refuses.write(
            "#!/bin/sh\necho 'sbatch: error: Batch job submission failed: no such partition' >&2\nexit 1\n");
        refuses.close();
        refuses.setPermissions(refuses.permissions() | QFile::ExeOwner);
        failed = schedule(cast_, onCluster(QStringLiteral("none")));
        QVERIFY(!failed && failed.error().find("no such partition") != std::string::npos);
        qputenv("PATH", found);
        ScheduleOptions nowhere = onCluster(QStringLiteral("none"));
        nowhere.batch.folder = QStringLiteral("/proc/nowhere");
        QVERIFY(!schedule(cast_, nowhere));
    }

    void overTwoNodes() {
        QByteArray odd;
        if (slurm_.isEmpty())
            QSKIP(qPrintable(whyNot_));
        ScheduleOptions o = onCluster(QStringLiteral("nodes"));
        o.batch.log = path(QStringLiteral("nodes.sqlite")).toStdString();
        const auto planned = schedule(cast_, o);
        QVERIFY2(planned, planned ? "" : planned.error().c_str());
        QCOMPARE(planned->tasks, 9);
        int told = 0;
        const auto ended = waitFor(*planned, cast_, o, [&](const ScheduleProgress& p) {
            QVERIFY(p.done >= told && p.of == 9);
            told = p.done;
        });
        QVERIFY2(ended, ended ? "" : ended.error().c_str());
        const QString jobs = sayOf(QStringLiteral("scontrol"),
                                   {QStringLiteral("show"), QStringLiteral("job"), planned->taskJob});
        QVERIFY2(jobs.contains(QLatin1String("NodeList=quay")) &&
                     jobs.contains(QLatin1String("NodeList=pier")),
                 qPrintable(jobs));
        for (const char* kind : {"/results", "/reports"}) {
            odd = notAlike(QStringLiteral("alone") + QLatin1String(kind),
                           QStringLiteral("nodes") + QLatin1String(kind));
            QVERIFY2(odd.isEmpty(), odd);
        }
        QCOMPARE(runsIn(path(QStringLiteral("nodes.sqlite"))), 8);
        QVERIFY(QFile::exists(path(QStringLiteral("nodes/index.html"))));
        // a second run of it measures nothing; without the one that cannot be read nothing is left
        const auto readable = std::vector<BatchCharacter>(cast_.begin(), cast_.end() - 1);
        const auto again = schedule(readable, o);
        QVERIFY(again && again->tasks == 0 && again->known == 8 && again->taskJob.isEmpty());
    }

    // Two batches at the same time, one log; a task killed half-way; a node that goes down under its task.
    void whoIsKilledIsRunAgain() {
        QByteArray odd;
        if (slurm_.isEmpty())
            QSKIP(qPrintable(whyNot_));
        const QString log = path(QStringLiteral("both.sqlite"));
        ScheduleOptions one = onCluster(QStringLiteral("one"), 2), two = onCluster(QStringLiteral("two"), 2);
        one.batch.log = two.batch.log = log.toStdString();
        const auto first = schedule(cast_, one);
        QVERIFY2(first, first ? "" : first.error().c_str());
        QTRY_VERIFY(testedBy(QStringLiteral("one")) > 0); // both nodes are busy with its shares
        const QString task = first->taskJob + QStringLiteral("_1");
        QString where = sayOf(QStringLiteral("squeue"), {QStringLiteral("-h"), QStringLiteral("-j"), task,
                                                         QStringLiteral("-o"), QStringLiteral("%N")})
                            .trimmed();
        QVERIFY2(where == QLatin1String("quay") || where == QLatin1String("pier"), qPrintable(where));
        QCOMPARE(
            run(QStringLiteral("scontrol"), {QStringLiteral("update"), QStringLiteral("nodename=") + where,
                                             QStringLiteral("state=down"), QStringLiteral("reason=test")}),
            0);
        run(QStringLiteral("scancel"), {QStringLiteral("--signal=KILL"), QStringLiteral("--full"),
                                        first->taskJob + QStringLiteral("_2")});
        const auto second = schedule(cast_, two);
        QVERIFY2(second, second ? "" : second.error().c_str());
        run(QStringLiteral("scontrol"),
            {QStringLiteral("update"), QStringLiteral("nodename=") + where,
             QStringLiteral("state=resume")}); // unless it has come back by itself
        const auto release = [&] {             // a requeued task waits a while before it may begin again
            run(QStringLiteral("scontrol"),
                {QStringLiteral("update"), QStringLiteral("jobid=") + task, QStringLiteral("starttime=now")});
        };
        QVERIFY(waitFor(*second, cast_, two, [&](const ScheduleProgress&) { release(); }));
        QVERIFY(waitFor(*first, cast_, one, [&](const ScheduleProgress&) { release(); }));
        odd = notAlike(QStringLiteral("alone/results"), QStringLiteral("two/results"));
        QVERIFY2(odd.isEmpty(), odd);
        const auto again = schedule(cast_, one); // what the kill has left
        QVERIFY(again);
        QVERIFY(waitFor(*again, cast_, one, {}));
        odd = notAlike(QStringLiteral("alone/results"), QStringLiteral("one/results"));
        QVERIFY2(odd.isEmpty(), odd);
        QCOMPARE(runsIn(log), 8); // by two batches, of which one was merged twice
    }

    void neverStarted() {
        if (slurm_.isEmpty())
            QSKIP(qPrintable(whyNot_));
        ScheduleOptions o = onCluster(QStringLiteral("held"));
        o.toScheduler = {"--hold"};
        const auto planned = schedule(cast_, o);
        QVERIFY2(planned, planned ? "" : planned.error().c_str());
        std::atomic<bool> enough{false};
        o.batch.cancel = &enough;
        QString why;
        const auto ended = waitFor(*planned, cast_, o, [&](const ScheduleProgress& p) {
            why = p.waitsFor;
            enough = !why.isEmpty();
        });
        QVERIFY(!ended && ended.error().find("go on") != std::string::npos);
        QCOMPARE(why, QStringLiteral("JobHeldUser"));
        run(QStringLiteral("scancel"), {planned->taskJob, planned->mergeJob});
        o.batch.cancel = nullptr;
        o.toScheduler = {"--partition=nowhere"};
        const auto refused = schedule(cast_, o);
        QVERIFY(!refused && refused.error().find("partition") != std::string::npos);
    }

    // A disk that is full when the shares are put together: it is said, no file is torn, and once there is
    // room nothing has to be tested again.
    void aFullDiskAtTheMerge() {
        ScheduleOptions o = onCluster(QStringLiteral("full"), 2);
        o.scheduler = Scheduler::Script;
        o.batch.log = path(QStringLiteral("full.sqlite")).toStdString();
        const auto planned = schedule(cast_, o);
        QVERIFY2(planned, planned ? "" : planned.error().c_str());
        for (int t = 1; t <= 2; ++t)
            QCOMPARE(run(QStringLiteral("sh"), {planned->task, QString::number(t)}), 0);
        const auto before = contents(path(QStringLiteral("full/results")));
        QCOMPARE(before.size(), 8);
        for (int room : {1, 40, 90}) { // kilobytes: for no file, for some, for all but the log
            QString said;
            const int status =
                run(QStringLiteral("bash"),
                    {QStringLiteral("-c"),
                     QStringLiteral("trap '' XFSZ; ulimit -f %1; sh '%2'").arg(room).arg(planned->merge)},
                    &said);
            QVERIFY2(status == 2 && said.contains(QLatin1String("full")), qPrintable(said));
            if (room > 1) // what comes before is written whole
                QVERIFY2(QFile::exists(path(QStringLiteral("full/batch.csv"))), qPrintable(said));
            if (room == 90)
                QVERIFY2(said.contains(QLatin1String("full.sqlite")), qPrintable(said));
            for (const QString& name : QDir(path(QStringLiteral("full"))).entryList(QDir::Files)) {
                QVERIFY2(!name.endsWith(QLatin1String(".part")), qPrintable(name));
                if (name.endsWith(QLatin1String(".json"))) {
                    QFile f(path(QStringLiteral("full/") + name));
                    QVERIFY(f.open(QIODevice::ReadOnly));
                    QVERIFY(nlohmann::json::accept(f.readAll().toStdString()));
                }
            }
        }
        QCOMPARE(run(QStringLiteral("sh"), {planned->merge}), 3);
        QVERIFY(contents(path(QStringLiteral("full/results"))) == before);
        QCOMPARE(runsIn(path(QStringLiteral("full.sqlite"))), 8);
        const QByteArray odd = notAlike(QStringLiteral("alone/results"), QStringLiteral("full/results"));
        QVERIFY2(odd.isEmpty(), odd);
    }

    // A server that goes away in the middle: what was not entered is not called tested, and is made up for.
    void aServerThatGoesAway() {
        if (qEnvironmentVariable("PGHOST").isEmpty())
            QSKIP("no server: run by the test runner");
        const QString place = test::freshDatabase();
        const QString database = LogAddress::parse(place)->database;
        QVERIFY(ProductionLog::open(place));
        BatchOptions o = options(QStringLiteral("away"));
        o.jobs = 1;
        o.log = place.toStdString();
        int told = 0;
        o.progress = [&](const BatchProgress&) {
            if (++told != 3)
                return;
            test::askServer(QStringLiteral("postgres"),
                            QStringLiteral("ALTER DATABASE %1 ALLOW_CONNECTIONS false").arg(database));
            test::askServer(QStringLiteral("postgres"),
                            QStringLiteral("SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
                                           " WHERE datname = '%1'")
                                .arg(database));
        };
        const auto first = runBatch(cast_, o);
        QVERIFY(first);
        std::size_t tested = 0;
        for (const BatchRow& row : *first) {
            tested += row.state == BatchRow::State::Tested;
            QVERIFY(row.state == BatchRow::State::Tested || !row.why.empty());
        }
        QVERIFY(tested >= 3 && tested < 8);
        QVERIFY2(first->at(7).why.find(database.toStdString()) != std::string::npos,
                 first->at(7).why.c_str()); // that it was the log
        QCOMPARE(first->at(7).state, BatchRow::State::NotEntered);
        test::askServer(QStringLiteral("postgres"),
                        QStringLiteral("ALTER DATABASE %1 ALLOW_CONNECTIONS true").arg(database));
        QCOMPARE(runsIn(place), static_cast<qint64>(tested)); // neither more than were told, nor fewer
        o.progress = {};
        QVERIFY(runBatch(cast_, o));
        QCOMPARE(runsIn(place), 8);
        const QByteArray odd = notAlike(QStringLiteral("alone/results"), QStringLiteral("away/results"));
        QVERIFY2(odd.isEmpty(), odd);
    }

    // The log on a server: tasks enter their runs themselves, at the same time, each once.
    void withTheLogOnAServer() {
        QByteArray odd;
        if (qEnvironmentVariable("PGHOST").isEmpty())
            QSKIP("no server: run by the test runner");
        const std::string place = test::freshDatabase().toStdString();
        ScheduleOptions o = onCluster(QStringLiteral("server"), 3);
        o.scheduler = Scheduler::Script;
        o.batch.log = place;
        const auto planned = schedule(cast_, o);
        QVERIFY2(planned, planned ? "" : planned.error().c_str());
        std::vector<std::unique_ptr<QProcess>> tasks;
        for (int twice = 0; twice < 2; ++twice) // and every share by two at once
            for (int t = 1; t <= 3; ++t) {
                tasks.push_back(std::make_unique<QProcess>());
                tasks.back()->start(QStringLiteral("sh"), {planned->task, QString::number(t)});
            }
        for (const auto& task : tasks) {
            QVERIFY(task->waitForFinished(600000));
            QCOMPARE(task->exitCode(), 0);
        }
        QCOMPARE(run(QStringLiteral("sh"), {planned->merge}), 3);
        odd = notAlike(QStringLiteral("alone/results"), QStringLiteral("server/results"));
        QVERIFY2(odd.isEmpty(), odd);
        QCOMPARE(runsIn(QString::fromStdString(place)), 8);
    }
};

HOBBLE_TEST(TestSchedule)
#include "test_schedule.moc"
