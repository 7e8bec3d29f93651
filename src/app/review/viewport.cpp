#include "app/review/viewport.h"

#include "app/session/plan_desk.h"
#include "app/theme.h"
#include "core/judge/outline.h"
#include "core/measure/touching.h"

#include <QBuffer>
#include <QGuiApplication>
#include <QOpenGLFunctions>
#include <QPainter>

#include <cmath>

namespace hobble {

namespace {

Vec3 displayColour(const Vec3& linear) { // sRGB transfer, near enough for a swatch
    return linear.cwiseMax(0.f).cwiseMin(1.f).array().pow(1 / 2.2f).matrix();
}

// The limb each joint belongs to: that of the nearest joint above it that the plan turns, with its side.
// Hands and feet are seen with their arms and legs.
std::vector<std::pair<std::string, Side>> limbOfJoints(const Subject& s, const Plan& plan) {
    const Skeleton& skeleton = s.character->skeleton;
    std::vector<std::pair<std::string, Side>> out(static_cast<std::size_t>(skeleton.size()));
    for (const Motion& m : plan.motions)
        for (const JointTurn& t : m.turns)
            if (auto& limb = out[static_cast<std::size_t>(t.joint)]; limb.first.empty())
                limb = {m.limb == "Hands"  ? "Arms"
                        : m.limb == "Feet" ? "Legs"
                                           : m.limb,
                        s.roles[static_cast<std::size_t>(t.joint)].side};
    for (std::size_t j = 0; j < out.size(); ++j)
        if (out[j].first.empty() && skeleton.parent[j] >= 0)
            out[j] = out[static_cast<std::size_t>(skeleton.parent[j])];
    return out;
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

Viewport::Viewport(Session* session, QWidget* parent, Showing showing)
    : QWidget(parent), session_(session), showing_(showing) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(240, 80);
    setAccessibleName(showing == Showing::Neutral  ? tr("Character in neutral")
                      : showing == Showing::Posing ? tr("Character to be posed")
                                                   : tr("Posed character"));
    if (showing != Showing::Pose)
        colouring_ = Colouring::Own;
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
        characterStale_ = frameStale_ = true;
        pointedJoint_ = -1;
        pointed_.clear();
        hidden_.clear();
        findShown();
        weightJoint_ = -1;
        values_.clear();
        marks_.clear();
        setMarkTool(MarkTool::None);
        if (const auto s = session_->subject()) {
            body_ = bodyFrame(*s->character, s->roles);
            camera_.yaw = 0.5;
            camera_.pitch = 0.12;
            frameAll(false);
        }
        hover_ = {};
        update();
    });
    if (showing_ == Showing::Pose)
        followSession();
    if (showing_ != Showing::Posing)
        return;
    PlanDesk* desk = session->desk();
    connect(desk, &PlanDesk::frameReady, this, [this] {
        frameStale_ = coloursStale_ = true;
        hover_ = {};
        update();
    });
    for (auto signal : {&PlanDesk::jointChanged, &PlanDesk::rangesChanged})
        connect(desk, signal, this, qOverload<>(&Viewport::update));
}

std::shared_ptr<const PosedFrame> Viewport::seenFrame() const {
    if (showing_ == Showing::Pose)
        return session_->frame();
    if (showing_ == Showing::Posing && session_->desk()->frame())
        return session_->desk()->frame();
    return session_->neutralFrame();
}

int Viewport::focus() const {
    return showing_ == Showing::Neutral  ? pointedJoint_
           : showing_ == Showing::Posing ? session_->desk()->joint()
                                         : session_->joint();
}

// Where the pose is what is shown.
void Viewport::followSession() {
    Session* session = session_;
    connect(session, &Session::frameReady, this, [this] {
        frameStale_ = coloursStale_ = contactStale_ = true;
        if (shown_.isolation != Isolation::Whole && isolated_ != focus())
            findShown();
        hover_ = {};
        if (std::exchange(findingToShow_, false))
            lookAtFinding();
        update();
    });
    connect(session, &Session::detailReady, this, [this] {
        coloursStale_ |= kindOf(colouring_).has_value();
        contactStale_ = true;
        update();
    });
    connect(session, &Session::poseChanged, this,
            [this] { coloursStale_ |= colouring_ == Colouring::Weight; });
    connect(session, &Session::limitsChanged, this, [this] {
        coloursStale_ = true;
        emit viewChanged();
        update();
    });
    connect(session, &Session::findingChanged, this, [this] {
        findingStale_ = coloursStale_ = true;
        findingToShow_ = session_->finding() >= 0;
        update();
        // A finding at the pose already shown brings no new frame to wait for.
        QMetaObject::invokeMethod(
            this,
            [this] {
                const auto f = seenFrame();
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
    if (!context_ || !context_->makeCurrent(surface_.get()))
        return;
    if (ready_)
        scene_.destroy();
    target_.reset();
    resolved_.reset();
    context_->doneCurrent();
}

bool Viewport::begin() {
    if (std::exchange(begun_, true))
        return ready_ && context_->makeCurrent(surface_.get());
    context_ = std::make_unique<QOpenGLContext>();
    context_->setFormat(QSurfaceFormat::defaultFormat());
    surface_ = std::make_unique<QOffscreenSurface>();
    surface_->setFormat(QSurfaceFormat::defaultFormat());
    surface_->create();
    ready_ = context_->create() && context_->makeCurrent(surface_.get()) && scene_.initialise();
    return ready_;
}

// Which triangles are seen: those of the parts that are shown, in the limb or region that is.
void Viewport::findShown() {
    const auto s = session_->subject();
    characterStale_ = true;
    if (!s)
        return;
    const Character& c = *s->character;
    triangleShown_.assign(c.triangles.size(), 1);
    isolated_ = focus();
    const bool without =
        shown_.isolation == Isolation::WithoutLimb || shown_.isolation == Isolation::WithoutRegion;
    const bool region = shown_.isolation == Isolation::Region || shown_.isolation == Isolation::WithoutRegion;
    if (region && isolated_ >= 0 && !s->zones[static_cast<std::size_t>(isolated_)].empty()) {
        triangleShown_.assign(c.triangles.size(), 0);
        for (std::uint32_t t : s->zones[static_cast<std::size_t>(isolated_)].triangles)
            triangleShown_[s->surface.fileTriangle[t]] = 1;
    } else if (shown_.isolation != Isolation::Whole && !region && isolated_ >= 0) {
        const auto limbs = limbOfJoints(*s, session_->plan());
        const auto& wanted = limbs[static_cast<std::size_t>(isolated_)];
        std::vector<float> here(c.vertexCount(), 0);
        for (std::size_t v = 0; v < c.vertexCount(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                if (limbs[c.weights.joint[i]] == wanted)
                    here[v] += c.weights.weight[i];
        for (std::size_t t = 0; t < c.triangles.size(); ++t)
            triangleShown_[t] =
                here[c.triangles[t][0]] + here[c.triangles[t][1]] + here[c.triangles[t][2]] >= 1.2f;
    }
    if (without && isolated_ >= 0)
        for (char& t : triangleShown_)
            t = !t;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (!partShown(p))
            std::fill_n(triangleShown_.begin() + c.parts[p].firstTriangle, c.parts[p].triangleCount, 0);
}

std::size_t Viewport::shownTriangleCount() const {
    return static_cast<std::size_t>(std::count(triangleShown_.begin(), triangleShown_.end(), 1));
}

void Viewport::takeCharacter() {
    const auto s = session_->subject();
    const Character& c = *s->character;
    shownTriangles_.clear();
    for (std::size_t t = 0; t < c.triangles.size(); ++t)
        if (triangleShown_[t])
            shownTriangles_.push_back(c.triangles[t]);
    scene_.setShown(shownTriangles_);
    ownColour_.clear();
    for (const Part& p : c.parts) {
        bool rigid = true;
        for (std::uint32_t v = p.firstVertex; v < p.firstVertex + p.vertexCount && rigid; ++v)
            rigid = c.weights.first[v + 1] - c.weights.first[v] <= 1;
        ownColour_.push_back(rigid);
    }
    characterStale_ = false;
    findingStale_ = coloursStale_ = marksStale_ = true;
}

void Viewport::takeFrame() {
    const auto f = seenFrame();
    scene_.setFrame(f->position, f->normal);
    scene_.setGhost(f->ghostPosition, f->ghostNormal);
    frameStale_ = false;
    outlineStale_ = true;
}

ColourScale Viewport::scale() const {
    const auto s = session_->subject();
    if (!s)
        return {};
    const int joint = colouring_ == Colouring::Weight ? weightJoint() : focus();
    return scaleOf(colouring_, *s, session_->limits(), joint);
}

void Viewport::takeColours() {
    coloursStale_ = false;
    const auto f = seenFrame();
    const Subject& s = *f->subject;
    const Character& c = *s.character;
    const auto detail = session_->detail();
    auto values = skinValuesFor(colouring_, *f, detail.get(), weightJoint());
    // A measure that takes longer than the pose keeps its colours until it is there, and the legend says so.
    const bool waiting = values.empty() && kindOf(colouring_) && f->motion >= 0;
    if (waiting != measuring_) {
        measuring_ = waiting;
        QMetaObject::invokeMethod(this, &Viewport::viewChanged, Qt::QueuedConnection);
    }
    if (!waiting || values_.size() != c.vertexCount())
        values_ = std::move(values);
    const ColourScale colours = scale();
    const bool rigidOwn =
        colouring_ == Colouring::Strain || colouring_ == Colouring::Area || colouring_ == Colouring::Shear;
    std::vector<Vec3> rgb(c.vertexCount());
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const bool own = values_.empty() || (rigidOwn && ownColour_[p]);
        for (std::uint32_t v = c.parts[p].firstVertex; v < c.parts[p].firstVertex + c.parts[p].vertexCount;
             ++v)
            rgb[v] = own ? displayColour(c.colour[v]) : colours.at(static_cast<double>(values_[v]));
    }
    scene_.setColours(rgb);
    if (f->preview) {
        std::vector<Vec3> between;
        for (const auto& [a, b] : f->preview->between)
            between.push_back((rgb[s.surface.representative(a)] + rgb[s.surface.representative(b)]) / 2);
        std::vector<Triangle> shown;
        for (std::size_t t = 0; t < s.surface.triangles.size(); ++t)
            if (triangleShown_[s.surface.fileTriangle[t]])
                shown.insert(shown.end(), f->preview->triangles.begin() + static_cast<std::ptrdiff_t>(4 * t),
                             f->preview->triangles.begin() + static_cast<std::ptrdiff_t>(4 * t + 4));
        scene_.setSmooth(shown, f->smoothPosition, f->smoothNormal, between);
    } else {
        scene_.setSmooth({}, {}, {}, {});
    }
}

// The marked patch: tinted all over, and outlined where it is large enough for an outline to help.
void Viewport::takeFinding() {
    findingStale_ = false;
    outline_.clear();
    outlineStale_ = true;
    const auto run = session_->run();
    const auto s = session_->subject();
    if (!run || session_->finding() < 0 || showing_ != Showing::Pose)
        return scene_.setPatch({});
    const auto& surface = s->surface;
    std::vector<std::uint32_t> seen;
    std::vector<Triangle> filled;
    for (std::uint32_t t : run->findings[static_cast<std::size_t>(session_->finding())].triangles)
        if (triangleShown_[surface.fileTriangle[t]]) {
            const auto& c = surface.triangles[t];
            filled.push_back(
                {surface.representative(c[0]), surface.representative(c[1]), surface.representative(c[2])});
            seen.push_back(t);
        }
    scene_.setPatch(filled);
    const auto islands = touching(surface, seen);
    std::vector<float> area(islands.size(), 0);
    for (std::size_t i = 0; i < islands.size(); ++i)
        for (std::uint32_t t : islands[i])
            area[i] += surface.area[t];
    for (std::size_t i = 0; i < islands.size(); ++i)
        if (area[i] >= 0.08f * *std::max_element(area.begin(), area.end()))
            for (const EdgePoint& p : patchOutline(surface, islands[i]))
                outline_.push_back({surface.representative(p.a), surface.representative(p.b), p.t});
}

void Viewport::takeStale() {
    const auto frame = seenFrame();
    if (characterStale_)
        takeCharacter();
    if (frameStale_)
        takeFrame();
    if (coloursStale_)
        takeColours();
    if (findingStale_)
        takeFinding();
    if (std::exchange(outlineStale_, false)) { // carried with the skin
        std::vector<Vec3> ends;
        for (const EdgePoint& p : outline_)
            ends.push_back((1 - p.t) * frame->position[p.a] + p.t * frame->position[p.b]);
        scene_.setOutline(ends);
    }
    if (std::exchange(contactStale_, false)) {
        const auto detail = showing_ != Showing::Pose ? nullptr : session_->detail();
        scene_.setContactLines(detail ? detail->contactLines : std::vector<Vec3>());
    }
    if (std::exchange(marksStale_, false)) {
        std::vector<Triangle> filled;
        const Character& c = *frame->subject->character;
        for (std::size_t i = 0; i < marks_.size(); ++i)
            if (marks_[i] && triangleShown_[i])
                filled.push_back(c.triangles[i]);
        scene_.setMarked(filled);
    }
}

// A software renderer spends most of a picture on triangles that no one sees: close to a joint that is most
// of the character. What lies beyond one side of the view is left out before it gets there.
void Viewport::leaveOutUnseen() {
    const auto& at = seenFrame()->position;
    Eigen::Matrix4f clip = Eigen::Map<const Eigen::Matrix4f>(toClip().constData());
    std::vector<std::uint8_t> beyond(at.size());
    for (std::size_t v = 0; v < at.size(); ++v) {
        const Eigen::Vector4f p = clip * at[v].homogeneous();
        beyond[v] = static_cast<std::uint8_t>((p.x() < -p.w()) | (p.x() > p.w()) << 1 |
                                              (p.y() < -p.w()) << 2 | (p.y() > p.w()) << 3);
    }
    std::vector<Triangle> seen;
    seen.reserve(shownTriangles_.size());
    for (const Triangle& t : shownTriangles_)
        if (!(beyond[t[0]] & beyond[t[1]] & beyond[t[2]]))
            seen.push_back(t);
    scene_.setShown(seen);
}

// The context is current.
QImage Viewport::draw() {
    takeStale();
    if (g_softwareRenderer && shown_.ghost == Ghost::None)
        leaveOutUnseen();
    const QSize wanted = size() * devicePixelRatioF();
    if (!target_ || target_->size() != wanted) {
        QOpenGLFramebufferObjectFormat format;
        format.setAttachment(QOpenGLFramebufferObject::Depth);
        format.setSamples(g_softwareRenderer ? 0 : 4);
        target_ = std::make_unique<QOpenGLFramebufferObject>(wanted, format);
        resolved_.reset();
        if (target_->format().samples() > 0)
            resolved_ = std::make_unique<QOpenGLFramebufferObject>(wanted);
    }
    target_->bind();
    const QColor& paper = Theme::current().viewport;
    auto* gl = context_->functions();
    gl->glViewport(0, 0, wanted.width(), wanted.height());
    gl->glClearColor(paper.redF(), paper.greenF(), paper.blueF(), 1);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    scene_.draw({camera_.view(body_), toClip(), shown_.wire, shown_.smooth, shown_.patch,
                 shown_.contactLines && shown_.isolation == Isolation::Whole});
    if (resolved_) {
        QOpenGLFramebufferObject::blitFramebuffer(resolved_.get(), target_.get());
        resolved_->bind();
    }
    QImage picture(wanted, QImage::Format_RGB32);
    gl->glReadPixels(0, 0, wanted.width(), wanted.height(), GL_BGRA, GL_UNSIGNED_BYTE, picture.bits());
    target_->release();
    picture.setDevicePixelRatio(devicePixelRatioF());
    return picture;
}

void Viewport::paintOver(QPainter& p) {
    p.setRenderHint(QPainter::Antialiasing);
    paintPointed(p);
    if (showing_ == Showing::Posing)
        paintPosing(p);
    else if (rolesShown_)
        paintRoles(p);
    else if (shown_.skeleton)
        paintSkeleton(p);
    paintMarking(p);
    paintWords(p);
}

void Viewport::paintEvent(QPaintEvent*) {
    const Theme& t = Theme::current();
    const auto frame = seenFrame();
    QPainter p(this);
    if (!frame || frame->subject != session_->subject() || !begin()) {
        p.fillRect(rect(), t.viewport);
        p.setPen(t.viewportInk);
        p.setFont(typeface(1.05));
        p.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap,
                   begun_ && !ready_ ? tr("The graphics driver did not take Hobble's shaders.")
                   : session_->subject() || session_->jobs().busy()
                       ? tr("Opening…")
                       : tr("No character is open. Open one with Ctrl+O, or drop its file here."));
        return;
    }
    // rows come from the bottom up
    p.save();
    p.translate(0, height());
    p.scale(1, -1);
    p.drawImage(0, 0, draw());
    p.restore();
    context_->doneCurrent();
    paintOver(p);
    emit painted();
}

QMatrix4x4 Viewport::toClip() const {
    return camera_.projection(double(width()) / height()) * camera_.view(body_);
}

double Viewport::pixelAt(double distance) const {
    return 2 * distance * std::tan(radians(Camera::kFieldOfView / 2)) / height();
}

QPointF Viewport::project(const Vec3d& point) const {
    const QVector3D n = toClip().map(QVector3D(float(point.x()), float(point.y()), float(point.z())));
    return QPointF((n.x() + 1) / 2 * width(), (1 - n.y()) / 2 * height());
}

void Viewport::setColouring(Colouring c) {
    colouring_ = c;
    coloursStale_ = true;
    values_.clear();
    wish();
    update();
    emit viewChanged();
}

void Viewport::wish() {
    if (showing_ != Showing::Pose)
        return;
    session_->setWish({kindOf(colouring_), shown_.contactLines, shown_.ghost, shown_.smooth});
}

void Viewport::setShown(const Shown& wanted) {
    if (wanted == shown_)
        return;
    const bool other = wanted.isolation != shown_.isolation;
    coloursStale_ |= wanted.smooth != shown_.smooth;
    characterStale_ |= wanted.ghost != shown_.ghost; // its triangles are all drawn again
    shown_ = wanted;
    if (other)
        findShown();
    wish();
    update();
    emit viewChanged();
}

void Viewport::setPartShown(std::size_t part, bool on) {
    const auto s = session_->subject();
    if (!s || part >= s->character->parts.size())
        return;
    hidden_.resize(s->character->parts.size(), 0);
    hidden_[part] = !on;
    findShown();
    hover_ = {};
    emit viewChanged();
    update();
}

void Viewport::showOnlyPart(std::size_t part) {
    const auto s = session_->subject();
    for (std::size_t p = 0; s && p < s->character->parts.size(); ++p)
        setPartShown(p, p == part);
}

void Viewport::setWeightJoint(int joint) {
    weightJoint_ = joint;
    coloursStale_ = true;
    emit viewChanged();
    update();
}

QByteArray Viewport::picture() {
    QByteArray png;
    const auto frame = seenFrame();
    if (!frame || frame->subject != session_->subject() || !begin())
        return png;
    QImage image = draw().mirrored();
    context_->doneCurrent();
    const Hit kept = std::exchange(hover_, {});
    {
        QPainter p(&image);
        paintOver(p);
    }
    hover_ = kept;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return png;
}

} // namespace hobble
