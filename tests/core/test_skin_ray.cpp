// What a ray meets first, against looking at every triangle; in neutral and posed, with some of the skin
// hidden.
#include "core/deform/deformer.h"
#include "core/measure/skin_ray.h"
#include "support/suite.h"
#include "support/tube.h"

#include <random>

using namespace hobble;
using namespace hobble::test;

namespace {

// As its definition reads: the nearest crossing with any triangle's plane, inside the triangle.
double nearestByAll(const Subject& s, const std::vector<Vec3>& welded, const Vec3d& from, const Vec3d& way,
                    const std::vector<char>* shown) {
    double best = INFINITY;
    for (std::size_t t = 0; t < s.surface.triangles.size(); ++t) {
        if (shown && !(*shown)[t])
            continue;
        const Vec3d a = welded[s.surface.triangles[t][0]].cast<double>(),
                    b = welded[s.surface.triangles[t][1]].cast<double>(),
                    c = welded[s.surface.triangles[t][2]].cast<double>(), n = (b - a).cross(c - a);
        const double along = n.dot(way);
        if (std::abs(along) < 1e-12)
            continue;
        const double d = n.dot(a - from) / along;
        const Vec3d p = from + d * way;
        if (d > 1e-9 && d < best && n.dot((b - a).cross(p - a)) >= 0 && n.dot((c - b).cross(p - b)) >= 0 &&
            n.dot((a - c).cross(p - c)) >= 0)
            best = d;
    }
    return best;
}

} // namespace

class TestSkinRay : public QObject {
    Q_OBJECT

private slots:
    void meetsWhatLookingAtEverythingMeets_data() {
        QTest::addColumn<double>("degrees");
        QTest::addColumn<bool>("hidden");
        QTest::newRow("neutral") << 0.0 << false;
        QTest::newRow("bent") << 100.0 << false;
        QTest::newRow("bent, half hidden") << 100.0 << true;
    }
    void meetsWhatLookingAtEverythingMeets() {
        QFETCH(double, degrees);
        QFETCH(bool, hidden);
        const Subject s = subjectOf(tube({.sides = 24, .rings = 40}));
        Pose pose = Pose::neutral(s.character->skeleton);
        pose.turn[1] = turnXyz(degrees, 0, 0);
        std::vector<Vec3> posed;
        deform(*s.character, pose, Skinning::Linear, posed);
        const auto tree = std::make_shared<const TriangleTree>(skinTree(s.surface, s.neutral));
        const PosedSkin skin = posedSkin(s.surface, tree, posed);
        std::vector<char> shown(s.surface.triangles.size(), 1);
        for (std::size_t t = 0; hidden && t < shown.size(); t += 2)
            shown[t] = 0;
        std::mt19937 random(7);
        std::uniform_real_distribution<double> any(-1, 1);
        int met = 0;
        for (int i = 0; i < 400; ++i) {
            const Vec3d from = Vec3d(any(random), any(random), any(random)).normalized() * 3,
                        to(0.15 * any(random), 0.8 * any(random), 0.4 * any(random)),
                        way = (to - from).normalized();
            const auto hit = firstSkin(*s.character, s.surface, skin, from, way, hidden ? &shown : nullptr);
            const double nearest = nearestByAll(s, skin.welded, from, way, hidden ? &shown : nullptr);
            QCOMPARE(hit.has_value(), nearest < INFINITY);
            if (!hit)
                continue;
            ++met;
            QVERIFY(std::abs((hit->point - from).norm() - nearest) < 1e-4);
            const Triangle& corners = s.character->triangles[hit->triangle];
            for (std::uint32_t v : corners)
                QVERIFY((posed[hit->vertex].cast<double>() - hit->point).norm() <=
                        (posed[v].cast<double>() - hit->point).norm() + 1e-5);
        }
        QVERIFY(met > 50);
    }
};

HOBBLE_TEST(TestSkinRay)
#include "test_skin_ray.moc"
