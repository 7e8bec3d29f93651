#include "core/measure/torn_limbs.h"

#include <algorithm>
#include <map>

namespace hobble {

namespace {

constexpr double kLeastRim = 0.6;     // of a rim that lies elsewhere, for a limb to be called torn
constexpr double kStillJoined = 0.12; // of a rim that is with what it hangs from: then it does follow
constexpr int kNearBones = 2; // as far from what they hang from neighbours may well lie: fingers, lips, legs
constexpr std::size_t kLeastEdges = 4; // a rim

using Rims =
    std::map<std::pair<int, int>, std::size_t>; // edges between the skin two joints hold most, lesser first

Rims rimsOf(const Surface& s) {
    Rims out;
    const auto holder = [&](std::uint32_t v) {
        return s.weights.first[v] < s.weights.first[v + 1]
                   ? static_cast<int>(s.weights.joint[s.weights.first[v]])
                   : -1;
    };
    for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n) {
            const int a = holder(v), b = holder(*n);
            if (*n > v && a >= 0 && b >= 0 && a != b)
                ++out[{std::min(a, b), std::max(a, b)}];
        }
    return out;
}

class Look {
public:
    Look(const Skeleton& sk, const Surface& s) : sk_(sk), rims_(rimsOf(s)), held_(sk.name.size(), 0) {
        for (std::uint32_t v = 0; v < s.vertexCount(); ++v)
            if (s.weights.first[v] < s.weights.first[v + 1])
                ++held_[s.weights.joint[s.weights.first[v]]];
    }

    TreeAndSkin take() {
        TreeAndSkin out;
        findFlat(out);
        if (out.flatUnder >= 0)
            return out;
        for (int j = 0; j < sk_.size(); ++j)
            if (held_[j] > 0)
                findTorn(j, out);
        // Where each of two is torn off the other, the one that carries less is.
        std::vector<TornLimb> kept;
        for (const TornLimb& a : out.torn) {
            const bool lesser = std::none_of(out.torn.begin(), out.torn.end(), [&](const TornLimb& b) {
                return b.joint != a.joint && sk_.subtree(a.joint)[b.continues] &&
                       sk_.subtree(b.joint)[a.continues] &&
                       std::pair(held(b.joint), b.joint) < std::pair(held(a.joint), a.joint);
            });
            if (lesser)
                kept.push_back(a);
        }
        out.torn = std::move(kept);
        return out;
    }

private:
    const Skeleton& sk_;
    Rims rims_;
    std::vector<std::size_t> held_; // per joint, vertices it holds most

    int skinAbove(int joint) const {
        int a = sk_.parent[joint];
        while (a >= 0 && held_[a] == 0)
            a = sk_.parent[a];
        return a;
    }

    // Bones between two that hold skin, those that hold none not counted; the lesser one lies above.
    int skinBones(int from, int above) const {
        int count = 0;
        for (int j = from; j >= 0 && j != above; j = sk_.parent[j])
            count += held_[j] > 0;
        return count;
    }

    // By walking up: asked of every joint and every rim, a list of all below would be felt.
    bool hangsFrom(int joint, int above) const {
        while (joint >= 0 && joint != above)
            joint = sk_.parent[joint];
        return joint == above;
    }

    void findTorn(int joint, TreeAndSkin& out) const {
        const std::vector<char> own = sk_.subtree(joint);
        const int home = skinAbove(joint);
        for (int j = sk_.parent[joint]; j >= 0 && j != home; j = sk_.parent[j])
            for (const TornLimb& t : out.torn) // told at the first of what is torn
                if (t.joint == j)
                    return;
        if (home >= 0)
            for (const TornLimb& t : out.torn)
                if (hangsFrom(joint, t.joint))
                    return;
        std::map<int, std::size_t> elsewhere;
        std::size_t all = 0, away = 0, joined = 0;
        const std::vector<char> within = home >= 0 ? sk_.subtree(home) : std::vector<char>(own.size(), 0);
        for (const auto& [pair, edges] : rims_) {
            const auto [a, b] = pair;
            if (own[a] == own[b])
                continue;
            const int other = own[a] ? b : a;
            all += edges;
            joined += other == home ? edges : 0;
            const bool above = hangsFrom(joint, other);
            const bool near = home >= 0 && within[other] && skinBones(other, home) <= kNearBones;
            if (above || near)
                continue;
            away += edges;
            elsewhere[other] += edges;
        }
        if (away < kLeastEdges || static_cast<double>(away) < kLeastRim * static_cast<double>(all) ||
            static_cast<double>(joined) >
                kStillJoined * static_cast<double>(all)) // grown together with its fellows
            return;
        const auto most = std::max_element(elsewhere.begin(), elsewhere.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        if (home < 0 && skinAbove(most->first) < 0) // a base in two pieces: neither moves the other by itself
            return;
        // Of two that lie side by side the one further out is torn off: it has less below it.
        if (held(most->first) < held(joint) && sk_.parent[most->first] >= 0 &&
            skinAbove(most->first) != most->first && tornOff(most->first))
            return;
        out.torn.push_back({joint, most->first, sk_.parent[joint],
                            static_cast<double>(most->second) / static_cast<double>(all)});
    }

    std::size_t held(int joint) const {
        const std::vector<char> in = sk_.subtree(joint);
        std::size_t sum = 0;
        for (std::size_t j = 0; j < in.size(); ++j)
            sum += in[j] ? held_[j] : 0;
        return sum;
    }

    // Whether neither what a joint hangs from, nor what hangs from the same, holds any of the skin around it:
    // of joints that share a roll the last touches only its fellow.
    bool tornOff(int joint) const {
        const int home = skinAbove(joint);
        const std::vector<char> fellows =
            home >= 0 ? sk_.subtree(home) : std::vector<char>(sk_.name.size(), 0);
        return std::none_of(rims_.begin(), rims_.end(), [&](const auto& rim) {
            const auto [a, b] = rim.first;
            if (a != joint && b != joint)
                return false;
            const int other = a == joint ? b : a;
            return hangsFrom(joint, other) || fellows[static_cast<std::size_t>(other)] != 0;
        });
    }

    void findFlat(TreeAndSkin& out) const {
        std::map<int, std::size_t> children;
        std::size_t holding = 0, all = 0;
        for (int j = 0; j < sk_.size(); ++j) {
            all += held_[j];
            if (held_[j] == 0)
                continue;
            ++holding;
            int above = sk_.parent[j];
            while (above >= 0 && held_[above] == 0 && sk_.parent[above] >= 0) // each below a node of its own
                above = sk_.parent[above];
            ++children[above];
        }
        if (holding < 8)
            return;
        const auto most = std::max_element(children.begin(), children.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        const int under = most->first;
        const std::size_t own = under >= 0 ? held_[under] : 0;
        if (most->second * 10 < holding * 8 || own * 8 > all)
            return;
        // Joints around one (a head's face) lie on it; of chains most lie on one another only.
        std::size_t onEachOther = 0;
        for (int j = 0; j < sk_.size(); ++j)
            if (held_[j] > 0 && j != under &&
                (under < 0 || !rims_.count({std::min(under, j), std::max(under, j)})))
                ++onEachOther;
        if (onEachOther * 10 < most->second * 6)
            return;
        out.flatUnder = under >= 0 ? under : 0;
        chains(out);
    }

    // The shortest tree over joints whose skin lies side by side (Prim 1957), from the middle of the body:
    // the joint from which the farthest is nearest.
    void chains(TreeAndSkin& out) const {
        const auto n = sk_.name.size();
        const auto place = [&](std::size_t j) { return Vec3d(sk_.neutralWorld[j].translation()); };
        Vec3d middle = Vec3d::Zero();
        double count = 0;
        for (std::size_t j = 0; j < n; ++j)
            if (held_[j] > 0) {
                middle += place(j);
                ++count;
            }
        middle /= std::max(count, 1.0);
        std::size_t root = 0;
        double nearest = 1e300;
        for (std::size_t j = 0; j < n; ++j)
            if (held_[j] > 0 && (place(j) - middle).norm() < nearest) {
                nearest = (place(j) - middle).norm();
                root = j;
            }
        out.parentByPlace.assign(n, -1);
        std::vector<char> in(n, 0);
        in[root] = 1;
        while (true) {
            double best = 1e300;
            int from = -1, to = -1;
            for (const auto& [pair, edges] : rims_) {
                const auto [a, b] = pair;
                if (in[a] == in[b] || edges < kLeastEdges / 2)
                    continue;
                if (const double d = (place(a) - place(b)).norm(); d < best) {
                    best = d;
                    from = in[a] ? a : b;
                    to = in[a] ? b : a;
                }
            }
            if (to < 0)
                break;
            in[to] = 1;
            out.parentByPlace[to] = from;
        }
        for (int j = 0; j < sk_.size(); ++j)
            if (const int p = out.parentByPlace[j]; p >= 0 && p != sk_.parent[j])
                out.torn.push_back({j, p, sk_.parent[j], 1});
    }
};

} // namespace

TreeAndSkin treeAndSkin(const Skeleton& skeleton, const Surface& surface) {
    return Look(skeleton, surface).take();
}

} // namespace hobble
