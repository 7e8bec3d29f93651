#include "core/judge/causes/trial.h"

#include "core/character/moved_joint.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

using Influence = std::pair<std::uint16_t, float>;
using Edits = std::map<std::uint32_t, std::vector<Influence>>; // new weights, by welded vertex

std::vector<Influence> influencesOf(const SkinWeights& w, std::uint32_t v) {
    std::vector<Influence> out;
    for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
        out.emplace_back(w.joint[i], w.weight[i]);
    return out;
}

Character withWeights(const Subject& s, const Edits& edits) {
    Character out = *s.character;
    const SkinWeights& was = s.character->weights;
    SkinWeights now;
    now.fileSum = was.fileSum;
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight;
    for (std::uint32_t v = 0; v < s.character->vertexCount(); ++v) {
        if (const auto it = edits.find(s.surface.weldOf[v]); it != edits.end())
            for (const auto& [j, w] : it->second) {
                joint.push_back(j);
                weight.push_back(w);
            }
        else
            for (std::uint32_t i = was.first[v]; i < was.first[v + 1]; ++i) {
                joint.push_back(was.joint[i]);
                weight.push_back(was.weight[i]);
            }
        first.push_back(static_cast<std::uint32_t>(joint.size()));
    }
    now.first = std::move(first);
    now.joint = std::move(joint);
    now.weight = std::move(weight);
    out.weights = std::move(now);
    return out;
}

// What follows a joint takes this share of a vertex, the rest the others; who takes it where nobody is there
// yet is the joint itself, or its parent.
std::vector<Influence> followingBy(std::vector<Influence> held, const std::vector<char>& below, int joint,
                                   int parent, double to) {
    double in = 0, out = 0;
    for (const auto& [j, w] : held)
        (below[j] ? in : out) += static_cast<double>(w);
    if (in <= 0 && to > 0)
        held.emplace_back(static_cast<std::uint16_t>(joint), 0.f);
    if (out <= 0 && to < 1 && parent >= 0)
        held.emplace_back(static_cast<std::uint16_t>(parent), 0.f);
    for (auto& [j, w] : held) {
        const bool is = below[j] != 0;
        const double sum = is ? in : out, share = is ? to : 1 - to;
        w = static_cast<float>(sum > 0 ? static_cast<double>(w) / sum * share : share);
    }
    std::erase_if(held, [](const Influence& x) { return x.second <= 0; });
    return held;
}

class Undoing {
public:
    Undoing(const Case& c, int joint) : c_(c), s_(c.subject), joint_(joint) {}

    // The weight passes over in a good width, centred at the joint.
    std::optional<Character> operator()(const fact::PassesInOneEdge&) const { return passedOver(); }
    std::optional<Character> operator()(const fact::BoundHard&) const { return passedOver(); }
    std::optional<Character> operator()(const fact::PassesOverLength&) const { return passedOver(); }
    std::optional<Character> operator()(const fact::LagsBehindLimb& f) const {
        return passedOver(f.joint, true);
    }
    std::optional<Character> operator()(const fact::HeldAlong& f) const { return passedOver(f.home, true); }
    std::optional<Character> operator()(const fact::LagsBehindMirror& f) const { return mirrored(f.joint); }
    std::optional<Character> operator()(const fact::PassesUnlikeMirror& f) const { return mirrored(f.joint); }
    std::optional<Character> operator()(const fact::Island& f) const {
        if (const WeightIsland* island = islandAt(c_))
            return withoutIsland(*island);
        return without(f.joint, false);
    }
    std::optional<Character> operator()(const fact::LoneVertex& f) const { return without(f.joint, false); }
    std::optional<Character> operator()(const fact::BleedsIn& f) const { return without(f.joint, true); }
    std::optional<Character> operator()(const fact::LiesOffMirror& f) const {
        return moved(f.joint, s_.mirror.mirrored(place(f.mirror)));
    }
    template <class Other> std::optional<Character> operator()(const Other&) const { return std::nullopt; }

private:
    const Case& c_;
    const Subject& s_;
    const int joint_;

    const SkinWeights& weights() const { return s_.surface.weights; }
    Vec3d place(int j) const {
        return s_.character->skeleton.neutralWorld[static_cast<std::size_t>(j)].translation();
    }

    std::optional<Character> passedOver() const { return passedOver(joint_, false); }

    std::optional<Character> passedOver(int joint, bool onlyMore) const {
        constexpr double width = 1.8; // limb radii, from none to all
        const JointZone& zone = s_.zones[static_cast<std::size_t>(joint)];
        const int parent = c_.parentOf(joint);
        if (zone.empty() || zone.limbRadius <= 0 || parent < 0)
            return std::nullopt;
        const std::vector<char> below = c_.skeleton().subtree(joint);
        Edits edits;
        for (std::uint32_t v : zone.vertices) {
            if (s_.surface.shellOf[v] != zone.shell)
                continue;
            const double now = s_.surface.weightOn(v, below);
            const double t = std::clamp((s_.neutral[v].cast<double>() - place(joint)).dot(zone.axis) /
                                                (width * zone.limbRadius) +
                                            0.5,
                                        0.0, 1.0);
            const double then = t * t * (3 - 2 * t);
            if (std::abs(then - now) > 0.01 && (!onlyMore || then > now))
                edits[v] = followingBy(influencesOf(weights(), v), below, joint, parent, then);
        }
        return edits.empty() ? std::nullopt : std::optional(withWeights(s_, edits));
    }

    // As the other side has it, where the two differ.
    std::optional<Character> mirrored(int joint) const {
        constexpr double differs = 0.02;
        const auto& twins = c_.context.twins.twin;
        if (twins.empty())
            return std::nullopt;
        const auto mirrorOf = [&](int j) {
            const int m = s_.roles[static_cast<std::size_t>(j)].mirror;
            return m >= 0 ? m : j;
        };
        Edits edits;
        for (std::uint32_t v : s_.zones[static_cast<std::size_t>(joint)].vertices) {
            if (twins[v] == MirrorTwins::kNone)
                continue;
            std::vector<Influence> there = influencesOf(weights(), twins[v]);
            double apart = 0;
            for (auto& [j, w] : there) {
                j = static_cast<std::uint16_t>(mirrorOf(j));
                std::vector<char> one(c_.skeleton().name.size(), 0);
                one[j] = 1;
                apart += std::abs(static_cast<double>(w) - s_.surface.weightOn(v, one));
            }
            if (apart > differs)
                edits[v] = std::move(there);
        }
        return edits.empty() ? std::nullopt : std::optional(withWeights(s_, edits));
    }

    // What one joint holds of the marked skin goes to who else holds it.
    std::optional<Character> without(int joint, bool allBelow) const {
        const std::vector<char> below = c_.skeleton().subtree(joint);
        Edits edits;
        for (std::uint32_t v : c_.marked) {
            std::vector<Influence> held = influencesOf(weights(), v);
            double rest = 0;
            for (const auto& [j, w] : held)
                rest += (allBelow ? below[j] != 0 : j == joint) ? 0 : static_cast<double>(w);
            if (rest < 0.05 || rest > 0.999)
                continue;
            std::erase_if(
                held, [&](const Influence& x) { return allBelow ? below[x.first] != 0 : x.first == joint; });
            for (auto& [j, w] : held)
                w = static_cast<float>(static_cast<double>(w) / rest);
            edits[v] = std::move(held);
        }
        return edits.empty() ? std::nullopt : std::optional(withWeights(s_, edits));
    }

    // All that one joint holds of an island goes to who else holds it; where nobody does, to who holds the
    // skin around it, from its rim inwards.
    std::optional<Character> withoutIsland(const WeightIsland& island) const {
        constexpr double somebody = 0.05;
        const std::set<std::uint32_t> in(island.vertices.begin(), island.vertices.end());
        Edits edits;
        std::set<std::uint32_t> open;
        for (std::uint32_t v : in) {
            std::vector<Influence> held = influencesOf(weights(), v);
            std::erase_if(held, [&](const Influence& x) { return x.first == island.joint; });
            if (shareOf(held) < somebody)
                open.insert(v);
            else
                edits[v] = whole(std::move(held));
        }
        while (!open.empty()) {
            Edits ring;
            for (std::uint32_t v : open) {
                std::map<std::uint16_t, float> sum;
                for (auto n = s_.surface.neighbours.begin(v); n != s_.surface.neighbours.end(v); ++n)
                    if (!open.count(*n))
                        for (const auto& [j, w] : edits.count(*n) ? edits[*n] : influencesOf(weights(), *n))
                            sum[j] += w;
                if (!sum.empty())
                    ring[v] = whole({sum.begin(), sum.end()});
            }
            if (ring.empty()) // a shell of its own: nothing else holds it
                break;
            for (auto& [v, held] : ring) {
                open.erase(v);
                edits[v] = std::move(held);
            }
        }
        return edits.empty() ? std::nullopt : std::optional(withWeights(s_, edits));
    }

    static double shareOf(const std::vector<Influence>& held) {
        double out = 0;
        for (const auto& [j, w] : held)
            out += static_cast<double>(w);
        return out;
    }
    static std::vector<Influence> whole(std::vector<Influence> held) {
        const double sum = shareOf(held);
        for (auto& [j, w] : held)
            w = static_cast<float>(static_cast<double>(w) / sum);
        return held;
    }

    // The joint put elsewhere; what hangs from it stays, and the skin is bound to it there.
    std::optional<Character> moved(int joint, const Vec3d& to) const {
        Character out = *s_.character;
        Transform world = out.skeleton.neutralWorld[static_cast<std::size_t>(joint)];
        world.translation() = to;
        moveJoint(out, joint, world);
        return out;
    }
};

} // namespace

std::optional<Character> undone(const Case& c, const Cause& cause) {
    return std::visit(Undoing(c, cause.joint < 0 ? c.asked : cause.joint), cause.fact);
}

void tryCauses(const Subject& s, const CauseContext& context, const Plan& plan, Skinning method,
               const std::vector<Finding>& findings, Fault& fault) {
    constexpr std::size_t most = 3;     // of its causes
    constexpr double worthTrying = 0.4; // of what speaks for a cause
    constexpr double byTrial = 0.25;    // of the weight that hangs on what goes
    // The worst sign that a pose by itself shows again.
    const Finding* shown = nullptr;
    for (int i : fault.signs) {
        const Finding& f = findings[static_cast<std::size_t>(i)];
        const bool ofShape = f.kind == Kind::Stretch || f.kind == Kind::Squash ||
                             f.kind == Kind::VolumeLoss || f.kind == Kind::Bulge || f.kind == Kind::Pinch;
        if (ofShape && (!shown || f.severity > shown->severity))
            shown = &f;
    }
    if (!shown || fault.causes.size() < 2)
        return;
    const Case c(s, context, plan, method, *shown);
    std::size_t tried = 0;
    for (Cause& cause : fault.causes) {
        if (tried == most || cause.weight < worthTrying)
            break;
        if (const auto other = undone(c, cause)) {
            ++tried;
            cause.gone = std::min(c.gone(method, nullptr, &*other), 1.0);
            cause.weight *= 1 - byTrial + byTrial * std::clamp(*cause.gone, 0.0, 1.0);
        }
    }
    std::stable_sort(fault.causes.begin(), fault.causes.end(),
                     [](const Cause& a, const Cause& b) { return a.weight > b.weight; });
}

} // namespace hobble
