#include "core/character/roles.h"

#include "core/ascii.h"
#include "core/character/body.h"
#include "core/character/hand.h"
#include "core/character/role_place.h"
#include "core/character/role_tree.h"
#include "core/character/roles_by_shape.h"
#include "core/character/skeleton_words.h"
#include "core/character/stacked_joints.h"
#include "core/words/say.h"

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
    /// `up` is where the skin has its upper end; the skeleton stands along y.
    Guess(const Character& c, const std::map<std::string, RoleCorrection>& corrections,
          const Vec3d& up = Vec3d::UnitY())
        : c_(c), corrections_(corrections), sk_(c.skeleton), out_(sk_.name.size()),
          words_(skeletonWords(sk_)), reachesDown_(lowestReach(c, up)) {}

    std::vector<JointRole> make() {
        for (int j = 0; j < sk_.size(); ++j)
            out_[j].side = sideOf(words_[j]);
        dropSidesOfTheMiddle();
        readSaid();
        sidesFromParts();
        inheritSides();
        markSkin();
        pairSides(); // by names alone, for the mirror plane
        std::vector<std::pair<int, int>> pairs;
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Left && out_[j].mirror >= 0)
                pairs.push_back({j, out_[j].mirror});
        const MirrorPlane plane = findMirrorPlane(c_, pairs);
        mirrorCorrections(plane);
        const std::vector<JointRole> shape = rolesByShape(c_, plane, reachesDown_);
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Middle && shape[j].side != Side::Middle && pairs.empty())
                out_[j].side = shape[j].side;
        label(plane, shape);
        number();
        if (sidesFromThumbs())
            number();
        return std::move(out_);
    }

    /// How well the best labelling fits; to be compared between ways of standing.
    float fit() const { return fit_; }

private:
    const Character& c_;
    const std::map<std::string, RoleCorrection>& corrections_;
    const Skeleton& sk_;
    std::vector<JointRole> out_;
    std::vector<Words> words_;
    std::vector<std::optional<RoleCorrection>> said_;     // by the file or a person
    std::vector<std::optional<RoleCorrection>> mirrored_; // of what a person said of the other side
    std::vector<char> corrected_;                         // by a person
    std::vector<double> reachesDown_;
    float fit_ = 0;

    void readSaid() {
        said_.resize(out_.size());
        mirrored_.resize(out_.size());
        corrected_.assign(out_.size(), 0);
        for (std::size_t j = 0; j < sk_.humanoidBone.size(); ++j)
            said_[j] = humanoidRole(sk_.humanoidBone[j]);
        for (std::size_t j = 0; j < said_.size(); ++j) {
            if (const auto it = corrections_.find(sk_.name[j]); it != corrections_.end()) {
                said_[j] = it->second;
                corrected_[j] = 1;
            }
            if (said_[j])
                out_[j].side = said_[j]->side;
        }
    }

    // What a person says of one side holds for the other, where nothing was said of that.
    void mirrorCorrections(const MirrorPlane& plane) {
        for (std::size_t j = 0; j < said_.size(); ++j) {
            if (!corrected_[j] || said_[j]->side == Side::Middle)
                continue;
            int m = out_[j].mirror;
            if (m < 0 && plane.found && plane.partner[j] != static_cast<int>(j))
                m = plane.partner[j];
            if (m < 0 || said_[static_cast<std::size_t>(m)])
                continue;
            const Side side = said_[j]->side == Side::Left ? Side::Right : Side::Left;
            mirrored_[static_cast<std::size_t>(m)] = RoleCorrection{said_[j]->role, side};
            out_[static_cast<std::size_t>(m)].side = side;
        }
    }

    // A letter may mean something else: what both sides hang from is of neither.
    void dropSidesOfTheMiddle() {
        std::vector<std::array<int, 3>> below(out_.size(), std::array<int, 3>{});
        for (int j = sk_.size() - 1; j > 0; --j)
            if (const int p = sk_.parent[j]; p >= 0)
                for (std::size_t s = 0; s < 3; ++s)
                    below[p][s] += below[j][s] + (static_cast<std::size_t>(out_[j].side) == s);
        for (std::size_t j = 0; j < out_.size(); ++j) {
            const auto [middle, left, right] = below[j];
            if (left >= 2 && right >= 2)
                out_[j].side = Side::Middle;
        }
    }

    // Of a skeleton that names no sides: a mesh called left binds left joints.
    void sidesFromParts() {
        if (std::any_of(out_.begin(), out_.end(), [](const JointRole& r) { return r.side != Side::Middle; }))
            return;
        std::vector<std::array<bool, 3>> boundBy(out_.size(), std::array<bool, 3>{});
        const std::uint32_t* first = c_.weights.first.data();
        for (const Part& p : c_.parts) {
            const Side side = sideOf(wordsOf(p.name));
            for (std::uint32_t v = p.firstVertex; v < p.firstVertex + p.vertexCount; ++v)
                for (std::uint32_t i = first[v]; i < first[v + 1]; ++i)
                    boundBy[c_.weights.joint[i]][static_cast<std::size_t>(side)] = true;
        }
        for (std::size_t j = 0; j < out_.size(); ++j) {
            const auto [middle, left, right] = boundBy[j];
            if (!middle && left != right)
                out_[j].side = left ? Side::Left : Side::Right;
        }
        // a hand alone: the file may be called by its side
        if (const Side side = sideOf(wordsOf(c_.name)); side != Side::Middle)
            for (JointRole& r : out_)
                r.side = r.side == Side::Middle ? side : r.side;
    }

    // Thumb and palm tell left from right where no name does.
    bool sidesFromThumbs() {
        bool any = false;
        for (int j = 0; j < sk_.size(); ++j) {
            if (out_[j].role != Role::Wrist || out_[j].side != Side::Middle)
                continue;
            const Side side = sideByThumb(c_, out_, j);
            if (side == Side::Middle)
                continue;
            any = true;
            int top = j; // the arm it ends
            while (
                sk_.parent[top] >= 0 && out_[sk_.parent[top]].side == Side::Middle &&
                (out_[sk_.parent[top]].role == Role::Elbow || out_[sk_.parent[top]].role == Role::Shoulder ||
                 out_[sk_.parent[top]].role == Role::Collarbone || out_[sk_.parent[top]].role == Role::Twist))
                top = sk_.parent[top];
            const auto in = sk_.subtree(top);
            for (int k = top; k < sk_.size(); ++k)
                if (in[k] && out_[k].side == Side::Middle)
                    out_[k].side = side;
        }
        return any;
    }

    // "LeftArm → Elbow → Hand": below a sided joint everything is of that side.
    void inheritSides() {
        for (int j = 0; j < sk_.size(); ++j)
            if (out_[j].side == Side::Middle && sk_.parent[j] >= 0)
                out_[j].side = out_[sk_.parent[j]].side;
    }

    void markSkin() {
        const std::vector<char> holds = holdsSkin(c_);
        for (std::size_t j = 0; j < holds.size(); ++j)
            out_[j].movesSkin = holds[j];
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
        nameDigits(c_, out_, words_);
    }

    // Words, skin, place and shape speak for each joint; the best of all labellings of the tree is taken.
    void label(const MirrorPlane& plane, const std::vector<JointRole>& shape) {
        std::vector<LabelScores> words, evidence;
        for (int j = 0; j < sk_.size(); ++j)
            words.push_back(wordsFor(words_[j]));
        evidence = words;
        addSkin(evidence);
        addRuns(words, evidence);
        addBeside(evidence);
        addShape(shape, evidence);
        if (plane.found) {
            std::vector<char> movesSkin;
            for (const JointRole& r : out_)
                movesSkin.push_back(r.movesSkin);
            addPlace(sk_, plane, movesSkin, reachesDown_, words, evidence);
        }
        for (std::size_t j = 0; j < said_.size(); ++j)
            for (const auto& [told, by] : {std::pair(&said_[j], 60.f), std::pair(&mirrored_[j], 12.f)})
                if (*told) { // of a fore leg or not, the tree says
                    const Role role = (*told)->role;
                    evidence[j][static_cast<std::size_t>(labelOf(role, false))] += by;
                    if (labelOf(role, true) != labelOf(role, false))
                        evidence[j][static_cast<std::size_t>(labelOf(role, true))] += by;
                }
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
            fit_ += r.role == Role::Unknown ? 0.f : std::min(best[j].margin, 4.f);
            if (said_[j] && said_[j]->role == r.role) {
                r.side = said_[j]->side;
                r.basis = corrected_[j] ? "corrected" : "the file";
                r.confidence = 1;
            }
        }
    }

    // What single names leave open and their runs do not: a nose of one joint is a helper of the face, one of
    // three and more a trunk; a belly that nothing hangs from is a helper of the spine.
    void addRuns(const std::vector<LabelScores>& words, std::vector<LabelScores>& evidence) const {
        const auto speaks = [&](int j, Role r) {
            return words[j][static_cast<std::size_t>(labelOf(r, false))];
        };
        std::vector<int> run(out_.size(), 0), longest(out_.size(), 0), below(out_.size(), 0);
        for (int j = 0; j < sk_.size(); ++j) {
            const int p = sk_.parent[j];
            run[j] = speaks(j, Role::Trunk) > 0 ? 1 + (p >= 0 ? run[p] : 0) : 0;
        }
        longest = run;
        for (int j = sk_.size() - 1; j > 0; --j)
            if (const int p = sk_.parent[j]; p >= 0) {
                below[p] += 1 + below[j];
                if (run[p] > 0 && run[j] > 0)
                    longest[p] = std::max(longest[p], longest[j]);
            }
        for (int j = 0; j < sk_.size(); ++j) {
            auto& e = evidence[j];
            const auto at = [&](Role r) -> float& { return e[static_cast<std::size_t>(labelOf(r, false))]; };
            if (run[j] > 0)
                at(Role::Trunk) += longest[j] >= 3 ? 1.5f : -2.f;
            if (speaks(j, Role::Helper) > 0 && speaks(j, Role::Spine) > 0)
                at(Role::Helper) += below[j] == 0 ? 2.f : below[j] > 3 ? -2.f : 0.f;
        }
    }

    // A leaf between two joints of a limb that goes on is none of its joints, whatever it is called: a
    // muscle, a twist.
    void addBeside(std::vector<LabelScores>& evidence) const {
        const auto children = sk_.children();
        for (int p = 0; p < sk_.size(); ++p) {
            int next = -1; // what goes on, the farthest
            double length = 0;
            for (int k : children[p])
                if (const double d = (sk_.place(k) - sk_.place(p)).norm();
                    goesOn(children, k) && d > length) {
                    next = k;
                    length = d;
                }
            if (next < 0)
                continue;
            const Vec3d bone = (sk_.place(next) - sk_.place(p)) / length;
            for (int k : children[p]) {
                const Vec3d to = sk_.place(k) - sk_.place(p);
                const double along = to.dot(bone) / length, off = (to - to.dot(bone) * bone).norm() / length;
                if (!out_[k].movesSkin || goesOn(children, k) || along < 0.05 || along > 0.95 || off > 0.3 ||
                    out_[k].side != out_[next].side || out_[k].side == Side::Middle)
                    continue;
                for (Label l = 0; l < kLabels; ++l)
                    if (const Role r = roleOf(l); r >= Role::Collarbone && r <= Role::Toe)
                        evidence[k][static_cast<std::size_t>(l)] -= 5;
                evidence[k][static_cast<std::size_t>(labelOf(Role::Helper, false))] += 1;
            }
        }
    }

    bool goesOn(const std::vector<std::vector<int>>& children, int j) const {
        return std::any_of(children[j].begin(), children[j].end(), [&](int k) { return out_[k].movesSkin; });
    }

    // Below what the zoo would allow (docs/detection.md): it holds fewer surprises than the world does. What
    // only place says is never surer than 0.6.
    static float sureness(float margin, bool named) {
        const float most = named ? 0.97f : 0.6f;
        return std::min(most, 0.4f + 0.14f * margin);
    }

    // What holds skin is no control and no end, whatever it is called; what holds none may be.
    void addSkin(std::vector<LabelScores>& evidence) const {
        std::vector<char> own = holdsSkin(c_), leaf(sk_.name.size(), 1);
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
            const int p = nextAbove(sk_, out_, j);
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

int nextAbove(const Skeleton& skeleton, const std::vector<JointRole>& roles, int joint) {
    int up = skeleton.parent[static_cast<std::size_t>(joint)];
    while (up >= 0) {
        const Role r = roles[static_cast<std::size_t>(up)].role;
        if (r != Role::Control && r != Role::Twist && r != Role::Helper)
            break;
        up = skeleton.parent[static_cast<std::size_t>(up)];
    }
    return up;
}

std::vector<char> holdsSkin(const Character& c) {
    std::vector<char> out(c.skeleton.name.size(), 0);
    for (std::size_t i = 0; i < c.weights.joint.size(); ++i)
        if (c.weights.weight[i] >= kLeastHeld)
            out[c.weights.joint[i]] = 1;
    return out;
}

namespace {

std::vector<JointRole> rolesOfEach(const Character& c,
                                   const std::map<std::string, RoleCorrection>& corrections) {
    Guess standing(c, corrections);
    std::vector<JointRole> best = standing.make();
    // Files call y up. Where the body says otherwise (it lies, or the file is wrong), it is asked once more
    // standing; of several ways the one that fits best is taken.
    std::vector<Vec3d> ups;
    const BodyFrame frame = bodyFrame(c, best);
    for (const Vec3d& up : {frame.up, frame.upFromLegs})
        if (up.norm() > 0.5 && up.y() < 0.8)
            ups.push_back(up);
    const std::size_t spokenFor = ups.size();
    int named = 0, all = 0;
    for (const JointRole& r : best)
        if (r.movesSkin) {
            ++all;
            named += r.confidence > 0.6f;
        }
    if (2 * named < all && c.skeleton.size() <= 500) // of more it would be felt
        for (const Vec3d& up :
             {Vec3d(Vec3d::UnitZ()), Vec3d(-Vec3d::UnitZ()), Vec3d(Vec3d::UnitX()), Vec3d(-Vec3d::UnitX())})
            ups.push_back(up);
    float fit = standing.fit() * 1.05f + 2;
    for (std::size_t i = 0; i < ups.size(); ++i) {
        const Vec3d& up = ups[i];
        if (i == spokenFor) // what is only tried has to fit clearly better
            fit = std::max(fit, standing.fit() * 1.25f + 4);
        Character turned = c;
        const Eigen::Quaterniond upright = turnFromTo(up, Vec3d::UnitY());
        for (Transform& t : turned.skeleton.neutralWorld)
            t = Transform(upright) * t;
        Guess guess(turned, corrections, up);
        std::vector<JointRole> roles = guess.make();
        if (guess.fit() > fit) {
            fit = guess.fit();
            best = std::move(roles);
        }
    }
    return best;
}

// What lies above what a stack stands for is its control; what hangs from it holds the skin for it.
std::vector<JointRole> rolesOfAll(const StackedJoints& stacked, const std::vector<JointRole>& roles,
                                  const Skeleton& sk) {
    std::vector<JointRole> out(stacked.of.size());
    std::map<std::pair<int, int>, int> member; // of a stack, and which of its members: the joint
    std::vector<int> which(out.size(), -1), many(roles.size(), 0);
    for (std::size_t j = 0; j < out.size(); ++j)
        if (stacked.isMember[j]) {
            which[j] = many[static_cast<std::size_t>(stacked.of[j])]++;
            member[{stacked.of[j], which[j]}] = static_cast<int>(j);
        }
    for (std::size_t j = 0; j < out.size(); ++j) {
        const JointRole& of = roles[static_cast<std::size_t>(stacked.of[j])];
        JointRole& r = out[j];
        r = of;
        const int mirror = of.mirror;
        if (!stacked.isMember[j]) {
            r.mirror = mirror < 0 ? -1 : stacked.stands[static_cast<std::size_t>(mirror)];
            continue;
        }
        const LabelScores words = wordsFor(wordsOf(sk.name[j]));
        const bool twist = words[static_cast<std::size_t>(labelOf(Role::Twist, false))] > 0;
        r.oneWith = stacked.stands[static_cast<std::size_t>(stacked.of[j])];
        r.role = stacked.isAbove[j] ? Role::Control : twist ? Role::Twist : Role::Helper;
        r.fore = false;
        r.digit = -1;
        r.segment = 0;
        r.basis = "place";
        const auto other = member.find({mirror, which[j]});
        r.mirror = other == member.end() ? -1 : other->second;
    }
    return out;
}

} // namespace

std::vector<JointRole> guessRoles(const Character& c,
                                  const std::map<std::string, RoleCorrection>& corrections) {
    const auto isSaid = [&](int j) {
        const auto at = static_cast<std::size_t>(j);
        return corrections.count(c.skeleton.name[at]) > 0 ||
               (at < c.skeleton.humanoidBone.size() && !c.skeleton.humanoidBone[at].empty());
    };
    if (const auto stacked = stackedJoints(c, isSaid))
        return rolesOfAll(*stacked, rolesOfEach(stacked->character, corrections), c.skeleton);
    return rolesOfEach(c, corrections);
}

std::optional<RoleCorrection> humanoidRole(const std::string& bone) {
    std::string name = bone;
    Side side = Side::Middle;
    for (const auto& [before, of] : {std::pair("left", Side::Left), std::pair("right", Side::Right)})
        if (name.rfind(before, 0) == 0) {
            side = of;
            name = name.substr(std::string(before).size());
        }
    if (!name.empty())
        name[0] = toAsciiLower(name[0]);
    static const std::map<std::string, Role> roles{
        {"hips", Role::Pelvis},       {"spine", Role::Spine},    {"chest", Role::Spine},
        {"upperChest", Role::Spine},  {"neck", Role::Neck},      {"head", Role::Head},
        {"jaw", Role::Jaw},           {"eye", Role::Eye},        {"shoulder", Role::Collarbone},
        {"upperArm", Role::Shoulder}, {"lowerArm", Role::Elbow}, {"hand", Role::Wrist},
        {"upperLeg", Role::Hip},      {"lowerLeg", Role::Knee},  {"foot", Role::Ankle},
        {"toes", Role::Toe}};
    if (const auto it = roles.find(name); it != roles.end())
        return RoleCorrection{it->second, side};
    if (name.rfind("thumb", 0) == 0)
        return RoleCorrection{Role::Thumb, side};
    for (const char* finger : {"index", "middle", "ring", "little"})
        if (name.rfind(finger, 0) == 0)
            return RoleCorrection{Role::Finger, side};
    return std::nullopt;
}

const char* nameOf(Role role) {
    static const char* names[] = {tableWord("unknown"),    tableWord("root"),    tableWord("pelvis"),
                                  tableWord("spine"),      tableWord("neck"),    tableWord("head"),
                                  tableWord("jaw"),        tableWord("eye"),     tableWord("lid"),
                                  tableWord("brow"),       tableWord("lip"),     tableWord("tongue"),
                                  tableWord("ear"),        tableWord("horn"),    tableWord("trunk"),
                                  tableWord("collarbone"), tableWord("scapula"), tableWord("shoulder"),
                                  tableWord("elbow"),      tableWord("wrist"),   tableWord("palm"),
                                  tableWord("thumb"),      tableWord("finger"),  tableWord("hip"),
                                  tableWord("knee"),       tableWord("ankle"),   tableWord("fetlock"),
                                  tableWord("toe"),        tableWord("tail"),    tableWord("wing"),
                                  tableWord("feather"),    tableWord("fin"),     tableWord("dangling chain"),
                                  tableWord("prop"),       tableWord("twist"),   tableWord("helper"),
                                  tableWord("control"),    tableWord("end")};
    return names[static_cast<int>(role)];
}

std::optional<Role> roleCalled(const std::string& name) {
    for (int r = 0; r <= static_cast<int>(Role::End); ++r)
        if (name == nameOf(static_cast<Role>(r)))
            return static_cast<Role>(r);
    return std::nullopt;
}

const char* nameOf(Side side) {
    static const char* names[] = {tableWord("middle"), tableWord("left"), tableWord("right")};
    return names[static_cast<int>(side)];
}

std::optional<Side> sideCalled(const std::string& name) {
    for (Side side : {Side::Middle, Side::Left, Side::Right})
        if (name == nameOf(side))
            return side;
    return std::nullopt;
}

} // namespace hobble
