#pragma once
// The posed character, coloured by a measure, and the hands on it: turning, pressing, marking. The picture is
// drawn off the screen and painted like any other, not by QOpenGLWidget: that one composes the whole window
// anew for each picture, which on a software renderer costs more than the character. What it is drawn
// with is in scene.h; the mouse in viewport_hands.cpp; the camera in viewport_camera.cpp; marking in
// viewport_marks.cpp; what is painted over the picture in viewport_overlay.cpp; what Intake points at in
// viewport_pointing.cpp; posing by hand in viewport_posing.cpp.
#include "app/review/camera.h"
#include "app/review/colouring.h"
#include "app/review/scene.h"
#include "app/session/session.h"

#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QPolygonF>
#include <QVariantAnimation>
#include <QWidget>

#include <memory>

namespace hobble {

/// How much of the character is shown: all of it, only the limb that moves, only the zone of its joint, or
/// all but those.
enum class Isolation { Whole, Limb, Region, WithoutLimb, WithoutRegion };
enum class MarkTool { None, Brush, Lasso };
/// What is shown: the pose the session is at; the neutral pose, whatever the session looks at; or the pose
/// made by hand on the Plan page.
enum class Showing { Pose, Neutral, Posing };

/// What is drawn besides the skin.
struct Shown {
    bool skeleton = true, wire = false, patch = true, contactLines = true;
    bool smooth = false; // a smooth preview, with the true vertices as points
    Ghost ghost = Ghost::None;
    Isolation isolation = Isolation::Whole;
    bool operator==(const Shown&) const = default;
};

struct RangeArc;

class Viewport : public QWidget {
    Q_OBJECT
public:
    explicit Viewport(Session* session, QWidget* parent = nullptr, Showing showing = Showing::Pose);
    ~Viewport() override;

    /// What every window asks OpenGL for; called once, before the application object is made.
    static void requestOpenGl();

    /// Whether this display can give an OpenGL context at all; asked before a viewport is made.
    static bool supported();

    Colouring colouring() const { return colouring_; }
    void setColouring(Colouring c);
    /// For the joint looked at, or whose weights are shown.
    ColourScale scale() const;
    bool measuring() const { return measuring_; } // the colours are still those of the pose before
    void setWeightJoint(int joint);               // whose weights are shown; -1: of the joint looked at
    int weightJoint() const { return weightJoint_ >= 0 ? weightJoint_ : focus(); }

    const Shown& shown() const { return shown_; }
    void setShown(const Shown& shown);
    /// Parts that are not shown cannot be pressed either. All are shown when a character comes in.
    void setPartShown(std::size_t part, bool on);
    void showOnlyPart(std::size_t part);
    bool partShown(std::size_t part) const { return part >= hidden_.size() || !hidden_[part]; }
    std::size_t shownTriangleCount() const;

    const Camera& camera() const { return camera_; }
    void setCamera(const Camera& camera, bool eased);
    void settle(); // ends a movement of the camera at once
    void frameAll(bool eased = true);
    void frameJoint(int joint,
                    const Camera* from = nullptr); // keeping the direction looked in, or that of `from`
    void lookFrom(const QString& viewName);        // front, back, outer, inner, along: of the joint looked at
    QString viewWords() const { return viewWords_; }

    // A patch of skin marked by hand. Every stroke can be undone.
    MarkTool markTool() const { return markTool_; }
    void setMarkTool(MarkTool tool);
    void setBrush(int pixels) { brush_ = pixels; }
    std::vector<std::uint32_t> marked() const; // triangles of the surface, ascending
    void markRegion();                         // the zone of the joint looked at
    void clearMarks();

    // In neutral: what is pointed at, and what the joints are taken for.
    /// `joint` −1 and no vertices: nothing. Vertices are those of the file, by part.
    void pointAt(int joint, const std::vector<std::pair<int, std::vector<std::uint32_t>>>& vertices);
    /// Frames what is pointed at: its vertices where there are some, else its joint; all where there is
    /// nothing.
    void framePointed();
    void setRolesShown(bool on);
    bool rolesShown() const { return rolesShown_; }

    /// In posing: a range's handle changes both sides' motions.
    void setBothSides(bool on) { bothSides_ = on; }

    QByteArray picture(); // PNG of what is seen

    /// Where a world point stands in the widget.
    QPointF project(const Vec3d& point) const;

signals:
    void viewChanged();
    void painted();
    void markedChanged();
    void skinPressed(std::uint32_t fileVertex); // pressed and let go without turning the view
    void jointPressed(int joint);               // the same, while roles are shown
    void posingSaid(const QString& words);      // of what is being dragged; empty: nothing to say

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void leaveEvent(QEvent*) override;

private:
    struct Hit {
        std::uint32_t triangle = 0, vertex = 0; // of the file; vertex: the nearest corner
        Vec3d point = Vec3d::Zero();
        bool found = false;
    };
    using Marks = std::vector<char>; // per file triangle

    std::shared_ptr<const PosedFrame> seenFrame() const;
    int focus() const;
    void followSession();
    bool begin(); // the graphics, at the first picture
    void takeStale();
    QImage draw(); // the character, without what is painted over it
    void leaveOutUnseen();
    void paintOver(QPainter& p);
    void takeCharacter();
    void takeFrame();
    void takeColours();
    void takeFinding();
    void lookAtFinding();
    void wish();
    void findShown(); // triangleShown_ anew
    QMatrix4x4 toClip() const;
    double pixelAt(double distance) const; // metres

    Hit pick(const QPointF& at) const;
    void turnView(const QPointF& by);
    void slideView(const QPointF& by);
    void brushAt(const QPointF& at, bool take);
    void closeLasso(bool take);
    void setMarks(Marks marks);
    void pushMarks(Marks before, const QString& text);

    void paintSkeleton(QPainter& p);
    void paintPointed(QPainter& p);
    void paintRoles(QPainter& p);
    int jointNear(const QPointF& at) const; // −1 where none is within reach of the pointer

    // What of a pose is in hand.
    struct Posing {
        enum class Kind { None, Turn, RangeEnd, Drag };
        Kind kind = Kind::None;
        int joint = -1, axis = 0;
        bool most = false, moved = false;
        double degrees = 0; // of the range's end
        Pose start;
        QString startName;
    };
    std::vector<RangeArc> arcs() const;
    Vec3d rayAt(const QPointF& at) const; // from the eye, unit
    double angleNear(const RangeArc& arc, const QPointF& at, double from, double least, double most) const;
    bool posingPress(const QPointF& at); // whether something was grasped
    void posingMove(const QPointF& at);
    void posingRelease();
    int posableNear(const QPointF& at) const;
    void paintPosing(QPainter& p);
    void paintWords(QPainter& p);
    void paintMarking(QPainter& p);
    QString wordsAt(const Hit& hit) const;

    Session* session_;
    Showing showing_;
    Posing posing_;
    bool bothSides_ = true;
    int pointedJoint_ = -1;
    std::vector<std::uint32_t> pointed_; // file vertices, of the character
    bool rolesShown_ = false;
    BodyFrame body_;
    Camera camera_, from_, to_;
    QVariantAnimation easing_;
    QString viewWords_;
    Colouring colouring_ = Colouring::Strain;
    Shown shown_;
    bool characterStale_ = true, frameStale_ = true, coloursStale_ = true, findingStale_ = true,
         contactStale_ = true, marksStale_ = true, outlineStale_ = true;
    bool measuring_ = false;
    bool findingToShow_ = false;           // once its pose has been computed
    std::vector<char> hidden_;             // per part; empty: none
    std::vector<char> ownColour_;          // per part: rigid ones have no strain to show
    std::vector<char> triangleShown_;      // per file triangle
    std::vector<Triangle> shownTriangles_; // those of them
    int isolated_ = -1;                    // the joint triangleShown_ was made for
    std::vector<float> values_;            // per file vertex: what the colours say
    std::vector<EdgePoint> outline_;       // of the finding's patch, on file vertices
    std::unique_ptr<QOpenGLContext> context_;
    std::unique_ptr<QOffscreenSurface> surface_;
    std::unique_ptr<QOpenGLFramebufferObject> target_, resolved_; // resolved_: one sample a pixel
    Scene scene_;
    int weightJoint_ = -1;
    QPointF last_, pressed_;
    Hit hover_;
    QPointF hoverAt_;
    bool begun_ = false, ready_ = false; // ready_: the driver took everything

    MarkTool markTool_ = MarkTool::None;
    int brush_ = 28; // pixels, radius
    Marks marks_, strokeFrom_;
    bool stroking_ = false;
    QPolygonF lasso_;
};

} // namespace hobble
