// Lag: skin beyond a joint that misses part of its turn, by as much as it was made to.
#include "core/measure/lag.h"
#include "core/run/run.h"
#include "support/arms.h"
#include "support/suite.h"
#include "support/tube.h"

using namespace hobble;
using namespace hobble::test;

namespace {

// The left forearm keeps a share on the upper arm, all along: nothing stretches, all of it stays behind.
Subject heldBackBy(double share) {
    return subjectOf(arms({.weights = [share](const ArmVertex& v) {
        Influences out = plainArm(v, 0.1);
        if (!v.left)
            return out;
        double moved = 0;
        for (auto& [joint, weight] : out)
            if (joint == v.fore || joint == v.hand) {
                moved += share * weight;
                weight *= 1 - share;
            }
        out.push_back({v.upper, moved});
        return out;
    }}));
}

Motion bend(int joint, bool roll = false) {
    return turnPlan(roll ? Vec3d::UnitY() : Vec3d::UnitX(), {0, 30, 60, 90, 0}, joint, roll).motions.front();
}

} // namespace

class TestLag : public QObject {
    Q_OBJECT

private slots:
    void missesWhatWasTaken() {
        for (double share : {0.25, 0.4, 0.6}) {
            const Subject s = heldBackBy(share);
            const Samples missing = missingTurn(s, bend(kLeftElbow), 0.1f);
            QVERIFY2(missing.size() > 100, qPrintable(QString::number(missing.size())));
            for (const Sample& x : missing) {
                const float y = s.neutral[x.at].y(); // of a limb of radius 0.1
                QVERIFY(y > 0.12f);                  // beyond the joint
                const float passage =
                    std::max(0.f, 0.5f - y / 0.1f / 4.2f); // that the longest blend misses there
                QVERIFY(std::abs(x.value - (static_cast<float>(share) - passage)) < 0.03f);
                QVERIFY(y < 0.22f || std::abs(x.value - static_cast<float>(share)) < 0.01f);
            }
            QVERIFY(missingTurn(s, bend(kRightElbow), 0.1f).empty());
        }
        QVERIFY(missingTurn(heldBackBy(0), bend(kLeftElbow), 0.1f).empty());
    }

    void notOfARoll() { QVERIFY(missingTurn(heldBackBy(0.4), bend(kLeftElbow, true), 0.1f).empty()); }

    // A vertex at y turns by its share less: it is left behind by the chord of that angle.
    void seenWhereItShows() {
        const Subject s = heldBackBy(0.4);
        const Motion motion = bend(kLeftElbow);
        const Samples missing = missingTurn(s, motion, 0.1f);
        QVERIFY(leftBehind(s, motion, missing, 0, 1e-6).empty());
        const auto pivot = s.character->skeleton.neutralWorld[kLeftElbow].translation();
        for (double degrees : {20.0, 90.0})
            for (double visible : {0.05, 0.12}) {
                const Samples behind = leftBehind(s, motion, missing, degrees, visible);
                std::size_t wanted = 0;
                for (const Sample& x : missing) {
                    const Vec3d d = s.neutral[x.at].cast<double>() - pivot;
                    const double arm = std::hypot(d.y(), d.z()); // about X
                    wanted +=
                        2 * arm * std::sin(radians(degrees) * static_cast<double>(x.value) / 2) > visible;
                }
                QCOMPARE(behind.size(), wanted);
            }
    }

    // Found by a run, at the joint that is held, though nothing there stretches or loses volume.
    void isFound() {
        const Subject s = heldBackBy(0.4);
        const RunResult r = runPlan(s, fullPlan(*s.character, s.roles));
        bool found = false;
        for (const Finding& f : r.findings)
            if (f.kind == Kind::Lag) {
                found = true;
                QCOMPARE(f.joint, kLeftElbow);
                QVERIFY(std::abs(f.peakValue - 0.4) < 0.02);
                QCOMPARE(f.severity, 2);
            }
        QVERIFY(found);
    }
};

HOBBLE_TEST(TestLag)
#include "test_lag.moc"
