// The skin of one build found on another: in another order, subdivided, decimated, with a garment gone,
// moved, in other units; on the other side; on another character.
#include "builds.h"
#include "core/compare/pairing.h"
#include "core/deform/deformer.h"
#include "io/character_read.h"
#include "remesh.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::demo;

namespace {

Subject subjectFrom(Character c) { return prepareSubject(std::make_shared<const Character>(std::move(c))); }

// Where a place is in the other's neutral.
Vec3 pointOf(const SkinPlace& p, const Subject& other) {
    const Triangle& f = other.surface.triangles[p.triangle];
    return p.share[0] * other.neutral[f[0]] + p.share[1] * other.neutral[f[1]] +
           p.share[2] * other.neutral[f[2]];
}

// Share of a's vertices that are found within `near` metres of themselves.
double foundWithin(const Pairing& p, const Subject& a, const Subject& b, double near) {
    std::size_t right = 0;
    for (std::size_t v = 0; v < a.neutral.size(); ++v)
        right += p.place[v].there() && (pointOf(p.place[v], b) - a.neutral[v]).norm() <= near;
    return static_cast<double>(right) / static_cast<double>(a.neutral.size());
}

} // namespace

class TestPairing : public QObject {
    Q_OBJECT

    Character clean_;
    Subject badger_;

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        clean_ = std::move(*c);
        badger_ = subjectFrom(clean_);
    }

    void anotherOrderIsFoundExactly() {
        const Subject other = subjectFrom(shuffled(clean_, 7));
        const Pairing p = pairSkin(badger_, other);
        QVERIFY(p.sameMesh);
        QCOMPARE(p.found, 1.0);
        for (std::uint32_t v = 0; v < badger_.neutral.size(); ++v) {
            const std::uint32_t twin = twinOf(p, other, v);
            QVERIFY(twin != SkinPlace::kNone);
            QCOMPARE(other.neutral[twin], badger_.neutral[v]);
            QCOMPARE(other.character
                         ->parts[static_cast<std::size_t>(
                             other.character->partOfVertex(other.surface.representative(twin)))]
                         .name,
                     badger_.character
                         ->parts[static_cast<std::size_t>(
                             badger_.character->partOfVertex(badger_.surface.representative(v)))]
                         .name);
        }
    }

    void otherWeightsChangeNoPlace() { // what a build changes most often
        auto recipes = readRecipes(HOBBLE_DEMO_DIR "/../recipes/story.json");
        QVERIFY(recipes);
        auto third = storyBuild(clean_, recipes->back());
        QVERIFY2(third, third ? "" : third.error().c_str());
        const Subject other = subjectFrom(*third);
        const Pairing p = pairSkin(badger_, other);
        QCOMPARE(p.found, 1.0);
        QCOMPARE(foundWithin(p, badger_, other, 1e-6), 1.0);
    }

    void subdividedAndDecimated() {
        for (const auto& [other, least] : {std::pair(subjectFrom(subdivided(clean_)), 0.999),
                                           std::pair(subjectFrom(decimated(clean_, 0.5)), 0.97)})
            for (const bool back : {false, true}) {
                const Subject &a = back ? other : badger_, &b = back ? badger_ : other;
                const Pairing p = pairSkin(a, b);
                QVERIFY(!p.sameMesh);
                const double share = foundWithin(p, a, b, 0.002 * badger_.body.height);
                QVERIFY2(share >= least, qPrintable(QStringLiteral("%1 triangles on %2: %3, found %4")
                                                        .arg(a.surface.triangles.size())
                                                        .arg(b.surface.triangles.size())
                                                        .arg(share)
                                                        .arg(p.found)));
            }
    }

    void aGarmentGoneIsToldAndTheRestUnharmed() {
        const Subject bare = subjectFrom(without(clean_, "coat"));
        const Pairing p = pairSkin(badger_, bare);
        for (std::size_t part = 0; part < clean_.parts.size(); ++part)
            QCOMPARE(p.partOf[part] < 0, clean_.parts[part].name == "coat");
        for (std::uint32_t v = 0; v < badger_.neutral.size(); ++v) {
            const auto part =
                static_cast<std::size_t>(clean_.partOfVertex(badger_.surface.representative(v)));
            QCOMPARE(p.place[v].there(), clean_.parts[part].name != "coat");
            if (p.place[v].there())
                QVERIFY((pointOf(p.place[v], bare) - badger_.neutral[v]).norm() < 1e-6f);
        }
        const Pairing back = pairSkin(bare, badger_);
        QCOMPARE(back.found, 1.0);
        QCOMPARE(foundWithin(back, bare, badger_, 1e-6), 1.0);
    }

    void movedTurnedAndInOtherUnits() {
        Transform t = Transform::Identity();
        t.translate(Vec3d(3, -2, 1)).rotate(Eigen::AngleAxisd(1.1, Vec3d(1, 2, 3).normalized()));
        const Subject moved = subjectFrom(hobble::test::moved(clean_, t));
        const Pairing p = pairSkin(badger_, moved);
        QVERIFY(p.joints.sameBody);
        QVERIFY(std::abs(p.joints.scale - 1) < 1e-6);
        QVERIFY(p.sameMesh);
        Character large = clean_; // metres taken for centimetres
        for (Transform& joint : large.skeleton.neutralWorld)
            joint.translation() *= 100;
        for (Transform& joint : large.skeleton.neutralLocal)
            joint.translation() *= 100;
        for (Vec3& v : large.neutral)
            v *= 100;
        const Pairing q = pairSkin(badger_, subjectFrom(std::move(large)));
        QVERIFY(q.joints.sameBody);
        QVERIFY(std::abs(q.joints.scale - 100) < 1e-3);
        QVERIFY2(q.found > 0.999, qPrintable(QString::number(q.found)));
    }

    void theOtherSide() {
        const Pairing p = pairMirrored(badger_);
        const std::set<std::string> oneSided{"buttons", "strap",
                                             "satchel"}; // and told to have no counterpart
        for (std::size_t part = 0; part < clean_.parts.size(); ++part)
            QCOMPARE(p.partOf[part]<0, oneSided.count(clean_.parts[part].name)> 0);
        for (std::uint32_t v = 0; v < badger_.neutral.size(); ++v)
            QVERIFY(
                p.place[v].there() ||
                p.partOf[static_cast<std::size_t>(clean_.partOfVertex(badger_.surface.representative(v)))] <
                    0);
        double off = 0;
        std::size_t there = 0;
        for (std::uint32_t v = 0; v < badger_.neutral.size(); ++v)
            if (p.place[v].there()) {
                const Vec3d across = badger_.mirror.mirrored(badger_.neutral[v].cast<double>());
                off += (pointOf(p.place[v], badger_).cast<double>() - across).norm();
                ++there;
            }
        QVERIFY(off / static_cast<double>(there) < 0.002 * badger_.body.height);
        const int left = clean_.skeleton.find("forearm.L"), right = clean_.skeleton.find("forearm.R");
        QCOMPARE(p.joints.other[static_cast<std::size_t>(left)], right);
    }

    // Another body: an elbow lies on the elbow, by role, and a patch comes over to the limb it is of.
    void anotherCharacter() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/pack-goat.glb");
        QVERIFY(c);
        const Subject goat = subjectFrom(std::move(*c));
        const Pairing p = pairSkin(badger_, goat);
        QCOMPARE(p.by, PairedBy::Limbs);
        QVERIFY(!p.joints.strangers());
        std::size_t asked = 0, right = 0;
        for (std::uint32_t v = 0; v < badger_.neutral.size(); ++v) {
            const SkinWeights &w = badger_.surface.weights, &o = goat.surface.weights;
            if (w.first[v] == w.first[v + 1] || w.weight[w.first[v]] < 0.6f || !p.place[v].there())
                continue;
            const int joint = p.joints.other[w.joint[w.first[v]]];
            const Role role = badger_.roles[w.joint[w.first[v]]].role;
            if (joint < 0 || (role != Role::Elbow && role != Role::Knee && role != Role::Shoulder))
                continue;
            ++asked;
            const std::uint32_t twin = twinOf(p, goat, v);
            float held = 0;
            for (std::uint32_t i = o.first[twin]; i < o.first[twin + 1]; ++i)
                for (int j = o.joint[i]; j >= 0;
                     j = goat.character->skeleton.parent[static_cast<std::size_t>(j)])
                    if (j == joint) {
                        held += o.weight[i];
                        break;
                    }
            right += held > 0.3f;
        }
        QVERIFY(asked > 100);
        QVERIFY2(right > 0.85 * static_cast<double>(asked),
                 qPrintable(QStringLiteral("%1 of %2").arg(right).arg(asked)));
    }

    void whatIsNoBuildOfIt() {
        const Subject tube =
            hobble::test::subjectOf(hobble::test::tube({.rootName = "crate", .tipName = "hinge"}));
        QVERIFY(pairSkin(badger_, tube).joints.strangers());
        const Pairing p = pairSkin(tube, badger_); // comes back, whatever it finds
        QCOMPARE(p.place.size(), tube.neutral.size());
    }

    void stopped() {
        const std::atomic<bool> cancel{true};
        const Pairing p = pairSkin(badger_, badger_, Progress{&cancel, {}});
        QCOMPARE(p.place.size(), badger_.neutral.size());
        QVERIFY(!p.sameMesh);
    }

    // A patch laid over to a finer and a coarser mesh covers the same skin.
    void patchesComeOver() {
        const int elbow = clean_.skeleton.find("forearm.R");
        const auto& patch = badger_.zones[static_cast<std::size_t>(elbow)].triangles;
        double area = 0;
        for (std::uint32_t t : patch)
            area += badger_.surface.area[t];
        for (const Subject& other : {subjectFrom(subdivided(clean_)), subjectFrom(decimated(clean_, 0.5))}) {
            double over = 0;
            for (std::uint32_t t : carriedOver(pairSkin(other, badger_), other, patch))
                over += other.surface.area[t];
            QVERIFY2(std::abs(over - area) < 0.08 * area, qPrintable(QString::number(over / area)));
        }
    }
};

HOBBLE_TEST(TestPairing)
#include "test_pairing.moc"
