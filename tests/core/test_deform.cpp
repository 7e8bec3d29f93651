// Skinning against independent slow versions in double.
#include "core/deform/deformer.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <random>

using namespace hobble;
using namespace hobble::test;

class TestDeform : public QObject {
    Q_OBJECT

    static Pose randomPose(const Skeleton& sk, unsigned seed, double most) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(-most, most);
        Pose pose = Pose::neutral(sk);
        for (Quat& q : pose.turn)
            q = turnXyz(u(random), u(random), u(random));
        return pose;
    }

    static Eigen::Matrix4d worldOf(const Skeleton& sk, const Pose& pose, int j) {
        Eigen::Matrix4d m = Eigen::Matrix4d::Identity();
        for (int k = j; k >= 0; k = sk.parent[k]) {
            Eigen::Matrix4d turn = Eigen::Matrix4d::Identity();
            turn.topLeftCorner<3, 3>() = pose.turn[k].toRotationMatrix();
            m = sk.neutralLocal[k].matrix() * turn * m;
        }
        return m;
    }

private slots:
    void eulerOrder() {
        // local = neutral · Rx · Ry · Rz: the vector is turned about z first.
        const Vec3d v = turnXyz(90, 0, 90) * Vec3d(1, 0, 0);
        QVERIFY(v.isApprox(Vec3d(0, 0, 1), 1e-12));
        const Vec3d w = turnXyz(30, 40, 50) * Vec3d(0.1, 0.2, 0.3);
        const Vec3d slow = Eigen::AngleAxisd(radians(30), Vec3d::UnitX()) *
                           (Eigen::AngleAxisd(radians(40), Vec3d::UnitY()) *
                            (Eigen::AngleAxisd(radians(50), Vec3d::UnitZ()) * Vec3d(0.1, 0.2, 0.3)));
        QVERIFY(w.isApprox(slow, 1e-12));
    }

    void linearAgreesWithMatrices() {
        const Character c = moved(tube(), Transform(Eigen::Translation3d(0.3, 1.2, -2) *
                                                    Eigen::AngleAxisd(0.7, Vec3d(1, 1, 0).normalized())));
        const Pose pose = randomPose(c.skeleton, 3, 100);
        std::vector<Vec3> fast;
        deform(c, pose, Skinning::Linear, fast);
        for (std::size_t v = 0; v < fast.size(); v += 17) {
            Eigen::Vector4d sum = Eigen::Vector4d::Zero();
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
                const int j = c.weights.joint[i];
                sum += c.weights.weight[i] *
                       (worldOf(c.skeleton, pose, j) * c.skeleton.neutralWorld[j].matrix().inverse() *
                        c.neutral[v].cast<double>().homogeneous());
            }
            QVERIFY((fast[v].cast<double>() - sum.head<3>()).norm() < 1e-5);
        }
    }

    // Blended as 8-vectors and applied by quaternion algebra, q p q* + t.
    void dualQuaternionAgreesWithAlgebra() {
        const Character c = tube();
        const Pose pose = randomPose(c.skeleton, 5, 60);
        std::vector<Vec3> fast;
        deform(c, pose, Skinning::DualQuaternion, fast);
        for (std::size_t v = 0; v < fast.size(); v += 23) {
            Quat real(0, 0, 0, 0), dual(0, 0, 0, 0), lead = Quat::Identity();
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i) {
                const int j = c.weights.joint[i];
                const Eigen::Matrix4d m =
                    worldOf(c.skeleton, pose, j) * c.skeleton.neutralWorld[j].matrix().inverse();
                Quat q(Eigen::Matrix3d(m.topLeftCorner<3, 3>()));
                const Vec3d t = m.topRightCorner<3, 1>();
                Quat d = Quat(0, t.x(), t.y(), t.z()) * q;
                d.coeffs() *= 0.5;
                if (i == c.weights.first[v])
                    lead = q;
                const double w = c.weights.weight[i] * (q.dot(lead) < 0 ? -1 : 1);
                real.coeffs() += w * q.coeffs();
                dual.coeffs() += w * d.coeffs();
            }
            const double length = real.norm();
            real.coeffs() /= length;
            dual.coeffs() /= length;
            Quat t = dual * real.conjugate();
            t.coeffs() *= 2;
            const Vec3d slow = real * c.neutral[v].cast<double>() + t.vec();
            QVERIFY((fast[v].cast<double>() - slow).norm() < 1e-5);
        }
    }

    void neutralIsNeutral() {
        const Character c = tube();
        for (Skinning method : {Skinning::Linear, Skinning::DualQuaternion}) {
            std::vector<Vec3> p;
            deform(c, Pose::neutral(c.skeleton), method, p);
            for (std::size_t v = 0; v < p.size(); ++v)
                QVERIFY((p[v] - c.neutral[v]).norm() < 1e-6f);
        }
    }

    void unweightedVerticesStay() {
        Character c = tube();
        std::vector<std::vector<std::pair<int, double>>> weights(c.vertexCount());
        weights[0] = {{1, 1.0}};
        finish(c, weights);
        std::vector<Vec3> p;
        deform(c, poseAt(c.skeleton, turnPlan(Vec3d::UnitX(), {90}).motions[0], 90), Skinning::Linear, p);
        QVERIFY((p[0] - c.neutral[0]).norm() > 0.1f);
        QCOMPARE((p[1] - c.neutral[1]).norm(), 0.f);
    }

    void scaledJointKeepsItsPlaceUnderDualQuaternions() {
        Character c = tube();
        for (int j = 0; j < 2; ++j) {
            c.skeleton.neutralWorld[j].scale(0.01); // an export in centimetres
            c.skins[0].inverseBind[j] = c.skeleton.neutralWorld[j].inverse();
        }
        c.skeleton.neutralLocal[0] = c.skeleton.neutralWorld[0];
        c.skeleton.neutralLocal[1] = c.skeleton.neutralWorld[0].inverse() * c.skeleton.neutralWorld[1];
        std::vector<Vec3> scaled, plain;
        const Plan plan = turnPlan(Vec3d::UnitX(), {70});
        deform(c, poseAt(c.skeleton, plan.motions[0], 70), Skinning::DualQuaternion, scaled);
        deform(tube(), poseAt(c.skeleton, plan.motions[0], 70), Skinning::DualQuaternion, plain);
        for (std::size_t v = 0; v < plain.size(); v += 13)
            QVERIFY((scaled[v] - plain[v]).norm() < 1e-5f);
    }
};

HOBBLE_TEST(TestDeform)
#include "test_deform.moc"
