#pragma once
// Why a finding is there: likely causes in order, each with its evidence in numbers. Where trying is cheap,
// it is tried: the peak pose again, skinned the other way.
#include "core/deform/deformer.h"
#include "core/judge/findings.h"

namespace hobble {

std::vector<Cause> likelyCauses(const Subject& subject, const Plan& plan, Skinning method,
                                const Finding& finding);

} // namespace hobble
