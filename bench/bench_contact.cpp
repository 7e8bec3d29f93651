// Contact beside the self-intersection of a general-purpose geometry library on the same posed mesh.
#include "core/measure/contact.h"
#include "core/measure/region.h"
#include "subjects.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Surface_mesh.h>

namespace hobble::bench {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Mesh = CGAL::Surface_mesh<Kernel::Point_3>;

// Only the skin that contact looks at: both get the same triangles.
Mesh meshOf(const Subject& s, const std::vector<Vec3>& at) {
    Mesh out;
    std::vector<Mesh::Vertex_index> vertex;
    for (const Vec3& p : at)
        vertex.push_back(out.add_vertex({p.x(), p.y(), p.z()}));
    for (std::uint32_t t : s.contact->tree.triangle) {
        const Triangle& f = s.surface.triangles[t];
        out.add_face(vertex[f[0]], vertex[f[1]], vertex[f[2]]);
    }
    return out;
}

void contact(benchmark::State& state) {
    const Subject& s = badger();
    // A deep bend of every joint: much skin meets.
    Motion motion = everythingTurning(s);
    if (state.range(0) > 0) { // one joint only, as nearly all poses of a plan
        const Plan plan = defaultPlan(*s.character, s.roles);
        for (const Motion& m : plan.motions)
            if (m.name == "elbow flex" && m.side == Side::Left)
                motion = m;
        motion.steps = {0, motion.limit(), 0};
    }
    const MotionRegion region = motionRegion(s, motion);
    std::vector<Vec3> file;
    deform(*s.character, poseAt(s.character->skeleton, motion, motion.limit()), Skinning::Linear, file);
    const std::vector<Vec3> at = weldedPositions(s.surface, file);
    deform(*s.character, poseAt(s.character->skeleton, motion, 0.95 * motion.limit()), Skinning::Linear,
           file);
    const std::vector<Vec3> before =
        weldedPositions(s.surface, file); // as poses of a motion follow each other
    ContactScratch scratch;
    Contact out;
    const Mesh mesh = meshOf(s, at);
    std::vector<std::pair<Mesh::Face_index, Mesh::Face_index>> pairs;
    bool odd = true;
    beside(
        state, [&] { contacts(s, region, std::exchange(odd, !odd) ? at : before, scratch, out); },
        [&] {
            pairs.clear();
            CGAL::Polygon_mesh_processing::self_intersections<CGAL::Sequential_tag>(
                mesh, std::back_inserter(pairs));
        });
    state.counters["triangles"] = static_cast<double>(mesh.number_of_faces());
    state.counters["pairs"] = static_cast<double>(out.pairs.size());
    state.counters["peer_pairs"] = static_cast<double>(pairs.size());
}
BENCHMARK(contact)->ArgName("one_joint")->Arg(0)->Arg(1)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace

} // namespace hobble::bench
