// A finger's skin that goes in part with the finger beside it, all along, so that it is no island of its own.
#include "core/judge/causes/case.h"

#include <algorithm>
#include <map>

namespace hobble {

void askNeighbourFinger(const Case& c, Causes& found) {
    constexpr double least = 0.2, weight = 0.99; // mean share over the skin beyond the knuckles
    if (among(found, {CauseKind::NeighbourFinger}))
        return;
    const auto digitOf = [&](int j) {
        const JointRole& r = c.subject.roles[static_cast<std::size_t>(j)];
        return r.role == Role::Finger || r.role == Role::Thumb ? std::max(r.digit, 0) : -1;
    };
    // Marked skin that a digit's second or third joint holds, or the first one nearly alone: webs between
    // fingers are shared by right.
    const SkinWeights& w = c.subject.surface.weights;
    std::map<std::pair<int, int>, std::pair<double, std::size_t>> bleed; // home and intruder: sum, vertices
    std::map<int, std::size_t> ofHome;
    for (std::uint32_t v : c.marked) {
        int home = -1;
        float most = 0;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.weight[i] > most) {
                most = w.weight[i];
                home = w.joint[i];
            }
        if (home < 0 || digitOf(home) < 0)
            continue;
        double other = 0;
        int from = -1;
        float largest = 0;
        bool web = false;
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i) {
            const int j = w.joint[i], digit = digitOf(j);
            web |= digit < 0 && w.weight[i] > 0.05f; // the palm has a share
            if (digit < 0 || digit == digitOf(home))
                continue;
            other += static_cast<double>(w.weight[i]);
            if (w.weight[i] > largest) {
                largest = w.weight[i];
                from = j;
            }
        }
        if (web)
            continue;
        ++ofHome[home];
        if (from >= 0) {
            auto& [sum, count] = bleed[{home, from}];
            sum += other;
            ++count;
        }
    }
    const Cause* best = nullptr;
    Cause told;
    double most = 0;
    for (const auto& [pair, held] : bleed) {
        const auto& [sum, count] = held;
        const double mean = sum / static_cast<double>(ofHome[pair.first]);
        if (count < 3 || mean < least || sum <= most)
            continue;
        most = sum;
        told = {CauseKind::NeighbourFinger, weight, fact::BleedsIn{pair.second, pair.first, mean}};
        best = &told;
    }
    if (best)
        found.push_back(*best);
}

} // namespace hobble
