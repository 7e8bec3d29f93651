#include "core/measure/subject.h"

#include "core/measure/skin_ray.h"

#include <tbb/parallel_for.h>

#include <mutex>

namespace hobble {

Subject prepareSubject(std::shared_ptr<const Character> character, const Progress& progress,
                       const std::map<std::string, RoleCorrection>& corrections) {
    Subject s;
    s.character = std::move(character);
    const Character& c = *s.character;
    double share = 0;
    // Shares of the time, measured on a million vertices.
    const auto step = [&](double takes, auto&& work) {
        if (progress.stopped())
            return;
        work(progress.within(share, share + takes));
        progress.at(share += takes);
    };
    step(0.01, [&](const Progress&) {
        s.lanes = weightLanes(c.weights);
        s.roles = guessRoles(c);
        correctRoles(c, s.roles, corrections);
        s.body = bodyFrame(c, s.roles);
        std::vector<std::pair<int, int>> pairs;
        for (int j = 0; j < c.skeleton.size(); ++j)
            if (s.roles[j].side == Side::Left && s.roles[j].mirror >= 0)
                pairs.push_back({j, s.roles[j].mirror});
        s.mirror = findMirrorPlane(c, pairs);
    });
    step(0.27, [&](const Progress& p) { s.surface = buildSurface(c, 0, p); });
    step(0.02, [&](const Progress&) {
        s.neutral = weldedPositions(s.surface, c.neutral);
        s.rest = restTriangles(s.surface, s.neutral);
        s.rings = restRings(s.surface, s.neutral);
        s.held = skinHeld(c.skeleton, s.surface, s.neutral);
        s.extent = c.extent();
    });
    step(0.05, [&](const Progress&) {
        s.tree = std::make_shared<const TriangleTree>(skinTree(s.surface, s.neutral));
        Boxes boxes;
        refit(*s.tree, s.surface.triangles, s.neutral, boxes);
        s.neutralBoxes = std::make_shared<const Boxes>(std::move(boxes));
    });
    s.zones.resize(c.skeleton.name.size());
    step(0.44, [&](const Progress& p) {
        std::mutex telling;
        double done = 0;
        tbb::parallel_for(std::size_t(0), s.zones.size(), [&](std::size_t j) {
            if (p.stopped())
                return;
            s.zones[j] = jointZone(s, static_cast<int>(j));
            const std::lock_guard lock(telling);
            p.at(++done / static_cast<double>(s.zones.size()));
        });
    });
    step(0.01, [&](const Progress&) {
        s.rigid = rigidParts(s);
        s.onRigidPart.assign(s.surface.triangles.size(), 0);
        for (const RigidPart& r : s.rigid)
            for (std::uint32_t t : r.triangles)
                s.onRigidPart[t] = 1;
    });
    step(0.02, [&](const Progress&) { s.islands = weightIslands(c, s.surface, s.neutral); });
    step(0.19, [&](const Progress& p) { s.cover = prepareCover(s, 0.06 * s.body.height, p); });
    step(0.04, [&](const Progress&) {
        s.contact = prepareContact(s.surface, c, s.neutral, s.body.height, progress.cancel);
    });
    return s;
}

} // namespace hobble
