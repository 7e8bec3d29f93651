// Linear blend skinning in vector registers: a joint's matrix is four columns of four floats, which fill one,
// two or four registers; a vertex's matrix is their weighted sum. Plain version: deformLinearPlain().
#include "core/deform/linear_vector.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/deform/linear_vector.cpp"
#include <hwy/foreach_target.h>
// after foreach_target
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hobble::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// One vertex without registers: for the last one, whose fourth float would not be ours, and for machines that
// have none.
HWY_INLINE void skinPlainly(const SkinRange& r, std::size_t v) {
    const std::size_t at = 3 * v;
    float m[16] = {};
    for (std::size_t i = 4 * v; i < 4 * v + 4; ++i)
        for (int k = 0; k < 16; ++k)
            m[k] += r.weight[i] * r.palette[16 * std::size_t(r.joint[i]) + k];
    for (int row = 0; row < 3; ++row) {
        const auto turned = [&](const float* p) {
            return m[row] * p[0] + (m[row + 4] * p[1] + m[row + 8] * p[2]);
        };
        r.out[at + row] = turned(r.position + at) + m[row + 12];
        if (r.normal)
            r.outNormal[at + row] = turned(r.normal + at);
    }
}

#if HWY_TARGET == HWY_SCALAR

template <bool kNormals> void skin(const SkinRange& r) {
    for (std::size_t v = r.begin; v < r.end; ++v)
        skinPlainly(r, v);
}

#else

// Two halves of a matrix measure as fast as one whole one, and leave the clock alone.
using Lanes = hn::CappedTag<float, 8>;
using Four = hn::FixedTag<float, 4>;
using V = hn::Vec<Lanes>;
constexpr std::size_t kLanes = HWY_MIN(HWY_LANES(float), 8);
constexpr std::size_t kRegisters = 16 / kLanes; // of a matrix

template <class W> HWY_INLINE hn::Vec<Four> sumOfBlocks(W v) {
    if constexpr (kLanes == 4)
        return v;
    else
        return hn::Add(hn::LowerHalf(Four(), v), hn::UpperHalf(Four(), v));
}

template <bool kNormals> HWY_INLINE void skin(const SkinRange& r) {
    const Lanes d;
    const Four four;
    // Lane i of register k multiplies coordinate (k · lanes + i) / 4 of the vertex, or 1.
    alignas(64) std::int32_t coordinate[16];
    alignas(64) float unit[16];
    for (int i = 0; i < 16; ++i) {
        coordinate[i] = i / 4;
        unit[i] = i / 4 == 3 ? 1.f : 0.f;
    }
    decltype(hn::SetTableIndices(d, coordinate)) spread[kRegisters];
    hn::Mask<Lanes> isUnit[kRegisters];
    for (std::size_t k = 0; k < kRegisters; ++k) {
        spread[k] = hn::SetTableIndices(d, coordinate + k * kLanes);
        isUnit[k] = hn::Gt(hn::Load(d, unit + k * kLanes), hn::Zero(d));
    }
    const V one = hn::Set(d, 1.f), none = hn::Zero(d);
    const float* HWY_RESTRICT palette = r.palette;
    const float *HWY_RESTRICT position = r.position + 3 * r.begin,
                              *HWY_RESTRICT normal = kNormals ? r.normal + 3 * r.begin : nullptr;
    float *HWY_RESTRICT out = r.out + 3 * r.begin,
                        *HWY_RESTRICT outNormal = kNormals ? r.outNormal + 3 * r.begin : nullptr;
    const std::uint16_t* HWY_RESTRICT joint = r.joint + 4 * r.begin;
    const float* HWY_RESTRICT weight = r.weight + 4 * r.begin;
    // The fourth lane of what is stored falls on the next vertex, which is written after this one; the last
    // must not have it.
    for (std::size_t left = r.end - r.begin; left > 1; --left) {
        V m[kRegisters];
#pragma GCC unroll 4
        for (std::size_t k = 0; k < kRegisters; ++k)
            m[k] = none;
#pragma GCC unroll 4
        for (int i = 0; i < 4; ++i) {
            const float* HWY_RESTRICT p = palette + 16 * std::size_t(joint[i]);
            const V w = hn::Set(d, weight[i]);
#pragma GCC unroll 4
            for (std::size_t k = 0; k < kRegisters; ++k)
                m[k] = hn::MulAdd(w, hn::Load(d, p + k * kLanes), m[k]);
        }
        const auto times = [&](const float* HWY_RESTRICT p, V fourth) HWY_ATTR {
            const V xyz = hn::LoadDup128(d, p);
            V sum = none;
#pragma GCC unroll 4
            for (std::size_t k = 0; k < kRegisters; ++k) {
                V at = hn::TableLookupLanes(xyz, spread[k]);
                if (k + 1 == kRegisters) // the last column stands there
                    at = hn::IfThenElse(isUnit[k], fourth, at);
                sum = hn::MulAdd(m[k], at, sum);
            }
            return sumOfBlocks(sum);
        };
        hn::StoreU(times(position, one), four, out);
        if (kNormals)
            hn::StoreU(times(normal, none), four, outNormal);
        position += 3, out += 3, joint += 4, weight += 4;
        if (kNormals)
            normal += 3, outNormal += 3;
    }
    if (r.begin < r.end)
        skinPlainly(r, r.end - 1);
}

#endif

void skinPositions(const SkinRange& r) { skin<false>(r); }
void skinPositionsAndNormals(const SkinRange& r) { skin<true>(r); }

} // namespace hobble::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hobble {

HWY_EXPORT(skinPositions);
HWY_EXPORT(skinPositionsAndNormals);

void skinInLanes(const SkinRange& range) {
    if (range.normal)
        HWY_DYNAMIC_DISPATCH(skinPositionsAndNormals)(range);
    else
        HWY_DYNAMIC_DISPATCH(skinPositions)(range);
}

} // namespace hobble
#endif
