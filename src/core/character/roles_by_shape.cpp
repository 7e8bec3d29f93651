#include "core/character/roles_by_shape.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

class ByShape {
public:
    ByShape(const Character& c, const MirrorPlane& plane, const std::vector<double>& reachesDown)
        : sk_(c.skeleton), plane_(plane), out_(sk_.name.size()), children_(sk_.children()),
          holds_(holdsSkin(c)), down_(reachesDown), reach_(sk_.name.size(), 0.0) {
        for (int j = 0; j < sk_.size(); ++j) {
            low_ = std::min(low_, down_[static_cast<std::size_t>(j)]);
            high_ = std::max(high_, place(j).y());
        }
        for (int j = sk_.size() - 1; j >= 0; --j)
            if (const int p = sk_.parent[j]; p >= 0)
                reach_[p] = std::max(reach_[p], reach_[j] + (place(j) - place(p)).norm());
    }

    std::vector<JointRole> make() {
        if (!plane_.found)
            return std::move(out_);
        findLimbs();
        findPelvis();
        if (pelvis_ < 0)
            return std::move(out_);
        findForward();
        giveSides();
        trunk();
        for (const Limb& l : limbs_)
            limb(l);
        for (JointRole& r : out_)
            if (r.role != Role::Unknown) {
                r.confidence = 0.5f;
                r.basis = "place";
            }
        return std::move(out_);
    }

private:
    struct Limb {
        std::vector<int> path; // from the trunk outwards, to the leaf
        int attached = -1;     // joint of the trunk
        bool leg = false;
    };

    const Skeleton& sk_;
    const MirrorPlane& plane_;
    std::vector<JointRole> out_;
    std::vector<std::vector<int>> children_;
    std::vector<char> holds_;
    const std::vector<double>& down_; // per joint: how far down it and its skin reach
    std::vector<double> reach_;       // per joint: length of the longest chain below it
    double low_ = 1e300, high_ = -1e300;
    std::vector<Limb> limbs_;
    std::vector<int> spine_; // from the pelvis to the head, both in it
    int pelvis_ = -1;
    bool quadruped_ = false, legless_ = false;
    Vec3d forward_ = Vec3d::UnitZ();

    Vec3d place(int j) const { return sk_.neutralWorld[j].translation(); }
    bool middle(int j) const { return plane_.partner[j] == j; }
    double tall() const { return std::max(high_ - low_, 1e-9); }

    int longestChild(int j) const {
        int best = -1;
        double most = -1;
        for (int k : children_[j])
            if (const double r = reach_[k] + (place(k) - place(j)).norm(); r > most) {
                most = r;
                best = k;
            }
        return best;
    }

    void findLimbs() {
        for (int j = 0; j < sk_.size(); ++j) {
            const int p = sk_.parent[j];
            if (p < 0 || middle(j) || !middle(p) || plane_.partner[j] < 0)
                continue;
            Limb l;
            l.attached = p;
            for (int k = j; k >= 0; k = longestChild(k))
                l.path.push_back(k);
            double lowest = 1e300;
            for (int k : l.path)
                lowest = std::min(lowest, down_[static_cast<std::size_t>(k)]);
            l.leg = lowest < low_ + 0.15 * tall() && l.path.size() >= 2 &&
                    place(l.path.front()).y() > low_ + 0.25 * tall();
            limbs_.push_back(std::move(l));
        }
    }

    std::vector<int> upFrom(int j) const {
        std::vector<int> out;
        for (; j >= 0; j = sk_.parent[j])
            out.push_back(j);
        return out;
    }

    // Legs at one place of the trunk are a biped's, at two a quadruped's; the head is the end of the trunk
    // that carries pairs of its own or stands higher, and the legs away from it are the hind ones.
    void findPelvis() {
        std::vector<int> at;
        for (const Limb& l : limbs_)
            if (l.leg && std::find(at.begin(), at.end(), l.attached) == at.end())
                at.push_back(l.attached);
        legless_ = at.empty();
        int head = -1;
        double best = -1e300;
        for (int j = 0; j < sk_.size(); ++j) {
            if (!middle(j) ||
                std::any_of(children_[j].begin(), children_[j].end(), [&](int k) { return middle(k); }))
                continue;
            double worth = (place(j).y() - low_) / tall();
            for (int k : upFrom(j)) // pairs nearby: ears, eyes
                if ((place(k) - place(j)).norm() < 0.25 * tall())
                    for (int n : children_[k])
                        worth += !middle(n) && reach_[n] < 0.2 * tall() ? 0.1 : 0;
            if (worth > best) {
                best = worth;
                head = j;
            }
        }
        if (head < 0)
            return;
        if (legless_)
            at.push_back(upFrom(head).back());
        std::stable_sort(at.begin(), at.end(), [&](int a, int b) {
            return (place(a) - place(head)).norm() > (place(b) - place(head)).norm();
        });
        pelvis_ = at.front();
        quadruped_ = at.size() > 1;
        // up from the head to where the way down to the pelvis begins
        const std::vector<int> above = upFrom(pelvis_);
        for (int j : upFrom(head)) {
            const bool shared = std::find(above.begin(), above.end(), j) != above.end();
            if (shared && j != pelvis_)
                break;
            spine_.push_back(j);
            if (shared)
                break;
        }
        if (spine_.empty() || spine_.back() != pelvis_)
            spine_.push_back(pelvis_);
        std::reverse(spine_.begin(), spine_.end());
    }

    void findForward() {
        Vec3d ahead = Vec3d::Zero();
        if (quadruped_) {
            ahead = place(spine_.back()) - place(pelvis_);
        } else {
            for (const Limb& l : limbs_)
                if (l.leg && l.path.size() >= 3) { // the foot points ahead of the ankle
                    const int toe = l.path.back(), heel = l.path[std::min<std::size_t>(2, l.path.size() - 2)];
                    ahead += place(toe) - place(heel);
                }
        }
        ahead.y() = 0;
        ahead -= ahead.dot(plane_.normal) * plane_.normal;
        forward_ = ahead.norm() > 0.01 * tall()                        ? Vec3d(ahead.normalized())
                   : std::abs(plane_.normal.dot(Vec3d::UnitZ())) < 0.5 ? Vec3d::UnitZ()
                                                                       : Vec3d::UnitX();
    }

    void giveSides() {
        const double leftSign = plane_.normal.dot(Vec3d::UnitY().cross(forward_)) > 0 ? 1 : -1;
        for (int j = 0; j < sk_.size(); ++j)
            if (!middle(j) && plane_.partner[j] >= 0)
                out_[j].side = leftSign * plane_.distance(place(j)) > 0 ? Side::Left : Side::Right;
    }

    void trunk() {
        for (int j = sk_.parent[pelvis_]; j >= 0; j = sk_.parent[j])
            out_[j].role = Role::Root;
        std::size_t chest = 0; // the last joint of the spine that a long limb hangs on
        for (const Limb& l : limbs_)
            for (std::size_t i = 1; i < spine_.size(); ++i)
                if (spine_[i] == l.attached && reach_[l.path.front()] > 0.2 * tall())
                    chest = std::max(chest, i);
        // The head is where pairs hang that are short: eyes, ears, lids; what goes on beyond it is the jaw.
        std::size_t head = spine_.size() - 1;
        while (head > chest + 1 && !holds_[spine_[head]] && children_[spine_[head]].empty())
            out_[spine_[head--]].role = Role::End;
        for (std::size_t i = chest + 1; i < head; ++i)
            if (std::any_of(children_[spine_[i]].begin(), children_[spine_[i]].end(),
                            [&](int k) { return !middle(k) && reach_[k] < 0.2 * tall(); })) {
                for (std::size_t k = i + 1; k <= head; ++k)
                    out_[spine_[k]].role = Role::Jaw;
                head = i;
            }
        if (chest == 0)
            chest = head > 2 ? head - 2 : 0;
        for (std::size_t i = 0; i <= head; ++i)
            out_[spine_[i]].role = i == 0       ? (legless_ ? Role::Root : Role::Pelvis)
                                   : i <= chest ? Role::Spine
                                   : i < head   ? Role::Neck
                                                : Role::Head;
        // other chains of the middle: a tail at the pelvis, a jaw at the head
        for (int j = 0; j < sk_.size(); ++j) {
            const int p = sk_.parent[j];
            if (p < 0 || !middle(j) || out_[j].role != Role::Unknown)
                continue;
            if (out_[p].role == Role::Tail || out_[p].role == Role::Jaw)
                out_[j].role = holds_[j] ? out_[p].role : Role::End;
            else if ((p == pelvis_ || out_[p].role == Role::Root) &&
                     reach_[j] + (place(j) - place(p)).norm() > 0.1 * tall())
                out_[j].role = Role::Tail;
            else if (out_[p].role == Role::Head && (place(j) - place(p)).dot(forward_) > 0)
                out_[j].role = Role::Jaw;
        }
    }

    // A leaf on the line between a joint and the next shares that bone's roll.
    bool twistBeside(int j, int next) const {
        const Vec3d bone = place(next) - place(sk_.parent[j]), to = place(j) - place(sk_.parent[j]);
        const double length = bone.norm(), along = length > 0 ? to.dot(bone) / length : 0;
        return children_[j].empty() && along > 0.05 * length && along < 0.95 * length &&
               (to - along * bone / length).norm() < 0.1 * length;
    }

    void limb(const Limb& l) {
        const Role at = out_[l.attached].role;
        std::vector<int> path = l.path;
        while (path.size() > 1 && !holds_[path.back()]) {
            out_[path.back()].role = Role::End;
            path.pop_back();
        }
        for (std::size_t i = 0; i + 1 < path.size(); ++i)
            for (int k : children_[path[i]])
                if (k != path[i + 1] && twistBeside(k, path[i + 1]))
                    out_[k].role = Role::Twist;
        if (at == Role::Head || at == Role::Neck) {
            head(path);
            return;
        }
        const std::vector<std::pair<int, int>> doubled =
            l.leg ? takeDoubled(path) : std::vector<std::pair<int, int>>();
        // where it fans out is the hand or the foot
        std::size_t fan = path.size();
        for (std::size_t i = 1; i < path.size() && fan == path.size(); ++i) {
            std::size_t chains = 0;
            for (int k : children_[path[i]])
                chains +=
                    out_[k].role != Role::Twist && !middle(k) && (reach_[k] > 0 || i + 2 >= path.size());
            if (chains >= 3)
                fan = i;
        }
        const bool fore = quadruped_ && l.leg && l.attached != pelvis_;
        nameLimb(l, path, fan, fore, at);
        for (const auto& [second, first] : doubled) {
            out_[second].role = out_[first].role;
            out_[second].fore = out_[first].fore;
        }
    }

    // A knee of two joints: what stands close below another is taken out of the path, with the one it
    // doubles. A foot's joints lie close by nature.
    std::vector<std::pair<int, int>> takeDoubled(std::vector<int>& path) const {
        double length = 0;
        for (std::size_t i = 1; i < path.size(); ++i)
            length += (place(path[i]) - place(path[i - 1])).norm();
        std::vector<std::pair<int, int>> out;
        for (std::size_t i = 2; i + 2 < path.size();)
            if ((place(path[i]) - place(path[i - 1])).norm() < 0.07 * length) {
                out.push_back({path[i], path[i - 1]});
                path.erase(path.begin() + static_cast<std::ptrdiff_t>(i));
            } else {
                ++i;
            }
        return out;
    }

    // Of a leg that stands straight and has more joints than a man's: the ankle is low, the knee half way to
    // it, and what lies between shares their rolls. False where it is no such leg.
    bool longLeg(const std::vector<int>& path) {
        const double hip = place(path[0]).y() - low_;
        const auto height = [&](std::size_t i) { return (place(path[i]).y() - low_) / std::max(hip, 1e-9); };
        std::size_t ankle = 2;
        for (std::size_t i = 3; i < path.size(); ++i)
            if (std::abs(height(i) - 0.09) < std::abs(height(ankle) - 0.09))
                ankle = i;
        const Vec3d bone = place(path[ankle]) - place(path[0]);
        for (std::size_t i = 1; i < ankle; ++i)
            if ((place(path[i]) - place(path[0])).cross(bone).norm() > 0.1 * bone.squaredNorm())
                return false;
        std::size_t knee = 1;
        for (std::size_t i = 2; i < ankle; ++i)
            if (std::abs(height(i) - 0.54) < std::abs(height(knee) - 0.54))
                knee = i;
        for (std::size_t i = 0; i < path.size(); ++i)
            out_[path[i]].role = i == 0       ? Role::Hip
                                 : i == knee  ? Role::Knee
                                 : i == ankle ? Role::Ankle
                                 : i < ankle  ? Role::Twist
                                              : Role::Toe;
        digits(path[ankle], Role::Toe);
        return true;
    }

    void nameLimb(const Limb& l, const std::vector<int>& path, std::size_t fan, bool fore, Role at) {
        if (l.leg && !quadruped_ && path.size() >= 5 && longLeg(path))
            return;
        if (l.leg && !fore) {
            static const Role biped[] = {Role::Hip, Role::Knee, Role::Ankle, Role::Toe};
            static const Role hind[] = {Role::Hip, Role::Knee, Role::Ankle, Role::Fetlock, Role::Toe};
            const bool longer = quadruped_ && path.size() >= 5;
            for (std::size_t i = 0; i < path.size(); ++i)
                out_[path[i]].role =
                    longer ? hind[std::min<std::size_t>(i, 4)] : biped[std::min<std::size_t>(i, 3)];
            if (path.size() > 2)
                digits(path[std::min<std::size_t>(2, path.size() - 1)], Role::Toe);
            return;
        }
        if (at == Role::Pelvis || at == Role::Root || path.size() < 3)
            return; // skirts, straps and pouches
        std::size_t wrist = fan < path.size() ? fan : std::min<std::size_t>(path.size() - 1, 3);
        if (fan == path.size()) { // short first bone: a collarbone
            const double first = (place(path[1]) - place(path[0])).norm(),
                         second = path.size() > 2 ? (place(path[2]) - place(path[1])).norm() : 0;
            wrist = fore ? foreWrist(path) : path.size() >= 4 && first < 0.8 * second ? 3 : 2;
        }
        if (wrist < 2)
            return;
        out_[path[wrist]].role = Role::Wrist;
        out_[path[wrist - 1]].role = Role::Elbow;
        out_[path[wrist - 2]].role = Role::Shoulder;
        for (std::size_t i = 0; i + 2 < wrist; ++i)
            out_[path[i]].role = fore ? Role::Scapula : Role::Collarbone;
        if (fore)
            for (int j : path)
                out_[j].fore = true;
        if (fan < path.size() && !fore) {
            fingers(path[wrist]);
        } else {
            for (std::size_t i = wrist + 1; i < path.size(); ++i)
                out_[path[i]].role =
                    fore ? (i == wrist + 1 && path.size() > i + 1 ? Role::Fetlock : Role::Toe) : Role::Finger;
            if (fore)
                digits(path[wrist], Role::Toe);
        }
    }

    // A fore leg's wrist is a third of the way up to where the leg hangs from, with a shoulder blade above or
    // without.
    std::size_t foreWrist(const std::vector<int>& path) const {
        const int girdle = sk_.parent[path[0]];
        const double tall = girdle >= 0 ? place(girdle).y() - low_ : 0;
        if (path.size() < 4 || tall <= 0)
            return 2;
        const auto off = [&](std::size_t i) { return std::abs((place(path[i]).y() - low_) / tall - 0.3); };
        return off(3) < off(2) ? 3 : 2;
    }

    void chainOf(int root, Role role) {
        for (int j = root; j >= 0; j = longestChild(j))
            out_[j].role = holds_[j] || !children_[j].empty() ? role : Role::End;
    }

    void digits(int foot, Role role) {
        for (int k : children_[foot])
            if (out_[k].role == Role::Unknown)
                chainOf(k, role);
    }

    // The thumb points away from the others, or leaves the hand nearer the wrist.
    void fingers(int hand) {
        std::vector<std::pair<int, Vec3d>> chains;
        for (int k : children_[hand])
            if (out_[k].role != Role::Twist) {
                int tip = k;
                while (longestChild(tip) >= 0)
                    tip = longestChild(tip);
                const Vec3d d = tip == k ? Vec3d(place(k) - place(hand)) : Vec3d(place(tip) - place(k));
                if (d.norm() > 1e-9)
                    chains.push_back({k, d.normalized()});
            }
        int thumb = -1;
        double least = std::cos(radians(20));
        for (const auto& [k, d] : chains) {
            Vec3d others = Vec3d::Zero();
            for (const auto& [n, e] : chains)
                if (n != k)
                    others += e;
            if (others.norm() > 1e-9 && d.dot(others.normalized()) < least) {
                least = d.dot(others.normalized());
                thumb = k;
            }
        }
        for (const auto& [k, d] : chains)
            chainOf(k, k == thumb ? Role::Thumb : Role::Finger);
    }

    void head(const std::vector<int>& path) {
        const Vec3d from = place(path.front()) - place(sk_.parent[path.front()]);
        const bool above = from.y() > 0.04 * tall() && from.y() > 0.7 * std::abs(from.dot(forward_));
        for (int j : path)
            out_[j].role = path.size() > 1 || above ? Role::Ear : Role::Eye;
    }
};

} // namespace

std::vector<JointRole> rolesByShape(const Character& c, const MirrorPlane& plane,
                                    const std::vector<double>& reachesDown) {
    return ByShape(c, plane, reachesDown).make();
}

} // namespace hobble
