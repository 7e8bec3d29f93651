#include "core/judge/causes/likely_causes.h"

#include <algorithm>

namespace hobble {

CauseContext causeContext(const Subject& s) {
    CauseContext out;
    out.once = std::make_unique<AskedOnce>(s);
    for (int j = 0; j < s.character->skeleton.size(); ++j)
        out.blends.push_back(blendShape(s, j));
    int blended = 0, hard = 0;
    for (int j = 0; j < s.character->skeleton.size(); ++j) {
        const JointZone& zone = s.zones[static_cast<std::size_t>(j)];
        const std::vector<char> below = s.character->skeleton.subtree(j);
        out.hard.push_back(
            !zone.empty() && s.character->skeleton.parent[static_cast<std::size_t>(j)] >= 0 &&
            std::none_of(zone.blendVertices.begin(), zone.blendVertices.end(), [&](std::uint32_t v) {
                return inBlend(static_cast<float>(s.surface.weightOn(v, below)));
            }));
        hard += out.hard.back();
        blended += !zone.empty() && !out.hard.back();
    }
    out.boundHard = hard > blended;
    out.twins = mirrorTwins(s);
    out.torn = treeAndSkin(s.character->skeleton, s.surface).torn;
    return out;
}

namespace {

// Whose weights, pivot or driver would be changed; −1 where the fact does not say: at the joint asked about.
struct MendedAt {
    int operator()(const fact::DoesNotFollow& f) const { return f.joint; }
    int operator()(const fact::BendsOff& f) const { return f.joint; }
    int operator()(const fact::Island& f) const { return f.joint; }
    int operator()(const fact::LoneVertex& f) const { return f.joint; }
    int operator()(const fact::BleedsIn& f) const { return f.joint; }
    int operator()(const fact::LiesOffMirror& f) const { return f.joint; }
    int operator()(const fact::HeldAlong& f) const { return f.home; }
    int operator()(const fact::LagsBehindMirror& f) const { return f.joint; }
    int operator()(const fact::LagsBehindLimb& f) const { return f.joint; }
    int operator()(const fact::PassesUnlikeMirror& f) const { return f.joint; }
    int operator()(const fact::TurnsBesideEye& f) const { return f.joint; }
    int operator()(const fact::RimHeldBack& f) const { return f.joint; }
    int operator()(const fact::DriverKicks& f) const { return f.source; }
    template <class Other> int operator()(const Other&) const { return -1; }
};

// Other joints that the marked skin goes with in part: what is wrong with them may show here.
std::vector<int> alsoGoesWith(const Case& c) {
    const Kind kind = c.finding.kind; // what skin goes into, or stands off from, lies elsewhere
    if (!c.ofTheShape() && kind != Kind::Roughness && kind != Kind::Flip && kind != Kind::Lag &&
        kind != Kind::Leak)
        return {};
    constexpr double enough = 0.25; // mean of B over the marked skin
    const SkinWeights& w = c.subject.surface.weights;
    const Skeleton& sk = c.skeleton();
    std::vector<double> blends(sk.name.size(), 0), follow(sk.name.size(), 0);
    std::vector<int> met;
    for (std::uint32_t v : c.marked) {
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            for (int j = w.joint[i]; j >= 0; j = sk.parent[static_cast<std::size_t>(j)]) {
                if (follow[static_cast<std::size_t>(j)] == 0)
                    met.push_back(j);
                follow[static_cast<std::size_t>(j)] += static_cast<double>(w.weight[i]);
            }
        for (int j : met) {
            double& f = follow[static_cast<std::size_t>(j)];
            blends[static_cast<std::size_t>(j)] += 4 * f * std::max(1 - f, 0.0);
            f = 0;
        }
        met.clear();
    }
    std::vector<int> out;
    for (int j = 0; j < sk.size(); ++j)
        if (const Role role = c.roleOf(j);
            j != c.finding.joint && role != Role::Twist && role != Role::Helper && role != Role::Control &&
            sk.boneDistance(j, c.finding.joint) <= 3 &&
            blends[static_cast<std::size_t>(j)] > enough * static_cast<double>(c.marked.size()))
            out.push_back(j);
    return out;
}

} // namespace

std::vector<Cause> likelyCauses(const Subject& subject, const CauseContext& context, const Plan& plan,
                                Skinning method, const Finding& finding) {
    Case c(subject, context, plan, method, finding);
    Causes found;
    const auto placed = [&](Causes& causes) {
        for (Cause& x : causes)
            if (x.joint < 0) {
                x.joint = std::visit(MendedAt{}, x.fact);
                if (const auto* island = std::get_if<fact::Island>(&x.fact);
                    island && x.kind == CauseKind::PatchLeftBehind)
                    x.joint = island->home; // it is handed to whose skin it is
                if (const auto* idle = std::get_if<fact::FollowsNothing>(&x.fact); idle && idle->source >= 0)
                    x.joint =
                        subject.roles[static_cast<std::size_t>(idle->source)].mirror; // what it should follow
                x.joint = x.joint < 0 ? c.asked : x.joint;
            }
    };
    for (const auto ask :
         {askBeyondPlan, askPartBinding, askBendAxis, askKick, askIslands, askNeighbourFinger, askTornLimb,
          askLoneVertex, askDrivers, askTwist, askBlend, askLoops, askLag, askHeldByParent, askOtherSide,
          askPivot, askGarment, askFace, askMethod})
        ask(c, found);
    placed(found);
    // Of two that as much speaks for, the finding's own joint; what is only unusual counts less than what is
    // unlike its mirror.
    constexpr double elsewhere = 0.97, unusualElsewhere = 0.8, unlikeMirror = 0.86;
    for (int other : alsoGoesWith(c)) {
        c.asked = other;
        Causes there;
        askBlend(c, there);
        if (c.mirror() >= 0) // where a tail or a neck begins no limb closes about its joint
            askPivot(c, there);
        askLoops(c, there);
        placed(there);
        for (Cause& x : there) {
            x.weight *= x.weight > unlikeMirror ? elsewhere : unusualElsewhere;
            found.push_back(std::move(x));
        }
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Cause& a, const Cause& b) { return a.weight > b.weight; });
    return found;
}

} // namespace hobble
