#include "app/view/pose_view.h"

#include <algorithm>

namespace hobble {

namespace {

// A pose may know fewer joints than there are: those that were added since stay as they are.
bool posable(const Pose& pose, const Subject& subject) {
    const std::size_t joints = subject.character->skeleton.name.size();
    return pose.turn.size() <= joints && (joints == 0 || !pose.turn.empty());
}

} // namespace

PoseView::PoseView(QObject* parent) : QObject(parent) {
    connect(&worker_, &PoseWorker::posed, this, [this](std::shared_ptr<const PosedFrame> frame) {
        if (const auto came = std::find(coming_.begin(), coming_.end(), frame->subject);
            came != coming_.end()) {
            subject_ = *came;
            coming_.erase(coming_.begin(), came + 1);
        }
        if (frame->subject != subject_)
            return; // of a character closed meanwhile
        frame_ = std::move(frame);
        emit frameReady();
    });
    connect(&worker_, &PoseWorker::met, this,
            [this](std::shared_ptr<const PosedFrame> frame, std::shared_ptr<const PosedSkin> skin) {
                skin_ = {std::move(frame), std::move(skin)};
            });
    connect(&worker_, &PoseWorker::detailed, this, [this](std::shared_ptr<const PosedDetail> detail) {
        if (detail->frame != frame_)
            return;
        detail_ = std::move(detail);
        emit detailReady();
    });
}

PoseView::~PoseView() = default;

void PoseView::setSubject(std::shared_ptr<const Subject> subject, std::shared_ptr<const PosedFrame> first) {
    subject_ = std::move(subject);
    coming_.clear();
    frame_ = std::move(first);
    detail_.reset();
    skin_ = {};
    run_.reset();
    asked_ = {};
    joint_ = -1;
    emit subjectChanged();
    if (frame_) { // it is seen already; what points at it is still to be made
        asked_.pose = Pose::neutral(subject_->character->skeleton);
        request();
    }
}

void PoseView::exchange(std::shared_ptr<const Subject> subject) {
    if (!subject_ || !frame_ || !posable(asked_.pose, *subject))
        return setSubject(std::move(subject));
    if (subject == (coming_.empty() ? subject_ : coming_.back()))
        return;
    coming_.push_back(std::move(subject));
    request();
}

Transform PoseView::carriedBy(int joint) const {
    if (!subject_ || joint < 0 || asked_.pose.turn.size() != subject_->character->skeleton.name.size())
        return Transform::Identity();
    const auto j = static_cast<std::size_t>(joint);
    return drive(*subject_->character, asked_.pose).world[j] *
           subject_->character->skeleton.neutralWorld[j].inverse();
}

void PoseView::show(AskedPose asked) {
    asked_ = std::move(asked);
    emit poseChanged();
    request();
}

void PoseView::setMethod(Skinning method) {
    if (method == method_)
        return;
    method_ = method;
    request();
}

void PoseView::setWish(const FrameWish& wish) {
    if (wish == wish_)
        return;
    wish_ = wish;
    request();
}

void PoseView::setRun(std::shared_ptr<const RunResult> run) { run_ = std::move(run); }

void PoseView::setStore(MeasuredStore* store, const Floors& floors) {
    store_ = store;
    floors_ = floors;
}

std::shared_ptr<const PosedDetail> PoseView::detail() const {
    return detail_ && detail_->frame == frame_ ? detail_ : nullptr;
}

std::shared_ptr<const PosedSkin> PoseView::skin() const {
    if (!frame_ || (skin_.first == frame_ && skin_.second))
        return frame_ ? skin_.second : nullptr;
    // It is on its way; whoever presses before it has come waits only where that is not felt.
    constexpr std::size_t few = 100'000;
    const Surface& surface = frame_->subject->surface;
    if (surface.triangles.size() > few)
        return nullptr;
    skin_ = {frame_,
             std::make_shared<const PosedSkin>(posedSkin(surface, frame_->subject->tree, frame_->position))};
    return skin_.second;
}

bool PoseView::arrived() const {
    return frame_ && frame_->subject == subject_ && frame_->motion == asked_.motion &&
           frame_->at == asked_.at;
}

void PoseView::setJoint(int joint) {
    if (joint == joint_)
        return;
    joint_ = joint;
    emit jointChanged();
}

void PoseView::request() {
    if (!subject_ || !posable(asked_.pose, *subject_))
        return;
    PoseRequest r;
    r.subject = coming_.empty() ? subject_ : coming_.back();
    r.pose = asked_.pose;
    r.joints = asked_.joints;
    r.method = method_;
    r.motion = asked_.motion;
    r.at = asked_.at;
    r.wish = wish_;
    r.moved = asked_.moved;
    r.run = run_;
    r.store = store_;
    r.floors = floors_;
    r.unhurried = unhurried_ && unhurried_ == r.subject.get() && frame_ && frame_->subject == r.subject;
    if (r.moved)
        if (const auto at = ghostPlace(*r.moved, r.at, wish_.ghost))
            r.ghost = poseAt(subject_->character->skeleton, *r.moved, *at);
    worker_.request(std::move(r));
}

} // namespace hobble
