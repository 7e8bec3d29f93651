#include "core/measure/subject.h"

#include <tbb/parallel_for.h>

namespace hobble {

Subject prepareSubject(std::shared_ptr<const Character> character) {
    Subject s;
    s.character = std::move(character);
    const Character& c = *s.character;
    s.lanes = weightLanes(c.weights);
    s.roles = guessRoles(c);
    s.body = bodyFrame(c, s.roles);
    s.surface = buildSurface(c);
    s.neutral = weldedPositions(s.surface, c.neutral);
    s.rest = restTriangles(s.surface, s.neutral);
    s.rings = restRings(s.surface, s.neutral);
    s.zones.resize(c.skeleton.name.size());
    tbb::parallel_for(std::size_t(0), s.zones.size(), [&](std::size_t j) {
        s.zones[j] = jointZone(c, s.surface, s.neutral, static_cast<int>(j));
    });
    s.rigid = rigidParts(s);
    s.onRigidPart.assign(s.surface.triangles.size(), 0);
    for (const RigidPart& r : s.rigid)
        for (std::uint32_t t : r.triangles)
            s.onRigidPart[t] = 1;
    s.islands = weightIslands(c, s.surface, s.neutral);
    s.cover = prepareCover(s.surface, c, s.neutral, 0.06 * s.body.height);
    s.contact = prepareContact(s.surface, c, s.neutral, s.cover.openShell);
    return s;
}

} // namespace hobble
