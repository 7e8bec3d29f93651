#pragma once
// Strokes on the posed skin. A stroke is a path over the neutral surface; while it is drawn it is worked out
// and seen, and when the hand lets go it is a step of the trial.
#include "app/session/mend_desk.h"
#include "app/view/viewport.h"

namespace hobble {

/// What a stroke does to the share of the joint in hand, or to all of them; or to the skin's shape at the
/// angle that is shown. Drag: the skin that was grasped goes with the pointer, across the view.
enum class BrushDoes { Nothing, Add, Take, Soften, FromNeighbours, KeepOut, Out, In, Even, Drag };
inline bool ofTheShape(BrushDoes does) { return does >= BrushDoes::Out; }

class BrushTool : public ViewportTool {
    Q_OBJECT
public:
    BrushTool(Viewport* viewport, MendDesk* mend);

    BrushDoes does() const { return does_; }
    void setDoes(BrushDoes does);
    double radius() const { return radius_; } // metres, on the neutral skin
    void setRadius(double metres);
    double strength() const { return strength_; } // 0 … 1
    void setStrength(double strength);
    bool along() const { return along_; } // the surface, or straight through
    void setAlong(bool on) { along_ = on; }
    bool bothSides() const { return bothSides_; }
    void setBothSides(bool on) { bothSides_ = on; }
    bool stroking() const { return !path_.empty(); }
    /// Lets go of a stroke under way without a step.
    void giveUp();
    /// The welded vertex under the pointer; nothing where there is no skin.
    std::optional<std::uint32_t> pointedAt() const { return pointed_; }

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    bool click(QMouseEvent*) override { return does_ != BrushDoes::Nothing; }
    void paintOver(QPainter&) override;
    bool takesPointer() const override { return does_ != BrushDoes::Nothing; }
    bool eventFilter(QObject* watched, QEvent* event) override;

signals:
    void changed(); // what it does, or how
    void pointed(); // at other skin

private:
    std::optional<Vec3> neutralAt(const QPointF& at) const;
    Step step() const;

    Viewport* viewport_;
    MendDesk* mend_;
    BrushDoes does_ = BrushDoes::Nothing;
    double radius_ = 0.03, strength_ = 0.3;
    bool along_ = true, bothSides_ = false, sized_ = false;
    std::vector<Vec3> path_;
    std::vector<float> pressure_;                             // at each of its points
    QPointF pressed_;                                         // of Drag …
    Vec3d grasped_ = Vec3d::Zero(), dragged_ = Vec3d::Zero(); // … in the pose shown, metres; by how much
    std::optional<std::uint32_t> pointed_;
};

} // namespace hobble
