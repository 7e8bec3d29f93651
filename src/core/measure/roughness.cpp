#include "core/measure/roughness.h"

#include "core/measure/region.h"

#include <cmath>

namespace hobble {

namespace {

Vec3 normalAt(const Surface& s, const std::vector<Vec3>& p, std::uint32_t v) {
    Vec3 n = Vec3::Zero();
    for (auto t = s.trianglesAt.begin(v); t != s.trianglesAt.end(v); ++t) {
        const Triangle& f = s.triangles[*t];
        n += (p[f[1]] - p[f[0]]).cross(p[f[2]] - p[f[0]]);
    }
    const float length = n.norm();
    return length > 0 ? Vec3(n / length) : Vec3(Vec3::Zero());
}

Vec3 laplacian(const Surface& s, const std::vector<Vec3>& p, std::uint32_t v) {
    Vec3 sum = Vec3::Zero();
    for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n)
        sum += p[*n];
    return sum / static_cast<float>(s.neighbours.count(v)) - p[v];
}

} // namespace

std::vector<RestRing> restRings(const Surface& s, const std::vector<Vec3>& p) {
    std::vector<RestRing> out(s.vertexCount());
    for (std::uint32_t v = 0; v < out.size(); ++v) {
        if (s.neighbours.count(v) == 0)
            continue;
        out[v].delta = laplacian(s, p, v);
        out[v].normal = normalAt(s, p, v);
        for (auto n = s.neighbours.begin(v); n != s.neighbours.end(v); ++n)
            out[v].edge += (p[*n] - p[v]).norm() / static_cast<float>(s.neighbours.count(v));
    }
    return out;
}

Eigen::Matrix3f nearestRotation(const Eigen::Matrix3f& m) {
    // Newton's iteration with the scaling of Higham's equation 3.10; a reflection or a flat matrix takes the
    // SVD.
    const float size = m.norm();
    if (!(size > 1e-20f))
        return Eigen::Matrix3f::Identity();
    Eigen::Matrix3f x = m / size;
    for (int i = 0; i < 12; ++i) {
        Eigen::Matrix3f cofactor;
        cofactor.col(0) = x.col(1).cross(x.col(2));
        cofactor.col(1) = x.col(2).cross(x.col(0));
        cofactor.col(2) = x.col(0).cross(x.col(1));
        const float det = x.col(0).dot(cofactor.col(0));
        if (det < 1e-6f)
            return closestRotation(m.cast<double>()).cast<float>();
        const Eigen::Matrix3f inverseT = cofactor / det;
        const float g = std::sqrt(std::sqrt(inverseT.squaredNorm() / x.squaredNorm()));
        const Eigen::Matrix3f next = 0.5f * (g * x + inverseT / g);
        const float change = (next - x).squaredNorm();
        x = next;
        if (change < 1e-10f)
            break;
    }
    return x;
}

void roughnessAt(const Subject& s, const MotionRegion& region, std::size_t place,
                 const std::vector<Vec3>& posed, Roughness& out) {
    const Surface& f = s.surface;
    const std::uint32_t v = region.vertices[place];
    const RestRing& rest = s.rings[v];
    if (rest.edge <= 0)
        return;
    Eigen::Matrix3f m = Eigen::Matrix3f::Zero();
    for (auto n = f.neighbours.begin(v); n != f.neighbours.end(v); ++n)
        m += (posed[*n] - posed[v]) * (s.neutral[*n] - s.neutral[v]).transpose();
    m += rest.edge * rest.edge * normalAt(f, posed, v) * rest.normal.transpose();
    out.rotation[place] = nearestRotation(m);
    out.value[place] = (laplacian(f, posed, v) - out.rotation[place] * rest.delta).norm() / rest.edge;
}

void roughness(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed, Roughness& out) {
    out.value.assign(region.vertices.size(), 0.f);
    out.rotation.assign(region.vertices.size(), Eigen::Matrix3f::Identity());
    for (std::size_t i = 0; i < region.vertices.size(); ++i)
        roughnessAt(s, region, i, posed, out);
}

RingLanes ringLanes(const Subject& s, const MotionRegion& region) {
    constexpr std::size_t lanes = RingLanes::kLanes;
    RingLanes out;
    std::vector<std::vector<std::uint32_t>> byCount; // places by number of neighbours
    for (std::uint32_t i = 0; i < region.vertices.size(); ++i) {
        const std::uint32_t v = region.vertices[i];
        if (!s.surface.wholeRing[v] || s.rings[v].edge <= 0) {
            out.others.push_back(i);
            continue;
        }
        const std::size_t count = s.surface.neighbours.count(v);
        byCount.resize(std::max(byCount.size(), count + 1));
        byCount[count].push_back(i);
    }
    for (const auto& places : byCount)
        out.place.insert(out.place.end(), places.begin(), places.end());
    while (out.place.size() % lanes)
        out.place.push_back(out.place.back());
    for (std::uint32_t i : out.place)
        out.vertex.push_back(region.vertices[i]);
    for (std::size_t g = 0; g < out.place.size(); g += lanes) {
        const std::uint32_t* v = &out.vertex[g];
        for (int row = 0; row < 8; ++row)
            for (std::size_t k = 0; k < lanes; ++k) {
                const RestRing& r = s.rings[v[k]];
                out.rest.push_back(row < 3   ? r.delta[row]
                                   : row < 6 ? r.normal[row - 3]
                                   : row < 7 ? r.edge
                                             : 1 / static_cast<float>(s.surface.neighbours.count(v[k])));
            }
        out.first.push_back(static_cast<std::uint32_t>(out.neighbour.size() / lanes));
        const std::size_t most = s.surface.neighbours.count(v[lanes - 1]);
        for (std::size_t row = 0; row <= most; ++row) {
            for (std::size_t k = 0; k < lanes; ++k) {
                const std::size_t count = s.surface.neighbours.count(v[k]);
                out.neighbour.push_back(
                    row > count ? v[k] : s.surface.neighbours.begin(v[k])[(row + count - 1) % count]);
            }
            for (int axis = 0; axis < 3; ++axis)
                for (std::size_t k = 0; k < lanes; ++k)
                    out.edge.push_back(
                        (s.neutral[out.neighbour[out.neighbour.size() - lanes + k]] - s.neutral[v[k]])[axis]);
        }
    }
    out.first.push_back(static_cast<std::uint32_t>(out.neighbour.size() / lanes));
    return out;
}

void flips(const Subject& s, const MotionRegion& region, const std::vector<Vec3>& posed,
           const Roughness& rings, std::vector<char>& out) {
    out.assign(region.triangles.size(), 0);
    for (std::size_t i = 0; i < region.triangles.size(); ++i) {
        const std::uint32_t t = region.triangles[i];
        if (s.surface.area[t] <= 0)
            continue;
        const auto& [a, b, c] = s.surface.triangles[t];
        const Vec3 before = (s.neutral[b] - s.neutral[a]).cross(s.neutral[c] - s.neutral[a]);
        const Vec3 now = (posed[b] - posed[a]).cross(posed[c] - posed[a]);
        bool against = true;
        for (std::uint32_t v : region.numbers[i])
            against = against && now.dot(rings.rotation[v] * before) < 0;
        out[i] = against;
    }
}

} // namespace hobble
