#pragma once
// Why a finding is there: likely causes in order, each with its evidence in numbers. Where trying is cheap,
// it is tried: the peak pose again, skinned the other way, or with a driver switched off.
#include "core/deform/deformer.h"
#include "core/judge/evidence.h"
#include "core/judge/mirror.h"

namespace hobble {

/// What every finding of a run is asked against; computed once.
struct CauseContext {
    std::vector<BlendShape> blends; // per joint
    MirrorTwins twins;
};

CauseContext causeContext(const Subject& subject);

std::vector<Cause> likelyCauses(const Subject& subject, const CauseContext& context, const Plan& plan,
                                Skinning method, const Finding& finding);

} // namespace hobble
