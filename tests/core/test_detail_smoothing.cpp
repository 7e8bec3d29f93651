// What is done after skinning, and skin by another method: against an independent slow version in double,
// closed forms of the tube, and what must not change.
#include "core/deform/deformer.h"
#include "core/deform/detail_smoothing.h"
#include "core/measure/region.h"
#include "core/run/run.h"
#include "support/suite.h"
#include "support/tube.h"

#include <Eigen/QR>
#include <Eigen/SVD>
#include <QTest>
#include <tbb/global_control.h>

#include <cmath>
#include <map>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestDetailSmoothing : public QObject {
    Q_OBJECT

    static SmoothingWish everywhere(const Surface& s, int passes = 10, double strength = 0.5) {
        SmoothingWish out;
        out.passes = passes;
        out.strength = strength;
        for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
            out.where.emplace_back(v, 1.f);
        return out;
    }
    static Character smoothed(Character c, const std::function<SmoothingWish(const Subject&)>& wish) {
        const Subject s = subjectOf(c);
        c.extras.smoothing = {std::make_shared<const DetailSmoothing>(s.surface, s.neutral, wish(s))};
        return c;
    }
    static Character smoothed(Character c, int passes = 10) {
        return smoothed(std::move(c), [&](const Subject& s) { return everywhere(s.surface, passes); });
    }
    static Character bumpy() {
        Character c = tube({.sides = 24, .rings = 40});
        for (std::size_t v = 0; v < c.neutral.size(); v += 7)
            c.neutral[v] = c.bindPosition[v] = 1.06f * c.neutral[v];
        return c;
    }
    static Pose bent(const Character& c, double degrees, const Vec3d& axis = Vec3d::UnitX()) {
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[1] = Quat(Eigen::AngleAxisd(radians(degrees), axis));
        return pose;
    }
    static std::vector<Vec3> posed(const Character& c, const Pose& pose, Skinning method = Skinning::Linear) {
        std::vector<Vec3> out;
        deform(c, pose, method, out);
        return out;
    }
    static double farthest(const std::vector<Vec3>& a, const std::vector<Vec3>& b) {
        double out = a.size() == b.size() ? 0 : 1e9;
        for (std::size_t v = 0; v < std::min(a.size(), b.size()); ++v)
            out = std::max(out, static_cast<double>((a[v] - b[v]).norm()));
        return out;
    }

    // The paper's words, in double, over a mesh without split vertices: positions by maps, frames by
    // matrices.
    static std::vector<Vec3d> slowly(const Character& c, const std::vector<Vec3>& skinned, int passes,
                                     double strength) {
        std::map<int, std::set<int>> near;
        std::map<int, std::vector<std::pair<int, int>>> around;
        for (const Triangle& t : c.triangles)
            for (std::size_t k = 0; k < 3; ++k) {
                const int a = int(t[k]), b = int(t[(k + 1) % 3]), d = int(t[(k + 2) % 3]);
                near[a].insert({b, d});
                around[a].push_back({b, d});
            }
        const auto smooth = [&](std::vector<Vec3d> p) {
            for (int pass = 0; pass < passes; ++pass) {
                std::vector<Vec3d> next = p;
                for (const auto& [v, list] : near) {
                    Vec3d mean = Vec3d::Zero();
                    for (int n : list)
                        mean += p[std::size_t(n)] / double(list.size());
                    next[std::size_t(v)] = (1 - strength) * p[std::size_t(v)] + strength * mean;
                }
                p = next;
            }
            return p;
        };
        std::vector<Vec3d> rest, now;
        for (std::size_t v = 0; v < skinned.size(); ++v) {
            rest.push_back(c.neutral[v].cast<double>());
            now.push_back(skinned[v].cast<double>());
        }
        const std::vector<Vec3d> restSmooth = smooth(rest), nowSmooth = smooth(now);
        // Of a vertex: how the edges around it are turned from the smoothed rest shape, in the plane that
        // fits them: by the singular values of the map that takes them there, with the normals for the third
        // direction.
        const auto turn = [&](int v) {
            Vec3d normal = Vec3d::Zero();
            for (const auto& [b, d] : around[v])
                normal += (restSmooth[std::size_t(b)] - restSmooth[std::size_t(v)])
                              .cross(restSmooth[std::size_t(d)] - restSmooth[std::size_t(v)]);
            normal.normalize();
            const Vec3d u = normal.unitOrthogonal(), w = normal.cross(u);
            const auto edges = [&](const std::vector<Vec3d>& p) {
                Eigen::MatrixXd out(3, near[v].size());
                int k = 0;
                for (int n : near[v])
                    out.col(k++) = p[std::size_t(n)] - p[std::size_t(v)];
                return out;
            };
            Eigen::MatrixXd plane(2, near[v].size());
            plane << u.transpose() * edges(restSmooth), w.transpose() * edges(restSmooth);
            const auto turned = [&](const std::vector<Vec3d>& p) {
                const Eigen::MatrixXd map =
                    plane.transpose().colPivHouseholderQr().solve(edges(p).transpose()).transpose();
                const Eigen::JacobiSVD<Eigen::MatrixXd> svd(map, Eigen::ComputeThinU | Eigen::ComputeThinV);
                const Eigen::MatrixXd x = svd.matrixU() * svd.matrixV().transpose();
                Eigen::Matrix3d out;
                out << x, Vec3d(x.col(0)).cross(Vec3d(x.col(1)));
                return out;
            };
            return Eigen::Matrix3d(turned(nowSmooth) * turned(restSmooth).transpose());
        };
        std::vector<Vec3d> out;
        for (int v = 0; v < int(now.size()); ++v)
            out.push_back(nowSmooth[std::size_t(v)] +
                          turn(v) * (rest[std::size_t(v)] - restSmooth[std::size_t(v)]));
        return out;
    }

private slots:
    void neutralStaysNeutral() {
        const Character c = smoothed(bumpy(), 40);
        QVERIFY(farthest(posed(c, Pose::neutral(c.skeleton)), c.neutral) < 2e-6);
    }

    void whatMovesAsAWholeMovesAsAWhole() {
        const Character c = smoothed(bumpy(), 25);
        Pose pose = Pose::neutral(c.skeleton);
        pose.turn[0] = turnXyz(40, -70, 110); // the root
        const Character plain = bumpy();
        QVERIFY(farthest(posed(c, pose), posed(plain, pose)) < 5e-6);
    }

    void asTheSlowVersion() {
        std::mt19937 random(5);
        std::uniform_real_distribution<float> off(-0.004f, 0.004f);
        Character plain = tube({.sides = 16, .rings = 24});
        for (Vec3& p : plain.neutral)
            p += Vec3(off(random), off(random), off(random));
        plain.bindPosition = plain.neutral;
        const Character c = smoothed(plain, [](const Subject& s) { return everywhere(s.surface, 7, 0.6); });
        for (double degrees : {35.0, 100.0}) {
            const auto fast = posed(c, bent(c, degrees));
            const auto slow = slowly(plain, posed(plain, bent(plain, degrees)), 7, 0.6);
            double most = 0;
            for (std::size_t v = 0; v < fast.size(); ++v)
                most = std::max(most, (fast[v].cast<double>() - slow[v]).norm());
            QVERIFY2(most < 2e-5, qPrintable(QString::number(most)));
        }
    }

    void whatIsNotNamedStays() {
        const Character plain = tube({.sides = 20, .rings = 60, .capped = false});
        const Character c = smoothed(plain, [](const Subject& s) {
            SmoothingWish wish;
            for (std::uint32_t v :
                 verticesWhere(s, [](const Vec3& p) { return std::abs(p.y()) < 0.2f || p.y() > 0.7f; }))
                wish.where.emplace_back(v, 1.f);
            return wish;
        });
        const auto a = posed(plain, bent(plain, 90)), b = posed(c, bent(c, 90));
        double moved = 0, rim = 0;
        for (std::size_t v = 0; v < a.size(); ++v) {
            const float y = plain.neutral[v].y();
            if (std::abs(y) >= 0.2f && y <= 0.7f)
                QVERIFY(a[v] == b[v]); // to the bit
            else if (y > 0.79f)
                rim = std::max(rim, static_cast<double>((a[v] - b[v]).norm()));
            else
                moved = std::max(moved, static_cast<double>((a[v] - b[v]).norm()));
        }
        QVERIFY(moved > 0.003);
        QCOMPARE(rim, 0.0); // an open border is held
    }

    void aHardCutIsEvenedOut() {
        const Character plain = tube({.blendHalf = 1e-4, .sides = 24, .rings = 80});
        const Plan plan = turnPlan(Vec3d::UnitX(), {0, 80, 0});
        const auto at = [&](const Character& c) {
            return runPlan(subjectOf(c), plan).motions[0].steps[1].joints[0].measures;
        };
        const auto value = [&](Kind kind, const Character& c) { return valueOf(kind, at(c)).value_or(0); };
        const Character soft = smoothed(plain, 30);
        const double hardStretch = value(Kind::Stretch, plain), softStretch = value(Kind::Stretch, soft);
        QVERIFY2(hardStretch > 1.5 * softStretch && softStretch > 1,
                 qPrintable(QStringLiteral("%1 %2").arg(hardStretch).arg(softStretch)));
        // what it costs or gives in volume is a measure like any other
        const double hardVolume = value(Kind::VolumeLoss, plain), softVolume = value(Kind::VolumeLoss, soft);
        QVERIFY2(softVolume > 0 && std::abs(softVolume - hardVolume) > 0.01,
                 qPrintable(QStringLiteral("%1 %2").arg(hardVolume).arg(softVolume)));
    }

    void aMirroredTubeIsSmoothedMirrored() {
        const Character c = tube({.blendHalf = 0.02, .sides = 24, .rings = 60});
        const Character one = smoothed(c), other = smoothed(mirroredX(c));
        auto a = posed(one, bent(one, 70, Vec3d::UnitZ()));
        const auto b = posed(other, bent(other, -70, Vec3d::UnitZ()));
        for (Vec3& p : a)
            p.x() = -p.x();
        QVERIFY2(farthest(a, b) < 2e-6, qPrintable(QString::number(farthest(a, b))));
    }

    void theSameWithAnyNumberOfThreads() {
        const Character c = smoothed(tube({.sides = 96, .rings = 160}));
        const Pose pose = bent(c, 110);
        const auto many = posed(c, pose);
        const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
        QVERIFY(posed(c, pose) == many);
    }

    // What a motion is measured over has all that smoothing carries.
    void theRegionHasWhatMoves() {
        const Character plain = tube({.blendHalf = 0.05, .sides = 20, .rings = 100});
        const Subject before = subjectOf(plain), after = subjectOf(smoothed(plain, 12));
        const Motion motion = turnPlan(Vec3d::UnitX(), {0, 60, 0}).motions[0];
        const MotionRegion was = motionRegion(before, motion), is = motionRegion(after, motion);
        QVERIFY(is.vertices.size() > was.vertices.size());
        const auto a = posed(plain, bent(plain, 60)), b = posed(*after.character, bent(plain, 60));
        for (std::uint32_t v = 0; v < a.size(); ++v)
            if ((a[v] - b[v]).norm() > 1e-5f)
                QVERIFY(is.numberOf[after.surface.weldOf[v]] != MotionRegion::kNone);
    }

    // Half of the turn's weight at the middle of the tube, rolled by 180°: linear skinning has no radius left
    // there, dual quaternions have all of it, and a mix has its share.
    void mixedByVertex_data() {
        QTest::addColumn<float>("share");
        for (float share : {0.f, 0.3f, 0.75f, 1.f})
            QTest::addRow("%g", static_cast<double>(share)) << share;
    }
    void mixedByVertex() {
        QFETCH(float, share);
        Character c = tube({.sides = 32, .rings = 64});
        c.extras.dualShare = std::vector<DualShare>(c.vertexCount(), DualShare{share, share});
        for (Skinning method : {Skinning::Linear, Skinning::DualQuaternion}) {
            const auto p = posed(c, bent(c, 179.9, Vec3d::UnitY()), method);
            for (std::size_t v = 0; v < p.size(); ++v)
                if (std::abs(c.neutral[v].y()) < 1e-6f &&
                    c.neutral[v].head<2>().norm() + std::abs(c.neutral[v].z()) > 0.01f)
                    QVERIFY2(std::abs(std::hypot(double(p[v].x()), double(p[v].z())) - 0.1 * double(share)) <
                                 3e-4,
                             qPrintable(QString::number(std::hypot(double(p[v].x()), double(p[v].z())))));
        }
    }

    void whereNothingIsSaidTheRunsMethodHolds() {
        const Character plain = tube({.sides = 16, .rings = 32});
        Character c = plain;
        std::vector<DualShare> shares(c.vertexCount());
        for (std::size_t v = 0; v < shares.size(); v += 2)
            shares[v] = {1, 1};
        c.extras.dualShare = shares;
        const Pose pose = bent(c, 120, Vec3d(1, 1, 0).normalized());
        const auto linear = posed(plain, pose), dual = posed(plain, pose, Skinning::DualQuaternion);
        const auto mixed = posed(c, pose);
        for (std::size_t v = 0; v < mixed.size(); ++v)
            QVERIFY(v % 2 ? mixed[v] == linear[v] : (mixed[v] - dual[v]).norm() < 1e-6f);
        QVERIFY(posed(c, pose, Skinning::DualQuaternion) == dual);
    }
};

HOBBLE_TEST(TestDetailSmoothing)
#include "test_detail_smoothing.moc"
