#include "core/measure/subject.h"

#include <tbb/parallel_for.h>

namespace hobble {

Subject prepareSubject(std::shared_ptr<const Character> character) {
    Subject s;
    s.roles = guessRoles(*character);
    s.surface = buildSurface(*character);
    s.neutral = weldedPositions(s.surface, character->neutral);
    s.rest = restTriangles(s.surface, s.neutral);
    s.zones.resize(character->skeleton.name.size());
    tbb::parallel_for(std::size_t(0), s.zones.size(), [&](std::size_t j) {
        s.zones[j] = jointZone(*character, s.surface, s.neutral, static_cast<int>(j));
    });
    s.character = std::move(character);
    return s;
}

} // namespace hobble
