#include "core/deform/deformer.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

class TestZone : public QObject {
    Q_OBJECT

    static ZoneMeasures bent(const Subject& s, const Vec3d& axis, double degrees) {
        std::vector<Vec3> p;
        deform(*s.character, poseAt(s.character->skeleton, turnPlan(axis, {degrees}).motions[0], degrees),
               Skinning::Linear, p);
        return measureZone(s.surface, s.rest, s.zones[1], weldedPositions(s.surface, p));
    }

    static void compare(const ZoneMeasures& a, const ZoneMeasures& b, double within) {
        QVERIFY(std::abs(a.stretch - b.stretch) < within);
        QVERIFY(std::abs(a.squash - b.squash) < within);
        QVERIFY(std::abs(a.area - b.area) < within);
        QVERIFY(std::abs(*a.volume - *b.volume) < within);
        QVERIFY(std::abs(*a.pinch - *b.pinch) < within);
    }

private slots:
    void extent() {
        const Subject s = subjectOf(tube());
        const JointZone& z = s.zones[1];
        double lo = 0, hi = 0;
        for (std::uint32_t t : z.triangles)
            for (std::uint32_t v : s.surface.triangles[t]) {
                lo = std::min(lo, double(s.neutral[v].y()));
                hi = std::max(hi, double(s.neutral[v].y()));
            }
        // B ≥ 0.1 where C is in 0.0257 … 0.9743, so ±0.19; one radius more, less at most a ring
        QVERIFY(std::abs(hi - 0.29) < 0.02 && std::abs(lo + 0.29) < 0.02);
        QVERIFY(s.zones[0].empty()); // the root moves all alike
        QVERIFY(!s.zones[0].volumeUndefined.empty());
    }

    void openCloth() {
        // Half a tube: an open sheet, so the zone's border is partly the sheet's own.
        Character c = tube();
        std::vector<Triangle> kept;
        for (const Triangle& t : c.triangles)
            if (c.bindPosition[t[0]].x() >= 0 && c.bindPosition[t[1]].x() >= 0 &&
                c.bindPosition[t[2]].x() >= 0)
                kept.push_back(t);
        c.triangles = kept;
        c.parts[0].triangleCount = std::uint32_t(kept.size());
        const Subject s = subjectOf(c);
        QVERIFY(!s.zones[1].volume.has_value());
        QCOMPARE(QString::fromStdString(s.zones[1].volumeUndefined),
                 QStringLiteral("the surface is open here"));
        QVERIFY(!bent(s, Vec3d::UnitX(), 90).volume.has_value());
        QVERIFY(!bent(s, Vec3d::UnitX(), 90).pinch.has_value());
    }

    void openEndedSleeveHasVolume() {
        TubeSpec spec;
        spec.capped = false;
        const Subject s = subjectOf(tube(spec));
        QVERIFY(s.zones[1].volume.has_value());
        compare(bent(s, Vec3d::UnitX(), 90), bent(subjectOf(tube()), Vec3d::UnitX(), 90), 1e-6);
    }

    void rigidMotionChangesNothing() {
        const Character c = tube();
        const Transform far(Eigen::Translation3d(40, -7, 12) *
                            Eigen::AngleAxisd(2.1, Vec3d(1, 2, -1).normalized()));
        compare(bent(subjectOf(c), Vec3d(1, 0.2, 0), 110),
                bent(subjectOf(moved(c, far)), Vec3d(1, 0.2, 0), 110), 1e-3);
    }

    void mirroredInputGivesMirroredOutput() {
        const Character c = tube();
        // a mirrored rotation keeps its axis' x and turns y and z about
        compare(bent(subjectOf(c), Vec3d(1, 0.4, 0.1), 80),
                bent(subjectOf(mirroredX(c)), Vec3d(1, -0.4, -0.1), 80), 1e-5);
    }

    // The body's own tube within a wider coat: girth and volume are the body's.
    void innerShellOwnsTheVolume() {
        Character body = tube(), c = body;
        TubeSpec wide;
        wide.radius = 0.13;
        wide.capped = false;
        const Character coat = tube(wide);
        const auto n = std::uint32_t(body.bindPosition.size());
        Part second = coat.parts[0];
        second.name = "coat";
        second.firstVertex = n;
        second.firstTriangle = std::uint32_t(c.triangles.size());
        c.bindPosition.append(coat.bindPosition.begin(), coat.bindPosition.end());
        for (const Triangle& t : coat.triangles)
            c.triangles.push_back({t[0] + n, t[1] + n, t[2] + n});
        c.parts.push_back(second);
        std::vector<std::vector<std::pair<int, double>>> weights;
        for (const Character* from : std::initializer_list<const Character*>{&body, &coat})
            for (std::size_t v = 0; v < from->vertexCount(); ++v) {
                weights.emplace_back();
                for (auto i = from->weights.first[v]; i < from->weights.first[v + 1]; ++i)
                    weights.back().push_back({from->weights.joint[i], from->weights.weight[i]});
            }
        finish(c, weights);
        const Subject s = subjectOf(c);
        QVERIFY(s.zones[1].volume.has_value());
        QCOMPARE(s.zones[1].shell, std::int64_t(s.surface.shellOf[0]));
        QVERIFY(std::abs(s.zones[1].limbRadius - 0.1) < 0.002);
    }
};

HOBBLE_TEST(TestZone)
#include "test_zone.moc"
