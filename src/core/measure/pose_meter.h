#pragma once
// Measures the poses of one motion after another, and keeps the space they need. One per thread.
#include "core/deform/deformer.h"
#include "core/measure/contact.h"
#include "core/measure/cover.h"
#include "core/measure/joined_zones.h"
#include "core/measure/measured.h"
#include "core/measure/region.h"
#include "core/measure/roughness.h"

#include <atomic>
#include <optional>

namespace hobble {

struct MeterOptions {
    Skinning method = Skinning::Linear;
    Floors floors;
    bool contact = true;
    const std::atomic<bool>* cancel = nullptr; // looked at several times within a pose
};

class PoseMeter {
public:
    PoseMeter(const Subject& subject, const MeterOptions& options) : s_(subject), options_(options) {}

    /// Every pose of the motion; nothing when cancelled. `done` is called after each.
    template <class Done> std::optional<MeasuredMotion> measure(const Motion& motion, Done&& done) {
        begin(motion);
        for (double degrees : motion.steps) {
            if (!pose(degrees))
                return std::nullopt;
            done();
        }
        return finish();
    }

    void begin(const Motion& motion);
    bool pose(double degrees); // false when cancelled
    /// A pose more of the motion that was begun last, by itself; nothing when cancelled.
    std::optional<MeasuredPose> oneMore(double degrees);
    MeasuredMotion finish(); // with what only the whole motion shows: kicks between its poses

private:
    const Subject& s_;
    MeterOptions options_;
    const Motion* motion_ = nullptr;
    MotionRegion region_;
    MeasuredMotion out_;
    std::vector<std::vector<std::uint32_t>> zoneTriangles_; // per turn, per zone triangle its place in the
                                                            // region
    Samples missing_;                                       // what lags behind the motion's joint
    std::vector<std::uint32_t> outside_;                    // where in the region's vertices skin can leak
    RingLanes rings_;
    JoinedZones joined_;
    std::vector<char> partBends_; // per rigid part: something else than one joint moves it in this motion
    bool kicks_ = false;          // the motion is driven, so it may kick
    // scratch
    std::vector<Vec3> file_, posed_;
    std::vector<Strain> strain_, zoneStrain_;
    Roughness rough_;
    std::vector<char> flipped_;
    std::vector<float> leak_;
    ContactScratch contactScratch_;
    Contact contact_;
    CoverScratch coverScratch_;
    Cover cover_;
    std::vector<std::size_t> openings_; // of the subject's, those that the motion can change
    OpeningScratch openingScratch_;
    std::vector<std::vector<Vec3>> paths_; // of the region's vertices, per step

    bool cancelled() const { return options_.cancel && options_.cancel->load(std::memory_order_relaxed); }
    void zones(MeasuredPose& out);
    void surface(MeasuredPose& out);
    void flips(MeasuredPose& out);
    void lag(MeasuredPose& out);
    void parts(MeasuredPose& out);
    void openings(MeasuredPose& out);
};

} // namespace hobble
