// The trend against a slow count of its own: every week and build, every defect's history lived through
// apart; on a file and on a server.
#include "log/trend.h"
#include "support/postgres.h"
#include "support/suite.h"

#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

#include <random>

using namespace hobble;
using test::freshDatabase;

class TestTrend : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    int files_ = 0;

    std::unique_ptr<ProductionLog> fresh() {
        QFETCH_GLOBAL(bool, server);
        auto log = ProductionLog::open(
            server ? freshDatabase() : folder_.filePath(QStringLiteral("trend %1.sqlite").arg(++files_)));
        if (!log)
            qFatal("%s", log.error().c_str());
        return std::move(*log);
    }
    // Events are written as of now: the tests set their times, day by day.
    static void at(ProductionLog& log, qint64 event, const QDate& day, int second) {
        QSqlQuery q(log.database());
        QVERIFY(
            q.exec(QStringLiteral("UPDATE event SET at = '%1' WHERE id = %2")
                       .arg(QDateTime(day, QTime(9, 0).addSecs(second), Qt::UTC).toString(Qt::ISODateWithMs))
                       .arg(event)));
    }

private slots:
    void initTestCase_data() {
        QTest::addColumn<bool>("server");
        QTest::newRow("file") << false;
        QTest::newRow("server") << true;
    }

    void nothing() {
        const auto trend = trendOf(*fresh(), {});
        QVERIFY(trend && trend->points.isEmpty());
        QCOMPARE(trendToCsv(*trend).count('\n'), 1);
    }

    void againstASlowCount() {
        auto log = fresh();
        std::mt19937 random(7);
        const QDate start(2026, 9, 7); // a Monday
        struct Event {
            qint64 defect;
            QDate day;
            QString field, value;
        };
        QVector<Event> told;
        int second = 0;
        const auto newest = [&] { return *log->newestEvent(); };
        for (int d = 0; d < 40; ++d) {
            const auto build =
                log->build(QStringLiteral("badger"), QStringLiteral("h%1").arg(d % 4), QStringLiteral("/b"));
            DefectFacts f;
            f.buildId = build->id;
            f.joint = d % 3 ? QStringLiteral("forearm.L") : QStringLiteral("shin.R");
            f.kind = QStringLiteral("stretch");
            f.cause = d % 5 == 0   ? QStringLiteral("stray influence: 29 % from hand.L.")
                      : d % 5 == 1 ? QStringLiteral("stray influence too")
                                   : QStringLiteral("");
            f.pose = f.camera = f.marks = "{}";
            const qint64 before = newest();
            const int severity = 1 + d % 4;
            const auto id = log->addDefect(f, severity, QStringLiteral("Petra"));
            QVERIFY(id);
            QDate day = start.addDays(static_cast<int>(random() % 30));
            for (qint64 e = before + 1; e <= newest(); ++e)
                at(*log, e, day, ++second);
            told << Event{*id, day, QStringLiteral("state"), QStringLiteral("logged")}
                 << Event{*id, day, QStringLiteral("severity"), QString::number(severity)};
            DefectState state = DefectState::Logged;
            for (int k = 0; k < 6; ++k) {
                day = day.addDays(static_cast<int>(random() % 9));
                const auto now = log->defects({.id = *id});
                DefectChange change{*id, {}, {}, now->front().version, QStringLiteral("why"), false};
                if (random() % 6 == 0) {
                    change.field = QStringLiteral("verdict");
                    change.value =
                        random() % 2 ? QStringLiteral("cured") : QStringLiteral("better on one side");
                } else if (random() % 3 == 0) {
                    change.field = QStringLiteral("severity");
                    change.value = QString::number(1 + random() % 4);
                    if (change.value.toInt() == now->front().severity)
                        continue;
                } else {
                    const auto moves = movesFrom(state);
                    DefectState to =
                        moves[static_cast<qsizetype>(random() % static_cast<unsigned>(moves.size()))];
                    if (to == DefectState::Duplicate)
                        continue;
                    for (DefectState likely : {DefectState::ToBeChecked, DefectState::Closed})
                        if (moves.contains(likely) && random() % 2)
                            to = likely;
                    change.field = QStringLiteral("state");
                    change.value = nameOf(to);
                    state = to;
                }
                const auto written = log->change({change}, QStringLiteral("Petra"), build->id);
                QVERIFY2(written, written.error().c_str());
                at(*log, newest(), day, ++second);
                told << Event{*id, day, change.field, change.value};
            }
        }
        const auto trend = trendOf(*log, {});
        QVERIFY2(trend, trend.error().c_str());
        QVERIFY(trend->points.size() > 3);
        int found = 0, cured = 0, oneSided = 0;
        for (qsizetype w = 0; w < trend->points.size(); ++w) {
            const TrendPoint& p = trend->points[w];
            QCOMPARE(p.from.dayOfWeek(), 1);
            // each defect as it stood on the Sunday
            std::array<int, 5> open{};
            QVector<qint64> ids;
            for (qint64 id = 1; id <= 40; ++id) {
                DefectState state = DefectState::Logged;
                int severity = 0;
                bool there = false;
                for (const Event& e : told)
                    if (e.defect == id && e.day <= p.from.addDays(6)) {
                        there = true;
                        if (e.field == QLatin1String("state"))
                            state = *stateCalled(e.value);
                        else if (e.field == QLatin1String("severity"))
                            severity = e.value.toInt();
                    }
                if (there && isOpen(state)) {
                    ++open[static_cast<std::size_t>(severity)];
                    ids << id;
                }
            }
            QCOMPARE(p.open, open);
            auto listed = trend->openAt(w);
            std::sort(listed.begin(), listed.end());
            QCOMPARE(listed, ids);
            QSet<qint64> halves; // left on the other side, told that week
            for (const Event& e : told)
                if (e.value.endsWith(QLatin1String("on one side")) && e.day >= p.from &&
                    e.day <= p.from.addDays(6))
                    halves.insert(e.defect);
            QCOMPARE(QSet<qint64>(p.oneSided.begin(), p.oneSided.end()), halves);
            QCOMPARE(p.oneSided.size(), halves.size());
            oneSided += static_cast<int>(halves.size());
            found += static_cast<int>(p.found.size());
            cured += static_cast<int>(p.cured.size());
            QCOMPARE(p.daysToCure < 0, p.cured.isEmpty());
        }
        QCOMPARE(found, 40);
        QVERIFY(cured > 0);
        QVERIFY(oneSided > 0);
        // of one joint alone, and over builds
        const auto knee = trendOf(*log, {TrendQuery::Weeks, {}, QStringLiteral("shin.R"), {}, {}});
        int knees = 0;
        for (const TrendPoint& p : knee->points)
            knees += static_cast<int>(p.found.size());
        QCOMPARE(knees, 14);
        const auto strays = trendOf(*log, {TrendQuery::Weeks, {}, {}, {}, QStringLiteral("stray influence")});
        int stray = 0;
        for (const TrendPoint& p : strays->points)
            stray += static_cast<int>(p.found.size());
        QCOMPARE(stray, 8);
        const auto builds = trendOf(*log, {TrendQuery::Builds, QStringLiteral("badger"), {}, {}, {}});
        QCOMPARE(builds->points.size(), 4);
        QCOMPARE(builds->points.back().open, trend->points.back().open); // in the end it is what it is
        QCOMPARE(trendToCsv(*trend).count('\n'), static_cast<int>(trend->points.size()) + 1);
        QVERIFY(trendOf(*log, {TrendQuery::Weeks, QStringLiteral("'; DROP TABLE event; --"), {}, {}, {}})
                    ->points.isEmpty());
    }
};

HOBBLE_TEST(TestTrend)
#include "test_trend.moc"
