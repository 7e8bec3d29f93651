#pragma once
// Why a finding is there: likely causes in order, each with its evidence. Where trying is cheap, it is tried:
// the peak pose again, skinned the other way, or with a driver switched off. The weights, and the thresholds
// in each cause's file, are our own: set on the recipes of demo/recipes/tuned*.json, and scored on others
// (docs/detection.md).
#include "core/judge/causes/case.h"

namespace hobble {

CauseContext causeContext(const Subject& subject);

/// Most speaks for the first; of two that as much speaks for, the one asked for first.
std::vector<Cause> likelyCauses(const Subject& subject, const CauseContext& context, const Plan& plan,
                                Skinning method, const Finding& finding);

} // namespace hobble
