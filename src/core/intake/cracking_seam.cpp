// Vertices that lie on one another and are weighted differently.
#include "core/intake/collect.h"

namespace hobble {

namespace {

// Pieces that lie flush and are held by other joints: no skin between them, and a gap as soon as one turns.
CheckFindings touchingPieces(const Subject& s) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    Places places(c);
    std::map<int, std::size_t> at;
    std::map<std::uint32_t, std::vector<std::uint32_t>> byPlace;
    for (std::uint32_t w = 0; w < f.vertexCount(); ++w)
        if (f.touches[w])
            byPlace[f.placeOf[w]].push_back(w);
    for (const auto& [place, together] : byPlace) {
        bool apart = false;
        for (std::uint32_t w : together) {
            const bool bound = f.weights.first[w] < f.weights.first[w + 1];
            apart |= w != place && bound && weightShared(f.weights, w, place) < 0.99;
        }
        if (!apart)
            continue;
        for (std::uint32_t w : together) {
            if (f.weights.first[w] < f.weights.first[w + 1])
                ++at[f.weights.joint[f.weights.first[w]]];
            for (auto m = f.members.begin(w); m != f.members.end(w); ++m)
                places.add(*m);
        }
    }
    if (!places.count() || at.empty())
        return {};
    const int joint = std::max_element(at.begin(), at.end(), [](const auto& a, const auto& b) {
                          return a.second < b.second;
                      })->first;
    const std::size_t n = places.count();
    return {
        {"seam that cracks", 2, joint, -1, places.take(), static_cast<double>(n),
         say("%zu vertices of pieces that are bound to other joints lie on one another: they only touch, and "
             "part as soon as one turns, most at %s.",
             n, c.skeleton.name[joint].c_str()),
         say("If they are meant to be one skin, merge and blend them; if not, let them overlap.")}};
}

} // namespace

CheckFindings checkCrackingSeams(const Subject& s, const IntakeLimits&) {
    const Character& c = *s.character;
    const Surface& f = s.surface;
    Places places(c);
    double worst = 0;
    std::map<int, double> at;
    for (std::size_t w = 0; w < f.vertexCount(); ++w) {
        if (f.members.count(w) < 2)
            continue;
        std::map<int, std::pair<float, float>> range;
        for (auto m = f.members.begin(w); m != f.members.end(w); ++m) {
            std::map<int, float> own;
            for (std::uint32_t i = c.weights.first[*m]; i < c.weights.first[*m + 1]; ++i)
                own[c.weights.joint[i]] += c.weights.weight[i];
            for (auto& [j, r] : range)
                if (!own.count(j))
                    r.first = 0;
            for (const auto& [j, x] : own) {
                auto [it, fresh] = range.try_emplace(j, m == f.members.begin(w) ? x : 0.f, x);
                it->second = {std::min(it->second.first, x), std::max(it->second.second, x)};
            }
        }
        double apart = 0;
        int joint = -1;
        for (const auto& [j, r] : range)
            if (r.second - r.first > apart) {
                apart = r.second - r.first;
                joint = j;
            }
        if (apart < 0.01)
            continue;
        worst = std::max(worst, apart);
        at[joint] += apart;
        for (auto m = f.members.begin(w); m != f.members.end(w); ++m)
            places.add(*m);
    }
    CheckFindings out = touchingPieces(s);
    if (!places.count())
        return out;
    const int joint = std::max_element(at.begin(), at.end(), [](const auto& a, const auto& b) {
                          return a.second < b.second;
                      })->first;
    const std::size_t n = places.count();
    out.insert(
        out.begin(),
        {"seam that cracks", worst > 0.1 ? 4 : 3, joint, -1, places.take(), worst,
         say("%zu vertices lie on one another but are weighted differently, by up to %.0f %%: the skin "
             "cracks open there, "
             "most at %s.",
             n, 100 * worst, c.skeleton.name[joint].c_str()),
         say("Merge the vertices, or copy one side's weights to the other.")});
    return out;
}

} // namespace hobble
