#include "core/pose/planner/planner.h"

#include "core/pose/closing_motion.h"

#include <algorithm>

namespace hobble {

void Planner::eye(int j) {
    const Vec3d down = about(body_.left, j, -body_.up);
    add(j, down, 30, Limb::Head, "eye down");
    add(j, -down, 30, Limb::Head, "eye up");
    add(j, body_.up * (roles_[j].side == Side::Right ? -1.0 : 1.0), 35, Limb::Head, "eye out");
    add(j, body_.up * (roles_[j].side == Side::Right ? 1.0 : -1.0), 35, Limb::Head, "eye in");
}

void Planner::ear(int j) {
    const Vec3d bone = boneDirection(c_, roles_, j);
    const std::string part = roles_[j].segment > 0 ? "ear tip" : "ear";
    add(j, swing(bone, body_.forward), 40, Limb::Head, part + " front");
    add(j, swing(bone, -body_.forward), 50, Limb::Head, part + " back");
    add(j, swing(bone, outward(j)), 40, Limb::Head, part + " out");
    if (roles_[j].segment == 0)
        rolls(j, 40, 40, Limb::Head, part);
}

void Planner::head(int j) {
    const std::vector<int> one{j};
    add(one, body_.left, 30, Limb::Head, "head nod", Side::Middle);
    add(one, -body_.left, 30, Limb::Head, "head back", Side::Middle);
    add(one, -body_.forward, 25, Limb::Head, "head tilt", Side::Left);
    add(one, body_.forward, 25, Limb::Head, "head tilt", Side::Right);
    add(one, body_.up, 50, Limb::Head, "head turn", Side::Left);
    add(one, -body_.up, 50, Limb::Head, "head turn", Side::Right);
}

void Planner::jaw(int j) {
    const Vec3d at = lever(j);
    // of two halves (a snake's, an insect's) each opens for itself
    if (at.norm() < 1e-9)
        return;
    const Vec3d flat = at - at.dot(body_.left) * body_.left;
    const bool hangs = flat.norm() > 1e-9 && flat.normalized().dot(-body_.up) > 0.9;
    add(j, about(body_.left, j, hangs ? Vec3d(-body_.forward) : Vec3d(-body_.up)), 30, Limb::Head,
        "jaw open");
}

void Planner::lid(int j) {
    const std::vector<std::string> words = wordsOf(c_.skeleton.name[j]);
    const bool lower = std::any_of(words.begin(), words.end(), [](const std::string& w) {
        return w == "lower" || w == "low" || w == "bottom" || w == "under";
    });
    add(j, about(lidAxis(c_, j, body_.left), j, lower ? body_.up : Vec3d(-body_.up)), lower ? 15 : 30,
        Limb::Head, lower ? "lower lid up" : "upper lid down");
}

void Planner::tongue(int j) {
    if (roles_[j].segment > 0)
        return; // planned with the first
    std::vector<int> chain{j};
    for (int k = j + 1; k < c_.skeleton.size(); ++k)
        if (c_.skeleton.parent[k] == chain.back() && roles_[k].role == Role::Tongue && roles_[k].movesSkin)
            chain.push_back(k);
    const Vec3d down = about(body_.left, j, -body_.up);
    add(chain, -down, 40, Limb::Head, "tongue up", Side::Middle);
    add(chain, down, 40, Limb::Head, "tongue down", Side::Middle);
}

} // namespace hobble
