// Limits, patches and their merging, on tubes whose faults are known.
#include "core/run/run.h"
#include "core/words/cause_words.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>

using namespace hobble;
using namespace hobble::test;

class TestFindings : public QObject {
    Q_OBJECT

    static const Finding* find(const RunResult& r, Kind kind) {
        for (const Finding& f : r.findings)
            if (f.kind == kind)
                return &f;
        return nullptr;
    }

private slots:
    void severities() {
        const Limits l = Limits::standard();
        const LimitSteps& pinch = l.of(Kind::Pinch, Role::Elbow);
        QCOMPARE(severityOf(Kind::Pinch, 0.9, pinch), 0);
        QCOMPARE(severityOf(Kind::Pinch, 0.85, pinch), 0);
        QCOMPARE(severityOf(Kind::Pinch, 0.84, pinch), 1);
        QCOMPARE(severityOf(Kind::Pinch, 0.49, pinch), 3);
        QCOMPARE(severityOf(Kind::Pinch, 0.1, pinch), 4);
        QCOMPARE(severityOf(Kind::Stretch, 2.5, l.of(Kind::Stretch, Role::Knee)), 3);
        QVERIFY(std::abs(troubleOf(Kind::Stretch, 1.35, l.of(Kind::Stretch, Role::Knee)) - 1) < 1e-12);
        QCOMPARE(troubleOf(Kind::Stretch, 0.5, l.of(Kind::Stretch, Role::Knee)), 0.0);
        Limits custom = l;
        custom.byRole[{Role::Finger, Kind::Pinch}] = {0.5, 0.4, 0.3, 0.2};
        QCOMPARE(severityOf(Kind::Pinch, 0.6, custom.of(Kind::Pinch, Role::Finger)), 0);
        QCOMPARE(severityOf(Kind::Pinch, 0.6, custom.of(Kind::Pinch, Role::Elbow)), 2);
    }

    // Under linear twist the pinch is cos²(θ/2): 0.85 is passed at 45.57°, and at 90° it is 0.5.
    void onsetBetweenSteps() {
        const Subject s = subjectOf(tube());
        const RunResult r =
            runPlan(s, turnPlan(Vec3d::UnitY(), {0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 0}, 1, true));
        const Finding* f = find(r, Kind::Pinch);
        QVERIFY(f);
        QCOMPARE(f->joint, 1);
        QCOMPARE(f->side, Side::Left);
        QCOMPARE(f->role, Role::Elbow);
        QCOMPARE(f->peak, 90.0);
        QVERIFY(std::abs(f->peakValue - 0.5) < 0.005);
        QVERIFY2(std::abs(f->onset - 45.57) < 0.3, qPrintable(QString::number(f->onset)));
        QVERIFY(f->severity >= 2);
        // the ring marked is the middle of the blend
        for (std::uint32_t v : f->marks.at(0).vertices)
            QVERIFY(std::abs(s.character->neutral[v].y()) < 0.05f);
        QVERIFY(f->causes.at(0).kind == CauseKind::TwistNotShared);
    }

    void bendIsTheMethodsFault() {
        const Subject s = subjectOf(tube());
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 30, 60, 90, 120, 0}));
        const Finding* f = find(r, Kind::Pinch);
        QVERIFY(f);
        QVERIFY(f->causes.at(0).kind == CauseKind::MethodCollapse);
        QVERIFY(find(r, Kind::Stretch) && find(r, Kind::Squash));
        QCOMPARE(std::count_if(r.findings.begin(), r.findings.end(),
                               [](const Finding& x) { return x.kind == Kind::Pinch; }),
                 1);
        RunOptions dual;
        dual.method = Skinning::DualQuaternion;
        QVERIFY(!find(runPlan(s, turnPlan(Vec3d::UnitX(), {0, 30, 60, 90, 0}), dual), Kind::Pinch));
    }

    // Two motions of one joint that pinch the same ring are one finding, shown at its worse.
    void motionsMerge() {
        const Subject s = subjectOf(tube());
        Plan plan = turnPlan(Vec3d::UnitY(), {0, 40, 80, 0}, 1, true);
        Motion back = turnPlan(-Vec3d::UnitY(), {0, 40, 60, 0}, 1, true).motions[0];
        back.id = "turn-back";
        plan.motions.push_back(back);
        const RunResult r = runPlan(s, plan);
        const Finding* f = find(r, Kind::Pinch);
        QVERIFY(f);
        QCOMPARE(f->motions.size(), std::size_t(2));
        QCOMPARE(f->motion, 0);
        QCOMPARE(f->peak, 80.0);
        QCOMPARE(std::count_if(r.findings.begin(), r.findings.end(),
                               [](const Finding& x) { return x.kind == Kind::Pinch; }),
                 1);
    }

    // One vertex bound to the far end: too small a patch to count as stretch, but a spike.
    void aSpeckIsASpike() {
        Character c = tube();
        const Subject clean = subjectOf(c);
        const std::uint32_t v = 20 * 64 + 3; // on the rigid lower half
        c.weights.joint[c.weights.first[v]] = 1;
        const Subject s = subjectOf(c);
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 20, 0});
        const RunResult r = runPlan(s, plan);
        QCOMPARE(r.findings.size(), runPlan(clean, plan).findings.size() + 1);
        QVERIFY(find(r, Kind::Spike) && !find(r, Kind::Stretch));
    }

    // A collar of skin on the lower half held by the upper joint is found and blamed on it.
    void strayCollar() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm.L", 0, {0, 0, 0}},
                                 {"hand.L", 1, {0, 0.5, 0}},
                                 {"finger.L", 2, {0, 0.7, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            const double y = c.neutral[v].y(), t = std::clamp((y + 0.2) / 0.4, 0.0, 1.0);
            weights.push_back({{0, 1 - t}, {1, t}});
            if (y > -0.6 && y < -0.45)
                weights.back() = {{0, 0.5}, {3, 0.5}};
        }
        finish(c, weights);
        const Subject s = subjectOf(c);
        const RunResult r = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 20, 40, 0}));
        QVERIFY(std::any_of(r.findings.begin(), r.findings.end(), [&](const Finding& f) {
            return f.kind == Kind::Stretch && !f.causes.empty() &&
                   f.causes[0].kind == CauseKind::StrayInfluence &&
                   sentenceOf(*s.character, f.causes[0]).find("finger.L") != std::string::npos;
        }));
    }

    void nothingToFindInASmallTurn() {
        QVERIFY(runPlan(subjectOf(tube()), turnPlan(Vec3d::UnitX(), {0, 5, 0})).findings.empty());
    }
};

HOBBLE_TEST(TestFindings)
#include "test_findings.moc"
