#include "zoo/flesh.h"

#include "skinning.h"

#include <algorithm>
#include <cmath>

namespace hobble::zoo {

namespace {

// What has flesh: faces, feathers and what is carried or driven would only be buried in it.
bool hasFlesh(const Bone& b) {
    switch (b.role) {
    case Role::Eye:
    case Role::Lid:
    case Role::Brow:
    case Role::Lip:
    case Role::Tongue:
    case Role::Feather:
    case Role::Prop:
    case Role::Twist:
    case Role::Helper:
    case Role::Dangle:
        return false;
    default:
        return b.radius > 0;
    }
}

bool isDigit(const Bone& b) { return b.role == Role::Finger || b.role == Role::Thumb || b.role == Role::Toe; }

// Where each bone ends: at the child that goes on, or a little beyond.
std::vector<Vec3d> endsOf(const Body& body) {
    std::vector<Vec3d> out;
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        const Bone& b = body.bones[j];
        Vec3d along = Vec3d::Zero();
        double thickest = 0;
        for (std::size_t i = 0; i < body.bones.size(); ++i)
            if (const Bone& k = body.bones[i]; hasFlesh(k) && k.role != Role::Jaw && k.role != Role::Ear &&
                                               k.role != Role::Horn &&
                                               boneAbove(body, static_cast<int>(i)) == static_cast<int>(j)) {
                const bool goesOn = k.role == b.role || (k.side == b.side);
                const double weight = (goesOn ? 10 : 1) * k.radius + (k.role == b.role ? 1 : 0);
                if (weight > thickest) {
                    thickest = weight;
                    along = k.at - b.at;
                }
            }
        if (along.norm() < 1e-6)
            along = (b.role == Role::Head ? 1.1 : 0.8) * fromAbove(body, static_cast<int>(j));
        if (along.norm() < 1e-6)
            along = {0, 2 * b.radius, 0};
        out.push_back(b.at + along);
    }
    return out;
}

} // namespace

Character fleshed(const Body& body, const Convention& convention, double cell, bool hard) {
    using namespace hobble::demo;
    const std::vector<Vec3d> ends = endsOf(body);
    Eigen::AlignedBox3d box;
    for (const auto& b : body.bones)
        box.extend(b.at);
    const double size = box.sizes().maxCoeff() / 1.8; // of a man
    std::vector<Solid> solids;
    std::vector<demo::Bone> bones;
    for (std::size_t j = 0; j < body.bones.size(); ++j) {
        const auto& b = body.bones[j];
        if (!hasFlesh(b))
            continue;
        Solid cone;
        cone.bone = static_cast<int>(j);
        cone.a = b.at;
        cone.b = ends[j];
        const double flesh = isDigit(b) ? 0.75 : 1; // or fingers side by side melt into one
        cone.ra = flesh * b.radius;
        cone.rb = 0.85 * cone.ra;
        cone.blend = (isDigit(b) ? 0.15 : 0.5) * b.radius;
        solids.push_back(cone);
        bones.push_back({static_cast<int>(j), b.at, ends[j]});
    }
    // Finer where digits are, along each axis by itself.
    const double plain = cell * size;
    const auto spacing = [&](int axis, double at) {
        double out = plain;
        for (std::size_t j = 0; j < body.bones.size(); ++j)
            if (const auto& b = body.bones[j]; hasFlesh(b) && isDigit(b)) {
                const double low = std::min(b.at[axis], ends[j][axis]) - 2 * b.radius,
                             high = std::max(b.at[axis], ends[j][axis]) + 2 * b.radius;
                if (at > low && at < high)
                    out = std::min(out, std::max(0.6 * b.radius * cell / 0.016, 0.25 * plain));
            }
        return out;
    };
    const Mesh mesh = polygonize(solids, spacing);
    std::vector<Home> home;
    for (const Vec3& p : mesh.position)
        home.push_back(nearestBone(bones, p.cast<double>()));
    std::vector<Weights> weights;
    if (hard)
        for (const Home& h : home)
            weights.push_back({{h.joint, 1.0}});
    else
        weights = heatWeights(mesh, home, 0.5);
    Character c = characterOf(body, convention);
    c.weights = {};
    c.parts.clear();
    c.neutral = c.bindPosition = mesh.position;
    c.colour.assign(mesh.position.size(), Vec3(0.55f, 0.45f, 0.36f));
    c.triangles = mesh.triangles;
    Part part;
    part.name = "body";
    part.skin = 0;
    part.skinned = true;
    part.vertexCount = static_cast<std::uint32_t>(mesh.position.size());
    part.triangleCount = static_cast<std::uint32_t>(mesh.triangles.size());
    c.parts.push_back(part);
    setWeights(c, weights);
    return c;
}

std::optional<Character> strangerCalled(const std::string& name) {
    if (name.rfind("zoo ", 0) != 0)
        return std::nullopt;
    std::string what = name.substr(4);
    const auto taken = [&](const std::string& word) {
        if (what.rfind(word, 0) != 0)
            return false;
        what.erase(0, word.size());
        return true;
    };
    const bool hard = taken("hard "), low = taken("low "), grouped = taken("grouped ");
    for (const Body& body : bodies())
        if (body.name == what) {
            Character c = fleshed(grouped ? changed(body, "empty groups") : body, conventions().front(),
                                  low ? 0.045 : 0.016, hard);
            c.name = name;
            return c;
        }
    return std::nullopt;
}

} // namespace hobble::zoo
