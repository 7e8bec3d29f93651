#include "io/bind_placement.h"

#include <algorithm>

namespace hobble {

Transform bindPlacement(const std::vector<Transform>& nodes, const std::vector<Transform>& inverseBind,
                        std::size_t top, const std::vector<Transform>& still) {
    double size = 1e-6;
    for (const Transform& n : nodes)
        size = std::max(size, (n.translation() - nodes[0].translation()).norm());
    // How far a joint would stand from where the file's node stands: in place, and in turn and scale.
    auto misfit = [&](const Transform& place, std::size_t i) {
        const Transform bind = place * inverseBind[i].inverse();
        return (bind.translation() - nodes[i].translation()).norm() / size +
               (bind.linear() - nodes[i].linear()).norm() / std::max(nodes[i].linear().norm(), 1e-12);
    };
    const Transform byTop = nodes[top] * inverseBind[top];
    std::size_t agreeing = 0;
    for (std::size_t i = 0; i < nodes.size(); ++i)
        agreeing += misfit(byTop, i) < 1e-3;
    if (agreeing * 2 > nodes.size())
        return byTop;

    auto medianMisfit = [&](const Transform& place) {
        std::vector<double> all;
        for (std::size_t i = 0; i < nodes.size(); ++i)
            all.push_back(misfit(place, i));
        const std::size_t middle = (all.size() - 1) / 2;
        std::nth_element(all.begin(), all.begin() + middle, all.end());
        return all[middle];
    };
    const Transform& best =
        *std::min_element(still.begin(), still.end(), [&](const Transform& a, const Transform& b) {
            return medianMisfit(a) < medianMisfit(b) - 1e-9;
        });
    return medianMisfit(best) < 1.2 ? best : byTop; // beyond that it is another up-axis or unit, not a pose
}

} // namespace hobble
