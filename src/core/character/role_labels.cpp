#include "core/character/role_labels.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

constexpr Role kFore[kForeRoles] = {Role::Collarbone, Role::Shoulder, Role::Elbow,
                                    Role::Wrist,      Role::Fetlock,  Role::Toe};

struct Speaks {
    Role role;
    float by;
};

// What one word speaks for. A word that means several joints speaks for each of them, and the tree decides.
const std::map<std::string, std::vector<Speaks>>& meanings() {
    using R = Role;
    const std::vector<Speaks> hand{{R::Wrist, 4}}, foot{{R::Ankle, 4}, {R::Wrist, 2}, {R::Toe, 1}},
        finger{{R::Finger, 4}, {R::Palm, .5f}}, trunk{{R::Spine, 4}, {R::Pelvis, 1.5f}}, toe{{R::Toe, 4}},
        clavicle{{R::Collarbone, 4}}, twist{{R::Twist, 4.5f}}, helper{{R::Helper, 4.5f}},
        leg{{R::Hip, 3},      {R::Knee, 3},  {R::Ankle, 2.5f}, {R::Fetlock, 1.5f}, {R::Toe, 1},
            {R::Shoulder, 2}, {R::Elbow, 2}, {R::Wrist, 1.5f}, {R::Collarbone, 1}},
        arm{{R::Shoulder, 3}, {R::Elbow, 3}, {R::Wrist, 2}, {R::Collarbone, 1}}, root{{R::Root, 3.5f}},
        lid{{R::Lid, 4}}, lip{{R::Lip, 4}}, control{{R::Control, 4.5f}}, end{{R::End, 3.5f}};
    static const std::map<std::string, std::vector<Speaks>> all{
        {"root", root},
        {"cog", {{R::Root, 2.5f}, {R::Pelvis, 1.5f}}},
        {"reference", root},
        {"armature", root},
        {"origin", root},
        {"world", root},
        {"master", root},
        {"global", root},
        {"pelvis", {{R::Pelvis, 4.5f}}},
        {"hips", {{R::Pelvis, 4}, {R::Hip, 2}}},
        {"hip", {{R::Hip, 3.5f}, {R::Pelvis, 3}}},
        {"spine", trunk},
        {"chest", trunk},
        {"torso", trunk},
        {"ribcage", trunk},
        {"ribs", trunk},
        {"abdomen", trunk},
        {"waist", trunk},
        {"back", trunk},
        {"belly", {{R::Spine, 3}, {R::Helper, 2}}},
        {"stomach", {{R::Spine, 3}, {R::Helper, 2}}},
        {"thorax", trunk},
        {"lumbar", trunk},
        {"thoracic", trunk},
        {"vertebra", trunk},
        {"body", {{R::Spine, 3}, {R::Pelvis, 2}, {R::Root, 1.5f}}},
        {"trunk", {{R::Spine, 3}}},
        {"sacrum", {{R::Pelvis, 3.5f}}},
        {"neck", {{R::Neck, 4.5f}}},
        {"cervical", {{R::Neck, 4}}},
        {"head", {{R::Head, 4.5f}}},
        {"skull", {{R::Head, 4}}},
        {"cranium", {{R::Head, 4}}},
        {"jaw", {{R::Jaw, 4.5f}}},
        {"mandible", {{R::Jaw, 4.5f}}},
        {"chin", {{R::Jaw, 3.5f}}},
        {"beak", {{R::Jaw, 3}}},
        {"muzzle", {{R::Jaw, 2}}},
        {"eye", {{R::Eye, 4}, {R::Lid, .5f}}},
        {"eyeball", {{R::Eye, 4}}},
        {"lid", lid},
        {"lids", lid},
        {"blink", lid},
        {"brow", {{R::Brow, 4}}},
        {"brows", {{R::Brow, 4}}},
        {"lip", lip},
        {"lips", lip},
        {"mouth", {{R::Lip, 3.5f}, {R::Jaw, 2}}},
        {"tongue", {{R::Tongue, 4.5f}}},
        {"ear", {{R::Ear, 4.5f}}},
        {"ears", {{R::Ear, 4.5f}}},
        {"clavicle", clavicle},
        {"clav", clavicle},
        {"scapula", clavicle},
        {"scap", clavicle},
        {"shoulder", {{R::Shoulder, 3.5f}, {R::Collarbone, 3}}},
        {"arm", arm},
        {"humerus", {{R::Shoulder, 4}}},
        {"humeral", {{R::Shoulder, 4}}},
        {"bicep", {{R::Shoulder, 3}}},
        {"biceps", {{R::Shoulder, 3}}},
        {"forearm", {{R::Elbow, 4.5f}}},
        {"elbow", {{R::Elbow, 4.5f}}},
        {"radius", {{R::Elbow, 4}}},
        {"ulna", {{R::Elbow, 4}}},
        {"hand", hand},
        {"wrist", {{R::Wrist, 4.5f}}},
        {"carpus", hand},
        {"carpal", hand},
        {"manus", {{R::Wrist, 3}, {R::Toe, 2}}},
        {"palm", {{R::Palm, 4.5f}}},
        {"metacarpal", {{R::Palm, 4}, {R::Fetlock, 2}}},
        {"cup", {{R::Palm, 3}}},
        {"metacarpus", {{R::Palm, 3}, {R::Fetlock, 3.5f}}},
        {"thumb", {{R::Thumb, 4.5f}}},
        {"index", finger},
        {"middle", {{R::Finger, 2.5f}}},
        {"mid", {{R::Finger, 2}}},
        {"ring", finger},
        {"pinky", finger},
        {"pinkie", finger},
        {"little", finger},
        {"finger", finger},
        {"fingers", finger},
        {"digit", {{R::Finger, 3}, {R::Toe, 2}}},
        {"pointer", finger},
        {"phalanx", {{R::Finger, 2}, {R::Toe, 2}, {R::Thumb, 1}}},
        {"thigh", {{R::Hip, 4.5f}}},
        {"femur", {{R::Hip, 4.5f}}},
        {"shin", {{R::Knee, 4.5f}}},
        {"calf", {{R::Knee, 4.5f}}},
        {"knee", {{R::Knee, 4.5f}}},
        {"tibia", {{R::Knee, 4.5f}}},
        {"crus", {{R::Knee, 4}}},
        {"stifle", {{R::Knee, 4.5f}}},
        {"leg", leg},
        {"foot", foot},
        {"feet", foot},
        {"ankle", {{R::Ankle, 4.5f}, {R::Wrist, 1}}},
        {"tarsus", {{R::Ankle, 4}}},
        {"hock", {{R::Ankle, 4}}},
        {"paw", foot},
        {"pes", {{R::Ankle, 2}, {R::Toe, 2.5f}}},
        {"fetlock", {{R::Fetlock, 4.5f}}},
        {"pastern", {{R::Fetlock, 4.5f}}},
        {"cannon", {{R::Fetlock, 3}, {R::Ankle, 2}}},
        {"metatarsal", {{R::Fetlock, 4}}},
        {"metatarsus", {{R::Fetlock, 4}}},
        {"toe", toe},
        {"toes", toe},
        {"ball", toe},
        {"hoof", toe},
        {"claw", toe},
        {"toebase", toe},
        {"tail", {{R::Tail, 4.5f}}},
        {"caudal", {{R::Tail, 4}}},
        {"wing", {{R::Wing, 4.5f}}},
        {"feather", {{R::Wing, 3}}},
        {"feathers", {{R::Wing, 3}}},
        {"twist", twist},
        {"roll", twist},
        {"tw", twist},
        {"helper", helper},
        {"corrective", helper},
        {"fix", helper},
        {"driver", helper},
        {"muscle", helper},
        {"bulge", helper},
        {"push", helper},
        {"volume", helper},
        {"ik", control},
        {"pole", control},
        {"ctrl", control},
        {"control", control},
        {"target", control},
        {"goal", control},
        {"effector", control},
        {"null", control},
        {"locator", control},
        {"end", end},
        {"nub", end},
        {"site", end},
        {"effend", end},
        // place words: they name no part, but lean
        {"tip", {{R::End, 2}}},
        {"top", {{R::End, 1}}},
        {"upper", {{R::Shoulder, .8f}, {R::Hip, .8f}}},
        {"up", {{R::Shoulder, .8f}, {R::Hip, .8f}}},
        {"lower", {{R::Elbow, .8f}, {R::Knee, .8f}}},
        {"low", {{R::Elbow, .8f}, {R::Knee, .8f}}},
        {"lo", {{R::Elbow, .8f}, {R::Knee, .8f}}}};
    return all;
}

} // namespace

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

bool knownWord(const std::string& word) {
    static const std::set<std::string> others{"l",     "r",    "left", "right", "lf",  "rt",
                                              "front", "fore", "rear", "hind",  "lft", "rgt"};
    return meanings().count(word) || others.count(word);
}

LabelScores wordsFor(const std::vector<std::string>& words) {
    LabelScores out{};
    bool fore = false, hind = false;
    for (const std::string& w : words) {
        fore |= w == "front" || w == "fore";
        hind |= w == "rear" || w == "hind";
        if (const auto it = meanings().find(w); it != meanings().end())
            for (const Speaks& s : it->second)
                out[static_cast<std::size_t>(labelOf(s.role, false))] += s.by;
    }
    // "elbow helper", "arm twist": of the elbow and the arm, and neither of them
    for (const Role r : {Role::Twist, Role::Helper, Role::Control})
        if (const float s = out[static_cast<std::size_t>(r)]; s >= 4)
            for (Label l = 0; l < kRoles; ++l)
                if (roleOf(l) != r)
                    out[static_cast<std::size_t>(l)] *= 0.3f;
    // "palm of the index": the word for the hand's bone counts, not whose
    if (out[static_cast<std::size_t>(Role::Palm)] >= 3)
        out[static_cast<std::size_t>(Role::Finger)] = 0;
    // "front" and "hind" speak of legs only where something else does
    for (Role r : kFore) {
        const auto plain = static_cast<std::size_t>(labelOf(r, false)),
                   own = static_cast<std::size_t>(labelOf(r, true));
        if (out[plain] <= 0)
            continue;
        out[own] = out[plain] + (fore ? 2.f : 0.f);
        if (hind)
            out[own] -= 3;
        if (fore && r != Role::Shoulder && r != Role::Collarbone)
            out[plain] -= 1;
    }
    if (hind)
        for (Role r : {Role::Hip, Role::Knee, Role::Ankle, Role::Fetlock, Role::Toe})
            if (float& s = out[static_cast<std::size_t>(labelOf(r, false))]; s > 0)
                s += 1;
    // a leg's words are a fore leg's as well: what is called thigh, knee, ankle there is another joint
    const auto also = [&](Role word, Role meant, float by) {
        const float s = out[static_cast<std::size_t>(labelOf(word, false))];
        if (s > 0) {
            float& to = out[static_cast<std::size_t>(labelOf(meant, true))];
            to = std::max(to, s * by + (fore ? 1.5f : 0.f) - (hind ? 3.f : 0.f));
        }
    };
    also(Role::Hip, Role::Shoulder, 0.6f);
    also(Role::Knee, Role::Elbow, 0.6f);
    also(Role::Ankle, Role::Wrist, 0.8f);
    return out;
}

float follows(Label above, Label child) {
    using R = Role;
    const R c = roleOf(child);
    if (seenThrough(child))
        return c == R::Twist ? (above < 0 ? -4.f : -0.3f) : 0.f;
    if (c == R::End)
        return above < 0 ? -2.f : 0.f;
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
                                 {R::Wing, R::Wing, 0}};
    const bool limb = isFore(above) || isFore(child);
    if (limb) { // a fore limb is one from its girdle to its toes
        static const Rule fore[] = {{R::Collarbone, R::Shoulder, 0}, {R::Collarbone, R::Collarbone, -1},
                                    {R::Shoulder, R::Elbow, 0},      {R::Shoulder, R::Shoulder, -2},
                                    {R::Elbow, R::Wrist, 0},         {R::Wrist, R::Fetlock, -.4f},
                                    {R::Wrist, R::Toe, 0},           {R::Fetlock, R::Toe, 0},
                                    {R::Fetlock, R::Fetlock, -1.5f}, {R::Elbow, R::Fetlock, -2.5f},
                                    {R::Toe, R::Toe, -.2f},          {R::Shoulder, R::Wrist, -2.5f}};
        if (isFore(above) && isFore(child)) {
            for (const Rule& r : fore)
                if (r.above == a && r.child == c)
                    return r.likely;
            return -5;
        }
        if (isFore(above))
            return c == R::Finger || c == R::Palm ? -2.f : -5.f;
        if (c == R::Collarbone || c == R::Shoulder) {
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
