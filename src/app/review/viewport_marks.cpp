// A patch of skin marked by hand, for what no rule found: with a brush, with a lasso, or the whole zone of a
// joint. Only skin that is seen is marked. Every stroke can be undone.
#include "app/review/viewport.h"
#include "app/session/log_command.h"

#include <cmath>

namespace hobble {

namespace {

// Whether a triangle's outer side is turned to the eye.
bool faces(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& eye) {
    return (b - a).cross(c - a).dot(eye - a) > 0;
}

} // namespace

void Viewport::setMarkTool(MarkTool tool) {
    markTool_ = tool;
    stroking_ = false;
    lasso_.clear();
    setCursor(tool == MarkTool::None ? Qt::ArrowCursor : Qt::CrossCursor);
    update();
    emit viewChanged();
}

void Viewport::setMarks(Marks marks) {
    marks_ = std::move(marks);
    marksStale_ = true;
    update();
    emit markedChanged();
}

// The change is made already.
void Viewport::pushMarks(Marks before, const QString& text) {
    if (before == marks_)
        return;
    const auto subject = session_->subject();
    const auto set = [this, subject](const Marks& marks) {
        return [this, subject, marks] {
            if (subject != session_->subject())
                return false; // of a character closed meanwhile
            setMarks(marks);
            return true;
        };
    };
    session_->undoStack().push(new LogCommand(text, set(marks_), set(before)));
    emit markedChanged();
}

std::vector<std::uint32_t> Viewport::marked() const {
    std::vector<std::uint32_t> out;
    const auto s = session_->subject();
    if (!s || marks_.empty())
        return out;
    for (std::uint32_t t = 0; t < s->surface.triangles.size(); ++t)
        if (marks_[s->surface.fileTriangle[t]])
            out.push_back(t);
    return out;
}

void Viewport::clearMarks() {
    Marks before = marks_;
    setMarks({});
    pushMarks(std::move(before), tr("clear what is marked"));
}

void Viewport::markRegion() {
    const auto s = session_->subject();
    const int joint = focus();
    if (!s || joint < 0)
        return;
    Marks before = marks_, now = marks_;
    now.resize(s->character->triangles.size(), 0);
    for (std::uint32_t t : s->zones[static_cast<std::size_t>(joint)].triangles)
        now[s->surface.fileTriangle[t]] = 1;
    setMarks(std::move(now));
    pushMarks(std::move(before), tr("mark the skin around the joint"));
}

void Viewport::brushAt(const QPointF& at, bool take) {
    const Hit hit = pick(at);
    if (!hit.found)
        return;
    const auto f = seenFrame();
    const Character& c = *f->subject->character;
    marks_.resize(c.triangles.size(), 0);
    const Vec3 eye = camera_.eye(body_).cast<float>(), middle = hit.point.cast<float>();
    const auto radius = static_cast<float>(brush_ * pixelAt((hit.point - camera_.eye(body_)).norm()));
    for (std::size_t t = 0; t < c.triangles.size(); ++t) {
        if (!triangleShown_[t])
            continue;
        const Vec3 &a = f->position[c.triangles[t][0]], &b = f->position[c.triangles[t][1]],
                   &d = f->position[c.triangles[t][2]];
        if (((a + b + d) / 3 - middle).norm() < radius && faces(a, b, d, eye))
            marks_[t] = !take;
    }
    marks_[hit.triangle] = !take; // however small the brush
    marksStale_ = true;
    emit markedChanged();
}

// What lies in the loop, faces the eye and is not hidden by nearer skin.
void Viewport::closeLasso(bool take) {
    const auto f = seenFrame();
    const QPolygonF loop = std::exchange(lasso_, {});
    if (!f || loop.size() < 3 || !ready_)
        return;
    const Character& c = *f->subject->character;
    marks_.resize(c.triangles.size(), 0);
    const QMatrix4x4 clip = toClip();
    if (!begin())
        return;
    const auto nearest = scene_.depth(clip, size());
    context_->doneCurrent();
    const QRectF around = loop.boundingRect();
    const Vec3 eye = camera_.eye(body_).cast<float>();
    for (std::size_t t = 0; t < c.triangles.size(); ++t) {
        if (!triangleShown_[t])
            continue;
        const Vec3 &a = f->position[c.triangles[t][0]], &b = f->position[c.triangles[t][1]],
                   &d = f->position[c.triangles[t][2]];
        if (!faces(a, b, d, eye))
            continue;
        const Vec3 middle = (a + b + d) / 3;
        const QVector3D n = clip.map(QVector3D(middle.x(), middle.y(), middle.z()));
        const QPointF at((n.x() + 1) / 2 * width(), (1 - n.y()) / 2 * height());
        if (!around.contains(at) || !loop.containsPoint(at, Qt::OddEvenFill))
            continue;
        const int x = std::clamp(static_cast<int>(at.x()), 0, width() - 1),
                  y = std::clamp(height() - 1 - static_cast<int>(at.y()), 0, height() - 1);
        const float depth = (n.z() + 1) / 2;
        if (depth <= nearest[static_cast<std::size_t>(y) * static_cast<std::size_t>(width()) +
                             static_cast<std::size_t>(x)] +
                         2e-4f)
            marks_[t] = !take;
    }
    marksStale_ = true;
}

} // namespace hobble
