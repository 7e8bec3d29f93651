// Where a skin stands in the world, when the file's nodes were left in another pose than the bind pose.
#include "io/bind_placement.h"
#include "support/suite.h"

#include <QTest>

using namespace hobble;

class TestBindPlacement : public QObject {
    Q_OBJECT

    // A chain of five joints along +Y, one unit apart, in the skin's space; `place` puts it into the world.
    struct Chain {
        std::vector<Transform> bind, inverse, nodes;
    };
    static Chain chain(const Transform& place, const std::vector<Quat>& turns) {
        Chain c;
        Transform bind = Transform::Identity(), node = place;
        for (int j = 0; j < 5; ++j) {
            if (j > 0) {
                bind.translate(Vec3d(0, 1, 0));
                node.translate(Vec3d(0, 1, 0));
            }
            if (j < int(turns.size()))
                node.rotate(turns[j]);
            c.bind.push_back(bind);
            c.inverse.push_back(bind.inverse());
            c.nodes.push_back(node);
        }
        return c;
    }
    static Transform armature() {
        Transform t = Transform::Identity();
        t.translate(Vec3d(3, 0, 1)).rotate(Eigen::AngleAxisd(-kPi / 2, Vec3d::UnitX())).scale(0.01);
        return t;
    }
    static Quat about(const Vec3d& axis, double degrees) {
        return Quat(Eigen::AngleAxisd(radians(degrees), axis));
    }

private slots:
    void unposed() {
        const Chain c = chain(armature(), {});
        QVERIFY(bindPlacement(c.nodes, c.inverse, 0, {Transform::Identity()}).isApprox(armature(), 1e-9));
    }

    void oneLimbLeftPosed() {
        const Chain c = chain(
            armature(), {Quat::Identity(), Quat::Identity(), Quat::Identity(), about(Vec3d::UnitZ(), 80)});
        QVERIFY(bindPlacement(c.nodes, c.inverse, 0, {Transform::Identity()}).isApprox(armature(), 1e-9));
    }

    void everyJointLeftPosedBelowAnArmature() {
        const Chain c = chain(
            armature(), {about(Vec3d::UnitX(), 12), about(Vec3d::UnitZ(), 25), about(Vec3d::UnitX(), -30)});
        QVERIFY(bindPlacement(c.nodes, c.inverse, 0, {armature(), Transform::Identity()})
                    .isApprox(armature(), 1e-9));
    }

    void boundInTheWorldItself() {
        // Bind matrices already hold the armature; what is above the joints must not be counted twice.
        Chain c = chain(armature(), {about(Vec3d::UnitX(), 12), about(Vec3d::UnitZ(), 25)});
        for (std::size_t j = 0; j < c.inverse.size(); ++j)
            c.inverse[j] = (armature() * c.bind[j]).inverse();
        QVERIFY(bindPlacement(c.nodes, c.inverse, 0, {armature(), Transform::Identity()})
                    .isApprox(Transform::Identity(), 1e-9));
    }

    void theRootItselfTurnsTheUpAxis() {
        // A converter that keeps vertices with z up and turns the root joint: the root's turn is placement,
        // not pose.
        const Quat upright = about(Vec3d::UnitX(), -90);
        const Chain c = chain(Transform::Identity(), {upright});
        const Transform p = bindPlacement(c.nodes, c.inverse, 0, {Transform::Identity()});
        QVERIFY(p.linear().isApprox(upright.toRotationMatrix(), 1e-9));
    }
};

HOBBLE_TEST(TestBindPlacement)
#include "test_bind_placement.moc"
