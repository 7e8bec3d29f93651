// Posing on the Plan page: the arcs of the joint in hand with their handles, the ends that can be dragged,
// and what the feet stand on.
#include "app/plan/range_arcs.h"
#include "app/review/viewport.h"
#include "app/session/plan_desk.h"
#include "app/theme.h"

#include <QPainter>

#include <cmath>

namespace hobble {

namespace {

const QColor kAxis[] = {QColor(0x0f7a5e), QColor(0x1c5d8c), QColor(0x8f5a05)}; // bend, side, roll
constexpr double kReach = 11; // pixels from a handle's middle that still grasp it

double distance(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

} // namespace

std::vector<RangeArc> Viewport::arcs() const {
    PlanDesk* desk = session_->desk();
    const auto s = session_->subject();
    if (!s || desk->joint() < 0 || desk->pose().turn.size() != s->character->skeleton.name.size())
        return {};
    auto out = rangeArcs(*s->character, s->roles, desk->ranges(), desk->pose(),
                         worldTransforms(s->character->skeleton, desk->pose()), desk->joint());
    for (RangeArc& arc : out) // the end in hand
        if (posing_.kind == Posing::Kind::RangeEnd && arc.axis == posing_.axis)
            (posing_.most ? arc.most : arc.least) = posing_.degrees;
    return out;
}

Vec3d Viewport::rayAt(const QPointF& at) const {
    const QVector3D far = toClip().inverted().map(
        QVector3D(float(2 * at.x() / width() - 1), float(1 - 2 * at.y() / height()), 1));
    return (Vec3d(far.x(), far.y(), far.z()) - camera_.eye(body_)).normalized();
}

// The angle whose place on the arc is nearest to the pointer; of two equally near, the one nearer to `from`.
double Viewport::angleNear(const RangeArc& arc, const QPointF& at, double from, double least,
                           double most) const {
    double best = from, nearest = 1e30;
    for (double a = least; a <= most; a += 1) {
        const double d = distance(project(arc.at(a)), at) + 0.15 * std::abs(a - from);
        if (d < nearest) {
            nearest = d;
            best = a;
        }
    }
    return best;
}

bool Viewport::posingPress(const QPointF& at) {
    PlanDesk* desk = session_->desk();
    const auto s = session_->subject();
    const auto f = seenFrame();
    if (!s || !f)
        return false;
    posing_ = {};
    posing_.start = desk->pose();
    posing_.startName = desk->poseName();
    double nearest = kReach;
    const auto grasp = [&](const QPointF& handle, Posing::Kind kind, int joint, int axis, bool most,
                           double degrees) {
        if (const double d = distance(handle, at); d < nearest) {
            nearest = d;
            posing_.kind = kind;
            posing_.joint = joint;
            posing_.axis = axis;
            posing_.most = most;
            posing_.degrees = degrees;
        }
    };
    const int joint = desk->joint();
    for (const RangeArc& arc : arcs()) {
        if (arc.hasMost)
            grasp(project(arc.at(arc.most)), Posing::Kind::RangeEnd, joint, arc.axis, true, arc.most);
        if (arc.hasLeast)
            grasp(project(arc.at(arc.least)), Posing::Kind::RangeEnd, joint, arc.axis, false, arc.least);
    }
    for (const RangeArc& arc : arcs())
        grasp(project(arc.at(arc.now)), Posing::Kind::Turn, joint, arc.axis, false, arc.now);
    for (int end : desk->ends())
        grasp(project(f->jointPosition[static_cast<std::size_t>(end)].cast<double>()), Posing::Kind::Drag,
              end, 0, false, 0);
    if (posing_.kind != Posing::Kind::None) {
        if (posing_.kind == Posing::Kind::Drag)
            desk->selectJoint(posing_.joint);
        return true;
    }
    return false;
}

void Viewport::posingMove(const QPointF& at) {
    PlanDesk* desk = session_->desk();
    const Subject& s = *session_->subject();
    posing_.moved |= distance(at, pressed_) > 2;
    if (!posing_.moved)
        return;
    switch (posing_.kind) {
    case Posing::Kind::RangeEnd:
        for (const RangeArc& arc : arcs())
            if (arc.axis == posing_.axis)
                posing_.degrees =
                    angleNear(arc, at, posing_.degrees, posing_.most ? 0 : -180, posing_.most ? 180 : 0);
        emit posingSaid(tr("planned to %1°").arg(std::abs(posing_.degrees), 0, 'f', 0));
        break;
    case Posing::Kind::Turn: {
        // a ball turns both ways under the pointer, a hinge one; by turns, until both are nearest
        Pose pose = desk->pose();
        for (int pass = 0; pass < 2; ++pass)
            for (const RangeArc& arc : arcs()) {
                if ((arc.axis == 2) != (posing_.axis == 2))
                    continue;
                const bool kept = desk->limitsKept();
                const double to = angleNear(arc, at, arc.now, kept ? arc.least : -179, kept ? arc.most : 179);
                pose = desk->turned(desk->pose(), posing_.joint, arc.axis, to);
                desk->preview(pose);
            }
        break;
    }
    case Posing::Kind::Drag: {
        // in the plane through the end that faces the eye
        const auto world = worldTransforms(s.character->skeleton, posing_.start);
        const Vec3d from = world[static_cast<std::size_t>(posing_.joint)].translation(),
                    eye = camera_.eye(body_), normal = camera_.direction(body_), ray = rayAt(at),
                    grasped = rayAt(pressed_);
        const auto meets = [&](const Vec3d& way) {
            return Vec3d(eye + way * ((from - eye).dot(normal) / way.dot(normal)));
        };
        const Reach reached = desk->dragged(posing_.start, posing_.joint, from + meets(ray) - meets(grasped));
        desk->preview(reached.pose);
        if (reached.reached) {
            emit posingSaid({});
        } else {
            QStringList stopped;
            for (int j : reached.atLimit)
                stopped << QString::fromStdString(s.character->skeleton.name[static_cast<std::size_t>(j)]);
            emit posingSaid(stopped.isEmpty()
                                ? tr("cannot reach by %1 cm").arg(100 * reached.farthest, 0, 'f', 1)
                                : tr("cannot reach by %1 cm: %2 at the end of its range")
                                      .arg(100 * reached.farthest, 0, 'f', 1)
                                      .arg(stopped.mid(0, 3).join(QStringLiteral(", "))));
        }
        break;
    }
    case Posing::Kind::None:
        break;
    }
    update();
}

void Viewport::posingRelease() {
    PlanDesk* desk = session_->desk();
    const Posing done = std::exchange(posing_, {});
    if (!done.moved) {
        desk->selectJoint(done.joint);
        return update();
    }
    if (done.kind == Posing::Kind::RangeEnd) {
        const JointRange& r = desk->ranges()[static_cast<std::size_t>(done.joint)];
        const int motion = (done.most ? r.mostMotion : r.leastMotion)[static_cast<std::size_t>(done.axis)];
        if (motion < 0)
            return;
        const Motion m = session_->plan().motions[static_cast<std::size_t>(motion)];
        double share = 1; // of a chain, each joint turns a part
        for (const JointTurn& t : m.turns)
            if (t.joint == done.joint)
                share = t.share;
        desk->setRange(m.id, std::abs(done.degrees) / std::max(share, 1e-6), bothSides_);
        return update();
    }
    const Pose end = desk->pose();
    desk->showPose(done.start, done.startName); // what an undo goes back to
    desk->setPose(end, done.kind == Posing::Kind::Turn ? tr("turn a joint") : tr("drag the pose"));
    update();
}

// Whichever joint with a range is nearest to the pointer, within reach of it.
int Viewport::posableNear(const QPointF& at) const {
    const auto f = seenFrame();
    const auto& ranges = session_->desk()->ranges();
    int best = -1;
    double nearest = 14;
    for (std::size_t j = 0; f && j < f->jointPosition.size() && j < ranges.size(); ++j)
        if (const double d = distance(project(f->jointPosition[j].cast<double>()), at);
            ranges[j].known && d < nearest) {
            nearest = d;
            best = static_cast<int>(j);
        }
    return best;
}

void Viewport::paintPosing(QPainter& p) {
    PlanDesk* desk = session_->desk();
    const auto f = seenFrame();
    const auto s = session_->subject();
    const Theme& t = Theme::current();
    const Skeleton& sk = s->character->skeleton;
    const auto at = [&](int j) {
        return project(f->jointPosition[static_cast<std::size_t>(j)].cast<double>());
    };
    const auto& ranges = desk->ranges();
    if (desk->balance().known) { // what it stands on
        QPolygonF support;
        for (const Vec3d& corner : desk->balance().support)
            support << project(corner);
        const QColor line = desk->balance().out > 0 ? t.blocking : QColor(0x0f7a5e);
        p.setPen(QPen(line, 1.2, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawPolygon(support);
        const QPointF centre = project(desk->balance().centre);
        p.setPen(QPen(line, 1.6));
        p.drawLine(centre - QPointF(6, 0), centre + QPointF(6, 0));
        p.drawLine(centre - QPointF(0, 6), centre + QPointF(0, 6));
    }
    if (shown_.skeleton) {
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
    for (int end : desk->ends()) {
        p.setPen(QPen(QColor(0x0f7a5e), 2));
        p.setBrush(desk->pinned(end) ? QBrush(QColor(15, 122, 94, 70)) : QBrush(Qt::NoBrush));
        p.drawEllipse(at(end), 9, 9);
    }
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
            line << project(arc.at(arc.least + (arc.most - arc.least) * i / 48));
        const double from = std::min(0.0, arc.now), to = std::max(0.0, arc.now);
        for (int i = 0; i <= 24; ++i)
            used << project(arc.at(from + (to - from) * i / 24));
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
            const QPointF end = project(arc.at(degrees));
            p.setPen(QPen(ink, 2));
            p.setBrush(QColor(0xfcfaf4));
            p.drawRect(QRectF(end - QPointF(5, 5), QSizeF(10, 10)));
            const double before = degrees + (degrees > 0 ? -12 : 12);
            label(end, project(arc.centre) + 0.6 * (project(arc.at(before)) - project(arc.centre)),
                  tr("%1°").arg(std::abs(degrees), 0, 'f', 0), ink);
        }
    }
    for (const RangeArc& arc : all) {
        if (arc.axis == 1 && all.front().axis == 0)
            continue; // one knob for bend and side: the bone's tip
        p.setPen(QPen(QColor(0xfcfaf4), 1.6));
        p.setBrush(kAxis[arc.axis]);
        p.drawEllipse(project(arc.at(arc.now)), 7, 7);
    }
    if (desk->joint() >= 0) {
        p.setPen(QPen(QColor(0x0f7a5e), 2.4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at(desk->joint()), 6, 6);
    }
}

} // namespace hobble
