// The recipe of a trial: its steps, numbers and pictures on one page that needs nothing else, and in which
// what files say is never markup.
#include "core/judge/limits.h"
#include "core/mend/trial_run.h"
#include "story/recipe_page.h"
#include "support/suite.h"
#include "support/tube.h"

using namespace hobble;
using namespace hobble::test;

class TestRecipePage : public QObject {
    Q_OBJECT

private slots:
    void isWholeAndEscaped() {
        TubeSpec spec;
        spec.tipName = "<script>";
        Character c = tube(spec);
        c.name = "Küste & <b>Deich</b>";
        const auto subject = std::make_shared<const Subject>(subjectOf(c));
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 45, 90, 120, 0});
        MeasuredMemory known;
        RunOptions options;
        options.store = &known;
        const auto run = std::make_shared<const RunResult>(runPlan(*subject, plan, options));
        QVERIFY(!run->faults.empty());
        TrialRun on(subject, plan, run, known);
        RecipeStory story;
        story.title = QStringLiteral("Elbow <i>stretches</i>");
        story.build = QString::fromStdString(c.name);
        Step pass;
        pass.kind = StepKind::Pass;
        pass.joint = c.skeleton.name[1];
        pass.amount = 2.5;
        pass.place.what = MendPlace::What::Everywhere;
        Step lost;
        lost.kind = StepKind::KeepOut;
        lost.joint = "<script>alert(1)</script>";
        lost.place.what = MendPlace::What::Everywhere;
        Step off = pass;
        off.on = false;
        story.trial.steps = {pass, lost, off};
        story.trial.locked = {"<script>"};
        const CureGoal goal = goalOf(*run, run->faults.front());
        story.shares = on.shares(story.trial, goal, {});
        story.trial.locked.clear();
        const TrialState state = on.make(story.trial);
        const TrialMeasured m = on.measure(state, goal, {});
        story.trial.locked = {"<script>"};
        story.effects = state.effects;
        story.before = {subject, run};
        story.after = m.now;
        story.effect = m.effect;
        const QByteArray html = recipePage(story);
        QVERIFY(!html.contains("<script>") && !html.contains("<i>"));
        QVERIFY(html.contains("Küste &amp; &lt;b&gt;Deich"));
        QVERIFY(!html.contains("http://") && !html.contains("https://"));
        QVERIFY(html.endsWith("</html>\n"));
        QCOMPARE(html.count("<li>"), qsizetype(3));
        QVERIFY(html.contains("switched off"));
        QVERIFY(html.contains("does nothing: "));
        QVERIFY(html.contains("vertices change, by up to "));
        // before and after, plain and measured, from two sides
        QCOMPARE(html.count("<img "), qsizetype(8));
        QVERIFY(html.contains("alt=\"before, ") && html.contains("alt=\"after, "));
        QVERIFY(html.contains("% of the trouble"));
        QVERIFY(html.contains("<svg"));
        for (int n = 1; n < 10; ++n) // nothing that was not put in
            QVERIFY(!html.contains('%' + QByteArray::number(n)));
    }
};

HOBBLE_TEST(TestRecipePage)
#include "test_recipe_page.moc"
