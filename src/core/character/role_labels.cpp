#include "core/character/role_labels.h"

#include <algorithm>

namespace hobble {

namespace {

constexpr std::array<Role, kForeRoles> kFore = {Role::Scapula, Role::Shoulder, Role::Elbow,
                                                Role::Wrist,   Role::Fetlock,  Role::Toe};

} // namespace

const std::array<Role, kForeRoles>& foreRoles() { return kFore; }

Role roleOf(Label label) { return label < kRoles ? static_cast<Role>(label) : kFore[label - kRoles]; }

bool isFore(Label label) { return label >= kRoles; }

Label labelOf(Role role, bool fore) {
    if (fore)
        if (const auto at = std::find(std::begin(kFore), std::end(kFore), role); at != std::end(kFore))
            return kRoles + static_cast<int>(at - std::begin(kFore));
    return static_cast<int>(role);
}

bool seenThrough(Label label) {
    const Role r = roleOf(label);
    return r == Role::Twist || r == Role::Helper || r == Role::Control || r == Role::Unknown;
}

float follows(Label above, Label child) {
    using R = Role;
    const R c = roleOf(child);
    if (seenThrough(child))
        return c == R::Twist ? (above < 0 ? -4.f : -0.3f) : 0.f;
    if (c == R::End)
        return above < 0 ? -2.f : 0.f;
    if (c == R::Dangle || c == R::Prop) // hang from anything
        return above < 0 ? -2.f : roleOf(above) == c ? 0.2f : -0.2f;
    if (above < 0)
        return c == R::Root     ? 0.f
               : c == R::Pelvis ? -0.3f
               : c == R::Spine  ? -0.8f
               : c == R::Tail   ? -2.f
                                : -1.5f;
    const R a = roleOf(above);
    struct Rule {
        R above, child;
        float likely;
    };
    static const Rule rules[] = {{R::Root, R::Pelvis, 0},
                                 {R::Root, R::Spine, -.5f},
                                 {R::Root, R::Hip, -1.2f},
                                 {R::Root, R::Tail, -1},
                                 {R::Root, R::Head, -2},
                                 {R::Root, R::Neck, -2},
                                 {R::Root, R::Root, -1},
                                 {R::Root, R::Collarbone, -2.5f},
                                 {R::Root, R::Shoulder, -2.5f},
                                 {R::Root, R::Wing, -2},
                                 {R::Root, R::Wrist, -3},
                                 {R::Pelvis, R::Spine, 0},
                                 {R::Pelvis, R::Hip, 0},
                                 {R::Pelvis, R::Tail, 0},
                                 {R::Pelvis, R::Pelvis, -1.5f},
                                 {R::Pelvis, R::Neck, -2},
                                 {R::Pelvis, R::Collarbone, -2},
                                 {R::Pelvis, R::Wing, -2},
                                 {R::Pelvis, R::Head, -2.5f},
                                 {R::Pelvis, R::Shoulder, -2.5f},
                                 {R::Spine, R::Spine, 0},
                                 {R::Spine, R::Neck, 0},
                                 {R::Spine, R::Collarbone, 0},
                                 {R::Spine, R::Shoulder, -.8f},
                                 {R::Spine, R::Head, -1},
                                 {R::Spine, R::Wing, 0},
                                 {R::Spine, R::Pelvis, -1.5f},
                                 {R::Spine, R::Hip, -1.5f},
                                 {R::Spine, R::Tail, -1},
                                 {R::Neck, R::Neck, 0},
                                 {R::Neck, R::Head, 0},
                                 {R::Neck, R::Collarbone, -1.5f},
                                 {R::Neck, R::Jaw, -2},
                                 {R::Neck, R::Shoulder, -2},
                                 {R::Neck, R::Spine, -2},
                                 {R::Head, R::Jaw, 0},
                                 {R::Head, R::Eye, 0},
                                 {R::Head, R::Lid, 0},
                                 {R::Head, R::Brow, 0},
                                 {R::Head, R::Lip, 0},
                                 {R::Head, R::Ear, 0},
                                 {R::Head, R::Tongue, -.3f},
                                 {R::Head, R::Head, -1.5f},
                                 {R::Jaw, R::Tongue, 0},
                                 {R::Jaw, R::Lip, 0},
                                 {R::Jaw, R::Jaw, -.1f},
                                 {R::Eye, R::Lid, 0},
                                 {R::Eye, R::Eye, -1},
                                 {R::Ear, R::Ear, 0},
                                 {R::Tongue, R::Tongue, 0},
                                 {R::Lip, R::Lip, -.5f},
                                 {R::Lid, R::Lid, -.5f},
                                 {R::Brow, R::Brow, -.5f},
                                 {R::Collarbone, R::Shoulder, 0},
                                 {R::Collarbone, R::Collarbone, -1},
                                 {R::Collarbone, R::Elbow, -2.5f},
                                 {R::Collarbone, R::Wing, -1},
                                 {R::Shoulder, R::Elbow, 0},
                                 {R::Shoulder, R::Shoulder, -2},
                                 {R::Shoulder, R::Wrist, -2.5f},
                                 {R::Elbow, R::Wrist, 0},
                                 {R::Elbow, R::Elbow, -2},
                                 {R::Elbow, R::Finger, -2.5f},
                                 {R::Elbow, R::Thumb, -3},
                                 {R::Wrist, R::Palm, 0},
                                 {R::Wrist, R::Finger, 0},
                                 {R::Wrist, R::Thumb, 0},
                                 {R::Wrist, R::Wrist, -2},
                                 {R::Palm, R::Finger, 0},
                                 {R::Palm, R::Thumb, -.5f},
                                 {R::Palm, R::Palm, -1.5f},
                                 {R::Finger, R::Finger, 0},
                                 {R::Thumb, R::Thumb, 0},
                                 {R::Hip, R::Knee, 0},
                                 {R::Hip, R::Hip, -2},
                                 {R::Hip, R::Ankle, -2.5f},
                                 {R::Knee, R::Ankle, 0},
                                 {R::Knee, R::Knee, -2},
                                 {R::Knee, R::Toe, -2.5f},
                                 {R::Ankle, R::Toe, 0},
                                 {R::Ankle, R::Fetlock, -.4f},
                                 {R::Ankle, R::Ankle, -2},
                                 {R::Fetlock, R::Toe, 0},
                                 {R::Fetlock, R::Fetlock, -1.5f},
                                 {R::Toe, R::Toe, -.2f},
                                 {R::Tail, R::Tail, 0},
                                 {R::Head, R::Tail, -12}, // of hair
                                 {R::Neck, R::Tail, -12},
                                 {R::Wing, R::Wing, 0},
                                 {R::Wing, R::Feather, 0},
                                 {R::Elbow, R::Feather, -.5f},
                                 {R::Wrist, R::Feather, -.5f},
                                 {R::Shoulder, R::Feather, -.5f},
                                 {R::Tail, R::Feather, 0},
                                 {R::Head, R::Feather, -.5f},
                                 {R::Feather, R::Feather, 0},
                                 {R::Head, R::Horn, 0},
                                 {R::Jaw, R::Horn, -.5f},
                                 {R::Horn, R::Horn, 0},
                                 {R::Head, R::Trunk, 0},
                                 {R::Neck, R::Trunk, -1.5f},
                                 {R::Trunk, R::Trunk, 0},
                                 {R::Jaw, R::Trunk, -1.5f},
                                 {R::Spine, R::Fin, 0},
                                 {R::Pelvis, R::Fin, -.5f},
                                 {R::Tail, R::Fin, 0},
                                 {R::Root, R::Fin, -1},
                                 {R::Head, R::Fin, -.5f},
                                 {R::Neck, R::Fin, -.5f},
                                 {R::Fin, R::Fin, 0},
                                 {R::Spine, R::Scapula, -.3f},
                                 {R::Neck, R::Scapula, -1.5f},
                                 {R::Collarbone, R::Scapula, -.1f},
                                 {R::Scapula, R::Shoulder, 0},
                                 {R::Scapula, R::Collarbone, -1},
                                 {R::Scapula, R::Scapula, -1},
                                 {R::Pelvis, R::Scapula, -2.5f}};
    const bool limb = isFore(above) || isFore(child);
    if (limb) { // a fore limb is one from its girdle to its toes
        static const Rule fore[] = {
            {R::Scapula, R::Shoulder, 0},   {R::Scapula, R::Scapula, -1}, {R::Shoulder, R::Elbow, 0},
            {R::Shoulder, R::Shoulder, -2}, {R::Elbow, R::Wrist, 0},      {R::Wrist, R::Fetlock, -.4f},
            {R::Wrist, R::Toe, 0},          {R::Fetlock, R::Toe, 0},      {R::Fetlock, R::Fetlock, -1.5f},
            {R::Elbow, R::Fetlock, -2.5f},  {R::Toe, R::Toe, -.2f},       {R::Shoulder, R::Wrist, -2.5f}};
        if (isFore(above) && isFore(child)) {
            for (const Rule& r : fore)
                if (r.above == a && r.child == c)
                    return r.likely;
            return -5;
        }
        if (isFore(above))
            return c == R::Finger || c == R::Palm ? -2.f : -5.f;
        if (c == R::Scapula || c == R::Shoulder) {
            const float more = c == R::Shoulder ? -.6f : 0.f;
            return more + (a == R::Spine ? 0.f : a == R::Neck ? -.8f : a == R::Pelvis ? -2.f : -3.f);
        }
        return -5;
    }
    for (const Rule& r : rules)
        if (r.above == a && r.child == c)
            return r.likely;
    return a == R::Root ? -2.f : -4.5f; // what hangs from a root may be a limb alone
}

} // namespace hobble
