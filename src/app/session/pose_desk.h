#pragma once
// Poses made by hand: the one in hand, the joint in hand, the shelf of poses, and the clip poses are taken
// from.
#include "app/session/plan_desk.h"
#include "core/pose/balance.h"
#include "core/pose/clip_frames.h"
#include "core/pose/inverse_kinematics.h"
#include "core/pose/role_pose.h"
#include "io/clip_read.h"

namespace hobble {

/// Poses of a clip on the character, as far as they were looked at.
struct ClipOnDesk {
    std::shared_ptr<const ClipFile> file;
    QString path;
    int clip = 0;
    RetargetSettings settings;
    std::vector<std::size_t> frames; // looked at: every so-manyth of a long clip
    std::vector<Pose> poses;         // of each
    std::vector<FrameStress> stress;
    std::vector<std::string> notes;
    JointMap map;
    std::vector<std::string> sourceJoints;
    bool asItIs = false;   // the clip of this very skeleton
    std::size_t place = 0; // among those looked at: where it is opened

    const Clip& chosen() const { return file->body.clips[static_cast<std::size_t>(clip)]; }
};

struct ShelfPose {
    RolePose pose;
    QString file;
};

class PoseDesk : public Desk {
    Q_OBJECT
public:
    PoseDesk(Shared& shared, BuildDesk& build, PlanDesk& plan);
    PoseView& view() { return view_; } // what is worn, in the pose in hand

    // The pose
    const Pose& pose() const { return pose_; }
    QString poseName() const { return name_; } // where it came from; empty once it was changed by hand
    void showPose(const Pose& pose, const QString& name); // not a change to be undone: something is looked at
    void setPose(const Pose& pose, const QString& what);  // a change by hand, undoable
    void preview(const Pose& pose);                       // while the hand moves
    const Balance& balance() const { return balance_; }
    void neutral();
    void mirror();
    void copyFrom(Side side);

    // The joint in hand
    int joint() const { return view_.joint(); }
    void selectJoint(int joint);
    const std::vector<JointRange>& ranges() const { return ranges_; }
    bool limitsKept() const { return limitsKept_; }
    void setLimitsKept(bool on);
    /// The pose with one angle of the joint set: 0 flex, 1 side, 2 roll. Within the range while limits are
    /// kept.
    Pose turned(const Pose& from, int joint, int axis, double degrees) const;
    /// Hands, feet, hips and head: what can be dragged.
    const std::vector<int>& ends() const { return ends_; }
    bool pinned(int joint) const;
    void setPinned(int joint, bool on);
    /// From a pose, with one end brought to a place and the pinned ones kept.
    Reach dragged(const Pose& from, int joint, const Vec3d& place) const;

    void putInPlan(const Pose& pose, const QString& name, const QString& source);

    // The shelf
    const std::vector<ShelfPose>& shelf() const { return shelf_; }
    bool keepOnShelf(const QString& name, const QByteArray& picture);
    void takeOffShelf(int index); // undoable
    void showShelfPose(int index);
    static QString shelfFolder();

    // A clip
    void openClip(const QString& path);
    /// The same, at a frame of one of its clips; `then` gets the character's pose in that very frame.
    void openClipAt(const QString& path, const std::string& clip, std::size_t frame,
                    std::function<void(const Pose&)> then);
    const ClipOnDesk* clip() const { return clip_ ? &*clip_ : nullptr; }
    void chooseClip(int clip, const RetargetSettings& settings);
    void showClipFrame(std::size_t place); // among those looked at
    /// Where the joint maps of this character are kept, and what one says of a skeleton; from any thread.
    QString jointMapsOf() const;
    static std::map<std::string, std::string> keptJointMap(const QString& maps, const std::string& skeleton);
    /// Between two places, every n-th; or of those the `most` that stress joints most.
    void putClipInPlan(std::size_t first, std::size_t last, std::size_t every, std::size_t most,
                       BeyondPlan beyond);

signals:
    void poseChanged(QPrivateSignal);
    void balanceChanged(QPrivateSignal); // of the pose that is shown
    void jointChanged(QPrivateSignal);
    void rangesChanged(QPrivateSignal);
    void shelfChanged(QPrivateSignal);
    void clipChanged(QPrivateSignal);

private:
    void takeSubject(BuildDesk::Change change);
    void takeRanges();
    void show();
    void readShelf();
    struct FrameWish { // which frame is to be shown once the clip is carried over
        std::size_t frame = 0;
        std::function<void(const Pose&)> then; // with the pose in that very frame; may be empty
    };
    void readClip(const QString& path, const std::string& clip, const FrameWish& wish);
    void carryClip(const QString& path, std::shared_ptr<const ClipFile> file, int clip,
                   const RetargetSettings& settings, const FrameWish& wish);
    QString mapFile(const Skeleton& source) const { return mapFile(jointMapsOf(), skeletonKey(source)); }
    static QString mapFile(const QString& maps, const std::string& skeleton);

    BuildDesk& build_;
    PlanDesk& plan_;
    PoseView view_;
    Pose pose_;
    QString name_;
    Balance balance_;
    bool limitsKept_ = true;
    std::vector<JointRange> ranges_;
    std::vector<int> ends_;
    std::vector<int> loose_; // ends that are not pinned
    std::vector<ShelfPose> shelf_;
    std::optional<ClipOnDesk> clip_;
};

} // namespace hobble
