#include "core/judge/faults.h"

#include "core/measure/subject.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace hobble {

namespace {

constexpr double kTold = 0.5;    // a cause that binds signs together
constexpr double kStrong = 0.85; // one that does not melt into another

// What a sign is put down to; both sides have one name.
struct Culprit {
    CauseKind kind = CauseKind::MethodCollapse;
    int joint = -1; // the lesser of the joint and its mirror
    double weight = 0;
    bool same(const Culprit& o) const { return joint >= 0 && kind == o.kind && joint == o.joint; }
};

class Gatherer {
public:
    Gatherer(const Subject& s, const Plan& plan, const Limits& limits, std::vector<Finding>& findings)
        : s_(s), plan_(plan), limits_(limits), findings_(findings) {
        for (const Vec3& p : s.neutral)
            middle_ += s.body.left.dot(p.cast<double>()) / static_cast<double>(s.neutral.size());
        for (const Finding& f : findings) {
            const Cause* c = f.headline();
            culprit_.push_back(c && c->joint >= 0 ? Culprit{c->kind, oneOf(c->joint), c->weight} : Culprit{});
            double sum = 0;
            for (std::uint32_t t : f.triangles)
                sum += s.surface.area[t];
            area_.push_back(sum);
            trouble_.push_back(troubleOf(f.kind, f.peakValue, limits.of(f.kind, f.role)));
        }
    }

    // Worst first: each joins the fault whose leader it belongs to most, or leads one of its own. Only
    // leaders are asked, so that faults do not melt into one along a chain of small likenesses.
    std::vector<Fault> gather() const {
        std::vector<std::vector<int>> groups;
        for (std::size_t i = 0; i < findings_.size(); ++i) {
            std::size_t best = groups.size();
            double most = 0;
            for (std::size_t g = 0; g < groups.size(); ++g)
                if (const double by = affinity(static_cast<std::size_t>(groups[g].front()), i); by > most) {
                    most = by;
                    best = g;
                }
            if (best == groups.size())
                groups.emplace_back();
            groups[best].push_back(static_cast<int>(i));
        }
        joinAtOneJoint(groups);
        std::vector<Fault> out;
        for (std::vector<int>& signs : groups) {
            std::sort(signs.begin(), signs.end()); // worst first
            out.push_back(faultOf(signs));
        }
        return out;
    }

    void order(std::vector<Fault>& faults) const {
        for (Fault& f : faults)
            place(f);
        joinRows(faults);
        joinLowMesh(faults);
        std::stable_sort(faults.begin(), faults.end(),
                         [](const Fault& a, const Fault& b) { return a.urgency > b.urgency; });
        for (std::size_t k = 0; k < faults.size(); ++k)
            for (int i : faults[k].signs) {
                findings_[static_cast<std::size_t>(i)].fault = static_cast<int>(k);
                findings_[static_cast<std::size_t>(i)].leads = i == faults[k].signs.front();
            }
    }

private:
    const Subject& s_;
    const Plan& plan_;
    const Limits& limits_;
    std::vector<Finding>& findings_;
    std::vector<Culprit> culprit_;
    std::vector<double> area_, trouble_;
    double middle_ = 0; // of the body, along its left

    int oneOf(int joint) const {
        const int mirror = s_.roles[static_cast<std::size_t>(joint)].mirror;
        return mirror < 0 ? joint : std::min(joint, mirror);
    }

    Vec3d imageOf(const Vec3d& p) const { return p - 2 * (s_.body.left.dot(p) - middle_) * s_.body.left; }

    double radiusOf(int joint) const {
        return std::max(s_.zones[static_cast<std::size_t>(joint)].limbRadius, 0.02 * s_.body.height);
    }

    // Of the smaller of two marked patches, the share that is common to both.
    double common(std::size_t a, std::size_t b) const {
        const auto &p = findings_[a].triangles, &q = findings_[b].triangles;
        std::vector<std::uint32_t> both;
        std::set_intersection(p.begin(), p.end(), q.begin(), q.end(), std::back_inserter(both));
        double sum = 0;
        for (std::uint32_t t : both)
            sum += s_.surface.area[t];
        const double least = std::min(area_[a], area_[b]);
        return least > 0 ? sum / least : 0;
    }

    bool near(std::size_t a, std::size_t b, double within) const {
        const Vec3d p = findings_[a].place.cast<double>(), q = findings_[b].place.cast<double>();
        return std::min((p - q).norm(), (imageOf(p) - q).norm()) < within;
    }

    bool apart(std::size_t a, std::size_t b) const { // put down to different things, and surely
        return culprit_[a].weight >= kStrong && culprit_[b].weight >= kStrong &&
               !culprit_[a].same(culprit_[b]);
    }

    // At one joint, what nothing surely explains is one fault; and so is what the same thing surely explains,
    // but for strays, each of which lies somewhere else.
    void joinAtOneJoint(std::vector<std::vector<int>>& groups) const {
        const auto lead = [&](const std::vector<int>& g) { return static_cast<std::size_t>(g.front()); };
        const auto strays = [](CauseKind kind) {
            return kind == CauseKind::StrayInfluence || kind == CauseKind::PatchLeftBehind ||
                   kind == CauseKind::NeighbourFinger || kind == CauseKind::PartBoundSoftly ||
                   kind == CauseKind::PartNotBound;
        };
        for (std::size_t a = 0; a < groups.size(); ++a)
            for (std::size_t b = groups.size(); b-- > a + 1;) {
                const Culprit &p = culprit_[lead(groups[a])], &q = culprit_[lead(groups[b])];
                const bool sureA = p.weight >= kStrong, sureB = q.weight >= kStrong;
                const bool oneJoint =
                    oneOf(findings_[lead(groups[a])].joint) == oneOf(findings_[lead(groups[b])].joint);
                const bool join =
                    sureA && sureB ? p.same(q) && !strays(p.kind) : !sureA && !sureB && oneJoint;
                if (!join)
                    continue;
                groups[a].insert(groups[a].end(), groups[b].begin(), groups[b].end());
                groups.erase(groups.begin() + static_cast<std::ptrdiff_t>(b));
            }
    }

    double affinity(std::size_t lead, std::size_t i) const {
        const Finding &f = findings_[lead], &g = findings_[i];
        const Culprit &p = culprit_[lead], &q = culprit_[i];
        const double shared = common(lead, i);
        if (p.same(q) && p.weight >= kTold && q.weight >= kTold &&
            (shared > 0.1 || near(lead, i, 4 * radiusOf(p.joint))))
            return 4 + shared;
        if (apart(lead, i))
            return 0;
        const bool oneJoint = oneOf(f.joint) == oneOf(g.joint);
        const bool oneSure = p.weight >= kStrong || q.weight >= kStrong;
        if (f.joint == g.joint && shared >= (oneSure ? 0.5 : 0.1))
            return 2 + shared;
        if (oneJoint && f.kind == g.kind && !oneSure)
            return 2;
        if (f.joint != g.joint && (f.kind == Kind::Contact) != (g.kind == Kind::Contact))
            return 0; // what skin goes into is another's
        if (shared >= 0.5 && s_.character->skeleton.boneDistance(f.joint, g.joint) <= 3)
            return 1 + shared;
        // What nothing surely explains belongs to what is wrong at its joint.
        return oneJoint && q.weight < kTold && p.weight < kStrong ? 0.5 : 0;
    }

    Fault faultOf(std::vector<int> signs) const {
        Fault out;
        double total = 0;
        for (int i : signs)
            total += trouble_[static_cast<std::size_t>(i)];
        struct Support {
            Cause cause;
            double speaks = 0, most = 0;
        };
        std::vector<Support> causes;
        for (int i : signs)
            for (const Cause& c : findings_[static_cast<std::size_t>(i)].causes) {
                const auto same = [&](const Support& s) {
                    return s.cause.kind == c.kind &&
                           (s.cause.joint == c.joint ||
                            (s.cause.joint >= 0 && c.joint >= 0 && oneOf(s.cause.joint) == oneOf(c.joint)));
                };
                auto it = std::find_if(causes.begin(), causes.end(), same);
                if (it == causes.end())
                    it = causes.insert(causes.end(), {c, 0, 0});
                it->speaks += c.weight * trouble_[static_cast<std::size_t>(i)] / std::max(total, 1e-9);
                if (c.weight > it->most) {
                    it->most = c.weight;
                    it->cause = c;
                }
            }
        for (Support& c : causes) {
            c.cause.weight = 0.6 * c.most + 0.4 * std::min(c.speaks, 1.0);
            out.causes.push_back(c.cause);
        }
        std::stable_sort(out.causes.begin(), out.causes.end(),
                         [](const Cause& a, const Cause& b) { return a.weight > b.weight; });

        std::set<std::uint32_t> skin;
        for (int i : signs) {
            const Finding& f = findings_[static_cast<std::size_t>(i)];
            out.severity = std::max(out.severity, f.severity);
            skin.insert(f.triangles.begin(), f.triangles.end());
        }
        for (std::uint32_t t : skin)
            out.area += s_.surface.area[t];
        out.signs = std::move(signs);
        return out;
    }

    // Where it is told, by which sign, and how urgent it is.
    void place(Fault& out) const {
        out.joint = findings_[static_cast<std::size_t>(out.signs.front())].joint;
        if (const Cause* c = out.headline(); c && c->joint >= 0 && c->weight >= kTold)
            out.joint = c->joint;
        // By the worst sign, but by one at the joint itself where it is as bad.
        std::stable_sort(out.signs.begin(), out.signs.end(), [&](int a, int b) {
            const auto rank = [&](int i) {
                const Finding& f = findings_[static_cast<std::size_t>(i)];
                return 2 * f.severity + (f.joint == out.joint ? 1 : 0);
            };
            return rank(a) > rank(b);
        });
        out.side = s_.roles[static_cast<std::size_t>(out.joint)].side;
        out.role = s_.roles[static_cast<std::size_t>(out.joint)].role;
        out.joints = {out.joint};
        const int mirror = s_.roles[static_cast<std::size_t>(out.joint)].mirror;
        if (mirror >= 0 && std::any_of(out.signs.begin(), out.signs.end(), [&](int i) {
                const Side side = findings_[static_cast<std::size_t>(i)].side;
                return side != Side::Middle && side != out.side;
            }))
            out.joints.push_back(mirror);
        out.urgency = urgencyOf(out);
    }

    // Severity first; what is surely somebody's slip before what the method does everywhere; then how much
    // skin, how early, and in how many motions.
    double urgencyOf(const Fault& f) const {
        double worst = 0, early = 0;
        std::set<int> motions;
        for (int i : f.signs) {
            const Finding& g = findings_[static_cast<std::size_t>(i)];
            worst = std::max(worst, std::min(severityAlong(g.kind, g.peakValue, limits_.of(g.kind, g.role)),
                                             g.kind == Kind::OneSided ? 3.9 : 5.0));
            motions.insert(g.motions.begin(), g.motions.end());
            const double limit = std::abs(plan_.motions[static_cast<std::size_t>(g.motion)].limit());
            if (limit > 0)
                early = std::max(early, 1 - std::min(std::abs(g.onset) / limit, 1.0));
        }
        const Cause* c = f.headline();
        const bool slip = c && c->kind != CauseKind::MethodCollapse && c->kind != CauseKind::TooFewLoops &&
                          c->kind != CauseKind::LoopsAskew;
        const double share = s_.body.height > 0 ? f.area / (s_.body.height * s_.body.height) : 0;
        return worst + (slip ? 1.5 * std::pow(c->weight, 3) : 0) + 0.25 * early +
               0.15 * std::log10(std::max(share, 1e-5) / 1e-3) + 0.1 * std::log2(1.0 + motions.size());
    }

    // The same at a row of digits is one thing to mend.
    void joinRows(std::vector<Fault>& faults) const {
        const auto inRow = [&](const Fault& f) {
            return f.role == Role::Finger || f.role == Role::Thumb || f.role == Role::Toe;
        };
        const auto bothSides = [&](const Fault& f) {
            return std::any_of(f.joints.begin(), f.joints.end(), [&](int j) {
                return s_.roles[static_cast<std::size_t>(j)].side !=
                       s_.roles[static_cast<std::size_t>(f.joint)].side;
            });
        };
        for (std::size_t a = 0; a < faults.size(); ++a)
            for (std::size_t b = faults.size(); b-- > a + 1;) {
                Fault &f = faults[a], &g = faults[b];
                const Cause *c = f.headline(), *d = g.headline();
                const bool alike = inRow(f) && f.role == g.role && f.severity == g.severity &&
                                   s_.roles[static_cast<std::size_t>(f.joint)].segment ==
                                       s_.roles[static_cast<std::size_t>(g.joint)].segment &&
                                   bothSides(f) == bothSides(g) && (c ? c->weight : 0) < kStrong &&
                                   (d ? d->weight : 0) < kStrong;
                if (!alike)
                    continue;
                take(f, g);
                faults.erase(faults.begin() + static_cast<std::ptrdiff_t>(b));
            }
    }

    // Too few loops at many joints is one thing: a low mesh.
    void joinLowMesh(std::vector<Fault>& faults) const {
        constexpr std::size_t many = 4;
        const auto low = [](const Fault& f) {
            return f.headline() && f.headline()->kind == CauseKind::TooFewLoops;
        };
        if (static_cast<std::size_t>(std::count_if(faults.begin(), faults.end(), low)) < many)
            return;
        Fault all;
        for (const Fault& f : faults)
            if (low(f) && f.urgency > all.urgency)
                all = f;
        const int first = all.signs.front();
        for (const Fault& f : faults)
            if (low(f) && f.signs.front() != first)
                take(all, f);
        std::erase_if(faults, low);
        faults.push_back(std::move(all));
    }

    static void take(Fault& into, const Fault& other) {
        into.signs.insert(into.signs.end(), other.signs.begin(), other.signs.end());
        for (int j : other.joints)
            if (std::find(into.joints.begin(), into.joints.end(), j) == into.joints.end())
                into.joints.push_back(j);
        into.area += other.area;
        into.severity = std::max(into.severity, other.severity);
        into.urgency = std::max(into.urgency, other.urgency);
    }
};

} // namespace

double severityAlong(Kind kind, double value, const LimitSteps& steps) {
    const bool above = factsOf(kind).worseAbove;
    double before = factsOf(kind).unchanged;
    for (std::size_t k = 0; k < steps.size(); ++k) {
        if (above ? value < steps[k] : value > steps[k])
            return static_cast<double>(k) + (k == 0 ? 0 : (value - before) / (steps[k] - before));
        before = steps[k];
    }
    const double width = std::abs(steps[3] - steps[2]);
    return 4 + std::min(width > 0 ? std::abs(value - steps[3]) / width : 1, 1.0);
}

std::vector<Fault> gatherFaults(const Subject& subject, const Plan& plan, const Limits& limits,
                                std::vector<Finding>& findings) {
    return Gatherer(subject, plan, limits, findings).gather();
}

void orderFaults(const Subject& subject, const Plan& plan, const Limits& limits,
                 std::vector<Finding>& findings, std::vector<Fault>& faults) {
    Gatherer(subject, plan, limits, findings).order(faults);
}

} // namespace hobble
