// The other side as a witness, and what speaks for a cause, in numbers known beforehand.
#include "core/judge/evidence.h"
#include "core/judge/mirror.h"
#include "support/arms.h"
#include "support/suite.h"

#include <set>

using namespace hobble;
using namespace hobble::test;

namespace {

Finding marked(const Subject& s, int joint, const std::function<bool(const Vec3&)>& where) {
    Finding f;
    f.joint = joint;
    f.side = s.roles[std::size_t(joint)].side;
    for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t) {
        const auto& [a, b, c] = s.surface.triangles[t];
        if (where((s.neutral[a] + s.neutral[b] + s.neutral[c]) / 3))
            f.triangles.push_back(t);
    }
    markSkin(s, f);
    return f;
}

} // namespace

class TestMirrorAndEvidence : public QObject {
    Q_OBJECT

private slots:
    // Every vertex has the one at its mirrored place, and is that one's.
    void twinsAreMutual() {
        const Subject s = subjectOf(arms());
        const MirrorTwins twins = mirrorTwins(s);
        QCOMPARE(twins.twin.size(), s.surface.vertexCount());
        for (std::uint32_t v = 0; v < twins.twin.size(); ++v) {
            QVERIFY(twins.twin[v] != MirrorTwins::kNone);
            QCOMPARE(twins.twin[twins.twin[v]], v);
            const Vec3 a = s.neutral[v], b = s.neutral[twins.twin[v]];
            QVERIFY((a.cwiseProduct(Vec3(-1, 1, 1)) - b).norm() < 1e-4f);
        }
        // a lone arm has no other side
        QVERIFY(mirrorTwins(subjectOf(tube())).twin.empty());
    }

    void nothingDiffersOnAPair() {
        const Subject s = subjectOf(arms());
        const Finding f = marked(s, 2, [](const Vec3& p) { return p.x() > 0 && std::abs(p.y()) < 0.2f; });
        const SideDifference d = sideDifference(s, mirrorTwins(s), f);
        QVERIFY(d.skin < 1e-6 && d.mean < 1e-6);
        QVERIFY(offMirror(s, 2) < 1e-6 && offMirror(s, 5) < 1e-6);
        QCOMPARE(offMirror(s, 0), 0.0); // the chest has none
    }

    // Left passes over in a tenth of the space: harder; and the other way about from the right.
    void harderThanTheOther() {
        const Subject s =
            subjectOf(arms({.weights = [](const ArmVertex& v) { return plainArm(v, v.left ? 0.03 : 0.3); }}));
        const auto near = [](float side) {
            return [side](const Vec3& p) { return side * p.x() > 0 && std::abs(p.y()) < 0.3f; };
        };
        const MirrorTwins twins = mirrorTwins(s);
        const SideDifference left = sideDifference(s, twins, marked(s, 2, near(1)));
        QCOMPARE(left.joint, 2);
        QVERIFY(left.mean > 0.1);
        QVERIFY2(left.harder > 0.15, qPrintable(QString::number(left.harder)));
        const SideDifference right = sideDifference(s, twins, marked(s, 5, near(-1)));
        QVERIFY(right.harder < -0.15);
        QVERIFY(std::abs(left.mean - right.mean) < 1e-6);
    }

    void followsLessThanTheOther() {
        const Subject s = subjectOf(arms({.weights = [](const ArmVertex& v) -> Influences {
            if (v.left && v.at.y() > 0.2)
                return {{v.upper, 0.4}, {v.fore, 0.6}};
            return plainArm(v);
        }}));
        const SideDifference d = sideDifference(
            s, mirrorTwins(s), marked(s, 2, [](const Vec3& p) { return p.x() > 0 && p.y() > 0.3f; }));
        QCOMPARE(d.joint, 2);
        QVERIFY2(std::abs(d.mean - 0.4) < 0.05, qPrintable(QString::number(d.mean)));
        QVERIFY(d.less > 0.85);
    }

    void pivotsOffTheirMirror() {
        const Subject s = subjectOf(arms({.leftElbowOff = Vec3d(0.03, 0, 0.04)}));
        QVERIFY(std::abs(offMirror(s, 2) - 0.5) < 0.05); // 0.05 of a radius of 0.1
        QVERIFY(std::abs(offMirror(s, 5) - 0.5) < 0.05);
    }

    // A linear ramp of half width h: B = 4C(1 − C) spreads by h/√5, so the width told is 2√3 times that.
    void theWidthOfABlend() {
        for (double half : {0.1, 0.2, 0.3}) {
            const Subject s = subjectOf(
                arms({.rings = 128, .weights = [half](const ArmVertex& v) { return plainArm(v, half); }}));
            const BlendShape b = blendShape(s, 2);
            QVERIFY(b.known);
            const double expected = 2 * std::sqrt(3.0) * half / std::sqrt(5.0) / 0.1;
            QVERIFY2(std::abs(b.width - expected) < 0.06 * expected,
                     qPrintable(QStringLiteral("%1 %2").arg(b.width).arg(expected)));
            QVERIFY2(std::abs(b.perEdge - 1.6 / 128 / (2 * half)) < 0.01,
                     qPrintable(QString::number(b.perEdge)));
            QVERIFY(std::abs(b.edge - 1) < 0.05); // as long as the limb's others
            QVERIFY(b.offCentre < 0.05);
        }
    }

    // Half of a patch's weight is held back: so much less it follows than the ring it lies in.
    void heldBackBySoMuch() {
        for (double held : {0.0, 0.3, 0.6}) {
            const Subject s = subjectOf(arms({.weights = [held](const ArmVertex& v) -> Influences {
                if (v.left && v.at.y() > 0.12 && v.at.y() < 0.2 && v.at.z() > 0.06)
                    return {{v.upper, held + (1 - held) * (1 - std::clamp((v.at.y() + 0.2) / 0.4, 0.0, 1.0))},
                            {v.fore, (1 - held) * std::clamp((v.at.y() + 0.2) / 0.4, 0.0, 1.0)}};
                return plainArm(v);
            }}));
            const Finding f = marked(s, 2, [](const Vec3& p) {
                return p.x() > 0 && p.y() > 0.12f && p.y() < 0.2f && p.z() > 0.06f;
            });
            QVERIFY(!f.triangles.empty());
            const double told = heldBack(s, f);
            QVERIFY2(std::abs(told - 0.9 * held) < 0.12,
                     qPrintable(QStringLiteral("%1 %2").arg(held).arg(told)));
        }
    }

    void noGarmentNoDifference() {
        const Subject s = subjectOf(arms());
        QCOMPARE(garmentDifference(s, marked(s, 2, [](const Vec3& p) { return p.x() > 0; })), -1.0);
    }
};

HOBBLE_TEST(TestMirrorAndEvidence)
#include "test_mirror_and_evidence.moc"
