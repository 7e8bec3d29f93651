#include "core/pose/sweep.h"

#include <algorithm>

namespace hobble {

SweepPlace sweptOn(const SweepPlace& from, double limit, double passed, double seconds, double worst) {
    constexpr double least = 30; // a short range is not hurried through
    const double way = std::max(limit, least) * passed / seconds;
    const double next = from.at + (from.back ? -way : way);
    if (!from.back && worst >= 0 && from.at < worst - 1e-9 && next >= worst)
        return {worst, false, true, false};
    SweepPlace out{std::clamp(next, 0.0, limit), from.back, false, false};
    out.home = from.back && next <= 0;
    if (next >= limit || next <= 0)
        out.back = next >= limit;
    return out;
}

} // namespace hobble
