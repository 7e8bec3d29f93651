#include "core/measure/contact.h"

#include "core/measure/contact_depth.h"
#include "core/measure/contact_pairs.h"
#include "core/measure/region.h"
#include "core/measure/subject.h"

#include <algorithm>
#include <limits>

namespace hobble {

namespace {

// A triangle drawn out so far is a tear, told as stretch or spike: what it goes through on its way is no
// flesh in flesh.
constexpr float kTorn = 4;

// Of each node of the tree, from the leaves up.
void findTies(const Subject& s, const MotionRegion& region, std::vector<NodeInPose>& out) {
    std::vector<Goes> goes(s.surface.vertexCount());
    for (std::size_t v = 0; v < goes.size(); ++v) {
        bool stays = region.numberOf[v] == MotionRegion::kNone, along = stays;
        for (const auto& f : region.follow) {
            stays = stays && f[v] < 0.5f;
            along = along && f[v] > 0.5f;
        }
        goes[v] = stays ? Goes::Nowhere : along ? Goes::Along : Goes::Otherwise;
    }
    for (std::size_t n = out.size(); n-- > 0;) {
        NodeInPose& node = out[n];
        const std::int32_t part = s.contact->nodePart[n];
        node.carrier = s.contactCarriers[n];
        node.part = part <= std::numeric_limits<std::int16_t>::max() ? static_cast<std::int16_t>(part) : -1;
        node.goes = Goes::Otherwise;
        if (node.count == 0) {
            if (out[node.first].goes == out[node.first + 1].goes)
                node.goes = out[node.first].goes;
            continue;
        }
        node.goes = goes[s.contact->corners[node.first][0]];
        for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
            for (std::uint32_t v : s.contact->corners[i])
                if (goes[v] != node.goes)
                    node.goes = Goes::Otherwise;
    }
}

} // namespace

bool contacts(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
              ContactScratch& scratch, Contact& out, const std::atomic<bool>* cancel) {
    const auto cancelled = [&] { return cancel && cancel->load(std::memory_order_relaxed); };
    const ContactSetup& setup = *s.contact;
    const auto& triangles = s.surface.triangles;
    const std::size_t parts = s.character->parts.size();
    out = {};
    const bool another = scratch.forRegion != region.id || region.id == 0;
    if (another)
        scratch.at.clear();
    refit(setup, posed, scratch);
    if (another)
        findTies(s, region, scratch.nodes);
    scratch.forRegion = region.id;
    const auto torn = [&](std::uint32_t t) {
        const auto& [a, b, c] = triangles[t];
        return strainOf(s.rest[t], posed[a], posed[b], posed[c]).stretch > kTorn;
    };
    // Skin that only just touches in neutral crosses by rounding alone, wherever something else moves.
    const auto isAtRest = [&, still = static_cast<float>(1e-5 * s.body.height)](std::uint32_t v) {
        return (posed[v] - s.neutral[v]).squaredNorm() < still * still;
    };
    const auto rests = [&](std::uint32_t t) {
        return std::all_of(triangles[t].begin(), triangles[t].end(), isAtRest);
    };
    SkinCrossing crossing;
    scratch.joined.clear();
    nearPairs(
        setup, scratch,
        [&](const NodeInPose& a, const NodeInPose& b) { return neverMeet(setup, parts, a, b); },
        [&](std::uint32_t a, std::uint32_t b) {
            if (!setup.mayMeet[setup.partOf[a] * parts + setup.partOf[b]] ||
                !trianglesCross(triangles[a], triangles[b], posed))
                return;
            crossing.add(triangles[a], triangles[b], posed);
            if (!setup.neutralPairs.count(pairKey(a, b)) && !torn(a) && !torn(b) && !(rests(a) && rests(b)))
                out.pairs.push_back(std::minmax(a, b));
        },
        [&](std::uint32_t a, std::uint32_t b) {
            scratch.joined.push_back({a, b});
        });
    if (cancelled())
        return false;
    if (out.pairs.empty())
        return true;
    std::sort(out.pairs.begin(), out.pairs.end());
    for (const auto& [a, b] : scratch.joined)
        crossing.addFold(triangles[a], triangles[b], posed);
    crossing.sort();
    crossing.triangles = out.pairs;
    std::vector<std::uint32_t> cut;
    for (const auto& [a, b] : out.pairs)
        cut.insert(cut.end(), {a, b});
    std::sort(cut.begin(), cut.end());
    cut.erase(std::unique(cut.begin(), cut.end()), cut.end());
    for (std::uint32_t t : cut)
        out.area += s.surface.area[t];
    std::vector<InsideVertex> inside;
    if (!depthsInside(s.surface, setup, scratch.boxes, posed, s.body.height, crossing, cancel, inside))
        return false;
    for (auto [v, depth, exit] : inside) {
        if (isAtRest(v) && rests(exit)) // as deep as in neutral
            continue;
        depth -= setup.neutralDepth[v]; // what lay in flesh in neutral already counts only for how much
                                        // deeper it goes
        if (depth <= 0)
            continue;
        out.inside.push_back({v, depth});
        out.deepest = std::max(out.deepest, depth);
    }
    std::sort(out.inside.begin(), out.inside.end());
    return true;
}

} // namespace hobble
