// Each check on a planted case and on a clean one.
#include "core/intake/check.h"
#include "core/measure/edge_flow.h"
#include "support/suite.h"

#include "io/character_read.h"
#include "support/tube.h"

#include <QTest>
#include <algorithm>

using namespace hobble;
using namespace hobble::test;

class TestIntake : public QObject {
    Q_OBJECT

    static const CheckFinding* find(const CheckFindings& all, const std::string& check) {
        const auto it =
            std::find_if(all.begin(), all.end(), [&](const CheckFinding& f) { return f.check == check; });
        return it == all.end() ? nullptr : &*it;
    }

    static const Character& badger() {
        static const Character c = *readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        return c;
    }
    static int joint(const Character& c, const char* name) {
        const int j = c.skeleton.find(name);
        if (j < 0)
            qFatal("no joint %s", name);
        return j;
    }
    static std::vector<std::vector<std::pair<int, double>>> weightsOf(const Character& c) {
        std::vector<std::vector<std::pair<int, double>>> out(c.vertexCount());
        for (std::size_t v = 0; v < out.size(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                out[v].push_back({c.weights.joint[i], c.weights.weight[i]});
        return out;
    }
    static void setWeights(Character& c, const std::vector<std::vector<std::pair<int, double>>>& all) {
        SkinWeights w;
        for (const auto& own : all) {
            for (const auto& [j, x] : own) {
                w.joint.push_back(static_cast<std::uint16_t>(j));
                w.weight.push_back(static_cast<float>(x));
            }
            w.first.push_back(static_cast<std::uint32_t>(w.joint.size()));
            w.fileSum.push_back(own.empty() ? 0.f : 1.f);
        }
        c.weights = std::move(w);
    }
    // The joint alone; what hangs below it stays.
    static void setJoint(Character& c, int j, const Transform& world) {
        Skeleton& sk = c.skeleton;
        sk.neutralWorld[j] = world;
        for (int k = 0; k < sk.size(); ++k)
            sk.neutralLocal[k] = sk.parent[k] < 0
                                     ? sk.neutralWorld[k]
                                     : sk.neutralWorld[sk.parent[k]].inverse() * sk.neutralWorld[k];
    }
    static bool onlyTells(const Character& c, const std::string& check, int at) {
        const CheckFindings all = inspect(subjectOf(c));
        bool told = false;
        for (const CheckFinding& f : all) {
            if (f.check != check)
                qWarning("besides: %s", f.sentence.c_str());
            told |= f.check == check && (at < 0 || f.joint == at);
        }
        return told &&
               std::all_of(all.begin(), all.end(), [&](const CheckFinding& f) { return f.check == check; });
    }

private slots:
    void everyCheckPassesOnTheCast() {
        for (const char* name : {"badger-postmaster", "pack-goat", "lighthouse-newt"}) {
            const auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + name + ".glb");
            QVERIFY(c.ok());
            const CheckFindings all = inspect(subjectOf(*c));
            QVERIFY2(all.empty(), all.empty() ? "" : all[0].sentence.c_str());
            QCOMPARE(intakeScore(all), 100);
        }
    }

    // The body moved and mirrored finds the same.
    void findsTheSameWhereverItStands() {
        Character c = *readCharacter(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb");
        const CheckFindings here = inspect(subjectOf(c));
        Transform by = Transform::Identity();
        by.translate(Vec3d(5, 0.5, -3));
        by.rotate(Eigen::AngleAxisd(0.9, Vec3d::UnitY()));
        Character there = moved(c, by);
        const CheckFindings away = inspect(subjectOf(there));
        QVERIFY(here.size() > 4);
        QCOMPARE(away.size(), here.size());
        for (std::size_t i = 0; i < here.size(); ++i) {
            QCOMPARE(away[i].check, here[i].check);
            QCOMPARE(away[i].joint, here[i].joint);
            QVERIFY(away[i].vertices == here[i].vertices);
            QVERIFY(std::abs(away[i].value - here[i].value) < 1e-3 * std::max(1.0, here[i].value));
        }
    }

    void farAway() {
        Character c = badger();
        const int hand = joint(c, "hand.L"), shin = joint(c, "shin.R");
        auto w = weightsOf(c);
        int spoilt = 0;
        for (auto& own : w)
            if (!own.empty() && own[0].first == shin && own[0].second > 0.8 && spoilt < 40) {
                own = {{shin, 0.6}, {hand, 0.4}};
                ++spoilt;
            }
        QVERIFY(spoilt > 20);
        setWeights(c, w);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "influence from far away");
        QVERIFY(f && f->joint == hand && std::abs(f->value - 0.4) < 1e-3);
        const CheckFinding* across = find(all, "influence from the other side");
        QVERIFY(across && across->joint == hand);
    }

    void across() {
        Character c = badger();
        const int left = joint(c, "thigh.L"), right = joint(c, "thigh.R");
        auto w = weightsOf(c);
        for (std::size_t v = 0; v < w.size(); ++v)
            if (!w[v].empty() && w[v][0].first == left && c.neutral[v].x() > 0.1f)
                w[v] = {{left, 0.65}, {right, 0.35}};
        setWeights(c, w);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "influence from the other side");
        QVERIFY(f && f->joint == right && f->severity == 3);
    }

    void leftHandNamedLikeARightOne() {
        Character c = badger();
        std::swap(c.skeleton.name[joint(c, "hand.L")], c.skeleton.name[joint(c, "hand.R")]);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "joints that do not pair");
        QVERIFY(f);
        QCOMPARE(f->severity, 3);
        QVERIFY2(f->sentence.find("stands") != std::string::npos, f->sentence.c_str());
        QVERIFY(f->joint == joint(c, "hand.L") || f->joint == joint(c, "hand.R"));
    }

    void oneSideOutOfPlace() {
        Character c = badger();
        const int knee = joint(c, "shin.R");
        Transform at = c.skeleton.neutralWorld[knee];
        at.pretranslate(Vec3d(0, 0.05, 0.03)); // the foot stays
        setJoint(c, knee, at);
        const CheckFinding* f = nullptr;
        const auto all = inspect(subjectOf(c));
        f = find(all, "joints that do not pair");
        QVERIFY(f && (f->joint == knee || f->joint == joint(c, "shin.L")));
        QVERIFY(std::abs(f->value - std::hypot(0.05, 0.03)) < 0.003);
    }

    void nameWithoutAPartner() {
        Character c = badger();
        c.skeleton.name[joint(c, "foot.R")] = "hoofish";
        const auto all = inspect(subjectOf(c));
        QVERIFY(find(all, "joints that do not pair"));
    }

    void axes() {
        Character c = badger();
        const int elbow = joint(c, "forearm.R");
        Transform at = c.skeleton.neutralWorld[elbow];
        at.rotate(Eigen::AngleAxisd(radians(40), Vec3d::UnitY()));
        setJoint(c, elbow, at);
        const auto rolled = inspect(subjectOf(c));
        const CheckFinding* f = find(rolled, "axes differ from the other side");
        QVERIFY(f && f->joint == elbow);
        QVERIFY(std::abs(f->value - 40) < 1);

        // a skeleton with a habit, and one joint that breaks it
        Character chain = tube();
        std::vector<std::tuple<std::string, int, Vec3d>> joints;
        for (int i = 0; i < 8; ++i)
            joints.push_back({"tail_" + std::to_string(i), i - 1, Vec3d(0, -0.8 + 0.2 * i, 0)});
        chain.skeleton = skeletonOf(joints);
        std::vector<std::vector<std::pair<int, double>>> w;
        for (const Vec3& p : chain.neutral)
            w.push_back({{std::clamp(static_cast<int>((p.y() + 0.8f) / 0.2f), 0, 7), 1.0}});
        finish(chain, w);
        QVERIFY(!find(inspect(subjectOf(chain)), "axes differ along a chain"));
        Transform turned = chain.skeleton.neutralWorld[4];
        turned.rotate(Eigen::AngleAxisd(radians(90), Vec3d::UnitZ()));
        setJoint(chain, 4, turned);
        const auto all = inspect(subjectOf(chain));
        const CheckFinding* along = find(all, "axes differ along a chain");
        QVERIFY(along && along->joint == 4);
    }

    void straight() {
        Character c = tube();
        c.skeleton = skeletonOf(
            {{"upper_arm.L", -1, {0, -0.8, 0}}, {"forearm.L", 0, {0, 0, 0}}, {"hand.L", 1, {0, 0.6, 0}}});
        std::vector<std::vector<std::pair<int, double>>> w;
        for (const Vec3& p : c.neutral)
            w.push_back({{p.y() > 0.6f ? 2 : p.y() > 0 ? 1 : 0, 1.0}});
        finish(c, w);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "straight limb");
        QVERIFY(f && f->joint == 1 && f->value < 0.1);
        c.skeleton.neutralLocal[2].translation() += Vec3d(0, 0, 0.08); // some eight degrees
        c.skeleton.neutralWorld[2].translation() += Vec3d(0, 0, 0.08);
        QVERIFY(!find(inspect(subjectOf(c)), "straight limb"));
    }

    void pivot() {
        Character c = tube();
        Transform at = c.skeleton.neutralWorld[1];
        at.pretranslate(Vec3d(0.16, 0, 0)); // the tube's radius is 0.1
        setJoint(c, 1, at);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "pivot outside the limb");
        QVERIFY(f && f->joint == 1);
        QVERIFY2(std::abs(f->value - 1.6) < 0.05, qPrintable(QString::number(f->value)));
    }

    void bindPose() {
        Character c = badger();
        QVERIFY(!c.skeleton.restWorld.empty());
        const int elbow = joint(c, "forearm.L");
        const auto below = c.skeleton.subtree(elbow);
        const Transform pivot = c.skeleton.neutralWorld[elbow];
        Transform turn = Transform::Identity();
        turn.rotate(Eigen::AngleAxisd(radians(25), Vec3d::UnitX()));
        for (int k = 0; k < c.skeleton.size(); ++k)
            if (below[k])
                c.skeleton.restWorld[k] = pivot * turn * pivot.inverse() * c.skeleton.restWorld[k];
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "bind pose is not the rest pose");
        QVERIFY(f && f->joint == elbow);
        QVERIFY(std::abs(f->value - 25) < 0.1);
        QVERIFY(onlyTells(c, "bind pose is not the rest pose", elbow));
    }

    void loops() {
        TubeSpec coarse;
        coarse.rings = 10; // every 16 cm, on a tube of 10 cm radius
        const auto all = inspect(subjectOf(tube(coarse)));
        const CheckFinding* f = find(all, "too few edge loops");
        QVERIFY(f && f->joint == 1);
        QVERIFY2(std::abs(f->value - 0.2 / 0.16) < 0.05, qPrintable(QString::number(f->value)));
        TubeSpec enough;
        enough.rings = 32; // every 5 cm: four
        QVERIFY(!find(inspect(subjectOf(tube(enough))), "too few edge loops"));
        IntakeLimits strict;
        strict.loops[Role::Elbow] = 5;
        QVERIFY(find(inspect(subjectOf(tube(enough)), strict), "too few edge loops"));
    }

    // A tube whose rings are tilted: their planes lie off an axis by the angle they are tilted about the
    // other.
    void loopsAskew() {
        const auto tilted = [](double alongX, double alongZ) {
            TubeSpec spec;
            spec.sides = 48;
            spec.rings = 244; // about as long as wide
            Character c = tube(spec);
            for (Vec3& p : c.neutral)
                p.y() += static_cast<float>(std::tan(radians(alongX)) * static_cast<double>(p.x()) +
                                            std::tan(radians(alongZ)) * static_cast<double>(p.z()));
            c.bindPosition = c.neutral;
            return subjectOf(c);
        };
        QVERIFY(degreesAskew(EdgeFlow(tilted(0, 0)).ringsAt(1), Vec3d::UnitX()) < 0.01);
        for (double off : {5., 15., 30., 45.}) {
            const auto rings = EdgeFlow(tilted(off, 0)).ringsAt(1);
            QVERIFY(!rings.empty());
            QVERIFY(std::abs(degreesAskew(rings, Vec3d::UnitX()) - off) < 0.05);
            QVERIFY(degreesAskew(rings, Vec3d::UnitZ()) < 0.05);
        }
        QVERIFY(EdgeFlow(tilted(80, 0)).ringsAt(1).empty()); // these are no rings of this limb
        const auto all = inspect(tilted(35, 35));            // whichever of the two it bends about
        const CheckFinding* f = find(all, "edge loops askew of the bend");
        QVERIFY(f && f->joint == 1 && f->value > 15);
        QVERIFY(!find(inspect(tilted(10, 0)), "edge loops askew of the bend"));
        QVERIFY(!find(inspect(tilted(0, 10)), "edge loops askew of the bend"));
        // turned and moved as a whole they are what they were
        const Subject straight = tilted(30, 0);
        Character c = *straight.character;
        const Eigen::AngleAxisf turn(0.7f, Vec3(1, 2, 3).normalized());
        for (Vec3& p : c.neutral)
            p = turn * p + Vec3(1, 2, 3);
        c.bindPosition = c.neutral;
        for (Transform& t : c.skeleton.neutralWorld)
            t = Transform(Eigen::Translation3d(1, 2, 3) * turn.cast<double>()) * t;
        const Vec3d axis = turn.cast<double>() * Vec3d::UnitX();
        QVERIFY(std::abs(degreesAskew(EdgeFlow(subjectOf(c)).ringsAt(1), axis) - 30) < 0.05);
    }

    void unmerged() {
        // the tube cut along one ring: the upper half gets vertices of its own, a hair off
        Character c = tube();
        const std::uint32_t first = 64 * 64, n = static_cast<std::uint32_t>(c.vertexCount());
        auto w = weightsOf(c);
        for (std::uint32_t k = 0; k < 64; ++k) {
            c.neutral.push_back(c.neutral[first + k] + Vec3(0, 2e-5f, 0));
            w.push_back(w[first + k]);
        }
        c.colour.resize(c.neutral.size(), Vec3::Ones());
        const float cut = c.neutral[first].y();
        for (Triangle& t : c.triangles) {
            bool above = false;
            for (std::uint32_t v : t)
                above |= v < n && c.neutral[v].y() > cut + 1e-3f;
            if (above)
                for (std::uint32_t& v : t)
                    if (v >= first && v < first + 64)
                        v = n + (v - first);
        }
        c.parts[0].vertexCount = n + 64;
        c.bindPosition = c.neutral;
        finish(c, w);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "unmerged vertices");
        QVERIFY(f);
        QCOMPARE(f->vertices[0].second.size(), std::size_t(128));
    }

    void holesAndFlatTriangles() {
        Character c = badger();
        std::uint32_t removed = 0; // two triangles of the back of the body
        for (std::uint32_t t = c.parts[0].firstTriangle;
             t < c.parts[0].firstTriangle + c.parts[0].triangleCount; ++t)
            if (t % 997 == 5 && removed < 1) {
                c.triangles[t][1] = c.triangles[t][0];
                ++removed;
            }
        const auto all = inspect(subjectOf(c));
        const CheckFinding* flat = find(all, "zero-area triangles");
        QVERIFY(flat && flat->part == 0 && flat->value == 1);
        const CheckFinding* hole = find(all, "hole");
        QVERIFY(hole && hole->part == 0 && hole->value == 3);
    }

    void boundToNothingAndLoose() {
        Character c = badger();
        auto w = weightsOf(c);
        const Part& last = c.parts.back();
        for (std::uint32_t v = last.firstVertex; v < last.firstVertex + last.vertexCount; ++v)
            w[v].clear();
        const std::uint32_t lone = c.parts[0].firstVertex + 17;
        w[lone].clear();
        setWeights(c, w);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* part = find(all, "part bound to nothing");
        QVERIFY(part && part->part == static_cast<int>(c.parts.size()) - 1 && part->severity == 4);
        const CheckFinding* vertices = find(all, "vertices with no weight");
        QVERIFY(vertices && vertices->part == 0 && vertices->vertices[0].second.size() == 1);
        QVERIFY(vertices->sentence.find("One vertex") == 0);
    }

    void scoreGoesDownWithWhatIsWrong() {
        CheckFindings some;
        QCOMPARE(intakeScore(some), 100);
        some.push_back({.check = "a", .severity = 3, .sentence = {}, .advice = {}});
        QCOMPARE(intakeScore(some), 90);
        for (int i = 0; i < 30; ++i)
            some.push_back({.check = "a", .severity = 3, .sentence = {}, .advice = {}});
        QCOMPARE(intakeScore(some), 80); // one check in many places is one fault
        for (const char* check : {"b", "c", "d"})
            some.push_back({.check = check, .severity = 4, .sentence = {}, .advice = {}});
        QCOMPARE(intakeScore(some), 5);
    }

    void canBeStopped() {
        std::atomic<bool> cancel{true};
        QVERIFY(inspect(subjectOf(badger()), {}, {&cancel, {}}).empty());
    }

    void cleanPasses() {
        const CheckFindings all = inspect(subjectOf(tube()));
        QVERIFY2(all.empty(), all.empty() ? "" : all[0].sentence.c_str());
    }

    void sums() {
        Character c = tube();
        c.weights.fileSum[100] = 0.8f;
        c.weights.fileSum[101] = 1.3f;
        const Subject s = subjectOf(c);
        const auto all = inspect(s);
        const CheckFinding* f = find(all, "weights that do not sum to 1");
        QVERIFY(f && f->vertices.size() == 1);
        QCOMPARE(f->vertices[0].second, (std::vector<std::uint32_t>{100, 101}));
        QVERIFY(std::abs(f->value - 0.3) < 1e-6);
    }

    void manyAndNegligible() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm.L", 0, {0, 0, 0}},
                                 {"hand.L", 1, {0, .3, 0}},
                                 {"finger.L", 2, {0, .4, 0}},
                                 {"neck", 0, {0, .5, 0}},
                                 {"head", 4, {0, .6, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            weights.push_back({{0, 0.5}, {1, 0.5}});
            if (v < 40)
                weights.back() = {{0, 0.4}, {1, 0.3}, {2, 0.1}, {3, 0.1}, {4, 0.05}, {5, 0.05}};
            else if (v < 600)
                weights.back() = {{0, 0.5}, {1, 0.499}, {5, 0.001}};
        }
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* many = find(all, "too many influences");
        QVERIFY(many && many->value == 6 && many->vertices[0].second.size() == 40);
        const CheckFinding* dust = find(all, "negligible weights");
        QVERIFY(dust && dust->vertices[0].second.size() == 560);
    }

    void endsAndIdleJoints() {
        Character c = tube();
        c.skeleton = skeletonOf({{"upper_arm.L", -1, {0, -0.8, 0}},
                                 {"forearm.L", 0, {0, 0, 0}},
                                 {"hand.L", 1, {0, .4, 0}},
                                 {"hand_end.L", 2, {0, .7, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Vec3& p : c.neutral)
            weights.push_back(p.y() > 0.6f ? std::vector<std::pair<int, double>>{{1, 0.4}, {3, 0.6}}
                                           : std::vector<std::pair<int, double>>{{p.y() > 0 ? 1 : 0, 1.0}});
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        QVERIFY(find(all, "weights on an end joint") && find(all, "weights on an end joint")->joint == 3);
        QVERIFY(find(all, "joint with no weight") && find(all, "joint with no weight")->joint == 2);
    }

    void crackingSeam() {
        Character c = tube();
        // A second copy of one vertex, weighted otherwise, holds one of its triangles.
        const std::uint32_t v = 64 * 64 + 3, n = static_cast<std::uint32_t>(c.vertexCount());
        c.neutral.push_back(c.neutral[v]);
        c.colour.resize(c.neutral.size(), Vec3::Ones());
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (std::uint32_t i = 0; i < n; ++i) {
            weights.emplace_back();
            for (std::uint32_t k = c.weights.first[i]; k < c.weights.first[i + 1]; ++k)
                weights.back().push_back({c.weights.joint[k], c.weights.weight[k]});
        }
        weights.push_back({{0, 1.0}});
        for (Triangle& t : c.triangles)
            if (auto at = std::find(t.begin(), t.end(), v); at != t.end()) {
                *at = n;
                break;
            }
        c.parts[0].vertexCount = n + 1;
        c.bindPosition = c.neutral;
        finish(c, weights);
        const auto all = inspect(subjectOf(c));
        const CheckFinding* f = find(all, "seam that cracks");
        QVERIFY(f);
        QCOMPARE(f->vertices[0].second, (std::vector<std::uint32_t>{v, n}));
    }

    void scales() {
        Character c = tube();
        c.skeleton.neutralLocal[0].linear() *= 100;
        const auto all = inspect(subjectOf(c));
        QVERIFY(find(all, "transforms not applied") && find(all, "transforms not applied")->joint == 0);
    }
};

HOBBLE_TEST(TestIntake)
#include "test_intake.moc"
