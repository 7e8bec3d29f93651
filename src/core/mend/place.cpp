#include "core/mend/place.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace hobble {

namespace {

double toPath(const Vec3& p, const std::vector<Vec3>& path) {
    double least = (p - path.front()).norm();
    for (std::size_t i = 1; i < path.size(); ++i) {
        const Vec3 along = path[i] - path[i - 1];
        const float length = along.squaredNorm();
        const float t = length > 0 ? std::clamp((p - path[i - 1]).dot(along) / length, 0.f, 1.f) : 0.f;
        least = std::min(least, static_cast<double>((p - path[i - 1] - t * along).norm()));
    }
    return least;
}

// Over the edges, from the vertices nearest to the path.
std::vector<double> alongSurface(const Subject& s, const MendPlace& place) {
    std::vector<double> distance(s.neutral.size(), INFINITY);
    using At = std::pair<double, std::uint32_t>;
    std::priority_queue<At, std::vector<At>, std::greater<>> next;
    const auto reach = [&](std::uint32_t v, double d) {
        if (d < distance[v] && d < place.radius) {
            distance[v] = d;
            next.push({d, v});
        }
    };
    for (std::size_t i = 0; i < place.path.size(); ++i) {
        // also between the points, so that a quick stroke has no holes
        const Vec3 from = i ? place.path[i - 1] : place.path[0], to = place.path[i];
        constexpr double most = 1000; // a radius far too small for its path costs no more than that
        const int pieces =
            static_cast<int>(std::clamp(std::ceil((to - from).norm() / (0.25 * place.radius)), 1.0, most));
        for (int k = i ? 1 : pieces; k <= pieces; ++k) {
            const Vec3 at = from + (to - from) * (static_cast<float>(k) / static_cast<float>(pieces));
            std::uint32_t nearest = 0;
            float least = INFINITY;
            for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
                if (const float d = (s.neutral[v] - at).squaredNorm(); d < least) {
                    least = d;
                    nearest = v;
                }
            reach(nearest, std::sqrt(least));
            for (const std::uint32_t* n = s.surface.neighbours.begin(nearest);
                 n != s.surface.neighbours.end(nearest); ++n)
                reach(*n, (s.neutral[*n] - at).norm());
        }
    }
    while (!next.empty()) {
        const auto [d, v] = next.top();
        next.pop();
        if (d > distance[v])
            continue;
        for (const std::uint32_t* n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v); ++n)
            reach(*n, d + (s.neutral[*n] - s.neutral[v]).norm());
    }
    return distance;
}

} // namespace

Result<std::vector<Amount>> amountsAt(const Subject& s, const Shares& now, const MendPlace& place) {
    std::vector<Amount> out;
    const auto count = static_cast<std::uint32_t>(s.neutral.size());
    switch (place.what) {
    case MendPlace::What::Everywhere:
        for (std::uint32_t v = 0; v < count; ++v)
            out.push_back({v, 1});
        break;
    case MendPlace::What::Reach: {
        const int joint = s.character->skeleton.find(place.joint);
        if (joint < 0)
            return Error{say("the joint %s is not in this build", place.joint)};
        for (std::uint32_t v = 0; v < count; ++v)
            if (shareOf(now.at(v), joint) > 0)
                out.push_back({v, 1});
        break;
    }
    case MendPlace::What::Marked:
        for (std::uint32_t v : place.vertices) {
            if (v >= count)
                return Error{say("what was marked is not on this build's mesh")};
            out.push_back({v, 1});
        }
        break;
    case MendPlace::What::Stroke: {
        if (place.path.empty() || !(place.radius > 0))
            return Error{say("the stroke has no path or no radius")};
        std::vector<double> distance;
        if (place.along)
            distance = alongSurface(s, place);
        else
            for (const Vec3& p : s.neutral)
                distance.push_back(toPath(p, place.path));
        for (std::uint32_t v = 0; v < count; ++v)
            if (distance[v] < place.radius) {
                const double d = distance[v] / place.radius, by = (1 - d * d) * (1 - d * d);
                if (by > 0)
                    out.push_back({v, by});
            }
        if (out.empty())
            return Error{say("the stroke lies off the skin")};
        break;
    }
    }
    return out;
}

} // namespace hobble
