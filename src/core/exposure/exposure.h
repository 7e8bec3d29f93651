#pragma once
// Exposure: how far a show's own animation takes a character along the motions of its plan, clip by clip.
// What decides how urgent a fault is: does anyone ever go there? Told in whole units (degrees, per cent), as
// places are told to people, so that what is kept of a clip does not grow with its frames.
#include "core/exposure/motion_extent.h"

#include <optional>
#include <string>
#include <vector>

namespace hobble {

/// One motion in one clip.
struct MotionUse {
    bool told = false; // the clip turns its joints; otherwise nothing is known of it
    /// For 1, 2, 3 … whole units: how many frames go at least so far, and which is the first of them. Ends
    /// with the furthest.
    std::vector<std::uint32_t> frames, first;

    bool operator==(const MotionUse&) const = default;
};

struct ClipUse {
    std::string file, clip; // where it is, and its name there
    double framesPerSecond = 30;
    std::uint32_t frames = 0;
    bool asItIs = false;            // on the character's own skeleton, not carried over
    std::vector<MotionUse> motions; // as in the plan
    std::vector<std::string> notes; // what could not be carried
};

/// Takes the frames of one clip in their order.
class ClipUseCounter {
public:
    explicit ClipUseCounter(const MotionExtents& extents);
    void add(const Pose& pose);
    /// `turned`: the joints the clip tells of; `targets`: whether it tells of shape targets.
    ClipUse finish(const std::vector<char>& turned, bool targets);

private:
    const MotionExtents& extents_;
    ClipUse use_;
    std::vector<float> extent_;
};

/// A file that could not be read, or a clip that nothing of could be carried over.
struct ClipTrouble {
    std::string file, words;
};

struct Exposure {
    std::vector<std::string> motionIds; // of the plan it was counted on, by which motions are found
    std::vector<ClipUse> clips;         // in the order of the files
    std::vector<ClipTrouble> troubles;
    std::size_t frameCount() const;
    int motionOf(const std::string& id) const; // -1 when there is none
};

/// What animation does past a place of a motion.
struct UsePast {
    std::size_t frames = 0, clips = 0;     // that go there
    std::size_t ofFrames = 0, ofClips = 0; // that tell of the motion at all
    int firstClip = -1;                    // of Exposure::clips; -1: nothing goes there
    std::uint32_t firstFrame = 0;          // of that clip
    bool known() const { return ofClips > 0; }
};

/// `motion`: of Exposure::motionIds; −1 gives what is not known. `at` is rounded to a whole unit, 1 at least.
UsePast usePast(const Exposure& exposure, int motion, double at);

/// How far it is gone at most, in the unit of the motion; nothing when no clip tells.
std::optional<double> furthest(const Exposure& exposure, int motion);

/// The share of all frames that tell of the motion in each of `bins` equal parts of 0 … limit; what goes
/// further counts in none.
std::vector<double> useDensity(const Exposure& exposure, int motion, double limit, std::size_t bins);

} // namespace hobble
