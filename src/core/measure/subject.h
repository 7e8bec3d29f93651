#pragma once
// A character made ready to be measured: everything that depends on the neutral pose only, computed once.
#include "core/character/body.h"
#include "core/character/symmetry.h"
#include "core/deform/weight_lanes.h"
#include "core/measure/contact.h"
#include "core/measure/cover.h"
#include "core/measure/face_openings.h"
#include "core/measure/limb_directions.h"
#include "core/measure/rigid_parts.h"
#include "core/measure/roughness.h"
#include "core/measure/weight_islands.h"
#include "core/measure/zone.h"
#include "core/progress.h"

#include <memory>

namespace hobble {

struct Subject {
    std::shared_ptr<const Character> character;
    std::vector<JointRole> roles;
    BodyFrame body;
    MirrorPlane mirror;

    // Of the mesh in its neutral pose alone; copies share it.
    Surface surface;                           // but for its weights
    SharedVector<Vec3> neutral;                // per welded vertex
    SharedVector<RestTriangle> rest;           // per surface triangle
    SharedVector<RestRing> rings;              // per welded vertex
    double extent = 0;                         // metres: Character::extent
    SharedVector<double> shellOpen;            // per shell: openShares
    std::shared_ptr<const TriangleTree> tree;  // over the whole surface
    std::shared_ptr<const Boxes> neutralBoxes; // of the tree
    std::shared_ptr<const CoverSetup> cover;
    std::shared_ptr<const ContactSetup> contact;

    // Of the weights too; made anew where they change (reweight.h).
    WeightLanes lanes;
    SkinHeld held;
    JointZones zones; // per joint; empty where no skin blends
    std::vector<RigidPart> rigid;
    SharedVector<char> onRigidPart; // per surface triangle
    std::vector<WeightIsland> islands;
    std::shared_ptr<const std::vector<FaceOpening>> openings; // of the face
    SharedVector<std::int32_t> contactCarriers;               // per node of contact's tree: nodeCarriers
};

/// Zones are computed for all joints, in parallel. The result does not depend on the number of threads. Where
/// the progress is stopped, what comes back is unfinished and of no use. `corrections` are what a person has
/// said of joints, by name.
Subject prepareSubject(std::shared_ptr<const Character> character, const Progress& progress = {},
                       const std::map<std::string, RoleCorrection>& corrections = {});

} // namespace hobble