// Steps finer where trouble starts: the onset lies between two steps no more than asked apart; what is
// measured for it is measured once; threads and limits of before change nothing.
#include "core/run/cost.h"
#include "core/run/result_for.h"
#include "io/measured_cache.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTemporaryDir>
#include <QTest>

using namespace hobble;
using namespace hobble::test;

namespace {

Plan bends(double refineTo) {
    Plan plan = turnPlan(Vec3d::UnitX(), {0, 20, 40, 60, 80, 100, 0});
    plan.refineTo = refineTo;
    return plan;
}

} // namespace

class TestRefinement : public QObject {
    Q_OBJECT

private slots:
    void onsetIsBracketed() {
        const Subject s = subjectOf(tube());
        const RunResult coarse = runPlan(s, bends(0)), fine = runPlan(s, bends(2.5));
        QVERIFY(!fine.findings.empty());
        QCOMPARE(coarse.posesRefined, std::size_t(0));
        QCOMPARE(fine.posesRefined, std::size_t(3)); // 20 → 10 → 5 → 2.5
        const auto& steps = fine.motions[0].steps;
        QCOMPARE(steps.size(), coarse.motions[0].steps.size() + 3);
        QCOMPARE(fine.plan.motions[0].steps.size(), steps.size());
        QCOMPARE(steps.back().at, 0.0);
        double first = 1e9;
        for (const Finding& f : fine.findings)
            first = std::min(first, f.onset);
        double below = 0, above = 1e9;
        for (std::size_t i = 0; i + 1 < steps.size(); ++i) {
            QVERIFY(i == 0 || steps[i].at > steps[i - 1].at);
            QCOMPARE(steps[i].at, fine.plan.motions[0].steps[i]);
            if (steps[i].at <= first)
                below = std::max(below, steps[i].at);
            else
                above = std::min(above, steps[i].at);
        }
        QVERIFY2(above - below <= 2.5 + 1e-9, qPrintable(QString::number(above - below)));
        // the same steps measure the same
        for (const StepResult& c : coarse.motions[0].steps)
            for (const StepResult& f : steps)
                if (f.at == c.at && &c != &coarse.motions[0].steps.back() && &f != &steps.back())
                    QCOMPARE(f.joints[0].measures.stretch, c.joints[0].measures.stretch);
    }

    void threadsChangeNothing() {
        const Subject s = subjectOf(tube());
        RunOptions one, two;
        one.threads = 1;
        two.threads = 2;
        const RunResult a = runPlan(s, bends(2.5), one), b = runPlan(s, bends(2.5), two);
        QCOMPARE(a.plan.motions[0].steps, b.plan.motions[0].steps);
        QCOMPARE(a.findings.size(), b.findings.size());
        for (std::size_t f = 0; f < a.findings.size(); ++f)
            QCOMPARE(a.findings[f].onset, b.findings[f].onset);
    }

    // Limits moved there and back again: the run is the first, and nothing is measured twice.
    void limitsOfBeforeChangeNothing() {
        QTemporaryDir folder;
        MeasuredCache cache(folder.path().toStdString());
        const Subject s = subjectOf(tube());
        RunOptions options;
        options.store = &cache;
        const RunResult first = runPlan(s, bends(2.5), options);
        RunOptions tighter = options;
        tighter.limits.general[Kind::VolumeLoss] = {0.995, 0.85, 0.75, 0.60};
        const RunResult other = runPlan(s, bends(2.5), tighter);
        QVERIFY(other.plan.motions[0].steps != first.plan.motions[0].steps);
        const RunResult again = runPlan(s, bends(2.5), options);
        QCOMPARE(again.plan.motions[0].steps, first.plan.motions[0].steps);
        QCOMPARE(again.posesMeasured, std::size_t(0));
        QCOMPARE(again.posesRefined, std::size_t(0));
    }

    void motionsThatAreOff() {
        const Subject s = subjectOf(tube());
        Plan plan = bends(0);
        plan.motions.push_back(plan.motions[0]);
        plan.motions[1].id = "again";
        plan.motions[0].on = false;
        QCOMPARE(plan.stepCount(), std::size_t(7));
        QCOMPARE(runCost(s, plan).motions, std::size_t(1));
        QCOMPARE(runCost(s, plan, 0.5).seconds, 3.5);
        const RunResult r = runPlan(s, plan);
        QVERIFY(r.motions[0].steps.empty() && !r.motions[1].steps.empty());
        for (const Finding& f : r.findings)
            QCOMPARE(f.motion, 1);
    }

    // Told for a plan that has changed since: what is the same keeps its results, wherever it now stands.
    void forAnotherPlan() {
        const Subject s = subjectOf(tube());
        Plan plan = bends(2.5);
        plan.motions.push_back(turnPlan(Vec3d::UnitZ(), {0, 30, 60, 90, 0}).motions[0]);
        plan.motions[1].id = "other-way";
        const RunResult run = runPlan(s, plan);
        Plan now = plan;
        std::swap(now.motions[0], now.motions[1]);
        const RunResult swapped = resultFor(run, now);
        QCOMPARE(swapped.motions[1].steps.size(), run.motions[0].steps.size());
        QCOMPARE(swapped.findings.size(), run.findings.size());
        for (std::size_t f = 0; f < run.findings.size(); ++f)
            QCOMPARE(swapped.findings[f].motion, 1 - run.findings[f].motion);
        for (std::size_t f = 0; f < run.findings.size(); ++f) { // and all the motions that show it
            QCOMPARE(swapped.findings[f].motions.size(), run.findings[f].motions.size());
            for (std::size_t m = 0; m < run.findings[f].motions.size(); ++m)
                QCOMPARE(swapped.findings[f].motions[m], 1 - run.findings[f].motions[m]);
        }
        now.motions[1].steps = stepsTo(60); // another range: its results are of before
        const RunResult changed = resultFor(run, now);
        QVERIFY(changed.motions[1].steps.empty() && !changed.motions[0].steps.empty());
        now.motions.pop_back();
        for (const Finding& f : resultFor(run, now).findings) {
            QCOMPARE(f.motion, 0);
            for (int m : f.motions)
                QCOMPARE(m, 0);
        }
    }
};

HOBBLE_TEST(TestRefinement)
#include "test_refinement.moc"
