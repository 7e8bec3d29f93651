// Strain of many triangles at once, in vector registers: strainOf() lane by lane, one triangle to a lane.
#include "core/measure/strain.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/measure/strain_vector.cpp"
#include <hwy/foreach_target.h>
// after foreach_target
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hobble::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Returns how many triangles it has done; the rest does not fill a register.
std::size_t strainsInLanes(const std::uint32_t* HWY_RESTRICT corner, const float* HWY_RESTRICT rest,
                           std::size_t count, const float* HWY_RESTRICT position, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const hn::RebindToUnsigned<decltype(d)> du;
    using V = hn::Vec<decltype(d)>;
    using VI = hn::Vec<decltype(di)>;
    const std::size_t lanes = hn::Lanes(d);
    const V one = hn::Set(d, 1.f), zero = hn::Zero(d), half = hn::Set(d, 0.5f);
    const VI next = hn::Set(di, 1), nextButOne = hn::Set(di, 2);
    std::size_t t = 0;
    for (; t + lanes <= count; t += lanes) {
        hn::Vec<decltype(du)> ua, ub, uc;
        hn::LoadInterleaved3(du, corner + 3 * t, ua, ub, uc);
        auto start = [&](auto u) HWY_ATTR { // index of the corner's x
            const VI i = hn::BitCast(di, u);
            return hn::Add(hn::Add(i, i), i);
        };
        const VI a = start(ua), b = start(ub), c = start(uc);
        const V ax = hn::GatherIndex(d, position, a), ay = hn::GatherIndex(d, position, hn::Add(a, next)),
                az = hn::GatherIndex(d, position, hn::Add(a, nextButOne));
        const V ux = hn::Sub(hn::GatherIndex(d, position, b), ax),
                uy = hn::Sub(hn::GatherIndex(d, position, hn::Add(b, next)), ay),
                uz = hn::Sub(hn::GatherIndex(d, position, hn::Add(b, nextButOne)), az);
        const V wx = hn::Sub(hn::GatherIndex(d, position, c), ax),
                wy = hn::Sub(hn::GatherIndex(d, position, hn::Add(c, next)), ay),
                wz = hn::Sub(hn::GatherIndex(d, position, hn::Add(c, nextButOne)), az);
        V invL1, x, invH;
        hn::LoadInterleaved3(d, rest + 3 * t, invL1, x, invH);
        const V fx = hn::Mul(ux, invL1), fy = hn::Mul(uy, invL1), fz = hn::Mul(uz, invL1);
        const V gx = hn::Mul(hn::NegMulAdd(x, fx, wx), invH), gy = hn::Mul(hn::NegMulAdd(x, fy, wy), invH),
                gz = hn::Mul(hn::NegMulAdd(x, fz, wz), invH);
        const V g11 = hn::MulAdd(fx, fx, hn::MulAdd(fy, fy, hn::Mul(fz, fz)));
        const V g22 = hn::MulAdd(gx, gx, hn::MulAdd(gy, gy, hn::Mul(gz, gz)));
        const V g12 = hn::MulAdd(fx, gx, hn::MulAdd(fy, gy, hn::Mul(fz, gz)));
        const V mean = hn::Mul(half, hn::Add(g11, g22)), away = hn::Mul(half, hn::Sub(g11, g22));
        const V big = hn::Add(mean, hn::Sqrt(hn::MulAdd(away, away, hn::Mul(g12, g12))));
        // (σ1 σ2)² from the cross product: no cancellation for a triangle that has become a needle
        const V nx = hn::MulSub(fy, gz, hn::Mul(fz, gy)), ny = hn::MulSub(fz, gx, hn::Mul(fx, gz)),
                nz = hn::MulSub(fx, gy, hn::Mul(fy, gx));
        const V area = hn::MulAdd(nx, nx, hn::MulAdd(ny, ny, hn::Mul(nz, nz)));
        const auto sliver = hn::Eq(invL1, zero), moved = hn::Gt(big, zero);
        const V stretch = hn::IfThenElse(sliver, one, hn::Sqrt(big));
        const V squash = hn::IfThenElse(
            sliver, one, hn::IfThenElseZero(moved, hn::Sqrt(hn::Div(area, hn::IfThenElse(moved, big, one)))));
        hn::StoreInterleaved2(stretch, squash, d, out + 2 * t);
    }
    return t;
}

} // namespace hobble::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hobble {

HWY_EXPORT(strainsInLanes);

void strains(std::span<const Triangle> triangles, std::span<const RestTriangle> rest,
             const std::vector<Vec3>& posed, std::vector<Strain>& out) {
    static_assert(sizeof(Triangle) == 12 && sizeof(RestTriangle) == 12 && sizeof(Strain) == 8 &&
                  sizeof(Vec3) == 12);
    out.resize(triangles.size());
    if (triangles.empty())
        return;
    // Indices of single floats must fit in 31 bits.
    std::size_t done = 0;
    if (posed.size() < (1u << 31) / 3)
        done = HWY_DYNAMIC_DISPATCH(strainsInLanes)(triangles[0].data(), &rest[0].invL1, triangles.size(),
                                                    posed[0].data(), &out[0].stretch);
    for (; done < triangles.size(); ++done) {
        const auto& [a, b, c] = triangles[done];
        out[done] = strainOf(rest[done], posed[a], posed[b], posed[c]);
    }
}

} // namespace hobble
#endif
