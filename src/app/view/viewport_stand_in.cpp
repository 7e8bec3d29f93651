// A heavy character is drawn coarser while it, or the view, moves, and whole as soon as it rests. While the
// view moves the coarser mesh is drawn on the file's own vertices, so it has the pose, every colour and what
// is marked; pictures it is painted with and the smooth preview have vertices of their own and wait till it
// rests. While the pose changes it is posed by itself, as a character of a tenth of the vertices.
#include "app/view/viewport.h"
#include "picture/stand_in.h"

#include <QApplication>
#include <QPointer>
#include <QThreadPool>

namespace hobble {

void Viewport::makeStandIn() {
    standIn_.reset();
    standInShown_.clear();
    standInOwn_.clear();
    standInOf_ = nullptr;
    coarse_.reset();
    coarseNewer_ = drawnPosed_ = false;
    view_->setUnhurried(nullptr);
    const auto& s = view_->subject();
    if (!s || s->character->triangles.size() <= kHeavy)
        return;
    standInOf_ = s.get();
    QThreadPool::globalInstance()->start([me = QPointer(this), subject = s] {
        auto made = std::make_shared<const StandIn>(standInOf(*subject, kStandIn));
        QMetaObject::invokeMethod(
            qApp,
            [me, made, of = subject.get()] {
                if (!me || me->standInOf_ != of)
                    return;
                me->standIn_ = made;
                me->shownStale_ = true;
                me->coarse_ = std::make_unique<PoseView>();
                connect(me->coarse_.get(), &PoseView::frameReady, me, [me] {
                    if (me->coarseSettled_ == me->coarseAsked_) // the whole frame was there first
                        return;
                    me->coarseStale_ = me->coarseNewer_ = true;
                    me->update();
                });
                me->coarse_->setSubject(made->subject);
            },
            Qt::QueuedConnection);
    });
}

// Of other weights, or other places of joints, it is not the stand-in: then there is none to be posed.
void Viewport::poseStandIn() {
    if (!isVisible()) // another viewport may show the same view
        return;
    const bool can = coarse_ && standInOf_ == view_->subject().get() && shown_.ghost == Ghost::None;
    view_->setUnhurried(can ? standInOf_ : nullptr);
    if (!can)
        return;
    ++coarseAsked_;
    const AskedPose& asked = view_->asked();
    coarse_->setMethod(view_->method());
    coarse_->show({asked.pose, nullptr, asked.motion, asked.at, {}});
}

void Viewport::takeStandInShown() {
    const Character& c = *view_->subject()->character;
    standInShown_.clear();
    standInOwn_.clear();
    if (!standIn_)
        return;
    std::vector<char> shown(c.vertexCount(), 0);
    for (const Triangle& t : shownTriangles_)
        for (std::uint32_t v : t)
            shown[v] = 1;
    for (std::size_t i = 0; i < standIn_->triangles.size(); ++i)
        if (const Triangle& t = standIn_->triangles[i]; shown[t[0]] && shown[t[1]] && shown[t[2]]) {
            standInShown_.push_back(t);
            standInOwn_.push_back(standIn_->subject->character->triangles[i]);
        }
    coarseStale_ = true;
}

bool Viewport::standsIn() const { return rest_.isActive() && !standInShown_.empty(); }

bool Viewport::standInPosed() const {
    return coarseNewer_ && coarse_ && coarse_->frame() && !standInOwn_.empty() && !shownStale_;
}

void Viewport::takeStandIn() {
    if (!coarseReady_)
        coarseReady_ = coarseScene_.initialise();
    coarseStale_ = false;
    const PosedFrame& f = *coarse_->frame();
    const auto ofFile = [&](const auto& values, auto& out) {
        for (std::uint32_t v : standIn_->fileVertex)
            out.push_back(values[v]);
    };
    std::vector<float> values;
    if (!kindOf(colouring_))
        values = skinValuesFor(colouring_, f, nullptr, weightJoint());
    else if (!values_.empty()) // what takes longer keeps its colours till it is measured
        ofFile(values_, values);
    std::vector<Vec3> rgb = coloursOf(*f.subject->character, values);
    if (painted_ && colouring_ == Colouring::Own) {
        std::vector<Vec3> paint;
        ofFile(painted_->vertexPaint, paint);
        for (std::size_t v = 0; v < rgb.size(); ++v)
            rgb[v] = rgb[v].cwiseProduct(paint[v]);
    }
    coarseScene_.setShown(standInOwn_);
    coarseScene_.setFrame(f.position, f.normal);
    coarseScene_.setColours(rgb);
}

} // namespace hobble
