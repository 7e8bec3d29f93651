// The table of closed forms: a tube of radius r blended linearly over 2h, finely meshed, must agree within
// 0.002.
#include "core/deform/deformer.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>
#include <cmath>

using namespace hobble;
using namespace hobble::test;

class TubeClosedForms : public QObject {
    Q_OBJECT

    static constexpr double kWithin = 0.002;
    std::unique_ptr<Subject> subject_;

    // The tube between the ends of the blend, cut out and closed.
    ClosedVolume blendVolume() const {
        std::vector<std::uint32_t> inside;
        for (std::uint32_t t = 0; t < subject_->surface.triangles.size(); ++t) {
            bool in = true;
            for (std::uint32_t v : subject_->surface.triangles[t])
                in &= std::abs(subject_->neutral[v].y()) < 0.2 + 1e-6;
            if (in)
                inside.push_back(t);
        }
        auto closed = closeVolume(subject_->surface, inside, subject_->neutral);
        if (!closed)
            qFatal("%s", closed.error().c_str());
        return *closed;
    }

    std::vector<Vec3> posed(const Vec3d& axis, double degrees, Skinning method) const {
        const Plan plan = turnPlan(axis, {degrees});
        std::vector<Vec3> out;
        deform(*subject_->character, poseAt(subject_->character->skeleton, plan.motions[0], degrees), method,
               out);
        return weldedPositions(subject_->surface, out);
    }

    double blendRatio(const std::vector<Vec3>& p) const {
        const ClosedVolume v = blendVolume();
        return volumeOf(subject_->surface, v, p) / v.neutral;
    }

    double midSection(const std::vector<Vec3>& p) const {
        std::vector<std::uint32_t> all(subject_->surface.triangles.size());
        for (std::uint32_t t = 0; t < all.size(); ++t)
            all[t] = t;
        const auto loop =
            sectionAround(subject_->surface, all, subject_->neutral, Vec3d::Zero(), Vec3d::UnitY());
        return sectionArea(*loop, p) / sectionArea(*loop, subject_->neutral);
    }

private slots:
    void initTestCase() {
        TubeSpec spec;
        spec.sides = 256;
        spec.rings = 512;
        subject_ = std::make_unique<Subject>(subjectOf(tube(spec)));
    }

    void linearTwist_data() {
        QTest::addColumn<double>("degrees");
        for (double d : {0., 10., 45., 90., 135., 180.})
            QTest::addRow("%g", d) << d;
    }
    void linearTwist() {
        QFETCH(double, degrees);
        const double a = radians(degrees);
        const auto p = posed(Vec3d::UnitY(), degrees, Skinning::Linear);
        QVERIFY(std::abs(midSection(p) - std::pow(std::cos(a / 2), 2)) < kWithin);
        QVERIFY(std::abs(blendRatio(p) - (1 - (1 - std::cos(a)) / 3)) < kWithin);
    }

    void linearBend_data() {
        QTest::addColumn<double>("degrees");
        for (double d : {0., 10., 45., 90., 120., 150.})
            QTest::addRow("%g", d) << d;
    }
    void linearBend() {
        QFETCH(double, degrees);
        const double a = radians(degrees);
        const auto p = posed(Vec3d::UnitX(), degrees, Skinning::Linear);
        QVERIFY(std::abs(midSection(p) - std::cos(a / 2)) < kWithin);
        QVERIFY(std::abs(blendRatio(p) - (1 - (1 - std::cos(a)) / 6)) < kWithin);
    }

    void dualQuaternionTwist_data() { linearTwist_data(); }
    void dualQuaternionTwist() {
        QFETCH(double, degrees);
        if (degrees > 179)
            return; // half a turn has no shorter way round: either side is as near
        const auto p = posed(Vec3d::UnitY(), degrees, Skinning::DualQuaternion);
        QVERIFY(std::abs(midSection(p) - 1) < kWithin);
        QVERIFY(std::abs(blendRatio(p) - 1) < kWithin);
    }

    // The zone is wider than the blend by a limb radius at either end, which the twist leaves as it was.
    void zoneOfLinearTwist() {
        const JointZone& zone = subject_->zones[1];
        QVERIFY(zone.volume.has_value());
        QVERIFY(std::abs(zone.limbRadius - 0.1) < 0.001);
        const double zoneLength = zone.volume->neutral / (kPi * 0.01);
        const auto m =
            measureZone(subject_->surface, subject_->rest, zone, posed(Vec3d::UnitY(), 90, Skinning::Linear));
        const double lost = 0.4 * (1.0 / 3) / zoneLength;
        QVERIFY2(std::abs(*m.volume - (1 - lost)) < kWithin, qPrintable(QString::number(*m.volume)));
        QVERIFY2(std::abs(*m.pinch - 0.5) < kWithin, qPrintable(QString::number(*m.pinch)));
    }

    void pinchOfLinearBend() {
        const auto m = measureZone(subject_->surface, subject_->rest, subject_->zones[1],
                                   posed(Vec3d::UnitX(), 90, Skinning::Linear));
        QVERIFY2(std::abs(*m.pinch - std::cos(kPi / 4)) < kWithin, qPrintable(QString::number(*m.pinch)));
    }

    // Turning the root moves the whole body: nothing is measured.
    void wholeBodyTurned_data() {
        QTest::addColumn<int>("method");
        QTest::newRow("linear") << int(Skinning::Linear);
        QTest::newRow("dual quaternion") << int(Skinning::DualQuaternion);
    }
    void wholeBodyTurned() {
        QFETCH(int, method);
        const Plan plan = turnPlan(Vec3d(1, 2, 3), {77}, 0);
        std::vector<Vec3> p;
        deform(*subject_->character, poseAt(subject_->character->skeleton, plan.motions[0], 77),
               Skinning(method), p);
        const auto m = measureZone(subject_->surface, subject_->rest, subject_->zones[1],
                                   weldedPositions(subject_->surface, p));
        for (double one : {m.stretch, m.squash, m.area, m.shear, *m.volume, *m.pinch})
            QVERIFY2(std::abs(one - 1) < 2e-4, qPrintable(QString::number(one, 'g', 9)));
    }
};

HOBBLE_TEST(TubeClosedForms)
#include "test_tube_closed_forms.moc"
