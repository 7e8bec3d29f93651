#include "core/measure/quantile.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace hobble {

namespace {

constexpr std::size_t kBins = 512;

// Leaves only the items of that bin, of equal bins from least to greatest value, in which the weight from
// below reaches `goal`: far fewer to sort, unless one of them lies far off all others.
void keepBin(std::vector<std::pair<float, float>>& items, double goal, double& below) {
    float least = items.front().first, most = least;
    for (const auto& [value, weight] : items) {
        least = std::min(least, value);
        most = std::max(most, value);
    }
    const float scale = static_cast<float>(kBins) / (most - least);
    if (!std::isfinite(scale) || !std::isfinite(least))
        return;
    const auto binOf = [&](float value) {
        return std::min(static_cast<std::size_t>((value - least) * scale), kBins - 1);
    };
    double weightOf[kBins] = {};
    for (const auto& [value, weight] : items)
        weightOf[binOf(value)] += weight;
    std::size_t bin = 0;
    while (bin + 1 < kBins && below + weightOf[bin] < goal)
        below += weightOf[bin++];
    std::erase_if(items, [&](const auto& item) { return binOf(item.first) != bin; });
}

} // namespace

double weightedQuantile(std::vector<std::pair<float, float>> items, double share) {
    if (items.empty())
        return std::numeric_limits<double>::quiet_NaN();
    double total = 0;
    for (const auto& [value, weight] : items)
        total += weight;
    double below = 0; // the weight left of items
    if (items.size() > 2 * kBins)
        keepBin(items, share * total, below);
    // The answer lies in [low, high).
    auto low = items.begin(), high = items.end();
    const auto byValue = [](const auto& a, const auto& b) { return a.first < b.first; };
    while (high - low > 1) {
        const auto middle = low + (high - low) / 2;
        std::nth_element(low, middle, high, byValue);
        double left = 0;
        for (auto i = low; i != middle; ++i)
            left += i->second;
        if (below + left >= share * total) {
            high = middle;
        } else {
            below += left;
            low = middle;
        }
    }
    return low->first;
}

} // namespace hobble
