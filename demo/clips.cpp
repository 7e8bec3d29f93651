#include "clips.h"

#include "core/pose/pose.h"

#include <cmath>
#include <map>

namespace hobble::demo {

namespace {

// A key: turns about world axes in neutral, and how far the root has moved.
struct Key {
    double seconds = 0;
    std::map<std::string, Quat> turn; // per joint, in the world
    Vec3d root = Vec3d::Zero();
};

class Script {
public:
    explicit Script(const Character& c) : c_(c) { keys_.push_back({}); }

    Script& at(double seconds) {
        keys_.push_back({seconds, {}, Vec3d::Zero()});
        return *this;
    }
    Script& turn(const std::string& joint, const Vec3d& axis, double degrees) {
        Quat& q = keys_.back().turn.try_emplace(joint, Quat::Identity()).first->second;
        q = Quat(Eigen::AngleAxisd(radians(degrees), axis)) * q;
        return *this;
    }
    /// Left as given, right its mirror image.
    Script& both(const std::string& joint, const Vec3d& axis, double degrees) {
        turn(joint + ".L", axis, degrees);
        return turn(joint + ".R", Vec3d(axis.x(), -axis.y(), -axis.z()), degrees);
    }
    Script& root(const Vec3d& by) {
        keys_.back().root = by;
        return *this;
    }

    Clip clip(const std::string& name, const std::string& rootJoint) const {
        constexpr double step = 0.1;
        Clip out;
        out.name = name;
        out.seconds = keys_.back().seconds;
        const int frames = static_cast<int>(std::lround(out.seconds / step)) + 1;
        std::map<std::string, ClipChannel> turns;
        ClipChannel moved;
        moved.joint = c_.skeleton.find(rootJoint);
        moved.path = ClipChannel::Path::Translation;
        for (const Key& k : keys_)
            for (const auto& [joint, q] : k.turn)
                turns[joint].joint = c_.skeleton.find(joint);
        for (int f = 0; f < frames; ++f) {
            const double seconds = f * step;
            std::size_t b = 1;
            while (b + 1 < keys_.size() && keys_[b].seconds < seconds)
                ++b;
            const Key &from = keys_[b - 1], &to = keys_[b];
            double t = std::clamp((seconds - from.seconds) / (to.seconds - from.seconds), 0.0, 1.0);
            t = t * t * (3 - 2 * t);
            auto turnIn = [](const Key& k, const std::string& joint) {
                const auto it = k.turn.find(joint);
                return it == k.turn.end() ? Quat::Identity() : it->second;
            };
            for (auto& [joint, ch] : turns) {
                const Quat world = rotationOf(c_.skeleton.neutralWorld[ch.joint]);
                const Quat q = rotationOf(c_.skeleton.neutralLocal[ch.joint]) * world.inverse() *
                               turnIn(from, joint).slerp(t, turnIn(to, joint)) * world;
                ch.time.push_back(static_cast<float>(seconds));
                for (double x : {q.x(), q.y(), q.z(), q.w()})
                    ch.value.push_back(static_cast<float>(x));
            }
            const Vec3d p =
                c_.skeleton.neutralLocal[moved.joint].translation() + from.root + t * (to.root - from.root);
            moved.time.push_back(static_cast<float>(seconds));
            for (int i = 0; i < 3; ++i)
                moved.value.push_back(static_cast<float>(p[i]));
        }
        for (auto& [joint, ch] : turns)
            out.channels.push_back(std::move(ch));
        out.channels.push_back(std::move(moved));
        return out;
    }

private:
    const Character& c_;
    std::vector<Key> keys_;
};

const Vec3d kX = Vec3d::UnitX(), kY = Vec3d::UnitY(), kZ = Vec3d::UnitZ();

void crouch(Script& s, double depth, double scale) {
    s.both("thigh", kX, -95 * depth).both("shin", kX, 120 * depth).both("foot", kX, -20 * depth);
    s.turn("spine_1", kX, 14 * depth).turn("spine_2", kX, 14 * depth).turn("neck", kX, -18 * depth);
    s.root(Vec3d(0, -0.17 * depth * scale, -0.02 * scale));
}

} // namespace

Clip bipedClip(const Character& c) {
    const double scale = c.skeleton.neutralWorld[c.skeleton.find("thigh.L")].translation().y() / 0.385;
    Script s(c);
    // Warm-up
    s.at(1.2).turn("neck", kX, 25).turn("head", kY, 30).turn("spine_2", kY, 20);
    s.at(2.2).turn("neck", kX, -15).turn("head", kY, -30).turn("spine_2", kY, -20);
    s.at(3.2).both("upper_arm", kZ, 50).both("forearm", kX, -40).both("hand", kY, 40);
    s.at(4.0);
    // Reach
    s.at(5.0)
        .turn("upper_arm.L", kX, -110)
        .turn("upper_arm.L", kZ, 25)
        .turn("collarbone.L", kZ, 15)
        .turn("spine_1", kZ, -12);
    s.at(6.0)
        .turn("upper_arm.R", kX, -110)
        .turn("upper_arm.R", kZ, -25)
        .turn("collarbone.R", kZ, -15)
        .turn("spine_1", kZ, 12);
    s.at(6.8).both("upper_arm", kX, -80).both("forearm", kX, -60);
    s.at(7.6);
    // Crouch, in the end deeper than the plan's limits allow
    s.at(8.8);
    crouch(s, 0.8, scale);
    s.at(9.6);
    crouch(s, 1.42, scale);
    s.at(10.6);
    // Jump
    s.at(11.2);
    crouch(s, 0.6, scale);
    s.at(11.5)
        .root(Vec3d(0, 0.16 * scale, 0))
        .both("upper_arm", kZ, 75)
        .both("foot", kX, 40)
        .both("thigh", kX, -8);
    s.at(11.8)
        .root(Vec3d(0, 0.20 * scale, 0))
        .both("upper_arm", kZ, 85)
        .both("thigh", kX, -45)
        .both("shin", kX, 70);
    s.at(12.2);
    crouch(s, 0.7, scale);
    s.at(13.0);
    return s.clip("warm-up, reach, crouch, jump", "root");
}

Clip quadrupedClip(const Character& c) {
    Script s(c);
    s.at(1.0).turn("neck_1", kX, 30).turn("neck_2", kX, 35).turn("head", kX, 20); // grazing
    s.at(2.0).turn("neck_1", kY, 25).turn("neck_2", kY, 25).turn("tail_1", kZ, 20);
    s.at(3.0).turn("neck_1", kY, -25).turn("neck_2", kY, -25).both("ear", kZ, 25);
    s.at(4.0);
    s.at(5.0).turn("humerus.L", kX, -35).turn("radius.L", kX, 60).turn("carpus.L", kX, 70); // reach
    s.at(6.0).turn("humerus.R", kX, -35).turn("radius.R", kX, 60).turn("carpus.R", kX, 70);
    s.at(7.0);
    s.at(8.0)
        .both("thigh", kX, -40)
        .both("shin", kX, 55)
        .both("hock", kX, -45)
        .root(Vec3d(0, -0.10, 0)); // crouch
    s.at(8.8)
        .both("thigh", kX, -75)
        .both("shin", kX, 95)
        .both("hock", kX, -85)
        .root(Vec3d(0, -0.19, 0)); // too deep
    s.at(9.6);
    s.at(10.0).both("thigh", kX, -30).both("shin", kX, 40).both("hock", kX, -30).root(Vec3d(0, -0.07, 0));
    s.at(10.4)
        .turn("spine_1", kX, -12)
        .both("humerus", kX, -40)
        .both("thigh", kX, 30)
        .root(Vec3d(0, 0.20, 0.1)); // jump
    s.at(11.0).both("radius", kX, 25).root(Vec3d(0, -0.03, 0.1));
    s.at(12.0);
    return s.clip("warm-up, reach, crouch, jump", "root");
}

Clip faceClip(const Character& c) {
    Script s(c);
    s.at(1.0).turn("jaw", kX, 18);
    s.at(1.6).turn("neck_1", kY, 20).turn("head", kY, 25);
    s.at(2.4).turn("neck_1", kY, -20).turn("head", kY, -25).turn("jaw", kX, 10);
    s.at(3.2).both("lid_upper", kX, 36).both("lid_lower", kX, -18);
    s.at(3.5);
    s.at(4.5).turn("neck_2", kX, -20).turn("head", kX, -15).turn("jaw", kX, 28);
    s.at(5.2)
        .turn("neck_2", kX, -20)
        .turn("head", kX, -15)
        .turn("jaw", kX, 52); // wider than the plan's limit
    s.at(6.0).turn("tongue_1", kX, -15).turn("tongue_2", kX, -25).turn("jaw", kX, 20);
    s.at(7.0);
    return s.clip("words and looks", "root");
}

Character longLimbed(const Character& biped) {
    Character out;
    out.name = "long-limbed";
    out.skeleton = biped.skeleton;
    Skeleton& sk = out.skeleton;
    for (int j = 0; j < sk.size(); ++j) {
        const std::string& n = sk.name[j];
        const bool leg = n.starts_with("shin") || n.starts_with("foot") || n.starts_with("knee_helper");
        const bool arm = n.starts_with("forearm") || n.starts_with("hand") || n.starts_with("elbow_helper") ||
                         n.starts_with("upper_arm_twist");
        const double longer = leg ? 1.8 : arm ? 1.5 : n.starts_with("spine") || n == "chest" ? 1.15 : 1.0;
        Transform local = sk.neutralLocal[j];
        local.translation() *= longer;
        if (n == "pelvis")
            local.translation().y() += 0.26; // on its longer legs
        // Arms straight out to the sides
        if (n.starts_with("upper_arm.")) {
            const double way = n.ends_with("L") ? 1 : -1;
            const Quat world = rotationOf(sk.neutralWorld[sk.parent[j]]);
            local.linear() = (world.inverse() * Quat(Eigen::AngleAxisd(radians(50 * way), kZ)) * world)
                                 .toRotationMatrix() *
                             local.linear();
        }
        sk.neutralLocal[j] = local;
        sk.neutralWorld[j] = sk.parent[j] < 0 ? local : sk.neutralWorld[sk.parent[j]] * local;
    }
    return out;
}

} // namespace hobble::demo
