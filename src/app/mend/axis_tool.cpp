#include "app/mend/axis_tool.h"

#include "app/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace hobble {

namespace {

constexpr double kFacing = 0.3; // of the arc to the eye, below which it is gone along and not about

} // namespace

AxisTool::AxisTool(Viewport* viewport, MendDesk* mend)
    : ViewportTool(viewport), viewport_(viewport), mend_(mend) {
    viewport->addTool(this);
    connect(viewport->view(), &PoseView::frameReady, this, &AxisTool::measure);
    connect(viewport->view(), &PoseView::subjectChanged, this, &AxisTool::measure);
    connect(mend, &MendDesk::trialChanged, this, &AxisTool::measure);
}

void AxisTool::setStep(int step) {
    step_ = step;
    grasped_ = false;
    measure();
}

const Step* AxisTool::step() const {
    const auto& steps = mend_->trial().steps;
    if (step_ < 0 || static_cast<std::size_t>(step_) >= steps.size())
        return nullptr;
    const Step& s = steps[static_cast<std::size_t>(step_)];
    return s.on && s.kind == StepKind::TurnAxes ? &s : nullptr;
}

void AxisTool::measure() {
    there_ = false;
    viewport_->update();
    const Step* s = step();
    const Subject* build = mend_->build();
    const int joint = s && build ? build->character->skeleton.find(s->joint) : -1;
    if (joint < 0 || s->at.norm() < 1e-9)
        return;
    const Skeleton& skeleton = build->character->skeleton;
    const Vec3d about = s->at.normalized();
    Vec3d axis = mend_->bendAxis(joint).value_or(about);
    axis -= about * about.dot(axis);
    if (axis.norm() < 0.2) // it bends about what its axes are turned about: any direction tells how far
        axis = about.unitOrthogonal();
    const Transform carried = viewport_->view()->carriedBy(skeleton.parent[static_cast<std::size_t>(joint)]);
    centre_ = carried * skeleton.place(joint);
    about_ = carried.linear() * about;
    arm_ = carried.linear() * axis.normalized() * 0.09 * viewport_->body().height;
    there_ = true;
}

double AxisTool::turnedBy() const {
    return grasped_ ? degrees_ : step() ? step()->strength * step()->amount : 0;
}

Vec3d AxisTool::endAt(double degrees) const {
    return centre_ + Eigen::AngleAxisd(radians(degrees), about_) * arm_;
}

std::optional<QPointF> AxisTool::handle() const {
    if (!there_ || !step() || !viewport_->view()->frame())
        return std::nullopt;
    return viewport_->project(endAt(turnedBy()));
}

bool AxisTool::press(QMouseEvent* e) {
    const auto at = handle();
    if (!at || !grasps(*at, e->position()))
        return false;
    from_ = degrees_ = turnedBy();
    grasped_ = true;
    pressed_ = e->position();
    return true;
}

// About the joint, in the plane of the arc, from the arm with nothing turned; degrees.
double AxisTool::angleOf(const QPointF& at) const {
    const Vec3d eye = viewport_->eye(), ray = viewport_->rayAt(at);
    const Vec3d to = eye + ray * ((centre_ - eye).dot(about_) / ray.dot(about_)) - centre_;
    return hobble::degrees(std::atan2(arm_.cross(to).dot(about_), arm_.dot(to)));
}

void AxisTool::turnTo(const QPointF& at) {
    const Vec3d end = endAt(from_);
    double by = 0;
    if (std::abs(viewport_->camera().direction(viewport_->body()).dot(about_)) > kFacing) {
        by = std::remainder(angleOf(at) - angleOf(pressed_), 360);
    } else { // seen from its edge, the arc is a line
        const Vec3d way = about_.cross(end - centre_);
        by = hobble::degrees(viewport_->dragged(end, pressed_, at).dot(way) / way.squaredNorm());
    }
    degrees_ = std::round(10 * std::remainder(from_ + by, 360)) / 10;
    viewport_->update();
}

Step AxisTool::turned() const {
    Step out = *step();
    out.amount = degrees_ / std::max(out.strength, 1e-6);
    return out;
}

void AxisTool::move(QMouseEvent* e) {
    if (!grasped_ || !step())
        return;
    turnTo(e->position());
    mend_->previewStep(step_, turned());
}

void AxisTool::release(QMouseEvent* e) {
    if (!grasped_)
        return;
    if (step())
        turnTo(e->position());
    grasped_ = false;
    if (step() && degrees_ != from_)
        mend_->setStep(step_, turned(), tr("turn the axes of a joint"));
    else
        mend_->dropPreview();
    measure();
}

void AxisTool::paintOver(QPainter& p) {
    const auto at = handle();
    if (!at)
        return;
    const Theme& t = Theme::current();
    const QPointF centre = viewport_->project(centre_);
    QPainterPath arc;
    for (int d = 0; d <= 360; d += 6) {
        const QPointF on = viewport_->project(endAt(d));
        d == 0 ? arc.moveTo(on) : arc.lineTo(on);
    }
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.muted, 1, Qt::DotLine));
    p.drawPath(arc);
    if (const double was = grasped_ ? from_ : 0; std::abs(turnedBy() - was) > 0.05) { // where it came from
        const Vec3d end = endAt(was);
        p.setPen(QPen(t.muted, 1.2));
        p.drawLine(viewport_->project(2 * centre_ - end), viewport_->project(end));
    }
    const QPointF other = viewport_->project(2 * centre_ - endAt(turnedBy()));
    p.setPen(QPen(t.paper, 4));
    p.drawLine(other, *at);
    p.setPen(QPen(t.accent, 2));
    p.drawLine(other, *at);
    p.drawEllipse(centre, 3, 3);
    const double half = grasped_ ? 7 : 5.5;
    p.setBrush(t.paper);
    p.drawRect(QRectF(at->x() - half, at->y() - half, 2 * half, 2 * half));
    p.restore();
    if (grasped_)
        viewport_->paintWordsAt(p, *at + QPointF(14, -10),
                                tr("axes turned by %L1°").arg(turnedBy(), 0, 'f', 1));
}

} // namespace hobble
