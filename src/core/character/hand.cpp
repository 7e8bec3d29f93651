#include "core/character/hand.h"

#include "core/words/say.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr double kShownDegrees = 6; // a finger bent less than this shows no palm

// From a finger's joint on, to its last.
std::vector<int> chainFrom(const Character& c, const std::vector<JointRole>& roles, int joint) {
    std::vector<int> out{joint};
    for (int k = joint + 1; k < c.skeleton.size(); ++k)
        if ((roles[k].role == roles[joint].role || roles[k].role == Role::End) &&
            nextAbove(c.skeleton, roles, k) == out.back())
            out.push_back(k);
    return out;
}

// The finger's bones, unit, from its first joint on.
std::vector<Vec3d> bonesOf(const Character& c, const std::vector<JointRole>& roles, int first) {
    const std::vector<int> chain = chainFrom(c, roles, first);
    std::vector<Vec3d> out;
    for (std::size_t i = 0; i + 1 < chain.size(); ++i)
        out.push_back(unitOrZero(c.skeleton.place(chain[i + 1]) - c.skeleton.place(chain[i])));
    if (roles[chain.back()].role != Role::End)
        out.push_back(boneDirection(c, roles, chain.back()));
    out.erase(std::remove_if(out.begin(), out.end(), [](const Vec3d& b) { return b.norm() < 0.5; }),
              out.end());
    return out;
}

// How far fingers are bent towards `normal`, degrees on the mean; those bent the other way count against it.
double bentTowards(const Character& c, const std::vector<JointRole>& roles, const std::vector<int>& fingers,
                   const Vec3d& normal) {
    double sum = 0;
    int count = 0;
    for (int f : fingers) {
        const auto bones = bonesOf(c, roles, f);
        if (bones.size() < 2)
            continue;
        const auto rise = [&](const Vec3d& b) { return std::asin(std::clamp(b.dot(normal), -1.0, 1.0)); };
        sum += degrees(rise(bones.back()) - rise(bones.front()));
        ++count;
    }
    return count ? sum / count : 0;
}

// Where a thumb stands off from the fingers: past its base, which may lie in the middle of the hand.
Vec3d thumbPlace(const Character& c, const std::vector<JointRole>& roles, int thumb) {
    const auto chain = chainFrom(c, roles, thumb);
    return c.skeleton.place(chain[std::min<std::size_t>(1, chain.size() - 1)]);
}

Hand fingersOf(const Character& c, const std::vector<JointRole>& roles, int wrist) {
    Hand hand;
    hand.wrist = wrist;
    const auto below = c.skeleton.subtree(wrist);
    const double tiny = 1e-5 * std::max(c.extent(), 1e-9);
    for (int k = wrist + 1; k < c.skeleton.size(); ++k) {
        if (!below[k] || roles[k].segment != 0 || !roles[k].movesSkin)
            continue;
        if (roles[k].role == Role::Thumb && hand.thumb < 0)
            hand.thumb = k;
        if (roles[k].role == Role::Finger)
            hand.fingers.push_back(k);
    }
    if (hand.fingers.empty())
        return hand;
    Vec3d knuckles = Vec3d::Zero();
    for (int f : hand.fingers)
        knuckles += c.skeleton.place(f) / static_cast<double>(hand.fingers.size());
    hand.along = unitOrZero(knuckles - c.skeleton.place(wrist));
    if ((knuckles - c.skeleton.place(wrist)).norm() < tiny)
        hand.along = boneDirection(c, roles, hand.fingers.front());
    // The row of knuckles: the two farthest apart.
    Vec3d row = Vec3d::Zero();
    for (int a : hand.fingers)
        for (int b : hand.fingers)
            if (const Vec3d d = c.skeleton.place(a) - c.skeleton.place(b); d.norm() > row.norm() + tiny)
                row = d;
    row -= row.dot(hand.along) * hand.along;
    Vec3d thumb = Vec3d::Zero();
    if (hand.thumb >= 0) {
        thumb = thumbPlace(c, roles, hand.thumb) - knuckles;
        thumb -= thumb.dot(hand.along) * hand.along;
    }
    if (row.norm() < tiny)
        row = thumb;
    else if (thumb.norm() > tiny) {
        if (row.dot(thumb) < 0)
            row = -row;
    } else { // by what the fingers are called: from the little one to the first
        Vec3d order = Vec3d::Zero();
        for (int a : hand.fingers)
            for (int b : hand.fingers)
                if (roles[a].digit < roles[b].digit)
                    order += c.skeleton.place(a) - c.skeleton.place(b);
        if (row.dot(order) < 0)
            row = -row;
    }
    hand.across = unitOrZero(row);
    return hand;
}

int wristAbove(const Character& c, const std::vector<JointRole>& roles, int joint) {
    while (joint >= 0 && roles[joint].role != Role::Wrist)
        joint = c.skeleton.parent[joint];
    return joint;
}

} // namespace

Hand handOf(const Character& c, const std::vector<JointRole>& roles, const BodyFrame& body, int wrist) {
    Hand hand = fingersOf(c, roles, wrist);
    const Side side = roles[wrist].side;
    if (hand.across.norm() > 0.5) {
        const Vec3d normal = hand.along.cross(hand.across).normalized();
        const double bent = bentTowards(c, roles, hand.fingers, normal);
        const bool ordered = hand.thumb >= 0;
        if (std::abs(bent) >= 2 * kShownDegrees ||
            (std::abs(bent) >= kShownDegrees && !(ordered && side != Side::Middle))) {
            hand.palm = bent > 0 ? normal : Vec3d(-normal);
            hand.shown = true;
            return hand;
        }
        if (ordered && side != Side::Middle) {
            hand.palm = side == Side::Left ? normal : Vec3d(-normal);
            hand.shown = true;
            return hand;
        }
        hand.palm = normal;
    }
    // Neither thumb nor bend to tell: a raised arm's palm looks down, a hanging arm's palm looks at the body.
    const Vec3d along = hand.along.norm() > 0.5 ? hand.along : boneDirection(c, roles, wrist);
    const Vec3d outward = side == Side::Right ? Vec3d(-body.left) : body.left;
    // What a quadruped stands on would be its palm if it walked on it: a fore limb closes backwards.
    Vec3d palm = body.quadruped                       ? Vec3d(-body.forward)
                 : std::abs(along.dot(body.up)) < 0.7 ? Vec3d(-body.up)
                                                      : Vec3d(-outward);
    palm -= palm.dot(along) * along;
    if (hand.palm.norm() > 0.5)
        hand.palm = hand.palm.dot(palm) < 0 ? Vec3d(-hand.palm) : hand.palm;
    else
        hand.palm = unitOrZero(palm);
    return hand;
}

Side sideByThumb(const Character& c, const std::vector<JointRole>& roles, int wrist) {
    const Hand hand = fingersOf(c, roles, wrist);
    if (hand.thumb < 0 || hand.across.norm() < 0.5)
        return Side::Middle;
    const double bent = bentTowards(c, roles, hand.fingers, hand.along.cross(hand.across).normalized());
    return std::abs(bent) < kShownDegrees ? Side::Middle : bent > 0 ? Side::Left : Side::Right;
}

Vec3d curlAxis(const Character& c, const std::vector<JointRole>& roles, const Hand& hand, int joint,
               double& bent) {
    bent = 0;
    const Vec3d bone = boneDirection(c, roles, joint);
    if (bone.norm() < 0.5 || hand.palm.norm() < 0.5)
        return Vec3d::Zero();
    const bool thumb = roles[joint].role == Role::Thumb;
    int first = joint;
    for (int up = joint; up >= 0 && roles[up].role == roles[joint].role;
         up = nextAbove(c.skeleton, roles, up))
        first = up;
    // A thumb closes across the palm, towards the fingers.
    const Vec3d towards = thumb ? Vec3d(hand.palm - hand.across) : hand.palm;
    Vec3d expected = unitOrZero(bone.cross(towards));
    // The finger's own plane, which all its bends share; its first joint bends in it too.
    const auto bones = bonesOf(c, roles, first);
    Vec3d own = Vec3d::Zero();
    for (std::size_t i = 0; i + 1 < bones.size(); ++i)
        own += bones[i].cross(bones[i + 1]);
    if (!thumb && hand.across.norm() > 0.5 && expected.norm() > 0.5) {
        // fingers close side by side: about the row of knuckles, as far as the finger itself lies across it
        const Vec3d row = hand.across - hand.across.dot(bone) * bone;
        if (row.norm() > 0.7)
            expected = row.normalized() * (row.dot(expected) < 0 ? -1.0 : 1.0);
    }
    Vec3d axis = expected;
    const double shown =
        degrees(std::asin(std::clamp(own.norm() / std::max<double>(1, double(bones.size()) - 1), 0.0, 1.0)));
    if (shown > kShownDegrees && own.normalized().dot(expected) > (thumb ? 0.2 : 0.5))
        axis = own.normalized();
    // How far this joint is closed already, against the bone before it; the first one's bone is the palm,
    // whose splay is no bend.
    const int above = nextAbove(c.skeleton, roles, joint);
    if (above >= 0 && roles[above].role == roles[joint].role) {
        const Vec3d before = unitOrZero(c.skeleton.place(joint) - c.skeleton.place(above));
        bent = std::max(0.0, degrees(std::atan2(before.cross(bone).dot(axis), before.dot(bone))));
    } else if (!thumb) {
        bent = std::max(0.0, degrees(std::atan2(hand.along.cross(bone).dot(axis), hand.along.dot(bone))));
    }
    return axis;
}

std::string digitName(int digit) {
    static const char* names[] = {tableWord("thumb"), tableWord("index"), tableWord("middle"),
                                  tableWord("ring"), tableWord("little")};
    return digit >= 0 && digit < 5 ? names[digit] : "finger " + std::to_string(digit + 1);
}

void nameDigits(const Character& c, std::vector<JointRole>& roles,
                const std::vector<std::vector<std::string>>& words) {
    const Skeleton& sk = c.skeleton;
    const auto said = [&](int j) { // by its name
        for (const std::string& w : words[j]) {
            if (w == "index" || w == "pointer" || w == "point" || w == "fore")
                return 1;
            if (w == "middle" || w == "mid")
                return 2;
            if (w == "ring")
                return 3;
            if (w == "pinky" || w == "pinkie" || w == "little" || w == "pink" || w == "baby")
                return 4;
        }
        return 0;
    };
    const auto give = [&](int first, Role role, int digit) {
        const auto in = sk.subtree(first);
        int segment = 0;
        for (int k = first; k < sk.size(); ++k)
            if (in[k] && (roles[k].role == Role::Finger || roles[k].role == Role::Thumb)) {
                roles[k].role = role;
                roles[k].digit = digit;
                roles[k].segment = segment++;
            }
    };
    std::vector<int> wrists;
    for (int j = 0; j < sk.size(); ++j)
        if (roles[j].role == Role::Wrist)
            wrists.push_back(j);
    for (int wrist : wrists) {
        Hand hand = fingersOf(c, roles, wrist);
        // A finger of four whose first joint lies by the wrist begins with a bone of the palm.
        for (int f : hand.fingers) {
            const auto chain = chainFrom(c, roles, f);
            int skinned = 0;
            for (int k : chain)
                skinned += roles[k].role == Role::Finger && roles[k].movesSkin;
            if (skinned >= 4 && roles[f].confidence < 1 &&
                (c.skeleton.place(f) - c.skeleton.place(wrist)).norm() <
                    0.55 * (c.skeleton.place(chain[1]) - c.skeleton.place(wrist)).norm()) {
                roles[f].role = Role::Palm;
                give(chain[1], Role::Finger, roles[f].digit);
            }
        }
        hand = fingersOf(c, roles, wrist);
        // Without a thumb by name, one that begins far behind the others and points away from them is it.
        if (hand.thumb < 0 && hand.fingers.size() >= 3) {
            int best = -1;
            double most = 0;
            for (int f : hand.fingers) {
                if (said(f) || roles[f].confidence >= 1)
                    continue;
                Vec3d others = Vec3d::Zero(), way = Vec3d::Zero();
                for (int o : hand.fingers)
                    if (o != f) {
                        others += c.skeleton.place(o) / static_cast<double>(hand.fingers.size() - 1);
                        way += boneDirection(c, roles, o);
                    }
                const Vec3d along = others - c.skeleton.place(wrist);
                if (along.norm() < 1e-9)
                    continue;
                const double back =
                    1 - (c.skeleton.place(f) - c.skeleton.place(wrist)).dot(along) / along.squaredNorm();
                const double away =
                    std::acos(std::clamp(unitOrZero(way).dot(boneDirection(c, roles, f)), -1.0, 1.0));
                if (back > 0.2 && degrees(away) > 18 && back + away > most) {
                    most = back + away;
                    best = f;
                }
            }
            if (best >= 0) {
                give(best, Role::Thumb, 0);
                hand = fingersOf(c, roles, wrist);
            }
        }
        std::vector<int> row = hand.fingers;
        if (hand.thumb >= 0 && hand.across.norm() > 0.5)
            std::stable_sort(row.begin(), row.end(), [&](int a, int b) {
                return c.skeleton.place(a).dot(hand.across) > c.skeleton.place(b).dot(hand.across) + 1e-9;
            });
        int next = 1;
        for (std::size_t i = 0; i < row.size(); ++i) {
            int digit = said(row[i]);
            if (!digit) // of three the last is the little one
                digit = row.size() == 3 && i == 2 ? 4 : row.size() == 1 ? 2 : next;
            give(row[i], Role::Finger, digit);
            next = digit + 1;
        }
        if (hand.thumb >= 0)
            give(hand.thumb, Role::Thumb, 0);
        for (int k = wrist + 1; k < sk.size(); ++k) // a bone of the palm is its finger's
            if (const int p = nextAbove(sk, roles, k);
                p >= 0 && roles[p].role == Role::Palm && wristAbove(c, roles, k) == wrist &&
                (roles[k].role == Role::Finger || roles[k].role == Role::Thumb))
                roles[p].digit = roles[k].digit;
    }
    // Toes are numbered as they lie, from the inside of the foot outwards, on both feet.
    for (int j = 0; j < sk.size(); ++j)
        if (roles[j].side == Side::Right && roles[j].mirror >= 0 &&
            roles[j].role == roles[roles[j].mirror].role &&
            (roles[j].role == Role::Finger || roles[j].role == Role::Toe))
            roles[j].digit = roles[roles[j].mirror].digit;
}

} // namespace hobble
