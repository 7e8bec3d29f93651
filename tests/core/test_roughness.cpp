// Roughness, flips and the rotation they rest on: closed forms, rigid motion, and a slow independent polar
// factor.
#include "core/deform/deformer.h"
#include "core/measure/region.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestRoughness : public QObject {
    Q_OBJECT

    static MotionRegion everything(const Subject& s) {
        MotionRegion r;
        for (std::uint32_t v = 0; v < s.surface.vertexCount(); ++v) {
            r.vertices.push_back(v);
            r.numberOf.push_back(v);
        }
        for (std::uint32_t t = 0; t < s.surface.triangles.size(); ++t) {
            r.triangles.push_back(t);
            r.numbers.push_back(s.surface.triangles[t]);
        }
        return r;
    }

private slots:
    void nearestRotationIsThePolarFactor() {
        std::mt19937 random(3);
        std::normal_distribution<float> n;
        for (int i = 0; i < 300; ++i) {
            Eigen::Matrix3f m;
            for (int k = 0; k < 9; ++k)
                m(k / 3, k % 3) = n(random);
            const Eigen::Matrix3f r = nearestRotation(m);
            QVERIFY((r * r.transpose() - Eigen::Matrix3f::Identity()).norm() < 1e-3f);
            QVERIFY(std::abs(r.determinant() - 1) < 1e-3f);
            // no rotation is nearer: R maximises trace(RᵀM); tried on a ring of neighbours
            const float best = (r.transpose() * m).trace();
            for (int k = 0; k < 20; ++k) {
                const Vec3 axis = Vec3(n(random), n(random), n(random)).normalized();
                const Eigen::Matrix3f other = Eigen::AngleAxisf(0.1f, axis).toRotationMatrix() * r;
                QVERIFY((other.transpose() * m).trace() <= best + 2e-3f * std::abs(best) + 1e-3f);
            }
        }
        QVERIFY(nearestRotation(Eigen::Matrix3f::Zero()).isIdentity());
    }

    void rigidMotionIsSmooth() {
        const Subject s = subjectOf(tube());
        const MotionRegion r = everything(s);
        const Transform by =
            Eigen::Translation3d(1, 2, 3) * Eigen::AngleAxisd(2.2, Vec3d(1, 1, 0.3).normalized());
        std::vector<Vec3> p;
        for (const Vec3& v : s.neutral)
            p.push_back((by * v.cast<double>()).cast<float>());
        Roughness out;
        roughness(s, r, p, out);
        std::vector<char> flipped;
        flips(s, r, p, out, flipped);
        for (float x : out.value)
            QVERIFY(x < 1e-3f);
        for (char f : flipped)
            QVERIFY(!f);
    }

    // One vertex drawn out along its normal by d: δ′ − δ is d (less what its own ring's rotation makes of
    // it).
    void oneVertexDrawnOut() {
        const Subject s = subjectOf(tube());
        const MotionRegion r = everything(s);
        const std::uint32_t v = 60 * 64 + 5;
        std::vector<Vec3> p = s.neutral;
        const float d = 0.02f;
        p[v] += d * s.rings[v].normal;
        Roughness out;
        roughness(s, r, p, out);
        QVERIFY(std::abs(out.value[v] - d / s.rings[v].edge) < 0.1f * d / s.rings[v].edge);
        for (std::uint32_t o = 0; o < s.surface.vertexCount(); ++o)
            QVERIFY(o == v || out.value[o] < 0.55f * out.value[v]);
    }

    // A triangle turned over by moving one corner across the opposite edge.
    void aFlippedTriangle() {
        const Subject s = subjectOf(tube());
        const MotionRegion r = everything(s);
        std::vector<Vec3> p = s.neutral;
        const Triangle& f = s.surface.triangles[5000];
        p[f[0]] += 2.5f * ((p[f[1]] + p[f[2]]) / 2 - p[f[0]]);
        Roughness out;
        roughness(s, r, p, out);
        std::vector<char> flipped;
        flips(s, r, p, out, flipped);
        QVERIFY(flipped[5000]);
        QVERIFY(std::count(flipped.begin(), flipped.end(), 1) <= 8);
    }

    // The region holds all that strains: everything outside goes rigidly with one side.
    void regionHoldsAllThatStrains() {
        const Subject s = subjectOf(tube());
        const Motion m = turnPlan(Vec3d::UnitX(), {0, 70, 0}).motions[0];
        const MotionRegion r = motionRegion(s, m);
        QVERIFY(r.triangles.size() < s.surface.triangles.size() / 2);
        std::vector<Vec3> file;
        deform(*s.character, poseAt(s.character->skeleton, m, 70), Skinning::Linear, file);
        const auto p = weldedPositions(s.surface, file);
        std::vector<Strain> all;
        strains(s.surface.triangles, s.rest, p, all);
        for (std::uint32_t t = 0; t < all.size(); ++t)
            if (!std::binary_search(r.triangles.begin(), r.triangles.end(), t))
                QVERIFY(std::abs(all[t].stretch - 1) < 1e-3f && std::abs(all[t].squash - 1) < 1e-3f);
    }
};

HOBBLE_TEST(TestRoughness)
#include "test_roughness.moc"
