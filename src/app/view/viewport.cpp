#include "app/view/viewport.h"

#include "app/theme.h"
#include "core/judge/outline.h"
#include "core/measure/touching.h"
#include "core/pose/limb.h"

#include <QBuffer>
#include <QGuiApplication>
#include <QOpenGLFunctions>
#include <QPainter>
#include <QPointer>
#include <QThreadPool>

#include <cmath>

namespace hobble {

namespace {

constexpr int kTexels = 1024; // a viewport is hardly larger

Vec3 displayColour(const Vec3& linear) { // sRGB transfer, near enough for a swatch
    return linear.cwiseMax(0.f).cwiseMin(1.f).array().pow(1 / 2.2f).matrix();
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

Viewport::Viewport(PoseView* view, QWidget* parent) : QWidget(parent), view_(view) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(240, 80);
    easing_.setDuration(180);
    easing_.setStartValue(0.0);
    easing_.setEndValue(1.0);
    easing_.setEasingCurve(QEasingCurve::OutCubic);
    rest_.setSingleShot(true);
    rest_.setInterval(200);
    connect(&rest_, &QTimer::timeout, this, [this] {
        if (drawnStandIn_ && !drawnPosed_) // the pose that rests is on its way
            update();
    });
    connect(&easing_, &QVariantAnimation::valueChanged, this, [this](const QVariant& v) {
        const double t = v.toDouble();
        camera_.target = from_.target + t * (to_.target - from_.target);
        camera_.yaw = from_.yaw + t * std::remainder(to_.yaw - from_.yaw, 2 * kPi); // the short way round
        camera_.pitch = from_.pitch + t * (to_.pitch - from_.pitch);
        camera_.distance = from_.distance * std::pow(to_.distance / from_.distance, t);
        update();
    });
    connect(view, &PoseView::subjectChanged, this, &Viewport::takeSubject);
    connect(view, &PoseView::poseChanged, this, &Viewport::poseStandIn);
    connect(view, &PoseView::frameReady, this, [this] {
        coarseNewer_ = false;
        coarseSettled_ = coarseAsked_;
        frameStale_ = coloursStale_ = contactStale_ = true;
        if (shown_.isolation != Isolation::Whole && isolated_ != view_->joint())
            findShown();
        hover_.reset();
        lookOnceShown();
        update();
    });
    connect(view, &PoseView::detailReady, this, [this] {
        coloursStale_ |= kindOf(colouring_).has_value();
        contactStale_ = true;
        update();
    });
    connect(view, &PoseView::jointChanged, this, [this] {
        coloursStale_ |= colouring_ == Colouring::Weight || kindOf(colouring_).has_value() ||
                         colouring_ == Colouring::Strain;
        update();
    });
    takeSubject();
}

void Viewport::setEmptyWords(const QString& words) {
    emptyWords_ = words;
    update();
}

// Another character: nothing of the one before is kept.
void Viewport::takeSubject() {
    shownStale_ = frameStale_ = true;
    hidden_.clear();
    findShown();
    weightJoint_ = -1;
    values_.clear();
    painted_.reset();
    paintedOf_ = nullptr;
    makeStandIn();
    marked_.clear();
    patch_.clear();
    patchStale_ = true;
    toFrame_.reset();
    hover_.reset();
    if (const auto& s = view_->subject()) {
        body_ = s->body;
        camera_.yaw = 0.5;
        camera_.pitch = 0.12;
        frameAll(false);
    }
    update();
}

Viewport::~Viewport() {
    if (!context_ || !context_->makeCurrent(surface_.get()))
        return;
    if (ready_)
        scene_.destroy();
    if (coarseReady_)
        coarseScene_.destroy();
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
    const auto& s = view_->subject();
    shownStale_ = true;
    triangleShown_.clear();
    surfaceShown_.clear();
    if (!s)
        return;
    const Character& c = *s->character;
    triangleShown_.assign(c.triangles.size(), 1);
    isolated_ = view_->joint();
    const bool without =
        shown_.isolation == Isolation::WithoutLimb || shown_.isolation == Isolation::WithoutRegion;
    const bool region = shown_.isolation == Isolation::Region || shown_.isolation == Isolation::WithoutRegion;
    if (region && isolated_ >= 0 && !s->zones[static_cast<std::size_t>(isolated_)].empty()) {
        triangleShown_.assign(c.triangles.size(), 0);
        for (std::uint32_t t : s->zones[static_cast<std::size_t>(isolated_)].triangles)
            triangleShown_[s->surface.fileTriangle[t]] = 1;
    } else if (shown_.isolation != Isolation::Whole && !region && isolated_ >= 0) {
        triangleShown_ = trianglesOfLimb(c, s->roles, isolated_);
    }
    if (without && isolated_ >= 0)
        for (char& t : triangleShown_)
            t = !t;
    for (std::size_t p = 0; p < c.parts.size(); ++p)
        if (!partShown(p))
            std::fill_n(triangleShown_.begin() + c.parts[p].firstTriangle, c.parts[p].triangleCount, 0);
    for (std::uint32_t t : s->surface.fileTriangle)
        surfaceShown_.push_back(triangleShown_[t]);
}

std::size_t Viewport::shownTriangleCount() const {
    return static_cast<std::size_t>(std::count(triangleShown_.begin(), triangleShown_.end(), 1));
}

void Viewport::takeShown() {
    const auto& s = view_->subject();
    const Character& c = *s->character;
    shownTriangles_.clear();
    for (std::size_t t = 0; t < c.triangles.size(); ++t)
        if (triangleShown_[t])
            shownTriangles_.push_back(c.triangles[t]);
    scene_.setShown(shownTriangles_);
    drawnStandIn_ = false;
    scene_.setPaintedShown(triangleShown_);
    takeStandInShown();
    ownColour_.clear();
    for (const Part& p : c.parts) {
        bool rigid = true;
        for (std::uint32_t v = p.firstVertex; v < p.firstVertex + p.vertexCount && rigid; ++v)
            rigid = c.weights.first[v + 1] - c.weights.first[v] <= 1;
        ownColour_.push_back(rigid);
    }
    shownStale_ = false;
    patchStale_ = coloursStale_ = markedStale_ = true;
}

void Viewport::takeFrame() {
    const auto& f = view_->frame();
    scene_.setFrame(f->position, f->normal);
    scene_.setGhost(f->ghostPosition, f->ghostNormal);
    frameStale_ = false;
    outlineStale_ = true;
}

ColourScale Viewport::scale() const {
    const auto& s = view_->subject();
    if (!s)
        return {};
    return scaleOf(colouring_, *s, limits_, colouring_ == Colouring::Weight ? weightJoint() : view_->joint());
}

// Of the character, or its stand-in: per vertex, by what it is coloured by; without values, its own.
std::vector<Vec3> Viewport::coloursOf(const Character& c, const std::vector<float>& values) const {
    const ColourScale colours = scale();
    const bool rigidOwn =
        colouring_ == Colouring::Strain || colouring_ == Colouring::Area || colouring_ == Colouring::Shear;
    std::vector<Vec3> rgb(c.vertexCount());
    for (std::size_t p = 0; p < c.parts.size(); ++p) {
        const bool own = values.empty() || (rigidOwn && ownColour_[p]);
        for (std::uint32_t v = c.parts[p].firstVertex; v < c.parts[p].firstVertex + c.parts[p].vertexCount;
             ++v)
            rgb[v] = own ? displayColour(c.colour[v]) : colours.at(static_cast<double>(values[v]));
    }
    return rgb;
}

void Viewport::takeColours() {
    coloursStale_ = false;
    const auto& f = view_->frame();
    const Subject& s = *f->subject;
    const Character& c = *s.character;
    const auto detail = view_->detail();
    auto values = skinValuesFor(colouring_, *f, detail.get(), weightJoint());
    // A measure that takes longer than the pose keeps its colours until it is there, and the legend says so.
    const bool waiting = values.empty() && kindOf(colouring_) && f->motion >= 0;
    if (waiting != measuring_) {
        measuring_ = waiting;
        QMetaObject::invokeMethod(this, &Viewport::viewChanged, Qt::QueuedConnection);
    }
    if (!waiting || values_.size() != c.vertexCount())
        values_ = std::move(values);
    std::vector<Vec3> rgb = coloursOf(c, values_);
    takePainted();
    if (painted_ && colouring_ == Colouring::Own && f->preview) // between vertices there are no pictures
        for (std::size_t v = 0; v < rgb.size(); ++v)
            rgb[v] = rgb[v].cwiseProduct(painted_->vertexPaint[v]);
    scene_.setColours(rgb);
    if (painted_ && colouring_ == Colouring::Own && !f->preview && standIn_) { // which has no pictures either
        std::vector<Vec3> plain = rgb;
        for (std::size_t v = 0; v < plain.size(); ++v)
            plain[v] = plain[v].cwiseProduct(painted_->vertexPaint[v]);
        scene_.setPlainColours(plain);
    }
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

// The pictures the character is painted with, once somebody wants its own colours: decoded on another thread.
void Viewport::takePainted() {
    const auto character = view_->subject()->character;
    const Character& c = *character;
    const void* of = c.textures.empty() ? nullptr : c.textures.data();
    if (colouring_ != Colouring::Own || !of) {
        scene_.setPainted(nullptr, {});
        return;
    }
    if (paintedOf_ != of) {
        paintedOf_ = of;
        painted_.reset();
        QThreadPool::globalInstance()->start([me = QPointer(this), character, of] {
            auto made = std::make_shared<const PaintedSkin>(paintedSkin(*character, kTexels));
            QMetaObject::invokeMethod(
                qApp,
                [me, made, of] {
                    if (!me || me->paintedOf_ != of)
                        return;
                    me->painted_ = made;
                    me->coloursStale_ = me->shownStale_ = true;
                    me->update();
                },
                Qt::QueuedConnection);
        });
    }
    scene_.setPainted(painted_, c.textures.vector());
    scene_.setPaintedShown(triangleShown_);
}

// The patch: tinted all over, and outlined where it is large enough for an outline to help.
void Viewport::takePatch() {
    patchStale_ = false;
    outline_.clear();
    fill_.clear();
    outlineStale_ = true;
    const Surface& surface = view_->subject()->surface;
    std::vector<std::uint32_t> seen;
    for (std::uint32_t t : patch_)
        if (surfaceShown_[t])
            seen.push_back(t);
    const auto islands = touching(surface, seen);
    std::vector<float> area(islands.size(), 0);
    for (std::size_t i = 0; i < islands.size(); ++i)
        for (std::uint32_t t : islands[i])
            area[i] += surface.area[t];
    const auto onFile = [&](const std::vector<EdgePoint>& from, std::vector<EdgePoint>& to) {
        for (const EdgePoint& p : from)
            to.push_back({surface.representative(p.a), surface.representative(p.b), p.t});
    };
    for (std::size_t i = 0; i < islands.size(); ++i) {
        const PatchShape shape = patchShape(surface, islands[i]);
        onFile(shape.fill, fill_);
        if (area[i] >= 0.08f * *std::max_element(area.begin(), area.end()))
            onFile(shape.outline, outline_);
    }
}

void Viewport::takeStale() {
    const auto& frame = view_->frame();
    if (shownStale_)
        takeShown();
    if (frameStale_)
        takeFrame();
    if (coloursStale_)
        takeColours();
    if (patchStale_)
        takePatch();
    if (std::exchange(outlineStale_, false)) { // carried with the skin
        const auto posed = [&](const std::vector<EdgePoint>& on) {
            std::vector<Vec3> out;
            for (const EdgePoint& p : on)
                out.push_back((1 - p.t) * frame->position[p.a] + p.t * frame->position[p.b]);
            return out;
        };
        scene_.setPatch(posed(fill_), posed(outline_));
    }
    if (std::exchange(contactStale_, false)) {
        const auto detail = view_->detail();
        scene_.setContactLines(detail ? detail->contactLines : std::vector<Vec3>());
    }
    if (std::exchange(markedStale_, false)) {
        std::vector<Triangle> filled;
        const Character& c = *frame->subject->character;
        for (std::size_t i = 0; i < marked_.size(); ++i)
            if (marked_[i] && triangleShown_[i])
                filled.push_back(c.triangles[i]);
        scene_.setMarked(filled);
    }
}

// A software renderer spends most of a picture on triangles that no one sees: close to a joint that is most
// of the character. What lies beyond one side of the view is left out before it gets there.
void Viewport::leaveOutUnseen(Scene& scene, const std::vector<Vec3>& at, const std::vector<Triangle>& shown) {
    Eigen::Matrix4f clip = Eigen::Map<const Eigen::Matrix4f>(toClip().constData());
    std::vector<std::uint8_t> beyond(at.size());
    for (std::size_t v = 0; v < at.size(); ++v) {
        const Eigen::Vector4f p = clip * at[v].homogeneous();
        beyond[v] = static_cast<std::uint8_t>((p.x() < -p.w()) | (p.x() > p.w()) << 1 |
                                              (p.y() < -p.w()) << 2 | (p.y() > p.w()) << 3);
    }
    std::vector<Triangle> seen;
    seen.reserve(shown.size());
    for (const Triangle& t : shown)
        if (!(beyond[t[0]] & beyond[t[1]] & beyond[t[2]]))
            seen.push_back(t);
    scene.setShown(seen);
}

// The context is current.
QImage Viewport::draw(bool whole) {
    drawnPosed_ = !whole && standInPosed();
    const bool posed = drawnPosed_ ? coarseStale_ : frameStale_;
    if (!drawnPosed_)
        takeStale();
    else if (coarseStale_)
        takeStandIn();
    if (!standInShown_.empty() && (posed || camera_ != drawnFrom_))
        rest_.start();
    drawnFrom_ = camera_;
    const bool coarser = drawnPosed_ || (!whole && standsIn());
    const std::vector<Triangle>& shown = coarser ? standInShown_ : shownTriangles_;
    if (drawnPosed_)
        leaveOutUnseen(coarseScene_, coarse_->frame()->position, standInOwn_);
    else if (g_softwareRenderer && shown_.ghost == Ghost::None)
        leaveOutUnseen(scene_, view_->frame()->position, shown);
    else if (coarser != drawnStandIn_)
        scene_.setShown(shown);
    drawnStandIn_ = coarser;
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
    (drawnPosed_ ? coarseScene_ : scene_)
        .draw({camera_.view(body_), toClip(), shown_.wire, shown_.smooth || shown_.vertices, shown_.patch,
               shown_.contactLines && shown_.isolation == Isolation::Whole, coarser});
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
    if (shown_.skeleton &&
        std::none_of(tools_.begin(), tools_.end(), [](const ViewportTool* t) { return t->paintsSkeleton(); }))
        paintSkeleton(p);
    for (ViewportTool* tool : tools_) {
        p.save();
        tool->paintOver(p);
        p.restore();
    }
    paintWords(p);
}

bool Viewport::drawable() const { return view_->frame() && view_->frame()->subject == view_->subject(); }

void Viewport::paintEvent(QPaintEvent*) {
    const Theme& t = Theme::current();
    QPainter p(this);
    if (!drawable() || !begin()) {
        p.fillRect(rect(), t.viewport);
        p.setPen(t.viewportInk);
        p.setFont(typeface(1.05));
        p.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap,
                   begun_ && !ready_  ? tr("The graphics driver did not take Hobble's shaders.")
                   : view_->subject() ? tr("Opening…")
                   : emptyWords_.isEmpty()
                       ? tr("No character is open. Open one with Ctrl+O, or drop its file here.")
                       : emptyWords_);
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
    view_->setWish({kindOf(colouring_), shown_.contactLines, shown_.ghost, shown_.smooth});
}

void Viewport::setLimits(const Limits& limits) {
    limits_ = limits;
    coloursStale_ = true;
    emit viewChanged();
    update();
}

void Viewport::setPatch(std::vector<std::uint32_t> triangles) {
    patch_ = std::move(triangles);
    patchStale_ = coloursStale_ = true;
    update();
}

void Viewport::setMarked(std::vector<char> triangles) {
    marked_ = std::move(triangles);
    markedStale_ = true;
    update();
}

void Viewport::setShown(const Shown& wanted) {
    if (wanted == shown_)
        return;
    const bool other = wanted.isolation != shown_.isolation;
    coloursStale_ |= wanted.smooth != shown_.smooth;
    shownStale_ |= wanted.ghost != shown_.ghost; // its triangles are all drawn again
    shown_ = wanted;
    if (other)
        findShown();
    wish();
    update();
    emit viewChanged();
}

void Viewport::setPartShown(std::size_t part, bool on) {
    const auto& s = view_->subject();
    if (!s || part >= s->character->parts.size())
        return;
    hidden_.resize(s->character->parts.size(), 0);
    hidden_[part] = !on;
    findShown();
    hover_.reset();
    emit viewChanged();
    update();
}

void Viewport::showOnlyPart(std::size_t part) {
    const auto& s = view_->subject();
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
    if (!drawable() || !begin())
        return png;
    QImage image = draw(true).mirrored(); // what is kept is whole
    context_->doneCurrent();
    const auto kept = std::exchange(hover_, std::nullopt);
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
