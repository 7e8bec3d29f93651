#pragma once
// Where the character is looked at from: around a target, in the body's own directions. Views are named from
// the limb: front, back, outer, inner, along.
#include "core/character/body.h"

#include <QByteArray>
#include <QMatrix4x4>
#include <QString>

namespace hobble {

struct Camera {
    Vec3d target = Vec3d::Zero();   // world
    double yaw = 0.5, pitch = 0.12; // radians; 0, 0 looks the body in the face
    double distance = 3;            // metres

    static constexpr double kFieldOfView = 30; // degrees, upright

    Vec3d direction(const BodyFrame& body) const; // from the target to the eye, unit
    Vec3d eye(const BodyFrame& body) const { return target + distance * direction(body); }
    void lookAlong(const BodyFrame& body, const Vec3d& fromTargetToEye);
    QMatrix4x4 view(const BodyFrame& body) const;
    QMatrix4x4 projection(double aspect) const;

    QByteArray toJson() const;
    static Camera fromJson(const QByteArray& json, const Camera& fallback);
    bool operator==(const Camera&) const = default;
};

/// Views are named from the limb, not from the world's axes.
enum class ViewFrom { Front, Back, Outer, Inner, Along };
inline constexpr ViewFrom kViewsFrom[] = {ViewFrom::Front, ViewFrom::Back, ViewFrom::Outer, ViewFrom::Inner,
                                          ViewFrom::Along};

const char* idOf(ViewFrom from);   // "front": in names of objects and actions
QString nameOf(ViewFrom from);     // on buttons
QString sentenceOf(ViewFrom from); // "seen from the front"

/// From the target to the eye, at a joint.
Vec3d directionOf(ViewFrom from, const BodyFrame& body, Side side, const Vec3d& limbAxis);

} // namespace hobble
