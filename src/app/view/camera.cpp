#include "app/view/camera.h"

#include <QCoreApplication>
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

const char* idOf(ViewFrom from) {
    static constexpr const char* ids[] = {"front", "back", "outer", "inner", "along"};
    return ids[static_cast<int>(from)];
}

QString nameOf(ViewFrom from) {
    static const char* names[] = {QT_TRANSLATE_NOOP("Camera", "front"), QT_TRANSLATE_NOOP("Camera", "back"),
                                  QT_TRANSLATE_NOOP("Camera", "outer"), QT_TRANSLATE_NOOP("Camera", "inner"),
                                  QT_TRANSLATE_NOOP("Camera", "along")};
    return QCoreApplication::translate("Camera", names[static_cast<int>(from)]);
}

QString sentenceOf(ViewFrom from) {
    static const char* sentences[] = {QT_TRANSLATE_NOOP("Camera", "seen from the front"),
                                      QT_TRANSLATE_NOOP("Camera", "seen from the back"),
                                      QT_TRANSLATE_NOOP("Camera", "seen from the outer side"),
                                      QT_TRANSLATE_NOOP("Camera", "seen from the inner side"),
                                      QT_TRANSLATE_NOOP("Camera", "seen along the limb")};
    return QCoreApplication::translate("Camera", sentences[static_cast<int>(from)]);
}

Vec3d directionOf(ViewFrom from, const BodyFrame& b, Side side, const Vec3d& limbAxis) {
    const Vec3d outer = side == Side::Right ? Vec3d(-b.left) : b.left;
    switch (from) {
    case ViewFrom::Front:
        return b.forward;
    case ViewFrom::Back:
        return -b.forward;
    case ViewFrom::Outer:
        return outer;
    case ViewFrom::Inner:
        return -outer;
    case ViewFrom::Along:
        return limbAxis;
    }
    return b.forward;
}

} // namespace hobble
