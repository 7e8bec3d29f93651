// The story's log on build 3: what was planted in it is still there, what was mended is cured, what was
// broken is new; JUnit and JSON say the same; signing off names what stands in the way.
#include "core/intake/check.h"
#include "io/character_read.h"
#include "log/finding_defect.h"
#include "story/check_page.h"
#include "story/compare_page.h"
#include "story/defect_checks.h"
#include "story/sign_off_paper.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <QXmlStreamReader>

using namespace hobble;

class TestDefectChecks : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::unique_ptr<ProductionLog> log_;
    CheckInput in_;
    DefectChecks checks_;
    BuildShelf shelf_;

    const DefectCheck* of(const char* joint, int build) const {
        for (const DefectCheck& c : checks_.checks)
            if (c.defect.facts.joint == QLatin1String(joint) && c.defect.build.number == build)
                return &c;
        return nullptr;
    }

private slots:
    void initTestCase() {
        QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../..")); // its builds are told from there
        const QString copy = folder_.filePath(QStringLiteral("log.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), copy));
        QVERIFY(QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner));
        auto log = ProductionLog::open(copy);
        QVERIFY2(log, log.error().c_str());
        log_ = std::move(*log);
        auto c = readCharacter(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb");
        QVERIFY(c);
        in_.subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(*c))));
        in_.run = std::make_shared<const RunResult>(
            runPlan(*in_.subject, fullPlan(*in_.subject->character, in_.subject->roles)));
        in_.checks = inspect(*in_.subject);
        in_.build = 3;
        in_.shelf = &shelf_;
        const auto defects =
            log_->defects({.character = QStringLiteral("badger-postmaster"), .everything = true});
        const auto runs = log_->newestRuns(QStringLiteral("badger-postmaster"));
        QVERIFY(defects && runs);
        for (const Defect& d : *defects)
            if (d.build.number < 3)
                in_.defects << d;
        in_.runs = *runs;
        checks_ = checkDefects(in_);
        for (const DefectCheck& d : checks_.checks)
            qInfo("build %d, %lld, %s: %s", d.defect.build.number, static_cast<long long>(d.defect.id),
                  qPrintable(d.defect.facts.what), qPrintable(d.sentence));
        qInfo("%s", qPrintable(checks_.sentence()));
    }

    // demo/recipes/story.json: build 3 has the wide blend of the left knee and the right knee's driver off,
    // as before; all else of builds 1 and 2 was mended.
    void theStorysVerdicts() {
        int asked = 0;
        for (const DefectCheck& c : checks_.checks) {
            if (c.wasClosed || c.told.verdict == Verdict::CannotTell)
                continue;
            ++asked;
            const QString joint = c.defect.facts.joint;
            const bool leftKnee = joint == QLatin1String("shin.L"),
                       rightKnee = joint == QLatin1String("shin.R");
            if (leftKnee || rightKnee)
                QVERIFY2(c.told.verdict != Verdict::Cured,
                         qPrintable(joint + QStringLiteral(": ") + c.sentence));
        }
        QVERIFY(asked > 5);
        // the left elbow's hard blend was mended in build 3
        const DefectCheck* elbow = of("forearm.L", 1);
        QVERIFY(elbow);
        QVERIFY2(elbow->told.verdict == Verdict::Cured || elbow->told.verdict == Verdict::Better,
                 qPrintable(elbow->sentence));
        // the stray influence and the soft satchel are gone
        for (const char* mended : {"foot.R", "hand.R"})
            if (const DefectCheck* c = of(mended, 1))
                QVERIFY2(c->told.verdict == Verdict::Cured || c->told.verdict == Verdict::Better,
                         qPrintable(c->sentence));
    }

    // The clean build: nothing that was planted is left.
    void cleanedAltogether() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY(c);
        CheckInput in = in_;
        in.subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(*c))));
        in.run = std::make_shared<const RunResult>(
            runPlan(*in.subject, fullPlan(*in.subject->character, in.subject->roles)));
        in.checks = inspect(*in.subject);
        in.build = 4;
        const DefectChecks checks = checkDefects(in);
        for (const DefectCheck& d : checks.checks)
            if (!d.cured())
                qInfo("left: %s: %s", qPrintable(d.defect.facts.what), qPrintable(d.sentence));
        QCOMPARE(checks.count(Verdict::Worse), 0);
        QVERIFY2(checks.count(Verdict::Cured) + checks.count(Verdict::Better) >= checks.checks.size() * 3 / 4,
                 qPrintable(checks.sentence()));
    }

    void theSameBuildAgainCuresNothing() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb");
        QVERIFY(c);
        CheckInput in = in_;
        in.subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(*c))));
        in.run = std::make_shared<const RunResult>(
            runPlan(*in.subject, fullPlan(*in.subject->character, in.subject->roles)));
        in.checks = inspect(*in.subject);
        in.defects.clear();
        for (const Defect& d : in_.defects)
            if (d.build.number == 2 && isOpen(d.state))
                in.defects << d;
        QVERIFY(!in.defects.isEmpty());
        for (const DefectCheck& d : checkDefects(in).checks)
            QVERIFY2(d.told.verdict == Verdict::Same || d.told.verdict == Verdict::CannotTell,
                     qPrintable(d.defect.facts.what + QStringLiteral(": ") + d.sentence));
    }

    // Where a cure was proposed, the build is told beside it: as good as that, better, or not as good.
    void besideWhatWasProposed() {
        const DefectCheck* knee = of("shin.L", 2) ? of("shin.L", 2) : of("shin.L", 1);
        QVERIFY(knee && knee->told.now);
        const double now = *knee->told.now;
        const auto kind = std::find_if(kKinds.begin(), kKinds.end(), [&](Kind k) {
            return knee->defect.facts.kind == QLatin1String(nameOf(k));
        });
        QVERIFY(kind != kKinds.end());
        QVERIFY(!knee->proposed); // nobody has
        const bool above = faultIsAbove(*kind);
        const std::tuple<double, Beside, const char*> cases[] = {
            {now, Beside::AsProposed, "; as was proposed"},
            {above ? 3 * now : now / 3, Beside::BetterThanProposed, "; better than was proposed ("},
            {unchangedOf(*kind), Beside::LessThanProposed, "; not as good as was proposed ("}};
        for (const auto& [proposed, beside, words] : cases) {
            Proposal p;
            p.kind = QLatin1String(factsOf(*kind).word);
            p.is = proposed;
            CheckInput in = in_;
            in.defects = {knee->defect};
            in.proposals.insert(knee->defect.id, p);
            const DefectChecks checks = checkDefects(in);
            QCOMPARE(checks.checks.size(), 1);
            const DefectCheck& c = checks.checks.front();
            QVERIFY2(c.proposed == beside && c.sentence.contains(QLatin1String(words)),
                     qPrintable(c.sentence));
            QVERIFY(checksToJson(checks, *in_.subject, 3)
                        .value(QStringLiteral("defects"))
                        .toArray()
                        .first()
                        .toObject()
                        .contains(QStringLiteral("besideProposal")));
        }
        // of another measure it says nothing
        Proposal other;
        other.kind = QStringLiteral("no such measure");
        CheckInput in = in_;
        in.defects = {knee->defect};
        in.proposals.insert(knee->defect.id, other);
        QVERIFY(!checkDefects(in).checks.front().proposed);
    }

    // Without a run of the build a defect was seen on, what is told needs none, and what is not told is said.
    void theLogKeepsNoRunOfThatBuild() {
        CheckInput in = in_;
        in.runs.clear();
        const DefectChecks checks = checkDefects(in);
        QVERIFY(checks_.withoutRun.isEmpty());
        QVERIFY(!checks.withoutRun.isEmpty());
        QCOMPARE(checks.checks.size(), checks_.checks.size());
        QCOMPARE(checks.count(Verdict::Moved), 0);
        for (const DefectCheck& c : checks.checks) {
            QVERIFY(c.told.broke.empty());
            const auto same = std::find_if(checks_.checks.begin(), checks_.checks.end(),
                                           [&](const DefectCheck& d) { return d.defect.id == c.defect.id; });
            if (same->told.verdict != Verdict::Moved)
                QCOMPARE(c.told.verdict, same->told.verdict);
        }
        QVERIFY2(checks.sentence().contains(QStringLiteral("keeps no run of build")),
                 qPrintable(checks.sentence()));
        QCOMPARE(checksToJson(checks, *in_.subject, 3).value(QStringLiteral("withoutRun")).toArray().size(),
                 checks.withoutRun.size());
    }

    // Each defect as it was and as it is; a build that has gone is named where its picture would be.
    void pairsOfPictures() {
        DefectChecks few = checks_;
        QVERIFY(few.checks.size() > 3);
        few.checks.resize(3);
        few.checks[1].defect.facts.what = QStringLiteral("<b>bold & sure");
        few.checks[2].defect.build.path = folder_.filePath(QStringLiteral("gone.glb"));
        few.checks[2].defect.build.hash = QStringLiteral("gone");
        const Build now{0, QStringLiteral("badger-postmaster"), QStringLiteral("now"),
                        QStringLiteral("/now.glb"), 3};
        CheckPageWish wish;
        wish.width = 80;
        wish.height = 60;
        const QString page = QString::fromUtf8(checkPage(few, now, in_.subject, shelf_, wish));
        QCOMPARE(page.count(QStringLiteral("<section>")), 3);
        QVERIFY(page.contains(QStringLiteral("&lt;b&gt;bold &amp; sure")) &&
                !page.contains(QStringLiteral("<b>bold")));
        for (const QString& part : page.split(QStringLiteral("<section>")).mid(1, 2)) {
            QVERIFY(part.contains(QStringLiteral("then, build ")) &&
                    part.contains(QStringLiteral("now, build 3")));
            QCOMPARE(part.count(QStringLiteral("<img")) % 2, 0);
        }
        const QString gone = page.section(QStringLiteral("<section>"), 3);
        QVERIFY(gone.contains(QStringLiteral("No picture of then: ")) &&
                gone.contains(QStringLiteral("now, build 3")));
        QVERIFY(!page.contains(QStringLiteral("http")));
        // told without pictures where that many are not wanted
        wish.mostPictured = 1;
        const QString first = QString::fromUtf8(checkPage(few, now, in_.subject, shelf_, wish));
        QCOMPARE(first.count(QStringLiteral("<section>")), 3);
        QVERIFY(first.contains(QStringLiteral("Pictures are of the first 1")));
    }

    void outputsSayTheSame() {
        const QJsonObject json = checksToJson(checks_, *in_.subject, 3);
        QCOMPARE(json.value(QStringLiteral("defects")).toArray().size(), checks_.checks.size());
        QXmlStreamReader xml(checksToJunit(checks_, *in_.subject));
        int cases = 0, failures = 0, skipped = 0;
        while (!xml.atEnd()) {
            if (xml.readNext() != QXmlStreamReader::StartElement)
                continue;
            cases += xml.name() == QLatin1String("testcase");
            failures += xml.name() == QLatin1String("failure");
            skipped += xml.name() == QLatin1String("skipped");
        }
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        QCOMPARE(cases, static_cast<int>(checks_.checks.size()));
        int open = 0, untold = 0;
        for (const DefectCheck& c : checks_.checks) {
            untold += c.told.verdict == Verdict::CannotTell;
            open += !c.cured() && c.told.verdict != Verdict::CannotTell;
        }
        QCOMPARE(failures, open);
        QCOMPARE(skipped, untold);
    }

    // Each verdict once for a build; what is cured and light is closed, and nothing else.
    void keptInTheLog() {
        const auto entered = log_->build(QStringLiteral("badger-postmaster"),
                                         QString::fromStdString(in_.subject->character->hash), {});
        QVERIFY(entered);
        const auto first = keepVerdicts(*log_, checks_, QStringLiteral("Petra"), entered->id);
        QVERIFY2(first, first.error().c_str());
        QCOMPARE(*first, static_cast<int>(checks_.checks.size()));
        const auto again = keepVerdicts(*log_, checks_, QStringLiteral("Petra"), entered->id);
        QCOMPARE(*again, 0);
        QVERIFY(keepVerdicts(*log_, checks_, QStringLiteral("Petra"), entered->id, 2));
        for (const DefectCheck& c : checks_.checks) {
            const auto now = log_->defect(c.defect.id);
            const bool closes = c.cured() && c.defect.severity <= 2;
            QCOMPARE(now->state, closes || c.wasClosed ? DefectState::Closed : c.defect.state);
        }
    }

    void whatStandsInTheWay() {
        const auto state = stateToSign(*log_, *in_.subject, *in_.run, QStringLiteral("badger-postmaster"),
                                       QStringLiteral("to animation"), 3);
        QVERIFY(state);
        QVERIFY(!state->inTheWay.isEmpty()); // the right elbow's coat
        for (const InTheWay& w : state->inTheWay)
            QVERIFY(w.severity >= 3 && !w.what.isEmpty());
        const auto all =
            stateToSign(*log_, *in_.subject, *in_.run, QStringLiteral("badger-postmaster"), {}, 1);
        QVERIFY(all && all->inTheWay.size() > state->inTheWay.size());
    }

    // On one page of paper.
    void printed() {
        SignOff o;
        o.build = in_.defects.front().build;
        o.author = QStringLiteral("Petra Sandwort");
        o.at = QDateTime::currentDateTime();
        o.state.use = QStringLiteral("to animation");
        o.state.hash = QStringLiteral("abc");
        for (const Defect& d : in_.defects)
            o.state.accepted.push_back({d.id, d.facts.what, QStringLiteral("seen in no shot"), d.severity});
        const QString pdf = folder_.filePath(QStringLiteral("signed.pdf"));
        const auto written = writeSignOffPdf(*log_, o, *in_.subject, *in_.run, pdf);
        QVERIFY2(written, written.error().c_str());
        QProcess info;
        info.start(QStringLiteral("pdfinfo"), {pdf});
        QVERIFY(info.waitForFinished());
        QVERIFY2(info.readAllStandardOutput().contains("Pages:           1"), "one page");
        QVERIFY(!writeSignOffPdf(*log_, o, *in_.subject, *in_.run, QStringLiteral("/nowhere/x.pdf")));
    }

    void aPageForPeople() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb");
        QVERIFY(c);
        c->name = "<script>"; // what a file says is never markup
        c->source = "<b>bold</b>.glb";
        ComparedSide before;
        before.subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(*c))));
        before.run = std::make_shared<const RunResult>(
            runPlan(*before.subject, defaultPlan(*before.subject->character, before.subject->roles)));
        const Comparison comparison = compare({before, {in_.subject, in_.run}});
        const QByteArray page = comparePage(comparison);
        QVERIFY(page.contains("Better at") || page.contains("Worse at"));
        QVERIFY(!page.contains("<script>") && !page.contains("<b>bold</b>"));
        QVERIFY(page.contains("<polygon"));
    }
};

HOBBLE_TEST(TestDefectChecks)
#include "test_defect_checks.moc"
