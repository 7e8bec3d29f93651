#pragma once
// The posed character, coloured by a measure. Positions are uploaded once per pose, colours once per measure;
// a software renderer does.
#include "app/review/camera.h"
#include "app/session/session.h"

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QOpenGLWidget>
#include <QVariantAnimation>

namespace hobble {

enum class Colouring { Strain, Weight, Own, Influences };

class Viewport : public QOpenGLWidget, protected QOpenGLFunctions_3_3_Core {
    Q_OBJECT
public:
    explicit Viewport(Session* session, QWidget* parent = nullptr);
    ~Viewport() override;

    /// What every window asks OpenGL for; called once, before the application object is made.
    static void requestOpenGl();

    /// Whether this display can give an OpenGL context at all; asked before a viewport is made.
    static bool supported();

    Colouring colouring() const { return colouring_; }
    void setColouring(Colouring c);
    void setWeightJoint(int joint); // whose weights are shown; -1: of the joint looked at
    int weightJoint() const { return weightJoint_ >= 0 ? weightJoint_ : session_->joint(); }
    /// Parts that are not shown cannot be pressed either. All are shown when a character comes in.
    void setPartShown(std::size_t part, bool on);
    bool partShown(std::size_t part) const { return part >= hidden_.size() || !hidden_[part]; }
    void setSkeletonShown(bool on);
    void setWireShown(bool on);
    bool skeletonShown() const { return skeleton_; }
    bool wireShown() const { return wire_; }

    const Camera& camera() const { return camera_; }
    void setCamera(const Camera& camera, bool eased);
    void settle(); // ends a movement of the camera at once
    void frameAll(bool eased = true);
    void frameJoint(int joint,
                    const Camera* from = nullptr); // keeping the direction looked in, or that of `from`
    void lookFrom(const QString& viewName);        // front, back, outer, inner, along: of the joint looked at
    QString viewWords() const { return viewWords_; }

    QByteArray picture(); // PNG of what is seen

    /// Where a world point stands in the widget.
    QPointF project(const Vec3d& point) const;

signals:
    void viewChanged();
    void skinPressed(std::uint32_t fileVertex); // pressed and let go without turning the view

protected:
    void initializeGL() override;
    void paintGL() override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void leaveEvent(QEvent*) override;

private:
    struct Hit {
        std::uint32_t triangle = 0, vertex = 0; // vertex: the nearest corner
        Vec3d point = Vec3d::Zero();
        bool found = false;
    };
    void takeCharacter();
    void takeFrame();
    void takeFinding();
    void lookAtFinding();
    void uploadColours();
    QColor colourOf(std::uint32_t vertex) const;
    Hit pick(const QPointF& at) const;
    void paintSkeleton(QPainter& p);
    void paintWords(QPainter& p);
    QString wordsAt(const Hit& hit) const;

    Session* session_;
    BodyFrame body_;
    Camera camera_, from_, to_;
    QVariantAnimation easing_;
    QString viewWords_;
    Colouring colouring_ = Colouring::Strain;
    bool skeleton_ = true, wire_ = false;
    bool characterStale_ = true, frameStale_ = true, coloursStale_ = true, findingStale_ = true;
    bool findingToShow_ = false;  // once its pose has been computed
    std::vector<char> hidden_;    // per part; empty: none
    std::vector<char> ownColour_; // per part: rigid ones have no strain to show
    QOpenGLShaderProgram meshProgram_, lineProgram_;
    QOpenGLVertexArrayObject meshArray_, outlineArray_;
    QOpenGLBuffer positions_, normals_, colours_, triangles_{QOpenGLBuffer::IndexBuffer},
        outline_{QOpenGLBuffer::IndexBuffer};
    int triangleCount_ = 0, outlineCount_ = 0;
    int weightJoint_ = -1;
    QPointF last_, pressed_;
    Hit hover_;
    QPointF hoverAt_;
    bool ready_ = false;
};

} // namespace hobble
