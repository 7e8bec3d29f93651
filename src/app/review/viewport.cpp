#include "app/review/viewport.h"

#include "app/theme.h"

#include <QApplication>
#include <QBuffer>
#include <QMouseEvent>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <QPainter>
#include <QWheelEvent>

#include <cmath>
#include <map>

namespace hobble {

namespace {

const char* kMeshVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec3 colour;
uniform mat4 toClip;
uniform mat4 toView;
out vec3 viewNormal;
out vec3 shade;
void main() {
    viewNormal = mat3(toView) * normal;
    shade = colour;
    gl_Position = toClip * vec4(position, 1.0);
})";

// A soft light over the left shoulder of whoever looks, so that form reads but the measure's colour stays
// itself.
const char* kMeshFragment = R"(#version 330 core
in vec3 viewNormal;
in vec3 shade;
out vec4 result;
void main() {
    vec3 n = normalize(viewNormal);
    if (!gl_FrontFacing) n = -n;
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.75))), 0.0);
    float fill = 0.5 + 0.5 * n.y;
    float rim = pow(1.0 - max(n.z, 0.0), 3.0);
    result = vec4(shade * (0.50 + 0.40 * key + 0.14 * fill) - vec3(0.10 * rim), 1.0);
})";

const char* kLineVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 toClip;
uniform float nearer;
void main() {
    gl_Position = toClip * vec4(position, 1.0);
    gl_Position.z -= nearer * gl_Position.w;
})";

const char* kLineFragment = R"(#version 330 core
uniform vec4 ink;
out vec4 result;
void main() { result = ink; })";

QColor displayColour(const Vec3& linear) { // sRGB transfer, near enough for a swatch
    auto c = [](float x) { return std::pow(std::clamp(x, 0.f, 1.f), 1 / 2.2f); };
    return QColor::fromRgbF(c(linear.x()), c(linear.y()), c(linear.z()));
}

} // namespace

void Viewport::requestOpenGl() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    QSurfaceFormat::setDefaultFormat(format);
}

// What the probe found: a software renderer smooths edges by drawing everything four times, which costs the
// fluency.
static bool g_softwareRenderer = false;

bool Viewport::supported() {
    const QString platform = QGuiApplication::platformName();
    if (platform == QLatin1String("offscreen") || platform == QLatin1String("minimal") ||
        qEnvironmentVariableIsSet("HOBBLE_NO_OPENGL"))
        return false;
    QOpenGLContext probe;
    probe.setFormat(QSurfaceFormat::defaultFormat());
    if (!probe.create() || probe.format().version() < qMakePair(3, 3))
        return false;
    QOffscreenSurface surface;
    surface.setFormat(probe.format());
    surface.create();
    if (!surface.isValid() || !probe.makeCurrent(&surface))
        return false;
    const auto* name = reinterpret_cast<const char*>(probe.functions()->glGetString(GL_RENDERER));
    const QByteArray renderer = QByteArray(name ? name : "").toLower();
    g_softwareRenderer =
        renderer.contains("llvmpipe") || renderer.contains("softpipe") || renderer.contains("swrast");
    return true;
}

Viewport::Viewport(Session* session, QWidget* parent) : QOpenGLWidget(parent), session_(session) {
    QSurfaceFormat wanted = QSurfaceFormat::defaultFormat();
    wanted.setSamples(g_softwareRenderer ? 0 : 4);
    setFormat(wanted);
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(240, 240);
    setAccessibleName(tr("Posed character"));
    easing_.setDuration(180);
    easing_.setStartValue(0.0);
    easing_.setEndValue(1.0);
    easing_.setEasingCurve(QEasingCurve::OutCubic);
    connect(&easing_, &QVariantAnimation::valueChanged, this, [this](const QVariant& v) {
        const double t = v.toDouble();
        camera_.target = from_.target + t * (to_.target - from_.target);
        camera_.yaw = from_.yaw + t * std::remainder(to_.yaw - from_.yaw, 2 * kPi); // the short way round
        camera_.pitch = from_.pitch + t * (to_.pitch - from_.pitch);
        camera_.distance = from_.distance * std::pow(to_.distance / from_.distance, t);
        update();
    });
    connect(session, &Session::characterChanged, this, [this] {
        characterStale_ = true;
        hidden_.clear();
        weightJoint_ = -1;
        if (const auto s = session_->subject()) {
            body_ = bodyFrame(*s->character, s->roles);
            camera_.yaw = 0.5;
            camera_.pitch = 0.12;
            frameAll(false);
        }
        hover_ = {};
        update();
    });
    connect(session, &Session::frameReady, this, [this] {
        frameStale_ = coloursStale_ = true;
        hover_ = {};
        if (std::exchange(findingToShow_, false))
            lookAtFinding();
        update();
    });
    connect(session, &Session::poseChanged, this,
            [this] { coloursStale_ |= colouring_ == Colouring::Weight; });
    connect(session, &Session::findingChanged, this, [this] {
        findingStale_ = true;
        findingToShow_ = session_->finding() >= 0;
        update();
        // A finding at the pose already shown brings no new frame to wait for.
        QMetaObject::invokeMethod(
            this,
            [this] {
                const auto f = session_->frame();
                if (f && f->motion == session_->motion() && f->degrees == session_->degrees() &&
                    std::exchange(findingToShow_, false))
                    lookAtFinding();
            },
            Qt::QueuedConnection);
    });
    connect(session, &Session::runChanged, this, [this] {
        findingStale_ = true;
        update();
    });
}

Viewport::~Viewport() {
    if (!ready_)
        return;
    makeCurrent();
    for (QOpenGLBuffer* b : {&positions_, &normals_, &colours_, &triangles_, &outline_})
        b->destroy();
    meshArray_.destroy();
    outlineArray_.destroy();
    meshProgram_.removeAllShaders();
    lineProgram_.removeAllShaders();
    doneCurrent();
}

void Viewport::initializeGL() {
    ready_ = initializeOpenGLFunctions();
    if (!ready_)
        return;
    meshProgram_.addShaderFromSourceCode(QOpenGLShader::Vertex, kMeshVertex);
    meshProgram_.addShaderFromSourceCode(QOpenGLShader::Fragment, kMeshFragment);
    lineProgram_.addShaderFromSourceCode(QOpenGLShader::Vertex, kLineVertex);
    lineProgram_.addShaderFromSourceCode(QOpenGLShader::Fragment, kLineFragment);
    ready_ = meshProgram_.link() && lineProgram_.link();
    for (QOpenGLBuffer* b : {&positions_, &normals_, &colours_, &triangles_, &outline_})
        b->create();
    meshArray_.create();
    outlineArray_.create();
    auto attribute = [this](QOpenGLBuffer& buffer, GLuint location) {
        buffer.bind();
        glEnableVertexAttribArray(location);
        glVertexAttribPointer(location, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
    };
    {
        const QOpenGLVertexArrayObject::Binder binder(&meshArray_);
        attribute(positions_, 0);
        attribute(normals_, 1);
        attribute(colours_, 2);
        triangles_.bind();
    }
    {
        const QOpenGLVertexArrayObject::Binder binder(&outlineArray_);
        attribute(positions_, 0);
        outline_.bind();
    }
}

void Viewport::takeCharacter() {
    const auto s = session_->subject();
    const Character& c = *s->character;
    std::vector<Triangle> shown;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (partShown(p))
            shown.insert(shown.end(), c.triangles.begin() + c.parts[p].firstTriangle,
                         c.triangles.begin() + c.parts[p].firstTriangle + c.parts[p].triangleCount);
    triangles_.bind();
    triangles_.allocate(shown.data(), int(shown.size() * sizeof(Triangle)));
    triangleCount_ = int(shown.size());
    ownColour_.clear();
    for (const Part& p : c.parts) {
        bool rigid = true;
        for (std::uint32_t v = p.firstVertex; v < p.firstVertex + p.vertexCount && rigid; ++v)
            rigid = c.weights.first[v + 1] - c.weights.first[v] <= 1;
        ownColour_.push_back(rigid);
    }
    characterStale_ = false;
    findingStale_ = coloursStale_ = true;
}

void Viewport::takeFrame() {
    const auto f = session_->frame();
    positions_.bind();
    positions_.allocate(f->position.data(), int(f->position.size() * sizeof(Vec3)));
    normals_.bind();
    normals_.allocate(f->normal.data(), int(f->normal.size() * sizeof(Vec3)));
    frameStale_ = false;
}

QColor Viewport::colourOf(std::uint32_t v) const {
    const auto f = session_->frame();
    const Character& c = *f->subject->character;
    if (colouring_ == Colouring::Strain)
        return strainColour(f->strain[v].stretch, f->strain[v].squash);
    if (colouring_ == Colouring::Influences)
        return influenceColour(c.weights.first[v + 1] - c.weights.first[v]);
    double weight = 0;
    for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
        if (c.weights.joint[i] == weightJoint())
            weight += c.weights.weight[i];
    return weightColour(weight);
}

void Viewport::uploadColours() {
    const auto f = session_->frame();
    const Character& c = *f->subject->character;
    std::vector<Vec3> rgb(c.vertexCount());
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const bool own = colouring_ == Colouring::Own || (colouring_ == Colouring::Strain && ownColour_[p]);
        for (std::uint32_t v = c.parts[p].firstVertex; v < c.parts[p].firstVertex + c.parts[p].vertexCount;
             ++v) {
            const QColor q = own ? displayColour(c.colour[v]) : colourOf(v);
            rgb[v] = Vec3(q.redF(), q.greenF(), q.blueF());
        }
    }
    colours_.bind();
    colours_.allocate(rgb.data(), int(rgb.size() * sizeof(Vec3)));
    coloursStale_ = false;
}

// The border of the marked patch: edges only one of its triangles has.
void Viewport::takeFinding() {
    findingStale_ = false;
    outlineCount_ = 0;
    const auto run = session_->run();
    const auto s = session_->subject();
    if (!run || session_->finding() < 0)
        return;
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> uses;
    for (std::uint32_t t : run->findings[session_->finding()].triangles)
        for (int k = 0; k < 3; ++k) {
            const std::uint32_t a = s->surface.triangles[t][k], b = s->surface.triangles[t][(k + 1) % 3];
            ++uses[{std::min(a, b), std::max(a, b)}];
        }
    std::vector<std::uint32_t> lines;
    for (const auto& [edge, n] : uses)
        if (n == 1) {
            lines.push_back(s->surface.representative(edge.first));
            lines.push_back(s->surface.representative(edge.second));
        }
    outline_.bind();
    outline_.allocate(lines.data(), int(lines.size() * sizeof(std::uint32_t)));
    outlineCount_ = int(lines.size());
}

void Viewport::paintGL() {
    const Theme& t = Theme::current();
    glClearColor(float(t.viewport.redF()), float(t.viewport.greenF()), float(t.viewport.blueF()), 1);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    const auto frame = session_->frame();
    if (!ready_ || !frame || frame->subject != session_->subject()) {
        QPainter p(this);
        p.setPen(t.viewportInk);
        p.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap,
                   !ready_ ? tr("The graphics driver did not take Hobble's shaders.")
                   : session_->subject() || session_->jobs().busy() ? tr("Opening…")
                                                                    : tr("No character is open."));
        return;
    }
    if (characterStale_)
        takeCharacter();
    if (frameStale_)
        takeFrame();
    if (coloursStale_)
        uploadColours();
    if (findingStale_)
        takeFinding();

    const QMatrix4x4 view = camera_.view(body_), clip = camera_.projection(double(width()) / height()) * view;
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LESS);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    meshProgram_.bind();
    meshProgram_.setUniformValue("toClip", clip);
    meshProgram_.setUniformValue("toView", view);
    {
        const QOpenGLVertexArrayObject::Binder binder(&meshArray_);
        glDrawElements(GL_TRIANGLES, triangleCount_ * 3, GL_UNSIGNED_INT, nullptr);
        if (wire_) {
            lineProgram_.bind();
            lineProgram_.setUniformValue("toClip", clip);
            lineProgram_.setUniformValue("nearer", 0.0004f);
            lineProgram_.setUniformValue("ink", QVector4D(0.11f, 0.16f, 0.2f, 1));
            glPolygonMode(GL_FRONT_AND_BACK, GL_LINE);
            glDrawElements(GL_TRIANGLES, triangleCount_ * 3, GL_UNSIGNED_INT, nullptr);
            glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        }
    }
    if (outlineCount_ > 0) {
        const QOpenGLVertexArrayObject::Binder binder(&outlineArray_);
        lineProgram_.bind();
        lineProgram_.setUniformValue("toClip", clip);
        lineProgram_.setUniformValue("nearer", 0.0012f);
        lineProgram_.setUniformValue("ink", QVector4D(0.07f, 0.1f, 0.14f, 1));
        glLineWidth(2);
        glDrawElements(GL_LINES, outlineCount_, GL_UNSIGNED_INT, nullptr);
        glLineWidth(1);
    }
    glDisable(GL_DEPTH_TEST);
    glUseProgram(0);

    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (skeleton_)
        paintSkeleton(p);
    paintWords(p);
}

QPointF Viewport::project(const Vec3d& point) const {
    const QMatrix4x4 clip = camera_.projection(double(width()) / height()) * camera_.view(body_);
    const QVector3D n = clip.map(QVector3D(float(point.x()), float(point.y()), float(point.z())));
    return QPointF((n.x() + 1) / 2 * width(), (1 - n.y()) / 2 * height());
}

void Viewport::paintSkeleton(QPainter& p) {
    const auto f = session_->frame();
    const auto s = session_->subject();
    const Skeleton& sk = s->character->skeleton;
    const int chosen = session_->joint();
    auto shown = [&](int j) { return s->roles[j].movesSkin || s->roles[j].role == Role::End; };
    auto at = [&](int j) { return project(f->jointPosition[j].cast<double>()); };
    for (int pass = 0; pass < 2; ++pass) // the limb looked at on top
        for (int j = 0; j < sk.size(); ++j) {
            const int parent = sk.parent[j];
            const bool near = chosen >= 0 && (j == chosen || parent == chosen);
            if (parent < 0 || !shown(j) || near != (pass == 1))
                continue;
            p.setPen(QPen(near ? QColor(0x0f7a5e) : QColor(20, 60, 52, 90), near ? 2.4 : 1.2));
            p.drawLine(at(parent), at(j));
        }
    for (int j = 0; j < sk.size(); ++j) {
        const bool near = chosen >= 0 && (j == chosen || sk.parent[j] == chosen || sk.parent[chosen] == j);
        if (!shown(j) || !near)
            continue;
        p.setPen(QPen(QColor(0x0f7a5e), 2));
        p.setBrush(QColor(0xfcfaf4));
        const double r = j == chosen ? 4.5 : 3.2;
        p.drawEllipse(at(j), r, r);
    }
}

QString Viewport::wordsAt(const Hit& hit) const {
    const auto f = session_->frame();
    const Character& c = *f->subject->character;
    const std::uint32_t v = hit.vertex;
    QString first;
    if (colouring_ == Colouring::Influences) {
        const std::uint32_t n = c.weights.first[v + 1] - c.weights.first[v];
        first = n == 1 ? tr("held by one joint") : tr("held by %1 joints").arg(n);
    } else if (colouring_ != Colouring::Weight) {
        const Strain s = f->strain[v];
        const bool pulled = s.stretch > 1 && std::log(s.stretch) >= -std::log(std::max(s.squash, 1e-6f));
        const Kind kind = pulled ? Kind::Stretch : Kind::Squash;
        first = tr("%1 %2, limit %3")
                    .arg(QLatin1String(nameOf(kind)))
                    .arg(double(pulled ? s.stretch : s.squash), 0, 'f', 2)
                    .arg(session_->limits().of(kind, Role::Unknown)[0], 0, 'f', 2);
    } else {
        first = QString::fromStdString(c.parts[c.partOfVertex(v)].name);
    }
    QStringList influences;
    for (std::uint32_t i = c.weights.first[v]; i < std::min(c.weights.first[v + 1], c.weights.first[v] + 4);
         ++i)
        influences << tr("%1 %2 %")
                          .arg(QString::fromStdString(c.skeleton.name[c.weights.joint[i]]))
                          .arg(100 * double(c.weights.weight[i]), 0, 'f', 0);
    if (influences.isEmpty())
        influences << tr("nothing moves this vertex");
    return first + QLatin1Char('\n') + influences.join(QStringLiteral(", "));
}

void Viewport::paintWords(QPainter& p) {
    if (!hover_.found)
        return;
    const Theme& t = Theme::current();
    const QString text = wordsAt(hover_);
    p.setFont(typeface(0.92));
    QRectF box =
        p.fontMetrics().boundingRect(QRect(0, 0, 320, 200), 0, text).toRectF().adjusted(-9, -6, 9, 6);
    box.moveTopLeft(hoverAt_ + QPointF(16, 14));
    if (box.right() > width() - 6)
        box.moveRight(hoverAt_.x() - 12);
    if (box.bottom() > height() - 6)
        box.moveBottom(hoverAt_.y() - 10);
    p.setPen(QPen(t.hairline, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 3, 3);
    p.setPen(t.ink);
    p.drawText(box.adjusted(9, 6, -9, -6), text);
}

Viewport::Hit Viewport::pick(const QPointF& at) const {
    Hit hit;
    const auto f = session_->frame();
    if (!f || f->subject != session_->subject())
        return hit;
    const QMatrix4x4 back = (camera_.projection(double(width()) / height()) * camera_.view(body_)).inverted();
    const float x = float(2 * at.x() / width() - 1), y = float(1 - 2 * at.y() / height());
    const QVector3D far = back.map(QVector3D(x, y, 1));
    const Vec3 origin = camera_.eye(body_).cast<float>();
    const Vec3 ray = (Vec3(far.x(), far.y(), far.z()) - origin).normalized();
    float best = 1e30f;
    const auto& triangles = f->subject->character->triangles;
    const auto& parts = f->subject->character->parts;
    std::size_t part = 0;
    for (std::uint32_t i = 0; i < triangles.size(); ++i) { // Möller and Trumbore 1997
        while (part + 1 < parts.size() && i >= parts[part + 1].firstTriangle)
            ++part;
        if (!partShown(part))
            continue;
        const Vec3 &a = f->position[triangles[i][0]], &b = f->position[triangles[i][1]],
                   &c = f->position[triangles[i][2]];
        const Vec3 e1 = b - a, e2 = c - a, q = ray.cross(e2);
        const float det = e1.dot(q);
        if (std::abs(det) < 1e-14f)
            continue;
        const Vec3 s = origin - a;
        const float u = s.dot(q) / det;
        if (u < 0 || u > 1)
            continue;
        const Vec3 r = s.cross(e1);
        const float v = ray.dot(r) / det, d = e2.dot(r) / det;
        if (v < 0 || u + v > 1 || d <= 0 || d >= best)
            continue;
        best = d;
        hit.found = true;
        hit.triangle = i;
        hit.vertex = triangles[i][u > 0.5f                             ? 1
                                  : v > 0.5f                           ? 2
                                  : (1 - u - v >= u && 1 - u - v >= v) ? 0
                                  : u >= v                             ? 1
                                                                       : 2];
        hit.point = (origin + d * ray).cast<double>();
    }
    return hit;
}

void Viewport::setColouring(Colouring c) {
    colouring_ = c;
    coloursStale_ = true;
    update();
    emit viewChanged();
}

void Viewport::setSkeletonShown(bool on) {
    skeleton_ = on;
    update();
    emit viewChanged();
}

void Viewport::setWireShown(bool on) {
    wire_ = on;
    update();
    emit viewChanged();
}

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
    const auto f = session_->frame();
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
    const int j = session_->joint();
    if (!s)
        return;
    Vec3d axis = j >= 0 ? boneDirection(*s->character, s->roles, j) : body_.up;
    if (axis.norm() < 0.5)
        axis = body_.forward;
    // Along the limb means along it as it is posed now.
    if (const auto f = session_->frame(); f && j >= 0)
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

QByteArray Viewport::picture() {
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    const Hit kept = hover_;
    hover_ = {};
    grabFramebuffer().save(&buffer, "PNG");
    hover_ = kept;
    return png;
}

void Viewport::mousePressEvent(QMouseEvent* e) { last_ = pressed_ = e->position(); }

void Viewport::mouseMoveEvent(QMouseEvent* e) {
    const QPointF d = e->position() - last_;
    last_ = e->position();
    if (e->buttons() & (Qt::LeftButton | Qt::MiddleButton)) {
        easing_.stop();
        hover_ = {};
        if (e->buttons() & Qt::LeftButton) {
            camera_.yaw -= d.x() * 0.008;
            camera_.pitch = std::clamp(camera_.pitch + d.y() * 0.008, -1.5, 1.5);
            viewWords_.clear();
        } else {
            const double perPixel =
                2 * camera_.distance * std::tan(radians(Camera::kFieldOfView / 2)) / height();
            const Vec3d back = camera_.direction(body_), right = body_.up.cross(back).normalized();
            camera_.target += perPixel * (-d.x() * right + d.y() * back.cross(right));
        }
        emit viewChanged();
        update();
        return;
    }
    hoverAt_ = e->position();
    hover_ = pick(hoverAt_);
    update();
}

void Viewport::mouseReleaseEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton || (e->position() - pressed_).manhattanLength() > 3)
        return;
    if (const Hit hit = pick(e->position()); hit.found)
        emit skinPressed(hit.vertex);
}

void Viewport::setPartShown(std::size_t part, bool on) {
    const auto s = session_->subject();
    if (!s || part >= s->character->parts.size())
        return;
    hidden_.resize(s->character->parts.size(), 0);
    hidden_[part] = !on;
    characterStale_ = true;
    hover_ = {};
    emit viewChanged();
    update();
}

void Viewport::setWeightJoint(int joint) {
    weightJoint_ = joint;
    coloursStale_ = true;
    emit viewChanged();
    update();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* e) {
    const Hit hit = pick(e->position());
    if (!hit.found)
        return frameAll();
    const Character& c = *session_->subject()->character;
    if (c.weights.first[hit.vertex] < c.weights.first[hit.vertex + 1])
        frameJoint(c.weights.joint[c.weights.first[hit.vertex]]);
}

void Viewport::wheelEvent(QWheelEvent* e) {
    const double factor = std::pow(0.9, e->angleDelta().y() / 120.0);
    const auto s = session_->subject();
    if (!s)
        return;
    easing_.stop();
    const double before = camera_.distance;
    camera_.distance =
        std::clamp(camera_.distance * factor, s->character->extent() * 0.05, s->character->extent() * 10);
    // nearer to the point under the pointer
    const Hit hit = pick(e->position());
    if (hit.found)
        camera_.target += (hit.point - camera_.target) * (1 - camera_.distance / before);
    hover_ = {};
    emit viewChanged();
    update();
}

void Viewport::leaveEvent(QEvent*) {
    hover_ = {};
    update();
}

} // namespace hobble
