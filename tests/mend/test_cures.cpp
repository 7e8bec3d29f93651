// Cures: what was planted is taken away again, proved on every motion the change can be seen in; what weights
// cannot mend is said to be so.
#include "compared_side.h"
#include "core/judge/limits.h"
#include "core/measure/reweight.h"
#include "core/mend/cure.h"
#include "core/mend/touched.h"
#include "core/run/measured_memory.h"
#include "io/character_read.h"
#include "plant/plant.h"
#include "support/suite.h"
#include "support/tube.h"
#include "zoo/flesh.h"

#include <QTest>

#include <cmath>

using namespace hobble;
using namespace hobble::demo;
using namespace hobble::test;

class TestCures : public QObject {
    Q_OBJECT

    struct Tested {
        std::shared_ptr<const Subject> subject;
        Plan plan;
        std::shared_ptr<const RunResult> run;
        MeasuredMemory known;
        CureSearch search() { return {subject, plan, run, known}; }
    };

    static std::unique_ptr<Tested> tested(Character c, const std::vector<std::string>& only = {}) {
        auto out = std::make_unique<Tested>();
        out->subject =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
        out->plan = defaultPlan(*out->subject->character, out->subject->roles);
        if (!only.empty())
            std::erase_if(out->plan.motions, [&](const Motion& m) {
                return std::none_of(only.begin(), only.end(),
                                    [&](const std::string& o) { return m.id.find(o) != std::string::npos; });
            });
        RunOptions options;
        options.store = &out->known;
        out->run = std::make_shared<const RunResult>(runPlan(*out->subject, out->plan, options));
        return out;
    }

    static Character dog() { return *zoo::strangerCalled("zoo low dog"); }

    static std::vector<Truth> planted(Character& c, const char* fault, const std::string& joint,
                                      double strength, const std::string& from = {}) {
        Recipe recipe;
        recipe.seed = 3;
        demo::Fault f;
        f.fault = fault;
        f.joint = joint;
        f.from = from;
        f.strength = strength;
        recipe.faults = {f};
        auto truth = plant(c, recipe);
        if (!truth)
            qFatal("%s", truth.error().c_str());
        return *truth;
    }

    // The first fault of the run at one of the joints of the truth.
    static const hobble::Fault* faultOf(const Tested& t, const Truth& truth) {
        const auto& names = t.subject->character->skeleton.name;
        for (const hobble::Fault& f : t.run->faults)
            for (int j : f.joints)
                if (const std::string& n = names[static_cast<std::size_t>(j)];
                    n == truth.joint ||
                    std::find(truth.joints.begin(), truth.joints.end(), n) != truth.joints.end())
                    return &f;
        return nullptr;
    }

    static bool sameFindings(const RunResult& a, const RunResult& b) {
        return std::equal(a.findings.begin(), a.findings.end(), b.findings.begin(), b.findings.end(),
                          [](const Finding& f, const Finding& g) {
                              return f.joint == g.joint && f.kind == g.kind && f.motion == g.motion &&
                                     f.onset == g.onset && f.peak == g.peak && f.peakValue == g.peakValue &&
                                     f.triangles == g.triangles;
                          });
    }

private slots:
    // The closed form of the passage on a tube: smoothstep along the limb, its width and middle in radii.
    void thePassageIsASmoothStep() {
        TubeSpec spec;
        spec.sides = 16;
        spec.rings = 65;
        const auto subject = std::make_shared<const Subject>(subjectOf(tube(spec)));
        const double radius = subject->zones[1].limbRadius;
        for (const double middle : {0.0, 0.4}) {
            Step pass;
            pass.kind = StepKind::Pass;
            pass.joint = "forearm.L";
            pass.amount = 3;
            pass.middle = middle;
            pass.place.what = MendPlace::What::Everywhere;
            TriedSteps tried(subject);
            Trial trial;
            trial.steps = {pass};
            tried.take(trial);
            QVERIFY2(tried.effects()[0].applies, tried.effects()[0].why.c_str());
            for (std::uint32_t v = 0; v < subject->neutral.size(); ++v) {
                const double t = std::clamp(
                    static_cast<double>(subject->neutral[v].y()) / (3 * radius) - middle / 3 + 0.5, 0.0, 1.0);
                QVERIFY(std::abs(shareOf(tried.shares().at(v), 1) - t * t * (3 - 2 * t)) < 1e-6);
            }
        }
    }

    // A run on changed weights that takes what no change touches from the run before finds what a run from
    // nothing finds.
    void onlyTouchedMotionsAreMeasuredAgain() {
        const auto t = tested(dog());
        const std::string joint = "front_lower_leg_l";
        const int at = t->subject->character->skeleton.find(joint);
        QVERIFY(at >= 0);
        Step soften;
        soften.place.what = MendPlace::What::Marked;
        soften.place.vertices = t->subject->zones[static_cast<std::size_t>(at)].blendVertices;
        soften.count = 6;
        TriedSteps tried(t->subject);
        Trial trial;
        trial.steps = {soften};
        tried.take(trial);
        const Subject after = reweighted(*t->subject, tried.character());
        const std::vector<char> touched = touchedMotions(*t->subject, after, t->plan);
        const auto count = std::count(touched.begin(), touched.end(), 1);
        QVERIFY(count > 0 && count * 4 < static_cast<std::ptrdiff_t>(touched.size()));
        for (std::size_t m = 0; m < touched.size(); ++m)
            if (t->plan.motions[m].turns.front().joint == at && t->plan.motions[m].turns.size() == 1)
                QVERIFY(touched[m]);
        TouchedStore store(t->subject, after, t->plan, t->known);
        RunOptions options;
        options.store = &store;
        const RunResult quick = runPlan(after, t->plan, options);
        const RunResult whole = runPlan(after, t->plan);
        QVERIFY(quick.posesMeasured * 4 < whole.posesMeasured);
        QCOMPARE(quick.findings.size(), whole.findings.size());
        QVERIFY(sameFindings(quick, whole));
    }

    void whatWasPlantedIsTakenAway_data() {
        QTest::addColumn<QString>("fault");
        QTest::addColumn<QString>("joint");
        QTest::addColumn<double>("strength");
        QTest::newRow("a blend too hard") << "blend too hard"
                                          << "front_lower_leg_l" << 0.9;
        QTest::newRow("held by the parent") << "held by the parent"
                                            << "front_lower_leg_l" << 0.8;
        QTest::newRow("a stray") << "stray influence"
                                 << "front_lower_leg_l" << 0.8;
    }

    void whatWasPlantedIsTakenAway() {
        QFETCH(QString, fault);
        QFETCH(QString, joint);
        QFETCH(double, strength);
        Character c = dog();
        const auto truth = planted(c, fault.toUtf8().constData(), joint.toStdString(), strength);
        const auto t = tested(std::move(c));
        const hobble::Fault* f = faultOf(*t, truth[0]);
        QVERIFY(f);
        int told = 0;
        CureOptions options;
        options.found = [&](const Cure&) { ++told; };
        const Cures cures = t->search().search(goalOf(*t->run, *f), options);
        QVERIFY2(!cures.cures.empty(), cures.nothing.c_str());
        QVERIFY(told >= static_cast<int>(cures.cures.size()));
        const Cure& first = cures.cures.front();
        QVERIFY2(first.gone() > 0.6, sentence(first, *t->subject).c_str());
        QVERIFY(first.allIs < first.allWas);
        QVERIFY(!first.harms());
        // the number told is better than it was, and not past its limit where all of it goes
        const LimitSteps& limits =
            t->run->limits.of(first.kind, t->subject->roles[std::size_t(first.joint)].role);
        const double was = troubleOf(first.kind, first.was, limits),
                     is = troubleOf(first.kind, first.is, limits);
        QVERIFY2(is < was, sentence(first, *t->subject).c_str());
        QVERIFY2(first.gone() < 1 || is <= 1 + 1e-6, sentence(first, *t->subject).c_str());
        QVERIFY(first.changed.vertices > 0 && first.changed.most > 0 && first.changed.most <= 1 + 1e-6);
        // proved again, it is the same
        const Cure again = t->search().prove(first.steps, goalOf(*t->run, *f));
        QCOMPARE(again.troubleIs, first.troubleIs);
        QCOMPARE(again.allIs, first.allIs);
    }

    void stoppedInTheMiddle() {
        Character c = dog();
        const auto truth = planted(c, "blend too hard", "front_lower_leg_l", 0.9);
        const auto t = tested(std::move(c), {"front"});
        QVERIFY(!t->run->faults.empty());
        std::atomic<bool> stop{false};
        CureOptions options;
        options.progress.cancel = &stop;
        options.progress.tell = [&](double share) { stop = share > 0.1; };
        const Cures cures = t->search().search(goalOf(*t->run, t->run->faults.front()), options);
        QVERIFY(cures.stopped);
        QVERIFY(cures.nothing.empty()); // nobody knows
        // stopped after somebody has seen one: it stays
        stop = false;
        options.progress.tell = {};
        options.found = [&](const Cure&) { stop = true; };
        const Cures seen = t->search().search(goalOf(*t->run, t->run->faults.front()), options);
        QVERIFY(seen.stopped);
        QCOMPARE(seen.cures.size(), std::size_t(1));
    }

    // Every cause has kinds of cure, or the sentence why weights do not cure it.
    void everyCauseHasCureOrReason() {
        for (int k = 0; k < kCauseKinds; ++k) {
            const auto kind = static_cast<CauseKind>(k);
            static const std::set<CauseKind> mended{
                CauseKind::PartBoundSoftly, CauseKind::StrayInfluence, CauseKind::PatchLeftBehind,
                CauseKind::NeighbourFinger, CauseKind::HeldByParent,   CauseKind::TwistNotShared,
                CauseKind::NoBlend,         CauseKind::BlendTooHard,   CauseKind::BlendTooWide,
                CauseKind::GarmentDiffers,  CauseKind::PivotOrAxis,    CauseKind::DriverOrCorrective,
                CauseKind::MethodCollapse,  CauseKind::LidHeldBack};
            QCOMPARE(beyondWeights(kind).empty(), mended.count(kind) > 0);
        }
    }

    void allThatCanBeCured() {
        Character c = dog();
        planted(c, "blend too hard", "front_lower_leg_l", 0.9);
        planted(c, "stray influence", "front_lower_leg_r", 0.8);
        const auto t = tested(std::move(c), {"front", "fore", "knee", "elbow"});
        double was = 0, is = 0;
        const auto severity = [](const RunResult& run) { // of all findings together
            int sum = 0;
            for (const Finding& f : run.findings)
                sum += f.severity;
            return sum;
        };
        const CuredAll all = cureAll(t->subject, t->plan, t->run, t->known);
        QVERIFY(!all.taken.empty());
        for (const auto& [fault, cure] : all.taken) {
            QVERIFY(!cure.harms());
            QVERIFY(cure.allIs < cure.allWas);
            was = was > 0 ? was : cure.allWas;
            is = cure.allIs;
        }
        QVERIFY(is < was);
        QVERIFY2(severity(*all.run) < severity(*t->run),
                 qPrintable(QStringLiteral("%1, was %2").arg(severity(*all.run)).arg(severity(*t->run))));
        // the trial, worked out from nothing on the build, gives those weights
        TriedSteps tried(t->subject);
        tried.take(all.trial);
        QVERIFY(tried.character()->weights == all.subject->character->weights);
    }
};

HOBBLE_TEST(TestCures)
#include "test_cures.moc"
