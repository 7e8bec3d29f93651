// A trial measured while it is made: what is taken from the build's run and what was kept says the same as
// measuring from nothing; each step's share of the trouble; going back costs nothing.
#include "core/compare/differences.h"
#include "core/judge/limits.h"
#include "core/mend/trial_run.h"
#include "plant/plant.h"
#include "support/suite.h"
#include "support/tube.h"
#include "zoo/flesh.h"

#include <QTest>

#include <cmath>

using namespace hobble;
using namespace hobble::test;

class TestTrialRun : public QObject {
    Q_OBJECT

    std::shared_ptr<const Subject> subject_;
    Plan plan_;
    std::shared_ptr<const RunResult> run_;
    MeasuredMemory known_;
    int joint_ = -1;

    Step softer(int times) const {
        Step out;
        out.kind = StepKind::Soften;
        out.count = times;
        out.place.what = MendPlace::What::Marked;
        out.place.vertices = subject_->zones[static_cast<std::size_t>(joint_)].blendVertices;
        return out;
    }
    Trial trial(std::vector<Step> steps) const {
        Trial out;
        out.build = subject_->character->hash;
        out.steps = std::move(steps);
        return out;
    }
    CureGoal goal() const {
        for (const hobble::Fault& f : run_->faults)
            if (std::find(f.joints.begin(), f.joints.end(), joint_) != f.joints.end())
                return goalOf(*run_, f);
        return {};
    }
    TrialRun fresh() { return {subject_, plan_, run_, known_}; }

    // `apart`: what rounding may make of skin that moves as a whole and is smoothed.
    static bool same(const MotionResult& a, const MotionResult& b, double apart = 0) {
        if (a.steps.size() != b.steps.size())
            return false;
        for (std::size_t s = 0; s < a.steps.size(); ++s)
            for (std::size_t j = 0; j < a.steps[s].joints.size(); ++j)
                for (Kind kind : kKinds)
                    if (const auto x = valueOf(kind, a.steps[s].joints[j].measures),
                        y = valueOf(kind, b.steps[s].joints[j].measures);
                        x != y && !(x && y && std::abs(*x - *y) < apart))
                        return false;
        return true;
    }

private slots:
    void initTestCase() {
        Character c = *zoo::strangerCalled("zoo low dog");
        demo::Recipe recipe;
        recipe.seed = 3;
        demo::Fault hard;
        hard.fault = "blend too hard";
        hard.joint = "front_lower_leg_l";
        hard.strength = 0.9;
        recipe.faults = {hard};
        QVERIFY(demo::plant(c, recipe));
        subject_ =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(std::move(c))));
        joint_ = subject_->character->skeleton.find("front_lower_leg_l");
        QVERIFY(joint_ >= 0);
        plan_ = defaultPlan(*subject_->character, subject_->roles);
        RunOptions options;
        options.store = &known_;
        run_ = std::make_shared<const RunResult>(runPlan(*subject_, plan_, options));
        QVERIFY(!goal().signs.empty());
    }

    void nothingDoneIsTheBuild() {
        TrialRun on = fresh();
        const TrialState state = on.make(trial({}));
        QCOMPARE(state.subject, subject_);
        const TrialMeasured m = on.measure(state, goal(), {});
        QCOMPARE(m.motions, std::size_t(0));
        QCOMPARE(m.effect.allIs, m.effect.allWas);
        QVERIFY(m.effect.elsewhere.empty() && !m.effect.harms());
        QCOMPARE(m.effect.gone(), 0.0);
        // a step that is off is nothing done
        Step off = softer(5);
        off.on = false;
        QCOMPARE(on.make(trial({off})).subject, subject_);
    }

    void asMeasuredFromNothing() {
        TrialRun on = fresh();
        const TrialState state = on.make(trial({softer(6)}));
        QVERIFY(state.subject != subject_);
        QCOMPARE(state.effects.size(), std::size_t(1));
        QVERIFY(!state.effects[0].changed.empty());
        const TrialMeasured m = on.measure(state, goal(), {});
        QVERIFY(m.motions > 0 && m.motions * 3 < plan_.motions.size());
        const RunResult whole = runPlan(*state.subject, plan_);
        QCOMPARE(m.now.run->motions.size(), whole.motions.size());
        for (std::size_t i = 0; i < whole.motions.size(); ++i)
            QVERIFY2(same(m.now.run->motions[i], whole.motions[i]), plan_.motions[i].id.c_str());
        const MendEffect slow =
            effectOf({subject_, run_}, {state.subject, std::make_shared<const RunResult>(whole)}, goal(),
                     Limits::standard());
        QCOMPARE(m.effect.allIs, slow.allIs);
        QCOMPARE(m.effect.troubleIs, slow.troubleIs);
        QVERIFY(m.effect.gone() > 0);
        // the motion looked at, measured first and alone, says what the whole says of it
        const Finding& f = run_->findings[static_cast<std::size_t>(goal().signs.front())];
        const std::string id = run_->plan.motions[static_cast<std::size_t>(f.motion)].id;
        TrialRun other = fresh();
        const ComparedSide alone = other.measure(other.make(trial({softer(6)})), id, {});
        QVERIFY(alone.run->motions.size() <= 2); // with its other side
        QVERIFY(same(alone.run->motions[static_cast<std::size_t>(alone.run->plan.find(id))],
                     m.now.run->motions[static_cast<std::size_t>(m.now.run->plan.find(id))]));
        QVERIFY(!on.measure(state, "no such motion", {}).run);
    }

    // What is done after skinning, or by another method, is measured wherever it can be seen, and nowhere
    // else.
    void deformedOtherwise_data() {
        QTest::addColumn<int>("kind");
        QTest::newRow("smoothed after") << int(StepKind::SmoothAfter);
        QTest::newRow("by dual quaternions") << int(StepKind::Method);
    }
    void deformedOtherwise() {
        QFETCH(int, kind);
        Step step = softer(10);
        step.kind = static_cast<StepKind>(kind);
        step.amount = kind == int(StepKind::Method) ? 1 : 0.5;
        TrialRun on = fresh();
        const TrialState state = on.make(trial({softer(2), step}));
        QVERIFY2(state.effects[1].applies && state.effects[1].shapes, state.effects[1].why.c_str());
        QVERIFY(!state.movesJoints);
        const TrialMeasured m = on.measure(state, goal(), {});
        QVERIFY(m.motions > 0 && m.motions * 2 < plan_.motions.size());
        const RunResult whole = runPlan(*state.subject, plan_);
        for (std::size_t i = 0; i < whole.motions.size(); ++i)
            QVERIFY2(same(m.now.run->motions[i], whole.motions[i], 1e-5), plan_.motions[i].id.c_str());
        // it does something, beyond what the weights do
        QVERIFY(m.effect.allIs != on.measure(on.make(trial({softer(2)})), goal(), {}).effect.allIs);
    }

    void goingBackIsFree() {
        TrialRun on = fresh();
        const Trial one = trial({softer(3)}), two = trial({softer(3), softer(9)});
        const TrialMeasured first = on.measure(on.make(one), goal(), {});
        QVERIFY(on.measure(on.make(two), goal(), {}).now.run->posesMeasured > 0);
        const TrialMeasured again = on.measure(on.make(one), goal(), {});
        QCOMPARE(again.now.run->posesMeasured, std::size_t(0));
        QCOMPARE(again.effect.allIs, first.effect.allIs);
    }

    // What the steps take away, one after the other, is what is gone in the end.
    void sharesAddUp() {
        TrialRun on = fresh();
        Step off = softer(30);
        off.on = false;
        Step lost = softer(1);
        lost.kind = StepKind::KeepOut;
        lost.joint = "not a joint";
        const Trial all = trial({softer(2), off, lost, softer(6)});
        const std::vector<double> shares = on.shares(all, goal(), {});
        QCOMPARE(shares.size(), std::size_t(4));
        QCOMPARE(shares[1], 0.0);
        QCOMPARE(shares[2], 0.0);
        QVERIFY(shares[0] > 0);
        const TrialState state = on.make(all);
        QVERIFY(!state.effects[2].applies && !state.effects[2].why.empty());
        const TrialMeasured m = on.measure(state, goal(), {});
        QVERIFY(std::abs(shares[0] + shares[3] - m.effect.gone()) < 1e-9);
        QVERIFY(on.shares(all, {}, {}).empty()); // it is for nothing in particular
    }

    void stopped() {
        TrialRun on = fresh();
        std::atomic<bool> stop{true};
        RunOptions options;
        options.cancel = &stop;
        const TrialMeasured m = on.measure(on.make(trial({softer(4)})), goal(), options);
        QVERIFY(m.now.run->cancelled);
        QVERIFY(on.shares(trial({softer(4)}), goal(), options).empty());
        // nor where its state was measured before, but is not made again
        QVERIFY(!on.measure(on.make(trial({softer(4)})), goal(), {}).now.run->cancelled);
        QVERIFY(on.shares(trial({softer(4)}), goal(), options).empty());
    }

    // Moving a joint changes the skeleton, and is measured as that.
    void aMovedJoint() {
        TrialRun on = fresh();
        Step pivot;
        pivot.kind = StepKind::Pivot;
        pivot.joint = "front_lower_leg_l";
        pivot.at = subject_->character->skeleton.place(joint_) + Vec3d(0, 0.02, 0.01);
        const TrialState state = on.make(trial({pivot}));
        QVERIFY(state.movesJoints && state.effects[0].skeleton);
        QVERIFY((state.subject->character->skeleton.place(joint_) - pivot.at).norm() < 1e-9);
        QVERIFY(on.measure(state, goal(), {}).motions > 0);
    }

    void sharesOfAPlace() {
        const Subject s = subjectOf(tube());
        std::vector<std::uint32_t> all(s.surface.vertexCount());
        for (std::uint32_t v = 0; v < all.size(); ++v)
            all[v] = v;
        double sum = 0, last = 1;
        for (const Share& share : meanShares(s, all, 0)) {
            QVERIFY(share.by <= last);
            last = share.by;
            sum += share.by;
        }
        QVERIFY(std::abs(sum - 1) < 1e-5);
        QVERIFY(meanShares(s, {}).empty());
        const std::vector<Share> one = meanShares(s, {0});
        QCOMPARE(one.size(), std::size_t(1)); // the end of the tube is one joint's
        QVERIFY(std::abs(one[0].by - 1) < 1e-5);
    }
};

HOBBLE_TEST(TestTrialRun)
#include "test_trial_run.moc"
