#pragma once
// Where faults meet: frames of a show's animation that go past the onsets of several at once. A single
// joint's range shows each alone; what an audience sees is what they do together, so these frames are the
// ones to make test poses of. Our own.
#include "core/exposure/exposure.h"
#include "core/run/run.h"

namespace hobble {

/// A run of frames in which two faults or more are gone past.
struct Meeting {
    std::string file, clip;
    std::uint32_t first = 0, last = 0; // frames of the clip
    std::uint32_t at = 0;              // where most faults meet, and of those the furthest gone past
    std::vector<int> faults;           // of the run, gone past there; ascending
    float depth = 0;                   // there: how far they are gone past their onsets, in onsets, added up
    bool operator==(const Meeting&) const = default;
};

/// Takes the frames of one clip in their order.
class MeetingFinder {
public:
    /// `plan` is what the extents were made for, and the run is of its motions, by their ids.
    MeetingFinder(const MotionExtents& extents, const Plan& plan, const RunResult& run);
    /// Whether a clip goes past the onsets of two faults at all, as it was counted.
    bool mayMeet(const ClipUse& use) const;

    void begin(const ClipUse& use); // a clip, as it was counted: what it does not tell of is not asked for
    void add(const Pose& pose);
    std::vector<Meeting> finish(); // of the clip

private:
    struct Place { // where a fault begins on a motion
        int fault = -1;
        std::size_t motion = 0;
        float onset = 1; // whole units, as counts are
    };
    const MotionExtents& extents_;
    std::vector<Place> places_, asked_; // by fault; asked_: those the clip tells of
    std::string file_, clip_;
    std::vector<float> extent_;
    std::vector<Meeting> found_;
    std::uint32_t frame_ = 0;
    bool open_ = false; // the last of found_ goes on
};

/// Those with most faults first, then the deepest; at most so many.
std::vector<Meeting> worstMeetings(std::vector<Meeting> all, std::size_t most);

} // namespace hobble
