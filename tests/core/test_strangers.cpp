// Meshes and skeletons as strangers bring them: bound without a blend, flush boxes, faces that look inwards,
// a hand that hangs elsewhere, a tree that lies flat.
#include "core/intake/check.h"
#include "core/measure/torn_limbs.h"
#include "core/pose/coverage.h"
#include "core/run/run.h"
#include "core/words/finding_words.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>
#include <cmath>

using namespace hobble;
using namespace hobble::test;

class TestStrangers : public QObject {
    Q_OBJECT

    // A tube bound as a machine binds it: each vertex wholly to one of the two joints.
    static Character hardTube() {
        Character c = tube({.blendHalf = 0.1});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.bindPosition)
            weights.push_back({{p.y() > 0 ? 1 : 0, 1.0}});
        finish(c, weights);
        return c;
    }

    static Character ofOnePart(Character c, const std::vector<Vec3>& position,
                               const std::vector<Triangle>& triangles,
                               const std::vector<std::vector<std::pair<int, double>>>& weights) {
        c.bindPosition = position;
        c.triangles = triangles;
        Part part;
        part.name = "skin";
        part.skin = 0;
        part.skinned = true;
        part.vertexCount = static_cast<std::uint32_t>(position.size());
        part.triangleCount = static_cast<std::uint32_t>(triangles.size());
        c.parts = std::vector<Part>{part};
        finish(c, weights);
        return c;
    }

    // Axis-aligned boxes, each wholly on one joint, with corners of their own for each face.
    struct Box {
        Vec3 low, high;
        int joint;
    };
    static Character boxes(const std::vector<Box>& all,
                           const std::vector<std::tuple<std::string, int, Vec3d>>& joints) {
        Character c;
        c.name = "machine";
        c.skeleton = skeletonOf(joints);
        std::vector<std::vector<std::pair<int, double>>> weights;
        std::vector<Vec3> position;
        std::vector<Triangle> triangles;
        for (const Box& b : all)
            for (int axis = 0; axis < 3; ++axis)
                for (int end = 0; end < 2; ++end) {
                    const auto base = static_cast<std::uint32_t>(position.size());
                    for (int k = 0; k < 4; ++k) {
                        Vec3 p;
                        p[axis] = end ? b.high[axis] : b.low[axis];
                        p[(axis + 1) % 3] = k == 1 || k == 2 ? b.high[(axis + 1) % 3] : b.low[(axis + 1) % 3];
                        p[(axis + 2) % 3] = k >= 2 ? b.high[(axis + 2) % 3] : b.low[(axis + 2) % 3];
                        position.push_back(p);
                        weights.push_back({{b.joint, 1.0}});
                    }
                    for (const auto& [x, y, z] : {std::tuple(0u, 1u, 2u), std::tuple(0u, 2u, 3u)})
                        triangles.push_back(end ? Triangle{base + x, base + y, base + z}
                                                : Triangle{base + x, base + z, base + y});
                }
        return ofOnePart(std::move(c), position, triangles, weights);
    }

    static const CheckFinding* told(const CheckFindings& all, const char* check) {
        const auto it =
            std::find_if(all.begin(), all.end(), [&](const CheckFinding& f) { return f.check == check; });
        return it == all.end() ? nullptr : &*it;
    }

    // A straight arm of tubes' skin along +X, joint after joint, and one vertex ring every 5 cm.
    static Character limbOf(const std::vector<std::tuple<std::string, int, Vec3d>>& joints, double length,
                            const std::function<int(double)>& holder) {
        Character c;
        c.name = "limb";
        c.skeleton = skeletonOf(joints);
        std::vector<Vec3> position;
        std::vector<Triangle> triangles;
        std::vector<std::vector<std::pair<int, double>>> weights;
        constexpr std::uint32_t sides = 12;
        const auto rings = static_cast<std::uint32_t>(length / 0.02);
        for (std::uint32_t r = 0; r <= rings; ++r)
            for (std::uint32_t k = 0; k < sides; ++k) {
                const double x = 0.02 * r, a = 2 * kPi * k / sides;
                position.push_back(Vec3d(x, 1 + 0.05 * std::cos(a), 0.05 * std::sin(a)).cast<float>());
                weights.push_back({{holder(x), 1.0}});
            }
        for (std::uint32_t r = 0; r < rings; ++r)
            for (std::uint32_t k = 0; k < sides; ++k) {
                const std::uint32_t a = r * sides + k, b = r * sides + (k + 1) % sides;
                triangles.push_back({a, a + sides, b});
                triangles.push_back({b, a + sides, b + sides});
            }
        return ofOnePart(std::move(c), position, triangles, weights);
    }

private slots:
    // Bound without a blend: a zone, a radius, a volume, a girth; and finding and measurement say the same.
    void hardBindingIsMeasured() {
        const Subject s = subjectOf(hardTube());
        const JointZone& zone = s.zones[1];
        QVERIFY(!zone.empty());
        QVERIFY2(std::abs(zone.limbRadius - 0.1) < 0.005, std::to_string(zone.limbRadius).c_str());
        QVERIFY(zone.volume.has_value());
        QVERIFY(zone.girth.has_value());
        const RunResult run = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}), {});
        QVERIFY(!run.findings.empty());
        bool any = false;
        for (const Finding& f : run.findings)
            if (f.kind == Kind::Stretch) {
                any = true;
                double most = 0;
                for (const StepResult& step : run.motions[0].steps)
                    for (const JointStep& j : step.joints)
                        if (j.joint == f.joint)
                            most = std::max(most, j.measures.stretch);
                QVERIFY(most > 2);
                QVERIFY2(std::abs(f.peakValue - most) < 1e-6 * most + 1e-6,
                         (std::to_string(f.peakValue) + " against " + std::to_string(most)).c_str());
            }
        QVERIFY(any);
    }

    // Flush boxes are no skin: nothing stretches between them, and their crack is told once.
    void boxesOnlyTouch() {
        const Character c =
            boxes({{{-0.1f, 0.f, -0.1f}, {0.1f, 1.f, 0.1f}, 0}, {{-0.1f, 1.f, -0.1f}, {0.1f, 2.f, 0.1f}, 1}},
                  {{"upper_arm.L", -1, {0, 0, 0}}, {"forearm.L", 0, {0, 1, 0}}});
        const Subject s = subjectOf(c);
        QCOMPARE(s.surface.shellCount, 2u);
        QCOMPARE(s.surface.borderEdges, std::size_t(0));
        QCOMPARE(s.surface.nonManifoldEdges, std::size_t(0));
        const RunResult run = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}), {});
        for (const Finding& f : run.findings)
            QVERIFY2(f.kind == Kind::Contact || f.kind == Kind::PokeThrough || f.kind == Kind::Gap,
                     nameOf(f.kind));
        const CheckFindings checks = inspect(s);
        QCOMPARE(std::count_if(checks.begin(), checks.end(),
                               [](const CheckFinding& f) { return f.check == "seam that cracks"; }),
                 1);
        QVERIFY(!told(checks, "unmerged vertices"));
    }

    // Rims that meet and are held by other joints altogether are no surface either.
    void openRimsOnlyTouch() {
        Character c = hardTube();
        // vertices of the seam doubled, one of each for either joint
        std::vector<Vec3> position(c.bindPosition.begin(), c.bindPosition.end());
        std::vector<Triangle> triangles(c.triangles.begin(), c.triangles.end());
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : position)
            weights.push_back({{p.y() > 0 ? 1 : 0, 1.0}});
        std::map<std::uint32_t, std::uint32_t> twin;
        for (Triangle& t : triangles) {
            const bool above =
                std::any_of(t.begin(), t.end(), [&](std::uint32_t v) { return position[v].y() > 0; });
            for (std::uint32_t& v : t)
                if (above && position[v].y() <= 0) {
                    const auto [it, fresh] = twin.try_emplace(v, static_cast<std::uint32_t>(position.size()));
                    if (fresh) {
                        position.push_back(Vec3(position[v]));
                        weights.push_back({{1, 1.0}});
                    }
                    v = it->second;
                }
        }
        QVERIFY(!twin.empty());
        c.bindPosition = position;
        c.triangles = triangles;
        std::vector<Part> parts(c.parts.begin(), c.parts.end());
        parts[0].vertexCount = static_cast<std::uint32_t>(position.size());
        c.parts = parts;
        finish(c, weights);
        const Subject s = subjectOf(c);
        QCOMPARE(s.surface.shellCount, 2u);
        const RunResult run = runPlan(s, turnPlan(Vec3d::UnitX(), {0, 45, 90, 0}), {});
        for (const Finding& f : run.findings)
            QVERIFY2(f.kind != Kind::Stretch && f.kind != Kind::Flip && f.kind != Kind::VolumeLoss,
                     nameOf(f.kind));
        QVERIFY(told(inspect(s), "seam that cracks"));
    }

    // Turned inside out, wholly or in part, it is measured as if it were not, and said to be.
    void facesThatLookInwards() {
        const Subject right = subjectOf(tube());
        QVERIFY(!told(inspect(right), "faces that look inwards"));
        for (const bool all : {true, false}) {
            Character c = tube();
            std::vector<Triangle> triangles(c.triangles.begin(), c.triangles.end());
            for (std::size_t t = 0; t < triangles.size(); ++t)
                if (all || t % 7 == 0)
                    std::swap(triangles[t][1], triangles[t][2]);
            c.triangles = triangles;
            const Subject s = subjectOf(c);
            QVERIFY(told(inspect(s), "faces that look inwards"));
            QVERIFY(s.zones[1].volume.has_value());
            QVERIFY(std::abs(s.zones[1].volume->neutral - right.zones[1].volume->neutral) < 1e-9);
            QCOMPARE(s.surface.nonManifoldEdges, std::size_t(0));
            const auto bent = [](const Subject& subject) {
                const RunResult run = runPlan(subject, turnPlan(Vec3d::UnitX(), {0, 90, 0}), {});
                return run.motions[0].steps[1].joints[0].measures;
            };
            const ZoneMeasures a = bent(right), b = bent(s);
            QVERIFY(std::abs(*a.volume - *b.volume) < 1e-6);
            QVERIFY(std::abs(a.stretch - b.stretch) < 1e-6);
            QCOMPARE(b.flip.value_or(0) > 0, a.flip.value_or(0) > 0);
        }
    }

    // A hand below a control: told, with what it goes on from and what it hangs from.
    void aHandThatHangsElsewhere() {
        const auto holder = [](double x) { return x < 0.3 ? 2 : x < 0.6 ? 3 : 5; };
        const Character torn = limbOf({{"root", -1, {0, 1, 0}},
                                       {"spine", 0, {0, 1, 0}},
                                       {"upper_arm.L", 1, {0.02, 1, 0}},
                                       {"forearm.L", 2, {0.3, 1, 0}},
                                       {"ctrl_hand.L", 0, {0.6, 1, 0}},
                                       {"hand.L", 4, {0.6, 1, 0}}},
                                      0.8, holder);
        const Subject s = subjectOf(torn);
        const TreeAndSkin found = treeAndSkin(torn.skeleton, s.surface);
        QCOMPARE(found.torn.size(), std::size_t(1));
        QCOMPARE(found.torn[0].joint, 5);
        QCOMPARE(found.torn[0].continues, 3);
        const CheckFindings checks = inspect(s);
        const CheckFinding* check = told(checks, "limb that does not follow");
        QVERIFY(check);
        QVERIFY2(check->sentence.find("does not follow") != std::string::npos, check->sentence.c_str());
        // and it is the first cause of what it brings about
        const RunResult run = runPlan(s, defaultPlan(torn, s.roles), {});
        bool any = false;
        for (const Finding& f : run.findings)
            if (f.headline() && f.headline()->kind == CauseKind::LimbDoesNotFollow)
                any = true;
        QVERIFY(any);
        // parented as it should be, nothing is told
        Character whole = torn;
        whole.skeleton = skeletonOf({{"root", -1, {0, 1, 0}},
                                     {"spine", 0, {0, 1, 0}},
                                     {"upper_arm.L", 1, {0.02, 1, 0}},
                                     {"forearm.L", 2, {0.3, 1, 0}},
                                     {"ctrl_hand.L", 3, {0.6, 1, 0}},
                                     {"hand.L", 4, {0.6, 1, 0}}});
        QVERIFY(!told(inspect(subjectOf(whole)), "limb that does not follow"));
    }

    // The same where joints beside one another share the forearm's roll, and the hand's skin goes on from the
    // last of them.
    void aHandThatHangsElsewhereFromATwist() {
        const auto holder = [](double x) { return x < 0.3 ? 2 : x < 0.45 ? 4 : x < 0.6 ? 5 : 6; };
        const auto limb = [&](int parentOfHand) {
            return limbOf({{"root", -1, {0, 1, 0}},
                           {"spine", 0, {0, 1, 0}},
                           {"upper_arm.L", 1, {0.02, 1, 0}},
                           {"forearm.L", 2, {0.3, 1, 0}},
                           {"forearm_twist_1.L", 3, {0.3, 1, 0}},
                           {"forearm_twist_2.L", 3, {0.45, 1, 0}},
                           {"hand.L", parentOfHand, {0.6, 1, 0}}},
                          1.4, holder); // the hand holds more than the last of the forearm
        };
        const Character torn = limb(0), whole = limb(3);
        const TreeAndSkin found = treeAndSkin(torn.skeleton, subjectOf(torn).surface);
        QCOMPARE(found.torn.size(), std::size_t(1));
        QCOMPARE(found.torn[0].joint, 6);
        QCOMPARE(found.torn[0].continues, 5);
        QVERIFY(treeAndSkin(whole.skeleton, subjectOf(whole).surface).torn.empty());
    }

    void aTreeThatLiesFlat() {
        std::vector<std::tuple<std::string, int, Vec3d>> joints{{"root", -1, {0, 1, 0}}};
        for (int j = 0; j < 10; ++j)
            joints.push_back({"bone_" + std::to_string(j), 0, {0.1 * j, 1, 0}});
        const Character c =
            limbOf(joints, 1.0, [](double x) { return 1 + std::min(9, static_cast<int>(x / 0.1 + 1e-9)); });
        const Subject s = subjectOf(c);
        const TreeAndSkin found = treeAndSkin(c.skeleton, s.surface);
        QCOMPARE(found.flatUnder, 0);
        QCOMPARE(found.torn.size(), std::size_t(9)); // all but the one they go on from
        for (int j = 2; j <= 10; ++j)                // each goes on from the one beside it
            QVERIFY(found.parentByPlace[j] == j - 1 || found.parentByPlace[j - 1] == j);
        const CheckFindings checks = inspect(s);
        const CheckFinding* check = told(checks, "limb that does not follow");
        QVERIFY(check);
        QVERIFY2(check->sentence.find("lies flat") != std::string::npos, check->sentence.c_str());
    }

    // What no motion turns is said, with why, and can be put in.
    void coverage() {
        const Subject s = subjectOf(tube());
        Plan plan = turnPlan(Vec3d::UnitX(), {0, 45, 0});
        const Coverage all = coverageOf(*s.character, s.roles, plan);
        QVERIFY(all.share > 0.999 && all.untested.empty());
        QCOMPARE(QString::fromStdString(wordsFor(all)), QStringLiteral("The plan moves all of the skin"));
        plan.motions[0].on = false;
        const Coverage none = coverageOf(*s.character, s.roles, plan);
        QVERIFY(none.share < 1e-9);
        QCOMPARE(none.untested.size(), std::size_t(2));
        for (const UntestedJoint& u : none.untested)
            QVERIFY(!wordsFor(u.why).empty());
        QCOMPARE(QString::fromStdString(wordsFor(none)),
                 QStringLiteral("The plan moves 0 % of the skin; not tested: 2 joints"));
        const Plan on = planWith(plan, *s.character, s.roles, 1); // the motion that is there
        QCOMPARE(on.motions.size(), plan.motions.size());
        QVERIFY(coverageOf(*s.character, s.roles, on).untested.empty());
        const Plan byShape = planWith(Plan{}, *s.character, s.roles, 1);
        QCOMPARE(byShape.motions.size(), std::size_t(5));
        QVERIFY(coverageOf(*s.character, s.roles, byShape).untested.empty());
    }

    // Bad input: every one of them gets roles, a plan and a coverage, in words and in numbers.
    void oddSkeletons_data() {
        QTest::addColumn<int>("kind");
        int kind = 0;
        for (const char* name : {"one joint", "all in one place", "zero-length bones", "equal names",
                                 "empty names", "names of other scripts", "mirrored scale"})
            QTest::newRow(name) << kind++;
    }
    void oddSkeletons() {
        QFETCH(int, kind);
        Character c = tube();
        Skeleton& sk = c.skeleton;
        if (kind == 0) {
            c.skeleton = skeletonOf({{"root", -1, {0, 0, 0}}});
            finish(c, std::vector<std::vector<std::pair<int, double>>>(c.bindPosition.size(), {{0, 1.0}}));
        } else if (kind == 1 || kind == 2) {
            c.skeleton = skeletonOf({{"a", -1, {0, 0, 0}}, {"b", 0, {0, kind == 1 ? 0.0 : 1e-12, 0}}});
            std::vector<std::vector<std::pair<int, double>>> weights;
            for (const Vec3& p : c.bindPosition)
                weights.push_back({{p.y() > 0 ? 1 : 0, 1.0}});
            finish(c, weights);
        } else if (kind == 3) {
            sk.name = {"bone", "bone"};
        } else if (kind == 4) {
            sk.name = {"", ""};
        } else if (kind == 5) {
            sk.name = {"左腕", "предплечье"};
        } else {
            sk.neutralWorld[1].linear() *= -1;
        }
        const auto roles = guessRoles(c);
        QCOMPARE(roles.size(), c.skeleton.name.size());
        for (const JointRole& r : roles)
            QVERIFY(r.confidence >= 0 && r.confidence <= 1);
        const Plan plan = fullPlan(c, roles);
        for (const Motion& m : plan.motions)
            for (const JointTurn& t : m.turns)
                QVERIFY(t.axis.allFinite());
        const Coverage coverage = coverageOf(c, roles, plan);
        QVERIFY(coverage.share >= 0 && coverage.share <= 1);
        const Subject s = subjectOf(c);
        QVERIFY(std::isfinite(s.body.height));
    }
};

HOBBLE_TEST(TestStrangers)
#include "test_strangers.moc"
