// Filters, groups and orders of the list; workload, suggestions and mentions; tables for spreadsheets.
#include "log/defect_csv.h"
#include "log/defect_list.h"
#include "log/kept_edits.h"
#include "log/workload.h"
#include "support/suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <random>

using namespace hobble;

class TestDefectList : public QObject {
    Q_OBJECT

    static Defect make(qint64 id, const char* who, DefectState state, int severity, const char* limb = "Arms",
                       const char* role = "elbow", const char* kind = "pinch") {
        Defect d;
        d.id = d.version = id;
        d.assignee = QLatin1String(who);
        d.state = state;
        d.severity = severity;
        d.facts.limb = QLatin1String(limb);
        d.facts.role = QLatin1String(role);
        d.facts.kind = QLatin1String(kind);
        d.facts.what = QStringLiteral("Left %1 fault %2, in flex at 90°.").arg(QLatin1String(role)).arg(id);
        d.facts.motionName = QStringLiteral("flex");
        d.facts.degrees = static_cast<double>(id * 7 % 90);
        d.build = {1, QStringLiteral("badger"), QStringLiteral("h"), QStringLiteral("/b"),
                   static_cast<int>(id % 3) + 1};
        d.loggedAt = QDateTime(QDate(2026, 11, 1), QTime(9, 0), Qt::UTC);
        d.changedAt = d.loggedAt.addDays(4);
        return d;
    }

    static QVector<Defect> some() {
        using S = DefectState;
        return {make(1, "Ines", S::Assigned, 3),
                make(2, "Ines", S::ToBeChecked, 2),
                make(3, "", S::Logged, 4, "Legs", "knee"),
                make(4, "Wim", S::BeingFixed, 4, "Legs", "knee", "pop"),
                make(5, "Wim", S::Closed, 1),
                make(6, "", S::Intended, 2),
                make(7, "", S::Withdrawn, 4),
                make(8, "Jonas", S::Assigned, 1, "Tail", "tail")};
    }

    static QVector<qint64> idsOf(const DefectList& list, const QVector<DefectGroup>& groups) {
        QVector<qint64> out;
        for (const DefectGroup& g : groups)
            for (int row : g.rows)
                out << list.defects()[row].id;
        return out;
    }

    static QVector<Person> roster() {
        return {{1, QStringLiteral("Ines"), true, {}},
                {2, QStringLiteral("Wim"), true, {}},
                {3, QStringLiteral("Hedda"), true, {}},
                {4, QStringLiteral("Jonas"), false, {}}};
    }

private slots:
    // What was said of a defect is looked through with its own words, each where it is; and what is said
    // later.
    void wordsOfComments() {
        DefectList list;
        list.setDefects(some());
        list.addComments(
            {{1, QStringLiteral("Half done: the FRONT is smooth")}, {4, QStringLiteral("Hooked again")}});
        DefectFilter f;
        const auto found = [&](const char* words) {
            f.words = QLatin1String(words);
            return idsOf(list, list.arranged(f, DefectGrouping::None, DefectOrder::Number, false));
        };
        QCOMPARE(found("front"), QVector<qint64>{1});
        QCOMPARE(found("front elbow"), QVector<qint64>{1});
        QCOMPARE(found("front knee"), QVector<qint64>{});
        QCOMPARE(found("hooked"), QVector<qint64>{4});
        list.update({make(4, "Ines", DefectState::ToBeChecked, 4, "Legs", "knee", "pop")});
        list.addComments({{4, QStringLiteral("and combed")}});
        QCOMPARE(found("hooked combed ines"), QVector<qint64>{4});
        list.setDefects(some());
        QCOMPARE(found("hooked"), QVector<qint64>{});
    }

    void filtersAndOrders() {
        DefectList list;
        list.setDefects(some());
        using G = DefectGrouping;
        using O = DefectOrder;
        QCOMPARE(idsOf(list, list.arranged({}, G::None, O::Number, false)),
                 (QVector<qint64>{1, 2, 3, 4, 5, 6, 8}));
        QCOMPARE(idsOf(list, list.arranged({}, G::None, O::Severity, true)),
                 (QVector<qint64>{3, 4, 1, 2, 6, 5, 8}));
        QCOMPARE(idsOf(list, list.arranged({}, G::None, O::Number, true)),
                 (QVector<qint64>{8, 6, 5, 4, 3, 2, 1}));
        DefectFilter f;
        f.states = openStates();
        QCOMPARE(idsOf(list, list.arranged(f, G::None, O::Number, false)), (QVector<qint64>{1, 2, 3, 4, 8}));
        f.who = QString();
        QCOMPARE(idsOf(list, list.arranged(f, G::None, O::Number, false)), (QVector<qint64>{3}));
        f.who.reset();
        f.words = QStringLiteral("KNEE  wim");
        QCOMPARE(idsOf(list, list.arranged(f, G::None, O::Number, false)), (QVector<qint64>{4}));
        f.words = QStringLiteral("build 3 flex");
        QCOMPARE(idsOf(list, list.arranged(f, G::None, O::Number, false)),
                 (QVector<qint64>{2, 3, 8})); // 3 by number
        f.words.clear();
        f.leastSeverity = 4;
        f.among = QSet<qint64>{1, 4};
        QCOMPARE(idsOf(list, list.arranged(f, G::None, O::Number, false)), (QVector<qint64>{4}));
    }

    void groups() {
        DefectList list;
        list.setDefects(some());
        const auto titles = [&](DefectGrouping g) {
            QStringList out;
            for (const DefectGroup& group : list.arranged({}, g, DefectOrder::Number, false))
                out << QStringLiteral("%1:%2").arg(group.title).arg(group.rows.size());
            return out;
        };
        QCOMPARE(titles(DefectGrouping::Rigger),
                 (QStringList{QStringLiteral("nobody yet:2"), QStringLiteral("Ines:2"),
                              QStringLiteral("Jonas:1"), QStringLiteral("Wim:2")}));
        QCOMPARE(titles(DefectGrouping::State).front(), QStringLiteral("logged:1"));
        QCOMPARE(titles(DefectGrouping::Limb),
                 (QStringList{QStringLiteral("Arms:4"), QStringLiteral("Legs:2"), QStringLiteral("Tail:1")}));
        QCOMPARE(titles(DefectGrouping::Build).front(),
                 QStringLiteral("badger, build 3:3")); // the newest first
    }

    // Changed in place is the same as set anew, whatever the order.
    void updatedIsAsSetAnew() {
        std::mt19937 random(3);
        DefectList stepwise, whole;
        QMap<qint64, Defect> all;
        for (int round = 0; round < 200; ++round) {
            const qint64 id = 1 + static_cast<qint64>(random() % 60);
            all[id] =
                make(id, random() % 2 ? "Ines" : "Wim", kDefectStates[random() % 10], 1 + int(random() % 4));
            stepwise.update({all[id]});
        }
        whole.setDefects(all.values());
        for (const DefectGrouping g : {DefectGrouping::None, DefectGrouping::Rigger, DefectGrouping::State})
            QCOMPARE(idsOf(stepwise, stepwise.arranged({}, g, DefectOrder::What, true)),
                     idsOf(whole, whole.arranged({}, g, DefectOrder::What, true)));
    }

    void filtersAreKept() {
        DefectFilter f;
        f.words = QStringLiteral("elbow \"袖\"");
        f.states = {DefectState::NotItsFault, DefectState::Logged};
        f.who = QString();
        f.leastSeverity = 3;
        QCOMPARE(DefectFilter::fromJson(f.toJson()), f);
        for (const QSet<qint64>& picked : {QSet<qint64>{}, {7, 3, 5000000000}}) {
            f.among = picked; // none is not the same as all
            QCOMPARE(DefectFilter::fromJson(f.toJson()), f);
        }
        QCOMPARE(DefectFilter::fromJson({}), DefectFilter());
    }

    void moves() {
        for (DefectState from : kDefectStates) {
            QCOMPARE(*stateCalled(nameOf(from)), from);
            QVERIFY(!mayMove(from, from));
            QVERIFY(!mayMove(from, DefectState::Withdrawn));
            for (DefectState to : movesFrom(from)) {
                QVERIFY(mayMove(from, to));
                QCOMPARE(needsReason(from, to) || !isWayOut(to), true); // no way out without one
            }
        }
        QVERIFY(movesFrom(DefectState::Withdrawn).isEmpty());
    }

    void whoHasHowMuch() {
        const QDateTime now(QDate(2026, 11, 21), QTime(9, 0), Qt::UTC);
        const auto loads = workload(some(), roster(), now);
        QStringList names;
        for (const Load& l : loads)
            names << l.person;
        QCOMPARE(names, (QStringList{QStringLiteral("Wim"), QStringLiteral("Ines"), QStringLiteral("Jonas"),
                                     QStringLiteral("Hedda"), QString()}));
        QCOMPARE(loads[0].bySeverity[4], 1);
        QCOMPARE(loads[0].closed, 1);
        QCOMPARE(loads[0].meanDaysToClose, 4.0);
        QCOMPARE(loads[1].waiting, 1);
        QCOMPARE(loads[1].toBeChecked, 1);
        QCOMPARE(loads[1].oldestDays, 20);
        QVERIFY(!loads[2].onRoster); // has left, and something is still theirs
        QCOMPARE(loads[3].waiting, 0);
        QCOMPARE(loads[4].waiting, 1); // nobody's
        QVERIFY(workload({}, {}, now).isEmpty());
    }

    void whoIsTheOne() {
        const auto for_ = [&](const Defect& d) { return suggestAssignees(d, some(), roster()); };
        auto s = for_(make(99, "", DefectState::Logged, 3, "Legs", "knee"));
        QCOMPARE(s.size(), 3); // Jonas has left
        QCOMPARE(s[0].person, QStringLiteral("Wim"));
        QCOMPARE(s[0].why, QStringLiteral("had 1 at this joint, has 1 to do"));
        s = for_(make(99, "", DefectState::Logged, 3, "Arms", "elbow"));
        QCOMPARE(s[0].person, QStringLiteral("Ines"));
        s = for_(make(99, "", DefectState::Logged, 3, "Face", "jaw", "gap"));
        QCOMPARE(s.back().weight, 0.0);
        QVERIFY(suggestAssignees(make(9, "", DefectState::Logged, 1), {}, {}).isEmpty());
        // sixty people: everybody is there once
        QVector<Person> sixty;
        for (int i = 0; i < 60; ++i)
            sixty << Person{i, QStringLiteral("P%1").arg(i), true, {}};
        QCOMPARE(suggestAssignees(make(9, "", DefectState::Logged, 1), some(), sixty).size(), 60);
    }

    void whoIsSpokenOf() {
        const QVector<Person> people{{1, QStringLiteral("Ines Marram"), true, {}},
                                     {2, QStringLiteral("Ines Strand"), true, {}},
                                     {3, QStringLiteral("Wim Knot"), true, {}}};
        const auto in = [&](const char* text) { return mentionsIn(QString::fromUtf8(text), people); };
        QCOMPARE(in("@Ines Marram, look"), QVector<QString>{QStringLiteral("Ines Marram")});
        QVERIFY(in("@Ines, look").isEmpty()); // which?
        QCOMPARE(in("(@wim) and @Ines Strand"),
                 (QVector<QString>{QStringLiteral("Wim Knot"), QStringLiteral("Ines Strand")}));
        QVERIFY(in("wim@saltmarsh, @Wimbledon, @").isEmpty());
    }

    void tablesForSpreadsheets() {
        Defect d = make(1, "Ines", DefectState::Assigned, 3);
        d.facts.what = QStringLiteral("=HYPERLINK(\"x\"), \"quoted\"\nsecond line");
        d.facts.cause = QStringLiteral("-0.5 of it");
        d.facts.joint = QStringLiteral("@joint");
        d.facts.value = -0.25;
        const QByteArray csv = defectsToCsv({d});
        QVERIFY(csv.startsWith("\xEF\xBB\xBFnumber,"));
        QVERIFY(csv.contains("\"'=HYPERLINK(\"\"x\"\")"));
        QVERIFY(csv.contains("'@joint"));
        QVERIFY(csv.contains("'-0.5 of it"));
        QVERIFY(csv.contains(",-0.25,")); // a number is no formula
        const auto nothing = changesFromCsv(csv, {d}, {});
        QVERIFY2(nothing, nothing.error().c_str());
        QVERIFY(nothing->changes.isEmpty() && nothing->problems.isEmpty() && nothing->fresh.isEmpty());
    }

    void tablesInAgain() {
        const QVector<Defect> defects{make(1, "Ines", DefectState::Assigned, 3),
                                      make(2, "", DefectState::Logged, 1)};
        QVector<BuildState> builds(1);
        builds[0].build = {7, QStringLiteral("badger"), {}, {}, 2};
        const QByteArray csv = "number,who,severity,state,reason,character,build,what,new comment\r\n"
                               "1,Wim,4,being fixed,,,,,\"'=look\"\r\n"
                               "2,,9,closed,,,,,\r\n"
                               "2,,1,intended,,,,,\r\n"
                               "2,,1,intended,it is a sleeve,,,,\r\n"
                               "77,,,,,,,,\r\n"
                               ",,3,,,badger,2,Seen in dailies,\r\n"
                               ",,3,,,goat,2,Seen in dailies,\r\n";
        const auto read = changesFromCsv(csv, defects, builds);
        QVERIFY2(read, read.error().c_str());
        QCOMPARE(read->changes.size(), 5);
        QCOMPARE(read->changes[0].value, QStringLiteral("Wim"));
        QCOMPARE(read->changes[3].value, QStringLiteral("=look"));
        QCOMPARE(read->changes[4].reason, QStringLiteral("it is a sleeve"));
        QCOMPARE(read->problems.size(), 5);
        QCOMPARE(read->fresh.size(), 1);
        QCOMPARE(read->fresh[0].first.buildId, 7);
        QVERIFY(!changesFromCsv("number\n\"torn", defects, builds));
        QVERIFY(!changesFromCsv("", defects, builds));
        QVERIFY(!changesFromCsv("who\nWim\n", defects, builds));
    }

    // Bytes of any kind end in an answer.
    void tablesOfNonsense() {
        std::mt19937 random(17);
        const QVector<Defect> defects{make(1, "Ines", DefectState::Assigned, 3)};
        const QByteArray seed = defectsToCsv(defects);
        int taken = 0, refused = 0;
        for (int i = 0; i < 3000; ++i) {
            QByteArray csv = seed;
            for (int k = 0; k < 4; ++k) {
                const auto at = static_cast<qsizetype>(random() % static_cast<unsigned>(csv.size()));
                if (random() % 2)
                    csv[at] = static_cast<char>(random() % 256);
                else
                    csv.remove(at, static_cast<qsizetype>(random() % 20));
            }
            const auto read = changesFromCsv(csv, defects, {});
            if (!read) {
                ++refused;
                QVERIFY(!read.error().empty());
                continue;
            }
            ++taken;
            for (const DefectChange& c :
                 read->changes) { // only of what there is, and only what can be said of it
                QCOMPARE(c.defect, 1);
                QVERIFY(QStringList({QStringLiteral("severity"), QStringLiteral("state"),
                                     QStringLiteral("assignee"), QStringLiteral("due"),
                                     QStringLiteral("comment")})
                            .contains(c.field));
                if (c.field == QLatin1String("severity"))
                    QVERIFY(c.value.toInt() >= 1 && c.value.toInt() <= 4);
                if (c.field == QLatin1String("state"))
                    QVERIFY(stateCalled(c.value).has_value());
            }
            for (const auto& [facts, severity] : read->fresh)
                QVERIFY(!facts.what.isEmpty() && severity >= 1 && severity <= 4);
            for (const QString& problem : read->problems)
                QVERIFY(!problem.isEmpty());
        }
        QVERIFY(taken > 100 && refused > 100);
    }

    void editsAreKeptOverAClose() {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("kept/edits.json")),
                      place = QStringLiteral("/a/log"), other = QStringLiteral("/b/log");
        KeptEdit change, fresh;
        change.at = fresh.at = QDateTime::currentDateTimeUtc();
        change.author = QStringLiteral("Petra");
        change.words = QStringLiteral("defect 3: severity 4");
        change.change = {3, QStringLiteral("severity"), QStringLiteral("4"), 12, QStringLiteral("why"), true};
        fresh.logs = DefectFacts();
        fresh.logs->what = QStringLiteral("袖");
        fresh.logs->value = 1.0 / 3;
        fresh.logs->picture = QByteArray("\0\1\xff", 3);
        fresh.severity = 2;
        {
            KeptEdits kept(file, place), theirs(file, other);
            QVERIFY(kept.add(change));
            QVERIFY(theirs.add(change));
            QVERIFY(kept.add(fresh));
        }
        KeptEdits kept(file, place);
        QCOMPARE(kept.edits().size(), 2);
        QCOMPARE(kept.edits()[0].change.basedOn, 12);
        QCOMPARE(kept.edits()[0].change.takesBack, true);
        QCOMPARE(kept.edits()[0].words, change.words);
        QCOMPARE(kept.edits()[1].logs->value, 1.0 / 3);
        QCOMPARE(kept.edits()[1].logs->picture, fresh.logs->picture);
        QVERIFY(kept.remove(0));
        QCOMPARE(KeptEdits(file, place).edits().size(), 1);
        QVERIFY(kept.clear());
        QCOMPARE(KeptEdits(file, other).edits().size(), 1);

        // written once, though it is offered twice: the answer was lost the first time
        auto log = ProductionLog::open(folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY2(log, log.error().c_str());
        fresh.logs->buildId =
            (*log)->build(QStringLiteral("b"), QStringLiteral("h"), QStringLiteral("/p"))->id;
        for (int twice = 0; twice < 2; ++twice)
            QVERIFY(writeKept(**log, fresh));
        QCOMPARE((*log)->defects()->size(), 1);
        KeptEdit comment = change;
        comment.change = {
            1, QStringLiteral("comment"), QStringLiteral("hm"), (*log)->defect(1)->version, {}, false};
        for (int twice = 0; twice < 2; ++twice)
            QVERIFY(writeKept(**log, comment));
        QCOMPARE((*log)->history(1)->size(), 4);
        change.change = {
            1, QStringLiteral("severity"), QStringLiteral("1"), (*log)->defect(1)->version, {}, false};
        QVERIFY(
            (*log)->change(1, QStringLiteral("severity"), QStringLiteral("3"), 99, QStringLiteral("Juno")));
        const auto clash = writeKept(**log, change);
        QVERIFY(clash && clash->has_value());
        QCOMPARE((*log)->defect(1)->severity, 3);
    }

    // What the team agreed on, and a defect taken apart, are kept like any other change, and made once.
    void rosterAndSplitsAreKept() {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("edits.json")), place = QStringLiteral("/a/log");
        auto log = ProductionLog::open(folder.filePath(QStringLiteral("log.sqlite")));
        QVERIFY2(log, log.error().c_str());
        DefectFacts facts;
        facts.buildId = (*log)->build(QStringLiteral("b"), QStringLiteral("h"), QStringLiteral("/p"))->id;
        facts.what = QStringLiteral("Left elbow stretches");
        facts.marks = "{\"parts\": {\"body\": [1, 2], \"coat\": [3]}}";
        const qint64 id = *(*log)->addDefect(facts, 3, QStringLiteral("Petra"));
        const qint64 ines = *(*log)->addPerson(QStringLiteral("Ines")),
                     wim = *(*log)->addPerson(QStringLiteral("Wim"));
        using What = TeamChange::What;
        const auto of = [](const TeamChange& change) {
            KeptEdit edit;
            edit.at = QDateTime::currentDateTimeUtc();
            edit.author = QStringLiteral("Petra");
            edit.team = change;
            return edit;
        };
        KeptEdit part = of({}), finding = of({});
        part.team.reset();
        finding.team.reset();
        part.change.defect = finding.change.defect = id;
        part.splits = SplitPart{{}, 0, {}, QStringLiteral("coat")};
        finding.splits =
            SplitPart{{}, 0, "{\"joint\": \"hand.L\", \"kind\": \"pinch\", \"what\": \"pinches\"}", {}};
        const TeamChange mail{What::PersonMail, ines, QStringLiteral("Ines"),
                              QStringLiteral("i@example.org")};
        {
            KeptEdits kept(file, place);
            for (const TeamChange& c :
                 {TeamChange{What::AddPerson, 0, QStringLiteral(" Hedda "), {}}, mail,
                  TeamChange{What::RenamePerson, ines, QStringLiteral("Ines"), QStringLiteral("Ines Marram")},
                  TeamChange{What::PersonActive, wim, QStringLiteral("Wim"), {}},
                  TeamChange{What::Filter, 0, QStringLiteral("feet"), QStringLiteral("{}")},
                  TeamChange{What::Reference, facts.buildId, {}, QStringLiteral("yes")}})
                QVERIFY(kept.add(of(c)));
            QVERIFY(kept.add(part) && kept.add(finding));
        }
        const KeptEdits kept(file, place);
        QCOMPARE(kept.edits().size(), 8);
        QCOMPARE(*kept.edits()[1].team, mail);
        for (int twice = 0; twice < 2; ++twice)
            for (const KeptEdit& edit : kept.edits()) {
                const auto written = writeKept(**log, edit);
                QVERIFY2(written && !written->has_value(), written ? "" : written.error().c_str());
            }
        const auto people = *(*log)->people();
        QCOMPARE(people.size(), 3);
        QCOMPARE(people[0].name, QStringLiteral("Hedda"));
        QCOMPARE(people[1].name, QStringLiteral("Ines Marram"));
        QCOMPARE(people[1].mail, QStringLiteral("i@example.org"));
        QVERIFY(!people[2].active);
        QCOMPARE((*log)->teamFilters()->size(), 1);
        QCOMPARE((*log)->reference()->value().build.id, facts.buildId);
        const auto defects = *(*log)->defects({.marks = true});
        QCOMPARE(defects.size(), 3);
        QCOMPARE(defects[1].facts.part, QStringLiteral("coat"));
        QVERIFY(!defects[1].facts.marks.contains("body"));
        QCOMPARE(defects[2].facts.joint, QStringLiteral("hand.L"));
        QCOMPARE(defects[2].severity, 3);
        QCOMPARE((*log)->history(id)->back().field, QStringLiteral("not the same fault"));
        // renamed by another lead meanwhile: it stays, and is told
        QVERIFY((*log)->renamePerson(ines, QStringLiteral("Ines Reed")));
        const auto refused = writeKept(**log, kept.edits()[2]);
        QVERIFY(!refused && refused.error().find("Ines Reed") != std::string::npos);
        QVERIFY(!writeKept(**log, of({What::PersonMail, 77, QStringLiteral("Odd"), QStringLiteral("o@x")})));
    }
};

HOBBLE_TEST(TestDefectList)
#include "test_defect_list.moc"
