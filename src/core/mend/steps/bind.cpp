// From scratch: each vertex by the bones near it. By heat: every bone warms the skin nearest to it, and what
// spreads over the surface is its share (Baran and Popović 2007, "Automatic Rigging and Animation of 3D
// Characters", section 4: bounded by 0 and 1, smooth, and local). By distance: the nearest bones by the
// inverse of their distance to a power (Shepard 1968, "A two-dimensional interpolation function for
// irregularly-spaced data").
#include "core/mend/heat.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

struct Bone {
    int joint = 0;
    Vec3d a = Vec3d::Zero(), b = Vec3d::Zero();
};

double toBone(const Bone& bone, const Vec3d& p) {
    const Vec3d ab = bone.b - bone.a;
    const double t = std::clamp((p - bone.a).dot(ab) / std::max(ab.squaredNorm(), 1e-12), 0.0, 1.0);
    return (p - bone.a - t * ab).norm();
}

// From each joint to those that hang from it; an end to itself. Of the joints that hold skin anywhere, or of
// one.
std::vector<Bone> bonesOf(const Subject& s, int only) {
    const Skeleton& skeleton = s.character->skeleton;
    std::vector<char> holds(static_cast<std::size_t>(skeleton.size()), 0);
    for (std::uint16_t j : s.surface.weights.joint)
        holds[j] = 1;
    if (only >= 0) { // and what it hands on to
        std::vector<char> chosen(holds.size(), 0);
        chosen[static_cast<std::size_t>(only)] = 1;
        for (int j = 0; j < skeleton.size(); ++j)
            if (skeleton.parent[static_cast<std::size_t>(j)] == only ||
                j == skeleton.parent[static_cast<std::size_t>(only)])
                chosen[static_cast<std::size_t>(j)] = holds[static_cast<std::size_t>(j)];
        holds = chosen;
    }
    std::vector<Bone> out;
    const auto children = skeleton.children();
    for (int j = 0; j < skeleton.size(); ++j) {
        if (!holds[static_cast<std::size_t>(j)])
            continue;
        const Vec3d from = skeleton.place(j);
        bool any = false;
        for (int child : children[static_cast<std::size_t>(j)])
            if (const Vec3d to = skeleton.place(child); (to - from).norm() > 1e-9) {
                out.push_back({j, from, to});
                any = true;
            }
        if (!any)
            out.push_back({j, from, from});
    }
    return out;
}

} // namespace

Result<Done> bindAnew(const Step& step, const StepContext& c, Shares& shares) {
    const Subject& s = c.subject;
    const std::vector<Bone> bones = bonesOf(s, c.joint);
    if (bones.empty())
        return Error{say("no joint holds any skin that it could be bound by")};
    if (step.bindBy == BindBy::Distance) {
        const double power = step.amount > 0 ? step.amount : 4;
        const std::size_t most = step.count > 1 ? static_cast<std::size_t>(step.count) : 4;
        for (const Amount& a : c.where) {
            const Vec3d p = s.neutral[a.vertex].cast<double>();
            std::map<int, double> nearest; // per joint
            for (const Bone& bone : bones) {
                const double d = toBone(bone, p);
                const auto [it, fresh] = nearest.emplace(bone.joint, d);
                it->second = std::min(it->second, d);
            }
            std::vector<std::pair<double, int>> order;
            for (const auto& [joint, d] : nearest)
                order.emplace_back(d, joint);
            std::sort(order.begin(), order.end());
            order.resize(std::min(order.size(), most));
            ShareRow row;
            for (const auto& [d, joint] : order) // by the nearest, so that no power is too large
                row.push_back({static_cast<std::uint16_t>(joint),
                               std::pow((order.front().first + 1e-9) / (d + 1e-9), power)});
            shares.want(a.vertex, mixed(shares.at(a.vertex), tidied(std::move(row)), a.by));
        }
        return Done{};
    }
    std::vector<std::uint32_t> where;
    std::vector<HeatHome> home;
    for (const Amount& a : c.where) {
        const Vec3d p = s.neutral[a.vertex].cast<double>();
        HeatHome nearest{bones.front().joint, INFINITY};
        for (const Bone& bone : bones)
            if (const double d = toBone(bone, p); d < nearest.distance)
                nearest = {bone.joint, d};
        where.push_back(a.vertex);
        home.push_back(nearest);
    }
    const auto rows =
        heatShares({s.surface.triangles.begin(), s.surface.triangles.size()},
                   {s.neutral.begin(), s.neutral.size()}, where, home, step.amount > 0 ? step.amount : 1);
    for (std::size_t i = 0; i < c.where.size(); ++i)
        shares.want(c.where[i].vertex, mixed(shares.at(c.where[i].vertex), rows[i], c.where[i].by));
    return Done{};
}

} // namespace hobble
