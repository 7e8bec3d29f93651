#include "core/pose/limb.h"

#include <array>

namespace hobble {

namespace {

constexpr std::array<const char*, kLimbs> kNames{"Arms", "Legs",  "Trunk", "Head",  "Hands", "Feet",
                                                 "Tail", "Other", "Poses", "Clips", "Shapes"};

} // namespace

const char* nameOf(Limb limb) { return kNames[static_cast<std::size_t>(limb)]; }

std::optional<Limb> limbNamed(std::string_view name) {
    for (std::size_t i = 0; i < kNames.size(); ++i)
        if (name == kNames[i])
            return static_cast<Limb>(i);
    return std::nullopt;
}

Limb limbOf(Role role) {
    switch (role) {
    case Role::Collarbone:
    case Role::Scapula:
    case Role::Shoulder:
    case Role::Elbow:
    case Role::Wrist:
    case Role::Wing:
    case Role::Feather:
        return Limb::Arms;
    case Role::Palm:
    case Role::Thumb:
    case Role::Finger:
        return Limb::Hands;
    case Role::Hip:
    case Role::Knee:
    case Role::Ankle:
    case Role::Fetlock:
        return Limb::Legs;
    case Role::Toe:
        return Limb::Feet;
    case Role::Pelvis:
    case Role::Spine:
        return Limb::Trunk;
    case Role::Neck:
    case Role::Head:
    case Role::Jaw:
    case Role::Eye:
    case Role::Lid:
    case Role::Brow:
    case Role::Lip:
    case Role::Tongue:
    case Role::Ear:
    case Role::Horn:
    case Role::Trunk:
        return Limb::Head;
    case Role::Tail:
        return Limb::Tail;
    case Role::Fin:
    case Role::Dangle:
    case Role::Prop:
    case Role::Unknown:
    case Role::Root:
    case Role::Twist:
    case Role::Helper:
    case Role::Control:
    case Role::End:
        return Limb::Other;
    }
    return Limb::Other;
}

std::vector<LimbPlace> limbOfJoints(const Skeleton& skeleton, const std::vector<JointRole>& roles) {
    std::vector<LimbPlace> out(roles.size());
    for (std::size_t j = 0; j < roles.size(); ++j) { // parents come first
        const int parent = skeleton.parent[j];
        const Role role = roles[j].role;
        const bool hangsOn = !roles[j].movesSkin || role == Role::Root || role == Role::Twist ||
                             role == Role::Helper || role == Role::Control || role == Role::End;
        if (hangsOn && parent >= 0) {
            out[j] = out[static_cast<std::size_t>(parent)];
            continue;
        }
        const Limb limb = limbOf(role);
        out[j] = {limb == Limb::Hands ? Limb::Arms : limb == Limb::Feet ? Limb::Legs : limb, roles[j].side};
    }
    return out;
}

std::vector<char> trianglesOfLimb(const Character& c, const std::vector<JointRole>& roles, int joint) {
    const auto limbs = limbOfJoints(c.skeleton, roles);
    const LimbPlace wanted = limbs[static_cast<std::size_t>(joint)];
    std::vector<float> here(c.vertexCount(), 0);
    for (std::size_t v = 0; v < c.vertexCount(); ++v)
        for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
            if (limbs[c.weights.joint[i]] == wanted)
                here[v] += c.weights.weight[i];
    std::vector<char> out(c.triangles.size());
    for (std::size_t t = 0; t < out.size(); ++t)
        out[t] = here[c.triangles[t][0]] + here[c.triangles[t][1]] + here[c.triangles[t][2]] >= 1.2f;
    return out;
}

} // namespace hobble
