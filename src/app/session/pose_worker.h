#pragma once
// Poses the character off the window's thread, in two steps: the frame that scrubbing shows, and, once
// nothing newer is wanted, the detail that takes longer. Only the newest request counts: while one pose is
// computed, later requests replace each other, so that scrubbing never queues up.
#include "core/deform/smooth_preview.h"
#include "core/judge/limits.h"
#include "core/measure/subject.h"
#include "core/run/run.h"

#include <QObject>

#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

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
    int motion = -1; // of the plan; -1 for a pose that is no motion's
    double degrees = 0;
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
    double degrees = 0;
    FrameWish wish;
    std::shared_ptr<const Motion> moved;  // the motion itself, for the detail; null: no detail
    std::shared_ptr<const RunResult> run; // what only the whole run tells; may be null
    MeasuredStore* store = nullptr;
    Floors floors; // under which the store keeps
};

PosedFrame computeFrame(const PoseRequest& request);
PosedDetail computeDetail(const PoseRequest& request, std::shared_ptr<const PosedFrame> frame,
                          const std::atomic<bool>* cancel = nullptr);

class PoseWorker : public QObject {
    Q_OBJECT
public:
    explicit PoseWorker(QObject* parent = nullptr);
    ~PoseWorker() override;
    void request(PoseRequest request);

signals:
    void posed(std::shared_ptr<const hobble::PosedFrame> frame);
    void detailed(std::shared_ptr<const hobble::PosedDetail> detail);

private:
    void work();
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<PoseRequest> newest_;
    std::atomic<bool> stale_{false}; // something newer is wanted
    bool stopping_ = false;
    std::thread thread_;
};

} // namespace hobble
