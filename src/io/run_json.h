#pragma once
// A run and a character as data: docs/schema/run.schema.json, docs/schema/inspect.schema.json.
#include "core/intake/check.h"
#include "core/measure/subject.h"
#include "core/run/run.h"

namespace hobble {

std::string inspectToJson(const Subject& subject, const IntakeLimits& limits = {});
std::string runToJson(const Subject& subject, const RunResult& run);

/// The run's findings as in its own "findings", without the vertices they mark: those are found again by
/// running.
std::string findingsToJson(const Subject& subject, const RunResult& run);

/// One row per joint, motion and step; undefined measures are empty.
std::string runToCsv(const Subject& subject, const RunResult& run);

/// A joint as a person says it: "left elbow", "spine 2", "right finger 1 base"; its name when its role is
/// unknown.
std::string jointWords(const Subject& subject, int joint);

/// One sentence: "Left elbow pinches to 28 % of its girth, from 62°, worst at 150°."
std::string sentence(const Subject& subject, const Plan& plan, const Finding& finding);

} // namespace hobble
