#include "app/review/camera.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <algorithm>
#include <cmath>

namespace hobble {

Vec3d Camera::direction(const BodyFrame& b) const {
    return std::cos(pitch) * (std::sin(yaw) * b.left + std::cos(yaw) * b.forward) + std::sin(pitch) * b.up;
}

void Camera::lookAlong(const BodyFrame& b, const Vec3d& d) {
    if (d.norm() < 1e-9)
        return;
    const Vec3d u = d.normalized();
    pitch = std::clamp(std::asin(std::clamp(u.dot(b.up), -1.0, 1.0)), -1.45, 1.45);
    if (std::hypot(u.dot(b.left), u.dot(b.forward)) > 1e-6)
        yaw = std::atan2(u.dot(b.left), u.dot(b.forward));
}

QMatrix4x4 Camera::view(const BodyFrame& b) const {
    const Vec3d e = eye(b);
    QMatrix4x4 m;
    m.lookAt(QVector3D(float(e.x()), float(e.y()), float(e.z())),
             QVector3D(float(target.x()), float(target.y()), float(target.z())),
             QVector3D(float(b.up.x()), float(b.up.y()), float(b.up.z())));
    return m;
}

QMatrix4x4 Camera::projection(double aspect) const {
    QMatrix4x4 m;
    m.perspective(float(kFieldOfView), float(aspect), float(distance * 0.02), float(distance * 20));
    return m;
}

QByteArray Camera::toJson() const {
    return QJsonDocument(
               QJsonObject{{QStringLiteral("target"), QJsonArray{target.x(), target.y(), target.z()}},
                           {QStringLiteral("yaw"), yaw},
                           {QStringLiteral("pitch"), pitch},
                           {QStringLiteral("distance"), distance}})
        .toJson(QJsonDocument::Compact);
}

Camera Camera::fromJson(const QByteArray& json, const Camera& fallback) {
    const QJsonObject o = QJsonDocument::fromJson(json).object();
    const QJsonArray t = o.value(QStringLiteral("target")).toArray();
    const double distance = o.value(QStringLiteral("distance")).toDouble();
    if (t.size() != 3 || !(distance > 0))
        return fallback;
    return {Vec3d(t[0].toDouble(), t[1].toDouble(), t[2].toDouble()),
            o.value(QStringLiteral("yaw")).toDouble(), o.value(QStringLiteral("pitch")).toDouble(), distance};
}

Vec3d namedView(const QString& name, const BodyFrame& b, Side side, const Vec3d& limbAxis) {
    const Vec3d outer = side == Side::Right ? Vec3d(-b.left) : b.left;
    if (name == QLatin1String("front"))
        return b.forward;
    if (name == QLatin1String("back"))
        return -b.forward;
    if (name == QLatin1String("outer"))
        return outer;
    if (name == QLatin1String("inner"))
        return -outer;
    if (name == QLatin1String("along"))
        return limbAxis;
    return Vec3d::Zero();
}

} // namespace hobble
