#include "core/pose/retarget.h"
#include "core/words/say.h"

#include "core/pose/clip_pose.h"
#include "core/pose/inverse_kinematics.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

bool isFoot(const JointRole& r) {
    return r.role == Role::Ankle || r.role == Role::Toe || r.role == Role::Fetlock ||
           (r.fore && r.role == Role::Wrist);
}

// Limbs are brought to point the same way; trunks, heads and feet stand upright and flat in any body's rest.
bool isAligned(Role r) {
    return r == Role::Shoulder || r == Role::Elbow || r == Role::Wrist || r == Role::Hip || r == Role::Knee;
}

Quat shortest(const Vec3d& from, const Vec3d& to) {
    return from.norm() < 0.5 || to.norm() < 0.5 ? Quat::Identity() : turnFromTo(from, to);
}

// The joints of one chain, in its order: spine, a finger, a tail.
std::vector<int> chainOf(const std::vector<PlacedJoint>& all, const JointPlace& place) {
    std::vector<int> out;
    for (std::size_t j = 0; j < all.size(); ++j) {
        const JointPlace& p = all[j].place;
        if (p.role == place.role && p.side == place.side && p.fore == place.fore && p.digit == place.digit)
            out.push_back(static_cast<int>(j));
    }
    std::stable_sort(out.begin(), out.end(), [&](int a, int b) {
        return all[static_cast<std::size_t>(a)].place.segment <
               all[static_cast<std::size_t>(b)].place.segment;
    });
    return out;
}

bool isChain(Role r) {
    return r == Role::Spine || r == Role::Neck || r == Role::Tail || r == Role::Finger || r == Role::Thumb ||
           r == Role::Toe || r == Role::Ear || r == Role::Tongue || r == Role::Wing || r == Role::Trunk;
}

bool isCarried(const JointPlace& p) {
    switch (p.role) {
    case Role::Unknown:
    case Role::Root:
    case Role::Twist:
    case Role::Helper:
    case Role::Control:
    case Role::End:
        return false;
    case Role::Pelvis: // "left hip → left thigh": what lies between pelvis and leg
        return p.side == Side::Middle;
    default:
        return true;
    }
}

// The nearest digit the source has: all fingers follow one where there is only one.
JointPlace nearestDigit(const std::vector<PlacedJoint>& from, JointPlace place) {
    int best = -1;
    for (const PlacedJoint& j : from)
        if (j.place.role == place.role && j.place.side == place.side && j.place.fore == place.fore &&
            (best < 0 || std::abs(j.place.digit - place.digit) < std::abs(best - place.digit)))
            best = j.place.digit;
    place.digit = best;
    return place;
}

// Metres by which the hips go down so that a leg of that length reaches a foot's place; `way` from the leg's
// upper end to the place.
double dropToReach(const Vec3d& way, const Vec3d& up, double leg) {
    const double down = -way.dot(up), over = way.squaredNorm() - leg * leg;
    if (over <= 0 || down <= 0)
        return 0;
    return down - std::sqrt(std::max(0.0, down * down - over));
}

} // namespace

PlacedBody placedBody(const Character& c, const std::vector<JointRole>& roles) {
    PlacedBody out;
    const BodyFrame body = bodyFrame(c, roles);
    Eigen::Matrix3d axes;
    axes << body.left, body.up, body.forward;
    out.axes = Quat(axes);
    out.quadruped = body.quadruped;
    const Skeleton& sk = c.skeleton;
    std::vector<int> thighs;
    for (int j = 0; j < sk.size(); ++j) {
        const JointRole& r = roles[static_cast<std::size_t>(j)];
        const Vec3d bone = boneDirection(c, roles, j);
        out.joints.push_back({{r.role, r.side, r.fore, r.digit, r.segment},
                              sk.name[static_cast<std::size_t>(j)],
                              sk.parent[static_cast<std::size_t>(j)],
                              bone.norm() > 0.5 ? Vec3d(out.axes.inverse() * bone) : Vec3d::Zero()});
        if (r.role == Role::Hip && !r.fore)
            thighs.push_back(j);
    }
    if (!thighs.empty()) {
        std::vector<char> above(static_cast<std::size_t>(sk.size()), 0);
        for (int a = sk.parent[static_cast<std::size_t>(thighs.front())]; a >= 0;
             a = sk.parent[static_cast<std::size_t>(a)])
            above[static_cast<std::size_t>(a)] = 1;
        int shared = sk.parent[static_cast<std::size_t>(thighs.back())];
        while (shared >= 0 && !above[static_cast<std::size_t>(shared)])
            shared = sk.parent[static_cast<std::size_t>(shared)];
        out.hips = shared;
    } else {
        for (int j = 0; j < sk.size() && out.hips < 0; ++j)
            if (roles[static_cast<std::size_t>(j)].role == Role::Pelvis)
                out.hips = j;
    }
    if (out.hips >= 0) {
        const double at = sk.neutralWorld[static_cast<std::size_t>(out.hips)].translation().dot(body.up);
        double lowest = at;
        for (int j = 0; j < sk.size(); ++j)
            if (isFoot(roles[static_cast<std::size_t>(j)]))
                lowest =
                    std::min(lowest, sk.neutralWorld[static_cast<std::size_t>(j)].translation().dot(body.up));
        out.hipsHeight = at - lowest;
    }
    return out;
}

JointMap matchJoints(const std::vector<PlacedJoint>& from, const std::vector<PlacedJoint>& to, int fromHips,
                     int toHips, const std::map<std::string, std::string>& said) {
    JointMap out(to.size());
    for (std::size_t j = 0; j < to.size(); ++j) {
        if (const auto word = said.find(to[j].name); word != said.end()) {
            out[j].said = true;
            for (std::size_t k = 0; k < from.size(); ++k)
                if (!word->second.empty() && from[k].name == word->second)
                    out[j].joint = static_cast<int>(k);
            continue;
        }
        if (static_cast<int>(j) == toHips) {
            out[j].joint = fromHips;
            continue;
        }
        JointPlace place = to[j].place;
        if (!isCarried(place))
            continue;
        if (place.role == Role::Finger || place.role == Role::Toe)
            place = nearestDigit(from, place);
        const std::vector<int> theirs = chainOf(from, place);
        if (theirs.empty())
            continue;
        if (!isChain(place.role)) {
            const auto at = std::min<std::size_t>(static_cast<std::size_t>(std::max(place.segment, 0)),
                                                  theirs.size() - 1);
            out[j].joint = theirs[at];
            continue;
        }
        const std::vector<int> ours = chainOf(to, to[j].place);
        const auto n = static_cast<double>(theirs.size());
        const double at =
            n *
            (static_cast<double>(std::find(ours.begin(), ours.end(), static_cast<int>(j)) - ours.begin()) +
             1) /
            static_cast<double>(ours.size());
        const auto k = static_cast<std::size_t>(std::clamp(std::ceil(at - 1e-9) - 1, 0.0, n - 1));
        out[j].joint = theirs[k];
        out[j].share = std::clamp(at - static_cast<double>(k), 0.0, 1.0);
        out[j].before = k > 0 ? theirs[k - 1] : from[static_cast<std::size_t>(theirs[0])].parent;
    }
    return out;
}

std::vector<Quat> bodyTurns(const Character& c, const PlacedBody& body, const Pose& pose) {
    const auto world = worldTransforms(c.skeleton, pose);
    std::vector<Quat> out;
    for (std::size_t j = 0; j < world.size(); ++j)
        out.push_back((body.axes.inverse() * rotationOf(world[j]) *
                       rotationOf(c.skeleton.neutralWorld[j]).inverse() * body.axes)
                          .normalized());
    return out;
}

Pose carryPose(const std::vector<PlacedJoint>& from, const std::vector<Quat>& turned, const Character& to,
               const PlacedBody& body, const JointMap& map) {
    Pose pose = Pose::neutral(to.skeleton);
    const Skeleton& sk = to.skeleton;
    std::vector<Quat> world(sk.name.size()), align(sk.name.size(), Quat::Identity());
    for (int i = 0; i < sk.size(); ++i) {
        const auto j = static_cast<std::size_t>(i);
        const int p = sk.parent[j];
        const Quat above = p < 0 ? Quat::Identity() : world[static_cast<std::size_t>(p)];
        const Quat stands = above * rotationOf(sk.neutralLocal[j]);
        const PlacedJoint& mine = body.joints[j];
        const Role role = mine.place.role;
        if (p >= 0 && role != Role::Ankle && role != Role::Hip && role != Role::Collarbone &&
            role != Role::Scapula)
            align[j] = align[static_cast<std::size_t>(p)];
        const JointSource& source = map[j];
        if (source.joint < 0) {
            world[j] = stands;
            continue;
        }
        const auto theirs = static_cast<std::size_t>(source.joint);
        if (isAligned(role))
            align[j] = shortest(align[j] * mine.bone, from[theirs].bone) * align[j];
        Quat turn = turned[theirs];
        if (source.share < 1)
            turn = (source.before >= 0 ? turned[static_cast<std::size_t>(source.before)] : Quat::Identity())
                       .slerp(source.share, turn);
        turn = body.axes * (turn * align[j]) * body.axes.inverse();
        world[j] = (turn * rotationOf(sk.neutralWorld[j])).normalized();
        pose.turn[j] = (stands.inverse() * world[j]).normalized();
    }
    return pose;
}

Retargeter::Retargeter(const Character& source, const Clip& clip, const Character& target,
                       const std::vector<JointRole>& targetRoles, const std::vector<JointRange>& ranges,
                       const RetargetSettings& settings)
    : clip_(clip), target_(target), targetRoles_(targetRoles), ranges_(ranges), settings_(settings) {
    source_.name = source.name;
    source_.skeleton = source.skeleton;
    const Skeleton& a = source.skeleton;
    const Skeleton& b = target.skeleton;
    same_ = a.name == b.name && settings.restSeconds < 0 && settings.said.empty();
    for (std::size_t j = 0; same_ && j < a.name.size(); ++j)
        same_ = a.parent[j] == b.parent[j] && a.neutralLocal[j].isApprox(b.neutralLocal[j], 1e-4);
    if (settings.restSeconds >= 0 && !same_) {
        const auto world = worldTransforms(a, poseAt(source_, clip_, settings.restSeconds));
        // the skeleton as it stands at that moment; its clip stays told against the file's rest
        Skeleton& rest = source_.skeleton;
        for (std::size_t j = 0; j < world.size(); ++j) {
            rest.neutralWorld[j] = world[j];
            const int p = rest.parent[j];
            rest.neutralLocal[j] = p < 0 ? world[j] : world[static_cast<std::size_t>(p)].inverse() * world[j];
        }
    }
    sourceRoles_ = guessRoles(source_);
    from_ = placedBody(source_, sourceRoles_);
    to_ = placedBody(target, targetRoles);
    map_ = matchJoints(from_.joints, to_.joints, from_.hips, to_.hips, settings.said);
    if (same_)
        return;
    std::string missing;
    int lost = 0;
    for (std::size_t j = 0; j < map_.size(); ++j) {
        const JointPlace& p = to_.joints[j].place;
        if (map_[j].joint >= 0 || !isCarried(p) || !targetRoles[j].movesSkin || p.role == Role::Lid ||
            p.role == Role::Brow || p.role == Role::Lip || p.role == Role::Ear || p.role == Role::Tongue ||
            p.role == Role::Eye)
            continue;
        if (++lost <= 4)
            missing += (missing.empty() ? "" : ", ") + to_.joints[j].name;
    }
    if (lost == 1)
        notes_.push_back(say("The clip has nothing for %s; it goes along with the joint above it.", missing));
    else if (lost > 4)
        notes_.push_back(sayMany(static_cast<std::size_t>(lost - 4),
                                 manyOf("The clip has nothing for %s and %n more; they go along with the "
                                        "joints above them."),
                                 missing));
    else if (lost > 0)
        notes_.push_back(
            say("The clip has nothing for %s; they go along with the joints above them.", missing));
    int zero = 0;
    for (std::size_t j = 0; j < map_.size(); ++j)
        if (map_[j].joint >= 0 && isAligned(to_.joints[j].place.role) &&
            from_.joints[static_cast<std::size_t>(map_[j].joint)].bone.norm() < 0.5)
            ++zero;
    if (zero > 0)
        notes_.push_back(
            zero == 1
                ? say("One limb of the clip has no length; its direction is taken from the character.")
                : sayMany(static_cast<std::size_t>(zero),
                          manyOf("%n limbs of the clip have no length; their directions are taken from the "
                                 "character.")));
    if (from_.quadruped != to_.quadruped)
        notes_.push_back(from_.quadruped
                             ? say("The clip is a four-legged body's and the character walks on two.")
                             : say("The clip is a two-legged body's and the character goes on four."));
    const bool anything =
        std::any_of(map_.begin(), map_.end(), [](const JointSource& s) { return s.joint >= 0; });
    if (!anything)
        notes_.push_back(say("No joint of the clip could be matched with one of the character: say which is "
                             "which in the joint map."));
    if (settings.moveHips && from_.hipsHeight > 0 && to_.hipsHeight > 0) {
        scale_ = to_.hipsHeight / from_.hipsHeight;
        if (scale_ < 0.02 || scale_ > 50)
            notes_.push_back(
                scale_ < 1
                    ? say("The clip's lengths are %.0f times larger than the character's, as in another "
                          "unit; they are scaled by the legs.",
                          1 / scale_)
                    : say("The clip's lengths are %.0f times smaller than the character's, as in another "
                          "unit; they are scaled by the legs.",
                          scale_));
        findFloor();
    } else {
        settings_.moveHips = false;
    }
}

void Retargeter::findFloor() {
    // what the lowest foot comes down to: not the very least, which may be a slip of the capture
    std::vector<double> lows;
    const Vec3d up = from_.axes * Vec3d::UnitY();
    const int samples = 200;
    for (int i = 0; i <= samples; ++i) {
        const auto world =
            worldTransforms(source_.skeleton, poseAt(source_, clip_, clip_.seconds * i / samples));
        double low = INFINITY;
        for (std::size_t j = 0; j < world.size(); ++j)
            if (isFoot(sourceRoles_[j]))
                low = std::min(low, world[j].translation().dot(up));
        if (i == 0 && from_.hips >= 0)
            start_ = world[static_cast<std::size_t>(from_.hips)].translation();
        if (std::isfinite(low))
            lows.push_back(low);
    }
    if (lows.empty())
        return;
    std::sort(lows.begin(), lows.end());
    floor_ = lows[lows.size() / 20];
}

std::vector<Pose> Retargeter::poses(const std::vector<double>& seconds, const Progress& progress) const {
    std::vector<Pose> out;
    for (std::size_t i = 0; i < seconds.size(); ++i) {
        if (progress.stopped())
            return out;
        progress.at(static_cast<double>(i) / static_cast<double>(seconds.size()));
        const Pose theirs = poseAt(same_ ? target_ : source_, clip_, seconds[i]);
        if (same_) {
            out.push_back(theirs);
            continue;
        }
        Pose pose = carryPose(from_.joints, bodyTurns(source_, from_, theirs), target_, to_, map_);
        if (settings_.moveHips && to_.hips >= 0 && from_.hips >= 0) {
            const auto world = worldTransforms(source_.skeleton, theirs);
            const Vec3d up = from_.axes * Vec3d::UnitY();
            Vec3d moved = world[static_cast<std::size_t>(from_.hips)].translation() - start_;
            moved -= moved.dot(up) * up;
            moved += (world[static_cast<std::size_t>(from_.hips)].translation().dot(up) - floor_ -
                      from_.hipsHeight) *
                     up;
            const Vec3d inBody = from_.axes.inverse() * moved * scale_;
            pose.shift.assign(pose.turn.size(), Vec3d::Zero());
            pose.shift[static_cast<std::size_t>(to_.hips)] =
                rotationOf(target_.skeleton.neutralWorld[static_cast<std::size_t>(to_.hips)]).inverse() *
                (to_.axes * inBody);
        }
        out.push_back(std::move(pose));
    }
    if (settings_.keepFeet && !same_)
        keepFeet(out, seconds);
    return out;
}

// A foot stands while the clip's own foot hardly moves and is near the floor; from its first such moment on
// the leg is turned so that it stays, and eased back once it lifts. Where a leg is too short for it the hips
// go down, as a person's do.
void Retargeter::keepFeet(std::vector<Pose>& poses, const std::vector<double>& seconds) const {
    if (poses.size() < 2 || from_.hipsHeight <= 0)
        return;
    const Vec3d theirUp = from_.axes * Vec3d::UnitY(), up = to_.axes * Vec3d::UnitY();
    struct Foot {
        int joint = -1, thigh = -1;
        std::vector<char> stands; // per moment
        ReachSettings settings;
        Vec3d held = Vec3d::Zero(), off = Vec3d::Zero();
        bool standing = false;
    };
    std::vector<Foot> feet;
    for (std::size_t j = 0; j < to_.joints.size(); ++j) {
        if (to_.joints[j].place.role != Role::Ankle || map_[j].joint < 0)
            continue;
        Foot foot;
        foot.joint = static_cast<int>(j);
        std::vector<Vec3d> path;
        double low = INFINITY;
        for (double t : seconds) {
            path.push_back(worldTransforms(source_.skeleton,
                                           poseAt(source_, clip_, t))[static_cast<std::size_t>(map_[j].joint)]
                               .translation());
            low = std::min(low, path.back().dot(theirUp));
        }
        for (std::size_t i = 0; i < poses.size(); ++i) {
            // a foot that lifts has not moved till now: the slower of the ways here and on
            double speed = INFINITY;
            for (const std::size_t to : {i, i + 1})
                if (to > 0 && to < poses.size())
                    speed = std::min(speed, (path[to] - path[to - 1]).norm() /
                                                std::max(seconds[to] - seconds[to - 1], 1e-9));
            // on the floor a little sway is let; still is still, wherever it stands
            const double least = 0.12 * from_.hipsHeight;
            foot.stands.push_back(
                speed < least || (speed < 2 * least && path[i].dot(theirUp) - low < 0.08 * from_.hipsHeight));
        }
        foot.settings.willing = willingFor(target_, targetRoles_, foot.joint, false);
        for (int above = foot.joint; above >= 0;
             above = target_.skeleton.parent[static_cast<std::size_t>(above)])
            if (foot.settings.willing[static_cast<std::size_t>(above)] > 0)
                foot.thigh = above;
        feet.push_back(std::move(foot));
    }
    const auto placeOf = [&](const Pose& pose, int joint) {
        return Vec3d(worldTransforms(target_.skeleton, pose)[static_cast<std::size_t>(joint)].translation());
    };
    double drop = 0;
    for (std::size_t i = 0; i < poses.size(); ++i) {
        const double left = i > 0 ? std::max(0.0, 1 - (seconds[i] - seconds[i - 1]) / 0.15) : 0;
        const Pose carried = poses[i];
        std::vector<Vec3d> wanted;
        for (Foot& foot : feet) {
            const Vec3d own = placeOf(carried, foot.joint);
            if (foot.stands[i] && !foot.standing)
                foot.held = own + foot.off;
            foot.standing = foot.stands[i];
            foot.off = foot.standing ? Vec3d(foot.held - own) : Vec3d(foot.off * left);
            wanted.push_back(own + foot.off);
        }
        drop *= left;
        const auto lowered = [&](double by) {
            Pose pose = carried;
            if (by > 0 && to_.hips >= 0) {
                pose.shift.resize(pose.turn.size(), Vec3d::Zero());
                const auto hips = static_cast<std::size_t>(to_.hips);
                pose.shift[hips] -= by * (rotationOf(target_.skeleton.neutralWorld[hips]).inverse() * up);
            }
            for (std::size_t f = 0; f < feet.size(); ++f)
                if (feet[f].off.norm() >= 1e-6 || by > 0)
                    pose = reach(target_, targetRoles_, ranges_, pose, {{feet[f].joint, wanted[f], true}},
                                 feet[f].settings)
                               .pose;
            return pose;
        };
        poses[i] = lowered(drop);
        // what a leg reaches depends on how it is turned, so a few times more
        for (int again = 0; again < 6 && settings_.moveHips && to_.hips >= 0; ++again) {
            double more = 0;
            for (std::size_t f = 0; f < feet.size(); ++f) {
                if (!feet[f].standing || feet[f].thigh < 0)
                    continue;
                const Vec3d is = placeOf(poses[i], feet[f].joint);
                const double missed = (is - wanted[f]).norm();
                if (missed < 2e-4 * to_.hipsHeight)
                    continue;
                // within its length a leg that is nearly straight, or at the end of a range, wants room to
                // bend
                const Vec3d from = placeOf(poses[i], feet[f].thigh);
                more = std::max({more, missed, dropToReach(wanted[f] - from, up, (is - from).norm())});
            }
            const double most = 0.15 * to_.hipsHeight;
            if (more <= 0 || drop >= most)
                break;
            drop = std::min(drop + more, most);
            poses[i] = lowered(drop);
        }
    }
}

} // namespace hobble
