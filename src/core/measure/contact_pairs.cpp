#include "core/measure/contact_pairs.h"

#include <algorithm>

namespace hobble {

void refit(const ContactSetup& setup, const std::vector<Vec3>& p, ContactScratch& out) {
    const auto& nodes = setup.tree.nodes;
    const bool all = out.boxes.size() != nodes.size() || out.at.size() != p.size();
    if (all) {
        out.at.assign(p.size(), FourLanes::Constant(NAN));
        out.triangleBoxes.resize(setup.corners.size());
        out.triangleFacing.resize(setup.corners.size());
        out.boxes.resize(nodes.size());
        out.nodes.resize(nodes.size());
        for (std::size_t n = 0; n < nodes.size(); ++n) {
            out.nodes[n].first = nodes[n].first;
            out.nodes[n].count = static_cast<std::uint8_t>(nodes[n].count);
        }
    }
    std::vector<char> moved(p.size()), touched(nodes.size(), 0);
    for (std::size_t v = 0; v < p.size(); ++v) {
        const FourLanes at(p[v].x(), p[v].y(), p[v].z(), 0);
        moved[v] = !allEqual(at, out.at[v]);
        out.at[v] = at;
    }
    std::vector<char> turned(setup.corners.size(), 0); // of a leaf that is touched
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        const auto [first, count] = nodes[n];
        for (std::uint32_t i = first; i < first + count && !touched[n]; ++i) {
            const Triangle& f = setup.corners[i];
            touched[n] = moved[f[0]] || moved[f[1]] || moved[f[2]];
        }
        if (touched[n])
            std::fill_n(turned.begin() + first, count, 1);
    }
    // What moves lies in runs. A few between two that have not moved cost less than another beginning.
    constexpr std::size_t few = 32;
    std::size_t from = 0, to = 0;
    for (std::size_t i = 0; i < turned.size(); ++i) {
        if (!turned[i])
            continue;
        if (i > to + few) {
            facings(setup.corners, from, to, p, out.triangleFacing);
            from = i;
        }
        to = i + 1;
    }
    facings(setup.corners, from, to, p, out.triangleFacing);
    const FourLanes unbounded(0, 0, 0, INFINITY); // the fourth lane of an upper bound
    for (std::size_t n = nodes.size(); n-- > 0;) {
        const auto [first, count] = nodes[n];
        if (count == 0) {
            touched[n] = touched[first] || touched[first + 1];
            if (!touched[n])
                continue;
            out.boxes[n] = out.boxes[first];
            out.boxes[n].extend(out.boxes[first + 1]);
            out.nodes[n].facing = out.nodes[first].facing & out.nodes[first + 1].facing;
            continue;
        }
        if (!touched[n])
            continue;
        for (std::uint32_t i = first; i < first + count; ++i) {
            const Triangle& f = setup.corners[i];
            const FourLanes &a = out.at[f[0]], &b = out.at[f[1]], &c = out.at[f[2]];
            NodeBox& box = out.triangleBoxes[i];
            box.low = a.min(b).min(c);
            box.high = a.max(b).max(c) + unbounded;
            if (i == first) {
                out.boxes[n] = box;
                out.nodes[n].facing = out.triangleFacing[i];
            } else {
                out.boxes[n].extend(box);
                out.nodes[n].facing &= out.triangleFacing[i];
            }
        }
    }
}

bool likeARoof(const ContactSetup& setup, const std::vector<NodeInPose>& nodes, std::uint32_t i,
               std::uint32_t j) {
    if (!(nodes[i].facing & nodes[j].facing) || !setup.onePiece[i] || !setup.onePiece[j])
        return false;
    const auto [a, b] = std::minmax(i, j);
    return i == j || std::find(setup.beside.begin(a), setup.beside.end(a), b) != setup.beside.end(a);
}

} // namespace hobble
