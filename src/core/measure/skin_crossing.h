#pragma once
// Where skin crosses skin: the triangles, and the edges that lines of intersection pass through.
#include "core/geometry.h"

namespace hobble {

using IndexPairs = std::vector<std::pair<std::uint32_t, std::uint32_t>>;

/// Where skin crosses skin in a pose.
struct SkinCrossing {
    IndexPairs triangles; // pairs whose flesh in flesh is looked for
    IndexPairs
        edges; // that some triangle goes through, those of other pairs too; lesser vertex first, sorted
    std::vector<std::uint32_t>
        ends; // vertices where a line of intersection ends: skin folded about one; sorted

    /// Two triangles that cross.
    void add(const Triangle& a, const Triangle& b, const std::vector<Vec3>& positions);
    /// Two that have a vertex in common: where one folds through the other, a line ends.
    void addFold(const Triangle& a, const Triangle& b, const std::vector<Vec3>& positions);
    void sort();
    /// After sort(): whether a line of intersection passes between two neighbours, or ends at one of them.
    bool between(std::uint32_t a, std::uint32_t b) const;
};

} // namespace hobble
