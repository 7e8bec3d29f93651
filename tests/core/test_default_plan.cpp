// The plan turns every joint the way a body turns: checked by where the next joint goes.
#include "core/character/body.h"
#include "io/character_read.h"
#include "io/plan_json.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>
#include <set>

using namespace hobble;
using namespace hobble::test;

class TestDefaultPlan : public QObject {
    Q_OBJECT

    Character badger_;
    Plan plan_;

    const Motion& motion(const std::string& id) const {
        const auto it = std::find_if(plan_.motions.begin(), plan_.motions.end(),
                                     [&](const Motion& m) { return m.id == id; });
        if (it == plan_.motions.end())
            qFatal("no motion %s", id.c_str());
        return *it;
    }

    // How far a joint goes when the motion is taken to `degrees`.
    Vec3d travel(const std::string& id, const std::string& joint, double degrees = 30) const {
        const int j = badger_.skeleton.find(joint);
        const auto posed = worldTransforms(badger_.skeleton, poseAt(badger_.skeleton, motion(id), degrees));
        return posed[j].translation() - badger_.skeleton.neutralWorld[j].translation();
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        plan_ = defaultPlan(badger_, guessRoles(badger_));
    }

    void neutralFirstAndLast() {
        std::set<std::string> ids;
        QVERIFY(plan_.motions.size() > 60);
        for (const Motion& m : plan_.motions) {
            QVERIFY2(ids.insert(m.id).second, m.id.c_str());
            QCOMPARE(m.steps.front(), 0.0);
            QCOMPARE(m.steps.back(), 0.0);
            for (std::size_t i = 1; i + 1 < m.steps.size(); ++i)
                QVERIFY(m.steps[i] - m.steps[i - 1] <= 10 + 1e-9);
            double share = 0;
            for (const JointTurn& t : m.turns)
                share += t.share;
            QVERIFY(std::abs(share - 1) < 1e-9);
        }
    }

    void coversTheBody() {
        std::set<Role> roles;
        for (const Motion& m : plan_.motions)
            roles.insert(m.role);
        for (Role r : {Role::Spine, Role::Neck, Role::Head, Role::Jaw, Role::Shoulder, Role::Elbow,
                       Role::Wrist, Role::Finger, Role::Thumb, Role::Hip, Role::Knee, Role::Ankle})
            QVERIFY2(roles.count(r), nameOf(r));
    }

    // The badger faces +Z, its left is +X, up is +Y.
    void waysToTurn() {
        QVERIFY(travel("left-elbow-flex", "hand.L").z() > 0.03);
        QVERIFY(travel("right-elbow-flex", "hand.R").z() > 0.03);
        QVERIFY(travel("left-knee-flex", "foot.L").z() < -0.03);
        QVERIFY(travel("left-hip-front", "shin.L").z() > 0.03);
        QVERIFY(travel("right-hip-back", "shin.R").z() < -0.03);
        QVERIFY(travel("left-hip-out", "shin.L").x() > 0.03);
        QVERIFY(travel("right-hip-out", "shin.R").x() < -0.03);
        QVERIFY(travel("left-shoulder-raise", "forearm.L").y() > 0.03);
        QVERIFY(travel("right-shoulder-lower", "forearm.R").y() < -0.01);
        QVERIFY(travel("left-shoulder-front", "forearm.L").z() > 0.03);
        QVERIFY(travel("left-ankle-up", "toes.L").y() > 0.02);
        QVERIFY(travel("left-ankle-down", "toes.L").y() < -0.02);
        QVERIFY(travel("jaw-open", "jaw_end").y() < -0.02);
        QVERIFY(travel("spine-front", "head").z() > 0.05);
        QVERIFY(travel("left-spine-side", "head").x() > 0.05);
        QVERIFY(travel("head-nod", "jaw_end").y() < -0.02);
        QVERIFY(travel("left-head-turn", "jaw_end").x() > 0.02);
        QVERIFY(travel("left-collarbone-up", "upper_arm.L").y() > 0.02);
    }

    void fingersCloseOnThePalm() {
        const auto roles = guessRoles(badger_);
        const BodyFrame body = bodyFrame(badger_, roles);
        for (const char* side : {"L", "R"}) {
            const std::string s = side, left = s == "L" ? "left" : "right";
            const Vec3d palm = palmDirection(badger_, roles, body, badger_.skeleton.find("hand." + s));
            QVERIFY(travel(left + "-index-base-curl", "index_2." + s).dot(palm) > 0.005);
            QVERIFY(travel(left + "-wrist-bend-in", "middle_1." + s).dot(palm) > 0.01);
        }
    }

    void mirroredMotionsMirror() {
        for (const Motion& m : plan_.motions) {
            if (m.side != Side::Left || m.limb == Limb::Head || m.limb == Limb::Trunk || m.limb == Limb::Tail)
                continue;
            const Motion& other = motion("right" + m.id.substr(4));
            QVERIFY2(std::abs(m.limit() - other.limit()) < 1.01, m.id.c_str());
            const auto a = worldTransforms(badger_.skeleton, poseAt(badger_.skeleton, m, 25));
            const auto b = worldTransforms(badger_.skeleton, poseAt(badger_.skeleton, other, 25));
            for (int j = 0; j < badger_.skeleton.size(); ++j) {
                std::string name = badger_.skeleton.name[j];
                if (name.size() < 2 || name.substr(name.size() - 2) != ".L")
                    continue;
                name.back() = 'R';
                const Vec3d p = a[j].translation(), q = b[badger_.skeleton.find(name)].translation();
                QVERIFY2((p - Vec3d(-q.x(), q.y(), q.z())).norm() < 1e-3, (m.id + " moves " + name).c_str());
            }
        }
    }

    void planSurvivesItsFile() {
        const auto back = planFromJson(planToJson(plan_, badger_), badger_);
        QVERIFY2(back, back ? "" : back.error().c_str());
        QCOMPARE(back->motions.size(), plan_.motions.size());
        for (std::size_t m = 0; m < plan_.motions.size(); ++m) {
            QCOMPARE(back->motions[m].id, plan_.motions[m].id);
            QCOMPARE(back->motions[m].steps, plan_.motions[m].steps);
            QCOMPARE(back->motions[m].side, plan_.motions[m].side);
            for (std::size_t t = 0; t < plan_.motions[m].turns.size(); ++t)
                QVERIFY(back->motions[m].turns[t].axis.isApprox(plan_.motions[m].turns[t].axis, 1e-12));
        }
    }

    // Where the neutral shows a bend, the plan follows it; a straight limb bends the way its role does.
    void hingeFromTheNeutral() {
        auto arm = [](double bend) {
            // an arm to the left, bent backwards by `bend` at the elbow in neutral (a wrong but real rig)
            return stickFigure({{"pelvis", -1, {0, 1, 0}},
                                {"spine", 0, {0, 1.3, 0}},
                                {"upper_arm.L", 1, {0.2, 1.4, 0}},
                                {"forearm.L", 2, {0.5, 1.4, 0}},
                                {"hand.L", 3, {0.5 + 0.3 * std::cos(bend), 1.4, -0.3 * std::sin(bend)}}});
        };
        for (const auto& [bend, sign] : {std::pair(0.0, 1.0), std::pair(0.08, 1.0), std::pair(0.6, -1.0)}) {
            const Character c = arm(bend);
            const Plan plan = defaultPlan(c, guessRoles(c));
            for (const Motion& m : plan.motions)
                if (m.id == "left-elbow-flex") {
                    const auto p = worldTransforms(c.skeleton, poseAt(c.skeleton, m, 30));
                    QVERIFY((p[4].translation().z() - c.skeleton.neutralWorld[4].translation().z()) * sign >
                            0.02);
                }
        }
    }
};

HOBBLE_TEST(TestDefaultPlan)
#include "test_default_plan.moc"
