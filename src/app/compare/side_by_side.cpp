#include "app/compare/side_by_side.h"

#include "app/theme.h"

#include <QLabel>
#include <QMouseEvent>
#include <QPainter>

namespace hobble {

// The seam's grip: dragged, or moved with the arrow keys while it has the focus.
class SideBySide::Handle : public QWidget {
public:
    explicit Handle(SideBySide* over) : QWidget(over), over_(over) {
        setCursor(Qt::SplitHCursor);
        setFocusPolicy(Qt::TabFocus);
        setObjectName(QStringLiteral("seam"));
        setAccessibleName(SideBySide::tr("Seam between the two"));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& t = Theme::current();
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const double x = width() / 2.0, y = height() / 2.0;
        p.setPen(QPen(t.viewportInk, hasFocus() ? 3 : 2));
        p.drawLine(QPointF(x, 0), QPointF(x, height()));
        p.setPen(QPen(t.ink, 1));
        p.setBrush(t.panel);
        p.drawRoundedRect(QRectF(x - 7, y - 18, 14, 36), 4, 4);
        for (double d : {-2.0, 2.0})
            p.drawLine(QPointF(x + d, y - 8), QPointF(x + d, y + 8));
    }
    void mouseMoveEvent(QMouseEvent* e) override {
        if (e->buttons() & Qt::LeftButton)
            over_->setSeam(mapToParent(e->position().toPoint()).x() / std::max(1.0, double(over_->width())));
    }
    void keyPressEvent(QKeyEvent* e) override {
        if (e->key() == Qt::Key_Left || e->key() == Qt::Key_Right)
            over_->setSeam(over_->seam() + (e->key() == Qt::Key_Left ? -0.05 : 0.05));
        else
            QWidget::keyPressEvent(e);
    }

private:
    SideBySide* over_;
};

void SpotTool::mark(std::optional<SkinPlace> place) {
    place_ = std::move(place);
    viewport_->update();
}

void SpotTool::paintOver(QPainter& p) {
    const auto& frame = viewport_->view()->frame();
    const auto& s = viewport_->view()->subject();
    if (!place_ || !frame || frame->subject != s || place_->triangle >= s->surface.triangles.size())
        return;
    const Triangle& f = s->surface.triangles[place_->triangle];
    Vec3d at = Vec3d::Zero();
    for (std::size_t k = 0; k < 3; ++k)
        at += place_->share[k] * frame->position[s->surface.representative(f[k])].cast<double>();
    const QPointF here = viewport_->project(at);
    const Theme& t = Theme::current();
    p.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(t.viewportInk, 4), QPen(t.ink, 1.6)}) {
        p.setPen(pen);
        p.drawEllipse(here, 9, 9);
        p.drawLine(here - QPointF(0, 4), here + QPointF(0, 4));
        p.drawLine(here - QPointF(4, 0), here + QPointF(4, 0));
    }
}

SideBySide::SideBySide(CompareDesk* compare, QWidget* parent) : QWidget(parent), compare_(compare) {
    setMinimumWidth(320);
    const std::array<PoseView*, 2> views{&compare->before(), &compare->now()};
    for (std::size_t s = 0; s < 2; ++s) {
        views_[s] = new Viewport(views[s], this);
        views_[s]->setObjectName(s ? QStringLiteral("nowView") : QStringLiteral("beforeView"));
        views_[s]->setEmptyWords({});
        spots_[s] = new SpotTool(views_[s]);
        names_[s] = new QLabel(this);
        names_[s]->setObjectName(s ? QStringLiteral("nowName") : QStringLiteral("beforeName"));
        names_[s]->setAttribute(Qt::WA_TransparentForMouseEvents);
        setType(names_[s], 0.95, true);
        connect(views_[s], &Viewport::viewChanged, this, [this, s] {
            leads_ = s;
            follow(s);
        });
        connect(views_[s], &Viewport::painted, this, [this, s] { // while it eases
            if (s == leads_)
                follow(s);
        });
        connect(views_[s], &Viewport::skinPressed, this, [this, s](std::uint32_t v) { press(s, v); });
        connect(views[s], &PoseView::frameReady, this, [this] { showDifference(); });
    }
    asides_.setMaxThreadCount(1);
    handle_ = new Handle(this);
    connect(compare, &CompareDesk::comparisonChanged, this, &SideBySide::take);
    connect(compare, &CompareDesk::poseChanged, this, &SideBySide::frameChange);
    take();
    layOut();
}

SideBySide::~SideBySide() { asides_.waitForDone(); }

void SideBySide::changeEvent(QEvent* e) {
    QWidget::changeEvent(e);
    if (e->type() == QEvent::StyleChange || e->type() == QEvent::FontChange)
        layOut();
}

void SideBySide::layOut() {
    const int w = width(), h = height(), middle = int(std::lround(seam_ * w));
    if (seamShown_) { // both as wide as all; the one above is cut off at the seam
        for (Viewport* v : views_)
            v->setGeometry(0, 0, w, h);
        views_[1]->setMask(QRegion(middle, 0, std::max(1, w - middle), h));
        views_[1]->raise();
    } else {
        views_[1]->clearMask();
        views_[0]->setGeometry(0, 0, w / 2, h);
        views_[1]->setGeometry(w / 2 + 1, 0, w - w / 2 - 1, h);
    }
    const bool any = compare_->comparison() != nullptr;
    for (std::size_t s = 0; s < 2; ++s) {
        const Theme& t = Theme::current();
        names_[s]->setStyleSheet(
            QStringLiteral("color: %1; background: %2; padding: 1px 6px; border-radius: 3px")
                .arg(t.viewportInk.name(), t.viewport.name()));
        names_[s]->adjustSize();
        names_[s]->setVisible(any);
        names_[s]->raise();
    }
    const int right = seamShown_ ? w : w / 2;
    names_[0]->move(12, 8);
    names_[1]->move(seamShown_ ? right - names_[1]->width() - 12 : w / 2 + 13, 8);
    handle_->setGeometry(middle - 10, 0, 20, h);
    handle_->setVisible(seamShown_ && any);
    handle_->raise();
}

void SideBySide::setSeamShown(bool on) {
    seamShown_ = on;
    layOut();
}

void SideBySide::setSeam(double share) {
    seam_ = std::clamp(share, 0.02, 0.98);
    layOut();
}

void SideBySide::setColouring(Colouring c) {
    for (Viewport* v : views_)
        v->setColouring(c);
}

Colouring SideBySide::colouring() const { return views_[1]->colouring(); }

// Of one body the camera is the same; of another it turns alike, and stands as far off as that body is large.
void SideBySide::follow(std::size_t side) {
    const auto c = compare_->comparison();
    if (following_ || !c || !views_[0]->view()->subject() || !views_[1]->view()->subject())
        return;
    following_ = true;
    const Camera& from = views_[side]->camera();
    Viewport* other = views_[1 - side];
    Camera to = from;
    if (c->mirrored()) {
        to.yaw = -from.yaw;
        to.target = c->sides[1].subject->mirror.mirrored(from.target);
    } else if (c->onBefore.by == PairedBy::Limbs) {
        const auto height = [&](std::size_t s) { return std::max(c->sides[s].subject->body.height, 1e-9); };
        to.distance = from.distance * height(1 - side) / height(side);
        to.target = other->camera().target;
        // the joint looked at keeps its place in the picture
        const auto at = [&](std::size_t s) -> std::optional<Vec3d> {
            const auto& f = views_[s]->view()->frame();
            const int j = views_[s]->view()->joint();
            return f && j >= 0 && static_cast<std::size_t>(j) < f->jointPosition.size()
                       ? std::optional<Vec3d>(f->jointPosition[static_cast<std::size_t>(j)].cast<double>())
                       : std::nullopt;
        };
        if (const auto mine = at(side), theirs = at(1 - side); mine && theirs) {
            const BodyFrame &a = views_[side]->body(), &b = views_[1 - side]->body();
            const Vec3d off = (from.target - *mine) * (height(1 - side) / height(side));
            to.target =
                *theirs + off.dot(a.left) * b.left + off.dot(a.up) * b.up + off.dot(a.forward) * b.forward;
        }
    } else if (!c->onBefore.joints.toOther.matrix().isIdentity(0)) {
        const Transform move = side == 1 ? c->onBefore.joints.toOther : c->onBefore.joints.toOther.inverse();
        to.target = move * from.target;
        to.distance = from.distance * (side == 1 ? c->onBefore.joints.scale : 1 / c->onBefore.joints.scale);
    }
    const Camera& is = other->camera();
    if (is.yaw != to.yaw || is.pitch != to.pitch || is.distance != to.distance || is.target != to.target)
        other->setCamera(to, false);
    following_ = false;
}

void SideBySide::take() {
    const auto c = compare_->comparison();
    names_[0]->setText(compare_->beforeName());
    names_[1]->setText(compare_->nowName());
    if (c != shownOf_) {
        shownOf_ = c;
        framed_.clear();
        for (SpotTool* spot : spots_)
            spot->mark({});
        if (c) {
            for (Viewport* v : views_)
                v->setLimits(c->sides[1].run->limits);
            views_[1]->frameAll(false);
            follow(1);
        }
        for (Viewport* v : views_)
            v->setMarked({});
    }
    layOut();
}

// The view goes to what a motion turns when another one is shown, and stays where it is along it.
void SideBySide::frameChange() {
    const Motion* m = compare_->motionShown();
    if (!m || compare_->joint() < 0 || framed_ == m->id)
        return;
    framed_ = m->id;
    const auto& s = compare_->now().subject();
    const Side of = s->roles[static_cast<std::size_t>(compare_->joint())].side;
    const Vec3d outward = of == Side::Right  ? Vec3d(-s->body.left)
                          : of == Side::Left ? s->body.left
                                             : Vec3d::Zero();
    // the skin that the worst finding there marks, of this build, or of the one before where it was worse
    // there; without one the joint
    leads_ = 1;
    std::vector<std::uint32_t> skin;
    int severity = 0;
    const Comparison& c = *compare_->comparison();
    const auto jointOn = [&](std::size_t side) {
        return side == 1 ? compare_->joint()
                         : c.onBefore.joints.other[static_cast<std::size_t>(compare_->joint())];
    };
    for (const std::size_t side : {std::size_t(1), std::size_t(0)}) {
        const RunResult& run = *c.sides[side].run;
        const int joint = jointOn(side), motion = run.plan.find(m->id);
        for (const Finding& f : run.findings)
            if (f.joint == joint && f.severity > severity &&
                std::count(f.motions.begin(), f.motions.end(), motion)) {
                severity = f.severity;
                skin = f.triangles;
                leads_ = side;
            }
        if (c.mirrored() || c.versus == Versus::Character)
            break;
    }
    views_[leads_]->frameOnceShown({jointOn(leads_)},
                                   (s->body.forward + 0.9 * outward + 0.15 * s->body.up).normalized(),
                                   std::move(skin));
}

void SideBySide::press(std::size_t side, std::uint32_t fileVertex) {
    const auto c = compare_->comparison();
    if (!c)
        return;
    const Subject& s = *c->sides[side].subject;
    const std::uint32_t welded = s.surface.weldOf[fileVertex];
    const auto& at = s.surface.trianglesAt;
    if (at.count(welded) == 0)
        return;
    SkinPlace here;
    here.triangle = *at.begin(welded);
    for (std::size_t k = 0; k < 3; ++k)
        here.share[k] = s.surface.triangles[here.triangle][k] == welded ? 1.f : 0.f;
    spots_[side]->mark(here);
    const Pairing& pairing = side == 1 ? c->onBefore : c->onNow;
    const SkinPlace there = welded < pairing.place.size() ? pairing.place[welded] : SkinPlace{};
    spots_[1 - side]->mark(there.there() ? std::optional(there) : std::nullopt);
    if (!there.there())
        views_[side]->setToolTip(tr("This place has no counterpart on the other side."));
    else
        views_[side]->setToolTip({});
}

void SideBySide::setDifferenceShown(bool on) {
    differenceShown_ = on;
    if (!on)
        for (Viewport* v : views_)
            v->setMarked({});
    showDifference();
}

// Skin that lies elsewhere in this very pose. A million vertices take their time: never the window's.
void SideBySide::showDifference() {
    const auto c = compare_->comparison();
    const auto a = compare_->now().frame(), b = compare_->before().frame();
    ++asked_;
    if (!c || !a || !b || a->subject != c->sides[1].subject || b->subject != c->sides[0].subject ||
        c->onBefore.by != PairedBy::SamePlace || !compare_->now().arrived() ||
        !compare_->before().arrived()) {
        differenceWords_.clear();
        return emit differenceChanged();
    }
    asides_.clear(); // of those that wait only the newest is of use
    asides_.start([this, c, a, b, asked = asked_] {
        const Subject &now = *c->sides[1].subject, &before = *c->sides[0].subject;
        auto d = skinDifference(now, weldedPositions(now.surface, a->position), before,
                                weldedPositions(before.surface, b->position), c->onBefore);
        QMetaObject::invokeMethod(this, [this, c, asked, d = std::move(d)] {
            if (asked == asked_ && c == compare_->comparison())
                tellDifference(d);
        });
    });
}

void SideBySide::tellDifference(const SkinDifference& d) {
    const Subject& now = *compare_->comparison()->sides[1].subject;
    differenceWords_ = d.beyond == 0
                           ? tr("In this pose the skin lies where it lay.")
                           : (d.beyond == 1 ? tr("In this pose one vertex lies elsewhere, by up to %1 mm.")
                                            : tr("In this pose %n vertices lie elsewhere, by up to %1 mm.",
                                                 nullptr, int(d.beyond)))
                                 .arg(1000 * d.farthest, 0, 'f', 0);
    if (differenceShown_) {
        const double counts = 0.001 * now.body.height;
        std::vector<char> marked(now.character->triangles.size(), 0);
        for (std::size_t t = 0; t < now.surface.triangles.size(); ++t)
            for (std::uint32_t v : now.surface.triangles[t])
                if (d.distance[v] > counts)
                    marked[now.surface.fileTriangle[t]] = 1;
        views_[1]->setMarked(std::move(marked));
    }
    emit differenceChanged();
}

} // namespace hobble
