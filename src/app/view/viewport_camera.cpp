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

// So that what reaches so far from the middle fills the view; a narrow one is filled from side to side, but
// not so far off that nothing is told any more.
double Viewport::farEnough(double reach) const {
    const double narrow = std::clamp(width() / std::max(double(height()), 1.0), 0.55, 1.0);
    return reach / (narrow * std::tan(radians(Camera::kFieldOfView / 2)));
}

void Viewport::frameJoints(const std::vector<int>& joints, const Camera* from) {
    const auto& f = view_->frame();
    const auto& s = view_->subject();
    if (!f || !s || joints.empty() || joints.front() < 0)
        return;
    const auto at = [&](int j) { return Vec3d(f->jointPosition[j].cast<double>()); };
    Eigen::AlignedBox3d box;
    for (int j : joints)
        box.extend(at(j));
    Camera c = from ? *from : cameraToBe();
    c.target = box.center();
    double reach = 0;
    for (int j : joints) {
        const double radius =
            s->zones[j].limbRadius > 0 ? s->zones[j].limbRadius : s->character->extent() / 12;
        reach = std::max(reach, (at(j) - c.target).norm() + (joints.size() > 1 ? 2.5 : 4.2) * radius);
    }
    c.distance = farEnough(std::clamp(reach, s->character->extent() / 8, s->character->extent() / 2));
    setCamera(c, true);
    emit viewChanged();
}

void Viewport::frameOnceShown(std::vector<int> joints, const Vec3d& look, std::vector<std::uint32_t> skin) {
    toFrame_ = {std::move(joints), look, std::move(skin)};
    // A pose that is shown already brings no new frame to wait for.
    QMetaObject::invokeMethod(this, &Viewport::lookOnceShown, Qt::QueuedConnection);
}

void Viewport::lookOnceShown() {
    if (!toFrame_ || !view_->arrived())
        return;
    const ToFrame wanted = *std::exchange(toFrame_, std::nullopt);
    if (wanted.skin.empty()) {
        Camera c = cameraToBe();
        c.lookAlong(body_, wanted.look);
        frameJoints(wanted.joints, &c);
    } else {
        frameSkin(wanted.skin, wanted.look);
    }
    lookedFrom_.reset();
    emit viewChanged();
}

// What is marked lies where it lies, a hand's breadth or a body's length from the joint it is told at; and
// it may face away from where one would look at the joint from.
void Viewport::frameSkin(const std::vector<std::uint32_t>& triangles, Vec3d look) {
    const auto& f = view_->frame();
    const auto& s = view_->subject();
    Vec3d middle = Vec3d::Zero(), facing = Vec3d::Zero();
    double area = 0;
    std::vector<std::pair<Vec3d, double>> places;
    for (std::uint32_t t : triangles) {
        std::array<Vec3d, 3> at;
        for (std::size_t k = 0; k < 3; ++k)
            at[k] = f->position[s->surface.representative(s->surface.triangles[t][k])].cast<double>();
        const Vec3d normal = (at[1] - at[0]).cross(at[2] - at[0]) / 2;
        places.push_back({(at[0] + at[1] + at[2]) / 3, s->surface.area[t]});
        middle += places.back().second * places.back().first;
        facing += normal;
        area += places.back().second;
    }
    if (!(area > 0))
        return;
    middle /= area;
    double spread = 0; // root mean square
    for (const auto& [at, share] : places)
        spread += share * (at - middle).squaredNorm() / area;
    const double open = facing.norm() / area; // a band all round faces nowhere
    if (look.norm() > 0 && open > 0.35)
        look = look.normalized() + 1.5 * facing.normalized();
    Camera c = cameraToBe();
    c.lookAlong(body_, look);
    c.target = middle;
    const double extent = s->character->extent();
    c.distance = farEnough(std::clamp(3 * std::sqrt(spread), extent / 9, extent / 2));
    setCamera(c, true);
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
