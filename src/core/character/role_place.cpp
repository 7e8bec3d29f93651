#include "core/character/role_place.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

std::vector<double> lowestReach(const Character& c, const Vec3d& up) {
    const Skeleton& sk = c.skeleton;
    std::vector<double> out, own; // own: of the joint and of what hangs from it next
    double low = 1e300, high = -1e300;
    for (int j = 0; j < sk.size(); ++j) { // as the skeleton stands; the skin as the file has it
        out.push_back(sk.place(j).y());
        low = std::min(low, out.back());
        high = std::max(high, out.back());
    }
    own = out;
    for (int j = 0; j < sk.size(); ++j)
        if (const int p = sk.parent[j]; p >= 0)
            own[p] = std::min(own[p], out[j]);
    // What lies far below its joint and beside another limb is a stray, or what the joint carries: no limb
    // reaches down for it.
    const double deep = 0.12 * std::max(high - low, 0.0);
    constexpr int beside = 2; // bones
    std::map<std::pair<int, int>, bool> near;
    const auto isNear = [&](int joint, const Vec3d& at) {
        int nearest = joint;
        for (int j = 0; j < sk.size(); ++j)
            if ((sk.place(j) - at).squaredNorm() < (sk.place(nearest) - at).squaredNorm())
                nearest = j;
        const auto [it, first] = near.try_emplace({joint, nearest}, true);
        if (first) {
            const int bones = sk.boneDistance(joint, nearest);
            it->second = bones >= 0 && bones <= beside;
        }
        return it->second;
    };
    const Eigen::Quaterniond upright = turnFromTo(up, Vec3d::UnitY());
    for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
        if (const std::uint32_t first = c.weights.first[v]; // the heaviest
            first < c.weights.first[v + 1] && c.weights.weight[first] > 0.5f) {
            const auto j = static_cast<int>(c.weights.joint[first]);
            const Vec3d at = upright * c.neutral[v].cast<double>();
            if (at.y() < out[j] && (at.y() > own[j] - deep || isNear(j, at)))
                out[j] = at.y();
        }
    return out;
}

void addPlace(const Skeleton& sk, const MirrorPlane& plane, const std::vector<char>& movesSkin,
              const std::vector<double>& reachesDown, const std::vector<LabelScores>& words,
              std::vector<LabelScores>& evidence) {
    const auto n = static_cast<std::size_t>(sk.size());
    const auto height = [&](int j) { return sk.neutralWorld[j].translation().y(); };
    std::vector<double> lowest(n);
    double low = 1e300, high = -1e300;
    for (int j = 0; j < sk.size(); ++j) {
        lowest[j] = reachesDown[static_cast<std::size_t>(j)];
        if (movesSkin[j]) {
            low = std::min(low, lowest[j]);
            high = std::max(high, height(j));
        }
    }
    for (int j = sk.size() - 1; j > 0; --j)
        if (const int p = sk.parent[j]; p >= 0)
            lowest[p] = std::min(lowest[p], lowest[j]);
    const double tall = std::max(high - low, 1e-9);
    const auto middle = [&](int j) { return plane.partner[j] == j; };
    struct Hanging {
        int root, girdle;
        bool ground;
    };
    // Where along a leg its joints lie, of the girdle's height: much the same from mouse to horse.
    const auto usual = [](Label l) {
        switch (roleOf(l)) {
        case Role::Scapula:
            return 1.0;
        case Role::Shoulder:
            return 0.8;
        case Role::Elbow:
            return 0.58;
        case Role::Wrist:
            return 0.3;
        case Role::Hip:
            return 0.92;
        case Role::Knee:
            return 0.6;
        case Role::Ankle:
            return 0.34;
        case Role::Fetlock:
            return 0.12;
        case Role::Toe:
            return 0.03;
        default:
            return -9.0;
        }
    };
    // A hip that lies beside its place has no partner there; what hangs from it has.
    const auto ofAPair = [&](int j) {
        if (plane.partner[j] >= 0)
            return true;
        for (int k = j + 1; k < sk.size(); ++k)
            if (sk.parent[k] == j && plane.partner[k] >= 0 && !middle(k))
                return true;
        return false;
    };
    std::vector<Hanging> limbs;
    for (int j = 0; j < sk.size(); ++j) {
        const int p = sk.parent[j];
        if (p < 0 || !ofAPair(j) || middle(j) || !middle(p) || !movesSkin[j])
            continue;
        const bool ground = lowest[j] < low + 0.15 * tall && height(j) > low + 0.25 * tall;
        limbs.push_back({j, p, ground});
    }
    // Where the head is: by words, or by the highest end of the middle.
    Vec3d head = Vec3d::Zero();
    double known = 0;
    for (std::size_t j = 0; j < n; ++j)
        for (Role r : {Role::Head, Role::Jaw, Role::Eye, Role::Ear, Role::Neck})
            if (words[j][static_cast<std::size_t>(labelOf(r, false))] >= 3.5f) {
                head += sk.neutralWorld[j].translation();
                ++known;
            }
    if (known == 0) {
        int top = -1;
        for (int j = 0; j < sk.size(); ++j)
            if (middle(j) && (top < 0 || height(j) > height(top)))
                top = j;
        if (top >= 0)
            head = sk.neutralWorld[top].translation();
        known = top >= 0 ? 1 : 0;
    }
    head /= std::max(known, 1.0);
    double nearest = 1e300, farthest = -1e300;
    for (const Hanging& l : limbs)
        if (l.ground) {
            const double d = (sk.neutralWorld[l.root].translation() - head).norm();
            nearest = std::min(nearest, d);
            farthest = std::max(farthest, d);
        }
    const bool twoGirdles = farthest - nearest > 0.25 * tall;
    for (int j = 0; j < sk.size(); ++j) {
        if (plane.partner[j] < 0)
            continue;
        for (Label l = 0; l < kLabels; ++l) {
            const Role r = roleOf(l);
            const bool trunk = r == Role::Pelvis || r == Role::Spine || r == Role::Neck || r == Role::Head ||
                               r == Role::Jaw || r == Role::Tongue || r == Role::Tail;
            const bool limb =
                isFore(l) || (r >= Role::Collarbone && r <= Role::Toe) || r == Role::Wing || r == Role::Eye;
            if (trunk && !middle(j))
                evidence[j][static_cast<std::size_t>(l)] -= r == Role::Pelvis ? 1.5f : 2.5f;
            if (limb && middle(j))
                evidence[j][static_cast<std::size_t>(l)] -= 2.5f;
        }
    }
    for (const Hanging& l : limbs) {
        const double d = (sk.neutralWorld[l.root].translation() - head).norm();
        const bool fore = l.ground && twoGirdles && d < 0.5 * (nearest + farthest);
        const auto in = sk.subtree(l.root);
        for (int j = l.root; j < sk.size(); ++j) {
            if (!in[j])
                continue;
            for (Label x = 0; x < kLabels; ++x) {
                const Role r = roleOf(x);
                const bool leg = r >= Role::Hip && r <= Role::Toe && !isFore(x);
                const bool arm =
                    !isFore(x) && ((r >= Role::Collarbone && r <= Role::Finger) || r == Role::Wing);
                float& s = evidence[j][static_cast<std::size_t>(x)];
                if (twoGirdles && l.ground && (fore ? isFore(x) : leg)) {
                    const double off = (height(j) - low) / std::max(height(l.girdle) - low, 1e-9) - usual(x);
                    s += static_cast<float>(1.5 * std::exp(-off * off / 0.02) - 0.5);
                }
                if (isFore(x))
                    s += fore ? 1.5f : -4.f;
                else if (leg)
                    s += !l.ground ? -1.5f : fore ? -3.f : 1.f;
                else if (arm)
                    s += fore ? -2.f : l.ground ? -2.f : 0.5f;
            }
        }
    }
}

} // namespace hobble
