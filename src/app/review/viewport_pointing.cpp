// What Intake points at on the character in neutral: the vertices of a check, and the joints with what they
// are taken for.
#include "app/review/viewport.h"
#include "app/theme.h"

#include <QPainter>

#include <cmath>

namespace hobble {

void Viewport::pointAt(int joint, const std::vector<std::pair<int, std::vector<std::uint32_t>>>& vertices) {
    const auto s = session_->subject();
    pointedJoint_ = joint;
    pointed_.clear();
    Marks marks;
    if (s && !vertices.empty()) {
        const Character& c = *s->character;
        std::vector<char> in(c.vertexCount(), 0);
        for (const auto& [part, list] : vertices)
            for (std::uint32_t v : list)
                in[c.parts[static_cast<std::size_t>(part)].firstVertex + v] = 1;
        for (std::uint32_t v = 0; v < in.size(); ++v)
            if (in[v])
                pointed_.push_back(v);
        marks.resize(c.triangles.size(), 0);
        for (std::size_t t = 0; t < marks.size(); ++t)
            marks[t] = in[c.triangles[t][0]] && in[c.triangles[t][1]] && in[c.triangles[t][2]];
    }
    setMarks(std::move(marks));
}

void Viewport::framePointed() {
    const auto s = session_->subject();
    const auto f = seenFrame();
    if (!s || !f)
        return;
    Camera front = camera_;
    front.yaw = 0.5;
    front.pitch = 0.12;
    if (pointed_.empty()) {
        if (pointedJoint_ >= 0)
            return frameJoint(pointedJoint_);
        settle();
        camera_.yaw = front.yaw;
        camera_.pitch = front.pitch;
        return frameAll(false);
    }
    // The place where most of them are: a few strays do not make the view wide.
    std::vector<float> along[3];
    Vec3 normal = Vec3::Zero();
    for (std::uint32_t v : pointed_) {
        for (int k = 0; k < 3; ++k)
            along[k].push_back(f->position[v][k]);
        normal += f->normal[v];
    }
    Vec3d low, high;
    for (int k = 0; k < 3; ++k) {
        std::sort(along[k].begin(), along[k].end());
        low[k] = static_cast<double>(along[k][along[k].size() / 20]);
        high[k] = static_cast<double>(along[k][along[k].size() - 1 - along[k].size() / 20]);
    }
    Camera c = easing_.state() == QAbstractAnimation::Running ? to_ : camera_;
    c.target = (low + high) / 2;
    const double extent = s->character->extent();
    c.distance = std::clamp(1.1 * (high - low).norm(), extent / 9, extent) /
                 std::tan(radians(Camera::kFieldOfView / 2));
    // from outside: the way the skin there faces, unless it faces all ways
    if (normal.norm() > 0.3f * static_cast<float>(pointed_.size())) {
        Vec3d look = normal.normalized().cast<double>();
        look += 0.3 * body_.forward;
        c.lookAlong(body_, look.normalized());
    } else {
        c.yaw = front.yaw;
        c.pitch = front.pitch;
    }
    setCamera(c, true);
    emit viewChanged();
}

void Viewport::setRolesShown(bool on) {
    rolesShown_ = on;
    update();
}

int Viewport::jointNear(const QPointF& at) const {
    const auto f = seenFrame();
    int best = -1;
    double nearest = 14;
    for (std::size_t j = 0; f && j < f->jointPosition.size(); ++j) {
        const QPointF d = project(f->jointPosition[j].cast<double>()) - at;
        if (std::hypot(d.x(), d.y()) < nearest) {
            nearest = std::hypot(d.x(), d.y());
            best = static_cast<int>(j);
        }
    }
    return best;
}

// Each vertex as a point, seen through the skin: what lies behind is no less at fault.
void Viewport::paintPointed(QPainter& p) {
    const auto f = seenFrame();
    if (showing_ != Showing::Neutral || !f)
        return;
    const std::size_t step = std::max<std::size_t>(1, pointed_.size() / 3000);
    const double r = pointed_.size() > 400 ? 1.4 : 2.4;
    p.setPen(QPen(Theme::current().viewport, 0.6));
    p.setBrush(QColor(0x8f4205));
    for (std::size_t i = 0; i < pointed_.size(); i += step)
        p.drawEllipse(project(f->position[pointed_[i]].cast<double>()), r, r);
    if (pointed_.size() == 1) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0x8f4205), 2));
        p.drawEllipse(project(f->position[pointed_[0]].cast<double>()), 11, 11);
    }
}

// A joint is full where its role is sure, half where it is a guess, empty where nothing is known.
void Viewport::paintRoles(QPainter& p) {
    const auto f = seenFrame();
    const auto s = session_->subject();
    if (!f || !s)
        return;
    const Skeleton& sk = s->character->skeleton;
    const QColor line(20, 60, 52, 150), sure(0x0f7a5e), paper(0xfcfaf4), open(0x8f4205);
    const auto at = [&](int j) {
        return project(f->jointPosition[static_cast<std::size_t>(j)].cast<double>());
    };
    p.setPen(QPen(line, 1.4));
    for (int j = 0; j < sk.size(); ++j)
        if (sk.parent[j] >= 0)
            p.drawLine(at(sk.parent[j]), at(j));
    for (int j = 0; j < sk.size(); ++j) {
        const JointRole& role = s->roles[static_cast<std::size_t>(j)];
        const bool known = role.role != Role::Unknown, chosen = j == pointedJoint_;
        const double r = chosen ? 6.5 : 4;
        p.setPen(QPen(known ? sure : open, chosen ? 2.4 : 1.4));
        p.setBrush(paper);
        p.drawEllipse(at(j), r, r);
        if (known && role.confidence > 0.25f) {
            p.setPen(Qt::NoPen);
            p.setBrush(sure);
            if (role.confidence >= 0.8f)
                p.drawEllipse(at(j), r - 0.5, r - 0.5);
            else
                p.drawPie(QRectF(at(j).x() - r + 1, at(j).y() - r + 1, 2 * r - 2, 2 * r - 2), -90 * 16,
                          180 * 16);
        }
    }
    if (pointedJoint_ < 0 || pointedJoint_ >= sk.size())
        return;
    const JointRole& role = s->roles[static_cast<std::size_t>(pointedJoint_)];
    const QString words =
        QStringLiteral("%1\n%2%3")
            .arg(QString::fromStdString(sk.name[static_cast<std::size_t>(pointedJoint_)]),
                 role.side == Side::Middle ? QString() : QLatin1String(nameOf(role.side)) + QLatin1Char(' '),
                 role.role == Role::Unknown ? tr("not known") : QString(QLatin1String(nameOf(role.role))));
    const Theme& t = Theme::current();
    p.setFont(typeface(0.92));
    QRectF box = p.fontMetrics()
                     .boundingRect(QRect(0, 0, px(320), px(200)), 0, words)
                     .toRectF()
                     .adjusted(-9, -5, 9, 5);
    box.moveTopLeft(at(pointedJoint_) + QPointF(12, 8));
    if (box.right() > width() - 6)
        box.moveRight(at(pointedJoint_).x() - 12);
    p.setPen(QPen(t.hairline, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 3, 3);
    p.setPen(t.ink);
    p.drawText(box.adjusted(9, 5, -9, -5), words);
}

} // namespace hobble
