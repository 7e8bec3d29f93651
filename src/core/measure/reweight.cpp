#include "core/measure/reweight.h"

#include "core/measure/follow.h"
#include "core/measure/prepare.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <iterator>

namespace hobble {

namespace {

bool sameInfluences(const SkinWeights& a, std::uint32_t v, const SkinWeights& b, std::uint32_t u) {
    const std::uint32_t i = a.first[v], j = b.first[u], count = a.first[v + 1] - i;
    return count == b.first[u + 1] - j &&
           std::equal(a.joint.begin() + i, a.joint.begin() + i + count, b.joint.begin() + j) &&
           std::equal(a.weight.begin() + i, a.weight.begin() + i + count, b.weight.begin() + j);
}

// The influences of `into` with those of some vertices, ascending, exchanged: `fresh` has theirs in order.
SkinWeights spliced(const SkinWeights& into, const std::vector<std::uint32_t>& vertices,
                    const SkinWeights& fresh) {
    std::vector<std::uint32_t> first{0};
    std::vector<std::uint16_t> joint;
    std::vector<float> weight;
    first.reserve(into.first.size());
    joint.reserve(into.joint.size() + fresh.joint.size());
    weight.reserve(into.joint.size() + fresh.joint.size());
    const auto take = [&](const SkinWeights& from, std::uint32_t begin, std::uint32_t end) {
        const std::uint32_t a = from.first[begin], b = from.first[end];
        const auto moved = static_cast<std::uint32_t>(joint.size()) - a; // may wrap, and wraps back
        joint.insert(joint.end(), from.joint.begin() + a, from.joint.begin() + b);
        weight.insert(weight.end(), from.weight.begin() + a, from.weight.begin() + b);
        for (std::uint32_t v = begin; v < end; ++v)
            first.push_back(from.first[v + 1] + moved);
    };
    std::uint32_t next = 0;
    for (std::uint32_t i = 0; i < vertices.size(); ++i) {
        take(into, next, vertices[i]);
        take(fresh, i, i + 1);
        next = vertices[i] + 1;
    }
    take(into, next, static_cast<std::uint32_t>(into.vertexCount()));
    return {std::move(first), std::move(joint), std::move(weight), into.fileSum};
}

// What changed, and what it was.
struct Change {
    std::vector<std::uint32_t> vertices, welded; // of the file and of the surface, ascending
    std::vector<char> joints; // flagged: those with a share in any of these, before or after
};

Change changeFrom(const Subject& before, const Character& after) {
    Change out;
    out.vertices = changedVertices(before.character->weights, after.weights);
    for (std::uint32_t v : out.vertices)
        out.welded.push_back(before.surface.weldOf[v]);
    std::sort(out.welded.begin(), out.welded.end());
    out.welded.erase(std::unique(out.welded.begin(), out.welded.end()), out.welded.end());
    out.joints.assign(after.skeleton.name.size(), 0);
    for (const SkinWeights* w : {&before.character->weights, &after.weights})
        for (std::uint32_t v : out.vertices)
            for (std::uint32_t i = w->first[v]; i < w->first[v + 1]; ++i)
                out.joints[w->joint[i]] = 1;
    return out;
}

// Joints of whose blend a changed vertex is now and was not, or the other way round, and those at which the
// limb is now taken to run another way.
std::vector<char> zonesToGrow(const Subject& before, const Subject& s, const Change& change) {
    const Character& c = *s.character;
    std::vector<char> out(c.skeleton.name.size(), 0);
    std::vector<std::pair<std::uint32_t, std::uint32_t>> hard;
    std::set_union(before.held.hardEdges.begin(), before.held.hardEdges.end(), s.held.hardEdges.begin(),
                   s.held.hardEdges.end(), std::back_inserter(hard));
    // An empty group that was given skin is a bone of the limbs it lies in.
    const bool restacked =
        !std::equal(before.roles.begin(), before.roles.end(), s.roles.begin(), s.roles.end(),
                    [](const JointRole& a, const JointRole& b) { return a.oneWith == b.oneWith; });
    for (int j = 0; j < c.skeleton.size(); ++j) {
        const std::vector<float> shares = followShares(c, j);
        // Where all that took part follows wholly, or none of it, the skin does so before and after.
        bool wholly = false, partly = false, never = false;
        for (std::size_t k = 0; k < shares.size(); ++k)
            if (change.joints[k]) {
                wholly |= shares[k] == 1;
                never |= shares[k] == 0;
                partly |= shares[k] > 0 && shares[k] < 1;
            }
        bool again = false;
        if (partly || (wholly && never))
            again = std::any_of(change.welded.begin(), change.welded.end(), [&](std::uint32_t v) {
                return inBlend(followingAt(before.surface.weights, v, shares)) !=
                       inBlend(followingAt(s.surface.weights, v, shares));
            });
        if (!again)
            again = std::any_of(hard.begin(), hard.end(), [&](const auto& edge) {
                return straddles(before.surface.weights, edge, shares) !=
                       straddles(s.surface.weights, edge, shares);
            });
        if (!again && !before.zones[static_cast<std::size_t>(j)].blendVertices.empty())
            again = !(limbDirections(c.skeleton, before.held, s.extent, j) ==
                      limbDirections(c.skeleton, s.held, s.extent, j));
        out[static_cast<std::size_t>(j)] = again || restacked;
    }
    return out;
}

bool bindsAnew(const Subject& before, const Character& after, const Change& change) {
    const SkinWeights &a = before.character->weights, &b = after.weights;
    return std::any_of(change.vertices.begin(), change.vertices.end(), [&](std::uint32_t v) {
        return (a.first[v] == a.first[v + 1]) != (b.first[v] == b.first[v + 1]);
    });
}

std::vector<char> partsOf(const Character& c, const std::vector<std::uint32_t>& vertices) {
    std::vector<char> out(c.parts.size(), 0);
    std::size_t part = 0;
    for (std::uint32_t v : vertices) {
        while (part < out.size() && v >= c.parts[part].firstVertex + c.parts[part].vertexCount)
            ++part;
        if (part < out.size())
            out[part] = 1;
    }
    return out;
}

bool carriedOtherwise(const Subject& before, const Subject& s, const Change& change) {
    return std::any_of(change.welded.begin(), change.welded.end(), [&](std::uint32_t v) {
        return carrierOf(before.surface.weights, v) != carrierOf(s.surface.weights, v);
    });
}

// Whether a rigid piece of the face may have become one or ceased to be, or a joint has become a lid: seldom.
bool opensOtherwise(const Subject& before, const Subject& s, const Change& change) {
    if (before.roles.size() != s.roles.size() || holdsSkin(*before.character) != holdsSkin(*s.character))
        return true;
    return std::any_of(change.welded.begin(), change.welded.end(), [&](std::uint32_t v) {
        return whollyCarriedBy(before.surface.weights, v) != whollyCarriedBy(s.surface.weights, v) ||
               std::any_of(s.openings->begin(), s.openings->end(), [&](const FaceOpening& o) {
                   return std::binary_search(o.vertices.begin(), o.vertices.end(), v) ||
                          std::binary_search(o.around.begin(), o.around.end(), v);
               });
    });
}

void reweightRigidParts(const Subject& before, Subject& s, const Change& change,
                        const std::vector<char>& touched) {
    const Character& c = *s.character;
    // What an unbound piece sits on is found among bound skin, and held as that is.
    const bool anchorsMove = bindsAnew(before, c, change);
    const auto sitsOnChanged = [&](const RigidPart& r) {
        return std::any_of(r.anchors.begin(), r.anchors.end(), [&](const auto& a) {
            return std::binary_search(change.welded.begin(), change.welded.end(), a.second);
        });
    };
    std::vector<RigidPart> parts;
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const auto was = std::find_if(before.rigid.begin(), before.rigid.end(),
                                      [&](const RigidPart& r) { return r.part == static_cast<int>(p); });
        const bool known = was != before.rigid.end();
        if (touched[p] || anchorsMove || (known && sitsOnChanged(*was))) {
            if (auto part = rigidPart(s, p))
                parts.push_back(std::move(*part));
        } else if (known) {
            parts.push_back(*was);
        }
    }
    s.rigid = std::move(parts);
    const auto samePart = [](const RigidPart& a, const RigidPart& b) { return a.part == b.part; };
    if (!std::equal(s.rigid.begin(), s.rigid.end(), before.rigid.begin(), before.rigid.end(), samePart))
        flagRigidParts(s);
}

void reweightIslands(const Subject& before, Subject& s, const Change& change) {
    std::vector<WeightIsland> fresh = weightIslands(*s.character, s.surface, s.neutral, change.joints);
    std::vector<WeightIsland> kept;
    for (const WeightIsland& i : before.islands)
        if (!change.joints[static_cast<std::size_t>(i.joint)])
            kept.push_back(i);
    s.islands.clear();
    std::merge(kept.begin(), kept.end(), fresh.begin(), fresh.end(), std::back_inserter(s.islands),
               [](const WeightIsland& a, const WeightIsland& b) { return a.joint < b.joint; });
}

} // namespace

std::vector<std::uint32_t> changedVertices(const SkinWeights& before, const SkinWeights& after) {
    std::vector<std::uint32_t> out;
    for (std::uint32_t v = 0; v < after.vertexCount(); ++v)
        if (!sameInfluences(before, v, after, v))
            out.push_back(v);
    return out;
}

Subject reweighted(const Subject& before, std::shared_ptr<const Character> character,
                   const Progress& progress, const std::map<std::string, RoleCorrection>& corrections) {
    if (!(character->neutral == before.character->neutral) ||
        !(character->triangles == before.character->triangles))
        return prepareSubject(std::move(character), progress, corrections);
    Subject s = before;
    s.character = std::move(character);
    const Character& c = *s.character;
    const Change change = changeFrom(before, c);
    if (change.vertices.empty())
        return s;
    const bool atSeams = std::any_of(change.welded.begin(), change.welded.end(), [&](std::uint32_t w) {
        return s.surface.members.count(w) > 1 || s.surface.touches[w];
    });
    if (atSeams && !weldsAlike(s.surface, c)) // another surface altogether
        return prepareSubject(s.character, progress, corrections);
    const WeldedWeights was = weldedWeights(s.surface, before.character->weights, change.welded),
                        now = weldedWeights(s.surface, c.weights, change.welded);
    s.surface.weights = spliced(before.surface.weights, change.welded, now.weights);
    s.surface.crackingWelds = before.surface.crackingWelds - was.cracking + now.cracking;
    s.held = skinHeld(c.skeleton, s.surface, s.neutral);
    // A joint that has won its first skin, or lost its last, is another joint, and the body may be another.
    const std::vector<char> touched = partsOf(c, change.vertices);
    bool coveredOtherwise = false;
    for (std::size_t p = 0; p < touched.size(); ++p)
        coveredOtherwise |= touched[p] && movesAsOne(c, p) != movesAsOne(*before.character, p);
    if (holdsSkin(c) != holdsSkin(*before.character)) {
        prepareRoles(s, corrections);
        if (s.body.height != before.body.height) {
            coveredOtherwise = true;
            prepareContacts(s, progress);
        }
    }
    if (coveredOtherwise)
        prepareCovering(s, progress);
    if (opensOtherwise(before, s, change))
        prepareOpenings(s);
    if (progress.stopped())
        return s;
    // What is left reads the same and writes apart.
    tbb::parallel_invoke([&] { prepareZones(s, zonesToGrow(before, s, change), progress); },
                         [&] { reweightIslands(before, s, change); },
                         [&] { s.lanes = weightLanes(before.lanes, c.weights, change.vertices); },
                         [&] { reweightRigidParts(before, s, change, touched); },
                         [&] {
                             if (s.contact != before.contact || carriedOtherwise(before, s, change))
                                 s.contactCarriers = nodeCarriers(c, s.surface, *s.contact);
                         });
    progress.at(1);
    return s;
}

} // namespace hobble
