#pragma once
// Is this build fit to be tested? One file for each check; each says how bad it is, where, with which
// numbers, in a plain sentence, and what to do. docs/intake.md lists them with their limits.
#include "core/measure/subject.h"

namespace hobble {

struct IntakeLimits {
    int mostInfluences = 4;                     // per vertex, that the target engine takes
    double leastWeight = 0.002;                 // less than this matters to nobody
    double sumTolerance = 0.005;                // of a vertex's weights from 1
    double leastHeight = 0.05, mostHeight = 50; // metres
};

struct CheckFinding {
    std::string check; // "weights that do not sum to 1"
    int severity = 1;  // 1 … 4, as for findings
    int joint = -1, part = -1;
    std::vector<std::pair<int, std::vector<std::uint32_t>>>
        vertices;     // by part, in its own file order, ascending
    double value = 0; // the number that decides
    std::string sentence, advice;
};

using CheckFindings = std::vector<CheckFinding>;

CheckFindings checkWeightSums(const Subject&, const IntakeLimits&);
CheckFindings checkNegligibleWeights(const Subject&, const IntakeLimits&);
CheckFindings checkInfluenceCount(const Subject&, const IntakeLimits&);
CheckFindings checkEndJointWeights(const Subject&, const IntakeLimits&);
CheckFindings checkWeightlessJoints(const Subject&, const IntakeLimits&);
CheckFindings checkUnboundParts(const Subject&, const IntakeLimits&);
CheckFindings checkUnweightedVertices(const Subject&, const IntakeLimits&);
CheckFindings checkCrackingSeams(const Subject&, const IntakeLimits&);
CheckFindings checkTransforms(const Subject&, const IntakeLimits&);

/// All of them, worst first.
CheckFindings inspect(const Subject& subject, const IntakeLimits& limits = {});

} // namespace hobble
