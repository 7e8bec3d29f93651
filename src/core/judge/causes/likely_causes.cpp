#include "core/judge/causes/likely_causes.h"

#include <algorithm>

namespace hobble {

CauseContext causeContext(const Subject& s) {
    CauseContext out;
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        out.blends.push_back(blendShape(s, j));
    out.twins = mirrorTwins(s);
    out.torn = treeAndSkin(s.character->skeleton, s.surface).torn;
    return out;
}

std::vector<Cause> likelyCauses(const Subject& subject, const CauseContext& context, const Plan& plan,
                                Skinning method, const Finding& finding) {
    const Case c(subject, context, plan, method, finding);
    Causes found;
    for (const auto ask :
         {askBeyondPlan, askTornLimb, askPartBinding, askBendAxis, askKick, askIslands, askLoneVertex,
          askDrivers, askTwist, askBlend, askHeldByParent, askOtherSide, askPivot, askGarment, askMethod})
        ask(c, found);
    std::stable_sort(found.begin(), found.end(),
                     [](const Cause& a, const Cause& b) { return a.weight > b.weight; });
    return found;
}

} // namespace hobble
