#include "app/intake/pointing_tool.h"

#include "app/theme.h"
#include "app/words.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace hobble {

PointingTool::PointingTool(Viewport* viewport) : ViewportTool(viewport), viewport_(viewport) {
    viewport->addTool(this);
    connect(viewport->view(), &PoseView::subjectChanged, this, [this] {
        joint_ = -1;
        vertices_.clear();
    });
}

void PointingTool::pointAt(int joint,
                           const std::vector<std::pair<int, std::vector<std::uint32_t>>>& vertices) {
    const auto& s = viewport_->view()->subject();
    joint_ = joint;
    vertices_.clear();
    std::vector<char> marks;
    if (s && !vertices.empty()) {
        const Character& c = *s->character;
        std::vector<char> in(c.vertexCount(), 0);
        for (const auto& [part, list] : vertices)
            for (std::uint32_t v : list)
                in[c.parts[static_cast<std::size_t>(part)].firstVertex + v] = 1;
        for (std::uint32_t v = 0; v < in.size(); ++v)
            if (in[v])
                vertices_.push_back(v);
        marks.resize(c.triangles.size(), 0);
        for (std::size_t t = 0; t < marks.size(); ++t)
            marks[t] = in[c.triangles[t][0]] && in[c.triangles[t][1]] && in[c.triangles[t][2]];
    }
    viewport_->setMarked(std::move(marks));
    viewport_->view()->setJoint(joint);
}

void PointingTool::frame() {
    const auto& s = viewport_->view()->subject();
    const auto& f = viewport_->view()->frame();
    if (!s || !f)
        return;
    Camera front = viewport_->camera();
    front.yaw = 0.5;
    front.pitch = 0.12;
    if (vertices_.empty()) {
        if (joint_ >= 0)
            return viewport_->frameJoint(joint_);
        viewport_->setCamera(front, false);
        return viewport_->frameAll(false);
    }
    // The place where most of them are: a few strays do not make the view wide.
    std::vector<float> along[3];
    Vec3 normal = Vec3::Zero();
    for (std::uint32_t v : vertices_) {
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
    Camera c = viewport_->cameraToBe();
    c.target = (low + high) / 2;
    const double extent = s->character->extent();
    c.distance = std::clamp(1.1 * (high - low).norm(), extent / 9, extent) /
                 std::tan(radians(Camera::kFieldOfView / 2));
    // from outside: the way the skin there faces, unless it faces all ways
    if (normal.norm() > 0.3f * static_cast<float>(vertices_.size())) {
        Vec3d look = normal.normalized().cast<double>();
        look += 0.3 * viewport_->body().forward;
        c.lookAlong(viewport_->body(), look.normalized());
    } else {
        c.yaw = front.yaw;
        c.pitch = front.pitch;
    }
    viewport_->setCamera(c, true);
}

void PointingTool::setRolesShown(bool on) {
    rolesShown_ = on;
    viewport_->update();
}

bool PointingTool::click(QMouseEvent* e) {
    const int joint = rolesShown_ ? jointNear(e->position()) : -1;
    if (joint >= 0)
        emit jointPressed(joint);
    return joint >= 0;
}

void PointingTool::paintOver(QPainter& p) {
    paintPointed(p);
    if (rolesShown_)
        paintRoles(p);
}

int PointingTool::jointNear(const QPointF& at) const {
    const auto& f = viewport_->view()->frame();
    int best = -1;
    double nearest = 14;
    for (std::size_t j = 0; f && j < f->jointPosition.size(); ++j) {
        const QPointF d = viewport_->project(f->jointPosition[j].cast<double>()) - at;
        if (std::hypot(d.x(), d.y()) < nearest) {
            nearest = std::hypot(d.x(), d.y());
            best = static_cast<int>(j);
        }
    }
    return best;
}

// Each vertex as a point, seen through the skin: what lies behind is no less at fault.
void PointingTool::paintPointed(QPainter& p) {
    const auto& f = viewport_->view()->frame();
    if (!f)
        return;
    const std::size_t step = std::max<std::size_t>(1, vertices_.size() / 3000);
    const double r = vertices_.size() > 400 ? 1.4 : 2.4;
    p.setPen(QPen(Theme::current().viewport, 0.6));
    p.setBrush(QColor(0x8f4205));
    for (std::size_t i = 0; i < vertices_.size(); i += step)
        p.drawEllipse(viewport_->project(f->position[vertices_[i]].cast<double>()), r, r);
    if (vertices_.size() == 1) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0x8f4205), 2));
        p.drawEllipse(viewport_->project(f->position[vertices_[0]].cast<double>()), 11, 11);
    }
}

// A joint is full where its role is sure, half where it is a guess, empty where nothing is known.
void PointingTool::paintRoles(QPainter& p) {
    const auto& f = viewport_->view()->frame();
    const auto& s = viewport_->view()->subject();
    if (!f || !s)
        return;
    const Skeleton& sk = s->character->skeleton;
    const QColor line(20, 60, 52, 150), sure(0x0f7a5e), paper(0xfcfaf4), open(0x8f4205);
    const auto at = [&](int j) {
        return viewport_->project(f->jointPosition[static_cast<std::size_t>(j)].cast<double>());
    };
    p.setPen(QPen(line, 1.4));
    for (int j = 0; j < sk.size(); ++j)
        if (sk.parent[j] >= 0)
            p.drawLine(at(sk.parent[j]), at(j));
    for (int j = 0; j < sk.size(); ++j) {
        const JointRole& role = s->roles[static_cast<std::size_t>(j)];
        const bool known = role.role != Role::Unknown, chosen = j == joint_;
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
    if (joint_ < 0 || joint_ >= sk.size())
        return;
    const JointRole& role = s->roles[static_cast<std::size_t>(joint_)];
    const QString words =
        QStringLiteral("%1\n%2%3")
            .arg(QString::fromStdString(sk.name[static_cast<std::size_t>(joint_)]),
                 role.side == Side::Middle ? QString() : inWords(nameOf(role.side)) + QLatin1Char(' '),
                 role.role == Role::Unknown ? tr("not known") : inWords(nameOf(role.role)));
    viewport_->paintWordsAt(p, at(joint_), words);
}

} // namespace hobble
