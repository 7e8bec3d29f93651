#include "core/judge/causes.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <set>

namespace hobble {

namespace {

template <class... A> std::string text(const char* format, A... args) {
    char buffer[400];
    std::snprintf(buffer, sizeof buffer, format, args...);
    return buffer;
}

double distanceToBone(const Skeleton& sk, const std::vector<std::vector<int>>& children, int joint,
                      const Vec3d& p) {
    const Vec3d a = sk.neutralWorld[joint].translation();
    double best = (p - a).norm();
    for (int k : children[joint]) {
        const Vec3d ab = sk.neutralWorld[k].translation() - a;
        const double t = std::clamp((p - a).dot(ab) / std::max(ab.squaredNorm(), 1e-18), 0.0, 1.0);
        best = std::min(best, (p - a - t * ab).norm());
    }
    return best;
}

// Weight from a joint far from the bone the skin lies on: more than two bones away along the tree, or on the
// other side of the body while that bone is much nearer.
void strayInfluence(const Subject& s, const Finding& f, std::vector<Cause>& out) {
    std::map<int, double> share;
    std::map<int, int> homeOf; // stray joint → the bone its skin lies on, for the sentence
    double total = 0;
    const Skeleton& sk = s.character->skeleton;
    const auto children = sk.children();
    for (const PartMarks& marks : f.marks) {
        const Part& part = s.character->parts[marks.part];
        const SkinWeights& w = s.character->weights;
        for (std::uint32_t v : marks.vertices) {
            const std::uint32_t first = w.first[part.firstVertex + v],
                                end = w.first[part.firstVertex + v + 1];
            const Vec3d p = s.character->neutral[part.firstVertex + v].cast<double>();
            int home = -1;
            double nearest = INFINITY;
            for (std::uint32_t i = first; i < end; ++i)
                if (const double d = distanceToBone(sk, children, w.joint[i], p);
                    w.weight[i] > 0.02 && d < nearest) {
                    nearest = d;
                    home = w.joint[i];
                }
            total += 1;
            for (std::uint32_t i = first; i < end && home >= 0; ++i) {
                const int j = w.joint[i], bones = sk.boneDistance(home, j);
                const Side a = s.roles[home].side, b = s.roles[j].side;
                const bool across = a != Side::Middle && b != Side::Middle && a != b &&
                                    distanceToBone(sk, children, j, p) > 3 * nearest;
                if (bones > 2 || bones < 0 || across) {
                    share[j] += w.weight[i];
                    homeOf[j] = home;
                }
            }
        }
    }
    for (const auto& [joint, sum] : share) {
        const double part = sum / total;
        if (part < 0.03)
            continue;
        const int home = homeOf[joint], bones = sk.boneDistance(home, joint);
        const Side a = s.roles[home].side, b = s.roles[joint].side;
        const bool across = a != Side::Middle && b != Side::Middle && a != b;
        out.push_back(
            {"stray influence", part < 0.1 ? 2.5 * part : std::min(1.0, 0.6 + 2 * part),
             text("%.0f %% of the weight here comes from %s, %d bones away from %s%s.", 100 * part,
                  sk.name[joint].c_str(), bones, sk.name[home].c_str(), across ? ", across the body" : "")});
    }
}

double valueIn(const Subject& s, const Plan& plan, Skinning method, const Finding& f) {
    std::vector<Vec3> posed;
    deform(*s.character, poseAt(s.character->skeleton, plan.motions[f.motion], f.peakDegrees), method, posed);
    const auto m = measureZone(s.surface, s.rest, s.zones[f.joint], weldedPositions(s.surface, posed));
    return valueOf(f.kind, m).value_or(f.peakValue);
}

bool sharesTwist(const Subject& s, int joint) {
    const auto& parent = s.character->skeleton.parent;
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        if (s.roles[j].role == Role::Twist && s.roles[j].movesSkin &&
            (parent[j] == joint || parent[j] == parent[joint] || parent[joint] == j))
            return true;
    return false;
}

void methodCollapse(const Subject& s, const Plan& plan, Skinning method, const Finding& f,
                    std::vector<Cause>& out) {
    const Skinning other = method == Skinning::Linear ? Skinning::DualQuaternion : Skinning::Linear;
    const double now = valueIn(s, plan, method, f), then = valueIn(s, plan, other, f);
    const double gone = std::abs(now - 1) > 1e-6 ? 1 - std::abs(then - 1) / std::abs(now - 1) : 0;
    const Motion& motion = plan.motions[f.motion];
    if (motion.roll && method == Skinning::Linear && !sharesTwist(s, f.joint)) {
        out.push_back({"twist not shared out", std::clamp(0.5 + gone / 2, 0.5, 1.0),
                       text("The whole roll of %.0f° is taken by one joint; no twist joint shares it.",
                            f.peakDegrees)});
    } else if (gone > 0.3) {
        out.push_back(
            {"bend collapse of the method", gone,
             text("With %s skinning the %s is %.2f instead of %.2f.",
                  other == Skinning::Linear ? "linear" : "dual quaternion", measureOf(f.kind), then, now)});
    }
}

void blendWidth(const Subject& s, const Finding& f, std::vector<Cause>& out) {
    const JointZone& zone = s.zones[f.joint];
    if (zone.limbRadius <= 0 || zone.blendVertices.empty())
        return;
    std::set<std::uint32_t> in(zone.blendVertices.begin(), zone.blendVertices.end());
    double lo = INFINITY, hi = -INFINITY, edges = 0, edgeSum = 0;
    for (std::uint32_t v : zone.blendVertices) {
        if (s.surface.shellOf[v] != zone.shell)
            continue;
        const double at = zone.axis.dot(s.neutral[v].cast<double>());
        lo = std::min(lo, at);
        hi = std::max(hi, at);
        for (auto n = s.surface.neighbours.begin(v); n != s.surface.neighbours.end(v); ++n) {
            // edges that lead along the limb show how far apart its rings lie
            const Vec3d e = (s.neutral[*n] - s.neutral[v]).cast<double>();
            if (std::abs(e.normalized().dot(zone.axis)) > 0.7) {
                edgeSum += std::abs(e.dot(zone.axis));
                ++edges;
            }
        }
    }
    if (!(hi > lo))
        hi = lo;
    const double width = (hi - lo) / zone.limbRadius;
    const double rings = edges > 0 ? (hi - lo) / (edgeSum / edges) + 1 : 1;
    if (rings < 3)
        out.push_back(
            {"too few edge loops", 0.8,
             text("About %.0f rings of vertices lie across the blend; three are the least that bends.",
                  rings)});
    if (width < 0.5)
        out.push_back({"blend too hard", std::clamp(1.0 - width, 0.3, 0.9),
                       text("The weight passes over within %.2f of the limb's radius.", width)});
    else if (width > 4)
        out.push_back({"blend too wide", std::clamp(width / 10, 0.3, 0.9),
                       text("The weight takes %.1f limb radii to pass over.", width)});
}

} // namespace

std::vector<Cause> likelyCauses(const Subject& subject, const Plan& plan, Skinning method,
                                const Finding& finding) {
    std::vector<Cause> out;
    strayInfluence(subject, finding, out);
    methodCollapse(subject, plan, method, finding, out);
    blendWidth(subject, finding, out);
    std::stable_sort(out.begin(), out.end(),
                     [](const Cause& a, const Cause& b) { return a.weight > b.weight; });
    return out;
}

} // namespace hobble
