#pragma once
// What a defect keeps of the finding it was logged from.
#include "core/intake/check.h"
#include "core/judge/matching.h"
#include "core/run/run.h"
#include "log/run_entry.h"

namespace hobble {

/// Everything but build, camera and picture.
DefectFacts factsOf(const Subject& subject, const Plan& plan, const Finding& finding);

/// Of a fault: as the sign that tells it, in the fault's own words.
DefectFacts factsOf(const Subject& subject, const Plan& plan, const std::vector<Finding>& findings,
                    const Fault& fault);

/// Of what Intake found: seen in neutral, at no angle.
DefectFacts factsOf(const Subject& subject, const CheckFinding& finding);

bool foundByIntake(const DefectFacts& facts);

/// A place of a motion as DefectFacts::pose has it, so that it outlives the plan: JSON of "motion",
/// "degrees", "at" (in words), "turns" (joint → rotation in its own frame) and "targets".
QByteArray keptPose(const Subject& subject, const Motion& motion, double at);

/// Whether a logged defect tells of that: the same check at the same joint and part.
bool tellsOf(const DefectFacts& facts, const Subject& subject, const CheckFinding& finding);

/// What the log keeps of an inspection.
QByteArray inspectionToJson(const Subject& subject, const CheckFindings& findings);

/// Where a logged defect was seen, to find it again; nothing for one logged without a place.
std::optional<FindingMark> markOf(const DefectFacts& facts);

/// The same of a finding that was merged with a defect: DefectEvent::value of a "same fault".
QByteArray mergedToJson(const FindingMark& mark, const QString& words);
std::optional<FindingMark> mergedFromJson(const QByteArray& json);

/// The summary the log keeps of a run.
RunSummary summaryOf(const Subject& subject, const RunResult& run, qint64 buildId);
/// The same with the build it is of. `key`: under which it is entered only once; empty: always.
RunEntry entryOf(const Subject& subject, const RunResult& run, const QString& key = {});

} // namespace hobble
