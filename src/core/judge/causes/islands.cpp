// Weight that hangs together with nothing else its joint holds: a stray influence, or skin of a limb that the
// joint above holds.
#include "core/judge/causes/case.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

constexpr double kLeastCommon = 0.08; // of the smaller of island and marks that they have to share
constexpr double kFar = 0.99, kPocket = 0.6,
                 kOfAnother = 0.5; // a pocket beside the joint's own skin is a ripple
constexpr double kAlong = 0.95;
constexpr double kLeastDrift = 0.2; // a stray without which less goes is no reason

// The joint that holds most of the rest of an island's vertices; −1 when nothing does.
int homeOf(const Case& c, const WeightIsland& island) {
    const SkinWeights& w = c.subject.surface.weights;
    std::map<int, double> others;
    for (std::uint32_t v : island.vertices)
        for (std::uint32_t i = w.first[v]; i < w.first[v + 1]; ++i)
            if (w.joint[i] != island.joint)
                others[w.joint[i]] += static_cast<double>(w.weight[i]);
    int home = -1;
    double held = 0;
    for (const auto& [j, sum] : others)
        if (sum > held) {
            held = sum;
            home = j;
        }
    return home;
}

// Tried: the peak pose again with the island's weight given to what else holds its vertices. Nothing where
// the finding is no measure of the shape.
std::optional<double> goneWithout(const Case& c, const WeightIsland& island) {
    if (!c.ofTheShape())
        return std::nullopt;
    Character edited = *c.subject.character;
    SkinWeights& w = edited.weights;
    const Lists& members = c.subject.surface.members;
    for (std::uint32_t welded : island.vertices)
        for (auto v = members.begin(welded); v != members.end(welded); ++v) {
            float rest = 0;
            for (std::uint32_t i = w.first[*v]; i < w.first[*v + 1]; ++i)
                rest += w.joint[i] == island.joint ? 0 : w.weight[i];
            for (std::uint32_t i = w.first[*v]; i < w.first[*v + 1] && rest > 0; ++i)
                w.weight[i] = w.joint[i] == island.joint ? 0 : w.weight[i] / rest;
        }
    return c.gone(c.method, nullptr, &edited);
}

} // namespace

const WeightIsland* islandAt(const Case& c) {
    const WeightIsland* best = nullptr;
    double most = 0;
    for (const WeightIsland& island : c.subject.islands) {
        std::size_t common = 0;
        for (std::uint32_t v : island.vertices)
            common += c.marked.count(v);
        const double hit = static_cast<double>(common) * island.share;
        if (common > 0 && hit > most &&
            static_cast<double>(common) >
                kLeastCommon * static_cast<double>(std::min(island.vertices.size(), c.marked.size()))) {
            most = hit;
            best = &island;
        }
    }
    return best;
}

void askIslands(const Case& c, Causes& found) {
    const WeightIsland* island = islandAt(c);
    if (!island)
        return;
    const Skeleton& sk = c.skeleton();
    const int home = homeOf(c, *island);
    const bool along = home >= 0 && c.isAbove(island->joint, home);
    constexpr int neighbours = 2;     // bones
    constexpr std::size_t ripple = 8; // vertices
    if (!island->far && (home < 0 || sk.boneDistance(home, island->joint) <= neighbours) &&
        !(along && island->vertices.size() > ripple))
        return; // a ripple between neighbours is no stranger
    const Role role = c.roleOf(island->joint);
    constexpr double hardly = 0.08; // of the weight
    if (!island->far && (island->share < hardly || role == Role::Helper || role == Role::Twist))
        return;
    if (along) { // what the joint above holds of the limb below it is a slip of the brush, not a stranger
        found.push_back({CauseKind::HeldByParent, kAlong,
                         fact::HeldAlong{island->joint, home, island->vertices.size(), island->share}});
        return;
    }
    const auto strangerKind = [&] {
        const auto digit = [&](int j) { return c.roleOf(j) == Role::Finger || c.roleOf(j) == Role::Thumb; };
        if (home >= 0 && digit(home) && digit(island->joint) &&
            !sk.subtree(home)[static_cast<std::size_t>(island->joint)])
            return CauseKind::NeighbourFinger;
        if (home >= 0 && sk.subtree(island->joint)[static_cast<std::size_t>(home)])
            return CauseKind::PatchLeftBehind; // it stays with what the limb hangs from
        return CauseKind::StrayInfluence;
    };
    const bool follows =
        sk.subtree(c.joint())[static_cast<std::size_t>(island->joint)] || c.joint() == island->joint;
    double weight = island->far ? kFar : follows ? kPocket : kOfAnother;
    fact::Island fact{island->joint,          home, island->vertices.size(), island->share, 0, false,
                      goneWithout(c, *island)};
    if (home >= 0) {
        const Side a = c.subject.roles[static_cast<std::size_t>(home)].side,
                   b = c.subject.roles[static_cast<std::size_t>(island->joint)].side;
        fact.bones = std::max(sk.boneDistance(home, island->joint), 0);
        fact.acrossBody = a != Side::Middle && b != Side::Middle && a != b;
    }
    constexpr double plainShare = 0.1;
    constexpr int farBones = 3;
    if ((fact.acrossBody || fact.bones >= farBones) && island->share > plainShare)
        weight = kFar; // nobody's ripple reaches there
    if (fact.gone && *fact.gone < kLeastDrift)
        weight = std::min(weight, kOfAnother);
    found.push_back({strangerKind(), weight, fact});
}

} // namespace hobble
