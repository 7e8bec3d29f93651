#pragma once
// Steps of preparing a subject that are made again by themselves where weights change.
#include "core/measure/subject.h"

namespace hobble {

void prepareRoles(Subject& subject, const std::map<std::string, RoleCorrection>& corrections);

/// Those flagged; all others stay.
void prepareZones(Subject& subject, const std::vector<char>& joints, const Progress& progress);

/// After `rigid`: which triangles are theirs.
void flagRigidParts(Subject& subject);

/// How far above skin a garment may lie.
void prepareCovering(Subject& subject, const Progress& progress);
void prepareContacts(Subject& subject, const Progress& progress);

} // namespace hobble
