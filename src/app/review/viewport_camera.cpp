// Where the viewport looks from: eased on the way, framed on a joint, named from the limb.
#include "app/review/viewport.h"

#include <cmath>

namespace hobble {

void Viewport::settle() {
    if (easing_.state() == QAbstractAnimation::Running) {
        easing_.stop();
        camera_ = to_;
    }
}

void Viewport::setCamera(const Camera& camera, bool eased) {
    findingToShow_ = false; // whoever sets the camera knows better
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
    const auto s = session_->subject();
    if (!s)
        return;
    Eigen::AlignedBox3f box;
    for (const Vec3& p : s->character->neutral)
        box.extend(p);
    Camera c = easing_.state() == QAbstractAnimation::Running ? to_ : camera_;
    c.target = box.center().cast<double>();
    c.distance = 0.48 * double(box.sizes().norm()) / std::tan(radians(Camera::kFieldOfView / 2));
    viewWords_.clear();
    setCamera(c, eased);
    emit viewChanged();
}

void Viewport::frameJoint(int joint, const Camera* from) {
    const auto f = seenFrame();
    const auto s = session_->subject();
    if (!f || !s || joint < 0)
        return;
    Camera c = from ? *from : easing_.state() == QAbstractAnimation::Running ? to_ : camera_;
    c.target = f->jointPosition[joint].cast<double>();
    const double radius =
        s->zones[joint].limbRadius > 0 ? s->zones[joint].limbRadius : s->character->extent() / 12;
    c.distance = std::clamp(4.2 * radius, s->character->extent() / 8, s->character->extent() / 2) /
                 std::tan(radians(Camera::kFieldOfView / 2));
    setCamera(c, true);
    emit viewChanged();
}

// A bend is seen from its side, along the axis it turns about; a roll from the front and a little outside.
void Viewport::lookAtFinding() {
    const auto run = session_->run();
    const auto s = session_->subject();
    if (!run || session_->finding() < 0)
        return;
    const Finding& f = run->findings[session_->finding()];
    const Motion& motion = session_->plan().motions[f.motion];
    const Vec3d outer = s->roles[f.joint].side == Side::Right ? Vec3d(-body_.left) : body_.left;
    const Vec3d favoured = 0.8 * body_.forward + 0.6 * outer + 0.15 * body_.up;
    Vec3d look = favoured;
    if (!motion.roll) {
        const JointTurn& t = motion.turns.front();
        look = rotationOf(s->character->skeleton.neutralWorld[t.joint]) * t.axis;
        if (look.dot(favoured) < 0)
            look = -look;
        look += 0.25 * favoured;
    }
    Camera c = easing_.state() == QAbstractAnimation::Running ? to_ : camera_;
    c.lookAlong(body_, look);
    frameJoint(f.joint, &c);
    viewWords_.clear();
    emit viewChanged();
}

void Viewport::lookFrom(const QString& name) {
    const auto s = session_->subject();
    const int j = focus();
    if (!s)
        return;
    Vec3d axis = j >= 0 ? boneDirection(*s->character, s->roles, j) : body_.up;
    if (axis.norm() < 0.5)
        axis = body_.forward;
    // Along the limb means along it as it is posed now.
    if (const auto f = seenFrame(); f && j >= 0)
        for (int k = j + 1; k < s->character->skeleton.size(); ++k)
            if (s->character->skeleton.parent[k] == j &&
                (f->jointPosition[k] - f->jointPosition[j]).norm() > 1e-5f) {
                axis = (f->jointPosition[k] - f->jointPosition[j]).cast<double>().normalized();
                break;
            }
    Camera c = easing_.state() == QAbstractAnimation::Running ? to_ : camera_;
    c.lookAlong(body_, namedView(name, body_, j >= 0 ? s->roles[j].side : Side::Middle, axis));
    viewWords_ = name;
    setCamera(c, true);
    emit viewChanged();
}

} // namespace hobble
