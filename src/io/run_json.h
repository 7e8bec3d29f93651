#pragma once
// A run and a character as data: docs/schema/run.schema.json, docs/schema/inspect.schema.json.
#include "core/intake/check.h"
#include "core/measure/subject.h"
#include "core/run/run.h"

namespace hobble {

struct Exposure;
struct Meeting;

std::string inspectToJson(const Subject& subject, const IntakeLimits& limits = {});
/// With `exposure`, findings and faults say how often the show's animation goes past their onset.
/// `meetings`: frames of it in which several faults meet.
std::string runToJson(const Subject& subject, const RunResult& run, const Exposure* exposure = nullptr,
                      const std::vector<Meeting>* meetings = nullptr);

/// The run's findings as in its own "findings", without the vertices they mark: those are found again by
/// running.
std::string findingsToJson(const Subject& subject, const RunResult& run);

/// One row per joint, motion and step; undefined measures are empty.
std::string runToCsv(const Subject& subject, const RunResult& run);

} // namespace hobble
