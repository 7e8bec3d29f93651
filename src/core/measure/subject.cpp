#include "core/measure/subject.h"

#include <tbb/parallel_for.h>

namespace hobble {

Subject prepareSubject(std::shared_ptr<const Character> character, const Progress& progress,
                       const std::map<std::string, RoleCorrection>& corrections) {
    Subject s;
    s.character = std::move(character);
    const Character& c = *s.character;
    double share = 0;
    // Shares of the time measured on a million triangles.
    const auto step = [&](double takes, auto&& work) {
        if (progress.stopped())
            return;
        work();
        progress.at(share += takes);
    };
    step(0.02, [&] {
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
    step(0.2, [&] { s.surface = buildSurface(c); });
    step(0.1, [&] {
        s.neutral = weldedPositions(s.surface, c.neutral);
        s.rest = restTriangles(s.surface, s.neutral);
        s.rings = restRings(s.surface, s.neutral);
    });
    s.zones.resize(c.skeleton.name.size());
    step(0.3, [&] {
        tbb::parallel_for(std::size_t(0), s.zones.size(), [&](std::size_t j) {
            if (!progress.stopped())
                s.zones[j] = jointZone(c, s.surface, s.neutral, static_cast<int>(j));
        });
    });
    step(0.08, [&] {
        s.rigid = rigidParts(s);
        s.onRigidPart.assign(s.surface.triangles.size(), 0);
        for (const RigidPart& r : s.rigid)
            for (std::uint32_t t : r.triangles)
                s.onRigidPart[t] = 1;
    });
    step(0.1, [&] { s.islands = weightIslands(c, s.surface, s.neutral); });
    step(0.1, [&] { s.cover = prepareCover(s.surface, c, s.neutral, 0.06 * s.body.height); });
    step(0.1, [&] { s.contact = prepareContact(s.surface, c, s.neutral, s.cover.openShell); });
    return s;
}

} // namespace hobble
