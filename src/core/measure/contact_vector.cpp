// Which way triangles face, in vector registers, one triangle to a lane.
#include "core/measure/contact_vector.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/measure/contact_vector.cpp"
#include <hwy/foreach_target.h>
// after foreach_target
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hobble::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

template <class D>
HWY_INLINE void facingFrom(D d, const std::uint32_t* HWY_RESTRICT corner, const float* HWY_RESTRICT position,
                           std::uint32_t* HWY_RESTRICT out) {
    using V = hn::Vec<D>;
    const hn::RebindToSigned<D> di;
    const hn::RebindToUnsigned<D> du;
    const auto next = hn::Set(di, 1), nextButOne = hn::Set(di, 2);
    hn::Vec<decltype(du)> u[3];
    hn::LoadInterleaved3(du, corner, u[0], u[1], u[2]);
    V p[3][3]; // corner, axis
    for (int k = 0; k < 3; ++k) {
        const auto i = hn::BitCast(di, u[k]);
        const auto x = hn::Add(hn::Add(i, i), i);
        p[k][0] = hn::GatherIndex(d, position, x);
        p[k][1] = hn::GatherIndex(d, position, hn::Add(x, next));
        p[k][2] = hn::GatherIndex(d, position, hn::Add(x, nextButOne));
    }
    V e[2][3];
    for (int k = 0; k < 2; ++k)
        for (int axis = 0; axis < 3; ++axis)
            e[k][axis] = hn::Sub(p[k + 1][axis], p[0][axis]);
    const V x = hn::MulSub(e[0][1], e[1][2], hn::Mul(e[0][2], e[1][1])),
            y = hn::MulSub(e[0][2], e[1][0], hn::Mul(e[0][0], e[1][2])),
            z = hn::MulSub(e[0][0], e[1][1], hn::Mul(e[0][1], e[1][0]));
    const V sum = hn::Add(x, y), difference = hn::Sub(x, y), none = hn::Zero(d);
    const V along[13] = {x,
                         y,
                         z,
                         sum,
                         difference,
                         hn::Add(x, z),
                         hn::Sub(x, z),
                         hn::Add(y, z),
                         hn::Sub(y, z),
                         hn::Add(sum, z),
                         hn::Sub(sum, z),
                         hn::Add(difference, z),
                         hn::Sub(difference, z)};
    auto facing = hn::Zero(du);
    for (int k = 0; k < 13; ++k) {
        const auto with = hn::RebindMask(du, hn::Gt(along[k], none));
        const auto against = hn::RebindMask(du, hn::Lt(along[k], none));
        facing = hn::Or(facing, hn::IfThenElseZero(with, hn::Set(du, 1u << k)));
        facing = hn::Or(facing, hn::IfThenElseZero(against, hn::Set(du, 1u << (k + 13))));
    }
    hn::StoreU(facing, du, out);
}

void facingsInLanes(const std::uint32_t* HWY_RESTRICT corner, std::size_t from, std::size_t to,
                    const float* HWY_RESTRICT position, std::uint32_t* HWY_RESTRICT out) {
    const hn::ScalableTag<float> d;
    const std::size_t lanes = hn::Lanes(d);
    std::size_t t = from;
    for (; t + lanes <= to; t += lanes)
        facingFrom(d, corner + 3 * t, position, out + t);
    for (; t < to; ++t)
        facingFrom(hn::CappedTag<float, 1>(), corner + 3 * t, position, out + t);
}

} // namespace hobble::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hobble {

HWY_EXPORT(facingsInLanes);

void facings(const std::vector<Triangle>& triangles, std::size_t from, std::size_t to,
             const std::vector<Vec3>& p, std::vector<Facing>& out) {
    if (to > from)
        HWY_DYNAMIC_DISPATCH(facingsInLanes)(triangles[0].data(), from, to, p[0].data(), out.data());
}

} // namespace hobble
#endif
