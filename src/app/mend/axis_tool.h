#pragma once
// A handle to turn a joint's own axes by: the axis that the joint bends about, drawn through the joint, on
// the arc it goes along. Dragged along that arc, the motion is tried about the axis it comes to.
#include "app/session/mend_desk.h"
#include "app/view/viewport.h"

namespace hobble {

class AxisTool : public ViewportTool {
    Q_OBJECT
public:
    AxisTool(Viewport* viewport, MendDesk* mend);

    /// Of the trial; −1, or one that turns no axes: no handle.
    void setStep(int step);
    /// Where the end of the bend's axis stands in the view; nothing where there is none.
    std::optional<QPointF> handle() const;
    double turnedBy() const; // degrees, as shown

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    void paintOver(QPainter&) override;

private:
    const Step* step() const;
    void measure();
    Vec3d endAt(double degrees) const; // world, posed
    double angleOf(const QPointF& at) const;
    void turnTo(const QPointF& at);
    Step turned() const;

    Viewport* viewport_;
    MendDesk* mend_;
    int step_ = -1;
    // What is known of the step in the pose shown; world, posed
    bool there_ = false;
    Vec3d centre_ = Vec3d::Zero(), about_ = Vec3d::UnitY();
    Vec3d arm_ = Vec3d::UnitX(); // to the end of the bend's axis with nothing turned, metres, across about_
    // While it is dragged
    bool grasped_ = false;
    QPointF pressed_;
    double from_ = 0, degrees_ = 0;
};

} // namespace hobble
