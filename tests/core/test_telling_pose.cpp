// The pose in which what Intake found shows, against the whole character deformed in every pose of the plan.
#include "core/deform/deformer.h"
#include "core/intake/check.h"
#include "core/intake/telling_pose.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

#include <algorithm>
#include <set>

using namespace hobble;
using namespace hobble::test;

class TestTellingPose : public QObject {
    Q_OBJECT

    Character badger_;
    Plan plan_;

    // Some skin of one joint goes with another.
    static Character bled(const Character& from, const char* skinOf, const char* to, float share,
                          std::vector<std::uint32_t>& marked) {
        Character c = from;
        const int own = c.skeleton.find(skinOf), other = c.skeleton.find(to);
        const SkinWeights& was = from.weights;
        SkinWeights now;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            const bool bleeds = marked.size() < 25 && was.first[v + 1] > was.first[v] &&
                                was.joint[was.first[v]] == own && was.weight[was.first[v]] > 0.5f;
            if (bleeds)
                marked.push_back(v);
            if (bleeds) {
                now.joint.push_back(static_cast<std::uint16_t>(other));
                now.weight.push_back(share);
            }
            for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i) {
                now.joint.push_back(was.joint[i]);
                now.weight.push_back(bleeds ? was.weight[i] * (1 - share) : was.weight[i]);
            }
            now.first.push_back(static_cast<std::uint32_t>(now.joint.size()));
            now.fileSum.push_back(1);
        }
        c.weights = now;
        return c;
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        plan_ = fullPlan(badger_, subjectOf(badger_).roles);
    }

    void asTheWholeCharacterShowsIt_data() {
        QTest::addColumn<QByteArray>("skinOf");
        QTest::addColumn<QByteArray>("to");
        QTest::newRow("shin to the other hand") << QByteArray("shin.L") << QByteArray("hand.R");
        QTest::newRow("chest to the head") << QByteArray("chest") << QByteArray("head");
        QTest::newRow("forearm to the upper arm") << QByteArray("forearm.R") << QByteArray("upper_arm.R");
    }
    void asTheWholeCharacterShowsIt() {
        QFETCH(QByteArray, skinOf);
        QFETCH(QByteArray, to);
        std::vector<std::uint32_t> marked;
        const Character c = bled(badger_, skinOf.constData(), to.constData(), 0.6f, marked);
        QCOMPARE(marked.size(), std::size_t(25));
        const Subject s = subjectOf(c);
        const auto told = tellingPose(s, plan_, marked, -1);
        QVERIFY(told);
        // slowly: everything is deformed, and triangles with a marked corner are looked at
        const std::set<std::uint32_t> in(marked.begin(), marked.end());
        double most = 0, chosen = 0;
        for (std::size_t m = 0; m < plan_.motions.size(); ++m) {
            std::vector<Vec3> posed;
            deform(c, poseAt(c.skeleton, plan_.motions[m], plan_.motions[m].limit()), Skinning::Linear,
                   posed);
            double sum = 0;
            std::size_t n = 0;
            for (const Triangle& t : c.triangles)
                for (int k = 0; k < 3; ++k) {
                    const std::uint32_t a = t[k], b = t[(k + 1) % 3];
                    if (!in.contains(a) && !in.contains(b))
                        continue;
                    const double was = (c.neutral[a] - c.neutral[b]).norm();
                    sum += std::pow((posed[a] - posed[b]).norm() - was, 2);
                    ++n;
                }
            const double shows = std::sqrt(sum / static_cast<double>(n)) / s.body.height;
            most = std::max(most, shows);
            if (static_cast<int>(m) == told->motion)
                chosen = shows;
        }
        QVERIFY2(chosen > 0.6 * most && most > 0.01,
                 qPrintable(QStringLiteral("%1 of %2").arg(chosen).arg(most)));
        QVERIFY(std::abs(told->shows - chosen) < 0.35 * chosen);
    }

    // Nothing bound is nobody's neighbour: the nearest skin goes away from it.
    void aPartThatStaysBehind() {
        Character c = badger_;
        std::vector<std::uint32_t> marked;
        const auto cap =
            std::find_if(c.parts.begin(), c.parts.end(), [](const Part& p) { return p.name == "cap"; });
        QVERIFY(cap != c.parts.end());
        SkinWeights now;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v) {
            const bool in = v >= cap->firstVertex && v < cap->firstVertex + cap->vertexCount;
            if (in)
                marked.push_back(v);
            for (std::uint32_t i = badger_.weights.first[v]; !in && i < badger_.weights.first[v + 1]; ++i) {
                now.joint.push_back(badger_.weights.joint[i]);
                now.weight.push_back(badger_.weights.weight[i]);
            }
            now.first.push_back(static_cast<std::uint32_t>(now.joint.size()));
            now.fileSum.push_back(in ? 0.f : 1.f);
        }
        c.weights = now;
        const Subject s = subjectOf(c);
        const auto told = tellingPose(s, plan_, marked, -1);
        QVERIFY(told && told->shows > 0.02);
        std::vector<Vec3> posed;
        const Motion& m = plan_.motions[static_cast<std::size_t>(told->motion)];
        deform(c, poseAt(c.skeleton, m, m.limit()), Skinning::Linear, posed);
        for (std::uint32_t v : marked)
            QVERIFY((posed[v] - c.neutral[v]).norm() < 1e-5f);
        const int head = c.skeleton.find("head");
        const Driven driven = drive(c, poseAt(c.skeleton, m, m.limit()));
        QVERIFY((driven.world[static_cast<std::size_t>(head)].translation() -
                 c.skeleton.neutralWorld[static_cast<std::size_t>(head)].translation())
                    .norm() > 0.02 * s.body.height); // the head has left it
    }

    void onlyAJoint() {
        const Subject s = subjectOf(badger_);
        const int elbow = badger_.skeleton.find("forearm.L");
        const auto told = tellingPose(s, plan_, {}, elbow);
        QVERIFY(told);
        QCOMPARE(plan_.motions[static_cast<std::size_t>(told->motion)].id, std::string("left-elbow-flex"));
        QCOMPARE(told->shows, 0.0);
        QVERIFY(!tellingPose(s, plan_, {}, -1));
        QVERIFY(!tellingPose(s, Plan{}, {0, 1, 2}, elbow));
        QVERIFY(!tellingPose(s, plan_, {4000000000u}, -1)); // of another build
        std::atomic<bool> stop = true;
        QVERIFY(!tellingPose(s, plan_, {0, 1, 2}, elbow, {&stop, {}}));
    }

    // Skin that is well bound shows nothing worth a picture of its own: the joint decides.
    void soundSkin() {
        const Subject s = subjectOf(badger_);
        const auto cap = std::find_if(badger_.parts.begin(), badger_.parts.end(),
                                      [](const Part& p) { return p.name == "cap"; });
        std::vector<std::uint32_t> marked;
        for (std::uint32_t v = cap->firstVertex; v < cap->firstVertex + cap->vertexCount; ++v)
            marked.push_back(v);
        const auto told = tellingPose(s, plan_, marked, badger_.skeleton.find("forearm.R"));
        QVERIFY(told && told->shows == 0);
    }
};

HOBBLE_TEST(TestTellingPose)
#include "test_telling_pose.moc"
