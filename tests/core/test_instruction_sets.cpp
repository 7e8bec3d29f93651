// Every vector instruction set the machine has gives what the plain versions give, and the same findings.
#include "core/deform/deformer.h"
#include "core/instruction_set.h"
#include "core/measure/contact_vector.h"
#include "core/measure/region.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestInstructionSets : public QObject {
    Q_OBJECT

    Subject badger_;
    Pose pose_;

    static void eachSet(const std::function<void(const std::string&)>& does) {
        for (const std::string& name : instructionSets()) {
            useInstructionSet(name);
            QCOMPARE(QString::fromStdString(instructionSet()), QString::fromStdString(name));
            does(name);
        }
        useInstructionSet("");
    }

    std::vector<Vec3> posed() const {
        std::vector<Vec3> out;
        deform(*badger_.character, pose_, Skinning::Linear, out);
        return weldedPositions(badger_.surface, out);
    }

private slots:
    void initTestCase() {
        badger_ = subjectOf(*readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb"));
        pose_ = Pose::neutral(badger_.character->skeleton);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> angle(-40, 40);
        for (Quat& q : pose_.turn)
            q = turnXyz(angle(random), angle(random), angle(random));
    }

    void cleanup() { useInstructionSet(""); }

    void theWidestIsUsedAndThereIsAPlainOne() {
        QVERIFY(!instructionSets().empty());
        QCOMPARE(QString::fromStdString(instructionSet()), QString::fromStdString(instructionSets().front()));
    }

    void skinning() {
        // All there can be: none, one, four, nine influences, in an odd number of vertices.
        Character c = tube({.sides = 7, .rings = 11});
        c.skeleton = skeletonOf({{"a", -1, {0, 0, 0}},
                                 {"b", 0, {0, .1, 0}},
                                 {"c", 1, {0, .2, 0}},
                                 {"d", 2, {0, .3, 0}},
                                 {"e", 3, {0, .4, 0}},
                                 {"f", 4, {0, .5, 0}},
                                 {"g", 5, {0, .6, 0}},
                                 {"h", 6, {0, .7, 0}},
                                 {"i", 7, {0, .8, 0}}});
        std::vector<std::vector<std::pair<int, double>>> weights(c.neutral.size());
        for (std::size_t v = 0; v < weights.size(); ++v)
            for (int k = 0, n = static_cast<int>(v % 10); k < n; ++k)
                weights[v].push_back({(k + static_cast<int>(v)) % 9, 1.0 / n});
        finish(c, weights);
        Pose pose = Pose::neutral(c.skeleton);
        for (std::size_t j = 0; j < pose.turn.size(); ++j)
            pose.turn[j] = turnXyz(10. * j, 17. * j, -23. * j);
        const auto world = drive(c, pose).world;
        std::vector<Vec3> plain, normals(c.neutral.size(), Vec3(0.6f, 0, 0.8f)), turned;
        deformLinearPlain(c, world, c.bindPosition, plain);
        const WeightLanes lanes = weightLanes(c.weights);
        eachSet([&](const std::string& name) {
            std::vector<Vec3> out, alone;
            deformLinear(c, lanes, world, c.bindPosition, out, &normals, &turned);
            deformLinear(c, lanes, world, c.bindPosition, alone);
            std::vector<Vec3> tip(out.size()), tipPlain; // a normal is what a second point tells
            for (std::size_t v = 0; v < out.size(); ++v)
                tip[v] = c.bindPosition[v] + normals[v];
            deformLinearPlain(c, world, tip, tipPlain);
            for (std::size_t v = 0; v < out.size(); ++v) {
                QVERIFY2((out[v] - plain[v]).norm() < 1e-5f, name.c_str());
                QVERIFY2((alone[v] - plain[v]).norm() < 1e-5f, name.c_str());
                const Vec3 expected = v % 10 ? Vec3(tipPlain[v] - plain[v]) : normals[v];
                QVERIFY2((turned[v] - expected).norm() < 1e-5f, name.c_str());
            }
        });
    }

    void strainOfEveryTriangle() {
        const auto p = posed();
        const Surface& f = badger_.surface;
        eachSet([&](const std::string& name) {
            std::vector<Strain> out;
            strains(f.triangles, badger_.rest, p, out);
            QCOMPARE(out.size(), f.triangles.size());
            for (std::size_t t = 0; t < out.size(); ++t) {
                const Strain plain = strainOf(badger_.rest[t], p[f.triangles[t][0]], p[f.triangles[t][1]],
                                              p[f.triangles[t][2]]);
                QVERIFY2(std::abs(out[t].stretch - plain.stretch) < 1e-4f * plain.stretch, name.c_str());
                QVERIFY2(std::abs(out[t].squash - plain.squash) < 1e-4f * std::max(1.f, plain.squash),
                         name.c_str());
            }
        });
    }

    void roughnessOfEveryVertex() {
        Motion everything;
        everything.steps = {0, 1, 0};
        for (int j = 0; j < badger_.character->skeleton.size(); ++j)
            if (!badger_.zones[j].empty())
                everything.turns.push_back({j, Vec3d::UnitX(), 1});
        const MotionRegion region = motionRegion(badger_, everything);
        const RingLanes lanes = ringLanes(badger_, region);
        QVERIFY(lanes.place.size() > region.vertices.size() / 2); // most of the skin is whole
        QVERIFY(!lanes.others.empty());                           // and garments have borders
        const auto p = posed();
        Roughness plain;
        roughness(badger_, region, p, plain);
        eachSet([&](const std::string& name) {
            Roughness out;
            roughness(badger_, region, lanes, p, out);
            for (std::size_t i = 0; i < plain.value.size(); ++i) {
                QVERIFY2(std::abs(out.value[i] - plain.value[i]) < 2e-3f * (1 + plain.value[i]),
                         name.c_str());
                QVERIFY2((out.rotation[i] - plain.rotation[i]).norm() < 5e-3f, name.c_str());
            }
        });
    }

    void facing() {
        const auto p = posed();
        const auto& triangles = badger_.contact->corners;
        eachSet([&](const std::string& name) {
            std::vector<Facing> out(triangles.size());
            facings(triangles, 0, triangles.size(), p, out);
            for (std::size_t t = 0; t < triangles.size(); ++t) {
                const auto& [a, b, c] = triangles[t];
                const Vec3 n = (p[b] - p[a]).cross(p[c] - p[a]);
                for (int axis = 0; axis < 3; ++axis) {
                    if (std::abs(n[axis]) > 1e-3f * n.norm()) {
                        QVERIFY2(((out[t] >> axis) & 1) == (n[axis] > 0), name.c_str());
                        QVERIFY2(((out[t] >> (axis + 13)) & 1) == (n[axis] < 0), name.c_str());
                    }
                }
                QCOMPARE(out[t] & (out[t] >> 13) & 0x1fffu, 0u); // never with and against
            }
        });
    }

    void findings() {
        Plan plan = defaultPlan(*badger_.character, badger_.roles);
        plan.motions.resize(12);
        std::vector<Finding> first;
        eachSet([&](const std::string& name) {
            const RunResult r = runPlan(badger_, plan);
            if (first.empty())
                first = r.findings;
            QCOMPARE(r.findings.size(), first.size());
            for (std::size_t i = 0; i < first.size(); ++i) {
                QVERIFY2(r.findings[i].kind == first[i].kind && r.findings[i].joint == first[i].joint &&
                             r.findings[i].severity == first[i].severity,
                         name.c_str());
                QVERIFY2(std::abs(r.findings[i].peakValue - first[i].peakValue) <
                             1e-3 * (1 + first[i].peakValue),
                         name.c_str());
            }
        });
    }
};

HOBBLE_TEST(TestInstructionSets)
#include "test_instruction_sets.moc"
