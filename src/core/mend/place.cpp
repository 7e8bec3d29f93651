#include "core/mend/place.h"
#include "core/words/say.h"

#include <algorithm>
#include <cmath>
#include <queue>

namespace hobble {

namespace {

// How far a vertex is from a stroke, and how hard that was pressed there.
struct Reached {
    double distance = INFINITY;
    float pressure = 1;
};

// Part `t` of the way from the point before to point `i` of the path.
float pressureAt(const MendPlace& place, std::size_t i, float t) {
    if (place.pressure.empty())
        return 1;
    const float to = place.pressure[i], from = i ? place.pressure[i - 1] : to;
    return from + t * (to - from);
}

Reached toPath(const Vec3& p, const MendPlace& place) {
    const std::vector<Vec3>& path = place.path;
    Reached nearest{(p - path.front()).norm(), pressureAt(place, 0, 1)};
    for (std::size_t i = 1; i < path.size(); ++i) {
        const Vec3 along = path[i] - path[i - 1];
        const float length = along.squaredNorm();
        const float t = length > 0 ? std::clamp((p - path[i - 1]).dot(along) / length, 0.f, 1.f) : 0.f;
        if (const double d = (p - path[i - 1] - t * along).norm(); d < nearest.distance)
            nearest = {d, pressureAt(place, i, t)};
    }
    return nearest;
}

// Over the edges, from the vertices nearest to the path.
std::vector<Reached> alongSurface(const Subject& s, const MendPlace& place) {
    std::vector<Reached> out(s.neutral.size());
    using At = std::pair<double, std::uint32_t>;
    std::priority_queue<At, std::vector<At>, std::greater<>> next;
    const auto reach = [&](std::uint32_t v, double d, float pressure) {
        if (d < out[v].distance && d < place.radius) {
            out[v] = {d, pressure};
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
            const float part = static_cast<float>(k) / static_cast<float>(pieces);
            const Vec3 at = from + (to - from) * part;
            const float pressure = pressureAt(place, i, part);
            std::uint32_t nearest = 0;
            float least = INFINITY;
            for (std::uint32_t v = 0; v < s.neutral.size(); ++v)
                if (const float d = (s.neutral[v] - at).squaredNorm(); d < least) {
                    least = d;
                    nearest = v;
                }
            reach(nearest, std::sqrt(least), pressure);
            for (const std::uint32_t* n = s.surface.neighbours.begin(nearest);
                 n != s.surface.neighbours.end(nearest); ++n)
                reach(*n, (s.neutral[*n] - at).norm(), pressure);
        }
    }
    while (!next.empty()) {
        const auto [d, v] = next.top();
        next.pop();
        if (d > out[v].distance)
            continue;
        for (const std::uint32_t* n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v); ++n)
            reach(*n, d + (s.neutral[*n] - s.neutral[v]).norm(), out[v].pressure);
    }
    return out;
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
        if (!place.pressure.empty() && place.pressure.size() != place.path.size())
            return Error{say("the stroke does not say how hard each of its points was pressed")};
        std::vector<Reached> reached;
        if (place.along)
            reached = alongSurface(s, place);
        else
            for (const Vec3& p : s.neutral)
                reached.push_back(toPath(p, place));
        for (std::uint32_t v = 0; v < count; ++v)
            if (reached[v].distance < place.radius) {
                const double d = reached[v].distance / place.radius,
                             by = reached[v].pressure * (1 - d * d) * (1 - d * d);
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
