#pragma once
// The badger's skeleton, flesh, and the cage of its body.
#include "head.h"
#include "rig.h"

namespace hobble::demo {

Rig badgerRig();
std::vector<Solid> badgerFlesh(const Rig& rig);
HeadPlan badgerHead();
QuadMesh badgerCage(const Rig& rig, const std::vector<Solid>& flesh);

} // namespace hobble::demo
