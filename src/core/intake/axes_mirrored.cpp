// The axes of a joint against those of its partner. Rigs mirror them in one of a few ways: each axis as a
// mirror shows it, or turned about by half a turn in any of three ways, or all of them turned. The way most
// pairs of the skeleton go is its habit; the pair that goes another way is told.
#include "core/intake/collect.h"

#include <array>
#include <cmath>

namespace hobble {

CheckFindings checkAxesMirrored(const Subject& s, const IntakeLimits& limits) {
    const Character& c = *s.character;
    if (!s.mirror.found)
        return {};
    const Eigen::Matrix3d reflect =
        Eigen::Matrix3d::Identity() - 2 * s.mirror.normal * s.mirror.normal.transpose();
    const std::array<Vec3d, 4> ways{Vec3d(-1, -1, -1), Vec3d(-1, 1, 1), Vec3d(1, -1, 1), Vec3d(1, 1, -1)};
    struct Pair {
        int left;
        std::array<double, 4> off; // degrees, by way
    };
    std::vector<Pair> pairs;
    std::array<int, 4> votes{};
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const JointRole& r = s.roles[j];
        if (r.side != Side::Left || r.mirror < 0 || !r.movesSkin || r.role == Role::Helper ||
            r.role == Role::End || r.role == Role::Control)
            continue;
        const Eigen::Matrix3d left = rotationOf(c.skeleton.neutralWorld[j]).toRotationMatrix(),
                              right = rotationOf(c.skeleton.neutralWorld[r.mirror]).toRotationMatrix();
        Pair p{j, {}};
        for (std::size_t w = 0; w < ways.size(); ++w) {
            const Eigen::Matrix3d should = reflect * left * ways[w].asDiagonal();
            p.off[w] = degrees(std::abs(Eigen::AngleAxisd(should.transpose() * right).angle()));
        }
        ++votes[std::min_element(p.off.begin(), p.off.end()) - p.off.begin()];
        pairs.push_back(p);
    }
    CheckFindings out;
    if (pairs.size() < 3)
        return out;
    // symmetric frames may follow several ways: the one that leaves the least off
    std::size_t habit = 0, most = 0;
    for (std::size_t w = 0; w < ways.size(); ++w) {
        std::size_t good = 0;
        for (const Pair& p : pairs)
            good += p.off[w] <= limits.axisDegrees;
        if (good > most) {
            most = good;
            habit = w;
        }
    }
    if (most * 10 < pairs.size() * 7)
        return out;
    for (const Pair& p : pairs)
        if (p.off[habit] > limits.axisDegrees) {
            const int right = s.roles[p.left].mirror;
            out.push_back(
                {.check = tableWord("axes differ from the other side"),
                 .severity = 2,
                 .joint = right,
                 .value = p.off[habit],
                 .sentence =
                     say("The axes of %s and %s are %.0f degrees from being mirrored as the "
                         "other pairs are.",
                         c.skeleton.name[p.left].c_str(), c.skeleton.name[right].c_str(), p.off[habit]),
                 .advice = say("Mirror the joint's orientation; poses copied across turn the wrong way."),
                 .partner = p.left});
        }
    return out;
}

} // namespace hobble
