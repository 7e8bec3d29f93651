// Where the viewport looks from: eased on the way, framed on a joint, named from the limb.
#include "app/view/viewport.h"

#include <cmath>

namespace hobble {

Camera Viewport::cameraToBe() const { return easing_.state() == QAbstractAnimation::Running ? to_ : camera_; }

void Viewport::settle() {
    if (easing_.state() == QAbstractAnimation::Running) {
        easing_.stop();
        camera_ = to_;
    }
}

void Viewport::setCamera(const Camera& camera, bool eased) {
    toFrame_.reset(); // whoever sets the camera knows better
    easing_.stop();
    if (eased && isVisible()) {
        from_ = camera_;
        to_ = camera;
        easing_.start();
    } else {
        camera_ = camera;
        update();
    }
}

void Viewport::frameAll(bool eased) {
    const auto& s = view_->subject();
    if (!s)
        return;
    Eigen::AlignedBox3f box;
    for (const Vec3& p : s->character->neutral)
        box.extend(p);
    Camera c = cameraToBe();
    c.target = box.center().cast<double>();
    c.distance = 0.48 * double(box.sizes().norm()) / std::tan(radians(Camera::kFieldOfView / 2));
    lookedFrom_.reset();
    setCamera(c, eased);
    emit viewChanged();
}

void Viewport::frameJoint(int joint, const Camera* from) {
    const auto& f = view_->frame();
    const auto& s = view_->subject();
    if (!f || !s || joint < 0)
        return;
    Camera c = from ? *from : cameraToBe();
    c.target = f->jointPosition[joint].cast<double>();
    const double radius =
        s->zones[joint].limbRadius > 0 ? s->zones[joint].limbRadius : s->character->extent() / 12;
    c.distance = std::clamp(4.2 * radius, s->character->extent() / 8, s->character->extent() / 2) /
                 std::tan(radians(Camera::kFieldOfView / 2));
    setCamera(c, true);
    emit viewChanged();
}

void Viewport::frameJointOnceShown(int joint, const Vec3d& look) {
    toFrame_ = {joint, look};
    // A pose that is shown already brings no new frame to wait for.
    QMetaObject::invokeMethod(this, &Viewport::lookOnceShown, Qt::QueuedConnection);
}

void Viewport::lookOnceShown() {
    if (!toFrame_ || !view_->arrived())
        return;
    const auto [joint, look] = *std::exchange(toFrame_, std::nullopt);
    Camera c = cameraToBe();
    c.lookAlong(body_, look);
    frameJoint(joint, &c);
    lookedFrom_.reset();
    emit viewChanged();
}

void Viewport::lookFrom(ViewFrom from) {
    const auto& s = view_->subject();
    const int j = view_->joint();
    if (!s)
        return;
    Vec3d axis = j >= 0 ? boneDirection(*s->character, s->roles, j) : body_.up;
    if (axis.norm() < 0.5)
        axis = body_.forward;
    // Along the limb means along it as it is posed now.
    if (const auto& f = view_->frame(); f && j >= 0)
        for (int k = j + 1; k < s->character->skeleton.size(); ++k)
            if (s->character->skeleton.parent[k] == j &&
                (f->jointPosition[k] - f->jointPosition[j]).norm() > 1e-5f) {
                axis = (f->jointPosition[k] - f->jointPosition[j]).cast<double>().normalized();
                break;
            }
    Camera c = cameraToBe();
    c.lookAlong(body_, directionOf(from, body_, j >= 0 ? s->roles[j].side : Side::Middle, axis));
    setCamera(c, true);
    lookedFrom_ = from;
    emit viewChanged();
}

} // namespace hobble
