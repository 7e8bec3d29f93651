#include "core/judge/findings.h"

#include "core/character/body.h"
#include "core/run/run.h"
#include "core/words/say.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>
#include <tuple>

namespace hobble {

namespace {

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
    const double here = motion.steps[step].at;
    if (step == 0)
        return here;
    const StepResult& before = motion.steps[step - 1];
    for (const JointStep& j : before.joints)
        if (j.joint == joint) {
            const auto was = valueOf(kind, j.measures);
            if (!was || worse(kind, *was, limit) || *was == valueHere)
                return here; // another patch of the zone was beyond it already
            const double share = std::clamp((limit - *was) / (valueHere - *was), 0.0, 1.0);
            return before.at + share * (here - before.at);
        }
    return here;
}

std::string regionWords(const Subject& s, const BodyFrame& body, int joint, const Vec3& place) {
    const JointZone& zone = s.zones[joint];
    Vec3d d = place.cast<double>() - s.character->skeleton.neutralWorld[joint].translation();
    d -= d.dot(zone.axis) * zone.axis;
    if (d.norm() < 0.35 * zone.limbRadius)
        return tableWord("all round");
    const Vec3d outward = s.roles[joint].side == Side::Right ? Vec3d(-body.left) : body.left;
    const bool middle = s.roles[joint].side == Side::Middle;
    const std::array<std::pair<Vec3d, const char*>, 6> ways{
        {{body.forward, tableWord("front")},
         {-body.forward, tableWord("back")},
         {outward, middle ? tableWord("left side") : tableWord("outer side")},
         {-outward, middle ? tableWord("right side") : tableWord("inner side")},
         {body.up, tableWord("top")},
         {-body.up, tableWord("underside")}}};
    return std::max_element(ways.begin(), ways.end(),
                            [&](const auto& a, const auto& b) { return a.first.dot(d) < b.first.dot(d); })
        ->second;
}

} // namespace

void markSkin(const Subject& s, Finding& f) {
    f.marks.clear();
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
    f.region = regionWords(s, s.body, f.joint, f.place);
}

struct FindingMerger::Growing {
    std::vector<std::uint32_t> covered; // triangles, over all steps and motions
    std::set<int> motions;
    int motion = -1, peakStep = 0, firstStep = 0; // in the motion that shows it worst
    double value = 1, firstValue = 1, onset = 0;
    std::vector<std::uint32_t> triangles; // all of the fault that the peak pose shows

    void join(const Growing& o, Kind kind) {
        unite(covered, o.covered);
        motions.insert(o.motions.begin(), o.motions.end());
        const bool sameMotion = motion == o.motion;
        if (sameMotion && peakStep == o.peakStep)
            unite(triangles, o.triangles);
        const Growing mine = *this;
        if (showsItBetter(o, kind)) {
            motion = o.motion;
            peakStep = o.peakStep;
            value = o.value;
            if (!sameMotion || mine.peakStep != o.peakStep)
                triangles = o.triangles;
            firstStep = o.firstStep;
            firstValue = o.firstValue;
            onset = o.onset;
        }
        if (const Growing& early = mine.firstStep < o.firstStep ? mine : o; sameMotion) {
            firstStep = early.firstStep;
            firstValue = early.firstValue;
            onset = early.onset;
        }
    }

    // Of motions that show it as badly but for rounding the first: a joint's own before a whole pose.
    bool showsItBetter(const Growing& o, Kind kind) const {
        const double hair = (faultIsAbove(kind) ? 1e-3 : -1e-3) * std::abs(value);
        return worse(kind, o.value,
                     motion == o.motion  ? value
                     : motion < o.motion ? value + hair
                                         : value - hair);
    }

    static void unite(std::vector<std::uint32_t>& into, const std::vector<std::uint32_t>& more) {
        std::vector<std::uint32_t> merged;
        merged.reserve(into.size() + more.size());
        std::set_union(into.begin(), into.end(), more.begin(), more.end(), std::back_inserter(merged));
        into = std::move(merged);
    }
};

FindingMerger::FindingMerger(const Subject& subject, const Plan& plan, const Limits& limits)
    : s_(subject), plan_(plan), limits_(limits) {}

FindingMerger::~FindingMerger() = default;

void FindingMerger::add(int motion, const MotionResult& result, const std::vector<PosePatches>& patches) {
    struct Node {
        int step = 0;
        const Patch* patch = nullptr;
        Vec3d middle = Vec3d::Zero();
    };
    std::map<std::pair<int, Kind>, std::vector<Node>> byJoint;
    for (std::size_t i = 0; i < patches.size(); ++i)
        for (const PosePatch& p : patches[i])
            byJoint[{p.joint, p.patch.kind}].push_back(
                {static_cast<int>(i), &p.patch, middleOf(s_, p.patch.triangles)});
    for (const auto& [key, nodes] : byJoint) {
        const auto& [joint, kind] = key;
        // Patches around one joint in one pose are one fault with several faces; far ones (a stray weight on
        // another limb) are faults of their own.
        const double near = 2.5 * std::max(s_.zones[joint].limbRadius, 0.01 * s_.body.height);
        Clusters clusters(nodes.size());
        for (std::size_t a = 0; a < nodes.size(); ++a)
            for (std::size_t b = a + 1; b < nodes.size() && nodes[b].step <= nodes[a].step + 1; ++b)
                if (nodes[b].step == nodes[a].step
                        ? (nodes[a].middle - nodes[b].middle).norm() < near
                        : overlap(s_, nodes[a].patch->triangles, nodes[b].patch->triangles))
                    clusters.join(a, b);
        std::map<std::size_t, std::vector<const Node*>> groups;
        for (std::size_t i = 0; i < nodes.size(); ++i)
            groups[clusters.find(i)].push_back(&nodes[i]);
        std::vector<Growing>& growing = growing_[key];
        for (const auto& [root, members] : groups) {
            Growing g;
            g.motion = motion;
            g.motions.insert(motion);
            const Node* peak = members.front(); // members are in the order of the steps
            for (const Node* n : members) {
                Growing::unite(g.covered, n->patch->triangles);
                if (worse(kind, n->patch->value, peak->patch->value))
                    peak = n;
            }
            for (const Node* n : members)
                if (n->step == peak->step)
                    Growing::unite(g.triangles, n->patch->triangles);
            g.value = peak->patch->value;
            g.peakStep = peak->step;
            g.firstStep = members.front()->step;
            g.firstValue = members.front()->patch->value;
            g.onset = onsetAngle(kind, limits_.of(kind, s_.roles[joint].role)[0], result, g.firstStep, joint,
                                 g.firstValue);
            // What overlaps is one fault: all that do become one, at the place of the first.
            std::size_t into = growing.size();
            for (std::size_t k = 0; k < growing.size(); ++k) {
                if (!overlap(s_, growing[k].covered, g.covered))
                    continue;
                if (into == growing.size()) {
                    into = k;
                    continue;
                }
                growing[into].join(growing[k], kind);
                growing.erase(growing.begin() + static_cast<std::ptrdiff_t>(k--));
            }
            if (into == growing.size())
                growing.push_back(std::move(g));
            else
                growing[into].join(g, kind);
        }
    }
}

std::vector<Finding> FindingMerger::findings() const {
    std::vector<Finding> out;
    for (const auto& [key, growing] : growing_) {
        const auto& [joint, kind] = key;
        const Role role = s_.roles[joint].role;
        const LimitSteps& steps = limits_.of(kind, role);
        for (const Growing& g : growing) {
            Finding f;
            f.joint = joint;
            f.kind = kind;
            f.side = s_.roles[joint].side;
            f.role = role;
            f.limit = steps[0];
            f.peakValue = g.value;
            f.severity = severityOf(kind, f.peakValue, steps);
            f.motion = g.motion;
            f.motions.assign(g.motions.begin(), g.motions.end());
            f.peak = plan_.motions[g.motion].steps[g.peakStep];
            f.onset = g.onset;
            f.triangles = g.triangles;
            markSkin(s_, f);
            if (f.severity > 0)
                out.push_back(std::move(f));
        }
    }
    const auto trouble = [&](const Finding& f) {
        return troubleOf(f.kind, f.peakValue, limits_.of(f.kind, f.role));
    };
    std::stable_sort(out.begin(), out.end(), [&](const Finding& a, const Finding& b) {
        return std::make_tuple(-a.severity, -trouble(a), a.joint) <
               std::make_tuple(-b.severity, -trouble(b), b.joint);
    });
    return out;
}

} // namespace hobble
