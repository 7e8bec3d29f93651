#include "core/compare/pairing.h"

#include "core/measure/closest_point.h"

#include <algorithm>
#include <numeric>

#include <tbb/parallel_for.h>

namespace hobble {

namespace {

// In body heights of the other: what turning a normal right round, another part, and wholly other weights
// weigh against distance. Weights and parts only decide between places that are as good as one: weights are
// what a build changes, and what is compared.
constexpr float kFacing = 0.01f, kPart = 0.004f, kWeights = 0.0001f;

std::vector<Vec3> vertexNormals(const Subject& s) {
    std::vector<Vec3> out(s.neutral.size(), Vec3::Zero());
    for (const Triangle& t : s.surface.triangles) {
        const Vec3 &a = s.neutral[t[0]], &b = s.neutral[t[1]], &c = s.neutral[t[2]];
        const Vec3 n = (b - a).cross(c - a); // weighted by area
        for (std::uint32_t v : t)
            out[v] += n;
    }
    for (Vec3& n : out)
        n = n.norm() > 1e-20f ? Vec3(n.normalized()) : Vec3::Zero();
    return out;
}

// Mean length of the edges at each vertex, and for one that has none, 0.
std::vector<float> edgeLengths(const Subject& s) {
    std::vector<float> out(s.neutral.size(), 0);
    for (std::size_t v = 0; v < out.size(); ++v) {
        const auto& around = s.surface.neighbours;
        for (auto n = around.begin(v); n != around.end(v); ++n)
            out[v] += (s.neutral[*n] - s.neutral[v]).norm() / static_cast<float>(around.count(v));
    }
    return out;
}

int partOfWelded(const Subject& s, std::uint32_t v) {
    return s.character->partOfVertex(s.surface.representative(v));
}

std::array<float, 3> sharesOf(const Vec3& at, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 n = (b - a).cross(c - a);
    const float whole = n.squaredNorm();
    if (!(whole > 0)) {
        const float da = (at - a).squaredNorm(), db = (at - b).squaredNorm(), dc = (at - c).squaredNorm();
        return da <= db && da <= dc ? std::array{1.f, 0.f, 0.f}
               : db <= dc           ? std::array{0.f, 1.f, 0.f}
                                    : std::array{0.f, 0.f, 1.f};
    }
    const float u = std::clamp((c - b).cross(at - b).dot(n) / whole, 0.f, 1.f);
    const float v = std::clamp((a - c).cross(at - c).dot(n) / whole, 0.f, 1.f - u);
    return {u, v, 1 - u - v};
}

// Where each vertex of one would be on the other, and which way it would face.
struct Laid {
    std::vector<Vec3> at, normal;
};

Laid laidBySamePlace(const Subject& one, const JointPairing& joints) {
    Laid out{{}, vertexNormals(one)};
    out.at.reserve(one.neutral.size());
    if (joints.toOther.matrix().isIdentity(0)) {
        out.at.assign(one.neutral.begin(), one.neutral.end());
        return out;
    }
    const Eigen::Matrix3f turn = (joints.toOther.linear() / joints.scale).cast<float>();
    for (std::size_t v = 0; v < one.neutral.size(); ++v) {
        out.at.push_back((joints.toOther * one.neutral[v].cast<double>()).cast<float>());
        out.normal[v] = turn * out.normal[v];
    }
    return out;
}

Laid laidMirrored(const Subject& s) {
    Laid out{{}, vertexNormals(s)};
    const Vec3 across = s.mirror.normal.cast<float>();
    for (std::size_t v = 0; v < s.neutral.size(); ++v) {
        out.at.push_back(s.mirror.mirrored(s.neutral[v].cast<double>()).cast<float>());
        out.normal[v] -= 2 * out.normal[v].dot(across) * across;
    }
    return out;
}

// A limb's own axes at a joint: along its bone, towards one side of the body, and across; with the length of
// the bone and the girth of the limb that places are told in.
struct LimbAxes {
    Vec3d at;
    Eigen::Matrix3d axes; // columns
    double length = 1, radius = 1;
};

LimbAxes limbAxes(const Subject& s, int joint, int tip, bool byUp) {
    LimbAxes out;
    const Skeleton& k = s.character->skeleton;
    out.at = k.place(joint);
    Vec3d along = tip >= 0 ? Vec3d(k.place(tip) - out.at) : Vec3d::Zero();
    const JointZone& zone = s.zones[static_cast<std::size_t>(joint)];
    out.radius = zone.limbRadius > 0 ? zone.limbRadius : 0.03 * s.body.height;
    out.length = along.norm() > 0.2 * out.radius ? along.norm() : out.radius;
    if (along.norm() <= 1e-9)
        along = boneDirection(*s.character, s.roles, joint);
    if (along.norm() <= 1e-9)
        along = s.body.up;
    along.normalize();
    const Vec3d reference = byUp ? s.body.up : s.body.forward;
    Vec3d side = reference - reference.dot(along) * along;
    side = side.norm() > 1e-6 ? Vec3d(side.normalized()) : Vec3d(along.unitOrthogonal());
    out.axes << along, side, along.cross(side);
    return out;
}

// By the joint that holds most of it: so much along its bone, so far from it in limb radii, in that direction
// of the body.
Laid laidByLimbs(const Subject& one, const Subject& other, const JointPairing& joints) {
    const Skeleton& k = one.character->skeleton;
    const auto n = static_cast<std::size_t>(k.size());
    // Which paired joint a bone ends at: the child that carries on its chain, by reach.
    std::vector<int> anchor(n), tip(n, -1);
    for (std::size_t j = 0; j < n; ++j)
        anchor[j] = joints.other[j] >= 0 || k.parent[j] < 0 ? static_cast<int>(j)
                                                            : anchor[static_cast<std::size_t>(k.parent[j])];
    std::vector<double> reach(n, 0);
    for (std::size_t j = n; j-- > 1;)
        if (k.parent[j] >= 0) {
            const auto p = static_cast<std::size_t>(k.parent[j]);
            reach[p] =
                std::max(reach[p], reach[j] + (k.place(static_cast<int>(j)) - k.place(k.parent[j])).norm());
        }
    for (std::size_t j = 0; j < n; ++j) {
        const int up = k.parent[j] >= 0 ? anchor[static_cast<std::size_t>(k.parent[j])] : -1;
        if (up < 0 || joints.other[j] < 0)
            continue;
        int& best = tip[static_cast<std::size_t>(up)];
        if (best < 0 || reach[j] > reach[static_cast<std::size_t>(best)])
            best = static_cast<int>(j);
    }
    std::vector<std::pair<LimbAxes, LimbAxes>> axes(n);
    for (std::size_t j = 0; j < n; ++j)
        if (joints.other[j] >= 0) {
            const int joint = static_cast<int>(j), end = tip[j];
            const Vec3d along = end >= 0 ? unitOrZero(k.place(end) - k.place(joint)) : Vec3d::Zero();
            const bool byUp = std::abs(along.dot(one.body.forward)) > 0.7;
            axes[j] = {limbAxes(one, joint, end, byUp),
                       limbAxes(other, joints.other[j],
                                end < 0 ? -1 : joints.other[static_cast<std::size_t>(end)], byUp)};
        }
    Laid out{{}, vertexNormals(one)};
    out.at.assign(one.neutral.size(), Vec3::Constant(NAN));
    const SkinWeights& w = one.surface.weights;
    for (std::uint32_t v = 0; v < one.neutral.size(); ++v) {
        if (w.first[v] == w.first[v + 1])
            continue;
        const int joint = anchor[w.joint[w.first[v]]]; // heaviest first
        if (joint < 0 || joints.other[static_cast<std::size_t>(joint)] < 0)
            continue;
        const auto& [from, to] = axes[static_cast<std::size_t>(joint)];
        const Vec3d d = from.axes.transpose() * (one.neutral[v].cast<double>() - from.at);
        const double wide = to.radius / from.radius;
        out.at[v] =
            (to.at + to.axes * Vec3d(d[0] * to.length / from.length, d[1] * wide, d[2] * wide)).cast<float>();
        out.normal[v] = (to.axes * from.axes.transpose() * out.normal[v].cast<double>()).cast<float>();
    }
    return out;
}

class Finder {
public:
    Finder(const Subject& one, const Subject& other, const JointPairing& joints)
        : one_(one), other_(other), joints_(joints), normals_(vertexNormals(other)),
          height_(static_cast<float>(std::max(other.body.height, 1e-9))) {
        partOf_.resize(other.neutral.size());
        for (std::uint32_t v = 0; v < partOf_.size(); ++v)
            partOf_[v] = partOfWelded(other, v);
    }

    // `part` of the other is preferred; −1: none is.
    SkinPlace nearest(std::uint32_t vertex, const Vec3& at, const Vec3& normal, int part) const {
        SkinPlace best;
        const TriangleTree& tree = *other_.tree;
        const Boxes& boxes = *other_.neutralBoxes;
        if (tree.nodes.empty() || !at.allFinite())
            return best;
        float least = INFINITY;
        Vec3 where = Vec3::Zero();
        askFromNear(
            tree, boxes, at, [&] { return least; },
            [&](std::uint32_t t) {
                const Triangle& f = other_.surface.triangles[t];
                const Vec3 &a = other_.neutral[f[0]], &b = other_.neutral[f[1]], &c = other_.neutral[f[2]];
                const Vec3 p = closestOn(at, a, b, c);
                float cost =
                    (p - at).squaredNorm(); // dearer step by step, given up as soon as it is too dear
                if (cost >= least)
                    return;
                if (part >= 0 && partOf_[f[0]] != part)
                    cost += square(kPart);
                if (cost >= least)
                    return;
                const auto share = sharesOf(p, a, b, c);
                const Vec3 facing =
                    share[0] * normals_[f[0]] + share[1] * normals_[f[1]] + share[2] * normals_[f[2]];
                const float length = facing.norm() * normal.norm();
                cost += square(kFacing) * (length > 0 ? 0.5f * (1 - facing.dot(normal) / length) : 0.5f);
                if (cost >= least)
                    return;
                cost += square(kWeights) * weightsApart(vertex, f, share);
                if (cost < least) {
                    least = cost;
                    best = {t, share, 0};
                    where = p;
                }
            });
        best.apart = (where - at).norm();
        return best;
    }

    int partAt(const SkinPlace& p) const { return partOf_[other_.surface.triangles[p.triangle][0]]; }
    // Cosine between a normal and the skin's at a place.
    float facing(const SkinPlace& p, const Vec3& normal) const {
        const Triangle& f = other_.surface.triangles[p.triangle];
        const Vec3 n =
            p.share[0] * normals_[f[0]] + p.share[1] * normals_[f[1]] + p.share[2] * normals_[f[2]];
        const float length = n.norm() * normal.norm();
        return length > 0 ? n.dot(normal) / length : 1;
    }

private:
    float square(float heights) const { return heights * height_ * heights * height_; }

    // Half the sum of differences, 0 … 1, over the joints that both have.
    float weightsApart(std::uint32_t vertex, const Triangle& f, const std::array<float, 3>& share) const {
        const SkinWeights &mine = one_.surface.weights, &theirs = other_.surface.weights;
        float common = 0;
        for (std::uint32_t i = mine.first[vertex]; i < mine.first[vertex + 1]; ++i) {
            const int joint = joints_.other[mine.joint[i]];
            float held = 0;
            for (int k = 0; k < 3 && joint >= 0; ++k)
                for (std::uint32_t x = theirs.first[f[static_cast<std::size_t>(k)]];
                     x < theirs.first[f[static_cast<std::size_t>(k)] + 1]; ++x)
                    if (theirs.joint[x] == joint)
                        held += share[static_cast<std::size_t>(k)] * theirs.weight[x];
            common += std::min(held, mine.weight[i]);
        }
        return 1 - std::min(common, 1.f);
    }

    const Subject &one_, &other_;
    const JointPairing& joints_;
    std::vector<Vec3> normals_;
    std::vector<int> partOf_;
    float height_;
};

std::vector<double> partAreas(const Subject& s) {
    std::vector<double> out(s.character->parts.size(), 0);
    for (std::size_t t = 0; t < s.surface.triangles.size(); ++t)
        out[static_cast<std::size_t>(partOfWelded(s, s.surface.triangles[t][0]))] += s.surface.area[t];
    return out;
}

// Which part of the other answers each of one: where most of its skin comes to lie, closely. Of two that come
// to lie on the same one, and are more than it has skin, the nearer one has it: the other garment was taken
// off, and only the body beneath it is near.
std::vector<int> pairParts(const Subject& one, const Subject& other, const Finder& finder, const Laid& laid,
                           const std::vector<float>& edge, double slack) {
    const std::size_t parts = one.character->parts.size();
    struct Votes {
        std::map<int, int> near;
        int asked = 0;
        double apart = 0; // in edges, mean
    };
    std::vector<Votes> votes(parts);
    std::vector<std::vector<std::uint32_t>> of(parts);
    for (std::uint32_t v = 0; v < one.neutral.size(); ++v)
        of[static_cast<std::size_t>(partOfWelded(one, v))].push_back(v);
    tbb::parallel_for(std::size_t{0}, parts, [&](std::size_t p) {
        const std::size_t every = std::max<std::size_t>(1, of[p].size() / 1500);
        for (std::size_t i = 0; i < of[p].size(); i += every) {
            const std::uint32_t v = of[p][i];
            const SkinPlace place = finder.nearest(v, laid.at[v], laid.normal[v], -1);
            ++votes[p].asked;
            const float close = std::max(0.3f * edge[v], static_cast<float>(slack));
            if (!place.there() || place.apart > close || finder.facing(place, laid.normal[v]) < 0.5f)
                continue;
            ++votes[p].near[finder.partAt(place)];
            votes[p].apart += place.apart / close;
        }
    });
    const std::vector<double> mine = partAreas(one), theirs = partAreas(other);
    std::vector<int> out(parts, -1);
    const auto named = [&](std::size_t p, int q) {
        return one.character->parts[p].name == other.character->parts[static_cast<std::size_t>(q)].name;
    };
    for (std::size_t p = 0; p < parts; ++p)
        for (const auto& [q, count] : votes[p].near)
            if (2 * count >= votes[p].asked && (out[p] < 0 || count > votes[p].near.at(out[p]) ||
                                                (count == votes[p].near.at(out[p]) && named(p, q))))
                out[p] = q;
    for (std::size_t p = 0; p < parts; ++p)
        for (std::size_t r = 0; r < parts && out[p] >= 0; ++r) {
            if (r == p || out[r] != out[p] ||
                theirs[static_cast<std::size_t>(out[p])] > 0.7 * (mine[p] + mine[r])) // one part made of both
                continue;
            const auto off = [&](std::size_t x) {
                return (named(x, out[x]) ? 0 : 1) + votes[x].apart / std::max(1, votes[x].near.at(out[x]));
            };
            if (off(p) > off(r))
                out[p] = -1;
        }
    return out;
}

Pairing pairLaid(const Subject& one, const Subject& other, PairedBy by, JointPairing joints, const Laid& laid,
                 const Progress& progress) {
    Pairing out;
    out.by = by;
    out.joints = std::move(joints);
    out.place.assign(one.neutral.size(), {});
    const Finder finder(one, other, out.joints);
    std::vector<float> edge = edgeLengths(one);
    for (float& e : edge)
        e *= static_cast<float>(by == PairedBy::SamePlace ? out.joints.scale : 1);
    const std::vector<float> theirEdge = edgeLengths(other);
    const double height = other.body.height;
    // How far from where it was laid a place may be: re-meshing leaves the surface by a share of an edge;
    // another character's flesh is another's.
    const float slack = static_cast<float>((by == PairedBy::Limbs ? 0.08 : 0.002) * height);
    if (by == PairedBy::Limbs)
        out.partOf.assign(one.character->parts.size(), -1);
    else
        out.partOf = pairParts(one, other, finder, laid, edge, 0.001 * height);
    progress.at(0.05);
    const std::size_t n = one.neutral.size(), block = 4096;
    std::atomic<std::size_t> done{0};
    for (std::size_t from = 0; from < n && !progress.stopped(); from += 16 * block) {
        const std::size_t to = std::min(n, from + 16 * block);
        tbb::parallel_for(tbb::blocked_range<std::size_t>(from, to, 512), [&](const auto& range) {
            if (progress.stopped())
                return;
            for (std::size_t v = range.begin(); v < range.end(); ++v) {
                const auto vertex = static_cast<std::uint32_t>(v);
                const int part = by == PairedBy::Limbs
                                     ? -1
                                     : out.partOf[static_cast<std::size_t>(partOfWelded(one, vertex))];
                if (part < 0 && by != PairedBy::Limbs)
                    continue;
                SkinPlace place = finder.nearest(vertex, laid.at[v], laid.normal[v], part);
                if (!place.there())
                    continue;
                const Triangle& f = other.surface.triangles[place.triangle];
                const float edges = std::max({edge[v], theirEdge[f[0]], theirEdge[f[1]], theirEdge[f[2]]});
                if (place.apart <= std::max(0.75f * edges, slack) && finder.facing(place, laid.normal[v]) > 0)
                    out.place[v] = place;
            }
        });
        done = to;
        progress.at(0.05 + 0.95 * static_cast<double>(to) / static_cast<double>(n));
    }
    double all = 0, found = 0;
    for (std::size_t t = 0; t < one.surface.triangles.size(); ++t) {
        all += one.surface.area[t];
        for (std::uint32_t v : one.surface.triangles[t])
            found += out.place[v].there() ? static_cast<double>(one.surface.area[t]) / 3 : 0;
    }
    out.found = all > 0 ? found / all : 0;
    return out;
}

// Whether twins are joined by the same triangles.
bool sameMesh(const Pairing& p, const Subject& one, const Subject& other) {
    if (one.neutral.size() != other.neutral.size() ||
        one.surface.triangles.size() != other.surface.triangles.size())
        return false;
    std::vector<std::uint32_t> twin(one.neutral.size());
    for (std::uint32_t v = 0; v < twin.size(); ++v) {
        twin[v] = twinOf(p, other, v);
        if (twin[v] == SkinPlace::kNone || p.place[v].apart > 1e-5 * other.body.height)
            return false;
    }
    for (const Triangle& t : one.surface.triangles) {
        const auto& around = other.surface.neighbours;
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = twin[t[static_cast<std::size_t>(k)]],
                                b = twin[t[static_cast<std::size_t>((k + 1) % 3)]];
            if (std::find(around.begin(a), around.end(a), b) == around.end(a))
                return false;
        }
    }
    return true;
}

} // namespace

Pairing pairSkin(const Subject& one, const Subject& other, const Progress& progress) {
    JointPairing joints = pairJoints(one, other);
    const bool here = joints.sameBody;
    const Laid laid = here ? laidBySamePlace(one, joints) : laidByLimbs(one, other, joints);
    Pairing out =
        pairLaid(one, other, here ? PairedBy::SamePlace : PairedBy::Limbs, std::move(joints), laid, progress);
    out.sameMesh = here && !progress.stopped() && sameMesh(out, one, other);
    return out;
}

Pairing pairMirrored(const Subject& s, const Progress& progress) {
    if (!s.mirror.found) {
        Pairing none;
        none.by = PairedBy::Mirror;
        none.joints = mirrorJoints(s);
        none.place.assign(s.neutral.size(), {});
        none.partOf.assign(s.character->parts.size(), -1);
        return none;
    }
    return pairLaid(s, s, PairedBy::Mirror, mirrorJoints(s), laidMirrored(s), progress);
}

std::uint32_t twinOf(const Pairing& p, const Subject& other, std::uint32_t v) {
    const SkinPlace& place = p.place[v];
    if (!place.there())
        return SkinPlace::kNone;
    const auto most = std::max_element(place.share.begin(), place.share.end()) - place.share.begin();
    return other.surface.triangles[place.triangle][static_cast<std::size_t>(most)];
}

std::vector<std::uint32_t> carriedOver(const Pairing& back, const Subject& other,
                                       const std::vector<std::uint32_t>& triangles) {
    std::vector<std::uint32_t> out;
    if (triangles.empty())
        return out;
    const auto marked = [&](std::uint32_t v) {
        return back.place[v].there() &&
               std::binary_search(triangles.begin(), triangles.end(), back.place[v].triangle);
    };
    for (std::uint32_t t = 0; t < other.surface.triangles.size(); ++t) {
        const Triangle& f = other.surface.triangles[t];
        if (marked(f[0]) + marked(f[1]) + marked(f[2]) >= 2)
            out.push_back(t);
    }
    return out;
}

std::vector<float> broughtOver(const Pairing& p, const Subject& other, const std::vector<float>& values,
                               float without) {
    std::vector<float> out(p.place.size(), without);
    for (std::size_t v = 0; v < out.size(); ++v)
        if (const SkinPlace& place = p.place[v]; place.there()) {
            const Triangle& f = other.surface.triangles[place.triangle];
            out[v] =
                place.share[0] * values[f[0]] + place.share[1] * values[f[1]] + place.share[2] * values[f[2]];
        }
    return out;
}

} // namespace hobble
