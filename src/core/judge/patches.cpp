#include "core/judge/patches.h"

#include "core/measure/touching.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

class Finder {
public:
    Finder(const Subject& s, const Motion& motion, const MeasuredMotion& measured, std::size_t pose,
           const Limits& limits)
        : s_(s), motion_(motion), measured_(measured), p_(measured.poses[pose]), limits_(limits) {}

    PosePatches make() {
        triangles(Kind::Stretch, p_.stretch);
        triangles(Kind::Squash, p_.squash);
        zoneFaults();
        roughness();
        flips();
        vertices(Kind::Leak, p_.leak, 1, -1);
        vertices(Kind::Lag, p_.lag, 4, lead());
        vertices(Kind::Contact, p_.inside, 4, lead());
        vertices(Kind::PokeThrough, p_.poke, 4, -1);
        vertices(Kind::Gap, p_.gap, 12, -1);
        pops();
        parts();
        openings(Kind::NotClosed, p_.bare, 1);
        openings(Kind::ThroughLid, p_.through, 3);
        return std::move(out_);
    }

private:
    const Subject& s_;
    const Motion& motion_;
    const MeasuredMotion& measured_;
    const MeasuredPose& p_;
    const Limits& limits_;
    PosePatches out_;

    int jointOf(std::uint32_t triangle) const {
        return motion_.turns[measured_.turnOf.empty() ? 0 : measured_.turnOf[triangle]].joint;
    }
    int jointOf(const std::vector<std::uint32_t>& group) const {
        return jointOfPatch(s_, motion_, measured_.turnOf, group);
    }
    Role roleOf(int joint) const { return s_.roles[joint].role; }
    int lead() const { return motion_.turns.front().joint; }
    double leastArea(int joint) const { return limits_.leastPatch * s_.zones[joint].area; }
    double limit(Kind kind, int joint) const { return limits_.of(kind, roleOf(joint))[0]; }

    double areaOf(const std::vector<std::uint32_t>& group) const {
        double sum = 0;
        for (std::uint32_t t : group)
            sum += s_.surface.area[t];
        return sum;
    }

    static float valueAt(const Samples& samples, std::uint32_t at) { // 0 where nothing was kept
        const auto it = std::lower_bound(samples.begin(), samples.end(), at,
                                         [](const Sample& a, std::uint32_t b) { return a.at < b; });
        return it != samples.end() && it->at == at ? it->value : 0.f;
    }

    // Patches of triangles whose value lies beyond the limit of their joint.
    void triangles(Kind kind, const Samples& samples) {
        std::vector<double> first; // limits per turn
        for (const JointTurn& t : motion_.turns)
            first.push_back(limit(kind, t.joint));
        const bool above = faultIsAbove(kind);
        std::vector<std::uint32_t> marked;
        for (const Sample& x : samples) {
            const double l = first[measured_.turnOf.empty() ? 0 : measured_.turnOf[x.at]];
            if (above ? x.value > l : x.value < l)
                marked.push_back(x.at);
        }
        for (auto& group : touching(s_.surface, marked)) {
            const double area = areaOf(group);
            const int joint = jointOf(group);
            const double least = leastArea(joint);
            if (area < least)
                continue;
            std::vector<std::pair<float, float>> items; // badness, area
            for (std::uint32_t t : group)
                items.emplace_back(above ? -valueAt(samples, t) : valueAt(samples, t), s_.surface.area[t]);
            const double value = std::abs(weightedQuantile(std::move(items), least / area));
            out_.push_back({joint, {kind, value, area, std::move(group)}});
        }
    }

    // Faults of the whole zone are marked on the skin that blends, a pinch on the ring it is tightest at.
    void zoneFault(int joint, Kind kind, double value, std::vector<std::uint32_t> vertices) {
        std::sort(vertices.begin(), vertices.end());
        Patch patch{kind, value, 0, {}};
        for (std::uint32_t t : s_.zones[joint].shellTriangles) {
            int hit = 0;
            for (std::uint32_t v : s_.surface.triangles[t])
                hit += std::binary_search(vertices.begin(), vertices.end(), v);
            if (hit == 3 || (kind == Kind::Pinch && hit > 1))
                patch.triangles.push_back(t);
        }
        patch.area = areaOf(patch.triangles);
        if (!patch.triangles.empty())
            out_.push_back({joint, std::move(patch)});
    }

    void zoneFaults() {
        for (std::size_t k = 0; k < motion_.turns.size(); ++k) {
            const int joint = motion_.turns[k].joint;
            const JointZone& z = s_.zones[joint];
            const ZoneMeasures& m = p_.zones[k];
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
                zoneFault(joint, Kind::Pinch, *m.pinch, std::move(ring));
            }
        }
    }

    void roughness() {
        // A spike: one vertex far rougher than any around it. It and its ring are told as that, and not
        // again.
        std::vector<std::uint32_t> spiked; // vertices
        const double spike = limit(Kind::Spike, lead());
        for (const Sample& x : p_.roughness) {
            if (x.value < spike)
                continue;
            bool alone = true;
            for (auto n = s_.surface.neighbours.begin(x.at); n != s_.surface.neighbours.end(x.at) && alone;
                 ++n)
                alone = valueAt(p_.roughness, *n) < 0.55f * x.value;
            if (!alone)
                continue;
            std::vector<std::uint32_t> ring(s_.surface.trianglesAt.begin(x.at),
                                            s_.surface.trianglesAt.end(x.at));
            for (std::uint32_t t : ring)
                spiked.insert(spiked.end(), s_.surface.triangles[t].begin(), s_.surface.triangles[t].end());
            const int joint = jointOf(ring);
            const double area = areaOf(ring);
            out_.push_back({joint, {Kind::Spike, x.value, area, std::move(ring)}});
        }
        std::sort(spiked.begin(), spiked.end());
        // A triangle is as rough as the smoothest of its corners.
        double least = INFINITY;
        for (const JointTurn& t : motion_.turns)
            least = std::min(least, limit(Kind::Roughness, t.joint));
        std::vector<std::uint32_t> near;
        for (const Sample& x : p_.roughness)
            if (x.value > least)
                near.insert(near.end(), s_.surface.trianglesAt.begin(x.at), s_.surface.trianglesAt.end(x.at));
        std::sort(near.begin(), near.end());
        Samples rough;
        for (std::size_t i = 0; i + 2 < near.size(); ++i) {
            if (near[i] != near[i + 1] || near[i] != near[i + 2])
                continue; // not all three
            const Triangle& f = s_.surface.triangles[near[i]];
            if (std::none_of(f.begin(), f.end(), [&](std::uint32_t v) {
                    return std::binary_search(spiked.begin(), spiked.end(), v);
                }))
                rough.push_back({near[i], std::min({valueAt(p_.roughness, f[0]), valueAt(p_.roughness, f[1]),
                                                    valueAt(p_.roughness, f[2])})});
        }
        triangles(Kind::Roughness, rough);
    }

    void flips() {
        for (auto& group : touching(s_.surface, p_.flipped)) {
            const int joint = jointOf(group);
            const double area = areaOf(group);
            const double share = s_.zones[joint].area > 0 ? area / s_.zones[joint].area : 0;
            if (share > limit(Kind::Flip, joint))
                out_.push_back({joint, {Kind::Flip, share, area, std::move(group)}});
        }
    }

    // Triangles at vertices whose value passes a limit, as patches of at least so many vertices; its value is
    // what so many reach. `joint` -1: the one the patch belongs to.
    void vertices(Kind kind, const Samples& samples, std::size_t leastCount, int joint) {
        const double first = limit(kind, lead());
        std::vector<std::uint32_t> marked;
        for (const Sample& x : samples)
            if (x.value > first)
                marked.insert(marked.end(), s_.surface.trianglesAt.begin(x.at),
                              s_.surface.trianglesAt.end(x.at));
        std::sort(marked.begin(), marked.end());
        marked.erase(std::unique(marked.begin(), marked.end()), marked.end());
        for (auto& group : touching(s_.surface, marked)) {
            std::map<std::uint32_t, double> own;
            for (std::uint32_t t : group)
                for (std::uint32_t v : s_.surface.triangles[t])
                    if (const float x = valueAt(samples, v); x > first)
                        own[v] = x;
            if (own.size() < leastCount)
                continue;
            std::vector<double> sorted;
            for (const auto& [v, x] : own)
                sorted.push_back(x);
            std::sort(sorted.rbegin(), sorted.rend());
            const int at = joint >= 0 ? joint : jointOf(group);
            const double area = areaOf(group);
            if (kind == Kind::Lag && area < leastArea(at))
                continue;
            out_.push_back({at, {kind, sorted[leastCount - 1], area, std::move(group)}});
        }
    }

    // Of each of the face's openings: told at what closes it, marked on what lies in it.
    void openings(Kind kind, const Samples& samples, std::size_t leastCount) {
        for (const FaceOpening& o : *s_.openings) {
            const double first = limit(kind, o.joint);
            std::vector<double> own;
            for (std::uint32_t v : o.vertices)
                if (const float x = valueAt(samples, v); x > first)
                    own.push_back(x);
            if (own.size() < leastCount)
                continue;
            std::sort(own.rbegin(), own.rend());
            Patch patch{kind, own[leastCount - 1], 0, {}};
            for (std::uint32_t t : o.inner) {
                const Triangle& f = s_.surface.triangles[t];
                if (std::any_of(f.begin(), f.end(),
                                [&](std::uint32_t v) { return valueAt(samples, v) > first; }))
                    patch.triangles.push_back(t);
            }
            patch.area = areaOf(patch.triangles);
            out_.push_back({o.joint, std::move(patch)});
        }
    }

    void pops() {
        const double first = limit(Kind::Pop, lead());
        if (!p_.zones[0].pop || *p_.zones[0].pop <= first)
            return;
        std::vector<std::uint32_t> marked;
        for (const Sample& x : p_.popped)
            if (x.value > first)
                marked.push_back(x.at);
        for (auto& group : touching(s_.surface, marked)) {
            const double area = areaOf(group);
            out_.push_back({lead(), {Kind::Pop, *p_.zones[0].pop, area, std::move(group)}});
        }
    }

    void parts() {
        for (std::size_t k = 0; k < s_.rigid.size(); ++k) {
            const RigidPart& r = s_.rigid[k];
            const Kind kind = r.bound ? Kind::SoftRigidPart : Kind::UnboundPart;
            const double value = r.bound ? p_.softness[k] : p_.drift[k];
            const int joint = r.joint >= 0 ? r.joint : lead();
            if (severityOf(kind, value, limits_.of(kind, roleOf(joint))) > 0)
                out_.push_back({joint, {kind, value, areaOf(r.triangles), r.triangles}});
        }
    }
};

} // namespace

PosePatches findPatches(const Subject& subject, const Motion& motion, const MeasuredMotion& measured,
                        std::size_t pose, const Limits& limits) {
    return Finder(subject, motion, measured, pose, limits).make();
}

Floors floorsFor(const Limits& limits) {
    const auto kept = [](Kind kind) { return factsOf(kind).keptFrom; };
    Floors out{kept(Kind::Stretch), kept(Kind::Squash), kept(Kind::Roughness),
               kept(Kind::Leak),    kept(Kind::Pop),    kept(Kind::Lag)};
    const auto least = [&](Kind kind) { // the limit nearest to unchanged, of any role
        double l = limits.general.at(kind)[0];
        for (const auto& [key, steps] : limits.byRole)
            if (key.second == kind)
                l = faultIsAbove(kind) ? std::min(l, steps[0]) : std::max(l, steps[0]);
        return static_cast<float>(l);
    };
    out.stretch = std::min(out.stretch, least(Kind::Stretch));
    out.squash = std::max(out.squash, least(Kind::Squash));
    out.roughness = std::min({out.roughness, least(Kind::Roughness), 0.55f * least(Kind::Spike)});
    out.leak = std::min(out.leak, least(Kind::Leak));
    out.pop = std::min(out.pop, least(Kind::Pop));
    out.lag = std::min(out.lag, least(Kind::Lag));
    return out;
}

} // namespace hobble
