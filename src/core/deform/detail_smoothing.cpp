#include "core/deform/detail_smoothing.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr std::size_t kGrain = 4096; // vertices worth a thread

template <class Work> void forAll(std::size_t count, Work work) {
    if (count <= kGrain) {
        work(std::size_t(0), count);
        return;
    }
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, kGrain),
                      [&](const auto& range) { work(range.begin(), range.end()); });
}

} // namespace

DetailSmoothing::DetailSmoothing(const Surface& surface, const std::vector<Vec3>& neutral, SmoothingWish wish)
    : wish_(std::move(wish)) {
    constexpr std::uint32_t none = ~0u;
    wish_.passes = std::clamp(wish_.passes, 1, 200);
    const Lists& neighbours = surface.neighbours;
    const auto border = [&](std::uint32_t v) {
        return surface.openShell[surface.shellOf[v]] && !surface.wholeRing[v];
    };
    std::vector<std::pair<std::uint32_t, float>>
        smoothed; // welded vertices, those with as many neighbours together
    for (const auto& [v, by] : wish_.where)
        if (v < surface.vertexCount() && by > 0 && neighbours.count(v) > 0 &&
            !(wish_.holdBorders && border(v)))
            smoothed.emplace_back(v, std::min(by, 1.f));
    std::stable_sort(smoothed.begin(), smoothed.end(), [&](const auto& a, const auto& b) {
        return neighbours.count(a.first) < neighbours.count(b.first);
    });
    active_ = static_cast<std::uint32_t>(smoothed.size());
    std::vector<std::uint32_t> welded, numberOf(surface.vertexCount(), none); // by number, and back
    const auto number = [&](std::uint32_t v) {
        if (numberOf[v] == none) {
            numberOf[v] = static_cast<std::uint32_t>(welded.size());
            welded.push_back(v);
        }
        return numberOf[v];
    };
    for (const auto& [v, by] : smoothed)
        number(v);
    for (std::uint32_t i = 0; i < active_; ++i) {
        const auto& [v, by] = smoothed[i];
        const auto count = static_cast<std::uint32_t>(neighbours.count(v));
        amount_.push_back(by);
        step_.push_back(static_cast<float>(wish_.strength) * by / static_cast<float>(count));
        for (auto n = neighbours.begin(v); n != neighbours.end(v); ++n)
            near_.push_back(number(*n));
        first_.push_back(static_cast<std::uint32_t>(near_.size()));
        member_.insert(member_.end(), surface.members.begin(v), surface.members.end(v));
        firstMember_.push_back(static_cast<std::uint32_t>(member_.size()));
        if (alike_.empty() || alike_.back().neighbours != count)
            alike_.push_back({i, i, count});
        ++alike_.back().to;
    }
    std::vector<Point> rest;
    for (std::uint32_t v : welded) {
        fileVertexOf_.push_back(surface.representative(v));
        rest.push_back({neutral[v].x(), neutral[v].y(), neutral[v].z(), 0});
    }
    const std::vector<Point> smooth = passed(rest);
    tangent_.resize(near_.size());
    centre_.assign(active_, {0, 0});
    detail_.assign(active_, Vec3::Zero());
    framed_.assign(active_, 0);
    for (std::uint32_t i = 0; i < active_; ++i) {
        // The way the surface faces, then two directions in it, and of each edge as much as makes the sum
        // over all edges these two: the plane map by least squares.
        const std::uint32_t v = welded[i];
        Vec3d normal = Vec3d::Zero(), longest = Vec3d::Zero();
        const Vec3d at = smooth[i].head<3>().cast<double>();
        const auto edgeTo = [&](std::uint32_t other) {
            return Vec3d(smooth[other].head<3>().cast<double>() - at);
        };
        for (auto t = surface.trianglesAt.begin(v); t != surface.trianglesAt.end(v); ++t)
            for (std::size_t k = 0; k < 3; ++k)
                if (const Triangle& f = surface.triangles[*t]; f[k] == v)
                    normal += edgeTo(numberOf[f[(k + 1) % 3]]).cross(edgeTo(numberOf[f[(k + 2) % 3]]));
        for (std::uint32_t n = first_[i]; n < first_[i + 1]; ++n)
            if (const Vec3d e = edgeTo(near_[n]); e.squaredNorm() > longest.squaredNorm())
                longest = e;
        normal = unitOrZero(normal / std::max(longest.squaredNorm(), 1e-30));
        const Vec3d u = (longest - longest.dot(normal) * normal).normalized(), w = normal.cross(u);
        if (!(normal.norm() > 0.5) || !u.allFinite())
            continue;
        Eigen::Matrix2d moments = Eigen::Matrix2d::Zero();
        for (std::uint32_t n = first_[i]; n < first_[i + 1]; ++n) {
            const Eigen::Vector2d e(edgeTo(near_[n]).dot(u), edgeTo(near_[n]).dot(w));
            moments += e * e.transpose();
        }
        if (!(moments.determinant() > 1e-6 * moments.trace() * moments.trace()))
            continue; // all its edges run one way
        const Eigen::Matrix2d back = moments.inverse();
        for (std::uint32_t n = first_[i]; n < first_[i + 1]; ++n) {
            const Eigen::Vector2d c =
                back * Eigen::Vector2d(edgeTo(near_[n]).dot(u), edgeTo(near_[n]).dot(w));
            tangent_[n] = {static_cast<float>(c.x()), static_cast<float>(c.y())};
            centre_[i][0] -= tangent_[n][0];
            centre_[i][1] -= tangent_[n][1];
        }
        Eigen::Matrix3f frame;
        framed_[i] = frameAt<0>(smooth, i, frame);
        if (framed_[i])
            detail_[i] = frame.transpose() * (rest[i] - smooth[i]).head<3>();
    }
}

// Calls `work` with runs of numbers and how many neighbours each of them has, known to the compiler where
// that is usual; 0: it is not known.
template <class Work>
void DetailSmoothing::forAlike(std::size_t from, std::size_t to, const Work& work) const {
    for (const Alike& a : alike_) {
        const auto begin = std::max(static_cast<std::uint32_t>(from), a.from),
                   end = std::min(static_cast<std::uint32_t>(to), a.to);
        if (begin >= end)
            continue;
        switch (a.neighbours) {
        case 4:
            work(begin, end, std::integral_constant<std::uint32_t, 4>());
            break;
        case 5:
            work(begin, end, std::integral_constant<std::uint32_t, 5>());
            break;
        case 6:
            work(begin, end, std::integral_constant<std::uint32_t, 6>());
            break;
        case 7:
            work(begin, end, std::integral_constant<std::uint32_t, 7>());
            break;
        case 8:
            work(begin, end, std::integral_constant<std::uint32_t, 8>());
            break;
        default:
            work(begin, end, std::integral_constant<std::uint32_t, 0>());
        }
    }
}

// Each pass from what the one before left, so that the order of vertices says nothing.
std::vector<DetailSmoothing::Point> DetailSmoothing::passed(std::vector<Point> points) const {
    std::vector<Point> next = points;
    for (int pass = 0; pass < wish_.passes; ++pass) {
        const Point* const was = points.data();
        Point* const is = next.data();
        forAll(active_, [&](std::size_t from, std::size_t to) {
            forAlike(from, to, [&](std::uint32_t begin, std::uint32_t end, auto known) {
                for (std::uint32_t i = begin; i < end; ++i) {
                    const std::uint32_t* const near = near_.data() + first_[i];
                    const std::uint32_t count = known ? known : first_[i + 1] - first_[i];
                    Point sum = was[near[0]];
#pragma GCC unroll 8
                    for (std::uint32_t n = 1; n < count; ++n)
                        sum += was[near[n]];
                    is[i] = was[i] + step_[i] * (sum - static_cast<float>(count) * was[i]);
                }
            });
        });
        points.swap(next);
    }
    return points;
}

// The plane map's two columns span the tangent plane; the rotation of the map (its polar part, in the plane)
// is where the first column and the second, turned back by a right angle, point together.
template <std::uint32_t Neighbours>
bool DetailSmoothing::frameAt(const std::vector<Point>& points, std::uint32_t i,
                              Eigen::Matrix3f& frame) const {
    const std::uint32_t begin = first_[i], count = Neighbours ? Neighbours : first_[i + 1] - begin;
    Point along = centre_[i][0] * points[i], across = centre_[i][1] * points[i];
    const std::uint32_t* const near = near_.data() + begin;
    const std::array<float, 2>* const tangent = tangent_.data() + begin;
#pragma GCC unroll 8
    for (std::uint32_t n = 0; n < count; ++n) {
        const Point& p = points[near[n]];
        along += tangent[n][0] * p;
        across += tangent[n][1] * p;
    }
    const Vec3 a = along.head<3>(), b = across.head<3>();
    const Vec3 normal = a.cross(b);
    const float area = normal.squaredNorm();
    if (!(area > 1e-12f * a.squaredNorm() * b.squaredNorm()) || !(area > 0))
        return false;
    const Vec3 z = normal / std::sqrt(area);
    const Vec3 turned = a + b.cross(z);
    const float length = turned.squaredNorm();
    if (!(length > 1e-12f * a.squaredNorm()))
        return false;
    const Vec3 x = turned / std::sqrt(length);
    frame << x, z.cross(x), z;
    return true;
}

void DetailSmoothing::smooth(std::vector<Vec3>& posed) const {
    if (active_ == 0)
        return;
    std::vector<Point> points(fileVertexOf_.size());
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec3& p = posed[fileVertexOf_[i]];
        points[i] = Point(p.x(), p.y(), p.z(), 0);
    }
    const std::vector<Point> smoothed = passed(std::move(points));
    forAll(active_, [&](std::size_t from, std::size_t to) {
        forAlike(from, to, [&](std::uint32_t begin, std::uint32_t end, auto known) {
            for (std::uint32_t i = begin; i < end; ++i) {
                Eigen::Matrix3f frame;
                if (!framed_[i] || !frameAt<known>(smoothed, i, frame))
                    continue; // no way the surface faces: left as it is
                const Vec3 there = smoothed[i].head<3>() + frame * detail_[i];
                for (std::uint32_t m = firstMember_[i]; m < firstMember_[i + 1]; ++m)
                    posed[member_[m]] = there;
            }
        });
    });
}

std::vector<std::pair<std::uint32_t, float>> DetailSmoothing::amounts() const {
    std::vector<std::pair<std::uint32_t, float>> out;
    for (std::uint32_t i = 0; i < active_; ++i)
        for (std::uint32_t m = firstMember_[i]; m < firstMember_[i + 1]; ++m)
            out.emplace_back(member_[m], amount_[i]);
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace hobble
