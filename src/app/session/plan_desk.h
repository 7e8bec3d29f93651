#pragma once
// What lies on the desk of the Plan page: the pose made by hand, the joint in hand, the shelf of poses, and
// the clip poses are taken from.
#include "app/session/pose_worker.h"
#include "core/pose/balance.h"
#include "core/pose/clip_frames.h"
#include "core/pose/inverse_kinematics.h"
#include "core/pose/role_pose.h"
#include "io/clip_read.h"

#include <QObject>
#include <QString>
#include <QVector>

namespace hobble {

class Session;

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
    bool asItIs = false; // the clip of this very skeleton

    const Clip& chosen() const { return file->body.clips[static_cast<std::size_t>(clip)]; }
};

struct ShelfPose {
    RolePose pose;
    QString file;
};

class PlanDesk : public QObject {
    Q_OBJECT
public:
    explicit PlanDesk(Session* session);

    // The pose
    const Pose& pose() const { return pose_; }
    QString poseName() const { return name_; } // where it came from; empty once it was changed by hand
    void showPose(const Pose& pose, const QString& name); // not a change to be undone: something is looked at
    void setPose(const Pose& pose, const QString& what);  // a change by hand, undoable
    void preview(const Pose& pose);                       // while the hand moves
    std::shared_ptr<const PosedFrame> frame() const { return frame_; }
    const Balance& balance() const { return balance_; }
    void neutral();
    void mirror();
    void copyFrom(Side side);

    // The joint in hand
    int joint() const { return joint_; }
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

    /// Another range for a motion and, where `bothSides`, for its fellow of the other side. Undoable.
    void setRange(const std::string& motion, double limit, bool bothSides);
    void setOn(const std::vector<std::string>& motions, bool on);
    void takeOut(const std::string& motion); // poses, clips and shapes; a joint's motion is switched off
    void putInPlan(const Pose& pose, const QString& name, const QString& source);
    void takeStandardPlan();

    // The shelf
    const std::vector<ShelfPose>& shelf() const { return shelf_; }
    bool keepOnShelf(const QString& name, const QByteArray& picture);
    void takeOffShelf(int index); // undoable
    void showShelfPose(int index);
    static QString shelfFolder();

    // A clip
    void openClip(const QString& path);
    const ClipOnDesk* clip() const { return clip_ ? &*clip_ : nullptr; }
    void chooseClip(int clip, const RetargetSettings& settings);
    void showClipFrame(std::size_t place); // among those looked at
    /// Between two places, every n-th; or of those the `most` that stress joints most.
    void putClipInPlan(std::size_t first, std::size_t last, std::size_t every, std::size_t most,
                       BeyondPlan beyond);

    void takeCharacter(); // another character, or another build
    void takePlan();

signals:
    void poseChanged();
    void frameReady();
    void jointChanged();
    void rangesChanged();
    void shelfChanged();
    void clipChanged();

private:
    void requestFrame();
    void readShelf();
    void carryClip(const QString& path, std::shared_ptr<const ClipFile> file, int clip,
                   const RetargetSettings& settings);
    QString mapFile(const Skeleton& source) const;

    Session* session_;
    Pose pose_;
    QString name_;
    PoseWorker worker_;
    std::shared_ptr<const PosedFrame> frame_;
    Balance balance_;
    int joint_ = -1;
    bool limitsKept_ = true;
    std::vector<JointRange> ranges_;
    std::vector<int> ends_;
    std::vector<int> loose_; // ends that are not pinned
    std::vector<ShelfPose> shelf_;
    std::optional<ClipOnDesk> clip_;
};

} // namespace hobble
