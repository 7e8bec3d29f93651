#include "app/mend/brush_tool.h"

#include "app/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <utility>

namespace hobble {

BrushTool::BrushTool(Viewport* viewport, MendDesk* mend)
    : ViewportTool(viewport), viewport_(viewport), mend_(mend) {
    viewport->addTool(this);
    viewport->installEventFilter(this);
    connect(viewport->view(), &PoseView::subjectChanged, this, [this] {
        path_.clear();
        pointed_.reset();
        sized_ = false;
        setDoes(BrushDoes::Nothing);
    });
}

void BrushTool::setDoes(BrushDoes does) {
    giveUp();
    does_ = does;
    viewport_->setCursor(does == BrushDoes::Nothing ? Qt::ArrowCursor : Qt::CrossCursor);
    // A first size that fits the joint in hand: half the limb there.
    if (const auto& s = viewport_->view()->subject(); does != BrushDoes::Nothing && s && !sized_) {
        const int joint = mend_->joint();
        const double limb = joint >= 0 ? s->zones[static_cast<std::size_t>(joint)].limbRadius : 0;
        radius_ = limb > 0 ? limb / 2 : s->extent / 60;
        sized_ = true;
    }
    viewport_->update();
    emit changed();
    if (does == BrushDoes::Nothing && std::exchange(pointed_, std::nullopt))
        emit pointed();
}

void BrushTool::setRadius(double metres) {
    const auto& s = viewport_->view()->subject();
    const double most = s ? s->extent / 4 : 1;
    radius_ = std::clamp(metres, most / 1000, most);
    sized_ = true;
    viewport_->update();
    emit changed();
}

void BrushTool::setStrength(double strength) {
    strength_ = std::clamp(strength, 0.02, 1.0);
    viewport_->update();
    emit changed();
}

std::optional<Vec3> BrushTool::neutralAt(const QPointF& at) const {
    const auto hit = viewport_->pick(at);
    const auto& frame = viewport_->view()->frame();
    if (!hit || !frame)
        return std::nullopt;
    const Character& c = *frame->subject->character;
    const Triangle& t = c.triangles[hit->triangle];
    const Vec3d a = frame->position[t[0]].cast<double>(), b = frame->position[t[1]].cast<double>(),
                d = frame->position[t[2]].cast<double>();
    const Vec3d n = (b - a).cross(d - a);
    const double area = n.squaredNorm();
    if (!(area > 0))
        return c.neutral[hit->vertex];
    const double v = std::clamp((hit->point - a).cross(d - a).dot(n) / area, 0.0, 1.0);
    const double w = std::clamp((b - a).cross(hit->point - a).dot(n) / area, 0.0, 1.0 - v);
    return ((1 - v - w) * c.neutral[t[0]].cast<double>() + v * c.neutral[t[1]].cast<double>() +
            w * c.neutral[t[2]].cast<double>())
        .cast<float>();
}

// In the plane through what was grasped that faces the eye.
Step BrushTool::step() const {
    Step out;
    out.place.what = MendPlace::What::Stroke;
    out.place.path = path_;
    if (std::any_of(pressure_.begin(), pressure_.end(), [](float p) { return p < 1; })) // by a pen
        out.place.pressure = pressure_;
    out.place.radius = radius_;
    out.place.along = along_;
    const auto& s = viewport_->view()->subject();
    if (s && mend_->joint() >= 0)
        out.joint = s->character->skeleton.name[static_cast<std::size_t>(mend_->joint())];
    switch (does_) {
    case BrushDoes::Nothing:
        break;
    case BrushDoes::Add:
    case BrushDoes::Take:
        out.kind = StepKind::Fill;
        out.fillBy = FillBy::Add;
        out.amount = does_ == BrushDoes::Add ? strength_ : -strength_;
        break;
    case BrushDoes::Soften:
        out.kind = StepKind::Soften;
        out.joint.clear();
        out.count = 4;
        out.strength = strength_;
        break;
    case BrushDoes::FromNeighbours:
        out.kind = StepKind::FromNeighbours;
        out.joint.clear();
        out.strength = strength_;
        break;
    case BrushDoes::KeepOut:
        out.kind = StepKind::KeepOut;
        out.strength = strength_;
        break;
    case BrushDoes::Out:
    case BrushDoes::In:
    case BrushDoes::Even:
    case BrushDoes::Drag:
        out.kind = StepKind::Correct;
        if (const auto angle = mend_->angleHere(); angle && s) {
            const Skeleton& skeleton = s->character->skeleton;
            out.joint = skeleton.name[static_cast<std::size_t>(angle->joint)];
            out.axis = angle->axis;
            out.degrees = angle->degrees;
            // The shape is for the joint alone: in a pose of many, the limb above may be turned as well.
            const int above = skeleton.parent[static_cast<std::size_t>(angle->joint)];
            const Pose& pose = viewport_->view()->asked().pose;
            out.move = dragged_;
            if (above >= 0 && pose.turn.size() == skeleton.name.size()) {
                const auto at = static_cast<std::size_t>(above);
                out.move = rotationOf(skeleton.neutralWorld[at]) *
                           (rotationOf(drive(*s->character, pose).world[at]).inverse() * dragged_);
            }
        }
        if (does_ == BrushDoes::Drag) {
            out.correctBy = CorrectBy::Move;
            break;
        }
        out.correctBy = does_ == BrushDoes::Even ? CorrectBy::Soften : CorrectBy::Inflate;
        out.count = 4;
        if (does_ == BrushDoes::Even)
            out.strength = strength_;
        else // a stroke at full strength goes a quarter of its radius
            out.amount = (does_ == BrushDoes::Out ? 0.25 : -0.25) * strength_ * radius_;
        break;
    }
    return out;
}

bool BrushTool::press(QMouseEvent* e) {
    if (does_ == BrushDoes::Nothing)
        return false;
    if (ofTheShape(does_) && !mend_->angleHere()) {
        mend_->sayNoAngle();
        return true;
    }
    const auto at = neutralAt(e->position());
    if (!at)
        return false; // beside the character the view is turned, as ever
    path_ = {*at};
    pressure_ = {static_cast<float>(viewport_->pressure())};
    dragged_ = Vec3d::Zero();
    if (does_ == BrushDoes::Drag) { // nothing is done until it is dragged
        pressed_ = e->position();
        grasped_ = viewport_->pick(e->position())->point;
        return true;
    }
    mend_->preview(step(), bothSides_);
    return true;
}

void BrushTool::move(QMouseEvent* e) {
    if (does_ == BrushDoes::Drag && !path_.empty()) {
        dragged_ = viewport_->dragged(grasped_, pressed_, e->position());
        viewport_->update();
        mend_->preview(step(), bothSides_);
        return;
    }
    const auto at = neutralAt(e->position());
    if (!at || path_.empty() || static_cast<double>((*at - path_.back()).norm()) < radius_ / 5)
        return;
    path_.push_back(*at);
    pressure_.push_back(static_cast<float>(viewport_->pressure()));
    mend_->preview(step(), bothSides_);
}

void BrushTool::release(QMouseEvent*) {
    if (path_.empty())
        return;
    const Step done = step();
    path_.clear();
    if (does_ == BrushDoes::Drag && dragged_.norm() < 1e-6)
        return mend_->dropPreview();
    mend_->addStroke(done, bothSides_);
}

void BrushTool::giveUp() {
    if (path_.empty())
        return;
    path_.clear();
    mend_->dropPreview();
}

void BrushTool::paintOver(QPainter& p) {
    if (does_ == BrushDoes::Nothing || !viewport_->underMouse())
        return;
    if (does_ == BrushDoes::Drag && stroking()) { // the ring goes with the skin that was grasped
        const QPointF now = viewport_->project(grasped_ + dragged_);
        const double r = radius_ / std::max(viewport_->pixelAt((grasped_ - viewport_->eye()).norm()), 1e-9);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(Theme::current().muted, 1.2));
        p.drawLine(pressed_, now);
        p.setPen(QPen(Theme::current().viewportInk, 2));
        p.drawEllipse(now, r, r);
        viewport_->paintWordsAt(p, now + QPointF(r + 6, 4),
                                tr("%L1 mm").arg(1000 * dragged_.norm(), 0, 'f', 1));
        return;
    }
    const auto hit = viewport_->pick(viewport_->pointer());
    if (!hit)
        return;
    const double pixel = viewport_->pixelAt((hit->point - viewport_->eye()).norm());
    const double r = radius_ / std::max(pixel, 1e-9);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(Theme::current().viewportInk, does_ == BrushDoes::Drag ? 2 : 1 + 5 * strength_));
    p.drawEllipse(viewport_->pointer(), r, r);
}

bool BrushTool::eventFilter(QObject*, QEvent* event) {
    if (event->type() == QEvent::MouseMove) {
        const auto* e = static_cast<QMouseEvent*>(event);
        std::optional<std::uint32_t> now;
        if (does_ != BrushDoes::Nothing)
            if (const auto hit = viewport_->pick(e->position()))
                now = viewport_->view()->frame()->subject->surface.weldOf[hit->vertex];
        if (now != pointed_) {
            pointed_ = now;
            emit pointed();
        }
    } else if (event->type() == QEvent::Wheel && does_ != BrushDoes::Nothing) {
        // With Alt the wheel is the brush's: turning it alone goes nearer, as ever. Alt gives the sideways
        // wheel.
        auto* e = static_cast<QWheelEvent*>(event);
        if (!(e->modifiers() & Qt::AltModifier))
            return false;
        const QPoint turned = e->angleDelta();
        const double notches = (turned.y() != 0 ? turned.y() : turned.x()) / 120.0;
        if (e->modifiers() & Qt::ShiftModifier)
            setStrength(strength_ + 0.05 * notches);
        else
            setRadius(radius_ * std::pow(1.15, notches));
        return true;
    }
    return false;
}

} // namespace hobble
