#include "core/measure/contact_pairs.h"

namespace hobble {

void refit(const ContactSetup& setup, const std::vector<Vec3>& p, ContactScratch& out) {
    const auto& nodes = setup.tree.nodes;
    const bool all = out.boxes.size() != nodes.size() || out.at.size() != p.size();
    std::vector<char> moved(p.size(), 1), touched(nodes.size(), 0);
    if (!all)
        for (std::size_t v = 0; v < p.size(); ++v)
            moved[v] = p[v] != out.at[v];
    out.boxes.resize(nodes.size());
    out.facing.resize(nodes.size());
    // Triangles lie in the order of the leaves: what moves lies in runs.
    std::uint32_t from = 0, to = 0;
    const auto boxRun = [&] {
        triangleBoxes(setup.corners, from, to, p, out.triangles);
        from = to = 0;
    };
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        const auto [first, count] = nodes[n];
        for (std::uint32_t i = first; i < first + count && !touched[n]; ++i) {
            const Triangle& f = setup.corners[i];
            touched[n] = moved[f[0]] || moved[f[1]] || moved[f[2]];
        }
        if (!touched[n])
            continue;
        if (first != to && to > from)
            boxRun();
        if (to == from)
            from = first;
        to = first + count;
    }
    if (to > from)
        boxRun();
    const TriangleBoxes& t = out.triangles;
    for (std::size_t n = nodes.size(); n-- > 0;) {
        const auto [first, count] = nodes[n];
        NodeBox& box = out.boxes[n];
        if (count == 0) {
            touched[n] = touched[first] || touched[first + 1];
            if (!touched[n])
                continue;
            box = out.boxes[first];
            box.extend(out.boxes[first + 1]);
            out.facing[n] = out.facing[first] & out.facing[first + 1];
            continue;
        }
        if (!touched[n])
            continue;
        for (int axis = 0; axis < 3; ++axis) {
            const float *l = &t.low[axis][first], *h = &t.high[axis][first];
            box.low[axis] = *std::min_element(l, l + count);
            box.high[axis] = *std::max_element(h, h + count);
        }
        out.facing[n] = t.facing[first];
        for (std::uint32_t i = first + 1; i < first + count; ++i)
            out.facing[n] &= t.facing[i];
    }
    out.at = p;
}

bool likeARoof(const ContactSetup& setup, const std::vector<std::uint32_t>& facing, std::uint32_t i,
               std::uint32_t j) {
    if (!(facing[i] & facing[j]) || !setup.onePiece[i] || !setup.onePiece[j])
        return false;
    const auto [a, b] = std::minmax(i, j);
    return i == j || std::find(setup.beside.begin(a), setup.beside.end(a), b) != setup.beside.end(a);
}

} // namespace hobble
