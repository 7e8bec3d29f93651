// hobble-log-scale PLACE [BUILDS [ENTRY]]: a log of 200 characters of so many builds (5), each with a run
// where ENTRY is one (hobble-cli run --log-entry), and 50,000 defects, at PLACE (made when it is empty): how
// long it takes to open, list, filter, group and change; and for how long the Log page ever holds up its
// window. The peer of the list is Qt's own sorting and filtering over the same rows.
#include "app/log/log_page.h"
#include "app/session/session.h"
#include "log/log_copy.h"
#include "log/log_rows.h"
#include "log/run_entry.h"
#include "log/show_state.h"
#include "log/trend.h"

#include "window_hold.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLineEdit>
#include <QSortFilterProxyModel>
#include <QStandardItemModel>
#include <QStandardPaths>
#include <QTest>
#include <QTreeView>

#include <cstdio>
#include <random>

using namespace hobble;
using bench::longestHold;
using bench::must;

namespace {

constexpr int kCharacters = 200, kDefects = 50000;
int kBuilds = 5; // of each; and a run of each where ENTRY is given

Result<Done> fill(ProductionLog& log, const std::optional<RunEntry>& entry) {
    std::mt19937 random(7);
    const auto any = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
    const auto& tables = logTables();
    const auto table = [&](const char* name) -> const LogTable& {
        return *std::find_if(tables.begin(), tables.end(),
                             [&](const LogTable& t) { return t.name == QLatin1String(name); });
    };
    static const char* joints[] = {"elbow", "knee", "shoulder", "hip", "wrist", "ankle", "neck", "jaw"};
    static const char* limbs[] = {"Arms", "Legs", "Arms", "Legs", "Hands", "Feet", "Head", "Head"};
    static const char* kinds[] = {"pinch", "stretch", "volume loss", "contact", "leak", "pop"};
    const QString day = QStringLiteral("2026-%1-%2T%3:00:00.000Z");
    return log.inTransaction(QStringLiteral("fill"), [&]() -> Result<Done> {
        RowWriter people(log, table("person"));
        for (int p = 1; p <= 60; ++p)
            if (auto r = people.add({p, QStringLiteral("Rigger %1").arg(p), p % 9 != 0 ? 1 : 0, QString()});
                !r)
                return r;
        if (auto r = people.finish(); !r)
            return r;
        RowWriter builds(log, table("build"));
        for (int b = 0; b < kCharacters * kBuilds; ++b)
            if (auto r = builds.add({b + 1, QStringLiteral("character-%1").arg(b / kBuilds),
                                     QStringLiteral("h%1").arg(b), QStringLiteral("/builds/%1.glb").arg(b),
                                     b % kBuilds + 1,
                                     day.arg(1 + any(9), 2, 10, QLatin1Char('0'))
                                         .arg(1 + any(28), 2, 10, QLatin1Char('0'))
                                         .arg(10)});
                !r)
                return r;
        if (auto r = builds.finish(); !r)
            return r;
        if (entry) {
            RowWriter runs(log, table("run"));
            RowWriter figures(log, table("build_event"));
            const QByteArray curves = qCompress(entry->run.curves);
            for (int b = 1; b <= kCharacters * kBuilds; ++b) {
                const QString at = day.arg(1 + any(9), 2, 10, QLatin1Char('0'))
                                       .arg(1 + any(28), 2, 10, QLatin1Char('0'))
                                       .arg(11);
                if (auto r = runs.add({b, b, QStringLiteral("full plan"), QStringLiteral("linear"), at,
                                       entry->run.poses, QString::fromUtf8(entry->run.findings), curves});
                    !r)
                    return r;
                if (auto r = figures.add({b, b, at, QStringLiteral(""), QStringLiteral("run"),
                                          QStringLiteral("{\"coverage\":0.97,\"faults\":[%1,%2,%3,%4]}")
                                              .arg(any(20))
                                              .arg(any(10))
                                              .arg(any(5))
                                              .arg(any(3))});
                    !r)
                    return r;
            }
            for (RowWriter* w : {&runs, &figures})
                if (auto r = w->finish(); !r)
                    return r;
        }
        RowWriter defects(log, table("defect"));
        QByteArray marks = "{\"parts\":{\"body\":[";
        for (int v = 0; v < 120; ++v)
            marks +=
                QByteArray::number(1000 + v) + (v < 119 ? "," : "]},\"place\":[0.1,0.2,0.0],\"reach\":0.05}");
        for (int d = 1; d <= kDefects; ++d) {
            const int j = any(8);
            const char* side = d % 2 ? "left" : "right";
            if (auto r = defects.add({d,
                                      1 + any(kCharacters * kBuilds),
                                      QStringLiteral("%1.%2").arg(QLatin1String(joints[j])).arg(side[0]),
                                      QLatin1String(side),
                                      QLatin1String(joints[j]),
                                      QStringLiteral("body"),
                                      QLatin1String(kinds[any(6)]),
                                      QStringLiteral("%1-flex").arg(QLatin1String(joints[j])),
                                      QStringLiteral("%1 flex").arg(QLatin1String(joints[j])),
                                      QLatin1String(limbs[j]),
                                      40.0,
                                      90.0 + any(60),
                                      0.3 + any(100) / 200.0,
                                      0.85,
                                      QStringLiteral("%1 %2 pinches to %3 % in flex at %4°.")
                                          .arg(QLatin1String(side), QLatin1String(joints[j]))
                                          .arg(any(90))
                                          .arg(90),
                                      QStringLiteral("too few loops: %1").arg(any(1000)),
                                      QStringLiteral("{\"at\":\"90°\",\"turns\":{\"a\":[0,0,0,1]}}"),
                                      QStringLiteral("{}"),
                                      QString::fromLatin1(marks),
                                      QVariant(),
                                      QStringLiteral("90°"),
                                      QString()});
                !r)
                return r;
        }
        if (auto r = defects.finish(); !r)
            return r;
        RowWriter events(log, table("event"));
        qint64 id = 0;
        for (int d = 1; d <= kDefects; ++d) {
            const QString at = day.arg(1 + any(11), 2, 10, QLatin1Char('0'))
                                   .arg(1 + any(28), 2, 10, QLatin1Char('0'))
                                   .arg(10 + any(9));
            const auto say = [&](const char* field, const QString& value) {
                return events.add({++id, d, at, QStringLiteral("Lead %1").arg(1 + any(5)),
                                   QLatin1String(field), value, 0, QString(), QVariant()});
            };
            for (const auto& [field, value] :
                 {std::pair("state", QStringLiteral("logged")),
                  {"severity", QString::number(1 + any(4))},
                  {"assignee", QString()},
                  {"assignee", QStringLiteral("Rigger %1").arg(1 + any(60))},
                  {"state", nameOf(kDefectStates[static_cast<std::size_t>(1 + any(6))])},
                  {"comment", QStringLiteral("@Rigger %1 look at frame %2").arg(any(60)).arg(d)}})
                if (auto r = say(field, value); !r)
                    return r;
        }
        if (auto r = events.finish(); !r)
            return r;
        return settleNumbers(log);
    });
}

template <class F> double took(F&& work, int times = 1) {
    double best = 1e300;
    for (int i = 0; i < times; ++i) {
        QElapsedTimer t;
        t.start();
        work();
        best = std::min(best, static_cast<double>(t.nsecsElapsed()) / 1e6);
    }
    return best;
}

void tell(const char* what, double ms) { std::printf("%-58s %9.1f ms\n", what, ms); }

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    if (argc < 2)
        return 2;
    if (argc > 2)
        kBuilds = std::atoi(argv[2]);
    std::optional<RunEntry> entry;
    if (argc > 3) {
        QFile file(QString::fromLocal8Bit(argv[3]));
        if (!file.open(QIODevice::ReadOnly))
            return 2;
        entry = must(runEntryFromJson(file.readAll()));
    }
    const QString place = QString::fromLocal8Bit(argv[1]);
    auto log = must(ProductionLog::open(place));
    if (log->isEmpty())
        tell("made", took([&] { must(fill(*log, entry)); }));
    log.reset();
    tell("opened", took([&] { log = must(ProductionLog::open(place)); }));
    QVector<Defect> all;
    tell("all read", took([&] { all = must(log->defects()); }, 3));
    DefectList list;
    tell("list made", took([&] { list.setDefects(all); }, 3));
    DefectFilter words;
    words.words = QStringLiteral("knee character-77");
    tell("filtered by two words",
         took([&] { (void)list.arranged(words, DefectGrouping::None, DefectOrder::Severity, true); }, 5));
    tell("all sorted by words",
         took([&] { (void)list.arranged({}, DefectGrouping::None, DefectOrder::What, false); }, 5));
    tell("all in groups by rigger",
         took([&] { (void)list.arranged({}, DefectGrouping::Rigger, DefectOrder::Severity, true); }, 5));
    {
        QStandardItemModel model(static_cast<int>(all.size()), 1);
        for (int i = 0; i < all.size(); ++i)
            model.setItem(i, 0,
                          new QStandardItem(all[i].facts.what + QLatin1Char(' ') + all[i].build.character));
        QSortFilterProxyModel proxy;
        proxy.setSourceModel(&model);
        proxy.setFilterCaseSensitivity(Qt::CaseInsensitive);
        tell("  peer: Qt's proxy, filtered by one word",
             took(
                 [&] {
                     proxy.setFilterFixedString(QStringLiteral("knee"));
                     proxy.setFilterFixedString(QString());
                 },
                 3) /
                 2);
        tell("  peer: Qt's proxy, all sorted by words", took([&] {
                 proxy.sort(0, Qt::AscendingOrder);
                 proxy.sort(-1);
             }));
    }
    qint64 seen = must(log->newestEvent());
    tell("one change written", took(
                                   [&] {
                                       const Defect d = must(log->defects({.id = 77})).front();
                                       must(log->change(77, QStringLiteral("comment"), QStringLiteral("hm"),
                                                        d.version, QStringLiteral("bench")));
                                   },
                                   5));
    tell("what changed read again", took([&] { (void)must(log->defects({.changedAfter = seen})); }, 5));
    QVector<DefectChange> many;
    for (int i = 1; i <= 500; ++i)
        many.push_back(
            {i, QStringLiteral("due"), QStringLiteral("build %1").arg(seen % 1000), seen * 2, {}, false});
    tell("500 changed at once", took([&] { must(log->change(many, QStringLiteral("bench"))); }));
    tell("mentions of one person", took([&] { (void)must(log->mentionsOf(QStringLiteral("Rigger 7"))); }));
    tell("the show, every character",
         took([&] { (void)must(showState(*log, QDateTime::currentDateTime())); }));
    tell("the trend", took([&] { (void)must(trendOf(*log, TrendQuery())); }));
    tell("the newest runs of one character, with curves",
         took([&] { (void)must(log->newestRuns(QStringLiteral("character-77"))); }));
    tell("checked, all of it", took([&] { (void)must(checkLog(*log)); }));
    log.reset();

    // The page on it, with its window.
    Session session;
    LogPage page(&session.build(), &session.run(), &session.log(), &session.compare());
    page.resize(1280, 720);
    page.show();
    QElapsedTimer until;
    until.start();
    const double opening =
        longestHold([&] { session.log().open(place); },
                    [&] { return session.log().defects().size() > 49000 && page.chosen() > 0; });
    tell("page: from opening the log to the list", static_cast<double>(until.elapsed()));
    tell("page: longest hold of the window meanwhile", opening);
    auto* search = page.findChild<QLineEdit*>(QStringLiteral("logSearch"));
    const auto settled = [&](int ms) {
        auto t = std::make_shared<QElapsedTimer>();
        t->start();
        return [t, ms] { return t->elapsed() > ms; };
    };
    tell("page: longest hold while “left knee” is typed",
         longestHold(
             [&] {
                 for (const QChar c : QStringLiteral("left knee")) {
                     QTest::keyClick(search, c.toLatin1());
                     QCoreApplication::processEvents();
                 }
             },
             settled(600)));
    tell("page: longest hold when it is cleared", longestHold([&] { search->clear(); }, settled(600)));
    tell("page: longest hold on the next defect", longestHold([&] { page.step(1); }, settled(400)));
    tell("page: longest hold on setting a severity",
         longestHold(
             [&] { session.log().change({page.chosen()}, QStringLiteral("severity"), QStringLiteral("2")); },
             settled(400)));
    tell("page: longest hold on the workload", longestHold([&] { page.showWorkload(true); }, settled(400)));
    return 0;
}
