#include "app/view/marking_tool.h"

#include "app/session/undo_command.h"
#include "app/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QUndoStack>

#include <cmath>

#include <algorithm>

namespace hobble {

namespace {

// Whether a triangle's outer side is turned to the eye.
bool faces(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& eye) {
    return (b - a).cross(c - a).dot(eye - a) > 0;
}

} // namespace

MarkingTool::MarkingTool(Viewport* viewport, QUndoStack* undo)
    : ViewportTool(viewport), viewport_(viewport), undo_(undo) {
    viewport->addTool(this);
    connect(viewport->view(), &PoseView::subjectChanged, this, [this] {
        marks_.clear();
        setTool(MarkTool::None);
        emit markedChanged();
    });
}

void MarkingTool::setTool(MarkTool tool) {
    tool_ = tool;
    lasso_.clear();
    viewport_->setCursor(tool == MarkTool::None ? Qt::ArrowCursor : Qt::CrossCursor);
    viewport_->update();
    emit toolChanged();
}

void MarkingTool::setMarks(Marks marks) {
    marks_ = std::move(marks);
    viewport_->setMarked(marks_);
    emit markedChanged();
}

// The change is made already.
void MarkingTool::pushMarks(Marks before, const QString& text) {
    if (before == marks_)
        return;
    const auto subject = viewport_->view()->subject();
    const auto set = [this, subject](const Marks& marks) {
        return [this, subject, marks] {
            const auto& now = viewport_->view()->subject(); // a trial's steps leave the mesh as it is
            if (!subject || !now || !subject->character->triangles.sharesWith(now->character->triangles))
                return false; // of a character closed meanwhile
            setMarks(marks);
            return true;
        };
    };
    undo_->push(new UndoCommand(text, set(marks_), set(before)));
    emit markedChanged();
}

std::vector<std::uint32_t> MarkingTool::marked() const {
    std::vector<std::uint32_t> out;
    const auto& s = viewport_->view()->subject();
    if (!s || marks_.empty())
        return out;
    for (std::uint32_t t = 0; t < s->surface.triangles.size(); ++t)
        if (marks_[s->surface.fileTriangle[t]])
            out.push_back(t);
    return out;
}

void MarkingTool::clear() {
    Marks before = marks_;
    setMarks({});
    pushMarks(std::move(before), tr("clear what is marked"));
}

void MarkingTool::markRegion() {
    const auto& s = viewport_->view()->subject();
    const int joint = viewport_->view()->joint();
    if (!s || joint < 0)
        return;
    Marks before = marks_, now = marks_;
    now.resize(s->character->triangles.size(), 0);
    for (std::uint32_t t : s->zones[static_cast<std::size_t>(joint)].triangles)
        now[s->surface.fileTriangle[t]] = 1;
    setMarks(std::move(now));
    pushMarks(std::move(before), tr("mark the skin around the joint"));
}

void MarkingTool::mark(const std::vector<std::uint32_t>& triangles) {
    const auto& s = viewport_->view()->subject();
    if (!s)
        return;
    Marks before = marks_, now = marks_;
    now.resize(s->character->triangles.size(), 0);
    for (std::uint32_t t : triangles)
        if (t < s->surface.fileTriangle.size())
            now[s->surface.fileTriangle[t]] = 1;
    setMarks(std::move(now));
    pushMarks(std::move(before), tr("mark skin"));
}

// A triangle is added where a corner is marked, and taken where a corner is not.
void MarkingTool::ring(bool more, const QString& text) {
    const auto& s = viewport_->view()->subject();
    const auto on = marked();
    if (!s || on.empty())
        return;
    const Surface& f = s->surface;
    std::vector<char> isOn(f.triangles.size(), 0), corner(f.vertexCount(), 0);
    for (std::uint32_t t : on)
        isOn[t] = 1;
    for (std::uint32_t t = 0; t < f.triangles.size(); ++t)
        if ((isOn[t] != 0) == more)
            for (std::uint32_t v : f.triangles[t])
                corner[v] = 1;
    Marks before = marks_, now = marks_;
    now.resize(s->character->triangles.size(), 0);
    for (std::uint32_t t = 0; t < f.triangles.size(); ++t)
        if (std::any_of(f.triangles[t].begin(), f.triangles[t].end(),
                        [&](std::uint32_t v) { return corner[v] != 0; }))
            now[f.fileTriangle[t]] = more;
    setMarks(std::move(now));
    pushMarks(std::move(before), text);
}

void MarkingTool::grow() { ring(true, tr("mark a ring more")); }
void MarkingTool::shrink() { ring(false, tr("mark a ring less")); }

void MarkingTool::markPiece() {
    const auto& s = viewport_->view()->subject();
    if (!s)
        return;
    const Surface& f = s->surface;
    std::vector<char> piece(f.shellCount, 0);
    for (std::uint32_t t : marked())
        piece[f.shellOf[f.triangles[t][0]]] = 1;
    std::vector<std::uint32_t> all;
    for (std::uint32_t t = 0; t < f.triangles.size(); ++t)
        if (piece[f.shellOf[f.triangles[t][0]]])
            all.push_back(t);
    mark(all);
}

bool MarkingTool::press(QMouseEvent* e) {
    if (tool_ == MarkTool::None)
        return false;
    const bool lasso = tool_ == MarkTool::Lasso;
    if (!lasso && !viewport_->pick(e->position()))
        return false; // beside the character the view is turned, as ever
    strokeFrom_ = marks_;
    if (lasso)
        lasso_ = QPolygonF({e->position()});
    else
        brushAt(e->position(), e->modifiers() & Qt::ControlModifier);
    return true;
}

void MarkingTool::move(QMouseEvent* e) {
    if (tool_ == MarkTool::Lasso)
        lasso_ << e->position();
    else
        brushAt(e->position(), e->modifiers() & Qt::ControlModifier);
}

void MarkingTool::release(QMouseEvent* e) {
    if (tool_ == MarkTool::Lasso)
        closeLasso(e->modifiers() & Qt::ControlModifier);
    pushMarks(std::exchange(strokeFrom_, {}), tr("mark skin"));
}

void MarkingTool::brushAt(const QPointF& at, bool take) {
    const auto hit = viewport_->pick(at);
    if (!hit)
        return;
    const auto& f = viewport_->view()->frame();
    const Character& c = *f->subject->character;
    marks_.resize(c.triangles.size(), 0);
    const Vec3 eye = viewport_->eye().cast<float>(), middle = hit->point.cast<float>();
    const auto radius =
        static_cast<float>(brush_ * viewport_->pixelAt((hit->point - viewport_->eye()).norm()));
    for (std::size_t t = 0; t < c.triangles.size(); ++t) {
        if (!viewport_->triangleShown(t))
            continue;
        const Vec3 &a = f->position[c.triangles[t][0]], &b = f->position[c.triangles[t][1]],
                   &d = f->position[c.triangles[t][2]];
        if (((a + b + d) / 3 - middle).norm() < radius && faces(a, b, d, eye))
            marks_[t] = !take;
    }
    marks_[hit->triangle] = !take; // however small the brush
    setMarks(std::move(marks_));
}

// What lies in the loop, faces the eye and is not hidden by nearer skin.
void MarkingTool::closeLasso(bool take) {
    const QPolygonF loop = std::exchange(lasso_, {});
    if (loop.size() < 3)
        return;
    const auto sight = viewport_->sight();
    if (!sight)
        return;
    const auto& f = viewport_->view()->frame();
    const Character& c = *f->subject->character;
    marks_.resize(c.triangles.size(), 0);
    const QRectF around = loop.boundingRect();
    const Vec3 eye = viewport_->eye().cast<float>();
    for (std::size_t t = 0; t < c.triangles.size(); ++t) {
        if (!viewport_->triangleShown(t))
            continue;
        const Vec3 &a = f->position[c.triangles[t][0]], &b = f->position[c.triangles[t][1]],
                   &d = f->position[c.triangles[t][2]];
        if (!faces(a, b, d, eye))
            continue;
        const auto at = sight->of((a + b + d) / 3);
        if (at && around.contains(*at) && loop.containsPoint(*at, Qt::OddEvenFill))
            marks_[t] = !take;
    }
    setMarks(std::move(marks_));
}

void MarkingTool::paintOver(QPainter& p) {
    if (tool_ == MarkTool::None)
        return;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(Theme::current().viewportInk, 1.4));
    if (tool_ == MarkTool::Lasso)
        p.drawPolyline(lasso_);
    else if (viewport_->underMouse())
        p.drawEllipse(viewport_->pointer(), brush_, brush_);
}

} // namespace hobble
