#include "core/character/roles.h"

#include "core/character/role_tree.h"
#include "core/character/roles_by_shape.h"
#include "core/character/skeleton_words.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hobble {

namespace {

using Words = std::vector<std::string>;

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

class Guess {
public:
    explicit Guess(const Character& c)
        : c_(c), sk_(c.skeleton), out_(sk_.name.size()), words_(skeletonWords(sk_)) {}

    std::vector<JointRole> make() {
        for (int j = 0; j < sk_.size(); ++j)
            out_[j].side = sideOf(words_[j]);
        inheritSides();
        markSkin();
        pairSides(); // by names alone, for the mirror plane
        std::vector<std::pair<int, int>> pairs;
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Left && out_[j].mirror >= 0)
                pairs.push_back({j, out_[j].mirror});
        const MirrorPlane plane = findMirrorPlane(c_, pairs);
        const std::vector<JointRole> shape = rolesByShape(c_, plane);
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Middle && shape[j].side != Side::Middle && pairs.empty())
                out_[j].side = shape[j].side;
        label(plane, shape);
        number();
        return std::move(out_);
    }

    /// After a person's corrections.
    std::vector<JointRole> renumber(std::vector<JointRole> roles) {
        out_ = std::move(roles);
        number();
        return std::move(out_);
    }

private:
    const Character& c_;
    const Skeleton& sk_;
    std::vector<JointRole> out_;
    std::vector<Words> words_;

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

    // Words, skin, place and shape speak for each joint; the best of all labellings of the tree is taken.
    void label(const MirrorPlane& plane, const std::vector<JointRole>& shape) {
        std::vector<LabelScores> words, evidence;
        for (int j = 0; j < sk_.size(); ++j)
            words.push_back(wordsFor(words_[j]));
        evidence = words;
        addSkin(evidence);
        addShape(shape, evidence);
        if (plane.found)
            addPlace(plane, words, evidence);
        const std::vector<Labelled> best = labelTree(sk_, evidence);
        for (int j = 0; j < sk_.size(); ++j) {
            JointRole& r = out_[j];
            const auto l = static_cast<std::size_t>(best[j].label);
            r.role = roleOf(best[j].label);
            r.fore = isFore(best[j].label);
            const bool named = words[j][l] >= 2;
            r.basis = r.role == Role::Unknown                  ? ""
                      : !named                                 ? "place"
                      : words[j][l] >= 4 || best[j].margin > 3 ? "name"
                                                               : "name and tree";
            r.confidence = r.role == Role::Unknown ? 0.f : sureness(best[j].margin, named);
        }
    }

    // Below what the zoo would allow (docs/detection.md): it holds fewer surprises than the world does. What
    // only place says is never surer than 0.6.
    static float sureness(float margin, bool named) {
        const float most = named ? 0.97f : 0.6f;
        return std::min(most, 0.4f + 0.14f * margin);
    }

    // What holds skin is no control and no end, whatever it is called; what holds none may be.
    void addSkin(std::vector<LabelScores>& evidence) const {
        std::vector<char> own(sk_.name.size(), 0), leaf(sk_.name.size(), 1);
        for (std::uint16_t j : c_.weights.joint)
            own[j] = 1;
        for (const Part& p : c_.parts)
            if (p.carrier >= 0)
                own[static_cast<std::size_t>(p.carrier)] = 1;
        for (int p : sk_.parent)
            if (p >= 0)
                leaf[static_cast<std::size_t>(p)] = 0;
        const auto at = [&](int j, Role r) -> float& {
            return evidence[static_cast<std::size_t>(j)][static_cast<std::size_t>(labelOf(r, false))];
        };
        const bool any = !c_.weights.joint.empty();
        for (int j = 0; j < sk_.size(); ++j) {
            at(j, Role::Unknown) += 0.8f;
            if (own[j] && any) {
                at(j, Role::Control) = at(j, Role::End) = -8;
                at(j, Role::Root) -= sk_.parent[j] < 0 ? 0.9f : 2.f;
            } else if (!leaf[j]) {
                at(j, Role::End) -= 4;
            } else if (any && at(j, Role::End) <= 0) {
                at(j, Role::End) += sk_.parent[j] >= 0 && out_[sk_.parent[j]].movesSkin ? 0.9f : 0.f;
            } else if (at(j, Role::End) > 0) {
                at(j, Role::End) += 7; // "head_end" ends the head
            }
        }
    }

    void addShape(const std::vector<JointRole>& shape, std::vector<LabelScores>& evidence) const {
        for (std::size_t j = 0; j < shape.size(); ++j)
            if (const Role r = shape[j].role; r != Role::Unknown && (r != Role::Root || sk_.parent[j] < 0))
                evidence[j][static_cast<std::size_t>(labelOf(r, shape[j].fore))] += 1.6f;
    }

    // A limb that reaches the ground is a leg; of legs on two girdles the one nearer to the head is a fore
    // leg; one that does not is an arm or a wing. The trunk lies in the middle, limbs beside it.
    void addPlace(const MirrorPlane& plane, const std::vector<LabelScores>& words,
                  std::vector<LabelScores>& evidence) const {
        const auto n = static_cast<std::size_t>(sk_.size());
        const auto height = [&](int j) { return sk_.neutralWorld[j].translation().y(); };
        std::vector<double> lowest(n);
        double low = 1e300, high = -1e300;
        for (int j = 0; j < sk_.size(); ++j) {
            lowest[j] = height(j);
            if (out_[j].movesSkin) {
                low = std::min(low, height(j));
                high = std::max(high, height(j));
            }
        }
        for (int j = sk_.size() - 1; j > 0; --j)
            if (const int p = sk_.parent[j]; p >= 0)
                lowest[p] = std::min(lowest[p], lowest[j]);
        const double tall = std::max(high - low, 1e-9);
        const auto middle = [&](int j) { return plane.partner[j] == j; };
        struct Limb {
            int root, girdle;
            bool ground;
        };
        // Where along a leg its joints lie, of the girdle's height: much the same from mouse to horse.
        const auto usual = [](Label l) {
            switch (roleOf(l)) {
            case Role::Collarbone:
                return 1.0;
            case Role::Shoulder:
                return 0.8;
            case Role::Elbow:
                return 0.58;
            case Role::Wrist:
                return 0.3;
            case Role::Hip:
                return 0.92;
            case Role::Knee:
                return 0.6;
            case Role::Ankle:
                return 0.34;
            case Role::Fetlock:
                return 0.12;
            case Role::Toe:
                return 0.03;
            default:
                return -9.0;
            }
        };
        std::vector<Limb> limbs;
        for (int j = 0; j < sk_.size(); ++j) {
            const int p = sk_.parent[j];
            if (p < 0 || plane.partner[j] < 0 || middle(j) || !middle(p) || !out_[j].movesSkin)
                continue;
            const bool ground = lowest[j] < low + 0.15 * tall && height(j) > low + 0.25 * tall;
            limbs.push_back({j, p, ground});
        }
        // Where the head is: by words, or by the highest end of the middle.
        Vec3d head = Vec3d::Zero();
        double known = 0;
        for (std::size_t j = 0; j < n; ++j)
            for (Role r : {Role::Head, Role::Jaw, Role::Eye, Role::Ear, Role::Neck})
                if (words[j][static_cast<std::size_t>(labelOf(r, false))] >= 3.5f) {
                    head += sk_.neutralWorld[j].translation();
                    ++known;
                }
        if (known == 0) {
            int top = -1;
            for (int j = 0; j < sk_.size(); ++j)
                if (middle(j) && (top < 0 || height(j) > height(top)))
                    top = j;
            if (top >= 0)
                head = sk_.neutralWorld[top].translation();
            known = top >= 0 ? 1 : 0;
        }
        head /= std::max(known, 1.0);
        double nearest = 1e300, farthest = -1e300;
        for (const Limb& l : limbs)
            if (l.ground) {
                const double d = (sk_.neutralWorld[l.root].translation() - head).norm();
                nearest = std::min(nearest, d);
                farthest = std::max(farthest, d);
            }
        const bool twoGirdles = farthest - nearest > 0.25 * tall;
        for (int j = 0; j < sk_.size(); ++j) {
            if (plane.partner[j] < 0)
                continue;
            for (Label l = 0; l < kLabels; ++l) {
                const Role r = roleOf(l);
                const bool trunk = r == Role::Pelvis || r == Role::Spine || r == Role::Neck ||
                                   r == Role::Head || r == Role::Jaw || r == Role::Tongue || r == Role::Tail;
                const bool limb = isFore(l) || (r >= Role::Collarbone && r <= Role::Toe) || r == Role::Wing ||
                                  r == Role::Eye;
                if (trunk && !middle(j))
                    evidence[j][static_cast<std::size_t>(l)] -= r == Role::Pelvis ? 1.5f : 2.5f;
                if (limb && middle(j))
                    evidence[j][static_cast<std::size_t>(l)] -= 2.5f;
            }
        }
        for (const Limb& l : limbs) {
            const double d = (sk_.neutralWorld[l.root].translation() - head).norm();
            const bool fore = l.ground && twoGirdles && d < 0.5 * (nearest + farthest);
            const auto in = sk_.subtree(l.root);
            for (int j = l.root; j < sk_.size(); ++j) {
                if (!in[j])
                    continue;
                for (Label x = 0; x < kLabels; ++x) {
                    const Role r = roleOf(x);
                    const bool leg = r >= Role::Hip && r <= Role::Toe && !isFore(x);
                    const bool arm =
                        !isFore(x) && ((r >= Role::Collarbone && r <= Role::Finger) || r == Role::Wing);
                    float& s = evidence[j][static_cast<std::size_t>(x)];
                    if (twoGirdles && l.ground && (fore ? isFore(x) : leg)) {
                        const double off =
                            (height(j) - low) / std::max(height(l.girdle) - low, 1e-9) - usual(x);
                        s += static_cast<float>(1.5 * std::exp(-off * off / 0.02) - 0.5);
                    }
                    if (isFore(x))
                        s += fore ? 1.5f : -4.f;
                    else if (leg)
                        s += !l.ground ? -1.5f : fore ? -3.f : 1.f;
                    else if (arm)
                        s += fore ? -2.f : l.ground ? -2.f : 0.5f;
                }
            }
        }
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
