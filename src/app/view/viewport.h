#pragma once
// A posed character, coloured by a measure, that can be turned and pressed. The picture is drawn off the
// screen and painted like any other, not by QOpenGLWidget: that one composes the whole window anew for each
// picture, which on a software renderer costs more than the character. Who is shown in which pose is in
// pose_view.h; what it is drawn with in scene.h; the mouse in viewport_hands.cpp; the camera in
// viewport_camera.cpp; what is painted over the picture in viewport_overlay.cpp; what else a hand can do on
// it is brought by the page, as tools.
#include "app/view/camera.h"
#include "app/view/colouring.h"
#include "app/view/pose_view.h"
#include "app/view/scene.h"
#include "app/view/viewport_tool.h"

#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QTimer>
#include <QVariantAnimation>
#include <QWidget>

#include <memory>

namespace hobble {

struct StandIn;

/// How much of the character is shown: all of it, only the limb of the joint looked at, only the zone of that
/// joint, or all but those.
enum class Isolation { Whole, Limb, Region, WithoutLimb, WithoutRegion };

/// What is drawn besides the skin.
struct Shown {
    bool skeleton = true, wire = false, patch = true, contactLines = true;
    bool smooth = false;   // a smooth preview, with the true vertices as points
    bool vertices = false; // those points alone
    Ghost ghost = Ghost::None;
    Isolation isolation = Isolation::Whole;
    bool operator==(const Shown&) const = default;
};

class Viewport : public QWidget {
    Q_OBJECT
public:
    /// The view outlives the viewport.
    explicit Viewport(PoseView* view, QWidget* parent = nullptr);
    ~Viewport() override;

    /// What every window asks OpenGL for; called once, before the application object is made.
    static void requestOpenGl();
    /// Whether this display can give an OpenGL context at all; asked before a viewport is made.
    static bool supported();

    PoseView* view() const { return view_; }
    /// Asked in the order they were added, painted likewise.
    void addTool(ViewportTool* tool) { tools_.push_back(tool); }
    void setEmptyWords(const QString& words); // in place of a character that is not there

    Colouring colouring() const { return colouring_; }
    void setColouring(Colouring c);
    void setLimits(const Limits& limits); // that the colours say are passed
    /// For the joint looked at, or whose weights are shown.
    ColourScale scale() const;
    bool measuring() const { return measuring_; } // the colours are still those of the pose before
    void setWeightJoint(int joint);               // whose weights are shown; -1: of the joint looked at
    int weightJoint() const { return weightJoint_ >= 0 ? weightJoint_ : view_->joint(); }

    const Shown& shown() const { return shown_; }
    void setShown(const Shown& shown);
    /// Parts that are not shown cannot be pressed either. All are shown when a character comes in.
    void setPartShown(std::size_t part, bool on);
    void showOnlyPart(std::size_t part);
    bool partShown(std::size_t part) const { return part >= hidden_.size() || !hidden_[part]; }
    std::size_t shownTriangleCount() const;
    bool triangleShown(std::size_t fileTriangle) const { return triangleShown_[fileTriangle]; }

    const Camera& camera() const { return camera_; }
    Camera cameraToBe() const; // where an easing ends
    void setCamera(const Camera& camera, bool eased);
    void settle(); // ends a movement of the camera at once
    void frameAll(bool eased = true);
    void frameJoints(const std::vector<int>& joints,
                     const Camera* from = nullptr); // keeping the direction looked in, or that of `from`
    void frameJoint(int joint) { frameJoints({joint}); }
    /// Joints, or marked skin of the surface where there is any, looked at along `look`, or from where the
    /// skin faces, once the pose asked for is there; whoever sets the camera before that knows better.
    void frameOnceShown(std::vector<int> joints, const Vec3d& look, std::vector<std::uint32_t> skin = {});
    bool framing() const { return toFrame_.has_value(); } // that is still to come
    void lookFrom(ViewFrom from);                         // of the joint looked at
    std::optional<ViewFrom> lookedFrom() const { return lookedFrom_; }

    /// Skin of the surface that is tinted and outlined: a finding's.
    void setPatch(std::vector<std::uint32_t> triangles);
    /// Whether the last picture was of a coarser mesh, for something moved.
    bool drewStandIn() const { return drawnStandIn_; }
    /// Where in its motion the pose of the last picture was.
    double poseSeen() const { return view_->frame() ? seen().at : 0; }
    /// Characters of more triangles than this are drawn coarser while something moves.
    static constexpr std::size_t kHeavy = 400'000, kStandIn = 120'000;

    /// Triangles of the file, flagged, that are tinted: what a hand or a check marks.
    void setMarked(std::vector<char> triangles);

    QByteArray picture(); // PNG of what is seen

    // For tools
    const BodyFrame& body() const { return body_; }
    QPointF project(const Vec3d& point) const; // where a world point stands in the widget
    /// How hard a pen presses, 0 … 1; a mouse presses fully.
    double pressure() const { return pressure_; }
    std::optional<SkinHit> pick(const QPointF& at) const;
    Vec3d rayAt(const QPointF& at) const; // from the eye, unit
    Vec3d eye() const { return camera_.eye(body_); }
    double pixelAt(double distance) const; // metres
    /// Metres by which a drag carries a world point: in the plane through it that faces the eye.
    Vec3d dragged(const Vec3d& point, const QPointF& from, const QPointF& to) const;
    QPointF pointer() const { return hoverAt_; }
    /// Whether nothing that is shown hides a world point.
    class Sight;
    std::unique_ptr<Sight> sight();

    /// A box of words beside a place of the view, kept within it; for tools to say what is pointed at.
    void paintWordsAt(QPainter& p, const QPointF& place, const QString& words) const;

signals:
    void viewChanged();
    void painted();
    void skinPressed(std::uint32_t fileVertex); // pressed and let go without turning the view

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void tabletEvent(QTabletEvent*) override;
    bool event(QEvent*) override; // what two fingers do on a touch pad
    void leaveEvent(QEvent*) override;

private:
    bool drawable() const; // the frame is of the character there is
    bool begin();          // the graphics, at the first picture
    void takeSubject();
    void takeStale();
    // The character, without what is painted over it; `whole`: though something moves.
    QImage draw(bool whole = false);
    // A heavy character is drawn coarser while it, or the view, moves, and whole as soon as it rests:
    // viewport_stand_in.cpp
    void makeStandIn();
    void takeStandInShown();
    bool standsIn() const;
    void poseStandIn();
    bool standInPosed() const; // for a pose that is newer than the frame
    void takeStandIn();        // to the scene
    const PosedFrame& seen() const { return drawnPosed_ ? *coarse_->frame() : *view_->frame(); }
    void leaveOutUnseen(Scene& scene, const std::vector<Vec3>& at, const std::vector<Triangle>& shown);
    std::vector<Vec3> coloursOf(const Character& character, const std::vector<float>& values) const;
    void paintOver(QPainter& p);
    void takeShown();
    void takeFrame();
    void takeColours();
    void takePainted();
    void takePatch();
    void wish();
    void findShown(); // triangleShown_ anew
    void lookOnceShown();
    double farEnough(double reach) const; // metres
    void frameSkin(const std::vector<std::uint32_t>& triangles, Vec3d look);
    QMatrix4x4 toClip() const;

    void turnView(const QPointF& by);
    void slideView(const QPointF& by);
    void comeNearer(double factor, const QPointF& at); // to the skin at a place of the picture
    bool pointerTaken() const;
    void paintSkeleton(QPainter& p);
    void paintWords(QPainter& p);
    QString wordsAt(const SkinHit& hit) const;

    PoseView* view_;
    std::vector<ViewportTool*> tools_;
    ViewportTool* grasping_ = nullptr;
    QString emptyWords_;
    BodyFrame body_;
    Camera camera_, from_, to_;
    QVariantAnimation easing_;
    QTimer rest_; // runs while something has just moved
    std::shared_ptr<const StandIn> standIn_;
    const Subject* standInOf_ = nullptr;              // whose, or whose is being made
    std::vector<Triangle> standInShown_, standInOwn_; // on the file's vertices, and on its own
    std::unique_ptr<PoseView> coarse_;                // of the stand-in, in the pose asked for
    Scene coarseScene_;
    int coarseAsked_ = 0, coarseSettled_ = 0; // poses asked for; how many when the last whole frame came
    bool coarseReady_ = false, coarseStale_ = true, coarseNewer_ = false, drawnPosed_ = false;
    bool drawnStandIn_ = false; // what the scene has
    Camera drawnFrom_;
    std::optional<ViewFrom> lookedFrom_;
    struct ToFrame {
        std::vector<int> joints;
        Vec3d look;
        std::vector<std::uint32_t> skin;
    };
    std::optional<ToFrame> toFrame_; // once its pose is shown
    Colouring colouring_ = Colouring::Strain;
    Limits limits_ = Limits::standard();
    Shown shown_;
    bool shownStale_ = true, frameStale_ = true, coloursStale_ = true, patchStale_ = true,
         contactStale_ = true, markedStale_ = true, outlineStale_ = true;
    bool measuring_ = false;
    std::vector<char> hidden_;                   // per part; empty: none
    std::vector<char> ownColour_;                // per part: rigid ones have no strain to show
    std::shared_ptr<const PaintedSkin> painted_; // of the character's textures, once they are decoded
    const void* paintedOf_ = nullptr;            // whose, or whose are being decoded
    std::vector<char> triangleShown_;            // per file triangle
    std::vector<char> surfaceShown_;             // per triangle of the surface
    std::vector<Triangle> shownTriangles_;       // of the file
    int isolated_ = -1;                          // the joint triangleShown_ was made for
    std::vector<float> values_;                  // per file vertex: what the colours say
    std::vector<std::uint32_t> patch_;           // of the surface
    std::vector<EdgePoint> outline_, fill_;      // of the patch, on file vertices: segments, triangles
    std::vector<char> marked_;                   // per file triangle
    std::unique_ptr<QOpenGLContext> context_;
    std::unique_ptr<QOffscreenSurface> surface_;
    std::unique_ptr<QOpenGLFramebufferObject> target_, resolved_; // resolved_: one sample a pixel
    Scene scene_;
    int weightJoint_ = -1;
    QPointF last_, pressed_;
    double pressure_ = 1;
    std::optional<SkinHit> hover_;
    QPointF hoverAt_;
    bool begun_ = false, ready_ = false; // ready_: the driver took everything
};

/// What is nearest to the eye at each pixel, as it was when asked for.
class Viewport::Sight {
public:
    Sight(std::vector<float> nearest, const QMatrix4x4& clip, const QSize& size)
        : nearest_(std::move(nearest)), clip_(clip), size_(size) {}
    /// Where a world point stands in the widget; nothing where something nearer hides it.
    std::optional<QPointF> of(const Vec3& point) const;

private:
    std::vector<float> nearest_;
    QMatrix4x4 clip_;
    QSize size_;
};

} // namespace hobble
