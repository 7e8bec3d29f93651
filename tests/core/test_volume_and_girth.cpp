// Closing, volume, winding and cuts on solids whose numbers are known.
#include "core/measure/girth.h"
#include "core/measure/limb_middle.h"
#include "core/measure/volume.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <cmath>

using namespace hobble;
using namespace hobble::test;

class TestVolumeAndGirth : public QObject {
    Q_OBJECT

    static std::vector<std::uint32_t> all(const Surface& s) {
        std::vector<std::uint32_t> out(s.triangles.size());
        for (std::uint32_t t = 0; t < out.size(); ++t)
            out[t] = t;
        return out;
    }

    static Subject solid(std::vector<Vec3> points, std::vector<Triangle> triangles) {
        Character c;
        c.skeleton = skeletonOf({{"root", -1, Vec3d::Zero()}});
        c.bindPosition = std::move(points);
        c.triangles = std::move(triangles);
        Part p;
        p.skinned = true;
        p.vertexCount = std::uint32_t(c.bindPosition.size());
        p.triangleCount = std::uint32_t(c.triangles.size());
        c.parts = {p};
        finish(c, std::vector<std::vector<std::pair<int, double>>>(c.bindPosition.size(), {{0, 1.0}}));
        return subjectOf(c);
    }

    // A unit cube from its corner `at`, numbered from `first`.
    static void cube(std::vector<Vec3>& points, std::vector<Triangle>& triangles, const Vec3& at) {
        const auto f = std::uint32_t(points.size());
        for (int i = 0; i < 8; ++i)
            points.push_back(at + Vec3(float(i & 1), float(i >> 1 & 1), float(i >> 2 & 1)));
        for (const auto& q : std::initializer_list<std::array<std::uint32_t, 4>>{
                 {0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}}) {
            triangles.push_back({f + q[0], f + q[1], f + q[2]});
            triangles.push_back({f + q[0], f + q[2], f + q[3]});
        }
    }

private slots:
    void closedCube() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(5, 6, 7));
        const Subject s = solid(points, triangles);
        const auto v = closeVolume(s.surface, all(s.surface), s.neutral);
        QVERIFY(v);
        QVERIFY(v->loops.empty());
        QVERIFY(std::abs(v->neutral - 1) < 1e-6);
        QVERIFY(std::abs(windingNumber(s.surface, *v, s.neutral, Vec3d(5.2, 6.7, 7.5)) - 1) < 1e-6);
        QVERIFY(std::abs(windingNumber(s.surface, *v, s.neutral, Vec3d(3, 6.5, 7.5))) < 1e-6);
    }

    void cubeWithoutALidIsClosedByAFan() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        triangles.resize(10);
        const Subject s = solid(points, triangles);
        const auto v = closeVolume(s.surface, all(s.surface), s.neutral);
        QVERIFY(v);
        QCOMPARE(v->loops.size(), std::size_t(1));
        QCOMPARE(v->loops[0].size(), std::size_t(4));
        QVERIFY(std::abs(v->neutral - 1) < 1e-6);
    }

    // Two cubes that share an edge: four triangles meet there, and still the volume is two.
    void touchingAlongAnEdge() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        cube(points, triangles, Vec3(1, 1, 0));
        const Subject s = solid(points, triangles);
        QCOMPARE(s.surface.nonManifoldEdges, std::size_t(1));
        const auto v = closeVolume(s.surface, all(s.surface), s.neutral);
        QVERIFY2(v, v.error().c_str());
        QVERIFY(std::abs(v->neutral - 2) < 1e-6);
    }

    // Two lidless cubes touching at a corner of their rims: two loops, not a crossing one.
    void bordersTouchingAtAVertex() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        std::vector<Triangle> second;
        std::vector<Vec3> more = points;
        cube(more, second, Vec3(1, 1, 0));
        // the lids (z = 1) taken off both: faces 2 and 3 of each list
        triangles.erase(triangles.begin() + 2, triangles.begin() + 4);
        second.erase(second.begin() + 2, second.begin() + 4);
        triangles.insert(triangles.end(), second.begin(), second.end());
        const Subject s = solid(more, triangles);
        const auto v = closeVolume(s.surface, all(s.surface), s.neutral);
        QVERIFY2(v, v.error().c_str());
        QVERIFY(std::abs(v->neutral - 2) < 1e-5);
    }

    // One face that looks inwards is turned about, and said; the volume is the cube's.
    void facesTurnedAbout() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        std::swap(triangles[4][1], triangles[4][2]);
        const Subject s = solid(points, triangles);
        QCOMPARE(s.surface.facingIn, std::size_t(1));
        const auto v = closeVolume(s.surface, all(s.surface), s.neutral);
        QVERIFY2(v, v ? "" : v.error().c_str());
        QVERIFY(std::abs(v->neutral - 1) < 1e-6);
    }

    void aSheetHasNoInside() {
        const Subject s = solid({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}, {{0, 1, 2}, {0, 2, 3}});
        QVERIFY(closeVolume(s.surface, all(s.surface), s.neutral).error().find("sheet") != std::string::npos);
    }

    // A lid taken off is a fifth of what is left; a tube's ends are as its radius to its length; a sheet has
    // no inside.
    void openingsOfShells() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        std::vector<Triangle> lidless(triangles.begin(), triangles.begin() + 10);
        const Subject whole = solid(points, triangles), open = solid(points, lidless);
        QCOMPARE(openShares(whole.surface, whole.neutral), std::vector<double>{0});
        QVERIFY(std::abs(openShares(open.surface, open.neutral).front() - 0.2) < 1e-6);

        TubeSpec spec;
        spec.capped = false;
        const Subject pipe = subjectOf(tube(spec));
        const double share = openShares(pipe.surface, pipe.neutral).front();
        QVERIFY2(std::abs(share - spec.radius / spec.length) < 1e-3, qPrintable(QString::number(share)));

        const Subject sheet = solid({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}, {{0, 1, 2}, {0, 2, 3}});
        QVERIFY(!(openShares(sheet.surface, sheet.neutral).front() < 1e300));
    }

    // Of a square pipe three walls: three quarters of their rim are the pipe's own ends. A piece of whole
    // skin may be so, a piece of cloth may not.
    void aRimThatIsMostlyOpen() {
        std::vector<Vec3> points;
        std::vector<Triangle> triangles;
        cube(points, triangles, Vec3(0, 0, 0));
        triangles.erase(triangles.begin(), triangles.begin() + 4); // bottom and lid
        const Subject s = solid(points, triangles);
        const std::vector<std::uint32_t> walls{0, 1, 2, 3, 4, 5};
        QCOMPARE(closeVolume(s.surface, walls, s.neutral).error(), std::string("the surface is open here"));
        const auto closed = closeVolume(s.surface, walls, s.neutral, kMostOpenRimOfSkin);
        QVERIFY2(closed, closed ? "" : closed.error().c_str());
        QVERIFY(std::abs(closed->neutral - 0.5) < 1e-6); // of three walls, pyramids to the middle of the rim
        // moved rigidly it stays what it is
        std::vector<Vec3> moved;
        for (const Vec3& p : s.neutral)
            moved.push_back(Eigen::AngleAxisf(1.1f, Vec3(1, 2, 3).normalized()) * p + Vec3(4, 5, 6));
        QVERIFY(std::abs(volumeOf(s.surface, *closed, moved) - closed->neutral) < 1e-4);
    }

    void cutsOfATube() {
        const Subject s = subjectOf(tube());
        for (const double y : {-0.4, 0.0, 0.123}) {
            const auto loops = planeCut(s.surface, all(s.surface), s.neutral, Vec3d(0, y, 0), Vec3d::UnitY());
            QCOMPARE(loops.size(), std::size_t(1));
            // a polygon of 64 corners, its diagonals cut on the way
            const double area = 0.5 * 64 * 0.01 * std::sin(2 * kPi / 64);
            QVERIFY(std::abs(sectionArea(loops[0], s.neutral) - area) < 1e-5);
        }
        QVERIFY(planeCut(s.surface, all(s.surface), s.neutral, Vec3d(0, 3, 0), Vec3d::UnitY()).empty());
        // an oblique cut is an ellipse: wider by 1 / cos 45°
        const auto oblique =
            planeCut(s.surface, all(s.surface), s.neutral, Vec3d(0, 0, 0), Vec3d(1, 1, 0).normalized());
        const double round = 0.5 * 64 * 0.01 * std::sin(2 * kPi / 64);
        QVERIFY(std::abs(sectionArea(oblique.at(0), s.neutral) - round * std::sqrt(2.0)) < 2e-4);
    }

    // Of a limb that lies along y, the middle of the cut is on its line, wherever beside it one asks.
    void theMiddleOfALimb() {
        const Subject s = subjectOf(tube());
        for (double y : {-0.08, 0.013, 0.1})
            for (const Vec3d& beside : {Vec3d(0, y, 0), Vec3d(0.05, y, -0.03), Vec3d(0.4, y, 0.1)}) {
                const auto middle = limbMiddle(s, 1, beside);
                QVERIFY(middle);
                QVERIFY((*middle - Vec3d(0, y, 0)).norm() < 1e-5);
            }
        QVERIFY(!limbMiddle(s, 1, Vec3d(0, 5, 0)));
    }

    void onlyTheLoopAroundTheCentre() {
        Character two = tube();
        const auto n = std::uint32_t(two.bindPosition.size());
        std::vector<std::vector<std::pair<int, double>>> weights(2 * n, {{0, 1.0}});
        for (std::uint32_t v = 0; v < n; ++v)
            two.bindPosition.push_back(two.bindPosition[v] + Vec3(0.5f, 0, 0));
        const std::size_t t = two.triangles.size();
        for (std::size_t i = 0; i < t; ++i) {
            const Triangle f = two.triangles[i];
            two.triangles.push_back({f[0] + n, f[1] + n, f[2] + n});
        }
        two.parts[0].vertexCount *= 2;
        two.parts[0].triangleCount *= 2;
        finish(two, weights);
        const Subject s = subjectOf(two);
        const auto loop =
            sectionAround(s.surface, all(s.surface), s.neutral, Vec3d(0.5, 0.01, 0), Vec3d::UnitY());
        QVERIFY(loop);
        for (const EdgePoint& e : *loop)
            QVERIFY(s.neutral[e.a].x() > 0.35f);
        QVERIFY(!sectionAround(s.surface, all(s.surface), s.neutral, Vec3d(0.25, 0.01, 0), Vec3d::UnitY()));
    }
};

HOBBLE_TEST(TestVolumeAndGirth)
#include "test_volume_and_girth.moc"
