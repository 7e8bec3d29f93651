#include "core/judge/findings.h"

#include "core/character/body.h"
#include "core/run/run.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>
#include <tuple>

namespace hobble {

namespace {

struct Node {
    int motion = 0, step = 0;
    const Patch* patch = nullptr;
};

double area(const Subject& s, const std::vector<std::uint32_t>& triangles) {
    double sum = 0;
    for (std::uint32_t t : triangles)
        sum += s.surface.area[t];
    return sum;
}

// Both lists ascending. A tenth of the smaller one is the least that counts as the same place.
bool overlap(const Subject& s, const std::vector<std::uint32_t>& a, const std::vector<std::uint32_t>& b) {
    std::vector<std::uint32_t> common;
    std::set_intersection(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(common));
    return !common.empty() && area(s, common) >= 0.1 * std::min(area(s, a), area(s, b));
}

Vec3d middleOf(const Subject& s, const std::vector<std::uint32_t>& triangles) {
    Vec3d sum = Vec3d::Zero();
    double total = 0;
    for (std::uint32_t t : triangles) {
        const Triangle& c = s.surface.triangles[t];
        sum += s.surface.area[t] * (s.neutral[c[0]] + s.neutral[c[1]] + s.neutral[c[2]]).cast<double>() / 3;
        total += s.surface.area[t];
    }
    return total > 0 ? Vec3d(sum / total) : sum;
}

class Clusters {
public:
    explicit Clusters(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), 0); }
    std::size_t find(std::size_t i) {
        while (parent_[i] != i)
            i = parent_[i] = parent_[parent_[i]];
        return i;
    }
    void join(std::size_t a, std::size_t b) {
        parent_[std::max(find(a), find(b))] = std::min(find(a), find(b));
    }

private:
    std::vector<std::size_t> parent_;
};

bool worse(Kind kind, double a, double b) { return faultIsAbove(kind) ? a > b : a < b; }

// Where the value passed the limit between the step before and this one.
double onsetAngle(Kind kind, double limit, const MotionResult& motion, int step, int joint,
                  double valueHere) {
    const double here = motion.steps[step].degrees;
    if (step == 0)
        return here;
    const StepResult& before = motion.steps[step - 1];
    for (const JointStep& j : before.joints)
        if (j.joint == joint) {
            const auto was = valueOf(kind, j.measures);
            if (!was || worse(kind, *was, limit) || *was == valueHere)
                return here; // another patch of the zone was beyond it already
            const double share = std::clamp((limit - *was) / (valueHere - *was), 0.0, 1.0);
            return before.degrees + share * (here - before.degrees);
        }
    return here;
}

std::string regionWords(const Subject& s, const BodyFrame& body, int joint, const Vec3& place) {
    const JointZone& zone = s.zones[joint];
    Vec3d d = place.cast<double>() - s.character->skeleton.neutralWorld[joint].translation();
    d -= d.dot(zone.axis) * zone.axis;
    if (d.norm() < 0.35 * zone.limbRadius)
        return "all round";
    const Vec3d outward = s.roles[joint].side == Side::Right ? Vec3d(-body.left) : body.left;
    const bool middle = s.roles[joint].side == Side::Middle;
    const std::array<std::pair<Vec3d, const char*>, 6> ways{{{body.forward, "front"},
                                                             {-body.forward, "back"},
                                                             {outward, middle ? "left side" : "outer side"},
                                                             {-outward, middle ? "right side" : "inner side"},
                                                             {body.up, "top"},
                                                             {-body.up, "underside"}}};
    return std::max_element(ways.begin(), ways.end(),
                            [&](const auto& a, const auto& b) { return a.first.dot(d) < b.first.dot(d); })
        ->second;
}

void mark(const Subject& s, const BodyFrame& body, Finding& f) {
    std::set<std::uint32_t> welded;
    for (std::uint32_t t : f.triangles)
        welded.insert(s.surface.triangles[t].begin(), s.surface.triangles[t].end());
    f.place = middleOf(s, f.triangles).cast<float>();
    std::map<int, std::vector<std::uint32_t>> byPart;
    for (std::uint32_t w : welded)
        for (auto m = s.surface.members.begin(w); m != s.surface.members.end(w); ++m) {
            const int part = s.character->partOfVertex(*m);
            byPart[part].push_back(*m - s.character->parts[part].firstVertex);
        }
    for (auto& [part, vertices] : byPart) {
        std::sort(vertices.begin(), vertices.end());
        f.marks.push_back({part, std::move(vertices)});
    }
    std::stable_sort(f.marks.begin(), f.marks.end(), [](const PartMarks& a, const PartMarks& b) {
        return a.vertices.size() > b.vertices.size();
    });
    f.region = regionWords(s, body, f.joint, f.place);
}

// Findings at one joint whose skin overlaps are one fault seen by several measures; the mirror image of one
// with the same kind is the same fault on the other side. The list is sorted: the first of a fault leads it.
void groupFaults(const Subject& s, std::vector<Finding>& findings) {
    Clusters clusters(findings.size());
    const Vec3d across = s.body.left;
    double middle = 0; // of the body, along its left
    for (const Vec3& p : s.neutral)
        middle += across.dot(p.cast<double>()) / static_cast<double>(s.neutral.size());
    for (std::size_t a = 0; a < findings.size(); ++a)
        for (std::size_t b = a + 1; b < findings.size(); ++b) {
            const Finding &f = findings[a], &g = findings[b];
            if (f.joint == g.joint && overlap(s, f.triangles, g.triangles))
                clusters.join(a, b);
            else if (f.kind == g.kind && s.roles[f.joint].mirror == g.joint) {
                const Vec3d p = f.place.cast<double>(), q = g.place.cast<double>();
                const Vec3d image = p - 2 * (across.dot(p) - middle) * across;
                if ((image - q).norm() < std::max(s.zones[f.joint].limbRadius, 0.02 * s.body.height))
                    clusters.join(a, b);
            }
        }
    std::map<std::size_t, int> number;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const auto [it, fresh] = number.try_emplace(clusters.find(i), static_cast<int>(number.size()));
        findings[i].fault = it->second;
        findings[i].leads = fresh;
    }
}

} // namespace

std::vector<Finding> mergeFindings(const Subject& s, const Plan& plan,
                                   const std::vector<MotionResult>& results,
                                   const std::vector<std::vector<PosePatches>>& patches,
                                   const Limits& limits) {
    std::map<std::pair<int, Kind>, std::vector<Node>> byJoint;
    for (std::size_t m = 0; m < patches.size(); ++m)
        for (std::size_t i = 0; i < patches[m].size(); ++i)
            for (const PosePatch& p : patches[m][i])
                byJoint[{p.joint, p.patch.kind}].push_back(
                    {static_cast<int>(m), static_cast<int>(i), &p.patch});

    const BodyFrame& body = s.body;
    std::vector<Finding> out;
    for (const auto& [key, nodes] : byJoint) {
        const auto& [joint, kind] = key;
        Clusters clusters(nodes.size());
        std::vector<Vec3d> middles;
        for (const Node& n : nodes)
            middles.push_back(middleOf(s, n.patch->triangles));
        // Patches around one joint in one pose are one fault with several faces; far ones (a stray weight on
        // another limb) are faults of their own.
        const double near = 2.5 * std::max(s.zones[joint].limbRadius, 0.01 * body.height);
        for (std::size_t a = 0; a < nodes.size(); ++a)
            for (std::size_t b = a + 1;
                 b < nodes.size() && nodes[b].motion == nodes[a].motion && nodes[b].step <= nodes[a].step + 1;
                 ++b)
                if (nodes[b].step == nodes[a].step
                        ? (middles[a] - middles[b]).norm() < near
                        : overlap(s, nodes[a].patch->triangles, nodes[b].patch->triangles))
                    clusters.join(a, b);
        // Across motions what each cluster covers over all its steps is compared.
        std::map<std::size_t, std::vector<std::uint32_t>> covered;
        for (std::size_t i = 0; i < nodes.size(); ++i) {
            auto& all = covered[clusters.find(i)];
            std::vector<std::uint32_t> merged;
            std::set_union(all.begin(), all.end(), nodes[i].patch->triangles.begin(),
                           nodes[i].patch->triangles.end(), std::back_inserter(merged));
            all = std::move(merged);
        }
        for (auto a = covered.begin(); a != covered.end(); ++a)
            for (auto b = std::next(a); b != covered.end(); ++b)
                if (overlap(s, a->second, b->second))
                    clusters.join(a->first, b->first);

        std::map<std::size_t, std::vector<const Node*>> merged;
        for (std::size_t i = 0; i < nodes.size(); ++i)
            merged[clusters.find(i)].push_back(&nodes[i]);
        for (const auto& [root, members] : merged) {
            const Node* peak = members.front();
            std::set<int> motions;
            for (const Node* n : members) {
                motions.insert(n->motion);
                if (worse(kind, n->patch->value, peak->patch->value))
                    peak = n;
            }
            const Node* first = peak;
            for (const Node* n : members)
                if (n->motion == peak->motion && n->step < first->step)
                    first = n;
            Finding f;
            f.joint = joint;
            f.kind = kind;
            f.side = s.roles[joint].side;
            f.role = s.roles[joint].role;
            const LimitSteps& steps = limits.of(kind, f.role);
            f.limit = steps[0];
            f.peakValue = peak->patch->value;
            f.severity = severityOf(kind, f.peakValue, steps);
            f.motion = peak->motion;
            f.motions.assign(motions.begin(), motions.end());
            f.peakDegrees = plan.motions[peak->motion].degrees[peak->step];
            f.onsetDegrees =
                onsetAngle(kind, steps[0], results[peak->motion], first->step, joint, first->patch->value);
            for (const Node* n : members) // all of the fault that the peak pose shows
                if (n->motion == peak->motion && n->step == peak->step)
                    f.triangles.insert(f.triangles.end(), n->patch->triangles.begin(),
                                       n->patch->triangles.end());
            std::sort(f.triangles.begin(), f.triangles.end());
            mark(s, body, f);
            if (f.severity > 0)
                out.push_back(std::move(f));
        }
    }
    auto trouble = [&](const Finding& f) {
        return troubleOf(f.kind, f.peakValue, limits.of(f.kind, f.role));
    };
    std::stable_sort(out.begin(), out.end(), [&](const Finding& a, const Finding& b) {
        return std::make_tuple(-a.severity, -trouble(a), a.joint) <
               std::make_tuple(-b.severity, -trouble(b), b.joint);
    });
    groupFaults(s, out);
    return out;
}

} // namespace hobble
