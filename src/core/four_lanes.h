#pragma once
// Four floats in one register, asked as a whole. Eigen goes through such questions lane by lane, by way of
// memory; where there is SSE, as on every x86-64, they are one or two steps.
#include <Eigen/Core>

#ifdef __SSE__
#include <xmmintrin.h>
#endif

namespace hobble {

using FourLanes = Eigen::Array4f;

/// The least of the four; none of them may be NaN.
inline float leastOf(const FourLanes& x) {
#ifdef __SSE__
    __m128 v = _mm_load_ps(x.data());
    v = _mm_min_ps(v, _mm_shuffle_ps(v, v, _MM_SHUFFLE(1, 0, 3, 2)));
    return _mm_cvtss_f32(_mm_min_ss(v, _mm_shuffle_ps(v, v, _MM_SHUFFLE(2, 3, 0, 1))));
#else
    return x.minCoeff();
#endif
}

/// The greatest of the four; none of them may be NaN.
inline float greatestOf(const FourLanes& x) {
#ifdef __SSE__
    __m128 v = _mm_load_ps(x.data());
    v = _mm_max_ps(v, _mm_shuffle_ps(v, v, _MM_SHUFFLE(1, 0, 3, 2)));
    return _mm_cvtss_f32(_mm_max_ss(v, _mm_shuffle_ps(v, v, _MM_SHUFFLE(2, 3, 0, 1))));
#else
    return x.maxCoeff();
#endif
}

/// Whether a ≤ b in every lane; not where one is NaN.
inline bool allAtMost(const FourLanes& a, const FourLanes& b) {
#ifdef __SSE__
    return _mm_movemask_ps(_mm_cmple_ps(_mm_load_ps(a.data()), _mm_load_ps(b.data()))) == 15;
#else
    return (a <= b).all();
#endif
}

/// Whether a = b in every lane; not where one is NaN.
inline bool allEqual(const FourLanes& a, const FourLanes& b) {
#ifdef __SSE__
    return _mm_movemask_ps(_mm_cmpeq_ps(_mm_load_ps(a.data()), _mm_load_ps(b.data()))) == 15;
#else
    return (a == b).all();
#endif
}

} // namespace hobble
