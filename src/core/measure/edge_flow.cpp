#include "core/measure/edge_flow.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr std::uint32_t kNotAsked = EdgeFlow::kNone - 1;

// Round one joint.
class Rings {
public:
    Rings(const Subject& s, EdgeFlow& flow, const JointZone& zone, const Vec3& at)
        : s_(s), flow_(flow), at_(at), along_(zone.axis.cast<float>()),
          radius_(static_cast<float>(zone.limbRadius)) {}

    float height(std::uint32_t v) const { return along_.dot(s_.neutral[v] - at_); }
    bool near(std::uint32_t v) const {
        return std::abs(height(v)) < radius_ && (s_.neutral[v] - at_).norm() < 2.5f * radius_;
    }

    using Edges = std::vector<std::pair<std::uint32_t, std::uint32_t>>;

    // Edges of the ring that goes on from `from` to `to`; empty where it does not close. Straight on is the
    // straightest; on a low mesh, which turns sharply from edge to edge, the opposite one.
    Edges through(std::uint32_t from, std::uint32_t to) const {
        Edges out = followed(from, to, &EdgeFlow::straightest);
        return out.empty() ? followed(from, to, &EdgeFlow::opposite) : out;
    }

    Edges followed(std::uint32_t from, std::uint32_t to,
                   std::uint32_t (EdgeFlow::*on)(std::uint32_t, std::uint32_t)) const {
        constexpr std::size_t longest = 400;
        Edges out{{from, to}};
        while (out.size() < longest) {
            const auto [a, b] = out.back();
            const std::uint32_t next = (flow_.*on)(a, b);
            if (next == EdgeFlow::kNone || std::abs(height(next)) > 2 * radius_)
                return {};
            out.push_back({b, next});
            if (next == from)
                return goesRoundOnce(out) ? out : Edges();
        }
        return {};
    }

    // Of an edge, whether it runs rather across the limb than along it.
    bool across(std::uint32_t a, std::uint32_t b) const {
        const Vec3 edge = s_.neutral[b] - s_.neutral[a];
        return std::abs(along_.dot(edge)) < 0.87f * edge.norm();
    }

private:
    const Subject& s_;
    EdgeFlow& flow_;
    Vec3 at_, along_;
    float radius_;

    bool goesRoundOnce(const Edges& ring) const {
        double round = 0; // about the limb
        const auto out = [&](std::uint32_t v) { return Vec3(s_.neutral[v] - at_ - height(v) * along_); };
        for (const auto& [a, b] : ring) {
            const Vec3 p = out(a), q = out(b);
            round += std::atan2(static_cast<double>(along_.dot(p.cross(q))), static_cast<double>(p.dot(q)));
        }
        return std::abs(std::abs(round) - 2 * kPi) < 0.1;
    }
};

} // namespace

EdgeFlow::EdgeFlow(const Subject& subject)
    : s_(subject), straightest_(subject.surface.neighbours.item.size(), kNotAsked),
      opposite_(subject.surface.neighbours.item.size(), kNotAsked) {}

template <class Work>
std::uint32_t EdgeFlow::once(std::vector<std::uint32_t>& known, std::uint32_t a, std::uint32_t b, Work work) {
    const Lists& near = s_.surface.neighbours;
    const auto at = static_cast<std::size_t>(std::find(near.begin(b), near.end(b), a) - near.begin(0));
    if (known[at] == kNotAsked)
        known[at] = work();
    return known[at];
}

std::uint32_t EdgeFlow::straightest(std::uint32_t a, std::uint32_t b) {
    return once(straightest_, a, b, [&] { return findStraightest(a, b); });
}

std::uint32_t EdgeFlow::opposite(std::uint32_t a, std::uint32_t b) {
    return once(opposite_, a, b, [&] { return findOpposite(a, b); });
}

std::uint32_t EdgeFlow::findOpposite(std::uint32_t a, std::uint32_t b) {
    std::vector<std::pair<std::uint32_t, std::uint32_t>> round; // neighbours, each with the next
    for (auto t = s_.surface.trianglesAt.begin(b); t != s_.surface.trianglesAt.end(b); ++t)
        for (std::size_t k = 0; k < 3; ++k)
            if (const Triangle& f = s_.surface.triangles[*t]; f[k] == b)
                round.push_back({f[(k + 1) % 3], f[(k + 2) % 3]});
    std::uint32_t at = a;
    for (std::size_t i = 0; i < round.size() / 2 && at != kNone; ++i) {
        const auto it =
            std::find_if(round.begin(), round.end(), [&](const auto& pair) { return pair.first == at; });
        at = it == round.end() ? kNone : it->second;
    }
    return round.size() % 2 == 0 && at != a && at != kNone ? at : straightest(a, b);
}

std::uint32_t EdgeFlow::findStraightest(std::uint32_t a, std::uint32_t b) const {
    Vec3 normal = Vec3::Zero();
    for (auto t = s_.surface.trianglesAt.begin(b); t != s_.surface.trianglesAt.end(b); ++t) {
        const Triangle& f = s_.surface.triangles[*t];
        normal += (s_.neutral[f[1]] - s_.neutral[f[0]]).cross(s_.neutral[f[2]] - s_.neutral[f[0]]);
    }
    const auto inPlane = [&](const Vec3& edge) {
        return Vec3((edge - edge.dot(normal) / normal.squaredNorm() * normal).normalized());
    };
    if (!(normal.norm() > 0))
        return kNone;
    const Vec3 came = inPlane(s_.neutral[b] - s_.neutral[a]);
    float best = 0.82f;
    std::uint32_t next = kNone;
    for (auto n = s_.surface.neighbours.begin(b); n != s_.surface.neighbours.end(b); ++n)
        if (const float straight = came.dot(inPlane(s_.neutral[*n] - s_.neutral[b]));
            *n != a && straight > best) {
            best = straight;
            next = *n;
        }
    return next;
}

std::vector<EdgeRing> EdgeFlow::ringsAt(int joint) {
    const Subject& s = s_;
    const JointZone& zone = s.zones[static_cast<std::size_t>(joint)];
    if (zone.shellTriangles.empty() || zone.limbRadius <= 0)
        return {};
    const Rings rings(
        s, *this, zone,
        s.character->skeleton.neutralWorld[static_cast<std::size_t>(joint)].translation().cast<float>());
    std::vector<std::uint32_t> near;
    for (std::uint32_t t : zone.shellTriangles)
        for (std::uint32_t v : s.surface.triangles[t])
            if (rings.near(v))
                near.push_back(v);
    std::sort(near.begin(), near.end());
    near.erase(std::unique(near.begin(), near.end()), near.end());
    std::vector<char> onRing(s.surface.vertexCount(), 0);
    std::vector<EdgeRing> out;
    for (std::uint32_t v : near) {
        if (onRing[v])
            continue;
        for (auto n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v); ++n) {
            const auto ring = rings.across(v, *n) ? rings.through(v, *n) : Rings::Edges();
            if (ring.empty())
                continue;
            EdgeRing found{Vec3d::Zero(), 0};
            const Vec3d from = s.neutral[v].cast<double>();
            for (const auto& [a, b] : ring) {
                onRing[a] = 1;
                const Vec3d p = s.neutral[a].cast<double>() - from, q = s.neutral[b].cast<double>() - from;
                found.normal += p.cross(q); // Newell: twice the area, whatever it is seen from
                found.length += (q - p).norm();
            }
            found.normal = unitOrZero(found.normal / (found.length * found.length));
            out.push_back(found);
            break;
        }
    }
    const auto held =
        std::count_if(near.begin(), near.end(), [&](std::uint32_t v) { return onRing[v] != 0; });
    if (2 * held < static_cast<std::ptrdiff_t>(near.size()))
        return {};
    return out;
}

double degreesAskew(const std::vector<EdgeRing>& rings, const Vec3d& axis) {
    double sum = 0, length = 0;
    for (const EdgeRing& r : rings) {
        sum += r.length * degrees(std::asin(std::min(std::abs(r.normal.dot(axis)), 1.0)));
        length += r.length;
    }
    return length > 0 ? sum / length : 0;
}

std::optional<Vec3d> bendAxis(const Subject& s, const Motion& motion, int joint) {
    if (motion.roll)
        return {};
    for (const JointTurn& t : motion.turns)
        if (t.joint == joint)
            return unitOrZero(
                rotationOf(s.character->skeleton.neutralWorld[static_cast<std::size_t>(joint)]) * t.axis);
    return {};
}

} // namespace hobble
