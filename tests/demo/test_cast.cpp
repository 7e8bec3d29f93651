// The shipped cast: complete, clean, within its size, and the same on both sides.
#include "core/pose/clip_pose.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"

#include <QFileInfo>
#include <QTest>
#include <algorithm>

using namespace hobble;

class TestCast : public QObject {
    Q_OBJECT

    static Character open(const std::string& name) {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/" + name + ".glb");
        if (!c)
            qFatal("%s", c.error().c_str());
        return std::move(*c);
    }

private slots:
    void clean_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("leastTriangles");
        QTest::newRow("badger") << "badger-postmaster" << 20000;
        QTest::newRow("goat") << "pack-goat" << 20000;
        QTest::newRow("newt") << "lighthouse-newt" << 20000;
    }

    // Nothing serious on a clean build, nothing left out by the reader, drivers and a clip aboard.
    void clean() {
        QFETCH(QString, name);
        QFETCH(int, leastTriangles);
        const Character c = open(name.toStdString());
        QVERIFY2(c.notes.empty(), c.notes.empty() ? "" : c.notes[0].c_str());
        QVERIFY(QFileInfo(QStringLiteral(HOBBLE_DEMO_DIR "/%1.glb").arg(name)).size() < 4 * 1000 * 1000);
        QVERIFY(static_cast<int>(c.parts[0].triangleCount) > leastTriangles &&
                c.parts[0].triangleCount < 30000);
        QVERIFY(!c.drivers.empty());
        QCOMPARE(c.clips.size(), std::size_t(1));
        std::uint32_t most = 0;
        for (std::size_t v = 0; v < c.vertexCount(); ++v)
            most = std::max(most, c.weights.first[v + 1] - c.weights.first[v]);
        QVERIFY(most <= 4);
        const Subject s = prepareSubject(std::make_shared<const Character>(c));
        const RunResult r = runPlan(s, defaultPlan(c, s.roles));
        for (const Finding& f : r.findings)
            QVERIFY2(f.severity < 3, (c.skeleton.name[f.joint] + " " + nameOf(f.kind)).c_str());
    }

    // Rings run across every hinge: along the limb at least three edges lie within the blend.
    void atLeastThreeRings() {
        for (const char* name : {"badger-postmaster", "pack-goat"}) {
            const Subject s = prepareSubject(std::make_shared<const Character>(open(name)));
            for (std::size_t j = 0; j < s.roles.size(); ++j) {
                const Role r = s.roles[j].role;
                if (r != Role::Elbow && r != Role::Knee && r != Role::Wrist && r != Role::Ankle &&
                    r != Role::Finger)
                    continue;
                std::vector<double> along;
                for (std::uint32_t v : s.zones[j].blendVertices)
                    if (s.surface.shellOf[v] == s.zones[j].shell)
                        along.push_back(s.zones[j].axis.dot(s.neutral[v].cast<double>()));
                std::sort(along.begin(), along.end());
                int rings = along.empty() ? 0 : 1; // heights that stand apart
                double last = along.empty() ? 0 : along[0];
                for (double a : along)
                    if (a - last > 0.12 * s.zones[j].limbRadius) {
                        ++rings;
                        last = a;
                    }
                QVERIFY2(rings >= 3, (s.character->skeleton.name[j] + " " + std::to_string(rings)).c_str());
            }
        }
    }

    void evenSides() {
        const Character c = open("badger-postmaster");
        const Part& body = c.parts[0];
        std::size_t paired = 0;
        for (std::uint32_t v = body.firstVertex; v < body.firstVertex + body.vertexCount; v += 37) {
            const Vec3 image(-c.neutral[v].x(), c.neutral[v].y(), c.neutral[v].z());
            for (std::uint32_t o = body.firstVertex; o < body.firstVertex + body.vertexCount; ++o)
                if ((c.neutral[o] - image).norm() < 1e-6f) {
                    ++paired;
                    break;
                }
        }
        QCOMPARE(paired, std::size_t((body.vertexCount + 36) / 37));
    }

    // The clip goes beyond the plan on purpose, and comes back to neutral.
    void theClipGoesTooFar() {
        const Character c = open("badger-postmaster");
        const Clip& clip = c.clips[0];
        const auto roles = guessRoles(c);
        const Plan plan = defaultPlan(c, roles);
        double limit = 0;
        Vec3d axis = Vec3d::UnitX();
        for (const Motion& m : plan.motions)
            if (m.id == "left-knee-flex") {
                limit = m.limit();
                axis = m.turns[0].axis;
            }
        const int knee = c.skeleton.find("shin.L");
        double most = 0;
        for (double t = 0; t <= clip.seconds; t += 0.1)
            most = std::max(most, std::abs(turnAbout(poseAt(c, clip, t).turn[knee], axis)));
        QVERIFY2(most > limit + 10, qPrintable(QString::number(most)));
        for (double t : {0.0, clip.seconds})
            for (const Quat& q : poseAt(c, clip, t).turn)
                QVERIFY(q.angularDistance(Quat::Identity()) < 1e-3);
    }

    // Build 3 is told from build 2 by its faults, not by the order of its vertices.
    void buildThreeIsReordered() {
        auto three = readCharacter(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb");
        QVERIFY(three);
        const Character clean = open("badger-postmaster");
        QCOMPARE(three->vertexCount(), clean.vertexCount());
        std::size_t same = 0;
        for (std::size_t v = 0; v < clean.vertexCount(); ++v)
            same += (three->neutral[v] - clean.neutral[v]).norm() < 1e-6f;
        QVERIFY(same < clean.vertexCount() / 10);
    }
};

HOBBLE_TEST(TestCast)
#include "test_cast.moc"
