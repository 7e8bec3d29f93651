#pragma once
// Which frames of a clip to test: how far each drives the joints of their planned ranges, which of them
// stress the joints most, and the motions made of those chosen.
#include "core/pose/joint_range.h"

namespace hobble {

struct FrameStress {
    double share = 0;  // the most any joint uses of its range, 1 at the limit
    int joint = -1;    // which
    double beyond = 0; // degrees the worst joint is past its range
    int beyondJoint = -1;
};

std::vector<FrameStress> frameStress(const std::vector<JointRange>& ranges, const std::vector<Pose>& poses);

/// Up to `count` places among the poses, rising: each brings some joint nearer to a limit than those before
/// it, the greatest gain first. Poses beyond the range by more than `allowed` degrees are passed over.
std::vector<std::size_t> mostStressful(const std::vector<JointRange>& ranges, const std::vector<Pose>& poses,
                                       std::size_t count, double allowed = 1e9);

enum class BeyondPlan { Keep, LeaveOut, JudgeApart };

struct ChosenFrames {
    std::string clip;                // its name
    std::vector<std::size_t> frames; // rising: numbers of the clip's frames
    std::vector<Pose> poses;         // of each, on the character
};

/// One motion over the frames, neutral before and after. Frames past the planned ranges by more than
/// `allowed` degrees are kept, left out, or made a motion of their own that says what is past.
std::vector<Motion> clipMotions(const Character& character, const std::vector<JointRange>& ranges,
                                const ChosenFrames& chosen, BeyondPlan beyondPlan, double allowed = 5);

} // namespace hobble
