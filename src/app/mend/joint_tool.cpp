#include "app/mend/joint_tool.h"

#include "app/theme.h"
#include "core/measure/limb_middle.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace hobble {

namespace {

constexpr double kSnap = 9; // pixels from the middle of the limb within which it goes there

} // namespace

JointTool::JointTool(Viewport* viewport, MendDesk* mend)
    : ViewportTool(viewport), viewport_(viewport), mend_(mend) {
    viewport->addTool(this);
    connect(viewport->view(), &PoseView::frameReady, this, &JointTool::measure);
    connect(viewport->view(), &PoseView::subjectChanged, this, [this] {
        grasped_ = false;
        middleOf_ = {};
        measure();
    });
    connect(mend, &MendDesk::trialChanged, this, &JointTool::measure);
}

void JointTool::setStep(int step) {
    step_ = step;
    grasped_ = false;
    measure();
}

const Step* JointTool::step() const {
    const auto& steps = mend_->trial().steps;
    if (step_ < 0 || static_cast<std::size_t>(step_) >= steps.size())
        return nullptr;
    const Step& s = steps[static_cast<std::size_t>(step_)];
    return s.on && (s.kind == StepKind::Pivot || s.kind == StepKind::Helper) ? &s : nullptr;
}

// What hangs from no joint stays where it is in every pose.
void JointTool::measure() {
    carried_ = Transform::Identity();
    viewport_->update();
    const Step* s = step();
    const auto& subject = viewport_->view()->subject();
    if (!s || !subject || !mend_->build()) {
        middleOf_ = {};
        middle_.reset();
        return;
    }
    const Skeleton& skeleton = subject->character->skeleton;
    const int joint = skeleton.find(s->joint);
    if (joint < 0)
        return;
    const int named = s->kind == StepKind::Helper && !s->to.empty() ? skeleton.find(s->to) : -1;
    const int above = named >= 0 ? named : skeleton.parent[static_cast<std::size_t>(joint)];
    carried_ = viewport_->view()->carriedBy(above);
    // The flesh is the build's: what a joint that was moved blends about stays where it is.
    const MiddleOf asked{mend_->build(), mend_->build()->character->skeleton.find(s->joint),
                         grasped_ ? from_ : s->at};
    if (asked == middleOf_) // a pose changes nothing about it
        return;
    middleOf_ = asked;
    middle_ = asked.joint < 0 ? std::nullopt : limbMiddle(*asked.build, asked.joint, asked.place);
}

Vec3d JointTool::posed(const Vec3d& neutral) const { return carried_ * neutral; }

std::optional<QPointF> JointTool::handle() const {
    const Step* s = step();
    if (!s || !viewport_->view()->frame())
        return std::nullopt;
    return viewport_->project(posed(grasped_ ? at_ : s->at));
}

std::optional<QPointF> JointTool::middle() const {
    if (!step() || !middle_ || !viewport_->view()->frame())
        return std::nullopt;
    return viewport_->project(posed(*middle_));
}

bool JointTool::press(QMouseEvent* e) {
    const auto at = handle();
    if (!at || !grasps(*at, e->position()))
        return false;
    grasped_ = true;
    snapped_ = false;
    pressed_ = e->position();
    from_ = at_ = step()->at;
    return true;
}

// Across the view; into the middle of the limb, in depth as well, where the pointer comes near it.
void JointTool::moveTo(const QPointF& at) {
    at_ = from_ + carried_.linear().inverse() * viewport_->dragged(posed(from_), pressed_, at);
    const auto centre = middle();
    snapped_ = centre && pixelsBetween(*centre, at) < kSnap;
    if (snapped_)
        at_ = *middle_;
    viewport_->update();
}

void JointTool::move(QMouseEvent* e) {
    if (!grasped_ || !step())
        return;
    moveTo(e->position());
    mend_->previewJointAt(step_, at_);
}

void JointTool::release(QMouseEvent* e) {
    if (!grasped_)
        return;
    if (step()) {
        moveTo(e->position());
        grasped_ = false;
        if ((at_ - from_).norm() > 1e-6)
            mend_->setJointAt(step_, at_);
        else
            mend_->dropPreview();
    }
    grasped_ = false;
    measure();
}

void JointTool::paintOver(QPainter& p) {
    const auto at = handle();
    if (!at)
        return;
    const Theme& t = Theme::current();
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    if (const auto centre = middle(); centre && pixelsBetween(*centre, *at) > 1.5) {
        // the middle of the flesh, to be dropped into
        p.setPen(QPen(t.accent, 1.2, Qt::DotLine));
        p.drawLine(*at, *centre);
        p.setPen(QPen(t.accent, 1.6));
        p.drawLine(*centre - QPointF(5, 0), *centre + QPointF(5, 0));
        p.drawLine(*centre - QPointF(0, 5), *centre + QPointF(0, 5));
    }
    if (grasped_) {
        const QPointF was = viewport_->project(posed(from_));
        p.setPen(QPen(t.muted, 1.2));
        p.drawLine(was, *at);
        p.drawEllipse(was, 3, 3);
    }
    const double half = grasped_ ? 8 : 6.5;
    p.setPen(QPen(t.paper, 4));
    p.drawRect(QRectF(at->x() - half, at->y() - half, 2 * half, 2 * half));
    p.setPen(QPen(t.accent, 2));
    p.drawRect(QRectF(at->x() - half, at->y() - half, 2 * half, 2 * half));
    p.setBrush(t.accent);
    p.drawEllipse(*at, 1.8, 1.8);
    p.restore();
    if (grasped_) {
        const QString moved = tr("%L1 mm from where it was").arg(1000 * (at_ - from_).norm(), 0, 'f', 1);
        viewport_->paintWordsAt(p, *at + QPointF(14, -10),
                                snapped_ ? tr("in the middle of the limb, %1").arg(moved) : moved);
    }
}

} // namespace hobble
