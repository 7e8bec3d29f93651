#pragma once
// Is this build fit to be tested? One file for each check; each says how bad it is, where, with which
// numbers, in a plain sentence, and what to do. docs/intake.md lists them with their limits and sources.
#include "core/measure/subject.h"

namespace hobble {

struct IntakeLimits {
    double mostInfluences = 4;                  // per vertex, that the target engine takes
    double leastWeight = 0.002;                 // less than this matters to nobody
    double sumTolerance = 0.005;                // of a vertex's weights from 1
    double leastHeight = 0.05, mostHeight = 50; // metres
    double scaleTolerance = 0.01;               // of a joint's neutral scale from 1
    double farBones = 3;          // bones between a vertex's own joint and another that holds it
    double farDistance = 0.15;    // and how far from that joint's bone it lies, body heights
    double acrossDistance = 0.03; // from the mirror plane, body heights
    double pairDistance = 0.02;   // of a joint from its partner's mirrored place, body heights
    double axisDegrees = 15;      // along a chain, and against the mirrored side
    double straightDegrees = 1;   // a limb bent less has no preferred direction
    double pivotOut = 1;          // of a joint from the middle of its limb, radii of the section
    double bindDegrees = 1;       // between bind pose and how the file leaves the joints
    double loopDegrees = 15;      // edge loops off the plane across a joint
    std::map<Role, double> loops = standardLoops(); // edge loops wanted across a joint, one radius either way

    static std::map<Role, double> standardLoops();
    bool operator==(const IntakeLimits&) const = default;
};

/// What can be edited, in the order of the dialog and the file.
struct IntakeLimitField {
    const char* key; // in a file
    const char* words;
    const char* unit;
    double IntakeLimits::*value;
    double least, most;
    int decimals;
};
const std::vector<IntakeLimitField>& intakeLimitFields();

struct CheckFinding {
    std::string check; // "weights that do not sum to 1"
    int severity = 1;  // 1 … 4, as for findings
    int joint = -1, part = -1;
    std::vector<std::pair<int, std::vector<std::uint32_t>>> vertices =
        {};           // by part, in its own file order, ascending
    double value = 0; // the number that decides
    std::string sentence, advice;
    int partner = -1; // the joint of the other side, where both are concerned
};

using CheckFindings = std::vector<CheckFinding>;

CheckFindings checkTransforms(const Subject&, const IntakeLimits&);
CheckFindings checkUnboundParts(const Subject&, const IntakeLimits&);
CheckFindings checkUnweightedVertices(const Subject&, const IntakeLimits&);
CheckFindings checkCrackingSeams(const Subject&, const IntakeLimits&);
CheckFindings checkUnmergedVertices(const Subject&, const IntakeLimits&);
CheckFindings checkHoles(const Subject&, const IntakeLimits&);
CheckFindings checkZeroArea(const Subject&, const IntakeLimits&);
CheckFindings checkWeightSums(const Subject&, const IntakeLimits&);
CheckFindings checkNegligibleWeights(const Subject&, const IntakeLimits&);
CheckFindings checkInfluenceCount(const Subject&, const IntakeLimits&);
CheckFindings checkEndJointWeights(const Subject&, const IntakeLimits&);
CheckFindings checkWeightlessJoints(const Subject&, const IntakeLimits&);
CheckFindings checkFarInfluences(const Subject&, const IntakeLimits&);
CheckFindings checkAcrossInfluences(const Subject&, const IntakeLimits&);
CheckFindings checkPairing(const Subject&, const IntakeLimits&);
CheckFindings checkAxesAlongChain(const Subject&, const IntakeLimits&);
CheckFindings checkAxesMirrored(const Subject&, const IntakeLimits&);
CheckFindings checkStraightLimbs(const Subject&, const IntakeLimits&);
CheckFindings checkPivots(const Subject&, const IntakeLimits&);
CheckFindings checkBindPose(const Subject&, const IntakeLimits&);
CheckFindings checkFacing(const Subject&, const IntakeLimits&);
CheckFindings checkSeveralCharacters(const Subject&, const IntakeLimits&);
CheckFindings checkFollowsLimb(const Subject&, const IntakeLimits&);
CheckFindings checkEdgeLoops(const Subject&, const IntakeLimits&);
CheckFindings checkLoopsAskew(const Subject&, const IntakeLimits&);

struct Check {
    const char* name;   // as in CheckFinding::check
    const char* passed; // what is so when nothing is found
    CheckFindings (*find)(const Subject&, const IntakeLimits&);
};

/// Every check, in the order in which they are told.
const std::vector<Check>& intakeChecks();

/// All of them, worst first. Empty when stopped.
CheckFindings inspect(const Subject& subject, const IntakeLimits& limits = {}, const Progress& progress = {});

/// 100 for a build with nothing to say about; each finding takes 1, 4, 10 or 25 off by its severity, those of
/// one check together at most twice that.
int intakeScore(const CheckFindings& findings);

} // namespace hobble
