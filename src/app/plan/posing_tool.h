#pragma once
// Posing on the Plan page: the arcs of the joint in hand with their handles, the ends that can be dragged,
// and what the feet stand on.
#include "app/plan/range_arcs.h"
#include "app/view/viewport.h"

namespace hobble {

class PlanDesk;
class PoseDesk;

class PosingTool : public ViewportTool {
    Q_OBJECT
public:
    PosingTool(Viewport* viewport, PoseDesk* pose, PlanDesk* plan);

    /// A range's handle changes both sides' motions.
    void setBothSides(bool on) { bothSides_ = on; }

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    bool click(QMouseEvent*) override;
    void paintOver(QPainter&) override;
    bool paintsSkeleton() const override { return true; }

signals:
    void said(const QString& words); // of what is being dragged; empty: nothing to say

private:
    // What of a pose is in hand.
    struct Grasp {
        enum class Kind { None, Turn, RangeEnd, Drag };
        Kind kind = Kind::None;
        int joint = -1, axis = 0;
        bool most = false, moved = false;
        double degrees = 0; // of the range's end
        Pose start;
        QString startName;
        QPointF pressed;
    };
    std::vector<RangeArc> arcs() const;
    double angleNear(const RangeArc& arc, const QPointF& at, double from, double least, double most) const;
    int posableNear(const QPointF& at) const;
    void moveTo(const QPointF& at);
    void turnTo(const QPointF& at);
    void dragTo(const QPointF& at);
    void paintBalance(QPainter& p);
    void paintJoints(QPainter& p);
    void paintArcs(QPainter& p);

    Viewport* viewport_;
    PoseDesk* pose_;
    PlanDesk* plan_;
    Grasp grasp_;
    bool bothSides_ = true;
};

} // namespace hobble
