// The log keeps what it is told, refuses what it must, and overwrites nothing.
#include "log/production_log.h"
#include "log/schema.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestProductionLog : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    int files_ = 0;

    QString freshPath() { return folder_.filePath(QStringLiteral("log %1 'Küste'.sqlite").arg(++files_)); }

    static std::unique_ptr<ProductionLog> open(const QString& path) {
        auto log = ProductionLog::open(path, 100);
        if (!log)
            qFatal("%s", log.error().c_str());
        return std::move(*log);
    }

    static qint64 addOne(ProductionLog& log) {
        const auto build =
            log.build(QStringLiteral("badger"), QStringLiteral("abc"), QStringLiteral("/b.glb"));
        DefectFacts f;
        f.buildId = build->id;
        f.joint = QStringLiteral("forearm.L");
        f.side = QStringLiteral("left");
        f.role = QStringLiteral("elbow");
        f.part = QStringLiteral("body");
        f.kind = QStringLiteral("pinch");
        f.motion = QStringLiteral("left-elbow-flex");
        f.motionName = QStringLiteral("elbow flex");
        f.limb = QStringLiteral("Arms");
        f.what = QStringLiteral("Left elbow pinches");
        f.onset = 62;
        f.degrees = 136;
        f.value = 0.38;
        f.limit = 0.85;
        f.pose = f.camera = f.marks = "{}";
        f.picture = QByteArray("\x89PNG\0\1\2", 7);
        const auto id = log.addDefect(f, 3, QStringLiteral("Petra"));
        if (!id)
            qFatal("%s", id.error().c_str());
        return *id;
    }

    // A raw connection beside the log's own, as another program has it.
    template <class F> static void raw(const QString& path, F&& f) {
        {
            QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("raw"));
            db.setDatabaseName(path);
            QVERIFY(db.open());
            f(db);
        }
        QSqlDatabase::removeDatabase(QStringLiteral("raw"));
    }

    static QByteArray bytes(const QString& path) {
        QFile f(path);
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
    }

private slots:
    void keepsADefectAndItsHistory() {
        const QString path = freshPath();
        qint64 id = 0;
        {
            auto log = open(path);
            id = addOne(*log);
            Defect d = *log->defect(id);
            QCOMPARE(d.state, DefectState::Logged);
            QCOMPARE(d.severity, 3);
            const auto v = log->change(id, QStringLiteral("assignee"), QStringLiteral("Ines"), d.version,
                                       QStringLiteral("Petra"));
            QVERIFY(v);
            QVERIFY(log->change(id, QStringLiteral("comment"), QStringLiteral("„größer“ — 海"), 0,
                                QStringLiteral("Ines")));
        }
        auto log = open(path);
        const auto all = log->defects();
        QCOMPARE(all->size(), 1);
        QCOMPARE(all->front().assignee, QStringLiteral("Ines"));
        QCOMPARE(all->front().facts.degrees, 136.0);
        QCOMPARE(log->defect(id)->facts.picture, QByteArray("\x89PNG\0\1\2", 7));
        const auto history = log->history(id);
        QCOMPARE(history->size(), 6); // the state went with the person
        QCOMPARE(history->back().value, QStringLiteral("„größer“ — 海"));
        QCOMPARE(history->back().author, QStringLiteral("Ines"));
    }

    void pragmas() {
        const QString path = freshPath();
        auto log = open(path);
        raw(path, [](QSqlDatabase& db) {
            QSqlQuery q(db);
            QVERIFY(q.exec(QStringLiteral("PRAGMA journal_mode")) && q.next());
            QCOMPARE(q.value(0).toString(), QStringLiteral("wal"));
            QVERIFY(q.exec(QStringLiteral("PRAGMA user_version")) && q.next());
            QCOMPARE(q.value(0).toInt(), int(logMigrations().size()));
        });
        DefectFacts orphan; // of a build that does not exist: the foreign key says no
        orphan.buildId = 99;
        for (QString* s : {&orphan.joint, &orphan.side, &orphan.role, &orphan.part, &orphan.kind,
                           &orphan.motion, &orphan.motionName, &orphan.limb, &orphan.what})
            *s = QStringLiteral("x");
        orphan.pose = orphan.camera = orphan.marks = "{}";
        QVERIFY(!log->addDefect(orphan, 1, QStringLiteral("Petra")));
        QVERIFY(log->defects()->isEmpty());
    }

    // A log of the first version, with a defect and a run in it: brought up to date with nothing lost, a copy
    // of what it was beside it; and one that may not be written is read as it is.
    void aLogOfTheFirstVersion() {
        for (bool writable : {true, false}) {
            const QString path = freshPath();
            raw(path, [](QSqlDatabase& db) { // as that version made it
                QStringList statements = logMigrations()[0];
                statements << QStringLiteral(
                                  "INSERT INTO build VALUES (1, 'badger', 'abc', '/b.glb', 1, '2026-01-01')")
                           << QStringLiteral(
                                  "INSERT INTO run VALUES (1, 1, 'x', 'x', '2026-01-01', 0, '[]')");
                for (int d = 1; d <= 3; ++d) {
                    const QString at = QStringLiteral("'2026-01-02T03:04:05.000Z', 'Petra'");
                    statements
                        << QStringLiteral(
                               "INSERT INTO defect VALUES (%1, 1, 'j', '', '', '', 'pinch', 'm', 'm', '',"
                               " 1, 2, 3, 4, 'what', '', '{\"at\": \"136°\"}', '{}', '{}', NULL)")
                               .arg(d);
                    for (const char* said : {"'status', 'open'", "'severity', '3'", "'assignee', ''"})
                        statements << QStringLiteral(
                                          "INSERT INTO event (defect_id, at, author, field, value, based_on)"
                                          " VALUES (%1, %2, %3, 0)")
                                          .arg(d)
                                          .arg(at, QLatin1String(said));
                    static const char* then[] = {"'assignee', 'Ines'", "'status', 'in work'",
                                                 "'status', 'dismissed'"};
                    statements << QStringLiteral(
                                      "INSERT INTO event (defect_id, at, author, field, value, based_on)"
                                      " VALUES (%1, %2, %3, 3)")
                                      .arg(d)
                                      .arg(at, QLatin1String(then[d - 1]));
                }
                statements << QStringLiteral("PRAGMA user_version = 1")
                           << QStringLiteral("PRAGMA application_id = %1").arg(kLogApplicationId);
                QSqlQuery q(db);
                for (const QString& statement : statements)
                    QVERIFY2(q.exec(statement), qPrintable(q.lastError().text()));
            });
            const QByteArray was = bytes(path);
            if (!writable)
                QFile::setPermissions(path, QFile::ReadOwner);
            auto log = open(path);
            QCOMPARE(log->readOnly(), !writable);
            QCOMPARE(log->defects()->size(), 3);
            // states have their new names, and who had one already has it assigned
            QCOMPARE((*log->defects())[0].state, DefectState::Assigned);
            QCOMPARE((*log->defects())[0].facts.at, QStringLiteral("136°"));
            QCOMPARE((*log->defects())[1].state, DefectState::BeingFixed);
            QCOMPARE((*log->defects())[2].state, DefectState::Intended);
            if (!writable)
                QCOMPARE(bytes(path), was);
            const qint64 build = log->defects()->front().facts.buildId;
            QCOMPARE(*log->runCount(build), 1);
            const auto before = log->runBefore(build);
            QVERIFY2(before.ok() && !before->has_value(), before.error().c_str());
            QVERIFY(log->mergedFindings()->isEmpty());
            const auto builds = log->builds(log->defects()->front().build.character);
            QVERIFY2(builds.ok(), builds.error().c_str());
            QCOMPARE(builds->size(), 1);
            QCOMPARE(builds->front().score, -1); // nothing was kept of it then
            QCOMPARE(builds->front().defects, 3);
            QCOMPARE(QFile::exists(path + QStringLiteral(".before-v6")), writable);
            QVERIFY(!QFile::exists(path + QStringLiteral(".before-v6.part")));
        }
    }

    // Known by content, wherever the file goes; with what Intake said of each and what was noted.
    void buildsOfACharacter() {
        const QString path = freshPath();
        auto log = open(path);
        const Build one =
            *log->build(QStringLiteral("badger"), QStringLiteral("aa"), QStringLiteral("/a/b 1.glb"));
        const Build two =
            *log->build(QStringLiteral("badger"), QStringLiteral("bb"), QStringLiteral("/a/b2.glb"));
        QVERIFY(log->build(QStringLiteral("goat"), QStringLiteral("cc"), QStringLiteral("/a/g.glb")).ok());
        QVERIFY(log->addInspection(one.id, 47, 8, "[1]").ok());
        QVERIFY(log->addInspection(one.id, 47, 8, "[1]").ok()); // nothing new is known: not kept twice
        QVERIFY(log->addInspection(one.id, 60, 5, "[2]").ok());
        QVERIFY(
            log->noteBuild(two.id, QStringLiteral("'; DROP TABLE build; -- Ärmel 袖"), QStringLiteral("P"))
                .ok());
        // the same content elsewhere is the same build, there
        const Build moved =
            *log->build(QStringLiteral("badger"), QStringLiteral("aa"), QStringLiteral("/new/b.glb"));
        QCOMPARE(moved.id, one.id);
        QCOMPARE(moved.number, 1);
        const auto builds = *log->builds(QStringLiteral("badger"));
        QCOMPARE(builds.size(), 2);
        QCOMPARE(builds[0].build.path, QStringLiteral("/new/b.glb"));
        QCOMPARE(builds[0].score, 60);
        QCOMPARE(builds[0].failing, 5);
        QCOMPARE(builds[1].score, -1);
        QCOMPARE(builds[1].note, QStringLiteral("'; DROP TABLE build; -- Ärmel 袖"));
        // known by the hash of before, it is known by its own from now on
        const Build again = *log->build(QStringLiteral("badger"), QStringLiteral("b2"),
                                        QStringLiteral("/a/b2.glb"), QStringLiteral("bb"));
        QCOMPARE(again.id, two.id);
        QCOMPARE(again.number, 2);
        QCOMPARE(log->build(QStringLiteral("badger"), QStringLiteral("b2"), QStringLiteral("/a/b2.glb"))->id,
                 two.id);
        QCOMPARE(log->builds(QStringLiteral("badger"))->size(), 2);
        log.reset();
        raw(path, [](QSqlDatabase& db) {
            QSqlQuery q(db);
            QVERIFY(q.exec(QStringLiteral("SELECT COUNT(*) FROM inspection")) && q.next());
            QCOMPARE(q.value(0).toInt(), 2);
            QVERIFY(q.exec(QStringLiteral("SELECT COUNT(*) FROM build_event WHERE field = 'path'")) &&
                    q.next());
            QCOMPARE(q.value(0).toInt(), 1);
        });
        // and a log that may not be written knows them too, and says that it cannot be noted in
        QFile::setPermissions(path, QFile::ReadOwner);
        log = open(path);
        if (log->readOnly()) { // root may write everywhere
            QCOMPARE(log->builds(QStringLiteral("badger"))->size(), 2);
            QVERIFY(!log->noteBuild(two.id, QStringLiteral("x"), QStringLiteral("P")).ok());
        }
    }

    // A plan is written on until it is settled or another lead's; a change based on an old one is refused.
    void plansAreVersions() {
        auto log = open(freshPath());
        const QString badger = QStringLiteral("badger"), petra = QStringLiteral("Petra"),
                      juno = QStringLiteral("Juno");
        QVERIFY(log->plans(badger)->isEmpty());
        const auto first = log->keepPlan(badger, "{1}", petra, {}, false, 0);
        QVERIFY2(first, first ? "" : first.error().c_str());
        QCOMPARE(first->version, 1);
        const auto on = log->keepPlan(badger, "{2}", petra, {}, false, first->id);
        QVERIFY(on && on->id == first->id && on->plan == "{2}");
        const auto settled =
            log->keepPlan(badger, "{3}", petra, QStringLiteral("it's \"agreed\"; 袖"), true, first->id);
        QVERIFY(settled && settled->id == first->id && settled->settled);
        const auto next = log->keepPlan(badger, "{4}", petra, {}, false, first->id);
        QVERIFY(next && next->version == 2 && !next->settled);
        const auto theirs =
            log->keepPlan(badger, "{5}", juno, {}, false, next->id); // not written on another's
        QVERIFY(theirs && theirs->version == 3);
        const auto late = log->keepPlan(badger, "{6}", petra, {}, false, next->id);
        QVERIFY(!late && late.error().find("Juno") != std::string::npos);
        const auto all = *log->plans(badger);
        QCOMPARE(all.size(), 3);
        QCOMPARE(all[0].plan, QByteArray("{5}"));
        QCOMPARE(all[2].note, QStringLiteral("it's \"agreed\"; 袖"));
        QCOMPARE(all[1].plan, QByteArray("{4}"));
        QVERIFY(log->plans(QStringLiteral("goat"))->isEmpty());
    }

    // The nearest earlier build of the same character that kept its curves, and of that its newest run.
    void theRunBefore() {
        auto log = open(freshPath());
        const auto build = [&](const char* character, const char* hash) {
            return log->build(QLatin1String(character), QLatin1String(hash), QStringLiteral("/b.glb"))->id;
        };
        const auto ran = [&](qint64 id, const QByteArray& curves) {
            RunSummary run;
            run.buildId = id;
            run.plan = run.method = QStringLiteral("x");
            run.findings = "[]";
            run.curves = curves;
            QVERIFY(log->addRun(run));
        };
        const qint64 first = build("badger", "a"), second = build("badger", "b"),
                     third = build("badger", "c"), goat = build("goat", "d");
        QVERIFY(!log->runBefore(first)->has_value());
        ran(first, "one");
        ran(goat, "goat");
        ran(second, "two");
        ran(second, "two again");
        ran(third, "three");
        QVERIFY(!log->runBefore(first)->has_value());
        QCOMPARE((*log->runBefore(second))->curves, QByteArray("one"));
        QCOMPARE((*log->runBefore(third))->curves, QByteArray("two again"));
        QCOMPARE((*log->runBefore(third))->build.number, 2);
        const qint64 fourth = build("badger", "e"), fifth = build("badger", "f");
        ran(fourth, {}); // kept none
        QCOMPARE((*log->runBefore(fifth))->curves, QByteArray("three"));
        QVERIFY(!log->runBefore(goat)->has_value());
    }

    void mergedAndTakenApart() {
        auto log = open(freshPath());
        const qint64 id = addOne(*log);
        const auto tell = [&](const char* field, const char* json) {
            QVERIFY(log->change(id, QLatin1String(field), QLatin1String(json), log->defect(id)->version,
                                QStringLiteral("Petra")));
        };
        tell("same fault", "{1}");
        tell("same fault", "{2}");
        QCOMPARE(log->mergedFindings()->size(), 2);
        tell("not the same fault", "{1}");
        QCOMPARE(log->mergedFindings()->size(), 1);
        QCOMPARE(log->mergedFindings()->front(), (std::pair<qint64, QByteArray>(id, "{2}")));
        tell("same fault", "{1}");
        QCOMPARE(log->mergedFindings()->size(), 2);
    }

    void aClashIsToldNotOverwritten() {
        const QString path = freshPath();
        auto one = open(path), two = open(path);
        const qint64 id = addOne(*one);
        const qint64 seen = two->defect(id)->version;
        QVERIFY(one->change(id, QStringLiteral("assignee"), QStringLiteral("Ines"), seen,
                            QStringLiteral("Petra")));
        const auto clash =
            two->change(id, QStringLiteral("assignee"), QStringLiteral("Wim"), seen, QStringLiteral("Hauke"));
        QVERIFY(!clash);
        QVERIFY2(clash.error().find("Petra set its assignee to “Ines”") != std::string::npos,
                 clash.error().c_str());
        QCOMPARE(two->defect(id)->assignee, QStringLiteral("Ines"));
        QVERIFY(
            two->change(id, QStringLiteral("comment"), QStringLiteral("hm"), seen, QStringLiteral("Hauke")));
    }

    void roster() {
        auto log = open(freshPath());
        const auto ines = log->addPerson(QStringLiteral("  Ines   Marram "));
        QVERIFY(ines);
        QCOMPARE(log->people()->front().name, QStringLiteral("Ines Marram"));
        QVERIFY(log->addPerson(QStringLiteral("Ines Marram")).error().find("already") != std::string::npos);
        QVERIFY(!log->addPerson(QStringLiteral("   ")));
        QVERIFY(log->renamePerson(*ines, QStringLiteral("Ines Strand")));
        QVERIFY(log->setPersonActive(*ines, false));
        QVERIFY(!log->people()->front().active);
    }

    void buildsAreNumberedByCharacter() {
        auto log = open(freshPath());
        QCOMPARE(log->build(QStringLiteral("badger"), QStringLiteral("a"), QStringLiteral("1"))->number, 1);
        QCOMPARE(log->build(QStringLiteral("badger"), QStringLiteral("b"), QStringLiteral("2"))->number, 2);
        QCOMPARE(log->build(QStringLiteral("goat"), QStringLiteral("c"), QStringLiteral("3"))->number, 1);
        QCOMPARE(log->build(QStringLiteral("badger"), QStringLiteral("a"), QStringLiteral("1"))->number, 1);
    }

    void readOnly() {
        const QString path = freshPath();
        {
            auto log = open(path);
            addOne(*log);
        }
        QVERIFY(QFile::setPermissions(path, QFile::ReadOwner | QFile::ReadUser));
        const QByteArray before = bytes(path);
        {
            auto log = open(path);
            QVERIFY(log->readOnly());
            QCOMPARE(log->defects()->size(), 1);
            const Defect d = log->defects()->front();
            const auto change = log->change(d.id, QStringLiteral("state"), QStringLiteral("being fixed"),
                                            d.version, QStringLiteral("P"));
            QVERIFY2(change.error().find("read-only") != std::string::npos, change.error().c_str());
            QVERIFY(log->addPerson(QStringLiteral("X")).error().find("read-only") != std::string::npos);
        }
        QCOMPARE(bytes(path), before);
    }

    void locked() {
        const QString path = freshPath();
        auto log = open(path);
        const qint64 id = addOne(*log);
        raw(path, [&](QSqlDatabase& db) {
            QSqlQuery q(db);
            QVERIFY(q.exec(QStringLiteral("BEGIN EXCLUSIVE")));
            const auto change = log->change(id, QStringLiteral("state"), QStringLiteral("being fixed"),
                                            log->defect(id)->version, QStringLiteral("P"));
            QVERIFY2(change.error().find("another program is writing") != std::string::npos,
                     change.error().c_str());
            QVERIFY(q.exec(QStringLiteral("ROLLBACK")));
        });
        QVERIFY(log->change(id, QStringLiteral("state"), QStringLiteral("being fixed"),
                            log->defect(id)->version, QStringLiteral("P")));
    }

    void fromANewerHobble() {
        const QString path = freshPath();
        { open(path); }
        raw(path, [](QSqlDatabase& db) {
            QVERIFY(QSqlQuery(db).exec(QStringLiteral("PRAGMA user_version = 99")));
        });
        const QByteArray before = bytes(path);
        const auto log = ProductionLog::open(path, 100);
        QVERIFY2(log.error().find("newer Hobble") != std::string::npos, log.error().c_str());
        QCOMPARE(bytes(path), before);
    }

    void damaged() {
        const QString path = freshPath();
        {
            auto log = open(path);
            for (int i = 0; i < 200; ++i)
                addOne(*log);
        }
        QFile f(path);
        QVERIFY(f.open(QIODevice::ReadWrite));
        f.seek(4096 * 6);
        f.write(QByteArray(4096 * 8, '\xA5'));
        f.close();
        const QByteArray before = bytes(path);
        const auto log = ProductionLog::open(path, 100);
        QVERIFY(!log);
        QVERIFY2(log.error().find("damaged") != std::string::npos, log.error().c_str());
        QCOMPARE(bytes(path), before);
    }

    void notALog() {
        const QString text = freshPath(), other = freshPath();
        QFile f(text);
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("Dear diary");
        f.close();
        QVERIFY(ProductionLog::open(text).error().find("not a Hobble log") != std::string::npos);
        QCOMPARE(bytes(text), QByteArray("Dear diary"));
        raw(other,
            [](QSqlDatabase& db) { QVERIFY(QSqlQuery(db).exec(QStringLiteral("CREATE TABLE recipe (x)"))); });
        QVERIFY(ProductionLog::open(other).error().find("another program") != std::string::npos);
        QVERIFY(ProductionLog::open(folder_.path()).error().find("folder") != std::string::npos);
    }
};

HOBBLE_TEST(TestProductionLog)
#include "test_production_log.moc"
