// The mouse on the viewport: what it points at, turning, sliding, coming nearer, pressing.
#include "app/review/viewport.h"
#include "app/session/plan_desk.h"

#include <QMouseEvent>
#include <QWheelEvent>

#include <cmath>

namespace hobble {

Viewport::Hit Viewport::pick(const QPointF& at) const {
    Hit hit;
    const auto f = seenFrame();
    if (!f || f->subject != session_->subject())
        return hit;
    const QMatrix4x4 back = toClip().inverted();
    const float x = float(2 * at.x() / width() - 1), y = float(1 - 2 * at.y() / height());
    const QVector3D far = back.map(QVector3D(x, y, 1));
    const Vec3 origin = camera_.eye(body_).cast<float>();
    const Vec3 ray = (Vec3(far.x(), far.y(), far.z()) - origin).normalized();
    float best = 1e30f;
    const auto& triangles = f->subject->character->triangles;
    for (std::uint32_t i = 0; i < triangles.size(); ++i) { // Möller and Trumbore 1997
        if (i < triangleShown_.size() && !triangleShown_[i])
            continue;
        const Vec3 &a = f->position[triangles[i][0]], &b = f->position[triangles[i][1]],
                   &c = f->position[triangles[i][2]];
        const Vec3 e1 = b - a, e2 = c - a, q = ray.cross(e2);
        const float det = e1.dot(q);
        if (std::abs(det) < 1e-14f)
            continue;
        const Vec3 s = origin - a;
        const float u = s.dot(q) / det;
        if (u < 0 || u > 1)
            continue;
        const Vec3 r = s.cross(e1);
        const float v = ray.dot(r) / det, d = e2.dot(r) / det;
        if (v < 0 || u + v > 1 || d <= 0 || d >= best)
            continue;
        best = d;
        hit.found = true;
        hit.triangle = i;
        hit.vertex = triangles[i][u > 0.5f                             ? 1
                                  : v > 0.5f                           ? 2
                                  : (1 - u - v >= u && 1 - u - v >= v) ? 0
                                  : u >= v                             ? 1
                                                                       : 2];
        hit.point = (origin + d * ray).cast<double>();
    }
    return hit;
}

void Viewport::turnView(const QPointF& by) {
    camera_.yaw -= by.x() * 0.008;
    camera_.pitch = std::clamp(camera_.pitch + by.y() * 0.008, -1.5, 1.5);
    viewWords_.clear();
    emit viewChanged();
}

void Viewport::slideView(const QPointF& by) {
    const Vec3d back = camera_.direction(body_), right = body_.up.cross(back).normalized();
    camera_.target += pixelAt(camera_.distance) * (-by.x() * right + by.y() * back.cross(right));
    emit viewChanged();
}

void Viewport::mousePressEvent(QMouseEvent* e) {
    last_ = pressed_ = e->position();
    if (showing_ == Showing::Posing && e->button() == Qt::LeftButton && posingPress(e->position()))
        return;
    if (markTool_ == MarkTool::None || e->button() != Qt::LeftButton || !seenFrame())
        return;
    const bool lasso = markTool_ == MarkTool::Lasso;
    if (!lasso && !pick(e->position()).found)
        return; // beside the character the view is turned, as ever
    stroking_ = true;
    strokeFrom_ = marks_;
    if (lasso)
        lasso_ = QPolygonF({e->position()});
    else
        brushAt(e->position(), e->modifiers() & Qt::ControlModifier);
}

void Viewport::mouseMoveEvent(QMouseEvent* e) {
    const QPointF d = e->position() - last_;
    last_ = e->position();
    hoverAt_ = e->position();
    if (posing_.kind != Posing::Kind::None)
        return posingMove(e->position());
    if (stroking_) {
        hover_ = {};
        if (markTool_ == MarkTool::Lasso)
            lasso_ << e->position();
        else
            brushAt(e->position(), e->modifiers() & Qt::ControlModifier);
        return update();
    }
    if (e->buttons() & (Qt::LeftButton | Qt::RightButton | Qt::MiddleButton)) {
        easing_.stop();
        hover_ = {};
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
    if (posing_.kind != Posing::Kind::None) {
        posingMove(e->position()); // where the hand let go, and not where it was last heard of
        return posingRelease();
    }
    if (std::exchange(stroking_, false)) {
        if (markTool_ == MarkTool::Lasso)
            closeLasso(e->modifiers() & Qt::ControlModifier);
        pushMarks(std::exchange(strokeFrom_, {}), tr("mark skin"));
        return update();
    }
    if (markTool_ != MarkTool::None || e->button() != Qt::LeftButton ||
        (e->position() - pressed_).manhattanLength() > 3)
        return;
    if (showing_ == Showing::Posing)
        if (const int joint = posableNear(e->position()); joint >= 0)
            return session_->desk()->selectJoint(joint);
    if (rolesShown_)
        if (const int joint = jointNear(e->position()); joint >= 0)
            return void(emit jointPressed(joint));
    if (const Hit hit = pick(e->position()); hit.found)
        emit skinPressed(hit.vertex);
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    if (markTool_ != MarkTool::None)
        return mousePressEvent(e); // the second of two quick strokes
    const Hit hit = pick(e->position());
    if (!hit.found)
        return frameAll();
    const Character& c = *session_->subject()->character;
    if (c.weights.first[hit.vertex] < c.weights.first[hit.vertex + 1])
        frameJoint(c.weights.joint[c.weights.first[hit.vertex]]);
}

void Viewport::wheelEvent(QWheelEvent* e) {
    const double factor = std::pow(0.9, e->angleDelta().y() / 120.0);
    const auto s = session_->subject();
    if (!s)
        return;
    easing_.stop();
    const double before = camera_.distance;
    camera_.distance =
        std::clamp(camera_.distance * factor, s->character->extent() * 0.05, s->character->extent() * 10);
    // nearer to the point under the pointer
    const Hit hit = pick(e->position());
    if (hit.found)
        camera_.target += (hit.point - camera_.target) * (1 - camera_.distance / before);
    hover_ = {};
    emit viewChanged();
    update();
}

void Viewport::leaveEvent(QEvent*) {
    hover_ = {};
    update();
}

} // namespace hobble
