// How far animation goes along the plan: the plan's own poses have the extent they are named by; counts of a
// clip are what a slow count finds that looks where the posed bones point.
#include "core/exposure/fault_use.h"
#include "core/pose/clip_pose.h"
#include "core/words/exposure_words.h"
#include "io/character_read.h"
#include "support/suite.h"

#include <QTest>

#include <cmath>

using namespace hobble;

struct PlannedBody { // of the demo's cast, with its full plan
    Character character;
    std::vector<JointRole> roles;
    Plan plan;
};

namespace {

PlannedBody bodyOf(const char* file) {
    PlannedBody out;
    auto c = readCharacter(std::string(HOBBLE_DEMO_DIR "/") + file);
    if (c)
        out.character = std::move(*c);
    out.roles = guessRoles(out.character);
    out.plan = fullPlan(out.character, out.roles);
    return out;
}

// Degrees a turn goes about `axis`, by where the bone points once it is posed and how skin beside it has gone
// round with it: of a roll what is left when the bone is brought back, of a swing the part about the axis.
double goneAbout(const Vec3d& axis, const Vec3d& bone, const Quat& turn) {
    const bool roll = std::abs(axis.dot(bone)) > 0.7;
    const Vec3d along = roll ? axis : Vec3d(bone - bone.dot(axis) * axis).normalized();
    const Vec3d now = turn * along, about = along.cross(now);
    const double angle = std::atan2(about.norm(), along.dot(now));
    const Vec3d unit = about.norm() > 1e-9 ? about.normalized() : axis;
    if (!roll)
        return degrees(angle) * unit.dot(axis);
    const Vec3d mark = along.unitOrthogonal(), side = along.cross(mark);
    const Vec3d beside = Eigen::AngleAxisd(-angle, unit) * (turn * mark);
    return degrees(std::atan2(beside.dot(side), beside.dot(mark)));
}

ClipUse counted(const PlannedBody& b, const std::vector<Pose>& poses) {
    const MotionExtents extents(b.character, b.roles, b.plan);
    ClipUseCounter counter(extents);
    for (const Pose& p : poses)
        counter.add(p);
    ClipUse use = counter.finish(std::vector<char>(b.character.skeleton.name.size(), 1), true);
    use.clip = "clip";
    return use;
}

std::vector<std::string> idsOf(const Plan& plan) {
    std::vector<std::string> out;
    for (const Motion& m : plan.motions)
        out.push_back(m.id);
    return out;
}

} // namespace

class TestExposure : public QObject {
    Q_OBJECT

    PlannedBody badger_;

private slots:
    void initTestCase() {
        badger_ = bodyOf("badger-postmaster.glb");
        QVERIFY(!badger_.plan.motions.empty());
    }

    void aMotionsOwnPosesGoAsFarAsTheySay_data() {
        QTest::addColumn<QString>("file");
        for (const char* file : {"badger-postmaster.glb", "pack-goat.glb", "lighthouse-newt.glb"})
            QTest::newRow(file) << file;
    }
    void aMotionsOwnPosesGoAsFarAsTheySay() {
        QFETCH(QString, file);
        const PlannedBody b = bodyOf(file.toUtf8());
        const MotionExtents extents(b.character, b.roles, b.plan);
        std::vector<float> extent;
        std::size_t asked = 0;
        for (std::size_t m = 0; m < b.plan.motions.size(); ++m) {
            const Motion& motion = b.plan.motions[m];
            if (!extents.defined(m))
                continue;
            for (double at : motion.steps) {
                extents.of(poseAt(b.character.skeleton, motion, at), extent);
                QVERIFY2(std::abs(double(extent[m]) - at) < 0.01,
                         qPrintable(
                             QString("%1 at %2: %3").arg(motion.id.c_str()).arg(at).arg(double(extent[m]))));
                ++asked;
            }
        }
        QVERIFY(asked > 300);
    }

    void theOtherWayIsNoExtent() {
        const MotionExtents extents(badger_.character, badger_.roles, badger_.plan);
        std::vector<float> extent;
        const int up = badger_.plan.find("left-shoulder-front"),
                  down = badger_.plan.find("left-shoulder-back");
        QVERIFY(up >= 0 && down >= 0);
        extents.of(poseAt(badger_.character.skeleton, badger_.plan.motions[std::size_t(up)], 40), extent);
        QVERIFY(extent[std::size_t(up)] > 39.9f);
        QCOMPARE(extent[std::size_t(down)], 0.f);
        const int right = badger_.plan.find("right-shoulder-front");
        QCOMPARE(extent[std::size_t(right)], 0.f);
    }

    // A whole pose is reached as far as its laggard is.
    void aPoseIsReachedByAllItsJoints() {
        const auto pose =
            std::find_if(badger_.plan.motions.begin(), badger_.plan.motions.end(),
                         [](const Motion& m) { return m.span == Span::Percent && m.targets.empty(); });
        QVERIFY(pose != badger_.plan.motions.end());
        const auto at = std::size_t(pose - badger_.plan.motions.begin());
        const MotionExtents extents(badger_.character, badger_.roles, badger_.plan);
        Pose p = poseAt(badger_.character.skeleton, *pose, pose->limit());
        std::size_t most = 0;
        for (std::size_t j = 0; j < p.turn.size(); ++j)
            if (p.turn[j].angularDistance(Quat::Identity()) > p.turn[most].angularDistance(Quat::Identity()))
                most = j;
        std::vector<float> extent;
        p.turn[most] = Quat::Identity().slerp(0.25, p.turn[most]);
        extents.of(p, extent);
        QVERIFY2(std::abs(extent[at] - 25) < 0.1f, qPrintable(QString::number(double(extent[at]))));
    }

    void countsAreThoseOfASlowCount() {
        const Clip& clip = badger_.character.clips[0];
        std::vector<Pose> poses;
        for (double t = 0; t <= clip.seconds; t += 1.0 / 30)
            poses.push_back(poseAt(badger_.character, clip, t));
        Exposure e{idsOf(badger_.plan), {counted(badger_, poses)}, {}};
        const auto ranges = jointRanges(badger_.character, badger_.roles, badger_.plan);
        int compared = 0;
        std::size_t reached = 0;
        for (std::size_t m = 0; m < badger_.plan.motions.size(); ++m) {
            const Motion& motion = badger_.plan.motions[m];
            if (motion.span != Span::Degrees || motion.turns.size() != 1)
                continue;
            const JointTurn& turn = motion.turns[0];
            const auto j = std::size_t(turn.joint);
            std::vector<double> extents; // of the posed character's bones in the world
            for (const Pose& p : poses) {
                const auto world = worldTransforms(badger_.character.skeleton, p);
                const int parent = badger_.character.skeleton.parent[j];
                const Transform above = parent < 0 ? Transform::Identity() : world[std::size_t(parent)];
                const Quat turned = rotationOf(badger_.character.skeleton.neutralLocal[j]).inverse() *
                                    rotationOf(above).inverse() * rotationOf(world[j]);
                extents.push_back(goneAbout(turn.axis, ranges[j].frame * Vec3d::UnitZ(), turned));
            }
            for (double onset : {10.0, 23.0, 45.0, 62.0, 90.0, 120.0}) {
                std::size_t frames = 0, first = poses.size(), near = 0;
                for (std::size_t f = 0; f < extents.size(); ++f) {
                    if (std::abs(extents[f] - (onset - 0.5)) < 1e-3)
                        ++near;
                    if (extents[f] >= onset - 0.5) {
                        ++frames;
                        first = std::min(first, f);
                    }
                }
                if (near > 0)
                    continue;
                const UsePast past = usePast(e, int(m), onset);
                QCOMPARE(past.frames, frames);
                QCOMPARE(past.ofFrames, poses.size());
                QCOMPARE(past.firstClip, frames > 0 ? 0 : -1);
                if (frames > 0)
                    QCOMPARE(std::size_t(past.firstFrame), first);
                ++compared;
                reached += frames > 0;
            }
        }
        QVERIFY(compared > 300 && reached > 10);
    }

    // Left as right and right as left, by the plan's own fellows.
    void mirroredFramesAreTheOtherSides() {
        const int left = badger_.plan.find("left-elbow-flex"), right = badger_.plan.find("right-elbow-flex");
        std::vector<Pose> lefts, rights;
        for (double at : {10.0, 50.0, 95.0, 20.0}) {
            lefts.push_back(poseAt(badger_.character.skeleton, badger_.plan.motions[std::size_t(left)], at));
            rights.push_back(
                poseAt(badger_.character.skeleton, badger_.plan.motions[std::size_t(right)], at));
        }
        const ClipUse a = counted(badger_, lefts), b = counted(badger_, rights);
        QCOMPARE(a.motions[std::size_t(left)], b.motions[std::size_t(right)]);
        QCOMPARE(a.motions[std::size_t(right)], b.motions[std::size_t(left)]);
        QCOMPARE(a.motions[std::size_t(left)].frames.size(), std::size_t(95));
        QCOMPARE(a.motions[std::size_t(left)].frames[9], 4u); // all go to 10°
        QCOMPARE(a.motions[std::size_t(left)].frames[49], 2u);
        QCOMPARE(a.motions[std::size_t(left)].first[49], 1u);
        QCOMPARE(a.motions[std::size_t(left)].first[94], 2u);
    }

    void manyClipsAddUp() {
        const auto at = std::size_t(badger_.plan.find("left-elbow-flex"));
        Exposure e{idsOf(badger_.plan), {}, {}};
        const auto clip = [&](std::vector<double> degrees, const char* name) {
            std::vector<Pose> poses;
            for (double d : degrees)
                poses.push_back(poseAt(badger_.character.skeleton, badger_.plan.motions[at], d));
            e.clips.push_back(counted(badger_, poses));
            e.clips.back().clip = name;
        };
        clip({0, 20, 20, 20}, "idle");
        clip({0, 40, 80, 120}, "run_03");
        clip({100, 0}, "throw");
        // a clip that turns only the head tells nothing of elbows
        e.clips.push_back(e.clips.back());
        e.clips.back().motions[at] = {};
        const UsePast past = usePast(e, int(at), 75);
        QCOMPARE(past.frames, std::size_t(3));
        QCOMPARE(past.clips, std::size_t(2));
        QCOMPARE(past.ofClips, std::size_t(3));
        QCOMPARE(past.ofFrames, std::size_t(10));
        QCOMPARE(past.firstClip, 1);
        QCOMPARE(past.firstFrame, 2u);
        QCOMPARE(QString::fromStdString(wordsFor(e, past)),
                 QString("past it in 3 of 10 frames, in 2 of 3 clips, first in run_03 frame 2"));
        QCOMPARE(*furthest(e, int(at)), 120.0);
        QCOMPARE(QString::fromStdString(wordsFor(e, usePast(e, int(at), 121))),
                 QString("never reached in 10 frames of 3 clips"));
        QCOMPARE(QString::fromStdString(wordsFor(e, usePast(e, -1, 10))),
                 QString("no clip of the show moves this"));
        QCOMPARE(usePastPlan(e, badger_.plan.motions[at]).frames, std::size_t(0));
        Motion narrow = badger_.plan.motions[at];
        narrow.steps = stepsTo(100);
        QCOMPARE(usePastPlan(e, narrow).frames, std::size_t(1)); // 100° itself is planned
        const auto density = useDensity(e, int(at), 120, 12);
        double all = 0;
        for (double share : density)
            all += share;
        QVERIFY(std::abs(all - 0.95) < 1e-9); // half of the frame at 120° lies past the last bin
        QVERIFY(std::abs(density[0] - 0.3) < 1e-9);
        QVERIFY(std::abs(density[1] - 0.15) < 1e-9 && std::abs(density[2] - 0.15) < 1e-9);
    }

    void limitsDoNotChangeTheKey() {
        Plan wider = badger_.plan;
        for (Motion& m : wider.motions)
            if (m.span == Span::Degrees)
                m.steps = stepsTo(m.limit() + 10);
        const MotionExtents a(badger_.character, badger_.roles, badger_.plan),
            b(badger_.character, badger_.roles, wider);
        QCOMPARE(a.key(), b.key());
        Plan other = badger_.plan;
        other.motions.pop_back();
        QVERIFY(MotionExtents(badger_.character, badger_.roles, other).key() != a.key());
    }

    // A fault's own words are by the sign that animation reaches most.
    void ofAFault() {
        const auto flex = badger_.plan.find("left-elbow-flex"),
                   raise = badger_.plan.find("left-shoulder-raise");
        std::vector<Pose> poses{
            poseAt(badger_.character.skeleton, badger_.plan.motions[std::size_t(raise)], 60)};
        Exposure e{idsOf(badger_.plan), {counted(badger_, poses)}, {}};
        RunResult run;
        run.plan = badger_.plan;
        run.findings.resize(2);
        run.findings[0].motion = flex;
        run.findings[0].onset = 30;
        run.findings[1].motion = raise;
        run.findings[1].onset = 50;
        Fault fault;
        fault.signs = {0, 1};
        QCOMPARE(faultUse(e, run, fault).finding, 1);
        QCOMPARE(faultUse(e, run, fault).past.frames, std::size_t(1));
        run.findings[1].onset = 70;
        QCOMPARE(faultUse(e, run, fault).finding, 0);
        QVERIFY(faultUse(e, run, fault).past.known());
        QCOMPARE(faultUse(e, run, fault).past.frames, std::size_t(0));
    }
};

HOBBLE_TEST(TestExposure)
#include "test_exposure.moc"
