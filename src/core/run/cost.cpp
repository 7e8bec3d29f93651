#include "core/run/cost.h"
#include "core/words/say.h"

#include <tbb/info.h>

#include <cmath>

namespace hobble {

RunCost runCost(const Subject& s, const Plan& plan, double secondsPerPose) {
    RunCost out;
    double work = 0; // poses of one joint; a pose that turns many measures more skin
    for (const Motion& m : plan.motions) {
        if (!m.on)
            continue;
        ++out.motions;
        out.poses += m.steps.size();
        work += static_cast<double>(m.steps.size()) *
                (m.span == Span::Degrees ? 1 : std::min(1 + 0.2 * static_cast<double>(m.turns.size()), 5.0));
    }
    if (secondsPerPose > 0) {
        out.seconds = secondsPerPose * static_cast<double>(out.poses);
        return out;
    }
    // Measured on the demo's badger, two cores (docs/performance.md): 1.1e-7 s a triangle and pose on one.
    const double each = 1.1e-7 * static_cast<double>(s.surface.triangles.size()) /
                        std::max(1, tbb::info::default_concurrency());
    out.seconds = each * work;
    return out;
}

std::string wordsFor(const RunCost& c) {
    return c.seconds < 90 ? say("%zu motions, %zu poses, about %.0f s", c.motions, c.poses,
                                std::round(std::max(c.seconds, 1.0)))
                          : say("%zu motions, %zu poses, about %.0f min", c.motions, c.poses,
                                std::round(c.seconds / 60));
}

} // namespace hobble
