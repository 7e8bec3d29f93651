#pragma once
// Which triangles come near each other in a pose: the tree against itself, without what cannot meet. Our own
// way down the tree; what it leaves out, and whose idea that is, is said at each.
#include "core/measure/contact.h"

#include <algorithm>

namespace hobble {

inline std::uint64_t pairKey(std::uint32_t a, std::uint32_t b) {
    return a < b ? (std::uint64_t(a) << 32 | b) : (std::uint64_t(b) << 32 | a);
}

/// Boxes and facing of all nodes, from the triangles up. What lies where it lay in `out.at` is not made
/// again.
void refit(const ContactSetup& setup, const std::vector<Vec3>& posedWelded, ContactScratch& out);

/// Whether two nodes, alike in depth, make one patch that does not meet itself.
bool likeARoof(const ContactSetup& setup, const std::vector<NodeInPose>& nodes, std::uint32_t i,
               std::uint32_t j);

/// Whether two nodes go rigidly together, or are of parts that may sit in each other.
inline bool neverMeet(const ContactSetup& setup, std::size_t parts, const NodeInPose& a,
                      const NodeInPose& b) {
    return (a.carrier >= 0 && a.carrier == b.carrier) || (a.goes == b.goes && a.goes != Goes::Otherwise) ||
           (a.part >= 0 && b.part >= 0 &&
            !setup.mayMeet[static_cast<std::size_t>(a.part) * parts + static_cast<std::size_t>(b.part)]);
}

inline bool shareVertex(const Triangle& a, const Triangle& b) {
    for (std::uint32_t v : a)
        if (v == b[0] || v == b[1] || v == b[2])
            return true;
    return false;
}

/// Calls `found(a, b)` for the triangles of two leaves, or of one, whose boxes meet and that share no vertex,
/// `joined(a, b)` for those that do.
template <class Found, class Joined>
void leavesMeet(const ContactSetup& setup, const ContactScratch& scratch, const NodeInPose& a,
                const NodeInPose& b, const Found& found, const Joined& joined) {
    for (std::uint32_t x = a.first; x < a.first + a.count; ++x)
        for (std::uint32_t y = a.first == b.first ? x + 1 : b.first; y < b.first + b.count; ++y)
            if (scratch.triangleBoxes[x].meets(scratch.triangleBoxes[y])) {
                if (shareVertex(setup.corners[x], setup.corners[y]))
                    joined(setup.tree.triangle[x], setup.tree.triangle[y]);
                else
                    found(setup.tree.triangle[x], setup.tree.triangle[y]);
            }
}

/// Calls `found(a, b)` for each pair of triangles whose boxes meet and that could cross, `joined(a, b)` where
/// they share a vertex. `leave(a, b)` leaves out pairs of nodes.
template <class Leave, class Found, class Joined>
void nearPairs(const ContactSetup& setup, const ContactScratch& scratch, const Leave& leave,
               const Found& found, const Joined& joined) {
    const std::vector<NodeInPose>& nodes = scratch.nodes;
    if (nodes.empty())
        return;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> stack{{0, 0}};
    while (!stack.empty()) {
        const auto [i, j] = stack.back();
        stack.pop_back();
        const NodeInPose &a = nodes[i], &b = nodes[j];
        if (leave(a, b) || likeARoof(setup, nodes, i, j))
            continue;
        if (a.count && b.count) {
            leavesMeet(setup, scratch, a, b, found, joined);
        } else if (i == j) {
            stack.push_back({a.first, a.first});
            stack.push_back({a.first + 1, a.first + 1});
            if (scratch.boxes[a.first].meets(scratch.boxes[a.first + 1]))
                stack.push_back({a.first, a.first + 1});
        } else { // both halved, so that both are of one depth
            for (std::uint32_t x = a.count ? i : a.first; x <= (a.count ? i : a.first + 1); ++x)
                for (std::uint32_t y = b.count ? j : b.first; y <= (b.count ? j : b.first + 1); ++y)
                    if (scratch.boxes[x].meets(scratch.boxes[y]))
                        stack.push_back({x, y});
        }
    }
}

} // namespace hobble
