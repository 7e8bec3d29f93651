#pragma once
// One pose to be looked at, in three steps that take longer and longer: the frame that scrubbing shows; where
// rays meet it; and the detail, every measure of this one pose.
#include "core/deform/smooth_preview.h"
#include "core/judge/limits.h"
#include "core/measure/skin_ray.h"
#include "core/measure/subject.h"
#include "core/run/run.h"

#include <memory>
#include <optional>

namespace hobble {

enum class Ghost { None, Neutral, StepBefore, StepAfter };

/// What is to be seen besides the posed skin.
struct FrameWish {
    std::optional<Kind> values; // the measure the skin is coloured by, where strain does not say it
    bool contactLines = true;
    Ghost ghost = Ghost::None;
    bool smooth = false;
    bool operator==(const FrameWish&) const = default;
};

struct PosedFrame {
    std::shared_ptr<const Subject> subject;
    int motion = -1;                                // of the plan; -1 for a pose that is no motion's
    double at = 0;                                  // in the motion's unit
    std::vector<Vec3> position, normal;             // per file vertex, world
    std::vector<Strain> strain;                     // per file vertex
    std::vector<JointStep> zones;                   // of the joints the motion turns
    std::vector<Vec3> jointPosition;                // per joint
    std::vector<Vec3> ghostPosition, ghostNormal;   // per file vertex; empty without a ghost
    std::shared_ptr<const SmoothPreview> preview;   // null unless it is wanted
    std::vector<Vec3> smoothPosition, smoothNormal; // per vertex of the preview
};

/// Only of poses that are a motion's.
struct PosedDetail {
    std::shared_ptr<const PosedFrame> frame;
    MeasuredMotion measured;        // this one pose, without floors
    std::optional<Kind> kind;       // that was wished for
    std::vector<float> values;      // of that kind, per welded vertex
    std::vector<Vec3> contactLines; // ends of segments, world
};

struct PoseRequest {
    std::shared_ptr<const Subject> subject;
    Pose pose;
    std::optional<Pose> ghost;
    std::vector<int> joints; // whose zones to measure
    Skinning method = Skinning::Linear;
    int motion = -1;
    double at = 0;
    FrameWish wish;
    std::shared_ptr<const Motion> moved;  // the motion itself, for the detail; null: no detail
    std::shared_ptr<const RunResult> run; // what only the whole run tells; may be null
    MeasuredStore* store = nullptr;
    Floors floors;          // under which the store keeps
    bool unhurried = false; // a coarser mesh shows it meanwhile: only a pose that rests is worth its time
};

/// `preview` is wanted only where the wish asks for a smooth skin: it is the same for all poses.
PosedFrame computeFrame(const PoseRequest& request, std::shared_ptr<const SmoothPreview> preview = nullptr);

/// The pose's detail, where it is a motion's; unfinished when cancelled.
PosedDetail computeDetail(const PoseRequest& request, std::shared_ptr<const PosedFrame> frame,
                          const std::atomic<bool>* cancel = nullptr);

/// Where in a motion a ghost stands that is not the neutral's: at the step beside `at`; nothing where there
/// is none.
std::optional<double> ghostPlace(const Motion& motion, double at, Ghost ghost);

} // namespace hobble
