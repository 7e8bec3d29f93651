// hobble-log-load PLACE ENTRY [WRITERS [RUNS]]: so many programs (64) that enter so many runs each (20) at
// once into the log at PLACE, as the tasks of a batch do: ENTRY is a run kept by hobble-cli run --log-entry.
// With each run, a verdict and a comment on a defect. How many events a second that is; whether any was lost
// or doubled; and for how long the Log page, open on it meanwhile, ever holds up its window.
#include "app/log/log_page.h"
#include "app/session/session.h"
#include "log/log_copy.h"
#include "log/run_entry.h"
#include "window_hold.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QSet>
#include <QSqlQuery>
#include <QStandardPaths>
#include <QTimer>

#include <cstdio>

using namespace hobble;
using bench::longestHold;
using bench::must;

namespace {

// One of the programs; it says "ready", and begins when it is told to.
int write(const QString& place, const RunEntry& entry, int writer, int runs) {
    auto log = must(ProductionLog::open(place, 60000));
    std::printf("ready\n");
    std::fflush(stdout);
    if (std::getchar() == EOF)
        return 1;
    const QString name = QStringLiteral("writer %1").arg(writer);
    for (int r = 0; r < runs; ++r) {
        RunEntry own = entry;
        own.character = QStringLiteral("character-%1").arg((writer * 31 + r) % 200);
        own.hash = QStringLiteral("load-%1-%2").arg(writer).arg(r);
        own.formerHash.clear();
        own.run.key = own.hash;
        must(enterRun(*log, own));
        must(enterRun(*log, own)); // as after a kill: it is there already
        const Build build = must(log->build(own.character, own.hash, own.path));
        for (const char* field : {"comment", "verdict"})
            must(log->change({{1 + (writer + r) % 50, QLatin1String(field), own.hash, 0, QString(), false}},
                             name, build.id));
    }
    return 0;
}

qint64 count(const ProductionLog& log, const QString& what) {
    QSqlQuery q(log.database());
    return q.exec(what) && q.next() ? q.value(0).toLongLong() : -1;
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    if (argc < 3)
        return 2;
    const QString place = QString::fromLocal8Bit(argv[1]);
    QFile file(QString::fromLocal8Bit(argv[2]));
    if (!file.open(QIODevice::ReadOnly))
        return 2;
    const RunEntry entry = must(runEntryFromJson(file.readAll()));
    const int writers = argc > 3 ? std::atoi(argv[3]) : 64, runs = argc > 4 ? std::atoi(argv[4]) : 20;
    if (argc > 5)
        return write(place, entry, std::atoi(argv[5]), runs);
    auto log = must(ProductionLog::open(place));
    if (log->isEmpty()) {
        const Build build = must(log->build(QStringLiteral("character-0"), QStringLiteral("first"), {}));
        for (int d = 0; d < 50; ++d) {
            DefectFacts f;
            f.buildId = build.id;
            f.joint = f.side = f.role = f.part = f.kind = f.motion = f.motionName = f.limb = f.what =
                QStringLiteral("x");
            f.pose = f.camera = f.marks = "{}";
            must(log->addDefect(f, 2, QStringLiteral("lead")));
        }
    }
    const QString all = QStringLiteral("SELECT COUNT(*) FROM ");
    const qint64 runsBefore = count(*log, all + QStringLiteral("run")),
                 eventsBefore = count(*log, all + QStringLiteral("event"));

    Session session;
    LogPage page(&session.build(), &session.run(), &session.log(), &session.compare());
    page.resize(1280, 720);
    page.show();
    session.log().open(place);
    longestHold([] {}, [&] { return !session.log().defects().isEmpty(); });

    std::vector<std::unique_ptr<QProcess>> programs;
    int ready = 0, ended = 0, failed = 0;
    for (int w = 0; w < writers; ++w) {
        programs.push_back(std::make_unique<QProcess>());
        QProcess* p = programs.back().get();
        p->setProcessChannelMode(QProcess::ForwardedErrorChannel);
        QObject::connect(p, &QProcess::readyReadStandardOutput,
                         [p, &ready] { ready += !p->readAll().isEmpty(); });
        QObject::connect(p, &QProcess::finished, [&](int code, QProcess::ExitStatus) {
            ++ended;
            failed += code != 0;
        });
        p->start(QCoreApplication::applicationFilePath(), {place, file.fileName(), QString::number(writers),
                                                           QString::number(runs), QString::number(w)});
    }
    longestHold([] {}, [&] { return ready + ended >= writers; });
    QElapsedTimer whole;
    whole.start();
    for (const auto& p : programs)
        p->write("go\n");
    const double hold = longestHold([] {}, [&] { return ended >= writers; });
    const double seconds = static_cast<double>(whole.elapsed()) / 1000;

    const qint64 expected = qint64(writers) * runs;
    const qint64 newRuns = count(*log, all + QStringLiteral("run")) - runsBefore,
                 newEvents = count(*log, all + QStringLiteral("event")) - eventsBefore;
    const qint64 distinct =
        count(*log, QStringLiteral("SELECT COUNT(DISTINCT build_id) FROM build_event WHERE field = "
                                   "'run' AND value LIKE '%load-%'"));
    std::printf(
        "%d writers, %lld runs, %lld events of defects in %.1f s: %.0f writes a second (entry %lld kB)\n",
        writers, static_cast<long long>(newRuns), static_cast<long long>(newEvents), seconds,
        static_cast<double>(newRuns * 2 + newEvents) / seconds, static_cast<long long>(file.size() / 1024));
    std::printf("the Log page meanwhile: longest hold %.0f ms\n", hold);
    const auto check = must(checkLog(*log));
    const bool well = failed == 0 && newRuns == expected && newEvents == 2 * expected &&
                      distinct >= expected && check.problems.isEmpty();
    std::printf("%s\n", well ? "nothing lost, nothing doubled" : "NOT all is there, or not once");
    return well ? 0 : 1;
}
