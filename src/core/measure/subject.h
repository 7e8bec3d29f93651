#pragma once
// A character made ready to be measured: everything that depends on the neutral pose only, computed once.
#include "core/character/roles.h"
#include "core/measure/zone.h"

#include <memory>

namespace hobble {

struct Subject {
    std::shared_ptr<const Character> character;
    std::vector<JointRole> roles;
    Surface surface;
    std::vector<Vec3> neutral;      // per welded vertex
    std::vector<RestTriangle> rest; // per surface triangle
    std::vector<JointZone> zones;   // per joint; empty where no skin blends
};

/// Zones are computed for all joints, in parallel. The result does not depend on the number of threads.
Subject prepareSubject(std::shared_ptr<const Character> character);

} // namespace hobble
