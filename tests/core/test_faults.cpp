// Faults: signs of one cause at one place are one fault; told at the joint that would be changed; in the
// order a lead would take them up.
#include "core/judge/faults.h"
#include "core/run/run.h"
#include "core/words/finding_words.h"
#include "support/arms.h"
#include "support/suite.h"
#include "support/tube.h"

#include <set>

using namespace hobble;
using namespace hobble::test;

namespace {

RunResult runOf(const Subject& s) { return runPlan(s, fullPlan(*s.character, s.roles)); }

} // namespace

class TestFaults : public QObject {
    Q_OBJECT

private slots:
    void severityBetweenTheSteps() {
        const LimitSteps above{1.35, 1.6, 2.0, 3.0}, below{0.8, 0.6, 0.4, 0.2};
        QCOMPARE(severityAlong(Kind::Stretch, 1.2, above), 0.0);
        QCOMPARE(severityAlong(Kind::Stretch, 1.35, above), 1.0);
        QVERIFY(std::abs(severityAlong(Kind::Stretch, 1.8, above) - 2.5) < 1e-12);
        QVERIFY(std::abs(severityAlong(Kind::Stretch, 3.5, above) - 4.5) < 1e-12);
        QCOMPARE(severityAlong(Kind::Stretch, 99, above), 5.0);
        QCOMPARE(severityAlong(Kind::Squash, 0.9, below), 0.0);
        QVERIFY(std::abs(severityAlong(Kind::Squash, 0.5, below) - 2.5) < 1e-12);
        for (double v = 1; v < 6; v += 0.01) // rises, and never past what is counted
            QVERIFY(severityAlong(Kind::Stretch, v + 0.01, above) >=
                    severityAlong(Kind::Stretch, v, above) - 1e-12);
        for (double v = 1; v < 6; v += 0.01)
            QCOMPARE(std::min(4, static_cast<int>(severityAlong(Kind::Stretch, v, above))),
                     severityOf(Kind::Stretch, v, above));
    }

    // Every finding is a sign of one fault, and of one only.
    void everySignOnce() {
        const Subject s =
            subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.02 : 0.2); }}));
        const RunResult r = runOf(s);
        QVERIFY(!r.faults.empty());
        QVERIFY(r.faults.size() < r.findings.size());
        std::vector<int> met(r.findings.size(), 0);
        double before = INFINITY;
        for (std::size_t k = 0; k < r.faults.size(); ++k) {
            const Fault& f = r.faults[k];
            QVERIFY(!f.signs.empty() && !f.joints.empty());
            QCOMPARE(f.joints.front(), f.joint);
            QVERIFY(f.urgency <= before);
            before = f.urgency;
            int worst = 0;
            for (int i : f.signs) {
                const Finding& g = r.findings[std::size_t(i)];
                ++met[std::size_t(i)];
                QCOMPARE(g.fault, static_cast<int>(k));
                QCOMPARE(g.leads, i == f.signs.front());
                worst = std::max(worst, g.severity);
            }
            QCOMPARE(f.severity, worst);
            QVERIFY(!sentence(s, r.plan, r.findings, f).empty());
        }
        for (int count : met)
            QCOMPARE(count, 1);
    }

    // The left elbow passes in no space: told first, at the left elbow, as too hard.
    void toldWhereItWouldBeMended() {
        const Subject s =
            subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.02 : 0.2); }}));
        const RunResult r = runOf(s);
        const Fault& first = r.faults.front();
        QCOMPARE(first.joint, kLeftElbow);
        QVERIFY(first.headline());
        QVERIFY2(first.headline()->kind == CauseKind::BlendTooHard, factsOf(first.headline()->kind).word);
        QCOMPARE(first.headline()->joint, kLeftElbow);
    }

    // What both sides have alike is one fault of two joints.
    void bothSidesAreOne() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, 0.02); }}));
        const RunResult r = runOf(s);
        int elbows = 0;
        for (const Fault& f : r.faults) {
            const std::set<int> joints(f.joints.begin(), f.joints.end());
            if (joints.count(kLeftElbow) || joints.count(kRightElbow)) {
                QCOMPARE(joints, (std::set<int>{kLeftElbow, kRightElbow}));
                ++elbows;
            }
        }
        QVERIFY(elbows >= 1);
        QVERIFY(sentence(s, r.plan, r.findings, r.faults.front()).find("and its other side") !=
                std::string::npos);
    }

    void threadsChangeNothing() {
        const Subject s =
            subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.02 : 0.2); }}));
        RunOptions one, two;
        one.threads = 1;
        two.threads = 2;
        const Plan plan = fullPlan(*s.character, s.roles);
        const RunResult a = runPlan(s, plan, one), b = runPlan(s, plan, two);
        QCOMPARE(a.faults.size(), b.faults.size());
        for (std::size_t k = 0; k < a.faults.size(); ++k) {
            QCOMPARE(a.faults[k].signs, b.faults[k].signs);
            QCOMPARE(a.faults[k].joint, b.faults[k].joint);
            QCOMPARE(a.faults[k].urgency, b.faults[k].urgency);
        }
    }
};

HOBBLE_TEST(TestFaults)
#include "test_faults.moc"
