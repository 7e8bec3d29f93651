// Strain against an independent slow version: Eigen's JacobiSVD of the 3 × 3 deformation between edge frames.
#include "core/measure/strain.h"
#include "support/suite.h"
#include "support/tube.h"

#include <Eigen/SVD>
#include <QTest>
#include <random>

using namespace hobble;

class TestStrain : public QObject {
    Q_OBJECT

    static std::pair<double, double> slow(const std::array<Vec3, 3>& rest, const std::array<Vec3, 3>& posed) {
        auto frame = [](const std::array<Vec3, 3>& t) {
            const Vec3d x = (t[1] - t[0]).cast<double>().normalized();
            const Vec3d n = (t[1] - t[0]).cast<double>().cross((t[2] - t[0]).cast<double>()).normalized();
            Eigen::Matrix<double, 3, 2> f;
            f << x, n.cross(x);
            return f;
        };
        auto edges = [](const std::array<Vec3, 3>& t) {
            Eigen::Matrix<double, 3, 2> e;
            e << (t[1] - t[0]).cast<double>(), (t[2] - t[0]).cast<double>();
            return e;
        };
        const Eigen::Matrix2d m = frame(rest).transpose() * edges(rest);
        const Eigen::Matrix2d p = frame(posed).transpose() * edges(posed);
        const Eigen::Matrix2d f = p * m.inverse();
        const Eigen::JacobiSVD<Eigen::Matrix2d> svd(f);
        return {svd.singularValues()[0], svd.singularValues()[1]};
    }

    static Subject oneTriangle(const std::array<Vec3, 3>& t) {
        Character c;
        c.skeleton = test::skeletonOf({{"root", -1, Vec3d::Zero()}});
        c.bindPosition = {t[0], t[1], t[2]};
        c.triangles = {{0, 1, 2}};
        Part p;
        p.skinned = true;
        p.vertexCount = 3;
        p.triangleCount = 1;
        c.parts = {p};
        test::finish(c, {{{0, 1.0}}, {{0, 1.0}}, {{0, 1.0}}});
        return test::subjectOf(c);
    }

private slots:
    void agreesWithJacobiSvd() {
        std::mt19937 random(7);
        std::uniform_real_distribution<float> u(-1, 1);
        auto point = [&] { return Vec3(u(random), u(random), u(random)); };
        for (int i = 0; i < 2000; ++i) {
            const std::array<Vec3, 3> rest{point(), point(), point()}, posed{point(), point(), point()};
            if ((rest[1] - rest[0]).cross(rest[2] - rest[0]).norm() < 0.05f)
                continue; // a sliver has no strain worth comparing in float
            const Subject s = oneTriangle(rest);
            const Strain fast = strainOf(s.rest[0], posed[0], posed[1], posed[2]);
            const auto [s1, s2] = slow(rest, posed);
            QVERIFY(std::abs(fast.stretch - s1) < 1e-4 * std::max(1.0, s1));
            QVERIFY(std::abs(fast.squash - s2) < 1e-4 * std::max(1.0, s1));
        }
    }

    void knownCases() {
        const std::array<Vec3, 3> rest{Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 1, 0)};
        const Subject s = oneTriangle(rest);
        auto strain = [&](Vec3 a, Vec3 b, Vec3 c) { return strainOf(s.rest[0], a, b, c); };
        Strain x = strain({0, 0, 0}, {2, 0, 0}, {0, 0.5f, 0});
        QCOMPARE(x.stretch, 2.f);
        QCOMPARE(x.squash, 0.5f);
        x = strain({0, 0, 0}, {1, 0, 0}, {0.5f, 0, 0}); // folded flat
        QCOMPARE(x.squash, 0.f);
        x = strain({3, 3, 3}, {3, 3, 3}, {3, 3, 3}); // gone
        QCOMPARE(x.stretch, 0.f);
        QCOMPARE(x.squash, 0.f);
    }

    void slivers() {
        const Subject s = oneTriangle({Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0.5f, 1e-9f, 0)});
        const Strain x = strainOf(s.rest[0], {0, 0, 0}, {1, 0, 0}, {0.5f, 1, 0});
        QCOMPARE(x.stretch, 1.f); // too thin to be measured: said to be unchanged, never infinite
        QCOMPARE(s.surface.degenerate, std::size_t(1));
    }

    void quantiles() {
        QCOMPARE(weightedQuantile({{1, 1}, {2, 1}, {3, 1}, {4, 1}}, 0.5), 2.0);
        QCOMPARE(weightedQuantile({{9, 0.01f}, {1, 0.99f}}, 0.98), 1.0);
        QCOMPARE(weightedQuantile({{9, 0.03f}, {1, 0.97f}}, 0.98), 9.0);
        QVERIFY(std::isnan(weightedQuantile({}, 0.5)));
    }

    void vertexValueIsAreaWeighted() {
        Character c = test::tube();
        const Subject s = test::subjectOf(c);
        std::vector<Strain> perTriangle(s.surface.triangles.size());
        const std::uint32_t v = 300;
        double area = 0, sum = 0;
        for (auto t = s.surface.trianglesAt.begin(v); t != s.surface.trianglesAt.end(v); ++t) {
            perTriangle[*t].stretch = 1.f + 0.1f * float(*t % 7);
            area += s.surface.area[*t];
            sum += double(s.surface.area[*t]) * perTriangle[*t].stretch;
        }
        QVERIFY(std::abs(vertexStrains(s.surface, perTriangle)[v].stretch - sum / area) < 1e-5);
    }
};

HOBBLE_TEST(TestStrain)
#include "test_strain.moc"
