#pragma once
// A handle at the joint that a step moves or adds: dragged across the view, it takes the joint with it. In
// the pose that is shown it stands where the joint above carries it. Near the middle of the limb's flesh it
// snaps there.
#include "app/session/mend_desk.h"
#include "app/view/viewport.h"

namespace hobble {

class JointTool : public ViewportTool {
    Q_OBJECT
public:
    JointTool(Viewport* viewport, MendDesk* mend);

    /// Of the trial; −1, or one that is about no joint's place: no handle.
    void setStep(int step);
    /// Where the handle stands in the view; nothing where there is none.
    std::optional<QPointF> handle() const;
    /// Where it would snap to.
    std::optional<QPointF> middle() const;

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    void paintOver(QPainter&) override;

private:
    const Step* step() const;
    void measure();
    Vec3d posed(const Vec3d& neutral) const;
    void moveTo(const QPointF& at);

    Viewport* viewport_;
    MendDesk* mend_;
    int step_ = -1;
    // What is known of the step in the pose shown
    Transform carried_ = Transform::Identity();
    std::optional<Vec3d> middle_; // of the limb, neutral, metres
    struct MiddleOf {
        const Subject* build = nullptr;
        int joint = -1;
        Vec3d place = Vec3d::Zero();
        bool operator==(const MiddleOf&) const = default;
    } middleOf_; // what it was worked out for
    // While it is dragged
    bool grasped_ = false, snapped_ = false;
    QPointF pressed_;
    Vec3d from_ = Vec3d::Zero(), at_ = Vec3d::Zero(); // neutral, metres
};

} // namespace hobble
