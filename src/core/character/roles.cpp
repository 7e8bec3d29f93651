#include "core/character/roles.h"

#include "core/character/roles_by_shape.h"

#include <algorithm>
#include <map>
#include <set>

namespace hobble {

namespace {

using Words = std::vector<std::string>;

bool has(const Words& words, std::initializer_list<const char*> any) {
    return std::any_of(any.begin(), any.end(), [&](const char* w) {
        return std::find(words.begin(), words.end(), w) != words.end();
    });
}

// Spellings that carry the side inside a word of their own.
Side sideOf(const Words& words) {
    for (const auto& w : words) {
        if (w == "l" || w == "left" || w == "lf" || w == "lft" || w == "lt" || w == "lef")
            return Side::Left;
        if (w == "r" || w == "right" || w == "rt" || w == "rgt" || w == "rght" || w == "rig")
            return Side::Right;
    }
    return Side::Middle;
}

// What a name may be, most likely first; the tree chooses between them.
std::vector<Role> candidates(const Words& w, bool leaf) {
    if (has(w, {"ik", "pole", "ctrl", "control", "target", "goal", "effector", "null", "locator"}))
        return {Role::Control};
    if (leaf && has(w, {"end", "tip", "nub", "site", "effend", "top"}))
        return {Role::End};
    if (has(w, {"twist", "roll", "tw"}))
        return {Role::Twist};
    if (has(w, {"helper", "corrective", "fix", "driver", "muscle", "bulge", "push", "volume"}))
        return {Role::Helper};
    if (has(w, {"jaw", "mandible", "chin"}))
        return {Role::Jaw};
    if (has(w, {"lid", "lids", "blink"}))
        return {Role::Lid};
    if (has(w, {"brow", "brows"}))
        return {Role::Brow};
    if (has(w, {"lip", "lips", "mouth"}))
        return {Role::Lip};
    if (has(w, {"tongue"}))
        return {Role::Tongue};
    if (has(w, {"eye", "eyeball"}))
        return {Role::Eye};
    if (has(w, {"ear", "ears"}))
        return {Role::Ear};
    if (has(w, {"tail"}))
        return {Role::Tail};
    if (has(w, {"wing", "feather", "feathers"}))
        return {Role::Wing};
    if (has(w, {"thumb"}))
        return {Role::Thumb};
    if (has(w, {"metacarpal", "palm", "cup", "metacarpus"}))
        return {Role::Palm};
    if (has(w, {"toe", "toes", "ball", "hoof", "claw", "toebase"}))
        return {Role::Toe};
    if (has(w, {"fetlock", "pastern", "cannon", "metatarsal", "metatarsus"}))
        return {Role::Fetlock};
    if (has(w, {"index", "middle", "mid", "ring", "pinky", "pinkie", "little", "finger", "fingers", "digit",
                "pointer"}) &&
        !has(w, {"spine", "back", "chest"}))
        return {Role::Finger};
    if (has(w, {"hand", "wrist", "carpus", "carpal"}))
        return {Role::Wrist};
    if (has(w, {"foot", "feet", "ankle", "tarsus", "hock", "paw"}))
        return {Role::Ankle};
    if (has(w, {"forearm", "elbow", "radius", "ulna"}))
        return {Role::Elbow};
    if (has(w, {"clavicle", "clav", "scapula", "scap"}))
        return {Role::Collarbone};
    if (has(w, {"shoulder"}))
        return {Role::Shoulder, Role::Collarbone};
    if (has(w, {"arm", "bicep", "biceps", "humerus"})) {
        if (has(w, {"upper", "up"}))
            return {Role::Shoulder};
        if (has(w, {"lower", "low", "fore"}))
            return {Role::Elbow};
        return {Role::Shoulder, Role::Elbow};
    }
    if (has(w, {"humeral"}))
        return {Role::Shoulder};
    if (has(w, {"thigh", "femur"}))
        return {Role::Hip};
    if (has(w, {"shin", "calf", "knee", "tibia", "crus", "stifle"}))
        return {Role::Knee};
    if (has(w, {"leg"})) {
        if (has(w, {"upper", "up"}))
            return {Role::Hip};
        if (has(w, {"lower", "low"}))
            return {Role::Knee};
        return {Role::Hip, Role::Knee, Role::Ankle};
    }
    if (has(w, {"hip", "hips"}))
        return sideOf(w) == Side::Middle ? std::vector<Role>{Role::Pelvis} : std::vector<Role>{Role::Hip};
    if (has(w, {"pelvis"}))
        return {Role::Pelvis};
    if (has(w, {"spine", "chest", "torso", "ribcage", "ribs", "abdomen", "waist", "back", "belly", "stomach",
                "thorax", "body", "trunk"}))
        return {Role::Spine};
    if (has(w, {"neck", "cervical"}))
        return {Role::Neck};
    if (has(w, {"head", "skull", "cranium"}))
        return {Role::Head};
    if (has(w, {"root", "cog", "reference", "armature", "origin", "world", "master"}))
        return {Role::Root};
    return {Role::Unknown};
}

class Guess {
public:
    explicit Guess(const Character& c)
        : c_(c), sk_(c.skeleton), out_(sk_.name.size()), words_(sk_.name.size()), leaf_(sk_.name.size(), 1) {
        for (int p : sk_.parent)
            if (p >= 0)
                leaf_[p] = 0;
    }

    std::vector<JointRole> make() {
        for (int j = 0; j < sk_.size(); ++j) {
            words_[j] = wordsOf(sk_.name[j]);
            out_[j].side = sideOf(words_[j]);
        }
        inheritSides();
        markSkin();
        chooseByTree();
        chainLimbs();
        markForeLimbs();
        number();
        askShape();
        return std::move(out_);
    }

    /// After a person's corrections.
    std::vector<JointRole> renumber(std::vector<JointRole> roles) {
        out_ = std::move(roles);
        for (int j = 0; j < sk_.size(); ++j)
            words_[j] = wordsOf(sk_.name[j]);
        number();
        return std::move(out_);
    }

private:
    const Character& c_;
    const Skeleton& sk_;
    std::vector<JointRole> out_;
    std::vector<Words> words_;
    std::vector<char> leaf_;

    // "LeftArm → Elbow → Hand": below a sided joint everything is of that side.
    void inheritSides() {
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Middle && sk_.parent[j] >= 0)
                out_[j].side = out_[sk_.parent[j]].side;
    }

    void markSkin() {
        for (std::uint16_t j : c_.weights.joint)
            out_[j].movesSkin = true;
        for (int j = sk_.size() - 1; j > 0; --j)
            if (out_[j].movesSkin && sk_.parent[j] >= 0)
                out_[sk_.parent[j]].movesSkin = true;
    }

    void number() {
        for (JointRole& r : out_) {
            r.digit = -1;
            r.segment = 0;
            r.mirror = -1;
            r.pairedByPlace = false;
        }
        numberChains();
        pairSides();
        pairByPlace();
    }

    // Where names say little, the shape of the skeleton is asked for what they leave open.
    void askShape() {
        int asked = 0, known = 0;
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].movesSkin) {
                ++asked;
                known += out_[j].role != Role::Unknown && out_[j].role != Role::Root;
            }
        if (asked < 4 || known * 10 > asked * 4)
            return;
        std::vector<std::pair<int, int>> pairs;
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Left && out_[j].mirror >= 0)
                pairs.push_back({j, out_[j].mirror});
        const std::vector<JointRole> shape = rolesByShape(c_, findMirrorPlane(c_, pairs));
        for (int j = 0; j < sk_.size(); ++j) {
            const JointRole& by = shape[j];
            if (by.role == Role::Unknown || (out_[j].role != Role::Unknown && out_[j].role != Role::Root))
                continue;
            out_[j].role = by.role;
            out_[j].fore = by.fore;
            out_[j].confidence = by.confidence;
            out_[j].basis = by.basis;
        }
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Middle && shape[j].side != Side::Middle)
                out_[j].side = shape[j].side;
        number();
    }

    // Joints with a side that no name pairs: what stands at the mirrored place and is the same.
    void pairByPlace() {
        std::vector<std::pair<int, int>> pairs;
        bool open = false;
        for (int j = 0; j < sk_.size(); ++j) {
            if (out_[j].side == Side::Left && out_[j].mirror >= 0)
                pairs.push_back({j, out_[j].mirror});
            open |= out_[j].side != Side::Middle && out_[j].mirror < 0;
        }
        if (!open)
            return;
        const MirrorPlane plane = findMirrorPlane(c_, pairs);
        if (!plane.found)
            return;
        for (int j = 0; j < sk_.size(); ++j) {
            const int p = plane.partner[j];
            if (out_[j].side == Side::Left && out_[j].mirror < 0 && p >= 0 && out_[p].side == Side::Right &&
                out_[p].mirror < 0 && out_[p].role == out_[j].role) {
                out_[j].mirror = p;
                out_[p].mirror = j;
                out_[j].pairedByPlace = out_[p].pairedByPlace = true;
            }
        }
    }

    bool sameSide(int a, int b) const { return out_[a].side == out_[b].side; }

    // Nearest ancestor of the same side whose role is one of these.
    int ancestorWith(int j, std::initializer_list<Role> any) const {
        for (int a = sk_.parent[j]; a >= 0; a = sk_.parent[a])
            if (sameSide(a, j) && std::find(any.begin(), any.end(), out_[a].role) != any.end())
                return a;
        return -1;
    }

    bool descendantMayBe(int j, Role role) const {
        const auto in = sk_.subtree(j);
        for (int k = j + 1; k < sk_.size(); ++k)
            if (in[k] && sameSide(k, j)) {
                const auto c = candidates(words_[k], leaf_[k]);
                if (std::find(c.begin(), c.end(), role) != c.end())
                    return true;
            }
        return false;
    }

    void chooseByTree() {
        for (int j = 0; j < sk_.size(); ++j) {
            const auto c = candidates(words_[j], leaf_[j]);
            Role r = c.front();
            out_[j].basis = r == Role::Unknown ? "" : c.size() > 1 ? "name and tree" : "name";
            out_[j].confidence = r == Role::Unknown ? 0.f : c.size() > 1 ? 0.75f : 0.9f;
            if (c.size() > 1 && c[0] == Role::Shoulder && c[1] == Role::Collarbone)
                r = descendantMayBe(j, Role::Shoulder) && ancestorWith(j, {Role::Collarbone}) < 0
                        ? Role::Collarbone
                        : Role::Shoulder;
            else if (c.size() > 1 && c[0] == Role::Shoulder)
                r = ancestorWith(j, {Role::Shoulder}) >= 0 ? Role::Elbow : Role::Shoulder;
            else if (c.size() > 1 && c[0] == Role::Hip)
                r = ancestorWith(j, {Role::Knee}) >= 0  ? Role::Ankle
                    : ancestorWith(j, {Role::Hip}) >= 0 ? Role::Knee
                                                        : Role::Hip;
            // "LeftHip → LeftThigh": the upper of two hips is part of the pelvis.
            if (r == Role::Hip && ancestorWith(j, {Role::Hip}) >= 0) {
                const int upper = ancestorWith(j, {Role::Hip});
                if (has(words_[upper], {"hip", "hips"}))
                    out_[upper].role = Role::Pelvis;
            }
            if (r == Role::Unknown && sk_.parent[j] < 0)
                r = Role::Root;
            // A second thumb or finger joint may be named by number only: "Thumb1 → bone2".
            if (r == Role::Unknown && sk_.parent[j] >= 0) {
                const Role above = out_[sk_.parent[j]].role;
                if (above == Role::Thumb || above == Role::Finger || above == Role::Tail ||
                    above == Role::Toe) {
                    r = above;
                    out_[j].basis = "name and tree";
                }
            }
            out_[j].role = r;
            if (r != Role::Unknown && out_[j].confidence == 0)
                out_[j].confidence = 0.6f;
            doubt(j);
        }
    }

    // A name that the tree speaks against is worth less: a knee below no hip, an elbow below a leg.
    void doubt(int j) {
        struct Expected {
            Role role;
            std::initializer_list<Role> above;
        };
        static const Expected all[] = {{Role::Elbow, {Role::Shoulder}},
                                       {Role::Wrist, {Role::Elbow, Role::Shoulder}},
                                       {Role::Knee, {Role::Hip}},
                                       {Role::Ankle, {Role::Knee, Role::Hip}},
                                       {Role::Finger, {Role::Wrist, Role::Palm, Role::Finger}},
                                       {Role::Thumb, {Role::Wrist, Role::Palm, Role::Thumb}},
                                       {Role::Head, {Role::Neck, Role::Spine}},
                                       {Role::Jaw, {Role::Head}},
                                       {Role::Eye, {Role::Head}}};
        for (const Expected& e : all)
            if (out_[j].role == e.role) {
                bool fits = false;
                for (int a = sk_.parent[j]; a >= 0 && !fits; a = sk_.parent[a])
                    fits = std::find(e.above.begin(), e.above.end(), out_[a].role) != e.above.end();
                if (!fits)
                    out_[j].confidence = std::min(out_[j].confidence, 0.5f);
            }
    }

    // A chain of one name, "front_leg_1 … 4" or "arm.1 … 3": the tree's order gives the roles.
    void chainLimbs() {
        for (int j = 0; j < sk_.size(); ++j) {
            if (out_[j].role != Role::Elbow && out_[j].role != Role::Ankle)
                continue;
            const int p = sk_.parent[j];
            if (p < 0 || out_[p].role != out_[j].role || !sameSide(p, j))
                continue;
            out_[j].role = out_[j].role == Role::Elbow ? Role::Wrist : Role::Fetlock;
        }
    }

    // Fore limbs of a quadruped may be named like legs: they carry the arm's roles, so that their axes and
    // limits are an arm's (the carpus bends like a wrist, the elbow points backwards).
    void markForeLimbs() {
        for (int j = 0; j < sk_.size(); ++j) {
            JointRole& r = out_[j];
            bool fore =
                has(words_[j], {"front", "fore"}) && !has(words_[j], {"arm"}) && r.role != Role::Control;
            if (!fore && sk_.parent[j] >= 0 && out_[sk_.parent[j]].fore && sameSide(j, sk_.parent[j]))
                fore = true;
            if (!fore || r.side == Side::Middle)
                continue;
            r.fore = true;
            if (r.role == Role::Hip)
                r.role = Role::Shoulder;
            else if (r.role == Role::Knee)
                r.role = Role::Elbow;
            else if (r.role == Role::Ankle)
                r.role = Role::Wrist;
        }
    }

    void numberChains() {
        std::map<int, int> digits; // parent of a chain → chains so far
        for (int j = 0; j < sk_.size(); ++j) {
            JointRole& r = out_[j];
            const int p = sk_.parent[j];
            if (p >= 0 && out_[p].role == r.role && sameSide(p, j)) {
                r.segment = out_[p].segment + 1;
                r.digit = out_[p].digit;
            } else if (r.role == Role::Thumb) {
                r.digit = 0;
            } else if (r.role == Role::Finger || r.role == Role::Toe) {
                int hand = p; // fingers may each hang on a palm bone of their own
                while (hand >= 0 && out_[hand].role == Role::Palm)
                    hand = sk_.parent[hand];
                r.digit = 1 + digits[hand * 2 + (r.role == Role::Toe)]++;
            }
        }
    }

    static Words withoutSide(const Words& words) {
        Words out;
        for (const auto& w : words)
            if (sideOf({w}) == Side::Middle)
                out.push_back(w);
        return out;
    }

    void pairSides() {
        std::map<std::pair<Words, int>, int>
            left; // words without the side, and depth, so that unnamed chains pair
        auto depth = [&](int j) {
            int d = 0;
            for (; sk_.parent[j] >= 0; j = sk_.parent[j])
                ++d;
            return d;
        };
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Left)
                left.try_emplace({withoutSide(words_[j]), depth(j)}, j);
        for (int j = 0; j < sk_.size(); ++j) {
            if (out_[j].side != Side::Right)
                continue;
            if (auto it = left.find({withoutSide(words_[j]), depth(j)}); it != left.end()) {
                out_[j].mirror = it->second;
                out_[it->second].mirror = j;
            }
        }
    }
};

} // namespace

std::vector<JointRole> guessRoles(const Character& character) { return Guess(character).make(); }

void correctRoles(const Character& c, std::vector<JointRole>& roles,
                  const std::map<std::string, RoleCorrection>& corrections) {
    bool any = false;
    for (int j = 0; j < c.skeleton.size(); ++j)
        if (const auto it = corrections.find(c.skeleton.name[j]); it != corrections.end()) {
            roles[j].role = it->second.role;
            roles[j].side = it->second.side;
            roles[j].confidence = 1;
            roles[j].basis = "corrected";
            any = true;
        }
    if (any)
        roles = Guess(c).renumber(std::move(roles));
}

const char* nameOf(Role role) {
    static const char* names[] = {"unknown",  "root",    "pelvis",  "spine", "neck",   "head",   "jaw",
                                  "eye",      "lid",     "brow",    "lip",   "tongue", "ear",    "collarbone",
                                  "shoulder", "elbow",   "wrist",   "palm",  "thumb",  "finger", "hip",
                                  "knee",     "ankle",   "fetlock", "toe",   "tail",   "wing",   "twist",
                                  "helper",   "control", "end"};
    return names[static_cast<int>(role)];
}

std::optional<Role> roleCalled(const std::string& name) {
    for (int r = 0; r <= static_cast<int>(Role::End); ++r)
        if (name == nameOf(static_cast<Role>(r)))
            return static_cast<Role>(r);
    return std::nullopt;
}

const char* nameOf(Side side) {
    static const char* names[] = {"middle", "left", "right"};
    return names[static_cast<int>(side)];
}

std::optional<Side> sideCalled(const std::string& name) {
    for (Side side : {Side::Middle, Side::Left, Side::Right})
        if (name == nameOf(side))
            return side;
    return std::nullopt;
}

} // namespace hobble
