#include "core/measure/contact.h"

#include "core/measure/contact_depth.h"
#include "core/measure/contact_pairs.h"
#include "core/measure/region.h"
#include "core/measure/subject.h"

#include <algorithm>
#include <optional>

namespace hobble {

namespace {

// A triangle drawn out so far is a tear, told as stretch or spike: what it goes through on its way is no
// flesh in flesh.
constexpr float kTorn = 4;

} // namespace

bool contacts(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
              ContactScratch& scratch, Contact& out, const std::atomic<bool>* cancel) {
    const auto cancelled = [&] { return cancel && cancel->load(std::memory_order_relaxed); };
    const ContactSetup& setup = *s.contact;
    const std::vector<std::int32_t>& carriers = s.contactCarriers;
    const auto& triangles = s.surface.triangles;
    const std::size_t parts = s.character->parts.size();
    out = {};
    refit(setup, posed, scratch);
    if (scratch.forRegion != region.id || region.id == 0) {
        scratch.forRegion = region.id;
        scratch.goes.assign(setup.tree.nodes.size(), Goes::Otherwise);
        for (std::size_t n = setup.tree.nodes.size(); n-- > 0;) {
            const auto [first, count] = setup.tree.nodes[n];
            if (count == 0) {
                scratch.goes[n] =
                    scratch.goes[first] == scratch.goes[first + 1] ? scratch.goes[first] : Goes::Otherwise;
                continue;
            }
            std::optional<Goes> seen;
            for (std::uint32_t i = first; i < first + count; ++i)
                for (std::uint32_t v : triangles[setup.tree.triangle[i]]) {
                    bool stays = region.numberOf[v] == MotionRegion::kNone, along = stays;
                    for (const auto& f : region.follow) {
                        stays = stays && f[v] < 0.5f;
                        along = along && f[v] > 0.5f;
                    }
                    const Goes goes = stays ? Goes::Nowhere : along ? Goes::Along : Goes::Otherwise;
                    seen = !seen || *seen == goes ? goes : Goes::Otherwise;
                }
            scratch.goes[n] = *seen;
        }
    }
    const auto leave = [&](std::uint32_t i, std::uint32_t j) {
        return (scratch.goes[i] == scratch.goes[j] && scratch.goes[i] != Goes::Otherwise) ||
               neverMeet(setup, carriers, parts, i, j);
    };
    const auto torn = [&](std::uint32_t t) {
        const auto& [a, b, c] = triangles[t];
        return strainOf(s.rest[t], posed[a], posed[b], posed[c]).stretch > kTorn;
    };
    nearPairs(setup, scratch, leave, [&](std::uint32_t a, std::uint32_t b) {
        if (setup.mayMeet[setup.partOf[a] * parts + setup.partOf[b]] &&
            trianglesCross(triangles[a], triangles[b], posed) && !setup.neutralPairs.count(pairKey(a, b)) &&
            !torn(a) && !torn(b))
            out.pairs.push_back(std::minmax(a, b));
    });
    std::sort(out.pairs.begin(), out.pairs.end());
    if (cancelled())
        return false;
    std::vector<std::uint32_t> crossing;
    for (const auto& [a, b] : out.pairs)
        crossing.insert(crossing.end(), {a, b});
    std::sort(crossing.begin(), crossing.end());
    crossing.erase(std::unique(crossing.begin(), crossing.end()), crossing.end());
    for (std::uint32_t t : crossing)
        out.area += s.surface.area[t];
    std::vector<std::pair<std::uint32_t, float>> inside;
    if (!depthsInside(s.surface, setup, scratch.boxes, posed, s.body.height, crossing, cancel, inside))
        return false;
    for (auto [v, depth] : inside) {
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
