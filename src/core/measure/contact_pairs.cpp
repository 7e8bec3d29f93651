#include "core/measure/contact_pairs.h"

namespace hobble {

void refit(const ContactSetup& setup, const std::vector<Vec3>& p, ContactScratch& out) {
    const auto& nodes = setup.tree.nodes;
    triangleBoxes(setup.corners, p, out.triangles);
    out.boxes.low.resize(nodes.size());
    out.boxes.high.resize(nodes.size());
    out.facing.resize(nodes.size());
    const TriangleBoxes& t = out.triangles;
    for (std::size_t n = nodes.size(); n-- > 0;) {
        const auto [first, count] = nodes[n];
        Vec3 &low = out.boxes.low[n], &high = out.boxes.high[n];
        if (count == 0) {
            low = out.boxes.low[first].cwiseMin(out.boxes.low[first + 1]);
            high = out.boxes.high[first].cwiseMax(out.boxes.high[first + 1]);
            out.facing[n] = out.facing[first] & out.facing[first + 1];
            continue;
        }
        for (int axis = 0; axis < 3; ++axis) {
            const float *l = &t.low[axis][first], *h = &t.high[axis][first];
            low[axis] = *std::min_element(l, l + count);
            high[axis] = *std::max_element(h, h + count);
        }
        out.facing[n] = t.facing[first];
        for (std::uint32_t i = first + 1; i < first + count; ++i)
            out.facing[n] &= t.facing[i];
    }
}

bool likeARoof(const ContactSetup& setup, const std::vector<std::uint32_t>& facing, std::uint32_t i,
               std::uint32_t j) {
    if (!(facing[i] & facing[j]) || !setup.onePiece[i] || !setup.onePiece[j])
        return false;
    const auto [a, b] = std::minmax(i, j);
    return i == j || std::find(setup.beside.begin(a), setup.beside.end(a), b) != setup.beside.end(a);
}

bool neverMeet(const ContactSetup& setup, const std::vector<std::int32_t>& carriers, std::size_t parts,
               std::uint32_t i, std::uint32_t j) {
    const std::int32_t p = setup.nodePart[i], q = setup.nodePart[j];
    return (carriers[i] >= 0 && carriers[i] == carriers[j]) ||
           (p >= 0 && q >= 0 &&
            !setup.mayMeet[static_cast<std::size_t>(p) * parts + static_cast<std::size_t>(q)]);
}

} // namespace hobble
