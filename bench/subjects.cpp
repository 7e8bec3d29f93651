#include "subjects.h"

#include "io/character_read.h"

#include <cmath>
#include <map>

namespace hobble::bench {

namespace {

Character demo() { return std::move(readCharacter(HOBBLE_DEMO_DIR "/badger-postmaster.glb").value()); }

// Halves every edge that is longer than any of the wanted number would have to be: the longest of a triangle
// together with its neighbours', so that no T-junction is left. Weights are averaged and kept to four.
Character divided(const Character& c, std::size_t triangles) {
    Character out = c;
    while (out.triangles.size() < triangles) {
        // The edges marked in this round: all, when a quarter of the goal is not reached yet; else the
        // longest.
        const std::size_t missing = triangles - out.triangles.size();
        const Character now = std::move(out);
        out = now;
        std::map<std::pair<std::uint32_t, std::uint32_t>, double> length;
        for (const Triangle& t : now.triangles)
            for (int k = 0; k < 3; ++k) {
                const auto e = std::minmax(t[k], t[(k + 1) % 3]);
                length[{e.first, e.second}] = (now.neutral[e.first] - now.neutral[e.second]).norm();
            }
        std::vector<std::pair<double, std::pair<std::uint32_t, std::uint32_t>>> edges;
        for (const auto& [e, l] : length)
            edges.push_back({-l, e});
        std::sort(edges.begin(), edges.end());
        if (edges.size() > missing / 2 + 1) // each halved edge makes two triangles more
            edges.resize(missing / 2 + 1);
        std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> middle;
        // New vertices go to the end of their part; parts are ranges, so they are built part by part.
        std::map<int, std::vector<std::pair<std::uint32_t, std::uint32_t>>> byPart;
        for (const auto& [l, e] : edges)
            byPart[now.partOfVertex(e.first)].push_back(e);
        Character next = now;
        next.bindPosition.clear();
        next.neutral.clear();
        next.colour.clear();
        next.triangles.clear();
        next.weights = {};
        std::vector<std::uint32_t> newIndex(now.neutral.size());
        const auto addWeights = [&](const std::map<std::uint16_t, float>& sum) {
            std::vector<std::pair<float, std::uint16_t>> best;
            for (const auto& [j, w] : sum)
                best.push_back({w, j});
            std::sort(best.rbegin(), best.rend());
            best.resize(std::min<std::size_t>(best.size(), 4));
            float total = 0;
            for (const auto& [w, j] : best)
                total += w;
            for (const auto& [w, j] : best) {
                next.weights.joint.push_back(j);
                next.weights.weight.push_back(w / total);
            }
            next.weights.first.push_back(static_cast<std::uint32_t>(next.weights.joint.size()));
            next.weights.fileSum.push_back(1);
        };
        for (std::size_t p = 0; p < now.parts.size(); ++p) {
            const Part& part = now.parts[p];
            Part& to = next.parts[p];
            to.firstVertex = static_cast<std::uint32_t>(next.neutral.size());
            to.targets.clear();
            to.targetWeights.clear();
            const auto add = [&](std::uint32_t a, std::uint32_t b) {
                next.bindPosition.push_back((now.bindPosition[a] + now.bindPosition[b]) / 2);
                next.neutral.push_back((now.neutral[a] + now.neutral[b]) / 2);
                if (!now.colour.empty())
                    next.colour.push_back((now.colour[a] + now.colour[b]) / 2);
                std::map<std::uint16_t, float> sum;
                for (std::uint32_t v : {a, b})
                    for (std::uint32_t i = now.weights.first[v]; i < now.weights.first[v + 1]; ++i)
                        sum[now.weights.joint[i]] += now.weights.weight[i] / 2;
                addWeights(sum);
                return static_cast<std::uint32_t>(next.neutral.size() - 1);
            };
            for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v)
                newIndex[v] = add(v, v);
            for (const auto& e : byPart[static_cast<int>(p)])
                middle[e] = add(e.first, e.second);
            to.vertexCount = static_cast<std::uint32_t>(next.neutral.size()) - to.firstVertex;
            to.firstTriangle = static_cast<std::uint32_t>(next.triangles.size());
            for (std::uint32_t t = part.firstTriangle; t < part.firstTriangle + part.triangleCount; ++t) {
                // Corners and middles in turn round the triangle, then cut off ears at the middles.
                const Triangle& f = now.triangles[t];
                std::array<std::uint32_t, 3> m{};
                int cut = 0;
                for (int k = 0; k < 3; ++k) {
                    const auto e = std::minmax(f[k], f[(k + 1) % 3]);
                    const auto it = middle.find({e.first, e.second});
                    m[k] = it == middle.end() ? ~0u : it->second;
                    cut += m[k] != ~0u;
                }
                std::array<std::uint32_t, 3> v{newIndex[f[0]], newIndex[f[1]], newIndex[f[2]]};
                const auto put = [&](std::uint32_t a, std::uint32_t b, std::uint32_t d) {
                    next.triangles.push_back({a, b, d});
                };
                int r = 0; // turned so that the case is the first of its kind
                if (cut == 1)
                    while (m[r] == ~0u)
                        ++r;
                if (cut == 2)
                    while (m[(r + 2) % 3] != ~0u)
                        ++r;
                const auto V = [&](int k) { return v[(k + r) % 3]; };
                const auto M = [&](int k) { return m[(k + r) % 3]; };
                if (cut == 0)
                    put(V(0), V(1), V(2));
                else if (cut == 1) {
                    put(V(0), M(0), V(2));
                    put(M(0), V(1), V(2));
                } else if (cut == 2) { // edges 0 and 1 are cut
                    put(M(0), V(1), M(1));
                    put(V(0), M(0), M(1));
                    put(V(0), M(1), V(2));
                } else {
                    put(V(0), M(0), M(2));
                    put(M(0), V(1), M(1));
                    put(M(2), M(1), V(2));
                    put(M(0), M(1), M(2));
                }
            }
            to.triangleCount = static_cast<std::uint32_t>(next.triangles.size()) - to.firstTriangle;
        }
        std::erase_if(next.drivers, [](const Driver& d) { return d.output == Driver::Output::Target; });
        out = std::move(next);
    }
    out.hash += "-" + std::to_string(out.triangles.size());
    return out;
}

} // namespace

const Subject& badger() {
    static const Subject s = prepareSubject(std::make_shared<const Character>(demo()));
    return s;
}

const Subject& badgerOf(std::size_t triangles) {
    static std::map<std::size_t, Subject> all;
    auto it = all.find(triangles);
    if (it == all.end())
        it = all.emplace(triangles,
                         prepareSubject(std::make_shared<const Character>(divided(demo(), triangles))))
                 .first;
    return it->second;
}

Motion everythingTurning(const Subject& s) {
    Motion m;
    m.id = m.name = "everything";
    m.limb = Limb::Other;
    for (int j = 1; j < s.character->skeleton.size(); ++j)
        m.turns.push_back({j, Vec3d(2, -1, 3).normalized(), 1});
    m.steps = {0, 13, 0};
    return m;
}

Pose everythingTurned(const Subject& s) { return poseAt(s.character->skeleton, everythingTurning(s), 13); }

} // namespace hobble::bench
