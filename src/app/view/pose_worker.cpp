#include "app/view/pose_worker.h"

#include <QMetaObject>

#include <chrono>

namespace hobble {

namespace {

constexpr std::chrono::milliseconds kRest{60};      // how long a pose stands before its detail is computed
constexpr std::chrono::milliseconds kUnhurried{90}; // and before one is that is shown otherwise meanwhile

} // namespace

PoseWorker::PoseWorker(QObject* parent) : QObject(parent), thread_([this] { work(); }) {}

PoseWorker::~PoseWorker() {
    {
        const std::lock_guard lock(mutex_);
        stopping_ = true;
        stale_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void PoseWorker::request(PoseRequest r) {
    {
        const std::lock_guard lock(mutex_);
        newest_ = std::move(r);
        stale_ = true;
    }
    wake_.notify_one();
}

void PoseWorker::remember(const std::shared_ptr<const Subject>& subject) {
    if (of_.lock() == subject)
        return;
    of_ = subject;
    preview_.reset();
}

void PoseWorker::work() {
    while (true) {
        PoseRequest r;
        {
            std::unique_lock lock(mutex_);
            wake_.wait(lock, [this] { return stopping_ || newest_; });
            if (stopping_)
                return;
            r = std::move(*newest_);
            newest_.reset();
            stale_ = false;
            if (r.unhurried && wake_.wait_for(lock, kUnhurried, [this] { return stopping_ || newest_; }))
                continue;
        }
        remember(r.subject);
        if (r.wish.smooth && !preview_)
            preview_ = std::make_shared<const SmoothPreview>(smoothPreview(r.subject->surface));
        auto frame = std::make_shared<const PosedFrame>(computeFrame(r, r.wish.smooth ? preview_ : nullptr));
        if (r.unhurried && stale_)
            continue;
        QMetaObject::invokeMethod(this, [this, frame] { emit posed(frame); });
        if (stale_) // while the hand moves, all cores are for the picture
            continue;
        if (!r.subject->tree) // it is not to be pointed at
            continue;
        auto skin = std::make_shared<const PosedSkin>(
            posedSkin(r.subject->surface, r.subject->tree, frame->position));
        QMetaObject::invokeMethod(this, [this, frame, skin] { emit met(frame, skin); });
        if (!r.moved)
            continue;
        {
            std::unique_lock lock(mutex_);
            if (wake_.wait_for(lock, kRest, [this] { return stopping_ || newest_; }))
                continue;
        }
        auto detail = std::make_shared<const PosedDetail>(computeDetail(r, frame, &stale_));
        if (!stale_)
            QMetaObject::invokeMethod(this, [this, detail] { emit detailed(detail); });
    }
}

} // namespace hobble
