// Trouble along a motion, by hand: where it starts, where it is worst, what changed; playback and stepping;
// the limbs joints are seen with.
#include "core/compare/differences.h"
#include "core/pose/sweep.h"
#include "core/run/trouble_curve.h"
#include "support/suite.h"
#include "support/tube.h"

using namespace hobble;
using namespace hobble::test;

namespace {

// Stretch of one joint at given steps; the neutral it ends in is added.
MotionResult stretched(const std::vector<std::pair<double, double>>& steps) {
    MotionResult out;
    for (const auto& [at, stretch] : steps) {
        StepResult step;
        step.at = at;
        step.joints.push_back({0, {}});
        step.joints[0].measures.stretch = stretch;
        out.steps.push_back(step);
    }
    out.steps.push_back({0, {{0, {}}}});
    return out;
}

} // namespace

class TestTroubleCurve : public QObject {
    Q_OBJECT

    const std::vector<JointRole> roles_{JointRole{}};
    Limits limits_ = Limits::standard();

private slots:
    void initTestCase() { limits_.general[Kind::Stretch] = {1.5, 2.0, 3.0, 4.0}; }

    // The limit is 0.5 above unchanged; a stretch of 1.25 is half of it, of 2 twice.
    void onsetLiesBetweenSteps() {
        const TroubleCurve c =
            troubleCurve(roles_, stretched({{0, 1}, {10, 1.25}, {20, 2}, {30, 1.75}}), limits_);
        QCOMPARE(c.at, (std::vector<double>{0, 10, 20, 30}));
        QCOMPARE(c.trouble, (std::vector<double>{0, 0.5, 2, 1.5}));
        QVERIFY(std::abs(c.onset - (10 + 10.0 / 3)) < 1e-9); // a third of the way from a half to two
        QCOMPARE(c.peak, 20.0);
        QCOMPARE(c.worst, 2.0);
        QCOMPARE(c.severity, 1);
        QCOMPARE(troubleAt(c, 15), 1.25);
        QCOMPARE(troubleAt(c, 99), 1.5);
        const TroubleCurve other =
            troubleCurve(roles_, stretched({{0, 1}, {10, 1.25}, {20, 2}}), limits_, Kind::Pinch);
        QCOMPARE(other.worst, 0.0);
        QCOMPARE(other.onset, -1.0);
        QCOMPARE(other.peak, -1.0);
    }

    void changesThatCount() {
        const auto curve = [&](double at20) {
            return troubleCurve(roles_, stretched({{0, 1}, {10, 1.1}, {20, at20}}), limits_);
        };
        QCOMPARE(changeSince(curve(2), curve(2.5)), 1.0);
        QCOMPARE(changeSince(curve(2.5), curve(2)), -1.0);
        QCOMPARE(changeSince(curve(2), curve(2.05)), 0.0);  // too little
        QCOMPARE(changeSince(curve(1.1), curve(1.4)), 0.0); // neither comes to its limit
        QCOMPARE(changeSince({}, curve(2)), 0.0);
    }

    void groupsTakeTheWorstOfTheirMembers() {
        SharedCurve shared;
        shared.add(4, 20, troubleCurve(roles_, stretched({{0, 1}, {10, 1.25}, {20, 2}}), limits_));
        shared.add(7, 100, troubleCurve(roles_, stretched({{0, 1}, {50, 2.5}, {100, 1}}), limits_));
        QCOMPARE(shared.worst, 7);
        QCOMPARE(shared.curve.peak, 50.0);
        QCOMPARE(shared.curve.trouble.front(), 0.0);
        QCOMPARE(shared.curve.trouble[10], 3.0);    // of the second
        QCOMPARE(shared.curve.trouble.back(), 2.0); // of the first
    }

    void valuesBetweenSteps() {
        const MotionResult r = stretched({{0, 1}, {10, 2}, {20, 4}});
        const auto value = [](const StepResult& s) { return std::optional(s.joints[0].measures.stretch); };
        QCOMPARE(*valueAlong(r, 5, value), 1.5);
        QCOMPARE(*valueAlong(r, 20, value), 4.0);
        QVERIFY(!valueAlong(r, 5, [](const StepResult&) { return std::optional<double>(); }));
    }

    void steppingGoesToTheNextStep() {
        Motion m;
        m.steps = {0, 10, 20, 2.5, 0};
        QCOMPARE(stepBeside(m, 0, true), 2.5);
        QCOMPARE(stepBeside(m, 10, true), 20.0);
        QCOMPARE(stepBeside(m, 20, true), 20.0);
        QCOMPARE(stepBeside(m, 12, false), 10.0);
        QCOMPARE(stepBeside(m, 2.5, false), 0.0);
    }

    // Out in the time that was asked for, a rest on the worst place, and home.
    void sweepGoesThereAndBack() {
        SweepPlace at;
        double rested = -1;
        int out = 0, back = 0;
        for (int i = 0; i < 1000 && !at.home; ++i) {
            at = sweptOn(at, 90, 0.1, 2, 47);
            QVERIFY(at.at >= 0 && at.at <= 90);
            if (at.rests)
                rested = at.at;
            ++(at.back ? back : out);
        }
        QVERIFY(at.home);
        QCOMPARE(rested, 47.0);
        QVERIFY(out >= 19 && out <= 22);
        QVERIFY(back >= 18 && back <= 21);
        // a short range is not hurried through: 30° would take as long
        QVERIFY(sweptOn({}, 10, 1, 2, -1).at == 10);
        QCOMPARE(sweptOn({}, 10, 0.5, 2, -1).at, 7.5);
    }

    // Within another's band nothing is beyond it; past it, by what is left over; and only where both went.
    void beyondAnothersBand() {
        const TroubleCurve flat{{10, 20, 30}, {1, 1, 1}}, high{{10, 20, 30}, {1, 4, 1}},
            longer{{10, 20, 30, 40}, {1, 1, 1, 9}}, low{{10, 20, 30}, {.1, .9, .1}}, none{};
        QCOMPARE(beyondBand(flat, flat, Kind::Stretch), 0.0);
        QCOMPARE(beyondBand(high, flat, Kind::Stretch), 3 - bandOf(Kind::Stretch, 1));
        QVERIFY(beyondBand(high, flat, std::nullopt) < beyondBand(high, flat, Kind::Stretch));
        QCOMPARE(beyondBand(flat, high, Kind::Stretch), 0.0);
        QCOMPARE(beyondBand(longer, flat, Kind::Stretch), 0.0);
        QCOMPARE(beyondBand(low, TroubleCurve{{10, 30}, {0, 0}}, Kind::Stretch), 0.0); // far from its limit
        QCOMPARE(beyondBand(high, none, Kind::Stretch), 0.0);
    }

    void limbsOfJoints() {
        Skeleton sk = skeletonOf({{"spine", -1, Vec3d(0, 1, 0)},
                                  {"upper_arm.L", 0, Vec3d(0.2, 1.4, 0)},
                                  {"twist.L", 1, Vec3d(0.3, 1.4, 0)},
                                  {"finger.L", 2, Vec3d(0.6, 1.4, 0)},
                                  {"thigh.R", 0, Vec3d(-0.1, 0.9, 0)}});
        std::vector<JointRole> roles(5);
        for (JointRole& r : roles)
            r.movesSkin = true;
        roles[0].role = Role::Spine;
        roles[1] = {Role::Shoulder, Side::Left};
        roles[2] = {Role::Twist, Side::Left};
        roles[3] = {Role::Finger, Side::Left};
        roles[4] = {Role::Hip, Side::Right};
        for (JointRole& r : roles)
            r.movesSkin = true;
        const auto limbs = limbOfJoints(sk, roles);
        QVERIFY(limbs[1] == (LimbPlace{Limb::Arms, Side::Left}));
        QVERIFY(limbs[2] == limbs[1] && limbs[3] == limbs[1]);
        QVERIFY(limbs[4] == (LimbPlace{Limb::Legs, Side::Right}));
        QVERIFY(limbs[0] == (LimbPlace{Limb::Trunk, Side::Middle}));
        for (int l = 0; l < kLimbs; ++l)
            QVERIFY(limbNamed(nameOf(static_cast<Limb>(l))) == static_cast<Limb>(l));
        QVERIFY(!limbNamed("Wheels"));
    }
};

HOBBLE_TEST(TestTroubleCurve)
#include "test_trouble_curve.moc"
