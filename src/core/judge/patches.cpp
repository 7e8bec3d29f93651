#include "core/judge/patches.h"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace hobble {

std::vector<std::vector<std::uint32_t>> touching(const Surface& surface,
                                                 const std::vector<std::uint32_t>& marked) {
    std::unordered_map<std::uint32_t, int> group; // triangle → group
    for (std::uint32_t t : marked)
        group.emplace(t, -1);
    std::vector<std::vector<std::uint32_t>> out;
    std::vector<std::uint32_t> stack;
    for (std::uint32_t start : marked) {
        if (group[start] >= 0)
            continue;
        const int id = static_cast<int>(out.size());
        out.emplace_back();
        group[start] = id;
        stack.push_back(start);
        while (!stack.empty()) {
            const std::uint32_t t = stack.back();
            stack.pop_back();
            out[id].push_back(t);
            for (std::uint32_t v : surface.triangles[t])
                for (auto n = surface.trianglesAt.begin(v); n != surface.trianglesAt.end(v); ++n)
                    if (auto it = group.find(*n); it != group.end() && it->second < 0) {
                        it->second = id;
                        stack.push_back(*n);
                    }
        }
        std::sort(out[id].begin(), out[id].end());
    }
    return out;
}

std::vector<int> turnOfTriangles(const Subject& s, const Motion& motion, const MotionRegion& region) {
    std::vector<int> out(region.triangles.size(), 0);
    if (motion.turns.size() < 2)
        return out;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const Triangle& f = s.surface.triangles[region.triangles[i]];
        float most = -1;
        for (std::size_t k = 0; k < motion.turns.size(); ++k) {
            float blend = 0;
            for (std::uint32_t v : f)
                blend += region.follow[k][v] * (1 - region.follow[k][v]);
            if (blend > most) {
                most = blend;
                out[i] = static_cast<int>(k);
            }
        }
    }
    return out;
}

namespace {

class Finder {
public:
    Finder(const Subject& s, const Motion& motion, const MotionRegion& region, const std::vector<int>& turnOf,
           const PoseFields& fields, std::vector<ZoneMeasures>& zones, const Limits& limits)
        : s_(s), motion_(motion), region_(region), turnOf_(turnOf), f_(fields), zones_(zones),
          limits_(limits) {
        numberOfTriangle_.reserve(region.triangles.size());
        for (std::size_t i = 0; i < region.triangles.size(); ++i)
            numberOfTriangle_.emplace(region.triangles[i], i);
    }

    PosePatches make() {
        for (Kind kind : {Kind::Stretch, Kind::Squash})
            triangles(kind, [&](std::size_t i) {
                return kind == Kind::Stretch ? f_.strain[i].stretch : f_.strain[i].squash;
            });
        zoneFaults();
        roughness();
        flips();
        leaks();
        contact();
        covers();
        parts();
        return std::move(out_);
    }

private:
    const Subject& s_;
    const Motion& motion_;
    const MotionRegion& region_;
    const std::vector<int>& turnOf_;
    const PoseFields& f_;
    std::vector<ZoneMeasures>& zones_;
    const Limits& limits_;
    std::unordered_map<std::uint32_t, std::size_t> numberOfTriangle_;
    PosePatches out_;

    int jointOf(std::size_t regionTriangle) const { return motion_.turns[turnOf_[regionTriangle]].joint; }
    Role roleOf(int joint) const { return s_.roles[joint].role; }
    int lead() const { return motion_.turns.front().joint; }
    double leastArea(int joint) const { return limits_.leastPatch * s_.zones[joint].area; }
    double limit(Kind kind, int joint) const { return limits_.of(kind, roleOf(joint))[0]; }

    // The joint most of a patch belongs to: of the motion's, or the stranger that holds the skin from afar.
    int jointOf(const std::vector<std::uint32_t>& triangles) const {
        for (const WeightIsland& island : s_.islands) {
            if (!island.far || island.share < 0.05)
                continue;
            std::size_t on = 0;
            for (std::uint32_t t : triangles)
                for (std::uint32_t v : s_.surface.triangles[t])
                    on += std::binary_search(island.vertices.begin(), island.vertices.end(), v);
            if (on >= triangles.size()) // a third of its corners
                return island.joint;
        }
        std::map<int, double> held;
        for (std::uint32_t t : triangles)
            if (auto it = numberOfTriangle_.find(t); it != numberOfTriangle_.end())
                held[jointOf(it->second)] += s_.surface.area[t] + 1e-12;
        int best = lead();
        double most = 0;
        for (const auto& [joint, area] : held)
            if (area > most) {
                most = area;
                best = joint;
            }
        return best;
    }

    ZoneMeasures& zone(int joint) {
        for (std::size_t k = 0; k < motion_.turns.size(); ++k)
            if (motion_.turns[k].joint == joint)
                return zones_[k];
        return zones_[0];
    }

    static void raise(std::optional<double>& to, double value) { to = std::max(to.value_or(0), value); }

    // Patches of region triangles whose value lies beyond the limit of their joint.
    template <class Value> void triangles(Kind kind, const Value& value, double areaFactor = 1) {
        std::vector<std::uint32_t> marked;
        for (std::size_t i = 0; i < region_.triangles.size(); ++i) {
            const double x = value(i), l = limit(kind, jointOf(i));
            if ((faultIsAbove(kind) ? x > l : x < l) && s_.surface.area[region_.triangles[i]] > 0 &&
                !s_.onRigidPart[region_.triangles[i]])
                marked.push_back(region_.triangles[i]);
        }
        for (auto& group : touching(s_.surface, marked)) {
            Patch patch;
            patch.kind = kind;
            std::vector<std::pair<float, float>> items; // badness, area
            for (std::uint32_t t : group) {
                const auto x = static_cast<float>(value(numberOfTriangle_.at(t)));
                patch.area += s_.surface.area[t];
                items.emplace_back(faultIsAbove(kind) ? -x : x, s_.surface.area[t]);
            }
            const int joint = jointOf(group);
            const double least = areaFactor * leastArea(joint);
            if (patch.area < least || items.empty())
                continue;
            patch.value = std::abs(weightedQuantile(std::move(items), least / patch.area));
            patch.triangles = std::move(group);
            out_.push_back({joint, std::move(patch)});
        }
    }

    // Faults of the whole zone are marked on the skin that blends, a pinch on the ring it is tightest at.
    void zoneFault(int joint, Kind kind, double value, const std::vector<std::uint32_t>& vertices) {
        const JointZone& z = s_.zones[joint];
        Patch patch;
        patch.kind = kind;
        patch.value = value;
        std::vector<char> in(s_.surface.vertexCount(), 0);
        for (std::uint32_t v : vertices)
            in[v] = 1;
        for (std::uint32_t t : z.shellTriangles) {
            const Triangle& f = s_.surface.triangles[t];
            const int hit = in[f[0]] + in[f[1]] + in[f[2]];
            if (hit == 3 || (kind == Kind::Pinch && hit > 1)) {
                patch.triangles.push_back(t);
                patch.area += s_.surface.area[t];
            }
        }
        if (!patch.triangles.empty())
            out_.push_back({joint, std::move(patch)});
    }

    void zoneFaults() {
        for (std::size_t k = 0; k < motion_.turns.size(); ++k) {
            const int joint = motion_.turns[k].joint;
            const JointZone& z = s_.zones[joint];
            const ZoneMeasures& m = zones_[k];
            if (z.empty())
                continue;
            for (Kind kind : {Kind::VolumeLoss, Kind::Bulge})
                if (m.volume && severityOf(kind, *m.volume, limits_.of(kind, roleOf(joint))) > 0)
                    zoneFault(joint, kind, *m.volume, z.blendVertices);
            if (m.pinch && severityOf(Kind::Pinch, *m.pinch, limits_.of(Kind::Pinch, roleOf(joint))) > 0) {
                std::vector<std::uint32_t> ring;
                for (std::size_t i = 0; i < m.girth.size(); ++i)
                    if (m.girth[i] && *m.girth[i] == *m.pinch)
                        for (const EdgePoint& e : z.girth->stations[i].points) {
                            ring.push_back(e.a);
                            ring.push_back(e.b);
                        }
                zoneFault(joint, Kind::Pinch, *m.pinch, ring);
            }
        }
    }

    float roughAt(std::uint32_t welded) const {
        const std::uint32_t i = region_.numberOf[welded];
        return i == MotionRegion::kNone ? 0.f : f_.rough.value[i];
    }

    void roughness() {
        // A spike: one vertex far rougher than any around it. It and its ring are told as that, and not
        // again.
        std::vector<char> spiked(s_.surface.vertexCount(), 0);
        for (std::size_t i = 0; i < region_.vertices.size(); ++i) {
            const std::uint32_t v = region_.vertices[i];
            const float own = f_.rough.value[i];
            std::vector<std::uint32_t> ring(s_.surface.trianglesAt.begin(v), s_.surface.trianglesAt.end(v));
            if (ring.empty() || s_.onRigidPart[ring[0]] || own < limit(Kind::Spike, lead()))
                continue;
            bool alone = true;
            for (auto n = s_.surface.neighbours.begin(v); n != s_.surface.neighbours.end(v) && alone; ++n)
                alone = roughAt(*n) < 0.55f * own;
            if (!alone)
                continue;
            Patch patch{Kind::Spike, own, 0, ring};
            for (std::uint32_t t : ring) {
                patch.area += s_.surface.area[t];
                for (std::uint32_t c : s_.surface.triangles[t])
                    spiked[c] = 1;
            }
            out_.push_back({jointOf(patch.triangles), std::move(patch)});
        }
        triangles(Kind::Roughness, [&](std::size_t i) {
            const Triangle& f = s_.surface.triangles[region_.triangles[i]];
            if (spiked[f[0]] || spiked[f[1]] || spiked[f[2]])
                return 0.f;
            return std::min({roughAt(f[0]), roughAt(f[1]), roughAt(f[2])});
        });
        std::vector<std::pair<float, float>> all;
        for (std::size_t i = 0; i < region_.triangles.size(); ++i) {
            const Triangle& f = s_.surface.triangles[region_.triangles[i]];
            all.emplace_back(std::min({roughAt(f[0]), roughAt(f[1]), roughAt(f[2])}),
                             s_.surface.area[region_.triangles[i]]);
        }
        if (!all.empty())
            zones_[0].roughness = weightedQuantile(std::move(all), 0.99);
    }

    void flips() {
        std::vector<std::uint32_t> marked;
        for (std::size_t i = 0; i < f_.flipped.size(); ++i)
            if (f_.flipped[i] && !s_.onRigidPart[region_.triangles[i]])
                marked.push_back(region_.triangles[i]);
        zones_[0].flip = 0;
        for (auto& group : touching(s_.surface, marked)) {
            const int joint = jointOf(group);
            Patch patch;
            patch.kind = Kind::Flip;
            for (std::uint32_t t : group)
                patch.area += s_.surface.area[t];
            patch.value = s_.zones[joint].area > 0 ? patch.area / s_.zones[joint].area : 0;
            raise(zone(joint).flip, patch.value);
            if (patch.value <= limit(Kind::Flip, joint))
                continue;
            patch.triangles = std::move(group);
            out_.push_back({joint, std::move(patch)});
        }
    }

    // Triangles at vertices whose value passes a limit, as patches of at least so many vertices.
    void vertices(Kind kind, const std::vector<std::pair<std::uint32_t, double>>& values, double first,
                  std::size_t leastCount, int joint) {
        std::vector<std::uint32_t> marked;
        std::unordered_map<std::uint32_t, double> value;
        for (const auto& [v, x] : values)
            if (x > first) {
                value.emplace(v, x);
                marked.insert(marked.end(), s_.surface.trianglesAt.begin(v), s_.surface.trianglesAt.end(v));
            }
        std::sort(marked.begin(), marked.end());
        marked.erase(std::unique(marked.begin(), marked.end()), marked.end());
        for (auto& group : touching(s_.surface, marked)) {
            std::map<std::uint32_t, double> own;
            Patch patch;
            patch.kind = kind;
            for (std::uint32_t t : group) {
                patch.area += s_.surface.area[t];
                for (std::uint32_t v : s_.surface.triangles[t])
                    if (auto it = value.find(v); it != value.end())
                        own.insert(*it);
            }
            if (own.size() < leastCount)
                continue;
            std::vector<double> sorted;
            for (const auto& [v, x] : own)
                sorted.push_back(x);
            std::sort(sorted.rbegin(), sorted.rend());
            patch.value = sorted[std::min(leastCount, sorted.size()) - 1]; // so many go at least that far
            const int at = joint >= 0 ? joint : jointOf(group);
            patch.triangles = std::move(group);
            out_.push_back({at, std::move(patch)});
        }
    }

    void leaks() {
        const double height = std::max(s_.body.height, 1e-9);
        std::vector<std::pair<std::uint32_t, double>> values;
        double most = 0;
        for (std::size_t i = 0; i < region_.vertices.size(); ++i)
            if (f_.leak[i] > 0 && s_.surface.trianglesAt.count(region_.vertices[i]) > 0 &&
                !s_.onRigidPart[*s_.surface.trianglesAt.begin(region_.vertices[i])]) {
                values.push_back({region_.vertices[i], f_.leak[i] / height});
                most = std::max(most, values.back().second);
            }
        zones_[0].leak = most;
        vertices(Kind::Leak, values, limit(Kind::Leak, lead()), 1, -1);
    }

    void contact() {
        const double radius = s_.zones[lead()].limbRadius;
        zones_[0].contact = radius > 0 ? f_.contact.deepest / radius : 0;
        if (radius <= 0)
            return;
        std::vector<std::pair<std::uint32_t, double>> values;
        for (const auto& [v, depth] : f_.contact.inside)
            values.push_back({v, depth / radius});
        vertices(Kind::Contact, values, limit(Kind::Contact, lead()), 4, lead());
    }

    void covers() {
        if (s_.cover.covered.empty())
            return;
        const double height = std::max(s_.body.height, 1e-9);
        std::vector<std::pair<std::uint32_t, double>> poke, gap;
        for (const auto& v : f_.cover.poke)
            poke.push_back({v.vertex, v.metres / height});
        for (const auto& v : f_.cover.gap)
            gap.push_back({v.vertex, v.metres / height});
        zones_[0].poke = zones_[0].gap = 0;
        for (const auto& [v, x] : poke)
            raise(zones_[0].poke, x);
        for (const auto& [v, x] : gap)
            raise(zones_[0].gap, x);
        vertices(Kind::PokeThrough, poke, limit(Kind::PokeThrough, lead()), 4, -1);
        vertices(Kind::Gap, gap, limit(Kind::Gap, lead()), 12, -1);
    }

    void parts() {
        const double height = std::max(s_.body.height, 1e-9);
        for (std::size_t k = 0; k < s_.rigid.size(); ++k) {
            const RigidPart& r = s_.rigid[k];
            const Kind kind = r.bound ? Kind::SoftRigidPart : Kind::UnboundPart;
            const double value = r.bound ? f_.softness[k] : f_.drift[k] / height;
            raise(r.bound ? zones_[0].softness : zones_[0].drift, value);
            const int joint = r.joint >= 0 ? r.joint : lead();
            if (severityOf(kind, value, limits_.of(kind, roleOf(joint))) == 0)
                continue;
            Patch patch{kind, value, 0, r.triangles};
            for (std::uint32_t t : r.triangles)
                patch.area += s_.surface.area[t];
            out_.push_back({joint, std::move(patch)});
        }
    }
};

} // namespace

PosePatches findPatches(const Subject& subject, const Motion& motion, const MotionRegion& region,
                        const std::vector<int>& turnOf, const PoseFields& fields,
                        std::vector<ZoneMeasures>& zones, const Limits& limits) {
    return Finder(subject, motion, region, turnOf, fields, zones, limits).make();
}

} // namespace hobble
