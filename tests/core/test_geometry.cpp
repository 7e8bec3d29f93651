// The nearest rotation is one, and nearest, near to rotations and far from them; turns between directions.
#include "core/geometry.h"
#include "support/suite.h"

#include <QTest>

#include <random>

using namespace hobble;

class TestGeometry : public QObject {
    Q_OBJECT

    std::mt19937 random_{7};

    double number(double size = 1) { return size * std::uniform_real_distribution<double>(-1, 1)(random_); }
    Eigen::Matrix3d anyMatrix(double size) {
        Eigen::Matrix3d m;
        for (Eigen::Index k = 0; k < 9; ++k)
            m(k) = number(size);
        return m;
    }
    Quat anyTurn() { return Quat(number(), number(), number(), number()).normalized(); }

private slots:
    // r is the nearest rotation to m when rᵀm is symmetric and has no negative pair of stretches.
    void theNearestRotation() {
        for (double away : {0.0, 1e-13, 1e-9, 0.9e-8, 1.1e-8, 1e-6, 0.9e-4, 1e-3, 0.2}) {
            for (int i = 0; i < 200; ++i) {
                const Eigen::Matrix3d m = anyTurn().toRotationMatrix() + anyMatrix(away);
                const Eigen::Matrix3d r = closestRotation(m);
                QVERIFY((r.transpose() * r - Eigen::Matrix3d::Identity()).cwiseAbs().maxCoeff() < 1e-14);
                QVERIFY(r.determinant() > 0);
                const Eigen::Matrix3d stretch = r.transpose() * m;
                QVERIFY((stretch - stretch.transpose()).cwiseAbs().maxCoeff() < 1e-14);
                QVERIFY(stretch.trace() > 2);
            }
        }
    }

    void mirroredOnesToo() {
        for (int i = 0; i < 200; ++i) {
            Eigen::Matrix3d m = anyTurn().toRotationMatrix();
            m.col(0) = -m.col(0);
            const Eigen::Matrix3d r = closestRotation(m);
            QVERIFY(std::abs(r.determinant() - 1) < 1e-12);
        }
    }

    void turnsBetweenDirections() {
        for (int i = 0; i < 200; ++i) {
            const Vec3d from(number(), number(), number()), to(number(), number(), number());
            const Quat turn = turnFromTo(from, to);
            QVERIFY((turn * from.normalized() - to.normalized()).norm() < 1e-9);
            // the shortest: about what is square to both
            QVERIFY(std::abs(turn.vec().dot(from)) < 1e-9 && std::abs(turn.vec().dot(to)) < 1e-9);
            QVERIFY((turnFromTo(from, -from) * from + from).norm() < 1e-9);
        }
    }
};

HOBBLE_TEST(TestGeometry)
#include "test_geometry.moc"
