// The mouse on the viewport: what it points at, turning, sliding, coming nearer, pressing; and the page's
// tools, which are asked first.
#include "app/view/viewport.h"

#include <QMouseEvent>
#include <QNativeGestureEvent>
#include <QPointingDevice>
#include <QTabletEvent>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace hobble {

Vec3d Viewport::rayAt(const QPointF& at) const {
    const QVector3D far = toClip().inverted().map(
        QVector3D(float(2 * at.x() / width() - 1), float(1 - 2 * at.y() / height()), 1));
    return (Vec3d(far.x(), far.y(), far.z()) - eye()).normalized();
}

Vec3d Viewport::dragged(const Vec3d& point, const QPointF& from, const QPointF& to) const {
    const Vec3d at = eye(), normal = camera_.direction(body_);
    const auto meets = [&](const Vec3d& way) {
        return Vec3d(at + way * ((point - at).dot(normal) / way.dot(normal)));
    };
    return meets(rayAt(to)) - meets(rayAt(from));
}

std::optional<SkinHit> Viewport::pick(const QPointF& at) const {
    if (!drawable())
        return std::nullopt;
    const Subject& s = *view_->subject();
    const auto skin = view_->skin();
    return skin ? firstSkin(*s.character, s.surface, *skin, eye(), rayAt(at), &surfaceShown_) : std::nullopt;
}

std::optional<QPointF> Viewport::Sight::of(const Vec3& point) const {
    const QVector3D n = clip_.map(QVector3D(point.x(), point.y(), point.z()));
    const QPointF at((n.x() + 1) / 2 * size_.width(), (1 - n.y()) / 2 * size_.height());
    const int x = std::clamp(static_cast<int>(at.x()), 0, size_.width() - 1),
              y = std::clamp(size_.height() - 1 - static_cast<int>(at.y()), 0, size_.height() - 1);
    const auto pixel =
        static_cast<std::size_t>(y) * static_cast<std::size_t>(size_.width()) + static_cast<std::size_t>(x);
    return (n.z() + 1) / 2 <= nearest_[pixel] + 2e-4f ? std::optional(at) : std::nullopt;
}

std::unique_ptr<Viewport::Sight> Viewport::sight() {
    if (!drawable() || !begin())
        return nullptr;
    takeStale();
    const QMatrix4x4 clip = toClip();
    auto out = std::make_unique<Sight>(scene_.depth(clip, size()), clip, size());
    context_->doneCurrent();
    return out;
}

void Viewport::turnView(const QPointF& by) {
    camera_.yaw -= by.x() * 0.008;
    camera_.pitch = std::clamp(camera_.pitch + by.y() * 0.008, -1.5, 1.5);
    lookedFrom_.reset();
    emit viewChanged();
}

void Viewport::slideView(const QPointF& by) {
    const Vec3d back = camera_.direction(body_), right = body_.up.cross(back).normalized();
    camera_.target += pixelAt(camera_.distance) * (-by.x() * right + by.y() * back.cross(right));
    emit viewChanged();
}

bool Viewport::pointerTaken() const {
    return std::any_of(tools_.begin(), tools_.end(), [](const ViewportTool* t) { return t->takesPointer(); });
}

void Viewport::mousePressEvent(QMouseEvent* e) {
    last_ = pressed_ = hoverAt_ = e->position();
    if (const QPointingDevice* by = e->pointingDevice();
        e->source() == Qt::MouseEventNotSynthesized &&
        (!by || (by->pointerType() != QPointingDevice::PointerType::Pen &&
                 by->pointerType() != QPointingDevice::PointerType::Eraser)))
        pressure_ = 1; // of a pen that went without letting go
    if (e->button() != Qt::LeftButton || !drawable())
        return;
    for (ViewportTool* tool : tools_)
        if (tool->press(e)) {
            grasping_ = tool;
            hover_.reset();
            return;
        }
}

void Viewport::mouseMoveEvent(QMouseEvent* e) {
    const QPointF d = e->position() - last_;
    last_ = hoverAt_ = e->position();
    if (grasping_) {
        grasping_->move(e);
        return update();
    }
    if (e->buttons() & (Qt::LeftButton | Qt::RightButton | Qt::MiddleButton)) {
        easing_.stop();
        hover_.reset();
        if (e->buttons() & Qt::MiddleButton)
            slideView(d);
        else
            turnView(d);
        return update();
    }
    hover_ = pick(hoverAt_);
    update();
}

void Viewport::mouseReleaseEvent(QMouseEvent* e) {
    if (grasping_) {
        std::exchange(grasping_, nullptr)->release(e);
        return update();
    }
    if (e->button() != Qt::LeftButton || (e->position() - pressed_).manhattanLength() > 3)
        return;
    for (ViewportTool* tool : tools_)
        if (tool->click(e))
            return;
    if (const auto hit = pick(e->position()))
        emit skinPressed(hit->vertex);
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    if (pointerTaken())
        return mousePressEvent(e); // the second of two quick strokes
    const auto hit = pick(e->position());
    if (!hit)
        return frameAll();
    const Character& c = *view_->subject()->character;
    if (c.weights.first[hit->vertex] < c.weights.first[hit->vertex + 1])
        frameJoint(c.weights.joint[c.weights.first[hit->vertex]]);
}

void Viewport::comeNearer(double factor, const QPointF& at) {
    const auto& s = view_->subject();
    if (!s)
        return;
    easing_.stop();
    const double before = camera_.distance;
    camera_.distance =
        std::clamp(camera_.distance * factor, s->character->extent() * 0.05, s->character->extent() * 10);
    if (const auto hit = pick(at))
        camera_.target += (hit->point - camera_.target) * (1 - camera_.distance / before);
    hover_.reset();
    emit viewChanged();
    update();
}

// A wheel comes nearer. Two fingers on a touch pad come as a wheel too, and slide what lies under them; with
// Ctrl, as where a pad tells no pinch, they come nearer.
void Viewport::wheelEvent(QWheelEvent* e) {
    const QInputDevice* device = e->device();
    if (!device || device->type() != QInputDevice::DeviceType::TouchPad ||
        (e->modifiers() & Qt::ControlModifier))
        return comeNearer(std::pow(0.9, e->angleDelta().y() / 120.0), e->position());
    easing_.stop();
    hover_.reset();
    constexpr double pixelsOfTurn = 40.0 / 120; // a notch of a wheel is 120, and some forty pixels of a page
    slideView(e->pixelDelta().isNull() ? pixelsOfTurn * QPointF(e->angleDelta()) : QPointF(e->pixelDelta()));
    update();
}

// A pen is a mouse that says how hard it is pressed.
void Viewport::tabletEvent(QTabletEvent* e) {
    pressure_ = e->type() == QEvent::TabletRelease ? 1 : std::clamp(e->pressure(), 0.0, 1.0);
    e->ignore(); // a mouse event follows
}

bool Viewport::event(QEvent* e) {
    if (e->type() == QEvent::NativeGesture) {
        const auto* gesture = static_cast<QNativeGestureEvent*>(e);
        if (gesture->gestureType() == Qt::ZoomNativeGesture) {
            comeNearer(1 / std::clamp(1 + gesture->value(), 0.1, 10.0), gesture->position());
            return true;
        }
    }
    return QWidget::event(e);
}

void Viewport::leaveEvent(QEvent*) {
    hover_.reset();
    update();
}

} // namespace hobble
