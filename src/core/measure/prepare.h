#pragma once
// Steps of preparing a subject that are made again by themselves where weights change.
#include "core/measure/subject.h"

namespace hobble {

void prepareRoles(Subject& subject, const std::map<std::string, RoleCorrection>& corrections);

/// Those flagged; all others stay.
void prepareZones(Subject& subject, const std::vector<char>& joints, const Progress& progress);

/// After `rigid`: which triangles are theirs.
void flagRigidParts(Subject& subject);

/// What garments cover; after roles (the body's height) and the tree.
void prepareCovering(Subject& subject, const Progress& progress);

/// Of the face; after roles and the tree.
void prepareOpenings(Subject& subject);

/// Contact but for who carries what; after roles.
void prepareContacts(Subject& subject, const Progress& progress);

} // namespace hobble
