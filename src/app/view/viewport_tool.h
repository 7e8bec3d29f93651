#pragma once
// What a hand can do on a viewport besides turning the view: each page brings its own tools.
#include <QObject>
#include <QPointF>

#include <cmath>

class QMouseEvent;
class QPainter;

namespace hobble {

class ViewportTool : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    /// The left button went down. Whether the tool has grasped something: the hand is then its own until it
    /// lets go, and the view is not turned.
    virtual bool press(QMouseEvent*) { return false; }
    virtual void move(QMouseEvent*) {}
    virtual void release(QMouseEvent*) {}
    /// Pressed and let go in one place with nothing grasped. Whether that was meant for the tool.
    virtual bool click(QMouseEvent*) { return false; }
    /// Over the picture, under the words at the pointer.
    virtual void paintOver(QPainter&) {}
    /// Whether it paints the skeleton in its own way, in place of the viewport's.
    virtual bool paintsSkeleton() const { return false; }
    /// Whether the pointer is its own: what lies under it is then not spoken, and a double click is two
    /// presses.
    virtual bool takesPointer() const { return false; }
};

inline double pixelsBetween(const QPointF& a, const QPointF& b) {
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

/// Whether a press there still grasps a handle.
inline bool grasps(const QPointF& handle, const QPointF& press) { return pixelsBetween(handle, press) <= 12; }

} // namespace hobble
