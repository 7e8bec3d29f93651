#include "core/run/spot.h"

#include "core/judge/patches.h"

#include <algorithm>

namespace hobble {

std::vector<SpotInfluence> influencesAt(const Subject& s, std::uint32_t v) {
    std::vector<SpotInfluence> out;
    const SkinWeights& w = s.character->weights;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        out.push_back({w.joint[i], w.weight[i], 0});
    std::stable_sort(out.begin(), out.end(),
                     [](const SpotInfluence& a, const SpotInfluence& b) { return a.share > b.share; });
    for (SpotInfluence& i : out)
        i.bones = s.character->skeleton.boneDistance(out.front().joint, i.joint);
    return out;
}

std::vector<SpotMotion> worstMotionsAt(const Subject& s, const Plan& plan, Skinning method,
                                       const Limits& limits, MeasuredStore& store, std::uint32_t fileVertex,
                                       std::size_t most) {
    const std::uint32_t v = s.surface.weldOf[fileVertex];
    std::vector<SpotMotion> out;
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const Motion& motion = plan.motions[m];
        const auto measured = store.find(*s.character, method, motion, floorsFor(limits));
        if (!measured)
            continue;
        const Role role = s.roles[motion.turns.front().joint].role;
        SpotMotion worst;
        worst.motion = static_cast<int>(m);
        for (const MeasuredPose& pose : measured->poses)
            for (const auto& [kind, samples] :
                 {std::pair(Kind::Stretch, &pose.stretch), {Kind::Squash, &pose.squash}})
                for (auto t = s.surface.trianglesAt.begin(v); t != s.surface.trianglesAt.end(v); ++t) {
                    const auto at =
                        std::lower_bound(samples->begin(), samples->end(), *t,
                                         [](const Sample& x, std::uint32_t wanted) { return x.at < wanted; });
                    if (at == samples->end() || at->at != *t)
                        continue;
                    const double trouble = troubleOf(kind, at->value, limits.of(kind, role));
                    if (trouble > worst.trouble)
                        worst = {worst.motion, pose.at, kind, at->value, trouble};
                }
        if (worst.trouble > 0)
            out.push_back(worst);
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const SpotMotion& a, const SpotMotion& b) { return a.trouble > b.trouble; });
    out.resize(std::min(out.size(), most));
    return out;
}

} // namespace hobble
