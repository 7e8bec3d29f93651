#include "core/exposure/fault_use.h"

namespace hobble {

UsePast usePast(const Exposure& e, const Plan& plan, const Finding& f) {
    if (f.motion < 0)
        return {};
    return usePast(e, e.motionOf(plan.motions[static_cast<std::size_t>(f.motion)].id), f.onset);
}

FaultUse faultUse(const Exposure& e, const RunResult& run, const Fault& fault) {
    FaultUse out;
    for (int sign : fault.signs) {
        const UsePast past = usePast(e, run.plan, run.findings[static_cast<std::size_t>(sign)]);
        const bool more = past.frames > out.past.frames || (past.known() && !out.past.known());
        if (out.finding < 0 || more)
            out = {sign, past};
    }
    return out;
}

UsePast usePastPlan(const Exposure& e, const Motion& motion) {
    // the next whole unit: to its limit is not past it
    return usePast(e, e.motionOf(motion.id), motion.limit() + 1);
}

} // namespace hobble
