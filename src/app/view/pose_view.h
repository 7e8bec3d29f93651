#pragma once
// One posed character to be looked at: which one, in which pose, skinned how, and what has been computed of
// it so far. A viewport draws one of these; a second character on screen is a second one.
#include "app/view/pose_worker.h"

namespace hobble {

/// A pose that was asked for.
struct AskedPose {
    Pose pose;
    std::shared_ptr<const Motion> moved; // whose pose it is; null for one that is no motion's
    int motion = -1;                     // its place in the plan
    double at = 0;                       // in the motion's unit
    std::vector<int> joints;             // whose zones are measured
};

class PoseView : public QObject {
    Q_OBJECT
public:
    explicit PoseView(QObject* parent = nullptr);
    ~PoseView() override;

    const std::shared_ptr<const Subject>& subject() const { return subject_; }
    /// Another character. `first`, in neutral, is what is seen until a pose is asked for; null: nothing is.
    void setSubject(std::shared_ptr<const Subject> subject,
                    std::shared_ptr<const PosedFrame> first = nullptr);

    /// The same mesh with other weights, or joints that stand elsewhere: pose and joint stay, and what is
    /// seen stays until the first frame of it has come.
    void exchange(std::shared_ptr<const Subject> subject);

    const AskedPose& asked() const { return asked_; }
    void show(AskedPose asked);
    /// How the pose asked for takes along what stands beside a joint in neutral; −1: not at all.
    Transform carriedBy(int joint) const;
    Skinning method() const { return method_; }
    void setMethod(Skinning method);
    const FrameWish& wish() const { return wish_; }
    void setWish(const FrameWish& wish);
    /// What the details need besides: the run the pose is of, and the store of what was measured.
    void setRun(std::shared_ptr<const RunResult> run);
    void setStore(MeasuredStore* store, const Floors& floors);

    /// Poses of that character are shown otherwise while they change: frames are made of those that rest.
    void setUnhurried(const Subject* of) { unhurried_ = of; }

    /// What is seen now; null until the first has been computed.
    const std::shared_ptr<const PosedFrame>& frame() const { return frame_; }
    /// Of the frame seen; null until they have been computed.
    std::shared_ptr<const PosedDetail> detail() const;
    std::shared_ptr<const PosedSkin> skin() const;
    bool arrived() const; // the frame is the one asked for

    /// The joint looked at: whose limits, weights and region are meant; −1: none.
    int joint() const { return joint_; }
    void setJoint(int joint);

signals:
    void subjectChanged();
    void poseChanged(); // asked for
    void frameReady();  // and computed
    void detailReady();
    void jointChanged();

private:
    void request();
    std::shared_ptr<const Subject> subject_;
    std::vector<std::shared_ptr<const Subject>> coming_; // exchanged for and not seen yet, the newest last
    AskedPose asked_;
    Skinning method_ = Skinning::Linear;
    FrameWish wish_;
    std::shared_ptr<const RunResult> run_;
    MeasuredStore* store_ = nullptr;
    Floors floors_;
    std::shared_ptr<const PosedFrame> frame_;
    std::shared_ptr<const PosedDetail> detail_;
    mutable std::pair<std::shared_ptr<const PosedFrame>, std::shared_ptr<const PosedSkin>> skin_;
    int joint_ = -1;
    const Subject* unhurried_ = nullptr;
    PoseWorker worker_;
};

} // namespace hobble
