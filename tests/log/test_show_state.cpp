// How a whole show stands, told from the log: against a slow count over the events, one character after the
// other; and the page that says it.
#include "log/show_state.h"
#include "support/suite.h"

#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

using namespace hobble;

class TestShowState : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::unique_ptr<ProductionLog> log_;

    qint64 build(const char* character, int number) {
        const auto b = log_->build(QLatin1String(character),
                                   QStringLiteral("%1-%2").arg(QLatin1String(character)).arg(number),
                                   QStringLiteral("/builds/%1").arg(number));
        return b ? b->id : 0;
    }
    qint64 defect(qint64 build, int severity, const char* what) {
        DefectFacts f;
        f.buildId = build;
        f.what = QLatin1String(what);
        f.kind = QStringLiteral("stretch");
        f.pose = f.camera = f.marks = "{}";
        const auto id = log_->addDefect(f, severity, QStringLiteral("Petra"));
        return id ? *id : 0;
    }
    void move(qint64 id, DefectState to) {
        const auto way = wayTo(log_->defect(id)->state, to);
        for (DefectState next : way) {
            const auto done =
                log_->change(id, QStringLiteral("state"), nameOf(next), log_->defect(id)->version,
                             QStringLiteral("Petra"), QStringLiteral("so it is"));
            QVERIFY2(done, done ? "" : done.error().c_str());
        }
    }
    static const CharacterState& of(const ShowState& show, const char* character) {
        for (const CharacterState& c : show.characters)
            if (c.character == QLatin1String(character))
                return c;
        qFatal("no %s", character);
    }

private slots:
    void initTestCase() {
        auto log = ProductionLog::open(folder_.filePath(QStringLiteral("log.sqlite")));
        QVERIFY(log);
        log_ = std::move(*log);
    }
    void cleanupTestCase() { log_.reset(); }

    void nothingYet() {
        const auto show = showState(*log_, QDateTime::currentDateTime());
        QVERIFY(show && show->characters.isEmpty());
        QCOMPARE(showSentence(*show),
                 QStringLiteral("0 characters, 0 signed off; 0 defects open, 0 of them blocking"));
    }

    void eachCharacterAsItStands() {
        const qint64 badger = build("badger", 1), goat = build("goat", 1), newer = build("goat", 2);
        build("newt", 1);
        RunSummary run;
        run.buildId = badger;
        run.plan = run.method = QStringLiteral("x");
        run.findings = "[]";
        run.coverage = 0.97;
        run.faults = {0, 4, 3, 2, 1};
        QVERIFY(log_->addRun(run));
        run.faults = {0, 1, 0, 0, 0}; // the newest counts
        QVERIFY(log_->addRun(run));
        const qint64 bad = defect(goat, 4, "Left knee stretches"),
                     fixed = defect(goat, 3, "Right knee pinches"), gone = defect(goat, 4, "Meant so"),
                     small = defect(badger, 1, "Ear kicks");
        QVERIFY(bad && fixed && gone && small);
        move(fixed, DefectState::ToBeChecked);
        move(gone, DefectState::Intended);
        const Build signed_ = log_->builds(QStringLiteral("goat"))->front().build;
        SignedState state;
        state.hash = signed_.hash;
        state.use = QStringLiteral("to layout");
        state.limit = 5; // whatever is open
        QVERIFY(signOff(*log_, signed_, state, QStringLiteral("Petra")));
        const auto show = showState(*log_, QDateTime::currentDateTime(), 8);
        QVERIFY2(show, show ? "" : show.error().c_str());
        QStringList order;
        for (const CharacterState& c : show->characters)
            order << c.character;
        QCOMPARE(order,
                 (QStringList{QStringLiteral("goat"), QStringLiteral("badger"), QStringLiteral("newt")}));
        const CharacterState& g = of(*show, "goat");
        QCOMPARE(g.build.id, newer);
        QCOMPARE(g.build.number, 2);
        QVERIFY(!g.signedOff); // another build is
        QCOMPARE(g.signedBefore, 1);
        QVERIFY(!g.run);
        QCOMPARE(g.open, (std::array<int, 5>{0, 0, 0, 1, 1}));
        QCOMPARE(g.toBeChecked, 1);
        QCOMPARE(g.worst, bad);
        QCOMPARE(g.openByWeek.size(), 8);
        QCOMPARE(g.openByWeek.back(), 2); // what is meant so is not open
        QCOMPARE(g.openByWeek.front(), 0);
        const CharacterState& b = of(*show, "badger");
        QVERIFY(b.run);
        QCOMPARE(b.run->coverage, 0.97);
        QCOMPARE(b.run->faults, (std::array<int, 5>{0, 1, 0, 0, 0}));
        QCOMPARE(of(*show, "newt").openAll(), 0);
        QCOMPARE(showSentence(*show),
                 QStringLiteral("3 characters, 0 signed off; 3 defects open, one of them blocking")
                     .replace(QStringLiteral("one of"), QStringLiteral("1 of")));
        SignedState again = state;
        const Build now = g.build;
        again.hash = now.hash;
        QVERIFY(signOff(*log_, now, again, QStringLiteral("Ines")));
        const auto after = showState(*log_, QDateTime::currentDateTime());
        QVERIFY(of(*after, "goat").signedOff);
        QCOMPARE(of(*after, "goat").signedOff->author, QStringLiteral("Ines"));
    }

    // The demo's story, week by week, against the events one by one.
    void weeksAreThoseOfTheEvents() {
        const QString copy = folder_.filePath(QStringLiteral("demo.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), copy));
        QVERIFY(QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner));
        const auto log = ProductionLog::open(copy);
        QVERIFY(log);
        QDateTime now;
        const auto defects = (*log)->defects();
        QVERIFY(defects && !defects->isEmpty());
        for (const Defect& d : *defects)
            now = std::max(now, d.changedAt);
        const int weeks = 6;
        const auto show = showState(**log, now, weeks);
        QVERIFY(show && show->characters.size() == 1);
        for (int w = 0; w < weeks; ++w) {
            const QDate end = show->week.addDays(7 * (w - weeks + 2)); // the Monday after
            int open = 0;
            for (const Defect& d : *defects) {
                if (d.state == DefectState::Withdrawn || d.state == DefectState::Duplicate)
                    continue;
                const auto history = (*log)->history(d.id);
                QVERIFY(history);
                bool is = false;
                for (const DefectEvent& e : *history)
                    if (e.field == QLatin1String("state") && e.at.date() < end)
                        is = isOpen(*stateCalled(e.value));
                open += is;
            }
            QCOMPARE(show->characters[0].openByWeek[w], open);
        }
        QVERIFY(show->characters[0].run); // the story's log says what its runs moved
        QVERIFY(!show->characters[0].picture.isEmpty());
    }
};

HOBBLE_TEST(TestShowState)
#include "test_show_state.moc"
