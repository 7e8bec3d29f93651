#include "app/plan/posing_tool.h"

#include "app/session/plan_desk.h"
#include "app/session/pose_desk.h"
#include "app/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace hobble {

namespace {

const QColor kAxis[] = {QColor(0x0f7a5e), QColor(0x1c5d8c), QColor(0x8f5a05)}; // bend, side, roll
constexpr double kReach = 11; // pixels from a handle's middle that still grasp it

double distance(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

} // namespace

PosingTool::PosingTool(Viewport* viewport, PoseDesk* pose, PlanDesk* plan)
    : ViewportTool(viewport), viewport_(viewport), pose_(pose), plan_(plan) {
    viewport->addTool(this);
    for (auto signal : {&PoseDesk::jointChanged, &PoseDesk::rangesChanged})
        connect(pose, signal, viewport, qOverload<>(&Viewport::update));
}

std::vector<RangeArc> PosingTool::arcs() const {
    const auto& s = viewport_->view()->subject();
    if (!s || pose_->joint() < 0 || pose_->pose().turn.size() != s->character->skeleton.name.size())
        return {};
    auto out = rangeArcs(*s->character, s->roles, pose_->ranges(), pose_->pose(),
                         worldTransforms(s->character->skeleton, pose_->pose()), pose_->joint());
    for (RangeArc& arc : out) // the end in hand
        if (grasp_.kind == Grasp::Kind::RangeEnd && arc.axis == grasp_.axis)
            (grasp_.most ? arc.most : arc.least) = grasp_.degrees;
    return out;
}

// The angle whose place on the arc is nearest to the pointer; of two equally near, the one nearer to `from`.
double PosingTool::angleNear(const RangeArc& arc, const QPointF& at, double from, double least,
                             double most) const {
    double best = from, nearest = 1e30;
    for (double a = least; a <= most; a += 1) {
        const double d = distance(viewport_->project(arc.at(a)), at) + 0.15 * std::abs(a - from);
        if (d < nearest) {
            nearest = d;
            best = a;
        }
    }
    return best;
}

bool PosingTool::press(QMouseEvent* e) {
    const QPointF at = e->position();
    const auto& f = viewport_->view()->frame();
    grasp_ = {};
    grasp_.start = pose_->pose();
    grasp_.startName = pose_->poseName();
    grasp_.pressed = at;
    double nearest = kReach;
    const auto grasp = [&](const QPointF& handle, Grasp::Kind kind, int joint, int axis, bool most,
                           double degrees) {
        if (const double d = distance(handle, at); d < nearest) {
            nearest = d;
            grasp_.kind = kind;
            grasp_.joint = joint;
            grasp_.axis = axis;
            grasp_.most = most;
            grasp_.degrees = degrees;
        }
    };
    const int joint = pose_->joint();
    for (const RangeArc& arc : arcs()) {
        if (arc.hasMost)
            grasp(viewport_->project(arc.at(arc.most)), Grasp::Kind::RangeEnd, joint, arc.axis, true,
                  arc.most);
        if (arc.hasLeast)
            grasp(viewport_->project(arc.at(arc.least)), Grasp::Kind::RangeEnd, joint, arc.axis, false,
                  arc.least);
    }
    for (const RangeArc& arc : arcs())
        grasp(viewport_->project(arc.at(arc.now)), Grasp::Kind::Turn, joint, arc.axis, false, arc.now);
    for (int end : pose_->ends())
        grasp(viewport_->project(f->jointPosition[static_cast<std::size_t>(end)].cast<double>()),
              Grasp::Kind::Drag, end, 0, false, 0);
    if (grasp_.kind == Grasp::Kind::Drag)
        pose_->selectJoint(grasp_.joint);
    return grasp_.kind != Grasp::Kind::None;
}

void PosingTool::move(QMouseEvent* e) { moveTo(e->position()); }

void PosingTool::moveTo(const QPointF& at) {
    grasp_.moved |= distance(at, grasp_.pressed) > 2;
    if (!grasp_.moved)
        return;
    switch (grasp_.kind) {
    case Grasp::Kind::RangeEnd:
        for (const RangeArc& arc : arcs())
            if (arc.axis == grasp_.axis)
                grasp_.degrees =
                    angleNear(arc, at, grasp_.degrees, grasp_.most ? 0 : -180, grasp_.most ? 180 : 0);
        emit said(tr("planned to %1°").arg(std::abs(grasp_.degrees), 0, 'f', 0));
        break;
    case Grasp::Kind::Turn:
        turnTo(at);
        break;
    case Grasp::Kind::Drag:
        dragTo(at);
        break;
    case Grasp::Kind::None:
        break;
    }
}

// A ball turns both ways under the pointer, a hinge one; by turns, until both are nearest.
void PosingTool::turnTo(const QPointF& at) {
    for (int pass = 0; pass < 2; ++pass)
        for (const RangeArc& arc : arcs()) {
            if ((arc.axis == 2) != (grasp_.axis == 2))
                continue;
            const bool kept = pose_->limitsKept();
            const double to = angleNear(arc, at, arc.now, kept ? arc.least : -179, kept ? arc.most : 179);
            pose_->preview(pose_->turned(pose_->pose(), grasp_.joint, arc.axis, to));
        }
}

// In the plane through the end that faces the eye.
void PosingTool::dragTo(const QPointF& at) {
    const Skeleton& skeleton = viewport_->view()->subject()->character->skeleton;
    const auto world = worldTransforms(skeleton, grasp_.start);
    const Vec3d from = world[static_cast<std::size_t>(grasp_.joint)].translation(), eye = viewport_->eye(),
                normal = viewport_->camera().direction(viewport_->body());
    const auto meets = [&](const Vec3d& way) {
        return Vec3d(eye + way * ((from - eye).dot(normal) / way.dot(normal)));
    };
    const Reach reached =
        pose_->dragged(grasp_.start, grasp_.joint,
                       from + meets(viewport_->rayAt(at)) - meets(viewport_->rayAt(grasp_.pressed)));
    pose_->preview(reached.pose);
    if (reached.reached)
        return void(emit said({}));
    QStringList stopped;
    for (int j : reached.atLimit)
        stopped << QString::fromStdString(skeleton.name[static_cast<std::size_t>(j)]);
    emit said(stopped.isEmpty() ? tr("cannot reach by %L1 cm").arg(100 * reached.farthest, 0, 'f', 1)
                                : tr("cannot reach by %L1 cm: %2 at the end of its range")
                                      .arg(100 * reached.farthest, 0, 'f', 1)
                                      .arg(stopped.mid(0, 3).join(QStringLiteral(", "))));
}

void PosingTool::release(QMouseEvent* e) {
    moveTo(e->position()); // where the hand let go, and not where it was last heard of
    const Grasp done = std::exchange(grasp_, {});
    if (!done.moved)
        return pose_->selectJoint(done.joint);
    if (done.kind == Grasp::Kind::RangeEnd) {
        const JointRange& r = pose_->ranges()[static_cast<std::size_t>(done.joint)];
        const int motion = (done.most ? r.mostMotion : r.leastMotion)[static_cast<std::size_t>(done.axis)];
        if (motion < 0)
            return;
        const Motion m = plan_->plan().motions[static_cast<std::size_t>(motion)];
        double share = 1; // of a chain, each joint turns a part
        for (const JointTurn& t : m.turns)
            if (t.joint == done.joint)
                share = t.share;
        return plan_->setRange(m.id, std::abs(done.degrees) / std::max(share, 1e-6), bothSides_);
    }
    const Pose end = pose_->pose();
    pose_->showPose(done.start, done.startName); // what an undo goes back to
    pose_->setPose(end, done.kind == Grasp::Kind::Turn ? tr("turn a joint") : tr("drag the pose"));
}

bool PosingTool::click(QMouseEvent* e) {
    const int joint = posableNear(e->position());
    if (joint >= 0)
        pose_->selectJoint(joint);
    return joint >= 0;
}

// Whichever joint with a range is nearest to the pointer, within reach of it.
int PosingTool::posableNear(const QPointF& at) const {
    const auto& f = viewport_->view()->frame();
    const auto& ranges = pose_->ranges();
    int best = -1;
    double nearest = 14;
    for (std::size_t j = 0; f && j < f->jointPosition.size() && j < ranges.size(); ++j)
        if (const double d = distance(viewport_->project(f->jointPosition[j].cast<double>()), at);
            ranges[j].known && d < nearest) {
            nearest = d;
            best = static_cast<int>(j);
        }
    return best;
}

void PosingTool::paintOver(QPainter& p) {
    paintBalance(p);
    paintJoints(p);
    paintArcs(p);
}

// What it stands on.
void PosingTool::paintBalance(QPainter& p) {
    if (!pose_->balance().known)
        return;
    QPolygonF support;
    for (const Vec3d& corner : pose_->balance().support)
        support << viewport_->project(corner);
    const QColor line = pose_->balance().out > 0 ? Theme::current().blocking : QColor(0x0f7a5e);
    p.setPen(QPen(line, 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolygon(support);
    const QPointF centre = viewport_->project(pose_->balance().centre);
    p.setPen(QPen(line, 1.6));
    p.drawLine(centre - QPointF(6, 0), centre + QPointF(6, 0));
    p.drawLine(centre - QPointF(0, 6), centre + QPointF(0, 6));
}

void PosingTool::paintJoints(QPainter& p) {
    const auto& s = viewport_->view()->subject();
    const Skeleton& sk = s->character->skeleton;
    const auto& ranges = pose_->ranges();
    const auto at = [&](int j) {
        return viewport_->project(
            viewport_->view()->frame()->jointPosition[static_cast<std::size_t>(j)].cast<double>());
    };
    if (viewport_->shown().skeleton) {
        p.setPen(QPen(QColor(20, 60, 52, 120), 1.2));
        for (int j = 0; j < sk.size(); ++j)
            if (const int parent = sk.parent[static_cast<std::size_t>(j)];
                parent >= 0 && s->roles[static_cast<std::size_t>(j)].movesSkin &&
                s->roles[static_cast<std::size_t>(parent)].role != Role::Root)
                p.drawLine(at(sk.parent[static_cast<std::size_t>(j)]), at(j));
        p.setPen(QPen(QColor(0x0f7a5e), 1.2));
        p.setBrush(QColor(0xfcfaf4));
        for (int j = 0; j < sk.size(); ++j)
            if (static_cast<std::size_t>(j) < ranges.size() && ranges[static_cast<std::size_t>(j)].known)
                p.drawEllipse(at(j), 3, 3);
    }
    for (int end : pose_->ends()) {
        p.setPen(QPen(QColor(0x0f7a5e), 2));
        p.setBrush(pose_->pinned(end) ? QBrush(QColor(15, 122, 94, 70)) : QBrush(Qt::NoBrush));
        p.drawEllipse(at(end), 9, 9);
    }
}

void PosingTool::paintArcs(QPainter& p) {
    const Theme& t = Theme::current();
    p.setFont(typeface(0.85, true));
    // outside the arc, so that two ends near each other keep apart
    const auto label = [&](const QPointF& where, const QPointF& centre, const QString& words,
                           const QColor& ink) {
        QRectF box = p.fontMetrics().boundingRect(words).toRectF().adjusted(-4, -2, 4, 2);
        const QPointF out = where - centre;
        const double length = std::max(std::hypot(out.x(), out.y()), 1.0);
        box.moveCenter(where + QPointF(26 * out.x() / length, 20 * out.y() / length));
        p.setPen(Qt::NoPen);
        p.setBrush(t.panel);
        p.drawRoundedRect(box, 3, 3);
        p.setPen(t.night ? ink.lighter(160) : ink);
        p.drawText(box, Qt::AlignCenter, words);
    };
    const auto all = arcs();
    for (const RangeArc& arc : all) {
        const QColor ink = kAxis[arc.axis];
        QPolygonF line, used;
        for (int i = 0; i <= 48; ++i)
            line << viewport_->project(arc.at(arc.least + (arc.most - arc.least) * i / 48));
        const double from = std::min(0.0, arc.now), to = std::max(0.0, arc.now);
        for (int i = 0; i <= 24; ++i)
            used << viewport_->project(arc.at(from + (to - from) * i / 24));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0xfcfaf4), 5, Qt::SolidLine, Qt::RoundCap));
        p.drawPolyline(line);
        p.setPen(QPen(ink, 2, Qt::SolidLine, Qt::RoundCap));
        p.drawPolyline(line);
        p.setPen(QPen(ink, 4.5, Qt::SolidLine, Qt::RoundCap));
        p.drawPolyline(used);
        for (const auto& [has, degrees] : {std::pair(arc.hasLeast, arc.least), {arc.hasMost, arc.most}}) {
            if (!has)
                continue;
            const QPointF end = viewport_->project(arc.at(degrees));
            p.setPen(QPen(ink, 2));
            p.setBrush(QColor(0xfcfaf4));
            p.drawRect(QRectF(end - QPointF(5, 5), QSizeF(10, 10)));
            const double before = degrees + (degrees > 0 ? -12 : 12);
            label(end,
                  viewport_->project(arc.centre) +
                      0.6 * (viewport_->project(arc.at(before)) - viewport_->project(arc.centre)),
                  tr("%1°").arg(std::abs(degrees), 0, 'f', 0), ink);
        }
    }
    for (const RangeArc& arc : all) {
        if (arc.axis == 1 && all.front().axis == 0)
            continue; // one knob for bend and side: the bone's tip
        p.setPen(QPen(QColor(0xfcfaf4), 1.6));
        p.setBrush(kAxis[arc.axis]);
        p.drawEllipse(viewport_->project(arc.at(arc.now)), 7, 7);
    }
    if (pose_->joint() >= 0) {
        p.setPen(QPen(QColor(0x0f7a5e), 2.4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(viewport_->project(viewport_->view()
                                             ->frame()
                                             ->jointPosition[static_cast<std::size_t>(pose_->joint())]
                                             .cast<double>()),
                      6, 6);
    }
}

} // namespace hobble
