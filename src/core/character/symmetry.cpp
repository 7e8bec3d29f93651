#include "core/character/symmetry.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace hobble {

namespace {

class Search {
public:
    explicit Search(const Character& c) : sk_(c.skeleton), tolerance_(0.02) {
        Vec3d low = Vec3d::Constant(1e300), high = -low;
        for (const Transform& t : sk_.neutralWorld) {
            place_.push_back(t.translation());
            low = low.cwiseMin(place_.back());
            high = high.cwiseMax(place_.back());
        }
        size_ = std::max((high - low).norm(), 1e-9);
        tolerance_ *= size_;
        const auto children = sk_.children();
        below_.assign(place_.size(), 1);
        for (int j = sk_.size() - 1; j >= 0; --j) {
            if (sk_.parent[j] >= 0)
                below_[sk_.parent[j]] += below_[j];
        }
        for (int j = 0; j < sk_.size(); ++j)
            branches_.push_back(static_cast<int>(children[j].size()));
        for (std::size_t j = 0; j < place_.size(); ++j)
            cells_[cellOf(place_[j], 0, 0, 0)].push_back(j);
    }

    void tryPlane(const Vec3d& normal, double offset, const char* basis) {
        MirrorPlane p;
        p.normal = normal.normalized();
        p.offset = offset;
        p.basis = basis;
        p.partner.assign(place_.size(), -1);
        std::size_t matched = 0, off = 0;
        for (std::size_t j = 0; j < place_.size(); ++j) {
            const Vec3d to = p.mirrored(place_[j]);
            double nearest = tolerance_;
            eachNear(to, [&](std::size_t k) {
                if (branches_[k] != branches_[j] || below_[k] != below_[j])
                    return;
                // of several at one place, itself; of several as near, the first
                const double d = (place_[k] - to).norm() - (k == j ? 1e-6 * size_ : 0);
                if (d < nearest || (d == nearest && static_cast<int>(k) < p.partner[j])) {
                    nearest = d;
                    p.partner[j] = static_cast<int>(k);
                }
            });
            matched += p.partner[j] >= 0;
            off += p.partner[j] >= 0 && p.partner[j] != static_cast<int>(j);
        }
        p.matched = place_.empty() ? 0 : static_cast<double>(matched) / static_cast<double>(place_.size());
        // A plane that all joints lie in mirrors everything onto itself and says nothing.
        p.found = off >= 2 && p.matched >= 0.5;
        const double worth = p.found ? p.matched + 1e-3 * static_cast<double>(off) : 0;
        if (worth > worth_ + 1e-9) {
            worth_ = worth;
            best_ = p;
        }
    }

    double medianAlong(const Vec3d& normal) const {
        std::vector<double> all;
        for (const Vec3d& p : place_)
            all.push_back(p.dot(normal));
        if (all.empty())
            return 0;
        std::nth_element(all.begin(), all.begin() + all.size() / 2, all.end());
        return all[all.size() / 2];
    }

    MirrorPlane best_;

    // Siblings that carry as much as each other may be left and right.
    void trySiblings() {
        const auto children = sk_.children();
        const int most = sk_.size() > 500 ? 12 : 60; // each looks at every joint
        int tried = 0;
        for (const auto& list : children)
            for (std::size_t a = 0; a < list.size(); ++a)
                for (std::size_t b = a + 1; b < list.size() && tried < most; ++b) {
                    const int j = list[a], k = list[b];
                    const Vec3d across = place_[k] - place_[j];
                    if (below_[j] != below_[k] || below_[j] < 2 || across.norm() < 0.01 * size_)
                        continue;
                    ++tried;
                    const Vec3d n = across.normalized();
                    tryPlane(n, n.dot(0.5 * (place_[j] + place_[k])), "the tree");
                }
    }

private:
    const Skeleton& sk_;
    std::vector<Vec3d> place_;
    std::vector<int> below_, branches_; // per joint: joints at or below it, and its children
    double size_ = 1, tolerance_, worth_ = 0;
    std::unordered_map<std::uint64_t, std::vector<std::size_t>> cells_; // a tolerance wide

    std::uint64_t cellOf(const Vec3d& p, int dx, int dy, int dz) const {
        const auto at = [&](double x, int d) {
            return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(x / tolerance_)) + d) &
                   0x1FFFFF;
        };
        return at(p.x(), dx) << 42 | at(p.y(), dy) << 21 | at(p.z(), dz);
    }

    // Every joint within a tolerance of a place, and some beyond.
    template <class F> void eachNear(const Vec3d& p, const F& f) const {
        for (int d = 0; d < 27; ++d)
            if (const auto it = cells_.find(cellOf(p, d % 3 - 1, d / 3 % 3 - 1, d / 9 - 1));
                it != cells_.end())
                for (std::size_t k : it->second)
                    f(k);
    }
};

} // namespace

MirrorPlane findMirrorPlane(const Character& c, const std::vector<std::pair<int, int>>& pairs) {
    if (c.skeleton.size() < 3 || c.skeleton.size() > 4000)
        return {};
    Search search(c);
    const auto place = [&](int j) { return Vec3d(c.skeleton.neutralWorld[j].translation()); };
    Vec3d toLeft = Vec3d::Zero();
    for (const auto& [left, right] : pairs)
        toLeft += place(left) - place(right);
    if (toLeft.norm() > 1e-9) {
        // a pair or two out of place tilt the mean: so the axis it nearly follows is tried too
        int axis;
        toLeft.cwiseAbs().maxCoeff(&axis);
        for (const Vec3d& n :
             {Vec3d(toLeft.normalized()), Vec3d((toLeft[axis] < 0 ? -1.0 : 1.0) * Vec3d::Unit(axis))}) {
            std::vector<double> middle;
            for (const auto& [left, right] : pairs)
                middle.push_back(n.dot(0.5 * (place(left) + place(right))));
            std::nth_element(middle.begin(), middle.begin() + middle.size() / 2, middle.end());
            search.tryPlane(n, middle[middle.size() / 2], "paired names");
        }
    }
    if (search.best_.matched < 0.9)
        search.trySiblings();
    if (search.best_.matched < 0.9)
        for (int axis = 0; axis < 3; ++axis) {
            const Vec3d n = Vec3d::Unit(axis);
            search.tryPlane(n, 0, "the axes");
            search.tryPlane(n, search.medianAlong(n), "the axes");
        }
    MirrorPlane out = search.best_;
    if (out.found && toLeft.norm() > 1e-9 && out.normal.dot(toLeft) < 0) {
        out.normal = -out.normal;
        out.offset = -out.offset;
    }
    return out;
}

} // namespace hobble
