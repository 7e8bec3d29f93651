// Measures of the skin, one pose, one core.
#include "core/measure/pose_meter.h"
#include "subjects.h"

#include <Eigen/SVD>

namespace hobble::bench {

namespace {

std::vector<Vec3> posed(const Subject& s) {
    std::vector<Vec3> p;
    deform(*s.character, everythingTurned(s), Skinning::Linear, p);
    return weldedPositions(s.surface, p);
}

// The peer: a plain double-precision loop over Eigen's JacobiSVD of every triangle's deformation gradient.
double strainByJacobiSvd(const Subject& s, const std::vector<Vec3>& at, std::vector<Eigen::Vector2d>& out) {
    const auto edges = [](const Vec3& a, const Vec3& b, const Vec3& c) {
        const Vec3d e1 = (b - a).cast<double>(), e2 = (c - a).cast<double>(), x = e1.normalized();
        const Vec3d y = e1.cross(e2).normalized().cross(x);
        Eigen::Matrix2d m;
        m << e1.dot(x), e2.dot(x), e1.dot(y), e2.dot(y);
        return m;
    };
    double sum = 0;
    out.resize(s.surface.triangles.size());
    for (std::size_t t = 0; t < out.size(); ++t) {
        const auto& [a, b, c] = s.surface.triangles[t];
        const Eigen::Matrix2d f =
            edges(at[a], at[b], at[c]) * edges(s.neutral[a], s.neutral[b], s.neutral[c]).inverse();
        const Eigen::JacobiSVD<Eigen::Matrix2d> svd(f);
        const double big = svd.singularValues()[0], small = svd.singularValues()[1];
        out[t] = {big, small};
        sum += big;
    }
    return sum;
}

void strain(benchmark::State& state) {
    const Subject& s = badgerOf(static_cast<std::size_t>(state.range(0)));
    const auto at = posed(s);
    std::vector<Strain> out;
    std::vector<Eigen::Vector2d> slow;
    beside(
        state, [&] { strains(s.surface.triangles, s.rest, at, out); },
        [&] { benchmark::DoNotOptimize(strainByJacobiSvd(s, at, slow)); });
    double worst = 0;
    for (std::size_t t = 0; t < out.size(); ++t)
        if (s.surface.area[t] > 0)
            worst = std::max({worst, std::abs(out[t].stretch - slow[t][0]) / std::max(1.0, slow[t][0]),
                              std::abs(out[t].squash - slow[t][1])});
    state.counters["worst_difference"] = worst;
    state.counters["triangles"] = static_cast<double>(out.size());
}
BENCHMARK(strain)->Arg(52028)->Arg(1000000)->UseManualTime()->Unit(benchmark::kMillisecond);

// Every surface measure but contact in one pose that moves all of the skin: 50 000 triangles have a frame at
// 60 Hz, 16.7 ms. Beside it the same with contact.
void onePose(benchmark::State& state) {
    const Subject& s = badgerOf(static_cast<std::size_t>(state.range(0)));
    MeterOptions without, with;
    without.contact = false;
    PoseMeter plain(s, without), touching(s, with);
    const Motion motion = everythingTurning(s);
    plain.begin(motion);
    touching.begin(motion);
    beside(
        state, [&] { plain.pose(13); }, [&] { touching.pose(13); });
    state.counters["triangles"] = static_cast<double>(s.surface.triangles.size());
}
BENCHMARK(onePose)->Arg(52028)->Arg(200000)->Arg(1000000)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace

} // namespace hobble::bench
