#pragma once
// Every scalar of a run, per motion, step and joint, as compact JSON: what the log keeps so that a later
// build can be laid over it. Joints are kept by name and motions by id, so that it outlives both plan and
// skeleton.
#include "core/result.h"
#include "core/run/run.h"

#include <map>
#include <string>

namespace hobble {

/// {"format": "hobble-curves", "version": 1, "motions": [{"id", "degrees": [..], "joints": [{"joint", "role",
/// "stretch": [..], ..}]}]}; undefined values are null, measures that are nowhere defined are left out.
std::string curvesToJson(const Subject& subject, const RunResult& run);

/// By motion id, in the joints of `skeleton`; joints it does not have are left out.
Result<std::map<std::string, MotionResult>> curvesFromJson(const std::string& json, const Skeleton& skeleton);

/// Of whatever character they were kept of, for one whose joints have other names: motions by id, joints
/// numbered as they come, with what each of them is. Kept before roles were: Unknown.
struct KeptCurves {
    std::vector<JointRole> roles; // per joint
    std::map<std::string, MotionResult> motions;
};
Result<KeptCurves> curvesFromJson(const std::string& json);

} // namespace hobble
