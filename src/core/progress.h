#pragma once
// Long work outside a run (opening, preparing): tells how far it is and learns whether it shall stop.
#include <atomic>
#include <functional>

namespace hobble {

struct Progress {
    const std::atomic<bool>* cancel = nullptr;
    std::function<void(double share)> tell; // 0 … 1 of the work at hand; from the thread that works

    bool stopped() const { return cancel && cancel->load(std::memory_order_relaxed); }
    void at(double share) const {
        if (tell)
            tell(share);
    }
    /// The part of this work from one share to another.
    Progress within(double from, double to) const {
        if (!tell)
            return {cancel, {}};
        return {cancel, [=, outer = tell](double share) { outer(from + share * (to - from)); }};
    }
};

} // namespace hobble
