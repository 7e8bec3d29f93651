// What the skinning method itself takes: tried with the other one.
#include "core/judge/causes/case.h"

#include <algorithm>

namespace hobble {

void askMethod(const Case& c, Causes& found) {
    constexpr double leastGone = 0.3, most = 0.6, forShare = 0.7;
    const Kind kind = c.finding.kind;
    if (kind != Kind::Pinch && kind != Kind::VolumeLoss && kind != Kind::Squash)
        return;
    const Skinning other = c.method == Skinning::Linear ? Skinning::DualQuaternion : Skinning::Linear;
    if (const double share = std::min(c.gone(other, nullptr), 1.0); share > leastGone)
        found.push_back(
            {CauseKind::MethodCollapse, std::min(most, forShare * share), fact::OtherMethod{other, share}});
}

} // namespace hobble
