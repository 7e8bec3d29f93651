#include "core/intake/check.h"

#include <algorithm>

namespace hobble {

CheckFindings inspect(const Subject& subject, const IntakeLimits& limits) {
    CheckFindings out;
    for (auto check :
         {checkTransforms, checkUnboundParts, checkUnweightedVertices, checkCrackingSeams, checkWeightSums,
          checkEndJointWeights, checkWeightlessJoints, checkInfluenceCount, checkNegligibleWeights}) {
        CheckFindings found = check(subject, limits);
        out.insert(out.end(), std::make_move_iterator(found.begin()), std::make_move_iterator(found.end()));
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const CheckFinding& a, const CheckFinding& b) { return a.severity > b.severity; });
    return out;
}

} // namespace hobble
