// Roughness of many vertices at once, in vector registers: one vertex to a lane. Plain version:
// roughnessAt().
#include "core/measure/region.h"
#include "core/measure/roughness.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/measure/roughness_vector.cpp"
#include <hwy/foreach_target.h>
// after foreach_target
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hobble::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::CappedTag<float, RingLanes::kLanes>;
using V = hn::Vec<D>;

struct Three {
    V x, y, z;
};

HWY_INLINE Three cross(const Three& a, const Three& b) {
    return {hn::MulSub(a.y, b.z, hn::Mul(a.z, b.y)), hn::MulSub(a.z, b.x, hn::Mul(a.x, b.z)),
            hn::MulSub(a.x, b.y, hn::Mul(a.y, b.x))};
}
HWY_INLINE V dot(const Three& a, const Three& b) {
    return hn::MulAdd(a.x, b.x, hn::MulAdd(a.y, b.y, hn::Mul(a.z, b.z)));
}
HWY_INLINE Three times(V s, const Three& a) { return {hn::Mul(s, a.x), hn::Mul(s, a.y), hn::Mul(s, a.z)}; }
HWY_INLINE Three plusTimes(const Three& sum, V s, const Three& a) {
    return {hn::MulAdd(s, a.x, sum.x), hn::MulAdd(s, a.y, sum.y), hn::MulAdd(s, a.z, sum.z)};
}
HWY_INLINE V square(const Three& a, const Three& b, const Three& c) {
    return hn::Add(dot(a, a), hn::Add(dot(b, b), dot(c, c)));
}

// Newton's iteration for the polar factor, as nearestRotation() has it, on the columns. Lanes whose matrix
// mirrors or is flat are flagged instead.
template <class M> HWY_INLINE void nearestRotations(D d, Three& a, Three& b, Three& c, M& flat) {
    const V one = hn::Set(d, 1.f), half = hn::Set(d, 0.5f), tiny = hn::Set(d, 1e-6f);
    const V size = square(a, b, c);
    flat = hn::Not(hn::Gt(size, hn::Set(d, 1e-36f)));
    const V inverse = hn::Div(one, hn::Sqrt(hn::IfThenElse(flat, one, size)));
    a = times(inverse, a), b = times(inverse, b), c = times(inverse, c);
    for (int i = 0; i < 12; ++i) {
        Three p = cross(b, c), q = cross(c, a), r = cross(a, b);
        const V det = dot(a, p);
        flat = hn::Or(flat, hn::Lt(det, tiny));
        const V over = hn::Div(one, hn::IfThenElse(flat, one, det));
        p = times(over, p), q = times(over, q), r = times(over, r);
        const V g = hn::Sqrt(hn::Sqrt(hn::Div(square(p, q, r), hn::IfThenElse(flat, one, square(a, b, c)))));
        const V own = hn::Mul(half, g), other = hn::Div(half, hn::IfThenElse(flat, one, g));
        const Three x = plusTimes(times(own, a), other, p), y = plusTimes(times(own, b), other, q),
                    z = plusTimes(times(own, c), other, r);
        const V minus = hn::Neg(one);
        const V change = square(plusTimes(x, minus, a), plusTimes(y, minus, b), plusTimes(z, minus, c));
        a = x, b = y, c = z;
        if (hn::AllTrue(d, hn::Or(flat, hn::Lt(change, hn::Set(d, 1e-10f)))))
            break;
    }
}

// `flat` gets the places that are left to the plain version.
void roughnessInLanes(const RingLanes& r, const float* HWY_RESTRICT position, Roughness& out,
                      std::vector<std::uint32_t>& flat) {
    constexpr std::size_t group = RingLanes::kLanes;
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::RebindToUnsigned<D> du;
    const std::size_t lanes = hn::Lanes(d);
    const auto next = hn::Set(di, 1), nextButOne = hn::Set(di, 2);
    const auto at = [&](const std::uint32_t* index) HWY_ATTR {
        const auto i = hn::BitCast(di, hn::LoadU(du, index));
        const auto x = hn::Add(hn::Add(i, i), i);
        return Three{hn::GatherIndex(d, position, x), hn::GatherIndex(d, position, hn::Add(x, next)),
                     hn::GatherIndex(d, position, hn::Add(x, nextButOne))};
    };
    const auto rows = [&](const float* row) HWY_ATTR {
        return Three{hn::LoadU(d, row), hn::LoadU(d, row + group), hn::LoadU(d, row + 2 * group)};
    };
    const V none = hn::Zero(d), one = hn::Set(d, 1.f), minus = hn::Set(d, -1.f);
    alignas(64) float column[9][group], value[group], left[group];
    for (std::size_t g = 0; g + 1 < r.first.size(); ++g)
        for (std::size_t k = 0; k < group; k += lanes) {
            const Three here = at(&r.vertex[g * group + k]);
            const auto edgeTo = [&](std::size_t row) HWY_ATTR {
                return plusTimes(at(&r.neighbour[row * group + k]), minus, here);
            };
            // The matrix Σ e′eᵀ by columns, the Laplacian vector and the normal, in one turn around.
            Three a{none, none, none}, b = a, c = a, sum = a, normal = a;
            Three before = edgeTo(r.first[g]);
            for (std::size_t row = r.first[g] + 1; row < r.first[g + 1]; ++row) {
                const Three e = edgeTo(row), rest = rows(&r.edge[3 * row * group + k]);
                a = plusTimes(a, rest.x, e), b = plusTimes(b, rest.y, e), c = plusTimes(c, rest.z, e);
                sum = plusTimes(sum, one, e);
                const Three n = cross(before, e);
                normal = plusTimes(normal, one, n);
                before = e;
            }
            const float* rest = &r.rest[g * 8 * group + k];
            const Three delta = rows(rest), restNormal = rows(rest + 3 * group);
            const V edge = hn::LoadU(d, rest + 6 * group), share = hn::LoadU(d, rest + 7 * group);
            const V length = hn::Sqrt(dot(normal, normal));
            const auto some = hn::Gt(length, none);
            const V scale =
                hn::IfThenElseZero(some, hn::Div(hn::Mul(edge, edge), hn::IfThenElse(some, length, one)));
            const Three n = times(scale, normal);
            a = plusTimes(a, restNormal.x, n), b = plusTimes(b, restNormal.y, n),
            c = plusTimes(c, restNormal.z, n);
            hn::Mask<D> isFlat;
            nearestRotations(d, a, b, c, isFlat);
            const Three turned = plusTimes(plusTimes(times(delta.x, a), delta.y, b), delta.z, c);
            const Three off = plusTimes(times(share, sum), minus, turned);
            hn::Store(hn::Div(hn::Sqrt(dot(off, off)), edge), d, value);
            int i = 0;
            for (const Three* m : {&a, &b, &c})
                for (const V& x : {m->x, m->y, m->z})
                    hn::Store(x, d, column[i++]);
            hn::Store(hn::IfThenElseZero(isFlat, one), d, left);
            for (std::size_t lane = 0; lane < lanes; ++lane) {
                const std::uint32_t place = r.place[g * group + k + lane];
                if (left[lane] != 0) {
                    flat.push_back(place);
                    continue;
                }
                out.value[place] = value[lane];
                float* m = out.rotation[place].data();
                for (int e = 0; e < 9; ++e)
                    m[e] = column[e][lane];
            }
        }
}

} // namespace hobble::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hobble {

HWY_EXPORT(roughnessInLanes);

void roughness(const Subject& s, const MotionRegion& region, const RingLanes& lanes,
               const std::vector<Vec3>& posed, Roughness& out) {
    out.value.assign(region.vertices.size(), 0.f);
    out.rotation.assign(region.vertices.size(), Eigen::Matrix3f::Identity());
    std::vector<std::uint32_t> plain = lanes.others;
    if (!lanes.place.empty())
        HWY_DYNAMIC_DISPATCH(roughnessInLanes)(lanes, posed[0].data(), out, plain);
    for (std::uint32_t place : plain)
        roughnessAt(s, region, place, posed, out);
}

} // namespace hobble
#endif
