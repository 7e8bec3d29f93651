// One joint holds all.
#include "core/mend/step.h"

namespace hobble {

Result<Done> rigid(const Step&, const StepContext& c, Shares& shares) {
    const ShareRow all{{static_cast<std::uint16_t>(c.joint), 1}};
    for (const Amount& a : c.where)
        shares.want(a.vertex, mixed(shares.at(a.vertex), all, a.by));
    return Done{};
}

} // namespace hobble
