#include "core/measure/tip_travel.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

double apart(const Vec3d& a, const Vec3d& b) {
    return degrees(std::acos(std::clamp(std::abs(a.dot(b)), 0.0, 1.0)));
}

// How this character's right joints mirror its left ones: which of a joint's own axes change their sign. Left
// and right may be built as mirror images, or turned half about; whichever fits the most pairs is taken.
Vec3d mirrorSigns(const Subject& s, const std::map<int, Vec3d>& axes) {
    Vec3d best = Vec3d::Ones();
    double most = -1;
    for (int bits = 0; bits < 4; ++bits) { // a sign for all three at once changes nothing
        const Vec3d signs(1, bits & 1 ? -1 : 1, bits & 2 ? -1 : 1);
        double sum = 0;
        for (const auto& [joint, axis] : axes)
            if (const auto it = axes.find(s.roles[joint].mirror); it != axes.end())
                sum += std::abs(axis.cwiseProduct(signs).dot(it->second)) > 0.97;
        if (sum > most) {
            most = sum;
            best = signs;
        }
    }
    return best;
}

} // namespace

std::vector<TipTravel> tipTravels(const Subject& s, const Plan& plan) {
    struct Hinge {
        int motion;
        Vec3d axis;
    };
    std::map<int, Hinge> hinge;
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const Motion& motion = plan.motions[m];
        const bool flex = motion.name.ends_with("flex") || motion.name.ends_with("curl");
        if (flex && motion.turns.size() == 1)
            hinge.try_emplace(motion.turns[0].joint, Hinge{static_cast<int>(m), motion.turns[0].axis});
    }
    std::map<int, Vec3d> axes;
    for (const auto& [joint, h] : hinge)
        axes.emplace(joint, h.axis);
    const Vec3d signs = mirrorSigns(s, axes);
    std::vector<TipTravel> out;
    for (const auto& [joint, h] : hinge) {
        const JointRole& role = s.roles[joint];
        // Against the mirror, and against the chain; the joint is wrong where it disagrees and the mirror's
        // chain agrees.
        double chain = -1, mirrorChain = -1;
        std::string against;
        for (const auto& [other, o] : hinge) {
            const JointRole& r = s.roles[other];
            const bool finger = role.role == Role::Finger || role.role == Role::Thumb;
            if (other == joint || r.role != role.role || !finger || r.digit != role.digit)
                continue;
            if (r.side == role.side) {
                chain = std::max(chain, apart(h.axis, o.axis));
                against = s.character->skeleton.name[other];
            }
        }
        if (role.mirror >= 0 && hinge.count(role.mirror)) {
            const double sides = apart(h.axis.cwiseProduct(signs), hinge.at(role.mirror).axis);
            for (const auto& [other, o] : hinge)
                if (other != role.mirror && s.roles[other].role == role.role &&
                    s.roles[other].digit == role.digit && s.roles[other].side == s.roles[role.mirror].side &&
                    chain >= 0)
                    mirrorChain = std::max(mirrorChain, apart(hinge.at(role.mirror).axis, o.axis));
            // Of the two, the one that stands out: among its neighbours in the hand, or failing these in its
            // chain.
            auto odd = [&](int j) {
                double least = -1;
                for (const auto& [other, o] : hinge)
                    if (other != j && s.roles[other].role == s.roles[j].role &&
                        s.roles[other].side == s.roles[j].side &&
                        s.roles[other].segment == s.roles[j].segment &&
                        s.roles[other].digit != s.roles[j].digit) {
                        const double d = apart(hinge.at(j).axis, o.axis);
                        least = least < 0 ? d : std::min(least, d);
                    }
                return least;
            };
            const double here = odd(joint), there = odd(role.mirror);
            // Where neither stands out by half of what is between them, both are told: one of them is wrong.
            const bool stands =
                here >= 0 && there >= 0 ? here > there - sides / 2 : chain < 0 || chain > mirrorChain;
            if (stands)
                out.push_back({h.motion, joint, sides, s.character->skeleton.name[role.mirror]});
        } else if (chain >= 0) {
            out.push_back({h.motion, joint, chain, against});
        }
    }
    return out;
}

} // namespace hobble
