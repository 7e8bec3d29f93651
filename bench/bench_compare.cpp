// Finding one skin on another, beside a general geometry library's closest points on the same surface; and
// laying two runs over each other.
#include "core/compare/differences.h"
#include "core/pose/motion.h"
#include "subjects.h"

#include <CGAL/AABB_face_graph_triangle_primitive.h>
#include <CGAL/AABB_traits.h>
#include <CGAL/AABB_tree.h>
#include <CGAL/Simple_cartesian.h>
#include <CGAL/Surface_mesh.h>

namespace hobble::bench {

namespace {

using CompareKernel = CGAL::Simple_cartesian<double>;
using CompareMesh = CGAL::Surface_mesh<CompareKernel::Point_3>;
using CompareTree =
    CGAL::AABB_tree<CGAL::AABB_traits<CompareKernel, CGAL::AABB_face_graph_triangle_primitive<CompareMesh>>>;

// The peer only finds the nearest place, on one core as ours on all: it knows no parts, facing or weights.
void pairing(benchmark::State& state) {
    const Subject &one = badgerOf(static_cast<std::size_t>(state.range(0))), &other = badger();
    CompareMesh mesh;
    std::vector<CompareMesh::Vertex_index> vertex;
    for (const Vec3& p : other.neutral)
        vertex.push_back(mesh.add_vertex({p.x(), p.y(), p.z()}));
    for (const Triangle& f : other.surface.triangles)
        mesh.add_face(vertex[f[0]], vertex[f[1]], vertex[f[2]]);
    CompareTree tree(faces(mesh).first, faces(mesh).second, mesh);
    tree.accelerate_distance_queries();
    double found = 0;
    beside(
        state, [&] { found = pairSkin(one, other).found; },
        [&] {
            for (const Vec3& p : one.neutral)
                benchmark::DoNotOptimize(tree.closest_point({p.x(), p.y(), p.z()}));
        });
    state.counters["vertices"] = static_cast<double>(one.neutral.size());
    state.counters["found"] = found;
}

// Both as large: what a shipped character is against its next build.
void pairingAlike(benchmark::State& state) {
    const Subject& one = badgerOf(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state)
        benchmark::DoNotOptimize(pairSkin(one, one).found);
    state.counters["vertices"] = static_cast<double>(one.neutral.size());
}

void differences(benchmark::State& state) {
    const Subject& s = badger();
    const auto subject = std::shared_ptr<const Subject>(&s, [](const Subject*) {});
    const auto run = std::make_shared<const RunResult>(runPlan(s, fullPlan(*s.character, s.roles)));
    const ComparedSide side{subject, run};
    const JointPairing joints = pairJoints(s, s);
    for (auto _ : state)
        benchmark::DoNotOptimize(compareRuns({side, side}, joints).joints.size());
    state.counters["motions"] = static_cast<double>(run->plan.motions.size());
}

} // namespace

BENCHMARK(pairing)
    ->Name("compare/pairing")
    ->Arg(52'000)
    ->Arg(208'000)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK(pairingAlike)->Name("compare/pairing alike")->Arg(1'000'000)->Unit(benchmark::kMillisecond);
BENCHMARK(differences)->Name("compare/differences of a plan")->Unit(benchmark::kMillisecond);

} // namespace hobble::bench
