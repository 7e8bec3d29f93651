// Poses carried from one body to another: the limbs point the same way, the joints bend by as much, the feet
// come down where they should, whatever the proportions, the rest pose, the unit and the names.
#include "core/pose/clip_pose.h"
#include "core/pose/retarget.h"
#include "core/pose/role_pose.h"
#include "io/bvh_read.h"
#include "io/character_read.h"
#include "io/clip_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <QTest>

using namespace hobble;
using namespace hobble::test;

namespace {

constexpr const char* kCaptures = "/usr/share/assimp/models/BVH/";

struct Chain {
    Role from, to;
    Side side;
};
const Chain kChains[] = {
    {Role::Shoulder, Role::Elbow, Side::Left}, {Role::Shoulder, Role::Elbow, Side::Right},
    {Role::Elbow, Role::Wrist, Side::Left},    {Role::Elbow, Role::Wrist, Side::Right},
    {Role::Hip, Role::Knee, Side::Left},       {Role::Hip, Role::Knee, Side::Right},
    {Role::Knee, Role::Ankle, Side::Left},     {Role::Knee, Role::Ankle, Side::Right}};

int jointOf(const std::vector<JointRole>& roles, Role role, Side side) {
    for (std::size_t j = 0; j < roles.size(); ++j)
        if (roles[j].role == role && roles[j].side == side)
            return int(j);
    return -1;
}

// Where a limb points, in the directions its body stands in.
Vec3d pointing(const std::vector<Transform>& world, const std::vector<JointRole>& roles,
               const BodyFrame& body, const Chain& l) {
    const Vec3d d = (world[jointOf(roles, l.to, l.side)].translation() -
                     world[jointOf(roles, l.from, l.side)].translation())
                        .normalized();
    return Vec3d(d.dot(body.left), d.dot(body.up), d.dot(body.forward));
}

double degreesApart(const Vec3d& a, const Vec3d& b) {
    return degrees(std::atan2(a.cross(b).norm(), a.dot(b)));
}

} // namespace

class TestRetarget : public QObject {
    Q_OBJECT

    Character badger_;
    std::vector<JointRole> roles_;
    std::vector<JointRange> ranges_;

    std::vector<double> moments(const ClipFile& f, int count) const {
        std::vector<double> out;
        for (int i = 0; i < count; ++i)
            out.push_back(f.body.clips[0].seconds * i / (count - 1));
        return out;
    }

private slots:
    void initTestCase() {
        auto c = readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
        QVERIFY2(c, c ? "" : c.error().c_str());
        badger_ = std::move(*c);
        roles_ = guessRoles(badger_);
        ranges_ = jointRanges(badger_, roles_, defaultPlan(badger_, roles_));
    }

    void limbsPointTheSameWay_data() {
        QTest::addColumn<QString>("path");
        QTest::newRow("long limbs, arms out") << QStringLiteral(HOBBLE_DEMO_DIR "/long-limbed.bvh");
        for (const char* name : {"01_01.bvh", "01_03.bvh", "Boxing_Toes.bvh"})
            QTest::newRow(name) << QString::fromLatin1(kCaptures) + QLatin1String(name);
    }

    void limbsPointTheSameWay() {
        QFETCH(QString, path);
        if (!QFile::exists(path))
            QSKIP("the public captures are not installed here");
        const auto file = readClips(path.toStdString());
        QVERIFY2(file, file ? "" : file.error().c_str());
        const Retargeter r(file->body, file->body.clips[0], badger_, roles_, ranges_, {});
        const auto at = moments(*file, 60);
        const auto poses = r.poses(at);
        QCOMPARE(poses.size(), at.size());
        const BodyFrame theirs = bodyFrame(file->body, r.sourceRoles()), ours = bodyFrame(badger_, roles_);
        double worst = 0, sum = 0, worstBend = 0;
        for (std::size_t i = 0; i < poses.size(); ++i) {
            const auto there =
                worldTransforms(file->body.skeleton, poseAt(file->body, file->body.clips[0], at[i]));
            const auto here = worldTransforms(badger_.skeleton, poses[i]);
            std::vector<Vec3d> a, b;
            for (const Chain& l : kChains) {
                QVERIFY(jointOf(r.sourceRoles(), l.from, l.side) >= 0 &&
                        jointOf(r.sourceRoles(), l.to, l.side) >= 0);
                a.push_back(pointing(there, r.sourceRoles(), theirs, l));
                b.push_back(pointing(here, roles_, ours, l));
                worst = std::max(worst, degreesApart(a.back(), b.back()));
                sum += degreesApart(a.back(), b.back());
            }
            for (std::size_t k : {0, 1, 4, 5}) // elbows and knees bend by as much
                worstBend = std::max(worstBend,
                                     std::abs(degreesApart(a[k], a[k + 2]) - degreesApart(b[k], b[k + 2])));
        }
        qInfo("%s: limbs %.3f° apart at most, %.3f° on the mean; bends %.3f°", qPrintable(path), worst,
              sum / double(poses.size() * std::size(kChains)), worstBend);
        QVERIFY(worst < 0.5);
        QVERIFY(worstBend < 0.5);
    }

    // Over the ground by as much of a leg as the other body's feet, whatever the unit of the file.
    void feetComeDown() {
        const QString path = QString::fromLatin1(kCaptures) + QStringLiteral("01_01.bvh");
        if (!QFile::exists(path))
            QSKIP("the public captures are not installed here");
        const auto file = readClips(path.toStdString());
        QVERIFY(file);
        const Retargeter r(file->body, file->body.clips[0], badger_, roles_, ranges_, {});
        const auto at = moments(*file, 120);
        const auto poses = r.poses(at);
        const PlacedBody to = placedBody(badger_, roles_);
        const Vec3d up = to.axes * Vec3d::UnitY();
        double stood = 1e9, lowest = 1e9;
        for (Side side : {Side::Left, Side::Right})
            stood = std::min(
                stood,
                badger_.skeleton.neutralWorld[jointOf(roles_, Role::Ankle, side)].translation().dot(up));
        std::vector<double> lows;
        for (const Pose& p : poses) {
            const auto world = worldTransforms(badger_.skeleton, p);
            lowest = 1e9;
            for (Side side : {Side::Left, Side::Right})
                lowest =
                    std::min(lowest, world[jointOf(roles_, Role::Ankle, side)].translation().dot(up) - stood);
            lows.push_back(lowest / to.hipsHeight);
        }
        std::sort(lows.begin(), lows.end());
        qInfo("the lower ankle over the ground, / hips' height: least %.3f, median %.3f, most %.3f",
              lows.front(), lows[lows.size() / 2], lows.back());
        QVERIFY(lows.front() > -0.12); // not through the floor
        QVERIFY(std::abs(lows[lows.size() / 2]) < 0.12);
        QVERIFY(lows.back() > 0.12); // it is a jump
    }

    // Feet that stand slide on a body of other proportions, unless they are kept.
    void feetDoNotSlide_data() {
        QTest::addColumn<QString>("path");
        QTest::newRow("demo") << QStringLiteral(HOBBLE_DEMO_DIR "/long-limbed.bvh");
        for (const char* name : {"01_01.bvh", "01_03.bvh", "Boxing_Toes.bvh"})
            QTest::newRow(name) << QString::fromLatin1(kCaptures) + QLatin1String(name);
    }

    void feetDoNotSlide() {
        QFETCH(QString, path);
        if (!QFile::exists(path))
            QSKIP("the public captures are not installed here");
        const auto file = readClips(path.toStdString());
        QVERIFY(file);
        const Clip& clip = file->body.clips[0];
        std::vector<double> at;
        for (double t = 0; t < std::min(clip.seconds, 12.0); t += 1 / 30.0)
            at.push_back(t);
        RetargetSettings kept;
        kept.keepFeet = true;
        const auto free = Retargeter(file->body, clip, badger_, roles_, ranges_, {}).poses(at),
                   held = Retargeter(file->body, clip, badger_, roles_, ranges_, kept).poses(at);
        const auto sourceRoles = guessRoles(file->body);
        const double leg = placedBody(file->body, sourceRoles).hipsHeight;
        // While the clip's own foot stands, how far the character's goes from where it stood first.
        double worstFree = 0, worstHeld = 0;
        int stood = 0, stands = 0;
        for (Side side : {Side::Left, Side::Right}) {
            const int theirs = jointOf(sourceRoles, Role::Ankle, side),
                      ours = jointOf(roles_, Role::Ankle, side);
            const auto place = [&](const Character& c, const Pose& p, int j) {
                return Vec3d(worldTransforms(c.skeleton, p)[std::size_t(j)].translation());
            };
            bool standing = false;
            Vec3d freeFrom = Vec3d::Zero(), heldFrom = Vec3d::Zero();
            for (std::size_t i = 1; i < at.size(); ++i) {
                const double still = (place(file->body, poseAt(file->body, clip, at[i]), theirs) -
                                      place(file->body, poseAt(file->body, clip, at[i - 1]), theirs))
                                         .norm();
                const Vec3d freeAt = place(badger_, free[i], ours), heldAt = place(badger_, held[i], ours);
                if (still > 0.002 * leg) {
                    standing = false;
                    continue;
                }
                if (!standing) {
                    ++stands;
                    freeFrom = freeAt;
                    heldFrom = heldAt;
                }
                standing = true;
                ++stood;
                worstFree = std::max(worstFree, (freeAt - freeFrom).norm());
                worstHeld = std::max(worstHeld, (heldAt - heldFrom).norm());
            }
        }
        qInfo("a foot stands %d times, %d frames in all: it goes %.1f mm away at most, kept %.2f mm", stands,
              stood, 1000 * worstFree, 1000 * worstHeld);
        QVERIFY(stood > 20);
        QVERIFY(worstHeld <= 0.002);
    }

    // Its own clip, and its own skeleton read back from BVH.
    void itsOwnClipIsTakenAsItIs() {
        QVERIFY(!badger_.clips.empty());
        const Retargeter r(badger_, badger_.clips[0], badger_, roles_, ranges_, {});
        QVERIFY(r.asItIs());
        const auto poses = r.poses({3.2});
        const Pose own = poseAt(badger_, badger_.clips[0], 3.2);
        for (std::size_t j = 0; j < own.turn.size(); ++j)
            QVERIFY(poses[0].turn[j].angularDistance(own.turn[j]) < 1e-9);
        const auto bvh = readClips(HOBBLE_DEMO_DIR "/badger-postmaster.bvh"); // the same joints, other axes
        QVERIFY(bvh);
        const Retargeter other(bvh->body, bvh->body.clips[0], badger_, roles_, ranges_, {});
        QVERIFY(!other.asItIs());
        const auto back = other.poses({3.2});
        const auto a = worldTransforms(badger_.skeleton, own), b = worldTransforms(badger_.skeleton, back[0]);
        const int hips = badger_.skeleton.find("pelvis");
        for (const char* name : {"hand.L", "hand.R", "foot.L", "head"}) {
            const int j = badger_.skeleton.find(name);
            const double apart =
                ((a[j].translation() - a[hips].translation()) - (b[j].translation() - b[hips].translation()))
                    .norm();
            QVERIFY2(apart < 0.01, qPrintable(QStringLiteral("%1 %2").arg(QLatin1String(name)).arg(apart)));
        }
        QVERIFY2((a[hips].translation() - b[hips].translation()).norm() < 0.02,
                 qPrintable(QString::number((a[hips].translation() - b[hips].translation()).norm())));
    }

    void whatIsMissingIsToldAndTheRestUsable() {
        auto file = readClips(HOBBLE_DEMO_DIR "/long-limbed.bvh");
        QVERIFY(file);
        Character cut = file->body; // without its left arm: its joints lose their names
        for (std::string& n : cut.skeleton.name)
            if (n.find("arm.L") != std::string::npos || n.find("hand.L") != std::string::npos)
                n = "thing" + std::to_string(n.size());
        // where it stands and what it hangs from still say what it is
        const Retargeter byPlace(cut, cut.clips[0], badger_, roles_, ranges_, {});
        QVERIFY(byPlace.map()[std::size_t(badger_.skeleton.find("upper_arm.L"))].joint >= 0);
        // a body that has no left arm
        const Character whole = cut;
        std::vector<int> now(whole.skeleton.name.size(), -1);
        cut.skeleton = {};
        for (std::size_t j = 0; j < now.size(); ++j) {
            if (whole.skeleton.name[j].rfind("thing", 0) == 0 ||
                (whole.skeleton.parent[j] >= 0 && now[std::size_t(whole.skeleton.parent[j])] < 0))
                continue;
            now[j] = cut.skeleton.size();
            cut.skeleton.name.push_back(whole.skeleton.name[j]);
            cut.skeleton.parent.push_back(
                whole.skeleton.parent[j] < 0 ? -1 : now[std::size_t(whole.skeleton.parent[j])]);
            cut.skeleton.neutralLocal.push_back(whole.skeleton.neutralLocal[j]);
            cut.skeleton.neutralWorld.push_back(whole.skeleton.neutralWorld[j]);
            if (!whole.skeleton.restWorld.empty())
                cut.skeleton.restWorld.push_back(whole.skeleton.restWorld[j]);
        }
        cut.clips.front().channels.clear();
        for (const ClipChannel& channel : whole.clips.front().channels)
            if (channel.joint < 0 || now[std::size_t(channel.joint)] >= 0) {
                cut.clips.front().channels.push_back(channel);
                if (channel.joint >= 0)
                    cut.clips.front().channels.back().joint = now[std::size_t(channel.joint)];
            }
        const Retargeter r(cut, cut.clips[0], badger_, roles_, ranges_, {});
        QVERIFY(std::any_of(r.notes().begin(), r.notes().end(),
                            [](const std::string& n) { return n.find("upper_arm.L") != std::string::npos; }));
        QCOMPARE(r.poses({1.0, 2.0}).size(), std::size_t(2));
        // and said by hand it is there again
        RetargetSettings said;
        for (std::size_t j = 0; j < whole.skeleton.name.size(); ++j)
            if (whole.skeleton.name[j] != file->body.skeleton.name[j])
                said.said[file->body.skeleton.name[j]] = whole.skeleton.name[j];
        const Retargeter mended(whole, whole.clips[0], badger_, roles_, ranges_, said);
        const int arm = badger_.skeleton.find("upper_arm.L");
        QVERIFY(mended.map()[std::size_t(arm)].said && mended.map()[std::size_t(arm)].joint >= 0);
    }

    void zeroLengthBonesAndGimbalFlips() {
        // all offsets nothing, angles at and about the pole of the order of rotation
        const std::string text =
            "HIERARCHY\nROOT Hips\n{\nOFFSET 0 0 0\nCHANNELS 6 Xposition Yposition Zposition Zrotation "
            "Xrotation "
            "Yrotation\nJOINT LeftUpLeg\n{\nOFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nJOINT "
            "LeftLeg\n{\n"
            "OFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 0 "
            "0\n}\n}\n}\n}\nMOTION\n"
            "Frames: 3\nFrame Time: 0.04\n0 0 0 0 0 0 0 89.9 0 0 90 0\n0 0 0 0 0 0 180 90.1 180 180 90 180\n"
            "0 0 0 0 0 0 0 90 0 360 -90 -360\n";
        const auto capture = bvhFromText(text);
        QVERIFY2(capture, capture ? "" : capture.error().c_str());
        Character body;
        body.skeleton = capture->skeleton;
        const Retargeter r(body, capture->clip, badger_, roles_, ranges_, {});
        const auto poses = r.poses({0, 0.04, 0.08});
        QCOMPARE(poses.size(), std::size_t(3));
        for (const Pose& p : poses)
            for (const Quat& q : p.turn)
                QVERIFY(q.coeffs().allFinite());
        QVERIFY(std::any_of(r.notes().begin(), r.notes().end(),
                            [](const std::string& n) { return n.find("no length") != std::string::npos; }));
        // the two frames beside the pole are one pose told by two sets of angles: no flip
        const int leg = badger_.skeleton.find("thigh.L");
        QVERIFY(degrees(poses[0].turn[leg].angularDistance(poses[1].turn[leg])) < 1);
    }

    // A clip of ten hours is looked at without being laid out.
    void tenHours() {
        Clip clip = badger_.clips[0];
        const float last = clip.channels[0].time.back();
        for (ClipChannel& ch : clip.channels)
            for (float& t : ch.time)
                t *= 36000 / last;
        clip.seconds = 36000;
        const Retargeter r(badger_, clip, badger_, roles_, ranges_, {});
        QCOMPARE(r.poses({0, 18000, 36000}).size(), std::size_t(3));
    }

    // A pose kept by roles and put back on is the pose; on a body with other arms the limbs point the same
    // way.
    void poseOfTheShelf() {
        const Pose pose = poseAt(badger_, badger_.clips[0], 5.0);
        const RolePose kept = rolePoseOf(badger_, roles_, pose, "reach");
        const Pose back = poseFor(kept, badger_, roles_);
        const auto a = worldTransforms(badger_.skeleton, pose), b = worldTransforms(badger_.skeleton, back);
        for (const char* name : {"hand.L", "hand.R", "foot.L", "foot.R", "head"}) {
            const int j = badger_.skeleton.find(name);
            QVERIFY2((a[j].translation() - b[j].translation()).norm() < 1e-6, name);
        }
        const auto other = readClips(HOBBLE_DEMO_DIR "/long-limbed.bvh");
        QVERIFY(other);
        Character body = other->body;
        const auto roles = guessRoles(body);
        std::vector<std::string> missing;
        const Pose there = poseFor(kept, body, roles, &missing);
        const BodyFrame ours = bodyFrame(badger_, roles_), theirs = bodyFrame(body, roles);
        const auto c = worldTransforms(body.skeleton, there);
        for (const Chain& l : kChains)
            QVERIFY(degreesApart(pointing(a, roles_, ours, l), pointing(c, roles, theirs, l)) < 0.5);
    }

    void leftBecomesRight() {
        const Pose pose = poseAt(badger_, badger_.clips[0], 3.2);
        const Pose m = mirrored(badger_, roles_, pose), twice = mirrored(badger_, roles_, m);
        const auto a = worldTransforms(badger_.skeleton, pose), b = worldTransforms(badger_.skeleton, m);
        const BodyFrame body = bodyFrame(badger_, roles_);
        for (std::size_t j = 0; j < roles_.size(); ++j) {
            QVERIFY(pose.turn[j].angularDistance(twice.turn[j]) < 1e-6);
            if (roles_[j].mirror < 0)
                continue;
            const Vec3d p = a[j].translation(), q = b[std::size_t(roles_[j].mirror)].translation();
            QVERIFY(std::abs(p.dot(body.left) + q.dot(body.left)) < 2e-3);
            QVERIFY(std::abs(p.dot(body.up) - q.dot(body.up)) < 2e-3);
        }
        const Pose copied = copiedFrom(badger_, roles_, pose, Side::Left);
        const int left = badger_.skeleton.find("forearm.L");
        QVERIFY(copied.turn[left].angularDistance(pose.turn[left]) < 1e-12);
    }
};

HOBBLE_TEST(TestRetarget)
#include "test_retarget.moc"
