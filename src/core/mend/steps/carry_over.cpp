// A garment takes what the body below it has: each vertex the weights at the nearest point of other skin, as
// far as the two face alike there and lie near enough; where they do not (a loose hem, the inside of a fold)
// the garment's own skin fills in from where they do. After Abdrashitov, Raichstat, Monsen and Hill 2023,
// "Robust Skin Weights Transfer via Weight Inpainting"; theirs fills in by a quadratic energy, ours by
// Laplace's equation, whose shares need no bounds.
#include "core/measure/closest_point.h"
#include "core/mend/step.h"
#include "core/words/say.h"

#include <algorithm>
#include <set>

namespace hobble {

namespace {

constexpr double kAlike = 0.5; // cosine of the angle between the normals: 60 degrees

Vec3 normalOf(const Surface& s, const std::vector<Vec3>& at, std::uint32_t triangle) {
    const Triangle& t = s.triangles[triangle];
    return (at[t[1]] - at[t[0]]).cross(at[t[2]] - at[t[0]]);
}

} // namespace

Result<Done> carryOver(const Step& step, const StepContext& c, Shares& shares) {
    const Subject& s = c.subject;
    const Surface& surface = s.surface;
    const std::vector<Vec3> at(s.neutral.begin(), s.neutral.end());
    std::vector<char> taking(surface.vertexCount(), 0);
    for (const Amount& a : c.where)
        taking[a.vertex] = 1;
    // From what is not among those that take; of one part where one is named.
    int part = -1;
    if (!step.part.empty()) {
        for (std::size_t p = 0; p < s.character->parts.size(); ++p)
            if (s.character->parts[p].name == step.part)
                part = static_cast<int>(p);
        if (part < 0)
            return Error{say("the part %s is not in this build", step.part)};
    }
    std::vector<char> gives(surface.triangles.size(), 0);
    bool any = false;
    for (std::uint32_t t = 0; t < surface.triangles.size(); ++t) {
        const Triangle& corners = surface.triangles[t];
        gives[t] = !s.onRigidPart[t] && std::none_of(corners.begin(), corners.end(), [&](std::uint32_t v) {
            return taking[v] || shares.at(v).empty();
        });
        if (part >= 0)
            gives[t] = gives[t] && s.character->partOfVertex(surface.representative(corners[0])) == part;
        any |= gives[t] != 0;
    }
    if (!any)
        return Error{say("there is no other skin to take it from")};
    const auto most = static_cast<float>(step.amount > 0 ? step.amount : s.extent / 10);
    std::set<std::uint32_t> open; // still to be filled in
    for (const Amount& a : c.where) {
        Vec3 own = Vec3::Zero();
        for (const std::uint32_t* t = surface.trianglesAt.begin(a.vertex);
             t != surface.trianglesAt.end(a.vertex); ++t)
            own += normalOf(surface, at, *t);
        float least = most * most;
        std::uint32_t nearest = ~0u;
        Vec3 place = Vec3::Zero();
        askFromNear(
            *s.tree, *s.neutralBoxes, at[a.vertex], [&] { return least; },
            [&](std::uint32_t t) {
                const Triangle& k = surface.triangles[t];
                if (!gives[t] || surface.shellOf[k[0]] == surface.shellOf[a.vertex])
                    return; // the garment's own rest says nothing of what is below it
                const Vec3 p = closestOn(at[a.vertex], at[k[0]], at[k[1]], at[k[2]]);
                const float d = (p - at[a.vertex]).squaredNorm();
                if (d < least) {
                    least = d;
                    nearest = t;
                    place = p;
                }
            });
        if (nearest != ~0u) {
            const Vec3 theirs = normalOf(surface, at, nearest);
            const double lengths = static_cast<double>(own.norm()) * static_cast<double>(theirs.norm());
            if (lengths > 0 && static_cast<double>(own.dot(theirs)) < kAlike * lengths)
                nearest = ~0u;
        }
        if (nearest == ~0u) {
            open.insert(a.vertex);
            continue;
        }
        const Triangle& k = surface.triangles[nearest];
        const Vec3 n = (at[k[1]] - at[k[0]]).cross(at[k[2]] - at[k[0]]);
        const double area = static_cast<double>(n.squaredNorm());
        std::array<double, 3> by{1, 0, 0};
        if (area > 0) {
            by[1] = std::clamp(
                static_cast<double>((place - at[k[0]]).cross(at[k[2]] - at[k[0]]).dot(n)) / area, 0.0, 1.0);
            by[2] =
                std::clamp(static_cast<double>((at[k[1]] - at[k[0]]).cross(place - at[k[0]]).dot(n)) / area,
                           0.0, 1 - by[1]);
            by[0] = 1 - by[1] - by[2];
        }
        const ShareRow a0 = shares.at(k[0]), a1 = shares.at(k[1]), a2 = shares.at(k[2]);
        shares.want(a.vertex,
                    mixed(shares.at(a.vertex), meanOf({{&a0, by[0]}, {&a1, by[1]}, {&a2, by[2]}}), a.by));
    }
    if (open.empty())
        return Done{};
    if (open.size() == c.where.size())
        return Error{say("nowhere does it lie near other skin that faces alike")};
    // What is a piece of its own, without any of it taken, stays as it is.
    std::set<std::uint32_t> reached;
    std::vector<std::uint32_t> next;
    for (const Amount& a : c.where)
        if (!open.count(a.vertex))
            next.push_back(a.vertex);
    while (!next.empty()) {
        const std::uint32_t v = next.back();
        next.pop_back();
        for (const std::uint32_t* n = surface.neighbours.begin(v); n != surface.neighbours.end(v); ++n)
            if (open.count(*n) && reached.insert(*n).second)
                next.push_back(*n);
    }
    std::vector<Amount> fill;
    for (const Amount& a : c.where)
        if (reached.count(a.vertex))
            fill.push_back({a.vertex, a.by});
    return fill.empty() ? Result<Done>(Done{}) : fromNeighbours(step, {s, fill}, shares);
}

} // namespace hobble
