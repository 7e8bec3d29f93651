#include "core/intake/check.h"

#include <algorithm>

namespace hobble {

const std::vector<Check>& intakeChecks() {
    static const std::vector<Check> all{
        {"transforms not applied", "scales are applied and the size is a creature's", checkTransforms},
        {"several characters in one file", "the file holds one character", checkSeveralCharacters},
        {"limb that does not follow", "the tree goes the way the skin does", checkFollowsLimb},
        {"part bound to nothing", "every part is bound", checkUnboundParts},
        {"vertices with no weight", "every vertex has a weight", checkUnweightedVertices},
        {"seam that cracks", "vertices at one place are weighted alike", checkCrackingSeams},
        {"unmerged vertices", "no borders lie on one another unmerged", checkUnmergedVertices},
        {"hole", "no holes", checkHoles},
        {"faces that look inwards", "all faces look outwards", checkFacing},
        {"zero-area triangles", "every triangle has an area", checkZeroArea},
        {"weights that do not sum to 1", "weights sum to 1", checkWeightSums},
        {"too many influences", "no vertex has too many influences", checkInfluenceCount},
        {"negligible weights", "no weights too small to matter", checkNegligibleWeights},
        {"weights on an end joint", "end joints hold no skin", checkEndJointWeights},
        {"joint with no weight", "every joint that should hold skin does", checkWeightlessJoints},
        {"influence from far away", "no influence from a joint far away", checkFarInfluences},
        {"influence from the other side", "no influence from the other side of the body",
         checkAcrossInfluences},
        {"joints that do not pair", "left and right joints pair", checkPairing},
        {"axes differ along a chain", "axes agree along chains", checkAxesAlongChain},
        {"axes differ from the other side", "axes agree with the mirrored side", checkAxesMirrored},
        {"straight limb", "limbs are bent the way they go", checkStraightLimbs},
        {"pivot outside the limb", "pivots lie within their limbs", checkPivots},
        {"bind pose is not the rest pose", "the file rests in the bind pose", checkBindPose},
        {"too few edge loops", "joints have edge loops enough to bend", checkEdgeLoops},
        {"edge loops askew of the bend", "edge loops lie across the bends", checkLoopsAskew}};
    return all;
}

std::map<Role, double> IntakeLimits::standardLoops() {
    return {{Role::Shoulder, 3}, {Role::Elbow, 3}, {Role::Wrist, 3},  {Role::Hip, 3},   {Role::Knee, 3},
            {Role::Ankle, 3},    {Role::Neck, 2},  {Role::Finger, 2}, {Role::Thumb, 2}, {Role::Tail, 2}};
}

const std::vector<IntakeLimitField>& intakeLimitFields() {
    using L = IntakeLimits;
    static const std::vector<IntakeLimitField> all{
        {"mostInfluences", "influences the target engine takes", "per vertex", &L::mostInfluences, 1, 64, 0},
        {"leastWeight", "least weight that matters", "", &L::leastWeight, 0, 0.1, 4},
        {"sumTolerance", "sum of weights off 1 by at most", "", &L::sumTolerance, 0, 0.5, 3},
        {"leastHeight", "least height of a character", "m", &L::leastHeight, 0, 100, 2},
        {"mostHeight", "greatest height of a character", "m", &L::mostHeight, 0.01, 1000, 1},
        {"scaleTolerance", "neutral scale off 1 by at most", "", &L::scaleTolerance, 0, 1, 3},
        {"farBones", "an influence is far beyond", "bones", &L::farBones, 1, 20, 0},
        {"farDistance", "and beyond", "body heights", &L::farDistance, 0.01, 1, 3},
        {"acrossDistance", "the other side begins at", "body heights", &L::acrossDistance, 0, 0.5, 3},
        {"pairDistance", "paired joints off by at most", "body heights", &L::pairDistance, 0.001, 0.5, 3},
        {"axisDegrees", "axes off by at most", "degrees", &L::axisDegrees, 1, 90, 0},
        {"straightDegrees", "a limb is straight below", "degrees", &L::straightDegrees, 0, 20, 1},
        {"pivotOut", "pivot off the middle by at most", "of the way to the skin", &L::pivotOut, 0.1, 5, 2},
        {"bindDegrees", "rest off the bind pose by at most", "degrees", &L::bindDegrees, 0.01, 90, 2},
        {"loopDegrees", "edge loops off the limb's breadth by at most", "degrees", &L::loopDegrees, 1, 45,
         0}};
    return all;
}

CheckFindings inspect(const Subject& subject, const IntakeLimits& limits, const Progress& progress) {
    CheckFindings out;
    double done = 0;
    for (const Check& check : intakeChecks()) {
        if (progress.stopped())
            return {};
        CheckFindings found = check.find(subject, limits);
        out.insert(out.end(), std::make_move_iterator(found.begin()), std::make_move_iterator(found.end()));
        progress.at(++done / static_cast<double>(intakeChecks().size()));
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const CheckFinding& a, const CheckFinding& b) { return a.severity > b.severity; });
    return out;
}

int intakeScore(const CheckFindings& findings) {
    static const int takes[] = {0, 1, 4, 10, 25};
    std::map<std::string, std::pair<int, int>> byCheck; // worst, sum
    for (const CheckFinding& f : findings) {
        auto& [worst, sum] = byCheck[f.check];
        worst = std::max(worst, takes[std::clamp(f.severity, 0, 4)]);
        sum += takes[std::clamp(f.severity, 0, 4)];
    }
    int off = 0;
    for (const auto& [check, points] : byCheck)
        off += std::min(points.second, 2 * points.first);
    return std::max(0, 100 - off);
}

} // namespace hobble
