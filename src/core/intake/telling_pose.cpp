#include "core/intake/telling_pose.h"

#include "core/pose/drive.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace hobble {

namespace {

constexpr std::size_t kLooked = 300;  // of the marked vertices, evenly
constexpr double kLeastShown = 0.004; // body heights: less is not seen in a picture
constexpr double kNearlyAsWell = 0.7; // of what the best shows

using VertexPair = std::pair<std::uint32_t, std::uint32_t>; // of the file

std::uint32_t nearestUnmarked(const Character& c, const std::vector<char>& marked, std::uint32_t v) {
    std::uint32_t best = v;
    float nearest = std::numeric_limits<float>::max();
    for (std::uint32_t u = 0; u < c.neutral.size(); ++u)
        if (!marked[u])
            if (const float d = (c.neutral[u] - c.neutral[v]).squaredNorm(); d < nearest) {
                nearest = d;
                best = u;
            }
    return best;
}

// What is looked at: each marked vertex with what lies beside it.
std::vector<VertexPair> pairsOf(const Subject& s, const std::vector<std::uint32_t>& looked,
                                const std::vector<char>& marked) {
    const Character& c = *s.character;
    std::map<std::uint32_t, std::vector<std::uint32_t>> atPlace; // other surfaces that only touch
    for (std::uint32_t w = 0; w < s.surface.vertexCount(); ++w)
        if (s.surface.touches[w])
            atPlace[s.surface.placeOf[w]].push_back(w);
    std::vector<VertexPair> out;
    for (std::uint32_t v : looked) {
        const std::uint32_t weld = s.surface.weldOf[v];
        bool beside = false;
        const auto with = [&](std::uint32_t u) {
            if (u != v)
                out.push_back({v, u});
            beside = beside || !marked[u];
        };
        for (auto n = s.surface.neighbours.begin(weld); n != s.surface.neighbours.end(weld); ++n)
            with(s.surface.representative(*n));
        for (auto u = s.surface.members.begin(weld); u != s.surface.members.end(weld); ++u)
            with(*u);
        if (const auto others = atPlace.find(s.surface.placeOf[weld]); others != atPlace.end())
            for (std::uint32_t w : others->second)
                if (w != weld)
                    with(s.surface.representative(w));
        if (!beside)
            if (const std::uint32_t u = nearestUnmarked(c, marked, v); u != v)
                out.push_back({v, u});
    }
    return out;
}

Vec3d skinned(const Character& c, const std::vector<Transform>& world, int skin, std::uint32_t v) {
    const SkinWeights& w = c.weights;
    if (skin < 0 || w.first[v] == w.first[v + 1])
        return c.neutral[v].cast<double>();
    Vec3d out = Vec3d::Zero();
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i) {
        const auto j = static_cast<std::size_t>(w.joint[i]);
        out += static_cast<double>(w.weight[i]) *
               (world[j] * (c.skins[static_cast<std::size_t>(skin)].inverseBind[j] *
                            Vec3d(c.bindPosition[v].cast<double>())));
    }
    return out;
}

std::optional<TellingPose> widestOf(const Plan& plan, int joint) {
    std::optional<TellingPose> out;
    double widest = 0;
    for (std::size_t m = 0; m < plan.motions.size(); ++m)
        if (const Motion& motion = plan.motions[m]; joint >= 0 && motion.span == Span::Degrees &&
                                                    motion.turns.front().joint == joint &&
                                                    motion.limit() > widest) {
            widest = motion.limit();
            out = {static_cast<int>(m), 0};
        }
    return out;
}

} // namespace

std::optional<TellingPose> tellingPose(const Subject& s, const Plan& plan,
                                       const std::vector<std::uint32_t>& vertices, int joint,
                                       const Progress& progress) {
    const Character& c = *s.character;
    std::vector<char> marked(c.vertexCount(), 0);
    std::vector<std::uint32_t> looked;
    for (std::size_t i = 0; i < vertices.size(); ++i)
        if (vertices[i] < marked.size()) {
            marked[vertices[i]] = 1;
            // the i-th is taken where the count of those to be taken steps on
            if (vertices.size() <= kLooked ||
                i * kLooked / vertices.size() != (i + 1) * kLooked / vertices.size())
                looked.push_back(vertices[i]);
        }
    const std::vector<VertexPair> pairs = pairsOf(s, looked, marked);
    std::vector<std::uint32_t> needed;
    for (const auto& [a, b] : pairs) {
        needed.push_back(a);
        needed.push_back(b);
    }
    std::sort(needed.begin(), needed.end());
    needed.erase(std::unique(needed.begin(), needed.end()), needed.end());
    std::vector<int> skins;
    for (std::uint32_t v : needed)
        for (const Part& part : c.parts)
            if (v >= part.firstVertex && v < part.firstVertex + part.vertexCount)
                skins.push_back(part.skin);
    const auto indexOf = [&](std::uint32_t v) {
        return static_cast<std::size_t>(std::lower_bound(needed.begin(), needed.end(), v) - needed.begin());
    };
    std::vector<std::array<std::size_t, 2>> ends;
    for (const auto& [a, b] : pairs)
        ends.push_back({indexOf(a), indexOf(b)});

    std::vector<double> shows(plan.motions.size(), 0);
    std::vector<Vec3d> posed(needed.size());
    for (std::size_t m = 0; m < plan.motions.size() && !pairs.empty(); ++m) {
        if (progress.stopped())
            return std::nullopt;
        const Driven driven = drive(c, poseAt(c.skeleton, plan.motions[m], plan.motions[m].limit()));
        for (std::size_t i = 0; i < needed.size(); ++i)
            posed[i] = skinned(c, driven.world, skins[i], needed[i]);
        double sum = 0;
        for (std::size_t p = 0; p < pairs.size(); ++p) {
            const double was = (c.neutral[pairs[p].first] - c.neutral[pairs[p].second]).norm();
            sum += std::pow((posed[ends[p][0]] - posed[ends[p][1]]).norm() - was, 2);
        }
        shows[m] = std::sqrt(sum / static_cast<double>(pairs.size())) / std::max(s.body.height, 1e-9);
    }
    const double most = shows.empty() ? 0 : *std::max_element(shows.begin(), shows.end());
    if (most < kLeastShown)
        return widestOf(plan, joint);
    std::optional<TellingPose> out;
    std::size_t simplest = 0;
    for (std::size_t m = 0; m < shows.size(); ++m) {
        const std::size_t turns = plan.motions[m].keys ? 1000 : plan.motions[m].turns.size();
        if (shows[m] >= kNearlyAsWell * most &&
            (!out || turns < simplest || (turns == simplest && shows[m] > out->shows))) {
            out = {static_cast<int>(m), shows[m]};
            simplest = turns;
        }
    }
    return out;
}

} // namespace hobble
